"""Solvent of the paint that a plan takes: its VOC against the limits, and the fresh air it wants against fire."""

from dataclasses import dataclass

from emplastra.core.product.solvent_air import HEATERS, WARNING, FreshAir, fresh_air
from emplastra.core.product.voc import Voc, voc_of
from emplastra.core.working import Unknown

from .selectors import SPRAY_MIN_PER_M2

USUAL_FLASH_MIN = 15.0
"""Over how long a coat's solvent goes off where its sheet names no flash [min]. Common practice, no source."""


@dataclass
class Solvent:
    """A coat's solvent: VOC ready for use (Voc or Unknown), in words how that stands to the limit, air for one coat."""

    paint: object
    voc: Voc | Unknown
    word: str
    sentence: str
    air: FreshAir | None = None
    warning: str = WARNING
    heaters: str = HEATERS

    @property
    def known(self):
        """True if its VOC can be said."""
        return not isinstance(self.voc, Unknown)


def solvent_of(sheet, variant, thinner_pct, road):
    """(VOC or Unknown, the word, the sentence) of a product as it is mixed; road: the job is a road vehicle."""
    voc = voc_of(sheet, variant, thinner_pct)
    if isinstance(voc, Unknown):
        return voc, "unknown", voc.sentence
    value = f"{voc.figure.value:.0f} g/L ready for use"
    if not road:
        return voc, "outside", f"{value}; limits are for road vehicles: this job is outside their scope"
    if voc.category is None:
        return voc, "outside", f"{value}; the annex names no category for it"
    most = f"{voc.category.most_g_l:g} g/L of {voc.category.name} ({voc.category.letter})"
    word = "within" if voc.within else "over"
    return voc, word, f"{value}, {word} the {most}"


def solvent_for(paint, road, temp_c):
    """The solvent of a step's next coat (Paint). road: the job is a road vehicle; temp_c: by which it flashes [°C]."""
    sheet = paint.sheet
    voc, word, sentence = solvent_of(sheet, paint.variant, paint.step.thinner_pct, road)
    if isinstance(voc, Unknown):
        return Solvent(paint, voc, word, sentence)
    air = air_for_pot(sheet, voc, paint.one.gun_ml, paint.area.value, temp_c)
    return Solvent(paint, voc, word, sentence, air)


def air_for_pot(sheet, voc, gun_ml, area_m2, temp_c):
    """Air for a pot of so much ready to use [mL] over a face [m2]; None where it holds no solvent, or none is told."""
    if isinstance(voc, Unknown) or voc.plain_g_l <= 0 or not gun_ml:
        return None
    return fresh_air(voc.plain_g_l * gun_ml / 1000.0, SPRAY_MIN_PER_M2 * area_m2 + flash_min(sheet, temp_c))


def flash_min(sheet, temp_c):
    """Over how long its solvent goes off after it is on [min]: its flash, else what is usual."""
    table = sheet.times.get("flash")
    return (table.minutes_at(temp_c) if table is not None else None) or USUAL_FLASH_MIN
