"""Access: what is opened, fitted and closed, in which order, drawn; and what the rules say of it."""

import secrets
from dataclasses import dataclass
from functools import cached_property

from django import forms as plain
from django.contrib import messages
from django.http import HttpResponseRedirect
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.metal import access
from emplastra.core.metal.access import ActKind
from emplastra.core.rules import access as access_rules
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.steps import DEFER, STEPS
from emplastra.jobs import access_plans
from emplastra.jobs.judging import schools_of
from emplastra.logbook.models import Kind
from emplastra.logbook.services import Told, log
from emplastra.say.book import book_of_job
from emplastra.shared import asked, clock
from emplastra.shared.fields import QuantityField, WorkshopForm
from emplastra.shared.services import Refused
from emplastra.shared.views import one_tap
from emplastra.state.faces import faces_of, happened_on
from emplastra.work.job_views import JobView, job_or_404

from .access_svg import graph

LOGS = {
    ActKind.OPEN: ("opened", "Opened"),
    ActKind.TRIAL_FIT: ("trial-fit", "Fitted dry"),
    ActKind.TAKE_OFF: ("taken-off", "Taken off"),
    ActKind.CLOSE: ("closed", "Closed"),
}
"""Kinds of act that one tap logs: how the entry tells it, and the button."""
FORMS = {
    ActKind.WELD: ("film-lost", "Welded"),
    ActKind.COAT: ("coat", "Coated"),
    ActKind.SEAL: ("coat", "Sealed"),
    ActKind.WAX: ("coat", "Waxed"),
    ActKind.FILL: ("coat", "Filled"),
}
"""Kinds that are logged by their own form."""


class ActForm(WorkshopForm):
    """One act."""

    kind = plain.ChoiceField(label="Act", choices=list(access.KINDS.items()))
    what = plain.CharField(label="What", max_length=80, help_text="Door, left; sill plate; seam at the post")
    faces = plain.MultipleChoiceField(
        label="Faces it frees, hides or works on", required=False, widget=plain.CheckboxSelectMultiple
    )
    after = plain.MultipleChoiceField(label="Comes after", required=False, widget=plain.CheckboxSelectMultiple)
    bare_mm = QuantityField("length", 0, 50, label="Its gap, bare", required=False)
    least_mm = QuantityField("length", 0, 50, label="Least that must be left of it", required=False)
    based_on = plain.IntegerField(widget=plain.HiddenInput)

    def __init__(self, *args, zones, acts, steps, **kwargs):
        super().__init__(*args, **kwargs)
        example = "1/8 in" if self.workshop.units == "us" else "3 mm"
        self.fields["bare_mm"].help_text = f"For what is fitted or closed, as measured at the trial fit: {example}"
        self.fields["faces"].choices = [(str(zone.pk), zone.name) for zone in zones]
        self.fields["after"].choices = [(act.id, act.name) for act in acts]
        planned = [zone for zone in zones if steps.get(zone.pk)]
        self.before = [f"before_{zone.pk}" for zone in planned]
        for name, zone in zip(self.before, planned, strict=True):
            choices = [("", "no step named"), *steps[zone.pk]]
            self.fields[name] = plain.ChoiceField(label=f"On {zone.name}", choices=choices, required=False)

    def own_fields(self):
        """Bound fields to show, but for the steps that it comes before."""
        return [f for f in self.visible_fields() if f.name not in self.before]

    def before_fields(self):
        """Bound fields of the steps that it comes before, a face each."""
        return [self[name] for name in self.before]

    def before_typed(self):
        """True if a step is named or is wrong."""
        return any(f.errors or f.value() for f in self.before_fields())

    def clean(self):
        data = super().clean()
        for name in self.before:
            if data.get(name) and name.removeprefix("before_") not in data.get("faces", ()):
                self.add_error(name, "tick this face above, or name no step of it")
        if data.get("least_mm") and data.get("bare_mm") is None and "bare_mm" not in self.errors:
            self.add_error("bare_mm", "write the gap as it is bare, so that what film leaves of it can be told")
        return data


@dataclass
class Row:
    """An act as it is listed: its number, faces, what logs it, what is left of its gap."""

    n: int
    act: object
    faces: list
    one_tap: str
    form_url: str
    form_word: str
    gap: object
    ready: bool
    before: list


class Access(JobView):
    """The acts of a job in their order, and one more."""

    form_class = ActForm
    template = "metal/access.html"
    action, heading, button = "access", "Access", "Put it in"
    done = "It is in the plan."

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.number, self.acts = access_plans.acts_of(self.job)
        self.zones = list(self.job.zones.in_use().order_by("id"))

    def form_kwargs(self):
        return {"zones": self.zones, "acts": self.acts, "steps": self.steps}

    @cached_property
    def states(self):
        """States of its zones."""
        book = book_of_job(self.request, self.job)
        return book.states([zone.pk for zone in self.zones if zone.pk in book.facts.zones])

    @cached_property
    def steps(self):
        """{zone id: [(id, its number and name)] of its steps still to come}."""
        return {state.zone.pk: _steps_of(state) for state in self.states}

    def initial(self):
        return {"based_on": self.number}

    def context(self, form):
        states = self.states
        acts = access.logged(self.acts, happened_on(states))
        plan = access.Plan(acts, faces_of(states))
        placed, rings = access.order(acts)
        ready = access.ready(acts)
        names = {str(zone.pk): zone.name for zone in self.zones}
        steps = {str(pk): dict(steps) for pk, steps in self.steps.items()}
        return {
            "job": self.job,
            "number": self.number,
            "verdicts": access_rules.verdicts(plan, schools_of([self.job])[self.job.pk]),
            "svg": graph(acts, rings) if acts else "",
            "defer": DEFER,
            "cautions": STEPS[StepKind.WELD].cautions,
            "rows": [
                _row(n, act, names, plan, act.id in ready, steps)
                for n, act in enumerate([*placed, *(a for a in acts if a not in placed)], 1)
            ],
            "reachable": [plan.faces[f].name for f in access.reach_now(plan)],
        }

    def carry_out(self, form):
        data = form.cleaned_data
        act = {
            "id": secrets.token_hex(4),
            **{k: data[k] for k in ("kind", "what", "faces", "after")},
            "bare_um": None if data["bare_mm"] is None else data["bare_mm"] * 1000.0,
            "least_um": (data["least_mm"] or 0.0) * 1000.0,
            "done": False,
            "before": {f: data[f"before_{f}"] for f in data["faces"] if data.get(f"before_{f}")},
            "added_s": clock.now().timestamp(),
        }
        access_plans.save(self.job, self.request.user, [*access_plans.rows(self.acts), act], data["based_on"])
        return reverse("metal:access", args=[self.job.pk])


def _steps_of(state):
    """[(id, its number and name)] of the steps of a zone's plan that are still to come."""
    return [
        (s.step.id, f"before {n}. {STEPS[s.step.kind].name}{f': {s.step.product}' if s.step.product else ''}")
        for n, s in enumerate(state.plan.states, 1)
        if not s.done
    ]


def _row(n, act, names, plan, ready, steps):
    form, word = FORMS.get(act.kind, ("", ""))
    faces = [f for f in act.faces if f in names]
    url = reverse("work:log", args=[int(faces[0]), form]) if form and faces else ""
    return Row(
        n,
        act,
        [names[f] for f in faces],
        LOGS[act.kind][1] if act.kind in LOGS and faces else "",
        url,
        word,
        access_rules.gap_of(plan, act),
        ready,
        [f"{names[f]}: {steps[f][step]}" for f, step in act.before if step in steps.get(f, {})],
    )


@require_POST
def access_act(request, pk, act):
    """An act is logged by one tap, told to be done without an entry, or goes out of the plan."""
    job, url = job_or_404(pk), reverse("metal:access", args=[pk])
    number, acts = access_plans.acts_of(job)
    do = request.POST.get("do")
    try:
        row = next((a for a in acts if a.id == act), None)
        if row is None:
            raise Refused("it is not in the plan any more")
        if do == "log":
            _log(request, job, row)
            return HttpResponseRedirect(url)
        rows = access_plans.rows(acts)
        if do == "done":
            rows = [{**r, "done": True} if r["id"] == act else r for r in rows]
        else:
            rows = [{**r, "after": [a for a in r["after"] if a != act]} for r in rows if r["id"] != act]
        access_plans.save(job, request.user, rows, asked.a_count(request.POST, "based_on", number))
        messages.success(request, "Written down.")
    except Refused as refusal:
        messages.error(request, f"Access: {refusal}.")
    return HttpResponseRedirect(url)


def _log(request, job, act):
    """Log an act of access on all its faces, now. Its step of each zone's plan is done with it."""
    zones = list(job.zones.in_use().filter(pk__in=[int(f) for f in act.faces]).order_by("id"))
    if act.kind not in LOGS or not zones:
        raise Refused("it has no face to log it on: say that it is done")
    book = book_of_job(request, job)

    def carry_out():
        now = clock.now()
        told = tuple((zone, 1.0, _step_of(book.state(zone), act.kind)) for zone in zones)
        details = {"how": LOGS[act.kind][0], "what": act.what}
        return reverse("work:done", args=[log(request.user, Told(Kind.ACCESS, now, now, told, details)).pk])

    one_tap(request, "access", {"act": act.id}, carry_out, act.name, f"{act.name}: logged.", scope=act.id, undo=True)


def _step_of(state, kind):
    """Id of the first undone step of this kind, "" if none is planned."""
    return next((s.step.id for s in state.plan.states if s.step.kind == kind and not s.done), "")
