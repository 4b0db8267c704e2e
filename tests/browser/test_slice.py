"""From the first page to the window of a coat, by clicking and typing."""

import json
import sqlite3
from contextlib import closing
from unittest import mock

from django.db import connection
from playwright.sync_api import expect

from emplastra.logbook.models import Entry, Kind
from emplastra.shared import clock
from emplastra.shared.models import Submission
from emplastra.shared.sqlite import base
from tests.base import PASSWORD
from tests.browser.base import BrowserCase, open_tab


class WayThroughTests(BrowserCase):
    """A job, a zone, a plan, a pot, a coat, its window and its record."""

    def test_from_a_bare_zone_to_a_logged_coat_and_its_window(self):
        self.sign_in()
        self.make_job_and_zone()
        self.adjust_the_plan()
        self.strip_and_wipe()
        self.mix()
        self.coat()
        self.window()
        self.record()

    def make_job_and_zone(self):
        page = self.page
        page.get_by_role("link", name="Jobs", exact=True).first.click()
        page.get_by_role("link", name="New job").click()
        page.get_by_label("Piece").fill("Signal lamp")
        page.get_by_role("button", name="Make the job").click()
        page.get_by_label("Zone", exact=True).fill("Lamp door")
        page.get_by_label("Thickness").fill("1/16 in")
        page.locator("[name=shape0-a]").fill("2 ft x 350 mm")
        expect(page.locator("#area")).to_contain_text("0.21 m²")
        page.get_by_role("button", name="Add a shape").click()
        expect(page.locator("#shape1")).to_be_visible()
        expect(page.locator("#shape1.htmx-added")).to_have_count(0)  # its own triggers are set as it loses this class
        page.locator("[name=shape1-kind]").select_option("tube")
        expect(page.locator("#shape1")).to_contain_text("outer diameter")
        page.locator("[name=shape1-a]").fill("100")
        page.locator("[name=shape1-b]").fill("1 m")
        # 0.6096 × 0.35 + π × 0.1 × 1 = 0.528
        expect(page.locator("#area")).to_contain_text("0.53 m²")
        page.get_by_role("button", name="Make the zone").click()
        expect(page.get_by_role("heading", name="Lamp door")).to_be_visible()
        expect(page.locator(".now-line")).to_contain_text("No plan yet")

    def adjust_the_plan(self):
        page = self.page
        for kind, product in (("strip", ""), ("degrease", ""), ("prime", "Test primer")):
            self.put_in(kind, product)
        coats = page.locator("[name$='-coats']")
        coats.fill("1")
        expect(page.locator("#picture")).to_contain_text("50 µm planned")
        coats.fill("2")
        expect(page.locator("#picture")).to_contain_text("100 µm planned")
        page.locator("[name$='-method']").select_option("brush")
        # one coat: 0.5275 × 50 / (10 × 50) / 0.95 + 10 mL = 65.5; two 131
        expect(page.locator("#picture")).to_contain_text("131 mL ready to use")
        page.get_by_role("button", name="Save plan").click()
        expect(page.get_by_text("Plan saved.")).to_be_visible()

    def strip_and_wipe(self):
        page = self.page
        self.bench()
        self.row("Lamp door").get_by_role("link", name="Strip").click()
        page.get_by_label("Began").fill("11:00")
        page.get_by_role("button", name="Log it").click()
        expect(page.locator(".now-line")).to_contain_text("Primer by")
        page.locator(".now-line").get_by_role("button", name="Degrease").click()
        expect(page.locator(".note.is-done")).to_contain_text("degreased, 12:00")

    def mix(self):
        page = self.page
        self.bench()
        self.row("Lamp door").get_by_role("link", name="Mix").click()
        expect(page.locator("#consequence")).to_contain_text("the band for 15 to 30 °C")
        page.get_by_label("Ready to use").fill("0.5 L")
        page.get_by_label("Pot, inner diameter").fill("100")
        expect(page.locator("#consequence")).to_contain_text("600.0 g")
        page.get_by_role("button", name="Begin pot").click()
        expect(page.get_by_role("heading", name="Pour the base")).to_be_visible()
        page.get_by_label("On the scale").fill("500")
        expect(page.locator(".still")).to_contain_text("100.0 g")
        page.get_by_label("On the scale").fill("584.2")  # within 5 % of 600
        expect(page.locator(".still")).to_contain_text("in band")
        page.get_by_label("Batch").fill("E-0417")
        page.get_by_role("button", name="Log 584.2 g").click()
        expect(page.get_by_role("heading", name="Pour the hardener")).to_be_visible()
        # 584.2 g base asks 584.2 / 6 = 97.4 g hardener: the scale has to show 681.6
        expect(page.locator(".huge")).to_contain_text("681.6")
        page.get_by_label("On the scale").fill("700")
        expect(page.locator(".still")).to_contain_text("18.4 g too much")
        page.get_by_label("Batch").fill("H-22")
        page.get_by_role("button", name="Log 700.0 as it is").click()
        expect(page.get_by_text("out of tolerance")).to_be_visible()
        page.get_by_role("link", name="Only into tolerance").click()
        # 115.8 g hardener needs 115.8 × 6 / 1.05 = 661.7 g of base: 77.5 g more, the scale at 777.5
        expect(page.locator(".huge")).to_contain_text("777.5")
        page.get_by_role("link", name="Correct exactly").click()
        # exactly: 115.8 × 6 = 694.8 g of base, 110.6 more, the scale at 810.6
        expect(page.locator(".huge")).to_contain_text("810.6")
        page.get_by_label("On the scale").fill("810.6")
        page.get_by_role("button", name="Log 810.6 g").click()
        expect(page.get_by_role("heading", name="Stir and wait")).to_be_visible()
        expect(page.locator(".pot-act")).to_contain_text("Hardener 0.0 % in tolerance")

    def coat(self):
        page = self.page
        clock.advance(minutes=20)
        self.bench()
        expect(page.locator("article.row.is-pot")).to_contain_text("Use by 14:00")
        self.page.locator("article.row[data-zone]", has_text="Lamp door").get_by_role("link", name="Log coat").click()
        page.get_by_label("Began").fill("12:16")
        page.get_by_label("Ended").fill("12:20")
        page.get_by_label("Wet film readings").fill("96 104 100")
        # Half of the face by one stroke of the finger, then all of it.
        page.get_by_text("Draw what is covered").click()
        first, last = page.locator('[data-at="0 0"]'), page.locator('[data-at^="7 "]').last
        first.hover()
        page.mouse.down()
        last.hover()
        page.mouse.up()
        expect(page.get_by_label("Share covered")).to_have_value("50.0")
        page.get_by_role("button", name="All", exact=True).click()
        expect(page.get_by_label("Share covered")).to_have_value("100.0")
        # comb 100 µm × 50 % = 50 µm; opens 2 h after the end, closes 24 h after the begin
        expect(page.locator("#consequence")).to_contain_text("50 µm dry computed")
        expect(page.locator("#consequence")).to_contain_text("Tue 12 May 14:20")
        expect(page.locator("#consequence")).to_contain_text("Wed 13 May 12:16")
        expect(page.locator("#consequence").get_by_role("img", name="film")).to_be_visible()
        expect(page.locator("#consequence")).to_contain_text("not judged")
        page.get_by_role("button", name="Log it").click()

    def window(self):
        page = self.page
        expect(page.get_by_text("Coat: recorded.")).to_be_visible()
        expect(page.locator(".figure.is-opens .when")).to_have_text("14:20")
        expect(page.locator(".figure.is-closes .when")).to_have_text("tomorrow 12:16")
        expect(page.locator(".figure.is-after .when")).to_have_text("key with P240 first")
        page.locator(".figure.is-opens summary").click()
        expect(page.locator(".figure.is-opens")).to_contain_text("Counts from the end of the coat, Tue 12 May 12:20")
        expect(page.locator(".figure.is-closes .shares")).to_contain_text("assumed")
        self.bench()
        expect(self.row("Lamp door").locator(".row-say").last).to_contain_text("from 14:20, until tomorrow 12:16")

    def record(self):
        page = self.page
        page.get_by_role("link", name="More", exact=True).first.click()
        page.get_by_role("link", name="Record", exact=True).click()
        page.get_by_role("link", name="Lamp door").click()
        entry = page.locator(".entry.is-coat")
        expect(entry).to_contain_text("Base E-0417, Hardener H-22")
        expect(entry).to_contain_text("50 µm")
        entry.get_by_role("link", name="Correct").click()
        page.get_by_label("Why is it corrected?").fill("one reading was misread")
        page.get_by_label("Wet film readings").fill("96 84 90")
        page.get_by_role("button", name="Correct it").click()
        expect(page.locator(".figure.is-opens")).to_be_visible()
        page.get_by_role("link", name="Record", exact=True).last.click()
        expect(page.locator(".entry.is-coat.is-struck")).to_contain_text("one reading was misread")
        expect(page.locator(".entry.is-coat").last).to_contain_text("45 µm")
        with page.expect_download() as download:
            page.get_by_role("link", name="Whole job as JSON").click()
        document = json.loads(download.value.path().read_text())
        self.assertEqual(document["zones"][0]["name"], "Lamp door")


class AirTests(BrowserCase):
    def test_import_a_log_with_a_bad_line_then_whole_then_withdraw_it(self):
        """8 K in the last hour and steel 3 min behind it: 12.4 °C, whatever the logger's own surface is."""
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Air", exact=True).click()
        page.get_by_role("link", name="Import a log").click()
        good = "time,air_c,rh_pct,surface_c\n2026-05-12T09:00:00+02:00,12.0,70,11.0\n2026-05-12T12:00:00+02:00,12.0,70,11.0\n"
        self.choose(good.replace("70,11.0\n2026-05-12T12", "170,11.0\n2026-05-12T12"))
        expect(page.locator(".problems")).to_contain_text("humidity 170 must lie from 0.1 to 100 %")
        page.get_by_role("button", name="Throw this file away").click()
        page.get_by_role("link", name="Import a log").click()
        self.choose(good)
        expect(page.get_by_text("2 readings, Tue 12 May 09:00 to Tue 12 May 12:00")).to_be_visible()
        page.get_by_role("button", name="Import", exact=True).click()
        expect(page.get_by_text("Imported 2 readings.")).to_be_visible()
        expect(page.locator(".air-figures")).to_contain_text("12.0 °C")
        expect(page.locator(".dew-words")).to_contain_text("12.4 °C est.")
        expect(page.get_by_text("Surface by its logger 11.0 °C")).to_be_visible()
        page.get_by_label("Why is it withdrawn").first.fill("other room")
        page.get_by_role("button", name="Withdraw").first.click()
        expect(page.get_by_text("withdrawn: other room")).to_be_visible()
        expect(page.locator(".air-figures")).to_contain_text("20.0 °C")

    def choose(self, content):
        self.page.locator("input[type=file]").set_input_files(
            {"name": "log.csv", "mimeType": "text/csv", "buffer": content.encode()}
        )
        self.page.get_by_role("button", name="Look at it").click()


class NothingLostTests(BrowserCase):
    """Double taps, Back and resend, a page left open over a sign-out, two people, refused forms."""

    def open_log(self, page=None):
        page = page or self.page
        self.row("Cab side", page).get_by_role("link", name="Strip").click()
        expect(page.get_by_role("button", name="Log it")).to_be_visible()

    def test_a_double_tap_is_one_entry(self):
        self.sign_in()
        self.open_log()
        self.page.get_by_role("button", name="Log it").dblclick()
        expect(self.page.get_by_text("Bared: recorded.")).to_be_visible()
        self.assertEqual(Entry.objects.of(Kind.BARED).count(), 1)

    def test_what_could_not_be_recorded_is_said_and_stays_as_it_was_typed(self):
        """Somebody else holds the database for longer than is waited."""
        page = self.page
        self.sign_in()
        self.open_log()
        page.get_by_label("Note").fill("right side was pitted")
        self.allow("503", "htmx:responseError", "Response Status Error")
        name = connection.settings_dict["NAME"]
        with closing(sqlite3.connect(name, isolation_level=None)) as other, mock.patch.object(base, "WAIT_S", 0.5):
            other.execute("BEGIN IMMEDIATE")
            page.get_by_role("button", name="Log it").click()
            expect(page.locator("#refused")).to_contain_text("Not recorded: Others are writing without pause")
            other.execute("ROLLBACK")
        expect(page.get_by_label("Note")).to_have_value("right side was pitted")
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Bared: recorded.")).to_be_visible()
        self.assertEqual(Entry.objects.of(Kind.BARED).get().note, "right side was pitted")

    def test_back_and_resend_with_other_values_is_asked_about(self):
        page = self.page
        self.sign_in()
        self.open_log()
        url = page.url
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Bared: recorded.")).to_be_visible()
        page.go_back()
        expect(page).to_have_url(url)
        token = Submission.objects.get().token
        page.locator("[name=token]").evaluate("(node, token) => { node.value = token }", token)
        page.get_by_label("Share covered").fill("40")
        self.allow("409")
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Already recorded at 12:00")).to_be_visible()
        expect(page.get_by_label("Share covered")).to_have_value("40")
        self.allow("422")
        page.get_by_role("button", name="Correct it").click()
        page.get_by_label("Why is it corrected?").fill("only the lower part")
        expect(page.get_by_label("Share covered")).to_have_value("40")
        page.get_by_role("button", name="Correct it").click()
        expect(page.locator(".now-line")).to_be_visible()
        live = Entry.objects.known_at().of(Kind.BARED).get()
        self.assertEqual((live.places_on.get().share, Entry.objects.of(Kind.BARED).count()), (0.4, 2))

    def test_what_was_typed_survives_reload_and_sign_out(self):
        page = self.page
        self.sign_in()
        self.open_log()
        page.get_by_label("Note").fill("right side was pitted")
        page.reload()
        expect(page.get_by_label("Note")).to_have_value("right side was pitted")
        other = self.context.new_page()
        other.goto(self.live_server_url + "/")
        other.get_by_role("button", name="Sign out").click()
        expect(other.get_by_role("button", name="Sign in")).to_be_visible()
        self.allow("401")
        page.get_by_role("button", name="Log it").click()
        page.locator("#sign-in-strip").get_by_role("link", name="Sign in").click()
        page.get_by_label("Username").fill("bench")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_label("Note")).to_have_value("right side was pitted")
        self.assertEqual(Entry.objects.of(Kind.BARED).count(), 0)
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Bared: recorded.")).to_be_visible()
        page.go_back()
        page.reload()
        expect(page.get_by_label("Note")).to_have_value("")

    def test_a_fragment_on_a_signed_out_page_shows_the_strip_and_keeps_the_field(self):
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Cab side", exact=True).click()
        self.tab("Build-up")
        self.context.clear_cookies(name="sessionid")
        self.allow("401", "403")
        page.locator("[name='s-prime-coats']").fill("3")
        expect(page.locator("#sign-in-strip")).to_contain_text("You have been signed out")
        expect(page.locator("[name='s-prime-coats']")).to_have_value("3")

    def test_two_people_at_one_plan(self):
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Cab side", exact=True).click()
        self.tab("Build-up")
        mate = self.new_context().new_page()
        self.listen(mate)
        self.sign_in("mate", mate)
        mate.get_by_role("link", name="Cab side", exact=True).click()
        open_tab(mate, "Build-up")
        mate.locator("[name='s-prime-coats']").fill("3")
        mate.get_by_role("button", name="Save plan").click()
        expect(mate.get_by_text("Plan saved.")).to_be_visible()
        self.allow("409")
        page.locator("[name='s-prime-coats']").fill("4")
        page.get_by_role("button", name="Save plan").click()
        expect(page.get_by_text("Saved meanwhile by mate")).to_be_visible()
        expect(page.locator("[name='s-prime-coats']")).to_have_value("4")
        page.get_by_role("button", name="Save mine over it").click()
        expect(page.get_by_text("Plan saved.")).to_be_visible()
        expect(page.locator("[name='s-prime-coats']")).to_have_value("4")

    def test_a_refused_form_says_the_field_and_keeps_the_rest(self):
        page = self.page
        self.sign_in()
        self.open_log()
        self.allow("422")
        page.get_by_label("Began").fill("2026-03-29 02:30")
        page.get_by_label("Note").fill("kept")
        page.get_by_role("button", name="Log it").click()
        expect(page.locator(".has-error")).to_contain_text("summer time begins")
        expect(page.get_by_label("Note")).to_have_value("kept")

    def test_undo_by_one_tap(self):
        page = self.page
        self.sign_in()
        self.open_log()
        page.get_by_role("button", name="Log it").click()
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_text("Bared: undone.")).to_be_visible()
        expect(page.locator(".entry.is-bared")).to_contain_text("Voided by bench: undone")


class PhoneTests(BrowserCase):
    size = (390, 844)

    def test_bench_and_mix_in_gloves_at_390(self):
        page = self.page
        self.sign_in()
        for name in ("Bench", "Jobs", "Mix", "Log", "More"):
            page.locator(".foot").get_by_role("link", name=name).click()
            expect(page.locator("h1")).to_be_visible()
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
        page.get_by_role("button", name="Gloves on").click()
        expect(page.locator("html.gloves")).to_be_visible()
        page.locator(".foot").get_by_role("link", name="Mix").click()
        page.get_by_role("link", name="Mix").nth(0).click()
        page.locator("main").get_by_role("link", name="Mix").last.click()
        page.get_by_role("button", name="Begin pot").click()
        expect(page.get_by_role("heading", name="Pour the base")).to_be_visible()
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
        box = page.get_by_role("button", name="Log the weight").bounding_box()
        self.assertGreaterEqual(box["height"], 48)
        colours = page.evaluate(
            "[getComputedStyle(document.body).color, getComputedStyle(document.body).backgroundColor]"
        )
        self.assertEqual(colours, ["rgb(246, 241, 230)", "rgb(29, 27, 23)"])


class KeysTests(BrowserCase):
    def test_search_and_keys(self):
        page = self.page
        self.sign_in()
        page.keyboard.press("?")
        expect(page.get_by_role("heading", name="Keys")).to_be_visible()
        page.keyboard.press("Escape")
        page.keyboard.press("/")  # at once: the closed dialog's button still has the keys
        expect(page.get_by_role("heading", name="Keys")).to_be_hidden()
        expect(page.get_by_label("Search")).to_be_focused()
        page.keyboard.type("cab")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Search")).to_be_visible()
        expect(page.locator("main").get_by_role("link", name="Cab side")).to_be_visible()
        page.keyboard.press("j")
        expect(page.get_by_role("heading", name="Jobs")).to_be_visible()
        page.get_by_label("Route").get_by_role("link", name="Strip").click()
        expect(page.get_by_role("heading", name="Strip 1 zone")).to_be_visible()

    def test_close_reopen_copy_and_delete_a_job(self):
        page = self.page
        self.sign_in("owner")
        page.get_by_role("link", name="Jobs", exact=True).first.click()
        page.get_by_role("link", name="Trolley").first.click()
        page.get_by_role("button", name="Close").first.click()
        expect(page.get_by_text("Trolley: closed.")).to_be_visible()
        self.bench()
        expect(page.get_by_role("heading", name="Begin here")).to_be_visible()
        page.go_back()
        page.get_by_role("button", name="Reopen").click()
        page.get_by_role("link", name="Copy").click()
        page.get_by_label("Name of the copy").fill("Second trolley")
        page.get_by_role("button", name="Copy").click()
        expect(page.get_by_role("heading", name="Second trolley")).to_be_visible()
        page.get_by_role("button", name="Delete job").click()
        expect(page.get_by_text("Second trolley: deleted.")).to_be_visible()
