"""Colours as CIELAB (D65) and as linear light; how far two differ by CIEDE2000."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import FieldError

Light = tuple[float, float, float]
"""Reflectance in three broad bands, red, green and blue of sRGB, linear [0..1]."""
Y_OF = (0.2126, 0.7152, 0.0722)
"""Luminance of linear sRGB. IEC 61966-2-1, from memory."""
AB_MOST = 128.0


@dataclass(frozen=True)
class Lab:
    """A colour: lightness [0..100], a and b [-128..128], CIELAB under D65."""

    l: float  # noqa: E741 - its name in the standard
    a: float
    b: float

    def check(self, field: str = "lab") -> "Lab":
        """Itself. Raises FieldError naming the figure that cannot be."""
        if not 0.0 <= self.l <= 100.0:
            raise FieldError(field, f"L must be from 0 to 100; it is {self.l:g}")
        for name, value in (("a", self.a), ("b", self.b)):
            if not -AB_MOST <= value <= AB_MOST:
                raise FieldError(field, f"{name} must be from −{AB_MOST:g} to {AB_MOST:g}; it is {value:g}")
        return self

    def toward(self, other: "Lab", share: float) -> "Lab":
        """The colour a share [0..1] of the way to another."""
        return Lab(*(x + share * (y - x) for x, y in zip(self.coordinates, other.coordinates, strict=True)))

    @property
    def coordinates(self) -> tuple[float, float, float]:
        """(L, a, b)."""
        return self.l, self.a, self.b


def difference(one: Lab, other: Lab) -> float:
    """How far two colours differ: CIEDE2000, kL = kC = kH = 1. Sharma, Wu & Dalal 2005."""
    from coloraide import Color  # loaded where it is used first

    first, second = (Color("lab-d65", list(c.coordinates)) for c in (one, other))
    return float(first.delta_e(second, method="2000"))


def lab_of(light: Light) -> Lab:
    """The colour of a surface that reflects so."""
    from coloraide import Color

    return Lab(*(float(x) for x in Color("srgb-linear", list(light)).convert("lab-d65").coords()))


def light_of(lab: Lab) -> Light:
    """What a surface of a colour reflects, cut off at what a screen can show."""
    from coloraide import Color

    made = Color("lab-d65", list(lab.coordinates)).convert("srgb-linear").coords()
    return tuple(min(1.0, max(0.0, float(x))) for x in made)  # type: ignore[return-value]


def light_of_hex(text: str) -> Light:
    """What a surface reflects that is drawn as "#rrggbb"."""
    from coloraide import Color

    return tuple(float(x) for x in Color(text).convert("srgb-linear").coords())  # type: ignore[return-value]


def hex_of(light: Sequence[float]) -> str:
    """How it is drawn: "#rrggbb"."""
    from coloraide import Color

    cut = [min(1.0, max(0.0, x)) for x in light]
    return Color("srgb-linear", cut).convert("srgb").to_string(hex=True, fit=True)


def luminance(light: Light) -> float:
    """Luminance factor Y [0..1]."""
    return sum(k * x for k, x in zip(Y_OF, light, strict=True))
