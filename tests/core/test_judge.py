"""The one judge: kinds over kinds, plans rehearsed and carried out, acceptances that hold. Common practice, no source."""

from dataclasses import replace
from pathlib import Path

import yaml
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from emplastra.core.air import lag
from emplastra.core.product import sheet as sheets
from emplastra.core.product.kinds import ProductKind
from emplastra.core.rules import mending, over
from emplastra.core.rules.face import KINDS, METALS, OLD, Act, Face, Tense
from emplastra.core.rules.facts import Fact, holds
from emplastra.core.rules.judge import CLOCKS, judge
from emplastra.core.rules.over import table
from emplastra.core.rules.rehearsal import around, rehearse
from emplastra.core.rules.whole import LACKS
from emplastra.core.surface.fold import build
from emplastra.core.surface.plan import PlanStep, progress_of, to_sand_um
from emplastra.core.surface.steps import STEPS
from emplastra.core.survey import topics
from emplastra.core.words import written
from tests.rulings import H, event_of, face_of, facts_of, ruling_of, sheet_of

ROOT = Path(__file__).resolve().parents[2]
DEMO = ROOT / "emplastra/demo"
LEAVE_NO_FILM = {"cleaner", "panel-wipe"}
OVER = {kind for step in STEPS.values() if step.leaves_film for kind in step.products} | {"acid-prep"}


class KindTests(SimpleTestCase):
    def test_every_kind_and_every_substrate_has_a_place_in_the_table(self):
        rows, columns = {under for under, _ in table()}, {kind for _, kind in table()}
        self.assertEqual(set(ProductKind) - set(KINDS) - LEAVE_NO_FILM - {"acid-prep"}, set())
        self.assertEqual(set(ProductKind) - columns - LEAVE_NO_FILM, set())
        self.assertEqual(set(lag.SUBSTRATES) - set(METALS), {"old film"})
        lie = {*KINDS.values(), *METALS.values(), *OLD.values(), "tight rust", "mill scale"}
        self.assertEqual(lie - rows, set())
        pairs = {(under, kind) for under in rows for kind in OVER}
        unjudged = sorted(pairs - set(table()))
        print(f"\nkind over kind: {1 - len(unjudged) / len(pairs):.0%} of {len(pairs)} pairs judged")
        self.assertLess(len(unjudged) / len(pairs), 0.15, unjudged)
        for (under, kind), cell in table().items():
            self.assertTrue(cell.word == "clean" or cell.says, (under, kind))

    def test_each_pair_earns_its_word(self):
        """Against a copy of the list read by what comes instead of by what lies there."""
        asked = 0
        for line in (ROOT / "tests/cases/kinds.txt").read_text().splitlines():
            if line.startswith("#"):
                continue
            kind, rest = line.split(None, 1)
            words = {}
            for part in rest.replace("  ", "\n").split("\n"):
                word, _, unders = part.strip().partition(":")
                words |= {under.replace("-", " "): word for under in unders.split()}
            for under, word in words.items():
                asked += 1
                with self.subTest(kind=kind, under=under):
                    self.assertEqual(self.word(self.named(under), kind), word)
        self.assertGreater(asked, 300)

    def named(self, under):
        """What lies there by its name in the table, where a name holds a hyphen."""
        return {name.replace("-", " "): name for name, _ in table()}[under]

    def word(self, under, kind):
        cell = table()[under, kind]
        state = {"keyed": True, "cured": True, "cured-keyed": True, "rust-known": True, "tooth": False}
        return cell.word if not cell.holds or state.get(cell.holds, False) else cell.otherwise

    def test_sentences_give_the_figures(self):
        """A window of 4 to 24 h asked after 1 h: 3 h early."""
        bare, window = [[-3, "bared", "sander"], [-0.4, "wiped"]], [{"next": "self", "opens": [[-20, 240], [60, 240]], "closes": [[-20, 1440], [60, 1440]]}]  # fmt: skip
        table = [
            ({"told": {"holes": ["pinholes", {"count": 4, "mm": 1}]}, "done": bare, "act": ["prime", "epoxy-primer"]}, "4 pinholes, the largest 1 mm"),
            ({"told": {"holes": ["pinholes", {"count": 1, "mm": 2}]}, "done": bare, "act": ["prime", "epoxy-primer"]}, "Pinholes, 2 mm"),
            ({"done": [[-9, "bared", "sander"], [-8, "wiped"], [-1, "coat", "epoxy-primer", {"windows": window}]], "act": ["prime", "epoxy-primer"]}, ": 3 h too early"),
        ]  # fmt: skip
        for row, words in table:
            with self.subTest(words):
                self.assertIn(words, " ".join(written(v.sentence) for v in ruling_of(row).verdicts))

    def test_the_sheets_of_both_come_before_the_table(self):
        table_says = {"done": [[-60, "bared", "sander"], [-59, "wiped"], [-6, "coat", "wash-primer"]], "act": ["prime", "epoxy-primer"]}  # fmt: skip
        self.assertEqual(ruling_of(table_says).word, "stops")
        window = [{"next": "kind:epoxy-primer", "opens": [[-20, 60], [60, 60]]}]
        under = {**table_says, "done": [*table_says["done"][:2], [-6, "coat", "wash-primer", {"windows": window}]]}
        self.assertEqual(ruling_of(under).word, "clean")


def plan_of(*steps):
    """Steps of a plan: kind, or (kind, kind of product, fields); sheets are of `sheet_of`."""
    made, known = [], {}
    for n, step in enumerate(steps):
        kind, product, more = (*((step,) if isinstance(step, str) else step), "", {})[:3]
        more = dict(more)
        extra = more.pop("sheet", {})
        name = f"Test {product}" if product else ""
        if product:
            known[name] = sheet_of(product, **extra)
        made.append(PlanStep(f"s{n}", kind, name, **({"dft_um": 50.0} | more if product else more)))
    return tuple(made), known


def spoken(steps, known, schools=None, **face):
    """[(place in the plan, rule, severity)] of what is said of a plan from bare beginnings."""
    told, findings = facts_of(face.pop("told", {}))
    start = Face(0.0, told=told, findings=findings, surface=build([], 0.0), strip_due=True, **face)
    said = []
    for at, act, met in rehearse(start, progress_of(steps, [], 0.0), known, ""):
        said += [(int(at.step.id[1:]), v.rule, v.severity) for v in judge(act, met, schools).verdicts]
    return list(dict.fromkeys(said))


METAL = ("strip", ("abrade", "", {"grit": "P80"}), "degrease")
FINE = ("block", "", {"grit": "P400"})
COLOUR = ("degrease", ("base", "base-coat", {"coats": 2, "dft_um": 15}), ("clear", "clear-coat", {"coats": 2}))
SURFACER = ("surface", "two-pack-surfacer", {"coats": 3, "sanded_um": 30})
FILL = ("fill", "body-filler", {"dft_um": 300, "sanded_um": 50})
ROUGH = ("block", "", {"grit": "P150"})
GOOD = {
    "a: treat, epoxy, metal work, surfacer, body work, surfacer, sealer": ({}, [*METAL, "acid-prep", "rinse", "dry", ("prime", "epoxy-primer"), "repair", ("prime", "epoxy-primer", {"on": "bare"}), SURFACER, ROUGH, "degrease", FILL, ROUGH, "degrease", SURFACER, FINE, "degrease", ("seal", "sealer"), *COLOUR[1:]]),
    "b: epoxy, filler over it, surfacer": ({}, [*METAL, ("prime", "epoxy-primer", {"coats": 2}), ROUGH, "degrease", FILL, ROUGH, "degrease", SURFACER, FINE, *COLOUR]),
    "c: filler on abraded metal, then epoxy": ({"filler": "on-metal"}, [*METAL, FILL, ROUGH, "degrease", ("prime", "epoxy-primer", {"coats": 2}), FINE, *COLOUR]),
    "d: a patch, wash primer on the bared ring": ({"filler": "on-metal"}, [*METAL, FILL, ROUGH, "degrease", ("prime", "wash-primer", {"on": "bare", "dft_um": 10}), SURFACER, ROUGH, "degrease", ("texture", "underbody-coat", {"dft_um": 200, "sheet": {"overpaintable": True}}), ("single-stage", "single-stage")]),
    "three-step treatment": ({}, ["strip", "clean", "acid-prep", "rinse", "dry", "mask", ("prime", "epoxy-mastic", {"coats": 2})]),
    "brushed mastic underside, sealer, overpainted texture": ({}, ["strip", "degrease", ("prime", "epoxy-mastic", {"coats": 2, "dft_um": 100}), ("seam-seal", "seam-sealer"), ("texture", "underbody-coat", {"sheet": {"overpaintable": True}}), ("single-stage", "enamel")]),
    "six coats of surfacer": ({}, [*METAL, ("prime", "epoxy-primer"), ("surface", "two-pack-surfacer", {"coats": 6, "sanded_um": 60}), FINE, *COLOUR]),
    "three-stage colour": ({}, [*METAL, ("prime", "epoxy-primer"), SURFACER, FINE, "degrease", ("seal", "sealer", {"coats": 2}), ("base", "base-coat", {"coats": 3, "dft_um": 15}), ("mid", "mid-coat", {"coats": 4, "dft_um": 12}), ("clear", "clear-coat", {"coats": 5})]),
    "convert, wait, epoxy": ({"converter": "waits"}, [("strip", "", {"way": "wire-brush"}), ("convert", "converter"), ("prime", "epoxy-primer")]),
    "flake urethane frame": ({}, [("strip", "", {"way": "disc-36"}), "degrease", ("prime", "flake-urethane", {"coats": 2})]),
    "weld-through faces": ({}, [*METAL, ("prime", "weld-through-primer", {"dft_um": 60}), "weld"]),
    "encapsulated rust": ({}, [("strip", "", {"way": "wire-brush"}), "degrease", ("encapsulate", "encapsulator", {"coats": 2})]),
}  # fmt: skip
"""Ways of working of the trade: their schools, their steps."""


class PlanTests(SimpleTestCase):
    def test_the_ways_of_working_of_the_trade_come_out_clean_under_their_school(self):
        for name, (schools, steps) in GOOD.items():
            rusty = "convert" in name or "rust" in name or "underside" in name
            with self.subTest(name):
                more = {"told": {"rust": "C"}} if rusty else {}
                self.assertEqual(spoken(*plan_of(*steps), schools, **({"finish": "below"} | more if rusty or "frame" in name else more)), [])  # fmt: skip

    def test_the_demo_systems_come_out_clean_with_no_pair_unjudged(self):
        read = [sheets.read(yaml.safe_load(path.read_text())) for path in (DEMO / "sheets").glob("*.yaml")]
        known = {sheet.product: sheet for sheet in read}
        for system in yaml.safe_load((DEMO / "systems.yaml").read_text()):
            steps = tuple(PlanStep(f"s{i}", **step) for i, step in enumerate(system["steps"]))
            rust = "C" if "onverte" in system["name"] else "none"
            steps = tuple(replace(s, way="wire-brush") if s.kind == "strip" and rust == "C" else s for s in steps)
            told, _ = facts_of({"rust": rust})
            face = Face(0.0, told=told, surface=build([], 0.0), strip_due=True, most_um=system["max_total_um"], finish="below")  # fmt: skip
            for _, act, met in rehearse(face, progress_of(steps, [], 0.0), known, ""):
                with self.subTest(system["name"], act=act.kind):
                    ruling = judge(act, met, {"converter": "waits"})
                    self.assertEqual([v.sentence for v in ruling.verdicts], [])
                    self.assertNotIn("what lies there", ruling.missing)

    def test_each_break_of_a_plan_is_said_at_its_step(self):
        good = [*METAL, ("prime", "epoxy-primer"), SURFACER, FINE, *COLOUR]
        table = [
            ("nothing", good, []),
            ("wash primer under epoxy", [*METAL, ("prime", "wash-primer", {"dft_um": 45}), ("prime", "epoxy-primer")], [(4, "over-what", "stops")]),
            ("acid and no rinse", ["strip", "degrease", "acid-prep", ("prime", "epoxy-primer")], [(3, "acid-stands", "stops")]),
            ("no wipe", ["strip", ("prime", "epoxy-primer")], [(1, "not-wiped", "warns")]),
            ("base on filler", [*METAL, ("prime", "epoxy-primer"), ROUGH, "degrease", FILL, FINE, "degrease", ("base", "base-coat", {"coats": 4})], [(9, "over-what", "stops")]),
            ("chip coat before the seam sealer", [*METAL, ("prime", "epoxy-primer"), ("texture", "chip-coat"), ("seam-seal", "seam-sealer")], [(4, "seams-first", "stops"), (4, "texture-last", "warns"), (5, "over-what", "warns")]),
            ("clear on bare metal", [*METAL, ("clear", "clear-coat")], [(3, "over-what", "warns")]),
            ("wire wheel and no key", [("strip", "", {"way": "wire-wheel"}), "degrease", ("prime", "epoxy-primer")], [(2, "burnished", "stops")]),
            ("a third coat over the sheet's most", ["strip", "degrease", ("prime", "epoxy-mastic", {"coats": 3, "dft_um": 100, "sheet": {"most_um": 220}})], [(2, "too-much", "warns")]),
            ("closed before it is coated", ["strip", "close"], [(1, "hidden-bare", "stops")]),
            ("coated after it is closed", [*METAL, ("prime", "epoxy-primer"), "close", ("prime", "epoxy-primer")], [(5, "closed", "stops")]),
            ("a wipe between two coats of colour", [*METAL, ("prime", "epoxy-primer"), ("base", "base-coat"), "degrease", ("clear", "clear-coat")], [(5, "wipe-harms", "warns")]),
            ("blocked through", [*METAL, ("prime", "epoxy-primer"), ("surface", "two-pack-surfacer", {"sanded_um": 50}), FINE], [(4, "cut-through", "stops")]),
            ("too coarse under colour", [*METAL, ("prime", "epoxy-primer"), SURFACER, ("block", "", {"grit": "P180"}), *COLOUR], [(7, "grit-coarse", "warns")]),
        ]  # fmt: skip
        for name, steps, expected in table:
            with self.subTest(name):
                self.assertEqual(spoken(*plan_of(*steps)), expected)

    def test_a_planned_sanding_takes_what_its_layer_was_put_on_for(self):
        """50 µm of surfacer that is on and planned to lose 60 are cut through, 10 into the epoxy; the next sanding takes nothing."""
        steps, known = plan_of(*METAL, ("prime", "epoxy-primer"), ("surface", "two-pack-surfacer", {"sanded_um": 60}), FINE, FINE)  # fmt: skip
        self.assertEqual([to_sand_um(steps, i) for i in range(len(steps))], [0, 0, 0, 0, 0, 60, 0])
        self.assertEqual(to_sand_um([*steps[:5], replace(steps[4], sanded_um=9.0, left_out=True), steps[5]], 6), 60)
        done = [replace(event_of(-50 + n, as_done, *kind), step=f"s{n}") for n, (as_done, *kind) in enumerate((("bared", "sander"), ("keyed", "P120"), ("wiped",), ("coat", "epoxy-primer"), ("coat", "two-pack-surfacer")))]  # fmt: skip
        face = Face(0.0, told=facts_of({})[0], surface=build(done, 0.0))
        met = {act.step: seen for _, act, seen in rehearse(face, progress_of(steps, done, 0.0), known, "z")}
        self.assertEqual([layer.sanded_um for layer in met["s6"].surface.layers], [10, 50])

    def test_findings_are_answered_by_the_steps_that_come_before(self):
        told = {"holes": "holes", "wax": "smears"}
        coats = ("degrease", ("prime", "epoxy-primer"))
        self.assertEqual([rule for _, rule, _ in spoken(*plan_of("strip", *coats), told=told)], ["holes"])
        self.assertEqual(spoken(*plan_of("strip", "clean", "weld", *coats), told=told), [])

    def test_a_step_that_answers_a_finding_is_put_in_its_order(self):
        """Places from 0; None: film lies over it. Dirt before metal, metal before what keys and wipes it, seams on primer."""
        bare = ["strip", "abrade", "degrease", ("prime", "epoxy-primer"), "block", "degrease", SURFACER]
        table = [
            ("clean", (), 0), ("strip", (), 1), ("weld", (), 1), ("repair", (), 1), ("seam-seal", (), 4), ("convert", (), 1),
            ("clean", ("s0", "s1"), 2), ("weld", ("s0", "s1"), 2), ("strip", ("s0", "s1", "s2", "s3"), None), ("weld", ("s0", "s1", "s2", "s3"), 4),
            ("seam-seal", ("s0", "s1", "s2", "s3"), 4),
        ]  # fmt: skip
        steps, _ = plan_of(*bare)
        as_done = {"strip": "bared", "abrade": "keyed", "degrease": "wiped", "prime": "coat"}
        for kind, done, at in table:
            events = [
                replace(event_of(-9 + n, as_done[s.kind], *(["epoxy-primer"] if s.kind == "prime" else [])), step=s.id)
                for n, s in enumerate(steps)
                if s.id in done
            ]
            plan = progress_of(steps, events, -1.0)
            with self.subTest(kind, done=done):
                self.assertEqual(mending.place_of(kind, plan), at)
        self.assertEqual([s.step.id for s in mending.there_already(("degrease", "strip"), progress_of(steps, [], 0.0))], ["s0", "s2", "s5"])  # fmt: skip
        for topic, kinds in (mending.MENDED_BY | {"more": mending.OF_MORE["dent"]}).items():
            self.assertIn(topic, topics.TOPICS)
            self.assertLessEqual(set(kinds), set(STEPS))

    def test_what_stands_before_a_layer_that_is_on_is_passed_over(self):
        steps, known = plan_of(*METAL, ("prime", "epoxy-primer", {"coats": 2}), SURFACER)
        done = [replace(event_of(-5, "coat", "epoxy-primer"), step="s3")]
        face = Face(0.0, told=facts_of({})[0], surface=build(done, 0.0))
        plan = progress_of(steps, done, 0.0)
        acts = [act for _, act, _ in rehearse(face, plan, known, "z")]
        rows = [("s1", 1), ("s2", 1), ("s3", 2), ("s4", 1), ("s4", 2), ("s4", 3)]
        self.assertEqual([(act.step, act.coat) for act in acts], rows)
        self.assertEqual([act.subject for act in acts], ["z/s1", "z/s2", "z/s3/2", "z/s4", "z/s4/2", "z/s4/3"])
        self.assertEqual([(act.film is None, act.leads_to and act.leads_to.step) for act in acts[:3]], [(True, None), (True, "s3"), (False, None)])  # fmt: skip
        self.assertEqual(plan.next.step.id, "s1")  # keyed or wiped it may be between two coats, stripped it cannot
        both = [*done, replace(done[0], began_s=-4 * H, ended_s=-4 * H, entry=2)]
        self.assertEqual(progress_of(steps, both, 0.0).next.step.id, "s4")


PARTS = ["strip", ("strip", "", {"way": "wire-brush"}), ("abrade", "", {"grit": "P120"}), ("block", "", {"grit": "P320"}), "degrease", "acid-prep", "rinse", "dry", "close"]  # fmt: skip
COATED = [("prime", kind) for kind in ("epoxy-primer", "wash-primer", "1k-primer")] + [("convert", "converter"), ("fill", "body-filler"), ("surface", "two-pack-surfacer"), ("base", "base-coat"), ("clear", "clear-coat"), ("wax", "cavity-wax")]  # fmt: skip
DONE_AS = {"strip": "bared", "abrade": "keyed", "block": "keyed", "degrease": "wiped", "acid-prep": "acid", "rinse": "rinsed", "dry": "dried", "close": "closed"}  # fmt: skip


class CarriedOutTests(SimpleTestCase):
    @settings(max_examples=150, deadline=None)
    @given(st.lists(st.sampled_from([*PARTS, *COATED]), min_size=1, max_size=9), st.sampled_from(["none", "C"]))
    def test_a_plan_that_is_carried_out_earns_what_it_earned_as_a_plan(self, parts, rust):
        """Step after step, a quarter of an hour each: what clocks say apart, and what a rinse dries by."""
        steps, known = plan_of(*parts)
        told, findings = facts_of({"rust": rust})
        start = Face(0.0, told=told, findings=findings, surface=build([], 0.0))
        planned = {at.step.id: self.said(judge(act, met)) for at, act, met in rehearse(start, progress_of(steps, [], 0.0), known, "")}  # fmt: skip
        done, bared = [], False
        for n, step in enumerate(steps):
            at = (n + 1) * H / 4
            left = tuple(f for f in findings if not (bared and f.topic == "rust"))
            face = replace(start, t_s=at, surface=build(done, at), stripped=bared, findings=left)
            act = Act(step.kind, Tense.WAS, "", step.id, step.product, known.get(step.product), grit=step.grit)
            act = replace(act, **self.films(step), over_um=self.over(steps, n), **around(steps, n))
            self.assertEqual(self.said(judge(act, face)), planned[step.id], (step.kind, [s.kind for s in steps]))
            done += self.events(step, n, at)
            bared = bared or step.kind == "strip"
            if step.kind == "convert":
                findings = tuple(f for f in findings if f.topic != "rust")

    def events(self, step, n, at):
        """What a person would log of a step done at an hour."""
        if step.product:
            return [replace(event_of(at / H, "coat", step.product.removeprefix("Test ")), step=step.id, ended_s=at, began_s=at, entry=n)]  # fmt: skip
        words = {"strip": (step.way or "sander",), "abrade": (step.grit,), "block": (step.grit,)}.get(step.kind, ())
        event = event_of(at / H, DONE_AS[step.kind], *words, {"min": 0} if step.kind != "acid-prep" else {}, n=n)
        if step.kind == "acid-prep":  # no sheet, so that it is never too short
            event = replace(event, sheet=None, product="")
        dried = [replace(event_of(at / H, "dried", {"min": 0}, n=n))] if step.kind == "rinse" else []
        return [event, *dried]

    def films(self, step):
        from emplastra.core.rules.rehearsal import planned_film

        return {"film": planned_film(step), "layer_um": step.dft_um} if step.product else {}

    def over(self, steps, n):
        return sum(s.dft_um for s in steps[n:] if s.product)

    def said(self, ruling):
        """What is said but for what clocks and wipes of an hour say, and of what a plan lacks."""
        apart = {"stale-wipe", *LACKS}
        return {(v.rule, v.severity) for v in ruling.verdicts if v.aspect not in CLOCKS and v.rule not in apart}


class HoldTests(SimpleTestCase):
    def test_an_acceptance_holds_for_the_same_and_for_no_worse(self):
        table = [
            ("equal", Fact("a", "x"), Fact("a", "x"), True),
            ("another", Fact("a", "x"), Fact("a", "y"), False),
            ("more by a step", Fact("h", 3.0, 1, 12.0), Fact("h", 15.0, 1, 12.0), True),
            ("more by more than a step", Fact("h", 3.0, 1, 12.0), Fact("h", 15.1, 1, 12.0), False),
            ("less where more is worse", Fact("h", 3.0, 1, 12.0), Fact("h", 0.0, 1, 12.0), True),
            ("less where less is worse", Fact("mm", 0.8, -1, 0.1), Fact("mm", 0.1, -1, 0.1), False),
            ("of another", Fact("a", "x"), Fact("b", "x"), False),
        ]
        for name, kept, now, held in table:
            with self.subTest(name):
                self.assertEqual(holds([kept], [now]), held)
        self.assertFalse(holds([Fact("a", 1)], [Fact("a", 1), Fact("b", 2)]))

    def test_one_small_hole_accepted_covers_no_nine_large_ones(self):
        """And 3 h overdue not 200; sound at 0.8 mm not at 0.1."""
        coat = {"done": [[-3, "bared", "sander"], [-0.4, "wiped"]], "act": ["prime", "epoxy-primer"]}
        late = {**coat, "done": [[-27, "bared", "sander"], [-0.4, "wiped"]]}
        table = [
            ("holes", {**coat, "told": {"holes": ["holes", {"count": 1, "mm": 3}]}}, {**coat, "told": {"holes": ["holes", {"count": 9, "mm": 40}]}}),
            ("thin-metal", {**coat, "told": {"thin": ["thin", {"left": 0.6}]}}, {**coat, "told": {"thin": ["thin", {"left": 0.1}]}}),
            ("bare-overdue", late, {**coat, "done": [[-220, "bared", "sander"], [-0.4, "wiped"]]}),
            ("over-what", {"done": [[-60, "bared", "sander"], [-50, "coat", "wash-primer", 0.1]], "act": ["acid-prep", "acid-prep"]}, {"done": [[-60, "bared", "sander"], [-50, "coat", "wash-primer", 0.9]], "act": ["acid-prep", "acid-prep"]}),
        ]  # fmt: skip
        for rule, small, large in table:
            with self.subTest(rule):
                one, other = (next(v for v in ruling_of(row).verdicts if v.rule == rule) for row in (small, large))
                self.assertTrue(holds(one.read, one.read))
                self.assertFalse(holds(one.read, other.read), (one.read, other.read))

    def test_a_condition_of_the_table_is_one_of_those_there_are(self):
        self.assertLessEqual({cell.holds for cell in table().values()} - {""}, set(over.CONDITIONS))
        self.assertRaises(
            ValueError, lambda: list(over._rows([{"clean": "epoxy", "if": "sunny"}], {}, {"epoxy": ["e"]}))
        )
        self.assertIsNotNone(face_of({"done": []}))
