"""Verdicts on a coat, the same for the preview of one and for one in the record."""

from dataclasses import dataclass, field

from emplastra.core import lag
from emplastra.core.clock import crossing
from emplastra.core.dewpoint import dew_point_c, gate
from emplastra.core.surface import Toward, build
from emplastra.core.verdicts import (
    SEVERITIES,
    PotTimes,
    air_verdicts,
    date_verdicts,
    film_verdicts,
    pot_verdicts,
    window_verdicts,
    without_sheet,
)
from emplastra.core.working import Basis
from emplastra.shared.times import from_epoch

from .facts import film_from
from .selectors import metal_at


@dataclass
class CoatTold:
    """A coat as told, before or after it is an entry. Times in epoch s, temperatures in °C."""

    product: str
    sheet: object
    variant: object
    began_s: float
    ended_s: float
    plan_um: float
    thinner_pct: float = 0.0
    wft_um: list = field(default_factory=list)
    air_c: float | None = None
    rh_pct: float | None = None
    surface_c: float | None = None
    pot: PotTimes | None = None
    batches: list = field(default_factory=list)
    entry: int | None = None


def film_of_coat(coat):
    """Film of a coat as told, and the solids [%] behind it (None: plan only)."""
    return film_from(coat.sheet, coat.variant, coat.plan_um, coat.thinner_pct, coat.wft_um)


def verdicts_on(coat, each, facts):
    """Every verdict on a coat on a zone (ZoneFacts), the gravest first."""
    if coat.sheet is None:
        return without_sheet(coat.product)
    events = [e for e in each.events if e.ended_s <= coat.began_s and e.entry != coat.entry]
    before = build(events, coat.began_s)
    film, solids = film_of_coat(coat)
    wet = sum(coat.wft_um) / len(coat.wft_um) if coat.wft_um else None
    found = window_verdicts(before, each.where, Toward(coat.product, coat.sheet.kind), coat.began_s, coat.ended_s)
    found += pot_verdicts(coat.pot, coat.began_s, coat.ended_s)
    found += _air(coat, each)
    found += film_verdicts(coat.sheet, film, solids or 0.0, coat.thinner_pct, wet)
    day = from_epoch(coat.began_s).astimezone(facts.workshop.zone).date()
    found += date_verdicts(coat.batches, day)
    return sorted(found, key=lambda v: SEVERITIES.index(v.severity))


def _air(coat, each):
    """The gate over the whole of the coat and its flash."""
    at_start = each.where.at(coat.began_s)
    if at_start.basis is not Basis.MEASURED and coat.air_c is not None and coat.rh_pct is not None:
        surface = coat.surface_c if coat.surface_c is not None else coat.air_c
        dew = dew_point_c(coat.air_c, coat.rh_pct)
        return air_verdicts(gate([coat.began_s], [coat.air_c], [dew], [surface], coat.sheet.limits), Basis.MEASURED)
    flash = coat.sheet.times.get("flash")
    end = crossing(each.where, flash, coat.ended_s).t_s if flash else None
    tau = each.revision.lag_s
    cut = each.where.window(coat.began_s, max(end or coat.ended_s, coat.ended_s))
    start_c = coat.surface_c if coat.surface_c is not None else metal_at(each, tau, coat.began_s)
    surface = lag.follow(cut.t_s, cut.air_c, tau, start_c)
    found = gate(cut.t_s, cut.air_c, cut.dew_c, surface, coat.sheet.limits)
    return air_verdicts(found, at_start.basis)
