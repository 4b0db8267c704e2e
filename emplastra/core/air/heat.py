"""Heat: minutes at the temperature of a schedule, how long a section takes to get there, and a panel in the sun.

Only minutes at or above the schedule's metal temperature count, after the flash. Sol-air: ASHRAE Fundamentals; clear
sky: its monthly coefficients; both from memory.
"""

import itertools
import math
import re
from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import FieldError
from ..units import UnitError, parse_number
from ..words import celsius_q

GAP_MIN = 20.0
"""Between two readings further apart than this nothing counts [min]. Common practice, no source."""
H_OVEN, H_OUTDOORS = 25.0, 17.0
"""Heat transfer to moving oven air and outdoors, with radiation [W/(m2 K)]: common practice; ASHRAE, from memory."""
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


MOST_READINGS = 2000


def read_log(text: str, unit: str = "C") -> tuple[tuple[float, float], ...]:
    """[(min, metal °C)] from lines of minutes and degrees; unit: "C" or "F". Raises FieldError naming "log"."""
    found = list[tuple[float, float]]()
    for number, line in enumerate((x for x in text.splitlines() if x.strip()), 1):
        words = re.split(r"[\s;]+|,\s+", line.strip())
        try:
            minute, degrees = (parse_number(word.replace("−", "-").rstrip("°CFmin")) for word in words)
        except (UnitError, ValueError) as error:
            raise FieldError("log", f"line {number}: must be minutes and degrees, as in 15 50") from error
        metal_c = (degrees - 32.0) / 1.8 if unit == "F" else degrees
        if found and minute <= found[-1][0]:
            raise FieldError("log", f"line {number}: minutes must rise, {minute:g} comes after {found[-1][0]:g}")
        if minute < 0 or not -40 <= metal_c <= 400:
            said = f"{line.strip()[:20]} cannot be: minutes from 0, metal from {celsius_q(-40, 400)}"
            raise FieldError("log", f"line {number}: {said}")
        found.append((minute, metal_c))
    if not 2 <= len(found) <= MOST_READINGS:
        raise FieldError("log", f"{len(found)} readings: from 2 to {MOST_READINGS}")
    return tuple(found)


def minutes_at(log: Sequence[tuple[float, float]], least_c: float, from_min: float = 0.0) -> float:
    """Minutes of a log [(min, metal °C)] at or above a temperature [°C] from a moment [min] on; a gap counts not.

    Between readings the metal is taken to be linear.
    """
    total = 0.0
    for (t0, c0), (t1, c1) in itertools.pairwise(log):
        if t1 - t0 > GAP_MIN or t1 <= from_min:
            continue
        if t0 < from_min:
            t0, c0 = from_min, c0 + (c1 - c0) * (from_min - t0) / (t1 - t0)
        total += (t1 - t0) * _above(c0, c1, least_c)
    return total


def _above(c0: float, c1: float, least_c: float) -> float:
    """Share of a straight stretch that is at or above a temperature."""
    low, high = min(c0, c1), max(c0, c1)
    if low >= least_c - 1e-9:
        return 1.0
    return 0.0 if high < least_c else (high - least_c) / (high - low)


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


PRINT_K = 5.0
"""A filler that was never so warm as its panel gets, less this, shows through [K]. Common practice, no source."""


def prints_through(cured_c: float, service_c: float) -> bool:
    """True if a panel in use gets hotter than its filler and surfacer were while they cured [°C]."""
    return service_c > cured_c + PRINT_K
