"""Mix: a pot before it is begun."""

from dataclasses import replace

from django.http import HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.urls import reverse
from django.utils.functional import cached_property
from django.views.decorators.http import require_POST

from emplastra.core.buying.amounts import variant_for
from emplastra.core.buying.pots import SMALLEST_ML, Round, plan_pots
from emplastra.core.product import film
from emplastra.core.product.kinds import FILLERS
from emplastra.core.product.mixing import Measure, life_share, measures, plan_pot, too_fine
from emplastra.core.rules.face import TinFact
from emplastra.core.surface.integral import crossing
from emplastra.core.surface.steps import CAUTIONS, DEFER
from emplastra.core.words import celsius_q
from emplastra.core.working import Unknown
from emplastra.logbook import services
from emplastra.logbook.models import Kind
from emplastra.materials.models import Product
from emplastra.materials.selectors import current_revisions
from emplastra.say.book import book_of
from emplastra.say.tins import part_fact, poured
from emplastra.scales import services as scales
from emplastra.shared import asked, clock
from emplastra.shared.models import Submission
from emplastra.shared.services import Refused
from emplastra.state.acts import next_act
from emplastra.state.needs import next_paint
from emplastra.state.pots import ratios_of
from emplastra.state.selectors import MIX_MIN, SPRAY_MIN_PER_M2
from emplastra.state.solvent import Solvent, air_for_pot, solvent_of
from emplastra.state.tins import parts_drawn, today

from .forms import PotForm
from .log_views import ZoneView

FILLER_MIN = 1.0
"""To weigh out and spread filler [min]. Common practice, no source."""
STEP_G = 0.1
"""What a scale resolves that nobody told [g]. Assumed."""
OF_POT = ("reducer", "short", "reserve", "two-batches", "unmatched")
"""Rules that look at what is typed of a pot; the others are said above it."""


def _variant_name(variant):
    """A ratio as it is chosen: with its hardener, and its band where one is told."""
    band = variant.band
    held = f" ({celsius_q(band.low_c, band.high_c)})" if band.low_c is not None else ""
    return f"{variant.ratio_text}, {variant.name}{held}"


def untold(sheet):
    """What of a pot's clock nobody told: neither is ever assumed."""
    found = []
    if sheet.induction is None and not sheet.no_induction and sheet.kind not in FILLERS:
        found.append("Wait after stirring: cannot say. Look at its tin or sheet.")
    if sheet.pot_life is None:
        found.append("Pot life: cannot say. Look at its tin or sheet.")
    return found


class Mix(ZoneView):
    """The pot for the next coat of a zone."""

    form_class = PotForm
    template = "work/mix.html"
    action = "begin pot"
    done = "Pot begun."

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        layer = self.state.plan.next_layer
        self.step = layer.step if layer else None
        self.sheet = self.state.sheet

    @property
    def mixes(self):
        """True if a coat that has to be mixed comes next, its ratio is told, and it is known in which air."""
        mixed = bool(self.step and self.sheet and self.sheet.form == "mixed" and self.state.now)
        return mixed and not self.sheet.lacks_ratio

    @property
    def in_grams(self):
        """True if it is asked for by mass: no ratio of it gives a volume, or it is a filler, weighed out as it is."""
        by_mass = all(v.by == "mass" for v in self.sheet.variants)
        return by_mass and (self.sheet.kind in FILLERS or not self._dense)

    @property
    def _dense(self):
        return all(p.density_g_ml for p in self.sheet.components if p.role != "thinner")

    @cached_property
    def measures(self):
        """Ways to measure that some ratio of its sheet allows, the scale first."""
        if self.in_grams and self.sheet.kind in FILLERS:
            return (Measure.SCALE,)
        thinner = self.sheet.thinner() if any(self.sheet.thinner_pct.values()) and self._dense else None
        told = [measures(self.sheet.parts(v), v.by, thinner) for v in self.sheet.variants]
        return tuple(way for way in Measure if any(way in ways for ways in told))

    def get(self, request, **kwargs):
        return super().get(request, **kwargs) if self.mixes else self.nothing(200)

    def post(self, request, **kwargs):
        if self.mixes:
            return super().post(request, **kwargs)
        sent = Submission.objects.filter(token=request.POST.get("token", ""), user=request.user).first()
        return (
            HttpResponseRedirect(sent.result_url) if sent else self.nothing(409)
        )  # sent again, after its coat went on

    def nothing(self, status):
        """The page of a zone on which nothing is to be mixed."""
        sheet = self.state.sheet
        unread = Product.objects.filter(name=sheet.product).first() if sheet and sheet.lacks_ratio else None
        context = {"zone": self.zone, "state": self.state, "unread": unread}
        return render(self.request, "work/no_mix.html", context, status=status)

    @cached_property
    def need(self):
        """Paint for the next coat, None where nobody can say."""
        return next_paint(self.state, book_of(self.request).facts.sheets)

    @cached_property
    def beside(self):
        """[(state, Paint)] of the job's other zones that the pot is for too: of those asked for, with the same next."""
        wanted = {asked.whole(pk, 1) for pk in self.request.POST.getlist("also") or self.request.GET.getlist("also")}
        return [(state, paint) for state, paint in self.same if state.zone.pk in wanted] if wanted else []

    @cached_property
    def same(self):
        """[(state, Paint)] of the job's other zones whose next coat is of the same product."""
        found, book = [], book_of(self.request)
        for zone in self.zone.job.zones.in_use().exclude(pk=self.zone.pk):
            state = book.state(zone) if zone.pk in book.facts.zones else None
            layer = state.plan.next_layer if state else None
            if layer is None or layer.step.product != self.step.product:
                continue
            paint = next_paint(state, book.facts.sheets)
            if paint is not None:
                found.append((state, paint))
        return found

    @property
    def all_states(self):
        """States of all zones that it is for."""
        return [self.state, *(state for state, _ in self.beside)]

    @property
    def all_ml(self):
        """What the next coat of all its zones takes, ready to use [mL]; None where nobody can say."""
        return self.need and self.need.one.gun_ml + sum(paint.one.on_face_ml for _, paint in self.beside)

    @property
    def all_m2(self):
        """Area of all its zones [m2]."""
        return self.state.facts.revision.area_m2 + sum(state.facts.area_m2 for state, _ in self.beside)

    @property
    def temp_c(self):
        """The lower of air and surface at the place [°C]."""
        return min(self.state.facts.where.at(self.state.surface.t_s).air_c, self.state.now.temp_c)

    def choice(self, method):
        """(variant, Choice) that today's temperature names."""
        return variant_for(self.sheet, self.temp_c, method)

    def form_kwargs(self):
        return {
            "variants": [(v.key, _variant_name(v)) for v in self.sheet.variants],
            "measures": self.measures,
            "in_grams": self.in_grams,
        }

    def initial(self):
        variant, _ = self.choice(self.step.method)
        return {
            "ready_ml": self._ready(),
            "measure": self.measures[0],
            "method": method if (method := self.request.GET.get("method")) in film.METHODS else self.step.method,
            "thinner_pct": self.step.thinner_pct,
            "variant": variant.key if variant else "",
        }

    def _ready(self):
        """How much is mixed at first: of one pot where its round is planned, else all that is wanted."""
        ready = asked.a_figure(self.request.GET, "ready", 0.0, 200_000.0)
        if ready or not self.need:
            return ready or None
        if not self.in_grams:
            return round(self.all_ml)
        variant, _ = self.choice(self.step.method)
        parts = {part.key: part.density_g_ml for part in self.sheet.parts(variant)} if self._dense else {}
        needs = [paint.one.by_part_ml for paint in (self.need, *(paint for _, paint in self.beside))]
        grams = sum(ml * parts.get(key, 0.0) for each in needs for key, ml in each.items())
        return round(grams) or None

    def consequence(self, form):
        """Targets, pots and clock of the pot as typed; None while a field is wrong."""
        if not form.is_valid():
            return None
        data, sheet = form.cleaned_data, self.sheet
        variant, measure = sheet.variant(data["variant"]), Measure(data["measure"] or self.measures[0])
        mix = self._mix(form, variant, measure)
        if mix is None:
            return None
        now_s, where = self.state.surface.t_s, self.state.facts.where.of_air
        induction = crossing(where, sheet.induction, now_s) if sheet.induction else None
        pots = self._pots(data, now_s)
        life = self._life(pots.each_ml) if sheet.pot_life else None
        plan = plan_pot(mix, pots.each_ml, data["diameter_mm"], measure, self.in_grams)
        wanted = [(t.part, pots.count * t.amount) for t in plan.targets]
        product, zones = current_revisions([sheet.product])[sheet.product].product, [s.zone for s in self.all_states]
        drawn = parts_drawn(product, wanted, measure.unit, zones, self.request.workshop)
        system = self.request.workshop.units
        _, choice = self.choice(data["method"])
        holds = choice.band is not None and choice.band.key == variant.key
        return {
            "plan": plan,
            "pots": pots,
            "life": life,
            "induction": induction,
            "measure": measure,
            "fine": self._fine(plan, pots.each_ml),
            "unit": measure.unit,
            "in_grams": self.in_grams,
            "untold": untold(sheet),
            "filler": sheet.kind in FILLERS,
            "variant": variant,
            "choice": choice,
            "holds": holds,
            "temp_c": self.temp_c,
            "sheet": sheet,
            "now_s": now_s,
            "ruled": self._of_pot(data["reducer"], drawn),
            "drawn": [(part, poured(part.takes, part.unit, system)) for part in drawn],
            "solvent": self._solvent(variant, data, pots),
            "cautions": [CAUTIONS[h] for h in sheet.hazards],
            "defer": DEFER,
        }

    def _solvent(self, variant, data, pots):
        """VOC of the pot as it is mixed, and the air that all of it wants against fire."""
        thinner_pct, sheet = data["thinner_pct"] or 0.0, self.sheet
        voc, word, sentence = solvent_of(sheet, variant, thinner_pct, self.zone.job.road)
        ml = 0.0 if self.in_grams else pots.count * pots.each_ml
        air = air_for_pot(sheet, voc, ml, self.all_m2, self.temp_c)
        return Solvent(None, voc, word, sentence, air)

    def _mix(self, form, variant, measure):
        """Parts of the pot as typed in pouring order; None, with the field that is wrong named, for none."""
        try:
            mix = ratios_of(self.sheet, variant, form.cleaned_data["thinner_pct"] or 0.0, measure)
        except ValueError as error:
            form.add_error("thinner_pct", str(error))
            return None
        if not isinstance(mix, Unknown):
            return mix
        by_cup = "measure it by a cup, or " if measure is Measure.SCALE and variant.by == "volume" else ""
        field = "measure" if len(self.measures) > 1 else "thinner_pct"
        form.add_error(field, f"{mix.sentence}; {by_cup}tell it in its sheet")
        return None

    def _fine(self, plan, each_ml):
        """(part too small for the scale, its steps, how much would do, step of the scale [g]); None where none is."""
        step_g = scales.finest_g() or STEP_G
        found = too_fine(plan, step_g)
        return found and (found[0], found[0].mass_g / step_g, each_ml * found[1], step_g)

    def _of_pot(self, reducer, drawn):
        """What the one judge says of a coat from the pot as typed: its reducer, and the tins it is drawn from."""
        act = next_act(self.state, coat=True)
        if act is None:
            return []
        system, rulings = self.request.workshop.units, book_of(self.request, self.zone).rulings
        parts = tuple(part_fact(part, system) for part in drawn)
        tins = tuple(
            TinFact(part.part.name, view.last and view.last.day, today(self.request.workshop), view.tin.kit)
            for part in drawn
            for view, _ in part.takes
        )
        act = replace(act, reducer=reducer, mixed=True, parts=parts, tins=tins)
        return [v for v in rulings.rule(self.zone, act, rulings.face_now(self.state, act)).open if v.rule in OF_POT]

    def _life(self, pot_ml):
        """When a pot of so much [mL], begun now, is dead."""
        share = life_share(pot_ml, self.sheet.pot_life_ml)
        return crossing(self.state.facts.where.of_air, self.sheet.pot_life, self.state.surface.t_s, share)

    def _pots(self, data, now_s):
        """The fewest equal pots that fit the vessel and can be put on while they are good (PotsPlan)."""
        ready = data["ready_ml"]
        lasts_s = 60.0 * SPRAY_MIN_PER_M2 * self.all_m2 * ready / self.all_ml if self.need and self.all_m2 else 60.0
        least = min(ready, SMALLEST_ML)
        pour_min = FILLER_MIN if self.sheet.kind in FILLERS else MIX_MIN
        asked_for = Round(ready, lasts_s, now_s, None, data["vessel_ml"], least, 60.0 * pour_min)
        return plan_pots(self.state.facts.where.of_air, self.sheet, asked_for)

    def shown_at_first(self):
        """What the form shows before anything is typed, by field."""
        form = self.make_form()
        return {name: field.prepare_value(form[name].value()) or "" for name, field in form.fields.items()}

    def context(self, form):
        if not form.is_bound:
            form = self.make_form(self.shown_at_first())
        return {
            "zone": self.zone,
            "state": self.state,
            "ruled": book_of(self.request, self.zone).rulings.now(self.state, coat=True),
            "step": self.step,
            "consequence": self.consequence(form),
            "need": self.need,
            "beside": self.beside,
            "all_ml": self.all_ml,
        }

    def carry_out(self, form):
        found = self.consequence(form)
        if found is None:
            wrong = next(iter(form.errors.items()), ("thinner_pct", ["it is not possible for this product"]))
            raise Refused(wrong[1][0], wrong[0])
        data, now = form.cleaned_data, clock.now()
        details = {
            "revision": current_revisions([self.sheet.product])[self.sheet.product],
            "variant": data["variant"],
            "method": data["method"],
            "thinner_pct": data["thinner_pct"] or 0.0,
            "reducer": data["reducer"],
            "measure": found["measure"].value,
            "ready_g" if self.in_grams else "ready_ml": found["pots"].each_ml,
            "temp_c": self.temp_c,
            "diameter_mm": data["diameter_mm"],
            "vessel_ml": data["vessel_ml"],
        }
        zones = ((self.zone, 1.0, self.step.id), *((s.zone, 1.0, s.plan.next_layer.step.id) for s, _ in self.beside))
        told = services.Told(Kind.POT, now, now, zones, details)
        return reverse("work:pot", args=[services.log(self.request.user, told).pk])


@require_POST
def mix_preview(request, pk):
    """Targets of the pot as typed: a fragment."""
    view = Mix()
    view.setup(request, pk=pk)
    if not view.mixes:
        return HttpResponse("Nothing is to be mixed here now: look at the plan again.", status=409)
    form = view.make_form(request.POST)
    context = {"consequence": view.consequence(form), "form": form, "workshop": request.workshop}
    return render(request, "work/mix_consequence.html", context)
