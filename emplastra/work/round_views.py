"""Pots planned for a round of faces: how many, when each is begun, whether it lasts, and from which tins."""

from dataclasses import replace

from django.shortcuts import render
from django.urls import reverse
from django.utils.http import urlencode

from emplastra.core.buying.pots import Round, plan_pots
from emplastra.core.product.mixing import plan_pot
from emplastra.core.surface.integral import crossing
from emplastra.core.surface.steps import CAUTIONS, DEFER
from emplastra.core.words import hour_q, volume_q
from emplastra.core.working import Unknown
from emplastra.materials.selectors import current_revisions
from emplastra.say.book import book_of
from emplastra.say.tins import part_fact, poured
from emplastra.shared import clock
from emplastra.state.pots import ratios_of
from emplastra.state.selectors import MIX_MIN, SPRAY_MIN_PER_M2
from emplastra.state.tins import parts_drawn

from .forms import RoundForm
from .mix_views import Mix
from .pots_picture import over, picture


class Pots(Mix):
    """Pots for the next coat of a zone and of those that are put on with it. What is asked stands in the address."""

    form_class = RoundForm
    template = "work/pots.html"

    def get(self, request, **kwargs):
        if not self.mixes:
            return self.nothing(200)
        form = self.make_form(self.shown_at_first() | request.GET.dict())
        context = {
            "form": form,
            "zone": self.zone,
            "state": self.state,
            "step": self.step,
            "workshop": request.workshop,
        }
        context |= {"consequence": self.consequence(form), "need": self.need, "candidates": self.candidates}
        context["ruled"] = book_of(request, self.zone).rulings.now(self.state, coat=True)
        context["chosen"] = {state.zone.pk for state in self.all_states}
        partial = request.headers.get("HX-Target") == "consequence"
        return render(request, "work/pots_consequence.html" if partial else self.template, context)

    def post(self, request, **kwargs):
        """Nothing is recorded here: a form that was posted is asked again."""
        return self.get(request, **kwargs)

    @property
    def candidates(self):
        """[(zone, Paint)] of the job's other zones whose next coat is of the same product."""
        return [(state.zone, paint) for state, paint in self.same]

    def initial(self):
        found = super().initial()
        keep = {name: found[name] for name in ("method", "thinner_pct", "variant")}
        minutes = max(1, round(SPRAY_MIN_PER_M2 * self.all_m2))
        return keep | {"round_min": minutes, "vessel_ml": None, "smallest_ml": 100, "begin": clock.now()}

    def consequence(self, form):
        """The pots as asked; None while a field is wrong, or nobody can say how much paint it takes."""
        if not form.is_valid() or self.need is None:
            return None
        data, sheet = form.cleaned_data, self.sheet
        variant = sheet.variant(data["variant"])
        begin_s = max(data["begin"].timestamp(), self.state.surface.t_s)
        paints = [(self.state, self.need), *self.beside]
        net = {state.zone.name: paint.one.on_face_ml for state, paint in paints}
        loss_ml, lasts_s = self.need.one.gun_ml - self.need.one.on_face_ml, 60.0 * data["round_min"]
        of_pot = (data["vessel_ml"], data["smallest_ml"], 60.0 * MIX_MIN, loss_ml)
        if data["vessel_ml"] is not None and data["vessel_ml"] <= loss_ml:
            form.add_error("vessel_ml", f"must be more than the {volume_q(loss_ml)} that stay in gun or brush")
            return None
        asked = Round(sum(net.values()), lasts_s, begin_s, None, *of_pot)
        rounds = [plan_pots(self.state.facts.where.of_air, sheet, asked)]
        opens_s = self._opens(rounds[0])
        if opens_s is not None:
            rounds.append(plan_pots(self.state.facts.where.of_air, sheet, replace(asked, not_before_s=opens_s)))
        faces = [(name, ml / asked.volume_ml) for name, ml in net.items()]
        number = self.state.coat_number[0]
        return {
            "rounds": [
                (number + n, plan, picture(plan, faces, asked.pour_s), self._links(plan, data), over(plan, faces))
                for n, plan in enumerate(rounds)
            ],
            "spans": self._spans(rounds, opens_s),
            "drawn": self._drawn(rounds, variant, data),
            "faces": faces,
            "sheet": sheet,
            "untold": () if sheet.pot_life else ("Pot life: cannot say. Look at its tin or sheet.",),
            "cautions": [CAUTIONS[h] for h in sheet.hazards],
            "defer": DEFER,
        }

    def _opens(self, plan):
        """When the first face is open for the coat after [epoch s], where one more is planned; None for no other."""
        now, last = self.state.coat_number
        row, end_s = self.sheet.window_for(self.sheet.product, self.sheet.kind), plan.pots[0].empty_s
        if now >= last or row is None or isinstance(row.opens, Unknown) or not plan.lasts:
            return None
        share = self.need.one.gun_ml / self.all_ml  # of the first face
        first_s = plan.pots[0].from_s + min(1.0, share * plan.count) * (end_s - plan.pots[0].from_s)
        return crossing(self.state.facts.where, row.opens, first_s).t_s

    @staticmethod
    def _spans(rounds, opens_s):
        """Whether the last pot of a coat is still good when the next opens, in words."""
        last = rounds[0].pots[-1]
        if opens_s is None or last.dead_s is None:
            return ""
        if last.dead_s > opens_s:
            over = f"what is over does for the next coat, open {hour_q(opens_s)}"
            return f"The last pot lives until {hour_q(last.dead_s)}: {over}."
        dead = f"the last is dead at {hour_q(last.dead_s)}, the next coat opens at {hour_q(opens_s)}"
        return f"No pot spans both coats: {dead}."

    def _drawn(self, rounds, variant, data):
        """[(part, [(tin, how much in words)])] of all pots together; [] where that cannot be said."""
        measure = self.measures[0]
        try:
            mix = ratios_of(self.sheet, variant, data["thinner_pct"] or 0.0, measure)
        except ValueError:
            return []
        if isinstance(mix, Unknown):
            return []
        targets = plan_pot(mix, 1000.0, None, measure).targets
        litres = sum(plan.count * plan.each_ml for plan in rounds) / 1000
        product = current_revisions([self.sheet.product])[self.sheet.product].product
        zones = [state.zone for state in self.all_states]
        found = parts_drawn(
            product, [(t.part, litres * t.amount) for t in targets], measure.unit, zones, self.request.workshop
        )
        system = self.request.workshop.units
        facts = [part_fact(part, system) for part in found]
        return [(p, poured(p.takes, p.unit, system), fact.lacks) for p, fact in zip(found, facts, strict=True)]

    def _links(self, plan, data):
        """The address where a pot of a plan is begun."""
        also = [("also", state.zone.pk) for state, _ in self.beside]
        told = [("ready", round(plan.each_ml, 1)), ("method", data["method"])]
        return f"{reverse('work:mix', args=[self.zone.pk])}?{urlencode([*told, *also])}"
