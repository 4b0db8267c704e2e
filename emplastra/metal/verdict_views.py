"""The verdict on the metal: sets that share an opening, what each way would cost, the owner's decision, the quote."""

from dataclasses import dataclass

from django import forms as plain
from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.metal import repair
from emplastra.core.metal.repair import HAD, NOTHING, OPTIONS
from emplastra.core.rules import strip
from emplastra.core.surface.steps import DEFER
from emplastra.jobs import estimates
from emplastra.jobs.judging import schools_of
from emplastra.jobs.models import Estimate, OwnerDecision
from emplastra.say.book import book_of_job
from emplastra.shared.fields import PlainNumber, QuantityField, WorkshopForm
from emplastra.shared.services import Refused
from emplastra.shared.views import one_tap
from emplastra.state.known import known
from emplastra.state.ruling import metal_of
from emplastra.work.job_views import JobView, job_or_404


class EstimateForm(WorkshopForm):
    """One thing that could be done."""

    opening = plain.CharField(
        label="Behind which opening", max_length=80, help_text="Repairs of one opening are judged together: sill, left"
    )
    zone = plain.ModelChoiceField(None, label="Zone", required=False, empty_label="not told")
    option = plain.ChoiceField(label="By", choices=[(k, o.name) for k, o in OPTIONS.items()])
    pieces = plain.IntegerField(label="Pieces", min_value=1, max_value=500, initial=1)
    edge_mm = QuantityField("length", 0, 100_000, label="Edge to cut and weld", required=False)
    unseen = plain.IntegerField(label="Skins behind that nobody has seen", min_value=0, max_value=9, initial=0)
    access_h = PlainNumber("h", label="To open and close again", min_value=0, max_value=500, required=False)
    material = PlainNumber(label="Material", min_value=0, max_value=1e6, required=False)
    price = PlainNumber(label="Price of the part, or the quote", min_value=0, max_value=1e7, required=False)
    had = plain.ChoiceField(label="To be had", choices=list(HAD.items()), initial="part", widget=plain.RadioSelect)
    note = plain.CharField(label="Note", max_length=200, required=False)

    def __init__(self, *args, zones, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["zone"].queryset = zones
        self.fields["material"].unit = self.fields["price"].unit = self.workshop.currency

    def clean(self):
        data = super().clean()
        for name in ("edge_mm", "access_h", "material", "price"):
            data[name] = data.get(name) or 0.0
        return data


@dataclass
class SetView:
    """A set as it is shown: its bars to one scale, its workings, what rules say of its zones."""

    opening: str
    rows: list
    verdict: object
    decision: object
    bars: list
    held_back: str


class Verdict(JobView):
    """Sets of a job, and one more estimate."""

    form_class = EstimateForm
    template = "metal/verdict.html"
    action, heading, button = "estimate", "Verdict on the metal", "Write it down"
    done = "Written down."

    def form_kwargs(self):
        return {"zones": self.job.zones.in_use()}

    def initial(self):
        return {"opening": self.request.GET.get("opening", ""), "zone": self.request.GET.get("zone")}

    def context(self, form):
        book = book_of_job(self.request, self.job)
        zones = [zone for zone in self.job.zones.in_use() if zone.pk in book.facts.zones]
        states = book.states([zone.pk for zone in zones])
        told = known(zones, book.facts.zones)
        held_back = {s.zone.pk: said for s in states if (said := book.rulings.unsound(s))}
        rate, overrun = self.request.workshop.hourly_rate, estimates.factors()
        found = estimates.sets_of(self.job, rate)
        sets = [_set_view(*row, overrun, rate, held_back) for row in found]
        return {
            "job": self.job,
            "sets": sets,
            "quote": _quote(self.job, states, told, found, overrun, rate),
            "currency": self.request.workshop.currency,
            "decisions": OwnerDecision.Decided.choices,
            "overrun": overrun,
            "rate": rate,
            "defer": DEFER,
        }

    def carry_out(self, form):
        data = form.cleaned_data
        names = ("option", "pieces", "edge_mm", "unseen", "access_h", "material", "price", "had", "note")
        estimates.estimate(self.job, self.request.user, data["opening"], data["zone"], **{k: data[k] for k in names})
        return reverse("metal:verdict", args=[self.job.pk])


def _set_view(opening, rows, verdict, decision, overrun, rate, held_back):
    choices = [*([verdict.repair] if verdict.repair else []), *verdict.replacements]
    longest = max((c.cost.high for c in choices), default=1.0) or 1.0
    bars = [
        (
            c,
            c is verdict.repair,
            round(1000 * c.cost.low / longest, 1),
            round(1000 * (c.cost.high - c.cost.low) / longest, 1),
            round(1000 * c.cost.mid / longest, 1),
        )
        for c in choices
    ]
    workings = [
        repair.working(row.piece, overrun["repair" if OPTIONS[row.option].side == "repair" else "fit"], rate)
        for row in rows
    ]
    stop = next((held_back[row.zone_id] for row in rows if row.zone_id in held_back), "")
    return SetView(opening, list(zip(rows, workings, strict=True)), verdict, decision, bars, stop)


@dataclass
class Quote:
    """In two stages: stripping, priced; the metal, as a range; zones whose metal nobody has seen bare yet."""

    measured: bool
    told: bool
    strip_h: object
    strip: object
    metal: object
    unseen: list


def _quote(job, states, told, sets, overrun, rate):
    strip_h, unseen, schools, cut = NOTHING, [], schools_of([job])[job.pk], estimates.cut_out(job)
    for state in states:
        metal = metal_of(state, told[state.zone.pk])
        if metal.stripped or state.zone.parent_id or metal.end_state == "as-found" or state.zone.pk in cut:
            continue
        unseen.append(state.zone)
        plan = strip.plan(metal, state.facts.area_m2, f"zone {state.zone.pk}", schools)
        best = next((r for r in plan.ranked if not r.stopped), None)
        if best:
            hours, f = best.hours.total, overrun["strip"]
            strip_h = strip_h + repair.Range(hours * f.low, hours * f.mid, hours * f.high)
    priced = NOTHING
    for _, _, verdict, decision in sets:
        priced = priced + _between(verdict, decision)
    return Quote(bool(states), bool(sets), strip_h, strip_h.times(rate), priced, unseen)


def _between(verdict, decision):
    """The range of a set: what was decided, else from the cheapest to the dearest that may come."""
    decided = decision.decided if decision else "open"
    if decided == "leave":
        return NOTHING
    repaired = [verdict.repair] if verdict.repair else []
    had = [c for c in verdict.replacements if c.had]
    chosen = {"repair": repaired, "watch": repaired, "replace": had}.get(decided) or [*repaired, *had]
    if not chosen:
        return NOTHING
    costs = [c.cost for c in chosen]
    return repair.Range(min(c.low for c in costs), min(c.mid for c in costs), max(c.high for c in costs))


@require_POST
def decide(request, pk):
    """What the owner decided about a set."""
    job, url = job_or_404(pk), reverse("metal:verdict", args=[pk])
    told = {k: request.POST.get(k, "") for k in ("opening", "decided", "on", "note")}
    try:
        on = plain.DateField().clean(told["on"])
    except plain.ValidationError:
        messages.error(request, "Decided on: write a date.")
        return HttpResponseRedirect(url)

    def carry_out():
        estimates.decide(job, request.user, told["opening"], told["decided"], on, told["note"])
        return url

    words = f"{told['opening']}: the owner’s decision is written down."
    one_tap(request, "decide", told, carry_out, "Decision", words, scope=told["opening"])
    return HttpResponseRedirect(url)


@require_POST
def strike(request, pk):
    """Take an estimate back."""
    row = get_object_or_404(Estimate, pk=pk)
    try:
        estimates.strike(row, request.user)
        messages.success(request, "Struck out.")
    except Refused as refusal:
        messages.error(request, f"Estimate: {refusal}.")
    return HttpResponseRedirect(reverse("metal:verdict", args=[row.job_id]))
