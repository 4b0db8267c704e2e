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

from .dewpoint import SONNTAG_A, SONNTAG_B_C, SPREAD_MIN_K, dew_point_c

STEEL_HOURS = ((40.0, 24.0), (60.0, 6.0), (75.0, 3.0), (85.0, 1.0))
"""(RH [%], hours) for steel and iron. Common practice, no source."""
LIGHT_METAL_HOURS = ((40.0, 8.0), (85.0, 8.0))
"""The same for aluminium and zinc. Common practice, no source."""
WET_HOURS = 1.0
"""Hours while the surface is under 3 K above the dew point. Common practice, no source."""


@dataclass(frozen=True)
class BareTable:
    """A rate law over temperature [°C] and humidity [%] that a clock can integrate like a sheet's."""

    hours: tuple[tuple[float, float], ...]
    role: str = "max"
    curves: tuple[int, int] = (0, 0)  # two: humidity counts
    stands_still_below_c: None = None

    def breaks_c(self) -> np.ndarray:
        """No temperature changes this law."""
        return np.array([])

    def outside(self, temp_c: Any) -> np.ndarray:
        """Never extrapolated."""
        return np.zeros(np.shape(temp_c), bool)

    def rate_per_min(self, temp_c: Any, humidity_pct: Any = 50.0) -> np.ndarray:
        """Share of the bare time used up per minute; the surface is taken to be at `temp_c` [°C]."""
        temp, rh = np.asarray(temp_c, float), np.clip(np.asarray(humidity_pct, float), 1.0, 100.0)
        levels, hours = np.array(self.hours).T
        dry = np.exp(np.interp(rh, levels, np.log(hours)))
        spread = temp - dew_point_c(temp, rh)
        return 1.0 / (60.0 * np.where(spread < SPREAD_MIN_K, np.minimum(WET_HOURS, dry), dry))

    def rate_at(self, temp_c: float, humidity_pct: float = 50.0) -> float:
        """As `rate_per_min`, for one temperature [°C] and humidity [%]."""
        rh = min(max(humidity_pct, 1.0), 100.0)
        hours = self.hours[-1][1]
        for (low, a), (high, b) in itertools.pairwise(self.hours):
            if rh <= high:
                share = max(0.0, (rh - low) / (high - low))
                hours = math.exp((1 - share) * math.log(a) + share * math.log(b))
                break
        gamma = math.log(rh / 100.0) + SONNTAG_A * temp_c / (SONNTAG_B_C + temp_c)
        spread = temp_c - SONNTAG_B_C * gamma / (SONNTAG_A - gamma)
        return 1.0 / (60.0 * (min(WET_HOURS, hours) if spread < SPREAD_MIN_K else hours))


_TABLES = {
    "steel": BareTable(STEEL_HOURS),
    "cast iron": BareTable(STEEL_HOURS),
    "aluminium": BareTable(LIGHT_METAL_HOURS),
    "zinc": BareTable(LIGHT_METAL_HOURS),
}


def bare_table(substrate: str) -> BareTable | None:
    """The bare-metal law of a substrate; None for stainless, laminate and old film: no bare clock."""
    return _TABLES.get(substrate)
