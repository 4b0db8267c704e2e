"""Air through its pages: files shown before use, readings, forecasts, withdrawals, moves."""

import gc
import math
import weakref

from django.core.files.uploadedfile import SimpleUploadedFile

from emplastra.climate import services as services_of_air
from emplastra.climate.models import Forecast, ImportBatch, Place, Reading
from emplastra.climate.selectors import airs
from emplastra.logbook import services
from emplastra.logbook.models import Kind
from emplastra.shared import clock
from emplastra.shared.models import Submission
from tests.base import NOON, H, ShopCase, drop_caches, text_of, zone_state


class AirTests(ShopCase):
    def send(self, content, name="log.csv", what="log", **choices):
        """Send a file and, if it can be read at all, confirm how it is read."""
        file = SimpleUploadedFile(name, content if isinstance(content, bytes) else content.encode())
        token = f"i{Submission.objects.count()}{len(content)}"
        data = {"token": token, "place": self.shop.place.pk, "file": file, "what": what}
        answer = self.client.post("/air/import", data)
        if answer.status_code != 302:
            return answer
        self.shape_url = answer.url
        return self.client.post(answer.url, {"token": f"{token}c", **choices})

    def test_bad_lines_by_number_and_nothing_half_imported(self):
        before = Reading.objects.count()
        good = "2026-05-09T10:00:00+02:00,18.2,55"
        table = [
            (f"time,air_c,rh_pct\n{good}\n2026-05-09T09:10:00+02:00,18,55\n2026-05-09T11:00:00+02:00,18,55\n2026-05-09T12:00:00+02:00,18,55\n", "3", "time goes back"),
            (f"time,air_c,rh_pct\n{good}\n2026-05-09T10:10:00+02:00,18,101\n", "3", "humidity 101 must lie from 0.1 to 100 %"),
            (f"time,air_c,rh_pct\n{good}\n2026-05-09T10:10:00+02:00,warm,50\n", "3", "air “warm” is not a number"),
            (f"time,air_c,rh_pct\n{good}\n2026-05-13T10:10:00+02:00,18,50\n", "3", "time lies in the future"),
            (f"time,air_c,rh_pct\n{good}\n2026-05-09T10:10:00+02:00,18\n", "3", "has 2 columns"),
            ("name,price\nbrush,3\n", "1", "no header names a time"),
            ("time,air_c,rh_pct\n", "–", "the file has a header but no readings"),
            (b"\x00\x01\x02binary", "–", "this is not a text file"),
        ]  # fmt: skip
        for content, line, message in table:
            with self.subTest(message):
                answer = self.send(content)
                self.assertContains(answer, message, status_code=422)
                self.assertRegex(text_of(answer), rf"{line} {message[:6]}")
        self.assertEqual(Reading.objects.count(), before)

    def test_the_rest_of_a_log_with_bad_lines_is_taken_when_that_is_said(self):
        text = "time,air_c,rh_pct\n2026-05-09T10:00:00+02:00,18.2,55\n2026-05-09T10:10:00+02:00,warm,50\n"
        refused = self.send(text)
        self.assertEqual(refused.status_code, 422)
        self.assertIn("leave it out", text_of(refused))
        self.assertEqual(self.send(text + "\n", skip_bad="on").status_code, 302)
        batch = ImportBatch.objects.first()
        self.assertEqual((batch.rows, batch.skipped), (1, 1))
        self.assertContains(self.client.get("/air/"), "1 bad lines left out")

    def test_what_the_file_does_not_show_is_asked_and_previewed(self):
        """05/06 in no time zone: nothing is read until both are said; then it is 5 June or 6 May."""
        text = "time;temp °F;rh\n05/06/2026 08:00;68;50\n05/06/2026 09:00;68;51\n"
        self.assertContains(self.send(text), "choose", status_code=422)
        preview = f"{self.shape_url}preview"
        self.assertContains(self.client.post(preview, {"token": "-", "zone": "UTC"}), "whether the day or the month")
        shown = self.client.post(preview, {"token": "-", "zone": "America/New_York", "date_form": "mdy"})
        self.assertContains(shown, "Wed 6 May 14:00")
        self.assertContains(shown, "20.0 °C")
        self.assertContains(self.send(text, zone="Moon/Base"), "for example Europe/Vienna", status_code=422)
        self.assertEqual(self.send(text + "\n", zone="UTC", date_form="mdy", air_unit="F").status_code, 302)
        self.assertEqual(Reading.objects.order_by("-id").first().at.isoformat(), "2026-05-06T09:00:00+00:00")

    def test_one_thing_that_is_not_shown_is_asked_alone(self):
        answer = self.send("time,air_c,rh_pct\n2026-05-09 10:00,18,55\n")
        self.assertContains(answer, "the file does not show", status_code=422)

    def test_a_forecast_reaches_sixteen_days_ahead(self):
        for days, code in ((15.9, 302), (17, 422)):
            hours = "\n".join(f"{(NOON + k * days * 24 * H).isoformat()},15,60" for k in (0.5, 1))
            with self.subTest(days):
                self.assertEqual(self.send(f"time,air_c,rh_pct\n{hours}\n", what="forecast").status_code, code)

    def test_a_forecast_joins_the_log_at_now(self):
        """Held for an hour after the last reading at noon, then as forecast; 5 K at noon fade with 3 h; then its
        last day again.
        """
        hours = "\n".join(f"{(NOON + k * H).isoformat()},15,60" for k in range(-2, 30))
        self.assertEqual(self.send(f"time,air_c,rh_pct\n{hours}\n", what="forecast").status_code, 302)
        found = airs([self.shop.place], NOON - 10 * H, NOON, self.shop.workshop)[self.shop.place.pk]
        table = [
            (0.5, 20.0, "estimated"),
            (4, 15 + 5 * math.exp(-4 / 3), "forecast"),
            (40, 15 + 5 * math.exp(-16 / 3), "assumed"),
        ]
        for hour, temp, basis in table:
            moment = found.air.at((NOON + hour * H).timestamp())
            self.assertAlmostEqual(moment.air_c, temp, places=3)
            self.assertEqual(moment.basis.value, basis)
        page = text_of(self.client.get("/air/"))
        self.assertIn("24 are wanted", page)
        self.client.post("/air/forecasts/1/withdraw", {"reason": "wrong town"})
        found = airs([self.shop.place], NOON - 10 * H, NOON, self.shop.workshop)[self.shop.place.pk]
        self.assertEqual(found.air.at((NOON + 4 * H).timestamp()).air_c, 20.0)
        old = "\n".join(f"{(NOON - (900 - k) * H).isoformat()},15,60" for k in range(30))
        self.assertContains(
            self.send(f"time,air_c,rh_pct\n{old}\n", what="forecast"), "this forecast ended", status_code=422
        )

    def test_import_withdraw_and_which_source_leads(self):
        """A later import leads an earlier one; withdrawn it is unused but kept; the first leads again."""
        lines = "\n".join(f"{(NOON - k * H).isoformat()},{25 + k / 1000},40,22.5" for k in range(6, -1, -1))
        self.assertEqual(self.send(f"time,air_c,rh_pct,surface_c\n{lines}\n").status_code, 302)

        def now():
            found = airs([self.shop.place], NOON - 10 * H, NOON, self.shop.workshop)[self.shop.place.pk]
            return found.air.at(NOON.timestamp()).air_c, found.surface_c, len(found.disagreements)

        self.assertEqual(now(), (25.0, 22.5, 1))
        answer = self.send(f"time,air_c,rh_pct,surface_c\n{lines}\n")
        self.assertContains(answer, "imported already", status_code=422)
        batch = ImportBatch.objects.first()
        self.client.post(f"/air/batches/{batch.pk}/withdraw", {"reason": "wrong place"})
        self.assertEqual(now(), (20.0, None, 0))
        self.assertEqual(batch.readings.count(), 7)
        page = text_of(self.client.get("/air/"))
        self.assertIn("withdrawn: wrong place", page)

    def test_a_reading_typed_alone_can_be_withdrawn(self):
        """In a place without a logger it holds on. Bad input names field and bounds."""
        cellar = Place.objects.create(name="Cellar")
        data = {"token": "n1", "place": cellar.pk, "at": "11:30", "air_c": "59 °F", "rh_pct": "61"}
        self.assertEqual(self.client.post("/air/reading", data).status_code, 302)

        def now():
            return airs([cellar], NOON - 10 * H, NOON, self.shop.workshop)[cellar.pk].air.at(NOON.timestamp()).air_c

        self.assertAlmostEqual(now(), 15.0)
        self.assertRegex(text_of(self.client.get("/air/")), r"Cellar 1 readings? ")
        self.client.post(f"/air/batches/{ImportBatch.objects.first().pk}/withdraw", {"reason": "misread"})
        self.assertEqual(now(), 18.0)
        table = [({"air_c": "99"}, "Air: must be at most 60"), ({"rh_pct": "0"}, "Humidity: must be at least"), ({"at": "tomorrow"}, "Read at: “tomorrow” is not a time")]  # fmt: skip
        for n, (bad, said) in enumerate(table):
            self.assertContains(
                self.client.post("/air/reading", data | bad | {"token": f"b{n}"}), said, status_code=422
            )

    def test_a_reading_typed_with_a_voided_coat_is_not_used(self):
        """Cellar: 9 °C typed with a coat at 11:30 holds for an hour; the coat voided, the assumption of 18 °C is back."""
        cellar = Place.objects.create(name="Cellar")
        coat = self.shop.coat(-0.5, -0.4, place=cellar, air_c=9.0, rh_pct=60)

        def now():
            return airs([cellar], NOON - 10 * H, NOON, self.shop.workshop)[cellar.pk].air.at(NOON.timestamp()).air_c

        self.assertAlmostEqual(now(), 9.0)
        services.void(self.shop.user, coat, "wrong zone")
        self.assertEqual(now(), 18.0)

    def test_a_logger_that_stands_still_is_stuck_only_while_something_else_moved(self):
        """Cellar: 12 °C and 70 % to the digit for 30 h. Alone it is steady; beside a yard that moved it was stuck."""
        cellar, yard = (Place.objects.create(name=name) for name in ("Cellar", "Yard"))
        still = "\n".join(f"{(NOON - k * H).isoformat()},12,70" for k in range(30, -1, -1))
        moving = "\n".join(f"{(NOON - k * H).isoformat()},{k % 12},70" for k in range(30, -1, -1))
        services_of_air.import_log(self.shop.user, cellar, "c.csv", f"time,air_c,rh_pct\n{still}\n".encode())

        def faults():
            found = airs(list(Place.objects.all()), NOON - 40 * H, NOON, self.shop.workshop)[cellar.pk]
            drop_caches()
            anew = airs(list(Place.objects.all()), NOON - 40 * H, NOON, self.shop.workshop)[cellar.pk]
            self.assertEqual((anew.faults, anew.last_s), (found.faults, found.last_s))
            return [f.kind for f in found.faults]

        self.assertEqual(faults(), [])
        batch = services_of_air.import_log(self.shop.user, yard, "y.csv", f"time,air_c,rh_pct\n{moving}\n".encode())
        self.assertEqual(faults(), ["stuck"])
        services_of_air.withdraw(self.shop.user, batch, "another yard")
        self.assertEqual(faults(), [])
        hours = "\n".join(f"{(NOON - k * H).isoformat()},{k},60" for k in range(5, -20, -1))
        self.assertEqual(self.send(f"time,air_c,rh_pct\n{hours}\n", what="forecast").status_code, 302)
        self.assertEqual(faults(), ["stuck"])

    def test_a_gap_goes_by_what_was_forecast_then_however_late_it_is_told(self):
        """Cellar: read 40 h and an hour ago at 12 °C; a forecast of then, told only now, swings by 5 K between."""
        cellar = Place.objects.create(name="Cellar")
        rows = "".join(f"{(NOON - k * H).isoformat()},12,{70 + k % 2}\n" for k in (*range(80, 39, -1), 1, 0))
        services_of_air.import_log(self.shop.user, cellar, "c.csv", f"time,air_c,rh_pct\n{rows}".encode())

        def middle():
            found = airs([cellar], NOON - 60 * H, NOON, self.shop.workshop)[cellar.pk].air
            drop_caches()
            anew = airs([cellar], NOON - 60 * H, NOON, self.shop.workshop)[cellar.pk].air
            at = (NOON - 20 * H).timestamp()
            self.assertEqual(found.at(at), anew.at(at))
            return round(found.at(at).air_c, 6), found.at(at).basis.value

        self.assertEqual(middle(), (12, "assumed"))
        hours = [[(NOON - k * H).timestamp(), 15.0 if k == 20 else 10.0, 5.0] for k in range(45, -30, -1)]
        forecast = Forecast.objects.create(place=cellar, filename="f", sha256="x", issued=NOON - 44 * H, last=NOON + 29 * H, hours=hours, who=self.shop.user)  # fmt: skip
        self.assertEqual(middle(), (17, "forecast"))
        services_of_air.withdraw_forecast(self.shop.user, forecast, "another town")
        self.assertEqual(middle(), (12, "assumed"))

    def test_a_place_without_word_for_weeks_goes_by_its_last_day(self):
        """The shop’s log ends at noon at 20 °C; forty days on, asked from ten hours ago, it is as warm, assumed."""
        later = NOON + 40 * 24 * H
        clock.freeze(later)
        drop_caches()
        found = airs([self.shop.place], later - 10 * H, later, self.shop.workshop)[self.shop.place.pk]
        at = found.air.at(later.timestamp())
        self.assertAlmostEqual(at.air_c, 20.0)
        self.assertEqual((at.basis.value, found.last_s), ("assumed", NOON.timestamp()))
        self.assertAlmostEqual(found.air.at(later.timestamp(), "cold").air_c, 18.0)

    def test_a_series_that_grew_lets_the_old_one_go(self):
        """Ten readings later only the newest series of the place is alive. Twelve days of log: short ones are made anew."""
        lines = "\n".join(f"{(NOON - k * H).isoformat()},{20 + k % 5 / 10},50" for k in range(288, 80, -1))
        self.send(f"time,air_c,rh_pct\n{lines}\n")
        old, since = [], NOON - 288 * H
        for n in range(10):
            clock.advance(minutes=10)
            services_of_air.note_reading(self.shop.user, self.shop.place, clock.now(), 20.0, 50.0 + n / 10)
            air = airs([self.shop.place], since, clock.now(), self.shop.workshop)[self.shop.place.pk].air
            self.assertEqual(air.kept.older is not None, n > 0)
            old.append(weakref.ref(air))
            del air
        gc.collect()
        self.assertEqual([ref() is not None for ref in old], [False] * 9 + [True])

    def test_windows_1252_is_read_too(self):
        content = "time,air_c,rh_pct,note\n2026-05-09T10:00:00+02:00,18.2,55,18 °C\n".encode("cp1252")
        self.assertEqual(self.send(content).status_code, 302)

    def test_a_move_takes_the_air_of_the_new_place(self):
        """Yard without a log: from 11:00 on the air is the workshop's assumption, 18 °C."""
        yard = Place.objects.create(name="Yard", kind="yard")
        self.shop.tell(Kind.MOVED, -1, place=yard)
        state, _ = zone_state(self.shop.zone)
        where = state.facts.where
        self.assertEqual([where.at((NOON - 2 * H).timestamp()).air_c, where.at(NOON.timestamp()).air_c], [20.0, 18.0])

    def test_a_night_outdoors_is_the_same_on_every_page(self):
        """At 20:00 in a yard of 8 °C nobody measured the metal: 4 K under the air in the band, on Now, in the ruling."""
        yard = Place.objects.create(name="Yard", kind="yard")
        self.shop.tell(Kind.MOVED, -9, place=yard)
        for hour, words in ((1, r"8\.0 °C est\."), (8.1, r"4\.0 °C assumed")):
            clock.freeze(NOON + hour * H)
            services_of_air.note_reading(self.shop.user, yard, clock.now(), 8.0, 60.0)
            page = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/"))
            self.assertRegex(page, words)
        self.assertRegex(page, r"next two days Now 4\.0 °C")
