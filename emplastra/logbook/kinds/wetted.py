"""Wetted again while it is kept wet."""

from django.db import models

from emplastra.core.surface import events
from emplastra.core.surface.names import StepKind
from emplastra.shared.services import Refused

from ..entry import Entry
from ..forms import UnplannedForm
from ..kind import Detail, EntryKind, of_entry
from ..running import running_prep, under_one_prep


class Wetted(Detail):
    entry = of_entry("wetted")
    prep = models.ForeignKey(Entry, on_delete=models.PROTECT, related_name="wettings")


class Kind(EntryKind):
    key, label, group, order = "wetted", "Wetted", "surface", 100
    at_once = True
    row, form, caution_step = Wetted, UnplannedForm, StepKind.ACID_PREP

    def others(self, about, zones):
        return under_one_prep(about.zone, zones)

    def event(self, common, told, sheets):
        return events.Wetted(*common)

    def details(self, data, about):
        told = about.of(self)
        prep = told.prep if told else running_prep(about.zone)
        if prep is None:
            raise Refused("no prep stands wet on this zone: log the acid prep first")
        return {"prep": prep}
