"""Access: what is opened, fitted and closed, in which order, drawn; and what the rules say of it."""

import secrets

from django import forms as plain
from django.contrib import messages
from django.http import HttpResponseRedirect
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core import access
from emplastra.core.findings import STILL_OPEN
from emplastra.core.steps import DEFER, STEPS
from emplastra.jobs import access_plans
from emplastra.jobs.judging import schools_of
from emplastra.shared.fields import QuantityField, WorkshopForm
from emplastra.shared.services import Refused
from emplastra.work.job_views import JobView, job_or_404

from .access_svg import graph
from .known import known
from .map_views import book_of_job

WET_SEALER_H = 24.0
"""Sealer counts as wet for this long [h] where its sheet says nothing. Common practice, no source."""


def faces_of(states):
    """{zone id as text: the core's Face} of zones (their states)."""
    told = known([s.zone for s in states], {s.zone.pk: s.facts for s in states})
    return {str(s.zone.pk): _face(s, told[s.zone.pk]) for s in states}


def _face(state, told):
    surface = state.surface
    kinds = {layer.sheet.kind for layer in surface.layers if layer.sheet and layer.share > 0.5}
    near = told.get(("near", ""))
    drains = [
        (mark, answer) for (topic, mark), (answer, status) in told.items() if topic == "drain" and status in STILL_OPEN
    ]
    top = surface.top
    wet = top is not None and top.sheet is not None and top.sheet.kind == "seam-sealer" and surface.t_s - top.ended_s < WET_SEALER_H * 3600  # fmt: skip
    smear = told.get(("wax", ""))
    return access.Face(
        state.zone.name, any(layer.share > 0.5 for layer in surface.layers) and not surface.bare, frozenset(kinds), sum(layer.left_um for layer in surface.layers),
        frozenset(near[0].choice.split("+")) if near else frozenset(), "cavity-wax" in kinds or bool(smear and smear[0].choice == "smears" and smear[1] in STILL_OPEN),
        wet, tuple(mark for mark, answer in drains if answer.choice in {"blocked", "closed", "missing"}),
        state.facts.revision is not None and state.facts.revision.end_state in {"bare", "as-found"},
    )  # fmt: skip


class ActForm(WorkshopForm):
    """One act."""

    kind = plain.ChoiceField(label="Act", choices=list(access.KINDS.items()))
    what = plain.CharField(label="What", max_length=80, help_text="Door, left; sill plate; seam at the post")
    faces = plain.MultipleChoiceField(
        label="Faces it frees, hides or works on", required=False, widget=plain.CheckboxSelectMultiple
    )
    after = plain.MultipleChoiceField(label="Comes after", required=False, widget=plain.CheckboxSelectMultiple)
    gap_um = QuantityField("film", 0, 20000, label="What its gap can give", required=False, help_text="For what is fitted: bare gap less the least that must be left")  # fmt: skip
    based_on = plain.IntegerField(widget=plain.HiddenInput)

    def __init__(self, *args, zones, acts, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["faces"].choices = [(str(zone.pk), zone.name) for zone in zones]
        self.fields["after"].choices = [(act.id, act.name) for act in acts]


class Access(JobView):
    """The acts of a job in their order, and one more."""

    form_class = ActForm
    template = "survey/access.html"
    action, heading, button = "access", "Access", "Put it in"
    done = "It is in the plan."

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.number, self.acts = access_plans.acts_of(self.job)
        self.zones = list(self.job.zones.in_use().order_by("id"))

    def form_kwargs(self):
        return {"zones": self.zones, "acts": self.acts}

    def initial(self):
        return {"based_on": self.number}

    def context(self, form):
        book = book_of_job(self.request, self.job)
        states = book.states([zone.pk for zone in self.zones if zone.pk in book.facts.zones])
        plan = access.Plan(tuple(self.acts), faces_of(states))
        placed, rings = access.order(self.acts)
        names = {str(zone.pk): zone.name for zone in self.zones}
        return {
            "job": self.job, "number": self.number, "verdicts": access.verdicts(plan, schools_of([self.job])[self.job.pk]),
            "svg": graph(self.acts, rings) if self.acts else "", "defer": DEFER, "cautions": STEPS["weld"].cautions,
            "rows": [(n, act, [names[f] for f in act.faces if f in names]) for n, act in enumerate([*placed, *(a for a in self.acts if a not in placed)], 1)],
            "reachable": [plan.faces[f].name for f in access.reach_now(plan)],
        }  # fmt: skip

    def carry_out(self, form):
        data = form.cleaned_data
        act = {
            "id": secrets.token_hex(4),
            **{k: data[k] for k in ("kind", "what", "faces", "after", "gap_um")},
            "done": False,
        }
        access_plans.save(self.job, self.request.user, [*access_plans.rows(self.acts), act], data["based_on"])
        return reverse("survey:access", args=[self.job.pk])


@require_POST
def access_act(request, pk, act):
    """An act is done, or goes out of the plan."""
    job, url = job_or_404(pk), reverse("survey:access", args=[pk])
    number, acts = access_plans.acts_of(job)
    based_on = request.POST.get("based_on", "")
    try:
        rows = access_plans.rows(acts)
        if act not in {row["id"] for row in rows}:
            raise Refused("it is not in the plan any more")
        if request.POST.get("do") == "done":
            rows = [{**row, "done": True} if row["id"] == act else row for row in rows]
        else:
            rows = [{**row, "after": [a for a in row["after"] if a != act]} for row in rows if row["id"] != act]
        access_plans.save(job, request.user, rows, int(based_on) if based_on.isdigit() else number)
        messages.success(request, "Written down.")
    except Refused as refusal:
        messages.error(request, f"Access: {refusal}.")
    return HttpResponseRedirect(url)
