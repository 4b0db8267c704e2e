"""Rinsed with water."""

from django.db import models

from emplastra.core.surface import events
from emplastra.core.surface.names import StepKind

from ..entry import Entry
from ..forms import WholeForm
from ..kind import Detail, EntryKind, of_entry
from ..running import running_prep


class Rinsed(Detail):
    entry = of_entry("rinsed")
    prep = models.ForeignKey(Entry, on_delete=models.PROTECT, null=True, related_name="rinses")


class Kind(EntryKind):
    key, label, group, order = "rinsed", "Rinsed", "surface", 110
    row, form, caution_step, work = Rinsed, WholeForm, StepKind.ACID_PREP, "treat"

    def event(self, common, told, sheets):
        return events.Rinsed(*common)

    def details(self, data, about):
        told = about.of(self)
        return {"prep": told.prep if told else running_prep(about.zone)}
