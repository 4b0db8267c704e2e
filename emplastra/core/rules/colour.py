"""Rules about the last colour: mid-coats by the chosen number, full coverage by a lamp. Common practice, no source."""

from collections.abc import Iterator

from ..surface.names import StepKind
from .face import Tense
from .registry import Aspect, Said, rule
from .seen import Case


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
