"""All masks are off."""

from django import forms
from django.db import models

from emplastra.core.surface import events
from emplastra.jobs import surveying

from ..forms import UnplannedForm
from ..kind import Detail, EntryKind, of_entry

CAME = {"clean": "Clean", "glue": "Glue stayed on", "torn": "It tore the paint’s edge"}


class Unmasked(Detail):
    entry = of_entry("unmasked")
    came = models.CharField(max_length=5, choices=list(CAME.items()))


class UnmaskedForm(UnplannedForm):
    """All masks are off."""

    came = forms.ChoiceField(label="It came off", choices=list(CAME.items()), widget=forms.RadioSelect)
    order = ("came",)


class Kind(EntryKind):
    key, label, group, order = "unmasked", "Mask off", "surface", 96
    at_once = True
    row, form, columns, related = Unmasked, UnmaskedForm, ("came",), ("unmasked",)
    given = names = ("came",)

    def event(self, common, told, sheets):
        return events.Unmasked(*common, glue=told["came"] == "glue")

    def initial(self, about, first):
        return super().initial(about, first) or {"came": "clean"}

    def after(self, entry, data, about):
        """A torn edge is a finding in the film; a correction tells only what is new."""
        known = about.entry.unmasked.came if about.entry else ""
        if data["came"] == "torn" and known != "torn":
            surveying.in_film(about.zone, about.user, [("torn", "along the tape")], "", entry.ended)

    def tell(self, entry, context):
        came = entry.unmasked.came
        return "Mask off", [("it came off", CAME[came].lower())] if came != "clean" else []
