"""Jobs, their zones and each zone's plan."""

from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.urls import reverse

from emplastra.core.air import lag
from emplastra.core.air.heat import H_OVEN
from emplastra.core.gauge.accept import STANDARDS
from emplastra.core.piece import areas, job_map, parts
from emplastra.core.product import film
from emplastra.materials.models import SystemVersion
from emplastra.shared.appendonly import AppendOnly


class Job(models.Model):
    """The piece being restored."""

    class Standard(models.TextChoices):
        DRIVE = "drive", "Drive it"
        SHOW = "show", "Show it"
        FACTORY = "factory", "True to factory"
        PRESERVE = "preserve", "Just preserve"

    class Filing(models.TextChoices):
        OPEN = "open", "Open"
        CLOSED = "closed", "Closed"
        ARCHIVED = "archived", "Archived"

    name = models.CharField(max_length=80)
    owner_label = models.CharField("for", max_length=80, blank=True)
    standard = models.CharField(max_length=10, choices=Standard.choices, default=Standard.DRIVE)
    promised = models.DateField(null=True, blank=True)
    # Limits on solvent hold for road vehicles; a railway, a boat or a machine is outside their scope.
    road = models.BooleanField("a road vehicle", default=False)
    film_by = models.CharField("film judged by", max_length=8, blank=True, choices=list(STANDARDS.items()))
    filing = models.CharField(max_length=10, choices=Filing.choices, default=Filing.OPEN)
    # Its revisions are append-only, so a deleted job is one that is shown nowhere.
    removed = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]

    def __str__(self):
        return self.name

    def get_absolute_url(self):
        return reverse("survey:map", args=[self.pk])


class ZoneQuerySet(models.QuerySet):
    """Zones by whether work is done on them."""

    def in_use(self):
        """Those neither removed nor retired."""
        return self.filter(removed=False, retired="")


class Zone(models.Model):
    """A surface with one substrate and one build-up. Its measures are in its revisions."""

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="zones")
    parent = models.ForeignKey("self", on_delete=models.PROTECT, null=True, blank=True, related_name="spots")
    name = models.CharField(max_length=80)
    panel = models.CharField(max_length=60, blank=True)
    removed = models.BooleanField(default=False)
    # Its history begins as that of this zone, which was split or joined into it.
    origin = models.ForeignKey("self", on_delete=models.PROTECT, null=True, blank=True, related_name="heirs")
    # The same surface on the other side of the piece: it shows how it should be, but shares no finding.
    twin = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    # Why no more work is done on it; blank while it is in use.
    retired = models.CharField(max_length=120, blank=True)
    objects = ZoneQuerySet.as_manager()

    class Meta:
        ordering = ["job", "id"]
        constraints = [
            models.UniqueConstraint(
                fields=["job", "name"],
                condition=models.Q(removed=False, retired=""),
                name="zone_name_once_per_job",
            )
        ]

    def __str__(self):
        return self.name

    def get_absolute_url(self):
        return reverse("work:now", args=[self.pk])

    @property
    def is_in_use(self):
        """True if it is neither removed nor retired."""
        return not self.removed and not self.retired


class MapPlace(models.Model):
    """Where a zone is drawn on the job map: filing, not a fact of the work."""

    zone = models.OneToOneField(Zone, on_delete=models.CASCADE, primary_key=True, related_name="map_place")
    view = models.CharField(max_length=6, choices=list(job_map.VIEWS.items()))
    kind = models.CharField("shape", max_length=6, choices=list(job_map.KINDS.items()), default="panel")
    x = models.PositiveSmallIntegerField("column")
    y = models.PositiveSmallIntegerField("row")
    w = models.PositiveSmallIntegerField("columns wide")
    h = models.PositiveSmallIntegerField("rows high")
    flip = models.BooleanField("the other way round", default=False)

    def __str__(self):
        return f"{self.zone_id} in {self.view}"

    @property
    def cells(self):
        """The core's value."""
        return job_map.Cells(self.view, self.kind, self.x, self.y, self.w, self.h, self.flip)


class ZoneRevision(AppendOnly):
    """What a zone is made of and measures, from one moment on; the newest holds."""

    class Finish(models.TextChoices):
        SHOW = "show", "Show"
        OPEN = "open", "Seen when open"
        BELOW = "below", "Seen from below"
        COVERED = "covered", "Covered"

    class End(models.TextChoices):
        COATED = "coated", "Coated"
        AS_FOUND = "as-found", "Left as found"
        BARE = "bare", "Bare by design"
        WATCHED = "watched", "Treated and watched"

    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="revisions")
    substrate = models.CharField(max_length=20, choices=[(k, v[0]) for k, v in lag.SUBSTRATES.items()])
    thickness_mm = models.FloatField(validators=[MinValueValidator(0.01), MaxValueValidator(500)])
    form = models.CharField(max_length=10, choices=[(key, form.name) for key, form in film.FORMS.items()])
    finish_class = models.CharField(max_length=10, choices=Finish.choices)
    profile = models.CharField(max_length=20, choices=[(k, k) for k in film.PROFILE_DEAD_UM], default="sanded")
    wetted_faces = models.PositiveSmallIntegerField(default=2)
    shapes = models.JSONField()
    part = models.CharField(max_length=10, choices=[(k, p.name) for k, p in parts.PARTS.items()], default="other")
    end_state = models.CharField(max_length=8, choices=End.choices, default=End.COATED)
    colour_group = models.CharField(max_length=40, blank=True, default="")
    reason = models.CharField(max_length=200, blank=True)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+", null=True)

    class Meta:
        ordering = ["zone", "-id"]

    def __str__(self):
        return f"{self.zone}: {self.substrate} {self.thickness_mm} mm"

    @property
    def area_m2(self):
        """Area [m2] of its shapes."""
        return areas.total_area_m2(self.shapes)

    @property
    def lag_s(self):
        """How far its section runs behind the air [s]."""
        return lag.lag_s(self.substrate, self.thickness_mm, self.wetted_faces)

    def oven_lag_s(self, thickness_mm=None):
        """The same in an oven's air [s], or of a section like it of another thickness [mm]."""
        mm = self.thickness_mm if thickness_mm is None else thickness_mm
        return lag.lag_s(self.substrate, mm, min(2, self.wetted_faces), H_OVEN)


class BuildUpVersion(AppendOnly):
    """A zone's own plan: steps with permanent ids."""

    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="build_ups")
    number = models.PositiveIntegerField()
    system = models.ForeignKey(SystemVersion, on_delete=models.PROTECT, null=True, related_name="+")
    steps = models.JSONField()
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+", null=True)

    class Meta:
        ordering = ["zone", "-number"]
        constraints = [models.UniqueConstraint(fields=["zone", "number"], name="one_build_up_per_number")]

    def __str__(self):
        return f"{self.zone} plan {self.number}"
