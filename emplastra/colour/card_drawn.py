"""A spray-out card as it lies on the bench: patches by number of mid-coats, the sample, differences hanging below."""

from dataclasses import dataclass

from emplastra.core.colour.lab import hex_of, light_of, luminance

WIDE, STRATA, PATCH, SAMPLE, HANG = 330.0, 52.0, 48.0, 34.0, 86.0
ZERO = STRATA + PATCH + SAMPLE + 10.0
CLEAR, LETTER = 12.0, 15.0
STRATUM = 7.0
BAR_MOST = 62.0


@dataclass(frozen=True)
class Patch:
    """One number of mid-coats: its place, its colour, its strata [y], its difference and bar."""

    n: int
    x: float
    w: float
    colour: str
    strata: list
    off: float | None
    bar: float
    is_chosen: bool
    off_y: float


@dataclass(frozen=True)
class DrawnCard:
    """The card: its patches, the sample's colour (None: none), the line of the limit below it."""

    patches: list
    sample: str | None
    limit_y: float | None
    height: float
    width: float = WIDE
    strata: float = STRATA
    sample_y: float = STRATA + PATCH
    zero_y: float = ZERO


def is_dark(light):
    """True for a colour on which white is read."""
    return luminance(light) < 0.2


def drawn(group):
    """The card of a group as drawn, None without one."""
    if group.card is None:
        return None
    card, limit = group.card.card, group.limit or 1.0
    off = dict(card.differences)
    per, width = BAR_MOST / max(*off.values(), limit) if off else 0.0, WIDE / len(card.patches)
    patches = [_patch(group, i, width, n, lab, off.get(n), per, limit) for i, (n, lab) in enumerate(card.patches)]
    height = STRATA + PATCH + (SAMPLE + HANG if card.sample else 0.0)
    sample = hex_of(light_of(card.sample)) if card.sample else None
    return DrawnCard(patches, sample, per * limit if off else None, height)


def _patch(group, i, width, n, lab, off, per, limit):
    """The i-th patch of a card; off: its difference, of which one is so many units long."""
    strata = [STRATA - STRATUM * (k + 1) for k in range(min(n, int(STRATA / STRATUM)))]
    bar, line = per * (off or 0.0), per * limit
    # A figure stands below its bar, and below the limit's line where the bar is short.
    off_y = ZERO + (bar if abs(bar - line) > CLEAR else max(bar, line)) + LETTER
    return Patch(n, i * width, width, hex_of(light_of(lab)), strata, off, bar, n == group.chosen, off_y)
