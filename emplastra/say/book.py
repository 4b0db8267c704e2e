"""The book of a request: states with what is said of them, their order on Bench, and the air band."""

from dataclasses import dataclass
from functools import cached_property

from emplastra.core.rules.registry import Aspect
from emplastra.core.surface.names import Runs, Status
from emplastra.core.surface.steps import STEPS
from emplastra.core.words import celsius_q
from emplastra.core.working import Basis
from emplastra.state import book
from emplastra.state.acts import burnt_step
from emplastra.state.ruling import Rulings
from emplastra.state.selectors import plan_at, surface_now

from .acts import Spoken, bench_order, fill_acts, keep_place_in_order, next_label
from .hours import moment as moment_of
from .metal import metal_of
from .rulings import headline


@dataclass
class Band:
    """What the air band shows; None where there is nothing to show."""

    place: object
    moment: object
    coldest: object
    row: object
    last_s: float | None
    last_typed: bool
    verdict: str
    detail: str
    good: bool | None
    basis: Basis


class Book(book.Book):
    """States of the open zones, and of the zone in view, with what Bench says of them."""

    state_class = Spoken
    _order = None

    @cached_property
    def rulings(self):
        """What the one judge says of acts on the zones of this book."""
        return Rulings(self.facts, list(self.facts.zones))

    def _complete(self, made):
        super()._complete(made)
        fill_acts(made, self.facts)
        for state in made:
            state.rulings = lambda: self.rulings

    def bench(self):
        """States of all open zones in the order of Bench."""
        return sorted(self.states(), key=bench_order)

    def order(self):
        """[(group, act-by [epoch s], zone id)] of all open zones in the order of Bench.

        A zone's place is kept until its next clock turns, ten minutes at most, so that a large
        workshop does not fold every zone to show thirty.
        """
        if self._order is None:
            parents = {each.zone.parent_id for each in self.facts.zones.values()}
            t_s = self.facts.now.timestamp()
            kept = {pk: self.facts.zones[pk].place_in_order(t_s) for pk in self.open_ids if pk not in parents}
            todo = [pk for pk in self.open_ids if kept.get(pk) is None]
            for state in self.states(todo):
                kept[state.zone.pk] = keep_place_in_order(state)
            self._order = sorted((*kept[pk], pk) for pk in self.open_ids)
        return self._order

    def in_order(self, fits, most=None):
        """(states of the open zones whose facts fit, in the order of Bench, at most so many; how many fit)."""
        ids = [pk for _, _, pk in self.order() if fits(self.facts.zones[pk])]
        return self.states(ids[:most]), len(ids)

    def band(self, zone=None):
        """The air band for the zone in view (None: Bench's first row): its place, coldest zone, verdict."""
        ids = [zone.pk] if zone is not None else [pk for _, _, pk in self.order()]
        known = {pk: self.facts.zones[pk] for pk in ids}
        ids = [pk for pk, each in known.items() if each.where is not None and each.revision is not None]
        if not ids:
            return None
        t_s = self.facts.now.timestamp()
        row = self._to_coat(ids, t_s, zone is not None) or self.states([ids[0]])[0]
        place = row.facts.place
        coldest = self._coldest(place, row)
        moment = row.facts.where.at(self.facts.now.timestamp())
        air = self.facts.airs[place.pk]
        return Band(place, moment, coldest, row, air.last_s, air.last_typed, *_verdict(row, moment), moment.basis)

    def _to_coat(self, ids, t_s, any_row):
        """State of the first of these zones that is to be coated; of any_row that whose own act comes next, for a row
        that leads to its spot is spoken for by the spot's own.
        """
        for pk in ids:
            each = self.facts.zones[pk]
            if plan_at(each, t_s).next_layer and each.is_free(t_s):
                row = self.states([pk])[0]
                if any_row or row.act.gated:
                    return row
        return None

    def _coldest(self, place, row):
        """State of the open zone whose metal is coldest at a place; `row` is one of them."""
        t_s, zones = self.facts.now.timestamp(), self.facts.zones
        there = [zones[pk] for pk in self.open_ids if zones[pk].place == place and zones[pk].revision is not None]
        coldest = min([row.facts, *there], key=lambda each: surface_now(each, self.facts, t_s).temp_c)
        return row if coldest is row.facts else self.states([coldest.zone.pk])[0]


def _verdict(row, moment):
    """(headline, detail, good or None): the ruling of the one judge on the row's next act, or what holds it up."""
    if row.surface.away_s is not None:
        return "Away", f"{row.zone.name}: its clocks are suspended", None
    if row.surface.treatment is not None:
        return "Keep it wet", f"{row.zone.name}, {row.surface.treatment.product}", None
    drying = row.surface.clock(Runs.DRY_OFF)
    if drying is not None and drying.status == Status.WAITING:
        return "Still drying", f"{row.zone.name}, until {moment_of(drying.opens_s, row.all)}", None
    ruled = row.ruled
    if ruled is None or not ruled.ruling.concerned:
        return "Nothing to coat", row.zone.name, None
    name = STEPS[ruled.ruling.act.kind].name if burnt_step(row) else next_label(row)
    what = f"{name}, {row.zone.name}"
    if ruled.word in {"stops", "warns"}:
        return _grave(ruled, row, what)
    if moment.basis is Basis.ASSUMED:
        return "Air not logged", f"{what}: assumed {celsius_q(moment.air_c, digits=0)}, {moment.rh_pct:.0f} %", None
    metal = metal_of(row) if Aspect.AIR in ruled.ruling.concerned else None
    fit = f"; fit {metal.fit}" if metal is not None else ""
    return headline(ruled), f"{what}{fit}", True


def _grave(ruled, row, what):
    """The headline of a ruling that stops or warns, and when the air is fit again."""
    first = ruled.open[0]
    later = ""
    if first.aspect == Aspect.AIR:
        metal = metal_of(row)
        if metal.ahead.fit and metal.ahead.fit[0][0] > row.surface.t_s:
            later = f" Fit {metal.fit}."
    return headline(ruled), f"{what}: {first.sentence}{later}", False if ruled.word == "stops" else None


def book_of(request, zone=None, more=()):
    """The request's Book, made once; `zone` is the zone in view, `more` zones that may not be open."""
    if not hasattr(request, "book"):
        request.book = Book(zone, more=more)
        request.zone_in_view = zone
        request.workshop = request.book.facts.workshop
    return request.book


def book_of_job(request, job):
    """The request's Book, with all zones of a job even where it is closed."""
    return book_of(request, None, () if job.filing == "open" else job.zones.in_use())
