"""Importing a log or a forecast."""

from django import forms

from emplastra.core.air.log_shape import DATE_FORMS
from emplastra.core.text import MAX_BYTES
from emplastra.shared.fields import LocalTimeField, QuantityField, WorkshopForm, ZoneField, file_input

from .models import Place
from .services import Choices


class PlaceForm(WorkshopForm):
    """About the air of a place; without any place it says what to do."""

    place = forms.ModelChoiceField(Place.objects.filter(in_use=True), label="Place", empty_label=None)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        if not self.fields["place"].queryset.exists():
            self.fields["place"].help_text = "No place is here yet: an owner adds one in Settings."


class ImportForm(PlaceForm):
    """A log or forecast file for a place."""

    what = forms.ChoiceField(
        label="What it holds",
        choices=[("log", "A log of readings"), ("forecast", "A forecast, hour by hour")],
        initial="log",
    )
    file = forms.FileField(
        label="File (CSV)",
        widget=file_input(MAX_BYTES),
        help_text="With a header: time, temperature, humidity or dew point; of a forecast rain_mm and wind_m_s too, if "
        "it tells them. Most loggers’ files are recognised; nothing is used before you have seen how it is read.",
    )


class ReadingForm(PlaceForm):
    """Air read off by eye."""

    at = LocalTimeField(label="Read at", help_text="14:05, yesterday 16:00, or 2026-05-12 14:05")
    air_c = QuantityField("temperature", -45, 60, label="Air")
    rh_pct = QuantityField("percent", 0.1, 100, label="Humidity")


class ShapeForm(WorkshopForm):
    """What a file cannot show, or shows otherwise than it was recognised."""

    zone = ZoneField(
        label="Time zone of its times", required=False, help_text="Its times do not say how far they are from UTC."
    )
    date_form = forms.ChoiceField(label="Dates are", required=False)
    air_unit = forms.ChoiceField(label="Temperatures are in", choices=[("C", "°C"), ("F", "°F")], required=False)
    also = forms.ModelMultipleChoiceField(
        None, label="Use it for these places too", required=False, widget=forms.CheckboxSelectMultiple
    )
    skip_bad = forms.BooleanField(label="Leave bad lines out and take the rest", required=False)

    def __init__(self, *args, draft, recognised, **kwargs):
        super().__init__(*args, **kwargs)
        dates = [(key, words) for key, words in DATE_FORMS.items() if key != "epoch"]
        asked = recognised.asked if recognised else ()
        self.fields["date_form"].choices = [("", "Choose"), *dates] if "date_form" in asked else dates
        if "air_unit" in asked:
            self.fields["air_unit"].choices = [("", "Choose"), ("C", "°C"), ("F", "°F")]
        self.fields["also"].queryset = Place.objects.filter(in_use=True).exclude(pk=draft.place_id)
        shape = recognised.shape if recognised else None
        unneeded = {
            "zone": shape is None or shape.has_offset,
            "date_form": shape is None or shape.date_form == "epoch",
            "air_unit": shape is None,
            "also": not draft.is_forecast,
        }
        for name, drop in unneeded.items():
            if drop:
                del self.fields[name]

    def choices(self):
        """What was said, for the service; fields with errors count as not said."""
        data = getattr(self, "cleaned_data", {})
        return Choices(
            *(data.get(name) or "" for name in ("zone", "date_form", "air_unit")), bool(data.get("skip_bad"))
        )
