"""The air of places, as the core wants it."""

from dataclasses import dataclass

import numpy as np
from django.db.models import Q

from emplastra.core.air import Air, Assumption, Disagreement, Source, from_readings, merge

from .models import Place, Reading


@dataclass(frozen=True)
class PlaceAir:
    """A place's air, when it was last read [epoch s or None], and where sources disagree."""

    place: Place
    air: Air
    last_s: float | None
    disagreements: tuple[Disagreement, ...]
    surface_c: float | None = None
    surface_s: float | None = None


def places_in_use():
    """Places that are in use, in order."""
    return list(Place.objects.filter(in_use=True))


def airs(places, since, now, workshop, known_at=None, void_readings=()):
    """The air of each place from `since` on (aware), as known at a moment: {place id: PlaceAir}.

    void_readings: ids of typed readings whose entry no longer holds.
    """
    known_at = known_at or now
    rows = (
        Reading.objects.filter(place__in=places, at__gte=since, at__lte=now, recorded__lte=known_at)
        .filter(Q(batch=None) | Q(batch__withdrawal=None) | Q(batch__withdrawal__recorded__gt=known_at))
        .exclude(id__in=list(void_readings))
        .order_by("at")
        .values_list("place_id", "batch_id", "at", "air_c", "rh_pct", "surface_c")
    )
    by_place = {}
    for row in rows.iterator(chunk_size=5000):
        by_place.setdefault(row[0], {}).setdefault(row[1] or 0, []).append(row[2:])
    assumed = Assumption(workshop.assumed_air_c, workshop.assumed_rh_pct)
    return {place.pk: _place_air(place, by_place.get(place.pk, {}), now.timestamp(), assumed) for place in places}


def _place_air(place, batches, now_s, assumed):
    # A later import leads an earlier one; what was typed (batch 0) comes last.
    sources = [
        Source(f"import {number}" if number else "typed", *_columns(readings))
        for number, readings in sorted(batches.items(), reverse=True)
    ]
    merged, disagreements = merge(sources)
    air = from_readings(merged.t_s, merged.air_c, merged.rh_pct, now_s, assumed)
    logged = [(r[0], r[3]) for number, readings in batches.items() if number for r in readings if r[3] is not None]
    at, surface = max(logged, default=(None, None))
    last = float(merged.t_s[-1]) if len(merged.t_s) else None
    return PlaceAir(place, air, last, disagreements, surface, at.timestamp() if at else None)


def _columns(readings):
    # Two readings typed for one moment: the later row holds.
    unique = {row[0].timestamp(): row for row in readings}
    times = sorted(unique)
    return (
        np.array(times),
        np.array([unique[t][1] for t in times], float),
        np.array([unique[t][2] for t in times], float),
    )
