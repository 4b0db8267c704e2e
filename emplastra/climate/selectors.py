"""The air of places, as pages want it."""

from emplastra.core.series import Assumption

from . import live
from .models import Place


def places_in_use():
    """Places that are in use, in order."""
    return list(Place.objects.filter(in_use=True))


def airs(places, since, now, workshop, known_at=None, void_readings=()):
    """The air of each place from `since` on (aware), as known at a moment: {place id: PlaceAir}.

    void_readings: ids of typed readings whose entry no longer holds.
    """
    assumed = Assumption(workshop.assumed_air_c, workshop.assumed_rh_pct)
    since_s, void = since.timestamp(), tuple(void_readings)
    if known_at is not None:
        return live.fresh(places, since_s, now, assumed, workshop.zone, known_at, void)
    return live.kept(places, since_s, now, assumed, workshop.zone, void)
