"""What puts a fault right: its grits, the film that it costs, whether the film that is there bears it."""

from dataclasses import dataclass, replace

from ..errors import FieldError
from ..product.abrasives import grit_plan, scratch_um
from ..words import film_q
from ..working import Basis, Given, Line, Working
from .causes import Fault

FIRST: tuple[tuple[float, str], ...] = ((40.0, "P800"), (15.0, "P1200"), (5.0, "P1500"), (0.0, "P2000"))
"""(stands out by so much at least [µm], the first grit before polish). Common practice, no source."""
LAST = "P2500"
POLISH_UM = 1.0
"""What a compound takes [µm]. Common practice, no source."""
KEEP_UM = 40.0
"""The least clear or gloss coat that is left [µm]. Common practice, no source: its sheet comes first."""
STANDS_MOST = 2000.0


@dataclass(frozen=True)
class Film:
    """The uppermost film: its least that is there [µm] (None: nobody told), what that rests on, the least to be left
    [µm] and what that rests on; polishes: a coat that is polished.
    """

    there_um: float | None
    basis: Basis
    keep_um: float = KEEP_UM
    keep_basis: Basis = Basis.ASSUMED
    polishes: bool = True


@dataclass(frozen=True)
class Act:
    """One act of a remedy: its kind of step, a grit or none, what it takes [µm], in words."""

    kind: str
    grit: str
    takes_um: float
    words: str


@dataclass(frozen=True)
class Remedy:
    """What puts a fault right. way: polish, again, off; acts in order; takes_um: what they cost of the film; left_um:
    of the least that is there (None: cannot be said); why: it is not the first choice, "" where it is.
    """

    way: str
    acts: tuple[Act, ...]
    takes_um: float
    left_um: float | None
    film: Film
    why: str
    working: Working

    @property
    def bears(self) -> bool | None:
        """Whether the film bears it; None where nobody knows what is there."""
        return None if self.left_um is None else self.left_um >= self.film.keep_um


def remedy_for(fault: Fault, film: Film, stands_um: float | None = None, coat: str = "clear") -> Remedy:
    """What puts a fault right; stands_um: measured, how far it stands out or goes in [µm], None for what is usual.

    It is polished where the fault sits in the top of a coat that is polished and the film bears it, else it is sanded
    and coated again (coat: the kind of its step). Raises FieldError.
    """
    if stands_um is not None and not 0 <= stands_um <= STANDS_MOST:
        raise FieldError("stands", f"must be from 0 to {STANDS_MOST:g} µm")
    stands, measured = (fault.stands_um, False) if stands_um is None else (stands_um, True)
    if fault.remedy == "polish":
        polished = _polished(stands, film, measured)
        if film.polishes and polished.bears is not False:
            return polished
        why = (
            f"polished it would leave {film_q(polished.left_um)}"
            if film.polishes and polished.left_um is not None
            else "only clear and gloss coats are"
        )
        return replace(_again(fault, stands, film, measured, coat), why=why)
    return _off(fault, film, coat) if fault.remedy == "off" else _again(fault, stands, film, measured, coat)


def _polished(stands: float, film: Film, measured: bool) -> Remedy:
    first = next(grit for least, grit in FIRST if stands >= least)
    grits = grit_plan(first, LAST)
    acts = [
        Act("abrade", grit, (stands if i == 0 else 0.0) + scratch_um(grit), _word(i, grit))
        for i, grit in enumerate(grits)
    ]
    acts.append(Act("polish", "", POLISH_UM, "compound, pad cool, edges left out"))
    lines = [Line("down to it", "how far it stands out", round(stands, 1), "µm")]
    lines += [
        Line(
            grit, f"{scratch_um(grit):.1f} deep scratches, taken out by what follows", round(scratch_um(grit), 1), "µm"
        )
        for grit in grits
    ]
    lines.append(Line("compound", "", POLISH_UM, "µm"))
    return _made("polish", acts, film, stands, measured, lines)


def _word(i: int, grit: str) -> str:
    return "wet, a hard block, until it is level" if i == 0 else "wet, across, until the scratches before are gone"


def _again(fault: Fault, stands: float, film: Film, measured: bool, coat: str) -> Remedy:
    takes = stands + scratch_um(fault.grit)
    acts = [
        Act("abrade", fault.grit, takes, "flat, until nothing of it is left"),
        Act("degrease", "", 0.0, "two cloths"),
        Act(coat, "", 0.0, "the same coat again"),
    ]
    lines = [
        Line("down to it", "how far it stands out or goes in", round(stands, 1), "µm"),
        Line(fault.grit, "its scratches", round(scratch_um(fault.grit), 1), "µm"),
    ]
    return _made("again", acts, film, stands, measured, lines)


def _off(fault: Fault, film: Film, coat: str) -> Remedy:
    takes = film.there_um or 0.0
    acts = [
        Act("abrade", fault.grit, takes, "off as far as it does not hold, its edge feathered"),
        Act("degrease", "", 0.0, "two cloths"),
        Act(coat, "", 0.0, "built up again"),
    ]
    return replace(
        _made(
            "off",
            acts,
            film,
            takes,
            False,
            [Line("all of it there", "nothing holds on what is loose", round(takes, 1), "µm")],
        ),
        left_um=0.0 if film.there_um is not None else None,
    )


def _made(way: str, acts: list[Act], film: Film, stands: float, measured: bool, lines: list[Line]) -> Remedy:
    takes = sum(act.takes_um for act in acts)
    left = None if film.there_um is None else max(0.0, film.there_um - takes)
    given = [
        Given(
            "it stands out by",
            round(stands, 1),
            "µm",
            Basis.MEASURED if measured else Basis.ASSUMED,
            "" if measured else "common practice, no source",
        )
    ]
    if film.there_um is not None:
        given.append(Given("film there, the least", round(film.there_um, 1), "µm", film.basis))
    given.append(
        Given(
            "to be left",
            round(film.keep_um, 1),
            "µm",
            film.keep_basis,
            "" if film.keep_basis is Basis.SHEET else "common practice, no source",
        )
    )
    lines.append(Line("it takes", "all of that", round(takes, 1), "µm"))
    if left is not None:
        lines.append(Line("left", f"{film.there_um:.0f} − {takes:.1f}", round(left, 1), "µm"))
    return Remedy(
        way,
        tuple(acts),
        takes,
        left,
        film,
        "",
        Working(
            "Film that it costs", tuple(given), tuple(lines), "scratches a fifth of the grain deep in film: an estimate"
        ),
    )
