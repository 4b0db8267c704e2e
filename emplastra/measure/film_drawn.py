"""Film of a face as drawn: its map in steps, its readings, all of them on one ruler, and its layers by difference.

More film is denser hatch, so that thin reads as a hole in grey too.
"""

from dataclasses import dataclass

WIDE, TOP = 720.0, 24.0
TALL, NARROW = (180.0, 520.0), 260.0
"""How high a face is drawn, at least and at most, and how narrow."""
PLATES = 60
"""Over so many readings each is a tick, without its figure."""
HATCHES = ("", "h-film-1", "h-film-2", "h-film-3", "h-film-4")
PLATE_W, PLATE_H, BAR = 54.0, 26.0, 18.0


@dataclass(frozen=True)
class Step:
    """A step of the map: the path of where the film is in it, its hatch, the film it begins at [µm]; low, over: under
    the least, over the most.
    """

    path: str
    hatch: str
    from_um: float
    low: bool
    over: bool


@dataclass(frozen=True)
class Plate:
    """A reading on the map: its place, its film [µm], how high its bar is beside the line of what is asked, and how it
    stands: "low", "under", "held" or "over".
    """

    x: float
    y: float
    um: float
    bar: float
    how: str

    @property
    def left(self):
        """The left edge of its plate."""
        return self.x - PLATE_W / 2

    @property
    def upper(self):
        """The upper edge of its plate."""
        return self.y - PLATE_H / 2


class InTheMiddle:
    """Something of a width that stands in the middle of its room."""

    @property
    def left(self):
        """Where it begins, so that it stands in the middle."""
        return (WIDE - self.width) / 2


@dataclass
class Drawn(InTheMiddle):
    """A face with its film."""

    height: float
    steps: list
    borders: list
    plates: list
    marks: list
    asked_bar: float
    width: float = WIDE
    figures: bool = True


def frame(w_mm, h_mm):
    """(width, height) [px] of a face as it is drawn, in its own shape as far as there is room."""
    height = WIDE * h_mm / w_mm
    if height <= TALL[1]:
        return WIDE, round(max(TALL[0], height), 1)
    return round(max(NARROW, WIDE * TALL[1] / height), 1), TALL[1]


def outlines_path(outlines, frame):
    """Outlines in shares of the face as one path; frame: its width and height."""
    return "".join(line_path(line, frame[1], frame[0]) + "Z" for line in outlines if len(line) > 2)


def line_path(points, height, width=WIDE):
    """Points in shares of the face as a path."""
    return "M" + "L".join(f"{x * width:.1f} {y * height:.1f}" for x, y in points)


def _how(um, gauging):
    asked = gauging.asked
    if um < gauging.floor_um - 1e-9:
        return "low"
    if um < asked.nominal_um - 1e-9:
        return "under"
    return "over" if asked.most_um is not None and um > asked.most_um + 1e-9 else "held"


def drawn(gauging):
    """The map of a gauging that is judged; None where too few of its readings have a place."""
    if gauging.film is None or gauging.accepted is None:
        return None
    width, height = frame(*gauging.size_mm)
    borders = [line_path(line, height, width) for um in gauging.film.steps for line in gauging.film.borders(um)]
    top = max(s.um for s in gauging.spots)
    plates = [_plate(spot, gauging, (width, height), top) for spot in gauging.spots if spot.x is not None]
    reach = [(each.number, each.spot.reach) for each in gauging.thin]
    marks = [(n, *(round(v, 1) for v in (x0 * width, (x1 - x0) * width, y1 * height))) for n, (x0, _, x1, y1) in reach]
    asked_bar = round(BAR * min(1.0, gauging.asked.nominal_um / top), 1)
    steps = list(_steps(gauging, (width, height)))
    return Drawn(height, steps, borders, plates, marks, asked_bar, width, len(plates) <= PLATES)


def _steps(gauging, size):
    """The steps of a map in which any film is."""
    most = gauging.asked.most_um
    for n, (outlines, um) in enumerate(zip(gauging.film.bands(), (0.0, *gauging.film.steps), strict=True)):
        over = most is not None and um >= most - 1e-9
        if outlines:
            yield Step(outlines_path(outlines, size), HATCHES[4] if over else HATCHES[min(n, 3)], um, n == 0, over)


def _plate(spot, gauging, size, top):
    """A reading on the map, its plate whole inside the face; top: the thickest [µm]."""
    width, height = size
    x = min(max(spot.x * width, PLATE_W / 2 + 2), width - PLATE_W / 2 - 2)
    y = min(max(spot.y * height, PLATE_H / 2 + 2), height - PLATE_H / 2 - 2)
    return Plate(round(x, 1), round(y, 1), spot.um, round(BAR * spot.um / top, 1), _how(spot.um, gauging))


RULER = 380.0


@dataclass
class Ruler:
    """Readings on one line: ticks [(x, how)], limits [(x, µm, word)], the mean's place, counts by how they stand."""

    ticks: list
    limits: list
    mean_x: float
    low_x: float
    nominal_x: float
    most_x: float
    counts: dict


def ruler(gauging):
    """The readings of a gauging that is judged, with the limits that they are held against."""
    if gauging.accepted is None:
        return None
    asked, floor = gauging.asked, gauging.floor_um
    um = [r.um for r in (gauging.readings if gauging.by == "iso19840" else gauging.spots)]
    ends = [*um, floor, asked.nominal_um, *([asked.most_um] if asked.most_um else [])]
    low, high = min(ends), max(ends)
    pad = max(1.0, 0.06 * (high - low))
    low, high = max(0.0, low - pad), high + pad

    def x(value):
        return round(RULER * (value - low) / (high - low), 1)

    limits = [(x(floor), floor, "least"), (x(asked.nominal_um), asked.nominal_um, "asked")]
    if asked.most_um is not None:
        limits.append((x(asked.most_um), asked.most_um, "most"))
    how = [_how(value, gauging) for value in um]
    counts = {key: how.count(key) for key in ("low", "under", "held", "over") if key in how}
    most_x = x(asked.most_um) if asked.most_um is not None else RULER
    ticks = [(x(value), key) for value, key in zip(um, how, strict=True)]
    return Ruler(ticks, limits, x(gauging.accepted.mean_um), x(floor), x(asked.nominal_um), most_x, counts)


@dataclass(frozen=True)
class Bar:
    """One gauging in the row of layers by difference: parts [(y, height, µm, words)], from the metal; total [µm]."""

    x: float
    name: str
    parts: tuple
    total_um: float
    total_y: float


BARS_H = 170.0


def stack(gauging):
    """Layers by difference: the mean and the thinnest of this gauging on what the gauging before it read, and what the
    coat that mends it adds; None where nothing is judged.
    """
    if gauging.accepted is None:
        return None
    new_mean, new_least = gauging.difference or (None, None)
    mean, least = gauging.accepted.mean_um, min(s.um for s in gauging.spots)
    add = gauging.thin[0].spot.add_um if gauging.thin else 0.0
    scale = BARS_H / max(mean, least + add, gauging.asked.nominal_um, 1.0)
    columns = [("mean", mean, new_mean, 0.0), ("thinnest", least, new_least, 0.0)]
    columns += [("with the coat", least + add, new_least, add)] if add else []
    bars = [_bar(20.0 + 124.0 * n, *column, scale) for n, column in enumerate(columns)]
    asked_y = round(BARS_H - gauging.asked.nominal_um * scale, 1)
    before = gauging.before if gauging.difference else None
    return {"bars": bars, "asked_y": asked_y, "before": before, "height": BARS_H}


def _bar(x, name, total, new, added, scale):
    """One bar: what lay there before, what was put on since (None: nothing was gauged before), what is to be added."""
    there = total - added
    parts = [(there, "all")] if new is None else [(there - new, "before"), (new, "since")]
    drawn, foot = [], 0.0
    for um, words in ((um, words) for um, words in [*parts, (added, "to add")] if um > 0.5):
        drawn.append((round(BARS_H - (foot + um) * scale, 1), round(um * scale, 1), um, words))
        foot += um
    return Bar(x, name, tuple(drawn), total, round(BARS_H - total * scale, 1))
