"""A sheet pasted, or sent as a PDF: what is read off it is proposed beside its lines, each value taken or refused."""

from dataclasses import dataclass, field

from django import forms
from django.http import Http404, HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views import View

from emplastra.core.product import entry, pasted, sheet_pdf
from emplastra.core.product.asks import KINDS
from emplastra.core.product.label import Means
from emplastra.materials.models import Product
from emplastra.shared import asked, tasks
from emplastra.shared.fields import WorkshopForm, file_input
from emplastra.shared.models import Task
from emplastra.shared.services import AlreadyRecorded, Refused, once
from emplastra.shared.task_views import task_or_404

from .views import ProductView

TASK_VIEW = "materials:paste-task"


class PasteForm(WorkshopForm):
    """A sheet's text, or its PDF, and what it is of."""

    kind = forms.ChoiceField(label="It is of", required=False)
    text = forms.CharField(
        label="The sheet’s text",
        required=False,
        max_length=pasted.MAX_CHARACTERS,
        widget=forms.Textarea(attrs={"rows": 12, "spellcheck": "false"}),
        strip=False,
    )
    file = forms.FileField(
        label="Or its PDF", required=False, widget=file_input(sheet_pdf.MAX_BYTES, accept=".pdf,application/pdf")
    )

    def __init__(self, *args, product=None, **kwargs):
        super().__init__(*args, **kwargs)
        self.product = product
        groups = [(g, kinds) for g, kinds in entry.kinds_by_group()]
        self.fields["kind"].choices = [("", "choose"), *groups]
        if product is not None:
            self.fields["kind"].widget = forms.HiddenInput()

    def clean(self):
        data = super().clean()
        if self.product is None and not data.get("kind") and "kind" not in self.errors:
            self.add_error("kind", "choose what the sheet is of: what is asked follows from it")
        if not data.get("file") and not (data.get("text") or "").strip() and "text" not in self.errors:
            self.add_error("text", "paste the sheet’s text, or send its PDF")
        return data


@dataclass
class Line:
    """A line of the sheet with what is proposed of it; missed: it holds a figure and was not understood."""

    number: int
    text: str
    proposals: list = field(default_factory=list)
    missed: bool = False


@dataclass
class Shown:
    """A proposal as it is shown: its field's name in the form, its text as read or as changed, whether it is taken."""

    key: str
    called: str
    text: str
    doubt: str
    taken: bool


class Paste(View):
    """Text in, proposals out; what is taken goes into the product's form, where it is looked at once more."""

    def form(self, data=None, files=None, initial=None):
        """The form for the text."""
        return PasteForm(data, files, initial=initial or {}, workshop=self.request.workshop, product=self.product)

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        given = asked.a_count(request.GET, "product")
        self.product = get_object_or_404(Product, pk=given) if given else None

    def get(self, request, **kwargs):
        return self.page(self.form(initial={"kind": request.GET.get("kind", "")}))

    def page(self, form, status=200, **more):
        """The page with this form, and with what was read."""
        context = {"form": form, "product": self.product, "action": self.request.get_full_path(), **more}
        return render(self.request, "materials/paste.html", context, status=status)

    def post(self, request, **kwargs):
        if not request.user.may_write:
            return self.page(self.form(), 403)
        form = self.form(request.POST, request.FILES)
        if not form.is_valid():
            return self.page(form, 422)
        if form.cleaned_data["file"]:
            return self.begin(form)
        return self.read(form, form.cleaned_data["text"])

    def begin(self, form):
        """A PDF is read by a process of its own."""
        upload = form.cleaned_data["file"]
        if upload.size > sheet_pdf.MAX_BYTES:
            form.add_error("file", "has more than 20 MB: paste the pages with the figures")
            return self.page(form, 422)
        back = reverse("materials:paste") + (f"?product={self.product.pk}" if self.product else "")
        about = {
            "doing": "Reading",
            "file": upload.name[-80:],
            "view": TASK_VIEW,
            "back": back,
            "kind": form.cleaned_data["kind"],
            "product": self.product.pk if self.product else None,
        }

        def carry_out():
            path = tasks.keep(upload, "pdf")
            program = "emplastra.core.product.sheet_pdf"
            return tasks.program(self.request.user, "sheet", program, path, about=about).get_absolute_url()

        told = {"path": self.request.path, "file": upload.name, "size": upload.size, "kind": form.cleaned_data["kind"]}
        try:
            return HttpResponseRedirect(
                once(self.request.user, form.cleaned_data["token"], "read pdf", told, carry_out)
            )
        except (AlreadyRecorded, Refused):
            form.add_error("file", "was sent from here already: open this page anew")
            return self.page(form, 409)

    def read(self, form, text):
        """Proposals beside their lines; with those taken, the product's own form."""
        try:
            found = pasted.read_text(text, Means(self.request.workshop.units))
        except pasted.PasteError as error:
            form.add_error("text", str(error))
            return self.page(form, 422)
        if "onward" in self.request.POST:
            return self.onward(form, found)
        lines = self.lines(found)
        taken = sum(p.taken for line in lines for p in line.proposals)
        return self.page(form, lines=lines, found=found, taken=taken, count=len(found.proposals))

    def lines(self, found):
        """Lines with their proposals; all without a doubt are taken by one tap, which is seen."""
        all_sure, told = "sure" in self.request.POST, set(self.request.POST.getlist("take"))
        by_line = {}
        for n, p in enumerate(found.proposals):
            key = f"{n}-{p.field}"
            text = self.request.POST.get(f"text-{key}", p.text)
            taken = not p.doubt if all_sure else key in told
            by_line.setdefault(p.line, []).append(Shown(key, p.called, text, p.doubt, taken))
        missed = set(found.missed)
        rows = [Line(n, text, by_line.get(n, []), n in missed) for n, text in enumerate(found.lines, 1)]
        return [row for row in rows if row.text]

    def onward(self, form, found):
        """The product's form with what was taken, and nothing else, in its fields."""
        taken = self.taken(found)
        view = ProductView()
        view.setup(self.request, **({"pk": self.product.pk} if self.product else {"kind": form.cleaned_data["kind"]}))
        view.is_whole = True
        whole = view.make_form()
        for name, text in taken.items():
            if name in whole.fields:
                whole.fields[name].initial = text
        whole.fields["source"].initial = f"sheet pasted, {found.name or KINDS[whole.kind].name}"[:400]
        if self.product is None:
            whole.fields["name"].initial = found.name
            address = reverse("materials:new", args=[whole.kind])
        else:
            address = reverse("materials:revise", args=[self.product.pk])
        return view.show(whole, action=f"{address}?all=1&form={whole.form}", pasted=len(taken))

    def taken(self, found):
        """{field: text} of what was taken; several ratios stand one on a line."""
        texts = {}
        for p in (p for line in self.lines(found) for p in line.proposals if p.taken):
            name = p.key.partition("-")[2]
            texts[name] = f"{texts[name]}\n{p.text}" if name == "ratio" and name in texts else p.text
        return texts


class PasteTask(Paste):
    """A PDF being read; then its text with the proposals."""

    def setup(self, request, *args, **kwargs):
        View.setup(self, request, *args, **kwargs)
        self.task = task_or_404(request, kwargs["pk"], kind="sheet")
        product = self.task.about.get("product")
        self.product = Product.objects.filter(pk=product).first() if product else None

    def get(self, request, **kwargs):
        if self.task.state != Task.State.DONE:
            return render(request, "shared/task.html", {"task": self.task})
        text = self.task.result.get("text", "")
        form = self.form({"text": text, "kind": self.task.about.get("kind", ""), "token": "read"})
        if not form.is_valid():
            raise Http404
        form.data = {**form.data, "token": form.fields["token"].initial}
        return self.read(form, text)
