"""The published JSON Schema of an archive, made of the tables themselves."""

from functools import cache

from django.db import models

from .carried import FORMAT, columns, tables

SETTINGS = (
    "name",
    "time_zone",
    "units",
    "latitude",
    "longitude",
    "assumed_air_c",
    "assumed_rh_pct",
    "wet_prompt_min",
    "uneven_sprayed",
    "uneven_brushed",
    "currency",
)
"""What of the workshop is told beside the rows: what states rest on."""
MOST_ROWS = 400_000
_MOMENT = {"type": "string", "pattern": r"^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}:\d{2}(\.\d+)?\+00:00$"}
_TYPES = (
    (models.ForeignKey, {"type": "integer", "minimum": 1}),
    (models.BooleanField, {"type": "boolean"}),
    (models.DateTimeField, _MOMENT),
    (models.DateField, {"type": "string", "pattern": r"^\d{4}-\d{2}-\d{2}$"}),
    (models.DecimalField, {"type": "string", "pattern": r"^-?\d+(\.\d+)?$"}),
    (models.FloatField, {"type": "number"}),
    (models.IntegerField, {"type": "integer"}),
    (models.JSONField, {"type": ["object", "array", "null"]}),
)
"""Kinds of columns -> what a document holds of them."""


def of_field(field):
    """What a document holds of a column."""
    found = next((dict(told) for kind, told in _TYPES if isinstance(field, kind)), None)
    if found is None:
        found = {"type": "string", "maxLength": field.max_length or 100_000}
    if field.null and isinstance(found["type"], str):
        found["type"] = [found["type"], "null"]
    return found


@cache
def schema():
    """The JSON Schema of archive.json."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "A job of a restoration workshop, whole",
        "type": "object",
        "required": ["format", "made", "workshop", "job", "schools", "rows"],
        "additionalProperties": False,
        "properties": {
            "format": {"const": FORMAT},
            "made": {"type": "string"},
            "workshop": {"type": "object", "required": ["name"]},
            "job": {"type": "integer", "minimum": 1},
            "schools": {"type": "object", "additionalProperties": {"type": "string", "maxLength": 20}},
            "rows": {
                "type": "object",
                "additionalProperties": False,
                "required": ["jobs.Job"],
                "properties": {model._meta.label: _table(model) for model in tables()},
            },
        },
    }


def _table(model):
    named = {field.name: of_field(field) for field in columns(model)}
    row = {"id": {"type": "integer", "minimum": 1}} | named
    return {
        "type": "array",
        "maxItems": MOST_ROWS,
        "items": {"type": "object", "additionalProperties": False, "required": list(row), "properties": row},
    }
