"""Contractors, parts that are off, what is put off, and the survey as a file."""

import csv
import io
import json
from datetime import timedelta

import jsonschema
from django.core.files.uploadedfile import SimpleUploadedFile

from emplastra.core.survey.file import SCHEMA
from emplastra.jobs import surveying
from emplastra.jobs.models import Finding, FindingWord, PartOff, Watch
from emplastra.jobs.services import copy_job, save_build_up
from emplastra.logbook.models import Entry, Kind
from emplastra.say.book import Book
from emplastra.shared import clock
from emplastra.shared.models import Submission
from tests.base import NOON, ShopCase, text_of, zone_state
from tests.web.test_survey import SheetCase


class ContractorTests(ShopCase):
    def log(self, kind, zone=None, code=302, **values):
        start = {"token": f"a{Submission.objects.count()}-{kind}-{code}", "began": "11:00", "ended": "11:30"}
        answer = self.client.post(f"/zones/{(zone or self.shop.zone).pk}/log/{kind}", start | values)
        self.assertEqual(answer.status_code, code, text_of(answer)[-600:])
        return answer

    def away(self, **values):
        return self.log("away", contractor="The dip works", trade="dip", work="acid dip", due="2026-05-14", **values)

    def test_what_goes_together_comes_back_together_in_primer(self):
        other = self.shop.make_zone("Other")
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        self.away(send_off=["welds", "marks"], condition="one dent", also=[other.pk])
        page = text_of(self.client.get("/contractor/"))
        self.assertRegex(page, r"due Thu 14 May.*The dip works.*Cab side.*, Other")
        self.assertRegex(
            page, r"Not looked after Holes deburred, drains open · Out before heat.*Photographed from all sides"
        )
        self.assertRegex(
            text_of(self.client.get("/")), r"At The dip works, due\s+Thu 14 May\s*; its clocks are suspended"
        )
        self.assertIn(
            "Other is away already", text_of(self.log("away", other, 422, contractor="x", trade="other", work="y"))
        )
        clock.advance(days=3)
        book = Book()
        self.assertEqual([book.state(z).act.group for z in (self.shop.zone, other)], [2, 2])
        self.assertRegex(text_of(self.client.get("/")), r"was due\s+Thu 14 May\s*, 1 day ago")
        refused = self.log("back", code=422, began="11:40", ended="11:50", came="temporary")
        self.assertIn("say of what kind it is", text_of(refused))
        self.log("back", began="11:40", ended="11:50", came="temporary", primer="wash primer", condition="two dents", rework="dent at the foot")  # fmt: skip
        for zone in (self.shop.zone, other):
            surface = zone_state(zone)[0].surface
            self.assertEqual(([x.product for x in surface.layers], surface.bare, surface.away_s), (["wash primer"], (), None))  # fmt: skip
        page = text_of(self.client.get("/contractor/"))
        self.assertRegex(page, r"0 away.*in a temporary primer: wash primer.*Condition out one dent · back two dents.*To be done again dent at the foot")  # fmt: skip
        finding = Finding.objects.get()
        self.assertEqual((finding.topic, finding.text), ("more", "dent at the foot"))
        record = text_of(self.client.get(f"/zones/{other.pk}/record"))
        self.assertRegex(record, r"Sent to The dip works: acid dip.*condition out one dent.*looked after 2 of 6")
        self.assertRegex(
            record, r"Back: two dents.*came in a temporary primer, wash primer.*to be done again dent at the foot"
        )
        # The return struck through, they are away again.
        back = Entry.objects.get(kind=Kind.BACK)
        self.client.post(f"/entries/{back.pk}/void", {"reason": "the wrong day"})
        self.assertIn("1 away", text_of(self.client.get("/contractor/")))
        self.assertTrue(all(zone_state(z)[0].surface.away_s for z in (self.shop.zone, other)))

    def test_what_goes_before_its_turn_is_on_its_step_and_comes_back_from_it(self):
        """Sent with its strip undone and back in powder, it is stripped; what went with it is on its own plan's step."""
        other = self.shop.make_zone("Other")
        for zone, step in ((self.shop.zone, "a"), (other, "b")):
            save_build_up(zone, self.shop.user, [{"kind": "strip", "id": "s"}, {"kind": "contractor", "id": step}, {"kind": "inspect", "id": "i"}], 1)  # fmt: skip
        address = f"/zones/{self.shop.zone.pk}/log/"
        step = lambda kind: self.client.get(address + kind).context["form"]["step"].value()  # noqa: E731
        self.assertEqual((zone_state(other)[0].next_step.id, step("away")), ("s", "a"))
        self.away(step="a", also=[other.pk])
        self.assertEqual(step("back"), "a")
        self.log("back", began="11:40", ended="11:50", step="a", came="coated", primer="black powder")
        for zone in (self.shop.zone, other):
            self.assertEqual(zone_state(zone)[0].next_step.id, "i")

    def test_what_had_no_step_when_it_went_comes_back_from_the_one_planned_since(self):
        other = self.shop.make_zone("Other")
        self.away(also=[other.pk])
        for zone, step in ((self.shop.zone, "a"), (other, "b")):
            save_build_up(zone, self.shop.user, [{"kind": "contractor", "id": step}, {"kind": "inspect", "id": "i"}], 1)
        start = self.client.get(f"/zones/{self.shop.zone.pk}/log/back").context["form"]["step"].value()
        self.assertEqual(start, "a")
        self.log("back", began="11:40", ended="11:50", step=start, came="bare")
        self.assertEqual([zone_state(z)[0].next_step.id for z in (self.shop.zone, other)], ["i", "i"])

    def test_an_absence_is_struck_only_with_its_return(self):
        away = self.shop.tell(Kind.AWAY, -30, contractor="Plater", due=None)
        self.shop.tell(Kind.BACK, -6, away=away, came="bare", condition="clean")
        page = f"/entries/{away.pk}/void"
        self.assertContains(self.client.get(page), "Back")
        self.assertContains(self.client.post(page, {"reason": "never left"}), "only together", status_code=422)
        self.client.post(page, {"reason": "never left", "together": "1"})
        self.assertFalse(Entry.objects.known_at().of(Kind.AWAY, Kind.BACK).exists())

    def test_a_visit_is_told_as_one(self):
        self.log("away", contractor="Dent man", trade="dents", work="dents of the roof", visit="on")
        self.assertIn(
            "Dent man came for dents of the roof", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record"))
        )
        self.assertIn("no day told", text_of(self.client.get("/contractor/")))


class RegisterTests(ShopCase):
    def test_parts_come_off_and_go_back_on_before_a_closing(self):
        url = f"/jobs/{self.shop.job.pk}/parts"
        door = {"token": "d", "item": "Door", "zone": self.shop.zone.pk, "fixings": "6 of M8", "shims": "upper hinge 1.5; lower 1/8 in", "broken": "check strap", "to_buy": "a strap"}  # fmt: skip
        self.client.post(url, door)
        self.client.post(url, door)
        part = PartOff.objects.get()
        self.assertEqual(part.shims, [["upper hinge", 1.5], ["lower", 3.175]])
        for shims, said in (("upper", "write place and thickness"), ("2 mm", "name the place"), ("front 200 mm", "up to 100 mm")):  # fmt: skip
            answer = self.client.post(url, door | {"token": shims, "shims": shims})
            self.assertEqual(answer.status_code, 422)
            self.assertIn(said, text_of(answer))
            self.assertContains(answer, "check strap", status_code=422)
        page = text_of(self.client.get(url))
        self.assertRegex(
            page, r"1 to refit.*To buy a strap for Door.*upper hinge 1\.5 mm\s*, lower 3\.2 mm.*Broken check strap"
        )
        closing = f"/zones/{self.shop.zone.pk}/log/access?how=closed"
        self.assertRegex(text_of(self.client.get(closing)), r"Refit before it is closed: Door \(upper hinge 1\.5 mm")
        for said in ("bought", "mended", "refitted", "refitted"):
            self.client.post(f"/parts/{part.pk}/word", {"said": said, "token": "same"})
        self.assertEqual([w.said for w in part.words.order_by("id")], ["bought", "mended", "refitted"])
        self.assertNotIn("Refit before", text_of(self.client.get(closing)))
        late = self.client.post(f"/parts/{part.pk}/word", {"said": "gone", "token": "n"}, follow=True)
        self.assertIn("Door is off no more", text_of(late))

    def test_what_is_put_off_comes_back_on_the_bench(self):
        """Put off on 12 May with a look on 20 May, its coat holding until 26 May."""
        url, told = f"/zones/{self.shop.zone.pk}/put-off", {"kind": "put-off", "what": "weld the lip", "why": "no panel", "holding": "wash primer", "expires": "2026-05-26"}  # fmt: skip
        for look, said in (("2026-05-27", "before the holding coat’s end on 26 May 2026"), ("2026-05-01", "must not lie in the past"), ("soon", "Enter a valid date")):  # fmt: skip
            answer = self.client.post(url, told | {"token": look, "next_look": look})
            self.assertEqual((answer.status_code, said in text_of(answer)), (422, True), said)
        self.client.post(url, told | {"token": "p", "next_look": "2026-05-20"})
        watch = Watch.objects.get()
        self.assertNotIn("weld the lip", text_of(self.client.get("/")))
        clock.freeze(NOON + timedelta(days=8))
        self.assertRegex(
            text_of(self.client.get("/")), r"put off Cab side.*weld the lip no panel.*Look at it: Wed 20 May"
        )
        self.client.post(f"/put-off/{watch.pk}/look", {"token": "l", "found": "holds", "next_look": "2026-06-20"})
        self.assertNotIn("weld the lip", text_of(self.client.get("/")))
        clock.freeze(NOON + timedelta(days=15))
        self.assertRegex(text_of(self.client.get("/")), r"Holding coat ended Tue 26 May")
        self.client.post(f"/put-off/{watch.pk}/look", {"token": "m", "found": "welded"})
        self.assertNotIn("weld the lip", text_of(self.client.get("/put-off/")))
        again = self.client.post(f"/put-off/{watch.pk}/look", {"token": "n", "found": "twice"})
        self.assertIn("it is over", text_of(again))


class FileTests(SheetCase):
    def fill(self):
        """A survey with both passes, a cause, a step, figures, signs that a spreadsheet would run."""
        self.send(uncovered="yes", looked="part", looked__bare_pct="12.5", looked__paint_pct="50", rust="C", rust__cause="blocked-drain", drain1="blocked", drain1__text='=HYPERLINK("x"), front', near=["glass", "trim"])  # fmt: skip
        self.send("bared", uncovered="yes", thin="thin", thin__left="0.7 mm", thin__evidence="tapped")
        rust = Finding.objects.get(topic="rust")
        surveying.say_of(rust, self.shop.user, "mended", note="opened")
        surveying.say_of(rust, self.shop.user, "answered", step="s-strip")

    def take_in(self, name, data, job, code=302):
        data = data.encode() if isinstance(data, str) else data
        values = {"token": f"f{Submission.objects.count()}-{len(data)}-{code}", "file": SimpleUploadedFile(name, data)}
        answer = self.client.post(f"/jobs/{job.pk}/survey/file", values)
        self.assertEqual(answer.status_code, code, text_of(answer)[-700:])
        return text_of(answer)

    def test_out_in_and_out_again_is_the_same(self):
        self.fill()
        job = self.shop.job
        for kind, rows in (("json", 10), ("csv", 7)):
            with self.subTest(kind):
                out = self.client.get(f"/jobs/{job.pk}/survey.{kind}").content
                copy = copy_job(job, self.shop.user, f"Copy {kind}")
                self.take_in(f"a.{kind}", out, copy)
                again = self.client.get(f"/jobs/{copy.pk}/survey.{kind}").content
                self.assertEqual(again.decode().replace(f"Copy {kind}", job.name), out.decode())
                written = Finding.objects.filter(zone__job=copy).count() + FindingWord.objects.filter(finding__zone__job=copy).count()  # fmt: skip
                self.assertEqual(written, rows if kind == "json" else rows + 1)
                self.take_in(f"a.{kind}", out, copy)
                self.assertEqual(written, Finding.objects.filter(zone__job=copy).count() + FindingWord.objects.filter(finding__zone__job=copy).count())  # fmt: skip
                zone = copy.zones.get()
                if kind == "json":
                    self.assertEqual(self.statements(zone), self.statements())
        table = list(csv.reader(io.StringIO(self.client.get(f"/jobs/{job.pk}/survey.csv").content.decode())))
        cells = [cell for row in table for cell in row]
        self.assertIn('\'=HYPERLINK("x"), front', cells)
        self.assertFalse([c for c in cells if c[:1] in "=+-@" and c])

    def test_the_schema_is_published_and_fits_the_export(self):
        self.fill()
        schema = json.loads(self.client.get("/survey-schema.json").content)
        self.assertEqual(schema, json.loads(json.dumps(SCHEMA)))
        jsonschema.Draft202012Validator.check_schema(schema)
        jsonschema.validate(json.loads(self.client.get(f"/jobs/{self.shop.job.pk}/survey.json").content), schema)

    def test_the_record_of_a_job_holds_its_survey(self):
        self.fill()
        record = json.loads(self.client.get(f"/jobs/{self.shop.job.pk}/record.json").content)
        survey = json.loads(self.client.get(f"/jobs/{self.shop.job.pk}/survey.json").content)
        self.assertEqual(record["survey"], survey["zones"])

    def test_files_that_do_not_fit_write_nothing(self):
        def document(zone="Cab side", **more):
            item = {"pass": "found", "topic": "rust", "choice": "B", "evidence": "bare", "seen": "2026-05-12T10:00:00+02:00"}  # fmt: skip
            good = {**item, "topic": "wax", "choice": "no"}
            return json.dumps(
                {"format": "emplastra-survey/1", "zones": [{"zone": zone, "told": [good, {**item, **more}]}]}
            )

        table = [
            ("a.json", document("Door"), "the job has no zone called “Door”: its zones are Cab side"),
            ("a.json", document(choice="E"), "zones/0/told/1: Rust grade: must be one of none, A, B, C, D"),
            ("a.json", document(topic="colour"), "zones/0/told/1"),
            ("a.json", document(seen="yesterday"), "no moment; write ISO 8601"),
            ("a.json", document(seen="2026-05-12T10:00:00"), "has no offset"),
            ("a.json", document(seen="2026-06-12T10:00:00+02:00"), "lies in the future"),
            ("a.json", document(seen="0001-01-01T00:00:00+14:00"), "no year of ours"),
            ("a.json", document(seen="2026-05-12T10:00:00+99:00"), "no moment"),
            ("a.json", document(topic="thin", choice="thin", figures={"left": float("nan")}), "zones/0/told/1/figures/left: is no finite number"),
            ("a.json", document(text="a\ud800b"), "characters that are no text"),
            ("a.json", document(figures={"depth": 10**400}), "far too large"),
            ("a.json", document(text=None), "zones/0/told/1"),
            ("a.json", document(topic="thin", choice="thin", figures={"left": 3}), "Cab side: Thickness left: 3 mm is more than the zone’s 1 mm"),
            ("a.json", "{", "this is not JSON"),
            ("a.json", b"PK\x00\x03", "this is not a text file"),
            ("a.json", "[" * 100_000, "this is not JSON"),
            ("a.csv", "zone,pass\nCab side,found\n", "no column is called topic, choice"),
            ("a.csv", "zone,pass,topic,choice,seen\nCab side,found,rust,B,2026-06-12T10:00:00+02:00\n", "lies in the future"),
            ("a.csv", "zone,pass,topic,choice,text\nCab side,found,rust,B," + "x" * 140_000, "no table of text: field larger"),
            ("a.csv", "zone,pass,topic,choice,figures,seen\nCab side,found,pits,pits,depth=inf,2026-05-12T10:00:00+02:00\n", "write name=number"),
            ("a.csv", "zone,pass,topic,choice,figures,seen\nCab side,found,pits,pits,depth,2026-05-12T10:00:00+02:00\n", "write name=number, as in depth=0.3"),
        ]  # fmt: skip
        for name, data, said in table:
            with self.subTest(said):
                self.assertIn(said, self.take_in(name, data, self.shop.job, 422))
        self.assertEqual(Finding.objects.count(), 0)

    def test_the_report_tells_what_is_known_and_what_is_not(self):
        self.fill()
        page = text_of(self.client.get(f"/jobs/{self.shop.job.pk}/report"))
        self.assertRegex(page, r"12 % seen, 38 % not seen")
        self.assertRegex(
            page, r"As bared.*Thickness left: thin, thinnest left 0\.7 mm tapped · open: no step answers it yet"
        )
        self.assertIn("Not looked at: ", page)
