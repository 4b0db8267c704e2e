"""Fixes that a verdict offers for the plan: functions from plan to plan, each judged again before it is offered.

None adds a step twice or keys coarser or finer than what comes takes. Where no source is named: common practice, no
source.
"""

import math
from collections.abc import Callable, Collection, Iterable, Mapping
from dataclasses import dataclass, replace

from ..product.abrasives import GRAIN_UM, buries, grain_um
from ..product.kinds import ProductKind
from ..product.sheet import Sheet
from ..surface.names import Status, StepKind
from ..surface.plan import PlanStep
from ..surface.steps import STEPS
from .face import SANDS, Act, Face, grounds
from .mending import PREPARES
from .registry import Verdict
from .seen import SeenFace, SeenGround
from .whole import LIFT_MM

Steps = tuple[PlanStep, ...]
KEY = "P120"
"""What metal is keyed with by hand, where what comes takes it."""
NEW = "new-"
"""How ids of steps begin that are in no plan yet."""


@dataclass(frozen=True)
class Plan:
    """A plan that is to be mended: its steps, the index of the act's, which are done, and what the act meets.

    sheets: by product name.
    """

    steps: Steps
    i: int
    done: Collection[str]
    act: Act
    face: Face
    sheets: Mapping[str, Sheet]

    @property
    def step(self) -> PlanStep:
        """The step that the fix is for."""
        return self.steps[self.i]

    @property
    def first(self) -> int:
        """Index of the first step that prepares it and is not done."""
        at = self.i
        while at and self.steps[at - 1].kind in PREPARES and self.steps[at - 1].id not in self.done:
            at -= 1
        return at

    def put(self, at: int, *new: PlanStep) -> Steps:
        """The steps with new ones before the `at`-th."""
        return (*self.steps[:at], *new, *self.steps[at:])

    def instead(self, at: int, step: PlanStep) -> Steps:
        """The steps with the `at`-th replaced."""
        return (*self.steps[:at], step, *self.steps[at + 1 :])

    def before(self, kind: str) -> int | None:
        """Index of an undone step of a kind among those that prepare it, None if there is none."""
        return next((n for n in range(self.first, self.i) if self.steps[n].kind == kind), None)


def _new(kind: str, n: int = 1, **more: str) -> PlanStep:
    return PlanStep(f"{NEW}{n}", kind, **more)  # type: ignore[arg-type]


def grit_for(plan: Plan, ground_key: str) -> str:
    """The grit to key a ground with: what the act takes on it, fine enough to be buried by what lies over it."""
    seen = SeenFace({}, plan.act, plan.face)
    if seen.window is not None and seen.window.status == Status.MISSED and seen.window.grit:
        return seen.window.grit
    met = [SeenGround({}, plan.act, seen, g) for g in grounds(plan.act, plan.face)]
    ground = next((g for g in met if g.raw.key == ground_key), met[0] if met else None)
    wants = ground.wants if ground else None
    if ground is None or wants is None:
        return KEY
    return _grit_in(wants, plan, ground)


def _grit_in(wants: tuple[str, str], plan: Plan, ground: SeenGround) -> str:
    """The grit of a range (coarsest, finest): as one keys metal, else the coarsest that is buried."""
    coarsest, finest = wants
    fit = [g for g in GRAIN_UM if grain_um(finest) <= grain_um(g) <= grain_um(coarsest)]
    hidden = [g for g in fit if not plan.face.seen or buries(g, plan.act.over_um or 0.0, ground.bare)] or fit[-1:]
    if ground.bare and KEY in hidden:
        return KEY
    return hidden[0] if hidden else coarsest


def _key(plan: Plan, about: str) -> Steps | None:
    """Key it with what it takes, then wipe; a sanding that is planned there takes the grit."""
    grit = grit_for(plan, about)
    at = next((n for kind in SANDS if (n := plan.before(kind)) is not None), None)
    if at is not None:
        return None if plan.steps[at].grit == grit else plan.instead(at, replace(plan.steps[at], grit=grit))
    wipe = () if plan.before(StepKind.DEGREASE) is not None else (_new(StepKind.DEGREASE, 2),)
    return plan.put(plan.first, _new(StepKind.ABRADE, grit=grit), *wipe)


def _once(kind: str, note: str = "") -> Callable[[Plan, str], Steps | None]:
    """Put a step of a kind before it, if none prepares it."""

    def change(plan: Plan, about: str) -> Steps | None:
        if plan.before(kind) is not None:
            return None
        at = plan.i if kind in PREPARES else plan.first
        return plan.put(at, _new(kind, note=note))

    return change


def _rinse(plan: Plan, about: str) -> Steps | None:
    return plan.put(plan.first, _new(StepKind.RINSE), _new(StepKind.DRY, 2))


def _film(plan: Plan, about: str) -> Steps | None:
    """Its film as its sheet has it, in as many coats as that takes."""
    sheet = plan.sheets.get(plan.step.product)
    if sheet is None or sheet.film is None:
        return None
    planned, low, high = plan.step.dft_um, sheet.film.min_um, sheet.film.max_um
    if planned is None:
        return plan.instead(plan.i, replace(plan.step, dft_um=sheet.aim_um)) if sheet.aim_um is not None else None
    if high is not None and planned > high:
        total = planned * plan.step.coats
        coats = math.ceil(total / high)
        return plan.instead(plan.i, replace(plan.step, coats=coats, dft_um=total / coats))
    return plan.instead(plan.i, replace(plan.step, dft_um=max(low or 0.0, planned)))


def _fewer(plan: Plan, about: str) -> Steps | None:
    if plan.step.coats < 2:
        return None
    return plan.instead(plan.i, replace(plan.step, coats=plan.step.coats - 1))


def _more(plan: Plan, about: str) -> Steps | None:
    return plan.instead(plan.i, replace(plan.step, coats=plan.step.coats + 1))


def _lifts(plan: Plan, about: str) -> Steps | None:
    """In as many lifts as its sheet's lift takes."""
    sheet = plan.sheets.get(plan.step.product)
    lift_um = 1000 * ((sheet.lift_mm if sheet else None) or LIFT_MM)
    total = plan.step.put_on_um
    if total is None:
        return None
    coats = math.ceil(total / lift_um)
    return plan.instead(plan.i, replace(plan.step, coats=coats, dft_um=total / coats))


def _stripe(plan: Plan, about: str) -> Steps | None:
    """Brush edges with the same paint before it, on the same preparation."""
    sheet = plan.sheets.get(plan.step.product)
    if sheet is None or sheet.kind not in STEPS[StepKind.STRIPE].products:
        return None
    film = replace(_new(StepKind.STRIPE), product=plan.step.product, dft_um=plan.step.dft_um, method="brush")
    return plan.put(plan.i, film)


def _seal_first(plan: Plan, about: str) -> Steps | None:
    """Move the seam sealer of the plan before it, behind what lies under both."""
    at = next((n for n in range(plan.i + 1, len(plan.steps)) if plan.steps[n].kind == StepKind.SEAM_SEAL), None)
    if at is None:
        return None
    left = (*plan.steps[:at], *plan.steps[at + 1 :])
    return (*left[: plan.first], plan.steps[at], *left[plan.first :])


def _clear_again(plan: Plan, about: str) -> Steps | None:
    """Cut flat, wipe, and the same clear once more."""
    again = replace(plan.step, id=f"{NEW}3", coats=1)
    return plan.put(plan.i + 1, _new(StepKind.BLOCK, grit="P800"), _new(StepKind.DEGREASE, 2), again)


def _layer(kind: str, *products: str) -> Callable[[Plan, str], Steps | None]:
    """Put a layer of the workshop's product of a kind before it, as its sheet has it."""

    def change(plan: Plan, about: str) -> Steps | None:
        names = (name for want in products for name, sheet in sorted(plan.sheets.items()) if sheet.kind == want)
        name = next(names, "")
        sheet = plan.sheets.get(name)
        if sheet is None or sheet.film is None:
            return None
        film = replace(_new(kind), product=name, coats=sheet.coats or 1, dft_um=sheet.aim_um)
        return plan.put(plan.i, replace(film, method=plan.step.method))

    return change


FIXES: dict[str, tuple[str, Callable[[Plan, str], Steps | None]]] = {
    "key": ("Key it first", _key),
    "mask": ("Plan to mask it", _once(StepKind.MASK, "what stays bare")),
    "wipe": ("Plan a wipe", _once(StepKind.DEGREASE)),
    "rinse": ("Plan to rinse it", _rinse),
    "dry": ("Plan to dry it", _once(StepKind.DRY)),
    "strip": ("Plan to strip it", _once(StepKind.STRIP)),
    "film": ("Film as its sheet has it", _film),
    "fewer": ("A coat less", _fewer),
    "more": ("A coat more", _more),
    "lifts": ("Plan it in lifts", _lifts),
    "stripe": ("Plan a stripe coat", _stripe),
    "seal-first": ("Sealer first", _seal_first),
    "clear-again": ("Plan a second clear", _clear_again),
    "prime": ("Prime it first", _layer(StepKind.PRIME, ProductKind.EPOXY_PRIMER, ProductKind.WASH_PRIMER)),
    "isolate": ("Isolate it with epoxy", _layer(StepKind.PRIME, ProductKind.EPOXY_PRIMER)),
    "surface": ("Surfacer under it", _layer(StepKind.SURFACE, ProductKind.TWO_PACK_SURFACER)),
    "seal": ("Sealer under it", _layer(StepKind.SEAL, ProductKind.SEALER, ProductKind.EPOXY_PRIMER)),
}
"""Fix -> (its button, the plan that it makes of a plan; None where it can do nothing)."""


def changed(verdict: Verdict, plan: Plan) -> Steps | None:
    """The plan that a verdict's fix makes, None where it has none or it can do nothing."""
    if verdict.fix not in FIXES or plan.step.id in plan.done:
        return None
    made = FIXES[verdict.fix][1](plan, verdict.about.split("/")[0])
    return None if made is None or made == plan.steps else made


def holds(verdict: Verdict, of: str, was: Iterable[tuple[str, Verdict]], now: Iterable[tuple[str, Verdict]]) -> bool:
    """True if a verdict on a step is gone from a plan and nothing grave is said that was not said before.

    was, now: (step, verdict) of the plan as it is and as a fix would have it.
    """
    before = {(step, v.rule) for step, v in was if v.severity != "advises"}
    after = list(now)
    if any(step == of and (v.rule, v.about) == (verdict.rule, verdict.about) for step, v in after):
        return False
    return {(step, v.rule) for step, v in after if v.severity != "advises"} <= before
