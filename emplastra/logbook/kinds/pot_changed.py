"""Something else is wanted of a pot that is poured already."""

from django.db import models

from emplastra.core.words import volume_q

from ..entry import Entry
from ..kind import Detail, EntryKind, of_entry


class PotChanged(Detail):
    """What is wanted of a pot now, and what holds it: a volume, or a mass where no density is told."""

    entry = of_entry("pot_changed")
    pot = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="changes")
    ready_ml = models.FloatField(null=True)
    ready_g = models.FloatField(null=True)
    vessel_ml = models.FloatField(null=True)


class Kind(EntryKind):
    key, label, order = "pot-changed", "Pot changed", 65
    of_pot = True
    row, related = PotChanged, ("pot_changed",)

    def tell(self, entry, context):
        told = entry.pot_changed
        wanted = f"{told.ready_g:g} g" if told.ready_ml is None else volume_q(told.ready_ml)
        return f"Pot: {wanted} wanted now", []
