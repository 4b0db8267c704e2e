"""Air: what is logged where, importing and withdrawing."""

from datetime import timedelta

from django.contrib import messages
from django.http import HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.air.log_shape import LogError
from emplastra.core.air.sun import NIGHT_K
from emplastra.core.text import MAX_BYTES
from emplastra.shared import clock
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView

from . import selectors, services
from .chart import chart
from .forms import ImportForm, ReadingForm, ShapeForm
from .models import Forecast, ImportBatch, ImportDraft, Place

AHEAD = timedelta(days=4)


def air(request):
    """Each place: its last days and what is forecast, its faults, its imports."""
    now = clock.now()
    start = now - selectors.SHOWN_BACK
    in_use = selectors.places_in_use()
    found = selectors.airs(in_use, start - timedelta(hours=2), now, request.workshop)
    rows = []
    for place in in_use:
        each = found[place.pk]
        reach = each.forecast.last_s if each.forecast else 0.0
        end = now + (AHEAD if reach > now.timestamp() else timedelta(hours=6))
        old = each.forecast is not None and reach < now.timestamp()
        rows.append((each, chart(each, start, end, request.workshop, now), old))
    batches = ImportBatch.objects.select_related("place", "who", "withdrawal")[:40]
    forecasts = Forecast.objects.select_related("place", "who", "withdrawal").defer("hours")[:20]
    found = {"rows": rows, "batches": batches, "forecasts": forecasts, "night_k": NIGHT_K}
    return render(request, "climate/air.html", found)


class Import(OnceView):
    """Send a file; how it is read is shown before anything of it is used."""

    form_class = ImportForm
    template = "climate/import.html"
    action = "send log"
    heading = "Import a log or a forecast"
    button = "Look at it"
    done = "Read. Nothing of it is used yet."

    def prepare(self, form):
        """The file's bytes, if it can be read at all."""
        data = form.cleaned_data["file"].read(MAX_BYTES + 1)
        try:
            services.understand(data, None, form.cleaned_data["what"] == "forecast")
        except LogError as error:
            self.problems = error.problems
            raise Refused("this file cannot be read", "file") from error
        return data

    def carry_out(self, form):
        data, name = form.cleaned_data, form.cleaned_data["file"].name
        made = services.draft(self.request.user, data["place"], name, self.prepared, data["what"] == "forecast")
        return reverse("climate:shape", args=[made.pk])

    def context(self, form):
        return {"problems": getattr(self, "problems", ())}


class NoteReading(OnceView):
    """Type what a thermometer and a hygrometer show."""

    form_class = ReadingForm
    action = "note reading"
    heading = "Type a reading"
    button = "Note it"
    done = "Noted. Where a logger read at that time, the logger leads."

    def initial(self):
        return {"at": clock.now(), "place": self.request.GET.get("place")}

    def carry_out(self, form):
        data = form.cleaned_data
        services.note_reading(self.request.user, data["place"], data["at"], data["air_c"], data["rh_pct"])
        return reverse("climate:air")


class ConfirmShape(OnceView):
    """How a file is read: what was recognised, what is asked, its first lines, its bad ones; then import."""

    form_class = ShapeForm
    template = "climate/shape.html"
    action = "import log"
    button = "Import"

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.draft = get_object_or_404(ImportDraft.objects.select_related("place"), pk=kwargs["pk"], who=request.user)
        self.data = bytes(self.draft.data)
        self.heading = f"{self.draft.filename}: how it is read"
        self.shape = services.shape_of(self.data)

    def form_kwargs(self):
        return {"draft": self.draft, "recognised": self.shape}

    def initial(self):
        found = self.shape
        if found is None:
            return {}
        known = {name: getattr(found.shape, name) for name in ("date_form", "air_unit") if name not in found.asked}
        return {"zone": "", **known}

    def understood(self, choices):
        """The file read with these choices; its bad shape as an Understood without rows."""
        try:
            return services.understand(self.data, choices, self.draft.is_forecast)
        except LogError as error:
            self.problems = error.problems
            return services.Understood(self.shape, (), None)

    def context(self, form):
        bound = (
            form if form.is_bound else self.make_form({k: v for k, v in {**form.initial, "token": "-"}.items() if v})
        )
        bound.is_valid()
        found = self.understood(bound.choices())
        read = found.read
        rows = [*read.rows[:4], *read.rows[4:][-1:]] if read else []
        problems = read.problems if read else getattr(self, "problems", ())
        bad = read.bad if read else len(problems)
        return {
            "draft": self.draft,
            "found": found,
            "read": read,
            "sample": rows,
            "problems": problems,
            "bad": bad,
            "own_zone": self.request.workshop.time_zone,
        }

    def prepare(self, form):
        """The file read with what was said."""
        try:
            return services.check(self.draft.filename, self.data, form.choices(), self.draft.is_forecast)
        except LogError as error:
            self.problems = error.problems
            raise Refused("nothing was imported: some lines cannot be read", "skip_bad") from error

    def carry_out(self, form):
        user, draft = self.request.user, self.draft
        if draft.is_forecast:
            services.store_forecast(user, [draft.place, *form.cleaned_data.get("also", [])], self.prepared)
            self.done = "Forecast taken."
        elif len(self.prepared.understood.read.rows) > services.MANY:
            self.done = "Begun: its readings are used as soon as all are stored."
            return services.begin_import(user, draft, form.choices()).get_absolute_url()
        else:
            self.done = services.said_of(services.store_log(user, draft.place, self.prepared))
        ImportDraft.objects.filter(pk=draft.pk).delete()
        return reverse("climate:air")


@require_POST
def shape_preview(request, pk):
    """How the file is read with what is chosen so far: a fragment."""
    view = ConfirmShape(request=request)
    view.setup(request, pk=pk)
    form = view.make_form(request.POST)
    return render(
        request, "climate/shape_output.html", {"form": form, "workshop": request.workshop, **view.context(form)}
    )


@require_POST
def throw_away(request, pk):
    """Let go of a file of one's own that was not imported; nobody drops another's."""
    if not ImportDraft.objects.filter(pk=pk, who=request.user).delete()[0]:
        messages.error(request, "That file is somebody else’s, or it is gone already.")
        return HttpResponseRedirect(reverse("climate:air"))
    messages.success(request, "Thrown away. Nothing of it was used.")
    return HttpResponseRedirect(reverse("climate:air"))


def _withdraw(request, thing, service, kept):
    try:
        service(request.user, thing, request.POST.get("reason", "")[:200])
        messages.success(request, f"{thing.filename}: withdrawn. {kept}")
    except Refused as refusal:
        messages.error(request, str(refusal))
    return HttpResponseRedirect(reverse("climate:air"))


@require_POST
def withdraw(request, pk):
    """Stop using an import."""
    kept = "Its readings are kept and no longer used."
    return _withdraw(request, get_object_or_404(ImportBatch, pk=pk), services.withdraw, kept)


@require_POST
def withdraw_forecast(request, pk):
    """Stop using a forecast."""
    kept = "It is kept and no longer used."
    return _withdraw(request, get_object_or_404(Forecast, pk=pk), services.withdraw_forecast, kept)


def places(request):
    """Places, to be named and taken in or out of use."""
    return render(request, "climate/places.html", {"places": Place.objects.all(), "kinds": Place.Kind.choices})


@require_POST
def save_place(request, pk=None):
    """Add a place, or rename it and take it in or out of use."""
    place = get_object_or_404(Place, pk=pk) if pk else Place()
    told = request.POST.get("name", ""), request.POST.get("kind", Place.Kind.SHOP)
    try:
        services.save_place(request.user, place, *told, in_use=not pk or "in_use" in request.POST)
    except Refused as refusal:
        return HttpResponse(str(refusal), status=422, content_type="text/plain; charset=utf-8")
    return HttpResponseRedirect(reverse("climate:places"))
