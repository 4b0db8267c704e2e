"""A figure measured here and there on a face laid flat, estimated between.

On rows of as many figures each it is linear between them; else by the inverse cube of distance. What lies beyond the
outermost figures is as they are.
"""

import itertools
from collections.abc import Sequence

import numpy as np
from contourpy import ContourGenerator, FillType, LineType, contour_generator

FINE = 48
"""Fields along the longer side between which a figure is estimated."""
Place = tuple[float, float, float]
"""(x, y, the figure): where, as shares of width and height from the upper left."""


def rows_for(w_mm: float, h_mm: float) -> int:
    """How many rows of fields a face of w_mm by h_mm has."""
    return max(8, round(FINE * h_mm / w_mm))


def between(places: Sequence[Place], w_mm: float, h_mm: float) -> np.ndarray:
    """The figure at the corners of the fields of a face of w_mm by h_mm: rows by columns, the upper left first."""
    gx, gy = np.linspace(0.0, 1.0, FINE + 1), np.linspace(0.0, 1.0, rows_for(w_mm, h_mm) + 1)
    regular = _regular(places)
    if regular is not None:
        xs, ys, z = regular
        along = np.array([np.interp(gx, xs, row) for row in z])
        return np.array([np.interp(gy, ys, column) for column in along.T]).T
    x, y, value = (np.array(each, dtype=float) for each in zip(*places, strict=True))
    apart = ((gx[None, :, None] - x) * w_mm) ** 2 + ((gy[:, None, None] - y) * h_mm) ** 2
    weight = 1.0 / np.maximum(apart, 1e-6) ** 1.5
    return np.asarray((weight * value).sum(axis=2) / weight.sum(axis=2))


def _regular(places: Sequence[Place]) -> tuple[list[float], list[float], np.ndarray] | None:
    """(xs, ys, rows of figures) where the places are a grid of two by two at least, None where they are not."""
    xs, ys = sorted({x for x, _, _ in places}), sorted({y for _, y, _ in places})
    if min(len(xs), len(ys)) < 2 or len(xs) * len(ys) != len(places):
        return None
    at = {(x, y): value for x, y, value in places}
    if len(at) != len(places):
        return None
    return xs, ys, np.array([[at[x, y] for x in xs] for y in ys])


def middles(corners: np.ndarray) -> np.ndarray:
    """The figure in the middle of each field: the mean of its corners."""
    return np.asarray((corners[:-1, :-1] + corners[1:, :-1] + corners[:-1, 1:] + corners[1:, 1:]) / 4.0)


def at(corners: np.ndarray, x: float, y: float) -> float:
    """The figure at a place, linear between the corners; off the face as at its edge."""
    rows, columns = corners.shape
    cx, cy = min(max(x, 0.0), 1.0) * (columns - 1), min(max(y, 0.0), 1.0) * (rows - 1)
    i, j = min(int(cx), columns - 2), min(int(cy), rows - 2)
    u, v = cx - i, cy - j
    a = corners[j : j + 2, i : i + 2]
    return float((a[0, 0] * (1 - u) + a[0, 1] * u) * (1 - v) + (a[1, 0] * (1 - u) + a[1, 1] * u) * v)


Points = list[tuple[float, float]]
"""A line on a face, as shares of its width and height."""


def outlines(corners: np.ndarray, low: float, high: float) -> list[Points]:
    """Outlines of where the figure lies between two; holes in one follow it, the other way round."""
    found = list[Points]()
    filled = _contours(corners).filled(low, high)
    for points, offsets in zip(*filled, strict=True):
        found += [_points(points[a:b]) for a, b in itertools.pairwise(offsets)]
    return found


def borders(corners: np.ndarray, value: float) -> list[Points]:
    """Lines along which the figure is this."""
    return [_points(np.asarray(line)) for line in _contours(corners).lines(value)]


def _contours(corners: np.ndarray) -> ContourGenerator:
    x, y = (np.linspace(0.0, 1.0, n) for n in corners.shape[::-1])
    return contour_generator(x, y, corners, fill_type=FillType.OuterOffset, line_type=LineType.Separate)


def _points(array: np.ndarray) -> Points:
    return [(float(x), float(y)) for x, y in array]


def part_of(fields: np.ndarray, start: tuple[int, int]) -> np.ndarray:
    """Of fields that are marked those that hang together, side by side, with one of them."""
    part, left = np.zeros(fields.shape, dtype=bool), [start]
    while left:
        here = left.pop()
        r, c = here
        if 0 <= r < fields.shape[0] and 0 <= c < fields.shape[1] and fields[here] and not part[here]:
            part[here] = True
            left += [(r + 1, c), (r - 1, c), (r, c + 1), (r, c - 1)]
    return part
