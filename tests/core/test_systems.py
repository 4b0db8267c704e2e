"""Ready systems, where they fit, what finish and standard make of them, what they wait. Common practice, no source."""

from pathlib import Path

import yaml
from django.test import SimpleTestCase

from emplastra.core.product import sheet as sheets
from emplastra.core.rules.registry import SCHOOLS
from emplastra.core.rules.standard import adapted
from emplastra.core.rules.trial import GROUNDS, fit_on, ground_named, where_it_fits
from emplastra.core.surface.lasts import waits_of
from emplastra.core.surface.plan import PlanStep, misplaced
from emplastra.core.surface.ready import ready_named, ready_systems, taken, with_sheet
from emplastra.core.surface.steps import STEPS
from emplastra.core.surface.swap import Change, Swap, changed
from emplastra.core.surface.why import reasons
from tests.rulings import sheet_of

DEMO = Path(__file__).resolve().parents[2] / "emplastra/demo"
SHELF = [sheets.read(yaml.safe_load(path.read_text())) for path in sorted((DEMO / "sheets").glob("*.yaml"))]
SHELF += [sheets.read(each) for each in yaml.safe_load((DEMO / "library.yaml").read_text())["sheets"]]
BY_NAME = {sheet.product: sheet for sheet in SHELF}
#: What a list of ways of working of the trade calls for -> the ready system that is it.
ASKED = {
    "epoxy first and body work over it": "Epoxy first, body work over it", "filler on metal, then epoxy": "Filler on metal, then epoxy",
    "wash primer, surfacer": "Wash primer, surfacer, colour", "patch": "Patch, skimmed and blended", "convert, wait, epoxy": "Convert, wait, epoxy",
    "three-step treatment and penetrating coating": "Three-step treatment, penetrating coating", "holding finish": "Holding finish of converting primer",
    "mastic underside with sealer and overpainted texture": "Mastic underside, sealer, texture painted over", "tinted texture last": "Tinted texture last",
    "flake urethane frame": "Flake urethane frame", "powder frame": "Powder frame by a contractor", "weld-through laps and closed faces": "Weld-through laps, then closed",
    "cavity with wax": "Cavity, primed and waxed", "cavity without": "Cavity, painted, no wax", "aluminium skin": "Aluminium skin", "laminate": "Glass-fibre laminate",
    "casting": "Casting, oil drawn out", "solder-loaded joint": "Solder-loaded joint", "three-stage pearl": "Three-stage pearl",
    "translucent over matched undertone": "Translucent colour over a matched undertone", "single-stage": "Single-stage colour", "base and clear": "Base and clear, one session",
    "clear–cut–clear": "Base and clear, cut and cleared again", "blend": "Blend into sound factory finish",
}  # fmt: skip


def steps_of(ready, shelf=SHELF):
    """PlanSteps of a ready system with products of a shelf."""
    return tuple(PlanStep(f"s{i}", **row) for i, row in enumerate(taken(ready, shelf).steps))


def grounds_of(ready):
    """The grounds that a system is made for."""
    fits = ready.fits
    return [g for g in GROUNDS if g.substrate in fits.substrates and g.rust == (fits.rust and g.substrate == "steel")]


class ReadyTests(SimpleTestCase):
    def test_every_way_of_working_that_is_asked_for_is_there(self):
        self.assertEqual(set(ASKED.values()) - {each.name for each in ready_systems()}, set())
        self.assertIsNone(ready_named("Something else"))

    def test_each_comes_out_clean_where_it_fits_under_its_school(self):
        for ready in ready_systems():
            self.assertEqual(taken(ready, SHELF).lacking, ())
            self.assertTrue(ready.where and ready.why)
            for question, answer in ready.schools.items():
                self.assertIn(answer, SCHOOLS[question][1])
            steps, grounds = steps_of(ready), grounds_of(ready)
            self.assertTrue(grounds, ready.name)
            for ground in grounds:
                for finish in ready.fits.finishes:
                    part = (ready.fits.parts or ("skin",))[0]
                    fit = fit_on(steps, BY_NAME, ground, ready.schools, finish, part, ready.most_um)
                    with self.subTest(ready.name, ground=ground.key, finish=finish):
                        said = [(s.kind, v.rule, v.sentence) for s, v in fit.said]
                        self.assertEqual((fit.word, said, fit.unjudged), ("clean", [], ()))
            total = sum(step.left_um or 0.0 for step in steps)
            self.assertLessEqual(total, ready.most_um, ready.name)

    def test_what_does_not_fit_is_said_there(self):
        table = [
            ("Filler on metal, then epoxy", "steel", {"filler": "over-epoxy"}, "warns", "filler-on-bare"),
            ("Convert, wait, epoxy", "steel", {"converter": "waits"}, "stops", "over-what"),  # no rust to convert
            ("Convert, wait, epoxy", "rust", {"converter": "test"}, "warns", "over-what"),
            ("Tinted texture last", "steel", {"texture": "painted"}, "clean", ""),  # its sheet calls it final
            ("Wash primer, surfacer, colour", "laminate", {}, "stops", "over-what"),
            ("Single-stage colour", "zinc", {}, "clean", ""),
            (
                "One-pack primer and enamel, brushed",
                "zinc",
                {},
                "stops",
                "sheet-substrate",
            ),  # its sheet names other metals
        ]
        for name, ground, schools, word, rule in table:
            fit = fit_on(steps_of(ready_named(name)), BY_NAME, ground_named(ground), schools, "below")
            with self.subTest(name, ground=ground):
                self.assertEqual((fit.word, rule in {v.rule for _, v in fit.said} if rule else True), (word, True))
        every = where_it_fits(steps_of(ready_named("Aluminium skin")), BY_NAME)
        self.assertEqual([fit.ground.key for fit in every], [g.key for g in GROUNDS])

    def test_the_product_that_says_most_of_what_is_wanted_is_taken(self):
        """White ground, not oxide red, where nothing else tells them apart is by name; translucent is never a ground."""
        shelf = [sheet_of("mid-coat", translucent=False), sheet_of("mid-coat", product="Zz pearl", translucent=True)]
        ready = ready_named("Translucent colour over a matched undertone")
        found = taken(ready, shelf)
        mids = [s["product"] for s in found.steps if s["kind"] == "mid"]
        self.assertEqual(mids, ["Zz pearl"])
        self.assertEqual(found.lacking, ("panel-wipe", "epoxy-primer", "two-pack-surfacer", "sealer", "clear-coat"))
        cold = sheet_of("epoxy-mastic", "mixed", product="A cold one", variants=[{"key": "v", "name": "v", "by": "volume", "parts": {"a": 4, "b": 1}, "temp_c": [0, 15]}])  # fmt: skip
        mild = sheet_of("epoxy-mastic", "mixed", product="B mild one")
        steps = taken(ready_named("Cavity, painted, no wax"), [cold, mild]).steps
        self.assertEqual({s["product"] for s in steps if s["kind"] in {"prime", "stripe"}}, {"B mild one"})
        self.assertEqual({(s["coats"], s["dft_um"], s["method"]) for s in steps if s["kind"] == "prime"}, {(2, 50, "brush")})  # fmt: skip

    def test_the_method_is_one_that_the_sheet_takes(self):
        table = [(["hvlp", "brush"], "ready", "brush"), (["hvlp"], "ready", "hvlp"), (None, "ready", "brush"), (["brush"], "aerosol", "aerosol")]  # fmt: skip
        for methods, form, expected in table:
            sheet = sheet_of("epoxy-mastic", form, product="M", methods=methods, thinner={"component": "a", "pct": {"brush": 7}})  # fmt: skip
            found = with_sheet({"method": "brush"}, sheet)
            with self.subTest(methods=methods, form=form):
                self.assertEqual((found["method"], found["thinner_pct"]), (expected, 7 if expected == "brush" else 0.0))
        self.assertEqual(with_sheet({"coats": 3, "dft_um": 20}, None), {"coats": 3, "dft_um": 20, "method": "brush", "thinner_pct": 0.0})  # fmt: skip


class SwapTests(SimpleTestCase):
    def test_one_thing_is_changed_and_what_is_done_stays(self):
        thin = sheet_of("epoxy-primer", product="N", methods=["hvlp"], film={"min_um": 5, "typical_um": 30, "max_um": 90, "coats": 1})  # fmt: skip
        known = {"E": sheet_of("epoxy-primer", product="E", methods=["brush", "hvlp"]), "N": thin, "B": sheet_of("base-coat", product="B", methods=["brush"])}  # fmt: skip
        steps = [PlanStep("w", "degrease", "W"), PlanStep("e", "prime", "E", 2, 50, method="brush"), PlanStep("b", "base", "B", 2, 15, method="brush")]  # fmt: skip
        table = [
            (Change(), (), [("W", 1), ("E", 2, 50, "brush"), ("B", 2, 15, "brush")]), (Change(Swap.PRODUCT, "E", "N"), (), [("W", 1), ("N", 2, 30, "hvlp"), ("B", 2, 15, "brush")]),
            (Change(Swap.PRODUCT, "E", "N"), ("e",), [("W", 1), ("E", 2, 50, "brush"), ("B", 2, 15, "brush")]), (Change(Swap.PRODUCT, "W", "V"), (), [("V", 1), ("E", 2, 50, "brush"), ("B", 2, 15, "brush")]),
            (Change(Swap.METHOD, "", "hvlp"), (), [("W", 1), ("E", 2, 50, "hvlp"), ("B", 2, 15, "brush")]), (Change(Swap.METHOD, "", "broom"), (), [("W", 1), ("E", 2, 50, "brush"), ("B", 2, 15, "brush")]),
            (Change(Swap.COATS, "E", "4"), (), [("W", 1), ("E", 4, 50, "brush"), ("B", 2, 15, "brush")]), (Change(Swap.COATS, "E", "99"), (), [("W", 1), ("E", 20, 50, "brush"), ("B", 2, 15, "brush")]),
            (Change(Swap.COATS, "E", "0"), (), [("W", 1), ("E", 1, 50, "brush"), ("B", 2, 15, "brush")]), (Change(Swap.COATS, "E", "many"), (), [("W", 1), ("E", 2, 50, "brush"), ("B", 2, 15, "brush")]),
        ]  # fmt: skip
        for change, done, expected in table:
            with self.subTest(change=change, done=done):
                found = changed(steps, change, known, done)
                told = [(s.product, s.coats, s.dft_um, s.method)[: 2 if s.kind == "degrease" else 4] for s in found]
                self.assertEqual(told, expected)


class WhyTests(SimpleTestCase):
    def test_every_step_of_every_system_has_its_reason(self):
        for ready in ready_systems():
            steps = steps_of(ready)
            said = reasons(steps, BY_NAME)
            self.assertEqual(set(said), {s.id for s in steps})
        for kind in STEPS:
            self.assertTrue(reasons((PlanStep("a", kind),), {})["a"].endswith("."), kind)

    def test_the_same_step_has_another_reason_in_another_place(self):
        def of(*kinds):
            steps = [PlanStep(f"s{i}", *(k if isinstance(k, tuple) else (k,))) for i, k in enumerate(kinds)]
            known = {"F": sheet_of("body-filler", product="F"), "E": sheet_of("epoxy-primer", product="E")}
            return list(reasons(steps, known).values())

        table = [
            (of("degrease", "abrade", "degrease")[0], "Wax comes off before the first grit"),
            (of("degrease", "abrade", "degrease")[2], "wiped right before what comes"),
            (of(("fill", "F"))[0], "On keyed metal"), (of(("prime", "E"), ("fill", "F"))[1], "Over the keyed primer"),
            (of(("prime", "E"))[0], "before its bare time is over"), (of(("fill", "F"), ("prime", "E"))[1], "One film over filler and metal"),
            (of(("prime", "E"), "abrade")[1], "Out of its window"), (of("texture", "single-stage")[0], "before the paint"), (of("texture")[0], "the last coat"),
            (of("solder", "rinse")[1], "Flux is acid"), (of("acid-prep", "rinse")[1], "while it is wet"),
        ]  # fmt: skip
        for said, words in table:
            with self.subTest(words):
                self.assertIn(words, said)


class StandardTests(SimpleTestCase):
    def made(self, name, finish, standard):
        found = adapted(steps_of(ready_named(name)), BY_NAME, finish, standard)
        kept = [s for s in found.steps if not s.left_out]
        surfacer = next((s.coats for s in kept if s.kind == "surface"), 0)
        grit = [s.grit for s in kept if s.kind == "block"][-1:] or [""]
        return surfacer, grit[0], any(s.kind == "polish" for s in kept), any(s.kind == "fill" for s in kept), found

    def test_finish_and_standard_change_what_is_proposed_and_say_so(self):
        """Three coats of surfacer, P400, no polish are what the system has."""
        name = "Epoxy first, body work over it"
        table = [
            ("show", "factory", (3, "P400", False, True), ()),
            ("show", "drive", (3, "P400", False, True), ()),
            ("show", "show", (4, "P600", True, True), ("One coat of surfacer more", "P600 under the colour", "Polished at the end")),
            ("open", "drive", (2, "P400", False, True), ("One coat of surfacer fewer",)),
            ("below", "show", (0, "P400", False, False), ("Not levelled",)),
            ("covered", "drive", (0, "P400", False, False), ("Not levelled",)),
            ("show", "preserve", (0, "P400", False, False), ("Not levelled",)),
        ]  # fmt: skip
        for finish, standard, expected, words in table:
            with self.subTest(finish=finish, standard=standard):
                *got, found = self.made(name, finish, standard)
                self.assertEqual(tuple(got), expected)
                self.assertEqual([any(w in said for said in found.said) for w in words], [True] * len(words))
                self.assertEqual(len(found.said), len(words))
                fit = fit_on(found.steps, BY_NAME, GROUNDS[0], {}, finish, "skin", 2000)
                self.assertNotIn(fit.word, {"stops", "warns"}, [v.sentence for _, v in fit.said])

    def test_left_out_is_with_its_reason_and_protection_stays(self):
        *_, found = self.made("Epoxy first, body work over it", "covered", "drive")
        gone = {s.left_out for s in found.steps if s.left_out}
        self.assertEqual(gone, {"not levelled: covered, drive it"})
        self.assertEqual([s.kind for s in found.steps if not s.left_out], ["strip", "abrade", "degrease", "prime", "block", "degrease", "base", "clear"])  # fmt: skip

    def test_what_bears_nothing_else_keeps_its_surfacer(self):
        """Wash primer under colour would stop: its surfacer stays, whoever looks at it."""
        *_, found = self.made("Wash primer, surfacer, colour", "covered", "drive")
        self.assertEqual([s.kind for s in found.steps if s.left_out], [])

    def test_welds(self):
        for finish, words in (("show", "ground flush"), ("covered", "left as they are")):
            found = adapted((PlanStep("a", "weld"), PlanStep("b", "weld", note="by hand")), {}, finish, "drive")
            self.assertIn(words, found.steps[0].note)
            self.assertEqual(found.steps[1].note, "by hand")


class WaitTests(SimpleTestCase):
    """Sheets open for anything 60 min after a coat, and are sandable after 120, at every temperature."""

    def test_what_coats_wait_in_all(self):
        known = {n: sheet_of(k, product=n) for n, k in (("E", "epoxy-primer"), ("S", "two-pack-surfacer"), ("C", "clear-coat"))}  # fmt: skip
        known["U"] = sheet_of(
            "epoxy-primer", product="U", windows=[{"next": "any", "opens": "unknown", "closes": None}]
        )
        coats = [PlanStep("e", "prime", "E", 2, 50), PlanStep("s", "surface", "S", 3, 50), PlanStep("b", "block", grit="P400"), PlanStep("c", "clear", "C", 1, 50)]  # fmt: skip
        thick = [PlanStep("s", "surface", "S", 2, 100), PlanStep("c", "clear", "C", 1, 50)]
        table = [
            (coats, {}, 60 + 60 + 2 * 60 + 120, ()),  # between, then; between twice, sandable before the block
            (coats, {"e": 2, "s": 1}, 60 + 120, ()),  # one more of surfacer to wait for, then the block
            (thick, {}, 4 * 60 + 4 * 60, ()),  # twice the film waits four times as long
            ([PlanStep("u", "prime", "U", 1, 50), PlanStep("c", "clear", "C", 1, 50)], {}, 0, ("when C may follow U",)),
            ([PlanStep("x", "prime", "X", 1, 50), PlanStep("c", "clear", "C", 1, 50)], {}, 0, ("the data sheet of X",)),
            ([PlanStep("c", "clear", "C", 1, 50)], {}, 0, ()),
        ]  # fmt: skip
        for steps, done, minutes, missing in table:
            with self.subTest(minutes=minutes, missing=missing):
                found = waits_of(steps, known, 20.0, done)
                self.assertAlmostEqual(found.minutes, minutes, 6)
                self.assertEqual(found.missing, missing)
        cold = sheet_of("epoxy-primer", product="K", windows=[{"next": "any", "opens": [[20, 60]], "closes": None}])
        found = waits_of([PlanStep("k", "prime", "K", 1, 50), coats[3]], {"K": cold, "C": known["C"]}, 2.0)
        self.assertIn("K stands still at", found.missing[0])


class MisplacedTests(SimpleTestCase):
    def test_nothing_goes_before_what_is_done(self):
        a, b, c, d = (PlanStep(x, "prime") for x in "abcd")
        new = PlanStep("n", "abrade")
        table = [
            ([a, b, c], [a, c, b], {"a"}, None), ([a, b, c], [b, a, c], {"a"}, "b"), ([a, b, c], [a, new, b, c], {"a", "b"}, "n"), ([a, b, c], [a, b, new, c], {"a", "b"}, None),
            ([a, b, c], [b, c, a], {"b"}, None), ([a, b, c, d], [a, c, b, d], {"b"}, "c"), ([a, b], [a, b], {"b"}, None),
        ]  # fmt: skip
        for before, after, done, who in table:
            with self.subTest(before=[s.id for s in before], after=[s.id for s in after], done=done):
                found = misplaced(before, after, done)
                self.assertEqual(found and found.step.id, who)
