"""A plan by constraint programming (CP-SAT of OR-Tools): this module alone knows that package.

What comes first is settled first: no day late, then few changes to the plan that was taken, then an early end, then
each act as soon as it can be.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from itertools import combinations, product
from math import ceil, floor
from threading import Event, Thread
from time import monotonic
from typing import Any

from ..air.sun import Span
from .bounds import anybody, earliest, ends_no_sooner, open_for
from .coating_day import without
from .work import DAY_S, Act, Placed, Plan, Shop, Wait, kept

NEAR_S = 36 * 3600.0
"""What lies so long after the first change may move with it [s]."""
FIRST_SHARE = 0.8
"""So much of the time goes to a first plan at most."""
ASK_S = 0.3
"""So often is asked whether it is enough [s]."""
MARGIN_S, MARGIN_SHARE = 2 * 3600.0, 0.25
"""An act that begins in the last quarter of its window, at most so long before its end [s], counts like a change."""
WISH = 3
"""A wish weighs as much as so many acts that lie otherwise than promised."""
MANY_PAIRS = 6000
"""So many pairs of dust and tacky film are held apart one by one at most."""


@dataclass
class Better:
    """A plan as it was found: how late all jobs are together, how many acts lie otherwise than promised or are left to
    the last of their window, the sum of the jobs' lengths and its bound [s]; proven: none is shorter.
    """

    plan: Plan
    late_s: float
    moved: int
    length_s: float
    bound_s: float
    proven: bool = False

    @property
    def gap(self) -> float:
        """How much shorter a plan could be at most, as a share."""
        return max(0.0, 1.0 - self.bound_s / self.length_s) if self.length_s > 0 else 0.0


@dataclass
class Asked:
    """How the solver is to work: for so many seconds, with so many workers, until the gap is small enough (a share),
    from the plan in hand; seed makes it repeatable with one worker.
    """

    seconds: float = 20.0
    workers: int = 2
    gap: float = 0.0
    hint: Plan | None = None
    seed: int = 1
    feasible: bool = False
    """True: any plan will do, it is only asked whether there is one."""
    soft: bool = False
    """True: a window may be missed where it cannot be kept, as few of them as can be."""
    tell: Callable[[Better], None] = field(default=lambda better: None)
    enough: Callable[[], bool] = field(default=lambda: False)
    """Asked again and again: True stops the search with what was found."""


def _cp() -> Any:
    from ortools.sat.python import cp_model  # takes a second to load

    return cp_model


class Model:
    """The shop's constraints as CP-SAT takes them, in steps of its grid."""

    def __init__(self, shop: Shop, waits: Sequence[Wait], soft: bool = False) -> None:
        self.cp, self.shop, self.waits, self.soft = _cp(), shop, waits, soft
        self.missed: list[Any] = []
        self.tight: list[Any] = []
        self.there = anybody(shop)
        self.opens: dict[str, int] = {}
        for wait in waits:
            self.opens[wait.after] = max(self.opens.get(wait.after, 0), self.steps(wait.least_s))
        self.model = self.cp.CpModel()
        self.end = floor((shop.end_s - shop.start_s) / shop.grid_s)
        self.begin: dict[str, Any] = {}
        self.length: dict[str, int] = {}
        self.by_crew: dict[str, list[tuple[Any, int]]] = {}
        self._people()
        for act in shop.acts:
            self._act(act)
        self._hands()
        self._things()
        self._air()
        self._pots()
        self._apart()
        self._turned()
        for wait in waits:
            self._wait(wait)

    def up(self, t_s: float) -> int:
        """A moment [epoch s] on the grid, not before it."""
        return ceil((t_s - self.shop.start_s) / self.shop.grid_s - 1e-9)

    def down(self, t_s: float) -> int:
        """A moment [epoch s] on the grid, not after it."""
        return floor((t_s - self.shop.start_s) / self.shop.grid_s + 1e-9)

    def steps(self, length_s: float) -> int:
        """How many steps of the grid a length takes [s]."""
        return ceil(length_s / self.shop.grid_s - 1e-9)

    def _people(self) -> None:
        whole = (self.shop.start_s, self.shop.end_s)
        self.crews = [(self._fixed(without([whole], there)), who) for there, who in self.shop.crews]

    def _fixed(self, spans: Sequence[Span]) -> list[tuple[int, int]]:
        """Stretches as steps of the grid, widened to whole ones, within the model."""
        rows = [(max(0, self.down(a)), min(self.end, self.up(b))) for a, b in spans]
        return [(a, b) for a, b in rows if b > a]

    def _act(self, act: Act) -> None:
        length = self.length[act.id] = self.steps(act.work_s)
        low, high = 0, self.end - length
        if act.earliest_s is not None:
            low = max(low, self.up(act.earliest_s))
        if act.latest_s is not None and not self.soft:
            high = min(high, self.down(act.latest_s))
        if act.pinned_s is not None:
            low = high = max(0, self.down(act.pinned_s))
        if low > high:
            low, high = self._empty(act, low, high)
        self.begin[act.id] = self.model.new_int_var(low, high, act.id)
        if act.latest_s is not None and self.soft:
            self._no_later(self.begin[act.id], self.down(act.latest_s), 0)
        if act.latest_s is not None:
            last = self._last_hours(act, act.latest_s)
            self._early_enough(self.begin[act.id], last, last - low)

    def _last_hours(self, act: Act, latest_s: float) -> int:
        """The last begin of an act within somebody's hours that keeps its latest [epoch s], on the grid."""
        fits = [min(b - act.work_s, latest_s) for a, b in self.there if a <= latest_s and b - a >= act.work_s]
        return self.down(max(fits, default=latest_s))

    def _empty(self, act: Act, low: int, high: int) -> tuple[int, int]:
        """Where no begin is left: the model cannot be kept, and says so when it is solved."""
        self.model.add_bool_or([])
        return min(low, self.end), max(low, self.end)

    def span(self, act: Act, after_s: float = 0.0, name: str = "") -> Any:
        """An act with what follows it [s] as an interval."""
        length = self.length[act.id] + self.steps(after_s)
        return self.model.new_fixed_size_interval_var(self.begin[act.id], length, f"{act.id}{name}")

    def _hands(self) -> None:
        """One person for each act that takes hands, while they are there."""
        asked = [act for act in self.shop.acts if act.hands and self.length[act.id]]
        if asked and not self.crews:
            self.model.add_bool_or([])
        for i, (gone, who) in enumerate(self.crews):
            spans = [self._done_by(act, i) for act in asked]
            fixed = [self.model.new_fixed_size_interval_var(a, b - a, "gone") for a, b in gone]
            demands = [1] * len(spans) + [len(who)] * len(fixed)
            self.model.add_cumulative([*spans, *fixed], demands, len(who))
        for choices in self.by_crew.values():
            self.model.add_exactly_one([does for does, _ in choices])

    def _done_by(self, act: Act, i: int) -> Any:
        """An act's interval as one of the people of group i does it."""
        if len(self.crews) == 1:
            return self.span(act)
        does, size = self.model.new_bool_var(f"{act.id}@{i}"), self.length[act.id]
        self.by_crew.setdefault(act.id, []).append((does, i))
        return self.model.new_optional_fixed_size_interval_var(self.begin[act.id], size, does, f"{act.id}@{i}")

    def _things(self) -> None:
        for name, thing in self.shop.things.items():
            spans = [
                self.span(act, act.then_s if name in act.holds else 0.0, name)
                for act in self.shop.acts
                if name in act.uses or name in act.holds
            ]
            fixed = [self.model.new_fixed_size_interval_var(a, b - a, name) for a, b in self._fixed(thing.shut)]
            if not spans:
                continue
            if thing.count == 1:
                self.model.add_no_overlap([*spans, *fixed])
                self._worked_one_by_one(name)
            else:
                demands = [1] * len(spans) + [thing.count] * len(fixed)
                self.model.add_cumulative([*spans, *fixed], demands, thing.count)

    def _worked_one_by_one(self, name: str) -> None:
        """The same of the work alone, with the hours in which nobody could: it follows, and narrows the search."""
        acts = [a for a in self.shop.acts if (name in a.uses or name in a.holds) and self.length[a.id]]
        shut = without([(self.shop.start_s, self.shop.end_s)], open_for(self.shop, acts))
        fixed = [self.model.new_fixed_size_interval_var(a, b - a, name) for a, b in self._fixed(shut)]
        self.model.add_no_overlap([*(self.span(a, 0.0, f"{name} work") for a in acts), *fixed])

    def _air(self) -> None:
        """Closed stretches of the air as fixed intervals: as many acts as like may be on at once, none meanwhile."""
        by_air: dict[str, list[Act]] = {}
        for act in self.shop.acts:
            if act.air and self.shop.closed.get(act.air):
                by_air.setdefault(act.air, []).append(act)
        for key, acts in by_air.items():
            fixed = [
                self.model.new_fixed_size_interval_var(a, b - a, key) for a, b in self._fixed(self.shop.closed[key])
            ]
            spans = [self.span(act, act.then_s, "air") for act in acts]
            demands = [1] * len(spans) + [len(spans)] * len(fixed)
            self.model.add_cumulative([*spans, *fixed], demands, len(spans))

    def _pots(self) -> None:
        for pot in self.shop.pots:
            life = floor(pot.life_s / self.shop.grid_s + 1e-9)
            for first in pot.acts:
                for last in pot.acts:
                    if first != last:
                        self.model.add(self.begin[last] + self.length[last] - self.begin[first] <= life)

    def _apart(self) -> None:
        """No dry sanding beside a tacky film of one place."""
        for acts in self.shop.by_place.values():
            films, dusts = [a for a in acts if a.tacky_s], [a for a in acts if a.dusty]
            tacky, dust = [self.span(a, a.tacky_s, "tacky") for a in films], [self.span(a, 0.0, "dust") for a in dusts]
            if len(films) * len(dusts) > MANY_PAIRS:
                # Dust is then made by one at a time, which is stricter than it need be.
                demands = [1] * len(films) + [len(films)] * len(dusts)
                self.model.add_cumulative([*tacky, *dust], demands, len(films))
                continue
            for (film, x), (sanding, y) in product(zip(films, tacky, strict=True), zip(dusts, dust, strict=True)):
                if film.face != sanding.face:  # on one face they wait for each other anyhow
                    self.model.add_no_overlap([x, y])

    def _turned(self) -> None:
        """A piece lies one way at a time, and is not turned on a film that is tacky."""
        for acts in self.shop.by_lie.values():
            spans = {a.id: self.span(a, a.tacky_s + self.shop.turn_s, "lies") for a in acts}
            for a, b in combinations(acts, 2):
                if a.position != b.position:
                    self.model.add_no_overlap([spans[a.id], spans[b.id]])

    def _wait(self, wait: Wait) -> None:
        gap = self.begin[wait.after] - self.begin[wait.before] - self.length[wait.before]
        self.model.add(gap >= self.steps(wait.least_s))
        if wait.most_s is not None:
            # The act ends on the grid, at its end or a little later: what is left then counts.
            lost = self.length[wait.before] * self.shop.grid_s - self.shop.by_id[wait.before].work_s
            most = floor((wait.most_s - lost) / self.shop.grid_s + 1e-9)
            self._no_later(gap, most, most - self.opens.get(wait.after, 0))

    def _early_enough(self, what: Any, limit: int, width: int) -> None:
        """An act is better not left to the last of its window, so many steps wide: it is counted where it is."""
        margin = min(self.steps(MARGIN_S), int(MARGIN_SHARE * width))
        if margin > 0:
            tight = self.model.new_bool_var(f"tight {len(self.tight)}")
            self.model.add(what <= limit - margin).only_enforce_if(tight.negated())
            self.tight.append(tight)

    def _no_later(self, what: Any, limit: int, width: int) -> None:
        """A window's end: kept, or counted where it is missed."""
        bound = self.model.add(what <= limit)
        self._early_enough(what, limit, width)
        if self.soft:
            missed = self.model.new_bool_var(f"missed {len(self.missed)}")
            bound.only_enforce_if(missed.negated())
            self.missed.append(missed)

    def hint(self, plan: Plan) -> None:
        """Begin from a plan in hand."""
        self.model.clear_hints()
        for act, var in self.begin.items():
            self.model.add_hint(var, self.down(plan[act].begin_s))
            for does, i in self.by_crew.get(act, ()):
                names = {person.name for person in self.crews[i][1]}
                self.model.add_hint(does, plan[act].who in names)

    def plan(self, value: Callable[[Any], int]) -> Plan:
        """The plan that the variables' values are, with names put to the hands."""
        rows = {}
        for act in self.shop.acts:
            begin = self.shop.start_s + value(self.begin[act.id]) * self.shop.grid_s
            rows[act.id] = Placed(act.id, begin, begin + act.work_s)
        for i, (_, who) in enumerate(self.crews):
            mine = [act for act in self.shop.acts if act.hands and self._is_of(act, i, value)]
            for key, name in _named(mine, rows, [person.name for person in who]).items():
                rows[key] = replace(rows[key], who=name)
        return Plan(rows)

    def _is_of(self, act: Act, i: int, value: Callable[[Any], int]) -> bool:
        """True if somebody of group i does an act."""
        return next((n == i for does, n in self.by_crew.get(act.id, ()) if value(does)), i == 0)


def _named(acts: Sequence[Act], rows: Mapping[str, Placed], names: Sequence[str]) -> dict[str, str]:
    """{act: who does it} of people who are there at the same hours: whoever has been free for the shortest time and
    was at that face last comes first. A free one is always left, as no more run at once than there are people.
    """
    free = dict.fromkeys(names, float("-inf"))
    last: dict[str, str] = {}
    found = {}
    for act in sorted(acts, key=lambda a: (rows[a.id].begin_s, rows[a.id].end_s)):
        row = rows[act.id]
        able = [name for name in names if free[name] <= row.begin_s + 1e-6] or list(names)
        name = max(able, key=lambda n: (last.get(act.face) == n, free[n], -names.index(n)))
        free[name], last[act.face], found[act.id] = row.end_s, name, name
    return found


class _Watch:
    """Tells every better plan as it is found."""

    def __init__(self, made: "Solve", asked: Asked) -> None:
        self.made, self.asked = made, asked

    def callback(self) -> Any:
        made, cp = self.made, self.made.model.cp

        class Callback(cp.CpSolverSolutionCallback):  # type: ignore[name-defined]
            def on_solution_callback(self) -> None:
                made.found(self.value, self.best_objective_bound)

        return Callback()


class Solve:
    """The search for one shop: aims one after another, each held once it is settled."""

    def __init__(self, shop: Shop, waits: Sequence[Wait], asked: Asked) -> None:
        self.shop, self.asked = shop, asked
        self.model = Model(shop, waits, asked.soft)
        self.best: Better | None = None
        self.until, self.stage = monotonic() + asked.seconds, ""
        self._aims()
        if asked.hint is not None:
            self.model.hint(asked.hint)
            self._no_longer_than(asked.hint)

    def _no_longer_than(self, plan: Plan) -> None:
        """A plan in hand that keeps all is the first; nothing is made longer, unless a promise asks for it."""
        if self.asked.soft or kept(self.shop, self.model.waits, plan):
            return
        ends, moved = plan.ends(self.shop), len(plan.moved(self.shop)) + WISH * len(plan.unwished(self.shop))
        length_s = sum(ends.values()) - len(ends) * self.shop.start_s
        self.best = Better(plan, plan.late_s(self.shop), moved, length_s, self.floor_s)
        if not any(a.promised_s is not None or a.wished_s is not None for a in self.shop.acts):
            self.model.model.add(self.length <= sum(self.model.up(t_s) for t_s in ends.values()))

    def _aims(self) -> None:
        m, model = self.model, self.model.model
        jobs: dict[str, list[Act]] = {}
        for act in self.shop.acts:
            jobs.setdefault(act.job, []).append(act)
        heads, self.ends, late, self.floor_s = earliest(self.shop, m.waits), {}, [], 0.0
        for job, acts in jobs.items():
            end = self.ends[job] = model.new_int_var(0, m.end, f"end {job}")
            model.add_max_equality(end, [m.begin[a.id] + m.length[a.id] for a in acts])
            soonest = ends_no_sooner(self.shop, acts, heads)
            model.add(end >= m.up(soonest))
            self.floor_s += soonest - self.shop.start_s
            if job in self.shop.due:
                over = model.new_int_var(0, m.end + max(0, -m.down(self.shop.due[job])), f"late {job}")
                model.add(over >= end - m.down(self.shop.due[job]))
                late.append(over)
        moved = [self._moved(act, act.promised_s) for act in self.shop.acts if act.promised_s is not None]
        wished = [WISH * self._moved(act, act.wished_s) for act in self.shop.acts if act.wished_s is not None]
        self.late, self.moved = sum(late), sum(moved) + sum(wished) + sum(m.tight)
        self.has_promised = bool(moved or wished)
        self.has_late, self.has_moved = bool(late), bool(moved or wished or m.tight)
        self.length = sum(self.ends.values())
        self.starts = sum(m.begin.values())

    def _moved(self, act: Act, at_s: float) -> Any:
        """1 where an act lies half a day or more from where it was promised [epoch s]."""
        m, at = self.model, self.model.down(at_s)
        half = max(1, int(DAY_S / 2 / self.shop.grid_s) - 1)
        moved = m.model.new_bool_var(f"moved {act.id}")
        m.model.add(m.begin[act.id] >= at - half).only_enforce_if(moved.negated())
        m.model.add(m.begin[act.id] <= at + half).only_enforce_if(moved.negated())
        return moved

    def found(self, value: Callable[[Any], int], bound: float = 0.0) -> None:
        """A plan was found: keep it, tell it."""
        plan, grid = self.model.plan(value), self.shop.grid_s
        length = sum(value(end) for end in self.ends.values()) * grid
        bound_s = bound * grid if self.stage == "length" else (self.best.bound_s if self.best else 0.0)
        late = value(self.late) * grid if self.has_late else 0.0
        proven = self.stage == "starts" and self.best is not None and self.best.proven
        moved = value(self.moved) if self.has_moved else 0
        self.best = Better(plan, late, moved, length, bound_s, proven)
        self.asked.tell(self.best)

    def run(self) -> tuple[Better | None, str]:
        """The best plan, None if there is none; "feasible", "infeasible", "unknown"."""
        if self.asked.feasible:
            self.stage = "any"
            return self.best, self._stage(0, self.asked.seconds)
        for stage, wanted, share in self._stages():
            self.stage, left = stage, self.until - monotonic()
            if self.best is not None and (left <= 0.05 or self.asked.enough()):
                break
            said = self._stage(wanted, max(0.2, left * (share if self.best is not None else FIRST_SHARE)))
            if said != "feasible" and self.best is None:
                return None, said
        return self.best, "feasible"

    def _stages(self) -> Iterator[tuple[str, Any, float]]:
        """Aims in their order: name, what is to be small, the share of the time that is left."""
        if self.model.missed:
            yield "missed", sum(self.model.missed), 0.4
        if self.has_late:
            yield "late", self.late, 0.3
        if self.has_moved:
            yield "moved", self.moved, 0.5 if self.has_promised else 0.15
        yield "length", self.length, 0.8
        yield "starts", self.starts, 1.0

    def _stage(self, wanted: Any, seconds: float) -> str:
        cp, model = self.model.cp, self.model.model
        solver = cp.CpSolver()
        p = solver.parameters
        p.max_time_in_seconds, p.num_workers, p.random_seed = seconds, self.asked.workers, self.asked.seed
        if self.stage == "length" and self.asked.gap:
            p.relative_gap_limit = self.asked.gap
        if self.stage != "any":
            model.minimize(wanted)
        with self._until_enough(solver):
            status = solver.solve(model, _Watch(self, self.asked).callback())
        if status == cp.INFEASIBLE:
            return "infeasible"
        if status not in {cp.OPTIMAL, cp.FEASIBLE}:
            return "unknown"
        if self.stage == "any":
            return "feasible"
        assert self.best is not None
        if self.stage == "length":
            self.best.bound_s = solver.best_objective_bound * self.shop.grid_s
            self.best.proven = status == cp.OPTIMAL
        model.add(wanted <= int(solver.value(wanted)))
        self.model.hint(self.best.plan)
        return "feasible"

    @contextmanager
    def _until_enough(self, solver: Any) -> Iterator[None]:
        """Stop a search as soon as somebody says that it is enough."""
        over = Event()

        def watch() -> None:
            while not over.wait(ASK_S):
                if self.best is not None and self.asked.enough():
                    solver.stop_search()
                    return

        thread = Thread(target=watch, daemon=True)
        thread.start()
        try:
            yield
        finally:
            over.set()
            thread.join()


def solve(shop: Shop, waits: Sequence[Wait], asked: Asked) -> tuple[Better | None, str]:
    """The best plan of a shop within the time asked; None with "infeasible" or "unknown" where none was found."""
    return Solve(shop, waits, asked).run()


def near(shop: Shop, waits: Sequence[Wait], asked: Asked) -> Plan | None:
    """A plan that leaves what was promised where it is, but for faces that cannot stay there and what lies in the day
    and a half after the first of them; None where that is not enough, or nothing has changed. It is found at once.
    """
    broken = {a.id for a in shop.acts if not _may_stay(a, shop)}
    broken |= {wait.after for wait in waits if not _still_holds(shop, wait)}
    if not broken:
        return None
    faces = {shop.by_id[act].face for act in broken}
    from_s = min(_lies(shop.by_id[act], shop) for act in broken)
    acts = tuple(
        a if a.face in faces or _lies(a, shop) < from_s + NEAR_S else replace(a, pinned_s=a.promised_s, promised_s=None)
        for a in shop.acts
    )
    better, _ = solve(replace(shop, acts=acts), waits, replace(asked, hint=None))
    return better.plan if better is not None else None


def _lies(act: Act, shop: Shop) -> float:
    """Where an act begins as it is promised or fixed [epoch s], at the shop's start where neither is told."""
    told = [t_s for t_s in (act.promised_s, act.pinned_s) if t_s is not None]
    return max(shop.start_s, min(told, default=shop.start_s))


def _still_holds(shop: Shop, wait: Wait) -> bool:
    """True for a wait that is kept where its acts are promised or fixed, or of which one is neither."""
    before, after = shop.by_id[wait.before], shop.by_id[wait.after]
    ends = before.pinned_s if before.pinned_s is not None else before.promised_s
    begins = after.pinned_s if after.pinned_s is not None else after.promised_s
    if begins is None or ends is None:
        return True
    gap = begins - ends - before.work_s
    return gap >= wait.least_s - shop.grid_s and (wait.most_s is None or gap <= wait.most_s + shop.grid_s)


def _may_stay(act: Act, shop: Shop) -> bool:
    """True for an act that was promised, and may still begin then by what has happened."""
    at = act.promised_s
    if at is None or at < shop.start_s or (act.earliest_s is not None and at < act.earliest_s):
        return False
    return (act.latest_s is None or at <= act.latest_s) and (act.pinned_s is None or abs(at - act.pinned_s) < 1.0)
