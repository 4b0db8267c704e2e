"""Forms of part: where rust hides in each, and starter layouts of whole pieces.

Where rust hides: common practice, no source.
"""

from dataclasses import dataclass

from ..words import length_q
from .job_map import Cells


@dataclass(frozen=True)
class PartKind:
    """A form of part: its name, and (key, words) of the places where rust hides in it."""

    name: str
    hides: tuple[tuple[str, str], ...]


PARTS: dict[str, PartKind] = {
    "skin": PartKind(
        "Outer skin",
        (
            ("lower-edge", f"along the lower edge, {length_q(50)} up"),
            ("corners", "in the corners"),
            ("fittings", "behind lamps, handles, brackets"),
            ("seam", "along seams and drip rails"),
        ),
    ),
    "inner": PartKind(
        "Inner skin",
        (
            ("foot", "at the foot, where water stands"),
            ("flange", "in the double flange to the outer skin"),
            ("stiffeners", "under stiffeners and pads"),
        ),
    ),
    "floor": PartKind(
        "Floor",
        (
            ("edges", "along the edges and the wheel openings"),
            ("mats", "under mats and pads"),
            ("jacking", "at jacking points"),
            ("drains", "around each drain and bung"),
        ),
    ),
    "box": PartKind(
        "Box section",
        (
            ("inside", "inside, by mirror or camera"),
            ("bottom", "along the inside of its bottom"),
            ("ends", "at closed ends and joints"),
            ("drains", "at blocked drains"),
        ),
    ),
    "channel": PartKind(
        "Open section, channel or angle",
        (
            ("upper-face", "on the upper face, where dirt lies"),
            ("laps", "in laps and under rivets"),
            ("ends", "at the ends"),
        ),
    ),
    "lip": PartKind(
        "Lip, arch or flange",
        (
            ("packed", "in the lip, once it is emptied"),
            ("lap", "in the lap, felt and tapped"),
            ("stone", "where stones strike"),
        ),
    ),
    "door": PartKind(
        "Door or lid",
        (
            ("foot", "in the folded foot"),
            ("drains", "at the drain slots"),
            ("hinge", "at hinges and the check strap"),
            ("glass", "under the glass seal"),
        ),
    ),
    "casting": PartKind("Casting", (("faces", "on mating faces"), ("pockets", "in pockets and bolt holes"))),
    "tank": PartKind(
        "Tank",
        (
            ("bottom", "along the bottom inside"),
            ("saddle", "under straps and saddles"),
            ("seam", "along the welded seam"),
            ("sump", "at the drain"),
        ),
    ),
    "tube": PartKind("Tube or pipe", (("clips", "under clips"), ("low", "at the low point"), ("ends", "at unions"))),
    "other": PartKind("Other", (("edges", "along its edges"), ("laps", "in laps and under fittings"))),
}


@dataclass(frozen=True)
class StarterFace:
    """A zone of a layout: name, part, form for spraying, finish class, place, and its area.

    area: (kind of shape, dims by name, count); a dim is (a, b, c) times length, width, height of
    the piece, or a plain number of mm.
    """

    name: str
    part: str
    form: str
    finish: str
    cells: Cells
    shape: tuple[str, dict[str, tuple[float, float, float] | float], int]


L, W, H = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)


def _flat(a: object, b: object, count: int = 1) -> tuple:
    return "flat", {"length": a, "width": b}, count


def _share(axis: tuple[float, float, float], share: float) -> tuple[float, float, float]:
    return (axis[0] * share, axis[1] * share, axis[2] * share)


LAYOUTS: dict[str, tuple[str, tuple[StarterFace, ...]]] = {
    "cab": (
        "Sheet cab",
        (
            StarterFace("Side, left, outer", "skin", "flat", "show", Cells("left", "panel", 6, 1, 17, 10), _flat(L, H)),
            StarterFace("Front, outer", "skin", "flat", "show", Cells("left", "panel", 0, 1, 5, 10), _flat(W, H)),
            StarterFace("Side, right, outer", "skin", "flat", "show", Cells("right", "panel", 1, 1, 17, 10), _flat(L, H)),
            StarterFace("Back, outer", "skin", "flat", "show", Cells("right", "panel", 19, 1, 5, 10), _flat(W, H)),
            StarterFace("Roof, outer", "skin", "flat", "show", Cells("top", "panel", 3, 2, 18, 8), _flat(L, W)),
            StarterFace("Floor, from below", "floor", "flat", "below", Cells("under", "panel", 3, 2, 18, 8), _flat(L, W)),
            StarterFace("Sides, inner", "inner", "flat", "open", Cells("inside", "panel", 1, 1, 13, 5), _flat(L, H, 2)),
            StarterFace("Ends, inner", "inner", "flat", "open", Cells("inside", "panel", 15, 1, 8, 5), _flat(W, H, 2)),
            StarterFace("Floor, inner", "floor", "flat", "covered", Cells("inside", "panel", 1, 7, 22, 4), _flat(L, W)),
        ),
    ),
    "frame": (
        "Frame",
        (
            StarterFace("Rail, left, outer", "box", "frame", "below", Cells("left", "panel", 1, 4, 22, 4), _flat(L, _share(H, 1.0))),
            StarterFace("Rail, right, outer", "box", "frame", "below", Cells("right", "panel", 1, 4, 22, 4), _flat(L, _share(H, 1.0))),
            StarterFace("Rails, upper faces", "box", "frame", "covered", Cells("top", "panel", 1, 1, 22, 3), _flat(L, _share(H, 0.6), 2)),
            StarterFace("Cross members", "channel", "frame", "below", Cells("top", "panel", 4, 5, 16, 6), ("box", {"length": W, "width": _share(H, 0.6), "height": H}, 4)),
            StarterFace("Rails, lower faces", "box", "frame", "below", Cells("under", "panel", 1, 4, 22, 4), _flat(L, _share(H, 0.6), 2)),
            StarterFace("Rails, inside the section", "box", "tube", "covered", Cells("inside", "panel", 1, 4, 22, 4), ("box", {"length": L, "width": _share(H, 0.55), "height": _share(H, 0.95)}, 2)),
        ),
    ),
    "tank": (
        "Tank",
        (
            StarterFace("Barrel, left", "tank", "flat", "show", Cells("left", "panel", 4, 2, 19, 8), _flat(L, _share(H, 1.5708))),
            StarterFace("End, front", "tank", "flat", "show", Cells("left", "round", 0, 3, 4, 6), ("dome", {"radius": _share(H, 0.6), "height": _share(H, 0.2)}, 1)),
            StarterFace("Barrel, right", "tank", "flat", "show", Cells("right", "panel", 1, 2, 19, 8), _flat(L, _share(H, 1.5708))),
            StarterFace("End, back", "tank", "flat", "show", Cells("right", "round", 20, 3, 4, 6), ("dome", {"radius": _share(H, 0.6), "height": _share(H, 0.2)}, 1)),
            StarterFace("Saddles", "channel", "frame", "below", Cells("under", "panel", 5, 4, 14, 4), ("box", {"length": W, "width": 80.0, "height": 60.0}, 2)),
            StarterFace("Tank, inside", "tank", "flat", "covered", Cells("inside", "round", 3, 2, 18, 8), ("tube", {"diameter": H, "length": L}, 1)),
        ),
    ),
    "axle": (
        "Axle",
        (
            StarterFace("Axle tube", "tube", "tube", "below", Cells("top", "panel", 5, 5, 14, 2), ("tube", {"diameter": H, "length": L}, 1)),
            StarterFace("Axle box, left", "casting", "frame", "below", Cells("left", "panel", 8, 3, 8, 7), ("box", {"length": _share(W, 1.0), "width": _share(H, 1.6), "height": _share(H, 1.8)}, 1)),
            StarterFace("Axle box, right", "casting", "frame", "below", Cells("right", "panel", 8, 3, 8, 7), ("box", {"length": _share(W, 1.0), "width": _share(H, 1.6), "height": _share(H, 1.8)}, 1)),
            StarterFace("Brackets", "channel", "frame", "below", Cells("under", "panel", 5, 4, 14, 4), ("box", {"length": 200.0, "width": 60.0, "height": 60.0}, 4)),
        ),
    ),
    "doors": (
        "Door set",
        (
            StarterFace("Door, left, outer", "skin", "flat", "show", Cells("left", "panel", 3, 1, 18, 8), _flat(L, H)),
            StarterFace("Door, left, foot", "lip", "flat", "open", Cells("left", "panel", 3, 9, 18, 2), _flat(L, 80.0)),
            StarterFace("Door, right, outer", "skin", "flat", "show", Cells("right", "panel", 3, 1, 18, 8), _flat(L, H)),
            StarterFace("Door, right, foot", "lip", "flat", "open", Cells("right", "panel", 3, 9, 18, 2), _flat(L, 80.0)),
            StarterFace("Door, left, inner", "door", "flat", "open", Cells("inside", "panel", 1, 2, 10, 8), _flat(L, H)),
            StarterFace("Door, right, inner", "door", "flat", "open", Cells("inside", "panel", 13, 2, 10, 8), _flat(L, H)),
        ),
    ),
    "hood": (
        "Hood",
        (
            StarterFace("Hood, outer", "skin", "flat", "show", Cells("top", "taper", 3, 1, 18, 10), _flat(L, W)),
            StarterFace("Hood, inner", "inner", "flat", "open", Cells("under", "taper", 3, 1, 18, 7), _flat(L, W)),
            StarterFace("Hood, folded edge", "lip", "tube", "open", Cells("under", "panel", 3, 9, 18, 2), _flat((2.0, 2.0, 0.0), 30.0)),
        ),
    ),
}  # fmt: skip


def shapes_of(piece: StarterFace, length_mm: float, width_mm: float, height_mm: float) -> list[dict]:
    """The stored shapes of a layout's zone for a piece of these overall dimensions [mm]."""
    kind, dims, count = piece.shape
    sizes = (length_mm, width_mm, height_mm)
    told = {
        name: round(
            sum(k * size for k, size in zip(dim, sizes, strict=True)) if isinstance(dim, tuple) else float(dim), 1
        )
        for name, dim in dims.items()
    }
    return [{"kind": kind, "dims": told, "count": count}]
