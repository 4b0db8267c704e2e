"""Volatile organic compounds of a pot as it is mixed, against the limits for vehicle refinishing.

2004/42/EC Annex II B, from memory: g/L ready for use since 1 January 2007; the water in it is discounted, but for
preparatory and cleaning products. It holds for road vehicles; a rail, boat or machine job is outside its scope.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from ..working import Basis, Figure, Given, Line, Unknown, Working
from .kinds import ProductKind
from .mixing import Part
from .sheet import Sheet, Variant

WATER_G_L = 1000.0
SOURCE = "2004/42/EC Annex II B, from memory"


@dataclass(frozen=True)
class Category:
    """A subcategory of the annex: its letter, its name, the most it allows [g/L], and whether water is discounted."""

    letter: str
    name: str
    most_g_l: float
    less_water: bool = True


CLEANING = Category("a", "preparatory", 850.0, False)
PRE_CLEANER = Category("a", "pre-cleaner", 200.0, False)
FILLER = Category("b", "bodyfiller and stopper", 250.0)
PRIMER = Category("c", "surfacer, filler and general metal primer", 540.0)
WASH = Category("c", "wash primer", 780.0)
TOPCOAT = Category("d", "topcoat, all types", 420.0)
SPECIAL = Category("e", "special finishes, all types", 840.0)
_K = ProductKind
CATEGORIES: dict[str, Category] = {
    _K.PANEL_WIPE: CLEANING, _K.CLEANER: PRE_CLEANER,
    _K.BODY_FILLER: FILLER, _K.FIBRE_FILLER: FILLER, _K.FINE_FILLER: FILLER,
    _K.SPRAYABLE_FILLER: PRIMER, _K.EPOXY_PRIMER: PRIMER, _K.EPOXY_MASTIC: PRIMER, _K.ZINC_RICH_PRIMER: PRIMER, _K.ONE_K_PRIMER: PRIMER,
    _K.WELD_THROUGH_PRIMER: PRIMER, _K.TWO_PACK_SURFACER: PRIMER, _K.SEALER: PRIMER, _K.WASH_PRIMER: WASH,
    _K.BASE_COAT: TOPCOAT, _K.MID_COAT: TOPCOAT, _K.CLEAR_COAT: TOPCOAT, _K.SINGLE_STAGE: TOPCOAT, _K.ENAMEL: TOPCOAT,
    _K.CHIP_COAT: SPECIAL, _K.UNDERBODY_COAT: SPECIAL, _K.TEXTURED_COATING: SPECIAL,
}  # fmt: skip
"""Kind of product -> its subcategory; a spray can is a special finish whatever is in it. From memory."""


def category_of(kind: str, form: str = "") -> Category | None:
    """The subcategory of a kind of product in a form, None for a kind that the annex does not name."""
    return SPECIAL if form == "aerosol" and kind != ProductKind.PANEL_WIPE else CATEGORIES.get(kind)


def voc_g_per_l(parts: Sequence[tuple[float, float, float]], less_water: bool = True) -> float:
    """VOC [g/L] of a mix from (volume [any unit], VOC [g/L], water [g/L]) of each part, volumes adding up.

    less_water: of the mix without its water, as the directive has it. Raises ValueError for a mix of no volume.
    """
    volume = sum(v for v, _, _ in parts)
    water = sum(v * w / WATER_G_L for v, _, w in parts) if less_water else 0.0
    if volume - water <= 0:
        raise ValueError("the mix has no volume besides its water")
    return sum(v * voc for v, voc, _ in parts) / (volume - water)


@dataclass(frozen=True)
class Voc:
    """VOC of a pot as mixed [g/L] by its category's rule, of a litre as it is [g/L], the category, and the working."""

    figure: Figure
    plain_g_l: float
    category: Category | None
    working: Working

    @property
    def within(self) -> bool | None:
        """True if it keeps the limit of its category, None where there is none."""
        return None if self.category is None else self.figure.value <= self.category.most_g_l + 1e-9


def voc_of(sheet: Sheet, variant: Variant | None, thinner_pct: float = 0.0) -> Voc | Unknown:
    """VOC of a product mixed by a ratio with thinner [% of the mixed parts]; Unknown names what its sheet lacks."""
    rows = _parts(sheet, variant, thinner_pct)
    if isinstance(rows, Unknown):
        return rows
    category = category_of(sheet.kind, sheet.form)
    less_water = category is None or category.less_water
    told = [(volume, p.voc_g_l or 0.0, p.water_g_l or 0.0) for p, volume in rows]
    try:
        value, plain = voc_g_per_l(told, less_water), voc_g_per_l(told, False)
    except ValueError:
        return Unknown("components", f"what of {sheet.product} is not water")
    basis = Basis.SHEET if variant is None and not thinner_pct else Basis.COMPUTED
    return Voc(Figure(value, basis), plain, category, _working(sheet, rows, value, less_water))


def _parts(sheet: Sheet, variant: Variant | None, thinner_pct: float) -> list[tuple[Part, float]] | Unknown:
    """(part, its share of a litre of the mix) in pouring order, thinner last."""
    if sheet.lacks_ratio:
        return Unknown("variants", f"the ratio of {sheet.product}")
    shares = sheet.volume_shares(variant)
    if not shares:
        return Unknown("components", f"the densities of {sheet.product}")
    rows = [(part, shares[part.key]) for part in sheet.parts(variant)]
    thinner = sheet.thinner() if thinner_pct else None
    if thinner_pct and thinner is None:
        return Unknown("thinner", f"the thinner of {sheet.product}")
    if thinner is not None:
        rows.append((thinner, thinner_pct / 100.0))
    untold = next((part for part, _ in rows if part.voc_g_l is None), None)
    if untold is not None:
        where = f"components/{untold.key}/voc_g_l"
        return Unknown(where, f"the VOC of {untold.name.lower()} of {sheet.product} is")
    return rows


def _working(sheet: Sheet, rows: Sequence[tuple[Part, float]], value: float, less_water: bool) -> Working:
    given = [
        Given(
            f"{p.name}, parts", round(v, 4), "", Basis.SHEET, f"{p.voc_g_l:g} g/L VOC, {p.water_g_l or 0:g} g/L water"
        )
        for p, v in rows
    ]
    volume, water = sum(v for _, v in rows), sum(v * (p.water_g_l or 0.0) / WATER_G_L for p, v in rows)
    mass = sum(v * (p.voc_g_l or 0.0) for p, v in rows)
    off = f" − {water:.4f}" if less_water and water else ""
    lines = (
        Line("VOC in it", " + ".join(f"{v:.4g} × {p.voc_g_l:g}" for p, v in rows), round(mass, 1), "g"),
        Line("ready for use", f"{mass:.1f} / ({volume:.4f}{off})", round(value, 1), "g/L"),
    )
    rule = "the water in it is discounted" if less_water else "water counts"
    return Working(f"VOC of {sheet.product}", tuple(given), lines, f"{SOURCE}: {rule}")
