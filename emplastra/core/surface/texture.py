"""Texture as it was: which steps it takes, what lies over it, how its edge is feathered. Common practice, no source."""

from dataclasses import dataclass

from ..product.kinds import ProductKind
from ..product.sheet import Sheet
from .names import StepKind

KINDS = frozenset({ProductKind.CHIP_COAT, ProductKind.UNDERBODY_COAT, ProductKind.TEXTURED_COATING})


@dataclass(frozen=True)
class TextureStep:
    """A step of texture: its kind, what is to be minded."""

    kind: str
    note: str


def over(sheet: Sheet | None) -> str:
    """What lies over a texture by its sheet: "last", "paint" or "" where nobody told."""
    if sheet is None:
        return ""
    if sheet.final:
        return "last"
    return "paint" if sheet.overpaintable or sheet.kind == ProductKind.CHIP_COAT else ""


OVER = {
    "last": "It stays the last coat by its sheet: nothing is painted over it.",
    "paint": "It is painted over with what stops moisture: texture alone takes up dirt and water.",
    "": "Whether it is painted over its sheet does not tell: ask its maker, or paint a card of it.",
}


def steps(sheet: Sheet | None, old: bool) -> list[TextureStep]:
    """What a texture takes, in order; old: it is blended into texture that stays."""
    found = [TextureStep(StepKind.INSPECT, "a card first: texture beside the recorded one, distance and bursts noted")]
    if old:
        note = "old texture keyed, its edge feathered over a hand’s breadth, loose parts off"
        found.append(TextureStep(StepKind.ABRADE, note))
    found.append(
        TextureStep(StepKind.MASK, "trim fitted and masked before the last passes; paper, a soft line rolled back")
    )
    note = (
        "brushed where finished paint is near"
        if sheet and "brush" in sheet.methods
        else "short bursts coarse, long strokes flat"
    )
    found.append(TextureStep(StepKind.TEXTURE, note))
    return found
