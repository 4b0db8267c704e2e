"""Which tins to buy: at the least cost, or so that the least is left over; exact, by branch and bound over counts."""

import itertools
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from ..product.sheet import Sheet

MOST_TINS = 10_000
STEP_ML = 10
"""What is left over counts by so much [mL]: nobody pours finer out of a tin. Ours, no source."""
MOST_LOOKS = 10_000
"""So many combinations are looked at; beyond, the best so far is taken and said to be no more than that."""
KIT_OFF = Fraction(1, 10)
"""So far a base and a hardener may be off the mix ratio and still be one kit. Common practice, no source."""


class Aim(StrEnum):
    """What is bought for."""

    COST = "cost"
    WASTE = "waste"


@dataclass(frozen=True)
class Size:
    """A size that a part is sold in: how much [mL], and its price (None: not told)."""

    ml: Fraction
    price: Fraction | None = None


@dataclass(frozen=True)
class Order:
    """Tins to buy: [(size, how many)] with how many above 0, what they cost (None: a price is not told) and what they
    hold over what is wanted [mL]; exact: True if nothing better can be.
    """

    tins: tuple[tuple[Size, int], ...]
    cost: Fraction | None
    over_ml: Fraction
    exact: bool = True

    @property
    def count(self) -> int:
        """How many in all."""
        return sum(many for _, many in self.tins)


def order(wanted_ml: float, sizes: Iterable[Size], aim: Aim = Aim.COST) -> Order | None:
    """The tins that cover so much [mL]; None where there is no size, or it would take more than 10,000.

    By cost: the cheapest, of these what leaves least over, of these the fewest. By waste: what leaves least over in
    steps of 10 mL, of these the cheapest, then the fewest. Where a price is not told it is bought by waste.
    """
    found = sorted(set(sizes), key=lambda size: size.ml, reverse=True)
    wanted = Fraction(wanted_ml).limit_denominator(1000)
    if wanted <= 0:
        return Order((), Fraction(0), Fraction(0))
    if not found or wanted / found[0].ml > MOST_TINS:
        return None
    priced = all(size.price is not None for size in found)
    by_cost = aim is Aim.COST and priced
    if by_cost:
        found.sort(key=lambda size: (_price(size) / size.ml, -size.ml))
    counts, exact = _best(wanted, found, by_cost)
    tins = tuple((size, many) for size, many in zip(found, counts, strict=True) if many)
    cost = sum((_price(size) * many for size, many in tins), Fraction(0)) if priced else None
    return Order(tins, cost, sum((size.ml * many for size, many in tins), Fraction(0)) - wanted, exact)


def _price(size: Size) -> Fraction:
    return size.price if size.price is not None else Fraction(0)


def _best(wanted: Fraction, sizes: Sequence[Size], by_cost: bool) -> tuple[tuple[int, ...], bool]:
    """(counts of the best cover, by size, whether nothing better can be)."""
    best: list[tuple[tuple[Fraction, Fraction, int], tuple[int, ...]]] = []
    last, looks = len(sizes) - 1, itertools.count()

    def key(cost: Fraction, over: Fraction, many: int) -> tuple[Fraction, Fraction, int]:
        return (cost, over, many) if by_cost else (Fraction(over // STEP_ML), cost, many)

    def go(n: int, left: Fraction, cost: Fraction, counts: tuple[int, ...]) -> None:
        if left <= 0:
            told = key(cost, -left, sum(counts)), counts + (0,) * (len(sizes) - len(counts))
            if not best or told < best[0]:
                best[:] = [told]
            return
        if (
            n > last
            or (best and next(looks) > MOST_LOOKS)
            or (best and _hopeless(left, cost, sizes[n:], best[0][0], by_cost))
        ):
            return
        most = math.ceil(left / sizes[n].ml)
        for many in range(most, -1, -1) if n < last else (most,):
            go(n + 1, left - many * sizes[n].ml, cost + many * _price(sizes[n]), (*counts, many))

    go(0, wanted, Fraction(0), ())
    return best[0][1], next(looks) <= MOST_LOOKS


def _hopeless(
    left: Fraction,
    cost: Fraction,
    sizes: Sequence[Size],
    best: tuple[Fraction, Fraction, int],
    by_cost: bool,
) -> bool:
    """True if what is still to be covered cannot beat the best: at the lowest price of a mL it costs more."""
    least = cost + left * min(_price(size) / size.ml for size in sizes)
    return least > best[0] if by_cost else best[0] == 0 and least > best[1]


def sizes_of(sheet: Sheet, component: str) -> tuple[Size, ...]:
    """Sizes that a part is sold in by its sheet."""
    return tuple(
        Size(Fraction(str(tin.ml)), None if tin.price is None else Fraction(str(tin.price)))
        for tin in sheet.tins
        if tin.component == component
    )


@dataclass(frozen=True)
class Kit:
    """A base and its hardener that are sold for each other: what each holds [mL] and both cost (None: not told)."""

    base_ml: Fraction
    hardener_ml: Fraction
    price: Fraction | None


def kits_of(bases: Sequence[Size], hardeners: Sequence[Size], ratio: float) -> tuple[Kit, ...]:
    """Pairs of sizes that are mixed up together, base to hardener by volume, to a tenth."""
    found = []
    for base in bases:
        for hardener in hardeners:
            off = base.ml / hardener.ml / Fraction(ratio).limit_denominator(1000) - 1
            if abs(off) <= KIT_OFF:
                told = base.price is not None and hardener.price is not None
                found.append(Kit(base.ml, hardener.ml, _price(base) + _price(hardener) if told else None))
    return tuple(found)


def order_kits(base_ml: float, hardener_ml: float, kits: Sequence[Kit], aim: Aim = Aim.COST) -> list[tuple[Kit, int]]:
    """Whole kits that cover base and hardener [mL]; [] where there are none."""
    sized = {Size(kit.base_ml, kit.price): kit for kit in kits}
    for wanted in _wanted(base_ml, hardener_ml, kits):
        found = order(wanted, sized, aim)
        if found is not None:
            told = [(sized[size], many) for size, many in found.tins]
            if sum(kit.hardener_ml * many for kit, many in told) >= Fraction(hardener_ml).limit_denominator(1000):
                return told
    return []


def _wanted(base_ml: float, hardener_ml: float, kits: Sequence[Kit]) -> list[float]:
    """Base to be covered [mL] so that the hardener is too: as it is, else by what the leanest kit has of it."""
    if not kits:
        return []
    leanest = max(kit.base_ml / kit.hardener_ml for kit in kits)
    return [base_ml, max(base_ml, float(hardener_ml * leanest))]
