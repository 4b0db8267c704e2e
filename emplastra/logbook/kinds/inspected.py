"""Welds and holes looked through."""

from django import forms
from django.db import models

from emplastra.core.surface import events
from emplastra.core.survey.inspection import FAULT, POINTS, InspectionError, answers_of, check, word

from ..forms import WholeForm
from ..kind import Detail, EntryKind, of_entry


class Inspected(Detail):
    """Welds and holes looked through: {point: answer} of what was looked at."""

    entry = of_entry("inspected")
    points = models.JSONField()


class InspectedForm(WholeForm):
    """Welds and holes looked through."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        for key, point in POINTS.items():
            choices = [("", "not looked at"), *((answer, word(key, answer)) for answer in answers_of(key))]
            self.fields[key] = forms.ChoiceField(
                label=point.name,
                choices=choices,
                required=False,
                widget=forms.RadioSelect,
                help_text=f"A fault: {point.remedy}.",
            )
        self.order_fields([*POINTS, *(name for name in self.fields if name not in POINTS)])

    def clean(self):
        data = super().clean()
        try:
            data["points"] = check({key: data.get(key, "") for key in POINTS})
        except InspectionError as error:
            self.add_error(error.field, str(error))
        return data


class Kind(EntryKind):
    key, label, group, order = "inspected", "Inspected", "look", 180
    lasts = True
    together = False
    row, form, columns, related, work = Inspected, InspectedForm, ("points",), ("inspected",), "repair"
    offered = "Inspection"

    def event(self, common, told, sheets):
        return events.Inspected(*common, points=tuple(told["points"].items()))

    def initial(self, about, first):
        told = about.of(self)
        return told.points if told else {}

    def details(self, data, about):
        return {"points": data["points"]}

    def tell(self, entry, context):
        told = entry.inspected.points
        faults = [POINTS[key].name.lower() for key, answer in told.items() if answer == FAULT]
        title = f"Inspected: {'fault in ' + ', '.join(faults) if faults else 'no fault in what was looked at'}"
        return title, [(point.name, word(key, told.get(key, ""))) for key, point in POINTS.items()]
