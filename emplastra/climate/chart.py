"""Air over time as lines: temperature, dew point between them the spread."""

from dataclasses import dataclass

import numpy as np

from emplastra.core.air.journey import BASES, Cut
from emplastra.core.words import celsius_q
from emplastra.shared.times import from_epoch

WIDTH, HEIGHT, FOOT = 1100.0, 150.0, 130.0
POINTS = 500
"""Knots of a line, about: more cannot be seen."""


@dataclass
class Chart:
    """Polylines by basis for air and dew point, hour labels and degree labels."""

    air: list
    dew: list
    hours: list
    degrees: list
    now_x: str | None = None
    band: str = ""


def chart(place_air, start, end, workshop, now=None):
    """Geometry of a place's air from start to end (aware), with `now` marked."""
    a, b = start.timestamp(), end.timestamp()
    cut = _thinned(place_air.air.slice(a, b))
    times, temps, dews = cut.t_s, cut.air_c, cut.dew_c
    low, high = min(float(dews.min()), float(temps.min())) - 1, float(temps.max()) + 1

    def point(t, value):
        return f"{(t - a) / (b - a) * WIDTH:.1f},{FOOT - (value - low) / (high - low) * (FOOT - 14):.1f}"

    runs = _runs(cut)

    def line(series):
        return [
            (basis.value, " ".join(point(times[i], series[i]) for i in range(first, last + 1)))
            for basis, first, last in runs
        ]

    step = 5 if high - low > 8 else 2
    degrees = [
        (point(a, d).split(",")[1], celsius_q(d, digits=0)) for d in range(int(low) + 1, int(high) + 1) if d % step == 0
    ]
    now_x = f"{(now.timestamp() - a) / (b - a) * WIDTH:.1f}" if now else None
    band = _band(place_air.air, times, temps, point)
    return Chart(line(temps), line(dews), _hours(a, b, workshop.zone), degrees, now_x, band)


def _runs(air):
    """[(basis, first, last)] of knots between which one basis holds."""
    runs = []
    for i in range(len(air.t_s) - 1):
        if air.t_s[i + 1] <= air.t_s[i]:
            continue
        basis = BASES[int(air.basis[i])]
        if not runs or runs[-1][0] != basis or runs[-1][2] != i:
            runs.append([basis, i, i + 1])
        else:
            runs[-1][2] = i + 1
    return runs


def _hours(a, b, zone):
    """[(x, hour in words)] under the chart: every twelfth hour of a few days, else midnights."""
    hours = []
    for k in range(int((b - a) // 3600) + 1):
        here = from_epoch(a + k * 3600).astimezone(zone)
        if here.hour % (12 if b - a < 5 * 86400 else 24) == 0:
            t = a + k * 3600 - here.minute * 60
            hours.append((f"{(t - a) / (b - a) * WIDTH:.1f}", f"{here:%a %H:00}"))
    return hours


def _thinned(cut):
    """A stretch with no more knots than can be seen; where its basis changes, all of them stay."""
    step = len(cut.t_s) // POINTS
    if step < 2:
        return cut
    keep = np.arange(len(cut.t_s)) % step == 0
    turns = np.nonzero(np.diff(cut.basis))[0] + 1
    keep[np.concatenate([[0, len(keep) - 1], turns, turns - 1])] = True
    basis = cut.basis[keep[:-1]]
    return Cut(cut.t_s[keep], cut.metal_c[keep], cut.air_c[keep], cut.dew_c[keep], basis)


def _band(air, times, temps, point):
    """The spread of what is forecast, as one outline; "" without a forecast."""
    if air.spread_k is None:
        return ""
    spread = np.interp(times, air.t_s, air.spread_k)
    wide = np.nonzero(spread > 0)[0]
    upper = [point(times[i], temps[i] + spread[i]) for i in wide]
    return " ".join([*upper, *(point(times[i], temps[i] - spread[i]) for i in wide[::-1])])
