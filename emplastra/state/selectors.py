"""The state of zones as pages show it: one fold for Bench, Window, Build-up, Mix and record."""

from dataclasses import dataclass, field

from django.urls import reverse

from emplastra.core import lag
from emplastra.core.dewpoint import Gate, Limits, gate
from emplastra.core.plan import Progress, progress_of
from emplastra.core.steps import STEPS
from emplastra.core.surface import Surface, Toward, fold
from emplastra.core.working import Basis
from emplastra.jobs.models import Zone
from emplastra.shared.times import from_epoch

from .facts import Facts, ZoneFacts

MIX_MIN = 10.0
"""Time to mix a pot [min]. Common practice, no source."""
SPRAY_MIN_PER_M2 = 6.0
"""Time to put on a coat [min/m2]. Common practice, no source."""


@dataclass
class SurfaceNow:
    """A surface's temperature [°C] now, how it is known, and its distance from the dew point [K]."""

    temp_c: float
    basis: Basis
    source: str
    spread_k: float


@dataclass
class Act:
    """What Bench says of a zone: group 1..5, sort key, sentence parts (text, is bold), one button."""

    group: int
    sort_s: float
    parts: list
    label: str
    url: str
    status: str
    since: object = None


@dataclass
class ZoneState:
    """A zone at a moment, ready for a page."""

    facts: ZoneFacts
    plan: Progress
    surface: Surface
    toward: Toward | None
    sheet: object
    lead_s: float
    now: SurfaceNow | None
    gate: Gate | None
    act: Act | None = None
    pots: list = field(default_factory=list)

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
        """The clock that makes the headline."""
        return self.surface.lead

    @property
    def coat_number(self):
        """Number of the coat that comes next, and of how many: (2, 3)."""
        layer = self.plan.next_layer
        return (layer.coats_done + 1, layer.step.coats) if layer else (0, 0)


def open_zones():
    """Zones of open jobs, with their jobs."""
    return Zone.objects.filter(job__filing="open", job__removed=False, removed=False).select_related("job")


def lead_time_s(sheet, temp_c, area_m2):
    """Time to mix, induct and spray [s]. Common practice, no source, but for the sheet's induction."""
    induction = sheet.induction.minutes_at(temp_c) if sheet and sheet.induction else 0.0
    mix = MIX_MIN if sheet and sheet.form == "mixed" else 2.0
    return 60.0 * (mix + (induction or 0.0) + SPRAY_MIN_PER_M2 * area_m2)


def state_of(each: ZoneFacts, facts: Facts, t_s: float):
    """The state of a zone at a moment [epoch s]."""
    plan = progress_of(each.steps, each.events, t_s)
    layer = plan.next_layer
    sheet = facts.sheets.get(layer.step.product) if layer else None
    toward = Toward(layer.step.product, sheet.kind if sheet else "") if layer else None
    where = each.where
    if where is None or each.revision is None:
        return ZoneState(each, plan, Surface(t_s), toward, sheet, 0.0, None, None)
    lead = lead_time_s(sheet, where.at(t_s).air_c, each.revision.area_m2) if toward else 0.0
    surface = fold(each.events, each.revision.substrate, where, t_s, toward, lead)
    now = surface_now(each, facts, t_s)
    return ZoneState(each, plan, surface, toward, sheet, lead, now, gate_now(each, now, sheet, t_s))


def surface_now(each, facts, t_s):
    """Surface of a zone: as logged at its place within the hour, else by the section's lag behind the air."""
    air = each.where.at(t_s)
    logged = facts.airs.get(each.place.pk) if each.place else None
    if logged and logged.surface_c is not None and 0 <= t_s - logged.surface_s <= 3600:
        return SurfaceNow(logged.surface_c, Basis.MEASURED, "logged", logged.surface_c - air.dew_c)
    tau = each.revision.lag_s
    times, temps, _ = each.where.window(t_s - 5 * tau, t_s)
    temp = float(lag.follow(times, temps, tau)[-1])
    return SurfaceNow(temp, Basis.ESTIMATED, f"by lag, {tau / 60:.0f} min behind the air", temp - air.dew_c)


def gate_now(each, now, sheet, t_s):
    """The gate at this moment for the next product."""
    air = each.where.at(t_s)
    return gate([t_s], [air.air_c], [air.dew_c], [now.temp_c], sheet.limits if sheet else Limits())


def log_url(zone, kind, step=""):
    """The page that logs an entry of this kind on a zone."""
    url = reverse("work:log", args=[zone.pk, kind])
    return f"{url}?step={step}" if step else url


def moment(t_s, facts):
    """An hour as Bench says it: 14:50, tomorrow 09:10, Thu 09:10, 3 June 09:10."""
    if t_s is None:
        return "not within 30 days"
    zone = facts.workshop.zone
    here, today = from_epoch(t_s).astimezone(zone), facts.now.astimezone(zone).date()
    days = (here.date() - today).days
    if days == 0:
        return f"{here:%H:%M}"
    if days in (1, -1):
        return f"{'tomorrow' if days == 1 else 'yesterday'} {here:%H:%M}"
    return f"{here:%a %H:%M}" if -6 <= days <= 6 else f"{here.day} {here:%B %H:%M}"


def span(seconds):
    """A length of time in words: 12 min, 3 h 20, 4 days."""
    minutes = round(abs(seconds) / 60)
    if minutes < 60:
        return f"{minutes} min"
    if minutes < 48 * 60:
        return f"{minutes // 60} h {minutes % 60:02d}" if minutes % 60 else f"{minutes // 60} h"
    return f"{minutes / 1440:.0f} days"
