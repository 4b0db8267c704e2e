"""A tin's label, or a whole sheet, as it is typed."""

from django import forms
from django.utils.functional import cached_property

from emplastra.core.product import entry
from emplastra.core.product.asks import KINDS, TAKEN, typical_of
from emplastra.core.product.film import METHODS
from emplastra.core.product.label import AT_C, Means
from emplastra.core.product.schema import HAZARDS
from emplastra.core.product.spoken import degrees, duration, micrometres
from emplastra.jobs import photos
from emplastra.materials.models import Product, SheetRevision
from emplastra.materials.selectors import CHOSEN
from emplastra.shared import clock
from emplastra.shared.fields import WorkshopForm, day_input, file_input

FORMS = {"mixed": "Parts to mix", "ready": "Ready to use", "aerosol": "A can"}
"""What a product comes as."""
_CALLED = {"assume": "Assume", **CHOSEN}
_SEVERAL = forms.CheckboxSelectMultiple
_METHODS = [(key, method.name) for key, method in METHODS.items() if key != "aerosol"]


def _text(name, traits):
    attrs = {"autocomplete": "off", "placeholder": traits.example, "spellcheck": "false"}
    widget = forms.Textarea(attrs={**attrs, "rows": 2}) if traits.lines else forms.TextInput(attrs=attrs)
    most = 4000 if traits.lines else 300
    return forms.CharField(
        label=traits.label, required=False, max_length=most, widget=widget, help_text=traits.help, strip=False
    )


class ProductForm(WorkshopForm):
    """A product as its label says it; whole: with all that a full sheet may say."""

    name = forms.CharField(label="Name, as on the tin", max_length=80)
    based_on = forms.IntegerField(widget=forms.HiddenInput, required=False)
    photo = forms.FileField(
        label="The label, photographed",
        required=False,
        widget=file_input(photos.MAX_BYTES, accept="image/*", capture="environment"),
    )

    def __init__(self, *args, base, whole=False, is_new=True, **kwargs):
        super().__init__(*args, **kwargs)
        self.base, self.whole, self.is_new = base, whole, is_new
        self.kind, self.form = base["kind"], base["form"]
        self.texts = entry.fields_of(self.kind, self.form)
        self.more = entry.more_of(self.kind, self.form) if whole else ()
        typed = entry.typed_of(base, self.means)
        for name in (*self.texts, *self.more):
            self.fields[name] = _text(name, entry.FIELDS[name])
            self.fields[name].initial = typed[name]
        self._choose(entry.ticks_of(base))
        if whole:
            self.fields["source"] = forms.CharField(
                label="Sheet, as it is called", max_length=400, initial=base["source"]
            )
            self.fields["date"] = forms.DateField(
                label="Date of the sheet",
                initial=base.get("date") or clock.now().astimezone(self.workshop.zone).date(),
                widget=day_input(),
            )
        if not is_new:
            self.fields["name"].initial = base["product"]
            self.fields["name"].widget.attrs["readonly"] = True
            self.fields["why"] = forms.ChoiceField(
                label="It is revised because of", choices=SheetRevision.Why.choices, widget=forms.RadioSelect
            )
            self.fields["why"].initial = SheetRevision.Why.MAKER

    def _choose(self, ticked):
        ticked = {**ticked, "assume": list(entry.assumed_of(self.base))}
        for name, choices in self._lists().items():
            known = {key for key, _ in choices}
            # What a file named that is no choice here is kept all the same.
            more = [(value, value) for value in ticked.get(name, ()) if value not in known]
            field = forms.MultipleChoiceField(
                label=_CALLED[name], choices=[*choices, *more], required=False, widget=_SEVERAL
            )
            field.initial = ticked.get(name, [])
            self.fields[name] = field

    def _lists(self):
        """Choices by field of which several may be taken."""
        assume = [n for n in TAKEN if n in self.fields and typical_of(self.kind, n) is not None]
        asks = KINDS[self.kind].asks
        said = [(key, words) for key, (_, words) in entry.SAID.items() if self.whole or key in asks]
        lists = {
            "assume": [(n, n) for n in assume],
            "hazards": [(h, h) for h in HAZARDS],
            "methods": _METHODS if self.form != "aerosol" else [],
            **{name: [(s, s) for s in entry.SUBSTRATES] for name in ("on", "not_on")},
            "said": said,
        }
        return {name: choices for name, choices in lists.items() if choices or name == "assume"}

    @property
    def means(self):
        """How bare numbers are meant."""
        return Means(self.workshop.units)

    def clean_name(self):
        name = " ".join(self.cleaned_data["name"].split())
        if not self.is_new and name != self.base["product"]:
            raise forms.ValidationError(
                "keeps its name: plans, pots and records go by it. Put the new name on the shelf as a tin of its own, "
                "and say of this one that it took its place"
            )
        if self.is_new and Product.objects.filter(name__iexact=name).exists():
            raise forms.ValidationError("is on the shelf already: revise that one, or add what sets this apart")
        return name

    @cached_property
    def made(self):
        """What is typed, as a document (core's Entered); for a form with errors too."""
        typed = {name: self[name].value() or "" for name in (*self.texts, *self.more)}
        ticks = {name: list(self[name].value() or ()) for name in entry.TICKS if name in self.fields}
        assume = frozenset(self["assume"].value() or ()) & set(TAKEN)
        base = {**self.base, "product": (self["name"].value() or "").strip()[:80] or self.base["product"]}
        if self.whole:
            base |= {"source": self["source"].value() or base["source"]}
        return entry.entered(base, typed, ticks, assume, self.means)

    def clean(self):
        data = super().clean()
        for name, message in self.made.errors.items():
            self.add_error(name if name in self.fields else None, message)
        return data

    def typical(self, name):
        """What a tap would assume for a field, in words; "" where nothing is typical."""
        value = typical_of(self.kind, name) if name in TAKEN else None
        if value is None:
            return ""
        system = self.workshop.units
        if name == "film":
            low, aim, high = (micrometres(um, system) for um in value)
            return f"{aim} ({low} to {high})"
        if name == "coats":
            return f"{value} coat{'s' if value > 1 else ''}"
        return f"{value:g} %" if name == "solids" else f"{duration(value)} at {degrees(AT_C, system)}"


class RetireForm(WorkshopForm):
    """Whether a product is bought no more, and what took its place."""

    superseded_by = forms.ModelChoiceField(
        label="What took its place", queryset=Product.objects.none(), required=False, empty_label="nothing"
    )

    def __init__(self, *args, product, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["superseded_by"].queryset = Product.objects.filter(retired=False).exclude(pk=product.pk)
        self.fields["superseded_by"].initial = product.superseded_by_id
