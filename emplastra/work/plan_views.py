"""The Build-up: the stack, plan beside fact, need, and changing the plan."""

from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.surface.plan import PlanStep
from emplastra.core.surface.steps import CAUTIONS, DEFER, STEPS
from emplastra.jobs import services as jobs
from emplastra.materials.models import SystemVersion
from emplastra.materials.selectors import current_revisions, products_of, sheet_of, systems
from emplastra.say.book import book_of
from emplastra.shared import asked
from emplastra.shared.services import Refused
from emplastra.state.needs import StepNeed, needs_of
from emplastra.state.stack import sample

from .forms import StepsForm
from .log_views import ZoneView, zone_or_404


class BuildUp(ZoneView):
    """A zone's plan beside its fact; a save names the version it started from."""

    form_class = StepsForm
    template = "work/build_up.html"
    action = "save build-up"
    done = "Plan saved."

    def form_kwargs(self):
        kinds = {step.kind for step in self.state.facts.steps if STEPS[step.kind].leaves_film}
        names = {kind: [p.name for p in products_of(STEPS[kind].products)] for kind in kinds}
        return {"steps": self.state.facts.steps, "products": names}

    def initial(self):
        return {"based_on": self.plan_number}

    def logged_steps(self):
        """Ids of steps with entries."""
        return set(self.state.facts.logged)

    def picture(self, steps):
        """Stack and need of these steps beside the facts."""
        sheets = book_of(self.request, self.zone).facts.sheets
        state = self.state
        rulings = book_of(self.request, self.zone).rulings.plan(state, steps)
        drawn = sample(steps, state.surface, sheets, rulings)
        needs = needs_of(state, sheets, steps) if state.now else []
        version = state.facts.build_up
        limit = version.system.max_total_um if version and version.system else None
        hazards = sorted({h for n in needs[:1] if isinstance(n, StepNeed) for h in n.sheet.hazards})
        return {
            "limit": limit,
            "sample": drawn,
            "rulings": _by_step(steps, rulings),
            "needs": needs,
            "cautions": [CAUTIONS[h] for h in hazards],
            "defer": DEFER,
        }

    def context(self, form):
        steps = self.state.facts.steps
        if form.is_bound:
            form.is_valid()
            steps = [PlanStep(**s) for s in form.read_steps()]
        version, drawn = self.state.facts.build_up, self.picture(steps)
        layer_kinds = [(key, kind.name) for key, kind in STEPS.items()]
        names = list(products_of([k for s in STEPS.values() for k in s.products]))
        return {
            "zone": self.zone,
            "state": self.state,
            "revision": self.state.facts.revision,
            "systems": systems(),
            "states": {s.step.id: s for s in self.state.plan.states},
            "logged": self.logged_steps(),
            "plan_number": self.plan_number,
            "layer_kinds": layer_kinds,
            "products": names,
            "version": version,
            "ruled_by": dict(drawn["rulings"]),
            "spoken": [
                (n, ruled)
                for n, (_, ruled) in enumerate(drawn["rulings"], 1)
                if ruled and (ruled.open or ruled.accepted)
            ],
            **drawn,
        }

    def carry_out(self, form):
        steps = moved(form.read_steps(), self.request.POST.get("move", ""))
        try:
            jobs.save_build_up(
                self.zone, self.request.user, steps, form.cleaned_data["based_on"], keep=self.logged_steps()
            )
        except jobs.StalePlan as stale:
            self.stale = stale.newest
            who = stale.newest.who or "the system"
            raise Refused(
                f"{who} saved version {stale.newest.number} meanwhile. Theirs is in the stack as Plan; yours is "
                f"in the fields. Tap Save mine over it, or reload for theirs."
            ) from stale
        return reverse("work:build-up", args=[self.zone.pk])

    def show(self, form, status=200, **more):
        stale = getattr(self, "stale", None)
        if stale is not None:
            form, more["theirs"], status = self.based_on(form, stale.number), stale, 409
        return super().show(form, status, **more)


def _by_step(steps, rulings):
    """[(step id, its Ruled, all its coats as one, or None)] of every step, in order."""
    found = {}
    for at, ruled in rulings:
        held = found.get(at.step.id)
        found[at.step.id] = ruled if held is None else held.joined(ruled)
    return [(step.id, found.get(step.id)) for step in steps]


def moved(steps, asked_for):
    """Steps with one moved up or down, or deleted: "up:id", "down:id", "delete:id"; as they are for anything else."""
    how, _, key = asked_for.partition(":")
    at = next((i for i, step in enumerate(steps) if step["id"] == key), None)
    if at is None:
        return steps
    rest = [*steps[:at], *steps[at + 1 :]]
    if how == "delete":
        return rest
    to = {"up": max(0, at - 1), "down": at + 1}.get(how, at)
    return [*rest[:to], steps[at], *rest[to:]]


@require_POST
def preview(request, pk):
    """Stack and need of the plan as typed: a fragment."""
    view = BuildUp()
    view.setup(request, pk=pk)
    form = view.make_form(request.POST)
    form.is_valid()
    steps = [PlanStep(**step) for step in form.read_steps()]
    context = {
        "zone": view.zone,
        "state": view.state,
        "form": form,
        "workshop": request.workshop,
        "swapped": True,
        **view.picture(steps),
    }
    return render(request, "work/build_up_picture.html", context)


@require_POST
def adopt(request, pk):
    """Take a system's steps as the plan; logged steps are never dropped."""
    zone = zone_or_404(pk)
    state = book_of(request, zone).state(zone)
    version = get_object_or_404(SystemVersion, pk=asked.an_id(request.POST, "system"))
    plan = state.facts.build_up
    try:
        keep = set(state.facts.logged)
        jobs.adopt_system(zone, request.user, version, plan.number if plan else 0, keep)
        messages.success(request, f"Plan: {version.system.name}.")
    except (Refused, jobs.StalePlan) as refusal:
        messages.error(request, str(refusal))
    return HttpResponseRedirect(reverse("work:build-up", args=[pk]))


def _new_step(kind, product):
    """A step as it is added; one that leaves film with the film, coats and method of its sheet. Raises Refused."""
    step = {"kind": kind, "product": "", "id": jobs.new_step_id()}
    if kind not in STEPS or not STEPS[kind].leaves_film:
        return step
    sheet = sheet_of(current_revisions([product]).get(product)) if product else None
    if sheet is None:
        raise Refused("Product: choose one for a step that leaves film")
    step |= {"coats": sheet.coats or 1, "dft_um": sheet.aim_um, "method": (sheet.methods or ("brush",))[0]}
    return step | {"product": product}


@require_POST
def add_step(request, pk):
    """Put a step into the plan after another; film and coats by its sheet."""
    zone = zone_or_404(pk)
    state = book_of(request, zone).state(zone)
    plan = state.facts.build_up
    steps = [dict(s) for s in plan.steps] if plan else []
    try:
        step = _new_step(request.POST.get("kind", ""), request.POST.get("product", ""))
        after = next((i for i, s in enumerate(steps, 1) if s["id"] == request.POST.get("after")), 0)
        steps.insert(after, step)
        jobs.save_build_up(zone, request.user, steps, asked.a_count(request.POST, "based_on"))
        messages.success(request, "Step added.")
    except jobs.StalePlan:
        messages.error(request, "Somebody saved this plan meanwhile: look at it and add the step again.")
    except Refused as refusal:
        messages.error(request, str(refusal))
    return HttpResponseRedirect(reverse("work:build-up", args=[pk]))
