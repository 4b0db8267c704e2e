"""The metal work of a zone on a phone: what comes now, how much it takes, what runs."""

from django.shortcuts import render

from emplastra.core.metal.treatment import cards, portions
from emplastra.core.surface.names import Runs
from emplastra.core.surface.steps import DEFER, STEPS
from emplastra.core.survey.inspection import FAULT, POINTS, word
from emplastra.say.acts import log_page

from .rule_views import one_zone, raised, verdict_context


def treat(request, pk):
    """Steps from the strip to the first coat, the one that comes now on top."""
    zone, state = one_zone(request, pk)
    facts = state.facts
    temp_c = facts.where.at(state.surface.t_s).air_c if facts.where else 20.0
    prompt_s, area_m2 = state.all.workshop.wet_prompt_min * 60, facts.area_m2 if facts.revision else 0.0
    found = cards(state.plan, area_m2, state.all.sheets, temp_c, prompt_s)
    rows = [(card, log_page(zone, STEPS[card.kind].entry, card.id)) for card in found]
    bare = state.surface.clock(Runs.BARE)
    told = {point: answer for point, answer, _ in state.surface.inspected}
    context = verdict_context(zone, state) | {
        "state": state,
        "raised": raised(state),
        "rows": [row for row in rows if row[0].status != "done"],
        "done": [card for card, _ in rows if card.status == "done"],
        "bare": bare,
        "portions": portions(state.surface.bare, state.surface.t_s),
        "primer_due": bool(rows) and not state.surface.layers and all(c.status == "done" for c, _ in rows[:-1]),
        "inspected": [
            (point.name, word(key, told.get(key, "")), told.get(key) == FAULT) for key, point in POINTS.items()
        ]
        if told
        else [],
        "inspected_s": max((t for *_, t in state.surface.inspected), default=None),
        "stops": state.ruled is not None and state.ruled.word == "stops",
        "defer": DEFER,
    }
    return render(request, "metal/treat.html", context)
