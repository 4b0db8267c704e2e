"""Reading aids: what the accessibility engine and our own measures say of every page; keys, focus, forced colours."""

import re

from django.test import Client
from playwright.sync_api import expect

from emplastra.logbook.models import Kind
from tests.a11y import CUT, FORCED, faults
from tests.pages import walk

from .base import BrowserCase

WIDEST = "[...document.querySelectorAll('main *')].filter((n) => n.getBoundingClientRect().right > innerWidth + 1).slice(0, 4).map((n) => n.outerHTML.slice(0, 90))"  # fmt: skip


class ReadingTests(BrowserCase):
    size = (390, 844)

    def set_up_workshop(self):
        super().set_up_workshop()
        self.shop.coat(-3, -2.9)
        bare = self.shop.make_zone("A face whose name is as long as sixty characters allow, left")
        self.shop.tell(Kind.BARED, -2, -1, "s-strip", zone=bare)
        self.shop.tell(Kind.DEGREASED, -0.5, step="s-wipe", zone=bare)
        self.shop.tell(Kind.BEGUN, -0.2, zone=bare, what="coat")
        mixed = {"revision": self.shop.primer.revisions.first(), "variant": "mild", "method": "brush"}
        self.shop.tell(Kind.POT, -0.1, zone=bare, step="s-prime", temp_c=20.0, ready_ml=200.0, **mixed)

    def test_every_page_reads_well(self):
        client = Client()
        client.force_login(self.shop.people["owner"])
        kinds = {
            re.sub(r"/materials/new/.*", "/materials/new/", a): a for a, page in walk(client, most=1) if "<main" in page
        }
        addresses = list(kinds.values())
        self.assertGreater(len(addresses), 30)
        self.assertTrue(any("/pots/" in address for address in addresses))
        page = self.page
        self.sign_in("owner")
        found = []
        for address in addresses:
            page.goto(self.live_server_url + address)
            found += [f"{address} {fault}" for fault in faults(page, phone=True)]
            for width in (360, 320, 640):  # 640: a page of 1280 px at 200 %
                page.set_viewport_size({"width": width, "height": 844})
                wide = page.evaluate("document.documentElement.scrollWidth")
                found += [f"{address} {wide} px wide at {width}: {page.evaluate(WIDEST)}"] if wide > width else []
            page.evaluate("document.documentElement.style.fontSize = '200%'")
            for width in (1280, 640):
                page.set_viewport_size({"width": width, "height": 844})
                wide = page.evaluate("document.documentElement.scrollWidth")
                found += [f"{address} {wide} px wide, large text, at {width}: {page.evaluate(WIDEST)}"] * (wide > width)
                found += [f"{address} {width} large text, {cut}" for cut in page.evaluate(CUT)]
            page.set_viewport_size({"width": 1280, "height": 800})
            page.evaluate("document.documentElement.style.fontSize = ''")
            page.emulate_media(forced_colors="active", color_scheme="dark")
            found += [f"{address} forced colours, {fault}" for fault in page.evaluate(FORCED)]
            page.emulate_media(forced_colors="none", color_scheme="light")
            page.set_viewport_size({"width": 390, "height": 844})
        self.assertFalse(found, "\n".join(found))


class KeyboardTests(BrowserCase):
    def set_up_workshop(self):
        super().set_up_workshop()
        self.shop.tell(Kind.BARED, -1.5, -1, "s-strip")

    def reach(self, name):
        """By the Tab key alone, to what bears a name."""
        page = self.page
        named = "(document.activeElement.labels?.[0]?.textContent ?? document.activeElement.textContent ?? '').trim().replace(/\\s+/g, ' ')"
        for _ in range(90):
            page.keyboard.press("Tab")
            if page.evaluate(named).startswith(name):
                ring = page.evaluate("getComputedStyle(document.activeElement).outlineWidth")
                self.assertGreaterEqual(float(ring.rstrip("px")), 2, name)  # where it is, is seen
                return
        self.fail(f"{name} cannot be reached")

    def test_a_wipe_a_check_and_a_coat_by_keyboard_alone(self):
        page = self.page
        self.sign_in()
        self.reach("Degrease")
        page.keyboard.press("Enter")
        expect(page.locator(".note.is-done")).to_contain_text("Cab side: degreased, 12:00")
        self.reach("Check")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="no flash rust")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_role("button", name="no flash rust")).to_be_hidden()
        page.keyboard.press("l")
        expect(page.get_by_role("heading", name="Log")).to_be_visible()
        self.reach("Cab side")
        page.keyboard.press("Enter")
        expect(page.locator("h1")).to_contain_text("Cab side")
        self.reach("Inspect")
        for key in ("Tab", "Tab", "Tab", "Enter"):  # over Film and Record to the button that logs
            page.keyboard.press(key)
        expect(page.get_by_role("heading", name="Something else happened")).to_be_visible()
        self.reach("Coat")
        page.keyboard.press("Enter")
        expect(page.locator("#coat-form")).to_be_visible()
        self.reach("Wet film readings")
        page.keyboard.type("110 120")
        expect(page.locator("#bar-says")).to_contain_text("dry")
        page.keyboard.press("Enter")
        expect(page.locator(".note.is-done")).to_contain_text("Coat: recorded.")

    def test_single_keys_can_be_turned_off(self):
        page = self.page
        self.sign_in()
        page.keyboard.press("?")
        page.get_by_role("button", name="Turn single keys off").click()
        page.keyboard.press("Escape")
        page.keyboard.press("j")
        page.keyboard.press("?")
        expect(page.get_by_role("button", name="Turn single keys on")).to_be_visible()
        expect(page).to_have_url(f"{self.live_server_url}/")
