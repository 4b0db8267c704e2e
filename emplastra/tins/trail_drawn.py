"""A batch as drawn: its tins side by side, what was poured as shafts into pots, the faces with what lies on them.

Written in code: a batch through two thousand coats is some hundreds of boxes.
"""

from dataclasses import dataclass

from django.urls import reverse
from django.utils.html import escape
from django.utils.safestring import mark_safe
from django.utils.text import Truncator

from emplastra.core.buying.trail import Lies, stretches
from emplastra.core.units import show
from emplastra.say.tins import amount

WIDE, LEFT = 900.0, 74.0
TIN_Y, TIN_H, POT_Y, POT_H, FLOOR, ROOM = 44.0, 56.0, 150.0, 66.0, 470.0, 190.0
MOST, LEAST = 14, 62.0
"""Stretches that are drawn, and the least width of one [px]."""


@dataclass
class Box:
    """A rectangle with what is written in it."""

    x: float
    y: float
    w: float
    h: float
    text: str = ""
    kind: str = ""
    note: str = ""

    def rect(self, name):
        """Itself as a rectangle of a class."""
        return f'<rect x="{self.x:.1f}" y="{self.y:.1f}" width="{self.w:.1f}" height="{self.h:.1f}" class="{name}" />'

    def word(self, dx, dy, name, rest="", text=None):
        """What is written in it (or other text), at a distance from its upper left corner."""
        x, y, said = self.x + dx, self.y + dy, escape(self.text if text is None else text)
        return f'<text x="{x:.1f}" y="{y:.1f}" class="{name}"{rest}>{said}</text>'

    def outline(self):
        """Itself as a pot."""
        side, floor = self.h - 8, self.w - 16
        vessel = f"M{self.x:.1f} {self.y:.0f} v{side:.0f} q0 8 8 8 h{floor:.1f} q8 0 8 -8 v{-side:.0f}"
        return f'<path d="{vessel}" class="t-pot" />' + self.word(5, 40, "t-number")

    def name(self):
        """Its text as the name of a face, aslant below it."""
        short = Truncator(self.text).chars(15)
        return self.word(0, 0, "t-name", f' transform="rotate(20 {self.x:.1f} {self.y:.0f})"', short)


@dataclass
class TrailDrawing:
    """Tins, shafts, pots and faces as boxes; how wide it all is; how many pots are not drawn."""

    tins: list
    held: Box | None
    shafts: list
    pots: list
    layers: list
    names: list
    width: float
    rest: int

    @property
    def inside(self):
        """All of it as SVG."""
        rim = '<path d="M{:.1f} {:.0f} h{:.1f}" class="t-rim" />'
        tins = (b.rect("t-tin") + rim.format(b.x - 3, b.y, b.w + 6) + b.word(6, 48, "t-word") for b in self.tins)
        middle = ' text-anchor="middle"'
        shafts = (
            b.rect("t-shaft") + (b.word(b.w / 2, 66 - b.y, "t-number", middle) if b.text else "") for b in self.shafts
        )
        pots = (_link(reverse("work:pot", args=[b.note]), b.outline()) for b in self.pots)
        layers = (b.rect(f"t-layer is-{b.kind}") + (b.word(4, 14, "t-um") if b.text else "") for b in self.layers)
        names = (_link(f"?face={b.note}", b.name()) for b in self.names)
        return mark_safe("".join([*tins, *self._held(), *shafts, *pots, *layers, *names]))  # our numbers, escaped words

    def _held(self):
        if self.held is None:
            return ()
        b = self.held
        return b.rect(f"t-held is-{b.kind}"), b.word(6, 24, "t-number"), b.word(6, 46, "t-word", text=b.kind)


def _link(url, inside):
    return f'<a href="{url}">{inside}</a>'


def drawing(trail, system):
    """Geometry of a Trail, written in a system of units; None where nothing was poured."""
    found = stretches(_pours(trail))
    shown, rest = found[-MOST:], max(0, len(found) - MOST)
    if not shown:
        return None
    poured = sum(s.high - s.low for s in shown)
    # What is left is drawn no wider than a third: it says nothing of where the batch lies.
    held = min(trail.left, 0.5 * poured)
    px = (WIDE - LEFT - 8 * len(shown)) / (poured + held)
    pots, faces = {pot.pk: pot for pot in trail.pots}, {face.zone.pk: face for face in trail.faces}
    out = TrailDrawing([], None, [], [], [], [], WIDE, rest)
    um = ROOM / max([150.0, *(_height(face.stack) for face in trail.faces)])
    x, codes = LEFT, {view.tin.pk: view.tin.code for view in trail.tins}
    for one in shown:
        w = max(LEAST, (one.high - one.low) * px)
        _tin(out, codes[one.tin], x, w)
        _pot(out, one, x, w, amount(one.high - one.low, trail.unit, system))
        _faces(out, [faces[zone.pk] for zone in pots[one.pot].faces], (x, w), um, system)
        x += w + 8
    x = _held(out, trail, x, held * px, system)
    out.width = max(WIDE, x + 4)
    return out


def _pours(trail):
    """[(tin id, pot id, how much)] of a batch."""
    return [(view.tin.pk, pot.pk, much) for pot in trail.pots for view, much in pot.poured if much > 0]


def _faces(out, faces, at, um, system):
    """The faces of a pot side by side at (x, width)."""
    x, step = at[0], at[1] / max(1, len(faces))
    for n, face in enumerate(faces):
        _stack(out, face, (x + n * step + 3, step - 6), um, system)


def _held(out, trail, x, w, system):
    """What is left of it, beside its tins; where it ends."""
    if trail.left <= 0:
        return x
    told, w = amount(trail.left, trail.unit, system), max(LEAST, w)
    out.held = Box(x, TIN_Y, w, TIN_H, told, "held" if trail.recall else "left")
    return x + w


def _tin(out, code, x, w):
    """A tin, or more of the one before."""
    if out.tins and out.tins[-1].text == code:
        out.tins[-1].w = x + w - out.tins[-1].x
    else:
        out.tins.append(Box(x, TIN_Y, w, TIN_H, code))


def _pot(out, one, x, w, told):
    """A pot under its tin, and what was poured into it."""
    out.shafts.append(Box(x + w * 0.3, TIN_Y + TIN_H, w * 0.4, POT_Y - TIN_Y - TIN_H, told))
    out.pots.append(Box(x + 3, POT_Y, w - 6, POT_H, f"P{one.pot}", note=str(one.pot)))


def _height(stack):
    return sum(layer.film_um or 20.0 for layer in stack.lies)


def _stack(out, face, at, um, system):
    """What lies on a face at (x, width), from the metal up; what was stripped as an empty outline."""
    (x, w), y = at, FLOOR
    out.layers.append(Box(x, y, w, 12, kind="metal"))
    seen = False
    for layer in face.stack.lies:
        h = max(3.0, (layer.film_um or 20.0) * um)
        y -= h
        seen = seen or layer.of_batch
        told = show(layer.film_um, "film", system) if layer.film_um and h > 16 and w > 44 else ""
        out.layers.append(Box(x, y, w, h, told, "batch" if layer.of_batch else "over" if seen else "below"))
    if face.stack.where is Lies.GONE:
        out.layers.append(Box(x, FLOOR - 30, w, 30, kind="gone"))
    out.shafts.append(Box(x + w * 0.35, POT_Y + POT_H, w * 0.3, max(4.0, y - POT_Y - POT_H)))
    out.names.append(Box(x, FLOOR + 28, w, 0, face.zone.name, note=str(face.zone.pk)))
