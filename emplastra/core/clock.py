"""Time at temperature: how far a drying, curing or closing has gone.

Rate r(T) = 1/tau(T) with ln(tau) linear in 1/T (kelvin) between the points of a data sheet;
p(t) = integral of r(T(s)) ds; the thing is over at p = 1. A segment of air is split at the table's
temperatures and at most 2.5 K apart, 3-point Gauss per piece; crossings to 1 ms by Newton's steps inside a bisection.
"""

import itertools
import math
from bisect import bisect_right
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np

from .air import BASES, Air, Journey
from .dewpoint import rh_pct
from .working import Basis

ZERO_C_IN_K = 273.15
BEYOND_K = 5.0
"""How far the end slope of a table holds outside it [K]. Ours, no source."""
ONE_POINT_K = 10.0
"""Reach of a table of one point [K], and the step in which its rate doubles. Common practice, no source."""
PIECE_K = 2.5
"""Widest temperature step integrated by one Gauss piece [K]."""
WET_PIECE_S = 600.0
"""Longest piece where humidity counts [s]: humidity is not linear between readings."""
HORIZON_S = 30 * 86400.0
"""No crossing is looked for beyond this [s]."""
SHEET_SPREAD = 0.10
"""Assumed spread of a data sheet's times for earliest and latest. Common practice, no source."""
_GAUSS_X = np.array([-math.sqrt(0.6), 0.0, math.sqrt(0.6)]) / 2 + 0.5
_GAUSS_W = np.array([5.0, 8.0, 5.0]) / 18.0
_NODES, _WEIGHTS = tuple(_GAUSS_X.tolist()), tuple(_GAUSS_W.tolist())


@dataclass(frozen=True)
class TimeTable:
    """Times at temperatures from a sheet, for a *minimum* ("min") or a *maximum* ("max").

    points: (°C, minutes) by rising temperature; rows: the same at humidities, (RH %, points) by
    rising RH, where the sheet has that axis (then `points` is empty). Raises ValueError for an
    empty table, times not above 0 or temperatures that do not rise.
    """

    points: tuple[tuple[float, float], ...] = ()
    role: str = "min"
    rows: tuple[tuple[float, tuple[tuple[float, float], ...]], ...] = ()

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

    def as_role(self, role: str) -> "TimeTable":
        """The same figures as a minimum or a maximum."""
        return TimeTable(self.points, role, self.rows)

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

    def breaks_c(self) -> np.ndarray:
        """Temperatures at which the rate changes its law [°C]."""
        return np.unique(np.concatenate([curve.breaks_c for _, curve in self.curves]))

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
        with np.errstate(divide="ignore"):
            mixed = np.exp((1 - share) * np.log(low) + share * np.log(high))
        return np.where((low == 0) | (high == 0), 0.0, mixed)

    def rate_at(self, temp_c: float, humidity_pct: float = 50.0) -> float:
        """Rate [1/min] at one temperature [°C] and humidity [%]; as `rate_per_min`, for scalars, faster."""
        if len(self.curves) == 1:
            return self.curves[0][1].rate_at(temp_c)
        return float(self.rate_per_min(temp_c, humidity_pct))

    def outside(self, temp_c: Any) -> np.ndarray:
        """True where a temperature [°C] lies outside the sheet's points: the rate is extrapolated."""
        temp = np.asarray(temp_c, float)
        points = self.points or self.rows[0][1]
        return (temp < points[0][0] - 1e-9) | (temp > points[-1][0] + 1e-9)

    def minutes_at(self, temp_c: float, humidity_pct: float = 50.0) -> float | None:
        """Time at a constant temperature [min], None where it stands still."""
        rate = float(self.rate_per_min(temp_c, humidity_pct))
        return 1 / rate if rate > 0 else None


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
        if self.role == "min" and temp < self.low_c:
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
        # The limit itself still counts; piece midpoints decide, so the bound needs no tolerance.
        return np.where(temp < self.low_c, 0.0, rate) if self.role == "min" else rate


@dataclass(frozen=True)
class Shares:
    """What a crossing rests on: shares of its progress [0..1]. Extrapolated cuts across the rest."""

    measured: float = 0.0
    estimated: float = 0.0
    forecast: float = 0.0
    assumed: float = 0.0
    extrapolated: float = 0.0

    def leading(self) -> Basis:
        """The weakest basis that carries at least a tenth of the progress."""
        for basis in reversed(BASES):
            if getattr(self, basis.value) >= 0.1:
                return basis
        return Basis.MEASURED


@dataclass(frozen=True)
class Crossing:
    """When p reached its target: moment [epoch s] or None within 30 days, and what it rests on.

    What it rests on is worked out when it is asked for: pages mostly show the moment alone.
    """

    t_s: float | None
    since_s: float
    where: Journey = field(repr=False)
    table: TimeTable = field(repr=False)
    target: float = 1.0

    @cached_property
    def shares(self) -> Shares:
        """Shares of the progress by basis."""
        end = self.t_s if self.t_s is not None else self.since_s + HORIZON_S
        return _shares(self.where, self.table, self.since_s, end)

    @cached_property
    def earliest_s(self) -> float | None:
        """The moment with the sheet's times 10 % shorter [epoch s]."""
        return _reach(self.where, self.table, self.since_s, self.target * (1 - SHEET_SPREAD))

    @cached_property
    def latest_s(self) -> float | None:
        """The moment with the sheet's times 10 % longer [epoch s]."""
        return _reach(self.where, self.table, self.since_s, self.target * (1 + SHEET_SPREAD))

    @property
    def stands_still_below_c(self) -> float | None:
        """Temperature under which a minimum makes no progress [°C]; None for a maximum."""
        return self.table.stands_still_below_c


class Integral:
    """The progress of one time table over one series of air, from its first knot on."""

    def __init__(self, air: Air, table: TimeTable) -> None:
        self.air, self.table = air, table
        self.t, self.temp, self.rh, self._owner = _split(air, table)
        self._step = np.diff(self.t) / 60.0 * (self._gauss_rates() @ _GAUSS_W)
        self.p = np.concatenate([[0.0], np.cumsum(self._step)])

    @cached_property
    def parts(self) -> np.ndarray:
        """Progress up to each knot by basis code, and last the extrapolated: made when shares are asked for."""
        rows = [np.where(self.air.basis[self._owner] == code, self._step, 0.0) for code in range(len(BASES))]
        middle = (self.temp[1:] + self.temp[:-1]) / 2
        rows.append(np.where(self.table.outside(middle), self._step, 0.0))
        return np.concatenate([np.zeros((len(rows), 1)), np.cumsum(rows, axis=1)], axis=1)

    def _gauss_rates(self) -> np.ndarray:
        nodes = self.temp[:-1, None] + np.diff(self.temp)[:, None] * _GAUSS_X
        if len(self.table.curves) == 1:
            return self.table.rate_per_min(nodes)
        return self.table.rate_per_min(nodes, self.rh[:-1, None] + np.diff(self.rh)[:, None] * _GAUSS_X)

    def _law(self, i: int) -> tuple[float, float, float, float, float]:
        """Start [epoch s], temperature, humidity there and their slopes [1/s] in piece i."""
        start, span = float(self.t[i]), float(self.t[i + 1]) - float(self.t[i])
        temp, rh = float(self.temp[i]), float(self.rh[i])
        if span <= 0:
            return start, temp, rh, 0.0, 0.0
        return start, temp, rh, (float(self.temp[i + 1]) - temp) / span, (float(self.rh[i + 1]) - rh) / span

    def _within(self, law: tuple[float, float, float, float, float], t_s: float) -> float:
        """Progress from the start of a piece with this law to t_s inside it."""
        start, temp, rh, by_s, rh_by_s = law
        length = t_s - start
        if length <= 0:
            return 0.0
        rate = self.table.rate_at
        total = 0.0
        for x, weight in zip(_NODES, _WEIGHTS, strict=True):
            total += weight * rate(temp + by_s * length * x, rh + rh_by_s * length * x)
        return length / 60.0 * total

    def _piece(self, t_s: float) -> int:
        return min(max(int(self.t.searchsorted(t_s, side="right")) - 1, 0), len(self.t) - 2)

    def upto(self, t_s: float) -> float:
        """Progress from the first knot to t_s [epoch s]."""
        i = self._piece(t_s)
        return float(self.p[i]) + self._within(self._law(i), t_s)

    def progress(self, start_s: float, end_s: float) -> float:
        """Progress from start to end [epoch s]."""
        return self.upto(end_s) - self.upto(start_s)

    def reach(self, start_s: float, target: float, last_s: float) -> float | None:
        """The first moment [epoch s] at which progress since `start_s` is `target`; None after last_s."""
        if target <= 0:
            return start_s
        goal = self.upto(start_s) + target
        i = int(self.p.searchsorted(goal, side="left")) - 1
        if i >= len(self.t) - 1:
            return None
        low, high = max(float(self.t[i]), start_s), float(self.t[i + 1])
        if low > last_s:
            return None
        found = self._solve(i, goal - float(self.p[i]), low, high)
        return found if found <= last_s else None

    def _solve(self, i: int, wanted: float, low: float, high: float) -> float:
        """Where piece i has gained `wanted`: Newton's steps, held in by bisection, to 1 ms."""
        law = self._law(i)
        _, temp, rh, by_s, rh_by_s = law
        gained, smooth = float(self.p[i + 1]) - float(self.p[i]), len(self.table.curves) == 1
        t = min(max(law[0] + (float(self.t[i + 1]) - law[0]) * wanted / gained, low), high)
        while high - low > 0.001:
            miss = self._within(law, t) - wanted
            low, high = (t, high) if miss < 0 else (low, t)
            rate = self.table.rate_at(temp + by_s * (t - law[0]), rh + rh_by_s * (t - law[0])) / 60.0
            step = miss / rate if rate > 0 else 0.0
            # A Newton step errs by step² × relative slope of the rate, at most 0.12 per K: often one is enough.
            if abs(step) < 0.0005 or (smooth and 0.12 * abs(by_s) * step * step < 0.0005 and low <= t - step <= high):
                return t - step
            t = t - step if low < t - step < high else (low + high) / 2
        return high

    def shares(self, start_s: float, end_s: float) -> Shares:
        """What the progress from start to end rests on (pieces counted by linear shares)."""
        total = self.progress(start_s, end_s)
        if total <= 0:
            return Shares()

        a, b = self._parts_upto(start_s), self._parts_upto(end_s)
        return Shares(*(min(max(part / total, 0.0), 1.0) for part in (b - a).tolist()))

    def _parts_upto(self, t_s: float) -> np.ndarray:
        i = self._piece(t_s)
        span = float(self.t[i + 1]) - float(self.t[i])
        share = min(max((t_s - float(self.t[i])) / span, 0.0), 1.0) if span > 0 else 1.0
        return self.parts[:, i] + share * (self.parts[:, i + 1] - self.parts[:, i])


def _split(air: Air, table: TimeTable) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Knots of the air with those added where the temperature crosses a break of the table.

    Returns times, temperatures, humidities and, per piece, the index of the air's own stretch.
    """
    low, high = float(air.air_c.min()), float(air.air_c.max())
    grid = np.arange(math.floor(low / PIECE_K) * PIECE_K, high + PIECE_K, PIECE_K)
    breaks = np.unique(np.concatenate([table.breaks_c(), grid]))
    breaks = breaks[(breaks > low) & (breaks < high)]
    first, last = air.air_c[:-1], air.air_c[1:]
    times, temps, dews = [air.t_s], [air.air_c], [air.dew_c]
    # Only stretches that cross a break get knots: from the index of the break above the lower end.
    lower = np.searchsorted(breaks, np.minimum(first, last), side="right")
    count = np.searchsorted(breaks, np.maximum(first, last), side="left") - lower
    count = np.where(np.diff(air.t_s) > 0, np.maximum(count, 0), 0)  # a step has no inside
    stretch = np.repeat(np.arange(len(first)), count)
    if len(stretch):
        offset = np.arange(len(stretch)) - np.repeat(np.cumsum(count) - count, count)
        level = breaks[lower[stretch] + offset]
        share = (level - first[stretch]) / (last[stretch] - first[stretch])
        times.append(air.t_s[stretch] + share * (air.t_s[stretch + 1] - air.t_s[stretch]))
        temps.append(level)
        dews.append(air.dew_c[stretch] + share * (air.dew_c[stretch + 1] - air.dew_c[stretch]))
    if len(table.curves) > 1:
        _add_wet_knots(air, times, temps, dews)
    order = np.argsort(np.concatenate(times), kind="stable")
    t, temp = np.concatenate(times)[order], np.concatenate(temps)[order]
    middle = (t[1:] + t[:-1]) / 2
    owner = np.clip(np.searchsorted(air.t_s, middle, side="right") - 1, 0, len(air.basis) - 1)
    # Two knots at one moment are a step: each keeps its own dew point.
    rh = np.asarray(rh_pct(temp, np.concatenate(dews)[order])) if len(table.curves) > 1 else np.zeros_like(t)
    return t, temp, rh, owner


def _add_wet_knots(air: Air, times: list, temps: list, dews: list) -> None:
    """Add knots at most WET_PIECE_S apart, but for the long assumed stretches, where nothing changes."""
    span = np.diff(air.t_s)
    changes = (np.diff(air.air_c) != 0) | (np.diff(air.dew_c) != 0)
    pieces = np.where(changes, np.ceil(span / WET_PIECE_S), 1).astype(int)
    for i in np.nonzero(pieces > 1)[0]:
        inner = np.linspace(air.t_s[i], air.t_s[i + 1], pieces[i] + 1)[1:-1]
        times.append(inner)
        temps.append(np.interp(inner, air.t_s[i : i + 2], air.air_c[i : i + 2]))
        dews.append(np.interp(inner, air.t_s[i : i + 2], air.dew_c[i : i + 2]))


def integral(air: Air, table: TimeTable) -> Integral:
    """The integral of a table over a series, made once per pair."""
    if table not in air.memo:
        air.memo[table] = Integral(air, table)
    return air.memo[table]


def progress(where: Journey, table: TimeTable, start_s: float, end_s: float) -> float:
    """Progress [share] from start to end [epoch s] along a journey."""
    total = 0.0
    for stay in where.stays:
        a, b = max(start_s, stay.start_s), min(end_s, stay.end_s)
        if b > a:
            total += integral(stay.air, table).progress(a, b)
    return total


def _reach(where: Journey, table: TimeTable, start_s: float, target: float) -> float | None:
    last = start_s + HORIZON_S
    for stay in where.stays:
        begin = max(start_s, stay.start_s)
        if stay.end_s <= begin:
            continue
        piece = integral(stay.air, table)
        found = piece.reach(begin, target, min(last, stay.end_s))
        if found is not None or stay.end_s >= last:
            return found
        target -= piece.progress(begin, stay.end_s)
    return None


def _shares(where: Journey, table: TimeTable, start_s: float, end_s: float) -> Shares:
    total = progress(where, table, start_s, end_s)
    sums = [0.0] * 5
    for stay in where.stays:
        a, b = max(start_s, stay.start_s), min(end_s, stay.end_s)
        if b > a and total > 0:
            piece = integral(stay.air, table)
            weight = piece.progress(a, b) / total
            s = piece.shares(a, b)
            for i, value in enumerate((s.measured, s.estimated, s.forecast, s.assumed, s.extrapolated)):
                sums[i] += weight * value
    return Shares(*sums)


def crossing(where: Journey, table: TimeTable, start_s: float, target: float = 1.0) -> Crossing:
    """When progress of `table` since `start_s` [epoch s] reaches `target` (1 = over).

    The answer knows its shares by basis and the moments with the sheet's times 10 % off.
    """
    return Crossing(_reach(where, table, start_s, target), start_s, where, table, target)


@dataclass(frozen=True)
class Step:
    """A row of the working: from [epoch s], mean air [°C, %], rate [share per hour], progress at its end."""

    start_s: float
    air_c: float
    rh_pct: float
    rate_per_h: float
    progress: float
    basis: Basis


def trace(where: Journey, table: TimeTable, start_s: float, end_s: float, rows: int = 16) -> tuple[Step, ...]:
    """The progress from start to end [epoch s] in at most `rows` equal steps, for the working."""
    if end_s <= start_s:
        return ()
    edges = np.linspace(start_s, end_s, max(1, min(rows, math.ceil((end_s - start_s) / 3600.0))) + 1)
    steps, done = [], 0.0
    for a, b in itertools.pairwise(edges):
        gained = progress(where, table, float(a), float(b))
        done += gained
        middle = where.at((float(a) + float(b)) / 2)
        steps.append(Step(float(a), middle.air_c, middle.rh_pct, gained / (b - a) * 3600.0, done, middle.basis))
    return tuple(steps)
