"""A dossier as a PDF: drawn by reportlab, which is imported here and in what this module imports alone."""

import io
from functools import cache
from html import escape

from django.conf import settings
from django.contrib.staticfiles import finders
from fontTools.ttLib import TTFont as Woff
from reportlab.lib.colors import HexColor
from reportlab.lib.enums import TA_RIGHT
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    BaseDocTemplate,
    Flowable,
    Frame,
    Image,
    KeepTogether,
    PageBreak,
    PageTemplate,
    Paragraph,
    Spacer,
    Table,
)

from emplastra.jobs.photos import file_of
from emplastra.shared.label_pdf import BOLD, PLAIN, fonts

from .pdf_drawn import AsBuilt, MapDrawn, Ruler, YearLine
from .told import Told

INK, SOFT, LINE, OXIDE = (HexColor(c) for c in ("#24211c", "#6a6356", "#cdc3af", "#8c3a2b"))
REST = "Rest"
EDGE = 16 * mm


def style(name, size, **more):
    """A paragraph's style: leading follows its size."""
    return ParagraphStyle(
        name, **({"fontName": PLAIN, "fontSize": size, "leading": size * 1.3, "textColor": INK} | more)
    )


BODY = style("body", 10)
SMALL = style("small", 8.5, textColor=SOFT)
RIGHT = style("right", 8.5, textColor=SOFT, alignment=TA_RIGHT)
LEAD = style("lead", 14, spaceAfter=4)
TITLE = style("title", 30, fontName=BOLD, spaceAfter=6)
H1 = style("h1", 20, fontName=BOLD, spaceAfter=2, keepWithNext=1)
H2 = style("h2", 12, fontName=BOLD, spaceBefore=10, spaceAfter=3, keepWithNext=1)
CELL = style("cell", 9)
CELL_SOFT = style("cell-soft", 8.5, textColor=SOFT)


@cache
def rest():
    """Register the letters that the workshop's own font lacks."""
    path = "fonts/dejavu-sans-rest.woff2"
    font = Woff(finders.find(path) or settings.STATIC_ROOT / path)
    font.flavor = None
    data = io.BytesIO()
    font.save(data)
    data.seek(0)
    pdfmetrics.registerFont(TTFont(REST, data))


def spelt(text):
    """A text for a paragraph: escaped, letters that the font lacks from the other one, those of neither as "?"."""
    has = pdfmetrics.getFont(PLAIN).face.charToGlyph
    more = pdfmetrics.getFont(REST).face.charToGlyph
    out, other = [], False
    for letter in text:
        code = ord(letter)
        needs = code not in has and code in more
        if needs != other:
            out.append(f'<font name="{REST}">' if needs else "</font>")
            other = needs
        out.append(escape(letter if code in has or needs else "?"))
    return "".join(out) + ("</font>" if other else "")


class Where(Flowable):
    """Tells the pages from here on which face they are of; takes no room."""

    def __init__(self, words):
        super().__init__()
        self.words = words

    def wrap(self, *_):
        return 0, 0

    def draw(self):
        self.canv.of_face = self.words


class Entry(Where):
    """A line of the outline that a reader shows beside the pages."""

    def draw(self):
        key = f"s{self.canv.getPageNumber()}-{abs(hash(self.words)) % 10_000_000}"
        self.canv.bookmarkPage(key)
        self.canv.addOutlineEntry(self.words, key, 0, True)


class Numbered(Canvas):
    """Pages that know how many there are: each is written once all are known."""

    head, foot = "", ""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.kept, self.of_face = [], ""

    def showPage(self):
        self.kept.append(dict(self.__dict__))
        self._startPage()

    def save(self):
        pages = self.kept
        for n, page in enumerate(pages, 1):
            self.__dict__.update(page)
            if n > 1:
                self._frame(n, len(pages))
            super().showPage()
        super().save()

    def _frame(self, n, of):
        wide, high = self._pagesize
        self.setFont(PLAIN, 8.5)
        self.setFillColor(SOFT)
        self.setStrokeColor(INK)
        self.setLineWidth(0.6)
        top = high - EDGE + 4 * mm
        self.line(EDGE, top - 2 * mm, wide - EDGE, top - 2 * mm)
        self.drawString(EDGE, top, self.head)
        self.drawRightString(
            wide - EDGE, top, f"{self.of_face} · page {n} of {of}" if self.of_face else f"page {n} of {of}"
        )
        self.line(EDGE, EDGE - 3 * mm, wide - EDGE, EDGE - 3 * mm)
        self.drawString(EDGE, EDGE - 7 * mm, self.foot)


class Maker:
    """Makes the PDF of a dossier."""

    def __init__(self, dossier, say=lambda share, words: None):
        fonts()
        rest()
        self.d, self.say = dossier, say
        self.told = Told(dossier.workshop)
        self.paper = LETTER if dossier.workshop.units == "us" else A4
        self.wide = self.paper[0] - 2 * EDGE

    def made(self):
        """The file's bytes."""
        out = io.BytesIO()
        d, told = self.d, self.told
        title = f"{d.job}: dossier"
        page = type(
            "Page",
            (Numbered,),
            {
                "head": self._plain(f"Owner’s dossier · {self._of()}"),
                "foot": self._plain(f"{d.workshop.name} · as of {told.day_year(d.as_of)}"),
            },
        )
        doc = BaseDocTemplate(
            out,
            pagesize=self.paper,
            title=title,
            author=d.workshop.name,
            invariant=1,
            initialFontName=PLAIN,
            leftMargin=EDGE,
            rightMargin=EDGE,
            topMargin=EDGE + 2 * mm,
            bottomMargin=EDGE,
        )
        frame = Frame(EDGE, EDGE, self.wide, self.paper[1] - 2 * EDGE - 3 * mm, 0, 0, 0, 0)
        doc.addPageTemplates(PageTemplate("all", [frame]))
        story = [*self._cover(), PageBreak(), *self._whole(), *self._faces(), *self._ends()]
        self.say(0.9, "setting the pages")
        doc.build(story, canvasmaker=page)
        return out.getvalue()

    def _plain(self, text):
        has = pdfmetrics.getFont(PLAIN).face.charToGlyph
        return "".join(c if ord(c) in has else "?" for c in self.told(text))

    def _of(self):
        label = f", for {self.d.job.owner_label}" if self.d.job.owner_label else ""
        return f"{self.d.job}{label}"

    def p(self, text, kind=BODY):
        """A paragraph; text in the words of the core."""
        return Paragraph(spelt(self.told(str(text))), kind)

    def b(self, *parts, kind=BODY):
        """A paragraph of (text, is bold)."""
        return Paragraph(
            "".join(
                f'<font name="{BOLD}">{spelt(self.told(t))}</font>' if bold else spelt(self.told(t))
                for t, bold in parts
            ),
            kind,
        )

    def table(self, head, rows, widths, kind=CELL):
        """A table whose head stands again on each page; widths: shares of the page."""
        cells = [[self.p(text, style("head", 8.5, fontName=BOLD)) for text in head]] if head else []
        cells += [[cell if isinstance(cell, Flowable) else self.p(cell, kind) for cell in row] for row in rows]
        made = Table(cells, [self.wide * w for w in widths], repeatRows=1 if head else 0)
        made.setStyle(
            [
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LINEBELOW", (0, 0), (-1, -1), 0.4, LINE),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("RIGHTPADDING", (0, 0), (-1, -1), 6),
                ("TOPPADDING", (0, 0), (-1, -1), 2.5),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
                *([("LINEBELOW", (0, 0), (-1, 0), 0.8, INK)] if head else []),
            ]
        )
        return made

    # The cover, and what is told of the whole piece

    def _cover(self):
        d, told = self.d, self.told
        story = [Spacer(1, 34 * mm), self.p("Owner’s dossier", SMALL), self.p(str(d.job), TITLE)]
        story.append(self.p(told.cover_line(d), LEAD))
        story += [Spacer(1, 3 * mm), *[self.p(line, BODY) for line in told.cover(d)]]
        if d.words:
            story += [Spacer(1, 5 * mm), *[self.p(line, BODY) for line in d.words.splitlines() if line.strip()]]
        after = [photo for page in d.faces for photo in page.photos if photo.when == "after"]
        if d.has("photos") and after and (picture := self._picture(after[-1], self.wide * 0.62)):
            story += [Spacer(1, 6 * mm), picture, self.p(f"{after[-1].zone}, {told.day(after[-1].recorded)}", SMALL)]
        story += [Spacer(1, 6 * mm), self.p(told.how_to_read, SMALL)]
        return story

    def _whole(self):
        d, story = self.d, []
        if d.has("map") and d.faces:
            story += [
                Entry("Map and faces"),
                self.p("Map and faces", H1),
                *[MapDrawn(view, d.zones, self.wide, {p.zone.pk: p.number for p in d.faces}) for view in d.views],
                Spacer(1, 3 * mm),
            ]
        if d.faces:
            head = ("", "Face", "What it is", "What lies on it", "Look first")
            story.append(
                self.table(head, [self.told.face_row(page) for page in d.faces], (0.05, 0.25, 0.27, 0.2, 0.23))
            )
        if d.has("decided") and d.decisions:
            story += [
                Entry("Verdicts and decisions"),
                self.p("Verdicts and decisions", H2),
                self.table(
                    ("What", "Repair or replace", "Decided"),
                    [self.told.decision_row(row) for row in d.decisions],
                    (0.28, 0.4, 0.32),
                ),
            ]
        return story

    # A face

    def _faces(self):
        story, total = [], len(self.d.faces)
        for page in self.d.faces:
            self.say(0.45 + 0.4 * page.number / max(1, total), f"face {page.number} of {total}")
            story += [
                PageBreak(),
                Where(self._plain(f"face {page.number} of {total}")),
                Entry(self._plain(page.zone.name)),
                *self._face(page),
            ]
        return story

    def _face(self, page):
        told = self.told
        story = [self.p(page.zone.name, H1), self.b(*told.headline(page), kind=LEAD), self.p(told.about(page), SMALL)]
        for part, make in FACE_PARTS.items():
            if self.d.has(part):
                story += make(self, page)
        return story

    def _found(self, page):
        rows = [(name, [self.p(f"– {self.told.statement(s)}", CELL) for s in told]) for name, told in page.found]
        return [flowable for name, told in rows for flowable in (self.p(name, H2), *told)]

    def _film(self, page):
        if not page.readings:
            return []
        said = self.b(("Gauge", True), (self.told.gauged(page), False))
        return [KeepTogether([said, Ruler(page, self.wide, self.told)])]

    def _coats(self, page):
        rows = [self.told.coat_row(line) for line in page.coats]
        head, widths = ("When", "Coat", "Film", "Batch", "Air"), (0.17, 0.27, 0.14, 0.2, 0.22)
        return self._under("Every coat", self.table(head, rows, widths)) if rows else []

    def _accepted(self, page):
        rows = [self.told.accepted_row(row) for row in page.accepted]
        return self._under("Accepted, with a reason", self.table((), rows, (0.62, 0.38))) if rows else []

    def _away(self, page):
        return self._listed("Away", [self.told.away(line) for line in page.contractor])

    def _kept(self, page):
        return self._listed("Marks and what is kept of it", page.kept)

    def _left(self, page):
        return self._listed("Left as it was, or put off", [self.told.left(row) for row in page.left])

    def _watch(self, page):
        if not page.looks:
            return []
        rows = [YearLine(look, n, self.d, self.wide, self.told) for n, look in enumerate(page.looks, 1)]
        return [KeepTogether([self.p("What to watch", H2), YearLine.head(self.d, self.wide), *rows])]

    def _under(self, heading, *what):
        return [self.p(heading, H2), *what]

    def _listed(self, heading, lines):
        return self._under(heading, *[self.p(f"– {line}", CELL) for line in lines]) if lines else []

    def _photos(self, page):
        photos = [(photo, self._picture(photo, self.wide / 4 - 6)) for photo in page.photos[:8]]
        shown = [(photo, picture) for photo, picture in photos if picture is not None]
        gone = sum(picture is None for _, picture in photos)
        story = []
        for n in range(0, len(shown), 4):
            row = shown[n : n + 4]
            told = [
                [
                    self.b(
                        (self.told.day(p.recorded), True),
                        (f" {p.note or p.get_when_display().lower()}", False),
                        kind=CELL,
                    )
                ]
                for p, _ in row
            ]
            cells = [[pic, text[0]] for (_, pic), text in zip(row, told, strict=True)]
            made = Table([cells + [Spacer(1, 1)] * (4 - len(cells))], [self.wide / 4] * 4)
            made.setStyle(
                [
                    ("VALIGN", (0, 0), (-1, -1), "TOP"),
                    ("LEFTPADDING", (0, 0), (-1, -1), 0),
                    ("TOPPADDING", (0, 0), (-1, -1), 4),
                ]
            )
            story.append(made)
        if gone:
            story.append(self.p(f"{gone} of its photos cannot be found: their files are missing.", SMALL))
        return story

    def _picture(self, photo, wide):
        path = file_of(photo, "small") or file_of(photo)
        if path is None:
            return None
        high = wide * photo.height / max(1, photo.width)
        return Image(str(path), wide, min(high, wide), hAlign="LEFT")

    def _built(self, page):
        if not page.strata:
            return []
        head = [self.p("As built", H2), self.p(self.told.built_note(page), SMALL)]
        return [KeepTogether([*head, AsBuilt(page, self.wide, self.told)])]

    # What is told of the whole at the end

    def _ends(self):
        story = []
        for part, make in END_PARTS:
            if self.d.has(part):
                story += make(self)
        return [PageBreak(), Where(""), *story] if story else []

    def _section(self, heading, head, rows, widths, after=()):
        """A table under a heading that a reader's outline names; nothing where it has no row."""
        if not rows:
            return []
        return [Entry(heading), self.p(heading, H2), self.table(head, rows, widths), *after]

    def _looks(self):
        rows = [self.told.look_row(look, names) for look, names in self.d.schedule]
        head = ("First", "Again", "What", "Its sign", "Where")
        return self._section("Where to look, and when", head, rows, (0.12, 0.13, 0.25, 0.27, 0.23))

    def _may(self):
        rows = [self.told.may_row(may) for may in self.d.may]
        head = ("From", "What", "How", "Why")
        return self._section("When it may be washed, polished, waxed", head, rows, (0.2, 0.24, 0.34, 0.22))

    def _touch(self):
        rows = [self.told.touch_row(row) for row in self.d.touch]
        after = [self.p(self.told.touch_caution(self.d.touch), SMALL)]
        head = ("Layer", "Batch", "Kept", "A little of it")
        return self._section("A chip is touched up with", head, rows, (0.28, 0.2, 0.26, 0.26), after)

    def _colours(self):
        return self._listed("Colours", [self.told.colour(*row) for row in self.d.colours])

    def _quiet(self):
        rows = [self.told.quiet(row) for row in self.d.quiet if row.quiet]
        return self._listed("Rules that were quiet for this job", rows)

    def _off(self):
        rows = [self.told.part_row(part, said) for part, said in self.d.off]
        head = ("Part", "Fixings", "Kept", "What became of it")
        return self._section("Taken off", head, rows, (0.25, 0.3, 0.2, 0.25))

    def _hours(self):
        money = self.d.money
        after = [self.p(self.told.cost(money), BODY)]
        return self._section("Hours and cost", ("Work", "Hours"), self.told.hours(money), (0.6, 0.4), after)


FACE_PARTS = {
    "photos": Maker._photos,
    "found": Maker._found,
    "built": Maker._built,
    "film": Maker._film,
    "coats": Maker._coats,
    "accepted": Maker._accepted,
    "contractor": Maker._away,
    "kept": Maker._kept,
    "left": Maker._left,
    "watch": Maker._watch,
}
"""What is told of a face, in order: a key of handing.PARTS, and what makes it."""
END_PARTS = (
    ("watch", Maker._looks),
    ("watch", Maker._may),
    ("watch", Maker._touch),
    ("kept", Maker._colours),
    ("accepted", Maker._quiet),
    ("off", Maker._off),
    ("hours", Maker._hours),
)
"""What is told of the whole at the end, in order."""


def dossier_pdf(dossier, say=lambda share, words: None):
    """The bytes of a dossier's PDF."""
    return Maker(dossier, say).made()
