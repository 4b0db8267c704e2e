"""Sign-in, first run and settings."""

from django import forms
from django.contrib.auth.forms import AuthenticationForm
from django.contrib.auth.password_validation import validate_password

from emplastra.core.errors import FieldError
from emplastra.core.schedule import shop_hours
from emplastra.shared.fields import QuantityField, WorkshopForm, ZoneField
from emplastra.shared.services import Refused

from . import services, setup
from .models import Role, Units, User
from .security import address_of

LENGTH = "At least 12 characters; a few words are fine."


def new_password():
    """A field for a password that is chosen: a manager of passwords may fill it."""
    return forms.PasswordInput(attrs={"autocomplete": "new-password"})


def own_password():
    """A field for one's own password, asked again before something that counts."""
    widget = forms.PasswordInput(attrs={"autocomplete": "current-password"})
    return forms.CharField(label="Your password now", widget=widget, strip=False)


class SignInForm(AuthenticationForm):
    """Name and password; wrong tries are counted by the door (see throttle)."""

    error_messages = {
        "invalid_login": "This name and password do not fit together; case counts in the password.",
        "inactive": "This name is not let in any more: ask an owner.",
    }

    def visible(self):
        return self.visible_fields()


class CodeForm(forms.Form):
    """The code of a second factor, or a spare one."""

    code = forms.CharField(
        label="Code",
        max_length=20,
        help_text="Six digits from your authenticator, or one of your spare codes.",
        widget=forms.TextInput(attrs={"autocomplete": "one-time-code", "inputmode": "text", "autofocus": True}),
    )

    def visible(self):
        return self.visible_fields()


class FirstRunForm(forms.Form):
    """The workshop and its first owner."""

    code = forms.CharField(label="One-time code", help_text="It is printed in the terminal that started Emplastra.")
    name = forms.CharField(label="Workshop", max_length=80)
    time_zone = ZoneField(label="Time zone", max_length=60, help_text="Type a city to find it: Vienna, Chicago.")
    units = forms.ChoiceField(label="Units", choices=Units.choices)
    username = forms.CharField(label="Your name here", max_length=60)
    password = forms.CharField(label="Password", widget=new_password(), help_text=LENGTH, strip=False)

    def __init__(self, *args, request=None, **kwargs):
        super().__init__(*args, **kwargs)
        self.request = request

    def visible(self):
        return self.visible_fields()

    def clean_code(self):
        if not setup.code_is_right(self.cleaned_data["code"], address_of(self.request)):
            raise forms.ValidationError("is not the code in the terminal (after 10 wrong tries wait 10 minutes)")
        return self.cleaned_data["code"]

    def clean_username(self):
        return checked_name(self.cleaned_data["username"])

    def clean_password(self):
        validate_password(self.cleaned_data["password"], User(username=self.cleaned_data.get("username", "")))
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

    idle_min = forms.IntegerField(
        label="Signed out when still for",
        min_value=5,
        max_value=43200,
        help_text="Minutes without a tap; 720 are 12 hours. At the latest after 30 days.",
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


def checked_name(name):
    """A name that somebody can be called by and that is nobody's yet. Raises ValidationError."""
    try:
        return services.new_name(name)
    except Refused as refusal:
        raise forms.ValidationError(str(refusal)) from refusal


class PersonForm(WorkshopForm):
    """Somebody new at the bench."""

    username = forms.CharField(label="Name", max_length=60)
    role = forms.ChoiceField(label="Role", choices=Role.choices, initial=Role.REFINISHER)
    password = forms.CharField(
        label="First password",
        widget=new_password(),
        required=False,
        strip=False,
        help_text="Blank: they choose it themselves, by an address that you are given to hand on. " + LENGTH,
    )

    def clean_username(self):
        return checked_name(self.cleaned_data["username"])

    def clean_password(self):
        if self.cleaned_data["password"]:
            validate_password(self.cleaned_data["password"], User(username=self.cleaned_data.get("username", "")))
        return self.cleaned_data["password"]


class OfSomebody:
    """A form about somebody: `user`."""

    def __init__(self, *args, user, **kwargs):
        super().__init__(*args, **kwargs)
        self.user = user


class ChosenPassword(OfSomebody, forms.Form):
    """A password chosen, typed twice; user: whose it will be."""

    password = forms.CharField(label="New password", widget=new_password(), help_text=LENGTH, strip=False)
    password_again = forms.CharField(label="The same once more", widget=new_password(), strip=False)

    def visible(self):
        return self.visible_fields()

    def clean_password(self):
        validate_password(self.cleaned_data["password"], self.user)
        return self.cleaned_data["password"]

    def clean_password_again(self):
        again = self.cleaned_data["password_again"]
        if "password" in self.cleaned_data and again != self.cleaned_data["password"]:
            raise forms.ValidationError("differs from the new password: type the same twice")
        return again


class OwnForm(OfSomebody, WorkshopForm):
    """What asks one's own password first; alone, that is all it asks."""

    password_now = own_password()

    def clean_password_now(self):
        if not self.user.check_password(self.cleaned_data["password_now"]):
            raise forms.ValidationError("is not your password")
        return self.cleaned_data["password_now"]


class OwnPasswordForm(ChosenPassword, OwnForm):
    """One's own password changed."""

    field_order = ("password_now", "password", "password_again")


class FactorForm(OwnForm):
    """A second factor taken: a first code proves it."""

    code = CodeForm.base_fields["code"]

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["code"].help_text = "Six digits that your authenticator shows for it now."
        del self.fields["code"].widget.attrs["autofocus"]
