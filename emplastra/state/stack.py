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
    left_um: float | None
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
    least_px: float | None = None
    most_px: float | None = None

    @property
    def middle(self):
        """Where its name stands."""
        return self.y + min(self.height / 2, self.height - 12)


LOOKS = 5
"""How many ways there are to draw each family of hatches (patterns.html): layers of one family differ."""


class Hatches:
    """Hatches of one picture: the nth layer of a family is drawn the nth way, so that no two layers look alike."""

    def __init__(self):
        self.used, self.of = {}, {}

    def of_layer(self, key, sheet):
        """(hatch, colour) of a layer by the id of its step, or by whatever tells it from others."""
        family, colour = (sheet.hatch, sheet.colour) if sheet else ("plain", "#d7d3c8")
        if key not in self.of:
            n = self.used.get(family, 0)
            self.used[family] = n + 1
            self.of[key] = f"{family}-{n % LOOKS}" if n % LOOKS else family
        return self.of[key], colour


@dataclass
class Sample:
    """Plan boxes, fact boxes, the height of the picture, the planned total and what is on [µm]; untold: of a layer no
    film is known, so that both are what they are at least; facts: False where nothing is on but a plan.
    """

    plan: list
    fact: list
    height: float
    total_um: float
    fact_um: float
    untold: bool = False
    facts: bool = True


def layer_steps(steps):
    """Steps that leave film and are not left out."""
    return [s for s in steps if STEPS[s.kind].leaves_film and not s.left_out]


def stack_of(state):
    """The core's value of a zone's planned layers (its ZoneState)."""
    revision = state.facts.revision
    return plan_of(state.facts.steps, state.all.sheets, revision.finish_class if revision else "show")


def sample(steps, surface, sheets, rulings=(), facts=True):
    """The core sample of a plan (PlanSteps) and what was done (Surface).

    rulings: (StepState, Ruled) of planned acts, which stand beside their layers; facts: the plan alone if False.
    """
    layers = layer_steps(steps)
    left = {s.id: s.left_um for s in layers}
    drawn = sum(min(um, LINEAR_UM) for um in left.values() if um is not None) or 1.0
    scale = TALL_PX / max(drawn, 120.0)
    hatches = Hatches()
    plan = _plan_boxes(layers, rulings, left, scale, sheets, hatches)
    fact = _fact_boxes(layers, left, scale, surface, hatches) if facts else []
    height = METAL_PX + max([sum(b.height for b in plan), sum(b.height for b in fact), 80.0]) + 30
    for box in [*plan, *fact]:
        box.y = height - METAL_PX - 4 - box.y - box.height
    on = [b.left_um for b in fact if b.done]
    untold = any(um is None for um in (*left.values(), *on))
    return Sample(plan, fact, height, _sum(left.values()), _sum(on), untold, facts)


def _sum(films):
    return sum(um for um in films if um is not None)


def _px(um, scale):
    return LEAST_PX if um is None else max(LEAST_PX, min(um, LINEAR_UM) * scale)


def _plan_boxes(layers, rulings, left, scale, sheets, hatches):
    boxes, foot, um = [], 0.0, 0.0
    for step in layers:
        sheet = sheets.get(step.product)
        hatch, colour = hatches.of_layer(step.id, sheet)
        height, um = _px(left[step.id], scale), um + (left[step.id] or 0.0)
        detail = _detail(step, sheet)
        box = LayerBox(foot, height, left[step.id], um, step.product or STEPS[step.kind].name, detail, hatch, colour)
        box.broken = (left[step.id] or 0.0) > LINEAR_UM
        box.least_px, box.most_px = _reach(step, sheet, height)
        box.sanded_um, box.sanded_px = step.sanded_um, min(step.sanded_um * scale, 40.0)
        found = [v for at, ruled in rulings if at.step.id == step.id for v in ruled.open if v.severity != "advises"]
        box.remarks = list(dict.fromkeys(v.sentence for v in found))
        box.marks = [v.severity for v in found[:1]]
        boxes.append(box)
        foot += height
    return boxes


def span_of(step, sheet):
    """(least, most) that the sheet of a layer gives for all its coats [µm], None where it says nothing."""
    film = sheet.film if sheet is not None else None
    least, most = (film.min_um, film.max_um) if film else (None, None)
    return (None if least is None else least * step.coats), (None if most is None else most * step.coats)


def _reach(step, sheet, height):
    """How high the least and the most that its sheet takes would stand beside a layer [px], in the scale of what is
    put on; None where nothing is told or it is far out of the picture.
    """
    if not step.put_on_um or not step.left_um:
        return None, None
    px = height / min(step.left_um, LINEAR_UM) if step.left_um else 0.0
    least, most = (None if um is None else (um - step.sanded_um) * px for um in span_of(step, sheet))
    return (least if least is not None and 4 <= least <= height else None), (
        most if most is not None and height <= most <= height + 60 else None
    )


def _detail(step, sheet):
    """The film of a planned layer in words: least, plan and most of all its coats, then what blocking leaves."""
    coats = f"{step.coats} coat{'s' if step.coats > 1 else ''}"
    if step.left_um is None:
        return f"film not told, {coats}"
    least, most = span_of(step, sheet)
    films = [um for um in (least, step.put_on_um, most) if um is not None]
    said = f"{film_q(*films, joined='–')}, {coats}"
    if step.sanded_um:
        said += f", {film_q(step.left_um, unit=False)} left"
    return said


def _fact_boxes(layers, left, scale, surface, hatches):
    boxes, foot, um, done = [], 0.0, 0.0, {}
    for n, layer in enumerate(surface.layers):
        hatch, colour = hatches.of_layer(layer.step or f"on {n}", layer.sheet)
        known = layer.left_um
        height, um = 4.0 if known == 0 else _px(known, scale), um + (known or 0.0)
        box = LayerBox(foot, height, known, um, layer.product, layer.film.how, hatch, colour)
        box.label, box.basis = "film not told" if known is None else film_q(known), layer.film.basis.value
        if layer.share < 0.999:
            box.label += f", {layer.share:.0%}"
        box.broken = (known or 0.0) > LINEAR_UM
        boxes.append(box)
        done[layer.step] = done.get(layer.step, 0) + 1
        foot += height
    for step in layers:
        rest = step.coats - done.get(step.id, 0)
        if rest > 0:
            um = None if left[step.id] is None else left[step.id] * rest / step.coats
            height = _px(um, scale)
            boxes.append(LayerBox(foot, height, um, 0, step.product, done=False))
            foot += height
    return boxes
