"""Hiding by Kubelka and Munk: what a film reflects over a backing, and how thick it hides.

R = (1 − Rg(a − b·coth bSX)) / (a − Rg + b·coth bSX), a = 1 + K/S, b = √(a² − 1); its limit where K is 0. Kubelka 1948.
"""

import math
from dataclasses import dataclass
from functools import cached_property

from ..working import Basis
from .lab import Light, luminance

BLACK, WHITE = 0.0, 0.80
"""Luminance factors of a contrast card. ISO 6504-3: white about 0.80, from memory."""
HIDDEN = 0.98
"""Contrast ratio from which on it hides in full. ISO 6504-3, from memory."""
K1, K2 = 0.04, 0.60
"""What gloss sends back outside and inside. Saunderson 1942, from memory; gloss left out of the measurement."""
DARKEST, LIGHTEST = 0.002, 0.97
SX_MOST = 200.0


def reflectance(ks_ratio: float, sx: float, backing: float) -> float:
    """What a film reflects [0..1] that scatters S·X in all, over a backing [0..1]. Raises ValueError below 0."""
    if ks_ratio < 0 or sx < 0:
        raise ValueError("K/S and S·X must be at least 0")
    a = 1.0 + ks_ratio
    b = math.sqrt(a * a - 1.0)
    if b * sx < 1e-6:
        left = sx * (1.0 - backing) if b < 1e-6 else 0.0
        return (backing + left) / (1.0 + left)
    coth = 1.0 / math.tanh(min(b * sx, 350.0))
    return (1.0 - backing * (a - b * coth)) / (a - backing + b * coth)


def contrast(ks_ratio: float, sx: float, black: float = BLACK, white: float = WHITE) -> float:
    """Reflectance over black by that over white [0..1]."""
    return reflectance(ks_ratio, sx, black) / reflectance(ks_ratio, sx, white)


def hiding_sx(ks_ratio: float, ratio: float = HIDDEN, black: float = BLACK, white: float = WHITE) -> float:
    """The S·X at which the contrast reaches a ratio below 1."""
    low, high = 0.0, SX_MOST
    for _ in range(80):
        middle = (low + high) / 2
        low, high = (middle, high) if contrast(ks_ratio, middle, black, white) < ratio else (low, middle)
    return (low + high) / 2


def inverse(over_black: float, over_white: float, white: float = WHITE) -> tuple[float, float]:
    """(K/S, S·X) of a film from its reflectance over black 0 and over white.

    Raises ValueError where no film can reflect so: over black must be above 0 and below that over white.
    """
    if not 0.0 < over_black < over_white < 1.0:
        raise ValueError("over black must be above 0 and below that over white, and that below 1")
    a = 0.5 * (over_white + (over_black - over_white + white) / (over_black * white))
    if a <= 1.0:
        raise ValueError("no film reflects so: measure again, over a card that is black and white")
    b = math.sqrt(a * a - 1.0)
    x = b * over_black / (1.0 - a * over_black)
    if not 0.0 < x < 1.0:
        raise ValueError("no film reflects so: measure again, over a card that is black and white")
    return a - 1.0, math.atanh(x) / b


def ks_ratio(full: float) -> float:
    """K/S of a paint by its reflectance at full depth (0..1)."""
    return (1.0 - full) ** 2 / (2.0 * full)


def inside(outer: float) -> float:
    """Reflectance under the gloss, of one measured without it. Saunderson 1942."""
    return outer / ((1.0 - K1) * (1.0 - K2) + K2 * outer)


def outside(inner: float) -> float:
    """What is measured of a reflectance under the gloss."""
    return (1.0 - K1) * (1.0 - K2) * inner / (1.0 - K2 * inner)


def _cut(light: Light) -> Light:
    return tuple(min(LIGHTEST, max(DARKEST, x)) for x in light)  # type: ignore[return-value]


@dataclass(frozen=True)
class Paint:
    """A paint in three bands: its K/S in each, and S of a µm, the same in all three; basis: of these figures.

    An estimate: three broad bands for a spectrum, flakes that lie as they lie.
    """

    name: str
    ks_ratio: tuple[float, float, float]
    s_per_um: float
    basis: Basis = Basis.ESTIMATED

    def over(self, backing: Light, film_um: float) -> Light:
        """What it reflects in a dry film [µm] over a backing."""
        sx = self.s_per_um * film_um
        bands = zip(self.ks_ratio, _cut(backing), strict=True)
        return tuple(outside(reflectance(ks, sx, inside(under))) for ks, under in bands)  # type: ignore[return-value]

    @cached_property
    def full(self) -> Light:
        """What it reflects at full depth."""
        depths = (1.0 + ks - math.sqrt(ks * ks + 2.0 * ks) for ks in self.ks_ratio)
        return tuple(outside(depth) for depth in depths)  # type: ignore[return-value]

    def hidden(self, backing: Light, film_um: float) -> float:
        """How far a film [µm] hides what is under it: its luminance beside that of its full depth [0..1]."""
        return alike(self.over(backing, film_um), self.full)

    def card(self, film_um: float) -> float:
        """Its contrast over a card of black and white in a dry film [µm]."""
        black, white = (self.over((y, y, y), film_um) for y in (BLACK, WHITE))
        return luminance(black) / luminance(white)


def alike(one: Light, other: Light) -> float:
    """The lesser luminance by the greater [0..1]."""
    low, high = sorted((luminance(one), luminance(other)))
    return low / high if high > 0 else 1.0


def paint_of(name: str, full: Light, ratio: float, at_um: float) -> Paint:
    """A paint by its colour at full depth and its contrast ratio in a dry film [µm].

    Raises ValueError for a ratio outside 0..1, or one that no film of that colour reaches.
    """
    if not 0.0 < ratio < 1.0 or at_um <= 0:
        raise ValueError("a contrast is above 0 and below 1, its film above 0")
    ks = tuple(ks_ratio(inside(x)) for x in _cut(full))
    low, high = 1e-6, 10.0
    for _ in range(80):
        middle = math.sqrt(low * high)
        paint = Paint(name, ks, middle)  # type: ignore[arg-type]
        low, high = (middle, high) if paint.card(at_um) < ratio else (low, middle)
    if high > 9.0 or low < 1e-5:
        raise ValueError("no film of that colour has such a contrast")
    return Paint(name, ks, math.sqrt(low * high), Basis.SHEET)  # type: ignore[arg-type]


def coats_to_hide(paint: Paint, backings: tuple[Light, ...], coat_um: float, most: int = 12) -> int | None:
    """How many coats of a film [µm] hide all these backings in full; None if not within `most`."""
    return next((n for n in range(1, most + 1) if all(paint.hidden(b, n * coat_um) >= HIDDEN for b in backings)), None)
