"""What a pass over a face begins with: the coat of its plan, the gun as it was measured, what counts as even."""

from dataclasses import dataclass

from emplastra.core.buying.amounts import variant_for
from emplastra.core.product.film import METHODS, CoatAsked, need
from emplastra.core.spray.gun import FANS_MM, FLOWS_ML_MIN, USUAL_MM
from emplastra.core.spray.panel import panel_of
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.steps import STEPS
from emplastra.core.working import Basis, Figure
from emplastra.jobs.guns import told_of

from .colour import groups_of
from .needs import temp_for

EVEN = 0.10
"""A film counts as even within so much of what is wanted, where no card says otherwise. Common practice, no source."""
SPEED, OVERLAP, OVERRUN_MM = 0.4, 0.5, 50.0
"""How a hand goes until it was timed: speed [m/s], overlap [0..1], past the edge [mm]. Common practice, no source."""


@dataclass
class Spraying:
    """A coat to be sprayed: state of the zone, its steps that are sprayed, the one that is meant, its sheet (None: not
    on the shelf), {field: (figure, Basis)}, its group in a three-stage colour (None: not of one).
    """

    state: object
    steps: list
    step: object
    sheet: object
    figures: dict
    group: object = None

    @property
    def method(self):
        """The way that the step is put on."""
        return self.step.method if self.step else "hvlp"

    @property
    def coats(self):
        """How many coats of it make the colour: what was chosen for mid-coats, else its plan's."""
        chosen = self.group.chosen if self.group else None
        return chosen or (self.step.coats if self.step else 1)

    def range_for(self, film_um):
        """((low, high) film that counts as even [µm], Basis): by the card of a mid-coat, else about a tenth."""
        strays = self.group.strays if self.group else None
        if strays and strays[0] < film_um < strays[1]:
            return strays, Basis.MEASURED
        return ((1 - EVEN) * film_um, (1 + EVEN) * film_um), Basis.ASSUMED

    @property
    def sags_wet_um(self):
        """The wet film at which it runs [µm], None where its sheet does not tell."""
        return self.sheet.film.sag_wft_um if self.sheet and self.sheet.film else None

    @property
    def loss_ml(self):
        """What stays in the gun [mL]."""
        return METHODS[self.method].loss_ml

    def panel(self, upright):
        """The face laid flat. Raises FieldError for one without measures."""
        facts = self.state.facts
        shapes, area_m2 = (facts.revision.shapes, facts.area_m2) if facts.revision else ((), 0.0)
        return panel_of(shapes, area_m2, upright)

    def planned_ml(self, film_um, solids_pct, stays):
        """What the plan takes for this film [mL ready to use] but for the gun's rest: a share stays on a whole face."""
        facts = self.state.facts
        asked = CoatAsked(facts.area_m2, film_um, solids_pct, self.method, facts.revision.form, efficiency=stays)
        return need(asked).on_face_ml


def sprayed(step):
    """True for a step of a plan that is sprayed."""
    return STEPS[step.kind].leaves_film and not step.left_out and METHODS[step.method].is_sprayed


def spraying_of(book, state, step_id=""):
    """The Spraying of a zone (its ZoneState): of the step that is asked for, else of the next that is sprayed."""
    steps = [s for s in state.facts.steps if sprayed(s)]
    step = _meant(steps, {each.step.id for each in state.plan.states if not each.done}, step_id)
    sheet = state.all.sheets.get(step.product) if step else None
    group = _group(book, state) if step and step.kind == StepKind.MID else None
    return Spraying(state, steps, step, sheet, _figures(state, step, sheet), group)


def _meant(steps, undone, wanted):
    """Of steps that are sprayed the one that is asked for by its id, else the first undone, else the last; or None."""
    named = (s for s in steps if s.id == wanted)
    return next(named, None) or next((s for s in steps if s.id in undone), None) or next(reversed(steps), None)


def _group(book, state):
    for group in groups_of(book, state.zone.job):
        if state.zone.pk in {row.zone.pk for row in group.rows}:
            return group
    return None


def _figures(state, step, sheet):
    """{field: (figure in the core's unit, Basis)} with which a pass begins; shares in percent."""
    method = step.method if step else "hvlp"
    at, fan, flow = USUAL_MM.get(method, 200.0), FANS_MM.get(method, 250.0), FLOWS_ML_MIN.get(method, 180.0)
    assumed = {
        "fan": fan,
        "fan_at": at,
        "distance": at,
        "flow": flow,
        "body": "round",
        "stays": 100 * METHODS[method].stays,
        "speed": SPEED,
        "overlap": 100 * OVERLAP,
        "overrun": OVERRUN_MM,
    }
    told = told_of(method)
    found = {name: (told.get(name, value), _basis(name in told)) for name, value in assumed.items()}
    found["solids"] = _solids(state, step, sheet)
    if step and step.dft_um:
        found["film"] = step.dft_um, Basis.TYPED
    elif sheet and sheet.aim_um:
        found["film"] = sheet.aim_um, sheet.basis("film")
    else:
        found["film"] = None, Basis.ASSUMED
    return found


def _basis(is_told):
    return Basis.MEASURED if is_told else Basis.ASSUMED


def _variant(state, step, sheet):
    """The ratio of a sheet as the plan's quantities take it: by the temperature, else its first."""
    temp_c = temp_for(state.facts, state.all, state.surface.t_s)
    return variant_for(sheet, temp_c, step.method)[0] or next(iter(sheet.variants), None)


def _solids(state, step, sheet):
    """(solids in the gun [%], Basis); None where nobody told."""
    variant = _variant(state, step, sheet) if sheet else None
    solids = sheet.solids_pct(variant) if sheet else None
    if not isinstance(solids, Figure):
        return None, Basis.ASSUMED
    return round(solids.value * 100.0 / (100.0 + (step.thinner_pct if step else 0.0)), 2), solids.basis
