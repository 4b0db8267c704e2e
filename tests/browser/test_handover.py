"""The demo's finished job handed over, taken to another workshop, looked at after three years; one practice to a bad end and one to a good one."""

import io
import re
from datetime import timedelta
from unittest import mock

from django.db import transaction
from playwright.sync_api import expect
from pypdf import PdfReader

from emplastra.accounts.models import User
from emplastra.demo import workshop
from emplastra.demo.teller import START
from emplastra.jobs.models import Job
from emplastra.practice import services
from emplastra.shared import clock, tasks
from emplastra.shared.appendonly import make_triggers
from tests.base import PASSWORD, drop_caches
from tests.web.test_archive import emptied, said

from .base import BrowserCase


class HandoverTests(BrowserCase):
    def set_up_workshop(self):
        workshop.load()
        clock.freeze(START)

    def set_up_empty_workshop(self):
        """Another workshop, with nothing in it but an owner."""
        with transaction.atomic():
            emptied()
        make_triggers()
        drop_caches()
        User.objects.create_user("keeper", password=PASSWORD, role="owner")

    def come_in(self, name, password):
        page = self.page
        page.goto(self.live_server_url + "/")
        page.get_by_label("Username").fill(name)
        page.get_by_label("Password").fill(password)
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("heading", name="Bench")).to_be_visible()

    def open_job(self, tab):
        page = self.page
        page.get_by_label("Tools").get_by_role("link", name="Jobs").click()
        page.get_by_role("link", name="Closed", exact=True).click()
        page.get_by_role("link", name="Crossing bell").click()
        page.get_by_label("Job", exact=True).get_by_role("link", name="Record").click()
        page.get_by_label("Job, more").get_by_role("link", name=tab, exact=True).click()

    def made(self, link):
        """The bytes of what a task made, by its link."""
        page = self.page
        expect(page.get_by_role("link", name=link)).to_be_visible(timeout=60000)
        for thread in tasks.followers():
            thread.join()
        return page.request.get(self.live_server_url + page.get_by_role("link", name=link).get_attribute("href")).body()

    def test_handed_over_carried_away_and_looked_at_again(self):
        page = self.page
        self.come_in("owner", workshop.PASSWORD)

        # The dossier, with words of one's own, read back.
        self.open_job("Dossier")
        expect(page.locator(".dossier-lead")).to_contain_text("4 faces, 3 coated; left as they are: Clapper plate.")
        page.get_by_label("Your own words").fill("Ring it once a year.")
        page.get_by_role("button", name="Make the PDF").click()
        whole = " ".join(p.extract_text() for p in PdfReader(io.BytesIO(self.made("Open the PDF"))).pages)
        for words in (
            "Ring it once a year.",
            "Crossing bell",
            "318 µm over mild steel",
            "E-0417",
            "founder's number",
            "Accepted, with a reason",
            "page 2 of",
        ):
            self.assertIn(words, " ".join(whole.split()))

        # The care page by its private address, in a browser that nobody signed in with, until it is revoked.
        self.open_job("Care")
        page.get_by_role("button", name="Make a private address").click()
        address = page.get_by_label("Private address").input_value()
        owner = self.new_context().new_page()
        self.listen(owner)
        owner.goto(address)
        expect(owner.get_by_role("heading", name="Crossing bell")).to_be_visible()
        expect(owner.locator(".care-row.is-later").first).to_contain_text("Wash it with a jet")
        page.get_by_role("button", name="Revoke it").click()
        expect(page.get_by_text("Revoked: it opens no more.")).to_be_visible()
        self.allow("404", "422")
        owner.reload()
        expect(owner.get_by_role("heading", name="Crossing bell")).to_have_count(0)

        # Out as an archive.
        self.open_job("Archive")
        page.get_by_role("button", name="Make the archive").click()
        data = self.made("Fetch the archive")
        before = said(Job.objects.get(name="Crossing bell"))

        # Three years later two faces are looked at again: the system's figure moves.
        clock.freeze(START + timedelta(days=1096))
        self.held("held 5 of 6")
        self.open_job("Look again")
        page.get_by_role("button", name="Hood, inside: same").click()
        expect(page.get_by_text("1 of 4 faces looked at today")).to_be_visible()
        page.get_by_role("link", name="Bracket, cast: failed").click()
        page.get_by_label("What, 1").select_option("rust")
        page.get_by_role("button", name="Write it down").click()
        expect(page.locator("#f-much1")).to_contain_text("say how much of it")
        page.get_by_label("How much, 1").select_option("4")
        page.get_by_label("Where, 1").fill("round the bolt")
        page.get_by_role("button", name="Write it down").click()
        expect(page.get_by_text("2 of 4 faces looked at today")).to_be_visible()
        expect(page.get_by_text("about 8 % of it; round the bolt")).to_be_visible()
        self.held("held 6 of 8")

        # Into an empty workshop: all of it stands as it stood.
        clock.freeze(START)
        page.get_by_role("button", name="Sign out").click()
        self.set_up_empty_workshop()
        self.come_in("keeper", PASSWORD)
        page.get_by_label("Tools").get_by_role("link", name="Jobs").click()
        page.get_by_role("link", name="From an archive").click()
        page.get_by_label("Archive of a job").set_input_files(
            {"name": "bell.zip", "mimeType": "application/zip", "buffer": data}
        )
        page.get_by_role("button", name="Take it in").click()
        expect(page.get_by_text(re.compile("Taken in from Railside workshop: Crossing bell, 4 faces"))).to_be_visible(
            timeout=60000
        )
        for thread in tasks.followers():
            thread.join()
        page.get_by_role("link", name="To the job").click()
        expect(page.get_by_role("heading", name="Crossing bell")).to_be_visible()
        drop_caches()
        self.assertEqual(said(Job.objects.get(name="Crossing bell")), before)

    def held(self, words):
        page = self.page
        page.get_by_label("Tools").get_by_role("link", name="More").click()
        page.get_by_role("link", name="Did it hold").click()
        expect(page.locator(".held-row", has_text="Mastic, brushed").first).to_contain_text(words)

    def test_one_practice_to_a_bad_end_and_one_to_a_good_one(self):
        page = self.page
        self.allow("422")
        self.come_in("viewer", workshop.PASSWORD)
        page.get_by_label("Tools").get_by_role("link", name="More").click()
        page.get_by_role("link", name="Practice").click()
        with mock.patch.object(services.secrets, "randbelow", return_value=3):
            page.get_by_role("button", name="A skin with pits").click()
            expect(page.get_by_text("Nothing here is logged.")).to_be_visible()
            page.get_by_role("button", name="Wait 1 h").click()
            page.get_by_role("button", name="Outer skin: Prime with Practice epoxy").or_(
                page.locator("summary", has_text="Later in its plan")
            ).first.click()
            page.get_by_role("button", name="Outer skin: Prime with Practice epoxy").click()
            expect(page.get_by_text("mix Practice epoxy first")).to_be_visible()
            for hour in ("12:30", "13:30"):
                page.get_by_role("button", name="Wait 1 h").click()
                expect(page.locator(".pr-clock")).to_contain_text(hour)
            expect(page.locator(".pr-say")).to_contain_text("It shows: flash rust")
            expect(page.locator(".is-shown")).to_contain_text("on the saw-tooth of the lifeline")
            page.get_by_role("button", name="End it").click()
            expect(page.locator(".pr-say")).to_contain_text("1 face not finished")

            page.get_by_role("button", name="The same weather again").click()
            page.get_by_label("mL").fill("40")
            page.get_by_role("button", name="Mix Practice epoxy").click()
            for name in ("Abrade P120", "Degrease with Practice wipe", "Prime with Practice epoxy"):
                form = page.locator("form", has=page.get_by_role("button", name=f"Outer skin: {name}"))
                form.get_by_label("as its caution says").check()
                form.get_by_role("button").click()
                expect(page.locator(".pr-line", has_text=name)).to_be_visible()
            page.get_by_role("button", name="End it").click()
            expect(page.locator(".pr-say")).to_contain_text("All of it held")
        page.get_by_role("link", name="Back to the shop").click()
        expect(page.get_by_role("heading", name="Bench")).to_be_visible()
