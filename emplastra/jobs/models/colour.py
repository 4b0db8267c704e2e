"""The colour of a group of faces: what it is mixed by, its spray-out cards, the number of mid-coats."""

from functools import cached_property

from django.db import models

from emplastra.core.colour.card import LIMIT, Card
from emplastra.core.colour.lab import Lab

from .found import Told
from .piece import Job


class ColourCard(Told):
    """A spray-out card as it was typed or read in, and its colours [[coats, L, a, b], ...]; sample [L, a, b]: what is
    to be matched, None for none; coat_um: film of one mid-coat on it; over: the ground it was sprayed over.
    """

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="colour_cards")
    group = models.CharField(max_length=40)
    made = models.DateField()
    text = models.TextField()
    patches = models.JSONField()
    sample = models.JSONField(null=True)
    coat_um = models.FloatField(null=True)
    over = models.CharField(max_length=80, blank=True)

    @cached_property
    def card(self):
        """The core's value."""
        return Card(tuple((n, Lab(*lab)) for n, *lab in self.patches), Lab(*self.sample) if self.sample else None)


class Colour(Told):
    """What a colour group of a job is painted with; the newest row of a group holds.

    mids: the number of mid-coats, None while none is told; card: from which it was chosen, None where by eye; limit:
    how far two faces may differ (CIEDE2000); kept: where what is left of the batch and the card lie; undertone: the
    product that lies under its translucent films, awaited: when that comes, where the shop has none.
    """

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="colours")
    group = models.CharField(max_length=40)
    name = models.CharField(max_length=80, blank=True)
    formula = models.CharField(max_length=120, blank=True)
    variant = models.CharField(max_length=80, blank=True)
    batch = models.CharField(max_length=80, blank=True)
    kept = models.CharField(max_length=120, blank=True)
    mids = models.PositiveSmallIntegerField(null=True)
    card = models.ForeignKey(ColourCard, on_delete=models.PROTECT, null=True, related_name="chosen_by")
    limit = models.FloatField(default=LIMIT)
    undertone = models.CharField(max_length=80, blank=True)
    awaited = models.DateField(null=True)

    class Meta:
        indexes = [models.Index(fields=["job", "group"])]


class GunSetting(Told):
    """How a gun of a method was measured and is held; the newest row of a method holds.

    told: {field of the pass: figure in the core's unit}, only what somebody measured.
    """

    method = models.CharField(max_length=14)
    told = models.JSONField()

    class Meta:
        indexes = [models.Index(fields=["method"])]
