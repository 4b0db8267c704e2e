"""How long bare metal may wait for its primer.

Due when the integral of dt/H(RH) reaches 1. Steel and iron: H = 24 h at 40 % and under, 6 at 60,
3 at 75, 1 at 85 and over, linear in ln H, and 1 h while the surface is under 3 K above the dew
point; aluminium and zinc: 8 h with the same 3 K rule. Ours, settable, no source.
"""

import itertools
import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..air.dewpoint import SONNTAG_A, SONNTAG_B_C, SPREAD_MIN_K, rh_pct
from ..air.journey import Cut

STEEL_HOURS = ((40.0, 24.0), (60.0, 6.0), (75.0, 3.0), (85.0, 1.0))
"""(RH [%], hours) for steel and iron. Common practice, no source."""
LIGHT_METAL_HOURS = ((40.0, 8.0), (85.0, 8.0))
"""The same for aluminium and zinc. Common practice, no source."""
WET_HOURS = 1.0
"""Hours while the surface is under 3 K above the dew point. Common practice, no source."""


@dataclass(frozen=True)
class BareTable:
    """A law over the air's humidity [%] and the metal's distance from the dew point, integrated like a sheet's."""

    hours: tuple[tuple[float, float], ...]
    role: str = "max"
    needs_air: bool = True
    smooth: bool = False
    stands_still_below_c: None = None

    def levels_c(self, low_c: float, high_c: float) -> np.ndarray:
        """No temperature bends this law."""
        return np.array([])

    def jumps(self, cut: Cut) -> np.ndarray:
        """Where the metal comes within 3 K of the dew point, or leaves it [epoch s]."""
        spread = cut.metal_c - cut.dew_c - SPREAD_MIN_K
        i = np.nonzero(spread[:-1] * spread[1:] < 0)[0]
        share = spread[i] / (spread[i] - spread[i + 1])
        return cut.t_s[i] + share * (cut.t_s[i + 1] - cut.t_s[i])

    def outside(self, temp_c: Any) -> np.ndarray:
        """Never extrapolated."""
        return np.zeros(np.shape(temp_c), bool)

    def rates(self, metal_c: Any, air_c: Any, dew_c: Any) -> np.ndarray:
        """Share of the bare time used up per minute, at metal, air and dew point [°C]."""
        levels, hours = np.array(self.hours).T
        dry = np.exp(np.interp(rh_pct(air_c, dew_c), levels, np.log(hours)))
        wet = np.asarray(metal_c, float) - np.asarray(dew_c, float) < SPREAD_MIN_K
        return 1.0 / (60.0 * np.where(wet, np.minimum(WET_HOURS, dry), dry))

    def rate_one(self, metal_c: float, air_c: float, dew_c: float) -> float:
        """As `rates`, for one moment, faster."""
        exponent = SONNTAG_A * dew_c / (SONNTAG_B_C + dew_c) - SONNTAG_A * air_c / (SONNTAG_B_C + air_c)
        rh = min(100.0 * math.exp(exponent), 100.0)
        hours = self.hours[-1][1]
        for (low, a), (high, b) in itertools.pairwise(self.hours):
            if rh <= high:
                share = max(0.0, (rh - low) / (high - low))
                hours = math.exp((1 - share) * math.log(a) + share * math.log(b))
                break
        return 1.0 / (60.0 * (min(WET_HOURS, hours) if metal_c - dew_c < SPREAD_MIN_K else hours))


_TABLES = {
    "steel": BareTable(STEEL_HOURS),
    "cast iron": BareTable(STEEL_HOURS),
    "aluminium": BareTable(LIGHT_METAL_HOURS),
    "zinc": BareTable(LIGHT_METAL_HOURS),
}


def bare_table(substrate: str) -> BareTable | None:
    """The bare-metal law of a substrate; None for stainless, laminate and old film: no bare clock."""
    return _TABLES.get(substrate)
