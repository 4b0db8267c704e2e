"""Layers and grits of a plan: the ladder of abrasives."""

from types import SimpleNamespace

from django.test import SimpleTestCase

from emplastra.core.rules import stack as stack_rules
from emplastra.core.rules.stack import PlanLayer, StackPlan
from emplastra.core.surface.plan import PlanStep


class StackTests(SimpleTestCase):
    """Layers and grits of a plan. Films and grits: common practice, no source."""

    def plan(self, *layers, **more):
        """Layers (kind, film put on, sanded off, grits under it) as a plan."""
        made = [PlanLayer(f"s{i}", kind or "Unknown", kind, on, off, 20.0, 300.0, bool(kind), tuple(grits)) for i, (kind, on, off, *grits) in enumerate(layers)]  # fmt: skip
        return StackPlan(tuple(made), **more)

    def test_a_scratch_is_buried_twice_by_film_up_to_the_next_flat_one(self):
        """P40 is 425 µm of grain, a tenth of it 42.5 µm deep in metal, 85 in all: 60 + (120 − 40) are 140, 40 + (60 − 40) 60."""
        for first, put_on, buried in ((60.0, 120.0, True), (40.0, 60.0, False)):
            case = self.plan(("epoxy-mastic", first, 0.0, "P40"), ("two-pack-surfacer", put_on, 40.0), ("base-coat", 500.0, 0.0))  # fmt: skip
            rung = stack_rules.ladder(case)[0]
            self.assertEqual((rung.over_um, rung.buried), (first + put_on - 40, buried))
            self.assertAlmostEqual(rung.scratch_um, 42.5)

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
