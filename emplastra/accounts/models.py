"""People and their workshop."""

from zoneinfo import ZoneInfo

from django.contrib.auth.models import AbstractUser
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from emplastra.core.product.film import UNEVEN_BRUSHED, UNEVEN_SPRAYED
from emplastra.core.surface.clocks import PROMPT_S


class Role(models.TextChoices):
    OWNER = "owner", "Owner"
    REFINISHER = "refinisher", "Refinisher"
    VIEWER = "viewer", "Viewer"


class User(AbstractUser):
    """Somebody at the bench. Deactivated, never deleted: the record names them."""

    role = models.CharField(max_length=12, choices=Role.choices, default=Role.VIEWER)
    # When they are at the bench, as shop hours are typed; blank: as the shop is open, "none": never.
    bench_hours = models.CharField(max_length=200, blank=True)

    @property
    def may_write(self):
        """True for those who may log."""
        return self.role in {Role.OWNER, Role.REFINISHER}

    @property
    def is_owner(self):
        """True for owners."""
        return self.role == Role.OWNER


class FeedLink(models.Model):
    """Somebody's private calendar address: what opens it is kept as its digest alone. Revoked, it never opens again.

    quiet_from, quiet_to: hours of the day between which no alarm sounds [min of the day]; lead_min: an alarm comes so
    long before [min].
    """

    user = models.ForeignKey(User, on_delete=models.PROTECT, related_name="feed_links")
    digest = models.CharField(max_length=64, unique=True)
    made = models.DateTimeField()
    revoked = models.DateTimeField(null=True)
    quiet_from = models.PositiveSmallIntegerField(default=21 * 60)
    quiet_to = models.PositiveSmallIntegerField(default=6 * 60)
    lead_min = models.PositiveSmallIntegerField(default=45)

    def __str__(self):
        return f"{self.user} {self.made:%Y-%m-%d}"


class Units(models.TextChoices):
    METRIC = "metric", "Metric (µm, m², mL, °C)"
    US = "us", "US (mil, sq ft, fl oz, °F)"


class Workshop(models.Model):
    """The one workshop: its name, zone, units and what it assumes where nothing is logged."""

    name = models.CharField(max_length=80, default="Workshop")
    time_zone = models.CharField(max_length=60, default="UTC")
    units = models.CharField(max_length=8, choices=Units.choices, default=Units.METRIC)
    assumed_air_c = models.FloatField(default=18.0, validators=[MinValueValidator(-30), MaxValueValidator(50)])
    assumed_rh_pct = models.FloatField(default=55.0, validators=[MinValueValidator(1), MaxValueValidator(100)])

    latitude = models.FloatField(null=True, validators=[MinValueValidator(-90), MaxValueValidator(90)])
    longitude = models.FloatField(null=True, validators=[MinValueValidator(-180), MaxValueValidator(180)])
    wet_prompt_min = models.FloatField(default=PROMPT_S / 60, validators=[MinValueValidator(1), MaxValueValidator(120)])
    uneven_sprayed = models.FloatField(default=UNEVEN_SPRAYED, validators=[MinValueValidator(1), MaxValueValidator(3)])
    uneven_brushed = models.FloatField(default=UNEVEN_BRUSHED, validators=[MinValueValidator(1), MaxValueValidator(3)])
    hourly_rate = models.FloatField(default=60.0, validators=[MinValueValidator(0), MaxValueValidator(10000)])
    currency = models.CharField(max_length=4, default="€")
    open_hours = models.CharField(max_length=200, blank=True)
    guns = models.PositiveSmallIntegerField(default=1, validators=[MinValueValidator(1), MaxValueValidator(20)])

    def __str__(self):
        return self.name

    @property
    def zone(self):
        """Its time zone."""
        return ZoneInfo(self.time_zone)

    @classmethod
    def current(cls):
        """The workshop, unsaved defaults before it is set up."""
        return cls.objects.first() or cls()
