"""How long a list of coats has to wait in all, at one temperature: an estimate for comparing plans, no clock.

Each coat waits until the next may follow by its own sheet; what is sanded waits until it can be. Two waits of one coat
run together, so the longer counts.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..product.sheet import Sheet
from ..product.tables import TimeTable
from ..words import celsius_q
from ..working import Unknown
from .clocks import thicker
from .plan import PlanStep
from .steps import STEPS

USUAL_RH = 55.0
"""Humidity where a sheet asks for one [%]. Ours, no source."""


@dataclass(frozen=True)
class Wait:
    """What a layer waits [min] for all its coats; missing: what its sheet does not tell, counted as nothing."""

    step: PlanStep
    minutes: float
    missing: tuple[str, ...] = ()


@dataclass(frozen=True)
class Waits:
    """Waits of all layers in order, at a temperature [°C]."""

    temp_c: float
    each: tuple[Wait, ...]

    @property
    def minutes(self) -> float:
        """All of them one after another [min]."""
        return sum(wait.minutes for wait in self.each)

    @property
    def missing(self) -> tuple[str, ...]:
        """What no sheet tells; the sum is then at least that long."""
        return tuple(dict.fromkeys(said for wait in self.each for said in wait.missing))


def waits_of(
    steps: Sequence[PlanStep], sheets: Mapping[str, Sheet], temp_c: float, done: Mapping[str, int] | None = None
) -> Waits:
    """What the coats of a plan wait at a temperature [°C].

    sheets: by product name; done: {id of a step: its coats that are on}.
    """
    kept, on = [step for step in steps if not step.left_out], done or {}
    found = []
    for i, step in enumerate(kept):
        left = step.coats - on.get(step.id, 0)
        if STEPS[step.kind].leaves_film and left > 0:
            found.append(_wait(step, left, kept[i + 1 :], sheets, temp_c))
    return Waits(temp_c, tuple(found))


def _wait(step: PlanStep, left: int, after: Sequence[PlanStep], sheets: Mapping[str, Sheet], temp_c: float) -> Wait:
    sheet = sheets.get(step.product)
    if sheet is None:
        return Wait(step, 0.0, (f"the data sheet of {step.product or STEPS[step.kind].name.lower()}",))
    longer, missing, total = thicker(step.dft_um, sheet.aim_um), list[str](), 0.0
    if left > 1:
        total += (left - 1) * longer * _opens(sheet, step.product, sheet.kind, temp_c, missing)
    then = next((s for s in after if STEPS[s.kind].leaves_film), None)
    if then is not None:
        over = sheets.get(then.product)
        until = _opens(sheet, then.product, over.kind if over else "", temp_c, missing)
        between = after[: after.index(then)]
        if any(STEPS[s.kind].entry == "keyed" for s in between) and "sandable" in sheet.times:
            until = max(until, _minutes(sheet.times["sandable"], temp_c, sheet, missing))
        total += longer * until
    return Wait(step, total, tuple(missing))


def _opens(sheet: Sheet, product: str, kind: str, temp_c: float, missing: list[str]) -> float:
    """From when the next coat may follow [min] at a temperature [°C]."""
    window = sheet.window_for(product, kind)
    if window is None or isinstance(window.opens, Unknown):
        missing.append(f"when {product or kind or 'the next'} may follow {sheet.product}")
        return 0.0
    return _minutes(window.opens, temp_c, sheet, missing)


def _minutes(table: TimeTable, temp_c: float, sheet: Sheet, missing: list[str]) -> float:
    """A minimum [min] at a temperature [°C]; where it stands still that is missing."""
    found = table.minutes_at(temp_c, USUAL_RH)
    if found is None:
        missing.append(f"{sheet.product} stands still at {celsius_q(temp_c, digits=0)}")
    return found or 0.0
