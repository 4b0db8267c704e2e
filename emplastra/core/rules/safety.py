"""Rules about what hurts somebody: parts that must hold, dust, fire, fumes, acid, ovens, faces that must stay bare.

Common practice, no source; data sheets, local codes and licensed practice come first.
"""

from collections.abc import Iterator

from ..air.heat import FIRE, too_hot_for
from ..metal import harm
from ..metal.strip import WAYS, WayKind
from ..surface.names import StepKind
from ..words import celsius_q
from .face import COATS, SANDS
from .findings import COVERS, THIN_UNDER_LOAD
from .registry import Aspect, Said, rule
from .seen import Case

HOT = frozenset({StepKind.WELD, StepKind.SOLDER})
"""Work with flame, arc or hot metal."""
OVEN = f"Powder is cured in an oven at {celsius_q(180, 200)}"
SPARKS = frozenset(key for key, way in WAYS.items() if way.kind in {WayKind.POWER, WayKind.HEAT})
"""Ways of stripping that heat or spark; grinding is hot work."""
ACIDS = frozenset({StepKind.ACID_PREP, StepKind.CONVERT})
STAYS_BARE = {
    "seats": "wheel seats and clamped faces, where film lets joints loosen",
    "bearings": "bearings and threads",
    "brake": "brake faces",
    "earth": "earth faces",
}
"""What is told to stay bare -> how it is called."""
UNDER_LOAD = {"load": "Load-carrying", "brake": "A brake part", "pressure": "Under pressure"}


def _is_hot(c: Case) -> bool:
    """True for hot work: a weld, a flame, a way of stripping that sparks."""
    return c.act.raw.kind in HOT or (c.act.raw.kind == StepKind.STRIP and c.act.way in SPARKS)


@rule(
    "inspection",
    Aspect.SAFETY,
    "stops",
    "A part under load that has changed: qualified inspection",
    kinds=COVERS,
    harm=True,
)
def _inspection(c: Case) -> Iterator[Said]:
    if c.face.duty and (c.face.lost_share >= THIN_UNDER_LOAD - 1e-9 or c.face.changed):
        yield Said(f"{UNDER_LOAD[c.face.duty]}, and it has changed: qualified inspection. No coating verdict.")


@rule(
    "soundness-first",
    Aspect.SAFETY,
    "warns",
    "A part under load: soundness first",
    kinds=COVERS,
    fix="inspect",
    harm=True,
)
def _soundness(c: Case) -> Iterator[Said]:
    if c.face.duty and c.face.part != "tube" and not c.face.coated and not c.face.inspected:
        yield Said("Soundness comes before any coat: qualified inspection of load-carrying, brake and pressure parts.")


@rule(
    "harmful-dust",
    Aspect.SAFETY,
    "stops",
    "No dust of what harms",
    kinds={StepKind.STRIP, *SANDS},
    fix="test",
    harm=True,
)
def _harmful_dust(c: Case) -> Iterator[Said]:
    if c.face.holds_harm and (c.act.raw.kind == StepKind.STRIP or c.face.as_found):
        held = dict(c.face.holds_harm)
        said = harm.against(c.act.dusty_way, held)
        if said:
            yield Said(said, fix="ways" if any(held.values()) else "")


@rule(
    "lagging",
    Aspect.SAFETY,
    "stops",
    "Old insulation, gaskets and linings are left alone until a laboratory says no",
    kinds={StepKind.STRIP, *SANDS, *HOT},
    fix="test",
    harm=True,
)
def _lagging(c: Case) -> Iterator[Said]:
    if "lagging" in c.face.nearby and "none" not in c.face.tested.split("+"):
        yield Said(
            "Old insulation, gaskets or linings may hold asbestos: nothing touches them before a laboratory says no."
        )


@rule(
    "way-harms",
    Aspect.METAL,
    "stops",
    "A way of stripping that harms what it strips",
    kinds={StepKind.STRIP},
    fix="ways",
)
def _way_harms(c: Case) -> Iterator[Said]:
    for sentence in c.face.way_stops.splitlines():
        yield Said(f"{WAYS[c.act.way].name}: {sentence[:1].lower()}{sentence[1:]}", about=sentence)


@rule(
    "heat-near",
    Aspect.SAFETY,
    "stops",
    "Fuel, glass, wiring, bushes and trim near heat",
    kinds=HOT,
    fix="near",
    harm=True,
)
def _heat_near(c: Case) -> Iterator[Said]:
    near = c.face.nearby & {"fuel", "wiring", "trim", "glass", "bushes"}
    if near:
        yield Said(
            f"Heat near {', '.join(sorted(near))}: out or shielded first.", "stops" if "fuel" in near else "warns"
        )


@rule("wax-burns", Aspect.SAFETY, "stops", "Wax burns near a weld", "finding", kinds=HOT, fix="wax-off", harm=True)
def _wax_burns(c: Case) -> Iterator[Said]:
    if c.of_finding.topic == "wax" and c.of_finding.choice == "smears":
        yield Said("Wax burns and runs into the weld: take it off and keep a fire watch.")


@rule(
    "hot-beside-wax", Aspect.SAFETY, "stops", "No hot work with wax on the far side", kinds=HOT, harm=True, fix="access"
)
def _hot_beside_wax(c: Case) -> Iterator[Said]:
    if c.face.waxed_beside:
        yield Said(
            f"Wax on {', '.join(c.face.waxed_beside)}, beside or behind it: it burns and runs. Off first; wax last."
        )


@rule("hot-on-wax", Aspect.SAFETY, "stops", "No hot work on wax or a sealer", "ground", kinds=HOT, harm=True)
def _hot_on_wax(c: Case) -> Iterator[Said]:
    if c.on_ground.what == "wax":
        yield Said("Wax lies on it: it burns and runs. Weld first, wax last; this wax comes off.", fix="wax-off")
    elif c.on_ground.what in {"seam sealer", "bitumen"}:
        yield Said(
            f"{c.on_ground.what.capitalize()} lies on it and burns: scrape it off, wider than the heat goes.",
            fix="ways",
        )


@rule(
    "phosgene",
    Aspect.SAFETY,
    "stops",
    "No chlorinated cleaner before hot work",
    "ground",
    harm=True,
    kinds={*HOT, StepKind.STRIP, StepKind.POWDER},
    fix="wipe",
)
def _phosgene(c: Case) -> Iterator[Said]:
    if c.on_ground.vapour and (_is_hot(c) or c.act.raw.kind == StepKind.POWDER):
        yield Said(
            f"It was wiped with {c.on_ground.vapour}, which is chlorinated: heat makes phosgene of what is left in "
            "laps. Wipe it with another cleaner, blow every lap out, air it."
        )


@rule(
    "emptied-tank",
    Aspect.SAFETY,
    "stops",
    "No hot work or grinding on a tank that held fuel",
    harm=True,
    kinds={*HOT, StepKind.STRIP, StepKind.POWDER, *SANDS},
)
def _emptied_tank(c: Case) -> Iterator[Said]:
    held = c.face.held
    if not harm.may_explode(held, c.face.part):
        return
    asked = "An emptied tank explodes" if held else "Nobody has told what it held; an emptied tank explodes"
    if _is_hot(c) or c.act.raw.kind == StepKind.POWDER:
        yield Said(f"{asked}: no spark, no heat before those licensed for it have cleaned it and said so.", fix="held")
    elif c.act.raw.kind in SANDS:
        yield Said(f"{asked}: by hand and wet, no machine, before it is cleaned by those licensed.", "warns", "held")


@rule("hydrogen", Aspect.SAFETY, "stops", "No acid on springs and hardened bolts", kinds=ACIDS, fix="near", harm=True)
def _hydrogen(c: Case) -> Iterator[Said]:
    if "springs" in c.face.nearby:
        yield Said("Acid makes springs and hardened bolts brittle: out first, or blast and prime them without acid.")


@rule(
    "caustic",
    Aspect.SAFETY,
    "stops",
    "No caustic cleaner on aluminium or zinc",
    kinds={StepKind.DEGREASE, StepKind.CLEAN},
    fix="product",
)
def _caustic(c: Case) -> Iterator[Said]:
    sheet = c.act.sheet
    if sheet is None or "caustic" not in sheet.hazards or c.face.substrate not in {"aluminium", "zinc"}:
        return
    if c.face.substrate not in sheet.substrates:
        yield Said(f"{c.act.product} is caustic and eats {c.face.substrate}: a neutral cleaner, or one that names it.")


@rule("oven", Aspect.SAFETY, "stops", "Nothing soft goes into an oven", kinds={StepKind.POWDER}, fix="near", harm=True)
def _oven(c: Case) -> Iterator[Said]:
    soft = c.face.nearby & {"fuel", "wiring", "trim", "bushes"}
    soft |= set(c.face.melts.split("+")) - {""}
    if soft:
        yield Said(f"{OVEN}. Out or off before it: {', '.join(sorted(soft))}; powder comes before anything soft.")


@rule(
    "heat-bears",
    Aspect.SAFETY,
    "warns",
    "Nothing near or on it is made hotter than it bears",
    kinds={StepKind.FORCE_DRY},
    fix="near",
    harm=True,
)
def _heat_bears(c: Case) -> Iterator[Said]:
    near = c.face.nearby | ({"laminate"} if c.face.substrate == "laminate" else set())
    near |= {"solder"} if "solder" in c.face.melts.split("+") else set()
    for said in too_hot_for(near, c.act.metal_c):
        yield Said(said, "stops" if said == FIRE else "warns", about=said)


@rule("heat-on-soft", Aspect.SAFETY, "warns", "Wax and sealer bear little heat", "ground", kinds={StepKind.FORCE_DRY})
def _heat_on_soft(c: Case) -> Iterator[Said]:
    for said in too_hot_for({c.on_ground.what}, c.act.metal_c):
        wax = c.on_ground.what == "wax"
        yield Said(said, "stops" if wax else "warns", fix="wax-off" if wax else "")


@rule("outgas", Aspect.METAL, "warns", "Castings outgas in an oven", kinds={StepKind.POWDER})
def _outgas(c: Case) -> Iterator[Said]:
    if c.face.part == "casting":
        yield Said(f"{OVEN}: a casting outgases and blisters it; bake it bare first, hotter than the powder.")
    if c.face.substrate == "aluminium" and c.face.duty:
        yield Said(
            f"{OVEN}: heat-treated aluminium that carries a load loses strength; only if its maker allows it.",
            "stops",
            about="alloy",
        )


@rule("stays-bare", Aspect.SAFETY, "stops", "Faces that must stay bare are masked", kinds=COATS, fix="mask", harm=True)
def _stays_bare(c: Case) -> Iterator[Said]:
    bare = [STAYS_BARE[key] for key in c.face.stays.split("+") if key in STAYS_BARE]
    if bare and not c.face.masked:
        yield Said(f"These stay bare: {'; '.join(bare)}. Mask them before it, unless their maker allows a film.")
