"""Scenarios of practice: readable files with their schema; three ship, more can be written."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from functools import cache
from importlib import resources
from typing import Any

import jsonschema
import yaml

from ..air.lag import SUBSTRATES
from ..metal.strip import WAYS
from ..piece.parts import PARTS
from ..product.sheet import Sheet
from ..product.sheet import read as read_sheet
from ..surface.plan import PlanStep, read_steps

FORMAT = "emplastra-practice/1"
_NUMBER = {"type": "number"}
_KEY = {"type": "string", "pattern": "^[a-z][a-z0-9-]{0,19}$"}
_TEXT = {"type": "string", "minLength": 1, "maxLength": 300}
_FACE: dict[str, Any] = {
    "type": "object",
    "additionalProperties": False,
    "required": ["key", "name", "substrate", "thickness_mm", "area_m2", "plan"],
    "properties": {
        "key": _KEY,
        "name": _TEXT,
        "substrate": {"enum": list(SUBSTRATES)},
        "thickness_mm": {"type": "number", "exclusiveMinimum": 0, "maximum": 100},
        "area_m2": {"type": "number", "exclusiveMinimum": 0, "maximum": 50},
        "part": {"enum": list(PARTS)},
        "finish": {"enum": ["show", "open", "below", "covered"]},
        "told": {"type": "object"},
        "bared_h": {"type": "number", "minimum": 0, "maximum": 200},
        "bared_by": {"enum": list(WAYS)},
        "primed_h": {"type": "number", "minimum": 0, "maximum": 500},
        "cold_k": {"type": "number", "minimum": 0, "maximum": 30},
        "hides": {"type": "boolean"},
        "burns": _KEY,
        "seam_mm": {"type": "number", "minimum": 0, "maximum": 20000},
        "plan": {"type": "array", "minItems": 1, "maxItems": 30, "items": {"type": "object"}},
    },
}
SCHEMA: dict[str, Any] = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "A scenario of practice",
    "type": "object",
    "additionalProperties": False,
    "required": ["format", "key", "name", "says", "starts", "ends_h", "air", "places", "pieces"],
    "properties": {
        "format": {"const": FORMAT},
        "key": _KEY,
        "name": _TEXT,
        "lasts": {"enum": ["hours", "days"]},
        "says": _TEXT,
        "starts": {"type": "string", "pattern": r"^\d{4}-\d{2}-\d{2} \d{2}:\d{2}$"},
        "ends_h": {"type": "number", "exclusiveMinimum": 0, "maximum": 400},
        "air": {
            "type": "object",
            "additionalProperties": False,
            "required": ["mean_c", "rh_pct"],
            "properties": dict.fromkeys(("mean_c", "swing_k", "rh_pct", "rise_pct", "rise_from_h", "rise_h"), _NUMBER),
        },
        "places": {"type": "object", "minProperties": 1, "additionalProperties": _TEXT},
        "sun_from_h": _NUMBER,
        "pieces": {
            "type": "array",
            "minItems": 1,
            "items": {
                "type": "object",
                "additionalProperties": False,
                "required": ["key", "name", "says", "faces"],
                "properties": {
                    "key": _KEY,
                    "name": _TEXT,
                    "says": _TEXT,
                    "faces": {"type": "array", "minItems": 1, "maxItems": 12, "items": _FACE},
                },
            },
        },
    },
}
"""The published JSON Schema of a scenario."""


class ScenarioError(ValueError):
    """A scenario that cannot be played; the message names the field."""


@dataclass(frozen=True)
class FaceGiven:
    """A face of a piece as a scenario gives it. bared_h, primed_h: hours before the start, None where it is not;
    cold_k: how much colder than the air it is at the start [K]; burns: the face whose film a weld on this one burns;
    seam_mm: the weld [mm]; hides: once closed it is seen by mirror alone.
    """

    key: str
    name: str
    substrate: str
    thickness_mm: float
    area_m2: float
    plan: tuple[PlanStep, ...]
    part: str = "other"
    finish: str = "show"
    told: Mapping[str, Any] = field(default_factory=dict)
    bared_h: float | None = None
    bared_by: str = "sander"
    primed_h: float | None = None
    cold_k: float = 0.0
    hides: bool = False
    burns: str = ""
    seam_mm: float = 0.0


@dataclass(frozen=True)
class Piece:
    """A piece to practise on."""

    key: str
    name: str
    says: str
    faces: tuple[FaceGiven, ...]

    def face(self, key: str) -> FaceGiven:
        """A face by its key. Raises KeyError."""
        for face in self.faces:
            if face.key == key:
                return face
        raise KeyError(key)


@dataclass(frozen=True)
class Weather:
    """The air of a scenario: mean [°C], daily swing [K], humidity [%], how far it rises, from when, in how long [h]."""

    mean_c: float
    rh_pct: float
    swing_k: float = 0.0
    rise_pct: float = 0.0
    rise_from_h: float = 0.0
    rise_h: float = 1.0


@dataclass(frozen=True)
class Scenario:
    """A scenario: begin (naive local), its length [h], weather, places by key, from when the sun is out in the yard [h]
    (None: never), its pieces.
    """

    key: str
    name: str
    says: str
    starts: datetime
    ends_h: float
    air: Weather
    places: Mapping[str, str]
    pieces: tuple[Piece, ...]
    lasts: str = "hours"
    sun_from_h: float | None = None

    def piece(self, key: str) -> Piece:
        """A piece by its key. Raises KeyError."""
        for piece in self.pieces:
            if piece.key == key:
                return piece
        raise KeyError(key)


def read(document: Any) -> Scenario:
    """A scenario from its document. Raises ScenarioError naming the first field that does not fit."""
    error = next(iter(jsonschema.Draft202012Validator(SCHEMA).iter_errors(document)), None)
    if error is not None:
        raise ScenarioError(f"{'/'.join(map(str, error.absolute_path)) or 'the file'}: {error.message[:160]}")
    pieces = tuple(
        Piece(row["key"], row["name"], row["says"], tuple(_face(face) for face in row["faces"]))
        for row in document["pieces"]
    )
    for piece in pieces:
        _check(piece)
    more = {name: document[name] for name in ("lasts", "sun_from_h") if name in document}
    names = ("key", "name", "says", "ends_h", "places")
    starts = datetime.strptime(document["starts"], "%Y-%m-%d %H:%M")
    return Scenario(
        starts=starts, air=Weather(**document["air"]), pieces=pieces, **{n: document[n] for n in names}, **more
    )


def _face(row: dict[str, Any]) -> FaceGiven:
    try:
        plan = read_steps(row["plan"])
    except ValueError as error:
        raise ScenarioError(f"{row['key']}: {error}") from error
    return FaceGiven(**{**row, "plan": plan})


def _check(piece: Piece) -> None:
    """Raise ScenarioError for a face that names another, or a product, that there is none of."""
    keys = [face.key for face in piece.faces]
    if len(set(keys)) != len(keys):
        raise ScenarioError(f"{piece.key}: two faces of one key")
    for face in piece.faces:
        if face.burns and face.burns not in keys:
            raise ScenarioError(f"{face.key}: burns {face.burns}, which is no face of it")
        for step in face.plan:
            if step.product and step.product not in sheets():
                raise ScenarioError(f"{face.key}: there is no {step.product} in the practice shop")


@cache
def sheets() -> dict[str, Sheet]:
    """The products of the practice shop by name."""
    text = (resources.files(__package__) / "sheets.yaml").read_text(encoding="utf-8")
    found = [read_sheet(document) for document in yaml.safe_load(text)]
    return {sheet.product: sheet for sheet in found}


@cache
def scenarios() -> dict[str, Scenario]:
    """The scenarios that ship, by key, the shortest first."""
    folder = resources.files(__package__) / "scenarios"
    found = [
        read(yaml.safe_load(path.read_text(encoding="utf-8")))
        for path in folder.iterdir()
        if path.name.endswith(".yaml")
    ]
    return {scenario.key: scenario for scenario in sorted(found, key=lambda s: s.ends_h)}
