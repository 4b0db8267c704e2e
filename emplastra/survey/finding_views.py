"""Findings: what is open, and what became of each."""

from dataclasses import dataclass

from django import forms as plain
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from emplastra.core.rules import mending
from emplastra.core.surface.steps import STEPS
from emplastra.core.survey.answers import total
from emplastra.core.survey.findings import CAUSES, STATUSES, STILL_OPEN
from emplastra.jobs import surveying
from emplastra.jobs.models import Finding
from emplastra.jobs.services import StalePlan
from emplastra.say.book import book_of, book_of_job
from emplastra.shared import asked
from emplastra.shared.fields import WorkshopForm
from emplastra.shared.services import Refused
from emplastra.work.job_views import job_or_404
from emplastra.work.views import zone_or_404

from . import selectors
from .forms import CAUSE_CHOICES
from .map_views import ZoneAct

SHOWN = 40
"""Zones that are shown at first; the rest on demand."""


def findings(request, pk):
    """All findings of a job by zone: what is open first; coverage by area."""
    job = job_or_404(pk)
    book = book_of_job(request, job)
    zones = book.zones_of(job)
    status = request.GET.get("status", "still-open")
    wanted = set({"still-open": STILL_OPEN, "all": STATUSES}.get(status, (status,)))
    told = selectors.summaries(zones, book.facts.zones)
    counts = {s: sum(each.counts.get(s, 0) for each in told.values()) for s in STATUSES}
    whole = status in {"still-open", "all"}
    some = [zone for zone in zones if whole or wanted & told[zone.pk].counts.keys()]
    shown = some if request.GET.get("all") else some[:SHOWN]
    groups = list(selectors.surveys(shown, book.facts.zones).values())
    for each in groups:
        each.shown = [s for s in each.statements if s.life.status in wanted]
    filters = _filters(counts)
    context = {
        "job": job,
        "groups": [g for g in groups if g.shown or g.unasked],
        "filters": filters,
        "status": status,
        "open_count": filters[0][2],
        "coverage": total([told[zone.pk].coverage for zone in zones if zone.parent_id is None]),
        "more": len(some) - len(shown),
    }
    return render(request, "survey/findings.html", context)


def _filters(counts):
    """[(key, name, how many)] of what may be shown; what is still open first."""
    still_open = sum(counts[s] for s in STILL_OPEN)
    each = [(s, s.capitalize(), counts[s]) for s in STATUSES]
    return [("still-open", "Still open", still_open), *each, ("all", "All", sum(counts.values()))]


def finding_of(request, pk, key):
    """Lead to what holds of a zone's topic and mark ("holes", "more-2"); to the job's findings if nothing does."""
    zone = zone_or_404(pk)
    topic, _, mark = key.partition("-")
    rows = Finding.objects.filter(zone=zone, topic=topic, mark=mark)
    found = rows.filter(stage="bared").last() or rows.last()
    return redirect(found.get_absolute_url() if found else reverse("survey:findings", args=[zone.job_id]))


class WordForm(WorkshopForm):
    """A cause, or a step, and a note."""

    cause = plain.ChoiceField(label="Cause", choices=CAUSE_CHOICES, required=False)
    step = plain.ChoiceField(label="Step that answers it", required=False)
    note = plain.CharField(label="Note", max_length=200, required=False)

    def __init__(self, *args, steps, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["step"].choices = [("", "none yet"), *steps]


@dataclass
class TellLine:
    """A line of a finding's story."""

    title: str
    text: str
    who: object
    at: object


@dataclass
class Offer:
    """A step that answers a finding: one of the plan (`value` is "step:ID") or a new one ("new:KIND")."""

    label: str
    value: str


def _offers(statement, state):
    """[Offer] of what answers a finding on a zone (its ZoneState), the usual first."""
    kinds = mending.kinds_for(statement.finding.topic, statement.finding.choice)
    there = mending.there_already(kinds, state.plan)
    numbers = {s.step.id: n for n, s in enumerate(state.plan.states, 1)}
    found = [
        Offer(f"Answer it by step {numbers[s.step.id]}, {STEPS[s.step.kind].name.lower()}", f"step:{s.step.id}")
        for s in there
        if s.step.id != statement.life.step
    ]
    planned = {s.step.kind for s in there}
    return found + [
        Offer(f"Put {STEPS[kind].name.lower()} into the plan", f"new:{kind}")
        for kind in kinds
        if kind not in planned and mending.place_of(kind, state.plan) is not None
    ]


class FindingPage(ZoneAct):
    """One finding: what is known, and what became of it."""

    form_class = WordForm
    template = "survey/finding.html"
    action, heading = "finding", "Finding"
    done = "Said."

    def setup(self, request, *args, **kwargs):
        self.finding = get_object_or_404(Finding, pk=kwargs["pk"])
        super().setup(request, *args, pk=self.finding.zone_id)
        facts = book_of(request, self.zone).facts.zones[self.zone.pk]
        self.plan_number = facts.build_up.number if facts.build_up else 0
        self.steps = {s.id: f"{i}. {STEPS[s.kind].name}" for i, s in enumerate(facts.steps, 1)}
        survey = selectors.surveys([self.zone], {self.zone.pk: facts})[self.zone.pk]
        self.state = book_of(request, self.zone).state(self.zone)
        key = (self.finding.topic, self.finding.mark)
        self.statement = next(s for s in survey.statements if (s.finding.topic, s.finding.mark) == key)

    def form_kwargs(self):
        return {"steps": list(self.steps.items())}

    def initial(self):
        return {"cause": self.statement.life.cause, "step": self.statement.life.step}

    def context(self, form):
        s = self.statement
        chain = [*s.before, s.finding]
        lines = [TellLine(f.get_stage_display(), f.answer.sentence, f.who, f.recorded) for f in chain]
        for word in s.words:
            text = CAUSES[word.cause][0] if word.cause else self.steps.get(word.step, "")
            lines.append(TellLine(word.get_said_display(), f"{text} {word.note}".strip(), word.who, word.recorded))
        photos = [p for p in self.zone.photos.all() if p.finding_id in {f.pk for f in chain}]
        return super().context(form) | {
            "s": s,
            "told": sorted(lines, key=lambda x: x.at),
            "photos": photos,
            "cause_name": CAUSES.get(s.life.cause, ("",))[0],
            "step_name": self.steps.get(s.life.step, ""),
            "offers": _offers(s, self.state) if s.life.is_open else (),
            "plan_number": self.plan_number,
            "spoken": list(self._spoken()),
            "is_wrong": s.finding.topic == "substrate",
        }

    def _spoken(self):
        """[(Ruled, verdict)] of what this finding stands against, now and planned, each rule once."""
        key = "-".join(part for part in (self.finding.topic, self.finding.mark) if part)
        ruled = [self.state.ruled] if self.state.ruled else []
        ruled += [each for _, each in book_of(self.request).rulings.plan(self.state)]
        said = set()
        for each in ruled:
            for verdict in each.open:
                if verdict.about.split("/")[0] == key and verdict.rule not in said:
                    said.add(verdict.rule)
                    yield each, verdict

    def _answer(self, how, what):
        """Let a step answer it: one of the plan, or a new one that is put in its order."""
        finding, user = self.statement.finding, self.request.user
        if how == "step":
            return surveying.say_of(finding, user, "answered", step=what)
        kinds = mending.kinds_for(finding.topic, finding.choice)
        at = mending.place_of(what, self.state.plan) if what in kinds else None
        if at is None:
            raise Refused("no such step answers it now: look again")
        try:
            based_on = asked.a_count(self.request.POST, "based_on")
            return surveying.answer_by_new(finding, user, what, at, based_on)
        except StalePlan as stale:
            raise Refused("somebody changed the plan meanwhile: look again") from stale

    def carry_out(self, form):
        data, said = form.cleaned_data, self.request.POST.get("said", "")
        how, _, what = self.request.POST.get("answer", "").partition(":")
        if how:
            self._answer(how, what)
            return self.statement.finding.get_absolute_url()
        surveying.say_of(self.statement.finding, self.request.user, said, data["cause"], data["step"], data["note"])
        return self.statement.finding.get_absolute_url()
