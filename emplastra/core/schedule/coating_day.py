"""The first hours in which the climate holds for a coat, from its begin to the end of its flash, and why others do not.

What closes an hour is looked for limit by limit; outdoors the night sky, rain and wind close too, and hands are wanted
while it is put on, not while it flashes.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..air.dewpoint import Limits, dew_point_c, rh_pct, vapour_hpa
from ..air.journey import Cut, behind
from ..air.outlook import at_night, spans
from ..air.sun import Span
from ..words import celsius_q, kelvin_q

GRID_S = 900.0
"""Begins are tried so far apart [s]."""
WIND_M_S, RAIN_MM = 8.0, 0.1
"""Outdoors nothing is put on in more wind, or in rain of so much an hour. Common practice, no source."""
WATER_KG = 1.6
"""Water that a kilogram of bottled gas makes [kg]: C3H8 + 5 O2 → 3 CO2 + 4 H2O, 72/44."""
GAS_J_KG = 46.4e6
"""Heat of a kilogram of it [J], lower value, from memory."""
AIR_J_M3K = 1206.0
"""Heat that a cubic metre of air takes for a kelvin [J]."""
WALLS = 4.0
"""Walls and gaps lose so many times what the air in the room keeps. Common practice, no source."""
WHY = {
    "shut": "shop shut", "rain": "rain", "wind": "wind", "dusk": "night sky", "dew": "near dew", "damp": "too damp", "cold": "metal too cold",
    "chill": "air too cold", "hot": "metal too hot", "heat": "air too warm", "dry": "too dry",
}  # fmt: skip
"""What may close an hour, the first that does so being named."""


@dataclass(frozen=True)
class Sky:
    """Rain [mm] and wind [m/s] of the hour that begins at each moment [epoch s]; nan where nobody told."""

    t_s: np.ndarray
    rain_mm: np.ndarray
    wind_m_s: np.ndarray

    def closes(self) -> dict[str, tuple[Span, ...]]:
        """Hours that rain, and that wind closes [epoch s]."""
        found = {}
        for name, values, most in (("rain", self.rain_mm, RAIN_MM), ("wind", self.wind_m_s, WIND_M_S)):
            hours = [(float(t), float(t) + 3600.0) for t, v in zip(self.t_s, values, strict=True) if v >= most]
            found[name] = joined(hours)
        return found


@dataclass(frozen=True)
class Slot:
    """Hours that let a coat be put on: from its begin to the end of its flash [epoch s], when it is on."""

    begin_s: float
    on_s: float
    end_s: float


@dataclass(frozen=True)
class CoatingDay:
    """The first slot, None within the stretch looked at; what closes it now, with the worst it comes to; closed: by
    reason the stretches [epoch s] that it closes; looked: the stretch.
    """

    slot: Slot | None
    closed: Mapping[str, tuple[Span, ...]]
    worst: Mapping[str, str]
    looked: Span
    need_s: float = 0.0

    @property
    def hours(self) -> float:
        """How long the climate was to hold at least [h]."""
        return self.need_s / 3600.0

    def why(self, start_s: float, end_s: float) -> str:
        """The first reason that closes any of a stretch [epoch s], "" where none does."""
        for name in WHY:
            if any(a < end_s and b > start_s for a, b in self.closed.get(name, ())):
                return name
        return ""


def joined(found: Sequence[Span]) -> tuple[Span, ...]:
    """Stretches in order, those that touch made one."""
    rows = list[Span]()
    for a, b in sorted(found):
        if rows and a <= rows[-1][1] + 1e-6:
            rows[-1] = (rows[-1][0], max(rows[-1][1], b))
        else:
            rows.append((a, b))
    return tuple(rows)


def without(some: Sequence[Span], gone: Sequence[Span]) -> tuple[Span, ...]:
    """What is left of stretches once others are taken out."""
    left = list(some)
    for a, b in gone:
        left = [part for x, y in left for part in ((x, min(y, a)), (max(x, b), y)) if part[1] > part[0]]
    return tuple(left)


@dataclass(frozen=True)
class Coming:
    """What is to come of a section: its air knot by knot, the metal [°C] as it begins, its lag [s]; what the product
    asks; nights [epoch s] under the sky, none indoors; sky: rain and wind outdoors, None indoors or where nobody told;
    hands: stretches [epoch s] in which somebody is there, None for at any hour.
    """

    air: Cut
    metal_c: float
    tau_s: float
    limits: Limits
    nights: Sequence[Span] = ()
    sky: Sky | None = None
    hands: Sequence[Span] | None = None

    def closes(self) -> tuple[dict[str, tuple[Span, ...]], dict[str, str]]:
        """(by reason the stretches that it closes [epoch s], in words how bad it gets)."""
        met = behind(self.air, self.metal_c, self.tau_s)
        t, air, dew, metal = met.t_s, met.air_c, met.dew_c, met.metal_c
        found, worst = _closed(t, air, dew, metal, self.limits)
        if self.nights:
            plain = joined([span for some in found.values() for span in some])
            dark: tuple[np.ndarray, ...] = (t, air, dew, metal)
            for night in self.nights:
                dark = at_night(dark[0], dark[1], dark[2], dark[3], night)
            under, words = _closed(dark[0], dark[1], dark[2], dark[3], self.limits)
            found["dusk"] = without(joined([span for some in under.values() for span in some]), plain)
            worst["dusk"] = words.get("dew", "metal colder than the air")
        if self.sky is not None:
            found |= self.sky.closes()
        whole = [(float(t[0]), float(t[-1]))]
        found["shut"] = without(whole, self.hands) if self.hands is not None else ()
        return {name: some for name, some in found.items() if some}, worst


def _closed(
    t: np.ndarray, air: np.ndarray, dew: np.ndarray, metal: np.ndarray, limits: Limits
) -> tuple[dict[str, tuple[Span, ...]], dict[str, str]]:
    """Limit by limit the stretches in which it is broken [epoch s], and its worst in words."""
    rh = np.asarray(rh_pct(air, dew))
    (cold, hot), (chill, heat), (dry, damp) = limits.surface_c, limits.air_c, limits.rh_pct
    rows: tuple[tuple[str, np.ndarray, float | None, int, Callable[[float], str]], ...] = (
        ("dew", metal - dew, limits.spread_k, 1, lambda v: f"{kelvin_q(v)} over dew"),
        ("cold", metal, cold, 1, _metal),
        ("hot", metal, hot, -1, _metal),
        ("chill", air, chill, 1, _air),
        ("heat", air, heat, -1, _air),
        ("dry", rh, dry, 1, _humid),
        ("damp", rh, damp, -1, _humid),
    )
    found, worst = dict[str, tuple[Span, ...]](), dict[str, str]()
    for name, values, limit, sign, say in rows:
        if limit is None:
            continue
        broken = tuple((a, b) for a, b in spans(t, -sign * (values - limit) - 1e-6) if b > a)
        if broken:
            found[name], worst[name] = broken, say(float((sign * values).min() * sign))
    return found, worst


def _metal(value: float) -> str:
    return f"metal {celsius_q(value, digits=1)}"


def _air(value: float) -> str:
    return f"air {celsius_q(value, digits=1)}"


def _humid(value: float) -> str:
    return f"{value:.0f} %"


def look(
    ways: Sequence[Coming],
    put_on_s: float,
    flashed: Callable[[float], float | None],
    from_s: float,
    need_s: float = 0.0,
) -> CoatingDay:
    """The first slot of a coat that takes so long to put on [s], not before a moment [epoch s].

    ways: what is to come, in each way of taking what nobody knows; flashed: when a coat that is on at a moment
    [epoch s] has flashed (None: cannot be said, taken as at once); need_s:
    how long the climate has to hold at least [s].
    """
    closed, worst = dict[str, tuple[Span, ...]](), dict[str, str]()
    for coming in ways:
        more, words = coming.closes()
        for name, some in more.items():
            closed[name] = joined([*closed.get(name, ()), *some])
        worst = words | worst
    start, end = float(ways[0].air.t_s[0]), float(ways[0].air.t_s[-1])
    climate = without([(start, end)], [span for name, some in closed.items() if name != "shut" for span in some])
    hands = without([(start, end)], closed.get("shut", ()))
    slot = None
    for a, b in climate:
        slot = _first_in(a, b, hands, put_on_s, flashed, max(from_s, a), need_s)
        if slot is not None:
            break
    return CoatingDay(slot, closed, worst, (start, end), need_s)


def _first_in(
    a: float,
    b: float,
    hands: Sequence[Span],
    put_on_s: float,
    flashed: Callable[[float], float | None],
    from_s: float,
    need_s: float,
) -> Slot | None:
    """The first slot within a stretch of climate that holds [epoch s], None where none fits."""
    for x, y in hands:
        begin = max(a, x, from_s)
        while begin + put_on_s <= min(y, b) + 1e-6:
            on = begin + put_on_s
            ends = max(flashed(on) or on, begin + need_s)
            if ends <= b + 1e-6:
                return Slot(begin, on, ends)
            begin = np.floor(begin / GRID_S) * GRID_S + GRID_S
    return None


def warmed(coming: Coming, kelvin: float) -> Coming:
    """The same with the air warmer by so much [K] at constant moisture: electric or flued heat."""
    return replace(coming, air=replace(coming.air, air_c=coming.air.air_c + kelvin))


def flamed(coming: Coming, kelvin: float) -> Coming:
    """The same with the air warmer by so much [K] by an unflued flame, with the water that its gas makes."""
    air = coming.air.air_c + kelvin
    hpa = vapour_hpa(coming.air.dew_c) + flame_water_g_m3(kelvin) * (air + 273.15) / G_M3_HPA_K
    rh = np.minimum(100.0 * hpa / vapour_hpa(air), 100.0)
    return replace(coming, air=replace(coming.air, air_c=air, dew_c=np.asarray(dew_point_c(air, rh))))


def fanned(coming: Coming) -> Coming:
    """The same with a fan on the metal: it follows the air in half the time."""
    return replace(coming, tau_s=coming.tau_s * FAN)


G_M3_HPA_K = 216.68
"""Water vapour: g/m3 = 216.68 · hPa / K (its gas constant 461.5 J/kgK)."""
FAN = 0.5
"""A fan doubles what heat the air gives. Common practice, no source."""


def flame_water_g_m3(kelvin: float) -> float:
    """Water [g/m3] that an unflued flame adds to a room it keeps warmer by so much [K], its walls' losses counted."""
    return AIR_J_M3K * kelvin * WALLS / GAS_J_KG * WATER_KG * 1000.0
