"""Area of a mesh, whole or by parts. Run as a program it measures one file in a process of its own.

`python -m emplastra.core.piece.meshes FILE KIND` writes JSON lines: {"done": share, "words": ...} while it
works, at last {"report": ...} or {"error": ...}. The process limits its own memory and time first.
Source: area of a triangle by the cross product of two edges; reading by trimesh.
"""

import json
import sys
from collections.abc import Callable
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import numpy as np

MAX_BYTES = 40_000_000
MAX_FACES = 3_000_000
KINDS = ("stl", "obj", "ply")
UNITS_M = {"mm": 0.001, "cm": 0.01, "m": 1.0, "in": 0.0254}
MEMORY_BYTES, CPU_S = 3_000_000_000, 120
LISTED = 60
"""Parts that are listed by themselves, the largest first; the rest are told together."""


class MeshError(ValueError):
    """A file that cannot be measured, with what would be accepted."""


@dataclass(frozen=True)
class MeshPart:
    """A connected part: number, area [file units squared], faces, size [file units], whether it is closed."""

    number: int
    area: float
    faces: int
    size: tuple[float, float, float]
    closed: bool


@dataclass(frozen=True)
class MeshReport:
    """What a mesh holds: parts by area, the largest first, and how many small ones the last one stands for."""

    parts: tuple[MeshPart, ...]
    faces: int
    area: float
    closed: bool
    together: int = 0


def kind_of(name: str, head: bytes, size: int) -> str:
    """The kind of a mesh file by its name and its first bytes. Raises MeshError."""
    kind = name.rsplit(".", 1)[-1].lower()
    if size > MAX_BYTES:
        raise MeshError(f"the file has {size / 1e6:.0f} MB: at most {MAX_BYTES / 1e6:.0f} MB are read; reduce the mesh")
    if kind not in KINDS:
        raise MeshError("must be an STL, OBJ or PLY file")
    text = head.lstrip()[:400].lower()
    if kind == "ply" and not head.startswith(b"ply"):
        raise MeshError("is named PLY but does not begin as one does; save it anew as STL, OBJ or PLY")
    if kind == "stl" and not text.startswith(b"solid") and size != _binary_stl_bytes(head):
        raise MeshError("is named STL but its length does not fit its number of faces; it may be cut off")
    if kind == "obj" and (b"\x00" in head or not any(line.startswith(_OBJ_LINES) for line in text.splitlines())):
        raise MeshError("is named OBJ but holds no vertices; save it anew as STL, OBJ or PLY")
    return kind


_OBJ_LINES = (b"v ", b"#", b"o ", b"g ", b"mtllib")


def _binary_stl_bytes(head: bytes) -> int:
    """How long a binary STL that begins so has to be [bytes]; none is shorter than its head."""
    return 84 + 50 * int.from_bytes(head[80:84], "little") if len(head) >= 84 else -1


def components(faces: np.ndarray, count: int) -> np.ndarray:
    """A label for each face, the same for faces joined through vertices. faces: (n, 3) of vertex numbers below
    count.
    """
    label = np.arange(count)
    while True:
        low = label[faces].min(axis=1)
        new = label.copy()
        np.minimum.at(new, faces.ravel(), np.repeat(low, 3))
        new = new[new]
        if np.array_equal(new, label):
            return label[faces[:, 0]]
        label = new


def measure(vertices: np.ndarray, faces: np.ndarray, say: Callable[[float, str], None] = lambda *_: None) -> MeshReport:
    """Parts and areas of triangles. vertices: (n, 3), faces: (m, 3) of vertex numbers. Raises MeshError."""
    if not len(faces):
        raise MeshError("holds no face: a surface of triangles is wanted, not points or lines")
    if len(faces) > MAX_FACES:
        raise MeshError(f"has {len(faces):,} faces: at most {MAX_FACES:,} are measured; reduce the mesh")
    if faces.min() < 0 or faces.max() >= len(vertices):
        raise MeshError("names vertices that it does not hold; it may be cut off")
    if not np.isfinite(vertices).all():
        raise MeshError("holds coordinates that are no numbers")
    say(0.4, "joining equal vertices")
    # Files that list each face apart repeat its corners; equal ones within a millionth of the size are one.
    grain = max(float(np.ptp(vertices, axis=0).max()) * 1e-6, 1e-300)
    _, same = np.unique(np.round(vertices / grain).astype(np.int64), axis=0, return_inverse=True)
    same = same.reshape(-1)
    corners = vertices[faces]
    areas = 0.5 * np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
    joined = same[faces]
    solid = (joined[:, 0] != joined[:, 1]) & (joined[:, 1] != joined[:, 2]) & (joined[:, 2] != joined[:, 0])
    if not solid.any() or areas[solid].sum() <= 0:
        raise MeshError("has no area: all its faces are lines or points")
    joined, areas, corners = joined[solid], areas[solid], corners[solid]
    say(0.6, "finding its parts")
    label = components(joined, int(same.max()) + 1)
    say(0.8, "adding up")
    open_labels = _open(joined, label)
    names, index = np.unique(label, return_inverse=True)
    index = index.reshape(-1)
    sums, counts = np.bincount(index, areas), np.bincount(index)
    order = np.argsort(-sums)
    parts = []
    for number, i in enumerate(order[:LISTED], 1):
        low, high = corners[index == i].min(axis=(0, 1)), corners[index == i].max(axis=(0, 1))
        x, y, z = (round(float(side), 6) for side in high - low)
        parts.append(MeshPart(number, float(sums[i]), int(counts[i]), (x, y, z), int(names[i]) not in open_labels))
    rest = order[LISTED:]
    if len(rest):
        closed = not open_labels & {int(names[i]) for i in rest}
        parts.append(MeshPart(LISTED + 1, float(sums[rest].sum()), int(counts[rest].sum()), (0.0, 0.0, 0.0), closed))
    return MeshReport(tuple(parts), len(joined), float(areas.sum()), not open_labels, len(rest))


def _open(faces: np.ndarray, label: np.ndarray) -> set[int]:
    """Labels of parts that have an edge which does not lie between exactly two faces."""
    edges = np.sort(np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]]), axis=1)
    _, where, counts = np.unique(edges, axis=0, return_index=True, return_counts=True)
    return {int(x) for x in np.unique(np.tile(label, 3)[where[counts != 2]])}


def area_m2(report: MeshReport, unit: str, picked: set[int] | None = None, both: bool = False) -> float:
    """Area [m2] of the parts picked by number (None: all), of one face of the sheet or of both.

    unit: what one unit of the file is, a key of UNITS_M. Raises MeshError if nothing is picked.
    """
    parts = [p for p in report.parts if picked is None or p.number in picked]
    if not parts:
        raise MeshError("pick at least one part")
    return sum(p.area for p in parts) * UNITS_M[unit] ** 2 * (2 if both else 1)


def read(path: Path, kind: str) -> tuple[np.ndarray, np.ndarray]:
    """Vertices (n, 3) and triangles (m, 3) of a file. Raises MeshError. Materials it names are not looked for."""
    import trimesh

    of_kind: dict[str, Any] = {"maintain_order": True, "skip_materials": True} if kind == "obj" else {}
    options = {"process": False, **of_kind}
    try:
        with path.open("rb") as file:
            loaded = trimesh.load_scene(file, file_type=kind, resolver=None, **options)
            meshes = [g for g in loaded.geometry.values() if isinstance(g, trimesh.Trimesh)]
    except MemoryError:
        raise
    except Exception as error:
        raise MeshError(f"cannot be read as {kind.upper()}: {str(error)[:120]}") from error
    if not meshes:
        raise MeshError("holds no face: a surface of triangles is wanted, not points or lines")
    offsets = np.cumsum([0, *(len(m.vertices) for m in meshes)])
    vertices = np.concatenate([np.asarray(m.vertices, dtype=float) for m in meshes])
    faces = np.concatenate([np.asarray(m.faces) + k for m, k in zip(meshes, offsets, strict=False)])
    return vertices, faces


def report_of(document: dict) -> MeshReport:
    """A report from its JSON."""
    parts = tuple(MeshPart(**{**p, "size": tuple(p["size"])}) for p in document["parts"])
    return MeshReport(**{**document, "parts": parts})


def _limit() -> None:
    import resource

    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CPU, (CPU_S, CPU_S))


def main(path: str, kind: str) -> None:
    """Measure a file and write JSON lines."""

    def say(done: float, words: str) -> None:
        print(json.dumps({"done": done, "words": words}), flush=True)

    _limit()
    try:
        say(0.05, "reading the file")
        vertices, faces = read(Path(path), kind)
        report = measure(vertices, faces, say)
        print(json.dumps({"report": asdict(report)}), flush=True)
    except MeshError as error:
        print(json.dumps({"error": str(error)}), flush=True)
    except MemoryError:
        print(json.dumps({"error": "is too large to be measured here; reduce the mesh"}), flush=True)


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2])
