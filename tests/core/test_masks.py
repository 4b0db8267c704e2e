"""Masks: how long they may stay, what is open to overspray, what they take."""

import math

from django.test import SimpleTestCase

from emplastra.core.piece.job_map import Cells
from emplastra.core.surface import masks
from emplastra.core.surface.clocks import Setting, with_clocks
from emplastra.core.surface.fold import build
from emplastra.core.surface.names import Runs, Status
from tests.core.test_fit import straight
from tests.rulings import H, event_of

TIMES = {
    "flash": [[-20, 10], [60, 10]], "touch": [[-20, 30], [60, 30]], "handle": [[-20, 240], [60, 240]],
}  # fmt: skip


def clock(done, t_h=0.0):
    """The tape's clock on a face to which this was done, so many hours from now."""
    surface = build([event_of(*each, n=n) for n, each in enumerate(done, 1)], t_h * H)
    return with_clocks(surface, Setting("steel", straight([-900, 20, 40], [900, 20, 40]))).clock(Runs.TAPE)


class TapeTests(SimpleTestCase):
    """Tape is pulled while what lies over it is dry to the touch and not hard: common practice, no source."""

    def test_when_it_comes_off(self):
        base = ["coat", "base-coat", {"times": TIMES}]
        paper, week = ["masked", "paper"], ["masked", "tape", {"bears_h": 168}]
        rows = (
            # No coat over it: a day for paper tape, or as the roll says.
            ([[-5, *paper]], 0.0, Status.OPEN, -5, 19),
            ([[-30, *paper]], 0.0, Status.MISSED, -30, -6),
            ([[-30, *week]], 0.0, Status.OPEN, -30, 138),
            # The shorter of two governs; taken off, nothing runs.
            ([[-30, *week], [-5, *paper]], 0.0, Status.OPEN, -5, 19),
            # Under a coat: from dry to the touch (30 min) until hard (4 h), or until the tape is spent.
            ([[-5, *paper], [-0.25, *base]], 0.0, Status.WAITING, 0.25, 3.75),
            ([[-5, *paper], [-1, *base]], 0.0, Status.OPEN, -0.5, 3),
            ([[-5, *paper], [-4.5, *base]], 0.0, Status.MISSED, -4, -0.5),
            ([[-23, *paper], [-1, *base]], 0.0, Status.OPEN, -0.5, 1),
            # A coat that lay there before it was masked does not count.
            ([[-6, *base], [-5, *paper]], 0.0, Status.OPEN, -5, 19),
        )
        for done, t_h, status, opens_h, closes_h in rows:
            with self.subTest(done=done):
                found = clock(done, t_h)
                self.assertEqual(found.status, status)
                self.assertAlmostEqual(found.opens_s / H, opens_h, delta=0.02)
                self.assertAlmostEqual(found.closes_s / H, closes_h, delta=0.02)
        self.assertIsNone(clock([[-5, *paper], [-4, "unmasked"]]))
        self.assertIsNone(clock([[-5, *base]]))

    def test_what_is_open_to_overspray(self):
        bared, wiped = [-9, "bared", "sander"], [-8, "wiped"]
        rows = (
            ([], "bare", "abrade", True, "stays bare", True),
            ([bared, wiped], "coated", "prime", True, "clean bare metal", False),
            ([bared], "coated", "prime", True, None, None),
            ([bared, wiped], "coated", "abrade", True, None, None),
            ([bared, wiped, [-7, "coat", "clear-coat"]], "coated", "", False, "finished", True),
            ([bared, wiped, [-7, "coat", "two-pack-surfacer"]], "coated", "block", True, None, None),
            ([bared, wiped, [-7, "coat", "two-pack-surfacer"]], "coated", "mask", True, None, None),
            ([bared, wiped, [-7, "coat", "base-coat"]], "coated", "clear", True, "base coat waiting for its next coat", False),
        )  # fmt: skip
        for done, ends, following, more, why, good in rows:
            with self.subTest(done=done, following=following):
                surface = build([event_of(*each, n=n) for n, each in enumerate(done, 1)], 0.0)
                found = masks.open_to(surface, ends, following, more)
                self.assertEqual((found.why, found.for_good) if found else (None, None), (why, good))

    def test_what_it_takes(self):
        # A sheet of 2 m x 1 m has 6 m of edges; a gun reaches 0.9 m along half of them: 2.7 m2, at most the face.
        sheet = [{"kind": "flat", "dims": {"length": 2000, "width": 1000}}]
        found = masks.amount(sheet, 2.0, "hvlp", "paper")
        self.assertTrue(math.isclose(found.cover_m2, 2.0 * 1.15) and math.isclose(found.tape_m, 6 * 1.1))
        self.assertTrue(math.isclose(masks.amount(sheet, 2.0, "brush", "film").cover_m2, 0.1 * 3 * 1.15))
        self.assertEqual(masks.amount(sheet, 2.0, "hvlp", "tape").cover_m2, 0)
        self.assertEqual([masks.cover_for(kind) for kind in ("prime", "base", "clear", "texture")], ["film", "paper", "paper", "film"])  # fmt: skip

    def test_what_lies_side_by_side_on_the_map(self):
        here = Cells("left", "panel", 4, 2, 3, 3)
        for other, beside in (
            (("left", 7, 3, 2, 2), True), (("left", 4, 5, 3, 1), True), (("left", 7, 5, 2, 2), False),
            (("left", 8, 3, 2, 2), False), (("right", 7, 3, 2, 2), False), (("left", 5, 3, 1, 1), True), (("left", 4, 2, 3, 3), False),
        ):  # fmt: skip
            view, *cells = other
            self.assertEqual(here.touches(Cells(view, "panel", *cells)), beside, other)

    def test_which_colour_goes_first(self):
        cream, red, black = masks.Tone("Cream", 2.0, False, 0.7), masks.Tone("Red", 4.0, True, 0.1), masks.Tone("Black", 1.0, False, 0.02)  # fmt: skip
        for tones, wanted in (
            ((red, cream), ["Cream", "Red"]), ((black, cream), ["Cream", "Black"]), ((black, red), ["Black", "Red"]), ((red, black, cream), ["Cream", "Black", "Red"]),
            ((masks.Tone("A", 1.0), masks.Tone("B", 2.0)), ["B", "A"]),
        ):  # fmt: skip
            self.assertEqual([tone.name for tone, _ in masks.order_of_tones(tones)], wanted)
        self.assertIn("bleeds", masks.order_of_tones((red, cream))[1][1])

    def test_a_line_between_two_faces_by_the_map(self):
        # 3 by 2 cells, an outline of 10; the other touches 2 of them: a fifth of its edges of 6 m.
        here = Cells("left", "panel", 0, 0, 3, 2)
        self.assertAlmostEqual(masks.line_m(here, Cells("left", "panel", 3, 0, 5, 4), 6.0), 1.2)
        self.assertAlmostEqual(masks.line_m(here, Cells("left", "panel", 0, 2, 3, 1), 6.0), 1.8)
