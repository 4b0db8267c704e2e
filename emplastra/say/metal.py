"""What lies ahead of a zone's metal, in words and hours."""

from dataclasses import dataclass, replace

from emplastra.core.air.dewpoint import Limits
from emplastra.core.air.outlook import Outlook, outlook
from emplastra.core.words import celsius_q, kelvin_q
from emplastra.state.selectors import metal_at, surface_c

from .hours import moment

AHEAD_S = 48 * 3600.0


@dataclass
class ZoneMetal:
    """A zone's section: its lag [min], temperature now [°C], and what it comes to in two days; what nobody knows of
    them is taken cold and damp, and fit is what is fit in a warm case too.
    """

    state: object
    tau_min: float
    now_c: float
    ahead: Outlook
    warm: str
    sweats: str
    fit: str


def metal_of(state):
    """The outlook of a zone's metal, None without air or measures."""
    each, facts, now_s = state.facts, state.all, state.surface.t_s
    if each.where is None or each.revision is None:
        return None
    tau, limits = each.revision.lag_s, state.sheet.held_limits if state.sheet else Limits()
    start_c = metal_at(each, tau, now_s)
    nights = facts.outdoors.nights(now_s, now_s + AHEAD_S) if facts.is_out(each.place) else ()

    def look(way):
        return outlook(each.where.air(now_s, now_s + AHEAD_S, way), tau, start_c, limits, nights)

    ahead = look("damp")
    if _is_bounded(limits) and any(stay.air.tail_s < now_s + AHEAD_S for stay in each.where.stays):
        ahead = replace(ahead, fit=tuple(both(ahead.fit, look("warm").fit)))
    return ZoneMetal(
        state,
        tau / 60,
        surface_c(each, facts, now_s, each.where.at(now_s).air_c),
        ahead,
        _warm(ahead, facts, now_s),
        _sweats(ahead, facts, now_s),
        fit_words(ahead, facts, now_s),
    )


def _is_bounded(limits):
    """True if it may be too warm or too dry for a product: where it may not, the damp case is the worst."""
    return any(x is not None for x in (limits.air_c[1], limits.surface_c[1], limits.rh_pct[0]))


def both(some, others):
    """Stretches [epoch s] that lie in both of two lists of them, in order."""
    for a, b in some:
        for c, d in others:
            if min(b, d) > max(a, c):
                yield max(a, c), min(b, d)


def _warm(ahead, facts, now_s):
    if ahead.limit_c is None:
        return "no limit on the sheet"
    if not ahead.warm:
        return f"under {celsius_q(ahead.limit_c)} for two days"
    start, end = ahead.warm[0]
    if start > now_s + 60:
        return f"under {celsius_q(ahead.limit_c)} until {moment(start, facts)}"
    return f"over {celsius_q(ahead.limit_c)}" + (f" until {moment(end, facts)}" if end < now_s + AHEAD_S - 60 else "")


def _sweats(ahead, facts, now_s):
    if ahead.wet:
        start, end = ahead.wet[0]
        begin = "now" if start <= now_s + 60 else f"from {moment(start, facts)}"
        return f"{begin}, until {moment(end, facts)}"
    if ahead.damp:
        start, end = ahead.damp[0]
        begin = "now" if start <= now_s + 60 else f"from {moment(start, facts)}"
        return f"no, but under {kelvin_q(3, digits=0)} {begin} to {moment(end, facts)}"
    return "not in two days"


def fit_words(ahead, facts, now_s):
    """Until when, or from when, every limit is kept."""
    if not ahead.fit:
        return "not in two days"
    start, end = ahead.fit[0]
    if start > now_s + 60:
        return f"from about {moment(start, facts)}"
    return "for two days" if end >= now_s + AHEAD_S - 60 else f"to about {moment(end, facts)}"
