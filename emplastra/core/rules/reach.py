"""Rules about what can be reached: trial fits, what is closed, what nobody saw, what is shut off bare."""

from collections.abc import Iterator

from ..surface.names import StepKind
from .face import CAVITIES, COATS, Tense
from .registry import Aspect, Said, rule
from .seen import Case

COVERS = COATS | {StepKind.CLOSE}


@rule("trial-fit", Aspect.ACCESS, "warns", "A trial fit must come off again", kinds=COVERS, fix="take-off")
def _trial_fit(c: Case) -> Iterator[Said]:
    if c.face.trial_fit:
        raw = not c.face.coated or c.face.bare_share > 0
        yield Said(
            "Hung on raw for its gaps: a trial fit. It must come off, be coated behind, and go on once."
            if raw
            else "On a trial fit: it must come off again.",
            "stops" if c.act.kind == StepKind.CLOSE or (raw and c.act.kind == StepKind.FILL) else "",
        )


def _bare_inside(c: Case) -> bool:
    """True where metal that is to be coated is bare."""
    return c.face.end_state == "coated" and (c.face.bare_share > 0.001 or not c.face.coated)


@rule("closed", Aspect.ACCESS, "stops", "What is closed up cannot be worked on", kinds=COATS, fix="open")
def _closed(c: Case) -> Iterator[Said]:
    if not c.face.closed or (c.act.raw.kind == StepKind.WAX and c.face.part in CAVITIES):
        return  # waxed by a lance once it is closed
    yield Said(
        "It was closed up bare: open it and coat it, or wax it by lance and record it as bare."
        if _bare_inside(c)
        else "It is closed up: open it first."
    )


@rule(
    "access-first",
    Aspect.ACCESS,
    "warns",
    "What the plan of access has before it is done first",
    kinds=COVERS,
    fix="access",
)
def _access_first(c: Case) -> Iterator[Said]:
    waiting = c.face.pending
    if waiting and c.act.tense == Tense.NOW:
        yield Said(f"{'; '.join(waiting)}: the plan of access has it before this step, and it is not done.")


@rule("not-seen", Aspect.ACCESS, "warns", "Not seen is not sound", kinds={StepKind.CLOSE}, fix="look")
def _not_seen(c: Case) -> Iterator[Said]:
    if c.face.unseen > 0.05:
        yield Said(f"{c.face.unseen:.0%} of it was never seen: not seen is not sound.")


@rule(
    "hidden-bare",
    Aspect.ACCESS,
    "stops",
    "A face out of reach is coated before it is closed",
    kinds={StepKind.CLOSE},
    fix="coat",
)
def _hidden(c: Case) -> Iterator[Said]:
    if _bare_inside(c):
        yield Said("Bare, and about to be out of reach: coat it first, or record that it stays bare.")
