"""Abrasives: FEPA grains, grit plans, what a scratch leaves, what a blast leaves.

Grains: ISO 6344-2 (P12 to P220, mean) and -3 (P240 to P2500, median ds50), from memory.
"""

from dataclasses import dataclass

from .kinds import ProductKind

GRAIN_UM: dict[str, float] = {
    "P12": 1815, "P16": 1324, "P20": 1000, "P24": 764, "P30": 642, "P36": 538, "P40": 425, "P50": 336, "P60": 269, "P80": 201, "P100": 162, "P120": 125,
    "P150": 100, "P180": 82, "P220": 68, "P240": 58.5, "P280": 52.2, "P320": 46.2, "P360": 40.5, "P400": 35, "P500": 30.2, "P600": 25.8, "P800": 21.8,
    "P1000": 18.3, "P1200": 15.3, "P1500": 12.6, "P2000": 10.3, "P2500": 8.4,
}  # fmt: skip
"""Grade -> grain [µm]. Source: ISO 6344 (FEPA 43), from memory."""
LONGEST_STEP = 2.2
"""Largest ratio of one grain to the next in a plan. Common practice, no source."""
SCRATCH_SHARE, SCRATCH_SHARE_STEEL = 0.2, 0.1
"""Depth of a scratch as a share of the grain, in film, and in steel: estimates. Common practice, no source."""
BURIED = 2.0
"""How many times its depth a film has to lie over a scratch. Common practice, no source."""


class GritError(ValueError):
    """A grade that is none, or a plan that cannot be."""


def grain_um(grade: str) -> float:
    """Grain [µm] of a grade such as "P80". Raises GritError naming the grades there are."""
    found = GRAIN_UM.get(grade.strip().upper())
    if found is None:
        raise GritError(f"{grade}: must be one of {', '.join(GRAIN_UM)}")
    return found


def scratch_um(grade: str, on_metal: bool = False) -> float:
    """Depth of its scratches [µm] in film, or in metal: an estimate from the grain."""
    return (SCRATCH_SHARE_STEEL if on_metal else SCRATCH_SHARE) * grain_um(grade)


def grit_plan(first: str, last: str) -> list[str]:
    """Grades from the coarse to the fine, as few as keep every step within LONGEST_STEP. Raises GritError."""
    coarse, fine = grain_um(first), grain_um(last)
    if fine > coarse:
        raise GritError(f"{last} is coarser than {first}")
    grades = [g for g, um in GRAIN_UM.items() if fine <= um <= coarse]
    plan = [grades[0]]
    while plan[-1] != grades[-1]:
        left = grades[grades.index(plan[-1]) + 1 :]
        near = [g for g in left if GRAIN_UM[plan[-1]] / GRAIN_UM[g] <= LONGEST_STEP]
        plan.append(near[-1] if near else left[0])
    return plan


def buries(grade: str, build_um: float, on_metal: bool = False) -> bool:
    """True if a film that is left [µm] buries the scratches of a grade twice: an estimate."""
    return build_um >= BURIED * scratch_um(grade, on_metal)


@dataclass(frozen=True)
class Tooth:
    """What a first coat wants of the metal: profile from and to [µm], grade of cleanliness ("": of steel alone),
    finest grit by hand.
    """

    low_um: float
    high_um: float
    grade: str
    grit: str

    @property
    def finest(self) -> str:
        """The finest grit that still gives it a hold by hand: two grades finer than what it wants."""
        grades = list(GRAIN_UM)
        return grades[grades.index(self.grit) + 2]


TOOTH: dict[str, Tooth] = {
    ProductKind.EPOXY_PRIMER: Tooth(20, 60, "St 3", "P80"),
    ProductKind.EPOXY_MASTIC: Tooth(25, 75, "St 2", "P80"),
    ProductKind.WASH_PRIMER: Tooth(5, 25, "St 3", "P180"),
    ProductKind.ZINC_RICH_PRIMER: Tooth(40, 85, "Sa 2½", "P36"),
    ProductKind.WELD_THROUGH_PRIMER: Tooth(5, 40, "St 3", "P120"),
    ProductKind.ONE_K_PRIMER: Tooth(10, 40, "St 2", "P120"),
    ProductKind.CONVERTER: Tooth(0, 75, "St 2", "P80"),
    ProductKind.CONVERTING_PRIMER: Tooth(0, 75, "St 2", "P80"),
    ProductKind.FLAKE_URETHANE: Tooth(40, 100, "Sa 2½", "P36"),
    ProductKind.BODY_FILLER: Tooth(30, 80, "St 3", "P80"),
    ProductKind.POWDER: Tooth(25, 75, "Sa 2½", "P80"),
}
"""Kind of the first coat -> what it wants. Common practice, no source: the sheet comes first."""
ANY_TOOTH = Tooth(20, 60, "St 3", "P80")
"""Where the first coat is not known."""
LIGHT_TOOTH = Tooth(5, 40, "", "P180")
"""On light metals and laminate, which have no St or Sa grade: clean, keyed, dull. Common practice, no source."""
UNDER: dict[str, tuple[str, str]] = {
    ProductKind.EPOXY_PRIMER: ("P80", "P320"), ProductKind.EPOXY_MASTIC: ("P80", "P240"), ProductKind.BODY_FILLER: ("P36", "P180"), ProductKind.FIBRE_FILLER: ("P36", "P120"),
    ProductKind.FINE_FILLER: ("P80", "P240"), ProductKind.SPRAYABLE_FILLER: ("P80", "P240"), ProductKind.TWO_PACK_SURFACER: ("P80", "P320"), ProductKind.ONE_K_PRIMER: ("P180", "P400"),
    ProductKind.SEALER: ("P240", "P600"), ProductKind.CHIP_COAT: ("P80", "P400"), ProductKind.UNDERBODY_COAT: ("P80", "P400"), ProductKind.TEXTURED_COATING: ("P80", "P400"),
    ProductKind.ENAMEL: ("P240", "P500"), ProductKind.BASE_COAT: ("P400", "P800"), ProductKind.MID_COAT: ("P600", "P1000"), ProductKind.SINGLE_STAGE: ("P320", "P600"),
    ProductKind.CLEAR_COAT: ("P600", "P2000"), ProductKind.FLAKE_URETHANE: ("P36", "P220"),
}  # fmt: skip
"""Kind of a coat -> (coarsest, finest) grit on the film under it. Common practice, no source: the sheet comes first."""
FIRST_CUT: dict[str, str] = {
    ProductKind.BODY_FILLER: "P40",
    ProductKind.FIBRE_FILLER: "P40",
    ProductKind.FINE_FILLER: "P80",
    ProductKind.SPRAYABLE_FILLER: "P120",
    ProductKind.TWO_PACK_SURFACER: "P180",
    ProductKind.EPOXY_PRIMER: "P240",
}
"""Kind of what is levelled -> the grit of its first cut. Common practice, no source."""
GRADES: dict[str, str] = {
    "St 2": "thorough hand and power tool cleaning",
    "St 3": "very thorough hand and power tool cleaning",
    "Sa 1": "light blast-cleaning",
    "Sa 2": "thorough blast-cleaning",
    "Sa 2½": "very thorough blast-cleaning; remaining traces only slight stains as spots or stripes",
    "Sa 3": "blast-cleaning to visually clean steel",
}
"""ISO 8501-1 preparation grades. From memory."""
BETTER = ("St 2", "Sa 1", "St 3", "Sa 2", "Sa 2½", "Sa 3")
"""Grades in the order of what they leave behind. Ours: St and Sa are looked at apart."""
