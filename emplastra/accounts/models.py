"""People and their workshop."""

from zoneinfo import ZoneInfo

from django.conf import settings
from django.contrib.auth.models import AbstractUser, UserManager
from django.contrib.sessions.base_session import AbstractBaseSession
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.utils.module_loading import import_string

from emplastra.core.product.film import UNEVEN_BRUSHED, UNEVEN_SPRAYED
from emplastra.core.surface.clocks import PROMPT_S
from emplastra.shared.appendonly import AppendOnly
from emplastra.shared.private import digest_of

from .names import name_key


class Role(models.TextChoices):
    OWNER = "owner", "Owner"
    REFINISHER = "refinisher", "Refinisher"
    VIEWER = "viewer", "Viewer"


class People(UserManager):
    """People, found by their name as it looks."""

    def get_by_natural_key(self, username):
        """Whose name this is: to the letter, else as it looks. Raises DoesNotExist."""
        exact = self.filter(username=username).first()
        return exact or self.get(name_key=name_key(username))


class User(AbstractUser):
    """Somebody at the bench. Deactivated, never deleted: the record names them."""

    name_key = models.CharField(max_length=200, unique=True, editable=False)
    role = models.CharField(max_length=12, choices=Role.choices, default=Role.VIEWER)
    # When they are at the bench, as shop hours are typed; blank: as the shop is open, "none": never.
    bench_hours = models.CharField(max_length=200, blank=True)

    objects = People()

    def save(self, *args, **kwargs):
        if not self.name_key:
            self.name_key = name_key(self.username)
        super().save(*args, **kwargs)

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


class Session(AbstractBaseSession):
    """A device that is signed in, until it has been still for too long. What it is called is what it says of itself."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, null=True, related_name="sessions")
    begun = models.DateTimeField()
    seen = models.DateTimeField()
    idle_min = models.PositiveIntegerField(default=0)
    address = models.CharField(max_length=45, blank=True)
    device = models.CharField(max_length=60, blank=True)

    class Meta:
        ordering = ("-seen",)

    def __str__(self):
        return f"{self.user} {self.begun:%Y-%m-%d}"

    @property
    def mark(self):
        """What names it on a page: nothing that opens it."""
        return digest_of(self.session_key)[:24]

    @classmethod
    def get_session_store_class(cls):
        return import_string(f"{settings.SESSION_ENGINE}.SessionStore")


class NewPassword(models.Model):
    """A private address by which somebody chooses a password, once: its digest alone is kept."""

    user = models.ForeignKey(User, on_delete=models.PROTECT, related_name="new_passwords")
    by = models.ForeignKey(User, on_delete=models.PROTECT, null=True, related_name="+")
    digest = models.CharField(max_length=64, unique=True)
    until = models.DateTimeField()
    used = models.DateTimeField(null=True)

    def __str__(self):
        return f"{self.user} {self.until:%Y-%m-%d}"


class SecondFactor(models.Model):
    """A second factor of somebody, told once it was proven: codes that change with time, and a few spare ones.

    last_step: the newest step of time whose code was taken; spare: digests of the spare codes that are left.
    """

    user = models.OneToOneField(User, on_delete=models.CASCADE, related_name="second_factor")
    secret = models.CharField(max_length=64)
    since = models.DateTimeField()
    last_step = models.BigIntegerField(default=0)
    spare = models.JSONField(default=list)

    def __str__(self):
        return f"{self.user} {self.since:%Y-%m-%d}"


class Happening(models.TextChoices):
    """What the security log tells."""

    SIGNED_IN = "signed-in", "Signed in"
    WRONG = "wrong", "Wrong password or code"
    LOCKED = "locked", "Too many wrong tries"
    SIGNED_OUT = "signed-out", "Signed out"
    REFUSED = "refused", "Not allowed"
    PASSWORD = "password", "Password changed"
    LINK = "link", "Address for a new password"
    FACTOR = "factor", "Second factor"
    ROLE = "role", "Role"
    LET_IN = "let-in", "Let in or out"
    SETTING = "setting", "Setting of safety"
    EXPORT = "export", "Taken out"
    TAKEN_IN = "taken-in", "Taken in"
    RESTORED = "restored", "Backup restored"


class SecurityEvent(AppendOnly):
    """A line of the security log: who did, or tried, what, from where; about: the person whom it concerns."""

    kind = models.CharField(max_length=12, choices=Happening.choices)
    who = models.ForeignKey(User, on_delete=models.PROTECT, null=True, related_name="+")
    about = models.ForeignKey(User, on_delete=models.PROTECT, null=True, related_name="+")
    name = models.CharField(max_length=60, blank=True)
    address = models.CharField(max_length=45, blank=True)
    words = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ("-id",)
        indexes = [models.Index(fields=["kind", "recorded"])]

    def __str__(self):
        return f"{self.get_kind_display()} {self.name}"


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
    # After so long without a tap somebody is signed out [min].
    idle_min = models.PositiveIntegerField(default=720, validators=[MinValueValidator(5), MaxValueValidator(43200)])

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
