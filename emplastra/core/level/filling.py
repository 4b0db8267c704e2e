"""Filling the lows of a face: when not to, how much, in which lifts; and working its highs first.

What is not told by a sheet is common practice, no source.
"""

import math
from dataclasses import dataclass

from ..product.kinds import FILLER_MM, LIFT_MM, ProductKind
from ..words import length_q
from ..working import Basis, Given, Line, Working
from .depths import Island, Relief

SHRINKS = {
    ProductKind.BODY_FILLER: 0.02,
    ProductKind.FIBRE_FILLER: 0.01,
    ProductKind.FINE_FILLER: 0.04,
    ProductKind.SPRAYABLE_FILLER: 0.08,
}
"""How much of its volume a filler loses as it cures: glass-fibre filler least. Common practice, no source."""
PROUD_MM = 0.5
"""How far filler is left proud of its low, to be blocked off [mm]. Common practice, no source."""
SPREAD_MIN, MIX_MIN, MARK_MIN = 4.0, 3.0, 5.0
"""Minutes to spread a tenth of a square metre, to mix one lift, and to mark and scuff one low. Common practice."""
BLOCK_MIN_ML = 0.6
"""Minutes to block a mL of proud filler off. Common practice, no source: the workshop's own hours replace it."""
LOW_PANEL_SHARE, LOW_PANEL_MM = 0.35, 1.0
"""A panel of which so much is low by so much is moved, not filled [share, mm]. Common practice, no source."""


@dataclass(frozen=True)
class Paste:
    """A filler as its sheet tells it: kind, density [g/mL], hardener [% of the paste by mass], the most in one lift and
    in all [mm] (None: not told), minutes until it can be blocked.
    """

    kind: str
    density_g_ml: float | None
    hardener_pct: float | None
    lift_mm: float | None = None
    most_mm: float | None = None
    sandable_min: float | None = None

    @property
    def lift(self) -> float:
        """The most in one lift [mm]."""
        return self.lift_mm or LIFT_MM

    @property
    def most(self) -> float:
        """The most in all [mm]."""
        return self.most_mm or FILLER_MM

    @property
    def shrinks(self) -> float:
        """Share of its volume that it loses."""
        return SHRINKS.get(ProductKind(self.kind), SHRINKS[ProductKind.BODY_FILLER])


def not_to_fill(
    island: Island, paste: Paste, open_holes: bool = False, taped: bool = False, highs_left: bool = False
) -> str:
    """Why a low is not filled yet, "" if it may be. open_holes, taped: as the survey has it; highs_left: some are."""
    if taped:
        return "a hole is taped over there: open it, close it with metal"
    if open_holes:
        return "a hole is open: weld, braze or patch it first, filler does not bridge it"
    if highs_left:
        return "work the highs first: a low beside a high is often the high’s doing"
    if -island.mm > paste.most + 1e-9:
        return (
            f"{length_q(-island.mm)} deep, the most is {length_q(paste.most, unit=False)}: metal work first, or solder"
        )
    return ""


def is_low_panel(face: Relief) -> bool:
    """True if a panel is low as a whole: it is moved, not filled."""
    return face.low_share(LOW_PANEL_MM) > LOW_PANEL_SHARE


@dataclass(frozen=True)
class Fill:
    """What a low takes: lifts, filler as it is spread [mL], paste and hardener [g] (None: nobody can say), minutes at
    work and waited for.
    """

    island: Island
    lifts: int
    volume_ml: float
    paste_g: float | None
    hardener_g: float | None
    work_min: float
    wait_min: float | None

    @property
    def whole_g(self) -> float | None:
        """Paste and hardener together [g], None where nobody can say."""
        return None if self.paste_g is None else self.paste_g + (self.hardener_g or 0.0)

    def working(self, paste: Paste) -> Working:
        """The whole way to it."""
        net = self.island.volume_ml
        over = PROUD_MM * self.island.area_m2 * 1000.0
        given = [
            Given("low, below flat", round(net, 1), "mL", Basis.ESTIMATED, "between measured places"),
            Given("left proud", PROUD_MM, "mm", Basis.ASSUMED, "common practice, no source"),
            Given(
                "lost as it cures", 100 * paste.shrinks, "%", Basis.ASSUMED, "by its kind: common practice, no source"
            ),
        ]
        lines = [
            Line("spread", f"({net:.1f} + {over:.1f}) / (1 − {paste.shrinks:g})", round(self.volume_ml, 1), "mL"),
            Line("lifts", f"{-self.island.mm:.2f} mm in lifts of {paste.lift:g}", self.lifts),
        ]
        if self.paste_g is not None:
            given.append(Given("density", paste.density_g_ml or 0.0, "g/mL", Basis.SHEET))
            given.append(Given("hardener", paste.hardener_pct or 0.0, "% of the paste by mass", Basis.SHEET))
            lines.append(
                Line(
                    "paste and hardener",
                    f"{self.volume_ml:.1f} × density",
                    round(self.paste_g + (self.hardener_g or 0)),
                    "g",
                )
            )
        return Working(
            f"Filler for {self.island.name or 'a low'}", tuple(given), tuple(lines), "common practice, no source"
        )


def fill(island: Island, paste: Paste) -> Fill:
    """What filling a low takes. Raises ValueError for a high."""
    if not island.is_low:
        raise ValueError("a high is worked down, not filled")
    proud_ml = PROUD_MM * island.area_m2 * 1000.0
    volume = (island.volume_ml + proud_ml) / (1.0 - paste.shrinks)
    lifts = max(1, math.ceil(-island.mm / paste.lift - 1e-9))
    whole = None if paste.density_g_ml is None else volume * paste.density_g_ml
    base = hardener = None
    if whole is not None and paste.hardener_pct is not None:
        base = whole / (1.0 + paste.hardener_pct / 100.0)
        hardener = whole - base
    work = MARK_MIN + lifts * (MIX_MIN + SPREAD_MIN * island.area_m2 * 10.0) + BLOCK_MIN_ML * proud_ml
    wait = None if paste.sandable_min is None else lifts * paste.sandable_min
    return Fill(island, lifts, volume, base, hardener, work, wait)
