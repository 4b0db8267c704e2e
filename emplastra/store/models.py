"""Tins and cans: what stands on the shelf, by the maker's batch number, and what was told of each."""

from django.conf import settings
from django.db import models

from emplastra.climate.models import Place
from emplastra.core.buying.stock import Happened
from emplastra.jobs.models import Zone
from emplastra.materials.models import Product
from emplastra.shared.appendonly import AppendOnly


class Tin(models.Model):
    """A tin, can or bottle of one part of a product. What happened to it is told by its facts; a tin that was only
    named when it was poured from has none.

    number: which of its batch; kit: what base and hardener that came together have in common, "" where nothing.
    """

    product = models.ForeignKey(Product, on_delete=models.PROTECT, related_name="tins")
    part = models.CharField(max_length=40)
    batch = models.CharField(max_length=40)
    number = models.PositiveIntegerField(default=1)
    kit = models.CharField(max_length=40, blank=True)
    use_by = models.DateField(null=True, blank=True)
    opened = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["product", "part", "use_by", "id"]
        constraints = [
            models.UniqueConstraint(fields=["product", "part", "batch", "number"], name="one_tin_per_number")
        ]

    def __str__(self):
        return f"{self.product}, {self.part}, batch {self.batch}" + (f" no. {self.number}" if self.number > 1 else "")

    @property
    def code(self):
        """What its label says, to be typed or scanned."""
        return f"T{self.pk}"


class Recall(AppendOnly):
    """A batch is bad, or was said to be; until it is lifted, nothing is poured from it."""

    product = models.ForeignKey(Product, on_delete=models.PROTECT, related_name="+")
    part = models.CharField(max_length=40)
    batch = models.CharField(max_length=40)
    why = models.CharField(max_length=200)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["id"]

    def __str__(self):
        return f"{self.product}, batch {self.batch}: {self.why}"


class Lifted(AppendOnly):
    """A recall that holds no more, and why."""

    recall = models.OneToOneField(Recall, on_delete=models.PROTECT, related_name="lifted")
    why = models.CharField(max_length=200)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    def __str__(self):
        return f"{self.recall}: lifted"


class Dealt(AppendOnly):
    """What was done about a recalled batch on one face."""

    recall = models.ForeignKey(Recall, on_delete=models.PROTECT, related_name="dealt")
    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="+")
    what = models.CharField(max_length=200)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["id"]

    def __str__(self):
        return f"{self.recall}, {self.zone}: {self.what}"


class TinFact(AppendOnly):
    """Something told of a tin: that it came in, was opened, weighed, moved or emptied, that some of it is kept for
    something to come, or that a fact was wrong.

    amount: its size (in), what it held (weighed) or what is kept of it, in `unit`, mL or g.
    """

    VOID = "void"
    KINDS = [
        (Happened.IN.value, "Came in"),
        (Happened.OPENED.value, "Opened"),
        (Happened.WEIGHED.value, "Looked into"),
        (Happened.MOVED.value, "Moved"),
        (Happened.KEPT.value, "Kept"),
        (Happened.EMPTIED.value, "Emptied"),
        (VOID, "Taken back"),
    ]

    tin = models.ForeignKey(Tin, on_delete=models.PROTECT, related_name="facts")
    kind = models.CharField(max_length=8, choices=KINDS)
    at = models.DateTimeField()
    amount = models.FloatField(null=True)
    unit = models.CharField(max_length=2, blank=True, choices=[("mL", "mL"), ("g", "g")])
    price = models.DecimalField(max_digits=10, decimal_places=2, null=True)
    place = models.ForeignKey(Place, on_delete=models.PROTECT, null=True, related_name="+")
    note = models.CharField(max_length=200, blank=True)
    voids = models.OneToOneField("self", on_delete=models.PROTECT, null=True, related_name="voided_by")
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["at", "id"]

    def __str__(self):
        return f"{self.tin}: {self.get_kind_display()}"
