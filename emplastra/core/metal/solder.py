"""Body solder: what lies there, what comes out and goes in, and how it comes out with the least heat.

Densities by volume additivity from lead 11 340 (CRC) and tin 7 290 kg/m3, from memory. Ways of working
and waste: common practice, no source.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import FieldError
from ..words import length_q
from ..working import Basis, Given, Line, Working

LEAD_KG_M3, TIN_KG_M3 = 11340.0, 7290.0
ALLOYS: dict[str, tuple[str, float]] = {
    "70-30": ("70 % lead, 30 % tin", 0.70),
    "74-26": ("74 % lead, 26 % tin", 0.74),
    "60-40": ("60 % lead, 40 % tin", 0.60),
    "lead-free": ("Lead-free, mostly tin", 0.0),
}
"""Alloy -> name, share of lead by mass."""
FILLER_KG_M3 = 1875.0
"""Polyester filler, the middle of 1750 to 2000. From memory."""
REMOVAL = (
    "Find its edges with a file and a magnet; mask a hand’s breadth round it.",
    "Everybody else out; sheet on the floor; extraction with a HEPA filter at the joint.",
    "Respirator for lead, suit, gloves, overshoes.",
    "Hot air first, flameless if you can: as little heat as lets it run. Low flame only where that fails.",
    "Catch what runs in a tray; wipe the rest while it is warm.",
    "File what is left by hand. Never grind it dry.",
    f"Wet-clean bench and floor; waste, rags and suit into closed {length_q(0.15)} bags, labelled, to a "
    f"hazardous-waste site.",
    "Shower, wash the clothes apart: children are at risk from what goes home.",
)
"""Steps in order. Common practice, no source: local codes and licensed practice come first."""
KEEPING = (
    "Sound all round: no crack, no blister, rings dull like the sheet, nothing green or white at its edge.",
    "Wash and neutralise: flux left under it bleeds through paint.",
    "File, do not grind dry; prime within the day.",
)


RUN_IN = (
    "Bright metal, wider than the low: sand it, no oil, no paint for a hand’s breadth.",
    "Warm it slowly and tin it: paste on, heat from the back, until it turns golden bronze; wipe with a clean rag.",
    "Wax the paddle. Warm the stick and the tinning together until it is like butter, push it on, press it flat.",
    "Wide and feathered rather than thick: width is weight, and what is thick sags.",
    "Let it cool by itself; water warps the panel.",
    "File with a body file, across and along. Never grind it dry, never sand it by machine.",
    "Neutralise the flux, rinse, dry: what is left bleeds through paint.",
)
"""How solder is run into a low. Common practice, no source: local codes and licensed practice come first."""
TIN_MIN_DM2, RUN_MIN_ML, FILE_MIN_ML = 6.0, 1.2, 0.8
"""Minutes to clean and tin a dm2, to run a mL in, to file a mL. Common practice, no source."""
FLEXES = (
    "Solder flexes with its panel where filler cracks: for edges, joints and what is slammed. "
    "A rigid body hardly needs it."
)


@dataclass(frozen=True)
class Instead:
    """A low run in with solder beside the same low filled: mass [g] and minutes at work of each."""

    solder_g: float
    solder_min: float
    filler_g: float
    filler_min: float


def instead(volume_ml: float, area_m2: float, filler_min: float, alloy: str = "70-30") -> Instead:
    """A low of so much [mL] over an area [m2] by solder, beside filler that takes so long [min]. Raises SolderError."""
    if alloy not in ALLOYS:
        raise SolderError("alloy", f"must be one of {', '.join(ALLOYS)}")
    if volume_ml <= 0 or area_m2 <= 0:
        raise SolderError("volume_ml", "volume and area must be above 0")
    grams = volume_ml * density_kg_m3(ALLOYS[alloy][1]) / 1000.0
    minutes = TIN_MIN_DM2 * area_m2 * 100.0 + (RUN_MIN_ML + FILE_MIN_ML) * volume_ml
    return Instead(grams, minutes, volume_ml * FILLER_KG_M3 / 1000.0, filler_min)


THICK_MM = 1.5
"""How thick solder that was run in is taken to lie, where only its mass is told [mm]. Common practice, no source."""


def run_in_min(grams: float, alloy: str) -> float:
    """Minutes to tin, run in and file so much solder [g]. Raises SolderError."""
    if alloy not in ALLOYS:
        raise SolderError("alloy", f"must be one of {', '.join(ALLOYS)}")
    ml = 1000.0 * grams / density_kg_m3(ALLOYS[alloy][1])
    return instead(ml, ml / THICK_MM / 1000.0, 0.0, alloy).solder_min if ml > 0 else 0.0


class SolderError(FieldError):
    """A figure that cannot be: `field` names it."""


def density_kg_m3(lead_share: float) -> float:
    """Density [kg/m3] of lead and tin by volume additivity; lead_share: of the mass, 0 to 1."""
    if not 0.0 <= lead_share <= 1.0:
        raise SolderError("alloy", "share of lead must be from 0 to 1")
    return 1.0 / (lead_share / LEAD_KG_M3 + (1.0 - lead_share) / TIN_KG_M3)


def lens_ml(length_mm: float, width_mm: float, depth_mm: float) -> float:
    """Volume [mL] of a loaded seam with a lens-shaped section: two thirds of length · width · depth [mm]."""
    return 2.0 / 3.0 * length_mm * width_mm * depth_mm / 1000.0


def mass_g(alloy: str, length_mm: float, width_mm: float, depth_mm: float) -> float:
    """Mass [g] of a loaded seam with a lens-shaped section: two thirds of length · width · depth [mm].

    Raises SolderError naming the figure that cannot be.
    """
    if alloy not in ALLOYS:
        raise SolderError("alloy", f"must be one of {', '.join(ALLOYS)}")
    for field, value, top in (
        ("length_mm", length_mm, 10_000),
        ("width_mm", width_mm, 1000),
        ("depth_mm", depth_mm, 50),
    ):
        if not 0 < value <= top:
            raise SolderError(field, f"must be above 0 and at most {length_q(top)}")
    return lens_ml(length_mm, width_mm, depth_mm) * density_kg_m3(ALLOYS[alloy][1]) / 1000.0


def working(alloy: str, length_mm: float, width_mm: float, depth_mm: float) -> Working:
    """How the mass of a joint so long, wide and deep [mm] comes about, and what as much filler would weigh."""
    grams, density = mass_g(alloy, length_mm, width_mm, depth_mm), density_kg_m3(ALLOYS[alloy][1])
    volume_ml = lens_ml(length_mm, width_mm, depth_mm)
    given = (
        Given(
            "length, width, depth",
            f"{length_mm:.0f} × {width_mm:.0f} × {depth_mm:.1f}",
            "mm",
            Basis.TYPED,
            "measured or planned",
        ),
        Given("section", "two thirds of the rectangle", "", Basis.ASSUMED, "a lens: common practice, no source"),
        Given("density", f"{density:.0f}", "kg/m³", Basis.COMPUTED, "lead 11 340 and tin 7 290 by volume"),
    )
    lines = (
        Line("volume", f"2/3 · {length_mm:.0f} · {width_mm:.0f} · {depth_mm:.1f} / 1000", f"{volume_ml:.1f}", "mL"),
        Line("mass", "volume · density", f"{grams:.0f}", "g"),
        Line("as filler", f"volume · {FILLER_KG_M3:.0f}", f"{volume_ml * FILLER_KG_M3 / 1000:.0f}", "g"),
    )
    return Working(ALLOYS[alloy][0], given, lines, "Densities from memory.")


@dataclass(frozen=True)
class LeadBalance:
    """Solder of a zone [g]: what came out, what went in, lead among what came out."""

    out_g: float
    in_g: float
    lead_out_g: float


def balance(moved: Sequence[tuple[str, str, float]]) -> LeadBalance:
    """From ("out" or "in", alloy, mass [g]) of each."""
    out = sum(g for way, _, g in moved if way == "out")
    lead = sum(g * ALLOYS[alloy][1] for way, alloy, g in moved if way == "out")
    return LeadBalance(out, sum(g for way, _, g in moved if way == "in"), lead)


def steps(school: str, found: str) -> tuple[str, tuple[str, ...]]:
    """(what is to be done by the school, its steps). found: the answer to the survey's question on solder."""
    if found not in {"seam", "suspected"}:
        return "No solder is told of.", ()
    if found == "suspected":
        return "Suspected: test it before it is heated or ground.", REMOVAL[:3]
    if school == "stays":
        return "It stays where it is sound.", KEEPING
    return "All lead goes.", REMOVAL
