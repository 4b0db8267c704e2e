"""The pot as drawn: fills to scale, the target as a line with its band."""

from dataclasses import dataclass

FLOOR, BRIM = 330.0, 20.0


@dataclass
class Fill:
    """One pouring in the pot: from y, height, its colour and name."""

    y: float
    height: float
    colour: str
    name: str
    amount: float
    fits: bool


@dataclass
class PotDrawing:
    """Fills from the floor up, the target's line and band, and the level as typed."""

    fills: list
    target_y: float | None
    band_y: float
    band_h: float
    typed_y: float | None


def picture(pot, pour, typed):
    """Geometry of a pot, its scale chosen so that the plan (or what is in it) fills four fifths."""
    full = max(pot.plan.whole, pot.shown, pour.target if pour else 0.0, typed or 0.0) * 1.2
    px = (FLOOR - BRIM) / full

    def y(amount):
        return round(FLOOR - amount * px, 1)

    fills, level = [], 0.0
    for each in pot.poured:
        height = each.added * px
        colour = pot.sheet.colours.get(each.part.key, "#8b8f94")
        fills.append(Fill(y(level + each.added), round(height, 1), colour, each.part.name, each.added, height > 22))
        level += each.added
    if pour is None:
        return PotDrawing(fills, None, 0, 0, None)
    band = max(pour.band * px, 3.0)
    target = y(pour.target)
    return PotDrawing(fills, target, round(target - band, 1), round(2 * band, 1), y(typed) if typed else None)
