"""Lines of a scale against patterns written by hand, and no wrong weight from lines cut, doubled and mangled."""

from functools import reduce
from itertools import count

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from emplastra.core.weigh.lines import SHIPPED, Pattern, PatternError, checked
from emplastra.core.weigh.standin import EVERY_S, StandIn
from emplastra.core.weigh.steady import Link, Steady

PLAIN, CHECKED = Pattern(SHIPPED["plain"]), Pattern(SHIPPED["checked"])


def line_of(grams, mark="="):
    """A line of the checked pattern, its check worked out here byte by byte."""
    body = f"{mark} {grams:>9.1f} g#"
    return body + f"{reduce(lambda a, b: a ^ b, body.encode()):02X}"


class LineTests(SimpleTestCase):
    def test_lines_of_the_shipped_patterns(self):
        for line, grams, step in (
            ("352.4 g", 352.4, 0.1), ("352.4g\r\n", 352.4, 0.1), ("+ 0.35 kg", 350, 10), ("-12 g", -12, 1), ("1,5 lb", 680.388555, 45.359237), ("0.00 g", 0, 0.01), ("  7.1  g  ", None, None),
            ("352.4", None, None), ("352.4 g352.4 g", None, None), ("35 2.4 g", None, None), ("352.4.1 g", None, None), ("9999999 kg", None, None), ("", None, None), ("g 352.4", None, None), ("3" * 200 + " g", None, None),
        ):  # fmt: skip
            with self.subTest(line):
                read = PLAIN.read(line)
                self.assertEqual(read and round(read.grams, 6), grams)
                if read:
                    self.assertAlmostEqual(read.step_g, step)
                    self.assertIsNone(read.steady)
        for line in ("------", "OL", "overload"):
            self.assertTrue(PLAIN.read(line).over)
        self.assertEqual(CHECKED.read(line_of(352.4)).steady, True)
        self.assertEqual(CHECKED.read(line_of(-3.1, "~")).grams, -3.1)
        self.assertEqual(CHECKED.read(line_of(352.4, "~")).steady, False)
        self.assertTrue(CHECKED.read(line_of(0, "!")).over)
        self.assertIsNone(CHECKED.read(line_of(352.4)[:-2] + "00"))
        self.assertIsNone(CHECKED.read("overload"))
        self.assertEqual(checked("a"), "61")

    def test_a_pattern_as_typed(self):
        table = [
            ("[state:ST|US|OL],[any],[value:10][unit]", "ST,NT,     +12.5g", (12.5, True)),
            ("[state:ST|US|OL],[any],[value:10][unit]", "US,NT,     +12.5g", (12.5, False)),
            ("[state:ST|US|OL],[any],[value:10][unit]", "ST,NT,    +12.5g", None),
            ("N [value]", "N 12.50", (12.5, None)),
            ("N [value]", "N12.50", (12.5, None)),
            ("([value])", "(7)", (7, None)),
            ("([value])", "7", None),
        ]
        for text, line, wanted in table:
            with self.subTest(text=text, line=line):
                read = Pattern(text).read(line)
                self.assertEqual(read and (read.grams, read.steady), wanted)
        self.assertTrue(Pattern("[state:ST|US|OL] [value]").read("OL -").over)
        for wrong in ("", "[unit]", "[value][value]", "[value] [unit] [unit]", "[value:x]", "[value:0]", "[value:21]", "[value] [state:A]", "[value] [state:A|A]", "[value] [state:A|]", "[value] [state:A|B|C|D]", "[weight]", "[value] ["):  # fmt: skip
            with self.subTest(wrong):
                self.assertRaises(PatternError, Pattern, wrong)

    @given(st.text(max_size=60), st.text(max_size=40))
    def test_any_text_is_a_pattern_or_says_why_not(self, text, line):
        try:
            pattern = Pattern(text)
        except PatternError:
            return
        pattern.read(line)


class SteadyTests(SimpleTestCase):
    def run_of(self, values, every_s=0.1, step=None):
        steady = Steady(step)
        return [steady.add(n * every_s, PLAIN.read(value)) for n, value in enumerate(values)]

    def test_when_it_stands(self):
        for values, every_s, steady in (
            (["5.0 g"] * 3, 0.2, False), (["5.0 g"] * 3, 0.3, False), (["5.0 g"] * 4, 0.3, True), (["5.0 g"] * 4, 0.2, True), (["5.0 g"] * 4, 0.05, False), (["5.0 g"] * 11, 0.05, True), (["5.0 g"] * 10, 0.05, False), (["5.0 g"] * 4, 1.1, False),
            (["5.0 g", "5.1 g"] * 3, 0.2, True), (["5.0 g", "5.1 g", "5.2 g"] * 2, 0.2, False), (["5.0 g"] * 6 + ["x5 g"], 0.2, False), (["5.0 g"] * 3 + ["x5 g"] + ["5.0 g"] * 3, 0.2, False),
            (["5.0 g"] * 9 + ["6.0 g"], 0.2, False), (["0.1 g"] * 9 + ["1 g"], 0.2, False), (["1 g"] * 3 + ["0.1 g"], 0.3, False), (["5.0 g"] * 9 + ["OL"], 0.2, False),
        ):  # fmt: skip
            with self.subTest(values, every_s=every_s):
                self.assertEqual(self.run_of(values, every_s)[-1].steady, steady)
        self.assertTrue(self.run_of(["5.0 g", "5.1 g", "5.2 g"] * 2, 0.2, 0.5)[-1].steady)
        samples = self.run_of(["5.0 g", "5x g", "OL"])
        self.assertEqual([s.link for s in samples], [Link.MOVING, Link.GARBLED, Link.OVER])
        self.assertEqual([s.number for s in samples], [1, 2, 3])
        self.assertAlmostEqual(samples[0].age_s(1.5), 1.5)

    def test_a_lost_link_and_marks_of_its_own(self):
        steady = Steady()
        for n in range(8):
            last = steady.add(n * 0.1, CHECKED.read(line_of(5.0)))
        self.assertTrue(last.steady)
        self.assertFalse(steady.add(0.8, CHECKED.read(line_of(5.0, "~"))).steady)
        self.assertFalse(steady.add(0.9, CHECKED.read(line_of(5.0))).steady)
        steady.forget()
        self.assertFalse(steady.add(1.0, CHECKED.read(line_of(5.0))).steady)

    MANGLED = st.lists(st.tuples(st.sampled_from(["cut", "head", "twice", "bit", "lost", "stuck"]), st.integers(0, 200), st.integers(0, 30)), max_size=120)  # fmt: skip

    @settings(max_examples=200, deadline=None)
    @given(MANGLED, st.sampled_from(["plain", "checked"]), st.integers(1, 5000))
    def test_no_wrong_weight_from_a_bad_line(self, mangles, name, tenths):
        """A pan that holds one weight: whatever happens to single lines, what is taken is that weight or nothing.

        Cut at its head, a plain line is a shorter number; never do four in a row say the same, so it never stands.
        """
        pattern, steady, truth = Pattern(SHIPPED[name]), Steady(), tenths / 10
        whole = f"{truth:.1f} g" if name == "plain" else line_of(truth)
        lines = [[whole] for _ in range(150)]
        for how, at, where in mangles:
            place, k = lines[at % 150], where % len(whole)
            place[:] = {"cut": [whole[:k]], "head": [whole[k:]] if at % 3 else [whole], "twice": [whole + whole], "bit": [whole[:k] + "?" + whole[k + 1 :]], "lost": [], "stuck": [whole, whole]}[how]  # fmt: skip
        for n, line in enumerate(line for place in lines for line in place):
            sample = steady.add(n * 0.1, pattern.read(line))
            if sample.steady:
                self.assertAlmostEqual(sample.grams, truth, delta=0.1001)


class StandInTests(SimpleTestCase):
    def test_what_is_poured_is_what_is_shown_in_the_end(self):
        """85 g and 120 g more are 205 g, by lines read as any other's; the tare takes 85 away; too much is no weight."""
        for checked_lines, pattern in ((False, PLAIN), (True, CHECKED)):
            played, steady = StandIn(noisy=False, checked=checked_lines), Steady()
            played.put(85.0)
            moments = count()
            end = lambda lines, *_, p=played, s=steady, r=pattern, m=moments: [s.add(next(m) * EVERY_S, r.read(p.step())) for _ in range(lines)][-1]  # noqa: E731  # fmt: skip
            self.assertEqual((end(40).grams, end(2).steady), (85.0, True))
            played.pour(12.0, 120.0)
            self.assertFalse(end(20).steady)
            self.assertEqual((end(400).grams, end(2).steady), (205.0, True))
            played.tare()
            self.assertEqual(end(10).grams, 0.0)
            played.lift()
            self.assertEqual(end(60).grams, -205.0)
            played.lift()
            played.put(6000.0)
            self.assertEqual(end(60).link, Link.OVER)
            played.plugged = False
            self.assertIsNone(played.step())

    def test_it_pours_no_faster_than_a_hand_and_runs_on(self):
        played = StandIn(noisy=False)
        played.pour(12.0)
        for _ in range(50):
            before = played.on_pan
            played.step()
            self.assertLessEqual(played.on_pan - before, 12.0 * EVERY_S + 1e-9)
        played.stop()
        stopped = played.on_pan
        for _ in range(80):
            played.step()
        self.assertTrue(1.0 < played.on_pan - stopped < 12.0)
        self.assertEqual(played.rate, 0.0)

    def test_its_noise_is_of_a_scale(self):
        """Over a minute: some lines are missing, some cut, and what it says stays within half a gram."""
        played = StandIn(seed=3)
        played.put(300.0)
        lines = [played.step() for _ in range(640)][40:]
        read = [PLAIN.read(line) for line in lines if line is not None]
        self.assertTrue(3 <= sum(line is None for line in lines) <= 40)
        self.assertTrue(1 <= sum(r is None or r.grams is None or abs(r.grams - 300) > 0.5 for r in read) <= 30)
        self.assertEqual([played.step() for _ in range(5)], [again(3, 640 + 5)[-5:][n] for n in range(5)])


def again(seed, count):
    """The same noise again."""
    played = StandIn(seed=seed)
    played.put(300.0)
    return [played.step() for _ in range(count)]
