"""Strokes over a face: as the hand goes, row by row, released over what is open, round the edges first or not."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..errors import FieldError
from .gun import SPEEDS, Gun, checked
from .panel import SIDES, Panel

STROKES_MOST = 400
EDGE_FAN = 0.3
"""Over edges that return the fan is closed down to this share, and the flow with it. Common practice, no source."""
OVERRUN_SIGMAS = 2.5
"""The trigger is pulled so far before an edge, in sigmas of the spot, that the edge gets its film."""


@dataclass(frozen=True)
class Stroke:
    """One pull of the trigger, along x (a row) or y.

    at_mm: where it runs across the face [mm]; from_mm, to_mm: where the trigger is pulled and released [mm]; speed_m_s;
    row: which row it is in (several where it is released over an opening), 0 for one round an edge; edge: of such a one
    which side of which box ("upper 0" of the face itself); tilted: at 45° over the edge, so that half goes on the
    return; fan: how far fan and flow are open, as a share.
    """

    along: str
    at_mm: float
    from_mm: float
    to_mm: float
    speed_m_s: float
    row: int = 0
    edge: str = ""
    tilted: bool = False
    fan: float = 1.0

    @property
    def length_mm(self) -> float:
        """How far it sprays [mm]."""
        return abs(self.to_mm - self.from_mm)

    @property
    def seconds(self) -> float:
        """How long it sprays [s]."""
        return self.length_mm / (1000.0 * self.speed_m_s)


@dataclass(frozen=True)
class Hand:
    """How a face is gone over.

    speed_m_s; overlap: of one fan on the one before [0..1]; overrun_mm: how far past an edge the trigger is pulled and
    released (below 0: short of it); first_mm: where the first row runs, from the edge inward [mm]; edges: "" none,
    "flat" round the edges first, "tilted" at 45° over them; edge_speed_m_s: of those (None: as the others);
    released: over openings.
    """

    speed_m_s: float
    overlap: float
    overrun_mm: float
    first_mm: float = 0.0
    edges: str = ""
    edge_speed_m_s: float | None = None
    released: bool = True

    def check(self) -> "Hand":
        """Itself. Raises FieldError for a hand that stands still, or rows that do not move on."""
        checked("speed", self.speed_m_s)
        checked("overrun", self.overrun_mm)
        if self.overlap >= 1.0:
            raise FieldError("overlap", "at 100 % the rows do not move on: it must be below 95 %")
        checked("overlap", self.overlap)
        return self


def rows_at(panel: Panel, gun: Gun, hand: Hand) -> list[float]:
    """Where the rows of a face run [mm from the top], the first and the last alike from their edges."""
    pitch = gun.width_mm * (1.0 - hand.overlap)
    room = panel.h_mm - 2.0 * hand.first_mm
    if room <= 0:
        return [panel.h_mm / 2.0]
    count = max(1, round(room / pitch) + 1)
    if count * (1 + len(panel.openings)) > STROKES_MOST:
        raise FieldError("overlap", f"that makes {count} rows: take a wider fan, or overlap less")
    return [panel.h_mm / 2.0] if count == 1 else [hand.first_mm + room * i / (count - 1) for i in range(count)]


def strokes_of(panel: Panel, gun: Gun, hand: Hand, rows: Sequence[float] | None = None) -> tuple[Stroke, ...]:
    """The strokes over a face in their order: edges first, then rows to and fro; rows: where they run [mm from the
    top], None for evenly. Raises FieldError.
    """
    panel.check(), gun.check(), hand.check()
    places = rows_at(panel, gun, hand) if rows is None else list(rows)
    if len(places) > STROKES_MOST:
        raise FieldError("rows", f"at most {STROKES_MOST} rows")
    found = list(_round_edges(panel, gun, hand)) if hand.edges else []
    for number, at in enumerate(places, 1):
        found += _row(panel, hand, at, number)
    return tuple(found)


def _round_edges(panel: Panel, gun: Gun, hand: Hand) -> Iterator[Stroke]:
    """Strokes along the edges of the face and of its openings."""
    speed, tilted = hand.edge_speed_m_s or hand.speed_m_s, hand.edges == "tilted"
    over = OVERRUN_SIGMAS * gun.sigma_mm * EDGE_FAN if tilted else max(0.0, hand.overrun_mm)
    speed = min(max(speed, SPEEDS[0]), SPEEDS[1])
    for box, (left, top, right, bottom) in enumerate(panel.boxes):
        past = over if box == 0 else 0.0
        runs = (
            ("x", top, left - past, right + past),
            ("y", right, top - past, bottom + past),
            ("x", bottom, right + past, left - past),
            ("y", left, bottom + past, top - past),
        )
        for side, (along, at, begin, end) in zip(SIDES, runs, strict=True):
            yield Stroke(along, at, begin, end, speed, 0, f"{side} {box}", tilted, EDGE_FAN if tilted else 1.0)


def _row(panel: Panel, hand: Hand, at: float, number: int) -> list[Stroke]:
    """One row of a face, there or back, in as many pulls as it takes."""
    over = hand.overrun_mm
    ends = [(-over, panel.w_mm + over)]
    if hand.released:
        for left, top, right, bottom in sorted(panel.openings):
            begin, end = ends[-1]
            # Released only where the trigger has the way: what is sprayed past both edges would meet else.
            if top <= at <= bottom and right - left > 2.0 * over and left + over > begin:
                ends[-1:] = [(begin, left + over), (right - over, end)]
    pulls = [(a, b) for a, b in ends if b > a]
    if number % 2 == 0:
        pulls = [(b, a) for a, b in reversed(pulls)]
    return [Stroke("x", at, a, b, hand.speed_m_s, number) for a, b in pulls]
