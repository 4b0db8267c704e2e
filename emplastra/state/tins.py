"""What stands on the shelf: every tin with what was told of it, what was poured from it, and what it still holds."""

from collections import defaultdict
from dataclasses import dataclass, replace
from datetime import date, datetime
from functools import reduce
from operator import or_

from django.db.models import Q

from emplastra.core.buying.stock import (
    Drawn,
    Fact,
    Happened,
    LastDay,
    Left,
    Stocked,
    Use,
    drawn,
    first_to_use,
    in_order,
    left_in,
)
from emplastra.core.product.kinds import COLOURED
from emplastra.jobs.models import Zone
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.selectors import current_revisions, sheet_of
from emplastra.shared import clock
from emplastra.store.models import Tin, TinFact
from emplastra.store.services import live, recalls

from .dated import until


@dataclass(frozen=True)
class Poured:
    """Something taken out of a tin: how much [mL, g; None: nobody told], when, into which pot (its id; None: a coat
    straight from it).
    """

    ml: float | None
    g: float | None
    at: datetime | None = None
    pot: int | None = None

    @property
    def told(self):
        """(how much, "mL" or "g") as it was told; (None, "g") where nobody did."""
        return (self.g, "g") if self.ml is None else (self.ml, "mL")

    def in_unit(self, unit, density):
        """How much in mL or g; None where that cannot be said. density [g/mL], None where none is told."""
        own, other = (self.ml, self.g) if unit == "mL" else (self.g, self.ml)
        if own is not None or other is None or not density:
            return own
        return other / density if unit == "mL" else other * density


@dataclass
class TinView:
    """A tin with its facts that hold, in order, what was poured from it and what it holds [its unit]."""

    tin: Tin
    part_name: str
    facts: list
    poured: list
    unit: str
    left: Left
    density: float | None = None
    size: float | None = None
    price: object = None
    came: object = None
    last: LastDay | None = None
    kept: float = 0.0
    kept_for: str = ""
    recall: str = ""

    @property
    def place(self):
        """Where it stands, None where nobody told."""
        return next((fact.place for fact in reversed(self.facts) if fact.place is not None), None)

    @property
    def opened(self):
        """When it was opened, or first poured from; None for one that is closed."""
        told = self.told(Happened.OPENED)
        first = self.poured[0].at if self.poured else None
        return told.at if told else first

    @property
    def stocked(self):
        """Itself as it is chosen."""
        tin, left, last = self.tin, self.left, self.last.day if self.last else None
        about = (self.opened is not None, left.is_empty, left.amount, self.kept, bool(self.recall))
        return Stocked(tin.pk, tin.batch, tin.kit, last, *about)

    def stocked_in(self, unit):
        """The same, with what it holds and what is kept of it in mL or g; unknown where that cannot be said."""
        own = [Poured(*((x, None) if self.unit == "mL" else (None, x))) for x in (self.left.amount, self.kept)]
        holds, kept = (each.in_unit(unit, self.density) for each in own)
        return replace(self.stocked, holds=holds, kept=kept or 0.0)

    def told(self, kind, last=False):
        """The first fact of a kind, or the last, None if there is none."""
        return next((fact for fact in (reversed(self.facts) if last else self.facts) if fact.kind == kind), None)

    @property
    def is_told(self):
        """True if it was taken in: a tin that was only named when it was poured from is of unknown content."""
        return bool(self.facts)

    def is_past(self, day: date):
        """True if it may not be used on this day any more."""
        return self.last is not None and self.last.day < day

    @property
    def share(self):
        """How full it is [0..1]; None where nobody knows."""
        if self.left.amount is None or not self.size:
            return None
        return min(1.0, self.left.amount / self.size)


def tin_views(tins, workshop):
    """TinViews of these tins (a queryset), in their order, in a few queries for all."""
    tins = list(tins.select_related("product"))
    ids = [tin.pk for tin in tins]
    told = defaultdict(list)
    for fact in live(_facts().filter(tin__in=ids)):
        told[fact.tin_id].append(fact)
    poured = _poured(ids)
    sheets = {name: sheet_of(each) for name, each in current_revisions({tin.product.name for tin in tins}).items()}
    views = [_view(tin, told[tin.pk], poured[tin.pk], sheets.get(tin.product.name), workshop.zone) for tin in tins]
    bad = {(each.product_id, each.part, each.batch): each.why for each in recalls()}
    for view in views:
        view.recall = bad.get((view.tin.product_id, view.tin.part, view.tin.batch), "")
    return views


def _facts():
    return TinFact.objects.select_related("place", "who").order_by("at", "id")


WEIGHED = ("pot", "tin", "scale_g", "level_ml")


def _poured(ids):
    """{tin id: [Poured]}: parts weighed into pots, by what the scale or cup showed before; coats straight from it."""
    found = defaultdict(list)
    live = Entry.objects.known_at().order_by("ended", "id")
    rows = live.filter(kind=Kind.WEIGHED, weighed__pot__in=live.filter(weighed__tin__in=ids).values("weighed__pot"))
    shown = defaultdict(float)
    for ended, pot, tin, grams, level in rows.values_list("ended", *(f"weighed__{name}" for name in WEIGHED)):
        reads = level if grams is None else grams
        added, shown[pot] = reads - shown[pot], reads
        if tin is not None:
            found[tin].append(Poured(*((added, None) if grams is None else (None, added)), ended, pot))
    for ended, tin in live.filter(coat__tin__in=ids).values_list("ended", "coat__tin"):
        found[tin].append(Poured(None, None, ended))
    return found


def _view(tin, facts, poured, sheet, zone):
    part = next((p for p in sheet.components if p.key == tin.part), None) if sheet else None
    density, unit = part.density_g_ml if part else None, _unit_of(facts, poured)
    values = [Fact(Happened(f.kind), f.at.timestamp(), _in_unit(f, unit, density)) for f in facts]
    uses = [Use(p.at.timestamp(), p.in_unit(unit, density)) for p in poured]
    view = TinView(tin, part.name if part else tin.part, facts, poured, unit, left_in(values, uses), density)
    _tell(view, sheet, zone)
    return view


def _tell(view, sheet, zone):
    """What its facts tell of a tin: its size and price, what of it is kept, until when it may be used."""
    unit, density = view.unit, view.density
    came, kept = (view.told(kind, last) for kind, last in ((Happened.IN, False), (Happened.KEPT, True)))
    if came is not None:
        view.size, view.price, view.came = _in_unit(came, unit, density), came.price, came.at
    if kept is not None:
        view.kept, view.kept_for = _in_unit(kept, unit, density) or 0.0, kept.note
    view.last = until(view.tin, sheet, view.came, view.opened, zone)


def _unit_of(facts, poured):
    """The unit that a tin's content is told in: that of its size, else of what was poured."""
    told = next((fact.unit for fact in facts if fact.unit), "")
    return told or ("g" if any(each.g is not None for each in poured) else "mL")


def _in_unit(fact, unit, density):
    if fact.amount is None or fact.unit == unit:
        return fact.amount
    return Poured(*((fact.amount, None) if fact.unit == "mL" else (None, fact.amount))).in_unit(unit, density)


def to_pour(product, part, workshop, kit="", batch=""):
    """The tin that a part is to be poured from now: of the kit and batch that are in it already, else what expires
    first; None where none is in date.
    """
    return _first(Tin.objects.filter(product=product, part=part), workshop, kit, batch)


def batch_on(zones, product, part):
    """The batch of a part that gives the colour of these zones, or of other faces of their panels; "" for none."""
    if product.kind not in COLOURED:
        return ""
    own, panels = Q(pk__in=[zone.pk for zone in zones]), {(z.job_id, z.panel) for z in zones if z.panel}
    beside = (Q(job=job, panel=panel) for job, panel in panels)
    coats = Entry.objects.known_at().filter(
        coat__product=product, zones__in=Zone.objects.filter(reduce(or_, beside, own))
    )
    pot = coats.exclude(coat__pot=None).order_by("-ended").values_list("coat__pot", flat=True).first()
    weighed = (
        Entry.objects.known_at().filter(weighed__pot=pot, weighed__tin__part=part) if pot else Entry.objects.none()
    )
    return weighed.values_list("weighed__tin__batch", flat=True).first() or ""


@dataclass(frozen=True)
class Wanted:
    """Whether a tin has what is to be poured from it: the tin, what it lacks [its unit], the next one (or None)."""

    view: TinView
    lacks: float
    then: TinView | None = None


def has_enough(tin, amount, unit, workshop):
    """Wanted: whether a tin still holds what is to be poured from it, an amount in mL or g."""
    views = tin_views(Tin.objects.filter(product=tin.product_id, part=tin.part), workshop)
    own = next(view for view in views if view.tin.pk == tin.pk)
    asked = Poured(*((amount, None) if unit == "mL" else (None, amount))).in_unit(own.unit, own.density)
    held = own.left.amount
    lacks = 0.0 if asked is None or held is None else max(0.0, asked - held)
    rest = [view for view in ranked(views, workshop) if view.tin.pk != tin.pk and not view.is_past(today(workshop))]
    return Wanted(own, lacks, rest[0] if lacks and rest else None)


@dataclass(frozen=True)
class PartDrawn:
    """A part of pots to come, as the store has it: what is wanted of it [unit], from which tins [(TinView, how much)],
    what they lack and what of it is kept, and the batch of it that gives the colour there already ("" for none).
    """

    part: object
    wanted: float
    unit: str
    takes: tuple
    drawn: Drawn
    there: str = ""

    @property
    def kept_for(self):
        """For what it is kept, as it was told."""
        return ", ".join(dict.fromkeys(view.kept_for for view, _ in self.takes if view.kept_for))


def parts_drawn(product, wanted, unit, zones, workshop):
    """[PartDrawn] of parts with how much is wanted of each [(part, mL or g)], where the store was told of its tins."""
    found, kit, day = [], "", today(workshop)
    tins = tin_views(Tin.objects.filter(product=product), workshop)
    for part, much in wanted:
        views = {view.tin.pk: view for view in tins if view.tin.part == part.key}
        there = batch_on(zones, product, part.key)
        if any(view.is_told for view in views.values()):
            out = drawn([view.stocked_in(unit) for view in views.values()], much, day, kit, there)
            takes = tuple((views[tin.key], amount) for tin, amount in out.takes)
            found.append(PartDrawn(part, much, unit, takes, out, there))
            kit = kit or next((view.tin.kit for view, _ in takes if view.tin.kit), "")
    return found


def to_pour_of(name, workshop):
    """The same of a product that comes straight from its tin, by its name."""
    return _first(Tin.objects.filter(product__name=name), workshop)


def _first(tins, workshop, kit="", batch=""):
    views = tin_views(tins, workshop)
    first = first_to_use([view.stocked for view in views], today(workshop), kit, batch)
    return next((view.tin for view in views if first is not None and view.tin.pk == first.key), None)


def ranked(views, workshop):
    """TinViews in the order in which they are to be used, what is empty left out."""
    place = {stocked.key: n for n, stocked in enumerate(in_order([view.stocked for view in views], today(workshop)))}
    return sorted((view for view in views if view.tin.pk in place), key=lambda view: place[view.tin.pk])


def today(workshop):
    """The workshop's day."""
    return clock.now().astimezone(workshop.zone).date()
