"""Three whole jobs as strangers would do them, in short: a trailer outdoors, wagon doors in a booth, a boat's vents in US units.

From an empty workshop, by clicking and typing only; expected hours and volumes are worked out beside each step.
"""

import re
from datetime import datetime
from zoneinfo import ZoneInfo

from playwright.sync_api import expect

from emplastra.accounts import setup
from emplastra.accounts.models import Workshop
from emplastra.logbook.models import Entry, Kind
from emplastra.shared import clock
from tests.base import PASSWORD, drop_caches
from tests.browser.base import BrowserCase
from tests.pages import foreign


class Walk(BrowserCase):
    """An empty workshop, set up by its first user."""

    units = "metric"

    def set_up_workshop(self):
        drop_caches()
        self.at("2026-05-04T10:00")
        self.code = setup.issue_code()

    def at(self, moment):
        """The clock at a local hour of the workshop."""
        clock.freeze(datetime.fromisoformat(moment).replace(tzinfo=ZoneInfo("UTC")))

    def begin(self, *places):
        page = self.page
        page.goto(self.live_server_url + "/")
        for field, text in (("Workshop", "Own"), ("Your name here", "mira"), ("Password", PASSWORD), ("One-time code", self.code)):  # fmt: skip
            page.get_by_label(field, exact=True).fill(text)
        page.get_by_label("Units").select_option(self.units)
        page.get_by_role("button", name="Set up").click()
        expect(page.get_by_role("heading", name="Begin here")).to_be_visible()
        self.more("Settings")
        page.get_by_label("Settings", exact=True).get_by_role("link", name="Places").click()
        for name, kind in places:
            page.get_by_label("New place").fill(name)
            page.get_by_label("Kind").last.select_option(kind)
            page.get_by_role("button", name="Add place").click()
            expect(page.locator(f"#places input[value='{name}']")).to_be_visible()

    def more(self, name):
        self.page.get_by_role("link", name="More", exact=True).first.click()
        self.page.get_by_role("link", name=name, exact=True).click()

    def shelf_and_systems(self):
        """The starter shelf, and every ready system with it: three taps."""
        page = self.page
        self.more("Materials")
        page.get_by_role("button", name="Take the starter shelf").click()
        expect(page.get_by_text("The starter shelf stands.")).to_be_visible()
        self.more("Systems")
        page.get_by_role("button", name="Take all").click()
        expect(page.get_by_text("Taken in.")).to_be_visible()

    def tin(self, kind, name, *ticks, **told):
        page = self.page
        self.more("Materials")
        page.get_by_role("link", name="Put a tin on the shelf").click()
        page.get_by_role("link", name=kind, exact=True).click()
        for field, text in {"name": name, **told}.items():
            page.locator(f"[name={field}]").fill(text)
        for tick in ticks:
            page.get_by_text(tick, exact=True).first.click()
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_role("heading", name=name)).to_be_visible()

    def job(self, name):
        page = self.page
        page.get_by_role("link", name="Jobs", exact=True).first.click()
        page.get_by_role("link", name="New job").click()
        page.get_by_label("Piece").fill(name)
        page.get_by_role("button", name="Make the job").click()
        expect(page.get_by_role("heading", name="New zone")).to_be_visible()

    def zone(self, name, size, button="Make the zone", **chosen):
        page = self.page
        page.get_by_label("Zone", exact=True).fill(name)
        if not page.get_by_label("Thickness").input_value():
            page.get_by_label("Thickness").fill("1.5")
        for field, option in chosen.items():
            page.locator(f"[name={field}]").select_option(label=option)
        for part, text in zip("ab", size, strict=True):
            page.locator(f"[name=shape0-{part}]").fill(text)
        page.get_by_role("button", name=button, exact=True).click()
        expect(page.get_by_text(f"Zone made: {name}.")).to_be_visible()

    def log(self, what, **typed):
        """Log something of the zone in view, with what is typed or chosen by the name of its field."""
        page = self.page
        self.tab("Log")
        page.get_by_role("link", name=what, exact=True).click()
        for field, text in typed.items():
            page.locator(f"[name={field}]").fill(text)
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text(f"{what}: recorded.")).to_be_visible()

    def reading(self, air, humidity):
        page = self.page
        page.get_by_role("link", name="Air", exact=True).first.click()
        page.get_by_role("link", name="Type a reading").click()
        page.get_by_label("Air", exact=True).fill(air)
        page.get_by_label("Humidity").fill(humidity)
        page.get_by_role("button", name="Note it").click()
        expect(page.get_by_text("Noted.")).to_be_visible()


class TrailerTests(Walk):
    def test_a_trailer_outdoors_by_brush(self):
        page = self.page
        self.begin(("Yard", "yard"))
        self.tin("Panel wipe", "Wipe")
        oxide = {"coats": "1", "film": "35-45 µm", "solids": "45 %", "flash": "30 min at 20 °C", "recoat": "6 h at 20 °C", "limits": "above 5 °C below 85 %"}  # fmt: skip
        self.tin("One-pack primer", "Red oxide", "Brush", "Steel", **oxide)
        self.tin("Enamel", "Alkyd red", "Brush", film="30-40 µm", solids="50 %", coats="2", recoat="16 h at 20 °C")
        self.tin("Converting primer", "Holding", "Brush", "Steel", film="25-35 µm", solids="40 %", recoat="4 h at 20 °C")  # fmt: skip
        self.more("Systems")
        row = page.locator(".system-row", has_text="One-pack primer and enamel, brushed")
        expect(page.locator(".system-row", has_text="Convert, wait, epoxy")).to_contain_text("no rust converter, epoxy primer")  # fmt: skip
        row.get_by_role("link", name="Look and take").click()
        page.get_by_role("button", name="Save the system").click()
        expect(page.get_by_text("System saved.")).to_be_visible()
        self.job("Farm trailer")
        self.zone("Tailboard", ("1600", "500"), finish_class="Seen when open", system="One-pack primer and enamel, brushed")  # fmt: skip
        # 0.8 m² × 40 µm / (10 × 45) / 0.95 + 10 mL = 84.9 a coat; two: 170
        expect(page.locator("#picture")).to_contain_text("170 mL ready to use")
        self.lead()
        self.night()
        self.three_weeks()

    def lead(self):
        """Red lead under alkyd: the sander is stopped on every page, the planned stripper stands in the form."""
        page = self.page
        self.survey(("uncovered", "Yes"), ("toxic", "Lead found"), Layer_1="Oil or alkyd paint")
        self.tab("Now")
        expect(page.locator(".ruling")).to_contain_text("Old layers hold lead")
        self.tab("Build-up")
        page.locator("fieldset.step", has_text="1. Strip").get_by_label("By").select_option(label="Paint stripper")
        self.save_plan()
        self.tab("Log")
        page.get_by_role("link", name="Strip", exact=True).click()
        expect(page.get_by_label("By", exact=True)).to_have_value("chemical")
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Bared: recorded.")).to_be_visible()
        self.log("Keyed")
        self.log("Degreased")

    def night(self):
        """At 20:00 and 8 °C the metal of nobody's measuring is 4 °C in the band, on Now and in what stops."""
        page = self.page
        self.log("Coat", batch="RO-11")
        self.at("2026-05-04T20:00")
        self.reading("8", "93")
        self.open_zone("Tailboard")
        expect(page.locator(".ruling")).to_contain_text("Too cold: surface 4.0 °C")
        expect(page.locator("header")).to_contain_text("4.0 °C assumed")
        metal = page.locator("section", has_text="The metal in the next two days")
        expect(metal).to_contain_text(re.compile(r"Now\s*4\.0 °C"))
        expect(metal).to_contain_text("under 5 °C until tomorrow 08:00")

    def three_weeks(self):
        """Another tin brings no batch and no step of the one before; three weeks out in its primer are spoken of."""
        page = self.page
        self.at("2026-05-05T14:00")
        self.reading("16", "60")
        self.open_zone("Tailboard")
        self.tab("Log")
        page.get_by_role("link", name="Coat", exact=True).click()
        expect(page.get_by_label("Batch of the tin or can")).to_have_value("RO-11")
        page.get_by_label("Note").fill("until the frame is done")
        page.get_by_label("From", exact=True).select_option(label="Holding, straight from the tin or can")
        expect(page.get_by_label("Batch of the tin or can")).to_have_value("")
        expect(page.get_by_label("Step of the plan")).to_have_value("")
        expect(page.get_by_label("Note")).to_have_value("until the frame is done")
        expect(page.locator("#consequence")).to_contain_text("30 µm dry")
        page.get_by_label("From", exact=True).select_option(label="Red oxide, straight from the tin or can")
        expect(page.get_by_label("Batch of the tin or can")).to_have_value("RO-11")
        expect(page.locator("#consequence")).to_contain_text("40 µm dry")
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Coat: recorded.")).to_be_visible()
        self.at("2026-05-26T10:00")
        self.open_zone("Tailboard")
        expect(page.locator(".ruling")).to_contain_text("The one-pack primer was outdoors for 21 nights")


class WagonTests(Walk):
    size = (390, 844)

    def test_wagon_doors_in_a_booth(self):
        """On a phone: a second door like the first, a coat on the wrong one struck, a bracket planned for powder."""
        page = self.page
        self.begin(("Shop", "shop"), ("Booth", "booth"), ("Coater", "contractor"))
        self.shelf_and_systems()
        self.job("Wagon doors")
        chosen = {"part": "Door or lid", "place": "Booth", "system": "Three-stage pearl"}
        self.zone("Door 1", ("1900", "900"), "Make it, then the next zone", **chosen)
        self.zone("Door 2", ("1900", "900"))
        # 1.71 m² × 15 µm / (10 × 20) / 0.55 + 30 mL = 263 a coat, three by gun: 790
        expect(page.locator("#picture")).to_contain_text("790 mL ready to use")
        self.open_zone("Door 2")
        expect(page.locator("header")).to_contain_text("booth")
        self.wrong_door()
        self.bracket()

    def wrong_door(self):
        page = self.page
        self.log("Bared")
        self.log("Keyed")
        self.log("Coat")
        self.tab("Record")
        page.get_by_role("link", name="Void").last.click()
        page.get_by_role("button", name="Void it").click()
        self.allow("422")
        expect(page.get_by_text("Reason: write why it is voided")).to_be_visible()
        page.get_by_label("Reason").fill("it was door 1")
        page.get_by_role("button", name="Void it").click()
        expect(page.get_by_text("Coat: voided.")).to_be_visible()
        self.tab("Now")
        expect(page.locator(".now-line")).to_contain_text("Primer by")

    def bracket(self):
        page = self.page
        page.get_by_role("link", name="Jobs", exact=True).first.click()
        page.get_by_role("link", name="Wagon doors").first.click()
        page.get_by_role("link", name="New zone").click()
        self.zone("Bracket", ("200", "100"), system="Powder frame by a contractor")
        expect(page.locator(".now-line")).to_contain_text("Strip comes first")
        self.assertEqual(Entry.objects.of(Kind.COAT).count(), 1)  # the struck one stays in the record


class VentTests(Walk):
    units = "us"

    def test_a_boats_vents_in_us_units(self):
        """Chromate stops the same on Now and in the form; what is typed in inches is kept; no page speaks metric alone."""
        page = self.page
        self.begin(("Shed", "shop"))
        self.shelf_and_systems()
        self.job("Dorade vents")
        page.get_by_label("Thickness").fill("1/16 in")
        page.get_by_label("Shape").select_option(label="Tube, outside")
        self.zone("Cowl", ("5 in", "14 in"), system="Epoxy first, body work over it")
        expect(page.locator("main")).to_contain_text("1.5 sq ft")  # π × 5 × 14 / 144
        self.survey(("uncovered", "Yes"), ("toxic", "Chromate found"), Layer_1="Antifouling")
        self.tab("Now")
        expect(page.locator(".ruling")).to_contain_text("Old layers hold chromate")
        self.tab("Log")
        page.get_by_role("link", name="Bared", exact=True).click()
        expect(page.locator("#consequence, .ruling").first).to_contain_text("Old layers hold chromate")
        for name in ("Build-up", "Strip plan", "What if", "Quantities", "Measures"):
            self.tab(name)
            expect(page.locator("h1")).to_contain_text("Measures" if name == "Measures" else "Cowl")
            self.assertEqual(foreign(page.content(), "us"), [], name)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 1280, name)
        self.assertEqual(Workshop.current().units, "us")
