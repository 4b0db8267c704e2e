"""Abraded."""

from django import forms
from django.db import models

from emplastra.core.surface import events
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.plan import to_sand_um
from emplastra.core.words import film_q
from emplastra.shared.fields import QuantityField

from ..forms import LogForm
from ..kind import Detail, EntryKind, of_entry


class Keyed(Detail):
    entry = of_entry("keyed")
    grit = models.CharField(max_length=10)
    um_off = models.FloatField(default=0.0)
    by_hand = models.BooleanField(default=False)


class KeyedForm(LogForm):
    """Abraded."""

    grit = forms.RegexField(
        r"^\s*[Pp]\d{2,4}\s*$", label="Grit", error_messages={"invalid": "write a FEPA grade, as in P120"}
    )
    um_off = QuantityField("film", 0, 5000, label="Film taken off", initial=0.0)
    by_hand = forms.BooleanField(label="By hand, no machine", required=False)
    order = ("step", "grit", "um_off", "by_hand")

    def clean_grit(self):
        return self.cleaned_data["grit"].strip().upper()


class Kind(EntryKind):
    key, label, group, order = "keyed", "Keyed", "surface", 40
    at_once = lasts = True
    same = ("grit", "um_off", "by_hand")
    row, form, columns, related, given = Keyed, KeyedForm, ("grit", "um_off", "by_hand"), ("keyed",), ("grit",)
    follows, caution_step, work = ("grit", "um_off"), StepKind.ABRADE, "key"

    def event(self, common, told, sheets):
        return events.Keyed(*common, grit=told["grit"], um_off=told["um_off"], by_hand=bool(told["by_hand"]))

    def initial(self, about, first):
        told = about.of(self)
        if told:
            return {"grit": told.grit, "um_off": told.um_off, "by_hand": told.by_hand}
        step = about.planned(first)
        if step is None:
            return {}
        off_um = to_sand_um(about.steps, about.steps.index(step))
        return {"grit": step.grit} | ({"um_off": off_um} if off_um else {})

    def details(self, data, about):
        return {"grit": data["grit"], "um_off": data["um_off"] or 0.0, "by_hand": data["by_hand"]}

    def tell(self, entry, context):
        keyed = entry.keyed
        how = " by hand" if keyed.by_hand else ""
        return f"Keyed{how} with {keyed.grit}", [("film off", film_q(keyed.um_off))] if keyed.um_off else []
