"""Pots to come as drawn: what is in each, over time, and where in the round it is put on."""

import math
from dataclasses import dataclass

LEFT, RIGHT, LANE, GAP, TOP = 12.0, 700.0, 74.0, 16.0, 26.0
FACES = 30.0
HOUR_S = 3600.0
STEPS_S = (300, 600, 900, 1800, 3600, 7200, 14400, 43200, 86400)
"""Steps that the hours of the scale may have [s]."""


@dataclass
class Lane:
    """One pot: the outline of what is in it, the parts of its life as (x, width), where it dies, its words."""

    y: float
    outline: str
    pour: tuple
    waits: tuple
    good: tuple
    dead_x: float | None
    label: str
    lost: str

    @property
    def word_x(self):
        """Where it says that it is dead: beside its line, before it where there is no room behind."""
        return self.dead_x + 5 if self.dead_x < RIGHT - 34 else self.dead_x - 36


@dataclass
class PotsDrawing:
    """Lanes, hours [(x, epoch s)], faces as (x, width, name) and how high it all is."""

    lanes: list
    hours: list
    faces: list
    height: float
    faces_y: float


def picture(plan, faces, pour_s):
    """Geometry of a PotsPlan over faces [(name, share of the round 0..1)]; None where a pot is never ready."""
    if any(pot.empty_s == math.inf for pot in plan.pots):
        return None
    begin = plan.pots[0].begin_s
    ends = [t for pot in plan.pots for t in (pot.empty_s, pot.dead_s) if t is not None]
    # A pot that lives for days would leave no room for the round.
    end = min(max(ends), plan.pots[-1].empty_s + 1.2 * (plan.pots[-1].empty_s - begin))
    px = (RIGHT - LEFT) / (end - begin)

    def x(t_s):
        return round(LEFT + (min(t_s, end) - begin) * px, 1)

    lanes = [_lane(pot, n, x, pour_s, end) for n, pot in enumerate(plan.pots)]
    faces_y = TOP + len(lanes) * (LANE + GAP)
    stretches = [
        (x(a), round(x(b) - x(a), 1), _short(name, x(b) - x(a))) for _, here in over(plan, faces) for name, a, b in here
    ]
    return PotsDrawing(lanes, _hours(begin, end, x), stretches, faces_y + FACES + 8, faces_y)


def _lane(pot, n, x, pour_s, end):
    floor = TOP + n * (LANE + GAP) + LANE
    full, left = floor - 0.78 * LANE, floor - 0.78 * LANE * (1 - pot.used_ml / pot.ml)
    points = [(x(pot.begin_s), floor), (x(pot.begin_s + pour_s), full), (x(pot.from_s), full), (x(pot.empty_s), left)]
    points += [(x(pot.empty_s), floor)]
    outline = "M" + " L".join(f"{a:g} {b:.1f}" for a, b in points) + " Z"
    span = lambda a, b: (x(a), round(max(0.0, x(b) - x(a)), 1))  # noqa: E731
    dead = pot.dead_s if pot.dead_s is not None and pot.dead_s <= end else None
    lost = ""
    if pot.dead_ml > 0:
        at = max(pot.dead_s, pot.from_s)
        level = full + (left - full) * (at - pot.from_s) / max(pot.empty_s - pot.from_s, 1e-9)
        corners = ((at, level), (pot.empty_s, left), (pot.empty_s, floor), (at, floor))
        lost = "M" + " L".join(f"{x(t):g} {y:.1f}" for t, y in corners) + " Z"
    return Lane(
        floor,
        outline,
        span(pot.begin_s, pot.begin_s + pour_s),
        span(pot.begin_s + pour_s, pot.ready_s),
        span(pot.ready_s, pot.dead_s if pot.dead_s is not None else end),
        x(dead) if dead is not None else None,
        n + 1,
        lost,
    )


def _hours(begin, end, x):
    step = next((s for s in STEPS_S if (end - begin) / s <= 7), STEPS_S[-1])
    first = math.ceil(begin / step) * step
    return [(x(t), t) for t in range(first, int(end) + 1, step) if x(t) < RIGHT - 20]


def _short(name, wide):
    """A name as far as it fits [px]; "" where nothing of it does."""
    most = int((wide - 10) / 7.5)
    return name if len(name) <= most else f"{name[: most - 1]}…" if most > 4 else ""


def over(plan, faces):
    """[(pot, [(name, from, to) of what it is put on])] [epoch s]: a face may lie in two pots."""
    found, low, whole = [], 0.0, sum(pot.used_ml for pot in plan.pots)
    for pot in plan.pots:
        high, done, here = low + pot.used_ml / whole, 0.0, []
        per = (pot.empty_s - pot.from_s) / (high - low)
        for name, share in faces:
            a, b = max(low, done), min(high, done + share)
            if b > a + 1e-6:
                here.append((name, pot.from_s + (a - low) * per, pot.from_s + (b - low) * per))
            done += share
        found.append((pot, here))
        low = high
    return found
