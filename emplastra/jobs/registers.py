"""Parts that were taken off, and work that was put off or is watched."""

from django.db.models import DateField, F, OuterRef, Q, Subquery
from django.db.models.functions import Coalesce

from emplastra.core.units import UnitError, parse_quantity
from emplastra.shared.services import Refused, writes

from .models import PartOff, PartWord, Watch, WatchLook

OVER = {PartWord.Said.REFITTED, PartWord.Said.GONE, PartWord.Said.STRUCK}
"""What is said of a part that is off no more."""


def read_shims(text, unit="mm"):
    """[[place, mm], ...] from "front left 2 mm; rear 1.5". Raises Refused naming the one that is not understood."""
    found = []
    for piece in filter(None, (p.strip() for p in text.replace("\n", ";").split(";"))):
        place, _, size = piece.rpartition(" ")
        if not any(c.isdigit() for c in size):  # the unit stands apart: "rear 1.5 mm"
            place, _, number = place.rpartition(" ")
            size = f"{number} {size}"
        try:
            mm = parse_quantity(size, "length", unit).value
        except UnitError as error:
            raise Refused(
                f"“{piece}”: {error}; write place and thickness, as in “front left 2 mm; rear 1.5 mm”", "shims"
            ) from error
        if not place.strip() or not 0 < mm <= 100:
            raise Refused(f"“{piece}”: name the place, then a thickness up to 100 mm", "shims")
        found.append([place.strip(), mm])
    return found


@writes
def take_off(job, user, item, zone=None, **details):
    """Write down a part that was taken off. details: fields of PartOff."""
    return PartOff.objects.create(job=job, zone=zone, item=item, who=user, **details)


@writes
def say_of_part(part, user, said, note=""):
    """What became of a part. Raises Refused if it cannot be said."""
    if said not in PartWord.Said.values:
        raise Refused(f"must be one of {', '.join(PartWord.Said.values)}")
    if part.words.filter(said__in=OVER).exists():
        raise Refused(f"{part.item} is off no more")
    return PartWord.objects.create(part=part, said=said, note=note[:120], who=user)


def parts_of(job):
    """[(part, set of what was said)] of a job but those written down by mistake, in two queries."""
    rows = PartOff.objects.filter(job=job).select_related("zone", "who").prefetch_related("words")
    told = [(part, {word.said for word in part.words.all()}) for part in rows]
    return [(part, said) for part, said in told if PartWord.Said.STRUCK not in said]


def still_off(zone):
    """Parts of a zone, or of its job as a whole, that are off."""
    rows = PartOff.objects.filter(Q(zone=zone) | Q(zone=None, job=zone.job_id))
    return rows.exclude(words__said__in=OVER)


@writes
def put_off(zone, user, kind, what, why, next_look, holding="", expires=None):
    """Put work off, or watch something. Raises Refused if its coat would hold for less than until the next look."""
    if expires and next_look > expires:
        raise Refused(f"must be before the holding coat’s end on {expires:%d %b %Y}", "next_look")
    return Watch.objects.create(
        zone=zone, kind=kind, what=what, why=why, holding=holding, expires=expires, next_look=next_look, who=user
    )


@writes
def look_at(watch, user, found, next_look=None, expires=None):
    """A look at what was put off: none to come means that it is over. Raises Refused if it is over already."""
    newest = watch.looks.order_by("id").last()
    if newest is not None and newest.next_look is None:
        raise Refused("it is over: put it off anew")
    return WatchLook.objects.create(watch=watch, found=found, next_look=next_look, expires=expires, who=user)


def watches():
    """Watches that go on, each with `due` (the next look) and `holds` (until when its coat holds, or None): one
    query.
    """
    newest = WatchLook.objects.filter(watch=OuterRef("pk")).order_by("-id")
    rows = Watch.objects.filter(zone__removed=False, zone__retired="", zone__job__removed=False).annotate(
        looked=Subquery(newest.values("pk")[:1]),
        again=Subquery(newest.values("next_look")[:1], output_field=DateField()),
        holds=Coalesce(Subquery(newest.values("expires")[:1], output_field=DateField()), F("expires")),
    )
    rows = rows.exclude(looked__isnull=False, again__isnull=True).annotate(due=Coalesce("again", "next_look"))
    return rows.select_related("zone__job").order_by("due", "id")
