"""The survey's pages: what is stated, kept, refused, and what became of it."""

import io
from collections import Counter

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings
from PIL import Image

from emplastra.core.surface.bare import bare_table
from emplastra.jobs import mapping, surveying
from emplastra.jobs.models import Finding, Photo, Zone
from emplastra.jobs.services import measures_of, revise_zone
from emplastra.logbook.models import Kind
from emplastra.say.book import Book
from emplastra.shared.models import Submission
from emplastra.state import known
from emplastra.survey import selectors
from emplastra.survey.selectors import surveys
from tests.base import ShopCase, text_of, zone_state


class SheetCase(ShopCase):
    def send(self, stage="found", zone=None, code=302, **values):
        """Send a zone's survey sheet; topics by name, dots in a name stand for dashes."""
        start = {"token": f"s{Submission.objects.count()}-{len(values)}-{code}", "how": "paint", "go": ""}
        typed = {name.replace("__", "-"): value for name, value in values.items()}
        answer = self.client.post(f"/zones/{(zone or self.shop.zone).pk}/survey/{stage}", start | typed)
        self.assertEqual(answer.status_code, code, text_of(answer)[-700:])
        return answer

    def statements(self, zone=None):
        """{(topic, mark): (sentence, status)} of a zone."""
        zone = zone or self.shop.zone
        found = surveys([zone], Book(zone).facts.zones)[zone.pk]
        return {(s.finding.topic, s.finding.mark): (s.answer.sentence, s.life.status) for s in found.statements}


class SheetTests(SheetCase):
    def test_only_what_is_new_is_written_down(self):
        rust = {"uncovered": "yes", "rust": "C", "rust__cause": "blocked-drain", "near": ["glass", "fuel"], "drain1": "blocked", "drain1__text": "front", "layer1": "crazed", "layer2": "factory"}  # fmt: skip
        self.send(**rust)
        self.assertEqual(Finding.objects.count(), 6)
        self.send(**rust)
        self.assertEqual(Finding.objects.count(), 6)
        self.send(**{**rust, "rust": "D", "rust__evidence": "felt"})
        self.assertEqual(Finding.objects.count(), 7)
        said = self.statements()
        self.assertEqual(said["rust", ""][1], "explained")
        self.assertEqual(said["near", ""], ("Fitted nearby: glass, fuel", "seen"))
        self.assertEqual(said["layer", "2"], ("Layer 2: sound factory finish", "seen"))
        newest = Finding.objects.latest("id")
        self.assertEqual((newest.choice, newest.evidence, newest.who), ("D", "felt", self.shop.user))
        page = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/survey/bared"))
        self.assertIn("As found: Rust grade D: mill scale rusted away", page)

    def test_a_finding_is_answered_by_a_step_that_is_put_into_the_plan(self):
        """The plan strips, wipes, primes: a weld goes after the strip, before the wipe; then holes stop no planned coat."""
        zone = self.shop.zone
        self.send(uncovered="yes", holes="holes", holes__count="2", holes__cause="chip")
        finding = Finding.objects.get(topic="holes")
        self.assertRedirects(self.client.get(f"/zones/{zone.pk}/finding/holes"), finding.get_absolute_url())
        self.assertRedirects(self.client.get(f"/zones/{zone.pk}/finding/more-9"), f"/jobs/{zone.job_id}/findings")
        self.assertRegex(text_of(self.client.get(f"/jobs/{zone.job_id}/findings")), r"2 holes.*Answer it")
        page = text_of(self.client.get(finding.get_absolute_url()))
        self.assertRegex(
            page, r"Stops 2 holes: weld, braze or patch.*Answer it Put weld into the plan Put repair into the plan"
        )
        sent = {"token": "t-answer", "answer": "new:weld", "based_on": "1"}
        for code, changed in (
            (422, {"answer": "new:paint"}),
            (422, {"based_on": "7", "token": "t-stale"}),
            (302, {}),
            (302, {}),
        ):
            self.assertEqual(self.client.post(finding.get_absolute_url(), sent | changed).status_code, code)
        self.assertEqual([s["kind"] for s in zone.build_ups.first().steps], ["strip", "weld", "degrease", "prime"])
        said = text_of(self.client.get(finding.get_absolute_url()))
        self.assertIn("its step is still to be done", said)
        self.assertNotIn("What it holds up", said)
        self.assertRegex(text_of(self.client.get(f"/jobs/{zone.job_id}/findings")), r"2 holes.*Its step")

    def test_nothing_is_graded_under_dirt_even_from_an_earlier_answer(self):
        self.send(uncovered="dirt")
        page = text_of(self.send(code=422, rust="B"))
        self.assertIn("nothing is graded under dirt", page)
        self.send(holes="holes", holes__evidence="felt")
        self.assertEqual(self.statements()["holes", ""][1], "open")
        self.send(uncovered="yes", rust="B")

    def test_a_sheet_asks_of_laminate_what_it_can_have(self):
        tank = self.shop.make_zone("Nose")
        revise_zone(tank, self.shop.user, **{**measures_of(tank), "substrate": "laminate"})
        form = self.client.get(f"/zones/{tank.pk}/survey/found").context["form"]
        self.assertIn("laminate", form.fields)
        self.assertFalse({"rust", "white", "pits", "blisters", "solder"} & set(form.fields))
        self.send(zone=tank, laminate=["crazed", "osmosis"], laminate__cause="old-paint")
        said, status = self.statements(tank)["laminate", ""]
        self.assertEqual((said, status), ("Laminate: gel coat crazed, blisters that weep: osmosis", "explained"))

    def test_bad_answers_name_field_and_bounds_and_keep_what_was_typed(self):
        table = [
            ({"thin": "thin", "thin__left": "1.4 mm"}, "1.4 mm is more than the zone’s 1 mm"),
            ({"thin": "thin", "thin__left": "two"}, "two"),
            ({"blisters": "2"}, "Blisters, size, 1 to 5: write a number"),
            ({"drain2": "closed", "drain2__probe": "1"}, "“Closed by a bung or plate” and “the probe went through” cannot both be"),
            ({"looked": "part", "looked__bare_pct": "80", "looked__paint_pct": "30"}, "over 100 %"),
            ({"near": ["nothing", "glass"]}, "nothing, or what there is, not both"),
            ({"rust": "X"}, "Select a valid choice"),
        ]  # fmt: skip
        for values, said in table:
            with self.subTest(said):
                answer = self.send(code=422, marks="marks", marks__text="plate by the door", **values)
                self.assertIn(said, text_of(answer))
                self.assertContains(answer, "plate by the door", status_code=422)
        self.assertEqual(Finding.objects.count(), 0)

    def test_the_other_side_is_shown_and_does_not_count(self):
        twin = mapping.mirror(self.shop.zone, self.shop.user, "Other side")
        self.send(zone=twin, uncovered="yes", rust="D", looked="bare")
        page = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/survey/found"))
        self.assertIn("The other side, not this one: Rust grade D", page)
        self.assertEqual(self.statements(), {})
        page = text_of(self.client.get(f"/jobs/{self.shop.job.pk}/findings"))
        figures = (
            r"seen 50 % 1\.00 m² through paint 0 % 0\.00 m² not seen Coverage\? .{,300} 50 % 1\.00 m² findings open"
        )
        self.assertRegex(page, figures)

    def test_a_viewer_may_look_but_not_state(self):
        self.client.force_login(self.shop.people["viewer"])
        self.assertEqual(self.client.get(f"/zones/{self.shop.zone.pk}/survey/found").status_code, 200)
        self.send(code=403, rust="B")
        self.assertEqual(Finding.objects.count(), 0)


class LifeTests(SheetCase):
    def say(self, finding, said, code=302, **values):
        values = {"token": f"w{Submission.objects.count()}-{said}", "said": said, **values}
        answer = self.client.post(f"/findings/{finding.pk}/", values)
        self.assertEqual(answer.status_code, code, text_of(answer)[-500:])
        return answer

    def test_a_finding_stays_open_until_its_cause_is_mended(self):
        self.send(uncovered="yes", rust="C", rust__cause="blocked-drain")
        finding = Finding.objects.get(topic="rust")
        status = lambda: self.statements()["rust", ""][1]  # noqa: E731
        self.assertEqual(status(), "explained")
        self.say(finding, "answered", step="s-strip")
        self.assertEqual(status(), "explained")
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        self.assertEqual(status(), "open")
        self.say(finding, "verified")
        self.assertEqual(status(), "open")
        self.assertIn("Still open: its cause is not mended: blocked drain", text_of(self.client.get(f"/findings/{finding.pk}/")))  # fmt: skip
        self.say(finding, "mended")
        self.assertEqual(status(), "verified")
        self.send("bared", uncovered="yes", rust="D")
        self.assertEqual(status(), "explained")  # seen anew, and worse: verified no more
        self.assertIn("no cause is named that goes on", text_of(self.say(self._chip(), "mended", 422)))
        self.assertIn("a step of the zone’s plan", text_of(self.say(finding, "answered", 422, step="")))

    def test_salt_near_and_how_it_was_abraded_move_the_hour_of_the_primer(self):
        """Bared three hours ago at 50 %: with salt 4 h, else, and tested and clean, over 7; keyed by hand another law."""
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")

        def due():
            state, facts = zone_state(self.shop.zone)
            bare = state.surface.clock("bare")
            return (bare.closes_s - facts.now.timestamp()) / 3600, bare.closes_table

        before = due()
        self.assertGreater(before[0], 4)
        self.send(salts="suspected")
        self.assertAlmostEqual(due()[0], 1, delta=0.001)
        self.send(salts="tested", salts__rise="1")
        self.assertEqual(due(), before)
        hand = {"token": "by-hand", "began": "12:00", "ended": "12:00", "share": "100", "grit": "P120", "um_off": "0", "by_hand": "on"}  # fmt: skip
        self.assertEqual(self.client.post(f"/zones/{self.shop.zone.pk}/log/keyed", hand).status_code, 302)
        self.assertEqual(due()[1], bare_table("steel", by_hand=True))
        self.assertContains(self.client.get(f"/zones/{self.shop.zone.pk}/record"), "Keyed by hand with P120")

    def _chip(self):
        self.send(pits="pits", pits__depth="0.2", pits__cause="chip")
        return Finding.objects.get(topic="pits")

    def test_figures_kept_in_memory_are_those_of_the_rows(self):
        """After each thing told, on two zones, with steps logged and struck: as folded in full, and as made anew."""
        other = self.shop.make_zone("Other")
        zones = [self.shop.zone, other]

        def same():
            facts = Book().facts.zones
            kept = selectors.summaries(zones, facts)
            whole = selectors.surveys(zones, facts)
            known.forget()
            for pk, anew in selectors.summaries(zones, facts).items():
                counts = Counter(s.life.status for s in whole[pk].statements)
                self.assertEqual((kept[pk].counts, kept[pk].coverage), (dict(counts), whole[pk].coverage))
                self.assertEqual((anew.counts, anew.coverage), (kept[pk].counts, kept[pk].coverage))
            selectors.summaries(zones, facts)
            return kept[self.shop.zone.pk].counts

        self.assertEqual(same(), {})
        self.send(
            uncovered="yes", rust="C", rust__cause="blocked-drain", looked="paint", salts="tested", salts__rise="9"
        )
        self.assertEqual(same(), {"seen": 2, "explained": 1, "open": 1})
        self.send(zone=other, uncovered="yes", looked="part", looked__bare_pct="30")
        same()
        finding = Finding.objects.get(topic="rust")
        self.say(finding, "answered", step="s-strip")
        self.say(finding, "mended")
        entry = self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        self.assertEqual(same()["answered"], 1)
        self.say(finding, "verified")
        self.assertEqual(same()["verified"], 1)
        self.client.post(f"/entries/{entry.pk}/void", {"reason": "another zone"})
        same()
        self.send("bared", uncovered="yes", rust="D")
        self.assertNotIn("verified", same())

    def test_found_more_from_a_later_step_opens_a_finding_or_a_spot(self):
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        url = f"/zones/{self.shop.zone.pk}/more"
        self.assertContains(self.client.get(f"/zones/{self.shop.zone.pk}/survey/found"), url)
        told = {"token": "m1", "what": "hole", "text": "under the step", "evidence": "bare", "cause": "water-trap", "step": "s-wipe", "spot": "Hole"}  # fmt: skip
        self.client.post(url, told)
        first = Finding.objects.get(topic="more")
        self.assertEqual((first.mark, first.stage, first.step), ("1", "bared", "s-wipe"))
        self.client.post(url, told)
        self.assertEqual(Finding.objects.count(), 1)
        answer = self.client.post(url, told | {"token": "m2", "area": "120 cm2"})
        spot = Zone.objects.get(name="Hole")
        self.assertEqual((answer.url, spot.parent), (f"/zones/{spot.pk}/", self.shop.zone))
        self.assertEqual([f.mark for f in Finding.objects.filter(topic="more")], ["1", "2"])
        self.assertIn("What: ", text_of(self.client.post(url, {"token": "m3"})))


def jpeg(width=60, height=40, exif=None, kind="JPEG"):
    """A picture of noise, with metadata."""
    pixels = np.random.default_rng(1).integers(0, 255, (height, width, 3), dtype=np.uint8)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, kind, **({"exif": exif} if exif else {}))
    return out.getvalue()


class PhotoTests(SheetCase):
    def setUp(self):
        super().setUp()
        import tempfile

        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        settings = override_settings(MEDIA_ROOT=folder.name)
        settings.enable()
        self.addCleanup(settings.disable)

    def add(self, data, name="photo.jpg", **values):
        values = {"token": f"p{Submission.objects.count()}-{len(data)}", "when": "before", "note": "edge", **values}
        return self.client.post(f"/zones/{self.shop.zone.pk}/photo", values | {"photo": SimpleUploadedFile(name, data)})

    def test_where_it_was_taken_is_not_kept(self):
        exif = Image.Exif()
        exif[0x0112] = 6  # to be turned by 90 degrees
        exif[0x010F] = "Camera of the test"
        gps = exif.get_ifd(0x8825)
        gps[1], gps[2], gps[3], gps[4] = "N", (48.0, 12.0, 30.0), "E", (16.0, 22.0, 0.0)
        sent = jpeg(exif=exif)
        self.assertTrue(Image.open(io.BytesIO(sent)).getexif().get_ifd(0x8825))
        self.assertEqual(self.add(sent).status_code, 302)
        photo = Photo.objects.get()
        self.assertEqual((photo.width, photo.height), (40, 60))
        for size in ("whole", "small"):
            kept = b"".join(self.client.get(f"/photos/{photo.pk}/{size}").streaming_content)
            image = Image.open(io.BytesIO(kept))
            self.assertEqual((image.format, dict(image.getexif()), image.info.get("exif")), ("JPEG", {}, None))
            self.assertNotIn(b"Camera of the test", kept)
        self.client.logout()
        self.assertEqual(self.client.get(f"/photos/{photo.pk}/whole").status_code, 302)

    def test_what_a_camera_wrote_beside_the_picture_may_be_broken(self):
        """A tag of text under the number of one that holds a whole number: the picture is kept as it lies."""
        exif, out = Image.Exif(), io.BytesIO()
        exif[0x0112], exif[0x010E] = 6, "xxx"
        Image.new("RGB", (20, 15), "red").save(out, "JPEG", exif=exif)
        broken = out.getvalue().replace(b"\x01\x0e\x00\x02", b"\x01\x03\x00\x02", 1)
        self.assertEqual(self.add(broken).status_code, 302)
        self.assertEqual((Photo.objects.get().width, Photo.objects.get().height), (20, 15))

    def test_what_is_no_photo_is_refused(self):
        table = [
            (b"<svg onload=alert(1)>", "is not a picture that can be read: send a JPEG, PNG or WebP"),
            (jpeg(kind="GIF"), "is not a picture that can be read"),
            (jpeg()[:300], "is not a picture that can be read"),
            (b"\xff\xd8" + b"0" * 15_000_001, "has 15 MB: at most 15 MB"),
        ]
        for data, said in table:
            with self.subTest(said, n=len(data)):
                answer = self.add(data)
                self.assertEqual(answer.status_code, 422)
                self.assertIn(said, text_of(answer))
        out = io.BytesIO()
        Image.new("1", (8000, 6000)).save(out, "PNG")
        self.assertIn("has 48 megapixels: at most 40", text_of(self.add(out.getvalue(), "big.png")))
        self.assertEqual(Photo.objects.count(), 0)

    def test_before_and_after_belong_to_a_finding(self):
        self.send(uncovered="yes", holes="holes")
        finding = Finding.objects.get(topic="holes")
        url = f"/zones/{self.shop.zone.pk}/photo?finding={finding.pk}"
        answer = self.client.post(url, {"token": "a", "when": "after", "photo": SimpleUploadedFile("a.jpg", jpeg())})
        self.assertEqual(answer.url, f"/findings/{finding.pk}/")
        self.assertContains(self.client.get(answer.url), "After")
        self.assertEqual(surveying.held(self.shop.zone)["found", "holes", ""].photos.count(), 1)
