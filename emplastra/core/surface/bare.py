"""How long bare metal may wait for its primer, and how long rinsed metal takes to dry.

Due when the integral of dt/H(RH) reaches 1, RH at the surface: the air's vapour at the metal's temperature. Steel
and iron: H = 24 h at 40 % and under, 6 at 60, 3 at 75, 1 at 85 and over, linear in ln H, and 1 h while the surface
is under 3 K above the dew point; aluminium 4 h and zinc 8 h with the same 3 K rule. Wet metal counts as at 75 %.
Abraded by hand twice H, but for that hour; with a history of salt at most 4 h; a white cloth wiped clean adds half of H
where there is none. Products that want rust, and mastics, owe none.
Dry when the integral of min(1, D/11 hPa) dt reaches 45 min, D the vapour deficit from the wet surface to the air.
Ours, settable, no source.
"""

import itertools
import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from ..air.dewpoint import SONNTAG_A, SONNTAG_B_C, SPREAD_MIN_K, rh_pct, vapour_hpa
from ..air.journey import Cut
from ..product.kinds import ProductKind

STEEL_HOURS = ((40.0, 24.0), (60.0, 6.0), (75.0, 3.0), (85.0, 1.0))
"""(RH [%], hours) for steel and iron. Common practice, no source."""
ALUMINIUM_HOURS = ((40.0, 4.0), (85.0, 4.0))
ZINC_HOURS = ((40.0, 8.0), (85.0, 8.0))
"""The same for aluminium and for zinc. Common practice, no source."""
WET_RH_PCT = 75.0
"""Wet metal rusts as in air of this humidity [%]. Common practice, no source."""
DRY_OFF_MIN, DRYING_HPA = 45.0, 11.0
"""An open face, rinsed and left, is dry after this [min] at this vapour deficit or more [hPa]. Ours, no source."""
SLOW = 4.0
"""How much longer laps and boxes hold water. Common practice, no source."""
WET_HOURS = 1.0
"""Hours while the surface is under 3 K above the dew point. Common practice, no source."""
BY_HAND = 2.0
"""How much longer metal may wait that was abraded by hand. Common practice, no source."""
SALTED_HOURS = 4.0
"""Most hours for metal with a history of sea or road salt. Common practice, no source."""
CLOTH = 0.5
"""Share of its hours that a white cloth wiped clean adds: a cloth sees no ions. Common practice, no source."""
TAKES_RUST = frozenset(
    {ProductKind.CONVERTER, ProductKind.CONVERTING_PRIMER, ProductKind.ENCAPSULATOR, ProductKind.EPOXY_MASTIC}
)
"""Kinds of product for which metal may have stood bare. Common practice, no source."""


class OfAir:
    """What laws over the air's water have in common: no temperature bends them, and none is extrapolated."""

    tail = "damp"
    needs_air = True
    smooth = False
    stands_still_below_c: float | None = None

    def levels_c(self, low_c: float, high_c: float) -> np.ndarray:
        """No temperature [°C] bends this law."""
        return np.array([])

    def outside(self, temp_c: Any, humidity_pct: Any = 50.0) -> np.ndarray:
        """Never extrapolated, at no temperature [°C] and humidity [%]."""
        return np.zeros(np.shape(temp_c), bool)


@dataclass(frozen=True)
class BareTable(OfAir):
    """A law over the humidity at the metal [%] and its distance from the dew point, integrated like a sheet's.

    longer: how many times the hours; most_hours: and no more than this [h].
    """

    hours: tuple[tuple[float, float], ...]
    longer: float = 1.0
    most_hours: float = math.inf

    def jumps(self, cut: Cut) -> np.ndarray:
        """Where the metal comes within 3 K of the dew point, or leaves it [epoch s]."""
        spread = cut.metal_c - cut.dew_c - SPREAD_MIN_K
        i = np.nonzero(spread[:-1] * spread[1:] < 0)[0]
        share = spread[i] / (spread[i] - spread[i + 1])
        return cut.t_s[i] + share * (cut.t_s[i + 1] - cut.t_s[i])

    def rates(self, metal_c: Any, air_c: Any, dew_c: Any) -> np.ndarray:
        """Share of the bare time used up per minute, at metal, air and dew point [°C]."""
        levels, hours = np.array(self.hours).T
        dry = np.exp(np.interp(rh_pct(metal_c, dew_c), levels, np.log(hours)))
        dry = np.minimum(self.longer * dry, self.most_hours)
        wet = np.asarray(metal_c, float) - np.asarray(dew_c, float) < SPREAD_MIN_K
        return 1.0 / (60.0 * np.where(wet, np.minimum(WET_HOURS, dry), dry))

    def rate_one(self, metal_c: float, air_c: float, dew_c: float) -> float:
        """As `rates`, for one moment, faster [°C]."""
        exponent = SONNTAG_A * dew_c / (SONNTAG_B_C + dew_c) - SONNTAG_A * metal_c / (SONNTAG_B_C + metal_c)
        rh = min(100.0 * math.exp(exponent), 100.0)
        hours = self._hours_at(rh)
        return 1.0 / (60.0 * (min(WET_HOURS, hours) if metal_c - dew_c < SPREAD_MIN_K else hours))

    def _hours_at(self, rh: float) -> float:
        """Hours at a humidity [%], linear in ln H."""
        for (low, a), (high, b) in itertools.pairwise(self.hours):
            if rh <= high:
                share = max(0.0, (rh - low) / (high - low))
                return self._held(math.exp((1 - share) * math.log(a) + share * math.log(b)))
        return self._held(self.hours[-1][1])

    def _held(self, hours: float) -> float:
        """Hours as they hold here: so many times as long, and no longer than the most."""
        return min(self.longer * hours, self.most_hours)

    @property
    def told(self) -> tuple[tuple[float, float], ...]:
        """(RH [%], hours) as they hold here."""
        return tuple((rh, self._held(hours)) for rh, hours in self.hours)

    @property
    def wet_hours(self) -> float:
        """Hours for wet metal [h]."""
        return self._hours_at(WET_RH_PCT)


@dataclass(frozen=True)
class DryOff(OfAir):
    """How fast rinsed metal dries: by the vapour deficit from its wet surface to the air. slow: how much longer."""

    slow: float = 1.0

    @property
    def minutes(self) -> float:
        """How long it takes in dry air [min]."""
        return DRY_OFF_MIN * self.slow

    def jumps(self, cut: Cut) -> np.ndarray:
        """It never jumps."""
        return np.array([])

    def rates(self, metal_c: Any, air_c: Any, dew_c: Any) -> np.ndarray:
        """Share dried per minute, at metal and dew point [°C]; none while the air is wetter than the surface."""
        deficit = (vapour_hpa(metal_c) - vapour_hpa(dew_c)) / DRYING_HPA
        return np.clip(deficit, 0.0, 1.0) / self.minutes

    def rate_one(self, metal_c: float, air_c: float, dew_c: float) -> float:
        """As `rates`, for one moment [°C]."""
        deficit = (vapour_hpa(metal_c) - vapour_hpa(dew_c)) / DRYING_HPA
        return min(1.0, max(0.0, deficit)) / self.minutes


OPEN_FACE, HOLDS_WATER = DryOff(), DryOff(SLOW)


def drying_of(part: str) -> DryOff:
    """How a form of part dries: boxes and tanks hold water."""
    return HOLDS_WATER if part in {"box", "tank"} else OPEN_FACE


_TABLES = {
    "steel": BareTable(STEEL_HOURS),
    "cast iron": BareTable(STEEL_HOURS),
    "aluminium": BareTable(ALUMINIUM_HOURS),
    "zinc": BareTable(ZINC_HOURS),
}


@lru_cache(maxsize=64)
def bare_table(substrate: str, by_hand: bool = False, salted: bool = False) -> BareTable | None:
    """The bare-metal law of a substrate; None for stainless, laminate and old film: no bare clock."""
    table = _TABLES.get(substrate)
    if table is None:
        return None
    return replace(table, longer=BY_HAND if by_hand else 1.0, most_hours=SALTED_HOURS if salted else math.inf)
