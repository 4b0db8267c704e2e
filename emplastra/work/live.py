"""A pot on the live scale: what is drawn and said before the scale is asked."""

from dataclasses import dataclass

from emplastra.core.words import volume_q
from emplastra.scales import services

from .pot_picture import picture

COLUMN, PIT = 252.0, 0.76
"""How high the column is, and how large the pot beside its own picture."""
STEPS_G = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000)


@dataclass
class Mark:
    """A line of the list beside the column: how it is drawn, its name, a note, how much is added [g]."""

    kind: str
    name: str
    note: str
    add: float


def live_of(pot, pour, scale):
    """What the live page needs of a pot, the pour that is next and a scale."""
    offset = services.offset(pot.entry, scale)
    found = {"scale": scale, "offset": offset, "marks": _marks(pot, pour), "over": _over(pot)}
    if offset is None:
        return found
    exact, least = _targets(pot, pour)
    top = max(exact + pour.band, exact + 0.12 * max(exact - pot.shown, 1.0))
    y = lambda grams: COLUMN * (1 - (grams - pot.shown) / (top - pot.shown))  # noqa: E731
    step = next((s for s in STEPS_G if (top - pot.shown) / s <= 6), STEPS_G[-1])
    ticks = [y(pot.shown + n * step) for n in range(1, int((top - pot.shown) / step) + 1)]
    low = exact - pour.band if least is None else least
    band_y = y(exact + pour.band)
    drawn = picture(pot, pour, None)
    fills = [Fill(f, PIT) for f in drawn.fills]
    return found | {
        "top": top,
        "least": least,
        "line_y": y(exact),
        "least_y": y(least) if least is not None else None,
        "band_y": band_y,
        "band_h": max(3.0, y(low) - band_y),
        "ticks": ticks,
        "fills": fills,
        "target_y": drawn.target_y * PIT,
        "low_y": fills[-1].y if fills else COLUMN,
        "colour": pot.sheet.colours.get(pour.part.key, "#8b8f94"),
    }


class Fill:
    """A pouring of the pot's picture, drawn smaller."""

    def __init__(self, fill, share):
        self.y, self.height = fill.y * share, fill.height * share
        self.colour, self.name, self.amount, self.fits = fill.colour, fill.name.lower(), fill.amount, fill.fits
        self.text_y = self.y + self.height / 2 + 5


def _targets(pot, pour):
    """(exact, only into tolerance or None) of what is poured now, as the scale shows it [g]."""
    offers = pot.balance.offers
    if not offers:
        return pour.target, None
    exact, least = (pot.shown + offer.add[pour.part.key] for offer in offers)
    return max(exact, pour.target), least if pot.shown + 0.05 < least < exact - 0.05 else None


def _over(pot):
    """(name, how much too much [g]) of the part that is out of tolerance with too much, None for none."""
    worst = max((d for d in pot.balance.deviations if not d.in_tolerance), key=lambda d: d.pct, default=None)
    if worst is None or worst.pct <= 0:
        return None
    ratio = {part.key: part for part in pot.ratios}
    base = pot.ratios[0]
    right = ratio[worst.key].ratio * pot.amounts[base.key] / base.ratio
    return ratio[worst.key].name, pot.amounts[worst.key] - right


def _marks(pot, pour):
    """Lines beside the column: both corrections, else the pour and what follows it."""
    if pot.balance.offers:
        names = ("Exact", "Only into tolerance")
        found = []
        for name, kind, (offer, _, ml, too_much) in zip(names, ("exact", "least"), pot.offers, strict=True):
            add = offer.add[pour.part.key]
            if add > 0.05:
                found.append(Mark(kind, f"{name}, at {pot.shown + add:.1f}", _of_pot(pot, ml, too_much), add))
        return found
    told = "from the sheet" if pot.sheet.tolerance_is_stated else "assumed"
    name = f"{pour.part.name}, at {pour.target:.1f} ± {pour.band:.1f}"
    found = [Mark("exact", name, f"{pot.sheet.tolerance_pct:g} % either way, {told}", pour.target - pot.shown)]
    shown = pour.target
    for part in pot.ratios:
        if part.key not in pot.amounts and part.key != pour.part.key:
            add = pot.balance.remaining.get(part.key) or pot.target_of(part.key).amount
            shown += add
            found.append(Mark("then", f"Then {part.name.lower()}, to {shown:.1f}", "", add))
    return found


def _of_pot(pot, ml, too_much):
    """What the pot comes to after a correction, against what is wanted and what holds it."""
    if ml is None:
        return ""
    wanted = pot.ready_ml
    said = f"pot {volume_q(ml)}"
    if wanted is not None and ml > wanted:
        said += f", {volume_q(ml - wanted)} over need"
    return said + (f"; it holds {volume_q(pot.vessel_ml)}" if too_much else "")
