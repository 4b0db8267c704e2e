"""Verdicts on a coat, the same for the preview of one and for one in the record."""

from dataclasses import dataclass, field

from emplastra.core.air import lag
from emplastra.core.air.dewpoint import dew_point_c, gate
from emplastra.core.rules.coat import NO_BREACH, CoatCase, PotTimes, looked_at, verdicts
from emplastra.core.surface.fold import build
from emplastra.core.surface.integral import crossing
from emplastra.core.working import Basis
from emplastra.logbook.kinds.coat import film_from
from emplastra.shared.times import from_epoch

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
    step: str = ""
    share: float = 1.0


def film_of_coat(coat):
    """Film of a coat as told, and the solids [%] behind it (None: plan only)."""
    return film_from(coat.sheet, coat.variant, coat.plan_um, coat.thinner_pct, coat.wft_um)


def verdicts_on(coat, each, facts):
    """Every verdict on a coat on a zone (ZoneFacts), the gravest first."""
    return judged(coat, each, facts)[0]


def judged(coat, each, facts):
    """(every verdict on a coat on a zone, the gravest first; what of it was looked at)."""
    case = _case(coat, each, facts)
    return verdicts(case, f"coat {coat.entry or 'to come'} on zone {each.zone.pk}"), looked_at(case)


def _case(coat, each, facts):
    """A coat on a zone with all that it is judged by."""
    film, solids = film_of_coat(coat)
    events = [e for e in each.events if e.ended_s <= coat.began_s and e.entry != coat.entry]
    found, basis = _air(coat, each) if coat.sheet else (NO_BREACH, Basis.MEASURED)
    return CoatCase(
        coat.product,
        coat.sheet,
        coat.began_s,
        coat.ended_s,
        build(events, coat.began_s).under(coat.step, coat.product, coat.share),
        each.where,
        film,
        found,
        basis,
        solids or 0.0,
        coat.thinner_pct,
        sum(coat.wft_um) / len(coat.wft_um) if coat.wft_um else None,
        coat.pot,
        tuple(coat.batches),
        from_epoch(coat.began_s).astimezone(facts.workshop.zone).date(),
    )


def _air(coat, each):
    """(the gate over the whole of the coat and its flash, what it rests on)."""
    at_start = each.where.at(coat.began_s)
    if at_start.basis is not Basis.MEASURED and coat.air_c is not None and coat.rh_pct is not None:
        surface = coat.surface_c if coat.surface_c is not None else coat.air_c
        dew = dew_point_c(coat.air_c, coat.rh_pct)
        return gate([coat.began_s], [coat.air_c], [dew], [surface], coat.sheet.limits), Basis.MEASURED
    flash = coat.sheet.times.get("flash")
    end = crossing(each.where, flash, coat.ended_s).t_s if flash else None
    tau = each.revision.lag_s
    cut = each.where.window(coat.began_s, max(end or coat.ended_s, coat.ended_s))
    start_c = coat.surface_c if coat.surface_c is not None else metal_at(each, tau, coat.began_s)
    surface = lag.follow(cut.t_s, cut.air_c, tau, start_c)
    return gate(cut.t_s, cut.air_c, cut.dew_c, surface, coat.sheet.limits), at_start.basis
