"""The engine against the outside: a real year, another solver, a plain loop, published forms; series that grow."""

import bisect
import math
import statistics

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad, solve_ivp

from emplastra.core.air import dewpoint, forecast, lag, outlook, series
from emplastra.core.air import journey as air
from emplastra.core.product.tables import TimeTable, kinetic_table
from emplastra.core.surface import integral as clock
from emplastra.core.surface.bare import bare_table
from emplastra.core.surface.integral import crossing, progress
from emplastra.core.working import Basis
from tests.core.test_air_clock import LONGEST, SHEET, H, real_year

MONTHS = np.repeat(np.arange(12), np.array([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31]) * 24)


def hourly(temps, dews, start=0.0):
    """Air from hourly values."""
    t = start + np.arange(len(temps)) * H
    return air.Air(t, np.asarray(temps, float), np.asarray(dews, float), np.zeros(len(temps) - 1, np.int8))


class PaintableHoursTests(SimpleTestCase):
    """Greensboro TMY3 (pvlib's wheel), rows labelled 09 to 18 (hour ending): RH ≤ 85, air ≥ 10, 3 K to the dew point.

    Counted by integer tenths outside; the printed months are those of the check file.
    """

    PRINTED = {
        "all": [34, 105, 190, 259, 269, 262, 271, 279, 267, 216, 186, 103],
        "air": [42, 132, 214, 297, 310, 300, 310, 310, 300, 277, 226, 108],
        "humidity": [242, 233, 269, 266, 271, 268, 285, 287, 274, 237, 239, 253],
        "spread": [225, 211, 256, 261, 269, 262, 271, 279, 267, 229, 232, 244],
    }

    def test_each_condition_alone_and_all_together(self):
        temp, dew, rh = real_year()
        damp = dewpoint.dew_point_c(temp, rh)
        row_rh = dewpoint.Limits(rh_pct=(None, 85), spread_k=-99)
        row_air = dewpoint.Limits(air_c=(10, None), spread_k=-99)
        hour = np.arange(len(temp)) % 24 + 1
        counts = {name: [0] * 12 for name in self.PRINTED}
        for i in np.nonzero((hour >= 9) & (hour <= 18))[0].tolist():
            t = float(temp[i])
            good = {
                "air": dewpoint.gate([0], [t], [dew[i]], [t], row_air).is_open,
                "humidity": dewpoint.gate([0], [t], [damp[i]], [t], row_rh).is_open,
                "spread": dewpoint.gate([0], [t], [dew[i]], [t], dewpoint.Limits()).is_open,
            }
            good["all"] = all(good.values())
            for name, holds in good.items():
                counts[name][MONTHS[i]] += holds
        for name, printed in self.PRINTED.items():
            with self.subTest(name):
                self.assertEqual(counts[name], printed)


class LagTests(SimpleTestCase):
    def test_following_air_against_another_solver(self):
        """scipy's solve_ivp of T' = (A(t) − T)/tau over ragged air, to 1e-6 K."""
        random = np.random.default_rng(3)
        t = np.cumsum(random.uniform(60, 5000, 40))
        temps = 15 + np.cumsum(random.normal(0, 1.5, 40))
        for tau in (120.0, 900.0, 18000.0):
            solved = solve_ivp(lambda x, y, tau=tau: (np.interp(x, t, temps) - y) / tau, (t[0], t[-1]), [3.0], t_eval=t, rtol=1e-10, atol=1e-10, max_step=200)  # fmt: skip
            with self.subTest(tau):
                self.assertLess(np.abs(lag.follow(t, temps, tau, 3.0) - solved.y[0]).max(), 1e-6)

    def test_refined_knots_lie_on_the_curve_and_close_together(self):
        t, temps = np.array([0.0, 7200.0, 7200.0, 20000.0]), np.array([10.0, 12.0, 25.0, 25.0])
        metal = lag.follow(t, temps, 1800.0, 0.0)
        times, values, owner = lag.refine(t, temps, metal, 1800.0)
        for at, value in zip(times.tolist(), values.tolist(), strict=True):
            if at < 7200:
                # T = A − b·tau + (T0 − A0 + b·tau)·e^(−t/tau), b the air's slope of 2 K in 2 h
                exact = 10 + 2 / 7200 * at - 0.5 + (0.0 - 10 + 0.5) * math.exp(-at / 1800)
                self.assertAlmostEqual(value, exact, places=9)
        away = np.abs(values[:-1] - temps[owner[:-1]]) > 0.15 + 1800 * 2 / 7200
        self.assertLessEqual(np.diff(times)[away].max(), 1800 / 8 + 1e-6)

    def test_warm_up_wet_until_the_dew_point_and_to_3_k_above(self):
        """Metal at 8 °C in air of 20 °C, dew point 14.367081 °C: wet 0.756278870 tau, under 3 K for 1.516813533 tau."""
        for substrate, mm, faces in (("steel", 0.8, 2), ("steel", 12, 1), ("aluminium", 1.5, 2), ("steel", 40, 2)):
            tau = lag.lag_s(substrate, mm, faces)
            cut = air.Air(np.array([0.0, 40 * tau]), np.full(2, 20.0), np.full(2, 14.367081), np.zeros(1, np.int8)).slice(0.0, 40 * tau)  # fmt: skip
            found = outlook.outlook(cut, tau, 8.0, dewpoint.Limits(surface_c=(10, None)))
            with self.subTest(substrate, mm=mm):
                # Straight pieces of tau/8 stand for the curve: 0.3 % of tau.
                self.assertAlmostEqual(found.wet[0][1] / tau, 0.756278870, delta=0.003)
                self.assertAlmostEqual(found.damp[0][1] / tau, 1.516813533, delta=0.003)
                self.assertAlmostEqual(found.warm[0][0] / tau, math.log(12 / 10), delta=0.003)
                self.assertAlmostEqual(found.fit[0][0], found.damp[0][1], delta=1)

    def test_time_constants_are_shared_to_two_per_cent(self):
        """Never more than 1 % off, equal within it, as warm as the air under a minute; a bisected exact answer beside."""
        for minutes in (1.0, 2.7, 3.16, 8.66, 44.0, 137.5, 999.0):
            with self.subTest(minutes):
                self.assertAlmostEqual(lag.shared_lag_s(minutes * 60) / (minutes * 60), 1, delta=0.0101)
        self.assertEqual(lag.shared_lag_s(59.9), 0.0)
        kept = {lag.shared_lag_s(60 * 30 * (1 + k / 1000)) for k in range(200)}
        self.assertEqual(len(kept), 10, "18 % of 2 % steps")

    def test_a_flash_on_a_thick_casting_is_told_as_it_is(self):
        """40 mm of iron from a yard of 2 °C into 20 °C: told by the shared constant within a minute or 0.5 %."""
        tau = lag.lag_s("cast iron", 40.0, 2)
        shop, yard = (air.steady(c, 50, -99 * H, 99 * H) for c in (20.0, 2.0))
        flash = TimeTable(((10.0, 30.0), (20.0, 15.0), (30.0, 8.0)))

        def told(tau_s):
            where = air.journey([(-50 * H, yard, "yard"), (0.0, shop, "shop")], tau_s)
            return crossing(where, flash, 0.5 * H).t_s - 0.5 * H

        self.assertAlmostEqual(told(lag.shared_lag_s(tau)), told(tau), delta=max(60, 0.005 * told(tau)))


class KineticsTests(SimpleTestCase):
    # ASTM C1074 equivalent age, Q = 5000 K, from memory: steps (h, °C), reference °C, te [h].
    AGES = [
        (((12, 10), (12, 15), (24, 20), (24, 25)), 20, 71.443218918),
        (((6, 5), (6, 8), (6, 14), (6, 10)), 23, 10.748049516),
        (((24, 23),), 20, 28.526466350),
        (((1, 20), (1, 25), (1, 30), (1, 35), (1, 40)), 23, 7.868549660),
    ]

    def test_equivalent_age(self):
        """Progress times the time at the reference temperature is the equivalent age."""
        for steps, reference, age in self.AGES:
            knots = [(0.0, steps[0][1])]
            for hours, temp in steps:
                at = knots[-1][0]
                knots += [(at, temp), (at + hours, temp)]
            t, c = np.array([k[0] * H for k in knots[1:]]), np.array([float(k[1]) for k in knots[1:]])
            where = air.journey([(0, air.Air(t, c, c - 9, np.zeros(len(t) - 1, np.int8)), "shop")])
            for role in ("min", "max"):
                table = kinetic_table(600.0, reference, 5000.0, 0, 45, role)
                with self.subTest(reference, role=role):
                    self.assertAlmostEqual(progress(where, table, 0, float(t[-1])) * 10, age, places=6)


class PlainLoopTests(SimpleTestCase):
    """The real year, hour by hour linear, walked minute by minute."""

    def walk(self, temps, table, tau, start_s):
        """The moment at which the sum of minutes reaches 1."""
        done, metal, before = 0.0, temps[int(start_s / H) - 40], temps[int(start_s / H) - 40]
        keep = math.exp(-60 / tau) if tau else 0.0
        for minute in range(1 - 40 * 60, 31 * 1440):
            i, part = divmod((start_s + minute * 60) / H, 1)
            now = temps[int(i)] + part * (temps[int(i) + 1] - temps[int(i)])
            behind = (now - before) * tau / 60  # a minute of a straight ramp, exactly
            was, metal, before = metal, now - behind + (metal - before + behind) * keep, now
            if minute > 0:
                rate = table.rate_one((was + metal) / 2, now, now)
                if done + rate >= 1:
                    return start_s + (minute - 1) * 60 + 60 * (1 - done) / rate
                done += rate
        return None

    def test_the_same_crossings_within_a_minute(self):
        temp, dew, _ = real_year()
        year, temps = hourly(temp, np.minimum(dew, temp)), temp.tolist()
        tables = [SHEET, LONGEST, TimeTable(((20, 60),), "min"), TimeTable(((10, 8640), (20, 4320), (30, 2520)), "max")]  # fmt: skip
        for tau in (0.0, 900.0, 7200.0):
            where = air.journey([(0, year, "yard")], tau)
            for table in tables:
                for start in (700.5, 2900.25, 5200, 7800.75):
                    with self.subTest(tau=tau, start=start, role=table.role):
                        ours, plain = crossing(where, table, start * H).t_s, self.walk(temps, table, tau, start * H)
                        if plain is None:
                            self.assertIsNone(ours)
                        else:
                            self.assertLess(abs(ours - plain), 60)

    def test_the_bare_clock_against_quadrature(self):
        """scipy's quadrature of 1/H(RH) with the 3 K rule, told where it jumps, over two days of the real year."""
        temp, dew, _ = real_year()
        dew = np.minimum(dew, temp)
        table = bare_table("steel")
        where = air.journey([(0, hourly(temp, dew), "yard")])
        for start in (1000, 4000, 6500):
            total = 0.0
            for hour in range(start, start + 48):
                a, b, c, d = temp[hour], temp[hour + 1], dew[hour], dew[hour + 1]
                spread = (a - c - 3, b - d - 3)
                jump = [spread[0] / (spread[0] - spread[1])] if spread[0] * spread[1] < 0 else None
                total += quad(lambda x, a=a, b=b, c=c, d=d: 60 * table.rate_one(a + x * (b - a), a + x * (b - a), c + x * (d - c)), 0, 1, points=jump, limit=200)[0]  # fmt: skip
            with self.subTest(start):
                self.assertAlmostEqual(progress(where, table, start * H, (start + 48) * H) / total, 1, places=4)


class JourneyTests(SimpleTestCase):
    def test_a_piece_brings_its_temperature_along(self):
        """From 10 °C into 20 °C air with tau 1 h: 20 − 10·e^(−t/tau), then settled; and the other way."""
        cold, warm = (air.steady(c, 50, -99 * H, 99 * H, Basis.MEASURED) for c in (10, 20))
        where = air.journey([(0, cold, "yard"), (10 * H, warm, "booth")], H)
        for hours in (0, 0.5, 1, 3, 8):
            with self.subTest(hours):
                exact = 20 - 10 * math.exp(-hours)
                self.assertAlmostEqual(where.at((10 + hours) * H).metal_c, exact, delta=0.02)
        table = TimeTable(((0, 600), (40, 600)), "min")
        self.assertAlmostEqual(crossing(where, table, 8 * H).t_s / H, 18.0, places=6)

    def test_a_measured_surface_starts_its_own_course(self):
        shop = air.steady(20, 50, -99 * H, 99 * H, Basis.MEASURED)
        where = air.journey([(0, shop, "shop", None), (5 * H, shop, "shop", 12.0)], 2 * H)
        self.assertAlmostEqual(where.at(4.9 * H).metal_c, 20)
        self.assertAlmostEqual(where.at(7 * H).metal_c, 20 - 8 * math.exp(-1), places=6)

    def test_warmer_from_now_on(self):
        """+5 K from 3 h on: before it nothing moves; a clock of constant rate in T does by its table."""
        shop = air.steady(10, 50, -99 * H, 99 * H, Basis.MEASURED)
        where = air.journey([(0, shop, "shop")])
        supposed = where.shifted(10.0, 3 * H)
        self.assertEqual([supposed.at(x * H).air_c for x in (2.9, 3.1)], [10.0, 20.0])
        # 16 h at 10 °C: 3/16 by then; the rest at 20 °C, 8 h for all of it
        self.assertAlmostEqual(crossing(supposed, SHEET, 0).t_s / H, 3 + (1 - 3 / 16) * 8, places=5)


class SeriesTests(SimpleTestCase):
    def test_a_slice_keeps_values_steps_and_what_they_rest_on(self):
        """Knots at 0, 1, 2, 2 (a step), 3 h; each piece on its own basis."""
        made = air.Air(np.array([0, 1, 2, 2, 3]) * H, np.array([0.0, 10, 20, 30, 40]), np.array([-5.0, 0, 5, 10, 15]), np.array([0, 1, 2, 3], np.int8))  # fmt: skip
        table = [
            (0.5, 1.5, [0.5, 1, 1.5], [5, 10, 15], [0, 1]),
            (1, 2, [1, 2], [10, 20], [1]),
            (2, 2.5, [2, 2.5], [30, 35], [3]),
            (1.5, 2.5, [1.5, 2, 2, 2.5], [15, 20, 30, 35], [1, 2, 3]),
            (0, 3, [0, 1, 2, 2, 3], [0, 10, 20, 30, 40], [0, 1, 2, 3]),
            (-1, 0.5, [-1, 0, 0.5], [0, 0, 5], [0, 0]),
            (2.5, 9, [2.5, 3, 9], [35, 40, 40], [3, 3]),
        ]  # fmt: skip
        for start, end, hours, temps, basis in table:
            with self.subTest(start, end=end):
                cut = made.slice(start * H, end * H)
                self.assertEqual((cut.t_s / H).tolist(), hours)
                self.assertEqual(cut.air_c.tolist(), temps)
                self.assertEqual(cut.dew_c.tolist(), [t / 2 - 5 for t in temps])
                self.assertEqual(cut.basis.tolist(), basis)

    def test_faults_are_marked_and_not_used(self):
        t = np.arange(0, 60) * 1800.0
        temps, rh = 15 + np.sin(t / 9000), 50 + np.cos(t / 7000)
        temps[20] += 12
        temps[3:52], rh[3:52] = np.where(np.arange(3, 52) == 20, temps[3:52], 15.5), 51.0
        good, faults = series.without_faults(series.Source("logger", t, temps, rh))
        self.assertEqual([(f.kind, f.count) for f in faults], [("jump", 1)])
        damp = rh.copy()
        damp[55] += 31
        calm, faults = series.without_faults(series.Source("logger", t, np.full(60, 15.0), damp))
        self.assertEqual([(f.kind, f.start_s, f.count) for f in faults], [("jump", t[55], 1)])
        self.assertEqual(len(calm.t_s), 59)
        self.assertEqual(series.without_faults(series.Source("typed", t, np.full(60, 15.0), damp, False))[1], ())
        temps[20] = 15.5
        asked = []
        good, faults = series.without_faults(
            series.Source("logger", t, temps, rh), lambda *when: asked.append(when) or True
        )
        self.assertEqual([(f.kind, f.start_s, f.end_s, f.count) for f in faults], [("stuck", t[3], t[51], 48)])
        self.assertEqual((len(good.t_s), asked), (12, [(t[3], t[51])]))
        steady, faults = series.without_faults(series.Source("logger", t, temps, rh), lambda *when: False)
        self.assertEqual((len(steady.t_s), faults), (60, ()))
        typed, faults = series.without_faults(series.Source("typed", t, temps, rh, False), lambda *when: True)
        self.assertEqual((len(typed.t_s), faults), (60, ()))

    @settings(max_examples=40, deadline=None)
    @given(st.lists(st.tuples(st.integers(1, 40), st.integers(-5, 35)), min_size=6, max_size=30), st.integers(2, 29), st.booleans())  # fmt: skip
    def test_a_series_that_grew_is_the_series_made_whole(self, steps, cut, gap):
        """Readings 10 min to 7 h apart, some 20 h: old knots up to a reading, new ones after it; same crossings."""
        t = np.cumsum([(20 * H if gap and i == 4 else dt * 600.0) for i, (dt, _) in enumerate(steps)])
        c, rh = np.array([float(x) for _, x in steps]), np.full(len(steps), 50.0)
        n = min(cut, len(t) - 1)
        old = series.from_readings(t[:n], c[:n], rh[:n], float(t[n - 1]))
        whole = series.from_readings(t, c, rh, float(t[-1]))
        k = min(n - 2, max(int(t.searchsorted(t[-1] - 24 * H)) - 1, 0))
        part = series.from_readings(t[k:], c[k:], rh[k:], float(t[-1]))
        grown, same_s = series.spliced(old, part)
        for name in ("t_s", "air_c", "dew_c", "basis"):
            self.assertTrue(np.array_equal(getattr(grown, name)[2:-1], getattr(whole, name)[2:-1]), name)
        self.assertLessEqual(t[n - 2], same_s)
        self.assertLessEqual(same_s, t[n - 1] + series.HOLD_S + 1e-6)
        ways = [air.journey([(0, x, "shop")], 900.0) for x in (grown, whole)]
        self.assertEqual(*(crossing(way, SHEET, float(t[0])).t_s for way in ways))


class ForecastTests(SimpleTestCase):
    def test_a_pair_needs_a_reading_within_half_an_hour(self):
        """Read each hour but for 10, 11 and 12: forecasts at 31 min past each hour lack theirs at 9, 10 and 11."""
        now = 30 * H
        read = np.array([h for h in range(31) if h not in (10, 11, 12)]) * H
        log = forecast.Hourly(read, np.full(len(read), 12.0), np.full(len(read), 5.0))
        past = forecast.Hourly(np.arange(30) * H + 1860, np.full(30, 10.0), np.full(30, 4.0))
        found, none = forecast.offsets(log, past, np.ones(30, bool), now)
        self.assertEqual((found.pairs, found.air_k, none.pairs), (27, 2.0, 0))

    def test_a_reading_beside_a_leading_one_is_not_used(self):
        """The logger read at 0, 1 and 3 h; typed at 20, 65 and 160 min it is too close, at 31 min it is not: to neither."""
        lead = series.Source("logger", np.array([0, 1, 3.0]) * H, np.full(3, 20.0), np.full(3, 50.0))
        for minute, used in ((20, False), (30, False), (31, False), (65, False), (95, True), (160, False)):
            typed = series.Source("typed", np.array([minute * 60.0]), np.array([19.0]), np.array([50.0]), False)
            with self.subTest(minute):
                self.assertEqual(len(series.merge([lead, typed])[0].t_s), 4 if used else 3)

    def test_two_sources_that_read_apart_are_told(self):
        """Over 2 K or 10 % RH at one moment, the leading one's sign: what the other says less what that does."""
        lead = series.Source("logger", np.array([0, H]), np.full(2, 20.0), np.full(2, 50.0))
        table = [(22, 50, None), (22.1, 50, (2.1, 0)), (17.9, 50, (-2.1, 0)), (20, 60, None), (20, 61, (0, 11)), (20, 39, (0, -11))]  # fmt: skip
        for temp, rh, apart in table:
            typed = series.Source("typed", np.array([600.0]), np.array([temp * 1.0]), np.array([rh * 1.0]), False)
            told = [(d.leading, d.other, round(d.air_k, 6), round(d.rh_pct, 6)) for d in series.merge([lead, typed])[1]]
            with self.subTest(temp, rh=rh):
                self.assertEqual(told, [("logger", "typed", *apart)] if apart else [])

    def test_a_series_is_cut_at_midnights_at_its_last_reading_and_by_days_of_its_tail(self):
        t = np.arange(12, 80) * H
        edges = (series.from_readings(t, np.full(68, 9.0), np.full(68, 50.0), 79 * H).edges / H).tolist()
        self.assertEqual(edges[1:8], [12, 24, 48, 72, 79, 80, 104])

    def test_nothing_read_yet_leaves_a_forecast_as_it_is(self):
        none, past = np.array([]), forecast.Hourly(np.arange(9) * H, np.full(9, 10.0), np.full(9, 4.0))
        for log, now in ((forecast.Hourly(none, none, none), 9 * H), (past, 400 * 86400.0)):
            self.assertEqual(forecast.offsets(log, past, np.ones(9, bool), now), (forecast.Offset(), forecast.Offset()))

    def test_offset_and_spread_by_day_and_night(self):
        """Against statistics.median of the pairs themselves, of the last 14 days only."""
        random = np.random.default_rng(5)
        t = np.arange(24 * 20) * H
        day = (t / H % 24 >= 7) & (t / H % 24 < 19)
        log = forecast.Hourly(t, 15 + random.normal(0, 3, len(t)), 6 + random.normal(0, 1, len(t)))
        past = forecast.Hourly(t, log.air_c - np.where(day, 1.5, -0.5) + random.normal(0, 0.6, len(t)), log.dew_c - 0.4)
        now = float(t[-1])
        by_day, by_night = forecast.offsets(log, past, day, now)
        for found, use in ((by_day, day), (by_night, ~day)):
            pairs = (log.air_c - past.air_c)[use & (t > now - 14 * 86400)].tolist()
            middle = statistics.median(pairs)
            self.assertAlmostEqual(found.air_k, middle)
            self.assertAlmostEqual(found.spread_k, 1.4826 * statistics.median(abs(p - middle) for p in pairs))
            self.assertAlmostEqual(found.dew_k, 0.4)
            self.assertEqual(found.pairs, len(pairs))

    def test_too_few_pairs_and_the_last_difference_that_fades(self):
        t = np.arange(0, 60) * H
        coming = forecast.Hourly(t, np.full(60, 10.0), np.full(60, 4.0))
        log = forecast.Hourly(t[:12], np.full(12, 13.0), np.full(12, 5.0))
        found = forecast.offsets(log, coming, np.ones(60, bool), float(t[11]))
        self.assertEqual((found[0].air_k, found[0].spread_k, found[0].pairs), (0.0, 2.0, 12))
        ahead = forecast.ahead(coming, np.ones(60, bool), found, (float(t[11]), 13.0, 5.0))
        for hours in (0, 3, 9):
            self.assertAlmostEqual(ahead.air_c[11 + hours], 10 + 3 * math.exp(-hours / 3))
            self.assertAlmostEqual(ahead.dew_c[11 + hours], 4 + math.exp(-hours / 3))

    def test_the_last_difference_fades_before_a_late_forecast_too(self):
        """Read 13 °C 3 h before the forecast's first hour of 10 °C: there 3 K x e^-1 are left."""
        coming = forecast.Hourly(np.arange(10, 40) * H, np.full(30, 10.0), np.full(30, 4.0))
        ahead = forecast.ahead(coming, np.ones(30, bool), (forecast.Offset(), forecast.Offset()), (7 * H, 13.0, 5.0))
        for hours in (0, 3, 9):
            self.assertAlmostEqual(ahead.air_c[hours], 10 + 3 * math.exp(-(3 + hours) / 3))
        for read, left in ((39 * H, 3.0), (39 * H + 1, 0.0)):  # a reading after its last hour says nothing of it
            ahead = forecast.ahead(coming, np.ones(30, bool), (forecast.Offset(), forecast.Offset()), (read, 13.0, 5.0))
            self.assertAlmostEqual(ahead.air_c[-1], 10 + left)

    def test_earliest_and_latest_lean_with_the_spread(self):
        """2 K of spread at 20 °C, times 10 % off: the bounds of a table of 16, 8, 4.5 h at 22 and 18 °C."""
        t = np.array([0.0, 200 * H])
        ahead = series.Ahead(t, np.full(2, 20.0), np.full(2, 9.0), np.full(2, 2.0))
        where = air.journey([(0, series.from_readings([], [], [], 0.0, None, ahead), "yard")])
        got = crossing(where, SHEET, 2 * H)
        self.assertAlmostEqual(got.t_s / H, 10.0, places=6)
        self.assertAlmostEqual(got.earliest_s / H, 2 + 0.9 * SHEET.minutes_at(22) / 60, places=6)
        self.assertAlmostEqual(got.latest_s / H, 2 + 1.1 * SHEET.minutes_at(18) / 60, places=6)
        self.assertAlmostEqual(got.shares.forecast, 1.0)
        self.assertEqual(bisect.bisect([got.earliest_s, got.t_s, got.latest_s], got.t_s), 2)
        self.assertIs(clock.crossing(where, SHEET, 2 * H), got)
        law = bare_table("steel")  # rust is the other way round: colder is damper, and sooner
        sooner, later = (minutes / 60 / law.rate_one(c, c, 9.0) for c, minutes in ((18, 0.9), (22, 1.1)))
        bare = crossing(where, law, 2 * H)
        self.assertAlmostEqual(bare.earliest_s / H, 2 + sooner, places=6)
        self.assertAlmostEqual(bare.latest_s / H, 2 + later, places=6)
        self.assertTrue(bare.earliest_s < bare.t_s < bare.latest_s)
