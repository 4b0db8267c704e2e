"""Heat: minutes at the temperature of a schedule, how long a section takes to get there, and a panel in the sun.

Only minutes at or above the schedule's metal temperature count, after the flash. Sol-air: ASHRAE Fundamentals; clear
sky: its monthly coefficients; both from memory.
"""

import itertools
import math
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import FieldError
from ..text import cells_of, cut_of, words_of
from ..units import UnitError, parse_number
from ..words import celsius_q
from .lag import follow

GAP_MIN = 20.0
"""Between two readings further apart than this nothing counts [min]. Common practice, no source."""
H_OVEN = 25.0
"""Heat transfer to moving oven air, with radiation [W/(m2 K)]. Common practice, no source."""
OVERLAP = 0.25
"""How much a field of a lamp laps over the one before: its edge is cooler. Common practice, no source."""
ABSORBS = {"light": 0.026, "medium": 0.039, "dark": 0.052}
"""Colour -> α/ho [m2 K/W]: ASHRAE's light and dark, from memory; medium halfway, ours."""
FACES_UP_K = 4.0
"""ε·ΔR/ho of a face that looks up; 0 of one that stands [K]. ASHRAE, from memory."""
_SKY = (
    (1230, 0.142, 0.058), (1215, 0.144, 0.060), (1186, 0.156, 0.071), (1136, 0.180, 0.097), (1104, 0.196, 0.121), (1088, 0.205, 0.134),
    (1085, 0.207, 0.136), (1107, 0.201, 0.122), (1151, 0.177, 0.092), (1192, 0.160, 0.073), (1221, 0.149, 0.063), (1233, 0.142, 0.057),
)  # fmt: skip
"""Month -> A [W/m2], B, C of ASHRAE's clear sky on its 21st. From memory."""
_DECLINED = (-20.0, -10.8, 0.0, 11.6, 20.0, 23.45, 20.6, 12.3, 0.0, -10.5, -19.8, -23.45)
"""Declination of the sun on the 21st of each month [degrees]."""
GROUND = 0.2
"""Share of the sun that the ground throws back."""


def sol_air_c(air_c: float, sun_w_m2: float, colour: str, faces_up: bool = True) -> float:
    """The temperature that a panel takes in the sun, with no heat through it [°C].

    air_c [°C], sun_w_m2: on it [W/m2]; colour: a key of ABSORBS. Raises KeyError for another.
    """
    return air_c + ABSORBS[colour] * sun_w_m2 - (FACES_UP_K if faces_up else 0.0)


def noon_sun_w_m2(month: int, latitude: float, faces_up: bool = True) -> float:
    """Sun at noon of a clear day on a face that looks up, or that stands towards it [W/m2].

    month: 1 to 12; latitude: in degrees, south is negative. Raises ValueError for a month or latitude there is none of.
    """
    if not 1 <= month <= 12 or not -90 <= latitude <= 90:
        raise ValueError("month must be from 1 to 12, latitude from -90 to 90")
    a, b, c = _SKY[month - 1]
    high = math.radians(90.0 - abs(latitude - _DECLINED[month - 1]))
    if high <= 0.01:
        return 0.0
    direct = a / math.exp(b / math.sin(high))
    if faces_up:
        return direct * (math.sin(high) + c)
    from_ground = 0.5 * GROUND * direct * (c + math.sin(high))
    return direct * math.cos(high) + 0.5 * c * direct + from_ground


@dataclass(frozen=True)
class Hottest:
    """The hottest that a panel gets in a year: month, air and panel [°C], sun [W/m2]."""

    month: int
    air_c: float
    sun_w_m2: float
    panel_c: float


def hottest(colour: str, latitude: float, air_by_month: Sequence[float], faces_up: bool = True) -> Hottest:
    """The hottest hour of a year for a colour at a latitude [degrees], by the hottest air of each month [°C]."""
    found = []
    for month, air_c in enumerate(air_by_month, 1):
        sun = noon_sun_w_m2(month, latitude, faces_up)
        found.append(Hottest(month, air_c, sun, sol_air_c(air_c, sun, colour, faces_up)))
    return max(found, key=lambda h: h.panel_c)


def hot_air_c(latitude: float) -> tuple[float, ...]:
    """The hottest air of each month where nobody told [°C]: 34 °C in the warmest month from 25 to 50 degrees, less by
    0.5 K a degree beyond, as much less in winter as the sun stands lower. Ours, no source.
    """
    top = 34.0 - 0.5 * max(0.0, abs(latitude) - 50.0)
    swing = 0.4 * min(50.0, abs(latitude))
    south = latitude < 0
    return tuple(top - swing * (1 - math.cos(2 * math.pi * (m - (1 if south else 7)) / 12)) / 2 for m in range(1, 13))


FROM_C = 20.0
"""How warm a section is before it is heated [°C]. Assumed."""
MOST_READINGS = 2000
_CLOCK = re.compile(r"(?:.*[T ])?(\d{1,2}):(\d{2})(?::(\d{2}(?:\.\d+)?))?\s*")


def read_log(text: str, unit: str = "C") -> tuple[tuple[float, float], ...]:
    """[(min, metal °C)] from lines of minutes and degrees, or from a logger's table with a head: its columns are found
    by their names, its times may be hours of the clock, and °C or °F in the head goes before `unit` ("C" or "F").
    Raises FieldError naming "log".
    """
    lines = [x for x in text.replace("\r", "").split("\n") if x.strip()]
    head = _head(lines[0]) if lines else None
    if head is not None:
        lines, unit = lines[1:], head.unit or unit
    found = list[tuple[float, float]]()
    for number, line in enumerate(lines, 1 if head is None else 2):
        found.append(_reading(line, number, head, unit, found[-1][0] if found else None))
    if not 2 <= len(found) <= MOST_READINGS:
        raise FieldError("log", f"{len(found)} readings: from 2 to {MOST_READINGS}")
    first = found[0][0] if _CLOCK.fullmatch(_cells(lines[0], head)[0]) else 0.0
    return tuple((minute - first, metal_c) for minute, metal_c in found)


@dataclass(frozen=True)
class _Head:
    """Columns of the time and of the metal, what stands between cells, "C" or "F" ("" where it does not say)."""

    time: int
    metal: int
    cut: str
    unit: str


def _cells(line: str, head: _Head | None) -> tuple[str, str]:
    """(time, degrees) of a line as written. Raises ValueError, IndexError."""
    if head is None:
        time, degrees = words_of(line)
        return time, degrees
    cells = cells_of(line, head.cut)
    return cells[head.time], cells[head.metal]


def _reading(line: str, number: int, head: _Head | None, unit: str, before: float | None) -> tuple[float, float]:
    try:
        time, degrees = _cells(line, head)
        minute, metal = _minute(time, before), parse_number(degrees.replace("−", "-").rstrip("°CF "))
    except (UnitError, ValueError, IndexError) as error:
        raise FieldError("log", f"line {number}: must be minutes and degrees, as in 15 50") from error
    metal_c = (metal - 32.0) / 1.8 if unit == "F" else metal
    if minute < 0 or not -40 <= metal_c <= 400:
        said = f"{line.strip()[:20]} cannot be: minutes from 0, metal from {celsius_q(-40, 400)}"
        raise FieldError("log", f"line {number}: {said}")
    if before is not None and minute <= before:
        raise FieldError("log", f"line {number}: minutes must rise, {minute:g} comes after {before:g}")
    return minute, metal_c


def _head(line: str) -> _Head | None:
    """The head of a table; None where the line is none."""
    cut = cut_of(line)
    cells = cells_of(line.lower(), cut) if cut else []
    times = _columns(cells, r"time|min|hour|clock") or _columns(cells, "date")
    metals = [i for i in _columns(cells, r"metal|panel|surface|temp|°|deg") if i not in times]
    if not times or not metals:
        return None
    at = next(iter(_columns(cells, r"metal|panel|surface")), metals[0])
    told = re.search(r"\b([cf])\b", cells[at].replace("°", " "))
    return _Head(times[0], at, cut, told[1].upper() if told else "")


def _columns(cells: Sequence[str], names: str) -> list[int]:
    return [i for i, cell in enumerate(cells) if re.search(names, cell)]


def _minute(word: str, before: float | None) -> float:
    """Minutes as told, or of an hour of the clock; past midnight it goes on."""
    told = _CLOCK.fullmatch(word)
    if told is None:
        return parse_number(word.rstrip("min "))
    minute = 60.0 * int(told[1]) + int(told[2]) + float(told[3] or 0) / 60.0
    days = 0 if before is None else math.floor(before / 1440.0)
    return minute + 1440.0 * (days + (before is not None and minute + 1440.0 * days <= before))


def stretches_at(
    log: Sequence[tuple[float, float]], least_c: float, from_min: float = 0.0
) -> list[tuple[float, float]]:
    """Stretches (from, to) [min] of a log [(min, metal °C)] at or above a temperature [°C] from a moment [min] on; a
    gap counts not. Between readings the metal is taken to be linear.
    """
    found = list[tuple[float, float]]()
    for (t0, c0), (t1, c1) in itertools.pairwise(log):
        part = None if t1 - t0 > GAP_MIN else _above(t0, c0, t1, c1, least_c)
        if part is None or part[1] <= from_min:
            continue
        begin = max(from_min, part[0])
        if found and begin - found[-1][1] < 1e-9:
            begin = found.pop()[0]
        found.append((begin, part[1]))
    return found


def _above(t0: float, c0: float, t1: float, c1: float, least_c: float) -> tuple[float, float] | None:
    """From when until when a straight line is at or above a temperature; None where it never is."""
    if max(c0, c1) < least_c - 1e-9:
        return None
    if min(c0, c1) >= least_c - 1e-9:
        return t0, t1
    at = t0 + (t1 - t0) * (least_c - c0) / (c1 - c0)
    return (at, t1) if c1 > c0 else (t0, at)


def minutes_at(log: Sequence[tuple[float, float]], least_c: float, from_min: float = 0.0) -> float:
    """Minutes of a log [(min, metal °C)] at or above a temperature [°C] from a moment [min] on; a gap counts not."""
    return sum(end - begin for begin, end in stretches_at(log, least_c, from_min))


def gaps(log: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """Stretches of a log between which nothing was read for too long [min]."""
    return [(t0, t1) for (t0, _), (t1, _) in itertools.pairwise(log) if t1 - t0 > GAP_MIN]


def ramp_min(tau_s: float, from_c: float, air_c: float, to_c: float) -> float | None:
    """Minutes until a section of this time constant [s] is as warm as `to_c` in air [°C]; None where it never is."""
    if from_c >= to_c:
        return 0.0
    if air_c <= to_c:
        return None
    return tau_s / 60.0 * math.log((air_c - from_c) / (air_c - to_c))


def rise_c(tau_s: float, from_c: float, air_c: float, minute: float) -> float:
    """How warm a section of this time constant [s] is [°C] after so long [min] in air [°C], with from_c [°C] before."""
    return air_c if tau_s <= 0 else air_c - (air_c - from_c) * math.exp(-60.0 * minute / tau_s)


def metal_in(
    air: Sequence[tuple[float, float]], tau_s: float, from_c: float = FROM_C
) -> tuple[tuple[float, float], ...]:
    """[(min, metal °C)] of a section of this time constant [s] in an oven's air [(min, °C)], from from_c [°C] on."""
    times, degrees = zip(*air, strict=True)
    metal = follow(60.0 * np.array(times, float), np.array(degrees, float), tau_s, from_c)
    return tuple((float(t), float(c)) for t, c in zip(times, metal, strict=True))


@dataclass(frozen=True)
class Passes:
    """Fields of a lamp over a face: side by side and one above the other, and minutes for all of them."""

    across: int
    down: int
    each_min: float

    @property
    def count(self) -> int:
        """How many fields."""
        return self.across * self.down

    @property
    def whole_min(self) -> float:
        """Minutes for all [min]."""
        return self.count * self.each_min


def passes(face_mm: tuple[float, float], field_mm: tuple[float, float], each_min: float) -> Passes:
    """Fields of a lamp (width, height [mm]) that cover a face (width, height [mm]), each for its minutes with warming
    up [min], lapped by a quarter. Raises ValueError for a field without size.
    """
    if min(field_mm) <= 0:
        raise ValueError("a field has a width and a height")
    across, down = (_fields(whole, field) for whole, field in zip(face_mm, field_mm, strict=True))
    return Passes(across, down, each_min)


def _fields(whole: float, field: float) -> int:
    return 1 if whole <= field else math.ceil((whole - OVERLAP * field) / ((1.0 - OVERLAP) * field) - 1e-9)


BEARS_C = {
    "wax": (50.0, "wax runs and burns"),
    "seam sealer": (80.0, "sealer blisters and shrinks"),
    "solder": (150.0, f"solder softens from about {celsius_q(180)}"),
    "bushes": (50.0, "bushes, rubber and bonded parts come out"),
    "glass": (70.0, "glass cracks beside a lamp: shade it or take it out"),
    "wiring": (80.0, "wiring comes out or is shielded"),
    "trim": (60.0, "trim comes off"),
    "springs": (150.0, "heat draws the temper of springs"),
    "laminate": (80.0, "laminate softens and prints through"),
}
"""What is near or on a face -> the hottest that it bears [°C], and why. Common practice, no source."""
FIRE = "Fuel near it: out before any heat, by those licensed for it."


def too_hot_for(things: Iterable[str], metal_c: float) -> list[str]:
    """What is said of things (keys of BEARS_C, "fuel"; others are passed over) that do not bear a metal so hot [°C]."""
    held = set(things)
    said = [FIRE] if "fuel" in held else []
    hot = [(bears, why) for key, (bears, why) in BEARS_C.items() if key in held and metal_c > bears + 1e-9]
    return said + [f"{celsius_q(metal_c)} is over {celsius_q(bears)}: {why}." for bears, why in hot]


PRINT_K = 5.0
"""A filler that was never so warm as its panel gets, less this, shows through [K]. Common practice, no source."""


def prints_through(cured_c: float, service_c: float) -> bool:
    """True if a panel in use gets hotter than its filler and surfacer were while they cured [°C]."""
    return service_c > cured_c + PRINT_K
