"""Pots of a round, by hand at one temperature, by brute force, and against scipy where the air warms up."""

import math

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.optimize import brentq

from emplastra.core.air import journey as air
from emplastra.core.buying.pots import Round, plan_pots
from emplastra.core.product.sheet import read
from emplastra.core.words import written
from tests.base import PRIMER

MIN, H = 60.0, 3600.0
POUR, INDUCTION, LIFE = 10, 15, 120


def shop(temps, step_s=H):
    """A shop with these temperatures one after another [°C]."""
    temps = np.asarray(temps, float)
    moments = np.arange(len(temps)) * step_s
    return air.journey([(0.0, air.Air(moments, temps, np.full(len(temps), 5.0), np.zeros(len(temps) - 1, np.int8)), "shop")])  # fmt: skip


def sheet(**more):
    return read(PRIMER | more)


STEADY = shop([20.0] * 200)


class SteadyTests(SimpleTestCase):
    def test_by_hand(self):
        """Life 120 min less 10 to pour and 15 to wait leaves 95 min: 190 min are two pots, a minute more is three."""
        table = [
            # (volume mL, round min, vessel, smallest) -> (count, each, binds, lasts, begins min, from min)
            ((800, 60, None, 100), (1, 800, "", True, [0], [25])),
            ((800, 95, None, 100), (1, 800, "", True, [0], [25])),
            ((800, 96, None, 100), (2, 400, "life", True, [0, 48], [25, 73])),
            ((800, 190, None, 100), (2, 400, "life", True, [0, 95], [25, 120])),
            ((800, 191, None, 100), (3, 800 / 3, "life", True, [0, 191 / 3, 382 / 3], [25, 25 + 191 / 3, 25 + 382 / 3])),
            ((800, 60, 300, 100), (3, 800 / 3, "vessel", True, [0, 20, 40], [25, 45, 65])),
            ((800, 12, 300, 100), (3, 800 / 3, "vessel", True, [0, 4, 8], [25, 29, 33])),
            ((40, 20, None, 100), (1, 100, "", True, [0], [25])),
            ((40, 20, 60, 100), (1, 60, "", True, [0], [25])),
            # 1.2 L in one vessel lives 0.7 x 120 = 84 min, 59 of them to use; in two it lives its 120.
            ((1200, 59, None, 100), (1, 1200, "", True, [0], [25])),
            ((1200, 60, None, 100), (2, 600, "life", True, [0, 30], [25, 55])),
            # No pot under 250 mL: three at most, of 100 min each, 5 more than they live.
            ((800, 300, None, 250), (3, 800 / 3, "life", False, [0, 100, 200], [25, 125, 225])),
        ]  # fmt: skip
        for (volume, minutes, vessel, least), (count, each, binds, lasts, begins, froms) in table:
            with self.subTest(volume=volume, minutes=minutes, vessel=vessel):
                plan = plan_pots(STEADY, sheet(), Round(volume, minutes * MIN, 0.0, None, vessel, least))
                self.assertEqual((plan.count, plan.binds, plan.lasts), (count, binds, lasts))
                self.assertAlmostEqual(plan.each_ml, each)
                for pot, begin, start in zip(plan.pots, begins, froms, strict=True):
                    self.assertAlmostEqual(pot.begin_s / MIN, begin, delta=0.05)
                    self.assertAlmostEqual(pot.from_s / MIN, start, delta=0.05)
        self.assertAlmostEqual(plan_pots(STEADY, sheet(), Round(40, 1200, 0.0)).surplus_ml, 60)
        lost = plan_pots(STEADY, sheet(), Round(800, 300 * MIN, 0.0, None, None, 250))
        self.assertAlmostEqual(lost.pots[0].dead_ml, 800 / 3 * 5 / 100, delta=0.01)
        self.assertIn("40 mL die before you are round", written(lost.sentence))

    def test_what_stays_in_the_gun_is_lost_once_a_pot(self):
        """600 mL at the faces, 30 mL a pot: of vessels of 330 mL, two; of 329, three of 230."""
        for vessel, count, each in ((330, 2, 330), (329, 3, 230), (None, 1, 630)):
            with self.subTest(vessel):
                plan = plan_pots(STEADY, sheet(), Round(600, 600, 0.0, None, vessel, loss_ml=30.0))
                self.assertEqual((plan.count, plan.each_ml, plan.surplus_ml), (count, each, 0))
        self.assertRaises(ValueError, plan_pots, STEADY, sheet(), Round(600, 600, 0.0, None, 30, loss_ml=30.0))

    def test_what_is_never_ready_or_never_dead(self):
        cold = sheet(induction=[[10, 30], [20, 15]], pot_life=[[10, 240], [20, 120]])
        never = plan_pots(shop([1.0] * 900), cold, Round(500, 600, 0.0))
        self.assertEqual((never.lasts, never.sentence), (False, "It is too cold: its induction stands still."))
        short = plan_pots(STEADY, sheet(pot_life=[[0, 20], [40, 20]]), Round(500, 600, 0.0, smallest_ml=250))
        self.assertIn("dead before its induction is over", short.sentence)
        untold = {k: v for k, v in PRIMER.items() if k not in {"pot_life", "induction"}}
        open_end = plan_pots(STEADY, read(untold), Round(500, 10 * H, 0.0))
        self.assertEqual((open_end.count, open_end.pots[0].dead_s, open_end.pots[0].from_s), (1, None, POUR * MIN))
        for wrong in (Round(500, 0, 0.0), Round(0, 60, 0.0), Round(500, 60, 0.0, smallest_ml=0)):
            self.assertRaises(ValueError, plan_pots, STEADY, sheet(), wrong)

    def test_the_next_coat_is_mixed_to_be_ready_when_it_opens(self):
        plan = plan_pots(STEADY, sheet(), Round(500, 600, 0.0, 3 * H))
        self.assertAlmostEqual(plan.pots[0].begin_s / MIN, 180 - POUR - INDUCTION, delta=0.05)
        self.assertAlmostEqual(plan.pots[0].from_s, 3 * H, delta=0.01)
        soon = plan_pots(STEADY, sheet(), Round(500, 600, 0.0, 600.0))
        self.assertEqual((soon.pots[0].begin_s, soon.pots[0].from_s), (0.0, 1500.0))

    @settings(max_examples=60, deadline=None)
    @given(st.integers(1, 12000), st.integers(1, 900), st.one_of(st.none(), st.integers(50, 5000)), st.integers(1, 600))
    def test_the_fewest_that_last_by_counting_up(self, volume, minutes, vessel, least):
        """Every number from one on, each with its own share of life: the first that fits vessel and life is taken."""
        plan = plan_pots(STEADY, sheet(), Round(volume, minutes * MIN, 0.0, None, vessel, least))
        lasting = []
        for n in range(1, 241):  # 12,000 mL in vessels of 50
            ml = max(volume / n, min(least, vessel or least))
            share = 0.5 if ml > 4000 else 0.7 if ml > 1000 else 1.0
            fits = vessel is None or volume / n <= vessel + 1e-6
            if fits and minutes / n <= LIFE * share - POUR - INDUCTION:
                lasting.append(n)
        most = max(math.ceil(volume / (vessel or volume) - 1e-9), min(200, volume // least))
        possible = [n for n in lasting if n <= max(most, 1)]
        self.assertEqual(plan.lasts, bool(possible))
        if possible:
            self.assertEqual(plan.count, possible[0])
        self.assertAlmostEqual(sum(pot.used_ml for pot in plan.pots), volume)
        for a, b in zip(plan.pots, plan.pots[1:], strict=False):
            self.assertAlmostEqual(b.from_s, max(a.empty_s, b.ready_s), delta=1)


class WarmingTests(SimpleTestCase):
    def test_life_and_induction_against_quadrature(self):
        """10 to 30 °C in eight hours: the moments at which scipy's integral of the sheet's rate is one."""
        warm = sheet(induction=[[10, 40], [30, 10]], pot_life=[[10, 400], [30, 60]])
        where = shop([10 + 2.5 * h for h in range(9)] + [30.0] * 40)
        temp = lambda t: min(30.0, 10 + 2.5 * t / H)  # noqa: E731

        def over(table, start, share=1.0):
            done = lambda end: quad(lambda t: float(table.rate_per_min(temp(t))) / MIN, start, end, limit=400)[0] - share  # noqa: E731  # fmt: skip
            return brentq(done, start + 1, start + 12 * H, xtol=1e-3)

        for begin_h, volume in ((0, 500), (2, 1500), (5, 5000)):
            with self.subTest(begin_h):
                share = {500: 1.0, 1500: 0.7, 5000: 0.5}[volume]
                pot = plan_pots(where, warm, Round(volume, 60.0, begin_h * H)).pots[0]
                self.assertAlmostEqual(pot.ready_s, over(warm.induction, begin_h * H + POUR * MIN), delta=2)
                self.assertAlmostEqual(pot.dead_s, over(warm.pot_life, begin_h * H, share), delta=2)
        plan = plan_pots(where, warm, Round(900, 4 * H, H))
        for a, b in zip(plan.pots, plan.pots[1:], strict=False):
            self.assertAlmostEqual(over(warm.induction, b.begin_s + POUR * MIN), a.empty_s, delta=3)
        self.assertGreater(plan.count, 1)
