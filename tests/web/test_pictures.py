"""Geometry of what is drawn: lifeline, core sample, pot, chart; films by their evidence."""

from datetime import timedelta
from types import SimpleNamespace

import numpy as np
from django.test import SimpleTestCase

from emplastra.climate.chart import FOOT, WIDTH, chart
from emplastra.climate.live import PlaceAir
from emplastra.core.air import series as made
from emplastra.core.air.journey import journey
from emplastra.core.product.film import Film
from emplastra.core.surface.clocks import fold
from emplastra.core.surface.events import Coated, Keyed
from emplastra.core.surface.fold import Toward, build
from emplastra.core.surface.plan import PlanStep
from emplastra.core.words import written
from emplastra.core.working import Basis
from emplastra.logbook.models import Kind
from emplastra.say.hours import moment
from emplastra.shared.times import span
from emplastra.state.lifeline import Scale, marks, ticks
from emplastra.state.pots import Pour
from emplastra.state.stack import LEAST_PX, METAL_PX, sample
from emplastra.work.pot_picture import FLOOR, picture
from tests.base import NOON, H, ShopCase, zone_state
from tests.core.test_surface import SELF, SHEET, coat, where

HOUR = 3600.0


def drawn(events, now_h, start_h=0.0, end_h=30.0, toward=SELF, ahead=None):
    """(kind, hour at its left edge, basis) of the marks of a zone whose air was read each half hour until now."""
    hours = np.arange(-30, 2 * now_h + 1) * HOUR / 2
    air = made.from_readings(hours, hours * 0 + 20, hours * 0 + 50, now_h * HOUR, made.Assumption(20, 50), ahead)
    way = journey([(0, air, "shop")])
    surface = fold(events, "steel", way, now_h * HOUR, toward)
    scale = Scale(start_h * HOUR, end_h * HOUR, width=10 * (end_h - start_h))
    state = SimpleNamespace(surface=surface, facts=SimpleNamespace(where=way))
    return [(m.kind, round(start_h + m.x / 10, 2), m.basis) for m in marks(state, scale)]


class LifelineTests(SimpleTestCase):
    """Test primer: coat 0..1 h, flash to 1:20, opens 3 h, closing 19.8 h, closes 24 h."""

    def test_a_coat_from_wet_to_missed(self):
        kinds = [kind for kind, _, _ in drawn([coat(0, 1)], 4)]
        self.assertEqual(kinds, ["wet", "waiting", "open", "open", "open", "closing", "missed"])
        starts = {kind: x for kind, x, basis in drawn([coat(0, 1)], 40)}
        self.assertEqual((starts["wet"], starts["open"], starts["closing"], starts["missed"]), (0.0, 3.0, 19.8, 24.0))

    def test_a_taper_that_the_edge_cuts_off_keeps_its_slope(self):
        """Closing 19.8 h to 24 h, half height 18 to 1.5: at the edge of 21.9 h, half way, it is 9.75 (shown 9.8)."""
        way = where()
        state = SimpleNamespace(
            surface=fold([coat(0, 1)], "steel", way, 20 * HOUR, SELF), facts=SimpleNamespace(where=way)
        )
        taper = next(m for m in marks(state, Scale(0.0, 21.9 * HOUR, width=219.0)) if m.kind == "closing")
        heights = [float(p.split(",")[1]) - 32 for p in taper.points.split()]
        self.assertEqual([round(h, 1) for h in heights], [-18.0, -9.8, 9.8, 18.0])

    def test_measured_held_forecast_and_assumed_have_their_own_outline(self):
        """Open from 3 h; read until 4 h, held until 5, forecast until 9, then assumed."""
        hours = np.arange(0, 10) * HOUR
        coming = made.Ahead(hours, hours * 0 + 20, hours * 0 + 9.3, hours * 0 + 1)
        table = [(x, basis) for kind, x, basis in drawn([coat(0, 1)], 4, ahead=coming) if kind == "open"]
        self.assertEqual(table, [(3.0, "measured"), (4.0, "estimated"), (5.0, "forecast"), (9.0, "assumed")])

    def test_bare_metal_is_a_saw_and_heavier_when_overdue(self):
        from emplastra.core.surface.events import Bared

        kinds = [kind for kind, _, _ in drawn([Bared(0, HOUR)], 20)]
        self.assertEqual(list(dict.fromkeys(kinds)), ["bare", "overdue"])
        self.assertEqual({k for k, _, _ in drawn([Bared(0, HOUR)], 2)}, {"bare"})

    def test_a_keyed_surface_is_open_again(self):
        kinds = [kind for kind, _, _ in drawn([coat(0, 1), Keyed(26 * HOUR, 27 * HOUR, entry=2)], 28, 20, 60)]
        self.assertEqual(kinds[0], "open")
        self.assertIn("closing", kinds)

    def test_what_lies_outside_is_not_drawn(self):
        self.assertEqual(drawn([coat(0, 1)], 40, 300, 330, Toward("Other", "x")), [])

    def test_ticks_name_midnight_by_its_day(self):
        shop = SimpleNamespace(zone=NOON.tzinfo)
        scale = Scale((NOON - 4 * H).timestamp(), (NOON + 20 * H).timestamp())
        self.assertEqual([label for _, label in ticks(scale, shop, 6)], ["12:00", "18:00", "Wed 13", "06:00"])

    def test_ticks_over_the_change_to_summer_time(self):
        """29 March 2026: from 00:00 to 06:00 by the wall is five hours."""
        shop = SimpleNamespace(zone=NOON.tzinfo)
        start = NOON.replace(month=3, day=29, hour=0)
        found = ticks(Scale(start.timestamp(), start.timestamp() + 6 * HOUR, width=6), shop, 3)
        self.assertEqual(found, [(0.0, "Sun 29"), (2.0, "03:00"), (5.0, "06:00")])


class StackTests(SimpleTestCase):
    STEPS = (
        PlanStep("p", "prime", "Test primer", coats=2, dft_um=50),
        PlanStep("s", "strip"),
        PlanStep("f", "surface", "Thick", coats=3, dft_um=100, sanded_um=50),
        PlanStep("x", "clear", "Left out", left_out="no"),
    )

    def picture(self, events=()):
        return sample(self.STEPS, build(events, 99 * HOUR), {"Test primer": SHEET})

    def test_plan_is_cumulated_from_the_metal_to_scale(self):
        drawn = self.picture()
        self.assertEqual(
            [(b.name, b.left_um, b.top_um) for b in drawn.plan], [("Test primer", 100, 100), ("Thick", 250, 350)]
        )
        self.assertEqual(drawn.total_um, 350)
        # Linear to 200 µm, then a break mark: the thick layer is drawn twice as high as the thin one.
        self.assertAlmostEqual(drawn.plan[1].height / drawn.plan[0].height, 2.0)
        self.assertEqual([b.broken for b in drawn.plan], [False, True])
        self.assertLess(drawn.plan[1].y, drawn.plan[0].y)
        self.assertAlmostEqual(drawn.plan[0].y + drawn.plan[0].height, drawn.height - METAL_PX - 4)

    def test_fact_stands_beside_and_what_is_to_come_is_open(self):
        one = Coated(0, HOUR, 1.0, "p", 1, SHEET, Film(42.0, Basis.MEASURED, "comb"), "Test primer")
        drawn = self.picture([one, Keyed(2 * HOUR, 3 * HOUR, um_off=10.0, entry=2)])
        self.assertEqual([(b.done, round(b.left_um)) for b in drawn.fact], [(True, 32), (False, 50), (False, 250)])
        self.assertEqual(
            (written(drawn.fact[0].label), drawn.fact[0].basis, drawn.fact_um), ("32 µm", "measured", 32.0)
        )

    def test_a_thin_layer_is_still_seen(self):
        thin = sample((PlanStep("p", "prime", "Test primer", dft_um=1),), build((), 0), {})
        self.assertEqual(thin.plan[0].height, LEAST_PX)


class PotPictureTests(SimpleTestCase):
    def test_fills_and_target_are_to_one_scale(self):
        part = SimpleNamespace(key="base", name="Base")
        pot = SimpleNamespace(
            plan=SimpleNamespace(whole=600.0),
            shown=300.0,
            poured=[SimpleNamespace(added=300.0, part=part)],
            sheet=SimpleNamespace(colours={"base": "#123456"}),
        )
        drawn = picture(pot, Pour(part, 450.0, 9.0, 150.0), 400.0)
        up = FLOOR - drawn.fills[0].y
        self.assertAlmostEqual((FLOOR - drawn.target_y) / up, 1.5, places=2)
        self.assertAlmostEqual((FLOOR - drawn.typed_y) / up, 400 / 300, places=2)
        self.assertAlmostEqual(drawn.fills[0].height, up, places=1)
        self.assertEqual(drawn.fills[0].colour, "#123456")
        self.assertAlmostEqual(drawn.band_y + drawn.band_h / 2, drawn.target_y, places=1)
        self.assertIsNone(picture(pot, None, None).target_y)


class ChartTests(SimpleTestCase):
    def test_lines_break_where_the_basis_changes(self):
        t = [0.0, 600.0, 1200.0]
        series = made.from_readings(t, [10.0, 12.0, 14.0], [50.0] * 3, 4 * HOUR, made.Assumption(18, 50))
        start = NOON.fromtimestamp(0, NOON.tzinfo)
        place = PlaceAir(None, series, 1200.0, ())
        drawn = chart(place, start, start + timedelta(hours=3), SimpleNamespace(zone=NOON.tzinfo))
        self.assertEqual([basis for basis, _ in drawn.air], ["measured", "estimated", "assumed"])
        first, last = drawn.air[0][1].split()[0], drawn.air[-1][1].split()[-1]
        self.assertEqual(float(first.split(",")[0]), 0.0)
        self.assertEqual(float(last.split(",")[0]), WIDTH)
        heights = [float(p.split(",")[1]) for _, points in drawn.air for p in points.split()]
        self.assertTrue(all(0 <= y <= FOOT for y in heights))


class WordsTests(ShopCase):
    def test_hours_and_spans_in_words(self):
        _, facts = zone_state(self.shop.zone)
        table = [
            (NOON + 2 * H, "14:00"),
            (NOON + 20 * H, "tomorrow 08:00"),
            (NOON - 20 * H, "yesterday 16:00"),
            (NOON + 72 * H, "Fri 12:00"),
            (NOON + 240 * H, "22 May 12:00"),
        ]
        for at, words in table:
            with self.subTest(words):
                self.assertEqual(moment(at.timestamp(), facts), words)
        self.assertEqual(moment(None, facts), "not within 30 days")
        spans = [
            (59 * 60, "59 min"),
            (3 * HOUR, "3 h"),
            (3.5 * HOUR, "3 h 30"),
            (72 * HOUR, "3 days"),
            (-600, "10 min"),
        ]
        self.assertEqual([span(s) for s, _ in spans], [words for _, words in spans])

    def test_surface_lags_behind_the_air_and_a_logged_one_leads(self):
        """1 mm steel, both faces, h 10: tau = 7850·460·0.001/20 = 180.6 s; in steady air it is at air."""
        state, _ = zone_state(self.shop.zone)
        self.assertEqual((round(state.now.temp_c, 6), state.now.basis), (20.0, Basis.ESTIMATED))
        self.assertIn("3 min behind", state.now.source)

    def test_part_coats_are_drawn_as_one_layer(self):
        self.shop.tell(Kind.BARED, -5, -4, "s-strip")
        self.shop.coat(-3, -2.5, 0.5)
        state, _ = zone_state(self.shop.zone)
        self.assertEqual((state.surface.bare[0][1], state.plan.states[2].share), (0.5, 0.5))
        self.shop.coat(-2, -1.5, 0.5)
        state, _ = zone_state(self.shop.zone)
        self.assertEqual((len(state.surface.layers), state.plan.states[2].coats_done), (1, 1))
        self.assertEqual(state.surface.bare, ())
