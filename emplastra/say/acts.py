"""One sentence and one button for each zone: what it may have done now.

Groups: 1 a deadline runs, 2 missed, 3 open without a close, 4 waiting, 5 resting.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property

from emplastra.core.rules.cautions import owed
from emplastra.core.surface.clocks import DRIED
from emplastra.core.surface.fold import ACT_WORDS
from emplastra.core.surface.names import Runs, Status, StepKind
from emplastra.core.surface.steps import STEPS
from emplastra.shared.links import Go
from emplastra.shared.times import span
from emplastra.state.ruling import Rulings
from emplastra.state.selectors import ZoneState

from .hours import moment
from .rulings import button_of
from .tape import tape_of, tape_says
from .taps import GRAVE, checks_of, start_of, tap_of, tiles_of

NEVER = float("inf")


@dataclass
class Act:
    """What Bench says of a zone: group 1..5, sort key, sentence parts (text, is bold), one button.

    until_s: a moment to count down to [epoch s]; remark: what a check says beside it;
    tap: what its button sends, an act by one tap ("": it leads to a page); gated: its button leads to the next act,
    so the judge may forbid it.
    """

    group: int
    sort_s: float
    parts: list
    label: str
    go: Go
    status: str
    until_s: float | None = None
    remark: str = ""
    tap: str = ""
    gated: bool = False


@dataclass
class Spoken(ZoneState):
    """A zone's state with what Bench says of it, and the ruling of the one judge on its next act.

    rulings: gives the Rulings of its book; None where nobody asks; led_by: its spot that presses more than it does.
    """

    act: Act | None = None
    led_by: "Spoken | None" = None
    rulings: Callable[[], Rulings] | None = None

    @cached_property
    def ruled(self):
        """What is said of its next act; None where none can be."""
        return self.rulings().now(self) if self.rulings else None

    @property
    def judged(self):
        """The ruling where the act's button leads to what is judged; None where something else holds it up."""
        if self.led_by is not None:
            return self.led_by.judged
        return self.ruled if self.act.gated else None

    @property
    def leads(self):
        """Whose act its row shows: its own, or a spot's."""
        return self.led_by or self

    @property
    def beside(self):
        """Its other spots on which something is to do."""
        return [s for s in self.spots if s.act and s.act.group < 5 and s is not self.led_by]

    @property
    def stop(self):
        """What stops its next act and no clock says; None if nothing does."""
        return self.judged.stop if self.judged else None

    @property
    def say(self):
        """The act's sentence."""
        return self.act.parts

    @property
    def shown(self):
        """The act as its button shows it: recorded by the tap where nothing grave is said of it; a stop takes the
        button's place, and leads to its fix.
        """
        if self.stop is not None:
            label, go = button_of(self.leads.zone, self.stop)
            return replace(self.act, label=label, go=go, tap="")
        if self.judged is not None and self.judged.word in GRAVE:
            return self.act
        return replace(self.act, tap=tap_of(self.act.go))

    @property
    def cautions(self):
        """What is to be minded at the act that its button records."""
        if not self.shown.tap or self.judged is None:
            return ()
        return owed(self.judged.act, self.judged.face)

    @property
    def starts(self):
        """What the button sends that begins its next step, "" where none does."""
        if self.led_by is not None:
            return self.led_by.starts
        return "" if self.stop is not None or not self.act.gated else start_of(self)

    @property
    def tiles(self):
        """[(label, what the button sends)] of acts beside the next one."""
        return tiles_of(self)

    @property
    def checks(self):
        """Keys of the checks that it can answer now."""
        return checks_of(self)


def log_page(zone, kind, step=""):
    """The page that logs an entry of this kind on a zone."""
    return Go("work:log", (zone.pk, kind), (("step", step),) if step else ())


def act_for(state, facts):
    """What Bench says of a zone, its spots taken into account."""
    act = _own_act(state, facts)
    clock, coated = tape_of(state)
    if clock is not None:
        group, sort_s, parts = tape_says(clock, coated, state.surface.t_s, facts)
        off = Act(group, sort_s, parts, "Mask off", log_page(state.zone, "unmasked"), clock.status)
        act = min(act, off, key=lambda each: (each.group, each.sort_s))
    open_spots = [s for s in state.spots if s.act and s.act.group < 5]
    if open_spots:
        worst = min(open_spots, key=lambda s: (s.act.group, s.act.sort_s, s.zone.pk))
        if (worst.act.group, worst.act.sort_s) < (act.group, act.sort_s):
            state.led_by = worst
            return replace(worst.act, parts=[(f"Spot {worst.zone.name}: ", False), *worst.act.parts], gated=False)
    return act


def _own_act(state, facts):
    surface = state.surface
    if surface.away_s is not None:
        return _away(state, facts)
    if surface.closed_s is not None:
        parts = [("Closed ", False), (moment(surface.closed_s, facts), True), (": out of reach.", False)]
        return Act(5, NEVER, parts, "See the record", _record(state), Status.RESTING)
    wet = surface.clock(Runs.KEEP_WET)
    if wet is not None:
        return _keep_wet(state, wet, facts)
    if surface.in_work:
        return Act(1, surface.t_s, [("In work now.", False)], "See the record", _record(state), Status.IN_WORK)
    if state.facts.revision is not None and state.facts.revision.end_state != "coated":
        end = _uncoated(state)
        if end is not None:
            return end
    if state.next_step is None:
        return _resting(state, facts)
    lead = state.clock
    if lead is not None and lead.kind == Runs.DRY_OFF:
        return _drying(state, lead, facts)
    status = lead.status if lead else Status.OPEN
    if status == Status.BARE:
        return _bare(state, facts)
    if status == Status.MISSED and lead.kind in {Runs.RECOAT, Runs.KEYED}:
        return _missed(state, facts)
    if state.next_kind.entry == "keyed":
        return _sand(state, facts)
    if lead is None:
        return _begin(state, facts)
    return {Status.MISSED: _act_missed, Status.WAITING: _waiting, Status.UNJUDGED: _unjudged}.get(status, _open)(
        state, facts
    )


def _away(state, facts):
    """At a contractor: when it is due, and since when it is not back."""
    go, away = log_page(state.zone, "back"), state.surface.away
    to = f"At {away.contractor}" if away.contractor else "Away"
    if away.due is None:
        parts = [
            (f"{to} since ", False),
            (moment(state.surface.away_s, facts), True),
            ("; its clocks are suspended.", False),
        ]
        return Act(4, NEVER, parts, "Log it back", go, Status.AWAY)
    left, day = (away.due - facts.today).days, f"{away.due:%a} {away.due.day} {away.due:%b}"
    if left < 0:
        parts = [
            (f"{to}: was due ", False),
            (day, True),
            (f", {-left} day{'s' if left < -1 else ''} ago. Ask for it.", False),
        ]
        return Act(2, state.surface.t_s + left * 86400.0, parts, "Log it back", go, Status.AWAY)
    parts = [
        (f"{to}, due ", False),
        ("today" if not left else "tomorrow" if left == 1 else day, True),
        ("; its clocks are suspended.", False),
    ]
    return Act(4, state.surface.t_s + left * 86400.0, parts, "Log it back", go, Status.AWAY)


def _uncoated(state):
    """The act of a zone that ends without a coat, None while a step of its treatment is still to do."""
    revision = state.facts.revision
    if revision.end_state != "as-found" and state.next_step is not None:
        return None
    parts = [(f"{revision.get_end_state_display()}.", False)]
    return Act(5, NEVER, parts, "See the record", _record(state), Status.RESTING)


def next_label(state):
    """The next thing by name: "Coat 2 of 3, epoxy primer"."""
    if state.next_kind.entry != "coat":
        return state.next_kind.name
    return coat_label(state.next_step, *state.coat_number)


def coat_label(step, number, of):
    """A coat of a step by name, with its number where there are several."""
    name = STEPS[step.kind].name
    return f"{name}, coat {number} of {of}" if of > 1 else name


def _button(state):
    """The button for the next step: mix, log from a pot, or log."""
    step, kind = state.next_step, state.next_kind
    if kind.entry == "access":
        how = {StepKind.TRIAL_FIT: StepKind.TRIAL_FIT, StepKind.CLOSE: "closed"}[step.kind]
        return state.next_kind.verb, log_page(state.zone, "access", step.id).asking(how=how)
    if kind.entry != "coat":
        return kind.verb, log_page(state.zone, kind.entry, step.id)
    usable = [pot for pot in state.pots if pot.can_coat(state.surface.t_s)]
    if usable:
        return "Log coat", log_page(state.zone, "coat", step.id).asking(pot=usable[0].entry.pk)
    if state.sheet and state.sheet.form == "mixed":
        return "Mix", Go("work:mix", (state.zone.pk,))
    return "Log coat", log_page(state.zone, "coat", step.id)


def _record(state):
    return Go("record:zone", (state.zone.pk,))


def _why(state):
    """The figures of its window, each with its working."""
    return Go("work:now", (state.zone.pk,), anchor="why")


def _plan(state):
    return Go("plans:build-up", (state.zone.pk,))


def _keep_wet(state, clock, facts):
    """Prep that stands wet: the next prompt, and when it may come off."""
    now_s = state.surface.t_s
    ready = clock.opens_s is not None and now_s >= clock.opens_s and clock.progress >= 1
    if ready:
        parts = [("Rinse ", False), ("now", True), (": its time is up.", False)]
        go = log_page(state.zone, "rinsed", _step_of(state, "rinsed")).asking(wet="yes")
        return Act(1, clock.opens_s, parts, "Rinse", go, Status.KEEP_WET)
    if clock.note == DRIED:
        parts = [("May have dried. ", True), ("Wet it again: its time starts anew.", False)]
    else:
        wait = clock.closes_s - now_s
        parts = [("Wet again ", False), ("now" if wait <= 0 else f"in {span(wait)}", True), (".", False)]
        if clock.opens_s is not None:
            parts.append((f" Rinse at {moment(clock.opens_s, facts)}.", False))
        elif clock.note:
            parts.append((f" {clock.note[:1].upper()}{clock.note[1:]}.", False))
    go = log_page(state.zone, "wetted")
    return Act(1, clock.closes_s, parts, "Wet again", go, Status.KEEP_WET, clock.closes_s)


def _all_on(state, facts):
    """All coats are on: cured only where a sheet says when, and no check says otherwise."""
    if not state.surface.layers:
        return [("All of the plan is done.", False)]
    cure = state.surface.clock(Runs.CURE)
    if cure is None:
        return [("All coats on. When it is cured its sheet does not say.", False)]
    if cure.opens_s is None:
        return [("All coats on. Not cured within 30 days in this air.", False)]
    if cure.opens_s > state.surface.t_s:
        return [("All coats on. Cured by ", False), (moment(cure.opens_s, facts), True), (".", False)]
    if cure.status == Status.WAITING:
        return [(f"All coats on. {cure.remark[:1].upper()}{cure.remark[1:]}.", False)]
    return [("All coats on, cured.", False)]


def _step_of(state, entry):
    """Id of the first undone step that an entry of this kind records, "" if none is planned."""
    return next((s.step.id for s in state.plan.states if STEPS[s.step.kind].entry == entry and not s.done), "")


def _drying(state, clock, facts):
    if clock.status == Status.OPEN:
        return _begin(state, facts)
    parts = [
        ("Dry from ", False),
        (moment(clock.opens_s, facts), True),
        (f"; then {next_label(state).lower()}.", False),
    ]
    go = log_page(state.zone, "dried", _step_of(state, "dried")).asking(how="blown")
    return Act(4, clock.opens_s or NEVER, parts, "Blow it dry", go, Status.WAITING)


def _wiped_until(state):
    """When the wipe before this coat is used up [epoch s]; infinity if none runs."""
    clock = state.surface.clock(Runs.DEGREASED)
    runs = clock is not None and clock.status == Status.OPEN and state.next_kind.entry == "coat"
    return clock.closes_s if runs else NEVER


def _begin(state, facts):
    wiped = _wiped_until(state)
    if wiped < NEVER:
        parts = [
            (f"{next_label(state)} by ", False),
            (moment(wiped, facts), True),
            (": wiped, good for an hour.", False),
        ]
        return Act(1, wiped - state.lead_s, parts, *_button(state), Status.OPEN, wiped, gated=True)
    if not state.facts.events:
        return Act(
            4,
            NEVER,
            [(f"Nothing runs yet. {next_label(state)} comes first.", False)],
            *_button(state),
            Status.OPEN,
            gated=True,
        )
    parts = [(f"{next_label(state)}: ", False), ("now", True), (", no deadline runs.", False)]
    return Act(3, NEVER, parts, *_button(state), Status.OPEN, gated=True)


def _first(state):
    """What comes before the coat that the window is for."""
    return "" if state.next_kind.entry == "coat" or state.toward.act else f" {state.next_kind.name} first."


def _layer_label(state):
    """What the window is for: the coat to come, or the act."""
    layer = state.plan.next_layer
    if state.toward.act or layer is None:
        return next_label(state)
    return coat_label(layer.step, *state.coat_number)


def _remark(state):
    """What a check says beside the leading clock, and a trial fit that must come off."""
    said = [state.clock.remark] if state.clock and state.clock.remark else []
    if state.surface.trial_fit_s is not None:
        said.append("on a trial fit: must come off again")
    return "; ".join(said)


def _bare(state, facts):
    clock = state.surface.clock(Runs.BARE)
    label, go = _button(state)
    due = min(clock.closes_s if clock.closes_s is not None else NEVER, _wiped_until(state))
    now_s = state.surface.t_s
    if clock.closes_s is not None and now_s >= clock.closes_s:
        parts = [("Primer overdue by ", False), (span(now_s - clock.closes_s), True), (".", False)]
    else:
        parts = [("Primer by ", False), (moment(due if due < NEVER else None, facts), True), (".", False)]
    burnt = sum(share for _, share, _ in state.surface.lost)
    if burnt and state.surface.layers:
        first = state.surface.layers[0]
        parts.append((f" Film lost on {burnt:.0%}: prime that strip.", False))
        of_it = {"source": f"product:{first.product}", "share": f"{100 * burnt:.1f}"}
        label, go = "Prime it", log_page(state.zone, "coat", first.step).asking(**of_it)
    elif state.next_kind.entry != "coat":
        parts.append((f" {state.next_kind.name} first.", False))
    until_s = due if due < NEVER else None
    return Act(1, due - state.lead_s, parts, label, go, Status.BARE, until_s, _remark(state), gated=True)


def _bare_too(state, facts):
    """What is bare beside the coat that leads: a strip burnt or opened up."""
    bare = state.surface.clock(Runs.BARE)
    if bare is None or bare.closes_s is None:
        return []
    share = sum(share for _, share in state.surface.bare)
    return [(f" {share:.0%} is bare: primer there by {moment(bare.closes_s, facts)}.", False)]


def _sand(state, facts):
    """Abrade or block comes next: open once sandable, never closes (keying clears a missed window)."""
    clock = state.surface.clock(Runs.SANDABLE) or state.surface.window
    label, go = _button(state)
    grit = f" with {state.next_step.grit}" if state.next_step.grit else ""
    if clock is None or (
        clock.opens_s is not None and state.surface.t_s >= clock.opens_s and clock.status != Status.WAITING
    ):
        parts = [(f"{state.next_kind.name}{grit}: ", False), ("now", True), (", or at any time after.", False)]
        return Act(3, NEVER, parts, label, go, Status.OPEN, gated=True)
    when = moment(clock.opens_s, facts)
    parts = [(f"{state.next_kind.name}{grit} from ", False), (when, True), (".", False)]
    return Act(4, clock.opens_s or NEVER, parts, label, go, Status.WAITING, remark=clock.remark)


def _missed(state, facts):
    clock = state.clock
    grit = f" {clock.grit}" if clock.grit else ""
    what = "Key again" if clock.kind == Runs.KEYED else "Key"
    parts = [
        ("Closed ", False),
        (moment(clock.closes_s, facts), True),
        (f". {what}{grit}, then it is open again.", False),
        *_bare_too(state, facts),
    ]
    if state.next_kind.entry == "keyed":
        return Act(2, clock.closes_s, parts, *_button(state), Status.MISSED, remark=_remark(state))
    return Act(
        2,
        clock.closes_s,
        parts,
        "Key it",
        Go("work:missed", (state.zone.pk,)),
        Status.MISSED,
        remark=_remark(state),
    )


def _act_missed(state, facts):
    clock = state.clock
    parts = [(f"Closed for {clock.toward} ", False), (moment(clock.closes_s, facts), True), (". See the sheet.", False)]
    return Act(2, clock.closes_s, parts, "See why", _why(state), Status.MISSED)


def _waiting(state, facts):
    clock = state.clock
    if clock.opens_s is None or clock.note:
        said = [(f"{clock.note[:1].upper()}{clock.note[1:]}.", False)]
        return Act(4, NEVER, said, "See why", _why(state), Status.WAITING, remark=_remark(state))
    what = next_label(state) if not state.toward.act else ACT_WORDS[state.toward.act].capitalize()
    shut = f"Shut since {moment(clock.shut[0], facts)}. " if clock.shut else ""
    parts = [(f"{shut}{what} from ", False), (moment(clock.opens_s, facts), True)]
    parts.append((f", until {moment(clock.closes_s, facts)}." if clock.closes_s else ".", False))
    return Act(4, clock.opens_s, parts, "See why", _why(state), Status.WAITING, remark=_remark(state))


def _unjudged(state, facts):
    said = [(f"Not judged: {state.clock.note}.", False)]
    return Act(3, NEVER, said, *_button(state), Status.UNJUDGED, gated=True)


def _open(state, facts):
    clock = state.clock
    label, go = _button(state)
    closes = min(clock.closes_s if clock.closes_s is not None else NEVER, _wiped_until(state))
    wet = " Wet-on-wet, do not sand." if clock.wet_on_wet else ""
    if closes == NEVER:
        until = "until when: cannot say" if clock.untold else "never closes"
        parts = [(f"{_layer_label(state)}: ", False), ("now", True), (f", {until}.{_first(state)}{wet}", False)]
        return Act(3, NEVER, parts, label, go, Status.OPEN, remark=_remark(state), gated=True)
    act_by = closes - state.lead_s
    again = f", or again from {moment(clock.again_s, facts)}" if clock.again_s is not None else ""
    parts = [
        (f"{_layer_label(state)} by ", False),
        (moment(closes, facts), True),
        (f"{again}.{_first(state)}{wet}", False),
        *_bare_too(state, facts),
    ]
    if state.sheet and state.sheet.form == "mixed" and label == "Mix":
        late = act_by <= state.surface.t_s
        parts.append((" Start mixing now." if late else f" Start mixing by {moment(act_by, facts)}.", False))
    return Act(1, act_by, parts, label, go, clock.status, closes, _remark(state), gated=True)


def _resting(state, facts):
    if not state.facts.steps:
        return Act(
            4,
            NEVER,
            [("No plan yet. Choose a system, or put steps in.", False)],
            "Choose a system",
            Go("plans:build-up", (state.zone.pk,), anchor="choose"),
            Status.OPEN,
        )
    parts = _all_on(state, facts)
    if state.surface.trial_fit_s is not None:
        return Act(
            3,
            NEVER,
            [("On a trial fit: must come off again.", False)],
            "Log it",
            log_page(state.zone, "access"),
            Status.OPEN,
        )
    return Act(5, NEVER, parts, "See the record", _record(state), Status.RESTING)


def fill_acts(found, facts):
    """Give each state (Spoken) its act; a spot's own act comes before its zone's."""
    for state in sorted(found, key=lambda s: s.zone.parent_id is None):
        state.act = act_for(state, facts)
    return found


KEPT_S = 600.0
"""How long a place in the order is kept at most [s]: lead times follow the air."""
ORDERING = (
    *(Status.KEEP_WET, Status.BARE, Runs.DRY_OFF, Runs.RECOAT, Runs.ACT),
    *(Runs.DEGREASED, Runs.SANDABLE, Runs.CURE, Runs.TAPE),
)


def keep_place_in_order(state):
    """(group, act-by [epoch s]) of a state, kept with its facts until the next of its clocks turns."""
    now_s, kept = state.surface.t_s, state.facts.kept
    place, (built, until_s) = (state.act.group, state.act.sort_s), kept.built or (state.surface, now_s)
    _, from_s, plan_s = kept.plan
    if not (built.t_s <= now_s < until_s and from_s <= now_s < plan_s):
        return place  # somebody else looked at another moment meanwhile
    turns = [now_s + KEPT_S, until_s, plan_s, state.act.sort_s]
    for kind in ORDERING:
        clock = state.surface.clock_maker(kind) if state.surface.clock_maker else None
        if clock is not None:
            turns += [clock.opens_s, clock.closing_s, clock.closes_s]
            turns.append(
                clock.closes_s + 0.5 * state.all.workshop.wet_prompt_min * 60 if kind == Runs.KEEP_WET else None
            )
    kept.order = (state.facts.where, now_s, min(t for t in turns if t is not None and t > now_s), place)
    return place


def bench_order(state):
    """Sort key of Bench: group, then act-by time, then name."""
    return (state.act.group, state.act.sort_s, state.zone.pk)
