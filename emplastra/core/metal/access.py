"""What can be reached when: openings, trial fits, closings and the work between them, as a graph.

An edge goes from what comes first to what comes after it. Besides the edges that are told, work on
a face comes after the opening that frees it and before the closing that hides it.
"""

import re
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import cached_property
from itertools import permutations

from ..errors import FieldError


class ActKind(StrEnum):
    """What an act of access is."""

    OPEN = "open"
    TRIAL_FIT = "trial-fit"
    TAKE_OFF = "take-off"
    WELD = "weld"
    COAT = "coat"
    SEAL = "seal"
    WAX = "wax"
    FILL = "fill"
    FIT = "fit"
    CLOSE = "close"


KINDS: dict[str, str] = {
    ActKind.OPEN: "Open, take off",
    ActKind.TRIAL_FIT: "Trial fit",
    ActKind.TAKE_OFF: "Take off again",
    ActKind.WELD: "Weld",
    ActKind.COAT: "Coat",
    ActKind.SEAL: "Seal",
    ActKind.WAX: "Wax",
    ActKind.FILL: "Fill",
    ActKind.FIT: "Fit after paint",
    ActKind.CLOSE: "Close",
}
WORK = (ActKind.WELD, ActKind.COAT, ActKind.SEAL, ActKind.WAX, ActKind.FILL)
"""Kinds that are work on faces."""


class AccessError(FieldError):
    """An act that cannot be: `field` names what."""


@dataclass(frozen=True)
class Act:
    """One act: id, kind, what, the faces it frees, hides or works on, and ids of acts that come before it.

    bare_um, least_um: gap raw and the least that must be left of it [µm], for what is fitted (None: not told);
    added_s: when it came into the plan [epoch s]; done: told so, or found in the log, whose entries are then named;
    before: (face, id of the step of its build-up that this comes before).
    """

    id: str
    kind: str
    what: str
    faces: tuple[str, ...] = ()
    after: tuple[str, ...] = ()
    bare_um: float | None = None
    least_um: float = 0.0
    done: bool = False
    added_s: float = 0.0
    entries: tuple[int, ...] = ()
    at_s: float = 0.0
    before: tuple[tuple[str, str], ...] = ()

    @property
    def name(self) -> str:
        """It in words."""
        return f"{KINDS.get(self.kind, self.kind)}: {self.what}"


@dataclass(frozen=True)
class Face:
    """What is known of a face: whether a coat lies on it, its kinds, film on it and still to come [µm], wax and
    fuel near, drains closed.

    sealer_wet, wet_until: sealer that is still wet, and until when in words; coats_before: {id of a step of its plan:
    whether it is coated by then, as planned}; inner: it is inside, or in a cavity.
    """

    name: str
    coated: bool = False
    products: frozenset[str] = frozenset()
    film_um: float = 0.0
    near: frozenset[str] = frozenset()
    waxed: bool = False
    sealer_wet: bool = False
    drains_closed: tuple[str, ...] = ()
    stays_bare: bool = False
    planned_um: float = 0.0
    wet_until: str = ""
    coats_before: Mapping[str, bool] = field(default_factory=dict)
    inner: bool = False


@dataclass(frozen=True)
class Happened:
    """Something logged on a face: kind of act, the face, when [epoch s], its entry, what it was called ("": not
    told).
    """

    kind: str
    face: str
    at_s: float
    entry: int
    what: str = ""


@dataclass(frozen=True)
class Plan:
    """Acts with what is known of their faces."""

    acts: tuple[Act, ...]
    faces: Mapping[str, Face] = field(default_factory=dict)

    @cached_property
    def before(self) -> Mapping[str, set[str]]:
        """{act id: ids of all acts that come before it}, worked out once."""
        return all_before(self.acts)

    def act(self, key: str) -> Act | None:
        """The act of this id."""
        return next((a for a in self.acts if a.id == key), None)


def neighbours(acts: Sequence[Act], faces: Collection[str]) -> set[str]:
    """Faces that share an opening, a closing or a weld with these: neighbours by the plan of access."""
    shared = (a for a in acts if a.kind in {ActKind.OPEN, ActKind.CLOSE, ActKind.WELD} and set(a.faces) & set(faces))
    return {face for act in shared for face in act.faces} - set(faces)


def come_before(acts: Sequence[Act]) -> dict[str, dict[str, tuple[Act, ...]]]:
    """{face: {id of a step: the acts still to come that come before it}}, in the order of the acts."""
    placed, _ = order(acts)
    found: dict[str, dict[str, tuple[Act, ...]]] = {}
    for act in (a for a in placed if not a.done):
        for face, step in act.before:
            steps = found.setdefault(face, {})
            steps[step] = (*steps.get(step, ()), act)
    return found


def check(acts: Sequence[Act]) -> None:
    """Refuse acts that cannot be. Raises AccessError naming the field."""
    ids = {a.id for a in acts}
    for act in acts:
        if act.kind not in KINDS:
            raise AccessError("kind", f"must be one of {', '.join(KINDS)}")
        if not act.what.strip():
            raise AccessError("what", "say what is opened, fitted or worked on")
        if set(act.after) - ids:
            raise AccessError("after", "comes after an act that is not there")
        if act.id in act.after:
            raise AccessError("after", "an act cannot come after itself")
        if {face for face, _ in act.before} - set(act.faces):
            raise AccessError("faces", "it comes before a step of a face that is not chosen")
        if act.kind in WORK and not act.faces:
            raise AccessError("faces", "choose the faces that are worked on")


def logged(acts: Sequence[Act], happened: Sequence[Happened]) -> tuple[Act, ...]:
    """The acts, those done that the log shows.

    An act is found in the log once all that comes before it is done, and on each of its faces there is
    an entry of its kind, later than it came into the plan and than what comes before it. An entry that
    names it is taken first, and counts for every act that it names; one that names none counts for one.
    """
    placed, _ = order(acts)
    before = _right_before(acts)
    found: dict[str, Act] = {}
    used: _Used = set()
    for act in placed:
        found[act.id] = act
        earlier = [found[b] for b in before[act.id]]
        if act.done or not act.faces or not all(e.done for e in earlier):
            continue
        from_s = max([act.added_s, *(e.at_s for e in earlier)])
        hits = _entries_for(act, from_s, happened, used, acts)
        if hits:
            used |= {(h.entry, h.face, _plain(act.what)) for h in hits}
            found[act.id] = _done_by(act, hits)
    return tuple(found.get(a.id, a) for a in acts)


def _done_by(act: Act, hits: Sequence[Happened]) -> Act:
    entries = tuple(sorted({h.entry for h in hits}))
    return replace(act, done=True, entries=entries, at_s=max(h.at_s for h in hits))


def ready(acts: Sequence[Act]) -> set[str]:
    """Ids of acts that are not done while all that comes before them is."""
    done = {a.id for a in acts if a.done}
    return {key for key, before in _right_before(acts).items() if key not in done and before <= done}


def _plain(what: str) -> str:
    """A name in small letters with single blanks."""
    return " ".join(what.lower().split())


def _parts(what: str) -> list[str]:
    """The parts that a name joins by "and" or a sign: "door, left" and "wing" of "Door, left and wing"."""
    return [part for p in re.split(r"\s+(?:and|with)\s+|[&+;/]", _plain(what)) if (part := p.strip())]


def covers(tried: str, what: str) -> bool:
    """True if a name, perhaps of several parts, names this one: all of its parts, if it is several itself.

    "Door, left and wing" names itself, "door, left" and "wing", and "door" and "left" too.
    """
    parts = _parts(tried)
    named = {_plain(tried), *parts, *(c.strip() for p in parts for c in p.split(","))} - {""}
    wanted = _parts(what)
    return _plain(what) in named or (bool(wanted) and named.issuperset(wanted))


_Used = set[tuple[int, str, str]]
"""(entry, face, name of the act that it counts for)."""


def _entries_for(
    act: Act, from_s: float, happened: Sequence[Happened], used: _Used, acts: Sequence[Act]
) -> list[Happened]:
    """An entry of each of its faces since a moment [epoch s]; none unless each has one."""
    found = []
    for face in act.faces:
        fits = [h for h in happened if (h.kind, h.face) == (act.kind, face) and h.at_s >= from_s]
        each = _named(act, face, fits, used) or _unnamed(act, face, fits, used, acts)
        if each is None:
            return []
        found.append(each)
    return found


def _named(act: Act, face: str, fits: Sequence[Happened], used: _Used) -> Happened | None:
    """The first that names the act and does not yet count for it."""
    name = _plain(act.what)
    return next((h for h in fits if covers(h.what, act.what) and (h.entry, face, name) not in used), None)


def _unnamed(act: Act, face: str, fits: Sequence[Happened], used: _Used, acts: Sequence[Act]) -> Happened | None:
    """The first that counts for nothing yet and names no other act."""
    others = [a.what for a in acts if a is not act and a.kind == act.kind and face in a.faces]
    taken = {entry for entry, where, _ in used if where == face}
    free = (h for h in fits if h.entry not in taken)
    return next((h for h in free if not any(covers(h.what, what) for what in others)), None)


def edges(acts: Sequence[Act]) -> list[tuple[str, str]]:
    """(before, after) of all pairs: told ones, and those that openings, trial fits and closings bring with them."""
    found = [(before, act.id) for act in acts for before in act.after]
    told = set(found)
    for act, other in permutations(acts, 2):
        if set(act.faces) & set(other.faces):
            found += _brought(act, other, told)
    return list(dict.fromkeys(found))


def _brought(act: Act, other: Act, told: set[tuple[str, str]]) -> Iterator[tuple[str, str]]:
    """Edges that an act brings with it toward another on the same face."""
    if act.kind == ActKind.OPEN and other.kind != ActKind.OPEN:
        yield act.id, other.id
    if act.kind == ActKind.CLOSE and other.kind != ActKind.CLOSE and (act.id, other.id) not in told:
        yield other.id, act.id
    if act.kind == ActKind.TRIAL_FIT and other.kind == ActKind.TAKE_OFF:
        yield act.id, other.id


def _right_before(acts: Sequence[Act]) -> dict[str, set[str]]:
    """{act id: ids of the acts whose edges lead to it}."""
    found: dict[str, set[str]] = {a.id: set() for a in acts}
    for first, later in edges(acts):
        found[later].add(first)
    return found


def order(acts: Sequence[Act]) -> tuple[list[Act], list[list[Act]]]:
    """(acts in an order that keeps every edge, as told where nothing binds; cycles, each with its members in a ring).

    Acts of a cycle, and what hangs on it, are in no order: they are left out of the first list.
    """
    by_id = {a.id: a for a in acts}
    after = _right_before(acts)
    placed: list[Act] = []
    done: set[str] = set()
    while True:
        ready = next((a for a in acts if a.id not in done and after[a.id] <= done), None)
        if ready is None:
            break
        placed.append(ready)
        done.add(ready.id)
    left = [a.id for a in acts if a.id not in done]
    return placed, [[by_id[k] for k in ring] for ring in _rings(left, {k: after[k] - done for k in left})]


def _rings(left: list[str], after: Mapping[str, set[str]]) -> list[list[str]]:
    """One ring for each knot of acts that wait for each other."""
    found: list[list[str]] = []
    seen: set[str] = set()
    for start in left:
        path: list[str] = []
        at = start
        while at not in seen and at not in path:
            path.append(at)
            at = min(after[at])
        if at in path:
            found.append(path[path.index(at) :][::-1])
        seen.update(path)
    return found


def columns(acts: Sequence[Act]) -> list[list[Act]]:
    """Acts by how many steps lie before them at least, for the drawing; those in a cycle last."""
    placed, _ = order(acts)
    depth: dict[str, int] = {}
    before = _right_before(acts)
    for act in placed:
        depth[act.id] = 1 + max((depth[b] for b in before[act.id]), default=-1)
    found: list[list[Act]] = [[] for _ in range(1 + max(depth.values(), default=-1))]
    for act in placed:
        found[depth[act.id]].append(act)
    rest = [a for a in acts if a.id not in depth]
    return [*found, rest] if rest else found


def shown_edges(acts: Sequence[Act]) -> list[tuple[str, str]]:
    """Edges without those that a longer way through other acts says already."""
    before, direct = all_before(acts), _right_before(acts)
    return [(a, b) for a, b in edges(acts) if not any(a in before[c] and c not in before[a] for c in direct[b] - {a})]


def reach_now(plan: Plan) -> list[str]:
    """Faces that an opening has freed and a closing still to come will hide: reachable only now."""
    reachable = (_faces_of(plan, ActKind.OPEN, True) & _faces_of(plan, ActKind.CLOSE, False)) - _faces_of(
        plan, ActKind.CLOSE, True
    )
    return [face for face in plan.faces if face in reachable]


def _faces_of(plan: Plan, kind: str, done: bool) -> set[str]:
    """Faces of the acts of a kind that are done, or still to come."""
    return {face for act in plan.acts if act.kind == kind and act.done == done for face in act.faces}


def all_before(acts: Sequence[Act]) -> Mapping[str, set[str]]:
    """{act id: ids of all acts that come before it}."""
    direct = _right_before(acts)
    found: dict[str, set[str]] = {}
    for act in acts:
        todo, seen = list(direct[act.id]), set()
        while todo:
            at = todo.pop()
            if at not in seen:
                seen.add(at)
                todo += direct[at]
        found[act.id] = seen
    return found
