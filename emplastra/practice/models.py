"""Practices: a scenario, a piece, a weather, acts. Nothing of the workshop is named by them, nor names them."""

from django.conf import settings
from django.db import models


class Run(models.Model):
    """A practice: what it comes to is played anew from its seed and its acts each time.

    acts: [{do, ...}] in order; again_of: the one that it goes on from in another way.
    """

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    scenario = models.CharField(max_length=20)
    piece = models.CharField(max_length=20)
    seed = models.PositiveIntegerField()
    acts = models.JSONField(default=list)
    version = models.PositiveIntegerField(default=0)
    made = models.DateTimeField()
    again_of = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["-id"]

    def __str__(self):
        return f"{self.scenario}, {self.piece}"
