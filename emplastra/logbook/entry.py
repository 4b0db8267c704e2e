"""What happened: entries, where, and corrections. Nothing here is ever changed."""

from django.conf import settings
from django.db import models

from emplastra.jobs.models import Zone
from emplastra.shared.appendonly import AppendOnly
from emplastra.shared.models import EntryBase

from .kind import choices


def holds(known_at=None, prefix=""):
    """Condition for entries that hold, as known at a moment (None: now): recorded by then, not replaced by then.

    prefix: the path to the entry, such as "entry__".
    """
    still = models.Q(**{f"{prefix}replaced_by__isnull": True})
    if known_at is None:
        return still
    still |= models.Q(**{f"{prefix}replaced_by__recorded__gt": known_at})
    return still & models.Q(**{f"{prefix}recorded__lte": known_at})


class EntryQuerySet(models.QuerySet):
    """The vocabulary of the record."""

    def known_at(self, moment=None):
        """Entries that hold, as known at a moment (None: now)."""
        return self.filter(holds(moment))

    def of(self, *kinds):
        """Entries of these kinds."""
        return self.filter(kind__in=kinds)


class Entry(EntryBase):
    """Something that happened to zones, or to a pot."""

    kind = models.CharField(max_length=12, choices=choices)
    zones = models.ManyToManyField(Zone, through="EntryZone", related_name="entries")
    objects = EntryQuerySet.as_manager()

    class Meta:
        ordering = ["ended", "id"]
        constraints = [
            models.CheckConstraint(condition=models.Q(ended__gte=models.F("began")), name="entry_ends_after_it_began")
        ]

    def __str__(self):
        return f"{self.get_kind_display()} {self.ended:%Y-%m-%d %H:%M}"


class EntryZone(AppendOnly):
    """An entry at a zone: the share covered, and the step of its plan ("": not in the plan).

    share is of what the step is for: of_face is the share of the face that all of that is, less than 1 of edges that
    are brushed by themselves; drawn: the cells that were covered, as core.piece.face_grid writes them.
    """

    entry = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="places_on")
    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="entry_zones")
    share = models.FloatField(default=1.0)
    step = models.CharField(max_length=40, blank=True)
    of_face = models.FloatField(default=1.0)
    drawn = models.CharField(max_length=200, blank=True, default="")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["entry", "zone"], name="entry_once_per_zone"),
            models.CheckConstraint(condition=models.Q(share__gt=0, share__lte=1), name="share_in_range"),
        ]

    def __str__(self):
        return f"{self.zone} {self.share:.0%}"


class Lasted(AppendOnly):
    """An entry of work that was begun by an entry of its own: so its hours are those of two taps."""

    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, related_name="lasted")
    begun = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="stops")

    def __str__(self):
        return f"{self.begun} → {self.entry}"


class Correction(AppendOnly):
    """An entry that no longer holds: replaced by another, or by none (void)."""

    replaces = models.OneToOneField(Entry, on_delete=models.PROTECT, related_name="replaced_by")
    by = models.OneToOneField(Entry, on_delete=models.PROTECT, null=True, related_name="correction_of")
    reason = models.CharField(max_length=200)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    def __str__(self):
        return f"{self.replaces} → {self.by or 'void'}: {self.reason}"
