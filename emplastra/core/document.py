"""Parsed YAML or JSON as plain data that can be stored, compared and computed with."""

import math
from collections.abc import Sequence
from datetime import date, datetime
from typing import Any, NoReturn

import jsonschema

MAX_DEPTH = 24
MAX_TEXT = 4000
MAX_WHOLE = 10**15


class DocumentError(ValueError):
    """A document that cannot be taken. `problems`: (path of the field, what would be accepted)."""

    def __init__(self, problems: Sequence[tuple[str, str]]) -> None:
        super().__init__("; ".join(f"{path}: {message}" for path, message in problems))
        self.problems = list(problems)


def plain(value: Any, path: tuple[str, ...] = ()) -> Any:
    """A copy of only text, finite numbers, true, false, null, lists and named fields.

    Dates become ISO text. Raises DocumentError naming the first field that is something else.
    """
    if len(path) > MAX_DEPTH:
        _refuse(path, f"lies deeper than {MAX_DEPTH} levels")
    if value is None or isinstance(value, bool):
        return value
    if isinstance(value, (int, float)):
        return _number(value, path)
    if isinstance(value, str):
        return _text(value, path)
    if isinstance(value, (date, datetime)):
        return value.isoformat()
    if isinstance(value, list):
        return [plain(item, (*path, str(i))) for i, item in enumerate(value)]
    if isinstance(value, dict):
        return {_name(name, path): plain(item, (*path, name[:40])) for name, item in value.items()}
    return _refuse(path, f"is a {type(value).__name__}: write text, a number, a list or named fields")


_TYPES = {
    "integer": "a whole number", "number": "a number", "string": "text", "array": "a list", "object": "named fields",
    "boolean": "true or false", "null": "nothing",
}  # fmt: skip
_WANTED = {
    "enum": "must be {said}", "type": "must be {said}", "const": "must be {told}",
    "minimum": "must be at least {told:g}", "maximum": "must be at most {told:g}", "exclusiveMinimum": "must be more than {told:g}",
    "exclusiveMaximum": "must be less than {told:g}", "minItems": "must have at least {told} in it", "maxItems": "has more than {told} in it",
    "minProperties": "must have at least {told} in it", "minLength": "must not be empty", "maxLength": "is longer than {told} characters",
    "required": "is missing {said}", "additionalProperties": "has {said}, which is no field here",
}  # fmt: skip


def wanted(error: jsonschema.ValidationError) -> str:
    """What a schema would accept at the place of an error, in words, with what stands there."""
    if error.context:
        deep = max(len(e.path) for e in error.context)
        if deep:  # one of the ways it may be told went further than the others: what is wrong inside it
            return wanted(max(error.context, key=lambda e: len(e.path)))
        stands = f", not {error.instance!r}" if isinstance(error.instance, (str, int, float)) else ""
        ways = dict.fromkeys(wanted(e).removesuffix(stands).removeprefix("must be ") for e in error.context)
        return f"must be {' or '.join(ways)}{stands}"[:200]
    told, here = error.validator_value, error.instance
    said = _SAID.get(str(error.validator))
    words = _WANTED.get(str(error.validator))
    if words is None:  # a pattern, a format: the schema itself may say what it looks like
        words = f"must be {error.schema.get('description') or 'written otherwise'}"
    stands = (
        f", not {here!r}" if isinstance(here, (str, int, float)) and not str(error.validator).endswith("Length") else ""
    )
    return f"{words.format(told=told, said=said(error) if said else '')}{stands}"[:200]


def _one_of(error: jsonschema.ValidationError) -> str:
    told = error.validator_value if isinstance(error.validator_value, list) else [error.validator_value]
    words = (
        [_TYPES.get(w, str(w)) for w in told] if error.validator == "type" else [str(w) for w in told if w is not None]
    )
    if len(words) > 8:  # the schema shows them all
        return f"one of {', '.join(words[:8])} … ({len(words)} in all)"
    return f"one of {', '.join(words)}" if len(words) > 3 else " or ".join(words)


def _missing(error: jsonschema.ValidationError) -> str:
    return ", ".join(name for name in error.validator_value if name not in error.instance)


def _odd(error: jsonschema.ValidationError) -> str:
    return ", ".join(f"“{name}”" for name in error.instance if name not in error.schema.get("properties", ()))


_SAID = {"enum": _one_of, "type": _one_of, "required": _missing, "additionalProperties": _odd}


def _number(value: float, path: tuple[str, ...]) -> float:
    if isinstance(value, int):
        return value if abs(value) <= MAX_WHOLE else _refuse(path, "is a number far too large: at most 15 digits")
    return value if math.isfinite(value) else _refuse(path, "is no finite number: write one, or leave the field out")


def _name(name: object, path: tuple[str, ...]) -> str:
    if not isinstance(name, str):
        _refuse((*path, str(name)[:40]), "has a name that is no text: put it in quotes")
    return _text(name, path)


def _text(value: str, path: tuple[str, ...]) -> str:
    if len(value) > MAX_TEXT:
        _refuse(path, f"is longer than {MAX_TEXT} characters")
    if any((ord(c) < 32 and c not in "\n\t") or 0xD800 <= ord(c) < 0xE000 for c in value):
        _refuse(path, "holds characters that are no text")
    return value


def _refuse(path: tuple[str, ...], message: str) -> NoReturn:
    raise DocumentError([("/".join(path) or "document", message)])
