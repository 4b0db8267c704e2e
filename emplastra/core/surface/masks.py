"""Masks: what covers what, how long its tape bears, when it comes off, and what is open to overspray.

Where no source is named: common practice, no source.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from ..piece.areas import edges_mm
from ..piece.job_map import Cells
from ..product.kinds import ProductKind
from ..words import area_q, length_q
from ..working import Basis, Given, Line, Working
from .events import Masked
from .fold import Clock, Surface
from .names import COLOUR, Runs, Status, StepKind

HOUR_S = 3600.0


@dataclass(frozen=True)
class Cover:
    """What lies over a face: its name, why it is taken; dusty: dust falls off it onto wet colour."""

    name: str
    why: str
    dusty: bool = False


@dataclass(frozen=True)
class Tape:
    """What holds it: its name, and how long it bears indoors where its roll says nothing [h]."""

    name: str
    bears_h: float


COVERS: dict[str, Cover] = {
    "film": Cover("Plastic film", "fast, for primer; dust falls off it", dusty=True),
    "paper": Cover("Masking paper", "for colour: it holds its dust"),
    "tape": Cover("Tape alone", "a line, an edge, a small part"),
    "plug": Cover("Plugs and caps", "bores, threads, earth faces"),
}
TAPES: dict[str, Tape] = {
    "paper": Tape("Paper tape", 24.0),
    "fine": Tape("Fine-line tape", 7 * 24.0),
    "hot": Tape("Tape for the oven", 24.0),
    "none": Tape("No tape", 24.0 * 365),
}
WARN_S = 4 * HOUR_S
"""From how long before its tape is spent a mask presses [s]."""
REACH_M = {"hvlp": 0.9, "conventional": 1.5, "airless": 1.5, "aerosol": 0.6}
"""How far overspray reaches, by method [m]."""
BRUSHED_M = 0.1
"""How far from a brush or roller is masked [m]."""
TAPE_SPARE, COVER_SPARE = 1.1, 1.15
"""What laps and corners take on top."""


def cover_for(kind: str) -> str:
    """What is masked with before a step of a kind: a key of COVERS."""
    return "paper" if kind in COLOUR else "film"


@dataclass(frozen=True)
class Mask:
    """A mask that is on: since when, until when its tape bears [epoch s]; whole: over all of the face; told: how long
    it bears was told.
    """

    since_s: float
    until_s: float
    cover: str
    tape: str
    whole: bool
    told: bool
    what: str = ""


def mask_of(e: Masked) -> Mask:
    """The mask that an entry put on."""
    bears_h = e.bears_h if e.bears_h is not None else TAPES[e.tape].bears_h
    until_s = e.ended_s + bears_h * HOUR_S
    return Mask(e.ended_s, until_s, e.cover, e.tape, e.whole, e.bears_h is not None, e.what)


def masks_on(surface: Surface) -> tuple[Mask, ...]:
    """The masks that are on a surface."""
    return tuple(mask_of(e) for e in surface.masks)


def tape_clock(surface: Surface, clock: Callable[[str], Clock | None]) -> Clock | None:
    """When the tape has to be off: it bears until then, and once paint lies over its edge it comes off while that is
    dry to the touch and not yet hard. None without a mask. clock: gives a clock of the surface.
    """
    masks = masks_on(surface)
    if not masks:
        return None
    first = min(masks, key=lambda m: m.until_s)
    opens_s, closes_s = _pulled(surface, first, clock) or (first.since_s, first.until_s)
    since_s = surface.top.ended_s if opens_s != first.since_s and surface.top else first.since_s
    status = Status.MISSED if surface.t_s >= closes_s else Status.WAITING if surface.t_s < opens_s else Status.OPEN
    return Clock(Runs.TAPE, "tape off", status, since_s, opens_s, closes_s=closes_s, at_s=surface.t_s)


def _pulled(surface: Surface, mask: Mask, clock: Callable[[str], Clock | None]) -> tuple[float, float] | None:
    """From when until when tape is pulled off under the last coat [epoch s]; None where none lies over its edge, or its
    sheet does not tell when it is dry to the touch.
    """
    if mask.whole or surface.top is None or surface.top.began_s < mask.since_s:
        return None
    touch, hard = clock(Runs.TOUCH), clock(Runs.HANDLE) or clock(Runs.SANDABLE)
    if touch is None or touch.opens_s is None:
        return None
    ends_s = hard.opens_s if hard is not None and hard.opens_s is not None else mask.until_s
    return touch.opens_s, max(touch.opens_s, min(ends_s, mask.until_s))


COLOURED_UNDER = frozenset({ProductKind.BASE_COAT, ProductKind.MID_COAT, ProductKind.SEALER})
"""Kinds that are coated without being sanded: what falls on them stays in."""
ENDS = {"as-found": "left as found", "bare": "stays bare", "watched": "treated, stays bare"}
"""End state -> what lies there for good."""


@dataclass(frozen=True)
class Open:
    """Why a face is open to overspray, in words; for_good: nothing that comes later takes it off again."""

    why: str
    for_good: bool


def open_to(surface: Surface, end_state: str, next_kind: str, more_layers: bool) -> Open | None:
    """What overspray would spoil on a face; None where its next sanding takes it off, or nothing can be spoilt.

    next_kind: of its next undone step ("": none); more_layers: its plan has another layer to come.
    """
    if end_state in ENDS:
        return Open(ENDS[end_state], True)
    top = surface.top
    if top is not None and not more_layers:
        return Open("finished", True)
    if next_kind in {StepKind.ABRADE, StepKind.BLOCK, StepKind.STRIP, StepKind.REPAIR, ""}:
        return None
    if top is None:
        ready = surface.degreased_s is not None or surface.metal_is_keyed
        return Open("clean bare metal", False) if ready and surface.bare else None
    if top.sheet is not None and top.sheet.kind in COLOURED_UNDER:
        return Open(f"{top.sheet.kind.replace('-', ' ')} waiting for its next coat", False)
    return None


@dataclass(frozen=True)
class Tone:
    """A colour of a piece: its name, its area [m2], whether it bleeds, its lightness [0..1]; None where nobody told."""

    name: str
    area_m2: float
    bleeds: bool = False
    light: float | None = None


def order_of_tones(tones: Sequence[Tone]) -> list[tuple[Tone, str]]:
    """Colours in the order in which they are sprayed, each with why: one that bleeds last, else the lighter first, for
    a dark one covers it at the line; of equals the larger.
    """
    turn = sorted(tones, key=lambda t: (t.bleeds, -(t.light if t.light is not None else 0.5), -t.area_m2, t.name))
    found = []
    for n, tone in enumerate(turn):
        if tone.bleeds:
            why = "it bleeds: last, only clear over it"
        elif n + 1 == len(turn):
            why = "the darker covers the lighter at the line"
        else:
            why = "the lighter first, sprayed over the line"
        found.append((tone, why))
    return found


def line_m(cells: Cells, other: Cells, edge_m: float) -> float:
    """Length of the line between two faces [m], by the share of the first one's outline on the map that the other
    touches, of its edges [m]: an estimate.
    """
    across = max(0, min(cells.x + cells.w, other.x + other.w) - max(cells.x, other.x))
    down = max(0, min(cells.y + cells.h, other.y + other.h) - max(cells.y, other.y))
    round_it = 2 * (cells.w + cells.h)
    return edge_m * min(1.0, max(across, down) / round_it)


@dataclass(frozen=True)
class Amount:
    """What a mask takes: its cover [m2], its tape [m], and how both come about."""

    cover_m2: float
    tape_m: float
    working: Working


def amount(shapes: Sequence[Mapping], area_m2: float, method: str, cover: str) -> Amount:
    """What masking a face takes against what is sprayed beside it.

    shapes: as stored; area_m2: of the face; method: of what is sprayed; cover: a key of COVERS. The strip that
    overspray reaches along half of its edges, at most the whole face; tape round all its edges.
    """
    edge_m = edges_mm(shapes) / 1000.0
    reach = REACH_M.get(method, BRUSHED_M)
    strip = min(area_m2, reach * edge_m / 2)
    covered = strip * COVER_SPARE if cover in {"film", "paper"} else 0.0
    tape = edge_m * TAPE_SPARE
    working = Working(
        "Cover and tape",
        (
            Given("face", round(area_m2, 3), "m²", Basis.COMPUTED, "shapes"),
            Given("its edges", round(edge_m, 2), "m", Basis.COMPUTED, "shapes"),
            Given("overspray reaches", reach, "m", Basis.ASSUMED, "common practice, no source"),
        ),
        (
            Line("strip", f"{reach:g} × {edge_m:.2f} ÷ 2, at most {area_q(area_m2)}", round(strip, 2), "m²"),
            Line("cover", f"{strip:.2f} × {COVER_SPARE:g}", round(covered, 2), "m²"),
            Line("tape", f"{length_q(1000 * edge_m)} × {TAPE_SPARE:g}", round(tape, 1), "m"),
        ),
        "Laps and corners: common practice, no source",
    )
    return Amount(covered, tape, working)
