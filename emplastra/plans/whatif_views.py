"""What if: a product, school, method, system or number of coats swapped on a plan or a job, nothing saved."""

from dataclasses import dataclass

from django import forms
from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.product.film import METHODS
from emplastra.core.rules.registry import SCHOOLS
from emplastra.core.surface.plan import PlanStep
from emplastra.core.surface.steps import STEPS
from emplastra.core.surface.swap import Change, Swap
from emplastra.jobs import judging
from emplastra.jobs import services as jobs
from emplastra.jobs.models import Job
from emplastra.materials.selectors import products_of, systems
from emplastra.say.book import book_of, book_of_job
from emplastra.shared import asked
from emplastra.shared.services import Refused
from emplastra.shared.views import one_tap
from emplastra.state.whatif import Trials
from emplastra.work.log_views import zone_or_404

from .looked import sheets_for, steps_of

KINDS = [
    ("", "nothing"),
    (Swap.PRODUCT, "another product"),
    (Swap.COATS, "more or fewer coats"),
    (Swap.METHOD, "another method"),
    (Swap.SYSTEM, "another system"),
    (Swap.SCHOOL, "another school"),
]
COLUMNS = ("a", "b")


@dataclass
class Where:
    """What is asked about: a zone or a job, its states, the book they are of."""

    book: object
    states: list
    job: object
    zone: object = None


class ChangeForm(forms.Form):
    """One change: what is swapped, of what, and for what."""

    what = forms.ChoiceField(label="Swap", choices=KINDS, required=False)
    of = forms.ChoiceField(label="Of", required=False)
    product = forms.ChoiceField(label="For", required=False)
    coats = forms.IntegerField(label="Coats", min_value=1, max_value=20, required=False)
    method = forms.ChoiceField(label="By", choices=[(k, m.name) for k, m in METHODS.items()], required=False)
    system = forms.ChoiceField(label="System", required=False)
    school = forms.ChoiceField(label="School", required=False)

    ASKS = {
        Swap.PRODUCT: ("of", "product"),
        Swap.COATS: ("of", "coats"),
        Swap.METHOD: ("method",),
        Swap.SYSTEM: ("system",),
        Swap.SCHOOL: ("school",),
    }

    def __init__(self, *args, used, products, versions, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["of"].choices = [(name, name) for name in used]
        self.fields["product"].choices = [(name, name) for name in products]
        self.fields["system"].choices = [(str(pk), v.system.name) for pk, v in versions.items()]
        self.fields["school"].choices = [
            (f"{q}:{a}", f"{words} {said}") for q, (words, answers) in SCHOOLS.items() for a, said in answers.items()
        ]

    def asks(self):
        """Bound fields that the change needs."""
        return [self[name] for name in self.ASKS.get(self["what"].value(), ())]

    def all_asks(self):
        """[(the changes that need it, as classes of a style sheet, a bound field)]."""
        names = dict.fromkeys(name for names in self.ASKS.values() for name in names)
        return [
            (" ".join(f"for-{what}" for what, asked in self.ASKS.items() if name in asked), self[name])
            for name in names
        ]

    def change(self):
        """The change as typed; nothing where a field is wrong or not told."""
        if not self.is_bound or not self.is_valid():
            return Change()
        data = self.cleaned_data
        what = data["what"]
        if what == Swap.SCHOOL:
            question, _, answer = data["school"].partition(":")
            return Change(Swap.SCHOOL, question, answer) if answer else Change()
        to = {Swap.PRODUCT: "product", Swap.COATS: "coats", Swap.METHOD: "method", Swap.SYSTEM: "system"}.get(what)
        return Change(Swap(what), data["of"], str(data[to] or "")) if to and data[to] else Change()

    def words(self):
        """The change in words."""
        change = self.change()
        if change.what == Swap.NOTHING:
            return "Nothing swapped"
        fields = [dict(getattr(f.field, "choices", ())).get(f.value(), f.value()) for f in self.asks()]
        joint = {Swap.PRODUCT: " → ", Swap.COATS: " × "}.get(change.what, "")
        return joint.join(str(x) for x in fields)


def of_zone(request, pk):
    """What if, on the build-up of a zone."""
    return _page(request, _zone(request, pk))


def of_job(request, pk):
    """What if, over a job."""
    return _page(request, _job(request, pk))


def _zone(request, pk):
    zone = zone_or_404(pk)
    book = book_of(request, zone)
    return Where(book, [book.state(zone)], zone.job, zone)


def _job(request, pk):
    job = get_object_or_404(Job, pk=pk, removed=False)
    book = book_of_job(request, job)
    states = [s for s in book.states([z.pk for z in book.zones_of(job)]) if s.facts.revision is not None]
    return Where(book, states, job)


def _forms(told, where):
    """({column: form}, versions by id) of what is asked."""
    versions = {str(v.pk): v for v in systems()}
    steps = _steps_with_products(where)
    kinds = {kind for s in steps for kind in STEPS[s.kind].products}
    more = {
        "used": list(dict.fromkeys(s.product for s in steps)),
        "products": [p.name for p in products_of(sorted(kinds))] if kinds else [],
        "versions": versions,
    }
    return {key: ChangeForm(told if f"{key}-what" in told else None, prefix=key, **more) for key in COLUMNS}, versions


def _steps_with_products(where):
    return [s for state in where.states for s in state.facts.steps if s.product and not s.left_out]


def _trials(where, made, versions):
    """Plans tried with the sheets of all that the changes name."""
    named = []
    for form in made.values():
        change = form.change()
        if change.what == Swap.PRODUCT:
            named.append(PlanStep("", "prime", change.to))
        elif change.what == Swap.SYSTEM and change.to in versions:
            named += steps_of(versions[change.to])
    return Trials(where.book, where.states, versions, sheets_for(named, where.book.facts.sheets))


def _page(request, where):
    made, versions = _forms(request.GET, where)
    trials = _trials(where, made, versions)
    base = trials.outcome("As planned", Change())
    columns = [("As planned", None, base)]
    for form in made.values():
        change = form.change()
        swapped = change.what != Swap.NOTHING
        columns.append((form.words(), form, trials.outcome(form.words(), change).beside(base) if swapped else None))
    context = {
        "zone": where.zone,
        "job": where.job,
        "columns": [(columns[0][0], None, base.beside(base)), *columns[1:]],
        "forms": made,
        "currency": request.workshop.currency,
        "numbers": ",".join(f"{s.zone.pk}:{s.facts.build_up.number if s.facts.build_up else 0}" for s in where.states),
        "address": request.path,
    }
    part = request.htmx and request.htmx.target == "what-if"
    return render(request, "plans/whatif_table.html" if part else "plans/whatif.html", context)


@require_POST
def take(request, what, pk):
    """Take a change as the plan: of the zone, or of all faces of the job that it touches, of all or of none."""
    where = _zone(request, pk) if what == "zone" else _job(request, pk)
    column = request.POST.get("take", "")
    made, versions = _forms(request.POST, where)
    url = reverse(f"plans:{what}-what-if", args=[pk])
    change = made[column].change() if column in made else Change()
    if change.what == Swap.NOTHING:
        messages.error(request, "Nothing is swapped: choose what.")
        return HttpResponseRedirect(url)
    looked = dict(pair.split(":", 1) for pair in request.POST.get("numbers", "").split(",") if ":" in pair)

    def carry_out():
        if not request.user.may_write:
            raise Refused(f"{request.user} may look, and change nothing: ask an owner")
        _carry_out(request, where, _trials(where, made, versions), change, looked)
        return reverse("plans:build-up", args=[pk]) if what == "zone" else where.job.get_absolute_url()

    words = f"Taken: {made[column].words()}."
    told = {"path": request.path, "column": column, "numbers": looked, "words": words}
    done = one_tap(request, "what-if", told, carry_out, where.zone or where.job, words, column)
    return HttpResponseRedirect(done or url)


def _carry_out(request, where, trials, change, looked):
    if change.what == Swap.SCHOOL:
        judging.choose_school(change.of, change.to, where.job, request.user)
        return
    version = trials.versions.get(change.to) if change.what == Swap.SYSTEM else None
    for state in where.states:
        steps = trials.steps_of(state, change)
        if steps == state.facts.steps:
            continue
        number = asked.whole(looked.get(str(state.zone.pk), ""), 0) or 0
        keep = set(state.facts.logged)
        try:
            jobs.save_build_up(state.zone, request.user, [dict(vars(s)) for s in steps], number, version, keep)
        except jobs.StalePlan as stale:
            raise Refused(f"the plan of {state.zone} was saved by {stale.newest.who} meanwhile: look again") from stale
