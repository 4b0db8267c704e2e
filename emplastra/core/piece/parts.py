"""Forms of part: where rust hides in each, and starter layouts of whole pieces.

Where rust hides: common practice, no source.
"""

from dataclasses import dataclass

from .job_map import Cells


@dataclass(frozen=True)
class Part:
    """A form of part: its name, and (key, words) of the places where rust hides in it."""

    name: str
    hides: tuple[tuple[str, str], ...]


PARTS: dict[str, Part] = {
    "skin": Part(
        "Outer skin",
        (
            ("lower-edge", "along the lower edge, 50 mm up"),
            ("corners", "in the corners"),
            ("fittings", "behind lamps, handles, brackets"),
            ("seam", "along seams and drip rails"),
        ),
    ),
    "inner": Part(
        "Inner skin",
        (
            ("foot", "at the foot, where water stands"),
            ("flange", "in the double flange to the outer skin"),
            ("stiffeners", "under stiffeners and pads"),
        ),
    ),
    "floor": Part(
        "Floor",
        (
            ("edges", "along the edges and the wheel openings"),
            ("mats", "under mats and pads"),
            ("jacking", "at jacking points"),
            ("drains", "around each drain and bung"),
        ),
    ),
    "box": Part(
        "Box section",
        (
            ("inside", "inside, by mirror or camera"),
            ("bottom", "along the inside of its bottom"),
            ("ends", "at closed ends and joints"),
            ("drains", "at blocked drains"),
        ),
    ),
    "channel": Part(
        "Open section, channel or angle",
        (
            ("upper-face", "on the upper face, where dirt lies"),
            ("laps", "in laps and under rivets"),
            ("ends", "at the ends"),
        ),
    ),
    "lip": Part(
        "Lip, arch or flange",
        (
            ("packed", "in the lip, once it is emptied"),
            ("lap", "in the lap, felt and tapped"),
            ("stone", "where stones strike"),
        ),
    ),
    "door": Part(
        "Door or lid",
        (
            ("foot", "in the folded foot"),
            ("drains", "at the drain slots"),
            ("hinge", "at hinges and the check strap"),
            ("glass", "under the glass seal"),
        ),
    ),
    "casting": Part("Casting", (("faces", "on mating faces"), ("pockets", "in pockets and bolt holes"))),
    "tank": Part(
        "Tank",
        (
            ("bottom", "along the bottom inside"),
            ("saddle", "under straps and saddles"),
            ("seam", "along the welded seam"),
            ("sump", "at the drain"),
        ),
    ),
    "tube": Part("Tube or pipe", (("clips", "under clips"), ("low", "at the low point"), ("ends", "at unions"))),
    "other": Part("Other", (("edges", "along its edges"), ("laps", "in laps and under fittings"))),
}


@dataclass(frozen=True)
class Piece:
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


LAYOUTS: dict[str, tuple[str, tuple[Piece, ...]]] = {
    "cab": (
        "Sheet cab",
        (
            Piece("Side, left, outer", "skin", "flat", "show", Cells("left", "panel", 6, 1, 17, 10), _flat(L, H)),
            Piece("Front, outer", "skin", "flat", "show", Cells("left", "panel", 0, 1, 5, 10), _flat(W, H)),
            Piece("Side, right, outer", "skin", "flat", "show", Cells("right", "panel", 1, 1, 17, 10), _flat(L, H)),
            Piece("Back, outer", "skin", "flat", "show", Cells("right", "panel", 19, 1, 5, 10), _flat(W, H)),
            Piece("Roof, outer", "skin", "flat", "show", Cells("top", "panel", 3, 2, 18, 8), _flat(L, W)),
            Piece("Floor, from below", "floor", "flat", "below", Cells("under", "panel", 3, 2, 18, 8), _flat(L, W)),
            Piece("Sides, inner", "inner", "flat", "open", Cells("inside", "panel", 1, 1, 13, 5), _flat(L, H, 2)),
            Piece("Ends, inner", "inner", "flat", "open", Cells("inside", "panel", 15, 1, 8, 5), _flat(W, H, 2)),
            Piece("Floor, inner", "floor", "flat", "covered", Cells("inside", "panel", 1, 7, 22, 4), _flat(L, W)),
        ),
    ),
    "frame": (
        "Frame",
        (
            Piece("Rail, left, outer", "box", "frame", "below", Cells("left", "panel", 1, 4, 22, 4), _flat(L, _share(H, 1.0))),
            Piece("Rail, right, outer", "box", "frame", "below", Cells("right", "panel", 1, 4, 22, 4), _flat(L, _share(H, 1.0))),
            Piece("Rails, upper faces", "box", "frame", "covered", Cells("top", "panel", 1, 1, 22, 3), _flat(L, _share(H, 0.6), 2)),
            Piece("Cross members", "channel", "frame", "below", Cells("top", "panel", 4, 5, 16, 6), ("box", {"length": W, "width": _share(H, 0.6), "height": H}, 4)),
            Piece("Rails, lower faces", "box", "frame", "below", Cells("under", "panel", 1, 4, 22, 4), _flat(L, _share(H, 0.6), 2)),
            Piece("Rails, inside the section", "box", "tube", "covered", Cells("inside", "panel", 1, 4, 22, 4), ("box", {"length": L, "width": _share(H, 0.55), "height": _share(H, 0.95)}, 2)),
        ),
    ),
    "tank": (
        "Tank",
        (
            Piece("Barrel, left", "tank", "flat", "show", Cells("left", "panel", 4, 2, 19, 8), _flat(L, _share(H, 1.5708))),
            Piece("End, front", "tank", "flat", "show", Cells("left", "round", 0, 3, 4, 6), ("dome", {"radius": _share(H, 0.6), "height": _share(H, 0.2)}, 1)),
            Piece("Barrel, right", "tank", "flat", "show", Cells("right", "panel", 1, 2, 19, 8), _flat(L, _share(H, 1.5708))),
            Piece("End, back", "tank", "flat", "show", Cells("right", "round", 20, 3, 4, 6), ("dome", {"radius": _share(H, 0.6), "height": _share(H, 0.2)}, 1)),
            Piece("Saddles", "channel", "frame", "below", Cells("under", "panel", 5, 4, 14, 4), ("box", {"length": W, "width": 80.0, "height": 60.0}, 2)),
            Piece("Tank, inside", "tank", "flat", "covered", Cells("inside", "round", 3, 2, 18, 8), ("tube", {"diameter": H, "length": L}, 1)),
        ),
    ),
    "axle": (
        "Axle",
        (
            Piece("Axle tube", "tube", "tube", "below", Cells("top", "panel", 5, 5, 14, 2), ("tube", {"diameter": H, "length": L}, 1)),
            Piece("Axle box, left", "casting", "frame", "below", Cells("left", "panel", 8, 3, 8, 7), ("box", {"length": _share(W, 1.0), "width": _share(H, 1.6), "height": _share(H, 1.8)}, 1)),
            Piece("Axle box, right", "casting", "frame", "below", Cells("right", "panel", 8, 3, 8, 7), ("box", {"length": _share(W, 1.0), "width": _share(H, 1.6), "height": _share(H, 1.8)}, 1)),
            Piece("Brackets", "channel", "frame", "below", Cells("under", "panel", 5, 4, 14, 4), ("box", {"length": 200.0, "width": 60.0, "height": 60.0}, 4)),
        ),
    ),
    "doors": (
        "Door set",
        (
            Piece("Door, left, outer", "skin", "flat", "show", Cells("left", "panel", 3, 1, 18, 8), _flat(L, H)),
            Piece("Door, left, foot", "lip", "flat", "open", Cells("left", "panel", 3, 9, 18, 2), _flat(L, 80.0)),
            Piece("Door, right, outer", "skin", "flat", "show", Cells("right", "panel", 3, 1, 18, 8), _flat(L, H)),
            Piece("Door, right, foot", "lip", "flat", "open", Cells("right", "panel", 3, 9, 18, 2), _flat(L, 80.0)),
            Piece("Door, left, inner", "door", "flat", "open", Cells("inside", "panel", 1, 2, 10, 8), _flat(L, H)),
            Piece("Door, right, inner", "door", "flat", "open", Cells("inside", "panel", 13, 2, 10, 8), _flat(L, H)),
        ),
    ),
    "hood": (
        "Hood",
        (
            Piece("Hood, outer", "skin", "flat", "show", Cells("top", "taper", 3, 1, 18, 10), _flat(L, W)),
            Piece("Hood, inner", "inner", "flat", "open", Cells("under", "taper", 3, 1, 18, 7), _flat(L, W)),
            Piece("Hood, folded edge", "lip", "tube", "open", Cells("under", "panel", 3, 9, 18, 2), _flat((2.0, 2.0, 0.0), 30.0)),
        ),
    ),
}  # fmt: skip


def shapes_of(piece: Piece, length_mm: float, width_mm: float, height_mm: float) -> list[dict]:
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
