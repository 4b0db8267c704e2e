"""Quantities: what the work still to come takes, of a zone, a job, or all that is open; and whether a tin is enough."""

from dataclasses import dataclass
from functools import cached_property

from django import forms
from django.shortcuts import get_object_or_404, render

from emplastra.core.buying.amounts import FaceAsked, Paint
from emplastra.core.buying.bill import sum_of
from emplastra.core.buying.enough import is_enough
from emplastra.core.product.film import METHODS
from emplastra.core.working import Unknown
from emplastra.jobs.models import Job
from emplastra.materials.selectors import current_revisions, products_of, sheet_of
from emplastra.say.book import book_of, book_of_job
from emplastra.shared.fields import QuantityField
from emplastra.state.needs import Takings, temp_for
from emplastra.state.solvent import solvent_for
from emplastra.work.log_views import zone_or_404

MOST_FACES = 40
"""Faces in a list, the largest first, until all are asked for."""


@dataclass
class Scope:
    """What quantities are of: a name, its zones (ZoneFacts), their facts, and the job or zone it is."""

    name: str
    each: list
    facts: object
    job: object = None
    zone: object = None

    @cached_property
    def takings(self):
        """What the rest of their plans takes."""
        return Takings(self.facts)

    @cached_property
    def alike(self):
        """[(ZoneFacts, the Alike of it)]."""
        return [(each, self.takings.alike(each)) for each in self.each]

    @cached_property
    def bills(self):
        """[(ZoneFacts, what the rest of its plan takes, added up)], worked out once."""
        return [(each, alike.bill(each.asked)) for each, alike in self.alike]

    @cached_property
    def whole(self):
        """All of that together."""
        return sum_of(bill for _, bill in self.bills)

    @property
    def pk(self):
        """Of its zone or job, 0 for all."""
        return self.zone.pk if self.zone else self.job.pk if self.job else 0

    @property
    def address(self):
        """Where it stands, as the tin question asks again."""
        return "zone" if self.zone else "job" if self.job else "all"


def scope_of_zone(request, pk):
    """One zone and its spots."""
    zone = zone_or_404(pk)
    facts = book_of(request, zone).facts
    return Scope(zone.name, [facts.zones[zone.pk]], facts, zone.job, zone)


def scope_of_job(request, pk):
    """All zones of a job that are in use."""
    job = get_object_or_404(Job, pk=pk, removed=False)
    book = book_of_job(request, job)
    return Scope(job.name, [book.facts.zones[z.pk] for z in book.zones_of(job)], book.facts, job)


def scope_of_all(request):
    """All zones of open jobs."""
    book = book_of(request)
    return Scope("All open jobs", [book.facts.zones[pk] for pk in sorted(book.open_ids)], book.facts)


class TinForm(forms.Form):
    """Is this tin enough? What is there, of what, over which faces, put on how."""

    product = forms.ChoiceField(label="Of")
    ml = QuantityField("volume", 1, 1e6, label="There is, mixed")
    method = forms.ChoiceField(label="By", choices=[(k, m.name) for k, m in METHODS.items()])
    film_um = QuantityField("film", 1, 20000, label="Film a coat", required=False)
    coats = forms.IntegerField(label="Coats", min_value=1, max_value=20, required=False)
    faces = forms.TypedMultipleChoiceField(label="Over", coerce=int, widget=forms.CheckboxSelectMultiple)

    def __init__(self, *args, products, faces, units, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["product"].choices = [(p, p) for p in products]
        self.fields["faces"].choices = faces
        for name in ("ml", "film_um"):
            self.fields[name].system = units


def quantities(request, scope):
    """The page of a scope: its first line is the answer, then products, faces, solvent, and the tin question."""
    taken = scope.alike[0][1].taken if scope.zone else ()
    left = [(each, bill) for each, bill in scope.bills if bill.rows or bill.unsaid]
    context = {
        "scope": scope,
        "zone": scope.zone,
        "job": scope.job,
        "whole": scope.whole,
        "left": left,
        "rows": sorted(left, key=lambda each: -each[1].mixed_ml)[: None if "all" in request.GET else MOST_FACES],
        "done": len(scope.bills) - len(left),
        "solvents": _solvents(scope, taken),
        "taken": taken,
        "currency": request.workshop.currency,
        **tin_answer(request, scope),
    }
    return render(request, "plans/quantities.html", context)


def _solvents(scope, taken):
    """Solvent of each coat that is left on a zone."""
    if not taken:
        return []
    temp = temp_for(scope.each[0], scope.facts, scope.facts.now.timestamp())
    return [solvent_for(x, scope.job.road, temp) for x in taken if isinstance(x, Paint)]


def of_zone(request, pk):
    """Quantities of a zone."""
    return quantities(request, scope_of_zone(request, pk))


def of_job(request, pk):
    """Quantities of a job."""
    return quantities(request, scope_of_job(request, pk))


def of_all(request):
    """Quantities of all open jobs."""
    return quantities(request, scope_of_all(request))


def _first(scope):
    """({product still to come: its first step and the faces that take it}, that which most is still to come of)."""
    found = {}
    for each, alike in scope.alike:
        for name, paint in alike.paints.items():
            found.setdefault(name, []).append((paint, each))
    ml = {name: sum(row.amount for row in rows) for name, rows in scope.whole.products}
    return found, max(found, key=ml.__getitem__, default="")


def tin_answer(request, scope):
    """The tin question as asked by the address, and its answer."""
    told, (used, best) = request.GET, _first(scope)
    faces = [(each.zone.pk, each.zone.name) for each in scope.each if each.revision is not None]
    names = list(dict.fromkeys([*used, *(p.name for p in products_of([]))]))
    if not faces or not names:
        return {"tin": None}
    name = told.get("product") or best or names[0]
    start = _start(name, used.get(name, []), faces)
    step = used[name][0][0].step if name in used else None
    form = TinForm(
        told if "ml" in told else None,
        initial=start,
        products=names,
        faces=faces,
        units=request.workshop.units,
    )
    return {"tin": form, "answer": _answer(form, scope, step) if form.is_bound and form.is_valid() else None}


def _start(name, of_it, faces):
    """What the question begins with for a product: as the plan has it, over the faces that still take it."""
    if not of_it:
        return {"product": name, "method": "brush", "coats": 1, "faces": [pk for pk, _ in faces]}
    first = of_it[0][0]
    return {
        "product": name,
        "method": first.step.method,
        "film_um": first.step.dft_um,
        "coats": first.coats_left,
        "faces": [each.zone.pk for _, each in of_it],
    }


def _answer(form, scope, step):
    """What so much gives (Enough), or why nobody can say (Unknown)."""
    data = form.cleaned_data
    sheet = sheet_of(current_revisions([data["product"]]).get(data["product"]))
    if sheet is None:
        return Unknown("", f"the data sheet of {data['product']}")
    film = data["film_um"] or sheet.aim_um
    if film is None:
        return Unknown("film", f"the film of {sheet.product}")
    wanted = set(data["faces"])
    each = [e for e in scope.each if e.zone.pk in wanted]
    variant = sheet.variants[0] if sheet.variants else None
    thinner = step.thinner_pct if step and step.product == sheet.product else 0.0
    bare = not any(e.built(scope.facts.now.timestamp()).layers for e in each)
    faces: list[FaceAsked] = [e.asked for e in each]
    return is_enough(sheet, variant, data["ml"], faces, data["method"], film, data["coats"] or 1, thinner, bare)


def tin(request, scope_name, pk=0):
    """The answer alone as the question is typed: a fragment."""
    scopes = {"zone": lambda: scope_of_zone(request, pk), "job": lambda: scope_of_job(request, pk)}
    scope = scopes.get(scope_name, lambda: scope_of_all(request))()
    return render(request, "plans/tin_answer.html", tin_answer(request, scope) | {"scope": scope})
