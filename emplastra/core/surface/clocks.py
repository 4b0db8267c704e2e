"""The clocks of a surface: what each window, wait and deadline says at a moment.

Of a coat begun at a and ended at b, what must have passed counts from b, what must not be exceeded
from a. A check stands beside the clock it concerns; where they disagree both are told and the
careful one leads.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from ..air.journey import Journey
from ..product.kinds import ProductKind
from ..product.sheet import Closes
from ..product.sheet import Window as Row
from ..product.tables import Law, TimeTable
from ..words import celsius_q
from ..working import Unknown
from .bare import CLOTH, OPEN_FACE, TAKES_RUST, DryOff, bare_table
from .events import CHECKS, Event
from .fold import ACT_WORDS, Check, Clock, Surface, Toward, build, rank
from .integral import Crossing, crossing, progress
from .masks import tape_clock
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
PROMPT_S = 600.0
"""Wet it again this often while it is kept wet, if nobody says otherwise [s]. Common practice, no source."""
DRY = (Runs.SANDABLE, Runs.HANDLE, Runs.TOUCH)
"""By what a film is dry, the first that its sheet tells."""
THICK_AT_MOST = 4.0
"""Most that a minimum is lengthened by film thicker than the sheet's."""
DRIED_AFTER = 1.5
"""Prompts without a wetting after which it may have dried. Common practice, no source."""
DRIED = "it may have dried: wet it again, its time starts anew"
"""What the keep-wet clock notes after too long a pause."""


def thicker(film_um: float | None, sheet_um: float | None) -> float:
    """How many times a sheet's minimums a film [µm] takes that is thicker than the sheet's [µm]: the square, at most 4.

    Thinner film takes no less, nor one of which (or of whose sheet) nothing is told. Estimated, no source.
    """
    if film_um is None or sheet_um is None:
        return 1.0
    return min(THICK_AT_MOST, max(1.0, film_um / sheet_um) ** 2)


def longer_of(layers: Sequence[Layer], wet_in: Journey | None = None) -> float:
    """How many times its sheet's minimums the top layer takes.

    wet_in: the air in which all that was put on wet-on-wet dries together; None where the top layer counts alone.
    """
    top = layers[-1]
    film_um = top.film.dft_um
    if top.sheet is None or film_um is None:
        return 1.0
    if wet_in is not None:
        for upper, lower in itertools.pairwise(reversed(layers)):
            if not _wet_on_wet(lower, upper, wet_in):
                break
            film_um += lower.film.dft_um or 0.0
    return thicker(film_um, top.sheet.aim_um)


def _wet_on_wet(lower: Layer, upper: Layer, where: Journey) -> bool:
    """True if the sheet of a layer wants the one over it put on before it is dry, and it was not dry by then."""
    row = lower.sheet.window_for(upper.product, upper.sheet.kind) if lower.sheet and upper.sheet else None
    if row is None or not row.wet_on_wet:
        return False
    over = _film_dry(lower, row, where)
    return over is None or over.t_s is None or upper.began_s < over.t_s


def _film_dry(layer: Layer, row: Row, where: Journey) -> Crossing | None:
    """When a film is dry: sandable, else fit to handle, else dry to the touch; where none is told, when a window of its
    sheet closed.
    """
    sheet = layer.sheet
    table = next((sheet.times[kind] for kind in DRY if kind in sheet.times), None) if sheet else None
    if sheet is not None and table is not None:
        return crossing(where, table, layer.ended_s, thicker(layer.film.dft_um, sheet.aim_um))
    return crossing(where, row.closes, layer.began_s) if isinstance(row.closes, TimeTable) else None


@dataclass(frozen=True)
class Setting:
    """What the clocks of a surface rest on: substrate, the way through the air, what comes next, lead time [s], how
    it dries, whether its metal has a history of salt, and how often prep is wetted [s].
    """

    substrate: str
    where: Journey
    toward: Toward | None = None
    lead_s: float = 0.0
    drying: DryOff = OPEN_FACE
    salted: bool = False
    prompt_s: float = PROMPT_S


def status_of(t_s: float, opens_s: float | None, closing_s: float | None, closes_s: float | None) -> Status:
    """waiting, open, closing or missed at a moment [epoch s]; a close at or before the opening leaves no window."""
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
    window, the patch leads that presses most. lead_s: kept free before it closes [s].
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
    row = top.sheet.window_for(toward.product, toward.kind, toward.act) if top.sheet else None
    found = _stretches(row, patch, where, toward) if row else []
    if row is None or not found:
        return _unsaid(row, kind, toward, top, t_s, where)
    now = next((s for s in found if s.holds(t_s)), found[-1])
    closing_s = _closing_s(now, top, lead_s)
    clock = Clock(
        kind,
        toward.name,
        status_of(t_s, now.opens_s, closing_s, now.closes_s),
        top.ended_s,
        now.opens_s,
        closing_s,
        now.closes_s,
        opens=now.opened,
        closes=now.closed,
        opens_table=now.opens,
        closes_table=now.closes,
        at_s=t_s,
        grit=row.grit,
        note=_never(now, patch.keyed_s is not None),
        wet_on_wet=row.wet_on_wet,
        stretches=tuple((s.opens_s, s.closes_s) for s in found) if row.again else (),
        untold=now.untold,
    )
    if toward.act or patch.keyed_s is None:
        return clock
    keyed = _keyed(clock, patch.keyed_s)
    return replace(keyed, status=status_of(t_s, keyed.opens_s, keyed.closing_s, keyed.closes_s))


def _unsaid(row: Row | None, kind: Runs, toward: Toward, top: Layer, t_s: float, where: Journey) -> Clock:
    """A window that no sheet tells, or not when it opens: not judged, but for a close that is told and past."""
    if row is None:
        none = f"the sheet of {top.product} names no window for {toward.name}"
        note = none if top.sheet else f"no data sheet for {top.product}: cannot say"
        return Clock(kind, toward.name, Status.UNJUDGED, top.ended_s, note=note)
    closes = row.closes if isinstance(row.closes, TimeTable) else None
    closed = crossing(where, closes, top.began_s) if closes else None
    past = closed is not None and closed.t_s is not None and closed.t_s <= t_s
    return Clock(
        kind,
        toward.name,
        Status.MISSED if past else Status.UNJUDGED,
        top.ended_s,
        closes_s=closed.t_s if closed else None,
        closes=closed,
        closes_table=closes,
        at_s=t_s,
        grit=row.grit,
        note=f"the sheet of {top.product} does not tell from when {toward.name} may follow: cannot say",
    )


def _stretches(row: Row, patch: Patch, where: Journey, toward: Toward) -> list["_Stretch"]:
    """The stretches of a window over a patch's top layer, none of which nobody told when it opens."""
    longer = longer_of(patch.layers, where if toward.kind == ProductKind.CLEAR_COAT else None)
    told = ((opens, closes) for opens, closes in row.stretches if isinstance(opens, TimeTable))
    return [_Stretch(opens, closes, where, patch.layers[-1], longer) for opens, closes in told]


class _Stretch:
    """One stretch of a window over a layer: when it opens and closes."""

    def __init__(self, opens: TimeTable, closes: Closes, where: Journey, top: Layer, longer: float) -> None:
        self.opens, self.where, self.top, self.longer = opens, where, top, longer
        self.told, self.closes = not isinstance(closes, Unknown), closes if isinstance(closes, TimeTable) else None
        self.opened = crossing(where, opens, top.ended_s, longer)
        self.closed = crossing(where, self.closes, top.began_s) if self.closes else None
        self.opens_s, self.closes_s = self.opened.t_s, self.closed.t_s if self.closed else None

    def holds(self, t_s: float) -> bool:
        """True if it is open at a moment [epoch s], or comes yet."""
        return not self.never and (self.closes_s is None or t_s < self.closes_s)

    @property
    def untold(self) -> str:
        """What is said where nobody told its close, "" if somebody did."""
        return "" if self.told else f"until when: cannot say, the sheet of {self.top.product} does not tell"

    @property
    def shuts_first(self) -> bool:
        """True if it is told to close before it opens, or as it does."""
        return self.closes_s is not None and (self.opens_s is None or self.closes_s <= self.opens_s)

    @cached_property
    def never(self) -> bool:
        """True if it does so within one and the same way of taking what nobody knows yet."""
        return self.shuts_first and any(self._shuts_first_in(way) for way in ("cold", "warm"))

    def _shuts_first_in(self, way: str) -> bool:
        assert self.closes is not None
        opens_s = crossing(self.where, replace(self.opens, way=way), self.top.ended_s, self.longer).t_s
        closes_s = crossing(self.where, replace(self.closes, way=way), self.top.began_s).t_s
        return closes_s is not None and (opens_s is None or closes_s <= opens_s)


def _closing_s(now: _Stretch, top: Layer, lead_s: float) -> float | None:
    """From when on a window presses [epoch s]; None for one that does not close, or not within reach."""
    if now.closes is None or now.opens_s is None or now.closes_s is None or now.shuts_first:
        return None
    return closing_from(now.where, now.closes, top.began_s, now.opens_s, now.closes_s, lead_s)


def _never(now: _Stretch, keyed: bool) -> str:
    """Why a window never opens, or may not, "" if it does; a keyed one does not close before."""
    if now.shuts_first and not keyed:
        if now.never:
            return "at this temperature it closes before it opens: warm it, or key"
        return "in air that nobody knows yet it may close before it opens: log the air, warm it, or key"
    if now.opens_s is None:
        return f"not within 30 days: stands still below {celsius_q(now.opened.stands_still_below_c or 0.0)}"
    return ""


def _keyed(clock: Clock, keyed_s: float) -> Clock:
    """A window as keying changed it: open from then at the earliest, and for a day at least."""
    opens_s = max(keyed_s, clock.opens_s) if clock.opens_s is not None else None
    keyed = replace(clock, kind=Runs.KEYED, opens_s=opens_s)
    if not clock.untold and (clock.closes_s is None or clock.closes_s >= keyed_s + KEYED_S):
        return keyed
    closes_s = keyed_s + KEYED_S
    closing_s = max(closes_s - min(CLOSING_AT_MOST_S, CLOSING_SHARE * KEYED_S), opens_s or keyed_s)
    return replace(keyed, closes=None, closes_s=closes_s, closing_s=closing_s, untold="")


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
    due = min(dues, key=lambda due: (due.over.t_s is None, due.over.t_s or due.since_s))
    return _beside(
        Clock(
            Runs.BARE,
            "primer",
            Status.BARE,
            due.since_s,
            closes_s=due.over.t_s,
            closes=due.over,
            closes_table=due.over.table,
            at_s=surface.t_s,
            done=due.done,
            note=due.note,
        ),
        surface,
        Runs.BARE,
    )


@dataclass(frozen=True)
class _Due:
    """When primer is due on a patch: bare since [epoch s], progress and what is to be said where it was wet."""

    since_s: float
    over: Crossing
    done: float | None = None
    note: str = ""


def _bare_due(patch: Patch, setting: Setting, surface: Surface) -> _Due | None:
    """When primer is due on a patch; None where none runs, or while it dries in time.

    Wet hours count as at 75 %: what is used up by then is taken off what the dry air has left.
    """
    table = bare_table(setting.substrate, patch.by_hand, setting.salted)
    if table is None or patch.bare_s is None or patch.treatment is not None:
        return None
    where, since, t_s = setting.where, patch.bare_s, surface.t_s
    whole = 1.0 + (CLOTH if _cloth_clean(surface, since) and not setting.salted else 0.0)
    if patch.rinsed_s is None:
        return _Due(since, crossing(where, table, since, whole))
    dry_s = _dry_s(patch, setting)
    end_s = t_s if dry_s is None else min(dry_s, t_s)
    before, wet_s = progress(where, table, since, patch.rinsed_s), 3600 * table.wet_hours
    due_s = patch.rinsed_s + max(0.0, whole - before) * wet_s
    if due_s <= end_s:
        note = f"it was wet: wet metal has {table.wet_hours:g} h"
        return _Due(since, Crossing(due_s, since, where, table, whole), 1.0, note)
    if dry_s is None or t_s < dry_s:
        return None
    used = before + (dry_s - patch.rinsed_s) / wet_s
    done = min(1.0, (used + progress(where, table, dry_s, t_s)) / whole)
    note = f"{used / whole:.0%} was used up before it was dry: the working goes on from there"
    return _Due(since, crossing(where, table, dry_s, whole - used), done, note)


def _cloth_clean(surface: Surface, since_s: float) -> bool:
    """True if the last white cloth since then [epoch s] stayed clean."""
    return any(c.kind == "cloth" and c.passed and c.t_s >= since_s for c in surface.checks)


def _dry_s(patch: Patch, setting: Setting) -> float | None:
    """When a rinsed patch is dry [epoch s]: as told, else by the air; None if not within 30 days."""
    if patch.rinsed_s is None or patch.dried_s is not None:
        return patch.dried_s
    return crossing(setting.where, setting.drying, patch.rinsed_s).t_s


def keep_wet_clock(surface: Surface, where: Journey, prompt_s: float = PROMPT_S) -> Clock | None:
    """Prep that has to stand wet: closes at the next prompt, opens when it may be rinsed off.

    Only minutes within 1.5 prompts of a wetting count; after a longer pause the time starts anew
    with the next wetting. prompt_s: how often it is to be wetted [s].
    """
    work = surface.treatment
    if work is None:
        return None
    wettings = [work.began_s, *work.wettings]
    since, dried = _wet_since(wettings, prompt_s), wettings[-1] + DRIED_AFTER * prompt_s
    clock = Clock(
        Runs.KEEP_WET,
        "rinse",
        Status.KEEP_WET,
        since,
        closes_s=wettings[-1] + prompt_s,
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
    return replace(clock, note=DRIED, done=0.0) if surface.t_s > dried and not in_time else clock


def _wet_since(wettings: Sequence[float], prompt_s: float) -> float:
    """Since when it has been wet without a pause in which it may have dried [epoch s]."""
    since = wettings[0]
    for before, after in itertools.pairwise(wettings):
        since = after if after - before > DRIED_AFTER * prompt_s else since
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
    overs = _minimums(surface, where, kind)
    if not overs:
        return None
    top, table, over = max(overs, key=lambda each: float("inf") if each[2].t_s is None else each[2].t_s)
    status = Status.OPEN if over.t_s is not None and surface.t_s >= over.t_s else Status.WAITING
    note = "by its schedule: it was warmed for as long" if over.t_s is not None and over.t_s == top.forced_s else ""
    clock = Clock(kind, kind, status, top.ended_s, over.t_s, opens=over, opens_table=table, at_s=surface.t_s, note=note)
    return _beside(clock, surface, kind)


def _minimums(surface: Surface, where: Journey, kind: str) -> list[tuple[Layer, Law, Crossing]]:
    """(uppermost layer, the law of its sheet, when that is over) of each patch whose sheet has a minimum of a kind."""
    coated, wet_in = [p.layers for p in surface.patches if p.layers], where if kind == Runs.FLASH else None
    found: list[tuple[Layer, Law, Crossing]] = []
    for layers in coated:
        top = layers[-1]
        if top.sheet and kind in top.sheet.times:
            table = top.sheet.times[kind]
            over = crossing(where, table, top.ended_s, longer_of(layers, wet_in))
            found.append((top, table, _forced(top, over)))
    return found


def _forced(top: Layer, over: Crossing) -> Crossing:
    """When a minimum is over: once a schedule of the sheet was done, if that was before it would be by the air."""
    if top.forced_s is None or (over.t_s is not None and over.t_s <= top.forced_s):
        return over
    return replace(over, t_s=top.forced_s)


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
            return keep_wet_clock(s, where, self.setting.prompt_s)
        if kind == Runs.DRY_OFF:
            return dry_off_clock(s, self.setting)
        if kind == Runs.DEGREASED:
            return degreased_clock(s)
        if kind == Runs.TAPE:
            return tape_clock(s, self)
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
    return surface.seen(surface.t_s, tuple(spots), _Clocks(surface, setting))
