"""The core sample: plan and fact side by side from the metal upward, to scale."""

from dataclasses import dataclass, field

from emplastra.core.rules.stack import plan_of
from emplastra.core.surface.steps import STEPS
from emplastra.core.words import film_q

LINEAR_UM = 200.0
"""A layer is drawn to scale up to this; above it has a break mark [µm]."""
LEAST_PX, TALL_PX, METAL_PX = 38.0, 370.0, 34.0


@dataclass
class LayerBox:
    """A layer as drawn: from the foot y upward, its film, names and state; marks are its remarks in short."""

    y: float
    height: float
    left_um: float
    top_um: float
    name: str
    detail: str = ""
    hatch: str = "plain"
    colour: str = "#b9bab3"
    broken: bool = False
    done: bool = True
    label: str = ""
    sanded_px: float = 0.0
    sanded_um: float = 0.0
    remarks: list = field(default_factory=list)
    marks: list = field(default_factory=list)
    basis: str = ""

    @property
    def middle(self):
        """Where its name stands."""
        return self.y + min(self.height / 2, self.height - 12)


@dataclass
class Sample:
    """Plan boxes, fact boxes, the height of the picture and the planned total [µm]."""

    plan: list
    fact: list
    height: float
    total_um: float
    fact_um: float


def layer_steps(steps):
    """Steps that leave film and are not left out."""
    return [s for s in steps if STEPS[s.kind].leaves_film and not s.left_out]


def stack_of(state):
    """The core's value of a zone's planned layers (its ZoneState)."""
    revision = state.facts.revision
    return plan_of(state.facts.steps, state.all.sheets, revision.finish_class if revision else "show")


def sample(steps, surface, sheets, rulings=()):
    """The core sample of a plan (PlanSteps) and what was done (Surface).

    rulings: (StepState, Ruled) of planned acts, which stand beside their layers.
    """
    layers = layer_steps(steps)
    left = {s.id: s.left_um for s in layers}
    drawn = sum(min(um, LINEAR_UM) for um in left.values()) or 1.0
    scale = TALL_PX / max(drawn, 120.0)
    plan = _plan_boxes(layers, rulings, left, scale, sheets)
    fact = _fact_boxes(layers, left, scale, surface, sheets)
    height = METAL_PX + max([sum(b.height for b in plan), sum(b.height for b in fact), 80.0]) + 30
    for box in [*plan, *fact]:
        box.y = height - METAL_PX - 4 - box.y - box.height
    return Sample(plan, fact, height, sum(left.values()), sum(b.left_um for b in fact if b.done))


def _px(um, scale):
    return max(LEAST_PX, min(um, LINEAR_UM) * scale)


def _look(sheet):
    return (sheet.hatch, sheet.colour) if sheet else ("plain", "#d7d3c8")


def _plan_boxes(layers, rulings, left, scale, sheets):
    boxes, foot, um = [], 0.0, 0.0
    for step in layers:
        sheet = sheets.get(step.product)
        hatch, colour = _look(sheet)
        height, um = _px(left[step.id], scale), um + left[step.id]
        coats = f"{step.coats} coat{'s' if step.coats > 1 else ''}"
        detail = (
            f"{film_q(step.dft_um * step.coats, unit=False)} put on, {film_q(left[step.id], unit=False)} left"
            if step.sanded_um
            else f"{film_q(left[step.id])}, {coats}"
        )
        box = LayerBox(foot, height, left[step.id], um, step.product or STEPS[step.kind].name, detail, hatch, colour)
        box.broken = left[step.id] > LINEAR_UM
        box.sanded_um, box.sanded_px = step.sanded_um, min(step.sanded_um * scale, 40.0)
        found = [v for at, ruled in rulings if at.step.id == step.id for v in ruled.open if v.severity != "advises"]
        box.remarks = list(dict.fromkeys(v.sentence for v in found))
        box.marks = [f"{v.severity}: {v.aspect.value}" for v in found[:1]]
        boxes.append(box)
        foot += height
    return boxes


def _fact_boxes(layers, left, scale, surface, sheets):
    boxes, foot, um, done = [], 0.0, 0.0, {}
    for layer in surface.layers:
        hatch, colour = _look(layer.sheet)
        height, um = _px(layer.left_um, scale) if layer.left_um else 4.0, um + layer.left_um
        box = LayerBox(foot, height, layer.left_um, um, layer.product, layer.film.how, hatch, colour)
        box.label, box.basis = film_q(layer.left_um), layer.film.basis.value
        if layer.share < 0.999:
            box.label += f", {layer.share:.0%}"
        box.broken = layer.left_um > LINEAR_UM
        boxes.append(box)
        done[layer.step] = done.get(layer.step, 0) + 1
        foot += height
    for step in layers:
        rest = step.coats - done.get(step.id, 0)
        if rest > 0:
            height = _px(left[step.id] * rest / step.coats, scale)
            boxes.append(LayerBox(foot, height, left[step.id] * rest / step.coats, 0, step.product, done=False))
            foot += height
    return boxes
