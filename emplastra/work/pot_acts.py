"""What is done with a pot beside pouring into it: tared, changed, corrected, emptied; its stick, printed 1:1."""

from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.product.mixing import Measure, plan_pot
from emplastra.core.words import volume_q
from emplastra.logbook import services
from emplastra.logbook.models import Entry, Kind
from emplastra.scales import services as scales
from emplastra.shared import asked, clock
from emplastra.shared.answers import pdf
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView, one_tap

from .forms import ChangePotForm, CorrectWeighingForm, EndPotForm
from .pot_views import PotPage, as_shown
from .stick import stick_pdf


@require_POST
def tare(request, pk):
    """The pot stands on the scale, with so much in it as it has."""
    view = PotPage()
    view.setup(request, pk=pk)
    url, pot, scale = reverse("work:pot", args=[pk]), view.pot, view.scale
    name = request.POST.get("sample", "")

    def carry_out():
        if scale is None:
            raise Refused("no scale is chosen")
        scales.tare(pot.entry, scale, request.user, name, pot.shown)
        return url

    one_tap(request, "tare", {"pot": pk}, carry_out, "Tare", "Tared.")
    return HttpResponseRedirect(url)


class OfPot(OnceView):
    """A form about one pot."""

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        page = PotPage()
        page.setup(request, *args, **kwargs)
        self.pot, self.zones = page.pot, page.zones

    def tell(self, kind, details):
        """Write it down, of the pot's zones, now."""
        now = clock.now()
        places = tuple((zone, 1.0, "") for zone in self.zones)
        return services.log(
            self.request.user, services.Told(kind, now, now, places, {"pot": self.pot.entry, **details})
        )


class EndPot(OfPot):
    """The pot is empty: what was wasted, what is kept for touch-up."""

    form_class = EndPotForm
    action, heading, button, done = "end pot", "Pot is empty", "Pot is empty", "Pot emptied."

    def initial(self):
        return {"waste_ml": 0.0, "kept_ml": 0.0}

    def carry_out(self, form):
        if self.pot.ended:
            raise Refused("this pot was emptied meanwhile")
        data, held = form.cleaned_data, self.pot.held_ml
        if held is not None and data["waste_ml"] + data["kept_ml"] > 1.05 * held:
            raise Refused(f"left over and kept are more than the {volume_q(held)} that were in it", "waste_ml")
        self.tell(Kind.POT_ENDED, {name: data[name] for name in ("waste_ml", "kept_ml", "kept_where")})
        return reverse("bench:home")


class ChangePot(OfPot):
    """Something else is wanted of a pot that was begun."""

    form_class = ChangePotForm
    action, heading, button, done = "change pot", "What is wanted of this pot", "Change it", "Changed."

    def form_kwargs(self):
        return {"in_grams": self.pot.ready_ml is None}

    def initial(self):
        return {"ready": self.pot.ready_ml or self.pot.ready_g, "vessel_ml": self.pot.vessel_ml}

    def carry_out(self, form):
        if self.pot.ended or self.pot.complete_s is not None:
            raise Refused("all its parts are in: mix another for what is missing", "ready")
        data, by_mass = form.cleaned_data, self.pot.ready_ml is None
        wanted = {"ready_ml": None if by_mass else data["ready"], "ready_g": data["ready"] if by_mass else None}
        self.tell(Kind.POT_CHANGED, wanted | {"vessel_ml": data["vessel_ml"]})
        return reverse("work:pot", args=[self.pot.entry.pk])


def stick(request, pk):
    """Marks for a stick that stands in a straight-sided pot, to be printed 1:1."""
    view = PotPage()
    view.setup(request, pk=pk)
    pot = view.pot
    diameter_mm = asked.a_figure(request.GET, "diameter", 0.0, 2000.0) or pot.pot.diameter_mm
    wanted = pot.ready_ml
    if wanted is None or not diameter_mm or diameter_mm < 10:
        return HttpResponseRedirect(reverse("work:pot", args=[pk]))
    plan = plan_pot(pot.ratios, wanted, diameter_mm, pot.measure)
    return pdf(f"stick-P{pk}", stick_pdf(request, plan, diameter_mm, str(pot.sheet.product)))


class CorrectWeighing(OnceView):
    """Correct what the scale showed at one weighing, with a reason."""

    form_class = CorrectWeighingForm
    action, heading, button, done = "correct weighing", "Correct: weighed", "Correct it", "Corrected."

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        found = Entry.objects.of(Kind.WEIGHED).select_related("weighed")
        self.weighing = get_object_or_404(found, pk=kwargs["entry"])

    def form_kwargs(self):
        return {"measure": Measure(self.weighing.weighed.pot.pot.measure)}

    def initial(self):
        return {"shown": self.weighing.weighed.shown}

    def carry_out(self, form):
        data, weighing = form.cleaned_data, self.weighing
        old = weighing.weighed
        details = {"pot": old.pot, "part": old.part, "tin": old.tin, **as_shown(old.pot.pot, data["shown"])}
        places = tuple((row.zone, row.share, row.step) for row in weighing.places_on.select_related("zone"))
        told = services.Told(Kind.WEIGHED, weighing.began, weighing.ended, places, details)
        services.log(self.request.user, told, True, weighing, data["reason"])
        return reverse("work:pot", args=[old.pot_id])
