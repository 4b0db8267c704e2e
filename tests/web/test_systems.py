"""Systems made, changed, taken in and put on many zones, by their pages."""

from django.test import TestCase

from emplastra.demo.workshop import load_materials
from emplastra.jobs.models import BuildUpVersion, ZoneRevision
from emplastra.logbook.models import Kind
from emplastra.materials import selectors, services
from emplastra.materials.models import Product, System, SystemVersion
from tests.base import ShopCase, text_of
from tests.pages import sent

HEAD = {"based_on": "0", "name": "Barn door", "school": "ours", "max_total_um": "300 µm", "where": "Doors", "why": "One reason\nAnother", "substrates": ["steel"]}  # fmt: skip
PRIME = {"a-kind": "prime", "a-product": "Test primer", "a-coats": "2", "a-dft_um": "50 µm", "a-sanded_um": "0", "a-method": "brush", "a-thinner_pct": "0"}  # fmt: skip


class PageTests(ShopCase):
    def send(self, url="/systems/new", **typed):
        self.sent = getattr(self, "sent", 0) + 1
        return self.client.post(url, {"token": f"t{self.sent}", **HEAD, "order": "s,a", "s-kind": "strip", **PRIME, **typed})  # fmt: skip

    def test_made_on_the_page_then_changed_by_two_people(self):
        self.assertContains(self.client.get("/systems/new"), "No step yet")
        url = self.send().url
        version = SystemVersion.objects.get()
        self.assertEqual(version.steps, [{"kind": "strip"}, {"kind": "prime", "product": "Test primer", "coats": 2, "dft_um": 50.0, "method": "brush"}])  # fmt: skip
        self.assertEqual((version.about["why"], version.about["fits"]), (["One reason", "Another"], {"substrates": ["steel"]}))  # fmt: skip
        page = text_of(self.client.get(url))
        for words in ("100 µm planned of at most 300 µm", "One reason", "Not wiped since", "Bright steel warns", "On the day the metal is bared"):  # fmt: skip
            self.assertIn(words, page)
        edit = f"{url}edit"
        self.assertEqual(self.send(edit, based_on="1", **{"a-coats": "3"}).status_code, 302)
        stale = self.send(edit, based_on="1", **{"a-coats": "1"})
        self.assertEqual(stale.status_code, 409)
        for words in ("saved version 2 meanwhile", "Prime, Test primer, 3 × 50 µm", "Prime, Test primer, 1 × 50 µm"):
            self.assertIn(words, text_of(stale))
        self.assertContains(stale, 'name="a-coats" value="1"', status_code=409)
        self.assertEqual(self.send(edit, based_on="2", **{"a-coats": "1"}).status_code, 302)
        self.assertEqual([v.steps[1]["coats"] for v in SystemVersion.objects.order_by("number")], [2, 3, 1])
        copy = self.client.get(f"/systems/new?from={version.system_id}")
        self.assertContains(copy, 'value="Barn door, copy"')

    def test_what_is_wrong_is_named_and_nothing_typed_is_lost(self):
        old = Product.objects.get(name="Test can")
        services.retire(old, self.shop.people["owner"], True)
        self.send()
        for typed, words in (
            ({"name": "Barn door"}, "there is a system “Barn door” already"), ({"name": ""}, "Name: This field is required"),
            ({"name": "X", "max_total_um": "90"}, "films come to 100 µm, more than its most of 90 µm"),
            ({"name": "X", "a-product": "Test can"}, "Test can is not on the shelf, or no longer"), ({"name": "X", "a-product": "Nothing"}, "Nothing is not on the shelf"),
            ({"name": "X", "a-product": ""}, "step 2: it leaves film and names no product"), ({"name": "X", "order": "zz"}, "put at least one step in"),
            ({"name": "X", "a-dft_um": "2 gal"}, "Dry film a coat"), ({"name": "X", "school-filler": "nowhere"}, "Select a valid choice"), ({"name": "X", "max_total_um": "a lot"}, "All layers at most"),
        ):  # fmt: skip
            with self.subTest(words):
                answer = self.send(**{"where": "Kept words", **typed})
                self.assertIn(words, text_of(answer))
                self.assertContains(answer, "Kept words", status_code=422)
        self.assertEqual(SystemVersion.objects.count(), 1)
        rename = self.send(f"/systems/{System.objects.get().pk}/edit", based_on="1", name="Other")
        self.assertContains(rename, "keep the name, or make a copy", status_code=422)

    def test_steps_are_arranged_and_judged_as_they_are_typed(self):
        typed = {**HEAD, "order": "s,a", "s-kind": "strip", **PRIME}
        added = self.client.post("/systems/arrange", {**typed, "do": "add", "new-kind": "degrease", "new-after": "s"})
        form = added.context["form"]
        self.assertEqual([s.kind for s in form.steps], ["strip", "degrease", "prime"])
        self.assertEqual(added.headers["HX-Trigger-After-Settle"], '{"arranged": {}}')
        values = {name: form[name].value() or "" for name in form.fields}
        self.assertNotIn("Not wiped", text_of(self.client.post("/systems/look", values)))
        moved = self.client.post("/systems/arrange", {**typed, "do": "up:a"})
        self.assertEqual([s.id for s in moved.context["form"].steps], ["a", "s"])
        can = self.client.post("/systems/arrange", {**typed, "a-product": "Test can", "do": "sheet:a"})
        self.assertIn("As the sheet of Test can has it: 1 × 10 µm. It was 2 × 50 µm.", text_of(can))
        gone = self.client.post("/systems/arrange", {**typed, "do": "delete:s"})
        self.assertEqual([s.id for s in gone.context["form"].steps], ["a"])

    def test_made_of_a_build_up_and_offered_no_longer(self):
        self.as_owner()
        page = self.client.get(f"/systems/new?zone={self.shop.zone.pk}")
        self.assertEqual([s.kind for s in page.context["form"].steps], ["strip", "degrease", "prime"])
        self.assertContains(page, 'value="As on Cab side"')
        found = services.add_system("Old one", [{"kind": "strip"}], user=self.shop.user).system
        self.client.post(f"/systems/{found.pk}/retire", follow=True)
        self.assertEqual(selectors.systems(), [])
        self.assertNotContains(self.client.get("/systems/"), "Old one")
        self.assertContains(self.client.get("/systems/?retired=1"), "Old one")
        self.client.post(f"/systems/{found.pk}/retire", {"back": "1"})
        self.assertEqual(len(selectors.systems()), 1)

    def test_on_three_zones_at_once_with_what_finish_and_standard_make_of_it(self):
        add = [self.shop.make_zone(name) for name in ("Roof", "Floor", "Sill")]
        ZoneRevision.objects.create(**{f: getattr(add[1].revisions.first(), f) for f in ("substrate", "thickness_mm", "form", "shapes")}, zone=add[1], finish_class="covered")  # fmt: skip
        system = services.add_system("One", [{"kind": "strip"}, {"kind": "degrease"}, {"kind": "weld"}, {"kind": "prime", "product": "Test primer", "coats": 1, "dft_um": 50, "method": "brush"}]).system  # fmt: skip
        self.shop.tell(Kind.BARED, -2, -1, "s-strip")
        url = f"/systems/{system.pk}/apply?job={self.shop.job.pk}"
        page = self.client.get(url)
        said = text_of(page)
        self.assertIn("its plan is under way", said)
        self.assertIn("Welds left as they are, pinholes shut (covered, drive it).", said)
        looked = page.context["form"]["looked"].value()
        sent = {"token": "x", "looked": looked, "zones": [z.pk for z in add]}
        self.assertContains(self.client.post(url, {**sent, "token": "y", "zones": []}), "tick at least one zone", status_code=422)  # fmt: skip
        bad = self.client.post(url, {**sent, "token": "z", "zones": [self.shop.zone.pk]})
        self.assertContains(bad, "its plan is under way", status_code=422)
        self.assertEqual(self.client.post(url, sent).status_code, 302)
        notes = [[s["note"] for s in z.build_ups.first().steps if s["kind"] == "weld"] for z in add]
        self.assertEqual([n[0].split(",")[0] for n in notes], ["welds ground flush", "welds left as they are", "welds ground flush"])  # fmt: skip
        ids = [s["id"] for z in add for s in z.build_ups.first().steps]
        self.assertEqual(len(ids), len(set(ids)))
        again = self.client.post(url, {**sent, "token": "later"})
        self.assertContains(again, "saved version 2 of its plan meanwhile", status_code=422)
        fresh = self.client.get(url).context["form"]["looked"].value()
        self.client.post(url, {**sent, "token": "plain", "looked": fresh, "as_is": "on"})
        self.assertEqual([s["note"] for s in add[0].build_ups.first().steps if s["kind"] == "weld"], [""])

    def test_nothing_is_put_before_what_is_done(self):
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        url = f"/zones/{self.shop.zone.pk}/plan"
        sent = {"token": "q", "based_on": "1", "order": "s-wipe,s-strip,s-prime"}
        for name in ("coats", "dft_um", "sanded_um", "method", "thinner_pct", "product"):
            sent[f"s-prime-{name}"] = self.shop.zone.build_ups.first().steps[2][name]
        answer = self.client.post(url, sent)
        self.assertIn("Degrease would come before strip, which is done", text_of(answer))
        self.assertEqual((answer.status_code, BuildUpVersion.objects.filter(zone=self.shop.zone).count()), (422, 1))
        held = self.client.post(f"/zones/{self.shop.zone.pk}/arrange", {**sent, "order": "s-strip,s-wipe,s-prime", "do": "up:s-wipe"})  # fmt: skip
        self.assertIn("Degrease would come before strip, which is done", text_of(held))
        self.assertEqual([s.id for s in held.context["form"].steps], ["s-strip", "s-wipe", "s-prime"])


class ReadyTests(ShopCase, TestCase):
    def test_taken_in_one_by_one_or_all_the_shelf_has_products_for(self):
        page = text_of(self.client.get("/systems/"))
        self.assertIn("The shelf has no panel wipe", page)
        self.client.post("/systems/take", {"token": "a"})
        self.assertEqual(System.objects.count(), 1)  # what needs no product: powder by a contractor
        load_materials()
        self.client.post("/systems/take", {"token": "b"})
        self.assertGreaterEqual(System.objects.count(), 16 + 6)
        page = text_of(self.client.get("/systems/"))
        self.assertNotIn("Ready to take in", page)
        for system in System.objects.all():
            with self.subTest(system.name):
                boxes = self.client.get(f"/systems/{system.pk}/").context["sample"].plan
                hatches = [box.hatch for box in boxes]
                self.assertEqual(len(hatches), len(set(hatches)), "no two layers look alike")
        mastic = System.objects.get(name="Three-stage pearl")
        self.assertIn("The number of mid-coats is the colour", text_of(self.client.get(f"/systems/{mastic.pk}/")))
        form = self.client.get(f"/systems/{mastic.pk}/edit").context["form"]
        values = sent(form)
        self.assertEqual(self.client.post(f"/systems/{mastic.pk}/edit", {**values, "token": "same"}).status_code, 302)
        self.assertEqual(mastic.versions.count(), 1, "saved as it is, it is the version that is there")
