"""Level: depths logged, highs before lows, what is not filled, the marks, and when it is flat."""

from django.db import connection
from django.test.utils import CaptureQueriesContext

from emplastra.core.metal.solder import SolderError, instead
from emplastra.core.survey.answers import Answer
from emplastra.jobs.judging import choose_school
from emplastra.jobs.models import SolderMoved
from emplastra.jobs.services import save_build_up
from emplastra.jobs.surveying import state
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.models import Product
from emplastra.materials.services import add_sheet
from emplastra.metal.worked import finished
from emplastra.state.level import level_of
from tests.base import PRIMER, ShopCase, text_of, zone_state

FILLER = {"product": "Test filler", "kind": "body-filler", "pot_life": [[10, 10], [20, 5]], "lift_mm": 3, "tolerance_pct": 25, "times": {"sandable": [[10, 40], [20, 20]]},
    "variants": [{"key": "warm", "name": "red", "by": "mass", "parts": {"base": 100, "hardener": 2}, "temp_c": [15, 25]}]}  # fmt: skip
DENTED = "0 0 0 0 0 0\n0 -1 -2 -1 0 0\n0 0 0 0 +0.5 0\n0 0 0 0 0 0"
STRUCK = DENTED.replace("+0.5", "0")


class LevelTests(ShopCase):
    """A face of 1 m by 1 m that is seen: flat is within 0.15 mm."""

    def setUp(self):
        super().setUp()
        add_sheet({k: v for k, v in PRIMER.items() if k not in {"induction", "thinner"}} | FILLER)
        self.url = f"/zones/{self.shop.zone.pk}/level"

    def measure(self, depths, after="found", **more):
        self.sent = getattr(self, "sent", 0) + 1
        told = {"token": f"l{self.sent}", "depths": depths, "after": after, "began": "11:50", "ended": "12:00", "step": ""}  # fmt: skip
        return self.client.post(f"/zones/{self.shop.zone.pk}/log/levelled", told | more)

    def page(self):
        return text_of(self.client.get(self.url))

    def test_highs_are_worked_before_lows_are_filled_and_flat_is_the_end(self):
        self.assertIn("Nobody has measured how flat it is", self.page())
        self.assertEqual(self.measure(DENTED).status_code, 302)
        page = self.page()
        self.assertIn("Work B down first", page)
        self.assertIn("not filled: work the highs first", page)
        self.measure(STRUCK, "highs")
        # Along the row of 0 −1 −2 −1 0 0, 167 mm apart, 250 mm up and down: a tent, in lifts of 3 mm one.
        page = self.page()
        self.assertRegex(
            page, r"Fill A ?: \d+ mL ?, [\d.]+ k?g with hardener, 1 lift, about \d+ min at work and 20 min waited for"
        )
        self.assertIn("Under a straightedge along the line", page)
        self.assertIn("Plan filler", page)
        # Filler stands proud over the low, and its mark is buried.
        self.measure(STRUCK.replace("-1 -2 -1", "+0.3 +0.4 +0.3"), "filled")
        page = self.page()
        self.assertIn("A buried", page)
        self.assertRegex(page, r"Block A about [\d.]+ min more, stop as the marks begin to show")
        self.measure(STRUCK.replace("-1 -2 -1", "+0.1 0 -0.1"), "blocked")
        page = self.page()
        self.assertIn("Flat within 0.15 mm: stop. Ink off before a coat.", page)
        self.assertIn("A shows", page)
        self.assertEqual(Entry.objects.of(Kind.LEVELLED).count(), 4)
        record = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record"))
        self.assertIn("Level measured: as found", record)
        self.assertIn("-2 and 0.5 mm", record)

    def test_what_somebody_saw_of_the_marks_counts_before_what_was_measured(self):
        self.measure(STRUCK)
        self.measure(STRUCK.replace("-1 -2 -1", "+0.3 +0.4 +0.3"), "filled", shows="a")
        self.assertIn("A shows", self.page())
        self.assertEqual(self.client.get(f"/zones/{self.shop.zone.pk}/level").content.decode().count("v-planned"), 2)

    def test_marks_that_are_seen_after_it_was_measured(self):
        """Filled and measured, then blocked by eye alone: a mark that shows is seen, and where all show it is flat."""
        self.measure(STRUCK)
        self.measure(STRUCK.replace("-1 -2 -1", "+0.3 +0.4 +0.3"), "filled")
        self.assertIn("A buried", self.page())
        self.assertEqual(self.measure("", "blocked", shows="A").status_code, 302)
        page = self.page()
        self.assertIn("A shows", page)
        self.assertIn("The marks show again: flat, stop", page)

    def test_hours_of_filling_are_those_that_its_lows_were_to_take(self):
        """Blocked for 90 minutes, and flat: planned is what the low took as it was marked."""
        steps = [{"kind": "fill", "id": "s-fill", "product": "Test filler", "coats": 1}, {"kind": "block", "id": "s-block", "grit": "P180"}]  # fmt: skip
        save_build_up(self.shop.zone, self.shop.user, steps, 1)
        self.measure(STRUCK)
        planned = level_of(zone_state(self.shop.zone)[0]).fills[0][2].work_min / 60
        self.shop.tell(Kind.KEYED, -2, -0.5, "s-block", grit="P180")
        self.assertEqual(finished([zone_state(self.shop.zone)[0]]), [])
        self.measure(STRUCK.replace("-1 -2 -1", "0 0 0"), "blocked")
        (done,) = finished([zone_state(self.shop.zone)[0]])
        self.assertEqual((done.kind, done.log_h, done.why), ("fill", 1.5, "1 low as marked"))
        self.assertAlmostEqual(done.plan_h, planned)

    def test_filler_lies_on_the_lows_alone(self):
        """A low that was measured: all of its filler is a coat of the step, on the low's share of 1 m²; the record says
        so. Where nothing was measured it is taken to lie all over.
        """
        ready = {k: v for k, v in PRIMER.items() if k not in {"thinner", "tolerance_pct", "induction", "pot_life", "components", "variants"}}  # fmt: skip
        tin = [{"key": "tin", "name": "Tin", "role": "ready", "density_g_ml": 1.5, "solids_pct": 50}]
        add_sheet(ready | {"form": "ready", "product": "Spread", "kind": "body-filler", "components": tin})
        steps = [{"kind": "fill", "id": "s-fill", "product": "Spread", "coats": 1, "dft_um": 50, "method": "brush"}]
        zone = self.shop.zone
        save_build_up(zone, self.shop.user, steps, 1)
        url = f"/zones/{zone.pk}/log/coat"
        told = {
            "source": "product:Spread",
            "step": "s-fill",
            "share": "100",
            "method": "brush",
            "thinner_pct": "0",
            "began": "12:00",
            "ended": "12:00",
        }
        self.measure(STRUCK)
        (low,) = level_of(zone_state(zone)[0]).lows
        answer = self.client.post(url, told | {"token": "f1"})
        self.assertEqual(answer.status_code, 302)
        row = Entry.objects.of(Kind.COAT).get().places_on.get()
        self.assertEqual((row.share, round(row.of_face, 9)), (1.0, round(low.area_m2, 9)))
        self.assertTrue(next(s for s in zone_state(zone)[0].plan.states if s.step.id == "s-fill").done)
        self.assertRegex(text_of(self.client.get(f"/zones/{zone.pk}/record")), r"Spread on lows")

    def test_a_face_is_levelled_by_marks_alone(self):
        """Marked, filled, blocked until the marks show: no depth is told, so no filler is worked out."""
        url = f"/zones/{self.shop.zone.pk}/log/levelled"
        steps = (({"depths": "- low -\n- - low", "after": "found"}, "Lay a straightedge on A, B"), ({"after": "filled", "shows": " "}, None), ({"after": "filled", "depths": "- -"}, None), ({"after": "blocked", "shows": "a"}, "Block on: B is buried still"), ({"after": "blocked", "shows": "A, B"}, "it is flat: stop"))  # fmt: skip
        for n, (told, words) in enumerate(steps):
            answer = self.client.post(url, {"token": f"m{n}", "depths": "", "began": "12:00", "ended": "12:00"} | told)
            self.assertEqual(answer.status_code, 302 if words else 422)
            if words:
                self.assertIn(words, self.page())
        self.assertIn("how much filler it takes cannot be said", self.page())
        self.assertIn("marked A low, B low", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record")))

    def test_hours_of_gauge_heat_and_solder_have_a_plan(self):
        """60 readings: 5 + 60 ÷ 4 = 20 min planned, half an hour taken. Heat: 10 + 1.32 + 30 min of its schedule, an
        hour taken. 97.2 g of 70 : 30 are 10 mL, 0.667 dm² at 1.5 mm: 4 + 20 = 24 min; taken by the solder step."""
        zone = self.shop.zone
        save_build_up(zone, self.shop.user, [{"kind": "solder", "id": "s-solder"}], 1)
        points = [[100.0, 0.5, 0.5]] * 60
        self.shop.tell(Kind.GAUGED, -1, -0.5, readings="", points=points, mean_um=100, least_um=100, count=60)
        told = {"log": "", "points": [[0, 20], [60, 60]], "metal_c": 60.0, "minutes": 30.0, "flash_min": 10.0}
        self.shop.tell(Kind.HEATED, -3, -2, **told, how="oven", counted_min=0.0, hottest_c=60.0)
        self.shop.tell(Kind.DONE, -5, -4.5, "s-solder")
        SolderMoved.objects.create(zone=zone, way="in", alloy="70-30", mass_g=97.2, who=self.shop.user)
        found = {f.kind: f for f in finished([zone_state(zone)[0]])}
        for kind, plan_min, took_h in (("film", 20, 0.5), ("heat", 41.32, 1.0), ("solder", 24, 0.5)):
            self.assertAlmostEqual(found[kind].plan_h * 60, plan_min, delta=0.02)
            self.assertAlmostEqual(found[kind].log_h, took_h)

    def test_the_same_low_by_solder_is_heavier(self):
        """70 : 30 by volume: 1 ÷ (0.7 ÷ 11340 + 0.3 ÷ 7290) = 9720 kg/m³, filler 1875: 5.18 times as heavy."""
        self.measure(STRUCK)
        (low,) = level_of(zone_state(self.shop.zone)[0]).lows
        page = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/solder"))
        self.assertIn("Its lows, run in or filled", page)
        self.assertNotIn("File with a body file", page)
        choose_school("solder", "stays", self.shop.zone.job)
        self.assertIn("File with a body file", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/solder")))
        by = instead(low.volume_ml, low.area_m2, 30.0)
        self.assertAlmostEqual(by.solder_g / by.filler_g, 9720 / 1875, places=3)
        # A dm² tinned in 6 min, a mL run in and filed in 2.
        self.assertAlmostEqual(instead(10, 0.02, 30.0).solder_min, 6 * 2 + 2 * 10)
        beside = instead(10, 0.02, 30.0)
        self.assertAlmostEqual(beside.solder_g - beside.filler_g, 78.45, places=2)
        for bad in ((0, 0.1), (10, 0)):
            with self.assertRaises(SolderError):
                instead(*bad, 30.0)

    def test_a_lift_more_than_planned_is_said(self):
        steps = [{"kind": "fill", "id": "s-fill", "product": "Test filler", "coats": 1}]
        save_build_up(self.shop.zone, self.shop.user, steps, 1)
        self.measure(STRUCK)
        product = Product.objects.get(name="Test filler")
        for at in (-3, -2):
            self.shop.tell(Kind.COAT, at, at + 0.1, "s-fill", product=product, revision=product.revisions.first(), variant="warm", method="brush", plan_um=800.0)  # fmt: skip
        self.assertIn("Round 2 of 1 planned", self.page())

    def test_welds_come_first_and_a_cut_through_is_a_finding(self):
        self.shop.tell(Kind.BARED, -3, -2.5, "s-strip")
        self.shop.tell(Kind.FILM_LOST, -2, cause="weld", share=0.05)
        self.assertIn("not yet Welds ground and looked through", self.page())
        self.shop.tell(Kind.INSPECTED, -1, points={"all-round": "good"})
        self.assertIn("done Welds ground and looked through", self.page())
        told = {"token": "k", "grit": "P180", "um_off": "30", "cut": "the upper edge", "began": "11:50", "ended": "12:00", "share": "100", "step": ""}  # fmt: skip
        self.client.post(f"/zones/{self.shop.zone.pk}/log/keyed", told)
        finding = self.shop.zone.findings.get(topic="film")
        self.assertEqual((finding.choice, finding.text), ("cut-through", "the upper edge"))
        keyed = Entry.objects.of(Kind.KEYED).get()
        again = told | {"token": "k2", "reason": "30 µm it was", "um_off": "25"}
        self.client.post(f"/entries/keyed/{keyed.pk}/correct", again)
        self.assertEqual(self.shop.zone.findings.filter(topic="film").count(), 1)
        self.assertIn("cut through the upper edge", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record")))

    def test_what_is_not_filled_says_why(self):
        for topic, choice, word in (("holes", "holes", "filler does not bridge it"), ("filler", "taped", "open it, close it with metal")):  # fmt: skip
            with self.subTest(choice):
                state(self.shop.zone, self.shop.user, "bared", [(Answer(topic, "", choice, {}, "", "bare"), "")])
                self.measure(STRUCK)
                page = self.page()
                self.assertIn(word, page)
                self.assertIn("Metal work first", page)

    def test_too_deep_and_a_low_panel_are_metal_work(self):
        self.measure(STRUCK.replace("-2", "-5.5"))
        self.assertIn("5.5 mm deep, the most is 5: metal work first", self.page())
        self.measure("\n".join(["-2 -2 -2 -2 0 0"] * 4))
        self.assertIn("The panel is low as a whole: move the metal, do not fill it", self.page())

    def test_bad_input_names_its_field_and_keeps_what_was_typed(self):
        for depths, more, word in (("0 9 0 0", {}, "9 mm proud? A low is written with a minus"), ("0 a", {}, "line 1: a"), ("", {}, "Depths"), ("0 -200", {}, "from -100 to 100"), ("0 0", {"after": "x"}, "Measured after")):  # fmt: skip
            with self.subTest(depths=depths):
                answer = self.measure(depths, **({"after": "found"} | more))
                self.assertContains(answer, word, status_code=422)
                self.assertIn(depths, answer.content.decode())
        self.assertEqual(self.measure(STRUCK.replace("-1 -2 -1", "0 9 0"), sure="on").status_code, 302)
        self.measure("0 0 0")
        self.assertIn("Work A down first", self.page())
        entry = Entry.objects.of(Kind.LEVELLED).order_by("pk").first()
        told = {"token": "c", "depths": STRUCK.replace("-1 -2 -1", "0 -9 0"), "after": "found", "began": "11:50", "ended": "12:00", "step": "", "reason": "a sign"}  # fmt: skip
        self.assertEqual(self.client.post(f"/entries/levelled/{entry.pk}/correct", told).status_code, 302)
        self.assertIn("Metal work first", self.page())

    def test_many_measurings_take_as_many_queries(self):
        for _ in range(2):
            self.measure(STRUCK)
        self.page()
        with CaptureQueriesContext(connection) as some:
            self.page()
        self.measure(STRUCK)
        self.page()
        with CaptureQueriesContext(connection) as more:
            self.page()
        self.assertEqual(len(more), len(some))
        self.assertLessEqual(len(more), 30)
