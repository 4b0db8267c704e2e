"""What happened: entries, their typed details, and corrections. Nothing here is ever changed."""

from django.conf import settings
from django.db import models

from emplastra.climate.models import Place, Reading
from emplastra.core.metal.strip import WAYS
from emplastra.core.surface.events import CHECKS
from emplastra.core.survey.contractor import CAME_BACK, TRADES
from emplastra.jobs.models import Zone
from emplastra.materials.models import Product, SheetRevision
from emplastra.shared.appendonly import AppendOnly
from emplastra.shared.models import EntryBase
from emplastra.store.models import Tin


class Kind(models.TextChoices):
    MOVED = "moved", "Moved"
    BARED = "bared", "Bared"
    DEGREASED = "degreased", "Degreased"
    KEYED = "keyed", "Keyed"
    COAT = "coat", "Coat"
    POT = "pot", "Pot begun"
    WEIGHED = "weighed", "Weighed"
    POT_ENDED = "pot-ended", "Pot ended"
    PREPPED = "prepped", "Acid prep on"
    WETTED = "wetted", "Wetted"
    RINSED = "rinsed", "Rinsed"
    CHECKED = "checked", "Check"
    FILM_LOST = "film-lost", "Film lost"
    AWAY = "away", "Sent away"
    BACK = "back", "Back"
    ACCESS = "access", "Access"
    DONE = "done", "Step done"
    INSPECTED = "inspected", "Inspected"


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

    kind = models.CharField(max_length=12, choices=Kind.choices)
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
    """An entry at a zone: the share of it covered, and the step of its plan ("": not in the plan)."""

    entry = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="places_on")
    zone = models.ForeignKey(Zone, on_delete=models.PROTECT, related_name="entry_zones")
    share = models.FloatField(default=1.0)
    step = models.CharField(max_length=40, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["entry", "zone"], name="entry_once_per_zone"),
            models.CheckConstraint(condition=models.Q(share__gt=0, share__lte=1), name="share_in_range"),
        ]

    def __str__(self):
        return f"{self.zone} {self.share:.0%}"


class Detail(AppendOnly):
    """Details of one kind of entry."""

    class Meta:
        abstract = True

    def __str__(self):
        return f"details of {self.pk}"


class Moved(Detail):
    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="moved")
    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="+")


class Bared(Detail):
    """How it was stripped; entries without one did not tell."""

    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="bared")
    how = models.CharField(max_length=12, choices=[(k, w.name) for k, w in WAYS.items()])


class Degreased(Detail):
    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="degreased")
    product = models.ForeignKey(Product, on_delete=models.PROTECT, null=True, related_name="+")


class Keyed(Detail):
    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="keyed")
    grit = models.CharField(max_length=10)
    um_off = models.FloatField(default=0.0)


class Pot(Detail):
    """A pot as begun: its sheet is fixed here."""

    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="pot")
    revision = models.ForeignKey(SheetRevision, on_delete=models.PROTECT, related_name="+")
    variant = models.CharField(max_length=40)
    method = models.CharField(max_length=12)
    thinner_pct = models.FloatField(default=0.0)
    ready_ml = models.FloatField()
    temp_c = models.FloatField()
    diameter_mm = models.FloatField(null=True)
    vessel_ml = models.FloatField(null=True)


class Weighed(Detail):
    """A part poured: what the scale showed when it was in."""

    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="weighed")
    pot = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="weighings")
    part = models.CharField(max_length=40)
    scale_g = models.FloatField()
    tin = models.ForeignKey(Tin, on_delete=models.PROTECT, null=True, related_name="+")


class PotEnded(Detail):
    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="pot_ended")
    pot = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="endings")
    waste_ml = models.FloatField(default=0.0)


class Prepped(Detail):
    """Acid prep put on; wettings and the rinse name its entry."""

    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="prepped")
    product = models.ForeignKey(Product, on_delete=models.PROTECT, related_name="+")
    revision = models.ForeignKey(SheetRevision, on_delete=models.PROTECT, null=True, related_name="+")


class Wetted(Detail):
    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="wetted")
    prep = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="wettings")


class Rinsed(Detail):
    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="rinsed")
    prep = models.ForeignKey(Entry, on_delete=models.PROTECT, null=True, related_name="rinses")


class Checked(Detail):
    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="checked")
    check_kind = models.CharField(max_length=20, choices=[(k, c.name) for k, c in CHECKS.items()])
    passed = models.BooleanField()


class Inspected(Detail):
    """Welds and holes looked through: {point: answer} of what was looked at."""

    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="inspected")
    points = models.JSONField()


class FilmLost(Detail):
    """Welding, grinding or a knock: the share of each face is in the entry's zones."""

    class Cause(models.TextChoices):
        WELD = "weld", "Welded"
        GRIND = "grind", "Ground"
        KNOCK = "knock", "Knocked"

    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="film_lost")
    cause = models.CharField(max_length=8, choices=Cause.choices)
    length_mm = models.FloatField(null=True)
    strip_mm = models.FloatField(null=True)


class Away(Detail):
    """Sent to a contractor; its return names this entry."""

    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="away")
    contractor = models.CharField(max_length=80)
    visit = models.BooleanField("comes here", default=False)
    trade = models.CharField(max_length=8, choices=[(k, t.name) for k, t in TRADES.items()], default="other")
    work = models.CharField(max_length=120)
    due = models.DateField(null=True)
    # What was looked after before it went: {key of the send-off list: note}.
    send_off = models.JSONField(default=dict)
    condition = models.CharField(max_length=200, blank=True)


class Back(Detail):
    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="back")
    away = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="returns")
    condition = models.CharField(max_length=200, blank=True)
    came = models.CharField(max_length=9, choices=list(CAME_BACK.items()), default="as-sent")
    primer = models.CharField("temporary primer or coat", max_length=60, blank=True)
    rework = models.CharField(max_length=200, blank=True)


class Access(Detail):
    """What bars or frees the way to a surface."""

    class How(models.TextChoices):
        OPENED = "opened", "Opened"
        TRIAL_FIT = "trial-fit", "Trial fit: must come off again"
        TAKEN_OFF = "taken-off", "Taken off again"
        CLOSED = "closed", "Closed: out of reach from now on"

    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="access")
    how = models.CharField(max_length=10, choices=How.choices)
    what = models.CharField(max_length=120, blank=True)


class Coat(Detail):
    entry = models.OneToOneField(Entry, on_delete=models.PROTECT, primary_key=True, related_name="coat")
    product = models.ForeignKey(Product, on_delete=models.PROTECT, related_name="+")
    revision = models.ForeignKey(SheetRevision, on_delete=models.PROTECT, null=True, related_name="+")
    pot = models.ForeignKey(Entry, on_delete=models.PROTECT, null=True, related_name="coats_from")
    tin = models.ForeignKey(Tin, on_delete=models.PROTECT, null=True, related_name="+")
    variant = models.CharField(max_length=40, blank=True)
    method = models.CharField(max_length=12)
    thinner_pct = models.FloatField(default=0.0)
    wft_um = models.JSONField(default=list)
    plan_um = models.FloatField(default=0.0)
    reading = models.ForeignKey(Reading, on_delete=models.PROTECT, null=True, related_name="coats")
    surface_c = models.FloatField(null=True)


class Correction(AppendOnly):
    """An entry that no longer holds: replaced by another, or by none (void)."""

    replaces = models.OneToOneField(Entry, on_delete=models.PROTECT, related_name="replaced_by")
    by = models.OneToOneField(Entry, on_delete=models.PROTECT, null=True, related_name="correction_of")
    reason = models.CharField(max_length=200)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    def __str__(self):
        return f"{self.replaces} → {self.by or 'void'}: {self.reason}"
