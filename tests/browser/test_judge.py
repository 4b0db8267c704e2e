"""The one judge in the browser: a plan broken in six ways, unready metal coated all the same, a verdict accepted."""

import re

from playwright.sync_api import expect

from emplastra.materials.services import add_sheet
from emplastra.shared import clock
from tests.base import Shop
from tests.browser.base import BrowserCase
from tests.rulings import document_of


class JudgeTests(BrowserCase):
    def set_up_workshop(self):
        self.shop = Shop().build()
        for kind in ("wash-primer", "base-coat"):
            add_sheet(document_of(kind))

    def test_a_plan_is_broken_in_six_ways_and_unready_metal_coated_all_the_same(self):
        self.sign_in()
        self.row("Cab side").get_by_role("link", name="Cab side", exact=True).click()
        self.tab("Build-up")
        self._break_the_plan()
        self._bare_it()
        self._accept()
        self._coat_it_all_the_same()

    def step(self, name):
        """A step of the plan on its page."""
        return self.page.locator("fieldset.step", has_text=name)

    def says(self, name, words):
        expect(self.step(name).locator(".step-ruling")).to_contain_text(words)

    def silent(self, name):
        expect(self.step(name).locator(".step-ruling .verdict")).to_have_count(0)

    def save(self):
        self.page.get_by_role("button", name="Save plan").click()
        expect(self.page.get_by_text("Plan saved.")).to_be_visible()

    def delete(self, n):
        """A step taken out of the plan as it is typed."""
        count = self.page.locator("fieldset.step").count()
        self.page.get_by_role("button", name=f"Delete step {n}").click()
        expect(self.page.locator("fieldset.step")).to_have_count(count - 1)

    def _break_the_plan(self):
        """Film too thin, no key, wash primer under epoxy, no wipe, colour on metal, the coat before the strip."""
        page, prime = self.page, "3. Prime"
        self.silent(prime)
        page.get_by_label("Dry film a coat").fill("25")
        self.says(prime, "25 µm dry, the sheet asks for at least 40")
        page.get_by_label("Dry film a coat").fill("50")
        self.silent(prime)
        page.get_by_label("By", exact=True).select_option("wire-wheel")
        self.says(prime, "A wire wheel polishes: key it by hand (P120)")
        page.get_by_label("By", exact=True).select_option("sander")
        self.silent(prime)
        self.save()
        self.put_in("prime", "Test wash-primer", "after 2. Degrease")
        self.says("4. Prime", "Test primer on wash primer: its acid holds back the cure")
        self.delete(3)
        self.silent("3. Prime")
        self.delete(2)
        self.says("2. Prime", "Not wiped since it was bared")
        self.put_in("degrease", "", "after 1. Strip")
        self.silent("3. Prime")
        self.put_in("base", "Test base-coat", "after 2. Degrease")
        self.says("3. Base coat", "Test base-coat on bare steel: colour has no hold on bare metal")
        self.delete(3)
        self.silent("3. Prime")
        page.get_by_role("button", name="Move step 3 up").click()
        expect(self.step("2. Prime")).to_be_visible()
        page.get_by_role("button", name="Move step 2 up").click()
        self.says("1. Prime", "Not stripped yet: Test primer would go on what was found there.")
        for n in (1, 2):
            page.get_by_role("button", name=f"Move step {n} down").click()
            expect(self.step(f"{n + 1}. Prime")).to_be_visible()
        self.silent("3. Prime")
        self.save()

    def _bare_it(self):
        """Wire-wheeled, and left for thirteen hours where it may stand for twelve."""
        page = self.page
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Log").click()
        page.get_by_role("link", name="Bared", exact=True).click()
        page.get_by_label("By", exact=True).select_option("wire-wheel")
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Bared: recorded.")).to_be_visible()
        clock.advance(hours=13)
        self.bench()
        expect(page.locator(".air-verdict")).to_contain_text("Stop")
        expect(page.locator(".air-verdict")).to_contain_text("A wire wheel polishes")
        expect(self.row("Cab side").locator(".state")).to_contain_text("stopped")
        expect(self.row("Cab side").locator(".row-ruling")).to_contain_text("Stops A wire wheel polishes")
        expect(self.row("Cab side").get_by_role("link", name="Key it")).to_be_visible()
        expect(self.row("Cab side").get_by_role("button", name="Degrease")).to_have_count(0)

    def _accept(self):
        """An hour past its limit is accepted; it holds an hour later, and lapses when it is thirteen worse."""
        page = self.page
        self.row("Cab side").get_by_role("link", name="Cab side", exact=True).click()
        late = page.locator("#ruling .verdict", has_text="Bare past its limit")
        expect(late).to_contain_text("Warns")
        late.get_by_text("Accept, because …").click()
        late.get_by_label("Why is it accepted?").fill("the shop is heated")
        late.get_by_role("button", name="Accept it").click()
        expect(page.locator(".verdict.is-accepted")).to_contain_text("the shop is heated")
        clock.advance(hours=1)
        page.reload()
        expect(page.locator(".verdict.is-accepted")).to_contain_text("Bare past its limit")
        clock.advance(hours=13)
        page.reload()
        expect(page.locator("#ruling .verdict.is-warns")).to_contain_text(re.compile(r"Bare past its limit by 1[78] h"))
        expect(page.locator(".verdict.is-accepted")).to_have_count(0)

    def _coat_it_all_the_same(self):
        """The same words in the preview and in the record, where it is said why."""
        page = self.page
        self.tab("Log")
        page.get_by_role("link", name="Coat", exact=True).click()
        page.get_by_label("From", exact=True).select_option("product:Test primer")
        said = "A wire wheel polishes: key it by hand (P120), degrease, then coat."
        expect(page.locator("#consequence .verdict.is-stops")).to_contain_text(said)
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Coat: recorded.")).to_be_visible()
        self.tab("Record")
        stop = page.locator(".entry.is-coat .verdict.is-stops")
        expect(stop).to_contain_text(said)
        stop.get_by_text("Did it anyway, because …").click()
        stop.get_by_label("Why is it accepted?").fill("nobody will see it")
        stop.get_by_role("button", name="Accept it").click()
        expect(page.locator(".entry.is-coat .verdict.is-accepted")).to_contain_text(re.compile(f"{re.escape(said)}.*nobody will see it"))  # fmt: skip
