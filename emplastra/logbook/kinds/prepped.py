"""Acid prep put on, to be kept wet."""

from django import forms
from django.db import models
from django.db.models import Q

from emplastra.core.product.kinds import ProductKind
from emplastra.core.surface import events
from emplastra.core.surface.names import StepKind
from emplastra.materials.models import Product, SheetRevision
from emplastra.materials.selectors import revision_at

from ..forms import LogForm
from ..kind import Detail, EntryKind, of_entry


class Prepped(Detail):
    """Acid prep put on; wettings and the rinse name its entry."""

    entry = of_entry("prepped")
    product = models.ForeignKey(Product, on_delete=models.PROTECT, related_name="+")
    revision = models.ForeignKey(SheetRevision, on_delete=models.PROTECT, null=True, related_name="+")


class PreppedForm(LogForm):
    """Acid prep put on, to be kept wet."""

    product = forms.ModelChoiceField(None, label="With", empty_label=None)
    order = ("product",)

    def __init__(self, *args, products, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["product"].queryset = products


class Kind(EntryKind):
    key, label, group, order = "prepped", "Acid prep on", "surface", 90
    at_once = True
    same = ("product",)
    row, form, columns, related = Prepped, PreppedForm, ("product__name", "revision_id"), ("prepped__product",)
    caution_step, work = StepKind.ACID_PREP, "treat"
    offered = "Acid on"

    def event(self, common, told, sheets):
        return events.Prepped(*common, product=told["product__name"], sheet=sheets.get(told["revision_id"]))

    def form_kwargs(self, about):
        return {"products": Product.objects.filter(kind=ProductKind.ACID_PREP)}

    def initial(self, about, first):
        told, step = about.of(self), about.planned(first) or about.next_step
        named = Product.objects.filter(name=step.product).first() if step and step.product else None
        return {
            "product": told.product if told else named or Product.objects.filter(kind=ProductKind.ACID_PREP).first()
        }

    def details(self, data, about):
        return {"product": data["product"], "revision": revision_at(data["product"], data["ended"])}

    def dependants(self, entry):
        return Q(wetted__prep=entry) | Q(rinsed__prep=entry)

    def tell(self, entry, context):
        return f"{entry.prepped.product} put on, kept wet", []
