"""The lifeline: a zone's hours as shapes on a common scale. Geometry only; styles are in the sheet."""

from dataclasses import dataclass

from emplastra.shared.times import from_epoch

HOUR = 3600.0


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
    """A shape: kind (wet, waiting, open, closing, missed, bare, overdue), from x to x, points, basis."""

    kind: str
    x: float
    width: float
    points: str = ""
    basis: str = "measured"


def ticks(scale, workshop, every_h):
    """(x, label) at whole hours of the workshop's day, each `every_h`."""
    zone = workshop.zone
    start = from_epoch(scale.start_s).astimezone(zone)
    first_s = scale.start_s + (3600 - start.minute * 60 - start.second) % 3600
    found = []
    t_s = first_s
    while t_s <= scale.end_s:
        here = from_epoch(t_s).astimezone(zone)
        if here.hour % every_h == 0:
            label = f"{here:%a} {here.day}" if here.hour == 0 else f"{here:%H:%M}"
            found.append((scale.x(t_s), label))
        t_s += HOUR
    return found


def marks(state, scale):
    """Shapes of a zone's lead clock and of what led to it, clipped to the scale."""
    spans = [*_bare_spans(state), *_coat_spans(state)]
    return [mark for kind, a, b in spans for mark in _draw(kind, a, b, scale, state.surface.t_s)]


def _bare_spans(state):
    clock = state.surface.clock("bare")
    if clock is None:
        return
    due = clock.closes_s
    yield "bare", clock.since_s, due if due is not None else float("inf")
    if due is not None and state.surface.t_s > due:
        yield "overdue", due, state.surface.t_s


def _coat_spans(state):
    top, clock = state.surface.top, state.surface.clock("recoat") or state.surface.clock("keyed")
    if top is None:
        return
    flash = state.surface.clock("flash")
    wet_end = flash.opens_s if flash and flash.opens_s else top.ended_s
    yield "wet", top.began_s, max(wet_end, top.ended_s)
    if clock is None:
        cure = state.surface.clock("cure")
        if cure and cure.opens_s:
            yield "waiting", wet_end, cure.opens_s
        return
    if clock.status == "unjudged":
        return
    if clock.kind == "keyed":  # what went before was cleared by keying
        wet_end = state.surface.keyed_s
    never = float("inf")
    opens = clock.opens_s if clock.opens_s is not None else never
    closes = clock.closes_s if clock.closes_s is not None else never
    if opens > wet_end:
        yield "waiting", wet_end, min(opens, closes)
    if opens < closes:
        closing = clock.closing_s if clock.closing_s is not None else closes
        yield "open", opens, closing
        if closing < closes:
            yield "closing", closing, closes
    if closes < never:
        yield "missed", closes, never


def _draw(kind, a, b, scale, now_s):
    """Split at now: what lies ahead rests on assumed air and has its own outline."""
    begin, close = a, b
    a, b = max(a, scale.start_s), min(b, scale.end_s)
    if b <= a:
        return
    if kind == "closing":
        # A taper is one shape: its point is the close. Cut off by the edge, it keeps its slope.
        yield _taper(begin, close, a, b, scale, "assumed" if b > now_s else "measured")
        return
    if a < now_s < b:
        yield _shape(kind, a, now_s, scale, "measured")
        a = now_s
    yield _shape(kind, a, b, scale, "assumed" if a >= now_s else "measured")


def _taper(begin, close, a, b, scale, basis):
    """The part from a to b of a taper that runs from begin to its point at close."""
    middle = scale.height / 2

    def half(t_s):
        return round(18.0 - 16.5 * (t_s - begin) / (close - begin), 1)

    x, end, left, right = scale.x(a), scale.x(b), half(a), half(b)
    points = f"{x},{middle - left} {end},{middle - right} {end},{middle + right} {x},{middle + left}"
    return Mark("closing", x, round(end - x, 1), points, basis)


def _shape(kind, a, b, scale, basis):
    x, width = scale.x(a), max(1.5, scale.x(b) - scale.x(a))
    middle = scale.height / 2
    points = ""
    if kind in {"bare", "overdue"}:
        points = _teeth(x, width, middle)
    return Mark(kind, x, round(width, 1), points, basis)


def _teeth(x, width, middle):
    steps = max(2, int(width / 6))
    return " ".join(f"{x + width * i / steps:.1f},{middle + (6 if i % 2 == 0 else -6)}" for i in range(steps + 1))
