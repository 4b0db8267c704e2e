"""The piece as a map: one simple shape per zone on a grid, in five views, with labels that never overlap.

Grid units: a view is COLUMNS wide and ROWS high. Drawing units are those of the view's picture.
"""

import textwrap
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from ..errors import FieldError
from ..text import shortened

VIEWS = {"left": "Left", "right": "Right", "top": "Top", "under": "Under", "inside": "Inside"}


class TileKind(StrEnum):
    """Shapes in which a zone may be drawn."""

    PANEL = "panel"
    ROUND = "round"
    TAPER = "taper"
    WEDGE = "wedge"
    ARCH = "arch"


KINDS = {
    TileKind.PANEL: "Panel",
    TileKind.ROUND: "Round",
    TileKind.TAPER: "Taper, narrow above",
    TileKind.WEDGE: "Wedge",
    TileKind.ARCH: "Panel with an arch",
}
COLUMNS, ROWS = 24, 12
CELL, GUTTER, HEAD = 15.0, 118.0, 28.0
WIDTH = 2 * GUTTER + COLUMNS * CELL
CELL_MOST = 30.0
"""Largest cell of a view that few zones fill [drawing units]."""
NUMBERED = 40
"""Above so many zones their plates bear numbers, and the names stand in the list."""
LINE, CHAR = 16.0, 7.4
"""Height of a line and width taken for a character [drawing units] at 14 units of type: wider than the type is."""
GAP = 3.0
GUTTER_MOST = 24
"""Most labels in a gutter, about."""
OTHER_SIDE = {"left": "right", "right": "left"}


class PlaceError(FieldError):
    """A place on the map that cannot be: `field` names what."""


@dataclass(frozen=True)
class Cells:
    """Where a zone is drawn: view, kind of shape, column and row of its corner, width and height [cells]."""

    view: str
    kind: str
    x: int
    y: int
    w: int
    h: int
    flip: bool = False

    def check(self) -> "Cells":
        """Itself. Raises PlaceError naming the field that is out of the grid."""
        if self.view not in VIEWS:
            raise PlaceError("view", f"must be one of {', '.join(VIEWS)}")
        if self.kind not in KINDS:
            raise PlaceError("kind", f"must be one of {', '.join(KINDS)}")
        for name, at, size, limit in (("x", self.x, self.w, COLUMNS), ("y", self.y, self.h, ROWS)):
            if not 0 <= at < limit:
                raise PlaceError(name, f"must be from 0 to {limit - 1}")
            if not 1 <= size <= limit - at:
                raise PlaceError("w" if name == "x" else "h", f"must be from 1 to {limit - at}, to stay on the grid")
        return self

    def touches(self, other: "Cells") -> bool:
        """True if it lies beside another in the same view, edge to edge or closer; in one and the same cells nobody has
        placed them.
        """
        if (self.x, self.y, self.w, self.h) == (other.x, other.y, other.w, other.h):
            return False
        apart_x = max(self.x, other.x) - min(self.x + self.w, other.x + other.w)
        apart_y = max(self.y, other.y) - min(self.y + self.h, other.y + other.h)
        return self.view == other.view and max(apart_x, apart_y) <= 0 and min(apart_x, apart_y) < 0

    def mirrored(self) -> "Cells":
        """The same shape on the other side of the piece; in top, under and inside, across the middle line."""
        return Cells(
            OTHER_SIDE.get(self.view, self.view),
            self.kind,
            COLUMNS - self.x - self.w,
            self.y,
            self.w,
            self.h,
            not self.flip,
        )

    def halves(self, share: float) -> tuple["Cells", "Cells"]:
        """Two shapes side by side (or one above the other, if it is one cell wide), the first with about this share."""
        if self.w > 1:
            first = min(self.w - 1, max(1, round(self.w * share)))
            return (
                Cells(self.view, TileKind.PANEL, self.x, self.y, first, self.h),
                Cells(self.view, TileKind.PANEL, self.x + first, self.y, self.w - first, self.h),
            )
        if self.h == 1:
            return self, self
        first = min(self.h - 1, max(1, round(self.h * share)))
        return (
            Cells(self.view, TileKind.PANEL, self.x, self.y, 1, first),
            Cells(self.view, TileKind.PANEL, self.x, self.y + first, 1, self.h - first),
        )


def view_of(name: str) -> str:
    """The view that a zone's name speaks of; left if it speaks of none."""
    words = name.lower().replace(",", " ").split()
    for view, said in (
        ("inside", {"inside", "inner", "bay"}),
        ("under", {"under", "underside", "below", "floor", "frame"}),
        ("top", {"top", "roof", "hood", "lid"}),
        ("right", {"right"}),
        ("left", {"left"}),
    ):
        if said & set(words):
            return view
    return "left"


def free_place(view: str, taken: Iterable[Cells], w: int = 6, h: int = 3) -> Cells:
    """The first free place of this size in a view; smaller ones, then the corner, if it is full."""
    here = [cells for cells in taken if cells.view == view]
    for width, height in ((w, h), (4, 2), (2, 2), (1, 1)):
        filled = {(x, y) for s in here for x in range(s.x, s.x + s.w) for y in range(s.y, s.y + s.h)}
        for y in range(ROWS - height + 1):
            for x in range(COLUMNS - width + 1):
                if not any((x + i, y + j) in filled for i in range(width) for j in range(height)):
                    return Cells(view, TileKind.PANEL, x, y, width, height)
    return Cells(view, TileKind.PANEL, 0, 0, 1, 1)


@dataclass(frozen=True)
class Box:
    """A rectangle in drawing units."""

    x: float
    y: float
    w: float
    h: float

    def meets(self, other: "Box") -> bool:
        """True if they share more than an edge."""
        return (
            self.x < other.x + other.w
            and other.x < self.x + self.w
            and self.y < other.y + other.h
            and other.y < self.y + self.h
        )


@dataclass(frozen=True)
class Tile:
    """A zone on the map: its id, name, the word under it, where it is drawn, and its number in the list."""

    key: int
    name: str
    word: str
    cells: Cells
    number: int = 0


@dataclass(frozen=True)
class Drawn:
    """A tile with its outline, and its label: lines, box, anchor, and the leader to it if it stands outside; none where
    the gutters are full.

    outline: ("rect", box), ("ellipse", box) or ("polygon", points); all in drawing units.
    """

    tile: Tile
    outline: tuple[str, object]
    lines: tuple[str, ...] = ()
    label: Box | None = None
    anchor: str = ""
    leader: tuple[float, float, float, float] | None = None


@dataclass(frozen=True)
class Grid:
    """How cells lie in a view's picture: column and row of its corner, size of a cell, and where the corner lies
    [drawing units]. One size for a view, so that faces keep their relative sizes.
    """

    column: int = 0
    row: int = 0
    cell: float = CELL
    left: float = GUTTER

    def box(self, cells: Cells) -> Box:
        """The rectangle of a place [drawing units]."""
        x, y = self.left + (cells.x - self.column) * self.cell, HEAD + (cells.y - self.row) * self.cell
        return Box(x, y, cells.w * self.cell, cells.h * self.cell)


def grid_of(here: Sequence[Tile], gutter: float) -> tuple[Grid, float]:
    """(the grid that lets these zones fill the sheet between gutters, height that they take), both [drawing units]."""
    column, row = min(t.cells.x for t in here), min(t.cells.y for t in here)
    columns = max(t.cells.x + t.cells.w for t in here) - column
    rows = max(t.cells.y + t.cells.h for t in here) - row
    across, high = WIDTH - 2 * gutter, ROWS * CELL * (WIDTH - 2 * gutter) / (COLUMNS * CELL)
    cell = min(across / columns, high / rows, CELL_MOST)
    return Grid(column, row, cell, gutter + (across - columns * cell) / 2), rows * cell


@dataclass(frozen=True)
class View:
    """One view: its key, name, height [drawing units], how its cells lie and what is drawn in it."""

    key: str
    name: str
    height: float
    grid: Grid
    drawn: tuple[Drawn, ...] = field(default=())

    @property
    def unnamed(self) -> int:
        """How many have no label."""
        return sum(each.label is None for each in self.drawn)


def outline_of(cells: Cells, box: Box) -> tuple[str, object]:
    """The outline of a place in its rectangle: ("rect" | "ellipse", Box) or ("polygon", points)."""
    left, top, right, foot = box.x, box.y, box.x + box.w, box.y + box.h
    if cells.kind == TileKind.ROUND:
        return "ellipse", box
    if cells.kind == TileKind.TAPER:
        inset = 0.16 * box.w
        return "polygon", ((left + inset, top), (right - inset, top), (right, foot), (left, foot))
    if cells.kind == TileKind.WEDGE:
        high, low = (right, left) if not cells.flip else (left, right)
        return "polygon", ((low, top + 0.55 * box.h), (high, top), (high, foot), (low, foot))
    if cells.kind == TileKind.ARCH:
        a, b = left + 0.3 * box.w, left + 0.7 * box.w
        rise = min(0.45 * box.h, 0.5 * (b - a))
        middle = (
            (a, foot),
            (a + 0.1 * (b - a), foot - 0.7 * rise),
            (0.5 * (a + b), foot - rise),
            (b - 0.1 * (b - a), foot - 0.7 * rise),
            (b, foot),
        )
        return "polygon", ((left, top), (right, top), (right, foot), *reversed(middle), (left, foot))
    return "rect", box


def _wrapped(name: str, width: float, most: int) -> tuple[str, ...]:
    """A name in at most so many lines, shortened in the middle as far as it must be."""
    across = max(3, int(width / CHAR))
    for room in range(max(len(name), 2), 1, -1):
        lines = textwrap.wrap(shortened(name, room), across) or [""]
        if len(lines) <= most:
            return tuple(lines)
    return ("…",)


def _inside(tile: Tile, box: Box, others: Sequence[Box], placed: Sequence[Box]) -> Drawn | None:
    narrow = {"round": 0.72, "taper": 0.68, "wedge": 0.8, "arch": 0.9}.get(tile.cells.kind, 1.0)
    width = box.w * narrow - 8
    if width < CHAR * max(len(tile.word), 4):
        return None
    lines = (*textwrap.wrap(tile.name, max(3, int(width / CHAR))), tile.word)
    height = len(lines) * LINE
    room = box.h * {"round": 0.74, "arch": 0.6, "wedge": 0.45}.get(tile.cells.kind, 1.0)
    if height > room - 4 or any(len(line) * CHAR > width for line in lines):
        return None
    taken = max(len(line) for line in lines) * CHAR
    top = {"arch": box.y + 8, "wedge": box.y + box.h - height - 2}.get(tile.cells.kind, box.y + (box.h - height) / 2)
    label = Box(box.x + (box.w - taken) / 2, top, taken, height)
    if any(label.meets(other) for other in others) or any(label.meets(other) for other in placed):
        return None
    return Drawn(tile, outline_of(tile.cells, box), lines, label, "middle")


def _outside(tiles: Sequence[Tile], boxes: dict[int, Box], is_left: bool) -> list[Drawn]:
    """Labels in a gutter, one under the other, each as near to its shape as those above it allow."""
    found, free = [], HEAD
    for tile in sorted(tiles, key=lambda t: (boxes[t.key].y + boxes[t.key].h / 2, t.key)):
        box = boxes[tile.key]
        lines = (*_wrapped(tile.name, GUTTER - 14, 2), tile.word)
        height = len(lines) * LINE
        middle = box.y + box.h / 2
        top = max(free, middle - height / 2)
        free = top + height + GAP
        x = 4.0 if is_left else WIDTH - GUTTER + 10
        label = Box(x, top, GUTTER - 14, height)
        edge = (x + label.w + 2, top + height / 2) if is_left else (x - 3, top + height / 2)
        leader = (*edge, box.x + min(6.0, box.w / 2) if is_left else box.x + box.w - min(6.0, box.w / 2), middle)
        found.append(Drawn(tile, outline_of(tile.cells, box), lines, label, "end" if is_left else "start", leader))
    return found


def arrange(tiles: Iterable[Tile], whole_grid: bool = False) -> list[View]:
    """The views that have zones, in the order of VIEWS; labels in a view never overlap.

    A label stands in its shape where it fits and nothing covers it, else in the nearer gutter with a
    leader; the view grows as high as its gutters need. Over NUMBERED zones each bears its number alone.
    whole_grid: where a zone is being placed, the grid keeps still.
    """
    views = []
    every = list(tiles)
    by_view: dict[str, list[Tile]] = {}
    for tile in every:
        by_view.setdefault(tile.cells.view, []).append(tile)
    for key, name in VIEWS.items():
        here = sorted(by_view.get(key, []), key=lambda t: (-t.cells.w * t.cells.h, t.cells.y, t.cells.x, t.key))
        if here:
            views.append(_view(key, name, here, len(every) > NUMBERED and not whole_grid, whole_grid))
    return views


def _view(key: str, name: str, here: list[Tile], is_numbered: bool, whole_grid: bool) -> View:
    """One view with its labels: numbers, or names in their shapes first, the rest in the gutters."""
    grid, high = (Grid(), ROWS * CELL) if whole_grid else grid_of(here, 4.0 if is_numbered else GUTTER)
    boxes = {tile.key: grid.box(tile.cells) for tile in here}
    if is_numbered:
        drawn = _numbers(here, boxes)
    else:
        drawn = _in_shapes(here, boxes)
        drawn |= _in_gutters([tile for tile in here if tile.key not in drawn], boxes)
    foot = max((d.label.y + d.label.h for d in drawn.values() if d.label), default=0.0)
    more = LINE if len(drawn) < len(here) else 0.0
    every = tuple(drawn.get(tile.key) or Drawn(tile, outline_of(tile.cells, boxes[tile.key])) for tile in here)
    return View(key, name, max(HEAD + high, foot) + 6 + more, grid, every)


def _numbers(here: Sequence[Tile], boxes: dict[int, Box]) -> dict[int, Drawn]:
    """Tiles with their numbers in their middles, the smallest first; none where another number stands in the way."""
    drawn: dict[int, Drawn] = {}
    placed: list[Box] = []
    for tile in reversed(here):
        box, wide = boxes[tile.key], CHAR * len(str(tile.number))
        label = Box(box.x + (box.w - wide) / 2, box.y + (box.h - LINE) / 2, wide, LINE)
        if not any(label.meets(other) for other in placed):
            drawn[tile.key] = Drawn(tile, outline_of(tile.cells, box), (str(tile.number),), label, "middle")
            placed.append(label)
    return drawn


def _in_shapes(here: Sequence[Tile], boxes: dict[int, Box]) -> dict[int, Drawn]:
    """Tiles whose labels stand in their shapes."""
    drawn: dict[int, Drawn] = {}
    placed: list[Box] = []
    for tile in here:
        others = [box for k, box in boxes.items() if k != tile.key and box.meets(boxes[tile.key])]
        inside = _inside(tile, boxes[tile.key], others, placed)
        if inside is not None:
            drawn[tile.key] = inside
            placed += [inside.label] if inside.label else []
    return drawn


def _in_gutters(rest: list[Tile], boxes: dict[int, Box]) -> dict[int, Drawn]:
    """Tiles with their labels in the gutters while these have room, the largest first; each in the nearer one, so long
    as both are about as long.
    """
    rest = rest[: 2 * GUTTER_MOST]
    left = [t for t in rest if boxes[t.key].x + boxes[t.key].w / 2 < WIDTH / 2]
    left, right = _balanced(left, [t for t in rest if t not in left], boxes)
    return {each.tile.key: each for each in (*_outside(left, boxes, True), *_outside(right, boxes, False))}


def _balanced(left: list[Tile], right: list[Tile], boxes: dict[int, Box]) -> tuple[list[Tile], list[Tile]]:
    """Move labels to the emptier gutter, those nearest to it first, until both are about as long."""
    while abs(len(left) - len(right)) > 6:
        longer, shorter = (left, right) if len(left) > len(right) else (right, left)
        nearest = min(longer, key=lambda t: abs(boxes[t.key].x + boxes[t.key].w / 2 - WIDTH / 2))
        longer.remove(nearest)
        shorter.append(nearest)
    return left, right
