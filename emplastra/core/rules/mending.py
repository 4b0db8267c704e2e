"""What a finding is answered by: kinds of steps that mend it, and where such a step goes in a plan.

Common practice, no source: METHODS of the trade in their order, dirt before metal, metal before film.
"""

from collections.abc import Sequence

from ..surface.names import StepKind
from ..surface.plan import METAL_WORK, Progress, StepState
from ..surface.steps import STEPS

MENDED_BY: dict[str, tuple[StepKind, ...]] = {
    "uncovered": (StepKind.UNCOVER, StepKind.CLEAN),
    "rust": (StepKind.STRIP, StepKind.CONVERT),
    "white": (StepKind.STRIP,),
    "laminate": (StepKind.REPAIR,),
    "blisters": (StepKind.STRIP,),
    "pits": (StepKind.WELD, StepKind.REPAIR),
    "holes": (StepKind.WELD, StepKind.REPAIR),
    "thin": (StepKind.WELD, StepKind.REPAIR),
    "filler": (StepKind.STRIP, StepKind.REPAIR),
    "solder": (StepKind.SOLDER,),
    "seams": (StepKind.SEAM_SEAL,),
    "joints": (StepKind.REPAIR,),
    "layer": (StepKind.STRIP,),
    "wax": (StepKind.CLEAN, StepKind.DEGREASE),
    "salts": (StepKind.CLEAN,),
    "dust": (StepKind.CLEAN, StepKind.DEGREASE),
    "drain": (StepKind.REPAIR,),
    "hides": (StepKind.UNCOVER, StepKind.SEAM_SEAL),
    "more": (StepKind.WELD, StepKind.REPAIR),
    "film": (StepKind.ABRADE, StepKind.BLOCK),
}
"""Topic -> kinds of step that answer trouble there, the usual first."""
OF_MORE: dict[str, tuple[StepKind, ...]] = {
    "rust": MENDED_BY["rust"],
    "filler": MENDED_BY["filler"],
    "dent": (StepKind.REPAIR,),
    "other": (StepKind.REPAIR, StepKind.CLEAN),
}
"""The same for what was found later, where its choice says more."""
PREPARES = frozenset({StepKind.DEGREASE, StepKind.ABRADE, StepKind.BLOCK, StepKind.MASK})
"""A wipe, a key, a mask: each stays with what it prepares."""
_ORDER = (
    {StepKind.SURVEY},
    {StepKind.UNCOVER},
    {StepKind.CLEAN},
    {StepKind.STRIP},
    {StepKind.SOLDER},
    {StepKind.WELD},
    {StepKind.REPAIR},
    {StepKind.CONVERT, StepKind.ACID_PREP, StepKind.RINSE, StepKind.DRY, *PREPARES},
    {StepKind.PRIME, StepKind.ENCAPSULATE, StepKind.STRIPE, StepKind.POWDER},
    {StepKind.SEAM_SEAL},
)
"""Steps in their order; what is in none comes after all."""


def kinds_for(topic: str, choice: str) -> tuple[StepKind, ...]:
    """Kinds of step that answer such a finding; none where it is the measures that are wrong."""
    if topic == "more" and choice in OF_MORE:
        return OF_MORE[choice]
    return MENDED_BY.get(topic, ())


def there_already(kinds: Sequence[StepKind], plan: Progress) -> list[StepState]:
    """Steps of these kinds that are in a plan and still to be done."""
    left = [s for i, s in enumerate(plan.states) if not s.done and not plan.is_passed_over(i)]
    return [s for s in left if s.step.kind in kinds]


def place_of(kind: StepKind, plan: Progress) -> int | None:
    """Where a new step goes in a plan: before the first undone step that comes after it in the order of the trade,
    with what prepares that; None for work on metal where film lies over it already.
    """
    steps = [s.step for s in plan.states]
    if kind in METAL_WORK | {StepKind.DEGREASE} and _film_is_on(plan):
        return None
    mine = _rank(StepKind.CLEAN if kind == StepKind.DEGREASE else kind)
    begun = max((i for i, s in enumerate(plan.states) if s.done and not s.step.left_out), default=-1) + 1
    at = next((i for i in range(begun, len(steps)) if _rank(steps[i].kind) > mine), len(steps))
    while at > begun and steps[at - 1].kind in PREPARES:
        at -= 1
    return at


def _film_is_on(plan: Progress) -> bool:
    """True once a coat of the plan is on, be it in part."""
    film = [s for s in plan.states if STEPS[s.step.kind].leaves_film and not s.step.left_out]
    return any(s.done or s.coats_done or s.share for s in film)


def _rank(kind: str) -> int:
    return next((i for i, kinds in enumerate(_ORDER) if kind in kinds), len(_ORDER))
