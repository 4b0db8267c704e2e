"""What every form that logs something asks: when, how much of the zone, a note."""

import re

from django import forms

from emplastra.core.surface.steps import STEPS
from emplastra.core.units import UnitError, display_unit, parse_quantity
from emplastra.core.words import film_q
from emplastra.shared.fields import LocalTimeField, QuantityField, WorkshopForm


class FilmsField(QuantityField):
    """Wet film readings: numbers with spaces between, one unit at the end at most; a list of µm."""

    def __init__(self, **kwargs):
        super().__init__("film", 1, 20000, **kwargs)

    def prepare_value(self, value):
        return " ".join(f"{v:g}" for v in value) if isinstance(value, list) else value

    def clean(self, value):
        text = forms.CharField.clean(self, value)
        match = re.fullmatch(r"\s*([\d.,;\s/]*?)\s*([^\d.,;\s][^\d]*)?\s*", text or "")
        if not match or (match[2] and not match[1]):
            raise forms.ValidationError("write readings with spaces between, as in 110 120 115")
        unit = match[2] or display_unit("film", self.system)
        try:
            values = [parse_quantity(f"{n} {unit}", "film").value for n in re.split(r"[\s;]+", match[1]) if n]
        except UnitError as error:
            raise forms.ValidationError(str(error)) from error
        if any(not self.low <= v <= self.high for v in values):
            raise forms.ValidationError(f"each reading must be from {film_q(self.low, self.high)}")
        return values


class LogForm(WorkshopForm):
    """When something began and ended on a zone, over which share, and a note."""

    began = LocalTimeField(label="Began", help_text="14:05, yesterday 16:00, or 2026-05-12 14:05")
    ended = LocalTimeField(label="Ended")
    share = QuantityField("percent", 0.1, 100, label="Share covered", initial=100.0)
    note = forms.CharField(label="Note", required=False, max_length=400)
    anyway = forms.CharField(
        label="Did it anyway, because …",
        required=False,
        max_length=200,
        help_text="If the rules speak against it: kept beside what they say.",
    )
    confirm_old = forms.BooleanField(label="Yes, this was over 12 hours ago", required=False)
    reason = forms.CharField(label="Why is it corrected?", max_length=200)
    seen = forms.IntegerField(widget=forms.HiddenInput, required=False)
    begun = forms.IntegerField(widget=forms.HiddenInput, required=False)
    order = ()
    later = ("note", "anyway")
    """Fields that stand under More."""

    def __init__(self, *args, zone, steps=(), correcting=False, others=(), **kwargs):
        """others: zones on which the same may have been done."""
        super().__init__(*args, **kwargs)
        self.zone, self.correcting, self.others = zone, correcting, list(others)
        if correcting:
            del self.fields["anyway"]
        else:
            del self.fields["reason"]
        mine = [
            ("", "Not in the plan"),
            *[(s.id, f"{i}. {STEPS[s.kind].name}" + (f", {s.product}" if s.product else "")) for i, s in steps],
        ]
        self.fields["step"] = forms.ChoiceField(label="Step of the plan", choices=mine, required=False)
        self.order_fields(
            ["token", "reason", *self.order, "step", "began", "ended", "share", "note", "anyway", "confirm_old"]
        )
        for other in self.others:
            self.fields[f"also_{other.pk}"] = self._also(other)

    def _also(self, other):
        """The field of another zone: the share covered there."""
        field = QuantityField("percent", 0, 100, label=f"Also {other.name}", required=False)
        field.help_text, field.system = "Share covered, blank: not", self.workshop.units
        return field

    def also_fields(self):
        """Bound fields of the other zones."""
        return [self[f"also_{zone.pk}"] for zone in self.others]

    def own_fields(self):
        """Bound fields to show, but for those of other zones, and for what is asked only where it is needed."""
        shown = [f for f in self.visible_fields() if not f.name.startswith("also_")]
        return [f for f in shown if f.name != "confirm_old" or f.errors]

    def first_fields(self):
        """Those of them that matter first."""
        return [f for f in self.own_fields() if f.name not in self.later]

    def more_fields(self):
        """The rest, which mostly stays as it is."""
        return [f for f in self.own_fields() if f.name in self.later]

    def more_wrong(self):
        """True if one of the rest has an error."""
        return any(f.errors for f in self.more_fields())

    def also_typed(self):
        """True if another zone has a share or an error."""
        return any(f.errors or f.value() for f in self.also_fields())

    def clean(self):
        data = super().clean()
        began, ended = data.get("began"), data.get("ended")
        if began and ended and ended < began:
            self.add_error("ended", "must not be before it began; a bare hour that is still to come is yesterday’s")
        return data

    def zones(self):
        """((zone, share, step),) for the service; the steps of other zones are their own plans' to say."""
        return (self.own_zone(), *self.also_zones())

    def own_zone(self):
        """(zone, share, step) of the zone in view."""
        return self.zone, self.cleaned_data["share"] / 100, self.cleaned_data["step"]

    def also_zones(self):
        """((zone, share, ""), ...) of the others that have a share."""
        told = [(zone, self.cleaned_data.get(f"also_{zone.pk}")) for zone in self.others]
        return tuple((zone, share / 100, "") for zone, share in told if share)


class WholeForm(LogForm):
    """Something that always concerns the whole zone."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        del self.fields["share"]

    def own_zone(self):
        return self.zone, 1.0, self.cleaned_data.get("step", "")

    def _also(self, other):
        """A tick: all of it, or none."""
        return forms.BooleanField(label=f"Also {other.name}", required=False)

    def also_zones(self):
        return tuple((zone, 1.0, "") for zone in self.others if self.cleaned_data.get(f"also_{zone.pk}"))


class UnplannedForm(WholeForm):
    """Something that is no step of a plan."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        del self.fields["step"]
