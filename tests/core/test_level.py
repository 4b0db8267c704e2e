"""Level: depths read in, lows and highs, volumes, waves, filler and blocks."""

import itertools
import math

import numpy as np
import trimesh
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import trapezoid
from scipy.interpolate import RegularGridInterpolator

from emplastra.core.errors import FieldError
from emplastra.core.level import blocks, filling
from emplastra.core.level.depths import Depth, Island, read, read_marks, relief_of, waviness_mm
from emplastra.core.piece import relief


def grid(z, columns, rows):
    """Depths in the middles of equal fields, by a function of the shares of width and height."""
    return [Depth(z((c + 0.5) / columns, (r + 0.5) / rows), (c + 0.5) / columns, (r + 0.5) / rows) for r in range(rows) for c in range(columns)]  # fmt: skip


def cap(depth, radius_mm, w_mm, h_mm, x=0.5, y=0.5):
    """A dent as a part of a sphere: so deep in its middle, so wide at its rim."""
    sphere = (radius_mm**2 + depth**2) / (2 * depth)
    return lambda u, v: -max(0.0, math.sqrt(max(0.0, sphere**2 - ((u - x) * w_mm) ** 2 - ((v - y) * h_mm) ** 2)) - (sphere - depth))  # fmt: skip


def island(mm=-1.0, area=0.01, ml=5.0, wide=200.0, name="A"):
    return Island(name, mm, area, ml, (0.4, 0.4, 0.6, 0.6), wide)


class DepthTests(SimpleTestCase):
    def test_rows_are_read_with_their_signs(self):
        found = read("-0.4 0 +0.2\n0,5 - −1.25")
        self.assertEqual([(d.mm, round(d.x, 4), d.y) for d in found], [(-0.4, 0.1667, 0.25), (0, 0.5, 0.25), (0.2, 0.8333, 0.25), (0.5, 0.1667, 0.75), (-1.25, 0.8333, 0.75)])  # fmt: skip
        self.assertAlmostEqual(read("-0.02 0", "in")[0].mm, -0.508)
        self.assertEqual(read("9 -1", sure=True)[0].mm, 9)
        for text, field, word in (("", "depths", "write how far"), ("9 -1", "sure", "written with a minus"), ("5.1 0", "sure", "proud"), ("1 a", "depths", "line 1: a"), ("- -", "depths", "0 places"), ("-101", "depths", "from -100 to 100"), ("0 " * 2001, "depths", "2001 places")):  # fmt: skip
            with self.subTest(text[:12]), self.assertRaisesMessage(FieldError, word) as caught:
                read(text)
            self.assertEqual(caught.exception.field, field)
        self.assertEqual(len(read("5 -100")), 2)
        self.assertEqual([(d.mm, d.x, d.y) for d in read("x %, y %, depth\n12.5, 40, -0.4\n100, 0, 1")], [(-0.4, 0.125, 0.4), (1, 1, 0)])  # fmt: skip
        for bad, word in (("12, 40", "must be x %"), ("101, 0, 1", "from -100 to 100"), ("-1, 0, 1", "off the face"), ("1, 2,", "must be x %")):  # fmt: skip
            with self.subTest(bad), self.assertRaisesMessage(FieldError, word):
                read(f"x %, y %, depth\n{bad}")

    @settings(max_examples=30, deadline=None)
    @given(st.lists(st.floats(-3, 3), min_size=35, max_size=35))
    def test_what_lies_between_and_its_volume_against_scipy(self, values):
        """A grid of 7 by 5 linear between, held at the edges; the volume as a double trapezoid of what is below flat."""
        z = iter(values)
        depths = grid(lambda u, v: next(z), 7, 5)
        face = relief_of(depths, 1400.0, 1000.0)
        rows, columns = face.mm.shape
        xs, ys = np.array([(k + 0.5) / 7 for k in range(7)]), np.array([(k + 0.5) / 5 for k in range(5)])
        beside = RegularGridInterpolator((ys, xs), np.array(values).reshape(5, 7))
        gx, gy = np.linspace(0, 1, columns), np.linspace(0, 1, rows)
        at = [(min(max(v, ys[0]), ys[-1]), min(max(u, xs[0]), xs[-1])) for v in gy for u in gx]
        expected = beside(at).reshape(rows, columns)
        self.assertTrue(np.allclose(face.mm, expected))
        for low in (True, False):
            clipped = np.maximum(0, -expected if low else expected)
            ml = trapezoid(trapezoid(clipped, gx * 1400.0, axis=1), gy * 1000.0) / 1000.0
            self.assertAlmostEqual(face.volume_ml(low), ml, places=6)
        for x, y in ((0.37, 0.61), (0.02, 0.98), (0.5, 0.13)):
            self.assertAlmostEqual(face.at(x, y), RegularGridInterpolator((gy, gx), expected)((y, x)).item(), places=9)

    def test_a_known_dent_against_its_formula_and_a_mesh(self):
        """A cap of a sphere, 2 mm deep, 300 mm across: V = π h (3 r² + h²) ÷ 6 = 70.7 mL, and the same body as a mesh."""
        dent = cap(2.0, 150.0, 960.0, 640.0)
        face = relief_of(grid(dent, 48, 32), 960.0, 640.0)
        exact = math.pi * 2.0 * (3 * 150.0**2 + 2.0**2) / 6 / 1000
        self.assertAlmostEqual(exact, 70.69, places=1)
        self.assertAlmostEqual(face.volume_ml() / exact, 1.0, delta=0.01)
        self.assertAlmostEqual(face.volume_ml() / _body_ml(dent, 960.0, 640.0), 1.0, delta=0.01)
        self.assertEqual(face.volume_ml(low=False), 0)
        # Fields that touch at their sides are one low; one field between them parts them.
        fields = np.zeros((5, 7), bool)
        fields[1, 1:3], fields[2, 2], fields[1, 4], fields[4, 2] = True, True, True, True
        self.assertEqual(relief.part_of(fields, (1, 1)).sum(), 3)
        (low,) = face.islands(1e-9)
        self.assertAlmostEqual(low.volume_ml, face.volume_ml(), places=3)
        self.assertTrue(all(abs(at - 0.5) < 0.05 for at in low.middle), low.middle)
        self.assertTrue(low.reach[0] < 0.5 < low.reach[2] and low.reach[1] < 0.5 < low.reach[3], low.reach)
        (low,) = face.islands(0.15)
        self.assertTrue(low.is_low and low.name == "A")
        self.assertAlmostEqual(low.mm, -2.0, delta=0.03)
        self.assertAlmostEqual(low.middle[0], 0.5, places=1)
        # Beyond 0.15 mm it is 300 · √(1 − 0.15 ÷ 2) = 289 mm across, whichever way.
        self.assertAlmostEqual(low.wide_mm, 289, delta=30)
        self.assertAlmostEqual(face.flat_share(0.15), 1 - math.pi * 144.3**2 / (960 * 640), delta=0.02)
        self.assertIsNone(relief_of([Depth(0, 0, 0)] * 3, 100, 100))

    def test_lows_and_highs_are_lettered_by_volume(self):
        both = lambda u, v: cap(2.0, 120.0, 1200.0, 600.0, 0.25)(u, v) - cap(1.0, 90.0, 1200.0, 600.0, 0.75)(u, v)  # noqa: E731  # fmt: skip
        face = relief_of(grid(both, 48, 24), 1200.0, 600.0)
        self.assertEqual([(i.name, i.is_low) for i in face.islands(0.15)], [("A", True), ("B", False)])
        self.assertEqual(face.islands(2.5), ())
        outlines = face.outlines(-10.0, -0.15)
        self.assertEqual(len(outlines), 1)
        along, depth = face.line(0.5)
        self.assertEqual((along[0], along[-1], round(float(depth.min()), 1), round(float(depth.max()), 1)), (0, 1200, -2.0, 1.0))  # fmt: skip

    def test_waves_under_a_straightedge(self):
        """A sine of 0.5 mm and 300 mm: under an edge of a wave or more 1 mm is left; under a shorter one on a hollow less:
        an edge of length L over its trough leaves 0.5 (1 − cos(π L ÷ 300))."""
        x = np.linspace(0, 1200, 1201)
        z = 0.5 * np.sin(2 * np.pi * x / 300)
        for edge, gap in ((300, 1.0), (600, 1.0), (900, 1.0), (150, 0.5), (100, 0.25)):
            with self.subTest(edge):
                self.assertAlmostEqual(waviness_mm(x, z, edge), gap, places=2)
        self.assertAlmostEqual(waviness_mm(x, 0.01 * x, 600), 0, places=6)
        self.assertAlmostEqual(waviness_mm(x, -(((x - 600) / 600) ** 2), 2400), 0, places=6)
        self.assertEqual(waviness_mm(x[:1], z[:1], 300), 0)


def _body_ml(dent, w_mm, h_mm, n=120):
    """The body between flat and a dent as a closed mesh: its volume by trimesh."""
    xs, ys = np.linspace(0, 1, n), np.linspace(0, 1, n)
    low = [(u * w_mm, v * h_mm, dent(u, v) - 1e-6) for v in ys for u in xs]
    top = [(u * w_mm, v * h_mm, 0.0) for v in ys for u in xs]
    faces, off = [], len(low)
    for r, c in itertools.product(range(n - 1), range(n - 1)):
        a, b, d, e = r * n + c, r * n + c + 1, (r + 1) * n + c, (r + 1) * n + c + 1
        faces += [(a, d, b), (b, d, e), (off + a, off + b, off + d), (off + b, off + e, off + d)]
    rim = [
        *range(n),
        *range(2 * n - 1, n * n, n),
        *range(n * n - 2, n * n - n - 1, -1),
        *range(n * n - 2 * n, 0, -n),
        0,
    ]
    for a, b in itertools.pairwise(rim):
        faces += [(a, b, off + a), (b, off + b, off + a)]
    body = trimesh.Trimesh(low + top, faces, process=False)
    return abs(body.volume) / 1000


BODY = filling.Paste("body-filler", 1.9, 2.0, 3.0, None, 20.0)


class FillTests(SimpleTestCase):
    def test_what_a_low_takes(self):
        """20 mL below flat over 0.03 m², half a millimetre proud: 20 + 15 = 35 mL, 2 % lost: 35.714; 1.9 g/mL: 67.86 g,
        of which 100 ÷ 102 paste. 4 mm in lifts of 3 are two; 5 + 2 · (3 + 4 · 0.3) + 0.6 · 15 = 22.4 min, 40 waited."""
        found = filling.fill(island(-4.0, 0.03, 20.0), BODY)
        self.assertEqual((found.lifts, round(found.volume_ml, 3)), (2, 35.714))
        self.assertAlmostEqual(found.paste_g + found.hardener_g, 67.857, places=3)
        self.assertAlmostEqual(found.hardener_g / found.paste_g, 0.02)
        self.assertAlmostEqual(found.work_min, 22.4)
        self.assertEqual(found.wait_min, 40)
        self.assertEqual(found.working(BODY).lines[0].value, 35.7)
        for mm, lifts in ((-3.0, 1), (-3.01, 2), (-0.2, 1), (-5.0, 2)):
            self.assertEqual(filling.fill(island(mm), BODY).lifts, lifts)
        untold = filling.fill(island(), filling.Paste("fibre-filler", None, None))
        self.assertEqual((untold.paste_g, untold.hardener_g, untold.wait_min), (None, None, None))
        self.assertAlmostEqual(untold.volume_ml, (5 + 5) / 0.99)
        with self.assertRaises(ValueError):
            filling.fill(island(1.0), BODY)

    def test_when_it_is_not_filled(self):
        for mm, more, word in (
            (-4.9, {}, ""), (-5.0, {}, ""), (-5.1, {}, "metal work first"), (-1, {"open_holes": True}, "does not bridge"), (-1, {"taped": True}, "taped over"), (-1, {"highs_left": True}, "highs first"),
            (-9, {"taped": True, "open_holes": True}, "taped over"),
        ):  # fmt: skip
            with self.subTest(mm=mm, **more):
                said = filling.not_to_fill(island(mm), BODY, **more)
                self.assertTrue(word in said and bool(said) == bool(word), said)
        self.assertEqual(filling.not_to_fill(island(-7), filling.Paste("body-filler", 1.9, 2, 3, 8)), "")
        # 40 % lower than 1 mm, 30 %, and all of it lower by 0.9.
        for share, mm, low in ((0.4, -1.5, True), (0.3, -1.5, False), (1.1, -0.9, False), (1.1, -1.1, True)):
            face = relief_of(grid(lambda u, v, share=share, mm=mm: mm if u < share else 0.0, 40, 10), 1000, 500)
            self.assertEqual(filling.is_low_panel(face), low)


class BlockTests(SimpleTestCase):
    def test_how_long_a_block(self):
        """As long as the low and 75 mm at each end: 320 + 150 = 470 takes 600; a face of 400 has room for 565 at 45°."""
        for wide, face, length in ((320, (1400, 900), (600, True)), (50, (1400, 900), (200, True)), (0, (1400, 900), (200, True)), (150, (1400, 900), (300, True)), (320, (1400, 400), (400, False)), (900, (2000, 1800), (900, False)), (60, (200, 50), (125, False))):  # fmt: skip
            with self.subTest(wide=wide, face=face):
                self.assertEqual(blocks.block_mm([island(wide=wide), island(1.0, wide=5000)], *face), length)

    def test_the_marks_show_again_when_nothing_stands_over_them(self):
        marked = [Island("A", -1, 0.01, 5, (0.2, 0.4, 0.3, 0.6), 100), Island("B", -1, 0.01, 5, (0.7, 0.4, 0.8, 0.6), 100), Island("C", 1, 0.01, 5, (0.4, 0.4, 0.6, 0.6), 100)]  # fmt: skip
        proud = relief_of(grid(lambda u, v: 0.4 if u > 0.6 else 0.1, 12, 6), 1200, 600)
        self.assertEqual(blocks.shows(marked, proud, 0.15), {"A": True, "B": False})

    def test_grits_and_colours(self):
        ladder = blocks.grits()
        self.assertEqual((ladder[0], ladder[-1]), ("P40", "P180"))
        self.assertIn("a high", blocks.said_of(True, "grey"))
        self.assertIn("guide coat is left", blocks.said_of(False, "guide coat"))


class MarkTests(SimpleTestCase):
    def test_lows_and_highs_are_marked_without_a_figure(self):
        """In rows each in the middle of its field, in a list where it says; figures beside them stay depths."""
        rows = "- low -\nHIGH 0 -0.4"
        self.assertEqual([(m.name, m.high, round(m.x, 4), m.y) for m in read_marks(rows)], [("A", False, 0.5, 0.25), ("B", True, 0.1667, 0.75)])  # fmt: skip
        self.assertEqual([d.mm for d in read(rows)], [0, -0.4])
        listed = "x %, y %, depth\n10, 20, high\n30, 40, low\n50, 60, -1"
        self.assertEqual([(m.high, m.x, m.y) for m in read_marks(listed)], [(True, 0.1, 0.2), (False, 0.3, 0.4)])
        self.assertEqual([d.mm for d in read(listed)], [-1])
        self.assertEqual(read("low high"), ())
        for text, word in (("x %, y %, depth\n99, -4, low", "off the face"), ("- -", "0 places"), ("lo", "line 1")):
            with self.subTest(text), self.assertRaisesMessage(FieldError, word):
                read(text)

    def test_what_is_done_next_by_marks(self):
        """Highs, then the straightedge, then filler until the marks show again. Common practice, no source."""
        marks = read_marks("low high low")
        for filled, shown, words in ((False, "", "Work B down first"), (True, "", "Block on: A, C are buried still"), (True, "A", "Block on: C is buried"), (True, "AC", "show again it is flat: stop")):  # fmt: skip
            self.assertIn(words, blocks.next_of(marks, filled, shown))
        self.assertIn("Lay a straightedge on A", blocks.next_of(read_marks("low"), False, ""))

    def test_rounds_stand_beside_their_plan(self):
        """A low of 2.5 mm in lifts of 1: −1.5, −0.5, 0 planned; two were filled, so one is to come, then blocking."""
        told = [("found", -2.5, 0.4), ("highs", -2.5, 0.1), ("filled", -1.4, 0.1), ("filled", -0.3, 0.3)]
        found = blocks.rounds(told, 2.5, 1.0)
        self.assertEqual([(r.what, r.mm and r.mm[0], r.planned_mm) for r in found], [("found", -2.5, None), ("highs", -2.5, None), ("filled", -1.4, -1.5), ("filled", -0.3, -0.5), ("filled", None, 0.0), ("blocked", None, 0.0)])  # fmt: skip
        more = [*told, ("filled", 0.1, 0.4), ("filled", 0.1, 0.4), ("blocked", -0.1, 0.1)]
        self.assertEqual([r.planned_mm for r in blocks.rounds(more, 2.5, 1.0)], [None, None, -1.5, -0.5, 0, 0, None])
        self.assertEqual(blocks.rounds([], 0.0, 1.0), [])
        self.assertEqual([r.planned_mm for r in blocks.rounds(told[:1], 4.0, 1.5)], [None, -2.5, -1.0, 0.0, 0.0])
