"""Somebody's time at work on zones, as the log tells it."""

from django.db.models import F

from emplastra.core.metal.hours import Stint
from emplastra.logbook.models import KINDS, EntryZone, holds

_OF_STEP = {
    "repair": "repair",
    "weld": "repair",
    "clean": "treat",
    "dry": "treat",
    "fill": "fill",
    "block": "fill",
    "solder": "solder",
    "surface": "fill",
    "prime": "prime",
    "stripe": "prime",
}


def stints_of(states):
    """Every timed entry on these zones, as the work it was."""
    steps = {s.zone.pk: {step.id: step.kind for step in s.facts.steps} for s in states}
    areas = {s.zone.pk: s.facts.area_m2 if s.facts.revision else 0.0 for s in states}
    rows = EntryZone.objects.filter(holds(None, "entry__"), zone__in=areas, entry__began__lt=F("entry__ended"))
    names = (
        "zone_id",
        "share",
        "step",
        "entry__kind",
        "entry__who_id",
        "entry__began",
        "entry__ended",
        "entry__film_lost__cause",
    )
    found = []
    for zone, share, step, kind, who, began, ended, cause in rows.values_list(*names):
        step_kind = steps[zone].get(step, "")
        work = _OF_STEP.get(step_kind) or KINDS[kind].work or ("repair" if cause == "weld" else "")
        if work:
            found.append(Stint(who, work, zone, began.timestamp(), ended.timestamp(), areas[zone] * share))
    return found
