"""A backup asked for."""

from django import forms

from emplastra.accounts.forms import OwnForm, new_password
from emplastra.shared import sealing


class BackupForm(OwnForm):
    """A backup made now: one's own password, and a passphrase that seals it, if it is to be sealed."""

    passphrase = forms.CharField(
        label="Seal it with a passphrase",
        required=False,
        strip=False,
        widget=new_password(),
        help_text=f"Blank: not sealed. At least {sealing.SHORTEST} characters; without it nobody opens it again.",
    )
    passphrase_again = forms.CharField(
        label="The same once more",
        required=False,
        strip=False,
        widget=new_password(),
    )

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
