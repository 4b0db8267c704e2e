"""Materials: the shelf, a product from its tin, its sheet and how it is revised; systems from a file."""

import json
from datetime import date

import yaml
from django import forms
from django.http import Http404, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.utils.functional import cached_property
from django.views.decorators.http import require_POST

from emplastra.core.product import entry
from emplastra.core.product.asks import KINDS
from emplastra.core.product.sheet import SheetError
from emplastra.jobs import photos
from emplastra.materials import selectors, services
from emplastra.materials.models import LabelPhoto, Product, SheetRevision
from emplastra.say.book import book_of
from emplastra.shared import asked, clock
from emplastra.shared.answers import picture
from emplastra.shared.fields import WorkshopForm, file_input
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView, one_tap
from emplastra.state.touched import touched

from .faults import in_words
from .forms import FORMS, ProductForm, RetireForm
from .reading import reading_of
from .shown import comparison, sheet_page, shelf


def products(request):
    """The shelf by kind, and coating systems."""
    context = shelf(request.GET.get("q", ""), "retired" in request.GET)
    return render(request, "materials/list.html", context | {"systems": selectors.count_systems()})


def product(request, pk):
    """A product: what it answers here and now, its sheet, its labels, its revisions."""
    found = get_object_or_404(Product, pk=pk)
    context = sheet_page(found, here_c(request), request.workshop.units)
    if context["revisions"]:
        context["touched"] = touched(book_of(request), found, context["revisions"][0])
    return render(request, "materials/product.html", context)


def here_c(request):
    """Temperature of the air at the place in view [°C], None where no air is known."""
    band = book_of(request).band(None)
    return None if band is None else band.moment.air_c


def schema(request):
    """The published JSON Schema of a data sheet."""
    return HttpResponse(selectors.schema_text(), content_type="application/schema+json")


def library_schema(request):
    """The published JSON Schema of a library of sheets."""
    return HttpResponse(selectors.library_schema_text(), content_type="application/schema+json")


def kinds(request):
    """Which kind of product a tin holds: asked first, since all else follows from it."""
    return render(request, "materials/kinds.html", {"groups": entry.kinds_by_group()})


class ProductView(OnceView):
    """A product typed off its tin, or its sheet revised."""

    form_class = ProductForm
    template = "materials/tin.html"
    action = "save sheet"
    done = "On the shelf."
    product = None
    is_whole = False

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        if "pk" in kwargs:
            self.product = get_object_or_404(Product, pk=kwargs["pk"])
            self.newest = self.product.revisions.first()
            if self.newest is None or selectors.sheet_of(self.newest) is None:
                raise Http404
            self.base, self.number = self.newest.document, self.newest.number
        else:
            kind = kwargs["kind"]
            if kind not in KINDS:
                raise Http404
            comes = request.GET.get("form", "")
            comes = comes if comes in FORMS else KINDS[kind].forms[0]
            self.base, self.number, self.newest = entry.skeleton(kind, comes, KINDS[kind].name), 0, None

    @property
    def whole(self):
        """True if all that a full sheet may say is asked."""
        return self.is_whole or "all" in self.request.GET

    def form_kwargs(self):
        return {"base": self.base, "whole": self.whole, "is_new": self.product is None}

    def initial(self):
        return {"based_on": self.number}

    @cached_property
    def here_c(self):
        """The temperature here as the page was opened with, else as it is now [°C]."""
        told = self.request.POST
        return asked.a_figure(told, "here_c", -60, 60) if told.get("here_c") else here_c(self.request)

    def context(self, form):
        kind = self.base["kind"]
        return {
            "product": self.product,
            "kind": KINDS[kind],
            "preview": self.preview_address(),
            "comes": self.base["form"],
            "forms": [(key, FORMS[key]) for key in KINDS[kind].forms],
            "whole": self.whole,
            "here": self.here_c,
            "reading": reading_of(form, self.here_c),
            "rows": [(form[name], form.typical(name)) for name in form.texts],
            "more_rows": [(form[name], form.typical(name)) for name in form.more],
            "assumed": set(form["assume"].value() or ()) if "assume" in form.fields else set(),
            "action": self.request.get_full_path(),
        }

    def preview_address(self):
        """Where a keystroke is answered."""
        name, key = ("revise", self.product.pk) if self.product else ("new", self.base["kind"])
        return reverse(f"materials:{name}-preview", args=[key]) + f"?form={self.base['form']}" + "&all=1" * self.whole

    def prepare(self, form):
        photo = form.cleaned_data.get("photo")
        picture = photos.clean(photo.read()) if photo else None
        document = {**form.made.document, "product": form.cleaned_data["name"]}
        document["date"] = _day(form, self.request, self.base)
        try:
            return services.check_sheet(document), picture
        except SheetError as error:
            path, message = error.problems[0]
            raise Refused(message, entry.field_of(path, document) or None) from error

    def carry_out(self, form):
        checked, picture = self.prepared
        why = form.cleaned_data.get("why") or SheetRevision.Why.MAKER
        try:
            revision = services.store_sheet(checked, why, self.request.user, form.cleaned_data["based_on"] or 0)
        except services.StaleSheet as stale:
            self.stale = stale.newest
            raise Refused(
                f"{stale.newest.who or 'Somebody'} saved revision {stale.newest.number} meanwhile: what differs stands "
                "below. Tap Save mine over it, or open the sheet for theirs"
            ) from stale
        if picture is not None:
            label = services.keep_label(revision.product, self.request.user, picture)
            photos.write(label, picture)
        return reverse("materials:product", args=[revision.product_id])

    def show(self, form, status=200, **more):
        stale = getattr(self, "stale", None)
        if stale is not None:
            more |= {"theirs": stale, "differs": selectors.difference(stale.document, form.made.document)}
            form, status = self.based_on(form, stale.number), 409
        return super().show(form, status, **more)


def _day(form, request, base):
    """The day of a sheet: as told, else today for a tin that was read today."""
    told = form.cleaned_data.get("date")
    if told is not None:
        return told.isoformat()
    if isinstance(base.get("date"), str) and form.cleaned_data.get("why") != SheetRevision.Why.MAKER and base["date"]:
        return base["date"]
    today: date = clock.now().astimezone(request.workshop.zone).date()
    return today.isoformat()


@require_POST
def preview(request, **kwargs):
    """What is understood of a product as typed so far: a fragment."""
    view = ProductView()
    view.setup(request, **kwargs)
    form = view.make_form(request.POST)
    context = {
        "reading": reading_of(form, view.here_c),
        "workshop": request.workshop,
        "swapped": True,
        "kind": KINDS[view.base["kind"]],
    }
    return render(request, "materials/answer.html", context)


def label_photo(request, pk, size):
    """The file of a label's photo; signed in only."""
    found = get_object_or_404(LabelPhoto, pk=pk)
    path = photos.file_of(found, size)
    if path is None:
        raise Http404
    return picture(request, path, f"{found.sha256}-{size}")


@require_POST
def starter(request):
    """The starter shelf: an unbranded product of each kind, all its figures assumed."""
    url = reverse("materials:list")

    def carry_out():
        services.add_starter(request.user)
        return url

    one_tap(request, "starter shelf", {"path": request.path}, carry_out, "Starter shelf", "The starter shelf stands.")
    return HttpResponseRedirect(url)


class Retire(OnceView):
    """Off the shelf, or back on it; kept wherever it is used."""

    form_class = RetireForm
    template = "materials/retire.html"
    action = "retire product"
    done = "Written down."

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.product = get_object_or_404(Product, pk=kwargs["pk"])

    @property
    def heading(self):
        """What is done here."""
        return f"Take {self.product} off the shelf"

    def form_kwargs(self):
        return {"product": self.product}

    def context(self, form):
        return {"product": self.product}

    def carry_out(self, form):
        back = "back" in self.request.POST
        services.retire(self.product, self.request.user, not back, None if back else form.cleaned_data["superseded_by"])
        return reverse("materials:product", args=[self.product.pk])


def compare(request, pk):
    """Two products side by side, or two revisions of one."""
    found = get_object_or_404(Product, pk=pk)
    other_id, number = asked.a_count(request.GET, "with"), asked.a_count(request.GET, "revision")
    other = Product.objects.filter(pk=other_id).first() if other_id else None
    context = comparison(found, other, number, here_c(request), request.workshop.units)
    return render(request, "materials/compare.html", context | {"others": Product.objects.exclude(pk=pk)})


def export(request, pk, form):
    """One sheet as a file."""
    found = get_object_or_404(Product, pk=pk)
    revision = found.revisions.first()
    if revision is None:
        raise Http404
    return _file(revision.document, f"sheet-{pk}", form)


def library(request, form):
    """The whole shelf as one file, newest revisions."""
    return _file(selectors.library(), "shelf", form)


def _file(document, name, form):
    if form == "json":
        text, kind = json.dumps(document, indent=2, ensure_ascii=False), "application/json"
    else:
        text, kind = yaml.safe_dump(document, sort_keys=False, allow_unicode=True), "application/yaml"
    answer = HttpResponse(text, content_type=f"{kind}; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{name}.{form}"'
    return answer


class ImportForm(WorkshopForm):
    """A data sheet, a library of them, or coating systems, from a file."""

    file = forms.FileField(
        label="Data sheet, library or systems (YAML or JSON)",
        widget=file_input(services.MAX_BYTES, accept=".yaml,.yml,.json"),
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
        """The file read and checked, before anything is locked: checked systems, a library, or a sheet."""
        data = form.cleaned_data["file"].read(services.MAX_BYTES + 1)
        document = services.read_document(data)
        if isinstance(document, list):
            return services.check_systems(document)
        try:
            many = isinstance(document, dict) and document.get("format") == selectors.LIBRARY
            return services.check_library(document) if many else services.check_sheet(document)
        except SheetError as error:
            self.problems = in_words(error.problems, data, document)
            raise Refused("nothing was imported: the fields below are wrong", "file") from error

    def carry_out(self, form):
        if isinstance(self.prepared, list):
            services.store_systems(self.prepared, self.request.user)
            return reverse("plans:systems")
        why = form.cleaned_data["why"]
        if isinstance(self.prepared, services.CheckedLibrary):
            services.store_library(self.prepared, why, self.request.user)
            return reverse("materials:list")
        revision = services.store_sheet(self.prepared, why, self.request.user)
        return reverse("materials:product", args=[revision.product_id])
