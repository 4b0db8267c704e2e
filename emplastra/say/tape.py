"""What Bench says of a mask: when its tape has to be off."""

from itertools import takewhile

from emplastra.core.surface.masks import WARN_S
from emplastra.core.surface.names import Runs, Status, StepKind
from emplastra.core.surface.steps import STEPS
from emplastra.shared.times import span

from .hours import moment


def tape_of(state):
    """(Clock of the tape, whether a coat over it waits to be cut off from it) of a zone's state; (None, False) where
    nothing has to be said of a mask now.
    """
    surface = state.surface
    if not surface.masks or surface.away_s is not None or surface.clock_maker is None:
        return None, False
    clock = surface.clock(Runs.TAPE)
    if _is_coated(state):
        return clock, True
    return (clock, False) if clock.closes_s - surface.t_s <= WARN_S else (None, False)


def _is_coated(state):
    """True if all coats of a stage are on since it was masked: nothing more goes on before the mask comes off."""
    top = state.surface.top
    if top is None or any(e.whole or e.ended_s > top.began_s for e in state.surface.masks):
        return False
    undone = [s.step.kind for s in state.plan.states if not s.done and not s.step.left_out]
    before = list(takewhile(lambda kind: not STEPS[kind].leaves_film, undone))
    put_on = {s.step.id: STEPS[s.step.kind].stage for s in state.plan.states}.get(top.step)
    coming = STEPS[undone[len(before)]].stage if len(before) < len(undone) else None
    return coming != put_on or coming is None or StepKind.MASK in before


def tape_says(clock, coated, now_s, facts):
    """(group on Bench, when it ends or begins [epoch s], the sentence in parts) of such a clock."""
    if clock.status == Status.MISSED:
        late = (span(now_s - clock.closes_s), True)
        more = " late: score its edge first, warm it, pull slowly." if coated else " past what it bears: mask anew."
        return 2, clock.closes_s, [("Tape off: ", False), late, (more, False)]
    if clock.status == Status.WAITING:
        parts = [("Tape off from ", False), (moment(clock.opens_s, facts), True)]
        return 4, clock.opens_s, [*parts, (f", until {moment(clock.closes_s, facts)}.", False)]
    parts = [("Tape off by ", False), (moment(clock.closes_s, facts), True)]
    more = ": while the paint over its edge is soft." if coated else ": it bears no longer."
    return 1, clock.closes_s, [*parts, (more, False)]
