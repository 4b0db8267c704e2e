"""Logging and correcting what happened, but for coats."""

from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.climate.models import Place
from emplastra.core.metal.strip import way_of
from emplastra.core.surface.steps import DEFER, STEPS
from emplastra.core.survey.answers import Answer
from emplastra.core.survey.contractor import CAUTION
from emplastra.jobs import surveying
from emplastra.jobs.models import Zone
from emplastra.jobs.registers import still_off
from emplastra.logbook import services
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.models import Product
from emplastra.shared import asked, clock
from emplastra.shared.services import Refused, new_token
from emplastra.shared.views import OnceView, one_tap
from emplastra.state.book import book_of

from . import forms


def zone_or_404(pk):
    """A zone that has not been removed, with its job."""
    return get_object_or_404(Zone.objects.select_related("job"), pk=pk, removed=False, job__removed=False)


_CAUTION_OF = {
    "bared": "strip",
    "keyed": "abrade",
    "degreased": "degrease",
    "prepped": "acid-prep",
    "wetted": "acid-prep",
    "rinsed": "acid-prep",
    "film-lost": "weld",
}


class ZoneView(OnceView):
    """A form on a zone, which knows the zone's state and the version of its plan."""

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.zone = zone_or_404(kwargs["pk"])

    @property
    def state(self):
        """The zone's state."""
        return book_of(self.request, self.zone).state(self.zone)

    @property
    def plan_number(self):
        """Number of the plan's version, 0 without a plan."""
        plan = self.state.facts.build_up
        return plan.number if plan else 0


class LogView(OnceView):
    """Log something on a zone; with `entry`, as the correction of that entry."""

    template = "work/log.html"
    kind = ""
    entry = None

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        if "entry" in kwargs:
            self.entry = get_object_or_404(Entry.objects.of(self.kind), pk=kwargs["entry"])
            rows = list(self.entry.places_on.select_related("zone__job").order_by("id"))
            wanted = asked.an_id(request.GET, "zone")
            self.row = next((row for row in rows if row.zone_id == wanted), rows[0])
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
        # An inspection that is not of welds is plainly done.
        kinds = {entry_kind, "inspected"} if entry_kind == Kind.DONE else {entry_kind}
        steps = [(i, s) for i, s in enumerate(self.state().facts.steps, 1) if STEPS[s.kind].entry in kinds]
        return {"zone": self.zone, "steps": steps, "correcting": self.entry is not None}

    def initial(self):
        facts = book_of(self.request, self.zone).facts
        if self.entry:
            base = {"began": self.entry.began, "ended": self.entry.ended, "note": self.entry.note}
            return base | {"share": self.row.share * 100, "step": self.row.step}
        next_step = self.state().next_step
        step = next_step.id if next_step and STEPS[next_step.kind].entry == self.kind else ""
        start = {"began": facts.now, "ended": facts.now, "step": step, "seen": self.newest().pk if self.newest() else 0}
        given = {"step", "grit", "how", "place", "cause"}
        return start | {k: v for k, v in self.request.GET.items() if k in given}

    def context(self, form):
        book_of(self.request, self.zone)
        cautions = list(STEPS[_CAUTION_OF[self.kind]].cautions) if self.kind in _CAUTION_OF else []
        cautions += [CAUTION] if self.kind in {Kind.AWAY, Kind.BACK} else []
        correct_url = ""
        if hasattr(self, "repeat_entry"):
            correct_url = reverse("work:correct", args=[self.kind, self.repeat_entry])
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
        return reverse("work:done", args=[entry.pk])


class LogBared(LogView):
    form_class, kind = forms.BaredForm, Kind.BARED

    def initial(self):
        first = super().initial()
        if self.entry:
            told = getattr(self.entry, "bared", None)
            return first | ({"how": told.how} if told else {})
        steps = [s for s in self.state().facts.steps if s.kind == "strip"]
        step = next((s for s in steps if s.id == first["step"]), steps[0] if steps else None)
        return {"how": way_of(step.note) if step else ""} | first

    def details(self, form):
        return {"how": form.cleaned_data["how"]}


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


class LogPrepped(LogView):
    form_class, kind = forms.PreppedForm, Kind.PREPPED

    def form_kwargs(self):
        return super().form_kwargs() | {"products": Product.objects.filter(kind="acid-prep")}

    def initial(self):
        layer = self.state().next_step
        named = Product.objects.filter(name=layer.product).first() if layer and layer.product else None
        product = (
            self.entry.prepped.product if self.entry else named or Product.objects.filter(kind="acid-prep").first()
        )
        return super().initial() | {"product": product}

    def details(self, form):
        product = form.cleaned_data["product"]
        return {"product": product, "revision": revision_at(product, form.cleaned_data["ended"])}


class LogWetted(LogView):
    form_class, kind = forms.WettedForm, Kind.WETTED

    def details(self, form):
        prep = self.entry.wetted.prep if self.entry else services.running_prep(self.zone)
        if prep is None:
            raise Refused("no prep stands wet on this zone: log the acid prep first")
        return {"prep": prep}


class LogRinsed(LogView):
    form_class, kind = forms.RinsedForm, Kind.RINSED

    def details(self, form):
        return {"prep": self.entry.rinsed.prep if self.entry else services.running_prep(self.zone)}


class LogChecked(LogView):
    form_class, kind = forms.CheckedForm, Kind.CHECKED

    def initial(self):
        if not self.entry:
            return super().initial()
        told = self.entry.checked
        return super().initial() | {"said": f"{told.check_kind}:{int(told.passed)}"}

    def details(self, form):
        kind, passed = form.cleaned_data["said"].split(":")
        return {"check_kind": kind, "passed": passed == "1"}


class LogInspected(LogView):
    form_class, kind = forms.InspectedForm, Kind.INSPECTED

    def initial(self):
        return super().initial() | (self.entry.inspected.points if self.entry else {})

    def details(self, form):
        return {"points": form.cleaned_data["points"]}


class LogFilmLost(LogView):
    form_class, kind = forms.FilmLostForm, Kind.FILM_LOST

    def form_kwargs(self):
        others = self.zone.job.zones.in_use().exclude(pk=self.zone.pk)
        return super().form_kwargs() | {"others": others}

    def initial(self):
        if not self.entry:
            return super().initial()
        told = self.entry.film_lost
        return super().initial() | {"cause": told.cause, "length_mm": told.length_mm, "strip_mm": told.strip_mm}

    def details(self, form):
        return {name: form.cleaned_data[name] for name in ("cause", "length_mm", "strip_mm")}


class LogAway(LogView):
    form_class, kind = forms.AwayForm, Kind.AWAY
    names = ("contractor", "trade", "work", "visit", "due", "condition")

    def form_kwargs(self):
        others = self.zone.job.zones.in_use().filter(parent=None).exclude(pk=self.zone.pk)
        return super().form_kwargs() | {"others": others}

    def initial(self):
        told = self.entry.away if self.entry else None
        if told:
            return super().initial() | {k: getattr(told, k) for k in self.names} | {"send_off": list(told.send_off)}
        return super().initial()

    def details(self, form):
        if not self.entry:
            for zone in [self.zone, *form.cleaned_data.get("also", ())]:
                if services.running_absence(zone):
                    raise Refused(f"{zone} is away already: log it back first")
        ticked = dict.fromkeys(form.cleaned_data["send_off"], True)
        return {name: form.cleaned_data[name] for name in self.names} | {"send_off": ticked}


class LogBack(LogView):
    form_class, kind = forms.BackForm, Kind.BACK
    names = ("came", "primer", "condition", "rework")

    def initial(self):
        return super().initial() | ({k: getattr(self.entry.back, k) for k in self.names} if self.entry else {})

    @property
    def away(self):
        """The entry that sent it away."""
        return self.entry.back.away if self.entry else services.running_absence(self.zone)

    def details(self, form):
        if self.away is None:
            raise Refused("this zone is not away: log it sent away first")
        return {"away": self.away, **{name: form.cleaned_data[name] for name in self.names}}

    def zones_told(self, form):
        """All that went together comes back together."""
        told = super().zones_told(form)
        if self.entry or self.away is None:
            return told
        return (*told, *((row.zone, 1.0, row.step) for row in self.away.places_on.exclude(zone=self.zone)))

    def carry_out(self, form):
        url = super().carry_out(form)
        if form.cleaned_data["rework"] and not self.entry:
            answer = Answer(
                "more", surveying.next_mark(self.zone, "more"), "other", {}, form.cleaned_data["rework"], "bare"
            )
            surveying.state(self.zone, self.request.user, "bared", [(answer, "made-so")], form.cleaned_data["step"])
        return url

    def form_kwargs(self):
        found = super().form_kwargs()
        steps = [(i, s) for i, s in enumerate(self.state().facts.steps, 1) if STEPS[s.kind].entry == Kind.AWAY]
        return found | {"steps": steps}


class LogAccess(LogView):
    form_class, kind = forms.AccessForm, Kind.ACCESS

    def context(self, form):
        return super().context(form) | {"still_off": still_off(self.zone)}

    def initial(self):
        told = self.entry.access if self.entry else None
        return super().initial() | ({"how": told.how, "what": told.what} if told else {})

    def details(self, form):
        return {"how": form.cleaned_data["how"], "what": form.cleaned_data["what"]}


class LogDone(LogView):
    form_class, kind = forms.DoneForm, Kind.DONE


def revision_at(product, moment):
    """The product's sheet as it was at a moment (aware), else its newest; None if it has none."""
    return product.revisions.filter(recorded__lte=moment).first() or product.revisions.first()


@require_POST
def wet(request, pk):
    """Wetted now, by one tap: the same token is answered, never carried out twice."""
    zone = zone_or_404(pk)

    def carry_out():
        prep = services.running_prep(zone)
        if prep is None:
            raise Refused("no prep stands wet on this zone any more")
        now = clock.now()
        told = services.Told(Kind.WETTED, now, now, ((zone, 1.0, ""),), {"prep": prep})
        return reverse("work:done", args=[services.log(request.user, told).pk])

    one_tap(request, "wetted", {"zone": pk}, carry_out, zone, f"{zone}: wetted.", undo=True)
    return HttpResponseRedirect(reverse("bench:home"))
