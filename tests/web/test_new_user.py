"""What somebody new to it met on the way through a first job."""

import re
from io import StringIO

from django.test import SimpleTestCase, TestCase, override_settings

from emplastra.accounts import setup
from emplastra.accounts.management.commands.serve import Command
from emplastra.accounts.models import Role, User, Workshop
from emplastra.climate.models import Place
from emplastra.core.piece.areas import ShapeError, total_area_m2
from emplastra.jobs.models import Job, Zone
from emplastra.jobs.services import add_zone, save_build_up
from emplastra.logbook import services
from emplastra.logbook.models import Entry, Kind
from emplastra.logbook.services import Told, log
from emplastra.materials.services import add_sheet, add_system
from emplastra.shared import clock
from emplastra.shared.times import TimeError, zone_named
from tests.base import NOON, PASSWORD, PRIMER, SQUARE, H, ShopCase, drop_caches, text_of


class ZoneNameTests(SimpleTestCase):
    def test_a_zone_is_found_by_its_city(self):
        for text, name in (
            ("Europe/Vienna", "Europe/Vienna"), ("europe/vienna", "Europe/Vienna"), ("vienna", "Europe/Vienna"), (" New York ", "America/New_York"),
            ("Chicago", "America/Chicago"), ("UTC", "UTC"), ("louisville", "America/Louisville"), ("Ho Chi Minh", "Asia/Ho_Chi_Minh"), ("Moon/Base", None), ("", None), ("West", None), ("/", None),
        ):  # fmt: skip
            with self.subTest(text):
                if name is None:
                    with self.assertRaisesRegex(TimeError, "choose one from the list"):
                        zone_named(text)
                else:
                    self.assertEqual(zone_named(text), name)

    @override_settings(ALLOWED_HOSTS=["localhost", "127.0.0.1", "192.168.1.9", "10.0.0.4"])
    def test_an_address_for_the_phone_is_printed_only_if_it_is_listened_on(self):
        for host, printed in (("127.0.0.1", []), ("0.0.0.0", ["192.168.1.9", "10.0.0.4"]), ("10.0.0.4", ["10.0.0.4"])):
            with self.subTest(host):
                out = StringIO()
                Command(stdout=out)._print_addresses(host, 8000)
                told = [a for a in ("127.0.0.1", "192.168.1.9", "10.0.0.4") if f"http://{a}:8000/" in out.getvalue()]
                self.assertEqual(told, printed)


class FirstRunTests(TestCase):
    def test_a_refused_first_run_keeps_what_it_may(self):
        form = {"code": setup.issue_code(), "name": "Our shop", "time_zone": "Moon", "units": "us", "username": "boss", "password": PASSWORD}  # fmt: skip
        answer = self.client.post("/first-run", form)
        for words in ('value="Our shop"', 'value="boss"', f'value="{form["code"]}"', '<option value="us" selected>', "A password is never shown again", 'href="#f-time_zone"', '<option value="Europe/Vienna">'):  # fmt: skip
            with self.subTest(words):
                self.assertContains(answer, words, status_code=422)
        self.assertNotContains(answer, PASSWORD, status_code=422)
        self.assertRedirects(self.client.post("/first-run", {**form, "time_zone": "chicago"}), "/")
        self.assertEqual(self.client.get("/").context["workshop"].time_zone, "America/Chicago")
        self.assertEqual(User.objects.get().username, "boss")


class FirstStepsTests(TestCase):
    """A workshop in which nothing was done is led by its steps; each is done on its own page, and then gone."""

    def setUp(self):
        self.addCleanup(clock.freeze, None)
        drop_caches()
        clock.freeze(NOON)
        Workshop.objects.create(name="Own shop", time_zone="Europe/Vienna")
        self.user = User.objects.create_user("owner", password=PASSWORD, role=Role.OWNER)
        User.objects.create_user("viewer", password=PASSWORD, role=Role.VIEWER)
        self.client.force_login(self.user)

    def steps(self):
        """[(step, its page)] as Bench lists them."""
        page = self.client.get("/").content.decode()
        return re.findall(r"<li><div><b>([^<]+)</b>.*?href=\"([^\"]+)\"", page, re.DOTALL)

    def test_each_step_goes_when_it_is_done(self):
        def place():
            self.place = Place.objects.create(name="Barn")

        def zone():
            measures = {"substrate": "steel", "thickness_mm": 1.0, "form": "flat", "finish_class": "show", "shapes": SQUARE}  # fmt: skip
            self.zone = add_zone(self.job, "Side", self.user, **measures)

        def job():
            self.job = Job.objects.create(name="Trailer")

        def told(kind, **details):
            log(self.user, Told(kind, NOON, NOON, ((self.zone, 1.0, ""),), details))

        acts = [
            ("A place", place), ("A tin on the shelf", lambda: add_sheet(PRIMER)), ("A job", job), ("A zone", zone),
            ("Its plan", lambda: save_build_up(self.zone, self.user, [{"kind": "strip", "id": "s"}], 0)),
            ("Where it stands", lambda: told(Kind.MOVED, place=self.place)),
        ]  # fmt: skip
        for name, act in acts:
            with self.subTest(name):
                found = self.steps()
                self.assertEqual(found[0][0], name)
                page = self.client.get(found[0][1])
                self.assertContains(page, f"Begin: <b>{name.lower()}</b>")  # its page, too, says what comes next
                act()
                self.assertNotIn(name, [step for step, _ in self.steps()])
        self.assertEqual([step for step, _ in self.steps()], ["The first act", "Its air"])
        told(Kind.DONE, step="strip")
        self.assertEqual(self.steps(), [])
        self.assertNotContains(self.client.get("/jobs/"), "Begin:")

    def test_who_only_looks_is_led_nowhere(self):
        self.client.force_login(User.objects.get(username="viewer"))
        page = self.client.get("/")
        self.assertContains(page, "Nothing is open")
        self.assertNotContains(page, "Begin")
        self.assertNotContains(page, 'href="/jobs/new"')


class AreaTests(SimpleTestCase):
    def test_openings_are_taken_off(self):
        """2 m × 1 m less two windows of 0.5 m × 0.4 m: 2 − 0.4 = 1.6 m²."""
        sheet = {"kind": "flat", "dims": {"length": 2000, "width": 1000}, "count": 1}
        window = {"kind": "flat", "dims": {"length": 500, "width": 400}, "count": 2, "less": True}
        for shapes, m2 in (
            ([{"kind": "flat", "dims": sheet["dims"]}], 2.0),
            ([sheet], 2.0),
            ([sheet, window], 1.6),
            ([window, sheet, sheet], 3.6),
        ):
            with self.subTest(m2):
                self.assertAlmostEqual(total_area_m2(shapes), m2, 12)
        for shapes in ([window], [sheet, {**window, "count": 10}], [sheet, {**sheet, "less": True}]):
            with self.subTest(shapes), self.assertRaisesRegex(ShapeError, "must be smaller than the rest"):
                total_area_m2(shapes)


class NewUserTests(ShopCase):
    def page(self, url, code=200):
        answer = self.client.get(url)
        self.assertEqual(answer.status_code, code)
        return answer.content.decode()

    def words(self, url):
        return text_of(self.client.get(url))

    def test_the_preview_of_a_coat_names_what_was_judged_and_no_more(self):
        values = {"token": "t", "began": "11:30", "ended": "11:40", "share": "100", "step": "s-prime", "source": "product:Test primer", "method": "brush", "thinner_pct": "0", "wft_um": ""}  # fmt: skip
        url = f"/zones/{self.shop.zone.pk}/log/coat/preview"
        self.shop.tell(Kind.BARED, -6, -5, "s-strip")
        told = text_of(self.client.post(url, values))
        self.assertRegex(told, r"Findings nobody has looked it over: Inspect Preparation how it was bared is not told")  # fmt: skip
        self.assertNotIn("Nothing speaks against it", told)
        self.shop.tell(Kind.DEGREASED, -4.3, -4.2, "s-wipe")
        pot = self.shop.tell(Kind.POT, -4.2, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", thinner_pct=0.0, ready_ml=200.0, temp_c=20.0)  # fmt: skip
        for part, grams in (("base", 240.0), ("hardener", 280.0)):
            self.shop.tell(Kind.WEIGHED, -4.1 if part == "base" else -1.5, pot=pot, part=part, scale_g=grams)
        self.shop.coat(-4, -3.5, pot=pot)  # open after 2 h, at 10:30
        told = text_of(self.client.post(url, values | {"wft_um": "100", "source": f"pot:{pot.pk}"}))
        self.assertIn("Nothing speaks against it: metal, findings, preparation, dry and clean, bare time, what lies there, window, air, film, grit, tin and pot, access, colour and safety.", told)  # fmt: skip

    def test_after_a_zone_comes_the_next_or_its_plan(self):
        new = f"/jobs/{self.shop.job.pk}/zones/new"
        form = {"substrate": "steel", "thickness_mm": "1.4", "form": "flat", "profile": "sanded", "finish_class": "show", "wetted_faces": "2", "shape0-kind": "flat", "shape0-a": "2 m x 1 m", "shape0-count": "1", "shape1-kind": "flat", "shape1-a": "0.5 m x 0.4 m", "shape1-count": "2", "shape1-less": "on"}  # fmt: skip
        answer = self.client.post(new, {**form, "token": "1", "name": "Side, left", "then": "next"}, follow=True)
        self.assertEqual(answer.redirect_chain[0][0], f"{new}?like={Zone.objects.get(name='Side, left').pk}&place=0")
        self.assertContains(answer, 'value="1.4"')  # as thick as the one before
        self.assertIn("Zone made: Side, left. Now the next one.", text_of(answer))
        answer = self.client.post(new, {**form, "token": "2", "name": "Side, right"}, follow=True)
        made = Zone.objects.get(name="Side, right")
        self.assertEqual(answer.redirect_chain[0][0], f"/zones/{made.pk}/plan")
        self.assertAlmostEqual(made.revisions.get().area_m2, 1.6, 12)
        self.assertRegex(
            self.client.get(f"/zones/{made.pk}/measures").content.decode(), r'name="shape1-less"\s+checked'
        )
        for url in (new, f"/zones/{made.pk}/plan"):
            with self.subTest(url):
                self.assertIn(
                    "No coating system is here yet: take a ready one in , or put steps into the plan one by one",
                    self.words(url),
                )
        self.assertNotIn("No place is here yet", self.words(new))
        Place.objects.update(in_use=False)
        self.assertIn("No place is here yet: an owner adds it in Settings", self.words(new))
        for url in ("/air/import", "/air/reading"):
            self.assertIn("No place is here yet: an owner adds one in Settings", self.words(url))
        Place.objects.update(in_use=True)
        system = add_system("Brushed", [{"kind": "prime", "product": "Test primer", "coats": 1, "dft_um": 50, "method": "brush"}])  # fmt: skip
        yard = Place.objects.create(name="Yard", kind="yard")
        chosen = [f'value="{system.pk}" selected', f'value="{yard.pk}" selected']
        with_both = {**form, "system": system.pk, "place": yard.pk}
        answer = self.client.post(new, {**with_both, "token": "4", "name": "Roof", "then": "next"}, follow=True)
        for word in chosen:  # the next stands there too, and is done the same way
            self.assertContains(answer, word)
        refused = self.client.post(new, {**with_both, "token": "3", "name": "Side, rear", "shape1-count": "20"})
        for word in chosen:
            self.assertContains(refused, word, status_code=422)
        self.assertContains(refused, "the openings take off 4.00 m² of 2.00 m²", status_code=422)

    def test_a_half_typed_shape_is_no_error_until_it_is_sent(self):
        shape = {"shape0-kind": "flat", "shape0-count": "1"}
        for typed, words in (
            ({"shape0-a": "1200"}, "The area follows the shapes."), ({"shape0-a": "2 f"}, "The area follows the shapes."), ({}, "The area follows the shapes."),
            ({"shape0-a": "2 m x 1 m"}, "2.00 m²"), ({"shape0-a": "1200", "shape0-b": "wide"}, "width: “wide” is not understood"),
        ):  # fmt: skip
            with self.subTest(typed):
                answer = self.client.post("/shapes/area", shape | typed)
                self.assertIn(words, text_of(answer))
                self.assertNotIn("is-danger", answer.content.decode())

    def test_a_way_of_stripping_can_be_taken_without_a_plan_and_is_proposed_in_the_log(self):
        job = Job.objects.create(name="Cart")
        zone = Zone.objects.create(job=job, name="Bed")
        zone.revisions.create(
            substrate="steel", thickness_mm=2, form="flat", finish_class="show", shapes=SQUARE, who=self.shop.user
        )
        page = self.page(f"/zones/{zone.pk}/strip")
        self.assertIn(f"/zones/{zone.pk}/log/bared?how=", page)
        first = page.split("/log/bared?how=")[1].split("&")[0]
        self.assertIn(f'name="way" value="{first}"', page)
        self.assertContains(
            self.client.get(f"/zones/{zone.pk}/log/bared?how={first}"), f'<option value="{first}" selected>'
        )
        self.client.post(f"/zones/{zone.pk}/strip/take", {"way": "needle", "token": "w"})
        steps = zone.build_ups.get().steps
        self.assertEqual([(s["kind"], s["note"]) for s in steps], [("strip", "by needle scaler")])
        self.assertContains(self.client.get(f"/zones/{zone.pk}/log/bared"), '<option value="needle" selected>')
        self.assertNotContains(
            self.client.get(f"/zones/{self.shop.zone.pk}/log/bared"), '<option value="needle" selected>'
        )

    def test_no_button_leads_to_where_one_is(self):
        self.shop.tell(Kind.BARED, -6, -5, "s-strip")
        self.shop.coat(-1, -0.5)
        bed = Zone.objects.create(job=self.shop.job, name="Bed")
        bed.revisions.create(
            substrate="steel", thickness_mm=2, form="flat", finish_class="show", shapes=SQUARE, who=self.shop.user
        )
        self.shop.tell(Kind.MOVED, -1, zone=bed, place=self.shop.place)
        for url, anchor, label in (
            (f"/zones/{self.shop.zone.pk}/", "why", "See why"),
            (f"/zones/{bed.pk}/plan", "choose", "Choose a system"),
        ):
            with self.subTest(label):
                page = self.page(url)
                self.assertRegex(page, rf'href="{url}#{anchor}">{label}<')
                self.assertIn(f'id="{anchor}"', page)

    def test_a_refused_survey_names_its_fields_and_leads_to_them(self):
        values = {"token": "s", "how": "paint", "thin": "thin", "thin-left": "two"}
        page = self.client.post(f"/zones/{self.shop.zone.pk}/survey/found", values).content.decode()
        self.assertRegex(page, r'Not recorded yet:\s+see\s+<a href="#f-thin-left">Thickness left: thinnest left</a>\.')
        self.assertIn('id="f-thin-left"', page)
        self.assertRegex(page, r'(?s)<details class="sheet group" id="g-\w+" open>(?:(?!</details>).)*id="f-thin-left"')

    def test_a_voided_coat_takes_its_make_it_steps_with_it(self):
        """Ended 40 h ago with a window of 24 h: missed. Its steps go with it, unless something was logged on one."""
        shop, zone = self.shop, self.shop.zone
        shop.tell(Kind.BARED, -50, -49, "s-strip")
        for name, keyed, left in (("nothing logged", False, 0), ("keyed", True, 1)):
            coat = shop.coat(-41, -40)
            planned = [s["id"] for s in zone.build_ups.first().steps]
            self.client.post(f"/zones/{zone.pk}/missed", {"token": name, "based_on": zone.build_ups.first().number})
            steps = [s for s in zone.build_ups.first().steps if s["id"] not in planned]
            self.assertEqual([s["kind"] for s in steps], ["abrade", "degrease"])
            if keyed:
                shop.tell(Kind.KEYED, -2, -1, steps[0]["id"], grit="P240", um_off=1)
            corrected = services.log(shop.user, services.Told(Kind.COAT, coat.began, coat.ended, ((zone, 1.0, "s-prime"),), {"product": shop.primer, "revision": shop.primer.revisions.first(), "variant": "mild", "method": "brush", "plan_um": 55.0}), True, coat, "misread")  # fmt: skip
            services.void(shop.user, corrected, "wrong zone")
            with self.subTest(name):
                kept = [s["id"] for s in zone.build_ups.first().steps if s["id"] not in planned]
                self.assertEqual(len(kept), left)
                self.assertEqual([s["id"] for s in zone.build_ups.first().steps if s["id"] in planned], planned)

    def test_hours_are_said_as_hours(self):
        self.shop.tell(Kind.BARED, -6, -5, "s-strip")
        zone, url = self.shop.zone.pk, "/zones/{}/mix"
        self.client.post(
            url.format(zone),
            {"token": "p", "ready_ml": "200 mL", "variant": "mild", "method": "brush", "thinner_pct": "0"},
        )
        pot = Entry.objects.of(Kind.POT).get()
        for grams, part in (("240", "base"), ("280", "hardener")):
            self.client.post(
                f"/pots/{pot.pk}/",
                {"token": part, "part": part, "shown": grams, "batch": "", "use_by": "", "offer": "exact"},
            )
        clock.freeze(NOON + 26 * H)  # mixed on Tuesday at 12:00, dead after 2 h
        self.client.force_login(self.shop.user)
        self.assertIn("Dead since yesterday 14:00", self.words("/"))
        self.assertRegex(self.words(f"/pots/{pot.pk}/"), r"Dead since yesterday 14:00")
        self.assertIn("Tue 12 May 2026 07:00", self.words(f"/zones/{zone}/record"))

    def test_what_is_not_told_is_not_nought(self):
        window = {**PRIMER["windows"][0], "closes": [[0, 4320], [40, 90]]}
        sheet = add_sheet({**PRIMER, "product": "Long", "windows": [window]})
        page = self.words(f"/materials/{sheet.product_id}/")
        self.assertRegex(page, r"Density, g/mL base 1.5, hardener 1, thinner 0.8")
        self.assertRegex(page, r"Covers cannot say")
        for job, said in ((Job.objects.create(name="Empty"), "the job has no zone yet"), (self.shop.job, " to ")):
            with self.subTest(job.name):
                page = self.words(f"/jobs/{job.pk}/verdict")
                self.assertIn(said, page)
                self.assertIn("no estimate is written down yet", page)
                self.assertNotIn("0 € to 0 €", page)
        self.assertIn("Logger", self.words("/"))
        clock.advance(hours=1)
        self.client.post(
            "/air/reading", {"token": "r", "place": self.shop.place.pk, "at": "13:00", "air_c": "21", "rh_pct": "50"}
        )
        band = self.words("/")
        self.assertRegex(band, r"Typed Tue 12 May 13:00")
