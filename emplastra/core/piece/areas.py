"""Areas of the simple shapes a zone is measured in. Dimensions in mm, areas in m2."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from ..errors import FieldError
from ..words import area_q

MAX_MM = 30_000.0
"""Longest side taken as meant [mm]."""


@dataclass(frozen=True)
class Shape:
    """A kind of shape: name, its dimensions (key, label, may be 0), area formula and function."""

    name: str
    dims: tuple[tuple[str, str, bool], ...]
    formula: str
    area_mm2: Callable[[Mapping[str, float]], float]


def _cone(d: Mapping[str, float]) -> float:
    r1, r2 = d["d1"] / 2, d["d2"] / 2
    return math.pi * (r1 + r2) * math.hypot(r1 - r2, d["height"])


SHAPES = {
    "flat": Shape(
        "Flat sheet, one face",
        (("length", "length", False), ("width", "width", False)),
        "l·w",
        lambda d: d["length"] * d["width"],
    ),
    "box": Shape(
        "Box section, outside",
        (("length", "length", False), ("width", "width", False), ("height", "height", False)),
        "2·(w + h)·l",
        lambda d: 2 * (d["width"] + d["height"]) * d["length"],
    ),
    "angle": Shape(
        "Angle, both faces",
        (("length", "length", False), ("width", "one leg", False), ("height", "other leg", False)),
        "2·(w + h)·l",
        lambda d: 2 * (d["width"] + d["height"]) * d["length"],
    ),
    "channel": Shape(
        "Channel, both faces",
        (("length", "length", False), ("width", "web", False), ("height", "each flange", False)),
        "2·(w + 2·h)·l",
        lambda d: 2 * (d["width"] + 2 * d["height"]) * d["length"],
    ),
    "tube": Shape(
        "Tube, outside",
        (("diameter", "outer diameter", False), ("length", "length", False)),
        "π·d·l",
        lambda d: math.pi * d["diameter"] * d["length"],
    ),
    "cone": Shape(
        "Cone or taper",
        (("d1", "one diameter", False), ("d2", "other diameter", True), ("height", "height", False)),
        "π·(r₁ + r₂)·√((r₁ − r₂)² + h²)",
        _cone,
    ),
    "dome": Shape(
        "Dome (spherical cap)",
        (("radius", "radius of the sphere", False), ("height", "height", False)),
        "2·π·R·h",
        lambda d: 2 * math.pi * d["radius"] * d["height"],
    ),
    "bend": Shape(
        "Pipe bend",
        (("radius", "bend radius", False), ("diameter", "pipe diameter", False), ("angle", "angle, degrees", False)),
        "2·π·r·R·θ",
        lambda d: math.pi * d["diameter"] * d["radius"] * math.radians(d["angle"]),
    ),
    "given": Shape("Area, typed", (("m2", "area", False),), "A", lambda d: d["m2"] * 1e6),
    "mesh": Shape("From a mesh", (("m2", "area", False),), "Σ of its triangles", lambda d: d["m2"] * 1e6),
}
MAX_M2 = 1000.0
"""Largest area taken as meant [m2]."""
TYPED = ("flat", "box", "angle", "channel", "tube", "cone", "dome", "bend", "given")
"""Kinds that are typed; the others are measured by the program."""


class ShapeError(FieldError):
    """A dimension that cannot be: `field` names it."""


def area_m2(kind: str, dims: Mapping[str, float], count: int = 1) -> float:
    """Area [m2] of `count` equal shapes with dimensions [mm] (angle in degrees).

    Raises ShapeError naming the dimension if it is missing, not above 0, or absurd.
    """
    shape = SHAPES.get(kind)
    if shape is None:
        raise ShapeError("kind", f"shape must be one of {', '.join(SHAPES)}")
    for key, label, may_be_zero in shape.dims:
        top, unit = {"angle": (360.0, "degrees"), "m2": (MAX_M2, "m²")}.get(key, (MAX_MM, "mm"))
        value = dims.get(key, math.nan)
        if not (0 < value <= top or (value == 0 and may_be_zero)):
            raise ShapeError(key, f"{label} must be above 0 and at most {top:g} {unit}")
    if kind == "dome" and dims["height"] > 2 * dims["radius"]:
        raise ShapeError("height", "height of the dome must be at most twice its radius")
    if kind == "bend" and dims["diameter"] > 2 * dims["radius"]:
        raise ShapeError("diameter", "pipe diameter must be at most twice the bend radius")
    if not 1 <= count <= 1000:
        raise ShapeError("count", "count must be from 1 to 1000")
    return count * shape.area_mm2(dims) / 1e6


_EDGES: dict[str, Callable[[Mapping[str, float]], float]] = {
    "flat": lambda d: 2 * (d["length"] + d["width"]),
    "box": lambda d: 4 * d["length"] + 4 * (d["width"] + d["height"]),
    "angle": lambda d: 3 * d["length"] + 2 * (d["width"] + d["height"]),
    "channel": lambda d: 4 * d["length"] + 2 * (d["width"] + 2 * d["height"]),
    "tube": lambda d: 2 * math.pi * d["diameter"],
    "cone": lambda d: math.pi * (d["d1"] + d["d2"]),
    "dome": lambda d: 2 * math.pi * math.sqrt(max(0.0, d["height"] * (2 * d["radius"] - d["height"]))),
    "bend": lambda d: 2 * math.pi * d["diameter"],
    "given": lambda d: 4000 * math.sqrt(d["m2"]),
    "mesh": lambda d: 4000 * math.sqrt(d["m2"]),
}
"""Length of the edges of a shape [mm]: rims, and the corners of a section; of an area alone those of a square."""


def edges_mm(shapes: Sequence[Mapping]) -> float:
    """Length of all edges [mm] of stored shapes, rims of openings among them: an estimate for stripe coats."""
    return sum(s.get("count", 1) * _EDGES[s["kind"]](s["dims"]) for s in shapes)


def halves_m2(whole_m2: float, share: float) -> tuple[float, float]:
    """An area [m2] in two parts, the first with about this share (0 < share < 1), whose sum is the whole exactly.

    The larger part is rounded, the smaller is what is left: subtracting from a number at most twice
    as large is exact (Sterbenz), and so is the sum. Raises ShapeError for a share that leaves no part.
    """
    if not 0.0 < share < 1.0:
        raise ShapeError("share", "share must be above 0 and below 100 %")
    larger = whole_m2 * max(share, 1.0 - share)
    rest = whole_m2 - larger
    return (larger, rest) if share >= 0.5 else (rest, larger)


def total_area_m2(shapes: Sequence[Mapping]) -> float:
    """Area [m2] of stored shapes: mappings with kind, dims [mm] and count; `less` marks an opening, which is taken off.

    Raises ShapeError if the openings leave nothing.
    """
    parts = [(area_m2(s["kind"], s["dims"], s.get("count", 1)), bool(s.get("less"))) for s in shapes]
    whole, off = (sum(m2 for m2, less in parts if less is which) for which in (False, True))
    if off and off >= whole:
        raise ShapeError(
            "shapes", f"the openings take off {area_q(off)} of {area_q(whole)}: they must be smaller than the rest"
        )
    return whole - off
