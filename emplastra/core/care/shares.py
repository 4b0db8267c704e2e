"""What else shares the cause of a fault: other coats that have a pot, a batch, a gun, a day, a place or a drain in
common with the one that it was found in, and what to look for on each.

What is looked for by what is shared: common practice, no source.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

LOOKS = {
    "pot": "Press a thumb nail into it, rub it with solvent: a pot that was off its ratio stays soft everywhere.",
    "batch": "The same sign first where the film is thickest; rub a corner with solvent.",
    "drain": "Probe the drain, look below it and at the next cavity: water goes on downstream.",
    "gun": "The same pattern: dry, heavy or cratered along the strokes; oil in the line was in all of them.",
    "air": "The same air: blush, dull patches, dew under the film; tape pulled off at an edge.",
    "ground": "The edge where the metal was keyed alike: tape pulled off there.",
    "day": "Begun by the same hand on the same day: look at where its stroke begins and ends.",
}
"""What is shared, the strongest tie first -> what to look for. Common practice, no source."""
NAMES = {
    "pot": "the same pot",
    "batch": "a batch",
    "drain": "what the water did",
    "gun": "the gun, the same day",
    "air": "the air of the same hours",
    "ground": "the same preparation, the same day",
    "day": "hand and day",
}


@dataclass(frozen=True)
class Coat:
    """A coat as what it may share with another.

    entry, zone: ids; product; day: in the workshop; place: where it stood, "" unknown; began_s, ended_s [epoch s]; pot:
    its pot's id (0: none); batches: (product, part, batch); gun, who: "" not told; prepared: with what the ground was
    keyed last, and when [epoch day], "" not told; waters: causes that water did there, told as open.
    """

    entry: int
    zone: int
    product: str
    day: int
    place: str = ""
    began_s: float = 0.0
    ended_s: float = 0.0
    pot: int = 0
    batches: frozenset[tuple[str, str, str]] = frozenset()
    gun: str = ""
    who: str = ""
    prepared: str = ""
    waters: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Shared:
    """A face that shares something: its zone, the coat that shares most, by which ties (keys of LOOKS)."""

    zone: int
    entry: int
    ties: tuple[str, ...]
    batches: tuple[str, ...] = ()

    @property
    def look(self) -> str:
        """What to look for, by its strongest tie."""
        return LOOKS[self.ties[0]]


AIR_S = 2 * 3600.0
"""Coats that were put on within so long of each other in one place had the same air [s]. Ours."""


def _same_air(one: Coat, other: Coat) -> bool:
    """True for coats put on near each other in one place."""
    near = one.began_s - AIR_S <= other.ended_s and other.began_s <= one.ended_s + AIR_S
    return near and bool(one.place) and one.place == other.place


def _same_hand(one: Coat, other: Coat) -> bool:
    """True for coats of one product that one hand put on in a day."""
    return bool(one.who) and (one.who, one.day, one.product) == (other.who, other.day, other.product)


_TIES: dict[str, Callable[[Coat, Coat], bool]] = {
    "pot": lambda one, other: bool(one.pot) and one.pot == other.pot,
    "batch": lambda one, other: bool(one.batches & other.batches),
    "drain": lambda one, other: bool(one.waters & other.waters),
    "gun": lambda one, other: bool(one.gun) and (one.gun, one.day) == (other.gun, other.day),
    "air": _same_air,
    "ground": lambda one, other: bool(one.prepared) and one.prepared == other.prepared,
    "day": _same_hand,
}


def ties(one: Coat, other: Coat) -> tuple[str, ...]:
    """What two coats share, the strongest tie first."""
    return tuple(key for key in LOOKS if _TIES[key](one, other))


def sharing(one: Coat, others: Iterable[Coat]) -> tuple[Shared, ...]:
    """Other faces that share something with a coat, each once, by its strongest ties; those that share most first."""
    best: dict[int, Shared] = {}
    order = list(LOOKS)
    for other in others:
        if other.zone == one.zone or not (found := ties(one, other)):
            continue
        named = tuple(sorted(batch for _, _, batch in one.batches & other.batches))
        made = Shared(other.zone, other.entry, found, named)
        was = best.get(other.zone)
        if was is None or _turn(made, order) < _turn(was, order):
            best[other.zone] = made
    return tuple(sorted(best.values(), key=lambda shared: (*_turn(shared, order), shared.zone)))


def _turn(shared: Shared, order: list[str]) -> tuple[int, int]:
    return order.index(shared.ties[0]), -len(shared.ties)
