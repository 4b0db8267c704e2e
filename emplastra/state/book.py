"""All zones in view with one load: every state a page asks for comes from here."""

from dataclasses import dataclass

from emplastra.core.steps import STAGES
from emplastra.core.working import Basis

from .acts import bench_order, fill_acts
from .facts import load
from .metal import metal_of
from .selectors import open_zones, plan_at, state_of


@dataclass
class Band:
    """What the air band shows; None where there is nothing to show."""

    place: object
    moment: object
    coldest: object
    row: object
    last_s: float | None
    verdict: str
    detail: str
    good: bool | None
    basis: Basis


class Book:
    """States of the open zones, and of the zone in view, each worked out once."""

    def __init__(self, extra=None, known_at=None):
        zones = {zone.pk: zone for zone in open_zones()}
        if extra is not None:
            zones.setdefault(extra.pk, extra)
        self.open_ids = {pk for pk, zone in zones.items() if zone.job.filing == "open"}
        self.facts = load(zones.values(), known_at)
        self._states = {}

    def states(self, ids=None):
        """States of these zones (None: all open), with their acts."""
        ids = list(self.open_ids if ids is None else ids)
        wanted = set(ids)
        spots = [pk for pk, each in self.facts.zones.items() if each.zone.parent_id in wanted and pk not in wanted]
        fresh = [pk for pk in [*ids, *spots] if pk not in self._states]
        t_s = self.facts.now.timestamp()
        made = [state_of(self.facts.zones[pk], self.facts, t_s) for pk in fresh]
        self._states.update({state.zone.pk: state for state in fill_acts(made, self.facts)})
        return [self._states[pk] for pk in ids]

    def state(self, zone):
        """State of one zone."""
        return self.states([zone.pk])[0]

    def bench(self):
        """States of all open zones in the order of Bench."""
        return sorted(self.states(), key=bench_order)

    def stages(self):
        """[(stage, how many open zones stand in it)] in the order of the route."""
        t_s = self.facts.now.timestamp()
        counts = dict.fromkeys(STAGES, 0)
        for pk in self.open_ids:
            each = self.facts.zones[pk]
            counts[plan_at(each, t_s).stage if each.steps else "Survey"] += 1
        return list(counts.items())

    def stage_of(self, state):
        """Stage at which a zone stands; one without a plan waits for its survey."""
        return state.plan.stage if state.facts.steps else "Survey"

    def band(self, zone=None):
        """The air band for the zone in view (None: Bench's first row): its place, coldest zone, verdict."""
        ids = [zone.pk] if zone is not None else list(self.facts.zones)
        rows = sorted(self.states(ids), key=bench_order) if ids else []
        rows = [row for row in rows if row.facts.where is not None and row.facts.revision is not None]
        if not rows:
            return None
        row = next((r for r in rows if r.toward), rows[0])
        place = row.facts.place
        there = [r for r in self.states(self.open_ids) if r.facts.place == place and r.now]
        coldest = min([*there, row], key=lambda r: r.now.temp_c)
        moment = row.facts.where.at(self.facts.now.timestamp())
        return Band(place, moment, coldest, row, self.facts.airs[place.pk].last_s, *_verdict(row, moment), moment.basis)


def _verdict(row, moment):
    """(headline, detail, good or None): the same gate that the row's sentence uses."""
    what = row.toward.product if row.toward else "no coat planned"
    if row.toward is None:
        return "Nothing to coat", row.zone.name, None
    if moment.basis is Basis.ASSUMED:
        return "Air not logged", f"{what}: assumed {moment.air_c:.0f} °C, {moment.rh_pct:.0f} %", None
    metal = metal_of(row)
    if row.gate.is_open:
        return "Fit to coat", f"{what}, {row.zone.name}, {metal.fit}", True
    later = f"; fit {metal.fit}" if metal.ahead.fit and metal.ahead.fit[0][0] > row.surface.t_s else ""
    return "Do not coat", f"{what}: {row.gate.breaches[0].sentence}{later}", False


def book_of(request, zone=None):
    """The request's Book, made once; `zone` is the zone in view."""
    if not hasattr(request, "book"):
        request.book = Book(zone)
        request.zone_in_view = zone
    return request.book
