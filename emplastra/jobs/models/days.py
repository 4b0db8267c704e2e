"""The plan of days that was taken, what was told of hours, and days told of single acts."""

from django.conf import settings
from django.db import models

from emplastra.climate.models import Place

from .found import Told
from .piece import Job, Zone


class DaysPlan(Told):
    """A plan of days that somebody took; the newest holds.

    acts: [{id, zone, step, coat, job, name, kind, begin, end, who}], moments in epoch seconds; says: what it came to
    when it was taken (jobs' ends, misses, what it rests on).
    """

    number = models.PositiveIntegerField(unique=True)
    acts = models.JSONField()
    says = models.JSONField(default=dict)


class HoursTold(Told):
    """That somebody is away or in, or the shop, or a place, shut or warmed, from one moment to another.

    person and place empty: of the whole workshop. struck: the row that this one takes back.
    """

    class Kind(models.TextChoices):
        AWAY = "away", "Away"
        IN = "in", "In besides the usual hours"
        SHUT = "shut", "Shut"
        WARM = "warm", "Warmed"

    kind = models.CharField(max_length=4, choices=Kind.choices)
    person = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, blank=True, related_name="+"
    )
    place = models.ForeignKey(Place, on_delete=models.PROTECT, null=True, blank=True, related_name="+")
    begins = models.DateTimeField()
    ends = models.DateTimeField()
    kelvin = models.FloatField(null=True)
    note = models.CharField(max_length=120, blank=True)
    struck = models.OneToOneField("self", on_delete=models.PROTECT, null=True, related_name="strikes")


class Paid(Told):
    """Money that went, or is to go, for a job to somebody outside, or for what no sheet prices; struck: the row that
    this one takes back.
    """

    class Kind(models.TextChoices):
        CONTRACTOR = "contractor", "Contractor"
        MATERIAL = "material", "Material"
        OTHER = "other", "Other"

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="paid")
    kind = models.CharField(max_length=10, choices=Kind.choices)
    what = models.CharField(max_length=120)
    amount = models.FloatField()
    still = models.BooleanField("still to be paid", default=False)
    struck = models.OneToOneField("self", on_delete=models.PROTECT, null=True, related_name="strikes")


class Lies(Told):
    """How a piece lies while a face of it is worked on; the newest row of a face holds."""

    class How(models.TextChoices):
        STANDS = "", "as it stands"
        UPRIGHT = "upright", "upright"
        OVER = "over", "upside down"
        SIDE = "side", "on its side"
        RAISED = "raised", "raised, on stands"

    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="lies")
    how = models.CharField(max_length=8, choices=How.choices, blank=True)


class ActDay(Told):
    """When one act of a zone's plan is to be done; the newest row of each holds.

    fixed: it begins then; day: on that day; wished: on that day if it can; after: not before, for something is awaited;
    key: its window is let go and the face keyed again; pot: from a pot of its own; free: whenever.
    """

    class Kind(models.TextChoices):
        DAY = "day", "On this day"
        FIXED = "fixed", "At this hour"
        WISHED = "wished", "On this day if it can"
        AFTER = "after", "Not before"
        KEY = "key", "Let it close, key again"
        POT = "pot", "From a pot of its own"
        FREE = "free", "Whenever"

    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="act_days")
    act = models.CharField(max_length=80)
    kind = models.CharField(max_length=6, choices=Kind.choices)
    at = models.DateTimeField(null=True)
    note = models.CharField(max_length=120, blank=True)

    class Meta:
        indexes = [models.Index(fields=["zone", "act"])]
