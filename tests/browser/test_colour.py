"""A three-stage colour on four faces and a spot: a card, a number, a lamp, one mid-coat too many."""

import re
from datetime import timedelta

from playwright.sync_api import expect

from emplastra.core.piece.job_map import Cells
from emplastra.jobs.models import Zone
from emplastra.jobs.services import add_zone, measures_of, place, save_build_up
from emplastra.logbook.models import Kind
from emplastra.materials.models import Product
from emplastra.shared import clock
from tests.base import NOON
from tests.browser.base import BrowserCase
from tests.web.test_colour import CARD, sheet

FACES = ("Cab side", "Door", "Hood", "Nose")
MINUTE = {"windows": [{"next": "any", "opens": [[0, 1], [40, 1]], "closes": [[0, 1440], [40, 1440]]}], "times": {"flash": [[0, 1], [40, 1]]}}  # fmt: skip


class ThreeStageTests(BrowserCase):
    def set_up_workshop(self):
        super().set_up_workshop()
        sheet("Grey", "sealer", "#8f9694", **MINUTE)
        sheet("Ground", "base-coat", "#b5402f", hides={"contrast_pct": 98, "at_um": 12}, **MINUTE)
        sheet("Mid", "mid-coat", "#86281f", translucent=True, **MINUTE)
        sheet("Clear", "clear-coat", "#ffffff", **MINUTE)
        rows = (("seal", "Grey", 1), ("base", "Ground", 1), ("mid", "Mid", 4), ("clear", "Clear", 2))
        steps = [{"kind": k, "id": k, "product": p, "coats": n, "dft_um": 10, "method": "hvlp"} for k, p, n in rows]
        for zone in (self.shop.zone, *(self.shop.make_zone(name) for name in FACES[1:])):
            save_build_up(zone, self.shop.user, steps, 1)
            for n, (kind, name, _) in enumerate(rows[:2]):
                product = Product.objects.get(name=name)
                told = {"product": product, "revision": product.revisions.first(), "method": "hvlp", "plan_um": 10.0}
                self.shop.tell(Kind.COAT, n - 3, n - 2.9, kind, zone=zone, **told)
        door = Zone.objects.get(name="Door")
        measures = measures_of(door) | {"substrate": "old film"}
        place(door, Cells("top", "panel", 0, 0, 4, 4))
        place(add_zone(self.shop.job, "Wing", self.shop.user, **measures), Cells("top", "panel", 4, 0, 4, 4))

    def later(self, minutes):
        clock.freeze(NOON + timedelta(minutes=minutes))

    def colour(self):
        self.page.goto(self.live_server_url + self.shop.job.get_absolute_url())
        self.page.get_by_label("Job", exact=True).get_by_role("link", name="Colour", exact=True).click()
        return self.page.locator(".lead-line")

    def log(self, zone, kind, *also, **typed):
        """An act of a zone from its Log, on others too."""
        page = self.page
        self.open_zone(zone)
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Log").click()
        page.get_by_role("link", name=kind, exact=True).first.click()
        for label, text in typed.items():
            page.get_by_label(label.replace("_", " "), exact=True).fill(text)
        if also:
            page.get_by_text("On other zones too").click()
        for name in also:
            page.get_by_label(f"Also {name}", exact=True).fill("100")
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("recorded.")).to_be_visible()

    def test_a_group_from_its_card_to_one_too_many(self):
        """The card is nearest to the sample at three; its patches are 7, 3, 0 and 4 away, about."""
        page = self.page
        self.sign_in()
        self.colour()
        page.get_by_role("link", name="Name a group").click()
        page.get_by_label("Group").fill("livery red")
        for name in FACES:
            page.get_by_label(name, exact=True).check()
        page.get_by_role("button", name="Save").click()
        expect(page.locator(".lead-line")).to_contain_text("No number of mid-coats is chosen")
        page.get_by_role("link", name="Read in a card").click()
        page.get_by_label("Card", exact=True).fill("4 38 52 26")
        self.allow("422")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("at least two numbers of mid-coats").first).to_be_visible()
        page.get_by_label("Card", exact=True).fill(CARD)
        page.get_by_role("button", name="Save").click()
        page.get_by_role("button", name="Choose 3 mid-coats").click()
        expect(page.locator(".lead-line")).to_contain_text("3 mid-coats chosen, on 0 of 4 faces")
        self.pass_over()
        self.blend()
        self.lamp_and_spot()
        self.mid_coats()

    def pass_over(self):
        """The door with a window and returns: what its edges build up, a row moved by keys, a hand that stands still."""
        page = self.page
        self.open_zone("Door")
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Film").click()
        page.get_by_role("link", name="Pass", exact=True).click()
        page.get_by_label("Film wanted").fill("10")
        page.get_by_label("Edges return by").fill("20")
        page.get_by_label("Openings", exact=True).fill("200 150 600 300")
        page.get_by_label("Openings", exact=True).press("Tab")
        expect(page.locator(".pass-side")).to_contain_text("over openings")
        expect(page.locator("h1")).to_have_count(1)
        expect(page.locator(".lead-line")).to_contain_text("tilted over the edges first at")
        for words in ("edges +", "mid-coats more there after 3", "returns"):
            expect(page.locator(".is-advised .pass-film")).to_contain_text(words)
        page.get_by_role("slider", name="Row 2").focus()
        at = page.evaluate("Number(document.activeElement.dataset.mm)")
        page.keyboard.press("ArrowDown")
        expect(page.get_by_role("slider", name="Row 2")).to_have_attribute("data-mm", f"{round(at + 10)}.0")
        page.get_by_label("Speed of the hand").fill("0")
        expect(page.locator(".pass-errors")).to_contain_text("must be at least 0.02 m/s")
        page.get_by_label("Speed of the hand").fill("0.3")
        page.get_by_role("button", name="Put it into the plan").click()
        expect(page.get_by_text("In the plan: how it is sprayed.")).to_be_visible()
        expect(page.get_by_label("Note").nth(2)).to_have_value(re.compile("pass: .*m/s"))

    def blend(self):
        """Sound paint beside the door: half way, and its plan."""
        page = self.page
        self.colour()
        page.get_by_role("link", name="Blend", exact=True).click()
        page.get_by_label("Difference, CIEDE2000").fill("3")
        page.get_by_role("button", name="Where to stop").click()
        expect(page.locator(".lead-line")).to_contain_text("colour ends 300 mm from the joint")
        page.locator(".blend-stop.is-best").get_by_role("button", name="Plan it so").click()
        expect(page.get_by_text("Planned: key, mask, fade, clear, polish.")).to_be_visible()

    def lamp_and_spot(self):
        page = self.page
        self.log("Nose", "Lights off", Spit_at="left edge")
        expect(self.colour()).to_contain_text("Spit in the coat (left edge) on Nose")
        page.get_by_role("button", name="Mend it: a spot").click()
        expect(page.locator("h1")).to_contain_text("Nose, left edge")
        page.get_by_role("button", name="Abrade").first.click()
        page.get_by_role("button", name="Degrease").first.click()
        page.get_by_role("link", name="Log coat").first.click()
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("recorded.")).to_be_visible()
        self.later(5)
        self.log("Nose", "Lights off")
        self.colour()
        expect(page.locator(".lit-finds")).to_contain_text("a lamp shows nothing any more")
        expect(page.locator(".coats-row.is-spot")).to_contain_text("joins its face at mid-coat 1")

    def mid_coats(self):
        page = self.page
        for n in range(3):
            self.later(10 + 5 * n)
            self.log("Cab side", "Coat", *FACES[1:])
        expect(self.colour()).to_contain_text("3 mid-coats on every face: clear may go on.")
        expect(page.locator(".coats-row.is-spot")).to_contain_text("joined its face")
        self.later(30)
        self.open_zone("Nose")
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Log").click()
        page.get_by_role("link", name="Coat", exact=True).first.click()
        page.get_by_label("From", exact=True).select_option("product:Mid")
        expect(page.get_by_label("Step of the plan")).to_have_value("")  # its mid-coats are done by the plan
        page.get_by_label("Step of the plan").select_option("mid")
        expect(page.get_by_text("one more is another colour").first).to_be_visible()
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("recorded.")).to_be_visible()
        expect(self.colour()).to_contain_text("4 on Nose, 3 chosen. No clear on any face")
        self.bench()
        expect(self.row("Door")).to_contain_text("4 on Nose, 3 chosen: settle that before clear")
        self.colour()
        page.get_by_role("button", name="Plan it").click()
        expect(page.get_by_text("Planned: ground again")).to_be_visible()
        self.open_zone("Nose")
        expect(page.locator("main")).to_contain_text("Base coat")
