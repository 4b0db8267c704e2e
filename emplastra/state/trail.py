"""A batch, from its tins through pots to faces and back: rows in, plain data out, in a handful of queries."""

import json
from collections import defaultdict
from dataclasses import dataclass, field
from datetime import UTC, datetime

from django.db.models import TextField
from django.db.models.functions import Cast

from emplastra.core.buying.trail import Bared, Layer, Lies, stack
from emplastra.jobs.models import Zone
from emplastra.logbook.kinds.coat import film_from
from emplastra.logbook.models import Entry, EntryZone, Kind
from emplastra.materials.models import SheetRevision
from emplastra.materials.selectors import sheet_of
from emplastra.store.models import Tin
from emplastra.store.services import recalls, recalls_of

from .facts import load
from .pots import views
from .tins import tin_views


@dataclass
class FaceTrail:
    """A face that something of the batch went on: its stack, the pots it came from, and what of a recall is done."""

    zone: Zone
    stack: object
    pots: list
    done: object = None


@dataclass
class PotTrail:
    """A pot that something of the batch went into: how much from which tins, the faces; of those that were looked at
    their entry, and what was wrong.
    """

    pk: int
    poured: list
    entry: Entry | None = None
    faces: list = field(default_factory=list)
    wrong: list = field(default_factory=list)


@dataclass
class Trail:
    """A batch: its tins (TinView), pots, faces, and the recall that is on it."""

    tin: Tin
    part_name: str
    unit: str
    tins: list
    pots: list
    faces: list
    recall: object = None

    @property
    def lies(self):
        """Faces that hold something of it still."""
        return [face for face in self.faces if face.stack.where is not Lies.GONE]

    @property
    def under(self):
        """On how many it lies under other film."""
        return sum(face.stack.where is Lies.UNDER for face in self.lies)

    @property
    def open(self):
        """On how many a recall was not dealt with yet."""
        return sum(face.done is None for face in self.lies) if self.recall else 0

    @property
    def left(self):
        """What its tins still hold together, of those of which it is known."""
        return sum(view.left.amount or 0.0 for view in self.tins)


def trail_of(tin, workshop, whole=24):
    """The Trail of the batch of a tin; it is looked at the first `whole` pots, and at what was wrong with them."""
    tins = tin_views(
        Tin.objects.filter(product=tin.product, part=tin.part, batch=tin.batch).order_by("number"), workshop
    )
    unit = tins[0].unit
    pots = _pots(tins, unit)
    faces, last_s = _faces(pots, {view.tin.pk for view in tins})
    by_pot = defaultdict(list)
    for face in faces:
        for pk in face.pots:
            by_pot[pk].append(face.zone)
    for pk, pot in pots.items():
        pot.faces = by_pot[pk]
    found = Trail(tin, tins[0].part_name, unit, tins, list(pots.values()), faces, recalls_of(tin))
    _look(found, last_s, whole)
    if found.recall:
        done = {each.zone_id: each for each in found.recall.dealt.select_related("who")}
        for face in faces:
            face.done = done.get(face.zone.pk)
    return found


def _pots(tins, unit):
    """{pot id: PotTrail} in the order of time."""
    found = {}
    poured = [(each, view) for view in tins for each in view.poured if each.pot is not None]
    for each, view in sorted(poured, key=lambda one: one[0].at):
        pot = found.setdefault(each.pot, PotTrail(each.pot, []))
        pot.poured.append((view, each.in_unit(unit, view.density) or 0.0))
    return found


COLUMNS = (
    "entry_id",
    "zone_id",
    "share",
    "of_face",
    "entry__kind",
    "at",
    "entry__coat__product__name",
    "entry__coat__pot_id",
    "entry__coat__tin_id",
    "entry__coat__revision_id",
    "entry__coat__variant",
    "entry__coat__plan_um",
    "entry__coat__thinner_pct",
    "wet",
    "entry__coat__used_ml",
    "entry__coat__used_m2",
    "entry__coat__method",
)


HELD = list(Lies)


def _faces(pots, tins, zone=None):
    """(FaceTrails of the zones, or of this one alone, that coats from these pots or tins are on, those that hold
    something first; when the last coat from each pot was on [epoch s]).
    """
    kinds = [Kind.COAT, Kind.BARED, Kind.GAUGED]
    rows = EntryZone.objects.filter(entry__kind__in=kinds, entry__replaced_by__isnull=True)
    rows = rows if zone is None else rows.filter(zone=zone)
    from_them = ({"entry__coat__pot__in": pots}, {"entry__coat__tin__in": tins})
    held = {pk for each in from_them for pk in rows.filter(**each).values_list("zone", flat=True).distinct()}
    rows = rows.filter(zone__in=held).order_by("entry__ended", "entry_id")
    # Hour and wet film as they are stored: what is told alike is read once, for a batch may be in thousands of coats.
    stored = {"at": "entry__ended", "wet": "entry__coat__wft_um"}
    rows = rows.annotate(**{name: Cast(column, TextField()) for name, column in stored.items()})
    rows = list(rows.values_list(*COLUMNS))
    zones = Zone.objects.select_related("job").in_bulk(held)
    gauged = _by_gauge([zones[on] for on in {row[1] for row in rows if row[4] == Kind.GAUGED}])
    happened, of, last_s = _happened(rows, gauged, pots, tins)
    found = [FaceTrail(each, stack(happened[pk]), of.get(pk, [])) for pk, each in zones.items()]
    return sorted(found, key=lambda face: (HELD.index(face.stack.where), face.zone.pk)), last_s


def _happened(rows, gauged, pots, tins):
    """What befell each zone, the pots that went on it, and when the last coat from each pot was on [epoch s]."""
    hours = {at: datetime.fromisoformat(at).replace(tzinfo=UTC).timestamp() for at in {row[5] for row in rows}}
    happened, of, last_s, films = defaultdict(list), defaultdict(dict), {}, _Films()
    for pk, on, share, of_face, kind, at, product, pot, tin, *told in rows:
        if kind == Kind.BARED:
            happened[on].append(Bared(hours[at], share))
        if kind != Kind.COAT:
            continue
        um = gauged[on, pk] if (on, pk) in gauged else films.of(*told)
        happened[on].append(Layer(pk, product, hours[at], um, share * of_face, pot in pots or tin in tins))
        if pot in pots:
            of[on][pot], last_s[pot] = True, hours[at]
    return happened, {on: list(each) for on, each in of.items()}, last_s


class _Films:
    """Films of coats by the best evidence that was told of each, worked out once for coats that are told alike."""

    def __init__(self):
        self.sheets, self.known = {}, {}

    def of(self, revision, variant, plan_um, thinner_pct, wet, *used):
        """The film of a coat [µm]; wet: its readings as they are stored."""
        key = (revision, variant, plan_um, thinner_pct, wet, *used)
        if key not in self.known:
            if revision not in self.sheets:
                self.sheets[revision] = sheet_of(SheetRevision.objects.get(pk=revision)) if revision else None
            sheet, told = self.sheets[revision], used if used[0] and used[1] else None
            ratio = sheet.variant(variant) if sheet else None
            self.known[key] = film_from(sheet, ratio, plan_um, thinner_pct, json.loads(wet), told)[0].dft_um
        return self.known[key]


def _by_gauge(some):
    """{(zone id, entry id): film [µm]} of coats on zones that a gauge has read: what was measured goes first."""
    facts = load(some, whole=True) if some else None
    layers = ((zone.pk, layer) for zone in some for layer in facts.zones[zone.pk].built(facts.now.timestamp()).layers)
    return {(zone, entry): layer.film.dft_um for zone, layer in layers for entry in layer.entries if layer.gauged}


def _look(trail, last_s, whole):
    """Say what was wrong with pots: off their ratio, mixed in the cold, dead, or of a tin that was out of date."""
    some = trail.pots[:whole]
    if not some:
        return
    entries = Entry.objects.select_related("pot__revision__product", "who").in_bulk([pot.pk for pot in some])
    zones = defaultdict(list)
    for row in EntryZone.objects.filter(entry__in=entries).select_related("zone"):
        zones[row.entry_id].append(row.zone)
    facts = load([zone for each in zones.values() for zone in each[:1]], whole=True)
    found = {view.entry.pk: view for view in views(entries, facts, zones)}
    for pot in some:
        pot.entry = entries[pot.pk]
        pot.wrong = _wrong(found[pot.pk], last_s.get(pot.pk, 0.0)) if pot.pk in found else []


def _wrong(view, last_s):
    """What was wrong with a pot (PotView) that was put on until a moment [epoch s; 0: never]."""
    found, dead_s = _off(view), view.life.t_s if view.life else None
    band = getattr(view.variant, "band", None)
    if band is not None and band.low_c is not None and not band.low_c - 1e-6 <= view.pot.temp_c <= band.high_c + 1e-6:
        found.append("outside its temperatures")
    if dead_s is not None and last_s > dead_s + 60:
        found.append("used dead")
    day = view.entry.ended.date()
    past = [name for name, last, *_ in view.batches if last is not None and last < day]
    return [*found, *(f"{name} out of date" for name in past)]


def recalled_on(zone):
    """[(recall, tin)] of recalled batches that lie on a zone and were not dealt with there; only it is looked at."""
    found = []
    for recall in recalls().exclude(dealt__zone=zone):
        tins = Tin.objects.filter(product=recall.product_id, part=recall.part, batch=recall.batch)
        pots = Entry.objects.known_at().filter(weighed__tin__in=tins).values_list("weighed__pot", flat=True)
        faces, _ = _faces(set(pots), {tin.pk for tin in tins}, zone)
        found += [(recall, tins[0]) for face in faces if face.stack.where is not Lies.GONE]
    return found


def _off(view):
    """Parts of a pot that are out of tolerance, in words."""
    names = {part.key: part.name for part in view.ratios}
    off = [d for d in view.balance.deviations if not d.in_tolerance]
    return [f"{names[d.key]} {abs(d.pct):.0f} % {'over' if d.pct > 0 else 'under'}" for d in off]


def back_from(zone, most=12):
    """[(coat entry, [(part key, tin)])] of the uppermost coats on a zone, those first."""
    rows = EntryZone.objects.filter(zone=zone, entry__kind=Kind.COAT, entry__replaced_by__isnull=True)
    rows = rows.select_related("entry__coat__product", "entry__coat__tin__product")
    entries = [row.entry for row in rows.order_by("-entry__ended", "-entry_id")[:most]]
    pots = {entry.coat.pot_id for entry in entries if entry.coat.pot_id}
    tins = defaultdict(list)
    weighed = Entry.objects.known_at().filter(weighed__pot__in=pots, weighed__tin__isnull=False)
    for each in weighed.select_related("weighed__tin").order_by("ended", "id"):
        if each.weighed.tin not in [tin for _, tin in tins[each.weighed.pot_id]]:
            tins[each.weighed.pot_id].append((each.weighed.part, each.weighed.tin))
    direct = lambda coat: [(coat.tin.part, coat.tin)] if coat.tin else []  # noqa: E731
    return [(e, tins[e.coat.pot_id] if e.coat.pot_id else direct(e.coat)) for e in entries]
