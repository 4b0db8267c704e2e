"""What is looked at on welds and holes, and what a fault calls for. Common practice, no source."""

from collections.abc import Mapping
from dataclasses import dataclass

from ..errors import FieldError


@dataclass(frozen=True)
class Point:
    """A thing looked at: its words, what good and faulty are called, what a fault calls for, how grave it is before
    a coat.

    absent: what it is called where there is no such thing here, "" where that cannot be.
    """

    name: str
    good: str
    fault: str
    remedy: str
    severity: str
    absent: str = ""


POINTS: dict[str, Point] = {
    "round": Point("Welded all round", "no gap", "gap left", "weld the gap shut", "stops", "no seam here"),
    "burrs": Point("Burrs and spatter", "off", "still there", "take them off by hand and eye: film is thin over them", "warns"),
    "through": Point("Pinholes that go through", "none", "found", "weld or braze them shut; filler does not bridge a hole", "stops"),
    "blind": Point("Blind pinholes", "none", "found", "skim them", "advises"),
    "holes": Point("Holes for fixings and drains", "deburred, open", "rough or shut", "deburr and open them", "warns", "no holes here"),
    "flush": Point("Dressing", "as it should be", "not as it should be", "skins flush, load-carrying welds lightly, never flush", "warns", "not dressed"),
    "marks": Point("Heat marks behind", "treated", "bare or burnt", "treat the far side again while it can be reached", "warns", "no far side"),
}  # fmt: skip
"""Points by key."""
GOOD, FAULT, NONE_HERE = "good", "fault", "none"


class InspectionError(FieldError):
    """A point or an answer that is none: `field` names it."""


def answers_of(key: str) -> tuple[str, ...]:
    """What can be said of a point; one that nothing is said of was not looked at."""
    return (GOOD, FAULT, NONE_HERE) if POINTS[key].absent else (GOOD, FAULT)


def check(points: Mapping[str, str]) -> dict[str, str]:
    """What was said, without empty answers. Raises InspectionError where nothing was looked at, or an answer is
    none.
    """
    told = {key: answer for key, answer in points.items() if answer}
    for key, answer in told.items():
        if key not in POINTS:
            raise InspectionError("points", f"must be among {', '.join(POINTS)}")
        if answer not in answers_of(key):
            raise InspectionError(key, f"must be one of {', '.join(answers_of(key))}")
    if not told:
        raise InspectionError("round", "say of at least one point what was seen")
    return told


def word(key: str, answer: str) -> str:
    """What was said of a point."""
    point = POINTS[key]
    return {GOOD: point.good, FAULT: point.fault, NONE_HERE: point.absent}.get(answer, "not looked at")
