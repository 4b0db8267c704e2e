"""What is drawn in a dossier's PDF: the layers to scale, the gauge's ruler, the map, the years of looks."""

from math import ceil

from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.platypus import Flowable

from emplastra.core.piece.job_map import HEAD, WIDTH
from emplastra.core.words import film_q
from emplastra.shared.label_pdf import BOLD, PLAIN

from .dossier import METAL_PX, years_on

INK, SOFT, LINE, OXIDE, METAL, SHEET = (
    HexColor(c) for c in ("#24211c", "#6a6356", "#cdc3af", "#8c3a2b", "#8b939b", "#ffffff")
)
DASH = {"measured": (), "computed": (7, 1.5), "estimated": (4, 2.5), "assumed": (1, 2)}
"""How the outline of a figure says what it is known by."""
STEPS = (1.0, 1.8, 0.62, 2.8, 1.3)
"""Layers of one family are hatched closer or wider."""


def hatch(canvas, name, x, y, wide, high):
    """A hatch over a rectangle whose lower left is (x, y) [pt], in the ways of the pages."""
    family, _, n = name.removeprefix("h-").partition("-")
    step = 6.0 * STEPS[int(n)] if n.isascii() and n.isdecimal() and int(n) < len(STEPS) else 6.0
    canvas.saveState()
    path = canvas.beginPath()
    path.rect(x, y, wide, high)
    canvas.clipPath(path, stroke=0, fill=0)
    canvas.setStrokeColor(INK)
    canvas.setFillColor(INK)
    canvas.setLineWidth(0.45)
    _HATCHES.get(family, lambda *_: None)(canvas, x, y, wide, high, step)
    canvas.restoreState()


def _rise(canvas, x, y, wide, high, step):
    for k in range(ceil((wide + high) / step) + 1):
        canvas.line(x + k * step - high, y, x + k * step, y + high)


def _fall(canvas, x, y, wide, high, step):
    for k in range(ceil(wide / step) + 1):
        canvas.line(x + k * step, y, x + k * step, y + high)


def _lines(canvas, x, y, wide, high, step):
    for k in range(ceil(high / step) + 1):
        canvas.line(x, y + k * step, x + wide, y + k * step)


def _grid(canvas, x, y, wide, high, step):
    _fall(canvas, x, y, wide, high, step)
    _lines(canvas, x, y, wide, high, step)


def _dots(canvas, x, y, wide, high, step):
    for j in range(ceil(high / step) + 1):
        for i in range(ceil(wide / step) + 1):
            canvas.circle(x + (i + 0.5 * (j % 2)) * step, y + j * step, 0.6, stroke=0, fill=1)


def _waves(canvas, x, y, wide, high, step):
    for k in range(ceil(high / step) + 1):
        path, at = canvas.beginPath(), y + k * step
        path.moveTo(x, at)
        for i in range(ceil(wide / 12) + 1):
            a = x + i * 12
            path.curveTo(a + 3, at + 3, a + 3, at + 3, a + 6, at)
            path.curveTo(a + 9, at - 3, a + 9, at - 3, a + 12, at)
        canvas.drawPath(path, stroke=1, fill=0)


def _wide(canvas, x, y, wide, high, step):
    _rise(canvas, x, y, wide, high, 2 * step)


_HATCHES = {
    "rise": _rise,
    "fall": _fall,
    "lines": _lines,
    "grid": _grid,
    "dots": _dots,
    "waves": _waves,
    "wide": _wide,
    "metal": _rise,
}


class Drawing(Flowable):
    """A drawing as wide as the page."""

    def __init__(self, wide, high, told):
        super().__init__()
        self.width, self.height, self.told = wide, high, told

    def wrap(self, *_):
        return self.width, self.height

    def text(self, x, y, words, size=8.5, font=PLAIN, colour=INK, to="start", room=None):
        """Words at a place; those longer than the room are cut with an ellipsis."""
        words = self.told(words) if self.told else words
        if room is not None and stringWidth(words, font, size) > room:
            while words and stringWidth(f"{words}…", font, size) > room:
                words = words[:-1]
            words += "…"
        self.canv.setFont(font, size)
        self.canv.setFillColor(colour)
        draw = {"start": self.canv.drawString, "end": self.canv.drawRightString, "middle": self.canv.drawCentredString}
        draw[to](x, y, words)


ROW = 9.5 * mm


class AsBuilt(Drawing):
    """The layers from the metal, to scale, with each told beside it."""

    def __init__(self, page, wide, told):
        self.page = page
        scale = 0.62
        self.px = scale
        self.rows = max(len(page.strata) + 1, 1) * ROW
        super().__init__(wide, max(page.height * scale, self.rows) + 4 * mm, told)

    def draw(self):
        page, canvas = self.page, self.canv
        x, wide, foot = 14 * mm, 40 * mm, 2 * mm
        self._box(x, foot, wide, METAL_PX * self.px, METAL, "metal", "measured")
        self.text(x - 2 * mm, foot + 2, "metal", 8, colour=SOFT, to="end")
        n = len(page.strata)
        pitch = max(ROW, (self.height - 4 * mm) / (n + 1))
        for i, s in enumerate(page.strata):
            y, high = foot + s.y * self.px, s.height * self.px
            inset = 0 if not s.partly else wide * 0.35
            self._box(x + inset, y, wide - inset, high, HexColor(s.colour), s.hatch, s.basis)
            if s.broken:
                self._break(x + inset, y + high / 2, wide - inset)
            self.text(x - 2 * mm, y + high - 3, film_q(s.top_um, unit=False), 8, BOLD, to="end")
            at = foot + (i + 1) * pitch + 2 * mm
            canvas.setStrokeColor(LINE)
            canvas.setLineWidth(0.4)
            canvas.line(x + wide, y + high / 2, x + wide + 7 * mm, at + 1)
            self._told(s, x + wide + 9 * mm, at)
        self.text(x + wide + 9 * mm, foot + 2, self.page.over.capitalize(), 9, BOLD)

    def _told(self, s, x, y):
        film, how = self.told.stratum(s)
        when, batch = self.told.stratum_when(s)
        right = self.width - 42 * mm
        self.text(x, y, s.name, 9, BOLD, room=right - 28 * mm - x)
        self.text(
            x, y - 9, s.detail if not s.partly else f"{s.detail}, on a part", 8, colour=SOFT, room=right - 28 * mm - x
        )
        self.text(right - 4 * mm, y, film, 9.5, BOLD, to="end")
        self.text(right - 4 * mm, y - 9, how, 8, colour=SOFT, to="end")
        self.text(right, y, when, 8.5)
        self.text(right, y - 9, batch, 8, colour=SOFT, room=42 * mm)

    def _box(self, x, y, wide, high, colour, name, basis):
        canvas = self.canv
        canvas.setFillColor(colour)
        canvas.rect(x, y, wide, high, stroke=0, fill=1)
        hatch(canvas, name, x, y, wide, high)
        canvas.saveState()
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(0.9)
        canvas.setDash(*([list(DASH[basis])] if DASH.get(basis) else [[]]))
        canvas.rect(x, y, wide, high, stroke=1, fill=0)
        canvas.restoreState()

    def _break(self, x, y, wide):
        """The mark of what is not to scale."""
        canvas = self.canv
        canvas.setFillColor(SHEET)
        path = canvas.beginPath()
        for k, (a, b) in enumerate(((x - 2, y - 3), (x + wide + 2, y + 2), (x + wide + 2, y + 6), (x - 2, y + 1))):
            (path.lineTo if k else path.moveTo)(a, b)
        path.close()
        canvas.drawPath(path, stroke=0, fill=1)
        canvas.setStrokeColor(INK)
        canvas.line(x - 2, y - 3, x + wide + 2, y + 2)
        canvas.line(x - 2, y + 1, x + wide + 2, y + 6)


class Ruler(Drawing):
    """All readings of a gauge on one ruler, with what was asked."""

    def __init__(self, page, wide, told):
        self.page = page
        super().__init__(wide, 15 * mm, told)

    def draw(self):
        readings, asked, canvas = self.page.readings, self.page.asked, self.canv
        marks = [m for m in (asked.nominal_um, asked.least_um) if m] if asked else []
        low, high = min([*readings, *marks]), max([*readings, *marks])
        pad = max(4.0, 0.12 * (high - low))
        low, high = low - pad, high + pad
        at = lambda um: 2 * mm + (self.width - 4 * mm) * (um - low) / (high - low)  # noqa: E731
        y = 7 * mm
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(0.6)
        canvas.line(2 * mm, y, self.width - 2 * mm, y)
        canvas.setLineWidth(1.3)
        for um in readings:
            canvas.line(at(um), y - 5, at(um), y + 5)
        if asked:
            canvas.setDash([2, 2])
            canvas.setLineWidth(0.7)
            canvas.line(at(asked.nominal_um), y - 8, at(asked.nominal_um), y + 8)
            canvas.setDash([])
            self.text(at(asked.nominal_um), 1, f"asked {film_q(asked.nominal_um)}", 8, colour=SOFT, to="middle")
        mean = sum(readings) / len(readings)
        path = canvas.beginPath()
        path.moveTo(at(mean), y + 6)
        path.lineTo(at(mean) - 3, y + 11)
        path.lineTo(at(mean) + 3, y + 11)
        path.close()
        canvas.setFillColor(INK)
        canvas.drawPath(path, stroke=0, fill=1)
        self.text(at(readings[0]), y + 8, film_q(readings[0], unit=False), 8, colour=SOFT, to="middle")
        self.text(at(readings[-1]), y + 8, film_q(readings[-1], unit=False), 8, colour=SOFT, to="middle")


class MapDrawn(Drawing):
    """One view of the map, its faces by number."""

    def __init__(self, view, zones, wide, numbers):
        self.view, self.zones, self.numbers = view, zones, numbers
        self.scale = min(wide * 0.62 / WIDTH, 62 * mm / view.height)
        super().__init__(wide, view.height * self.scale + 2 * mm, None)

    def draw(self):
        canvas, k = self.canv, self.scale
        self.text(0, self.height - 11, self.view.name, 9.5, BOLD)
        left = (self.width - WIDTH * k) / 2
        for drawn in self.view.drawn:
            canvas.setStrokeColor(INK)
            canvas.setLineWidth(0.9)
            canvas.setFillColor(SHEET)
            kind, what = drawn.outline
            if kind == "polygon":
                path, points = canvas.beginPath(), [(left + x * k, self._y(y)) for x, y in what]
                path.moveTo(*points[0])
                for point in points[1:]:
                    path.lineTo(*point)
                path.close()
                canvas.drawPath(path, stroke=1, fill=1)
                middle = (sum(x for x, _ in points) / len(points), sum(y for _, y in points) / len(points))
            else:
                x, y, wide, high = left + what.x * k, self._y(what.y + what.h), what.w * k, what.h * k
                draw = canvas.ellipse if kind == "ellipse" else canvas.rect
                draw(*((x, y, x + wide, y + high) if kind == "ellipse" else (x, y, wide, high)), stroke=1, fill=1)
                middle = (x + wide / 2, y + high / 2)
            number = self.numbers.get(drawn.tile.key)
            if number:
                self.text(middle[0], middle[1] - 3.5, f"{number}", 10, BOLD, to="middle")

    def _y(self, y):
        return self.height - (y - HEAD / 2) * self.scale - 5


class YearLine(Drawing):
    """One look on the years to come: its number, what, its sign, a diamond at each day, the first one filled."""

    SPLIT = 0.5

    def __init__(self, look, number, dossier, wide, told):
        self.look, self.number, self.years, self.until = look, number, dossier.years, dossier.until
        super().__init__(wide, 9 * mm, told)

    @classmethod
    def head(cls, dossier, wide):
        """The years over the lines."""
        return _Years(dossier, wide)

    def draw(self):
        canvas, x = self.canv, self.width * self.SPLIT
        y = 3.6 * mm
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(0.8)
        canvas.circle(3 * mm, y + 1, 2.6 * mm, stroke=1, fill=0)
        self.text(3 * mm, y - 2, f"{self.number}", 8.5, BOLD, to="middle")
        self.text(8 * mm, y + 3, self.look.what, 9, BOLD, room=x - 10 * mm)
        self.text(8 * mm, y - 6.5, self.look.sign, 8, colour=SOFT, room=x - 10 * mm)
        canvas.setStrokeColor(SOFT)
        canvas.setDash([3, 3])
        canvas.line(x, y + 1, self.width, y + 1)
        canvas.setDash([])
        canvas.setStrokeColor(LINE)
        canvas.line(0, 0, self.width, 0)
        for n, day in enumerate(self.look.dates(self.until)):
            self._diamond(_at(day, self.years, x, self.width), y + 1, n == 0)

    def _diamond(self, x, y, filled):
        canvas, r = self.canv, 1.7 * mm
        path = canvas.beginPath()
        path.moveTo(x, y + r)
        for a, b in ((x + r, y), (x, y - r), (x - r, y)):
            path.lineTo(a, b)
        path.close()
        canvas.setStrokeColor(INK)
        canvas.setFillColor(INK if filled else SHEET)
        canvas.drawPath(path, stroke=1, fill=1)


def _at(day, years, x, wide):
    """Where a day lies on the years [pt]."""
    share = years_on(day, years[0]) / len(years)
    return x + (wide - x) * min(1.0, share)


class _Years(Drawing):
    """The years as a head."""

    def __init__(self, dossier, wide):
        self.years = dossier.years
        super().__init__(wide, 5 * mm, None)

    def draw(self):
        x = self.width * YearLine.SPLIT
        pitch = (self.width - x) / len(self.years)
        for n, year in enumerate(self.years):
            self.text(x + n * pitch, 1, f"{year}", 8, colour=SOFT)
        self.text(8 * mm, 1, "what, and its sign", 8, colour=SOFT)
