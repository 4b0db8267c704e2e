"""How sure a plan of days is: it is replayed over many plausible weathers, and hours that run over as they do here."""

from dataclasses import asdict, dataclass, field
from datetime import datetime, time, timedelta

import numpy as np

from emplastra.climate.live import errors_of
from emplastra.core.air.forecast import UNPROVEN_K
from emplastra.core.schedule import draws as core
from emplastra.core.schedule.durations import kind_of
from emplastra.core.schedule.work import DAY_S
from emplastra.jobs import estimates

ASSUMED_K = 2.0
"""Spread of air that nobody forecast, round the day that is taken for it [K]. Common practice, no source."""
HEAT_K = 5.0
"""What a heater is tried with [K]."""
PAST_S = 6 * DAY_S
"""How far past the plan's end is looked [s]."""
WORTH = 0.02
"""Below this share of draws nothing is said of a window's risk."""


@dataclass
class Risk:
    """What came of the draws: the share in which every window is kept; by job when it is ready in 1, 5 and 9 of 10
    draws [epoch s], how often its promise is kept, and with a day more; by act how often its window is missed;
    by day the hours that 9 of 10 draws stay under [h]; heater: (place, share with every window kept if it is warmed).
    """

    count: int
    all_kept: float
    ends: dict = field(default_factory=dict)
    kept: dict = field(default_factory=dict)
    slack: dict = field(default_factory=dict)
    missed: dict = field(default_factory=dict)
    hours: dict = field(default_factory=dict)
    heater: tuple | None = None
    proven: bool = False


def risk_of(book, asked, found, count, seed=1):
    """The Risk of a plan (the core's Found of what was Gathered), None where there is none."""
    if found.plan is None or not found.shop.acts:
        return None
    return _Risked(book, asked, found, count, seed).made()


class _Risked:
    """One risk in the making."""

    def __init__(self, book, asked, found, count, seed):
        self.book, self.asked, self.found, self.count, self.seed = book, asked, found, count, seed
        self.facts, shop = book.facts, found.shop
        last_s = max((row.end_s for row in found.plan.placed.values()), default=shop.start_s)
        self.t_s = np.arange(shop.start_s, min(shop.end_s, last_s) + PAST_S, core.HOUR_S)
        self.faces = {face.key: face for face in asked.days.faces}
        self.proven = False

    def made(self):
        places = {air.place.name: self._draws(air, k) for k, air in enumerate(self.facts.airs.values())}
        some = next(iter(places.values()), None) or self._plain(0)
        asked = self._asked(places)
        played = core.replay(asked, some)
        return self._told(played, places, asked, some)

    def _plain(self, k):
        return core.drawn(self.t_s, np.array([]), np.array([]), self.count, UNPROVEN_K, self.seed + k)

    def _draws(self, air, k):
        """Draws of a place: its forecast's own past errors; what nobody forecast varies besides."""
        past = errors_of(air, self.facts.now, self.facts.workshop.zone)
        self.proven |= len(past[0]) >= 48
        made = core.drawn(self.t_s, *past, self.count, UNPROVEN_K, self.seed + k)
        until = air.forecast.last_s if air.forecast else self.t_s[0]
        more = core.drawn(self.t_s, np.array([]), np.array([]), self.count, ASSUMED_K, self.seed + 50 + k)
        late = self.t_s > until
        return core.Draws(self.t_s, made.air_k + late * more.air_k, made.dew_k + late * more.dew_k, self.seed + k)

    def _asked(self, places):
        found, sheets = self.found, self.facts.sheets
        limits, sky, after, kinds = {}, {}, {}, {}
        for act in found.shop.acts:
            kinds[act.id] = kind_of(act)
            product = act.air.rpartition("|")[2]
            if act.air and product in sheets:
                where = self.faces[act.face].setting.where
                limits[act.id] = (where, sheets[product].held_limits)
                if self._is_out(act):
                    sky[act.air] = found.shop.closed.get(act.air, ())
        for wait in found.waits:
            after.setdefault(wait.after, []).append(wait.before)
        hands = core.Hands(estimates.factors(), kinds)
        return core.Asked(found.shop, found.plan, found.mets, limits, after, hands, sky, places)

    def _is_out(self, act):
        return self.facts.is_out(self.facts.zones[int(act.face)].place)

    def _told(self, played, places, asked, some):
        shop, found = self.found.shop, Risk(self.count, played.all_kept, proven=self.proven)
        for job, ends in played.job_ends(shop).items():
            found.ends[job] = [float(np.quantile(ends, q)) for q in (0.1, 0.5, 0.9)]
            if job in shop.due:
                found.kept[job] = float((ends <= shop.due[job]).mean())
                found.slack[job] = float((ends <= shop.due[job] + DAY_S).mean())
        found.missed = {act: float(rows.mean()) for act, rows in played.missed.items() if rows.mean() >= WORTH}
        days, edges = self._edges()
        rows = np.quantile(played.hours_on(shop, edges), 0.9, axis=1)
        found.hours = {day.isoformat(): float(h) for day, h in zip(days, rows, strict=True) if h > 0}
        act, share = played.riskiest()
        if share >= WORTH:
            found.heater = self._heater(act, places, asked, some)
        return asdict(found)

    def _heater(self, act, places, asked, some):
        """(place, share with every window kept) with the place of an act warmed at constant moisture."""
        where = self.facts.zones[int(self.found.shop.by_id[act].face)].place
        if where is None or where.name not in places:
            return None
        old = places[where.name]
        warm = core.Draws(old.t_s, old.air_k + HEAT_K, old.dew_k, old.seed)
        changed = places | {where.name: warm}
        base = warm if some is old else some
        again = core.replay(core.Asked(**{**vars(asked), "places": changed}), base)
        return (where.name, again.all_kept)

    def _edges(self):
        """(days, their midnights [epoch s], one more than days) of the shop's stretch."""
        zone, shop = self.facts.workshop.zone, self.found.shop
        first = datetime.fromtimestamp(shop.start_s, zone).date()
        last = datetime.fromtimestamp(shop.end_s, zone).date()
        days = [first + timedelta(days=k) for k in range((last - first).days + 1)]
        at = [datetime.combine(day, time(0), tzinfo=zone).timestamp() for day in [*days, days[-1] + timedelta(days=1)]]
        return days, np.array(at)
