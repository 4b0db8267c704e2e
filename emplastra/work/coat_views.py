"""Logging a coat, with its consequence while it is typed."""

from dataclasses import replace

from django.shortcuts import render
from django.utils.functional import cached_property
from django.views.decorators.http import require_POST

from emplastra.core.buying.amounts import variant_for
from emplastra.core.piece.face_grid import grid_of
from emplastra.core.product.film import FORMS, METHODS
from emplastra.core.rules.cautions import owed
from emplastra.core.rules.face import Act, Tense
from emplastra.core.surface.clocks import fold
from emplastra.core.surface.events import Coated
from emplastra.core.surface.fold import Toward
from emplastra.core.surface.names import Runs, StepKind
from emplastra.core.surface.steps import STEPS
from emplastra.core.words import volume_q
from emplastra.logbook.kinds.coat import DEFECTS, GUN, films_told
from emplastra.logbook.models import KINDS, Entry, EntryZone, Kind, holds
from emplastra.materials.models import Product
from emplastra.materials.selectors import current_sheet, revision_at, shelf_sheets
from emplastra.say.book import book_of
from emplastra.shared import asked, clock
from emplastra.shared.services import Refused
from emplastra.shared.times import moment
from emplastra.state.acts import CoatTold, coat_act, film_of_coat
from emplastra.state.dated import judged
from emplastra.state.level import of_face as share_of_face
from emplastra.state.pots import each_once, live_pots, views
from emplastra.state.tins import to_pour_of
from emplastra.store.services import Whole, poured_from, recalled_batch, tin_named

from .face_drawn import DrawnFace
from .log_views import LogView


def _batches(pot, product, sheet, data, zone):
    """[(what, last day, kit, why it is recalled)] of what a coat was made of: the pot's tins that were named, else the
    batch or the tin typed. zone: the workshop's time zone.
    """
    if pot is not None or not data["batch"]:
        return pot.batches if pot else []
    part = sheet.components[0] if sheet else Whole
    tin = tin_named(product, part.key, data["batch"])
    if tin is None:
        return [(data["batch"], data["use_by"], "", recalled_batch(product, part.key, data["batch"]))]
    last, recalled = judged([(tin, sheet)], zone)[tin.pk]
    return [(tin.batch, last or data["use_by"], tin.kit, recalled)]


def _unlogged(sheet):
    """How a coat of a sheet comes that is from no pot here."""
    return "no pot logged" if sheet and sheet.form == "mixed" else "straight from the tin or can"


OF_COAT = ("before_g", "after_g", "laid", "cans", "stopped", "defects", "defects_at")
"""What is told of a coat that its own row keeps as it was typed."""


class LogCoat(LogView):
    """A coat, with its verdicts and its window shown while it is typed."""

    kind = KINDS[Kind.COAT]
    template = "work/log_coat.html"
    followed = ("source", ("step", "method", "thinner_pct", "batch", "use_by"))

    @property
    def pots(self):
        """Pots that have not ended, complete ones: of the job's other zones if the plan wants their product, then this
        zone's, each by age.
        """
        return [*self.pots_beside, *self.pots_here]

    @cached_property
    def pots_here(self):
        """Those of this zone."""
        return [p for p in self.state().pots if p.is_complete]

    @cached_property
    def pots_beside(self):
        """Those of the job's other zones alone."""
        wanted = {s.product for s in self.state().facts.steps}
        beside = {z.pk for z in self.zone.job.zones.in_use()} - {self.zone.pk}
        mine = {p.entry.pk for p in self.state().pots}
        found = each_once(live_pots(beside, book_of(self.request, self.zone).facts))
        return [p for p in found if p.is_complete and p.sheet.product in wanted and p.entry.pk not in mine]

    def _pot_named(self, pot):
        """A pot as the form offers it."""
        at = moment(pot.entry.began.timestamp(), self.request.workshop.zone, clock.now())
        of = "" if self.zone in pot.zones else f", of {', '.join(zone.name for zone in pot.zones)}"
        return f"Pot of {pot.sheet.product}, {at}{of}"

    def form_kwargs(self):
        sources = [(f"pot:{p.entry.pk}", self._pot_named(p)) for p in reversed(self.pots)]
        if self.entry and self.entry.coat.pot_id:
            sources.insert(0, (f"pot:{self.entry.coat.pot_id}", "The same pot"))
        sources += self.unpotted
        named = dict(reversed(sources))
        return super().form_kwargs() | {"sources": [(key, named[key]) for key in dict(sources)], "grid": self.grid}

    @cached_property
    def grid(self):
        """The face as cells on which the share covered may be drawn; None without measures."""
        revision = self.state().facts.revision
        return grid_of(revision.shapes, revision.area_m2) if revision else None

    def covered_before(self, step):
        """Cells that the coats drawn so far of the next coat of a step cover already."""
        at = next((s for s in self.state().plan.states if s.step.id == step), None)
        rows = EntryZone.objects.filter(holds(None, "entry__"), zone=self.zone, step=step).exclude(entry=self.entry)
        found, left = set(), at.share if at and not self.entry else 0.0
        for share, mark in rows.order_by("-entry__ended", "-pk").values_list("share", "drawn"):
            if left <= 1e-9:
                break
            left -= share
            # A mark of the face as it was measured before is of other cells.
            found |= self.grid.read(mark) if mark.startswith(f"{self.grid.size}:") else set()
        return found

    def where(self, form, zones):
        of_face, drawn = super().where(form, zones)
        book = book_of(self.request, self.zone)
        facts = book.facts.zones
        for zone, _, step in zones:
            planned = next((s for s in facts[zone.pk].steps if s.id == step), None) if zone.pk in facts else None
            if planned is not None and zone.pk not in of_face:
                of_face[zone.pk] = share_of_face(book.state(zone), planned)
        return of_face, drawn | {self.zone.pk: form.cleaned_data["drawn"]}

    @cached_property
    def unpotted(self):
        """Sources that are no pot: what the plan wants first."""
        kinds = {k for s in STEPS.values() if s.leaves_film for k in s.products}
        names = list(Product.objects.filter(kind__in=kinds, retired=False).values_list("name", flat=True))
        planned = [s.product for s in self.state().facts.steps if s.product in names]
        sheets = {sheet.product: sheet for sheet in shelf_sheets()}
        return [(f"product:{name}", f"{name}, {_unlogged(sheets.get(name))}") for name in (*planned, *names)]

    def initial(self):
        found = super().initial()
        if self.entry:
            return found | self._as_logged(self.entry.coat) | {"drawn": self.row.drawn}
        found |= self._follows(self.asked.get("source") or self._first_source())
        return found | self._like_last() | self._given()

    def as_told(self, entry):
        """A pot that another coat came from is named only while it can be chosen."""
        told = self._as_logged(entry.coat)
        alive = {f"pot:{pot.entry.pk}" for pot in self.pots}
        if told["source"].startswith("pot:") and told["source"] not in alive:
            del told["source"]
        return told

    def _first_source(self):
        """Where the next coat comes from, most likely: a pot of what the plan wants, one that is good and this zone's
        before others, else what the plan wants from its tin; this zone's newest pot where no coat is wanted.
        """
        layer = self.state().plan.next_layer
        if layer is None:
            return f"pot:{self.pots_here[-1].entry.pk}" if self.pots_here else ""
        product, now_s = layer.step.product, self.state().surface.t_s
        good = [p for p in self.pots if p.sheet.product == product and p.can_coat(now_s)]
        pots = good or [p for p in self.pots_here if p.sheet.product == product]
        return f"pot:{pots[-1].entry.pk}" if pots else f"product:{product}"

    def _as_logged(self, coat):
        """What a correction begins with."""
        source = f"pot:{coat.pot_id}" if coat.pot_id else f"product:{coat.product.name}"
        air = {"air_c": coat.reading.air_c, "rh_pct": coat.reading.rh_pct} if coat.reading else {}
        tin = {"batch": coat.tin.batch, "use_by": coat.tin.use_by} if coat.tin else {}
        keep = {k: getattr(coat, k) for k in ("method", "thinner_pct", "reducer", "wft_um", "surface_c", *OF_COAT)}
        used = {"used_ml": None if coat.before_g is not None else coat.used_ml}
        return air | tin | keep | used | coat.gun | {"source": source}

    def _follows(self, source):
        """What a form begins with where its coat comes from a pot or a tin: the step that wants that product, its
        method and thinner, the newest batch of it.
        """
        kind, _, key = source.partition(":")
        pot = next((p for p in self.pots if kind == "pot" and p.entry.pk == asked.whole(key)), None)
        product = pot.sheet.product if pot else key
        step = self._step_for(product)
        found = {"source": source, "step": step.id if step else ""}
        if step:
            found |= {"method": step.method, "thinner_pct": step.thinner_pct}
        found |= self._set_up(product)
        if pot:
            return found | {"thinner_pct": pot.pot.thinner_pct, "method": pot.pot.method}
        tin = to_pour_of(product, self.request.workshop)
        return found | ({"batch": tin.batch, "use_by": tin.use_by} if tin else {})

    def _set_up(self, product):
        """How the gun was set for the last coat of a product, of what that tells."""
        last = (
            Entry.objects.known_at().filter(coat__product__name=product).exclude(coat__gun={}).order_by("-ended", "-pk")
        )
        found = last.values_list("coat__gun", flat=True).first()
        return {name: value for name, value in (found or {}).items() if name != "passes"}

    def _step_for(self, product):
        """The first step still undone that puts a product on, None if the plan has none."""
        for at in self.state().plan.states:
            if at.step.product == product and STEPS[at.step.kind].leaves_film and not (at.done or at.step.left_out):
                return at.step
        return None

    def told(self, form):
        """The coat as typed, with its pot, product and plan."""
        data = form.cleaned_data
        kind, _, key = data["source"].partition(":")
        pot = self._pot(asked.whole(key)) if kind == "pot" else None
        product = pot.sheet.product if pot else key
        sheet = pot.sheet if pot else current_sheet(product)
        variant = pot.variant if pot else self._variant(sheet, data)
        step = next((s for s in self.state().facts.steps if s.id == data["step"]), None)
        plan_um = step.dft_um if step else sheet.aim_um if sheet else None
        return pot, CoatTold(
            product,
            sheet,
            variant,
            began_s=data["began"].timestamp(),
            ended_s=data["ended"].timestamp(),
            plan_um=plan_um,
            thinner_pct=pot.pot.thinner_pct if pot else data["thinner_pct"] or 0.0,
            wft_um=data["wft_um"],
            air_c=data["air_c"],
            rh_pct=data["rh_pct"],
            surface_c=data["surface_c"],
            pot=pot.times() if pot else None,
            batches=_batches(pot, product, sheet, data, self.request.workshop.zone),
            entry=self.entry.pk if self.entry else None,
            step=data["step"],
            share=(data["share"] or 100.0) / 100,
            of_face=share_of_face(self.state(), step) if step else 1.0,
            used=self._used(pot, data),
            method=pot.pot.method if pot else data["method"],
            reducer=pot.pot.reducer if pot else data["reducer"],
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
        return variant_for(sheet, air_c, data["method"])[0] or sheet.variants[-1]

    def _used(self, pot, data):
        """(what was used [mL], over what [m2], by which method) as typed; None where it is not told.

        Raises Refused where the weights of a pot say no volume, or more than was in it.
        """
        ml, method = data["used_ml"], pot.pot.method if pot else data["method"]
        if ml is None and data["before_g"] is not None:
            density = pot and pot.density
            if not density:
                raise Refused("weights say no volume here: tell what was used", "before_g")
            ml = (data["before_g"] - data["after_g"]) / density
        if ml is None:
            return None
        if pot and pot.held_ml and ml > 1.05 * pot.held_ml:
            raise Refused(f"more than the {volume_q(pot.held_ml)} that were in the pot", "used_ml")
        return ml, self._met_m2(data, method), method

    def _met_m2(self, data, method):
        """The area that the coat is put on, told as what meets a flat face [m2]: all its zones, each by its share."""
        step = next((s for s in self.state().facts.steps if s.id == data["step"]), None)
        of_face = share_of_face(self.state(), step) if step else 1.0
        told = [(self.zone, of_face * (data["share"] or 100.0) / 100)]
        told += [(z, (data.get(f"also_{z.pk}") or 0.0) / 100) for z in self.others if data.get(f"also_{z.pk}")]
        facts, found = book_of(self.request, self.zone).facts.zones, 0.0
        for zone, share in told:
            each = facts[zone.pk] if zone.pk in facts else self.state().facts
            meets = FORMS[each.revision.form].meets if METHODS[method].is_sprayed else 1.0
            found += share * each.area_m2 / meets
        return found

    def _pot(self, key):
        from_state = [p for p in [*self.state().pots, *self.pots_beside] if p.entry.pk == key]
        if from_state:
            return from_state[0]
        if self.entry and self.entry.coat.pot_id == key:  # emptied since: a correction keeps its pot
            pot = Entry.objects.select_related("pot__revision__product").get(pk=key)
            return views({key: pot}, book_of(self.request, self.zone).facts, {key: [self.zone]})[0]
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
        told = films_told(coat.sheet, coat.variant, coat.plan_um, coat.thinner_pct, coat.wft_um, coat.used)
        event = Coated(
            coat.began_s,
            coat.ended_s,
            form.cleaned_data["share"] / 100,
            form.cleaned_data["step"],
            10**9,
            coat.sheet,
            film,
            coat.product,
            coat.of_face,
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
        return {
            "film": film,
            "films": told if len(told) > 2 or (len(told) == 2 and coat.used) else (),
            "seen": [DEFECTS[key] for key in form.cleaned_data["defects"]],
            "plan_um": coat.plan_um,
            "ruled": self.judged(coat),
            "elsewhere": self.ruled_elsewhere(form),
            "pot": pot,
            "flash": surface.clock(Runs.FLASH),
            "recoat": surface.clock(Runs.RECOAT),
            "toward": toward,
            "sheet": coat.sheet,
            "cautions": owed(
                Act(StepKind.PRIME, product=coat.product, sheet=coat.sheet), book.rulings.face_now(state, None)
            ),
        }

    def ruled(self, form):
        return self.judged(self.told(form)[1])

    def judged(self, coat):
        """What the one judge says of the coat as told, on what was there when it began."""
        state, rulings = self.state(), book_of(self.request, self.zone).rulings
        first = rulings.first_of(coat.entry) if coat.entry else None
        act = coat_act(coat, state.facts, rulings.facts, Tense.NOW, first)
        return rulings.rule(self.zone, act, rulings.face_then(state.facts, act, coat.entry))

    def ruled_elsewhere(self, form):
        _, coat = self.told(form)
        book, found = book_of(self.request, self.zone), []
        for zone, share, step in self.zones_told(form):
            each = book.facts.zones.get(zone.pk)
            if zone.pk != self.zone.pk and each is not None and each.where is not None and each.revision is not None:
                act = coat_act(replace(coat, share=share, step=step), each, book.facts, Tense.NOW)
                found.append((zone, book.rulings.rule(zone, act, book.rulings.face_then(each, act))))
        return found

    def _after(self, state, coat):
        """What comes after this coat: the same again while the step has coats left, else the next layer."""
        layers = [s for s in state.plan.states if STEPS[s.step.kind].leaves_film and not s.done]
        left = [s.step.product for s in layers for _ in range(s.step.coats - s.coats_done)]
        product = left[1] if len(left) > 1 and left[0] == coat.product else coat.product
        sheet = book_of(self.request, self.zone).facts.sheets.get(product)
        return Toward(product, sheet.kind if sheet else "")

    def context(self, form):
        first = self.as_first_typed(form)
        face = DrawnFace(self.grid, self.covered_before(first["step"].value() or "")) if self.grid else None
        return super().context(form) | {"consequence": self.consequence(first), "face": face}

    def as_first_typed(self, form):
        if form.is_bound:
            return form
        films = form.fields["wft_um"].prepare_value(form["wft_um"].value() or "")
        first = super().as_first_typed(form)
        return self.make_form({**first.data, "wft_um": films})

    def details(self, form):
        data = form.cleaned_data
        pot, coat = self.told(form)
        product = Product.objects.get(name=coat.product)
        tin = None
        if pot is None and data["batch"]:
            part = coat.sheet.components[0] if coat.sheet else Whole
            tin = poured_from(product, part, data["batch"], data["use_by"], self.request.workshop.zone)
        revision = pot.pot.revision if pot else revision_at(product, data["ended"])
        return {
            "product": product,
            "revision": revision,
            "pot": pot.entry if pot else None,
            "tin": tin,
            "variant": coat.variant.key if coat.variant else "",
            "method": data["method"],
            "thinner_pct": coat.thinner_pct,
            "wft_um": data["wft_um"],
            "used_ml": coat.used and coat.used[0],
            "used_m2": coat.used and coat.used[1],
            "gun": {name: data[name] for name in GUN if data[name] not in (None, "")},
            **{name: data[name] for name in OF_COAT},
            "plan_um": coat.plan_um,
            "surface_c": data["surface_c"],
            "place": self.state().facts.place,
            "air_c": data["air_c"],
            "rh_pct": data["rh_pct"],
        }


@require_POST
def preview(request, pk):
    """The consequence of a coat as typed so far: a fragment."""
    view = LogCoat(request=request)
    view.setup(request, pk=pk)
    form = view.make_form(request.POST)
    context = {"consequence": view.consequence(form), "form": form, "workshop": request.workshop, "zone": view.zone}
    context["swapped"] = True
    return render(request, "work/coat_consequence.html", context)
