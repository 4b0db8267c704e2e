"""How a metal section follows the air: the lumped model tau = rho·c·d / (n·h).

Good to 0.4 % for the sections here (Biot below 0.02). Latent heat and sun are ignored.
"""

import math
from functools import lru_cache
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


SAME_TAU = 0.02
"""Time constants this close in their logarithm share their integrals. Ours."""
LEAST_TAU_S = 60.0
"""A section with a shorter time constant [s] is taken to be as warm as the air. Ours."""
CALM_K = 0.02
"""A difference [K] under which a section counts as settled."""


REST_TAU = 4.0
"""Time constants after which what is left of CALM_K counts for nothing (0.4 mK)."""
STEPS_PER_TAU = 8
"""Straight pieces per time constant while a section settles."""


@lru_cache(maxsize=4096)
def shared_lag_s(tau_s: float) -> float:
    """The time constant [s] for which integrals are kept: `tau_s` [s] to 2 % in its logarithm; under 1 min: 0."""
    return math.exp(SAME_TAU * round(math.log(tau_s) / SAME_TAU)) if tau_s >= LEAST_TAU_S else 0.0


def follow(t_s: Any, air_c: Any, tau_s: float, start_c: float | None = None) -> np.ndarray:
    """Metal temperature [°C] at each knot of an air series [epoch s, °C] that is linear between; exact.

    start_c: the metal at the first knot [°C]; None takes it at air: start the series early then.
    metal' = a·metal + c over each piece, all pieces composed in passes that double their reach.
    """
    times, air = np.asarray(t_s, float), np.asarray(air_c, float)
    begin = float(air[0]) if start_c is None else start_c
    if tau_s <= 0 or len(times) < 2:
        return np.concatenate([[begin], air[1:]])
    length = np.diff(times)
    behind = np.divide(np.diff(air), length, out=np.zeros_like(length), where=length > 0) * tau_s
    keep = np.exp(-length / tau_s)
    gain = np.where(length > 0, air[1:] - behind - keep * (air[:-1] - behind), 0.0)
    reach = 1
    while reach < len(gain) and keep.max() > 1e-16:
        gain[reach:] = gain[reach:] + keep[reach:] * gain[:-reach]
        keep[reach:] = keep[reach:] * keep[:-reach]
        reach *= 2
    return np.concatenate([[begin], gain + keep * begin])


def refine(
    t_s: np.ndarray, air_c: np.ndarray, metal_c: np.ndarray, tau_s: float
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Knots at most tau/8 apart while the metal still settles by more than 0.02 K, and one where it has settled.

    A straight piece of that length errs by at most 1/512 of what is still to settle. Without the last knot a long
    piece after it would carry half of 0.02 K along.

    Returns times [epoch s], metal [°C] and, per knot, the index of the piece it lies in or begins.
    """
    if tau_s <= 0:
        return t_s, metal_c, np.arange(len(t_s))
    length = np.diff(t_s)
    behind = np.divide(np.diff(air_c), length, out=np.zeros_like(length), where=length > 0) * tau_s
    away = metal_c[:-1] - air_c[:-1] + behind
    step = tau_s / STEPS_PER_TAU
    need = np.ceil(STEPS_PER_TAU * np.log(np.maximum(np.abs(away), CALM_K) / CALM_K))
    count = np.where(length > step, np.minimum(need, np.ceil(length / step) - 1), 0).astype(int)
    knots = np.arange(len(t_s))
    if not count.any():
        return t_s, metal_c, knots
    piece = np.repeat(np.arange(len(length)), count)
    since = step * (np.arange(len(piece)) - np.repeat(np.cumsum(count) - count, count) + 1)
    calm = count * step + REST_TAU * tau_s
    rests = np.nonzero((count > 0) & (length > calm))[0]
    piece, since = np.concatenate([piece, rests]), np.concatenate([since, calm[rests]])
    extra_t = t_s[piece] + since
    slope = behind[piece] / tau_s
    extra_c = air_c[piece] + slope * since - behind[piece] + away[piece] * np.exp(-since / tau_s)
    times, owner = np.concatenate([t_s, extra_t]), np.concatenate([knots, piece])
    order = np.argsort(times, kind="stable")
    return times[order], np.concatenate([metal_c, extra_c])[order], owner[order]
