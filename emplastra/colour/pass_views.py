"""The pass over a face: by habit beside as advised, and the gun as it was measured."""

from dataclasses import dataclass

from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.errors import FieldError
from emplastra.core.spray import advise
from emplastra.core.spray.film import film_of
from emplastra.core.spray.pearl import at_edges
from emplastra.core.spray.strokes import strokes_of
from emplastra.core.spray.worked import film_worked, paint_worked
from emplastra.core.units import show
from emplastra.core.working import Basis
from emplastra.jobs import guns
from emplastra.say.book import book_of
from emplastra.shared.services import Refused, new_token
from emplastra.shared.views import one_tap
from emplastra.state.spraying import spraying_of
from emplastra.work.log_views import zone_or_404

from .pass_drawn import Drawn
from .pass_forms import PassForm, first_data


@dataclass
class Way:
    """One way over the face: how the hand goes, its film drawn, what its edges do to the colour, row to row [mm]."""

    name: str
    hand: object
    drawn: Drawn
    edge: object
    rows_mm: float | None

    @property
    def film(self):
        """The core's PassMap."""
        return self.drawn.film

    @property
    def overlap(self):
        """How far the rows lie over each other [0..1], None for one row."""
        return 1.0 - self.rows_mm / self.film.gun.width_mm if self.rows_mm else None


def pass_page(request, pk):
    """The pass over a zone."""
    context = _context(request, pk, request.GET)
    return render(request, "colour/pass.html", context)


def answer(request, pk):
    """What the pass comes to as it is typed: a fragment."""
    return render(request, "colour/pass_answer.html", _context(request, pk, request.GET))


def _context(request, pk, data):
    zone = zone_or_404(pk)
    book = book_of(request, zone)
    state = book.state(zone)
    spraying = spraying_of(book, state, data.get("step", ""))
    context = {"zone": zone, "state": state, "s": spraying, "token": new_token(), "lacks": ""}
    try:
        whole = spraying.panel(data.get("upright") == "upright")
    except FieldError as error:
        return context | {"lacks": str(error)}
    first = first_data(spraying, whole, request.workshop.units)
    typed = {name: data[name] for name in first if name in data}
    if "upright" in typed and typed.get("openings") == data.get("openings_were"):
        typed["openings"] = first["openings"]  # nobody moved them: they lie on the turned face as before
    form = PassForm(first | typed, system=request.workshop.units)
    context |= {"form": form, "bases": _bases(spraying, first, typed), "openings_are": first["openings"]}
    if not form.is_valid():
        return context
    try:
        return context | _worked(form, spraying, whole)
    except FieldError as error:
        form.add_error(error.field if error.field in form.fields else None, str(error))
        return context


def _bases(spraying, first, typed):
    """{field: what it rests on} of the form's figures."""
    found = {name: basis for name, (_, basis) in spraying.figures.items()}
    return found | {name: Basis.TYPED for name, text in typed.items() if text != first[name] and name in found}


def _worked(form, spraying, whole):
    """What a form that holds comes to. Raises FieldError."""
    gun, hand, panel = form.gun(spraying.method), form.hand(), form.panel(whole)
    even, even_basis = spraying.range_for(form.cleaned_data["film"])
    wanted = form.wanted(even, spraying.sags_wet_um)
    strokes = strokes_of(panel, gun, hand, form.cleaned_data["rows"])
    yours = _way("By habit", hand, film_of(panel, gun, strokes, wanted), spraying)
    best = advise.best(panel, gun, wanted)
    advised = _way("As advised", best.hand, best.film, spraying)
    planned_ml = spraying.planned_ml(wanted.film_um, 100 * wanted.solids, gun.stays)
    limits = {"even_basis": even_basis, "wanted": wanted, "flow": best.flow_ml_min}
    pitch = advised.rows_mm or advised.film.gun.width_mm
    return limits | {
        "ways": (yours, advised),
        "best": advised,
        "planned_ml": planned_ml,
        "film_working": film_worked(advised.film.gun, wanted, best.hand.speed_m_s, pitch),
        "paint_working": paint_worked(advised.film, planned_ml),
        "tick_s": max(s.seconds for s in advised.film.strokes if s.row),
    }


def _way(name, hand, film, spraying):
    drawn = Drawn(film)
    places = [row.mm for row in drawn.rows]
    pitch = (places[-1] - places[0]) / (len(places) - 1) if len(places) > 1 else None
    card = spraying.group.card.card if spraying.group and spraying.group.card else None
    edge = at_edges(film.edge_build, spraying.coats, card) if spraying.group else None
    return Way(name, hand, drawn, edge, pitch)


@require_POST
def plan(request, pk):
    """The advised pass, in the note of its step."""
    context = _context(request, pk, request.POST)
    zone, here = context["zone"], reverse("colour:pass", args=[pk])
    if "best" not in context:
        messages.error(request, f"{zone.name}: the pass cannot be read; look at it again.")
        return HttpResponseRedirect(here)
    spraying, note = context["s"], _note(context["best"], context["flow"], request.workshop.units)

    def carry_out():
        if spraying.step is None:
            raise Refused("its plan has no step that is sprayed: put one in first")
        guns.note_pass(zone, request.user, spraying.step.id, note)
        return reverse("plans:build-up", args=[zone.pk])

    told = {"step": spraying.step.id if spraying.step else "", "note": note}
    url = one_tap(request, "plan pass", told, carry_out, zone.name, "In the plan: how it is sprayed.")
    return HttpResponseRedirect(url or here)


def _note(way, flow, system):
    """A way over a face as a step's note has it."""
    said = [show(way.hand.speed_m_s, "speed", system)]
    said += [f"rows every {show(way.rows_mm, 'length', system)}"] if way.rows_mm else []
    said += [f"{show(flow, 'flow', system)}"] if flow else []
    said += ["edges first, tilted"] if way.hand.edges == "tilted" else []
    return ", ".join(said)


@require_POST
def remember(request, pk):
    """Gun and hand as they stand in the form, measured from now on where they are not what is assumed."""
    context = _context(request, pk, request.POST)
    zone, here = context["zone"], reverse("colour:pass", args=[pk])
    form = context.get("form")
    if form is None or not form.is_valid():
        messages.error(request, f"{zone.name}: a figure of the gun cannot be read; look at it again.")
        return HttpResponseRedirect(here)
    told, before = form.gun_told, context["s"].figures
    was = guns.told_of(context["s"].method)
    changed = {name: value for name, value in told.items() if name in was or not _same(value, before[name][0])}

    def carry_out():
        guns.remember_gun(request.user, context["s"].method, changed)
        return here

    one_tap(request, "remember gun", changed, carry_out, zone.name, "Remembered: it begins with these from now on.")
    return HttpResponseRedirect(here)


def _same(one, other):
    """True for one figure, as far as a field shows it."""
    return one == other if isinstance(one, str) else abs(one - other) <= 0.0006 * abs(other)
