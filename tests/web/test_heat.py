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
        level = f"/zones/{self.shop.zone.pk}/level"
        self.assertRegex(text_of(self.client.get(level)), r"In the sun it gets 7\d\.\d °C ?, it was never over 20.0 °C")
        self.warm("0 20\n20 80\n40 80")
        self.assertNotIn("will show through", self.page() + text_of(self.client.get(level)))
        revise_zone(self.shop.zone, self.shop.user, **{**measures_of(self.shop.zone), "finish_class": "below"})
        self.assertNotIn("In the sun", self.page())

    def test_what_is_in_the_way_of_heat(self):
        """On its page, by the schedule, and at the form, by the log; both by the one table."""
        state(self.shop.zone, self.shop.user, "bared", [(Answer("near", "", "fuel+bushes", {}, "", "bare"), "")])
        state(self.shop.zone, self.shop.user, "bared", [(Answer("solder", "", "seam", {}, "", "bare"), "")])
        page = self.page()
        for words in ("Fuel near it: out before any heat", "60 °C is over 50 °C: bushes, rubber"):
            self.assertIn(words, page)
        self.assertNotIn("solder softens", page)
        told = {"token": "h", "how": "oven", "log": "0 20\n20 160\n30 160", "began": "12:00", "ended": "12:00"}
        found = text_of(self.client.post(f"/zones/{self.shop.zone.pk}/log/heated/preview", told))
        self.assertIn("160 °C is over 150 °C: solder softens", found)
        self.assertIn("Fuel near it", found)

    def test_an_ovens_air_warms_the_metal_by_its_section(self):
        """1 mm of steel, 20 °C before, in air at 80: τ 72.2 s, at 60 °C after 1.32 min; after a flash of 10 min 50 of the
        hour count. 40 mm of cast iron are not there after an hour: τ of 7 200 · 460 · 0.04 ÷ 50 = 2 650 s, 64.6 °C at
        the end, 60 at 48.5 min."""
        air = "\n".join(f"{k} 80" for k in range(0, 61, 5))
        self.assertEqual(self.warm(air, estimated="on").status_code, 302)
        page = self.page()
        self.assertIn("50 min counted", page)
        self.assertIn("the metal worked out from its air", page)
        measures = {**measures_of(self.shop.zone), "substrate": "cast iron", "thickness_mm": 40.0}
        revise_zone(self.shop.zone, self.shop.user, **measures)
        self.warm(air, estimated="on")
        self.assertRegex(self.page(), r"1[12](\.\d)? min of 30 min counted: warm it again")
        self.assertRegex(self.page(), r"this section 48(\.\d)? min a skin 1.\d min")
        other = self.shop.make_zone("Cab roof")
        answer = self.warm(air, estimated="on", **{f"also_{other.pk}": "100"})
        self.assertContains(answer, "is worked out for one section", status_code=422)

    def test_a_lamps_field_is_passed_over_the_face(self):
        """A face of 1 000 by 1 000 mm in fields of 600 by 400: 2 by 3 of 31.3 min; the newest lamp's is taken, as asked
        it goes before."""
        page = text_of(self.client.get(f"{self.url}?wide=600 mm&high=400 mm"))
        self.assertRegex(page, r"2 × 3 fields, each 31.3 min with warming up: 3.13 h in all")
        self.assertIn("1 × 1 field,", text_of(self.client.get(f"{self.url}?wide=1.1 m&high=1.1 m")))
        self.assertNotIn("fields, each", text_of(self.client.get(f"{self.url}?wide=x&high=1.1 m")))
        self.warm(WARMED, how="lamp", field_w_mm="600 mm", field_h_mm="400 mm", distance_mm="700 mm", device="Lamp 2")
        page = self.page()
        self.assertIn("2 × 3 fields", page)
        self.assertIn("infrared lamp Lamp 2, 700 mm off", page)
        self.assertRegex(page, r"Lamp 2 ?, infrared lamp: on 1 time, 1.0 h; field 600 mm by 400 mm at 700 mm")

    def test_a_log_keeps_the_unit_it_was_typed_in(self):
        Workshop.objects.update(units="us")
        self.warm("0 68\n20 140\n35 140\n50 140\n60 68", metal_c="140", flash_min="10")
        Workshop.objects.update(units="metric")
        entry = Entry.objects.of(Kind.HEATED).get()
        form = self.client.get(f"/entries/heated/{entry.pk}/correct").content.decode()
        self.assertIn('<option value="F" selected>', form)

    def test_bad_input_names_its_field_and_keeps_what_was_typed(self):
        for log, more, word in (
            ("0 20\n0 30", {}, "minutes must rise"), ("0 20", {}, "1 readings"), ("0 20\n5 x", {}, "line 2"), ("0 20\n5 900", {}, "cannot be"), (WARMED, {"minutes": ""}, "told together"), (WARMED, {"metal_c": "900"}, "Schedule: metal at"), (WARMED, {"how": "x"}, "Warmed by"), (WARMED, {"field_w_mm": "600 mm"}, "wide and high"),
        ):  # fmt: skip
            with self.subTest(log=log, **more):
                answer = self.warm(log, **more)
                self.assertContains(answer, word, status_code=422)
                self.assertIn(log.split("\n")[0], answer.content.decode())
        self.assertFalse(Entry.objects.of(Kind.HEATED).exists())
        Workshop.objects.update(units="us")
        self.warm("0 68\n20 140\n35 140\n50 140\n60 68", metal_c="140", flash_min="10")
        self.assertAlmostEqual(Entry.objects.of(Kind.HEATED).get().heated.counted_min, 30)
