"""From a batch to its faces and back; a recall that holds tins, stops coats, and is dealt with face by face."""

import csv
import io

from emplastra.logbook.models import Kind
from emplastra.materials.services import add_sheet
from emplastra.store.models import Dealt, Recall, Tin
from emplastra.store.services import name_batch
from tests.base import PRIMER, ShopCase, text_of


class TrailTests(ShopCase):
    def setUp(self):
        super().setUp()
        """Batch B1 in two pots: the first over two faces, the second on a third; one is over-coated, one stripped since."""
        self.sides = [self.shop.zone, self.shop.make_zone("Lid"), self.shop.make_zone("Box")]
        self.tin = name_batch(self.shop.primer, "base", "B1")
        self.other = name_batch(self.shop.primer, "hardener", "H1")
        self.pots = [self.pot(-9, self.sides[:2], 240.0, 280.0), self.pot(-6, self.sides[2:], 300.0, 360.0)]
        self.coat(-8, self.sides[0], self.pots[0])
        self.coat(-8, self.sides[1], self.pots[0])
        self.coat(-5, self.sides[2], self.pots[1])
        self.colour = add_sheet(PRIMER | {"product": "Test colour", "kind": "single-stage"}).product
        self.shop.tell(Kind.COAT, -3, -2.9, "", zone=self.sides[1], product=self.colour, revision=self.colour.revisions.first(), variant="mild", method="brush", plan_um=50.0)  # fmt: skip
        self.shop.tell(Kind.BARED, -2, -1, "s-strip", zone=self.sides[2])
        self.url = f"/batches/{self.tin.pk}/"

    def pot(self, at, zones, base_g, whole_g):
        pot = self.shop.tell(Kind.POT, at, zone=zones[0], revision=self.shop.primer.revisions.first(), variant="mild", method="brush", thinner_pct=0.0, ready_ml=200.0, temp_c=20.0)  # fmt: skip
        self.shop.tell(Kind.WEIGHED, at + 0.1, zone=zones[0], pot=pot, part="base", scale_g=base_g, tin=self.tin)
        self.shop.tell(Kind.WEIGHED, at + 0.1, zone=zones[0], pot=pot, part="hardener", scale_g=whole_g, tin=self.other)
        return pot

    def coat(self, at, zone, pot):
        return self.shop.tell(Kind.COAT, at, at + 0.1, "s-prime", zone=zone, product=self.shop.primer, pot=pot, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", plan_um=50.0)  # fmt: skip

    def test_there_and_back(self):
        """240 + 300 g of 1.5 g/mL are 160 and 200 mL. The second pot has 60 g to 300, 20 % more than 40 to 240."""
        page = text_of(self.client.get(self.url))
        self.assertIn("It lies on 2 faces , 1 of them under other film", page)
        self.assertRegex(page, r"Cab side Trolley on top .*Box Trolley gone|Box Trolley gone .*Cab side Trolley on top")
        self.assertIn("Lid Trolley under other film under Test colour", page)
        self.assertIn(f"P{self.pots[1].pk} Tue 12 May 06:00 300.0 g of T{self.tin.pk} Hardener 20 % over", page)
        back = text_of(self.client.get(self.url, {"face": self.sides[1].pk}))
        self.assertRegex(back, rf"Back from Lid Test colour .*no batch named Test primer .*P{self.pots[0].pk} B1 H1")
        rows = list(csv.DictReader(io.StringIO(self.client.get(f"{self.url}trail.csv").content.decode())))
        self.assertEqual([(r["pot"], r["zone"], r["lies"], r["film_um"], r["over"]) for r in rows], [
            (f"P{self.pots[0].pk}", "Cab side", "on top", "50", ""), (f"P{self.pots[0].pk}", "Lid", "under other film", "50", "Test colour"), (f"P{self.pots[1].pk}", "Box", "gone", "", ""),
        ])  # fmt: skip
        told = self.client.get(f"{self.url}trail.json").json()
        self.assertEqual([pot["poured"][0]["amount"] for pot in told["pots"]], [240.0, 300.0])
        by = {face["name"]: face for face in told["faces"]}
        self.assertEqual([len(by["Lid"]["layers"]), len(by["Box"]["layers"]), len(by["Box"]["stripped"])], [2, 0, 1])

    def test_what_a_gauge_read_is_the_film_that_lies_there(self):
        self.shop.tell(Kind.GAUGED, -1, zone=self.sides[0], readings="42", points=[[42, 0.5, 0.5]], mean_um=42.0, least_um=42.0, count=1)  # fmt: skip
        rows = list(csv.DictReader(io.StringIO(self.client.get(f"{self.url}trail.csv").content.decode())))
        self.assertEqual([(r["zone"], r["film_um"]) for r in rows][:2], [("Cab side", "42"), ("Lid", "50")])

    def test_a_recall_holds_what_is_left_and_is_dealt_with(self):
        self.as_owner()
        for n, (why, count) in enumerate((("", 0), ("the maker", 1), ("again", 1))):
            self.client.post(f"{self.url}recall", {"token": f"r{n}", "why": why})
            self.assertEqual(Recall.objects.count(), count)
        page = text_of(self.client.get(self.url))
        self.assertIn("2 faces still to be dealt with", page)
        self.assertIn("Take it off down to bare, coat again", page)
        self.assertIn("Test its key at an edge; strip where it lifts", page)
        self.assertIn("Nothing: it was stripped", page)
        self.assertIn("recalled", text_of(self.client.get("/store/")))
        here = "Of a recalled batch: B1 (the maker)"
        self.assertIn(here, text_of(self.client.get(f"/zones/{self.sides[0].pk}/")))
        self.assertNotIn(here, text_of(self.client.get(f"/zones/{self.sides[2].pk}/")))
        recall = Recall.objects.get()
        for n, zone in enumerate((self.sides[0], self.sides[0], self.sides[1])):
            self.client.post(f"/recalls/{recall.pk}/faces/{zone.pk}", {"token": f"d{n // 2}", "what": "holds at the edge"})  # fmt: skip
        self.assertEqual(Dealt.objects.count(), 2)
        self.assertIn("Every face is dealt with", text_of(self.client.get(self.url)))
        self.assertNotIn(here, text_of(self.client.get(f"/zones/{self.sides[0].pk}/")))
        # Nothing is poured from it, by its code or by its number, and it is not offered.
        pot = self.shop.tell(Kind.POT, -0.1, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", thinner_pct=0.0, ready_ml=200.0, temp_c=20.0)  # fmt: skip
        self.assertNotContains(self.client.get(f"/pots/{pot.pk}/"), 'value="B1"')
        for n, typed in enumerate((f"T{self.tin.pk}", "B1")):
            answer = self.client.post(f"/pots/{pot.pk}/", {"token": f"p{n}", "part": "base", "shown": "240", "batch": typed, "offer": "exact"})  # fmt: skip
            self.assertContains(answer, "recalled (the maker)", status_code=422)
        self.client.post(f"/recalls/{recall.pk}/lift", {"token": "l", "why": "a mistake"})
        self.assertNotIn("Recalled", text_of(self.client.get(self.url)))
        self.assertContains(self.client.get(f"/pots/{pot.pk}/"), 'value="B1"')

    def test_a_coat_from_a_pot_of_a_recalled_batch_is_stopped_everywhere(self):
        self.shop.tell(Kind.BARED, -1, -0.9, "s-strip")
        self.shop.tell(Kind.DEGREASED, -0.4, step="s-wipe")
        pot = self.pot(-0.6, self.sides[:1], 240.0, 280.0)
        Recall.objects.create(product=self.shop.primer, part="base", batch="B1", why="the maker", who=self.shop.user)
        said = "Base B1 is of a batch that is recalled: the maker."
        for url in ("/", f"/zones/{self.shop.zone.pk}/"):
            with self.subTest(url):
                self.assertIn(said, text_of(self.client.get(url)))
        self.coat(-0.2, self.sides[0], pot)
        self.assertIn(said, text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record")))

    def test_a_batch_that_went_nowhere(self):
        tin = Tin.objects.create(product=self.shop.primer, part="base", batch="NEW")
        self.assertIn("It went on no face yet", text_of(self.client.get(f"/batches/{tin.pk}/")))
        self.assertEqual(self.client.get(f"/batches/{tin.pk}/trail.csv").status_code, 200)
        self.client.force_login(self.shop.people["viewer"])
        self.assertNotContains(self.client.get(self.url), "Recall it")
        self.assertEqual(self.client.post(f"{self.url}recall", {"token": "v", "why": "x"}).status_code, 403)
