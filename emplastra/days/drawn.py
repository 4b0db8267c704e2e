"""Days as they are drawn: each a sheet as tall as its hours, each face's work a layer in it as thick as it takes.

Ropes carry a face from sheet to sheet: hatched while the next may not follow, open once it may, a wedge to its end.

Faces keep their order: what goes on longest lies lowest, so that ropes do not cross.
"""

from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date, datetime, time, timedelta

from emplastra.core.air.dewpoint import SPREAD_MIN_K
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.steps import STEPS
from emplastra.core.text import shortened
from emplastra.core.words import kelvin_q

WIDE, LEFT, NARROW_W, GAP = 1198.0, 236.0, 26.0, 26.0
TALL, FOOT, REST = 290.0, 386.0, 3.0
HEAD = 62.0
MOST_DAYS = 14
LETTER = 6.6
LABEL_H = 13.0
HATCHES = {
    StepKind.STRIP: "wide", StepKind.PRIME: "dots", StepKind.STRIPE: "dots", StepKind.CONVERT: "waves", StepKind.ENCAPSULATE: "grid",
    StepKind.FILL: "wide", StepKind.BLOCK: "rise", StepKind.ABRADE: "rise", StepKind.SURFACE: "lines", StepKind.SEAL: "lines",
    StepKind.BASE: "fall", StepKind.MID: "fall", StepKind.CLEAR: "grid", StepKind.SINGLE_STAGE: "fall", StepKind.TEXTURE: "waves",
}  # fmt: skip
"""Hatch of a face's work by what leaves most of it."""


@dataclass
class Layer:
    """A face's work of a day: its place in the sheet, acts in words, hatch; acts: its rows."""

    y: float
    height: float
    face: str
    words: str
    hatch: str
    acts: list = field(default_factory=list)
    under: str = ""
    is_missed: bool = False

    @property
    def words_y(self):
        """Where its words stand."""
        return round(self.middle + (-3.0 if self.under else 4.5), 1)

    @property
    def middle(self):
        """Half its height."""
        return round(self.y + self.height / 2, 1)

    @property
    def ids(self):
        """Ids of its acts, with commas between."""
        return ",".join(row["id"] for row in self.acts)

    @property
    def zone(self):
        """The zone that it is of, None for access."""
        return self.acts[0]["zone"] if self.acts else None


@dataclass
class Day:
    """A day's sheet: x, width, top, height; hours that people have and that are planned; layers from the bottom."""

    day: date
    x: float
    width: float
    opens_s: float
    closes_s: float
    has_h: float
    used_h: float
    height: float = 0.0
    layers: list = field(default_factory=list)
    rests: list = field(default_factory=list)
    is_assumed: bool = False
    most_h: float = 0.0
    clear_k: float | None = None
    cap_y: float | None = None
    stack_y: float = 0.0

    @property
    def top(self):
        """Where the sheet begins."""
        return round(FOOT - self.height, 1)

    @property
    def has_cap(self):
        """True where 9 of 10 draws come to more than is planned, but not out of the picture."""
        return self.cap_y is not None and self.cap_y > HEAD

    @property
    def clear_said(self):
        """How far the air stays over its dew point, in words."""
        return f"{kelvin_q(self.clear_k)} over dew"

    @property
    def is_damp(self):
        """True where the air comes near its dew point."""
        return self.clear_k is not None and self.clear_k < SPREAD_MIN_K

    @property
    def is_shut(self):
        """True where nobody is there."""
        return self.has_h <= 0

    @property
    def is_over(self):
        """True where more is planned than there are hours."""
        return self.used_h > self.has_h + 0.01


@dataclass(frozen=True)
class Rope:
    """A face between two of its sheets: path of the part that may not yet, that may, the wedge, its post."""

    waits: str = ""
    may: str = ""
    wedge: str = ""
    post: tuple | None = None


@dataclass(frozen=True)
class Label:
    """A face at the left: its name, where its label and its first layer lie."""

    name: str
    y: float
    to_y: float
    zone: int | None
    said: str = ""


@dataclass(frozen=True)
class Block:
    """One act of somebody's day: its place, its words, whose face; row: the act."""

    x: float
    y: float
    width: float
    height: float
    words: str
    under: str
    row: dict

    @property
    def words_y(self):
        """Where its words stand."""
        return round(self.y + (13.0 if self.under else self.height / 2 + 4.5), 1)


@dataclass
class Sheets:
    """The whole picture; blocks: by person, in the order of the day from the top."""

    days: list
    ropes: list
    labels: list
    more: int = 0
    blocks: list = field(default_factory=list)
    people: list = field(default_factory=list)

    @property
    def height(self):
        """How tall it is."""
        return FOOT + 16.0


def sheets(acts, says, zone, now_s, by_person=False):
    """Sheets of a plan's rows; zone: the workshop's; now_s: when it is looked at [epoch s]."""
    drawing = _Drawing(acts, says, zone, now_s)
    return drawing.by_person() if by_person else drawing.made()


class _Drawing:
    """One picture in the making."""

    def __init__(self, acts, says, zone, now_s):
        self.acts, self.says, self.zone, self.now_s = acts, says, zone, now_s
        self.handled = [row for row in acts if row["who"]]
        self.faces = {}
        for row in acts:
            self.faces.setdefault(row["face"], []).append(row)
        # What ends last lies lowest; of equals the one with more to do.
        self.order = sorted(self.faces, key=lambda f: (-max(r["end"] for r in self.faces[f]), -len(self.faces[f]), f))

    def made(self):
        days, more = self._days()
        for day in days:
            self._stack(day)
        ropes = [rope for face in self.order for rope in self._ropes(face, days)]
        return Sheets(days, ropes, self._labels(days), more)

    def by_person(self):
        """Each day's sheet with a strip for everybody, their acts from the morning down."""
        days, more = self._days()
        people = list(self.says["crew"])
        found = Sheets(days, [], [], more)
        for day in days:
            day.height = TALL
            width = day.width / max(1, len(people))
            hour = TALL / max(1.0, (day.closes_s - day.opens_s) / 3600)
            for k, who in enumerate(people if not day.is_shut else ()):
                x = day.x + k * width
                found.people.append((round(x + 3, 1), shortened(who, int(width / LETTER))))
                mine = [r for r in self.handled if r["who"] == who and self._day_of(r["begin"]) == day.day]
                found.blocks += [self._block(r, day, x, width, hour) for r in mine]
        return found

    def _block(self, row, day, x, width, hour):
        y = FOOT - TALL + (row["begin"] - day.opens_s) / 3600 * hour
        height = max(REST, (row["end"] - row["begin"]) / 3600 * hour - 1)
        room = int(width / LETTER)
        words = shortened(row["name"], room) if height >= LABEL_H and room > 3 else ""
        under = shortened(row["face"], room) if height >= 2 * LABEL_H + 3 and room > 3 else ""
        return Block(round(x, 1), round(y, 1), round(width - 1, 1), round(height, 1), words, under, row)

    def _day_of(self, t_s):
        return datetime.fromtimestamp(t_s, self.zone).date()

    def _days(self):
        """Days from today to the last with work, at most so many; how many more there are."""
        first = self._day_of(self.now_s)
        last = max((self._day_of(r["end"] - 1) for r in self.handled), default=first)
        count = (last - first).days + 1
        shown = [first + timedelta(days=k) for k in range(min(count, MOST_DAYS))]
        has = {day: self._hours(day) for day in shown}
        wide = [d for d in shown if has[d][2] > 0]
        room = WIDE - LEFT - GAP * len(shown) - NARROW_W * (len(shown) - len(wide))
        width = room / max(1, len(wide))
        tallest = max([1.0, *(h for _, _, h in has.values()), *(self._used(d) for d in shown)])
        self.per_h = TALL / tallest
        days, x = [], LEFT + GAP
        for day in shown:
            opens, closes, hours = has[day]
            w = width if hours > 0 else NARROW_W
            made = Day(day, round(x, 1), round(w, 1), opens, closes, hours, self._used(day))
            made.clear_k = self.says.get("clear", {}).get(day.isoformat())
            made.most_h = (self.says.get("risk") or {}).get("hours", {}).get(day.isoformat(), 0.0)
            made.is_assumed = self.says.get("forecast") is not None and closes > self.says["forecast"]
            days.append(made)
            x += w + GAP
        return days, count - len(shown)

    def _hours(self, day):
        """(opens, closes [epoch s], hours of all people [h]) of a day."""
        a, b = (datetime.combine(d, time(0), tzinfo=self.zone).timestamp() for d in (day, day + timedelta(days=1)))
        spans = [(max(x, a), min(y, b)) for some in self.says["crew"].values() for x, y in some if x < b and y > a]
        hours = sum(y - x for x, y in spans) / 3600
        noon = (a + b) / 2
        opens = min((x for x, _ in spans), default=noon)
        return opens, max((y for _, y in spans), default=noon), hours

    def _used(self, day):
        return sum(r["end"] - r["begin"] for r in self.handled if self._day_of(r["begin"]) == day) / 3600

    def _stack(self, day):
        """Lay the day's work in its sheet from the bottom, faces that rest between as lines."""
        y, today = FOOT, {}
        for row in self.handled:
            if self._day_of(row["begin"]) == day.day:
                today.setdefault(row["face"], []).append(row)
        for face in self.order:
            rows = today.get(face)
            if rows:
                height = max(REST, sum(r["end"] - r["begin"] for r in rows) / 3600 * self.per_h)
                y -= height
                day.layers.append(self._layer(face, rows, y, height, day.width))
            elif self._is_alive(face, day):
                y -= REST
                day.rests.append((face, round(y + REST / 2, 1)))
        day.stack_y = round(y, 1)
        day.cap_y = round(y - (day.most_h - day.used_h) * self.per_h, 1) if day.most_h > day.used_h + 0.05 else None
        day.height = round(max(FOOT - y, day.has_h * self.per_h + REST * len(day.rests)), 1)

    def _layer(self, face, rows, y, height, width):
        kinds = [r["kind"] for r in rows if r["kind"] in HATCHES]
        hatch = HATCHES[kinds[-1]] if kinds else "plain"
        layer = Layer(round(y, 1), round(height - 1, 1), face, "", hatch, rows)
        layer.is_missed = any(r["missed"] for r in rows)
        room = int((width - 26) / LETTER)
        if height >= LABEL_H:
            layer.words = fitted(rows, room)
        if height >= 2 * LABEL_H + 3:
            layer.under = shortened(face, max(4, room))
        return layer

    def _is_alive(self, face, day):
        rows = self.faces[face]
        return min(r["begin"] for r in rows) < day.closes_s and max(r["end"] for r in rows) > day.opens_s

    def _at(self, face, day):
        """Where a face lies in a day's sheet: the middle of its layer or line, None where it does not."""
        found = next((layer.middle for layer in day.layers if layer.face == face), None)
        return found if found is not None else next((y for name, y in day.rests if name == face), None)

    def _ropes(self, face, days) -> Iterator[Rope]:
        """Ropes of a face from each sheet to the next, and through sheets in which it rests."""
        rows = sorted(self.faces[face], key=lambda r: r["begin"])
        for i, day in enumerate(days[:-1]):
            a, b = self._at(face, day), self._at(face, days[i + 1])
            if a is not None and b is not None:
                later = next((r for r in rows if r["begin"] >= days[i + 1].opens_s - 1), None)
                yield self._rope(day, days[i + 1], a, b, later)

    def _foot(self, face, day, otherwise):
        """Where a wedge lies in a face's layer: along its foot, clear of its words."""
        return next((layer.y + layer.height - 4 for layer in day.layers if layer.face == face), otherwise)

    def _rope(self, day, then, a, b, later):
        """One rope over the gap between two sheets; later: the act it leads to."""
        x, end = day.x + day.width, then.x
        from_s, to_s = day.closes_s, then.opens_s
        share = 1.0
        if later is not None and later["opens"] is not None and to_s > from_s:
            share = min(1.0, max(0.0, (later["opens"] - from_s) / (to_s - from_s)))
        elif later is not None:
            share = 0.0
        middle = x + share * (end - x)
        at = a + share * (b - a)
        waits = f"M{x:.1f} {a:.1f}L{middle:.1f} {at:.1f}" if share > 0.02 else ""
        may = f"M{middle:.1f} {at:.1f}L{end:.1f} {b:.1f}" if share < 0.98 else ""
        closes = later["closes"] if later else None
        if closes is not None and from_s <= closes <= then.closes_s:
            if closes < to_s:
                post, y = x + (closes - from_s) / max(1.0, to_s - from_s) * (end - x), a
                wedge = f"{x:.1f},{a - 4:.1f} {x:.1f},{a + 4:.1f} {post:.1f},{a:.1f}"
            else:
                post, y = (
                    then.x + (closes - to_s) / max(1.0, then.closes_s - to_s) * then.width,
                    self._foot(later["face"], then, b),
                )
                wedge = f"{then.x:.1f},{y - 4:.1f} {then.x:.1f},{y + 4:.1f} {post:.1f},{y:.1f}"
            return Rope(waits, may, wedge, (round(post, 1), round(y - 8, 1)))
        return Rope(waits, may)

    def _labels(self, days):
        """Faces at the left, in the order of their layers, spread so that none touches another."""
        if not days:
            return []
        found, y = [], FOOT - 4
        for face in self.order:
            first = next((d for d in days if self._at(face, d) is not None), None)
            if first is None:
                continue
            at = self._at(face, days[0])
            mine = self.faces[face]
            y = min(y, (at if at is not None else y) + 4)
            found.append(Label(face, round(y, 1), round(at if at is not None else y - 4, 1), mine[0]["zone"], ""))
            y -= 17.0
        lowest = min((label.y for label in found), default=FOOT)
        if lowest < HEAD + 14:  # too many to lie beside their layers: from the top then
            step = (FOOT - HEAD - 20) / max(1, len(found))
            found = [Label(one.name, round(FOOT - 4 - k * step, 1), one.to_y, one.zone) for k, one in enumerate(found)]
        return found


def fitted(rows, room):
    """Acts of a layer in words, like coats drawn together, cut to a number of letters."""
    names = []
    for row in rows:
        name, coat = STEPS[row["kind"]].name.lower() if row["kind"] in STEPS else row["name"].lower(), row["coat"]
        numbered = row["name"].rsplit(" ", 1)[-1] == str(coat)
        if names and names[-1][0] == name:
            names[-1][1].append(coat)
        else:
            names.append([name, [coat] if numbered else []])
    said = ", ".join(name + _coats(coats) for name, coats in names)
    if len(said) > room:
        said = said[: max(0, room - 1)].rstrip(", ") + "…" if room > 3 else ""
    return said


def _coats(coats):
    if not coats:
        return ""
    return f" {coats[0]}" if len(coats) == 1 else f" {coats[0]}–{coats[-1]}"
