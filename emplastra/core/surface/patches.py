"""What lies on a surface, patch by patch: a patch is a share of its area with one history.

An act on part of a face takes the patches that it concerns: first those on which every earlier layer
lies and that have not had it yet, then the rest, the oldest first; one is split where the share ends.
Patches of like histories merge; over MOST the two most alike do, and keep mean and least film.
"""

import itertools
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from ..air.heat import minutes_at
from ..product.abrasives import GRAIN_UM
from ..product.film import Film
from ..product.sheet import Sheet
from ..working import Basis

FULL = 0.999
"""A share from which on a face counts as done whole; what is left over is too small to be a patch."""
SHORT_MIN = 0.5
"""A schedule is done that is short by less than this [min]: logs are told by the minute."""
MOST = 12
"""Patches of a surface at most."""


@dataclass(frozen=True)
class Layer:
    """A coat that lies on a patch, or on a share of a face; part coats of one product join until they cover all.

    film: as applied, its mean over the share; sanded_um: what keying took of it [µm], the mean; least_um: the least
    that is left anywhere [µm]; temporary: a contractor's, of a kind that nobody knows; gauged: a gauge has measured it;
    forced_s: when a schedule of its sheet was done [epoch s], None while none was.
    """

    step: str
    product: str
    sheet: Sheet | None
    film: Film
    began_s: float
    ended_s: float
    share: float = 1.0
    sanded_um: float = 0.0
    entries: tuple[int, ...] = ()
    thin_um: float | None = None
    temporary: bool = False
    gauged: bool = False
    forced_s: float | None = None

    @property
    def left_um(self) -> float | None:
        """Film left after sanding [µm], its mean; None where its film is not known."""
        return None if self.film.dft_um is None else max(0.0, self.film.dft_um - self.sanded_um)

    @property
    def least_um(self) -> float | None:
        """The least film left on any of it [µm]."""
        return self.left_um if self.thin_um is None else self.thin_um

    @property
    def key(self) -> tuple[str, str]:
        """Which coat of the plan it is of: its step and product."""
        return self.step, self.product

    def measured(self, left_um: float, least_um: float, count: int, rest: bool) -> "Layer":
        """The same with the film that a gauge found [µm]: so much left, the least; rest: less what lay under it."""
        how = f"gauge, {count} readings{', less what lay under it' if rest else ''}"
        film = Film(left_um + self.sanded_um, Basis.MEASURED, how)
        return replace(self, film=film, thin_um=min(left_um, least_um), gauged=True)

    def is_forced_by(self, began_s: float, log: Sequence[tuple[float, float]]) -> bool:
        """True if warming that began at a moment [epoch s] did a schedule of its sheet; log: [(min, metal °C)]."""
        flashed_min = (began_s - self.ended_s) / 60.0
        return any(
            minutes_at(log, s.metal_c, max(0.0, (s.flash_min or 0.0) - flashed_min)) >= s.minutes - SHORT_MIN
            for s in (self.sheet.schedules if self.sheet else ())
        )

    def sanded(self, um: float) -> "Layer":
        """The same with so much [µm] taken off."""
        thin = None if self.thin_um is None else max(0.0, self.thin_um - um)
        return replace(self, sanded_um=self.sanded_um + um, thin_um=thin)


@dataclass(frozen=True)
class Treatment:
    """Acid prep that stands wet: since when, the wettings [epoch s], its product and sheet."""

    began_s: float
    wettings: tuple[float, ...]
    product: str = ""
    sheet: Sheet | None = None


@dataclass(frozen=True)
class Acid:
    """Acid prep that was rinsed off: how long it stood [s], and whether it was wet throughout."""

    product: str
    sheet: Sheet | None
    stood_s: float
    wet: bool = True

    @property
    def short_min(self) -> tuple[float, float] | None:
        """(how long it stood, the least that its sheet asks for) [min]; None if it stood for that, in any warmth."""
        table = self.sheet.times.get("contact") if self.sheet else None
        least = min((minutes for _, minutes in table.points), default=None) if table else None
        return (self.stood_s / 60, least) if least is not None and self.stood_s < 60 * least - 30 else None


@dataclass(frozen=True)
class Patch:
    """A share of a surface with one history: layers from the metal, or since when it is bare [epoch s].

    keyed_s, degreased_s, rinsed_s, dried_s: when it was, since its last coat or baring; prepped: acid was rinsed off
    it; by_hand: its metal was last abraded by hand; lost: what took its film, and when; changed_s: when anything was
    last done to it; bared_by: the way its metal was bared ("": not told); grit: it was keyed with last; acid: that was
    rinsed off it; vapour: the chlorinated cleaner that it was wiped with last ("": none).
    """

    share: float = 1.0
    layers: tuple[Layer, ...] = ()
    bare_s: float | None = None
    keyed_s: float | None = None
    degreased_s: float | None = None
    rinsed_s: float | None = None
    dried_s: float | None = None
    treatment: Treatment | None = None
    prepped: bool = False
    by_hand: bool = False
    lost: tuple[str, float] | None = None
    changed_s: float = float("-inf")
    bared_by: str = ""
    grit: str = ""
    acid: Acid | None = None
    vapour: str = ""

    @property
    def since_s(self) -> float:
        """How old it is [epoch s]: since when it is bare, else when anything was last done to it."""
        return self.changed_s if self.bare_s is None else self.bare_s


Patches = tuple[Patch, ...]
Order = Callable[[Patch], Any]


def taken(patches: Sequence[Patch], share: float, order: Order) -> tuple[list[Patch], list[Patch]]:
    """(patches that an act over a share of the face takes, the rest), in this order."""
    if share >= FULL:
        return list(patches), []
    left, mine, rest = share, list[Patch](), list[Patch]()
    for patch in sorted(patches, key=order):
        part = min(left, patch.share)
        if patch.share - part <= 1 - FULL:
            part = patch.share
        elif part <= 1 - FULL:
            part = 0.0
        left = max(0.0, left - part)
        mine += [replace(patch, share=part)] if part else []
        rest += [replace(patch, share=patch.share - part)] if part < patch.share else []
    return mine, rest


def change(patches: Patches, share: float, order: Order, do: Callable[[Patch], Patch]) -> Patches:
    """Do something to a share of the face; the order tells which patches it concerns first."""
    mine, rest = taken(patches, share, order)
    return merged([*map(do, mine), *rest])


def merged(patches: Iterable[Patch]) -> Patches:
    """Like histories in one patch, and no more than MOST patches."""
    whole: list[Patch] = []
    for patch in patches:
        like = next((i for i, other in enumerate(whole) if replace(other, share=patch.share) == patch), None)
        if like is None:
            whole.append(patch)
        else:
            whole[like] = replace(patch, share=whole[like].share + patch.share)
    while len(whole) > MOST:
        a, b = min(itertools.combinations(whole, 2), key=lambda pair: _apart(*pair))
        whole = [_both(a, b) if patch is a else patch for patch in whole if patch is not b]
    return tuple(whole)


def _apart(a: Patch, b: Patch) -> tuple[bool, int, float, float]:
    """How unlike two histories are: bare beside coated, other layers, other film, small shares first."""
    layers = zip(a.layers, b.layers, strict=False)
    film = sum(abs((x.left_um or 0.0) - (y.left_um or 0.0)) for x, y in layers)
    keys = Counter(x.key for x in a.layers), Counter(x.key for x in b.layers)
    unlike = sum((keys[0] - keys[1]).values()) + sum((keys[1] - keys[0]).values())
    return (a.bare_s is None) != (b.bare_s is None), unlike, film, a.share + b.share


def _both(a: Patch, b: Patch) -> Patch:
    """Two patches as one: its film the mean of both, its hours the careful ones of both."""
    share = a.share + b.share
    layers = tuple(map(_spread, together([replace(p, share=p.share / share) for p in (a, b)])))

    def both(name: str, pick: Callable[..., float]) -> float | None:
        values = [v for v in (getattr(a, name), getattr(b, name)) if v is not None]
        return pick(values) if len(values) == 2 else None

    bare = [p.bare_s for p in (a, b) if p.bare_s is not None]
    rinsed = [p.rinsed_s for p in (a, b) if p.rinsed_s is not None]
    return Patch(
        share,
        layers,
        min(bare, default=None),
        both("keyed_s", min),
        both("degreased_s", min),
        max(rinsed, default=None),
        both("dried_s", max),
        a.treatment or b.treatment,
        min(a.prepped, b.prepped),
        min(a.by_hand, b.by_hand),
        a.lost or b.lost,
        min(a.changed_s, b.changed_s),
        **_done_to(a, b),
    )


def _done_to(a: Patch, b: Patch) -> dict[str, Any]:
    """What was last done to two patches, as to one: the careful of both."""
    return {
        "bared_by": a.bared_by if a.bared_by == b.bared_by else "",
        "grit": _coarser(a.grit, b.grit),
        "acid": _shorter(a.acid, b.acid),
        "vapour": a.vapour or b.vapour,
    }


def _shorter(one: Acid | None, other: Acid | None) -> Acid | None:
    """The acid that stood for less."""
    found = [acid for acid in (one, other) if acid is not None]
    return min(found, key=lambda acid: acid.stood_s, default=None)


def _coarser(one: str, other: str) -> str:
    """The coarser of two grits; "" if one of them is not told."""
    return max(one, other, key=lambda grit: GRAIN_UM.get(grit, 0.0)) if one and other else ""


def _spread(layer: Layer) -> Layer:
    """A layer on part of a patch as one on all of it: as much film, spread; bare where it was not."""
    if layer.share >= FULL:
        return replace(layer, share=1.0)
    um = layer.film.dft_um
    film = replace(layer.film, dft_um=None if um is None else um * layer.share)
    return replace(layer, share=1.0, film=film, sanded_um=layer.sanded_um * layer.share, thin_um=0.0)


def gauged(layers: tuple[Layer, ...], mean_um: float, least_um: float, count: int) -> tuple[Layer, ...]:
    """Layers once a gauge has read all of them [µm]: what is new since the gauging before takes what that leaves, each
    coat of it by its share of what was known; where nothing is new, the uppermost takes the difference.
    """
    new = [i for i, layer in enumerate(layers) if not layer.gauged] or [len(layers) - 1]
    rest = sum(layer.left_um or 0.0 for i, layer in enumerate(layers) if i not in new)
    mean, least = max(0.0, mean_um - rest), max(0.0, least_um - rest)
    shares = dict(zip(new, _shares([layers[i].left_um for i in new]), strict=True))
    return tuple(
        layer.measured(mean * shares[i], least * shares[i], count, rest > 0) if i in shares else layer
        for i, layer in enumerate(layers)
    )


def _shares(known: Sequence[float | None]) -> list[float]:
    """How films share what a gauge found of all of them; one of which nothing is known is like the others."""
    told = [um for um in known if um]
    usual = sum(told) / len(told) if told else 1.0
    parts = [usual if um is None else um for um in known]
    whole = sum(parts)
    return [part / whole if whole else 1.0 / len(parts) for part in parts]


def together(patches: Sequence[Patch]) -> tuple[Layer, ...]:
    """Layers of a face from its patches, from the metal: the nth coat of a step on each patch is one layer.

    Its film is the mean over the share it covers; its begin the earliest, its end the latest.
    """
    if len(patches) == 1 and patches[0].share == 1.0:
        return patches[0].layers
    found: dict[tuple[str, str, int], list[tuple[float, Layer]]] = {}
    for patch in patches:
        counts: Counter[tuple[str, str]] = Counter()
        for layer in patch.layers:
            counts[layer.key] += 1
            found.setdefault((*layer.key, counts[layer.key]), []).append((patch.share, layer))
    in_turn = sorted(found.values(), key=lambda parts: min((layer.ended_s, layer.entries) for _, layer in parts))
    return tuple(map(_one, in_turn))


_WEAKEST = list(Basis)


def _one(parts: Sequence[tuple[float, Layer]]) -> Layer:
    """One layer from its parts on several patches (share, layer)."""
    if len(parts) == 1:
        share, layer = parts[0]
        return replace(layer, share=share)
    share = sum(part for part, _ in parts)
    layers = [layer for _, layer in parts]
    return replace(
        layers[0],
        film=_mean_film(parts, share),
        began_s=min(layer.began_s for layer in layers),
        ended_s=max(layer.ended_s for layer in layers),
        share=min(1.0, share),
        sanded_um=sum(part * layer.sanded_um for part, layer in parts) / share,
        entries=tuple(sorted({entry for layer in layers for entry in layer.entries})),
        thin_um=_least([layer.least_um for layer in layers]),
        gauged=all(layer.gauged for layer in layers),
        forced_s=_last([layer.forced_s for layer in layers]),
    )


def _least(films: Sequence[float | None]) -> float | None:
    """The least of the films that are known [µm], None where none is."""
    return min((um for um in films if um is not None), default=None)


def _last(moments: Sequence[float | None]) -> float | None:
    """The last of some moments [epoch s], None while one of them is still to come."""
    told = [t_s for t_s in moments if t_s is not None]
    return max(told) if len(told) == len(moments) else None


def _mean_film(parts: Sequence[tuple[float, Layer]], share: float) -> Film:
    films = list(dict.fromkeys(layer.film for _, layer in parts))
    if len(films) == 1:
        return films[0]
    known = [part * layer.film.dft_um for part, layer in parts if layer.film.dft_um is not None]
    if len(known) < len(parts):
        return Film(None, Basis.ASSUMED, "cannot say: of a part of it no film is told")
    mean = sum(known) / share
    return Film(mean, max((f.basis for f in films), key=_WEAKEST.index), f"mean of {len(films)} parts")
