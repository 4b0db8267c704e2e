"""The air of places, as pages want it."""

from datetime import timedelta

from emplastra.core.air.series import Assumption

from . import live
from .models import Place, Reading

SHOWN_BACK = timedelta(days=3)
"""How far back Air shows a place; what is kept in memory reaches at least so far."""


def places_in_use():
    """Places that are in use, in order."""
    return list(Place.objects.filter(in_use=True))


def void_readings():
    """Ids of readings typed with an entry that no longer holds (by the names of the logbook's relations)."""
    typed = Reading.objects.filter(batch=None, coats__isnull=False, coats__entry__replaced_by__isnull=False)
    return tuple(typed.values_list("id", flat=True))


def airs(places, since, now, workshop, known_at=None, extend=True):
    """The air of each place from `since` on (aware), as known at a moment: {place id: PlaceAir}.

    extend: False where a long look back is taken once.
    """
    assumed = Assumption(workshop.assumed_air_c, workshop.assumed_rh_pct)
    since_s, void = since.timestamp(), void_readings()
    if known_at is not None:
        return live.fresh(places, since_s, now, assumed, workshop.zone, known_at, void)
    return live.kept(places, since_s, now, assumed, workshop.zone, void, extend)
