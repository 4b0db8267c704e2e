"""Days of work planned: solved, its waits told anew by the clock at the hours found, solved again; at the end every
window is held against the exact clock.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import partial
from time import monotonic

from .faces import FaceAsk, Met, Missed, Times, missed, waits_of_walk, walk
from .listing import listed
from .solver import WISH, Asked, Better, near, solve
from .work import Act, Plan, Pot, Shop, Wait, kept

ROUNDS = 4
NEAR_SHARE = 0.15
"""So much of the time goes to a plan close to the one that was taken at most."""
LEAST_S = 0.3
"""With less time left than this no other round is begun [s]."""
CAREFUL_FROM = 2
"""From this round on a wait counts as the longest, and a window as the shortest, that any round told."""


@dataclass(frozen=True)
class Days:
    """What is asked: faces, acts besides them (openings, trips), waits between faces, and the shop without its acts.

    pots: faces and steps that come from one pot, (face, step, coat) each, and its life [s].
    """

    faces: tuple[FaceAsk, ...]
    shop: Shop
    more: tuple[Act, ...] = ()
    links: tuple[Wait, ...] = ()
    pots: tuple[Pot, ...] = ()
    changed: Callable[[Act], Act] = lambda act: act
    """What was told of an act besides its plan: that it is fixed, wished, not before."""


@dataclass
class Found:
    """What came of planning: the plan (None: none), the shop and waits that it was made for, what it misses by the
    exact clock, how far it is from the best that could be; how: "solved", "listed"; said: "feasible", "infeasible",
    "unknown"; rounds it took.
    """

    shop: Shop
    waits: Sequence[Wait]
    plan: Plan | None
    said: str = "feasible"
    how: str = "solved"
    missed: list[Missed] = field(default_factory=list)
    better: Better | None = None
    rounds: int = 0
    mets: dict[str, Met] = field(default_factory=dict)


def shop_of(days: Days, mets: Sequence[Sequence[Met]]) -> tuple[Shop, list[Wait]]:
    """The shop with the acts of all faces as they were walked, and all waits; parts of a step follow each other."""
    acts, waits = list(days.more), list(days.links)
    for met in mets:
        more, between = waits_of_walk(met)
        acts += [days.changed(act) for act in more]
        waits += between
    ids = {act.id for act in acts}
    waits = [w for w in waits if w.before in ids and w.after in ids]
    pots = [replace(pot, acts=tuple(a for a in pot.acts if a in ids)) for pot in days.pots]
    return replace(days.shop, acts=tuple(acts), pots=tuple(p for p in pots if len(p.acts) > 1)), waits


def careful(now: Sequence[Wait], before: Sequence[Wait]) -> list[Wait]:
    """Waits as the more careful of two rounds told them."""
    was = {(w.before, w.after, w.why): w for w in before}
    found = []
    for wait in now:
        old = was.get((wait.before, wait.after, wait.why))
        if old is not None:
            most = [m for m in (wait.most_s, old.most_s) if m is not None]
            wait = replace(wait, least_s=max(wait.least_s, old.least_s), most_s=min(most) if most else None)
        found.append(wait)
    return found


def plan_days(
    days: Days, asked: Asked, tell: Callable[[str, Better | None], None] = lambda words, better: None
) -> Found:
    """Plan days of work.

    asked.seconds: for all rounds together; tell: (what is being done, the best plan so far).
    """
    until = monotonic() + asked.seconds
    tell("walking through the plans", None)
    shop, waits = shop_of(days, [walk(face) for face in days.faces])
    tell("a first plan, by what closes first", None)
    first = listed(shop, waits)
    best = _checked(days, shop, waits, first, "listed") if first is not None else None
    tell("what was planned, with what has changed", None)
    close = near(shop, waits, replace(asked, seconds=asked.seconds * NEAR_SHARE)) if _promised(shop) else None
    if close is not None:
        found = _checked(days, shop, waits, close, "solved")
        best, first = (found, close) if best is None or _worth(found) < _worth(best) else (best, first)
    start = first or _fitting(asked.hint, shop)
    if start is not None:
        shop, waits = shop_of(days, _walked(days, start))
    return _rounds(days, shop, waits, best, replace(asked, hint=start), until, tell)


def _rounds(
    days: Days,
    shop: Shop,
    waits: list[Wait],
    best: Found | None,
    asked: Asked,
    until: float,
    tell: Callable[[str, Better | None], None],
) -> Found:
    """Solve, tell the waits anew, solve again, until every window is kept or the time is up (monotonic s)."""
    hint, said = asked.hint, "unknown"
    for number in range(1, ROUNDS + 1):
        left = until - monotonic()
        if best is not None and (left < LEAST_S or asked.enough()):
            break
        seconds = max(0.5, left * 0.55 if number == 1 else left / (ROUNDS + 1 - number))
        words = f"round {number} of {ROUNDS} at most"
        ask = replace(asked, seconds=seconds, hint=_fitting(hint, shop), tell=partial(tell, words))
        better, said = solve(shop, waits, ask)
        if better is None:
            break
        found = _checked(days, shop, waits, better.plan, "solved", better, number)
        best = found if best is None else min(best, found, key=_worth)
        if not found.missed:
            break
        shop, now = shop_of(days, _walked(days, better.plan))
        waits, hint = careful(now, waits) if number >= CAREFUL_FROM else now, better.plan
    return best or _fewest_missed(days, shop, waits, replace(asked, seconds=max(0.5, until - monotonic())), said, tell)


def _fewest_missed(
    days: Days,
    shop: Shop,
    waits: Sequence[Wait],
    asked: Asked,
    said: str,
    tell: Callable[[str, Better | None], None],
) -> Found:
    """What is left where no plan keeps every window: the one that misses the fewest."""
    tell("no plan keeps every window: the fewest missed", None)
    better, _ = solve(shop, waits, replace(asked, soft=True, hint=_fitting(asked.hint, shop)))
    if better is None:
        return Found(shop, waits, None, said)
    return _checked(days, shop, waits, better.plan, "solved", better, 1)


def _promised(shop: Shop) -> bool:
    return any(a.promised_s is not None for a in shop.acts)


def _fitting(hint: Plan | None, shop: Shop) -> Plan | None:
    """A plan in hand, if it is one of the same acts."""
    return hint if hint is not None and hint.placed.keys() == shop.by_id.keys() else None


def _walked(days: Days, plan: Plan) -> list[list[Met]]:
    times: Times = {key: (row.begin_s, row.end_s) for key, row in plan.placed.items()}
    return [walk(face, times) for face in days.faces]


def _broken(shop: Shop, waits: Sequence[Wait], plan: Plan) -> Iterator[Missed]:
    """Windows that a plan misses by the waits that it was made for."""
    for row in kept(shop, waits, plan):
        if row.rule in {"most", "latest"}:
            act = shop.by_id[row.act]
            yield Missed(act, row.by_s, False, row.words or act.closes)


def _checked(
    days: Days, shop: Shop, waits: Sequence[Wait], plan: Plan, how: str, better: Better | None = None, rounds: int = 0
) -> Found:
    mets = _walked(days, plan)
    broken = [row for met in mets for row in missed(met)]
    known = {row.act.id for row in broken}
    broken += [row for row in _broken(shop, waits, plan) if row.act.id not in known]
    by_id: Mapping[str, Met] = {each.act.id: each for met in mets for each in met}
    return Found(shop, waits, plan, "feasible", how, broken, better, rounds, dict(by_id))


def _worth(found: Found) -> tuple[float, ...]:
    """What counts first comes first: windows missed, lateness, changes, the end."""
    assert found.plan is not None
    plan = found.plan
    ends = sum(plan.ends(found.shop).values())
    changes = len(plan.moved(found.shop)) + WISH * len(plan.unwished(found.shop))
    return len(found.missed), plan.late_s(found.shop), changes, ends
