"""The demo: its sheets and systems are sound, every page opens, and its stories stand as told."""

from importlib import resources

import yaml
from django.test import TestCase

from emplastra.accounts.models import User, Workshop
from emplastra.core.product.sheet import problems_of, read
from emplastra.demo import workshop
from emplastra.jobs.models import Zone
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.models import Product
from emplastra.materials.selectors import systems
from emplastra.record.selectors import records
from emplastra.say.book import Book
from emplastra.shared import clock
from tests.pages import foreign, walk


class DemoSheetTests(TestCase):
    def documents(self):
        folder = resources.files("emplastra.demo") / "sheets"
        return {p.name: yaml.safe_load(p.read_text()) for p in folder.iterdir() if p.name.endswith(".yaml")}

    def test_at_least_nine_kinds_and_all_sound(self):
        documents = self.documents()
        self.assertGreaterEqual(len({d["kind"] for d in documents.values()}), 9)
        for name, document in documents.items():
            with self.subTest(name):
                self.assertEqual(problems_of(document), [])

    def test_the_mastic_is_six_to_one_on_a_mild_day_with_ten_minutes_and_48_hours(self):
        """T31, common practice, no source."""
        sheet = read(self.documents()["epoxy-mastic.yaml"])
        mild = next(v for v in sheet.variants if v.band.low_c <= 18 < v.band.high_c)
        self.assertEqual(mild.ratio_text, "6 : 1")
        self.assertAlmostEqual(sheet.induction.minutes_at(20), 10)
        self.assertAlmostEqual(sheet.window_for(sheet.product, sheet.kind).closes.minutes_at(20), 48 * 60)

    def test_a_ratio_follows_the_hardener(self):
        """No sheet names two ratios of the same two tins: a band names another hardener."""
        for name, document in self.documents().items():
            keys = [tuple(v["parts"]) for v in document.get("variants", [])]
            with self.subTest(name):
                self.assertEqual(len(keys), len(set(keys)))


class DemoTests(TestCase):
    @classmethod
    def setUpTestData(cls):
        workshop.load()
        clock.freeze(workshop.START)
        cls.addClassCleanup(clock.freeze, None)

    def setUp(self):
        self.client.force_login(User.objects.get(username="owner"))

    def test_every_page_speaks_in_the_units_of_its_workshop(self):
        """No text gives a quantity in the other system's units alone, but for what people typed as words."""
        typed = "Found more: other (chip at the vent, 90 x 60 mm)"
        for system, most in (("us", 2), ("metric", 1)):
            Workshop.objects.update(units=system)
            pages = 0
            for address, page in walk(self.client, most):
                pages += 1
                with self.subTest(system, address=address):
                    self.assertEqual({text for text in foreign(page, system) if typed not in text}, set())
                    self.assertNotIn("\ue000", page)
            self.assertGreater(pages, 60)
        self.assertEqual(foreign("<p>Film 75 µm</p><p>3 mil</p><p>3 mil (75 µm)</p>", "us"), ["Film 75 µm"])

    def test_the_stack_is_drawn_in_the_units_of_its_workshop(self):
        """35 µm of primer twice and 120 left of the surfacer are 190: 7.5 mil beside the line; its sheet has 40 to 75 a coat."""
        zone = Zone.objects.get(name="Cab side, left, outer")
        for system, axis, put_on in (("metric", ">190<", "120–150–225 µm, 3 coats, 120 left"), ("us", ">7.5<", "4.7–5.9–8.9 mil, 3 coats, 4.7 left")):  # fmt: skip
            Workshop.objects.update(units=system)
            with self.subTest(system):
                page = self.client.get(f"/zones/{zone.pk}/plan").content.decode()
                self.assertIn(axis, page)
                self.assertIn(put_on, page)

    def test_bench_shows_every_state(self):
        found = {state.zone.name: state.act.status for state in Book().bench()}
        expected = {
            "Axle box, rear": "open",
            "Cab side, right, outer": "bare",
            "Cab side, left, outer": "closing",
            "Frame, right, inside": "open",
            "Locker door, outer": "missed",
            "Lamp housing, outer": "waiting",
            "Nose, glass-fibre": "resting",
        }
        self.assertEqual({name: found[name] for name in expected}, expected)
        self.assertGreaterEqual(len(systems()), 3)

    def test_every_page_of_every_zone_opens(self):
        rest = ("log/", "strip", "metal", "solder", "mix", "log/coat", "log/keyed", "measures")
        for n, zone in enumerate(Zone.objects.all()):
            # Pages that differ by what lies on a face of all of them, the others of each third.
            for page in ("", "plan", "record", *(rest if n % 3 == 0 else ())):
                with self.subTest(zone.name, page=page):
                    self.assertEqual(self.client.get(f"/zones/{zone.pk}/{page}").status_code, 200)
        for product in Product.objects.all():
            self.assertContains(self.client.get(f"/materials/{product.pk}/"), product.name)
        for pot in Entry.objects.of(Kind.POT):
            self.assertContains(self.client.get(f"/pots/{pot.pk}/"), "Emptied")

    def test_the_logged_coats_speak_cleanly_but_for_what_is_meant(self):
        """No coat of the trolley's cab and roof was early, late, from a dead pot or off in its ratio."""
        for record in records(list(Zone.objects.filter(name__in=["Cab side, left, outer", "Roof, aluminium, outer"]))):
            for line in record.lines:
                with self.subTest(record.zone.name, line=line.title):
                    self.assertEqual([v.sentence for v in line.ruled.open] if line.ruled else [], [])

    def test_the_fixed_day_is_a_tuesday_at_ten(self):
        self.assertEqual(f"{workshop.START:%A %H:%M}", "Tuesday 10:00")
