"""Pots: what was poured, what is next, and how long it is good for."""

from dataclasses import dataclass, field
from functools import cached_property

from django.db.models import OuterRef, Q, Subquery

from emplastra.core.product.mixing import (
    Balance,
    Measure,
    Offer,
    PotPlan,
    Target,
    balance,
    base_stranded_share,
    life_share,
    plan_pot,
    ratios,
)
from emplastra.core.rules.face import PotTimes
from emplastra.core.surface.integral import Crossing, crossing
from emplastra.logbook.models import Entry, EntryZone, Kind
from emplastra.materials.selectors import sheet_of
from emplastra.store.services import recalls

from .dated import last_days
from .facts import load


@dataclass
class Poured:
    """One pouring: the entry, the part, what scale [g] or cup [mL] showed, and what was added."""

    entry: Entry
    part: object
    shown: float
    added: float


@dataclass
class Pour:
    """What to pour now: the part, what scale [g] or cup [mL] is to show, its band [±] and what to add."""

    part: object
    target: float
    band: float
    add: float
    is_correction: bool = False


@dataclass
class PotView:
    """A pot as its page and Bench show it."""

    entry: Entry
    sheet: object
    variant: object
    ratios: tuple
    plan: PotPlan
    poured: list[Poured]
    zones: list = field(default_factory=list)
    ended: Entry | None = None
    induction: Crossing | None = None
    life: Crossing | None = None
    complete_s: float | None = None
    last_days: dict = field(default_factory=dict)
    changed: Entry | None = None

    @property
    def ready_ml(self):
        """What is wanted of it, ready to use [mL]; None where it goes by mass."""
        return self.changed.pot_changed.ready_ml if self.changed else self.pot.ready_ml

    @property
    def ready_g(self):
        """The same [g], where no density is told."""
        return self.changed.pot_changed.ready_g if self.changed else self.pot.ready_g

    @property
    def vessel_ml(self):
        """What its vessel holds [mL]; None where nobody told."""
        return self.changed.pot_changed.vessel_ml if self.changed else self.pot.vessel_ml

    @property
    def pot(self):
        """Its details."""
        return self.entry.pot

    @property
    def measure(self):
        """How its parts are measured."""
        return Measure(self.pot.measure)

    @property
    def unit(self):
        """The unit of every amount in it."""
        return self.measure.unit

    @property
    def shown(self):
        """What the scale or the cup showed last."""
        return self.poured[-1].shown if self.poured else 0.0

    @property
    def tins(self):
        """[(part, tin)] of what was poured into it from a tin that was named, in order."""
        return [(p.part, p.entry.weighed.tin) for p in self.poured if p.entry.weighed.tin]

    @property
    def batches(self):
        """[(name, last day or None, kit, why it is recalled)] of its tins, each once, as the judge is told."""
        days = {pk: end.day for pk, end in self.last_days.items() if end}
        bad = {p.entry.weighed.tin_id: getattr(p.entry, "recalled", None) or "" for p in self.poured}
        told = [(f"{part.name} {tin.batch}", days.get(tin.pk), tin.kit, bad[tin.pk]) for part, tin in self.tins]
        return list(dict.fromkeys(told))

    @property
    def amounts(self):
        """What is in the pot by part key."""
        sums = {}
        for each in self.poured:
            sums[each.part.key] = sums.get(each.part.key, 0.0) + each.added
        return sums

    @property
    def balance(self) -> Balance:
        """Deviations, what remains, and offers."""
        return balance(self.ratios, self.amounts, self.sheet.tolerance_pct)

    @property
    def is_complete(self):
        """True if every part is in, in tolerance or accepted as it is by a coat or the clock."""
        return self.complete_s is not None

    def next_pour(self, offer="exact"):
        """What to pour now, None if the pot is complete and in tolerance."""
        found = self.balance
        if found.offers:
            chosen = found.offers[0 if offer == "exact" else 1]
            return self._correction(chosen)
        amounts, base = self.amounts, self.plan.targets[0]
        if self.changed and amounts.get(base.part.key, 0.0) * (1 + self.sheet.tolerance_pct / 100) < base.amount:
            add = base.amount - amounts.get(base.part.key, 0.0)
            return Pour(base.part, self.shown + add, base.amount * self.sheet.tolerance_pct / 100, add, bool(amounts))
        for target in self.plan.targets:
            key = target.part.key
            if key not in amounts:
                add = target.amount if not amounts else found.remaining[key]
                return Pour(target.part, self.shown + add, add * self.sheet.tolerance_pct / 100, add)
        return None

    def _correction(self, offer: Offer):
        for part in self.ratios:
            add = offer.add[part.key]
            if add > 0.05:
                return Pour(part, self.shown + add, add * self.sheet.tolerance_pct / 100, add, part.key in self.amounts)
        return None

    def times(self):
        """Usable from, dead at [epoch s], for verdicts."""
        usable = self.induction.t_s if self.induction else self.complete_s
        return PotTimes(usable, self.life.t_s if self.life else None)

    @cached_property
    def half_s(self):
        """When half of its life is over [epoch s]; None where none is told, or it never comes."""
        life = self.life
        return crossing(life.where, life.table, life.since_s, life.target / 2).t_s if life else None

    def status(self, t_s):
        """pouring, inducting, usable, dead or ended at a moment [epoch s]."""
        times = self.times()
        if self.ended:
            return "ended"
        if times.dead_s is not None and t_s >= times.dead_s:
            return "dead"
        if not self.is_complete:
            return "pouring"
        return "inducting" if times.usable_s is not None and t_s < times.usable_s else "usable"

    def can_coat(self, t_s):
        """True if a coat can be logged from it: complete and not ended (a dead one gets its verdict)."""
        return self.is_complete and self.ended is None and self.status(t_s) != "dead"

    @property
    def mixed_ml(self):
        """Unthinned volume in the pot [mL]; None where no density is told."""
        return self._volume(self.amounts, [p for p in self.ratios if p.role != "thinner"])

    @property
    def density(self):
        """Of what is in it [g/mL]; None where it goes by a cup, or no density is told."""
        held = self.held_ml
        return sum(self.amounts.values()) / held if held and self.measure is Measure.SCALE else None

    @property
    def held_ml(self):
        """All that was poured into it [mL], thinner too; None where no density is told."""
        return self._volume(self.amounts, self.ratios)

    @property
    def most_ml(self):
        """The most that stands in one vessel [mL], wanted or poured; of a mass without a density, as water."""
        return max(self.ready_ml or self.ready_g, self.mixed_ml or 0.0)

    def _volume(self, amounts, parts):
        """Volume of amounts by part key [mL], None where a density is not told."""
        if any(p.density_g_ml is None for p in parts):
            return None
        return sum(amounts.get(p.key, 0.0) / p.density_g_ml for p in parts)

    def volume_with(self, offer):
        """Volume of the pot after an offer [mL], None where no density is told."""
        after = {key: self.amounts.get(key, 0.0) + add for key, add in offer.add.items()}
        return self._volume(after, self.ratios)

    @property
    def offers(self):
        """(offer, what to add in words, volume after it [mL], True if it does not fit the vessel named)."""
        found = []
        for offer in self.balance.offers:
            told = [(offer.add[p.key], p.name) for p in self.ratios if offer.add[p.key] > 0.05]
            ml, holds = self.volume_with(offer), self.vessel_ml
            adds = ", ".join(f"+{add:.1f} {self.unit} {name}" for add, name in told)
            found.append((offer, adds, ml, holds is not None and ml is not None and ml > holds))
        return found

    @property
    def shortfall_ml(self):
        """How much less than wanted a complete pot gives [mL]; 0 within 2 %, or where no density is told."""
        made, wanted = self._volume(self.amounts, self.ratios), self.ready_ml
        short = self.is_complete and made is not None and wanted is not None and made < 0.98 * wanted
        return wanted - made if short else 0.0

    def stranded_share(self):
        """Share of the base left in its tin if every pot got this much hardener; 0 if none is over."""
        over = [
            d.pct / 100 for d in self.balance.deviations for p in self.ratios if p.key == d.key and p.role == "hardener"
        ]
        return max([base_stranded_share(x) for x in over if x > 0.005], default=0.0)

    def target_of(self, key) -> Target:
        """The first plan's target for a part."""
        return next(t for t in self.plan.targets if t.part.key == key)


def ratios_of(sheet, variant, thinner_pct, measure=Measure.SCALE):
    """Parts in pouring order with ratios as scale or cup shows them, or Unknown. Raises ValueError for no thinner."""
    by = variant.by if variant else "volume"
    return ratios(sheet.parts(variant), by, thinner_pct, sheet.thinner(), measure)


def view(entry, weighings, where=None, ended=None, zones=(), changed=None):
    """A PotView from a pot's entry, its weighings in order, and the way of the zone whose air it stands in."""
    sheet = sheet_of(entry.pot.revision)
    variant = sheet.variant(entry.pot.variant)
    measure = Measure(entry.pot.measure)
    mix = ratios_of(sheet, variant, entry.pot.thinner_pct, measure)
    parts = {p.key: p for p in mix}
    poured, before = [], 0.0
    for each in weighings:
        shown = each.weighed.shown
        poured.append(Poured(each, parts[each.weighed.part], shown, shown - before))
        before = shown
    wanted = changed.pot_changed if changed else entry.pot
    plan = plan_pot(mix, wanted.ready_ml or wanted.ready_g, entry.pot.diameter_mm, measure, wanted.ready_ml is None)
    pot = PotView(entry, sheet, variant, mix, plan, poured, list(zones), ended, changed=changed)
    _run(pot, where)
    return pot


def _run(pot, where):
    """Start the pot's clocks: life from the first hardener, induction from the last part in; by the air of the place,
    for a pot is no casting.
    """
    hardened = [p.entry.ended.timestamp() for p in pot.poured if p.part.role == "hardener"]
    if {p.key for p in pot.ratios} <= set(pot.amounts):
        pot.complete_s = max(p.entry.ended.timestamp() for p in pot.poured)
    if where is None:
        return
    if hardened and pot.sheet.pot_life:
        share = life_share(pot.most_ml, pot.sheet.pot_life_ml)
        pot.life = crossing(where.of_air, pot.sheet.pot_life, hardened[0], share)
    if pot.complete_s is not None and pot.sheet.induction:
        pot.induction = crossing(where.of_air, pot.sheet.induction, pot.complete_s)


def live_pots(zone_ids, facts):
    """{zone id: PotViews that have not ended}, in one query, two more if there are any: those of years are not read."""
    ended = Entry.objects.known_at().filter(kind=Kind.POT_ENDED).values("pot_ended__pot")
    rows = EntryZone.objects.filter(zone__in=zone_ids, entry__kind=Kind.POT, entry__replaced_by__isnull=True)
    rows = rows.exclude(entry__in=ended).select_related("entry__pot__revision__product", "zone")
    by_entry = {}
    for row in rows:
        by_entry.setdefault(row.entry_id, (row.entry, []))[1].append(row.zone)
    if not by_entry:
        return {}
    found = {}
    for pot in views(
        {key: entry for key, (entry, _) in by_entry.items()}, facts, {k: z for k, (_, z) in by_entry.items()}
    ):
        for zone in pot.zones:
            found.setdefault(zone.pk, []).append(pot)
    return found


def each_once(found):
    """Pots by zone as live_pots gives them, each once."""
    return list({pot.entry.pk: pot for pots in found.values() for pot in pots}.values())


def views(entries, facts, zones):
    """PotViews of these pot entries {id: entry}; zones {id: [Zone]} whose places' air they stand in, in view or not."""
    beside = {zone.pk: zone for each in zones.values() for zone in each[:1] if zone.pk not in facts.zones}
    known = {**facts.zones, **(load(beside.values(), whole=True).zones if beside else {})}
    endings, changes, weighings = _told_of(entries)
    found = []
    for key, entry in entries.items():
        first = zones.get(key, [None])[0]
        each = known.get(first.pk) if first else None
        told = (endings.get(key), zones.get(key, []), changes.get(key))
        found.append(view(entry, weighings.get(key, []), each.where if each else None, *told))
    _date(found, facts.workshop.zone)
    return found


def _told_of(entries):
    """({pot id: its end}, {pot id: the last change}, {pot id: weighings in order}), in two queries."""
    live = Entry.objects.known_at()
    told = live.filter(Q(pot_ended__pot__in=entries) | Q(pot_changed__pot__in=entries))
    endings, changes, weighings = {}, {}, {}
    for each in told.select_related("pot_ended", "pot_changed").order_by("ended", "id"):
        if each.kind == Kind.POT_ENDED:
            endings[each.pot_ended.pot_id] = each
        else:
            changes[each.pot_changed.pot_id] = each
    rows = live.filter(weighed__pot__in=entries).annotate(recalled=Subquery(_why_recalled()))
    rows = rows.select_related("weighed__tin").order_by("ended", "id")
    for each in rows:
        weighings.setdefault(each.weighed.pot_id, []).append(each)
    return endings, changes, weighings


def _why_recalled():
    """Why the batch of a weighing's tin is recalled, as a subquery."""
    tin = "weighed__tin__"
    same = {"product": OuterRef(f"{tin}product"), "part": OuterRef(f"{tin}part"), "batch": OuterRef(f"{tin}batch")}
    return recalls().filter(**same).values("why")[:1]


def _date(pots, zone):
    """Tell pots until when their tins may be used."""
    tins = [(tin, pot.sheet) for pot in pots for _, tin in pot.tins]
    days = last_days(tins, zone)
    for pot in pots:
        pot.last_days = days
