"""A system taken as the plan of several zones at once: what each would get, and what is said of it, before."""

from dataclasses import dataclass

from django import forms
from django.shortcuts import get_object_or_404
from django.urls import reverse

from emplastra.core.rules.registry import SEVERITIES
from emplastra.core.surface.plan import read_steps
from emplastra.core.surface.system_file import trouble_of
from emplastra.jobs import services as jobs
from emplastra.jobs.models import Job
from emplastra.say.book import book_of
from emplastra.shared import asked
from emplastra.shared.fields import WorkshopForm
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView

from .looked import fits_of, sheets_for
from .system_views import newest_or_404


@dataclass
class Row:
    """A zone that a system may be taken for: what stands there now, what finish and standard change, the gravest word
    of the plan it would get and the first thing said; begun: its plan is under way.
    """

    state: object
    number: int
    begun: bool
    fits: bool
    said: tuple = ()
    word: str = ""
    first: str = ""
    more: int = 0


class ApplyForm(WorkshopForm):
    """Which zones take it, and whether the defaults of finish and standard hold."""

    zones = forms.TypedMultipleChoiceField(label="Zones", coerce=int, widget=forms.CheckboxSelectMultiple)
    as_is = forms.BooleanField(label="As the system has it, whatever finish and standard say", required=False)
    looked = forms.CharField(widget=forms.HiddenInput, required=False)

    def __init__(self, *args, choices, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["zones"].choices = choices
        self.fields["zones"].error_messages |= {
            "required": "tick at least one zone",
            "invalid_choice": "one of them is not in this job, or its plan is under way",
        }


class Apply(OnceView):
    """A system as the plan of zones of one job."""

    form_class = ApplyForm
    template = "plans/apply.html"
    action = "apply system"
    done = "Planned."

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.version = newest_or_404(kwargs["pk"])
        self.jobs = list(Job.objects.filter(filing="open", removed=False))
        wanted = asked.an_id(request.GET, "job")
        first = self.jobs[0].pk if self.jobs else None
        self.job = get_object_or_404(Job, pk=wanted or first, removed=False) if wanted or first else None
        self._rows = self.sheets = None

    def rows(self):
        """Each zone of the job with what it would get; those that have no plan first."""
        if self._rows is None:
            book = book_of(self.request)
            zones = book.zones_of(self.job) if self.job and not trouble_of(self.version.steps) else []
            states = [s for s in book.states([z.pk for z in zones]) if s.facts.revision is not None]
            self._rows = [self._row(book, state) for state in states]
            self._rows.sort(key=lambda r: (r.begun, bool(r.number), not r.fits, r.state.zone.pk))
        return self._rows

    def _row(self, book, state):
        plan, fits = state.facts.build_up, fits_of(self.version.about)
        revision = state.facts.revision
        meant = not fits.substrates or revision.substrate in fits.substrates
        meant = meant and (not fits.finishes or revision.finish_class in fits.finishes)
        row = Row(state, plan.number if plan else 0, bool(state.facts.logged), meant)
        if row.begun:
            return row
        made = jobs.proposed(state.zone, self.version)
        steps = read_steps(made.steps)
        if self.sheets is None:
            self.sheets = sheets_for(steps, book.facts.sheets)
        said = [v for _, ruled in book.rulings.plan(state, steps, self.sheets, self.version) for v in ruled.open]
        said.sort(key=lambda v: SEVERITIES.index(v.severity))
        row.said, row.word = made.said, said[0].severity if said else "clean"
        row.first, row.more = (said[0].sentence if said else ""), max(0, len(said) - 1)
        return row

    def form_kwargs(self):
        return {"choices": [(r.state.zone.pk, r.state.zone.name) for r in self.rows() if not r.begun]}

    def initial(self):
        wanted = asked.ids(self.request.GET, "zones")
        return {
            "zones": wanted,
            "looked": ",".join(f"{r.state.zone.pk}:{r.number}" for r in self.rows() if not r.begun),
        }

    def context(self, form):
        ticked = {asked.whole(str(pk)) for pk in form["zones"].value() or ()}
        rows = self.rows()
        return {
            "version": self.version,
            "system": self.version.system,
            "jobs": self.jobs,
            "job": self.job,
            "rows": rows,
            "free": any(not row.begun for row in rows),
            "ticked": ticked,
        }

    def carry_out(self, form):
        looked = {}
        for pair in form.cleaned_data["looked"].split(","):
            pk, _, number = pair.partition(":")
            looked[asked.whole(pk)] = asked.whole(number) or 0
        wanted = set(form.cleaned_data["zones"])
        states = [r.state for r in self.rows() if r.state.zone.pk in wanted]
        keep = {s.zone.pk: set(s.facts.logged) for s in states}
        try:
            jobs.adopt_on(
                [s.zone for s in states], self.request.user, self.version, looked, keep, form.cleaned_data["as_is"]
            )
        except jobs.StalePlan as stale:
            raise Refused(
                f"{stale.newest.zone}: {stale.newest.who or 'somebody'} saved version {stale.newest.number} of its "
                "plan meanwhile. Nothing was changed: open this page anew to see it"
            ) from stale
        names = ", ".join(s.zone.name for s in states)
        self.done = f"{self.version.system}: the plan of {names}."
        if len(states) == 1:
            return reverse("plans:build-up", args=[states[0].zone.pk])
        return self.job.get_absolute_url()
