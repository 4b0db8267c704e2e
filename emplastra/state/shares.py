"""What else shares the cause of a fault: coats of all faces as the record tells them, held against one."""

from dataclasses import dataclass
from datetime import timedelta

from emplastra.core.care.shares import Coat, Shared, sharing
from emplastra.jobs.models import Finding, FindingWord, Zone
from emplastra.logbook.models import Entry, EntryZone, Kind, holds
from emplastra.store.models import Tin

NEAR = timedelta(days=1)
WATER = frozenset({"blocked-drain", "water-trap", "failed-seal"})
"""Causes by which water goes from one face to the next."""


@dataclass
class Face:
    """A face that shares something: zone, the coat's entry, by what (core's Shared)."""

    zone: object
    entry: object
    shared: Shared


def coats_of(zone):
    """Entries of the coats on a zone that hold, the last first."""
    rows = Entry.objects.known_at().of(Kind.COAT).filter(zones=zone).select_related("coat__product", "who")
    return list(rows.order_by("-ended", "-id"))


def shared_with(entry, zone, workshop):
    """[Face] that share something with a coat on a zone, those that share most first."""
    rows = _rows(entry, zone)
    pots = {row.entry.coat.pot_id for row in rows} - {None}
    poured = _poured(pots)
    moved, keyed, waters = _moved(rows), _keyed(rows, workshop.zone), _waters(rows)
    coats = [_coat(row, poured, moved, keyed, waters, workshop.zone) for row in rows]
    mine = next((c for c in coats if (c.entry, c.zone) == (entry.pk, zone.pk)), None)
    if mine is None:
        return []
    found = sharing(mine, coats)
    zones = Zone.objects.select_related("job").in_bulk([shared.zone for shared in found])
    entries = {row.entry_id: row.entry for row in rows}
    return [Face(zones[shared.zone], entries[shared.entry], shared) for shared in found if shared.zone in zones]


def _rows(entry, zone):
    """Coats that may share something: of its days, of its pot, of its tins, of its job."""
    coats = EntryZone.objects.filter(
        holds(None, "entry__"), entry__kind=Kind.COAT, zone__removed=False, zone__job__removed=False
    )
    tins = {t for t in (entry.coat.tin_id, *_tins(entry.coat.pot_id)) if t}
    near = coats.filter(entry__ended__range=(entry.began - NEAR, entry.ended + NEAR))
    wide = coats.filter(entry__coat__pot__in=_pots_of(tins) | ({entry.coat.pot_id} - {None}))
    straight = coats.filter(entry__coat__tin__in=_alike(tins))
    of_job = coats.filter(zone__job=zone.job_id)
    ids = set()
    for some in (near, wide, straight, of_job):
        ids |= set(some.values_list("pk", flat=True))
    rows = EntryZone.objects.filter(pk__in=ids).select_related("entry__coat__product", "entry__coat__tin", "entry__who")
    return list(rows.order_by("entry__ended", "entry_id"))


def _tins(pot):
    rows = Entry.objects.known_at().filter(weighed__pot=pot, weighed__tin__isnull=False) if pot else ()
    return set(rows.values_list("weighed__tin", flat=True)) if pot else set()


def _alike(tins):
    """Ids of all tins of the batches of these."""
    found = set()
    for tin in Tin.objects.filter(pk__in=tins):
        found |= set(
            Tin.objects.filter(product=tin.product_id, part=tin.part, batch=tin.batch).values_list("pk", flat=True)
        )
    return found


def _pots_of(tins):
    """Ids of the pots that were poured from the batches of these tins."""
    return set(Entry.objects.known_at().filter(weighed__tin__in=_alike(tins)).values_list("weighed__pot", flat=True))


def _poured(pots):
    """{pot id: {(product, part, batch)}} of what was poured into pots."""
    found = {}
    rows = Entry.objects.known_at().filter(weighed__pot__in=pots, weighed__tin__isnull=False)
    columns = ("weighed__pot", "weighed__tin__product__name", "weighed__tin__part", "weighed__tin__batch")
    for pot, *batch in rows.values_list(*columns):
        found.setdefault(pot, set()).add(tuple(batch))
    return found


def _moved(rows):
    """{zone id: [(when, place)]} in order."""
    found = {}
    told = EntryZone.objects.filter(holds(None, "entry__"), entry__kind=Kind.MOVED, zone__in={r.zone_id for r in rows})
    told = told.order_by("entry__ended", "entry_id").values_list("zone_id", "entry__ended", "entry__moved__place__name")
    for zone, at, place in told:
        found.setdefault(zone, []).append((at, place))
    return found


def _keyed(rows, zone):
    """{zone id: [(when, "grit, day")]} in order."""
    found = {}
    told = EntryZone.objects.filter(holds(None, "entry__"), entry__kind=Kind.KEYED, zone__in={r.zone_id for r in rows})
    told = told.order_by("entry__ended", "entry_id").values_list("zone_id", "entry__ended", "entry__keyed__grit")
    for face, at, grit in told:
        found.setdefault(face, []).append((at, f"{grit} on {at.astimezone(zone):%Y-%m-%d}" if grit else ""))
    return found


def _waters(rows):
    """{zone id: causes by which water was told there}; water is shared within a job alone."""
    found = {}
    told = FindingWord.objects.filter(cause__in=WATER, finding__zone__in={row.zone_id for row in rows})
    for zone, job, cause in told.values_list("finding__zone_id", "finding__zone__job_id", "cause"):
        found.setdefault(zone, set()).add(f"{cause} of {job}")
    blocked = Finding.objects.filter(topic="drain", choice="blocked", zone__in={row.zone_id for row in rows})
    for zone, job in blocked.values_list("zone_id", "zone__job_id"):
        found.setdefault(zone, set()).add(f"blocked-drain of {job}")
    return found


def _last(told, zone, moment):
    """What was told last of a zone by a moment, "" where nothing was."""
    return next((what for at, what in reversed(told.get(zone, ())) if at <= moment), "")


def _coat(row, poured, moved, keyed, waters, zone):
    """The core's value of a coat on a zone."""
    entry, coat = row.entry, row.entry.coat
    batches = set(poured.get(coat.pot_id, ()))
    if coat.tin is not None:
        batches.add((coat.product.name, coat.tin.part, coat.tin.batch))
    return Coat(
        entry.pk,
        row.zone_id,
        coat.product.name,
        entry.ended.astimezone(zone).toordinal(),
        _last(moved, row.zone_id, entry.began),
        entry.began.timestamp(),
        entry.ended.timestamp(),
        coat.pot_id or 0,
        frozenset(batches),
        (coat.gun or {}).get("gun", ""),
        entry.who.username,
        _last(keyed, row.zone_id, entry.began),
        frozenset(waters.get(row.zone_id, ())),
    )
