"""What lies on a surface at a moment: a fold over what happened to it.

`Surface(patches, clocks, spots)`. A surface is at once sandable, open for filler and not cured; the
headline is chosen from its clocks: keep wet > bare past its limit > closing > missed > bare > open >
waiting > resting. Patches are in `patches`, the clocks in `clocks`.
"""

import itertools
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

from ..product.film import Film
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
    Dried,
    Event,
    FilmLost,
    Gauged,
    Heated,
    Inspected,
    Keyed,
    Masked,
    Prepped,
    Rinsed,
    Unmasked,
    Wetted,
)
from .integral import Crossing, progress
from .names import LEADING, Loss, Runs, Status
from .patches import Acid, Layer, Order, Patch, Patches, Treatment, change, gauged, merged, taken, together


@dataclass(frozen=True)
class Toward:
    """What is to come next: a coat of a product of a kind, or an act (weld, close, mask, fit, pack).

    step, coats: the step it is of, and how many coats of that are on; patches that have more already wait for none.
    """

    product: str
    kind: str
    act: str = ""
    step: str = ""
    coats: int = 0

    @property
    def name(self) -> str:
        """It in words."""
        return ACT_WORDS[self.act] if self.act else self.product


ACT_WORDS = {"weld": "welding", "close": "closing", "mask": "masking", "fit": "fitting", "pack": "packing"}


@dataclass(frozen=True)
class Check:
    """What a check said, and when [epoch s]."""

    kind: str
    passed: bool
    t_s: float


@dataclass(frozen=True)
class Clock:
    """One thing that runs on a surface.

    kind: bare, keep wet, dry-off, recoat, keyed, degreased, act, flash, sandable ... `opens_s`,
    `closes_s` [epoch s]: None where it does not open within 30 days, or never closes. status at the
    moment of the fold, `at_s`. `remark`: what a check says beside it; `done`: progress, where it is
    not that of `opens` or `closes`; stretches: (opens, closes [epoch s]) of a window that is closed in the middle, of
    which the clock tells the one that is open or comes next; untold: what is said where nobody told its close.
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
    stretches: tuple[tuple[float | None, float | None], ...] = ()
    untold: str = ""

    @property
    def shut(self) -> tuple[float, float | None] | None:
        """The closed middle in which it is, from and to [epoch s]; None if in none."""
        for (_, a), (b, _) in itertools.pairwise(self.stretches):
            if a is not None and a <= self.at_s and (b is None or self.at_s < b):
                return a, b
        return None

    @property
    def again_s(self) -> float | None:
        """When it opens again after this close [epoch s]; None if it does not."""
        later = [a for a, _ in self.stretches if a is not None and self.closes_s is not None and a > self.closes_s]
        return min(later, default=None)

    @property
    def progress(self) -> float:
        """How far it has gone at the moment of the fold [share], at most 1."""
        crossing = self.opens or self.closes
        if self.done is not None or crossing is None:
            return self.done or 0.0
        end = self.at_s if crossing.t_s is None else min(self.at_s, crossing.t_s)
        gone = progress(crossing.where, crossing.table, crossing.since_s, max(end, crossing.since_s))
        return min(1.0, gone / crossing.target)


@dataclass(frozen=True)
class Surface:
    """What a surface is at a moment: its patches, clocks, and what holds for the whole of it.

    welded_s: the last weld; inspected: (point, answer, when [epoch s]), the newest of each; clock_maker: gives the
    clock of a kind, None without one (set by the fold; clocks are worked out when they are asked for).
    """

    t_s: float
    patches: Patches = (Patch(),)
    checks: tuple[Check, ...] = ()
    welded_s: float | None = None
    inspected: tuple[tuple[str, str, float], ...] = ()
    away_s: float | None = None
    away: Away | None = None
    closed_s: float | None = None
    trial_fit_s: float | None = None
    masks: tuple[Masked, ...] = ()
    in_work: bool = False
    spots: tuple["Surface", ...] = ()
    clock_maker: Callable[[str], Clock | None] | None = field(default=None, repr=False, compare=False)

    def at(self, t_s: float) -> "Surface":
        """The same surface at another moment [epoch s], without clocks."""
        return self.seen(t_s, self.spots, None)

    def seen(
        self, t_s: float, spots: tuple["Surface", ...], clock_maker: Callable[[str], Clock | None] | None
    ) -> "Surface":
        """The same surface at a moment [epoch s] with these spots and clocks; by hand, for `replace` is slow."""
        return Surface(
            t_s,
            self.patches,
            self.checks,
            self.welded_s,
            self.inspected,
            self.away_s,
            self.away,
            self.closed_s,
            self.trial_fit_s,
            self.masks,
            self.in_work,
            spots,
            clock_maker,
        )

    def under(self, step: str, product: str, share: float) -> "Surface":
        """Only the patches on which a coat over a share would land, as a surface of its own."""
        mine, _ = taken(self.patches, share, coat_order(self.patches, step, product))
        return replace(self, patches=tuple(mine), clock_maker=None)

    def owing_no_primer(self) -> "Surface":
        """The same, meant to stay bare or as it is: no bare time runs."""
        return replace(self, patches=merged(replace(p, bare_s=None) for p in self.patches), clock_maker=None)

    @cached_property
    def layers(self) -> tuple[Layer, ...]:
        """Layers from the metal, each with its mean film and share."""
        return together(self.patches)

    @cached_property
    def top(self) -> Layer | None:
        """The last layer of what is furthest; of equals the newest."""
        if len(self.patches) == 1:
            return self.layers[-1] if self.layers else None
        tops = [(len(p.layers), p.layers[-1].ended_s, p.layers[-1]) for p in self.patches if p.layers]
        if not tops:
            return None
        wanted = max(tops, key=lambda each: each[:2])[2]
        return next(layer for layer in reversed(self.layers) if set(wanted.entries) <= set(layer.entries))

    @cached_property
    def bare(self) -> tuple[tuple[float, float], ...]:
        """(since [epoch s], share) of each bare portion, the oldest first."""
        found: dict[float, float] = {}
        for p in self.patches:
            if p.bare_s is not None:
                found[p.bare_s] = found.get(p.bare_s, 0.0) + p.share
        return tuple(sorted(found.items()))

    @property
    def keyed_s(self) -> float | None:
        """When the first of it was keyed, of all that lies there now; None while part of it is not."""
        return _of_all(p.keyed_s for p in self.patches)

    @property
    def degreased_s(self) -> float | None:
        """When the first of it was wiped; None while part of it is not."""
        return _of_all(p.degreased_s for p in self.patches)

    @property
    def metal_is_keyed(self) -> bool:
        """True if all of it is keyed, or all that is bare of it."""
        return self.keyed_s is not None or (
            bool(self.bare) and all(p.keyed_s for p in self.patches if p.bare_s is not None)
        )

    @property
    def bared_by(self) -> str:
        """How what is bare of it was bared, that which was bared first; "" if nobody told."""
        bare = [p for p in self.patches if p.bare_s is not None]
        return min(bare, key=lambda p: p.bare_s or 0.0).bared_by if bare else ""

    @property
    def treatment(self) -> Treatment | None:
        """Acid that stands on it, that which was wetted longest ago."""
        found = [p.treatment for p in self.patches if p.treatment is not None]
        return min(found, key=lambda work: work.wettings[-1], default=None)

    @property
    def rinsed_s(self) -> float | None:
        """When it was last rinsed, since its last coat [epoch s]."""
        return max((p.rinsed_s for p in self.patches if p.rinsed_s is not None), default=None)

    @property
    def prepped(self) -> bool:
        """True if acid was rinsed off all that is bare of it."""
        bare = [p.prepped for p in self.patches if p.bare_s is not None]
        return all(bare) if bare else all(p.prepped for p in self.patches)

    @property
    def lost(self) -> tuple[tuple[str, float, float], ...]:
        """(cause, share, when [epoch s]) of film that was lost and not put on again."""
        return tuple((*p.lost[:1], p.share, p.lost[1]) for p in self.patches if p.lost is not None)

    @property
    def earliest_s(self) -> float | None:
        """The earliest moment whose air its clocks may need [epoch s]; None if none runs."""
        moments = [p.layers[-1].began_s for p in self.patches if p.layers]
        moments += [m for p in self.patches for m in (p.bare_s, p.rinsed_s) if m is not None]
        moments += [p.treatment.began_s for p in self.patches if p.treatment is not None]
        return min(moments, default=None)

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
        return min(running, key=rank, default=None)

    @property
    def governing(self) -> int | None:
        """Index of the spot whose clock leads over the surface's own, None if its own leads."""
        ranked = [(rank(lead), i) for i, spot in enumerate(self.spots) if (lead := spot.lead)]
        own = self.own_lead
        if not ranked or (own is not None and rank(own) <= min(ranked)[0]):
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


def _of_all(moments: Iterable[float | None]) -> float | None:
    found = list(moments)
    told = [t_s for t_s in found if t_s is not None]
    return min(told) if len(told) == len(found) else None


_RANKS = {status: float(i) for i, status in enumerate(Status)}
_OVERDUE = _RANKS[Status.KEEP_WET] + 0.5
"""Bare past its limit."""


def rank(clock: Clock) -> tuple[float, float]:
    """Where a clock stands in the headline's order, and when it ends [epoch s]: the least leads."""
    ends = clock.closes_s if clock.closes_s is not None else clock.opens_s
    overdue = clock.status == Status.BARE and clock.closes_s is not None and clock.at_s >= clock.closes_s
    return _OVERDUE if overdue else _RANKS[clock.status], float("inf") if ends is None else ends


def coat_order(patches: Sequence[Patch], step: str, product: str) -> Order:
    """Which patches a coat concerns first: that have fewest of its kind, on which all before it lies, bare ones, old
    ones.
    """
    first: dict[tuple[str, str], float] = {}
    for layer in (layer for p in patches for layer in p.layers):
        first[layer.key] = min(first.get(layer.key, layer.ended_s), layer.ended_s)
    mine = (step, product)
    before = {key for key, t_s in first.items() if key != mine and t_s < first.get(mine, float("inf"))}

    def order(p: Patch) -> tuple[int, int, bool, float]:
        have = [layer.key for layer in p.layers]
        return have.count(mine), len(before - set(have)), p.bare_s is None, p.since_s

    return order


def _add_bared(s: Surface, e: Bared) -> Surface:
    patches = change(
        s.patches,
        e.share,
        lambda p: (p.bare_s is not None, p.since_s),
        lambda p: Patch(p.share, bare_s=e.began_s, by_hand=e.by_hand, changed_s=e.ended_s, bared_by=e.how),
    )
    return replace(s, patches=patches, checks=())


def _add_degreased(s: Surface, e: Degreased) -> Surface:
    order: Order = lambda p: (p.degreased_s is not None, p.since_s)  # noqa: E731
    vapour = e.product if e.sheet is not None and "chlorinated" in e.sheet.hazards else ""

    def wipe(p: Patch) -> Patch:
        return replace(p, degreased_s=e.ended_s, vapour=vapour)

    return replace(s, patches=change(s.patches, e.share, order, wipe))


def _off_the_top(layers: tuple[Layer, ...], um: float) -> tuple[Layer, ...]:
    found = list(layers)
    for i in reversed(range(len(found))):
        left = found[i].left_um
        take = um if left is None else min(um, left)
        found[i] = found[i].sanded(take) if take else found[i]
        um -= take
    return tuple(found)


def _add_keyed(s: Surface, e: Keyed) -> Surface:
    def key(p: Patch) -> Patch:
        # Abrading bare metal takes its oxide off: it starts anew, and is dry.
        bare_s = None if p.bare_s is None else e.began_s
        dry = replace(p, rinsed_s=None, dried_s=None, degreased_s=None, keyed_s=e.ended_s, changed_s=e.ended_s)
        by_hand = e.by_hand if p.bare_s is not None else p.by_hand
        return replace(dry, layers=_off_the_top(p.layers, e.um_off), bare_s=bare_s, by_hand=by_hand, grit=e.grit)

    # A strip that was burnt is keyed before the film around it.
    order: Order = lambda p: (p.keyed_s is not None, p.lost is None, -len(p.layers), p.since_s)  # noqa: E731
    return replace(s, patches=change(s.patches, e.share, order, key), checks=())


def _add_coated(s: Surface, e: Coated) -> Surface:
    layer = Layer(e.step, e.product, e.sheet, e.film, e.began_s, e.ended_s, 1.0, 0.0, (e.entry,))
    patches = change(
        s.patches,
        e.share * e.of_face,
        coat_order(s.patches, e.step, e.product),
        lambda p: Patch(p.share, (*p.layers, layer), changed_s=e.ended_s),
    )
    return replace(s, patches=patches, checks=())


def _add_gauged(s: Surface, e: Gauged) -> Surface:
    def gauge(p: Patch) -> Patch:
        return replace(p, layers=gauged(p.layers, e.mean_um, e.least_um, e.count)) if p.layers else p

    return replace(s, patches=change(s.patches, e.share, lambda p: (not p.layers, p.since_s), gauge))


def _add_heated(s: Surface, e: Heated) -> Surface:
    def warm(p: Patch) -> Patch:
        layers = (replace(x, forced_s=e.ended_s) if x.is_forced_by(e.began_s, e.points) else x for x in p.layers)
        return replace(p, layers=tuple(layers))

    return replace(s, patches=change(s.patches, e.share, lambda p: (not p.layers, p.since_s), warm))


def _add_prepped(s: Surface, e: Prepped) -> Surface:
    work = Treatment(e.began_s, (e.ended_s,), e.product, e.sheet)
    patches = change(
        s.patches,
        e.share,
        lambda p: (p.bare_s is None, p.treatment is not None, p.since_s),
        lambda p: replace(p, treatment=work, rinsed_s=None, degreased_s=None, changed_s=e.ended_s),
    )
    return replace(s, patches=patches)


def _add_wetted(s: Surface, e: Wetted) -> Surface:
    def wet(p: Patch) -> Patch:
        work = p.treatment
        return p if work is None else replace(p, treatment=replace(work, wettings=(*work.wettings, e.ended_s)))

    return replace(s, patches=change(s.patches, e.share, _acid_first, wet))


def _acid_first(p: Patch) -> tuple[bool, float]:
    return p.treatment is None, p.treatment.wettings[-1] if p.treatment else p.since_s


def _add_rinsed(s: Surface, e: Rinsed) -> Surface:
    def rinse(p: Patch) -> Patch:
        wet = replace(
            p, treatment=None, rinsed_s=e.ended_s, dried_s=None, degreased_s=None, changed_s=e.ended_s, vapour=""
        )
        if p.treatment is None:
            return wet
        acid = Acid(p.treatment.product, p.treatment.sheet, e.ended_s - p.treatment.began_s, e.wet)
        return replace(wet, prepped=e.wet, acid=acid, bare_s=None if p.bare_s is None else e.ended_s)

    return replace(s, patches=change(s.patches, e.share, _acid_first, rinse), checks=())


def _add_dried(s: Surface, e: Dried) -> Surface:
    def dry(p: Patch) -> Patch:
        return p if p.rinsed_s is None else replace(p, dried_s=e.ended_s)

    order: Order = lambda p: (p.rinsed_s is None, p.dried_s is not None, p.since_s)  # noqa: E731
    return replace(s, patches=change(s.patches, e.share, order, dry))


def _add_checked(s: Surface, e: Checked) -> Surface:
    kept = tuple(check for check in s.checks if check.kind != e.check)
    return replace(s, checks=(*kept, Check(e.check, e.passed, e.ended_s)))


def _add_lost(s: Surface, e: FilmLost) -> Surface:
    def burn(p: Patch) -> Patch:
        if not p.layers:
            # Bare metal loses no film, but soot, spatter and grinding dust lie where it was wiped.
            return p if e.cause == Loss.KNOCK else replace(p, degreased_s=None, changed_s=e.ended_s)
        return Patch(p.share, bare_s=e.began_s, lost=(e.cause, e.ended_s), changed_s=e.ended_s)

    welded_s = e.ended_s if e.cause == Loss.WELD else s.welded_s
    patches = change(s.patches, e.share, lambda p: (not p.layers, p.since_s), burn)
    return replace(s, patches=patches, welded_s=welded_s)


def _add_away(s: Surface, e: Away) -> Surface:
    return replace(s, away_s=e.ended_s, away=e)


def _add_back(s: Surface, e: Back) -> Surface:
    here = replace(s, away_s=None, away=None)
    if e.came == "as-sent":
        return here
    if e.came == "bare":
        # Since when it is bare only the contractor knows: since it was sent, to be careful.
        since_s = s.away_s if s.away_s is not None else e.began_s
        return replace(here, patches=(Patch(bare_s=since_s, changed_s=e.ended_s),), checks=())
    film = Film(0.0, Basis.ASSUMED, "the contractor’s; not measured")
    name = e.product or ("temporary primer, kind not told" if e.came == "temporary" else "contractor’s coat")
    layer = Layer(e.step, name, None, film, e.ended_s, e.ended_s, 1.0, 0.0, (e.entry,), temporary=e.came == "temporary")
    return replace(here, patches=(Patch(layers=(layer,), changed_s=e.ended_s),), checks=())


def _add_access(s: Surface, e: Access) -> Surface:
    if e.how == "trial-fit":
        return replace(s, trial_fit_s=e.ended_s)
    closed = e.ended_s if e.how == "closed" else None
    return replace(s, closed_s=closed, trial_fit_s=None)


def _add_masked(s: Surface, e: Masked) -> Surface:
    return replace(s, masks=(*s.masks, e))


def _add_unmasked(s: Surface, e: Unmasked) -> Surface:
    # Glue that stays is wiped off before anything else goes on.
    patches = merged(replace(p, degreased_s=None) for p in s.patches) if e.glue else s.patches
    return replace(s, masks=(), patches=patches)


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
    Gauged: _add_gauged,
    Heated: _add_heated,
    Prepped: _add_prepped,
    Wetted: _add_wetted,
    Rinsed: _add_rinsed,
    Checked: _add_checked,
    FilmLost: _add_lost,
    Away: _add_away,
    Back: _add_back,
    Access: _add_access,
    Done: _nothing,
    Dried: _add_dried,
    Masked: _add_masked,
    Unmasked: _add_unmasked,
    Inspected: _add_inspected,
}


def build(events: Sequence[Event], t_s: float, onto: Surface | None = None) -> Surface:
    """Patches and marks at a moment [epoch s], without clocks.

    An event takes effect when it ended; between its begin and end the surface is in work. onto: what earlier events
    left, to go on from.
    """
    surface = Surface(t_s) if onto is None else replace(onto, t_s=t_s, in_work=False, clock_maker=None)
    for event in sorted(events, key=lambda e: e.turn):
        if event.ended_s <= t_s:
            surface = _ADD[type(event)](surface, event)
        elif event.began_s <= t_s:
            surface = replace(surface, in_work=True)
    return surface
