"""Where things turn: at a limit, at a default, where one of two reasons is enough. Arithmetic stands beside each row; what
is no arithmetic is common practice, no source.
"""

import csv
import math
from dataclasses import replace

from django.test import SimpleTestCase

from emplastra.core.buying.bill import Bill, Row
from emplastra.core.metal import access, hours, known, repair, solder, strip
from emplastra.core.metal.access import Act, Face, Plan
from emplastra.core.piece.areas import edges_mm, total_area_m2
from emplastra.core.product import answers, mixing, sheet, spoken
from emplastra.core.product.mixing import Part
from emplastra.core.product.tables import TimeTable
from emplastra.core.product.voc import Category, Voc
from emplastra.core.rules import face as faces
from emplastra.core.rules import facts, mending, standard, trial
from emplastra.core.rules.access import verdicts
from emplastra.core.rules.cautions import owed
from emplastra.core.rules.face import PotTimes
from emplastra.core.rules.seen_act import SeenAct
from emplastra.core.surface import events, fit, missed, patches, ready, swap, why
from emplastra.core.surface.clocks import Setting, _wet_on_wet, recoat_clock, with_clocks
from emplastra.core.surface.fold import Toward, build
from emplastra.core.surface.patches import Patch
from emplastra.core.surface.plan import PlanStep, progress_of
from emplastra.core.surface.steps import STEPS
from emplastra.core.survey import file, findings
from emplastra.core.survey.answers import Answer
from emplastra.core.survey.findings import Word
from emplastra.core.survey.inspection import POINTS
from emplastra.core.survey.topics import TOPICS
from emplastra.core.words import lasting
from emplastra.core.working import Basis, Figure
from tests.core.test_fit import straight
from tests.rulings import H, act_of, event_of, ruling_of, sheet_of


class NumberTests(SimpleTestCase):
    def check(self, rows):
        for n, (found, expected) in enumerate(rows):
            with self.subTest(n, expected=expected):
                self.assertEqual(found, expected)

    def test_pots_thinner_and_areas(self):
        """0.9 in pots of 0.3 are 3; 4:1 by mass of 2 and 1 g/mL are 3 mL, a tenth of that at 0.8 g/mL is 0.24 g."""
        parts = [Part("a", "A", 4.0, 2.0, 50.0, "base"), Part("b", "B", 1.0, 1.0, 50.0, "hardener")]
        thinner = Part("t", "T", 1.0, 0.8, 0.0, "thinner")
        mix = mixing.ratios(parts, "mass", 10.0, thinner)
        self.assertAlmostEqual(mix[2].ratio / mix[0].ratio, 0.24 / 4)
        self.check(
            [
                ((mixing.equal_pots(0.9, 0.3).count, mixing.equal_pots(1000, 500).count, mixing.equal_pots(0.5, 1).count), (3, 2, 1)),
                (total_area_m2([{"kind": "flat", "dims": {"length": 2000, "width": 500}}]), 1.0),
            ]
        )  # fmt: skip
        for call in (
            lambda: mixing.equal_pots(1, 0),
            lambda: mixing.equal_pots(0, 1),
            lambda: mixing.ratios(parts, "mass", 0.5),
        ):
            self.assertRaises(ValueError, call)

    def test_a_pot_by_the_scale_alone_where_a_density_is_not_told(self):
        """4:1 by mass of 100 g are 80 and 100 on the scale, whatever one of the densities is."""
        mix = [Part("a", "A", 4.0, None, 50.0, "base"), Part("b", "B", 1.0, 2.0, 50.0, "hardener")]
        self.assertEqual([round(t.shown, 6) for t in mixing.plan_pot(mix, 100.0).targets], [80.0, 100.0])

    def test_times_and_films_as_they_are_written(self):
        table = lambda *points, **more: TimeTable(points, **more)  # noqa: E731
        flat = lambda minutes: answers.time_at(table((0, minutes), (40, minutes)), 20)  # noqa: E731
        film = lambda **told: spoken.film_text(told)  # noqa: E731
        self.check(
            [
                ([spoken.duration(m) for m in (60, 70, 90, 130, 130.5, 1440, 2880, 2940)], ["1 h", "70 min", "90 min", "2 h 10", "130.5 min", "24 h", "2 days", "49 h"]),
                ([flat(m) for m in (89.4, 92, 603, 2900)], ["89 min", "90 min", "10 h", "2 days"]),
                ([answers.basis_at(table((10, 60), (20, 30)), t) for t in (20, 20.5, 30)], [Basis.SHEET, Basis.ESTIMATED, Basis.ESTIMATED]),
                (film(min_um=40, max_um=60), "40 µm to 60 µm"),
                (film(min_um=40, typical_um=50, max_um=60), "min 40 µm, 50 µm, max 60 µm"),
                ((film(min_um=40), film(max_um=60)), ("min 40 µm", "max 60 µm")),
                ([sheet.FilmRange(min_um=low, max_um=high).aim_um for low, high in ((40, 60), (40, None), (None, 60), (None, None))], [50, 40, 60, None]),
                ([lasting(m) for m in (59.4, 60, -119, 120, 47 * 60 + 59, 48 * 60, 154 * 60)], ["59 min", "1 h", "1 h 59", "2 h", "47 h 59", "2 days", "6 days"]),
                (table((10, 60), (20, 30)).outside([9.9, 10, 20, 20.1]).tolist(), [True, False, False, True]),
            ]
        )  # fmt: skip

    def test_edges_of_each_shape(self):
        """Rims of circles are π·d; a cap of a sphere R 500 and 200 high has a rim of radius √(200 · 800) = 400."""
        pi = math.pi
        for kind, dims, edges in (
            ("flat", {"length": 2000, "width": 500}, 5000), ("box", {"length": 2000, "width": 50, "height": 30}, 8320), ("tube", {"diameter": 100, "length": 900}, 200 * pi),
            ("cone", {"d1": 100, "d2": 300, "height": 400}, 400 * pi), ("dome", {"radius": 500, "height": 200}, 800 * pi), ("bend", {"diameter": 80, "radius": 300, "angle": 90}, 160 * pi), ("given", {"m2": 4.0}, 8000),
            ("angle", {"length": 2000, "width": 40, "height": 60}, 2 * (2000 + 100) + 2000), ("channel", {"length": 2000, "width": 100, "height": 50}, 2 * (2000 + 200) + 2 * 2000),
        ):  # fmt: skip
            with self.subTest(kind):
                self.assertAlmostEqual(edges_mm([{"kind": kind, "dims": dims}]), edges)

    def test_a_limit_is_kept_to_its_last_gram(self):
        primer = Category("c", "primer", 540.0)
        figure = lambda value: Voc(Figure(value, Basis.SHEET), 0.0, primer, None).within  # noqa: E731
        self.assertEqual([figure(v) for v in (539.0, 540.0, 540.1)], [True, True, False])
        self.assertIsNone(Voc(Figure(1.0, Basis.SHEET), 0.0, None, None).within)

    def test_a_share_takes_whole_patches_first_and_leaves_no_slivers(self):
        """0.5 of 0.3 and 0.7: all of the first, 0.2 of the second; what is left under a thousandth is taken along."""
        order = lambda patch: patch.bare_s  # noqa: E731
        two = [Patch(0.3, bare_s=1.0), Patch(0.7, bare_s=2.0)]
        for share, mine, rest in ((0.5, [0.3, 0.2], [0.5]), (0.3, [0.3], [0.7]), (0.2999999, [0.3], [0.7]), (1.0, [0.3, 0.7], [])):  # fmt: skip
            with self.subTest(share):
                took, left = patches.taken(two, share, order)
                self.assertEqual([[round(p.share, 4) for p in ps] for ps in (took, left)], [mine, rest])
        a, b = Patch(vapour="Tri"), Patch()
        self.assertEqual([patches._done_to(*pair)["vapour"] for pair in ((a, b), (b, a), (b, b))], ["Tri", "Tri", ""])
        self.assertEqual([patches._coarser(*pair) for pair in (("P80", "P180"), ("P180", "P80"), ("", "P80"))], ["P80", "P80", ""])  # fmt: skip

    def test_hours_and_money(self):
        """3 pieces at so much an hour: the low without what an unseen skin adds, middle and high with it."""
        piece = repair.Proposal("patch", 3, 400.0, unseen=2)
        overrun = repair.factor([])
        extra = 1 + 2 * repair.UNSEEN_SKIN
        found = repair.hours_of(piece, overrun)
        for had, factor in ((found.low, overrun.low), (found.mid, overrun.mid * extra), (found.high, overrun.high * extra)):  # fmt: skip
            self.assertAlmostEqual(had, piece.plan_h * factor)
        self.assertEqual(repair.Proposal("patch", 1).check().pieces, 1)
        self.assertRaises(repair.RepairError, repair.Proposal("patch", 0).check)
        self.assertGreater(solder.mass_g("70-30", 0.5, 0.5, 0.5), 0)
        apart = hours.hours_by(
            [hours.Stint(1, "sand", 1, a * 3600.0, b * 3600.0, 1.0) for a, b in ((0, 1), (2, 4), (3, 3))]
        )
        self.assertEqual(apart, {(1, "sand"): 3.0})
        bill = lambda **more: Bill({}, **more).costs_at_least  # noqa: E731
        self.assertEqual((bill(), bill(unpriced=["E"])), (False, True))
        self.assertEqual(Row("p", "q").amount, 0.0)

    def test_an_accepted_figure_holds_to_its_step(self):
        for was, now, worse, step, held in ((10, 15, 1, 5, True), (10, 15.1, 1, 5, False), (10, 5, -1, 5, True), (10, 4.9, -1, 5, False), (10, 2, 1, 5, True), (10, 10.1, 0, 5, False)):  # fmt: skip
            with self.subTest(was=was, now=now, worse=worse):
                self.assertIs(facts.Fact("f", was, worse, step).holds(facts.Fact("f", now)), held)

    def test_a_pot_before_and_after_its_hours(self):
        for began, ended, early, late in ((0, 1, 10, 0), (600, 601, 0, 0), (700, 1800, 0, 10), (700, 1200, 0, 0)):
            act = replace(act_of({"act": ["prime", "epoxy-primer"]}), pot=PotTimes(600.0, 1200.0), began_s=float(began), ended_s=float(ended))  # fmt: skip
            seen = SeenAct({}, act)
            with self.subTest(began=began, ended=ended):
                self.assertEqual((seen.early_pot_min, seen.late_pot_min), (early, late))


class OrderTests(SimpleTestCase):
    def test_acts_of_access_stand_in_columns_and_are_found_once_what_comes_before_is_done(self):
        a, b, c = Act("a", "open", "A", ("in",)), Act("b", "coat", "B", ("in",), ("a",)), Act("c", "close", "C", ("in",), ("b",))  # fmt: skip
        self.assertEqual([[x.id for x in column] for column in access.columns((c, a, b))], [["a"], ["b"], ["c"]])
        closed = [access.Happened("close", "in", 9.0, 1)]
        self.assertFalse(any(act.done for act in access.logged((a, b, c), closed)))
        faces = {"in": Face("Sill, inside", coated=True)}
        fit_ = Act("t", "trial-fit", "Door", ("in",))
        close = Act("c", "close", "Sill", ("in",), ("t",))
        off = Act("o", "take-off", "Door", ("in",), ("t",))
        said = lambda *acts: "trial-stays" in [v.rule for v in verdicts(Plan(acts, faces))]  # noqa: E731
        self.assertEqual((said(fit_, close), said(fit_, off, close), said(fit_)), (True, False, False))

    def test_a_wipe_lapses_after_its_hour_but_for_a_coat(self):
        steps = (PlanStep("w", "degrease"), PlanStep("p", "prime", "Test primer"))
        wiped = replace(event_of(0, "wiped"), step="w")
        for after, minutes, lapsed in (([], 59, False), ([], 60, True), ([event_of(0.3, "keyed", "P320")], 61, True), ([event_of(0.3, "coat", "epoxy-primer")], 61, False), ([event_of(-0.3, "coat", "epoxy-primer")], 61, True)):  # fmt: skip
            with self.subTest(after=after, minutes=minutes):
                state = progress_of(steps, [wiped, *after], minutes * 60.0).states[0]
                self.assertEqual((state.lapsed, state.done), (lapsed, not lapsed))

    def test_only_steps_still_to_be_done_answer_a_finding(self):
        steps = (
            PlanStep("a", "weld"),
            PlanStep("b", "weld"),
            PlanStep("p", "prime", "Test primer"),
            PlanStep("c", "weld"),
        )
        done = [replace(event_of(-3, "weld", 0.1), step="a"), replace(event_of(-2, "coat", "epoxy-primer"), step="p")]
        left = mending.there_already(("weld",), progress_of(steps, done, 0.0))
        self.assertEqual([s.step.id for s in left], ["c"])

    def test_why_a_step_stands_there(self):
        kinds = ("strip", "weld", "solder", "rinse", "prime", "weld", "base", "clear", "clear")
        steps = tuple(PlanStep(f"{n}", kind) for n, kind in enumerate(kinds))
        said = why.reasons(steps, {})
        for step, words in (("1", "Welded bare"), ("3", "Flux is acid"), ("5", "burns a strip off"), ("7", "Over the base"), ("8", "Again, on the clear")):  # fmt: skip
            self.assertIn(words, said[step])
        for over, words in (("base-coat", "Flat now"), ("body-filler", "as coarse as the filler bites"), ("sealer", "only copies what lies under it")):  # fmt: skip
            shelf = {"Over": sheet_of(over, product="Over")}
            self.assertIn(words, why.reasons((PlanStep("a", "surface"), PlanStep("b", "block"), PlanStep("c", "prime", "Over")), shelf)["b"])  # fmt: skip
        self.assertIn("Acid or wash", why.reasons((PlanStep("a", "solder"), PlanStep("b", "acid-prep"), PlanStep("c", "rinse")), {})["c"])  # fmt: skip

    def test_a_polish_is_left_out_where_neither_gloss_nor_level_is_wanted(self):
        steps = [PlanStep("c", "clear", "Test clear-coat"), PlanStep("p", "polish")]
        shelf = {"Test clear-coat": sheet_of("clear-coat")}
        for finish, job in (("covered", "drive"), ("below", "preserve"), ("show", "drive"), ("show", "show")):
            want, found = standard.wanted(finish, job), standard.adapted(steps, shelf, finish, job)
            left = next(s for s in found.steps if s.id == "p").left_out
            with self.subTest(finish=finish, job=job):
                self.assertEqual(bool(left), not want.polished and not want.levelled)

    def test_a_method_brings_its_thinner_and_a_shelf_its_best_sheet(self):
        step = PlanStep("p", "prime", "Test epoxy-primer", thinner_pct=5.0, method="brush")
        thin = sheet_of("epoxy-primer", "mixed", components=[{"key": "a", "name": "A", "role": "base", "solids_pct": 50}, {"key": "b", "name": "B", "role": "hardener", "solids_pct": 50}, {"key": "t", "name": "T", "role": "thinner"}], thinner={"component": "t", "pct": {"hvlp": 10}})  # fmt: skip
        made = lambda method: (lambda s: (s.method, s.thinner_pct))(swap.with_method(step, method, thin))  # noqa: E731
        self.assertEqual((made("hvlp"), made("roller"), made("by hand")), (("hvlp", 10.0), ("roller", 0.0), ("brush", 5.0)))  # fmt: skip
        told = {"kind": "prime", "of": "epoxy-primer"}
        shelf = [sheet_of("epoxy-primer", product="A", film=None), sheet_of("epoxy-primer", product="B")]
        self.assertEqual(ready._best(told, shelf, "steel").product, "B")


#: Topic -> choices that are no trouble: what is sound, none, or only to be known (T54). Common practice, no source.
FINE = {
    "uncovered": "yes", "looked": "bare paint part none", "duty": "no load brake pressure", "substrate": "as-planned", "rust": "none A B", "white": "none", "laminate": "none",
    "blisters": "0", "pits": "none", "holes": "none", "thin": "full", "filler": "none", "solder": "none", "joints": "none laps rivets", "seams": "sound",
    "layer": "none powder factory two-pack oil lacquer", "toxic": "none kit not-tested lead chromate tin asbestos", "wax": "no", "salts": "none tested", "dust": "0 1 2",
    "drain": "open closed", "marks": "none marks texture", "sample": "kept none not-yet", "near": "nothing glass engine wiring trim lagging bushes springs fuel",
    "held": "never cleaned emptied", "stays": "none seats bearings brake earth", "hides": "clean", "more": "", "film": "",
}  # fmt: skip
#: Topics whose trouble has something that made it (T06).
CAUSED = "rust white laminate blisters pits holes thin joints seams drain hides more"
GOES_ON = "blocked-drain failed-seal missing-bung water-trap bare-hidden two-metals condensation"


class ClockTests(SimpleTestCase):
    def test_closing_begins_twelve_hours_before_and_after_keying_with_the_last_fifth_of_a_day(self):
        """Open for ten days from 1 h after the coat: a fifth of that is 48 h, so 12 h it is. Keyed once it is shut, it
        stays open for 24 h, and closing begins 4.8 h before that ends.
        """
        row = {"next": "any", "opens": [[0, 60], [40, 60]], "closes": [[0, 14400], [40, 14400]]}
        where = straight((-900, 20, 40), (900, 20, 40))
        layer = event_of(-1, "coat", "epoxy-primer", {"windows": [row]})
        clock = recoat_clock(build([event_of(-3, "bared", "sander"), layer], 0.0), where, Toward("X", "epoxy-primer"))
        self.assertAlmostEqual(clock.closes_s - clock.closing_s, 12 * H)
        keyed = event_of(300, "keyed", "P320")
        late = recoat_clock(build([event_of(-3, "bared", "sander"), layer, keyed], 301 * H), where, Toward("X", "epoxy-primer"))  # fmt: skip
        self.assertAlmostEqual((late.closes_s - keyed.ended_s) / H, 24)
        self.assertAlmostEqual((late.closes_s - late.closing_s) / H, 4.8)

    def test_a_film_that_never_dries_is_wet(self):
        """Far below its sheet the film stands still; at 20 °C it is dry 30 min after."""
        row = {"next": "any", "opens": [[10, 10], [40, 10]], "closes": None, "wet_on_wet": True}
        more = {"windows": [row], "times": {"touch": [[10, 60], [20, 30]]}}
        both = [event_of(-20, "coat", "base-coat", {**more, "um": 20.0}), event_of(-1, "coat", "base-coat", {**more, "um": 20.0})]  # fmt: skip
        for air_c, together in ((20, False), (-25, True)):
            layers = build([event_of(-30, "bared", "sander"), *both], 0.0).layers
            with self.subTest(air_c):
                self.assertIs(_wet_on_wet(*layers, straight((-900, air_c, 40), (9000, air_c, 40))), together)

    def test_the_air_that_is_needed_begins_with_the_earliest_that_still_runs(self):
        half = [
            event_of(-10, "bared", "sander"),
            event_of(-5, "coat", "epoxy-primer", 0.5),
            event_of(-2, "rinsed", 0.5),
        ]
        self.assertEqual(build(half, 0.0).earliest_s, half[0].began_s)
        whole = [event_of(-10, "bared", "sander"), event_of(-5, "coat", "epoxy-primer")]
        self.assertEqual(build(whole, 0.0).earliest_s, whole[1].began_s)
        self.assertIsNone(build([], 0.0).earliest_s)

    def test_wet_metal_has_three_hours_less_what_was_used_dry(self):
        """121 min at 40 %, where steel has 24 h, use up 8.4 %; then it stands wet: 91.6 % of 3 h are 2 h 45."""
        events_ = [event_of(-2, "bared", "sander"), event_of(0, "rinsed")]
        where = straight((-900, 20, 40), (0, 20, 40), (0.001, 20, 99.5), (900, 20, 99.5))
        clock = with_clocks(build(events_, 4 * H), Setting("steel", where)).clock("bare")
        self.assertAlmostEqual(clock.closes_s / H, 3 * (1 - 121 / 60 / 24), 2)

    def test_what_is_dried_is_what_was_rinsed(self):
        events_ = [event_of(-3, "bared", "sander"), event_of(-2, "rinsed", 0.5), event_of(-1, "dried", 0.5)]
        self.assertEqual([p.dried_s is None for p in build(events_, 0.0).patches if p.rinsed_s is not None], [False])

    def test_what_was_looked_at_twice_counts_as_it_was_last(self):
        seen = build([event_of(-2, "looked", "round=good", "burrs=good"), event_of(-1, "looked", "round=fault")], 0.0)
        self.assertEqual([(point, answer) for point, answer, _ in seen.inspected], [("burrs", "good"), ("round", "fault")])  # fmt: skip


class ToldTests(SimpleTestCase):
    def test_what_is_trouble_what_has_a_cause_and_which_goes_on(self):
        self.assertEqual({key: " ".join(c.key for c in t.choices if not c.trouble) for key, t in TOPICS.items()}, FINE)
        self.assertEqual(" ".join(key for key, t in TOPICS.items() if t.wants_cause), CAUSED)
        self.assertEqual(" ".join(key for key, (_, goes_on) in findings.CAUSES.items() if goes_on), GOES_ON)
        weld = {"round": "stops", "through": "stops", "burrs": "warns", "holes": "warns", "flush": "warns", "marks": "warns", "blind": "advises"}  # fmt: skip
        self.assertEqual({key: point.severity for key, point in POINTS.items()}, weld)

    def test_air_that_is_usual_where_a_sheet_says_nothing(self):
        """Isocyanate to 75 %, a can (lacquer: it whitens) to 70 %, others without a limit (T60)."""
        for more, most in (({"hazards": ["isocyanate"]}, 75.0), ({"form": "aerosol"}, 70.0), ({}, None)):
            with self.subTest(more):
                made = sheet_of("1k-primer", **({"hazards": []} | more))
                self.assertEqual(made.held_limits.rh_pct[1], most)

    def test_trouble_told_anew_after_it_was_verified_is_open_again(self):
        verified, explained = Word("verified"), Word("explained", "knock")
        for told, again in (([True], 0), ([True, explained, True], 0), ([True, verified, False], 0), ([True, verified, True], 1), ([True, verified, explained, True], 1), ([True, verified, findings.REOPENED, True], 1), ([True, verified, True, True], 1)):  # fmt: skip
            with self.subTest(told=told):
                self.assertEqual(findings.since(told).count(findings.REOPENED), again)

    def test_the_stop_of_a_ruling_is_its_gravest_and_a_warning_is_none(self):
        wheel = ruling_of({"done": [[-3, "bared", "wire-wheel"]], "act": ["prime", "epoxy-primer"]})
        self.assertEqual((wheel.stop.rule, wheel.verdicts[1].severity), ("burnished", "warns"))
        self.assertIsNone(ruling_of({"done": [[-3, "bared", "sander"]], "act": ["prime", "epoxy-primer"]}).stop)
        told = list(owed(faces.Act("prime"), faces.Face(0.0)))
        self.assertEqual(told, list(STEPS["prime"].cautions))
        self.assertEqual(owed(act_of({"act": ["prime", "epoxy-primer", {"hazards": []}]}), faces.Face(0.0)), ())

    def test_what_is_empty_is_not_written_and_no_cell_is_a_formula(self):
        kept = file._item(file.Statement("found", Answer("rust", "", "", {}, "", ""), file._moment("2026-05-12T10:00:00+00:00")))  # fmt: skip
        self.assertEqual(set(kept), {"pass", "topic", "choice", "evidence", "seen"})
        self.assertEqual(set(file._item(file.WordTold("verified", "rust", ""))), {"said", "topic"})
        self.assertEqual([file.escape(c) for c in ("=1+1", "abc", "", "-2", "'x")], ["'=1+1", "abc", "", "'-2", "''x"])
        self.assertEqual(file.plain(file.escape("'x")), "'x")

    def test_a_cause_told_of_a_finding_stands_in_the_table(self):
        at = file._moment("2026-05-12T10:00:00+00:00")
        rust = file.Statement("found", Answer("rust", "", "C", {}, "", "bare"), at)
        rows = lambda *items: [r["cause"] for r in csv.DictReader(file.to_csv({"Z": items}).splitlines())]  # noqa: E731
        self.assertEqual(rows(rust, file.WordTold("explained", "rust", "", "knock")), ["knock"])
        self.assertEqual(rows(rust, file.WordTold("answered", "rust", "", "", "s")), [""])

    def test_heat_is_for_solder_or_compound(self):
        for told, speaks in (({("solder", ""): "seam"}, True), ({("layer", "1"): "oil", ("layer", "2"): "compound"}, True), ({("layer", "1"): "oil"}, False)):  # fmt: skip
            metal = known.Metal(answers={key: Answer(*key, choice) for key, choice in told.items()})
            with self.subTest(told=told):
                self.assertIs(strip._softened_by_heat(metal), speaks)

    def test_each_ground_of_a_trial_is_what_it_is_called(self):
        for ground in trial.GROUNDS:
            face = trial.face_of(ground)
            with self.subTest(ground.key):
                self.assertEqual([f.topic for f in face.findings], ["rust"] if ground.rust else [])
                self.assertEqual(face.layers_told, ground.key != "old-film")
                self.assertEqual(face.choice("layer", "1") == "none", ground.key != "old-film")

    def test_no_dew_before_it_began_and_no_more_off_than_lies_there(self):
        self.assertFalse(fit.dewed(None, 1.0, 5.0, 5.0))
        for um, off in ((3.0, 3.0), (80.0, missed.KEY_UM["P320"])):
            top = build([event_of(-3, "bared", "sander"), event_of(-2, "coat", "epoxy-primer", {"um": um})], 0.0).top
            self.assertEqual(missed.remedy(top, 1.0, "P320", 0.0).um_off, off)
        self.assertEqual(events.Event(0.0, 1.0).share, 1.0)
        self.assertEqual(H, 3600)
