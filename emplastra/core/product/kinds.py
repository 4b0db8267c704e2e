"""Kinds of product, as data sheets name them."""

from enum import StrEnum


class ProductKind(StrEnum):
    """What a product is; the rules judge kind over kind."""

    CLEANER = "cleaner"
    PANEL_WIPE = "panel-wipe"
    ACID_PREP = "acid-prep"
    CONVERTER = "converter"
    CONVERTING_PRIMER = "converting-primer"
    ENCAPSULATOR = "encapsulator"
    WASH_PRIMER = "wash-primer"
    WELD_THROUGH_PRIMER = "weld-through-primer"
    EPOXY_PRIMER = "epoxy-primer"
    EPOXY_MASTIC = "epoxy-mastic"
    ZINC_RICH_PRIMER = "zinc-rich-primer"
    BODY_FILLER = "body-filler"
    FIBRE_FILLER = "fibre-filler"
    FINE_FILLER = "fine-filler"
    SPRAYABLE_FILLER = "sprayable-filler"
    BODY_SOLDER = "body-solder"
    TWO_PACK_SURFACER = "two-pack-surfacer"
    ONE_K_PRIMER = "1k-primer"
    GUIDE_COAT = "guide-coat"
    SEALER = "sealer"
    SEAM_SEALER = "seam-sealer"
    CHIP_COAT = "chip-coat"
    UNDERBODY_COAT = "underbody-coat"
    TEXTURED_COATING = "textured-coating"
    ENAMEL = "enamel"
    BASE_COAT = "base-coat"
    MID_COAT = "mid-coat"
    SINGLE_STAGE = "single-stage"
    CLEAR_COAT = "clear-coat"
    FLAKE_URETHANE = "flake-urethane"
    POWDER = "powder"
    CAVITY_WAX = "cavity-wax"


FILLERS = frozenset({ProductKind.BODY_FILLER, ProductKind.FIBRE_FILLER, ProductKind.FINE_FILLER})
"""Fillers that are spread, not sprayed."""
LIFT_MM, FILLER_MM = 3.0, 5.0
"""The most filler in one lift and in all where its sheet says nothing [mm]. Common practice, no source."""
COLOURED = frozenset({ProductKind.BASE_COAT, ProductKind.MID_COAT, ProductKind.SINGLE_STAGE})
"""Kinds that give the colour: one batch on one visible panel. Common practice, no source."""
SPRAYED = frozenset(
    {
        ProductKind.WASH_PRIMER,
        ProductKind.EPOXY_PRIMER,
        ProductKind.SPRAYABLE_FILLER,
        ProductKind.TWO_PACK_SURFACER,
        ProductKind.SEALER,
        ProductKind.BASE_COAT,
        ProductKind.MID_COAT,
        ProductKind.SINGLE_STAGE,
        ProductKind.CLEAR_COAT,
        ProductKind.FLAKE_URETHANE,
    }
)
"""Kinds that a gun puts on where nobody says otherwise. Common practice, no source."""
