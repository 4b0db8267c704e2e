"""Fixes that a verdict offers for the plan: steps to put before the act, each a function of what comes next."""

from collections.abc import Callable, Sequence

from ..surface.names import StepKind
from ..surface.plan import PlanStep

Steps = list[dict]


def _key(grit: str, note: str) -> Callable[[PlanStep], Steps]:
    """Key with a grit, then wipe."""
    return lambda next_step: [{"kind": StepKind.ABRADE, "grit": grit, "note": note}, *_wipe(next_step)]


def _wipe(next_step: PlanStep) -> Steps:
    return [] if next_step.kind == StepKind.DEGREASE else [{"kind": StepKind.DEGREASE}]


FIXES: dict[str, tuple[str, Callable[[PlanStep], Steps]]] = {
    "mask": ("Mask it first", lambda next_step: [{"kind": StepKind.MASK, "note": "what stays bare"}]),
    "key": ("Key it first", _key("P120", "keyed by hand")),
    "key-light": ("Key it first", _key("P180", "release wax off first")),
    "key-film": ("Key it first", _key("P320", "keyed for the next coat")),
    "key-coarse": ("Cut it with P36 first", _key("P36", "for the tooth it wants")),
    "finer": ("Go on with a finer grit", _key("P180", "so that scratches do not show")),
    "abrade-wipe": ("Abrade and wipe first", _key("P180", "lightly: bare past its limit")),
    "abrade-oldest": ("Abrade the oldest end first", _key("P120", "the end that was bared first")),
}
"""Fix -> (its button, the steps that come before the next one)."""


def steps_before(fix: str, steps: Sequence[PlanStep], next_id: str) -> Steps:
    """Steps to put before the step `next_id`; none if it is keyed next already. Raises KeyError for no such fix."""
    found = next((s for s in steps if s.id == next_id), None)
    if found is None or found.kind in {StepKind.ABRADE, StepKind.BLOCK}:
        return []
    return FIXES[fix][1](found)
