"""What is told of tins."""

from django import forms

from emplastra.climate.models import Place
from emplastra.core.buying.tin_file import MOST_COUNT, SIZES, amount_of
from emplastra.core.text import MAX_BYTES
from emplastra.core.units import UnitError
from emplastra.shared.fields import LocalTimeField, WorkshopForm, file_input

DAY = forms.DateInput(attrs={"type": "date"})
_IN_USE = Place.objects.filter(in_use=True)


class AmountField(forms.CharField):
    """A volume or a mass with its unit, as it stands on a tin; cleaned to (value, "mL" or "g"), None if blank."""

    system, none = "metric", False

    def clean(self, value):
        text = super().clean(value)
        if not text:
            return None
        try:
            return amount_of(text, self.system, self.none)
        except UnitError as error:
            raise forms.ValidationError(str(error)) from error


class InForm(WorkshopForm):
    """Tins of a product that came in: a batch and a size for each of its parts."""

    came = LocalTimeField(label="Came in")
    count = forms.IntegerField(label="How many of each", min_value=1, max_value=MOST_COUNT, initial=1)
    use_by = forms.DateField(label="Use by", widget=DAY, required=False)
    place = forms.ModelChoiceField(_IN_USE, label="Where it stands", required=False, empty_label="not told")
    kit = forms.BooleanField(label="Its parts came together and belong together", required=False)

    def __init__(self, *args, parts, currency, **kwargs):
        super().__init__(*args, **kwargs)
        self.parts = parts
        for part in parts:
            self.fields |= self._asked_of(part, currency)
        if len(parts) < 2:
            del self.fields["kit"]

    def _asked_of(self, part, currency):
        """Fields of a part, by their names."""
        size = AmountField(label="Size", required=False, max_length=40, help_text=SIZES[self.workshop.units])
        size.system = self.workshop.units
        price = forms.DecimalField(
            label=f"Price of one [{currency}]", min_value=0, max_digits=10, decimal_places=2, required=False
        )
        batch = forms.CharField(label=f"{part.name}: batch", max_length=40, required=False)
        return {f"batch_{part.key}": batch, f"size_{part.key}": size, f"price_{part.key}": price}

    def rows(self):
        """[(part, its three fields)]."""
        return [(part, [self[f"{name}_{part.key}"] for name in ("batch", "size", "price")]) for part in self.parts]

    def general(self):
        """Fields that all parts share."""
        return [self[name] for name in ("came", "count", "use_by", "place", "kit") if name in self.fields]

    def clean(self):
        data = super().clean()
        if not any(data.get(f"batch_{part.key}") for part in self.parts) and not self.errors:
            self.add_error(f"batch_{self.parts[0].key}", "write the batch number that stands on the tin")
        for part in self.parts:
            alone = data.get(f"size_{part.key}") or data.get(f"price_{part.key}")
            if alone and not data.get(f"batch_{part.key}"):
                self.add_error(f"batch_{part.key}", "write the batch number that stands on the tin")
        return data

    def told(self):
        """[(part key, batch, (amount, unit) or None, price)] of the parts that came."""
        data = self.cleaned_data
        keys = [part.key for part in self.parts if data[f"batch_{part.key}"]]
        return [(key, data[f"batch_{key}"].strip(), data[f"size_{key}"], data[f"price_{key}"]) for key in keys]


class FileForm(WorkshopForm):
    """A table of tins."""

    file = forms.FileField(
        label="File (CSV)",
        widget=file_input(MAX_BYTES),
        help_text="With a header: product, part, batch, and where known count, size, price, came, use by, place, kit.",
    )


class LookForm(WorkshopForm):
    """What was seen when a tin was looked into, or where it was put."""

    at = LocalTimeField(label="When")
    left = AmountField(label="It holds", required=False, max_length=40)
    keep = AmountField(label="Keep of it for something to come", required=False, max_length=40)
    place = forms.ModelChoiceField(_IN_USE, label="Put to", required=False, empty_label="stays where it is")
    note = forms.CharField(label="Note, or what it is kept for", max_length=200, required=False)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        left, units = self.fields["left"], self.workshop.units
        self.fields["keep"].system, self.fields["keep"].none, left.none = units, True, True
        self.fields["keep"].help_text = "The same batch, for example for parts still to come; nothing of it lets it go"
        left.system, left.help_text = units, f"By weight less its tin, or by eye: {SIZES[units]}"

    def clean(self):
        data = super().clean()
        if not self.errors and all(data.get(name) is None for name in ("left", "keep", "place")):
            self.add_error("left", "say how much it holds, what of it is kept, or where it was put")
        return data
