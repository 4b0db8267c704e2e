"""A log of the metal's temperature as drawn: the schedule's line, and what of the time counts."""

import itertools
from dataclasses import dataclass

from emplastra.core.air.heat import GAP_MIN

from .film_drawn import WIDE, line_path

TALL_PX = 200.0


@dataclass
class Curve:
    """The metal over time: its path, the schedule's temperature, what counts as bars (x, width), minutes along it."""

    path: str
    asked_y: float | None
    flash_x: float
    counted: list
    minutes: list
    degrees: list
    height: float = TALL_PX
    width: float = WIDE


def curve(log, told):
    """A log [(min, °C)] with its schedule."""
    end = log[-1][0]
    low = min(c for _, c in log) - 5
    top = max(*(c for _, c in log), told.metal_c or 0) + 8

    def y(degrees):
        return TALL_PX * (1 - (degrees - low) / (top - low))

    path = line_path([(minute / end, y(degrees) / TALL_PX) for minute, degrees in log], TALL_PX)
    asked_y = None if told.metal_c is None else round(y(told.metal_c), 1)
    step = next(s for s in (1, 2, 5, 10, 15, 30, 60, 120, 240, 600, 1440, 10**5) if end / s <= 8)
    minutes = [(round(WIDE * n * step / end, 1), n * step) for n in range(int(end / step) + 1)]
    degrees = [(round(y(d), 1), d) for d in range(int(low // 20 + 1) * 20, int(top) + 1, 20)]
    counted = list(_counted(log, told, end)) if told.metal_c is not None else []
    return Curve(path, asked_y, round(WIDE * min(told.flash_min, end) / end, 1), counted, minutes, degrees)


def _counted(log, told, end):
    """(x, width) of what counts, minute by minute joined; a gap counts for nothing."""
    from_x = None
    for k in range(241):
        at = end * k / 240
        counts = at >= told.flash_min and _metal(log, at) >= told.metal_c - 1e-9
        if counts and from_x is None:
            from_x = at
        elif not counts and from_x is not None:
            yield round(WIDE * from_x / end, 1), round(WIDE * (at - from_x) / end, 1)
            from_x = None
    if from_x is not None:
        yield round(WIDE * from_x / end, 1), round(WIDE * (end - from_x) / end, 1)


def _metal(log, minute):
    """The metal at a minute [°C], minus infinity in a gap."""
    for (t0, c0), (t1, c1) in itertools.pairwise(log):
        if t0 <= minute <= t1:
            return float("-inf") if t1 - t0 > GAP_MIN else c0 + (c1 - c0) * (minute - t0) / (t1 - t0)
    return float("-inf")
