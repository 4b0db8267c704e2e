"""The first hours that let a coat be put on: against stretches of air that are known, hours of the shop, summer time."""

from datetime import datetime
from zoneinfo import ZoneInfo

import numpy as np
import psychrolib
from django.test import SimpleTestCase

from emplastra.core.air.dewpoint import Limits
from emplastra.core.air.journey import Cut
from emplastra.core.errors import FieldError
from emplastra.core.schedule.coating_day import (
    Coming,
    Sky,
    fanned,
    flame_water_g_m3,
    flamed,
    joined,
    look,
    warmed,
    without,
)
from emplastra.core.schedule.shop_hours import ShopHours, read

H = 3600.0
VIENNA = ZoneInfo("Europe/Vienna")
LIMITS = Limits(air_c=(10, 30), surface_c=(12, 35), rh_pct=(None, 80))


def cut(*knots):
    """Air through (hour, °C, dew point °C)."""
    t, air, dew = (np.array(x, float) for x in zip(*knots, strict=True))
    return Cut(t * H, air, air, dew, np.zeros(len(t) - 1, np.int8))


def coming(*knots, metal=20.0, **more):
    return Coming(cut(*knots), metal, 1.0, more.pop("limits", LIMITS), **more)


def half_an_hour(on_s):
    return on_s + H / 2


class SlotTests(SimpleTestCase):
    def test_the_first_hours_that_hold(self):
        # Dew point 19 until 04:00, falling to 10 by 05:00: 3 K under the metal's 20 °C at 17, two ninths of that hour.
        damp = coming((0, 20, 19), (4, 20, 19), (5, 20, 10), (24, 20, 10))
        day = look([damp], H, half_an_hour, 0.0)
        opens = (4 + 2 / 9) * H
        # Over 80 % a little longer; humidity is taken linear between the hours, as all that is forecast.
        psychrolib.SetUnitSystem(psychrolib.SI)
        at_4, at_5 = (100 * psychrolib.GetRelHumFromTDewPoint(20, dew) for dew in (19, 10))
        by_rh = (4 + (at_4 - 80) / (at_4 - at_5)) * H
        self.assertAlmostEqual(day.closed["dew"][0][1], opens, delta=2)
        self.assertAlmostEqual(day.slot.begin_s, by_rh, delta=30)
        self.assertAlmostEqual(day.slot.end_s - day.slot.begin_s, 1.5 * H)
        self.assertEqual(day.why(0, H), "dew")
        self.assertEqual(day.why(10 * H, 11 * H), "")
        self.assertIn("1.0", day.worst["dew"])
        # Not before its window opens; then on the quarter of an hour; not where the air closes again within its flash.
        self.assertEqual(look([damp], H, half_an_hour, 7.1 * H).slot.begin_s, 7.1 * H)
        short = coming((0, 20, 10), (2, 20, 10), (2.01, 20, 19), (5, 20, 19), (5.01, 20, 10), (24, 20, 10))
        self.assertEqual(look([short], H, half_an_hour, 0).slot.begin_s, 0)
        self.assertGreater(look([short], H, half_an_hour, 0.6 * H).slot.begin_s, 5 * H)
        self.assertGreater(look([short], H, half_an_hour, 0, 3 * H).slot.begin_s, 5 * H)
        self.assertIsNone(look([coming((0, 20, 19), (9, 20, 19))], H, half_an_hour, 0).slot)
        self.assertEqual(look([damp], H, lambda on_s: None, 6 * H).slot.end_s, 7 * H)

    def test_each_limit_names_itself(self):
        for knots, metal, name in (
            (((0, 20, 2), (9, 20, 2)), 11.0, "cold"), (((0, 9, 2), (9, 9, 2)), 15.0, "chill"), (((0, 31, 2), (9, 31, 2)), 31.0, "heat"),
            (((0, 20, 2), (9, 20, 2)), 36.0, "hot"), (((0, 20, 16.6), (9, 20, 16.6)), 20.0, "damp"),
        ):  # fmt: skip
            with self.subTest(name):
                slow = Coming(cut(*knots), metal, 1e9, LIMITS)
                self.assertEqual(look([slow], H, half_an_hour, 0).why(0, H), name)
        dry = Limits(rh_pct=(40, None))
        self.assertEqual(look([coming((0, 20, 2), (9, 20, 2), limits=dry)], H, half_an_hour, 0).why(0, H), "dry")

    def test_outdoors_night_rain_and_wind_close(self):
        # Metal at 16 °C, dew point 12: under a night sky 4 K colder it is at its dew point.
        air = ((0, 16, 12), (24, 16, 12))
        limits = Limits(surface_c=(5, 35), rh_pct=(None, 90))
        night = coming(*air, metal=16.0, limits=limits, nights=((2 * H, 6 * H),))
        day = look([night], H, half_an_hour, 0)
        self.assertEqual([tuple(round(x / H, 3) for x in span) for span in day.closed["dusk"]], [(2, 6)])
        self.assertEqual((day.slot.begin_s, day.why(3 * H, 4 * H)), (0, "dusk"))
        self.assertEqual(look([night], 1.6 * H, half_an_hour, 0).slot.begin_s // H, 6)
        sky = Sky(np.arange(5) * H, np.array([0, 0.2, 0, 0, np.nan]), np.array([2, 2, 9, 2, np.nan]))
        wet = look([coming(*air, metal=16.0, limits=limits, sky=sky)], 2 * H, half_an_hour, 0)
        self.assertEqual((wet.closed["rain"], wet.closed["wind"]), (((H, 2 * H),), ((2 * H, 3 * H),)))
        self.assertEqual(wet.slot.begin_s, 3 * H)

    def test_hands_are_wanted_while_it_is_put_on(self):
        air = ((0, 20, 10), (48, 20, 10))
        shop = coming(*air, hands=((8 * H, 10 * H), (30 * H, 40 * H)))
        self.assertEqual(look([shop], H, half_an_hour, 0).slot.begin_s, 8 * H)
        # Put on by ten, it may flash after; but not put on from half past nine.
        self.assertEqual(look([shop], H, half_an_hour, 9 * H).slot.begin_s, 9 * H)
        self.assertEqual(look([shop], H, half_an_hour, 9.5 * H).slot.begin_s, 30 * H)
        self.assertEqual(look([shop], H, half_an_hour, 0).why(0, H), "shut")

    def test_what_heat_changes(self):
        cold = coming((0, 9, 5), (24, 9, 5), metal=9.0)
        self.assertIsNone(look([cold], H, half_an_hour, 0).slot)
        self.assertIsNotNone(look([warmed(cold, 5)], H, half_an_hour, 0).slot)
        # Propane: C3H8 + 5 O2 → 3 CO2 + 4 H2O, 44.1 and 4 × 18.02 g: 1.63 kg of water a kg. 5 K of 1206 J/m³K, four
        # times for the walls, are 24.1 kJ: 0.52 g of gas, 0.83 g of water a cubic metre.
        self.assertAlmostEqual(flame_water_g_m3(5), 1206 * 5 * 4 / 46.4e6 * 1000 * 4 * 18.015 / 44.1, delta=0.02)
        wet = flamed(cold, 5)
        w = psychrolib.GetHumRatioFromTDewPoint(5, 101325) + flame_water_g_m3(5) / 1000 / psychrolib.GetDryAirDensity(14, 101325)  # fmt: skip
        self.assertAlmostEqual(float(wet.air.dew_c[0]), psychrolib.GetTDewPointFromHumRatio(14, w, 101325), delta=0.15)
        self.assertGreater(wet.air.dew_c[0], warmed(cold, 5).air.dew_c[0] + 1)
        # A casting that is still cold from the night: a fan brings it to the air in half the time.
        iron = Coming(cut((0, 20, 12), (24, 20, 12)), 8.0, 4 * H, Limits())
        slow, quick = (look([x], 60, half_an_hour, 0).slot.begin_s for x in (iron, fanned(iron)))
        # From 8 to 15 °C, 3 K over dew: 4 h × ln(12/5).
        self.assertAlmostEqual(slow, 4 * H * np.log(12 / 5), delta=300)
        self.assertAlmostEqual(quick, slow / 2, delta=300)

    def test_stretches(self):
        self.assertEqual(joined([(3, 4), (0, 1), (1, 2)]), ((0, 2), (3, 4)))
        self.assertEqual(without([(0, 10)], [(2, 3), (9, 12)]), ((0, 2), (3, 9)))
        self.assertEqual(without([(0, 10)], [(0, 10)]), ())


class HoursTests(SimpleTestCase):
    def test_as_typed(self):
        found = read("Mon–Fri 7:00–12, 13:00-17:00; Sat 8 to 12")
        self.assertEqual(found.text, "Mon–Fri 7:00–12:00, Mon–Fri 13:00–17:00, Sat 8:00–12:00")
        self.assertEqual(read(found.text), found)
        self.assertEqual(read("fri-mo 9-10").text, "Mon 9:00–10:00, Fri–Sun 9:00–10:00")
        self.assertEqual(read(" "), ShopHours())
        self.assertEqual(len(read("Mon 7–12, 12–17").open), 2)
        for wrong in ("Mon 12–7", "Mo", "7–12", "Xyz 7–12", "Mon 7–25", "Mon 7–12, Mon 11–13", "M 7–12"):
            with self.subTest(wrong), self.assertRaises(FieldError) as caught:
                read(wrong)
            self.assertEqual(caught.exception.field, "open_hours")

    def test_stretches_by_the_wall_clock(self):
        hours = read("Sat–Mon 8:00–10:00")
        # Summer time begins on Sunday 29 March 2026 in Vienna: 8:00 is 7:00 UTC before and 6:00 UTC after.
        start = datetime(2026, 3, 27, 12, tzinfo=VIENNA).timestamp()
        found = hours.spans(start, start + 5 * 24 * H, VIENNA)
        utc = [datetime.fromtimestamp(a, ZoneInfo("UTC")).strftime("%a %H") for a, _ in found]
        self.assertEqual(utc, ["Sat 07", "Sun 06", "Mon 06"])
        self.assertTrue(all(b - a == 2 * H for a, b in found))
        inside = datetime(2026, 3, 28, 9, tzinfo=VIENNA).timestamp()
        self.assertEqual(hours.spans(inside, inside + H / 2, VIENNA), ((inside, inside + H / 2),))
        self.assertEqual(ShopHours().spans(0.0, 5.0, VIENNA), ((0.0, 5.0),))
