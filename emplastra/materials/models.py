"""Products, their data sheets, and coating systems."""

from django.conf import settings
from django.db import models

from emplastra.shared.appendonly import AppendOnly


class Product(models.Model):
    """What can be applied. Its figures are in its sheets' revisions.

    retired: no longer bought; kept wherever it is used. superseded_by: what took its place, whose figures are its own.
    """

    name = models.CharField(max_length=80, unique=True)
    kind = models.CharField(max_length=40)
    retired = models.BooleanField(default=False)
    superseded_by = models.ForeignKey("self", on_delete=models.PROTECT, null=True, related_name="supersedes")

    class Meta:
        ordering = ["kind", "name"]

    def __str__(self):
        return self.name


class SheetRevision(AppendOnly):
    """One immutable revision of a data sheet: the validated document and its hash."""

    class Why(models.TextChoices):
        MAKER = "maker", "the maker's new sheet"
        TYPING = "typing", "our typing error in an earlier revision"

    product = models.ForeignKey(Product, on_delete=models.PROTECT, related_name="revisions")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    sha256 = models.CharField(max_length=64)
    why = models.CharField(max_length=8, choices=Why.choices, default=Why.MAKER)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+", null=True)

    class Meta:
        ordering = ["product", "-number"]
        constraints = [models.UniqueConstraint(fields=["product", "number"], name="one_revision_per_number")]

    def __str__(self):
        return f"{self.product} rev {self.number}"


class LabelPhoto(AppendOnly):
    """A picture of a tin's label, re-encoded without its location; its file is named by its digest."""

    product = models.ForeignKey(Product, on_delete=models.PROTECT, related_name="labels")
    sha256 = models.CharField(max_length=64)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-id"]

    @property
    def name(self):
        """Its file under the media folder."""
        return f"photos/{self.sha256[:2]}/{self.sha256}.jpg"

    def __str__(self):
        return f"label of {self.product}"


class System(models.Model):
    """A coating system: a reusable ordered list of steps, belonging to a school.

    retired: no longer offered; plans that were made of it keep it.
    """

    name = models.CharField(max_length=80, unique=True)
    school = models.CharField(max_length=80, blank=True)
    retired = models.BooleanField(default=False)

    class Meta:
        ordering = ["name"]

    def __str__(self):
        return self.name


class SystemVersion(AppendOnly):
    """One version of a system: its steps, and what it says of itself (about: fields of system_file.ABOUT)."""

    system = models.ForeignKey(System, on_delete=models.PROTECT, related_name="versions")
    number = models.PositiveIntegerField()
    steps = models.JSONField()
    max_total_um = models.FloatField(null=True)
    about = models.JSONField(default=dict)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+", null=True)

    class Meta:
        ordering = ["system", "-number"]
        constraints = [models.UniqueConstraint(fields=["system", "number"], name="one_system_version_per_number")]

    def __str__(self):
        return f"{self.system} v{self.number}"
