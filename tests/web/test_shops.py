"""Workshops by chance: whatever is told, no page fails and no two pages say two things. EMPLASTRA_SHOPS=200 tries so many."""

import os
from collections import Counter

from django.db import transaction
from django.test import TestCase

from emplastra.demo.workshop import load_materials
from emplastra.logbook.models import Entry, Kind
from emplastra.shared import clock
from tests.base import NOON, H, drop_caches
from tests.shops import ShopByChance

SHOPS = int(os.environ.get("EMPLASTRA_SHOPS", "1"))
FIRST = int(os.environ.get("EMPLASTRA_SHOPS_FROM", "1"))


class ByChanceTests(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.addClassCleanup(drop_caches)
        cls.addClassCleanup(clock.freeze, None)
        clock.freeze(NOON - 24 * H)
        load_materials()

    def test_pages_of_a_workshop_agree(self):
        told = Counter()
        for seed in range(FIRST, FIRST + SHOPS):
            with self.subTest(seed=seed), transaction.atomic():
                shop = ShopByChance(self.client, seed).build()
                shop.work(25)
                self.assertEqual(shop.faults(), [])
                told.update(Entry.objects.values_list("kind", flat=True), surveys=shop.surveys, struck=shop.struck)
                transaction.set_rollback(True)
        print(f"{SHOPS} workshops by chance: {dict(told)}")
        self.assertGreaterEqual(set(told), {Kind.BARED, Kind.DEGREASED, Kind.COAT})
