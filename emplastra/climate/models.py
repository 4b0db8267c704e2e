"""Places and the air logged in them."""

from django.conf import settings
from django.db import models

from emplastra.shared.appendonly import AppendOnly


class Place(models.Model):
    """Where air is logged and pieces stand."""

    class Kind(models.TextChoices):
        BOOTH = "booth", "Booth"
        SHOP = "shop", "Shop"
        YARD = "yard", "Yard"
        TRANSIT = "transit", "In transit"
        CONTRACTOR = "contractor", "Contractor"

    name = models.CharField(max_length=60, unique=True)
    kind = models.CharField(max_length=12, choices=Kind.choices, default=Kind.SHOP)
    in_use = models.BooleanField(default=True)

    class Meta:
        ordering = ["id"]

    def __str__(self):
        return self.name


class ImportBatch(AppendOnly):
    """One imported log file: all of its readings or none."""

    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="batches")
    filename = models.CharField(max_length=200)
    sha256 = models.CharField(max_length=64)
    rows = models.PositiveIntegerField()
    skipped = models.PositiveIntegerField(default=0)
    read_as = models.JSONField(default=dict)
    first = models.DateTimeField()
    last = models.DateTimeField()
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-id"]

    def __str__(self):
        return self.filename


class WithdrawalBase(AppendOnly):
    """Something that is no longer used, and why; it stays in the record."""

    reason = models.CharField(max_length=200)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        abstract = True

    def __str__(self):
        return f"withdrawn: {self.reason}"


class Withdrawal(WithdrawalBase):
    """A batch that is no longer used; its readings stay."""

    batch = models.OneToOneField(ImportBatch, on_delete=models.PROTECT, related_name="withdrawal")


class Reading(AppendOnly):
    """Air at a moment: from a log (with its batch) or typed with an entry (without)."""

    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="readings")
    batch = models.ForeignKey(ImportBatch, on_delete=models.PROTECT, related_name="readings", null=True)
    at = models.DateTimeField()
    air_c = models.FloatField()
    rh_pct = models.FloatField()
    surface_c = models.FloatField(null=True)

    class Meta:
        indexes = [models.Index(fields=["place", "at"])]
        constraints = [
            models.CheckConstraint(condition=models.Q(rh_pct__gt=0, rh_pct__lte=100), name="reading_rh_in_range"),
            models.CheckConstraint(condition=models.Q(air_c__gte=-45, air_c__lte=60), name="reading_air_in_range"),
        ]

    def __str__(self):
        return f"{self.at:%Y-%m-%d %H:%M} {self.air_c} °C {self.rh_pct} %"


class Forecast(AppendOnly):
    """What was forecast of a place: hours as [epoch s, °C, dew point °C], rising in time; sky: rain and wind of them as
    [epoch s, mm, m/s], None where it does not tell, none at all where it tells neither.
    """

    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="forecasts")
    filename = models.CharField(max_length=200)
    sha256 = models.CharField(max_length=64)
    issued = models.DateTimeField()
    last = models.DateTimeField()
    hours = models.JSONField()
    sky = models.JSONField(default=list)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-issued", "-id"]

    def __str__(self):
        return self.filename


class ForecastWithdrawal(WithdrawalBase):
    """A forecast that is no longer used."""

    forecast = models.OneToOneField(Forecast, on_delete=models.PROTECT, related_name="withdrawal")


class ImportDraft(models.Model):
    """A file that was sent and waits for its shape to be confirmed; gone once it is imported."""

    place = models.ForeignKey(Place, on_delete=models.CASCADE, related_name="+")
    filename = models.CharField(max_length=200)
    data = models.BinaryField()
    is_forecast = models.BooleanField(default=False)
    made = models.DateTimeField()
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    def __str__(self):
        return self.filename
