"""Seams and cavities by their measures: sealer in a bead, what a stitched lap leaves open, wax by a lance.

Geometry is exact; what is lost, how far a lance reaches and how long it drips is common practice, no source.
"""

import math
from dataclasses import dataclass

from ..errors import FieldError
from ..words import film_q, length_q, volume_q
from ..working import Basis, Given, Line, Working

CARTRIDGE_ML = 310.0
"""What a cartridge of sealer holds [mL]."""
SEALER_LOST, WAX_LOST = 0.10, 0.30
"""Share that stays in nozzle and hose, or drips out again."""
BEAD_MM_MIN = 600.0
"""Bead laid and tooled in a minute [mm/min]."""
DRIP_MIN = 60.0
"""How long a cavity drips before its drains are looked at [min]."""
REACH_MM = 600.0
"""How far a lance sprays along a cavity from its nozzle [mm]."""
MOST_MM, MOST_RUN_MM = 200.0, 100_000.0


@dataclass(frozen=True)
class BeadShape:
    """The section of a bead: its name, how it is laid, the share of width × height that it fills."""

    name: str
    how: str
    fills: float


SHAPES: dict[str, BeadShape] = {
    "fillet": BeadShape("Fillet in a corner", "tooled with a finger or spoon", 0.5),
    "round": BeadShape("Half round on a lap", "left as it is laid", math.pi / 4),
    "band": BeadShape("Brushed band", "brushed in one direction", 1.0),
    "groove": BeadShape("Filled groove", "drawn off flush", 1.0),
}


def _check(name: str, value: float, low: float, high: float) -> None:
    if not low < value <= high:
        raise FieldError(name, f"must be above {length_q(low)} and at most {length_q(high)}")


@dataclass(frozen=True)
class Sealed:
    """What sealing a seam takes: volume that is laid and that is bought [mL], cartridges, minutes; gaps: openings that
    a stitched lap leaves, gap_mm: how long each is [mm]; gap_ml: what of the volume fills them.
    """

    laid_ml: float
    bought_ml: float
    cartridges: int
    minutes: int
    gaps: int
    gap_mm: float
    gap_ml: float
    working: Working


def sealed(
    run_mm: float,
    width_mm: float,
    height_mm: float,
    shape: str,
    pitch_mm: float = 0.0,
    stitch_mm: float = 0.0,
    open_mm: float = 0.0,
    depth_mm: float = 0.0,
) -> Sealed:
    """Sealer for a seam: a bead along its run [mm], of a width and height [mm] and a key of SHAPES.

    pitch_mm, stitch_mm: of a stitched lap, from stitch to stitch and how long each weld is [mm], 0 for none; open_mm,
    depth_mm: how wide and deep the lap stands open between them [mm]. Raises FieldError naming what cannot be.
    """
    if shape not in SHAPES:
        raise FieldError("shape", f"must be one of {', '.join(SHAPES)}")
    for name, value, high in (
        ("run", run_mm, MOST_RUN_MM),
        ("width", width_mm, MOST_MM),
        ("height", height_mm, MOST_MM),
    ):
        _check(name, value, 0.0, high)
    if pitch_mm and not 0 < stitch_mm < pitch_mm:
        raise FieldError("stitch", "a stitch must be longer than nothing and shorter than from stitch to stitch")
    gap_mm = pitch_mm - stitch_mm if pitch_mm else 0.0
    gaps = math.floor(run_mm / pitch_mm + 1e-9) if pitch_mm else 0
    gap_ml = gaps * gap_mm * open_mm * depth_mm / 1000.0
    bead_ml = run_mm * width_mm * height_mm * SHAPES[shape].fills / 1000.0
    laid = bead_ml + gap_ml
    bought = laid / (1.0 - SEALER_LOST)
    working = Working(
        "Sealer",
        (
            Given("run", length_q(run_mm), "", Basis.TYPED),
            Given("bead", length_q(width_mm, height_mm), "", Basis.TYPED),
            Given(
                "section", f"{SHAPES[shape].fills:.3f}", "of width × height", Basis.COMPUTED, SHAPES[shape].name.lower()
            ),
        ),
        (
            Line(
                "bead",
                f"{length_q(run_mm)} × {length_q(width_mm, height_mm)} × {SHAPES[shape].fills:.3f}",
                round(bead_ml, 1),
                "mL",
            ),
            Line("gaps", f"{gaps} of {length_q(gap_mm)}" if gaps else "none", round(gap_ml, 1), "mL"),
            Line("bought", f"÷ (1 − {SEALER_LOST:g})", round(bought, 1), "mL"),
        ),
        "Geometry; the share that is lost: common practice, no source",
    )
    minutes = math.ceil(run_mm / BEAD_MM_MIN)
    return Sealed(laid, bought, math.ceil(bought / CARTRIDGE_ML - 1e-9), minutes, gaps, gap_mm, gap_ml, working)


@dataclass(frozen=True)
class Waxed:
    """What waxing a cavity takes: its inner area [m2], wax left in it and bought [mL], how many holes a lance needs and
    those that are lacking, minutes that it drips.
    """

    area_m2: float
    left_ml: float
    bought_ml: float
    holes: int
    lacking: int
    drip_min: float
    working: Working


def waxed(
    length_mm: float,
    around_mm: float,
    film_um: float,
    solids_pct: float,
    holes: int = 0,
    reach_mm: float = REACH_MM,
) -> Waxed:
    """Wax for a cavity of a length, so long around its inside [mm], in a dry film [µm] of so much solids [% by volume].

    holes: that a lance goes in by; reach_mm: how far it sprays to each side of its nozzle [mm]. Raises FieldError.
    """
    _check("length", length_mm, 0.0, MOST_RUN_MM)
    _check("around", around_mm, 0.0, 10_000.0)
    _check("reach", reach_mm, 0.0, 5_000.0)
    if not 0 < film_um <= 2000:
        raise FieldError("film", f"must be above 0 and at most {film_q(2000)}")
    if not 0 < solids_pct <= 100:
        raise FieldError("solids", "must be above 0 and at most 100 %")
    area = length_mm * around_mm / 1e6
    left = area * film_um / (solids_pct / 100.0)
    bought = left / (1.0 - WAX_LOST)
    wanted = math.ceil(length_mm / (2.0 * reach_mm) - 1e-9)
    working = Working(
        "Wax",
        (
            Given("length", length_q(length_mm), "", Basis.TYPED),
            Given("around its inside", length_q(around_mm), "", Basis.TYPED),
            Given("dry film", film_q(film_um), "", Basis.TYPED),
            Given("solids", round(solids_pct, 1), "%", Basis.SHEET),
        ),
        (
            Line("inner area", f"{length_q(length_mm)} × {length_q(around_mm)}", round(area, 3), "m²"),
            Line("wet wax", f"{film_q(film_um)} ÷ {solids_pct:g} % over it", round(left), "mL"),
            Line("bought", f"÷ (1 − {WAX_LOST:g}): {volume_q(bought)}", round(bought), "mL"),
            Line("holes for the lance", f"{length_q(length_mm)} ÷ (2 × {length_q(reach_mm)}), upward", wanted, ""),
        ),
        "Geometry; loss, reach and drip time: common practice, no source",
    )
    return Waxed(area, left, bought, wanted, max(0, wanted - holes), DRIP_MIN, working)


def around_box_mm(width_mm: float, height_mm: float) -> float:
    """How long it is around the inside of a box of a width and height [mm]."""
    return 2.0 * (width_mm + height_mm)


def around_tube_mm(diameter_mm: float) -> float:
    """How long it is around the inside of a tube of a diameter [mm]."""
    return math.pi * diameter_mm
