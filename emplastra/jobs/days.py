"""The plan of days: taken, its hours told, single acts put on a day."""

from datetime import timedelta

from django.db import transaction
from django.db.models import Max

from emplastra.shared.services import Refused, writes

from .models import ActDay, DaysPlan, HoursTold, Lies, Paid

LONGEST = timedelta(days=400)
TIMELESS = frozenset({ActDay.Kind.FREE, ActDay.Kind.KEY, ActDay.Kind.POT})
"""What is told of an act without a day."""


def held_plan():
    """The plan that was taken last, None before the first."""
    return DaysPlan.objects.select_related("who").order_by("number").last()


def plans_before(number, most=3):
    """The last plans that were taken before one, the newest first."""
    return list(DaysPlan.objects.filter(number__lt=number).order_by("-number")[:most])


@writes
@transaction.atomic
def take_plan(user, acts, says, based_on):
    """Take a plan. based_on: number of the plan that held when it was made (0: none). Raises Refused if another was
    taken since.
    """
    held = DaysPlan.objects.aggregate(last=Max("number"))["last"] or 0
    if held != based_on:
        raise Refused("somebody took another plan meanwhile: look at it, then plan again", "based_on")
    return DaysPlan.objects.create(number=held + 1, acts=acts, says=says, who=user)


def hours_told(since):
    """What was told of hours that reaches past a moment (aware) and was not taken back."""
    rows = HoursTold.objects.filter(ends__gt=since, strikes=None, struck=None)
    return list(rows.select_related("person", "place").order_by("begins", "id"))


@writes
@transaction.atomic
def tell_hours(user, kind, begins, ends, person=None, place=None, kelvin=None, note=""):
    """That somebody is away or in, or something shut or warmed. Raises Refused naming the field."""
    if kind not in HoursTold.Kind.values:
        raise Refused(f"must be one of {', '.join(HoursTold.Kind.values)}", "kind")
    if ends <= begins:
        raise Refused("ends before it begins", "ends")
    if ends - begins > LONGEST:
        raise Refused("is longer than 400 days", "ends")
    if kind == HoursTold.Kind.AWAY and person is None:
        raise Refused("say who is away", "person")
    if kind == HoursTold.Kind.WARM and (place is None or not kelvin or not 0 < kelvin <= 20):
        raise Refused("say which place is warmed, and by how much, up to 20 K", "place" if place is None else "kelvin")
    return HoursTold.objects.create(
        kind=kind, person=person, place=place, begins=begins, ends=ends, kelvin=kelvin, note=note[:120], who=user
    )


@writes
@transaction.atomic
def strike_hours(user, row):
    """Take back what was told of hours. Raises Refused if somebody did already."""
    return _strike(row, user, "kind", "person", "place", "begins", "ends", "kelvin", note="taken back")


def _strike(row, user, *names, **more):
    """A row that takes back another of its model, like it in these fields; more: what differs."""
    rows = type(row).objects
    if row.struck_id is not None or rows.filter(struck=row).exists():
        raise Refused("somebody took that back already")
    return rows.create(**{name: getattr(row, name) for name in names}, **more, struck=row, who=user)


def lies_of(zones):
    """{zone id: how its piece lies while it is worked on} where that was told."""
    found = dict(Lies.objects.filter(zone__in=zones).order_by("id").values_list("zone_id", "how"))
    return {pk: how for pk, how in found.items() if how}


@writes
@transaction.atomic
def tell_lie(user, zone, how):
    """How a piece lies while a face of it is worked on. Raises Refused naming the field."""
    if how not in Lies.How.values:
        raise Refused(f"must be one of {', '.join(filter(None, Lies.How.labels))}", "how")
    return Lies.objects.create(zone=zone, how=how, who=user)


def paid_for(job):
    """What was paid, or is to be, for a job and was not taken back, in order."""
    return list(Paid.objects.filter(job=job, strikes=None, struck=None).select_related("who").order_by("id"))


@writes
@transaction.atomic
def tell_paid(user, job, kind, what, amount, still=False):
    """Money that went, or is to go, for a job. Raises Refused naming the field."""
    if kind not in Paid.Kind.values:
        raise Refused(f"must be one of {', '.join(Paid.Kind.values)}", "kind")
    if not 0 < amount <= 1e7:
        raise Refused("must be above 0 and at most 10,000,000", "amount")
    return Paid.objects.create(job=job, kind=kind, what=what[:120], amount=amount, still=still, who=user)


@writes
@transaction.atomic
def strike_paid(user, row):
    """Take back what was told of money. Raises Refused if somebody did already."""
    return _strike(row, user, "job", "kind", "what", "amount", "still")


def act_days(zones):
    """{(zone id, act): the newest row of it} of these zones; free ones left out."""
    found = {(row.zone_id, row.act): row for row in ActDay.objects.filter(zone__in=zones).order_by("id")}
    return {key: row for key, row in found.items() if row.kind != ActDay.Kind.FREE}


@writes
@transaction.atomic
def put_act(user, zone, act, kind, at=None, note=""):
    """When an act of a zone's plan is to be done. Raises Refused naming the field."""
    if kind not in ActDay.Kind.values:
        raise Refused(f"must be one of {', '.join(ActDay.Kind.values)}", "kind")
    if kind not in TIMELESS and at is None:
        raise Refused("say on which day", "at")
    if not zone.is_in_use:
        raise Refused("no more work is done on it")
    return ActDay.objects.create(zone=zone, act=act[:80], kind=kind, at=at, note=note[:120], who=user)
