"""Guns as somebody measured them, and a pass written into the plan of a face."""

from django.db import transaction

from emplastra.shared.services import Refused, writes

from .models import GunSetting
from .services import save_build_up


def told_of(method):
    """{field of the pass: figure} that was measured of guns of a method."""
    row = GunSetting.objects.filter(method=method).order_by("id").last()
    return row.told if row else {}


@writes
def remember_gun(user, method, told):
    """What was measured of a gun, from now on; what stays as it was makes no row."""
    if told == told_of(method):
        return None
    return GunSetting.objects.create(method=method, told=told, who=user)


@writes
@transaction.atomic
def note_pass(zone, user, step_id, note):
    """How a step is sprayed, in its note. Raises Refused where the plan has no such step."""
    plan = zone.build_ups.first()
    steps = plan.steps if plan else []
    if not any(step["id"] == step_id for step in steps):
        raise Refused("its plan has changed: look again")
    changed = [s | {"note": _with_pass(s.get("note", ""), note)} if s["id"] == step_id else s for s in steps]
    if changed == steps:
        return plan
    return save_build_up(zone, user, changed, plan.number)


MARK = "pass: "
NOTE_MOST = 200


def _with_pass(was, note):
    """A note with this pass in the place of the one before."""
    kept = [part for part in was.split("; ") if part and not part.startswith(MARK)]
    return "; ".join([*kept, f"{MARK}{note}"])[:NOTE_MOST]
