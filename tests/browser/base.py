"""One Chromium per test process, a new context per test, and an ear for anything that goes wrong."""

import contextlib
import os
import shutil
from multiprocessing.util import Finalize

from django.contrib.staticfiles.handlers import StaticFilesHandler
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.test import tag
from playwright.sync_api import TimeoutError, expect, sync_playwright

from emplastra.shared import clock
from tests.base import PASSWORD, DropTriggers, Shop

ARGUMENTS = [
    "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost",
    "--disable-background-networking", "--disable-component-update", "--disable-sync", "--no-first-run", "--no-pings", "--disable-gpu",
    "--disable-dev-shm-usage", "--font-render-hinting=none", "--force-color-profile=srgb", "--hide-scrollbars", "--no-sandbox",
]  # fmt: skip
expect.set_options(timeout=20000)
_started = {}


def chromium_path():
    """Where a Chromium is, by CHROMIUM or by name."""
    names = ("chromium", "chromium-browser", "google-chrome")
    return os.environ.get("CHROMIUM") or next(filter(None, map(shutil.which, names)), None)


def browser():
    """The browser of this process, started on first use and closed when the process ends."""
    if "browser" not in _started:
        driver = sync_playwright().start()
        _started["browser"] = driver.chromium.launch(executable_path=chromium_path(), args=ARGUMENTS)
        Finalize(None, _stop, args=(driver,), exitpriority=10)
    return _started["browser"]


def _stop(driver):
    _started.pop("browser").close()
    driver.stop()


TAB_OF = {
    "Build-up": "Plan", "Strip plan": "Plan", "Treatment": "Plan", "What if": "Plan", "Quantities": "Plan", "Mix": "Plan", "Pots": "Plan", "Measures": "Plan", "Survey": "Inspect", "Found more": "Inspect", "Pass": "Film", "Level": "Film", "Heat": "Film",
}  # fmt: skip
"""The tab under which a zone's page stands, where it is not a tab itself."""


def open_tab(page, name):
    """Go to a page of the zone in view by its tab."""
    page.get_by_label("Zone", exact=True).get_by_role("link", name=TAB_OF.get(name, name), exact=True).click()
    if name in TAB_OF:
        page.get_by_label("Zone, more").get_by_role("link", name=name, exact=True).click()


class KeptStatic(StaticFilesHandler):
    """Styles and scripts as a server sends them: kept by the browser, not asked for again with every page."""

    def serve(self, request):
        answer = super().serve(request)
        answer["Cache-Control"] = "max-age=3600"
        return answer


@tag("browser")
class BrowserCase(DropTriggers, StaticLiveServerTestCase):
    """A page on the live server; at the end there must have been no error that was not announced."""

    static_handler = KeptStatic
    size = (1280, 800)

    def setUp(self):
        self.addCleanup(clock.freeze, None)
        self.set_up_workshop()
        self.allowed = []
        self.context = self.new_context()
        self.page = self.context.new_page()
        self.listen(self.page)

    def set_up_workshop(self):
        """The only place where rows are written directly: a workshop to click in."""
        self.shop = Shop().build()

    def new_context(self):
        """A fresh browser profile."""
        width, height = self.size
        context = browser().new_context(viewport={"width": width, "height": height}, locale="en-GB", timezone_id="UTC", reduced_motion="reduce")  # fmt: skip
        self.addCleanup(context.close)
        return context

    def listen(self, page):
        """Collect what must not happen."""
        self.heard = getattr(self, "heard", [])
        page.on("pageerror", lambda error: self.heard.append(f"error {error}"))
        page.on("console", lambda m: self.heard.append(f"console {m.text}") if m.type == "error" else None)
        page.on("response", lambda r: self.heard.append(f"{r.status} {r.url}") if r.status >= 400 else None)
        page.on("request", lambda r: self.heard.append(f"left for {r.url}") if not r.url.startswith((self.live_server_url, "data:", "blob:")) else None)  # fmt: skip

    def tearDown(self):
        self.settle()
        surprises = [h for h in self.heard if not any(word in h for word in self.allowed)]
        self.assertEqual(surprises, [])
        super().tearDown()

    def settle(self):
        """Until the page asks nothing more, so that late errors are heard; one that weighs is never still."""
        with contextlib.suppress(TimeoutError):
            self.page.wait_for_load_state("networkidle", timeout=8000)

    def allow(self, *words):
        """Announce responses that the test provokes: a refused form 422, a stale one 409."""
        self.allowed += [*words, "Failed to load resource"]

    def sign_in(self, name="bench", page=None):
        """From the first page, by typing."""
        page = page or self.page
        page.goto(self.live_server_url + "/")
        page.get_by_label("Username").fill(name)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("heading", name="Bench")).to_be_visible()

    def row(self, name, page=None):
        """A zone's row on Bench."""
        return (page or self.page).locator("article.row", has_text=name)

    def open_zone(self, name):
        """Go to a zone from its row on Bench."""
        self.bench()
        self.row(name).get_by_role("link", name=name, exact=True).click()
        expect(self.page.locator("h1")).to_contain_text(name)

    def survey(self, *tiles, **selects):
        """Answer the survey of the zone in view, (topic, tile) and choices by their labels, and save."""
        page = self.page
        self.tab("Survey")
        expect(page.locator("#photos")).to_be_visible()  # the end of the page: all groups are there
        page.locator("details").evaluate_all("groups => groups.forEach((group) => { group.open = true })")
        for topic, answer in tiles:
            page.locator(f'[data-topic="{topic}"] label.tile', has_text=answer).first.click()
        for label, answer in selects.items():
            page.get_by_label(label.replace("_", " ")).first.select_option(label=answer)
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.locator(".note.is-done")).to_be_visible()

    def tab(self, name):
        """Go to a page of the zone in view by its tab."""
        open_tab(self.page, name)

    def put_in(self, kind, product="", after=None):
        """A step put into the plan in view, and what comes of it awaited; it is not saved by that."""
        page, steps = self.page, self.page.locator("fieldset.step")
        count = steps.count()
        page.get_by_label("What", exact=True).select_option(kind)
        page.get_by_label("With", exact=True).select_option(product)
        if after is not None:
            page.get_by_label("Where", exact=True).select_option(label=after)
        page.get_by_role("button", name="Put it in").click()
        expect(steps).to_have_count(count + 1)

    def save_plan(self):
        """The plan in view saved."""
        self.page.get_by_role("button", name="Save plan").click()
        expect(self.page.get_by_text("Plan saved.")).to_be_visible()

    def bench(self):
        """Go to Bench by its tool."""
        self.page.get_by_role("link", name="Bench", exact=True).first.click()
        expect(self.page.get_by_role("heading", name="Bench")).to_be_visible()
