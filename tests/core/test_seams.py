"""Sealer and wax by geometry: sections of known shapes, gaps of a stitched lap, a lance in a cavity."""

import math

from django.test import SimpleTestCase

from emplastra.core.errors import FieldError
from emplastra.core.surface import seams, texture
from tests.rulings import sheet_of


class SealerTests(SimpleTestCase):
    def test_a_bead_by_its_section(self):
        rows = (
            # A fillet is a triangle, a half round half an ellipse, a band and a groove are rectangles.
            (("fillet", 2000, 6, 6), 2000 * 6 * 6 / 2 / 1000),
            (("round", 1000, 8, 4), 1000 * math.pi * 4 * 4 / 2 / 1000),
            (("band", 1500, 20, 1), 1500 * 20 / 1000),
            (("groove", 1000, 5, 3), 15.0),
        )
        for (shape, run, width, height), ml in rows:
            with self.subTest(shape):
                found = seams.sealed(run, width, height, shape)
                self.assertAlmostEqual(found.laid_ml, ml)
                self.assertAlmostEqual(found.bought_ml, ml / 0.9)
                self.assertEqual((found.gaps, found.gap_ml), (0, 0))
                self.assertEqual(found.minutes, math.ceil(run / 600))
        # 310 mL are one cartridge to the last drop.
        exact = 310 * 0.9 * 1000 / (10 * 3)
        self.assertEqual([seams.sealed(run, 10, 3, "band").cartridges for run in (exact, exact + 1)], [1, 2])

    def test_what_a_stitched_lap_leaves_open(self):
        # Stitches of 25 mm every 100 mm over 1.05 m: ten gaps of 75 mm, 0.5 mm open and 12 deep: 4.5 mL.
        found = seams.sealed(1050, 10, 2, "band", 100, 25, 0.5, 12)
        self.assertEqual((found.gaps, found.gap_mm), (10, 75))
        self.assertAlmostEqual(found.gap_ml, 10 * 75 * 0.5 * 12 / 1000)
        self.assertAlmostEqual(found.laid_ml, 21.0 + 4.5)

    def test_what_cannot_be(self):
        for wrong, field in (
            ((0, 5, 5, "band"), "run"), ((1000, 0, 5, "band"), "width"), ((1000, 5, 201, "band"), "height"), ((1000, 5, 5, "blob"), "shape"),
            ((1000, 5, 5, "band", 50, 50), "stitch"), ((1000, 5, 5, "band", 50, 0), "stitch"), ((math.nan, 5, 5, "band"), "run"),
        ):  # fmt: skip
            with self.subTest(wrong), self.assertRaises(FieldError) as caught:
                seams.sealed(*wrong)
            self.assertEqual(caught.exception.field, field)


class WaxTests(SimpleTestCase):
    def test_a_cavity_by_its_inside(self):
        # A sill of 80 x 120 mm, 1.8 m long: 0.72 m2; 100 µm dry at 40 % are 250 µm wet: 180 mL, and 30 % drip out.
        around = seams.around_box_mm(80, 120)
        found = seams.waxed(1800, around, 100, 40, holes=1)
        self.assertAlmostEqual(found.area_m2, 0.72)
        self.assertAlmostEqual(found.left_ml, 180.0)
        self.assertAlmostEqual(found.bought_ml, 180 / 0.7)
        self.assertEqual((found.holes, found.lacking), (2, 1))
        self.assertEqual([seams.waxed(mm, around, 100, 40).holes for mm in (1200, 1201, 2400)], [1, 2, 2])
        self.assertAlmostEqual(seams.around_tube_mm(100), math.pi * 100)
        for wrong, field in (
            ((0, 400, 100, 40), "length"), ((1800, 0, 100, 40), "around"), ((1800, 400, 0, 40), "film"), ((1800, 400, 100, 0), "solids"),
            ((1800, 400, 100, 101), "solids"), ((1800, 400, 100, 40, 0, 0), "reach"),
        ):  # fmt: skip
            with self.subTest(wrong), self.assertRaises(FieldError) as caught:
                seams.waxed(*wrong)
            self.assertEqual(caught.exception.field, field)


class TextureTests(SimpleTestCase):
    def test_what_lies_over_it_by_its_sheet(self):
        rows = (("chip-coat", {}, "paint"), ("underbody-coat", {"final": True}, "last"), ("textured-coating", {}, ""), ("textured-coating", {"overpaintable": True}, "paint"))  # fmt: skip
        for kind, more, wanted in rows:
            self.assertEqual(texture.over(sheet_of(kind, **more)), wanted, kind)
        self.assertEqual(texture.over(None), "")

    def test_old_texture_is_keyed_and_feathered(self):
        sheet = sheet_of("chip-coat", methods=["brush"])
        kinds = [[step.kind for step in texture.steps(sheet, old)] for old in (False, True)]
        self.assertEqual(kinds, [["inspect", "mask", "texture"], ["inspect", "abrade", "mask", "texture"]])
        self.assertIn("hand’s breadth", texture.steps(sheet, True)[1].note)
        self.assertIn("brushed", texture.steps(sheet, False)[-1].note)
