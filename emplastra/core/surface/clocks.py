"""The clocks of a surface: what each window, wait and deadline says at a moment.

Of a coat begun at a and ended at b, what must have passed counts from b, what must not be exceeded
from a. A check stands beside the clock it concerns; where they disagree both are told and the
careful one leads.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..air.journey import Journey
from ..product.sheet import Window as Row
from ..product.tables import Law
from ..words import celsius_q
from .bare import CLOTH, OPEN_FACE, TAKES_RUST, DryOff, bare_table
from .events import CHECKS, Event
from .fold import ACT_WORDS, Check, Clock, Surface, Toward, build, rank
from .integral import Crossing, crossing, progress
from .names import Runs, Status
from .patches import Layer, Patch

DEGREASED_S = 3600.0
"""Use within, after degreasing [s]. Common practice, no source."""
KEYED_S = 24 * 3600.0
"""How long a keyed surface stays open [s]. Common practice, no source."""
CLOSING_SHARE = 0.2
"""The last share of a window that counts as closing. Common practice, no source."""
CLOSING_AT_MOST_S = 12 * 3600.0
"""Closing never begins earlier than this before the close [s]."""
PROMPT_S = 300.0
"""Wet it again this often while it is kept wet [s]. Common practice, no source."""
DRIED_AFTER = 1.5
"""Prompts without a wetting after which it may have dried. Common practice, no source."""
DRIED = "it may have dried: wet it again, its time starts anew"
"""What the keep-wet clock notes after too long a pause."""


@dataclass(frozen=True)
class Setting:
    """What the clocks of a surface rest on: substrate, the way through the air, what comes next, lead time [s], how
    it dries, and whether its metal has a history of salt.
    """

    substrate: str
    where: Journey
    toward: Toward | None = None
    lead_s: float = 0.0
    drying: DryOff = OPEN_FACE
    salted: bool = False


def status_of(t_s: float, opens_s: float | None, closing_s: float | None, closes_s: float | None) -> Status:
    """waiting, open, closing or missed at a moment; a close at or before the opening leaves no window."""
    if closes_s is not None and t_s >= closes_s:
        return Status.MISSED
    if opens_s is None or t_s < opens_s:
        return Status.WAITING
    return Status.CLOSING if closing_s is not None and t_s >= closing_s else Status.OPEN


def closing_from(where: Journey, table: Law, begun_s: float, opens_s: float, closes_s: float, lead_s: float) -> float:
    """When closing begins [epoch s]: p_max = 1 − 0.2·(1 − p_max(opens)), then clamped.

    Clamped to between closes − 12 h and closes − lead time [s], and never before it opens.
    """
    key = (table, begun_s, opens_s)
    at_opening = where.progresses.get(key)
    if at_opening is None:
        at_opening = where.progresses[key] = progress(where, table, begun_s, opens_s)
    target = 1 - CLOSING_SHARE * (1 - at_opening)
    found = crossing(where, table, begun_s, target).t_s
    start = max(found if found is not None else closes_s, closes_s - CLOSING_AT_MOST_S)
    return max(min(start, closes_s - lead_s), opens_s)


def recoat_clock(surface: Surface, where: Journey, toward: Toward, lead_s: float = 0.0) -> Clock | None:
    """The window toward what comes next of all patches that wait for it, with what keying changed; None on no layer.

    A face is coated whole: it opens when the last of them does and closes when the first does; where these leave no
    window, the patch leads that presses most.
    """
    coated = [p for p in surface.patches if p.layers]
    if not coated:
        return None
    if len(coated) > 1 and toward.step:
        wanting = [p for p in coated if sum(layer.step == toward.step for layer in p.layers) <= toward.coats]
        coated = wanting or coated
    found = [_window(p, surface.t_s, where, toward, lead_s) for p in coated]
    return _beside(_of_whole(found, surface.t_s) if len(found) > 1 else found[0], surface, Runs.RECOAT)


def _of_whole(clocks: Sequence[Clock], t_s: float) -> Clock:
    """The window that several patches leave together."""
    last = max(clocks, key=lambda c: float("inf") if c.opens_s is None else c.opens_s)
    first = min(clocks, key=lambda c: float("inf") if c.closes_s is None else c.closes_s)
    none = last.opens_s is None or (first.closes_s is not None and first.closes_s <= last.opens_s)
    if last is first or none or any(c.status == Status.UNJUDGED for c in clocks):
        return min(clocks, key=rank)
    closing_s = first.closing_s if first.closing_s is None else max(first.closing_s, last.opens_s or 0.0)
    return replace(
        last,
        kind=last.kind if last.kind == first.kind else Runs.RECOAT,
        status=status_of(t_s, last.opens_s, closing_s, first.closes_s),
        closing_s=closing_s,
        closes_s=first.closes_s,
        closes=first.closes,
        closes_table=first.closes_table,
        grit=first.grit,
    )


def _window(patch: Patch, t_s: float, where: Journey, toward: Toward, lead_s: float) -> Clock:
    """The window of one patch's top layer."""
    top = patch.layers[-1]
    kind = Runs.ACT if toward.act else Runs.RECOAT
    if top.sheet is None:
        note = f"no data sheet for {top.product}: cannot say"
        return Clock(kind, toward.name, Status.UNJUDGED, top.ended_s, note=note)
    row = top.sheet.window_for(toward.product, toward.kind, toward.act)
    if row is None:
        note = f"the sheet of {top.product} names no window for {toward.name}"
        return Clock(kind, toward.name, Status.UNJUDGED, top.ended_s, note=note)
    opens = crossing(where, row.opens, top.ended_s)
    closes = crossing(where, row.closes, top.began_s) if row.closes else None
    opens_s, closes_s = opens.t_s, closes.t_s if closes else None
    never = closes_s is not None and (opens_s is None or closes_s <= opens_s) and patch.keyed_s is None
    closing_s = None if never else _closing_s(where, row, top, opens_s, closes_s, lead_s)
    clock = Clock(
        kind,
        toward.name,
        status_of(t_s, opens_s, closing_s, closes_s),
        top.ended_s,
        opens_s,
        closing_s,
        closes_s,
        opens=opens,
        closes=closes,
        opens_table=row.opens,
        closes_table=row.closes,
        at_s=t_s,
        grit=row.grit,
        note=_never(opens, never),
        wet_on_wet=row.wet_on_wet,
    )
    if toward.act or patch.keyed_s is None:
        return clock
    keyed = _keyed(clock, patch.keyed_s)
    return replace(keyed, status=status_of(t_s, keyed.opens_s, keyed.closing_s, keyed.closes_s))


def _closing_s(
    where: Journey, row: Row, top: Layer, opens_s: float | None, closes_s: float | None, lead_s: float
) -> float | None:
    """From when on a window presses [epoch s]; None for one that does not close, or not within reach."""
    if row.closes is None or opens_s is None or closes_s is None:
        return None
    return closing_from(where, row.closes, top.began_s, opens_s, closes_s, lead_s)


def _never(opens: Crossing, never: bool) -> str:
    """Why a window never opens, "" if it does. never: it closes before."""
    if never:
        return "at this temperature it closes before it opens: warm it, or key"
    if opens.t_s is None:
        return f"not within 30 days: stands still below {celsius_q(opens.stands_still_below_c or 0.0)}"
    return ""


def _keyed(clock: Clock, keyed_s: float) -> Clock:
    """A window as keying changed it: open from then at the earliest, and for a day at least."""
    opens_s = max(keyed_s, clock.opens_s) if clock.opens_s is not None else None
    keyed = replace(clock, kind=Runs.KEYED, opens_s=opens_s)
    if clock.closes_s is None or clock.closes_s >= keyed_s + KEYED_S:
        return keyed
    closes_s = keyed_s + KEYED_S
    closing_s = max(closes_s - min(CLOSING_AT_MOST_S, CLOSING_SHARE * KEYED_S), opens_s or keyed_s)
    return replace(keyed, closes=None, closes_s=closes_s, closing_s=closing_s)


def bare_clock(surface: Surface, setting: Setting) -> Clock | None:
    """When primer is due on the bare portion that runs out first; overdue stays bare. None where none runs.

    On a patch where prep stands wet nothing runs, and none leads while one dries that is not yet overdue. None where
    what comes next takes rust.
    """
    if setting.toward is not None and setting.toward.kind in TAKES_RUST:
        return None
    dues = [found for p in surface.patches if (found := _bare_due(p, setting, surface)) is not None]
    if not dues:
        return None
    since, over, done = min(dues, key=lambda due: (due[1].t_s is None, due[1].t_s or due[0]))
    return _beside(
        Clock(
            Runs.BARE,
            "primer",
            Status.BARE,
            since,
            closes_s=over.t_s,
            closes=over,
            closes_table=over.table,
            at_s=surface.t_s,
            done=done,
        ),
        surface,
        Runs.BARE,
    )


def _bare_due(patch: Patch, setting: Setting, surface: Surface) -> tuple[float, Crossing, float | None] | None:
    """(since when it is bare [epoch s], when primer is due, progress where it was wet); None while it dries in time.

    Wet hours count as at 75 %: what is used up by then is taken off what the dry air has left.
    """
    table = bare_table(setting.substrate, patch.by_hand, setting.salted)
    if table is None or patch.bare_s is None or patch.treatment is not None:
        return None
    where, since, t_s = setting.where, patch.bare_s, surface.t_s
    whole = 1.0 + (CLOTH if _cloth_clean(surface, since) and not setting.salted else 0.0)
    if patch.rinsed_s is None:
        return since, crossing(where, table, since, whole), None
    dry_s = _dry_s(patch, setting)
    end_s = t_s if dry_s is None else min(dry_s, t_s)
    before, wet_s = progress(where, table, since, patch.rinsed_s), 3600 * table.wet_hours
    due_s = patch.rinsed_s + max(0.0, whole - before) * wet_s
    if due_s <= end_s:
        return since, Crossing(due_s, since, where, table, whole), 1.0
    if dry_s is None or t_s < dry_s:
        return None
    used = before + (dry_s - patch.rinsed_s) / wet_s
    done = (used + progress(where, table, dry_s, t_s)) / whole
    return since, crossing(where, table, dry_s, whole - used), min(1.0, done)


def _cloth_clean(surface: Surface, since_s: float) -> bool:
    """True if the last white cloth since then [epoch s] stayed clean."""
    return any(c.kind == "cloth" and c.passed and c.t_s >= since_s for c in surface.checks)


def _dry_s(patch: Patch, setting: Setting) -> float | None:
    """When a rinsed patch is dry [epoch s]: as told, else by the air; None if not within 30 days."""
    if patch.rinsed_s is None or patch.dried_s is not None:
        return patch.dried_s
    return crossing(setting.where, setting.drying, patch.rinsed_s).t_s


def keep_wet_clock(surface: Surface, where: Journey) -> Clock | None:
    """Prep that has to stand wet: closes at the next prompt, opens when it may be rinsed off.

    Only minutes within 1.5 prompts of a wetting count; after a longer pause the time starts anew
    with the next wetting.
    """
    work = surface.treatment
    if work is None:
        return None
    wettings = [work.began_s, *work.wettings]
    since, dried = _wet_since(wettings), wettings[-1] + DRIED_AFTER * PROMPT_S
    clock = Clock(
        Runs.KEEP_WET,
        "rinse",
        Status.KEEP_WET,
        since,
        closes_s=wettings[-1] + PROMPT_S,
        at_s=surface.t_s,
        done=0.0,
        note=f"the sheet of {work.product} names no contact time",
    )
    table = work.sheet.times.get("contact") if work.sheet else None
    over = crossing(where, table, since) if table is not None else None
    in_time = over is not None and over.t_s is not None and over.t_s <= dried
    if table is not None and over is not None:
        done = progress(where, table, since, min(surface.t_s, dried))
        clock = replace(clock, opens_s=over.t_s, opens=over, opens_table=table, done=min(1.0, done), note="")
    return replace(clock, note=DRIED, done=0.0) if surface.t_s >= dried and not in_time else clock


def _wet_since(wettings: Sequence[float]) -> float:
    """Since when it has been wet without a pause in which it may have dried [epoch s]."""
    since = wettings[0]
    for before, after in itertools.pairwise(wettings):
        since = after if after - before > DRIED_AFTER * PROMPT_S else since
    return since


def dry_off_clock(surface: Surface, setting: Setting) -> Clock | None:
    """Rinsed metal until the last of it is dry; then, where metal is bare, the bare clock leads."""
    wet = [p for p in surface.patches if p.rinsed_s is not None and p.dried_s is None]
    if not wet:
        return None
    overs = [crossing(setting.where, setting.drying, p.rinsed_s or 0.0) for p in wet]
    over = max(overs, key=lambda found: float("inf") if found.t_s is None else found.t_s)
    is_dry = over.t_s is not None and surface.t_s >= over.t_s
    status, law = Status.OPEN if is_dry else Status.WAITING, setting.drying
    clock = Clock(Runs.DRY_OFF, "dry", status, over.since_s, over.t_s, opens=over, opens_table=law, at_s=surface.t_s)
    clock = _beside(clock, surface, Runs.DRY_OFF)
    return None if clock.status == Status.OPEN and surface.bare else clock


def time_clock(surface: Surface, where: Journey, kind: str) -> Clock | None:
    """A minimum of the top layers' sheets (flash, sandable, cure ...), from the end of each coat; the last leads."""
    tops = [p.layers[-1] for p in surface.patches if p.layers]
    overs = [
        (top, top.sheet.times[kind], crossing(where, top.sheet.times[kind], top.ended_s))
        for top in tops
        if top.sheet and kind in top.sheet.times
    ]
    if not overs:
        return None
    top, table, over = max(overs, key=lambda each: float("inf") if each[2].t_s is None else each[2].t_s)
    status = Status.OPEN if over.t_s is not None and surface.t_s >= over.t_s else Status.WAITING
    clock = Clock(kind, kind, status, top.ended_s, over.t_s, opens=over, opens_table=table, at_s=surface.t_s)
    return _beside(clock, surface, kind)


def degreased_clock(surface: Surface) -> Clock | None:
    """Wiped metal or film: to be coated within the hour."""
    since = surface.degreased_s
    if since is None:
        return None
    closes = since + DEGREASED_S
    return Clock(
        Runs.DEGREASED,
        "next coat",
        Status.MISSED if surface.t_s >= closes else Status.OPEN,
        since,
        since,
        closes_s=closes,
    )


def _beside(clock: Clock, surface: Surface, concerns: str) -> Clock:
    """The clock with what the latest check of each kind says; a failed one leads and holds it back."""
    mine = [c for c in surface.checks if concerns in CHECKS[c.kind].clocks and c.t_s >= clock.since_s]
    if not mine:
        return clock
    last: Check = max(mine, key=lambda check: (not check.passed, check.t_s))
    said = CHECKS[last.kind].passes if last.passed else CHECKS[last.kind].fails
    if clock.kind == Runs.BARE:
        return _beside_bare(clock, surface.t_s, last, said)
    if last.passed:
        early = clock.status == Status.WAITING
        return replace(clock, remark=f"{said} already, but the sheet’s time leads" if early else said)
    if clock.status in {Status.OPEN, Status.CLOSING}:
        return replace(clock, status=Status.WAITING, remark=f"{said}, though the time is up: wait and check again")
    return replace(clock, remark=said)


_AGAIN = {"no-flash-rust": "abrade again", "cloth": "wipe it until it does not, or abrade again"}


def _beside_bare(clock: Clock, t_s: float, last: Check, said: str) -> Clock:
    """The bare clock with what a look for flash rust says of it."""
    if not last.passed:
        return replace(clock, remark=f"{said}: {_AGAIN[last.kind]}", closes_s=min(clock.closes_s or last.t_s, last.t_s))
    overdue = clock.closes_s is not None and t_s >= clock.closes_s
    return replace(clock, remark=f"{said}, abrade lightly and wipe all the same" if overdue else said)


class _Clocks:
    """The clocks of one surface, each worked out when it is asked for."""

    def __init__(self, surface: Surface, setting: Setting) -> None:
        self.surface, self.setting = surface, setting
        self.made: dict[str, Clock | None] = {}

    def __call__(self, kind: str) -> Clock | None:
        if kind not in self.made:
            self.made[kind] = self._make(kind)
        return self.made[kind]

    def _make(self, kind: str) -> Clock | None:
        s, where, toward = self.surface, self.setting.where, self.setting.toward
        if kind == Runs.BARE:
            return bare_clock(s, self.setting)
        if kind == Runs.KEEP_WET:
            return keep_wet_clock(s, where)
        if kind == Runs.DRY_OFF:
            return dry_off_clock(s, self.setting)
        if kind == Runs.DEGREASED:
            return degreased_clock(s)
        if kind in {Runs.RECOAT, Runs.ACT}:
            wanted = toward is not None and bool(toward.act) == (kind == Runs.ACT)
            return recoat_clock(s, where, toward, self.setting.lead_s) if wanted and toward else None
        if kind in ACT_WORDS:
            return recoat_clock(s, where, Toward("", "", kind), self.setting.lead_s)
        return time_clock(s, where, kind)


def fold(
    events: Sequence[Event],
    substrate: str,
    where: Journey,
    t_s: float,
    toward: Toward | None = None,
    lead_s: float = 0.0,
    spots: Sequence[Surface] = (),
) -> Surface:
    """The state of a surface at a moment.

    events: what happened, in any order; substrate: a key of lag.SUBSTRATES; where: the air it
    stood in; t_s [epoch s]; toward: what comes next, if anything is planned; lead_s: time to mix,
    induct and spray [s], kept free before a close; spots: surfaces of its open spots.
    """
    return with_clocks(build(events, t_s), Setting(substrate, where, toward, lead_s), spots)


def with_clocks(surface: Surface, setting: Setting, spots: Sequence[Surface] = ()) -> Surface:
    """A surface with its clocks."""
    return replace(surface, spots=tuple(spots), clock_maker=_Clocks(surface, setting))
