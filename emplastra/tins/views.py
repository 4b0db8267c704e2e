"""Store: what stands on the shelf, what came in, one tin, its label."""

from datetime import datetime, time
from functools import reduce
from itertools import groupby
from operator import or_

from django.db import transaction
from django.db.models import Count, Q
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.utils.html import format_html_join
from django.utils.safestring import mark_safe
from django.views.decorators.http import require_POST

from emplastra.climate.models import Place
from emplastra.core.buying.stock import Happened
from emplastra.core.buying.tin_file import COLUMNS, read_tins
from emplastra.core.text import TextError, text_of
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.models import Product
from emplastra.materials.selectors import current_revisions, current_sheet, sheet_of
from emplastra.say.tins import amount
from emplastra.shared import asked, clock
from emplastra.shared.answers import table
from emplastra.shared.codes import code_of
from emplastra.shared.label_pdf import Label, pdf_of
from emplastra.shared.many import Narrow
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView, one_tap
from emplastra.state.tins import ranked, tin_views, today
from emplastra.store import services
from emplastra.store.models import Tin, TinFact

from . import forms
from .drawn import content, tin_row, tin_svg

SHOWN = 200
"""Tins shown at first."""
MOST_LABELS = 300


def store(request):
    """Every tin that has something in it, by product and part, in the order in which they are to be used."""
    narrow, emptied = Narrow.read(request.GET, "emptied"), bool(request.GET.get("emptied"))
    fitting = Tin.objects.filter(narrow.where("product__name", "part", "batch", "kit"))
    fitting, more = _of_first_parts(fitting.order_by("product__kind", "product__name", "part", "pk"), narrow.everything)
    views = tin_views(fitting, request.workshop)
    groups = []
    for (product, part), rows in groupby(views, key=lambda view: (view.tin.product, view.part_name)):
        count, lines = _lines(list(rows), emptied, request.workshop)
        groups += [(product, part, lines)] if count else []
    full = sum(not view.left.is_empty for view in views) + more
    context = {"groups": groups, "narrow": narrow, "count": len(views), "full": full, "more": more}
    context |= {"emptied": emptied, "products": _links(Product.objects.filter(retired=False))}
    return render(request, "tins/store.html", context)


def _links(products):
    """Links to what takes tins of these products in, drawn in code: a shelf has some hundreds; "" for none."""
    told, url = products.values_list("pk", "name"), reverse("tins:take-in", args=[0])
    return format_html_join(
        "", '<li><a href="{}">{}</a></li>', ((url.replace("0", str(pk)), name) for pk, name in told)
    )


def _of_first_parts(tins, everything):
    """(tins of as many parts as are shown at first, how many more there are that nobody told empty)."""
    wanted, rest, seen = Q(), [], 0
    parts = tins.order_by("product__kind", "product__name", "part").values_list("product", "part")
    for product, part, count in parts.annotate(count=Count("pk")):
        if everything or seen < SHOWN:
            wanted |= Q(product=product, part=part)
            seen += count
        else:
            rest.append(Q(product=product, part=part))
    if not rest:
        return tins, 0
    return tins.filter(wanted), tins.filter(reduce(or_, rest)).exclude(pk__in=services.emptied()).count()


def _lines(rows, emptied, workshop):
    """(how many, as lines) of one part's tins in the order in which they are to be used; what is empty where asked."""
    day, order = today(workshop), ranked(rows, workshop)
    first = (
        next((view.tin.pk for view in order if not (view.is_past(day) or view.recall)), None)
        if len(order) > 1
        else None
    )
    order += [view for view in rows if view.left.is_empty] if emptied else []
    lines = (tin_row(view, view.tin.pk == first, day, workshop.units) for view in order)
    return len(order), mark_safe("".join(lines))  # each is escaped


class TakeIn(OnceView):
    """Tins of a product that came in."""

    form_class = forms.InForm
    template = "tins/take_in.html"
    action, button, done = "tins in", "Take them in", "On the shelf."

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.product = get_object_or_404(Product, pk=kwargs["pk"])
        self.heading = f"Tins in: {self.product}"
        self.sheet = current_sheet(self.product.name)

    def form_kwargs(self):
        parts = self.sheet.components if self.sheet else ()
        return {"parts": parts or (services.Whole,), "currency": self.request.workshop.currency}

    def initial(self):
        place = services.live(TinFact.objects.filter(place__isnull=False)).order_by("-id").first()
        return {"came": clock.now(), "count": 1, "place": place.place_id if place else None}

    def context(self, form):
        return {"product": self.product}

    @transaction.atomic
    def carry_out(self, form):
        data, told = form.cleaned_data, form.told()
        kit = "+".join(batch for _, batch, _, _ in told)[:40] if data.get("kit") and len(told) > 1 else ""
        for key, batch, size, price in told:
            amount, unit = size or (None, "")
            about = (data["came"], data["use_by"], data["place"], kit)
            came = services.Came(batch, data["count"], amount, unit, price, *about)
            services.take_in(self.product, key, self.request.user, came)
        return reverse("tins:store")


class FromFile(OnceView):
    """Tins from a table: all of it, or nothing and what is wrong with each line."""

    form_class = forms.FileForm
    template = "tins/from_file.html"
    action, heading, button, done = "tins from a file", "Tins from a file", "Take them in", "On the shelf."

    def context(self, form):
        return {"problems": getattr(self, "problems", ()), "columns": COLUMNS}

    def prepare(self, form):
        """The table read and checked, before anything is locked."""
        try:
            text = text_of(form.cleaned_data["file"].read(), "a table of tins as CSV")
        except TextError as error:
            raise Refused(str(error), "file") from error
        places = frozenset(Place.objects.filter(in_use=True).values_list("name", flat=True))
        lines, self.problems = read_tins(text, _parts(), places, self.request.workshop.units)
        if self.problems or not lines:
            raise Refused(
                "nothing was taken in: the lines below are wrong" if self.problems else "it names no tin", "file"
            )
        return lines

    def carry_out(self, form):
        products = {product.name: product for product in Product.objects.all()}
        places = {place.name: place for place in Place.objects.all()}
        with transaction.atomic():
            for line in self.prepared:
                at = datetime.combine(line.came, time(), self.request.workshop.zone) if line.came else None
                about = (line.price, at, line.use_by, places.get(line.place), line.kit)
                came = services.Came(line.batch, line.count, line.amount, line.unit, *about)
                services.take_in(products[line.product], line.part, self.request.user, came)
        return reverse("tins:store")


def _parts():
    """{product name: {key or name of a part in small letters: its key}}."""
    found = {product: {"tin": "tin"} for product in Product.objects.values_list("name", flat=True)}
    for name, revision in current_revisions(set(found)).items():
        sheet = sheet_of(revision)
        if sheet is not None:
            found[name] = {word.lower(): p.key for p in sheet.components for word in (p.key, p.name)}
    return found


class TinPage(OnceView):
    """One tin: what it holds, what was told of it, where it went; looked into, or put elsewhere."""

    form_class = forms.LookForm
    template = "tins/tin.html"
    action, button, done = "tin looked into", "Write it down", "Written down."

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.tin = get_object_or_404(Tin.objects.select_related("product"), pk=kwargs["pk"])

    def initial(self):
        return {"at": clock.now()}

    def context(self, form):
        workshop = self.request.workshop
        view = tin_views(Tin.objects.filter(pk=self.tin.pk), workshop)[0]
        words, basis = content(view, workshop.units)
        past = view.is_past(today(workshop))
        told = self.tin.facts.select_related("place", "who", "voids", "voided_by").order_by("at", "id")
        context = {"tin": self.tin, "tv": view, "words": words, "basis": basis, "past": past}
        context["kept"] = amount(view.kept, view.unit, workshop.units)
        return context | {
            "svg": tin_svg(view, past),
            "facts": [(f, amount(f.amount, f.unit, workshop.units)) for f in told if f.kind != TinFact.VOID],
            "poured": [(p, amount(*p.told, workshop.units)) for p in view.poured],
            "code": code_of(self.request, reverse("tins:tin", args=[self.tin.pk])),
        }

    @transaction.atomic
    def carry_out(self, form):
        data, user = form.cleaned_data, self.request.user
        if data["left"] is not None:
            value, unit = data["left"]
            services.tell(self.tin, user, Happened.WEIGHED, data["at"], data["note"], amount=value, unit=unit)
        if data["keep"] is not None:
            value, unit = data["keep"]
            services.tell(self.tin, user, Happened.KEPT, data["at"], data["note"], amount=value, unit=unit)
        if data["place"] is not None:
            services.tell(self.tin, user, Happened.MOVED, data["at"], data["note"], place=data["place"])
        return reverse("tins:tin", args=[self.tin.pk])


def _told_by_tap(request, pk, kind, words):
    """Tell one fact of a tin by one button."""
    tin = get_object_or_404(Tin, pk=pk)
    url = reverse("tins:tin", args=[pk])

    def carry_out():
        services.tell(tin, request.user, kind)
        return url

    one_tap(request, f"tin {kind}", {"tin": pk}, carry_out, tin, words)
    return HttpResponseRedirect(url)


@require_POST
def opened(request, pk):
    """A tin was opened now."""
    return _told_by_tap(request, pk, Happened.OPENED, "Opened.")


@require_POST
def emptied(request, pk):
    """Nothing is left in a tin."""
    return _told_by_tap(request, pk, Happened.EMPTIED, "Emptied.")


@require_POST
def take_back(request, pk):
    """A fact of a tin that was wrong counts no more; it stays, struck through."""
    fact = get_object_or_404(TinFact.objects.select_related("tin"), pk=pk)
    url = reverse("tins:tin", args=[fact.tin_id])

    def carry_out():
        services.take_back(fact, request.user, request.POST.get("reason", ""))
        return url

    one_tap(
        request,
        "tin fact back",
        {"fact": pk},
        carry_out,
        fact.tin,
        "Taken back: it stays, struck through.",
        scope=str(pk),
    )
    return HttpResponseRedirect(url)


def labels(request):
    """Labels of tins, by their ids, else of all that have something in them."""
    ids = asked.ids(request.GET, "tins")
    views = tin_views(Tin.objects.filter(pk__in=ids) if ids else Tin.objects.all(), request.workshop)
    shown = [view for view in views if ids or (view.is_told and not view.left.is_empty)]
    if request.GET.get("as"):
        return pdf_of(request, [_label(view) for view in shown[:MOST_LABELS]], "labels-of-tins")
    codes = [(view, code_of(request, reverse("tins:tin", args=[view.tin.pk]))) for view in shown[:MOST_LABELS]]
    return render(request, "tins/labels.html", {"codes": codes})


def _label(view):
    """A tin's label for a file."""
    by = f"use by {view.last.day:%-d %b %Y}" if view.last else ""
    part = f"{view.part_name}, batch {view.tin.batch}"
    return Label(view.tin.code, reverse("tins:tin", args=[view.tin.pk]), (view.tin.product.name, part, by))


def pot_label(request, pk):
    """The label of one pot: what it is, for which zones, and a code that leads to its clock."""
    pot = get_object_or_404(Entry.objects.select_related("pot__revision__product", "who"), pk=pk, kind=Kind.POT)
    if request.GET.get("as"):
        begun = f"begun {pot.began.astimezone(request.workshop.zone):%-d %b %Y %H:%M}, {pot.who}"
        zones = ", ".join(str(zone) for zone in pot.zones.all())
        lines = (pot.pot.revision.product.name, begun, zones)
        return pdf_of(request, [Label(f"P{pk}", reverse("work:pot", args=[pk]), lines)], "label-of-a-pot")
    context = {
        "pot": pot,
        "zones": pot.zones.select_related("job"),
        "code": code_of(request, reverse("work:pot", args=[pk])),
    }
    return render(request, "tins/pot_label.html", context)


def export(request):
    """The store as a table."""
    views = tin_views(Tin.objects.all(), request.workshop)
    return table("tins", ["tin", *COLUMNS, "left", "unit", "opened"], [_row(v, request.workshop.zone) for v in views])


def _row(view, zone):
    """A tin as cells."""
    tin, size = view.tin, f"{view.size:g} {view.unit}" if view.size else ""
    left = "" if view.left.amount is None else f"{view.left.amount:.6g}"
    named = (tin.product.name, view.part_name, tin.batch, 1, size, view.price)
    told = (*named, view.came, tin.use_by, view.place, tin.kit, left, view.unit, view.opened)
    return [tin.code, *(each.astimezone(zone).date() if hasattr(each, "hour") else each for each in told)]
