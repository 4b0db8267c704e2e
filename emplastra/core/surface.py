"""The state of a surface: a fold over what happened to it.

`Surface(top, layers, clocks, spots)`. A surface is at once sandable, open for filler and not
cured; the headline is chosen from its clocks: keep wet > missed > closing > bare > open > waiting
> resting. Of a coat begun at a and ended at b, what must have passed counts from b, what must not
be exceeded from a.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from .air import Journey
from .bare import bare_table
from .clock import Crossing, TimeTable, crossing, progress
from .film import Film
from .sheets import Sheet
from .sheets import Window as Row
from .working import Basis

DEGREASED_S = 3600.0
"""Use within, after degreasing [s]. Common practice, no source."""
KEYED_S = 24 * 3600.0
"""How long a keyed surface stays open [s]. Common practice, no source."""
CLOSING_SHARE = 0.2
"""The last share of a window that counts as closing. Common practice, no source."""
CLOSING_AT_MOST_S = 12 * 3600.0
"""Closing never begins earlier than this before the close [s]."""
HEADLINES = ("keep wet", "missed", "closing", "bare", "open", "unjudged", "waiting", "resting")
"""Statuses in the order in which they lead. "unjudged": the sheet says nothing of what comes next."""
FULL = 0.999


@dataclass(frozen=True)
class Event:
    """Something that happened, from began to ended [epoch s], to a share [0..1] of the area."""

    began_s: float
    ended_s: float
    share: float = 1.0
    step: str = ""
    entry: int = 0


@dataclass(frozen=True)
class Bared(Event):
    """Stripped to the metal."""


@dataclass(frozen=True)
class Degreased(Event):
    """Wiped with a solvent or cleaner."""


@dataclass(frozen=True)
class Keyed(Event):
    """Abraded; `um_off` [µm] of film taken."""

    grit: str = ""
    um_off: float = 0.0


@dataclass(frozen=True)
class Coated(Event):
    """A coat of a product, with the film it left."""

    sheet: Sheet | None = None
    film: Film = field(default_factory=lambda: Film(0.0, Basis.ASSUMED, ""))
    product: str = ""


@dataclass(frozen=True)
class Toward:
    """What is to come next: a coat of a product of a kind."""

    product: str
    kind: str


@dataclass(frozen=True)
class Layer:
    """A coat that lies on the metal; part coats of one product join until they cover all."""

    step: str
    product: str
    sheet: Sheet | None
    film: Film
    began_s: float
    ended_s: float
    share: float
    sanded_um: float = 0.0
    entries: tuple[int, ...] = ()

    @property
    def left_um(self) -> float:
        """Film left after sanding [µm]."""
        return max(0.0, self.film.dft_um - self.sanded_um)


@dataclass(frozen=True)
class Clock:
    """One thing that runs on a surface.

    kind: bare, flash, recoat, keyed, degreased, sandable ... `opens_s`, `closes_s` [epoch s]: None
    where it does not open within 30 days, or never closes. status at the moment of the fold.
    """

    kind: str
    toward: str
    status: str
    since_s: float
    opens_s: float | None = None
    closing_s: float | None = None
    closes_s: float | None = None
    opens: Crossing | None = None
    closes: Crossing | None = None
    opens_table: TimeTable | None = None
    closes_table: TimeTable | None = None
    progress: float = 0.0
    grit: str | None = None
    note: str = ""


@dataclass(frozen=True)
class Surface:
    """What a surface is at a moment: top layer, layers from the metal, clocks, bare portions, spots."""

    t_s: float
    layers: tuple[Layer, ...] = ()
    clocks: tuple[Clock, ...] = ()
    bare: tuple[tuple[float, float], ...] = ()
    keyed_s: float | None = None
    keyed_grit: str = ""
    degreased_s: float | None = None
    in_work: bool = False
    spots: tuple["Surface", ...] = ()

    @property
    def top(self) -> Layer | None:
        """The last layer."""
        return self.layers[-1] if self.layers else None

    @property
    def lead(self) -> Clock | None:
        """The clock that makes the headline; of equals the one that ends first."""
        rank = {status: i for i, status in enumerate(HEADLINES)}
        running = [c for c in self.clocks if c.kind in {"bare", "recoat", "keyed"}]
        never = float("inf")
        return min(running, key=lambda c: (rank[c.status], c.closes_s or c.opens_s or never), default=None)

    @property
    def headline(self) -> str:
        """One of HEADLINES."""
        return self.lead.status if self.lead else "resting"

    def clock(self, kind: str) -> Clock | None:
        """The clock of this kind, None if it does not run."""
        return next((c for c in self.clocks if c.kind == kind), None)


def _add_bared(s: Surface, e: Bared) -> Surface:
    if e.share >= FULL:
        return replace(s, layers=(), bare=((e.began_s, 1.0),), keyed_s=None, degreased_s=None)
    rest = max(0.0, 1.0 - sum(share for _, share in s.bare))
    return replace(s, bare=(*s.bare, (e.began_s, min(e.share, rest) or e.share)), keyed_s=None, degreased_s=None)


def _add_degreased(s: Surface, e: Degreased) -> Surface:
    return replace(s, degreased_s=e.ended_s)


def _add_keyed(s: Surface, e: Keyed) -> Surface:
    layers, off = list(s.layers), e.um_off
    for i in reversed(range(len(layers))):
        take = min(off, layers[i].left_um)
        layers[i] = replace(layers[i], sanded_um=layers[i].sanded_um + take)
        off -= take
    return replace(s, layers=tuple(layers), keyed_s=e.ended_s, keyed_grit=e.grit, degreased_s=None)


def _add_coated(s: Surface, e: Coated) -> Surface:
    top = s.top
    joins = top is not None and top.share < FULL and top.product == e.product and top.step == e.step
    if joins and top is not None:
        share = min(1.0, top.share + e.share)
        layer = replace(top, ended_s=max(top.ended_s, e.ended_s), share=share, entries=(*top.entries, e.entry))
        layers = (*s.layers[:-1], layer)
    else:
        layer = Layer(e.step, e.product, e.sheet, e.film, e.began_s, e.ended_s, e.share, 0.0, (e.entry,))
        layers = (*s.layers, layer)
    bare = s.bare
    if layer.share >= FULL:
        bare = ()
    elif bare:
        # Which portion was coated is not known: the oldest stays, smaller, so the clock errs on the safe side.
        left = max(0.0, sum(share for _, share in bare) - e.share)
        bare = ((bare[0][0], left),) if left > 1 - FULL else ()
    return replace(s, layers=layers, bare=bare, keyed_s=None, degreased_s=None)


_ADD = {Bared: _add_bared, Degreased: _add_degreased, Keyed: _add_keyed, Coated: _add_coated}


def build(events: Sequence[Event], t_s: float) -> Surface:
    """Layers, bare portions and marks at a moment [epoch s], without clocks.

    An event takes effect when it ended; between its begin and end the surface is in work.
    """
    surface = Surface(t_s)
    for event in sorted(events, key=lambda e: (e.ended_s, e.entry)):
        if event.ended_s <= t_s:
            surface = _ADD[type(event)](surface, event)  # type: ignore[operator]
        elif event.began_s <= t_s:
            surface = replace(surface, in_work=True)
    return surface


def status_of(t_s: float, opens_s: float | None, closing_s: float | None, closes_s: float | None) -> str:
    """waiting, open, closing or missed at a moment; a close at or before the opening leaves no window."""
    if closes_s is not None and t_s >= closes_s:
        return "missed"
    if opens_s is None or t_s < opens_s:
        return "waiting"
    return "closing" if closing_s is not None and t_s >= closing_s else "open"


def closing_from(
    where: Journey, table: TimeTable, begun_s: float, opens_s: float, closes_s: float, lead_s: float
) -> float:
    """When closing begins [epoch s]: p_max = 1 − 0.2·(1 − p_max(opens)), then clamped.

    Clamped to between closes − 12 h and closes − lead time [s], and never before it opens.
    """
    at_opening = progress(where, table, begun_s, opens_s)
    target = 1 - CLOSING_SHARE * (1 - at_opening)
    found = crossing(where, table, begun_s, target).t_s
    start = max(found if found is not None else closes_s, closes_s - CLOSING_AT_MOST_S)
    return max(min(start, closes_s - lead_s), opens_s)


def recoat_clock(surface: Surface, where: Journey, toward: Toward, lead_s: float = 0.0) -> Clock | None:
    """The window of the top layer toward the next coat, with what keying changed; None on no layer."""
    top = surface.top
    if top is None:
        return None
    if top.sheet is None:
        return Clock(
            "recoat", toward.product, "unjudged", top.ended_s, note=f"no data sheet for {top.product}: cannot say"
        )
    row = top.sheet.window_for(toward.product, toward.kind)
    if row is None:
        return Clock(
            "recoat", toward.product, "unjudged", top.ended_s, note=f"the sheet names no window for {toward.product}"
        )
    return _window_clock(surface, top, row, where, toward, lead_s)


def _window_clock(surface: Surface, top: Layer, row: Row, where: Journey, toward: Toward, lead_s: float) -> Clock:
    opens = crossing(where, row.opens, top.ended_s)
    closes = crossing(where, row.closes, top.began_s) if row.closes else None
    opens_s, closes_s, closing_s, kind, note = opens.t_s, closes.t_s if closes else None, None, "recoat", ""
    if opens_s is None:
        note = f"not within 30 days: stands still below {opens.stands_still_below_c:g} °C"
    if closes_s is not None and (opens_s is None or closes_s <= opens_s) and surface.keyed_s is None:
        note = "at this temperature it closes before it opens: warm it, or key"
    elif row.closes and closes_s is not None and opens_s is not None:
        closing_s = closing_from(where, row.closes, top.began_s, opens_s, closes_s, lead_s)
    if surface.keyed_s is not None and surface.keyed_s >= top.ended_s:
        kind, opens_s = "keyed", max(surface.keyed_s, opens_s) if opens_s is not None else None
        if closes_s is not None and closes_s < surface.keyed_s + KEYED_S:
            closes, closes_s = None, surface.keyed_s + KEYED_S
            closing_s = max(closes_s - min(CLOSING_AT_MOST_S, CLOSING_SHARE * KEYED_S), opens_s or surface.keyed_s)
    status = status_of(surface.t_s, opens_s, closing_s, closes_s)
    done = progress(where, row.opens, top.ended_s, min(surface.t_s, opens_s or surface.t_s))
    return Clock(
        kind,
        toward.product,
        status,
        top.ended_s,
        opens_s,
        closing_s,
        closes_s,
        opens,
        closes,
        row.opens,
        row.closes,
        min(1.0, done),
        row.grit,
        note,
    )


def bare_clock(surface: Surface, where: Journey, substrate: str) -> Clock | None:
    """When primer is due on the oldest bare portion; overdue stays bare. None where none runs."""
    table = bare_table(substrate)
    if not surface.bare or table is None:
        return None
    since = min(began for began, _ in surface.bare)
    due = crossing(where, table, since)  # type: ignore[arg-type]
    done = progress(where, table, since, surface.t_s)  # type: ignore[arg-type]
    return Clock("bare", "primer", "bare", since, None, None, due.t_s, None, due, progress=done)


def time_clock(surface: Surface, where: Journey, kind: str) -> Clock | None:
    """A minimum of the top layer's sheet (flash, sandable, cure ...), from the end of the coat."""
    top = surface.top
    table = top.sheet.times.get(kind) if top and top.sheet else None
    if top is None or table is None:
        return None
    over = crossing(where, table, top.ended_s)
    status = "open" if over.t_s is not None and surface.t_s >= over.t_s else "waiting"
    done = progress(where, table, top.ended_s, max(top.ended_s, surface.t_s))
    return Clock(kind, kind, status, top.ended_s, over.t_s, None, None, over, None, table, progress=min(1.0, done))


def fold(
    events: Sequence[Event],
    substrate: str,
    where: Journey,
    t_s: float,
    toward: Toward | None = None,
    lead_s: float = 0.0,
) -> Surface:
    """The state of a surface at a moment.

    events: what happened, in any order; substrate: a key of lag.SUBSTRATES; where: the air it
    stood in; t_s [epoch s]; toward: the next coat, if one is planned; lead_s: time to mix, induct
    and spray [s], kept free before a close.
    """
    surface = build(events, t_s)
    clocks = [bare_clock(surface, where, substrate)]
    if toward is not None:
        clocks.append(recoat_clock(surface, where, toward, lead_s))
    clocks += [time_clock(surface, where, kind) for kind in ("flash", "touch", "sandable", "cure")]
    if surface.degreased_s is not None:
        closes = surface.degreased_s + DEGREASED_S
        status = "missed" if t_s >= closes else "open"
        clocks.append(Clock("degreased", "next coat", status, surface.degreased_s, surface.degreased_s, None, closes))
    return replace(surface, clocks=tuple(c for c in clocks if c is not None))
