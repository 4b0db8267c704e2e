"""Work that lasts was begun; what it becomes names it when it is stopped."""

from django.db import models
from django.db.models import Q

from ..kind import KINDS, Detail, EntryKind, of_entry


class Begun(Detail):
    """What is being done: a key of KINDS. The entry that it becomes has a row of Lasted."""

    entry = of_entry("begun")
    what = models.CharField(max_length=12)

    @property
    def label(self):
        """What is being done, in words."""
        return KINDS[self.what].label.lower()


class Kind(EntryKind):
    key, label, order = "begun", "Begun", 200
    row, related = Begun, ("begun",)

    def dependants(self, entry):
        return Q(lasted__begun=entry)

    def tell(self, entry, context):
        return f"Begun: {entry.begun.label}", []
