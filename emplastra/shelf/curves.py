"""Times over temperature, drawn: what a table says between its points, beyond them and where it stands still."""

import math
from dataclasses import dataclass

from django.utils.html import escape
from django.utils.safestring import mark_safe

from emplastra.core.product.spoken import duration
from emplastra.core.units import convert

WIDTH, HEIGHT, LEFT, RIGHT, TOP, BOTTOM = 340.0, 190.0, 52.0, 8.0, 22.0, 26.0
LADDER = (1, 2, 5, 10, 20, 30, 60, 120, 240, 480, 720, 1440, 2880, 4320, 10080, 20160, 43200, 131400)
"""Times at which lines may stand [min]."""
STEP_C = 1.0


@dataclass(frozen=True)
class Line:
    """A curve to draw: its table, what it is ("opens", "closes" or a time), and its words."""

    table: object
    role: str
    words: str


class Picture:
    """The frame of a chart: temperatures across, times upward on a scale of their logarithms."""

    def __init__(self, lines, now_c, system):
        points = [p for line in lines for row in _rows(line.table) for p in row]
        temps, times = [t for t, _ in points], [m for _, m in points]
        self.low_c, self.high_c = min(0.0, min(temps) - 5), max(40.0, max(temps) + 5)
        if now_c is not None:
            self.low_c, self.high_c = min(self.low_c, now_c - 2), max(self.high_c, now_c + 2)
        self.low_m, self.high_m = min(times) / 2.2, max(times) * 3.0
        self.system = system

    def x(self, temp_c):
        """Abscissa of a temperature [°C]."""
        share = (temp_c - self.low_c) / (self.high_c - self.low_c)
        return round(LEFT + share * (WIDTH - LEFT - RIGHT), 1)

    def y(self, minutes):
        """Ordinate of a time [min]."""
        share = math.log(minutes / self.low_m) / math.log(self.high_m / self.low_m)
        return round(HEIGHT - BOTTOM - min(1.0, max(0.0, share)) * (HEIGHT - TOP - BOTTOM), 1)

    def grid(self):
        """Lines at times, the temperatures below."""
        floor, marks = HEIGHT - BOTTOM, [m for m in LADDER if self.low_m * 1.1 < m < self.high_m / 1.1]
        while len(marks) > 4:
            marks = marks[::2]
        for m in marks:
            y = self.y(m)
            yield f'<line x1="{LEFT}" y1="{y}" x2="{WIDTH - RIGHT}" y2="{y}" class="cv-grid"/>'
            yield f'<text x="{LEFT - 6}" y="{y + 4}" class="cv-num">{duration(m)}</text>'
        yield f'<line x1="{LEFT}" y1="{floor}" x2="{WIDTH - RIGHT}" y2="{floor}" class="cv-axis"/>'
        *rest, (last_c, last) = self.degrees()
        for temp_c, value in rest:
            yield f'<text x="{self.x(temp_c)}" y="{floor + 18}" class="cv-deg">{value:.0f}</text>'
        end = min(self.x(last_c) + 22, WIDTH - 2)
        yield f'<text x="{end}" y="{floor + 18}" class="cv-num">{last:.0f} {self.unit}</text>'

    @property
    def unit(self):
        """The unit of its temperatures."""
        return "°F" if self.system == "us" else "°C"

    def degrees(self):
        """[(°C, value as it is shown)] of the temperatures below, at most six."""
        shown = range(-40, 760, 20) if self.system == "us" else range(-60, 410, 10)
        every = [(convert(v, self.unit, "°C"), v) for v in shown]
        inside = [pair for pair in every if self.low_c <= pair[0] <= self.high_c]
        return inside[:: max(1, len(inside) // 5)]


def _rows(table):
    return [points for _, points in table.rows] if table.rows else [table.points]


def curve(lines, now_c=None, system="metric", untold=False):
    """SVG of curves over temperature; a window's opens and closes with what lies open between them. "" for none.

    untold: nobody told until when a window is open, which is not the same as no limit.
    """
    lines = [line for line in lines if line.table is not None]
    if not lines:
        return ""
    frame = Picture(lines, now_c, system)
    parts = [*frame.grid(), *(_until_when(frame, lines) if untold else _open_area(frame, lines))]
    for line in lines:
        parts += _drawn(frame, line)
    if now_c is not None and frame.low_c < now_c < frame.high_c:
        parts += _now(frame, lines, now_c)
    title = escape("; ".join(line.words for line in lines))
    body = "".join(parts)
    return mark_safe(  # numbers of ours, words escaped
        f'<svg viewBox="0 0 {WIDTH:.0f} {HEIGHT:.0f}" class="curve" role="img" aria-label="{title}">{body}</svg>'
    )


def _sampled(frame, table, rh=50.0):
    """(temperature, minutes, whether it lies in the table's points) at each step where it moves on."""
    points = table.points or table.rows[0][1]
    low, high = points[0][0], points[-1][0]
    steps = (frame.low_c + n * STEP_C for n in range(int(frame.high_c - frame.low_c) + 1))
    for t in sorted({*(t for t, _ in points), *steps}):
        minutes = table.minutes_at(t, rh)
        if minutes is not None:
            yield t, minutes, low - 1e-6 <= t <= high + 1e-6


def _path(frame, samples):
    return " ".join(f"{frame.x(t)},{frame.y(m)}" for t, m, _ in samples)


def _drawn(frame, line):
    """A curve for each humidity that its table has, its points, and where it stands still."""
    for rh, points in line.table.rows or ((None, line.table.points),):
        yield from _one(frame, line, rh, points)
        if rh is not None:
            t, m = points[-1]
            yield f'<text x="{frame.x(t) - 4}" y="{frame.y(m) - 6}" class="cv-deg">{rh:g} %</text>'
    still = line.table.stands_still_below_c
    if still is not None and still > frame.low_c:
        x, y0, y1 = frame.x(still), TOP, HEIGHT - BOTTOM
        width = max(0.0, x - LEFT)
        yield f'<rect x="{LEFT}" y="{y0}" width="{width:.1f}" height="{y1 - y0}" class="cv-still" fill="url(#h-fall)"/>'
        yield f'<line x1="{x}" y1="{y0}" x2="{x}" y2="{y1}" class="cv-line cv-out"/>'


def _one(frame, line, rh, points):
    """One curve: inside its points as told, beyond them as it is taken; a dot for each point."""
    basis = "assumed" if line.table.assumed else "sheet"
    samples = list(_sampled(frame, line.table, rh or 50.0))
    low, high = points[0][0], points[-1][0]
    parts = (
        ([s for s in samples if s[0] <= low], "out"),
        ([s for s in samples if s[2]], "in"),
        ([s for s in samples if s[0] >= high], "out"),
    )
    for part, kind in parts:
        if len(part) > 1:
            yield f'<polyline points="{_path(frame, part)}" class="cv-line cv-{line.role} cv-{kind} cv-{basis}"/>'
    for t, m in points:
        yield f'<circle cx="{frame.x(t)}" cy="{frame.y(m)}" r="4.5" class="cv-dot cv-{line.role} cv-{basis}"/>'


def _open_area(frame, lines):
    """What lies open between a window's opening and its close."""
    opens = next((line.table for line in lines if line.role == "opens"), None)
    if opens is None or opens.rows:  # a time that is no window has no close, and nothing lies open after it
        return
    pairs = _between(frame, opens, next((line.table for line in lines if line.role == "closes"), None))
    if len(pairs) > 1:
        up = " ".join(f"{frame.x(t)},{frame.y(m)}" for t, m, _ in pairs)
        down = " ".join(f"{frame.x(t)},{frame.y(top)}" for t, _, top in reversed(pairs))
        yield f'<polygon points="{up} {down}" class="cv-area"/>'


def _until_when(frame, lines):
    """Above an opening whose close nobody told: not open, and said so."""
    opens = next((line.table for line in lines if line.role == "opens"), None)
    pairs = [] if opens is None or opens.rows else _between(frame, opens, None)
    if len(pairs) > 1:
        up = " ".join(f"{frame.x(t)},{frame.y(m)}" for t, m, _ in pairs)
        top = frame.y(frame.high_m)
        ends = f"{frame.x(pairs[-1][0])},{top} {frame.x(pairs[0][0])},{top}"
        yield f'<polygon points="{up} {ends}" class="cv-untold" fill="url(#h-dots)"/>'
        yield f'<text x="{WIDTH - RIGHT - 6}" y="{TOP + 18}" class="cv-num">until when? cannot say</text>'


def _between(frame, opens, closes):
    """[(temperature, opens, closes)] where a window is open."""
    tops = _tops(frame, closes)
    found = [(t, m, tops.get(t, 0.0) if tops else frame.high_m) for t, m, _ in _sampled(frame, opens)]
    return [each for each in found if each[2] > each[1]]


def _tops(frame, closes):
    """{temperature: when it closes}, empty where it does not, or differs by humidity."""
    return {} if closes is None or closes.rows else {t: m for t, m, _ in _sampled(frame, closes)}


def _now(frame, lines, now_c):
    """The temperature here, and where it meets each curve."""
    x = frame.x(now_c)
    yield f'<line x1="{x}" y1="{TOP - 4}" x2="{x}" y2="{HEIGHT - BOTTOM}" class="cv-now"/>'
    value = convert(now_c, "°C", frame.unit)
    anchor, aside = ("start", 5) if x < WIDTH / 2 else ("end", -5)
    words = f"here {value:.1f} {frame.unit}"
    yield f'<text x="{x + aside}" y="{TOP - 8}" text-anchor="{anchor}" class="cv-here">{words}</text>'
    for line in lines:
        minutes = line.table.minutes_at(now_c)
        if minutes is not None and frame.low_m < minutes < frame.high_m:
            y = frame.y(minutes)
            yield f'<rect x="{x - 4:.1f}" y="{y - 4:.1f}" width="8" height="8" class="cv-at cv-{line.role}"/>'
