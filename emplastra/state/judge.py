"""Verdicts on a coat, the same for the preview of one and for one in the record."""

from dataclasses import dataclass, field

from emplastra.core.rules.coat import CoatCase, PotTimes, looked_at, verdicts
from emplastra.core.surface.clocks import thicker
from emplastra.core.surface.fit import Fit, Typed, fit_of
from emplastra.core.surface.fold import build
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
    fit = _fit(coat, each, facts) if coat.sheet else Fit()
    return CoatCase(
        coat.product,
        coat.sheet,
        coat.began_s,
        coat.ended_s,
        build(events, coat.began_s).under(coat.step, coat.product, coat.share),
        each.where,
        film,
        fit,
        solids or 0.0,
        coat.thinner_pct,
        sum(coat.wft_um) / len(coat.wft_um) if coat.wft_um else None,
        coat.pot,
        tuple(coat.batches),
        from_epoch(coat.began_s).astimezone(facts.workshop.zone).date(),
    )


def _fit(coat, each, facts):
    """What the air says of a coat, over the whole of it and of its drying."""
    tau_s = each.revision.lag_s
    typed = Typed(coat.air_c, coat.rh_pct, coat.surface_c)
    metal_c = metal_at(each, tau_s, coat.began_s) if coat.surface_c is None else coat.surface_c
    film, longer = film_of_coat(coat)[0], 1.0
    if coat.sheet.film:
        longer = thicker(film.dft_um, coat.sheet.film.typical_um)
    return fit_of(coat.sheet, each.where, tau_s, metal_c, coat.began_s, coat.ended_s, facts.outdoors, typed, longer)
