"""Faults of a coat: causes scored by hand, what a remedy costs of the film by hand. Common practice, no source, but for the grains."""

from django.test import SimpleTestCase

from emplastra.core.defects.causes import SIGNS, Says, Sign, faults, scored
from emplastra.core.defects.remedy import Film, remedy_for
from emplastra.core.errors import FieldError
from emplastra.core.surface.steps import STEPS
from emplastra.core.survey.topics import TOPICS
from emplastra.core.working import Basis

YES, NO = Sign(Says.SHOWS, "yes"), Sign(Says.NOT, "no")
CLEAR = Film(90.0, Basis.MEASURED, 50.0, Basis.SHEET)


class CausesTests(SimpleTestCase):
    def test_every_fault_has_a_name_causes_and_tests(self):
        names = {choice.key for choice in TOPICS["film"].choices}
        self.assertLessEqual(set(faults()), names)
        # What is seen later, by sanding, lamp or tape, is mended where it is found.
        self.assertEqual(names - set(faults()), {"cut-through", "spit", "scratch", "shows", "torn"})
        used = set()
        for fault in faults().values():
            self.assertTrue(fault.causes and all(cause.test and cause.next_time for cause in fault.causes), fault.key)
            used |= {sign for cause in fault.causes for sign in cause.signs}
        self.assertEqual(used, set(SIGNS))

    def test_scores(self):
        """Runs: too much at once is usual (2), the others once (1); a sign for it is 2, one that is not there -1."""
        rows = (
            ({}, [("Too much at once", 2, "possible"), ("Coats too soon after each other", 1, "possible")]),
            ({"wet": YES, "thick": NO}, [("Too much at once", 2 + 2 - 1, "likely")]),
            ({"wet": NO, "thick": NO, "soon": YES}, [("Coats too soon after each other", 3, "likely"), ("Too cold to flash", 1, "possible")]),
            ({"near": YES, "slow": YES, "wet": YES}, [("Gun too near or too slow", 5, "likely"), ("Too much at once", 4, "likely")]),
            (dict.fromkeys(SIGNS, NO), [("Too much at once", 0, "unlikely"), ("Coats too soon after each other", 0, "unlikely")]),
        )  # fmt: skip
        for record, first in rows:
            with self.subTest(record):
                found = scored(faults()["runs"], record)
                self.assertEqual([(each.cause.name, each.score, each.word) for each in found[: len(first)]], first)
        last = scored(faults()["runs"], {"wet": NO, "thick": NO})[-1]
        self.assertEqual((last.cause.name, last.word, len(last.against)), ("Too much at once", "unlikely", 2))
        told = scored(faults()["runs"], {"wet": YES})[0]
        self.assertEqual((told.untold, [sign.words for sign in told.speaks]), (("film",), ["yes"]))
        # A cause that is rare needs more than one sign to be likely: 0 + 2.
        dust = {each.cause.name: each for each in scored(faults()["dust"], {"cold": YES})}
        self.assertEqual(dust["Long open in still air"].word, "possible")


class RemedyTests(SimpleTestCase):
    def test_polishing_costs_what_stands_out_and_every_scratch(self):
        """Scratches are a fifth of the grain: P1500 12.6, P2000 10.3, P2500 8.4 µm (ISO 6344, from memory)."""
        found = remedy_for(faults()["orange-peel"], CLEAR)
        # 8 µm: P1500, at once to P2500 (their grains are 1.5 apart, 2.2 may be), then a µm of compound.
        self.assertEqual(
            [(act.kind, act.grit) for act in found.acts], [("abrade", "P1500"), ("abrade", "P2500"), ("polish", "")]
        )
        takes = 8 + 12.6 / 5 + 8.4 / 5 + 1
        self.assertAlmostEqual(found.takes_um, takes)
        self.assertAlmostEqual(found.left_um, 90 - takes)
        self.assertEqual((found.way, found.bears, found.why), ("polish", True, ""))
        for stands, first in (
            (60, "P800"),
            (40, "P800"),
            (39, "P1200"),
            (15, "P1200"),
            (14, "P1500"),
            (5, "P1500"),
            (4, "P2000"),
            (0, "P2000"),
        ):
            with self.subTest(stands):
                thick = Film(500.0, Basis.MEASURED)
                self.assertEqual(remedy_for(faults()["dust"], thick, stands).acts[0].grit, first)

    def test_what_the_film_does_not_bear_is_coated_again(self):
        takes = 8 + 12.6 / 5 + 8.4 / 5 + 1
        for there, way in ((50 + takes + 0.01, "polish"), (50 + takes - 0.01, "again"), (None, "polish")):
            with self.subTest(there):
                found = remedy_for(faults()["orange-peel"], Film(there, Basis.ESTIMATED, 50.0))
                self.assertEqual(found.way, way)
        self.assertIn(
            "polished it would leave", remedy_for(faults()["orange-peel"], Film(55.0, Basis.ESTIMATED, 50.0)).why
        )
        again = remedy_for(faults()["orange-peel"], Film(30.0, Basis.ESTIMATED, 20.0, polishes=False), coat="base")
        # P800 has 21.8 µm: 8 + 4.36 off, flat; then wiped, then the coat.
        self.assertEqual([act.kind for act in again.acts], ["abrade", "degrease", "base"])
        self.assertAlmostEqual(again.takes_um, 8 + 21.8 / 5)
        self.assertIn("only clear and gloss", again.why)
        self.assertIsNone(remedy_for(faults()["dust"], Film(None, Basis.ASSUMED)).bears)

    def test_what_does_not_hold_goes_off(self):
        found = remedy_for(faults()["peels"], CLEAR)
        self.assertEqual((found.way, found.left_um, found.takes_um), ("off", 0.0, 90.0))
        untold = remedy_for(faults()["peels"], Film(None, Basis.ASSUMED))
        self.assertEqual((untold.left_um, untold.takes_um), (None, 0.0))
        self.assertEqual(remedy_for(faults()["craters"], CLEAR, 30).way, "again")
        self.assertAlmostEqual(remedy_for(faults()["craters"], CLEAR, 30).takes_um, 30 + 35 / 5)
        for wrong in (-1.0, 2001.0, float("nan")):
            with self.subTest(wrong), self.assertRaises(FieldError) as caught:
                remedy_for(faults()["dust"], CLEAR, wrong)
            self.assertEqual(caught.exception.field, "stands")

    def test_its_acts_are_steps_of_a_plan(self):
        for fault in faults().values():
            for film in (CLEAR, Film(10.0, Basis.ASSUMED)):
                found = remedy_for(fault, film)
                self.assertLessEqual({act.kind for act in found.acts}, set(STEPS))
                self.assertTrue(found.working.lines)
