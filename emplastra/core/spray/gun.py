"""What a gun lays down: its fan across the stroke, its spot along it, how much of it lands.

Across the fan the paint lies as a power of a parabola, along the stroke as a normal curve (a beta and a Gaussian
footprint, as the literature of spray paths has them; from memory). What of it is common practice says so.
"""

import math
from dataclasses import dataclass, replace

import numpy as np

from ..errors import FieldError

BODIES = {
    "even": ("Even", 0),
    "round": ("Tapering", 1),
    "peaked": ("Heavy middle", 2),
}
"""Ways in which the paint lies across a fan: name, power of the parabola."""
USUAL_MM = {"hvlp": 150.0, "conventional": 200.0, "airless": 300.0, "aerosol": 250.0}
"""How far a gun is held [mm], by method. Common practice, no source."""
FANS_MM = {"hvlp": 250.0, "conventional": 280.0, "airless": 300.0, "aerosol": 80.0}
"""The fan [mm] at that distance, by method, until it was measured. Common practice, no source."""
FLOWS_ML_MIN = {"hvlp": 180.0, "conventional": 250.0, "airless": 700.0, "aerosol": 45.0}
"""The flow [mL/min] by method, until it was measured. Common practice, no source."""
THICK = {"aerosol": 0.25}
"""Half the thickness of the spot along the stroke (one sigma), as a share of the fan: a can sprays a round spot."""
THICK_FAN = 1 / 16
"""The same of a flat fan: it is about four times as wide as it is thick. Common practice, no source."""
FADES_MM = 500.0
"""Farther away by so much, what lands falls to 1/e: about 5 % for every 25 mm. Common practice, no source."""
SPEEDS = (0.02, 3.0)
"""Speeds of a hand that are taken as meant [m/s]."""
OVERLAP_MOST = 0.95
RANGES = {
    "flow": (1.0, 5000.0, "mL/min"),
    "fan": (5.0, 1000.0, "mm"),
    "distance": (30.0, 800.0, "mm"),
    "fan_at": (30.0, 800.0, "mm"),
    "stays": (0.05, 1.0, "as a share"),
    "solids": (0.005, 1.0, "as a share"),
    "speed": (*SPEEDS, "m/s"),
    "overlap": (0.0, OVERLAP_MOST, "as a share"),
    "overrun": (-500.0, 500.0, "mm"),
}
"""What a figure may be, by its field."""


def checked(name: str, value: float) -> float:
    """A figure within its range. Raises FieldError."""
    low, high, unit = RANGES[name]
    if not low <= value <= high:
        raise FieldError(name, f"{name.replace('_', ' ')} must be from {low:g} to {high:g} {unit}")
    return value


@dataclass(frozen=True)
class Gun:
    """A gun as it is set and held.

    flow_ml_min: paint ready to use [mL/min]; fan_mm: its fan [mm], measured at fan_at_mm from the work [mm];
    distance_mm: how far it is held [mm]; stays: of what it sprays squarely at a face, what stays there [0..1] at
    fan_at_mm; body: a key of BODIES; method: a key of product.film.METHODS.
    """

    flow_ml_min: float
    fan_mm: float
    distance_mm: float
    fan_at_mm: float
    stays: float
    body: str = "round"
    method: str = "hvlp"

    def check(self) -> "Gun":
        """Itself. Raises FieldError naming the figure that cannot be."""
        told = {"flow": self.flow_ml_min, "fan": self.fan_mm, "distance": self.distance_mm}
        for name, value in (told | {"fan_at": self.fan_at_mm, "stays": self.stays}).items():
            checked(name, value)
        if self.body not in BODIES:
            raise FieldError("body", f"must be one of {', '.join(BODIES)}")
        return self

    @property
    def width_mm(self) -> float:
        """The fan on the work [mm]: it opens with the distance."""
        return self.fan_mm * self.distance_mm / self.fan_at_mm

    @property
    def sigma_mm(self) -> float:
        """The spot along the stroke, one sigma [mm]."""
        return self.width_mm * THICK.get(self.method, THICK_FAN)

    @property
    def lands(self) -> float:
        """Of what is sprayed squarely at a face, what lands there from this distance [0..1]."""
        return min(1.0, self.stays * math.exp((self.fan_at_mm - self.distance_mm) / FADES_MM))

    def below(self, mm: np.ndarray) -> np.ndarray:
        """Share of a fan's paint on one side of a place [mm from its middle]: 0 at one end, 1 at the other."""
        t = np.clip(2.0 * np.asarray(mm, dtype=float) / self.width_mm, -1.0, 1.0)
        power = BODIES[self.body][1]
        whole = (t, t - t**3 / 3.0, t - 2.0 * t**3 / 3.0 + t**5 / 5.0)[power]
        half = (1.0, 2.0 / 3.0, 8.0 / 15.0)[power]
        return np.asarray(0.5 + 0.5 * whole / half)

    def dry_mm3_s(self, solids: float) -> float:
        """Dry film that lands in a second [mm3/s]; solids of the paint in the gun [0..1]."""
        return self.flow_ml_min * 1000.0 / 60.0 * solids * self.lands

    def with_flow(self, ml_min: float) -> "Gun":
        """The same gun opened further, or less [mL/min]."""
        return replace(self, flow_ml_min=ml_min)


def uniform_um(gun: Gun, solids: float, speed: float, pitch_mm: float) -> float:
    """The dry film [µm] that strokes leave in the middle of a wide face: what lands ÷ (speed × pitch).

    solids in the gun [0..1], speed [m/s], from stroke to stroke [mm].
    """
    return gun.dry_mm3_s(solids) / (speed * 1000.0 * pitch_mm) * 1000.0


def erf(x: np.ndarray) -> np.ndarray:
    """The error function of an array, to 1.5e-7: Abramowitz and Stegun 7.1.26 (from memory)."""
    t = 1.0 / (1.0 + 0.3275911 * np.abs(x))
    poly = ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t
    return np.asarray(np.copysign(1.0 - poly * np.exp(-np.square(x)), x))
