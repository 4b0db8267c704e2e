"""The figures of a window, each with its working."""

from dataclasses import dataclass, field

from emplastra.core.product.tables import TimeTable
from emplastra.core.surface.bare import DRYING_HPA, BareTable, DryOff
from emplastra.core.surface.fold import ACT_WORDS
from emplastra.core.surface.integral import Shares, trace
from emplastra.core.surface.names import Runs, Status
from emplastra.core.words import celsius_q
from emplastra.shared.times import span

from .hours import moment


@dataclass
class Figure:
    """One hour that matters: what, when in words, its shares, range, table and trace."""

    key: str
    name: str
    when: str
    t_s: float | None
    is_past: bool
    shares: Shares | None = None
    earliest: str = ""
    latest: str = ""
    points: tuple = ()
    steps: tuple = ()
    since_s: float = 0.0
    counts_from: str = ""
    note: str = ""
    bars: list = field(default_factory=list)


def window_view(state, facts):
    """Figures of a zone's clocks in order: primer due, flash, opens, closes, sandable, cured."""
    found = []
    surface = state.surface
    if surface.away_s is not None:
        return found
    bare, recoat = surface.clock(Runs.BARE), surface.window
    found += _metal(surface, state, facts)
    if bare:
        since = "the end of drying" if surface.rinsed_s is not None else "the start of baring"
        found.append(figure_of("primer", "Primer due", bare.closes, state, facts, bare.closes.table, since))
        found[-1].note = "; ".join(filter(None, (bare.note, _of_bare(bare), _portions(surface, facts))))
    flash = surface.clock(Runs.FLASH)
    if flash:
        found.append(
            figure_of("flash", "Flash over", flash.opens, state, facts, flash.opens_table, "the end of the coat")
        )
    if recoat and recoat.status == Status.UNJUDGED:
        found.append(Figure("opens", f"Not judged: {recoat.note}", "–", None, False))
    elif recoat:
        found += _recoat(recoat, state, facts)
    for act, word in ACT_WORDS.items():
        clock = surface.clock(act)
        if clock is not None and clock.status != Status.UNJUDGED:
            found += _recoat(clock, state, facts, word)
    act = surface.clock(Runs.ACT)
    if act is not None and act.status == Status.UNJUDGED:
        found.append(Figure("opens", f"Not judged: {act.note}", "–", None, False))
    for kind, name in TIMES.items():
        clock = surface.clock(kind)
        if clock:
            found.append(figure_of(kind, name, clock.opens, state, facts, clock.opens_table, "the end of the coat"))
    return found


TIMES = {
    "dust_free": "Dust-free",
    "touch": "Dry to touch",
    "handle": "Can be handled",
    "sandable": "Sandable",
    "ready_to_weld": "Can be welded",
    "cure": "Cured",
}
"""What a sheet's times say, in order."""


def _metal(surface, state, facts):
    """Prep that stands wet, metal that dries, a wipe that is used up."""
    wet, dry, wiped = (surface.clock(kind) for kind in (Runs.KEEP_WET, Runs.DRY_OFF, Runs.DEGREASED))
    if wet and wet.opens:
        yield figure_of(
            "contact", "Prep may be rinsed", wet.opens, state, facts, wet.opens_table, "the last begin of wetting"
        )
    if dry:
        yield figure_of("dry", "Dry", dry.opens, state, facts, dry.opens_table, "the rinse")
    if wiped:
        when = moment(wiped.closes_s, facts)
        note = "use within an hour of wiping: common practice, no source"
        yield Figure("wiped", "Wipe used up", when, wiped.closes_s, wiped.status == Status.MISSED, note=note)


def _longer(table, target):
    """What is said of a sheet's time that a thicker film, or a bigger pot, takes."""
    if not isinstance(table, TimeTable) or abs(target - 1) < 0.005:
        return ""
    if table.role == "min":
        return f"film thicker than the sheet’s: its time × {target:.2f}, estimated"
    return f"so much in one pot warms itself: its life × {target:.1f}, assumed"


def _of_bare(clock):
    """What lengthens or shortens the hours of bare metal."""
    law = clock.closes_table
    said = ["abraded by hand: twice the hours"] if law.longer > 1 else []
    said += [f"salt: at most {law.most_hours:g} h"] if law.most_hours < 24 else []
    said += ["a clean white cloth: half of them again"] if clock.closes.target > 1 else []
    return "; ".join(said)


def _portions(surface, facts):
    """Bare portions in words, where there is more than one."""
    if len(surface.bare) < 2:
        return ""
    return "; ".join(f"{share:.0%} since {moment(since, facts)}" for since, share in surface.bare)


def pot_figures(pot, state, facts):
    """Figures of a pot's clocks, in the air of the zone it was mixed for."""
    clocks = (
        ("induction", "Induction over", pot.induction, "the last part weighed"),
        (
            "life",
            "Dead since" if pot.status(state.surface.t_s) == "dead" else "Dead at",
            pot.life,
            "the first hardener weighed",
        ),
    )
    return [figure_of(key, name, c, state, facts, c.table, since) for key, name, c, since in clocks if c is not None]


def _recoat(clock, state, facts, word=""):
    name = f"Opens for {word or clock.toward}"
    opens = figure_of("opens", name, clock.opens, state, facts, clock.opens_table, "the end of the coat")
    opens.note = clock.note or opens.note
    yield opens
    if clock.closes is not None:
        yield figure_of("closes", "Closes", clock.closes, state, facts, clock.closes_table, "the begin of the coat")
    elif clock.closes_s is not None:
        yield Figure(
            "closes",
            "Closes: keyed surfaces stay open 24 h",
            moment(clock.closes_s, facts),
            clock.closes_s,
            clock.status == Status.MISSED,
            note="common practice, no source",
        )
    elif clock.untold:
        yield Figure("closes", "Closes", "cannot say", None, False, note=clock.untold)
        return
    else:
        if not word:
            yield Figure("closes", "Closes", "never", None, False, note="the sheet names no maximum")
        return
    if clock.again_s is not None:
        between = "between its two windows it must not be coated: it may lift or wrinkle"
        yield Figure("again", "Opens again", moment(clock.again_s, facts), clock.again_s, False, note=between)
        return
    grit = f"key with {clock.grit} first" if clock.grit else "key first"
    yield Figure(
        "after", "After that", grit, None, clock.status == Status.MISSED, note="then it is open again for 24 h"
    )


def figure_of(key, name, crossing, state, facts, table, counts_from):
    """The figure of a crossing on a zone's journey, with its table, trace and shares."""
    now_s = state.surface.t_s
    t_s = crossing.t_s
    when = moment(t_s, facts)
    if t_s is None and crossing.stands_still_below_c is not None:
        when = f"not within 30 days: stands still below {celsius_q(crossing.stands_still_below_c)}"
    figure = Figure(
        key,
        name,
        when,
        t_s,
        t_s is not None and t_s <= now_s,
        crossing.shares,
        since_s=crossing.since_s,
        counts_from=counts_from,
    )
    if crossing.earliest_s and crossing.latest_s:
        figure.earliest, figure.latest = moment(crossing.earliest_s, facts), moment(crossing.latest_s, facts)
    if table is not None:
        figure.points = _points(table)
        figure.steps = trace(
            crossing.where, table, crossing.since_s, t_s or crossing.since_s + 86400, whole=crossing.target
        )
        figure.note = _longer(table, crossing.target)
    s = crossing.shares
    kinds = (("measured", s.measured), ("estimated", s.estimated), ("forecast", s.forecast), ("assumed", s.assumed))
    figure.bars = [(kind, share) for kind, share in kinds if share >= 0.005]
    return figure


def _points(table):
    """(RH % or None, °C or None, time in words) of each point of a table."""
    if isinstance(table, BareTable):
        return tuple((rh, None, span(hours * 3600)) for rh, hours in table.told)
    if isinstance(table, DryOff):
        return ((None, None, f"{span(table.minutes * 60)} at a vapour deficit of {DRYING_HPA:g} hPa or more"),)
    rows = table.rows or ((None, table.points),)
    return tuple((rh, temp, span(minutes * 60)) for rh, points in rows for temp, minutes in points)
