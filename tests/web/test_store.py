"""The store: tins taken in, by hand and from a file; what each holds by use and by weight; which is poured from first."""

import io
import re
from datetime import date, timedelta

import pypdfium2
import zxingcpp
from django.core.files.uploadedfile import SimpleUploadedFile
from pypdf import PdfReader

from emplastra.accounts.models import Workshop
from emplastra.core.buying.tin_file import amount_of, read_tins
from emplastra.core.units import UnitError
from emplastra.jobs.models import Zone
from emplastra.logbook.models import Kind
from emplastra.materials.services import add_sheet
from emplastra.shared import clock
from emplastra.state.tins import tin_views
from emplastra.store.models import Recall, Tin, TinFact
from emplastra.store.services import name_batch
from tests.base import PRIMER, ShopCase, text_of


class StoreCase(ShopCase):
    def take_in(self, n="1", **told):
        """Sent as the form sends it."""
        form = {"token": f"in-{n}", "came": "2026-05-12 09:00", "count": "1"} | told
        return self.client.post(f"/store/in/{self.shop.primer.pk}", form)

    def view(self, **which):
        """The one tin so described, as the store sees it."""
        return tin_views(Tin.objects.filter(**which), Workshop.current())[0]


class TinTests(StoreCase):
    def test_a_kit_comes_in_and_is_poured_from(self):
        """Base of 1.5 g/mL, hardener of 1.0 g/mL: 240 g leave 1000 − 240 ÷ 1.5 = 840 mL, 40 g of 250 mL leave 210."""
        self.take_in(batch_base="B7", size_base="1 L", price_base="31.50", batch_hardener="H7", size_hardener="250 mL", kit="on", count="2", use_by="2027-03-01", place=self.shop.place.pk)  # fmt: skip
        self.assertEqual([(t.part, t.batch, t.number, t.kit) for t in Tin.objects.order_by("pk")], [("base", "B7", 1, "B7+H7"), ("base", "B7", 2, "B7+H7"), ("hardener", "H7", 1, "B7+H7"), ("hardener", "H7", 2, "B7+H7")])  # fmt: skip
        pot = self.shop.tell(Kind.POT, -0.5, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", thinner_pct=0.0, ready_ml=200.0, temp_c=20.0)  # fmt: skip
        for part, grams in (("base", "240"), ("hardener", "280")):
            page = self.client.get(f"/pots/{pot.pk}/").content.decode()
            batch = re.search(r'name="batch"[^>]*value="([^"]*)"|value="([^"]*)"[^>]*name="batch"', page)
            token = re.search(r'name="token" value="([^"]+)"', page)[1]
            self.assertIn({"base": "B7", "hardener": "H7"}[part], batch.groups())
            self.client.post(f"/pots/{pot.pk}/", {"token": token, "part": part, "shown": grams, "batch": batch[1] or batch[2], "offer": "exact"})  # fmt: skip
        self.assertAlmostEqual(self.view(part="base", number=1).left.amount, 840)
        self.assertAlmostEqual(self.view(part="hardener", number=1).left.amount, 210)
        self.assertAlmostEqual(self.view(part="base", number=2).left.amount, 1000)
        page = text_of(self.client.get("/store/"))
        self.assertIn("840 mL of 1.00 L", page)
        self.assertIn("4 tins with something in them", page)
        # Looked into: by weight, less its tin, 1.2 kg of 1.5 g/mL are 800 mL; what was poured before counts no more.
        first = Tin.objects.get(part="base", number=1)
        clock.advance(minutes=5)
        self.client.post(f"/tins/{first.pk}/", {"token": "look", "at": "12:05", "left": "1.2 kg"})
        self.assertAlmostEqual(self.view(pk=first.pk).left.amount, 800)
        self.client.post(f"/tins/{first.pk}/emptied", {"token": "e"})
        self.assertTrue(self.view(pk=first.pk).left.is_empty)
        self.assertNotIn("no. 1", text_of(self.client.get("/store/")))
        wrong = TinFact.objects.get(kind="emptied")
        self.client.post(f"/tins/facts/{wrong.pk}/back", {"token": "b"})  # without a reason it stands
        self.assertTrue(self.view(pk=first.pk).left.is_empty)
        self.client.post(f"/tins/facts/{wrong.pk}/back", {"token": "b2", "reason": "another tin"})
        self.assertAlmostEqual(self.view(pk=first.pk).left.amount, 800)
        self.assertContains(self.client.get(f"/tins/{first.pk}/"), "another tin")

    def test_the_tin_that_expires_first_is_offered_and_none_that_is_past(self):
        for n, (batch, use_by) in enumerate((("LATE", "2027-06-01"), ("SOON", "2026-06-01"), ("PAST", "2026-05-11"))):
            self.take_in(str(n), batch_base=batch, size_base="1 L", use_by=use_by)
        pot = self.shop.tell(Kind.POT, -0.1, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", thinner_pct=0.0, ready_ml=200.0, temp_c=20.0)  # fmt: skip
        self.assertContains(self.client.get(f"/pots/{pot.pk}/"), 'value="SOON"')
        page = text_of(self.client.get("/store/"))
        self.assertLess(page.index("batch SOON"), page.index("batch LATE"))
        self.assertLess(page.index("batch LATE"), page.index("batch PAST"))
        self.assertEqual(page.count("use this first"), 1)
        self.assertRegex(page, r"batch PAST .*? out of date")

    def test_a_tin_that_is_short_says_which_is_next(self):
        """200 mL of 4:1 by volume take 160 mL of base; the open tin holds 100 mL of it, so that 60 mL are short."""
        self.take_in("a", batch_base="FEW", size_base="1 L", use_by="2026-06-01")
        self.take_in("b", batch_base="FULL", size_base="1 L", use_by="2027-06-01")
        clock.advance(minutes=10)
        few = Tin.objects.get(batch="FEW")
        self.client.post(f"/tins/{few.pk}/", {"token": "look", "at": "12:05", "left": "100 mL"})
        pot = self.shop.tell(Kind.POT, -0.01, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", thinner_pct=0.0, ready_ml=200.0, temp_c=20.0)  # fmt: skip
        page = text_of(self.client.get(f"/pots/{pot.pk}/"))
        self.assertIn(f"T{few.pk} holds 100 mL, 60 mL short: then T{few.pk + 1}, batch FULL", page)

    def test_one_batch_of_colour_on_one_panel(self):
        """The base coat on the left half of a door came of batch RED-9; its right half is offered that, not what expires first."""
        colour = add_sheet(PRIMER | {"product": "Test red", "kind": "base-coat"}).product
        left, right, other = (self.shop.make_zone(name) for name in ("Door, left half", "Door, right half", "Roof"))
        Zone.objects.filter(pk__in=[left.pk, right.pk]).update(panel="Door")
        about = {"revision": colour.revisions.first(), "variant": "mild", "method": "brush", "thinner_pct": 0.0, "ready_ml": 200.0, "temp_c": 20.0}  # fmt: skip
        pot = self.shop.tell(Kind.POT, -2, zone=left, **about)
        tin = name_batch(colour, "base", "RED-9", date(2027, 9, 1))
        self.shop.tell(Kind.WEIGHED, -1.9, zone=left, pot=pot, part="base", scale_g=240.0, tin=tin)
        self.shop.tell(Kind.COAT, -1.5, -1.4, zone=left, product=colour, pot=pot, revision=colour.revisions.first(), variant="mild", method="brush", plan_um=20.0)  # fmt: skip
        name_batch(colour, "base", "RED-7", date(2026, 7, 1))
        for zone, batch in ((right, "RED-9"), (other, "RED-7")):
            with self.subTest(zone.name):
                new = self.shop.tell(Kind.POT, -0.1, zone=zone, **about)
                self.assertContains(self.client.get(f"/pots/{new.pk}/"), f'value="{batch}"')

    def test_parts_of_two_kits_are_warned_of_before_the_coat_and_after(self):
        self.shop.tell(Kind.BARED, -3, -2.5, "s-strip")
        self.shop.tell(Kind.DEGREASED, -0.9, step="s-wipe")
        pot = self.shop.tell(Kind.POT, -0.8, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", thinner_pct=0.0, ready_ml=200.0, temp_c=20.0)  # fmt: skip
        for part, grams, kit in (("base", 240.0, "K1"), ("hardener", 280.0, "K2")):
            tin = name_batch(self.shop.primer, part, f"B-{part}")
            Tin.objects.filter(pk=tin.pk).update(kit=kit)
            self.shop.tell(Kind.WEIGHED, -0.7, pot=pot, part=part, scale_g=grams, tin=tin)
        said = "Its parts came in different kits, K1 and K2"
        for url in ("/", f"/zones/{self.shop.zone.pk}/"):
            with self.subTest(url):
                self.assertIn(said, text_of(self.client.get(url)))
        self.shop.coat(-0.3, -0.2, pot=pot)
        self.assertIn(said, text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record")))

    def test_mix_draws_on_the_store_and_says_what_it_lacks(self):
        """500 mL of 4:1 by volume take 400 mL of base, 600 g, and 100 mL of hardener: 300 mL of base are free, 50 kept."""
        self.take_in("a", batch_base="B1", size_base="300 mL", use_by="2026-06-01", batch_hardener="H1", size_hardener="250 mL", kit="on")  # fmt: skip
        self.take_in("b", batch_base="B2", size_base="150 mL", use_by="2026-07-01")
        self.take_in("c", batch_base="OLD", size_base="5 L", use_by="2026-05-01")
        clock.advance(minutes=10)
        b1, b2 = Tin.objects.get(batch="B1"), Tin.objects.get(batch="B2")
        self.client.post(f"/tins/{b2.pk}/", {"token": "k", "at": "12:05", "keep": "100 mL", "note": "the cab door"})
        self.assertContains(self.client.get("/store/"), "100 mL kept for the cab door")
        values = {
            "ready_ml": "500 mL",
            "measure": "scale",
            "method": "brush",
            "thinner_pct": "0",
            "variant": "mild",
            "token": "m",
        }
        mix = lambda told: text_of(self.client.post(f"/zones/{self.shop.zone.pk}/mix/preview", values | told))  # noqa: E731
        page = mix({})
        self.assertIn(f"Base T{b1.pk} batch B1 450.0 g, then T{b2.pk} batch B2 150.0 g", page)
        self.assertIn("It takes of Base what is kept: 75.0 g for the cab door.", page)
        self.assertNotIn("different kits", page)  # B2 is of none
        page = mix({"ready_ml": "400 mL"})
        self.assertNotIn("what is kept", page)
        page = mix({"ready_ml": "700 mL"})  # 560 mL of base, of which 450 are there: 110 mL are 165 g
        self.assertIn("Of Base 165.0 g of 840.0 g are not in the store’s tins in date.", page)
        self.client.post(f"/tins/{b2.pk}/", {"token": "k0", "at": "12:06", "keep": "0 mL"})
        self.assertNotIn("what is kept", mix({}))

    def test_two_benches_on_one_tin_are_seen(self):
        """1 L holds 1500 g: two pots of 800 g each take 100 g, 67 mL, more than there is, and nobody is told less."""
        self.take_in(batch_base="B7", size_base="1 L")
        tin = Tin.objects.get()
        for n in range(2):
            pot = self.shop.tell(Kind.POT, -0.1, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", thinner_pct=0.0, ready_ml=666.7, temp_c=20.0)  # fmt: skip
            self.client.post(f"/pots/{pot.pk}/", {"token": f"b{n}", "part": "base", "shown": "800", "batch": tin.code, "offer": "exact"})  # fmt: skip
        self.assertEqual((self.view(pk=tin.pk).left.amount, round(self.view(pk=tin.pk).left.below)), (0.0, 67))
        self.assertIn("67 mL more was taken than it held", text_of(self.client.get("/store/?emptied=1")))
        self.assertIn("More was taken from it than it held", text_of(self.client.get(f"/tins/{tin.pk}/")))

    def test_a_tin_of_another_part_is_stopped_at_the_pour(self):
        self.take_in(batch_base="B7", size_base="1 L", batch_hardener="H7", size_hardener="250 mL")
        base, hardener = Tin.objects.order_by("part")
        pot = self.shop.tell(Kind.POT, -0.1, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", thinner_pct=0.0, ready_ml=200.0, temp_c=20.0)  # fmt: skip
        pour = lambda n, code: self.client.post(f"/pots/{pot.pk}/", {"token": f"p{n}", "part": "base", "shown": "240", "batch": code, "offer": "exact"})  # noqa: E731  # fmt: skip
        answer = pour(1, hardener.code)
        self.assertContains(answer, f"T{hardener.pk} holds Test primer, hardener: now Base of Test primer is poured", status_code=422)  # fmt: skip
        self.assertContains(answer, f'value="{hardener.code}"', status_code=422)
        self.client.post(f"/tins/{base.pk}/emptied", {"token": "e"})
        self.assertContains(pour(2, f"t{base.pk}"), "was told to be empty", status_code=422)
        self.client.post(f"/tins/facts/{TinFact.objects.get(kind='emptied').pk}/back", {"token": "b", "reason": "no"})
        self.assertEqual(pour(3, f"http://testserver/tins/{base.pk}/").status_code, 302)
        self.assertEqual(len(self.view(pk=base.pk).poured), 1)

    def test_an_opened_tin_keeps_by_its_sheet(self):
        """Opened 40 days ago, good for one month opened: the store, Mix and the judge call it out of date."""
        add_sheet(PRIMER | {"date": "2026-01-02", "shelf": {"opened_months": 1}})
        self.take_in(batch_base="B7", size_base="1 L", use_by="2027-03-01")
        tin = Tin.objects.get()
        opened = clock.now() - timedelta(days=40)
        TinFact.objects.create(tin=tin, kind="opened", at=opened, who=self.shop.people["owner"])
        self.assertIn("out of date", text_of(self.client.get("/store/")))
        self.assertIn("1 months opened, by its sheet", text_of(self.client.get(f"/tins/{tin.pk}/")))
        pot = self.shop.tell(Kind.POT, -0.8, revision=self.shop.primer.revisions.order_by("pk").last(), variant="mild", method="brush", thinner_pct=0.0, ready_ml=200.0, temp_c=20.0)  # fmt: skip
        self.shop.tell(Kind.WEIGHED, -0.7, pot=pot, part="base", scale_g=240.0, tin=tin)
        self.shop.tell(Kind.WEIGHED, -0.7, pot=pot, part="hardener", scale_g=280.0)
        self.shop.tell(Kind.BARED, -3, -2.5, "s-strip")
        self.shop.tell(Kind.DEGREASED, -0.9, step="s-wipe")
        self.assertIn("Base B7 is out of date", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/")))
        # A coat straight from it is told the same while it is typed, and in the record, by its batch and by its code.
        told = {"token": "o", "source": "product:Test primer", "step": "s-prime", "began": "11:50", "ended": "12:00", "share": "100", "method": "brush", "thinner_pct": "0"}  # fmt: skip
        for typed in ("B7", f"T{tin.pk}"):
            preview = self.client.post(f"/zones/{self.shop.zone.pk}/log/coat/preview", told | {"batch": typed})
            self.assertIn("B7 is out of date", text_of(preview))
        self.client.post(f"/zones/{self.shop.zone.pk}/log/coat", told | {"batch": f"T{tin.pk}"})
        self.assertIn("B7 is out of date", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record")))
        Recall.objects.create(product=self.shop.primer, part="base", batch="B7", why="the maker", who=self.shop.user)
        self.assertIn("B7 is of a batch that is recalled", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record")))  # fmt: skip

    def test_what_is_refused_names_the_field_and_keeps_what_was_typed(self):
        for told, word in (
            ({}, "write the batch number"),
            ({"batch_base": "B", "size_base": "1"}, "write it with its unit"),
            ({"size_hardener": "1 L"}, "write the batch number"),
            ({"batch_base": "B", "count": "0"}, "greater than or equal to 1"),
            ({"batch_base": "B", "price_base": "-1"}, "greater than or equal to 0"),
        ):
            with self.subTest(told):
                answer = self.take_in(**told)
                self.assertContains(answer, word, status_code=422)
                for value in told.values():
                    self.assertContains(answer, f'value="{value}"', status_code=422)
        self.assertEqual(Tin.objects.count(), 0)
        self.take_in("twice", batch_base="B")
        self.take_in("twice", batch_base="B")
        self.assertEqual(Tin.objects.count(), 1)

    def test_a_code_leads_to_its_tin_in_one_step(self):
        self.take_in(batch_base="B9")
        tin = Tin.objects.get()
        for typed in (f"T{tin.pk}", f"t{tin.pk} ", f"http://testserver/tins/{tin.pk}/"):
            with self.subTest(typed):
                self.assertRedirects(self.client.get("/search", {"q": typed}), f"/tins/{tin.pk}/")
        pot = self.shop.tell(Kind.POT, -0.1, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", thinner_pct=0.0, ready_ml=200.0, temp_c=20.0)  # fmt: skip
        for typed in (f"P{pot.pk}", f"https://shop.example/pots/{pot.pk}/"):
            with self.subTest(typed):
                self.assertRedirects(self.client.get("/search", {"q": typed}), f"/pots/{pot.pk}/")
        self.assertContains(self.client.get(f"/pots/{pot.pk}/label"), f"<b>P{pot.pk}</b> Test primer")
        for typed in ("T999999", "P999999", f"P{tin.pk}" if tin.pk != pot.pk else "P0", "Test"):
            with self.subTest(typed):
                self.assertEqual(self.client.get("/search", {"q": typed}).status_code, 200)
        self.assertContains(self.client.get("/store/labels"), f"<b>T{tin.pk}</b>")

    def test_who_only_looks_is_offered_no_act(self):
        self.take_in(batch_base="B9")
        self.client.force_login(self.shop.people["viewer"])
        for url in ("/store/", f"/tins/{Tin.objects.get().pk}/"):
            page = self.client.get(url).content.decode().split("<main")[1].split("</main>")[0]
            self.assertNotIn('method="post"', page)
            self.assertNotIn("/store/in/", page)
        self.assertEqual(self.take_in("v", batch_base="X").status_code, 403)


class LabelTests(StoreCase):
    def test_labels_of_tins_pots_and_pieces_are_read_from_their_file(self):
        """Each page drawn at 300 dpi and read by a reader of codes that is not ours; the words by a reader of PDF."""
        self.take_in(batch_base="B9", batch_hardener="Ž-9", size_base="1 L", use_by="2027-03-01")
        pot = self.shop.tell(Kind.POT, -0.1, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", thinner_pct=0.0, ready_ml=200.0, temp_c=20.0)  # fmt: skip
        tins = [f"/tins/{tin.pk}/" for tin in Tin.objects.order_by("pk")]
        for url, codes_of, pages, words in (
            ("/store/labels?as=sheet", tins, 1, ["Test primer", "batch B9", "batch Z-9", "use by 1 Mar 2027"]),
            ("/store/labels?as=one", tins, 2, ["batch B9"]),
            (f"/pots/{pot.pk}/label?as=one", [f"/pots/{pot.pk}/"], 1, [f"P{pot.pk}"]),
            (f"/jobs/{self.shop.zone.job_id}/labels?as=sheet", [f"/zones/{self.shop.zone.pk}/"], 1, [f"Z{self.shop.zone.pk}"]),
        ):  # fmt: skip
            with self.subTest(url):
                answer = self.client.get(url)
                self.assertEqual(answer["Content-Type"], "application/pdf")
                read = PdfReader(io.BytesIO(answer.content))
                self.assertEqual(len(read.pages), pages)
                text = " ".join(page.extract_text() for page in read.pages)
                for word in words:
                    self.assertIn(word, " ".join(text.split()))
                self.assertTrue(
                    all(
                        "/FontFile2" in (f.get_object()["/FontDescriptor"].get_object())
                        for page in read.pages
                        for f in page["/Resources"]["/Font"].values()
                        if f.get_object()["/BaseFont"] != "/Helvetica"
                    )
                )
                drawn = [page.render(scale=3).to_pil() for page in pypdfium2.PdfDocument(answer.content)]
                codes = [found.text for image in drawn for found in zxingcpp.read_barcodes(image)]
                self.assertEqual(sorted(codes), sorted(f"http://testserver{path}" for path in codes_of))


TABLE = """product,part,batch,count,size,price,came,use by,place,kit
Test primer,Base,B1,2,1 L,"24,90",2026-05-11,2027-01-01,Shop,K1
Test primer,hardener,H1,1,250 mL,,,,,K1

Test can,can,C1,,,,,,,
"""


class FileTests(StoreCase):
    PRODUCTS = {"Paint": {"base": "base", "part a": "base"}}

    def test_a_file_is_taken_whole_or_not_at_all(self):
        send = lambda text, n: self.client.post("/store/from-file", {"token": f"f{n}", "file": SimpleUploadedFile("t.csv", text.encode())})  # noqa: E731  # fmt: skip
        answer = send(TABLE.replace("250 mL", "250").replace("2027-01-01", "soon"), 1)
        self.assertContains(answer, "must be a day, for example 2026-05-12", status_code=422)
        self.assertContains(answer, "write it with its unit", status_code=422)
        self.assertEqual(Tin.objects.count(), 0)
        self.assertRedirects(send(TABLE, 2), "/store/")
        self.assertEqual(Tin.objects.count(), 4)
        first = self.view(batch="B1", number=2)
        self.assertEqual((first.size, str(first.price), str(first.place), first.tin.use_by), (1000, "24.90", "Shop", date(2027, 1, 1)))  # fmt: skip
        # What goes out comes in again: one line a tin.
        out = self.client.get("/store/tins.csv").content.decode()
        told, problems = read_tins(out, {"Test primer": {"base": "base", "hardener": "hardener"}, "Test can": {"can": "can"}}, frozenset({"Shop"}))  # fmt: skip
        self.assertEqual(problems, [])
        self.assertEqual([(t.product, t.batch, t.amount, t.unit, t.kit) for t in told], [("Test primer", "B1", 1000, "mL", "K1"), ("Test primer", "B1", 1000, "mL", "K1"), ("Test primer", "H1", 250, "mL", "K1"), ("Test can", "C1", None, "", "")])  # fmt: skip

    def test_lines_that_are_wrong(self):
        for line, column in (
            ("Other,base,B", "product"), ("Paint,lid,B", "part"), ("Paint,base,", "batch"), ("Paint,base,B,0", "count"), ("Paint,base,B,x", "count"), ("Paint,base,B,101", "count"),
            ("Paint,base,B,1,-1 L", "size"), ("Paint,base,B,1,1 L,a", "price"), ("Paint,base,B,1,1 L,1e99", "price"), ("Paint,base,B,1,1 L,NaN", "price"), ("Paint,base,B,1,1 L,1,2026-02-30", "came"),
            ("Paint,base,B,1,1 L,1,2026-02-20,x", "use by"), ("Paint,base,B,1,1 L,1,2026-02-20,2026-02-20,Moon", "place"),
        ):  # fmt: skip
            with self.subTest(line):
                header = "product,part,batch,count,size,price,came,use by,place,kit"
                found, problems = read_tins(f"{header}\n{line}\n", self.PRODUCTS, frozenset({"Shop"}))
                self.assertEqual(([p.column for p in problems], [p.line for p in problems], found), ([column], [2], []))
        self.assertEqual(
            read_tins("product;part;batch\nPaint;PART A;B\n", self.PRODUCTS, frozenset())[0][0].part, "base"
        )
        self.assertEqual(read_tins("name\n", self.PRODUCTS, frozenset())[1][0].column, "product")
        self.assertEqual(read_tins("", self.PRODUCTS, frozenset())[1][0].line, 1)

    def test_what_stands_on_a_tin(self):
        for text, system, found in (("1 L", "metric", (1000, "mL")), ("750ml", "metric", (750, "mL")), ("2,5 kg", "metric", (2500, "g")), ("500 g", "us", (500, "g")), ("1 qt", "us", (946.352946, "mL"))):  # fmt: skip
            with self.subTest(text):
                value, unit = amount_of(text, system)
                self.assertEqual(unit, found[1])
                self.assertAlmostEqual(value, found[0], 6)  # a US quart is 946.352946 mL (NIST Handbook 44)
        for text in ("", "5", "0 L", "-2 kg", "2 m", "L", "1e9 L"):
            with self.subTest(text), self.assertRaises(UnitError):
                amount_of(text)
