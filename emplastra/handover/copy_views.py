"""Copy before cutting: marks, seams, beads, holes and shapes recorded while they are there."""

from django import forms as plain
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.care.copying import EXAMPLES, read_measures
from emplastra.core.surface.names import StepKind
from emplastra.jobs import copies, photos
from emplastra.jobs.models import Copied, CopiedWord, Photo
from emplastra.say.book import book_of
from emplastra.shared.fields import QuantityField, WorkshopForm, file_input
from emplastra.shared.views import OnceView, one_tap
from emplastra.work.views import zone_or_404

SAYS = ((CopiedWord.Said.MADE, "Part made from it"), (CopiedWord.Said.FITTED, "Fitted, checked against it"))


class CopyForm(WorkshopForm):
    """Something that is recorded before it is cut."""

    kind = plain.ChoiceField(label="What it is", choices=Copied.Kind.choices)
    what = plain.CharField(label="Which", max_length=120, help_text="Bead pattern of the foot, founder’s number")
    photo = plain.FileField(
        label="Photo with a scale", required=False, widget=file_input(photos.MAX_BYTES, accept="image/*")
    )
    scale_mm = QuantityField("length", 1, 2000, label="The scale in it is", required=False)
    datum = plain.CharField(
        label="Datum", max_length=120, required=False, help_text="A hole, an edge, a line that stays when it is cut"
    )
    measures = plain.CharField(
        label="Measures from there",
        required=False,
        max_length=2000,
        widget=plain.Textarea(attrs={"rows": 3}),
    )

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.unit = "in" if self.workshop.units == "us" else "mm"
        self.fields["measures"].help_text = EXAMPLES[self.unit]

    def clean_measures(self):
        try:
            return read_measures(self.cleaned_data["measures"], self.unit)
        except ValueError as error:
            raise plain.ValidationError(str(error)) from error


class Copy(OnceView):
    """What is copied of a face, and one thing more."""

    form_class, template, action = CopyForm, "handover/copy.html", "copy"
    heading, button, done = "Copy before cutting", "Write it down", "Copied. Make the part while the old one is there."

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.zone = zone_or_404(kwargs["pk"])
        book_of(request, self.zone)

    def context(self, form):
        rows = copies.copied_on([self.zone])[self.zone.pk]
        said = copies.prompt_at(self.zone, StepKind.REPAIR)
        return {"zone": self.zone, "rows": rows, "says": SAYS, "marks": copies.marks_told(self.zone), "prompt": said}

    def prepare(self, form):
        return photos.sent(form.cleaned_data.get("photo"))

    def carry_out(self, form):
        data, user, photo = form.cleaned_data, self.request.user, None
        if self.prepared:
            photo = photos.keep(self.zone, user, self.prepared, Photo.When.DURING, f"copy: {data['what']}"[:120])
        names = ("kind", "what", "datum", "measures", "scale_mm")
        copies.copy(self.zone, user, photo=photo, **{name: data[name] for name in names})
        return reverse("handover:copy", args=[self.zone.pk])


@require_POST
def say(request, pk):
    """What became of something copied: made, fitted, or written down by mistake."""
    row = get_object_or_404(Copied.objects.select_related("zone"), pk=pk, zone__removed=False)
    said = request.POST.get("said", "")
    url = reverse("handover:copy", args=[row.zone_id])

    def carry_out():
        copies.say_of_copy(row, request.user, said)
        return url

    one_tap(request, "copy-word", {"copy": pk, "said": said}, carry_out, row.what, "Written down.", scope=f"{pk}{said}")
    return HttpResponseRedirect(url)
