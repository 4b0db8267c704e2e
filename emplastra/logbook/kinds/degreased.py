"""Wiped."""

from django import forms
from django.db import models

from emplastra.core.product.kinds import ProductKind
from emplastra.core.surface import events
from emplastra.core.surface.names import StepKind
from emplastra.materials.models import Product, SheetRevision
from emplastra.materials.selectors import revision_at

from ..forms import LogForm
from ..kind import Detail, EntryKind, of_entry


class Degreased(Detail):
    entry = of_entry("degreased")
    product = models.ForeignKey(Product, on_delete=models.PROTECT, null=True, related_name="+")
    revision = models.ForeignKey(SheetRevision, on_delete=models.PROTECT, null=True, related_name="+")


class DegreasedForm(LogForm):
    """Wiped."""

    product = forms.ModelChoiceField(None, label="With", required=False)
    order = ("product",)

    def __init__(self, *args, products, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["product"].queryset = products


class Kind(EntryKind):
    key, label, group, order = "degreased", "Degreased", "surface", 30
    at_once = True
    same = ("product",)
    row, form, columns, related = Degreased, DegreasedForm, ("product__name", "revision_id"), ("degreased__product",)
    caution_step, work = StepKind.DEGREASE, "key"

    def event(self, common, told, sheets):
        return events.Degreased(*common, product=told["product__name"] or "", sheet=sheets.get(told["revision_id"]))

    def form_kwargs(self, about):
        return {"products": Product.objects.filter(kind__in=[ProductKind.PANEL_WIPE, ProductKind.CLEANER])}

    def initial(self, about, first):
        told = about.of(self)
        return {"product": told.product if told else Product.objects.filter(kind=ProductKind.PANEL_WIPE).first()}

    def details(self, data, about):
        product = data["product"]
        return {"product": product, "revision": revision_at(product, data["ended"]) if product else None}

    def tell(self, entry, context):
        product = entry.degreased.product
        return f"Degreased with {product}" if product else "Degreased", []
