"""Kinds of entries: each is one module, and a note keeps its words and its photo."""

import re
from pathlib import Path

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from emplastra.accounts.models import Workshop
from emplastra.jobs.services import save_build_up
from emplastra.logbook.kind import GROUPS
from emplastra.logbook.models import KINDS, Entry
from emplastra.shared.services import new_token
from tests.base import ShopCase
from tests.web.test_survey import jpeg

ROOT = Path(__file__).parents[2] / "emplastra"


class OneModuleTests(ShopCase):
    def test_a_kind_is_known_by_its_own_module_alone(self):
        """The note is named by no module but its own: adding a kind is adding a file, and a migration."""
        named = re.compile(r"Kind\.NOTE\b|kinds\.note\b|NoteForm|note_kept")
        found = [path for path in ROOT.rglob("*.*") if path.suffix in {".py", ".html"} and "migrations" not in path.parts and named.search(path.read_text())]  # fmt: skip
        self.assertEqual([path.relative_to(ROOT).as_posix() for path in found], ["logbook/kinds/note.py"])

    def test_log_offers_every_kind_with_a_form_in_its_group(self):
        page = self.client.get(reverse("work:log", args=[self.shop.zone.pk, "note"])).content.decode()
        for kind in KINDS.values():
            with self.subTest(kind.key):
                self.assertEqual(kind.group in GROUPS, kind.form is not None)
                address = reverse("work:log", args=[self.shop.zone.pk, kind.key]) if kind.form else f"/log/{kind.key}"
                self.assertEqual(address in page, kind.form is not None)


class DetailTests(ShopCase):
    def test_what_was_not_told_has_no_row_and_is_said_without_it(self):
        self.assertFalse(hasattr(self.shop.tell("bared", -3, -2), "bared"))
        told = {"token": new_token(), "began": "09:00", "ended": "10:00", "share": "100", "how": ""}
        self.client.post(reverse("work:log", args=[self.shop.zone.pk, "bared"]), told)
        for entry in Entry.objects.of("bared"):
            self.assertEqual(KINDS["bared"].tell(entry, None), ("Bared", []))
        self.assertEqual(Entry.objects.of("bared").count(), 2)

    def test_a_block_begins_with_what_the_plan_takes_of_the_layer_under_it(self):
        steps = [{"id": "s-prime", "kind": "prime", "product": "Test primer", "coats": 1, "dft_um": 80, "sanded_um": 30, "method": "brush"}, {"id": "b", "kind": "block", "grit": "P320"}]  # fmt: skip
        save_build_up(self.shop.zone, self.shop.user, steps, 1)
        form = lambda: self.client.get(reverse("work:log", args=[self.shop.zone.pk, "keyed"])).context["form"]  # noqa: E731
        self.assertEqual((form()["step"].value(), form()["um_off"].value()), ("", "0"))  # the coat comes first
        self.shop.coat(-30, -29)
        self.assertEqual(
            (form()["step"].value(), form()["grit"].value(), form()["um_off"].value()), ("b", "P320", "30")
        )

    def test_another_step_of_the_plan_brings_its_grit_and_what_it_takes(self):
        steps = [{"id": "a", "kind": "abrade", "grit": "P80"}, {"id": "p", "kind": "prime", "product": "Test primer", "coats": 1, "dft_um": 80, "sanded_um": 30, "method": "brush"}, {"id": "b", "kind": "block", "grit": "P320"}]  # fmt: skip
        save_build_up(self.shop.zone, self.shop.user, steps, 1)
        address = reverse("work:log", args=[self.shop.zone.pk, "keyed"])
        for step, said in (("a", ("P80", "0")), ("b", ("P320", "30")), ("", (None, "0"))):
            answer = self.client.get(address, {"step": step})
            form = answer.context["form"]
            self.assertEqual((form["grit"].value(), form["um_off"].value()), said)
        self.assertIn("followed", answer.headers["HX-Trigger-After-Settle"])
        wired = form.fields["step"].widget.attrs
        self.assertEqual((wired["hx-get"], wired["hx-select-oob"]), (address, "#f-grit,#f-um_off"))

    def test_an_export_writes_its_quantities_too(self):
        self.shop.tell("keyed", -3, -2, grit="P120", um_off=25.4)
        address = reverse("record:json", args=[self.shop.job.pk])
        for units, said in (("metric", "25 µm"), ("us", "1.0 mil")):
            Workshop.objects.update(units=units)
            entries = self.client.get(address).json()["zones"][0]["entries"]
            self.assertEqual([e["facts"]["film off"] for e in entries if e["kind"] == "keyed"], [said])


class NoteTests(ShopCase):
    def note(self, **more):
        told = {"token": new_token(), "began": "12:00", "ended": "12:00", "note": "Seam whistles in the wind", **more}
        return self.client.post(reverse("work:log", args=[self.shop.zone.pk, "note"]), told, follow=True)

    def test_a_note_with_a_photo_stands_in_the_record_and_changes_no_clock(self):
        self.assertEqual(self.note(photo=SimpleUploadedFile("a.jpg", jpeg(), "image/jpeg")).status_code, 200)
        entry = Entry.objects.get(kind="note")
        picture = KINDS["note"].photo(entry)
        record = self.client.get(reverse("record:zone", args=[self.shop.zone.pk]))
        self.assertContains(record, "Seam whistles in the wind")
        self.assertContains(record, reverse("survey:photo", args=[picture.pk, "small"]))
        correct = reverse("work:correct", args=["note", entry.pk])
        told = {"token": new_token(), "began": "12:00", "ended": "12:00", "note": "It whistled", "reason": "once only", "confirm_old": "on"}  # fmt: skip
        self.assertEqual(self.client.post(correct, told).status_code, 302)
        self.assertEqual(KINDS["note"].photo(Entry.objects.known_at().get(kind="note")), picture)

    def test_a_note_of_nothing_and_what_is_no_picture_are_refused(self):
        self.assertContains(self.note(note=""), "write what is worth remembering", status_code=422)
        bad = SimpleUploadedFile("a.jpg", b"no picture", "image/jpeg")
        self.assertContains(self.note(photo=bad), "is not a picture that can be read", status_code=422)
        self.assertFalse(Entry.objects.filter(kind="note").exists())


class PlacesTests(ShopCase):
    def current(self, address):
        """Names marked as where one is, in order: tool, tab, page."""
        page = self.client.get(address).content.decode()
        return re.findall(r'aria-current="(?:page|true)"\s*>([^<]+)<', page)

    def test_every_page_says_where_it_stands(self):
        zone, job = self.shop.zone.pk, self.shop.job.pk
        table = [
            ("/", ["Bench", "Bench"]), ("/air/import", ["Air"]), ("/rules/", ["More", "More"]), (f"/zones/{zone}/", ["Now"]),
            (f"/zones/{zone}/plan", ["Plan", "Build-up"]), (f"/zones/{zone}/strip", ["Plan", "Strip plan"]),
            (f"/zones/{zone}/survey/bared", ["Inspect", "Survey"]), (f"/zones/{zone}/record", ["Record", "Record"]),
            (f"/jobs/{job}/findings", ["Inspect", "Findings"]), (f"/jobs/{job}/access", ["Decide", "Access"]),
        ]  # fmt: skip
        for address, names in table:
            with self.subTest(address):
                self.assertEqual(self.current(address), names)

    def test_log_calls_what_happened_by_its_own_name(self):
        page = self.client.get(f"/zones/{self.shop.zone.pk}/log/").content.decode()
        self.assertRegex(page, r">\s*Weld or grind\s*<")
        self.assertNotRegex(page, r">\s*Film lost\s*<")
