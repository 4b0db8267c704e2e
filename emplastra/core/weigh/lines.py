"""Lines of a scale or a film gauge: a pattern of how one is written, and what a line says by it.

A pattern is the line as it comes, with fields in brackets: [value] the number ([value:9]: always nine characters,
blanks and all), [unit] g, kg or lb (of a gauge um, mil or mm), [state:A|B|C] a mark for steady, moving and no weight,
[check] two hex digits, the XOR of all before them, [any] whatever stands there. Blanks match any blanks.
"""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import reduce
from operator import xor

IN_G = {"g": 1.0, "kg": 1000.0, "lb": 453.59237, "oz": 28.349523125, "": 1.0}
"""Unit -> grams. Pound and ounce: exact, by the international agreement of 1959."""
IN_UM = {"um": 1.0, "mil": 25.4, "mm": 1000.0, "": 1.0}
"""Unit of a film gauge -> µm."""
MOST = 1_000_000.0
"""No scale and no gauge says more [g, µm]."""
LONGEST = 120
"""Longer lines are noise [characters]."""
SHIPPED = {"plain": "[value] [unit]", "checked": "[state:=|~|!] [value:9] [unit]#[check]"}
"""Patterns that need not be typed."""
_FIELD = re.compile(r"\[(value|unit|state|check|any)(?::([^\[\]]*))?\]")
_NUMBER = re.compile(r"[+-]?\s*\d{1,8}(?:[.,](\d{1,4}))?\s*")


class PatternError(ValueError):
    """The text is no pattern; the message says what would do."""


@dataclass(frozen=True)
class Reading:
    """What a line says: weight [g] (of a gauge film [µm]), its last place, steady or not (None: it does not say); over:
    a line that comes in place of a weight, as with too much on the scale.
    """

    grams: float | None
    step_g: float = 0.0
    steady: bool | None = None
    over: bool = False


class Pattern:
    """How a scale writes its lines."""

    def __init__(self, text: str, units: Mapping[str, float] = IN_G) -> None:
        """units: what a unit comes to in the one that is kept. Raises PatternError for a text that has no [value], a
        field twice, or marks that are none.
        """
        self.text, self.units = text, units
        fields = [found[1] for found in _FIELD.finditer(text)]
        if fields.count("value") != 1:
            raise PatternError("it must have [value] once, for example [value] [unit]")
        if any(fields.count(name) > 1 for name in ("unit", "state", "check")):
            raise PatternError("[unit], [state] and [check] stand there once at most")
        rest = _FIELD.sub("", text)
        if "[" in rest or "]" in rest:
            raise PatternError("in brackets stand value, unit, state:A|B, check and any")
        self.marks: tuple[str, ...] = ()
        self.form = re.compile("".join(self._parts()), re.ASCII)

    def _parts(self) -> Iterator[str]:
        at = 0
        for found in _FIELD.finditer(self.text):
            yield _literal(self.text[at : found.start()])
            yield self._field(found[1], found[2] or "")
            at = found.end()
        yield _literal(self.text[at:])

    def _field(self, name: str, more: str) -> str:
        if name == "value":
            if more and not (more.isdecimal() and 1 <= int(more) <= 20):
                raise PatternError("[value:9] says how many characters it has, from 1 to 20")
            return f"(?P<value>.{{{int(more)}}})" if more else r"(?P<value>[ +-]*[\d.,]+|[-.*_]+|)"
        if name == "state":
            self.marks = tuple(more.split("|"))
            if not 2 <= len(self.marks) <= 3 or not all(self.marks) or len(set(self.marks)) < len(self.marks):
                raise PatternError(
                    "[state:A|B] names two or three marks: steady, moving and, where there is one, no weight"
                )
            return "(?P<state>" + "|".join(re.escape(mark) for mark in sorted(self.marks, key=len, reverse=True)) + ")"
        return {
            "unit": f"(?P<unit>{'|'.join(filter(None, self.units))})",
            "check": r"(?P<check>[0-9A-F]{2})",
            "any": ".*?",
        }[name]

    def read(self, line: str) -> Reading | None:
        """What a line says; None for one that is cut, doubled or otherwise not as the pattern has it."""
        line = line.strip("\r\n")
        if len(line) > LONGEST:
            return None
        found = self.form.fullmatch(line)
        if found is None:
            bare = line.strip()
            # A scale that has no weight writes a word or dashes; a field of digits is never one.
            return Reading(None, over=True) if bare and not self.marks and not re.search(r"[\d#]", bare) else None
        told = found.groupdict()
        if "check" in told and told["check"] != checked(line[: found.start("check")]):
            return None
        return self._weight(told)

    def _weight(self, told: dict[str, str | None]) -> Reading | None:
        """What the fields of a line say."""
        state = self.marks.index(told["state"] or "") if self.marks else None
        if state == 2:
            return Reading(None, over=True)
        number = _NUMBER.fullmatch((told["value"] or "").strip())
        if number is None:
            return None
        unit = self.units[told.get("unit") or ""]
        grams = float(re.sub(r"\s", "", number[0]).replace(",", ".")) * unit
        if abs(grams) > MOST:
            return None
        return Reading(grams, 10.0 ** -len(number[1] or "") * unit, None if state is None else state == 0)


def checked(text: str) -> str:
    """The two hex digits that stand for a text: its bytes, one after another, by exclusive or."""
    return f"{reduce(xor, text.encode('ascii', 'replace'), 0):02X}"


def _literal(text: str) -> str:
    return "".join(r"\s*" if part.isspace() else re.escape(part) for part in re.split(r"(\s+)", text) if part)
