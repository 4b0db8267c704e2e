"""The job map, areas in parts, and meshes: labels by geometry, areas against analytic solids."""

import json
import math
import subprocess
import sys
import tempfile
from pathlib import Path

import numpy as np
import trimesh
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from emplastra.core.errors import FieldError
from emplastra.core.piece import areas, meshes, parts
from emplastra.core.piece.face_grid import grid_of, runs_of
from emplastra.core.piece.job_map import (
    COLUMNS,
    GUTTER_MOST,
    NUMBERED,
    ROWS,
    WIDTH,
    Cells,
    PlaceError,
    Tile,
    arrange,
    free_place,
    view_of,
)

NAMES = st.text("abcdefgh ,", min_size=1, max_size=40)
CELLS = st.tuples(
    st.sampled_from(["left", "top", "inside"]), st.sampled_from(["panel", "round", "taper", "wedge", "arch"]),
    st.integers(0, COLUMNS - 1), st.integers(0, ROWS - 1), st.integers(1, COLUMNS), st.integers(1, ROWS), st.booleans(),
).map(lambda c: Cells(c[0], c[1], c[2], c[3], min(c[4], COLUMNS - c[2]), min(c[5], ROWS - c[3]), c[6]))  # fmt: skip


class MapTests(SimpleTestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.lists(st.tuples(NAMES, CELLS), min_size=1, max_size=70))
    def test_labels_never_overlap_and_stay_in_the_picture(self, zones):
        tiles = [Tile(i, name, "Surface", cells) for i, (name, cells) in enumerate(zones)]
        views = arrange(tiles)
        self.assertEqual(sorted(d.tile.key for v in views for d in v.drawn), list(range(len(tiles))))
        for view in views:
            labels = [d.label for d in view.drawn if d.label]
            self.assertGreaterEqual(len(labels), min(len(view.drawn), 2 * GUTTER_MOST) if len(tiles) <= NUMBERED else 1)
            self.assertEqual(view.unnamed, len(view.drawn) - len(labels))
            for i, one in enumerate(labels):
                self.assertTrue(one.x >= 0 and one.x + one.w <= WIDTH and one.y >= 0 and one.y + one.h <= view.height)
                self.assertFalse(any(one.meets(other) for other in labels[i + 1 :]))
            for d in filter(lambda d: d.label, view.drawn):
                inside = d.leader is None
                self.assertEqual(inside, d.anchor == "middle")
                covered = [o for o in view.drawn if o is not d and view.grid.box(o.tile.cells).meets(d.label)]
                self.assertFalse(inside and covered)

    def test_mirror_halves_and_free_places_stay_on_the_grid(self):
        side = Cells("left", "wedge", 2, 3, 6, 4)
        self.assertEqual(side.mirrored(), Cells("right", "wedge", 16, 3, 6, 4, True))
        self.assertEqual(side.mirrored().mirrored(), side)
        one, other = side.halves(1 / 3)
        self.assertEqual((one.x, one.w, other.x, other.w), (2, 2, 4, 4))
        one, other = Cells("top", "panel", 0, 0, 1, 4).halves(0.9)
        self.assertEqual((one.h, other.y, other.h), (3, 3, 1))
        taken = []
        for _ in range(COLUMNS * ROWS // 18):  # places of 6 x 3 fill the grid without a gap
            taken.append(free_place("top", taken).check())
        spots = [{(x, y) for x in range(c.x, c.x + c.w) for y in range(c.y, c.y + c.h)} for c in taken]
        self.assertEqual(len(set().union(*spots)), sum(map(len, spots)))
        self.assertEqual(free_place("top", taken), Cells("top", "panel", 0, 0, 1, 1))

    def test_places_off_the_grid_are_named(self):
        table = [
            (("under", "panel", 24, 0, 1, 1), "x"),
            (("under", "panel", 0, 12, 1, 1), "y"),
            (("under", "panel", 20, 0, 5, 1), "w"),
            (("under", "panel", 0, 10, 1, 3), "h"),
            (("behind", "panel", 0, 0, 1, 1), "view"),
            (("under", "star", 0, 0, 1, 1), "kind"),
        ]
        for cells, field in table:
            with self.subTest(field), self.assertRaises(PlaceError) as caught:
                Cells(*cells).check()
            self.assertEqual(caught.exception.field, field)

    def test_views_are_told_from_names(self):
        for name, view in (("Cab side, right, outer", "right"), ("Roof", "top"), ("Floor, from below", "under"), ("Sides, inner", "inside"), ("Nose", "left")):  # fmt: skip
            self.assertEqual(view_of(name), view, name)

    def test_layouts_fit_their_grid_and_their_sizes(self):
        """A cab of 2 x 1.5 x 1.2 m: two sides outer, two ends, roof, floor twice, both sides and both ends inner."""
        for key, (_, pieces) in parts.LAYOUTS.items():
            self.assertEqual(len({p.name for p in pieces}), len(pieces), key)
            for piece in pieces:
                piece.cells.check()
                areas.total_area_m2(parts.shapes_of(piece, 2000, 1500, 1200))
        total = sum(areas.total_area_m2(parts.shapes_of(p, 2000, 1500, 1200)) for p in parts.LAYOUTS["cab"][1])
        self.assertAlmostEqual(total, 2 * 2.4 + 2 * 1.8 + 3.0 * 3 + 2 * 2.4 + 2 * 1.8)


class PartAreaTests(SimpleTestCase):
    @given(st.floats(1e-4, 900), st.floats(0.001, 0.999))
    def test_parts_add_up_to_the_whole_exactly(self, whole, share):
        """No rounding at all: subtracting from a number at most twice as large is exact (Sterbenz)."""
        one, other = areas.halves_m2(whole, share)
        self.assertEqual(one + other, whole)
        self.assertAlmostEqual(one / whole, share, places=9)

    def test_typed_areas_have_bounds(self):
        self.assertEqual(areas.area_m2("given", {"m2": 1.25}), 1.25)
        for m2 in (0, -1, 1001, math.nan):
            with self.subTest(m2), self.assertRaisesRegex(areas.ShapeError, "at most 1000 m²"):
                areas.area_m2("given", {"m2": m2})
        for share in (0, 1, -0.2):
            with self.subTest(share), self.assertRaises(areas.ShapeError):
                areas.halves_m2(1.0, share)


class MeshTests(SimpleTestCase):
    """trimesh's own solids against the surface of the polyhedron or solid, written out."""

    def measured(self, mesh, kind="stl", name=None):
        """The report of the child process on a mesh or on bytes."""
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / f"a.{kind}"
            path.write_bytes(mesh) if isinstance(mesh, bytes) else mesh.export(path)
            run = subprocess.run([sys.executable, "-m", "emplastra.core.piece.meshes", str(path), kind], capture_output=True, text=True)  # fmt: skip
        said = [json.loads(line) for line in run.stdout.splitlines()]
        self.assertTrue(all(0 <= s["done"] <= 1 for s in said[:-1]))
        return said[-1]

    def test_areas_of_solids(self):
        n, r, h = 16, 0.1, 0.5
        prism = 2 * n * r * math.sin(math.pi / n) * h + n * r**2 * math.sin(2 * math.pi / n)
        box = trimesh.creation.box((400, 300, 200)).apply_scale(0.001)
        table = [
            ("box, 2(ab+bc+ca), in single precision", box, "ply", 2 * (0.12 + 0.06 + 0.08), 1e-7),
            ("cylinder of 16 facets, as a prism", trimesh.creation.cylinder(r, h, sections=n), "obj", prism, 1e-6),
            ("icosphere, 4πR² less 1.882182 %", trimesh.creation.icosphere(2, 0.25), "stl", 4 * math.pi * 0.0625 * (1 - 0.01882182424687), 1e-6),
        ]  # fmt: skip
        for name, mesh, kind, expected, share in table:
            with self.subTest(name):
                report = meshes.report_of(self.measured(mesh, kind)["report"])
                self.assertTrue(report.closed)
                self.assertLess(abs(meshes.area_m2(report, "m") / expected - 1), share)
                self.assertAlmostEqual(meshes.area_m2(report, "mm", both=True), 2e-6 * report.area)

    def test_parts_are_told_apart_and_open_ones_said(self):
        """A box of 0.52 m2, a cube of 0.06 m2 away from it, and half of a third box: two triangles short."""
        cut = trimesh.creation.box((0.1, 0.1, 0.1)).apply_translation((3, 0, 0))
        cut.update_faces(np.arange(12) < 10)
        both = trimesh.util.concatenate([trimesh.creation.box((0.4, 0.3, 0.2)), trimesh.creation.box((0.1, 0.1, 0.1)).apply_translation((1, 0, 0)), cut])  # fmt: skip
        report = meshes.report_of(self.measured(both)["report"])
        self.assertEqual([(round(p.area, 6), p.faces, p.closed) for p in report.parts], [(0.52, 12, True), (0.06, 12, True), (0.05, 10, False)])  # fmt: skip
        self.assertFalse(report.closed)
        self.assertAlmostEqual(meshes.area_m2(report, "m", {2}), 0.06, places=6)
        with self.assertRaisesRegex(meshes.MeshError, "at least one part"):
            meshes.area_m2(report, "m", {9})

    def test_what_is_no_mesh_is_refused_with_what_would_do(self):
        box = trimesh.creation.box((1, 1, 1)).export(file_type="stl")
        heads = [
            ("a.step", b"ISO-10303", 10, "STL, OBJ or PLY"),
            ("a.ply", b"PK\x03\x04", 10, "does not begin as one"),
            ("a.stl", box[:200], 200, "may be cut off"),
            ("a.obj", b"<html>", 6, "holds no vertices"),
            ("a.stl", box, 41_000_000, "at most 40 MB"),
        ]
        for name, head, size, message in heads:
            with self.subTest(message), self.assertRaisesRegex(meshes.MeshError, message):
                meshes.kind_of(name, head, size)
        self.assertEqual(meshes.kind_of("Cab.STL", box, len(box)), "stl")
        huge = b"ply\nformat binary_little_endian 1.0\nelement vertex 4000000000\nproperty float x\nproperty float y\nproperty float z\nelement face 4000000000\nproperty list uchar int vertex_indices\nend_header\n\x00"
        files = [
            ("points only", b"v 0 0 0\nv 1 0 0\nv 0 1 0\n", "obj"),
            ("a face that names no vertex", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n", "obj"),
            ("not numbers", b"v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "obj"),
            ("faces without area", b"v 0 0 0\nv 1 0 0\nv 2 0 0\nf 1 2 3\n", "obj"),
            ("a count beyond all memory", huge, "ply"),
            ("material of another file", b"mtllib /etc/passwd\nusemtl a\nv 0 0 0\n", "obj"),
        ]
        for name, data, kind in files:
            with self.subTest(name):
                self.assertIn("error", self.measured(data, kind))


class FaceGridTests(SimpleTestCase):
    """A face laid flat: proportions by hand, marks there and back."""

    def test_a_face_is_its_largest_shape_unrolled(self):
        flat, hole = {"kind": "flat", "dims": {"length": 600, "width": 1200}}, {"kind": "flat", "dims": {"length": 5000, "width": 900}, "less": True}  # fmt: skip
        for shapes, m2, (w, h, columns, rows) in (
            ([flat, hole], 0.72, (1200, 600, 16, 8)),
            ([{"kind": "tube", "dims": {"diameter": 100, "length": 1000}}, {"kind": "given", "dims": {"m2": 0.01}}], 0.33, (1000, 100 * math.pi, 16, 5)),
            ([{"kind": "box", "dims": {"length": 1000, "width": 60, "height": 190}}], 0.5, (1000, 500, 16, 8)),
            ([{"kind": "flat", "dims": {"length": 4000, "width": 20}}], 0.08, (4000, 20, 16, 3)),
            ([{"kind": "mesh", "dims": {"m2": 4.0}}], 4.0, (2000, 2000, 16, 16)),
        ):  # fmt: skip
            with self.subTest(shapes):
                grid = grid_of(shapes, m2)
                self.assertEqual((round(grid.w_mm, 6), round(grid.h_mm, 6), grid.columns, grid.rows), (w, round(h, 6), columns, rows))  # fmt: skip

    @settings(max_examples=60, deadline=None)
    @given(st.sets(st.tuples(st.integers(0, 15), st.integers(0, 7))))
    def test_marks_read_as_they_were_written(self, cells):
        grid = grid_of([{"kind": "flat", "dims": {"length": 1200, "width": 600}}], 0.72)
        mark = grid.write(cells)
        self.assertEqual(grid.read(mark), cells)
        self.assertAlmostEqual(grid.share(cells), len(cells) / 128)
        columns, rows, runs = runs_of(mark)
        self.assertEqual({(c + i, r) for c, r, n in runs for i in range(n)}, cells)
        self.assertEqual((columns, rows), (16, 8))

    def test_a_mark_of_another_face_is_refused(self):
        grid = grid_of([{"kind": "flat", "dims": {"length": 1200, "width": 600}}], 0.72)
        good = grid.write({(0, 0), (15, 7)})
        self.assertEqual(good, "16x8:8000.0.0.0.0.0.0.1")
        for bad in ("16x9:0", "16x8:0.0", good + ".0", good.replace("8000", "18000"), good.replace("8000", "x"), "", "16x8", "x" * 300):  # fmt: skip
            with self.subTest(bad), self.assertRaises(FieldError):
                grid.read(bad)
