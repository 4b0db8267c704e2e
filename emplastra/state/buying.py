"""What is to be bought: what the open work takes, less what stands in the store and may still be used."""

from collections import defaultdict
from dataclasses import dataclass, field
from fractions import Fraction

from django.db.models import Q

from emplastra.core.buying.bill import price_per_ml, sum_of
from emplastra.core.buying.order import Aim, kits_of, order, order_kits, sizes_of
from emplastra.core.product.asks import KINDS
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.selectors import sheet_of
from emplastra.store.models import Tin

from .pots import views
from .tins import tin_views, today


@dataclass
class Line:
    """One part that the open work takes: how much, what of it stands usable in the store, what is kept of that, what is
    still wanted [mL], and what to buy for it: an Order, or kits [(Kit, how many)]; unknown: tins of unknown content.
    """

    product: str
    part: object
    need_ml: float
    stock_ml: float = 0.0
    kept_ml: float = 0.0
    unknown: int = 0
    order: object = None
    kits: list = field(default_factory=list)

    @property
    def is_exact(self):
        """True if nothing better can be bought, as far as it was looked for."""
        return self.order is None or self.order.exact

    @property
    def wanted_ml(self):
        """What is to be bought at least [mL]."""
        return max(0.0, self.need_ml - self.stock_ml)


def lines_of(facts, bills, aim, workshop, whole_kits=True):
    """([Line] for zones with their bills, by product and part, with what to buy at an aim (Aim); their whole Bill)."""
    bill, stock = sum_of(bill for _, bill in bills), _stock(workshop)
    found = []
    for product, rows in bill.products:
        sheet = facts.sheets.get(product)
        parts = {part.name: part for part in sheet.components} if sheet else {}
        lines = []
        for row in rows:
            part = parts.get(row.part)
            if row.unit == "mL" and part is not None:
                lines.append(Line(product, part, row.amount, *stock[product, part.key]))
        _buy(lines, sheet, aim, whole_kits)
        found += lines
    return found, bill


def _stock(workshop):
    """{(product, part key): (usable less what is kept, kept [mL], tins of unknown content)}."""
    found, day = defaultdict(lambda: (0.0, 0.0, 0)), today(workshop)
    for view in tin_views(Tin.objects.all(), workshop):
        if view.is_past(day) or view.recall or view.left.is_empty:
            continue
        free, kept, unknown = found[view.tin.product.name, view.tin.part]
        one = view.stocked_in("mL")
        if one.holds is None:
            unknown += view.is_told
        else:
            here = min(one.kept, one.holds)
            free, kept = free + one.holds - here, kept + here
        found[view.tin.product.name, view.tin.part] = free, kept, unknown
    return found


def _buy(lines, sheet, aim, whole_kits):
    """What to buy for the parts of one product."""
    for line in lines:
        line.order = order(line.wanted_ml, sizes_of(sheet, line.part.key), aim)
    base = next((line for line in lines if line.part.role == "base"), None)
    hardener = next((line for line in lines if line.part.role == "hardener"), None)
    if not whole_kits or base is None or hardener is None or not hardener.need_ml:
        return
    sizes = (sizes_of(sheet, base.part.key), sizes_of(sheet, hardener.part.key))
    kits = order_kits(base.wanted_ml, hardener.wanted_ml, kits_of(*sizes, base.need_ml / hardener.need_ml), aim)
    if kits:
        base.kits = kits
        base.order = hardener.order = None


@dataclass
class Cost:
    """What the paint of a job costs: of what is still to come, of what was used, exact; untold: some has no price."""

    job: object
    planned: Fraction
    used: Fraction
    untold: bool


def costs_of(facts, bills, jobs):
    """[Cost] of jobs: what their plans still take by the bills of their zones, what was poured for them at the price
    of its tin.
    """
    planned, untold = defaultdict(Fraction), set()
    for each, bill in bills:
        planned[each.zone.job_id] += bill.cost
        if bill.costs_at_least:
            untold.add(each.zone.job_id)
    used = _used(facts, jobs, untold)
    return [Cost(job, planned[job.pk], used[job.pk], job.pk in untold) for job in jobs]


def _used(facts, jobs, untold):
    """{job id: what was poured into its pots, at what it costs by its sheet}."""
    found = defaultdict(Fraction)
    rows = Entry.objects.known_at().filter(kind=Kind.POT, zones__job__in=jobs).select_related("pot__revision__product")
    pots = {entry.pk: entry for entry in rows.distinct()}
    jobs_of = dict(Entry.objects.filter(pk__in=pots).values_list("pk", "zones__job"))
    for pot in views(pots, facts, {}):
        for key, amount in pot.amounts.items():
            part = next(part for part in pot.ratios if part.key == key)
            per_ml, job = price_per_ml(pot.sheet, key), jobs_of[pot.entry.pk]
            ml = amount if pot.unit == "mL" else amount / part.density_g_ml if part.density_g_ml else None
            if per_ml is None or ml is None:
                untold.add(job)
            else:
                found[job] += Fraction(ml).limit_denominator(1000) * per_ml
    return found


def waste_by_kind():
    """[(kind of product, group, mL, g or None)] of what was left over of pots, the most first."""
    rows = Entry.objects.known_at().filter(kind=Kind.POT_ENDED).filter(Q(pot_ended__waste_ml__gt=0))
    sums = defaultdict(lambda: [0.0, 0.0])
    for entry in rows.select_related("pot_ended__pot__pot__revision__product"):
        revision = entry.pot_ended.pot.pot.revision
        sheet, ml = sheet_of(revision), entry.pot_ended.waste_ml
        told = [part for part in sheet.components if part.role != "thinner"] if sheet else []
        dense = [part.density_g_ml for part in told]
        kind = sums[revision.product.kind]
        kind[0] += ml
        kind[1] = None if kind[1] is None or not dense or None in dense else kind[1] + ml * sum(dense) / len(dense)
    found = [(KINDS[kind].name if kind in KINDS else kind, *sums[kind]) for kind in sums]
    return sorted(found, key=lambda row: -row[1])


AIMS = {Aim.COST: "least cost", Aim.WASTE: "least left over"}
