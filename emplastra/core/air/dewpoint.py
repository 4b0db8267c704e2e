"""Dew point and the gate that a coat has to pass.

Magnus formula with the constants of Sonntag (1990), 17.62 and 243.12 °C, over liquid water also
below 0 °C, as humidity sensors and ISO 8502-4 practice mean it. Valid from -45 to 60 °C.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..words import TOLD_S, celsius_q, hour_q, kelvin_q
from ..working import Basis, Given, Line, Working

SONNTAG_A = 17.62
"""Magnus constant over water [-]. Source: Sonntag 1990."""
SONNTAG_B_C = 243.12
"""Magnus constant over water [°C]. Source: Sonntag 1990."""
_VAPOUR_0_HPA = 6.112
"""Saturated vapour pressure over water at 0 °C [hPa]. Source: Sonntag 1990."""
RANGE_C = (-45.0, 60.0)
"""Validity of the constants [°C]."""
SPREAD_MIN_K = 3.0
"""Least distance of a surface above the dew point [K]. Source: ISO 8502-4 practice."""


def dew_point_c(air_c: Any, rh_pct: Any) -> Any:
    """Dew point [°C] of air at `air_c` [°C, -45..60] with `rh_pct` [%, above 0 to 100].

    Scalars or arrays. Raises ValueError outside these ranges. Source: Sonntag 1990.
    """
    temp, rh = np.asarray(air_c, float), np.asarray(rh_pct, float)
    if not (np.all(temp >= RANGE_C[0]) and np.all(temp <= RANGE_C[1])):
        raise ValueError(f"air temperature must lie from {celsius_q(RANGE_C[0], RANGE_C[1], digits=0)}")
    if not (np.all(rh > 0) and np.all(rh <= 100)):
        raise ValueError("relative humidity must be above 0 and at most 100 %")
    gamma = np.log(rh / 100.0) + SONNTAG_A * temp / (SONNTAG_B_C + temp)
    dew = SONNTAG_B_C * gamma / (SONNTAG_A - gamma)
    return float(dew) if dew.ndim == 0 else dew


def rh_pct(air_c: Any, dew_c: Any) -> Any:
    """Relative humidity [%, at most 100] of air at `air_c` [°C] with dew point `dew_c` [°C]."""
    temp, dew = np.asarray(air_c, float), np.asarray(dew_c, float)
    exponent = SONNTAG_A * dew / (SONNTAG_B_C + dew) - SONNTAG_A * temp / (SONNTAG_B_C + temp)
    rh = np.minimum(100.0, 100.0 * np.exp(exponent))
    return float(rh) if rh.ndim == 0 else rh


def vapour_hpa(temp_c: Any) -> Any:
    """Saturated vapour pressure over water [hPa] at `temp_c` [°C]; at a dew point that of the air.

    Source: Sonntag 1990.
    """
    temp = np.asarray(temp_c, float)
    pressure = _VAPOUR_0_HPA * np.exp(SONNTAG_A * temp / (SONNTAG_B_C + temp))
    return float(pressure) if pressure.ndim == 0 else pressure


def dew_point_working(
    air_c: float, rh: float, air_basis: Basis, surface_c: float, surface_basis: Basis, surface_source: str
) -> Working:
    """The way to the spread [K] between a surface [°C] and the dew point [°C]; what air and surface rest on."""
    dew = dew_point_c(air_c, rh)
    return Working(
        "Surface above dew point",
        (
            Given("air", round(air_c, 1), "°C", air_basis),
            Given("relative humidity", round(rh, 1), "%", air_basis),
            Given("surface", round(surface_c, 1), "°C", surface_basis, surface_source),
        ),
        (
            Line(
                "γ",
                f"ln({rh:.1f}/100) + 17.62·{air_c:.1f}/(243.12 + {air_c:.1f})",
                round(float(np.log(rh / 100) + SONNTAG_A * air_c / (SONNTAG_B_C + air_c)), 4),
            ),
            Line("dew point", "243.12·γ/(17.62 − γ)", round(dew, 1), "°C"),
            Line("spread", f"{surface_c:.1f} − {dew:.1f}", round(surface_c - dew, 1), "K"),
        ),
        f"Magnus formula, Sonntag 1990; {kelvin_q(SPREAD_MIN_K, digits=0)} by ISO 8502-4 practice",
    )


@dataclass(frozen=True)
class Limits:
    """Climate limits of a product: None where its sheet has none."""

    air_c: tuple[float | None, float | None] = (None, None)
    surface_c: tuple[float | None, float | None] = (None, None)
    rh_pct: tuple[float | None, float | None] = (None, None)
    spread_k: float = SPREAD_MIN_K


@dataclass(frozen=True)
class Breach:
    """A limit that is broken: quantity, worst value, the limit, its unit, and when [epoch s]."""

    what: str
    value: float
    limit: float
    side: str
    unit: str
    t_s: float

    @property
    def sentence(self) -> str:
        """The breach in words."""
        side = "at least" if self.side == "low" else "at most"
        if self.unit == "%":
            return f"{self.what} {self.value:.1f} %, {side} {self.limit:g} %"
        put = celsius_q if self.unit == "°C" else kelvin_q
        return f"{self.what} {put(self.value, digits=1)}, {side} {put(self.limit, digits=None)}"

    def seen_from(self, t_s: float) -> str:
        """The breach in words, with its hour where it comes after that moment [epoch s]."""
        return f"{self.sentence} at {hour_q(self.t_s)}" if self.t_s >= t_s + TOLD_S else self.sentence


@dataclass(frozen=True)
class Gate:
    """Whether a stretch of air lets a coat be put on, and each limit it breaks at its worst."""

    breaches: tuple[Breach, ...]

    @property
    def is_open(self) -> bool:
        """True if no limit is broken."""
        return not self.breaches


def gate(t_s: Any, air_c: Any, dew_c: Any, surface_c: Any, limits: Limits) -> Gate:
    """Judge a whole stretch: series [epoch s, °C, °C, °C] of equal length against `limits`.

    A value on a limit passes. Temperatures are compared to 1e-6 K, so that readings of 0.1 K in
    binary floats do not miss a bound (10.2 - 7.2 is 2.999...).
    """
    t, air, dew, surface = (np.atleast_1d(np.asarray(x, float)) for x in (t_s, air_c, dew_c, surface_c))
    checks = (
        ("spread", surface - dew, (limits.spread_k, None), "K"),
        ("humidity", np.asarray(rh_pct(air, dew)), limits.rh_pct, "%"),
        ("air", air, limits.air_c, "°C"),
        ("surface", surface, limits.surface_c, "°C"),
    )
    found = []
    for what, series, (low, high), unit in checks:
        if low is not None and series.min() < low - 1e-6:
            worst = int(series.argmin())
            found.append(Breach(what, float(series[worst]), low, "low", unit, float(t[worst])))
        if high is not None and series.max() > high + 1e-6:
            worst = int(series.argmax())
            found.append(Breach(what, float(series[worst]), high, "high", unit, float(t[worst])))
    return Gate(tuple(found))
