"""Film by gauge: logged, judged, drawn, and what the stack says once it was measured."""

from django.db import connection
from django.test.utils import CaptureQueriesContext

from emplastra.jobs.models import Job
from emplastra.logbook.models import Entry, Kind
from emplastra.scales import reader, standin
from emplastra.scales.models import STAND_IN, Scale
from emplastra.shared import clock
from tests.base import H, ShopCase, text_of, zone_state


class FilmTests(ShopCase):
    """A face of 1 m² with two coats of epoxy, 50 µm planned each, the sheet's least 30 and most 60 a coat or so."""

    def setUp(self):
        super().setUp()
        self.shop.tell(Kind.BARED, -9, -8.5, "s-strip")
        self.shop.tell(Kind.DEGREASED, -8.3, step="s-wipe")
        for at in (-8, -5):
            self.shop.coat(at, at + 0.1)
        self.url = f"/zones/{self.shop.zone.pk}/film"

    def gauge(self, readings, **more):
        told = {"token": f"g{readings[:40]}{more}", "readings": readings, "began": "11:50", "ended": "12:00", "step": ""} | more  # fmt: skip
        return self.client.post(f"/zones/{self.shop.zone.pk}/log/gauged", told)

    def test_what_is_read_is_what_lies_there(self):
        """Mean (96 + 104 + 88 + 92) ÷ 4 = 95, of two coats alike 47.5 each; planned 100, four fifths 80."""
        self.assertIn("No gauge has read this face", text_of(self.client.get(self.url)))
        answer = self.gauge("96 104\n88 92")
        self.assertEqual(answer.status_code, 302)
        layers = zone_state(self.shop.zone)[0].surface.layers
        self.assertEqual([(round(x.film.dft_um, 3), x.film.basis.name) for x in layers], [(47.5, "MEASURED")] * 2)
        self.assertEqual([x.least_um for x in layers], [44, 44])
        page = text_of(self.client.get(self.url))
        self.assertIn("95 µm", page)
        self.assertIn("Asked by the plan: 100 µm", page)
        self.assertIn("4 readings: a face of this size wants 5", page)
        self.assertIn("48 µm measured 48 µm measured", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/plan")))
        # A coat more and a gauging after it: that coat is what the gauge found less what lay under it.
        clock.freeze(clock.now() + 3 * H)
        self.shop.coat(-2, -1.9, plan_um=80.0)
        self.gauge("171 169\n170 170", began="14:50", ended="14:59")
        top = zone_state(self.shop.zone)[0].surface.top
        self.assertEqual((round(top.film.dft_um, 3), top.film.how), (75.0, "gauge, 4 readings, less what lay under it"))
        self.assertIn("Layer by difference", text_of(self.client.get(self.url)))

    def test_each_standard_has_its_word(self):
        """Of twelve readings two under 80, four fifths of the 100 planned: not by ISO 19840."""
        low = "110 110 110 110\n110 110 110 110\n110 110 70 75"
        self.gauge(low, per_spot="1")
        for by, word in (("iso19840", "2 of 12 under 80 µm"), ("pa2-3", "it wants three readings a spot")):
            Job.objects.update(film_by=by)
            with self.subTest(by):
                page = text_of(self.client.get(self.url))
                self.assertIn(word.lower(), page.lower())
        Job.objects.update(film_by="iso19840")
        page = self.client.get(self.url)
        # The thinnest is 70: 30 µm more dry, at 50 % solids 60 µm wet.
        self.assertRegex(text_of(page), r"Too thin at the lower right: add 30 µm ?, one coat at 60 µm wet")
        self.assertIn(f"/zones/{self.shop.zone.pk}/log/coat?source=product%3ATest+primer", page.content.decode())
        self.assertIn("too thin", text_of(page))
        # ISO 19840, from memory: up to 1 m² five readings, one of which may be repeated.
        self.assertIn("Up to 1 reading may be taken once more", text_of(page))
        self.gauge("110 110 110 110\n108 112 109 111\n110 90 101 99", token="more")
        self.assertIn("Thick enough everywhere", text_of(self.client.get(self.url)))
        old = Entry.objects.of(Kind.GAUGED).order_by("pk").first()
        self.assertIn("This is not the newest gauging", text_of(self.client.get(f"{self.url}?of={old.pk}")))

    def test_what_cannot_be_is_said_at_its_field_and_keeps_what_was_typed(self):
        for readings, more, word in (
            ("3.9 4.2 4.1", {}, "may be mil"), ("96 -104", {}, "a gauge reads no less"), ("", {}, "Readings"), ("- -", {}, "no reading is in it"),
            ("96 104", {"over": "laminate"}, "a gauge reads nothing"), ("20 30", {"zero_um": "60"}, "no film is left"), ("96", {"zero_um": "x"}, "bare plate"),
        ):  # fmt: skip
            with self.subTest(readings=readings, **more):
                answer = self.gauge(readings, **more)
                self.assertContains(answer, word, status_code=422)
                self.assertIn(readings, answer.content.decode())
        self.assertFalse(Entry.objects.of(Kind.GAUGED).exists())
        self.gauge("136 144\n128 132", zero_um="40", gauge="no. 2", token="zero")
        page = text_of(self.client.get(self.url))
        self.assertIn("It reads 40 µm on a bare plate: it has lost its zero", page)
        self.assertIn("95 µm", page)
        row = Entry.objects.of(Kind.GAUGED).get()
        form = self.client.get(f"/entries/gauged/{row.pk}/correct").content.decode()
        self.assertIn("136 144", form)
        self.gauge_corrected(row)

    def gauge_corrected(self, row):
        told = {"token": "c", "readings": "136 144\n128 133", "began": "11:50", "ended": "12:00", "step": "", "zero_um": "40", "reason": "misread"}  # fmt: skip
        self.assertEqual(self.client.post(f"/entries/gauged/{row.pk}/correct", told).status_code, 302)
        self.assertEqual(Entry.objects.known_at().of(Kind.GAUGED).get().gauged.mean_um, 95.25)

    def test_old_paint_is_no_film_of_ours(self):
        self.gauge("400 1200", old="on", over="filler", pull="part")
        self.assertEqual([x.film.basis.name for x in zone_state(self.shop.zone)[0].surface.layers], ["ASSUMED"] * 2)
        page = text_of(self.client.get(self.url))
        self.assertRegex(page, "Old paint: 800 µm in the mean; filler at 1 of 2 *, painted again at 1 of 2")
        self.assertIn("there is no steel", page)
        self.assertIn("Over filler the gauge reads all of it", page)

    def test_many_gaugings_and_readings_take_as_many_queries(self):
        for n in range(3):
            self.gauge("\n".join(" ".join(str(100 + (n + k) % 9) for k in range(20)) for _ in range(5)), token=f"m{n}")
        self.client.get(self.url)
        with CaptureQueriesContext(connection) as some:
            self.assertEqual(self.client.get(self.url).status_code, 200)
        self.gauge("100 101", token="last")
        self.client.get(self.url)
        with CaptureQueriesContext(connection) as more:
            self.client.get(self.url)
        self.assertEqual(len(more), len(some))
        self.assertLessEqual(len(more), 26)

    def test_a_played_gauge_sends_what_it_reads_once(self):
        gauge = Scale.objects.create(name="Gauge", address=STAND_IN, reads=Scale.Reads.FILM)
        self.addCleanup(reader.let_go)
        url = f"/scales/{gauge.pk}/readings"
        told = self.client.get(url).json()
        found, deadline = [], 200
        standin.played(gauge).act("noise")
        while told["link"] != "linked" and (deadline := deadline - 1):
            told = self.client.get(url).json()
        self.client.post(f"/scales/{gauge.pk}/play", {"act": "touch", "grams": "214"})
        while not found and (deadline := deadline - 1):
            reader.reader_of(gauge).join(0.05)
            told = self.client.get(f"{url}?after={told['at']}").json()
            found += told["read"]
        self.assertEqual(found, [214.0])
        self.assertEqual(self.client.get(f"{url}?after={told['at']}").json()["read"], [])
        scale = Scale.objects.create(name="Scale", address=STAND_IN)
        self.assertEqual(self.client.get(f"/scales/{scale.pk}/readings").status_code, 404)
