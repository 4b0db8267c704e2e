"""Pots: ratios, scale targets, deviations and corrections.

A part's mass ratio r_i is its share by mass relative to the others; by-volume ratios go through the
densities; thinner is a part like any other (its share of the mixed volume times its density).
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from ..words import celsius_q, volume_q
from ..working import Basis, Given, Line, Working
from .tables import SAME_K

TOLERANCE_PCT = 5.0
"""Tolerance of a part where the sheet names none [%]. Assumed; common practice, no source."""


@dataclass(frozen=True)
class Part:
    """A part of a mix in pouring order: key, name, ratio, density [g/mL], solids [% by volume]."""

    key: str
    name: str
    ratio: float
    density_g_ml: float
    solids_pct: float = 0.0
    role: str = "base"


@dataclass(frozen=True)
class Target:
    """What to pour of a part: volume [mL], mass [g], and the scale and stick at its end."""

    part: Part
    volume_ml: float
    mass_g: float
    scale_g: float
    stick_mm: float | None


@dataclass(frozen=True)
class PotPlan:
    """A pot: targets in pouring order, ready-to-use and mixed volume [mL], mass [g]."""

    targets: tuple[Target, ...]
    ready_ml: float
    mixed_ml: float
    mass_g: float
    working: Working = field(repr=False)


def mass_ratios(
    parts: Sequence[Part], by: str, thinner_pct: float = 0.0, thinner: Part | None = None
) -> tuple[Part, ...]:
    """The parts with ratios by mass, thinner last.

    by: "volume" or "mass"; thinner_pct: [% of the mixed volume]. Raises ValueError for a ratio or
    density that is not above 0, or thinner wanted with no thinner named.
    """
    if by not in {"volume", "mass"}:
        raise ValueError("a ratio is by volume or by mass")
    wrong = next((part for part in parts if min(part.ratio, part.density_g_ml) <= 0), None)
    if wrong is not None:
        raise ValueError(f"{wrong.name}: ratio and density must be above 0")
    masses = [p.ratio * (p.density_g_ml if by == "volume" else 1.0) for p in parts]
    result = [_with_ratio(p, m) for p, m in zip(parts, masses, strict=True)]
    if thinner_pct > 0:
        if thinner is None:
            raise ValueError("thinner is wanted but the sheet names none")
        mixed_volume = sum(m / p.density_g_ml for m, p in zip(masses, parts, strict=True))
        result.append(_with_ratio(thinner, mixed_volume * thinner_pct / 100.0 * thinner.density_g_ml))
    return tuple(result)


def _with_ratio(part: Part, ratio: float) -> Part:
    return Part(part.key, part.name, ratio, part.density_g_ml, part.solids_pct, part.role)


def plan_pot(ratios: Sequence[Part], ready_ml: float, pot_diameter_mm: float | None = None) -> PotPlan:
    """Targets for `ready_ml` [mL, ready to use] of a mix with mass ratios in pouring order.

    pot_diameter_mm: inside of a straight-sided pot, for stick marks [mm above its floor].
    Raises ValueError if the volume or diameter is not above 0 or absurd.
    """
    if not 0 < ready_ml <= 200_000:
        raise ValueError("volume must be above 0 and at most 200 L")
    if pot_diameter_mm is not None and not 10 <= pot_diameter_mm <= 2000:
        raise ValueError("pot diameter must be from 10 to 2000 mm")
    unit_ml = sum(p.ratio / p.density_g_ml for p in ratios)
    k = ready_ml / unit_ml
    area_mm2 = math.pi * pot_diameter_mm**2 / 4 if pot_diameter_mm else None
    targets, mass, volume = [], 0.0, 0.0
    for part in ratios:
        m = k * part.ratio
        mass, volume = mass + m, volume + m / part.density_g_ml
        targets.append(Target(part, m / part.density_g_ml, m, mass, volume * 1000.0 / area_mm2 if area_mm2 else None))
    thinner_ml = sum(t.volume_ml for t in targets if t.part.role == "thinner")
    return PotPlan(tuple(targets), ready_ml, ready_ml - thinner_ml, mass, _pot_working(ratios, ready_ml, targets))


def _pot_working(ratios: Sequence[Part], ready_ml: float, targets: Sequence[Target]) -> Working:
    by_mass = " : ".join(f"{p.ratio / ratios[0].ratio:.4f}" for p in ratios)
    given = (
        *(Given(f"density of {p.name}", p.density_g_ml, "g/mL", Basis.SHEET) for p in ratios),
        Given("ratio by mass", by_mass, "", Basis.COMPUTED, "by-volume ratio × density"),
    )
    lines = tuple(
        Line(t.part.name, f"{t.volume_ml:.1f} × {t.part.density_g_ml:g}", round(t.mass_g, 1), "g") for t in targets
    )
    return Working(f"{volume_q(ready_ml)} ready to use", given, lines)


@dataclass(frozen=True)
class Deviation:
    """How far a poured part is off: m/m_base against its ratio, [%], + is too much."""

    key: str
    pct: float
    in_tolerance: bool


@dataclass(frozen=True)
class Offer:
    """A way on: what to add by part [g], the new total [g] and how the base grows."""

    add_g: dict[str, float]
    total_g: float
    exact: bool


@dataclass(frozen=True)
class Balance:
    """The state of a pot being poured.

    deviations of parts poured so far; remaining [g] by part not yet poured, at the base as it is;
    offers when a poured part is out of tolerance: the exact one, then "only into tolerance".
    """

    deviations: tuple[Deviation, ...]
    remaining_g: dict[str, float]
    offers: tuple[Offer, ...]

    @property
    def in_tolerance(self) -> bool:
        """True if every poured part is within tolerance."""
        return all(d.in_tolerance for d in self.deviations)


def balance(ratios: Sequence[Part], poured_g: Mapping[str, float], tolerance_pct: float = TOLERANCE_PCT) -> Balance:
    """Judge what was poured and say what is left to pour.

    ratios: parts with mass ratios, base first; poured_g: actual mass by part key [g], parts not
    yet poured left out; tolerance_pct [%]. Deviation of part i = (m_i/m_base)/(r_i/r_base) − 1. Within tolerance the
    rest is r_i·m_base/r_base. Out of it k = max(m_i/r_i), add_i = k·r_i − m_i; and, less, only
    into tolerance t: m_base' = max(m_base, max m_i·r_base/(r_i·(1+t))), each other part up to
    (1−t)·r_i·m_base'/r_base.
    """
    r = {p.key: p.ratio for p in ratios}
    base = ratios[0].key
    poured = {key: mass for key, mass in poured_g.items() if mass > 0}
    if base not in poured:
        return Balance((), dict.fromkeys(r, 0.0), ())
    m_base, tol = poured[base], tolerance_pct / 100.0
    off = {key: (poured[key] / m_base) / (r[key] / r[base]) - 1.0 for key in set(r) & set(poured) - {base}}
    deviations = tuple(Deviation(key, off[key] * 100.0, abs(off[key]) <= tol + 1e-9) for key in r if key in off)
    remaining = {key: r[key] * m_base / r[base] for key in r if key not in poured}
    if all(d.in_tolerance for d in deviations):
        return Balance(deviations, remaining, ())
    return Balance(deviations, remaining, _offers(r, base, poured, tol))


def _offers(r: Mapping[str, float], base: str, poured: Mapping[str, float], tol: float) -> tuple[Offer, ...]:
    """What to add to be exact, then to come only into tolerance (a share)."""
    k = max(mass / r[key] for key, mass in poured.items())
    exact = {key: k * r[key] - poured.get(key, 0.0) for key in r}
    now, ways_on = sum(poured.values()), ((exact, True), (_least(r, base, poured, tol), False))
    return tuple(Offer(_clean(add), now + sum(add.values()), is_exact) for add, is_exact in ways_on)


def _least(r: Mapping[str, float], base: str, poured: Mapping[str, float], tol: float) -> dict[str, float]:
    """What to add of each part [g] to come only into tolerance (a share)."""
    grown = [mass * r[base] / (r[key] * (1 + tol)) for key, mass in poured.items() if key != base]
    base_new = max([poured[base], *grown])
    whole = {key: ratio * base_new / r[base] for key, ratio in r.items()}
    short = {key: max(0.0, (1 - tol) * whole[key] - poured[key]) for key in poured if key != base}
    return {**whole, **short, base: base_new - poured[base]}


def _clean(add_g: dict[str, float]) -> dict[str, float]:
    return {key: max(0.0, mass) if mass > 1e-9 else 0.0 for key, mass in add_g.items()}


@dataclass(frozen=True)
class Band:
    """A ratio variant of a sheet with its temperature band [°C]: lower limit in, upper out."""

    key: str
    low_c: float
    high_c: float
    methods: tuple[str, ...] = ()

    def suits(self, method: str | None) -> bool:
        """True if it may be put on so (None: it is not known how)."""
        return not self.methods or method is None or method in self.methods


@dataclass(frozen=True)
class BandChoice:
    """The variant that holds at a temperature, or why none does."""

    band: Band | None
    sentence: str


def choose_band(bands: Sequence[Band], temp_c: float, method: str | None = None) -> BandChoice:
    """The band that holds `temp_c` [°C]; the top band's upper limit is in.

    Between bands, below all or above all none holds, and the sentence says so.
    """
    fitting = sorted((b for b in bands if b.suits(method)), key=lambda b: b.low_c)
    if not fitting:
        return BandChoice(None, f"the sheet has no ratio for {method}")
    for band in fitting:
        low, high = band.low_c - SAME_K, band.high_c - SAME_K
        if low <= temp_c < (high + 2 * SAME_K if band is fitting[-1] else high):
            return BandChoice(band, f"the band for {celsius_q(band.low_c, band.high_c)}")
    spans = ", ".join(celsius_q(b.low_c, b.high_c) for b in fitting)
    return BandChoice(None, f"no band holds {celsius_q(temp_c, digits=1)}: the sheet has {spans}")


BIG_POTS = ((4000.0, 0.5), (1000.0, 0.7))
"""Over so much in one vessel [mL] it lives so long, as a share: it warms itself. Common practice, no source."""


def life_share(volume_ml: float, told_ml: float | None = None) -> float:
    """How much of a sheet's pot life so much in one vessel [mL] has; told_ml: for how much the sheet gives it [mL]."""
    return min(1.0, _big(volume_ml) / _big(told_ml or 0.0))


def _big(volume_ml: float) -> float:
    return next((share for over_ml, share in BIG_POTS if volume_ml > over_ml), 1.0)


@dataclass(frozen=True)
class Pots:
    """A volume in equal pots: how many, each [mL]."""

    count: int
    each_ml: float


def equal_pots(volume_ml: float, pot_max_ml: float) -> Pots:
    """A volume [mL] in the fewest equal pots of at most `pot_max_ml` [mL]."""
    if pot_max_ml <= 0 or volume_ml <= 0:
        raise ValueError("volumes must be above 0 mL")
    count = math.ceil(volume_ml / pot_max_ml - 1e-9)
    return Pots(count, volume_ml / count)


def base_stranded_share(extra_hardener: float) -> float:
    """Share of the base still in its tin when the hardener is used up, if each pot gets more.

    extra_hardener: share on top, 0.15 for "15 % more to be sure": 0.13 stays. 1 − 1/(1+x).
    """
    return 1.0 - 1.0 / (1.0 + extra_hardener)
