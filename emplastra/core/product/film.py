"""Film, coverage and consumption.

Identities: theoretical coverage [m2/L] = 10·VS[%] / DFT[µm]; WFT = DFT·(100 + thinner%)/VS%,
thinner being a share of the unthinned paint. A loss is a share of the paint used: divide by
(1 − loss), never multiply by (1 + loss).
"""

from collections.abc import Sequence
from dataclasses import dataclass, field

from ..working import Basis, Given, Line, Working

METHODS = {
    "brush": ("Brush", 0.95, 10.0),
    "roller": ("Roller", 0.90, 10.0),
    "hvlp": ("HVLP gun", 0.65, 30.0),
    "conventional": ("Conventional gun", 0.40, 30.0),
    "airless": ("Airless", 0.60, 30.0),
    "aerosol": ("Aerosol can", 0.50, 0.0),
}
"""method -> name, share of the paint that stays on the work, fixed loss per pot [mL].
Common practice, no source."""

FORMS = {"flat": ("Flat or low crown", 1.0), "frame": ("Frame, ribbed", 0.8), "tube": ("Tube or angle", 0.6)}
"""form -> name, share of the paint that meets it. Common practice, no source."""

PROFILE_DEAD_UM = {
    "sanded": 0.0,
    "blasted fine": 10.0,
    "blasted medium": 25.0,
    "blasted coarse": 40.0,
    "blasted, unknown": 25.0,
}
"""Film that fills the valleys of the profile [µm]. Source: ISO 19840 correction values."""


def _check(name: str, value: float, low: float, high: float, unit: str, low_ok: bool = False) -> None:
    if not (value > low or (low_ok and value == low)) or not value <= high:
        raise ValueError(
            f"{name} must be {'at least' if low_ok else 'above'} {low:g} and at most {high:g} {unit}; it is {value:g}"
        )


def coverage_m2_per_l(dft_um: float, solids_pct: float) -> float:
    """Theoretical coverage [m2/L] of a dry film [µm] from solids by volume [%, above 0]."""
    _check("solids by volume", solids_pct, 0, 100, "%")
    _check("dry film", dft_um, 0, 20000, "µm")
    return 10.0 * solids_pct / dft_um


def wft_um(dft_um: float, solids_pct: float, thinner_pct: float = 0.0) -> float:
    """Wet film [µm] that dries to `dft_um` [µm]; thinner [% of the unthinned paint]."""
    _check("solids by volume", solids_pct, 0, 100, "%")
    return dft_um * (100.0 + thinner_pct) / solids_pct


def dft_from_wft_um(wet_um: float, solids_pct: float, thinner_pct: float = 0.0) -> float:
    """Dry film [µm] left by a wet film [µm]; solids of the unthinned mix [%], thinner [%]."""
    _check("solids by volume", solids_pct, 0, 100, "%")
    return wet_um * solids_pct / (100.0 + thinner_pct)


def dft_from_litres_um(litres_mixed: float, solids_pct: float, area_m2: float, efficiency: float = 1.0) -> float:
    """Dry film [µm] from unthinned paint used [L] over an area [m2]; efficiency is a share [0..1]."""
    _check("area", area_m2, 0, 10000, "m2")
    return litres_mixed * 10.0 * solids_pct * efficiency / area_m2


def mixed_solids_pct(parts: Sequence[tuple[float, float]]) -> float:
    """Solids of a mix [% by volume], from (volume [any unit], solids [%]) of each part."""
    total = sum(volume for volume, _ in parts)
    _check("mixed volume", total, 0, 1e9, "")
    return sum(volume * solids for volume, solids in parts) / total


@dataclass(frozen=True)
class Need:
    """What a coat takes. Volumes in mL: mixed (unthinned), thinner, in the gun, and by part."""

    mixed_ml: float
    thinner_ml: float
    gun_ml: float
    by_part_ml: dict[str, float]
    working: Working = field(repr=False)


def need(
    area_m2: float,
    dft_um: float,
    solids_pct: float,
    method: str,
    form: str = "flat",
    dead_um: float = 0.0,
    thinner_pct: float = 0.0,
    parts: dict[str, float] | None = None,
    pots: int = 1,
    efficiency: float | None = None,
) -> Need:
    """Paint for one coat.

    litres mixed = area·(DFT + dead) / (10·VS%) / (e_method·e_form) + fixed loss per pot.
    area_m2 [m2]; dft_um, dead_um [µm]; solids_pct [%]; method a key of METHODS; form of FORMS;
    thinner_pct [% of the mixed paint]; parts: share of the mixed volume by part name; pots:
    number of pots mixed; efficiency: own share instead of the method's.
    Raises ValueError naming the argument that is out of range.
    """
    _check("area", area_m2, 0, 10000, "m2")
    _check("dry film", dft_um, 0, 20000, "µm")
    _check("solids by volume", solids_pct, 0, 100, "%")
    _check("thinner", thinner_pct, 0, 100, "%", low_ok=True)
    name, e_method, fixed_ml = METHODS[method]
    e_method = e_method if efficiency is None else efficiency
    form_name, e_form = FORMS[form]
    theory_l = area_m2 * (dft_um + dead_um) / (10.0 * solids_pct)
    mixed_ml = 1000.0 * theory_l / (e_method * e_form) + fixed_ml * pots
    thinner_ml = mixed_ml * thinner_pct / 100.0
    shares = parts or {}
    total = sum(shares.values()) or 1.0
    working = Working(
        "Paint for one coat",
        (
            Given("area", round(area_m2, 3), "m²", Basis.TYPED, "measured shapes"),
            Given("dry film per coat", dft_um, "µm", Basis.TYPED, "build-up"),
            Given(
                "profile to fill",
                dead_um,
                "µm",
                Basis.ASSUMED if dead_um else Basis.TYPED,
                "ISO 19840 correction" if dead_um else "sanded, or not the first coat on metal",
            ),
            Given("solids of the mix", round(solids_pct, 2), "%", Basis.SHEET, "volume-weighted"),
            Given(f"stays on the work, {name}", e_method, "", Basis.ASSUMED, "common practice, no source"),
            Given(f"meets the form, {form_name}", e_form, "", Basis.ASSUMED, "common practice, no source"),
            Given("left in gun or brush", fixed_ml * pots, "mL", Basis.ASSUMED, "common practice, no source"),
            Given("thinner", thinner_pct, "%", Basis.SHEET, "of the mixed paint"),
        ),
        (
            Line(
                "on the work",
                f"{area_m2:.3f} × ({dft_um:g} + {dead_um:g}) / (10 × {solids_pct:.2f})",
                round(theory_l * 1000),
                "mL",
            ),
            Line(
                "mixed",
                f"{theory_l * 1000:.0f} / ({e_method:g} × {e_form:g}) + {fixed_ml * pots:g}",
                round(mixed_ml),
                "mL",
            ),
            Line("thinner", f"{mixed_ml:.0f} × {thinner_pct:g} %", round(thinner_ml), "mL"),
            Line("in the gun", f"{mixed_ml:.0f} + {thinner_ml:.0f}", round(mixed_ml + thinner_ml), "mL"),
        ),
        "identity: m²/L = 10·VS/DFT; a loss is a share of the paint used",
    )
    return Need(
        mixed_ml, thinner_ml, mixed_ml + thinner_ml, {k: mixed_ml * v / total for k, v in shares.items()}, working
    )


@dataclass(frozen=True)
class Film:
    """A dry film [µm] with the basis it rests on."""

    dft_um: float
    basis: Basis
    how: str


def fact_film(
    plan_um: float,
    solids_pct: float,
    thinner_pct: float = 0.0,
    gauge_um: Sequence[float] = (),
    comb_um: Sequence[float] = (),
    litres_mixed: float | None = None,
    efficiency: float = 1.0,
    area_m2: float | None = None,
) -> Film:
    """Dry film of a coat from the best evidence: gauge, then comb, then litres used, then plan.

    gauge_um, comb_um: readings [µm]; litres_mixed [L, unthinned] over area_m2 [m2].
    """
    if gauge_um:
        return Film(sum(gauge_um) / len(gauge_um), Basis.MEASURED, f"gauge, {len(gauge_um)} readings")
    if comb_um:
        wet = sum(comb_um) / len(comb_um)
        return Film(
            dft_from_wft_um(wet, solids_pct, thinner_pct),
            Basis.MEASURED,
            f"wet comb {wet:.0f} µm × {solids_pct:.1f} / {100 + thinner_pct:g}",
        )
    if litres_mixed is not None and area_m2:
        return Film(
            dft_from_litres_um(litres_mixed, solids_pct, area_m2, efficiency),
            Basis.ESTIMATED,
            f"{litres_mixed * 1000:.0f} mL used over {area_m2:.2f} m²",
        )
    return Film(plan_um, Basis.ASSUMED, "plan, nothing measured")
