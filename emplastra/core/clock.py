"""Time at temperature: how far a drying, curing or closing has gone.

Rate r(T) = 1/tau(T) with ln(tau) linear in 1/T (kelvin) between the points of a data sheet;
p(t) = integral of r(T(s)) ds, T the metal; the thing is over at p = 1. Stretches are split at the table's
temperatures and at most 2.5 K apart, 3-point Gauss per piece; crossings to 1 ms by Newton's steps inside a bisection.
Integrals are kept by day: an appended reading costs its own day again, no more.
"""

import itertools
import math
from bisect import bisect_right
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Protocol

import numpy as np

from .air import BASES, Cut, Journey, Section
from .dewpoint import rh_pct
from .working import Basis

ZERO_C_IN_K = 273.15
BEYOND_K = 5.0
"""How far the end slope of a table holds outside it [K]. Ours, no source."""
ONE_POINT_K = 10.0
"""Reach of a table of one point [K], and the step in which its rate doubles. Common practice, no source."""
PIECE_K = 2.5
"""Widest temperature step integrated by one Gauss piece [K]."""
SMALL_K = 0.25
"""A piece that changes less than this [K] needs no split at a bend of the table: the error is under 1e-4 of it."""
WET_PIECE_S = 600.0
"""Longest piece where humidity counts [s]: humidity is not linear between readings."""
HORIZON_S = 30 * 86400.0
"""No crossing is looked for beyond this [s]."""
SHEET_SPREAD = 0.10
"""Assumed spread of a data sheet's times for earliest and latest. Common practice, no source."""
_GAUSS_X = np.array([-math.sqrt(0.6), 0.0, math.sqrt(0.6)]) / 2 + 0.5
_GAUSS_W = np.array([5.0, 8.0, 5.0]) / 18.0
_NODES, _WEIGHTS = tuple(_GAUSS_X.tolist()), tuple(_GAUSS_W.tolist())


class Law(Protocol):
    """A rate that can be integrated: how fast a clock runs at a metal temperature in an air."""

    @property
    def role(self) -> str:
        """ "min" for what must have passed, "max" for what must not be exceeded."""

    @property
    def needs_air(self) -> bool:
        """True if air and dew point count, not only the metal."""

    @property
    def smooth(self) -> bool:
        """True if the rate hardly bends inside its pieces, so that one Newton step may do."""

    def rates(self, metal_c: np.ndarray, air_c: np.ndarray, dew_c: np.ndarray) -> np.ndarray:
        """Rates [1/min] at metal, air and dew point [°C]."""

    def rate_one(self, metal_c: float, air_c: float, dew_c: float) -> float:
        """The same for one moment."""

    def levels_c(self, low_c: float, high_c: float) -> np.ndarray:
        """Metal temperatures [°C] between low and high at which a large piece is to be split."""

    def jumps(self, cut: Cut) -> np.ndarray:
        """Moments [epoch s] inside the pieces of a stretch at which the rate jumps."""

    def outside(self, temp_c: Any) -> np.ndarray:
        """True where the rate at a temperature [°C] is extrapolated."""

    @property
    def stands_still_below_c(self) -> float | None:
        """Metal temperature [°C] below which nothing moves on; None if there is none."""


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

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def _hash(self) -> int:
        return hash((self.points, self.role, self.rows))

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
        return _crossings(cut.t_s, cut.metal_c, lows, np.diff(cut.t_s) > 0)

    def rates(self, metal_c: np.ndarray, air_c: np.ndarray, dew_c: np.ndarray) -> np.ndarray:
        """Rates [1/min] at metal, air and dew point [°C]."""
        if not self.needs_air:
            return self.curves[0][1].rate(metal_c)
        return self.rate_per_min(metal_c, rh_pct(air_c, dew_c))

    def rate_one(self, metal_c: float, air_c: float, dew_c: float) -> float:
        """Rate [1/min] at one moment; as `rates`, faster."""
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
        with np.errstate(divide="ignore"):
            mixed = np.exp((1 - share) * np.log(low) + share * np.log(high))
        return np.where((low == 0) | (high == 0), 0.0, mixed)

    def outside(self, temp_c: Any) -> np.ndarray:
        """True where a temperature [°C] lies outside the sheet's points: the rate is extrapolated."""
        temp = np.asarray(temp_c, float)
        points = self.points or self.rows[0][1]
        return (temp < points[0][0] - 1e-9) | (temp > points[-1][0] + 1e-9)

    def minutes_at(self, temp_c: float, humidity_pct: float = 50.0) -> float | None:
        """Time at a constant temperature [min], None where it stands still."""
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
    table: Law = field(repr=False)
    target: float = 1.0

    @cached_property
    def shares(self) -> Shares:
        """Shares of the progress by basis."""
        end = self.t_s if self.t_s is not None else self.since_s + HORIZON_S
        return _shares(self.where, self.table, self.since_s, end)

    @cached_property
    def earliest_s(self) -> float | None:
        """The moment with the sheet's times 10 % shorter and what is forecast warmer by its spread [epoch s]."""
        return _reach(self.where.leaning(1), self.table, self.since_s, self.target * (1 - SHEET_SPREAD))

    @cached_property
    def latest_s(self) -> float | None:
        """The moment with the sheet's times 10 % longer and what is forecast colder by its spread [epoch s]."""
        return _reach(self.where.leaning(-1), self.table, self.since_s, self.target * (1 + SHEET_SPREAD))

    @property
    def stands_still_below_c(self) -> float | None:
        """Temperature under which a minimum makes no progress [°C]; None for a maximum."""
        return self.table.stands_still_below_c


class Piece:
    """The progress of a law over one stretch of a section, from its first knot on."""

    def __init__(self, cut: Cut, law: Law) -> None:
        self.law, self.cut = law, _split(cut, law)
        t, metal, air, dew = self.cut.t_s, self.cut.metal_c, self.cut.air_c, self.cut.dew_c
        nodes = [
            x[:-1, None] + np.diff(x)[:, None] * _GAUSS_X for x in ((metal, air, dew) if law.needs_air else (metal,))
        ]
        rates = law.rates(*nodes) if law.needs_air else law.rates(nodes[0], nodes[0], nodes[0])
        self.step = np.diff(t) / 60.0 * (rates @ _GAUSS_W)
        self.p = np.concatenate([[0.0], np.cumsum(self.step)])
        self.total = float(self.p[-1])

    @cached_property
    def parts(self) -> np.ndarray:
        """Progress up to each knot by basis code, and last the extrapolated: made when shares are asked for."""
        rows = [np.where(self.cut.basis == code, self.step, 0.0) for code in range(len(BASES))]
        middle = (self.cut.metal_c[1:] + self.cut.metal_c[:-1]) / 2
        rows.append(np.where(self.law.outside(middle), self.step, 0.0))
        return np.concatenate([np.zeros((len(rows), 1)), np.cumsum(rows, axis=1)], axis=1)

    def _at(self, i: int) -> tuple[float, ...]:
        """Start [epoch s], metal, air and dew point there, and their slopes [1/s], in piece i."""
        c = self.cut
        start, span = float(c.t_s[i]), float(c.t_s[i + 1]) - float(c.t_s[i])
        metal, air, dew = float(c.metal_c[i]), float(c.air_c[i]), float(c.dew_c[i])
        if span <= 0:
            return start, metal, air, dew, 0.0, 0.0, 0.0
        slopes = ((float(x[i + 1]) - v) / span for x, v in ((c.metal_c, metal), (c.air_c, air), (c.dew_c, dew)))
        return start, metal, air, dew, *slopes

    def _rate(self, line: tuple[float, ...], since_s: float) -> float:
        _, metal, air, dew, by, air_by, dew_by = line
        return self.law.rate_one(metal + by * since_s, air + air_by * since_s, dew + dew_by * since_s)

    def _within(self, line: tuple[float, ...], t_s: float) -> float:
        """Progress from the start of a piece to t_s inside it."""
        length = t_s - line[0]
        if length <= 0:
            return 0.0
        rates = (weight * self._rate(line, length * x) for x, weight in zip(_NODES, _WEIGHTS, strict=True))
        return length / 60.0 * sum(rates)

    def _index(self, t_s: float) -> int:
        return min(max(int(self.cut.t_s.searchsorted(t_s, side="right")) - 1, 0), len(self.cut.t_s) - 2)

    def upto(self, t_s: float) -> float:
        """Progress from the first knot to t_s [epoch s]."""
        if t_s >= self.cut.t_s[-1]:
            return self.total
        i = self._index(t_s)
        return float(self.p[i]) + self._within(self._at(i), t_s)

    def reach(self, goal: float) -> float:
        """The moment [epoch s] at which the progress from the first knot is `goal`; it is reached in here."""
        i = min(max(int(self.p.searchsorted(goal, side="left")) - 1, 0), len(self.step) - 1)
        return self._solve(i, goal - float(self.p[i]))

    def _solve(self, i: int, wanted: float) -> float:
        """Where piece i has gained `wanted`: Newton's steps, held in by bisection, to 1 ms."""
        line = self._at(i)
        low, high = float(self.cut.t_s[i]), float(self.cut.t_s[i + 1])
        gained, by = float(self.step[i]), abs(line[4])
        t = min(max(low + (high - low) * wanted / gained, low), high) if gained > 0 else high
        while high - low > 0.001:
            miss = self._within(line, t) - wanted
            low, high = (t, high) if miss < 0 else (low, t)
            rate = self._rate(line, t - line[0]) / 60.0
            step = miss / rate if rate > 0 else 0.0
            # A Newton step errs by step² × relative slope of the rate, at most 0.12 per K: often one is enough.
            near = self.law.smooth and 0.12 * by * step * step < 0.0005 and low <= t - step <= high
            if abs(step) < 0.0005 or near:
                return t - step
            t = t - step if low < t - step < high else (low + high) / 2
        return high

    def parts_upto(self, t_s: float) -> np.ndarray:
        """Progress to t_s [epoch s] by basis, pieces counted by linear shares."""
        i = self._index(t_s)
        span = float(self.cut.t_s[i + 1]) - float(self.cut.t_s[i])
        share = min(max((t_s - float(self.cut.t_s[i])) / span, 0.0), 1.0) if span > 0 else 1.0
        return self.parts[:, i] + share * (self.parts[:, i + 1] - self.parts[:, i])


class Integral:
    """The progress of a law over a section, stretch by stretch between its edges, made as they are needed."""

    def __init__(self, section: Section, law: Law, known: dict[tuple[float, float], Piece] | None = None) -> None:
        self.section, self.law = section, law
        self.edges: list[float] = section.edges.tolist()
        self.known = {} if known is None else known

    def piece(self, i: int) -> Piece:
        """The stretch between edges i and i + 1."""
        key = (self.edges[i], self.edges[i + 1])
        found = self.known.get(key)
        if found is None:
            found = self.known[key] = Piece(self.section.cut(i), self.law)
        return found

    def _index(self, t_s: float) -> int:
        return min(max(bisect_right(self.edges, t_s) - 1, 0), len(self.edges) - 2)

    def progress(self, start_s: float, end_s: float) -> float:
        """Progress from start to end [epoch s]."""
        first, last = self._index(start_s), self._index(end_s)
        total = self.piece(last).upto(end_s) - self.piece(first).upto(start_s)
        return total + sum(self.piece(i).total for i in range(first, last))

    def reach(self, start_s: float, target: float, last_s: float) -> tuple[float | None, float]:
        """The first moment [epoch s] at which progress since `start_s` is `target`, looked for up to last_s.

        Returns (None, what is still wanted at last_s) if it is not reached by then.
        """
        i = self._index(start_s)
        goal = target + self.piece(i).upto(start_s)
        while True:
            piece = self.piece(i)
            if piece.total >= goal:
                found = piece.reach(goal)
                return (found, 0.0) if found <= last_s else (None, goal - piece.upto(last_s))
            if i + 2 >= len(self.edges) or self.edges[i + 1] >= last_s:
                return None, goal - piece.upto(last_s)
            goal -= piece.total
            i += 1

    def parts(self, start_s: float, end_s: float) -> np.ndarray:
        """Progress from start to end by basis, and last the extrapolated."""
        first, last = self._index(start_s), self._index(end_s)
        total = self.piece(last).parts_upto(end_s) - self.piece(first).parts_upto(start_s)
        for i in range(first, last):
            total = total + self.piece(i).parts[:, -1]
        return total


def _crossings(t_s: np.ndarray, values: np.ndarray, levels: np.ndarray, use: np.ndarray) -> np.ndarray:
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


def _split(cut: Cut, law: Law) -> Cut:
    """The stretch with knots added where the law bends or jumps, and where humidity moves."""
    span = np.diff(cut.t_s)
    steep = (np.abs(np.diff(cut.metal_c)) > SMALL_K) & (span > 0)
    extra = [law.jumps(cut)]
    if steep.any():
        low, high = float(cut.metal_c.min()), float(cut.metal_c.max())
        extra.append(_crossings(cut.t_s, cut.metal_c, law.levels_c(low, high), steep))
    if law.needs_air:
        changes = (np.diff(cut.air_c) != 0) | (np.diff(cut.dew_c) != 0) | (np.diff(cut.metal_c) != 0)
        pieces = np.where(changes, np.ceil(span / WET_PIECE_S), 1).astype(int)
        extra += [np.linspace(cut.t_s[i], cut.t_s[i + 1], pieces[i] + 1)[1:-1] for i in np.nonzero(pieces > 1)[0]]
    return with_knots(cut, np.concatenate(extra))


def with_knots(cut: Cut, extra_s: np.ndarray) -> Cut:
    """A stretch with knots added strictly inside its pieces [epoch s]."""
    if not len(extra_s):
        return cut
    t = np.unique(extra_s)
    i = np.searchsorted(cut.t_s, t, side="right") - 1
    inside = (i >= 0) & (i < len(cut.basis)) & (t > cut.t_s[i])
    t, i = t[inside], i[inside]
    share = (t - cut.t_s[i]) / (cut.t_s[i + 1] - cut.t_s[i])
    order = np.argsort(np.concatenate([cut.t_s, t]), kind="stable")

    def fill(x: np.ndarray) -> np.ndarray:
        return np.concatenate([x, x[i] + share * (x[i + 1] - x[i])])[order]

    metal = fill(cut.metal_c)
    air = metal if cut.air_c is cut.metal_c else fill(cut.air_c)
    basis = np.concatenate([cut.basis, cut.basis[-1:], cut.basis[i]])[order][:-1]
    return Cut(np.concatenate([cut.t_s, t])[order], metal, air, fill(cut.dew_c), basis)


def integral(section: Section, law: Law) -> Integral:
    """The integral of a law over a section, made once per pair."""
    found = section.memo.get(law)
    if found is None:
        found = section.memo[law] = Integral(section, law)
    return found


def progress(where: Journey, law: Law, start_s: float, end_s: float) -> float:
    """Progress [share] from start to end [epoch s] along a journey."""
    total = 0.0
    for stay in where.stays:
        a, b = max(start_s, stay.start_s), min(end_s, stay.end_s)
        if b > a:
            total += integral(stay.section, law).progress(a, b)
    return total


def _reach(where: Journey, law: Law, start_s: float, target: float) -> float | None:
    if target <= 0:
        return start_s
    last = start_s + HORIZON_S
    for stay in where.stays:
        if stay.end_s <= start_s:
            continue
        begin, end = max(start_s, stay.start_s), min(last, stay.end_s)
        if end <= begin:
            return None
        found, target = integral(stay.section, law).reach(begin, target, end)
        if found is not None or stay.end_s >= last:
            return found
    return None


def _shares(where: Journey, law: Law, start_s: float, end_s: float) -> Shares:
    sums = np.zeros(len(BASES) + 1)
    for stay in where.stays:
        a, b = max(start_s, stay.start_s), min(end_s, stay.end_s)
        if b > a:
            sums = sums + integral(stay.section, law).parts(a, b)
    total = float(sums[:-1].sum())
    return Shares(*(min(max(x / total, 0.0), 1.0) for x in sums.tolist())) if total > 0 else Shares()


def crossing(where: Journey, law: Law, start_s: float, target: float = 1.0) -> Crossing:
    """When progress of `law` since `start_s` [epoch s] reaches `target` (1 = over); worked out once per journey.

    The answer knows its shares by basis and the moments with the sheet's times 10 % off.
    """
    key = (law, start_s, target)
    found = where.memo.get(key)
    if found is None:
        found = where.memo[key] = Crossing(_reach(where, law, start_s, target), start_s, where, law, target)
    return found


@dataclass(frozen=True)
class Step:
    """A row of the working: from [epoch s], metal, air [°C, %], rate [share per hour], progress at its end."""

    start_s: float
    metal_c: float
    air_c: float
    rh_pct: float
    rate_per_h: float
    progress: float
    basis: Basis


def trace(where: Journey, table: Law, start_s: float, end_s: float, rows: int = 16) -> tuple[Step, ...]:
    """The progress from start to end [epoch s] in at most `rows` equal steps, for the working."""
    if end_s <= start_s:
        return ()
    edges = np.linspace(start_s, end_s, max(1, min(rows, math.ceil((end_s - start_s) / 3600.0))) + 1)
    steps, done = [], 0.0
    for a, b in itertools.pairwise(edges):
        gained = progress(where, table, float(a), float(b))
        done += gained
        middle = where.at((float(a) + float(b)) / 2)
        steps.append(
            Step(float(a), middle.metal_c, middle.air_c, middle.rh_pct, gained / (b - a) * 3600.0, done, middle.basis)
        )
    return tuple(steps)
