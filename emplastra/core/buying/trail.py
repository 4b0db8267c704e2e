"""Where what came of one batch lies: on which faces, under what, or gone; and what is done about it once it is bad."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from typing import NamedTuple

FULL = 0.999
"""From so much of a face on, it is all of it."""


class Lies(StrEnum):
    """Where a layer lies now."""

    TOP = "top"
    UNDER = "under"
    GONE = "gone"


class Layer(NamedTuple):
    """A coat on a face: its entry, what it is of, when [epoch s], its film [µm] (None: nobody can say), the share of
    the face [0..1], and whether it is of the batch looked for.
    """

    entry: int
    product: str
    t_s: float
    film_um: float | None
    share: float = 1.0
    of_batch: bool = False


class Bared(NamedTuple):
    """A face stripped, or a share of it, at a moment [epoch s]."""

    t_s: float
    share: float = 1.0


@dataclass(frozen=True)
class Stack:
    """A face as it is now, from below: what lies, and what of the batch was stripped since."""

    lies: tuple[Layer, ...]
    gone: tuple[Layer, ...]

    @cached_property
    def where(self) -> Lies:
        """Where the uppermost layer of the batch lies."""
        at = [n for n, layer in enumerate(self.lies) if layer.of_batch]
        if not at:
            return Lies.GONE
        return Lies.TOP if at[-1] == len(self.lies) - 1 else Lies.UNDER

    @cached_property
    def over(self) -> tuple[Layer, ...]:
        """What lies over the uppermost layer of the batch."""
        at = [n for n, layer in enumerate(self.lies) if layer.of_batch]
        return self.lies[at[-1] + 1 :] if at else ()

    @property
    def over_names(self) -> tuple[str, ...]:
        """Products over it, from below, each once."""
        return tuple(dict.fromkeys(layer.product for layer in self.over))

    @property
    def since_s(self) -> float | None:
        """Since when something of the batch is on it [epoch s]."""
        told = [layer.t_s for layer in (*self.lies, *self.gone) if layer.of_batch]
        return min(told, default=None)

    @property
    def to_do(self) -> str:
        """What is done about it where the batch is bad. Common practice, no source."""
        if self.where is Lies.GONE:
            return "nothing: it was stripped"
        below = next((n for n, layer in enumerate(self.lies) if layer.of_batch), 0)
        under = self.lies[below - 1].product if below else "bare"
        if self.where is Lies.TOP:
            return f"take it off down to {under}, coat again"
        return "test its key at an edge; strip where it lifts"


def stack(happened: Iterable[Layer | Bared]) -> Stack:
    """What lies on a face after all that happened to it, in the order of time. A strip of a part leaves what lies
    elsewhere: the face then counts as holding it still.
    """
    lies: list[Layer] = []
    gone: list[Layer] = []
    for each in sorted(happened, key=lambda one: one.t_s):
        if isinstance(each, Layer):
            lies.append(each)
        elif each.share >= FULL:
            gone += [layer for layer in lies if layer.of_batch]
            lies = []
    return Stack(tuple(lies), tuple(gone))


@dataclass(frozen=True)
class Stretch:
    """So much of a tin in a pot: from and to on the running scale of the batch [mL or g], in the order of pouring."""

    tin: int
    pot: int
    low: float
    high: float


def stretches(pours: Sequence[tuple[int, int, float]]) -> tuple[Stretch, ...]:
    """Pours (tin, pot, how much [mL or g]) laid end to end, tin by tin in the order of their first pour."""
    order = {tin: n for n, tin in enumerate(dict.fromkeys(tin for tin, _, _ in pours))}
    found, at = [], 0.0
    for tin, pot, much in sorted(pours, key=lambda pour: order[pour[0]]):
        found.append(Stretch(tin, pot, at, at + much))
        at += much
    return tuple(found)
