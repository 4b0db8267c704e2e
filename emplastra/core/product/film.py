"""Film, coverage and consumption.

Identities: theoretical coverage [m2/L] = 10·VS[%] / DFT[µm]; WFT = DFT·(100 + thinner%)/VS%,
thinner being a share of the unthinned paint. A loss is a share of the paint used: divide by
(1 − loss), never multiply by (1 + loss).
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from ..words import area_q, film_q, volume_q
from ..working import Basis, Figure, Given, Line, Working


@dataclass(frozen=True)
class Method:
    """A way to put paint on: share of it that stays on the work, fixed loss per pot [mL]; is it sprayed."""

    name: str
    stays: float
    loss_ml: float
    is_sprayed: bool = True


@dataclass(frozen=True)
class Form:
    """How a face is built: share of sprayed paint that meets it."""

    name: str
    meets: float


METHODS: dict[str, Method] = {
    "brush": Method("Brush", 0.95, 10.0, False),
    "roller": Method("Roller", 0.90, 50.0, False),
    "hvlp": Method("HVLP gun", 0.55, 30.0),
    "conventional": Method("Conventional gun", 0.40, 30.0),
    "airless": Method("Airless", 0.60, 500.0),
    "aerosol": Method("Aerosol can", 0.50, 0.0),
}
"""Ways to put paint on, by key. Common practice, no source."""
BY_AIR = frozenset({"hvlp", "conventional"})
"""Those that spray by compressed air."""

FORMS: dict[str, Form] = {
    "flat": Form("Flat or low crown", 1.0),
    "frame": Form("Frame, ribbed", 0.7),
    "tube": Form("Tube or angle", 0.5),
}
"""Forms of a face, by key; a brush or roller loses nothing past it. Common practice, no source."""

UNEVEN_SPRAYED, UNEVEN_BRUSHED = 1.15, 1.3
"""How much more paint a film takes that is a minimum everywhere. Common practice, no source."""

PROFILE_DEAD_UM = {
    "sanded": 0.0,
    "blasted fine": 25.0,
    "blasted medium": 50.0,
    "blasted coarse": 80.0,
    "blasted, unknown": 50.0,
}
"""Paint that fills the valleys of the profile, about two thirds of its height [µm]. Common practice, no source.

Not the 10, 25 and 40 µm of ISO 19840, which correct a gauge.
"""


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
    """Dry film [µm] from unthinned paint used [L] of solids [%] over an area [m2]; efficiency is a share [0..1]."""
    _check("area", area_m2, 0, 10000, "m2")
    return litres_mixed * 10.0 * solids_pct * efficiency / area_m2


def mixed_solids_pct(parts: Sequence[tuple[float, float]]) -> float:
    """Solids of a mix [% by volume], from (volume [any unit], solids [%]) of each part."""
    total = sum(volume for volume, _ in parts)
    _check("mixed volume", total, 0, 1e9, "")
    return sum(volume * solids for volume, solids in parts) / total


@dataclass(frozen=True)
class Need:
    """What a coat takes. Volumes in mL: mixed (unthinned), thinner, in the gun, by part, and of the mixed what stays in
    gun and brush.
    """

    mixed_ml: float
    thinner_ml: float
    gun_ml: float
    by_part_ml: dict[str, float]
    loss_ml: float
    how: Callable[[], Working] = field(repr=False, compare=False)

    @property
    def on_face_ml(self) -> float:
        """Of what is in the gun, what goes at the face [mL]: what stays in gun or brush is lost once for each pot."""
        return self.gun_ml * (1.0 - self.loss_ml / self.mixed_ml)

    @property
    def working(self) -> Working:
        """The way to it, put together when it is opened."""
        return self.how()


@dataclass(frozen=True)
class CoatAsked:
    """One coat asked for.

    area_m2 [m2]; dft_um: dry film, dead_um: what fills the profile [µm]; solids_pct [% by volume];
    method: a key of METHODS, form: of FORMS; thinner_pct [% of the mixed paint]; parts: share of the
    mixed volume by part; pots: how many are mixed; efficiency: own share instead of the method's;
    uneven: how many times the film is put on so that its thinnest is what was asked for; solids_basis: what the solids
    rest on.
    """

    area_m2: float
    dft_um: float
    solids_pct: float
    method: str
    form: str = "flat"
    dead_um: float = 0.0
    thinner_pct: float = 0.0
    parts: Mapping[str, float] = field(default_factory=dict)
    pots: int = 1
    efficiency: float | None = None
    uneven: float = 1.0
    solids_basis: Basis = Basis.SHEET


Way = tuple[tuple[Given, ...], str, str]
"""What the paint on the work follows from, the sum written out, the rule behind it."""


def need(coat: CoatAsked) -> Need:
    """Paint for one coat.

    litres mixed = area·(DFT·uneven + dead) / (10·VS%) / (e_method·e_form) + fixed loss per pot, e_form where it is
    sprayed.
    Raises ValueError naming what is out of range.
    """
    _check("area", coat.area_m2, 0, 10000, "m2")
    _check("dry film", coat.dft_um, 0, 20000, "µm")
    _check("thinner", coat.thinner_pct, 0, 100, "%", low_ok=True)
    theory_ml = 1000.0 * coat.area_m2 / coverage_m2_per_l(coat.dft_um * coat.uneven + coat.dead_um, coat.solids_pct)
    return _with_losses(coat, theory_ml, lambda: _by_film(coat))


def _by_film(coat: CoatAsked) -> Way:
    dead, times = coat.dead_um, f" × {coat.uneven:g}" if coat.uneven > 1 else ""
    how = f"{coat.area_m2:.3f} × ({coat.dft_um:g}{times} + {dead:g}) / (10 × {coat.solids_pct:.2f})"
    return tuple(_film_given(coat)), how, "identity: m²/L = 10·VS/DFT; a loss is a share of the paint used"


def need_by_coverage(coat: CoatAsked, coverage_m2_l: float) -> Need:
    """Paint for one coat where its sheet tells no film and solids but what a litre covers [m2/L].

    That is taken as without losses, which come on top: the careful reading. Of `coat` film and solids are not read.
    """
    said = "the least it says, taken as without losses"
    given = Given("a litre covers", coverage_m2_l, "m²/L", Basis.SHEET, said)
    how = f"1000 × {coat.area_m2:.3f} / {coverage_m2_l:g}"
    rule = "the sheet’s own coverage; a loss is a share of the paint used"
    return _with_losses(coat, 1000.0 * coat.area_m2 / coverage_m2_l, lambda: ((given,), how, rule))


_PRACTICE = "common practice, no source"


def _film_given(coat: CoatAsked) -> Iterator[Given]:
    """What the paint on the work follows from: film, profile, solids."""
    yield Given("dry film per coat", coat.dft_um, "µm", Basis.TYPED, "build-up")
    if coat.uneven > 1:
        yield Given("unevenness of a least film", coat.uneven, "", Basis.ASSUMED, _PRACTICE)
    if coat.dead_um:
        yield Given("profile to fill", coat.dead_um, "µm", Basis.ASSUMED, f"two thirds of its height: {_PRACTICE}")
    else:
        yield Given("profile to fill", coat.dead_um, "µm", Basis.TYPED, "sanded, or not the first coat on metal")
    whence = "typical of the kind, no source" if coat.solids_basis is Basis.ASSUMED else "volume-weighted"
    yield Given("solids of the mix", round(coat.solids_pct, 2), "%", coat.solids_basis, whence)


def _with_losses(coat: CoatAsked, theory_ml: float, way: Callable[[], Way]) -> Need:
    """What a coat takes where so much [mL] of the mix is to be on the work; way: what that follows from."""
    method, form = METHODS[coat.method], FORMS[coat.form]
    stays = method.stays if coat.efficiency is None else coat.efficiency
    meets, loss_ml = form.meets if method.is_sprayed else 1.0, method.loss_ml * coat.pots
    mixed_ml = theory_ml / (stays * meets) + loss_ml
    thinner_ml = mixed_ml * coat.thinner_pct / 100.0
    total = sum(coat.parts.values()) or 1.0
    by_part = {key: mixed_ml * share / total for key, share in coat.parts.items()}

    def working() -> Working:
        given, how, rule = way()
        past = _PRACTICE if method.is_sprayed else "nothing is sprayed past it"
        return Working(
            "Paint for one coat",
            (
                Given("area", round(coat.area_m2, 3), "m²", Basis.TYPED, "measured shapes"),
                *given,
                Given(f"stays on the work, {method.name}", stays, "", Basis.ASSUMED, _PRACTICE),
                Given(f"meets the form, {form.name}", meets, "", Basis.ASSUMED, past),
                Given("left in gun or brush", loss_ml, "mL", Basis.ASSUMED, _PRACTICE),
                Given("thinner", coat.thinner_pct, "%", Basis.SHEET, "of the mixed paint"),
            ),
            (
                Line("on the work", how, round(theory_ml), "mL"),
                Line("mixed", f"{theory_ml:.0f} / ({stays:g} × {meets:g}) + {loss_ml:g}", round(mixed_ml), "mL"),
                Line("thinner", f"{mixed_ml:.0f} × {coat.thinner_pct:g} %", round(thinner_ml), "mL"),
                Line("ready to use", f"{mixed_ml:.0f} + {thinner_ml:.0f}", round(mixed_ml + thinner_ml), "mL"),
            ),
            rule,
        )

    return Need(mixed_ml, thinner_ml, mixed_ml + thinner_ml, by_part, loss_ml, working)


@dataclass(frozen=True)
class Film:
    """A dry film [µm] with the basis it rests on; None: nobody can say."""

    dft_um: float | None
    basis: Basis
    how: str


@dataclass(frozen=True)
class FilmEvidence:
    """What is known of a coat's film: plan [µm], solids of the mix [% by volume] and what they rest on, thinner [%],
    readings of gauge and wet comb [µm], unthinned litres used [L] over an area [m2], efficiency [0..1]; None: untold.
    """

    plan_um: float | None
    solids: Figure | None
    thinner_pct: float = 0.0
    gauge_um: Sequence[float] = ()
    comb_um: Sequence[float] = ()
    litres_mixed: float | None = None
    efficiency: float = 1.0
    area_m2: float | None = None


def fact_film(known: FilmEvidence) -> Film:
    """Dry film of a coat from the best evidence: gauge, then comb, then litres used, then plan."""
    if known.gauge_um:
        mean = sum(known.gauge_um) / len(known.gauge_um)
        return Film(mean, Basis.MEASURED, f"gauge, {len(known.gauge_um)} readings")
    found = _from_solids(known, known.solids) if known.solids is not None else None
    if found is not None:
        return found
    missing = "; no solids are told, so no reading of wet film says what dries" if known.comb_um else ""
    if known.plan_um is None:
        return Film(None, Basis.ASSUMED, f"cannot say: neither planned nor told{missing}")
    return Film(known.plan_um, Basis.ASSUMED, f"plan, nothing measured{missing}")


def _from_solids(known: FilmEvidence, solids: Figure) -> Film | None:
    """Dry film by its solids from a wet film or from what was used; None for neither."""
    guessed = solids.basis is Basis.ASSUMED
    typical = ", solids typical of its kind" if guessed else ""
    if known.comb_um:
        wet = sum(known.comb_um) / len(known.comb_um)
        how = f"from a measured wet film, {film_q(wet)} × {solids.value:.1f} / {100 + known.thinner_pct:g}{typical}"
        dry = dft_from_wft_um(wet, solids.value, known.thinner_pct)
        return Film(dry, Basis.ASSUMED if guessed else Basis.COMPUTED, how)
    if known.litres_mixed is None or not known.area_m2:
        return None
    dry = dft_from_litres_um(known.litres_mixed, solids.value, known.area_m2, known.efficiency)
    how = f"{volume_q(known.litres_mixed * 1000)} used over {area_q(known.area_m2)}{typical}"
    return Film(dry, Basis.ASSUMED if guessed else Basis.ESTIMATED, how)
