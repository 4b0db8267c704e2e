"""Scales and film gauges, and the vessels that were tared on scales."""

from django.conf import settings
from django.db import models

from emplastra.core.weigh.lines import SHIPPED
from emplastra.logbook.models import Entry
from emplastra.shared.appendonly import AppendOnly

STAND_IN = "stand-in"


class Scale(models.Model):
    """A scale, or a film gauge: where it is read, and how it writes its lines.

    address: a serial port, "socket://host:port", or "stand-in"; pattern: a key of SHIPPED, or "typed" with the text in
    `typed`; step_g: what it resolves [g], None for the last place of what it writes.
    """

    PATTERNS = [*((key, text) for key, text in SHIPPED.items()), ("typed", "as typed below")]

    class Reads(models.TextChoices):
        MASS = "mass", "a scale"
        FILM = "film", "a film gauge"

    name = models.CharField(max_length=60, unique=True)
    reads = models.CharField("what it is", max_length=4, choices=Reads.choices, default=Reads.MASS)
    address = models.CharField(max_length=120)
    baud = models.PositiveIntegerField(default=9600)
    pattern = models.CharField(max_length=8, choices=PATTERNS, default="plain")
    typed = models.CharField(max_length=120, blank=True)
    step_g = models.FloatField(null=True)
    in_use = models.BooleanField(default=True)

    class Meta:
        ordering = ["id"]

    def __str__(self):
        return self.name

    @property
    def pattern_text(self):
        """How it writes its lines."""
        return self.typed if self.pattern == "typed" else SHIPPED[self.pattern]

    @property
    def is_gauge(self):
        """True if it reads film."""
        return self.reads == self.Reads.FILM

    @property
    def is_stand_in(self):
        """True if there is none: it is played."""
        return self.address == STAND_IN


class Tare(AppendOnly):
    """A pot was put on a scale: what the scale said then [g] stands for what the pot had in it [g]."""

    pot = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="+")
    scale = models.ForeignKey(Scale, on_delete=models.PROTECT, related_name="+")
    grams = models.FloatField()
    shown = models.FloatField()
    sample = models.CharField(max_length=40)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["id"]

    def __str__(self):
        return f"{self.pot_id} on {self.scale}: {self.grams:g} g"
