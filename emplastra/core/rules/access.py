"""Rules about the order of access, and what film leaves of a gap.

Where no source is named: common practice, no source.
"""

from collections.abc import Iterator, Mapping, Sequence, Set
from dataclasses import dataclass

from ..metal.access import Act, ActKind, Plan, covers, neighbours, order
from ..product.kinds import ProductKind
from ..words import film_q
from ..working import Basis, Given, Line, Working
from .registry import Aspect, Said, Verdict, gravest_first, judge_each, rule

EDGE = 1.3
"""Film at an edge over film on the face: it stacks up there. Common practice, no source."""


@dataclass(frozen=True)
class Gap:
    """What film leaves of a gap [µm]: film on all edges with what is still to come of it, what is left, and how."""

    film_um: float
    left_um: float
    working: Working


def gap_of(plan: Plan, act: Act) -> Gap | None:
    """Finished gap = bare gap - film on its edges x edge factor; None where no gap is told."""
    if act.bare_um is None:
        return None
    faces = [plan.faces[f] for f in act.faces if f in plan.faces]
    on, planned = sum(f.film_um for f in faces), sum(f.planned_um for f in faces)
    film = EDGE * (on + planned)
    left = act.bare_um - film
    working = Working(
        f"Gap of {act.what}",
        (
            Given("gap, bare", f"{act.bare_um:.0f}", "µm", Basis.TYPED, "the plan of access"),
            Given("film on its faces", f"{on:.0f}", "µm", Basis.ESTIMATED, "the record"),
            Given("film still to come", f"{planned:.0f}", "µm", Basis.ASSUMED, "the build-up"),
            Given("edge factor", f"{EDGE:g}", "", Basis.ASSUMED, "common practice, no source"),
        ),
        (
            Line("film on its edges", f"{EDGE:g} × ({on:.0f} + {planned:.0f})", f"{film:.0f}", "µm"),
            Line("left of the gap", f"{act.bare_um:.0f} − {film:.0f}", f"{left:.0f}", "µm"),
        ),
        "identity",
    )
    return Gap(film, left, working)


def verdicts(plan: Plan, schools: Mapping[str, str] | None = None, off: frozenset[str] = frozenset()) -> list[Verdict]:
    """What the rules say of the acts still to come, and of cycles."""
    found = judge_each("access", plan, "access", schools, off)
    for ring in order(plan.acts)[1]:
        found += judge_each("ring", ring, "access", schools, off)
    return gravest_first(found)


def _todo(plan: Plan, kind: str) -> Iterator[Act]:
    return (a for a in plan.acts if a.kind == kind and not a.done)


def _names(plan: Plan, faces: set[str]) -> str:
    return ", ".join(plan.faces[f].name for f in plan.faces if f in faces)


def _faces_of(plan: Plan, kind: str, ids: Set[str]) -> set[str]:
    """Faces of the acts of a kind among those named."""
    return {face for act in plan.acts if act.kind == kind and act.id in ids for face in act.faces}


@rule("ring", Aspect.ORDER, "stops", "Acts that wait for each other", "ring")
def _ring(ring: Sequence[Act]) -> Iterator[Said]:
    names = " → ".join(a.name for a in [*ring, ring[0]])
    yield Said(
        f"Each waits for the other: {names}. One of them has to be done otherwise.",
    )


@rule("hidden-uncoated", Aspect.ORDER, "stops", "A hidden face is coated before it is closed", "access")
def _hidden(plan: Plan) -> Iterator[Said]:
    before = plan.before
    for act in _todo(plan, ActKind.CLOSE):
        known = {f: plan.faces[f] for f in act.faces if f in plan.faces}
        bare = {f for f, face in known.items() if not face.coated and not face.stays_bare}
        bare -= _faces_of(plan, ActKind.COAT, before[act.id])
        bare -= {f for f, step in act.before if f in known and known[f].coats_before.get(step)}
        if bare:
            yield Said(
                f"{act.name} hides {_names(plan, bare)}, which nothing coats before: coat it while it can be reached.",
            )


@rule("inside-first", Aspect.ORDER, "advises", "Inside before outside", "access")
def _inside_first(plan: Plan) -> Iterator[Said]:
    before = plan.before
    for act in _todo(plan, ActKind.COAT):
        known = {f for f in neighbours(plan.acts, act.faces) if f in plan.faces}
        inside = {f for f in known if plan.faces[f].inner and not plan.faces[f].coated and not plan.faces[f].stays_bare}
        inside -= _faces_of(plan, ActKind.COAT, before[act.id])
        if inside and not any(plan.faces[f].inner for f in act.faces if f in plan.faces):
            yield Said(f"{act.name} comes before {_names(plan, inside)}: inside first, its mist and its runs come out.")


@rule("lap-primer", Aspect.ORDER, "warns", "Weld-through primer on the faces of a lap", "access")
def _lap(plan: Plan) -> Iterator[Said]:
    for act in _todo(plan, ActKind.WELD):
        faces = [plan.faces[f] for f in act.faces if f in plan.faces]
        if len(faces) >= 2 and not all(
            f.products & {ProductKind.WELD_THROUGH_PRIMER, ProductKind.ZINC_RICH_PRIMER} for f in faces
        ):
            yield Said(
                f"{' and '.join(f.name for f in faces)} become a lap ({act.what}): weld-through primer on both first.",
            )


@rule("weld-burns", Aspect.ORDER, "warns", "A weld burns the film on the far side", "access")
def _weld_burns(plan: Plan) -> Iterator[Said]:
    before = plan.before
    for act in _todo(plan, ActKind.WELD):
        coated = {f for f in act.faces if f in plan.faces and plan.faces[f].coated}
        coated |= _faces_of(plan, ActKind.COAT, before[act.id]) & set(act.faces)
        after = {a.id for a in plan.acts if act.id in before[a.id]}
        burnt = coated - _faces_of(plan, ActKind.COAT, after)
        if burnt:
            yield Said(
                f"{act.name} burns the film on {_names(plan, burnt)}: coat it again after, through what is "
                f"still open, or record it as bare.",
            )


@rule("hot-near-wax", Aspect.ORDER, "stops", "Hot work near wax or fuel", "access")
def _hot(plan: Plan) -> Iterator[Said]:
    before = plan.before
    for act in _todo(plan, ActKind.WELD):
        known = {f: plan.faces[f] for f in act.faces if f in plan.faces}
        waxed = _faces_of(plan, ActKind.WAX, before[act.id]) & set(act.faces)
        waxed |= {f for f, face in known.items() if face.waxed}
        fuelled = {f for f, face in known.items() if "fuel" in face.near}
        if waxed:
            yield Said(f"{act.name}: wax on {_names(plan, waxed)}. Weld first, wax last.", about="wax")
        if fuelled:
            yield Said(f"{act.name}: fuel at {_names(plan, fuelled)}. Fuel out first.", about="fuel")


@rule("wet-sealer", Aspect.ORDER, "stops", "Sealer dries before the joint is welded", "access")
def _wet_sealer(plan: Plan) -> Iterator[Said]:
    before = plan.before
    for act in _todo(plan, ActKind.WELD):
        open_seals = before[act.id] & {a.id for a in _todo(plan, ActKind.SEAL)}
        soon = _faces_of(plan, ActKind.SEAL, open_seals) & set(act.faces)
        if soon:
            yield Said(
                f"{act.name} comes after sealing {_names(plan, soon)}: the sealer is dry before the joint is welded.",
                "advises",
            )
        wet = {f for f in act.faces if f in plan.faces and plan.faces[f].sealer_wet}
        if wet:
            until = next((f" {plan.faces[f].wet_until}" for f in sorted(wet) if plan.faces[f].wet_until), "")
            yield Said(
                f"{act.name}: the sealer at {_names(plan, wet)} is still wet{until}. It burns; let it dry.",
            )


@rule("drain-shut", Aspect.ORDER, "warns", "Drains are open before a cavity is closed", "access")
def _drains(plan: Plan) -> Iterator[Said]:
    for act in _todo(plan, ActKind.CLOSE):
        shut = [
            f"{plan.faces[f].name}, drain {d}"
            for f in act.faces
            if f in plan.faces
            for d in plan.faces[f].drains_closed
        ]
        if shut:
            yield Said(
                f"{act.name} shuts a cavity whose drain is closed: {'; '.join(shut)}. Probe and open it first.",
            )


@rule("gap", Aspect.ORDER, "warns", "Film eats the gap", "access")
def _gap(plan: Plan) -> Iterator[Said]:
    for kind in (ActKind.FIT, ActKind.CLOSE):
        for act in _todo(plan, kind):
            gap = gap_of(plan, act)
            if gap is not None and gap.left_um < act.least_um - 1e-9:
                yield Said(
                    f"{act.name}: film of {film_q(gap.film_um)} on its edges leaves {film_q(gap.left_um)} of a "
                    f"gap of {film_q(act.bare_um or 0.0, unit=False)}; {film_q(act.least_um, unit=False)} must "
                    f"be left. Ease the gap bare, or mask the edge.",
                )


@rule("forced-fit", Aspect.ORDER, "warns", "What is fitted after paint was fitted dry before", "access")
def _forced(plan: Plan) -> Iterator[Said]:
    before = plan.before
    for act in _todo(plan, ActKind.FIT):
        fits = [a.what for a in plan.acts if a.kind == ActKind.TRIAL_FIT and (a.id in before[act.id] or a.done)]
        if not covers(" and ".join(fits), act.what):
            yield Said(
                f"{act.name}: it was not fitted dry before. After paint it must go on unforced: set its gaps "
                f"raw first.",
            )


@rule("fill-early", Aspect.ORDER, "warns", "No filler before panels are hung and gaps set", "access")
def _fill_early(plan: Plan) -> Iterator[Said]:
    before = plan.before
    for act in _todo(plan, ActKind.FILL):
        waiting = [
            a
            for a in plan.acts
            if a.kind == ActKind.TRIAL_FIT
            and not a.done
            and a.id not in before[act.id]
            and set(a.faces) & set(act.faces)
        ]
        if waiting:
            yield Said(f"{act.name} comes before {waiting[0].name.lower()}: hang panels and set gaps first.")


@rule("trial-stays", Aspect.ORDER, "stops", "A trial fit is taken off before anything is closed over it", "access")
def _trial_stays(plan: Plan) -> Iterator[Said]:
    for act in (a for a in plan.acts if a.kind == ActKind.TRIAL_FIT):
        there = [a for a in plan.acts if set(a.faces) & set(act.faces)]
        closing = [a for a in there if a.kind == ActKind.CLOSE]
        if closing and not any(a.kind == ActKind.TAKE_OFF for a in there):
            yield Said(
                f"{act.name} must come off again before {closing[0].name.lower()}: nothing takes it off.",
            )
