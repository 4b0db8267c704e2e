"""Buying: what the plans take less what stands in the store, in tins; what paint costs and what was wasted."""

import csv
import io

from emplastra.logbook.models import Kind
from emplastra.materials.services import add_sheet
from emplastra.shared import clock
from emplastra.store.models import Recall, Tin, TinFact
from tests.base import PRIMER, ShopCase, text_of

TINS = [{"component": "base", "ml": 1000, "price": 30}, {"component": "base", "ml": 250, "price": 10}, {"component": "hardener", "ml": 250, "price": 12}, {"component": "hardener", "ml": 60, "price": 5}]  # fmt: skip


class BuyingTests(ShopCase):
    """Two coats of 50 µm on 1 m² by brush take 2 x (100 ÷ 0.95 + 10) = 230.5 mL: 184.4 of base, 46.1 of hardener."""

    def setUp(self):
        super().setUp()
        add_sheet(PRIMER | {"date": "2026-01-02", "tins": TINS})

    def tin(self, part, ml, batch="B", **about):
        tin = Tin.objects.create(product=self.shop.primer, part=part, batch=batch, **about)
        TinFact.objects.create(tin=tin, kind="in", at=clock.now(), amount=ml, unit="mL", who=self.shop.user)
        return tin

    def page(self, **asked):
        return text_of(self.client.get("/store/buying", asked))

    def test_need_less_store_in_tins(self):
        self.assertIn("Test primer, Base 184 mL 0 mL 1 × kit of 250 mL + 60 mL 15 €", self.page())
        self.assertIn("Test primer, Base 184 mL 0 mL 1 × 250 mL 10 €", self.page(kits="0"))
        self.assertIn("2 parts to buy, 15 €", self.page())
        self.tin("base", 150.0)
        old = self.tin("base", 5000.0, "OLD", use_by="2026-05-01")
        bad = self.tin("base", 5000.0, "BAD")
        Recall.objects.create(product=self.shop.primer, part="base", batch="BAD", why="maker", who=self.shop.user)
        self.assertIn("Test primer, Base 184 mL 150 mL 1 × 250 mL", self.page(kits="0"))
        kept = self.tin("base", 100.0, "KEPT")
        TinFact.objects.create(tin=kept, kind="kept", at=clock.now(), amount=80.0, unit="mL", who=self.shop.user)
        self.assertIn("Test primer, Base 184 mL 170 mL 80 mL 1 × 250 mL", self.page(kits="0"))
        self.tin("base", 50.0, "MORE")
        self.assertIn("Test primer, Base 184 mL 220 mL 80 mL nothing", self.page(kits="0"))
        rows = list(csv.DictReader(io.StringIO(self.client.get("/store/order.csv?kits=0").content.decode())))
        self.assertEqual([(r["part"], r["count"], r["size"], r["price"]) for r in rows], [("Hardener", "1", "60 mL", "5.00")])  # fmt: skip
        self.assertTrue(old and bad)

    def test_at_least_cost_or_with_the_least_left_over(self):
        """Five faces take 5 x 184.4 = 922 mL: a litre at 30 leaves 78 over, four quarters at 40 just as much."""
        for n in range(4):
            self.shop.make_zone(f"Face {n}")
        self.assertIn("Base 922 mL 0 mL 1 × 1.00 L 30 €", self.page(kits="0"))
        for n in range(2):
            self.shop.make_zone(f"More {n}")
        # Seven take 1291 mL: 1 L and two quarters at 50 leave 209, two litres at 60 leave 709.
        self.assertIn("Base 1.29 L 0 mL 1 × 1.00 L 30 € , 2 × 250 mL 10 €", self.page(kits="0", aim="waste"))

    def test_what_paint_costs_and_what_was_wasted(self):
        """240 g of base are 160 mL at 30 a litre, 40 g of hardener 40 mL at 48 a litre: 4.80 and 1.92."""
        pot = self.shop.tell(Kind.POT, -2, revision=self.shop.primer.revisions.order_by("pk").last(), variant="mild", method="brush", thinner_pct=0.0, ready_ml=200.0, temp_c=20.0)  # fmt: skip
        self.shop.tell(Kind.WEIGHED, -1.9, pot=pot, part="base", scale_g=240.0)
        self.shop.tell(Kind.WEIGHED, -1.9, pot=pot, part="hardener", scale_g=280.0)
        self.shop.tell(Kind.POT_ENDED, -1, pot=pot, waste_ml=60.0)
        page = self.page()
        self.assertIn("Trolley at least 7 € used, 8 € to come", page)  # 184.4 mL at 30 and 46.1 at 48: 5.53 + 2.21
        self.assertIn("Epoxy primer 60 mL, about 75 g", page)

    def test_nothing_open_and_no_size(self):
        add_sheet(PRIMER | {"date": "2026-01-03"})
        self.assertIn("184 mL: its sheet names no size", self.page())
        self.shop.job.zones.update(retired="gone")
        self.assertIn("The store has what the open work takes", self.page())
