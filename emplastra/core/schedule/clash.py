"""Why a window cannot be kept: the smallest set of things that clash, found by leaving each out in turn.

What always stands is the face's own work up to the act, in its order and with its least waits, and the window itself.
"""

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from ..air.sun import Span
from .bounds import anybody, open_for, rings, waits_before
from .coating_day import joined, without
from .solver import Asked, solve
from .work import Act, Person, Pot, Shop, Shut, Wait

CHECK_S = 2.0
"""How long it is tried whether a part of the shop can be planned [s]."""
NEAR_S = 36 * 3600.0
"""How far past its window a window's reasons are looked for [s]."""


@dataclass(frozen=True)
class Reason:
    """One thing that clashes with a window: kind "hours" (nobody is there), "away" (who), "air", "thing" (its name),
    "face" (another face's work), "pot" (its name: coats that come from one), "fixed" (an act that was fixed), "window"
    (another window of the same face); span: from when to when [epoch s], where it is a stretch.
    """

    kind: str
    what: str = ""
    span: Span | None = None


def smallest(shop: Shop, waits: Sequence[Wait], act: Act, given_up: Collection[str] = ()) -> list[Reason] | None:
    """The smallest set of reasons why the windows of an act cannot be kept; None if they can be, by all that is told.

    Smallest: with any one of them gone the window can be kept. given_up: other acts whose windows are missed anyhow.
    """
    lost = set(given_up) - {act.id}
    acts = tuple(replace(a, latest_s=None) if a.id in lost else a for a in shop.acts)
    waits = [replace(w, most_s=None) if w.after in lost else w for w in waits]
    made = _Part(replace(shop, acts=acts), waits, act)
    reasons = made.reasons()
    if made.can_be(reasons):
        return None
    if not made.can_be([]):
        return []
    return _explained(made, [], reasons, False)


def _explained(made: "_Part", base: list[Reason], rest: list[Reason], fresh: bool) -> list[Reason]:
    """The reasons among the rest that clash with those of the base: halves tried before singles (QuickXplain)."""
    if fresh and not made.can_be(base):
        return []
    if len(rest) == 1:
        return list(rest)
    half = len(rest) // 2
    first, second = rest[:half], rest[half:]
    found = _explained(made, [*base, *first], second, bool(first))
    return [*_explained(made, [*base, *found], first, bool(found)), *found]


class _Part:
    """The part of a shop that an act's window hangs on."""

    def __init__(self, shop: Shop, waits: Sequence[Wait], act: Act) -> None:
        self.shop, self.waits, self.act = shop, waits, act
        self.chain = self._before(act)
        self.until_s = shop.end_s if act.latest_s is None else min(shop.end_s, act.latest_s + NEAR_S)
        self.whole = (shop.start_s, shop.end_s)
        there = anybody(shop)
        self.gone = without([self.whole], there)
        self.away = [(person.name, span) for person in shop.crew for span in without(there, person.there)]
        self.known: dict[tuple[Reason, ...], bool] = {}

    def _before(self, act: Act) -> set[str]:
        """Ids of the act and of all that comes before it."""
        found, todo = set[str](), [act.id]
        while todo:
            at = todo.pop()
            if at not in found:
                found.add(at)
                todo += [w.before for w in self.waits if w.after == at]
        return found

    @cached_property
    def mine(self) -> list[Act]:
        """Acts of the chain."""
        return [a for a in self.shop.acts if a.id in self.chain]

    def reasons(self) -> list[Reason]:
        """All that could clash with the window, the plainest last: they are kept where one of several would do."""
        faces = dict.fromkeys(a.face for a in self.shop.acts if a.id not in self.chain)
        found = [Reason("face", face) for face in faces]
        found += [Reason("fixed", a.id) for a in self.mine if a.pinned_s is not None]
        found += [Reason("window", a) for a in sorted(self._windows() - {self.act.id})]
        found += self._places_and_air()
        found += [Reason("away", name, span) for name, span in self.away]
        found += [Reason("hours", "", span) for span in self.gone]
        return [r for r in found if r.span is None or r.span[0] < self.until_s]

    def _places_and_air(self) -> Iterator[Reason]:
        """Pots that the chain shares; stretches in which something that it uses is shut, or its air closed."""
        for pot in self.shop.pots:
            if not self._is_apart(pot):
                yield Reason("pot", pot.name)
        used = {name for a in self.mine for name in (*a.uses, *a.holds)} & self.shop.things.keys()
        for name in sorted(used):
            yield from (Reason("thing", name, span) for span in self.shop.things[name].shut)
        for key in sorted({a.air for a in self.mine} & self.shop.closed.keys()):
            yield from (Reason("air", key, span) for span in self.shop.closed[key])

    def _windows(self) -> set[str]:
        """Acts of the chain that some window closes on."""
        ends = {w.after for w in self.waits if w.most_s is not None and w.after in self.chain}
        return ends | {a.id for a in self.shop.acts if a.id in self.chain and a.latest_s is not None}

    def can_be(self, reasons: Sequence[Reason]) -> bool:
        """True if the window can be kept with only these reasons in force."""
        key = tuple(reasons)
        if key not in self.known:
            shop, waits = self._with(reasons)
            _, said = solve(shop, waits, Asked(CHECK_S, workers=1, feasible=True))
            self.known[key] = said != "infeasible"
        return self.known[key]

    def _with(self, reasons: Sequence[Reason]) -> tuple[Shop, list[Wait]]:
        """The shop and its waits with only these reasons in force."""
        faces, fixed, windows = (_what(reasons, kind) for kind in ("face", "fixed", "window"))
        windows |= {self.act.id}
        kept = [a for a in self.shop.acts if a.id in self.chain or a.face in faces]
        acts = tuple(self._act(a, fixed, windows) for a in kept)
        ids = {a.id for a in acts}
        kept_pots = _what(reasons, "pot")
        pots = tuple(p for p in self.shop.pots if set(p.acts) <= ids and (p.name in kept_pots or self._is_apart(p)))
        shop = replace(self.shop, acts=acts, crew=self._crew(reasons), things=self._things(reasons), pots=pots, due={})
        return replace(shop, closed=self._closed(reasons)), self._waits_among(ids, self.chain - windows)

    def _is_apart(self, pot: Pot) -> bool:
        """True for a pot of which no coat belongs to the chain."""
        return not self.chain & set(pot.acts)

    def _waits_among(self, ids: set[str], loose: set[str]) -> list[Wait]:
        """Waits among these acts, those of loose ones without an end."""
        waits = [w for w in self.waits if w.before in ids and w.after in ids]
        return [replace(w, most_s=None) if w.after in loose else w for w in waits]

    def _act(self, act: Act, fixed: set[str], windows: set[str]) -> Act:
        free = replace(act, wished_s=None, promised_s=None)
        if act.id in self.chain and act.id not in fixed:
            free = replace(free, pinned_s=None)
        return free if act.id in windows or act.id not in self.chain else replace(free, latest_s=None)

    def _crew(self, reasons: Sequence[Reason]) -> tuple[Person, ...]:
        """People as they are there with only these reasons in force; past what is looked at as they always are."""
        gone = [*_spans(reasons, "hours"), *(span for span in self.gone if span[0] >= self.until_s)]
        found = []
        for person in self.shop.crew or (Person("nobody", ()),):
            late = [span for name, span in self.away if name == person.name and span[0] >= self.until_s]
            away = [*_spans(reasons, "away", person.name), *late]
            found.append(Person(person.name, without([self.whole], joined([*gone, *away]))))
        return tuple(found)

    def _things(self, reasons: Sequence[Reason]) -> dict[str, Shut]:
        things = self.shop.things.items()
        return {name: Shut(thing.count, tuple(_spans(reasons, "thing", name))) for name, thing in things}

    def _closed(self, reasons: Sequence[Reason]) -> dict[str, tuple[Span, ...]]:
        told = {a.air: tuple(_spans(reasons, "air", a.air)) for a in self.mine}
        return {key: told.get(key, spans) for key, spans in self.shop.closed.items()}


def _what(reasons: Sequence[Reason], kind: str) -> set[str]:
    """What reasons of a kind are of."""
    return {r.what for r in reasons if r.kind == kind}


def _spans(reasons: Sequence[Reason], kind: str, what: str = "") -> list[Span]:
    """Stretches of reasons of a kind."""
    return [r.span for r in reasons if r.kind == kind and r.what == what and r.span is not None]


def impossible(shop: Shop, waits: Sequence[Wait]) -> list[tuple[Act, str]]:
    """Acts that no plan has room for, whatever else is done, and why: "ring", "nobody", "long", "air", "still"."""
    found = [(act, "ring") for act in rings(shop, waits_before(shop, waits))]
    return found + [(act, why) for act in shop.acts if (why := _no_room(shop, act))]


def _no_room(shop: Shop, act: Act) -> str:
    """Why there is no room for an act whatever else is done, "" where there is."""
    if act.earliest_s == float("inf"):
        return "still"
    if act.hands and not shop.crew:
        return "nobody"
    if act.hands and not any(b - a >= act.work_s for person in shop.crew for a, b in person.there):
        return "long"
    return "" if any(b - a >= act.work_s for a, b in open_for(shop, [act])) else "air"
