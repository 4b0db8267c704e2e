"""The best speed and overlap for a face: rows tried from wide apart to close, from outside its edge to within.

Film grows as the speed falls, so each set of rows is laid down once and its speed follows from the film that is wanted.
"""

from dataclasses import dataclass, replace

import numpy as np

from .film import FINE, PassMap, Wanted, cells_of, film_of
from .gun import Gun
from .panel import Panel
from .strokes import EDGE_FAN, OVERRUN_SIGMAS, Hand, strokes_of

COARSE = 64
"""Cells along the longer side while looking."""
OVERLAPS = (0.5, 0.6, 0.67, 0.75)
FIRST = (-0.25, -0.125, 0.0, 0.125, 0.25, 0.375)
"""Where the first row is tried, in fans from the edge inward."""
HAND = (0.15, 0.9)
"""What a hand keeps up evenly [m/s]. Common practice, no source."""
STEADY = 0.45
"""The speed that is easiest to keep [m/s]. Common practice, no source."""
SHORT_MM = (0.0, -20.0, -40.0, -60.0)
"""How far short of an edge rows are released where the edges were sprayed first."""
AS_GOOD = 0.005
"""Rows whose spread is within so much of the best are as good: of those the least paint."""


@dataclass(frozen=True)
class Advice:
    """The best way: how the hand goes, what it leaves; flow_ml_min: how far the gun is to be opened for a speed that a
    hand can keep, None where it is right as it is.
    """

    hand: Hand
    film: PassMap
    flow_ml_min: float | None = None


def best(panel: Panel, gun: Gun, wanted: Wanted, edges: str | None = None) -> Advice:
    """The way of least spread; edges: "" or "tilted" (None: tilted where the face has returns, which get no film else).

    Raises FieldError for a gun or a face that cannot be.
    """
    panel.check(), gun.check()
    edges = edges if edges is not None else "tilted" if panel.return_mm else ""
    tried = [each for hand in _hands(panel, gun, wanted, edges) if (each := _tried(panel, gun, wanted, hand))]
    least = min(spread for spread, _, _ in tried)
    hand = min(((ml, hand.overlap, hand) for spread, ml, hand in tried if spread <= least + AS_GOOD), key=_first)[2]
    hand = (_tried(panel, gun, wanted, replace(hand, speed_m_s=1.0), FINE) or (0.0, 0.0, hand))[2]
    flow = None
    if not HAND[0] <= hand.speed_m_s <= HAND[1]:
        flow = gun.flow_ml_min * STEADY / hand.speed_m_s
        edge = hand.edge_speed_m_s * STEADY / hand.speed_m_s if hand.edge_speed_m_s else None
        gun, hand = gun.with_flow(flow), replace(hand, speed_m_s=STEADY, edge_speed_m_s=edge)
    film = film_of(panel, gun, strokes_of(panel, gun, hand), wanted)
    return Advice(hand, film, flow)


def _first(row: tuple[float, float, Hand]) -> tuple[float, float]:
    return round(row[0], 3), -row[1]


def _hands(panel: Panel, gun: Gun, wanted: Wanted, edges: str) -> list[Hand]:
    """Ways that are tried, at a speed of 1 m/s."""
    tilted = edges == "tilted" and panel.return_mm > 0
    overs = SHORT_MM if tilted else (OVERRUN_SIGMAS * gun.sigma_mm,)
    edge_speed = edge_speed_for(panel, gun, wanted) if tilted else None
    found = []
    for first in FIRST:
        room = panel.h_mm - 2.0 * first * gun.width_mm
        for gaps in sorted({max(1, round(room / (gun.width_mm * (1.0 - o)))) for o in OVERLAPS} if room > 0 else ()):
            overlap = min(max(1.0 - room / gaps / gun.width_mm, 0.0), 0.95)
            found += [Hand(1.0, overlap, over, first * gun.width_mm, edges, edge_speed) for over in overs]
    return found or [Hand(1.0, 0.5, overs[0], panel.h_mm / 2.0, edges, edge_speed)]


def edge_speed_for(panel: Panel, gun: Gun, wanted: Wanted) -> float:
    """How fast a stroke tilted over an edge leaves on its return the least film that counts as even [m/s]."""
    on_it = float(gun.below(np.array(panel.return_mm / np.sqrt(2.0) / EDGE_FAN))) - 0.5
    return EDGE_FAN * gun.dry_mm3_s(wanted.solids) * on_it / panel.return_mm / wanted.low_um


def _tried(panel: Panel, gun: Gun, wanted: Wanted, hand: Hand, fine: int = COARSE) -> tuple[float, float, Hand] | None:
    """(its spread as a share, mL, the hand at the speed that leaves the wanted film); None where its edges alone leave
    more than is wanted.
    """
    strokes, shape = strokes_of(panel, gun, hand), cells_of(panel, fine)
    rows = film_of(panel, gun, [s for s in strokes if not s.edge], wanted, shape)
    edge = film_of(panel, gun, [s for s in strokes if s.edge], wanted, shape)
    rest = wanted.film_um - edge.mean_um
    if rest <= 0.05 * wanted.film_um:
        return None
    speed = rows.mean_um / rest
    film = edge.on_um + rows.on_um / speed
    seconds = edge.gun_s + rows.gun_s / speed
    return float(film.std() / film.mean()), seconds * gun.flow_ml_min / 60.0, replace(hand, speed_m_s=speed)
