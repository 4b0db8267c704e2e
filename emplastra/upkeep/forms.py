"""A backup asked for."""

from django import forms

from emplastra.accounts.forms import checked_own, own_password
from emplastra.shared import sealing
from emplastra.shared.fields import WorkshopForm


class BackupForm(WorkshopForm):
    """A backup made now: one's own password, and a passphrase that seals it, if it is to be sealed."""

    password_now = own_password()
    passphrase = forms.CharField(
        label="Seal it with a passphrase",
        required=False,
        strip=False,
        widget=forms.PasswordInput(attrs={"autocomplete": "new-password"}),
        help_text=f"Blank: not sealed. At least {sealing.SHORTEST} characters; without it nobody opens it again.",
    )
    passphrase_again = forms.CharField(
        label="The same once more",
        required=False,
        strip=False,
        widget=forms.PasswordInput(attrs={"autocomplete": "new-password"}),
    )

    def __init__(self, *args, user, **kwargs):
        super().__init__(*args, **kwargs)
        self.user = user

    def clean_password_now(self):
        return checked_own(self.user, self.cleaned_data["password_now"])

    def clean_passphrase(self):
        told = self.cleaned_data["passphrase"]
        if told and len(told) < sealing.SHORTEST:
            raise forms.ValidationError(f"is too short: at least {sealing.SHORTEST} characters")
        return told

    def clean(self):
        data = super().clean()
        if "passphrase" in data and data["passphrase"] != data.get("passphrase_again", ""):
            self.add_error("passphrase_again", "differs from the passphrase: type the same twice")
        return data
