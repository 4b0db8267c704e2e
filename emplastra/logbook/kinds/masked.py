"""A mask is on: what covers what, and how long its tape bears."""

from django import forms
from django.db import models

from emplastra.core.surface import events, masks
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.steps import STEPS
from emplastra.shared.fields import PlainNumber

from ..forms import WholeForm
from ..kind import Detail, EntryKind, of_entry

COVERS = [(key, f"{cover.name}: {cover.why}") for key, cover in masks.COVERS.items()]
TAPES = [(key, tape.name) for key, tape in masks.TAPES.items()]
WHOLE = [("part", "A part of it, the rest is coated"), ("whole", "All of it, against overspray")]
MOST_DAYS = 60.0


class Masked(Detail):
    entry = of_entry("masked")
    cover = models.CharField(max_length=5, choices=COVERS)
    tape = models.CharField(max_length=5, choices=TAPES)
    bears_h = models.FloatField(null=True)
    whole = models.BooleanField(default=False)
    what = models.CharField(max_length=80, blank=True)


class MaskedForm(WholeForm):
    """A mask is on."""

    over = forms.ChoiceField(label="It covers", choices=WHOLE)
    cover = forms.ChoiceField(label="With", choices=COVERS)
    tape = forms.ChoiceField(label="Held by", choices=TAPES)
    bears_days = PlainNumber(
        "days",
        label="Tape bears",
        min_value=0.1,
        max_value=MOST_DAYS,
        required=False,
        help_text="As its roll says; blank: a day for paper tape, a week for fine line, assumed",
    )
    what = forms.CharField(label="What of it", max_length=80, required=False, help_text="Threads, the line, the sill")
    order = ("over", "cover", "what", "tape", "bears_days")
    later = ("tape", "bears_days", "note", "anyway", "step", "began")


class Kind(EntryKind):
    key, label, group, order = "masked", "Masked", "surface", 95
    at_once = lasts = True
    row, form, related = Masked, MaskedForm, ("masked",)
    columns = ("cover", "tape", "bears_h", "whole", "what")
    given, same = ("over", "cover", "what"), ("over", "cover", "tape", "bears_days", "what")

    def event(self, common, told, sheets):
        return events.Masked(*common, **{name: told[name] for name in self.columns})

    def initial(self, about, first):
        told = about.of(self)
        if told:
            days = told.bears_h / 24 if told.bears_h is not None else None
            over = "whole" if told.whole else "part"
            return {"over": over, "cover": told.cover, "tape": told.tape, "bears_days": days, "what": told.what}
        step = about.planned(first)
        after = about.steps[about.steps.index(step) :] if step else about.steps
        layer = next((s.kind for s in after if STEPS[s.kind].leaves_film), "")
        planned = step is not None and step.kind == StepKind.MASK
        return {"over": "part" if planned else "whole", "cover": masks.cover_for(layer), "tape": "paper"}

    def details(self, data, about):
        days = data["bears_days"]
        told = {name: data[name] for name in ("cover", "tape", "what")}
        return told | {"whole": data["over"] == "whole", "bears_h": None if days is None else 24 * days}

    def tell(self, entry, context):
        told = entry.masked
        facts = [("with", masks.COVERS[told.cover].name.lower()), ("held by", masks.TAPES[told.tape].name.lower())]
        if told.bears_h is not None:
            facts.append(("tape bears", f"{told.bears_h / 24:g} days"))
        facts += [("what", told.what)] if told.what else []
        return "Masked whole" if told.whole else "Masked", facts
