"""Parsed YAML or JSON as plain data that can be stored, compared and computed with."""

import math
from collections.abc import Sequence
from datetime import date, datetime
from typing import Any, NoReturn

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
