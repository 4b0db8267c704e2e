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
    """One number of mid-coats: its place, its colour, whether that is dark, its strata [y], its difference and bar."""

    n: int
    x: float
    w: float
    colour: str
    is_dark: bool
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
    sample_is_dark: bool
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
    card = group.card.card
    off = dict(card.differences)
    most = max([*off.values(), group.limit or 1.0], default=1.0)
    per, width = BAR_MOST / most, WIDE / len(card.patches)
    limit, patches = per * (group.limit or 1.0), []
    for i, (n, lab) in enumerate(card.patches):
        light = light_of(lab)
        strata = [STRATA - STRATUM * (k + 1) for k in range(min(n, int(STRATA / STRATUM)))]
        bar = per * off[n] if n in off else 0.0
        # A figure stands below its bar, and below the limit's line where the bar is short.
        off_y = ZERO + (bar if abs(bar - limit) > CLEAR else max(bar, limit)) + LETTER
        at = (n, i * width, width, hex_of(light), is_dark(light), strata)
        patches.append(Patch(*at, off.get(n), bar, n == group.chosen, off_y))
    sample = light_of(card.sample) if card.sample else None
    drawn = DrawnCard(
        patches,
        hex_of(sample) if sample else None,
        bool(sample) and is_dark(sample),
        limit if off else None,
        STRATA + PATCH + (SAMPLE + HANG if sample else 0.0),
    )
    return drawn
