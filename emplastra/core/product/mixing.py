"""Pots: ratios, scale targets, deviations and corrections.

A part's ratio r_i is its share relative to the others in what measures it: by mass on a scale, by volume in a cup
with marks. A by-volume ratio goes through the densities to a scale; where none is told, only the cup is left. Thinner
is a part like any other (its share of the mixed volume times its density).
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

from ..words import celsius_q, volume_q
from ..working import Basis, Given, Line, Unknown, Working
from .tables import SAME_K

TOLERANCE_PCT = 5.0
"""Tolerance of a part where the sheet names none [%]. Assumed; common practice, no source."""


@dataclass(frozen=True)
class Part:
    """A part of a mix in pouring order: key, name, ratio, density [g/mL], solids [% by volume], volatile organic
    compounds and water [g/L]; None: not told.
    """

    key: str
    name: str
    ratio: float
    density_g_ml: float | None = None
    solids_pct: float | None = None
    role: str = "base"
    voc_g_l: float | None = None
    water_g_l: float | None = None


class Measure(StrEnum):
    """How parts are measured: on a scale [g], or by the marks of a cup [mL]."""

    SCALE = "scale"
    CUP = "cup"

    @property
    def unit(self) -> str:
        """The unit that it shows."""
        return "g" if self is Measure.SCALE else "mL"


@dataclass(frozen=True)
class Target:
    """What to pour of a part: volume [mL], mass [g] (None: cannot be said), what scale or cup shows at its end, and
    the stick there.
    """

    part: Part
    volume_ml: float | None
    mass_g: float | None
    shown: float
    stick_mm: float | None

    @property
    def amount(self) -> float:
        """What is poured, as the scale or the cup shows it."""
        found = self.mass_g if self.mass_g is not None else self.volume_ml
        assert found is not None
        return found


@dataclass(frozen=True)
class PotPlan:
    """A pot: targets in pouring order and what scale or cup shows at the end [g or mL]."""

    targets: tuple[Target, ...]
    whole: float
    working: Working = field(repr=False)


def measures(parts: Sequence[Part], by: str, thinner: Part | None = None) -> tuple[Measure, ...]:
    """How a mix can be measured, the scale first: what is not told of densities leaves only the ratio's own way.

    by: "volume" or "mass"; thinner: the one that goes in, None for none.
    """
    dense = all(p.density_g_ml for p in (*parts, *((thinner,) if thinner else ())))
    if dense:
        return Measure.SCALE, Measure.CUP
    if by == "volume":
        return (Measure.CUP,)
    # Thinner is a share of the volume: by mass alone nobody can say how much that is.
    return (Measure.SCALE,) if thinner is None else ()


def ratios(
    parts: Sequence[Part],
    by: str,
    thinner_pct: float = 0.0,
    thinner: Part | None = None,
    measure: Measure = Measure.SCALE,
) -> tuple[Part, ...] | Unknown:
    """The parts with ratios as scale or cup shows them, thinner last; Unknown names the density that is not told.

    by: "volume" or "mass"; thinner_pct: [% of the mixed volume]. Raises ValueError for a ratio that is not above 0, or
    thinner wanted with no thinner named.
    """
    _look_at(parts, by)
    if thinner_pct > 0 and thinner is None:
        raise ValueError("thinner is wanted but the sheet names none")
    last = thinner if thinner_pct > 0 else None
    if measure not in measures(parts, by, last):
        untold = next(p for p in (*parts, last) if p is not None and not p.density_g_ml)
        return Unknown(f"components/{untold.key}/density_g_ml", f"the density of {untold.name.lower()}")
    found = [_measured(p, p.ratio * _into(p, by, measure), measure) for p in parts]
    return tuple(found) if last is None else (*found, _thinned(last, parts, by, thinner_pct, measure))


def _look_at(parts: Sequence[Part], by: str) -> None:
    """Raise ValueError for a ratio that is none."""
    if by not in {"volume", "mass"}:
        raise ValueError("a ratio is by volume or by mass")
    for p in parts:
        if p.ratio <= 0 or (p.density_g_ml is not None and p.density_g_ml <= 0):
            raise ValueError(f"{p.name}: ratio and density must be above 0")


def _thinned(thinner: Part, parts: Sequence[Part], by: str, thinner_pct: float, measure: Measure) -> Part:
    """Thinner as a part of the mix: a share of the volume of the others."""
    volumes = [p.ratio if by == "volume" else p.ratio / (p.density_g_ml or 1.0) for p in parts]
    thinner_ml = sum(volumes) * thinner_pct / 100.0
    return _measured(thinner, thinner_ml * _into(thinner, "volume", measure), measure)


def _into(part: Part, by: str, measure: Measure) -> float:
    """How many units of scale or cup a unit of the ratio is."""
    if (by == "volume") == (measure is Measure.CUP):
        return 1.0
    density = part.density_g_ml or 1.0
    return density if by == "volume" else 1.0 / density


def _measured(part: Part, ratio: float, measure: Measure) -> Part:
    """A part whose ratio is in units of scale or cup; in a cup a unit is a mL of whatever density."""
    return replace(part, ratio=ratio, density_g_ml=1.0 if measure is Measure.CUP else part.density_g_ml)


def plan_pot(
    mix: Sequence[Part],
    ready_ml: float,
    pot_diameter_mm: float | None = None,
    measure: Measure = Measure.SCALE,
    by_mass: bool = False,
) -> PotPlan:
    """Targets for `ready_ml` [mL, ready to use] of a mix with ratios as scale or cup shows them, in pouring order.

    by_mass, or where no density is told and it goes by the scale: `ready_ml` is what the scale is to show [g].
    pot_diameter_mm: inside of a straight-sided pot, for stick marks [mm above its floor]. Raises ValueError if the
    volume or diameter is not above 0 or absurd.
    """
    if not 0 < ready_ml <= 200_000:
        raise ValueError("volume must be above 0 and at most 200 L")
    if pot_diameter_mm is not None and not 10 <= pot_diameter_mm <= 2000:
        raise ValueError("pot diameter must be from 10 to 2000 mm")
    dense = not by_mass and all(p.density_g_ml is not None for p in mix)
    unit_ml = [p.ratio / (p.density_g_ml or 1.0) for p in mix]
    k = ready_ml / (sum(unit_ml) if dense else sum(p.ratio for p in mix))
    per_mm = math.pi * pot_diameter_mm**2 / 4000.0 if pot_diameter_mm and dense else None
    targets = _targets(mix, unit_ml, k, dense, per_mm, measure)
    return PotPlan(targets, targets[-1].shown, _pot_working(mix, ready_ml, targets, measure, dense))


FAIR_STEPS = 20
"""So many steps of the scale a part has to be, for its weight to be told to a twentieth. Common practice, no source."""


def too_fine(plan: PotPlan, step_g: float) -> tuple[Target, float] | None:
    """The part of a pot that is too small for a scale of this step [g], and how many times as much would do; None where
    none is.
    """
    weighed = [target for target in plan.targets if target.mass_g is not None]
    least = min(weighed, key=lambda target: target.mass_g or 0.0, default=None)
    if least is None or least.mass_g is None or least.mass_g >= FAIR_STEPS * step_g - 1e-9:
        return None
    return least, FAIR_STEPS * step_g / least.mass_g


def _targets(
    mix: Sequence[Part], unit_ml: Sequence[float], k: float, dense: bool, per_mm: float | None, measure: Measure
) -> tuple[Target, ...]:
    """Targets of k times a mix; per_mm: volume for each mm of the stick [mL]."""
    found, shown, volume = [], 0.0, 0.0
    for part, ml in zip(mix, unit_ml, strict=True):
        shown, volume = shown + k * part.ratio, volume + k * ml
        mass = None if measure is Measure.CUP else k * part.ratio
        found.append(Target(part, k * ml if dense else None, mass, shown, volume / per_mm if per_mm else None))
    return tuple(found)


def _pot_working(
    mix: Sequence[Part], ready: float, targets: Sequence[Target], measure: Measure, dense: bool
) -> Working:
    shares = " : ".join(f"{p.ratio / mix[0].ratio:.4f}" for p in mix)
    if measure is Measure.SCALE and dense:
        given = (
            *(Given(f"density of {p.name}", p.density_g_ml or 0.0, "g/mL", Basis.SHEET) for p in mix),
            Given("ratio by mass", shares, "", Basis.COMPUTED, "by-volume ratio × density"),
        )
        sums = [f"{t.volume_ml:.1f} × {t.part.density_g_ml:g}" for t in targets]
        return _working_of(volume_q(ready), given, targets, sums, "g")
    by = "mass" if measure is Measure.SCALE else "volume"
    whole = sum(p.ratio for p in mix)
    sums = [f"{ready:g} × {t.part.ratio:g} / {whole:g}" for t in targets]
    told = Given(f"ratio by {by}", shares, "", Basis.SHEET, "as the sheet gives it: no density is needed")
    return _working_of(f"{ready:g} g" if by == "mass" else volume_q(ready), (told,), targets, sums, measure.unit)


def _working_of(
    whole: str, given: tuple[Given, ...], targets: Sequence[Target], sums: Sequence[str], unit: str
) -> Working:
    lines = (Line(t.part.name, how, round(t.amount, 1), unit) for t, how in zip(targets, sums, strict=True))
    return Working(f"{whole} ready to use", given, tuple(lines))


@dataclass(frozen=True)
class Deviation:
    """How far a poured part is off: m/m_base against its ratio, [%], + is too much."""

    key: str
    pct: float
    in_tolerance: bool


@dataclass(frozen=True)
class Offer:
    """A way on: what to add by part, and the new total, as scale [g] or cup [mL] shows them."""

    add: dict[str, float]
    total: float
    exact: bool


@dataclass(frozen=True)
class Balance:
    """The state of a pot being poured.

    deviations of parts poured so far; remaining by part not yet poured, at the base as it is;
    offers when a poured part is out of tolerance: the exact one, then "only into tolerance".
    """

    deviations: tuple[Deviation, ...]
    remaining: dict[str, float]
    offers: tuple[Offer, ...]

    @property
    def in_tolerance(self) -> bool:
        """True if every poured part is within tolerance."""
        return all(d.in_tolerance for d in self.deviations)


def balance(mix: Sequence[Part], poured: Mapping[str, float], tolerance_pct: float = TOLERANCE_PCT) -> Balance:
    """Judge what was poured and say what is left to pour.

    mix: parts with ratios as scale or cup shows them, base first; poured: what is in by part key [g or mL], parts not
    yet poured left out; tolerance_pct [%]. Deviation of part i = (m_i/m_base)/(r_i/r_base) − 1. Within tolerance the
    rest is r_i·m_base/r_base. Out of it k = max(m_i/r_i), add_i = k·r_i − m_i; and, less, only
    into tolerance t: m_base' = max(m_base, max m_i·r_base/(r_i·(1+t))), each other part up to
    (1−t)·r_i·m_base'/r_base.
    """
    r = {p.key: p.ratio for p in mix}
    base = mix[0].key
    poured = {key: mass for key, mass in poured.items() if mass > 0}
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
    """A ratio variant of a sheet with its temperature band [°C]: lower limit in, upper out; None: no band is told."""

    key: str
    low_c: float | None
    high_c: float | None
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
    suiting = [b for b in bands if b.suits(method)]
    if not suiting:
        return BandChoice(None, f"the sheet has no ratio for {method}")
    told = _told(suiting)
    for low_c, high_c, band in told:
        top = high_c + SAME_K if band is told[-1][2] else high_c - SAME_K
        if low_c - SAME_K <= temp_c < top:
            return BandChoice(band, f"the band for {celsius_q(low_c, high_c)}")
    untold = [b for b in suiting if b.low_c is None]
    if untold:
        return BandChoice(untold[0], "its tin names no temperatures for the ratio")
    spans = ", ".join(celsius_q(low_c, high_c) for low_c, high_c, _ in told)
    return BandChoice(None, f"no band holds {celsius_q(temp_c, digits=1)}: the sheet has {spans}")


def _told(bands: Sequence[Band]) -> list[tuple[float, float, Band]]:
    """Bands whose temperatures are told, the coldest first."""
    found = [(b.low_c, b.high_c, b) for b in bands if b.low_c is not None and b.high_c is not None]
    return sorted(found, key=lambda band: band[0])


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
