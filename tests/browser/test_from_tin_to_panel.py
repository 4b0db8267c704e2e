"""From the tin to the panel: pots planned over two faces, one mixed by the live scale, put on, the rest used, followed back."""

import re

from playwright.sync_api import expect

from emplastra.logbook.models import Kind
from emplastra.scales import reader
from emplastra.scales.models import STAND_IN, Scale
from emplastra.shared import clock
from tests.browser.base import BrowserCase


class FromTinToPanelTests(BrowserCase):
    def set_up_workshop(self):
        super().set_up_workshop()
        for zone in (self.shop.zone, self.shop.make_zone("Lid"), self.shop.make_zone("Box")):
            self.shop.tell(Kind.BARED, -3, -2.5, "s-strip", zone=zone)
            self.shop.tell(Kind.DEGREASED, -0.1, step="s-wipe", zone=zone)
        self.scale = Scale.objects.create(name="Bench scale", address=STAND_IN)
        self.addCleanup(reader.let_go)

    def at_the_scale(self, act, grams=""):
        """Somebody at the played scale, in a window of their own."""
        self.other.get_by_label("Pour, trickle or vessel").fill(str(grams))
        self.other.get_by_role("button", name=act, exact=True).click()
        expect(self.other.locator("[data-shows]")).to_be_visible()

    def pour(self, grams):
        """Pour so much, and wait until the scale stands still on it."""
        live, before = self.page.locator("#pot-live"), self.shown()
        self.at_the_scale("Pour", f"{grams:.1f}")
        expect(live.locator("[data-shows]").last).to_have_text(f"{before + round(grams, 1):.1f}", timeout=60000)
        expect(self.page.locator(".live-form [data-takes]")).to_be_enabled()

    def shown(self):
        """What is in the pot by the page's scale [g], once it has told."""
        told = self.page.locator("#pot-live [data-shows]").last
        expect(told).to_have_text(re.compile(r"\d"), timeout=30000)
        return float(told.inner_text().replace("−", "-"))

    def log_weight(self):
        expect(self.page.locator("#pot-live")).to_have_attribute("data-link", "steady")
        self.page.locator(".live-form [data-takes]").click()
        expect(self.page.get_by_text("Weighed.").first).to_be_visible()

    def target(self):
        return float(self.page.locator("#pot-live").get_attribute("data-target"))

    def test_the_whole_way(self):
        self.sign_in()
        self.plan_three_pots()
        self.mix_by_the_scale()
        self.put_it_on()
        self.follow_the_batch()

    def plan_three_pots(self):
        """210.5 mL at two faces, of vessels of 85 mL with 10 that stay in the brush: three pots of 80 mL."""
        page = self.page
        self.open_zone("Cab side")
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Plan", exact=True).click()
        page.get_by_label("Zone, more").get_by_role("link", name="Pots", exact=True).click()
        page.get_by_label("Lid").check()
        page.get_by_label("Pot holds").fill("85")
        page.get_by_label("Smallest mix").fill("50")
        expect(page.locator(".round-answer").first).to_contain_text("3 pots of 80 mL")
        page.wait_for_load_state("networkidle")  # the last field's answer too: a link that is swapped is not clicked
        page.get_by_role("link", name="Mix the first").first.click()
        expect(page.get_by_label("Ready to use")).to_have_value("80.2")
        page.get_by_role("button", name="Begin pot").click()

    def mix_by_the_scale(self):
        page = self.page
        page.get_by_role("link", name="Weigh on Bench scale").click()
        self.other = self.context.new_page()
        self.listen(self.other)
        self.other.goto(f"{self.live_server_url}/scales/{self.scale.pk}/")
        self.at_the_scale("Noise on, off")  # its own tests have the noise; here a tap must find it still
        self.at_the_scale("Put a vessel on")
        expect(page.locator("[data-shows]").first).to_have_text("85.0", timeout=30000)
        page.get_by_role("button", name="Tare", exact=True).click()
        page.get_by_label("Batch").fill("B-17")
        self.pour(self.target())
        expect(page.locator("#pot-live")).to_have_attribute("data-state", "there")
        self.log_weight()
        hardener = self.target() - self.shown()
        self.pour(1.2 * hardener)
        expect(page.locator("#pot-live")).to_have_attribute("data-state", "over")
        self.log_weight()
        expect(page.locator("h1")).to_have_text(re.compile(r"Hardener \d\.\d g over: pour base"))
        expect(page.get_by_text("Only into tolerance, at")).to_be_visible()
        self.at_the_scale("Pull the plug")
        expect(page.locator("#pot-live")).to_have_attribute("data-link", re.compile("lost|silent"))
        expect(page.locator(".live-form [data-takes]")).to_be_disabled()
        self.at_the_scale("Plug it in")
        expect(page.locator("#pot-live")).to_have_attribute("data-link", "steady")
        self.pour(self.target() - self.shown())
        self.log_weight()
        expect(page.get_by_role("heading", name="Stir and wait")).to_be_visible()

    def put_it_on(self):
        page = self.page
        clock.advance(minutes=20)
        page.reload()
        page.get_by_role("link", name="Log coat from this pot").click()
        page.get_by_label("Used", exact=True).fill("60")
        page.locator("summary", has_text="On other zones too").click()
        page.get_by_label("Also Lid").fill("100")
        page.get_by_role("button", name=re.compile("Log it")).first.click()
        expect(page.locator(".note.is-done").first).to_be_visible()
        self.to_the_pot()
        rest = page.locator("section", has_text="The rest")
        expect(rest).to_contain_text(re.compile(r"The rest\s+\d+\s+mL\s+by\s+what\s+was\s+told"))
        rest.locator("li", has_text="Box").get_by_role("link", name="Log coat here").click()
        page.get_by_role("button", name=re.compile("Log it")).first.click()
        expect(page.locator(".note.is-done").first).to_be_visible()
        self.to_the_pot()
        page.get_by_label("Empty. Wasted").fill("5")
        page.get_by_role("button", name="Pot is empty").click()
        expect(page.get_by_text("Pot emptied.")).to_be_visible()

    def to_the_pot(self):
        self.bench()
        self.page.locator("article.is-pot").get_by_role("link", name="Pot", exact=True).click()
        expect(self.page.get_by_role("button", name="Pot is empty")).to_be_visible()

    def follow_the_batch(self):
        page = self.page
        page.get_by_role("searchbox").fill("B-17")
        page.get_by_role("searchbox").press("Enter")
        page.get_by_role("link", name="batch B-17").click()
        expect(page.locator(".trail-lead")).to_contain_text("It lies on 3 faces")
        page.locator(".trail-faces li", has_text="Lid").get_by_role("link", name="back from here").click()
        expect(page.get_by_role("heading", name="Back from Lid")).to_be_visible()
        expect(page.locator(".trail-back")).to_contain_text("B-17")
        page.get_by_label("This batch is bad, because").fill("the maker calls it back")
        page.get_by_role("button", name="Recall it").click()
        expect(page.get_by_text("3 faces still to be dealt with")).to_be_visible()
        for name in ("Cab side", "Lid"):
            expect(page.locator(".trail-faces li", has_text=name)).to_contain_text("coat again")
        page.locator(".trail-faces li", has_text="Cab side").get_by_role("link", name="Cab side").click()
        expect(page.locator("h1")).to_contain_text("Cab side")
