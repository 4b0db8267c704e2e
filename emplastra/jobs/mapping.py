"""What people do with the zones of a map: lay out, duplicate, mirror, split, join, retire, open spots."""

import re

from django.db import transaction

from emplastra.core.piece.areas import halves_m2
from emplastra.core.piece.job_map import Cells, free_place
from emplastra.core.piece.parts import LAYOUTS, shapes_of
from emplastra.core.words import area_q
from emplastra.shared.services import Refused, as_refused, writes

from .models import Zone, ZoneRevision
from .services import add_zone, adopt_system, cells_of, copy_plan, drawn_at, measures_of


@writes
@transaction.atomic
def start_layout(job, key, user, sizes_mm, **measures):
    """Zones of a starter layout for a piece of this length, width and height [mm]. Raises Refused."""
    if key not in LAYOUTS:
        raise Refused(f"must be one of {', '.join(LAYOUTS)}", "layout")
    made = []
    for piece in LAYOUTS[key][1]:
        told = {
            "form": piece.form,
            "finish_class": piece.finish,
            "part": piece.part,
            "shapes": shapes_of(piece, *sizes_mm),
        }
        made.append(add_zone(job, piece.name, user, cells=piece.cells, **measures, **told))
    by_name = {zone.name: zone for zone in made}
    for zone in made:
        twin = by_name.get(other_side(zone.name))
        if twin is not None and twin is not zone:
            Zone.objects.filter(pk=zone.pk).update(twin=twin)
    return made


def other_side(name):
    """The name with left and right exchanged; the same name if it speaks of no side."""
    swap = {"left": "right", "right": "left", "Left": "Right", "Right": "Left"}
    return re.sub(r"\b([Ll]eft|[Rr]ight)\b", lambda m: swap[m[1]], name)


@writes
@transaction.atomic
def duplicate(zone, user, name):
    """A zone with the same measures and plan, beside it on the map; nothing logged, nothing found. Raises Refused."""
    cells = drawn_at(zone)
    free = free_place(cells.view, cells_of(zone.job), cells.w, cells.h)
    new = add_zone(zone.job, name, user, zone.panel, cells=free, **measures_of(zone))
    copy_plan(zone, new, user)
    return new


@writes
@transaction.atomic
def mirror(zone, user, name):
    """The same shape on the other side: measures only. Plans and findings are not shared. Raises Refused."""
    if zone.parent_id:
        raise Refused("a spot lies on one side: mirror its zone")
    new = add_zone(zone.job, name, user, other_side(zone.panel), cells=drawn_at(zone).mirrored(), **measures_of(zone))
    Zone.objects.filter(pk__in=[zone.pk, new.pk]).update(twin=None)
    Zone.objects.filter(pk=zone.pk).update(twin=new)
    Zone.objects.filter(pk=new.pk).update(twin=zone)
    return new


def retire(zone, why):
    """No more work on a zone; its record stays. Raises Refused without a reason."""
    if not why.strip():
        raise Refused("write why, for example: cut out and replaced", "why")
    zone.retired = why.strip()[:120]
    zone.save(update_fields=["retired"])
    # A spot goes with its zone.
    zone.spots.filter(retired="").update(retired=zone.retired)
    return zone


def bring_back(zone):
    """Use a retired zone again. Raises Refused if others go on from it, or its name is taken."""
    if zone.heirs.filter(removed=False).exists():
        raise Refused("other zones go on from it")
    if Zone.objects.in_use().filter(job=zone.job, name=zone.name).exists():
        raise Refused("another zone has its name now: rename that one first")
    zone.retired = ""
    zone.save(update_fields=["retired"])
    return zone


@writes
@transaction.atomic
def split(zone, user, names, share):
    """Two zones in the place of one, the first with this share [0..1] of its area.

    Both start from what was logged on it: the same plan with the same step ids, its history behind
    them. Their areas add up to its own exactly. Raises Refused.
    """
    if zone.parent_id or zone.spots.filter(removed=False, retired="").exists():
        raise Refused("a zone with spots is not split: join or retire its spots first")
    if len({name.strip() for name in names}) < 2:
        raise Refused("the two parts need two names", "second")
    with as_refused("share"):
        parts = halves_m2(zone.revisions.first().area_m2, share)
    retire(zone, f"split into {names[0]} and {names[1]}"[:120])
    made = []
    for name, m2, cells in zip(names, parts, drawn_at(zone).halves(share), strict=True):
        shapes = [{"kind": "given", "dims": {"m2": m2}, "count": 1}]
        new = add_zone(zone.job, name, user, zone.panel, cells=cells, **(measures_of(zone) | {"shapes": shapes}))
        Zone.objects.filter(pk=new.pk).update(origin=zone)
        new.origin = zone
        copy_plan(zone, new, user, keep_ids=True)
        made.append(new)
    return made


@writes
@transaction.atomic
def join(first, second, user, name):
    """One zone in the place of two: history and plan of the first, shapes of both.

    Whether their stacks are equal and no clock runs is for the caller to judge. Raises Refused.
    """
    if first.job_id != second.job_id or first.pk == second.pk:
        raise Refused("choose another zone of the same job", "other")
    a, b = first.revisions.first(), second.revisions.first()
    for field in ("substrate", "thickness_mm", "finish_class", "end_state", "colour_group"):
        if getattr(a, field) != getattr(b, field):
            label = ZoneRevision._meta.get_field(field).verbose_name.replace("_", " ")
            raise Refused(f"their {label} differs: {getattr(a, field)} and {getattr(b, field)}", "other")
    for zone in (first, second):
        retire(zone, f"joined into {name}")
    cells, other = drawn_at(first), drawn_at(second)
    if cells.view == other.view:
        x, y = min(cells.x, other.x), min(cells.y, other.y)
        right, foot = max(cells.x + cells.w, other.x + other.w), max(cells.y + cells.h, other.y + other.h)
        cells = Cells(cells.view, "panel", x, y, right - x, foot - y)
    new = add_zone(
        first.job, name, user, first.panel, cells=cells, **(measures_of(first) | {"shapes": [*a.shapes, *b.shapes]})
    )
    Zone.objects.filter(pk=new.pk).update(origin=first)
    new.origin = first
    copy_plan(first, new, user, keep_ids=True)
    return new


@writes
@transaction.atomic
def open_spot(zone, user, name, m2, system=None):
    """A spot within a zone: its measures, an area of its own [m2], a log and a stack of its own. Raises Refused."""
    if zone.parent_id:
        raise Refused("a spot has no spots of its own: open it on the zone")
    whole = zone.revisions.first().area_m2
    if not 0 < m2 < whole:
        raise Refused(f"must be above 0 and below the zone’s {area_q(whole)}", "area")
    shapes = [{"kind": "given", "dims": {"m2": m2}, "count": 1}]
    spot = add_zone(zone.job, name, user, zone.panel, parent=zone, **(measures_of(zone) | {"shapes": shapes}))
    if system is not None:
        adopt_system(spot, user, system)
    return spot


@transaction.atomic
def make_spot_of(zone, parent):
    """A zone becomes a spot of another: its log and stack stay its own, its area lies within the other's. Raises
    Refused.
    """
    if parent.job_id != zone.job_id or parent.pk == zone.pk or parent.parent_id or parent.retired:
        raise Refused("choose a zone in use of the same job that is no spot itself", "parent")
    if zone.parent_id or zone.spots.filter(removed=False, retired="").exists():
        raise Refused("it is a spot already, or has spots of its own", "parent")
    if zone.revisions.first().area_m2 >= parent.revisions.first().area_m2:
        raise Refused(f"a spot is smaller than its zone: {parent} is not larger", "parent")
    zone.parent = parent
    zone.save(update_fields=["parent"])
    return zone
