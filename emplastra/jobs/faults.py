"""Faults of a coat: written down, and what puts them right in the plan."""

from django.db import transaction

from emplastra.core.surface.names import StepKind
from emplastra.shared.services import Refused, writes

from .services import new_step_id, save_build_up
from .surveying import in_film, say_of, seen_in_film


def open_faults(zone):
    """[Finding] in the film of a zone that hold and are not verified, the newest first."""
    return [finding for finding, verified in seen_in_film([zone])[::-1] if not verified]


@writes
@transaction.atomic
def note_fault(zone, user, choice, where, step, seen):
    """A fault as it is seen in a coat. Raises Refused where the same is open there already."""
    if any(f.choice == choice and f.text == where for f in open_faults(zone)):
        raise Refused("is written down already")
    in_film(zone, user, [(choice, where)], step, seen)


@writes
@transaction.atomic
def plan_remedy(zone, user, acts, coat, finding, done):
    """What puts a fault right, before the first undone step of a plan: acts (core defects Act); coat: the row of the
    step whose coat goes on again, None where none does; finding: answered by it, None for one that nobody wrote down;
    done: ids of steps that are done. Raises Refused.
    """
    plan = zone.build_ups.first()
    rows = plan.steps if plan else []
    new = [_row(act, coat) for act in acts]
    at = next((i for i, s in enumerate(rows) if s["id"] not in done), len(rows))
    if [s.get("note") for s in rows[at : at + len(new)]] == [s["note"] for s in new]:
        raise Refused("it is in the plan already")
    saved = save_build_up(zone, user, [*rows[:at], *new, *rows[at:]], plan.number if plan else 0)
    if finding is not None:
        say_of(finding, user, "answered", step=new[-1]["id"])
    return saved


def _row(act, coat):
    """An act as a step of a plan. Raises Refused where a coat goes on again and no step tells which."""
    if act.kind in {StepKind.ABRADE, StepKind.DEGREASE, StepKind.POLISH}:
        row = {"id": new_step_id(), "kind": act.kind, "note": act.words[:200]}
        return row | {"grit": act.grit} if act.grit else row
    if coat is None:
        raise Refused("no step of its plan tells which coat goes on again: put it in first")
    return coat | {"id": new_step_id(), "coats": 1, "note": "once more, where it was put right", "sanded_um": 0.0}
