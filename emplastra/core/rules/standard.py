"""What the finish class of a face and the standard of its job make of a system: levelled or not, grit, coats, polish.

Protection is the same in every class, appearance is not. What they take out is left out with its reason, so that it can
be put back. Common practice, no source.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace

from ..product.abrasives import UNDER, grain_um
from ..product.kinds import ProductKind
from ..product.sheet import Sheet
from ..surface.names import StepKind
from ..surface.plan import PlanStep
from ..surface.steps import STEPS

FINISHES = {"show": "to be seen", "open": "seen when open", "below": "seen from below", "covered": "covered"}
STANDARDS = {"drive": "drive it", "show": "show it", "factory": "true to factory", "preserve": "just preserve"}
_LEVELLING = frozenset(
    {
        StepKind.FILL,
        StepKind.SURFACE,
        StepKind.BLOCK,
        StepKind.ABRADE,
        StepKind.DEGREASE,
        StepKind.GUIDE_COAT,
        StepKind.INK_OFF,
    }
)
_COLOUR = frozenset({StepKind.BASE, StepKind.SINGLE_STAGE, StepKind.SEAL, StepKind.MID})
_BEARS = frozenset({ProductKind.EPOXY_PRIMER, ProductKind.EPOXY_MASTIC})
_POLISHED = frozenset({StepKind.CLEAR, StepKind.SINGLE_STAGE})
_FLATTENS = frozenset({StepKind.BLOCK, StepKind.ABRADE})


@dataclass(frozen=True)
class Wanted:
    """What a finish class and a standard want: levelled; welds as they are to be left; the grit under colour ("": as
    the system has it); coats of surfacer more or less than the system has; polished at the end; why, in words.
    """

    levelled: bool
    welds: str
    grit: str
    more_coats: int
    polished: bool
    why: str


def wanted(finish: str, standard: str) -> Wanted:
    """What a finish class (show, open, below, covered) wants under a standard (drive, show, factory, preserve)."""
    seen, best = finish in {"show", "open"}, standard == "show"
    kept = standard == "preserve"
    welds = "ground flush, looked through for pinholes" if seen and not kept else "left as they are, pinholes shut"
    return Wanted(
        levelled=seen and not kept,
        welds=welds,
        grit="P600" if finish == "show" and best else "",
        more_coats=(1 if best and finish == "show" else -1 if finish == "open" and standard == "drive" else 0),
        polished=best and finish == "show",
        why=f"{FINISHES[finish]}, {STANDARDS[standard]}",
    )


@dataclass(frozen=True)
class Adapted:
    """A system's steps as a face and its job want them, and what that changed, in sentences."""

    steps: tuple[PlanStep, ...]
    said: tuple[str, ...]


def adapted(steps: Sequence[PlanStep], sheets: Mapping[str, Sheet], finish: str, standard: str) -> Adapted:
    """Steps of a system with the defaults of a finish class and a standard; sheets: by product name."""
    want, found, said = wanted(finish, standard), list(steps), list[str]()
    for change in (_unlevelled, _coats, _grit, _welds, _polish):
        made, words = change(found, sheets, want)
        if words:
            found = made
            said.append(f"{words} ({want.why}).")
    return Adapted(tuple(found), tuple(said))


Change = tuple[list[PlanStep], str]


def _unlevelled(steps: list[PlanStep], sheets: Mapping[str, Sheet], want: Wanted) -> Change:
    """Without what only levels: from the primer to the last sanding before the colour."""
    span = None if want.levelled else _levelling(steps, sheets)
    if span is None:
        return steps, ""
    reason = f"not levelled: {want.why}"
    return [replace(s, left_out=reason) if i in span else s for i, s in enumerate(steps)], "Not levelled"


def _levelling(steps: list[PlanStep], sheets: Mapping[str, Sheet]) -> range | None:
    """Places of the steps that only level, None if there are none or something has to lie between."""
    colour = next((i for i, s in enumerate(steps) if s.kind in _COLOUR), 0)
    primer = _last(steps[:colour], {StepKind.PRIME})
    last = _last(steps[:colour], _FLATTENS)
    if primer is None or last is None:
        return None
    between, sheet = {s.kind for s in steps[primer + 1 : last]}, sheets.get(steps[primer].product)
    levels = bool(between & {StepKind.FILL, StepKind.SURFACE}) and between <= _LEVELLING
    bears = sheet is not None and sheet.kind in _BEARS
    return range(primer + 1, last) if levels and bears else None


def _last(steps: Sequence[PlanStep], kinds: Collection[str]) -> int | None:
    """Place of the last step of these kinds that is not left out, None if there is none."""
    return max((i for i, s in enumerate(steps) if s.kind in kinds and not s.left_out), default=None)


def _coats(steps: list[PlanStep], sheets: Mapping[str, Sheet], want: Wanted) -> Change:
    """More or fewer coats of the surfacer that is blocked."""
    at = next((i for i, s in enumerate(steps) if s.kind == StepKind.SURFACE and not s.left_out), None)
    if not want.more_coats or at is None:
        return steps, ""
    coats = max(1, steps[at].coats + want.more_coats)
    made = replace(steps[at], coats=coats)
    if made.coats == steps[at].coats or (made.left_um or 0.0) < 0.5 * (made.put_on_um or 0.0):
        return steps, ""
    word = "One coat of surfacer more" if want.more_coats > 0 else "One coat of surfacer fewer"
    return [*steps[:at], made, *steps[at + 1 :]], word


def _grit(steps: list[PlanStep], sheets: Mapping[str, Sheet], want: Wanted) -> Change:
    """The last sanding before the colour finer, where the coat over it takes that."""
    colour = next((i for i, s in enumerate(steps) if s.kind in _COLOUR), None)
    last = _last(steps[: colour or 0], _FLATTENS)
    if not want.grit or colour is None or last is None or not steps[last].grit:
        return steps, ""
    if not _takes(want.grit, steps[last].grit, sheets.get(steps[colour].product)):
        return steps, ""
    made = replace(steps[last], grit=want.grit)
    return [*steps[:last], made, *steps[last + 1 :]], f"{want.grit} under the colour"


def _takes(grit: str, was: str, sheet: Sheet | None) -> bool:
    """True if a grit is finer than what was planned, and not too fine for the coat over it."""
    takes = (sheet.grit or UNDER.get(sheet.kind)) if sheet else None
    return takes is not None and grain_um(takes[1]) <= grain_um(grit) < grain_um(was)


def _welds(steps: list[PlanStep], sheets: Mapping[str, Sheet], want: Wanted) -> Change:
    """How welds are left, where any are planned."""
    ways = [i for i, s in enumerate(steps) if s.kind in {StepKind.WELD, StepKind.REPAIR} and not s.note]
    if not ways:
        return steps, ""
    note = f"welds {want.welds}"
    return [replace(s, note=note) if i in ways else s for i, s in enumerate(steps)], f"Welds {want.welds}"


def _polish(steps: list[PlanStep], sheets: Mapping[str, Sheet], want: Wanted) -> Change:
    """Polished at the end, or not."""
    last = next((s.kind for s in reversed(steps) if STEPS[s.kind].leaves_film and not s.left_out), "")
    has = _last(steps, {StepKind.POLISH})
    if want.polished and has is None and last in _POLISHED:
        return [*steps, PlanStep("polish", StepKind.POLISH)], "Polished at the end"
    if has is not None and not want.polished and not want.levelled:
        gone = replace(steps[has], left_out=f"not polished: {want.why}")
        return [*steps[:has], gone, *steps[has + 1 :]], "Not polished"
    return steps, ""
