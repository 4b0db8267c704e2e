"""From readings, a forecast and an assumption to the air of a place.

Readings closer than an hour are measured; a gap of over an hour is bridged. One of over twelve is as it was forecast
then, bent to meet both readings, where that covers it, else a straight line, assumed. The last reading holds for an
hour; after it comes the forecast if there is one (until it begins the last reading holds on, assumed). Then each hour
of the last day that is known repeats, assumed, in three ways: cold and warm are the lower and the higher of it and the
workshop's assumption, damp is cold with the higher humidity of the two. Where sources overlap, the leading one holds.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from .dewpoint import dew_point_c, rh_pct
from .journey import ASSUMED, DAY_S, ESTIMATED, FORECAST, MEASURED, Air, steady

HOUR_S = 3600.0
BRIDGE_S = 1 * HOUR_S
"""A gap up to this length is as good as measured [s]."""
GAP_S = 12 * HOUR_S
"""A straight line over a gap up to this length is an estimate [s]; over a longer one it is assumed."""
HOLD_S = 1 * HOUR_S
"""How long the last reading is held [s]."""
REACH_S = 400 * 86400.0
"""How far the assumption reaches before the first and after the last moment asked for [s]."""
PAST_STEP_S = 6 * HOUR_S
"""A forecast with hours further apart than this [s] covers no gap."""
TAIL_DAYS = 62
"""For how many days after now the last known day is repeated; then its last hour stays."""
OVERLAP_S = 1800.0
"""A reading this close to one of a leading source is not used [s]."""
TOGETHER_S = 300.0
"""Readings this close are of the same moment [s]."""
APART_K, APART_PCT = 2.0, 10.0
"""Two sources disagree when they are further apart than this [K, % RH]."""
STUCK_S, STUCK_ROWS = 24 * HOUR_S, 24
"""A logger whose two values have not moved for this long [s], over this many readings, while what is round it moved,
is stuck. Ours.
"""
MOVED_K, MOVED_PCT = 1.0, 5.0
"""Another place, or the forecast, moved if it spans this much [K, % RH]. Ours."""
JUMP_K, JUMP_PCT, JUMP_WITHIN_S = 6.0, 30.0, 1800.0
"""A reading that leaves both neighbours by more than this [K, % RH] within this time [s] jumped. Ours."""


@dataclass(frozen=True)
class Assumption:
    """What a place is taken to be like where nothing is known [°C, %]."""

    air_c: float = 18.0
    rh_pct: float = 55.0


@dataclass(frozen=True)
class Hourly:
    """Hourly values: epoch s, rising; °C; dew point °C."""

    t_s: np.ndarray
    air_c: np.ndarray
    dew_c: np.ndarray


@dataclass(frozen=True)
class Ahead:
    """What is forecast of a place, already set right against its log: epoch s, °C, dew point °C, ± K."""

    t_s: np.ndarray
    air_c: np.ndarray
    dew_c: np.ndarray
    spread_k: np.ndarray


@dataclass(frozen=True)
class Source:
    """Readings of one origin, rising in time: epoch s, °C, %. Earlier sources in a list lead."""

    name: str
    t_s: np.ndarray
    air_c: np.ndarray
    rh_pct: np.ndarray
    is_logger: bool = True

    def since(self, t_s: float) -> "Source":
        """Its readings from a moment [epoch s] on."""
        i = int(self.t_s.searchsorted(t_s))
        return Source(self.name, self.t_s[i:], self.air_c[i:], self.rh_pct[i:], self.is_logger)


@dataclass(frozen=True)
class Disagreement:
    """Two sources more than 2 K or 10 % RH apart at a moment [epoch s]."""

    t_s: float
    leading: str
    other: str
    air_k: float
    rh_pct: float


@dataclass(frozen=True)
class Fault:
    """Readings of a source that are not used: why, from when to when [epoch s], how many."""

    source: str
    kind: str
    start_s: float
    end_s: float
    count: int


def _runs(flags: np.ndarray) -> list[tuple[int, int]]:
    """(first, after the last) index of each run of True."""
    edge = np.diff(np.concatenate([[0], flags.astype(np.int8), [0]]))
    return list(zip(np.nonzero(edge == 1)[0].tolist(), np.nonzero(edge == -1)[0].tolist(), strict=True))


def still_runs(source: Source) -> list[tuple[int, int]]:
    """(first, last) index of each stretch over which a logger has not moved for a day."""
    t = source.t_s
    if not source.is_logger or len(t) < 3:
        return []
    still = _runs((np.diff(source.air_c) == 0) & (np.diff(source.rh_pct) == 0))
    return [(i, j) for i, j in still if t[j] - t[i] >= STUCK_S and j - i + 1 >= STUCK_ROWS]


def without_faults(
    source: Source, moved: Callable[[float, float], bool] = lambda start_s, end_s: False
) -> tuple[Source, tuple[Fault, ...]]:
    """A logger's readings without those that a faulty sensor gave: stuck for a day, or jumped once.

    moved: whether another place or the forecast moved between two moments [epoch s]; where none did it may be steady.
    The first reading of a stuck run is kept: until then it may have been right.
    """
    t, air, rh, n = source.t_s, source.air_c, source.rh_pct, len(source.t_s)
    if not source.is_logger or n < 3:
        return source, ()
    bad, faults = np.zeros(n, bool), []
    near = np.diff(t) <= JUMP_WITHIN_S
    for x, limit in ((air, JUMP_K), (rh, JUMP_PCT)):
        back, on = x[1:-1] - x[:-2], x[1:-1] - x[2:]
        bad[1:-1] |= (np.abs(back) > limit) & (np.abs(on) > limit) & (back * on > 0) & near[:-1] & near[1:]
    faults += [Fault(source.name, "jump", float(t[i]), float(t[j - 1]), j - i) for i, j in _runs(bad)]
    for i, j in still_runs(source):
        if moved(float(t[i]), float(t[j])):
            bad[i + 1 : j + 1] = True
            faults.append(Fault(source.name, "stuck", float(t[i]), float(t[j]), j - i))
    keep = ~bad
    return Source(source.name, t[keep], air[keep], rh[keep], True), tuple(faults)


def merge(sources: Sequence[Source]) -> tuple[Source, tuple[Disagreement, ...]]:
    """One series from sources that may overlap, never averaged: the leading source holds.

    Of a later source only readings over half an hour from any reading kept so far are used. The
    first disagreement over 2 K or 10 % RH of each pair is reported.
    """
    empty = np.array([])
    kept, owners, found = Source("", empty, empty, empty), np.array([], int), []
    for number, source in enumerate(sources):
        near = np.full(len(source.t_s), np.inf)
        if len(kept.t_s) and len(source.t_s):
            right = np.clip(np.searchsorted(kept.t_s, source.t_s), 0, len(kept.t_s) - 1)
            left = np.maximum(right - 1, 0)
            closest = np.where(abs(kept.t_s[left] - source.t_s) < abs(kept.t_s[right] - source.t_s), left, right)
            near = abs(kept.t_s[closest] - source.t_s)
            apart_k = source.air_c - np.interp(source.t_s, kept.t_s, kept.air_c)
            apart_rh = source.rh_pct - np.interp(source.t_s, kept.t_s, kept.rh_pct)
            # Only where the leading one read at that very time, or shortly before and after it.
            between = (kept.t_s[left] <= source.t_s) & (source.t_s <= kept.t_s[right])
            between &= kept.t_s[right] - kept.t_s[left] <= BRIDGE_S
            together = between | (near <= TOGETHER_S)
            odd = together & ((abs(apart_k) > APART_K) | (abs(apart_rh) > APART_PCT))
            for i in np.nonzero(odd)[0][:1]:
                leader = sources[owners[closest[i]]].name
                found.append(
                    Disagreement(float(source.t_s[i]), leader, source.name, float(apart_k[i]), float(apart_rh[i]))
                )
        use = near > OVERLAP_S
        if len(kept.t_s) == 0 and use.all():
            kept, owners = source, np.full(len(source.t_s), number)
            continue
        times = np.concatenate([kept.t_s, source.t_s[use]])
        order = np.argsort(times, kind="stable")
        owners = np.concatenate([owners, np.full(int(use.sum()), number)])[order]
        air_c = np.concatenate([kept.air_c, source.air_c[use]])[order]
        rh = np.concatenate([kept.rh_pct, source.rh_pct[use]])[order]
        kept = Source("merged", times[order], air_c, rh)
    return kept, tuple(found)


class _Knots:
    """Knots in the making: columns of time, air, dew point and spread, and the basis of each stretch."""

    def __init__(self, assumed: Assumption) -> None:
        self.assumed = assumed
        self.tails: dict[str, Air] = {}
        self.columns: list[tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]] = []
        self.codes: list[np.ndarray] = []

    def add(self, t: Any, air: Any, dew: Any, codes: Any, spread: Any = None) -> None:
        """Knots with, after each, the basis of the stretch that follows it."""
        times = np.asarray(t, float)
        wide = np.zeros(len(times)) if spread is None else np.asarray(spread, float)
        self.columns.append((times, np.asarray(air, float), np.asarray(dew, float), wide))
        self.codes.append(np.asarray(codes, np.int8))

    def hold(self, until_s: float, basis: int = ESTIMATED) -> None:
        """Let the last knot's values hold until a moment."""
        _, air, dew, _ = self.columns[-1]
        self.codes[-1][-1] = basis
        self.add([until_s], air[-1:], dew[-1:], [basis])

    def assume(self, start_s: float, end_s: float) -> None:
        """What is assumed from one moment to another [epoch s]."""
        air, dew = self.assumed.air_c, float(dew_point_c(self.assumed.air_c, self.assumed.rh_pct))
        self.add([start_s, end_s], [air, air], [dew, dew], [ASSUMED, ASSUMED])

    def air(self, first_s: float, last_s: float) -> Air:
        """The finished series, with its first and last reading [epoch s]."""
        t, air, dew, spread = (np.concatenate(column) for column in zip(*self.columns, strict=True))
        wide = spread if spread.any() else None
        return Air(t, air, dew, np.concatenate(self.codes)[:-1], wide, first_s, last_s, self.tails)

    def repeat(self, from_s: float, known_s: float, until_s: float) -> None:
        """From a moment on, the day before `known_s` again and again, in the ways that are taken [epoch s].

        Hours of that day in which nothing was known yet are taken like its coldest, warmest or dampest, by the way.
        """
        t, air, dew = (np.concatenate([column[i] for column in self.columns[1:]]) for i in range(3))
        hours = known_s - DAY_S + HOUR_S * np.arange(24)
        day_c, day_dew = np.interp(hours, t, air), np.interp(hours, t, dew)
        rh = np.clip(rh_pct(day_c, day_dew), 0.1, 100.0)
        blank, that_day = hours < t[0], (t >= known_s - DAY_S) & (t <= known_s)
        lowest, highest = np.min(air[that_day]), np.max(air[that_day])
        dampest = np.clip(np.max(rh_pct(air[that_day], dew[that_day])), 0.1, 100.0)
        cold = np.minimum(np.where(blank, lowest, day_c), self.assumed.air_c)
        warm = np.maximum(np.where(blank, highest, day_c), self.assumed.air_c)
        damp = np.maximum(np.where(blank, dampest, rh), self.assumed.rh_pct)
        ways = {
            "": (day_c, day_dew),
            "cold": (cold, dew_point_c(cold, rh)),
            "warm": (warm, dew_point_c(warm, rh)),
            "damp": (cold, dew_point_c(cold, damp)),
        }
        days = int(np.ceil((until_s - known_s) / DAY_S))
        times = known_s + HOUR_S * np.arange(24 * days)
        knots = np.concatenate([[from_s], times[times > from_s], [until_s + REACH_S]])
        for way, values in ways.items():
            columns = [np.interp(knots, times, np.tile(x, days)) for x in values]
            codes = np.full(len(knots), ASSUMED, np.int8)
            if way:
                self.tails[way] = Air(knots, columns[0], columns[1], codes[:-1])
            else:
                self.add(knots, columns[0], columns[1], codes)


def from_readings(
    t_s: Any,
    air_c: Any,
    humidity_pct: Any,
    now_s: float,
    assumed: Assumption | None = None,
    ahead: Ahead | None = None,
    past: Hourly | None = None,
) -> Air:
    """The air of a place from its readings and what is forecast.

    t_s [epoch s, rising], air_c [°C], humidity_pct [%]: equal lengths, may be empty. now_s
    [epoch s]: readings after it are not used. past: what was forecast of hours gone by, for long gaps. Raises
    ValueError if times do not rise.
    """
    assumed = assumed or Assumption()
    times, temps, rh = (np.asarray(x, float) for x in (t_s, air_c, humidity_pct))
    if len(times) and times[-1] > now_s:
        keep = times <= now_s
        times, temps, rh = times[keep], temps[keep], rh[keep]
    if not len(times) and (ahead is None or not len(ahead.t_s)):
        return steady(assumed.air_c, assumed.rh_pct, now_s - REACH_S, now_s + REACH_S)
    if np.any(np.diff(times) <= 0):
        raise ValueError("reading times must rise")
    made, first, last, reached = _Knots(assumed), now_s, now_s, now_s
    if len(times):
        first, last = float(times[0]), float(times[-1])
        reached = last + HOLD_S
    made.assume(first - REACH_S, first)
    if len(times):
        _append_readings(made, times, temps, np.atleast_1d(dew_point_c(temps, rh)), past)
    ahead_s = _append_forecast(made, ahead, reached)
    made.repeat(ahead_s, last if ahead_s == reached else ahead_s, max(now_s, ahead_s) + TAIL_DAYS * DAY_S)
    return made.air(first, last)


def long_gaps(t_s: np.ndarray) -> list[tuple[float, float]]:
    """(from, to [epoch s]) of each gap in readings [epoch s] that is too long to be bridged."""
    wide = np.nonzero(np.diff(t_s) > GAP_S)[0]
    return list(zip(t_s[wide].tolist(), t_s[wide + 1].tolist(), strict=True))


def _append_readings(made: _Knots, times: np.ndarray, temps: np.ndarray, dews: np.ndarray, past: Hourly | None) -> None:
    """Add what was read, straight between but for long gaps that were forecast; the last reading is held."""
    gaps, begin = np.diff(times), 0
    basis = np.append(np.select([gaps <= BRIDGE_S, gaps <= GAP_S], [MEASURED, ESTIMATED], ASSUMED), ESTIMATED)
    for i in np.nonzero(gaps > GAP_S)[0].tolist():
        filled = _as_forecast(past, times[i : i + 2], temps[i : i + 2], dews[i : i + 2]) if past else None
        if filled is not None:
            basis[i] = FORECAST
            made.add(times[begin : i + 1], temps[begin : i + 1], dews[begin : i + 1], basis[begin : i + 1])
            made.add(*filled, np.full(len(filled[0]), FORECAST))
            begin = i + 1
    made.add(times[begin:], temps[begin:], dews[begin:], basis[begin:])
    made.hold(float(times[-1]) + HOLD_S)


def _as_forecast(
    past: Hourly, ends_s: np.ndarray, air_c: np.ndarray, dew_c: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray] | None:
    """(times, air, dew point) inside a gap as forecast, bent to meet the readings at both ends; None if not covered."""
    near = past.t_s[(past.t_s >= ends_s[0] - BRIDGE_S) & (past.t_s <= ends_s[1] + BRIDGE_S)]
    covered = len(near) > 1 and near[0] <= ends_s[0] + BRIDGE_S and near[-1] >= ends_s[1] - BRIDGE_S
    if not covered or np.diff(near).max() > PAST_STEP_S:
        return None
    t = near[(near > ends_s[0]) & (near < ends_s[1])]
    columns = []
    for known, read in ((past.air_c, air_c), (past.dew_c, dew_c)):
        off = read - np.interp(ends_s, past.t_s, known)
        columns.append(np.interp(t, past.t_s, known) + np.interp(t, ends_s, off))
    return t, columns[0], np.minimum(columns[1], columns[0])


def _append_forecast(made: _Knots, ahead: Ahead | None, from_s: float) -> float:
    """Add what is forecast after a moment; up to where it reaches [epoch s]."""
    if ahead is None or not len(ahead.t_s) or ahead.t_s[-1] <= from_s:
        return from_s
    begin = max(from_s, float(ahead.t_s[0]))
    if begin > from_s:  # until it begins what was last there holds on
        made.hold(begin, ASSUMED)
    later = ahead.t_s > begin
    t = np.concatenate([[begin], ahead.t_s[later]])
    rows = [np.interp(t, ahead.t_s, x) for x in (ahead.air_c, ahead.dew_c, ahead.spread_k)]
    made.add(t, rows[0], rows[1], np.full(len(t), FORECAST), rows[2])
    return float(t[-1])


def spliced(old: Air, new: Air) -> tuple[Air, float]:
    """`old` up to the reading with which `new` begins, then `new`.

    Returns the series and the moment [epoch s] up to which it is the old one, knot by knot.
    """
    at = float(new.first_s or new.t_s[0])
    # The reading itself, not the end of an assumed stretch at the same moment before it.
    i, j = (int(x.t_s.searchsorted(at, side="right")) - 1 for x in (old, new))

    def join(a: np.ndarray, b: np.ndarray) -> np.ndarray:
        return np.concatenate([a[:i], b[j:]])

    spread = None
    if new.spread_k is not None:
        spread = join(np.zeros(len(old.t_s)) if old.spread_k is None else old.spread_k, new.spread_k)
    air = Air(
        join(old.t_s, new.t_s),
        join(old.air_c, new.air_c),
        join(old.dew_c, new.dew_c),
        join(old.basis, new.basis),
        spread,
        old.first_s,
        new.last_s,
        new.tails,
    )
    n = min(len(old.t_s) - i, len(new.t_s) - j)
    columns = ((old.t_s, new.t_s), (old.air_c, new.air_c), (old.dew_c, new.dew_c))
    same = np.logical_and.reduce([a[i : i + n] == b[j : j + n] for a, b in columns])
    same[1:] &= old.basis[i : i + n - 1] == new.basis[j : j + n - 1]
    first = int(np.argmin(same)) if not same.all() else n
    return air, float(new.t_s[j + max(first - 1, 0)])
