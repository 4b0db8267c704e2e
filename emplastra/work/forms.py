"""What is typed when something is logged or planned."""

from django import forms

from emplastra.core.metal.strip import WAYS
from emplastra.core.product import film
from emplastra.core.product.mixing import Measure
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.steps import STEPS
from emplastra.logbook.kind import REDUCERS
from emplastra.logbook.kinds.pot import Pot
from emplastra.shared.fields import QuantityField, WorkshopForm, day_input

WAYS_TO_STRIP = [("", "not chosen"), *((key, way.name) for key, way in WAYS.items())]
ON = [("", "the whole"), ("bare", "what was bared")]
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

    waste_ml = QuantityField("volume", 0, 200_000, label="Left over")


class CorrectWeighingForm(WorkshopForm):
    """What scale or cup showed in truth, and why it was written otherwise."""

    shown = shown_field(Measure.SCALE)
    reason = forms.CharField(label="Reason", max_length=200, help_text="For example: misread")

    def __init__(self, *args, measure, **kwargs):
        self.base_fields = self.base_fields | {"shown": shown_field(measure)}
        super().__init__(*args, **kwargs)


class StepsForm(WorkshopForm):
    """A build-up's films, coats and methods, all steps at once."""

    based_on = forms.IntegerField(widget=forms.HiddenInput)

    def __init__(self, *args, steps, products, **kwargs):
        self.steps, self.products = steps, products
        super().__init__(*args, **kwargs)
        for step in steps:
            for name, field in self._fields_of(step).items():
                self.fields[f"{step.id}-{name}"] = field
                if isinstance(field, QuantityField):
                    field.system = self.workshop.units

    def _fields_of(self, step):
        out = {
            "left_out": forms.CharField(label="Left out because", required=False, max_length=120, initial=step.left_out)
        }
        if STEPS[step.kind].entry == "keyed":
            return {
                "grit": forms.RegexField(
                    r"^\s*([Pp]\d{2,4})?\s*$",
                    label="Grit",
                    required=False,
                    initial=step.grit,
                    error_messages={"invalid": "write a FEPA grade, as in P320"},
                ),
                **out,
            }
        if step.kind == StepKind.STRIP:
            return {
                "way": forms.ChoiceField(label="By", choices=WAYS_TO_STRIP, required=False, initial=step.way),
                **out,
            }
        if not STEPS[step.kind].leaves_film:
            return out
        names = list(dict.fromkeys([step.product, *self.products.get(step.kind, ())]))
        return {
            "product": forms.ChoiceField(
                label="Product", choices=[(n, n or "none") for n in names], initial=step.product, required=False
            ),
            "on": forms.ChoiceField(label="On", choices=ON, initial=step.on, required=False),
            "coats": forms.IntegerField(label="Coats", min_value=1, max_value=20, initial=step.coats),
            "dft_um": QuantityField("film", 1, 10000, label="Dry film a coat", initial=step.dft_um, required=False),
            "least": forms.BooleanField(label="As a minimum", required=False, initial=step.least),
            "sanded_um": QuantityField("film", 0, 10000, label="Blocking takes", initial=step.sanded_um),
            "method": forms.ChoiceField(label="Method", choices=METHODS, initial=step.method),
            "thinner_pct": QuantityField("percent", 0, 100, label="Thinner", initial=step.thinner_pct),
            **out,
        }

    def rows(self):
        """(step, its bound fields) in order."""
        return [
            (step, {name.split("-", 1)[1]: self[name] for name in self.fields if name.startswith(f"{step.id}-")})
            for step in self.steps
        ]

    def read_steps(self):
        """The steps as typed: dicts for the service. Fields with errors keep their old values."""
        result = []
        for step in self.steps:
            data = dict(vars(step))
            for name in list(data):
                key = f"{step.id}-{name}"
                value = self.cleaned_data.get(key)
                emptied = value is None and key in self.cleaned_data and not self.fields[key].required
                if (value is not None or emptied) and (key in self.data or isinstance(value, bool)):
                    data[name] = value.strip().upper() if name == "grit" else value
            result.append(data)
        return result


class MissedForm(WorkshopForm):
    """Which version of the plan the keying is put into."""

    based_on = forms.IntegerField(widget=forms.HiddenInput)
