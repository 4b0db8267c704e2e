"""The published table of step kinds: what each leaves, starts and owes."""

from dataclasses import dataclass

from ..product.kinds import ProductKind
from ..words import celsius_q
from .names import Runs, StepKind

STAGES = ("Survey", "Strip", "Metal", "Prime", "Fill", "Surface", "Colour", "Protect", "Record")
"""The route, in the order of the work."""


@dataclass(frozen=True)
class StepTraits:
    """What a kind of step is.

    stage: None where it takes that of the next layer step (or the previous if there is none).
    entry: the kind of entry that records it; act: the act whose window the layer under it has to give;
    said: its button, where its name is no verb.
    """

    name: str
    stage: str | None
    leaves_film: bool = False
    products: tuple[str, ...] = ()
    clocks: tuple[Runs, ...] = ()
    cautions: tuple[str, ...] = ()
    entry: str = "done"
    act: str = ""
    said: str = ""

    @property
    def verb(self) -> str:
        """What a button says that leads to it."""
        return self.said or self.name


_COAT_CLOCKS = (Runs.WET, Runs.FLASH, Runs.RECOAT)
_DUST = ("Wear a P3 mask: dust of old paint may hold lead. Test it first; extract and clean up wet.",)
_SOLVENT = ("Solvent: gloves, fresh air, no flame or spark; used rags in a closed metal bin.",)


def _coat(name: str, stage: str, *products: str) -> StepTraits:
    return StepTraits(name, stage, True, products, _COAT_CLOCKS, (), "coat")


STEPS: dict[str, StepTraits] = {
    StepKind.SURVEY: StepTraits("Survey", "Survey"),
    StepKind.UNCOVER: StepTraits("Uncover and wash", "Survey"),
    StepKind.STRIP: StepTraits("Strip", "Strip", clocks=(Runs.BARE,), cautions=_DUST, entry="bared"),
    StepKind.REPAIR: StepTraits("Repair", "Strip"),
    StepKind.WELD: StepTraits(
        "Weld",
        "Strip",
        clocks=(Runs.BARE,),
        cautions=("Fire and zinc fume: clear what burns, extract, keep a fire watch. Shield eyes and skin.",),
        entry="film-lost",
        act="weld",
    ),
    StepKind.CLEAN: StepTraits(
        "Clean", "Metal", products=(ProductKind.CLEANER,), cautions=("Alkaline: goggles, gloves; never with acid.",)
    ),
    StepKind.DEGREASE: StepTraits(
        "Degrease",
        None,
        products=(ProductKind.PANEL_WIPE,),
        clocks=(Runs.DEGREASED,),
        cautions=_SOLVENT,
        entry="degreased",
    ),
    StepKind.ABRADE: StepTraits("Abrade", None, clocks=(Runs.KEYED,), cautions=_DUST, entry="keyed"),
    StepKind.ACID_PREP: StepTraits(
        "Acid prep",
        "Metal",
        products=(ProductKind.ACID_PREP,),
        clocks=(Runs.KEEP_WET,),
        cautions=("Acid: goggles, gloves, water at hand; never mix with alkali.",),
        entry="prepped",
        said="Put the acid on",
    ),
    StepKind.RINSE: StepTraits("Rinse", "Metal", clocks=(Runs.DRY_OFF,), entry="rinsed"),
    StepKind.DRY: StepTraits("Dry", None, clocks=(Runs.DRY_OFF,), entry="dried"),
    StepKind.CONVERT: StepTraits(
        "Convert", "Metal", True, (ProductKind.CONVERTER, ProductKind.CONVERTING_PRIMER), _COAT_CLOCKS, (), "coat"
    ),
    StepKind.PRIME: _coat(
        "Prime",
        "Prime",
        ProductKind.EPOXY_PRIMER,
        ProductKind.EPOXY_MASTIC,
        ProductKind.WASH_PRIMER,
        ProductKind.WELD_THROUGH_PRIMER,
        ProductKind.ZINC_RICH_PRIMER,
        ProductKind.ONE_K_PRIMER,
        ProductKind.CONVERTING_PRIMER,
        ProductKind.FLAKE_URETHANE,
    ),
    StepKind.ENCAPSULATE: _coat("Encapsulate", "Prime", ProductKind.ENCAPSULATOR),
    StepKind.POWDER: _coat("Powder-coat", "Prime", ProductKind.POWDER),
    StepKind.STRIPE: _coat(
        "Stripe coat",
        "Prime",
        ProductKind.EPOXY_PRIMER,
        ProductKind.EPOXY_MASTIC,
        ProductKind.ENCAPSULATOR,
        ProductKind.FLAKE_URETHANE,
        ProductKind.ENAMEL,
    ),
    StepKind.SOLDER: StepTraits(
        "Solder",
        "Fill",
        True,
        (ProductKind.BODY_SOLDER,),
        (Runs.COOL,),
        ("Lead: file, do not grind dry; flameless heat if you can, extraction, clean hands.",),
    ),
    StepKind.SEAM_SEAL: _coat("Seam-seal", "Surface", ProductKind.SEAM_SEALER),
    StepKind.FILL: _coat(
        "Fill",
        "Fill",
        ProductKind.BODY_FILLER,
        ProductKind.FIBRE_FILLER,
        ProductKind.FINE_FILLER,
        ProductKind.SPRAYABLE_FILLER,
    ),
    StepKind.GUIDE_COAT: StepTraits(
        "Guide coat", None, products=(ProductKind.GUIDE_COAT,), said="Dust the guide coat on"
    ),
    StepKind.BLOCK: StepTraits("Block", None, clocks=(Runs.KEYED,), cautions=_DUST, entry="keyed"),
    StepKind.SURFACE: _coat("Surface", "Surface", ProductKind.TWO_PACK_SURFACER, ProductKind.ONE_K_PRIMER),
    StepKind.SEAL: _coat("Seal", "Surface", ProductKind.SEALER, ProductKind.EPOXY_PRIMER),
    StepKind.INK_OFF: StepTraits(
        "Ink off", None, products=(ProductKind.PANEL_WIPE,), cautions=_SOLVENT, said="Take the ink off"
    ),
    StepKind.MASK: StepTraits("Mask", None, clocks=(Runs.TAPE,), entry="masked", act="mask"),
    StepKind.BASE: _coat("Base coat", "Colour", ProductKind.BASE_COAT),
    StepKind.MID: _coat("Mid-coat", "Colour", ProductKind.MID_COAT),
    StepKind.CLEAR: _coat("Clear coat", "Colour", ProductKind.CLEAR_COAT),
    StepKind.SINGLE_STAGE: _coat("Single-stage colour", "Colour", ProductKind.SINGLE_STAGE, ProductKind.ENAMEL),
    StepKind.TEXTURE: _coat(
        "Texture", "Protect", ProductKind.CHIP_COAT, ProductKind.TEXTURED_COATING, ProductKind.UNDERBODY_COAT
    ),
    StepKind.WAX: _coat("Wax", "Protect", ProductKind.CAVITY_WAX),
    StepKind.FORCE_DRY: StepTraits("Force-dry", None, entry="heated"),
    StepKind.POLISH: StepTraits("Polish", "Protect"),
    StepKind.CONTRACTOR: StepTraits("Contractor", None, entry="away", act="pack", said="Send it away"),
    StepKind.TRIAL_FIT: StepTraits("Trial fit", None, entry="access", act="fit", said="Fit it on trial"),
    StepKind.CLOSE: StepTraits("Close", "Protect", entry="access", act="close"),
    StepKind.INSPECT: StepTraits("Inspect", None, entry="inspected", said="Look it through"),
}

CAUTIONS = {
    "isocyanate": "Isocyanates: air-fed mask, gloves, no skin; never spray with a filter mask alone.",
    "sensitiser": "Sensitising: gloves, eyes, fresh air.",
    "solvent": "Solvent: fresh air, no flame or spark.",
    "acid": "Acid: goggles, gloves, water at hand.",
    "zinc": "Zinc: no welding near without extraction.",
    "lead": "Lead: no dry sanding, wash hands.",
    "chlorinated": "Chlorinated: no weld, flame or hot metal near it or its vapour, they make phosgene of it.",
    "caustic": "Caustic: goggles, gloves, water at hand; it eats aluminium and zinc.",
    "hydrofluoric": "Hydrofluoric acid burns deep and late: only those trained for it, calcium gel at hand.",
    "pressure": f"Can under pressure: below {celsius_q(50)}, never pierce.",
}
RAISED = (
    "Under a raised piece: stands on firm ground, wheels chocked, shake it before you lie down; never under "
    "a jack or hoist alone."
)
"""Owed by every step on a face that is worked on from below."""
DEFER = "The data sheet, local codes and licensed practice come first."


def stage_of(kinds: list[str], first_undone: int | None) -> str:
    """Stage of a zone whose steps have these kinds, from the index of its first undone step.

    None left: Record. A kind without a stage of its own takes that of the next layer step after
    it, or of the previous one if there is none; before any layer the metal work counts as Metal.
    """
    if first_undone is None:
        return "Record"
    kind = STEPS[kinds[first_undone]]
    if kind.stage:
        return kind.stage
    before, after = _layers(kinds[:first_undone]), _layers(kinds[first_undone + 1 :])
    if not before:
        return "Strip" if kinds[first_undone] in {StepKind.CONTRACTOR, StepKind.TRIAL_FIT} else "Metal"
    return STEPS[after[0] if after else before[-1]].stage or "Record"


def _layers(kinds: list[str]) -> list[str]:
    return [kind for kind in kinds if STEPS[kind].leaves_film]
