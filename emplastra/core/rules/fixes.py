"""Fixes that a verdict offers: steps to put before the next one, each a function of the plan."""

from collections.abc import Callable, Sequence

from ..surface.names import StepKind
from ..surface.plan import PlanStep

Steps = list[dict]


def _key(next_step: PlanStep) -> Steps:
    return [{"kind": StepKind.ABRADE, "grit": "P120", "note": "keyed by hand"}, *_wipe(next_step)]


def _light(next_step: PlanStep) -> Steps:
    return [{"kind": StepKind.ABRADE, "grit": "P180", "note": "lightly: bare past its limit"}, *_wipe(next_step)]


def _oldest(next_step: PlanStep) -> Steps:
    return [{"kind": StepKind.ABRADE, "grit": "P120", "note": "the end that was bared first"}, *_wipe(next_step)]


def _wipe(next_step: PlanStep) -> Steps:
    return [] if next_step.kind == StepKind.DEGREASE else [{"kind": StepKind.DEGREASE}]


FIXES: dict[str, tuple[str, Callable[[PlanStep], Steps]]] = {
    "key": ("Key it first", _key),
    "abrade-wipe": ("Abrade and wipe first", _light),
    "abrade-oldest": ("Abrade the oldest end first", _oldest),
}
"""Fix -> (its button, the steps that come before the next one)."""


def steps_before(fix: str, steps: Sequence[PlanStep], next_id: str) -> Steps:
    """Steps to put before the step `next_id`; none if it is keyed next already. Raises KeyError for no such fix."""
    found = next((s for s in steps if s.id == next_id), None)
    if found is None or found.kind in {StepKind.ABRADE, StepKind.BLOCK}:
        return []
    return FIXES[fix][1](found)
