"""What a zone's past says that its surface does not: blush, nights outdoors, masks, spots that a coat has closed."""

from emplastra.core.surface import events
from emplastra.core.surface.clocks import thicker
from emplastra.core.surface.fit import blushed
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.patches import FULL

from .selectors import metal_at, sprayed_s


def joined(state, spot):
    """True for a spot whose own plan is done and over which its face (their ZoneStates) was coated since: it is closed,
    what lies on the face lies on it.
    """
    t_s = state.surface.t_s
    whole = [e.ended_s for e in state.facts.events if isinstance(e, events.Coated) and e.share * e.of_face >= FULL]
    last_s = max((t for t in whole if t <= t_s), default=None)
    if last_s is None or spot.plan.next is not None:
        return False
    return all(e.ended_s <= last_s for e in spot.facts.events if e.ended_s <= t_s)


def blushed_of(each, facts, layer):
    """By which basis an epoxy on a zone (ZoneFacts) met cold or damp before it was hard, "" if it did not.

    Kept while the air is the same.
    """
    was, outdoors, kept = each.kept.blush or (None, None, {})
    if was is not each.where or outdoors != facts.outdoors:
        kept = {}
        each.kept.blush = (each.where, facts.outdoors, kept)
    key = (layer.entries, layer.ended_s, layer.film)
    if key not in kept:
        kept[key] = _blush(each, facts, layer)
    return kept[key]


def _blush(each, facts, layer):
    longer = thicker(layer.film.dft_um, layer.sheet.aim_um)
    metal_c = metal_at(each, each.tau_s, layer.began_s)
    ended_s = sprayed_s(each, layer.began_s, layer.ended_s)
    found = blushed(layer.sheet, each.where, each.tau_s, metal_c, layer.began_s, ended_s, facts.outdoors, longer)
    return found or ""


def nights_of(each, facts, start_s, end_s):
    """How many nights a zone (ZoneFacts) spent outdoors between two moments [epoch s], whole ones."""
    out = [(s.start_s, s.end_s) for s in each.where.stays if s.place in facts.outdoors.places]
    nights = facts.outdoors.nights(start_s, end_s) if out else ()
    return sum(any(a <= x and y <= b for a, b in out) for x, y in nights if start_s <= x and y <= end_s)


def masked(each, t_s):
    """True if a mask is on a zone (ZoneFacts) at a moment [epoch s], told as such or as a step of its plan."""
    steps = {step.id for step in each.steps if step.kind == StepKind.MASK}
    told = [e for e in each.events if e.ended_s <= t_s and (e.step in steps or _tells_masks(e))]
    return bool(told) and not isinstance(max(told, key=lambda e: e.turn), events.Unmasked)


def _tells_masks(event):
    """True for masks taken off, and for masks put on but over all of a face: nothing is coated beside those."""
    return isinstance(event, events.Unmasked) or (isinstance(event, events.Masked) and not event.whole)
