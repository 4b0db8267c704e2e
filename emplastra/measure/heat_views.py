"""Heat on a face: schedules, logs, and what the sun will do to it."""

from calendar import month_name
from urllib.parse import urlencode

from django.shortcuts import render

from emplastra.core import units
from emplastra.core.air.heat import gaps
from emplastra.core.words import kelvin_q
from emplastra.say.book import book_of
from emplastra.state.heat import OVER_K, devices, heat_of
from emplastra.work.views import zone_or_404

from .heat_drawn import curve, rising


def heat(request, pk):
    """What warms this face, how it was warmed, and how hot it gets in use."""
    zone = zone_or_404(pk)
    state = book_of(request, zone).state(zone)
    found = heat_of(state, request.workshop.latitude)
    context = {"zone": zone, "state": state, "heat": found}
    if found is not None:
        last = found.heated[-1] if found.heated else None
        field = _field(request, found)
        log = [tuple(point) for point in last.heated.points] if last else []
        context |= {
            "asked": [(each, _given(each.schedule)) for each in found.asked],
            "oven_over": kelvin_q(OVER_K),
            "month": month_name[found.sun.month] if found.sun else "",
            "last": last,
            "short": last and last.heated.minutes is not None and last.heated.counted_min < last.heated.minutes - 0.5,
            "gaps": gaps(log),
            "curve": curve(log, last.heated) if last else None,
            "rising": rising(found.rises, found.metal_c) if found.asked or len(found.rises) > 1 else None,
            "field": field,
            "devices": devices(),
            "passes": found.passes(field),
        }
    return render(request, "measure/heat.html", context)


def _field(request, found):
    """(width, height) of a lamp's field [mm]: as asked, else of the newest log of a lamp; None where none is told."""
    system = request.workshop.units
    told = [_length(request.GET.get(name, ""), system) for name in ("wide", "high")]
    if all(told):
        return tuple(told)
    return (found.lamp.field_w_mm, found.lamp.field_h_mm) if found.lamp else None


def _length(text, system):
    try:
        value = units.parse_quantity(text, "length", system).value
    except units.UnitError:
        return None
    return value if 50 <= value <= 5000 else None


def _given(schedule):
    """What a link to the form fills in."""
    told = {"metal_c": f"{schedule.metal_c:g} °C", "minutes": f"{schedule.minutes:g}"}
    return urlencode(told | {"flash_min": f"{schedule.flash_min or 0:g}"})
