"""A panel beside the new paint, to scale across: colour thinning to its end, clear to its break, the rest polished."""

from dataclasses import dataclass

NEW, WIDE, HIGH = 70.0, 420.0, 56.0
FADES = 6


@dataclass(frozen=True)
class DrawnStop:
    """The panel from the joint to its far end: slices of fading colour (x, width, share), where both films end."""

    slices: list
    clear_x: float
    colour_x: float
    new: float = NEW
    width: float = WIDE
    height: float = HIGH

    @property
    def cleared(self):
        """How far the clear reaches."""
        return self.clear_x - NEW

    @property
    def whole(self):
        """Width of the picture."""
        return NEW + WIDE


def drawn(pair, stop):
    """One way to stop on a panel (Pair)."""
    per = WIDE / pair.panel.width_mm
    reach = stop.colour_mm * per
    slices = [(NEW + k * reach / FADES, reach / FADES, 1.0 - (k + 0.5) / FADES) for k in range(FADES)] if reach else []
    rounded = [(f"{x:.1f}", f"{w:.1f}", f"{share:.2f}") for x, w, share in slices]
    return DrawnStop(rounded, NEW + stop.clear_mm * per, NEW + reach)
