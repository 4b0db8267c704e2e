"""Level of a face: its lows and highs, what is worked and filled next, and when it is flat."""

from django.shortcuts import render

from emplastra.core.level import blocks
from emplastra.core.surface.names import StepKind
from emplastra.say.book import book_of
from emplastra.shared import asked
from emplastra.state.heat import heat_of
from emplastra.state.level import level_of
from emplastra.work.views import zone_or_404

from .film_views import where_on
from .level_drawn import drawn, marked, profile, stair


def level(request, pk):
    """A face as it stands now, beside how it was."""
    zone = zone_or_404(pk)
    state = book_of(request, zone).state(zone)
    found = level_of(state)
    before = found.before(state.plan, state.surface)
    heat = heat_of(state, request.workshop.latitude)
    context = {"zone": zone, "state": state, "level": found, "before": before}
    context["shows_through"] = heat if heat is not None and heat.prints_through else None
    if found.now is None and found.marks:
        context |= {"drawn": marked(found), "stop": blocks.STOP}
    if found.now is not None:
        worst = max(found.islands, key=lambda i: abs(i.mm), default=None)
        y = asked.a_figure(request.GET, "line", 0.0, 100.0)
        y = y / 100 if y else worst.middle[1] if worst else 0.5
        layer = state.plan.next_layer
        context |= _filled(found) | {
            "drawn": drawn(found, y),
            "profile": profile(found, y),
            "waves": found.waves(y),
            "highs": [(high, where_on(*high.middle)) for high in found.highs],
            "fill_is_next": layer is not None and layer.step.kind == StepKind.FILL,
            "grits": blocks.grits(),
            "angle": blocks.ANGLE,
            "says_low": blocks.said_of(False, "guide coat"),
            "says_high": blocks.said_of(True, "guide coat"),
            "stop": blocks.STOP,
            "stair": stair(found),
        }
    return render(request, "measure/level.html", context)


def _filled(level):
    """The lows of a face, and what those that may be filled take together."""
    fills = [(low, where_on(*low.middle), why, takes) for low, why, takes in level.fills]
    to_fill = [(low, words, takes) for low, words, _, takes in fills if takes]
    todo = [takes for _, _, takes in to_fill]
    return {
        "fills": fills,
        "to_fill": to_fill,
        "workings": [(low.name, takes.working(level.paste)) for low, _, takes in to_fill],
        "lifts": max((takes.lifts for takes in todo), default=0),
        "fill_ml": sum(takes.volume_ml for takes in todo),
        "fill_g": _sum(takes.whole_g for takes in todo),
        "work_min": round(sum(takes.work_min for takes in todo)),
        "wait_min": round(max((takes.wait_min or 0.0 for takes in todo), default=0.0)),
    }


def _sum(values):
    """The sum, None where there is none or one of them is not told."""
    told = list(values)
    return sum(told) if told and None not in told else None
