"""Rinsed with water."""

from django import forms
from django.db import models

from emplastra.core.surface import events
from emplastra.core.surface.names import StepKind

from ..entry import Entry
from ..forms import WholeForm
from ..kind import Detail, EntryKind, of_entry
from ..running import running_prep, under_one_prep

WET = (("yes", "Yes, all of it, all the time"), ("no", "No, it dried in places"))


class Rinsed(Detail):
    """wet: whether the prep stood wet throughout; None: not asked."""

    entry = of_entry("rinsed")
    prep = models.ForeignKey(Entry, on_delete=models.PROTECT, null=True, related_name="rinses")
    wet = models.BooleanField(null=True)


class RinsedForm(WholeForm):
    """Rinsed; where prep stood on it, whether it stayed wet."""

    wet = forms.ChoiceField(label="Wet throughout?", choices=WET, widget=forms.RadioSelect)
    order = ("wet",)

    def __init__(self, *args, prepped, **kwargs):
        super().__init__(*args, **kwargs)
        if not prepped:
            del self.fields["wet"]


class Kind(EntryKind):
    key, label, group, order = "rinsed", "Rinsed", "surface", 110
    at_once = True
    row, form, columns, related = Rinsed, RinsedForm, ("wet",), ("rinsed",)
    caution_step, work, given = StepKind.ACID_PREP, "treat", ("wet",)

    def form_kwargs(self, about):
        return {"prepped": (about.of(self).prep if about.entry else running_prep(about.zone)) is not None}

    def others(self, about, zones):
        return under_one_prep(about.zone, zones)

    def event(self, common, told, sheets):
        return events.Rinsed(*common, wet=told["wet"] is not False)

    def initial(self, about, first):
        told = about.of(self)
        return {} if told is None or told.wet is None else {"wet": "yes" if told.wet else "no"}

    def details(self, data, about):
        told, wet = about.of(self), data.get("wet")
        return {"prep": told.prep if told else running_prep(about.zone), "wet": None if wet is None else wet == "yes"}

    def tell(self, entry, context):
        wet = entry.rinsed.wet
        facts = [] if wet is None else [("the prep before it", "wet throughout" if wet else "dried in places")]
        return self.label, facts
