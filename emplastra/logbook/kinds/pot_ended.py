"""A pot emptied."""

from django.db import models

from emplastra.core.words import volume_q

from ..entry import Entry
from ..kind import Detail, EntryKind, of_entry


class PotEnded(Detail):
    """A pot emptied: what of it was wasted, and what was kept for touch-up, where [mL]."""

    entry = of_entry("pot_ended")
    pot = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="endings")
    waste_ml = models.FloatField(default=0.0)
    kept_ml = models.FloatField(default=0.0)
    kept_where = models.CharField(max_length=80, blank=True)


class Kind(EntryKind):
    key, label, order = "pot-ended", "Pot ended", 80
    of_pot = True
    row, related = PotEnded, ("pot_ended",)

    def tell(self, entry, context):
        told = entry.pot_ended
        kept = f", {volume_q(told.kept_ml)} kept {told.kept_where or 'for touch-up'}" if told.kept_ml else ""
        return f"Pot emptied, {volume_q(told.waste_ml)} wasted{kept}", []
