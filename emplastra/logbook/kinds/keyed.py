"""Abraded."""

from django import forms
from django.db import models

from emplastra.core.surface import events
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.plan import to_sand_um
from emplastra.core.words import film_q
from emplastra.jobs import surveying
from emplastra.shared.fields import QuantityField

from ..forms import LogForm
from ..kind import Detail, EntryKind, of_entry


class Keyed(Detail):
    entry = of_entry("keyed")
    grit = models.CharField(max_length=10)
    um_off = models.FloatField(default=0.0)
    by_hand = models.BooleanField(default=False)
    cut = models.CharField(max_length=120, blank=True)


class KeyedForm(LogForm):
    """Abraded."""

    grit = forms.RegexField(
        r"^\s*[Pp]\d{2,4}\s*$", label="Grit", error_messages={"invalid": "write a FEPA grade, as in P120"}
    )
    um_off = QuantityField("film", 0, 5000, label="Film taken off", initial=0.0)
    by_hand = forms.BooleanField(label="By hand, no machine", required=False)
    cut = forms.CharField(label="Cut through, where", max_length=120, required=False, help_text="Blank: nowhere")
    order = ("step", "grit", "um_off", "by_hand", "cut")
    later = ("cut", "note", "anyway")

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
            return {name: getattr(told, name) for name in ("grit", "um_off", "by_hand", "cut")}
        step = about.planned(first)
        if step is None:
            return {}
        off_um = to_sand_um(about.steps, about.steps.index(step))
        return {"grit": step.grit} | ({"um_off": off_um} if off_um else {})

    def details(self, data, about):
        told = {"grit": data["grit"], "um_off": data["um_off"] or 0.0, "by_hand": data["by_hand"]}
        return told | {"cut": data.get("cut") or ""}

    def after(self, entry, data, about):
        """Where it was cut through a primer is due before colour; a correction tells only what is new."""
        where, known = data.get("cut") or "", about.entry.keyed.cut if about.entry else ""
        if where and where != known:
            surveying.in_film(about.zone, about.user, [("cut-through", where)], data["step"], entry.ended)

    def tell(self, entry, context):
        keyed = entry.keyed
        how = " by hand" if keyed.by_hand else ""
        facts = [("film off", film_q(keyed.um_off))] if keyed.um_off else []
        return f"Keyed{how} with {keyed.grit}", facts + ([("cut through", keyed.cut)] if keyed.cut else [])
