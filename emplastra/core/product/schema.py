"""The published JSON Schema of a data sheet document."""

from typing import Any

from .kinds import ProductKind

UNKNOWN = "unknown"
"""Said of a window's end that nobody told; null is said of one that there is none of."""
ACTS = ("weld", "close", "mask", "fit", "pack")
HAZARDS = [
    "isocyanate",
    "sensitiser",
    "solvent",
    "acid",
    "zinc",
    "lead",
    "chlorinated",
    "caustic",
    "hydrofluoric",
    "pressure",
]
TIMES = ("flash", "dust_free", "touch", "handle", "sandable", "ready_to_weld", "cure", "contact")

_CELSIUS: dict[str, Any] = {"type": "number", "minimum": -60, "maximum": 400, "description": "°C"}
_MINUTES: dict[str, Any] = {"type": "number", "exclusiveMinimum": 0, "maximum": 10_000_000, "description": "minutes"}
_FILM: dict[str, Any] = {"type": "number", "exclusiveMinimum": 0, "maximum": 10000, "description": "µm"}
_PERCENT: dict[str, Any] = {"type": "number", "minimum": 0, "maximum": 100}
_TEXT: dict[str, Any] = {"type": "string", "minLength": 1, "maxLength": 400}
_KEY: dict[str, Any] = {
    "type": "string",
    "pattern": "^[a-z0-9][a-z0-9-]*$",
    "description": "small letters, digits and hyphens",
}
_GRIT: dict[str, Any] = {"type": "string", "pattern": "^P\\d{2,4}$", "description": "a grade such as P180"}
_COLOUR: dict[str, Any] = {"type": "string", "pattern": "^#[0-9a-f]{6}$", "description": "a colour such as #a0b0c0"}
_METHOD: dict[str, Any] = {"enum": ["brush", "roller", "hvlp", "conventional", "airless", "aerosol"]}


def _range(low: float, high: float) -> dict[str, Any]:
    items = {"type": ["number", "null"], "minimum": low, "maximum": high}
    return {"type": "array", "items": items, "minItems": 2, "maxItems": 2}


_POINT: dict[str, Any] = {
    "type": "array",
    "prefixItems": [_CELSIUS, _MINUTES],
    "minItems": 2,
    "maxItems": 2,
}
_POINTS: dict[str, Any] = {"type": "array", "items": _POINT, "minItems": 1, "maxItems": 100}
_TABLE: dict[str, Any] = {
    "description": "[°C, minutes] by rising temperature, the same under rising RH %, or one time with its kinetics.",
    "anyOf": [
        _POINTS,
        {
            "type": "object",
            "properties": {
                "minutes": _MINUTES,
                "at_c": _CELSIUS,
                "theta_k": {"type": "number", "minimum": 0, "maximum": 20000},
                "range_c": {"type": "array", "items": _CELSIUS, "minItems": 2, "maxItems": 2},
            },
            "required": ["minutes", "at_c", "theta_k", "range_c"],
            "additionalProperties": False,
        },
        {
            "type": "object",
            "properties": {
                "rh": {
                    "type": "array",
                    "minItems": 2,
                    "items": {"type": "array", "prefixItems": [_PERCENT, _POINTS], "minItems": 2, "maxItems": 2},
                }
            },
            "required": ["rh"],
            "additionalProperties": False,
        },
    ],
}


_OPENS: dict[str, Any] = {"anyOf": [_TABLE, {"const": UNKNOWN}]}
_CLOSES: dict[str, Any] = {
    "description": "null: never; unknown: nobody told.",
    "anyOf": [_TABLE, {"type": "null"}, {"const": UNKNOWN}],
}


def _object(required: list[str], properties: dict[str, Any]) -> dict[str, Any]:
    return {"type": "object", "required": required, "properties": properties, "additionalProperties": False}


SCHEMA: dict[str, Any] = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "$id": "urn:emplastra:data-sheet:1",
    "title": "Emplastra data sheet",
    **_object(
        ["format", "product", "kind", "form", "components", "source", "date"],
        {
            "format": {"const": "emplastra-sheet/1"},
            "product": {**_TEXT, "maxLength": 80},
            "kind": {"enum": [str(kind) for kind in ProductKind]},
            "form": {"enum": ["mixed", "ready", "aerosol"]},
            "source": _TEXT,
            "date": {"type": "string", "pattern": "^\\d{4}-\\d{2}-\\d{2}$", "description": "a day such as 2026-05-12"},
            "components": {
                "type": "array",
                "minItems": 1,
                "items": _object(
                    ["key", "name", "role"],
                    {
                        "key": _KEY,
                        "name": _TEXT,
                        "role": {"enum": ["base", "hardener", "thinner", "ready"]},
                        "density_g_ml": {"type": "number", "minimum": 0.3, "maximum": 12},
                        "solids_pct": _PERCENT,
                        "voc_g_l": {"type": "number", "minimum": 0, "maximum": 1200},
                        "water_g_l": {"type": "number", "minimum": 0, "maximum": 1000},
                        "colour": _COLOUR,
                    },
                ),
            },
            "variants": {
                "type": "array",
                "minItems": 1,
                "items": _object(
                    ["key", "name", "by", "parts"],
                    {
                        "key": _KEY,
                        "name": _TEXT,
                        "by": {"enum": ["volume", "mass"]},
                        "parts": {
                            "type": "object",
                            "minProperties": 2,
                            "additionalProperties": {"type": "number", "exclusiveMinimum": 0, "maximum": 1000},
                        },
                        "temp_c": {
                            "description": "The band of temperature that it is for; left out where none is told.",
                            "type": "array",
                            "items": _CELSIUS,
                            "minItems": 2,
                            "maxItems": 2,
                        },
                        "methods": {"type": "array", "items": _METHOD},
                    },
                ),
            },
            "use": {
                "description": "What is used of it ready to use [mL/m2], for each wetting [mL/m2], and parts of water to one of it.",
                **_object(
                    [],
                    {
                        "ml_m2": {"type": "number", "exclusiveMinimum": 0, "maximum": 10000},
                        "wetting_ml_m2": {"type": "number", "exclusiveMinimum": 0, "maximum": 5000},
                        "water_parts": {"type": "number", "minimum": 0, "maximum": 200},
                    },
                ),
            },
            "tolerance_pct": {"type": "number", "exclusiveMinimum": 0, "maximum": 50},
            "thinner": _object(
                ["component", "pct"],
                {
                    "component": _KEY,
                    "pct": {"type": "object", "propertyNames": _METHOD, "additionalProperties": _PERCENT},
                },
            ),
            "induction": {"description": "null: told that there is none.", "anyOf": [_TABLE, {"type": "null"}]},
            "pot_life": _TABLE,
            "pot_life_ml": {
                "description": "For how much in one pot the pot life is given [mL].",
                "type": "number",
                "exclusiveMinimum": 0,
                "maximum": 1_000_000,
            },
            "film": _object(
                [],
                {
                    "min_um": _FILM,
                    "typical_um": _FILM,
                    "max_um": _FILM,
                    "coats": {"type": "integer", "minimum": 1, "maximum": 12},
                    "sag_wft_um": _FILM,
                },
            ),
            "coverage_m2_l": {
                "description": "Least and most that a litre covers, as the sheet says [m2/L].",
                "type": "array",
                "items": {"type": "number", "exclusiveMinimum": 0, "maximum": 200},
                "minItems": 2,
                "maxItems": 2,
            },
            "methods": {"type": "array", "items": _METHOD, "minItems": 1},
            "times": {"type": "object", "propertyNames": {"enum": list(TIMES)}, "additionalProperties": _TABLE},
            "schedules": {
                "description": "Force-dry and infrared: minutes at a temperature of the metal [°C], after a flash [min].",
                "type": "array",
                "maxItems": 12,
                "items": _object(
                    ["how", "metal_c", "minutes"],
                    {
                        "how": {"enum": ["force-dry", "infrared"]},
                        "metal_c": _CELSIUS,
                        "minutes": _MINUTES,
                        "flash_min": _MINUTES,
                    },
                ),
            },
            "windows": {
                "type": "array",
                "items": _object(
                    ["next", "opens"],
                    {
                        "next": {
                            "type": "string",
                            "pattern": "^(self|any|kind:[a-z0-9-]+|product:.+|act:(weld|close|mask|fit|pack))$",
                            "description": "self, any, kind:…, product:… or act:weld, close, mask, fit or pack",
                        },
                        "opens": _OPENS,
                        "closes": _CLOSES,
                        "again": {
                            "description": "Where a middle is closed: from when to when it may follow after that.",
                            "type": "array",
                            "maxItems": 3,
                            "items": _object(["opens"], {"opens": _OPENS, "closes": _CLOSES}),
                        },
                        "wet_on_wet": {"type": "boolean"},
                        "remedy": _object(["grit"], {"grit": _GRIT, "note": _TEXT}),
                    },
                ),
            },
            "limits": _object(
                [],
                {
                    "air_c": _range(-60, 400),
                    "surface_c": _range(-60, 400),
                    "rh_pct": _range(0, 100),
                    "spread_k": {"type": "number", "minimum": 0, "maximum": 20},
                },
            ),
            "substrates": {
                "description": "Substrates that it goes on; where any are named, no others.",
                "type": "array",
                "items": _TEXT,
            },
            "excluded": {"description": "Substrates that it does not go on.", "type": "array", "items": _TEXT},
            "over": {
                "description": "What it goes over (true) or not (false): kind:…, product:… or metal:….",
                "type": "object",
                "propertyNames": {
                    "pattern": "^(kind:[a-z0-9-]+|product:.+|metal:.+)$",
                    "description": "named kind:…, product:… or metal:…",
                },
                "additionalProperties": {"type": "boolean"},
            },
            "grit": {
                "description": "Coarsest and finest grit that it takes under it.",
                "type": "array",
                "items": _GRIT,
                "minItems": 2,
                "maxItems": 2,
            },
            "lift_mm": {
                "description": "The most in one lift [mm].",
                "type": "number",
                "exclusiveMinimum": 0,
                "maximum": 100,
            },
            "most_um": {"description": "The most of it in all its coats, dry.", **_FILM},
            "hides": {
                "description": "How far a dry film hides: its contrast over black and white.",
                **_object(
                    ["contrast_pct", "at_um"],
                    {
                        "contrast_pct": {"type": "number", "exclusiveMinimum": 0, "exclusiveMaximum": 100},
                        "at_um": _FILM,
                    },
                ),
            },
            "final": {"description": "Nothing goes over it.", "type": "boolean"},
            "overpaintable": {"type": "boolean"},
            "translucent": {"type": "boolean"},
            "bleeding": {"type": "boolean"},
            "wipe_and_leave": {"description": "Acid that is wiped and left, not rinsed.", "type": "boolean"},
            "shelf": _object(
                [],
                {
                    "closed_months": {"type": "number", "exclusiveMinimum": 0, "maximum": 600},
                    "opened_months": {"type": "number", "exclusiveMinimum": 0, "maximum": 600},
                },
            ),
            "hazards": {
                "type": "array",
                "items": {"enum": HAZARDS},
            },
            "tins": {
                "type": "array",
                "items": _object(
                    ["component", "ml"],
                    {
                        "component": _KEY,
                        "ml": {"type": "number", "exclusiveMinimum": 0, "maximum": 1_000_000},
                        "price": {"type": "number", "minimum": 0, "maximum": 1_000_000},
                    },
                ),
            },
            "assumed": {
                "description": "Figures that are typical of the kind and were not told: film, times/…, "
                "components/…/solids_pct. Never a ratio, induction, pot life, the end of a window or substrates.",
                "type": "array",
                "maxItems": 40,
                "items": {
                    "type": "string",
                    "pattern": "^(film|film/coats|times/[a-z_]+|components/[a-z0-9-]+/solids_pct)$",
                    "description": "film, film/coats, times/… or components/…/solids_pct",
                },
            },
            "superseded_by": _TEXT,
            "hatch": {"enum": ["dots", "lines", "rise", "fall", "waves", "grid", "plain"]},
            "colour": _COLOUR,
        },
    ),
}
