"""The plan rehearsed: each planned step against the face that the steps before it leave, in their order.

Planned steps are folded as if they were done, with their planned film and no hours. An undone step that stands before
a layer that is on was passed over, and is not rehearsed.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from typing import Any

from ..metal.access import ActKind
from ..metal.strip import is_by_hand, way_of
from ..product.film import Film
from ..product.sheet import Sheet
from ..surface import events
from ..surface.events import Event
from ..surface.fold import build
from ..surface.names import StepKind
from ..surface.patches import FULL
from ..surface.plan import PlanStep, Progress, StepState, to_sand_um
from ..surface.steps import STEPS
from ..working import Basis
from .face import COATS, LAPSING, MENDS, Act, Face, FindingFact, Tense

USUAL_WAY = "sander"
"""How a strip is taken to be done that names no way. Ours, no source."""
DAY_S = 86400.0
APART_S = 60.0
"""Planned steps are folded this far apart [s], so that their order is told."""


def way_for(step: PlanStep) -> str:
    """The way of stripping that a step is planned by, the usual one if it names none."""
    return step.way or way_of(step.note) or USUAL_WAY


def over_um(steps: Sequence[PlanStep], i: int) -> float | None:
    """Film that a plan puts over what its step i lands on [µm]: up to the first layer that is sanded flat, included;
    None where one of its films is not told.
    """
    film = 0.0
    for step in steps[i:]:
        if step.left_out or not STEPS[step.kind].leaves_film:
            continue
        if step.left_um is None:
            return None
        film += step.left_um
        if step.sanded_um > 0:
            break
    return film


def planned_film(step: PlanStep) -> Film:
    """The film of one coat of a step as its plan has it."""
    return Film(step.dft_um, Basis.ASSUMED, "as planned")


def act_of(
    steps: Sequence[PlanStep],
    i: int,
    sheets: Mapping[str, Sheet],
    tense: Tense,
    subject: str,
    coat: int = 1,
    share: float = 1.0,
) -> Act:
    """Step i of a plan as an act: its coat number so and so, over a share of the face.

    sheets: by product name; subject: whose plan it is; the act's own subject tells step and coat.
    """
    step, coats = steps[i], STEPS[steps[i].kind].leaves_film
    act = Act(
        step.kind,
        tense,
        subject_of(subject, step.id, coat if step.kind in COATS else 1),
        step.id,
        step.product,
        sheets.get(step.product),
        coat,
        share,
        way_for(step) if step.kind == StepKind.STRIP else "",
        step.grit,
        step.method,
        planned_film(step) if coats else None,
        step.sanded_um,
        step.put_on_um,
        over_um(steps, i) if coats else 0.0,
        thinner_pct=step.thinner_pct,
        **around(steps, i),
    )
    if step.kind == StepKind.FORCE_DRY:
        return replace(act, metal_c=schedule_c(steps[:i], sheets))
    if step.kind not in LAPSING:
        return act
    led = next((n for n in range(i + 1, len(steps)) if steps[n].kind in COATS and not steps[n].left_out), None)
    return act if led is None else replace(act, leads_to=act_of(steps, led, sheets, tense, subject))


def schedule_c(before: Sequence[PlanStep], sheets: Mapping[str, Sheet]) -> float | None:
    """How hot heat makes the metal after these steps [°C]: by the uppermost layer whose sheet has a schedule; None
    where none has.
    """
    laid = (sheets.get(step.product) for step in reversed(before) if step.product and not step.left_out)
    return next((sheet.schedules[0].metal_c for sheet in laid if sheet is not None and sheet.schedules), None)


def around(steps: Sequence[PlanStep], i: int) -> dict[str, Any]:
    """What an act is told of its plan: kinds of the steps before and after its own, ids of the layers after it."""
    kinds = [step.kind if not step.left_out else "" for step in steps]
    before, after = (tuple(filter(None, part)) for part in (kinds[:i], kinds[i + 1 :]))
    later = tuple(step.id for step in steps[i + 1 :] if STEPS[step.kind].leaves_film and not step.left_out)
    return {"before": before, "after": after, "later": later, "in_plan": True}


def subject_of(subject: str, step: str, coat: int = 1) -> str:
    """What an acceptance is of: whose plan, which step, and which coat of it where it has several."""
    return f"{subject}/{step}" if coat <= 1 else f"{subject}/{step}/{coat}"


def planned(
    step: PlanStep,
    sheet: Sheet | None,
    left: StepState,
    t_s: float,
    blocked_um: float = 0.0,
    share: float = 1.0,
    last_coat: bool = False,
) -> tuple[Event, ...]:
    """What a step leaves once the rest of it is done from a moment [epoch s] on.

    left: how far it is; blocked_um: what blocking takes of the layer under it [µm]; share: of the face that it is for;
    last_coat: no coat of ours comes after it.
    """
    at = (t_s, t_s, 1.0, step.id)
    if step.kind in COATS:
        return _coats(step, sheet, left, t_s, share)
    way = way_for(step)
    made: dict[str, tuple[Event, ...]] = {
        StepKind.STRIP: (events.Bared(*at, how=way, by_hand=is_by_hand(way)),),
        StepKind.ABRADE: (events.Keyed(*at, grit=step.grit, um_off=blocked_um),),
        StepKind.BLOCK: (events.Keyed(*at, grit=step.grit, um_off=blocked_um),),
        # It stands for as long as its sheet asks, however long that is.
        StepKind.ACID_PREP: (events.Prepped(t_s - DAY_S, t_s, 1.0, step.id, product=step.product, sheet=sheet),),
        StepKind.RINSE: (events.Rinsed(*at), events.Dried(t_s + 1, t_s + 1, 1.0, step.id)),
        StepKind.DRY: (events.Dried(*at),),
        StepKind.DEGREASE: (events.Degreased(*at, product=step.product, sheet=sheet),),
        StepKind.CLOSE: (events.Access(*at, how="closed"),),
        # What a contractor does is not in the plan; it comes back coated where no coat of ours follows.
        StepKind.CONTRACTOR: (events.Back(*at, came="coated"),) if last_coat else (),
    }
    return made.get(step.kind, ())


def _coats(step: PlanStep, sheet: Sheet | None, left: StepState, t_s: float, share: float) -> tuple[Event, ...]:
    """The coats that are left of a step over a share of the face; the rest of one that is on in part first."""
    film, number = planned_film(step), step.coats - left.coats_done
    shares = [1.0 - left.share if left.share and not n else share for n in range(number)]
    return tuple(
        events.Coated(t_s + n, t_s + n, share, step.id, 0, sheet, film, step.product) for n, share in enumerate(shares)
    )


def rehearse(
    face: Face, plan: Progress, sheets: Mapping[str, Sheet], subject: str
) -> Iterator[tuple[StepState, Act, Face]]:
    """(state of a step, the act that is planned, the face that it meets), in their order; each coat of a layer apart.

    face: as it is now; sheets: by product name; subject: whose plan it is.
    """
    steps = [state.step for state in plan.states]
    now = replace(face, clocks=None, dewed=None, blushed=None, nights=None, air_line=None)
    for i, state in enumerate(plan.states):
        if state.done or plan.is_passed_over(i):
            continue
        now = with_access(now, state.step.id)
        step, t_s = state.step, now.t_s + APART_S
        share = sum(share for _, share in now.surface.bare) if step.on else face.stripes.get(step.id, 1.0)
        if not share:
            continue  # nothing is bared that it is for
        rest = planned(step, sheets.get(step.product), state, t_s, to_sand_um(steps, i), share, is_last(steps, i))
        for n, met in enumerate(_met(now, rest, step)):
            of = rest[n].share if step.kind in COATS else 1.0
            act = act_of(steps, i, sheets, Tense.PLAN, subject, state.coats_done + 1 + n, of)
            yield state, act, met
        now = left_by(now, step, rest, t_s + len(rest))


WELD_SHARE = 0.02
"""The share of a face that a planned weld is taken to burn. Common practice, no source."""


def with_access(face: Face, step: str) -> Face:
    """The face once the acts of access are done that its plan has before a step."""
    for kind in face.access.get(step, ()):
        t_s = face.t_s + APART_S
        at = (t_s, t_s, 1.0)
        made: dict[str, Event] = {
            ActKind.OPEN: events.Access(*at, how="opened"),
            ActKind.TRIAL_FIT: events.Access(*at, how="trial-fit"),
            ActKind.TAKE_OFF: events.Access(*at, how="taken-off"),
            ActKind.CLOSE: events.Access(*at, how="closed"),
            ActKind.WELD: events.FilmLost(t_s, t_s, WELD_SHARE),
        }
        if kind in made:
            face = replace(face, t_s=t_s, surface=build([made[kind]], t_s, onto=face.surface))
    return face


def is_last(steps: Sequence[PlanStep], i: int) -> bool:
    """True if no coat comes after a step of a plan."""
    return not any(later.kind in COATS and not later.left_out for later in steps[i + 1 :])


def _met(now: Face, rest: Sequence[Event], step: PlanStep) -> Iterator[Face]:
    """The face that each coat of a step meets, or the step itself."""
    yield now
    for n in range(1, len(rest) if step.kind in COATS else 0):
        t_s = rest[n].ended_s
        yield replace(now, t_s=t_s, surface=build(rest[:n], t_s, onto=now.surface))


def left_by(face: Face, step: PlanStep, rest: Sequence[Event], t_s: float) -> Face:
    """The face that a planned step leaves at a moment [epoch s]."""
    bared = step.kind == StepKind.STRIP and sum(e.share for e in rest) >= FULL
    return replace(
        face,
        t_s=t_s,
        surface=build(rest, t_s, onto=face.surface),
        findings=tuple(f for f in face.findings if not _is_mended(f, step)),
        stripped=face.stripped or bared,
        strip_due=face.strip_due and not bared,
        masked=face.masked or step.kind == StepKind.MASK,
    )


def _is_mended(finding: FindingFact, step: PlanStep) -> bool:
    return finding.step == step.id or finding.topic in MENDS.get(step.kind, ())
