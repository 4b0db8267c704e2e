"""The Build-up: the stack, plan beside fact, need, and changing the plan."""

from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST
from django_htmx.http import trigger_client_event

from emplastra.core.buying.amounts import Paint
from emplastra.core.surface.plan import PlanStep
from emplastra.core.surface.steps import CAUTIONS, DEFER
from emplastra.core.surface.why import reasons
from emplastra.jobs import services as jobs
from emplastra.materials.models import SystemVersion
from emplastra.materials.selectors import systems
from emplastra.say.book import book_of
from emplastra.shared import asked
from emplastra.shared.services import Refused
from emplastra.state.needs import needs_of, temp_for
from emplastra.state.solvent import solvent_for
from emplastra.state.stack import sample
from emplastra.work.log_views import ZoneView, zone_or_404

from .editor import Arranged
from .forms import StepsForm, steps_sent
from .looked import by_step, sheets_for
from .system_views import differences, editing, products_by_kind


class BuildUp(ZoneView):
    """A zone's plan beside its fact; a save names the version it started from."""

    form_class = StepsForm
    template = "plans/build_up.html"
    action = "save build-up"
    done = "Plan saved."
    data = None

    def make_form(self, data=None):
        self.data = data
        return super().make_form(data)

    def form_kwargs(self):
        stored = self.state.facts.steps
        steps = steps_sent(self.data, stored) if self.data is not None else list(stored)
        arrange = reverse("plans:build-up-arrange", args=[self.zone.pk])
        return {"steps": steps, "products": products_by_kind(steps), "arrange": arrange}

    def initial(self):
        return {"based_on": self.plan_number}

    def logged_steps(self):
        """Ids of steps with entries."""
        return set(self.state.facts.logged)

    def done_steps(self):
        """Ids of steps that are done, not only left out."""
        return {s.step.id for s in self.state.plan.states if s.done and not s.step.left_out}

    def picture(self, steps):
        """Stack and need of these steps beside the facts."""
        book = book_of(self.request, self.zone)
        sheets, state = sheets_for(steps, book.facts.sheets), self.state
        rulings = book.rulings.plan(state, steps, sheets)
        drawn = sample(steps, state.surface, sheets, rulings)
        needs = needs_of(state, sheets, steps) if state.now else []
        version = state.facts.build_up
        limit = version.system.max_total_um if version and version.system else None
        hazards = sorted({h for n in needs[:1] if isinstance(n, Paint) for h in n.sheet.hazards})
        return {
            "limit": limit,
            "sample": drawn,
            "rulings": by_step(steps, rulings),
            "needs": needs,
            "solvents": self.solvents(needs),
            "cautions": [CAUTIONS[h] for h in hazards],
            "defer": DEFER,
        }

    def solvents(self, needs):
        """VOC and air of each kind of paint among them."""
        if not needs:
            return []
        state = self.state
        temp_c = temp_for(state.facts, state.all, state.surface.t_s)
        paints = {n.sheet.product: n for n in reversed(needs) if isinstance(n, Paint)}
        return [solvent_for(paint, self.zone.job.road, temp_c) for paint in reversed(paints.values())]

    def typed_steps(self, form):
        """PlanSteps as they stand in the form."""
        if not form.is_bound:
            return form.steps
        form.is_valid()
        return [PlanStep(**s) for s in form.read_steps()]

    def context(self, form):
        drawn, version = self.picture(self.typed_steps(form)), self.state.facts.build_up
        return {
            "zone": self.zone,
            "state": self.state,
            "revision": self.state.facts.revision,
            "systems": systems(),
            "plan_number": self.plan_number,
            "version": version,
            "ruled_by": dict(drawn["rulings"]),
            "spoken": [
                (n, ruled)
                for n, (_, ruled) in enumerate(drawn["rulings"], 1)
                if ruled and (ruled.open or ruled.accepted)
            ],
            **editing(),
            **self.standing(form),
            **drawn,
        }

    def standing(self, form):
        """How far each step is, which are logged, and why each stands where it stands."""
        steps = self.typed_steps(form)
        return {
            "states": {s.step.id: s for s in self.state.plan.states},
            "logged": self.logged_steps(),
            "why": reasons(steps, sheets_for(steps, book_of(self.request, self.zone).facts.sheets)),
        }

    def arranged(self, data):
        """The form's data after the change that it asks for."""
        return Arranged(data, self.state.facts.steps, self.done_steps()).change(data.get("do", ""))

    def post(self, request, **kwargs):
        if "do" in request.POST:
            found = self.arranged(request.POST)
            form = self.make_form(found.data)
            form.is_valid()
            return self.show(form, said=found.said)
        return super().post(request, **kwargs)

    def carry_out(self, form):
        steps, stored = form.read_steps(), self.state.facts.steps
        try:
            jobs.save_build_up(
                self.zone,
                self.request.user,
                steps,
                form.cleaned_data["based_on"],
                keep=self.logged_steps(),
                done=self.done_steps(),
            )
        except jobs.StalePlan as stale:
            self.stale, self.differs = stale.newest, differences(stored, steps)
            who = stale.newest.who or "the system"
            raise Refused(
                f"{who} saved version {stale.newest.number} meanwhile. Theirs is in the stack as Plan; yours is "
                f"in the fields. Tap Save mine over it, or reload for theirs."
            ) from stale
        return reverse("plans:build-up", args=[self.zone.pk])

    def show(self, form, status=200, **more):
        stale = getattr(self, "stale", None)
        if stale is not None:
            form, status = self.based_on(form, stale.number), 409
            more |= {"theirs": stale, "differs": self.differs}
        return super().show(form, status, **more)


def _page(request, pk):
    view = BuildUp()
    view.setup(request, pk=pk)
    return view


def _typed(view, form):
    """What the picture of a plan as typed needs."""
    steps = view.typed_steps(form)
    return {"zone": view.zone, "state": view.state, "form": form, "swapped": True, **view.picture(steps)}


@require_POST
def preview(request, pk):
    """Stack and need of the plan as typed: a fragment."""
    view = _page(request, pk)
    return render(request, "plans/build_up_picture.html", _typed(view, view.make_form(request.POST)))


@require_POST
def arrange(request, pk):
    """The steps of a plan after one change: a fragment; its picture asks for itself then."""
    view = _page(request, pk)
    found = view.arranged(request.POST)
    form = view.make_form(found.data)
    form.is_valid()
    context = {"form": form, "said": found.said, "view": view, **editing(), **view.standing(form)}
    return trigger_client_event(render(request, "plans/steps.html", context), "arranged", after="settle")


@require_POST
def adopt(request, pk):
    """Take a system's steps as the plan, with the defaults of finish and standard unless they are overruled; logged
    steps are never dropped.
    """
    zone = zone_or_404(pk)
    state = book_of(request, zone).state(zone)
    version = get_object_or_404(SystemVersion, pk=asked.an_id(request.POST, "system"))
    plan, as_is = state.facts.build_up, "as_is" in request.POST
    try:
        keep = set(state.facts.logged)
        said = jobs.proposed(zone, version, as_is).said
        jobs.adopt_system(zone, request.user, version, plan.number if plan else 0, keep, as_is)
        messages.success(request, " ".join([f"Plan: {version.system.name}.", *said]))
    except (Refused, jobs.StalePlan) as refusal:
        messages.error(request, str(refusal))
    return HttpResponseRedirect(reverse("plans:build-up", args=[pk]))
