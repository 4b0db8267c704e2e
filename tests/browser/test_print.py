"""Paper: what is printed as PDF, by its pages and the text on them."""

import io
import re
from datetime import timedelta

from pypdf import PdfReader

from emplastra.jobs.services import save_build_up
from emplastra.logbook.models import Kind
from emplastra.logbook.services import Told, log
from tests.base import NOON

from .base import BrowserCase

STEPS = [
    {"kind": "strip", "id": "s-strip", "note": "by hand at the seam"},
    *({"kind": kind, "id": f"s{n}"} for n, kind in enumerate(("clean", "abrade", "degrease"))),
    *({"kind": "prime", "id": f"p{n}", "product": "Test primer", "coats": 2, "dft_um": 50, "method": "brush"} for n in range(20)),
    {"kind": "mask", "id": "s-mask", "left_out": "nothing to mask"},
]  # fmt: skip


class PrintTests(BrowserCase):
    def set_up_workshop(self):
        super().set_up_workshop()
        shop = self.shop
        save_build_up(shop.zone, shop.user, STEPS, 1)
        self.zones = [shop.make_zone(f"Panel {n:02d}") for n in range(18)]
        for zone in self.zones:
            shop.tell(Kind.BARED, -2, -1, "s-strip", zone=zone)
        for n in range(60):
            at = NOON - timedelta(days=9 * (60 - n))
            log(shop.user, Told("note", at, at, ((shop.zone, 1.0, ""),), {}, f"turn {n:03d}"), True)

    def pages(self, path):
        """Texts of the pages that a path prints; each has something on it, its number, and the year."""
        self.page.goto(self.live_server_url + path)
        self.page.wait_for_load_state()
        texts = [p.extract_text() for p in PdfReader(io.BytesIO(self.page.pdf(prefer_css_page_size=True))).pages]
        for number, text in enumerate(texts, 1):
            with self.subTest(path, page=number):
                self.assertIn(f"page {number} of {len(texts)}", text)
                self.assertGreater(len(text), 60)  # no page that is empty but for its number
                for bar in ("Sign out", "Gloves", "Windows", "Undo"):
                    self.assertNotIn(bar, text)
        self.assertIn("printed Tue 12 May 2026", texts[0])
        self.assertIn("Test shop", texts[0])
        return texts

    def test_what_is_printed(self):
        page = self.page
        self.sign_in()
        said = page.locator("article.row", has_text="Panel 00").locator(".row-say").inner_text().split(".")[0]
        self.assertRegex(said, r"^Primer by \d\d:\d\d$")
        page.get_by_role("link", name="Sheet of today").click()
        page.wait_for_load_state()
        sheet = self.pages("/bench/sheet")
        whole = re.sub(r"\s+", " ", " ".join(sheet))
        for zone in self.zones:
            self.assertIn(zone.name, whole)
        self.assertIn(said, whole)  # one hour on Bench and on paper
        self.assertTrue(
            all("Done at, by, air" in text for text in sheet if "Panel" in text)
        )  # a head on each page of rows
        self.assertLessEqual(len(sheet), 3)

        zone, job = self.shop.zone.pk, self.shop.job.pk
        plan = re.sub(r"\s+", " ", " ".join(self.pages(f"/zones/{zone}/plan")))
        found = [int(n) for n in re.findall(r"(\d+)\. (?:Strip|Clean|Abrade|Degrease|Prime|Mask)\b", plan.split("Film of a coat", 1)[1])]  # fmt: skip
        self.assertEqual(sorted(set(found)), list(range(1, 26)))
        self.assertIn("by hand at the seam", plan)
        self.assertIn("left out: nothing to mask", plan)

        record = " ".join(self.pages(f"/zones/{zone}/record?all=1"))
        self.assertEqual(re.findall(r"turn \d{3}", record), [f"turn {n:03d}" for n in range(60)])
        self.assertIn("2024", record)  # 540 days back
        for path in (f"/jobs/{job}/report", f"/jobs/{job}/labels"):
            text = " ".join(self.pages(path))
            self.assertEqual([zone.name for zone in self.zones if zone.name not in text], [])

    def test_gloves_print_ink_on_white(self):
        page = self.page
        self.sign_in()
        page.get_by_role("button", name="Gloves").click()
        page.locator("html.gloves").wait_for()
        page.emulate_media(media="print")
        page.goto(f"{self.live_server_url}/bench/sheet")
        look = page.evaluate(
            "[getComputedStyle(document.body).backgroundColor, getComputedStyle(document.querySelector('td')).color]"
        )
        self.assertEqual(look, ["rgb(255, 255, 255)", "rgb(0, 0, 0)"])
