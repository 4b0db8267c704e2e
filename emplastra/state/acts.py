"""From what is planned, typed or logged to acts that can be judged."""

from dataclasses import dataclass, field, replace

from emplastra.core.rules.face import COATS, Act, PotTimes, Tense, TinFact
from emplastra.core.rules.rehearsal import act_of, around, over_um, subject_of
from emplastra.core.surface import events
from emplastra.core.surface.clocks import thicker
from emplastra.core.surface.fit import Typed, fit_of
from emplastra.core.surface.names import Loss, Status, StepKind
from emplastra.core.surface.patches import FULL
from emplastra.core.surface.steps import STEPS
from emplastra.jobs.judging import OUT_OF_PLAN
from emplastra.logbook.kinds.coat import film_from
from emplastra.shared.times import from_epoch

from .selectors import metal_at, sprayed_s


@dataclass
class CoatTold:
    """A coat as told, before or after it is an entry. Times in epoch s, temperatures in °C."""

    product: str
    sheet: object
    variant: object
    began_s: float
    ended_s: float
    plan_um: float | None
    thinner_pct: float = 0.0
    wft_um: list = field(default_factory=list)
    air_c: float | None = None
    rh_pct: float | None = None
    surface_c: float | None = None
    pot: PotTimes | None = None
    batches: list = field(default_factory=list)
    entry: int | None = None
    step: str = ""
    share: float = 1.0
    method: str = ""
    reducer: str = ""
    used: tuple | None = None
    of_face: float = 1.0


KIND_OF = {
    events.Bared: StepKind.STRIP,
    events.Degreased: StepKind.DEGREASE,
    events.Keyed: StepKind.ABRADE,
    events.Prepped: StepKind.ACID_PREP,
    events.Heated: StepKind.FORCE_DRY,
}
"""Event -> the kind of step that it is an act of, where the plan's step does not say."""


def film_of_coat(coat):
    """Film of a coat as told, and the solids [%] behind it (None: plan only)."""
    return film_from(coat.sheet, coat.variant, coat.plan_um, coat.thinner_pct, coat.wft_um, coat.used)


def step_kind_for(product_kind):
    """The kind of step that a coat of a kind of product is of, where none is planned."""
    return next((key for key in COATS if product_kind in STEPS[key].products), StepKind.PRIME)


def coat_number(each, step, before_s, entry=None):
    """Which coat of its step comes next at a moment [epoch s], by the events of a zone (ZoneFacts) before it."""
    done, share = 0, 0.0
    for event in each.events:
        if (
            isinstance(event, events.Coated)
            and event.step == step
            and event.ended_s <= before_s
            and event.entry != entry
        ):
            share += event.share
            if share >= FULL:
                done, share = done + 1, 0.0
    return done + 1


def next_act(state, coat=False):
    """What comes next on a zone (its ZoneState), begun now, or the next coat; None if nothing does."""
    at = burnt_step(state) or (state.plan.next_layer if coat else state.plan.next)
    if at is None:
        return None
    steps, index = [s.step for s in state.plan.states], state.plan.states.index(at)
    number, share = at.coats_done + 1 if at.step.kind in COATS else 1, 1.0 - at.share
    if at.done or burnt_step(state):
        number, share = 1, sum(share for _, share, _ in state.surface.lost)
    act = act_of(steps, index, state.all.sheets, Tense.NOW, "", number, share)
    now_s = state.surface.t_s
    act = in_air(replace(act, began_s=now_s, ended_s=now_s), state)
    return _from_pot(act, state) if act.is_coat else act


def in_air(act, state):
    """An act of now with what the air says of the coat that it is, or leads to at once, on a zone (its ZoneState)."""
    return replace(act, fit=state.fit) if act.is_coat or act.leads_to is not None else act


def burnt_step(state):
    """The step whose coat comes next where a strip that a weld burnt leads, None elsewhere: its first coat."""
    surface = state.surface
    if not surface.lost or not surface.layers or state.clock is None or state.clock.status != Status.BARE:
        return None
    return next((s for s in state.plan.states if s.step.id == surface.layers[0].step), None)


def _from_pot(act, state):
    """A coat to be put on now from a pot that stands ready for it, if one does."""
    now_s = state.surface.t_s
    pot = next((p for p in state.pots if p.can_coat(now_s) and p.sheet.product == act.product), None)
    if pot is None:
        return act
    return replace(act, mixed=True, pot=pot.times(), tins=_tins(pot.batches, state.all, now_s))


def coat_act(coat, each, facts, tense, first=None):
    """A coat as told on a zone (ZoneFacts), as an act. first: what it is of where it is in no plan."""
    steps = list(each.steps)
    index = next((i for i, s in enumerate(steps) if s.id == coat.step), None)
    film, solids = film_of_coat(coat)
    if index is None:
        kind, sanded, layer, over = step_kind_for(coat.sheet.kind if coat.sheet else ""), 0.0, 0.0, film.dft_um
        subject, number, plan = first or OUT_OF_PLAN, 1, {}
    else:
        plan = around(steps, index)
        step, number = steps[index], coat_number(each, coat.step, coat.began_s, coat.entry)
        kind, sanded, layer = step.kind, step.sanded_um, _more(step.put_on_um, film.dft_um)
        over = _over(steps, index, film.dft_um)
        subject = subject_of("", step.id, number)
    return Act(
        kind if kind in COATS else step_kind_for(coat.sheet.kind if coat.sheet else ""),
        tense,
        subject,
        coat.step,
        coat.product,
        coat.sheet,
        number,
        coat.share * coat.of_face,
        method=coat.method,
        reducer=coat.reducer,
        film=film,
        sanded_um=sanded,
        layer_um=layer,
        over_um=over,
        wet_um=sum(coat.wft_um) / len(coat.wft_um) if coat.wft_um else None,
        solids_pct=solids,
        thinner_pct=coat.thinner_pct,
        mixed=coat.pot is not None,
        pot=coat.pot,
        tins=_tins(coat.batches, facts, coat.began_s),
        began_s=coat.began_s,
        ended_s=coat.ended_s,
        fit=_fit(coat, each, facts) if coat.sheet and each.where is not None else None,
        **plan,
    )


def _more(*films):
    """The most of films [µm], of those that are told."""
    return max((um for um in films if um is not None), default=None)


def _over(steps, index, um):
    """Film over what a coat of a step lands on, with that coat's own film [µm]; None where one is not told."""
    rest, planned = over_um(steps, index), steps[index].dft_um
    return None if rest is None or um is None else rest - planned + um


def _tins(batches, facts, at_s):
    on = from_epoch(at_s).astimezone(facts.workshop.zone).date()
    return tuple(TinFact(name, use_by, on, *more) for name, use_by, *more in batches)


def _fit(coat, each, facts):
    """What the air says of a coat, over the whole of it and of its drying."""
    tau_s = each.revision.lag_s
    typed = Typed(coat.air_c, coat.rh_pct, coat.surface_c)
    metal_c = metal_at(each, tau_s, coat.began_s) if coat.surface_c is None else coat.surface_c
    longer = thicker(film_of_coat(coat)[0].dft_um, coat.sheet.aim_um)
    ended_s = sprayed_s(each, coat.began_s, coat.ended_s)
    return fit_of(coat.sheet, each.where, tau_s, metal_c, coat.began_s, ended_s, facts.outdoors, typed, longer)


def event_act(event, each, facts, tense, first=None):
    """Something told of a zone that is no coat, as an act; None for what is not judged."""
    steps = list(each.steps)
    index = next((i for i, s in enumerate(steps) if event.step and s.id == event.step), None)
    kind = _kind_of(event, steps[index].kind if index is not None else "")
    if kind is None:
        return None
    made = Act(kind, tense, subject_of("", event.step) if event.step else first or OUT_OF_PLAN, event.step)
    if index is not None and steps[index].kind == kind:
        made = act_of(steps, index, facts.sheets, tense, "", 1, event.share)
    return replace(made, began_s=event.began_s, ended_s=event.ended_s, share=event.share, **_told(event, tense))


def _told(event, tense):
    """What an event tells of an act; what it does not tell yet is taken to be as planned, as Now has it."""
    told = {name: getattr(event, of) for name, of in _TOLD_OF.get(type(event), ())}
    return told if tense is not Tense.NOW else {name: value for name, value in told.items() if value}


_TOLD_OF = {
    events.Bared: (("way", "how"),),
    events.Keyed: (("grit", "grit"),),
    events.Heated: (("metal_c", "hottest_c"),),
    events.Prepped: (("product", "product"), ("sheet", "sheet")),
    events.Degreased: (("product", "product"), ("sheet", "sheet")),
}
"""Event -> (of the act, of the event) of what it tells beside its hours."""


def _kind_of(event, planned):
    """Kind of step that an event is an act of; None for what is no act of the plan's kinds."""
    if isinstance(event, events.FilmLost):
        return StepKind.WELD if event.cause == Loss.WELD else None
    if isinstance(event, events.Access):
        return {"closed": StepKind.CLOSE, "trial-fit": StepKind.TRIAL_FIT}.get(event.how)
    if isinstance(event, events.Keyed) and planned == StepKind.BLOCK:
        return StepKind.BLOCK
    return KIND_OF.get(type(event))
