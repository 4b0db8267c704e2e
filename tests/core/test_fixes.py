"""Fixes: what each makes of a plan, judged again; every stop has one, or says why there is none."""

from dataclasses import replace

from django.test import SimpleTestCase

from emplastra.core.rules.face import Face, Tense
from emplastra.core.rules.fixes import FIXES, Plan, changed, holds
from emplastra.core.rules.judge import judge
from emplastra.core.rules.rehearsal import rehearse
from emplastra.core.surface.fold import build
from emplastra.core.surface.plan import PlanStep, progress_of
from emplastra.say.rulings import LINKS, NO_FIX
from tests.core.test_cases import CASES
from tests.rulings import event_of, facts_of, ruling_of, sheet_of

SHEETS = {
    name: sheet_of(kind, product=name, **more)
    for name, kind, more in (
        ("Epoxy", "epoxy-primer", {"film": {"min_um": 40, "typical_um": 50, "max_um": 60, "coats": 2}}),
        ("Wash", "wash-primer", {}), ("Surfacer", "two-pack-surfacer", {}), ("Sealer", "sealer", {}), ("Seam", "seam-sealer", {}),
        ("Chip", "chip-coat", {"overpaintable": True}), ("Base", "base-coat", {}), ("Red", "base-coat", {"translucent": True}), ("Clear", "clear-coat", {}),
        ("Filler", "body-filler", {"lift_mm": 4, "most_um": 10000, "film": {"min_um": 100, "typical_um": 2000, "max_um": 10000, "coats": 1}}),
        ("Mastic", "epoxy-mastic", {"most_um": 220}),
    )
}  # fmt: skip


def steps_of(*told):
    """A plan: "kind product" or "kind grit", or (that, figures)."""
    found = []
    for n, each in enumerate(told):
        (words, more) = each if isinstance(each, tuple) else (each, {})
        kind, _, rest = words.partition(" ")
        named = (
            {"product": rest, "dft_um": 50.0}
            if rest in SHEETS
            else {"grit": rest}
            if rest.startswith("P")
            else {"way": rest}
        )
        found.append(PlanStep(f"s{n}", kind, **{**named, **more}))
    return tuple(found)


def spoken(face, steps, done=()):
    """[(step, act, face, verdict)] of a plan rehearsed on a face."""
    plan = progress_of(steps, [event_of(*each) for each in done], 0.0)
    for _, act, met in rehearse(face, plan, SHEETS, "z"):
        for verdict in judge(act, met).verdicts:
            yield act.step, act, met, verdict


def mend(face, steps, rule):
    """(the plan that the fix of a rule makes, whether it holds)."""
    step, act, met, verdict = next(row for row in spoken(face, steps) if row[3].rule == rule)
    i = next(i for i, s in enumerate(steps) if s.id == step)
    made = changed(verdict, Plan(steps, i, set(), act, met, SHEETS))
    if made is None:
        return None, False
    was, now = ([(row[0], row[3]) for row in spoken(face, plan)] for plan in (steps, made))
    return made, holds(verdict, step, was, now)


def told(steps):
    """A plan in words."""
    return [" ".join(filter(None, (s.kind, s.product or s.grit or s.way))) for s in steps]


def face(**more):
    """A face as found in sound metal, to be stripped."""
    known, findings = facts_of(more.pop("told", None))
    return Face(0.0, told=known, findings=findings, surface=build([], 0.0), **more)


class FixTests(SimpleTestCase):
    #: (rule, plan, what its fix makes of it). Common practice, no source.
    MADE = (
        ("burnished", ["strip wire-wheel", "degrease", "prime Epoxy"], ["strip wire-wheel", "abrade P120", "degrease", "prime Epoxy"]),
        ("smooth", ["strip chemical", "prime Epoxy"], ["strip chemical", "abrade P120", "degrease", "prime Epoxy"]),
        ("not-wiped", ["strip sander", "prime Epoxy"], ["strip sander", "degrease", "prime Epoxy"]),
        ("grit-fine", ["strip sander", "abrade P800", "degrease", "prime Epoxy"], ["strip sander", "abrade P120", "degrease", "prime Epoxy"]),
        ("over-what", ["strip sander", "degrease", "base Base", "clear Clear"], ["strip sander", "degrease", "prime Epoxy", "base Base", "clear Clear"]),
        ("seams-first", ["strip sander", "degrease", "prime Epoxy", "texture Chip", "seam-seal Seam", "base Base", "clear Clear"], ["strip sander", "degrease", "prime Epoxy", "seam-seal Seam", "texture Chip", "base Base", "clear Clear"]),
        ("undertone", ["strip sander", "degrease", "prime Epoxy", "surface Surfacer", "base Red", "clear Clear"], ["strip sander", "degrease", "prime Epoxy", "surface Surfacer", "seal Sealer", "base Red", "clear Clear"]),
        ("stays-bare", ["strip sander", "degrease", "prime Epoxy"], ["strip sander", "degrease", "mask", "prime Epoxy"]),
    )  # fmt: skip

    def test_each_fix_makes_the_plan_that_a_practitioner_would_and_holds(self):
        for rule, plan, made in self.MADE:
            with self.subTest(rule):
                there = face(told={"stays": "seats"} if rule == "stays-bare" else None, finish="open" if rule == "stays-bare" else "covered")  # fmt: skip
                found, does_hold = mend(there, steps_of(*plan), rule)
                self.assertEqual(told(found or ()), made)
                self.assertTrue(does_hold)

    def test_films_lifts_and_coats(self):
        for rule, step, wanted in (
            ("filler-lift", ("fill Filler", {"dft_um": 6000.0}), (2, 3000.0)),
            ("filler-lift", ("fill Filler", {"dft_um": 4500.0, "coats": 2}), (3, 3000.0)),
            ("too-much", ("prime Mastic", {"dft_um": 100.0, "coats": 3}), (2, 100.0)),
            ("thick", ("prime Epoxy", {"dft_um": 100.0}), (2, 50.0)),
            ("thin", ("prime Epoxy", {"dft_um": 30.0}), (1, 40.0)),
            ("cut-through", ("prime Epoxy", {"sanded_um": 50.0}), (2, 50.0)),
        ):
            with self.subTest(rule):
                before = ["strip sander", "degrease"] + (
                    ["prime Epoxy", "abrade P80", "degrease"] if "fill" in step[0] else []
                )
                steps = steps_of(*before, step)
                found, does_hold = mend(face(finish="covered"), steps, rule)
                self.assertEqual((found[-1].coats, found[-1].dft_um), wanted)
                self.assertTrue(does_hold)

    def test_a_scratch_that_shows_is_keyed_as_fine_as_it_is_buried(self):
        """30 µm bury 15 µm twice: a fifth of P220's 68 µm, not of P180's 82 (ISO 6344, from memory)."""
        steps = steps_of("strip sander", "degrease", "prime Epoxy", "abrade P80", "degrease", ("surface Surfacer", {"dft_um": 30.0}))  # fmt: skip
        made, does_hold = mend(face(), steps, "scratch")
        self.assertEqual(told(made)[3:], ["abrade P220", "degrease", "surface Surfacer"])
        self.assertTrue(does_hold)

    def test_a_fix_that_helps_nothing_or_makes_it_worse_is_not_offered(self):
        held = steps_of("strip sander", "degrease", "prime Epoxy", ("abrade P240", {}), "degrease", "surface Surfacer")
        there = face(finish="covered")
        self.assertFalse([row for row in spoken(there, held) if row[3].severity == "stops"])
        # Red lead: keying smooth metal by hand would make dust of what is left.
        lead = face(told={"layer_1": "red-lead"}, substrate="old film", finish="covered")
        _, does_hold = mend(lead, steps_of("degrease", "surface Surfacer"), "over-what")
        self.assertFalse(does_hold)
        # Twice is once: the sanding that is there takes the grit, and then there is nothing more to do.
        made, _ = mend(there, steps_of("strip wire-wheel", "prime Epoxy"), "burnished")
        again = tuple(replace(s, id=f"t{n}") for n, s in enumerate(made))
        self.assertNotIn("burnished", [row[3].rule for row in spoken(there, again)])

    def test_every_stop_has_a_fix_or_says_why_there_is_none(self):
        for row in CASES:
            for verdict in ruling_of(row).verdicts:
                if verdict.severity == "stops":
                    with self.subTest(row["name"], rule=verdict.rule):
                        self.assertTrue(verdict.fix in {*FIXES, *LINKS, "key"} or verdict.rule in NO_FIX, verdict)
        self.assertEqual(Tense.PLAN, "plan")
