"""A practice drawn: its humidity, each face's hours, what was done, up to now and as forecast."""

import itertools
from dataclasses import dataclass

from emplastra.core.air.dewpoint import rh_pct
from emplastra.core.practice.world import moment
from emplastra.core.surface.events import Coated

WIDE, LEFT, RIGHT, LANE = 1200.0, 210.0, 190.0, 44.0
HUMID = 70.0
FLAG = 46.0


@dataclass
class Lane:
    """A face's hours: its name, what it says at the right, its blocks (kind, x, width, words)."""

    y: float
    name: str
    under: str
    says: str
    bad: bool
    blocks: list


@dataclass
class Picture:
    """The whole: height, hours (x, words), humidity behind and ahead as points, lanes, where now is."""

    height: float
    ticks: list
    humid: str
    ahead: str
    low: float
    high: float
    now_x: float
    now: str
    lanes: list


class Scale:
    """Where a moment stands: from the begin to a while after now, or to the end of what is short."""

    def __init__(self, world):
        self.start = world.start_s
        self.end = min(world.end_s, max(world.t_s + 4 * 3600, world.start_s + 8 * 3600))
        self.per_s = (WIDE - LEFT - RIGHT) / (self.end - self.start)

    def __call__(self, t_s):
        return LEFT + (min(max(t_s, self.start), self.end) - self.start) * self.per_s


def picture_of(world):
    """The Picture of a practice."""
    x = Scale(world)
    behind, ahead, low, high = _humidity(world, x)
    lanes = [_lane(world, face, 84 + LANE * n, x) for n, face in enumerate(world.faces.values())]
    now = f"{moment(world, world.t_s):%H:%M}"
    return Picture(90 + LANE * len(lanes), _ticks(world, x), behind, ahead, low, high, x(world.t_s), now, lanes)


def _ticks(world, x):
    """[(x, hour or day)] that stand apart; under the flag of now without words."""
    hours = (x.end - x.start) / 3600
    step = next(s for s in (1, 2, 3, 6, 12, 24) if hours / s <= 10 or s == 24)
    found, t_s = [], (x.start // 3600 + 1) * 3600
    while t_s < x.end:
        at = moment(world, t_s)
        if at.hour % step == 0:
            words = f"{at:%H:%M}" if step < 24 else f"{at:%a}"
            found.append((round(x(t_s), 1), words if abs(x(t_s) - x(world.t_s)) > FLAG else ""))
        t_s += 3600
    return found


def _humidity(world, x):
    """(points so far, points ahead, the least and the most [%]) of the air where the first face stands."""
    where = next(iter(world.faces.values())).where
    moments = [x.start + k * (x.end - x.start) / 120 for k in range(121)]
    told = [(t, rh_pct(air.air_c, air.dew_c)) for t, air in ((t, where.at(t)) for t in moments)]
    low, high = min(h for _, h in told) - 2, max(h for _, h in told) + 2
    points = [(t, f"{x(t):.1f},{30 + (HUMID - 40) * (high - h) / (high - low):.1f}") for t, h in told]
    behind = " ".join(point for t, point in points if t <= world.t_s)
    return behind, " ".join(point for t, point in points if t >= world.t_s - 1), low, high


def _lane(world, face, y, x):
    shown = [f for f in world.shown if f.face == face.key and f.rule != "harm"]
    under = "shut in" if face.closed_s is not None else world.place_of(face).lower()
    says, bad = (shown[-1].name.lower(), True) if shown else (_says(world, face), False)
    return Lane(y, face.given.name, under, says, bad, [*_stood(world, face, x), *_worked(world, face, x)])


def _stood(world, face, x):
    """Blocks of how a face stood, from change to change."""
    changes = {e.ended_s for e in face.events if world.start_s < e.ended_s <= world.t_s}
    for a, b in itertools.pairwise(sorted({world.start_s, world.t_s, *changes})):
        kind, wide = _state(world, face, (a + b) / 2), round(x(b) - x(a), 1)
        yield kind, round(x(a), 1), wide, _teeth(x(a), wide) if kind in {"bare", "rust"} else ""


def _worked(world, face, x):
    """Blocks of what was done on a face."""
    for row in world.rows:
        if row.face == face.key and row.ended_s > row.began_s:
            wide = round(max(3.0, x(row.ended_s) - x(row.began_s)), 1)
            yield "coat" if row.coat else "act", round(x(row.began_s), 1), wide, row.words


def _teeth(x, wide):
    """A saw-tooth over a width, as points: bare metal as the lifelines draw it."""
    n = max(1, round(wide / 8))
    return " ".join(f"{x + wide * k / n:.1f},{10 if k % 2 else 24}" for k in range(n + 1))


def _state(world, face, t_s):
    """What a face is at a moment: bare, rust (once it was seen), film, shut."""
    surface = face.surface(t_s)
    if face.closed_s is not None and t_s >= face.closed_s:
        return "shut"
    if any(f.rule == "flash-rust" and f.face == face.key and f.shows_s <= t_s for f in world.shown):
        return "rust" if surface.bare else "film"
    return "bare" if sum(share for _, share in surface.bare) > 0.5 else "film"


def _says(world, face):
    """How a face stands, in a few words; the judge says nothing of it."""
    surface = face.surface(world.t_s)
    if face.done(world.t_s):
        return "all done"
    if surface.bare and sum(share for _, share in surface.bare) > 0.5:
        return "bare"
    coats = [e for e in face.events if isinstance(e, Coated)]
    return f"under {coats[-1].product.removeprefix('Practice ')}" if coats else "as it was"
