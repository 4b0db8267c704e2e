"""Lights off: a lamp along edges and undersides, and the places that it shows."""

from django import forms
from django.db import models

from emplastra.core.errors import FieldError
from emplastra.core.surface import events
from emplastra.core.survey.topics import TOPICS
from emplastra.jobs import colours, surveying

from ..forms import UnplannedForm
from ..kind import Detail, EntryKind, of_entry

NAMES = {c.key: c.word for c in TOPICS["film"].choices if c.key in colours.SHOWN}
ALONG = {"edges": "Edges and returns", "under": "Undersides", "holes": "Holes, hinges, seams", "flat": "The flats"}
PLACES_MOST = 12


class Lit(Detail):
    """places: [[what, where], ...] as they were found; along: keys of ALONG; unseen: what nobody could see."""

    entry = of_entry("lit")
    places = models.JSONField(default=list)
    along = models.CharField(max_length=40, blank=True)
    unseen = models.CharField(max_length=120, blank=True)


def places_of(told):
    """[[what, where], ...] of places written by what was found: {what: "the hinge; left edge"}. Raises FieldError."""
    found = []
    for what, text in told.items():
        found += [[what, " ".join(where.split())] for where in text.replace("\n", ";").split(";") if where.strip()]
    if len(found) > PLACES_MOST:
        raise FieldError(found[-1][0], f"at most {PLACES_MOST} places at once: log it again for the rest")
    return found


class LitForm(UnplannedForm):
    """A lamp along edges and undersides; blank where nothing is seen."""

    along = forms.MultipleChoiceField(
        label="The lamp went along", choices=list(ALONG.items()), widget=forms.CheckboxSelectMultiple, required=False
    )
    unseen = forms.CharField(label="Could not be seen", max_length=120, required=False)
    order = ("along", *colours.SHOWN, "unseen")
    later = ("note", "anyway", "began", "ended")

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        for key, name in NAMES.items():
            help_text = "Where; several with ; between" if key == "spit" else ""
            self.fields[key] = forms.CharField(label=f"{name} at", max_length=200, required=False, help_text=help_text)
        self.order_fields(["token", "reason", *self.order])

    def clean(self):
        data = super().clean()
        try:
            data["places"] = places_of({key: data.get(key) or "" for key in NAMES})
        except FieldError as error:
            self.add_error(error.field, str(error))
        return data


class Kind(EntryKind):
    key, label, group, order = "lit", "Lights off", "look", 125
    at_once = True
    row, form, columns, related = Lit, LitForm, ("places",), ("lit",)
    given = (*NAMES, "unseen")

    def event(self, common, told, sheets):
        return events.Checked(*common, check="lights-off", passed=not told["places"])

    def initial(self, about, first):
        told = about.of(self)
        if not told:
            return {"along": ["edges", "under"]}
        by = {key: "; ".join(where for what, where in told.places if what == key) for key in NAMES}
        return {"along": [key for key in told.along.split(",") if key], "unseen": told.unseen} | by

    def details(self, data, about):
        return {"places": data["places"], "along": ",".join(data["along"]), "unseen": data["unseen"]}

    def after(self, entry, data, about):
        """Each place is a finding; where nothing is seen any more, what was seen before is verified."""
        known = about.entry.lit.places if about.entry else []
        new = [(what, where) for what, where in data["places"] if [what, where] not in known]
        if new:
            self.seen(about.zone, about.user, new, entry.ended)
        elif not data["places"]:
            colours.seen_even(about.zone, about.user)

    def seen(self, zone, user, places, at):
        """Write down each place [(what, where)] as a finding."""
        surveying.in_film(zone, user, places, "", at)

    def tell(self, entry, context):
        told = entry.lit
        along = ", ".join(ALONG[key].lower() for key in told.along.split(",") if key)
        facts = [(NAMES[what].lower(), where) for what, where in told.places]
        facts += [("the lamp went along", along)] if along else []
        facts += [("not seen", told.unseen)] if told.unseen else []
        return "Lights off: " + (f"{len(told.places)} found" if told.places else "covers evenly"), facts
