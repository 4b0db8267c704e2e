"""What the coats still to come take, by product and part."""

from dataclasses import dataclass, replace

from emplastra.core.product.film import METHODS, PROFILE_DEAD_UM, CoatAsked, Need, need, need_by_coverage, wft_um
from emplastra.core.product.mixing import choose_band
from emplastra.core.surface.steps import STEPS
from emplastra.core.working import Basis, Unknown


@dataclass
class StepNeed:
    """Paint for the next coat of a step and for each after it, the coats left, and the wet film to aim at [µm], None
    where it cannot be said; basis: what its solids rest on.

    Only the first coat on metal fills its profile; each coat is one pot.
    """

    step: object
    sheet: object
    variant: object
    choice: object
    one: Need
    later: Need
    coats_left: int
    wet_um: float | None
    names: dict
    basis: object = None

    @property
    def parts(self):
        """(part name, mL over the coats left) in pouring order."""
        return [
            (self.names[key], self._over(lambda need, key=key: need.by_part_ml[key])) for key in self.one.by_part_ml
        ]

    @property
    def gun_ml(self):
        """Ready to use over the coats left [mL]."""
        return self._over(lambda need: need.gun_ml)

    @property
    def mixed_ml(self):
        """Mixed, unthinned, over the coats left [mL]."""
        return self._over(lambda need: need.mixed_ml)

    def _over(self, of):
        """A volume over the coats left [mL]."""
        return of(self.one) + of(self.later) * (self.coats_left - 1)


def chosen_variant(sheet, temp_c, method):
    """(variant or None, Choice): the ratio band that holds; the first variant stands in for a plan."""
    if not sheet.variants:
        return None, None
    choice = choose_band([v.band for v in sheet.variants], temp_c, method)
    variant = sheet.variant(choice.band.key) if choice.band else None
    return variant, choice


@dataclass
class Unsaid:
    """A step whose paint nobody can work out, and the figure that is missing."""

    step: object
    coats_left: int
    unknown: Unknown


def step_need(step, sheet, revision, temp_c, coats_left, on_metal, workshop):
    """Paint for a step of the plan on a zone (StepNeed), or Unsaid with what is not told.

    on_metal: it is the first coat on the metal, whose profile takes paint too.
    """
    if sheet is None:
        return Unsaid(step, coats_left, Unknown("", f"the data sheet of {step.product}"))
    variant, choice = chosen_variant(sheet, temp_c, step.method)
    variant = variant or (sheet.variants[0] if sheet.variants else None)
    solids, shares = sheet.solids_pct(variant), sheet.volume_shares(variant)
    asked = CoatAsked(revision.area_m2, 1.0, 100.0, step.method, revision.form, 0.0, step.thinner_pct, shares)
    if isinstance(solids, Unknown) or step.dft_um is None:
        if sheet.coverage_m2_l is None:
            return Unsaid(step, coats_left, solids if isinstance(solids, Unknown) else _no_film(step, sheet))
        one, wet_um, basis = need_by_coverage(asked, sheet.coverage_m2_l[0]), None, Basis.SHEET
        later = one
    else:
        basis, wet_um = solids.basis, wft_um(step.dft_um, solids.value, step.thinner_pct)
        asked = replace(asked, dft_um=step.dft_um, solids_pct=solids.value, solids_basis=basis)
        if step.least:
            sprayed = METHODS[step.method].is_sprayed
            asked = replace(asked, uneven=workshop.uneven_sprayed if sprayed else workshop.uneven_brushed)
        later = need(asked)
        one = need(replace(asked, dead_um=PROFILE_DEAD_UM[revision.profile])) if on_metal else later
    names = {p.key: p.name for p in sheet.components}
    return StepNeed(step, sheet, variant, choice, one, later, coats_left, wet_um, names, basis)


def _no_film(step, sheet):
    return Unknown("film", f"the {'' if sheet.aim_um is None else 'planned '}film of {step.product}")


def needs_of(state, sheets, steps=None):
    """StepNeed or Unsaid of every layer step still undone, in order; `steps` instead of the saved plan's."""
    each = state.facts
    temp_c = min(each.where.at(state.surface.t_s).air_c, state.now.temp_c)
    done = {s.step.id: s.coats_done for s in state.plan.states}
    found, on_metal = [], not state.surface.layers
    for step in steps if steps is not None else each.steps:
        if not STEPS[step.kind].leaves_film or step.left_out:
            continue
        left = step.coats - done.get(step.id, 0)
        if left > 0:
            sheet = sheets.get(step.product)
            found.append(step_need(step, sheet, each.revision, temp_c, left, on_metal, state.all.workshop))
        on_metal = False
    return found
