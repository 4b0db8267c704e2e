"""Blocking a face flat: how long a block, which grits, and when to stop. Common practice, no source."""

import math
from collections.abc import Collection, Sequence
from dataclasses import dataclass

from ..product.abrasives import grit_plan
from .depths import Island, Mark, Relief

BLOCKS_MM = (125.0, 200.0, 300.0, 400.0, 600.0, 900.0)
"""Lengths that blocks have [mm]."""
BEARS_MM = 75.0
"""Flat that carries a block at each end [mm]."""
ANGLE = "always at about 45 degrees, both ways"
STOP = "When the marks begin to show again it is flat: stop."
FIRST_GRIT, LAST_GRIT = "P40", "P180"
"""Filler is knocked back with P40 on a stiff block; primer goes over P180."""


def block_mm(islands: Sequence[Island], w_mm: float, h_mm: float) -> tuple[float, bool]:
    """(length of the block [mm], whether it is carried at both ends) for a face of w_mm by h_mm: as long as the widest
    low along 45 degrees and flat at each end, as far as the face has room for it.

    A shorter one sinks into a low and digs a trench.
    """
    wide = max((i.wide_mm for i in islands if i.is_low), default=0.0)
    wanted = wide + 2 * BEARS_MM
    # Laid at 45 degrees it reaches its length divided by the root of two across the shorter side.
    room = [b for b in BLOCKS_MM if b <= min(w_mm, h_mm) * 2**0.5] or [BLOCKS_MM[0]]
    good = [b for b in room if b >= wanted]
    return (good[0], True) if good else (room[-1], False)


def grits(first: str = FIRST_GRIT, last: str = LAST_GRIT) -> list[str]:
    """The ladder from the first cut to what the primer goes over. Raises GritError."""
    return grit_plan(first, last)


def shows(marked: Sequence[Island], now: Relief, flat_mm: float) -> dict[str, bool]:
    """{letter of a low that was marked: whether its mark shows again} on a face as it stands now; flat_mm [mm].

    A mark shows where nothing stands proud over it any more.
    """
    return {i.name: now.at(*i.middle) <= flat_mm + 1e-9 for i in marked if i.is_low}


def next_of(marks: Sequence[Mark], filled: bool, shown: Collection[str]) -> str:
    """What is done next on a face that was marked and not measured. filled: filler is on; shown: letters that show."""
    highs, lows = ([m.name for m in marks if m.high == high] for high in (True, False))
    if highs and not filled:
        return f"Work {', '.join(highs)} down first, then mark again."
    if not filled:
        return f"Lay a straightedge on {', '.join(lows)}: how deep decides whether filler may go there, and how much."
    buried = [name for name in lows if name not in shown]
    if buried:
        return f"Block on: {', '.join(buried)} {'is' if len(buried) == 1 else 'are'} buried still."
    return STOP


@dataclass(frozen=True)
class Round:
    """A round of levelling: what was done, its lowest and highest as measured [mm] (None: still to come), and the
    lowest that was planned after it [mm] (None: it has no plan).
    """

    what: str
    mm: tuple[float, float] | None
    planned_mm: float | None = None


def rounds(measured: Sequence[tuple[str, float, float]], deep_mm: float, lift_mm: float) -> list[Round]:
    """Rounds as they were measured (what: "found", "highs", "filled", "blocked"; lowest, highest [mm]) beside what the
    deepest low takes [mm] in lifts [mm]: those still to come stand behind them.
    """
    lifts = max(0, math.ceil(deep_mm / lift_mm - 1e-9))
    found, filled = list[Round](), 0
    for what, low, high in measured:
        filled += what == "filled"
        plan = min(0.0, filled * lift_mm - deep_mm) if what == "filled" else None
        found.append(Round(what, (low, high), plan))
    found += [Round("filled", None, min(0.0, k * lift_mm - deep_mm)) for k in range(filled + 1, lifts + 1)]
    if measured and measured[-1][0] != "blocked":
        found.append(Round("blocked", None, 0.0))
    return found


def said_of(proud: bool, colour: str) -> str:
    """What an island of guide coat or of the upper colour says that is left after a pass; proud: sanded through first.

    colour: what is left there, as "guide coat" or the name of the upper primer.
    """
    if proud:
        return "a high: the lower colour shows first, work it down or leave it and fill around"
    return f"a low: {colour} is left in it, block on or fill it"
