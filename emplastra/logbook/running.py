"""What was begun on a zone and has not ended."""

from datetime import timedelta

from emplastra.shared import clock

from .entry import Entry, Lasted, holds
from .kind import KINDS

UNDO_WITHIN = timedelta(minutes=10)


def running(zone, begin, end_path):
    """The newest entry of a kind on a zone that holds and has no end that holds; None if there is none."""
    open_ones = Entry.objects.known_at().filter(zones=zone, kind=begin)
    ended = Entry.objects.known_at().filter(**{f"{end_path}__isnull": False}).values(end_path)
    return open_ones.exclude(pk__in=ended).order_by("-ended", "-id").first()


def running_prep(zone):
    """The prep that stands wet on a zone, None if none does."""
    return running(zone, "prepped", "rinsed__prep")


def under_one_prep(zone, zones):
    """Those of some zones that stand wet by the same entry as a zone: one entry ends it on all of them."""
    prep = running_prep(zone)
    there = set(prep.places_on.values_list("zone_id", flat=True)) if prep is not None else set()
    return [zone for zone in zones if zone.pk in there]


def running_absence(zone):
    """The entry that sent a zone away and has no return yet, None if it is here."""
    return running(zone, "away", "back__away")


def works_begun():
    """Entries of work that was begun and is not stopped, the oldest first."""
    stopped = Lasted.objects.filter(holds(None, "entry__")).values("begun")
    begun = Entry.objects.known_at().filter(kind="begun").exclude(pk__in=stopped)
    return begun.select_related("begun", "who").prefetch_related("places_on__zone__job").order_by("began", "id")


def is_running(begun):
    """True while work that was begun is not stopped."""
    return works_begun().filter(pk=begun.pk).exists()


def usual_s(kind):
    """How long work of a kind usually takes here [s]: the middle half of the last twenty that were timed by two taps;
    None with fewer than three.
    """
    timed = Entry.objects.known_at().filter(kind=kind, lasted__isnull=False).order_by("-ended")
    took = sorted((ended - began).total_seconds() for began, ended in timed.values_list("began", "ended")[:20])
    return (took[len(took) // 4], took[-1 - len(took) // 4]) if len(took) >= 3 else None


def newest_entry():
    """Number of the newest entry of all, 0 without one."""
    return Entry.objects.order_by("-pk").values_list("pk", flat=True).first() or 0


def just_done(user):
    """{zone id: the newest entry that this person can still undo by one tap}, of what a zone's page logs."""
    kinds = [kind.key for kind in KINDS.values() if kind.form or kind.key == "begun"]
    since = clock.now() - UNDO_WITHIN
    mine = Entry.objects.known_at().filter(who=user, recorded__gte=since, kind__in=kinds)
    found = {}
    for entry in mine.prefetch_related("places_on").order_by("id"):
        found |= {row.zone_id: entry for row in entry.places_on.all()}
    return found
