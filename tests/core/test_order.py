"""Tins to buy, against every combination on small cases and an integer program of scipy's on large ones."""

from fractions import Fraction
from itertools import product
from math import ceil

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import Bounds, LinearConstraint, milp

from emplastra.core.buying.order import Aim, Kit, Size, kits_of, order, order_kits, sizes_of
from emplastra.core.product import sheet as sheets
from tests.base import PRIMER

SIZES = st.lists(
    st.tuples(st.integers(50, 5000), st.integers(1, 200)), min_size=1, max_size=3, unique_by=lambda s: s[0]
)


def made(told):
    return [Size(Fraction(ml), Fraction(price)) for ml, price in told]


class OrderTests(SimpleTestCase):
    def test_by_hand(self):
        """1 L at 30, 250 mL at 10: 1.2 L are 1 L and a quarter for 40; 1.6 L are cheaper as two litres than 1 L and three."""
        sizes = made([(1000, 30), (250, 10)])
        for wanted, aim, tins, cost, over in (
            (1200, Aim.COST, {1000: 1, 250: 1}, 40, 50), (1600, Aim.COST, {1000: 2}, 60, 400), (1600, Aim.WASTE, {1000: 1, 250: 3}, 60, 150), (1000, Aim.WASTE, {1000: 1}, 30, 0),
            (250, Aim.COST, {250: 1}, 10, 0), (1, Aim.COST, {250: 1}, 10, 249), (0, Aim.COST, {}, 0, 0), (-5, Aim.COST, {}, 0, 0), (751, Aim.COST, {1000: 1}, 30, 249),
        ):  # fmt: skip
            with self.subTest(wanted=wanted, aim=aim):
                found = order(wanted, sizes, aim)
                if (wanted, aim) == (1600, Aim.COST):  # both cost 60: the one that leaves less over
                    tins, over = {1000: 1, 250: 3}, 150
                self.assertEqual(({int(s.ml): n for s, n in found.tins}, found.cost, found.over_ml), (tins, cost, over))
        self.assertIsNone(order(100, []))
        self.assertIsNone(order(1e9, made([(1, 1)])))
        untold = order(1200, [Size(Fraction(1000)), Size(Fraction(250), Fraction(10))])
        self.assertEqual((untold.cost, untold.over_ml, untold.count), (None, 50, 2))

    @settings(max_examples=80, deadline=None)
    @given(SIZES, st.integers(1, 12000), st.sampled_from(list(Aim)))
    def test_against_every_combination(self, told, wanted, aim):
        wanted = min(wanted, 12 * max(ml for ml, _ in told), 20 * min(ml for ml, _ in told))
        sizes = made(told)
        counts = product(*(range(ceil(wanted / ml) + 1) for ml, _ in told))
        keys = []
        for each in counts:
            ml = sum(n * size.ml for n, size in zip(each, sizes, strict=True))
            cost = sum(n * size.price for n, size in zip(each, sizes, strict=True))
            if ml >= wanted:
                keys.append(
                    (cost, ml - wanted, sum(each)) if aim is Aim.COST else ((ml - wanted) // 10, cost, sum(each))
                )
        found = order(wanted, sizes, aim)
        mine = (found.cost, found.over_ml) if aim is Aim.COST else (found.over_ml // 10, found.cost)
        self.assertEqual((*mine, found.count), min(keys))

    @settings(max_examples=40, deadline=None)
    @given(st.lists(st.tuples(st.integers(200, 20000), st.integers(500, 60000)), min_size=2, max_size=5, unique_by=lambda s: s[0]), st.integers(20000, 200000))  # fmt: skip
    def test_the_least_cost_against_an_integer_program(self, told, wanted):
        ml, price = (np.array([pair[n] for pair in told], float) for n in (0, 1))
        solved = milp(price, integrality=np.ones(len(told)), bounds=Bounds(0, np.inf), constraints=LinearConstraint(ml, wanted, np.inf), options={"mip_rel_gap": 0})  # fmt: skip
        self.assertAlmostEqual(float(order(wanted, made(told)).cost), solved.fun, delta=1e-3)

    def test_the_sizes_of_a_part_are_those_its_sheet_sells(self):
        sheet = sheets.read(PRIMER | {"tins": [{"component": "base", "ml": 1000, "price": 30.5}, {"component": "hardener", "ml": 250}]})  # fmt: skip
        self.assertEqual(sizes_of(sheet, "base"), (Size(Fraction(1000), Fraction("30.5")),))
        self.assertEqual(sizes_of(sheet, "hardener"), (Size(Fraction(250), None),))
        self.assertEqual(sizes_of(sheet, "thinner"), ())

    def test_kits_are_bought_whole(self):
        """4:1: 4 L with 1 L and 1 L with 250 mL are kits, 4 L with 250 mL is none. 4.5 L of base and 1.3 L of hardener."""
        bases, hardeners = made([(4000, 96), (1000, 30)]), made([(1000, 38), (250, 12)])
        kits = kits_of(bases, hardeners, 4.0)
        self.assertEqual(set(kits), {Kit(Fraction(4000), Fraction(1000), Fraction(134)), Kit(Fraction(1000), Fraction(250), Fraction(42))})  # fmt: skip
        for base, hardener, wanted in ((4500, 1100, {4000: 1, 1000: 1}), (4500, 1300, {4000: 1, 1000: 2}), (0, 300, {1000: 2}), (900, 0, {1000: 1}), (0, 0, {})):  # fmt: skip
            with self.subTest(base=base, hardener=hardener):
                self.assertEqual({int(kit.base_ml): many for kit, many in order_kits(base, hardener, kits)}, wanted)
        self.assertEqual(order_kits(100, 10, []), [])
        self.assertEqual(kits_of(bases, hardeners, 2.0), ())
