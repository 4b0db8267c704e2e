"""The metal work's quantities, cards and portions: hand arithmetic on common-practice figures."""

from django.test import SimpleTestCase

from emplastra.core import treatment
from emplastra.core.events import Bared, Done
from emplastra.core.plan import PlanStep, progress_of
from emplastra.core.surface import build

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


class TreatmentTests(SimpleTestCase):
    def test_quantities_follow_the_area(self):
        """On 2 m2: cleaner 150 mL/m2 at 1 to 5; acid prep 200 and six wettings of 50 mL/m2; common practice, no source."""
        table = {
            "clean": [("cleaner", 50.0), ("water", 250.0)],
            "acid-prep": [("acid prep", 1000.0)],
            "rinse": [("water", 3000.0)],
            "degrease": [("panel wipe", 60.0)],
            "prime": [],
        }
        for kind, expected in table.items():
            needs, working = treatment.needs_of(kind, 2.0)
            self.assertEqual([(n.name, n.ml) for n in needs], expected, kind)
            self.assertEqual(working is None, not expected)
        self.assertEqual(treatment.needs_of("clean", 2.0)[1].lines[0].value, "300")

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
