"""Film measured by a gauge that is linked: refused where it is thin, coated there, and read again."""

from playwright.sync_api import expect

from emplastra.jobs.models import Job
from emplastra.logbook.models import Kind
from emplastra.scales import reader, standin
from emplastra.scales.models import STAND_IN, Scale
from tests.browser.base import BrowserCase


class FilmTests(BrowserCase):
    def set_up_workshop(self):
        super().set_up_workshop()
        self.shop.tell(Kind.BARED, -9, -8.5, "s-strip")
        for at in (-8, -5):
            self.shop.coat(at, at + 0.1)
        Job.objects.update(film_by="iso19840")
        self.gauge = Scale.objects.create(name="Film gauge", address=STAND_IN, reads=Scale.Reads.FILM)
        self.addCleanup(reader.let_go)
        standin.played(self.gauge).act("noise")

    def read(self, act, um, count):
        """Somebody at the played gauge, in a window of their own, until so many readings stand in the row."""
        self.other.get_by_label("Over how much film").fill(str(um))
        self.other.get_by_role("button", name=act, exact=True).click()
        row = f"^([\\s\\S]*\\n)?({um}|\\d+)( \\d+){{{count - 1}}}$" if count > 1 else f"^([\\s\\S]*\\n)?{um}$"
        self.page.wait_for_function(
            "row => new RegExp(row).test(document.querySelector('[name=readings]').value)", arg=row
        )

    def gauge_rows(self, rows):
        page = self.page
        page.get_by_role("link", name="Log readings").click()
        expect(page.locator("[data-gauge-says]")).to_contain_text("put it on")
        for row in rows:
            count = 0
            for act, um in row:
                count += 6 if act == "Six along a row" else 1
                self.read(act, um, count)
            page.get_by_role("button", name="Next row").click()
        page.get_by_role("button", name="Log it").click()

    def test_thirty_readings_refused_and_mended(self):
        """28 of 110 µm and two of 70 and 75, of 100 asked: under four fifths; 30 µm more, at 50 % solids 60 wet."""
        self.sign_in()
        page = self.page
        page.get_by_role("link", name="More", exact=True).first.click()
        page.get_by_role("link", name="Record", exact=True).click()
        page.get_by_role("link", name="Cab side").click()
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Film", exact=True).click()
        expect(page.get_by_text("No gauge has read this face")).to_be_visible()
        self.other = page.context.new_page()
        self.listen(self.other)
        self.other.goto(f"{self.live_server_url}/scales/{self.gauge.pk}/")
        whole = ("Six along a row", 110)
        self.gauge_rows([[whole]] * 4 + [[("Put it on", 110)] * 4 + [("Put it on", 70), ("Put it on", 75)]])
        expect(page.locator(".verdict-side")).to_contain_text("ISO 19840: not accepted")
        expect(page.locator(".verdict-side")).to_contain_text("2 of 30 under 80 µm")
        expect(page.locator(".film-head")).to_contain_text(
            "Too thin at the lower right: add 30 µm, one coat at 60 µm wet"
        )
        expect(page.locator(".f-plate.is-low")).to_have_count(2)
        page.get_by_role("link", name="Coat it there").click()
        page.get_by_label("Wet film readings").fill("60")
        expect(page.locator("#consequence")).to_contain_text("30 µm dry computed")
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Coat: recorded.")).to_be_visible()
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Film", exact=True).click()
        self.gauge_rows([[whole]] * 5)
        expect(page.locator(".verdict-side")).to_contain_text("ISO 19840: accepted")
        expect(page.locator(".film-head")).to_contain_text("Thick enough everywhere")


class LevelTests(BrowserCase):
    def log(self, depths, after, shows=""):
        page = self.page
        page.get_by_role("link", name="Log depths").click()
        page.get_by_label("Depths").fill(depths)
        page.get_by_label("Measured after").select_option(label=after)
        if shows:
            page.get_by_label("Marks that show again").fill(shows)
        page.get_by_role("button", name="Log it").click()

    def test_a_dented_face_to_flat(self):
        """Its high is struck, its low filled until it is buried, blocked until the mark shows and all is flat."""
        self.sign_in()
        self.open_zone("Cab side")
        page, head = self.page, self.page.locator(".film-head")
        page.get_by_label("Zone", exact=True).get_by_role("link", name="Film", exact=True).click()
        page.get_by_label("Zone, more").get_by_role("link", name="Level", exact=True).click()
        expect(head).to_contain_text("Nobody has measured how flat it is")
        # By taps on the face: a low in the middle, flat at the corners, a high; a sign is forgotten first.
        page.get_by_role("link", name="Log depths").click()
        flat = [("0", cell) for cell in ("0 0", "15 0", "0 15", "15 15", "4 7", "10 7", "7 4", "7 10")]
        for figure, cell in (("-2", "7 7"), *flat, ("9", "13 8")):
            page.get_by_label("It stands").fill(figure)
            page.locator(f'[data-places] [data-at="{cell}"]').click()
        self.allow("422")
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_label("Yes, it stands so high")).to_be_visible()
        dented = page.get_by_label("Depths").input_value()
        self.assertTrue(dented.startswith("x %, y %, depth") and dented.endswith("84.4, 53.1, 9"), dented)
        page.get_by_label("Depths").fill(dented[:-1] + "0.9")
        page.get_by_role("button", name="Log it").click()
        expect(head).to_contain_text("down first")
        self.log(dented[:-1] + "0", "Highs worked down")
        expect(head).to_contain_text("Fill A")
        expect(page.locator(".v-mark.is-shows")).to_have_count(1)
        self.log(dented[:-1].replace("-2", "+0.4") + "0", "Filled")
        expect(head).to_contain_text("stop as the marks begin to show")
        expect(page.locator(".v-mark.is-buried")).to_have_count(1)
        self.log(dented[:-1].replace("-2", "0.1") + "0", "Blocked", "A")
        expect(head).to_contain_text("Flat within 0.15 mm: stop")
        expect(page.locator(".level-marks").first).to_contain_text("A shows")
