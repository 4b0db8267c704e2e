"""Few taps, one place for each thing, and a page that never goes stale: by a thumb at 390 px."""

import re

from playwright.sync_api import expect

from emplastra.jobs.services import save_build_up
from emplastra.logbook.models import Entry, Kind
from emplastra.shared import clock
from emplastra.store.models import Tin
from tests.base import PRIMER

from .base import BrowserCase

STRIPPED = {"kind": "strip", "id": "s-strip"}
WIPE = {"kind": "degrease", "id": "s-wipe"}
PRIME = {"kind": "prime", "id": "s-prime", "product": "Test primer", "coats": 2, "dft_um": 50, "method": "hvlp", "thinner_pct": 10}  # fmt: skip
#: Keeps which live regions of the page change from now on.
SPEAKS = """window.spoken = []; for (const region of document.querySelectorAll('[aria-live], [role=status], [role=alert]'))
  new MutationObserver(() => spoken.push(region.id || region.className)).observe(region, { childList: true, characterData: true, subtree: true })"""


class HandTests(BrowserCase):
    size = (390, 844)

    def set_up_workshop(self):
        super().set_up_workshop()
        shop = self.shop
        self.zones = [shop.zone, shop.make_zone("Cab roof")]
        for zone in self.zones:
            save_build_up(zone, shop.user, [STRIPPED, WIPE, PRIME], 1)
            shop.tell(Kind.BARED, -1.5, -1, "s-strip", zone=zone)
        for part in PRIMER["components"]:
            Tin.objects.create(product=shop.primer, part=part["key"], batch=f"B-{part['key']}")
        self.taps = 0

    def tap(self, one):
        """One tap of a thumb, counted: on what is in view, 48 px high at least."""
        expect(one).to_be_visible()
        self.assertGreaterEqual(one.bounding_box()["height"], 47.5, one)
        one.click()
        self.taps += 1

    def count(self):
        """Taps since it was asked last."""
        found, self.taps = self.taps, 0
        return found

    def row(self, name, page=None):
        """A zone's own row, not that of its pot."""
        return self.page.locator("article.row[data-zone]", has_text=name)

    def fill(self, label, text):
        self.page.get_by_label(label).fill(text)

    def test_the_taps_of_a_day(self):
        page = self.page
        self.sign_in()
        row = self.row("Cab side")
        self.tap(row.get_by_role("button", name="Degrease"))
        expect(page.locator(".note.is-done")).to_contain_text("Cab side: degreased, 12:00")
        expect(row).to_contain_text("Degreased 12:00")
        self.assertEqual(self.count(), 1)

        self.tap(row.locator("summary", has_text="Check"))
        self.tap(row.get_by_role("button", name="a white cloth stays clean"))
        expect(page.locator(".note.is-done")).to_contain_text("check, 12:00")
        self.assertEqual(self.count(), 2)

        self.tap(row.get_by_role("link", name="Mix"))
        self.tap(page.get_by_role("button", name="Begin pot"))
        for part in ("base", "hardener", "thinner"):
            expect(page.get_by_role("heading", name=f"Pour the {part}")).to_be_visible()
            expect(page.get_by_label("Batch")).to_have_value(f"B-{part}")
            self.fill("On the scale", page.locator(".huge b").inner_text())
            self.tap(page.get_by_role("button", name=re.compile(r"^Log \d")))
        expect(page.get_by_role("heading", name="Stir and wait")).to_be_visible()
        self.assertLessEqual(self.count(), 7)

        clock.advance(minutes=16)
        self.bench()
        self.tap(row.get_by_role("link", name="Log coat"))
        form = page.locator("#coat-form")
        self.assertLess(form.bounding_box()["y"], 844 / 3)
        self.fill("Wet film readings", "110 120")
        expect(page.locator("#bar-says")).to_contain_text(re.compile(r"µm dry\s+opens"))
        button = page.get_by_role("button", name="Log it")
        self.assertLess(button.bounding_box()["y"] + 48, 844 - 52)  # in view, over the foot bar, with film and hour
        self.tap(button)
        expect(page.locator(".note.is-done")).to_contain_text("Coat: recorded.")
        self.assertLessEqual(self.count(), 3)

        clock.advance(minutes=30)
        self.bench()
        expect(row).to_contain_text(re.compile(r"from\s+14:\d\d"))  # its next opening: no tap
        self.assertLess(row.get_by_text(re.compile(r"14:\d\d")).first.bounding_box()["y"], 844 - 52)

    def test_undo_start_and_several(self):
        page = self.page
        self.sign_in()
        for name in ("Cab side", "Cab roof"):
            self.tap(self.row(name).locator(".tick"))
        expect(page.locator("#ticked")).to_have_text("2 ticked")
        self.tap(page.locator(".several").get_by_role("button", name="Degrease"))
        expect(page.locator(".note.is-done")).to_contain_text("Cab side, Cab roof: degreased")
        self.assertEqual(Entry.objects.known_at().of(Kind.DEGREASED).get().zones.count(), 2)
        self.tap(self.row("Cab roof").get_by_role("button", name="Undo"))
        expect(page.locator(".note.is-done")).to_contain_text("undone")
        expect(self.row("Cab side").get_by_role("button", name="Degrease")).to_be_visible()
        self.assertFalse(Entry.objects.known_at().of(Kind.DEGREASED).exists())

    def test_what_is_open_ticked_or_in_focus_stays_through_a_refresh(self):
        page = self.page
        page.clock.install()
        self.sign_in()
        row = self.row("Cab roof")
        row.locator(".tick").click()
        row.locator("summary", has_text="Check").click()
        answer = row.get_by_role("button", name="no flash rust")
        answer.scroll_into_view_if_needed()
        answer.focus()
        before = page.evaluate("scrollY")
        page.evaluate(SPEAKS)
        self.shop.tell(Kind.DEGREASED, -0.01, step="s-wipe", user=self.shop.people["mate"])
        clock.advance(minutes=3)
        with page.expect_response("**/bench/rows*"):
            page.clock.fast_forward(20_000)
        expect(page.locator("#as-of")).to_contain_text("12:03")
        expect(self.row("Cab side").get_by_role("link", name="Mix")).to_be_visible()
        expect(page.locator("#air")).to_contain_text("Cab side")
        expect(answer).to_be_focused()
        expect(row.locator(".tick input")).to_be_checked()
        self.assertEqual(page.evaluate("scrollY"), before)
        self.assertEqual(page.evaluate("spoken"), [])  # nothing became urgent: nothing is read out

    def test_a_page_without_an_answer_for_a_minute_says_so(self):
        page = self.page
        self.allow("bench/rows", "htmx:sendError", "htmx:afterRequest", "net::ERR")
        page.clock.install()
        self.sign_in()
        page.route("**/bench/rows*", lambda route: route.abort())
        for _ in range(4):
            page.clock.run_for(20_000)
        expect(page.locator("#stale")).to_contain_text("No answer since")
        self.assertEqual(page.locator("#stale").bounding_box()["y"], 0)
        page.unroute("**/bench/rows*")
        page.clock.run_for(20_000)
        expect(page.locator("#stale")).to_be_hidden()

    def test_acts_tapped_while_away_wait_and_are_sent_in_order(self):
        page = self.page
        self.allow("htmx:sendError", "htmx:afterRequest", "net::ERR", "Failed to fetch")
        self.sign_in()
        self.context.set_offline(True)
        for name in ("Cab roof", "Cab side"):
            self.tap(self.row(name).get_by_role("button", name="Degrease"))
        lines = page.locator("#outbox li")
        expect(lines).to_have_text([re.compile(r"12:00 Degrease, Cab (roof|side): waits for the connection")] * 2)
        page.once("dialog", lambda dialog: dialog.dismiss())
        self.row("Cab side").get_by_role(
            "button", name="Degrease"
        ).click()  # again within two minutes: asked, and not meant
        expect(lines).to_have_count(2)
        self.assertFalse(Entry.objects.of(Kind.DEGREASED).exists())
        self.context.set_offline(False)
        expect(lines).to_have_text([re.compile("Cab roof: degreased, 12:00"), re.compile("Cab side: degreased, 12:00")])
        expect(self.row("Cab side")).to_contain_text("Degreased 12:00")
        self.assertEqual(
            [e.zones.get().name for e in Entry.objects.of(Kind.DEGREASED).order_by("id")], ["Cab roof", "Cab side"]
        )
        for _ in range(2):
            lines.first.get_by_role("button", name="Seen").click()
        expect(page.locator("#outbox")).to_be_hidden()

    def test_a_tap_while_another_is_on_its_way_goes_after_it(self):
        """And the same tap twice is one."""
        page, waiting = self.page, []
        self.sign_in()
        page.route("**/acts", lambda route: waiting.append(route), times=1)
        first, second = (self.row(name).get_by_role("button", name="Degrease") for name in ("Cab roof", "Cab side"))
        with page.expect_request("**/acts"):
            first.click()
        first.click()
        second.click()
        expect(page.locator("#outbox li")).to_contain_text("Degrease, Cab side")
        waiting[0].continue_()
        expect(page.locator("#outbox li")).to_contain_text("Cab side: degreased")
        self.assertEqual([e.zones.get().name for e in Entry.objects.of(Kind.DEGREASED).order_by("id")], ["Cab roof", "Cab side"])  # fmt: skip

    def test_a_form_without_an_answer_stays_as_it_is(self):
        page = self.page
        self.allow("htmx:sendError", "htmx:afterRequest", "net::ERR")
        self.sign_in()
        page.goto(f"{self.live_server_url}/zones/{self.zones[0].pk}/log/degreased")
        self.fill("Share covered", "40")
        button = page.get_by_role("button", name="Log it")
        page.route("**/log/degreased", lambda route: route.abort())
        button.click()
        expect(page.locator("#lost")).to_be_in_viewport()
        expect(page.get_by_label("Share covered")).to_have_value("40")
        page.unroute("**/log/degreased")
        button.click()
        expect(page.locator(".note.is-done")).to_contain_text("Degreased: recorded.")
        self.assertEqual(Entry.objects.of(Kind.DEGREASED).get().places_on.get().share, 0.4)
