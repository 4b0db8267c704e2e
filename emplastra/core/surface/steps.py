"""The published table of step kinds: what each leaves, starts and owes."""

from dataclasses import dataclass

from ..words import celsius_q
from .names import Runs

STAGES = ("Survey", "Strip", "Metal", "Prime", "Fill", "Surface", "Colour", "Protect", "Record")
"""The route, in the order of the work."""


@dataclass(frozen=True)
class StepKind:
    """A kind of step.

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


def _coat(name: str, stage: str, *products: str) -> StepKind:
    return StepKind(name, stage, True, products, _COAT_CLOCKS, (), "coat")


STEPS: dict[str, StepKind] = {
    "survey": StepKind("Survey", "Survey"),
    "uncover": StepKind("Uncover and wash", "Survey"),
    "strip": StepKind("Strip", "Strip", clocks=(Runs.BARE,), cautions=_DUST, entry="bared"),
    "repair": StepKind("Repair", "Strip"),
    "weld": StepKind(
        "Weld",
        "Strip",
        clocks=(Runs.BARE,),
        cautions=("Fire and zinc fume: clear what burns, extract, keep a fire watch. Shield eyes and skin.",),
        entry="film-lost",
        act="weld",
    ),
    "clean": StepKind(
        "Clean", "Metal", products=("cleaner",), cautions=("Alkaline: goggles, gloves; never with acid.",)
    ),
    "degrease": StepKind(
        "Degrease", None, products=("panel-wipe",), clocks=(Runs.DEGREASED,), cautions=_SOLVENT, entry="degreased"
    ),
    "abrade": StepKind("Abrade", None, clocks=(Runs.KEYED,), cautions=_DUST, entry="keyed"),
    "acid-prep": StepKind(
        "Acid prep",
        "Metal",
        products=("acid-prep",),
        clocks=(Runs.KEEP_WET,),
        cautions=("Acid: goggles, gloves, water at hand; never mix with alkali.",),
        entry="prepped",
        said="Put the acid on",
    ),
    "rinse": StepKind("Rinse", "Metal", clocks=(Runs.DRY_OFF,), entry="rinsed"),
    "dry": StepKind("Dry", None, clocks=(Runs.DRY_OFF,)),
    "convert": StepKind("Convert", "Metal", True, ("converter", "converting-primer"), _COAT_CLOCKS, (), "coat"),
    "prime": _coat(
        "Prime",
        "Prime",
        "epoxy-primer",
        "epoxy-mastic",
        "wash-primer",
        "weld-through-primer",
        "zinc-rich-primer",
        "1k-primer",
    ),
    "stripe": _coat("Stripe coat", "Prime", "epoxy-primer", "epoxy-mastic"),
    "solder": StepKind(
        "Solder",
        "Fill",
        True,
        ("body-solder",),
        (Runs.COOL,),
        ("Lead: file, do not grind dry; flameless heat if you can, extraction, clean hands.",),
    ),
    "seam-seal": _coat("Seam-seal", "Surface", "seam-sealer"),
    "fill": _coat("Fill", "Fill", "body-filler", "fibre-filler", "fine-filler", "sprayable-filler"),
    "guide-coat": StepKind("Guide coat", None, products=("guide-coat",), said="Dust the guide coat on"),
    "block": StepKind("Block", None, clocks=(Runs.KEYED,), cautions=_DUST, entry="keyed"),
    "surface": _coat("Surface", "Surface", "two-pack-surfacer", "1k-primer"),
    "seal": _coat("Seal", "Surface", "sealer", "epoxy-primer"),
    "mask": StepKind("Mask", None, act="mask"),
    "base": _coat("Base coat", "Colour", "base-coat"),
    "mid": _coat("Mid-coat", "Colour", "mid-coat"),
    "clear": _coat("Clear coat", "Colour", "clear-coat"),
    "single-stage": _coat("Single-stage colour", "Colour", "single-stage", "enamel"),
    "texture": _coat("Texture", "Protect", "chip-coat", "textured-coating", "underbody-coat"),
    "wax": _coat("Wax", "Protect", "cavity-wax"),
    "force-dry": StepKind("Force-dry", None),
    "polish": StepKind("Polish", "Protect"),
    "contractor": StepKind("Contractor", None, entry="away", act="pack", said="Send it away"),
    "trial-fit": StepKind("Trial fit", None, entry="access", act="fit", said="Fit it on trial"),
    "close": StepKind("Close", "Protect", entry="access", act="close"),
    "inspect": StepKind("Inspect", None, entry="inspected", said="Look it through"),
}

CAUTIONS = {
    "isocyanate": "Isocyanates: air-fed mask, gloves, no skin; never spray with a filter mask alone.",
    "sensitiser": "Sensitising: gloves, eyes, fresh air.",
    "solvent": "Solvent: fresh air, no flame or spark.",
    "acid": "Acid: goggles, gloves, water at hand.",
    "zinc": "Zinc: no welding near without extraction.",
    "lead": "Lead: no dry sanding, wash hands.",
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
        return "Strip" if kinds[first_undone] in {"contractor", "trial-fit"} else "Metal"
    return STEPS[after[0] if after else before[-1]].stage or "Record"


def _layers(kinds: list[str]) -> list[str]:
    return [kind for kind in kinds if STEPS[kind].leaves_film]
