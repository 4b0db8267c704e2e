"""Blown, wiped or warmed until it was dry."""

from django import forms
from django.db import models

from emplastra.core.surface import events
from emplastra.core.surface.names import StepKind

from ..forms import WholeForm
from ..kind import Detail, EntryKind, of_entry


class Dried(Detail):
    """How wet metal was dried."""

    class How(models.TextChoices):
        BLOWN = "blown", "Blown off"
        WIPED = "wiped", "Wiped dry"
        WARMED = "warmed", "Warmed"

    entry = of_entry("dried")
    how = models.CharField(max_length=8, choices=How.choices)


class DriedForm(WholeForm):
    """Dry now: laps and boxes hold water longest."""

    how = forms.ChoiceField(label="How", choices=Dried.How.choices)
    order = ("how",)


class Kind(EntryKind):
    key, label, group, order = "dried", "Dried", "surface", 115
    at_once = True
    same = ("how",)
    row, form, related, names = Dried, DriedForm, ("dried",), ("how",)
    caution_step, work, given = StepKind.RINSE, "treat", ("how",)

    def event(self, common, told, sheets):
        return events.Dried(*common)

    def tell(self, entry, context):
        return f"Dried: {entry.dried.get_how_display().lower()}", []
