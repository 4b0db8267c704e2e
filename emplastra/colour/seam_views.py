"""Seams and cavities of a zone: sealer by the bead, wax by the lance."""

from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.errors import FieldError
from emplastra.core.spray import bursts
from emplastra.core.surface import seams, texture
from emplastra.jobs.finish import plan_seam, plan_texture
from emplastra.say.book import book_of
from emplastra.shared.services import Refused, new_token
from emplastra.shared.views import one_tap
from emplastra.state.seams import finish_of, solids_of
from emplastra.work.log_views import zone_or_404

from .forms import BurstForm, CavityForm, SeamForm


def finish(request, pk):
    """A zone's seams and cavities."""
    zone = zone_or_404(pk)
    state = book_of(request, zone).state(zone)
    found = finish_of(state)
    seam_form, sealed = _seam(request, found)
    wax_form, waxed = _wax(request, found)
    burst_form, burst = _bursts(request)
    context = {
        "zone": zone,
        "state": state,
        "f": found,
        "seam_form": seam_form,
        "sealed": sealed,
        "shape": seams.SHAPES[seam_form.cleaned_data["shape"]] if sealed else None,
        "wax_form": wax_form,
        "waxed": waxed,
        "burst_form": burst_form,
        "bursts": burst,
        "coarser": bursts.COARSER,
        "texture_steps": texture.steps(found.texture, found.has_old) if found.texture else [],
        "texture_over": texture.OVER[texture.over(found.texture)],
        "token": new_token(),
    }
    return render(request, "colour/finish.html", context)


def _bound(form_class, request, data, initial):
    form = form_class(data, initial=initial)
    for field in form.fields.values():
        if hasattr(field, "system"):
            field.system = request.workshop.units
    return form


def _seam(request, found):
    """(the form of a seam, what it takes; None while it is not asked or cannot be)."""
    step = found.seal
    first = {"run": step.length_mm or None, "width": step.width_mm or None} if step else {}
    if "run" not in request.GET:
        return _bound(SeamForm, request, None, {"shape": "fillet"} | first), None
    form = _bound(SeamForm, request, request.GET, {})
    return form, _worked(form, _sealer)


def _sealer(data):
    """What the sealer of a seam comes to."""
    run, width, height, *lap = (data[name] or 0.0 for name in SeamForm.SIZES)
    return seams.sealed(run, width, height, data["shape"], *lap)


def _wax(request, found):
    """(the form of a cavity, what its wax takes)."""
    sheet, reach = found.waxing, seams.REACH_MM
    if "around" not in request.GET:
        first = {"length": found.length_mm, "around": found.around_mm, "film": sheet.aim_um if sheet else None}
        return _bound(CavityForm, request, None, first | {"solids": solids_of(sheet), "reach": reach}), None
    form = _bound(CavityForm, request, request.GET, {})
    return form, _worked(form, _lance)


def _lance(data):
    """What the wax of a cavity comes to."""
    sizes = (data[name] for name in ("length", "around", "film", "solids"))
    return seams.waxed(*sizes, data["holes"] or 0, data["reach"] or seams.REACH_MM)


def _bursts(request):
    """(the form of a card of texture, what matches)."""
    if "burst" not in request.GET:
        return _bound(BurstForm, request, None, {"burst": 0.5, "distance": 300.0, "passes": 2}), None
    form = _bound(BurstForm, request, request.GET, {})
    return form, _worked(form, _matched)


def _matched(data):
    """The bursts that cover as much as is to be matched."""
    card = bursts.TextureCard(
        data["burst"], data["distance"], data["passes"], data["covers"] / 100, data["wanted"] / 100
    )
    return bursts.bursts_for(card, data["new_distance"])


def _worked(form, work):
    """What a form that holds comes to; None where it does not, or where the core says that it cannot be."""
    if not form.is_valid():
        return None
    try:
        return work(form.cleaned_data)
    except FieldError as error:
        form.add_error(error.field if error.field in form.fields else None, str(error))
        return None


@require_POST
def plan(request, pk):
    """The seam as it was worked out, in the zone's plan."""
    zone = zone_or_404(pk)
    state = book_of(request, zone).state(zone)
    found, form = finish_of(state), _bound(SeamForm, request, request.POST, {})
    sealed = _worked(form, _sealer)
    here = reverse("colour:finish", args=[zone.pk])
    if sealed is None:
        messages.error(request, f"{zone.name}: the measures of the seam cannot be read; write them again.")
        return HttpResponseRedirect(here)
    data, done = form.cleaned_data, state.plan.done_ids
    product = found.sealer.product if found.sealer else ""

    def carry_out():
        plan_seam(zone, request.user, product, data["run"], data["width"], data["height"], data["shape"], done)
        return reverse("plans:build-up", args=[zone.pk])

    told = {name: data[name] for name in ("run", "width", "height", "shape")}
    url = one_tap(request, "plan seam", told, carry_out, zone.name, "In the plan: seal the seam.")
    return HttpResponseRedirect(url or here)


@require_POST
def plan_of_texture(request, pk):
    """The texture with its card and its masks, in the zone's plan."""
    zone = zone_or_404(pk)
    state = book_of(request, zone).state(zone)
    found, done = finish_of(state), state.plan.done_ids

    def carry_out():
        if found.texture is None:
            raise Refused("no texture is on the shelf: put one on first")
        plan_texture(zone, request.user, found.texture, texture.steps(found.texture, found.has_old), done)
        return reverse("plans:build-up", args=[zone.pk])

    url = one_tap(request, "plan texture", {"zone": zone.pk}, carry_out, zone.name, "In the plan: card, mask, texture.")
    return HttpResponseRedirect(url or reverse("colour:finish", args=[zone.pk]))
