"""Verdicts accepted with a reason, and the schools that a workshop or a job holds."""

from django.db import models

from emplastra.core.rules import SCHOOLS

from .found import Told
from .piece import Job, Zone


class Acceptance(Told):
    """A verdict that somebody accepted: it holds for the key, and lapses when the facts behind it change."""

    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="acceptances")
    rule = models.CharField(max_length=40)
    key = models.CharField(max_length=160)
    sentence = models.CharField(max_length=400)
    reason = models.CharField(max_length=200)

    class Meta:
        indexes = [models.Index(fields=["zone", "key"])]


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
