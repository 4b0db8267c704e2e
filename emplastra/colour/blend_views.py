"""Blending a colour into sound paint beside it: where to stop, what it costs, how much it shows."""

from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.jobs import colours
from emplastra.say.book import book_of_job
from emplastra.shared import asked
from emplastra.shared.services import Refused, new_token
from emplastra.shared.views import one_tap
from emplastra.state.blend import off_by, pairs_of
from emplastra.state.colour import groups_of
from emplastra.work.job_views import job_or_404

from .blend_drawn import drawn
from .colour_views import in_view
from .forms import BlendForm


def blend(request, pk):
    """Panels of sound paint beside a group, and the ways to stop on each."""
    job = job_or_404(pk)
    book = book_of_job(request, job)
    group = in_view(request, groups_of(book, job))
    form, told = _asked(request, group)
    pairs = pairs_of(book, group, told) if group else []
    context = {
        "job": job,
        "g": group,
        "currency": request.workshop.currency,
        "pairs": [
            (
                p,
                _form_of(request, form, p),
                [(stop, drawn(p, stop), stop.minutes / 60.0 * request.workshop.hourly_rate) for stop in _best_first(p)],
            )
            for p in pairs
        ],
        "token": new_token(),
    }
    return render(request, "colour/blend.html", context)


def _best_first(pair):
    """The ways to stop on a panel, the advised one first."""
    return sorted(pair.stops, key=lambda stop: stop is not pair.best)


def _asked(request, group):
    """(the form as it was asked with, None where it was not; {zone id: (difference, crease [mm])})."""
    if "panel" not in request.GET or group is None:
        return None, {}
    form = _form(request, request.GET)
    if not form.is_valid():
        return form, {}
    data = form.cleaned_data
    off = data["off"]
    if off is None and data["lab"] is not None:
        off = off_by(group, data["lab"])
        if off is None:
            form.add_error("lab", "there is no card with a chosen number to hold it to: type the difference")
    return form, {data["panel"]: (off, data["broken"])}


def _form(request, data=None, initial=None):
    form = BlendForm(data, initial=initial)
    form.fields["broken"].system = request.workshop.units
    return form


def _form_of(request, form, pair):
    """The form of a panel: as it was asked with, else blank."""
    mine = form is not None and form.data.get("panel") == str(pair.zone.pk)
    return form if mine else _form(request, initial={"panel": pair.zone.pk})


@require_POST
def plan(request, pk):
    """The plan of a panel by one of the ways to stop."""
    job = job_or_404(pk)
    book = book_of_job(request, job)
    group = in_view(request, groups_of(book, job), request.POST.get("group", ""))
    zone, off = asked.an_id(request.POST, "zone"), asked.a_figure(request.POST, "off", 0.0, 30.0)
    broken = asked.a_figure(request.POST, "broken", 10.0, 20000.0) or None
    pairs = pairs_of(book, group, {zone: (off, broken)}) if group else []
    pair, key = next((p for p in pairs if p.zone.pk == zone), None), request.POST.get("stop", "")

    def carry_out():
        batch = group.told.batch if group.told else ""
        colours.plan_blend(pair.zone, request.user, _chosen(pair, key), pair.layers, batch)
        return pair.zone.get_absolute_url()

    if pair is None:
        messages.error(request, "That panel is no sound paint beside the group any more: look again.")
        return HttpResponseRedirect(job.get_absolute_url())
    told, said = {"zone": zone, "stop": key, "off": off, "broken": broken}, "Planned: key, mask, fade, clear, polish."
    url = one_tap(request, "plan blend", told, carry_out, pair.zone.name, said, scope=str(zone))
    return HttpResponseRedirect(url or reverse("colour:blend", args=[job.pk]))


def _chosen(pair, key):
    """The way to stop that was chosen on a panel. Raises Refused."""
    stop = next((stop for stop in pair.stops if stop.key == key), None)
    if stop is None:
        raise Refused("say how far it differs, and where to stop")
    if pair.has_begun:
        raise Refused("work on it has begun: change its plan step by step")
    return stop
