"""Opened, fitted on trial, taken off again, closed."""

from django import forms
from django.db import models

from emplastra.core.surface import events
from emplastra.jobs.registers import still_off

from ..forms import WholeForm
from ..kind import Detail, EntryKind, of_entry


class Access(Detail):
    """What bars or frees the way to a surface."""

    class How(models.TextChoices):
        OPENED = "opened", "Opened"
        TRIAL_FIT = "trial-fit", "Trial fit: must come off again"
        TAKEN_OFF = "taken-off", "Taken off again"
        CLOSED = "closed", "Closed: out of reach from now on"

    entry = of_entry("access")
    how = models.CharField(max_length=10, choices=How.choices)
    what = models.CharField(max_length=120, blank=True)


class AccessForm(WholeForm):
    """Opened, fitted on trial, taken off again, closed."""

    how = forms.ChoiceField(label="What happened", choices=Access.How.choices)
    what = forms.CharField(label="Which part", max_length=120, required=False)
    order = ("how", "what")


class Kind(EntryKind):
    key, label, group, order = "access", "Access", "place", 160
    row, form, columns, related, given = Access, AccessForm, ("how", "what"), ("access",), ("how",)
    work, names = "access", ("how", "what")
    offered = "Opened, trial fit, closed"

    def event(self, common, told, sheets):
        return events.Access(*common, how=told["how"], what=told["what"] or "")

    def context(self, about):
        return {"still_off": still_off(about.zone)}

    def tell(self, entry, context):
        told = entry.access
        return told.get_how_display() + (f", {told.what}" if told.what else ""), []
