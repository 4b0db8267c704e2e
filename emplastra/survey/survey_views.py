"""Walking round: the survey sheet of a zone, photos, and what is found later."""

from django import forms as plain
from django.http import Http404, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse

from emplastra.core.piece.parts import PARTS
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.steps import DEFER, STEPS
from emplastra.core.survey.answers import Answer
from emplastra.core.survey.topics import PASSES
from emplastra.jobs import mapping, photos, surveying
from emplastra.jobs.models import Finding, Photo
from emplastra.materials.selectors import systems
from emplastra.say.book import book_of
from emplastra.shared import asked
from emplastra.shared.answers import picture
from emplastra.shared.fields import WorkshopForm, file_input

from . import forms, selectors
from .map_views import ZoneAct, job_or_404
from .sheet_form import SheetForm


def start(request, pk):
    """Begin to walk round, or go on: the first zone on which something is not looked at yet."""
    job = job_or_404(pk)
    zones = list(job.zones.in_use().order_by("id"))
    if not zones:
        return HttpResponseRedirect(job.get_absolute_url())
    found = selectors.surveys(zones)
    first = next((zone for zone in zones if not any(s for s in found[zone.pk].statements)), zones[0])
    return HttpResponseRedirect(reverse("survey:sheet", args=[first.pk, "found"]))


class Sheet(ZoneAct):
    """The survey sheet of a zone in one pass."""

    form_class = SheetForm
    template = "survey/sheet.html"
    done = "Written down."

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.stage = kwargs["stage"]
        self.action = f"survey {self.stage}"
        self.heading = f"Survey, {PASSES[self.stage].lower()}"
        known = surveying.held(self.zone)
        self.known = {(t, m): row for (stage, t, m), row in known.items() if stage == self.stage}
        self.found = {(t, m): row for (stage, t, m), row in known.items() if stage == "found"}
        self.revision = self.zone.revisions.first()

    def form_kwargs(self):
        twin = {}
        if self.zone.twin_id:
            twin = {(t, m): row for (_, t, m), row in surveying.held(self.zone.twin).items()}
        before = self.known.get(("uncovered", ""))
        found = self.found if self.stage == "bared" else {}
        return {
            "zone": self.zone,
            "revision": self.revision,
            "stage": self.stage,
            "known": self.known,
            "found": found,
            "twin": twin,
            "uncovered": before.choice if before else "",
        }

    def initial(self):
        return {"how": "bare" if self.stage == "bared" else "paint"}

    def context(self, form):
        zones = list(self.zone.job.zones.in_use().order_by("id").values_list("pk", "name"))
        ids = [pk for pk, _ in zones]
        at = ids.index(self.zone.pk) if self.zone.pk in ids else 0
        known = selectors.surveys([self.zone])[self.zone.pk]
        book_of(self.request, self.zone)
        return super().context(form) | {
            "stage": self.stage,
            "passes": PASSES.items(),
            "place": (at + 1, len(zones)),
            "before": zones[at - 1] if at else None,
            "after": zones[at + 1] if at + 1 < len(zones) else None,
            "part": PARTS[self.revision.part],
            "revision": self.revision,
            "survey": known,
            "photos": self.zone.photos.all(),
            "cautions": STEPS[StepKind.STRIP].cautions,
            "defer": DEFER,
        }

    def carry_out(self, form):
        made = surveying.state(self.zone, self.request.user, self.stage, form.answers)
        self.done = f"{self.zone}: {len(made)} written down." if made else f"{self.zone}: nothing new."
        go = asked.an_id(self.request.POST, "go")
        if go and self.zone.job.zones.in_use().filter(pk=go).exists():
            return reverse("survey:sheet", args=[go, self.stage])
        if self.request.POST.get("go") == "end":
            return reverse("survey:findings", args=[self.zone.job_id])
        return reverse("survey:sheet", args=[self.zone.pk, self.stage])


class PhotoForm(WorkshopForm):
    """A photo from the camera or a file."""

    photo = plain.FileField(label="Photo", widget=file_input(photos.MAX_BYTES, accept="image/*", capture="environment"))
    when = plain.ChoiceField(label="Taken", choices=Photo.When.choices)
    note = plain.CharField(label="Of what", max_length=120, required=False)


class AddPhoto(ZoneAct):
    """A photo of a zone, before or after the work."""

    form_class = PhotoForm
    template = "survey/upload.html"
    action, heading, button = "photo", "Photo", "Keep it"
    done = "Photo kept, without the place that the camera wrote into it."
    explain = "JPEG, PNG or WebP, up to 15 MB and 40 megapixels."

    def initial(self):
        return {"when": self.request.GET.get("when", "before"), "note": self.request.GET.get("note", "")[:120]}

    def prepare(self, form):
        """The picture, decoded and drawn anew."""
        return photos.clean(form.cleaned_data["photo"].read())

    def carry_out(self, form):
        data = form.cleaned_data
        finding = Finding.objects.filter(zone=self.zone, pk=asked.an_id(self.request.GET, "finding")).first()
        photos.keep(self.zone, self.request.user, self.prepared, data["when"], data["note"], finding)
        if finding:
            return finding.get_absolute_url()
        return reverse("survey:sheet", args=[self.zone.pk, "found"]) + "#photos"


def photo(request, pk, size):
    """A photo's file; signed in only."""
    found = get_object_or_404(Photo, pk=pk, zone__removed=False)
    path = photos.file_of(found, size)
    if path is None:
        raise Http404
    return picture(request, path, f"{found.sha256}-{size}")


class FoundMore(ZoneAct):
    """Something found later, at any step: a finding, and a spot if it wants work of its own."""

    form_class = forms.FoundMoreForm
    template = "survey/more.html"
    action, heading, button = "found more", "Found more", "Write it down"
    done = "Written down: it stays open until it is answered and looked at again."

    def form_kwargs(self):
        facts = book_of(self.request, self.zone).facts.zones[self.zone.pk]
        steps = [(s.id, f"{i}. {STEPS[s.kind].name}") for i, s in enumerate(facts.steps, 1)]
        return {"steps": steps, "systems": systems(), "is_spot": self.zone.parent_id is not None}

    def initial(self):
        book = book_of(self.request, self.zone)
        now_at = book.state(self.zone).next_step
        return {
            "evidence": "bare",
            "step": now_at.id if now_at else "",
            "spot": f"{self.zone.name}, spot {self.zone.spots.count() + 1}"[:80],
        }

    def carry_out(self, form):
        data, user = form.cleaned_data, self.request.user
        mark = surveying.next_mark(self.zone, "more")
        answer = Answer("more", mark, data["what"], {}, data["text"], data["evidence"])
        facts = book_of(self.request, self.zone).facts.zones[self.zone.pk]
        stage = "bared" if facts.events else "found"
        made = surveying.state(self.zone, user, stage, [(answer, data["cause"])], data["step"])[0]
        if data["area"]:
            spot = mapping.open_spot(self.zone, user, data["spot"], data["area"], data["system"])
            return spot.get_absolute_url()
        return made.get_absolute_url()
