"""A plan by listing: what closes first is put first, as soon as it goes. The solver's plain rival, and its first plan.

Acts that a longest wait ties together are placed as one: where the last would miss its window the first begins later.
"""

from bisect import insort
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from ..air.sun import Span
from .bounds import in_order, waits_before
from .coating_day import without
from .work import Act, Placed, Plan, Shop, Wait

WaitsAt = Callable[[Wait, Placed], tuple[float, float | None]]
"""(least, most [s]) of a wait after an act that lies there."""
TRIES = 4000
"""So often is a block tried later."""
NEVER_S = float("inf")


def as_told(wait: Wait, _placed: Placed) -> tuple[float, float | None]:
    """A wait that takes as long whenever it begins."""
    return wait.least_s, wait.most_s


class _Busy:
    """Stretches [epoch s] that are taken, in order."""

    def __init__(self, spans: Sequence[Span] = ()) -> None:
        self.spans = sorted(spans)

    def free_from(self, begin: float, length: float) -> float:
        """The first begin from a moment on that leaves a length free."""
        for a, b in self.spans:
            if b <= begin + 1e-6:
                continue
            if a >= begin + length - 1e-6:
                break
            begin = b
        return begin

    def take(self, a: float, b: float) -> None:
        """Take a stretch."""
        if b > a:
            insort(self.spans, (a, b))

    def give(self, a: float, b: float) -> None:
        """Give it back."""
        if b > a:
            self.spans.remove((a, b))


@dataclass
class _Stop(Exception):
    """No place was found."""

    act: str


class Listing:
    """One listing of a shop's acts."""

    def __init__(self, shop: Shop, waits: Sequence[Wait], at: WaitsAt = as_told) -> None:
        self.shop, self.at = shop, at
        self.before = waits_before(shop, waits)
        self.after: dict[str, list[Wait]] = {a.id: [] for a in shop.acts}
        for wait in waits:
            self.after[wait.before].append(wait)
        whole = (shop.start_s, shop.end_s)
        self.people = {p.name: _Busy(without([whole], p.there)) for p in shop.crew}
        self.things = {name: [_Busy(thing.shut) for _ in range(thing.count)] for name, thing in shop.things.items()}
        self.air = {key: _Busy(spans) for key, spans in shop.closed.items()}
        self.dust: dict[str, _Busy] = {}
        self.film: dict[str, _Busy] = {}
        self.lies: dict[tuple[str, str], _Busy] = {}
        self.rows: dict[str, Placed] = {}
        self.taken: dict[str, list[tuple[_Busy, float, float]]] = {}
        self.tails = self._tails()

    def _tails(self) -> dict[str, float]:
        """How long the work after each act takes at least [s]."""
        found: dict[str, float] = {}

        def of(act: str) -> float:
            if act not in found:
                found[act] = 0.0
                rest = [w.least_s + of(w.after) for w in self.after[act]]
                found[act] = self.shop.by_id[act].work_s + max(rest, default=0.0)
            return found[act]

        for act in self.shop.acts:
            of(act.id)
        return found

    def run(self) -> Plan | None:
        """The plan, None where some act finds no place that keeps its windows."""
        blocks = self._blocks()
        left = dict(enumerate(blocks))
        while left:
            ready = [i for i, block in left.items() if self._is_ready(block)]
            if not ready:
                return None  # a ring of waits
            i = min(ready, key=lambda i: self._turn(left[i]))
            try:
                self._place(left.pop(i))
            except _Stop:
                return None
        return Plan(dict(self.rows))

    def _blocks(self) -> list[list[Act]]:
        """Acts that a longest wait ties together, or a pot, in their order; every other by itself."""
        group = {a.id: a.id for a in self.shop.acts}

        def head(act: str) -> str:
            while group[act] != act:
                act = group[act]
            return act

        tied = [(w.before, w.after) for waits in self.before.values() for w in waits if w.most_s is not None]
        tied += [(pot.acts[0], act) for pot in self.shop.pots for act in pot.acts[1:]]
        for a, b in tied:
            group[head(b)] = head(a)
        found: dict[str, list[Act]] = {}
        for each in in_order(self.shop, self.before):
            found.setdefault(head(each.id), []).append(each)
        return list(found.values())

    def _is_ready(self, block: Sequence[Act]) -> bool:
        mine = {a.id for a in block}
        return all(w.before in self.rows or w.before in mine for a in block for w in self.before[a.id])

    def _turn(self, block: Sequence[Act]) -> tuple[float, float, float]:
        """What closes first, then what is due first less the work after it, comes first."""
        act = block[0]
        close = min((self._limits(a)[1] for a in block), default=float("inf"))
        due = self.shop.due.get(act.job, self.shop.end_s) - self.tails[act.id]
        pinned = 0.0 if any(a.pinned_s is not None for a in block) else 1.0
        return pinned, close, due

    def _limits(self, act: Act) -> tuple[float, float]:
        """(from, until [epoch s]) of an act's begin by what is placed already."""
        low, high = act.earliest_s or self.shop.start_s, act.latest_s if act.latest_s is not None else float("inf")
        low = max(low, self.shop.start_s)
        for wait in self.before[act.id]:
            if wait.before in self.rows:
                row = self.rows[wait.before]
                least, most = self.at(wait, row)
                low = max(low, row.end_s + least)
                if most is not None:
                    high = min(high, row.end_s + most)
        if act.pinned_s is not None:
            low, high = act.pinned_s, act.pinned_s + self.shop.grid_s
        return low, high

    def _place(self, block: Sequence[Act]) -> None:
        """Place a block as early as it goes, its first act later where a later one would miss its window."""
        from_s = self.shop.start_s
        for _ in range(TRIES):
            missed = self._try(block, from_s)
            if not missed:
                return
            first = self.begun
            for act in block:
                self._give(act.id)
            if first is None:
                break
            from_s = first + 3 * self.shop.grid_s
        raise _Stop(block[0].id)

    def _try(self, block: Sequence[Act], from_s: float) -> bool:
        """Place a block from a moment [epoch s] on; True if some act misses its window. begun: when its first begins,
        None where that finds no place.
        """
        self.begun: float | None = None
        try:
            for act in block:
                low, high = self._limits(act)
                begin = self._first(act, max(low, from_s) if act is block[0] else low, high)
                self.begun = begin if self.begun is None else self.begun
                self._take(act, begin)
        except _Stop:
            return True
        return not self._pots_hold(block)

    def _pots_hold(self, block: Sequence[Act]) -> bool:
        mine = {a.id for a in block}
        for pot in self.shop.pots:
            if mine & set(pot.acts):
                rows = [self.rows[a] for a in pot.acts if a in self.rows]
                if max(r.end_s for r in rows) - min(r.begin_s for r in rows) > pot.life_s:
                    return False
        return True

    def _first(self, act: Act, low: float, high: float) -> float:
        """The first begin from a moment [epoch s] on that has hands, things and air. Raises _Stop past its latest."""
        begin = self._on_grid(low)
        while begin <= high + 1e-6 and begin + act.work_s <= self.shop.end_s:
            later = self._clash(act, begin)
            if later <= begin + 1e-6:
                return begin
            begin = self._on_grid(later)
        raise _Stop(act.id)

    def _on_grid(self, t_s: float) -> float:
        steps = -(-(t_s - self.shop.start_s - 1e-6) // self.shop.grid_s)
        return self.shop.start_s + steps * self.shop.grid_s

    def _clash(self, act: Act, begin: float) -> float:
        """From when an act could begin by each thing that it needs, at the latest of them [epoch s]."""
        found = [begin]
        if act.hands and act.work_s:
            found.append(min((b.free_from(begin, act.work_s) for b in self.people.values()), default=NEVER_S))
        for name in {*act.uses, *act.holds} & self.things.keys():
            length = self._held(act, name)
            found.append(min(busy.free_from(begin, length) for busy in self.things[name]))
        for busy, length in self._beside(act):
            found.append(busy.free_from(begin, length))
        return max(found)

    def _held(self, act: Act, name: str) -> float:
        """How long an act takes a thing up [s]."""
        return act.work_s + (act.then_s if name in act.holds else 0.0)

    def _beside(self, act: Act) -> Iterator[tuple[_Busy, float]]:
        """What an act keeps clear of besides hands and things, and for how long [s]."""
        if act.air in self.air:
            yield self.air[act.air], act.work_s + act.then_s
        for (job, position), busy in self.lies.items() if act.position else ():
            if job == act.job and position != act.position:
                yield busy, act.work_s + act.tacky_s + self.shop.turn_s
        if act.dusty and act.place in self.film:
            yield self.film[act.place], act.work_s
        if act.tacky_s and act.place in self.dust:
            yield self.dust[act.place], act.work_s + act.tacky_s

    def _take(self, act: Act, begin: float) -> None:
        end, taken, who = begin + act.work_s, list[tuple[_Busy, float, float]](), ""
        if act.hands and act.work_s:
            who = self._who(act, begin)
            taken.append((self.people[who], begin, end))
        for name in {*act.uses, *act.holds} & self.things.keys():
            length = self._held(act, name)
            one = next(b for b in self.things[name] if b.free_from(begin, length) <= begin + 1e-6)
            taken.append((one, begin, begin + length))
        if act.position:
            lies = self.lies.setdefault((act.job, act.position), _Busy())
            taken.append((lies, begin, end + act.tacky_s + self.shop.turn_s))
        if act.dusty:
            taken.append((self.dust.setdefault(act.place, _Busy()), begin, end))
        if act.tacky_s:
            taken.append((self.film.setdefault(act.place, _Busy()), begin, end + act.tacky_s))
        for busy, a, b in taken:
            busy.take(a, b)
        self.taken[act.id], self.rows[act.id] = taken, Placed(act.id, begin, end, who)

    def _who(self, act: Act, begin: float) -> str:
        """Who is free for an act, whoever did what came before it first."""
        last = next((self.rows[w.before].who for w in self.before[act.id] if w.before in self.rows), "")
        free = [n for n, busy in self.people.items() if busy.free_from(begin, act.work_s) <= begin + 1e-6]
        return last if last in free else free[0]

    def _give(self, act: str) -> None:
        for busy, a, b in self.taken.pop(act, ()):
            busy.give(a, b)
        self.rows.pop(act, None)


def listed(shop: Shop, waits: Sequence[Wait], at: WaitsAt = as_told) -> Plan | None:
    """A plan of a shop by listing, None where it finds none."""
    return Listing(shop, waits, at).run()
