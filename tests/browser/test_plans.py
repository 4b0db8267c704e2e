"""From a system made on its page to litres, solvent and fresh air, by clicking and typing, at 1280 and on a phone."""

from contextlib import contextmanager

from playwright.sync_api import expect

from emplastra.materials.services import add_sheet
from tests.base import PRIMER
from tests.rulings import document_of

from .base import BrowserCase, open_tab

#: Solids 50 %, 4:1; 600 and 400 g/L of VOC, so 560 as mixed; a litre of base 40.00, half a litre of hardener 30.00.
EPOXY = {**PRIMER, "product": "Barn epoxy", "windows": [{"next": "any", "opens": [[0, 120], [40, 120]], "closes": [[0, 1440], [40, 1440]], "remedy": {"grit": "P240"}}], "components": [{**PRIMER["components"][0], "voc_g_l": 600}, {**PRIMER["components"][1], "voc_g_l": 400}, {**PRIMER["components"][2], "voc_g_l": 800}], "tins": [{"component": "base", "ml": 1000, "price": 40}, {"component": "hardener", "ml": 500, "price": 30}]}  # fmt: skip
COAT_ML = 50 / 500 / 0.95 * 1000 + 10


class PlansTests(BrowserCase):
    def set_up_workshop(self):
        super().set_up_workshop()
        shop = self.shop
        for document in (EPOXY, document_of("panel-wipe", use={"ml_m2": 40}), document_of("wash-primer"), document_of("two-pack-surfacer")):  # fmt: skip
            add_sheet(document)
        self.zones = [shop.make_zone(name) for name in ("Roof", "Floor", "Sill")]

    def go(self, *names):
        """Through More to a page."""
        for name in ("More", *names):
            self.page.get_by_role("link", name=name, exact=True).first.click()

    @contextmanager
    def held(self, address, act):
        """What comes of an act is held back while the block goes on."""
        waiting = []
        self.page.route(address, lambda route: waiting.append(route), times=1)
        with self.page.expect_request(address):
            act()
        yield
        waiting[0].continue_()

    def names(self):
        """Kinds of the steps in view, in order."""
        return [t.split(".")[1].split("\n")[0].strip() for t in self.page.locator(".step-name").all_inner_texts()]

    def test_a_system_is_made_used_broken_mended_compared_and_counted(self):
        page = self.page
        self.sign_in()
        self.go("Systems")
        page.get_by_role("link", name="Make a system").click()
        page.get_by_label("Name", exact=True).fill("Barn door")
        page.get_by_label("All layers at most").fill("150 µm")
        for kind in ("Strip", "Abrade"):
            self.put_in(kind)
        page.locator("fieldset.step", has_text="2. Abrade").get_by_label("Grit").fill("P80")
        self.put_in("Prime", "Barn epoxy")
        expect(page.locator(".step-ruling", has_text="Not wiped since")).to_be_visible()
        self.put_in("Degrease", "Test panel-wipe", "after 2. Abrade")
        expect(page.locator(".step-ruling", has_text="Not wiped since")).to_have_count(0)
        expect(page.locator("#picture")).to_contain_text("Bright steel fits")
        prime = page.locator("fieldset.step", has_text="4. Prime")
        self.assertEqual(prime.get_by_label("Coats").input_value(), "2")
        prime.get_by_label("Method").select_option(label="Brush")
        page.reload()  # the draft lays the steps out again
        expect(page.locator("fieldset.step")).to_have_count(4)
        expect(page.locator("fieldset.step", has_text="4. Prime").get_by_label("Method")).to_have_value("brush")
        expect(page.locator("#picture")).to_contain_text("Barn epoxy")
        page.get_by_role("button", name="Save the system").click()
        expect(page.get_by_role("heading", name="Barn door")).to_be_visible()
        expect(page.locator("main")).to_contain_text("100 µm planned of at most 150 µm")

        page.get_by_role("link", name="Use it on zones").click()
        for zone in ("Roof", "Floor", "Sill"):
            row = page.locator(".apply-row", has_text=zone)
            expect(row).to_contain_text("clean")
            row.get_by_role("checkbox").check()
        page.get_by_role("button", name="Take it as their plan").click()
        for name in ("Roof", "Floor", "Sill"):
            self.assertIn(name, page.locator(".note.is-done").inner_text())

        self.bench()
        page.get_by_role("link", name="Roof", exact=True).first.click()
        self.tab("Build-up")
        expect(page.locator("fieldset.step")).to_have_count(4)
        self.assertEqual(self.names(), ["Strip", "Abrade", "Degrease", "Prime"])
        self.put_in("Prime", "Test wash-primer", "after 3. Degrease")
        expect(page.locator(".step-ruling", has_text="its acid holds back the cure")).to_be_visible()
        page.get_by_label("Move step 4 down").click()
        expect(page.locator(".step-ruling", has_text="its acid holds back the cure")).to_have_count(0)
        expect(page.locator(".step-ruling", has_text="Test wash-primer on epoxy")).to_be_visible()
        swapped = page.locator("fieldset.step", has_text="5. Prime")
        swapped.get_by_label("Product").select_option(label="Barn epoxy")
        expect(swapped).to_contain_text("As the sheet of Barn epoxy has it: 2 × 50 µm. It was 1 × 50 µm.")
        expect(page.locator(".step-ruling", has_text="Test wash-primer")).to_have_count(0)
        page.get_by_label("Delete step 5").click()
        expect(page.locator("fieldset.step")).to_have_count(4)
        page.get_by_role("button", name="Save plan").click()
        expect(page.locator(".note.is-done")).to_contain_text("Plan saved")

        open_tab(page, "What if")
        table = page.locator("#what-if-form")
        for column, kind, fields in (("a", "more or fewer coats", {"coats": "3"}), ("b", "another product", {"product": "Test primer"})):  # fmt: skip
            table.locator(f"#f-{column}-what select").select_option(label=kind)
            expect(table.locator(f"#f-{column}-of")).to_be_visible()
            table.locator(f"#f-{column}-of select").select_option(label="Barn epoxy")
            for name, value in fields.items():
                field = table.locator(f"#f-{column}-{name}").locator("input, select")
                if name == "coats":
                    field.fill(value)
                    field.blur()
                else:
                    field.select_option(label=value)
        paint = table.locator("tr", has_text="Paint to mix")
        for at, coats in enumerate((2, 3, 2)):
            expect(paint.locator("td").nth(at)).to_contain_text(f"{coats * COAT_ML:.0f} mL")
        ml = 2 * COAT_ML
        expect(table.locator("tr", has_text="At list price")).to_contain_text(
            f"{ml * 0.8 * 0.04 + ml * 0.2 * 0.06:.2f} €"
        )

        open_tab(page, "Quantities")
        expect(page.locator(".quantity-answer")).to_contain_text(f"{ml:.0f} mL")
        expect(page.locator("#solvent")).to_contain_text("560 g/L ready for use")
        air = 560 * COAT_ML / 1000 / 0.81 / 1000 * (400 - 1.4) * 35.2 * 28.316846592 / 3.785411784 / 1.4 / 1000
        expect(page.locator("#solvent")).to_contain_text(f"{air:.1f} m³")

        page.get_by_role("link", name="Trolley", exact=True).first.click()
        page.get_by_role("link", name="Quantities", exact=True).click()
        page.locator("summary", has_text="Over 3 faces").click()
        page.get_by_label("There is, mixed").fill("500 mL")
        # Three faces of 1 m²: two coats of 50 µm take 2 x (3·50/500/.95 + 10 mL) = 652 mL; 480 mL hold for 2.28 m².
        expect(page.locator("#tin-answer")).to_contain_text(
            "No: 500 mL over 3.00 m² give 1 coat of 50 µm, not 2 × 50 µm"
        )
        stop = 480 / (100 / 500 / 0.95 * 1000)
        expect(page.locator("#tin-answer")).to_contain_text(f"stop after {stop:.2f} m², on Sill")
        page.get_by_label("There is, mixed").fill("660 mL")
        expect(page.locator("#tin-answer")).to_contain_text("Yes: 660 mL give 2 × 50 µm over 3.00 m²")

    def test_what_is_typed_or_tapped_while_an_answer_is_on_its_way_is_kept(self):
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Jobs", exact=True).first.click()
        page.get_by_role("link", name="Trolley", exact=True).first.click()
        page.get_by_role("link", name="New zone").first.click()
        page.get_by_label("how many").fill("3")
        with self.held("**/shapes/row*", lambda: page.get_by_label("Shape").select_option(label="Tube, outside")):
            page.locator("[name=shape0-a]").fill("127 mm")
        expect(page.get_by_label("outer diameter")).to_have_value("127 mm")
        expect(page.get_by_label("how many")).to_have_value("3")

        self.go("Systems")
        page.get_by_role("link", name="Make a system").click()
        for kind in ("Strip", "Abrade", "Degrease"):
            self.put_in(kind)
        up, put_in = (page.get_by_role("button", name=name) for name in ("Move step 3 up", "Put it in"))
        with self.held("**/arrange*", up.click):
            page.locator("fieldset.step", has_text="Abrade").get_by_label("Grit").fill("P120")
            page.locator("fieldset.step", has_text="Degrease").get_by_role("button", name="Up").click()
        expect(page.locator(".step-name").first).to_contain_text("1. Degrease")
        self.assertEqual(self.names(), ["Degrease", "Strip", "Abrade"])
        with self.held("**/arrange*", put_in.click):
            put_in.click()
        expect(page.locator("fieldset.step")).to_have_count(4)
        page.get_by_label("Delete step 4").click()
        expect(page.locator("fieldset.step")).to_have_count(3)  # a double tap put one in
        grit = page.locator("fieldset.step", has_text="Abrade").get_by_label("Grit")
        expect(grit).to_have_value("P120")
        page.wait_for_load_state("networkidle")
        with page.expect_response("**/systems/look*"), self.held("**/systems/look*", lambda: grit.fill("P150")):
            page.get_by_label("Delete step 2").click()  # the look on its way speaks of a step that is no more
            expect(page.locator("fieldset.step")).to_have_count(2)
        expect(grit).to_have_value("P150")

    def test_a_coat_sent_before_its_step_has_followed_waits_for_it(self):
        """Of another product than the plan's it is in no step of it."""
        page = self.page
        self.sign_in()
        self.open_zone("Roof")
        self.tab("Log")
        page.get_by_role("link", name="Coat", exact=True).click()
        expect(page.get_by_label("Step of the plan")).to_have_value("s-prime")
        with self.held("**/log/coat*", lambda: page.locator("[name=source]").select_option("product:Barn epoxy")):
            page.get_by_role("button", name="Log it").click()
        expect(page.locator(".note.is-done")).to_contain_text("Coat: recorded.")
        self.tab("Plan")
        expect(page.locator("fieldset.step", has_text="3. Prime")).to_be_visible()
        expect(page.locator("fieldset.step", has_text="3. Prime")).not_to_contain_text("1 of 2 done")

    def test_the_finish_and_the_standard_change_what_is_proposed(self):
        page = self.page
        self.sign_in()
        self.bench()
        page.get_by_role("link", name="Jobs", exact=True).first.click()
        page.get_by_role("link", name="Trolley", exact=True).first.click()
        page.get_by_role("link", name="Name, standard, promise").first.click()
        page.get_by_label("Standard").select_option(label="Show it")
        page.get_by_label("A road vehicle").check()
        page.get_by_role("button", name="Save").click()
        self.go("Systems")
        page.get_by_role("link", name="Make a system").click()
        page.get_by_label("Name", exact=True).fill("Levelled")
        for kind, product in (("Strip", ""), ("Weld", ""), ("Degrease", "Test panel-wipe"), ("Prime", "Barn epoxy"), ("Surface", "Test two-pack-surfacer")):  # fmt: skip
            self.put_in(kind, product)
        page.get_by_role("button", name="Save the system").click()
        page.get_by_role("link", name="Use it on zones").click()
        row = page.locator(".apply-row", has_text="Sill")
        expect(row).to_contain_text("One coat of surfacer more (to be seen, show it).")
        expect(row).to_contain_text("Welds ground flush")
        row.get_by_role("checkbox").check()
        page.get_by_role("button", name="Take it as their plan").click()
        expect(page.locator("fieldset.step", has_text="5. Surface").get_by_label("Coats")).to_have_value("2")
        page.get_by_label("Take another system").select_option(label="Levelled")
        page.get_by_label("As the system has it").check()
        page.get_by_role("button", name="Use it").click()
        expect(page.locator("fieldset.step", has_text="5. Surface").get_by_label("Coats")).to_have_value("1")


class PhoneTests(PlansTests):
    size = (390, 844)

    test_a_system_is_made_used_broken_mended_compared_and_counted = None
    test_the_finish_and_the_standard_change_what_is_proposed = None
    test_what_is_typed_or_tapped_while_an_answer_is_on_its_way_is_kept = None
    test_a_coat_sent_before_its_step_has_followed_waits_for_it = None

    def test_a_ready_system_is_looked_at_and_taken_on_a_phone(self):
        page = self.page
        self.sign_in()
        self.go("Systems")
        row = page.locator(".system-row", has_text="Powder frame by a contractor")
        row.get_by_role("link", name="Look and take").click()
        expect(page.get_by_label("Name", exact=True)).to_have_value("Powder frame by a contractor")
        page.get_by_role("button", name="Save the system").click()
        expect(page.get_by_role("heading", name="Powder frame by a contractor")).to_be_visible()
        expect(page.locator("main")).to_contain_text("Welds, holes and marks are looked at before it goes")
        wide = page.evaluate("document.documentElement.scrollWidth")
        self.assertLessEqual(wide, 390)
