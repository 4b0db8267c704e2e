"""What happens to a surface: events that the fold takes in, in order of their end."""

from dataclasses import dataclass, field
from datetime import date

from ..product.film import Film
from ..product.sheet import Sheet
from ..working import Basis
from .names import Loss, Runs


@dataclass(frozen=True)
class Event:
    """Something that happened, from began to ended [epoch s], to a share [0..1] of the area."""

    began_s: float
    ended_s: float
    share: float = 1.0
    step: str = ""
    entry: int = 0

    @property
    def turn(self) -> tuple[float, int, float]:
        """Its place in order: hours are told to the minute, taps to the second, so within one the entries count."""
        return self.ended_s // 60, self.entry, self.ended_s


@dataclass(frozen=True)
class Bared(Event):
    """Stripped to the metal, by a key of metal.strip.WAYS ("": not told); by_hand: with no machine, blast or acid."""

    how: str = ""
    by_hand: bool = False


@dataclass(frozen=True)
class Degreased(Event):
    """Wiped with a solvent or cleaner."""

    product: str = ""
    sheet: Sheet | None = None


@dataclass(frozen=True)
class Keyed(Event):
    """Abraded, by hand or by machine; `um_off` [µm] of film taken."""

    grit: str = ""
    um_off: float = 0.0
    by_hand: bool = False


@dataclass(frozen=True)
class Coated(Event):
    """A coat of a product, with the film it left; of_face: the share of the face that all of what it is for is, less
    than 1 of edges that are brushed by themselves.
    """

    sheet: Sheet | None = None
    film: Film = field(default_factory=lambda: Film(0.0, Basis.ASSUMED, ""))
    product: str = ""
    of_face: float = 1.0


@dataclass(frozen=True)
class Gauged(Event):
    """All film on it measured by a gauge [µm]: its mean and its least, by so many readings."""

    mean_um: float = 0.0
    least_um: float = 0.0
    count: int = 1


@dataclass(frozen=True)
class Prepped(Event):
    """Acid prep put on: to be kept wet until it is rinsed."""

    product: str = ""
    sheet: Sheet | None = None


@dataclass(frozen=True)
class Wetted(Event):
    """Wetted again while it is kept wet."""


@dataclass(frozen=True)
class Rinsed(Event):
    """Rinsed with water: the prep is off, the metal has to dry. wet: the prep stood wet throughout and has worked."""

    wet: bool = True


@dataclass(frozen=True)
class Checked(Event):
    """Somebody looked or touched: a key of CHECKS, passed or not."""

    check: str = ""
    passed: bool = True


@dataclass(frozen=True)
class FilmLost(Event):
    """Welding, grinding or a knock took every layer off a share of this face; so the other face has its own."""

    cause: Loss = Loss.WELD


@dataclass(frozen=True)
class Away(Event):
    """Sent to a contractor (or they come here), due back on a day."""

    contractor: str = ""
    due: date | None = None


@dataclass(frozen=True)
class Back(Event):
    """Back from the contractor: "as-sent", "bare", "temporary" (in a primer of theirs) or "coated"."""

    came: str = "as-sent"
    product: str = ""


@dataclass(frozen=True)
class Access(Event):
    """What bars or frees the way to a surface: "opened", "trial-fit" (must come off), "taken-off", "closed"."""

    how: str = "opened"
    what: str = ""


@dataclass(frozen=True)
class Done(Event):
    """A step of the plan that leaves no film and starts no clock."""


@dataclass(frozen=True)
class Dried(Done):
    """Blown, wiped or warmed until it was dry."""


@dataclass(frozen=True)
class Masked(Done):
    """A mask put on: a key of masks.COVERS and of masks.TAPES; how long it bears as told [h]; whole: over all of it;
    what: of it that is masked, in words.
    """

    cover: str = "tape"
    tape: str = "paper"
    bears_h: float | None = None
    whole: bool = False
    what: str = ""


@dataclass(frozen=True)
class Unmasked(Event):
    """All masks off; glue: some of the tape's stayed on."""

    glue: bool = False


@dataclass(frozen=True)
class Inspected(Done):
    """Welds and holes looked through: (point, answer) of what was looked at."""

    points: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class Heated(Done):
    """Warmed by an oven, a lamp or a heater: (min since it began, metal °C) as it was read."""

    points: tuple[tuple[float, float], ...] = ()

    @property
    def hottest_c(self) -> float | None:
        """The hottest that the metal was [°C], None without a reading."""
        return max((metal_c for _, metal_c in self.points), default=None)


@dataclass(frozen=True)
class CheckKind:
    """A check: its name, what passing and failing say, the clocks it stands beside."""

    name: str
    passes: str
    fails: str
    clocks: tuple[Runs, ...]


CHECKS: dict[str, CheckKind] = {
    "tack": CheckKind("Tack", "no tack", "still tacky", (Runs.RECOAT, Runs.TOUCH, Runs.SANDABLE)),
    "smear": CheckKind("Smear", "no smear", "it smears", (Runs.CURE,)),
    "no-flash-rust": CheckKind("Flash rust", "no flash rust", "flash rust seen", (Runs.BARE,)),
    "cloth": CheckKind("White cloth", "a white cloth stays clean", "it marks a white cloth", (Runs.BARE,)),
    "gloss-gone": CheckKind("Gloss", "gloss gone", "still glossy", (Runs.FLASH, Runs.RECOAT)),
    "paper": CheckKind("Paper", "paper stays dry", "paper gets wet", (Runs.DRY_OFF,)),
    "kept-dry": CheckKind("Kept dry", "kept dry, or dry right through again", "got wet: rain, dew, water", ()),
    "drains": CheckKind("Drains", "every drain probed, open", "a drain is shut by paint or sealer", ()),
    "air-line": CheckKind("Air line", "air line drained, no oil on a mirror", "oil or water in the air line", ()),
    "lights-off": CheckKind("Lights off", "covers evenly", "shows through", ()),
}
"""Checks by key, and the clocks that each stands beside. Common practice, no source."""
