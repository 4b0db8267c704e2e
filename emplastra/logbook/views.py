"""Logging, correcting and undoing; the Window."""

from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.climate.models import Place
from emplastra.core.dewpoint import dew_point_working
from emplastra.core.steps import CAUTIONS, DEFER, STEPS
from emplastra.core.surface import Coated, Toward, fold
from emplastra.jobs.models import Zone
from emplastra.materials.models import Product
from emplastra.materials.selectors import current_sheet
from emplastra.shared.services import Refused, new_token
from emplastra.shared.views import OnceView
from emplastra.store.models import Tin
from emplastra.store.services import name_batch

from . import forms, services
from .book import book_of
from .judge import CoatTold, film_of_coat, verdicts_on
from .lifeline import Scale, marks, ticks
from .models import Entry, Kind
from .needs import chosen_variant
from .pots import views
from .window import window_view


def zone_or_404(pk):
    """A zone that has not been removed, with its job."""
    return get_object_or_404(Zone.objects.select_related("job"), pk=pk, removed=False, job__removed=False)


class LogView(OnceView):
    """Log something on a zone; with `entry`, as the correction of that entry."""

    template = "logbook/log.html"
    kind = ""
    entry = None

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        if "entry" in kwargs:
            self.entry = get_object_or_404(Entry.objects.of(self.kind), pk=kwargs["entry"])
            rows = list(self.entry.places_on.select_related("zone__job").order_by("id"))
            wanted = request.GET.get("zone", "")
            self.row = next((row for row in rows if str(row.zone_id) == wanted), rows[0])
            self.other_rows = [row for row in rows if row is not self.row]
            self.zone = self.row.zone
        else:
            self.zone = zone_or_404(kwargs["pk"])
        self.action = f"log {self.kind}"

    @property
    def heading(self):
        return f"{'Correct' if self.entry else 'Log'}: {Kind(self.kind).label.lower()}"

    @property
    def button(self):
        return "Correct it" if self.entry else "Log it"

    @property
    def done(self):
        return f"{Kind(self.kind).label}: recorded."

    def state(self):
        """The zone's state now."""
        return book_of(self.request, self.zone).state(self.zone)

    def form_kwargs(self):
        entry_kind = self.kind
        steps = [(i, s) for i, s in enumerate(self.state().facts.steps, 1) if STEPS[s.kind].entry == entry_kind]
        return {"zone": self.zone, "steps": steps, "correcting": self.entry is not None}

    def initial(self):
        facts = book_of(self.request, self.zone).facts
        if self.entry:
            base = {"began": self.entry.began, "ended": self.entry.ended, "note": self.entry.note}
            return base | {"share": self.row.share * 100, "step": self.row.step}
        next_step = self.state().next_step
        step = next_step.id if next_step and STEPS[next_step.kind].entry == self.kind else ""
        start = {"began": facts.now, "ended": facts.now, "step": step, "seen": self.newest().pk if self.newest() else 0}
        return start | {k: v for k, v in self.request.GET.items() if k in {"step", "grit"}}

    def context(self, form):
        book_of(self.request, self.zone)
        kinds = {"bared": "strip", "keyed": "abrade", "degreased": "degrease"}
        cautions = list(STEPS[kinds[self.kind]].cautions) if self.kind in kinds else []
        correct_url = ""
        if hasattr(self, "repeat_entry"):
            correct_url = reverse("logbook:correct", args=[self.kind, self.repeat_entry])
        return {"zone": self.zone, "kind": self.kind, "cautions": cautions, "defer": DEFER, "correct_url": correct_url}

    def show(self, form, status=200, **more):
        if more.get("earlier"):
            self.repeat_entry = int(more["earlier"].result_url.rsplit("/", 2)[-2])
        if hasattr(self, "meanwhile"):
            form.data["seen"], status = self.meanwhile, 409
        return super().show(form, status, **more)

    def post(self, request, **kwargs):
        if request.POST.get("take"):
            data = request.POST.copy()
            data["token"] = new_token()
            return self.show(self.make_form(data), 422)
        return super().post(request, **kwargs)

    def details(self, form):
        """Details of the kind, from the form."""
        return {}

    def newest(self):
        """The newest entry on the zone, by whom so ever."""
        return Entry.objects.filter(zones=self.zone).order_by("-id").first()

    def look_up(self, form):
        """Refuse once if somebody else logged on this zone since the form was opened: it may be the same coat."""
        seen = form.cleaned_data.get("seen")
        others = Entry.objects.known_at().filter(zones=self.zone, pk__gt=seen or 0).exclude(who=self.request.user)
        other = others.order_by("id").last()
        if self.entry is None and seen is not None and other is not None:
            self.meanwhile = self.newest().pk
            at = other.ended.astimezone(self.request.workshop.zone)
            raise Refused(
                f"{other.who} logged “{other.get_kind_display().lower()}” here meanwhile, ended {at:%H:%M}. If yours is another, tap again."
            )

    def zones_told(self, form):
        """((zone, share, step id), ...) as typed."""
        return form.zones()

    def carry_out(self, form):
        data = form.cleaned_data
        self.look_up(form)
        zones = self.zones_told(form)
        if self.entry:  # the entry's other zones keep what was told of them
            zones += tuple((row.zone, row.share, row.step) for row in self.other_rows)
        told = services.Told(self.kind, data["began"], data["ended"], zones, self.details(form), data["note"])
        entry = services.log(self.request.user, told, data["confirm_old"], self.entry, data.get("reason", ""))
        return reverse("logbook:done", args=[entry.pk])


class LogBared(LogView):
    form_class, kind = forms.BaredForm, Kind.BARED


class LogDegreased(LogView):
    form_class, kind = forms.DegreasedForm, Kind.DEGREASED

    def form_kwargs(self):
        products = Product.objects.filter(kind__in=["panel-wipe", "cleaner"])
        return super().form_kwargs() | {"products": products}

    def initial(self):
        products = Product.objects.filter(kind="panel-wipe")
        product = self.entry.degreased.product if self.entry else products.first()
        return super().initial() | {"product": product}

    def details(self, form):
        return {"product": form.cleaned_data["product"]}


class LogKeyed(LogView):
    form_class, kind = forms.KeyedForm, Kind.KEYED

    def initial(self):
        found = super().initial()
        if self.entry:
            return found | {"grit": self.entry.keyed.grit, "um_off": self.entry.keyed.um_off}
        step = self.state().next_step
        planned = {"grit": step.grit} if step and step.grit and found["step"] else {}
        return planned | found

    def details(self, form):
        return {"grit": form.cleaned_data["grit"], "um_off": form.cleaned_data["um_off"] or 0.0}


class LogMoved(LogView):
    form_class, kind = forms.MovedForm, Kind.MOVED

    def form_kwargs(self):
        return super().form_kwargs() | {"places": Place.objects.filter(in_use=True)}

    def initial(self):
        return super().initial() | ({"place": self.entry.moved.place} if self.entry else {})

    def details(self, form):
        return {"place": form.cleaned_data["place"]}


class LogCoat(LogView):
    """A coat, with its verdicts and its window shown while it is typed."""

    form_class, kind = forms.CoatForm, Kind.COAT
    template = "logbook/log_coat.html"

    def pots(self):
        """Pots of this zone that have not ended, complete ones."""
        return [p for p in self.state().pots if p.is_complete]

    def form_kwargs(self):
        sources = [
            (
                f"pot:{p.entry.pk}",
                f"Pot of {p.sheet.product}, {p.entry.began.astimezone(self.request.workshop.zone):%H:%M}",
            )
            for p in self.pots()
        ]
        if self.entry and self.entry.coat.pot_id:
            sources.insert(0, (f"pot:{self.entry.coat.pot_id}", "The same pot"))
        names = Product.objects.filter(kind__in={k for s in STEPS.values() if s.leaves_film for k in s.products})
        sources += [(f"product:{p.name}", f"{p.name}, straight from the tin or can") for p in names]
        others = self.zone.job.zones.filter(removed=False).exclude(pk=self.zone.pk) if not self.entry else ()
        return super().form_kwargs() | {"sources": list(dict.fromkeys(sources)), "others": others}

    def initial(self):
        found = super().initial()
        if self.entry:
            coat = self.entry.coat
            source = f"pot:{coat.pot_id}" if coat.pot_id else f"product:{coat.product.name}"
            air = {"air_c": coat.reading.air_c, "rh_pct": coat.reading.rh_pct} if coat.reading else {}
            tin = {"batch": coat.tin.batch, "use_by": coat.tin.use_by} if coat.tin else {}
            keep = {k: getattr(coat, k) for k in ("method", "thinner_pct", "wft_um", "surface_c")}
            return found | air | tin | keep | {"source": source}
        layer, pots = self.state().plan.next_layer, self.pots()
        step = layer.step if layer else None
        if step:
            found |= {"method": step.method, "thinner_pct": step.thinner_pct, "source": f"product:{step.product}"}
            tin = Tin.objects.filter(product__name=step.product).order_by("use_by").last()
            found |= {"batch": tin.batch, "use_by": tin.use_by} if tin and not pots else {}
        if pots:
            found |= {
                "source": f"pot:{pots[-1].entry.pk}",
                "thinner_pct": pots[-1].pot.thinner_pct,
                "method": pots[-1].pot.method,
            }
        return found

    def told(self, form):
        """The coat as typed, with its pot, product and plan."""
        data = form.cleaned_data
        kind, _, key = data["source"].partition(":")
        pot = self._pot(int(key)) if kind == "pot" else None
        product = pot.sheet.product if pot else key
        sheet = pot.sheet if pot else current_sheet(product)
        variant = pot.variant if pot else self._variant(sheet, data)
        step = next((s for s in self.state().facts.steps if s.id == data["step"]), None)
        plan_um = step.dft_um if step else (sheet.film.typical_um if sheet and sheet.film else 0.0)
        batches = [(data["batch"], data["use_by"])] if data["batch"] else []
        if pot:
            batches = [
                (f"{p.part.name}, batch {p.entry.weighed.tin.batch}", p.entry.weighed.tin.use_by)
                for p in pot.poured
                if p.entry.weighed.tin
            ]
        return pot, CoatTold(
            product,
            sheet,
            variant,
            data["began"].timestamp(),
            data["ended"].timestamp(),
            plan_um,
            pot.pot.thinner_pct if pot else data["thinner_pct"] or 0.0,
            data["wft_um"],
            data["air_c"],
            data["rh_pct"],
            data["surface_c"],
            pot.times() if pot else None,
            batches,
            self.entry.pk if self.entry else None,
        )

    def zones_told(self, form):
        """Other zones take the coat on their own plan's next layer, if that is of the same product."""
        _, coat = self.told(form)
        book, found = book_of(self.request, self.zone), []
        for zone, share, step in form.zones():
            if zone.pk != self.zone.pk and zone.pk in book.facts.zones:
                layer = book.state(zone).plan.next_layer
                step = layer.step.id if layer and layer.step.product == coat.product else ""
            found.append((zone, share, step))
        return tuple(found)

    def _variant(self, sheet, data):
        """The ratio that the air at the begin names, for a coat with no pot; the last one if none holds."""
        if sheet is None or not sheet.variants:
            return None
        air_c = (
            data["air_c"] if data["air_c"] is not None else self.state().facts.where.at(data["began"].timestamp()).air_c
        )
        return chosen_variant(sheet, air_c, data["method"])[0] or sheet.variants[-1]

    def _pot(self, key):
        from_state = [p for p in self.state().pots if p.entry.pk == key]
        if from_state:
            return from_state[0]
        if self.entry and self.entry.coat.pot_id == key:  # emptied since: a correction keeps its pot
            pot = Entry.objects.select_related("pot__revision__product").get(pk=key)
            return next(views({key: pot}, book_of(self.request, self.zone).facts, {key: [self.zone]}))
        raise Refused("this pot has been emptied: choose another source", "source")

    def consequence(self, form):
        """What the coat as typed comes to; None while a field is wrong."""
        if not form.is_valid():
            return None
        try:
            pot, coat = self.told(form)
        except Refused:
            return None
        book = book_of(self.request, self.zone)
        state = self.state()
        film, _ = film_of_coat(coat)
        event = Coated(
            coat.began_s,
            coat.ended_s,
            form.cleaned_data["share"] / 100,
            form.cleaned_data["step"],
            10**9,
            coat.sheet,
            film,
            coat.product,
        )
        toward = self._after(state, coat)
        kept = tuple(e for e in state.facts.events if not self.entry or e.entry != self.entry.pk)
        surface = fold(
            (*kept, event),
            state.facts.revision.substrate,
            state.facts.where,
            max(coat.ended_s, book.facts.now.timestamp()),
            toward,
        )
        return {"film": film, "plan_um": coat.plan_um, "verdicts": verdicts_on(coat, state.facts, book.facts), "pot": pot,
                "flash": surface.clock("flash"), "recoat": surface.clock("recoat"), "toward": toward, "sheet": coat.sheet,
                "cautions": [CAUTIONS[h] for h in (coat.sheet.hazards if coat.sheet else ())]}  # fmt: skip

    def _after(self, state, coat):
        """What comes after this coat: the same again while the step has coats left, else the next layer."""
        layers = [s for s in state.plan.states if STEPS[s.step.kind].leaves_film and not s.done]
        left = [s.step.product for s in layers for _ in range(s.step.coats - s.coats_done)]
        product = left[1] if len(left) > 1 and left[0] == coat.product else coat.product
        sheet = book_of(self.request, self.zone).facts.sheets.get(product)
        return Toward(product, sheet.kind if sheet else "")

    def context(self, form):
        more = super().context(form)
        bound = (
            form
            if form.is_bound
            else self.make_form(
                {**{k: form.get_initial_for_field(f, k) for k, f in form.fields.items()}, **self._as_text(form)}
            )
        )
        return more | {"consequence": self.consequence(bound)}

    def _as_text(self, form):
        """Initial values as they would be typed, so that the first preview reads what the page shows."""
        return {name: form[name].value() if form[name].value() is not None else "" for name in form.fields} | {
            "began": form.fields["began"].prepare_value(form["began"].value()),
            "ended": form.fields["ended"].prepare_value(form["ended"].value()),
            "wft_um": form.fields["wft_um"].prepare_value(form["wft_um"].value() or ""),
            "reason": "-",
        }

    def details(self, form):
        data = form.cleaned_data
        pot, coat = self.told(form)
        product = Product.objects.get(name=coat.product)
        tin = None
        if pot is None and data["batch"]:
            tin = name_batch(
                product,
                coat.sheet.components[0].key if coat.sheet else "tin",
                data["batch"],
                data["use_by"],
                self.request.workshop.zone,
            )
        revision = (
            pot.pot.revision
            if pot
            else product.revisions.filter(recorded__lte=data["ended"]).first() or product.revisions.first()
        )
        return {
            "product": product, "revision": revision, "pot": pot.entry if pot else None, "tin": tin,
            "variant": coat.variant.key if coat.variant else "", "method": data["method"], "thinner_pct": coat.thinner_pct,
            "wft_um": data["wft_um"], "plan_um": coat.plan_um, "surface_c": data["surface_c"],
            "place": self.state().facts.place, "air_c": data["air_c"], "rh_pct": data["rh_pct"],
        }  # fmt: skip


LOG_VIEWS = {view.kind: view for view in (LogBared, LogDegreased, LogKeyed, LogMoved, LogCoat)}


def log(request, pk, kind):
    """Log an entry of a kind on a zone."""
    return LOG_VIEWS[kind].as_view()(request, pk=pk)


def correct(request, kind, entry):
    """Correct an entry: the same form with its values, and a reason."""
    return LOG_VIEWS[kind].as_view()(request, entry=entry)


@require_POST
def preview(request, pk):
    """The consequence of a coat as typed so far: a fragment."""
    view = LogCoat(request=request)
    view.setup(request, pk=pk)
    form = view.make_form(request.POST)
    context = {"consequence": view.consequence(form), "form": form, "workshop": request.workshop}
    return render(request, "logbook/coat_consequence.html", context)


def done(request, pk):
    """Where an entry leads: to the window of its zone, with Undo at hand."""
    entry = get_object_or_404(Entry, pk=pk)
    for message in messages.get_messages(request):
        messages.add_message(request, message.level, str(message), extra_tags=f"{message.extra_tags} undo:{entry.pk}")
    if entry.kind == Kind.WEIGHED:
        offer = request.GET.get("offer") == "least"
        return HttpResponseRedirect(
            reverse("logbook:pot", args=[entry.weighed.pot_id]) + ("?offer=least" if offer else "")
        )
    row = entry.places_on.first()
    if entry.kind in {Kind.COAT, Kind.KEYED, Kind.DEGREASED}:
        return HttpResponseRedirect(reverse("logbook:window", args=[row.zone_id]))
    return HttpResponseRedirect(reverse("logbook:build-up", args=[row.zone_id]) if row else reverse("bench:home"))


@require_POST
def undo(request, pk):
    """Void one's own entry by one tap."""
    entry = get_object_or_404(Entry, pk=pk)
    try:
        services.undo(request.user, entry)
        messages.success(request, f"{entry.get_kind_display()}: undone.")
    except Refused as refusal:
        messages.error(request, f"{entry.get_kind_display()} {refusal}.")
    if entry.kind == Kind.WEIGHED:
        return HttpResponseRedirect(reverse("logbook:pot", args=[entry.weighed.pot_id]))
    row = entry.places_on.first()
    return HttpResponseRedirect(reverse("record:zone", args=[row.zone_id]) if row else reverse("bench:home"))


def void(request, pk):
    """Strike an entry through, with a reason; one with dependants only together with them."""
    entry = get_object_or_404(Entry, pk=pk)
    named = services.dependants(entry)
    row = entry.places_on.first()
    error = ""
    if request.method == "POST":
        try:
            reason = request.POST.get("reason", "").strip()
            if not reason:
                raise Refused("Reason: write why it is voided, for example: wrong zone")
            services.void(request.user, entry, reason[:200], request.POST.get("together") == str(len(named)))
            messages.success(request, f"{entry.get_kind_display()}: voided.")
            return HttpResponseRedirect(reverse("record:zone", args=[row.zone_id]) if row else reverse("bench:home"))
        except Refused as refusal:
            error = str(refusal)
    context = {"entry": entry, "dependants": named, "error": error, "zone": row.zone if row else None}
    return render(request, "logbook/void.html", context, status=422 if error else 200)


def spread_working(state):
    """The working of the surface's distance from the dew point now, None without air."""
    if state.now is None:
        return None
    air = state.facts.where.at(state.surface.t_s)
    return dew_point_working(air.air_c, air.rh_pct, state.now.temp_c, state.now.basis, state.now.source)


def window(request, pk):
    """A zone's window: flash, opens, closes, then key first; each figure with its working."""
    zone = zone_or_404(pk)
    book = book_of(request, zone)
    state = book.state(zone)
    now_s = book.facts.now.timestamp()
    scale = Scale(now_s - 24 * 3600, now_s + 72 * 3600, 1200.0)
    context = {
        "zone": zone,
        "state": state,
        "scale": scale,
        "marks": marks(state, scale),
        "ticks": ticks(scale, request.workshop, 12),
        "narrow_ticks": ticks(Scale(scale.start_s, scale.end_s, 340.0), request.workshop, 24),
        "now_x": scale.x(now_s),
        "view": window_view(state, book.facts),
        "working": spread_working(state),
    }
    return render(request, "logbook/window.html", context)
