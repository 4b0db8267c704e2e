"""Depths of a face: signed, by a straightedge, what lies between them, its lows and highs, its waves.

Proud of the line is plus, low is minus [mm]. Between the measured places a depth is estimated.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from string import ascii_uppercase

import numpy as np

from ..errors import FieldError
from ..piece import relief
from ..text import cells_of, words_of
from ..units import UnitError, parse_number
from ..words import length_q

FLAT_MM = {"show": 0.15, "open": 0.3, "below": 0.5, "covered": 1.0}
"""Finish class -> how far a face may stand from flat [mm]. Common practice, no source: ours."""
SURE_MM = 5.0
"""A high over this is asked about: a sign mistake makes a low one [mm]."""
MOST_MM = 100.0
MOST = 2000
STRAIGHTEDGES_MM = (300.0, 600.0, 900.0)
"""Lengths at which waves are told [mm]."""
_HEAD = re.compile(r"\s*x\s*%\s*[,;\t]\s*y\s*%\s*[,;\t]\s*(?:depth|mm|in)\s*", re.IGNORECASE)
_BLANK = re.compile(r"[-–x.]")
_IN_MM = {"mm": 1.0, "in": 25.4}
MARKS = {"low": False, "high": True}
"""What is written where a low or a high was marked and not measured -> whether it is a high."""


@dataclass(frozen=True)
class Depth:
    """One place: how far it stands from flat [mm], plus is proud; x, y: shares of width and height, from upper left."""

    mm: float
    x: float
    y: float


@dataclass(frozen=True)
class Mark:
    """A low or a high that was marked and not measured: its letter, and where; x, y as of Depth."""

    name: str
    high: bool
    x: float
    y: float


def read_marks(text: str) -> tuple[Mark, ...]:
    """What was marked, low or high, in rows or in a list as `read` takes them, lettered as they stand there."""
    lines = [line.lower() for line in text.replace("\r", "").split("\n") if line.strip()]
    found = _marked_list(lines[1:]) if lines and _HEAD.fullmatch(lines[0]) else _marked_rows(lines)
    return tuple(Mark(letter_of(n), MARKS[what], x, y) for n, (what, x, y) in enumerate(found))


def _marked_list(lines: Sequence[str]) -> list[tuple[str, float, float]]:
    cells = (cells_of(line) for line in lines)
    return [(what, parse_number(x) / 100, parse_number(y) / 100) for x, y, what in cells if what in MARKS]


def _marked_rows(lines: Sequence[str]) -> list[tuple[str, float, float]]:
    rows = [words_of(line) for line in lines]
    places = ((r, c, row) for r, row in enumerate(rows) for c in range(len(row)) if row[c] in MARKS)
    return [(row[c], (c + 0.5) / len(row), (r + 0.5) / len(rows)) for r, c, row in places]


def read(text: str, unit: str = "mm", sure: bool = False) -> tuple[Depth, ...]:
    """Depths from rows of signed figures, one row of the face a line, "-" alone for none; or from a list headed
    "x %, y %, depth" with places in percent from the upper left.

    unit: "mm" or "in"; sure: somebody says that it stands so high. "low" or "high" instead of a figure is a mark, and
    no depth: of marks alone there are none. Raises FieldError naming "depths" or "sure".
    """
    lines = [line for line in text.replace("\r", "").split("\n") if line.strip()]
    if not lines:
        raise FieldError("depths", "write how far it stands from flat, one row of the face a line, as in -0.4 0 +0.2")
    found = _listed(lines[1:], unit) if _HEAD.fullmatch(lines[0]) else _in_rows(lines, unit)
    if not found and read_marks(text):
        return ()
    if not 0 < len(found) <= MOST:
        raise FieldError("depths", f"{len(found)} places: from 1 to {MOST}")
    highest = max(found, key=lambda d: d.mm)
    if highest.mm > SURE_MM and not sure:
        said = f"{length_q(highest.mm)} proud? A low is written with a minus. If it stands so high, tick that it is so"
        raise FieldError("sure", said)
    return found


def _in_rows(lines: Sequence[str], unit: str) -> tuple[Depth, ...]:
    """Depths in the middles of equal fields."""
    found = list[Depth]()
    for r, line in enumerate(lines):
        words = words_of(line)
        for c, word in enumerate(words):
            if not _BLANK.fullmatch(word) and word.lower() not in MARKS:
                at = (c + 0.5) / len(words), (r + 0.5) / len(lines)
                found.append(Depth(_figure(word, r + 1) * _IN_MM[unit], *at))
    return tuple(found)


def _listed(lines: Sequence[str], unit: str) -> tuple[Depth, ...]:
    """Depths with their places."""
    found = list[Depth]()
    for number, line in enumerate(lines, 2):
        cells = cells_of(line)
        if len(cells) != 3 or not all(cells):
            raise FieldError("depths", f"line {number}: must be x %, y % and the depth, as in 12, 40, -0.4")
        x, y = (_figure(cell, number) for cell in cells[:2])
        if not (0 <= x <= 100 and 0 <= y <= 100):
            raise FieldError("depths", f"line {number}: the place lies off the face")
        if cells[2].lower() not in MARKS:
            found.append(Depth(_figure(cells[2], number) * _IN_MM[unit], x / 100, y / 100))
    return tuple(found)


def _figure(word: str, line: int) -> float:
    sign, digits = (-1.0 if word[0] in "-−–" else 1.0), word.lstrip("+-−–")
    try:
        value = parse_number(digits)
    except UnitError as error:
        raise FieldError("depths", f"line {line}: {word[:20]}: {error}") from error
    if not 0 <= value <= MOST_MM:
        raise FieldError("depths", f"line {line}: {word[:20]} must be from -{MOST_MM:.0f} to {MOST_MM:.0f}")
    return sign * value


@dataclass(frozen=True)
class Island:
    """A low or a high: its letter, the extreme [mm], its area [m2] and volume [mL], where it lies and how wide it is
    along 45 degrees [mm]; reach: (x0, y0, x1, y1) as shares of width and height.
    """

    name: str
    mm: float
    area_m2: float
    volume_ml: float
    reach: tuple[float, float, float, float]
    wide_mm: float

    @property
    def is_low(self) -> bool:
        """True for a low."""
        return self.mm < 0

    @property
    def middle(self) -> tuple[float, float]:
        """(x, y) of the middle of its reach."""
        x0, y0, x1, y1 = self.reach
        return (x0 + x1) / 2, (y0 + y1) / 2


@dataclass(frozen=True)
class Relief:
    """A face as it stands: signed depths at the corners of a fine grid over w_mm by h_mm, and as measured [mm]."""

    w_mm: float
    h_mm: float
    mm: np.ndarray
    depths: tuple[Depth, ...] = ()

    @property
    def field_mm2(self) -> float:
        """Area of one of its fields [mm2]."""
        rows, columns = self.mm.shape
        return self.w_mm * self.h_mm / ((rows - 1) * (columns - 1))

    def volume_ml(self, low: bool = True) -> float:
        """Volume of all its lows, or of its highs [mL]: each field by the mean of its corners."""
        clipped = np.maximum(0.0, -self.mm if low else self.mm)
        return float(relief.middles(clipped).sum() * self.field_mm2 / 1000.0)

    def flat_share(self, flat_mm: float) -> float:
        """Share of the face that stands within so much of flat [0..1]; flat_mm [mm]."""
        return float((np.abs(relief.middles(self.mm)) <= flat_mm).mean())

    def low_share(self, deep_mm: float) -> float:
        """Share of the face that is lower than so much [0..1]; deep_mm [mm]."""
        return float((relief.middles(self.mm) < -deep_mm).mean())

    def at(self, x: float, y: float) -> float:
        """How far a place stands from flat [mm]."""
        return relief.at(self.mm, x, y)

    def line(self, y: float, count: int = 121) -> tuple[np.ndarray, np.ndarray]:
        """(distance from the left [mm], depth [mm]) along a line across the face at a height (share)."""
        x = np.linspace(0.0, 1.0, count)
        return x * self.w_mm, np.array([self.at(float(each), y) for each in x])

    def islands(self, flat_mm: float) -> tuple[Island, ...]:
        """Its lows and highs beyond what counts as flat [mm], the largest volume first, lettered in this order."""
        z = relief.middles(self.mm)
        found = [part for sign in (-1.0, 1.0) for part in _parts(sign * z > flat_mm)]
        made = sorted((self._island(z, part) for part in found), key=lambda i: -i.volume_ml)
        return tuple(Island(letter_of(n), i.mm, i.area_m2, i.volume_ml, i.reach, i.wide_mm) for n, i in enumerate(made))

    def _island(self, z: np.ndarray, part: np.ndarray) -> Island:
        rows, columns = z.shape
        ys, xs = np.nonzero(part)
        inside = z[part]
        measured = [
            d.mm for d in self.depths if part[min(int(d.y * rows), rows - 1), min(int(d.x * columns), columns - 1)]
        ]
        extreme = max([float(inside[np.abs(inside).argmax()]), *measured], key=abs)
        volume = float(np.abs(inside).sum() * self.field_mm2 / 1000.0)
        reach = (xs.min() / columns, ys.min() / rows, (xs.max() + 1) / columns, (ys.max() + 1) / rows)
        px, py = xs * self.w_mm / columns, ys * self.h_mm / rows
        # Along both diagonals, as the block goes; a field is as wide as its own diagonal.
        own = float(np.hypot(self.w_mm / columns, self.h_mm / rows))
        wide = max(float(np.ptp(px + py)), float(np.ptp(px - py))) / np.sqrt(2.0) + own
        x0, y0, x1, y1 = map(float, reach)
        return Island("", extreme, len(inside) * self.field_mm2 / 1e6, volume, (x0, y0, x1, y1), float(wide))

    def outlines(self, low_mm: float, high_mm: float) -> list[list[tuple[float, float]]]:
        """Outlines of where it stands between two depths [mm], as shares of width and height."""
        return relief.outlines(self.mm, low_mm, high_mm)


def letter_of(n: int) -> str:
    """What the nth low or high is called, from 0: A, B, ... Z, A2, B2, ..."""
    round_, at = divmod(n, len(ascii_uppercase))
    return ascii_uppercase[at] + (str(round_ + 1) if round_ else "")


def _parts(fields: np.ndarray) -> list[np.ndarray]:
    """Fields that hang together."""
    left, found = fields.copy(), []
    while left.any():
        r, c = np.argwhere(left)[0]
        part = relief.part_of(left, (int(r), int(c)))
        left &= ~part
        found.append(part)
    return found


def relief_of(depths: Sequence[Depth], w_mm: float, h_mm: float) -> Relief | None:
    """The face of w_mm by h_mm between its measured places; None with fewer than four of them."""
    if len(depths) < 4:
        return None
    return Relief(w_mm, h_mm, relief.between([(d.x, d.y, d.mm) for d in depths], w_mm, h_mm), tuple(depths))


def waviness_mm(along_mm: np.ndarray, depth_mm: np.ndarray, edge_mm: float) -> float:
    """The deepest gap under a straightedge of a length laid anywhere along a line [mm]: it rests on what is highest
    under it. along_mm: distances, rising [mm]; depth_mm: how far each place stands from flat [mm]; edge_mm: the length
    [mm]. 0 where the line is shorter than two places.
    """
    worst, n = 0.0, len(along_mm)
    for i in range(n - 1):
        j = int(np.searchsorted(along_mm, along_mm[i] + edge_mm + 1e-9, side="right")) - 1
        if j > i:
            worst = max(worst, _gap(along_mm[i : j + 1], depth_mm[i : j + 1]))
        if j == n - 1:
            break
    return worst


def _gap(x: np.ndarray, z: np.ndarray) -> float:
    """The largest drop under the upper hull of a stretch."""
    hull: list[int] = []
    for k in range(len(x)):
        while len(hull) >= 2 and _below(x, z, hull[-2], hull[-1], k):
            hull.pop()
        hull.append(k)
    return float((np.interp(x, x[hull], z[hull]) - z).max())


def _below(x: np.ndarray, z: np.ndarray, a: int, b: int, c: int) -> bool:
    """True if b lies on or under the line from a to c."""
    return bool((x[c] - x[a]) * (z[b] - z[a]) <= (z[c] - z[a]) * (x[b] - x[a]))
