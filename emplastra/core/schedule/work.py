"""What is to be planned: acts, the waits between them, hands, places and air; and the plan that comes of it.

Times are seconds since the epoch. An act is done in one go by the hands it takes; what its film does afterwards (flash,
tack) goes on without hands.
"""

import itertools
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from ..air.sun import Span

GRID_S = 300.0
"""Begins lie on this grid [s]."""
DAY_S = 86400.0


@dataclass(frozen=True)
class Act:
    """Something to be done: its hands for so long [s] (hands False: it goes on without any), what it takes up while it
    is worked on (uses) and until its film has flashed (holds), then_s [s] from its end on.

    position: how its piece lies for it ("": as it stands); what lies otherwise waits until it is turned, and until its
    film takes no dust; air: key of the shop's closed stretches that it keeps clear of from begin to flash; tacky_s: how
    long its film takes dust from its end on [s]; place: where dust of one act falls on the film of another. earliest_s,
    latest_s: of its begin; pinned_s: its begin where that is fixed; wished_s: where it is wished; promised_s: where the
    plan that was taken has it.
    """

    id: str
    face: str
    name: str
    work_s: float
    kind: str = ""
    step: str = ""
    coat: int = 1
    job: str = ""
    hands: bool = True
    uses: tuple[str, ...] = ()
    holds: tuple[str, ...] = ()
    then_s: float = 0.0
    tacky_s: float = 0.0
    dusty: bool = False
    air: str = ""
    place: str = ""
    position: str = ""
    earliest_s: float | None = None
    latest_s: float | None = None
    pinned_s: float | None = None
    wished_s: float | None = None
    promised_s: float | None = None
    opens: str = ""
    """Why it cannot begin before its earliest, in words."""
    closes: str = ""
    """What closes at its latest, in words."""


@dataclass(frozen=True)
class Wait:
    """An act begins no sooner than least_s after another's end [s], and no later than most_s (None: whenever)."""

    before: str
    after: str
    least_s: float = 0.0
    most_s: float | None = None
    why: str = ""


@dataclass(frozen=True)
class Person:
    """Somebody at the bench: name and the stretches in which they are there [epoch s]."""

    name: str
    there: tuple[Span, ...]


@dataclass(frozen=True)
class Pot:
    """Coats that come from one pot: from the first's begin to the last's end no longer than its life [s]."""

    acts: tuple[str, ...]
    life_s: float
    name: str = ""


@dataclass(frozen=True)
class Shut:
    """Something of which there is only so much, and when there is none of it [epoch s]."""

    count: int = 1
    shut: tuple[Span, ...] = ()


@dataclass(frozen=True)
class Shop:
    """What is planned in: from start to end [epoch s], who is there, what there is so much of, stretches that the air
    closes by key, pots, and when each job is promised [epoch s].
    """

    start_s: float
    end_s: float
    acts: tuple[Act, ...]
    crew: tuple[Person, ...] = ()
    things: Mapping[str, Shut] = field(default_factory=dict)
    closed: Mapping[str, tuple[Span, ...]] = field(default_factory=dict)
    pots: tuple[Pot, ...] = ()
    due: Mapping[str, float] = field(default_factory=dict)
    grid_s: float = GRID_S
    turn_s: float = 0.0

    @cached_property
    def by_id(self) -> dict[str, Act]:
        """Acts by their id."""
        return {act.id: act for act in self.acts}

    @cached_property
    def by_place(self) -> dict[str, list[Act]]:
        """Acts by the place where they are done."""
        found: dict[str, list[Act]] = {}
        for act in self.acts:
            found.setdefault(act.place, []).append(act)
        return found

    @cached_property
    def by_lie(self) -> dict[str, list[Act]]:
        """Acts for which it counts how their piece lies, by its job."""
        found: dict[str, list[Act]] = {}
        for act in self.acts:
            if act.position:
                found.setdefault(act.job, []).append(act)
        return found

    @property
    def crews(self) -> list[tuple[tuple[Span, ...], list[Person]]]:
        """People who are there at the same hours, together: (their hours, who)."""
        groups: dict[tuple[Span, ...], list[Person]] = {}
        for person in self.crew:
            groups.setdefault(person.there, []).append(person)
        return list(groups.items())


@dataclass(frozen=True)
class Placed:
    """An act in a plan: begin and end of its work [epoch s], who does it ("": nobody has to)."""

    act: str
    begin_s: float
    end_s: float
    who: str = ""


@dataclass(frozen=True)
class Plan:
    """Acts in their places, by id."""

    placed: Mapping[str, Placed]

    def __getitem__(self, act: str) -> Placed:
        return self.placed[act]

    def end_of(self, acts: Sequence[Act]) -> float:
        """When the last of these acts ends [epoch s]."""
        return max((self.placed[a.id].end_s for a in acts), default=0.0)

    def ends(self, shop: Shop) -> dict[str, float]:
        """When the last act of each job ends [epoch s]."""
        jobs: dict[str, list[Act]] = {}
        for act in shop.acts:
            jobs.setdefault(act.job, []).append(act)
        return {job: self.end_of(acts) for job, acts in jobs.items()}

    def late_s(self, shop: Shop) -> float:
        """How late all jobs are together [s]."""
        ends = self.ends(shop)
        return sum(max(0.0, ends[job] - due) for job, due in shop.due.items() if job in ends)

    def moved(self, shop: Shop) -> list[Act]:
        """Acts that lie half a day or more from where the plan that was taken has them."""
        return [act for act in shop.acts if self._is_off(act.id, act.promised_s)]

    def unwished(self, shop: Shop) -> list[Act]:
        """Acts that lie half a day or more from where they are wished."""
        return [act for act in shop.acts if self._is_off(act.id, act.wished_s)]

    def _is_off(self, act: str, at_s: float | None) -> bool:
        return at_s is not None and abs(self.placed[act].begin_s - at_s) >= DAY_S / 2


@dataclass(frozen=True)
class Broken:
    """Something that a plan does not keep: the act, which rule, by how long [s], in words."""

    act: str
    rule: str
    by_s: float
    words: str = ""


def kept(shop: Shop, waits: Sequence[Wait], plan: Plan) -> list[Broken]:
    """What a plan does not keep of waits, hands, things, air, dust, pots and fixed places; a grid step is let pass.

    Written apart from the solver: it looks at the finished plan alone.
    """
    found = [*_waits_broken(waits, plan), *_hands_broken(shop, plan), *_things_broken(shop, plan)]
    for act in shop.acts:
        found += _place_broken(shop, act, plan[act.id])
    for pot in shop.pots:
        span = max(plan[a].end_s for a in pot.acts) - min(plan[a].begin_s for a in pot.acts)
        if span > pot.life_s + SLACK_S:
            found.append(Broken(pot.acts[0], "pot", span - pot.life_s))
    return [*found, *_dust_broken(shop, plan)]


def _place_broken(shop: Shop, act: Act, row: Placed) -> Iterator[Broken]:
    """What an act's own begin does not keep: its air, its earliest and latest, where it is fixed."""
    begin, end = row.begin_s, row.end_s + act.then_s
    for a, b in shop.closed.get(act.air, ()):
        if a < end - SLACK_S and b > begin + SLACK_S:
            yield Broken(act.id, "air", min(b, end) - max(a, begin))
    if act.earliest_s is not None and begin < act.earliest_s - SLACK_S:
        yield Broken(act.id, "earliest", act.earliest_s - begin)
    if act.latest_s is not None and begin > act.latest_s + SLACK_S:
        yield Broken(act.id, "latest", begin - act.latest_s)
    if act.pinned_s is not None and abs(begin - act.pinned_s) > shop.grid_s:
        yield Broken(act.id, "pinned", abs(begin - act.pinned_s))


SLACK_S = 1.0
"""What is let pass as rounding [s]."""


def _waits_broken(waits: Sequence[Wait], plan: Plan) -> list[Broken]:
    found = []
    for wait in waits:
        gap = plan[wait.after].begin_s - plan[wait.before].end_s
        if gap < wait.least_s - SLACK_S:
            found.append(Broken(wait.after, "least", wait.least_s - gap, wait.why))
        if wait.most_s is not None and gap > wait.most_s + SLACK_S:
            found.append(Broken(wait.after, "most", gap - wait.most_s, wait.why))
    return found


def _hands_broken(shop: Shop, plan: Plan) -> list[Broken]:
    """Acts whose hands are not there, or are at something else."""
    there = {person.name: person.there for person in shop.crew}
    found, busy = list[Broken](), dict[str, list[tuple[float, float, str]]]()
    for act in shop.acts:
        if not act.hands:
            continue
        placed = plan[act.id]
        if not any(a - SLACK_S <= placed.begin_s and placed.end_s <= b + SLACK_S for a, b in there.get(placed.who, ())):
            found.append(Broken(act.id, "hands", placed.end_s - placed.begin_s, placed.who))
        busy.setdefault(placed.who, []).append((placed.begin_s, placed.end_s, act.id))
    for rows in busy.values():
        rows.sort()
        found += [Broken(b[2], "busy", a[1] - b[0]) for a, b in itertools.pairwise(rows) if b[0] < a[1] - SLACK_S]
    return found


def _things_broken(shop: Shop, plan: Plan) -> list[Broken]:
    """Acts for which there is nothing left of what they use, or that meet it shut."""
    found = []
    for name, thing in shop.things.items():
        edges: list[tuple[float, int, str]] = []
        for act in shop.acts:
            if name in act.uses or name in act.holds:
                placed = plan[act.id]
                end = placed.end_s + (act.then_s if name in act.holds else 0.0)
                edges += [(placed.begin_s + SLACK_S, 1, act.id), (end, -1, act.id)]
                if any(a < end - SLACK_S and b > placed.begin_s + SLACK_S for a, b in thing.shut):
                    found.append(Broken(act.id, "shut", end - placed.begin_s, name))
        count = 0
        for _, step, act_id in sorted(edges):
            count += step
            if count > thing.count:
                found.append(Broken(act_id, "full", 0.0, name))
    return found


def _turned_too_soon(shop: Shop, plan: Plan) -> Iterator[Broken]:
    """Acts on a piece that lies otherwise, or was turned on a film that was still tacky."""
    for act, other in itertools.permutations([a for a in shop.acts if a.position], 2):
        if other.job == act.job and other.position != act.position:
            until = plan[act.id].end_s + act.tacky_s + shop.turn_s
            if plan[act.id].begin_s <= plan[other.id].begin_s < until - SLACK_S:
                yield Broken(other.id, "turned", until - plan[other.id].begin_s)


def _dust_broken(shop: Shop, plan: Plan) -> list[Broken]:
    """Dry sanding beside a film that is still tacky, and two positions of one piece at a time."""
    found = list(_turned_too_soon(shop, plan))
    for dust in (a for a in shop.acts if a.dusty):
        x, y = plan[dust.id].begin_s, plan[dust.id].end_s
        for film in (a for a in shop.acts if a.tacky_s and a.place == dust.place and a.id != dust.id):
            a, b = plan[film.id].begin_s, plan[film.id].end_s + film.tacky_s
            if a < y - SLACK_S and b > x + SLACK_S:
                found.append(Broken(dust.id, "dust", min(b, y) - max(a, x), film.name))
    return found
