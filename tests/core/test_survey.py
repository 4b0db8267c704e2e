"""What a survey asks and says: names of the standards from memory, bounds, coverage, the life of a finding."""

import itertools

from django.test import SimpleTestCase

from emplastra.core.piece import parts
from emplastra.core.surface import events
from emplastra.core.surface.fold import build
from emplastra.core.survey import contractor, topics
from emplastra.core.survey.answers import (
    Answer,
    AnswerError,
    check,
    check_drain,
    coverage_of,
    salts_mg_m2,
    total,
    unasked,
)
from emplastra.core.survey.findings import CAUSES, Word, life
from emplastra.core.words import written

ANSWERED, VERIFIED, MENDED = Word("answered", step="s"), Word("verified"), Word("mended")
DRAIN, CHIP = Word("explained", "blocked-drain"), Word("explained", "chip")


class NamesTests(SimpleTestCase):
    def test_names_of_the_standards(self):
        """ISO 8501-1 A and C, ISO 4628 ratings, ISO 8502-6/-9 with 12.5 cm2 and 15 mL: 6 mg/m2 per µS/cm. All from memory."""
        table = [
            (Answer("rust", "", "A"), "Rust grade A: largely covered with adhering mill scale, little if any rust"),
            (Answer("rust", "", "C"), "Rust grade C: mill scale rusted away or can be scraped off, slight pitting visible"),
            (Answer("blisters", "", "2", {"size": 3}), "Blisters 2(S3): few, clearly seen, up to 0.5 mm"),
            (Answer("blisters", "", "5", {"size": 5}), "Blisters 5(S5): dense, over 5 mm"),
            (Answer("salts", "", "tested", {"rise": 5, "ml": 15, "cm2": 12.5}), "Salts: 30 mg/m²"),
            (Answer("dust", "", "3"), "Dust, by tape: rating 3"),
            (Answer("holes", "", "holes", {"count": 3, "mm": 20}, "lower edge"), "3 holes, largest 20 mm (lower edge)"),
            (Answer("looked", "", "part", {"bare_pct": 40, "paint_pct": 25}), "Seen: 40 % bare, 25 % through paint"),
            (Answer("hides", "jacking", "rust"), "Rust at jacking points"),
            (Answer("drain", "2", "blocked", {}, "rear"), "Drain 2: probed: blocked (rear)"),
            (Answer("filler", "", "filler", {"depth": 3}), "Filler: deepest 3 mm"),
            (Answer("near", "", "glass+fuel"), "Fitted nearby: glass, fuel"),
        ]  # fmt: skip
        for answer, said in table:
            with self.subTest(said):
                self.assertEqual(written(check(answer).sentence), said)
        self.assertEqual(salts_mg_m2(1.0, 15, 12.5), 6.0)
        self.assertEqual(
            list(topics.DENSITY.values()), ["none", "very few", "few", "moderate", "considerable", "dense"]
        )

    def test_what_is_trouble(self):
        """Grades C and D, blisters, thin metal, salts above 50 mg/m2: common practice, no source."""
        table = [
            (("rust", "B"), False), (("rust", "C"), True), (("rust", "D"), True), (("blisters", "0"), False), (("blisters", "1"), True),
            (("dust", "2"), False), (("dust", "3"), True), (("near", "glass"), False), (("layer", "crazed"), True), (("layer", "factory"), False),
        ]  # fmt: skip
        for (topic, choice), trouble in table:
            self.assertEqual(Answer(topic, "", choice).trouble, trouble, (topic, choice))
        for rise, trouble in ((8.3, False), (8.4, True)):  # 49.8 and 50.4 mg/m2
            self.assertEqual(Answer("salts", "", "tested", {"rise": rise}).trouble, trouble)

    def test_every_part_names_where_rust_hides_and_every_choice_has_words(self):
        for part in parts.PARTS.values():
            self.assertGreaterEqual(len(part.hides), 2)
            self.assertEqual(len({key for key, _ in part.hides}), len(part.hides))
        for topic in topics.TOPICS.values():
            self.assertIn(topic.group, topics.GROUPS)
            self.assertTrue(all(c.word for c in topic.choices))
        for trade in contractor.TRADES.values():
            self.assertLessEqual(set(trade.wants), set(contractor.SEND_OFF))

    def test_answers_that_cannot_be_name_their_field(self):
        table = [
            (Answer("thin", "", "thin", {"left": 1.3}), "thin-left", "more than the zone’s 1.2 mm"),
            (Answer("thin", "", "thin"), "thin-left", "write a number"),
            (Answer("pits", "", "pits", {"depth": 1.5}), "pits-depth", "is a hole"),
            (Answer("looked", "", "part", {"bare_pct": 60, "paint_pct": 60}), "looked-bare_pct", "over 100 %"),
            (Answer("blisters", "", "3", {"size": 6}), "blisters-size", "from 1 to 5"),
            (Answer("rust", "", "E"), "rust", "must be one of none, A, B, C, D"),
            (Answer("rust", "", "A+B"), "rust", "one choice only"),
            (Answer("near", "", "nothing+glass"), "near", "not both"),
            (Answer("rust", "", "A", evidence="guess"), "rust", "evidence must be"),
            (Answer("rust", "", "A", evidence="not-seen"), "rust", "cannot be graded"),
            (Answer("colour", "", "A"), "colour", "no such question"),
            (Answer("rust", "", "A", {"depth": 1}), "rust", "no figure is called depth"),
        ]
        for answer, field, message in table:
            with self.subTest(message), self.assertRaises(AnswerError) as caught:
                check(answer, 1.2)
            self.assertIn(message, written(str(caught.exception)))
            self.assertEqual(caught.exception.field, field)
        for topic in ("rust", "blisters", "pits", "holes", "thin"):
            first = topics.TOPICS[topic].choices[0].key
            with self.subTest(topic), self.assertRaisesRegex(AnswerError, "nothing is graded under dirt"):
                check(Answer(topic, "", first), 1.2, "dirt")
        check(Answer("near", "", "glass"), 1.2, "dirt")
        check(Answer("holes", "", "holes", evidence="felt"), 1.2, "dirt")  # a hand finds a hole under mud
        with self.assertRaises(AnswerError):
            check(Answer("pits", "", "pits", evidence="felt"), 1.2, "dirt")

    def test_each_metal_is_asked_what_it_can_have(self):
        """ISO 8501-1 grades steel alone (from memory); laminate and light metals have troubles of their own."""
        asked = {"rust": "steel, cast iron, old film", "white": "aluminium, zinc", "laminate": "laminate", "pits": "steel, cast iron, old film, aluminium, zinc, stainless"}  # fmt: skip
        every = ("steel", "cast iron", "old film", "aluminium", "zinc", "stainless", "laminate")
        for topic, substrates in asked.items():
            for substrate in every:
                with self.subTest(topic, substrate=substrate):
                    self.assertEqual(topics.TOPICS[topic].is_asked_of(substrate), substrate in substrates.split(", "))
        self.assertIn("Laminate", unasked([], "laminate"))
        self.assertNotIn("Rust grade", unasked([], "laminate"))
        for choice, through, wrong in (("closed", True, True), ("open", False, True), ("blocked", True, True), ("open", True, False), ("closed", False, False), ("closed", None, False)):  # fmt: skip
            with self.subTest(choice, through=through):
                if wrong:
                    self.assertRaisesRegex(AnswerError, "cannot both be", check_drain, choice, through)
                else:
                    check_drain(choice, through)

    def test_coverage_is_by_area(self):
        """2 m2 all bare, 1 m2 half bare a quarter through paint, 1 m2 nobody has looked at."""
        part = coverage_of(1.0, "part", {"bare_pct": 50, "paint_pct": 25})
        whole = total([coverage_of(2.0, "bare"), part, coverage_of(1.0)])
        self.assertEqual((whole.seen_m2, whole.paint_m2, whole.unseen_m2, whole.total_m2), (2.5, 0.25, 1.25, 4.0))
        self.assertEqual(whole.shares, (0.625, 0.0625, 0.3125))
        self.assertEqual(coverage_of(3.0, "none").unseen_m2, 3.0)
        self.assertEqual(total([]).shares, (0.0, 0.0, 1.0))


class LifeTests(SimpleTestCase):
    def test_from_open_to_verified_and_back(self):
        """A blocked drain goes on until it is mended; a chip does not. Common practice, no source."""
        table = [
            ([], "open", "no step answers it yet"),
            ([DRAIN], "explained", "cause is not mended"),
            ([CHIP], "explained", "no step answers it yet"),
            ([CHIP, ANSWERED], "answered", "to be looked at again"),
            ([CHIP, ANSWERED, VERIFIED], "verified", ""),
            ([DRAIN, ANSWERED], "open", "its cause is not mended: blocked drain"),
            ([DRAIN, ANSWERED, VERIFIED], "open", "its cause is not mended"),
            ([DRAIN, MENDED, ANSWERED, VERIFIED], "verified", ""),
            ([DRAIN, ANSWERED, VERIFIED, MENDED], "verified", ""),
            ([ANSWERED, VERIFIED], "open", "no cause is named"),
            ([DRAIN, MENDED, ANSWERED, VERIFIED, DRAIN], "open", "its cause is not mended"),
            ([CHIP, ANSWERED, VERIFIED, Word("reopened")], "explained", "no step answers it yet"),
            ([CHIP, Word("answered", step="later")], "explained", "its step is still to be done"),
            ([CHIP, Word("answered", step="gone")], "explained", "not in the plan any more"),
        ]
        waits = [
            "answer",
            "answer",
            "answer",
            "look",
            "",
            "cause",
            "cause",
            "",
            "",
            "cause",
            "cause",
            "answer",
            "step",
            "answer",
        ]
        self.assertEqual([life(True, True, row[0], {"s"}, {"s", "later"}).waits for row in table], waits)
        for words, status, why in table:
            with self.subTest([w.said for w in words]):
                found = life(True, True, words, {"s"}, {"s", "later"})
                self.assertEqual(found.status, status)
                self.assertIn(why, found.why)
        self.assertEqual(life(False, True, [CHIP], {"s"}, {"s"}).status, "seen")
        self.assertEqual(life(True, False, [ANSWERED, VERIFIED], {"s"}, {"s"}).status, "verified")

    def test_no_order_of_words_verifies_what_goes_on(self):
        for goes_on in (key for key, (_, on) in CAUSES.items() if on):
            words = [Word("explained", goes_on), ANSWERED, VERIFIED]
            for order in itertools.permutations(words):
                self.assertTrue(life(True, True, order, {"s"}, {"s"}).is_open)


class BackTests(SimpleTestCase):
    def test_what_a_contractor_leaves(self):
        """Coated, sent away from 10 to 20, back in different states at 20."""
        hour = 3600.0
        coat = events.Coated(0, hour, product="Old coat", entry=1)
        table = [
            ("as-sent", "", ["Old coat"], ()),
            ("bare", "", [], ((10 * hour, 1.0),)),
            ("temporary", "Wash primer", ["Wash primer"], ()),
            ("temporary", "", ["temporary primer, kind not told"], ()),
            ("coated", "Powder, black", ["Powder, black"], ()),
        ]
        for came, product, layers, bare in table:
            with self.subTest(came, product=product):
                back = events.Back(19 * hour, 20 * hour, entry=3, came=came, product=product)
                out = build([coat, events.Away(9 * hour, 10 * hour, entry=2)], 15 * hour)
                surface = build([coat, events.Away(9 * hour, 10 * hour, entry=2), back], 21 * hour)
                self.assertEqual(out.away_s, 10 * hour)
                self.assertEqual(([x.product for x in surface.layers], surface.bare, surface.away_s), (layers, bare, None))  # fmt: skip
