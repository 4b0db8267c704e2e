"""A face to be sprayed, laid flat: its edges, what is cut out of it, the returns behind its edges."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..errors import FieldError
from ..piece.areas import area_m2
from ..piece.face_grid import grid_of

OPENINGS_MOST = 6
RETURN_MOST_MM = 150.0
"""A deeper return is a face of its own."""
Box = tuple[float, float, float, float]
"""(left, top, right, bottom) [mm] from the upper left corner of the face."""
SIDES = ("upper", "right", "lower", "left")


@dataclass(frozen=True)
class Panel:
    """A face w_mm wide and h_mm high, the openings in it, and how deep its edges return [mm] (0: cut edges)."""

    w_mm: float
    h_mm: float
    openings: tuple[Box, ...] = ()
    return_mm: float = 0.0

    def check(self) -> "Panel":
        """Itself. Raises FieldError for an opening that does not lie in it, or a return that is a face of its own."""
        if not (0 < self.w_mm <= 30_000 and 0 < self.h_mm <= 30_000):
            raise FieldError("shape", "the face has no measures: tell how wide and how high it is")
        if not 0 <= self.return_mm <= RETURN_MOST_MM:
            raise FieldError("returns", f"must be from 0 to {RETURN_MOST_MM:g} mm: a deeper one is a face of its own")
        for left, top, right, bottom in self.openings:
            if not (0 <= left < right <= self.w_mm and 0 <= top < bottom <= self.h_mm):
                raise FieldError("openings", "an opening must lie within the face: from the left, the top, wide, high")
        if self.area_mm2 <= 0.05 * self.w_mm * self.h_mm:
            raise FieldError("openings", "the openings must leave some of the face")
        return self

    @property
    def boxes(self) -> tuple[Box, ...]:
        """The face itself and its openings: what has edges."""
        return ((0.0, 0.0, self.w_mm, self.h_mm), *self.openings)

    @property
    def area_mm2(self) -> float:
        """The face without its openings and returns [mm2]."""
        return self.w_mm * self.h_mm - sum((r - x) * (b - y) for x, y, r, b in self.openings)


def panel_of(shapes: Sequence[Mapping], whole_m2: float, upright: bool = False) -> Panel:
    """The face of stored shapes (dims [mm]) and an area [m2]: its largest laid flat; openings stand in its middle, side
    by side, until somebody says where; upright: its longer side stands. Raises FieldError for a face without measures.
    """
    if not shapes:
        raise FieldError("shape", "the face has no measures: tell how wide and how high it is")
    grid = grid_of(shapes, whole_m2)
    w, h = (grid.h_mm, grid.w_mm) if upright else (grid.w_mm, grid.h_mm)
    turn = -1 if upright else 1
    sizes = [size[::turn] for s in shapes if s.get("less") for size in [_size_of(s)] * s.get("count", 1)][
        :OPENINGS_MOST
    ]
    sizes = [(min(a, 0.8 * w / len(sizes)), min(b, 0.8 * h)) for a, b in sizes]
    gap = (w - sum(a for a, _ in sizes)) / (len(sizes) + 1)
    boxes, x = [], gap
    for a, b in sizes:
        boxes.append((x, (h - b) / 2, x + a, (h + b) / 2))
        x += a + gap
    return Panel(w, h, tuple(boxes))


def _size_of(shape: Mapping) -> tuple[float, float]:
    """(wide, high) of what a shape cuts out: of a sheet its sides, of anything else a square of its area [mm]."""
    if shape["kind"] == "flat":
        return shape["dims"]["length"], shape["dims"]["width"]
    side = (area_m2(shape["kind"], shape["dims"]) * 1e6) ** 0.5
    return side, side


def openings_of(text: str, scale: float = 1.0) -> tuple[Box, ...]:
    """Openings as they are typed: a line or a semicolon each, from the left, from the top, wide, high; scale: mm in a
    unit of what is typed. Raises FieldError saying which.
    """
    found = []
    for number, line in enumerate((x for x in re.split(r"[;\n]", text) if x.strip()), 1):
        figures = re.findall(r"\d+(?:[.,]\d+)?", line)
        left = re.sub(r"\d+(?:[.,]\d+)?|mm|in\b|[\s,×x@]", "", line)
        if len(figures) != 4 or left:
            raise FieldError(
                "openings", f"opening {number}: write from the left, from the top, wide, high: 90 80 520 340"
            )
        x, y, w, h = (float(f.replace(",", ".")) * scale for f in figures)
        found.append((x, y, x + w, y + h))
    if len(found) > OPENINGS_MOST:
        raise FieldError("openings", f"at most {OPENINGS_MOST} openings")
    return tuple(found)


def openings_text(openings: Sequence[Box], scale: float = 1.0) -> str:
    """Openings as they are typed; scale: mm in a unit of what is typed."""
    rows = ((x, y, r - x, b - y) for x, y, r, b in openings)
    return "; ".join(" ".join(f"{round(v / scale, 1):g}" for v in row) for row in rows)
