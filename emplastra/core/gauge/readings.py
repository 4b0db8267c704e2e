"""Readings of a film gauge: as they are typed, pasted or sent, corrected, and put together to spots.

A gauge says what lies between it and the metal: over filler it reads the filler too, over laminate nothing.
"""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from statistics import fmean

from ..errors import FieldError
from ..text import cells_of, cut_of, words_of
from ..units import UnitError, parse_quantity
from ..words import film_q

MOST = 2000
"""Readings of one gauging at most."""
MOST_UM = 20_000.0
"""The most that a reading may be [µm]."""
DRIFT_UM = 5.0
"""What a bare plate may read before the gauge is set again [µm]. Common practice, no source."""
PROFILE_UM = {"fine": 10.0, "medium": 25.0, "coarse": 40.0, "unknown": 25.0}
"""ISO 19840: taken from each reading on blasted metal, where the gauge was set on smooth steel [µm]. From memory."""
OVER = {"metal": "metal", "filler": "metal under filler", "laminate": "laminate", "light": "aluminium or zinc"}
"""What a gauge is held over."""
SET_MIN, READING_MIN = 5.0, 0.25
"""Minutes to set a gauge, and for one reading with its note. Common practice, no source."""
_BLANK = re.compile(r"[-–x.]")
_READS = re.compile(r"reading|film|thickness|dft|µm|\bum\b|micron|mils?\b")
IN_UM = {"um": 1.0, "mil": 25.4}


@dataclass(frozen=True)
class Reading:
    """One reading [µm]; x, y: where on the face, as shares of its width and height from the upper left [0..1]; None
    where nobody told.
    """

    um: float
    x: float | None = None
    y: float | None = None


@dataclass(frozen=True)
class Taken:
    """How readings were taken: per_spot: how many make a spot; zero_um: what a bare plate read [µm]; profile_um: what
    the gauge takes of the profile for film [µm].
    """

    per_spot: int = 1
    zero_um: float = 0.0
    profile_um: float = 0.0

    def corrected(self, readings: Sequence[Reading]) -> tuple[Reading, ...]:
        """Readings with the zero and the profile taken off each, as ISO 19840 has it; never less than nothing."""
        off = self.zero_um + self.profile_um
        return tuple(Reading(max(0.0, r.um - off), r.x, r.y) for r in readings)

    def spots(self, readings: Sequence[Reading]) -> tuple[Reading, ...]:
        """The mean of every `per_spot` readings in order, at the mean of their places; what is left over is one too."""
        n = max(1, self.per_spot)
        return tuple(_mean(readings[i : i + n]) for i in range(0, len(readings), n))


def _mean(group: Sequence[Reading]) -> Reading:
    if len(group) == 1:
        return group[0]
    xs, ys = [r.x for r in group if r.x is not None], [r.y for r in group if r.y is not None]
    return Reading(fmean(r.um for r in group), fmean(xs) if xs else None, fmean(ys) if ys else None)


def read(
    text: str,
    unit: str,
    per_spot: int = 1,
    size_mm: tuple[float, float] | None = None,
    asked_um: float | None = None,
    shown: str = "um",
) -> tuple[Reading, ...]:
    """Readings from what was typed or pasted: one row of the face a line, or a list headed "x %, y %, reading" with
    places in percent from the upper left, or "x, y, um" with places in mm; or a gauge's table whose head names the
    readings, its unit goes before `unit`.

    unit: "um" or "mil", "" where nobody said: then as pages show it; per_spot: readings of one spot stand side by side;
    size_mm: the face; asked_um: what is asked of it [µm], by which a unit that was not said is doubted. Raises
    FieldError naming "readings" or "unit".
    """
    lines = [line for line in text.replace("\r", "").split("\n") if line.strip()]
    if not lines:
        raise FieldError("readings", "write what the gauge reads, one row of the face a line, as in 212 238 251")
    factor = IN_UM[unit or shown]
    found = _in_order(lines, per_spot, size_mm, factor)
    if not 0 < len(found) <= MOST:
        said = f"{len(found)} readings: at most {MOST} at once" if found else "no reading is in it"
        raise FieldError("readings", said)
    if not (unit or _is_told(lines[0])) and asked_um:
        _doubt([r.um / factor for r in found], asked_um, shown)
    return found


@dataclass(frozen=True)
class _Head:
    """Columns of a table of readings: of the reading, of its place across and down (None: it tells none, in percent or
    in mm); what stands between cells; µm of one of its unit, None where it does not say which.
    """

    um: int
    x: int | None
    y: int | None
    in_pct: bool
    cut: str
    factor: float | None


def _head(line: str) -> _Head | None:
    """The head of a table; None where the line is none."""
    cut = cut_of(line)
    cells = cells_of(line.lower(), cut)
    um = next((i for i, cell in enumerate(cells) if _READS.search(cell)), None)
    if um is None:
        return None
    x, y = (next((i for i, cell in enumerate(cells) if re.fullmatch(rf"{name}\b.*", cell)), None) for name in "xy")
    said = "mil" if "mil" in cells[um] else "um" if re.search(r"µm|\bum\b|micron", cells[um]) else ""
    return _Head(um, x, y, x is not None and "%" in cells[x], cut, IN_UM.get(said))


def _in_order(
    lines: Sequence[str], per_spot: int, size_mm: tuple[float, float] | None, factor: float
) -> tuple[Reading, ...]:
    """Readings of a list or of rows."""
    head = _head(lines[0])
    if head:
        return _listed(lines[1:], head, (100.0, 100.0) if head.in_pct else size_mm, head.factor or factor)
    return _in_rows([_figures(line, number) for number, line in enumerate(lines, 1)], per_spot, factor)


def _is_told(line: str) -> bool:
    """True if the head of a table says which unit its readings are in."""
    head = _head(line)
    return head is not None and head.factor is not None


def _doubt(figures: Sequence[float], asked_um: float, shown: str) -> None:
    """Refuse figures that would be of the other unit, unless somebody says which they are."""
    middle = sorted(figures)[len(figures) // 2]
    other = next(name for name in IN_UM if name != shown)
    near = asked_um / 8 <= middle * IN_UM[shown] <= asked_um * 8
    if not near and asked_um / 4 < middle * IN_UM[other] < asked_um * 4:
        names = {"um": "µm", "mil": "mil"}
        said = f"{middle:g} may be {names[other]}: {film_q(asked_um)} is asked. Say which unit the gauge shows"
        raise FieldError("unit", said)


def _figure(text: str, number: int) -> float:
    try:
        value = parse_quantity(f"{text} µm", "film").value
    except UnitError as error:
        raise FieldError("readings", f"line {number}: {text[:20]}: {error}") from error
    if not 0 <= value <= MOST_UM:
        raise FieldError(
            "readings", f"line {number}: {text[:20]} must be from 0 to {MOST_UM:.0f}: a gauge reads no less"
        )
    return value


def _figures(line: str, number: int) -> list[float | None]:
    """The figures of a row; None where nothing was read ("-" or "x")."""
    return [None if _BLANK.fullmatch(w) else _figure(w, number) for w in words_of(line)]


def _in_rows(rows: Sequence[Sequence[float | None]], per_spot: int, factor: float) -> tuple[Reading, ...]:
    """Readings in the middles of equal fields, as many rows as there are lines; spots side by side share a field."""
    n, found = max(1, per_spot), list[Reading]()
    for r, row in enumerate(rows):
        fields = -(-len(row) // n)
        for c, um in enumerate(row):
            if um is not None:
                found.append(Reading(um * factor, (c // n + 0.5) / fields, (r + 0.5) / len(rows)))
    return tuple(found)


def _listed(
    lines: Sequence[str], head: _Head, size_mm: tuple[float, float] | None, factor: float
) -> tuple[Reading, ...]:
    if head.x is None or head.y is None:
        return tuple(Reading(_figure(um, n) * factor) for n, (um,) in _told(lines, head, (head.um,), "the reading"))
    if size_mm is None:
        raise FieldError("readings", "the face has no measures: write rows instead of places")
    found = []
    said = "x, y and the reading, as in 120, 80, 212"
    for number, cells in _told(lines, head, (head.x, head.y, head.um), said):
        x, y, um = (_figure(c, number) for c in cells)
        w, h = size_mm
        if x > w + 0.5 or y > h + 0.5:
            raise FieldError("readings", f"line {number}: the place lies off the face")
        found.append(Reading(um * factor, min(1.0, x / w), min(1.0, y / h)))
    return tuple(found)


def _told(lines: Sequence[str], head: _Head, wanted: Sequence[int], said: str) -> Iterator[tuple[int, list[str]]]:
    """(line, its wanted cells) of a table, those left out in which nothing was read."""
    for number, line in enumerate(lines, 2):
        cells = cells_of(line, head.cut)
        if len(cells) <= max(wanted):
            raise FieldError("readings", f"line {number}: must be {said}")
        if not _BLANK.fullmatch(cells[head.um] or "-"):
            yield number, [cells[i] for i in wanted]


def drifted(zero_um: float) -> str:
    """What is said of a gauge by what it reads on a bare plate [µm]; "" while that is near nothing."""
    if abs(zero_um) <= DRIFT_UM:
        return ""
    return (
        f"It reads {film_q(zero_um)} on a bare plate: it has lost its zero. That is taken off; set it and read again."
    )


def reads_over(over: str) -> str:
    """What a gauge says over a ground, where that is not the film alone; "" over metal. Common practice, no source."""
    return {
        "filler": "Over filler the gauge reads all of it: film and filler together.",
        "laminate": "Over laminate a gauge reads nothing: take the comb, or an ultrasonic gauge.",
        "light": "Aluminium and zinc want a gauge by eddy current; a magnet says nothing there.",
    }.get(over, "")


FILLER_UM, AGAIN_UM = 1000.0, 300.0
"""Old paint from which on it is filler, and from which on it was painted again [µm]. Common practice, no source."""
NO_PULL = "Where a magnet does not hold there is no steel: a hole filled over, lead, laminate or light metal."


def old_film(um: float) -> str:
    """What a reading on old paint says at the survey [µm]: thick film is filler."""
    if um >= FILLER_UM:
        return "filler"
    return "painted again" if um >= AGAIN_UM else "one paint job"


def old_films(readings: Sequence[Reading]) -> dict[str, int]:
    """How many readings on old paint [µm] say what, the thickest first."""
    words = [old_film(r.um) for r in readings]
    return {word: words.count(word) for word in ("filler", "painted again", "one paint job") if word in words}
