"""What the coats still to come take, by product and part."""

from dataclasses import dataclass, replace

from emplastra.core.product.film import METHODS, PROFILE_DEAD_UM, CoatAsked, Need, need, wft_um
from emplastra.core.product.mixing import choose_band
from emplastra.core.surface.steps import STEPS


@dataclass
class StepNeed:
    """Paint for the next coat of a step and for each after it, the coats left, and the wet film to aim at [µm].

    Only the first coat on metal fills its profile; each coat is one pot.
    """

    step: object
    sheet: object
    variant: object
    choice: object
    one: Need
    later: Need
    coats_left: int
    wet_um: float
    names: dict

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


def step_need(step, sheet, revision, temp_c, coats_left, on_metal, workshop):
    """Paint for a step of the plan on a zone; None if its sheet gives no film.

    on_metal: it is the first coat on the metal, whose profile takes paint too.
    """
    if sheet is None or sheet.film is None or step.dft_um <= 0:
        return None
    variant, choice = chosen_variant(sheet, temp_c, step.method)
    variant = variant or (sheet.variants[0] if sheet.variants else None)
    solids = sheet.solids_pct(variant)
    if solids <= 0:
        return None
    dead = PROFILE_DEAD_UM[revision.profile] if on_metal else 0.0
    shares = sheet.volume_shares(variant)
    asked = CoatAsked(revision.area_m2, step.dft_um, solids, step.method, revision.form, dead, step.thinner_pct, shares)
    if step.least:
        sprayed = METHODS[step.method].is_sprayed
        asked = replace(asked, uneven=workshop.uneven_sprayed if sprayed else workshop.uneven_brushed)
    later = replace(asked, dead_um=0.0)
    names, wet_um = {p.key: p.name for p in sheet.components}, wft_um(step.dft_um, solids, step.thinner_pct)
    return StepNeed(step, sheet, variant, choice, need(asked), need(later), coats_left, wet_um, names)


def needs_of(state, sheets, steps=None):
    """StepNeeds of every layer step still undone, in order; `steps` instead of the saved plan's."""
    each = state.facts
    temp_c = min(each.where.at(state.surface.t_s).air_c, state.now.temp_c)
    done = {s.step.id: s.coats_done for s in state.plan.states}
    found, on_metal = [], not state.surface.layers
    for step in steps if steps is not None else each.steps:
        if not STEPS[step.kind].leaves_film or step.left_out:
            continue
        left = step.coats - done.get(step.id, 0)
        if left > 0:
            item = step_need(step, sheets.get(step.product), each.revision, temp_c, left, on_metal, state.all.workshop)
            found += [item] if item else []
        on_metal = False
    return found
