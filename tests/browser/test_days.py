"""The demo's days planned, a coat logged late, a clash read and got out of, the risk seen to change, a calendar revoked."""

import re
from datetime import timedelta

from playwright.sync_api import expect

from emplastra.demo import workshop
from emplastra.demo.teller import START
from emplastra.shared import clock, tasks

from .base import BrowserCase


class DaysTests(BrowserCase):
    """The demo, walked through by hand; what is planned differs from run to run, so only what must hold is asked."""

    def set_up_workshop(self):
        workshop.load()
        clock.freeze(START)

    def sign_in_demo(self):
        page = self.page
        page.goto(self.live_server_url + "/")
        page.get_by_label("Username").fill("bench")
        page.get_by_label("Password").fill(workshop.PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("heading", name="Bench")).to_be_visible()

    def plan(self, button):
        page = self.page
        page.get_by_role("button", name=button, exact=True).click()
        expect(page.get_by_text("Proposed.")).to_be_visible(timeout=60000)
        for thread in tasks.followers():
            thread.join()

    def missed(self):
        """How many windows the plan in view would miss."""
        found = re.search(r"(\d+) windows? would be missed", self.page.locator(".days-lead").inner_text())
        return int(found[1]) if found else 0

    def test_days_from_a_plan_to_a_calendar(self):
        page = self.page
        self.sign_in_demo()
        page.get_by_label("Tools").get_by_role("link", name="Days").click()
        self.plan("Plan the days")
        lead = page.locator(".days-lead")
        expect(lead).to_contain_text("Inspection trolley ready")
        expect(lead).to_contain_text("Tool locker ready")
        expect(page.locator(".days-picture .day-layer").first).to_be_visible()
        expect(page.locator(".days-risk")).to_contain_text("Every window is kept")
        page.get_by_role("button", name="Take it").click()
        expect(page.get_by_text("Taken: this plan holds.")).to_be_visible()

        # A coat goes on later than planned: the plan says that something is late, and is planned again.
        clock.freeze(START + timedelta(hours=2))
        page.get_by_label("Search").fill("lower lip")
        page.get_by_label("Search").press("Enter")
        page.locator("main").get_by_role("link", name="Locker back, lower lip").click()
        page.locator("main").get_by_role("link", name="Log coat").first.click()
        page.get_by_label("Began").fill("11:40")
        page.get_by_label("Ended").fill("11:45")
        page.get_by_role("button", name="Log it").click()
        page.get_by_label("Tools").get_by_role("link", name="Days").click()
        expect(page.get_by_text("should have been done by now")).to_be_visible()
        page.locator(".page-head").get_by_role("link", name="Hours").click()
        page.get_by_label("What", exact=True).select_option("shut")
        page.get_by_label("From", exact=True).fill("2026-05-12 12:00")
        page.get_by_label("Until", exact=True).fill("2026-05-14 12:00")
        page.get_by_label("Note", exact=True).fill("stocktaking")
        page.get_by_role("button", name="Write it down").click()
        expect(page.get_by_text("Shut, the whole shop")).to_be_visible()
        page.get_by_role("link", name="Back to the days").click()
        self.plan("Plan again")

        # Why it cannot be, and the way out.
        expect(lead).to_contain_text("would be missed")
        clash = page.get_by_label("Clash")
        expect(clash).to_contain_text("nobody is there Tue 12 May 12:00 to Thu 14 May 12:00")
        kept_before = page.locator(".days-risk p").first.inner_text()
        way = clash.locator(".days-way").filter(has_text="The shop open all the same")
        before = self.missed()
        way.get_by_role("button", name="Take this way").click()
        expect(page.get_by_text("Proposed.")).to_be_visible(timeout=60000)
        self.assertLess(self.missed(), before)
        self.assertNotEqual(page.locator(".days-risk p").first.inner_text(), kept_before)

        # An act is carried to another day by keys, and the rest follows.
        layer = page.locator(".day-layer[data-acts]").first
        layer.focus()
        layer.press("ArrowRight")
        expect(page.locator("#days-carried")).to_contain_text("Enter puts it there")
        layer.press("Escape")

        # A calendar: its address opens without signing in, and no more once it is revoked.
        page.get_by_role("link", name="Calendar").click()
        page.get_by_role("button", name="Make a private address").click()
        address = page.get_by_label("Private address").input_value()
        self.assertRegex(address, re.compile(r"/feeds/[\w-]{40,}\.ics$"))
        outside = self.new_context().new_page()
        answer = outside.request.get(address)
        self.assertEqual(answer.status, 200)
        self.assertIn("BEGIN:VEVENT", answer.text())
        page.get_by_role("button", name="Revoke it").click()
        expect(page.get_by_text("Revoked: it opens no more.")).to_be_visible()
        self.assertEqual(outside.request.get(address).status, 404)
