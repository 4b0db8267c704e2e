"""What was found on zones, taken off them, and put off. Nothing here is ever changed."""

from django.conf import settings
from django.db import models
from django.urls import reverse

from emplastra.core.survey import findings, topics
from emplastra.core.survey.answers import Answer
from emplastra.shared.appendonly import AppendOnly

from .piece import Job, Zone


class Told(AppendOnly):
    """Something somebody told."""

    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        abstract = True

    def __str__(self):
        return f"{type(self).__name__} {self.pk}"


class Finding(Told):
    """A statement about a zone: the newest of a pass, topic and mark holds.

    mark: which row of a topic that has several (a drain's number, a layer's place, a hiding place);
    choice: keys joined by "+"; values: figures by key, lengths in mm.
    """

    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="findings")
    stage = models.CharField("pass", max_length=6, choices=list(topics.STAGES.items()))
    topic = models.CharField(max_length=12, choices=[(k, t.question) for k, t in topics.TOPICS.items()])
    mark = models.CharField(max_length=14, blank=True)
    choice = models.CharField(max_length=80)
    values = models.JSONField(default=dict)
    text = models.CharField(max_length=200, blank=True)
    evidence = models.CharField(max_length=10, choices=list(topics.EVIDENCE.items()))
    step = models.CharField(max_length=40, blank=True)
    seen = models.DateTimeField()

    class Meta:
        indexes = [models.Index(fields=["zone", "topic", "mark"])]

    @property
    def answer(self):
        """The core's value."""
        return Answer(self.topic, self.mark, self.choice, self.values, self.text, self.evidence)

    def get_absolute_url(self):
        return reverse("survey:finding", args=[self.pk])


class FindingWord(Told):
    """Something said of a finding: its cause, its step, that it is verified."""

    finding = models.ForeignKey(Finding, on_delete=models.PROTECT, related_name="words")
    said = models.CharField(max_length=10, choices=list(findings.WORDS.items()))
    cause = models.CharField(max_length=14, blank=True, choices=[(k, v[0]) for k, v in findings.CAUSES.items()])
    step = models.CharField(max_length=40, blank=True)
    note = models.CharField(max_length=200, blank=True)


class Photo(Told):
    """A picture of a zone, re-encoded without its location; its file is named by its digest."""

    class When(models.TextChoices):
        BEFORE = "before", "Before"
        DURING = "during", "While at work"
        AFTER = "after", "After"

    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="photos")
    finding = models.ForeignKey(Finding, on_delete=models.PROTECT, null=True, related_name="photos")
    when = models.CharField(max_length=6, choices=When.choices)
    note = models.CharField(max_length=120, blank=True)
    sha256 = models.CharField(max_length=64)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()

    class Meta:
        ordering = ["id"]

    @property
    def name(self):
        """Its file under the media folder."""
        return f"photos/{self.sha256[:2]}/{self.sha256}.jpg"


class PartOff(Told):
    """A part that was taken off: with its fixings, its shims by place, what is broken and to buy."""

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="parts_off")
    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, null=True, related_name="parts_off")
    item = models.CharField(max_length=80)
    fixings = models.CharField(max_length=120, blank=True)
    shims = models.JSONField(default=list)
    broken = models.CharField(max_length=120, blank=True)
    to_buy = models.CharField(max_length=120, blank=True)
    kept_at = models.CharField(max_length=80, blank=True)

    class Meta:
        ordering = ["id"]


class PartWord(Told):
    """What became of a part."""

    class Said(models.TextChoices):
        BOUGHT = "bought", "Bought"
        MENDED = "mended", "Mended"
        REFITTED = "refitted", "Refitted"
        GONE = "gone", "Not refitted, on purpose"
        STRUCK = "struck", "Written down by mistake"

    part = models.ForeignKey(PartOff, on_delete=models.PROTECT, related_name="words")
    said = models.CharField(max_length=8, choices=Said.choices)
    note = models.CharField(max_length=120, blank=True)


class Watch(Told):
    """Work put off, or a thing that is watched: why, what holds it meanwhile, and when to look again."""

    class Kind(models.TextChoices):
        PUT_OFF = "put-off", "Put off"
        WATCHED = "watched", "Treated and watched"

    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="watches")
    kind = models.CharField(max_length=8, choices=Kind.choices)
    what = models.CharField(max_length=120)
    why = models.CharField(max_length=200)
    holding = models.CharField("holding coat", max_length=80, blank=True)
    expires = models.DateField("holds until", null=True)
    next_look = models.DateField()


class WatchLook(Told):
    """A look at it: what was found, and when to look next; none: it is over."""

    watch = models.ForeignKey(Watch, on_delete=models.PROTECT, related_name="looks")
    found = models.CharField(max_length=200)
    next_look = models.DateField(null=True)
    expires = models.DateField(null=True)
