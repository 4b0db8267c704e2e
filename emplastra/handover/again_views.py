"""Looking again after years: faces one by one, and what the looks say of systems."""

from django import forms as plain
from django.http import HttpResponseRedirect
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.care.grades import KINDS
from emplastra.core.care.held import AGES, VERDICTS, Held, by, like
from emplastra.core.survey.topics import DENSITY, SIZES
from emplastra.jobs import handing, photos, registers
from emplastra.jobs.models import Photo, Revisit
from emplastra.say.book import book_of, book_of_job
from emplastra.shared import clock
from emplastra.shared.fields import WorkshopForm, day_input, file_input
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView, one_tap
from emplastra.state.handed import faces_of
from emplastra.state.held import cases
from emplastra.work.job_views import job_or_404
from emplastra.work.views import zone_or_404

TOLD = ("kind", "much", "size", "where")
"""Fields of one kind of failure."""
ROWS = 3
"""So many kinds of failure are told in one look."""
SHOWN = 40


class AgainForm(WorkshopForm):
    """A face looked at again: same, worse or failed; what, how much, where."""

    verdict = plain.ChoiceField(label="How it is", choices=list(VERDICTS.items()), widget=plain.RadioSelect)
    seen = plain.DateField(label="Seen on", widget=day_input())
    note = plain.CharField(label="Note", max_length=200, required=False)
    photo = plain.FileField(label="Photo", required=False, widget=file_input(photos.MAX_BYTES, accept="image/*"))

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        kinds = [("", "nothing more"), *((key, kind.name) for key, kind in KINDS.items())]
        sizes = [("0", "size not told"), *((str(n), f"{n}: {words}") for n, words in SIZES.items())]
        for n in range(1, ROWS + 1):
            self.fields[f"kind{n}"] = plain.ChoiceField(label=f"What, {n}", choices=kinds, required=False)
            self.fields[f"much{n}"] = plain.ChoiceField(
                label=f"How much, {n}", choices=[(k, f"{k}: {words}") for k, words in DENSITY.items()], required=False
            )
            self.fields[f"size{n}"] = plain.ChoiceField(label=f"How large, {n}", choices=sizes, required=False)
            self.fields[f"where{n}"] = plain.CharField(label=f"Where, {n}", max_length=80, required=False)

    @property
    def rows(self):
        """The fields of each kind that is told, together."""
        return [[self[f"{name}{n}"] for name in TOLD] for n in range(1, ROWS + 1)]

    @property
    def plain_fields(self):
        """The fields beside them."""
        return [self[name] for name in ("verdict", "seen", "note", "photo")]

    def found(self):
        """[(kind, quantity, size, where)] that were told."""
        data = self.cleaned_data
        told = [[data[f"{name}{n}"] for name in TOLD] for n in range(1, ROWS + 1)]
        return [(kind, much or 0, size or 0, where) for kind, much, size, where in told if kind]

    def clean(self):
        data = super().clean()
        for n in range(1, ROWS + 1):
            if data.get(f"kind{n}") and data.get(f"much{n}") in {None, "", "0"}:
                self.add_error(f"much{n}", "say how much of it, from 1 to 5")
        return data


class Again(OnceView):
    """Look at a face again."""

    form_class, template, action = AgainForm, "handover/look_again.html", "look again"
    heading, button, done = "Look again", "Write it down", "Written down."

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.zone = zone_or_404(kwargs["pk"])
        book_of(request, self.zone)

    def initial(self):
        verdict = self.request.GET.get("as", "")
        here = clock.now().astimezone(self.request.workshop.zone)
        return {"seen": here.date(), "verdict": verdict if verdict in VERDICTS else ""}

    def context(self, form):
        face = faces_of(book_of(self.request, self.zone), [self.zone])[0]
        return {
            "zone": self.zone,
            "face": face,
            "heirs": self.zone.heirs.filter(removed=False),
            "looks": handing.looks_at([self.zone])[self.zone.pk],
            "photos": [photo for photo in self.zone.photos.all() if photo.when == Photo.When.AFTER][-2:],
        }

    def prepare(self, form):
        return photos.sent(form.cleaned_data.get("photo"))

    def carry_out(self, form):
        data, user = form.cleaned_data, self.request.user
        photo = (
            photos.keep(self.zone, user, self.prepared, Photo.When.AFTER, f"looked at again, {data['seen']}")
            if self.prepared
            else None
        )
        handing.look_again(self.zone, user, data["seen"], data["verdict"], form.found(), data["note"], photo)
        return reverse("handover:again", args=[self.zone.job_id])


def again(request, pk):
    """All faces of a job, to be looked at one after the other; what was put off and waits for a look."""
    job = job_or_404(pk)
    book = book_of_job(request, job)
    zones = book.zones_of(job)
    looks = handing.looks_at(zones)
    today = book.facts.now.astimezone(book.facts.workshop.zone).date()
    faces = [(face, looks[face.zone.pk], _age(face, today)) for face in faces_of(book, zones)]
    context = {
        "job": job,
        "faces": faces,
        "seen": sum(bool(rows) and rows[-1].seen == today for _, rows, _ in faces),
        "watches": [watch for watch in registers.watches() if watch.zone.job_id == job.pk],
        "today": today,
    }
    return render(request, "handover/again.html", context)


def _age(face, today):
    """How old a finish is, in words; "" where none is on."""
    if face.finished is None:
        return ""
    months = round((today - face.finished).days / 30.44)
    if months < 24:
        return f"{months} month{'s' if months != 1 else ''}"
    return f"{months / 12:.0f} years"


@require_POST
def same(request, pk):
    """One tap: the face is as it was."""
    zone = zone_or_404(pk)
    url = reverse("handover:again", args=[zone.job_id])

    def carry_out():
        today = clock.now().astimezone(request.workshop.zone).date()
        if Revisit.objects.filter(zone=zone, seen=today).exists():
            raise Refused("was looked at today already: tell what is different there")
        handing.look_again(zone, request.user, today, "same")
        return url

    one_tap(request, "same", {"zone": pk}, carry_out, zone, f"{zone}: the same as it was.", scope=f"{pk}")
    return HttpResponseRedirect(url)


def held(request):
    """Did a system hold here? By system, preparation, place and age, with the cases behind it."""
    book_of(request)
    asked = {name: request.GET.get(name, "") for name in ("system", "prepared", "place")}
    age = request.GET.get("age", "")
    years = AGES[int(age)] if age in {str(n) for n in range(len(AGES))} else None
    every = cases()
    found = like(every, **asked, years=years)
    rest = [(name, by(found.cases, name)) for name in ("system", "prepared", "place")]
    ages = [(str(n), _span(a, b), like(found.cases, years=(a, b))) for n, (a, b) in enumerate(AGES)]
    context = {
        "found": found,
        "every": Held(every),
        "asked": asked | {"age": age},
        "groups": [(TITLES[name], name, groups) for name, groups in rest],
        "ages": [row for row in ages if row[2].of],
        "cases": sorted(found.cases, key=lambda case: (case.held, -case.about.seen.toordinal()))[
            : None if request.GET.get("all") else SHOWN
        ],
    }
    return render(request, "handover/held.html", context)


TITLES = {"system": "System", "prepared": "Preparation", "place": "Place of the face"}


def _span(low, high):
    return f"over {low:g} years" if high > 100 else f"{low:g} to {high:g} years" if low else f"under {high:g} years"
