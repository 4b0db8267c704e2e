"""The air of a place over time: temperature and dew point, linear between readings.

A series always answers, from long before the first reading to long after the last; each stretch
says what it rests on. Readings closer than an hour are measured; a gap of over an hour is bridged
and one of over twelve is filled with the workshop's assumption; the last reading holds for an hour.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from .dewpoint import dew_point_c, rh_pct
from .working import Basis

HOUR_S = 3600.0
BRIDGE_S = 1 * HOUR_S
"""A gap up to this length is as good as measured [s]."""
GAP_S = 12 * HOUR_S
"""A gap up to this length is bridged by a straight line [s]; a longer one is assumed."""
HOLD_S = 1 * HOUR_S
"""How long the last reading is held [s]."""
REACH_S = 400 * 86400.0
"""How far the assumption reaches before the first and after the last moment asked for [s]."""

BASES = (Basis.MEASURED, Basis.ESTIMATED, Basis.FORECAST, Basis.ASSUMED)
"""Order of the basis codes in `Air.basis`."""
_MEASURED, _ESTIMATED, _FORECAST, _ASSUMED = range(4)


@dataclass(frozen=True)
class Assumption:
    """What a place is taken to be like where nothing is known [°C, %]."""

    air_c: float = 18.0
    rh_pct: float = 55.0


@dataclass(frozen=True, eq=False)
class Air:
    """Knots of time [epoch s], air [°C] and dew point [°C]; basis code of each stretch between.

    Two knots at one moment are a step. `memo` keeps what was integrated over this series; it is
    made from the series alone and may be dropped at any time.
    """

    t_s: np.ndarray
    air_c: np.ndarray
    dew_c: np.ndarray
    basis: np.ndarray
    memo: dict = field(default_factory=dict, repr=False)

    def at(self, t_s: float) -> "Moment":
        """Air at a moment [epoch s]."""
        i = int(np.clip(np.searchsorted(self.t_s, t_s, side="right") - 1, 0, len(self.basis) - 1))
        span = self.t_s[i + 1] - self.t_s[i]
        share = float(np.clip((t_s - self.t_s[i]) / span, 0, 1)) if span > 0 else 1.0
        temp = float(self.air_c[i] + share * (self.air_c[i + 1] - self.air_c[i]))
        dew = float(self.dew_c[i] + share * (self.dew_c[i + 1] - self.dew_c[i]))
        return Moment(t_s, temp, dew, float(rh_pct(temp, dew)), BASES[int(self.basis[i])])

    def window(self, start_s: float, end_s: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Knots from start to end [epoch s], both ends included: times, air [°C], dew point [°C]."""
        inside = (self.t_s > start_s) & (self.t_s < end_s)
        first, last = self.at(start_s), self.at(end_s)
        return (
            np.concatenate([[start_s], self.t_s[inside], [end_s]]),
            np.concatenate([[first.air_c], self.air_c[inside], [last.air_c]]),
            np.concatenate([[first.dew_c], self.dew_c[inside], [last.dew_c]]),
        )

    def shifted(self, kelvin: float) -> "Air":
        """The same air, warmer by `kelvin`, with the same dew point (never above the air)."""
        warm = self.air_c + kelvin
        return Air(self.t_s, warm, np.minimum(self.dew_c, warm), self.basis)


@dataclass(frozen=True)
class Moment:
    """Air at one moment [epoch s]: temperature and dew point [°C], humidity [%], its basis."""

    t_s: float
    air_c: float
    dew_c: float
    rh_pct: float
    basis: Basis


def steady(air_c: float, rh: float, start_s: float, end_s: float, basis: Basis = Basis.ASSUMED) -> Air:
    """Air that does not change [°C, %] from start to end [epoch s]."""
    dew = dew_point_c(air_c, rh)
    return Air(
        np.array([start_s, end_s]),
        np.array([air_c, air_c]),
        np.array([dew, dew]),
        np.array([BASES.index(basis)], np.int8),
    )


def from_readings(t_s: Any, air_c: Any, humidity_pct: Any, now_s: float, assumed: Assumption | None = None) -> Air:
    """The air of a place from its readings.

    t_s [epoch s, rising], air_c [°C], humidity_pct [%]: equal lengths, may be empty. now_s
    [epoch s]: readings after it are not used. Raises ValueError if times do not rise.
    """
    assumed = assumed or Assumption()
    times, temps, rh = (np.asarray(x, float) for x in (t_s, air_c, humidity_pct))
    keep = times <= now_s
    times, temps, rh = times[keep], temps[keep], rh[keep]
    if not len(times):
        return steady(assumed.air_c, assumed.rh_pct, now_s - REACH_S, now_s + REACH_S)
    if np.any(np.diff(times) <= 0):
        raise ValueError("reading times must rise")
    dews = np.atleast_1d(dew_point_c(temps, rh))
    assumed_dew = dew_point_c(assumed.air_c, assumed.rh_pct)
    gaps = np.diff(times)
    basis = np.where(gaps <= BRIDGE_S, _MEASURED, _ESTIMATED).astype(np.int8)
    knots: list[tuple[np.ndarray, np.ndarray, np.ndarray]] = []
    codes: list[np.ndarray] = []

    def assume(start_s: float, end_s: float) -> None:
        knots.append((np.array([start_s, end_s]), np.full(2, assumed.air_c), np.full(2, assumed_dew)))
        codes.append(np.array([_ASSUMED, _ASSUMED], np.int8))

    def hold(index: int, until_s: float) -> None:
        knots.append((np.array([until_s]), temps[index : index + 1], dews[index : index + 1]))
        codes[-1] = np.append(codes[-1][:-1], [_ESTIMATED, _ESTIMATED]).astype(np.int8)

    assume(float(times[0]) - REACH_S, float(times[0]))
    starts = np.concatenate([[0], np.nonzero(gaps > GAP_S)[0] + 1, [len(times)]])
    for first, after in itertools.pairwise(starts):
        knots.append((times[first:after], temps[first:after], dews[first:after]))
        codes.append(np.append(basis[first : after - 1], _ESTIMATED).astype(np.int8))
        hold(after - 1, float(times[after - 1]) + HOLD_S)
        end = float(times[after]) if after < len(times) else max(now_s, float(times[-1])) + REACH_S
        assume(float(times[after - 1]) + HOLD_S, end)
    series = [np.concatenate(column) for column in zip(*knots, strict=True)]
    return Air(series[0], series[1], series[2], np.concatenate(codes)[:-1])


@dataclass(frozen=True)
class Stay:
    """A piece stands in one place's air from start up to end [epoch s, end exclusive]."""

    start_s: float
    end_s: float
    air: Air
    place: str = ""


@dataclass(frozen=True)
class Journey:
    """Where a zone was over time: stays in order, without gaps, the first and last open-ended."""

    stays: tuple[Stay, ...]

    def stay_at(self, t_s: float) -> Stay:
        """The stay that holds the moment [epoch s]."""
        for stay in self.stays:
            if t_s < stay.end_s:
                return stay
        return self.stays[-1]

    def at(self, t_s: float) -> Moment:
        """Air round the piece at a moment [epoch s]."""
        return self.stay_at(t_s).air.at(t_s)

    def shifted(self, kelvin: float) -> "Journey":
        """The same journey in air warmer by `kelvin`."""
        return Journey(tuple(Stay(s.start_s, s.end_s, s.air.shifted(kelvin), s.place) for s in self.stays))

    def window(self, start_s: float, end_s: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Knots of the air met from start to end [epoch s]: times, air [°C], dew point [°C]."""
        pieces = [
            stay.air.window(max(start_s, stay.start_s), min(end_s, stay.end_s))
            for stay in self.stays
            if stay.start_s <= end_s and stay.end_s > start_s
        ]
        columns = [np.concatenate(column) for column in zip(*pieces, strict=True)]
        return columns[0], columns[1], columns[2]


def journey(moves: Sequence[tuple[float, Air, str]]) -> Journey:
    """A journey from moves: (moment [epoch s], air of the new place, its name), in order of time.

    Before the first move the piece is taken to have stood in the first place. Raises ValueError
    if there is no move.
    """
    if not moves:
        raise ValueError("a journey needs a place to start from")
    ends = [move[0] for move in moves[1:]] + [float("inf")]
    starts = [float("-inf")] + [move[0] for move in moves[1:]]
    return Journey(tuple(Stay(a, b, air, place) for a, b, (_, air, place) in zip(starts, ends, moves, strict=True)))


@dataclass(frozen=True)
class Source:
    """Readings of one origin, rising in time: epoch s, °C, %. Earlier sources in a list lead."""

    name: str
    t_s: np.ndarray
    air_c: np.ndarray
    rh_pct: np.ndarray


@dataclass(frozen=True)
class Disagreement:
    """Two sources more than 2 K or 10 % RH apart at a moment [epoch s]."""

    t_s: float
    leading: str
    other: str
    air_k: float
    rh_pct: float


OVERLAP_S = 1800.0
"""A reading this close to one of a leading source is not used [s]."""


def merge(sources: Sequence[Source]) -> tuple[Source, tuple[Disagreement, ...]]:
    """One series from sources that may overlap, never averaged: the leading source holds.

    Of a later source only readings over half an hour from any reading kept so far are used. The
    first disagreement over 2 K or 10 % RH of each pair is reported.
    """
    empty = np.array([])
    kept = Source("", empty, empty, empty)
    owners = np.array([], int)
    found = []
    for number, source in enumerate(sources):
        near = np.full(len(source.t_s), np.inf)
        if len(kept.t_s) and len(source.t_s):
            right = np.clip(np.searchsorted(kept.t_s, source.t_s), 0, len(kept.t_s) - 1)
            left = np.maximum(right - 1, 0)
            closest = np.where(abs(kept.t_s[left] - source.t_s) < abs(kept.t_s[right] - source.t_s), left, right)
            near = abs(kept.t_s[closest] - source.t_s)
            apart_k, apart_rh = source.air_c - kept.air_c[closest], source.rh_pct - kept.rh_pct[closest]
            odd = np.nonzero((near <= OVERLAP_S) & ((abs(apart_k) > 2.0) | (abs(apart_rh) > 10.0)))[0]
            for i in odd[:1]:
                leader = sources[owners[closest[i]]].name
                found.append(
                    Disagreement(float(source.t_s[i]), leader, source.name, float(apart_k[i]), float(apart_rh[i]))
                )
        use = near > OVERLAP_S
        times = np.concatenate([kept.t_s, source.t_s[use]])
        order = np.argsort(times, kind="stable")
        owners = np.concatenate([owners, np.full(int(use.sum()), number)])[order]
        air_c = np.concatenate([kept.air_c, source.air_c[use]])[order]
        rh = np.concatenate([kept.rh_pct, source.rh_pct[use]])[order]
        kept = Source("merged", times[order], air_c, rh)
    return kept, tuple(found)
