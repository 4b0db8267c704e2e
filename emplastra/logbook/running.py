"""What was begun on a zone and has not ended."""

from .entry import Entry


def running(zone, begin, end_path):
    """The newest entry of a kind on a zone that holds and has no end that holds; None if there is none."""
    open_ones = Entry.objects.known_at().filter(zones=zone, kind=begin)
    ended = Entry.objects.known_at().filter(**{f"{end_path}__isnull": False}).values(end_path)
    return open_ones.exclude(pk__in=ended).order_by("-ended", "-id").first()


def running_prep(zone):
    """The prep that stands wet on a zone, None if none does."""
    return running(zone, "prepped", "rinsed__prep")


def running_absence(zone):
    """The entry that sent a zone away and has no return yet, None if it is here."""
    return running(zone, "away", "back__away")
