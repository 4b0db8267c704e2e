"""What was handed over, who may read of its care, and what was seen when somebody looked again after years."""

from django.conf import settings
from django.db import models

from emplastra.core.care.grades import Seen
from emplastra.core.care.held import VERDICTS

from .found import Photo, Told
from .piece import Job, Zone


class HandOver(Told):
    """What of a job is told to its owner: chosen parts, and words of one's own; the newest holds."""

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="handed_over")
    parts = models.JSONField(default=list)
    words = models.TextField(blank=True)


class CareLink(models.Model):
    """A private address of a job's care page: what opens it is kept as its digest alone. Revoked, it never opens
    again.
    """

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="care_links")
    digest = models.CharField(max_length=64, unique=True)
    made = models.DateTimeField()
    revoked = models.DateTimeField(null=True)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    def __str__(self):
        return f"{self.job} {self.made:%Y-%m-%d}"


class Revisit(Told):
    """A face looked at again. verdict: same, worse or failed; found: [[kind, quantity, size, where]] by the names of
    ISO 4628.
    """

    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="revisits")
    seen = models.DateField()
    verdict = models.CharField(max_length=6, choices=list(VERDICTS.items()))
    found = models.JSONField(default=list)
    note = models.CharField(max_length=200, blank=True)
    photo = models.ForeignKey(Photo, on_delete=models.PROTECT, null=True, related_name="+")

    class Meta:
        indexes = [models.Index(fields=["zone", "seen"])]

    @property
    def sightings(self):
        """What was seen, as the core's values."""
        return [Seen(*row) for row in self.found]


class Brought(Told):
    """A job that was taken in from an archive: of which workshop, which file, what was named anew for it."""

    job = models.OneToOneField(Job, on_delete=models.PROTECT, related_name="brought")
    workshop = models.CharField(max_length=80)
    sha256 = models.CharField(max_length=64)
    renamed = models.JSONField(default=dict)


class Copied(Told):
    """A mark, seam, bead pattern or hole pattern that is recorded before it is cut away.

    datum: from where it is measured; measures: [[what, mm]]; scale_mm: length of the scale in its photo [mm], None
    without one; cut: True where what it is on is to be cut out.
    """

    class Kind(models.TextChoices):
        MARK = "mark", "Mark or stamping"
        SEAM = "seam", "Seam"
        BEAD = "bead", "Beads, swages"
        HOLES = "holes", "Holes"
        SHAPE = "shape", "Shape, curve"
        TEXTURE = "texture", "Texture"

    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="copied")
    kind = models.CharField(max_length=8, choices=Kind.choices)
    what = models.CharField(max_length=120)
    datum = models.CharField(max_length=120, blank=True)
    measures = models.JSONField(default=list)
    scale_mm = models.FloatField(null=True)
    photo = models.ForeignKey(Photo, on_delete=models.PROTECT, null=True, related_name="+")
    cut = models.BooleanField("is cut out", default=True)


class CopiedWord(Told):
    """What became of something copied."""

    class Said(models.TextChoices):
        MADE = "made", "Made from it"
        FITTED = "fitted", "Fitted, checked against it"
        STRUCK = "struck", "Written down by mistake"

    copied = models.ForeignKey(Copied, on_delete=models.PROTECT, related_name="words")
    said = models.CharField(max_length=8, choices=Said.choices)
    note = models.CharField(max_length=120, blank=True)
