"""The years after: when a finish may be washed, where it is looked at, ISO 4628 by name, how a system held."""

from dataclasses import replace
from datetime import date

from django.test import SimpleTestCase
from scipy.stats import binomtest

from emplastra.core.care import after, grades, held, shares, watch
from emplastra.core.care.held import Case
from emplastra.core.care.shares import Coat
from emplastra.core.words import written

DAY = 86400.0
END = 1_000_000.0


class AfterTests(SimpleTestCase):
    """Waits besides the sheet's cure: common practice, no source."""

    def test_what_may_be_done_when(self):
        """By (kind, dry to handle, cured [days after the last coat]): days of each act; None: not told; "never"."""
        for kind, handle, cure, days in (
            ("clear-coat", 1, 5, {"handle": 1, "rain": 1, "sun": 5, "polish": 5, "wash": 7, "jet": 30, "wax": 60}),
            ("clear-coat", 1, 80, {"handle": 1, "rain": 1, "sun": 80, "polish": 80, "wash": 80, "jet": 80, "wax": 80}),
            ("enamel", None, 5, {"handle": 5, "rain": 5, "sun": 5, "polish": 5, "wash": 14, "jet": 30, "wax": 90}),
            ("epoxy-mastic", 2, 7, {"handle": 2, "sun": 7, "wash": 7, "polish": "never", "wax": 60}),
            ("cavity-wax", 1, 2, {"handle": 1, "polish": "never", "wax": "never"}),
            ("clear-coat", 1, None, {"handle": 1, "sun": None, "wash": None, "wax": None}),
            ("clear-coat", None, None, {"handle": None, "jet": None}),
        ):
            dry = {"handle": handle and END + handle * DAY, "cure": cure and END + cure * DAY}
            rows = {may.key: may for may in after.may_be(kind, END, dry)}
            found = {
                key: "never" if rows[key].never else rows[key].from_s and (rows[key].from_s - END) / DAY for key in days
            }
            self.assertEqual(found, days, kind)

    def test_in_order_and_open_from_its_moment_on(self):
        rows = after.may_be("clear-coat", END, {"handle": END + DAY, "cure": END + 5 * DAY})
        moments = [may.from_s for may in rows]
        self.assertEqual(moments, sorted(moments))
        self.assertEqual([rows[0].is_open(END + DAY - 1), rows[0].is_open(END + DAY)], [False, True])

    def test_a_piece_waits_for_its_last_face_and_polishes_what_shines(self):
        clear = after.may_be("clear-coat", END, {"handle": END + DAY, "cure": END + 5 * DAY})
        mastic = after.may_be("epoxy-mastic", END + DAY, {"handle": END + 3 * DAY, "cure": END + 9 * DAY})
        for order in ((clear, mastic), (mastic, clear)):
            rows = {may.key: may for may in after.together(order)}
            self.assertEqual((rows["handle"].from_s - END) / DAY, 3)
            self.assertEqual((rows["polish"].never, (rows["polish"].from_s - END) / DAY), (False, 5))
        self.assertTrue({may.key: may for may in after.together((mastic,))}["polish"].never)


class WatchTests(SimpleTestCase):
    def test_months_after(self):
        """Calendar arithmetic by hand: a month without that day ends earlier."""
        for day, months, found in (
            (date(2026, 1, 31), 1, date(2026, 2, 28)), (date(2027, 11, 30), 3, date(2028, 2, 29)),
            (date(2026, 12, 15), 1, date(2027, 1, 15)), (date(2026, 6, 15), 0, date(2026, 6, 15)),
            (date(2026, 5, 31), 18, date(2027, 11, 30)),
        ):  # fmt: skip
            self.assertEqual(watch.months_after(day, months), found)

    def test_where_a_face_is_looked_at(self):
        """By what it is: (key, month of the first look, months between). Common practice, no source."""
        steel = {"substrate": "steel", "finish": "show"}
        for more, looks in (
            ({"kinds": ("epoxy-primer", "clear-coat"), "top_um": 54.0}, [("edge", 12, 12), ("clear", 36, 24)]),
            ({"kinds": ("epoxy-mastic",)}, [("edge", 12, 12), ("chalk", 12, 12)]),
            ({"kinds": ("epoxy-mastic",), "finish": "covered"}, [("edge", 12, 12)]),
            ({"kinds": ("converter", "epoxy-mastic"), "finish": "covered"}, [("converted", 6, 12), ("edge", 12, 12)]),
            ({"kinds": ("epoxy-primer",), "welded": True, "drains": 2, "finish": "covered"}, [("weld", 6, 12), ("drain", 12, 12), ("edge", 12, 12)]),
            ({"kinds": ("epoxy-primer",), "thin_um": 50.0, "least_um": 70.0, "finish": "covered"}, [("thin", 6, 6), ("edge", 12, 12)]),
            ({"kinds": ("epoxy-primer",), "thin_um": 70.0, "least_um": 70.0, "finish": "covered", "pits_mm": 0.2, "laps": True}, [("lap", 12, 12), ("edge", 12, 12), ("pit", 24, 24)]),
            ({"kinds": ("chip-coat", "cavity-wax"), "filled": True, "finish": "covered"}, [("texture", 12, 12), ("edge", 12, 12), ("filler", 24, 24), ("wax", 24, 24)]),
            ({"substrate": "laminate", "kinds": ("clear-coat",)}, [("film", 12, 24), ("clear", 36, 24)]),
            ({"end_state": "as-found"}, [("as-found", 6, 12)]), ({"end_state": "watched"}, [("watched", 6, 6)]), ({"end_state": "bare"}, [("bare", 1, 3)]),
            ({}, []),
        ):  # fmt: skip
            found = watch.looks_of(watch.Built(**(steel | more)), date(2026, 4, 10))
            told = [
                (look.key, (look.first.year - 2026) * 12 + look.first.month - 4, look.every_months) for look in found
            ]
            self.assertEqual(told, looks, more)

    def test_how_it_is_called(self):
        for more, key, what in (
            ({"drains": 1}, "drain", "Its drain"),
            ({"drains": 3}, "drain", "Its 3 drains"),
            ({"pits_mm": 0.2}, "pit", "0.2 mm deep"),
            ({"kinds": ("clear-coat",), "top_um": 54.0}, "clear", "polish 8 times at most"),
            ({"kinds": ("clear-coat",), "top_um": 30.0}, "clear", "no film to polish"),
            ({"kinds": ("clear-coat",)}, "clear", "The gloss"),
        ):
            looks = {
                look.key: written(look.what)
                for look in watch.looks_of(watch.Built("steel", "show", **more), date(2026, 4, 10))
            }
            self.assertIn(what, looks[key])

    def test_its_days_and_the_next_of_them(self):
        look = watch.Look("edge", "Edge", "chips", date(2027, 4, 10), 12)
        self.assertEqual([day.year for day in look.dates(date(2029, 4, 10))], [2027, 2028, 2029])
        for day, found in ((date(2026, 5, 1), 2027), (date(2027, 4, 10), 2027), (date(2027, 4, 11), 2028)):
            self.assertEqual(look.next(day).year, found)

    def test_how_often_it_may_be_polished(self):
        """Each polish takes 3 µm, 30 µm stay: 54 µm bear (54 − 30) / 3 = 8."""
        for kind, um, times in (
            ("clear-coat", 54.0, 8),
            ("clear-coat", 31.0, 0),
            ("clear-coat", None, None),
            ("epoxy-mastic", 54.0, 0),
        ):
            self.assertEqual(watch.polishes(watch.Built("steel", "show", kinds=(kind,), top_um=um)), times)


class GradeTests(SimpleTestCase):
    """Names and shares of ISO 4628-3 and -5, from memory (CHECKS 14)."""

    def test_grades_by_name(self):
        for told, grade, sentence in (
            (("rust", 2, 3, "lower lip"), "Ri 2 (S3)", "Ri 2 (S3): about 0.5 % of it"),
            (("blisters", 2, 3), "blistering 2 (S3)", "few"), (("flakes", 3), "flaking 3", "about 1 %"),
            (("chalks", 4, 2), "chalking 4", "considerable"), (("cracks", 0), "cracking 0", "none"),
        ):  # fmt: skip
            seen = grades.Seen(*told)
            self.assertEqual(seen.grade, grade)
            self.assertIn(sentence, seen.sentence)
        self.assertTrue(grades.Seen("rust", 2, 3, "lower lip").sentence.endswith("; lower lip"))

    def test_from_which_quantity_it_failed(self):
        for kind, least in (("rust", 3), ("flakes", 3), ("blisters", 4), ("cracks", 4), ("chalks", 5)):
            self.assertEqual([grades.Seen(kind, n).failed for n in (least - 1, least)], [False, True], kind)

    def test_what_cannot_be(self):
        for told in (("moss", 1), ("rust", 6), ("rust", -1), ("rust", 1, 6)):
            with self.assertRaises(ValueError):
                grades.Seen(*told)


class HeldTests(SimpleTestCase):
    def test_the_interval_against_scipy(self):
        for of in (1, 2, 7, 10, 40, 400):
            for k in {0, 1, of // 2, of - 1, of}:
                low, high = binomtest(k, of).proportion_ci(0.95, "wilson")
                for mine, theirs in zip(held.wilson(k, of), (low, high), strict=True):
                    self.assertAlmostEqual(mine, theirs, 9)
        self.assertEqual(held.wilson(0, 0), (0.0, 1.0))
        for k, of in ((3, 2), (-1, 2)):
            with self.assertRaises(ValueError):
                held.wilson(k, of)

    def test_what_the_cases_are_worth(self):
        """The word by the 95 % interval, worked out by scipy: good from 0.75 on at least, bad to 0.5 at most."""
        for k, of in ((6, 7), (9, 9), (10, 10), (12, 12), (13, 13), (5, 10), (1, 10), (2, 10), (35, 40), (20, 40)):
            low, high = binomtest(k, of).proportion_ci(0.95, "wilson")
            word = (
                "little evidence"
                if of < 10
                else "it holds"
                if low >= 0.75
                else "it often fails"
                if high <= 0.5
                else "it may go either way"
            )
            rows = held.Held(tuple(Case("S", "P80", "show", 4.0, "worse" if i < k else "failed") for i in range(of)))
            self.assertEqual((rows.held, rows.word), (k, word))
        self.assertEqual(held.Held(rows.cases[:7]).sentence, "held 7 of 7, over 4 years: little evidence")
        self.assertIn("nobody", held.Held(()).sentence)

    def test_the_like_and_the_groups(self):
        cases = [
            Case("A", "P80", "show", 1.0, "same"),
            Case("A", "blast", "below", 6.0, "failed"),
            Case("B", "P80", "show", 3.0, "worse"),
        ]
        for asked, held_of in (
            ({}, (2, 3)),
            ({"system": "A"}, (1, 2)),
            ({"prepared": "P80"}, (2, 2)),
            ({"place": "below"}, (0, 1)),
            ({"years": (2.0, 5.0)}, (1, 1)),
            ({"years": (1.0, 3.0)}, (1, 1)),
            ({"system": "C"}, (0, 0)),
        ):
            found = held.like(cases, **asked)
            self.assertEqual((found.held, found.of), held_of, asked)
        self.assertEqual(
            {key: (g.held, g.of) for key, g in held.by(cases, "system").items()}, {"A": (1, 2), "B": (1, 1)}
        )
        self.assertEqual(next(iter(held.by(cases, "system"))), "A")


class SharesTests(SimpleTestCase):
    """What is looked for by what is shared: common practice, no source."""

    def test_ties_one_by_one(self):
        one = Coat(
            1,
            1,
            "Clear",
            100,
            "Booth",
            0.0,
            600.0,
            7,
            frozenset({("Clear", "base", "C-1")}),
            "gun 2",
            "bench",
            "P400 on 2026-05-11",
            frozenset({"blocked-drain of 3"}),
        )
        bare = Coat(2, 2, "Epoxy", 90, "", 9e6, 9e6)
        for more, found in (
            ({}, ()), ({"pot": 7}, ("pot",)), ({"pot": 0}, ()), ({"batches": frozenset({("Clear", "base", "C-1"), ("x", "y", "z")})}, ("batch",)),
            ({"batches": frozenset({("Clear", "hardener", "C-1")})}, ()), ({"waters": frozenset({"blocked-drain of 3"})}, ("drain",)), ({"waters": frozenset({"blocked-drain of 4"})}, ()),
            ({"gun": "gun 2", "day": 100}, ("gun",)), ({"gun": "gun 2"}, ()), ({"place": "Booth", "began_s": 600.0 + 7200.0, "ended_s": 9000.0}, ("air",)),
            ({"place": "Booth", "began_s": 600.0 + 7201.0, "ended_s": 9000.0}, ()), ({"place": "Booth", "began_s": -9000.0, "ended_s": -7200.0}, ("air",)), ({"place": "Yard", "began_s": 0.0, "ended_s": 600.0}, ()),
            ({"prepared": "P400 on 2026-05-11"}, ("ground",)), ({"who": "bench", "day": 100, "product": "Clear"}, ("day",)), ({"who": "bench", "day": 100}, ()),
            ({"pot": 7, "gun": "gun 2", "day": 100}, ("pot", "gun")),
        ):  # fmt: skip
            self.assertEqual(shares.ties(one, replace(bare, **more)), found, more)
        self.assertEqual(set(shares.LOOKS), set(shares.NAMES))

    def test_each_face_once_by_its_strongest_ties(self):
        one = Coat(1, 1, "Clear", 100, "Booth", 0.0, 600.0, 7, frozenset({("Clear", "base", "C-1")}))
        others = [
            one,
            replace(one, entry=2),
            replace(one, entry=3, zone=3, pot=0),
            replace(one, entry=4, zone=3, place=""),
            replace(one, entry=5, zone=4, pot=0, place=""),
            Coat(6, 5, "Epoxy", 1),
        ]
        found = shares.sharing(one, others)
        self.assertEqual(
            [(s.zone, s.entry, s.ties, s.batches) for s in found],
            [(3, 4, ("pot", "batch"), ("C-1",)), (4, 5, ("batch",), ("C-1",))],
        )
        self.assertIn("soft everywhere", found[0].look)
