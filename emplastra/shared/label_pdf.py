"""Labels as a PDF: a sheet of them on the workshop's paper, or each on a page of its own."""

import io
import unicodedata
from dataclasses import dataclass
from functools import cache

import segno
from django.conf import settings
from django.contrib.staticfiles import finders
from fontTools.ttLib import TTFont as Woff
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from .answers import pdf

COLUMNS, ROWS = 3, 8
SINGLE = (62 * mm, 30 * mm)
"""One label of a roll: a common width. Common practice, no source."""
EDGE = 3 * mm
PLAIN, BOLD = "Label", "LabelBold"


@dataclass(frozen=True)
class Label:
    """What a label says: the code to type, the page that it leads to, and lines of text."""

    code: str
    address: str
    lines: tuple[str, ...]


def pdf_of(request, labels, name):
    """Labels as a file: `as=one` in the address gives each a page of its own."""
    single = request.GET.get("as") == "one"
    paper = LETTER if request.workshop.units == "us" else A4
    return pdf(name, _drawn(request, labels, SINGLE if single else paper, single))


def _drawn(request, labels, page, single):
    fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=page, invariant=1)
    canvas.setTitle("Labels")
    per_page = 1 if single else COLUMNS * ROWS
    wide, high = page if single else (page[0] / COLUMNS, page[1] / ROWS)
    for n, label in enumerate(labels):
        if n and n % per_page == 0:
            canvas.showPage()
        row, column = divmod(n % per_page, COLUMNS) if not single else (0, 0)
        _one(canvas, request, label, column * wide, page[1] - (row + 1) * high, wide, high)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _one(canvas, request, label, x, y, wide, high):
    """One label with its lower left corner at (x, y) [pt]."""
    side = min(high - 2 * EDGE, wide * 0.38)
    _code(canvas, request.build_absolute_uri(label.address), x + EDGE, y + (high - side) / 2, side)
    left, room = x + EDGE + side + 2 * mm, wide - side - 2 * EDGE - 2 * mm
    told = [(BOLD, 13, label.code), *((PLAIN, 8.5, line) for line in label.lines if line)]
    lines = [(font, size, each) for font, size, text in told for each in _wrapped(known(text, font), font, size, room)]
    at = y + high - EDGE
    for font, size, text in lines:
        at -= size * 1.15
        if at < y + EDGE * 0.5:
            break
        canvas.setFont(font, size)
        canvas.drawString(left, at, text)


def _code(canvas, text, x, y, side):
    """A QR code with its quiet zone, each run of dark modules one rectangle."""
    rows = [list(row) for row in segno.make(text, error="m").matrix_iter(border=2)]
    step = side / len(rows)
    for j, row in enumerate(rows):
        start = None
        for i, dark in enumerate([*row, 0]):
            if dark and start is None:
                start = i
            elif not dark and start is not None:
                canvas.rect(x + start * step, y + side - (j + 1) * step, (i - start) * step, step, stroke=0, fill=1)
                start = None


def _wrapped(text, font, size, room):
    """Lines of a text that fit a width [pt]; a word longer than that is broken."""
    lines, line = [], ""
    for word in text.split():
        for piece in _pieces(word, font, size, room):
            more = f"{line} {piece}".strip()
            if pdfmetrics.stringWidth(more, font, size) <= room:
                line = more
            else:
                lines, line = [*lines, line], piece
    return [each for each in (*lines, line) if each]


def _pieces(word, font, size, room):
    """A word in pieces that fit."""
    while pdfmetrics.stringWidth(word, font, size) > room and len(word) > 1:
        cut = next(
            n for n in range(len(word) - 1, 0, -1) if n == 1 or pdfmetrics.stringWidth(word[:n], font, size) <= room
        )
        yield word[:cut]
        word = word[cut:]
    yield word


def known(text, font):
    """A text in letters that the font has: others without their accents, or as a question mark."""
    has = pdfmetrics.getFont(font).face.charToGlyph
    plain = lambda letter: unicodedata.normalize("NFKD", letter)[0]  # noqa: E731
    return "".join(c if ord(c) in has else plain(c) if ord(plain(c)) in has else "?" for c in text)


@cache
def fonts():
    """Register the workshop's own letters, embedded in what is made."""
    for name, weight in ((PLAIN, 500), (BOLD, 700)):
        path = f"fonts/barlow-latin-{weight}-normal.woff2"
        font = Woff(finders.find(path) or settings.STATIC_ROOT / path)
        font.flavor = None
        data = io.BytesIO()
        font.save(data)
        data.seek(0)
        pdfmetrics.registerFont(TTFont(name, data))
