"""What lies on a surface at a moment: a fold over what happened to it.

`Surface(top, layers, clocks, spots)`. A surface is at once sandable, open for filler and not
cured; the headline is chosen from its clocks: keep wet > missed > closing > bare > open > waiting
> resting. The clocks themselves are in `clocks`.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

from ..product.film import Film
from ..product.sheet import Sheet
from ..product.tables import Law
from ..working import Basis
from .events import (
    Access,
    Away,
    Back,
    Bared,
    Checked,
    Coated,
    Degreased,
    Done,
    Event,
    FilmLost,
    Inspected,
    Keyed,
    Prepped,
    Rinsed,
    Wetted,
)
from .integral import Crossing, progress
from .names import LEADING, Loss, Runs, Status

FULL = 0.999


@dataclass(frozen=True)
class Toward:
    """What is to come next: a coat of a product of a kind, or an act (weld, close, mask, fit, pack)."""

    product: str
    kind: str
    act: str = ""

    @property
    def name(self) -> str:
        """It in words."""
        return ACT_WORDS[self.act] if self.act else self.product


ACT_WORDS = {"weld": "welding", "close": "closing", "mask": "masking", "fit": "fitting", "pack": "packing"}


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
class Check:
    """What a check said, and when [epoch s]."""

    kind: str
    passed: bool
    t_s: float


@dataclass(frozen=True)
class Treatment:
    """Acid prep that stands wet: since when, the wettings [epoch s], its product and sheet."""

    began_s: float
    wettings: tuple[float, ...]
    product: str = ""
    sheet: Sheet | None = None


@dataclass(frozen=True)
class Clock:
    """One thing that runs on a surface.

    kind: bare, keep wet, dry-off, recoat, keyed, degreased, act, flash, sandable ... `opens_s`,
    `closes_s` [epoch s]: None where it does not open within 30 days, or never closes. status at the
    moment of the fold, `at_s`. `remark`: what a check says beside it; `done`: progress, where it is
    not that of `opens` or `closes`.
    """

    kind: str
    toward: str
    status: Status
    since_s: float
    opens_s: float | None = None
    closing_s: float | None = None
    closes_s: float | None = None
    opens: Crossing | None = None
    closes: Crossing | None = None
    opens_table: Law | None = None
    closes_table: Law | None = None
    at_s: float = 0.0
    done: float | None = None
    grit: str | None = None
    note: str = ""
    remark: str = ""
    wet_on_wet: bool = False

    @property
    def progress(self) -> float:
        """How far it has gone at the moment of the fold [share], at most 1."""
        crossing = self.opens or self.closes
        if self.done is not None or crossing is None:
            return self.done or 0.0
        end = self.at_s if crossing.t_s is None else min(self.at_s, crossing.t_s)
        return min(1.0, progress(crossing.where, crossing.table, crossing.since_s, max(end, crossing.since_s)))


@dataclass(frozen=True)
class Surface:
    """What a surface is at a moment: top layer, layers from the metal, clocks, bare portions, spots.

    bare: (since [epoch s], share [0..1]) of each portion; keyed: (when [epoch s], share) of each, keyed_s once all
    is; welded_s: the last weld; inspected: (point, answer,
    when [epoch s]), the newest of each; clock_maker: gives the clock of a kind,
    None without one (set by the fold; clocks are worked out when they are asked for).
    """

    t_s: float
    layers: tuple[Layer, ...] = ()
    bare: tuple[tuple[float, float], ...] = ()
    bared_by: str = ""
    keyed_s: float | None = None
    keyed: tuple[tuple[float, float], ...] = ()
    degreased_s: float | None = None
    treatment: Treatment | None = None
    rinsed_s: float | None = None
    prepped: bool = False
    lost: tuple[tuple[str, float, float], ...] = ()
    checks: tuple[Check, ...] = ()
    welded_s: float | None = None
    inspected: tuple[tuple[str, str, float], ...] = ()
    away_s: float | None = None
    away: Away | None = None
    closed_s: float | None = None
    trial_fit_s: float | None = None
    in_work: bool = False
    spots: tuple["Surface", ...] = ()
    clock_maker: Callable[[str], Clock | None] | None = field(default=None, repr=False, compare=False)

    def at(self, t_s: float) -> "Surface":
        """The same surface at another moment [epoch s], without clocks."""
        return replace(self, t_s=t_s, clock_maker=None)

    @property
    def top(self) -> Layer | None:
        """The last layer."""
        return self.layers[-1] if self.layers else None

    def clock(self, kind: str) -> Clock | None:
        """The clock of this kind, None if it does not run ("keyed": the recoat clock of a keyed surface)."""
        if self.clock_maker is None:
            return None
        found = self.clock_maker(Runs.RECOAT if kind == Runs.KEYED else kind)
        return None if kind in {Runs.KEYED, Runs.RECOAT} and found and found.kind != kind else found

    @property
    def window(self) -> Clock | None:
        """The clock toward the next coat, keyed or not."""
        return self.clock_maker(Runs.RECOAT) if self.clock_maker else None

    @cached_property
    def own_lead(self) -> Clock | None:
        """The clock that makes this surface's own headline; of equals the one that ends first."""
        if self.clock_maker is None or self.away_s is not None or self.closed_s is not None:
            return None
        running = [c for c in (self.clock_maker(kind) for kind in LEADING) if c is not None]
        return min(running, key=_rank, default=None)

    @property
    def governing(self) -> int | None:
        """Index of the spot whose clock leads over the surface's own, None if its own leads."""
        ranked = [(_rank(lead), i) for i, spot in enumerate(self.spots) if (lead := spot.lead)]
        own = self.own_lead
        if not ranked or (own is not None and _rank(own) <= min(ranked)[0]):
            return None
        return min(ranked)[1]

    @property
    def lead(self) -> Clock | None:
        """The clock that makes the headline, its own or that of the worst spot."""
        spot = self.governing
        return self.own_lead if spot is None else self.spots[spot].lead

    @property
    def headline(self) -> Status:
        """How it stands: that of its leading clock."""
        return self.lead.status if self.lead else Status.RESTING


_RANKS = {status: i for i, status in enumerate(Status)}


def _rank(clock: Clock) -> tuple[int, float]:
    ends = clock.closes_s if clock.closes_s is not None else clock.opens_s
    return _RANKS[clock.status], float("inf") if ends is None else ends


def _add_bared(s: Surface, e: Bared) -> Surface:
    fresh = replace(_clean(s), bared_by=e.how)
    if e.share >= FULL:
        return replace(fresh, layers=(), bare=((e.began_s, 1.0),), lost=())
    rest = max(0.0, 1.0 - sum(share for _, share in s.bare))
    return replace(fresh, bare=(*s.bare, (e.began_s, min(e.share, rest) or e.share)))


def _add_degreased(s: Surface, e: Degreased) -> Surface:
    return replace(s, degreased_s=e.ended_s)


def _off_the_top(layers: tuple[Layer, ...], um: float) -> tuple[Layer, ...]:
    found = list(layers)
    for i in reversed(range(len(found))):
        take = min(um, found[i].left_um)
        found[i] = replace(found[i], sanded_um=found[i].sanded_um + take)
        um -= take
    return tuple(found)


def _add_keyed(s: Surface, e: Keyed) -> Surface:
    bare = s.bare
    if bare and not s.layers:
        # Abrading bare metal takes its oxide off: the oldest portions start anew, up to the share abraded.
        bare = _renewed(bare, e)
    layers = _off_the_top(s.layers, e.um_off)
    keyed = (*s.keyed, (e.ended_s, min(e.share, 1.0)))
    return replace(s, layers=layers, bare=bare, keyed=keyed, keyed_s=_keyed_since(keyed), degreased_s=None, checks=())


def _keyed_since(keyed: tuple[tuple[float, float], ...]) -> float | None:
    """When the oldest of the newest portions was keyed that make up the whole; None while part of it is not."""
    whole = 0.0
    for ended_s, share in reversed(keyed):
        whole += share
        if whole >= FULL:
            return ended_s
    return None


def _renewed(bare: tuple[tuple[float, float], ...], e: Event) -> tuple[tuple[float, float], ...]:
    left, rest = e.share, []
    for since, share in sorted(bare):
        take = min(left, share)
        left -= take
        if share - take > 1 - FULL:
            rest.append((since, share - take))
    return (*rest, (e.began_s, min(e.share, sum(share for _, share in bare))))


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
    bare = () if layer.share >= FULL else _bare_after(s.bare, e.share)
    return replace(_clean(s), layers=layers, bare=bare, lost=() if not bare else s.lost)


def _bare_after(bare: tuple[tuple[float, float], ...], coated: float) -> tuple[tuple[float, float], ...]:
    """Bare portions after a share was coated: which one is not known, so the oldest stays, smaller; the clock errs on
    the safe side.
    """
    left = max(0.0, sum(share for _, share in bare) - coated)
    return ((bare[0][0], left),) if bare and left > 1 - FULL else ()


def _add_prepped(s: Surface, e: Prepped) -> Surface:
    treatment = Treatment(e.began_s, (e.ended_s,), e.product, e.sheet)
    return replace(s, treatment=treatment, rinsed_s=None, degreased_s=None)


def _add_wetted(s: Surface, e: Wetted) -> Surface:
    if s.treatment is None:
        return s
    return replace(s, treatment=replace(s.treatment, wettings=(*s.treatment.wettings, e.ended_s)))


def _add_rinsed(s: Surface, e: Rinsed) -> Surface:
    prepped = s.prepped or s.treatment is not None
    return replace(s, treatment=None, rinsed_s=e.ended_s, degreased_s=None, checks=(), prepped=prepped)


def _add_checked(s: Surface, e: Checked) -> Surface:
    kept = tuple(check for check in s.checks if check.kind != e.check)
    return replace(s, checks=(*kept, Check(e.check, e.passed, e.ended_s)))


def _add_lost(s: Surface, e: FilmLost) -> Surface:
    if e.cause == Loss.WELD:
        s = replace(s, welded_s=e.ended_s)
    if not s.layers:
        return s
    layers = tuple(replace(layer, share=max(0.0, layer.share - e.share)) for layer in s.layers)
    bare = (*s.bare, (e.began_s, min(e.share, 1.0)))
    return replace(s, layers=layers, bare=bare, lost=(*s.lost, (e.cause, e.share, e.ended_s)), degreased_s=None)


def _add_away(s: Surface, e: Away) -> Surface:
    return replace(s, away_s=e.ended_s, away=e)


def _add_back(s: Surface, e: Back) -> Surface:
    here = replace(s, away_s=None, away=None)
    if e.came == "as-sent":
        return here
    if e.came == "bare":
        # Since when it is bare only the contractor knows: since it was sent, to be careful.
        since_s = s.away_s if s.away_s is not None else e.began_s
        return replace(_clean(here), layers=(), bare=((since_s, 1.0),), lost=())
    film = Film(0.0, Basis.ASSUMED, "the contractor’s; not measured")
    name = e.product or ("temporary primer, kind not told" if e.came == "temporary" else "contractor’s coat")
    layer = Layer(e.step, name, None, film, e.ended_s, e.ended_s, 1.0, 0.0, (e.entry,))
    return replace(_clean(here), layers=(layer,), bare=(), lost=())


def _clean(s: Surface) -> Surface:
    return replace(s, keyed_s=None, keyed=(), degreased_s=None, treatment=None, rinsed_s=None, checks=(), prepped=False)


def _add_access(s: Surface, e: Access) -> Surface:
    if e.how == "trial-fit":
        return replace(s, trial_fit_s=e.ended_s)
    closed = e.ended_s if e.how == "closed" else None
    return replace(s, closed_s=closed, trial_fit_s=None)


def _nothing(s: Surface, e: Done) -> Surface:
    return s


def _add_inspected(s: Surface, e: Inspected) -> Surface:
    now = dict(e.points)
    kept = tuple(row for row in s.inspected if row[0] not in now)
    return replace(s, inspected=(*kept, *((point, answer, e.ended_s) for point, answer in e.points)))


_ADD: dict[type[Event], Callable] = {
    Bared: _add_bared,
    Degreased: _add_degreased,
    Keyed: _add_keyed,
    Coated: _add_coated,
    Prepped: _add_prepped,
    Wetted: _add_wetted,
    Rinsed: _add_rinsed,
    Checked: _add_checked,
    FilmLost: _add_lost,
    Away: _add_away,
    Back: _add_back,
    Access: _add_access,
    Done: _nothing,
    Inspected: _add_inspected,
}


def build(events: Sequence[Event], t_s: float) -> Surface:
    """Layers, bare portions and marks at a moment [epoch s], without clocks.

    An event takes effect when it ended; between its begin and end the surface is in work.
    """
    surface = Surface(t_s)
    for event in sorted(events, key=lambda e: (e.ended_s, e.entry)):
        if event.ended_s <= t_s:
            surface = _ADD[type(event)](surface, event)
        elif event.began_s <= t_s:
            surface = replace(surface, in_work=True)
    return surface
