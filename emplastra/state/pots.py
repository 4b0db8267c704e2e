"""Pots: what was poured, what is next, and how long it is good for."""

from dataclasses import dataclass, field

from emplastra.core.product.mixing import (
    Balance,
    Offer,
    PotPlan,
    Target,
    balance,
    base_stranded_share,
    life_share,
    mass_ratios,
    plan_pot,
)
from emplastra.core.rules.face import PotTimes
from emplastra.core.surface.integral import Crossing, crossing
from emplastra.logbook.models import Entry, EntryZone, Kind
from emplastra.materials.selectors import sheet_of


@dataclass
class Poured:
    """One weighing: the entry, the part, what the scale showed [g] and what was added [g]."""

    entry: Entry
    part: object
    scale_g: float
    added_g: float


@dataclass
class Pour:
    """What to pour now: the part, the scale's target [g], its band [± g] and the mass to add [g]."""

    part: object
    target_g: float
    band_g: float
    add_g: float
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

    @property
    def pot(self):
        """Its details."""
        return self.entry.pot

    @property
    def scale_g(self):
        """What the scale showed last [g]."""
        return self.poured[-1].scale_g if self.poured else 0.0

    @property
    def masses(self):
        """Mass in the pot by part key [g]."""
        sums = {}
        for each in self.poured:
            sums[each.part.key] = sums.get(each.part.key, 0.0) + each.added_g
        return sums

    @property
    def balance(self) -> Balance:
        """Deviations, what remains, and offers."""
        return balance(self.ratios, self.masses, self.sheet.tolerance_pct)

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
        masses = self.masses
        for target in self.plan.targets:
            key = target.part.key
            if key not in masses:
                add = target.mass_g if not masses else found.remaining_g[key]
                return Pour(target.part, self.scale_g + add, add * self.sheet.tolerance_pct / 100, add)
        return None

    def _correction(self, offer: Offer):
        for part in self.ratios:
            add = offer.add_g[part.key]
            if add > 0.05:
                return Pour(
                    part, self.scale_g + add, add * self.sheet.tolerance_pct / 100, add, part.key in self.masses
                )
        return None

    def times(self):
        """Usable from, dead at [epoch s], for verdicts."""
        usable = self.induction.t_s if self.induction else self.complete_s
        return PotTimes(usable, self.life.t_s if self.life else None)

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
        """Unthinned volume in the pot [mL]."""
        return sum(self.masses.get(p.key, 0.0) / p.density_g_ml for p in self.ratios if p.role != "thinner")

    def volume_with(self, offer):
        """Volume of the pot after an offer [mL]."""
        return sum((self.masses.get(p.key, 0.0) + offer.add_g[p.key]) / p.density_g_ml for p in self.ratios)

    @property
    def offers(self):
        """(offer, what to add in words, volume after it [mL], True if it does not fit the vessel named)."""
        found = []
        for offer in self.balance.offers:
            adds = ", ".join(f"+{offer.add_g[p.key]:.1f} g {p.name}" for p in self.ratios if offer.add_g[p.key] > 0.05)
            ml = self.volume_with(offer)
            found.append((offer, adds, ml, self.pot.vessel_ml is not None and ml > self.pot.vessel_ml))
        return found

    @property
    def shortfall_ml(self):
        """How much less than wanted a complete pot gives [mL]; 0 within 2 %."""
        made = sum(self.masses.get(p.key, 0.0) / p.density_g_ml for p in self.ratios)
        return self.pot.ready_ml - made if self.is_complete and made < 0.98 * self.pot.ready_ml else 0.0

    def stranded_share(self):
        """Share of the base left in its tin if every pot got this much hardener; 0 if none is over."""
        over = [
            d.pct / 100 for d in self.balance.deviations for p in self.ratios if p.key == d.key and p.role == "hardener"
        ]
        return max([base_stranded_share(x) for x in over if x > 0.005], default=0.0)

    def target_of(self, key) -> Target:
        """The first plan's target for a part."""
        return next(t for t in self.plan.targets if t.part.key == key)


def ratios_of(sheet, variant, thinner_pct):
    """Parts with mass ratios in pouring order."""
    by = variant.by if variant else "volume"
    return mass_ratios(sheet.parts(variant), by, thinner_pct, sheet.thinner())


def view(entry, weighings, where=None, ended=None, zones=()):
    """A PotView from a pot's entry, its weighings in order, and the way of the zone whose air it stands in."""
    sheet = sheet_of(entry.pot.revision)
    variant = sheet.variant(entry.pot.variant)
    ratios = ratios_of(sheet, variant, entry.pot.thinner_pct)
    parts = {p.key: p for p in ratios}
    poured, before = [], 0.0
    for each in weighings:
        scale = each.weighed.scale_g
        poured.append(Poured(each, parts[each.weighed.part], scale, scale - before))
        before = scale
    plan = plan_pot(ratios, entry.pot.ready_ml, entry.pot.diameter_mm)
    pot = PotView(entry, sheet, variant, ratios, plan, poured, list(zones), ended)
    _run(pot, where)
    return pot


def _run(pot, where):
    """Start the pot's clocks: life from the first hardener, induction from the last part in; by the air of the place,
    for a pot is no casting.
    """
    hardened = [p.entry.ended.timestamp() for p in pot.poured if p.part.role == "hardener"]
    if {p.key for p in pot.ratios} <= set(pot.masses):
        pot.complete_s = max(p.entry.ended.timestamp() for p in pot.poured)
    if where is None:
        return
    if hardened and pot.sheet.pot_life:
        share = life_share(max(pot.entry.pot.ready_ml, pot.mixed_ml), pot.sheet.pot_life_ml)
        pot.life = crossing(where.of_air, pot.sheet.pot_life, hardened[0], share)
    if pot.complete_s is not None and pot.sheet.induction:
        pot.induction = crossing(where.of_air, pot.sheet.induction, pot.complete_s)


def live_pots(zone_ids, facts):
    """{zone id: PotViews that have not ended}, in two queries and two more if there are any."""
    rows = list(
        EntryZone.objects.filter(
            zone__in=zone_ids, entry__kind=Kind.POT, entry__replaced_by__isnull=True
        ).select_related("entry__pot__revision__product", "zone")
    )
    by_entry = {}
    for row in rows:
        by_entry.setdefault(row.entry_id, (row.entry, []))[1].append(row.zone)
    if not by_entry:
        return {}
    found = {}
    for pot in views(
        {key: entry for key, (entry, _) in by_entry.items()}, facts, {k: z for k, (_, z) in by_entry.items()}
    ):
        if pot.ended is None:
            for zone in pot.zones:
                found.setdefault(zone.pk, []).append(pot)
    return found


def views(entries, facts, zones):
    """PotViews of these pot entries {id: entry}; zones {id: [Zone]} whose places' air they stand in."""
    live = Entry.objects.known_at()
    endings = {e.pot_ended.pot_id: e for e in live.filter(pot_ended__pot__in=entries).select_related("pot_ended")}
    weighings = {}
    rows = live.filter(weighed__pot__in=entries).select_related("weighed__tin").order_by("ended", "id")
    for each in rows:
        weighings.setdefault(each.weighed.pot_id, []).append(each)
    for key, entry in entries.items():
        first = zones.get(key, [None])[0]
        each = facts.zones.get(first.pk) if first else None
        yield view(entry, weighings.get(key, []), each.where if each else None, endings.get(key), zones.get(key, []))
