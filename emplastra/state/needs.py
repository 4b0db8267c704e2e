"""What the work still to come takes, by product and part: of a zone, a job, or all that is open."""

from emplastra.core.buying.amounts import FaceAsked, Paint, Uneven, amounts
from emplastra.core.buying.bill import Alike
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.ready import MILD_C
from emplastra.core.surface.steps import STEPS

from .selectors import plan_at, surface_c


def temp_for(each, facts, t_s):
    """The lower of air and metal where a zone stands [°C], by which a ratio is chosen; mild where no air is known."""
    if each.where is None or each.revision is None:
        return MILD_C
    air_c = each.where.at(t_s).air_c
    return min(air_c, surface_c(each, facts, t_s, air_c))


class Takings:
    """What the rest of plans takes (of ZoneFacts), now. Faces alike in all but size are worked out once."""

    def __init__(self, facts, sheets=None):
        """sheets: by product name, of all that is asked; else the current ones."""
        self.facts, self.sheets = facts, facts.sheets if sheets is None else sheets
        self.t_s, self._alike = facts.now.timestamp(), {}
        self.uneven = Uneven(facts.workshop.uneven_sprayed, facts.workshop.uneven_brushed)

    def alike(self, each, steps=None):
        """Alike of the faces that differ from a zone in nothing but size; `steps` instead of the saved plan's.

        What it was worked out on is the first of them that was asked for. It takes nothing without measures.
        """
        if each.revision is None:
            return _NOTHING
        steps, face = each.steps if steps is None else steps, each.asked
        temp_c, (done, gone) = temp_for(each, self.facts, self.t_s), self._behind(each)
        coated = bool(each.built(self.t_s).layers)
        recipe = tuple((*tuple(vars(s).values())[1:], done.get(s.id, 0), s.id in gone) for s in steps)
        key = face.form, face.profile, face.edges_mm > 0, temp_c, coated, recipe
        if key not in self._alike:
            found = amounts(steps, self.sheets, face, temp_c, done, gone, coated, self.uneven)
            self._alike[key] = Alike(found, face, self.sheets)
        return self._alike[key]

    def _behind(self, each):
        """({id of a step: its coats that are on}, ids of steps that are done or passed over)."""
        if not each.events:
            return {}, frozenset()
        plan = plan_at(each, self.t_s)
        gone = frozenset(s.step.id for i, s in enumerate(plan.states) if s.done or plan.is_passed_over(i))
        return plan.coats_on, gone


_NOTHING = Alike((), FaceAsked("", 0.0), {})


def bills_of(facts, zones):
    """[(zone (ZoneFacts), what the rest of its plan takes, added up)]."""
    takings = Takings(facts)
    return [(each, takings.alike(each).bill(each.asked)) for each in zones]


def needs_of(state, sheets, steps=None):
    """Paint (or Unsaid) of every layer step still undone, in order; `steps` instead of the saved plan's."""
    found = Takings(state.all, sheets).alike(state.facts, steps).taken
    return [x for x in found if STEPS[x.step.kind].leaves_film and x.step.kind != StepKind.SOLDER]


def next_paint(state, sheets):
    """Paint for the next coat of a zone (its ZoneState), None where nobody can say."""
    found = next(iter(needs_of(state, sheets)), None)
    return found if isinstance(found, Paint) else None
