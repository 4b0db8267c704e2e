"""Heat: sol-air, the sun by month, minutes at temperature, warming up, print-through."""

import math

from django.test import SimpleTestCase

from emplastra.core.air import heat
from emplastra.core.air.lag import lag_s
from emplastra.core.errors import FieldError


class HeatTests(SimpleTestCase):
    def test_sol_air_against_the_handbook(self):
        """ASHRAE Fundamentals, from memory (CHECKS 10)."""
        for air, sun, colour, up, expected in ((25, 800, "dark", True, 62.6), (32, 950, "light", True, 52.7), (25, 600, "light", False, 40.6), (5, 0, "dark", True, 1.0), (10, 300, "dark", False, 25.6)):  # fmt: skip
            self.assertAlmostEqual(heat.sol_air_c(air, sun, colour, up), expected)
        self.assertAlmostEqual(
            heat.sol_air_c(20, 1000, "medium", False), 20 + 39
        )  # halfway between light and dark: ours
        with self.assertRaises(KeyError):
            heat.sol_air_c(20, 500, "mauve")

    def test_the_sun_at_noon(self):
        """On the equator in March it stands overhead: A e^(−B) (1 + C) = 1186 e^−0.156 · 1.071 = 1086.7; at 40° north in
        June 73.45° high: 1088 e^(−0.205 ÷ sin) (sin + 0.134) = 959; in December a face that stands gets more than one
        that looks up; beyond the circle in winter there is none."""
        self.assertAlmostEqual(heat.noon_sun_w_m2(3, 0), 1186 * math.exp(-0.156) * 1.071)
        self.assertAlmostEqual(heat.noon_sun_w_m2(6, 40), 959.0, delta=1)
        self.assertGreater(heat.noon_sun_w_m2(12, 48, False), heat.noon_sun_w_m2(12, 48))
        # Standing: direct · cos β, half the sky's share of it, half of a fifth that the ground throws back of both.
        high = math.radians(90 - 48 - 23.45)
        direct = 1233 * math.exp(-0.142 / math.sin(high))
        stands = direct * (math.cos(high) + 0.5 * 0.057 + 0.5 * 0.2 * (0.057 + math.sin(high)))
        self.assertAlmostEqual(heat.noon_sun_w_m2(12, 48, False), stands)
        # The table is smooth over the year: no month stands off the mean of its neighbours by 2 % of A.
        a = [heat.noon_sun_w_m2(month, 23.45) for month in range(1, 13)]
        self.assertTrue(all(abs(a[m] - 0.5 * (a[m - 1] + a[(m + 1) % 12])) < 0.12 * a[m] for m in range(12)), a)
        self.assertEqual(heat.noon_sun_w_m2(12, 80), 0)
        for month, latitude in ((0, 40), (13, 40), (6, 91)):
            with self.assertRaises(ValueError):
                heat.noon_sun_w_m2(month, latitude)

    def test_the_hottest_hour_of_a_year(self):
        air = [5, 8, 14, 20, 26, 31, 34, 33, 27, 20, 11, 6]
        dark, light = heat.hottest("dark", 48, air), heat.hottest("light", 48, air)
        self.assertEqual((dark.month, dark.air_c), (7, 34))
        self.assertAlmostEqual(dark.panel_c, 34 + 0.052 * dark.sun_w_m2 - 4)
        self.assertAlmostEqual(dark.panel_c - light.panel_c, 0.026 * dark.sun_w_m2)
        self.assertTrue(65 < dark.panel_c < 85, dark)
        self.assertIn(heat.hottest("dark", -35, heat.hot_air_c(-35)).month, (12, 1))
        self.assertEqual(len(heat.hot_air_c(48)), 12)
        self.assertEqual(max(heat.hot_air_c(48)), 34)
        self.assertAlmostEqual(max(heat.hot_air_c(60)), 29)

    def test_only_minutes_at_temperature_after_the_flash_count(self):
        """20 → 80 °C in 30 min passes 60 at 20 min; held to 60 min, down to 20 at 80 min passes 60 at 66.7."""
        log = [(0, 20), (15, 50), (30, 80), (45, 80), (60, 80), (80, 20)]
        self.assertAlmostEqual(heat.minutes_at(log, 60), 46 + 2 / 3)
        self.assertAlmostEqual(heat.minutes_at(log, 60, 30), 36 + 2 / 3)
        self.assertAlmostEqual(heat.minutes_at(log, 60, 63), 3 + 2 / 3)
        self.assertEqual(heat.minutes_at(log, 80.5), 0)
        self.assertEqual(heat.minutes_at(log, 80), 30)
        self.assertEqual(heat.minutes_at([(0, 70), (21, 70), (31, 70)], 60), 10)
        self.assertEqual(heat.gaps([(0, 70), (21, 70), (41, 70)]), [(0, 21)])
        self.assertEqual(heat.minutes_at([(0, 70)], 60), 0)

    def test_a_section_warms_with_its_thickness(self):
        """τ ln((80 − 20) ÷ (80 − 60)) = τ ln 3; 0.8 mm of steel, both faces, h 25: τ = 57.8 s; a casting of 40 mm: 2888.8."""
        for mm, minutes in ((0.8, 57.776 / 60 * math.log(3)), (40, 2888.8 / 60 * math.log(3))):
            self.assertAlmostEqual(heat.ramp_min(lag_s("steel", mm, 2, heat.H_OVEN), 20, 80, 60), minutes, places=3)
        self.assertEqual(heat.ramp_min(100, 65, 80, 60), 0)
        self.assertIsNone(heat.ramp_min(100, 20, 60, 60))

    def test_print_through(self):
        for cured, service, told in ((22, 71, True), (66, 71, False), (65.9, 71, True), (80, 71, False)):
            self.assertEqual(heat.prints_through(cured, service), told)

    def test_a_log_is_read_by_lines(self):
        self.assertEqual(
            heat.read_log("0 20\n15, 50\n30 °C".replace("30 °C", "30 80°C")), ((0, 20), (15, 50), (30, 80))
        )
        self.assertEqual([round(c, 6) for _, c in heat.read_log("0 68\n10 140", "F")], [20, 60])
        for text, word in (("", "0 readings"), ("0 20", "1 readings"), ("0 20\n0 30", "minutes must rise"), ("0 20\n5 x", "line 2"), ("0 20\n5", "line 2"), ("0 20\n5 900", "cannot be"), ("-1 20\n5 30", "cannot be")):  # fmt: skip
            with self.subTest(text), self.assertRaisesMessage(FieldError, word):
                heat.read_log(text)

    def test_a_loggers_table_is_read_by_its_head(self):
        """68 °F is 20 °C, 140 is 60; past midnight the clock goes on; the metal goes before the air."""
        for text, unit, expected in (
            ("time;air °C;metal °C\n10:58;70;20\n11:13;80;50,5", "F", ((0, 20), (15, 50.5))),
            ("date,time,temp (F)\n2026-05-12,23:50:30,68\n2026-05-13,00:10:30,140", "C", ((0, 20), (20, 60))),
            ("Date-time,Panel\n2026-05-12 23:50,20\n2026-05-13 00:10,60\n2026-05-14 00:10,61", "C", ((0, 20), (20, 60), (1460, 61))),
            ("minutes\tdegrees\n0\t68\n10\t140", "F", ((0, 20), (10, 60))),
        ):  # fmt: skip
            self.assertEqual([(round(t, 6), round(c, 6)) for t, c in heat.read_log(text, unit)], list(expected), text)
        for text, word in (("time,metal\n10:00", "line 2"), ("time,metal\n10:00,20", "1 readings"), ("time,metal\n10:00,x", "line 2")):  # fmt: skip
            with self.subTest(text), self.assertRaisesMessage(FieldError, word):
                heat.read_log(text)

    def test_stretches_are_where_it_is_warm_enough(self):
        log = [(0, 20), (15, 50), (30, 80), (45, 80), (60, 80), (80, 20), (90, 20), (100, 80)]
        found = heat.stretches_at(log, 60, 25)
        self.assertEqual([(round(a, 6), round(b, 6)) for a, b in found], [(25, 66.666667), (96.666667, 100)])

    def test_fields_of_a_lamp_cover_a_face(self):
        """A field of 800 laps 200: 1 400 takes 2 (to 1 400), 1 401 takes 3; 900 in fields of 400 takes 3 (to 1 000)."""
        for face, fields, counts in (((1400, 900), (800, 400), (2, 3)), ((1401, 400), (800, 400), (3, 1)), ((200, 100), (800, 400), (1, 1))):  # fmt: skip
            found = heat.passes(face, fields, 15.0)
            self.assertEqual((found.across, found.down, found.whole_min), (*counts, 15.0 * counts[0] * counts[1]))
        with self.assertRaises(ValueError):
            heat.passes((1, 1), (0, 5), 1)

    def test_a_section_rises_as_it_is_reached(self):
        """What ramp_min says it takes, rise_c reaches: two ways round one equation; at once where it has no mass."""
        self.assertAlmostEqual(heat.rise_c(2888.8, 20, 80, heat.ramp_min(2888.8, 20, 80, 60)), 60)
        self.assertEqual(heat.rise_c(0, 20, 80, 1), 80)

    def test_metal_lags_an_ovens_air(self):
        """In steady air it is rise_c's; in air that rises by 2 K/min it lags by 2 K/min times τ: the published response
        of a first-order lag to a ramp (any book of control)."""
        steady = heat.metal_in([(0, 80), (10, 80), (30, 80)], 2888.8)
        self.assertEqual(
            [round(c, 6) for _, c in steady], [round(heat.rise_c(2888.8, 20, 80, t), 6) for t in (0, 10, 30)]
        )
        ramp = heat.metal_in([(t, 20 + 2 * t) for t in range(61)], 300.0)
        self.assertAlmostEqual(ramp[-1][1], 20 + 2 * 60 - 2 * 5, places=3)

    def test_what_is_near_bears_so_much(self):
        """Common practice, no source: at the limit it bears, over it is said; fuel bears none; what is not known is left."""
        self.assertEqual(heat.too_hot_for({"glass", "engine"}, 70), [])
        self.assertEqual(len(heat.too_hot_for({"glass", "bushes", "fuel"}, 75)), 3)
        self.assertIn("glass", heat.too_hot_for(["glass"], 71)[0])
