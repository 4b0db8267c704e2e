"""The best speed and overlap for a face: rows tried from wide apart to close, from outside its edge to within.

Film grows as the speed falls, so each set of rows is laid down once and its speed follows from the film that is wanted.
"""

import itertools
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from ..errors import FieldError
from .film import PassMap, Wanted, cells_of, film_of
from .gun import OVERLAP_MOST, Gun
from .panel import Panel
from .strokes import EDGE_FAN, OVERRUN_SIGMAS, STROKES_MOST, Hand, strokes_of

COARSE = 64
"""Cells along the longer side while looking."""
OVERLAPS = (0.5, 0.6, 0.67, 0.75, 0.8)
FIRST = (-0.25, -0.125, 0.0, 0.125, 0.25, 0.375)
"""Where the first row is tried, in fans from the edge inward."""
HAND = (0.15, 0.9)
"""What a hand keeps up evenly [m/s]. Common practice, no source."""
STEADY = 0.45
"""The speed that is easiest to keep [m/s]. Common practice, no source."""
SHORT_MM = (0.0, -20.0, -40.0, -60.0)
"""How far short of an edge rows are released where the edges were sprayed first."""
AS_GOOD = 1 / 3
"""A spread within this share of what counts as even is as good as any: of those the least paint."""


@dataclass(frozen=True)
class Advice:
    """The best way: how the hand goes, what it leaves; flow_ml_min: how far the gun is to be opened for a speed that a
    hand can keep, None where it is right as it is.
    """

    hand: Hand
    film: PassMap
    flow_ml_min: float | None = None


@lru_cache(maxsize=32)
def best(panel: Panel, gun: Gun, wanted: Wanted, edges: str | None = None) -> Advice:
    """The most even way, of those that are even enough the one of least paint; edges: "" or "tilted" (None: tilted
    where the face has returns, which get no film else).

    Raises FieldError for a gun or a face that cannot be.
    """
    panel.check(), gun.check()
    edges = edges if edges is not None else "tilted" if panel.return_mm else ""
    strokes = strokes_of(panel, gun, _edged(panel, gun, wanted, edges), ())
    hand = _chosen(film_of(panel, gun, strokes, wanted, cells_of(panel, COARSE)), edges)
    fine = _tried(film_of(panel, gun, strokes, wanted), replace(hand, speed_m_s=1.0))
    hand, flow = (fine[2] if fine else hand), None
    if not HAND[0] <= hand.speed_m_s <= HAND[1]:
        flow = gun.flow_ml_min * STEADY / hand.speed_m_s
        edge = hand.edge_speed_m_s * STEADY / hand.speed_m_s if hand.edge_speed_m_s else None
        gun, hand = gun.with_flow(flow), replace(hand, speed_m_s=STEADY, edge_speed_m_s=edge)
    return Advice(hand, film_of(panel, gun, strokes_of(panel, gun, hand), wanted), flow)


def _chosen(rim: PassMap, edges: str) -> Hand:
    """Of the ways over a face whose edges were gone over (their map) the one of least paint that is even enough. Raises
    FieldError where those leave more than is wanted.
    """
    panel, gun, wanted = rim.panel, rim.gun, rim.wanted
    tried = [each for hand in _hands(panel, gun, wanted, edges) if (each := _tried(rim, hand))]
    if not tried:
        raise FieldError("returns", "the strokes over the edges alone leave more than is wanted: take a smaller fan")
    good = max(min(tried, key=_spread)[0], AS_GOOD * (wanted.high_um - wanted.low_um) / 2.0 / wanted.film_um)
    return min((each for each in tried if each[0] <= good), key=_paint)[2]


_Tried = tuple[float, float, Hand]
"""(its spread as a share, mL, the hand at the speed that leaves the wanted film)."""


def _spread(row: _Tried) -> float:
    return row[0]


def _paint(row: _Tried) -> tuple[float, float]:
    return row[1], row[0]


def _edged(panel: Panel, gun: Gun, wanted: Wanted, edges: str) -> Hand:
    """The hand that goes over the edges alone."""
    speed = edge_speed_for(panel, gun, wanted) if edges == "tilted" and panel.return_mm else None
    return Hand(1.0, 0.5, OVERRUN_SIGMAS * gun.sigma_mm, 0.0, edges, speed)


def _hands(panel: Panel, gun: Gun, wanted: Wanted, edges: str) -> Iterator[Hand]:
    """Ways that are tried, at a speed of 1 m/s. Raises FieldError for a face that takes too many strokes of its fan."""
    edged = _edged(panel, gun, wanted, edges)
    tilted = edged.edge_speed_m_s is not None
    overs = SHORT_MM if tilted else (edged.overrun_mm,)
    found = list(_rows(panel, gun, tilted))
    if not found and panel.h_mm > 4.0 * gun.width_mm:
        raise FieldError("fan", f"is too small for this face: it would take more than {STROKES_MOST} strokes")
    for first, overlap in found or [(panel.h_mm / 2.0, 0.5)]:
        for over, free in itertools.product(overs, (True, False) if panel.openings else (True,)):
            yield replace(edged, overlap=overlap, overrun_mm=over, first_mm=first, released=free)


def _rows(panel: Panel, gun: Gun, tilted: bool) -> Iterator[tuple[float, float]]:
    """(where the first row runs [mm], how far they lie over each other [0..1]) of the rows that are tried."""
    for first in (f for f in FIRST if f >= 0 or not tilted):
        room = panel.h_mm - 2.0 * first * gun.width_mm
        for gaps in sorted({max(1, round(room / (gun.width_mm * (1.0 - o)))) for o in OVERLAPS} if room > 0 else ()):
            if (gaps + 1) * (1 + len(panel.openings)) <= STROKES_MOST:
                yield first * gun.width_mm, min(max(1.0 - room / gaps / gun.width_mm, 0.0), OVERLAP_MOST)


def edge_speed_for(panel: Panel, gun: Gun, wanted: Wanted) -> float:
    """How fast a stroke tilted over an edge leaves on its return the least film that counts as even [m/s]."""
    on_it = float(gun.below(np.array(panel.return_mm / np.sqrt(2.0) / EDGE_FAN))) - 0.5
    return EDGE_FAN * gun.dry_mm3_s(wanted.solids) * on_it / panel.return_mm / wanted.low_um


def _tried(rim: PassMap, hand: Hand) -> _Tried | None:
    """A hand over a face whose edges were gone over (their map); None where those leave more than is wanted."""
    panel, gun, wanted = rim.panel, rim.gun, rim.wanted
    rows = film_of(panel, gun, [s for s in strokes_of(panel, gun, hand) if not s.edge], wanted, rim.um.shape)
    rest = wanted.film_um - rim.mean_um
    if rest <= 0.05 * wanted.film_um:
        return None
    speed = rows.mean_um / rest
    film = rim.on_um + rows.on_um / speed
    seconds = rim.gun_s + rows.gun_s / speed
    return float(film.std() / film.mean()), seconds * gun.flow_ml_min / 60.0, replace(hand, speed_m_s=speed)
