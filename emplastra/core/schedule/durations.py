"""How long hands are at a step, before this workshop's own overrun.

Minutes: common practice, no source, but for those of stripping (metal.strip).
"""

from dataclasses import dataclass

from ..metal.strip import KEY_MIN
from ..product.film import METHODS
from ..surface.names import StepKind
from ..surface.plan import PlanStep
from ..surface.steps import STEPS
from .work import Act

SET_UP_MIN = 10.0
"""Gathering and clearing for any step [min]."""
MIX_MIN = 10.0
"""Mixing a pot [min]."""
GUN_MIN = 10.0
"""Cleaning a gun [min]."""
PER_M2 = {
    StepKind.SURVEY: 15.0, StepKind.UNCOVER: 12.0, StepKind.STRIP: 60.0, StepKind.CLEAN: 8.0, StepKind.DEGREASE: 3.0,
    StepKind.ABRADE: KEY_MIN, StepKind.BLOCK: 25.0, StepKind.ACID_PREP: 4.0, StepKind.RINSE: 3.0, StepKind.DRY: 3.0,
    StepKind.GUIDE_COAT: 2.0, StepKind.INK_OFF: 3.0, StepKind.MASK: 12.0, StepKind.POLISH: 40.0, StepKind.INSPECT: 4.0,
    StepKind.FILL: 30.0, StepKind.SEAM_SEAL: 12.0, StepKind.SOLDER: 60.0, StepKind.WAX: 8.0,
}  # fmt: skip
"""Minutes a square metre [min/m2]."""
COAT_PER_M2 = {"brush": 14.0, "roller": 8.0}
"""Minutes a square metre for a coat by brush or roller; a gun takes the time below [min/m2]."""
SPRAY_MIN_PER_M2 = 6.0
"""Time to put on a coat by a gun [min/m2]."""
WHOLE = {
    StepKind.REPAIR: 120.0, StepKind.WELD: 60.0, StepKind.TRIAL_FIT: 45.0, StepKind.CLOSE: 30.0,
    StepKind.FORCE_DRY: 15.0, StepKind.CONTRACTOR: 30.0,
}  # fmt: skip
"""Minutes of steps that go by no area [min]."""
CONTRACTOR_DAYS = 3.0
"""How long a piece is away at a contractor where nobody told [d]."""
WORK_OF = {
    StepKind.STRIP: "strip", StepKind.REPAIR: "repair", StepKind.WELD: "repair", StepKind.TRIAL_FIT: "access",
    StepKind.CLOSE: "access", StepKind.ABRADE: "key", StepKind.DEGREASE: "key", StepKind.INK_OFF: "key",
    StepKind.CLEAN: "treat", StepKind.ACID_PREP: "treat", StepKind.RINSE: "treat", StepKind.DRY: "treat",
    StepKind.CONVERT: "treat", StepKind.PRIME: "prime", StepKind.STRIPE: "prime", StepKind.ENCAPSULATE: "prime",
    StepKind.SEAL: "prime", StepKind.FILL: "fill", StepKind.BLOCK: "fill", StepKind.SURFACE: "fill",
    StepKind.GUIDE_COAT: "fill", StepKind.SOLDER: "solder", StepKind.FORCE_DRY: "heat", StepKind.BASE: "colour",
    StepKind.MID: "colour", StepKind.CLEAR: "colour", StepKind.SINGLE_STAGE: "colour", StepKind.POLISH: "colour",
}  # fmt: skip
"""Under which kind of work the hours of a step are told (metal.repair.WORK); others are taken as planned."""


@dataclass(frozen=True)
class Lasts:
    """How long hands are at an act: as planned and with the workshop's overrun [min]."""

    plan_min: float
    overrun: float = 1.0

    @property
    def seconds(self) -> float:
        """With the overrun [s]."""
        return 60.0 * self.plan_min * self.overrun


def minutes(step: PlanStep, area_m2: float, strip_h: float | None = None) -> float:
    """Hands at a step, or at one coat of it, over an area [min, m2], before any overrun; strip_h: hours that baring
    takes by its way [h], where they are known.
    """
    if step.kind == StepKind.STRIP and strip_h is not None:
        return SET_UP_MIN + 60.0 * strip_h
    if step.kind in WHOLE:
        return WHOLE[StepKind(step.kind)]
    if STEPS[step.kind].leaves_film and step.kind not in PER_M2:
        by_gun = is_sprayed(step)
        per_m2 = SPRAY_MIN_PER_M2 if by_gun else COAT_PER_M2.get(step.method, 10.0)
        return MIX_MIN + (GUN_MIN if by_gun else 0.0) + per_m2 * area_m2
    return SET_UP_MIN + PER_M2.get(StepKind(step.kind), 5.0) * area_m2


def kind_of(act: Act) -> str:
    """Under which kind of work the hours of an act are told, "" under none; those of access by their own."""
    return WORK_OF.get(StepKind(act.kind), "") if act.step else "access"


def is_sprayed(step: PlanStep) -> bool:
    """True for a coat by a gun."""
    is_coat = STEPS[step.kind].leaves_film and step.kind not in PER_M2
    return is_coat and step.method in METHODS and METHODS[step.method].is_sprayed


def is_dusty(step: PlanStep) -> bool:
    """True for dry work that makes dust."""
    return step.kind in {StepKind.ABRADE, StepKind.BLOCK, StepKind.STRIP}
