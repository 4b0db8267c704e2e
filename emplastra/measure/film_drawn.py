"""Film of a face as drawn: its map in steps, its readings, all of them on one ruler, and its layers by difference.

More film is denser hatch, so that thin reads as a hole in grey too.
"""

from dataclasses import dataclass, field

WIDE, TOP = 720.0, 24.0
TALL = (180.0, 420.0)
"""How high a face is drawn, at least and at most."""
PLATES = 60
"""Over so many readings each is a tick, without its figure."""
HATCHES = ("", "h-film-1", "h-film-2", "h-film-3", "h-film-4")
PLATE_W, PLATE_H = 54.0, 26.0


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
    """A reading on the map: its place, its film, how high its bar is beside the line of what is asked, and how it stands:
    "low", "under", "held" or "over".
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


@dataclass
class Drawn:
    """A face with its film."""

    height: float
    steps: list
    borders: list
    plates: list
    marks: list = field(default_factory=list)
    width: float = WIDE
    figures: bool = True


def _path(outlines, height):
    """Outlines in shares of the face as one path."""
    return "".join(
        "M" + "L".join(f"{x * WIDE:.1f} {y * height:.1f}" for x, y in line) + "Z" for line in outlines if len(line) > 2
    )


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
    w, h = gauging.size_mm
    height = max(TALL[0], min(TALL[1], WIDE * h / w))
    film, asked = gauging.film, gauging.asked
    froms = (0.0, *film.steps)
    steps = []
    for n, (outlines, um) in enumerate(zip(film.bands(), froms, strict=True)):
        over = asked.most_um is not None and um >= asked.most_um - 1e-9
        hatch = HATCHES[4] if over else HATCHES[min(n, 3)]
        if outlines:
            steps.append(Step(_path(outlines, height), hatch, um, n == 0, over))
    borders = ["M" + "L".join(f"{x * WIDE:.1f} {y * height:.1f}" for x, y in line) for um in film.steps for line in film.borders(um)]  # fmt: skip
    top = max(s.um for s in gauging.spots)
    plates = []
    for spot in (s for s in gauging.spots if s.x is not None):
        x = min(max(spot.x * WIDE, PLATE_W / 2 + 2), WIDE - PLATE_W / 2 - 2)
        y = min(max(spot.y * height, PLATE_H / 2 + 2), height - PLATE_H / 2 - 2)
        plates.append(Plate(round(x, 1), round(y, 1), spot.um, round(18 * spot.um / top, 1), _how(spot.um, gauging)))
    marks = []
    for each in gauging.thin:
        x0, _, x1, y1 = each.spot.reach
        marks.append((each.number, round(x0 * WIDE, 1), round((x1 - x0) * WIDE, 1), round(y1 * height, 1)))
    asked_bar = round(18 * min(1.0, asked.nominal_um / top), 1)
    made = Drawn(round(height, 1), steps, borders, plates, marks, figures=len(plates) <= PLATES)
    made.asked_bar = asked_bar
    return made


RULER = 380.0


@dataclass
class Ruler:
    """All readings on one line: ticks [(x, how)], limits [(x, µm, word)], the mean's place, counts by how they stand."""

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
    coat that mends it adds; None where there is nothing to draw.
    """
    accepted = gauging.accepted
    if accepted is None:
        return None
    before = gauging.before
    diff = gauging.difference
    mean, least = accepted.mean_um, min(s.um for s in gauging.spots)
    add = gauging.thin[0].spot.add_um if gauging.thin else 0.0
    scale = BARS_H / max(mean, least + add, gauging.asked.nominal_um, 1.0)
    columns = [("mean", mean, diff[0] if diff else None, 0.0), ("thinnest", least, diff[1] if diff else None, 0.0)]
    if add:
        columns.append(("with the coat", least + add, diff[1] if diff else None, add))
    bars = []
    for n, (name, total, new, added) in enumerate(columns):
        parts, foot = [], 0.0
        old = total - added - (new if new is not None else total - added)
        for um, words in ((old, "before"), (total - added - old, "since" if before and new is not None else "all"), (added, "to add")):  # fmt: skip
            if um > 0.5:
                parts.append((round(BARS_H - (foot + um) * scale, 1), round(um * scale, 1), um, words))
                foot += um
        bars.append(Bar(20.0 + 124.0 * n, name, tuple(parts), total, round(BARS_H - total * scale, 1)))
    return {"bars": bars, "asked_y": round(BARS_H - gauging.asked.nominal_um * scale, 1), "before": before if diff else None, "height": BARS_H}  # fmt: skip
