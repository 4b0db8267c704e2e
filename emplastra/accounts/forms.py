"""Sign-in, first run and settings."""

import hashlib

from django import forms
from django.contrib.auth.forms import AuthenticationForm
from django.contrib.auth.password_validation import validate_password
from django.core.cache import cache

from emplastra.core.errors import FieldError
from emplastra.core.schedule import shop_hours
from emplastra.shared.fields import QuantityField, WorkshopForm, ZoneField

from . import setup
from .models import Role, Units, User


class SignInForm(AuthenticationForm):
    """Name and password; after 5 wrong tries for a name from one address it waits 5 minutes."""

    TRIES, WAIT_S = 5, 300

    def visible(self):
        return self.visible_fields()

    def clean(self):
        address = self.request.META.get("REMOTE_ADDR", "") if self.request else ""
        told = f"{address} {self.cleaned_data.get('username', '').lower()}"
        key = f"sign-in-{hashlib.sha256(told.encode()).hexdigest()}"
        if cache.get(key, 0) >= self.TRIES:
            raise forms.ValidationError("Too many wrong tries for this name: wait 5 minutes, then try again.")
        try:
            data = super().clean()
        except forms.ValidationError:
            cache.add(key, 0, self.WAIT_S)
            cache.incr(key)
            raise
        cache.delete(key)
        return data


class FirstRunForm(forms.Form):
    """The workshop and its first owner."""

    code = forms.CharField(label="One-time code", help_text="It is printed in the terminal that started Emplastra.")
    name = forms.CharField(label="Workshop", max_length=80)
    time_zone = ZoneField(label="Time zone", max_length=60, help_text="Type a city to find it: Vienna, Chicago.")
    units = forms.ChoiceField(label="Units", choices=Units.choices)
    username = forms.CharField(label="Your name here", max_length=60)
    password = forms.CharField(label="Password", widget=forms.PasswordInput, help_text="At least 8 characters.")

    def visible(self):
        return self.visible_fields()

    def clean_code(self):
        if not setup.code_is_right(self.cleaned_data["code"]):
            raise forms.ValidationError("is not the code in the terminal (after 10 wrong tries start Emplastra again)")
        return self.cleaned_data["code"]

    def clean_password(self):
        validate_password(self.cleaned_data["password"])
        return self.cleaned_data["password"]


class SettingsForm(WorkshopForm):
    """The workshop's own settings."""

    name = forms.CharField(label="Workshop", max_length=80)
    time_zone = ZoneField(label="Time zone", max_length=60)
    units = forms.ChoiceField(label="Units", choices=Units.choices)
    assumed_air_c = QuantityField("temperature", -30, 50, label="Air where nothing is logged")
    assumed_rh_pct = QuantityField("percent", 1, 100, label="Humidity where nothing is logged")

    latitude = forms.FloatField(
        label="Latitude, degrees north", min_value=-90, max_value=90, required=False, help_text="South is negative."
    )
    longitude = forms.FloatField(
        label="Longitude, degrees east",
        min_value=-180,
        max_value=180,
        required=False,
        help_text="West is negative. Both empty: night outdoors is taken from 18:00 to 08:00.",
    )
    wet_prompt_min = forms.FloatField(label="Wet prep again every", min_value=1, max_value=120, help_text="Minutes.")
    uneven_sprayed = forms.FloatField(
        label="A least film sprayed takes", min_value=1, max_value=3, help_text="Times the paint of an even one."
    )
    uneven_brushed = forms.FloatField(label="A least film brushed takes", min_value=1, max_value=3)
    hourly_rate = forms.FloatField(label="An hour costs", min_value=0, max_value=10000)
    currency = forms.CharField(label="Currency", max_length=4)
    open_hours = forms.CharField(
        label="Somebody is there",
        max_length=200,
        required=False,
        help_text="As in Mon–Fri 7:00–17:00, Sat 8:00–12:00. Blank: at any hour.",
    )

    guns = forms.IntegerField(
        label="Guns sprayed with at once", min_value=1, max_value=20, required=False, help_text="Blank: one."
    )

    def clean_guns(self):
        """How many, one where nobody says."""
        return self.cleaned_data["guns"] or 1

    def clean_open_hours(self):
        """Hours as they are read back."""
        try:
            return shop_hours.read(self.cleaned_data["open_hours"]).text
        except FieldError as error:
            raise forms.ValidationError(str(error)) from error

    def clean(self):
        data = super().clean()
        if (data.get("latitude") is None) != (data.get("longitude") is None) and not self.errors:
            name = "latitude" if data.get("latitude") is None else "longitude"
            self.add_error(name, "is wanted beside the other: give both, or neither")
        return data


class PersonForm(WorkshopForm):
    """Somebody new at the bench."""

    username = forms.CharField(label="Name", max_length=60)
    role = forms.ChoiceField(label="Role", choices=Role.choices, initial=Role.REFINISHER)
    password = forms.CharField(label="First password", widget=forms.PasswordInput)

    def clean_username(self):
        if User.objects.filter(username=self.cleaned_data["username"]).exists():
            raise forms.ValidationError("is taken: choose another name")
        return self.cleaned_data["username"]

    def clean_password(self):
        validate_password(self.cleaned_data["password"])
        return self.cleaned_data["password"]
