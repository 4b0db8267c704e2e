"""What is recorded before metal is cut away: marks, seams, beads, holes; and what is still missing of each.

What a copy wants: common practice, no source.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from ..units import UnitError, parse_quantity

CUTS = frozenset({"repair", "weld"})
"""Kinds of step at which metal goes."""
MEASURED = frozenset({"bead", "holes", "shape", "seam"})
"""Kinds of thing that are made again by measure."""
MOST = 60
_PIECE = re.compile(r"[;\n]")


@dataclass(frozen=True)
class Copy:
    """Something copied as it is held against what a copy wants."""

    kind: str
    what: str
    datum: str = ""
    measures: tuple[tuple[str, float], ...] = ()
    scale_mm: float | None = None
    has_photo: bool = False
    said: frozenset[str] = frozenset()

    @property
    def missing(self) -> tuple[str, ...]:
        """What is still missing, in the order in which it is done; nothing once the part is made from it."""
        if "made" in self.said or "fitted" in self.said:
            return ()
        found = []
        if not self.has_photo:
            found.append("a photo with a scale in it")
        elif self.scale_mm is None:
            found.append("the length of the scale in its photo")
        if self.kind in MEASURED:
            found += [] if self.datum else ["a datum that stays"]
            found += [] if self.measures else ["its measures from there"]
        return tuple(found)

    @property
    def state(self) -> str:
        """Where it stands: missing, copied, made, fitted."""
        if "fitted" in self.said:
            return "fitted"
        if "made" in self.said:
            return "made"
        return "missing" if self.missing else "copied"


EXAMPLES = {"mm": "first hole 32 mm; pitch 75; bead width 12", "in": "first hole 1.25 in; pitch 3; bead width 0.5"}
"""How measures are written, by the unit that is meant where none is written."""


def read_measures(text: str, unit: str = "mm") -> tuple[tuple[str, float], ...]:
    """((what, mm), ...) from "first hole 32 mm; pitch 75". Raises ValueError naming the piece that cannot be read."""
    found = []
    for piece in filter(None, (part.strip() for part in _PIECE.split(text))):
        name, _, size = piece.rpartition(" ")
        if not any(c.isdigit() for c in size):  # the unit stands apart: "pitch 75 mm"
            name, _, number = name.rpartition(" ")
            size = f"{number} {size}"
        try:
            mm = parse_quantity(size, "length", unit).value
        except UnitError as error:
            raise ValueError(f"“{piece[:40]}”: {error}; write what and how far, as in “{EXAMPLES[unit]}”") from error
        if not name.strip() or not 0 <= mm <= 20_000:
            raise ValueError(f"“{piece[:40]}”: say what is measured, then its length up to 20 m")
        found.append((name.strip()[:60], mm))
    if len(found) > MOST:
        raise ValueError(f"{len(found)} measures: at most {MOST} of one thing")
    return tuple(found)


def prompt(step_kind: str, told: Sequence[Copy], marks: str) -> str:
    """What is said at a step that cuts metal away, "" at others, and once all is copied.

    told: what is copied of the face; marks: what the survey told of marks and textures there, "" where nothing.
    """
    if step_kind not in CUTS:
        return ""
    open_ones = [copy for copy in told if copy.missing]
    if open_ones:
        first = open_ones[0]
        more = f", and {len(open_ones) - 1} more" if len(open_ones) > 1 else ""
        return f"Before it is cut: {first.what} lacks {first.missing[0]}{more}."
    if marks and not told:
        return f"Before it is cut: nothing is copied of {marks}."
    waits = [copy for copy in told if copy.state == "copied"]
    if waits:
        return f"Make the new part while the old one is there: {waits[0].what}."
    return (
        "" if told else "Before it is cut: is there a mark, bead, seam or hole to copy? Its datum goes with the metal."
    )
