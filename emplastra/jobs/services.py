"""What people do with jobs, zones and build-ups."""

import secrets
from dataclasses import dataclass

from django.db import transaction

from emplastra.core.piece.areas import area_m2, total_area_m2
from emplastra.core.piece.job_map import free_place, view_of
from emplastra.core.product.film import METHODS
from emplastra.core.rules.standard import adapted
from emplastra.core.surface.plan import misplaced, read_step, read_steps
from emplastra.core.surface.system_file import BOUNDS
from emplastra.materials.selectors import sheets_named
from emplastra.shared.services import Refused, as_refused, owners_only, writes

from .models import BuildUpVersion, Job, MapPlace, Zone, ZoneRevision

#: Fields of a step, with their blanks.
BLANK_STEP = {
    "kind": "prime",
    "product": "",
    "coats": 1,
    "dft_um": None,
    "sanded_um": 0.0,
    "method": "hvlp",
    "thinner_pct": 0.0,
    "grit": "",
    "left_out": "",
    "note": "",
    "least": False,
    "way": "",
    "on": "",
    "area_m2": 0.0,
    "length_mm": 0.0,
    "width_mm": 0.0,
}


class StalePlan(Exception):
    """The build-up was saved by somebody else meanwhile; `newest` is theirs."""

    def __init__(self, newest):
        super().__init__("saved by somebody else meanwhile")
        self.newest = newest


def new_step_id(owing_to=None):
    """A permanent id for a step; `owing_to` is the entry without which it would not be in the plan."""
    return f"{f'{owing_to}-' if owing_to else ''}{secrets.token_hex(5)}"


MEASURES = (
    "substrate",
    "thickness_mm",
    "form",
    "finish_class",
    "profile",
    "wetted_faces",
    "shapes",
    "part",
    "end_state",
    "colour_group",
)
"""Fields of a zone's revision that a copy of it takes."""


@writes
@transaction.atomic
def add_zone(job, name, user, panel="", parent=None, cells=None, **measures):
    """A zone with its first revision and its place on the map (None: a free one, by its name).

    measures: fields of ZoneRevision. Raises Refused.
    """
    if Zone.objects.in_use().filter(job=job, name=name).exists():
        raise Refused(f"this job has a zone named “{name}” already: give another name", "name")
    zone = Zone.objects.create(job=job, name=name, panel=panel, parent=parent)
    revise_zone(zone, user, **measures)
    if parent is None:
        place(zone, cells or free_place(view_of(name), cells_of(job)))
    return zone


def cells_of(job):
    """Cells of the map that are taken."""
    return [row.cells for row in places_of(job)]


def places_of(job):
    """Where the zones of a job are drawn that have a place of their own."""
    return MapPlace.objects.filter(zone__job=job, zone__removed=False, zone__retired="", zone__parent=None)


def place(zone, cells):
    """Draw a zone there. Raises Refused naming what is off the grid."""
    with as_refused():
        cells.check()
    MapPlace.objects.update_or_create(
        zone=zone,
        defaults={
            "view": cells.view,
            "kind": cells.kind,
            "x": cells.x,
            "y": cells.y,
            "w": cells.w,
            "h": cells.h,
            "flip": cells.flip,
        },
    )


def measures_of(zone):
    """Its newest measures, as a copy takes them."""
    revision = zone.revisions.first()
    return {field: getattr(revision, field) for field in MEASURES}


@writes
def copy_plan(zone, new, user, keep_ids=False):
    """The same plan for another zone, with step ids of its own unless it goes on from it."""
    plan = zone.build_ups.first()
    if plan:
        fresh = {} if keep_ids else {"left_out": ""}
        steps = [{**step, **fresh, **({} if keep_ids else {"id": new_step_id()})} for step in plan.steps]
        save_build_up(new, user, steps, 0, plan.system)


def drawn_at(zone):
    """Where a zone is drawn, or would be."""
    found = MapPlace.objects.filter(zone=zone).first()
    return found.cells if found else free_place(view_of(zone.name), cells_of(zone.job))


@writes
def revise_zone(zone, user, reason="", **measures):
    """New measures for a zone. Raises Refused naming the shape's dimension that cannot be."""
    if not measures.get("shapes"):
        raise Refused("measure at least one shape", "shapes")
    for shape in measures["shapes"]:
        with as_refused("shapes"):
            area_m2(shape["kind"], shape["dims"], shape.get("count", 1))
    with as_refused("shapes"):
        total_area_m2(measures["shapes"])
    return ZoneRevision.objects.create(zone=zone, who=user, reason=reason, **measures)


def check_steps(steps):
    """Complete steps and refuse what cannot be. Raises Refused naming step and field."""
    checked, seen = [], set()
    for i, raw in enumerate(steps, 1):
        step = {**BLANK_STEP, **{k: v for k, v in raw.items() if k in BLANK_STEP}, "id": raw.get("id") or new_step_id()}
        try:
            read_step(step, i)
        except ValueError as error:
            raise Refused(str(error), "steps") from error
        if step["id"] in seen:
            raise Refused(f"step {i}: named twice", "steps")
        if step["method"] not in METHODS:
            raise Refused(f"step {i}: method must be one of {', '.join(METHODS)}", "steps")
        for field, (low, high) in BOUNDS.items():
            if step[field] is not None and not low <= step[field] <= high:
                raise Refused(f"step {i}: {field} must be from {low} to {high}", "steps")
        seen.add(step["id"])
        checked.append(step)
    return checked


def _read(rows):
    """Steps of a stored plan, none of one that cannot be read."""
    try:
        return read_steps(rows)
    except ValueError:
        return ()


@writes
@transaction.atomic
def save_build_up(zone, user, steps, based_on, system=None, keep=(), done=()):
    """A new version of a zone's plan.

    based_on: number of the version it started from (0: none); keep: ids of steps with entries,
    which may be left out with a reason but not removed; done: ids of steps that are done, before which
    nothing is put. Raises StalePlan, Refused.
    """
    newest = zone.build_ups.first()
    if (newest.number if newest else 0) != based_on:
        raise StalePlan(newest)
    steps = check_steps(steps)
    missing = set(keep) - {step["id"] for step in steps}
    if missing:
        raise Refused("a step with entries cannot be removed: leave it out with a reason instead", "steps")
    if done and newest:
        found = misplaced(_read(newest.steps), _read(steps), done)
        if found is not None:
            raise Refused(found.sentence, "steps")
    system = system or (newest.system if newest else None)
    return BuildUpVersion.objects.create(zone=zone, number=based_on + 1, system=system, steps=steps, who=user)


@writes
def insert_before(zone, user, step_id, steps, based_on):
    """Put steps before another in a zone's plan. Raises StalePlan, Refused if that step is not there."""
    newest = zone.build_ups.first()
    old = newest.steps if newest else []
    at = next((i for i, step in enumerate(old) if step["id"] == step_id), None)
    if at is None:
        raise Refused("the plan has changed: look at it again")
    return save_build_up(zone, user, [*old[:at], *steps, *old[at:]], based_on)


@writes
@transaction.atomic
def drop_steps(zone, user, entries, keep):
    """Take steps out of a zone's plan that are in it only owing to one of these entries; those to keep stay."""
    newest = zone.build_ups.first()
    steps = newest.steps if newest else []
    gone = [s["id"] for s in steps if s["id"].partition("-")[0] in entries and "-" in s["id"] and s["id"] not in keep]
    if gone:
        save_build_up(zone, user, [s for s in steps if s["id"] not in gone], newest.number)


@dataclass(frozen=True)
class Proposed:
    """Steps that a system puts into a zone's plan, and what finish and standard changed of it, in sentences."""

    steps: list
    said: tuple = ()


def proposed(zone, version, as_is=False):
    """What a system's version becomes on a zone: with the defaults of its finish class and its job's standard.

    as_is: as the system has it. Ids are new.
    """
    rows = [{**BLANK_STEP, **step, "id": new_step_id()} for step in version.steps]
    revision = zone.revisions.first()
    steps = _read(rows)
    if as_is or revision is None or not steps:
        return Proposed(rows)
    sheets = sheets_named({step.product for step in steps if step.product})
    made = adapted(steps, sheets, revision.finish_class, zone.job.standard)
    kept = [vars(s) | {"id": s.id if s.id != "polish" else new_step_id()} for s in made.steps]
    return Proposed(kept, made.said)


@writes
def adopt_system(zone, user, version, based_on=0, keep=(), as_is=False):
    """Take a system's steps as the zone's plan, with ids of their own; see `proposed`. Gives the new version."""
    return save_build_up(zone, user, proposed(zone, version, as_is).steps, based_on, version, keep)


@writes
@transaction.atomic
def adopt_on(zones, user, version, based_on, keep, as_is=False):
    """Take a system as the plan of several zones, of all or of none.

    based_on: {zone id: number of the version that was looked at}; keep: {zone id: ids of its steps with entries}, a
    zone with any is refused, since its plan is under way. Raises StalePlan, Refused naming the zone.
    """
    made = []
    for zone in zones:
        if keep.get(zone.pk):
            raise Refused(f"{zone}: its plan is under way; change it on its own page", "zones")
        made.append(adopt_system(zone, user, version, based_on.get(zone.pk, 0), (), as_is))
    return made


@writes
@transaction.atomic
def copy_job(job, user, name):
    """A job with the same zones, measures and plans, and nothing logged."""
    copy = Job.objects.create(
        name=name, owner_label=job.owner_label, standard=job.standard, road=job.road, film_by=job.film_by
    )
    for zone in job.zones.in_use().filter(parent=None):
        new = add_zone(copy, zone.name, user, zone.panel, cells=drawn_at(zone), **measures_of(zone))
        copy_plan(zone, new, user)
    return copy


@owners_only
def file_job(job, user, filing):
    """Open, close or archive a job."""
    job.filing = filing
    job.save(update_fields=["filing"])
    return job


@writes
@transaction.atomic
def remove(thing, user, has_entries):
    """Delete a job or zone on which nothing was logged or found; a job by an owner alone. Raises Refused otherwise."""
    if isinstance(thing, Job) and not user.is_owner:
        raise Refused("only an owner may delete a job")
    if has_entries:
        instead = "close or archive it instead" if isinstance(thing, Job) else "retire it instead"
        raise Refused(f"“{thing}” has entries or findings, which are kept: {instead}")
    thing.removed = True
    thing.save(update_fields=["removed"])
    if isinstance(thing, Job):
        thing.zones.update(removed=True)
