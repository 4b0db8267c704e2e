"""A face laid flat and cut into cells: where on it something was done, found or measured.

A face has no drawing of its own: it is shown as its largest shape unrolled, as a square where only its area is known.
"""

import math
import re
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from ..errors import FieldError
from .areas import area_m2

LONG = 16
"""Cells along the longer side."""
SHORT = 3
"""Cells along the shorter side at least."""
_UNROLLED = {
    "flat": lambda d: (d["length"], d["width"]),
    "box": lambda d: (d["length"], 2 * (d["width"] + d["height"])),
    "angle": lambda d: (d["length"], 2 * (d["width"] + d["height"])),
    "channel": lambda d: (d["length"], 2 * (d["width"] + 2 * d["height"])),
    "tube": lambda d: (d["length"], math.pi * d["diameter"]),
}
Cell = tuple[int, int]
"""(column from the left, row from the top), from 0."""


@dataclass(frozen=True)
class FaceGrid:
    """A face laid flat: w_mm wide and h_mm high, cut into columns and rows of equal cells."""

    w_mm: float
    h_mm: float
    columns: int
    rows: int

    @property
    def cells(self) -> list[Cell]:
        """All cells, row by row."""
        return [(c, r) for r in range(self.rows) for c in range(self.columns)]

    @cached_property
    def size(self) -> str:
        """What its marks begin with: "16x8"."""
        return f"{self.columns}x{self.rows}"

    def share(self, cells: Collection[Cell]) -> float:
        """Share of the face that these cells are [0..1]."""
        return len(set(cells)) / (self.columns * self.rows)

    def write(self, cells: Collection[Cell]) -> str:
        """Cells as a mark that is kept: "16x8:" and a hexadecimal number a row, its first bit the left column."""
        kept = set(cells)
        rows = (
            sum(1 << (self.columns - 1 - c) for c in range(self.columns) if (c, r) in kept) for r in range(self.rows)
        )
        return f"{self.size}:" + ".".join(f"{row:x}" for row in rows)

    def read(self, mark: str) -> frozenset[Cell]:
        """The cells of a mark. Raises FieldError for one that is not of this grid."""
        size, _, body = mark.partition(":")
        rows = body.split(".")
        is_mine = size == self.size and len(rows) == self.rows and all(re.fullmatch("[0-9a-f]{1,8}", x) for x in rows)
        bits = [int(x, 16) for x in rows] if is_mine else []
        if not is_mine or any(x >> self.columns for x in bits):
            raise FieldError("drawn", "cannot be read: draw it again")
        return frozenset((c, r) for c, r in self.cells if bits[r] >> (self.columns - 1 - c) & 1)


def runs_of(mark: str) -> tuple[int, int, list[tuple[int, int, int]]]:
    """(columns, rows, [(column, row, how many cells)]) of a mark that was kept, each run of cells in a row once."""
    size, _, body = mark.partition(":")
    columns, rows = (int(n) for n in size.split("x"))
    found: list[tuple[int, int, int]] = []
    for r, row in enumerate(body.split(".")):
        for match in re.finditer("1+", f"{int(row, 16):0{columns}b}"):
            found.append((match.start(), r, len(match[0])))
    return columns, rows, found


def grid_of(shapes: Sequence[Mapping], whole_m2: float) -> FaceGrid:
    """The grid of a face of these stored shapes (dims [mm]) and this area [m2], which its largest shape gives its
    proportions; the longer side lies across. Raises ShapeError for a shape that cannot be.
    """
    kept = [s for s in shapes if not s.get("less")]
    largest = max(kept, key=lambda s: area_m2(s["kind"], s["dims"]), default=None)
    unrolled = _UNROLLED.get(largest["kind"]) if largest else None
    side = math.sqrt(max(whole_m2, 1e-6)) * 1000.0
    long, short = sorted(unrolled(largest["dims"]) if unrolled and largest else (side, side), reverse=True)
    rows = max(SHORT, min(LONG, round(LONG * short / long)))
    return FaceGrid(long, short, LONG, rows)
