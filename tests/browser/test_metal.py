"""From a bare new job to primer due, in the browser: strip plan, verdict, access, treatment, a verdict accepted and back."""

from playwright.sync_api import expect

from emplastra.shared import clock
from tests.browser.base import BrowserCase


class MetalTests(BrowserCase):
    def zone(self, name):
        """Open a zone of the job by its map."""
        self.page.get_by_role("link", name="Bench", exact=True).first.click()
        self.page.get_by_role("link", name="Jobs", exact=True).first.click()
        self.page.get_by_role("link", name="Rail car", exact=True).first.click()
        self.page.locator(".zone-line").get_by_role("link", name=name, exact=True).click()

    def make_zone(self, name, thickness, form, part, substrate="Mild steel", finish="Show"):
        page = self.page
        page.get_by_label("Zone", exact=True).fill(name)
        page.get_by_label("Substrate").select_option(label=substrate)
        page.get_by_label("Thickness").fill(thickness)
        page.get_by_label("Form", exact=True).select_option(label=form)
        page.get_by_label("Form of part").select_option(label=part)
        page.get_by_label("Finish class").select_option(label=finish)
        page.locator("#s0a").fill("1000 x 1000 mm")
        page.get_by_role("button", name="Make the zone").click()
        expect(page.get_by_role("heading", name=name)).to_be_visible()

    def ways(self):
        """Names of the ways that are not stopped, in order."""
        return [w.inner_text() for w in self.page.locator(".way:not(.is-stopped) .way-name b").all()]

    def way(self, name):
        return self.page.locator(".way", has_text=name)

    def new_zone(self):
        self.page.get_by_role("link", name="Rail car", exact=True).first.click()
        self.page.get_by_role("link", name="New zone").click()

    def test_from_a_new_job_to_primer_due(self):
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Jobs", exact=True).first.click()
        page.get_by_role("link", name="New job").click()
        page.get_by_label("Piece").fill("Rail car")
        page.get_by_role("button", name="Make the job").click()
        self.make_zone("Skin", "1.2 mm", "Flat or low crown", "Outer skin")
        self.new_zone()
        self.make_zone("Casting", "18 mm", "Frame, ribbed", "Casting", "Cast iron", "Seen from below")
        self.new_zone()
        self.make_zone("Nose", "4 mm", "Flat or low crown", "Outer skin", "Glass-fibre laminate")
        self._strip_plans()
        self._verdict()
        self._plan_and_access()
        self._treatment()
        self._acceptance()
        self._burnt()

    def _strip_plans(self):
        page = self.page
        self.zone("Casting")
        self.tab("Strip plan")
        self.assertIn(self.ways()[0], {"Blast, garnet", "Blast, coarse slag", "Grinding disc, P36"})
        expect(self.way("Blast, garnet")).to_contain_text("ribbed, boxed and cast parts suit blasting")
        self.zone("Nose")
        self.tab("Strip plan")
        self.assertEqual(self.ways()[0], "Blast, fine walnut shell")
        expect(self.way("Wire wheel")).to_contain_text("strands are cut")
        self.zone("Skin")
        self.tab("Survey")
        page.locator('[data-topic="uncovered"] label.tile', has_text="Yes, clean").click()
        page.locator("#g-joints summary").click()
        page.locator('[data-topic="solder"] label.tile', has_text="Loaded seam").click()
        page.locator("#g-around summary").click()
        page.locator('[data-topic="near"] label.tile', has_text="Glass").click()
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.locator(".note.is-done")).to_be_visible()
        self.tab("Strip plan")
        expect(self.way("Dual-action sander")).to_contain_text("A loaded seam is not ground dry")
        expect(self.way("Blast, garnet")).to_contain_text("Glass fitted: media get everywhere")
        expect(page.locator(".firsts")).to_contain_text("heat or file it out by itself")

    def _verdict(self):
        page = self.page
        page.get_by_role("link", name="Rail car", exact=True).first.click()
        page.get_by_label("Job", exact=True).get_by_role("link", name="Decide").click()
        for by, more in (
            ("Patch", {"Edge to cut and weld": "1 m"}),
            ("Whole panel", {"Price of the part, or the quote": "900"}),
        ):
            page.get_by_label("Behind which opening").fill("Foot of the skin")
            page.get_by_label("By", exact=True).select_option(label=by)
            for label, value in more.items():
                page.get_by_label(label).fill(value)
            page.get_by_role("button", name="Write it down").click()
            expect(page.locator(".set")).to_contain_text(by)
        expect(page.locator(".set-said")).to_contain_text("Repair: even if it runs over")

    def _plan_and_access(self):
        """A hidden face is found before it is closed, and a burnt one after the weld."""
        page = self.page
        self.zone("Skin")
        self.tab("Build-up")
        for kind, product in (("strip", ""), ("degrease", ""), ("prime", "Test primer")):
            self.put_in(kind, product)
            expect(page.locator(".step-name", has_text=kind.title())).to_be_visible()
        self.save_plan()
        page.get_by_role("link", name="Rail car", exact=True).first.click()
        page.get_by_label("Job", exact=True).get_by_role("link", name="Decide").click()
        page.get_by_role("link", name="Access", exact=True).click()
        for kind, what in (("Open, take off", "Sill plate"), ("Close", "Sill plate")):
            page.get_by_label("Act", exact=True).select_option(label=kind)
            page.get_by_label("What", exact=True).fill(what)
            page.get_by_label("Skin", exact=True).check()
            page.get_by_role("button", name="Put it in").click()
            expect(page.locator(".act-line", has_text=f"{kind}: {what}")).to_be_visible()
        expect(page.locator(".verdict.is-stops")).to_contain_text("hides Skin, which nothing coats before")
        page.locator(".act-line", has_text="Open, take off").get_by_role("button", name="Opened").click()
        expect(page.locator(".act-line", has_text="Open, take off")).to_contain_text("logged")
        expect(page.get_by_text("Reachable only now:")).to_be_visible()

    def _treatment(self):
        page = self.page
        self.zone("Skin")
        self.tab("Log")
        page.get_by_role("link", name="Bared").click()
        page.get_by_label("By", exact=True).select_option(label="Wire wheel")
        page.get_by_role("button", name="Log it").click()
        self.tab("Treatment")
        expect(page.locator(".metal-card.is-now")).to_contain_text("Degrease")
        expect(page.locator(".metal-card.is-now")).to_contain_text("30 mL")
        expect(page.locator(".verdict.is-stops", has_text="A wire wheel polishes")).to_be_visible()
        page.get_by_role("button", name="Key it first").click()
        expect(page.locator(".step-name", has_text="Abrade")).to_be_visible()
        self.tab("Log")
        page.get_by_role("link", name="Keyed").click()
        page.get_by_role("button", name="Log it").click()
        self.tab("Treatment")
        expect(page.locator(".metal-card.is-now")).to_contain_text("Degrease")

    def _acceptance(self):
        """Fifteen hours on it is past its limit: accepted, and back once somebody has looked for flash rust."""
        page = self.page
        clock.advance(hours=15)
        self.zone("Skin")
        stop = page.locator("#ruling .verdict", has_text="Bare past its limit")
        expect(stop).to_contain_text("Warns")
        stop.get_by_text("Accept, because …").click()
        stop.get_by_label("Why is it accepted?").fill("the owner collects it bare")
        stop.get_by_role("button", name="Accept it").click()
        expect(page.locator(".verdict.is-accepted")).to_contain_text("the owner collects it bare")
        self.tab("Log")
        page.get_by_role("link", name="Check", exact=True).click()
        page.get_by_label("flash rust seen", exact=True).check()
        page.get_by_role("button", name="Log it").click()
        self.tab("Strip plan")
        expect(page.locator("#ruling .verdict.is-stops", has_text="rust was seen: abrade it again, wipe it, coat it at once")).to_be_visible()  # fmt: skip

    def _burnt(self):
        """Coated, then welded: the strip that burnt is found on the metal's page."""
        page = self.page
        self.tab("Log")
        page.get_by_role("link", name="Coat", exact=True).click()
        page.get_by_label("From", exact=True).select_option("product:Test primer")
        page.get_by_role("button", name="Log it").click()
        expect(page.locator(".note.is-done")).to_be_visible()
        self.tab("Log")
        page.get_by_role("link", name="Weld or grind").click()
        page.get_by_label("Share covered").fill("5")
        page.get_by_role("button", name="Log it").click()
        expect(page.locator(".note.is-done")).to_be_visible()
        self.tab("Treatment")
        expect(page.locator("#ruling")).to_contain_text("A weld took the film off 5% of this face")
        expect(page.locator("#ruling")).to_contain_text("nobody has looked through it since")
        self.tab("Log")
        page.get_by_role("link", name="Inspection").click()
        page.locator('[data-field="through"]').get_by_label("found").check()
        page.get_by_role("button", name="Log it").click()
        expect(page.locator(".note.is-done")).to_be_visible()
        self.tab("Treatment")
        expect(page.locator("#ruling")).to_contain_text("weld or braze them shut")
        expect(page.locator(".is-fault")).to_contain_text("Pinholes that go through")
        page.get_by_role("link", name="Bench", exact=True).first.click()
        expect(page.locator(".row", has_text="Skin").locator(".row-ruling")).to_contain_text(
            "Pinholes that go through, found"
        )
        page.get_by_role("link", name="More", exact=True).first.click()
        page.get_by_role("link", name="Materials", exact=True).click()
        page.get_by_role("link", name="rules and schools").click()
        expect(page.locator(".rule.is-stops[open]", has_text="Faults of a weld")).to_contain_text(
            "weld or braze them shut"
        )
        page.get_by_role("button", name="Look at all coats").click()
        expect(page.locator(".rule[open]", has_text="Two parts are mixed before they are put on")).to_be_visible()
