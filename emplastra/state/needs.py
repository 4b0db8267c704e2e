"""What the work still to come takes, by product and part: of a zone, a job, or all that is open."""

from emplastra.core.buying.amounts import FaceAsked, Paint, Uneven, Unsaid, amounts, variant_for
from emplastra.core.buying.bill import bill_of, sum_of
from emplastra.core.piece.areas import edges_mm
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.ready import MILD_C
from emplastra.core.surface.steps import STEPS

from .selectors import plan_at, surface_now

StepNeed = Paint
"""Paint for a step, as a page shows it."""
chosen_variant = variant_for


def face_asked(each):
    """The core's value of a zone (its ZoneFacts) as what is bought for it goes by; worked out once."""
    if each.kept.face is None:
        r = each.revision
        each.kept.face = FaceAsked(each.zone.name, each.area_m2, r.form, r.profile, edges_mm(r.shapes))
    return each.kept.face


def uneven_of(workshop):
    """How many times a film is put on that is a minimum everywhere, as the workshop has it."""
    return Uneven(workshop.uneven_sprayed, workshop.uneven_brushed)


def temp_for(each, facts, t_s):
    """The lower of air and metal where a zone stands [°C], by which a ratio is chosen; mild where no air is known."""
    if each.where is None or each.revision is None:
        return MILD_C
    return min(each.where.at(t_s).air_c, surface_now(each, facts, t_s).temp_c)


def taken_by(each, facts, steps=None, sheets=None):
    """All that the rest of a zone's plan takes (its ZoneFacts), in order; `steps` instead of the saved plan's.

    Nothing of a zone without measures.
    """
    if each.revision is None:
        return []
    t_s, plan = facts.now.timestamp(), plan_at(each, facts.now.timestamp())
    done = {s.step.id: s.coats_done for s in plan.states}
    gone = frozenset(s.step.id for s in plan.states if s.done)
    passed = frozenset(s.step.id for i, s in enumerate(plan.states) if plan.is_passed_over(i))
    return amounts(
        each.steps if steps is None else steps,
        facts.sheets if sheets is None else sheets,
        face_asked(each),
        temp_for(each, facts, t_s),
        done,
        gone | passed,
        bool(each.built(t_s).layers),
        uneven_of(facts.workshop),
    )


def bill_for(each, facts, steps=None):
    """What the rest of a zone's plan takes, added up (its ZoneFacts)."""
    return bill_of(taken_by(each, facts, steps), facts.sheets)


def needs_of(state, sheets, steps=None):
    """Paint (or Unsaid) of every layer step still undone, in order; `steps` instead of the saved plan's."""
    found = taken_by(state.facts, state.all, steps, sheets)
    return [x for x in found if STEPS[x.step.kind].leaves_film and x.step.kind != StepKind.SOLDER]


__all__ = ["Paint", "StepNeed", "Unsaid", "bill_for", "chosen_variant", "needs_of", "sum_of", "taken_by"]
