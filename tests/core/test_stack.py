"""Layers and grits of a plan: each rule against a case that its switch changes, the ladder of abrasives."""

from pathlib import Path
from types import SimpleNamespace

import yaml
from django.test import SimpleTestCase

from emplastra.core.product import sheet as sheets
from emplastra.core.rules import stack as stack_rules
from emplastra.core.rules.registry import REGISTRY
from emplastra.core.rules.stack import PlanLayer, StackPlan
from emplastra.core.surface.plan import PlanStep

DEMO = Path(__file__).resolve().parents[2] / "emplastra/demo"


class StackTests(SimpleTestCase):
    """Layers and grits of a plan. Films and grits: common practice, no source."""

    def plan(self, *layers, **more):
        """Layers (kind, film put on, sanded off, grits under it) as a plan."""
        made = [PlanLayer(f"s{i}", kind or "Unknown", kind, on, off, 20.0, 300.0, bool(kind), tuple(grits)) for i, (kind, on, off, *grits) in enumerate(layers)]  # fmt: skip
        return StackPlan(tuple(made), **more)

    def test_every_rule_changes_its_case_when_it_is_switched_off(self):
        primer = ("epoxy-primer", 70.0, 0.0, "P80")
        table = {
            "no-sheet": self.plan(("", 70.0, 0.0)),
            "cut-through": self.plan(primer, ("two-pack-surfacer", 60.0, 60.0)),
            "left-thin": self.plan(primer, ("two-pack-surfacer", 60.0, 45.0)),
            "put-on-thick": self.plan(("epoxy-primer", 320.0, 0.0)),
            "stack-thick": self.plan(primer, max_total_um=60.0),
            "grit-coarse": self.plan(primer, ("base-coat", 80.0, 0.0, "P180")),
            "grit-fine": self.plan(primer, ("two-pack-surfacer", 80.0, 0.0, "P800")),
            "scratch": self.plan(("wash-primer", 25.0, 0.0, "P80")),
        }
        self.assertEqual({r for r, rule in REGISTRY.items() if rule.looks_at in {"layer", "stack"}}, set(table))
        for rule, case in table.items():
            with self.subTest(rule):
                self.assertIn(rule, [v.rule for v in stack_rules.verdicts(case, "z")])
                self.assertNotIn(rule, [v.rule for v in stack_rules.verdicts(case, "z", frozenset({rule}))])

    def test_coarse_scratches_are_for_faces_that_nobody_sees(self):
        coarse = (("epoxy-primer", 70.0, 0.0, "P80"), ("base-coat", 80.0, 0.0, "P80"))
        found = stack_rules.verdicts(self.plan(*coarse), "z")
        self.assertEqual([v.sentence for v in found], ["base-coat: P80 on epoxy-primer shows through it; go on with P150, P320, P400."])  # fmt: skip
        self.assertEqual(stack_rules.verdicts(self.plan(*coarse, seen=False), "z"), [])

    def test_a_scratch_is_buried_by_film_up_to_the_next_flat_one(self):
        """P40 is 425 µm of grain, a fifth of it 85 µm deep: 60 + (120 − 40) bury it, 60 + (60 − 40) do not."""
        for put_on, buried in ((120.0, True), (60.0, False)):
            case = self.plan(
                ("epoxy-mastic", 60.0, 0.0, "P40"), ("two-pack-surfacer", put_on, 40.0), ("base-coat", 500.0, 0.0)
            )
            rung = stack_rules.ladder(case)[0]
            self.assertEqual((rung.over_um, rung.buried), (60 + put_on - 40, buried))
            self.assertAlmostEqual(rung.scratch_um, 85.0)
            self.assertEqual("scratch" not in [v.rule for v in stack_rules.verdicts(case, "z")], buried)

    def test_the_ladder_goes_from_the_strip_to_the_last_film(self):
        steps = [
            PlanStep("a", "strip"), PlanStep("b", "abrade", grit="P80"), PlanStep("c", "prime", product="Primer", dft_um=70),
            PlanStep("d", "fill", product="Filler", dft_um=500), PlanStep("e", "block"), PlanStep("f", "surface", product="Surfacer", coats=3, dft_um=50, sanded_um=40),
            PlanStep("g", "block", grit="P180"), PlanStep("h", "block", grit="P400"), PlanStep("i", "base", product="Base", dft_um=30),
        ]  # fmt: skip
        kinds = {
            "Primer": "epoxy-primer",
            "Filler": "body-filler",
            "Surfacer": "two-pack-surfacer",
            "Base": "base-coat",
        }
        known = {name: SimpleNamespace(kind=kind, film=None) for name, kind in kinds.items()}
        found = stack_rules.ladder(stack_rules.plan_of(steps, known))
        self.assertEqual(
            [(r.on, r.under, r.grades, r.basis.value) for r in found],
            [
                ("metal", "Primer", ("P80",), "typed in"),
                ("Filler", "Surfacer", ("P40", "P80"), "assumed"),
                ("Surfacer", "Base", ("P180", "P360", "P400"), "typed in"),
            ],
        )

    def test_the_demo_systems_of_the_trade_come_out_clean(self):
        read = [sheets.read(yaml.safe_load(path.read_text())) for path in (DEMO / "sheets").glob("*.yaml")]
        known = {sheet.product: sheet for sheet in read}
        for system in yaml.safe_load((DEMO / "systems.yaml").read_text()):
            steps = [PlanStep(f"s{i}", **step) for i, step in enumerate(system["steps"])]
            with self.subTest(system["name"]):
                case = stack_rules.plan_of(steps, known, max_total_um=system["max_total_um"])
                self.assertEqual([v.sentence for v in stack_rules.verdicts(case, "z") if v.severity != "advises"], [])
