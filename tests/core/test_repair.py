"""Repair or replace: overrun against an independent computation, sums and verdicts worked out by hand."""

import math
import statistics
from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from emplastra.core.metal import solder
from emplastra.core.metal.hours import Stint, hours_by
from emplastra.core.metal.repair import OPTIONS, Factor, Proposal, RepairError, cost_of, factor, hours_of, judge_set

ONE = Factor(1.0, 1.0, 1.0, 9)
FLAT = {"repair": ONE, "fit": ONE, "access": ONE}
HOURS = st.tuples(st.floats(0.1, 200), st.floats(0.1, 200))


class FactorTests(SimpleTestCase):
    def test_nothing_told_is_the_assumption(self):
        f = factor([])
        self.assertAlmostEqual(f.mid, 1.5)
        self.assertEqual((round(f.low, 6), round(f.high, 6), f.n, f.basis.value), (0.9375, 2.4, 0, "assumed"))

    def test_two_hours_became_two_days(self):
        """ln 8 over one job with four of ln 1.5: exp((2.0794 + 1.6219)/5) = 2.0964."""
        self.assertAlmostEqual(factor([(2, 16)]).mid, math.exp((math.log(8) + 4 * math.log(1.5)) / 5))
        self.assertAlmostEqual(factor([(2, 16)]).mid, 2.0964, places=3)

    @given(st.lists(HOURS, max_size=12))
    def test_against_the_geometric_mean(self, told):
        """f is the geometric mean of the ratios and of four 1.5; from eight on the range is theirs, by statistics.stdev."""
        ratios = [a / p for p, a in told]
        f = factor(told)
        self.assertAlmostEqual(f.mid, statistics.geometric_mean([*ratios, 1.5, 1.5, 1.5, 1.5]), places=9)
        spread = 1.6 if len(ratios) < 8 else math.exp(1.28 * statistics.stdev(map(math.log, ratios)))
        self.assertAlmostEqual(f.high / f.mid, spread, places=9)
        self.assertAlmostEqual(f.mid / f.low, spread, places=9)

    def test_hours_that_cannot_be(self):
        for told in ([(0, 3)], [(2, -1)], [(float("nan"), 1)]):
            self.assertRaisesRegex(RepairError, "above 0", factor, told)


class CostTests(SimpleTestCase):
    def test_hours_by_pieces_and_edges_with_what_nobody_has_seen(self):
        """Three patches with 2 m of edge: 3·0.75 + 2·1.5 = 5.25 h; one unseen skin adds a fifth to middle and high."""
        piece = Proposal("patch", 3, 2000, unseen=1, material=40)
        self.assertAlmostEqual(piece.plan_h, 5.25)
        hours = hours_of(piece, Factor(1.5, 1.0, 2.0, 3))
        self.assertEqual([round(x, 6) for x in (hours.low, hours.mid, hours.high)], [5.25, 9.45, 12.6])
        cost = cost_of(piece, Factor(1.5, 1.0, 2.0, 3), 50)
        self.assertEqual([round(x, 6) for x in (cost.low, cost.mid, cost.high)], [302.5, 512.5, 670.0])

    def test_figures_that_cannot_be_are_named(self):
        for field, piece in (("option", Proposal("glue")), ("pieces", Proposal("patch", 0)), ("edge_mm", Proposal("patch", 1, -5)), ("unseen", Proposal("patch", 1, 0, 10)), ("price", Proposal("part", price=float("nan")))):  # fmt: skip
            with self.subTest(field), self.assertRaises(RepairError) as caught:
                piece.check()
            self.assertEqual(caught.exception.field, field)


class SetTests(SimpleTestCase):
    """At 50 an hour, without overrun, the opening taking 2 h: 100."""

    def verdict(self, *pieces, factors=FLAT):
        return judge_set(pieces, 2.0, factors, 50)

    def test_an_outer_part_and_an_inner_repair_behind_one_opening_are_added_up(self):
        """Patch inside 2.25 h, part outside 2.7 h and 500, the opening 2 h: 6.95 h at 50, and 500: 847.50."""
        inner = Proposal("patch", 1, 1000, of="inner")
        outer = Proposal("part", edge_mm=1000, price=500, of="outer")
        both = self.verdict(inner, outer)
        self.assertEqual((both.repair.cost.mid, both.repair.hours.mid, both.replacements), (847.5, 6.95, ()))
        # A whole does for both, a part of the inner face only for that: the outer part is fitted beside it.
        whole, part = Proposal("whole", price=100), Proposal("part", edge_mm=0, price=10, of="inner")
        costs = {o.name: o.cost.mid for o in self.verdict(inner, outer, whole, part).replacements}
        alone = self.verdict(whole).replacements[0].cost.mid
        self.assertEqual(costs[OPTIONS["whole"].name], alone)
        self.assertEqual(costs[OPTIONS["part"].name], 1.5 * 50 + 10 + 2.7 * 50 + 500 + 100)
        # For one and the same face they stay set against each other.
        self.assertEqual(self.verdict(replace(inner, of="x"), replace(outer, of="x")).said, "repair")

    def test_each_way_of_saying_it(self):
        patch = Proposal("patch", 1, 1000)  # 2.25 h + 2 h: 212.5
        dear = Proposal("part", edge_mm=1000, price=500)  # 2.7 h + 2 h + 500: 735
        cheap = Proposal("part", edge_mm=0, price=10)  # 1.5 h + 2 h + 10: 185
        table = [
            ((patch, dear), "repair"),
            ((patch, cheap), "replace"),
            ((patch, Proposal("whole", had="no", price=1)), "repair only"),
            ((dear,), "replace only"),
            ((patch,), "nothing"),
            ((), "nothing"),
        ]
        for pieces, said in table:
            with self.subTest(said):
                self.assertEqual(self.verdict(*pieces).said, said)
        verdict = self.verdict(patch, dear)
        self.assertEqual((verdict.repair.cost.mid, verdict.replacements[0].cost.mid), (212.5, 735.0))

    def test_a_part_that_comes_only_whole_is_none(self):
        """The part is struck; the whole at (2 + 2) · 50 + 10 = 210 beats 212.5, and is asked for where nobody priced it."""
        patch, part = Proposal("patch", 1, 1000), Proposal("part", price=1, had="whole")
        alone = self.verdict(patch, part)
        self.assertEqual((alone.said, alone.replacements[0].why), ("repair only", "only whole to be had"))
        self.assertIn("price the whole panel", alone.note)
        both = self.verdict(patch, part, Proposal("whole", price=10, had="whole"))
        self.assertEqual((both.said, both.note, [c.had for c in both.replacements]), ("replace", "", [False, True]))
        self.assertEqual(both.replacements[1].cost.mid, 210)

    def test_ranges_that_overlap_are_close(self):
        wide = {"repair": Factor(1.5, 0.9, 2.4, 0), "fit": Factor(1.5, 0.9, 2.4, 0), "access": ONE}
        self.assertEqual(self.verdict(Proposal("patch", 2, 2000), Proposal("part", edge_mm=2000, price=150), factors=wide).said, "close")  # fmt: skip

    def test_a_fair_skin_over_a_rotten_inner_is_priced_as_one_set(self):
        """Alone the skin would be patched (212.5 against 350); with the inner behind it the whole goes. Common practice, no source."""
        skin, inner = Proposal("patch", 1, 1000), Proposal("sections", 2, 3000, material=60)  # inner: 8.4 h + 60: 480
        whole = Proposal("part", edge_mm=0, price=175)  # 1.5 h + 2 h + 175: 350
        self.assertEqual(self.verdict(skin, whole).said, "repair")
        both = self.verdict(skin, inner, whole)
        self.assertEqual(both.said, "replace")
        self.assertAlmostEqual(both.repair.cost.mid, 212.5 + 480)  # the opening once, not twice

    def test_every_option_has_a_side(self):
        self.assertEqual({o.side for o in OPTIONS.values()}, {"repair", "replace"})


class SolderTests(SimpleTestCase):
    def test_density_and_mass(self):
        """70/30 by volume additivity: 9720 kg/m3. A seam 300 x 40 x 4 mm, two thirds of 48 mL: 32 mL, 311 g; as filler 60 g."""
        self.assertAlmostEqual(solder.density_kg_m3(0.7), 9720, delta=1)
        self.assertEqual((solder.density_kg_m3(1.0), solder.density_kg_m3(0.0)), (11340.0, 7290.0))
        self.assertAlmostEqual(solder.mass_g("70-30", 300, 40, 4), 32 * 9.720, places=1)
        self.assertEqual([line.value for line in solder.working("70-30", 300, 40, 4).lines], ["32.0", "311", "60"])
        for field, args in (("alloy", ("zinc", 1, 1, 1)), ("length_mm", ("70-30", 0, 1, 1)), ("depth_mm", ("70-30", 10, 10, 51))):  # fmt: skip
            with self.subTest(field), self.assertRaises(solder.SolderError) as caught:
                solder.mass_g(*args)
            self.assertEqual(caught.exception.field, field)

    def test_what_came_out_and_went_in_and_what_the_school_says(self):
        found = solder.balance([("out", "70-30", 200.0), ("out", "60-40", 100.0), ("in", "lead-free", 80.0)])
        self.assertEqual((found.out_g, found.in_g, found.lead_out_g), (300.0, 80.0, 200.0))
        self.assertEqual(solder.steps("out", "seam"), ("All lead goes.", solder.REMOVAL))
        self.assertEqual(solder.steps("stays", "seam")[1], solder.KEEPING)
        self.assertEqual(solder.steps("out", "none"), ("No solder is told of.", ()))
        self.assertIn("test it before", solder.steps("stays", "suspected")[0])
        self.assertIn("hazardous-waste site", " ".join(solder.REMOVAL))


class WorkedTests(SimpleTestCase):
    def test_a_persons_time_is_counted_once(self):
        """One strips two zones of 3 and 1 m2 from 8 to 10 and keys the first from 9 to 10; another helps from 8 to 9."""
        h = 3600
        stints = [
            Stint(1, "strip", 1, 8 * h, 10 * h, 3.0), Stint(1, "strip", 2, 8 * h, 10 * h, 1.0),
            Stint(1, "key", 1, 9 * h, 10 * h, 4.0), Stint(2, "strip", 1, 8 * h, 9 * h, 1.5), Stint(2, "key", 2, 9 * h, 9 * h, 1.0),
        ]  # fmt: skip
        # 8 to 9: 3/4 and 1/4 of the first one's hour; 9 to 10: 3/8, 1/8 and 4/8 of it; the other's hour whole.
        self.assertEqual(
            hours_by(stints), {(1, "strip"): 0.75 + 0.375 + 1.0, (2, "strip"): 0.25 + 0.125, (1, "key"): 0.5}
        )
        alike = [Stint(1, "a", 1, 0, h, 0.0), Stint(1, "a", 2, 0, h, 0.0)]
        self.assertEqual(hours_by(alike), {(1, "a"): 0.5, (2, "a"): 0.5})

    @settings(max_examples=80, deadline=None)
    @given(st.lists(st.tuples(st.integers(1, 2), st.sampled_from("ab"), st.integers(1, 3), st.integers(0, 20), st.integers(0, 9), st.floats(0.1, 9)), max_size=7))  # fmt: skip
    def test_it_is_the_sum_over_minutes(self, rows):
        """Minute by minute: each person's minute is shared out over what runs in it, by area."""
        expected = {}
        for minute in range(30):
            for who in (1, 2):
                running = [r for r in rows if r[0] == who and r[3] <= minute < r[3] + r[4]]
                for _, kind, zone, _, _, area in running:
                    expected[zone, kind] = expected.get((zone, kind), 0.0) + area / sum(r[5] for r in running) / 60
        found = hours_by([Stint(who, kind, zone, 60 * a, 60 * (a + n), area) for who, kind, zone, a, n, area in rows])
        self.assertEqual(set(found), set(expected))
        for key, hours in expected.items():
            self.assertAlmostEqual(found[key], hours)
