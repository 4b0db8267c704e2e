"""Rules about the last colour: mid-coats by the chosen number, full coverage by a lamp. Common practice, no source."""

from collections.abc import Iterator

from ..surface.names import COLOUR, StepKind
from .face import Tense
from .registry import Aspect, Said, rule
from .seen import Case

COLOURED = COLOUR - {StepKind.CLEAR}
"""Steps that give the colour."""


def _coats(count: int) -> str:
    return "1 mid-coat" if count == 1 else f"{count} mid-coats"


@rule(
    "mids-chosen",
    Aspect.COLOUR,
    "stops",
    "The number of mid-coats is the colour",
    kinds={StepKind.MID, StepKind.CLEAR},
    fix="mids",
)
def _mids_chosen(c: Case) -> Iterator[Said]:
    chosen = c.face.chosen_mids
    if chosen is None or c.act.tense != Tense.NOW:
        return
    there = c.face.mids_on
    if c.act.kind == StepKind.MID and there + 1 > chosen:
        yield Said(f"{_coats(there)} on it and {chosen} chosen: one more is another colour.")
    elif c.act.kind == StepKind.CLEAR and there > chosen:
        yield Said(f"{_coats(there)} on it, {chosen} chosen: ground it again, or choose anew for all.")
    elif c.act.kind == StepKind.CLEAR and there < chosen:
        yield Said(f"{_coats(there)} on it, {chosen} chosen: the rest first, then clear.")
    elif c.act.kind == StepKind.CLEAR and c.face.too_many:
        found = ", ".join(f"{count} on {name}" for name, count in c.face.too_many)
        yield Said(f"{found}, {chosen} chosen: settle that before clear is on any face of the group.")


@rule(
    "lights-off", Aspect.COLOUR, "advises", "Full coverage is looked at with a lamp", kinds={StepKind.MID}, fix="lights"
)
def _lights_off(c: Case) -> Iterator[Said]:
    if c.act.tense == Tense.NOW and not c.face.mids_on and c.face.seen_lit is None and c.face.show:
        yield Said("Lights off first: a lamp along edges and undersides shows what daylight hides, mid-coats do not.")


@rule(
    "undertone-other",
    Aspect.COLOUR,
    "warns",
    "The undertone that was chosen, under all of a group",
    kinds=COLOURED,
    fix="seal",
)
def _undertone_other(c: Case) -> Iterator[Said]:
    wanted, sheet = c.face.told_undertone, c.act.sheet
    if not wanted or sheet is None or not sheet.translucent or c.face.mids_on or c.act.tense == Tense.WAS:
        return
    other = [name for name in c.face.tops if name not in {wanted, c.act.product}]
    if other:
        yield Said(f"Under it lies {' and '.join(other)}, {wanted} was chosen: the shade would differ from the others.")


@rule(
    "bleeding-last",
    Aspect.COLOUR,
    "warns",
    "A bleeding colour goes on last",
    kinds=COLOURED,
    fix="turn",
)
def _bleeding_last(c: Case) -> Iterator[Said]:
    sheet = c.act.sheet
    if sheet is None or not sheet.bleeding or c.act.tense == Tense.WAS:
        return
    if c.act.in_plan and c.act.later(*COLOURED - {c.act.kind}):
        yield Said(f"{c.act.name} bleeds, and another colour comes over it: it goes on last, only clear over it.")
    if c.act.tense == Tense.NOW and c.face.colours_beside:
        which = ", ".join(f"{product} on {name}" for name, product in c.face.colours_beside)
        yield Said(f"{c.act.name} bleeds: {which} comes first, this one last of all.", about="beside")


@rule("press-out", Aspect.UNDER, "warns", "Dents in sound paint are pressed out", kinds={StepKind.FILL}, fix="product")
def _press_out(c: Case) -> Iterator[Said]:
    if c.face.substrate == "old film" and any(g.what == "old film" for g in c.face.grounds):
        yield Said("Sound paint lies there: press the dent out from behind, or the filler has to be painted over.")
