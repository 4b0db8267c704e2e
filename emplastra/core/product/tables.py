"""Times at temperatures from a sheet, as rates: what a clock integrates.

Rate r(T) = 1/tau(T) with ln(tau) linear in 1/T (kelvin) between the points of a data sheet. Outside
them the end slope holds for 5 K; colder still a minimum stands still and a maximum keeps its rate,
hotter still a minimum keeps the limit's rate and a maximum goes on.
"""

import itertools
import math
from bisect import bisect_right
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Protocol

import numpy as np

from ..air.dewpoint import rh_pct
from ..air.journey import Cut

ZERO_C_IN_K = 273.15
BEYOND_K = 5.0
"""How far the end slope of a table holds outside it [K]. Ours, no source."""
ONE_POINT_K = 10.0
"""Reach of a table of one point [K], and the step in which its rate doubles. Common practice, no source."""
SAME_K = 1e-6
"""Temperatures this close are the same [K]: 68 °F is 20 °C."""
PIECE_K = 2.5
"""Widest temperature step integrated by one Gauss piece [K]."""


class Law(Protocol):
    """A rate that can be integrated: how fast a clock runs at a metal temperature in an air."""

    @property
    def tail(self) -> str:
        """How it takes air that nobody knows yet: a key of journey.Air.tails."""

    @property
    def needs_air(self) -> bool:
        """True if air and dew point count, not only the metal."""

    @property
    def smooth(self) -> bool:
        """True if the rate hardly bends inside its pieces, so that one Newton step may do."""

    def rates(self, metal_c: np.ndarray, air_c: np.ndarray, dew_c: np.ndarray) -> np.ndarray:
        """Rates [1/min] at metal, air and dew point [°C]."""

    def rate_one(self, metal_c: float, air_c: float, dew_c: float) -> float:
        """The same for one moment [°C]."""

    def levels_c(self, low_c: float, high_c: float) -> np.ndarray:
        """Metal temperatures [°C] between low and high at which a large piece is to be split."""

    def jumps(self, cut: Cut) -> np.ndarray:
        """Moments [epoch s] inside the pieces of a stretch at which the rate jumps."""

    def outside(self, temp_c: Any, humidity_pct: Any = 50.0) -> np.ndarray:
        """True where the rate at a temperature [°C] and humidity [%] is extrapolated."""

    @property
    def stands_still_below_c(self) -> float | None:
        """Metal temperature [°C] below which nothing moves on; None if there is none."""


@dataclass(frozen=True)
class TimeTable:
    """Times at temperatures from a sheet, for a *minimum* ("min") or a *maximum* ("max").

    points: (°C, minutes) by rising temperature; rows: the same at humidities, (RH %, points) by
    rising RH, where the sheet has that axis (then `points` is empty). way: how it takes air that nobody knows yet, ""
    by its role; assumed: typical of the kind, not read off a sheet. Raises ValueError for an empty table, times not
    above 0 or temperatures that do not rise.
    """

    points: tuple[tuple[float, float], ...] = ()
    role: str = "min"
    rows: tuple[tuple[float, tuple[tuple[float, float], ...]], ...] = ()
    way: str = ""
    assumed: bool = False

    def __post_init__(self) -> None:
        if self.role not in {"min", "max"}:
            raise ValueError("role must be min or max")
        if not self.points and not self.rows:
            raise ValueError("a time table needs at least one point")
        for points in [self.points] if not self.rows else [row for _, row in self.rows]:
            if any(minutes <= 0 for _, minutes in points) or not points:
                raise ValueError("times in a table must be above 0 minutes")
            if any(b[0] <= a[0] for a, b in itertools.pairwise(points)):
                raise ValueError("temperatures in a table must rise")

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def _hash(self) -> int:
        return hash((self.points, self.role, self.rows))

    @property
    def tail(self) -> str:
        """A minimum takes what nobody knows as cold, a maximum as warm."""
        return self.way or ("cold" if self.role == "min" else "warm")

    @property
    def smooth(self) -> bool:
        """True without a humidity axis."""
        return not self.needs_air

    @cached_property
    def needs_air(self) -> bool:
        """True if the table has a humidity axis."""
        return len(self.curves) > 1

    @cached_property
    def curves(self) -> tuple[tuple[float, "_Curve"], ...]:
        """Curves by humidity [%]; one curve at 0 where humidity does not count."""
        if self.rows:
            return tuple((rh, _Curve(points, self.role)) for rh, points in self.rows)
        return ((0.0, _Curve(self.points, self.role)),)

    @property
    def stands_still_below_c(self) -> float | None:
        """Temperature under which a minimum stands still [°C]; None for a maximum."""
        return self.curves[0][1].low_c if self.role == "min" else None

    @cached_property
    def breaks_c(self) -> np.ndarray:
        """Temperatures at which the rate changes its law [°C]."""
        return np.unique(np.concatenate([curve.breaks_c for _, curve in self.curves]))

    def levels_c(self, low_c: float, high_c: float) -> np.ndarray:
        """Its own breaks and a grid of 2.5 K between two temperatures [°C]."""
        grid = np.arange(math.floor(low_c / PIECE_K) * PIECE_K, high_c + PIECE_K, PIECE_K)
        levels = np.unique(np.concatenate([self.breaks_c, grid]))
        return levels[(levels > low_c) & (levels < high_c)]

    def jumps(self, cut: Cut) -> np.ndarray:
        """Where a minimum begins or ceases to stand still [epoch s]."""
        if self.role == "max":
            return np.array([])
        lows = np.array([curve.low_c for _, curve in self.curves])
        return crossings_of(cut.t_s, cut.metal_c, lows, np.diff(cut.t_s) > 0)

    def rates(self, metal_c: np.ndarray, air_c: np.ndarray, dew_c: np.ndarray) -> np.ndarray:
        """Rates [1/min] at metal, air and dew point [°C]."""
        if not self.needs_air:
            return self.curves[0][1].rate(metal_c)
        return self.rate_per_min(metal_c, rh_pct(air_c, dew_c))

    def rate_one(self, metal_c: float, air_c: float, dew_c: float) -> float:
        """Rate [1/min] at one moment [°C]; as `rates`, faster."""
        if not self.needs_air:
            return self.curves[0][1].rate_at(metal_c)
        return float(self.rate_per_min(metal_c, rh_pct(air_c, dew_c)))

    def rate_per_min(self, temp_c: Any, humidity_pct: Any = 50.0) -> np.ndarray:
        """Rate [1/min] at temperatures [°C] (and humidities [%]); scalars or arrays."""
        temp = np.asarray(temp_c, float)
        if len(self.curves) == 1:
            return self.curves[0][1].rate(temp)
        rh = np.asarray(humidity_pct, float)
        grid = np.array([level for level, _ in self.curves])
        rates = np.stack([curve.rate(temp) for _, curve in self.curves])
        rh = np.clip(rh, grid[0], grid[-1])
        upper = np.clip(np.searchsorted(grid, rh), 1, len(grid) - 1)
        share = (rh - grid[upper - 1]) / (grid[upper] - grid[upper - 1])
        low = np.take_along_axis(rates, np.asarray(upper - 1)[None, ...], 0)[0]
        high = np.take_along_axis(rates, np.asarray(upper)[None, ...], 0)[0]
        with np.errstate(divide="ignore", invalid="ignore"):
            mixed = np.exp((1 - share) * np.log(low) + share * np.log(high))
        return np.where((low == 0) | (high == 0), 0.0, mixed)

    def outside(self, temp_c: Any, humidity_pct: Any = 50.0) -> np.ndarray:
        """True where a temperature [°C], or a humidity [%] that counts, lies outside the sheet's points."""
        temp, rh = np.asarray(temp_c, float), np.asarray(humidity_pct, float)
        points = self.points or self.rows[0][1]
        beyond = (temp < points[0][0] - 1e-9) | (temp > points[-1][0] + 1e-9)
        return beyond | (rh < self.rows[0][0] - 1e-9) | (rh > self.rows[-1][0] + 1e-9) if self.rows else beyond

    def minutes_at(self, temp_c: float, humidity_pct: float = 50.0) -> float | None:
        """Time [min] at a constant temperature [°C] and humidity [%], None where it stands still."""
        rate = float(self.rate_per_min(temp_c, humidity_pct))
        return 1 / rate if rate > 0 else None


def kinetic_table(
    minutes: float, at_c: float, theta_k: float, low_c: float, high_c: float, role: str = "min"
) -> TimeTable:
    """A table from one time [min] at a temperature [°C] and the kinetics: ln(tau) rises with theta/T.

    theta_k: activation energy over the gas constant [K], as in the equivalent age of ASTM C1074;
    low_c, high_c: the range it is meant for [°C]. Raises ValueError if the range does not rise.
    """
    if high_c <= low_c:
        raise ValueError("the range of a kinetic table must rise")

    def tau(temp: float) -> float:
        return minutes * math.exp(theta_k * (1 / (temp + ZERO_C_IN_K) - 1 / (at_c + ZERO_C_IN_K)))

    return TimeTable(((low_c, tau(low_c)), (high_c, tau(high_c))), role)


class _Curve:
    """ln(rate) over temperature for one humidity, with its rules outside the points."""

    def __init__(self, points: tuple[tuple[float, float], ...], role: str) -> None:
        self.role, self.single = role, len(points) == 1
        self.temps = np.array([p[0] for p in points], float)
        self.ln_rate = -np.log(np.array([p[1] for p in points], float))
        reach = ONE_POINT_K if self.single else BEYOND_K
        self.low_c, self.high_c = float(self.temps[0] - reach), float(self.temps[-1] + reach)
        self.breaks_c = np.concatenate([[self.low_c], self.temps, [self.high_c]])

        self.knots = [-1.0 / (t + ZERO_C_IN_K) for t in self.temps.tolist()]
        self.lns = self.ln_rate.tolist()
        pairs = itertools.pairwise(zip(self.knots, self.lns, strict=True))
        self.slopes = [(b[1] - a[1]) / (b[0] - a[0]) for a, b in pairs]

    def rate_at(self, temp: float) -> float:
        """Rate [1/min] at one temperature [°C]."""
        if self.single:
            return float(self.rate(np.asarray(temp)))
        if self.role == "min" and temp < self.low_c - SAME_K:
            return 0.0
        temp = max(temp, self.low_c)
        x = -1.0 / ((min(temp, self.high_c) if self.role == "min" else temp) + ZERO_C_IN_K)
        i = min(max(bisect_right(self.knots, x) - 1, 0), len(self.slopes) - 1)
        return math.exp(self.lns[i] + self.slopes[i] * (x - self.knots[i]))

    def _ln_slope(self, temp: np.ndarray) -> np.ndarray:
        """ln(rate) on the lines through the points, the end lines going on."""
        if self.single:
            steps = (temp - self.temps[0]) / ONE_POINT_K
            # A minimum is never shorter than the printed figure, a maximum never longer.
            steps = np.minimum(steps, 0) if self.role == "min" else np.maximum(steps, 0)
            return self.ln_rate[0] + math.log(2) * steps
        # np.interp bends at the knots; beyond them the end slopes go on.
        x = -1.0 / (temp + ZERO_C_IN_K)
        inside = np.interp(x, self.knots, self.lns)
        below, above = np.minimum(x - self.knots[0], 0.0), np.maximum(x - self.knots[-1], 0.0)
        return inside + self.slopes[0] * below + self.slopes[-1] * above

    def rate(self, temp: np.ndarray) -> np.ndarray:
        """Rate [1/min] at temperatures [°C]."""
        top = np.minimum(temp, self.high_c) if self.role == "min" else temp
        rate = np.exp(self._ln_slope(np.maximum(top, self.low_c)))
        # The limit itself still counts.
        return np.where(temp < self.low_c - SAME_K, 0.0, rate) if self.role == "min" else rate


def crossings_of(t_s: np.ndarray, values: np.ndarray, levels: np.ndarray, use: np.ndarray) -> np.ndarray:
    """Moments [epoch s] inside the pieces marked `use` at which a linear series crosses a level."""
    if not len(levels) or not use.any():
        return np.array([])
    first, last = values[:-1], values[1:]
    # Only pieces that cross a level get moments: from the index of the level above the lower end.
    lower = np.searchsorted(levels, np.minimum(first, last), side="right")
    count = np.searchsorted(levels, np.maximum(first, last), side="left") - lower
    count = np.where(use, np.maximum(count, 0), 0)
    piece = np.repeat(np.arange(len(first)), count)
    if not len(piece):
        return np.array([])
    offset = np.arange(len(piece)) - np.repeat(np.cumsum(count) - count, count)
    share = (levels[lower[piece] + offset] - first[piece]) / (last[piece] - first[piece])
    return t_s[piece] + share * (t_s[piece + 1] - t_s[piece])
