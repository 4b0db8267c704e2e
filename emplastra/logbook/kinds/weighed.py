"""A part poured into a pot."""

from django.db import models

from emplastra.store.models import Tin

from ..entry import Entry
from ..kind import Detail, EntryKind, of_entry


class Weighed(Detail):
    """A part poured: what the scale showed when it was in, or the marks of the cup; sample: of a live scale, ""
    where it was typed.
    """

    entry = of_entry("weighed")
    pot = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="weighings")
    part = models.CharField(max_length=40)
    scale_g = models.FloatField(null=True)
    level_ml = models.FloatField(null=True)
    sample = models.CharField(max_length=40, blank=True)
    tin = models.ForeignKey(Tin, on_delete=models.PROTECT, null=True, related_name="+")

    @property
    def shown(self):
        """What scale [g] or cup [mL] showed."""
        return self.level_ml if self.scale_g is None else self.scale_g


class Kind(EntryKind):
    key, label, order = "weighed", "Weighed", 70
    of_pot = True
    row, related = Weighed, ("weighed__tin",)

    def tell(self, entry, context):
        weighed, pot = entry.weighed, context.pots.get(entry.weighed.pot_id)
        batch = f", batch {weighed.tin.batch}" if weighed.tin else ", no batch named"
        part = weighed.part
        if pot is not None and not context.struck:
            part = next(p.part.name for p in pot.poured if p.entry.pk == entry.pk)
        if weighed.scale_g is None:
            return f"Measured {part.lower()}: cup at {weighed.level_ml:.0f} mL{batch}", []
        live = ", read from the scale" if weighed.sample else ""
        return f"Weighed {part.lower()}: scale {weighed.scale_g:.1f} g{live}{batch}", []
