"""Faults of a coat through their page: what the record says of each cause, what puts it right, in the plan once."""

import re

from emplastra.accounts.models import Role
from emplastra.jobs.guns import remember_gun
from emplastra.jobs.models import Finding
from emplastra.jobs.services import save_build_up
from emplastra.logbook.models import Kind
from emplastra.materials.models import Product
from emplastra.materials.services import add_sheet
from tests.base import ShopCase, text_of
from tests.rulings import document_of

CLEAR = {"film": {"min_um": 25, "typical_um": 30, "max_um": 60, "coats": 2, "sag_wft_um": 90}, "times": {"flash": [[0, 10], [40, 10]], "sandable": [[0, 180], [40, 180]], "cure": [[0, 600], [40, 600]]}}  # fmt: skip
STEPS = [
    {"kind": "prime", "id": "s-prime", "product": "Test primer", "coats": 1, "dft_um": 50, "method": "brush"},
    {"kind": "clear", "id": "c", "product": "Test clear-coat", "coats": 2, "dft_um": 30, "method": "hvlp"},
    {"kind": "close", "id": "x"},
]


class FaultTests(ShopCase):
    def setUp(self):
        super().setUp()
        add_sheet(document_of("clear-coat", "ready", CLEAR | {"thinner": {"component": "t", "pct": {"hvlp": 10}}, "components": [{"key": "a", "name": "A", "role": "ready", "density_g_ml": 1.0, "solids_pct": 50}, {"key": "t", "name": "T", "role": "thinner", "density_g_ml": 0.8}]}))  # fmt: skip
        save_build_up(self.shop.zone, self.shop.user, STEPS, 1)
        self.clear = Product.objects.get(name="Test clear-coat")
        self.url = f"/zones/{self.shop.zone.pk}/faults"

    def spray(self, began, ended, wet, **more):
        told = {"product": self.clear, "revision": self.clear.revisions.first(), "method": "hvlp", "plan_um": 30.0, "wft_um": wet, "thinner_pct": 10.0}  # fmt: skip
        return self.shop.tell(Kind.COAT, began, ended, "c", **(told | more))

    def coats(self):
        """Primer a day ago, clear twice: 66 µm wet at 50 % and 10 % thinner are 30 µm; the second hung at 120."""
        self.shop.tell(Kind.BARED, -40, -39)
        self.shop.coat(-30, -29.9)
        self.spray(-2.0, -1.9, [66.0])
        self.spray(-1.0, -0.9, [120.0, 100.0])

    def ask(self, **told):
        return text_of(self.client.get(self.url, told))

    def causes(self, see):
        page = self.client.get(self.url, {"see": see})
        return {c.cause.name: c for c in page.context["causes"]}

    def test_causes_by_the_record(self):
        self.assertIn("there is no coat to look at", self.ask())
        self.coats()
        self.assertIn("What do you see", self.ask())
        said = self.ask(see="runs")
        self.assertIn("Runs : most likely too much at once", said)
        self.assertIn("it runs from 90 µm", said)
        found = self.causes("runs")
        self.assertEqual(found["Too cold to flash"].word, "unlikely")  # 20 °C, measured
        self.assertIn("against 20.0 °C, 50 %, measured", said)
        self.assertEqual(found["Thinned too far"].word, "unlikely")  # 10 % as its sheet names
        self.assertEqual(found["Gun too near or too slow"].untold, ("distance of the gun", "speed of the hand"))
        # A gun that is told to be held at 60 mm, of 150 usual, speaks for it.
        remember_gun(self.shop.user, "hvlp", {"distance": 60.0, "speed": 0.2})
        self.assertEqual(self.causes("runs")["Gun too near or too slow"].word, "likely")
        self.assertEqual(self.causes("dry-spray")["Gun too far"].word, "unlikely")
        self.shop.tell(Kind.CHECKED, -3, -3, check_kind="air-line", passed=False)
        self.assertIn("oil or water that day", self.ask(see="craters"))
        self.assertEqual(self.causes("craters")["Oil or water in the air line"].word, "likely")
        # The first coat of clear was the earlier one: its wet film was within what its sheet lets hang.
        first = self.client.get(self.url, {"see": "runs"}).context["coats"][1]
        page = self.client.get(self.url, {"see": "runs", "coat": first.entry.pk})
        wet = next(c for c in page.context["causes"] if c.cause.name == "Too much at once")
        self.assertIn("66 µm wet", text_of(page))
        self.assertNotEqual(wet.word, "likely")
        self.assertIn("A later coat lies over this one", text_of(page))

    def test_what_it_costs_of_the_film_and_how_long_it_waits(self):
        self.coats()
        # 30 µm and, by 110 wet, 50: 80 there; 25 of each of two are kept. Orange peel takes 8 and its scratches.
        takes = 8 + 12.6 / 5 + 8.4 / 5 + 1
        page = self.client.get(self.url, {"see": "orange-peel"})
        remedy = page.context["remedy"]
        self.assertEqual(remedy.way, "polish")
        self.assertAlmostEqual(remedy.film.there_um, 80.0)
        self.assertAlmostEqual(remedy.left_um, 80 - takes)
        self.assertEqual(remedy.film.keep_um, 50.0)
        # Sandable three hours after 11:06, its film a third and two as thick as usual.
        said = text_of(page)
        self.assertIn("then P1500 and polish: it takes 13 µm", said)
        self.assertIn("sandable by its sheet", said)
        self.assertTrue(page.context["waits"])
        self.assertIn("P800 flat and the coat again", self.ask(see="orange-peel", stands="30"))
        self.assertIn("polished it would leave", self.ask(see="orange-peel", stands="30"))
        self.assertIn("must be at most 2000", self.ask(see="runs", stands="3000"))
        self.assertNotIn("polish: it takes", self.ask(see="nonsense"))

    def test_written_down_and_planned_once(self):
        self.coats()
        told = {"see": "orange-peel", "where": "upper half", "stands": "", "coat": ""}
        for token in ("a", "a", "b"):
            answer = self.client.post(f"{self.url}/note", told | {"token": token}, follow=True)
        self.assertIn("is written down already", text_of(answer))
        (finding,) = Finding.objects.filter(topic="film")
        self.assertEqual(
            (finding.choice, finding.text, finding.step, finding.stage), ("orange-peel", "upper half", "c", "coated")
        )
        self.assertIn("Orange peel , upper half", self.ask())
        for token in ("c", "c", "d"):
            answer = self.client.post(f"{self.url}/plan", told | {"finding": finding.pk, "token": token}, follow=True)
        self.assertIn("is in the plan already", text_of(answer))
        kinds = [(s["kind"], s.get("grit", "")) for s in self.shop.zone.build_ups.first().steps]
        self.assertEqual(
            kinds,
            [("prime", ""), ("clear", ""), ("abrade", "P1500"), ("abrade", "P2500"), ("polish", ""), ("close", "")],
        )
        self.assertEqual(finding.words.get().said, "answered")
        # What does not hold goes off, and its coat is put on once more.
        self.client.post(f"{self.url}/plan", {"see": "peels", "token": "e"})
        kinds = [s["kind"] for s in self.shop.zone.build_ups.first().steps]
        self.assertEqual(kinds[2:5], ["abrade", "degrease", "clear"])
        self.shop.user.role = Role.VIEWER
        self.shop.user.save()
        said = self.ask(see="runs")
        self.assertNotRegex(said, re.compile("Put it into the plan|Write it down"))
        self.assertEqual(self.client.post(f"{self.url}/note", told | {"token": "z"}).status_code, 403)
