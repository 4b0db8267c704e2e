"""A stick for a pot, 1:1: how high each part stands in it."""

import io

from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from emplastra.core.units import show
from emplastra.shared.label_pdf import BOLD, PLAIN, fonts, known

LONGEST_MM = 235.0
WIDE_MM = 24.0


def stick_pdf(request, plan, diameter_mm, title):
    """A strip with the marks of a PotPlan [mm above the floor], and a measure to hold a rule against; PDF.

    What is higher than a page is left out and said.
    """
    fonts()
    units = request.workshop.units
    page = LETTER if units == "us" else A4
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=page, invariant=1)
    canvas.setTitle(f"Stick: {title}")
    left, floor = 30 * mm, 25 * mm
    height = min(LONGEST_MM, max(t.stick_mm or 0.0 for t in plan.targets) + 15)
    canvas.rect(left, floor, WIDE_MM * mm, height * mm)
    for n in range(int(height / 5) + 1):
        canvas.line(left, floor + 5 * n * mm, left + (4 if n % 2 else 7) * mm, floor + 5 * n * mm)
    for target in plan.targets:
        if target.stick_mm is None or target.stick_mm > LONGEST_MM:
            continue
        y = floor + target.stick_mm * mm
        canvas.setLineWidth(1.5)
        canvas.line(left, y, left + (WIDE_MM + 6) * mm, y)
        canvas.setLineWidth(0.5)
        canvas.setFont(BOLD, 11)
        canvas.drawString(left + (WIDE_MM + 8) * mm, y + 1, known(target.part.name, BOLD))
        canvas.setFont(PLAIN, 9)
        canvas.drawString(left + (WIDE_MM + 8) * mm, y - 9, show(target.stick_mm, "length", units))
    _words(canvas, page, plan, diameter_mm, title, units)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _words(canvas, page, plan, diameter_mm, title, units):
    """What it is for, and the measure that tells whether it was printed 1:1."""
    right = 110 * mm
    canvas.setFont(BOLD, 13)
    canvas.drawString(right, page[1] - 25 * mm, known(title, BOLD))
    canvas.setFont(PLAIN, 10)
    lines = [
        f"Straight-sided pot, {show(diameter_mm, 'length', units)} wide inside",
        "Print at 100 %, cut it out, stand it on the floor of the pot.",
        *("Left out, too high: " + t.part.name for t in plan.targets if (t.stick_mm or 0) > LONGEST_MM),
        "The bar below is 100 mm (3.94 in): hold a rule against it.",
    ]
    for n, line in enumerate(lines):
        canvas.drawString(right, page[1] - (33 + 6 * n) * mm, known(line, PLAIN)[:70])
    canvas.setLineWidth(2)
    canvas.line(right - 30 * mm, 12 * mm, right + 70 * mm, 12 * mm)
    for x in (-30, 70):
        canvas.line(right + x * mm, 9 * mm, right + x * mm, 15 * mm)
