"""Texture by bursts: how many passes, from how far, for how long, so that a card's speckle covers as the recorded one.

Speckles fall at random, so what n passes leave open is what one leaves open, n times over: 1 − (1 − c)^n (a Boolean
model of random dots, stochastic geometry; from memory). What falls on a place grows with the length of the burst and
with the inverse square of the distance.
"""

import math
from dataclasses import dataclass

from ..errors import FieldError
from ..working import Basis, Given, Line, Working

PASSES_MOST = 30
COVERS = (0.01, 0.99)
_RANGES = {
    "burst": (0.05, 10.0, "s"),
    "distance": (30.0, 1500.0, "mm"),
    "passes": (1, PASSES_MOST, ""),
    "new_distance": (30.0, 1500.0, "mm"),
}


@dataclass(frozen=True)
class TextureCard:
    """A card as it was sprayed: burst [s], distance [mm], passes, the share of it that is covered, and that of the
    texture that is to be matched [0..1].
    """

    burst_s: float
    distance_mm: float
    passes: int
    covers: float
    wanted: float


@dataclass(frozen=True)
class Bursts:
    """What matches: passes, each burst [s], from where [mm]; what so many whole passes cover [0..1]."""

    passes: int
    burst_s: float
    distance_mm: float
    covers: float
    working: Working


def bursts_for(card: TextureCard, distance_mm: float | None = None) -> Bursts:
    """Passes and bursts that cover as much as is wanted, from the card's distance or another [mm].

    The passes are the whole number that keeps the burst nearest to the card's; the burst makes up the rest. Raises
    FieldError naming what cannot be.
    """
    away = card.distance_mm if distance_mm is None else distance_mm
    told = {"burst": card.burst_s, "distance": card.distance_mm, "passes": card.passes, "new_distance": away}
    for name, value in told.items():
        low, high, unit = _RANGES[name]
        if not low <= value <= high:
            raise FieldError(name, f"must be from {low:g} to {high:g} {unit}".strip())
    for name, value in (("covers", card.covers), ("wanted", card.wanted)):
        if not COVERS[0] <= value <= COVERS[1]:
            raise FieldError(name, "must be from 1 to 99 %: nothing can be said of a card that is bare, or closed")
    of_card = -math.log(1.0 - card.covers)
    needed = -math.log(1.0 - card.wanted)
    per_second = of_card / (card.passes * card.burst_s) * (card.distance_mm / away) ** 2
    seconds = needed / per_second
    passes = max(1, round(seconds / card.burst_s))
    if passes > PASSES_MOST:
        raise FieldError("wanted", f"that takes {passes} passes: come nearer, or open the can or gun further")
    way = f"−ln(1 − {card.covers:g}) / ({card.passes} × {card.burst_s:g}) × ({card.distance_mm:g} / {away:g})²"
    working = Working(
        "Texture by its card",
        (
            Given("the card covers", round(100 * card.covers, 1), "%", Basis.MEASURED, "seen on the card"),
            Given("wanted", round(100 * card.wanted, 1), "%", Basis.MEASURED, "seen on what is to be matched"),
            Given("burst of the card", card.burst_s, "s", Basis.TYPED),
            Given("passes of the card", card.passes, "", Basis.TYPED),
        ),
        (
            Line("a second leaves", way, round(per_second, 4), "dots on a place"),
            Line("on one place", f"−ln(1 − {card.wanted:g}) / {per_second:.4f}", round(seconds, 2), "s"),
        ),
        "random dots: n passes leave open what one leaves, n times over",
    )
    burst = seconds / passes
    return Bursts(passes, burst, away, 1.0 - math.exp(-passes * burst * per_second), working)


COARSER = (
    "Coarser: nearer, less air or a larger valve, bursts short. Finer: farther, more air, a long even stroke.",
    "Each pass crosses the one before; let it flash between, wet on wet runs together and grows flat.",
)
"""What bursts do to the grain. Common practice, no source."""
