"""A plan with one thing changed: what would be if. What is done stays as it is."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from ..product.film import METHODS
from ..product.sheet import Sheet
from .plan import PlanStep
from .ready import with_sheet
from .steps import STEPS


class Swap(StrEnum):
    """What is changed."""

    NOTHING = ""
    PRODUCT = "product"
    METHOD = "method"
    COATS = "coats"
    SYSTEM = "system"
    SCHOOL = "school"


@dataclass(frozen=True)
class Change:
    """One change: of what (a product, a question of the schools), and to what (a product, method, number, answer)."""

    what: Swap = Swap.NOTHING
    of: str = ""
    to: str = ""


def changed(
    steps: Sequence[PlanStep], change: Change, sheets: Mapping[str, Sheet], done: Collection[str] = ()
) -> tuple[PlanStep, ...]:
    """The steps with a change; sheets: by product name; done: ids of steps that are done, which stay as they are.

    A product brings the film and thinner of its own sheet along; a method is taken where the sheet has it.
    """
    return tuple(step if step.id in done else _step(step, change, sheets) for step in steps)


def _step(step: PlanStep, change: Change, sheets: Mapping[str, Sheet]) -> PlanStep:
    if change.what == Swap.PRODUCT and step.product == change.of:
        return with_product(step, change.to, sheets.get(change.to))
    if change.what == Swap.METHOD and STEPS[step.kind].leaves_film:
        return with_method(step, change.to, sheets.get(step.product))
    if change.what == Swap.COATS and step.product == change.of and change.to.isdecimal():
        return replace(step, coats=max(1, min(20, int(change.to))))
    return step


def with_product(step: PlanStep, product: str, sheet: Sheet | None) -> PlanStep:
    """A step with another product, in as many coats, with the film, method and thinner of its sheet."""
    made = replace(step, product=product)
    if not STEPS[step.kind].leaves_film or sheet is None:
        return made
    return replace(made, **with_sheet({"coats": step.coats, "method": step.method}, sheet))


def with_method(step: PlanStep, method: str, sheet: Sheet | None) -> PlanStep:
    """A step by another method with the thinner that its sheet names for it; as it is where its sheet has it not."""
    if method not in METHODS or sheet is None or (sheet.methods and method not in sheet.methods):
        return step
    return replace(step, method=method, thinner_pct=sheet.thinner_pct.get(method) or 0.0)
