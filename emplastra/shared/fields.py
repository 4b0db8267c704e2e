"""Form fields that understand what is typed at a bench."""

from django import forms

from emplastra.core import units

from . import clock
from .services import new_token
from .times import TimeError, read_local, write_local, zone_named


class QuantityField(forms.CharField):
    """A quantity read by the units grammar; cleaned to a float in the core's unit, None if blank.

    dimension: a key of units.CORE_UNIT; low, high: bounds in the core's unit; as_told: a bare number is in the core's
    unit in every workshop, as the tool shows it.
    """

    def __init__(self, dimension, low=None, high=None, as_told=False, **kwargs):
        self.dimension, self.low, self.high, self.system = dimension, low, high, "metric"
        self.as_told = as_told
        kwargs.setdefault("widget", forms.TextInput(attrs={"inputmode": "text", "autocomplete": "off"}))
        super().__init__(**kwargs)

    @property
    def unit(self):
        """The unit meant when none is typed, as shown beside the field."""
        return units.display_unit(self.dimension, "metric" if self.as_told else self.system)

    def prepare_value(self, value):
        if isinstance(value, (int, float)):
            shown = units.convert(float(value), units.CORE_UNIT[self.dimension], self.unit)
            return f"{shown:.4g}" if abs(shown) < 1000 else f"{shown:.0f}"
        return value

    def clean(self, value):
        text = super().clean(value)
        if not text:
            return None
        try:
            number = units.parse_quantity(text, self.dimension, self.unit, self.system).value
        except units.UnitError as error:
            raise forms.ValidationError(str(error)) from error
        for bound, wrong, word in (
            (self.low, self.low is not None and number < self.low, "at least"),
            (self.high, self.high is not None and number > self.high, "at most"),
        ):
            if wrong:
                digits = 2 if 0 < abs(bound) < 0.1 else 1
                raise forms.ValidationError(f"must be {word} {units.show(bound, self.dimension, self.system, digits)}")
        return number


class LocalTimeField(forms.CharField):
    """A moment in the workshop's zone, cleaned to an aware UTC datetime."""

    zone = None

    def prepare_value(self, value):
        return write_local(value, self.zone) if hasattr(value, "astimezone") else value

    def clean(self, value):
        text = super().clean(value)
        if not text:
            return None
        try:
            return read_local(text, self.zone, clock.now())
        except TimeError as error:
            raise forms.ValidationError(str(error)) from error


def file_input(most, **attrs):
    """A file to choose, refused on the spot if it has more than so many bytes."""
    return forms.ClearableFileInput(attrs={"data-most": most // 1_000_000, **attrs})


def day_input():
    """A day to choose; its value is written as browsers want it, whatever the language."""
    return forms.DateInput(format="%Y-%m-%d", attrs={"type": "date"})


class ZoneField(forms.CharField):
    """A time zone, found in a list by its city or typed; cleaned to its name."""

    widget = forms.TextInput(attrs={"list": "zones", "autocomplete": "off", "spellcheck": "false"})

    def clean(self, value):
        text = super().clean(value)
        try:
            return zone_named(text) if text else ""
        except TimeError as error:
            raise forms.ValidationError(str(error)) from error


class WorkshopForm(forms.Form):
    """A form that knows the workshop's units and zone, and carries its token."""

    token = forms.CharField(widget=forms.HiddenInput, max_length=64)

    def __init__(self, *args, workshop, **kwargs):
        super().__init__(*args, **kwargs)
        self.workshop = workshop
        self.fields["token"].initial = new_token()
        for field in self.fields.values():
            if isinstance(field, QuantityField):
                field.system = workshop.units
            if isinstance(field, LocalTimeField):
                field.zone = workshop.zone

    def visible(self):
        """Bound fields to show."""
        return self.visible_fields()


class PlainNumber(forms.FloatField):
    """A figure with a unit of its own, or none; a decimal comma is understood."""

    widget = forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"})

    def __init__(self, unit="", **kwargs):
        super().__init__(**kwargs)
        self.unit = unit

    def to_python(self, value):
        return super().to_python(value.replace(",", ".") if isinstance(value, str) else value)

    def prepare_value(self, value):
        return f"{value:g}" if isinstance(value, float) else value
