"""The last films of a face: ground coats over what, mid-coats, clear in sessions; how far the ground hides."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from ..colour.hiding import HIDDEN, Paint, coats_to_hide, paint_of
from ..colour.lab import Light, light_of_hex
from ..product.kinds import ProductKind
from ..product.sheet import Sheet
from ..words import film_q
from ..working import Basis, Given, Line, Working
from .events import Coated, Event, Keyed
from .patches import Layer, Patch

GROUND = ProductKind.BASE_COAT


@dataclass(frozen=True)
class Stack:
    """What of the colour lies on a patch: under (the layer that its ground lies on, None for metal or old film), ground
    coats, mid-coats over them, clear coats. A ground coat over mid-coats begins anew.
    """

    under: Layer | None = None
    ground: tuple[Layer, ...] = ()
    mids: tuple[Layer, ...] = ()
    clear: tuple[Layer, ...] = ()

    @property
    def ground_um(self) -> float:
        """The ground's film in all [µm]."""
        return sum(layer.left_um or 0.0 for layer in self.ground)

    @property
    def mid_um(self) -> float | None:
        """The mean film of a mid-coat [µm], None without one, or where none is told."""
        told = [layer.film.dft_um for layer in self.mids if layer.film.dft_um is not None]
        return sum(told) / len(told) if told else None


def stack_of(layers: Sequence[Layer]) -> Stack:
    """The colour of a patch's layers, from the metal; before any, what its ground will lie on."""
    found, below = Stack(), None
    for layer in layers:
        found = _laid(found, layer, layer.sheet.kind if layer.sheet else "", below)
        below = layer
    return found if found.ground or found.mids or found.clear else Stack(below)


def _laid(on: Stack, layer: Layer, kind: str, below: Layer | None) -> Stack:
    """The colour with one more layer; below: what that lies on. What lies over mid-coats and hides begins anew."""
    if kind == GROUND:
        if on.ground and not on.mids and not on.clear:
            return replace(on, ground=(*on.ground, layer))
        return Stack(below, (layer,))
    if kind == ProductKind.MID_COAT:
        return replace(on if on.ground or on.mids else Stack(below), mids=(*on.mids, layer))
    if kind == ProductKind.CLEAR_COAT:
        return replace(on, clear=(*on.clear, layer))
    return Stack() if kind else on


def mids_on(layers: Sequence[Layer]) -> int:
    """Mid-coats that count: those over the last ground coat."""
    return len(stack_of(layers).mids)


def most_mids(patches: Sequence[Patch]) -> int:
    """Mid-coats that count on a face, where most of them lie."""
    return max((mids_on(p.layers) for p in patches), default=0)


def light_of_layer(layer: Layer | None) -> Light | None:
    """What a layer reflects as its sheet draws it, None where there is none."""
    return light_of_hex(layer.sheet.colour) if layer is not None and layer.sheet is not None else None


def paint_of_sheet(sheet: Sheet) -> Paint | None:
    """A product as a paint that hides, None where its sheet does not tell how far. An estimate."""
    if sheet.hides is None:
        return None
    try:
        return paint_of(sheet.product, light_of_hex(sheet.colour), sheet.hides[0] / 100.0, sheet.hides[1])
    except ValueError:
        return None


@dataclass(frozen=True)
class Hidden:
    """How far a ground hides what lies under it [0..1], with its film so far [µm]; unsaid: why that cannot be said, and
    what would tell; left: coats that are still to go on, full_coats: those that hide all of it from the first on; None
    where it cannot be said.
    """

    share: float | None
    film_um: float
    left: int | None
    full_coats: int | None = None
    unsaid: str = ""
    working: Working | None = None

    @property
    def is_full(self) -> bool:
        """True from the contrast on that counts as hidden."""
        return self.share is not None and self.share >= HIDDEN - 1e-9


def hidden(sheet: Sheet, stacks: Sequence[Stack], coat_um: float | None) -> Hidden:
    """How far a ground of a sheet hides on all patches of a face; coat_um: of a coat to come [µm]."""
    film_um = min((s.ground_um for s in stacks), default=0.0)
    paint, lights = paint_of_sheet(sheet), [light_of_layer(s.under) for s in stacks]
    if paint is None:
        unsaid = f"how far {sheet.product} hides its sheet does not say: {SPRAY_OUT}"
        return Hidden(None, film_um, None, None, unsaid)
    backings = [(light, s.ground_um) for light, s in zip(lights, stacks, strict=True) if light is not None]
    if not backings or len(backings) < len(stacks):
        return Hidden(None, film_um, None, None, "what colour it lies on nobody told: log the layer under it")
    share = min(paint.hidden(light, um) for light, um in backings)
    full = coats_to_hide(paint, tuple(light for light, _ in backings), coat_um) if coat_um else None
    return Hidden(share, film_um, _left(paint, backings, coat_um), full, "", _worked(sheet, paint, film_um, share))


def _worked(sheet: Sheet, paint: Paint, film_um: float, share: float) -> Working:
    """The way to how far a film [µm] hides."""
    contrast_pct, at_um = sheet.hides or (0.0, 0.0)
    return Working(
        "Hidden",
        (
            Given("contrast over black and white", contrast_pct, "%", Basis.SHEET, "its sheet"),
            Given("in a film of", at_um, "µm", Basis.SHEET, "its sheet"),
            Given("film there", round(film_um, 1), "µm", Basis.ESTIMATED, "least of its patches"),
        ),
        (
            Line("S of a µm", "Kubelka–Munk, from these", round(paint.s_per_um, 4), "1/µm"),
            Line("luminance beside full depth", f"over what lies there, {film_q(film_um)} thick", round(share, 3), ""),
            Line("counts as hidden from", "ISO 6504-3, from memory", HIDDEN, ""),
        ),
        "Kubelka 1948, three bands under Saunderson’s gloss: an estimate, a lamp with lights off decides",
    )


SPRAY_OUT = (
    "spray a coat on a black and white card, measure both, and type what is seen over black by that over white, with "
    "its film, on its sheet"
)


def _left(paint: Paint, backings: Sequence[tuple[Light, float]], coat_um: float | None) -> int | None:
    """Coats that are still to go on until all is hidden."""
    if not coat_um:
        return None
    worst = 0
    for light, film_um in backings:
        now = paint.over(light, film_um)
        if paint.hidden(light, film_um) >= HIDDEN:
            continue
        more = coats_to_hide(paint, (now,), coat_um)
        if more is None:
            return None
        worst = max(worst, more)
    return worst


def sessions(events: Sequence[Event]) -> list[int]:
    """Clear coats by session: the number of each, a cut between two beginning the next. Whole coats alone count."""
    return list(_sessions(events))


def _sessions(events: Sequence[Event]) -> Iterator[int]:
    count = 0.0
    for event in sorted(events, key=lambda e: e.turn):
        if isinstance(event, Keyed) and count:
            yield round(count)
            count = 0.0
        elif isinstance(event, Coated) and event.sheet is not None:
            clear = event.sheet.kind == ProductKind.CLEAR_COAT
            if not clear:
                count = 0.0
            count += event.share if clear else 0.0
    if round(count):
        yield round(count)


def undertones(stacks: Sequence[Stack]) -> list[str]:
    """Names of what lies under the translucent films of a face, each once: more than one is no uniform layer."""
    found = [s.ground[-1].product if s.ground else s.under.product if s.under else "" for s in stacks]
    return list(dict.fromkeys(name for name in found if name))
