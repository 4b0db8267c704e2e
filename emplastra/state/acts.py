"""One sentence and one button for each zone: what it may have done now."""

from urllib.parse import urlencode

from django.urls import reverse

from .pots import live_pots
from .selectors import Act, log_url, moment, span

NEVER = float("inf")


def act_for(state, facts):
    """What Bench says of a zone.

    Groups: 1 a deadline runs, 2 missed, 3 open without a close, 4 waiting, 5 resting.
    """
    step, kind = state.next_step, state.next_kind
    if state.surface.in_work:
        return Act(1, state.surface.t_s, [("In work now.", False)], "Record", _record(state), "in work")
    if step is None:
        return _resting(state, facts)
    if not kind.entry:
        parts = [
            (f"{kind.name} comes next; it is not logged here yet. ", False),
            ("Leave it out", True),
            (" to go on.", False),
        ]
        return Act(3, NEVER, parts, "Build-up", state.zone.get_absolute_url(), "open")
    status = state.surface.headline
    if status == "bare":
        return _bare(state, facts)
    if kind.entry == "keyed":
        return _sand(state, facts)
    if state.clock is None:
        return _begin(state)
    return {"missed": _missed, "waiting": _waiting, "unjudged": _unjudged}.get(status, _open)(state, facts)


def next_label(state):
    """The next thing by name: "Coat 2 of 3, epoxy primer"."""
    _step, kind = state.next_step, state.next_kind
    if kind.entry != "coat":
        return kind.name
    number, of = state.coat_number
    return f"{kind.name}, coat {number} of {of}" if of > 1 else kind.name


def _button(state):
    """The button for the next step: mix, log from a pot, or log."""
    step, kind = state.next_step, state.next_kind
    if kind.entry != "coat":
        return {"bared": "Bared", "degreased": "Degreased", "keyed": "Keyed"}[kind.entry], log_url(
            state.zone, kind.entry, step.id
        )
    usable = [pot for pot in state.pots if pot.can_coat(state.surface.t_s)]
    if usable:
        query = urlencode({"step": step.id, "pot": usable[0].entry.pk})
        return "Log coat", f"{reverse('work:log', args=[state.zone.pk, 'coat'])}?{query}"
    if state.sheet and state.sheet.form == "mixed":
        return "Mix", reverse("work:mix", args=[state.zone.pk])
    return "Log coat", log_url(state.zone, "coat", step.id)


def _record(state):
    return reverse("record:zone", args=[state.zone.pk])


def _begin(state):
    return Act(3, NEVER, [(f"Nothing runs yet. {next_label(state)} comes first.", False)], *_button(state), "open")


def _first_wipe(state):
    return " Degrease first." if state.next_step.kind == "degrease" else ""


def _air_remark(state):
    """Why not now, if the gate is shut: the same judgement that the air band shows."""
    if state.gate is None or state.gate.is_open:
        return []
    return [(f" Not now: {state.gate.breaches[0].sentence}.", False)]


def _bare(state, facts):
    clock = state.surface.clock("bare")
    label, url = _button(state)
    act_by = (clock.closes_s or NEVER) - state.lead_s
    if clock.closes_s is not None and state.surface.t_s >= clock.closes_s:
        parts = [("Primer overdue by ", False), (span(state.surface.t_s - clock.closes_s), True), (".", False)]
    else:
        parts = [("Primer by ", False), (moment(clock.closes_s, facts), True), (".", False)]
    if state.next_kind.entry != "coat":
        parts.append((f" {state.next_kind.name} first.", False))
    return Act(1, act_by, parts + _air_remark(state), label, url, "bare")


def _sand(state, facts):
    """Abrade or block comes next: open once sandable, never closes (keying clears a missed window)."""
    clock = state.surface.clock("sandable")
    label, url = _button(state)
    grit = f" with {state.next_step.grit}" if state.next_step.grit else ""
    if clock is None:
        clock = state.surface.clock("recoat")
    if clock is None or (clock.opens_s is not None and state.surface.t_s >= clock.opens_s):
        return Act(
            3,
            NEVER,
            [(f"{state.next_kind.name}{grit}: ", False), ("now", True), (", never closes.", False)],
            label,
            url,
            "open",
        )
    when = moment(clock.opens_s, facts)
    return Act(
        4,
        clock.opens_s or NEVER,
        [(f"{state.next_kind.name}{grit} from ", False), (when, True), (".", False)],
        label,
        url,
        "waiting",
    )


def _missed(state, facts):
    clock = state.clock
    grit = f" {clock.grit}" if clock.grit else ""
    what = "Key again" if clock.kind == "keyed" else "Key"
    parts = [
        ("Closed ", False),
        (moment(clock.closes_s, facts), True),
        (f". {what}{grit}, then it is open again.", False),
    ]
    query = urlencode({"grit": clock.grit or ""})
    return Act(2, clock.closes_s, parts, "Key it", f"{log_url(state.zone, 'keyed')}?{query}", "missed")


def _waiting(state, facts):
    clock = state.clock
    _label, _url = _button(state)
    if clock.opens_s is None or clock.note:
        return Act(4, NEVER, [(f"{clock.note[:1].upper()}{clock.note[1:]}.", False)], "Why", _window(state), "waiting")
    parts = [(f"{next_label(state)} from ", False), (moment(clock.opens_s, facts), True)]
    parts.append((f", until {moment(clock.closes_s, facts)}." if clock.closes_s else ".", False))
    return Act(4, clock.opens_s, parts, "Why", _window(state), "waiting")


def _window(state):
    return reverse("work:window", args=[state.zone.pk])


def _unjudged(state, facts):
    note = state.clock.note
    return Act(3, NEVER, [(f"Not judged: {note}.", False)], *_button(state), "unjudged")


def _open(state, facts):
    clock = state.clock
    label, url = _button(state)
    if clock.closes_s is None:
        parts = [(f"{next_label(state)}: ", False), ("now", True), (f", never closes.{_first_wipe(state)}", False)]
        return Act(3, NEVER, parts + _air_remark(state), label, url, "open")
    act_by = clock.closes_s - state.lead_s
    parts = [
        (f"{next_label(state)} by ", False),
        (moment(clock.closes_s, facts), True),
        (f".{_first_wipe(state)}", False),
    ]
    if state.sheet and state.sheet.form == "mixed" and not _first_wipe(state):
        late = act_by <= state.surface.t_s
        parts.append((" Start mixing now." if late else f" Start mixing by {moment(act_by, facts)}.", False))
    return Act(1, act_by, parts + _air_remark(state), label, url, clock.status)


def _resting(state, facts):
    if not state.facts.steps:
        return Act(3, NEVER, [("No plan yet. Choose a system.", False)], "Plan", state.zone.get_absolute_url(), "open")
    cure = state.surface.clock("cure")
    if cure and cure.opens_s and cure.opens_s > state.surface.t_s:
        parts = [("All coats on. Cured by ", False), (moment(cure.opens_s, facts), True), (".", False)]
    else:
        parts = [("All coats on, cured.", False)]
    return Act(5, NEVER, parts, "Record", _record(state), "resting")


def fill_acts(found, facts):
    """Give each state its pots and its act."""
    pots = live_pots([s.zone.pk for s in found], facts)
    for state in found:
        state.pots = pots.get(state.zone.pk, [])
        state.act = act_for(state, facts)
    return found


def bench_order(state):
    """Sort key of Bench: group, then act-by time, then name."""
    return (state.act.group, state.act.sort_s, state.zone.pk)
