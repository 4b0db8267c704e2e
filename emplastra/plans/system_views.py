"""Coating systems: the ready ones, those of the workshop, each made and changed on its page."""

from django.contrib import messages
from django.http import Http404, HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST
from django_htmx.http import trigger_client_event

from emplastra.core.product.asks import KINDS
from emplastra.core.surface.plan import PlanStep
from emplastra.core.surface.ready import Fits, ready_groups, ready_named, ready_systems, taken
from emplastra.core.surface.steps import STEPS
from emplastra.core.surface.system_file import trouble_of
from emplastra.core.surface.why import reasons
from emplastra.core.words import film_q
from emplastra.materials import selectors, services
from emplastra.materials.models import System
from emplastra.shared import asked
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView, one_tap
from emplastra.work.log_views import zone_or_404

from .editor import Arranged
from .forms import SystemForm, steps_sent
from .looked import Taken, fits_of, look, numbered, sheets_for, steps_of

OTHER = "Our own"
"""What systems stand under that name no group."""


def system_list(request):
    """Systems of the workshop by group, and the ready ones that it has not taken in."""
    groups, there = dict[str, list](), set()
    for version in selectors.all_systems():
        there.add(version.system.name)
        if not version.system.retired or "retired" in request.GET:
            groups.setdefault(version.about.get("group") or OTHER, []).append(version)
    order = [*ready_groups(), *sorted(set(groups) - {*ready_groups(), OTHER}), OTHER]
    shelf = selectors.shelf_sheets()
    lacks = ((each, taken(each, shelf).lacking) for each in ready_systems() if each.name not in there)
    waiting = [(each, [KINDS[kind].name.lower() for kind in lacking]) for each, lacking in lacks]
    context = {
        "groups": [(name, groups[name]) for name in order if name in groups],
        "ready": waiting,
        "takeable": sum(not lacking for _, lacking in waiting),
        "retired": System.objects.filter(retired=True).count(),
        "with_retired": "retired" in request.GET,
    }
    return render(request, "plans/systems.html", context)


def newest_or_404(pk):
    """The newest version of a system."""
    found = get_object_or_404(System, pk=pk)
    version = found.versions.select_related("system", "who").first()
    if version is None:
        raise Http404
    return version


def system(request, pk):
    """A system: where it fits, its core sample, its steps with their reasons; what is said of it on a ground."""
    version = newest_or_404(pk)
    about, trouble = version.about, trouble_of(version.steps)
    context = {"version": version, "system": version.system, "about": about, "trouble": trouble}
    if not trouble:
        assumed = Taken(about.get("schools") or {}, fits_of(about), version.max_total_um)
        context |= look(steps_of(version), assumed, request.GET.get("on", ""))
        context["spoken"] = [(step, ruled) for step, ruled in _with_steps(context) if ruled and ruled.open]
    return render(request, "plans/system.html", context)


def _with_steps(context):
    return [(step, dict(context["rulings"])[step.id]) for step, _ in context["reasons"]]


class SystemPage(OnceView):
    """A system made or changed: its steps are moved, put in and replaced on the page; the picture follows."""

    form_class = SystemForm
    template = "plans/system_form.html"
    action = "save system"
    done = "System saved."
    version = None

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.start = None
        if "pk" in kwargs:
            self.version = newest_or_404(kwargs["pk"])

    @property
    def whole_path(self):
        """Its own address, with what it was begun from."""
        return self.request.get_full_path()

    def begun_from(self):
        """(name, school, about, most [µm], PlanSteps) that the form begins with."""
        asked_for = self.request.GET
        if self.version is not None:
            version = self.version
            return version.system.name, version.system.school, version.about, version.max_total_um, steps_of(version)
        ready = ready_named(asked_for.get("ready", ""))
        if ready is not None:
            rows = taken(ready, selectors.shelf_sheets()).steps
            steps = tuple(PlanStep(f"s{i}", **row) for i, row in enumerate(rows, 1))
            return ready.name, ready.school, services.about_of(ready), ready.most_um, steps
        if asked_for.get("zone"):
            return self._from_zone(asked.an_id(asked_for, "zone"))
        if asked_for.get("from"):
            version = newest_or_404(asked.an_id(asked_for, "from"))
            name = f"{version.system.name[:73]}, copy"
            return name, version.system.school, version.about, version.max_total_um, steps_of(version)
        return "", "", {}, None, ()

    def _from_zone(self, pk):
        """What a system begins with that is made of a zone's build-up: what was left out there stays out."""
        zone = zone_or_404(pk)
        plan = zone.build_ups.select_related("system__system").first()
        revision = zone.revisions.first()
        if plan is None or trouble_of(plan.steps):
            raise Http404
        steps = numbered(row for row in plan.steps if not row.get("left_out"))
        origin = plan.system
        about = dict(origin.about) if origin else {}
        if revision:
            about["fits"] = {"substrates": [revision.substrate], "finishes": [revision.finish_class]}
        most, school = (origin.max_total_um, origin.system.school) if origin else (None, "")
        return f"As on {zone.name}"[:80], school, about, most, steps

    @property
    def begun(self):
        """What it begins with, worked out once."""
        if self.start is None:
            self.start = self.begun_from()
        return self.start

    def initial(self):
        name, school, about, most, _ = self.begun
        fits = about.get("fits") or {}
        return {
            "based_on": self.version.number if self.version else 0,
            "name": name,
            "school": school,
            "group": about.get("group", ""),
            "where": about.get("where", ""),
            "why": "\n".join(about.get("why") or ()),
            "max_total_um": most,
            "substrates": fits.get("substrates") or [],
            "finishes": fits.get("finishes") or [],
            "rust": bool(fits.get("rust")),
            "schools": about.get("schools") or {},
        }

    def form_kwargs(self):
        stored = self.begun[4]
        steps = steps_sent(self.data, stored) if self.data is not None else list(stored)
        return {"steps": steps, "products": products_by_kind(steps), "arrange": reverse("plans:system-arrange")}

    data = None

    def make_form(self, data=None):
        self.data = data
        return super().make_form(data)

    def context(self, form):
        return {"version": self.version, **looked_at(form), **editing(), "action": self.whole_path}

    def post(self, request, **kwargs):
        if "do" in request.POST:
            found = Arranged(request.POST, self.begun[4]).change(request.POST["do"])
            form = self.make_form(found.data)
            form.is_valid()
            return self.show(form, said=found.said)
        return super().post(request, **kwargs)

    def carry_out(self, form):
        data = form.cleaned_data
        if self.version is not None and data["name"] != self.version.system.name:
            raise Refused("plans name it so: keep the name, or make a copy under another", "name")
        if not form.steps:
            raise Refused("put at least one step in")
        fits = {"substrates": data["substrates"], "finishes": data["finishes"], "rust": data["rust"]}
        fits = {name: value for name, value in fits.items() if value}
        about = {
            "group": data["group"],
            "where": data["where"],
            "why": data["why"],
            "fits": fits | ({"parts": list(parts)} if (parts := fits_of(self.begun[2]).parts) else {}),
            "schools": form.answers(),
        }
        steps = [as_stored(step) for step in form.read_steps()]
        try:
            version = services.add_system(
                data["name"], steps, data["school"], data["max_total_um"], self.request.user, data["based_on"], **about
            )
        except services.StaleSystem as stale:
            self.stale = stale.newest
            who = stale.newest.who or "Somebody"
            raise Refused(
                f"{who} saved version {stale.newest.number} meanwhile: what differs stands below, yours is in the "
                "fields. Tap Save mine over it, or open the system for theirs"
            ) from stale
        return reverse("plans:system", args=[version.system_id])

    def show(self, form, status=200, **more):
        stale = getattr(self, "stale", None)
        if stale is not None:
            form, status = self.based_on(form, stale.number), 409
            more |= {"theirs": stale, "differs": differences(steps_of(stale), form.read_steps())}
        return super().show(form, status, **more)


BLANKS = {
    "product": "",
    "coats": 1,
    "sanded_um": 0,
    "thinner_pct": 0,
    "grit": "",
    "note": "",
    "least": False,
    "way": "",
    "on": "",
    "area_m2": 0,
    "length_mm": 0,
    "width_mm": 0,
}


def as_stored(step):
    """A step of a plan as a system keeps it: no id, nothing that is blank."""
    kept = {name: step[name] for name, blank in BLANKS.items() if step[name] != blank}
    if STEPS[step["kind"]].leaves_film:
        kept |= {name: step[name] for name in ("coats", "dft_um", "method")}
    return {"kind": step["kind"], **kept}


def products_by_kind(steps):
    """{kind of step: names of products that it may take} of the kinds in these steps."""
    kinds = {step.kind for step in steps if STEPS[step.kind].products}
    rows = selectors.products_of([k for kind in kinds for k in STEPS[kind].products]) if kinds else []
    return {kind: [p.name for p in rows if p.kind in STEPS[kind].products] for kind in kinds}


def editing():
    """What the editor offers besides its steps: kinds of steps, products of the shelf by kind of step."""
    rows = selectors.products_of([])
    return {
        "new_kinds": [(key, kind.name) for key, kind in STEPS.items()],
        "new_products": [p.name for p in rows],
        "new_kind": "prime",
        "logged": (),
    }


def looked_at(form):
    """The picture of a system as it is typed."""
    steps = list(form.steps)
    if form.is_bound:
        form.is_valid()
        steps = [PlanStep(**step) for step in form.read_steps()]
    values = {name: form[name].value() for name in ("substrates", "finishes", "rust", "ground")}
    most = form.cleaned_data.get("max_total_um") if form.is_bound else form.initial.get("max_total_um")
    fits = Fits(tuple(values["substrates"] or ()), tuple(values["finishes"] or ()), (), bool(values["rust"]))
    return look(steps, Taken(form.answers(), fits, most), values["ground"] or "")


def differences(theirs, mine):
    """[(what, theirs, mine)] of two lists of steps, by their places."""

    def said(step):
        parts = [STEPS[step["kind"]].name, step["product"], step["grit"], step["note"]]
        film = f"{step['coats']} × {film_q(step['dft_um'])}" if step["dft_um"] else ""
        return ", ".join(filter(None, [*parts, film]))

    left, right = [said(vars(step)) for step in theirs], [said(step) for step in mine]
    longest = max(len(left), len(right))
    rows = zip(left + [""] * (longest - len(left)), right + [""] * (longest - len(right)), strict=True)
    return [(f"Step {n}", a or "none", b or "none") for n, (a, b) in enumerate(rows, 1) if a != b]


def _bound_page(request, data):
    view = SystemPage()
    view.setup(request)
    return view.make_form(data)


@require_POST
def system_arrange(request):
    """The steps of a system after one change: a fragment; its picture asks for itself then."""
    found = Arranged(request.POST, ()).change(request.POST.get("do", ""))
    form = _bound_page(request, found.data)
    form.is_valid()
    steps = [PlanStep(**step) for step in form.read_steps()]
    context = {"form": form, "said": found.said, "why": reasons(steps, sheets_for(steps)), **editing()}
    return trigger_client_event(render(request, "plans/steps.html", context), "arranged", after="settle")


@require_POST
def system_look(request):
    """The picture of a system as typed: a fragment."""
    form = _bound_page(request, request.POST)
    return render(request, "plans/system_picture.html", {"form": form, "swapped": True, **looked_at(form)})


@require_POST
def take_ready(request):
    """All ready systems that the shelf has the products for, or one, by one tap."""
    name = request.POST.get("name", "")
    url = reverse("plans:systems")

    def carry_out():
        made = services.take_ready(request.user, [name] if name else None)
        if not made:
            raise Refused("nothing was taken in: the shelf lacks products, or they are here already")
        return reverse("plans:system", args=[made[0].system_id]) if name else url

    told = {"path": request.path, "name": name}
    gone = one_tap(request, "take ready", told, carry_out, "Ready systems", "Taken in.", name)
    return HttpResponseRedirect(gone or url)


@require_POST
def retire_system(request, pk):
    """Offer a system no longer, or again."""
    found = get_object_or_404(System, pk=pk)
    try:
        services.retire_system(found, request.user, "back" not in request.POST)
        messages.success(request, f"{found}: {'offered again' if not found.retired else 'no longer offered'}.")
    except Refused as refusal:
        messages.error(request, f"{refusal}.")
    return HttpResponseRedirect(reverse("plans:system", args=[pk]))
