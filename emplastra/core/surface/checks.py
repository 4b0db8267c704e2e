"""Which checks what lies on a surface can answer."""

from collections.abc import Iterable

from ..product.film import BY_AIR
from ..product.kinds import ProductKind
from .events import CHECKS
from .fold import Surface
from .names import Runs, Status

COLOURS = frozenset({ProductKind.BASE_COAT, ProductKind.MID_COAT, ProductKind.SINGLE_STAGE, ProductKind.CLEAR_COAT})


def answerable(surface: Surface, coming: str = "", wanted: Iterable[str] = ()) -> list[str]:
    """Keys of CHECKS that a surface can answer now, in their order. Common practice, no source.

    coming: the method of the coat that comes next, "" for none; wanted: those that somebody waits for.
    """
    return [key for key in CHECKS if key in wanted or _answers(key, surface, coming)]


def _answers(key: str, surface: Surface, coming: str) -> bool:
    if key == "lights-off":
        return surface.top is not None and surface.top.sheet is not None and surface.top.sheet.kind in COLOURS
    if key == "air-line":
        return coming in BY_AIR
    if key == "kept-dry":
        return bool(surface.bare) or surface.top is not None
    if key == "gloss-gone":
        flash = surface.clock(Runs.FLASH)
        return flash is not None and flash.status == Status.WAITING
    return any(surface.clock(kind) is not None for kind in CHECKS[key].clocks)
