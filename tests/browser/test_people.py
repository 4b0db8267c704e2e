"""First run, roles, settings, materials and remedies, by clicking."""

import re

import pyotp
import yaml
from playwright.sync_api import expect

from emplastra.accounts import setup
from emplastra.accounts.models import Workshop
from emplastra.logbook.models import Entry, Kind
from emplastra.shared import clock
from tests.base import NOON, PASSWORD, PRIMER
from tests.browser.base import BrowserCase


class FirstRunTests(BrowserCase):
    def set_up_workshop(self):
        clock.freeze(NOON)
        self.code = setup.issue_code()

    def test_from_an_empty_program_to_a_first_zone(self):
        page = self.page
        page.goto(self.live_server_url + "/")
        expect(page.get_by_role("heading", name="Set up the workshop")).to_be_visible()
        page.get_by_label("Workshop").fill("Railside")
        page.get_by_label("Your name here").fill("boss")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_label("One-time code").fill("guess")
        self.allow("422")
        page.get_by_role("button", name="Set up").click()
        expect(page.get_by_text("is not the code in the terminal")).to_be_visible()
        expect(page.get_by_label("Workshop")).to_have_value("Railside")
        page.get_by_label("One-time code").fill(self.code)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Set up").click()
        expect(page.get_by_role("heading", name="Begin here")).to_be_visible()
        self.settings()
        self.sheet()
        self.first_zone()

    def settings(self):
        page = self.page
        page.get_by_role("link", name="More", exact=True).first.click()
        page.get_by_role("link", name="Settings", exact=True).click()
        page.get_by_label("Air where nothing is logged").fill("64 °F")
        page.get_by_role("button", name="Save", exact=True).first.click()
        expect(page.get_by_text("Settings saved.")).to_be_visible()
        expect(page.get_by_label("Air where nothing is logged")).to_have_value("17.78")
        page.get_by_label("Settings", exact=True).get_by_role("link", name="Places").click()
        page.get_by_label("New place").fill("Booth")
        page.get_by_role("button", name="Add place").click()
        expect(page.locator("#places input[value='Booth']")).to_be_visible()
        page.get_by_label("Settings", exact=True).get_by_role("link", name="People").click()
        page.get_by_role("link", name="Add somebody").click()
        page.get_by_label("Name", exact=True).fill("helper")
        page.get_by_label("Role").select_option("viewer")
        page.get_by_role("button", name="Add", exact=True).click()
        self.chosen(page.get_by_label("Private address").input_value())
        page.get_by_label("Settings", exact=True).get_by_role("link", name="People").click()
        helper = page.get_by_role("article", name="helper")
        expect(helper).to_contain_text("viewer")
        expect(helper).to_contain_text("signed in on 1 device")
        helper.get_by_label("Role of helper").select_option("refinisher")
        helper.get_by_role("button", name="Change role").click()
        expect(page.get_by_text("helper: refinisher, was viewer.")).to_be_visible()
        self.assertEqual(Workshop.current().name, "Railside")

    def chosen(self, address):
        """Somebody new opens the address that was handed on, chooses a password and signs in."""
        page = self.new_context().new_page()
        self.listen(page)
        page.goto(address)
        page.get_by_label("New password").fill(PASSWORD)
        page.get_by_label("The same once more").fill(PASSWORD)
        page.get_by_role("button", name="Set it").click()
        expect(page.get_by_text("Your password is set: sign in with it.")).to_be_visible()
        page.get_by_label("Username").fill("Helper")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("navigation", name="Tools")).to_be_visible()

    def sheet(self):
        page = self.page
        page.get_by_role("link", name="More", exact=True).first.click()
        page.get_by_role("link", name="Materials", exact=True).click()
        page.get_by_role("link", name="Import", exact=True).click()
        page.locator("input[type=file]").set_input_files({"name": "big.yaml", "mimeType": "application/yaml", "buffer": b"x" * 1_200_000})  # fmt: skip
        expect(page.locator(".too-large")).to_contain_text("big.yaml has 1.2 MB: at most 1 MB are taken here.")
        expect(page.locator("input[type=file]")).to_have_value("")
        broken = {**PRIMER, "film": {**PRIMER["film"], "min_um": 90}}
        self.choose(broken)
        expect(page.locator(".problems")).to_contain_text("min, typical and max must rise")
        self.choose(PRIMER)
        expect(page.get_by_role("heading", name="Test primer")).to_be_visible()
        expect(page.get_by_text("later: key with P240")).to_be_visible()

    def choose(self, document):
        file = {"name": "sheet.yaml", "mimeType": "application/yaml", "buffer": yaml.safe_dump(document).encode()}
        self.page.locator("input[type=file]").set_input_files(file)
        self.page.get_by_role("button", name="Import").click()

    def first_zone(self):
        page = self.page
        page.get_by_role("link", name="Bench", exact=True).first.click()
        page.get_by_role("link", name="Make a job").click()
        page.get_by_label("Piece").fill("Trolley")
        page.get_by_role("button", name="Make the job").click()
        page.get_by_label("Zone", exact=True).fill("Cab side")
        page.get_by_label("Thickness").fill("1.2")
        page.locator("[name=shape0-a]").fill("-5")
        page.locator("[name=shape0-b]").fill("300")
        page.get_by_role("button", name="Make the zone").click()
        expect(page.locator("#shape0")).to_contain_text("length must be above 0")
        expect(page.get_by_label("Zone", exact=True)).to_have_value("Cab side")
        page.locator("[name=shape0-a]").fill("5 ft")
        page.get_by_role("button", name="Make the zone").click()
        expect(page).to_have_url(re.compile("/plan$"))
        self.assertEqual(Entry.objects.get().moved.place.name, "Booth")


class ViewerTests(BrowserCase):
    def test_a_viewer_reads_and_is_told_that_nothing_can_be_logged(self):
        page = self.page
        self.sign_in("viewer")
        acts = page.locator("main button:not(.what-is-tap), main a.button")
        expect(self.row("Cab side")).to_contain_text("Strip comes first")
        self.assertEqual(acts.all_inner_texts(), ["Sheet of today", "Sound on"])  # no act is offered
        self.row("Cab side").get_by_role("link", name="Cab side", exact=True).click()
        expect(page.locator("h1")).to_contain_text("Cab side")
        expect(acts).to_have_count(0)
        self.allow("403", "htmx:responseError", "Response Status Error")
        page.goto(f"{self.live_server_url}/zones/{self.shop.zone.pk}/log/bared")
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Your role is viewer")).to_be_visible()
        expect(page.get_by_label("Share covered")).to_have_value("100")
        self.assertFalse(Entry.objects.of(Kind.BARED).exists())


class SecondFactorTests(BrowserCase):
    def test_taken_and_asked_for(self):
        page = self.page
        self.sign_in("owner")
        page.get_by_role("link", name="More", exact=True).first.click()
        page.get_by_role("link", name="You", exact=True).click()
        page.get_by_role("link", name="Take a second factor").click()
        codes = pyotp.TOTP(page.locator(".factor-secret").inner_text().replace(" ", ""))
        page.get_by_label("Your password now").fill(PASSWORD)
        page.get_by_label("Code").fill("12345")
        self.allow("422")
        page.get_by_role("button", name="Take it").click()
        expect(page.get_by_text("is not the one it shows now")).to_be_visible()
        page.get_by_label("Your password now").fill(PASSWORD)
        page.get_by_label("Code").fill(codes.now())
        page.get_by_role("button", name="Take it").click()
        expect(page.get_by_text("Your spare codes.")).to_be_visible()
        spare = page.locator(".spare-codes code").first.inner_text()
        page.get_by_role("button", name="Sign out").click()
        page.get_by_label("Username").fill("owner")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("heading", name="One code more, owner")).to_be_visible()
        page.get_by_label("Code").fill(spare)
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("heading", name="Bench")).to_be_visible()


class RemedyTests(BrowserCase):
    def set_up_workshop(self):
        super().set_up_workshop()
        self.shop.tell(Kind.BARED, -40, -39, "s-strip")
        self.shop.tell(Kind.DEGREASED, -38.5, -38.4, "s-wipe")
        self.shop.coat(-38, -37)

    def test_a_missed_window_is_keyed_and_open_again(self):
        """Begun 38 h ago it closed 14 h ago; keyed it is open until 24 h later."""
        page = self.page
        self.sign_in()
        row = self.row("Cab side")
        expect(row).to_contain_text("missed")
        row.get_by_role("link", name="Key it").click()
        # 1 m² at 12 min/m², 6 µm of the planned 50 for P240: common practice, no source
        expect(page.locator(".costs")).to_contain_text(re.compile(r"P240.*12 min.*6 µm.*44 µm.*Tue 12 May 12:12", re.S))
        page.get_by_role("link", name="It is keyed: log it").click()
        expect(page.get_by_label("Grit")).to_have_value("P240")
        page.get_by_label("Film taken off").fill("0.2 mil")
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Keyed: recorded.")).to_be_visible()
        expect(page.locator(".figure.is-closes .when")).to_have_text("tomorrow 12:00")
        expect(page.locator(".now-line")).to_contain_text("coat 2 of 2")
        self.tab("Build-up")
        # 50 µm by plan, less 5.08
        expect(page.locator("#picture")).to_contain_text("45 µm assumed")

    def test_a_late_coat_is_logged_all_the_same(self):
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Log", exact=True).first.click()
        page.get_by_role("link", name="Log on Cab side").click()
        page.get_by_role("link", name="Coat", exact=True).click()
        expect(page.locator("#consequence")).to_contain_text("key with P240 first")
        page.get_by_label("Note").fill("the owner knows")
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Coat: recorded.")).to_be_visible()
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Record").click()
        expect(page.locator(".entry.is-coat").last).to_contain_text("has been closed for")
        page.emulate_media(media="print")
        expect(page.locator(".tools")).to_be_hidden()
        expect(page.get_by_role("button", name="Print")).to_be_hidden()
        expect(page.locator(".print-only").first).to_be_visible()
