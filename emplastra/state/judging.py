"""From what is known of zones to what the rules say of them."""

from dataclasses import dataclass, field

from emplastra.core.metal.known import Metal
from emplastra.core.product.kinds import ProductKind
from emplastra.core.rules import stack as stack_rules
from emplastra.core.rules.metal import verdicts
from emplastra.core.rules.registry import Verdict, gravest_first
from emplastra.core.surface.events import Bared
from emplastra.core.surface.names import Loss, Runs
from emplastra.core.surface.patches import FULL
from emplastra.core.surface.steps import STEPS
from emplastra.core.survey.findings import STILL_OPEN
from emplastra.core.survey.inspection import FAULT
from emplastra.jobs.judging import accepted_in, schools_of
from emplastra.jobs.models import Acceptance
from emplastra.materials.models import SystemVersion

from .known import coverage_in, known

_PRIMED = {ProductKind.WASH_PRIMER, ProductKind.CONVERTER}


@dataclass
class Judged:
    """A zone with what the rules say of its metal and its plan: what is open, and what was accepted and still holds."""

    zone: object
    metal: Metal
    open: list
    accepted: list = field(default_factory=list)


@dataclass
class Accepted:
    """A verdict that is accepted: why, by whom, when."""

    verdict: Verdict
    acceptance: Acceptance


def _layer_word(layer):
    """What rules call a layer; "" for a coat of ours with a sheet, whose window judges what goes over it."""
    if layer.sheet is None:
        return "temporary"
    return layer.sheet.kind if layer.sheet.kind in _PRIMED else ""


def _under(state, told, stripped):
    """{what lies on a zone: share}, its spots by their share of its area."""
    surface, revision = state.surface, state.facts.revision
    found = {}

    def add(word, share):
        if word and share > 0.001:
            found[word] = min(1.0, found.get(word, 0.0) + share)

    substrate, area_m2 = revision.substrate if revision is not None else "", state.facts.area_m2
    bare = "laminate" if substrate == "laminate" else "bare"
    own = sum(share for _, share in surface.bare)
    shares = [spot.facts.area_m2 / area_m2 if area_m2 else 0.0 for spot in state.spots]
    if surface.layers:
        add(_layer_word(surface.top), max(0.0, 1.0 - own))
    elif substrate == "old film" or (not stripped and any(topic == "layer" for topic, _ in told)):
        add("old film", max(0.0, 1.0 - own - sum(shares)))  # what the spots take of it is no old film any more
    add(bare, own)
    for spot, share in zip(state.spots, shares, strict=True):
        add(_layer_word(spot.surface.top) if spot.surface.top else bare, min(1.0, share))
    return found


def metal_of(state, told):
    """The core's value of a zone's metal. told: {(topic, mark): (Answer, status)}."""
    surface, revision, now_s = state.surface, state.facts.revision, state.surface.t_s
    clock = surface.clock(Runs.BARE)
    overdue = (now_s - clock.closes_s) / 3600 if clock is not None and clock.closes_s is not None else None
    checks = {check.kind: check.passed for check in surface.checks}
    step = state.next_step
    kinds = state.all.kinds
    products = [kinds.get(s.product, "") for s in state.facts.steps if STEPS[s.kind].leaves_film and s.product]
    part = revision.part if revision else "other"
    stripped = sum(e.share for e in state.facts.events if isinstance(e, Bared) and e.ended_s <= now_s) >= FULL
    return Metal(
        name=state.zone.name,
        substrate=revision.substrate if revision else "steel",
        thickness_mm=revision.thickness_mm if revision else 1.0,
        part=part,
        form=revision.form if revision else "flat",
        finish=revision.finish_class if revision else "show",
        end_state=revision.end_state if revision else "coated",
        answers={key: answer for key, (answer, _) in told.items()},
        open_findings=frozenset(key for key, (_, status) in told.items() if status in STILL_OPEN),
        bare=tuple(((now_s - since) / 3600, share) for since, share in surface.bare),
        bare_overdue_h=overdue,
        no_flash_rust=checks.get("no-flash-rust"),
        stripped=stripped,
        stripped_by=surface.bared_by,
        keyed=surface.metal_is_keyed,
        acid_prepped=surface.prepped,
        degreased=surface.degreased_s is not None,
        under=_under(state, told, stripped),
        next_step=step.kind if step else "",
        next_product=kinds.get(step.product, "") if step and STEPS[step.kind].leaves_film else "",
        first_coat=products[0] if products else "",
        coated=bool(surface.layers),
        welded=any(cause == Loss.WELD for cause, *_ in surface.lost),
        weld_unseen=surface.welded_s is not None
        and max((t for *_, t in surface.inspected), default=0.0) < surface.welded_s,
        weld_faults=tuple(point for point, answer, _ in surface.inspected if answer == FAULT),
        closed=surface.closed_s is not None,
        trial_fit=surface.trial_fit_s is not None,
        away=surface.away_s is not None,
        unseen_share=coverage_in(told, 1.0).unseen_m2,
        boxed=part in {"box", "tank"},
    )


def stack_of(state, limits):
    """The core's value of a zone's planned layers. limits: {id of a system's version: the most it allows [µm]}."""
    revision = state.facts.revision
    done = frozenset(s.step.id for s in state.plan.states if s.done)
    return stack_rules.plan_of(
        state.facts.steps,
        state.all.sheets,
        revision.finish_class if revision else "show",
        limits.get(state.facts.build_up.system_id) if state.facts.build_up else None,
        done,
    )


def judged(states, off=frozenset()):
    """[Judged] of zones (their states), in a few queries whatever their number."""
    zones = [state.zone for state in states]
    told = known(zones, {state.zone.pk: state.facts for state in states})
    schools = schools_of({zone.job_id: zone.job for zone in zones}.values())
    accepted = accepted_in(zones)
    systems = {state.facts.build_up.system_id for state in states if state.facts.build_up}
    limits = dict(SystemVersion.objects.filter(pk__in=systems - {None}).values_list("pk", "max_total_um"))
    found = []
    for state in states:
        zone = state.zone
        metal = metal_of(state, told[zone.pk])
        each = Judged(zone, metal, [])
        said = []
        if not metal.away:
            said = verdicts(metal, f"zone {zone.pk}", schools[zone.job_id], off)
            said += stack_rules.verdicts(stack_of(state, limits), f"plan of zone {zone.pk}", off)
        for verdict in gravest_first(said):
            row = accepted.get((zone.pk, verdict.key))
            if row is None:
                each.open.append(verdict)
            else:
                each.accepted.append(Accepted(verdict, row))
        found.append(each)
    return found
