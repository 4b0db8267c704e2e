"""A surface is made of patches: nothing is lost in the fold, and an act changes only what it concerns."""

import itertools
from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from emplastra.core.air import journey as air
from emplastra.core.product import sheet as sheets
from emplastra.core.product.film import Film
from emplastra.core.surface.clocks import fold
from emplastra.core.surface.events import (
    Bared,
    Checked,
    Coated,
    Degreased,
    FilmLost,
    Keyed,
    Prepped,
    Rinsed,
    Wetted,
)
from emplastra.core.surface.fold import Toward, build
from emplastra.core.surface.names import Loss
from emplastra.core.surface.patches import Layer, Patch, Treatment, merged
from emplastra.core.working import Basis
from tests.base import PRIMER

H = 3600.0
SHEET = sheets.read(PRIMER)
SELF = Toward("Test primer", "epoxy-primer")


def where(rh=50.0):
    """Steady air at 20 °C: steel at 60 % waits 6 h, at 50 % the mean of ln 24 and ln 6: 12 h."""
    return air.journey([(0, air.steady(20.0, rh, -70 * 86400.0, 70 * 86400.0, Basis.MEASURED), "shop")])


def coat(began, ended, um=50.0, share=1.0, entry=1, step="p", product="Test primer"):
    """A coat from hour to hour with so much film."""
    return Coated(began * H, ended * H, share, step, entry, SHEET, Film(um, Basis.MEASURED, "gauge"), product)


def films(events, hour):
    """[(film left, its least, share)] of each layer, from the metal."""
    return [(round(x.left_um, 6), round(x.least_um, 6), round(x.share, 6)) for x in build(events, hour * H).layers]


class FilmTests(SimpleTestCase):
    """Expected films are worked out beside each case."""

    def test_film_stays_where_it_was_put(self):
        weld = FilmLost(10 * H, 11 * H, 0.1, "", 3, Loss.WELD)
        half = [FilmLost(10 * H, 11 * H, 0.5, "", 3, Loss.WELD), FilmLost(12 * H, 13 * H, 0.5, "", 4, Loss.WELD)]
        halves = [Bared(10 * H, 11 * H, 0.5, "", 3), Bared(12 * H, 13 * H, 0.5, "", 4)]
        table = [
            ("40 % at 30 and 60 % at 80 are 60 in the mean", [coat(0, 1, 30, 0.4), coat(2, 3, 80, 0.6, 2)], [(60, 30, 1)]),
            ("a coat over a burnt strip joins nothing", [coat(0, 1), weld, coat(12, 13, entry=4)], [(50, 50, 1), (50, 50, 0.9)]),
            ("keying 5 % thins 5 %", [coat(0, 1), Keyed(2 * H, 3 * H, 0.05, "", 2, um_off=10)], [(49.5, 40, 1)]),
            ("sanding takes the top first", [coat(0, 1), coat(4, 5, 30, entry=2), Keyed(6 * H, 7 * H, 1, "", 3, um_off=40)], [(40, 40, 1), (0, 0, 1)]),
            ("keying takes no more than there is", [coat(0, 1, 20), Keyed(2 * H, 3 * H, 1, "", 2, um_off=35)], [(0, 0, 1)]),
            ("two halves bared bare the whole", [coat(0, 1), *halves], []),
            ("two half welds leave no layer", [coat(0, 1), *half], []),
            ("a strip that is primed is at its first coat", [coat(0, 1), coat(4, 5, 40, entry=2), weld, coat(12, 13, 60, 0.1, 4)], [(51, 50, 1), (40, 40, 0.9)]),
            ("a filled part is not filled twice", [coat(0, 1), coat(4, 5, 200, 0.3, 2, "f", "Filler"), coat(6, 7, 200, 0.7, 3, "f", "Filler")], [(50, 50, 1), (200, 200, 1)]),
        ]  # fmt: skip
        for name, events, expected in table:
            with self.subTest(name):
                self.assertEqual(films(events, 20), expected)

    def test_a_part_coat_goes_where_all_before_it_lies(self):
        """Primer on 60 %, the rest bare: filler over 40 % lies on primer, primer over 40 % on the bare."""
        primed = [Bared(0, H, 1, "s", 1), coat(2, 3, share=0.6, entry=2)]
        filled = build([*primed, coat(5, 6, 200, 0.4, 3, "f", "Filler")], 8 * H)
        self.assertEqual([(len(p.layers), round(p.share, 6)) for p in sorted(filled.patches, key=lambda p: -len(p.layers))], [(2, 0.4), (1, 0.2), (0, 0.4)])  # fmt: skip
        whole = build([*primed, coat(5, 6, 70, 0.4, 3)], 8 * H)
        self.assertEqual((films([*primed, coat(5, 6, 70, 0.4, 3)], 8), whole.bare), ([(58, 50, 1)], ()))

    def test_over_twelve_patches_the_most_alike_merge_and_the_mean_is_kept(self):
        """Twenty strips of 5 % with 41 to 60 µm: 50.5 in the mean, 41 the least."""
        strips = [coat(n, n + 0.5, 41 + n, 0.05, n + 1) for n in range(20)]
        surface = build(strips, 99 * H)
        self.assertLessEqual(len(surface.patches), 12)
        (layer,) = surface.layers
        self.assertAlmostEqual(layer.left_um, 50.5)
        self.assertEqual((layer.least_um, round(layer.share, 9), len(layer.entries)), (41, 1.0, 20))


class ClockTests(SimpleTestCase):
    """Test primer: opens for itself 2 h after the end, closes 24 h from the begin."""

    def at(self, events, hour, toward=SELF, rh=50.0):
        return fold(events, "steel", where(rh), hour * H, toward)

    def test_two_halves_bared_leave_no_coat_to_miss(self):
        events = [coat(0, 1), Bared(30 * H, 31 * H, 0.5, "", 2), Bared(31 * H, 32 * H, 0.5, "", 3)]
        surface = self.at(events, 33)
        self.assertEqual((surface.headline, surface.window, surface.top), ("bare", None, None))

    def test_bare_metal_past_its_limit_leads_over_a_missed_window(self):
        """Bared at 0, 95 % primed from 1 to 2 h: its window closes at 25 h; the rest was due at 12 h."""
        events = [Bared(0, 0.5 * H, 1, "s", 1), coat(1, 2, share=0.95, entry=2)]
        for hour, headline in ((6, "bare"), (13, "bare"), (24, "bare"), (26, "bare")):
            with self.subTest(hour):
                self.assertEqual(self.at(events, hour).headline, headline)
        self.assertEqual(self.at(events, 24).window.status, "closing")
        self.assertAlmostEqual(self.at(events, 26).lead.closes_s / H, 12.0, places=2)

    def test_closing_leads_over_missed_and_missed_over_bare_in_time(self):
        """A burnt strip at 25.5 h, due 12 h later; the rest is missed since 24 h."""
        events = [coat(0, 1), FilmLost(25 * H, 25.5 * H, 0.1, "", 2, Loss.WELD)]
        self.assertEqual(self.at(events, 26).headline, "missed")
        self.assertEqual(self.at(events, 38).headline, "bare")

    def test_water_on_a_part_renews_nothing(self):
        """At 60 % due 6 h after baring. Rinsed at 3.1 h it is wet for 45 x 11 / 9.33 min, of which wet metal has 3 h."""
        wet = 45 * 11 / (0.4 * 23.33) / 60
        due = 3.1 + wet + 6 * (1 - 3.1 / 6 - wet / 3)
        for share in (0.05, 1):
            events = [Bared(0, H, 1, "s", 1), Rinsed(3 * H, 3.1 * H, share, "", 2)]
            self.assertAlmostEqual(self.at(events, 5, rh=60).clock("bare").closes_s / H, due, places=2)

    def test_acid_rinsed_off_a_part_renews_that_part(self):
        """Rinsed at 3.1 h, wet for 53 min of 3 h, the rest of its time by the air; the other 70 % was due at 6 h."""
        wet = 45 * 11 / (0.4 * 23.33) / 60
        acid = [Bared(0, H, 1, "s", 1), Prepped(2 * H, 2.1 * H, 0.3, "", 2, "Acid"), Rinsed(3 * H, 3.1 * H, 0.3, "", 3)]
        self.assertAlmostEqual(self.at(acid, 5, rh=60).clock("bare").closes_s / H, 6.0, places=3)
        rest = [*acid, coat(4, 4.5, share=0.7, entry=4)]
        self.assertAlmostEqual(
            self.at(rest, 5, rh=60).clock("bare").closes_s / H, 3.1 + wet + 6 * (1 - wet / 3), places=2
        )

    def test_acid_on_a_part_leaves_the_rest_its_bare_clock_and_is_wetted_alone(self):
        events = [Bared(0, H, 1, "s", 1), Prepped(2 * H, 2.1 * H, 0.3, "", 2, "Acid"), Wetted(2.2 * H, 2.2 * H, 0.3, "", 3)]  # fmt: skip
        surface = self.at(events, 2.25)
        self.assertEqual(surface.headline, "keep-wet")
        self.assertIsNotNone(surface.clock("bare"))
        self.assertEqual(surface.treatment.wettings, (2.1 * H, 2.2 * H))

    def test_a_face_coated_in_parts_opens_with_the_last_and_closes_with_the_first(self):
        window = self.at([coat(0, 1, share=0.4), coat(2, 3, share=0.6, entry=2)], 4).window
        self.assertEqual((round(window.opens_s / H, 3), round(window.closes_s / H, 3), window.status), (5.0, 24.0, "waiting"))  # fmt: skip
        closing = self.at([coat(0, 1, share=0.4), coat(2, 3, share=0.6, entry=2)], 19.9).window
        self.assertEqual((closing.status, round(closing.closing_s / H, 2)), ("closing", 19.8))

    def test_half_keyed_and_half_prepped_metal_is_neither(self):
        bared = Bared(0, H, 1, "s", 1)
        half = build([bared, Keyed(2 * H, 3 * H, 0.5, "", 2)], 4 * H)
        whole = build([bared, Keyed(2 * H, 3 * H, 0.5, "", 2), Keyed(3 * H, 3.5 * H, 0.5, "", 3)], 4 * H)
        coated = build([bared, coat(1, 2, share=0.5, entry=2), Keyed(3 * H, 4 * H, 0.5, "", 3), Keyed(4 * H, 5 * H, 0.5, "", 4)], 6 * H)  # fmt: skip
        self.assertEqual([s.metal_is_keyed for s in (half, whole, coated, build([bared], 2 * H))], [False, True, True, False])  # fmt: skip
        acid = [bared, Prepped(2 * H, 2.1 * H, 0.5, "", 2, "Acid"), Rinsed(3 * H, 3.1 * H, 0.5, "", 3)]
        both = [*acid, Prepped(4 * H, 4.1 * H, 0.5, "", 4, "Acid"), Rinsed(5 * H, 5.1 * H, 0.5, "", 5)]
        apart = build([bared, Prepped(2 * H, 2.1 * H, 0.5, "", 2, "First"), Prepped(3 * H, 3.1 * H, 0.5, "", 3, "Second")], 3.5 * H)  # fmt: skip
        self.assertEqual(apart.treatment.product, "First")  # that which was wetted longest ago
        twice = build([replace(bared, share=0.5, how="sander"), Bared(2 * H, 3 * H, 0.5, "s", 2, how="dip")], 4 * H)
        self.assertEqual(twice.bared_by, "sander")  # that which was bared first
        self.assertEqual([build(events, 9 * H).prepped for events in (acid, both)], [False, True])
        self.assertEqual([build(events, 9 * H).rinsed_s for events in (acid, both)], [3.1 * H, 5.1 * H])

    def test_two_merged_patches_keep_the_careful_of_each(self):
        """Eleven coated ones of unlike films and two bare ones: the bare ones merge."""
        acid = Treatment(1.0, (1.0,))
        coated = [Patch(1 / 13, (Layer("p", "x", None, Film(10.0 * n, Basis.MEASURED, ""), 0.0, 1.0),)) for n in range(1, 12)]  # fmt: skip
        a = Patch(1 / 13, (), 2 * H, 5 * H, 8 * H, 3 * H, 6 * H, acid, True, True, ("weld", 1.0), 7 * H)
        b = Patch(1 / 13, (), 4 * H, 6 * H, 7 * H, 9 * H, 5 * H, None, True, False, None, 9 * H)
        want = Patch(2 / 13, (), 2 * H, 5 * H, 7 * H, 9 * H, 6 * H, acid, True, False, ("weld", 1.0), 7 * H)
        never = replace(b, keyed_s=None, degreased_s=None, dried_s=None, prepped=False, treatment=acid, by_hand=True)
        for first, second, found in (
            (a, b, want),
            (b, a, want),
            (a, never, replace(want, keyed_s=None, degreased_s=None, dried_s=None, prepped=False, by_hand=True)),
        ):
            made = merged([*coated, first, second])
            self.assertEqual(len(made), 12)
            (both,) = (p for p in made if p.bare_s is not None)
            self.assertEqual(replace(both, share=0.0), replace(found, share=0.0))
            self.assertAlmostEqual(both.share, 2 / 13)

    def test_the_last_part_to_dry_leads_and_one_that_never_does_most(self):
        """At 3 °C a sheet that stands still under 5 °C never opens; flash by time alone does."""
        cold = {"times": {"cure": [[10, 600], [20, 300]]}, "windows": PRIMER["windows"]}
        slow = sheets.read(PRIMER | cold)
        parts = [coat(0, 1, share=0.5), replace(coat(2, 3, share=0.5, entry=2), sheet=slow)]
        way = air.journey([(0, air.steady(3.0, 50.0, -70 * 86400.0, 70 * 86400.0, Basis.MEASURED), "shed")])
        cure = fold(parts, "steel", way, 4 * H, SELF).clock("cure")
        self.assertEqual((cure.opens_s, cure.status), (None, "waiting"))
        self.assertAlmostEqual(self.at(parts, 4).clock("cure").opens_s / H, 101.0, places=3)

    def test_a_coat_over_a_part_is_held_against_what_lies_there(self):
        """The other 60 % half an hour after the first 40 %: nothing lies there that could be too wet."""
        before = build([coat(0, 1, share=0.4)], 1.5 * H)
        self.assertEqual(before.under("p", "Test primer", 0.6).layers, ())
        self.assertEqual(before.under("q", "Test can", 0.4).layers[0].share, 0.4)

    def test_what_has_the_coat_already_waits_for_none(self):
        """A second coat on 40 % at 6 h: the other 60 % still wants its own until 24 h, open since 3 h."""
        events = [coat(0, 1), coat(5, 6, share=0.4, entry=2)]
        window = self.at(events, 6.5, Toward("Test primer", "epoxy-primer", "", "p", 1)).window
        self.assertEqual((round(window.opens_s / H, 3), round(window.closes_s / H, 3), window.status), (3.0, 24.0, "open"))  # fmt: skip
        self.assertEqual(self.at(events, 6.5).window.status, "waiting")

    def test_a_coat_uses_up_the_wipe_of_what_it_covers_only(self):
        events = [coat(0, 1), Degreased(3 * H, 3.2 * H, 1, "", 2), coat(3.3, 3.5, share=0.5, entry=3)]
        wiped = [p.degreased_s for p in build(events, 4 * H).patches]
        self.assertEqual(sorted(wiped, key=str), [3.2 * H, None])
        lost = build([coat(0, 1), events[1], FilmLost(4 * H, 4.1 * H, 0.5, "", 3)], 5 * H)
        self.assertEqual(sorted((p.degreased_s for p in lost.patches), key=str), [3.2 * H, None])

    def test_a_look_before_the_last_change_says_nothing_of_it(self):
        rust = Checked(3 * H, 3 * H, 1, "", 2, "no-flash-rust", False)
        events = [Bared(0, H, 1, "s", 1), rust]
        self.assertEqual(self.at(events, 4).clock("bare").closes_s, 3 * H)
        after = self.at([*events, Keyed(4 * H, 4.5 * H, 1, "", 3)], 5).clock("bare")
        self.assertEqual((after.remark, round(after.closes_s / H, 2)), ("", 4 + 12.0))


SHARES = st.integers(1, 8).map(lambda n: n / 8)
ACTS = st.lists(st.tuples(st.sampled_from("bckwlda"), SHARES, st.integers(5, 90)), min_size=1, max_size=14)


def events_of(acts):
    """Acts of an hour each, one after the other."""
    found = []
    for n, (kind, share, um) in enumerate(acts):
        a, b, common = n * H, (n + 0.9) * H, (share, "p" if kind == "c" else "", n + 1)
        found.append(
            {
                "b": lambda a=a, b=b, c=common: Bared(a, b, *c),
                "c": lambda a=a, b=b, c=common, um=um: Coated(a, b, *c, SHEET, Film(um, Basis.MEASURED, "g"), "Test primer"),
                "k": lambda a=a, b=b, c=common, um=um: Keyed(a, b, *c, "P240", um / 3),
                "w": lambda a=a, b=b, c=common: Degreased(a, b, *c),
                "l": lambda a=a, b=b, c=common: FilmLost(a, b, *c, Loss.GRIND),
                "d": lambda a=a, b=b, c=common: Rinsed(a, b, *c),
                "a": lambda a=a, b=b, c=common: Prepped(a, b, *c, "Acid"),
            }[kind]()
        )  # fmt: skip
    return found


def on(surface):
    """Film on the whole face, as a mean [µm]."""
    return sum(p.share * layer.left_um for p in surface.patches for layer in p.layers)


class LawTests(SimpleTestCase):
    @settings(max_examples=150, deadline=None)
    @given(acts=ACTS)
    def test_areas_add_to_one_and_film_is_what_was_put_on_less_what_was_taken(self, acts):
        """Each act, by what lay there before it: a coat adds share x film; keying, baring and grinding only take."""
        events, before = events_of(acts), 0.0
        for n, (kind, share, um) in enumerate(acts, 1):
            surface = build(events[:n], 99 * H)
            self.assertAlmostEqual(sum(p.share for p in surface.patches), 1.0, places=6)
            self.assertLessEqual(len(surface.patches), 12)
            self.assertAlmostEqual(on(surface), sum(x.share * x.left_um for x in surface.layers), places=6)
            now = on(surface)
            if kind == "c":
                self.assertAlmostEqual(now, before + share * um, places=6)
            elif kind == "k":
                self.assertTrue(before - share * um / 3 - 1e-6 <= now <= before + 1e-6)
            elif kind in "bl":
                self.assertTrue(now <= before + 1e-6 and (share < 1 or now == 0))
            else:
                self.assertAlmostEqual(now, before, places=6)
            self.assertTrue(all(layer.least_um <= layer.left_um + 1e-6 for layer in surface.layers))
            before = now

    @settings(max_examples=60, deadline=None)
    @given(acts=ACTS, cut=st.integers(0, 14))
    def test_a_fold_is_the_fold_of_any_grouping(self, acts, cut):
        events = events_of(acts)
        first = build(events[:cut], (cut - 0.05) * H)
        self.assertEqual(build(events[cut:], 99 * H, first), build(events, 99 * H))

    @settings(max_examples=20, deadline=None)
    @given(part=st.integers(1, 7).map(lambda n: n / 8))
    def test_acts_on_different_patches_commute(self, part):
        """A part is bared to the metal: acid there, grinding that bare metal, and a second colour on the rest."""
        ground = [coat(0, 1), Bared(3 * H, 4 * H, part, "", 2)]
        acts = [
            Prepped(9 * H, 10 * H, part, "", 3, "Acid"),
            coat(9, 10, 40, 1 - part, 4, "q", "Test can"),
            Keyed(9 * H, 10 * H, 1 - part, "", 5, um_off=7),
        ]
        seen = set()
        for order in itertools.permutations(acts[:2] if part > 0.5 else acts):
            moved = [replace(e, ended_s=(11 + i) * H) for i, e in enumerate(order)]
            if [type(e) for e in moved if not isinstance(e, Prepped)] == [Keyed, Coated]:
                continue  # these two concern the same patch
            patches = build([*ground, *moved], 20 * H).patches
            seen.add(
                tuple(sorted((p.share, p.treatment is not None, tuple(x.left_um for x in p.layers)) for p in patches))
            )
        self.assertEqual(len(seen), 1)
