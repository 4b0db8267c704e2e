"""From rows to the core's values: events, plans, journeys and air of many zones in a few queries."""

from dataclasses import dataclass, field
from datetime import timedelta

from emplastra.accounts.models import Workshop
from emplastra.climate.models import Place, Reading
from emplastra.climate.selectors import PlaceAir, airs
from emplastra.core.air import Journey, journey
from emplastra.core.film import Film, fact_film
from emplastra.core.plan import PlanStep
from emplastra.core.surface import Bared, Coated, Degreased, Keyed, build
from emplastra.core.working import Basis
from emplastra.jobs.models import BuildUpVersion, Zone, ZoneRevision
from emplastra.logbook.models import EntryZone, Kind, holds
from emplastra.materials.selectors import current_revisions, mended, sheet_of
from emplastra.shared import clock

EARLIER = timedelta(hours=2)


@dataclass
class ZoneFacts:
    """A zone with all that is known of it; entry_zones in order of (ended, id)."""

    zone: Zone
    revision: ZoneRevision | None
    build_up: BuildUpVersion | None
    entry_zones: list
    steps: tuple[PlanStep, ...] = ()
    events: tuple = ()
    moves: list = field(default_factory=list)
    where: Journey | None = None
    place: Place | None = None


@dataclass
class Facts:
    """What pages read: zones by id, air by place id, the current sheets by product name."""

    now: object
    workshop: Workshop
    zones: dict[int, ZoneFacts]
    airs: dict[int, PlaceAir]
    sheets: dict
    revisions: dict


def load(zones, known_at=None, whole=False):
    """Load everything that the state of these zones needs.

    zones: queryset or list; known_at: aware moment or None; whole: air from the first entry on,
    not only from the earliest clock that may still run.
    """
    now, workshop = clock.now(), Workshop.current()
    zones = list(zones)
    ids = [zone.pk for zone in zones]
    recorded = {"recorded__lte": known_at} if known_at else {}
    measures = {r.zone_id: r for r in ZoneRevision.objects.filter(zone__in=ids, **recorded).order_by("id")}
    plans = {b.zone_id: b for b in BuildUpVersion.objects.filter(zone__in=ids, **recorded).order_by("number")}
    rows = {}
    for row in _entry_zones(ids, known_at):
        rows.setdefault(row.zone_id, []).append(row)
    products = {s["product"] for plan in plans.values() for s in plan.steps if s.get("product")}
    current = current_revisions(products, known_at)
    facts = {
        zone.pk: ZoneFacts(zone, measures.get(zone.pk), plans.get(zone.pk), rows.get(zone.pk, [])) for zone in zones
    }
    held = mended(known_at)
    for row in (row for each in facts.values() for row in each.entry_zones if row.entry.kind == Kind.COAT):
        # A coat keeps the sheet it was put on under, but for typing errors of ours that were mended since.
        row.entry.coat.revision = held.get(row.entry.coat.revision_id, row.entry.coat.revision)
    for each in facts.values():
        each.steps = tuple(PlanStep(**step) for step in each.build_up.steps) if each.build_up else ()
        each.events = tuple(event for row in each.entry_zones for event in _event(row))
        each.moves = [row.entry for row in each.entry_zones if row.entry.kind == Kind.MOVED]
    loaded = _airs(facts.values(), now, workshop, known_at, whole)
    sheets = {name: sheet_of(revision) for name, revision in current.items()}
    _place(facts.values(), loaded)
    return Facts(now, workshop, facts, loaded, sheets, current)


def _entry_zones(ids, known_at):
    details = ("moved__place", "degreased", "keyed", "coat__revision", "coat__product", "coat__reading", "coat__tin")
    rows = EntryZone.objects.filter(zone__in=ids).select_related("entry", *[f"entry__{d}" for d in details])
    return rows.filter(holds(known_at, "entry__")).order_by("entry__ended", "entry_id")


def film_from(sheet, variant, plan_um, thinner_pct, wft_um):
    """The film a coat left, from the best evidence, and the solids [%] behind it (None: plan only)."""
    solids = sheet.solids_pct(variant) if sheet else 0.0
    if solids <= 0:
        return Film(plan_um, Basis.ASSUMED, "plan; the sheet gives no solids" if sheet else "plan; no data sheet"), None
    return fact_film(plan_um, solids, thinner_pct, comb_um=wft_um), solids


def film_of(coat):
    """The film of a logged coat and the solids behind it."""
    sheet = sheet_of(coat.revision)
    variant = sheet.variant(coat.variant) if sheet else None
    return film_from(sheet, variant, coat.plan_um, coat.thinner_pct, coat.wft_um)


def _event(row):
    entry = row.entry
    common = {
        "began_s": entry.began.timestamp(),
        "ended_s": entry.ended.timestamp(),
        "share": row.share,
        "step": row.step,
        "entry": entry.pk,
    }
    if entry.kind == Kind.BARED:
        yield Bared(**common)
    elif entry.kind == Kind.DEGREASED:
        yield Degreased(**common)
    elif entry.kind == Kind.KEYED:
        yield Keyed(**common, grit=entry.keyed.grit, um_off=entry.keyed.um_off)
    elif entry.kind == Kind.COAT:
        coat = entry.coat
        film, _ = film_of(coat)
        yield Coated(**common, sheet=sheet_of(coat.revision), film=film, product=coat.product.name)


def _since(each, now):
    """The earliest moment whose air this zone's clocks may need."""
    surface = build(each.events, now.timestamp())
    moments = [since for since, _ in surface.bare]
    if surface.top:
        moments.append(surface.top.began_s)
    return min(moments, default=now.timestamp())


def _airs(facts, now, workshop, known_at, whole):
    earliest = now.timestamp()
    for each in facts:
        if whole and each.entry_zones:
            earliest = min(earliest, min(row.entry.began.timestamp() for row in each.entry_zones))
        else:
            earliest = min(earliest, _since(each, now))
    since = now - timedelta(seconds=now.timestamp() - earliest) - EARLIER - timedelta(hours=12)
    void = Reading.objects.filter(batch=None, coats__isnull=False, coats__entry__replaced_by__isnull=False).values_list(
        "id", flat=True
    )
    return airs(list(Place.objects.all()), since, now, workshop, known_at, void)


def _place(facts, loaded):
    first = next(iter(loaded.values()), None)
    for each in facts:
        moves = [
            (entry.ended.timestamp(), loaded[entry.moved.place_id].air, entry.moved.place.name) for entry in each.moves
        ]
        each.place = each.moves[-1].moved.place if each.moves else (first.place if first else None)
        if not moves and first is not None:
            moves = [(0.0, first.air, first.place.name)]
        each.where = journey(moves) if moves else None
