"""What lies under translucent films, and what the colour would be over other grounds: of the shop, or any."""

from dataclasses import dataclass

from emplastra.core.colour.card import instead
from emplastra.core.colour.lab import difference, hex_of, lab_of, light_of, light_of_hex
from emplastra.core.product.kinds import ProductKind
from emplastra.core.surface.coats import paint_of_sheet
from emplastra.materials.selectors import shelf_sheets

from .tins import to_pour_of

GROUNDS = (
    ("white", "#f2f1ec"),
    ("light grey", "#c9cac6"),
    ("grey", "#8f9694"),
    ("oxide red", "#7c3023"),
    ("black", "#24211c"),
)
"""Shades that primers and sealers come in. Common practice, no source."""
UNDER = frozenset(
    {
        ProductKind.SEALER,
        ProductKind.BASE_COAT,
        ProductKind.EPOXY_PRIMER,
        ProductKind.TWO_PACK_SURFACER,
        ProductKind.ONE_K_PRIMER,
    }
)
"""Kinds that may be the last uniform layer under a translucent colour."""
MOST = 6


@dataclass
class Shade:
    """The colour over a ground: its name and shade, how it would look, how far that is from the card's (None: from
    nothing).
    """

    name: str
    ground: str
    look: str
    off: float | None


def shades(group):
    """[Shade] of a group over shades of any kind, then over the shop's own products, nearest first; [] where the
    mid-coat cannot be drawn: neither card nor sheet tells how.
    """
    mid = group.mid_paint or (paint_of_sheet(group.mid_sheet) if group.mid_sheet else None)
    if mid is None or group.coat_um is None:
        return [], []
    coats, card = group.chosen or _planned(group), group.card.card if group.card else None
    own = [(sheet.product, light_of_hex(sheet.colour)) for sheet in shelf_sheets() if sheet.kind in UNDER]
    told = [(name, light_of_hex(shade)) for name, shade in GROUNDS]
    found = [_shade(mid, coats, group, row, card) for row in (*told, *own)]
    of_shop = sorted(found[len(told) :], key=lambda shade: (shade.off is None, shade.off or 0.0, shade.name))[:MOST]
    return found[: len(told)], of_shop


def _planned(group):
    return max((len(row.mids_planned) + row.mids for row in group.rows), default=1) or 1


def _shade(mid, coats, group, row, card):
    name, ground = row
    if card is not None:
        ((_, lab, off),) = instead(mid, coats, group.coat_um, [(name, ground)], card)
    else:
        lab, off = lab_of(mid.over(ground, coats * group.coat_um)), None
        if group.ground_light is not None:
            off = difference(lab, lab_of(mid.over(group.ground_light, coats * group.coat_um)))
    return Shade(name, hex_of(ground), hex_of(light_of(lab)), off)


def of_store(group, workshop):
    """(the product that is to lie under, the tin of it that is in the store or None); None while none is told."""
    name = group.told.undertone if group.told else ""
    return (name, to_pour_of(name, workshop)) if name else None
