"""What access knows of a face: what lies on it, what is near, what was logged on it."""

from emplastra.core.metal import access
from emplastra.core.metal.access import ActKind, Happened
from emplastra.core.product.kinds import ProductKind
from emplastra.core.surface.clocks import recoat_clock
from emplastra.core.surface.events import Access, Coated, FilmLost
from emplastra.core.surface.fold import Toward
from emplastra.core.surface.integral import crossing
from emplastra.core.surface.names import Loss, Status
from emplastra.core.surface.patches import FULL
from emplastra.core.surface.steps import STEPS
from emplastra.core.survey.findings import STILL_OPEN
from emplastra.shared.times import from_epoch

from .known import known

WET_SEALER_H = 24.0
"""Sealer counts as wet for this long [h] where its sheet says nothing. Common practice, no source."""
_HOW = {
    "opened": ActKind.OPEN,
    "trial-fit": ActKind.TRIAL_FIT,
    "taken-off": ActKind.TAKE_OFF,
    "closed": ActKind.CLOSE,
}
_COATS = {
    ProductKind.SEAM_SEALER: ActKind.SEAL,
    ProductKind.CAVITY_WAX: ActKind.WAX,
    ProductKind.BODY_FILLER: ActKind.FILL,
    ProductKind.FIBRE_FILLER: ActKind.FILL,
    ProductKind.FINE_FILLER: ActKind.FILL,
    ProductKind.SPRAYABLE_FILLER: ActKind.FILL,
}


def faces_of(states):
    """{zone id as text: the core's Face} of zones (their states)."""
    told = known([s.zone for s in states], {s.zone.pk: s.facts for s in states})
    return {str(s.zone.pk): _face(s, told[s.zone.pk]) for s in states}


def _face(state, told):
    surface, revision = state.surface, state.facts.revision
    kinds = {layer.sheet.kind for layer in surface.layers if layer.sheet and layer.share > 0.5}
    near, smear = told.get(("near", "")), told.get(("wax", ""))
    wet, until = _sealer(state)
    return access.Face(
        state.zone.name,
        any(layer.share > 0.5 for layer in surface.layers) and not surface.bare,
        frozenset(kinds),
        sum(layer.left_um or 0.0 for layer in surface.layers),
        frozenset(near[0].choice.split("+")) if near else frozenset(),
        ProductKind.CAVITY_WAX in kinds or bool(smear and smear[0].choice == "smears" and smear[1] in STILL_OPEN),
        wet,
        _shut_drains(told),
        _is(revision, "end_state", {"bare", "as-found"}),
        planned_um=_to_come_um(state),
        coats_before=_coats_before(state),
        inner=_is(revision, "part", {"inner", "box", "tank"}),
        wet_until=until,
    )


def _is(revision, name, values):
    """True if a measure of a zone is one of these; False without measures."""
    return revision is not None and getattr(revision, name) in values


def _to_come_um(state):
    """Film of the plan's coats that are still to be put on [µm]."""
    found = 0.0
    for each in state.plan.states:
        step = each.step
        if STEPS[step.kind].leaves_film and not each.done and not step.left_out:
            found += (step.left_um or 0.0) * (step.coats - each.coats_done - each.share) / step.coats
    return found


def _coats_before(state):
    """{id of a step of the plan: whether a coat that covers it is on by then, or planned before it}."""
    found, coated = {}, bool(state.surface.layers) and not state.surface.bare
    for each in state.plan.states:
        found[each.step.id] = coated
        coated = coated or (STEPS[each.step.kind].leaves_film and not each.step.left_out and not each.step.on)
    return found


def _shut_drains(told):
    """Marks of the drains that let nothing out."""
    shut = {"blocked", "closed", "missing"}
    drains = [(mark, each.answer.choice, each.status) for (topic, mark), each in told.items() if topic == "drain"]
    return tuple(mark for mark, choice, status in drains if status in STILL_OPEN and choice in shut)


def _sealer(state):
    """(is the sealer on it still wet, until when in words): by its window toward welding, else its times, else
    assumed.
    """
    top, now_s = state.surface.top, state.surface.t_s
    if top is None or top.sheet is None or top.sheet.kind != ProductKind.SEAM_SEALER:
        return False, ""
    where, how = state.facts.where, "by its sheet"
    clock = recoat_clock(state.surface, where, Toward("", "", "weld"))
    dry_s = clock.opens_s if clock and clock.status != Status.UNJUDGED else None
    law = top.sheet.times.get("ready_to_weld") or top.sheet.times.get("cure")
    if dry_s is None and clock and clock.status != Status.UNJUDGED:
        return True, clock.note
    if dry_s is None and law:
        dry_s = crossing(where, law, top.ended_s).t_s
        if dry_s is None:
            return True, "not within 30 days at this temperature"
    if dry_s is None:
        dry_s, how = top.ended_s + WET_SEALER_H * 3600, f"assumed: {WET_SEALER_H:.0f} h, its sheet says nothing"
    moment = from_epoch(dry_s).astimezone(state.all.workshop.zone)
    return dry_s > now_s, f"until {moment:%a %d %b %H:%M}, {how}"


def happened_on(states):
    """What was logged on zones (their states) that may be an act of the plan, in order of time."""
    return happened([s.facts for s in states], states[0].surface.t_s) if states else []


def happened(zones, t_s):
    """What was logged on zones (their ZoneFacts) by a moment [epoch s] that may be an act of the plan of access."""
    found = []
    for each in zones:
        face, shares = str(each.zone.pk), {}
        for event in each.events:
            kind = ""
            if isinstance(event, Access):
                kind, what = _HOW[event.how], event.what
            elif isinstance(event, FilmLost) and event.cause == Loss.WELD:
                kind, what = ActKind.WELD, ""
            elif isinstance(event, Coated):
                kind, what = _COATS.get(event.sheet.kind if event.sheet else "", ActKind.COAT), ""
                # A coat put on in portions counts once it has gone over all of it.
                shares[kind] = shares.get(kind, 0.0) + event.share
                if shares[kind] < FULL:
                    continue
                shares[kind] = 0.0
            if kind and event.ended_s <= t_s:
                found.append(Happened(kind, face, event.ended_s, event.entry, what))
    return sorted(found, key=lambda h: (h.at_s, h.entry))
