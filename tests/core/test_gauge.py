"""Film by gauge: acceptance by both standards, numbers of readings, reading in, and the film between the readings."""

import itertools
from fractions import Fraction
from statistics import fmean

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from emplastra.core.errors import FieldError
from emplastra.core.gauge import accept
from emplastra.core.gauge.film_map import by_difference, map_of, may_sand_um, thin_spots, wet_for
from emplastra.core.gauge.readings import PROFILE_UM, Reading, Taken, drifted, old_films, read, reads_over

# ISO 19840:2012 and SSPC-PA 2 (2012 and later), rules from memory; sets worked out with exact fractions (CHECKS 5).
CLEAN = (212, 220, 205, 230, 241, 226, 215, 219, 233, 208, 224, 210, 236, 228, 217)
FIFTH = (190, 215, 225, 240, 185, 230, 250, 236, 244, 195, 228, 232, 241, 226, 238)
MEAN = (201, 203, 205, 200, 202, 204, 168, 203, 201, 204, 200, 206, 201, 172, 202)
BLASTED = (228, 236, 221, 219, 240, 232, 226, 214, 235, 229, 223, 238, 217, 231, 225)
ASKED = accept.Asked(200, 200, 300)


class AcceptTests(SimpleTestCase):
    def test_sets_by_iso_19840(self):
        for name, readings, off, word in (
            ("clean", CLEAN, 0, "accepted"), ("exactly a fifth low", FIFTH, 0, "3 of 15 between"), ("mean under", MEAN, 0, "the mean is"), ("profile off each", BLASTED, 25, "5 of 15 between"),
            ("exactly four fifths holds", (160, *[210] * 9), 0, "accepted"), ("a hair under them does not", (159.99, *[210] * 9), 0, "1 of 10 under"), ("too thick", (*CLEAN, 601), 0, "the thickest"),
            ("as thick as may be", (*CLEAN, 600), 0, "accepted"), ("two of eleven low", (190, 190, *[210] * 9), 0, "accepted"), ("the mean as asked", (190, *[200] * 8, 210), 0, "accepted"),
        ):  # fmt: skip
            with self.subTest(name):
                um = [r.um for r in Taken(1, 0.0, off).corrected([Reading(x) for x in readings])]
                found = accept.judge("iso19840", um, um, accept.Asked(200))
                self.assertTrue(found.word.startswith(word), found.word)
                self.assertEqual(found.ok, word == "accepted")
                self.assertAlmostEqual(found.mean_um, float(sum(Fraction(x) - off for x in readings) / len(readings)))

    def test_sets_by_pa_2_at_its_levels(self):
        for name, readings, zero, holds in (("clean", CLEAN, 0, "12345"), ("fifth", FIFTH, 0, "12345"), ("mean", MEAN, 0, ""), ("base metal", BLASTED, 12, "12345"),
            ("one spot at 78 % of the least", (*CLEAN[:12], 156, 156, 156), 0, ""), ("one at 85 %", (*[230] * 12, 170, 170, 170), 0, "345"), ("one at 130 % of the most", (*[230] * 12, 390, 390, 390), 0, "45"),
            ("the mean over the most", (*[310] * 15,), 0, "5"), ("the mean at the most, one at 120 %", (*[285] * 12, 360, 360, 360), 0, "2345"), ("each at its limit", (*[200] * 15,), 0, "12345")):  # fmt: skip
            taken = Taken(3, zero)
            um = taken.corrected([Reading(x) for x in readings])
            spots = [s.um for s in taken.spots(um)]
            self.assertEqual(len(spots), 5)
            self.assertAlmostEqual(spots[0], fmean(readings[:3]) - zero)
            for level in "12345":
                with self.subTest(name, level=level):
                    found = accept.judge(f"pa2-{level}", [r.um for r in um], spots, ASKED, 3)
                    self.assertEqual(found.ok, level in holds, found.word)
        # One value alone is asked give or take a fifth.
        for um, holds in ((160, True), (159, False), (240, True), (241, False)):
            self.assertEqual(accept.judge("pa2-3", [um] * 3, [um] * 3, accept.Asked(200), 3).ok, holds)
        alone = accept.judge("pa2-3", CLEAN, CLEAN, ASKED, 1)
        self.assertEqual((alone.ok, alone.word), (False, "not judged: it wants three readings a spot"))

    def test_by_the_sheets_own_least_and_most(self):
        for least, most, word in ((150, 250, "accepted"), (206, 250, "the thinnest"), (150, 240, "the thickest"), (None, None, "not judged"), (205, 241, "accepted")):  # fmt: skip
            with self.subTest(least=least, most=most):
                found = accept.judge("", CLEAN, CLEAN, accept.Asked(200, least, most))
                self.assertTrue(found.word.startswith(word), found.word)
        with self.assertRaises(KeyError):
            accept.judge("iso", CLEAN, CLEAN, ASKED)
        with self.assertRaises(ValueError):
            accept.judge("", (), (), ASKED)

    def test_how_many_readings_a_face_wants(self):
        """ISO 19840 table 2 and SSPC-PA 2, from memory (CHECKS 5)."""
        for m2, plan in ((0.5, (5, 1)), (1, (5, 1)), (1.01, (10, 2)), (5, (15, 3)), (10.5, (20, 4)), (31, (30, 6)), (100, (30, 6)), (101, (40, 8)), (250, (50, 10))):  # fmt: skip
            self.assertEqual(accept.iso_readings(m2), plan)
            self.assertEqual((accept.wanted("", m2), accept.wanted("iso19840", m2)), (plan[0], plan[0]))
        for m2, spots in ((8, 5), (10, 5), (25, 15), (30, 15), (31, 15), (50, 15), (150, 20), (350, 30)):
            self.assertEqual(accept.pa2_spots(m2), spots)
            self.assertEqual(accept.wanted("pa2-3", m2), 3 * spots)


class ReadTests(SimpleTestCase):
    def test_rows_lie_where_they_are_read(self):
        found = read("212 238\n251 - 247\n", "um")
        self.assertEqual([(r.um, r.x, r.y) for r in found], [(212, 0.25, 0.25), (238, 0.75, 0.25), (251, 1 / 6, 0.75), (247, 5 / 6, 0.75)])  # fmt: skip
        spots = Taken(3).spots(read("210 212 214 300 301 302", "um", 3))
        self.assertEqual([(s.um, s.x, s.y) for s in spots], [(212, 0.25, 0.5), (301, 0.75, 0.5)])
        listed = read("x, y, um\n120, 80, 212.5\n1200\t600\t8\n", "um", 1, (1200, 600))
        self.assertEqual([(r.um, r.x, round(r.y, 4)) for r in listed], [(212.5, 0.1, 0.1333), (8, 1, 1)])
        self.assertAlmostEqual(read("4 4 4", "mil")[0].um, 101.6)
        self.assertAlmostEqual(read("4 4 4", "", shown="mil", asked_um=110)[0].um, 101.6)
        # A gauge's own table: its head says which column and which unit; where nothing was read is left out.
        table = read("No;Time;Thickness (mil);y %;x %\n1;10:02;4.0;50;25\n2;10:03;-;50;75\n3;10:04;5,0;100;100", "um", 1, None, 100)  # fmt: skip
        self.assertEqual([(round(r.um, 1), r.x, r.y) for r in table], [(101.6, 0.25, 0.5), (127, 1, 1)])
        self.assertEqual([(r.um, r.x) for r in read("Film um\n104\n98", "")], [(104, None), (98, None)])
        self.assertEqual([(r.x, r.y) for r in read("x %, y %, reading\n9.4, 50, 212", "um")], [(0.094, 0.5)])

    def test_what_cannot_be_read_says_why(self):
        for text, unit, asked, field, word in (
            ("", "", None, "readings", "write what the gauge reads"), ("- -", "", None, "readings", "no reading"), ("212 -5", "", None, "readings", "reads no less"), ("212 2x2", "", None, "readings", "line 1: 2x2"),
            ("3.9 4.2 4.4", "", 110, "unit", "may be mil"), ("30000", "um", None, "readings", "from 0 to 20000"), ("x,y,um\n1,2", "", None, "readings", "must be x, y and the reading"),
            ("x,y,um\n5000,2,200", "", None, "readings", "off the face"), ("x %,y %,reading\n101,2,200", "", None, "readings", "off the face"), ("7 " * 2001, "um", None, "readings", "at most 2000"),
        ):  # fmt: skip
            with self.subTest(text[:20]), self.assertRaisesMessage(FieldError, word) as caught:
                read(text, unit, 1, (1200, 600), asked)
            self.assertEqual(caught.exception.field, field)
        with self.assertRaisesMessage(FieldError, "may be µm"):
            read("108 112", "", asked_um=110, shown="mil")
        # Said, or as thin as that is asked, it is taken as it stands.
        self.assertEqual(len(read("3.9 4.2", "um", asked_um=110)), 2)
        self.assertEqual(len(read("30 35", "", asked_um=110)), 2)
        # The middle one decides, at an eighth of what is asked at least.
        self.assertEqual(len(read("3 3 110 112 115", "", asked_um=110)), 5)
        self.assertEqual(len(read("13.75 13.75", "", asked_um=110)), 2)
        self.assertEqual(len(read("7 " * 2000, "um")), 2000)
        self.assertEqual(read("x,y,um\n1200.4,600,8", "um", 1, (1200, 600))[0].x, 1.0)
        with self.assertRaises(FieldError):
            read("x,y,um\n1200.6,600,8", "um", 1, (1200, 600))

    def test_what_a_gauge_says_of_itself_and_of_what_lies_under(self):
        # ISO 19840, from memory.
        self.assertEqual(PROFILE_UM, {"fine": 10, "medium": 25, "coarse": 40, "unknown": 25})
        self.assertEqual((drifted(5), drifted(-5)), ("", ""))
        self.assertIn("lost its zero", drifted(40))
        self.assertIn("lost its zero", drifted(-5.1))
        self.assertEqual([r.um for r in Taken(1, 40).corrected([Reading(100), Reading(30)])], [60, 0])
        self.assertEqual([bool(reads_over(over)) for over in ("metal", "filler", "laminate", "light")], [False, True, True, True])  # fmt: skip
        # Common practice, no source: a millimetre is filler.
        old = [Reading(um) for um in (120, 299, 300, 999, 1000, 2500)]
        self.assertEqual(old_films(old), {"filler": 2, "painted again": 2, "one paint job": 2})
        self.assertEqual(old_films(old[:1]), {"one paint job": 1})


PLACES = st.tuples(st.floats(0, 1), st.floats(0, 1), st.floats(20, 600))


class MapTests(SimpleTestCase):
    @settings(max_examples=30, deadline=None)
    @given(st.lists(PLACES, min_size=3, max_size=30))
    def test_between_the_readings_it_is_between_them_and_every_place_is_in_one_step(self, places):
        film = map_of([Reading(um, x, y) for x, y, um in places], 1200, 800, ASKED, 160)
        um = [um for *_, um in places]
        self.assertTrue(min(um) - 1e-6 <= film.um.min() and film.um.max() <= max(um) + 1e-6)
        area = sum(_area(line) for band in film.bands() for line in band)
        self.assertAlmostEqual(area, 1.0, places=6)
        self.assertEqual(film.steps, (160, 200, 230, 300))

    def test_at_a_reading_stands_the_reading(self):
        spots = [Reading(212, 0, 0), Reading(238, 1, 0), Reading(160, 0.5, 0.5), Reading(251, 1, 1)]
        film = map_of(spots, 960, 480, ASKED, 160)
        for spot in spots:
            self.assertAlmostEqual(film.at(spot.x, spot.y), spot.um, places=3)
        self.assertEqual([round(x, 3) for x in by_difference([Reading(260, 0.5, 0.5), Reading(300)], film)], [100])
        self.assertEqual(by_difference(spots, None), [])
        self.assertIsNone(map_of(spots[:2], 960, 480, ASKED, 160))
        self.assertIsNone(map_of([Reading(1), Reading(2), Reading(3)], 960, 480, ASKED, 160))

    def test_where_to_add(self):
        """A row of 220 with one end at 162: one part there, 58 µm more; wet at 44 % solids 58 ÷ 0.44 = 131.8 µm."""
        row = [Reading(220, (k + 0.5) / 8, y) for k in range(8) for y in (0.25, 0.75)]
        low = [Reading(162, 1, 0.75), Reading(171, 0.97, 0.7)]
        film = map_of(row + low, 1600, 400, accept.Asked(220), 176)
        (spot,) = thin_spots(film, row + low, 176, 220)
        self.assertEqual((spot.least_um, spot.add_um), (162, 58))
        self.assertTrue(spot.reach[0] > 0.7 and spot.reach[2] == 1.0 and 0.004 <= spot.share < 0.3, spot)
        self.assertGreater(spot.middle[0], 0.8)
        self.assertAlmostEqual(wet_for(spot.add_um, 44), 131.8, places=1)
        self.assertEqual(thin_spots(film, row, 176, 220), [])
        two = thin_spots(map_of([*row, low[0], Reading(150, 0, 0)], 1600, 400, accept.Asked(220), 176), [*row, low[0], Reading(150, 0, 0)], 176, 219)  # fmt: skip
        self.assertEqual([s.least_um for s in two], [150, 162])
        self.assertEqual((may_sand_um(162, 140), may_sand_um(130, 140)), (22, 0))


def _area(line):
    """Signed area of an outline: holes run the other way round."""
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in itertools.pairwise(line)) / 2
