"""Pictures of the main views, from the demo, by clicking."""

import sys
import time
from urllib.error import URLError
from urllib.request import urlopen

import django
import pypdfium2
from playwright.sync_api import expect, sync_playwright

django.setup()

from emplastra.demo.workshop import PASSWORD  # noqa: E402
from tests.browser.base import ARGUMENTS, chromium_path, open_tab  # noqa: E402

WIDE, PHONE = (1280, 800), (390, 844)


def wait_for(root):
    """Until the demo answers."""
    for _ in range(120):
        try:
            return urlopen(f"{root}/health").read()
        except (URLError, ConnectionError):
            time.sleep(0.25)
    raise SystemExit("the demo does not answer")


class Camera:
    """A signed-in page that takes pictures."""

    def __init__(self, browser, root, folder, size, who="bench"):
        self.root, self.folder = root, folder
        self.context = browser.new_context(viewport={"width": size[0], "height": size[1]}, locale="en-GB", timezone_id="UTC", reduced_motion="reduce")  # fmt: skip
        self.page = self.context.new_page()
        self.page.goto(root + "/")
        self.page.get_by_label("Username").fill(who)
        self.page.get_by_label("Password").fill(PASSWORD)
        self.page.get_by_role("button", name="Sign in").click()
        expect(self.page.get_by_role("heading", name="Bench")).to_be_visible()

    def shoot(self, name):
        """One picture, once the fonts are there."""
        self.page.evaluate("document.fonts.ready")
        self.page.screenshot(path=f"{self.folder}/{name}.png")

    def zone(self, name, tab=None):
        """Open a zone, and one of its pages."""
        self.page.goto(self.root + "/")
        self.page.locator("details").evaluate_all("all => all.forEach((each) => { each.open = true; })")  # what rests
        self.page.get_by_role("link", name=name, exact=True).first.click()
        if tab:
            open_tab(self.page, tab)

    def tab_of_job(self, name):
        """A tab of the job in view."""
        self.page.get_by_label("Job", exact=True).get_by_role("link", name=name, exact=True).click()

    def step(self, name):
        """A step of the plan in view, by its name."""
        return self.page.locator("fieldset.step", has=self.page.locator(".step-name", has_text=f". {name}")).first

    def break_the_plan(self):
        """A plan as it is typed, too coarse under colour and blocked through: rulings stand at their steps."""
        self.zone("Cab side, right, outer", "Build-up")
        self.step("Surface").get_by_label("Blocking takes").fill("150")
        self.step("Block").get_by_label("Grit").fill("P180")
        expect(self.page.locator(".step-ruling", has_text="shows through")).to_be_visible()
        self.page.evaluate("scrollTo(0, 150)")

    def trail(self):
        """Where a batch lies, recalled."""
        page = self.page
        page.get_by_role("link", name="Store", exact=True).click()
        page.locator(".tin-row", has_text="E-0417").get_by_role("link").first.click()
        page.get_by_role("link", name="Where it went").click()
        page.get_by_label("This batch is bad, because").fill("the maker calls it back")
        page.get_by_role("button", name="Recall it").click()
        expect(page.locator(".trail-lead")).to_contain_text("recalled")
        self.shoot("trail")

    def at_the_scale(self, act, grams=""):
        """Somebody at the played scale."""
        self.page.goto(self.root + "/scales/1/")
        self.page.get_by_label("Pour, trickle or vessel").fill(str(grams))
        self.page.get_by_role("button", name=act, exact=True).click()

    def live(self, phone):
        """A pot on the live scale: the base in, too much of the hardener, the base poured after."""
        page, scale = phone.page, self
        phone.zone("Cab side, right, outer", "Mix")
        page.get_by_role("button", name="Begin pot").click()
        scale.at_the_scale("Put a vessel on")
        page.get_by_role("link", name="Weigh on").click()
        takes = page.locator("[data-takes]:enabled").first
        expect(page.locator("[data-shows]").first).to_have_text("85.0", timeout=30000)
        page.get_by_role("button", name="Tare", exact=True).click()
        expect(page.locator("[data-still]")).to_be_visible()
        target = float(page.locator("#pot-live").get_attribute("data-target"))
        scale.at_the_scale("Pour", round(target, 1))
        expect(page.locator("#pot-live")).to_have_attribute("data-state", "there", timeout=90000)
        expect(takes).to_be_enabled()
        takes.click()
        expect(page.get_by_role("heading", name="Pour the hardener")).to_be_visible()
        low, high = (float(page.locator("#pot-live").get_attribute(f"data-{k}")) for k in ("low", "target"))
        scale.at_the_scale("Pour", round(0.7 * (high - low), 1))
        expect(page.locator("#pot-live [data-says]")).to_contain_text("steady", timeout=60000)
        page.evaluate("document.querySelector('.note.is-done')?.remove()")

    def over_a_door(self):
        """The pass over a door with a window, its edges gone round first by habit."""
        page = self.page
        self.zone("Door, left, outer", "Pass")
        page.get_by_label("Flow").fill("190")
        page.get_by_label("Speed of the hand").fill("0.3")
        page.get_by_label("Strokes at edges").select_option("flat")
        page.get_by_label("Openings", exact=True).fill("250 90 500 260")
        page.get_by_label("Openings", exact=True).press("Tab")
        expect(page.locator(".pass-side")).to_contain_text("over openings")
        page.evaluate("scrollTo(0, 0)")
        self.shoot("pass")

    def days(self):
        """The days planned and taken."""
        page = self.page
        page.get_by_role("link", name="Days", exact=True).click()
        page.get_by_role("button", name="Plan the days").click()
        expect(page.get_by_text("Proposed.")).to_be_visible(timeout=90000)
        page.get_by_role("button", name="Take it").click()
        page.evaluate("document.querySelector('.page-head').scrollIntoView()")
        self.shoot("days")

    def settings(self):
        """A backup made, sealed, and what lies there."""
        page = self.page
        for sealed in ("", "seven wet panels"):
            page.get_by_role("link", name="More", exact=True).first.click()
            page.get_by_role("link", name="Settings", exact=True).click()
            page.get_by_label("Settings", exact=True).get_by_role("link", name="Backups").click()
            page.get_by_label("Your password now").fill(PASSWORD)
            page.get_by_label("Seal it with a passphrase").fill(sealed)
            page.get_by_label("The same once more").fill(sealed)
            page.get_by_role("button", name="Make a backup").click()
            expect(page.get_by_role("link", name="Fetch it")).to_be_visible(timeout=60000)
        page.get_by_role("link", name="More", exact=True).first.click()
        page.get_by_role("link", name="Settings", exact=True).click()
        page.get_by_label("Settings", exact=True).get_by_role("link", name="Backups").click()
        self.shoot("settings")

    def store(self):
        """What stands on the shelf."""
        self.page.goto(self.root + "/")
        self.page.get_by_role("link", name="Store", exact=True).click()
        self.shoot("store")

    def handed_over(self):
        """A face of the finished job's dossier, as a page of its PDF."""
        page = self.page
        page.get_by_role("link", name="Jobs", exact=True).first.click()
        page.get_by_role("link", name="Closed", exact=True).click()
        page.get_by_role("link", name="Crossing bell").click()
        self.tab_of_job("Record")
        page.get_by_label("Job, more").get_by_role("link", name="Dossier", exact=True).click()
        page.get_by_role("button", name="Make the PDF").click()
        made = page.get_by_role("link", name="Open the PDF")
        expect(made).to_be_visible(timeout=60000)
        data = page.request.get(self.root + made.get_attribute("href")).body()
        with pypdfium2.PdfDocument(data) as pdf:
            pdf[2].render(scale=1.5).to_pil().save(f"{self.folder}/dossier.png")

    def practice(self):
        """A sill that was shut over a burnt far side, seen by mirror."""
        page = self.page
        page.get_by_role("link", name="More", exact=True).click()
        page.get_by_role("link", name="Practice", exact=True).click()
        page.get_by_role("button", name="A closed sill").click()
        page.get_by_role("button", name="Outer face, patch: Weld").click()
        page.locator("summary", has_text="Later in its plan").first.click()
        taps = (
            "Far side, inside: Close",
            "Lower lip: Acid prep with Practice acid prep",
            "Wait 15 min",
            "Lower lip: Rinse",
            "Wait 4 h",
        )
        for name in (*taps, "Far side, inside: look by mirror"):
            page.get_by_role("button", name=name).click()
            page.wait_for_load_state()
        self.shoot("practice")
        page.get_by_role("link", name="Back to the shop").click()


def main(root, folder):
    """All pictures."""
    wait_for(root)
    with sync_playwright() as driver:
        browser = driver.chromium.launch(executable_path=chromium_path(), args=ARGUMENTS)
        wide = Camera(browser, root, folder, WIDE)
        wide.shoot("bench")
        pages = (
            ("now", "Now", "Cab side, left, outer"),
            ("record", "Record", "Frame, right, inside"),
        )
        for name, tab, zone in pages:
            wide.zone(zone, tab)
            wide.shoot(name)
        wide.break_the_plan()
        wide.shoot("build-up")
        wide.zone("Cab side, left, outer", "Log")
        wide.page.get_by_role("link", name="Coat", exact=True).click()
        wide.shoot("log-coat")
        wide.page.get_by_role("link", name="Windows", exact=True).click()
        wide.shoot("windows")
        wide.page.get_by_role("link", name="Jobs", exact=True).first.click()
        wide.page.get_by_role("link", name="Inspection trolley").click()
        wide.shoot("job-map")
        wide.page.get_by_role("link", name="Jobs", exact=True).first.click()
        wide.page.get_by_role("link", name="Buffet trolley").click()
        wide.tab_of_job("Colour")
        wide.shoot("colour")
        for name, zone in (
            ("Film", "Roof, aluminium, outer"),
            ("Level", "Locker lid, outer"),
        ):
            wide.zone(zone, name)
            wide.shoot(name.lower())
        wide.over_a_door()
        wide.store()
        wide.handed_over()
        wide.practice()
        wide.days()
        Camera(browser, root, folder, WIDE, "owner").settings()
        phone = Camera(browser, root, folder, PHONE)
        phone.shoot("bench-390")
        phone.page.goto(root + "/")
        phone.page.get_by_role("link", name="More").click()
        phone.page.get_by_role("button", name="Gloves on").click()
        wide.live(phone)
        phone.shoot("mix-live-390")
        wide.trail()
        browser.close()


if __name__ == "__main__":
    main(*sys.argv[1:])
