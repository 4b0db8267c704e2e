"""Where colour and clear stop on a panel of sound paint: spreads, areas, what is seen. Common practice, no source."""

from django.test import SimpleTestCase

from emplastra.core.surface.blend import Panel, best, spread_mm, stops

SIDE = Panel(800.0, 1.2, "top")
"""A panel 800 mm away from its joint, 1.2 m2, under the sky: all of a difference is seen."""


class BlendTests(SimpleTestCase):
    def test_how_far_it_is_spread(self):
        self.assertEqual([spread_mm(off) for off in (0, 1, 2.5)], [0, 100, 250])
        for wrong in (-0.1, 30.1, float("nan")):
            with self.assertRaises(ValueError):
                spread_mm(wrong)
        for panel in (Panel(0, 1.2), Panel(800, 0)):
            with self.assertRaises(ValueError):
                stops(1, panel, 1)

    def test_which_stop_is_advised(self):
        rows = (
            # difference, limit, where a crease runs, advised, colour ends, clear ends [mm]
            (1.4, 1.0, None, "joint", 0, 0),  # 1.4 / 1.5 at a gap
            (2.4, 1.0, None, "half", 240, 800),
            (2.4, 1.0, 300.0, "crease", 240, 300),
            (2.4, 1.0, 100.0, "half", 240, 800),  # 100 mm of 240 leave 2.4 x 0.58 at the crease
            (6.0, 1.0, None, "half", 400, 800),  # half way is not enough: the one that shows least
            (0.0, 1.0, None, "joint", 0, 0),
        )
        for off, limit, broken, key, colour, clear in rows:
            with self.subTest(off=off, broken=broken):
                found = best(stops(off, Panel(800.0, 1.2, "top", broken), limit))
                self.assertEqual((found.key, found.colour_mm, found.clear_mm), (key, colour, clear))

    def test_what_is_seen_and_what_it_takes(self):
        found = {stop.key: stop for stop in stops(6.0, SIDE, 1.0)}
        self.assertAlmostEqual(found["joint"].seen, 4.0)
        self.assertAlmostEqual(found["half"].seen, 6 * (1 - 400 / 600))
        self.assertFalse(found["half"].fits)
        # Colour on half of 1.2 m2, clear on all: 12 + 6 min a m2 of clear, 8 of colour, 20 to mask; nothing to polish.
        self.assertEqual((found["half"].colour_m2, found["half"].clear_m2, found["half"].polish_m2), (0.6, 1.2, 0.0))
        self.assertEqual(found["half"].minutes, round(18 * 1.2 + 8 * 0.6 + 20))
        self.assertFalse(found["open"].fits)
        self.assertIn("lifts and dulls", found["open"].but)
        shade = {stop.key: stop for stop in stops(6.0, Panel(800, 1.2, "under"), 1.0)}
        self.assertAlmostEqual(shade["joint"].seen, 0.3 * 4.0)
        crease = {stop.key: stop for stop in stops(2.0, Panel(800, 1.2, "top", 400.0), 1.0)}["crease"]
        # Half of the panel is cleared, the other half polished at 10 min a m2.
        self.assertEqual((crease.clear_m2, crease.polish_m2), (0.6, 0.6))
        self.assertEqual(crease.minutes, round(18 * 0.6 + 8 * 1.2 * 200 / 800 + 20 + 10 * 0.6))
