"""Jobs and zones: make, measure, file, copy, delete what has no entries."""

from functools import cached_property

from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.climate.models import Place
from emplastra.core.piece.areas import SHAPES
from emplastra.jobs import registers
from emplastra.jobs import services as jobs
from emplastra.jobs.forms import JobForm, NameForm, ZoneForm, shape_row
from emplastra.jobs.models import Finding, Job, Zone
from emplastra.logbook.models import Entry, Kind
from emplastra.logbook.services import Told
from emplastra.logbook.services import log as log_entry
from emplastra.materials.selectors import systems
from emplastra.shared import asked, clock
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView

from .log_views import zone_or_404


def job_or_404(pk):
    """A job that has not been removed."""
    return get_object_or_404(Job, pk=pk, removed=False)


class JobView(OnceView):
    """A form of a job."""

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.job = job_or_404(kwargs["pk"])


class NewJob(OnceView):
    """Make a job."""

    form_class = JobForm
    action = "new job"
    heading = "New job"
    button = "Make the job"
    done = "Job made. Now its first zone."

    def carry_out(self, form):
        data = form.cleaned_data
        job = Job.objects.create(
            **{k: data[k] for k in ("name", "owner_label", "standard", "promised", "film_by", "road")}
        )
        return reverse("jobs:new-zone", args=[job.pk])


class EditJob(JobView):
    """Change a job's label, standard and promise."""

    form_class = JobForm
    action = "edit job"
    heading = "Job"
    done = "Saved."
    names = ("name", "owner_label", "standard", "promised", "film_by", "road")

    def initial(self):
        return {name: getattr(self.job, name) for name in self.names}

    def carry_out(self, form):
        for name in self.names:
            setattr(self.job, name, form.cleaned_data[name])
        self.job.save()
        return self.job.get_absolute_url()


class CopyJob(JobView):
    """The same zones and plans again, nothing logged."""

    form_class = NameForm
    action = "copy job"
    heading = "Copy the job"
    button = "Copy"
    done = "Copied: zones, measures and plans; nothing logged."

    def initial(self):
        return {"name": f"{self.job.name}, copy"[:80]}

    def carry_out(self, form):
        return jobs.copy_job(self.job, self.request.user, form.cleaned_data["name"]).get_absolute_url()


class ZonePage(OnceView):
    """Measure a zone: its area follows the shapes while they are typed."""

    form_class = ZoneForm
    template = "jobs/zone_form.html"

    def form_kwargs(self):
        return {"ask_reason": self.has_entries, "shapes": self.shapes}

    def measures(self, form):
        """Fields of a revision, from the form."""
        return {name: form.cleaned_data[name] for name in form.measures} | {"shapes": form.shapes}

    def context(self, form):
        area = form.area_m2() if form.is_bound and not form.shape_errors and form.shapes else None
        return {
            "job": self.job,
            "zone": self.zone,
            "area_m2": area,
            "systems": systems(),
            "places": Place.objects.filter(in_use=True),
        }


class NewZone(JobView, ZonePage):
    """A zone with its place and, if chosen, a system."""

    action = "new zone"
    heading = "New zone"
    button = "Make the zone"
    done = "Zone made."
    has_entries, shapes, zone = False, (), None

    @cached_property
    def before(self):
        """The zone that was made before it, if this is the next of several."""
        return self.job.zones.in_use().filter(pk=asked.an_id(self.request.GET, "like")).first()

    def initial(self):
        """What the zone before it is made of."""
        before = self.before
        revision = before.revisions.first() if before else None
        return {name: getattr(revision, name) for name in ZoneForm.measures} if revision else {}

    def context(self, form):
        """The system and the place that were chosen: as typed, else those of the zone before it."""
        found = super().context(form)
        if form.is_bound:
            chosen, given = asked.an_id(self.request.POST, "system"), self.request.POST
        else:
            plan = self.before.build_ups.select_related("system").first() if self.before else None
            system = plan.system.system_id if plan and plan.system else 0
            chosen, given = next((s.pk for s in found["systems"] if s.system_id == system), 0), self.request.GET
        return found | {"chosen": chosen, "stands_in": asked.an_id(given, "place")}

    def carry_out(self, form):
        data, user = form.cleaned_data, self.request.user
        zone = jobs.add_zone(self.job, data["name"], user, data["panel"], **self.measures(form))
        place = Place.objects.filter(pk=asked.an_id(self.request.POST, "place")).first()
        if place:
            now = clock.now()
            log_entry(user, Told(Kind.MOVED, now, now, ((zone, 1.0, ""),), {"place": place}))
        said = ""
        version = next((s for s in systems() if s.pk == asked.an_id(self.request.POST, "system")), None)
        if version:
            said = " ".join(jobs.proposed(zone, version).said)
            jobs.adopt_system(zone, user, version)
        if self.request.POST.get("then") == "next":
            self.done = f"Zone made: {zone.name}. Now the next one."
            return reverse("jobs:new-zone", args=[self.job.pk]) + f"?like={zone.pk}&place={place.pk if place else 0}"
        self.done = f"Zone made: {zone.name}. This is its plan. {said}".strip()
        return reverse("plans:build-up", args=[zone.pk])


class EditZone(ZonePage):
    """New measures; with entries on it, a reason too."""

    action = "edit zone"
    heading = "Measures"
    done = "Measures saved."

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.zone = zone_or_404(kwargs["pk"])
        self.job, self.revision = self.zone.job, self.zone.revisions.first()
        self.has_entries = logged_on(self.zone).exists()
        self.shapes = self.revision.shapes

    def initial(self):
        found = {name: getattr(self.revision, name) for name in ZoneForm.measures}
        return found | {"name": self.zone.name, "panel": self.zone.panel}

    def carry_out(self, form):
        data = form.cleaned_data
        if Zone.objects.in_use().filter(job=self.job, name=data["name"]).exclude(pk=self.zone.pk).exists():
            raise Refused("this job has a zone of that name already", "name")
        self.zone.name, self.zone.panel = data["name"], data["panel"]
        self.zone.save()
        jobs.revise_zone(self.zone, self.request.user, data.get("reason", ""), **self.measures(form))
        return self.zone.get_absolute_url()


def logged_on(zone):
    """Entries on a zone, but for its moves: where it stands is no work on it."""
    return Entry.objects.filter(zones=zone).exclude(kind=Kind.MOVED)


def shape_fragment(request):
    """A row of shapes for a number and a kind, with what was typed in it, as a fragment."""
    n = asked.a_count(request.GET, "n", high=5)
    typed = {key.removeprefix(f"shape{n}-"): value for key, value in request.GET.items() if key != "n"}
    kind = typed.pop("kind", "flat")
    row = shape_row(n, kind if kind in SHAPES else "flat", typed)
    return render(
        request, "jobs/shape_row.html", {"row": row, "unit": "in" if request.workshop.units == "us" else "mm"}
    )


@require_POST
def area(request):
    """The area of the shapes as typed: a fragment."""
    form = ZoneForm(request.POST, workshop=request.workshop, typing=True)
    form.is_valid()
    found = form.area_m2() if form.shapes and not form.shape_errors else None
    return render(request, "jobs/area.html", {"area_m2": found, "form": form, "workshop": request.workshop})


@require_POST
def file_job(request, pk):
    """Open, close or archive a job."""
    found = job_or_404(pk)
    filing = request.POST.get("filing")
    if filing in Job.Filing.values:
        was = found.filing
        jobs.file_job(found, request.user, filing)
        messages.success(request, f"{found}: {found.get_filing_display().lower()}.")
        waits = [w for w in registers.watches() if w.zone.job_id == pk] if was != "open" and filing == "open" else []
        if waits:
            said = ", ".join(f"{w.what} ({w.zone})" for w in waits)
            messages.warning(request, f"Put off or watched before work goes on here: {said}. Look at it first.")
            return HttpResponseRedirect(reverse("handover:again", args=[pk]))
    return HttpResponseRedirect(found.get_absolute_url())


@require_POST
def remove_job(request, pk):
    """Delete a job on which nothing was logged."""
    found = job_or_404(pk)
    entries = Entry.objects.filter(zones__job=found).exclude(kind=Kind.MOVED)
    told = entries.exists() or Finding.objects.filter(zone__job=found).exists() or found.parts_off.exists()
    return _remove(request, found, told, reverse("bench:jobs"))


@require_POST
def remove_zone(request, pk):
    """Delete a zone on which nothing was logged."""
    zone = zone_or_404(pk)
    told = logged_on(zone).exists() or zone.findings.exists() or zone.photos.exists()
    return _remove(request, zone, told, zone.job.get_absolute_url())


def _remove(request, thing, has_entries, url):
    try:
        jobs.remove(thing, request.user, has_entries)
        messages.success(request, f"{thing}: deleted.")
    except Refused as refusal:
        messages.error(request, str(refusal))
        url = request.META.get("HTTP_REFERER") or thing.get_absolute_url()
    return HttpResponseRedirect(url)
