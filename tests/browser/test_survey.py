"""A walk round a piece with a phone in one hand, from nothing to the coverage."""

import re
import tempfile
from pathlib import Path

from django.test import override_settings
from playwright.sync_api import expect

from emplastra.jobs.models import Zone
from tests.browser.base import BrowserCase
from tests.web.test_survey import jpeg


class WalkTests(BrowserCase):
    size = (390, 844)

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        settings = override_settings(MEDIA_ROOT=folder.name)
        settings.enable()
        self.addCleanup(settings.disable)
        super().setUp()
        self.photo = Path(folder.name) / "photo.jpg"
        self.photo.write_bytes(jpeg(800, 600))

    def tile(self, question, answer):
        """Tap an answer of a question."""
        topic = self.page.locator(f'[data-topic="{question}"]')
        topic.locator("label.tile", has_text=answer).first.click()
        return topic

    def open_group(self, key):
        """Unfold a group of questions."""
        group = self.page.locator(f"#g-{key}")
        if group.get_attribute("open") is None:
            group.locator("summary").click()

    def save(self):
        self.page.get_by_role("button", name="Save", exact=True).click()
        expect(self.page.locator(".note.is-done")).to_be_visible()

    def head(self, name):
        """The page's heading begins with this."""
        expect(self.page.locator("h1")).to_contain_text(name)

    def map_line(self, name):
        """A zone's line in the list of the job."""
        line = self.page.locator(".zone-line", has=self.page.get_by_role("link", name=name, exact=True))
        expect(line).to_have_count(1)
        return line

    def change(self, name, act):
        """Do something to a zone of the map."""
        line = self.map_line(name)
        line.locator("summary").click()
        line.get_by_role("link", name=act, exact=True).click()

    def test_walk_round(self):
        page = self.page
        self.sign_in()
        page.get_by_label("Main").get_by_role("link", name="Jobs").click()
        page.get_by_role("link", name="New job").click()
        page.get_by_label("Piece").fill("Locker doors")
        page.get_by_role("button", name="Make the job").click()
        # A job leads to its first zone; the layout is on its map.
        page.get_by_role("link", name="Locker doors").first.click()
        page.get_by_role("link", name="Door set").click()
        page.get_by_label("Length").fill("900 mm")
        page.get_by_label("Width").fill("60 mm")
        page.get_by_label("Height").fill("1.5 m")
        page.get_by_label("Thickness").fill("1 mm")
        page.get_by_label("Stands in").select_option(label="Shop")
        page.get_by_role("button", name="Make these zones").click()
        self.head("Locker doors")
        expect(page.locator(".map-view")).to_have_count(3)
        expect(page.locator(".coverage")).to_contain_text("100 %")
        self._labels_do_not_overlap()
        page.get_by_label("Job", exact=True).get_by_role("link", name="Inspect").click()
        page.get_by_role("link", name="Survey", exact=True).click()
        self._six_zones()
        self._split_and_spots()
        self._away_and_back()
        self._found_more_while_stripping()

    def _labels_do_not_overlap(self):
        """By the boxes that the browser draws, not by ours."""
        page = self.page
        for view in page.locator(".map-view").all():
            boxes = [t.bounding_box() for t in view.locator("text").all()]
            for i, a in enumerate(boxes):
                for b in boxes[i + 1 :]:
                    apart = a["x"] + a["width"] <= b["x"] + 0.5 or b["x"] + b["width"] <= a["x"] + 0.5 or a["y"] + a["height"] <= b["y"] + 4 or b["y"] + b["height"] <= a["y"] + 4  # fmt: skip
                    self.assertTrue(apart, (a, b))

    def _six_zones(self):
        """The first in full, with the network gone half way; the others as they come."""
        page = self.page
        self.head("Door, left, outer")
        expect(page.locator(".walk")).to_contain_text("1 of 6")
        self.tile("uncovered", "Dirt packed in")
        self.open_group("metal")
        rust = self.tile("rust", "C: mill scale")
        rust.get_by_label("Cause").select_option(label="Blocked drain")
        self.allow("422")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.locator('[data-topic="rust"]')).to_contain_text("nothing is graded under dirt")
        self.tile("uncovered", "Yes, clean")
        part = self.tile("looked", "Part of it")
        part.get_by_label("bare or by mirror").fill("40")
        part.get_by_label("through paint, felt").fill("60")
        thin = self.tile("thin", "Thin")
        thin.get_by_label("thinnest left").fill("1.4 mm")
        self.allow("422", "htmx:sendError", "htmx:afterRequest", "ERR_INTERNET_DISCONNECTED")
        self.context.set_offline(True)
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.locator("#lost")).to_be_visible()
        self.context.set_offline(False)
        page.reload()
        expect(page.get_by_text("What you typed before is back")).to_be_visible()
        self.open_group("metal")
        expect(page.locator('[data-topic="thin"]').get_by_label("thinnest left")).to_have_value("1.4 mm")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.locator('[data-topic="thin"]')).to_contain_text("1.4 mm is more than the zone’s 1 mm")
        page.locator('[data-topic="thin"]').get_by_label("thinnest left").fill("0.7")
        self.open_group("water")
        drain = page.locator('[data-topic="drain1"]')
        drain.get_by_label("Drain 1").select_option(label="Probed: blocked")
        drain.get_by_label("where").fill("foot, left")
        page.get_by_role("button", name="Save, next zone").click()
        self.head("Door, left, foot")
        for name in ("Door, left, foot", "Door, right, outer", "Door, right, foot", "Door, left, inner"):
            self.head(name)
            self.tile("uncovered", "Yes, clean")
            self.tile("looked", "All of it, bare")
            page.get_by_role("button", name="Save, next zone").click()
        self.head("Door, right, inner")
        self.tile("looked", "All of it, through paint")
        page.get_by_role("link", name="Photo, before").click()
        page.get_by_label("Photo").set_input_files(self.photo)
        page.get_by_label("Of what").fill("lock")
        page.get_by_role("button", name="Keep it").click()
        expect(page.locator(".photos img")).to_be_visible()
        expect(page.get_by_text("What you typed before is back")).to_be_visible()
        page.get_by_role("button", name="Save, to the findings").click()
        # 1.35 m² four times and 0.072 m² twice: 2 x 1.35 + 2 x 0.072 + 0.54 of 5.544 m² seen.
        expect(page).to_have_title(re.compile("^Findings of Locker doors"))
        expect(page.locator(".coverage")).to_contain_text("61 % 3.38 m²")
        expect(page.locator(".coverage")).to_contain_text("39 % 2.16 m²")
        expect(page.locator(".finding", has_text="Rust grade C")).to_contain_text("explained")

    def _split_and_spots(self):
        page = self.page
        page.get_by_label("Job", exact=True).get_by_role("link", name="Map").click()
        self.change("Door, left, inner", "Split")
        page.get_by_label("First part").fill("Inner, above")
        page.get_by_label("Second part").fill("Inner, below")
        page.get_by_label("Share of the first").fill("60")
        page.get_by_role("button", name="Split it").click()
        expect(self.map_line("Inner, above")).to_contain_text("0.81 m²")
        expect(self.map_line("Inner, below")).to_contain_text("0.54 m²")
        for name, size in (("Chip at the lock", "60 x 40 mm"), ("Hole at the hinge", "120 cm2")):
            self.change("Door, right, outer", "Open a spot")
            page.get_by_label("Spot", exact=True).fill(name)
            page.get_by_label("Area").fill(size)
            page.get_by_role("button", name="Open it").click()
            self.head(name)
            page.get_by_role("link", name="Locker doors").first.click()
        expect(self.map_line("◆ Hole at the hinge")).to_contain_text("0.01 m²")

    def _away_and_back(self):
        page = self.page
        self.map_line("Door, right, foot").get_by_role("link", name="Door, right, foot").click()
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Log").click()
        page.get_by_role("link", name="Sent away").click()
        page.get_by_label("To whom").fill("The dip works")
        page.get_by_label("For what").fill("acid dip")
        page.get_by_label("Holes deburred, drains open").check()
        page.get_by_role("button", name="Log it").click()
        expect(page.locator(".now-line")).to_contain_text("At The dip works")
        page.get_by_label("Main").get_by_role("link", name="More").click()
        page.get_by_role("link", name="Contractor").click()
        expect(page.locator(".absence")).to_contain_text("Welds looked at all round")
        page.get_by_role("link", name="Back", exact=True).click()
        page.get_by_label("In a temporary primer").check()
        page.get_by_label("Temporary primer or coat").fill("wash primer")
        page.get_by_label("Condition").fill("one dent")
        page.get_by_role("button", name="Log it").click()
        expect(page.locator(".note.is-done")).to_be_visible()
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Record").click()
        expect(page.locator(".record")).to_contain_text("in a temporary primer, wash primer")

    def _found_more_while_stripping(self):
        page = self.page
        page.get_by_role("link", name="Locker doors").first.click()
        self.map_line("Door, left, outer").get_by_role("link", name="Door, left, outer").click()
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Log").click()
        page.get_by_role("link", name="Bared").click()
        page.get_by_role("button", name="Log it").click()
        self.tab("Found more")
        page.locator("label.tile", has_text="Hole").click()
        page.get_by_label("Where, how large").fill("under the handle, 20 mm")
        page.get_by_label("Cause").select_option(label="Dirt or water trap")
        page.get_by_role("button", name="Write it down").click()
        expect(page.locator(".now-line")).to_contain_text("Found more: hole (under the handle, 20 mm)")
        page.get_by_role("button", name="Looked again: verified").click()
        expect(page.locator(".now-line")).to_contain_text("its cause is not mended: dirt or water trap")
        page.get_by_role("button", name="Cause mended: dirt or water trap").click()
        expect(page.locator(".now-line")).to_contain_text("verified")
        self.assertEqual(Zone.objects.in_use().filter(job__name="Locker doors").count(), 9)
