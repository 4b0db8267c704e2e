"""Money by job: hours worked and to come, paint used and to come, what was paid, as a range."""

from collections import defaultdict
from dataclasses import dataclass, field

from emplastra.core.buying.bill import price_per_ml
from emplastra.core.metal.hours import hours_by
from emplastra.core.metal.repair import NOTHING, WORK, Range
from emplastra.core.schedule.durations import kind_of
from emplastra.core.schedule.faces import walk
from emplastra.jobs import days as told
from emplastra.jobs import estimates
from emplastra.logbook.models import Entry, EntryZone, Kind, holds

from .days import gathered
from .needs import bills_of
from .pots import views
from .stints import stints_of


@dataclass
class Work:
    """One kind of work of a job: hours as the log tells them, and those to come with their range [h]."""

    kind: str
    done_h: float = 0.0
    to_come: Range = NOTHING

    @property
    def name(self):
        """It in words."""
        return WORK.get(self.kind, "Other work")


@dataclass
class Money:
    """What a job comes to [money]: hours by kind of work, paint used and to come, what was paid and is to be; unpriced:
    products of which no price is told.
    """

    rate: float
    work: list = field(default_factory=list)
    used: float = 0.0
    to_use: float = 0.0
    paid: list = field(default_factory=list)
    unpriced: list = field(default_factory=list)

    @property
    def done_h(self):
        """Hours that the log tells [h]."""
        return sum(row.done_h for row in self.work)

    @property
    def to_come_h(self):
        """Hours to come [h]."""
        return sum((row.to_come for row in self.work), NOTHING)

    @property
    def paid_sum(self):
        """What was paid."""
        return sum(row.amount for row in self.paid if not row.still)

    @property
    def owed(self):
        """What is still to be paid."""
        return sum(row.amount for row in self.paid if row.still)

    @property
    def so_far(self):
        """What it has come to."""
        return self.done_h * self.rate + self.used + self.paid_sum

    @property
    def to_come(self):
        """What is still to come."""
        return self.to_come_h.times(self.rate).plus(self.to_use + self.owed)

    @property
    def whole(self):
        """What it comes to in the end."""
        return self.to_come.plus(self.so_far)


def money_of(book, job):
    """The Money of a job."""
    facts, states = book.facts, book.states([zone.pk for zone in book.zones_of(job)])
    found = Money(facts.workshop.hourly_rate, paid=told.paid_for(job))
    found.work = _work(book, job, states)
    found.used, missing = _used(facts, states)
    bills = [bill for _, bill in bills_of(facts, [s.facts for s in states])]
    found.to_use = float(sum(bill.cost for bill in bills))
    found.unpriced = sorted({*missing, *(name for bill in bills for name in bill.unpriced)})
    return found


def _work(book, job, states):
    """[Work] by kind of work, what is done and what is to come."""
    rows, asked = defaultdict(lambda: Work("")), gathered(book)
    for (_, kind), hours in hours_by(stints_of(states)).items():
        rows[kind].done_h += hours
    acts = [met.act for face in asked.days.faces if face.job == str(job.pk) for met in walk(face)]
    acts += [act for act in asked.days.more if act.job == str(job.pk)]
    factors = estimates.factors()
    for act in (a for a in acts if a.hands):
        kind = kind_of(act)
        rows[kind].to_come = rows[kind].to_come + _range(act.work_s / 3600, factors.get(kind))
    for kind, row in rows.items():
        row.kind = kind
    order = [*WORK, ""]
    return sorted(rows.values(), key=lambda row: order.index(row.kind) if row.kind in order else len(order))


def _range(hours, factor):
    """Hours planned with their overrun [h], and how far they may go either way."""
    if factor is None:
        return Range(hours, hours, hours)
    return Range(hours * factor.low / factor.mid, hours, hours * factor.high / factor.mid)


def _used(facts, states):
    """(what the paint costs that was poured for zones, products of which no price is told); a pot shared with other
    jobs counts by how many of its zones are of this one.
    """
    mine = {s.zone.pk for s in states}
    total, missing = 0.0, set()
    for pot in _pots(facts, mine):
        share = sum(zone.pk in mine for zone in pot.zones) / max(1, len(pot.zones))
        for key, amount in pot.amounts.items():
            cost = _cost(pot, key, amount)
            total += share * (cost or 0.0)
            if cost is None:
                missing.add(pot.sheet.product)
    return total, missing


def _cost(pot, key, amount):
    """What an amount of a part of a pot costs, None where no price or density is told."""
    part, per_ml = pot.sheet.component(key), price_per_ml(pot.sheet, key)
    if per_ml is None or (pot.unit != "mL" and not part.density_g_ml):
        return None
    return float(per_ml) * (amount if pot.unit == "mL" else amount / part.density_g_ml)


def _pots(facts, mine):
    """PotViews of all pots that were ever mixed for these zones (ids)."""
    rows = EntryZone.objects.filter(holds(None, "entry__"), zone__in=mine, entry__kind=Kind.POT)
    pots, zones = set(rows.values_list("entry_id", flat=True)), defaultdict(list)
    for row in EntryZone.objects.filter(entry__in=pots).select_related("zone__job"):
        zones[row.entry_id].append(row.zone)
    entries = {e.pk: e for e in Entry.objects.filter(pk__in=pots).select_related("pot__revision__product")}
    return views(entries, facts, {key: zones[key] for key in entries}) if entries else []
