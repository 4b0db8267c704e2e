"""What lies where of a batch, against a plain walk through what happened; pours laid end to end add up."""

from itertools import pairwise

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from emplastra.core.buying.trail import Bared, Layer, Lies, stack, stretches


def coat(entry, t_s, product="Primer", um=40.0, ours=False):
    return Layer(entry, product, t_s, um, 1.0, ours)


class StackTests(SimpleTestCase):
    def test_where_it_lies_and_what_to_do(self):
        ours, over, under = coat(2, 20, ours=True), coat(3, 30, "Colour"), coat(1, 10, "Wash")
        for happened, where, above, since, to_do in (
            ([under, ours], Lies.TOP, [], 20, "take it off down to Wash, coat again"),
            ([ours], Lies.TOP, [], 20, "take it off down to bare, coat again"),
            ([under, ours, over], Lies.UNDER, [3], 20, "test its key at an edge; strip where it lifts"),
            ([over, ours], Lies.UNDER, [3], 20, "test its key at an edge; strip where it lifts"),  # told out of order
            ([ours, coat(4, 40, ours=True)], Lies.TOP, [], 20, "take it off down to bare, coat again"),
            ([ours, Bared(25.0), over], Lies.GONE, [], 20, "nothing: it was stripped"),
            ([ours, Bared(25.0, 0.4)], Lies.TOP, [], 20, "take it off down to bare, coat again"),
            ([Bared(15.0), ours], Lies.TOP, [], 20, "take it off down to bare, coat again"),
            ([under, over], Lies.GONE, [], None, "nothing: it was stripped"),
        ):
            with self.subTest(happened=happened):
                found = stack(happened)
                self.assertEqual((found.where, [one.entry for one in found.over], found.since_s, found.to_do), (where, above, since, to_do))  # fmt: skip

    @given(st.lists(st.one_of(st.tuples(st.just("coat"), st.booleans()), st.tuples(st.just("bare"), st.sampled_from([1.0, 0.3]))), max_size=20))  # fmt: skip
    def test_against_a_plain_walk(self, told):
        happened, lies, gone = [], [], []
        for n, (what, value) in enumerate(told):
            if what == "coat":
                happened.append(coat(n, n, ours=value))
                lies.append((n, value))
            else:
                happened.append(Bared(float(n), value))
                if value == 1.0:
                    gone += [m for m, ours in lies if ours]
                    lies = []
        found = stack(reversed(happened))
        self.assertEqual([layer.entry for layer in found.lies], [m for m, _ in lies])
        self.assertEqual([layer.entry for layer in found.gone], gone)
        top = next((m for m, (_, ours) in reversed(list(enumerate(lies))) if ours), None)
        self.assertEqual(found.where, Lies.GONE if top is None else Lies.TOP if top == len(lies) - 1 else Lies.UNDER)

    @given(st.lists(st.tuples(st.integers(1, 4), st.integers(1, 9), st.integers(1, 500)), max_size=20))
    def test_pours_end_to_end(self, pours):
        found = stretches(pours)
        self.assertEqual(sorted((s.tin, s.pot, s.high - s.low) for s in found), sorted(pours))
        self.assertEqual([s.low for s in found], [0, *(s.high for s in found)][: len(found)])
        tins = [s.tin for s in found]
        self.assertEqual(len([1 for a, b in pairwise(tins) if a != b]) + bool(tins), len(set(tins)))
