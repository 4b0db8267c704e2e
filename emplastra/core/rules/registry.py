"""One registry of rules, and what they say.

A rule looks at one kind of subject (a zone, a pair of what lies under and over, a method of
stripping on a zone), returns all it has to say and raises nothing. A verdict is computed, never
stored; its key names the rule, what it is about and the facts it used, so that an acceptance of it
lapses when those facts change.
"""

import hashlib
import json
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

SEVERITIES = ("stops", "warns", "advises")
COMMON = "common practice, no source"
NOT_JUDGED = "not-judged"


@dataclass(frozen=True)
class Said:
    """What a rule says of a subject: the sentence, the facts it used; severity and fix where they differ from the
    rule's.
    """

    sentence: str
    used: Mapping[str, Any] = field(default_factory=dict)
    severity: str = ""
    fix: str = ""


@dataclass(frozen=True)
class Rule:
    """id; looks_at: the kind of subject; severity; title and source; school: (question, answer) under which it
    holds, or none.

    fix: key of a fix that the page offers. check: subject -> what it has to say.
    """

    id: str
    looks_at: str
    severity: str
    title: str
    source: str
    check: Callable[[Any], Iterable[Said]]
    school: tuple[str, str] | None = None
    fix: str = ""


@dataclass(frozen=True)
class Verdict:
    """What a rule found: its key changes with the facts it rests on (`used`)."""

    rule: str
    severity: str
    sentence: str
    source: str
    about: str
    used: Mapping[str, Any] = field(hash=False)
    fix: str = ""

    @cached_property
    def key(self) -> str:
        """What an acceptance of it holds for; worked out when it is asked for, since most are only read."""
        return key_of(self.rule, self.about, self.used)


SCHOOLS: dict[str, tuple[str, dict[str, str]]] = {
    "burnish": (
        "Is wire-wheeled metal keyed?",
        {"key-first": "No: it is burnished, abrade it by hand", "wheel-keys": "Yes, with a non-woven pad and acid prep after"},
    ),
    "solder": ("Does old body solder stay?", {"out": "No: all lead goes", "stays": "Yes, where it is sound"}),
    "filler": ("Where does filler go?", {"over-epoxy": "Over epoxy", "on-metal": "On abraded metal"}),
    "pipe": ("A pipe with surface rust?", {"watch": "Treated, left unpainted, looked at again", "paint": "Treated and painted"}),
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
    looks_at: str,
    severity: str,
    title: str,
    source: str = COMMON,
    school: tuple[str, str] | None = None,
    fix: str = "",
) -> Callable[[Callable[[Any], Iterable[Said]]], Callable[[Any], Iterable[Said]]]:
    """Enter a check into the registry."""

    def enter(check: Callable[[Any], Iterable[Said]]) -> Callable[[Any], Iterable[Said]]:
        if id in REGISTRY or severity not in SEVERITIES:
            raise ValueError(f"rule {id}: entered twice, or of no known severity")
        made = REGISTRY[id] = Rule(id, looks_at, severity, title, source, check, school, fix)
        _INDEX.setdefault(looks_at, []).append(made)
        return check

    return enter


def key_of(rule_id: str, about: str, used: Mapping[str, Any]) -> str:
    """The key of a verdict: rule, what it is about, and a hash of the facts it used."""
    facts = json.dumps(used, sort_keys=True, default=str)
    return f"{rule_id}:{about}:{hashlib.sha256(facts.encode()).hexdigest()[:16]}"


def judge(
    looks_at: str, subject: Any, about: str, schools: Mapping[str, str] | None = None, off: frozenset[str] = frozenset()
) -> list[Verdict]:
    """All verdicts on a subject, the gravest first. about: which subject; off: rules that are switched off."""
    held = {**_DEFAULTS, **schools} if schools else _DEFAULTS
    found = []
    for each in _INDEX.get(looks_at, ()):
        if each.id in off or (each.school and held.get(each.school[0]) != each.school[1]):
            continue
        for said in each.check(subject):
            severity = said.severity or each.severity
            found.append(Verdict(each.id, severity, said.sentence, each.source, about, said.used, said.fix or each.fix))
    return gravest_first(found)


def gravest_first(found: Iterable[Verdict]) -> list[Verdict]:
    """Verdicts in the order of their severity."""
    return sorted(found, key=lambda v: SEVERITIES.index(v.severity))


def not_judged(what: str, about: str) -> Verdict:
    """What is said where no rule knows: never silence."""
    return Verdict(NOT_JUDGED, "advises", f"Not judged: no rule knows {what}.", "no rule", about, {"what": what})
