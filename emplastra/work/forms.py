"""What is typed when something is logged or planned."""

from datetime import timedelta

from django import forms

from emplastra.core.product import film
from emplastra.core.product.mixing import Measure
from emplastra.logbook.kind import REDUCERS
from emplastra.logbook.kinds.pot import Pot
from emplastra.shared import clock
from emplastra.shared.fields import LocalTimeField, QuantityField, WorkshopForm, day_input

METHODS = [(key, method.name) for key, method in film.METHODS.items()]


class PotForm(WorkshopForm):
    """A pot to mix."""

    ready_ml = QuantityField("volume", 1, 200000, label="Ready to use")
    measure = forms.ChoiceField(label="Measured", choices=Pot.MEASURES)
    method = forms.ChoiceField(label="Method", choices=METHODS)
    thinner_pct = QuantityField("percent", 0, 100, label="Thinner")
    reducer = forms.ChoiceField(label="Thinned with", choices=REDUCERS, required=False)
    variant = forms.ChoiceField(label="Ratio")
    vessel_ml = QuantityField("volume", 10, 200000, label="Pot holds", required=False)
    diameter_mm = QuantityField(
        "length",
        10,
        2000,
        label="Pot, inner diameter",
        required=False,
        help_text="For stick marks in a straight-sided pot",
    )

    def __init__(self, *args, variants, measures=tuple(Measure), in_grams=False, **kwargs):
        """measures: ways that the sheet's figures allow; in_grams: they give no volume, so a mass is asked for."""
        if in_grams:
            self.base_fields = self.base_fields | {"ready_ml": QuantityField("mass", 1, 200000, label="Ready to use")}
        super().__init__(*args, **kwargs)
        self.fields["variant"].choices = variants
        self.fields["measure"].choices = [(key, name) for key, name in Pot.MEASURES if key in measures]
        self.fields["measure"].required = False
        if len(measures) < 2:
            self.fields["measure"].widget = forms.HiddenInput()


class RoundForm(PotForm):
    """Pots for one round of several faces."""

    round_min = forms.IntegerField(label="Once round takes [min]", min_value=1, max_value=10080)
    smallest_ml = QuantityField("volume", 1, 200000, label="Smallest mix")
    begin = LocalTimeField(label="Begin at")

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        for name in ("diameter_mm", "reducer", "ready_ml", "measure"):
            del self.fields[name]

    def clean_begin(self):
        """An hour alone is the next one: what is planned is to come."""
        begin, now = self.cleaned_data["begin"], clock.now()
        late = (now - begin).total_seconds() - 120
        return begin if late <= 0 else begin + timedelta(days=int(late // 86400) + 1)


def shown_field(measure):
    """What the scale shows, or the marks of the cup."""
    dimension, label = ("mass", "On the scale") if measure is Measure.SCALE else ("volume", "In the cup")
    widget = forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"})
    return QuantityField(dimension, 0.1, 200000, as_told=True, label=label, widget=widget)


class WeighForm(WorkshopForm):
    """What scale or cup shows, and the batch that was poured."""

    part = forms.CharField(widget=forms.HiddenInput)
    shown = shown_field(Measure.SCALE)
    batch = forms.CharField(label="Batch", required=False, max_length=40)
    use_by = forms.DateField(label="Use by", required=False, widget=day_input())

    def __init__(self, *args, measure, **kwargs):
        self.base_fields = self.base_fields | {"shown": shown_field(measure)}
        super().__init__(*args, **kwargs)


class EndPotForm(WorkshopForm):
    """What is left over of a pot; 0 is written, not left out."""

    waste_ml = QuantityField("volume", 0, 200_000, label="Wasted")
    kept_ml = QuantityField("volume", 0, 200_000, label="Kept for touch-up", required=False)
    kept_where = forms.CharField(label="Where it is kept", max_length=80, required=False)

    def clean_kept_ml(self):
        """What is not told was not kept; a wrong number is never taken for that."""
        return self.cleaned_data["kept_ml"] or 0.0


class ChangePotForm(WorkshopForm):
    """What is wanted of a pot now."""

    ready = QuantityField("volume", 1, 200000, label="Ready to use")
    vessel_ml = QuantityField("volume", 10, 200000, label="Pot holds", required=False)

    def __init__(self, *args, in_grams, **kwargs):
        if in_grams:
            self.base_fields = self.base_fields | {"ready": QuantityField("mass", 1, 200000, label="Ready to use")}
        super().__init__(*args, **kwargs)


class CorrectWeighingForm(WorkshopForm):
    """What scale or cup showed in truth, and why it was written otherwise."""

    shown = shown_field(Measure.SCALE)
    reason = forms.CharField(label="Reason", max_length=200, help_text="For example: misread")

    def __init__(self, *args, measure, **kwargs):
        self.base_fields = self.base_fields | {"shown": shown_field(measure)}
        super().__init__(*args, **kwargs)


class MissedForm(WorkshopForm):
    """Which version of the plan the keying is put into."""

    based_on = forms.IntegerField(widget=forms.HiddenInput)
