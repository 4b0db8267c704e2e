"""What each step of a plan takes: paint by part, stripe coats by length and width, filler by depth and area, solder by
its joint, cleaner, wipe and acid by area, abrasives by what a disc lasts.

Sources stand with each figure; what is said to be common practice has none.
"""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import Enum

from ..metal.solder import SolderError, lens_ml
from ..metal.treatment import Supply, needs_of
from ..product.abrasives import GritError, grain_um
from ..product.film import METHODS, PROFILE_DEAD_UM, CoatAsked, Need, need, need_by_coverage, wft_um
from ..product.kinds import FILLERS
from ..product.mixing import BandChoice, choose_band
from ..product.sheet import Sheet, Variant
from ..surface.names import StepKind
from ..surface.plan import PlanStep
from ..surface.steps import STEPS
from ..words import length_q
from ..working import Basis, Figure, Given, Line, Unknown, Working

STRIPE_MM = 50.0
"""How wide a brushed stripe is [mm]. Common practice, no source."""
DISC_M2 = (("P60", 0.3), ("P120", 0.6), ("P240", 1.2), ("P800", 2.0))
"""Up to a grade, how much a disc of 150 mm does before it is worn [m2]. Common practice, no source."""
ON_METAL = 0.5
"""On metal it does so much of that. Common practice, no source."""
LIQUIDS = frozenset({StepKind.CLEAN, StepKind.DEGREASE, StepKind.ACID_PREP})


class By(Enum):
    """What of a face an amount follows: its area, its edges, or neither."""

    AREA = "area"
    EDGES = "edges"
    NEITHER = ""


@dataclass(frozen=True)
class FaceAsked:
    """A face that a plan is for: area [m2], form, profile, length of its edges [mm] (an estimate from its shapes)."""

    name: str
    area_m2: float
    form: str = "flat"
    profile: str = "sanded"
    edges_mm: float = 0.0

    def over(self, other: "FaceAsked", by: By) -> float:
        """How many times as large as another it is by what an amount follows."""
        if by is By.AREA:
            return self.area_m2 / other.area_m2
        return self.edges_mm / other.edges_mm if by is By.EDGES else 1.0


@dataclass(frozen=True)
class Uneven:
    """How many times a film is put on that is a minimum everywhere, sprayed and brushed."""

    sprayed: float = 1.15
    brushed: float = 1.3


@dataclass(frozen=True)
class Paint:
    """Paint for the next coat of a step and for each after it; the wet film to aim at [µm] (None: cannot be said).

    coats_left; basis: what its solids rest on; area: of the face, or of the part that it is for; by_mass: it is weighed
    out, as filler is; by: what of a face it follows.
    """

    step: PlanStep
    sheet: Sheet
    variant: Variant | None
    choice: BandChoice | None
    one: Need
    later: Need
    coats_left: int
    wet_um: float | None
    basis: Basis
    area: Figure
    by_mass: bool = False
    by: By = By.AREA

    def parts_ml(self) -> dict[str, float]:
        """Volumes over the coats left [mL] by component, thinner last."""
        found = self._mixed_parts() or {self.sheet.parts(None)[0].key: self.mixed_ml}
        thinner, ml = self.sheet.thinner(), self._over(self.one.thinner_ml, self.later.thinner_ml)
        return found | ({thinner.key: ml} if thinner and ml else {})

    @property
    def parts(self) -> list[tuple[str, float]]:
        """(part name, mL over the coats left) in pouring order, without the thinner."""
        return [(self.sheet.component(key).name, ml) for key, ml in self._mixed_parts().items()]

    @property
    def gun_ml(self) -> float:
        """Ready to use over the coats left [mL]."""
        return self._over(self.one.gun_ml, self.later.gun_ml)

    @property
    def mixed_ml(self) -> float:
        """Mixed, unthinned, over the coats left [mL]."""
        return self._over(self.one.mixed_ml, self.later.mixed_ml)

    def times(self, was: FaceAsked, face: FaceAsked) -> float:
        """How many times as much it is on a face alike in all but size to the one it was worked out on: all of it
        grows with that but what stays in gun and brush.
        """
        times, mixed, lost = face.over(was, self.by), self.mixed_ml, self._over(self.one.loss_ml, self.later.loss_ml)
        return 1.0 if times == 1.0 else (lost + (mixed - lost) * times) / mixed

    @property
    def grams(self) -> float | None:
        """What it weighs mixed [g]; None where a density is not told."""
        rows = [(self.sheet.component(key).density_g_ml, ml) for key, ml in self.parts_ml().items()]
        return None if any(d is None for d, _ in rows) else sum((d or 0.0) * ml for d, ml in rows)

    def _mixed_parts(self) -> dict[str, float]:
        later = self.later.by_part_ml
        return {key: self._over(ml, later[key]) for key, ml in self.one.by_part_ml.items()}

    def _over(self, first: float, later: float) -> float:
        return first + later * (self.coats_left - 1)


@dataclass(frozen=True)
class Supplied:
    """What a step takes that leaves no film: how much of what [mL, g or pieces], and how that comes about.

    by: what of a face it follows; each_m2: what a piece does [m2].
    """

    step: PlanStep
    what: str
    amount: float
    unit: str
    basis: Basis
    how: Callable[[], Working | None] = field(default=lambda: None, repr=False, compare=False)
    by: By = By.AREA
    each_m2: float = 0.0

    def times(self, was: FaceAsked, face: FaceAsked) -> float:
        """How many times as much it is on a face alike in all but size to the one it was worked out on."""
        return pieces(face, self.each_m2) / self.amount if self.each_m2 else face.over(was, self.by)

    @property
    def working(self) -> Working | None:
        """The way to it, put together when it is opened."""
        return self.how()


@dataclass(frozen=True)
class Unsaid:
    """A step of which nobody can work out what it takes, and the figure that is missing."""

    step: PlanStep
    coats_left: int
    unknown: Unknown

    def times(self, was: FaceAsked, face: FaceAsked) -> float:
        """As often as on any other face."""
        return 1.0


def variant_for(sheet: Sheet, temp_c: float, method: str) -> tuple[Variant | None, BandChoice | None]:
    """(ratio that holds at a temperature [°C] or None, the choice): of a plan the first stands in."""
    if not sheet.variants:
        return None, None
    choice = choose_band([v.band for v in sheet.variants], temp_c, method)
    return (sheet.variant(choice.band.key) if choice.band else None), choice


def area_for(step: PlanStep, face: FaceAsked) -> tuple[Figure | Unknown, By]:
    """The area that a step is for [m2] and what of the face it follows: of a stripe its length by its width, of a part
    what was told, else the face.
    """
    if step.kind == StepKind.STRIPE:
        length = step.length_mm or face.edges_mm
        if not length:
            return Unknown("", "the length of its edges"), By.NEITHER
        width = step.width_mm or STRIPE_MM
        told = bool(step.length_mm and step.width_mm)
        by = By.NEITHER if step.length_mm else By.EDGES
        return Figure(length * width / 1e6, Basis.TYPED if told else Basis.ESTIMATED), by
    if step.area_m2:
        return Figure(step.area_m2, Basis.TYPED), By.NEITHER
    if step.on:
        return Unknown("", "how much is bared"), By.NEITHER
    return Figure(face.area_m2, Basis.TYPED), By.AREA


def stripe_share(step: PlanStep, face: FaceAsked) -> float:
    """The share of a face that a step is for [0..1]: of a stripe coat that of its edges, of all others the whole; the
    whole too where the edges are not told.
    """
    area, _ = area_for(step, face) if step.kind == StepKind.STRIPE else (None, None)
    return min(1.0, area.value / face.area_m2) if isinstance(area, Figure) and face.area_m2 else 1.0


def paint_for(
    step: PlanStep,
    sheet: Sheet,
    face: FaceAsked,
    temp_c: float,
    coats_left: int,
    on_metal: bool = False,
    uneven: Uneven = Uneven(),
) -> Paint | Unsaid:
    """Paint for a step on a face. temp_c: by which its ratio is chosen [°C]; on_metal: it is the first coat on the
    metal, whose profile takes paint too; each coat is one pot.
    """
    variant, choice = variant_for(sheet, temp_c, step.method)
    variant = variant or (sheet.variants[0] if sheet.variants else None)
    area, by = area_for(step, face)
    if isinstance(area, Unknown):
        return Unsaid(step, coats_left, area)
    shares = sheet.volume_shares(variant)
    asked = CoatAsked(area.value, 1.0, 100.0, step.method, face.form, 0.0, step.thinner_pct, shares)
    if sheet.kind in FILLERS:
        return _filler(step, sheet, variant, choice, asked, coats_left, area, by)
    solids = sheet.solids_pct(variant)
    if isinstance(solids, Unknown) or step.dft_um is None:
        if sheet.coverage_m2_l is None:
            return Unsaid(step, coats_left, solids if isinstance(solids, Unknown) else _no_film(step, sheet))
        one = need_by_coverage(asked, sheet.coverage_m2_l[0])
        return Paint(step, sheet, variant, choice, one, one, coats_left, None, Basis.SHEET, area, by=by)
    wet = wft_um(step.dft_um, solids.value, step.thinner_pct)
    asked = replace(asked, dft_um=step.dft_um, solids_pct=solids.value, solids_basis=solids.basis)
    if step.least:
        asked = replace(asked, uneven=uneven.sprayed if METHODS[step.method].is_sprayed else uneven.brushed)
    later = need(asked)
    one = need(replace(asked, dead_um=PROFILE_DEAD_UM[face.profile])) if on_metal else later
    return Paint(step, sheet, variant, choice, one, later, coats_left, wet, solids.basis, area, by=by)


def _no_film(step: PlanStep, sheet: Sheet) -> Unknown:
    return Unknown("film", f"the {'' if sheet.aim_um is None else 'planned '}film of {step.product}")


def _filler(
    step: PlanStep,
    sheet: Sheet,
    variant: Variant | None,
    choice: BandChoice | None,
    asked: CoatAsked,
    coats_left: int,
    area: Figure,
    by: By,
) -> Paint | Unsaid:
    """Filler by depth and area: all that is put on, what is sanded off among it; nothing flies past and it has no
    thinner. What is left on the board is not counted.
    """
    if step.dft_um is None:
        return Unsaid(step, coats_left, _no_film(step, sheet))
    asked = replace(
        asked, dft_um=step.dft_um, solids_pct=100.0, efficiency=1.0, pots=0, thinner_pct=0.0, method="brush"
    )
    one = need(asked)
    return Paint(step, sheet, variant, choice, one, one, coats_left, None, Basis.COMPUTED, area, True, by)


def solder_for(step: PlanStep, sheet: Sheet | None) -> Supplied | Unsaid:
    """Mass of solder [g] of a joint by its length, width and depth: a lens, two thirds of the rectangle."""
    for value, called in ((step.length_mm, "length"), (step.width_mm, "width"), (step.dft_um, "depth")):
        if not value:
            return Unsaid(step, 1, Unknown("", f"the {called} of its joint"))
    density = sheet.parts(None)[0].density_g_ml if sheet else None
    if density is None:
        return Unsaid(step, 1, Unknown("components", "the density of its solder"))
    depth_mm = (step.dft_um or 0.0) / 1000.0
    ml = lens_ml(step.length_mm, step.width_mm, depth_mm)
    if ml > 1e5:
        raise SolderError("length_mm", "a joint of over 100 L is none")

    def working() -> Working:
        size = f"{step.length_mm:g} × {step.width_mm:g} × {depth_mm:g}"
        given = (
            Given("length, width, depth", size, "mm", Basis.TYPED, "build-up"),
            Given("density", density, "g/mL", Basis.SHEET, step.product),
        )
        lines = (
            Line("volume", f"2/3 × {size} / 1000", round(ml, 1), "mL"),
            Line("mass", f"{ml:.1f} × {density:g}", round(ml * density), "g"),
        )
        return Working("Solder for the joint", given, lines, "a lens: common practice, no source")

    return Supplied(step, step.product or "solder", ml * density, "g", Basis.COMPUTED, working, By.NEITHER)


def discs_for(step: PlanStep, face: FaceAsked, on_metal: bool) -> Supplied | None:
    """Discs of 150 mm that a sanding takes; None without a grade."""
    try:
        grain = grain_um(step.grit)
    except GritError:
        return None
    each = next((m2 for grade, m2 in DISC_M2 if grain >= grain_um(grade)), DISC_M2[-1][1]) * (
        ON_METAL if on_metal else 1
    )
    count = pieces(face, each)

    def working() -> Working:
        given = (
            Given("area", round(face.area_m2, 3), "m²", Basis.TYPED, "measured shapes"),
            Given("a disc does", each, "m²", Basis.ASSUMED, "common practice, no source"),
        )
        return Working("Abrasives", given, (Line("discs", f"{face.area_m2:.3f} / {each:g}, upward", count),))

    of = f"{step.grit}, discs of {length_q(150, digits=0)}"
    return Supplied(step, of, float(count), "", Basis.ASSUMED, working, By.AREA, each)


def pieces(face: FaceAsked, each_m2: float) -> int:
    """Whole pieces for a face, of which each does so much [m2]."""
    return math.ceil(face.area_m2 / each_m2 - 1e-9)


def liquids_for(step: PlanStep, sheet: Sheet | None, face: FaceAsked, temp_c: float) -> list[Supplied]:
    """Cleaner, wipe and acid by area. temp_c: for how long acid is kept wet [°C]."""

    def asked(area_m2: float) -> tuple[tuple[Supply, ...], Working | None]:
        return needs_of(step.kind, area_m2, sheet, temp_c)

    of, m2 = step.product or STEPS[step.kind].name, face.area_m2
    each = asked(m2)[0]
    return [Supplied(step, of, s.ml, "mL", s.basis, lambda: asked(m2)[1]) for s in each if s.name != "water"]


Amount = Paint | Supplied | Unsaid


def amounts(
    steps: Sequence[PlanStep],
    sheets: Mapping[str, Sheet],
    face: FaceAsked,
    temp_c: float = 20.0,
    done: Mapping[str, int] | None = None,
    gone: frozenset[str] = frozenset(),
    coated: bool = False,
    uneven: Uneven = Uneven(),
) -> list[Amount]:
    """What the rest of a plan takes on a face, in its order.

    sheets: by product name; temp_c: by which ratios are chosen [°C]; done: {id of a step: its coats that are on};
    gone: ids of steps that are done; coated: something lies on the metal already.
    """
    found: list[Amount] = []
    on_metal, on = not coated, done or {}
    for step in steps:
        if step.left_out:
            continue
        sheet = sheets.get(step.product)
        if not STEPS[step.kind].leaves_film:
            found += [] if step.id in gone else _without_film(step, sheet, face, temp_c, on_metal)
            continue
        left = step.coats - on.get(step.id, 0)
        if left > 0:
            found.append(_with_film(step, sheet, face, temp_c, left, on_metal, uneven))
        on_metal = False
    return found


def _with_film(
    step: PlanStep,
    sheet: Sheet | None,
    face: FaceAsked,
    temp_c: float,
    left: int,
    on_metal: bool,
    uneven: Uneven,
) -> Amount:
    if step.kind == StepKind.SOLDER:
        return solder_for(step, sheet)
    if sheet is None:
        return Unsaid(step, left, Unknown("", f"the data sheet of {step.product or STEPS[step.kind].name.lower()}"))
    return paint_for(step, sheet, face, temp_c, left, on_metal, uneven)


def _without_film(step: PlanStep, sheet: Sheet | None, face: FaceAsked, temp_c: float, on_metal: bool) -> list[Amount]:
    if step.kind in LIQUIDS:
        return list(liquids_for(step, sheet, face, temp_c))
    if STEPS[step.kind].entry == "keyed":
        discs = discs_for(step, face, on_metal)
        return [discs] if discs else []
    return []
