"""Rules: each has a case that changes when it is switched off; the judgement that must come out right; grits; ways to strip."""

import itertools

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from emplastra.core.metal import harm
from emplastra.core.metal import strip as ways
from emplastra.core.metal.known import Metal
from emplastra.core.product import abrasives
from emplastra.core.product.kinds import ProductKind
from emplastra.core.rules import strip
from emplastra.core.rules.cautions import owed
from emplastra.core.rules.fixes import FIXES
from emplastra.core.rules.registry import REGISTRY, SCHOOLS
from emplastra.core.surface.steps import STEPS
from emplastra.core.survey import inspection
from emplastra.core.survey.answers import Answer
from emplastra.core.survey.topics import TOPICS
from emplastra.core.words import written
from emplastra.say.rulings import LINKS
from tests.rulings import act_of, face_of, ruling_of


def seen(**told):
    """Answers from topic=choice, or topic=(choice, figures); rows as topic_1."""
    found = {}
    for name, choice in told.items():
        topic, _, mark = name.partition("_")
        choice, values = choice if isinstance(choice, tuple) else (choice, {})
        found[topic, mark] = Answer(topic, mark, choice, values)
    return found


def metal(told=None, **more):
    """A metal with these answers."""
    return Metal(answers=seen(**(told or {})), **more)


#: Rule -> the way it speaks of, and a case.
WAYS = {
    "harmful": ("sander", metal({"layer_1": "red-lead"})),
    "soaks-in": ("chemical", metal(substrate="laminate", part="inner")),
    "caustic-stripper": ("chemical", metal(substrate="aluminium")),
    "acid-springs": ("dip", metal({"near": "springs"})),
    "tank-sparks": ("disc-36", metal(part="tank")),
    "blast-near": ("walnut", metal({"near": "glass"}, part="casting")),
    "fuel-near": ("heat", metal({"near": "fuel"}, part="channel")),
    "hard-on-skin": ("garnet", metal(thickness_mm=0.9)),
    "soft-metal": ("slag", metal(substrate="aluminium", part="casting")),
    "raw-laminate": ("walnut", metal(substrate="laminate", part="inner")),
    "cuts-laminate": ("sander", metal(substrate="laminate")),
    "thick-compound": ("garnet", metal({"layer_1": "compound"}, part="channel")),
    "leaves-filler": ("walnut", metal({"filler": "filler"})),
    "burnishes": ("wire-wheel", metal()),
    "profile": ("walnut", metal(first_coat="epoxy-mastic")),
    "grade": ("wire-brush", metal(first_coat="zinc-rich-primer")),
    "soft-rust": ("plastic", metal({"rust": "D"})),
    "coarse-skin": ("disc-36", metal(first_coat="epoxy-primer")),
    "dip-loaded": ("dip", metal({"solder": "seam"})),
    "dip-boxed": ("dip", metal(part="box", boxed=True)),
    "heat-skin": ("heat", metal()),
    "lead-dust": ("sander", metal({"solder": "seam"})),
}


#: Rule -> ways and cases that come near, of which it has nothing to say. Common practice, no source.
QUIET = {
    "harmful": [("chemical", metal({"layer_1": "red-lead"})), ("sander", metal({"layer_1": "two-pack"}))],
    "soaks-in": [("chemical", metal(substrate="laminate")), ("scrape", metal(substrate="laminate", part="inner"))],
    "caustic-stripper": [("chemical", metal()), ("walnut", metal(substrate="zinc"))],
    "acid-springs": [("dip", metal({"near": "glass"})), ("slag", metal({"near": "springs"}, part="casting"))],
    "tank-sparks": [("disc-36", metal({"held": "never"}, part="tank")), ("chemical", metal(part="tank")), ("disc-36", metal())],
    "blast-near": [("chemical", metal({"near": "glass"})), ("walnut", metal({"near": "none"}, part="casting"))],
    "fuel-near": [("chemical", metal({"near": "fuel"})), ("heat", metal({"near": "trim"}, part="channel"))],
    "hard-on-skin": [("garnet", metal(thickness_mm=2.0)), ("garnet", metal(thickness_mm=0.9, part="casting")), ("garnet", metal(thickness_mm=0.9, form="tube")), ("walnut", metal(thickness_mm=0.9))],
    "soft-metal": [("slag", metal(part="casting")), ("walnut", metal(substrate="aluminium")), ("walnut", metal(substrate="laminate"))],
    "raw-laminate": [("walnut", metal(substrate="laminate")), ("scrape", metal(substrate="laminate", part="inner")), ("walnut", metal(part="inner"))],
    "cuts-laminate": [("sander", metal(substrate="laminate", part="inner")), ("walnut", metal(substrate="laminate")), ("sander", metal())],
    "thick-compound": [("scrape", metal({"layer_1": "compound"}, part="channel")), ("garnet", metal({"layer_1": "oil"}, part="channel"))],
    "leaves-filler": [("sander", metal({"filler": "filler"})), ("walnut", metal({"filler": "none"}))],
    "burnishes": [("sander", metal())],
    "profile": [("sander", metal(first_coat="epoxy-primer")), ("walnut", metal(substrate="laminate")), ("wire-wheel", metal(first_coat="epoxy-mastic"))],
    "grade": [("garnet", metal(first_coat="zinc-rich-primer")), ("wire-brush", metal(substrate="aluminium"))],
    "soft-rust": [("plastic", metal({"rust": "B"})), ("garnet", metal({"rust": "D"}))],
    "coarse-skin": [("disc-36", metal(first_coat="flake-urethane")), ("disc-36", metal(finish="below")), ("sander", metal())],
    "dip-loaded": [("dip", metal({"solder": "none"})), ("sander", metal({"solder": "seam"}))],
    "dip-boxed": [("dip", metal(part="box")), ("sander", metal(part="box", boxed=True))],
    "heat-skin": [("heat", metal({"solder": "seam"})), ("heat", metal(part="casting")), ("sander", metal())],
    "lead-dust": [("scrape", metal({"solder": "seam"})), ("sander", metal({"solder": "none"}))],
}  # fmt: skip


def said(found):
    return [(v.rule, v.severity, v.sentence) for v in found]


def against(key, case, off=frozenset(), school=None):
    """Verdicts against a way on a case, in a school."""
    plan = strip.plan(case, 1.0, "z", dict([school]) if school else None, off)
    return next(r for r in plan.ranked if r.key == key).against


class RegistryTests(SimpleTestCase):
    def test_every_way_rule_changes_its_case_when_it_is_switched_off(self):
        self.assertEqual({r for r, rule in REGISTRY.items() if rule.each == "way"}, set(WAYS))
        for rule, (key, case) in WAYS.items():
            with self.subTest(rule):
                school = REGISTRY[rule].school
                self.assertIn(rule, [v.rule for v in against(key, case, school=school)])
                self.assertNotIn(rule, [v.rule for v in against(key, case, frozenset({rule}), school)])

    def test_every_way_rule_is_silent_where_it_has_nothing_to_say(self):
        self.assertEqual(set(QUIET), set(WAYS))
        for rule, cases in QUIET.items():
            for key, case in cases:
                with self.subTest(rule, way=key, case=case):
                    self.assertNotIn(rule, [v.rule for v in against(key, case, school=REGISTRY[rule].school)])

    def test_each_school_is_a_question_with_answers_and_a_rule_names_one(self):
        for rule in REGISTRY.values():
            if rule.school:
                self.assertIn(rule.school[1], SCHOOLS[rule.school[0]][1], rule.id)
            self.assertIn(rule.fix, {"", *FIXES, *LINKS})

    @settings(max_examples=100, deadline=None)
    @given(st.data())
    def test_no_rule_ever_raises(self, data):
        """Any act on any ground, whatever the survey says."""
        told = {topic: data.draw(st.sampled_from(["", *(c.key for c in t.choices)])) for topic, t in TOPICS.items()}
        told["salts"] = data.draw(st.sampled_from(["suspected", ["tested", {"rise": 20.0}]]))
        what = st.sampled_from([["bared", data.draw(st.sampled_from(list(ways.WAYS)))], ["keyed", "P120"], ["wiped"], ["rinsed"], ["acid"], ["weld", 0.2], ["trial-fit"], ["closed"], ["back", "temporary"], ["coat", data.draw(st.sampled_from(list(ProductKind)))], ["check", "no-flash-rust", "failed"]])  # fmt: skip
        done = [[-10 + n, *each] for n, each in enumerate(data.draw(st.lists(what, max_size=6)))]
        act = [data.draw(st.sampled_from(list(STEPS))), data.draw(st.sampled_from(["", *ProductKind]))]
        row = {"told": told, "done": done, "act": act, "substrate": data.draw(st.sampled_from(["steel", "laminate", "aluminium", "zinc"]))}  # fmt: skip
        ruling = ruling_of(row)
        self.assertEqual(set(ruling.clean) & {v.aspect for v in ruling.verdicts}, set())
        self.assertTrue(ruling.word != "clean" or not ruling.missing)

    def test_what_is_said_of_an_inspection_is_checked(self):
        self.assertEqual(
            inspection.check({"round": "good", "burrs": "", "holes": "none"}), {"round": "good", "holes": "none"}
        )
        for field, points in (
            ("round", {}),
            ("round", {"burrs": ""}),
            ("points", {"paint": "good"}),
            ("burrs", {"burrs": "fine"}),
            ("through", {"through": "none"}),
        ):
            with self.subTest(points), self.assertRaises(inspection.InspectionError) as caught:
                inspection.check(points)
            self.assertEqual(caught.exception.field, field)


class CautionTests(SimpleTestCase):
    #: (act, what is told of the face, what is owed, what is not). Common practice, no source.
    OWED = (
        (["strip", {"way": "chemical"}], {"told": {"layer_1": "red-lead"}}, ["no flame"], ["Dust of lead"]),
        (["strip", {"way": "sander"}], {"told": {"layer_1": "red-lead"}}, ["Dust of lead", "waste apart"], ["P2 mask"]),
        (["strip", {"way": "garnet"}], {}, ["no silica sand", "may hold lead"], ["P2 mask"]),
        (["strip", {"way": "garnet"}], {"told": {"layer_1": "none"}}, ["no silica sand", "P2 mask"], ["lead"]),
        (["abrade"], {"told": {"layer_1": "oil"}}, ["may hold lead"], ["P2 mask"]),
        (["abrade"], {"told": {"toxic": "kit"}}, ["may hold chromate"], ["lead", "P2 mask"]),
        (["abrade"], {"told": {"toxic": "none"}}, ["P2 mask"], ["lead", "chromate"]),
        (["abrade"], {"told": {"layer_1": "oil", "toxic": "none"}}, ["P2 mask"], ["lead"]),
        (["block"], {"done": [[-9, "coat", "clear-coat", {"hazards": ["isocyanate"]}]]}, ["two-pack paint"], ["lead"]),
        (["weld"], {"substrate": "zinc"}, ["Zinc fume", "extinguisher"], ["Old paint"]),
        (["weld"], {"told": {"layer_1": "oil"}}, ["Old paint burns"], ["Zinc"]),
        (["single-stage", "enamel", {"hazards": ["solvent"]}], {}, ["Oily rags", "no flame"], ["Dust"]),
        (["clear", "clear-coat", {"hazards": ["isocyanate"]}], {}, ["air-fed mask"], ["Oily"]),
        (["acid-prep", "acid-prep", {"hazards": ["hydrofluoric"]}], {}, ["calcium gel"], ["solvent"]),
        (["degrease"], {"finish": "below"}, ["stands on firm ground", "Solvent"], ["Acid"]),
    )

    def test_what_is_there_owes_its_caution_and_nothing_else_does(self):
        for act, face, owes, not_owed in self.OWED:
            with self.subTest(act=act, face=face):
                row = {"act": act, **face}
                found = " ".join(map(written, owed(act_of(row), face_of(row)[0])))
                for words in owes:
                    self.assertIn(words, found)
                for words in not_owed:
                    self.assertNotIn(words, found)


class StripTests(SimpleTestCase):
    def ranks(self, case, m2=2.0):
        plan = strip.plan(case, m2, "z")
        return plan, [r.key for r in plan.ranked if not r.stopped], [r.key for r in plan.ranked if r.stopped]

    def test_a_skin_a_casting_a_laminate_nose_and_a_loaded_seam(self):
        """Common practice, no source: skins by hand, castings blasted, laminate by fine walnut, lead not ground dry."""
        _skin, fit, out = self.ranks(metal(thickness_mm=1.2, first_coat="epoxy-primer"))
        self.assertEqual(fit[0], "sander")
        self.assertLessEqual({"garnet", "slag", "needle"}, set(out))
        casting = metal(substrate="cast iron", thickness_mm=18, part="casting", form="frame", finish="below", first_coat="epoxy-mastic")  # fmt: skip
        _, fit, out = self.ranks(casting)
        self.assertIn(fit[0], {"garnet", "slag", "disc-36"})
        self.assertEqual(out, [])
        nose = metal(substrate="laminate", thickness_mm=4, part="skin", first_coat="epoxy-primer")
        _, fit, out = self.ranks(nose, 0.5)
        self.assertEqual(fit[0], "walnut")
        self.assertLessEqual({"wire-wheel", "garnet", "heat", "dip"}, set(out))
        inner = metal(substrate="laminate", thickness_mm=4, part="inner", first_coat="epoxy-primer")
        _, fit, out = self.ranks(inner)
        self.assertIn("walnut", out)
        self.assertEqual({ways.WAYS[k].kind for k in fit}, {"hand"})  # stripper is not flooded on it
        seam, fit, _ = self.ranks(metal({"solder": "seam"}, thickness_mm=1.2, first_coat="epoxy-primer"))
        self.assertIn("lead-dust", [v.rule for r in seam.ranked if r.key == "sander" for v in r.against])
        self.assertIn("heat or file it out by itself", " ".join(seam.first))

    def test_glass_fitted_no_blasting_and_thick_compound_scraped_first(self):
        _glass, _, out = self.ranks(metal({"near": "glass"}, part="casting", form="frame"))
        self.assertEqual({k for k, w in ways.WAYS.items() if w.kind == "blast"}, set(out))
        thick, fit, _ = self.ranks(metal({"layer_1": "compound"}, part="channel", form="frame"))
        self.assertEqual(set(fit), {"chemical", "dip"})  # asbestos, until a laboratory says no: nothing that touches it
        self.assertIn("a laboratory says first", thick.first[0])
        lead, fit, _ = self.ranks(metal({"layer_1": "red-lead", "toxic": "kit"}, part="channel", form="frame"))
        self.assertLessEqual({"chemical", "scrape"}, set(fit))
        self.assertFalse(harm.DUSTY & set(fit))
        known = "Old layers hold lead: no dry sanding, blasting or heat. Stripper, wet, or people licensed for it."
        self.assertEqual({v.sentence for r in lead.ranked for v in r.against if v.rule == "harmful"}, {known})
        thick, _fit, _ = self.ranks(metal({"layer_1": "compound", "toxic": "none"}, part="channel", form="frame"))
        self.assertIn("Scrape the thick compound off first", thick.first[0])
        self.assertIn("thick-compound", [v.rule for r in thick.ranked if r.key == "garnet" for v in r.against])
        marks, _, _ = self.ranks(metal({"marks": "marks", "sample": "not-yet"}))
        self.assertEqual([r.split(":")[0] for r in marks.record], ["Stop and record", "Stop for the first colour"])

    def test_order_is_stopped_last_then_warnings_then_hours_then_name(self):
        ranked = self.ranks(metal({"solder": "seam"}, thickness_mm=1.2, first_coat="epoxy-primer"))[0].ranked
        keys = [(r.stopped, r.warns, round(r.hours.total, 6), r.way.name) for r in ranked]
        self.assertEqual(keys, sorted(keys))

    def test_hours_go_to_ready_for_primer(self):
        """Wire wheel, 2 m2 flat: 2/1.6 + 2·12/60 key + 2·4/60 clean + 2·3/60 waste + 5/60 moving = 1.9667 h."""
        hours = ways.hours_of("wire-wheel", metal(), 2.0)
        self.assertAlmostEqual(hours.total, 1.25 + 0.4 + 8 / 60 + 6 / 60 + 5 / 60)
        self.assertAlmostEqual(ways.hours_of("sander", metal(form="tube"), 2.0).strip, 2 / (1.2 * 0.5))
        self.assertAlmostEqual(ways.hours_of("sander", metal(), 2.0, cut_share=0.25).strip, 1.5 / 1.2)
        self.assertAlmostEqual(ways.hours_of("sander", metal({"layer_1": "factory", "layer_2": "two-pack", "layer_3": "powder"}), 1.2).strip, 1.5)  # fmt: skip


class GritTests(SimpleTestCase):
    def test_grains_of_the_standard(self):
        """ISO 6344-2 and -3 (FEPA 43), from memory."""
        table = {"P12": 1815, "P20": 1000, "P30": 642, "P40": 425, "P60": 269, "P100": 162, "P150": 100, "P220": 68, "P280": 52.2, "P360": 40.5, "P500": 30.2, "P800": 21.8, "P1200": 15.3, "P2000": 10.3}  # fmt: skip
        for grade, um in table.items():
            self.assertEqual(abrasives.grain_um(grade.lower()), um)
        grains = list(abrasives.GRAIN_UM.values())
        self.assertEqual(grains, sorted(grains, reverse=True))

    @given(st.sampled_from(list(abrasives.GRAIN_UM)), st.sampled_from(list(abrasives.GRAIN_UM)))
    def test_no_step_of_a_plan_is_too_long(self, one, other):
        first, last = sorted((one, other), key=lambda g: -abrasives.GRAIN_UM[g])
        plan = abrasives.grit_plan(first, last)
        grains = [abrasives.GRAIN_UM[g] for g in plan]
        self.assertEqual((plan[0], plan[-1]), (first, last))
        self.assertTrue(all(a / b <= abrasives.LONGEST_STEP for a, b in itertools.pairwise(grains)))

    def test_plans_and_what_cannot_be(self):
        self.assertEqual(abrasives.grit_plan("P80", "P400"), ["P80", "P150", "P320", "P400"])
        self.assertTrue(abrasives.buries("P80", 41, True) and not abrasives.buries("P80", 41))
        for call in (lambda: abrasives.grit_plan("P400", "P80"), lambda: abrasives.grain_um("80 grit")):
            self.assertRaises(abrasives.GritError, call)
