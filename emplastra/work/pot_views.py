"""A pot while it is poured, and while it is good."""

from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.utils.functional import cached_property
from django.views.decorators.http import require_POST

from emplastra.core.product.kinds import FILLERS
from emplastra.core.product.mixing import Measure
from emplastra.core.surface.steps import CAUTIONS, DEFER
from emplastra.core.units import UnitError, parse_quantity
from emplastra.logbook import services
from emplastra.logbook.models import Entry, Kind
from emplastra.say.book import book_of
from emplastra.say.tins import holds
from emplastra.say.window import pot_figures
from emplastra.scales import reader
from emplastra.scales import services as scales
from emplastra.shared import asked, clock
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView
from emplastra.state.pots import views
from emplastra.state.rest import left_in, rooms_for
from emplastra.state.selectors import SPRAY_MIN_PER_M2
from emplastra.state.tins import batch_on, has_enough, to_pour
from emplastra.store.services import poured_from

from .forms import WeighForm
from .live import live_of
from .mix_views import untold
from .pot_picture import picture


def as_shown(pot, amount):
    """What scale or cup showed, as its row keeps it."""
    return {"scale_g" if pot.measure == Measure.SCALE else "level_ml": amount}


class PotPage(OnceView):
    """A pot: pour by the scale, correct, then its clock."""

    form_class = WeighForm
    template = "work/pot.html"
    action = "weigh"

    @property
    def done(self):
        return "Weighed." if self.pot.unit == "g" else "Poured."

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        entry = get_object_or_404(Entry.objects.of(Kind.POT).select_related("pot__revision__product"), pk=kwargs["pk"])
        self.replaced = Entry.objects.filter(pk=entry.pk, replaced_by__isnull=False).exists()
        self.zones = list(entry.zones.select_related("job"))
        book = book_of(request, self.zones[0])
        self.pot = views({entry.pk: entry}, book.facts, {entry.pk: self.zones})[0]
        self.now_s = book.facts.now.timestamp()
        self.offer = request.POST.get("offer") or request.GET.get("offer") or "exact"

    def pour(self):
        """What to pour now, None if the pot is complete, dead or emptied."""
        if self.replaced or self.pot.ended:
            return None
        return self.pot.next_pour(self.offer)

    def initial(self):
        pour = self.pour()
        if pour is None:
            return {}
        tin = self.offered
        return {"part": pour.part.key} | ({"batch": tin.batch, "use_by": tin.use_by} if tin else {})

    @cached_property
    def offered(self):
        """The tin of the part that is poured now: the one that it came from so far, else of the kit that is in the pot,
        of the batch that gives the colour beside it, or what expires first; None where none is.
        """
        pour, product = self.pour(), self.pot.pot.revision.product
        if pour is None:
            return None
        earlier = [tin for part, tin in self.pot.tins if part.key == pour.part.key]
        if earlier:
            return earlier[-1]
        kit = next((tin.kit for _, tin in self.pot.tins if tin.kit), "")
        batch = batch_on(self.zones, product, pour.part.key)
        return to_pour(product, pour.part.key, self.request.workshop, kit, batch)

    def form_kwargs(self):
        return {"measure": self.pot.measure}

    @cached_property
    def scale(self):
        """The scale that the pot is weighed on live; None where it is typed: until one is chosen on this device."""
        request = self.request
        if self.pot.measure is not Measure.SCALE or self.pour() is None or not request.user.may_write:
            return None
        chosen = asked.whole(request.GET.get("scale", ""))
        if chosen is not None:
            request.session["scale"] = chosen
        chosen = request.session.get("scale")
        return scales.in_use().filter(pk=chosen).first() if chosen else None

    def typed(self):
        """What scale or cup shows as typed so far, None while it is no amount."""
        dimension = "mass" if self.pot.measure is Measure.SCALE else "volume"
        try:
            shown, system = self.request.POST.get("shown", ""), self.request.workshop.units
            return parse_quantity(shown, dimension, system=system).value
        except UnitError:
            return None

    def context(self, form):
        book = book_of(self.request, self.zones[0])
        figures = pot_figures(self.pot, book.state(self.zones[0]), book.facts)
        context = {"zone": self.zones[0], "zones": self.zones, "figures": figures, "scales": scales.in_use()}
        context["live"] = live_of(self.pot, self.pour(), self.scale) if self.scale else None
        if self.offered is not None:
            wanted = self.pour().target - self.pot.shown
            told = has_enough(self.offered, wanted, self.pot.unit, self.request.workshop)
            context |= {"wanted": told, "holds": holds(told, self.request.workshop.units)}
        if self.pot.is_complete and not self.pot.ended and not self.replaced:
            coats = Entry.objects.known_at().filter(coat__pot=self.pot.entry).select_related("coat")
            told = list(coats.prefetch_related("places_on"))
            zones = self.zones[0].job.zones.in_use()
            rooms = rooms_for(self.pot, book_of(self.request), zones) if told else ()
            context |= {"coats": told, "rooms": rooms, "rest_ml": left_in(self.pot, told)}
            context["round"] = self._round(told)
            context["two_pack"] = any(part.role == "hardener" for part in self.pot.ratios)
        return context | self.output()

    def _round(self, coats):
        """(when all its faces are done [epoch s], how long it is good after that [s]) from now on, at the usual pace;
        None where nothing of it is left to do, or it has no life.
        """
        dead_s, facts = self.pot.times().dead_s, book_of(self.request, self.zones[0]).facts.zones
        done = {row.zone_id for coat in coats for row in coat.places_on.all()}
        left_m2 = sum(facts[zone.pk].area_m2 for zone in self.zones if zone.pk not in done and zone.pk in facts)
        if dead_s is None or not left_m2:
            return None
        begin_s = max(self.now_s, self.pot.times().usable_s or self.now_s)
        end_s = begin_s + 60.0 * SPRAY_MIN_PER_M2 * left_m2
        return end_s, dead_s - end_s

    def output(self):
        """The output region: picture, target, what is still to pour, deviations."""
        pot, typed, pour = self.pot, self.typed(), self.pour()
        shown = typed if typed is not None and typed > pot.shown else None
        status = "voided" if self.replaced else pot.status(self.now_s)
        still = pour.target - (shown if shown is not None else pot.shown) if pour else 0.0
        return {
            "pot": pot,
            "pour": pour,
            "status": status,
            "balance": pot.balance,
            "typed": shown,
            "still": still,
            "over": -still,
            "offer": self.offer,
            "in_band": pour is not None and shown is not None and abs(still) <= pour.band,
            "untold": untold(pot.sheet),
            "filler": pot.sheet.kind in FILLERS,
            "stranded": pot.stranded_share(),
            "picture": picture(pot, pour, shown),
            "times": pot.times(),
            "now_s": self.now_s,
            "cautions": [CAUTIONS[h] for h in pot.sheet.hazards],
            "defer": DEFER,
            "workshop": self.request.workshop,
        }

    def carry_out(self, form):
        data, now, pour = form.cleaned_data, clock.now(), self.pour()
        if pour is None:
            raise Refused("nothing is left to pour into this pot")
        if data["part"] not in {p.key for p in self.pot.ratios} or data["part"] != pour.part.key:
            old = f"this page was old: now {pour.part.name} is poured, to {pour.target:.1f} {self.pot.unit}"
            raise Refused(old, "shown")
        if sample := self.request.POST.get("sample", ""):
            data["shown"] = self._from_scale(sample, data["shown"])
        if data["shown"] <= self.pot.shown:
            raise Refused(f"must be more than the {self.pot.shown:.1f} {self.pot.unit} that it showed before", "shown")
        product = self.pot.pot.revision.product
        tin = None
        if data["batch"]:
            tin = poured_from(product, pour.part, data["batch"], data["use_by"], self.request.workshop.zone)
        details = {"pot": self.pot.entry, "part": data["part"], "tin": tin, **as_shown(self.pot.pot, data["shown"])}
        details["sample"] = sample
        places = tuple((zone, 1.0, "") for zone in self.zones)
        entry = services.log(self.request.user, services.Told(Kind.WEIGHED, now, now, places, details))
        return reverse("work:done", args=[entry.pk]) + ("?offer=least" if self.offer == "least" else "")

    def _from_scale(self, name, told):
        """What is in the pot by a sample of the live scale [g], which must be what the page told. Raises Refused."""
        scale = self.scale
        offset = scale and scales.offset(self.pot.entry, scale)
        if offset is None:
            raise Refused("put the pot on the scale first", "shown")
        sample = reader.take(scale, name)
        shown = sample.grams + offset
        if abs(shown - told) > sample.step_g:
            raise Refused(f"the scale shows {shown:.1f} g, the page {told:.1f} g: look at it again", "shown")
        return round(shown, 4)


@require_POST
def pot_preview(request, pk):
    """Picture and figures for the weight as typed: a fragment."""
    view = PotPage()
    view.setup(request, pk=pk)
    return render(request, "work/pot_output.html", view.output())
