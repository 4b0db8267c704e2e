"""Where a finished face is looked at in the years after: what, its sign, when first and how often.

Which places go first and how often they are looked at: common practice, no source.
"""

from calendar import monthrange
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import date

from ..product.kinds import ProductKind
from ..words import film_q, length_q

YEARS = 5
"""So many years are drawn."""
CHALKS = frozenset({ProductKind.EPOXY_PRIMER, ProductKind.EPOXY_MASTIC, ProductKind.ENCAPSULATOR})
"""Kinds that chalk where the sun reaches them. Common practice, no source."""
POLISHED = frozenset({ProductKind.CLEAR_COAT, ProductKind.SINGLE_STAGE})
POLISH_UM = 3.0
"""Film that a polish takes [µm]. Common practice, no source."""
KEEP_UM = 30.0
"""Clear that has to stay for the light not to reach the colour [µm]. Common practice, no source."""
RUSTS = frozenset({"steel", "cast iron"})


@dataclass(frozen=True)
class Built:
    """A face as it was handed over.

    kinds: product kinds of what lies on it, from the metal; drains: how many were found; pits_mm: the deepest pit that
    was left (0: none told); thin_um: the least that a gauge read, least_um: what is asked; top_um: film of the last
    layer; accepted: verdicts that were accepted with a reason.
    """

    substrate: str
    finish: str
    end_state: str = "coated"
    part: str = "other"
    kinds: tuple[str, ...] = ()
    drains: int = 0
    laps: bool = False
    welded: bool = False
    filled: bool = False
    pits_mm: float = 0.0
    thin_um: float | None = None
    least_um: float | None = None
    top_um: float | None = None
    accepted: int = 0

    @property
    def rusts(self) -> bool:
        """True for iron."""
        return self.substrate in RUSTS

    @property
    def top(self) -> str:
        """Kind of the last layer, "" where none lies on it."""
        return self.kinds[-1] if self.kinds else ""


@dataclass(frozen=True)
class Look:
    """Something to look at: what it is, its sign, when first and every how many months after."""

    key: str
    what: str
    sign: str
    first: date
    every_months: int

    def dates(self, until: date) -> Iterator[date]:
        """Its days up to one, in order."""
        n = 0
        while (due := months_after(self.first, n * self.every_months)) <= until:
            yield due
            n += 1

    def next(self, day: date) -> date:
        """The first of its days that is not past on a day."""
        n = 0
        while (due := months_after(self.first, n * self.every_months)) < day:
            n += 1
        return due


@dataclass(frozen=True)
class Place:
    """A kind of place: its words, its sign, months to the first look and between looks, and of what it is asked."""

    what: str
    sign: str
    first: int
    every: int
    applies: Callable[[Built], bool]


def months_after(day: date, months: int) -> date:
    """The same day so many months later, the month's last where it has no such day."""
    years, month = divmod(day.year * 12 + day.month - 1 + months, 12)
    return day.replace(year=years, month=month + 1, day=min(day.day, monthrange(years, month + 1)[1]))


def _coated(built: Built) -> bool:
    return built.end_state == "coated" and bool(built.kinds)


def _worn(built: Built) -> bool:
    return built.thin_um is not None and built.least_um is not None and built.thin_um < built.least_um


def polishes(built: Built) -> int | None:
    """How often the last layer may be polished: None where its film is not told, 0 for what is not polished."""
    if built.top not in POLISHED:
        return 0
    return None if built.top_um is None else max(0, int((built.top_um - KEEP_UM) / POLISH_UM))


PLACES: dict[str, Place] = {
    "bare": Place(
        "Bare metal", "brown bloom under the oil; wipe it, oil it again", 1, 3, lambda b: b.end_state == "bare"
    ),
    "as-found": Place(
        "What was left as found",
        "rust that grows, a dull sound when tapped",
        6,
        12,
        lambda b: b.end_state == "as-found",
    ),
    "watched": Place(
        "What is treated and watched", "a changed shape, fresh rust", 6, 6, lambda b: b.end_state == "watched"
    ),
    "weld": Place(
        "Along the welds, the far side too",
        "a brown line, blisters beside it",
        6,
        12,
        lambda b: _coated(b) and b.welded,
    ),
    "thin": Place("Where the film is thinnest", "chips down to the primer; touch them in the same week", 6, 6, _worn),
    "converted": Place(
        "Over converted rust",
        "blisters, brown that bleeds through",
        6,
        12,
        lambda b: bool({ProductKind.CONVERTER, ProductKind.CONVERTING_PRIMER, ProductKind.ENCAPSULATOR} & {*b.kinds}),
    ),
    "texture": Place(
        "Edges of the texture",
        "an edge that lifts, water under it",
        12,
        12,
        lambda b: bool({ProductKind.CHIP_COAT, ProductKind.UNDERBODY_COAT, ProductKind.TEXTURED_COATING} & {*b.kinds}),
    ),
    "drain": Place("Drains", "dirt in it, a brown line below it; probe each one", 12, 12, lambda b: b.drains > 0),
    "lap": Place("Laps and seams", "a rust line, sealer that cracks", 12, 12, lambda b: _coated(b) and b.laps),
    "edge": Place("Lower edge and corners", "blisters, chips, a brown line", 12, 12, lambda b: _coated(b) and b.rusts),
    "chalk": Place(
        "Where the sun reaches it",
        "white on a dry cloth: it chalks",
        12,
        12,
        lambda b: b.top in CHALKS and b.finish != "covered",
    ),
    "pit": Place("Pits that were left", "lifting paint; tap it", 24, 24, lambda b: b.pits_mm > 0),
    "filler": Place("Over the filler", "a ring, cracks, a blister", 24, 24, lambda b: _coated(b) and b.filled),
    "wax": Place(
        "Wax in the cavities", "dry, cracked or gone: wax again", 24, 24, lambda b: ProductKind.CAVITY_WAX in b.kinds
    ),
    "clear": Place("The gloss", "dull, swirls", 36, 24, lambda b: _coated(b) and b.top in POLISHED),
    "film": Place("The film", "chips, scratches, a dull patch", 12, 24, lambda b: _coated(b) and not b.rusts),
}
"""Kinds of place, the first to be looked at first."""


def looks_of(built: Built, finished: date) -> tuple[Look, ...]:
    """What to look at on a face that was finished on a day, the first due first; of one day in the order of PLACES."""
    rows = [
        Look(key, _what(key, place, built), place.sign, months_after(finished, place.first), place.every)
        for key, place in PLACES.items()
        if place.applies(built)
    ]
    return tuple(sorted(rows, key=lambda look: look.first))


def _what(key: str, place: Place, built: Built) -> str:
    if key == "thin" and built.thin_um is not None:
        return f"{place.what}, {film_q(built.thin_um)}"
    if key == "pit":
        return f"{place.what}, {length_q(built.pits_mm)} deep"
    if key == "drain":
        return f"Its {built.drains} drains" if built.drains > 1 else "Its drain"
    if key == "clear":
        times = polishes(built)
        left = "" if times is None else f": polish {times} times at most, {film_q(POLISH_UM)} each"
        return f"{place.what}{left}" if times else f"{place.what}: no film to polish" if times == 0 else place.what
    return place.what
