"""Time at temperature: how far a drying, curing or closing has gone.

p(t) = integral of r(T(s)) ds, T the metal; the thing is over at p = 1. Stretches are split at the table's
temperatures and at most 2.5 K apart, 3-point Gauss per piece; crossings to 1 ms by Newton's steps inside a bisection.
Integrals are kept by day: an appended reading costs its own day again, no more.
"""

import itertools
import math
from bisect import bisect_right
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from ..air.dewpoint import rh_pct
from ..air.journey import BASES, Cut, Journey, Section
from ..product.tables import Law, crossings_of
from ..working import Basis

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
        """Shares of the progress by basis; of a time that is typical of a kind all is assumed, whatever the air."""
        end = self.t_s if self.t_s is not None else self.since_s + HORIZON_S
        found = _shares(self.where, self.table, self.since_s, end)
        typical = getattr(self.table, "assumed", False)
        return Shares(assumed=1.0, extrapolated=found.extrapolated) if typical else found

    @cached_property
    def earliest_s(self) -> float | None:
        """The moment with the sheet's times 10 % shorter and what is forecast at its fastest [epoch s]."""
        return min(self._leant(1 - SHEET_SPREAD), key=lambda t_s: math.inf if t_s is None else t_s)

    @cached_property
    def latest_s(self) -> float | None:
        """The moment with the sheet's times 10 % longer and what is forecast at its slowest [epoch s]."""
        return max(self._leant(1 + SHEET_SPREAD), key=lambda t_s: math.inf if t_s is None else t_s)

    def _leant(self, times: float) -> list[float | None]:
        """With the forecast warmer and colder: cold slows a cure, and hastens rust where it brings the metal to dew."""
        ways = (1, -1) if self.table.needs_air else (1 if times < 1 else -1,)
        return [_reach(self.where.leaning(way), self.table, self.since_s, self.target * times) for way in ways]

    @property
    def stands_still_below_c(self) -> float | None:
        """Temperature under which a minimum makes no progress [°C]; None for a maximum."""
        return self.table.stands_still_below_c


class Stretch:
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
        metal, air, dew = ((x[1:] + x[:-1]) / 2 for x in (self.cut.metal_c, self.cut.air_c, self.cut.dew_c))
        rh = rh_pct(air, dew) if self.law.needs_air else 50.0
        rows.append(np.where(self.law.outside(metal, rh), self.step, 0.0))
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

    def __init__(self, section: Section, law: Law, known: dict[tuple[float, float], Stretch] | None = None) -> None:
        self.section, self.law = section, law
        self.edges: list[float] = section.edges.tolist()
        self.known = {} if known is None else known

    def piece(self, i: int) -> Stretch:
        """The stretch between edges i and i + 1."""
        key = (self.edges[i], self.edges[i + 1])
        found = self.known.get(key)
        if found is None:
            found = self.known[key] = Stretch(self.section.cut(i, self.law.tail), self.law)
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
        """Progress from start to end [epoch s] by basis, and last the extrapolated."""
        first, last = self._index(start_s), self._index(end_s)
        total = self.piece(last).parts_upto(end_s) - self.piece(first).parts_upto(start_s)
        for i in range(first, last):
            total = total + self.piece(i).parts[:, -1]
        return total


def _split(cut: Cut, law: Law) -> Cut:
    """The stretch with knots added where the law bends or jumps, and where humidity moves."""
    span = np.diff(cut.t_s)
    steep = (np.abs(np.diff(cut.metal_c)) > SMALL_K) & (span > 0)
    extra = [law.jumps(cut)]
    if steep.any():
        low, high = float(cut.metal_c.min()), float(cut.metal_c.max())
        extra.append(crossings_of(cut.t_s, cut.metal_c, law.levels_c(low, high), steep))
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
    found = section.integrals.get(law)
    if found is None:
        found = section.integrals[law] = Integral(section, law)
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
    found = where.crossings.get(key)
    if found is None:
        found = where.crossings[key] = Crossing(_reach(where, law, start_s, target), start_s, where, law, target)
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


def trace(
    where: Journey, table: Law, start_s: float, end_s: float, rows: int = 16, whole: float = 1.0
) -> tuple[Step, ...]:
    """The progress from start to end [epoch s] in at most `rows` equal steps, for the working, as shares of `whole`."""
    if end_s <= start_s:
        return ()
    edges = np.linspace(start_s, end_s, max(1, min(rows, math.ceil((end_s - start_s) / 3600.0))) + 1)
    steps, done = [], 0.0
    for a, b in itertools.pairwise(edges):
        gained = progress(where, table, float(a), float(b)) / whole
        done += gained
        middle = where.at((float(a) + float(b)) / 2, table.tail)
        steps.append(
            Step(float(a), middle.metal_c, middle.air_c, middle.rh_pct, gained / (b - a) * 3600.0, done, middle.basis)
        )
    return tuple(steps)
