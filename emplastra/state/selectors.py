"""The state of zones as pages show it: one fold for Bench, Window, Build-up, Mix and record."""

from dataclasses import dataclass, field
from functools import cached_property

from emplastra.core.air import lag
from emplastra.core.air.dewpoint import Limits
from emplastra.core.air.journey import WARM_UP
from emplastra.core.air.sun import NIGHT_K
from emplastra.core.schedule.durations import MIX_MIN, SPRAY_MIN_PER_M2
from emplastra.core.surface.bare import drying_of
from emplastra.core.surface.clocks import DEGREASED_S, Setting, thicker, with_clocks
from emplastra.core.surface.events import Degreased
from emplastra.core.surface.fit import Fit, fit_now, fit_of
from emplastra.core.surface.fold import Surface, Toward
from emplastra.core.surface.plan import Progress, progress_of
from emplastra.core.surface.steps import STEPS
from emplastra.core.words import kelvin_q
from emplastra.core.working import Basis
from emplastra.jobs.models import Job, Zone

from .facts import Facts, ZoneFacts

FIT_KEPT_S = 60.0
"""How long what the air says is kept [s]: it is told in minutes."""


@dataclass
class SurfaceNow:
    """A surface's temperature [°C] now, how it is known, and its distance from the dew point [K]."""

    temp_c: float
    basis: Basis
    source: str
    spread_k: float


@dataclass
class ZoneState:
    """A zone at a moment, ready for a page; what only some pages need is worked out when it is asked for."""

    facts: ZoneFacts
    all: Facts
    plan: Progress
    surface: Surface
    toward: Toward | None
    sheet: object
    lead_s: float
    pots: list = field(default_factory=list)
    spots: list = field(default_factory=list)

    @property
    def zone(self):
        """The zone."""
        return self.facts.zone

    @property
    def next_step(self):
        """The first undone step, None if all is done."""
        return self.plan.next.step if self.plan.next else None

    @property
    def next_kind(self):
        """Its kind in the published table."""
        return STEPS[self.next_step.kind] if self.next_step else None

    @property
    def clock(self):
        """The clock that makes the headline of the zone itself."""
        return self.surface.own_lead

    @property
    def coat_number(self):
        """Number of the coat that comes next, and of how many: (2, 3)."""
        layer = self.plan.next_layer
        return (layer.coats_done + 1, layer.step.coats) if layer else (0, 0)

    @cached_property
    def now(self):
        """Its surface now, None without a place or measures."""
        if self.facts.where is None or self.facts.revision is None:
            return None
        return surface_now(self.facts, self.all, self.surface.t_s)

    @cached_property
    def fit(self) -> Fit | None:
        """What the air says of the next coat, begun now; None without air. Kept for a minute while the air is the same:
        the pages of a minute say one thing.
        """
        if self.facts.where is None or self.facts.revision is None:
            return None
        layer, t_s, longer = self.plan.next_layer, self.surface.t_s, 1.0
        if self.sheet is not None and layer is not None:
            longer = thicker(layer.step.dft_um, self.sheet.aim_um)
        asked = (self.facts.where, self.sheet, longer, self.all.outdoors)
        was, from_s, found = self.facts.kept.fit or (None, 0.0, None)
        if was is None or not _same(was, asked) or not from_s <= t_s < from_s + FIT_KEPT_S:
            found = self._fit(longer)
            self.facts.kept.fit = (asked, t_s, found)
        return found

    def _fit(self, longer):
        t_s, where, outdoors = self.surface.t_s, self.facts.where, self.all.outdoors
        if self.sheet is None:
            return fit_now(Limits(), where, self.facts.tau_s, self.now.temp_c, t_s, outdoors)
        ended_s = sprayed_s(self.facts, t_s, t_s)
        return fit_of(self.sheet, where, self.facts.tau_s, self.now.temp_c, t_s, ended_s, outdoors, longer=longer)


def _same(was, asked):
    """True for the same way through the air under the same sheet, and otherwise equal."""
    return was[0] is asked[0] and was[1] is asked[1] and was[2:] == asked[2:]


def open_zones():
    """Zones of open jobs, with their jobs: each job is read once, however many zones it has."""
    jobs = Job.objects.filter(filing="open", removed=False).in_bulk()
    zones = list(Zone.objects.in_use().filter(job__in=jobs).select_related("map_place"))
    for zone in zones:
        zone.job = jobs[zone.job_id]
    return zones


def lead_time_s(sheet, temp_c, area_m2):
    """Time to mix, induct and spray [s]. Common practice, no source, but for the sheet's induction."""
    induction = sheet.induction.minutes_at(temp_c) if sheet and sheet.induction else 0.0
    mix = MIX_MIN if sheet and sheet.form == "mixed" else 2.0
    return 60.0 * (mix + (induction or 0.0) + SPRAY_MIN_PER_M2 * area_m2)


def state_of(each: ZoneFacts, facts: Facts, t_s: float, made=ZoneState):
    """The state of a zone at a moment [epoch s]; made: ZoneState, or a class that knows more."""
    plan = plan_at(each, t_s)
    layer = plan.next_layer
    sheet = facts.sheets.get(layer.step.product) if layer else None
    toward = plan.toward(facts.kinds)
    where = each.where
    if where is None or each.revision is None:
        return made(each, facts, plan, Surface(t_s), toward, sheet, 0.0)
    lead = _lead_s(each, facts, sheet, t_s) if layer else 0.0
    built = each.built(t_s)
    if each.revision.end_state != "coated":
        built = built.owing_no_primer()
    drying = drying_of(each.revision.part)
    surface = with_clocks(
        built,
        Setting(each.revision.substrate, where, toward, lead, drying, each.salted, facts.workshop.wet_prompt_min * 60),
    )
    return made(each, facts, plan, surface, toward, sheet, lead)


def sprayed_s(each, began_s, ended_s):
    """When a coat on a zone (ZoneFacts) is on [epoch s]: as told, or, told at one moment, after the time it takes."""
    return ended_s if ended_s > began_s else began_s + 60.0 * SPRAY_MIN_PER_M2 * each.area_m2


def _lead_s(each, facts, sheet, t_s):
    """Lead time by the air of the place now, to whole degrees: the same for all zones of an area there."""
    air = each.where.stay_at(t_s).air
    key = (id(air), t_s, sheet.product if sheet else "", each.area_m2)
    if key not in facts.leads_s:
        facts.leads_s[key] = lead_time_s(sheet, round(air.at(t_s).air_c), each.area_m2)
    return facts.leads_s[key]


def plan_at(each, t_s):
    """A zone's plan held against its events at a moment; kept until a step is logged or a wipe lapses."""
    if each.kept.plan is not None:
        plan, from_s, until_s = each.kept.plan
        if from_s <= t_s < until_s:
            return plan
    plan = progress_of(each.steps, each.events, t_s)
    edges = [e.ended_s for e in each.events] + [
        e.ended_s + DEGREASED_S for e in each.events if isinstance(e, Degreased)
    ]
    each.kept.plan = (plan, t_s, min((x for x in edges if x > t_s), default=float("inf")))
    return plan


def surface_now(each, facts, t_s):
    """Surface of a zone by its section's exact lag behind the air: what a logger measures at a place is one face's."""
    air = each.where.at(t_s)
    temp = surface_c(each, facts, t_s, air.air_c)
    if facts.is_under_the_sky(each.place, t_s):
        said = f"outdoors at night {kelvin_q(NIGHT_K, digits=0)} under the air, assumed"
        return SurfaceNow(temp, Basis.ASSUMED, said, temp - air.dew_c)
    basis = Basis.ASSUMED if air.basis is Basis.ASSUMED else Basis.ESTIMATED
    return SurfaceNow(temp, basis, f"by lag, {each.tau_s / 60:.0f} min behind the air", temp - air.dew_c)


def surface_c(each, facts, t_s, air_c):
    """Surface of a zone now [°C] in air [°C]: by its lag; outdoors at night no warmer than a night sky leaves it."""
    temp = _settled_at(each, facts, each.tau_s, t_s)
    return min(temp, air_c - NIGHT_K) if facts.is_under_the_sky(each.place, t_s) else temp


def _settled_at(each, facts, tau, t_s):
    """As `metal_at`; equal sections that have stood at one place long enough are worked out once."""
    stay = each.where.stay_at(t_s)
    changes = [t for t, *_ in (*each.moves[1:], *each.typed) if t > t_s - WARM_UP * tau]
    if changes:
        return metal_at(each, tau, t_s)
    key = (id(stay.air), tau, t_s)
    if key not in facts.metals_c:
        facts.metals_c[key] = metal_at(each, tau, t_s)
    return facts.metals_c[key]


def metal_at(each, tau, t_s):
    """Metal temperature [°C] of a zone by its exact time constant [s], along its way, from where it was measured."""
    begin, start_c = t_s - WARM_UP * tau, None
    measured = [(t, c) for t, c in each.typed if begin <= t <= t_s]
    if measured:
        begin, start_c = measured[-1]
    if begin >= t_s:
        return start_c if start_c is not None else each.where.at(t_s).air_c
    cut = each.where.air(begin, t_s)
    return float(lag.follow(cut.t_s, cut.air_c, tau, start_c)[-1])
