"""What a verdict rests on: noted as it is read, kept by an acceptance, compared when it is asked for again.

Rules see an act and what it meets through views. Each property that a view marks with `reads` notes its name and its
value once a rule asks for it, so that nobody lists by hand what a rule used. An acceptance holds while the exact facts
are equal and the graded ones are not worse by a step.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Any, Generic, TypeVar, overload

T = TypeVar("T")
Told = str | float | int | bool | None


@dataclass(frozen=True)
class Fact:
    """Something that a rule read. worse: +1 where more is worse, -1 where less is, 0 where only the same is the same.

    step: by how much it may be worse and still count as the same.
    """

    name: str
    value: Told
    worse: int = 0
    step: float = 0.0

    def holds(self, now: "Fact") -> bool:
        """True if what is now is not worse than this by a step."""
        if not self.worse or not isinstance(self.value, int | float) or not isinstance(now.value, int | float):
            return self.value == now.value
        return (now.value - self.value) * self.worse <= self.step + 1e-9


def holds(accepted: Iterable[Fact], found: Sequence[Fact]) -> bool:
    """True if each fact that was accepted is read again, and not worse; what is read beside them was read for them."""
    now = {fact.name: fact for fact in found}
    kept = {fact.name: fact for fact in accepted}
    return kept.keys() == now.keys() and all(fact.holds(now[name]) for name, fact in kept.items())


class reads(Generic[T]):
    """A property whose value is noted when it is read."""

    def __init__(self, get: Callable[[Any], T], worse: int = 0, step: float = 0.0) -> None:
        self.get, self.worse, self.step, self.__doc__ = get, worse, step, get.__doc__
        self.name = get.__name__

    @overload
    def __get__(self, view: None, owner: type) -> "reads[T]": ...
    @overload
    def __get__(self, view: "View", owner: type) -> T: ...
    def __get__(self, view: "View | None", owner: type) -> "T | reads[T]":
        if view is None:
            return self
        value = self.get(view)
        view.note(self.name, value, self.worse, self.step)
        return value


def graded(worse: int, step: float = 0.0) -> Callable[[Callable[[Any], T]], reads[T]]:
    """Mark a property of a view as graded: more (+1) or less (-1) is worse, by a step."""
    return lambda get: reads(get, worse, step)


Notes = dict[str, tuple[Any, int, float]]
"""What a rule read: name -> (value, worse, step). Most rules say nothing: facts are made of it when one does."""


def facts_of(notes: Notes) -> tuple[Fact, ...]:
    """What was read as facts: figures to a thousandth, collections by their words."""
    return tuple(Fact(name, _told(value), worse, step) for name, (value, worse, step) in notes.items())


def _told(value: Any) -> Told:
    if isinstance(value, float):
        return round(value, 3)
    if value is None or isinstance(value, str | int | bool):
        return value
    return " ".join(sorted(map(str, value)) if isinstance(value, Iterable) else [str(value)])


class View:
    """What a rule sees of something; each property read is noted in `notes`, under its name with what it is of."""

    of = ""

    def __init__(self, notes: Notes) -> None:
        self._notes = notes

    def note(self, name: str, value: Any, worse: int = 0, step: float = 0.0) -> None:
        """Note that a property was read."""
        self._notes[self.of + name] = (value, worse, step)
