"""VOC of mixes against 2004/42/EC, and air against the lower explosive limit. Sources beside each table."""

from dataclasses import replace

from django.test import SimpleTestCase

from emplastra.core.product import voc
from emplastra.core.product.kinds import ProductKind
from emplastra.core.product.solvent_air import SOLVENTS, STANDS_IN, air_m3_per_l, fresh_air, regulation_m3_per_l
from emplastra.core.working import Unknown
from tests.rulings import sheet_of

CUFT_GAL_IN_M3_L = 0.028316846592 / 3.785411784  # exact definitions


class VocTests(SimpleTestCase):
    def test_worked_mixes(self):
        """Invented mixes worked by hand: VOC mass / (volume less water), ideal volumes, water 1.000 kg/L."""
        clear = [(2.0, 480, 0), (1.0, 420, 0), (0.3, 870, 0)]
        water = [(5.0, 60, 400), (1.0, 250, 0), (1.0, 0, 1000)]
        table = [(clear, True, 1641 / 3.3), (clear, False, 1641 / 3.3), (water, True, 137.5), (water, False, 550 / 7)]
        for parts, less_water, expected in table:
            with self.subTest(parts=parts, less_water=less_water):
                self.assertAlmostEqual(voc.voc_g_per_l(parts, less_water), expected, 9)
        with self.assertRaises(ValueError):
            voc.voc_g_per_l([(1.0, 0, 1000)])

    def test_limits_by_kind(self):
        """2004/42/EC Annex II B, from memory."""
        table = {"panel-wipe": ("a", 850), "cleaner": ("a", 200), "body-filler": ("b", 250), "epoxy-primer": ("c", 540), "wash-primer": ("c", 780), "clear-coat": ("d", 420), "textured-coating": ("e", 840)}  # fmt: skip
        for kind, expected in table.items():
            found = voc.category_of(kind)
            self.assertEqual((found.letter, found.most_g_l), expected)
        self.assertEqual(voc.category_of("wash-primer", "aerosol").most_g_l, 840)
        self.assertIsNone(voc.category_of("cavity-wax"))
        self.assertEqual({k for k in ProductKind if voc.category_of(k) and not voc.category_of(k).less_water}, {"panel-wipe", "cleaner"})  # fmt: skip

    def mix(self, kind="clear-coat", thinner=870.0, **parts):
        names = {"a": ("Clear", 480, 0), "b": ("Hardener", 420, 0)} | parts
        rows = [{"key": k, "name": n, "role": "hardener" if k == "b" else "base", "density_g_ml": 1.0, "solids_pct": 50, **({} if v is None else {"voc_g_l": v}), "water_g_l": w} for k, (n, v, w) in names.items()]  # fmt: skip
        rows.append({"key": "t", "name": "Thinner", "role": "thinner", **({} if thinner is None else {"voc_g_l": thinner})})  # fmt: skip
        variants = [{"key": "v", "name": "v", "by": "volume", "parts": {"a": 2, "b": 1}, "temp_c": [-20, 60]}]
        sheet = sheet_of(kind, "mixed", components=rows, variants=variants, thinner={"component": "t", "pct": {"hvlp": 10}})  # fmt: skip
        return sheet, sheet.variants[0]

    def test_a_pot_as_it_is_mixed(self):
        sheet, variant = self.mix()
        found = voc.voc_of(sheet, variant, 10.0)
        self.assertAlmostEqual(found.figure.value, 1641 / 3.3, 9)
        self.assertIs(found.within, False)
        self.assertIs(voc.voc_of(*self.mix("textured-coating"), 10.0).within, True)
        self.assertAlmostEqual(voc.voc_of(sheet, variant).figure.value, 1380 / 3, 9)
        self.assertIsNone(voc.voc_of(*self.mix("cavity-wax")).within)

    def test_what_a_sheet_lacks_is_named(self):
        for more, thinner_pct, words in (({"b": ("Hardener", None, 0)}, 0, "the VOC of hardener"), ({"thinner": None}, 10, "the VOC of thinner"), ({"a": ("Water", 0, 1000), "b": ("Water", 0, 1000)}, 0, "is not water")):  # fmt: skip
            found = voc.voc_of(*self.mix(**more), thinner_pct)
            with self.subTest(words):
                self.assertIsInstance(found, Unknown)
                self.assertIn(words, found.called)
        bare = replace(self.mix()[0], variants=())
        self.assertIn("the ratio", voc.voc_of(bare, None).called)


class AirTests(SimpleTestCase):
    def test_the_regulations_own_example(self):
        """29 CFR 1910.94(c)(6)(ii), from memory: toluene 4·(100 - 1.4)·30.4/1.4 = 8 564 cu ft a gallon; the exact form 8 655."""
        toluene = SOLVENTS["toluene"]
        self.assertAlmostEqual(regulation_m3_per_l(toluene.vapour_l_l, 1.4), 8564.1143 * CUFT_GAL_IN_M3_L, 4)
        self.assertAlmostEqual(regulation_m3_per_l(toluene.vapour_l_l, 1.4), 64.064, 3)
        self.assertAlmostEqual(air_m3_per_l(toluene.vapour_l_l, 1.4), 8655.3143 * CUFT_GAL_IN_M3_L, 4)

    def test_every_row_of_the_table_ends_where_it_is_said_to(self):
        """Exactly 25 % of the limit by ours: V / (V + air) = LEL / 4; the regulation's is 25.2 to 26.5 %."""
        table = {"toluene": 25.2653, "benzene": 25.2653, "butanol": 25.2653, "cellosolve": 25.3421, "ethyl-acetate": 25.4777, "methanol": 26.448, "isopropanol": 25.3807}  # fmt: skip
        for key, of in SOLVENTS.items():
            with self.subTest(key):
                litres = air_m3_per_l(of.vapour_l_l, of.lel_pct) * 1000
                self.assertAlmostEqual(100 * of.vapour_l_l / (of.vapour_l_l + litres), of.lel_pct / 4, 9)
                ruled = regulation_m3_per_l(of.vapour_l_l, of.lel_pct) * 1000
                share = 100 * 100 * of.vapour_l_l / (of.vapour_l_l + ruled) / of.lel_pct
                self.assertAlmostEqual(share, table[key], 3)
        # Air a litre by the regulation [m3], from its Table G-11 in cubic feet a gallon, from memory.
        by_rule = {"toluene": 64.0640, "benzene": 77.5512, "butanol": 74.1794, "cellosolve": 54.8492, "ethyl-acetate": 38.2763, "methanol": 30.7015, "isopropanol": 64.5120}  # fmt: skip
        self.assertEqual({k: round(regulation_m3_per_l(s.vapour_l_l, s.lel_pct), 4) for k, s in SOLVENTS.items()}, by_rule)  # fmt: skip
        for wrong in (0, -1, 100, 140):
            self.assertRaises(ValueError, air_m3_per_l, 200.0, wrong)
            self.assertRaises(ValueError, regulation_m3_per_l, 200.0, wrong)

    def test_for_what_is_put_on(self):
        """87 g of toluene are 100 mL: a tenth of a litre's air, over 20 minutes; what stands in wants no less a litre."""
        found = fresh_air(87.0, 20.0, "toluene", True)
        self.assertAlmostEqual(found.m3, 0.1 * 8655.3143 * CUFT_GAL_IN_M3_L, 4)
        self.assertAlmostEqual(found.m3_min, found.m3 / 20, 9)
        self.assertAlmostEqual(found.regulation_m3, 0.1 * 64.064, 3)
        usual = {key: air_m3_per_l(s.vapour_l_l, s.lel_pct) for key, s in SOLVENTS.items() if key not in {"benzene"}}
        self.assertEqual(max(usual, key=usual.get), STANDS_IN)
        self.assertRaises(ValueError, fresh_air, 10.0, 0.0)
        self.assertIn("breathed", found.working.source)
