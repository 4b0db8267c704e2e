"""Three faces walked in the browser, from the survey to the last word: a red-lead roof, a closed sill, a brake pipe.

Each hurting act is stopped, each fix holds, each caution stands at its act, and nothing nags. Common practice, no source.
"""

from playwright.sync_api import expect

from emplastra.jobs.services import measures_of, revise_zone
from emplastra.materials.services import add_sheet
from emplastra.shared import clock
from tests.base import Shop
from tests.browser.base import BrowserCase
from tests.rulings import document_of


class HarmTests(BrowserCase):
    def set_up_workshop(self):
        self.shop = Shop().build()
        for kind in ("cavity-wax", "converter", "enamel"):
            add_sheet(document_of(kind))
        faces = (
            ("Roof", {"substrate": "steel"}),
            ("Sill, inside", {"part": "box", "finish_class": "covered"}),
            ("Brake pipe", {"part": "tube", "thickness_mm": 0.7, "finish_class": "below"}),
        )
        for name, more in faces:
            zone = self.shop.make_zone(name)
            revise_zone(zone, self.shop.user, **{**measures_of(zone), **more})

    def log(self, what):
        self.tab("Log")
        self.page.get_by_role("link", name=what, exact=True).click()

    def log_it(self):
        self.page.get_by_role("button", name="Log it").click()
        expect(self.page.locator(".note.is-done")).to_be_visible()

    def said(self, words):
        expect(self.page.locator("#consequence .verdict", has_text=words)).to_be_visible()

    def silent(self, words):
        expect(self.page.locator("#consequence .verdict", has_text=words)).to_have_count(0)

    def plan_says(self, words):
        return self.page.locator(".plan-rulings .verdict", has_text=words)

    def test_a_red_lead_roof_is_stripped_without_dust_and_keyed_after(self):
        page = self.page
        self.sign_in()
        self.open_zone("Roof")
        self.survey(Layer_1="Red lead")
        self.tab("Strip plan")
        struck = page.locator(".way.is-stopped", has_text="Old layers hold lead")
        for way in ("Dual-action sander, P80", "Blast, garnet", "Hot air and scraper"):
            expect(struck).to_contain_text(way)
        expect(page.locator(".way").first).not_to_contain_text("sander")
        page.locator(".way", has_text="Paint stripper").get_by_role("button", name="Take it").click()
        expect(page.get_by_label("By", exact=True)).to_have_value("chemical")
        expect(self.plan_says("lead")).to_have_count(0)
        # Stripper leaves it smooth: the fix is in the plan by one tap, and holds.
        smooth = self.plan_says("Smooth from paint stripper")
        smooth.get_by_role("button", name="Key it first").click()
        expect(page.locator("fieldset.step", has_text="2. Abrade")).to_be_visible()
        expect(self.plan_says("Smooth")).to_have_count(0)
        expect(page.locator(".plan-rulings .verdict.is-stops")).to_have_count(0)
        # Logged with the sander it is stopped, with its caution; by stripper it is not.
        self.log("Bared")
        page.get_by_label("By", exact=True).select_option("sander")
        self.said("Old layers hold lead: no dry sanding")
        expect(page.locator(".caution")).to_contain_text("Dust of lead: P3 mask")
        page.get_by_label("By", exact=True).select_option("chemical")
        self.silent("lead")
        expect(page.locator(".caution")).to_contain_text("Stripper: gloves, goggles, fresh air, no flame")
        self.log_it()
        # What the stripper took is gone: the sander may key what is bare.
        self.log("Keyed")
        expect(page.locator(".caution")).not_to_contain_text("lead")
        self.silent("lead")

    def close_it(self, again=False):
        """Open the form that tells of a closing, filled in; what was typed in it before is let go."""
        self.log("Opened, trial fit, closed")
        page, held = self.page, []
        if again:  # on a slow line: it is filled in before its scripts are there
            expect(page.get_by_role("button", name="Start afresh")).to_be_visible()
            page.route("**/drafts*.js", lambda route: held.append(route))
            with page.expect_request("**/drafts*.js"):
                page.get_by_role("button", name="Start afresh").click()
        page.get_by_label("What happened").select_option(label="Closed: out of reach from now on")
        page.get_by_label("Which part").fill("sill plate")
        for route in held:
            route.continue_()
        page.unroute("**/drafts*.js")

    def test_a_sill_is_closed_last_with_wax_and_probed_drains(self):
        page = self.page
        self.sign_in()
        self.open_zone("Sill, inside")
        self.survey(("looked", "All of it, bare"))
        self.survey(Drain_1="Open, probed through")
        self.tab("Build-up")
        self.put_in("close", after="after 1. Strip")
        self.save_plan()
        expect(self.plan_says("about to be out of reach")).to_be_visible()
        expect(self.plan_says("closed up bare")).to_be_visible()
        for n in (2, 3):
            page.get_by_role("button", name=f"Move step {n} down").click()
            expect(page.locator("fieldset.step", has_text=f"{n + 1}. Close")).to_be_visible()
        self.save_plan()
        expect(self.plan_says("out of reach")).to_have_count(0)
        wax = self.plan_says("No cavity wax is planned")
        wax.get_by_role("link", name="Plan wax").click()
        self.put_in("wax", "Test cavity-wax")
        self.save_plan()
        expect(page.locator("fieldset.step", has_text="5. Wax")).to_be_visible()
        expect(page.locator(".plan-rulings .verdict.is-stops, .plan-rulings .verdict.is-warns")).to_have_count(0)
        self.log("Bared")
        page.get_by_label("By", exact=True).select_option("sander")
        self.log_it()
        self.close_it()
        self.said("Bare, and about to be out of reach")
        self.log("Degreased")
        self.log_it()
        for _ in range(2):
            clock.advance(hours=3)
            self.log("Coat")
            page.get_by_label("From", exact=True).select_option("product:Test primer")
            self.log_it()
        self.close_it(again=True)
        self.said("Drain 1 has not been probed since the last coat")
        clock.advance(hours=24)
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Now").click()
        page.locator("#ruling .verdict", has_text="Drain 1").get_by_role("link", name="Probed: say so").click()
        expect(page.get_by_label("every drain probed, open")).to_be_checked()
        self.log_it()
        self.close_it(again=True)
        self.silent("Drain 1")
        self.log_it()

    def test_a_brake_pipe_that_has_changed_gets_no_coating_word(self):
        page = self.page
        self.sign_in()
        self.open_zone("Brake pipe")
        self.survey(("duty", "Brake"))
        self.survey(("rust", "B: begun to rust"))
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Now").click()
        self.tab("Found more")
        page.locator("label.tile", has_text="Dent").click()
        page.get_by_label("Where, how large").fill("at the bracket, 3 mm")
        page.get_by_role("button", name="Write it down").click()
        self.log("Coat")
        page.get_by_label("From", exact=True).select_option("product:Test converter")
        self.said("A brake part, and it has changed: qualified inspection. No coating verdict.")
        self.tab("Build-up")
        stop = self.plan_says("qualified inspection")
        expect(stop).to_contain_text("no button mends it: a qualified inspection decides, no page does")
        expect(stop.get_by_role("button", name="Key it first")).to_have_count(0)
        expect(page.get_by_text("surface rust")).to_have_count(0)
