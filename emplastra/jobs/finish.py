"""Seams in a zone's plan."""

from django.db import transaction

from emplastra.core.surface.names import COLOUR, StepKind
from emplastra.core.surface.seams import SHAPES
from emplastra.shared.services import Refused, writes

from .services import new_step_id, save_build_up

COVERS = COLOUR | {StepKind.TEXTURE, StepKind.WAX}
"""Steps before which seams are sealed."""


@writes
@transaction.atomic
def plan_seam(zone, user, product, run_mm, width_mm, height_mm, shape, done):
    """A seam of a run, in a bead [mm], in a zone's plan: in its seam step that is not done, else put in before colour,
    texture and wax. done: ids of steps that are done. Raises Refused.
    """
    if not product:
        raise Refused("no seam sealer is on the shelf: put one on first")
    plan = zone.build_ups.first()
    steps, number = (plan.steps, plan.number) if plan else ([], 0)
    told = {"length_mm": run_mm, "width_mm": width_mm, "dft_um": 1000.0 * height_mm * SHAPES[shape].fills}
    told |= {"note": f"{SHAPES[shape].name.lower()}, {SHAPES[shape].how}", "method": "brush"}
    free = [i for i, s in enumerate(steps) if s["id"] not in done]
    mine = [i for i in free if steps[i]["kind"] == StepKind.SEAM_SEAL]
    if mine:
        changed = [s | told if i == mine[0] else s for i, s in enumerate(steps)]
        return save_build_up(zone, user, changed, number)
    new = {"id": new_step_id(), "kind": StepKind.SEAM_SEAL, "product": product, "coats": 1} | told
    at = next((i for i in free if steps[i]["kind"] in COVERS), len(steps))
    return save_build_up(zone, user, [*steps[:at], new, *steps[at:]], number)


@writes
@transaction.atomic
def plan_texture(zone, user, sheet, steps, done):
    """Steps of a texture (core TextureStep) in a zone's plan, before what is painted over it; what the plan has of it
    already stays. sheet: of the texture. Raises Refused.
    """
    plan = zone.build_ups.first()
    rows, number = (plan.steps, plan.number) if plan else ([], 0)
    if any(s["kind"] == StepKind.TEXTURE and s["id"] not in done for s in rows):
        raise Refused("its plan has a texture still to come: change that step")
    new = [_texture_row(step, sheet) for step in steps]
    free = [i for i, s in enumerate(rows) if s["id"] not in done]
    painted = COVERS - {StepKind.TEXTURE} if not sheet.final else {StepKind.WAX}
    at = next((i for i in free if rows[i]["kind"] in painted), len(rows))
    return save_build_up(zone, user, [*rows[:at], *new, *rows[at:]], number)


def _texture_row(step, sheet):
    row = {"id": new_step_id(), "kind": step.kind, "note": step.note}
    if step.kind != StepKind.TEXTURE:
        return row
    method = sheet.methods[0] if sheet.methods else "aerosol"
    return row | {"product": sheet.product, "coats": sheet.coats or 1, "dft_um": sheet.aim_um, "method": method}
