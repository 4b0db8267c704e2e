"""Verdicts accepted with a reason, and the schools that a workshop or a job holds."""

from functools import cached_property

from django.db import models

from emplastra.core.metal.repair import HAD, OPTIONS, WORK, Proposal
from emplastra.core.metal.solder import ALLOYS
from emplastra.core.rules.facts import Fact
from emplastra.core.rules.registry import SCHOOLS

from .found import Told
from .piece import Job, Zone


class Acceptance(Told):
    """A verdict that somebody accepted: it holds while the facts that its rule read are the same, or no worse.

    subject: the act that it is of; key: which verdict of it; facts: [name, value, worse, step] each, None for one of
    before facts were kept, which holds no longer.
    """

    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="acceptances")
    rule = models.CharField(max_length=40)
    key = models.CharField(max_length=160)
    sentence = models.CharField(max_length=400)
    reason = models.CharField(max_length=200)
    subject = models.CharField(max_length=80, blank=True)
    facts = models.JSONField(null=True)

    class Meta:
        indexes = [models.Index(fields=["zone", "key"])]

    @cached_property
    def read(self):
        """The facts as the core compares them."""
        return tuple(Fact(*row) for row in self.facts or ())


class Quiet(Told):
    """A rule that is quiet for a job, or speaks again: the newest row of each holds."""

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="quiet")
    rule = models.CharField(max_length=40)
    quiet = models.BooleanField(default=True)
    reason = models.CharField(max_length=200)


class School(models.Model):
    """How a question of the trade is answered: for a job, or for the workshop where job is empty."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, null=True, related_name="schools")
    question = models.CharField(max_length=20, choices=[(k, words) for k, (words, _) in SCHOOLS.items()])
    answer = models.CharField(max_length=20)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["job", "question"], name="one_answer_per_job_and_question"),
            models.UniqueConstraint(fields=["question"], condition=models.Q(job=None), name="one_answer_per_question"),
        ]

    def __str__(self):
        return f"{self.question}: {self.answer}"


class Estimate(Told):
    """One thing that could be done about rotten metal; those of one opening are judged as a set."""

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="estimates")
    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, null=True, related_name="estimates")
    opening = models.CharField(max_length=80)
    option = models.CharField(max_length=10, choices=[(k, o.name) for k, o in OPTIONS.items()])
    pieces = models.PositiveSmallIntegerField(default=1)
    edge_mm = models.FloatField(default=0.0)
    unseen = models.PositiveSmallIntegerField("skins not seen", default=0)
    access_h = models.FloatField("hours to open and close", default=0.0)
    material = models.FloatField(default=0.0)
    price = models.FloatField(default=0.0)
    had = models.CharField("to be had", max_length=5, choices=list(HAD.items()), default="part")
    note = models.CharField(max_length=200, blank=True)
    void = models.BooleanField(default=False)
    struck = models.OneToOneField("self", on_delete=models.PROTECT, null=True, related_name="strikes")

    @property
    def piece(self):
        """The core's value."""
        return Proposal(
            self.option,
            self.pieces,
            self.edge_mm,
            self.unseen,
            self.material,
            self.price,
            self.had,
            str(self.zone_id or ""),
        )


class OwnerDecision(Told):
    """What the owner decided about a set; the newest holds."""

    class Decided(models.TextChoices):
        REPAIR = "repair", "Repair"
        REPLACE = "replace", "Replace"
        LEAVE = "leave", "Leave as it is"
        WATCH = "watch", "Treat and watch"
        OPEN = "open", "Not decided"

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="decisions")
    opening = models.CharField(max_length=80)
    decided = models.CharField(max_length=8, choices=Decided.choices)
    on = models.DateField()
    note = models.CharField(max_length=200, blank=True)


class WorkHours(Told):
    """Hours that a piece of work was planned at and took."""

    job = models.ForeignKey(Job, on_delete=models.PROTECT, null=True, related_name="work_hours")
    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, null=True, related_name="work_hours")
    kind = models.CharField(max_length=8, choices=list(WORK.items()))
    plan_h = models.FloatField()
    actual_h = models.FloatField()
    note = models.CharField(max_length=120, blank=True)


class AccessPlan(Told):
    """Openings, trial fits, closings and the work between them: one version."""

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="access_plans")
    number = models.PositiveIntegerField()
    acts = models.JSONField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "number"], name="one_access_plan_per_number")]


class SolderMoved(Told):
    """Solder that came out of a zone or went into it, weighed."""

    class Way(models.TextChoices):
        OUT = "out", "Out"
        IN = "in", "In"

    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="solder_moved")
    way = models.CharField(max_length=3, choices=Way.choices)
    alloy = models.CharField(max_length=10, choices=[(k, name) for k, (name, _) in ALLOYS.items()])
    mass_g = models.FloatField()
    note = models.CharField(max_length=120, blank=True)
