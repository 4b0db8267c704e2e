"""Faults of a coat: what made them by the record, the test that decides, what puts them right."""

from django import forms
from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.defects.causes import faults, scored
from emplastra.core.defects.remedy import STANDS_MOST, remedy_for
from emplastra.core.survey.topics import TOPICS
from emplastra.jobs import faults as told
from emplastra.say.book import book_of
from emplastra.shared import asked, clock
from emplastra.shared.fields import QuantityField
from emplastra.shared.services import new_token
from emplastra.shared.views import one_tap
from emplastra.state.faults import coats_of, film_there, record_of, waits_until
from emplastra.work.log_views import zone_or_404

NAMES = {choice.key: choice.word for choice in TOPICS["film"].choices if choice.key in faults()}


class FaultForm(forms.Form):
    """What is seen, in which coat, how far it stands out."""

    see = forms.ChoiceField(label="What is seen", choices=[("", "choose"), *NAMES.items()], required=False)
    coat = forms.ChoiceField(label="In which coat", required=False)
    stands = QuantityField(
        "film", 0, STANDS_MOST, label="It stands out by", required=False, help_text="Measured; blank: what is usual"
    )
    where = forms.CharField(label="Where", max_length=120, required=False)

    def __init__(self, data, *, coats, system):
        super().__init__(data)
        self.fields["coat"].choices = [(str(c.entry.pk), _named(c)) for c in coats]
        self.fields["stands"].system = system


def _named(coated):
    return f"{coated.entry.coat.product.name}, {coated.entry.ended:%d %b}"


def faults_page(request, pk):
    """What is seen in a coat, its causes, its remedy."""
    return render(request, "colour/faults.html", _context(request, pk, request.GET))


def _context(request, pk, data):
    zone = zone_or_404(pk)
    book = book_of(request, zone)
    state = book.state(zone)
    coats, found = coats_of(book, state), told.open_faults(zone)
    finding = _meant(found, data)
    form = FaultForm(_first(coats, finding) | _typed(data), coats=coats, system=request.workshop.units)
    context = {"zone": zone, "state": state, "form": form, "finding": finding, "token": new_token(), "coats": coats}
    context["found"] = [(f, NAMES.get(f.choice, "")) for f in found]
    fault = faults().get(form.cleaned_data["see"]) if form.is_valid() and coats else None
    if fault is None:
        return context
    coated = next((c for c in coats if str(c.entry.pk) == form.cleaned_data["coat"]), coats[0])
    return context | _answered(state, fault, coated, form.cleaned_data["stands"])


def _meant(found, data):
    """The finding that is asked for, else the newest, unless something else is asked about."""
    asked_for = next((f for f in found if f.pk == asked.an_id(data, "finding")), None)
    return asked_for or (found[0] if found and not data.get("see") else None)


def _first(coats, finding):
    """What the form stands with before anything is typed."""
    told_of = {"see": finding.choice, "where": finding.text} if finding else {}
    return told_of | {"coat": str(_coat_of(coats, finding).entry.pk) if coats else ""}


def _typed(data):
    return {name: data[name] for name in FaultForm.base_fields if name in data}


def _coat_of(coats, finding):
    """The coat in which a finding was seen: the newest of its step, else the newest."""
    return next((c for c in coats if finding is not None and finding.step and c.event.step == finding.step), coats[0])


def _answered(state, fault, coated, stands_um):
    """What a fault of a coat comes to."""
    causes = scored(fault, record_of(coated))
    film = film_there(state)
    remedy = remedy_for(fault, film, stands_um, coated.kind or "clear")
    until_s, role = waits_until(state, fault.waits)
    waits = until_s is not None and until_s > state.surface.t_s
    told_any = any(c.speaks or c.against for c in causes)
    return {
        "fault": fault,
        "fault_name": NAMES[fault.key],
        "coated": coated,
        "causes": causes,
        "best": causes[0],
        "remedy": remedy,
        "until_s": until_s,
        "role": role.replace("_", " "),
        "waits": waits,
        "told_any": told_any,
        "covered": coated.event.ended_s < (state.surface.top.ended_s if state.surface.top else 0.0) - 1.0,
    }


@require_POST
def note(request, pk):
    """A fault, written down as it is seen."""
    context = _context(request, pk, request.POST)
    zone, form, here = context["zone"], context["form"], reverse("colour:faults", args=[pk])
    if "fault" not in context:
        messages.error(request, f"{zone.name}: say what is seen, and in which coat.")
        return HttpResponseRedirect(here)
    key, where = context["fault"].key, form.cleaned_data["where"].strip()

    def carry_out():
        told.note_fault(zone, request.user, key, where, context["coated"].event.step, clock.now())
        return here

    words = f"{NAMES[key]}: written down. It holds the next coat until it is put right."
    one_tap(request, "note fault", {"see": key, "where": where}, carry_out, zone.name, words)
    return HttpResponseRedirect(here)


@require_POST
def plan(request, pk):
    """What puts a fault right, in the plan."""
    context = _context(request, pk, request.POST)
    zone, here = context["zone"], reverse("colour:faults", args=[pk])
    if "fault" not in context:
        messages.error(request, f"{zone.name}: say what is seen, and in which coat.")
        return HttpResponseRedirect(here)
    remedy, state = context["remedy"], context["state"]
    build_up = zone.build_ups.first()
    rows = build_up.steps if build_up else []
    row = next((s for s in rows if s["id"] == context["coated"].event.step), None)

    def carry_out():
        told.plan_remedy(zone, request.user, remedy.acts, row, context["finding"], state.plan.done_ids)
        return reverse("plans:build-up", args=[zone.pk])

    what = {"see": context["fault"].key, "way": remedy.way, "coat": context["coated"].entry.pk}
    url = one_tap(request, "plan remedy", what, carry_out, zone.name, "In the plan: what puts it right.")
    return HttpResponseRedirect(url or here)
