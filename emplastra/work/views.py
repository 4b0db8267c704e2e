"""Logging, correcting and undoing; the Window."""

from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.air.dewpoint import dew_point_working
from emplastra.core.surface.missed import DEFAULT_GRIT, remedy
from emplastra.core.surface.names import Status, StepKind
from emplastra.core.surface.steps import DEFER, STEPS
from emplastra.jobs import copies
from emplastra.jobs import services as jobs
from emplastra.logbook import services
from emplastra.logbook.models import KINDS, Entry, Kind
from emplastra.say.acts import log_page
from emplastra.say.book import book_of
from emplastra.say.coating_day import coating_view
from emplastra.say.metal import metal_of
from emplastra.say.taps import watches
from emplastra.say.whatif import WhatIf, state_if
from emplastra.say.window import window_view
from emplastra.shared import asked
from emplastra.shared.services import Refused
from emplastra.state.lifeline import Scale, marks, ticks
from emplastra.state.trail import recalled_on

from .coat_views import LogCoat
from .forms import MissedForm
from .gauge_views import LogGauge, LogLevel
from .log_views import LogView, ZoneView, zone_or_404

LOGGED = {kind.key: kind for kind in KINDS.values() if kind.form}
"""Kinds that are logged on a zone by a form, in the order in which they are offered."""
_OWN_VIEWS = {Kind.COAT: LogCoat, Kind.GAUGED: LogGauge, Kind.LEVELLED: LogLevel}


_SHOWN_AT = {Kind.GAUGED: "measure:film", Kind.LEVELLED: "measure:level", Kind.HEATED: "measure:heat"}
"""Kind -> the page that shows what was logged."""


def _view(kind):
    if kind in _OWN_VIEWS:
        return _OWN_VIEWS[kind].as_view()
    return LogView.as_view(kind=LOGGED[kind])


def log(request, pk, kind):
    """Log an entry of a kind on a zone."""
    return _view(kind)(request, pk=pk)


def correct(request, kind, entry):
    """Correct an entry: the same form with its values, and a reason."""
    return _view(kind)(request, entry=entry)


def done(request, pk):
    """Where an entry leads: to the window of its zone, with Undo at hand."""
    entry = get_object_or_404(Entry, pk=pk)
    for message in messages.get_messages(request):
        messages.add_message(request, message.level, str(message), extra_tags=f"{message.extra_tags} undo:{entry.pk}")
    if entry.kind == Kind.WEIGHED:
        offer = request.GET.get("offer") == "least"
        return HttpResponseRedirect(
            reverse("work:pot", args=[entry.weighed.pot_id]) + ("?offer=least" if offer else "")
        )
    row = entry.places_on.first()
    if entry.kind in _SHOWN_AT:
        return HttpResponseRedirect(reverse(_SHOWN_AT[entry.kind], args=[row.zone_id]))
    if entry.kind not in {Kind.BARED, Kind.MOVED}:
        return HttpResponseRedirect(reverse("work:now", args=[row.zone_id]))
    return HttpResponseRedirect(reverse("plans:build-up", args=[row.zone_id]) if row else reverse("bench:home"))


@require_POST
def undo(request, pk):
    """Void one's own entry by one tap."""
    entry = get_object_or_404(Entry, pk=pk)
    try:
        services.undo(request.user, entry)
        messages.success(request, f"{entry.get_kind_display()}: undone.")
    except Refused as refusal:
        messages.error(request, f"{entry.get_kind_display()} {refusal}.")
    if entry.kind == Kind.WEIGHED:
        return HttpResponseRedirect(reverse("work:pot", args=[entry.weighed.pot_id]))
    row = entry.places_on.first()
    return HttpResponseRedirect(reverse("record:zone", args=[row.zone_id]) if row else reverse("bench:home"))


def void(request, pk):
    """Strike an entry through, with a reason; one with dependants only together with them."""
    entry = get_object_or_404(Entry, pk=pk)
    named = services.dependants(entry)
    row = entry.places_on.first()
    error = ""
    if request.method == "POST":
        try:
            reason = request.POST.get("reason", "").strip()
            if not reason:
                raise Refused("Reason: write why it is voided, for example: wrong zone")
            services.void(request.user, entry, reason[:200], request.POST.get("together") == str(len(named)))
            messages.success(request, f"{entry.get_kind_display()}: voided.")
            return HttpResponseRedirect(reverse("record:zone", args=[row.zone_id]) if row else reverse("bench:home"))
        except Refused as refusal:
            error = str(refusal)
    context = {"entry": entry, "dependants": named, "error": error, "zone": row.zone if row else None}
    return render(request, "work/void.html", context, status=422 if error else 200)


def spread_working(state):
    """The working of the surface's distance from the dew point now, None without air."""
    if state.now is None:
        return None
    air = state.facts.where.at(state.surface.t_s)
    return dew_point_working(air.air_c, air.rh_pct, air.basis, state.now.temp_c, state.now.basis, state.now.source)


def window_moved(request, pk):
    """Where a zone's window was before: it is part of Now."""
    return HttpResponseRedirect(reverse("work:now", args=[pk]))


def log_start(request, pk):
    """What may be logged on a zone: what comes next, first and large, then the rest in its groups."""
    zone = zone_or_404(pk)
    return render(request, "work/log_start.html", {"zone": zone, "state": book_of(request, zone).state(zone)})


def now(request, pk):
    """Where a zone stands: what may be done now, what stops it, its window with each figure's working, its pots."""
    zone = zone_or_404(pk)
    book = book_of(request, zone)
    state = book.state(zone)
    now_s = book.facts.now.timestamp()
    scale = Scale(now_s - 24 * 3600, now_s + 72 * 3600, 1200.0)
    context = {
        "zone": zone,
        "state": state,
        "scale": scale,
        "marks": marks(state, scale),
        "ticks": ticks(scale, request.workshop, 12),
        "narrow_ticks": ticks(Scale(scale.start_s, scale.end_s, 340.0), request.workshop, 24),
        "now_x": scale.x(now_s),
        "view": window_view(state, book.facts),
        "working": spread_working(state),
        "metal": metal_of(state),
        "coating": coating_view(
            state, request.GET.get("day", ""), scale, asked.a_figure(request.GET, "hours", 0.0, 48.0)
        ),
        "before_cut": copies.prompt_at(zone, state.next_step.kind) if state.next_step else "",
        "works": watches({zone.pk}),
        "recalled": recalled_on(zone),
        "alive": True,
        "defer": DEFER,
        "plan_number": state.facts.build_up.number if state.facts.build_up else 0,
    }
    return render(request, "work/now.html", context)


def working(request, pk):
    """The figures of a zone with their working, as they are or would be: a fragment."""
    zone = zone_or_404(pk)
    book = book_of(request, zone)
    state = state_if(book.state(zone), WhatIf.read(request.GET))
    now_s = book.facts.now.timestamp()
    coating = coating_view(state, "", Scale(now_s, now_s + 72 * 3600, 1200.0))
    context = {"view": window_view(state, book.facts), "state": state, "coating": coating, "zone": zone}
    return render(request, "work/working.html", context)


class Missed(ZoneView):
    """What a missed window costs; chosen, it becomes steps of the plan."""

    form_class = MissedForm
    template = "work/missed.html"
    action = "key what was missed"
    heading = "Missed: what it costs"
    button = "Make it steps"
    done = "Keying and wiping are steps of the plan now."

    def initial(self):
        return {"based_on": self.plan_number}

    def context(self, form):
        state, window = self.state, self.state.surface.window
        is_missed = window is not None and window.status == Status.MISSED
        cost = remedy(state.surface.top, state.facts.area_m2, window.grit, state.surface.t_s) if is_missed else None
        log_it = log_page(self.zone, "keyed").asking(grit=cost.grit) if cost else None
        planned = state.next_kind is not None and state.next_kind.entry == "keyed"
        return {
            "zone": self.zone,
            "state": state,
            "cost": cost,
            "log_it": log_it,
            "planned": planned,
            "defer": DEFER,
            "clock": window,
            "cautions": STEPS[StepKind.ABRADE].cautions,
        }

    def carry_out(self, form):
        state, window = self.state, self.state.surface.window
        if window is None or window.status != Status.MISSED:
            raise Refused("its window is not missed any more")
        if state.next_kind.entry == "keyed":
            raise Refused("keying comes next in the plan already")
        coat = max(state.surface.top.entries, default=None)
        steps = [
            {
                "kind": StepKind.ABRADE,
                "grit": window.grit or DEFAULT_GRIT,
                "note": "window missed",
                "id": jobs.new_step_id(coat),
            },
            {"kind": StepKind.DEGREASE, "id": jobs.new_step_id(coat)},
        ]
        try:
            based_on = form.cleaned_data["based_on"]
            jobs.insert_before(self.zone, self.request.user, state.plan.next_layer.step.id, steps, based_on)
        except jobs.StalePlan as stale:
            raise Refused("somebody changed the plan meanwhile: look again and choose anew") from stale
        return reverse("work:now", args=[self.zone.pk])
