"""Seams and cavities of a zone: what its measures, plan and shelf give to begin with, and what is recorded of them."""

from dataclasses import dataclass

from emplastra.core.product.kinds import ProductKind
from emplastra.core.surface import seams
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.texture import KINDS
from emplastra.materials.selectors import sheet_for, shelf_sheets

from .known import known


@dataclass
class Finish:
    """What a zone's seams and cavities begin with: its steps (None: not planned), sheets (None: none on the shelf), how
    long its cavity is and around its inside [mm] (None: no such shape), what the survey recorded of patterns, seams and
    drains; texture: the sheet of its texture, has_old: some lies on it already.
    """

    seal: object
    wax: object
    sealer: object
    waxing: object
    length_mm: float | None
    around_mm: float | None
    pattern: str
    seams: str
    drains: list
    texture: object = None
    has_old: bool = False


def finish_of(state):
    """The Finish of a zone (its ZoneState)."""
    each = state.facts
    steps = {s.kind: s for s in reversed(each.steps) if not s.left_out}
    shelf = shelf_sheets()
    told = known([each.zone], {each.zone.pk: each}).get(each.zone.pk, {})
    length, around = _cavity(each.revision.shapes if each.revision else ())
    return Finish(
        steps.get(StepKind.SEAM_SEAL),
        steps.get(StepKind.WAX),
        sheet_for(steps.get(StepKind.SEAM_SEAL), {ProductKind.SEAM_SEALER}, shelf),
        sheet_for(steps.get(StepKind.WAX), {ProductKind.CAVITY_WAX}, shelf),
        length,
        around,
        _said(told, "marks"),
        _said(told, "seams"),
        sorted(mark for topic, mark in told if topic == "drain"),
        sheet_for(steps.get(StepKind.TEXTURE), KINDS, shelf),
        any(layer.sheet is not None and layer.sheet.kind in KINDS for layer in state.surface.layers),
    )


def _said(told, topic):
    return next((answer.sentence for (name, _), (answer, *_) in told.items() if name == topic), "")


def _cavity(shapes):
    """(length, around the inside) [mm] of its longest box or tube, (None, None) without one."""
    found = [s for s in shapes if s["kind"] in {"box", "tube"} and not s.get("less")]
    if not found:
        return None, None
    dims = max(found, key=lambda s: s["dims"]["length"])["dims"]
    if "diameter" in dims:
        return dims["length"], seams.around_tube_mm(dims["diameter"])
    return dims["length"], seams.around_box_mm(dims["width"], dims["height"])


def solids_of(sheet):
    """Solids of a product as it is used [% by volume], None where its sheet does not tell."""
    told = [part.solids_pct for part in sheet.components if part.solids_pct] if sheet else []
    return told[0] if told else None
