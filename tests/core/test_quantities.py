"""What plans take: whole build-ups worked by hand, sums of money as fractions, whether a tin is enough."""

from fractions import Fraction

from django.test import SimpleTestCase

from emplastra.core.buying.amounts import FaceAsked, Paint, Supplied, Unsaid, amounts
from emplastra.core.buying.bill import Alike, price_per_ml, sum_of
from emplastra.core.buying.enough import is_enough
from emplastra.core.piece.areas import edges_mm
from emplastra.core.surface.plan import PlanStep
from emplastra.core.working import Basis, Unknown
from tests.rulings import sheet_of

#: Solids 50 % in both parts, 4:1 by volume, VOC 400 and 300 g/L; a litre of base 20.00, half a litre of hardener 12.50.
PARTS = [{"key": "a", "name": "Base", "role": "base", "density_g_ml": 1.5, "solids_pct": 50, "voc_g_l": 400}, {"key": "b", "name": "Hardener", "role": "hardener", "density_g_ml": 1.0, "solids_pct": 50, "voc_g_l": 300}, {"key": "t", "name": "Thinner", "role": "thinner", "density_g_ml": 0.8, "voc_g_l": 800}]  # fmt: skip
EPOXY = sheet_of("epoxy-primer", "mixed", product="E", components=PARTS, thinner={"component": "t", "pct": {"hvlp": 10}}, tins=[{"component": "a", "ml": 1000, "price": 20}, {"component": "a", "ml": 4000, "price": 60}, {"component": "b", "ml": 500, "price": 12.5}, {"component": "t", "ml": 3000, "price": 10}])  # fmt: skip
MASTIC = sheet_of("epoxy-mastic", "mixed", product="M", components=PARTS[:2])
FILLER = sheet_of("body-filler", "mixed", product="F", components=[{"key": "a", "name": "Filler", "role": "base", "density_g_ml": 1.8, "solids_pct": 97}, {"key": "b", "name": "Paste", "role": "hardener", "density_g_ml": 1.8, "solids_pct": 50}], variants=[{"key": "v", "name": "v", "by": "mass", "parts": {"a": 98, "b": 2}, "temp_c": [-20, 60]}])  # fmt: skip
SOLDER = sheet_of("body-solder", product="S", components=[{"key": "bar", "name": "Bar", "role": "ready", "density_g_ml": 9.72}])  # fmt: skip
WIPE = sheet_of("panel-wipe", product="W", components=[{"key": "can", "name": "Can", "role": "ready", "density_g_ml": 0.75}], use={"ml_m2": 40})  # fmt: skip
SHEETS = {"E": EPOXY, "M": MASTIC, "F": FILLER, "S": SOLDER, "W": WIPE}


def taken(steps, face, **more):
    return amounts(steps, SHEETS, face, **more)


def bill_of(found, face, sheets=SHEETS):
    return Alike(found, face, sheets).bill(face)


class BuildUpTests(SimpleTestCase):
    """litres = area · (film + profile) / (10 · solids) / share that stays, and what stays in the gun, once a pot."""

    def test_sprayed_over_a_blasted_skin(self):
        """Two coats of 50 µm over 2 m²; the profile of 25 µm in the first only; 55 % stays, 30 mL a pot, thinner on top."""
        steps = [PlanStep("k", "abrade", grit="P80"), PlanStep("w", "degrease", "W"), PlanStep("e", "prime", "E", 2, 50.0, thinner_pct=10.0)]  # fmt: skip
        discs, wipe, paint = taken(steps, FaceAsked("skin", 2.0, "flat", "blasted fine"))
        first, second = 2 * 75 / 500 / 0.55 * 1000 + 30, 2 * 50 / 500 / 0.55 * 1000 + 30
        self.assertAlmostEqual(paint.mixed_ml, first + second, 9)
        self.assertAlmostEqual(paint.gun_ml, 1.1 * (first + second), 9)
        self.assertEqual([n for n, _ in paint.parts], ["Base", "Hardener"])
        self.assertAlmostEqual(paint.parts[0][1], 0.8 * (first + second), 9)
        self.assertAlmostEqual(paint.wet_um, 50 * 110 / 50, 9)
        self.assertAlmostEqual(wipe.amount, 80.0, 9)
        self.assertEqual((discs.amount, discs.basis), (7.0, Basis.ASSUMED))  # 0.6 m² a disc, half of it on metal: 6.67
        done = taken(steps, FaceAsked("skin", 2.0, "flat", "blasted fine"), done={"e": 1}, coated=True, gone=frozenset("kw"))  # fmt: skip
        self.assertEqual(len(done), 1)
        self.assertAlmostEqual(done[0].mixed_ml, second, 9)
        self.assertEqual(taken(steps, FaceAsked("skin", 2.0), done={"e": 2}, gone=frozenset("kw")), [])
        for grit, area, discs in (("P60", 0.31, 2), ("P120", 0.6, 1), ("P240", 2.5, 3), ("P400", 4.0, 2), ("P800", 4.1, 3), ("P2000", 4.0, 2)):  # fmt: skip
            found = taken([PlanStep("k", "abrade", grit=grit)], FaceAsked("a", area), coated=True)[0]
            self.assertEqual(found.amount, discs, grit)  # .3, .6, 1.2 and 2 m² each, to P60, P120, P240 and finer

    def test_brushed_on_a_frame_with_its_stripes(self):
        """A stripe 12 m long and 60 mm wide is 0.72 m²; a frame takes no more by brush; edges told by nobody are estimated."""
        steps = [PlanStep("s", "stripe", "M", 1, 100.0, method="brush", length_mm=12_000, width_mm=60), PlanStep("m", "prime", "M", 2, 100.0, method="brush")]  # fmt: skip
        shapes = [{"kind": "box", "dims": {"length": 2000, "width": 60, "height": 100}, "count": 2}, {"kind": "flat", "dims": {"length": 400, "width": 200}, "count": 1}]  # fmt: skip
        self.assertEqual(edges_mm(shapes), 2 * (4 * 2000 + 4 * 160) + 1200)
        face = FaceAsked("frame", 1.5, "frame", "sanded", edges_mm(shapes))
        stripe, coats = taken(steps, face)
        self.assertAlmostEqual(stripe.mixed_ml, 0.72 * 100 / 500 / 0.95 * 1000 + 10, 9)
        self.assertAlmostEqual(coats.mixed_ml, 2 * (1.5 * 100 / 500 / 0.95 * 1000 + 10), 9)
        guessed = taken([PlanStep("s", "stripe", "M", 1, 100.0, method="brush")], face)[0]
        self.assertEqual((guessed.area.value, guessed.area.basis), (18_480 * 50 / 1e6, Basis.ESTIMATED))
        least = taken([PlanStep("m", "prime", "M", 1, 100.0, method="brush", least=True)], face)[0]
        self.assertAlmostEqual(least.mixed_ml, 1.5 * 130 / 500 / 0.95 * 1000 + 10, 9)
        least = taken([PlanStep("m", "prime", "M", 1, 100.0, least=True)], face)[0]
        self.assertAlmostEqual(least.mixed_ml, 1.5 * 115 / 500 / (0.55 * 0.7) * 1000 + 30, 9)

    def test_filled_and_soldered(self):
        """2 mm left of 3 1/3 put on over 0.15 m² at 1.8 kg/L: 0.9 kg, 40 % sanded away (worked: A·d·ρ / (1 - 0.4)).

        Solder 300 x 20 x 3 mm, a lens of 12 mL at 9.72 g/mL.
        """
        fill = PlanStep("f", "fill", "F", 1, 2000 / 0.6, sanded_um=2000 / 0.6 - 2000, method="brush", area_m2=0.15)
        solder = PlanStep("s", "solder", "S", 1, 3000.0, length_mm=300, width_mm=20)
        filler, metal = taken([fill, solder], FaceAsked("door", 3.0))
        self.assertAlmostEqual(filler.grams, 900.0, 6)
        self.assertTrue(filler.by_mass)
        self.assertAlmostEqual(metal.amount, 12 * 9.72, 9)
        self.assertEqual(metal.what, "S")
        rest = taken([PlanStep("s", "solder", "S", 1, 3000.0, length_mm=300)], FaceAsked("door", 3.0))[0]
        self.assertIn("the width of its joint", rest.unknown.called)

    def test_what_nobody_told_is_named(self):
        bare = PlanStep("e", "prime", "E", 1, 50.0, on="bare")
        untold = PlanStep("x", "prime", "X", 1, 50.0)
        no_film = PlanStep("e", "prime", "E", 1, None)
        for step, words in ((bare, "how much is bared"), (untold, "the data sheet of X"), (no_film, "the planned film of E")):  # fmt: skip
            found = taken([step], FaceAsked("a", 1.0))[0]
            with self.subTest(words):
                self.assertIsInstance(found, Unsaid)
                self.assertIn(words, found.unknown.called)
        told = taken([PlanStep("e", "prime", "E", 1, 50.0, on="bare", area_m2=0.2)], FaceAsked("a", 1.0))[0]
        self.assertIsInstance(told, Paint)
        self.assertEqual(told.area.value, 0.2)
        self.assertEqual(taken([PlanStep("k", "block", grit="soft"), PlanStep("o", "prime", "E", left_out="no")], FaceAsked("a", 1.0)), [])  # fmt: skip


class BillTests(SimpleTestCase):
    def test_money_is_exact_and_the_cheapest_tin_is_taken(self):
        """4 L of base for 60: 0.015 a mL; half a litre of hardener for 12.50: 0.025; a third of a cent stays a third."""
        self.assertEqual([price_per_ml(EPOXY, k) for k in "abt"], [Fraction(15, 1000), Fraction(25, 1000), Fraction(1, 300)])  # fmt: skip
        self.assertIsNone(price_per_ml(MASTIC, "a"))
        steps = [PlanStep("e", "prime", "E", 1, 50.0, method="brush", thinner_pct=10.0)]
        face = FaceAsked("a", 0.95 * 10 - 0.095)  # 990 mL on the brush and the wall, 10 mL in it: a litre
        bill = bill_of(taken(steps, face), face)
        ml = face.area_m2 * 50 / 500 / 0.95 * 1000 + 10
        a, b, t = (Fraction(round(ml * share * 1000), 1000) for share in (0.8, 0.2, 0.1))
        self.assertEqual(bill.cost, a * Fraction(15, 1000) + b * Fraction(25, 1000) + t * Fraction(1, 300))
        self.assertAlmostEqual(bill.voc_g, ml / 1000 * (0.8 * 400 + 0.2 * 300 + 0.1 * 800), 9)
        twice = sum_of([bill, bill])
        self.assertEqual((twice.cost, twice.mixed_ml), (2 * bill.cost, 2 * bill.mixed_ml))
        self.assertEqual(len(twice.rows), len(bill.rows))

    def test_what_has_no_price_or_no_voc_makes_it_at_least(self):
        steps = [PlanStep("m", "prime", "M", 1, 50.0, method="brush"), PlanStep("w", "degrease", "W"), PlanStep("x", "prime", "X", 1, 50.0)]  # fmt: skip
        face = FaceAsked("a", 1.0)
        bill = bill_of(taken(steps, face), face)
        self.assertEqual((bill.unpriced, bill.no_voc, len(bill.unsaid)), (["M", "W"], ["W"], 1))
        self.assertTrue(bill.costs_at_least)
        self.assertEqual(bill.cost, 0)
        self.assertEqual([r.cost for r in bill.rows.values()], [None, None, None])
        self.assertEqual(bill.products[0][1][0].grams, (50 / 500 / 0.95 * 1000 + 10) * 0.8 * 1.5)
        self.assertAlmostEqual(bill.products[1][1][0].grams, 40 * 0.75, 9)
        light = sheet_of("epoxy-mastic", product="L", components=[{"key": "a", "name": "Tin", "role": "ready", "solids_pct": 50}])  # fmt: skip
        both = bill_of(amounts([PlanStep("l", "prime", "L", 1, 50.0)] * 2, {"L": light}, face), face, {"L": light})
        self.assertEqual([(r.grams, r.steps) for r in both.rows.values()], [(None, 2)])
        water = bill_of(taken([PlanStep("c", "clean")], face), face)
        self.assertEqual([(r.product, r.unit, r.cost) for r in water.rows.values()], [("Clean", "mL", None)])

    def test_faces_alike_in_all_but_size_are_carried_over(self):
        """As if each were worked out by itself: what stays in a gun does not grow, what was told does not, discs are whole."""
        steps = [
            PlanStep("k", "abrade", grit="P80"), PlanStep("w", "degrease", "W"), PlanStep("s", "stripe", "M", 1, 100.0, method="brush"), PlanStep("t", "stripe", "M", 1, 100.0, method="brush", length_mm=900),
            PlanStep("e", "prime", "E", 3, 50.0, thinner_pct=10.0), PlanStep("o", "prime", "E", 1, 50.0, area_m2=0.2), PlanStep("f", "fill", "F", 1, 900.0), PlanStep("l", "solder", "S", 1, 3000.0, length_mm=300, width_mm=20), PlanStep("x", "prime", "X", 1, 50.0),
        ]  # fmt: skip
        was = FaceAsked("first", 2.0, "frame", "blasted fine", 6000)
        carried = Alike(taken(steps, was), was, SHEETS)
        self.assertEqual(list(carried.paints), ["F", "E", "M"])
        self.assertEqual(carried.paints["E"].coats_left, 3)
        for area, edges in ((2.0, 6000), (0.25, 1100), (7.9, 41_000)):
            face = FaceAsked("other", area, "frame", "blasted fine", edges)
            found, wanted = carried.bill(face), bill_of(taken(steps, face), face)
            with self.subTest(area):
                self.assertEqual(
                    (found.cost, found.unpriced, found.no_voc), (wanted.cost, wanted.unpriced, wanted.no_voc)
                )
                self.assertEqual([u.step.id for u in found.unsaid], ["x"])
                for name in ("mixed_ml", "gun_ml", "voc_g"):
                    self.assertAlmostEqual(getattr(found, name), getattr(wanted, name), 9)
                for one, other in zip(found.rows.values(), wanted.rows.values(), strict=True):
                    self.assertEqual(
                        (one.product, one.part, one.unit, one.steps, one.thousandths, one.by_mass),
                        (other.product, other.part, other.unit, other.steps, other.thousandths, other.by_mass),
                    )
                    self.assertAlmostEqual(one.amount, other.amount, 9)
                    self.assertAlmostEqual(one.grams or 0.0, other.grams or 0.0, 9)

    def test_edges_that_a_shape_has_not_are_named(self):
        """A whole ball has no edge."""
        ball = [{"kind": "dome", "dims": {"radius": 100, "height": 200}, "count": 1}]
        found = taken([PlanStep("s", "stripe", "M", 1, 100.0)], FaceAsked("ball", 0.1, edges_mm=edges_mm(ball)))[0]
        self.assertEqual(found.unknown.called, "the length of its edges")


class EnoughTests(SimpleTestCase):
    """Solids 50 %, by brush: 95 % stays, 10 mL in it a coat. A litre less 10 mL over 4 m²: 990·5·.95/4/10 = 117.6 µm."""

    FACES = (FaceAsked("left", 3.0, "frame"), FaceAsked("right", 1.0, "frame"))

    def ask(self, ml, plan, coats=1, faces=FACES, sheet=MASTIC, **more):
        return is_enough(sheet, sheet.variants[0], ml, faces, "brush", plan, coats, **more)

    def test_enough_thin_short_and_more(self):
        table = [
            (1000, 100.0, 1, "enough", 1, 117.5625), (1000, 55.0, 2, "enough", 2, (1000 - 20) * 0.5 * 0.95 / 4 / 2),
            (1000, 150.0, 1, "thin", 0, 117.5625), (1000, 100.0, 2, "short", 1, 117.5625), (40, 100.0, 1, "short", 0, 30 * 0.5 * 0.95 / 4), (6000, 100.0, 1, "more", 7, 5990 * 0.5 * 0.95 / 4),
        ]  # fmt: skip
        sheet = sheet_of("epoxy-mastic", "mixed", product="M", components=PARTS[:2], film={"min_um": 80, "typical_um": 100, "max_um": 150, "coats": 1, "sag_wft_um": 400})  # fmt: skip
        for ml, plan, coats, word, whole, each in table:
            with self.subTest(ml=ml, plan=plan, coats=coats):
                found = self.ask(ml, plan, coats, sheet=sheet)
                self.assertEqual((found.word, found.coats), (word, whole))
                self.assertAlmostEqual(found.each_um, each, 6)
                self.assertAlmostEqual(found.wet_um, 2 * each, 6)
                tried = max(1, min(whole, coats))
                self.assertEqual([line.value for line in found.working.lines], [round(each * tried, 1), round(each, 1), round(2 * each)])  # fmt: skip

    def test_where_to_stop(self):
        """100 µm take 4·.. a m²: 100/500/.95 = 210.5 mL; 800 mL less 10 hold for 3.7525 m²: within the second face."""
        found = self.ask(800, 100.0)
        self.assertAlmostEqual(found.stop_m2, 790 / (100 / 500 / 0.95 * 1000), 9)
        self.assertEqual(found.stop_at, "right")
        self.assertEqual(self.ask(1000, 100.0).stop_m2, None)
        self.assertAlmostEqual(self.ask(1000, 100.0, 2).stop_m2, 980 / (200 / 500 / 0.95 * 1000), 9)  # 10 mL each coat
        early = self.ask(100, 100.0)
        self.assertEqual(early.stop_at, "left")

    def test_profile_form_and_what_cannot_be_said(self):
        """Blasted medium takes 50 µm more; a gun loses on a frame what a brush does not: .55 x .7."""
        rough = (FaceAsked("left", 4.0, "frame", "blasted medium"),)
        self.assertAlmostEqual(self.ask(1000, 50.0, faces=rough).dft_um, 117.5625 - 50, 6)
        self.assertAlmostEqual(self.ask(500, 100.0, faces=rough).stop_m2, 490 / (150 / 500 / 0.95 * 1000), 9)
        self.assertAlmostEqual(self.ask(1000, 50.0, faces=rough, on_metal=False).dft_um, 117.5625, 6)
        gun = is_enough(MASTIC, MASTIC.variants[0], 1030, self.FACES, "hvlp", 40.0)
        self.assertAlmostEqual(gun.dft_um, 1000 * 0.5 * 0.55 * 0.7 / 4, 6)
        bare = sheet_of("epoxy-mastic", "mixed", product="N", variants=None)
        self.assertIsInstance(is_enough(bare, None, 1000, self.FACES, "brush", 50.0), Unknown)
        for ml, plan, coats, faces in ((0, 50, 1, self.FACES), (10, 0, 1, self.FACES), (10, 50, 0, self.FACES), (10, 50, 1, ())):  # fmt: skip
            self.assertRaises(ValueError, self.ask, ml, plan, coats, faces)

    def test_what_is_enough_is_what_a_coat_takes(self):
        """The two ways of one identity: what a coat takes of a face gives its film back."""
        paint = taken([PlanStep("m", "prime", "M", 1, 80.0, method="brush")], self.FACES[0])[0]
        self.assertIsInstance(paint, Paint)
        self.assertNotIsInstance(paint, Supplied)
        found = self.ask(paint.mixed_ml, 80.0, faces=self.FACES[:1])
        self.assertAlmostEqual(found.dft_um, 80.0, 9)
        self.assertEqual((found.word, found.coats, found.stop_m2), ("enough", 1, None))
