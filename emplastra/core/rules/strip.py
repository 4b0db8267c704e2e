"""Rules against ways to bare a face. Common practice, no source, but where one is named."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from ..metal import harm
from ..metal.known import Metal
from ..metal.strip import WAYS, StripPlan, Way, WayKind, fits, rank, tooth_for
from ..product.abrasives import BETTER, Tooth
from ..words import film_q, length_q
from .registry import Aspect, Said, judge_each, rule


@dataclass(frozen=True)
class Try:
    """A way on a zone's metal, as rules look at it."""

    key: str
    way: Way
    metal: Metal
    tooth: Tooth


def plan(
    metal: Metal,
    area_m2: float,
    about: str,
    schools: Mapping[str, str] | None = None,
    off: frozenset[str] = frozenset(),
    cut_share: float = 0.0,
) -> StripPlan:
    """Ways to bare an area [m2], ranked by what the rules say against them and by hours."""
    tooth = tooth_for(metal)
    against = {
        key: judge_each("way", Try(key, way, metal, tooth), f"{about}/{key}", schools, off) for key, way in WAYS.items()
    }
    return rank(metal, area_m2, against, cut_share)


def stops(metal: Metal, key: str) -> list[str]:
    """What stops a way on a zone's metal, but for the dust that it makes: that is said of every act."""
    found = judge_each("way", Try(key, WAYS[key], metal, tooth_for(metal)), key)
    return [v.sentence for v in found if v.severity == "stops" and v.rule != "harmful"]


@rule("harmful", Aspect.WAY, "stops", "No dust of what harms", "way", harm=True)
def _harmful(t: Try) -> Iterator[Said]:
    layers = () if t.metal.stripped else (row.choice for row in t.metal.rows("layer"))
    said = harm.against(t.key, harm.held_by(layers, t.metal.choice("toxic")))
    if said:
        yield Said(said)


@rule("blast-near", Aspect.WAY, "stops", "No blasting with glass, engine or trim fitted", "way")
def _blast_near(t: Try) -> Iterator[Said]:
    near = sorted(set(t.metal.choice("near").split("+")) & {"glass", "engine", "trim"})
    if t.way.kind == WayKind.BLAST and near:
        yield Said(f"{', '.join(near).capitalize()} fitted: media get everywhere.")


@rule("fuel-near", Aspect.WAY, "stops", "No spark or heat near fuel", "way")
def _fuel_near(t: Try) -> Iterator[Said]:
    if "fuel" in t.metal.choice("near").split("+") and (
        t.way.kind == WayKind.HEAT or t.key in {"disc-36", "wire-wheel"}
    ):
        yield Said("Fuel near: no heat, no sparks.")


@rule("hard-on-skin", Aspect.WAY, "stops", "Hard media warp flat skins", "way")
def _hard_on_skin(t: Try) -> Iterator[Said]:
    thin = t.metal.thickness_mm < 2.0 and t.metal.part in {"skin", "inner", "door", "floor", "lip"}
    if t.way.hard and thin and t.metal.form == "flat":
        yield Said(f"Hard media warp a flat skin of {length_q(t.metal.thickness_mm)}.")


@rule("soft-metal", Aspect.WAY, "stops", "Hard and steel tools on soft metal and laminate", "way")
def _soft_metal(t: Try) -> Iterator[Said]:
    if t.metal.substrate == "laminate" and (
        t.way.hard or t.key in {"wire-wheel", "wire-brush", "disc-36", "heat", "dip"}
    ):
        yield Said("Laminate: strands are cut and soaked; not with this.")
    elif t.metal.substrate in {"aluminium", "zinc"} and t.key in {"wire-wheel", "wire-brush", "needle", "slag", "dip"}:
        yield Said(f"Steel and hard media on {t.metal.substrate} leave rust and dents; acid eats it.")


@rule("raw-laminate", Aspect.WAY, "stops", "Raw inner laminate by hand only", "way")
def _raw_laminate(t: Try) -> Iterator[Said]:
    if t.metal.substrate == "laminate" and t.metal.part == "inner" and t.way.kind in {WayKind.BLAST, WayKind.POWER}:
        yield Said("Raw inner laminate is tender: by hand, a test patch first, stop when strands show.")


@rule("soaks-in", Aspect.WAY, "stops", "No stripper flooded on raw laminate", "way")
def _soaks_in(t: Try) -> Iterator[Said]:
    raw = t.metal.part == "inner" or t.metal.stripped or t.metal.choice("laminate") not in {"", "none", "repair"}
    if t.metal.substrate == "laminate" and t.key == "chemical" and raw:
        yield Said("Stripper soaks into raw laminate and stays: a pad and thinner by hand, a test patch first.")


@rule("caustic-stripper", Aspect.WAY, "warns", "A stripper that takes light metals", "way")
def _caustic_stripper(t: Try) -> Iterator[Said]:
    if t.key == "chemical" and t.metal.substrate in {"aluminium", "zinc"}:
        yield Said(f"Caustic strippers eat {t.metal.substrate}: only one whose sheet names it.")


@rule("acid-springs", Aspect.WAY, "stops", "No acid on springs and hardened bolts", "way", harm=True)
def _acid_springs(t: Try) -> Iterator[Said]:
    if t.way.kind == WayKind.DIP and "springs" in t.metal.choice("near").split("+"):
        yield Said("Acid makes springs and hardened bolts brittle: out first.")


@rule("tank-sparks", Aspect.WAY, "stops", "No spark or heat on a tank that held fuel", "way", harm=True)
def _tank_sparks(t: Try) -> Iterator[Said]:
    explodes = harm.may_explode(t.metal.choice("held"), t.metal.part)
    if explodes and t.way.kind in {WayKind.POWER, WayKind.HEAT}:
        yield Said("What it held is not told, or it was only emptied: no spark, no heat before it is cleaned.")


@rule("cuts-laminate", Aspect.WAY, "warns", "Tools cut into laminate, stripper soaks in", "way")
def _cuts_laminate(t: Try) -> Iterator[Said]:
    if t.metal.substrate != "laminate" or t.metal.part == "inner":
        return
    if t.key in {"sander", "non-woven", "scrape"}:
        yield Said("Cuts through the outer skin of a laminate before it is seen: slow, and stop when strands show.")
    elif t.key == "chemical":
        yield Said("Stripper soaks into laminate: by hand, a little at a time, with care.")


@rule("thick-compound", Aspect.WAY, "warns", "Thick compound is scraped first", "way")
def _thick(t: Try) -> Iterator[Said]:
    if (
        any(a.choice == "compound" for a in t.metal.rows("layer"))
        and t.way.kind in {WayKind.BLAST, WayKind.POWER}
        and t.key != "scrape"
    ):
        yield Said("Media and discs bounce off and clog in thick compound: scrape it first.")


@rule("leaves-filler", Aspect.WAY, "warns", "Soft media leave filler and high-build", "way")
def _leaves_filler(t: Try) -> Iterator[Said]:
    if not t.way.lifts_filler and t.metal.choice("filler") in {"filler", "taped"}:
        yield Said("Lifts paint, not filler: that comes off by hand.")


@rule("burnishes", Aspect.WAY, "warns", "Wire burnishes", "way", school=("burnish", "key-first"))
def _burnishes(t: Try) -> Iterator[Said]:
    if t.way.burnishes:
        yield Said("Polishes the metal: it has to be keyed by hand before it is coated.")


@rule("profile", Aspect.WAY, "warns", "The profile that the first coat wants", "way")
def _profile(t: Try) -> Iterator[Said]:
    if t.metal.substrate == "laminate" or t.way.burnishes or fits(t.way, t.tooth):
        return
    low, high = t.way.profile_um
    wants = film_q(t.tooth.low_um, t.tooth.high_um, unit=False)
    what = ": key it" if low + high < 2 * t.tooth.low_um else ", and fills no more"
    yield Said(f"Leaves {film_q(low, high)}; the first coat wants {wants}{what}.")


@rule("grade", Aspect.WAY, "warns", "The grade that the first coat wants", "way", "ISO 8501-1 grades from memory")
def _grade(t: Try) -> Iterator[Said]:
    if t.tooth.grade and t.way.grade not in {"Sa 1"} and BETTER.index(t.way.grade) < BETTER.index(t.tooth.grade):
        yield Said(f"Reaches {t.way.grade}; the first coat asks for {t.tooth.grade}.")


@rule("soft-rust", Aspect.WAY, "warns", "Soft media leave rust", "way")
def _soft_rust(t: Try) -> Iterator[Said]:
    if t.key in {"walnut", "plastic", "chemical"} and t.metal.choice("rust") in {"C", "D"}:
        yield Said("Takes paint off, not rust: what is rusted is done again by another way.")


@rule("coarse-skin", Aspect.WAY, "warns", "P36 is too coarse for a skin that will be seen", "way")
def _coarse_skin(t: Try) -> Iterator[Said]:
    if t.key == "disc-36" and t.metal.finish == "show" and t.tooth.grit != "P36":
        yield Said("36 grit is too coarse for a skin that will be seen; 80 does it.")


@rule("dip-loaded", Aspect.WAY, "warns", "A dip takes lead out of its joints", "way", school=("solder", "stays"))
def _dip_loaded(t: Try) -> Iterator[Said]:
    if t.way.kind == WayKind.DIP and t.metal.choice("solder") == "seam":
        yield Said("Takes lead out of loaded joints, and here solder stays.")


@rule("dip-boxed", Aspect.WAY, "warns", "Acid stays in laps and boxes", "way")
def _dip_boxed(t: Try) -> Iterator[Said]:
    if t.way.kind == WayKind.DIP and t.metal.boxed:
        yield Said("Acid stays in laps and boxes and loosens bonded seams: rinsed, neutralised and dried from inside.")


@rule("heat-skin", Aspect.WAY, "warns", "Heat warps skins and fumes lead", "way")
def _heat(t: Try) -> Iterator[Said]:
    if t.way.kind == WayKind.HEAT and t.metal.part in {"skin", "door"} and t.metal.choice("solder") != "seam":
        yield Said("Heat warps a skin; it is for solder and thick compound.")


@rule("lead-dust", Aspect.WAY, "warns", "Loaded seams are not ground dry", "way")
def _lead(t: Try) -> Iterator[Said]:
    if t.metal.choice("solder") in {"seam", "suspected"} and t.key in {"sander", "disc-36", "wire-wheel", "non-woven"}:
        yield Said("A loaded seam is not ground dry: file it, or mask it and do it apart.")
