"""Data sheets and systems, to read."""

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render

from . import selectors
from .models import Product


def products(request):
    """Products by kind, and coating systems."""
    return render(request, "materials/list.html", {"products": Product.objects.all(), "systems": selectors.systems()})


def product(request, pk):
    """A product's sheet: figures, bands, tables, windows."""
    found = get_object_or_404(Product, pk=pk)
    revisions = list(found.revisions.all())
    sheet = selectors.sheet_of(revisions[0]) if revisions else None
    return render(request, "materials/product.html", {"product": found, "revisions": revisions, "sheet": sheet})


def schema(request):
    """The published JSON Schema of a data sheet."""
    return HttpResponse(selectors.schema_text(), content_type="application/schema+json")
