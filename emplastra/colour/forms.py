"""Forms of colour: what a group is painted with, its card, its number, its faces."""

from django import forms

from emplastra.core.colour.card import COATS_MOST
from emplastra.jobs.colours import LIMITS
from emplastra.shared.fields import PlainNumber, QuantityField, WorkshopForm, day_input


class ColourForm(WorkshopForm):
    """What a group is painted with."""

    name = forms.CharField(label="Colour", max_length=80, required=False)
    formula = forms.CharField(
        label="Formula", max_length=120, required=False, help_text="As the tin or the mixer has it"
    )
    variant = forms.CharField(label="Variant", max_length=80, required=False)
    batch = forms.CharField(label="Batch", max_length=80, required=False, help_text="One batch for all of a group")
    kept = forms.CharField(label="Rest and card lie", max_length=120, required=False)
    mids = forms.IntegerField(
        label="Mid-coats, by eye", min_value=0, max_value=COATS_MOST, required=False, help_text="Blank: not chosen yet"
    )
    undertone = forms.CharField(
        label="Undertone",
        max_length=80,
        required=False,
        help_text="The product that lies under all its translucent films",
    )
    awaited = forms.DateField(label="Awaited by", widget=day_input(), required=False)
    limit = PlainNumber(
        label="May differ by",
        min_value=LIMITS[0],
        max_value=LIMITS[1],
        help_text="CIEDE2000; 1 is about what an eye sees side by side",
    )


class CardForm(WorkshopForm):
    """A spray-out card."""

    text = forms.CharField(
        label="Card",
        max_length=20000,
        widget=forms.Textarea(attrs={"rows": 8, "class": "input", "data-from-file": ""}),
        help_text="A line for each number of mid-coats: its number, L, a, b (D65); “sample” for what is to be matched.",
    )
    made = forms.DateField(label="Sprayed on", widget=day_input())
    coat_um = QuantityField("film", 0.5, 200, label="Film of one mid-coat", required=False)
    over = forms.CharField(label="Over which ground", max_length=80, required=False)


class GroupForm(WorkshopForm):
    """Faces that must match."""

    group = forms.CharField(label="Group", max_length=40, help_text="As in livery red")

    def __init__(self, *args, zones, **kwargs):
        super().__init__(*args, **kwargs)
        self.zones = zones
        for zone in zones:
            self.fields[f"zone_{zone.pk}"] = forms.BooleanField(label=zone.name, required=False)

    def clean(self):
        data = super().clean()
        data["zones"] = [zone for zone in self.zones if data.get(f"zone_{zone.pk}")]
        if not data["zones"] and not self.errors:
            self.add_error("group", "tick at least one face for it")
        return data
