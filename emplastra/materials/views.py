"""Data sheets and systems, to read."""

from django import forms
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse

from emplastra.core.product.sheet import SheetError
from emplastra.shared.fields import WorkshopForm, file_input
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView

from . import selectors, services
from .models import Product, SheetRevision


def products(request):
    """Products by kind, and coating systems."""
    return render(
        request, "materials/list.html", {"products": Product.objects.all(), "systems": selectors.all_systems()}
    )


def product(request, pk):
    """A product's sheet: figures, bands, tables, windows."""
    found = get_object_or_404(Product, pk=pk)
    revisions = list(found.revisions.all())
    sheet = selectors.sheet_of(revisions[0]) if revisions else None
    trouble = selectors.trouble_of(revisions[0]) if revisions else ""
    told = {c["key"] for c in revisions[0].document["components"] if "solids_pct" in c} if sheet else ()
    components = [(c, c.key in told) for c in sheet.components] if sheet else ()
    context = {"components": components, "product": found, "revisions": revisions, "sheet": sheet, "trouble": trouble}
    return render(request, "materials/product.html", context)


def schema(request):
    """The published JSON Schema of a data sheet."""
    return HttpResponse(selectors.schema_text(), content_type="application/schema+json")


class ImportForm(WorkshopForm):
    """A data sheet or coating systems, from a file."""

    file = forms.FileField(
        label="Data sheet or systems (YAML or JSON)", widget=file_input(services.MAX_BYTES, accept=".yaml,.yml,.json")
    )
    why = forms.ChoiceField(
        label="A sheet that is here already is revised because of", choices=SheetRevision.Why.choices
    )


class Import(OnceView):
    """Import a data sheet, or a list of systems, or say which field is wrong."""

    form_class = ImportForm
    template = "materials/import.html"
    action = "import sheet"
    heading = "Import a data sheet"
    button = "Import"
    done = "Imported."

    def context(self, form):
        return {"problems": getattr(self, "problems", ())}

    def prepare(self, form):
        """The file read and checked, before anything is locked: checked systems, or a checked sheet."""
        document = services.read_document(form.cleaned_data["file"].read(services.MAX_BYTES + 1))
        if isinstance(document, list):
            return services.check_systems(document)
        try:
            return services.check_sheet(document)
        except SheetError as error:
            self.problems = error.problems
            raise Refused("nothing was imported: the fields below are wrong", "file") from error

    def carry_out(self, form):
        if isinstance(self.prepared, list):
            services.store_systems(self.prepared, self.request.user)
            return reverse("materials:list")
        revision = services.store_sheet(self.prepared, form.cleaned_data["why"])
        return reverse("materials:product", args=[revision.product_id])
