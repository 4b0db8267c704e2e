"""To another place."""

from django import forms
from django.db import models

from emplastra.climate.models import Place

from ..forms import LogForm
from ..kind import Detail, EntryKind, of_entry


class Moved(Detail):
    entry = of_entry("moved")
    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="+")


class MovedForm(LogForm):
    """To another place."""

    place = forms.ModelChoiceField(None, label="To", empty_label=None)
    whole_job = forms.BooleanField(label="The whole job, all its zones", required=False)
    order = ("place", "whole_job")

    def __init__(self, *args, places, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["place"].queryset = places
        del self.fields["share"], self.fields["step"]
        if self.correcting:
            del self.fields["whole_job"]

    def zones(self):
        more = self.zone.job.zones.in_use() if self.cleaned_data.get("whole_job") else [self.zone]
        return tuple((zone, 1.0, "") for zone in more)


class Kind(EntryKind):
    key, label, group, order = "moved", "Moved", "place", 10
    together = False
    row, form, columns, related, given = Moved, MovedForm, ("place_id",), ("moved__place",), ("place",)
    names = ("place",)

    def form_kwargs(self, about):
        return {"places": Place.objects.filter(in_use=True)}

    def tell(self, entry, context):
        return f"Moved to {entry.moved.place}", []
