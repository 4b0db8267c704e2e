"""Edges of the fold, the clocks and the judge: the exact moment, the second of two, the one that is not concerned.

Constant tables and steady air, so that every hour is plain arithmetic.
"""

from dataclasses import replace

from django.test import SimpleTestCase

from emplastra.core.product.mixing import Part, plan_pot
from emplastra.core.product.tables import TimeTable
from emplastra.core.rules.judge import Aspect
from emplastra.core.surface.bare import CLOTH
from emplastra.core.surface.clocks import Setting, degreased_clock, dry_off_clock, fold, recoat_clock, with_clocks
from emplastra.core.surface.events import Away, Back, Bared, Checked, Degreased, Dried, Rinsed
from emplastra.core.surface.fold import Clock, Surface, Toward, build, coat_order, rank
from emplastra.core.surface.integral import crossing
from emplastra.core.surface.names import Runs, Status
from emplastra.core.surface.patches import Layer, Patch
from tests.core.test_surface import FILM, SELF, SHEET, H, coat, where
from tests.rulings import ruling_of


def layer(step, ended, product="p"):
    return Layer(step, product, SHEET, FILM, (ended - 0.5) * H, ended * H)


def clock_at(status, closes=None, opens=None, at=0.0):
    return Clock("k", "", status, 0.0, opens_s=opens, closes_s=closes, at_s=at)


class FoldEdges(SimpleTestCase):
    def test_ranks_and_reopenings(self):
        for clock, ends in ((clock_at(Status.OPEN, 7.0, 5.0), 7.0), (clock_at(Status.OPEN, None, 5.0), 5.0), (clock_at(Status.OPEN), float("inf"))):  # fmt: skip
            self.assertEqual(rank(clock)[1], ends)
        due = [rank(clock_at(Status.BARE, 5.0, at=at))[0] for at in (4.9, 5.0)]
        self.assertGreater(due[0], due[1])  # overdue leads from its very moment on
        thrice = replace(clock_at(Status.OPEN, 10.0), stretches=((0.0, 10.0), (20.0, 30.0), (40.0, None)))
        self.assertEqual(thrice.again_s, 20.0)

    def test_what_came_on_later_is_nothing_that_a_coat_waits_for(self):
        with_later = Patch(0.5, layers=(layer("a", 1), layer("x", 5)))
        alone = Patch(0.5, layers=(layer("a", 1),))
        self.assertEqual(coat_order([with_later, alone], "a", "p")(alone)[:2], (1, 0))
        self.assertEqual(coat_order([with_later, alone], "x", "p")(alone)[:2], (0, 0))
        self.assertEqual(coat_order([with_later, alone], "x", "p")(Patch(bare_s=0.0))[:2], (0, 1))

    def test_the_second_half_is_done_after_the_first(self):
        """Two halves wiped, or dried, are the whole; the same half twice would not be."""
        halves = [Degreased(H, H, 0.5, "", 2), Degreased(2 * H, 2 * H, 0.5, "", 3)]
        self.assertEqual(build([Bared(0, 0, 1.0, "", 1), *halves], 4 * H).degreased_s, H)
        dried = [Dried(2 * H, 2 * H, 0.5, "", 3), Dried(3 * H, 3 * H, 0.5, "", 4)]
        rinsed = build([Bared(0, 0, 1.0, "", 1), Rinsed(H, H, 1.0, "", 2, wet=True), *dried], 4 * H)
        self.assertTrue(all(p.dried_s is not None for p in rinsed.patches))

    def test_bare_metal_alone_is_asked_whether_it_is_prepped(self):
        coated = Patch(0.5, layers=(layer("a", 1),))
        for bare, said in ((True, True), (False, False)):
            self.assertEqual(Surface(0.0, patches=(Patch(0.5, bare_s=0.0, prepped=bare), coated)).prepped, said)
        self.assertFalse(Surface(0.0, patches=(coated,)).prepped)

    def test_of_equal_clocks_the_faces_own_leads(self):
        maker = lambda kind: clock_at(Status.OPEN, 9.0) if kind == Runs.RECOAT else None  # noqa: E731
        spot = Surface(0.0, clock_maker=maker)
        self.assertIsNone(Surface(0.0, clock_maker=maker, spots=(spot,)).governing)
        later = lambda kind: clock_at(Status.OPEN, 9.5) if kind == Runs.RECOAT else None  # noqa: E731
        self.assertEqual(Surface(0.0, clock_maker=later, spots=(spot,)).governing, 0)

    def test_a_contractors_coat_is_whole_and_unsanded(self):
        found = build([Away(H, H, 1.0, "", 1, contractor="x"), Back(2 * H, 2 * H, 1.0, "", 2, came="coated", product="powder")], 3 * H)  # fmt: skip
        self.assertEqual([(x.share, x.sanded_um, x.temporary) for x in found.layers], [(1.0, 0.0, False)])

    def test_what_is_not_reached_within_thirty_days_has_a_progress_all_the_same(self):
        """60 days at any warmth: after six a tenth."""
        never = crossing(where(), TimeTable(((0, 86400.0), (40, 86400.0))), 0.0)
        self.assertIsNone(never.t_s)
        self.assertAlmostEqual(Clock("k", "", Status.WAITING, 0.0, opens=never, at_s=6 * 86400.0).progress, 0.1)


class ClockEdges(SimpleTestCase):
    def test_at_the_very_moment(self):
        """A wipe is used up 60 min after it, a check counts from the end of what it is about, metal is dry when it is."""
        wiped = lambda h: degreased_clock(build([Degreased(0, 0, 1.0, "", 1)], h * H)).status  # noqa: E731
        self.assertEqual([wiped(h) for h in (0.999, 1.0)], [Status.OPEN, Status.MISSED])
        glossy = lambda h: Checked(h * H, h * H, 1.0, "", 2, check="gloss-gone", passed=False)  # noqa: E731
        flash = lambda h: fold([coat(0, 1), glossy(h)], "steel", where(), 1.1 * H, SELF).clock("flash").remark  # noqa: E731
        self.assertEqual([flash(h) for h in (0.99, 1.0)], ["", "still glossy"])
        rinsed = [coat(0, 1), Rinsed(2 * H, 2 * H, 1.0, "", 2, wet=True)]
        setting = Setting("steel", where(), SELF)
        dry_s = dry_off_clock(build(rinsed, 2.1 * H), setting).opens_s
        at = lambda t_s: dry_off_clock(replace(build(rinsed, t_s), t_s=t_s), setting).status  # noqa: E731
        self.assertEqual([at(dry_s - 1), at(dry_s)], [Status.WAITING, Status.OPEN])

    def test_a_window_that_opens_has_no_note(self):
        self.assertEqual(fold([coat(0, 1)], "steel", where(), 1.5 * H, SELF).clock("recoat").note, "")

    def test_two_halves_open_when_the_second_does_and_close_when_the_first_does(self):
        """Opens 2 h after its end, closes 24 h after its begin: halves of 0 to 1 and 4 to 5 h leave 7 to 24 h; coats in no plan are not told apart."""
        for step in ("p", ""):
            halves = [coat(0, 1, 0.5, step, 1), coat(4, 5, 0.5, step, 2)]
            for order in (halves, halves[::-1]):
                clock = recoat_clock(build(order, 6 * H), where(), Toward("Test primer", "epoxy-primer", "", step, 0))
                self.assertAlmostEqual(clock.opens_s / H, 7.0, places=5)
                self.assertAlmostEqual(clock.closes_s / H, 24.0, places=5)
        twice = [coat(0, 1, 1.0, "", 1), coat(4, 5, 0.5, "", 2)]
        clock = recoat_clock(build(twice, 6 * H), where(), Toward("Test primer", "epoxy-primer", "", "", 1))
        self.assertAlmostEqual(clock.opens_s / H, 7.0, places=5)

    def test_the_bare_time_goes_on_evenly_after_water_and_a_clean_cloth(self):
        """In steady air its progress rises evenly, and is whole when it is due."""
        events = [Bared(0, 0, 1.0, "", 1), Rinsed(0.2 * H, 0.2 * H, 1.0, "", 2, wet=True), Checked(1.5 * H, 1.5 * H, 1.0, "", 3, check="cloth", passed=True)]  # fmt: skip
        air = where()
        at = lambda h: with_clocks(build(events, h * H), Setting("steel", air, SELF)).clock(Runs.BARE)  # noqa: E731
        due_s = at(2).closes_s
        whole = 1.0 + CLOTH
        rates = [(1.0 - at(h).done) * whole / (due_s / H - h) for h in (2, 2.5, 3)]
        self.assertGreater(due_s, 3.5 * H)
        for rate in rates[1:]:
            self.assertAlmostEqual(rate, rates[0], places=5)
        self.assertAlmostEqual(at(due_s / H - 1e-6).done, 1.0, places=4)


class JudgeEdges(SimpleTestCase):
    def check(self, aspect, table):
        for row, said in table:
            with self.subTest(row):
                found = ruling_of(row).missing.get(aspect, "")
                (self.assertEqual if said == "" else self.assertIn)(said, found)

    def test_what_is_not_judged_and_why(self):
        bare = [[-3, "bared", "sander"], [-0.4, "wiped"]]
        nobody = dict.fromkeys(("holes", "pits", "thin", "wax", "salts", "duty", "rust"), "")
        prime = ["prime", "epoxy-primer"]
        self.check(Aspect.FINDINGS, [
            ({"act": prime, "done": bare, "told": nobody}, "nobody has looked it over"), ({"act": prime, "done": bare, "told": {"pits": ""}}, "nobody told of"), ({"act": prime, "done": bare}, ""),
            ({"act": prime, "done": [*bare, [-2, "coat", "epoxy-primer"]], "told": nobody}, ""), ({"act": ["abrade"], "done": bare, "told": nobody}, ""),
        ])  # fmt: skip
        unread = [*bare, [-2, "coat", "epoxy-primer", {"windows": None}]]
        self.check(Aspect.WINDOW, [({"act": prime, "done": unread}, "names no window"), ({"act": prime, "done": [*bare, [-2, "coat", "epoxy-primer"]]}, ""), ({"act": ["abrade"], "done": unread}, "")])  # fmt: skip
        unclosed = [[{"next": "any", "opens": [[-20, 60], [60, 60]], "closes": "unknown"}]]
        self.check(Aspect.WINDOW, [({"act": prime, "done": [*bare, [-2, "coat", "epoxy-primer", {"windows": unclosed[0]}]]}, "until when")])  # fmt: skip
        found = {"uncovered": "yes", "toxic": "", "layer": ""}
        self.check(Aspect.SAFETY, [
            ({"act": ["strip"], "told": found}, "how it is bared is not told"), ({"act": ["strip", {"way": "chemical"}], "told": found}, ""), ({"act": ["strip", {"way": "sander"}], "told": found}, "lead"),
            ({"act": ["strip", {"way": "sander"}], "told": found | {"toxic": "none"}}, ""), ({"act": ["abrade"], "told": found}, "lead"), ({"act": prime, "told": found}, ""), ({"act": ["strip"], "done": bare, "told": found}, ""),
        ])  # fmt: skip

    def test_clean_is_what_is_neither_spoken_of_nor_missing(self):
        for act, done in ((["prime", "epoxy-primer"], []), (["prime", "epoxy-primer"], [[-30, "bared"]]), (["fill", "body-filler"], [[-3, "bared", "sander"]])):  # fmt: skip
            ruling = ruling_of({"act": act, "done": done})
            told = {v.aspect for v in ruling.verdicts} | set(ruling.missing)
            self.assertEqual(set(ruling.clean), set(ruling.concerned) - told)
            self.assertTrue(ruling.clean and told)

    def test_the_gravest_word_of_an_aspect(self):
        verdicts = ruling_of({"act": ["prime", "epoxy-primer"], "done": [[-30, "bared"]]}).verdicts
        grave, mild = (replace(verdicts[0], aspect=Aspect.FILM, severity=word) for word in ("stops", "advises"))
        for pair in ((grave, mild), (mild, grave)):
            self.assertEqual(replace(ruling_of({"act": ["prime", "epoxy-primer"]}), verdicts=pair).word_of(Aspect.FILM), "stops")  # fmt: skip

    def test_a_ratio_by_mass_is_written_against_its_first_part(self):
        """4:1 by volume of 1.5 and 1.0 g/mL: 6 : 1 by mass, so 1 : 0.1667."""
        parts = [Part("a", "A", 6.0, 1.5, 50.0, "base"), Part("b", "B", 1.0, 1.0, 50.0, "hardener")]
        given = {g.name: g.value for g in plan_pot(parts, 100.0).working.given}
        self.assertEqual(given["ratio by mass"], "1.0000 : 0.1667")
