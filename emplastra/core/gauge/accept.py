"""Is the film accepted: by the least and the most of product and system, by ISO 19840, by SSPC-PA 2.

Both standards from memory (CHECKS: high), their levels medium to high.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import fmean

from ..words import film_q

STANDARDS = {
    "": "the product’s and the system’s own least and most",
    "iso19840": "ISO 19840",
    "pa2-1": "SSPC-PA 2, level 1",
    "pa2-2": "SSPC-PA 2, level 2",
    "pa2-3": "SSPC-PA 2, level 3",
    "pa2-4": "SSPC-PA 2, level 4",
    "pa2-5": "SSPC-PA 2, level 5",
}
_LEVELS: dict[int, tuple[float, float | None]] = {
    1: (1.0, 1.0),
    2: (1.0, 1.2),
    3: (0.8, 1.2),
    4: (0.8, 1.5),
    5: (0.8, None),
}
"""Level -> (share of the least that a spot must reach, share of the most that it may; None: as much as there is)."""
_SAME = 1e-9
LOW_SHARE = 0.8
"""ISO 19840: no reading below this share of the nominal film."""


@dataclass(frozen=True)
class Asked:
    """What is asked of a film [µm]: nominal, the least and the most of it; None where nobody says."""

    nominal_um: float
    least_um: float | None = None
    most_um: float | None = None

    @property
    def iso_most_um(self) -> float:
        """The most by ISO 19840: what is told, else three times nominal (ISO 12944-5, medium)."""
        return self.most_um if self.most_um is not None else 3.0 * self.nominal_um


@dataclass(frozen=True)
class Point:
    """One thing that a standard asks: held, and why or why not."""

    held: bool
    sentence: str


@dataclass(frozen=True)
class Accepted:
    """What one standard says: a key of STANDARDS, its points in order; mean_um: of all; floor_um: for each [µm]."""

    by: str
    points: tuple[Point, ...]
    mean_um: float
    floor_um: float
    unjudged: str = ""

    @property
    def ok(self) -> bool:
        """True if every point holds."""
        return not self.unjudged and all(point.held for point in self.points)

    @property
    def name(self) -> str:
        """The standard by its name."""
        return STANDARDS[self.by]

    @property
    def word(self) -> str:
        """The answer in a line."""
        if self.unjudged:
            return f"not judged: {self.unjudged}"
        return "accepted" if self.ok else next(point.sentence for point in self.points if not point.held)


def judge(
    by: str, readings_um: Sequence[float], spots_um: Sequence[float], asked: Asked, per_spot: int = 1
) -> Accepted:
    """Readings [µm, corrected] held against what is asked by one of STANDARDS; spots_um: the means of spots.

    Raises ValueError without readings, KeyError for a standard there is none of.
    """
    if not readings_um:
        raise ValueError("no readings")
    if by == "iso19840":
        return _by_iso(readings_um, asked)
    if by.startswith("pa2-"):
        return _by_pa2(by, spots_um, asked, per_spot)
    if by:
        raise KeyError(by)
    return _by_own(spots_um, asked)


def _at_least(what: str, um: float, least: float, digits: int | None = None) -> Point:
    said = f"{what} is {film_q(um, digits=digits)}, at least {film_q(least, unit=False)} is asked"
    return Point(um >= least - _SAME, said)


def _at_most(what: str, um: float, most: float, digits: int | None = None) -> Point:
    said = f"{what} is {film_q(um, digits=digits)}, at most {film_q(most, unit=False)} is allowed"
    return Point(um <= most + _SAME, said)


def _by_own(spots_um: Sequence[float], asked: Asked) -> Accepted:
    least, most = min(spots_um), max(spots_um)
    points = []
    if asked.least_um is not None:
        points.append(_at_least("the thinnest", least, asked.least_um))
    if asked.most_um is not None:
        points.append(_at_most("the thickest", most, asked.most_um))
    why = "" if points else "neither its sheets nor its system say the least or the most"
    return Accepted("", tuple(points), fmean(spots_um), asked.least_um or 0.0, why)


def _by_iso(readings_um: Sequence[float], asked: Asked) -> Accepted:
    n, nominal, floor = len(readings_um), asked.nominal_um, LOW_SHARE * asked.nominal_um
    mean = fmean(readings_um)
    under = sum(um < floor - _SAME for um in readings_um)
    between = sum(floor - _SAME <= um < nominal - _SAME for um in readings_um)
    most = max(readings_um)
    said = film_q(floor)
    points = (
        Point(
            under == 0, f"{under} of {n} under {said}, four fifths of what is asked" if under else f"none under {said}"
        ),
        Point(mean >= nominal - _SAME, f"the mean is {film_q(mean, digits=1)}, {film_q(nominal, unit=False)} is asked"),
        Point(5 * between < n, f"{between} of {n} between four fifths and what is asked: fewer than a fifth may be"),
        _at_most("the thickest", most, asked.iso_most_um),
    )
    return Accepted("iso19840", points, mean, floor)


def _by_pa2(by: str, spots_um: Sequence[float], asked: Asked, per_spot: int) -> Accepted:
    level = int(by[-1])
    low, high = _LEVELS[level]
    least = asked.least_um if asked.least_um is not None else 0.8 * asked.nominal_um
    most = asked.most_um if asked.most_um is not None else 1.2 * asked.nominal_um
    mean, floor = fmean(spots_um), low * least
    if per_spot < 3:
        return Accepted(by, (), mean, floor, "it wants three readings a spot")
    top = math.inf if high is None else high * most
    under, over = sum(um < floor - _SAME for um in spots_um), sum(um > top + _SAME for um in spots_um)
    n = len(spots_um)
    points = [
        Point(under == 0, f"{under} of {n} spots under {film_q(floor)}" if under else f"no spot under {film_q(floor)}"),
        _at_least("the mean", mean, least, 1),
    ]
    if high is not None:
        points.append(
            Point(over == 0, f"{over} of {n} spots over {film_q(top)}" if over else f"no spot over {film_q(top)}")
        )
        points.append(_at_most("the mean", mean, most, 1))
    return Accepted(by, tuple(points), mean, floor)


_ISO_PLAN = ((1.0, 5, 1), (3.0, 10, 2), (10.0, 15, 3), (30.0, 20, 4), (100.0, 30, 6))
"""ISO 19840: (area up to [m2], readings at least, of them may be repeated). From memory."""


def iso_readings(area_m2: float) -> tuple[int, int]:
    """(readings at least, how many of them may be repeated) of a face by ISO 19840; over 100 m2 ten a started 100."""
    for upto, count, again in _ISO_PLAN:
        if area_m2 <= upto + _SAME:
            return count, again
    hundreds = math.ceil(area_m2 / 100.0 - _SAME) - 1
    return 30 + 10 * hundreds, 6 + 2 * hundreds


def pa2_spots(area_m2: float) -> int:
    """Spots of three readings by SSPC-PA 2: five for each area of 10 m2; three areas from 30 to 100 m2, then one a
    started 100 more.
    """
    if area_m2 <= 30.0 + _SAME:
        return 5 * max(1, math.ceil(area_m2 / 10.0 - _SAME))
    return 5 * (3 + max(0, math.ceil(area_m2 / 100.0 - _SAME) - 1))


def wanted(by: str, area_m2: float) -> int:
    """How many readings a face of an area [m2] wants by a standard; by its own limits as many as ISO 19840 asks."""
    return 3 * pa2_spots(area_m2) if by.startswith("pa2-") else iso_readings(area_m2)[0]
