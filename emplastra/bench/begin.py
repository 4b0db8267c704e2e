"""A workshop in which nothing was logged yet, led by its steps: each is done on its own page, and then gone."""

from dataclasses import dataclass

from emplastra.climate.models import Place, Reading
from emplastra.jobs.models import BuildUpVersion, Job, Zone
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.models import Product
from emplastra.shared.links import Go


@dataclass(frozen=True)
class Step:
    """One thing to do first: what for, the button's words, and the page; may_wait: the next may be done before it."""

    name: str
    why: str
    button: str
    go: Go
    may_wait: bool = False


def first_steps(book, user):
    """Steps that are still to do, in their order; none for who may only look, or once work was logged."""
    if not user.may_write or any(each.events for each in book.facts.zones.values()):
        return []
    if Entry.objects.exclude(kind=Kind.MOVED).exists():
        return []
    zone = Zone.objects.in_use().filter(job__removed=False, job__filing=Job.Filing.OPEN).order_by("pk").first()
    job = zone.job if zone else Job.objects.filter(removed=False, filing=Job.Filing.OPEN).order_by("pk").first()
    return list(_to_do(book, user, job, zone))


def _to_do(book, user, job, zone):
    """Steps whose page has not been used yet. A page that needs what is not there yet is named without a link to it."""
    is_there = Place.objects.exists()
    if not is_there and user.is_owner:
        why = "The shop, a shed, outdoors: what stands there has its air."
        yield Step("A place", why, "Add a place", Go("climate:places"))
    if not Product.objects.exists():
        why = "Read one tin’s label in, field by field, or take the starter shelf; what is not told stays open."
        yield Step("A tin on the shelf", why, "Fill the shelf", Go("materials:list"))
    if job is None:
        yield Step("A job", "The piece, and the standard it is made to.", "Make a job", Go("jobs:new"))
    elif zone is None:
        why = "A surface of one metal that gets one build-up, for example “cab side, left, outer”."
        yield Step("A zone", why, "Make a zone", Go("jobs:new-zone", (job.pk,)))
    else:
        if not BuildUpVersion.objects.filter(zone__job=job).exists():
            why = "What is to be done to it, in order: put steps in, or take a ready way of working."
            yield Step("Its plan", why, "Plan it", Go("plans:build-up", (zone.pk,)))
        if is_there and not Entry.objects.filter(zones__job=job, kind=Kind.MOVED).exists():
            go = Go("work:log", (zone.pk, "moved"))
            yield Step("Where it stands", "So that the air of that place counts.", "Say where", go)
        why = "What was done to it, and when: from then on the clocks run."
        yield Step("The first act", why, "Log it", Go("work:log-start", (zone.pk,)))
    if is_there and not Reading.objects.exists():
        why = "Import a logger’s file or type a reading; until then it is assumed, and says so."
        yield Step("Its air", why, "Log the air", Go("climate:air"), may_wait=True)
