"""A log of the metal's temperature as drawn: the schedule's line, and what of the time counts."""

from dataclasses import dataclass

from emplastra.core.air.heat import stretches_at

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
    end, metal_c = log[-1][0], told.metal_c
    y, degrees = _scale([c for _, c in log] + ([metal_c] if metal_c is not None else []))
    counts = stretches_at(log, metal_c, told.flash_min) if metal_c is not None else []
    counted = [(round(WIDE * a / end, 1), round(WIDE * (b - a) / end, 1)) for a, b in counts]
    asked_y = None if metal_c is None else round(y(metal_c), 1)
    return Curve(
        _path(log, end, y), asked_y, round(WIDE * min(told.flash_min, end) / end, 1), counted, _minutes(end), degrees
    )


@dataclass
class Rising:
    """Sections as they warm: [(name, path, x and minutes when there)], the schedule's temperature, ticks."""

    lines: list
    asked_y: float
    minutes: list
    degrees: list
    height: float = TALL_PX
    width: float = WIDE


def rising(rises, metal_c):
    """Sections [(name, [(min, °C)], minutes until there)] as they warm to a temperature [°C]."""
    end = rises[0][1][-1][0] or 1.0
    y, degrees = _scale([c for _, log, _ in rises for _, c in log] + [metal_c])
    lines = [(name, _path(log, end, y), round(WIDE * ready / end, 1), ready) for name, log, ready in rises]
    return Rising(lines, round(y(metal_c), 1), _minutes(end), degrees)


def _scale(values):
    """(height of a temperature [px], [(height, temperature)] of the ticks)."""
    low, top = min(values) - 5, max(values) + 8

    def y(degrees):
        return TALL_PX * (1 - (degrees - low) / (top - low))

    return y, [(round(y(d), 1), d) for d in range(int(low // 20 + 1) * 20, int(top) + 1, 20)]


def _path(log, end, y):
    return line_path([(minute / end, y(degrees) / TALL_PX) for minute, degrees in log], TALL_PX)


def _minutes(end):
    step = next(s for s in (1, 2, 5, 10, 15, 30, 60, 120, 240, 600, 1440, 10**5) if end / s <= 8)
    return [(round(WIDE * n * step / end, 1), n * step) for n in range(int(end / step) + 1)]
