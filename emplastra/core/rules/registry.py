"""One registry of rules, and what they say.

A rule belongs to one aspect of an act, looks at one subject at a time (the face, a ground on it, a finding, a tin ...),
returns all it has to say and raises nothing. A verdict is computed, never stored; it keeps the facts that its rule
read.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from .facts import Fact

SEVERITIES = ("stops", "warns", "advises")
COMMON = "common practice, no source"
SHEET = "data sheet"


class Aspect(StrEnum):
    """What of an act a ruling looks at, in the order in which it is shown; the last two are not about one act."""

    METAL = "metal"
    FINDINGS = "findings"
    PREPARATION = "preparation"
    CLEAN = "dry and clean"
    BARE = "bare time"
    UNDER = "what lies there"
    WINDOW = "window"
    AIR = "air"
    FILM = "film"
    GRIT = "grit"
    POT = "tin and pot"
    ACCESS = "access"
    COLOUR = "colour"
    SAFETY = "safety"
    WAY = "way of stripping"
    ORDER = "order of access"


@dataclass(frozen=True)
class Said:
    """What a rule says of a subject: the sentence; severity, fix and source where they differ from the rule's.

    about: what tells this apart from other things the same rule says of the same subject.
    """

    sentence: str
    severity: str = ""
    fix: str = ""
    source: str = ""
    about: str = ""


@dataclass(frozen=True)
class Rule:
    """id; aspect; each: the subject it looks at, one at a time; kinds: of step that it concerns (none: all).

    school: (question, answer) under which it holds, or none; harm: somebody may be hurt, so it can never be made quiet;
    by_clock: Bench says the same by a clock of the row. check: what is seen -> what it has to say.
    """

    id: str
    aspect: Aspect
    each: str
    severity: str
    title: str
    source: str
    check: Callable[[Any], Iterable[Said]]
    kinds: frozenset[str] = frozenset()
    school: tuple[str, str] | None = None
    fix: str = ""
    harm: bool = False
    by_clock: bool = False


@dataclass(frozen=True)
class Verdict:
    """What a rule found, about what, and every fact that it read to find it; subject: the act that it is of."""

    rule: str
    aspect: Aspect
    severity: str
    sentence: str
    source: str
    about: str
    read: tuple[Fact, ...] = field(default=(), hash=False)
    fix: str = ""
    harm: bool = False
    by_clock: bool = False
    subject: str = ""

    @property
    def key(self) -> str:
        """Which verdict it is among those of one act, whatever its facts."""
        return f"{self.rule}:{self.about}"


SCHOOLS: dict[str, tuple[str, dict[str, str]]] = {
    "burnish": (
        "Is wire-wheeled metal keyed?",
        {"key-first": "No: it is burnished, abrade it by hand", "wheel-keys": "Yes, with a non-woven pad and acid prep after"},
    ),
    "solder": ("Does old body solder stay?", {"out": "No: all lead goes", "stays": "Yes, where it is sound"}),
    "filler": ("Where does filler go?", {"over-epoxy": "Over epoxy", "on-metal": "On abraded metal"}),
    "pipe": ("A pipe with surface rust?", {"watch": "Treated, left unpainted, looked at again", "paint": "Treated and painted"}),
    "converter": (
        "Epoxy over converted rust?",
        {"test": "A test patch first", "waits": "Yes, after 24 to 36 hours"},
    ),
    "wax-out": ("Wax on the outer underside?", {"no": "No: it holds grit, hides rust", "yes": "Yes, as the last of all"}),
    "wax-in": ("Wax in cavities?", {"yes": "Yes, as the last of all", "no": "No: paint alone, it can be welded again"}),
    "clear": ("Clear, cut flat, clear again?", {"once": "No: all clear in one window", "cut": "Yes: cut, then cleared again"}),
    "texture": ("Texture as the last coat?", {"painted": "No: painted over", "last": "Yes: paint stiffens it"}),
}  # fmt: skip
"""Question -> (words, {answer: words}); the first answer is the default."""

REGISTRY: dict[str, Rule] = {}
_INDEX: dict[str, list[Rule]] = {}


def default_schools() -> dict[str, str]:
    """The first answer of each question."""
    return {question: next(iter(answers)) for question, (_, answers) in SCHOOLS.items()}


_DEFAULTS = default_schools()


def rule(
    id: str,
    aspect: Aspect,
    severity: str,
    title: str,
    each: str = "face",
    source: str = COMMON,
    kinds: Iterable[str] = (),
    school: tuple[str, str] | None = None,
    fix: str = "",
    harm: bool = False,
    by_clock: bool = False,
) -> Callable[[Callable[[Any], Iterable[Said]]], Callable[[Any], Iterable[Said]]]:
    """Enter a check into the registry."""

    def enter(check: Callable[[Any], Iterable[Said]]) -> Callable[[Any], Iterable[Said]]:
        if id in REGISTRY or severity not in SEVERITIES:
            raise ValueError(f"rule {id}: entered twice, or of no known severity")
        made = Rule(id, aspect, each, severity, title, source, check, frozenset(kinds), school, fix, harm, by_clock)
        REGISTRY[id] = made
        _INDEX.setdefault(each, []).append(made)
        return check

    return enter


def rules_for(each: str, schools: Mapping[str, str] | None = None, off: frozenset[str] = frozenset()) -> Iterator[Rule]:
    """Rules that look at such a subject under these schools, but for those that are switched off."""
    held = {**_DEFAULTS, **schools} if schools else _DEFAULTS
    for found in _INDEX.get(each, ()):
        if found.id not in off and (not found.school or held.get(found.school[0]) == found.school[1]):
            yield found


def verdict_of(found: Rule, said: Said, about: str, read: Iterable[Fact] = (), subject: str = "") -> Verdict:
    """What a rule said of an act, as a verdict about a subject."""
    about = "/".join(part for part in (about, said.about) if part)
    return Verdict(
        found.id,
        found.aspect,
        said.severity or found.severity,
        said.sentence,
        said.source or found.source,
        about,
        tuple(read),
        said.fix or found.fix,
        found.harm,
        found.by_clock,
        subject,
    )


def judge_each(
    each: str, subject: Any, about: str, schools: Mapping[str, str] | None = None, off: frozenset[str] = frozenset()
) -> list[Verdict]:
    """All verdicts on one subject that is no act (a way of stripping, a plan of access), the gravest first."""
    return gravest_first(
        verdict_of(found, said, about) for found in rules_for(each, schools, off) for said in found.check(subject)
    )


def gravest_first(found: Iterable[Verdict]) -> list[Verdict]:
    """Verdicts in the order of their severity."""
    return sorted(found, key=lambda v: SEVERITIES.index(v.severity))
