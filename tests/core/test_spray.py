"""The spray pass: its film against the uniform sweep, its paint against the balance, its edges against the footprint."""

import math
import tracemalloc

import numpy as np
from django.test import SimpleTestCase
from scipy import integrate
from scipy.special import erf as erf_of_scipy

from emplastra.core.colour.card import Card
from emplastra.core.colour.lab import Lab, difference
from emplastra.core.errors import FieldError
from emplastra.core.spray import advise, bursts
from emplastra.core.spray.film import Wanted, cells_of, film_of
from emplastra.core.spray.gun import BODIES, Gun, erf, uniform_um
from emplastra.core.spray.panel import Panel, openings_of, openings_text, panel_of
from emplastra.core.spray.pearl import at_edges
from emplastra.core.spray.strokes import Hand, Stroke, strokes_of

GUN = Gun(180.0, 240.0, 200.0, 200.0, 0.6)
WANTED = Wanted(10.0, 9.0, 11.0, 0.2, 80.0)


def flow(gun, solids):
    """Dry film that lands [mm3/s]: 180 mL/min are 3000 mm3/s; of those the solids, of those what stays."""
    return gun.flow_ml_min * 1000 / 60 * solids * gun.stays


class FootprintTests(SimpleTestCase):
    def test_a_fan_holds_all_of_its_paint(self):
        # Integral of (1 − t²)^k over the fan by scipy's quadrature, from its end to a place.
        for body, (_, power) in BODIES.items():
            gun = Gun(180, 240, 200, 200, 0.6, body)
            whole = integrate.quad(lambda t, k=power: (1 - t * t) ** k, -1, 1)[0]
            for mm in (-150, -120, -60, 0, 30, 119, 121):
                t = max(-1.0, min(1.0, mm / 120))
                part = integrate.quad(lambda t, k=power: (1 - t * t) ** k, -1, t)[0] / whole
                with self.subTest(body=body, mm=mm):
                    self.assertAlmostEqual(float(gun.below(np.array(mm))), part, places=9)

        even = Gun(180, 240, 200, 200, 0.6, "even")
        self.assertEqual([float(even.below(np.array(mm))) for mm in (-120, -60, 60)], [0.0, 0.25, 0.75])

    def test_the_error_function(self):
        x = np.linspace(-4, 4, 401)
        self.assertLess(np.abs(erf(x) - erf_of_scipy(x)).max(), 1.6e-7)

    def test_distance_opens_the_fan_and_loses_paint(self):
        far = Gun(180, 240, 300, 200, 0.6)
        self.assertAlmostEqual(far.width_mm, 360.0)
        self.assertAlmostEqual(far.lands, 0.6 * math.exp(-100 / 500))
        self.assertAlmostEqual(GUN.lands, 0.6)
        self.assertEqual(Gun(180, 240, 30, 200, 0.9).lands, 1.0)


class FilmTests(SimpleTestCase):
    def test_uniform_sweep(self):
        # Strokes every 60 mm at 0.5 m/s, far from every edge: what lands ÷ (speed × pitch), whatever the fan is like.
        panel = Panel(1200, 1200)
        for body in BODIES:
            gun = Gun(180, 240, 200, 200, 0.6, body)
            film = film_of(panel, gun, strokes_of(panel, gun, Hand(0.5, 0.75, 100)), WANTED, (240, 240))
            middle = film.um[84:156, 84:156]
            exact = flow(gun, 0.2) / (500 * 60) * 1000
            self.assertAlmostEqual(uniform_um(gun, 0.2, 0.5, 60), exact, places=9)
            self.assertLess(abs(middle.mean() / exact - 1), 0.001)
            # Down the face the fans that lie on a place, each a power of a parabola, by their own sum.
            y, power = (np.arange(84, 156) + 0.5) * 5, BODIES[body][1]
            t = (y[:, None] - np.arange(-600, 1800, 60)) / 120
            fans = np.where(np.abs(t) < 1, np.maximum(0, 1 - t * t) ** power, 0).sum(axis=1)
            per = integrate.quad(lambda t, k=power: (1 - t * t) ** k, -1, 1)[0] * 120
            self.assertLess(np.abs(middle[:, 30] / (exact * 60 * fans / per) - 1).max(), 0.002)

    def test_mass_balance(self):
        # On a face that holds all of a stroke, what lies there is what landed: flow × seconds × what stays, to 0.1 %.
        panel = Panel(1500, 900)
        for along, shape in (("x", (180, 300)), ("y", (90, 150))):
            stroke = Stroke(along, 450.0, 300.0, 700.0, 0.4)
            film = film_of(panel, GUN, [stroke], WANTED, shape)
            landed_ml = 180 / 60 * (400 / 400) * 0.6
            self.assertLess(abs(film.paint.face_ml / landed_ml - 1), 0.001)
            self.assertLess(abs(film.paint.past_ml), 0.001 * landed_ml)
            self.assertAlmostEqual(film.paint.air_ml, 180 / 60 * 0.4)
            self.assertAlmostEqual(film.paint.sprayed_ml, 3.0)

    def test_a_stroke_on_the_edge_and_one_over_an_opening(self):
        panel = Panel(1500, 900)
        half = film_of(panel, GUN, [Stroke("x", 0.0, 300.0, 700.0, 0.4)], WANTED)
        self.assertAlmostEqual(half.paint.face_ml / 0.9, 1.0, places=3)
        self.assertAlmostEqual(half.paint.past_ml / 0.9, 1.0, places=3)
        # An opening under the lower half of the fan, the whole length of the stroke.
        cut = film_of(
            Panel(1500, 900, ((0, 450, 1500, 800),)), GUN, [Stroke("x", 450.0, 300.0, 700.0, 0.4)], WANTED, (90, 150)
        )
        self.assertAlmostEqual(cut.paint.face_ml / 0.9, 1.0, places=3)
        self.assertEqual(cut.hole.sum(), 35 * 150)

    def test_a_return_gets_what_is_tilted_over_its_edge(self):
        # Fan closed to 72 mm (three tenths), 45° over the upper edge: down a return of 20 mm goes, of a parabola,
        # F(20/√2 ÷ 36) − ½ with F(t) = ½ + ¾(t − t³/3).
        panel, t = Panel(1000, 600, (), 20), 20 / math.sqrt(2) / 36
        on_it = 0.75 * (t - t**3 / 3)
        hand = Hand(0.5, 0.5, 60, edges="tilted", edge_speed_m_s=0.1)
        film = film_of(panel, GUN, [s for s in strokes_of(panel, GUN, hand) if s.edge == "upper 0"], WANTED, (300, 500))
        upper, right, lower, left = film.returns
        um = flow(GUN, 0.2) * 0.3 * on_it / 100 / 20 * 1000
        self.assertLess(abs(upper.mean_um / um - 1), 0.005)
        self.assertEqual((right.mean_um, lower.mean_um, left.mean_um), (0.0, 0.0, 0.0))
        # The other half is on the face, and nowhere deeper than the fan reaches: 36 × √2 = 51 mm.
        self.assertLess(abs(film.um.sum() * 4 / 1e6 / 0.2 / (180 / 60 * 0.3 * 10.0 * 0.6 * 0.5) - 1), 0.01)
        self.assertEqual(film.um[26:].max(), 0.0)
        self.assertGreater(film.um[:25].min(axis=1)[0], 0.0)
        self.assertAlmostEqual(film.paint.returns_ml / (1000 * 20 * um / 1e6 / 0.2), 1.0, places=2)

    def test_shares_sags_and_dry(self):
        # A film that is even from 9 to 11 µm; at 20 % solids 80 µm wet are 16 µm dry. One stroke: 30 µm in its middle.
        panel = Panel(1000, 480)
        film = film_of(panel, GUN, [Stroke("x", 240.0, -200.0, 1200.0, 0.06)], WANTED, (480, 100))
        peak = flow(GUN, 0.2) / 60 * 1.5 / 240 * 1000

        def wider(um):  # of the height of 480 mm, where the parabola is above this film
            return 240 * math.sqrt(1 - um / peak) / 480

        self.assertAlmostEqual(film.thick, wider(11), delta=0.01)
        self.assertAlmostEqual(film.thin, 1 - wider(9), delta=0.01)
        self.assertAlmostEqual(film.even + film.thin + film.thick, 1.0)
        self.assertAlmostEqual(film.sags, wider(16), delta=0.01)
        self.assertAlmostEqual(film.dry, 1 - wider(5), delta=0.01)
        far = film_of(panel, Gun(180, 240, 300, 200, 0.6), [], WANTED)
        self.assertEqual((far.dry_um, film.dry_um, far.dry), (7.5, 5.0, 1.0))
        self.assertIsNone(film_of(panel, GUN, [], Wanted(10, 9, 11, 0.2)).sags)
        self.assertIsNone(far.edge_build)

    def test_edge_build(self):
        # 12 µm over all, and one stroke of 6 µm more in its middle along the upper edge: only that edge has more.
        panel = Panel(2000, 1000)
        even = strokes_of(panel, GUN, Hand(flow(GUN, 0.2) / (60 * 12), 0.75, 200, first_mm=-160))
        film = film_of(panel, GUN, even, WANTED)
        self.assertAlmostEqual(film.mean_um, 12.0, delta=0.05)
        self.assertAlmostEqual(film.edge_build, 0.0, delta=0.02)
        more = film_of(panel, GUN, [*even, Stroke("x", 0.0, -200, 2200, flow(GUN, 0.2) / (6 * 240 / 1.5))], WANTED)
        # The upper edge is 2000 of the 5900 mm around; within 25 mm of it the parabola is nearly whole.
        self.assertAlmostEqual(more.edge_build, (6 * 2000 / 5900 - 6 * 0.055) / 12.3, delta=0.03)
        self.assertEqual(film_of(Panel(40, 40), GUN, even, WANTED).edge_build, None)
        # Within 25 mm of an opening of 200 by 100: its sides, and a quarter of a circle at each corner.
        holed = film_of(Panel(1000, 1000, ((400, 450, 600, 550),)), GUN, even, WANTED, (1000, 1000))
        rim = 1e6 - 950**2 + 2 * 25 * (200 + 100) + math.pi * 25**2
        self.assertAlmostEqual(holed.edge.sum() / rim, 1.0, delta=0.01)


class StrokesTests(SimpleTestCase):
    def test_rows_to_and_fro(self):
        panel = Panel(1000, 600, ((400, 200, 700, 400),))
        found = strokes_of(panel, GUN, Hand(0.5, 0.5, 50))
        self.assertEqual([s.at_mm for s in found], [0, 120, 240, 240, 360, 360, 480, 600])
        self.assertEqual([(s.from_mm, s.to_mm) for s in found if s.row in (1, 2)], [(-50, 1050), (1050, -50)])
        # Released over the opening, 50 mm past its edges, both on the way there and back.
        self.assertEqual([(s.from_mm, s.to_mm) for s in found if s.row == 3], [(-50, 450), (650, 1050)])
        self.assertEqual([(s.from_mm, s.to_mm) for s in found if s.row == 4], [(1050, 650), (450, -50)])
        through = strokes_of(panel, GUN, Hand(0.5, 0.5, 50, released=False))
        self.assertEqual(len(through), 6)
        self.assertEqual(len(strokes_of(panel, GUN, Hand(0.5, 0.5, 160))), 6)
        edged = strokes_of(panel, GUN, Hand(0.5, 0.5, 50, edges="flat"))
        self.assertEqual(
            [s.edge for s in edged[:8]],
            [f"{side} {box}" for box in (0, 1) for side in ("upper", "right", "lower", "left")],
        )
        self.assertEqual(edged[4].length_mm, 300)
        self.assertEqual([(s.from_mm, s.to_mm, s.fan) for s in edged[:2]], [(-50, 1050, 1.0), (-50, 650, 1.0)])
        self.assertEqual([(s.from_mm, s.to_mm) for s in edged[2:4]], [(1050, -50), (650, -50)])
        # Tilted, past a corner by its own spot: 2.5 × 240 ÷ 16, at three tenths of the fan.
        tilted = strokes_of(panel, GUN, Hand(0.5, 0.5, -40, edges="tilted", edge_speed_m_s=0.1))
        self.assertEqual(
            (tilted[0].from_mm, tilted[0].to_mm, tilted[0].fan, tilted[0].speed_m_s), (-11.25, 1011.25, 0.3, 0.1)
        )
        self.assertEqual((tilted[8].fan, tilted[8].speed_m_s), (1.0, 0.5))
        self.assertAlmostEqual(found[0].seconds, 2.2)
        self.assertEqual([s.at_mm for s in strokes_of(panel, GUN, Hand(0.5, 0.5, 50), [90, 300])], [90, 300, 300])

    def test_what_cannot_be(self):
        panel = Panel(1000, 600)
        for hand, field in (
            (Hand(0, 0.5, 0), "speed"), (Hand(0.5, 1.0, 0), "overlap"), (Hand(0.5, 0.96, 0), "overlap"),
            (Hand(0.5, -0.1, 0), "overlap"), (Hand(0.5, 0.5, 501), "overrun"), (Hand(math.nan, 0.5, 0), "speed"),
        ):  # fmt: skip
            with self.subTest(hand), self.assertRaises(FieldError) as caught:
                strokes_of(panel, GUN, hand)
            self.assertEqual(caught.exception.field, field)
        for gun, field in (
            (Gun(0, 240, 200, 200, 0.6), "flow"), (Gun(180, 0, 200, 200, 0.6), "fan"), (Gun(180, 240, 20, 200, 0.6), "distance"),
            (Gun(180, 240, 200, 900, 0.6), "fan_at"), (Gun(180, 240, 200, 200, 1.1), "stays"), (Gun(180, 240, 200, 200, 0.6, "odd"), "body"),
        ):  # fmt: skip
            with self.subTest(gun), self.assertRaises(FieldError) as caught:
                strokes_of(panel, gun, Hand(0.5, 0.5, 0))
            self.assertEqual(caught.exception.field, field)
        for wrong, field in (
            (Panel(0, 600), "shape"), (Panel(600, 600, ((0, 0, 700, 100),)), "openings"), (Panel(600, 600, (), 151), "returns"),
            (Panel(600, 600, ((0, 0, 600, 580),)), "openings"), (Panel(600, 600, ((50, 50, 40, 90),)), "openings"),
        ):  # fmt: skip
            with self.subTest(wrong), self.assertRaises(FieldError) as caught:
                wrong.check()
            self.assertEqual(caught.exception.field, field)
        self.assertRaisesRegex(
            FieldError, "rows", strokes_of, Panel(30000, 30000), Gun(180, 10, 200, 200, 0.6), Hand(0.5, 0.5, 0)
        )


class PanelTests(SimpleTestCase):
    def test_a_face_of_its_shapes(self):
        door = [
            {"kind": "flat", "dims": {"length": 1200, "width": 760}},
            {"kind": "flat", "dims": {"length": 400, "width": 300}, "less": True},
        ]
        lying, standing = panel_of(door, 0.792), panel_of(door, 0.792, upright=True)
        self.assertEqual((lying.w_mm, lying.h_mm, standing.w_mm, standing.h_mm), (1200, 760, 760, 1200))
        self.assertEqual(lying.openings, ((400, 230, 800, 530),))
        self.assertEqual(standing.openings, ((230, 400, 530, 800),))
        self.assertAlmostEqual(lying.area_mm2, 1200 * 760 - 400 * 300)
        self.assertRaises(FieldError, panel_of, [], 1.0)

        self.assertEqual(Panel(600, 600, ((0, 0, 100, 600),)).check().area_mm2, 500 * 600)

    def test_openings_as_typed(self):
        boxes = openings_of("90 80 520 340; 700, 80, 100 x 100")
        self.assertEqual(boxes, ((90, 80, 610, 420), (700, 80, 800, 180)))
        self.assertEqual(openings_of(openings_text(boxes)), boxes)
        self.assertEqual(openings_of("1 2 3 4", 25.4)[0], (25.4, 2 * 25.4, 4 * 25.4, 6 * 25.4))
        for wrong in ("90 80 520", "90 80 520 340 1", "a 80 520 340", "; ".join(["1 1 1 1"] * 7)):
            with self.subTest(wrong), self.assertRaises(FieldError):
                openings_of(wrong)


class AdviceTests(SimpleTestCase):
    def test_no_way_that_was_tried_is_more_even(self):
        panel = Panel(900, 700, ((200, 150, 600, 350),))
        found = advise.best(panel, GUN, WANTED)
        self.assertAlmostEqual(found.film.mean_um, 10.0, places=6)
        # ±10 % counts as even: a third of that is as good as any, and no even way takes less paint.
        good, tried, least = max(0.1 / 3, found.film.spread_um / 10), 0, 1.0
        for overlap in (0.5, 0.6, 0.67, 0.75):
            for first in (-60.0, 0.0, 60.0):
                for released in (True, False):
                    hand = Hand(1.0, overlap, found.hand.overrun_mm, first, released=released)
                    at = film_of(panel, GUN, strokes_of(panel, GUN, hand), WANTED)
                    least = min(least, at.spread_um / at.mean_um)
                    ml = at.gun_s * 10 / at.mean_um * 3.0
                    if at.spread_um / at.mean_um <= good - 0.005:
                        tried += 1
                        self.assertGreater(ml, found.film.paint.sprayed_ml - 0.5)
        self.assertGreater(tried, 0)
        self.assertLess(found.film.spread_um / 10, max(0.1 / 3, least) + 0.003)
        # By its balance: 10 µm on 0.55 m² at 20 % solids are 27.5 mL; all that is sprayed besides has its place.
        self.assertAlmostEqual(found.film.paint.face_ml, 27.5, delta=0.1)
        self.assertIsNone(found.flow_ml_min)

    def test_a_hand_that_cannot_keep_it_opens_the_gun(self):
        thick = Wanted(100.0, 90.0, 110.0, 0.2)
        found = advise.best(Panel(900, 700), GUN, thick)
        self.assertEqual(found.hand.speed_m_s, advise.STEADY)
        self.assertGreater(found.flow_ml_min, 180)
        self.assertAlmostEqual(found.film.mean_um, 100.0, places=4)

    def test_a_face_of_too_many_rows_takes_fewer(self):
        # 29 m by fans of 160 mm: half over each other 362 rows, at 60 % over 450; 400 are the most.
        small = Gun(45.0, 160.0, 250.0, 250.0, 0.5, method="aerosol")
        found = advise.best(Panel(3000, 29_000), small, WANTED)
        self.assertLessEqual(len(found.film.strokes), 400)
        self.assertRaisesRegex(
            FieldError, "too small", advise.best, Panel(3000, 29_000), Gun(45.0, 80.0, 250.0, 250.0, 0.5), WANTED
        )

    def test_returns_are_sprayed_over_their_edges(self):
        found = advise.best(Panel(900, 700, (), 20), GUN, WANTED)
        self.assertEqual(found.hand.edges, "tilted")
        for each in found.film.returns:
            self.assertAlmostEqual(each.mean_um, 9.0, delta=0.2)  # the least that counts as even
        self.assertAlmostEqual(found.film.mean_um, 10.0, places=6)
        self.assertTrue(
            all(each.mean_um == 0 for each in advise.best(Panel(900, 700, (), 20), GUN, WANTED, "").film.returns)
        )


class PearlTests(SimpleTestCase):
    def test_more_film_is_more_coats(self):
        card = Card(tuple((n, Lab(60.0 - 4 * n, 20.0, 10.0)) for n in range(1, 7)))
        found = at_edges(0.25, 4, card)
        self.assertAlmostEqual(found.extra, 1.0)
        self.assertAlmostEqual(found.apart, difference(Lab(44, 20, 10), Lab(40, 20, 10)))
        self.assertIsNone(at_edges(0.75, 4, card).apart)
        self.assertIsNone(at_edges(0.25, 4).apart)
        self.assertIsNone(at_edges(None, 4))
        self.assertIsNone(at_edges(0.2, 0))


class BurstTests(SimpleTestCase):
    def test_random_dots(self):
        # A card of two passes that covers 36 % leaves 0.8 open in a pass; 0.8^4 = 0.4096 is open after four.
        card = bursts.TextureCard(0.5, 300, 2, 0.36, 1 - 0.4096)
        found = bursts.bursts_for(card)
        self.assertEqual((found.passes, found.distance_mm), (4, 300))
        self.assertAlmostEqual(found.burst_s, 0.5)
        self.assertAlmostEqual(found.covers, 0.5904)
        # From √2 as far half as much falls on a place: twice as many passes.
        far = bursts.bursts_for(card, 300 * math.sqrt(2))
        self.assertEqual(far.passes, 8)
        self.assertAlmostEqual(far.burst_s, 0.5)
        # Dots thrown at random cover what the model says, within three standard errors.
        rng = np.random.default_rng(7)
        open_ = np.ones(40_000, dtype=bool)
        for _ in range(4):
            open_ &= rng.random(40_000) >= 0.2
        self.assertAlmostEqual(1 - open_.mean(), found.covers, delta=3 * math.sqrt(0.5904 * 0.4096 / 40_000))

    def test_what_cannot_be(self):
        good = {"burst_s": 0.5, "distance_mm": 300, "passes": 2, "covers": 0.36, "wanted": 0.5}
        for change, field in (
            ({"burst_s": 0}, "burst"), ({"distance_mm": 20}, "distance"), ({"passes": 0}, "passes"), ({"covers": 0}, "covers"),
            ({"covers": 1.0}, "covers"), ({"wanted": 1.0}, "wanted"), ({"covers": 0.01, "wanted": 0.99}, "wanted"),
        ):  # fmt: skip
            with self.subTest(change), self.assertRaises(FieldError) as caught:
                bursts.bursts_for(bursts.TextureCard(**(good | change)))
            self.assertEqual(caught.exception.field, field)
        self.assertRaises(FieldError, bursts.bursts_for, bursts.TextureCard(**good), 10)


class SizeTests(SimpleTestCase):
    def test_memory_of_a_million_cells(self):
        # 8 MB of map, and of 200 strokes what each leaves across and along: 1.6 MB each, and as much while made.
        panel = Panel(3000, 3000)
        strokes = [Stroke("x", 15.0 * n, -50, 3050, 0.5, n) for n in range(200)]
        tracemalloc.start()
        film = film_of(panel, GUN, strokes, WANTED, (1000, 1000))
        peak = tracemalloc.get_traced_memory()[1] / 1e6
        tracemalloc.stop()
        self.assertEqual(film.um.shape, (1000, 1000))
        self.assertLess(peak, 40.0)
        self.assertEqual(cells_of(Panel(2000, 1000)), (80, 160))
