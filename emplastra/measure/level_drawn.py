"""Level of a face as drawn: its lows and highs by hatch, the marks as on the metal, and a profile across it.

Proud is chevrons with ticks outward, low is lines: read without colour.
"""

from dataclasses import dataclass, field

from emplastra.core.piece.face_grid import grid_of

from .film_drawn import WIDE, InTheMiddle, frame, line_path, outlines_path

DEEP = 2.0
"""From so many times what counts as flat on the hatch is dense."""
PROFILE_H = 150.0


@dataclass(frozen=True)
class Band:
    """Where it stands between two depths: the path, its hatch, low or proud, deep or not."""

    path: str
    hatch: str
    how: str


@dataclass(frozen=True)
class Mark:
    """A mark of the pen round a low, or the letter of a high: its place and reach, and whether it shows."""

    name: str
    x: float
    y: float
    rx: float
    ry: float
    how: str


@dataclass
class DrawnLevel(InTheMiddle):
    """A face with its lows and highs."""

    height: float
    bands: list
    marks: list
    line_y: float
    places: list
    width: float = WIDE


def drawn(level, y):
    """A face as it stands now; y: where the profile goes across (share)."""
    face = level.now.relief
    width, height = size = frame(face.w_mm, face.h_mm)
    flat, deep = level.flat_mm, DEEP * level.flat_mm
    ends = (
        (-1e3, -deep, "h-film-3", "low"),
        (-deep, -flat, "h-film-2", "low"),
        (flat, deep, "h-proud", "proud"),
        (deep, 1e3, "h-proud-2", "proud"),
    )
    bands = []
    for low, high, hatch, how in ends:
        path = outlines_path(face.outlines(low, high), size)
        bands += [Band(path, hatch, how)] if path else []
    lows = level.marked if level.is_filled else level.lows
    marks = [_mark(i, size, _seen(i.name, level)) for i in lows]
    named = {i.name for i in lows}
    marks += [_mark(i, size, "high") for i in level.highs if i.name not in named]
    places = [(round(x * width, 1), round(v * height, 1), mm) for mm, x, v in level.now.row.points]
    return DrawnLevel(height, bands, marks, round(y * height, 1), places if len(places) <= 120 else [], width)


def _seen(name, level):
    if not level.is_filled:
        return "shows"
    return "shows" if level.shows.get(name) else "buried"


def _mark(island, size, how):
    width, height = size
    x0, y0, x1, y1 = island.reach
    x, y = island.middle
    rx, ry = (x1 - x0) * width / 2 + 6, (y1 - y0) * height / 2 + 6
    return Mark(island.name, *(round(v, 1) for v in (x * width, y * height, rx, ry)), how)


@dataclass
class Profile:
    """A line across the face: paths as found and now, the scale of its heights, flat as two lines."""

    found: str
    now: str
    ticks: list
    zero_y: float
    low_y: float
    high_y: float
    times: float
    names: list = field(default_factory=list)
    height: float = PROFILE_H
    width: float = WIDE


def profile(level, y):
    """The profile of a face across it at a height (share), as first measured and now."""
    first, now = level.measured[0].relief, level.now.relief
    lines = [first.line(y), now.line(y)]
    most = max(max(abs(z).max() for _, z in lines), 2 * level.flat_mm)
    scale = (PROFILE_H - 30) / (2 * most)
    zero = PROFILE_H / 2

    def path(along, z):
        return line_path(
            [(a / now.w_mm, (zero - d * scale) / PROFILE_H) for a, d in zip(along, z, strict=True)], PROFILE_H
        )

    step = next(s for s in (0.1, 0.2, 0.5, 1, 2, 5, 10, 50, 100) if most / s <= 3)
    count = int(most / step)
    ticks = [(round(zero - n * step * scale, 1), n * step) for n in range(-count, count + 1)]
    found = path(*lines[0]) if len(level.measured) > 1 else ""
    flat = level.flat_mm * scale
    times = scale * now.w_mm / WIDE
    return Profile(found, path(*lines[1]), ticks, zero, round(zero + flat, 1), round(zero - flat, 1), times)


def marked(level):
    """A face as it was marked, not measured: letters on plain ground."""
    grid, shows = grid_of(level.each.revision.shapes, level.each.area_m2), level.mark_shows
    width, height = frame(grid.w_mm, grid.h_mm)
    marks = []
    for m in level.marks:
        how = "high" if m.high else "shows" if shows.get(m.name, True) else "buried"
        marks.append(Mark(m.name, round(m.x * width, 1), round(m.y * height, 1), 34.0, 28.0, how))
    return DrawnLevel(height, [], marks, 0.0, [], width)


STAIR_H, WORDS = 130.0, {"found": "as found", "highs": "highs down", "filled": "filled", "blocked": "blocked"}


@dataclass
class Stair:
    """Rounds side by side: (x, width, words, bar (y, height) or None, y of the plan or None); flat as two lines."""

    steps: list
    zero_y: float
    low_y: float
    high_y: float
    height: float = STAIR_H
    width: float = WIDE


def stair(level):
    """The rounds of a face beside what was planned; None where nothing was to be filled."""
    rounds = level.stair
    if not rounds:
        return None
    most = max(abs(mm) for r in rounds for mm in (*(r.mm or ()), r.planned_mm or 0.0, level.flat_mm))
    scale, zero, wide = (STAIR_H - 24) / (2 * most), STAIR_H / 2, min(180.0, WIDE / len(rounds))
    steps = []
    for n, r in enumerate(rounds):
        bar = (
            None
            if r.mm is None
            else (round(zero - r.mm[1] * scale, 1), round(max(2.0, (r.mm[1] - r.mm[0]) * scale), 1))
        )
        plan = None if r.planned_mm is None else round(zero - r.planned_mm * scale, 1)
        steps.append((round(n * wide, 1), round(wide - 12, 1), WORDS[r.what], bar, plan))
    flat = level.flat_mm * scale
    return Stair(steps, zero, round(zero + flat, 1), round(zero - flat, 1))
