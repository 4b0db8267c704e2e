"""The air of a place over time, the metal that follows it, and the way of a piece from place to place.

`Air` is temperature and dew point, linear between knots; each stretch says what it rests on.
`Section` is a metal section in that air, behind it by its lag. `Journey` is a piece's stays, each in
a section of its place's air; after a move the metal brings its own temperature along.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any
from weakref import ReferenceType

import numpy as np

from ..working import Basis
from .dewpoint import dew_point_c, rh_pct
from .lag import CALM_K, follow, refine

DAY_S = 86400.0
BASES = (Basis.MEASURED, Basis.ESTIMATED, Basis.FORECAST, Basis.ASSUMED)
"""Order of the basis codes in `Air.basis`."""
MEASURED, ESTIMATED, FORECAST, ASSUMED = range(4)
WARM_UP = 12.0
"""How many time constants before a stretch a section is started at air: what is left is under 1e-5 of it."""
_KEPT_CUTS = 48
_KEPT_METALS = 4096


@dataclass(frozen=True)
class Moment:
    """Air at one moment [epoch s]: temperature and dew point [°C], humidity [%], its basis; the metal [°C]."""

    t_s: float
    air_c: float
    dew_c: float
    rh_pct: float
    basis: Basis
    metal_c: float


@dataclass(frozen=True)
class Cut:
    """A stretch of a section: knots [epoch s], metal, air and dew point [°C], basis code of each piece."""

    t_s: np.ndarray
    metal_c: np.ndarray
    air_c: np.ndarray
    dew_c: np.ndarray
    basis: np.ndarray


def joined(pieces: Sequence[Cut]) -> Cut:
    """Stretches that follow each other as one; between two lies a step, a piece of no length."""
    if len(pieces) == 1:
        return pieces[0]
    columns = [np.concatenate([getattr(p, name) for p in pieces]) for name in ("t_s", "metal_c", "air_c", "dew_c")]
    basis = np.concatenate([x for p in pieces for x in (p.basis, p.basis[-1:])])[:-1]
    return Cut(columns[0], columns[1], columns[2], columns[3], basis)


@dataclass
class AirKept:
    """What was made of a series of air; it follows from the series alone and may be dropped.

    sections by their time constant [s]; the last answer of `runs` and `shifted` with what was asked;
    leanings by their sign; older: (the series it was grown from, weakly held; until when [epoch s] the two are the
    same).
    """

    sections: "dict[float, Section]" = field(default_factory=dict)
    runs: tuple[tuple[float, float], tuple[tuple[float, float, Basis], ...]] | None = None
    shifted: "tuple[float, Air] | None" = None
    leanings: "dict[int, Air]" = field(default_factory=dict)
    older: "tuple[ReferenceType[Air], float] | None" = None

    def same_until_s(self, other: "Air") -> float:
        """Until when [epoch s] this series is the same as that other, 0 if nothing is known of it."""
        return self.older[1] if self.older is not None and self.older[0]() is other else 0.0


@dataclass(frozen=True, eq=False)
class Air:
    """Knots of time [epoch s], air [°C] and dew point [°C]; basis code of each stretch between.

    Two knots at one moment are a step. `spread_k`: ± of each knot where it is forecast, None if
    nowhere. first_s, last_s: the first and last reading (None: the first and last knot). tails: the
    same air from where nothing is known on, as "cold" for what must have passed, "warm" for what must not be exceeded,
    "damp" for bare metal, all beginning at one moment; empty if it is taken as it is.
    """

    t_s: np.ndarray
    air_c: np.ndarray
    dew_c: np.ndarray
    basis: np.ndarray
    spread_k: np.ndarray | None = None
    first_s: float | None = None
    last_s: float | None = None
    tails: "Mapping[str, Air]" = field(default_factory=dict, repr=False)
    kept: AirKept = field(default_factory=AirKept, repr=False)

    def _value(self, t_s: float, after: bool) -> tuple[float, float, int]:
        """Air, dew point and stretch at a moment; at a step the value after it, or before it."""
        i = int(self.t_s.searchsorted(t_s, side="right" if after else "left")) - 1
        i = min(max(i, 0), len(self.basis) - 1)
        span = float(self.t_s[i + 1] - self.t_s[i])
        share = min(max((t_s - float(self.t_s[i])) / span, 0.0), 1.0) if span > 0 else 1.0
        temp, dew = float(self.air_c[i]), float(self.dew_c[i])
        return (
            temp + share * (float(self.air_c[i + 1]) - temp),
            dew + share * (float(self.dew_c[i + 1]) - dew),
            i,
        )

    @cached_property
    def tail_s(self) -> float:
        """From when on nothing is known [epoch s]; never, where it is taken as it is."""
        return next((float(tail.t_s[0]) for tail in self.tails.values()), math.inf)

    def at(self, t_s: float, way: str = "") -> Moment:
        """Air at a moment [epoch s], what nobody knows taken in a way; metal is taken to be as warm as the air."""
        if way and t_s >= self.tail_s:
            return self.tails[way].at(t_s)
        temp, dew, i = self._value(t_s, True)
        return Moment(t_s, temp, dew, float(rh_pct(temp, dew)), BASES[int(self.basis[i])], temp)

    def slice(self, start_s: float, end_s: float, way: str = "") -> Cut:
        """Knots from start to end [epoch s], both ends included, metal as warm as the air.

        way: how what nobody knows is taken, a key of `tails` ("": as it is drawn).
        """
        if way and end_s > self.tail_s:
            later = self.tails[way].slice(max(start_s, self.tail_s), end_s)
            return later if start_s >= self.tail_s else joined([self.slice(start_s, self.tail_s), later])
        first, last = self._value(start_s, True), self._value(end_s, False)
        i = int(self.t_s.searchsorted(start_s, side="right"))
        j = max(i, int(self.t_s.searchsorted(end_s, side="left")))
        air = np.concatenate([[first[0]], self.air_c[i:j], [last[0]]])
        basis = self.basis[np.clip(np.arange(i - 1, j), 0, len(self.basis) - 1)]
        return Cut(
            np.concatenate([[start_s], self.t_s[i:j], [end_s]]),
            air,
            air,
            np.concatenate([[first[1]], self.dew_c[i:j], [last[1]]]),
            basis,
        )

    def runs(self, start_s: float, end_s: float) -> tuple[tuple[float, float, Basis], ...]:
        """(from, to [epoch s], basis) of what the air rests on between two moments; the last answer is kept."""
        kept = self.kept.runs
        if kept is None or kept[0] != (start_s, end_s):
            cut = self.slice(start_s, end_s)
            real = np.nonzero(np.diff(cut.t_s) > 0)[0]
            codes = cut.basis[real]
            first = np.nonzero(np.concatenate([[True], codes[1:] != codes[:-1]]))[0] if len(codes) else codes
            starts = cut.t_s[real[first]] if len(codes) else np.array([])
            ends = np.append(starts[1:], end_s)
            rows = zip(starts.tolist(), ends.tolist(), codes[first].tolist() if len(codes) else [], strict=True)
            kept = self.kept.runs = ((start_s, end_s), tuple((a, b, BASES[code]) for a, b, code in rows))
        return kept[1]

    @cached_property
    def edges(self) -> np.ndarray:
        """Where the series is cut to be integrated [epoch s]: at midnights UTC, at the last reading, and by days from
        where nothing is known.
        """
        first = self.t_s[0] if self.first_s is None else self.first_s
        last = self.t_s[-1] if self.last_s is None else self.last_s
        days = DAY_S * np.arange(math.floor(first / DAY_S) + 1, math.ceil(last / DAY_S))
        tail = np.arange(self.tail_s, self.t_s[-2], DAY_S) if self.tails else np.array([])
        return np.unique(np.concatenate([[self.t_s[0], first], days, [last], tail, [self.t_s[-1]]]))

    def section(self, tau_s: float) -> "Section":
        """Metal behind this air by a time constant [s], made once per constant."""
        found = self.kept.sections.get(tau_s)
        if found is None:
            found = self.kept.sections[tau_s] = Section(self, tau_s)
        return found

    def shifted(self, kelvin: float) -> "Air":
        """The same air, warmer by `kelvin`, with the same dew point (never above the air)."""
        kept = self.kept.shifted
        if kept is None or kept[0] != kelvin:  # a slider asks for many: the last is kept
            warm = self.air_c + kelvin
            dew = np.minimum(self.dew_c, warm)
            tails: dict[str, Air] = {way: tail.shifted(kelvin) for way, tail in self.tails.items()}
            air = Air(self.t_s, warm, dew, self.basis, self.spread_k, self.first_s, self.last_s, tails)
            kept = self.kept.shifted = (kelvin, air)
        return kept[1]

    def leaning(self, sign: int) -> "Air":
        """The air with what is forecast warmer (+1) or colder (-1) by its spread; itself if nothing is."""
        if self.spread_k is None:
            return self
        found = self.kept.leanings.get(sign)
        if found is None:
            temp = self.air_c + sign * self.spread_k
            ends = self.first_s, self.last_s, self.tails
            found = Air(self.t_s, temp, np.minimum(self.dew_c, temp), self.basis, None, *ends)
            self.kept.leanings[sign] = found
        return found


class Section:
    """A metal section in the air of a place, behind it by `tau_s` [s]; 0: as warm as the air.

    `start`: (moment [epoch s], metal [°C]) where it came in with a temperature of its own, and
    `end_s` until when that is looked at. Without it the section has always stood there. way: how what nobody knows
    is taken, a key of the air's tails; brought: by such a way, what it came in with where that is not start's [°C].
    """

    def __init__(
        self,
        air: Air,
        tau_s: float,
        start: tuple[float, float] | None = None,
        end_s: float = 0.0,
        way: str = "",
        brought: Mapping[str, float] | None = None,
    ) -> None:
        self.air, self.tau_s, self.start, self.way, self.brought = air, tau_s, start, way, brought or {}
        if start is None:
            self.edges = air.edges
        else:
            inside = [air.tail_s] if start[0] < air.tail_s < end_s else []
            self.edges = np.array([start[0], *inside, end_s])
        self.integrals: dict[Any, Any] = {}
        """Integrals of laws over it, by law (surface.integral)."""
        self.metals: dict[float, float] = {}
        self._cuts: dict[tuple[float, float], Cut] = {}
        self._tails: dict[str, Section] = {}

    def cut(self, i: int, way: str = "") -> Cut:
        """The stretch between edges i and i + 1, what nobody knows taken in a way."""
        start_s, end_s = float(self.edges[i]), float(self.edges[i + 1])
        return self._at(start_s, way).between(start_s, end_s)

    def _at(self, t_s: float, way: str) -> "Section":
        """The section that holds at a moment [epoch s] in one of the ways that is taken: itself where all is known."""
        if not way or way == self.way or not (way in self.brought or t_s >= self.air.tail_s):
            return self
        found = self._tails.get(way)
        if found is None:
            if way in self.brought and self.start:
                start = (self.start[0], self.brought[way])
            else:
                begin = max(self.air.tail_s, self.start[0] if self.start else self.air.tail_s)
                start = (begin, self.metal_at(begin))
            found = self._tails[way] = Section(self.air, self.tau_s, start, float(self.air.t_s[-1]), way)
        return found

    def stretch(self, start_s: float, end_s: float, way: str = "") -> Cut:
        """The stretch between two moments [epoch s], what nobody knows taken in a way from where that begins on."""
        tail = self.air.tail_s
        if way and start_s < tail < end_s:
            return joined([self.between(start_s, tail), self._at(tail, way).between(tail, end_s)])
        return self._at(start_s, way).between(start_s, end_s)

    def between(self, start_s: float, end_s: float) -> Cut:
        """The stretch between two moments [epoch s]; the last ones are kept."""
        key = (start_s, end_s)
        found = self._cuts.get(key)
        if found is None:
            found = self._make(start_s, end_s)
            if len(self._cuts) >= _KEPT_CUTS:
                self._cuts.clear()
            self._cuts[key] = found
        return found

    def _lead(self, start_s: float, end_s: float) -> tuple[Cut, float | None]:
        """(the air from early enough before a stretch on, the metal there [°C], None: at air)."""
        begin = start_s - WARM_UP * self.tau_s
        if self.start is not None and begin <= self.start[0]:
            return self.air.slice(self.start[0], end_s, self.way), self.start[1]
        return self.air.slice(max(float(self.air.t_s[0]), begin), end_s, self.way), None

    def _make(self, start_s: float, end_s: float) -> Cut:
        if self.tau_s <= 0:
            return self.air.slice(start_s, end_s, self.way)
        met = behind(*self._lead(start_s, end_s), self.tau_s)
        t_s = met.t_s
        if t_s[0] >= start_s:
            return met
        i = int(t_s.searchsorted(start_s, side="right"))
        share = (start_s - t_s[i - 1]) / (t_s[i] - t_s[i - 1])

        def clip(x: np.ndarray) -> np.ndarray:
            return np.concatenate([[x[i - 1] + share * (x[i] - x[i - 1])], x[i:]])

        metal, air, dew = (clip(x) for x in (met.metal_c, met.air_c, met.dew_c))
        return Cut(np.concatenate([[start_s], t_s[i:]]), metal, air, dew, met.basis[i - 1 :])

    def metal_at(self, t_s: float, way: str = "") -> float:
        """Temperature of the metal [°C] at a moment [epoch s], what nobody knows taken in a way; kept."""
        section = self._at(t_s, way)
        if section is not self:
            return section.metal_at(t_s)
        if self.tau_s <= 0:
            return self.air.at(t_s, self.way).air_c
        found = self.metals.get(t_s)
        if found is None:
            found = self._metal_at(t_s)
            if len(self.metals) >= _KEPT_METALS:
                self.metals.clear()
            self.metals[t_s] = found
        return found

    def _metal_at(self, t_s: float) -> float:
        if t_s <= (self.start[0] if self.start else float(self.air.t_s[0])):
            return self.start[1] if self.start else self.air.at(t_s).air_c
        lead, start_c = self._lead(t_s, t_s)
        return float(follow(lead.t_s, lead.air_c, self.tau_s, start_c)[-1])


def behind(air: Cut, start_c: float | None, tau_s: float) -> Cut:
    """A stretch of air with the metal that follows it by a lag [s], refined while it settles; what was measured of the
    air is an estimate of the metal. start_c: the metal as it begins [°C], None: as warm as the air.
    """
    metal = follow(air.t_s, air.air_c, tau_s, start_c)
    t_s, metal, owner = refine(air.t_s, air.air_c, metal, tau_s)
    air_c, dew_c = (on_pieces(t_s, owner, air.t_s, x) for x in (air.air_c, air.dew_c))
    return Cut(t_s, metal, air_c, dew_c, np.where(air.basis == MEASURED, ESTIMATED, air.basis)[owner[:-1]])


def on_pieces(t_s: np.ndarray, owner: np.ndarray, knots: np.ndarray, values: np.ndarray) -> np.ndarray:
    """Values at refined knots [epoch s], each on the piece that it was put into (steps stay steps)."""
    after = np.minimum(owner + 1, len(knots) - 1)
    span = knots[after] - knots[owner]
    share = np.divide(t_s - knots[owner], span, out=np.zeros_like(t_s), where=span > 0)
    return values[owner] + share * (values[after] - values[owner])


def steady(air_c: float, rh: float, start_s: float, end_s: float, basis: Basis = Basis.ASSUMED) -> Air:
    """Air that does not change [°C, %] from start to end [epoch s]."""
    dew = dew_point_c(air_c, rh)
    return Air(
        np.array([start_s, end_s]),
        np.array([air_c, air_c]),
        np.array([dew, dew]),
        np.array([BASES.index(basis)], np.int8),
        first_s=start_s,
        last_s=start_s,
    )


@dataclass(frozen=True)
class Stay:
    """A piece stands in a section of one place's air from start up to end [epoch s, end exclusive]."""

    start_s: float
    end_s: float
    section: Section
    place: str = ""

    @property
    def air(self) -> Air:
        """The air of the place."""
        return self.section.air


@dataclass(frozen=True, eq=False)
class Journey:
    """Where a piece was over time: stays in order, without gaps, the first and last open-ended.

    What is kept follows from the stays alone and may be dropped: crossings (surface.integral) and
    progress by what they are of, leanings by their sign.
    """

    stays: tuple[Stay, ...]
    tau_s: float = 0.0
    moves: tuple[Any, ...] = ()
    crossings: dict[Any, Any] = field(default_factory=dict, repr=False)
    progresses: dict[Any, float] = field(default_factory=dict, repr=False)
    leanings: "dict[int, Journey]" = field(default_factory=dict, repr=False)

    @cached_property
    def of_air(self) -> "Journey":
        """The same journey for what is as warm as the air at once: a pot, a tin."""
        if self.tau_s <= 0 and all(metal is None for *_, metal in self.moves):
            return self
        return journey([(t, air, place) for t, air, place, _ in self.moves])

    def stay_at(self, t_s: float) -> Stay:
        """The stay that holds the moment [epoch s]."""
        for stay in self.stays:
            if t_s < stay.end_s:
                return stay
        return self.stays[-1]

    def at(self, t_s: float, way: str = "") -> Moment:
        """Air round the piece at a moment [epoch s], and its metal; what nobody knows taken in a way."""
        stay = self.stay_at(t_s)
        found = stay.air.at(t_s, way)
        if self.tau_s <= 0:
            return found
        return Moment(t_s, found.air_c, found.dew_c, found.rh_pct, found.basis, stay.section.metal_at(t_s, way))

    def runs(self, start_s: float, end_s: float) -> list[tuple[float, float, Basis]]:
        """(from, to [epoch s], basis) of what the air met between two moments rests on."""
        found = []
        for stay in self.stays:
            a, b = max(start_s, stay.start_s), min(end_s, stay.end_s)
            if b > a:
                found += [
                    (max(a, x), min(b, y), basis) for x, y, basis in stay.air.runs(start_s, end_s) if x < b and y > a
                ]
        return found

    def shifted(self, kelvin: float, from_s: float) -> "Journey":
        """The same journey in air warmer by `kelvin` from a moment [epoch s] on; the metal follows by its lag."""
        if not kelvin:
            return self
        past = [move for number, move in enumerate(self.moves) if move[0] <= from_s or not number]
        here = past[-1]
        now = (from_s, here[1].shifted(kelvin), here[2], None)
        later = [(t, air.shifted(kelvin), place, c) for t, air, place, c in self.moves[len(past) :]]
        return journey([*past, now, *later], self.tau_s)

    def leaning(self, sign: int) -> "Journey":
        """The journey with what is forecast warmer (+1) or colder (-1) by its spread."""
        if all(stay.air.spread_k is None for stay in self.stays):
            return self
        found = self.leanings.get(sign)
        if found is None:
            found = journey([(t, air.leaning(sign), place, c) for t, air, place, c in self.moves], self.tau_s)
            self.leanings[sign] = found
        return found

    def air(self, start_s: float, end_s: float, way: str = "") -> Cut:
        """The air met from start to end [epoch s], knot by knot, what nobody knows taken in a way; metal as warm."""
        pieces = []
        for stay in self.stays:
            a, b = max(start_s, stay.start_s), min(end_s, stay.end_s)
            if b > a or (a == b == start_s == end_s):
                pieces.append(stay.air.slice(a, b, way))
        return joined(pieces)


def journey(moves: Sequence[tuple], tau_s: float = 0.0) -> Journey:
    """A journey from moves (moment [epoch s], air of the new place, its name[, metal °C measured then]).

    tau_s: lag of the piece [s]. Moves are in order of time; before the first the piece is taken to
    have stood in the first place. One that brings its metal's temperature from elsewhere, or had it
    measured, stays in a section of its own until what it brought has faded. Raises ValueError if
    there is no move.
    """
    if not moves:
        raise ValueError("a journey needs a place to start from")
    full = tuple(_keep_measured([move if len(move) == 4 else (*move, None) for move in moves]))
    starts = [float("-inf")] + [float(move[0]) for move in full[1:]]
    ends = [*starts[1:], float("inf")]
    stays: list[Stay] = []
    for number, ((_, air, place, measured), a, b) in enumerate(zip(full, starts, ends, strict=True)):
        shared = air.section(tau_s)
        if tau_s > 0 and b > a and (number or measured is not None):
            a = _bring_along(stays, shared, full[number], a, b)
        if b > a:
            stays.append(Stay(a, b, shared, place))
    return Journey(tuple(stays), tau_s, full)


def _keep_measured(moves: list[tuple]) -> list[tuple]:
    """The moves, what was measured at one moment kept by a move that follows at the same."""
    for i in range(1, len(moves)):
        if moves[i][3] is None and moves[i][0] == moves[i - 1][0]:
            moves[i] = (*moves[i][:3], moves[i - 1][3])
    return moves


def _bring_along(stays: list[Stay], shared: Section, move: tuple, start_s: float, end_s: float) -> float:
    """Let the metal settle into its new place in a stay of its own; when it has [epoch s]."""
    at, air, place, measured = move
    at = float(at)
    before = stays[-1].section if measured is None else None
    plain = measured if before is None else before.metal_at(at)
    brought = {}
    if before is not None and (at > before.air.tail_s or before.brought):
        brought = {way: before.metal_at(at, way) for way in air.tails or before.air.tails}
    there = shared.metal_at(at)
    away_k = max(abs(c - there) for c in (plain, *brought.values()))
    if away_k <= CALM_K:
        return start_s
    settled = min(end_s, at + shared.tau_s * math.log(away_k / CALM_K))
    if start_s < at:
        stays.append(Stay(start_s, at, shared, place))
    stays.append(Stay(at, settled, Section(air, shared.tau_s, (at, plain), settled, "", brought), place))
    return settled
