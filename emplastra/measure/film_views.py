"""Film of a face: what the gauge read, whether that is accepted, and where to add how much."""

from urllib.parse import urlencode

from django.shortcuts import render

from emplastra.say.book import book_of
from emplastra.shared import asked
from emplastra.state.film import closes_for_more, gaugings
from emplastra.work.views import zone_or_404

from .film_drawn import drawn, ruler, stack

SHOWN = 12
"""Gaugings that are listed at first."""
SIDES = (("left", "", "right"), ("upper", "", "lower"))


def where_on(x, y):
    """A place on a face in words, from its shares of width and height: "at the upper left", "in the middle"."""
    across, down = (words[min(2, int(3 * share))] for words, share in zip(SIDES, (x, y), strict=True))
    if not across:
        return {"upper": "at the top", "lower": "at the bottom"}.get(down, "in the middle")
    return f"at the {down} {across}" if down else f"at the {across}"


def film(request, pk):
    """The newest gauging of a face, or the one that is asked for, beside those before it."""
    zone = zone_or_404(pk)
    state = book_of(request, zone).state(zone)
    found = gaugings(state.facts)
    wanted = asked.an_id(request.GET, "of")
    chosen = next((g for g in found if g.entry.pk == wanted), found[-1] if found else None)
    context = {
        "zone": zone,
        "state": state,
        "gauging": chosen,
        "is_newest": bool(found) and chosen is found[-1],
        "others": found[::-1][:SHOWN],
    }
    if chosen is not None and chosen.asked is not None:
        thin = [(each, where_on(*each.spot.middle)) for each in chosen.thin]
        worst = chosen.thin[0] if chosen.thin else None
        context |= {
            "drawn": drawn(chosen),
            "ruler": ruler(chosen),
            "stack": stack(chosen),
            "thin": thin,
            "worst": worst,
            "closes_s": closes_for_more(state) if worst and chosen is found[-1] else None,
            "add": _add(state, worst) if worst else "",
        }
    return render(request, "measure/film.html", context)


def _add(state, worst):
    """What a link to the coat that mends the thinnest part fills in."""
    top = state.surface.top
    share = f"{100 * worst.spot.share:.1f}"
    return urlencode({"source": f"product:{top.product}", "step": top.step, "share": share}) if top else ""
