"""How soon a shop's work could end at best, whatever the plan: by hands, by things, by each chain of acts."""

import itertools
from collections.abc import Mapping, Sequence

from ..air.sun import Span
from .coating_day import joined, without
from .work import Act, Shop, Wait


def meets(some: Sequence[Span], others: Sequence[Span]) -> tuple[Span, ...]:
    """Stretches that lie in both."""
    found, j = list[Span](), 0
    rows = sorted(others)
    for a, b in sorted(some):
        while j and rows[j - 1][1] > a:
            j -= 1
        while j < len(rows) and rows[j][0] < b:
            x, y = max(a, rows[j][0]), min(b, rows[j][1])
            if y > x:
                found.append((x, y))
            j += 1
        j = max(0, j - 1)
    return tuple(found)


def anybody(shop: Shop) -> tuple[Span, ...]:
    """Stretches [epoch s] in which somebody is there."""
    return joined([span for person in shop.crew for span in person.there])


def open_for(shop: Shop, acts: Sequence[Act]) -> tuple[Span, ...]:
    """Stretches [epoch s] in which any of these acts could be worked on by hands and air."""
    spans: tuple[Span, ...] = anybody(shop) if all(a.hands for a in acts) else ((shop.start_s, shop.end_s),)
    keys = {a.air for a in acts}
    if "" in keys:
        return spans
    shut = shop.closed.get(next(iter(keys)), ())
    for key in keys:
        shut = meets(shut, shop.closed.get(key, ()))
    return without(spans, shut)


def filled_s(windows: Sequence[Span], load_s: float, count: int, extra_s: float = 0.0) -> float:
    """When windows [epoch s] have taken a load [s] at the earliest, so many at once; each may run over by extra_s [s]
    with what goes on without hands.
    """
    for a, b in windows:
        room = count * (b - a + extra_s)
        if room >= load_s:
            return a + max(0.0, load_s / count - extra_s)
        load_s -= room
    return float("inf")


def earliest(shop: Shop, waits: Sequence[Wait]) -> dict[str, float]:
    """When each act could begin at the earliest [epoch s], by its own hands' hours and air and what comes before it."""
    before = waits_before(shop, waits)
    windows = {key: open_for(shop, [a]) for key, a in {(a.hands, a.air): a for a in shop.acts}.items()}
    found: dict[str, float] = {}
    for act in in_order(shop, before):
        low = max(shop.start_s, act.earliest_s or shop.start_s)
        for wait in before[act.id]:
            if wait.before in found:
                low = max(low, found[wait.before] + shop.by_id[wait.before].work_s + wait.least_s)
        found[act.id] = _fits(windows[act.hands, act.air], low, act.work_s)
    return found


def waits_before(shop: Shop, waits: Sequence[Wait]) -> dict[str, list[Wait]]:
    """{act: the waits that end in it}."""
    before: dict[str, list[Wait]] = {a.id: [] for a in shop.acts}
    for wait in waits:
        before[wait.after].append(wait)
    return before


def in_order(shop: Shop, before: Mapping[str, Sequence[Wait]]) -> list[Act]:
    """Acts after all that comes before them; those of a ring last."""
    placed, done, left = list[Act](), set[str](), list(shop.acts)
    while left:
        ready = [a for a in left if all(w.before in done for w in before[a.id])]
        if not ready:
            return [*placed, *left]
        placed += ready
        done |= {a.id for a in ready}
        left = [a for a in left if a.id not in done]
    return placed


def rings(shop: Shop, before: Mapping[str, Sequence[Wait]]) -> list[Act]:
    """Acts that wait for each other in a ring, or hang on one."""
    done, placed = set[str](), in_order(shop, before)
    for act in placed:
        if all(w.before in done for w in before[act.id]):
            done.add(act.id)
    return [act for act in placed if act.id not in done]


def _fits(windows: Sequence[Span], low: float, length: float) -> float:
    """The first begin from a moment on within a window that holds a length."""
    for a, b in windows:
        begin = max(a, low)
        if begin + length <= b + 1e-6:
            return begin
    return low


def ends_no_sooner(shop: Shop, acts: Sequence[Act], heads: Mapping[str, float]) -> float:
    """When these acts could all be done at the earliest [epoch s]."""
    found = [shop.start_s, *(heads[a.id] + a.work_s for a in acts)]
    if shop.crew:
        windows = [span for person in shop.crew for span in person.there]
        found.append(_by_hands(windows, sum(a.work_s for a in acts if a.hands)))
    found += [_by_thing(shop, acts, name) for name in shop.things]
    return min(max(found), shop.end_s)


def _by_thing(shop: Shop, acts: Sequence[Act], name: str) -> float:
    """When something of which there is only so much has served these acts at the earliest [epoch s]."""
    users, thing = [a for a in acts if name in (*a.uses, *a.holds)], shop.things[name]
    if not users:
        return shop.start_s
    after = [a.then_s if name in a.holds else 0.0 for a in users]
    windows = without(open_for(shop, users), thing.shut)
    return filled_s(windows, sum(a.work_s for a in users) + sum(after), thing.count, max(after))


def _by_hands(windows: Sequence[Span], load_s: float) -> float:
    """When all hands' hours have taken a load [s] at the earliest [epoch s]."""
    if load_s <= 0:
        return float("-inf")
    edges = sorted({t for span in windows for t in span})
    for a, b in itertools.pairwise(edges):
        count = sum(x <= a and y >= b for x, y in windows)
        if count and count * (b - a) >= load_s:
            return a + load_s / count
        load_s -= count * (b - a)
    return float("inf")
