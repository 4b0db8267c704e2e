"""A pot emptied."""

from django.db import models

from emplastra.core.words import volume_q

from ..entry import Entry
from ..kind import Detail, EntryKind, of_entry


class PotEnded(Detail):
    entry = of_entry("pot_ended")
    pot = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="endings")
    waste_ml = models.FloatField(default=0.0)


class Kind(EntryKind):
    key, label, order = "pot-ended", "Pot ended", 80
    row, related = PotEnded, ("pot_ended",)

    def tell(self, entry, context):
        return f"Pot emptied, {volume_q(entry.pot_ended.waste_ml)} left over", []
