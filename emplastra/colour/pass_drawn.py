"""A pass as it is drawn: strokes as the hand goes, film in hatch, a section down the face, one bar of shares."""

import itertools
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from emplastra.core.piece import relief

WIDE, TALL = 230.0, 300.0
"""How wide and how high a face is drawn at most."""
MARGIN, SIDE = 44.0, 66.0
"""Room for the numbers of rows, and for the section."""
TOP = 26.0
TICK_S = 0.25
"""A tick on a stroke every so many seconds."""
COARSE = 80
NUMBER_GAP = 15.0
BAR = 540.0
PLACES = ((0.5, 0.06), (0.06, 0.5), (0.94, 0.5), (0.5, 0.5), (0.5, 0.78), (0.5, 0.94))
"""Where the film is told in figures, as shares of width and height."""


@dataclass(frozen=True)
class Pull:
    """One pull of the trigger: its ends, ticks in time, its arrow; edge: round an edge."""

    x1: float
    y1: float
    x2: float
    y2: float
    ticks: str
    arrow: str
    edge: bool


@dataclass(frozen=True)
class RowOf:
    """A row: its number, where it runs [mm, px], whether its number is shown."""

    number: int
    mm: float
    y: float
    left: bool
    shown: bool


class Drawn:
    """A pass on its face (the core's PassMap), drawn."""

    def __init__(self, film):
        self.film, panel = film, film.panel
        self.scale = min(WIDE / panel.w_mm, TALL / panel.h_mm)
        self.width, self.height = round(panel.w_mm * self.scale, 1), round(panel.h_mm * self.scale, 1)

    @property
    def strokes_box(self):
        """viewBox of the strokes."""
        return f"{-MARGIN} {-TOP} {self.width + 2 * MARGIN:.1f} {self.height + 2 * TOP:.1f}"

    @property
    def map_box(self):
        """viewBox of the map with its section."""
        return f"-2 {-TOP} {self.width + SIDE + 14:.1f} {self.height + 2 * TOP:.1f}"

    @property
    def bottom(self):
        """Where a line under the drawing stands."""
        return round(self.height + 19.0, 1)

    @property
    def section_at(self):
        """Where the section stands beside the map."""
        return self.width + 10.0

    @cached_property
    def holes(self):
        """[(x, y, wide, high)] of what is cut out."""
        boxes = self.film.panel.openings
        return [tuple(round(v * self.scale, 1) for v in (x, y, r - x, b - y)) for x, y, r, b in boxes]

    @cached_property
    def pulls(self):
        """[Pull] in the order of the work."""
        return [self._pull(stroke) for stroke in self.film.strokes]

    def _pull(self, stroke):
        across, a, b = (v * self.scale for v in (stroke.at_mm, stroke.from_mm, stroke.to_mm))
        step = stroke.speed_m_s * 1000.0 * TICK_S * self.scale * (1 if b > a else -1)
        count = int(abs(b - a) / abs(step)) if abs(step) > 3 else 0
        at = [a + step * n for n in range(1, count + 1)]
        end, back = b, b - 8 * (1 if b > a else -1)
        if stroke.along == "x":
            ticks = "".join(f"M{x:.1f} {across - 3:.1f}v6" for x in at)
            arrow = f"M{end:.1f} {across:.1f}L{back:.1f} {across - 4:.1f}V{across + 4:.1f}Z"
            ends = (a, across, b, across)
        else:
            ticks = "".join(f"M{across - 3:.1f} {y:.1f}h6" for y in at)
            arrow = f"M{across:.1f} {end:.1f}L{across - 4:.1f} {back:.1f}H{across + 4:.1f}Z"
            ends = (across, a, across, b)
        return Pull(*(round(v, 1) for v in ends), ticks, arrow, bool(stroke.edge))

    @cached_property
    def rows(self):
        """[RowOf] of the face, those round its edges not among them."""
        found, last = [], -1e9
        seen = {}
        for stroke in self.film.strokes:
            if stroke.row:
                seen.setdefault(stroke.row, stroke)
        for number, stroke in seen.items():
            y = round(stroke.at_mm * self.scale, 1)
            shown = y - last >= NUMBER_GAP
            last = y if shown else last
            found.append(RowOf(number, round(stroke.at_mm, 1), y, stroke.to_mm > stroke.from_mm, shown))
        return found

    @cached_property
    def fans(self):
        """[(x, y, half wide, half high)] of two fans that follow each other, in the middle of the face."""
        rows = self.rows
        if len(rows) < 2:
            return []
        n = max(1, min(len(rows) - 1, round(0.75 * len(rows))))
        half = self.film.gun.width_mm / 2 * self.scale
        wide = max(3.0, 2 * self.film.gun.sigma_mm * self.scale)
        return [(round(0.4 * self.width, 1), row.y, round(wide, 1), round(half, 1)) for row in rows[n - 1 : n + 1]]

    @cached_property
    def _corners(self):
        """The film in fields no finer than is seen, what is cut out filled up as it is beside."""
        um, by = self.film.um, max(1, round(max(self.film.um.shape) / COARSE))
        rows, columns = (n // by * by for n in um.shape)
        return um[:rows, :columns].reshape(rows // by, by, columns // by, by).mean(axis=(1, 3))

    def _path(self, low, high):
        corners = self._corners
        if not ((corners >= low) & (corners <= high)).any():
            return ""
        size = self.width, self.height
        lines = [line for line in relief.outlines(corners, low, high) if len(line) > 2]
        return "".join(_line(line, size) + "Z" for line in lines)

    @cached_property
    def thin(self):
        """The path of where it is thin."""
        return self._path(-1.0, self.film.wanted.low_um)

    @cached_property
    def thick(self):
        """The path of where it is thick."""
        return self._path(self.film.wanted.high_um, 1e9)

    @cached_property
    def dry(self):
        """The path of where it stays dry."""
        return self._path(-1.0, self.film.dry_um)

    @cached_property
    def sags(self):
        """The path of where it runs, "" where nobody told at how much."""
        most = self.film.wanted.sags_wet_um
        return self._path(most * self.film.wanted.solids, 1e9) if most is not None else ""

    @cached_property
    def plates(self):
        """[(x, y, film [µm], how it stands)] at places that are there."""
        um, hole = self.film.um, self.film.hole
        rows, columns = um.shape
        found = []
        for x, y in PLACES:
            r, c = min(int(y * rows), rows - 1), min(int(x * columns), columns - 1)
            at = (slice(max(0, r - 1), r + 2), slice(max(0, c - 1), c + 2))
            if hole[at].any():
                continue
            value = float(um[at].mean())
            how = "thin" if value < self.film.wanted.low_um else "thick" if value > self.film.wanted.high_um else "even"
            left = min(max(x * self.width, 19.0), self.width - 19.0)
            found.append((round(left, 1), round(min(max(y * self.height, 11.0), self.height - 11.0), 1), value, how))
        return found

    @cached_property
    def section_x(self):
        """Where the section is cut, as a share of the width: through the widest part that stands from top to bottom."""
        ends = sorted({0.0, self.film.panel.w_mm, *(v for x, _, r, _ in self.film.panel.openings for v in (x, r))})
        posts = [
            (b - a, (a + b) / 2)
            for a, b in itertools.pairwise(ends)
            if not any(x <= a and b <= r for x, _, r, _ in self.film.panel.openings)
        ]
        return (max(posts)[1] if posts else self.film.panel.w_mm / 2) / self.film.panel.w_mm

    @cached_property
    def section(self):
        """(the path of the film down the face, where low and high lie) beside the map."""
        column = self.film.um[:, min(int(self.section_x * self.film.um.shape[1]), self.film.um.shape[1] - 1)]
        most = max(float(column.max()), 1.25 * self.film.wanted.high_um)
        room, x0 = SIDE - 12.0, self.section_at

        def x(um):
            return round(x0 + room * um / most, 1)

        ys = np.linspace(0.0, self.height, column.size)
        line = "L".join(f"{x(um)} {y:.1f}" for um, y in zip(column, ys, strict=True))
        return f"M{x0} 0L{line}L{x0} {self.height}Z", x(self.film.wanted.low_um), x(self.film.wanted.high_um)

    @cached_property
    def bar(self):
        """[(x, wide, how)] of thin, even and thick in one bar."""
        found, x = [], 0.0
        for how, share in (("thin", self.film.thin), ("even", self.film.even), ("thick", self.film.thick)):
            wide = round(BAR * max(0.0, share), 1)
            if wide:
                found.append((round(x, 1), wide, how))
            x += wide
        return found

    @property
    def returns_um(self):
        """(least, most) mean film of the returns [µm], None without them."""
        means = [each.mean_um for each in self.film.returns]
        return (min(means), max(means)) if means else None


def _line(points, size):
    return "M" + "L".join(f"{x * size[0]:.1f} {y * size[1]:.1f}" for x, y in points)
