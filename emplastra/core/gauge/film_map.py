"""A film between its readings: estimated, in steps, with where to add.

Between readings nothing was measured: what stands there is an estimate and is drawn so.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..piece import relief
from ..product.film import wft_um
from .accept import Asked
from .readings import Reading

LEAST_SHARE = 0.004
"""A thin spot smaller than this share of the face is the reading alone."""
DENSE = 1.15
"""From this multiple of what is asked the hatch is dense."""


@dataclass(frozen=True)
class FilmMap:
    """A film estimated at the corners of a fine grid over a face of w_mm by h_mm.

    um: an array of rows by columns [µm], the upper left corner first; steps: the films where a step begins [µm].
    """

    w_mm: float
    h_mm: float
    um: np.ndarray
    steps: tuple[float, ...]

    @property
    def cells_um(self) -> np.ndarray:
        """The film in the middle of each field [µm]: the mean of its corners."""
        return relief.middles(self.um)

    def share_under(self, um: float) -> float:
        """Share of the face that is thinner than so much [0..1]."""
        return float((self.cells_um < um).mean())

    def at(self, x: float, y: float) -> float:
        """The film [µm] at a place (shares of width and height), linear between the corners."""
        return relief.at(self.um, x, y)

    def bands(self) -> list[list[list[tuple[float, float]]]]:
        """Of each step from the thinnest the outlines [[(x, y), ...]] of where the film is in it, as shares of width
        and height; holes in an outline follow it.
        """
        ends = [-1.0, *self.steps, float(self.um.max()) + 1e6]
        return [relief.outlines(self.um, low, high) for low, high in itertools.pairwise(ends)]

    def borders(self, um: float) -> list[list[tuple[float, float]]]:
        """Lines along which the film is so much [µm], as shares of width and height."""
        return relief.borders(self.um, um)


def map_of(readings: Sequence[Reading], w_mm: float, h_mm: float, asked: Asked, floor_um: float) -> FilmMap | None:
    """The film over a face of w_mm by h_mm from readings with places [µm]; None with fewer than three of them.

    floor_um: what no reading may be under, where the first step ends [µm].
    """
    placed = [(r.x, r.y, r.um) for r in readings if r.x is not None and r.y is not None]
    if len(placed) < 3:
        return None
    film = relief.between(placed, w_mm, h_mm)
    most = (asked.most_um,) if asked.most_um is not None else ()
    steps = (floor_um, asked.nominal_um, round(DENSE * asked.nominal_um, 3), *most)
    return FilmMap(w_mm, h_mm, film, tuple(sorted({s for s in steps if s > 0})))


@dataclass(frozen=True)
class ThinSpot:
    """A part of a face that is thinner than asked: its share, its middle and reach (x0, y0, x1, y1) as shares of width
    and height, the thinnest film there [µm], what is to be added [µm dry].
    """

    share: float
    reach: tuple[float, float, float, float]
    least_um: float
    add_um: float

    @property
    def middle(self) -> tuple[float, float]:
        """(x, y) of the middle of its reach."""
        x0, y0, x1, y1 = self.reach
        return (x0 + x1) / 2, (y0 + y1) / 2


def thin_spots(film: FilmMap, readings: Sequence[Reading], under_um: float, up_to_um: float) -> list[ThinSpot]:
    """Parts of a face with a reading under so much [µm], the thinnest first; each is filled up to `up_to_um`.

    A part reaches to where the film is halfway between the two; its thinnest reading decides, not the estimate around.
    """
    seen, found = np.zeros(film.cells_um.shape, dtype=bool), list[ThinSpot]()
    low = film.cells_um < (under_um + up_to_um) / 2
    rows, columns = low.shape
    lows = sorted((r for r in readings if r.x is not None and r.y is not None and r.um < under_um), key=lambda r: r.um)
    for reading in lows:
        at = min(int((reading.y or 0.0) * rows), rows - 1), min(int((reading.x or 0.0) * columns), columns - 1)
        if seen[at]:
            continue
        part = relief.part_of(low, at)
        part[at] = True
        seen |= part
        ys, xs = np.nonzero(part)
        reach = (xs.min() / columns, ys.min() / rows, (xs.max() + 1) / columns, (ys.max() + 1) / rows)
        share = max(float(part.mean()), LEAST_SHARE)
        x0, y0, x1, y1 = map(float, reach)
        found.append(ThinSpot(share, (x0, y0, x1, y1), reading.um, up_to_um - reading.um))
    return found


def wet_for(add_um: float, solids_pct: float, thinner_pct: float = 0.0) -> float:
    """The wet film [µm] that leaves so much dry [µm]; solids [% by volume], thinner [%]. Raises ValueError for solids
    that leave none.
    """
    return wft_um(add_um, solids_pct, thinner_pct)


def may_sand_um(least_um: float, keep_um: float) -> float:
    """What blocking may take at most where a film is thinnest [µm]: 0 where nothing is to spare."""
    return max(0.0, least_um - keep_um)


def by_difference(now: Sequence[Reading], before: FilmMap | None) -> list[float]:
    """What was put on since the gauging before [µm], at each reading with a place; none where nothing was gauged."""
    if before is None:
        return []
    return [r.um - before.at(r.x, r.y) for r in now if r.x is not None and r.y is not None]
