"""The metal work's quantities, cards and portions: hand arithmetic on common-practice figures."""

from django.test import SimpleTestCase

from emplastra.core.metal import treatment
from emplastra.core.product import sheet as sheets
from emplastra.core.surface.events import Bared, Done
from emplastra.core.surface.fold import build
from emplastra.core.surface.plan import PlanStep, progress_of
from tests.base import CAN

STEPS = (
    PlanStep("s", "strip", note="by wire wheel"),
    PlanStep("c", "clean"),
    PlanStep("a", "acid-prep", "Acid"),
    PlanStep("r", "rinse"),
    PlanStep("x", "abrade", grit="P120", left_out="blasted"),
    PlanStep("v", "convert", "Converter"),
    PlanStep("i", "inspect"),
    PlanStep("d", "degrease"),
    PlanStep("p", "prime", "Mastic"),
    PlanStep("b", "base", "Red"),
)


def sheet(**more):
    """A sheet of a product that leaves no film."""
    return sheets.read(
        {k: v for k, v in CAN.items() if k not in {"film", "windows"}}
        | {"product": "Test product", "form": "ready"}
        | more
    )


class TreatmentTests(SimpleTestCase):
    def test_quantities_follow_the_area(self):
        """On 2 m2: cleaner 150 mL/m2 at 1 to 5; acid prep 200 and three wettings of 50 mL/m2; common practice, no source."""
        table = {
            "clean": [("cleaner", 50.0), ("water", 250.0)],
            "acid-prep": [("acid prep", 700.0)],
            "rinse": [("water", 3000.0)],
            "degrease": [("panel wipe", 60.0)],
            "prime": [],
        }
        for kind, expected in table.items():
            needs, working = treatment.needs_of(kind, 2.0)
            self.assertEqual([(n.name, n.ml) for n in needs], expected, kind)
            self.assertEqual(working is None, not expected)
        self.assertEqual(treatment.needs_of("acid-prep", 2.0, prompt_s=300.0)[0][0].ml, 2 * (200 + 6 * 50))
        self.assertEqual(treatment.needs_of("clean", 2.0)[1].lines[0].value, "300")

    def test_a_sheet_comes_before_common_practice(self):
        """On 2 m2: 120 mL/m2 at 1 to 11; 100 and a wetting of 30 every 10 min of the sheet's 12 min at 25 °C: 2 of them."""
        cleaner = sheet(kind="cleaner", use={"ml_m2": 120, "water_parts": 11})
        acid = sheet(kind="acid-prep", use={"ml_m2": 100, "wetting_ml_m2": 30}, times={"contact": [[15, 22], [25, 12]]})
        wipe = sheet(kind="panel-wipe", use={"ml_m2": 45})
        half = sheet(kind="acid-prep", times={"contact": [[15, 22], [25, 12]]})
        table = [
            ("clean", cleaner, 20, [("cleaner", 20.0, "data sheet"), ("water", 220.0, "data sheet")]),
            ("acid-prep", acid, 25, [("acid prep", 2 * (100 + 2 * 30), "data sheet")]),
            ("acid-prep", acid, 15, [("acid prep", 2 * (100 + 3 * 30), "data sheet")]),
            ("acid-prep", half, 25, [("acid prep", 2 * (200 + 2 * 50), "assumed")]),
            ("degrease", wipe, 20, [("panel wipe", 90.0, "data sheet")]),
            ("rinse", wipe, 20, [("water", 3000.0, "assumed")]),
        ]
        for kind, made, temp_c, expected in table:
            with self.subTest(kind, at=temp_c):
                needs, working = treatment.needs_of(kind, 2.0, made, temp_c)
                self.assertEqual([(n.name, round(n.ml, 6), n.basis.value) for n in needs], expected)
                self.assertTrue(working.lines)
        steps = (PlanStep("d", "degrease", "Test product"),)
        card = treatment.cards(progress_of(steps, [], 0), 2.0, {"Test product": wipe})[0]
        self.assertEqual(card.needs[0].ml, 90.0)

    def test_a_use_that_cannot_be_is_named(self):
        for use in ({"ml_m2": 0}, {"water_parts": 300}, {"ml_m2": 50, "parts": 2}):
            with self.subTest(use), self.assertRaises(sheets.SheetError) as caught:
                sheet(use=use)
            self.assertIn("use", str(caught.exception))

    def test_cards_go_up_to_the_first_coat_and_leave_out_what_is_left_out(self):
        events = [Bared(0, 3600, step="s", entry=1), Done(3700, 3800, step="c", entry=2)]
        found = treatment.cards(progress_of(STEPS, events, 4000), 2.0)
        self.assertEqual([(c.kind, c.status) for c in found], [("strip", "done"), ("clean", "done"), ("acid-prep", "now"), ("rinse", "later"), ("convert", "later"), ("inspect", "later"), ("degrease", "later"), ("prime", "later")])  # fmt: skip
        self.assertEqual((found[0].note, found[2].name), ("by wire wheel", "Acid prep: Acid"))
        self.assertIn("Blind pinholes: found? Skim them.", found[5].checks)
        self.assertTrue(found[2].cautions and any("Let it dry and its time starts anew" in h for h in found[2].how))
        self.assertEqual(treatment.cards(progress_of((), [], 0), 1.0), [])

    def test_portions_are_told_from_the_oldest_on(self):
        """Half brushed from hour 0, the rest from hour 24; at hour 30."""
        hour = 3600.0
        events = [Bared(0, 2 * hour, 0.5, entry=1), Bared(24 * hour, 26 * hour, 0.5, entry=2)]
        surface = build(events, 30 * hour)
        self.assertEqual(treatment.portions(surface.bare, surface.t_s), [(0.5, 30.0), (0.5, 6.0)])
