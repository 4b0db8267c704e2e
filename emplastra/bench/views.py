"""Bench, zones by stage, search, settings."""

from django.conf import settings
from django.http import HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.accounts import services as people
from emplastra.accounts.forms import PersonForm, SettingsForm
from emplastra.accounts.middleware import for_owner
from emplastra.accounts.models import User
from emplastra.climate.models import Place
from emplastra.core.surface.steps import STAGES
from emplastra.say.book import book_of
from emplastra.say.whatif import WhatIf
from emplastra.shared import backup, clock
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView
from emplastra.state.lifeline import Scale, marks, ticks

from . import selectors
from . import windows as windows_of

BEFORE_H, AFTER_H = 4, 28


def _scale(book):
    now_s = book.facts.now.timestamp() // 60 * 60
    return Scale(now_s - BEFORE_H * 3600, now_s + AFTER_H * 3600)


def _rows(request):
    """What Bench shows: pots and zones as rows, each with its shapes."""
    book = book_of(request)
    scale = _scale(book)
    found = selectors.bench(book, bool(request.GET.get("all")))
    return {
        "rows": [(row, marks(row.state, scale) if row.state else ()) for row in found.rows],
        "found": found,
        "scale": scale,
        "ticks": ticks(scale, book.facts.workshop, 4),
        "now_x": scale.x(book.facts.now.timestamp()),
        "show_all": bool(request.GET.get("all")),
    }


def home(request):
    """Bench: across jobs, what may be done now and what will close soon."""
    return render(request, "bench/home.html", _rows(request) | _backup(request))


def _backup(request):
    """When the last backup was made, and if that is too long ago for the owner who looks; the demo needs none."""
    if not request.user.is_owner or settings.PROFILE == "demo":
        return {}
    last = backup.last_backup(settings.DATA_DIR)
    since = last or User.objects.earliest("date_joined").date_joined  # a workshop may itself be younger than that
    return {"backup_is_old": backup.is_old(since, clock.now()), "last_backup": last}


def rows(request):
    """Bench's rows alone: a fragment that the page asks for again and again."""
    return render(request, "bench/rows.html", _rows(request))


def windows(request):
    """Windows of all open zones over six days."""
    what_if = WhatIf.read(request.GET)
    return render(request, "bench/windows.html", windows_of.view(book_of(request), request.GET, what_if))


def windows_rows(request):
    """The rows of Windows alone, as they are or would be: a fragment."""
    what_if = WhatIf.read(request.GET)
    return render(request, "bench/windows_rows.html", windows_of.view(book_of(request), request.GET, what_if))


def zones(request):
    """Open zones, all or those of one stage."""
    book = book_of(request)
    stage = request.GET.get("stage", "")
    scale = _scale(book)
    most = None if request.GET.get("all") else selectors.SHOWN
    states, fitting = book.in_order(lambda each: stage not in STAGES or book.stage_of(each) == stage, most)
    rows = [(s, marks(s, scale)) for s in states]
    context = {
        "rows": rows,
        "stage": stage,
        "count": fitting,
        "more": fitting - len(rows),
        "jobs": selectors.jobs(request.GET.get("filed")),
        "scale": scale,
    }
    context |= {"now_x": scale.x(book.facts.now.timestamp()), "filed": request.GET.get("filed", "")}
    return render(request, "bench/zones.html", context)


def mix(request):
    """What can be mixed next, and pots that are open."""
    book = book_of(request)
    rows = [s for s in book.bench() if s.sheet and s.sheet.form == "mixed" and s.plan.next_layer]
    return render(request, "bench/mix.html", {"rows": rows, "pots": selectors.pot_rows(book)})


def log(request):
    """Choose a zone to log on; then the latest entries."""
    book = book_of(request)
    return render(request, "bench/log.html", {"rows": book.bench(), "entries": selectors.latest_entries()})


def more(request):
    """The rest of the tools, for a phone."""
    return render(request, "bench/more.html")


def search(request):
    """Zones, jobs, products, batches by name."""
    query = request.GET.get("q", "").strip()
    return render(request, "bench/search.html", {"query": query, "found": selectors.find(query)})


@for_owner
class Settings(OnceView):
    """Workshop, time zone, units, places, people."""

    form_class = SettingsForm
    template = "bench/settings.html"
    action = "settings"
    heading = "Settings"
    done = "Settings saved."
    fields = ("name", "time_zone", "units", "assumed_air_c", "assumed_rh_pct", "hourly_rate", "currency")

    def initial(self):
        return {name: getattr(self.request.workshop, name) for name in self.fields}

    def context(self, form):
        return {"places": Place.objects.all(), "people": User.objects.order_by("id"), "kinds": Place.Kind.choices}

    def carry_out(self, form):
        people.change_workshop(**{name: form.cleaned_data[name] for name in self.fields})
        return reverse("bench:settings")


@for_owner
class AddPerson(OnceView):
    """Let somebody new in."""

    form_class = PersonForm
    action = "add person"
    heading = "Somebody new"
    button = "Add"
    done = "Added."

    def carry_out(self, form):
        people.add_person(**{k: form.cleaned_data[k] for k in ("username", "role", "password")})
        return reverse("bench:settings")


@for_owner
@require_POST
def toggle_person(request, pk):
    """Deactivate somebody, or let them in again."""
    person = get_object_or_404(User, pk=pk)
    try:
        people.set_active(person, not person.is_active)
    except Refused as refusal:
        return HttpResponse(str(refusal), status=422, content_type="text/plain; charset=utf-8")
    return HttpResponseRedirect(reverse("bench:settings"))


@for_owner
@require_POST
def save_place(request, pk=None):
    """Add a place, or rename it and take it in or out of use."""
    name, kind = request.POST.get("name", "").strip()[:60], request.POST.get("kind", "shop")
    place = get_object_or_404(Place, pk=pk) if pk else Place()
    taken = Place.objects.filter(name=name).exclude(pk=pk).exists()
    if not name or taken or kind not in Place.Kind.values:
        sentence = "Place: give a name that no other place has."
        return HttpResponse(sentence, status=422, content_type="text/plain; charset=utf-8")
    place.name, place.kind, place.in_use = name, kind, not pk or "in_use" in request.POST
    place.save()
    return HttpResponseRedirect(reverse("bench:settings") + "#places")
