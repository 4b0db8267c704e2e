"""Read what a person types as a quantity, and convert it.

User text is never given to pint: its parser reads "2 mil" as an angle and can be made to hang.
A small grammar reads it; pint only converts between two unit names of ours.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, NoReturn

MAX_CHARACTERS = 40

#: Storage unit of each dimension: every stored number is in this unit.
CORE_UNIT = {
    "length": "mm",
    "film": "µm",
    "area": "m2",
    "volume": "mL",
    "mass": "g",
    "temperature": "°C",
    "pressure": "bar",
    "percent": "%",
    "coverage": "m2/L",
    "use": "mL/m2",
    "speed": "m/s",
    "flow": "mL/min",
}

#: spelling -> (dimension, name known to pint). Film and length share their units.
_SPELLINGS: dict[str, dict[str, tuple[str, ...]]] = {
    "length": {
        "micrometre": ("µm", "μm", "um", "micron", "microns"),
        "thou": ("mil", "mils", "thou"),
        "millimetre": ("mm",),
        "centimetre": ("cm",),
        "metre": ("m",),
        "inch": ("in", "inch", "inches", '"', "″"),
        "foot": ("ft", "feet", "foot", "'", "′"),
    },
    "area": {
        "millimetre**2": ("mm2", "mm²"),
        "centimetre**2": ("cm2", "cm²"),
        "metre**2": ("m2", "m²", "sq m", "sqm"),
        "foot**2": ("sq ft", "sqft", "ft2", "ft²"),
        "inch**2": ("sq in", "in2", "in²"),
    },
    "volume": {
        "millilitre": ("ml", "cc", "cm3"),
        "litre": ("l", "litre", "litres", "liter", "liters"),
        "US_liquid_gallon": ("us gal", "gal us"),
        "imperial_gallon": ("imp gal", "gal imp"),
        "US_liquid_quart": ("us qt", "qt us"),
        "imperial_quart": ("imp qt", "qt imp"),
        "US_pint": ("us pt", "pt us"),
        "imperial_pint": ("imp pt", "pt imp"),
        "US_fluid_ounce": ("fl oz us", "us fl oz"),
        "imperial_fluid_ounce": ("fl oz imp", "imp fl oz"),
    },
    "mass": {"gram": ("g", "gram", "grams"), "kilogram": ("kg",), "pound": ("lb", "lbs")},
    "temperature": {"degC": ("°c", "degc"), "degF": ("°f", "degf")},
    "pressure": {"bar": ("bar",), "kilopascal": ("kpa",), "psi": ("psi",)},
    "percent": {"percent": ("%", "percent")},
    "coverage": {"metre**2/litre": ("m2/l", "m²/l"), "foot**2/US_liquid_gallon": ("sq ft/gal us",)},
    "use": {"millilitre/metre**2": ("ml/m2", "ml/m²"), "US_fluid_ounce/foot**2": ("fl oz us/sq ft",)},
    "speed": {
        "metre/second": ("m/s",),
        "centimetre/second": ("cm/s",),
        "metre/minute": ("m/min",),
        "foot/second": ("ft/s",),
        "inch/second": ("in/s",),
    },
    "flow": {
        "millilitre/minute": ("ml/min",),
        "litre/minute": ("l/min",),
        "US_fluid_ounce/minute": ("fl oz us/min",),
    },
}
_UNIT = {
    spelling: (dimension, name)
    for dimension, names in _SPELLINGS.items()
    for name, spellings in names.items()
    for spelling in spellings
}
_REFUSED = {
    "oz": "an ounce is a mass or a volume: write g, or fl oz US / fl oz imp",
    "gal": "write US gal or imp gal",
    "qt": "write US qt or imp qt",
    "pt": "write US pt or imp pt",
    "cup": "write mL",
    "fl oz": "write fl oz US or fl oz imp",
    "c": "write °C",
    "f": "write °F",
    "k": "write °C",
}
_PLAIN = r"\d+/\d+|\d+(?:[.,]\d+)*(?:\s+\d+/\d+)?|[.,]\d+"
"""A number without its sign; a fraction first, or its line would begin a unit ("/2")."""
_ONE = re.compile(rf"\s*(?P<number>[-+−]?(?:{_PLAIN}))\s*(?P<unit>[^\d\s/][^\d]*?(?:[23²](?!\d))?)?\s*$")
_FRACTION = re.compile(r"([-+−]?)(?:(\d+)\s+)?(\d+)/(\d+)$")
_FEET_INCHES = re.compile(rf"\s*(\d+)\s*(?:ft|feet|foot|'|′)\s*({_PLAIN})\s*(?:in|inch|inches|\"|″)\s*$")


class UnitError(ValueError):
    """The text is no quantity of the wanted kind. The message says what would be accepted."""


@dataclass(frozen=True)
class Quantity:
    """A value in the core's unit of its dimension, with the text it was read from."""

    value: float
    unit: str
    text: str


@lru_cache(maxsize=1)
def _registry() -> Any:
    import pint  # slow to import (0.7 s): loaded here, where it is first used

    return pint.UnitRegistry()


def _name(unit: str) -> str:
    known = _UNIT.get(" ".join(unit.lower().split()))
    if known is None:
        raise UnitError(f"“{unit}” is not a unit known here")
    return known[1]


@lru_cache(maxsize=512)
def _scale(source: str, target: str) -> float:
    """Factor that carries a number in `source` to `target` (names of pint's)."""
    return float(_registry().Quantity(1.0, source).to(target).magnitude)


def convert(value: float, source: str, target: str) -> float:
    """`value` [source] in [target]; both are spellings of the table, such as "ft" and "mm".

    Raises UnitError for an unknown unit or two units of different dimensions.
    """
    one, other = _name(source), _name(target)
    if _UNIT[" ".join(source.lower().split())][0] != _UNIT[" ".join(target.lower().split())][0]:
        raise UnitError(f"{source} cannot be turned into {target}")
    if one == other:
        return value
    # By their definition, for the offset of two steps is a hair off: 68 °F is 20 °C, and in the band that begins there.
    if (one, other) == ("degF", "degC"):
        return (value - 32.0) / 1.8
    if (one, other) == ("degC", "degF"):
        return value * 1.8 + 32.0
    return value * _scale(one, other)


def _of_fraction(sign: str, whole: str | None, top: str, bottom: str) -> float:
    if int(bottom) == 0:
        raise UnitError("a fraction cannot have 0 below the line")
    value = int(whole or 0) + int(top) / int(bottom)
    return -value if sign == "-" else value


def parse_number(text: str) -> float:
    """A number with a point or one decimal comma, or a fraction ("1 1/2"). Raises UnitError."""
    text = text.strip().replace("−", "-")
    fraction = _FRACTION.match(text)
    if fraction:
        return _of_fraction(*fraction.groups())
    if "," in text:
        head, _, tail = text.partition(",")
        if "," in tail or "." in text:
            raise UnitError(f"“{text}” has more than one separator: write a single point, as in 1234.5")
        if len(tail) == 3 and tail.isdigit():
            raise UnitError(f"“{text}” can be read two ways: write {head}{tail} or {head}.{tail}")
        text = f"{head}.{tail}"
    try:
        return float(text)
    except ValueError:
        raise UnitError(f"“{text}” is not a number: write for example 12, 12.5 or 1 1/2") from None


def _refuse(text: str, dimension: str, default: str) -> NoReturn:
    examples = {
        "length": "350 mm, 2 ft, 3 ft 6 in",
        "film": "75 µm, 3 mil",
        "area": "1.2 m2, 12 sq ft, 2 ft x 350 mm",
        "volume": "600 mL, 0.6 L, 1 US pt",
        "mass": "620.5 g, 1.2 kg, 2 lb",
        "temperature": "18 °C, 64 °F",
        "pressure": "2 bar, 30 psi",
        "percent": "10 or 10 %",
        "coverage": "8 m²/L, 320 sq ft/gal US",
        "use": "180 mL/m², 0.6 fl oz US/sq ft",
        "speed": "0.45 m/s, 1.5 ft/s",
        "flow": "180 mL/min, 6 fl oz US/min",
    }
    raise UnitError(
        f"“{text[:MAX_CHARACTERS]}” is not understood: write for example {examples[dimension]} ({default} is "
        f"meant if no unit is given)"
    )


def parse_quantity(text: str, dimension: str, default: str | None = None, system: str = "metric") -> Quantity:
    """Read one quantity and give it in the core's unit of its dimension.

    text: at most 40 characters, for example "1 1/2 in", "3 ft 6 in", "0,6 L".
    dimension: a key of CORE_UNIT. default: the unit meant when none is written
    (None: the core's). system: in a "us" workshop a gallon, quart, pint or fluid ounce is the US one where it does
    not say whose. Raises UnitError, and nothing else, for any text.
    """
    target = CORE_UNIT[dimension]
    default = default or target
    text = str(text)
    if len(text) > MAX_CHARACTERS:
        raise UnitError(f"at most {MAX_CHARACTERS} characters")
    of_two = _of_two(text, dimension, target, default)
    if of_two is not None:
        return Quantity(of_two, target, text)
    match = _ONE.match(text)
    unit = unit_meant(match["unit"] or default, system) if match else ""
    known = _UNIT.get(unit)
    if match is None or known is None or known[0] != ("length" if dimension == "film" else dimension):
        _refuse(text, dimension, default)
    return Quantity(convert(parse_number(match["number"]), unit, target), target, text)


_SIDES = {"millimetre**2": "mm", "centimetre**2": "cm", "metre**2": "m", "foot**2": "ft", "inch**2": "in"}
"""Unit of a side where an area's unit is meant."""


def _of_two(text: str, dimension: str, target: str, default: str) -> float | None:
    """A quantity of two figures in the core's unit: an area of two sides, feet and inches; None if it is not one.

    default: the area's unit, whose sides are meant where neither names its own.
    """
    if dimension == "area" and re.search(r"\d[^x×*]*[x×*]", text, re.I):
        side_mm = parse_product(text, _SIDES[_name(default)])
        return side_mm[0] * side_mm[1] / 1e6
    feet = _FEET_INCHES.match(text) if dimension in {"length", "film"} else None
    return convert(int(feet[1]) * 12 + parse_number(feet[2]), "in", target) if feet else None


OF_TWO_LANDS = frozenset({"gal", "qt", "pt", "fl oz"})
"""Volumes that are one thing in the US and another in Britain."""


def unit_meant(written: str, system: str = "metric") -> str:
    """A unit as it is written, in small letters; in a "us" workshop a volume of two lands is the US one.

    Raises UnitError for one that can mean two things.
    """
    unit = " ".join(written.lower().split())
    if system == "us" and unit in OF_TWO_LANDS:
        return f"us {unit}"
    if unit in _REFUSED:
        raise UnitError(f"“{written.strip()}” can mean two things: {_REFUSED[unit]}")
    return unit


def parse_product(text: str, default: str = "mm") -> tuple[float, float]:
    """ "2 ft x 350 mm" as two lengths [mm]. A first side with no unit takes that of the second.

    Raises UnitError; also for "2 ft x 350", where the second side could be either.
    """
    if len(text) > MAX_CHARACTERS:
        raise UnitError(f"at most {MAX_CHARACTERS} characters")
    sides = re.split(r"\s*[x×*]\s*", text.strip(), flags=re.I)
    if len(sides) != 2 or not all(sides):
        raise UnitError(f"“{text}” is not two lengths: write for example 2 ft x 350 mm")
    units = [re.search(r"[a-zµμ\"'″′]+\s*$", side, re.I) for side in sides]
    if units[0] and not units[1]:
        raise UnitError(f"which unit has the second length in “{text}”? Write it, as in 2 ft x 350 mm")
    last = units[1].group().strip() if units[1] else default
    return (
        parse_quantity(sides[0], "length", last).value,
        parse_quantity(sides[1], "length", default).value,
    )


_US = {
    "length": "in",
    "film": "mil",
    "area": "sq ft",
    "volume": "fl oz US",
    "temperature": "°F",
    "difference": "°F",
    "pressure": "psi",
    "coverage": "sq ft/gal US",
    "use": "fl oz US/sq ft",
    "speed": "ft/s",
    "flow": "fl oz US/min",
}
"""What a US workshop reads where it is not the core's unit; masses stay in g, as scales show them."""
_USUAL = {
    "µm": 0,
    "mm": 0,
    "m2": 2,
    "mL": 0,
    "g": 1,
    "°C": 1,
    "K": 1,
    "bar": 1,
    "mil": 1,
    "in": 2,
    "sq ft": 1,
    "sq ft/gal US": 0,
    "fl oz US/sq ft": 2,
    "m/s": 2,
    "mL/min": 0,
}
"""Digits after the point, by unit."""


def symbol(unit: str) -> str:
    """A unit as it is written beside a number."""
    return unit.replace("m2", "m²")


SHOWN_UNIT = CORE_UNIT | {"difference": "K"}
"""Every dimension that is shown: a difference of temperatures is never typed."""


def display_unit(dimension: str, system: str) -> str:
    """The unit that `system` ("metric" or "us") shows and means by default."""
    return _US.get(dimension, SHOWN_UNIT[dimension]) if system == "us" else SHOWN_UNIT[dimension]


def in_unit(value: float, dimension: str, unit: str) -> float:
    """A stored value in a unit that `display_unit` gives for its dimension."""
    if dimension == "difference":
        return value * 1.8 if unit == "°F" else value
    return convert(value, CORE_UNIT[dimension], unit)


def show(value: float, dimension: str, system: str = "metric", digits: int | None = None) -> str:
    """A stored value as text with its unit, in the wanted system; mL from 1000 up as L."""
    unit = display_unit(dimension, system)
    shown = in_unit(value, dimension, unit)
    if unit == "mL" and abs(shown) >= 1000:
        shown, unit, digits = shown / 1000, "L", 2 if digits is None else digits
    return f"{shown:.{_places(shown, unit) if digits is None else digits}f} {symbol(unit)}"


def _places(shown: float, unit: str) -> int:
    """Digits after the point; thin sheet in inches and thin films in mils have one more."""
    return _USUAL.get(unit, 1) + (unit in {"in", "mil"} and 0 < abs(shown) < 0.5)


def in_system(
    values: Sequence[float], dimension: str, system: str, digits: int | None, joined: str = " to ", unit: bool = True
) -> str:
    """Stored values with one unit, in the wanted system.

    digits: after the point in the core's own unit and of temperatures, None: as many as they have.
    """
    name = display_unit(dimension, system)
    own = name == SHOWN_UNIT[dimension] or dimension == "temperature"
    texts = []
    for value in values:
        shown = in_unit(value, dimension, name)
        if own and digits is None:
            texts.append(f"{shown:.4g}" if name != SHOWN_UNIT[dimension] else f"{shown:g}")
        else:
            texts.append(f"{shown:.{digits if own else _places(shown, name)}f}")
    said = joined.join(texts)
    return f"{said} {symbol(name)}" if unit else said


_DIMENSION = {symbol(unit): dimension for dimension, unit in SHOWN_UNIT.items() if dimension != "length"}
_DIMENSION["mm"] = "length"


def in_both(value: float | str, unit: str, system: str) -> str:
    """A value of a working [unit] as it was worked out, after it in the wanted system where that is another.

    value: a number, or several as text with × between.
    """
    metric = f"{value} {unit}".strip()
    dimension = _DIMENSION.get(unit)
    if dimension is None or display_unit(dimension, system) == SHOWN_UNIT[dimension]:
        return metric
    try:
        values = [float(part) for part in str(value).split(" × ")]
    except ValueError:
        return metric
    return f"{in_system(values, dimension, system, 1, ' × ')} ({metric})"
