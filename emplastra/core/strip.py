"""Ways to bare a face: ranked with reasons for and against that come from what was found on it.

Rates, grades and profiles: common practice, no source.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from .abrasives import ANY_TOOTH, BETTER, TOOTH, GritError, Tooth, grit_plan
from .metal_rules import Metal
from .rules import Said, Verdict, judge, rule


@dataclass(frozen=True)
class Way:
    """A way to strip: m2/h on a flat face, grade it reaches, profile [µm], and what it does.

    kind: hand, power, blast, chemical, dip, heat; hard: media that warp thin skins; burnishes: leaves
    it polished; keys: leaves a key of its own; clean_min, waste_min [min/m2]; move_min: set-up, moving.
    """

    name: str
    kind: str
    m2_per_h: float
    grade: str
    profile_um: tuple[float, float]
    media: str = ""
    hard: bool = False
    burnishes: bool = False
    keys: bool = True
    lifts_filler: bool = True
    clean_min: float = 4.0
    waste_min: float = 3.0
    move_min: float = 5.0
    cautions: tuple[str, ...] = ()


_DUST = "Dust of old paint may hold lead: P3 mask, extraction, wet cleaning."
_BLAST = "Blasting: air-fed hood, no silica sand, nobody else in the room, hose and pressure checked."
_SOLVENT = "Stripper: gloves, goggles, fresh air, no flame; waste closed and handed in."
WAYS: dict[str, Way] = {
    "sander": Way("Dual-action sander, P80", "power", 1.2, "St 3", (15, 40), "P80", cautions=(_DUST,)),
    "disc-36": Way("Grinding disc, P36", "power", 2.0, "St 3", (40, 90), "P36", cautions=(_DUST, "Sparks: clear what burns; eyes, hands.")),
    "non-woven": Way("Non-woven disc", "power", 1.0, "St 3", (5, 20), "coarse", clean_min=4, cautions=(_DUST,)),
    "wire-wheel": Way("Wire wheel", "power", 1.6, "St 3", (2, 15), burnishes=True, keys=False, lifts_filler=False, cautions=(_DUST, "Wires fly: eyes, face, leather.")),
    "wire-brush": Way("Wire brush by hand", "hand", 0.45, "St 2", (2, 15), burnishes=True, keys=False, lifts_filler=False, cautions=(_DUST,)),
    "needle": Way("Needle scaler", "power", 0.5, "St 3", (30, 90), hard=True, cautions=(_DUST, "Noise and shaking hands: ear protection, pauses.")),
    "scrape": Way("Scraper", "hand", 0.8, "St 2", (0, 10), keys=False, waste_min=8, cautions=(_DUST,)),
    "walnut": Way("Blast, fine walnut shell", "blast", 2.5, "Sa 1", (0, 10), "60/200 mesh", keys=False, lifts_filler=False, clean_min=8, waste_min=6, move_min=60, cautions=(_BLAST,)),
    "plastic": Way("Blast, plastic media", "blast", 2.5, "Sa 1", (0, 12), "30/40 mesh", keys=False, lifts_filler=False, clean_min=8, waste_min=6, move_min=60, cautions=(_BLAST,)),
    "garnet": Way("Blast, garnet", "blast", 4.0, "Sa 2½", (40, 75), "80 mesh", hard=True, clean_min=8, waste_min=8, move_min=60, cautions=(_BLAST,)),
    "slag": Way("Blast, coarse slag", "blast", 5.0, "Sa 2½", (60, 100), "20/40 mesh", hard=True, clean_min=8, waste_min=8, move_min=60, cautions=(_BLAST,)),
    "chemical": Way("Paint stripper", "chemical", 0.6, "St 2", (0, 5), keys=False, lifts_filler=False, clean_min=10, waste_min=12, cautions=(_SOLVENT,)),
    "dip": Way("Acid dip, sent out", "dip", 8.0, "Sa 2½", (0, 10), keys=False, clean_min=4, waste_min=0, move_min=180, cautions=("Acid is the contractor’s; ask what is left on the part and in its laps.",)),
    "heat": Way("Hot air and scraper", "heat", 0.7, "St 2", (0, 5), keys=False, lifts_filler=False, waste_min=8, cautions=("Lead fume above 400 °C, fire: low heat, extraction, extinguisher at hand.", _DUST)),
}  # fmt: skip
"""Ways by key."""


def note_of(key: str) -> str:
    """How a plan's strip step says that it is done this way. Raises KeyError."""
    name = WAYS[key].name
    return f"by {name[:1].lower()}{name[1:]}"


def way_of(note: str) -> str:
    """Key of the way that a strip step's note names, "" if it names none."""
    return next((key for key in WAYS if note_of(key) == note), "")


KEY_MIN = 12.0
"""Keying what a way leaves smooth [min/m2]. Common practice, no source."""
FORM_SPEED = {"flat": 1.0, "frame": 0.6, "tube": 0.5}
"""How fast hand and power tools get on by form, as a share of flat."""
BLAST_FORM_SPEED = {"flat": 1.0, "frame": 0.85, "tube": 0.8}


@dataclass(frozen=True)
class Hours:
    """Hours to ready-for-primer, by what they go into."""

    strip: float
    key: float
    clean: float
    waste: float
    move: float

    @property
    def total(self) -> float:
        """All of them [h]."""
        return self.strip + self.key + self.clean + self.waste + self.move


@dataclass(frozen=True)
class Ranked:
    """A way on a zone: verdicts against it, reasons for it, hours, what it leaves."""

    key: str
    way: Way
    hours: Hours
    against: tuple[Verdict, ...]
    reasons: tuple[str, ...]

    @property
    def stopped(self) -> bool:
        """True if something stops it."""
        return any(v.severity == "stops" for v in self.against)

    @property
    def warns(self) -> int:
        """How many warnings there are."""
        return sum(v.severity == "warns" for v in self.against)


@dataclass(frozen=True)
class Try:
    """A way on a zone's metal, as rules look at it."""

    key: str
    way: Way
    metal: Metal
    tooth: Tooth


@dataclass(frozen=True)
class StripPlan:
    """What is done first, the ways in order, what the first coat wants, grits by hand, and what to record first."""

    first: tuple[str, ...]
    ranked: tuple[Ranked, ...]
    tooth: Tooth
    grits: tuple[str, ...]
    record: tuple[str, ...]


def hours_of(key: str, metal: Metal, area_m2: float, cut_share: float = 0.0) -> Hours:
    """Hours [h] to ready-for-primer on an area [m2], less the share that will be cut out: that is only scraped."""
    way = WAYS[key]
    area = area_m2 * (1.0 - cut_share)
    speed = (BLAST_FORM_SPEED if way.kind in {"blast", "dip"} else FORM_SPEED).get(metal.form, 1.0)
    layers = 1.0 + 0.25 * max(0, len(metal.rows("layer")) - 1)
    needs_key = not way.keys
    return Hours(
        area / (way.m2_per_h * speed) * layers,
        area * KEY_MIN / 60 if needs_key else 0.0,
        area * way.clean_min / 60,
        area * way.waste_min / 60,
        way.move_min / 60,
    )


def plan(
    metal: Metal, area_m2: float, about: str, schools: Mapping[str, str] | None = None, off: frozenset[str] = frozenset(), cut_share: float = 0.0
) -> StripPlan:  # fmt: skip
    """Ways to bare a zone: stopped ones last, then by warnings, then by hours to ready-for-primer, then by name."""
    tooth = TOOTH.get(metal.first_coat, ANY_TOOTH)
    found = []
    for key, way in WAYS.items():
        tried = Try(key, way, metal, tooth)
        against = judge("strip", tried, f"{about}/{key}", schools, off)
        found.append(Ranked(key, way, hours_of(key, metal, area_m2, cut_share), tuple(against), tuple(_reasons(tried))))
    found.sort(key=lambda r: (r.stopped, r.warns, round(r.hours.total, 6), r.way.name))
    return StripPlan(tuple(_first(metal, cut_share)), tuple(found), tooth, _grits(metal, tooth), tuple(_record(metal)))


def _first(metal: Metal, cut_share: float) -> Iterator[str]:
    """What comes before any of the ways."""
    if metal.choice("uncovered") in {"dirt", "out-of-reach"}:
        yield "Uncover and wash: nothing is judged or stripped under dirt."
    if any(a.choice == "compound" for a in metal.rows("layer")):
        yield "Scrape the thick compound off first, warm if need be: media bounce off it. Weigh and hand in the waste."
    if metal.choice("filler") in {"filler", "taped"}:
        yield "Grind or scrape the filler out first: soft media leave it standing."
    if metal.choice("solder") == "seam":
        yield "Solder: heat or file it out by itself, with lead precautions, before anything blows dust about."
    if metal.choice("wax") == "smears":
        yield "Take wax off with solvent first: it clogs grit and goes where media go."
    if cut_share > 0:
        yield f"Of what will be cut out ({cut_share:.0%}) scrape only enough to judge it."


def _record(metal: Metal) -> Iterator[str]:
    """What to stop for and record."""
    for topic, words in (("marks", "Stop and record"), ("sample", "Stop for the first colour")):
        found = metal.answers.get((topic, ""))
        if topic == "marks" and found and found.choice != "none":
            yield f"{words}: {found.text or found.sentence.split(': ', 1)[-1]}. Photograph and measure before and while it is stripped."
        if topic == "sample" and (found is None or found.choice == "not-yet"):
            yield f"{words}: a sheltered spot shows it; keep a sample."


def _grits(metal: Metal, tooth: Tooth) -> tuple[str, ...]:
    """Grits by hand from the strip to what the first coat wants, and for a finished skin down to what its film can bury."""
    first = "P36" if tooth.grit == "P36" else "P80"
    try:
        return tuple(grit_plan(first, tooth.grit))
    except GritError:
        return (tooth.grit,)


def _reasons(t: Try) -> Iterator[str]:
    """What speaks for a way."""
    low, high = t.way.profile_um
    if t.way.keys and low <= t.tooth.high_um and high >= t.tooth.low_um:
        yield f"leaves {low:.0f} to {high:.0f} µm; the first coat wants {t.tooth.low_um:.0f} to {t.tooth.high_um:.0f}"
    if BETTER.index(t.way.grade) >= BETTER.index(t.tooth.grade):
        yield f"reaches {t.way.grade}"
    if t.way.kind == "blast" and t.metal.part in {"casting", "box", "channel"}:
        yield "ribbed, boxed and cast parts suit blasting"
    if t.way.kind == "dip":
        yield "reaches every lap and cavity, and takes lead out of loaded joints"
    if t.key == "walnut" and t.metal.substrate in {"aluminium", "laminate"}:
        yield "gentle on aluminium and laminate"
    if t.key == "heat" and (t.metal.choice("solder") == "seam" or any(a.choice == "compound" for a in t.metal.rows("layer"))):  # fmt: skip
        yield "softens solder and thick compound"
    if t.key == "sander" and t.metal.part in {"skin", "door", "inner"}:
        yield "skins are stripped by hand: the sheet stays cold and flat"


@rule("blast-near", "strip", "stops", "No blasting with glass, engine or trim fitted")
def _blast_near(t: Try) -> Iterator[Said]:
    near = sorted(set(t.metal.choice("near").split("+")) & {"glass", "engine", "trim"})
    if t.way.kind == "blast" and near:
        yield Said(f"{', '.join(near).capitalize()} fitted: media get everywhere.", {"near": near})


@rule("fuel-near", "strip", "stops", "No spark or heat near fuel")
def _fuel_near(t: Try) -> Iterator[Said]:
    if "fuel" in t.metal.choice("near").split("+") and (t.way.kind == "heat" or t.key in {"disc-36", "wire-wheel"}):
        yield Said("Fuel near: no heat, no sparks.", {"near": "fuel"})


@rule("hard-on-skin", "strip", "stops", "Hard media warp flat skins")
def _hard_on_skin(t: Try) -> Iterator[Said]:
    thin = t.metal.thickness_mm < 2.0 and t.metal.part in {"skin", "inner", "door", "floor", "lip"}
    if t.way.hard and thin and t.metal.form == "flat":
        yield Said(
            f"Hard media warp a flat skin of {t.metal.thickness_mm:g} mm.",
            {"mm": t.metal.thickness_mm, "part": t.metal.part},
        )


@rule("soft-metal", "strip", "stops", "Hard and steel tools on soft metal and laminate")
def _soft_metal(t: Try) -> Iterator[Said]:
    if t.metal.substrate == "laminate" and (
        t.way.hard or t.key in {"wire-wheel", "wire-brush", "disc-36", "heat", "dip"}
    ):
        yield Said("Laminate: strands are cut and soaked; not with this.", {"substrate": "laminate"})
    elif t.metal.substrate in {"aluminium", "zinc"} and t.key in {"wire-wheel", "wire-brush", "needle", "slag", "dip"}:
        yield Said(
            f"Steel and hard media on {t.metal.substrate} leave rust and dents; acid eats it.",
            {"substrate": t.metal.substrate},
        )


@rule("raw-laminate", "strip", "stops", "Raw inner laminate by hand only")
def _raw_laminate(t: Try) -> Iterator[Said]:
    if t.metal.substrate == "laminate" and t.metal.part == "inner" and t.way.kind in {"blast", "power"}:
        yield Said(
            "Raw inner laminate is tender: by hand, a test patch first, stop when strands show.", {"part": "inner"}
        )


@rule("cuts-laminate", "strip", "warns", "Tools cut into laminate, stripper soaks in")
def _cuts_laminate(t: Try) -> Iterator[Said]:
    if t.metal.substrate != "laminate" or t.metal.part == "inner":
        return
    if t.key in {"sander", "non-woven", "scrape"}:
        yield Said(
            "Cuts through the outer skin of a laminate before it is seen: slow, and stop when strands show.",
            {"way": t.key},
        )
    elif t.key == "chemical":
        yield Said("Stripper soaks into laminate: by hand, a little at a time, with care.", {"way": t.key})


@rule("thick-compound", "strip", "warns", "Thick compound is scraped first")
def _thick(t: Try) -> Iterator[Said]:
    if (
        any(a.choice == "compound" for a in t.metal.rows("layer"))
        and t.way.kind in {"blast", "power"}
        and t.key != "scrape"
    ):
        yield Said("Media and discs bounce off and clog in thick compound: scrape it first.", {"layer": "compound"})


@rule("leaves-filler", "strip", "warns", "Soft media leave filler and high-build")
def _leaves_filler(t: Try) -> Iterator[Said]:
    if not t.way.lifts_filler and t.metal.choice("filler") in {"filler", "taped"}:
        yield Said("Lifts paint, not filler: that comes off by hand.", {"filler": t.metal.choice("filler")})


@rule("burnishes", "strip", "warns", "Wire burnishes", school=("burnish", "key-first"))
def _burnishes(t: Try) -> Iterator[Said]:
    if t.way.burnishes:
        yield Said("Polishes the metal: it has to be keyed by hand before it is coated.", {"way": t.key})


@rule("profile", "strip", "warns", "The profile that the first coat wants")
def _profile(t: Try) -> Iterator[Said]:
    low, high = t.way.profile_um
    used = {"way": t.key, "wants": [t.tooth.low_um, t.tooth.high_um]}
    if t.metal.substrate == "laminate":
        return
    if t.way.kind in {"blast", "dip", "chemical"} and high < t.tooth.low_um:
        yield Said(f"Leaves {high:.0f} µm at most; the first coat wants {t.tooth.low_um:.0f}: key it.", used)
    elif low > t.tooth.high_um:
        yield Said(f"Leaves {low:.0f} µm and more; the first coat fills {t.tooth.high_um:.0f}.", used)


@rule("grade", "strip", "warns", "The grade that the first coat wants", "ISO 8501-1 grades from memory")
def _grade(t: Try) -> Iterator[Said]:
    if (
        t.metal.substrate != "laminate"
        and t.way.grade not in {"Sa 1"}
        and BETTER.index(t.way.grade) < BETTER.index(t.tooth.grade)
    ):
        yield Said(
            f"Reaches {t.way.grade}; the first coat asks for {t.tooth.grade}.", {"way": t.key, "wants": t.tooth.grade}
        )


@rule("soft-rust", "strip", "warns", "Soft media leave rust")
def _soft_rust(t: Try) -> Iterator[Said]:
    if t.key in {"walnut", "plastic", "chemical"} and t.metal.choice("rust") in {"C", "D"}:
        yield Said(
            "Takes paint off, not rust: what is rusted is done again by another way.", {"rust": t.metal.choice("rust")}
        )


@rule("coarse-skin", "strip", "warns", "P36 is too coarse for a skin that will be seen")
def _coarse_skin(t: Try) -> Iterator[Said]:
    if t.key == "disc-36" and t.metal.finish == "show" and t.tooth.grit != "P36":
        yield Said("36 grit is too coarse for a skin that will be seen; 80 does it.", {"finish": t.metal.finish})


@rule("dip-loaded", "strip", "warns", "A dip takes lead out and stays in laps")
def _dip(t: Try) -> Iterator[Said]:
    if t.way.kind == "dip" and (t.metal.choice("solder") == "seam" or t.metal.boxed):
        yield Said(
            "Takes lead out of loaded joints, loosens bonded seams, stays in laps and boxes.",
            {"solder": t.metal.choice("solder")},
        )


@rule("heat-skin", "strip", "warns", "Heat warps skins and fumes lead")
def _heat(t: Try) -> Iterator[Said]:
    if t.way.kind == "heat" and t.metal.part in {"skin", "door"} and t.metal.choice("solder") != "seam":
        yield Said("Heat warps a skin; it is for solder and thick compound.", {"part": t.metal.part})


@rule("lead-dust", "strip", "warns", "Loaded seams are not ground dry")
def _lead(t: Try) -> Iterator[Said]:
    if t.metal.choice("solder") in {"seam", "suspected"} and t.key in {"sander", "disc-36", "wire-wheel", "non-woven"}:
        yield Said(
            "A loaded seam is not ground dry: file it, or mask it and do it apart.",
            {"solder": t.metal.choice("solder")},
        )
