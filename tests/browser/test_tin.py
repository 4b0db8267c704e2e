"""From a tin's label to a logged coat with nothing but what the label said; a sheet pasted, revised, and what moves."""

import re

from playwright.sync_api import expect

from emplastra.accounts.models import Role, User, Workshop
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.models import Product
from emplastra.shared import clock
from tests.base import NOON, PASSWORD, drop_caches
from tests.browser.base import BrowserCase

SHEET = """Product: Barn primer
Mixing ratio by volume: 4 : 1
Pot life: 6 h at 20 °C
Dry film thickness: 40 - 60 µm
Volume solids: 50 %
Recoat: 2 h - 24 h at 20 °C
Full cure: 7 days
Mixed density 1.31 kg/l
"""


class EmptyWorkshopTests(BrowserCase):
    """A phone, an own workshop with no file, no air and no place, and one tin."""

    size = (390, 844)

    def set_up_workshop(self):
        drop_caches()
        clock.freeze(NOON)
        Workshop.objects.create(name="Own shop", time_zone="Europe/Vienna")
        User.objects.create_user("owner", password=PASSWORD, role=Role.OWNER)

    def tap(self, role, name, **more):
        """A tap, counted."""
        self.acts += 1
        self.page.get_by_role(role, name=name, **more).first.click()

    def type(self, field, text):
        """A value typed, counted."""
        self.acts += 1
        self.page.get_by_label(field, exact=True).fill(text)

    def test_from_a_label_to_the_first_logged_coat(self):
        self.acts = 0
        self.sign_in("owner")
        self.read_the_tin()
        self.assertLess(self.acts, 25)
        self.make_the_plan()
        self.mix_by_the_cup()
        self.log_the_coat()

    def read_the_tin(self):
        page = self.page
        self.tap("link", "Fill the shelf")
        expect(page.get_by_text("Nothing is on the shelf yet")).to_be_visible()
        self.tap("link", "Read a tin in")
        self.tap("link", "Epoxy primer")
        self.type("Name, as on the tin", "Barn primer")
        self.type("Mix ratio", "4:1")
        expect(page.locator("#say-ratio")).to_contain_text("by volume, or by weight?")
        self.type("Mix ratio", "4:1 by volume, hardener S")
        self.type("Pot life", "2 h")
        self.type("Coat again", "24 h to 2 h")
        expect(page.locator("#say-recoat")).to_contain_text("closes before it opens")
        self.type("Coat again", "4 h at 10 °C, 2 h at 20 °C")
        expect(page.locator("#say-recoat svg")).to_contain_text("until when? cannot say")
        expect(page.locator("#answer")).to_contain_text("Coat again after 2 h")
        expect(page.locator("#answer")).to_contain_text("Until cannot say")
        expect(page.locator("#f-recoat")).not_to_contain_text("Assume")
        self.acts += 1
        page.locator("#f-flash .assume").click()
        expect(page.locator("#say-flash")).to_contain_text("assumed")
        self.acts += 1
        page.locator("label.tile", has_text="Brush").click()
        expect(page.get_by_role("button", name="Save")).to_contain_text("cannot say")
        self.tap("button", "Save")
        expect(page.get_by_role("heading", name="Barn primer")).to_be_visible()
        expect(page.locator(".sheet-says")).to_contain_text("assumed, typical of the kind")

    def make_the_plan(self):
        page = self.page
        page.get_by_role("link", name="Jobs", exact=True).first.click()
        page.get_by_role("link", name="New job").click()
        page.get_by_label("Piece").fill("Farm trailer")
        page.get_by_role("button", name="Make the job").click()
        page.get_by_label("Zone", exact=True).fill("Side")
        page.get_by_label("Thickness").fill("2 mm")
        page.locator("[name=shape0-a]").fill("1 m x 1 m")
        page.get_by_role("button", name="Make the zone").click()
        expect(page.locator("#choose")).to_contain_text("take a ready one in")
        self.put_in("prime", "Barn primer")
        expect(page.locator("#picture")).to_contain_text("film not told")
        page.locator("[name$='-coats']").fill("2")
        page.get_by_role("button", name="Save plan").click()
        expect(page.get_by_text("Plan saved.")).to_be_visible()
        page.get_by_role("link", name="More", exact=True).first.click()
        page.get_by_role("link", name="Settings", exact=True).click()
        page.get_by_role("link", name="Places").first.click()
        page.get_by_label("New place").fill("Barn")
        page.get_by_role("button", name="Add place").click()
        page.get_by_role("link", name="Bench", exact=True).first.click()
        page.get_by_role("link", name="Side", exact=True).first.click()
        page.get_by_role("link", name="Log", exact=True).first.click()
        page.get_by_role("link", name="Moved", exact=True).click()
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Moved: recorded.")).to_be_visible()

    def mix_by_the_cup(self):
        """500 mL of 4:1: the cup at 400, then at 500 mL; no density is told, so no scale is asked for."""
        page = self.page
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Plan").click()
        page.get_by_label("Zone, more").get_by_role("link", name="Mix", exact=True).click()
        page.get_by_label("Ready to use").fill("500 mL")
        expect(page.locator("#consequence")).to_contain_text("400.0 mL")
        expect(page.locator("#consequence")).to_contain_text("Wait after stirring: cannot say")
        page.get_by_role("button", name="Begin pot").click()
        expect(page.locator(".huge")).to_have_text(re.compile(r"cup is\s+at\s*400\.0\s*mL"))
        for level, then in (("400", "Pour the hardener"), ("500", "Ready")):
            page.get_by_label("In the cup").fill(level)
            page.get_by_role("button", name=f"Log {level}.0 mL").click()
            expect(page.get_by_role("heading", name=then)).to_be_visible()
        expect(page.get_by_role("heading", name="Ready")).to_be_visible()
        expect(page.locator(".pot-act")).to_contain_text("Dead at 14:00")

    def log_the_coat(self):
        """Opens 2 h at 20 °C; the air is nowhere logged, so it is assumed, and colder: later than 14:00."""
        page = self.page
        page.get_by_role("link", name="Log coat from this pot").click()
        expect(page.locator("#consequence")).to_contain_text("Film: cannot say")
        expect(page.locator("#consequence")).to_contain_text("cannot say: not told")
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Coat: recorded.")).to_be_visible()
        expect(page.locator(".figure.is-closes .when")).to_have_text("cannot say")
        self.assertEqual(Entry.objects.of(Kind.COAT).get().coat.plan_um, None)


class SheetTests(BrowserCase):
    """A workshop in which a coat of a primer lies, and a sheet of it comes."""

    def test_a_pasted_sheet_is_taken_corrected_refused_and_revised(self):
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="More", exact=True).first.click()
        page.get_by_role("link", name="Materials", exact=True).click()
        page.get_by_role("link", name="Paste a sheet").click()
        page.get_by_label("It is of").select_option("epoxy-primer")
        page.get_by_label("The sheet’s text").fill(SHEET)
        page.get_by_role("button", name="Read it").click()
        expect(page.get_by_role("heading", name="A sheet, pasted")).to_contain_text("6 values read, 0 taken")
        expect(page.locator("li.is-missed")).to_contain_text("Mixed density 1.31 kg/l")
        expect(page.locator("li", has_text="Full cure")).to_contain_text("names no temperature")
        page.get_by_role("button", name="Take all that is in no doubt").click()
        expect(page.get_by_role("heading", name="A sheet, pasted")).to_contain_text("5 taken")
        page.get_by_label("Pot life, line 3").fill("5 h at 20 °C")
        page.locator("label.take", has_text="Solids by volume").click()
        page.get_by_role("button", name="Into the sheet").first.click()
        expect(page.get_by_text("4 values taken from the sheet")).to_be_visible()
        expect(page.get_by_label("Name, as on the tin")).to_have_value("Barn primer")
        expect(page.get_by_role("textbox", name="Pot life", exact=True)).to_have_value("5 h at 20 °C")
        expect(page.get_by_label("Cured after")).to_have_value("")
        expect(page.get_by_label("Solids by volume")).to_have_value("")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_role("heading", name="Barn primer Epoxy primer")).to_be_visible()
        document = Product.objects.get(name="Barn primer").revisions.get().document
        self.assertEqual((document["pot_life"], document["film"]), ([[20, 300]], {"min_um": 40, "max_um": 60}))

    def revise(self, why, recoat):
        page = self.page
        page.get_by_role("link", name="More", exact=True).first.click()
        page.get_by_role("link", name="Materials", exact=True).click()
        page.get_by_role("link", name="Test primer", exact=True).click()
        page.get_by_role("link", name="Full sheet").click()
        page.get_by_label("Other windows").fill(recoat)
        page.locator("label.tile", has_text=why).click()
        page.get_by_role("button", name="Save").click()

    def test_what_moves_when_a_sheet_is_revised(self):
        """A coat from 9:00 to 10:00 opens 2 h after its end: the maker's 5 h leave it alone, our 6 h move it to 16:00."""
        self.shop.coat(-3, -2)
        page = self.page
        self.sign_in("owner")
        self.revise("our typing error", "itself: 6 h to 24 h at 0 °C, 6 h to 24 h at 40 °C")
        moved = page.locator("#touched li", has_text="Cab side").first
        expect(moved).to_contain_text("opens Tue 12 May 12:00")
        expect(moved.locator("b")).to_contain_text("Tue 12 May 16:00")
        self.revise("new sheet", "itself: 5 h to 24 h at 20 °C")
        expect(page.locator("#touched")).to_contain_text("coats already on keep theirs")
        expect(page.locator("#touched")).to_contain_text("Cab side")
        expect(page.locator("#touched")).not_to_contain_text("Windows that moved")
        page.get_by_role("link", name="what changed since").first.click()
        expect(page.locator("tr.is-other", has_text="Other windows")).to_contain_text("5 h to 24 h")
        page.go_back()
        page.get_by_role("link", name="Retire").click()
        page.get_by_role("button", name="Take it off the shelf").click()
        expect(page.get_by_role("heading", name="Test primer")).to_contain_text("retired")
