"""Heat: a log of the metal, what of it counts, what is in the way, and print-through told before it is levelled."""

from emplastra.accounts.models import Workshop
from emplastra.core.survey.answers import Answer
from emplastra.jobs.services import measures_of, revise_zone, save_build_up
from emplastra.jobs.surveying import state
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.services import add_sheet
from tests.base import PRIMER, ShopCase, text_of

SURFACER = {"product": "Test surfacer", "kind": "two-pack-surfacer", "schedules": [{"how": "force-dry", "metal_c": 60, "minutes": 30, "flash_min": 10}]}  # fmt: skip
WARMED = "0 20\n10 20\n20 60\n35 60\n50 60\n60 20"


class HeatTests(ShopCase):
    def setUp(self):
        super().setUp()
        add_sheet({k: v for k, v in PRIMER.items() if k not in {"induction", "thinner"}} | SURFACER)
        steps = [{"kind": "surface", "id": "s-surface", "product": "Test surfacer", "coats": 1, "dft_um": 50, "method": "hvlp"}]  # fmt: skip
        save_build_up(self.shop.zone, self.shop.user, steps, 1)
        self.url = f"/zones/{self.shop.zone.pk}/heat"

    def page(self):
        return text_of(self.client.get(self.url))

    def warm(self, log, **more):
        self.sent = getattr(self, "sent", 0) + 1
        told = {"token": f"h{self.sent}", "how": "oven", "log": log, "metal_c": "60", "minutes": "30", "flash_min": "10", "began": "11:00", "ended": "12:00", "step": ""}  # fmt: skip
        return self.client.post(f"/zones/{self.shop.zone.pk}/log/heated", told | more)

    def test_only_minutes_at_the_schedules_metal_count(self):
        """At 60 °C from 20 to 50 min: 30. A minute late is a minute short, and a gap counts for nothing."""
        page = self.page()
        self.assertRegex(page, r"Test surfacer ?: 30 min at 60.0 °C metal, after 10 min of flash")
        # 1 mm of steel, both faces, h 25: τ = 72.2 s, ln(60 ÷ 20) = 1.0986: 1.3 min.
        self.assertIn("This section is there 1.3 min", page)
        self.assertEqual(self.warm(WARMED).status_code, 302)
        self.assertIn("30 min counted", self.page())
        self.warm("0 20\n10 20\n21 60\n35 60\n50 60\n60 20")
        self.assertRegex(self.page(), "29 min of 30 min counted: warm it again")
        self.warm("0 60\n30 60\n35 60")
        page = self.page()
        self.assertIn("Nothing was read from 0 min to 30 min: that does not count", page)
        self.assertIn("Heated: oven", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record")))

    def test_print_through_is_told_before_it_is_levelled(self):
        """On a dark face that looks up at 48° it gets over 70 °C; undecided is as dark. An underside sees no sun."""
        Workshop.objects.update(latitude=48.0, longitude=16.0)
        page = self.page()
        self.assertIn("Dark, as for black: its colour is not decided", page)
        self.assertRegex(
            page, r"The sun will make it 7\d\.\d °C ?, it was never over 20.0 °C ?: what is filled will show"
        )
        self.warm("0 20\n20 80\n40 80")
        self.assertNotIn("will show through", self.page())
        revise_zone(self.shop.zone, self.shop.user, **{**measures_of(self.shop.zone), "finish_class": "below"})
        self.assertNotIn("In the sun", self.page())

    def test_what_is_in_the_way_of_heat(self):
        state(self.shop.zone, self.shop.user, "bared", [(Answer("near", "", "fuel+bushes", {}, "", "bare"), "")])
        state(self.shop.zone, self.shop.user, "bared", [(Answer("solder", "", "seam", {}, "", "bare"), "")])
        page = self.page()
        for words in ("Fuel near it: out before any heat", "Bushes, rubber", "solder softens"):
            self.assertIn(words, page)

    def test_bad_input_names_its_field_and_keeps_what_was_typed(self):
        for log, more, word in (
            ("0 20\n0 30", {}, "minutes must rise"), ("0 20", {}, "1 readings"), ("0 20\n5 x", {}, "line 2"), ("0 20\n5 900", {}, "cannot be"), (WARMED, {"minutes": ""}, "told together"), (WARMED, {"metal_c": "900"}, "Schedule: metal at"), (WARMED, {"how": "x"}, "Warmed by"),
        ):  # fmt: skip
            with self.subTest(log=log, **more):
                answer = self.warm(log, **more)
                self.assertContains(answer, word, status_code=422)
                self.assertIn(log.split("\n")[0], answer.content.decode())
        self.assertFalse(Entry.objects.of(Kind.HEATED).exists())
        Workshop.objects.update(units="us")
        self.warm("0 68\n20 140\n35 140\n50 140\n60 68", metal_c="140", flash_min="10")
        self.assertAlmostEqual(Entry.objects.of(Kind.HEATED).get().heated.counted_min, 30)
