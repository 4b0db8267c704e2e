"""The job map, and what is done with its zones."""

from django.contrib import messages
from django.http import HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from emplastra.climate.models import Place
from emplastra.core.piece.job_map import Cells
from emplastra.core.piece.parts import LAYOUTS
from emplastra.core.surface.steps import STAGES
from emplastra.jobs import mapping
from emplastra.jobs import services as jobs
from emplastra.jobs.models import Job
from emplastra.logbook.models import Kind
from emplastra.logbook.running import running_absence, running_prep
from emplastra.logbook.services import Told, log
from emplastra.materials.selectors import systems
from emplastra.say.book import book_of, book_of_job
from emplastra.shared import clock
from emplastra.shared.codes import code_of
from emplastra.shared.label_pdf import Label, pdf_of
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView
from emplastra.state.joining import why_not
from emplastra.work.job_views import JobView, job_or_404
from emplastra.work.views import zone_or_404

from . import forms, selectors
from .map_svg import HATCHES, view_svg, whole_svg, zone_lines


def job_page(request, pk):
    """A job: its map, how far it was surveyed, its zones."""
    found = job_or_404(pk)
    drawn = selectors.job_map(found, book_of_job(request, found))
    context = {
        "job": found,
        "map": drawn,
        "views": [(view.name, view_svg(view, drawn.zones)) for view in drawn.views],
        "lines": zone_lines(drawn.zones, request.workshop.units, drawn.is_numbered),
        "stages": [(stage, HATCHES[stage]) for stage in STAGES],
        "filings": Job.Filing.choices,
        "layouts": [(key, name) for key, (name, _) in LAYOUTS.items()],
    }
    return render(request, "survey/map.html", context)


def map_svg(request, pk):
    """The map as a file."""
    found = job_or_404(pk)
    drawn = selectors.job_map(found, book_of_job(request, found))
    patterns = render_to_string("patterns.html").replace(' aria-hidden="true" focusable="false"', "")
    inner = patterns[patterns.index("<defs>") : patterns.index("</defs>") + len("</defs>")]
    answer = HttpResponse(whole_svg(found.name, drawn.views, drawn.zones, inner), content_type="image/svg+xml")
    answer["Content-Disposition"] = f'attachment; filename="{slugify(found.name) or "job"}-map.svg"'
    return answer


def labels(request, pk):
    """Labels for the pieces of a job: what it is, and a code that leads to its page."""
    found = job_or_404(pk)
    zones = book_of_job(request, found).zones_of(found)
    if request.GET.get("as"):
        told = [
            Label(f"Z{zone.pk}", zone.get_absolute_url(), (zone.name, zone.panel, str(found), request.workshop.name))
            for zone in zones
        ]
        return pdf_of(request, told, "labels-of-pieces")
    codes = [(zone, code_of(request, zone.get_absolute_url())) for zone in zones]
    return render(request, "survey/labels.html", {"job": found, "codes": codes})


class StartLayout(JobView):
    """Zones of a starter layout, by the overall size of the piece."""

    form_class = forms.LayoutForm
    template = "survey/layout.html"
    action = "starter layout"
    heading = "Starter layout"
    button = "Make these zones"
    done = "Zones made: measures are those of the whole piece, so check each when you walk round."

    def initial(self):
        layout = self.request.GET.get("layout", "cab")
        return {"layout": layout if layout in LAYOUTS else "cab"}

    def form_kwargs(self):
        return {"places": Place.objects.filter(in_use=True), "systems": systems()}

    def context(self, form):
        return {"job": self.job, "layouts": [(name, [p.name for p in pieces]) for name, pieces in LAYOUTS.values()]}

    def carry_out(self, form):
        data, user = form.cleaned_data, self.request.user
        sizes = (data["length_mm"], data["width_mm"], data["height_mm"])
        measures = {name: data[name] for name in ("substrate", "thickness_mm")}
        made = mapping.start_layout(self.job, data["layout"], user, sizes, **measures)
        now = clock.now()
        if data["place"]:
            zones = tuple((zone, 1.0, "") for zone in made)
            log(user, Told(Kind.MOVED, now, now, zones, {"place": data["place"]}))
        if data["system"]:
            for zone in made:
                jobs.adopt_system(zone, user, data["system"])
        return self.job.get_absolute_url()


def refuse_running(zone):
    """Refuse while something that was begun on a zone has no end yet: its end could not be told any more."""
    if running_absence(zone):
        raise Refused("it is away: log it back first")
    if running_prep(zone):
        raise Refused("acid prep stands wet on it: rinse it first")


class ZoneAct(OnceView):
    """Something done to a zone of the map."""

    template = "survey/zone_act.html"
    explain = ""

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.zone = zone_or_404(kwargs["pk"])

    def post(self, request, **kwargs):
        if self.zone.retired:
            form = self.make_form(request.POST.copy())
            form.is_valid()
            form.add_error(None, f"this zone is retired: {self.zone.retired}")
            return self.show(form, 422)
        return super().post(request, **kwargs)

    def others(self):
        """The job's other zones, spots left out."""
        return self.zone.job.zones.in_use().filter(parent=None).exclude(pk=self.zone.pk)

    def context(self, form):
        book_of(self.request, self.zone)
        return {"zone": self.zone, "explain": self.explain}


class PlaceZone(ZoneAct):
    """Where a zone is drawn."""

    form_class = forms.PlaceForm
    template = "survey/place.html"
    action = "place on map"
    heading = "On the map"
    done = "Placed."

    def initial(self):
        cells = jobs.drawn_at(self.zone)
        return {name: getattr(cells, name) for name in forms.PlaceForm.names}

    def context(self, form):
        return super().context(form) | {"preview": place_preview(self.zone, form)}

    def carry_out(self, form):
        jobs.place(self.zone, Cells(**{name: form.cleaned_data[name] for name in forms.PlaceForm.names}))
        return self.zone.job.get_absolute_url()


def place_preview(zone, form):
    """The view as it would be with the zone where the form says; "" while it cannot be."""
    told = form.cells()
    if told is None:
        return ""
    rows = [
        row
        for row in jobs.places_of(zone.job).select_related("zone")
        if row.zone_id != zone.pk and row.view == told.view
    ]
    return selectors.plain_view(told, zone, rows)


@require_POST
def place_output(request, pk):
    """The view while a zone is being placed: a fragment."""
    zone = zone_or_404(pk)
    form = forms.PlaceForm(request.POST, workshop=request.workshop)
    form.is_valid()
    return render(request, "survey/place_output.html", {"preview": place_preview(zone, form)})


class DuplicateZone(ZoneAct):
    form_class = forms.NameForm
    action, heading, button = "duplicate zone", "Duplicate", "Duplicate it"
    done = "Duplicated: measures and plan; nothing logged, nothing found."
    explain = "The same measures and plan again, beside it on the map."

    def initial(self):
        return {"name": f"{self.zone.name}, 2"[:80]}

    def carry_out(self, form):
        mapping.duplicate(self.zone, self.request.user, form.cleaned_data["name"])
        return self.zone.job.get_absolute_url()


class MirrorZone(ZoneAct):
    form_class = forms.NameForm
    action, heading, button = "mirror zone", "Mirror", "Mirror it"
    done = "Mirrored: its shape and measures. What was found on one side is not true of the other."
    explain = (
        "The same shape on the other side of the piece. Findings are not shared: each side is looked at by itself."
    )

    def initial(self):
        return {"name": mapping.other_side(self.zone.name)}

    def carry_out(self, form):
        mapping.mirror(self.zone, self.request.user, form.cleaned_data["name"])
        return self.zone.job.get_absolute_url()


class SplitZone(ZoneAct):
    form_class = forms.SplitForm
    action, heading, button = "split zone", "Split", "Split it"
    done = "Split: both parts go on from what was logged."
    explain = (
        "Two zones in its place. Both keep its history and its plan; the first takes the share you give, the "
        "other the rest."
    )

    def initial(self):
        return {"first": f"{self.zone.name}, a"[:80], "second": f"{self.zone.name}, b"[:80], "share": 50.0}

    def carry_out(self, form):
        data = form.cleaned_data
        refuse_running(self.zone)
        mapping.split(self.zone, self.request.user, (data["first"], data["second"]), data["share"] / 100)
        return self.zone.job.get_absolute_url()


class JoinZones(ZoneAct):
    form_class = forms.JoinForm
    action, heading, button = "join zones", "Join", "Join them"
    done = "Joined."
    explain = "One zone in the place of two. Their stacks must be equal and no clock may run on either."

    def form_kwargs(self):
        return {"others": self.others()}

    def initial(self):
        return {"name": self.zone.name}

    def carry_out(self, form):
        other = form.cleaned_data["other"]
        other.job = self.zone.job
        book = book_of(self.request, self.zone)
        reason = why_not(*book.states([self.zone.pk, other.pk]))
        if reason:
            raise Refused(reason, "other")
        new = mapping.join(self.zone, other, self.request.user, form.cleaned_data["name"])
        return new.job.get_absolute_url()


class RetireZone(ZoneAct):
    form_class = forms.RetireForm
    action, heading, button = "retire zone", "Retire", "Retire it"
    done = "Retired: its record stays."
    explain = "No more work is done on it: cut out, replaced, given back. What was logged and found is kept."

    def carry_out(self, form):
        refuse_running(self.zone)
        mapping.retire(self.zone, form.cleaned_data["why"])
        return self.zone.job.get_absolute_url()


class OpenSpot(ZoneAct):
    form_class = forms.SpotForm
    action, heading, button = "open spot", "Open a spot", "Open it"
    done = "Spot opened: it has a log and a stack of its own; the zone is not done while it is open."
    explain = "A repaired or flawed area within the zone."

    def form_kwargs(self):
        return {"systems": systems()}

    def initial(self):
        return {"name": f"{self.zone.name}, spot {self.zone.spots.count() + 1}"[:80]}

    def carry_out(self, form):
        data = form.cleaned_data
        spot = mapping.open_spot(self.zone, self.request.user, data["name"], data["area"], data["system"])
        return spot.get_absolute_url()


class SpotOf(ZoneAct):
    form_class = forms.SpotOfForm
    action, heading, button = "spot of", "Make it a spot", "Make it a spot"
    done = "It is a spot now: its zone is not done while it is open."
    explain = "It keeps its log and its stack; its area is counted within the zone it lies in."

    def form_kwargs(self):
        return {"others": self.others()}

    def carry_out(self, form):
        mapping.make_spot_of(self.zone, form.cleaned_data["parent"])
        return self.zone.job.get_absolute_url()


def zone_acts(request, pk):
    """What may be done with a zone of the map: a fragment."""
    return render(request, "survey/zone_acts.html", {"zone": zone_or_404(pk)})


def zone_change(request, pk):
    """The same as a page, for where no script fetches it."""
    zone = zone_or_404(pk)
    book_of(request, zone)
    return render(request, "survey/zone_change.html", {"zone": zone})


@require_POST
def bring_back(request, pk):
    """Use a retired zone again."""
    zone = zone_or_404(pk)
    try:
        mapping.bring_back(zone)
        messages.success(request, f"{zone}: in use again.")
    except Refused as refusal:
        messages.error(request, f"{zone}: {refusal}.")
    return HttpResponseRedirect(reverse("survey:map", args=[zone.job_id]))
