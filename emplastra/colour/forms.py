"""Forms of colour: what a group is painted with, its card, its number, its faces."""

from django import forms

from emplastra.core.colour.card import COATS_MOST
from emplastra.core.colour.lab import Lab
from emplastra.core.errors import FieldError
from emplastra.core.spray import bursts
from emplastra.core.surface import seams
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


class BlendForm(forms.Form):
    """How far a panel of sound paint is from the colour, and where a crease runs across it: asked with the page."""

    panel = forms.IntegerField(widget=forms.HiddenInput)
    off = PlainNumber(
        label="Difference, CIEDE2000",
        min_value=0,
        max_value=30,
        required=False,
        help_text="Card beside panel, by an instrument",
    )
    lab = forms.CharField(
        label="Or the panel’s L, a, b", max_length=40, required=False, help_text="As in 34.9 44.2 26.0"
    )
    broken = QuantityField(
        "length", 10, 20000, label="A crease, bead or trim at", required=False, help_text="From the joint; blank: none"
    )

    def clean_lab(self):
        """The colour as the core has it, None for none."""
        text = self.cleaned_data["lab"].replace("−", "-")
        if not text.strip():
            return None
        try:
            figures = [float(x.replace(",", ".")) for x in text.replace(";", " ").split()]
            return Lab(*figures).check()
        except FieldError as error:
            raise forms.ValidationError(str(error)) from error
        except (TypeError, ValueError):
            raise forms.ValidationError("write three figures, L, a and b, as in 34.9 44.2 26.0") from None


class SeamForm(forms.Form):
    """A seam and its bead; a stitched lap has more."""

    SIZES = ("run", "width", "height", "pitch", "stitch", "open", "depth")
    shape = forms.ChoiceField(label="Bead", choices=[(k, f"{s.name}, {s.how}") for k, s in seams.SHAPES.items()])
    run = QuantityField("length", 1, 100_000, label="Run of the seam")
    width = QuantityField("length", 0.5, 200, label="Bead wide")
    height = QuantityField("length", 0.2, 200, label="Bead high")
    pitch = QuantityField(
        "length", 1, 2000, label="Stitch to stitch", required=False, help_text="Blank: welded through"
    )
    stitch = QuantityField("length", 1, 2000, label="Each stitch long", required=False)
    open = QuantityField("length", 0.05, 20, label="Lap open by", required=False)
    depth = QuantityField("length", 0.5, 200, label="Lap deep", required=False)


class CavityForm(forms.Form):
    """A cavity that is waxed by a lance."""

    length = QuantityField("length", 1, 100_000, label="Cavity long")
    around = QuantityField("length", 1, 10_000, label="Around its inside")
    film = QuantityField("film", 1, 2000, label="Dry film of wax")
    solids = PlainNumber("%", label="Solids of the wax", min_value=1, max_value=100)
    holes = forms.IntegerField(label="Holes for the lance", min_value=0, max_value=99, required=False)
    reach = QuantityField("length", 10, 5000, label="Lance sprays to each side", required=False)


class BurstForm(forms.Form):
    """A card of texture beside what is to be matched."""

    burst = PlainNumber("s", label="Burst on the card", min_value=0.05, max_value=10)
    distance = QuantityField("length", 30, 1500, label="From")
    passes = forms.IntegerField(label="Passes", min_value=1, max_value=bursts.PASSES_MOST)
    covers = PlainNumber("%", label="The card is covered", min_value=1, max_value=99)
    wanted = PlainNumber("%", label="What is to be matched", min_value=1, max_value=99)
    new_distance = QuantityField("length", 30, 1500, label="On the piece, from", required=False)
