"""Rules about masks: what is covered, how long its tape bears, what overspray reaches. Common practice, no source."""

from collections.abc import Iterator

from ..surface.names import COLOUR, StepKind
from ..words import lasting
from .face import COATS, SANDS, Tense
from .registry import Aspect, Said, rule
from .seen import Case


@rule("covered", Aspect.ACCESS, "stops", "What is masked whole is not coated", kinds=COATS, fix="unmask")
def _covered(c: Case) -> Iterator[Said]:
    if c.face.covered_whole:
        yield Said("It is masked whole, against overspray: take the mask off first.")


@rule("tape-late", Aspect.ACCESS, "warns", "No mask longer than its tape bears", kinds=COATS | SANDS, fix="unmask")
def _tape_late(c: Case) -> Iterator[Said]:
    if c.act.tense == Tense.NOW and c.face.tape_late_h > 0:
        yield Said(
            f"Its tape is spent since {lasting(60 * c.face.tape_late_h)}: glue stays on, or it lifts paint. Warm it, "
            "pull slowly, wipe, mask anew."
        )


@rule("overspray", Aspect.ACCESS, "advises", "What overspray reaches is covered", kinds=COATS, fix="mask-beside")
def _overspray(c: Case) -> Iterator[Said]:
    if c.act.tense != Tense.NOW or not c.act.flies:
        return
    for for_good in (True, False):
        found = [f"{name} ({why})" for name, why, good in c.face.open_beside if good is for_good]
        if found:
            yield Said(
                f"Open to its overspray: {'; '.join(found)}. Mask it, or spray it elsewhere.",
                "warns" if for_good else "",
                about="for good" if for_good else "",
            )


@rule("inside-colour", Aspect.ACCESS, "advises", "Inside before outside", kinds=COLOUR, fix="mask-beside")
def _inside_first(c: Case) -> Iterator[Said]:
    if c.act.tense == Tense.NOW and c.act.flies and c.face.show and c.face.inside_due:
        yield Said(
            f"Inside first: {', '.join(c.face.inside_due)} has its colour still to come, its overspray falls on this."
        )


@rule("mask-dust", Aspect.CLEAN, "advises", "Paper where colour goes", kinds=COLOUR | {StepKind.TEXTURE}, fix="mask")
def _mask_dust(c: Case) -> Iterator[Said]:
    if c.act.tense == Tense.NOW and c.act.flies and c.face.dusty_masks:
        yield Said(
            f"Plastic film is on {', '.join(c.face.dusty_masks)}: dust falls off it into wet colour. Paper here."
        )
