"""A plan replayed over many plausible weathers and hours: how often each window is missed and each promise kept.

All draws at once, on an hourly grid: the air as forecast with errors drawn from those that the forecast made before,
the metal behind it by its lag, laws added up hour by hour, hours by the workshop's own overrun. Nobody plans anew in a
replay: acts keep their hands and their order within a day, and begin when they are planned or as soon after as it goes.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from ..air.dewpoint import Limits, rh_pct
from ..air.journey import Cut, Journey
from ..air.sun import Span
from ..metal.repair import Z80, Factor
from ..product.tables import Law
from ..surface.integral import Crossing, progress
from .faces import Limit, Met
from .work import DAY_S, Act, Plan, Shop

HOUR_S = 3600.0
NIGHT_S = 6 * HOUR_S
"""So long before the grid begins its first day has begun [s]."""
ROW = 1e6
"""Rows of progress are told apart by so much when all are searched at once."""
FINE_K = 0.02
"""Rates are read off a table this fine [K]."""
OWN_SHARE = 0.5
"""An act's own part of how its hours run over, beside that of its kind of work. Ours, no source."""


@dataclass(frozen=True)
class Draws:
    """Errors of the air and of the dew point [K], a row a draw, a column an hour of the grid t_s [epoch s]."""

    t_s: np.ndarray
    air_k: np.ndarray
    dew_k: np.ndarray
    seed: int = 1

    @property
    def count(self) -> int:
        """How many draws."""
        return len(self.air_k)


def drawn(
    t_s: np.ndarray, past_air_k: np.ndarray, past_dew_k: np.ndarray, count: int, unproven_k: float, seed: int = 1
) -> Draws:
    """Draws of errors for the hours of a grid [epoch s]: days of the forecast's own past errors put in any order.

    past_air_k, past_dew_k: log less what was forecast of it, set right by its offset [K], hour by hour; with under two
    days of them, errors of a normal spread unproven_k [K] that fade within a day.
    """
    rng, hours = np.random.default_rng(seed), len(t_s)
    days = -(-hours // 24)
    if len(past_air_k) >= 48:
        starts = rng.integers(0, len(past_air_k) - 23, size=(count, days))
        index = (starts[:, :, None] + np.arange(24)).reshape(count, -1)[:, :hours]
        return Draws(t_s, past_air_k[index], past_dew_k[index], seed)
    keep = math.exp(-1 / 12.0)
    steps = rng.normal(0.0, unproven_k, (2, count, hours))
    air = np.empty((2, count, hours))
    air[:, :, 0] = steps[:, :, 0]
    for h in range(1, hours):
        air[:, :, h] = keep * air[:, :, h - 1] + math.sqrt(1 - keep * keep) * steps[:, :, h]
    return Draws(t_s, air[0], air[1], seed)


def behind(air_k: np.ndarray, tau_s: float) -> np.ndarray:
    """How an error of the air [K] that is linear between hours shows in metal behind it by a lag [s]; exact."""
    if tau_s <= 0:
        return air_k
    keep, hours = math.exp(-HOUR_S / tau_s), np.ascontiguousarray(air_k.T)
    out = np.zeros_like(hours)
    for h in range(1, len(hours)):
        slope = (hours[h] - hours[h - 1]) / HOUR_S * tau_s
        out[h] = hours[h] - slope + keep * (out[h - 1] - hours[h - 1] + slope)
    return np.ascontiguousarray(out.T)


def metal_on(where: Journey, t_s: np.ndarray, way: str = "") -> Cut:
    """Metal, air and dew point [°C] of a section at even moments [epoch s], what nobody knows taken in a way."""
    columns: list[list[np.ndarray]] = []
    for stay in where.stays:
        inside = t_s[(t_s >= stay.start_s) & (t_s < stay.end_s)]
        if len(inside):
            cut = stay.section.stretch(float(inside[0]), float(inside[-1]) + 1.0, way)
            columns.append([np.interp(inside, cut.t_s, x) for x in (cut.metal_c, cut.air_c, cut.dew_c)])
    metal, air, dew = (np.concatenate([c[i] for c in columns]) for i in range(3))
    return Cut(t_s, metal, air, dew, np.zeros(max(len(t_s) - 1, 0), np.int8))


def rates_of(law: Law, metal_c: np.ndarray, air_c: np.ndarray, dew_c: np.ndarray) -> np.ndarray:
    """Rates of a law [1/min] at many temperatures [°C]; one that asks for no air is read off a table, to FINE_K."""
    if law.needs_air:
        return np.asarray(law.rates(metal_c, air_c, dew_c))
    low, high = math.floor(float(metal_c.min())), math.ceil(float(metal_c.max())) + 1
    grid = np.linspace(low, high, round((high - low) / FINE_K) + 1)
    table = np.asarray(law.rates(grid, grid, grid))
    return table[np.rint((metal_c - low) / FINE_K).astype(np.int32)]


def summed(law: Law, metal_c: np.ndarray, air_c: np.ndarray, dew_c: np.ndarray) -> np.ndarray:
    """Progress of a law at the hours, from what it meets at them [°C]: by trapezoids, by Simpson's rule for one that
    asks for air, whose rate bends more.
    """
    rates = rates_of(law, metal_c, air_c, dew_c)
    pieces = (rates[:, 1:] + rates[:, :-1]) / 2
    if law.needs_air:
        middle = rates_of(law, *((x[:, 1:] + x[:, :-1]) / 2 for x in (metal_c, air_c, dew_c)))
        pieces = (pieces + 2 * middle) / 3
    return np.concatenate([np.zeros((len(rates), 1)), np.cumsum(pieces * (HOUR_S / 60.0), axis=1)], axis=1)


class Weather:
    """Laws along sections in every draw, each added up once."""

    def __init__(self, draws: Draws, places: Mapping[str, Draws]) -> None:
        self.draws, self.places = draws, places
        self._metals: dict[tuple[int, str], tuple[np.ndarray, np.ndarray, np.ndarray]] = {}
        self._sums: dict[tuple[int, Law], np.ndarray] = {}
        self._held: list[Journey] = []

    def metal(self, where: Journey, way: str = "") -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """(metal, air, dew point [°C]) of a section in every draw."""
        key = id(where), way
        if key not in self._metals:
            self._held.append(where)  # an id is only good while what it names is there
            here = self.places.get(where.stay_at(float(self.draws.t_s[0])).place, self.draws)
            cut = metal_on(where, here.t_s, way)
            metal, air = cut.metal_c + behind(here.air_k, where.tau_s), cut.air_c + here.air_k
            self._metals[key] = metal, air, np.minimum(cut.dew_c + here.dew_k, air)
        return self._metals[key]

    def over_s(self, law: Crossing, begin_s: np.ndarray) -> np.ndarray:
        """When a law that began at a moment of each draw [epoch s] is over; inf where not within the grid."""
        t_s = self.draws.t_s
        key = id(law.where), law.table
        if key not in self._sums:
            self._sums[key] = summed(law.table, *self.metal(law.where, law.table.tail))
        done = self._sums[key]
        hours = np.clip((begin_s - t_s[0]) / HOUR_S, 0.0, len(t_s) - 1.001)
        i, rows = hours.astype(int), np.arange(len(done))
        goal = done[rows, i] + (hours - i) * (done[rows, i + 1] - done[rows, i]) + law.target
        goal -= self._before(law, begin_s)
        j = np.searchsorted((done + ROW * rows[:, None]).ravel(), goal + ROW * rows, side="left") - rows * len(t_s)
        never = j >= len(t_s)
        j = np.clip(j, 1, len(t_s) - 1)
        low, high = done[rows, j - 1], done[rows, j]
        share = np.clip(np.divide(goal - low, high - low, out=np.ones(len(goal)), where=high > low), 0.0, 1.0)
        found = t_s[j - 1] + share * HOUR_S
        return np.where(never, np.inf, np.maximum(found, begin_s))

    def _before(self, law: Crossing, begin_s: np.ndarray) -> float:
        """What was done of a law before the grid begins, if it began before it."""
        start = float(self.draws.t_s[0])
        return progress(law.where, law.table, float(begin_s[0]), start) if begin_s[0] < start else 0.0

    def shut(self, where: Journey, limits: Limits) -> np.ndarray:
        """Hours in which the air closes for a product's limits, in every draw."""
        metal, air, dew = self.metal(where)
        rows: list[np.ndarray] = [metal - dew < limits.spread_k - 1e-9]
        for values, (least, most) in (
            (metal, limits.surface_c),
            (air, limits.air_c),
            (np.asarray(rh_pct(air, dew)), limits.rh_pct),
        ):
            rows += [values < least - 1e-9] if least is not None else []
            rows += [values > most + 1e-9] if most is not None else []
        return np.any(rows, axis=0)


@dataclass(frozen=True)
class Hands:
    """How the hours of each kind of work run over: its Factor, by kind; kind of each act, by id."""

    factors: Mapping[str, Factor] = field(default_factory=dict)
    kinds: Mapping[str, str] = field(default_factory=dict)

    def times(self, acts: Sequence[Act], draws: Draws) -> dict[str, np.ndarray]:
        """{act: by what its planned hands are multiplied in every draw}; the planned hours are the middle."""
        rng, found = np.random.default_rng(draws.seed + 1), {}
        common = {kind: rng.normal(size=draws.count) for kind in sorted(self.factors)}
        for act in acts:
            own, kind = rng.normal(size=draws.count), self.kinds.get(act.id, "")
            factor = self.factors.get(kind)
            if not act.hands or factor is None:
                found[act.id] = np.ones(draws.count)
                continue
            sigma = math.log(factor.high / factor.mid) / Z80
            z = math.sqrt(1 - OWN_SHARE**2) * common[kind] + OWN_SHARE * own
            found[act.id] = np.exp(sigma * z)
        return found


@dataclass
class Replay:
    """What came of a plan in every draw: begins and ends of acts [epoch s], which windows were missed, by act."""

    begins: dict[str, np.ndarray]
    ends: dict[str, np.ndarray]
    missed: dict[str, np.ndarray]

    def hours_on(self, shop: Shop, edges_s: np.ndarray) -> np.ndarray:
        """Hours of hands that begin between each two edges [epoch s], a row a stretch, a column a draw [h]."""
        count = len(next(iter(self.begins.values()), np.zeros(1)))
        found = np.zeros((len(edges_s) + 1, count))
        for act in shop.acts:
            if act.hands:
                day = np.searchsorted(edges_s, self.begins[act.id], side="right")
                found[day, np.arange(count)] += (self.ends[act.id] - self.begins[act.id]) / HOUR_S
        return found[1:-1]

    @property
    def all_kept(self) -> float:
        """The share of draws in which every window is kept."""
        return float(1.0 - np.any(list(self.missed.values()), axis=0).mean()) if self.missed else 1.0

    def riskiest(self) -> tuple[str, float]:
        """The act whose window is missed most often, and in which share of the draws; ("", 0) where none is."""
        shares = {act: float(rows.mean()) for act, rows in self.missed.items()}
        act = max(shares, key=lambda a: shares[a], default="")
        return (act, shares[act]) if act and shares[act] > 0 else ("", 0.0)

    def job_ends(self, shop: Shop) -> dict[str, np.ndarray]:
        """{job: when its last act ends in every draw [epoch s]}."""
        jobs: dict[str, list[np.ndarray]] = {}
        for act in shop.acts:
            jobs.setdefault(act.job, []).append(self.ends[act.id])
        return {job: np.max(rows, axis=0) for job, rows in jobs.items()}


@dataclass(frozen=True)
class Asked:
    """What a replay rests on: the shop and plan, acts as the clock met them, limits of each act's product with the
    section it is put on; after: acts that come before each; hands: how hours run over; sky: by key of air, stretches
    that stay shut whatever the draw; places: draws of places that have their own.
    """

    shop: Shop
    plan: Plan
    mets: Mapping[str, Met]
    limits: Mapping[str, tuple[Journey, Limits]]
    after: Mapping[str, Sequence[str]]
    hands: Hands = field(default_factory=Hands)
    sky: Mapping[str, tuple[Span, ...]] = field(default_factory=dict)
    places: Mapping[str, Draws] = field(default_factory=dict)


def replay(asked: Asked, draws: Draws) -> Replay:
    """Every act in the order of the plan, in all draws at once."""
    return _Replayed(asked, draws).run()


class _Replayed:
    """One replay in the making."""

    def __init__(self, asked: Asked, draws: Draws) -> None:
        self.asked, self.draws, self.weather = asked, draws, Weather(draws, asked.places)
        self.times = asked.hands.times(asked.shop.acts, draws)
        self.found = Replay({}, {}, {})
        self.free: dict[str, np.ndarray] = {}
        """From when on somebody or something is free [epoch s], by day: what is put off does not hold up its day."""
        self.days = int((draws.t_s[-1] - draws.t_s[0]) // DAY_S) + 3
        self.there = {person.name: person.there for person in asked.shop.crew}
        self.shut: dict[str, np.ndarray] = {}

    def run(self) -> Replay:
        plan = self.asked.plan
        for act in sorted(self.asked.shop.acts, key=lambda a: (plan[a.id].begin_s, plan[a.id].end_s, a.id)):
            self._do(act)
        return self.found

    def _do(self, act: Act) -> None:
        plan, work = self.asked.plan[act.id], act.work_s * self.times[act.id]
        begin = np.full(self.draws.count, plan.begin_s)
        for before in self.asked.after.get(act.id, ()):
            begin = np.maximum(begin, self.found.ends[before])
        met = self.asked.mets.get(act.id)
        for limit in met.opens if met else ():
            begin = np.maximum(begin, self._at(limit))
        # What never opens in a draw stands at the end of what is looked at.
        begin = self._fits(act, plan.who, np.minimum(begin, self.draws.t_s[-1]), work)
        end = begin + work
        self.found.begins[act.id], self.found.ends[act.id] = begin, end
        self._take(plan.who, begin, end)
        for name in self._alone(act):
            self._take(name, begin, end + (act.then_s if name in act.holds else 0.0))
        closes = [self._at(limit) for limit in (met.closes if met else ()) if not limit.again]
        if closes:
            self.found.missed[act.id] = begin > np.min(closes, axis=0) + 60.0

    def _alone(self, act: Act) -> list[str]:
        """Things that one act at a time takes."""
        things = self.asked.shop.things
        return [name for name in (*act.uses, *act.holds) if name in things and things[name].count == 1]

    def _day(self, t_s: np.ndarray) -> np.ndarray:
        """Which day of the grid a moment [epoch s] lies in; days begin in the night."""
        return np.clip(((t_s - self.draws.t_s[0] + NIGHT_S) // DAY_S), 0, self.days - 1).astype(int)

    def _take(self, name: str, begin: np.ndarray, until: np.ndarray) -> None:
        """Somebody or something is taken until a moment of the day on which it begins [epoch s]."""
        if name:
            free = self.free.setdefault(name, np.zeros((self.draws.count, self.days)))
            rows, day = np.arange(self.draws.count), self._day(begin)
            free[rows, day] = np.maximum(free[rows, day], until)

    def _when_free(self, names: Sequence[str], begin: np.ndarray) -> np.ndarray:
        """Begins moved to when all of these are free on that day [epoch s]."""
        rows = np.arange(self.draws.count)
        for name in names:
            if name in self.free:
                begin = np.maximum(begin, self.free[name][rows, self._day(begin)])
        return begin

    def _at(self, limit: Limit) -> np.ndarray:
        """When a limit comes in every draw [epoch s]."""
        count = self.draws.count
        if limit.t_s is None:
            return np.full(count, np.inf)
        if limit.since:
            since = self.found.begins[limit.since] if limit.at_begin else self.found.ends[limit.since]
            if limit.law is None:
                planned = self.asked.plan[limit.since]
                return since + (limit.t_s - (planned.begin_s if limit.at_begin else planned.end_s))
            return self.weather.over_s(limit.law, since)
        if limit.law is None:
            return np.full(count, limit.t_s)
        return self.weather.over_s(limit.law, np.full(count, limit.law.since_s))

    def _fits(self, act: Act, who: str, begin: np.ndarray, work: np.ndarray) -> np.ndarray:
        """The first begins from these on at which hands are there for as long and the air holds to the flash."""
        for _ in range(400):
            later = self._when_free([who, *self._alone(act)], begin)
            later = self._in_hours(who, later, work)
            later = self._in_air(act, later, work + act.then_s)
            if np.array_equal(later, begin):
                return begin
            begin = later
        return begin

    def _in_hours(self, who: str, begin: np.ndarray, work: np.ndarray) -> np.ndarray:
        """Begins moved into somebody's hours; work longer than any of them goes on the next day from where it was."""
        if not who:
            return begin
        found = np.full(len(begin), np.inf)
        longest = max((b - a for a, b in self.there[who]), default=0.0)
        need = np.minimum(work, longest)
        for a, b in self.there[who]:
            at = np.maximum(begin, a)
            found = np.where(np.isinf(found) & (at + need <= b + 1.0), at, found)
        last = self.asked.shop.end_s
        return np.where(np.isinf(found), np.maximum(begin, last), found)

    def _in_air(self, act: Act, begin: np.ndarray, need: np.ndarray) -> np.ndarray:
        """Begins moved to where the air holds for as long, hour by hour."""
        told = self.asked.limits.get(act.id)
        if told is None:
            return begin
        if act.air not in self.shut:
            self.shut[act.air] = self._runs(act.air, *told)
        runs, t_s, rows = self.shut[act.air], self.draws.t_s, np.arange(len(begin))
        for _ in range(len(t_s)):
            i = np.clip(((begin - t_s[0]) // HOUR_S).astype(int), 0, len(t_s) - 1)
            held = t_s[0] + (i + runs[rows, i]) * HOUR_S - begin
            bad = (held < need - 1.0) & (i < len(t_s) - 1)
            if not bad.any():
                return begin
            begin = np.where(bad, t_s[0] + (i + 1) * HOUR_S, begin)
        return begin

    def _runs(self, air: str, where: Journey, limits: Limits) -> np.ndarray:
        """From each hour on, for how many hours the air stays open, in every draw."""
        shut = self.weather.shut(where, limits)
        for a, b in self.asked.sky.get(air, ()):
            shut = shut | ((self.draws.t_s + HOUR_S > a) & (self.draws.t_s < b))
        runs = np.zeros(shut.shape, int)
        runs[:, -1] = np.where(shut[:, -1], 0, len(self.draws.t_s))
        for h in range(shut.shape[1] - 2, -1, -1):
            runs[:, h] = np.where(shut[:, h], 0, runs[:, h + 1] + 1)
        return runs
