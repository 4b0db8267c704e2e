"""The layers of a plan, and the abrasives from the strip to what the last film buries.

Which grit a coating takes under it: common practice, no source; the sheet comes first.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..product.abrasives import ANY_TOOTH, FIRST_CUT, TOOTH, UNDER, GritError, buries, grain_um, grit_plan, scratch_um
from ..product.sheet import Sheet
from ..surface.names import StepKind
from ..surface.plan import PlanStep
from ..surface.steps import STEPS
from ..working import Basis

SEEN = ("show", "open")
"""Finish classes in which a scratch would be seen."""
SANDING = (StepKind.ABRADE, StepKind.BLOCK)


@dataclass(frozen=True)
class PlanLayer:
    """A layer of a plan: film of all its coats put on and sanded off it [µm], limits of them all [µm].

    sanded: the grits with which what lies under it is sanded, in order ("" where the plan names none).
    """

    id: str
    name: str
    kind: str = ""
    dft_um: float | None = None
    sanded_um: float = 0.0
    min_um: float = 0.0
    max_um: float | None = None
    has_sheet: bool = True
    sanded: tuple[str, ...] = ()

    @property
    def left_um(self) -> float | None:
        """What is left of it [µm]; None where no film is planned."""
        return None if self.dft_um is None else max(0.0, self.dft_um - self.sanded_um)

    @property
    def grit(self) -> str:
        """The last grit under it that is a grade, "" if none is."""
        for grit in reversed(self.sanded):
            try:
                grain_um(grit)
            except GritError:
                continue
            return grit.strip().upper()
        return ""


@dataclass(frozen=True)
class StackPlan:
    """Layers from the metal upward, whether the finish is seen, and the most that its system allows [µm]."""

    layers: tuple[PlanLayer, ...]
    seen: bool = True
    max_total_um: float | None = None

    @property
    def total_um(self) -> float:
        """What is left of all layers [µm], as far as films are planned."""
        return sum(layer.left_um or 0.0 for layer in self.layers)

    def over_um(self, i: int) -> float | None:
        """Film that buries a scratch under layer i [µm]: up to the first layer that is sanded flat, itself included;
        None where one of them is not planned.
        """
        film = 0.0
        for layer in self.layers[i:]:
            if layer.left_um is None:
                return None
            film += layer.left_um
            if layer.sanded_um > 0:
                break
        return film


def plan_of(
    steps: Sequence[PlanStep],
    sheets: Mapping[str, Sheet],
    finish: str = "show",
    max_total_um: float | None = None,
) -> StackPlan:
    """The layers of a plan. sheets: by product name; max_total_um: the most that its system allows [µm]."""
    layers: list[PlanLayer] = []
    grits: list[str] = []
    for step in steps:
        if step.left_out:
            continue
        if step.kind in SANDING:
            grits.append(step.grit)
        if not STEPS[step.kind].leaves_film:
            continue
        layers.append(_layer_of(step, sheets.get(step.product), tuple(grits)))
        grits = []
    return StackPlan(tuple(layers), finish in SEEN, max_total_um)


def _layer_of(step: PlanStep, sheet: Sheet | None, grits: tuple[str, ...]) -> PlanLayer:
    limits = sheet.film if sheet and step.dft_um else None
    return PlanLayer(
        step.id,
        step.product or STEPS[step.kind].name,
        sheet.kind if sheet else "",
        step.put_on_um,
        step.sanded_um,
        (limits.min_um if limits else None) or 0.0,
        limits.max_um * step.coats if limits and limits.max_um is not None else None,
        sheet is not None,
        grits,
    )


@dataclass(frozen=True)
class LayerCase:
    """A layer of a plan, by its place in it."""

    plan: StackPlan
    i: int

    @property
    def layer(self) -> PlanLayer:
        """The layer."""
        return self.plan.layers[self.i]

    @property
    def under(self) -> str:
        """What is sanded under it, in words."""
        return self.plan.layers[self.i - 1].name if self.i else "metal"

    @property
    def wants(self) -> tuple[str, str] | None:
        """(coarsest, finest) grit it takes under it, None if nothing is known or it is not sanded."""
        if not self.layer.sanded:
            return None
        if self.i == 0:
            tooth = TOOTH.get(self.layer.kind, ANY_TOOTH)
            return "P36" if tooth.grit == "P36" else "P80", tooth.finest
        return UNDER.get(self.layer.kind)


@dataclass(frozen=True)
class Rung:
    """One sanding of the ladder: on what, under what, grades from coarse to fine, depth of the last scratch and
    film over it [µm].

    basis: the plan's own last grit is typed, one that we name is assumed.
    """

    on: str
    under: str
    grades: tuple[str, ...]
    scratch_um: float
    over_um: float | None
    basis: Basis
    on_metal: bool = False

    @property
    def buried(self) -> bool | None:
        """True if the film over it buries the last scratch twice: an estimate. None where that cannot be said."""
        return None if self.over_um is None else buries(self.grades[-1], self.over_um, self.on_metal)


def ladder(plan: StackPlan) -> tuple[Rung, ...]:
    """Every sanding of a plan, from the metal to the one under the last film."""
    found = []
    for i in range(len(plan.layers)):
        case = LayerCase(plan, i)
        cuts = _cuts(case)
        if cuts is None:
            continue
        first, last = cuts
        grades = grit_plan(first, last) if grain_um(first) > grain_um(last) else [last]
        basis = Basis.TYPED if case.layer.grit else Basis.ASSUMED
        found.append(
            Rung(case.under, case.layer.name, tuple(grades), scratch_um(last, i == 0), plan.over_um(i), basis, i == 0)
        )
    return tuple(found)


def _cuts(case: LayerCase) -> tuple[str, str] | None:
    """(first cut, last grit) of the sanding under a layer, None where it is not sanded."""
    layer, wants = case.layer, case.wants
    if case.i == 0:
        tooth = TOOTH.get(layer.kind, ANY_TOOTH)
        return "P36" if tooth.grit == "P36" else "P80", layer.grit or tooth.grit
    last = layer.grit or (wants[0] if wants else "")
    if not layer.sanded or not last:
        return None
    return FIRST_CUT.get(case.plan.layers[case.i - 1].kind, last), last
