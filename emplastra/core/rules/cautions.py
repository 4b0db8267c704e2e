"""Cautions that an act owes by what is there: dust of what lies on it, fumes of what it is made of, what is put on.

Common practice, no source; data sheets, local codes and licensed practice come first.
"""

from collections.abc import Iterator

from ..metal import harm
from ..metal.strip import WAYS, WayKind
from ..product.kinds import ProductKind
from ..surface.names import StepKind
from ..surface.steps import CAUTIONS, RAISED, STEPS
from .face import COATS, SANDS, Act, Face, suspected

DUST = "Dust: P2 mask, eyes, extraction."
HARMS = "Dust of {}: P3 mask, HEPA extraction, wet clean-up, wash before you eat; its waste apart."
MAY_HARM = "Its dust may hold {}, until a test says no: P3 mask, HEPA extraction, wet clean-up."
TWO_PACK = "Dust of two-pack paint: P3 mask, extraction; not before it is hard."
ZINC = "Zinc fume: extract it, stay out of the plume; it gives fever."
FIRE = "Fire: clear what burns, extinguisher at hand, watch for an hour after. Shield eyes and skin."
RAGS = "Oily rags heat up by themselves: into a closed metal bin."
RAG_KINDS = frozenset({ProductKind.ENAMEL, ProductKind.CAVITY_WAX, ProductKind.UNDERBODY_COAT})
ZINC_KINDS = frozenset({ProductKind.ZINC_RICH_PRIMER, ProductKind.WELD_THROUGH_PRIMER})


def owed(act: Act, face: Face) -> tuple[str, ...]:
    """The cautions of an act on a face, each once, in the order of the work."""
    found = list(_of_place(face))
    if act.kind == StepKind.STRIP:
        found += _strip(act, face)
    elif act.kind in SANDS:
        found += _dust(face)
    elif act.kind == StepKind.WELD:
        found += _weld(face)
    elif act.kind in COATS:
        found += _coat(act)
    else:
        found += [CAUTIONS[h] for h in act.sheet.hazards] if act.sheet else STEPS[act.kind].cautions
    return tuple(dict.fromkeys(found))


def _of_place(face: Face) -> Iterator[str]:
    if face.finish == "below":
        yield RAISED


def _strip(act: Act, face: Face) -> Iterator[str]:
    way = WAYS.get(act.way)
    if way is None or way.kind not in {WayKind.CHEMICAL, WayKind.DIP}:
        yield from _dust(face)
    if way is not None:
        yield from (words for words in way.cautions if not words.startswith("Dust"))


def _dust(face: Face) -> Iterator[str]:
    """What the dust of what lies on it is."""
    held = _held(face)
    for words, known in ((HARMS, True), (MAY_HARM, False)):
        names = [name for name in harm.ORDER if held.get(name) is known]
        if names:
            yield words.format(" and ".join(names))
    if any(layer.sheet is not None and "isocyanate" in layer.sheet.hazards for layer in face.surface.layers):
        yield TWO_PACK
    elif not held:
        yield DUST


def _held(face: Face) -> dict[str, bool]:
    """{what its dust holds or may hold that harms: whether it is known}."""
    held = face.harm if face.as_found else harm.held_by((), face.choice("toxic"))
    suspect = "" if held else suspected(face)
    return {suspect: False} if suspect else held


def _weld(face: Face) -> Iterator[str]:
    yield FIRE
    kinds = {layer.sheet.kind for layer in face.surface.layers if layer.sheet}
    if face.substrate == "zinc" or kinds & ZINC_KINDS:
        yield ZINC
    if face.harm:
        yield "Old paint burns to fume that harms: strip it off first, wider than the heat goes."


def _coat(act: Act) -> Iterator[str]:
    yield from (CAUTIONS[hazard] for hazard in (act.sheet.hazards if act.sheet else ()))
    if act.product_kind in RAG_KINDS:
        yield RAGS
    elif not act.sheet:
        yield from STEPS[act.kind].cautions
