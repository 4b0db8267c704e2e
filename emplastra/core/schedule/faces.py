"""The rest of a face's plan as acts, walked through by the clock: what each waits for and what closes on it.

Planned acts are folded as if they were done at their hours; each meets the same clocks that a page would show then.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise

from ..product.sheet import Sheet
from ..rules.face import COATS
from ..rules.rehearsal import is_last, planned, planned_film
from ..surface import events
from ..surface.clocks import (
    DEGREASED_S,
    DRY,
    KEYED_S,
    Setting,
    bare_clock,
    degreased_clock,
    dry_off_clock,
    keep_wet_clock,
    recoat_clock,
    thicker,
    time_clock,
)
from ..surface.events import Event
from ..surface.fold import Clock, Surface, Toward, build
from ..surface.integral import Crossing, crossing
from ..surface.names import Runs, Status, StepKind
from ..surface.plan import PlanStep, Progress, StepState, to_sand_um
from ..surface.steps import STEPS
from .durations import CONTRACTOR_DAYS, is_dusty, is_sprayed
from .work import DAY_S, Act, Wait

UNTOLD_S = 16 * 3600.0
"""How long a film is left where its sheet does not tell from when the next may follow [s]. Ours, no source."""
RINSE_WITHIN_S = 900.0
"""Acid is rinsed off within this once it has worked [s]. Common practice, no source."""
PART_S = 4 * 3600.0
"""Work that leaves no film is cut into parts no longer than this [s], so that it need not be done in one go."""
LATER_S = 60.0


@dataclass(frozen=True)
class FaceAsk:
    """A face whose work is to be planned: as it is now (surface, without clocks), how far its plan is, what its clocks
    rest on, sheets by product; lasts: hands at a step or one coat of it [s]; stripes: {id of a step: its share of the
    face}; due_back_s: when it is back that is away [epoch s].
    """

    key: str
    name: str
    job: str
    surface: Surface
    plan: Progress
    setting: Setting
    sheets: Mapping[str, Sheet]
    lasts: Callable[[PlanStep], float]
    stripes: Mapping[str, float] = field(default_factory=dict)
    due_back_s: float | None = None
    place: str = ""
    holds: tuple[str, ...] = ()
    air: Callable[[str], str] = lambda product: ""
    promised: Mapping[str, float] = field(default_factory=dict)
    position: str = ""
    let_go: frozenset[str] = frozenset()
    """Acts whose window is let go: the face is keyed again before them."""

    @property
    def kinds(self) -> dict[str, str]:
        """{product: its kind}."""
        return {name: sheet.kind for name, sheet in self.sheets.items()}


@dataclass(frozen=True)
class Limit:
    """When an act may begin at the earliest, or must at the latest [epoch s] (None: never comes), counted from the
    begin or end of another act of the face ("": from what has happened); why: in words.
    """

    t_s: float | None
    since: str
    why: str
    law: Crossing | None = None
    at_begin: bool = False
    again: bool = False
    """law: the crossing that it is, None where it is so long whatever the air; at_begin: it counts from a begin; again:
    what lapses is done again in minutes, as a wipe.
    """


@dataclass
class Met:
    """An act on the way: at which hours it was walked [epoch s], what opens it and what closes on it."""

    act: Act
    begin_s: float
    end_s: float
    opens: list[Limit] = field(default_factory=list)
    closes: list[Limit] = field(default_factory=list)

    @property
    def opens_s(self) -> float:
        """From when on it may begin [epoch s]; inf: never."""
        return max((float("inf") if o.t_s is None else o.t_s for o in self.opens), default=float("-inf"))

    @property
    def closes_s(self) -> float:
        """Until when it must begin [epoch s]; inf: nothing closes."""
        return min((c.t_s for c in self.closes if c.t_s is not None), default=float("inf"))


Times = Mapping[str, tuple[float, float]]
"""{act: (begin, end) of its work [epoch s]}."""


def walk(face: FaceAsk, times: Times | None = None) -> list[Met]:
    """The acts that are left of a face's plan, in order, each as it is met.

    times: when each is done; None: each as soon as it opens, one after another, as if hands were always there.
    """
    return list(_Walk(face, times).met())


class _Walk:
    """One way through the rest of a plan."""

    def __init__(self, face: FaceAsk, times: Times | None) -> None:
        self.face, self.times = face, times
        self.surface, self.t_s = face.surface, face.surface.t_s
        self.begun: dict[float, str] = {}
        self.ended: dict[float, str] = {}

    def met(self) -> Iterator[Met]:
        plan = self.face.plan
        for i, state in enumerate(plan.states):
            if state.done or plan.is_passed_over(i):
                continue
            share = self._share(state.step)
            if not share:
                continue
            for coat in range(state.coats_done + 1, state.step.coats + 1) if state.step.kind in COATS else (1,):
                if self._is_missed(state.step, coat):
                    yield self._key_again(state.step, coat)
                yield from self._act(i, state, coat, share)

    def _is_missed(self, step: PlanStep, coat: int) -> bool:
        """True for a coat over a film whose window has closed already, and that nobody has keyed since."""
        if step.kind in COATS and f"{self.face.key}:{step.id}:{coat}" in self.face.let_go:
            return self.surface.top is not None
        if step.kind not in COATS or self.ended:
            return False
        clock = recoat_clock(self.surface, self.face.setting.where, self._toward(step, coat))
        return clock is not None and clock.status == Status.MISSED

    def _key_again(self, step: PlanStep, coat: int) -> Met:
        """Keying that a missed window asks for before a coat."""
        key = PlanStep(f"key-{step.id}" + (f"-{coat}" if coat > 1 else ""), StepKind.ABRADE)
        met = self._meet(key, 1, self.face.lasts(key), 0)
        met.act = replace(met.act, name="Key again")
        self.surface = build([events.Keyed(met.begin_s, met.end_s)], met.end_s, onto=self.surface)
        self.begun[met.begin_s], self.ended[met.end_s] = met.act.id, met.act.id
        self.t_s = max(self.t_s, met.end_s)
        return met

    def _share(self, step: PlanStep) -> float:
        if step.on:
            return sum(share for _, share in self.surface.bare)
        return self.face.stripes.get(step.id, 1.0)

    def _act(self, i: int, state: StepState, coat: int, share: float) -> Iterator[Met]:
        """An act, in parts where it is long and need not be done in one go."""
        step, work_s = state.step, self.face.lasts(state.step)
        parts = 1 if step.kind in COATS else max(1, -int(-work_s // PART_S))
        for part in range(1, parts + 1):
            met = self._meet(step, coat, work_s / parts, part if parts > 1 else 0)
            yield met
            if part == parts:
                self._do(i, state, coat, share, met)
            self.begun[met.begin_s], self.ended[met.end_s] = met.act.id, met.act.id
            self.t_s = max(self.t_s, met.end_s)

    def _meet(self, step: PlanStep, coat: int, work_s: float, part: int) -> Met:
        face = self.face
        act_id = f"{face.key}:{step.id}:{coat}" + (f":{part}" if part else "")
        hands = step.kind != StepKind.CONTRACTOR
        work_s = work_s if hands else self._away_s()
        begin, end = (self.times or {}).get(act_id, (self.t_s, 0.0))
        opens, closes = self._limits(step, coat, begin) if part <= 1 else ([], [])
        if not end:
            begin = max([begin, *(o.t_s for o in opens if o.t_s is not None)])
            end = begin + work_s
        act = Act(
            act_id,
            face.key,
            _name(step, coat, part),
            work_s,
            step.kind,
            step.id,
            coat,
            face.job,
            hands,
            *self._takes(step),
            dusty=is_dusty(step),
            air=face.air(step.product) if step.kind in COATS else "",
            place=face.place,
            position=face.position if hands else "",
            promised_s=face.promised.get(act_id),
        )
        return Met(self._with_film(act, step, end), begin, end, opens, closes)

    def _takes(self, step: PlanStep) -> tuple[tuple[str, ...], tuple[str, ...]]:
        """(what a step uses while it is worked on, what it holds until it has flashed)."""
        return (("gun",), self.face.holds) if is_sprayed(step) else ((), ())

    def _away_s(self) -> float:
        """How long it is at a contractor [s]: until it is due back, else as long as is usual."""
        due = self.face.due_back_s
        return CONTRACTOR_DAYS * DAY_S if due is None else max(LATER_S, due - self.face.surface.t_s)

    def _with_film(self, act: Act, step: PlanStep, end_s: float) -> Act:
        """An act with what its film does after it: until it has flashed, until it takes no dust [s]."""
        sheet = self.face.sheets.get(step.product)
        if sheet is None or step.kind not in COATS:
            return act
        where, longer = self.face.setting.where, thicker(step.dft_um, sheet.aim_um)

        def takes(*names: str) -> float:
            name = next((n for n in names if n in sheet.times), None)
            over = crossing(where, sheet.times[name], end_s, longer).t_s if name else None
            return 0.0 if over is None else over - end_s

        return replace(act, then_s=takes(Runs.FLASH), tacky_s=takes(Runs.DUST_FREE, Runs.TOUCH, Runs.FLASH))

    def _limits(self, step: PlanStep, coat: int, at_s: float) -> tuple[list[Limit], list[Limit]]:
        """What opens and what closes for an act on the face as it is, looked at from a moment [epoch s]."""
        surface, is_coat = self.surface.at(at_s), step.kind in COATS
        toward = self._toward(step, coat)
        setting = replace(self.face.setting, toward=toward)
        opens, closes = list[Limit](), list[Limit]()
        if is_coat or STEPS[step.kind].act:
            self._window(surface, toward, opens, closes)
        elif surface.top is not None:
            self._dry(surface, step, opens)
        self._wet(surface, setting, step, opens, closes)
        if is_coat:
            self._bare(surface, setting, closes)
            wiped = degreased_clock(surface)
            if wiped is not None:
                since = self._who(wiped.since_s, self.ended)
                why = f"the wipe lapses before {step.product}"
                closes.append(Limit(wiped.since_s + DEGREASED_S, since, why, again=True))
        return opens, closes

    def _wet(self, surface: Surface, setting: Setting, step: PlanStep, opens: list[Limit], closes: list[Limit]) -> None:
        """Metal that was rinsed dries first; acid is rinsed off once it has worked."""
        wet = dry_off_clock(surface, setting)
        if wet is not None and step.kind != StepKind.RINSE and wet.opens is not None:
            opens.append(Limit(wet.opens_s, self._who(wet.opens.since_s, self.ended), "dry", wet.opens))
        acid = keep_wet_clock(surface, setting.where, setting.prompt_s)
        if acid is not None and step.kind == StepKind.RINSE and acid.opens is not None:
            since = self._who(acid.opens.since_s, self.begun)
            opens.append(Limit(acid.opens_s, since, "the acid has worked", acid.opens, True))
            if acid.opens_s is not None and acid.opens_s + RINSE_WITHIN_S > self.face.surface.t_s:
                closes.append(Limit(acid.opens_s + RINSE_WITHIN_S, since, "the acid must not dry"))

    def _toward(self, step: PlanStep, coat: int) -> Toward:
        if step.kind in COATS:
            return Toward(step.product, self.face.kinds.get(step.product, ""), "", step.id, coat - 1)
        later = next((s.step.product for s in self.face.plan.states if s.step.kind in COATS and not s.done), "")
        return Toward(later, self.face.kinds.get(later, ""), STEPS[step.kind].act)

    def _window(self, surface: Surface, toward: Toward, opens: list[Limit], closes: list[Limit]) -> None:
        """The window of what lies there toward the next coat or act."""
        clock = recoat_clock(surface, self.face.setting.where, toward)
        if clock is None:
            return
        if clock.status == Status.UNJUDGED and clock.opens is None:
            top = surface.top
            if top is not None:
                since = self._who(top.ended_s, self.ended)
                opens.append(Limit(top.ended_s + UNTOLD_S, since, "no window is told, assumed"))
            return
        since = self._who(clock.opens.since_s if clock.opens else clock.since_s, self.ended)
        opens.append(Limit(clock.opens_s, since, f"{toward.name} may follow", clock.opens))
        if clock.closes_s is not None:
            keyed = clock.kind == Runs.KEYED and clock.closes is None
            from_s = clock.closes_s - KEYED_S if keyed else clock.closes.since_s if clock.closes else clock.since_s
            who = self._who(from_s, self.ended if keyed else self.begun)
            closes.append(Limit(clock.closes_s, who, f"the window of {toward.name} closes", clock.closes, not keyed))

    def _dry(self, surface: Surface, step: PlanStep, opens: list[Limit]) -> None:
        """A film is dry before it is sanded, wiped or covered."""
        wanted = DRY if STEPS[step.kind].entry == "keyed" or step.kind == StepKind.POLISH else DRY[::-1]
        for kind in wanted:
            clock = time_clock(surface, self.face.setting.where, kind)
            if clock is not None and clock.opens is not None:
                word = "it can be sanded" if kind == Runs.SANDABLE else "it is dry"
                opens.append(Limit(clock.opens_s, self._who(clock.opens.since_s, self.ended), word, clock.opens))
                return

    def _bare(self, surface: Surface, setting: Setting, closes: list[Limit]) -> None:
        """Bare metal is primed before its time is up; one that is overdue already is primed all the same."""
        clock: Clock | None = bare_clock(surface, setting)
        if clock is not None and clock.closes is not None and clock.closes_s is not None:
            since = self._who(clock.since_s, self.ended)
            at_begin = self.begun.get(clock.since_s) == since
            if since or clock.closes_s > self.face.surface.t_s:
                closes.append(Limit(clock.closes_s, since, "bare metal rusts", clock.closes, at_begin))

    def _who(self, since_s: float, by: Mapping[float, str]) -> str:
        """Which act begins or ends at a moment [epoch s], "" for what has happened."""
        other = self.ended if by is self.begun else self.begun
        return by.get(since_s) or other.get(since_s) or ""

    def _do(self, i: int, state: StepState, coat: int, share: float, met: Met) -> None:
        """Fold what the act leaves."""
        steps = [s.step for s in self.face.plan.states]
        made = self._events(steps, i, state, coat, share, met)
        self.surface = build(made, met.end_s, onto=self.surface) if made else self.surface.at(met.end_s)

    def _events(
        self, steps: Sequence[PlanStep], i: int, state: StepState, coat: int, share: float, met: Met
    ) -> list[Event]:
        step, begin, end = state.step, met.begin_s, met.end_s
        sheet = self.face.sheets.get(step.product)
        if step.kind in COATS:
            if coat == state.coats_done + 1 and state.share:
                share = 1.0 - state.share
            return [events.Coated(begin, end, share, step.id, 0, sheet, planned_film(step), step.product)]
        if step.kind == StepKind.RINSE:
            return [events.Rinsed(begin, end, 1.0, step.id)]
        made = planned(step, sheet, state, end, to_sand_um(steps, i), share, is_last(steps, i))
        return [replace(event, began_s=begin, ended_s=end) for event in made]


def _name(step: PlanStep, coat: int, part: int) -> str:
    name = STEPS[step.kind].name
    if step.kind in COATS and step.coats > 1:
        return f"{name} {coat}"
    return f"{name}, part {part}" if part else name


def waits_of_walk(met: Sequence[Met]) -> tuple[list[Act], list[Wait]]:
    """(acts with what binds their begin by what has happened, waits between them) of a walk.

    Each act comes after the one before it on its face, whatever else it waits for.
    """
    ends = {each.act.id: each.end_s for each in met}
    acts = list[Act]()
    waits = [Wait(a.act.id, b.act.id, 0.0, None, "one after another") for a, b in pairwise(met)]
    for each in met:
        act = each.act
        for limit in each.opens:
            if limit.since and limit.t_s is not None:
                waits.append(Wait(limit.since, act.id, max(0.0, limit.t_s - ends[limit.since]), None, limit.why))
            else:
                act = _no_sooner(act, limit)
        for limit in each.closes:
            if limit.since and limit.t_s is not None:
                waits.append(Wait(limit.since, act.id, 0.0, max(0.0, limit.t_s - ends[limit.since]), limit.why))
            else:
                act = _no_later(act, limit)
        acts.append(act)
    return acts, waits


def _no_sooner(act: Act, limit: Limit) -> Act:
    """An act that begins no sooner than what has happened lets it."""
    t_s = float("inf") if limit.t_s is None else limit.t_s
    return (
        act if act.earliest_s is not None and act.earliest_s >= t_s else replace(act, earliest_s=t_s, opens=limit.why)
    )


def _no_later(act: Act, limit: Limit) -> Act:
    """An act that begins no later than what has happened lets it."""
    if limit.t_s is None or (act.latest_s is not None and act.latest_s <= limit.t_s):
        return act
    return replace(act, latest_s=limit.t_s, closes=limit.why)


@dataclass(frozen=True)
class Missed:
    """A window that a plan does not keep by the exact clock: which act, by how long [s], whether it began too early,
    why.
    """

    act: Act
    by_s: float
    early: bool
    why: str


def missed(met: Sequence[Met], slack_s: float = 60.0) -> list[Missed]:
    """What a walk at planned hours misses; up to slack_s [s] is let pass."""
    found = []
    for each in met:
        for limit in each.opens:
            by = float("inf") if limit.t_s is None else limit.t_s - each.begin_s
            if by > slack_s:
                found.append(Missed(each.act, by, True, limit.why))
        for limit in each.closes:
            if limit.t_s is not None and each.begin_s - limit.t_s > slack_s:
                found.append(Missed(each.act, each.begin_s - limit.t_s, False, limit.why))
    return found
