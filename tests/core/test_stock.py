"""What a tin still holds, and which goes first: sums by hand, and against the plain way."""

from datetime import date, timedelta
from fractions import Fraction

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from emplastra.core.buying.stock import (
    Fact,
    Happened,
    Stocked,
    Use,
    drawn,
    first_to_use,
    in_order,
    last_day,
    left_in,
    months_on,
)  # fmt: skip
from emplastra.core.working import Basis

IN, OPENED, WEIGHED, EMPTIED = Happened.IN, Happened.OPENED, Happened.WEIGHED, Happened.EMPTIED
DAY = date(2026, 5, 12)


class LeftTests(SimpleTestCase):
    def test_by_use_and_by_weight(self):
        table = [
            # facts, uses, (amount, basis, at most, below, empty)
            ([(IN, 0, 1000)], [], (1000, Basis.MEASURED, False, 0, False)),
            ([(IN, 0, 1000)], [(5, 300), (6, 250)], (450, Basis.ESTIMATED, False, 0, False)),
            ([(IN, 0, 1000), (WEIGHED, 5, 600)], [(4, 300), (6, 250)], (350, Basis.ESTIMATED, False, 0, False)),
            ([(IN, 0, 1000), (WEIGHED, 5, 600)], [(4, 300)], (600, Basis.MEASURED, False, 0, False)),
            ([(WEIGHED, 5, 600), (IN, 5, 1000)], [(5, 300)], (600, Basis.MEASURED, False, 0, False)),
            ([(IN, 0, 1000), (OPENED, 2, None)], [(5, 300), (6, None)], (700, Basis.ESTIMATED, True, 0, False)),
            ([(IN, 0, 1000)], [(5, 700), (6, 400)], (0, Basis.ESTIMATED, False, 100, True)),
            ([(IN, 0, 1000)], [(5, 996)], (4, Basis.ESTIMATED, False, 0, True)),  # under half a per cent
            ([(IN, 0, 1000)], [(5, 995)], (5, Basis.ESTIMATED, False, 0, True)),
            ([(IN, 0, 1000)], [(5, 994)], (6, Basis.ESTIMATED, False, 0, False)),
            ([(IN, 0, 1000), (EMPTIED, 7, None)], [(5, 700)], (0, Basis.MEASURED, False, 0, True)),
            ([(IN, 0, 1000), (EMPTIED, 7, None)], [(8, 30)], (0, Basis.MEASURED, False, 30, True)),
            ([(IN, 0, 1000), (EMPTIED, 7, None), (WEIGHED, 9, 80)], [(8, 30)], (80, Basis.MEASURED, False, 0, False)),
            ([(IN, 0, None)], [(5, 300)], (None, Basis.ASSUMED, False, 0, False)),
            ([], [(5, None)], (None, Basis.ASSUMED, True, 0, False)),
        ]
        for facts, uses, (amount, basis, at_most, below, empty) in table:
            with self.subTest(facts=facts, uses=uses):
                left = left_in([Fact(*f) for f in facts], [Use(*u) for u in uses])
                self.assertEqual((left.amount, left.basis, left.at_most, left.below, left.is_empty), (amount, basis, at_most, below, empty))  # fmt: skip

    @given(
        st.integers(1, 5000),
        st.lists(st.tuples(st.integers(1, 100), st.integers(1, 800)), max_size=12),
        st.one_of(st.none(), st.tuples(st.integers(1, 100), st.integers(0, 5000))),
    )
    def test_nothing_is_lost_nor_made(self, size, uses, weighed):
        """Content and what was taken over it always add up to what was told, by exact fractions."""
        facts = [Fact(IN, 0, size)] + ([Fact(WEIGHED, *weighed)] if weighed else [])
        left = left_in(facts, [Use(*u) for u in uses])
        start, at = (weighed[1], weighed[0]) if weighed else (size, 0)
        taken = sum(Fraction(amount) for moment, amount in uses if moment > at)
        self.assertEqual(Fraction(left.amount) - Fraction(left.below), start - taken)
        self.assertTrue(left.amount == 0 or left.below == 0)


class ChoiceTests(SimpleTestCase):
    TINS = [
        Stocked(1, "A", use_by=date(2027, 3, 1)),
        Stocked(2, "B", use_by=date(2026, 6, 1), kit="k2"),
        Stocked(3, "C", use_by=date(2026, 5, 11)),  # yesterday
        Stocked(4, "D", use_by=date(2026, 6, 1), is_open=True),
        Stocked(5, "E", use_by=date(2026, 5, 12)),  # today is still good
        Stocked(6, "F", is_empty=True, use_by=date(2026, 5, 20)),
        Stocked(7, "G"),
    ]  # fmt: skip

    def test_first_expiring_first_and_never_the_latest(self):
        self.assertEqual([t.key for t in in_order(self.TINS, DAY)], [5, 4, 2, 1, 7, 3])
        for told, key in (({}, 5), ({"kit": "k2"}, 2), ({"batch": "A"}, 1), ({"kit": "k2", "batch": "A"}, 2), ({"batch": "C"}, 5), ({"kit": "no"}, 5)):  # fmt: skip
            with self.subTest(told):
                self.assertEqual(first_to_use(self.TINS, DAY, **told).key, key)
        self.assertIsNone(first_to_use([self.TINS[2], self.TINS[5]], DAY))

    TINS_LEFT = st.lists(
        st.tuples(st.integers(0, 400), st.integers(0, 300), st.integers(-40, 400), st.sampled_from(["", "k1", "k2"])), max_size=6
    )  # fmt: skip

    @given(TINS_LEFT, st.integers(1, 1200), st.sampled_from(["", "k1"]))
    def test_what_is_poured_adds_up_and_what_is_kept_goes_last(self, told, wanted, kit):
        """Nothing is made, nothing is taken from a tin that is past, nor of what is kept while another has some."""
        tins = [
            Stocked(n, f"B{n}", k, DAY + timedelta(days=days), holds=holds, kept=min(kept, holds), is_empty=holds == 0)
            for n, (holds, kept, days, k) in enumerate(told)
        ]
        out = drawn(tins, wanted, DAY, kit)
        good = [t for t in tins if t.use_by >= DAY and t.holds]
        free, all_of_it = sum(t.holds - t.kept for t in good), sum(t.holds for t in good)
        self.assertEqual(sum(much for _, much in out.takes) + out.lacks, wanted)
        self.assertEqual(out.lacks, max(0, wanted - all_of_it))
        self.assertEqual(out.of_kept, max(0, min(wanted, all_of_it) - free))
        for tin, much in out.takes:
            self.assertTrue(tin in good and 0 < much <= tin.holds)
        if out.of_kept == 0 and out.lacks == 0:
            # Each but the last is emptied of what is free; those before the last are the first in order, the kit's before.
            order = sorted(good, key=lambda t: (bool(kit) and t.kit != kit, t.use_by, t.key))
            taken = [t.key for t, _ in out.takes]
            self.assertEqual(taken, [t.key for t in order if t.holds > t.kept][: len(taken)])
            self.assertTrue(all(much == t.holds - t.kept for t, much in out.takes[:-1]))


class DayTests(SimpleTestCase):
    def test_use_by_closed_and_open(self):
        """A printed day goes before months closed; months open count from the day of opening, whichever ends sooner."""
        jan31 = date(2026, 1, 31)
        for months, day in ((1, date(2026, 2, 28)), (12, date(2027, 1, 31)), (25, date(2028, 2, 29)), (0.5, date(2026, 2, 15)), (11, date(2026, 12, 31))):  # fmt: skip
            with self.subTest(months):
                self.assertEqual(months_on(jan31, months), day)
        for told, day in (
            ((None,), None),
            ((date(2027, 3, 1), jan31, None, 6, None), date(2027, 3, 1)),
            ((None, jan31, None, 6, 1), date(2026, 7, 31)),
            ((None, None, jan31, 6, 1), date(2026, 2, 28)),
            ((date(2026, 2, 10), None, jan31, None, 1), date(2026, 2, 10)),
            ((date(2027, 3, 1), jan31, date(2026, 5, 15), 24, 6), date(2026, 11, 15)),
        ):
            with self.subTest(told):
                self.assertEqual(getattr(last_day(*told), "day", None), day)
