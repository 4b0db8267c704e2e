"""Without scripts: every act can be told by forms, and what a script would fetch is one link or button away."""

import re

from playwright.sync_api import expect

from emplastra.jobs.services import save_build_up
from emplastra.logbook.models import Entry, Kind
from emplastra.store.models import Tin
from tests.base import PASSWORD, PRIMER

from .base import BrowserCase


class NoScriptTests(BrowserCase):
    def set_up_workshop(self):
        super().set_up_workshop()
        shop = self.shop
        steps = [{"kind": "strip", "id": "s-strip"}, {"kind": "degrease", "id": "s-wipe"}, {"kind": "prime", "id": "s-prime", "product": "Test primer", "coats": 2, "dft_um": 50, "method": "hvlp", "thinner_pct": 10}]  # fmt: skip
        save_build_up(shop.zone, shop.user, steps, 1)
        shop.tell(Kind.BARED, -1.5, -1, "s-strip")
        for part in PRIMER["components"]:
            Tin.objects.create(product=shop.primer, part=part["key"], batch=f"B-{part['key']}")

    def test_from_a_wipe_to_a_coat_without_a_script(self):
        page = self.context.browser.new_context(java_script_enabled=False, locale="en-GB").new_page()
        self.addCleanup(page.context.close)
        page.goto(self.live_server_url + "/")
        page.get_by_label("Username").fill("bench")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        row = page.locator("article.row", has_text="Cab side")
        expect(page.get_by_role("button", name="Sound on")).to_be_hidden()  # no button that would do nothing
        row.get_by_role("button", name="Degrease").click()
        expect(page.locator(".note.is-done")).to_contain_text("Cab side: degreased, 12:00")
        row.locator("summary", has_text="Check").click()
        row.get_by_role("button", name="a white cloth stays clean").click()
        expect(page.locator(".note.is-done")).to_contain_text("check, 12:00")
        row.get_by_role("link", name="Mix").click()
        page.get_by_label("Ready to use").fill("300 mL")
        page.get_by_role("button", name="See what it comes to").click()
        expect(page.locator("#consequence")).to_contain_text("1 pot of 300 mL")
        self.assertEqual(Entry.objects.of(Kind.POT).count(), 0)
        page.get_by_role("button", name="Begin pot").click()
        for part in ("base", "hardener", "thinner"):
            expect(page.get_by_role("heading", name=f"Pour the {part}")).to_be_visible()
            page.get_by_label("On the scale").fill(page.locator(".huge b").inner_text())
            page.get_by_role("button", name=re.compile("^Log")).click()
        expect(page.get_by_role("heading", name="Stir and wait")).to_be_visible()
        page.get_by_role("link", name="Log coat").click()
        page.get_by_label("Wet film readings").fill("110 120")
        page.get_by_role("button", name="See what it comes to").click()
        # The mean, 115 µm wet, at 50 % of solids with 10 % of thinner added: 115 x 0.50 / 1.10 = 52 µm.
        expect(page.locator("#bar-says")).to_contain_text("52 µm dry")
        self.assertEqual(Entry.objects.of(Kind.COAT).count(), 0)
        expect(page.get_by_label("Wet film readings")).to_have_value("110 120")

        page.goto(f"{self.live_server_url}{self.shop.zone.get_absolute_url()}plan")
        page.locator("[name$='-coats']").last.fill("3")
        page.get_by_role("button", name="See what it comes to").click()
        expect(page.locator("#picture")).to_contain_text("150 µm")
        page.goto(f"{self.live_server_url}/jobs/{self.shop.job.pk}/")
        page.locator(".zone-acts summary").first.click()
        page.get_by_role("link", name="What can be done with it").click()
        page.get_by_role("link", name="Measures").last.click()
        page.get_by_role("button", name="with room for a shape more").click()
        expect(page.locator("[name=shape1-a]")).to_be_visible()
        page.goto(f"{self.live_server_url}/windows/")
        page.get_by_label("Stage").select_option("Prime")
        page.get_by_role("button", name="Show").click()
        expect(page).to_have_url(re.compile("stage=Prime"))
        page.goto(f"{self.live_server_url}/rules/")
        page.locator("#schools select").first.select_option(index=1)
        page.get_by_role("button", name="See what that would change").click()
        expect(page.locator("#changes")).not_to_be_empty()
