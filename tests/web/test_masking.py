"""Masks through pages: what is open to what is sprayed, one tap, the tape's hour on Bench, what stops a coat."""

from datetime import timedelta

from emplastra.core.piece.job_map import Cells
from emplastra.jobs.models import Finding
from emplastra.jobs.services import place, save_build_up
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.models import Product
from emplastra.materials.services import add_sheet
from emplastra.shared import clock
from tests.base import NOON, PRIMER, ShopCase, text_of, zone_state

TOP = {
    "product": "Test top", "kind": "single-stage", "form": "ready",
    "components": [{"key": "tin", "name": "Tin", "role": "ready", "density_g_ml": 1.2, "solids_pct": 50}],
    "times": {"flash": [[0, 10], [40, 10]], "touch": [[0, 60], [40, 60]], "handle": [[0, 300], [40, 300]], "dust_free": [[0, 30], [40, 30]]},
}  # fmt: skip


class MaskingTests(ShopCase):
    """The door is to be sprayed; the cab side beside it is finished."""

    def setUp(self):
        super().setUp()
        left_out = {"variants", "induction", "pot_life", "thinner", "tolerance_pct", "hazards"}
        add_sheet({k: v for k, v in PRIMER.items() if k not in left_out} | TOP)
        self.top = Product.objects.get(name="Test top")
        self.door = self.shop.make_zone("Door")
        for zone in (self.door, self.shop.zone):
            zone.panel = "Cab"
            zone.save()
        step = {"kind": "single-stage", "id": "t", "product": "Test top", "coats": 1, "dft_um": 50, "method": "hvlp"}
        for zone in (self.door, self.shop.zone):
            save_build_up(zone, self.shop.user, [step], 1)
        self.coat(self.shop.zone, -50)
        self.sent = 0

    def coat(self, zone, began, **more):
        told = {"product": self.top, "revision": self.top.revisions.first(), "method": "hvlp", "plan_um": 50.0}
        return self.shop.tell(Kind.COAT, began, began + 0.1, "t", zone=zone, **(told | more))

    def log(self, zone, kind, **told):
        self.sent += 1
        first = {"token": f"m{self.sent}", "began": "11:59", "ended": "12:00", "step": ""}
        return self.client.post(f"/zones/{zone.pk}/log/{kind}", first | told)

    def test_what_is_finished_is_masked_by_one_link_and_the_judge_says_the_same(self):
        page = self.client.get(f"/jobs/{self.shop.job.pk}/masking")
        said = text_of(page)
        # 1 m x 1 m: its edges are 4 m; paper over all of it and 15 %, tape 4.4 m.
        self.assertIn("1 face open to what is sprayed next: 1.15 m² of masking paper, 4.4 m of tape", said)
        self.assertIn("Cab side : finished", said)
        link = f"/zones/{self.shop.zone.pk}/log/masked?over=whole&amp;cover=paper"
        self.assertContains(page, link)
        now = text_of(self.client.get(f"/zones/{self.door.pk}/"))
        self.assertIn("Open to its overspray: Cab side (finished)", now)
        form = text_of(self.client.get(link.replace("&amp;", "&")))
        self.assertIn("All of it, against overspray", form)
        answer = self.log(self.shop.zone, "masked", over="whole", cover="paper", tape="paper", bears_days="", what="")
        self.assertEqual(answer.status_code, 302)
        said = text_of(self.client.get(f"/jobs/{self.shop.job.pk}/masking"))
        self.assertIn("Nothing is open to what is sprayed next", said)
        self.assertIn("Cab side is under masking paper", said)
        self.assertIn("Tape off by tomorrow 12:00", said)
        self.assertNotIn("Open to its overspray", text_of(self.client.get(f"/zones/{self.door.pk}/")))
        # What lies under the paper is not coated before that is off.
        clock.freeze(NOON + timedelta(minutes=30))
        self.coat(self.shop.zone, -0.2)
        self.assertIn("masked whole", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record")))

    def test_tape_comes_off_between_touch_and_hard_and_bench_says_when(self):
        bad = self.log(self.door, "masked", over="part", cover="tape", tape="fine", bears_days="0", what="the line")
        self.assertIn("Tape bears", text_of(bad))
        self.assertEqual(Entry.objects.of(Kind.MASKED).count(), 0)
        self.log(self.door, "masked", over="part", cover="tape", tape="fine", bears_days="2", what="the line")
        self.assertNotIn("Mask off", text_of(self.client.get("/")))
        self.coat(self.door, 0.1 - 0.1)
        clock.freeze(NOON + timedelta(minutes=30))
        self.assertIn("Tape off from 13:06 , until 17:06", text_of(self.client.get("/")))
        clock.freeze(NOON + timedelta(hours=2))
        self.assertIn("Tape off by 17:06 : while the paint over its edge is soft", text_of(self.client.get("/")))
        clock.freeze(NOON + timedelta(hours=7))
        self.assertIn("late: score its edge first", text_of(self.client.get("/")))
        self.log(self.door, "unmasked", came="torn", began="18:59", ended="19:00")
        self.assertFalse(zone_state(self.door)[0].surface.masks)
        self.assertEqual(Finding.objects.get(topic="film").choice, "torn")
        self.assertNotIn("Tape off", text_of(self.client.get("/")))
        record = text_of(self.client.get(f"/zones/{self.door.pk}/record"))
        for words in ("Masked", "fine-line tape", "2 days", "the line", "Mask off", "it tore the paint’s edge"):
            self.assertIn(words, record)

    def test_sanding_in_one_place_minds_tacky_film_of_another_panel(self):
        far = self.shop.make_zone("Roof")
        save_build_up(far, self.shop.user, [{"kind": "abrade", "id": "a", "grit": "P320"}], 1)
        self.coat(self.door, -0.2)
        now = text_of(self.client.get(f"/zones/{far.pk}/"))
        self.assertIn("Film beside it takes up dust: Door until 12:24", now)
        place = type(self.shop.place).objects.create(name="Booth")
        self.log(far, "moved", place=place.pk)
        self.assertNotIn("takes up dust", text_of(self.client.get(f"/zones/{far.pk}/")))

    def test_two_colours_in_their_order_and_the_line_between_them(self):
        bleeding = {"product": "Red", "bleeding": True, "colour": "#8c2a20"}
        left_out = {"variants", "induction", "pot_life", "thinner", "tolerance_pct", "hazards"}
        add_sheet({k: v for k, v in PRIMER.items() if k not in left_out} | TOP | bleeding)
        step = {"kind": "single-stage", "id": "t", "product": "Red", "coats": 1, "dft_um": 50, "method": "hvlp"}
        save_build_up(self.door, self.shop.user, [step], 2)
        second = save_build_up(self.shop.zone, self.shop.user, [step | {"id": "u", "product": "Test top"}], 2)
        self.assertEqual(second.number, 3)
        for zone, x in ((self.door, 0), (self.shop.zone, 4)):
            place(zone, Cells("left", "panel", x, 0, 4, 4))
        said = text_of(self.client.get(f"/jobs/{self.shop.job.pk}/masking"))
        self.assertRegex(
            said, "Test top , 1.00 m² ?: the lighter first.* Red , 1.00 m² ?: it bleeds: last, only clear over it"
        )
        # A quarter of the outline of a square metre: 1 m, and a tenth more.
        self.assertRegex(said, "Line between Cab side and Door : fine-line tape 1.1 m")
        self.assertIn(
            "Red bleeds: Test top on Cab side comes first", text_of(self.client.get(f"/zones/{self.door.pk}/"))
        )
