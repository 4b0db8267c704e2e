"""Dew point, lag and time at temperature against published tables, closed forms and other libraries."""

import csv
import math
import os
from datetime import UTC, datetime, timedelta
from functools import lru_cache

import numpy as np
import psychrolib
import pvlib
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from emplastra.core.air import dewpoint, lag, series
from emplastra.core.air import journey as air
from emplastra.core.product.tables import TimeTable
from emplastra.core.surface import integral as clock
from emplastra.core.working import Basis

SHEET = TimeTable(((10, 960), (20, 480), (30, 270)))
LONGEST = TimeTable(SHEET.points, "max")
H = 3600.0


def stretch(*knots):
    """Air from (hour, °C) knots at 10 K under which the dew point lies, on one journey."""
    t, c = np.array([k[0] * H for k in knots]), np.array([k[1] for k in knots], float)
    return air.journey([(0, air.Air(t, c, c - 10, np.zeros(len(t) - 1, np.int8)), "shop")])


@lru_cache(maxsize=1)
def real_year():
    """Greensboro TMY3 from pvlib's wheel: dry bulb [°C], dew point [°C], RH [%], hour-ending labels."""
    with open(os.path.join(os.path.dirname(pvlib.__file__), "data", "723170TYA.CSV"), newline="") as handle:
        next(handle)
        rows = list(csv.DictReader(handle))
    return tuple(np.array([float(r[name]) for r in rows]) for name in ("Dry-bulb (C)", "Dew-point (C)", "RHum (%)"))


class DewPointTests(SimpleTestCase):
    # Printed tables of the DIN 4108 / ISO 8502-4 kind, to 0.1 K, from memory.
    PRINTED = [(20, 50, 9.3), (20, 70, 14.4), (20, 85, 17.4), (10, 60, 2.6), (10, 80, 6.7), (25, 60, 16.7), (25, 80, 21.3), (30, 60, 21.4), (30, 80, 26.2), (15, 80, 11.6)]  # fmt: skip
    # ASHRAE Fundamentals 2017 liquid branch (Hyland-Wexler) below 0 °C.
    OVER_WATER = [
        (0, 40, -11.994),
        (0, 60, -6.835),
        (0, 90, -1.442),
        (5, 45, -5.944),
        (5, 65, -1.026),
        (10, 40, -2.972),
    ]

    def test_printed_tables(self):
        for temp, rh, printed in self.PRINTED:
            with self.subTest(temp=temp, rh=rh):
                self.assertAlmostEqual(dewpoint.dew_point_c(temp, rh), printed, delta=0.1)
        for temp, rh, value in self.OVER_WATER:
            with self.subTest(temp=temp, rh=rh):
                self.assertAlmostEqual(dewpoint.dew_point_c(temp, rh), value, delta=0.05)

    def test_against_psychrolib_where_the_dew_point_is_above_zero(self):
        psychrolib.SetUnitSystem(psychrolib.SI)
        temps, rhs = np.meshgrid(np.arange(0.0, 41, 2.5), np.arange(40.0, 96, 5))
        ours = dewpoint.dew_point_c(temps, rhs)
        theirs = np.vectorize(lambda t, rh: psychrolib.GetTDewPointFromRelHum(t, rh / 100))(temps, rhs)
        wet = theirs >= 0
        self.assertGreater(wet.sum(), 100)
        self.assertLess(np.abs(ours - theirs)[wet].max(), 0.05)

    def test_against_a_real_year(self):
        """The file's own dew points (0.1 K) from its RH (whole %): half a percent of RH bounds the rest.

        Six hours each side of a month's end are left out: there the file smooths each column alone.
        """
        temp, dew, rh = real_year()
        use = dew >= 0
        for end in np.cumsum([0, 31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31]) * 24:
            use[max(0, end - 7) : end + 7] = False
        slack = dewpoint.dew_point_c(temp, np.minimum(100, rh + 0.5)) - dewpoint.dew_point_c(temp, rh - 0.5)
        self.assertLess((np.abs(dewpoint.dew_point_c(temp, rh) - dew) - slack)[use].max(), 0.15)
        self.assertAlmostEqual(dewpoint.rh_pct(20.0, dewpoint.dew_point_c(20.0, 63.0)), 63.0, places=9)

    def test_the_gate_names_each_limit_alone(self):
        limits = dewpoint.Limits(air_c=(10, 30), surface_c=(10, None), rh_pct=(None, 85), spread_k=3)
        table = [  # air, dew, surface -> broken
            (10.2, 7.2, 10.2, []),  # exactly 3 K: binary floats say 2.999…
            (12.0, 4.0, 9.9, ["surface"]),
            (9.9, 2.0, 10.5, ["air"]),
            (20.0, 17.5, 21.0, ["humidity"]),  # a warm surface in damp air: spread holds, RH does not
            (20.0, 15.0, 17.0, ["spread"]),
        ]
        for temp, dew, surface, broken in table:
            with self.subTest(temp=temp, surface=surface):
                got = dewpoint.gate([0.0, 60.0], [temp] * 2, [dew] * 2, [surface] * 2, limits)
                self.assertEqual([b.what for b in got.breaches], broken)
        for bad in (0, 100.1):
            with self.assertRaises(ValueError):
                dewpoint.dew_point_c(20, bad)


class LagTests(SimpleTestCase):
    # Analytic: tau [s], 10 K step to within 1 K [s], metal 8 °C in 20 °C air wet until dew point 14.367081 °C [s].
    STEPS = [("steel", 0.8, 1, 5, 577.76, 1330.3, 436.9), ("steel", 3, 1, 25, 433.32, 997.8, 327.7), ("steel", 12, 2, 10, 2166.60, 4988.8, 1638.6), ("steel", 40, 2, 25, 2888.80, 6651.7, 2184.7), ("aluminium", 1.5, 1, 25, 145.80, 335.7, 110.3)]  # fmt: skip

    def test_each_substrate_by_its_own_handbook_values(self):
        """rho c d / h of 10 mm, one face, 10 W/(m2 K): steel and aluminium by EN 1991-1-1, the rest from memory."""
        table = {"steel": 3611, "zinc": 3611, "cast iron": 3312, "stainless": 3950, "aluminium": 2430, "laminate": 1800, "old film": 3611}  # fmt: skip
        self.assertEqual({name: round(lag.lag_s(name, 10.0)) for name in lag.SUBSTRATES}, table)

    def test_steps(self):
        for substrate, mm, faces, h, tau, to_1k, wet in self.STEPS:
            with self.subTest(substrate, mm=mm):
                got = lag.lag_s(substrate, mm, faces, h)
                self.assertAlmostEqual(got, tau, delta=0.01)
                for start_c, seconds, reached_c in ((10, to_1k, 19), (8, wet, 14.367081)):
                    metal = lag.follow([0, seconds], [20, 20], got, start_c)
                    self.assertAlmostEqual(float(metal[-1]), reached_c, delta=0.003)

    def test_ramps(self):
        """Lag behind a linear ramp b·tau·(1 − e^(−t/tau))."""
        for mm, faces, rate, hours, behind in ((12, 1, 3.0, 4, 3.480866500), (3, 2, 2.0, 5, 0.300916667)):
            times = np.linspace(0, hours * H, 17)
            metal = lag.follow(times, 10 + rate * times / H, lag.lag_s("steel", mm, faces, 10))
            self.assertAlmostEqual(10 + rate * hours - metal[-1], behind, places=8)


class ClockTests(SimpleTestCase):
    def test_constant_temperatures(self):
        """ln t linear in 1/T between 10 °C 16 h, 20 °C 8 h, 30 °C 4.5 h."""
        for temp, hours in ((10, 16.0), (15, 11.245874626), (20, 8.0), (25, 5.971123002), (30, 4.5)):
            with self.subTest(temp):
                got = clock.crossing(stretch((0, temp), (60, temp)), SHEET, 0).t_s
                self.assertAlmostEqual(got / H, hours, delta=1e-6)

    def test_steps_and_ramps(self):
        """Closed form with the exponential integral; progress to 1e-8, hours to 1e-6."""
        table = [
            (((0, 28), (2, 28), (2, 12), (7, 12), (7, 18), (90, 18)), 7, 0.757713762, 9.218045434),
            (((0, 15), (1, 15), (1, 20), (2, 20), (2, 25), (3, 25), (3, 22), (90, 22)), 3, 0.381394181, 7.397176662),
            (((0, 20), (6, 10), (90, 10)), 6, 0.543165188, 13.309356986),
            (((0, 25), (5, 12), (90, 12)), 5, 0.575968173, 10.883331704),
            (((0, 20), (2, 30), (90, 30)), 2, 0.339032330, 4.974354513),
            (((0, 12), (30, 72)), 0, 0.0, 7.884590185),
        ]
        for knots, upto, done, hours in table:
            with self.subTest(knots):
                where = stretch(*knots)
                self.assertAlmostEqual(clock.progress(where, SHEET, 0, upto * H), done, delta=1e-8)
                self.assertAlmostEqual(clock.crossing(where, SHEET, 0).t_s / H, hours, delta=1e-6)

    def test_against_quadrature_over_the_real_year(self):
        temp, dew, _ = real_year()
        series = air.Air(np.arange(len(temp)) * H, temp, np.minimum(dew, temp), np.zeros(len(temp) - 1, np.int8))
        where = air.journey([(0, series, "yard")])
        for start in (1000, 3000, 5000):
            with self.subTest(start=start):
                hours = range(start, start + 48)
                expected = sum(self._hour(temp, h) for h in hours)
                self.assertAlmostEqual(clock.progress(where, SHEET, start * H, (start + 48) * H), expected, delta=1e-8)

    @staticmethod
    def _hour(temp, hour):
        """scipy's quadrature of the rate over an hour, told where the table bends."""
        a, b = temp[hour], temp[hour + 1]
        bends = [hour + (limit - a) / (b - a) for limit in (5, 10, 20, 30, 35) if a != b]
        inside = [x for x in bends if hour < x < hour + 1]

        def rate(t):
            return float(SHEET.rate_per_min(a + (b - a) * (t - hour))) * 60

        return quad(rate, hour, hour + 1, epsabs=1e-12, limit=200, points=inside or None)[0]

    def test_outside_the_table(self):
        """End slope for 5 K; then a minimum stands still in the cold and a maximum keeps its rate."""
        theta = math.log(960 / 480) / (1 / 283.15 - 1 / 293.15)
        at_5 = 960 * math.exp(theta * (1 / 278.15 - 1 / 283.15))
        self.assertAlmostEqual(SHEET.minutes_at(5), at_5)
        self.assertIsNone(SHEET.minutes_at(4.9))
        self.assertAlmostEqual(LONGEST.minutes_at(-10), at_5)
        self.assertAlmostEqual(SHEET.minutes_at(50), SHEET.minutes_at(35))
        self.assertLess(LONGEST.minutes_at(50), LONGEST.minutes_at(35))
        single, single_max = TimeTable(((20, 60),)), TimeTable(((20, 60),), "max")
        self.assertEqual([round(single.minutes_at(t), 9) for t in (10, 20, 30)], [120.0, 60.0, 60.0])
        self.assertEqual([round(single_max.minutes_at(t), 9) for t in (10, 20, 30)], [60.0, 60.0, 30.0])
        self.assertIsNone(single.minutes_at(9.9))
        frozen = clock.crossing(stretch((0, 2), (24 * 40, 2)), SHEET, 0)
        self.assertEqual((frozen.t_s, frozen.stands_still_below_c), (None, 5))

    def test_humidity_axis_is_bilinear_in_ln_tau_and_clamped(self):
        table = TimeTable((), "min", ((50, ((20, 60), (30, 30))), (80, ((20, 120), (30, 60)))))
        self.assertAlmostEqual(table.minutes_at(20, 65), math.sqrt(60 * 120))
        self.assertAlmostEqual(table.minutes_at(20, 95), 120)
        self.assertAlmostEqual(table.minutes_at(20, 10), 60)

    @settings(max_examples=60, deadline=None)
    @given(st.lists(st.floats(-5, 40), min_size=3, max_size=12), st.floats(0.1, 9))
    def test_progress_never_falls_and_cold_never_hurries(self, temps, colder):
        """Colder air opens no window earlier; nor does it close one earlier than METHOD's limits allow."""
        knots = [(i * 3, t) for i, t in enumerate(temps)] + [(2000, temps[-1])]
        warm, cold = stretch(*knots), stretch(*[(h, t - colder) for h, t in knots])
        sums = [clock.progress(warm, SHEET, 0, h * H) for h in range(0, 3 * len(temps), 2)]
        self.assertEqual(sums, sorted(sums))
        for table in (SHEET, LONGEST):
            a, b = clock.crossing(warm, table, 0).t_s, clock.crossing(cold, table, 0).t_s
            self.assertTrue(b is None or (a is not None and b >= a - 0.01))


class AirTests(SimpleTestCase):
    def test_gaps_holding_and_assumption(self):
        """Readings at 0, 0.5, 3 and 30 h: measured, bridged, a line that is assumed, held for an hour, the day before."""
        day = series.from_readings(
            [0, 0.5 * H, 3 * H, 30 * H], [10, 11, 12, 14], [50] * 4, 31.5 * H, series.Assumption(18, 55)
        )
        table = [(-1, 18.0, Basis.ASSUMED), (0.25, 10.5, Basis.MEASURED), (2, 11.6, Basis.ESTIMATED), (16.5, 13.0, Basis.ASSUMED), (30.5, 14.0, Basis.ESTIMATED), (31.2, 12 + 2 * 4.2 / 27, Basis.ASSUMED)]  # fmt: skip
        for hour, temp, basis in table:
            with self.subTest(hour):
                moment = day.at(hour * H)
                self.assertAlmostEqual(moment.air_c, temp)
                self.assertEqual(moment.basis, basis)
        with self.assertRaises(ValueError):
            series.from_readings([1, 1], [1, 1], [50, 50], 5)

    def test_a_forecast_that_begins_later_is_used_from_its_first_hour(self):
        """Last read 8 °C at 2 h; forecast from 9 h on: 8 °C holds, assumed, then as forecast, then the day before again."""
        ahead = series.Ahead(np.array([9, 10, 30]) * H, np.array([4.0, 5, 5]), np.array([1.0, 1, 1]), np.full(3, 1.0))
        day = series.from_readings([0, 2 * H], [9, 8], [80, 80], 2.5 * H, series.Assumption(18, 55), ahead)
        table = [(2.5, 8.0, Basis.ESTIMATED), (5, 8.0, Basis.ASSUMED), (9.5, 4.5, Basis.FORECAST), (20, 5.0, Basis.FORECAST), (31, 8.0, Basis.ASSUMED)]  # fmt: skip
        for hour, temp, basis in table:
            with self.subTest(hour):
                moment = day.at(hour * H)
                self.assertAlmostEqual(moment.air_c, temp)
                self.assertEqual(moment.basis, basis)
        none = series.from_readings([], [], [], 2.5 * H, series.Assumption(18, 55), ahead)
        self.assertEqual([(none.at(h * H).air_c, none.at(h * H).basis) for h in (5, 9)], [(18.0, Basis.ASSUMED), (4.0, Basis.FORECAST)])  # fmt: skip

    def test_a_long_gap_is_as_it_was_forecast_bent_to_both_ends(self):
        """Read 10 °C at 0 and 14 at 24 h; forecast 8 at 0, 18 at 12, 8 at 24: off by 2 and by 6, so 18 + 4 at noon.

        A gap of 12 h is a line all the same, and so is one that the forecast covers only in part.
        """
        hours = np.arange(0, 25, 3) * H
        swing = 8 + 10 * (1 - np.abs(hours / H - 12) / 12)
        for covered, noon, basis in ((len(hours), 22.0, Basis.FORECAST), (len(hours) - 2, 12.0, Basis.ASSUMED)):
            past = series.Hourly(hours[:covered], swing[:covered], np.zeros(covered))
            shed = series.from_readings([0, 24 * H, 36 * H], [10, 14, 16], [50] * 3, 36 * H, series.Assumption(), None, past)  # fmt: skip
            at = [shed.at(h * H) for h in (12, 30)]
            self.assertAlmostEqual(at[0].air_c, noon)
            self.assertEqual([m.basis for m in at], [basis, Basis.ESTIMATED])
            self.assertAlmostEqual(shed.at(0).air_c, 10)
            self.assertAlmostEqual(shed.at(24 * H - 1e-6).air_c, 14, places=5)

    def test_a_forecast_from_an_hour_after_to_an_hour_before_covers_a_gap(self):
        for first, last, step, basis in ((1, 23, 1, "forecast"), (2, 23, 1, "assumed"), (1, 22, 1, "assumed"), (0, 24, 6, "forecast"), (0, 24, 8, "assumed")):  # fmt: skip
            hours = np.arange(first, last + 1, step) * H
            past = series.Hourly(hours, np.full(len(hours), 9.0), np.zeros(len(hours)))
            shed = series.from_readings([0, 24 * H], [10, 14], [50] * 2, 24 * H, series.Assumption(), None, past)
            with self.subTest(first, last=last, step=step):
                self.assertEqual(shed.at(12 * H).basis.value, basis)

    def test_what_nobody_knows_is_the_last_day_again_in_three_ways(self):
        """Two days, 5 °C until noon and 25 after, 60 %: cold 5 and 18, warm 18 and 25, damp 5 at 60, 18 at 70 %."""
        t = np.arange(49) * H
        temps = np.where(np.arange(49) % 24 < 12, 5.0, 25.0)
        shed = series.from_readings(t, temps, np.full(49, 60.0), 48 * H, series.Assumption(18, 70))
        table = [("", 5, 25, 60), ("cold", 5, 18, 60), ("warm", 18, 25, 60), ("damp", 5, 18, 70)]
        for way, night, day, rh in table:
            for hour, temp in ((53, night), (65.5, day), (24 * 30 + 5, night), (24 * 30 + 17.5, day)):
                with self.subTest(way, hour=hour):
                    moment = shed.at(hour * H, way)
                    self.assertAlmostEqual(moment.air_c, temp)
                    self.assertAlmostEqual(moment.rh_pct, rh if way != "damp" else max(rh, 60), places=6)
                    self.assertEqual(moment.basis, Basis.ASSUMED)
        known = shed.at(30 * H, "warm")
        self.assertEqual((known.air_c, known.basis, shed.tail_s), (5.0, Basis.MEASURED, 49 * H))
        self.assertEqual([x.at(53 * H, "cold").air_c for x in (shed.shifted(3), shed.leaning(1))], [8, 5])

    def test_hours_that_nobody_knew_of_the_last_day_are_taken_as_its_worst(self):
        """17 °C and 60 % at noon, 8 °C and 93 % at 20:00, nothing before: the night after is no warmer than 8 °C, or it
        is 18; by 16:00 it is again half way, 12.5 °C.
        """
        shed = series.from_readings([12 * H, 20 * H], [17, 8], [60, 93], 20 * H, series.Assumption(18, 55))
        for way, hour, temp in (("", 26, 17), ("cold", 26, 8), ("warm", 26, 18), ("damp", 26, 8), ("damp", 40, 12.5), ("warm", 40, 18)):  # fmt: skip
            with self.subTest(way, hour=hour):
                self.assertAlmostEqual(shed.at(hour * H, way).air_c, temp, 1)
        self.assertAlmostEqual(shed.at(26 * H, "damp").rh_pct, 93, 6)

    def test_a_minimum_reads_cold_a_maximum_warm_and_metal_follows(self):
        """5 °C for two days, then unknown: a wait as at 5 °C on; a close and its metal as at 18 °C from 49 h on."""
        t = np.arange(49) * H
        shed = series.from_readings(t, np.full(49, 5.0), np.full(49, 60.0), 48 * H, series.Assumption(18, 55))
        waits, closes = (TimeTable(((5.0, 1200.0), (18.0, 600.0)), role) for role in ("min", "max"))
        where = air.journey([(0, shed, "shed")])
        self.assertAlmostEqual(clock.crossing(where, waits, 40 * H).t_s / H, 60, places=6)
        self.assertAlmostEqual(clock.crossing(where, closes, 40 * H).t_s / H, 49 + 10 * (1 - 9 / 20), places=6)
        self.assertAlmostEqual(clock.crossing(where, waits, 60 * H).t_s / H, 80, places=6)
        slow = air.journey([(0, shed, "shed")], 7200.0)
        for way, temp in (("", 5.0), ("cold", 5.0), ("warm", 18 - 13 * math.exp(-2)), ("damp", 5.0)):
            self.assertAlmostEqual(slow.at(53 * H, way).metal_c, temp, places=6)
        step = air.journey([(0, air.Air(np.array([0, 49, 49, 999]) * H, np.array([5.0, 5, 18, 18]), np.zeros(4), np.zeros(3, np.int8)), "x")], 7200.0)  # fmt: skip
        for since in (40, 48.5, 70):
            a, b = (clock.crossing(way, closes, since * H).t_s for way in (slow, step))
            self.assertAlmostEqual(a, b, delta=1.0)
        cut = slow.air(48 * H, 60 * H, "warm")
        self.assertEqual((cut.t_s[0], cut.t_s[-1], cut.air_c[0], cut.air_c[-1]), (48 * H, 60 * H, 5, 18))
        self.assertAlmostEqual(slow.at(60 * H, "warm").metal_c, 18 - 13 * math.exp(-11 / 2), places=6)
        warm = air.journey([(0, shed, "shed"), (48 * H, shed, "shed", 30.0)], 7200.0)
        at_49 = 5 + 25 * math.exp(-0.5)
        self.assertAlmostEqual(warm.at(51 * H, "warm").metal_c, 18 + (at_49 - 18) * math.exp(-1), places=3)

    def test_cold_readings_on_both_sides_of_a_long_gap_stay_cold(self):
        """4 °C on Friday, 4 °C on Monday: nobody warmed the shed to 18 °C between."""
        shed = series.from_readings([0, 62 * H], [4, 4], [85, 85], 63 * H, series.Assumption(18, 55))
        self.assertEqual((shed.at(31 * H).air_c, shed.at(31 * H).basis), (4.0, Basis.ASSUMED))

    def test_a_lag_makes_an_estimate_of_what_was_measured_and_leaves_the_rest(self):
        for basis, told in ((Basis.MEASURED, "estimated"), (Basis.FORECAST, "forecast"), (Basis.ASSUMED, "assumed")):
            for tau_s, name in ((0.0, basis.value), (1800.0, told)):
                where = air.journey([(0.0, air.steady(20, 50, -99 * H, 99 * H, basis), "shop")], tau_s)
                with self.subTest(basis.value, tau_s=tau_s):
                    self.assertAlmostEqual(getattr(clock.crossing(where, SHEET, 0).shares, name), 1.0)

    def test_a_surface_measured_as_the_piece_moves_is_kept_in_either_order(self):
        """From 20 °C into 5 °C, measured at 12: 12 as it comes, 5 + 7/e a time constant later."""
        warm, cold = air.steady(20, 50, -99 * H, 99 * H), air.steady(5, 50, -99 * H, 99 * H)
        moved, read = (H, cold, "yard"), {"after": (H, cold, "yard", 12.0), "before": (H, warm, "shop", 12.0)}
        for order, moves in {"after": [moved, read["after"]], "before": [read["before"], moved]}.items():
            where = air.journey([(0.0, warm, "shop"), *moves], 1800.0)
            with self.subTest(order):
                self.assertAlmostEqual(where.at(H).metal_c, 12.0)
                self.assertAlmostEqual(where.at(1.5 * H).metal_c, 5 + 7 / math.e, places=6)
                self.assertEqual(where.at(1.5 * H).air_c, 5)

    def test_a_move_changes_the_air_and_shares_say_what_carried(self):
        """8 h at 20 °C: half measured in one place, half assumed in the next (18 °C from the table: 9.13 h)."""
        warm = series.from_readings(np.arange(0, 4.01 * H, 600), [20.0] * 25, [50] * 25, 100 * H)
        bare = series.from_readings([], [], [], 100 * H, series.Assumption(20, 50))
        where = air.journey([(0, warm, "booth"), (4 * H, bare, "yard")])
        got = clock.crossing(where, SHEET, 0)
        self.assertAlmostEqual(got.t_s / H, 8.0, places=5)
        self.assertAlmostEqual(got.shares.measured, 0.5, places=3)
        self.assertAlmostEqual(got.shares.assumed, 0.5, places=3)
        self.assertAlmostEqual(got.earliest_s / H, 7.2, places=4)

    def test_humidity_beyond_a_sheet_is_marked(self):
        """Rows at 40 and 80 %: air of 90 % is taken as at 80, and all of it is extrapolated."""
        law = TimeTable((), "min", ((40.0, ((10.0, 60.0), (30.0, 60.0))), (80.0, ((10.0, 120.0), (30.0, 120.0)))))
        for rh, minutes, beyond in ((90, 120, 1), (60, 60 * math.sqrt(2), 0), (30, 60, 1)):
            got = clock.crossing(air.journey([(0, air.steady(20, rh, -9 * H, 99 * H), "shop")]), law, 0.0)
            with self.subTest(rh):
                self.assertAlmostEqual(got.t_s / 60, minutes, places=4)
                self.assertAlmostEqual(got.shares.extrapolated, beyond)

    def test_summer_time_is_the_shells_affair(self):
        """The core counts seconds: a day of 23 h by the wall is 23 h here."""
        start = datetime(2026, 3, 29, 0, 0, tzinfo=UTC)
        self.assertEqual((start + timedelta(hours=23)).timestamp() - start.timestamp(), 23 * H)
