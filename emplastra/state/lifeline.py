"""The lifeline: a zone's hours as shapes on a common scale. Geometry only; styles are in the sheet."""

from dataclasses import dataclass

from emplastra.core.surface.names import Runs, Status
from emplastra.core.working import Basis
from emplastra.shared.times import from_epoch

HOUR = 3600.0
LEAST_RUN = 2.0
"""Stretches of one basis narrower than this [units] join what goes before them."""


@dataclass(frozen=True)
class Scale:
    """Time across: from start to end [epoch s] on `width` units, for a row `height` high."""

    start_s: float
    end_s: float
    width: float = 490.0
    height: float = 64.0

    def x(self, t_s):
        """Abscissa of a moment, held inside the picture."""
        share = (t_s - self.start_s) / (self.end_s - self.start_s)
        return round(max(0.0, min(1.0, share)) * self.width, 1)


@dataclass(frozen=True)
class Mark:
    """A shape: kind (wet, waiting, open, closing, shut, missed, bare, overdue, keep-wet, dry), its x, points, basis."""

    kind: str
    x: float
    width: float
    points: str = ""
    basis: str = "measured"
    ends: bool = False
    """True for the stretch with which the thing ends, inside the picture."""


def ticks(scale, workshop, every_h):
    """(x, label) at whole hours of the workshop's day, each `every_h`; right over a change of summer time."""
    zone = workshop.zone
    start = from_epoch(scale.start_s).astimezone(zone)
    t_s = scale.start_s + (3600 - start.minute * 60 - start.second) % 3600
    found, seen = [], None
    while t_s <= scale.end_s:
        here = from_epoch(t_s).astimezone(zone)
        if here.hour % every_h == 0 and (here.date(), here.hour) != seen:
            seen = (here.date(), here.hour)
            found.append((scale.x(t_s), f"{here:%a} {here.day}" if here.hour == 0 else f"{here:%H:%M}"))
        t_s += HOUR
    return found


def clock_changes(scale, workshop):
    """(x, words) where the workshop's clock is put on or back inside the scale."""
    zone, found, t_s = workshop.zone, [], scale.start_s - scale.start_s % HOUR + HOUR
    before = from_epoch(scale.start_s).astimezone(zone).utcoffset()
    while t_s <= scale.end_s:
        here = from_epoch(t_s).astimezone(zone)
        if here.utcoffset() != before:
            word = "on" if here.utcoffset() > before else "back"
            found.append((scale.x(t_s), f"clock {word} to {here:%H:%M}"))
            before = here.utcoffset()
        t_s += HOUR
    return found


def marks(state, scale):
    """Shapes of a zone's clocks that led here and lead on, clipped to the scale, each by what it rests on."""
    where = state.facts.where
    if where is None:
        return []
    runs = where.runs(scale.start_s, scale.end_s)
    spans = [*_metal_spans(state), *_coat_spans(state)]
    if state.surface.away_s is not None:  # its clocks are suspended
        spans = [("away", state.surface.away_s, state.surface.t_s)]
    typical = _typical(state.surface)
    return [mark for kind, a, b in spans for mark in _draw(kind, a, b, scale, _ASSUMED if kind in typical else runs)]


_ASSUMED = ((-float("inf"), float("inf"), Basis.ASSUMED),)


def _typical(surface):
    """Kinds of shapes whose end is typical of a product's kind, not read off a sheet."""
    ends = (("wet", Runs.FLASH), ("waiting", Runs.CURE))
    clocks = ((shape, surface.clock(kind)) for shape, kind in ends)
    found = {shape for shape, clock in clocks if clock is not None and getattr(clock.opens_table, "assumed", False)}
    return found if surface.window is None and surface.clock(Runs.ACT) is None else found - {"waiting"}


def _metal_spans(state):
    surface = state.surface
    wet, dry, bare = (surface.clock(kind) for kind in (Runs.KEEP_WET, Runs.DRY_OFF, Runs.BARE))
    if wet is not None:
        ready = wet.opens_s if wet.opens_s is not None else surface.t_s
        yield "keep-wet", wet.since_s, max(surface.t_s, ready)
    if dry is not None and dry.opens_s is not None:
        yield "dry", dry.since_s, dry.opens_s
    if bare is not None:
        due = bare.closes_s
        yield "bare", bare.since_s, due if due is not None else float("inf")
        if due is not None and surface.t_s > due:
            yield "overdue", due, surface.t_s


def _coat_spans(state):
    surface = state.surface
    top, clock = surface.top, surface.window or surface.clock(Runs.ACT)
    if top is None:
        return
    flash = surface.clock(Runs.FLASH)
    wet_end = flash.opens_s if flash and flash.opens_s else top.ended_s
    yield "wet", top.began_s, max(wet_end, top.ended_s)
    if clock is None:
        cure = surface.clock(Runs.CURE)
        if cure and cure.opens_s:
            yield "waiting", wet_end, cure.opens_s
    elif clock.status != Status.UNJUDGED:  # what went before keying was cleared by it
        yield from _window_spans(clock, surface.keyed_s if clock.kind == "keyed" else wet_end)


NEVER = float("inf")


def _window_spans(clock, wet_end):
    """A window from where it can be waited for: waiting, open, closing, shut in the middle, missed."""
    end = wet_end
    for opens, closes in clock.stretches or ((clock.opens_s, clock.closes_s),):
        opens, closes = (NEVER if t_s is None else t_s for t_s in (opens, closes))
        if opens > end:
            yield "waiting" if end == wet_end else "shut", end, min(opens, closes)
        if opens < closes:
            told = clock.closing_s is not None and clock.closes_s == closes
            closing = clock.closing_s if told else closes
            yield "open", opens, closing
            if closing < closes:
                yield "closing", closing, closes
        end = closes
    if end < NEVER:
        yield "missed", end, NEVER


def _draw(kind, a, b, scale, runs):
    """A shape, split where what it rests on changes: measured, bridged, forecast, assumed have their own outline."""
    begin, close = a, b
    a, b = max(a, scale.start_s), min(b, scale.end_s)
    if b <= a:
        return
    if kind == "closing":
        # A taper is one shape: its point is the close. Cut off by the edge, it keeps its slope.
        yield _taper(begin, close, a, b, scale, next((r[2].value for r in reversed(runs) if r[0] < b), "measured"))
        return
    least = LEAST_RUN * (scale.end_s - scale.start_s) / scale.width
    start, basis = a, None
    for x, y, found in runs:
        if y <= a or x >= b:
            continue
        if basis is not None and found is not basis and min(y, b) - max(x, a) >= least:
            yield _shape(kind, start, max(x, a), scale, basis.value)
            start, basis = max(x, a), found
        basis = basis or found
    yield _shape(kind, start, b, scale, basis.value if basis else "measured", close <= scale.end_s)


def _taper(begin, close, a, b, scale, basis):
    """The part from a to b of a taper that runs from begin to its point at close."""
    middle = scale.height / 2

    def half(t_s):
        return round(18.0 - 16.5 * (t_s - begin) / (close - begin), 1)

    x, end, left, right = scale.x(a), scale.x(b), half(a), half(b)
    points = f"{x},{middle - left} {end},{middle - right} {end},{middle + right} {x},{middle + left}"
    return Mark("closing", x, round(end - x, 1), points, basis)


def _shape(kind, a, b, scale, basis, ends=False):
    x, width = scale.x(a), max(1.5, scale.x(b) - scale.x(a))
    middle = scale.height / 2
    points = ""
    if kind in {"bare", "overdue"}:
        points = _teeth(x, width, middle)
    return Mark(kind, x, round(width, 1), points, basis, ends)


def _teeth(x, width, middle):
    steps = max(2, int(width / 6))
    return " ".join(f"{x + width * i / steps:.1f},{middle + (6 if i % 2 == 0 else -6)}" for i in range(steps + 1))
