"""A scale as it is told."""

import re

from django import forms

from emplastra.core.weigh.lines import Pattern, PatternError
from emplastra.shared.fields import QuantityField, WorkshopForm

from .models import STAND_IN, Scale

_ADDRESS = re.compile(r"/dev/[\w./-]{1,80}|COM\d{1,3}|socket://[\w.-]{1,80}:\d{1,5}|stand-in", re.ASCII)


class ScaleForm(WorkshopForm):
    """Where a scale is read, and how it writes."""

    name = forms.CharField(label="Name", max_length=60)
    reads = forms.ChoiceField(label="What it is", choices=Scale.Reads.choices, required=False)
    address = forms.CharField(
        label="Where it is read",
        max_length=120,
        initial=STAND_IN,
        help_text="A serial port as /dev/ttyUSB0 or COM3, socket://192.168.1.40:4001, or stand-in to try it",
    )
    baud = forms.IntegerField(label="Baud", min_value=300, max_value=921600, initial=9600)
    pattern = forms.ChoiceField(label="How it writes a line", choices=Scale.PATTERNS)
    typed = forms.CharField(
        label="Its line, as typed",
        max_length=120,
        required=False,
        strip=False,
        help_text="[value] [unit] [state:steady|moving|none] [check] [any], and what stands between",
    )
    step_g = QuantityField(
        "mass", 0.001, 1000, label="Smallest step", required=False, as_told=True, help_text="Blank: its last place"
    )
    in_use = forms.BooleanField(label="In use", required=False, initial=True)

    def clean_reads(self):
        return self.cleaned_data["reads"] or Scale.Reads.MASS

    def clean_address(self):
        address = self.cleaned_data["address"].strip()
        if not _ADDRESS.fullmatch(address):
            raise forms.ValidationError("write /dev/ttyUSB0, COM3, socket://192.168.1.40:4001 or stand-in")
        return address

    def clean(self):
        data = super().clean()
        if data.get("pattern") == "typed":
            try:
                Pattern(data.get("typed") or "")
            except PatternError as error:
                self.add_error("typed", str(error))
        return data
