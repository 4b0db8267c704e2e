"""Coating systems from a file: the published schema of their steps, and what is wrong with a list of them."""

from functools import lru_cache
from itertools import islice
from typing import Any

import jsonschema

from ..document import DocumentError, plain, wanted
from ..product.film import METHODS
from .steps import STEPS

MAX_SYSTEMS, MAX_STEPS = 200, 60
_NAME: dict[str, Any] = {"type": "string", "minLength": 1, "maxLength": 80}
_FILM: dict[str, Any] = {"type": "number", "minimum": 0, "maximum": 10000, "description": "µm, as a number alone"}

STEP: dict[str, Any] = {
    "type": "object",
    "required": ["kind"],
    "additionalProperties": False,
    "properties": {
        "kind": {"enum": list(STEPS)},
        "product": {"type": "string", "maxLength": 80},
        "coats": {"type": "integer", "minimum": 1, "maximum": 20},
        "dft_um": {**_FILM, "type": ["number", "null"]},
        "sanded_um": _FILM,
        "method": {"enum": list(METHODS)},
        "thinner_pct": {"type": "number", "minimum": 0, "maximum": 100, "description": "% of the mixed paint"},
        "grit": {"type": "string", "pattern": "^(P\\d{2,4})?$", "description": "a grade such as P180"},
        "note": {"type": "string", "maxLength": 200},
        "least": {"type": "boolean", "description": "its film is a minimum everywhere"},
        "way": {"type": "string", "maxLength": 20, "description": "of stripping"},
        "area_m2": {"type": "number", "minimum": 0, "maximum": 1000, "description": "m², of a part of a face"},
        "length_mm": {"type": "number", "minimum": 0, "maximum": 1000000, "description": "mm, of edges and seams"},
        "width_mm": {"type": "number", "minimum": 0, "maximum": 1000, "description": "mm, of a stripe or a joint"},
        "on": {"enum": ["", "bare"], "description": "bare: on what work before it has bared"},
    },
}
_LIST: dict[str, Any] = {"type": "array", "maxItems": 20, "items": {"type": "string", "maxLength": 40}}
ABOUT: dict[str, Any] = {
    "group": {"type": "string", "maxLength": 40},
    "where": {"type": "string", "maxLength": 300, "description": "where it fits, in a sentence"},
    "why": {
        "type": "array",
        "maxItems": 12,
        "items": {"type": "string", "minLength": 1, "maxLength": 300},
        "description": "why this order, a sentence each",
    },
    "fits": {
        "type": "object",
        "additionalProperties": False,
        "properties": {"substrates": _LIST, "finishes": _LIST, "parts": _LIST, "rust": {"type": "boolean"}},
    },
    "schools": {"type": "object", "maxProperties": 20, "additionalProperties": {"type": "string", "maxLength": 20}},
}
"""What a system says of itself besides its steps."""
BOUNDS: dict[str, tuple[float, float]] = {
    name: (told["minimum"], told["maximum"]) for name, told in STEP["properties"].items() if "minimum" in told
}
"""Least and most of each figure of a step, in a file and in a plan."""
SCHEMA: dict[str, Any] = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Coating systems",
    "type": "array",
    "minItems": 1,
    "maxItems": MAX_SYSTEMS,
    "items": {
        "type": "object",
        "required": ["name", "steps"],
        "additionalProperties": False,
        "properties": {
            "name": _NAME,
            "school": {"type": "string", "maxLength": 80},
            "max_total_um": {"type": ["number", "null"], "exclusiveMinimum": 0, "maximum": 100000},
            **ABOUT,
            "steps": {"type": "array", "minItems": 1, "maxItems": MAX_STEPS, "items": STEP},
        },
    },
}


@lru_cache(maxsize=2)
def _validator(what: str) -> Any:
    return jsonschema.Draft202012Validator({"system": SCHEMA, "step": STEP}[what])


def _problems(document: Any, what: str) -> list[tuple[str, str]]:
    errors = islice(_validator(what).iter_errors(document), 50)
    return [(_where([str(x) for x in e.absolute_path]), wanted(e)) for e in errors]


def _where(path: list[str]) -> str:
    """ "system 2, step 3, dft_um" of a path into the file."""
    words = []
    for name in path:
        if name.isdecimal():
            words.append(f"{'step' if 'steps' in words else 'system'} {int(name) + 1}")
        else:
            words.append(name)
    return ", ".join(word for word in words if word != "steps") or "document"


def read(document: Any) -> list[dict[str, Any]]:
    """Systems from a parsed file. Raises DocumentError naming system, step and field, and what would be accepted."""
    document = plain(document)
    problems = _problems(document, "system")
    names = [each["name"] for each in document] if not problems else []
    problems += [(f"system {i + 1}, name", "names a system twice") for i, n in enumerate(names) if n in names[:i]]
    if problems:
        raise DocumentError(problems)
    found: list[dict[str, Any]] = document
    return found


def trouble_of(steps: Any) -> str:
    """What is wrong with the stored steps of a system; "" for what can be read. Names of no field are let be."""
    if not isinstance(steps, list):
        return "its steps are no list"
    for i, step in enumerate(steps, 1):
        known = {k: v for k, v in step.items() if k in STEP["properties"]} if isinstance(step, dict) else step
        for path, message in _problems(known, "step"):
            return f"step {i}, {path}: {message}"
    return ""
