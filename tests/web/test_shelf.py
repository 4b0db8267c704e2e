"""Materials by its pages: a tin typed in, two people at one sheet, files in and out, pasted text and PDFs, what Mix refuses."""

import io
import json

import jsonschema
import yaml
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from PIL import Image

from emplastra.core.product import entry
from emplastra.core.product.asks import KINDS
from emplastra.core.product.kinds import ProductKind
from emplastra.jobs.services import save_build_up
from emplastra.logbook.models import Entry, Kind
from emplastra.materials import selectors, services
from emplastra.materials.models import LabelPhoto, Product, SheetRevision
from emplastra.shared import tasks
from emplastra.shared.models import Task
from tests.base import PRIMER, ShopCase, text_of
from tests.core.test_label import blank_pdf


def png():
    """A picture of four pixels."""
    out = io.BytesIO()
    Image.new("RGB", (2, 2)).save(out, "PNG")
    return out.getvalue()


class TinTests(ShopCase):
    def send(self, url="/materials/new/epoxy-primer", **typed):
        values = {"token": f"t{len(self.sent)}", "based_on": "0", "name": "Barn primer", **typed}
        self.sent.append(values)
        return self.client.post(url, values)

    def setUp(self):
        super().setUp()
        self.sent = []

    def test_every_kind_can_be_put_on_the_shelf_with_nothing_but_its_name(self):
        self.assertContains(self.client.get("/materials/new"), "What is in the tin?")
        for kind in ProductKind:
            for comes in KINDS[kind].forms:
                with self.subTest(kind, comes=comes):
                    url = f"/materials/new/{kind}?form={comes}"
                    self.assertEqual(self.client.get(url).status_code, 200)
                    self.assertEqual(self.send(url, name=f"{kind} {comes}").status_code, 302)
                    found = Product.objects.get(name=f"{kind} {comes}")
                    page = self.client.get(f"/materials/{found.pk}/")
                    self.assertContains(page, "cannot say")
        self.assertEqual(self.client.get("/materials/new/paint").status_code, 404)

    def test_what_is_wrong_stands_at_its_field_and_keeps_what_was_typed(self):
        before = SheetRevision.objects.count()
        for typed, words in (
            ({"ratio": "4:0 by volume"}, "each part of 4:0"), ({"cure": "2 h at 10 °C, 3 h at 20 °C"}, "takes longer at 20"), ({"name": ""}, "Name, as on the tin: This field is required"), ({"name": "test PRIMER"}, "is on the shelf already"),
            ({"recoat": "24 h to 2 h"}, "closes before it opens"), ({"coats": "many"}, "is no number of coats"), ({"name": "x" * 81}, "at most 80"), ({"hazards": "poison"}, "Select a valid choice"),
        ):  # fmt: skip
            with self.subTest(words):
                answer = self.send(pot_life="6 h at 20 °C", **typed)
                self.assertEqual(answer.status_code, 422)
                self.assertIn(words, text_of(answer))
                self.assertContains(answer, 'value="6 h at 20 °C"', status_code=422)
        self.assertEqual(SheetRevision.objects.count(), before)

    def test_a_keystroke_is_answered_field_by_field(self):
        url = "/materials/new/epoxy-primer/preview?form=mixed"
        typed = {"ratio": "3:1 by volume, cold hardener, 5–12 °C\n4:1 by volume, hardener, 15–30 °C", "recoat": "4 h at 10 °C, 2 h at 20 °C", "assume": "flash", "here_c": "17.7"}  # fmt: skip
        page = self.client.post(url, typed)
        said = text_of(page)
        self.assertIn("no ratio holds", said)
        self.assertIn(
            "Coat again after 2 h 20", said
        )  # ln t linear in 1/T: 240 min at 10 °C, 120 at 20, 140 at 17.7 to 5 min
        self.assertIn("Until cannot say", said)
        self.assertIn("assumed: typical of the kind", said)
        self.assertIn("here 17.7 °C", said)
        for name in entry.fields_of("epoxy-primer", "mixed"):
            self.assertContains(page, f"#say-{name}")
        with CaptureQueriesContext(connection) as queries:
            self.client.post(url, typed)
        self.assertLess(len(queries), 12)

    def test_a_label_is_photographed_and_kept_once(self):
        picture = lambda: SimpleUploadedFile("label.png", png(), "image/png")  # noqa: E731
        self.assertEqual(self.send(photo=picture()).status_code, 302)
        label = LabelPhoto.objects.get()
        for size in ("small", "whole"):
            self.assertEqual(
                self.client.get(f"/materials/labels/{label.pk}/{size}").headers["Content-Type"], "image/jpeg"
            )
        self.client.logout()
        self.assertEqual(self.client.get(f"/materials/labels/{label.pk}/small").status_code, 302)
        self.client.force_login(self.shop.user)
        bad = self.send(name="Other", photo=SimpleUploadedFile("a.png", b"no picture", "image/png"))
        self.assertIn("is not a picture that can be read", text_of(bad))
        self.assertFalse(Product.objects.filter(name="Other").exists())

    def test_two_people_at_one_sheet_lose_nothing(self):
        found = services.add_sheet({**PRIMER, "product": "Shared", "windows": []}).product
        mine = {"based_on": "1", "name": "Shared", "why": "maker", **entry.typed_of(found.revisions.get().document)}
        mine = {k: v for k, v in mine.items() if v}
        self.client.force_login(self.shop.people["mate"])
        self.assertEqual(self.send(f"/materials/{found.pk}/revise", **mine | {"pot_life": "3 h"}).status_code, 302)
        self.client.force_login(self.shop.user)
        stale = self.send(f"/materials/{found.pk}/revise", **mine | {"pot_life": "5 h"})
        self.assertEqual(stale.status_code, 409)
        said = text_of(stale)
        self.assertIn("mate saved revision 2 meanwhile", said)
        self.assertIn("Pot life 3 h at 20 °C 5 h at 20 °C", said)
        self.assertContains(stale, 'name="based_on" value="2"', status_code=409)
        again = self.send(f"/materials/{found.pk}/revise", **mine | {"pot_life": "5 h", "based_on": "2"})
        self.assertEqual(again.status_code, 302)
        newest = found.revisions.first()
        self.assertEqual((newest.number, newest.document["pot_life"], newest.who), (3, [[20, 300]], self.shop.user))
        renamed = self.send(f"/materials/{found.pk}/revise", **mine | {"name": "Other name", "based_on": "3"})
        self.assertIn("keeps its name", text_of(renamed))

    def test_a_viewer_may_look_and_change_nothing(self):
        self.client.force_login(self.shop.people["viewer"])
        page = self.client.get("/materials/")
        self.assertNotContains(page, "Put a tin on")
        self.assertIn(self.send().status_code, {403, 422})
        self.client.post("/materials/starter", {"token": "v"})
        self.client.post(f"/materials/{self.shop.primer.pk}/retire", {"token": "v2"})
        self.assertEqual((Product.objects.count(), Product.objects.filter(retired=True).count()), (2, 0))


class UntoldAtWorkTests(ShopCase):
    """A zone whose plan primes with a product of which little is told."""

    def plan(self, **typed):
        made = entry.entered(entry.skeleton("epoxy-primer", "mixed", "Barn primer"), typed, {"methods": ["brush"]})
        services.add_sheet({**made.document, "date": "2026-01-01"})
        steps = [{"id": "p", "kind": "prime", "product": "Barn primer", "coats": 2, "method": "brush"}]
        save_build_up(self.shop.zone, self.shop.user, steps, 1)

    def get(self, page):
        return text_of(self.client.get(f"/zones/{self.shop.zone.pk}/{page}"))

    def test_pages_say_what_is_missing_and_mix_refuses_without_a_ratio(self):
        self.plan()
        plan = self.get("plan")
        self.assertIn("No film told", plan)
        self.assertIn("cannot say: the ratio of Barn primer not told", plan)
        self.assertIn("film not told, 2 coats", plan)
        self.assertIn("none is ever assumed", self.get("mix"))
        product = Product.objects.get(name="Barn primer")
        self.assertContains(self.client.get(f"/zones/{self.shop.zone.pk}/mix"), f"/materials/{product.pk}/revise")

    def test_coverage_alone_gives_the_litres_and_no_film(self):
        """1 m² at 8 m²/L, 95 % of it stays, 10 mL in the brush: 125 / 0.95 + 10 = 142 mL a coat."""
        self.plan(ratio="4:1 by volume", coverage="8–10 m²/L")
        self.assertIn("283 mL ready to use", self.get("plan"))
        self.assertIn("needs 142 mL", self.get("mix"))

    def test_worked_values_from_a_label_typed_on_its_page(self):
        """By hand, from m²/L = 10 · VS / DFT: 1 m² of 75 µm at 52 % takes 144.23 mL, brushed / 0.95 + 10; 600 mL of
        2:1:0.5 hold 600 · 2 / 3.5 = 342.9 of base; 150 µm wet of 45 % with 10 % thinner leave 150 · 45 / 1.1 = 61.4 µm dry.
        """
        for name, solids in (("Worked", "52 %"), ("Combed", "45 %")):
            typed = {"ratio": "2:1:0.5 by volume", "solids": solids, "film": "75 µm", "methods": ["brush"]}
            values = {"token": name, "based_on": "0", "name": name, **typed}
            self.assertEqual(self.client.post("/materials/new/epoxy-primer?form=mixed", values).status_code, 302)
        step = {"id": "p", "kind": "prime", "product": "Worked", "coats": 1, "dft_um": 75, "method": "brush"}
        save_build_up(self.shop.zone, self.shop.user, [step], 1)
        self.assertIn(f"{144.2308 / 0.95 + 10:.0f} mL mixed", self.get("plan"))
        pot = {"token": "p", "ready_ml": "600", "method": "brush", "thinner_pct": f"{100 / 6:.6f}", "variant": "r1"}
        self.assertIn("342.9 mL", text_of(self.client.post(f"/zones/{self.shop.zone.pk}/mix/preview", pot)))
        product = Product.objects.get(name="Combed")
        self.shop.tell(Kind.BARED, -6, -5, how="sander")
        told = {"variant": "r1", "method": "brush", "thinner_pct": 10.0, "wft_um": [150.0]}
        self.shop.tell(Kind.COAT, -3, -2, "p", product=product, revision=product.revisions.first(), **told)
        self.assertIn("61 µm", self.get("record"))

    def test_a_ratio_by_weight_without_densities_is_poured_in_grams(self):
        """300 g of 100:20: 250 and 300 on the scale; thinner cannot be said."""
        self.plan(ratio="100:20 by weight", thinner="5 %")
        self.assertIn("Ready to use g", self.get("mix"))
        url, told = (
            f"/zones/{self.shop.zone.pk}/mix",
            {"token": "m", "ready_ml": "300 g", "method": "brush", "variant": "r1"},
        )
        refused = self.client.post(url, told | {"thinner_pct": "5"})
        self.assertIn("the density of", text_of(refused))
        self.assertEqual(self.client.post(url, told | {"thinner_pct": "0", "token": "m2"}).status_code, 302)
        pot = Entry.objects.of(Kind.POT).get()
        self.assertEqual((pot.pot.ready_ml, pot.pot.ready_g, pot.pot.measure), (None, 300.0, "scale"))
        for n, (part, grams) in enumerate((("base", "250"), ("hardener", "300"))):
            self.client.post(f"/pots/{pot.pk}/", {"token": f"w{n}", "part": part, "shown": grams})
        self.assertIn("Hardener 0.0 % in tolerance", text_of(self.client.get(f"/pots/{pot.pk}/")))
        self.assertIn("300 g ready to use", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record")))

    def test_a_coat_with_no_film_is_not_judged_for_it_and_the_window_says_what_nobody_told(self):
        self.plan(ratio="4:1 by volume", recoat="after 2 h")
        product = Product.objects.get(name="Barn primer")
        self.shop.tell(Kind.BARED, -6, -5, how="sander")
        self.shop.tell(
            Kind.COAT, -3, -2, "p", product=product, revision=product.revisions.first(), variant="r1", method="brush"
        )
        now = self.get("")
        self.assertIn("until when: cannot say", now)
        self.assertIn("not told", self.get("plan"))
        self.assertIn("film not told", self.get("plan"))


class FileTests(ShopCase):
    def send(self, text, why="maker"):
        data = text if isinstance(text, bytes) else text.encode()
        values = {"token": f"f{len(data)}", "why": why, "file": SimpleUploadedFile("s.yaml", data)}
        return self.client.post("/materials/import", values)

    def test_the_shelf_goes_out_and_comes_back_without_loss(self):
        services.add_starter(self.shop.user)
        self.assertEqual(Product.objects.count(), 2 + len(KINDS))
        self.assertEqual(services.add_starter(self.shop.user), [])
        before = selectors.library()
        for form, read in (("yaml", yaml.safe_load), ("json", json.loads)):
            answer = self.client.get(f"/materials/shelf.{form}")
            self.assertEqual(read(answer.content), before)
        one = self.client.get(f"/materials/{self.shop.primer.pk}/sheet.yaml")
        self.assertEqual(yaml.safe_load(one.content), PRIMER)
        schema = json.loads(self.client.get("/materials/library-schema.json").content)
        self.assertEqual(list(jsonschema.Draft202012Validator(schema).iter_errors(before)), [])
        changed = {**before, "sheets": [{**d, "source": "another workshop"} for d in before["sheets"]]}
        self.assertEqual(self.send(yaml.safe_dump(changed, sort_keys=False)).status_code, 302)
        self.assertEqual(selectors.library(), changed)
        self.assertEqual(set(SheetRevision.objects.values_list("number", flat=True)), {1, 2})

    def test_what_is_wrong_is_named_in_words_with_its_line(self):
        text = "format: emplastra-sheet/1\nproduct: Bad\nkind: epoxy-primer\nform: mixed\nsource: x\ndate: '2026-01-01'\ncomponents:\n  - {key: base, name: B, role: base}\npot_life: [[10, 60], [20, 90]]\nhue: red\n"
        said = text_of(self.send(text.replace("hue: red\n", "")))
        self.assertIn("9 Pot life pot_life takes longer at 20", said)
        self.assertRegex(text_of(self.send(text)), r"1 The file document .*hue")
        self.assertIn(
            "must be a whole number, not &#x27;three&#x27;", text_of(self.send(text + "film: {coats: three}\n"))
        )
        library = {
            "format": "emplastra-library/1",
            "sheets": [PRIMER, {**PRIMER, "product": "B", "tolerance_pct": 90}, {**PRIMER, "product": "B"}],
        }
        said = text_of(self.send(json.dumps(library)))
        self.assertIn("B, tolerance_pct", said)
        self.assertIn("is there twice", said)
        self.assertIn("a library holds its format", text_of(self.send("format: emplastra-library/1\nsheets: 5\n")))
        self.assertEqual(SheetRevision.objects.count(), 2)

    def test_retired_is_kept_where_it_is_used_and_offered_nowhere_else(self):
        self.as_owner()
        can = Product.objects.get(name="Test can")
        self.client.post(f"/materials/{self.shop.primer.pk}/retire", {"token": "r", "superseded_by": can.pk})
        self.assertNotIn("Test primer", text_of(self.client.get("/materials/")))
        shown = text_of(self.client.get("/materials/?retired=1"))
        self.assertIn("retired · now Test can", shown)
        self.assertIn("Test primer", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/plan")))
        self.assertNotIn("Test primer", [p.name for p in selectors.products_of([])])
        loop = self.client.post(f"/materials/{can.pk}/retire", {"token": "r2", "superseded_by": self.shop.primer.pk})
        self.assertEqual(loop.status_code, 422)
        self.client.post(f"/materials/{self.shop.primer.pk}/retire", {"token": "r3", "back": "1"})
        self.assertIn("Test primer", [p.name for p in selectors.products_of([])])

    def test_two_products_and_two_revisions_side_by_side(self):
        can = Product.objects.get(name="Test can")
        said = text_of(self.client.get(f"/materials/{self.shop.primer.pk}/compare?with={can.pk}"))
        self.assertIn("Coat again after 2 h 30 min", said)
        self.assertIn("Choose what to lay beside it", text_of(self.client.get(f"/materials/{can.pk}/compare?with=999")))

    def test_a_shelf_of_hundreds_asks_the_database_as_often_as_one_of_two(self):
        def queries():
            self.client.get("/materials/")
            with CaptureQueriesContext(connection) as found:
                self.client.get("/materials/")
            return len(found)

        few = queries()
        for n in range(60):
            services.add_sheet({**PRIMER, "product": f"Primer {n:03}"})
        self.assertEqual(queries(), few)
        self.assertIn("1 product", text_of(self.client.get("/materials/?q=primer 007")))


class PasteTests(ShopCase):
    TEXT = "Product: Barn primer\nMixing ratio by volume 4:1\nPot life 6 h at 20 °C\n"

    def test_nothing_enters_unseen(self):
        self.assertIn(
            "choose what the sheet is of",
            text_of(self.client.post("/materials/paste", {"token": "a", "text": self.TEXT})),
        )
        self.assertIn(
            "paste the sheet’s text",
            text_of(self.client.post("/materials/paste", {"token": "a", "kind": "epoxy-primer"})),
        )
        values = {"token": "a", "kind": "epoxy-primer", "text": self.TEXT}
        read = self.client.post("/materials/paste", values)
        self.assertIn("2 values read, 0 taken", text_of(read))
        onward = self.client.post("/materials/paste", values | {"onward": "1"})
        self.assertIn("0 values taken", text_of(onward))
        taken = self.client.post(
            "/materials/paste", values | {"onward": "1", "take": "1-pot_life", "text-1-pot_life": "5 h at 20 °C"}
        )
        self.assertContains(taken, 'value="5 h at 20 °C"')
        self.assertNotContains(taken, "4:1 by volume\n</textarea>")
        self.assertFalse(Product.objects.filter(name="Barn primer").exists())
        two = self.client.post("/materials/paste", values | {"text": self.TEXT + "Product: Another\n"})
        self.assertIn("it has two products, Barn primer and Another", text_of(two))
        revised = self.client.post(
            f"/materials/paste?product={self.shop.primer.pk}",
            {"token": "b", "text": self.TEXT, "onward": "1", "take": "1-pot_life"},
        )
        self.assertContains(revised, f'action="/materials/{self.shop.primer.pk}/revise?all=1&amp;form=mixed"')
        self.client.force_login(self.shop.people["viewer"])
        self.assertEqual(self.client.post("/materials/paste", values).status_code, 403)

    def test_a_pdf_is_read_beside_the_server_and_proposed_like_a_text(self):
        task = Task.objects.create(user=self.shop.user, kind="sheet", boot="x", state="done", about={"kind": "epoxy-primer", "product": None, "view": "materials:paste-task", "doing": "Reading", "file": "s.pdf"}, result={"text": self.TEXT})  # fmt: skip
        self.assertIn("2 values read, 0 taken", text_of(self.client.get(f"/materials/paste/{task.pk}")))
        self.client.force_login(self.shop.people["mate"])
        self.assertEqual(self.client.get(f"/materials/paste/{task.pk}").status_code, 404)
        self.client.force_login(self.shop.user)
        sent = {
            "token": "p",
            "kind": "epoxy-primer",
            "file": SimpleUploadedFile("s.pdf", blank_pdf(), "application/pdf"),
        }
        with self.captureOnCommitCallbacks(execute=False):
            answer = self.client.post("/materials/paste", sent)
        begun = Task.objects.exclude(pk=task.pk).get()
        self.assertEqual(
            (answer.status_code, answer.url, begun.about["file"]), (302, f"/materials/paste/{begun.pk}", "s.pdf")
        )
        self.assertContains(self.client.get(answer.url), "s.pdf")
        for path in tasks.folder().iterdir():  # its process was not begun, so nobody else clears it away
            path.unlink()
