"""What the pages say and record: expected numbers are worked out here from the small workshop's inputs."""

import re
from pathlib import Path

from django.db import connections

from emplastra.climate.models import ImportBatch
from emplastra.climate.services import note_reading
from emplastra.core.survey.answers import Answer
from emplastra.jobs.models import BuildUpVersion, Job, Zone
from emplastra.jobs.services import save_build_up
from emplastra.jobs.surveying import state
from emplastra.logbook.kinds.coat import Coat
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.models import Product
from emplastra.materials.services import add_sheet
from emplastra.shared import clock
from emplastra.shared.models import Submission
from emplastra.shared.words import WORDS
from emplastra.state.acts import coat_number
from emplastra.store.models import Tin
from tests.base import NOON, PRIMER, SQUARE, H, ShopCase, text_of, zone_state
from tests.pages import walk

PACKAGE = Path(__file__).parents[2]


class BenchTests(ShopCase):
    def say(self):
        return text_of(self.client.get("/"))

    def test_each_state_has_its_sentence(self):
        """From nothing to a missed window.

        Steel waits 12 h at 50 % and 8.485 h at the assumed 55 % (ln H between 24 h at 40 % and 6 h at 60 %).
        Bare from 09:00, measured to 12:00 and held to 13:00, 4/12 are used up; the rest takes 5.66 h: 18:39.4. While
        the metal follows from 20 to 18 °C (2 min), humidity at it is less than 55 %: 0.8 min more, 18:40.2.
        """
        self.assertIn("Strip comes first", self.say())
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        self.assertRegex(self.say(), r"Primer by\s+18:40\s*\.\s+Degrease first")
        self.shop.tell(Kind.DEGREASED, -1.9, -1.8, "s-wipe")
        self.assertIn("Degrease first", self.say())  # lapsed after an hour
        self.shop.coat(-1.5, -1)
        self.assertRegex(self.say(), r"Prime, coat 2 of 2 from\s+13:00\s*, until tomorrow 10:30")
        clock.advance(hours=2)
        self.assertRegex(self.say(), r"Prime, coat 2 of 2 by\s+tomorrow 10:30")
        clock.advance(hours=20.3)  # 10:18: mixing 10 + induction 15 + spraying 6 min have to start by 09:59
        self.assertIn("Start mixing now", self.say())
        clock.advance(hours=1)
        self.assertRegex(self.say(), r"Closed\s+10:30\s*\. Key P240, then it is open again")

    def test_overdue_bare_metal_stays_bare(self):
        self.shop.tell(Kind.BARED, -14, -13, "s-strip")
        self.assertRegex(self.say(), r"Primer overdue by\s+2 h")

    def test_all_coats_on_are_cured_only_where_a_sheet_says_so_and_no_check_says_otherwise(self):
        """The test primer is cured 100 h after its end; the can's sheet names no cure time."""
        page = f"/zones/{self.shop.zone.pk}/"
        self.shop.tell(Kind.BARED, -200, -199, "s-strip")
        self.shop.tell(Kind.DEGREASED, -191, step="s-wipe")
        self.shop.coat(-190, -189)
        self.shop.coat(-130, -129)
        self.assertIn("All coats on, cured.", text_of(self.client.get(page)))
        self.shop.tell(Kind.CHECKED, -1, check_kind="smear", passed=False)
        self.assertIn("All coats on. It smears, though the time is up", text_of(self.client.get(page)))
        can = self.shop.make_zone("Bracket")
        plan = [
            s | {"product": "Test can", "coats": 1} if s["kind"] == "prime" else s for s in can.build_ups.first().steps
        ]
        save_build_up(can, self.shop.user, plan, 1)
        product = Product.objects.get(name="Test can")
        self.shop.tell(Kind.BARED, -20, -19, "s-strip", zone=can)
        self.shop.tell(Kind.DEGREASED, -18, step="s-wipe", zone=can)
        self.shop.tell(Kind.COAT, -17, -16, "s-prime", zone=can, product=product, revision=product.revisions.first(), variant="", method="aerosol", plan_um=10.0)  # fmt: skip
        self.assertIn("When it is cured its sheet does not say", text_of(self.client.get(f"/zones/{can.pk}/")))

    def test_order_is_deadline_then_missed_then_waiting_then_idle(self):
        names = {}
        for name in ("waiting", "missed", "due", "idle"):
            names[name] = self.shop.make_zone(f"Zone {name}")
        self.shop.tell(Kind.BARED, -2, -1, "s-strip", zone=names["due"])
        for name, hours in (("missed", -30), ("waiting", -1)):
            for kind, step, back in ((Kind.BARED, "s-strip", -0.3), (Kind.DEGREASED, "s-wipe", -0.2)):
                self.shop.tell(kind, hours + back, step=step, zone=names[name])
            self.shop.tell(Kind.COAT, hours, hours + 0.1, "s-prime", zone=names[name], product=self.shop.primer, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", plan_um=50)  # fmt: skip
        page = self.say()
        places = [page.index(f"Zone {name}") for name in ("due", "missed", "waiting", "idle")]
        self.assertEqual(places, sorted(places))

    def test_band_and_row_speak_with_one_voice(self):
        """At 20 °C and 86 % (dew point 17.6) the gate is shut: humidity is over the sheet's 80."""
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        self.assertIn("Clear so far Degrease, Cab side; fit for two days", self.say())
        lines = "\n".join(f"{(NOON - k * H).isoformat()},20.0,86" for k in range(12, -1, -1))
        from emplastra.climate.services import import_log

        import_log(self.shop.user, self.shop.place, "damp.csv", f"time,air_c,rh_pct\n{lines}\n".encode())
        self.assertRegex(self.say(), r"Stop Degrease, Cab side: Too damp: (spread|humidity).*bare Cab side|Stop .*stopped Cab side.*Stops Too damp: (spread|humidity)")  # fmt: skip

    def test_what_now_says_of_the_next_act_its_form_says_too(self):
        """Red lead, and a strip whose way nobody chose; then a wipe before a coat for which it is too damp."""
        now = clock.now()
        answers = [(Answer("uncovered", "", "yes", {}, "", "paint"), ""), (Answer("layer", "1", "red-lead", {}, "", "paint"), "")]  # fmt: skip
        state(self.shop.zone, self.shop.user, "found", answers)
        clock.freeze(now + H)
        note_reading(self.shop.user, self.shop.place, clock.now(), 20.0, 86.0)
        for kind, words in (("bared", "Old layers hold lead"), ("degreased", "Too damp")):
            for page in ("", f"log/{kind}"):
                with self.subTest(kind, page=page):
                    self.assertIn(words, text_of(self.client.get(f"/zones/{self.shop.zone.pk}/{page}")))
            self.shop.tell(Kind.BARED, -0.2, -0.1, "s-strip", how="chemical")

    def test_two_halves_are_one_coat(self):
        self.shop.tell(Kind.BARED, -9, -8, "s-strip")
        half, other = self.shop.coat(-7, -6.9, share=0.5), self.shop.coat(-6.8, -6.7, share=0.5)
        each, now = zone_state(self.shop.zone)[0].facts, clock.now()
        told = [((now + hour * H).timestamp(), entry) for hour, entry in ((-7.5, None), (-6.85, None), (-6, None), (-6, other.pk), (-6, half.pk))]  # fmt: skip
        self.assertEqual([coat_number(each, "s-prime", at_s, entry) for at_s, entry in told], [1, 1, 2, 1, 1])

    def test_an_empty_workshop_is_told_how_to_begin(self):
        Job.objects.update(filing="closed")
        self.assertIn("Make a job", self.say())

    def test_primer_due_opens_to_its_working(self):
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        page = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/"))
        self.assertIn("40 %: 24 h, 60 %: 6 h, 75 %: 3 h, 85 %: 1 h", page)
        self.assertRegex(page, r"Tue 12 May 09:\d\d\s+20.0 °C\s+20.0 °C\s+50 %\s+8.3 %")  # 1/12 an hour at 50 %
        self.assertIn("Surface above dew point: the working", page)

    def test_what_is_this_leads_to_a_word_of_help(self):
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        told = set(re.findall(r'<div id="([\w-]+)"', self.client.get("/help/").content.decode()))
        pages = "".join(page for _, page in walk(self.client, most=1))
        asked = set(re.findall(r'class="what-is-card" id="word-([\w-]+)"', pages))
        self.assertLessEqual(asked, told)
        self.assertGreaterEqual(asked, {"comb", "lifeline", "core-sample", "school", "coverage", "put-off", "zone"})
        links = set(re.findall(r'class="what-is no-print" href="/help/#([\w-]+)"', pages))
        self.assertLessEqual(links, told)

    def test_every_word_of_ours_is_explained_where_it_is_used(self):
        """The words of the house, each asked for by a template; what it says there is what Help says."""
        asked = {
            word
            for path in (PACKAGE / "emplastra").rglob("*.html")
            for word in re.findall(r'what_is "([\w-]+)"', path.read_text())
        }
        words = {anchor: meaning for anchor, _, meaning in WORDS}
        ours = {
            "workshop",
            "job",
            "place",
            "zone",
            "spot",
            "finding",
            "product",
            "system",
            "build-up",
            "step",
            "layer",
            "entry",
            "pot",
            "window",
            "opening",
            "verdict",
            "school",
        }
        self.assertLessEqual(asked, set(words))
        self.assertLessEqual(ours, asked)
        self.assertIn(words["entry"], text_of(self.client.get("/help/")))
        page = text_of(self.client.get(f"/jobs/{self.shop.job.pk}/record"))
        self.assertEqual(page.count(words["entry"]), 1)

    def test_queries_stay_bounded(self):
        for n in range(12):
            zone = self.shop.make_zone(f"Zone {n}")
            self.shop.tell(Kind.BARED, -2, -1, "s-strip", zone=zone)
        self.client.get("/")
        zone, job = self.shop.zone.pk, self.shop.job.pk
        table = [("/", 21), ("/jobs/", 19), (f"/zones/{zone}/plan", 22), (f"/zones/{zone}/", 21), (f"/zones/{zone}/record", 31), (f"/jobs/{job}/record", 31), ("/log/", 22), (f"/jobs/{job}/", 21), (f"/jobs/{job}/findings", 22), (f"/zones/{zone}/survey/found", 24), ("/contractor/", 22), ("/put-off/", 17), ("/mix/", 18), ("/search?q=zone", 23), ("/air/", 21)]  # fmt: skip
        for url, most in table:
            with self.subTest(url), self.assertNumQueriesAtMost(most):
                self.client.get(url)

    def assertNumQueriesAtMost(self, most):
        case = self

        class Counter:
            def __enter__(self):
                from django.test.utils import CaptureQueriesContext

                self.capture = CaptureQueriesContext(connections["default"])
                return self.capture.__enter__()

            def __exit__(self, *args):
                self.capture.__exit__(*args)
                case.assertLessEqual(len(self.capture), most)

        return Counter()


class LogTests(ShopCase):
    def send(self, kind, **values):
        start = {
            "token": f"t{Submission.objects.count()}",
            "began": "11:00",
            "ended": "11:30",
            "share": "100",
            "step": "",
            "note": "",
        }
        return self.client.post(f"/zones/{self.shop.zone.pk}/log/{kind}", start | values)

    def coat(self, **values):
        start = {
            "source": "product:Test primer",
            "method": "brush",
            "thinner_pct": "0",
            "step": "s-prime",
            "wft_um": "",
            "batch": "",
        }
        return self.send("coat", **(start | values))

    def test_every_kind_is_recorded_with_its_details(self):
        self.assertEqual(self.send("bared", step="s-strip", share="60").status_code, 302)
        self.send("degreased", step="s-wipe")
        self.send("keyed", grit="p120", um_off="0.4 mil")
        self.send("moved", place=self.shop.place.pk)
        self.coat(wft_um="4 5 mil", air_c="68 °F", rh_pct="50", surface_c="19", batch="B-1", use_by="2027-01-31")
        entries = Entry.objects.order_by("id")[1:]
        self.assertEqual([e.kind for e in entries], ["bared", "degreased", "keyed", "moved", "coat"])
        self.assertEqual(entries[0].places_on.get().share, 0.6)
        self.assertEqual((entries[2].keyed.grit, entries[2].keyed.um_off), ("P120", 10.16))
        coat = entries[4].coat
        self.assertEqual([round(v, 1) for v in coat.wft_um], [101.6, 127.0])
        self.assertAlmostEqual(coat.reading.air_c, 20.0)
        self.assertEqual((coat.tin.batch, str(coat.tin.use_by), coat.tin.part), ("B-1", "2027-01-31", "base"))

    def test_bad_input_names_the_field_and_keeps_what_was_typed(self):
        table = [
            ({"ended": "10:00"}, "Ended: must not be before it began"),
            ({"ended": "2026-05-12 13:00"}, "Ended: lies in the future"),
            ({"began": "2026-05-10 08:00", "ended": "2026-05-10 09:00"}, "over 12 hours back"),
            ({"began": "2026-03-29 02:30"}, "Began: 02:30 does not exist on 29 March 2026"),
            ({"began": "2025-10-26 02:30"}, "happens twice on 26 October 2025"),
            ({"share": "120"}, "Share covered: must be at most 100.0 %"),
            ({"share": "-5"}, "Share covered: must be at least 0.1 %"),
            ({"wft_um": "thick"}, "Wet film readings: write readings with spaces between"),
            ({"rh_pct": "101", "air_c": "20"}, "Humidity: must be at most 100.0 %"),
            ({"air_c": "20"}, "air and humidity are logged together"),
            ({"air_c": "68 F", "rh_pct": "50"}, "write °F"),
            ({"use_by": "soon"}, "Use by: Enter a valid date"),
            ({"source": "pot:999"}, "From: Select a valid choice"),
        ]
        before = Entry.objects.count()
        for values, message in table:
            with self.subTest(message):
                answer = self.coat(note="typed with care", **values)
                self.assertContains(answer, message, status_code=422)
                self.assertContains(answer, "typed with care", status_code=422)
        self.assertEqual(Entry.objects.count(), before)
        answer = self.send("keyed", grit="fine")
        self.assertContains(answer, "write a FEPA grade, as in P120", status_code=422)
        self.assertEqual(
            self.coat(began="2026-05-10 08:00", ended="2026-05-10 09:00", confirm_old="on").status_code, 302
        )

    def test_the_same_sending_twice_is_recorded_once_and_another_is_asked_about(self):
        values = {"token": "same", "step": "s-strip"}
        first, second = self.send("bared", **values), self.send("bared", **values)
        self.assertEqual(first["Location"], second["Location"])
        self.assertEqual(Entry.objects.of(Kind.BARED).count(), 1)
        answer = self.send("bared", **values, share="50")
        self.assertContains(answer, "Already recorded at 12:00", status_code=409)
        self.assertContains(answer, "Record as new", status_code=409)
        self.assertContains(answer, "Correct it", status_code=409)
        self.send("bared", **values, share="50", as_new="1")
        self.assertEqual(Entry.objects.of(Kind.BARED).count(), 2)

    def test_correct_it_takes_the_typed_values_to_the_correction(self):
        self.send("bared", token="same", step="s-strip")
        entry = Entry.objects.of(Kind.BARED).get()
        url = f"/entries/bared/{entry.pk}/correct"
        values = {"token": "same", "began": "11:00", "ended": "11:30", "share": "50", "step": "s-strip"}
        answer = self.client.post(url, values | {"take": "1"})
        self.assertContains(answer, 'value="50"', status_code=422)
        token = re.search(r'name="token" value="([^"]+)"', answer.content.decode())[1]
        self.assertNotEqual(token, "same")
        self.assertEqual(self.client.post(url, values | {"token": token, "reason": "half of it"}).status_code, 302)
        live = Entry.objects.known_at().of(Kind.BARED).get()
        self.assertEqual((live.places_on.get().share, live.correction_of.reason), (0.5, "half of it"))

    def test_logged_all_the_same_with_its_verdicts(self):
        """Begun 30 min before it opens, 12 µm over the sheet's maximum, batch out of date, in the record."""
        self.shop.coat(-3, -2)  # opens at 12:00
        self.assertEqual(self.coat(wft_um="144", batch="OLD", use_by="2026-05-11").status_code, 302)
        page = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record"))
        self.assertIn("The film under it is not open for Test primer yet: 1 h too early", page)
        self.assertIn("72 µm dry, the sheet allows at most 60", page)
        self.assertIn("OLD is out of date: use by 11 May 2026", page)
        self.assertIn("72 µm", page)

    def test_cold_and_damp_by_typed_air_where_nothing_is_logged(self):
        ImportBatch.objects.first()
        from emplastra.climate.services import withdraw

        withdraw(self.shop.user, ImportBatch.objects.get(), "test")
        self.coat(air_c="8", rh_pct="90", surface_c="8")
        page = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record"))
        self.assertIn("Too cold: air 8.0 °C, at least 10 °C", page)
        self.assertIn("Too damp: humidity 90.0 %, at most 80 %", page)
        self.assertIn("Too damp: spread 1.5 K, at least 3 K", page)

    def test_a_strip_that_was_burnt_is_named_beside_the_coat_that_leads(self):
        """Begun 22.5 h ago, it closes at 24; a weld an hour ago bared a twentieth: 12 h at 50 % until 13:00, then 8.485 of them
        at the assumed 55 %: 2/12 used, 7.07 h left, 20:04.
        """
        self.shop.coat(-22.5, -22)
        self.shop.tell(Kind.FILM_LOST, -1, -0.9, share=0.05, cause="weld")
        page = text_of(self.client.get("/"))
        self.assertRegex(
            page, r"Prime, coat 2 of 2 by\s+13:30\s*\. Degrease first\. 5% is bare: primer there by 20:0[45]\."
        )

    def test_preview_follows_the_fields(self):
        """Opens after 120 min by the sheet's 50 µm: at 60 it takes (60/50)² times that, 173."""
        values = {"token": "x", "began": "11:00", "ended": "11:30", "share": "100", "step": "s-prime", "source": "product:Test primer", "method": "brush", "thinner_pct": "0", "wft_um": "120"}  # fmt: skip
        page = text_of(self.client.post(f"/zones/{self.shop.zone.pk}/log/coat/preview", values))
        self.assertIn("60 µm dry computed", page)
        offered = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/log/coat"))
        for name in ("Test primer, no pot logged", "Test can, straight from the tin or can"):
            self.assertIn(name, offered)
        self.assertRegex(page, r"Opens for Test primer\s+Tue 12 May 14:22")
        self.assertRegex(page, r"Closes\s+Wed 13 May 11:00")

    def test_an_unknown_product_gets_no_clean_verdict(self):
        from emplastra.materials.models import Product

        Product.objects.create(name="Mystery primer", kind="epoxy-primer")
        self.coat(source="product:Mystery primer", step="")
        page = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record"))
        self.assertIn("no data sheet for Mystery primer", page)

    def test_a_coat_keeps_the_revision_that_was_current(self):
        self.shop.coat(-3, -2)
        newer = {**PRIMER, "date": "2026-05-12", "windows": [{"next": "self", "opens": [[20, 600]], "closes": None}]}
        add_sheet(newer)
        state, _ = zone_state(self.shop.zone)
        self.assertAlmostEqual(state.surface.lead.opens_s, NOON.timestamp(), delta=1)
        self.assertEqual(Coat.objects.get().revision.number, 1)

    def test_undo_and_void(self):
        self.send("bared", step="s-strip")
        entry = Entry.objects.of(Kind.BARED).get()
        self.client.post(f"/entries/{entry.pk}/undo")
        self.assertFalse(Entry.objects.known_at().of(Kind.BARED).exists())
        coat = self.shop.coat(-1, -0.5)
        self.assertContains(self.client.post(f"/entries/{coat.pk}/void", {"reason": ""}), "write why", status_code=422)
        self.client.post(f"/entries/{coat.pk}/void", {"reason": "wrong zone"})
        page = self.client.get(f"/zones/{self.shop.zone.pk}/record")
        self.assertContains(page, "is-struck", 2)
        self.assertContains(page, "wrong zone")

    def test_two_people_at_one_zone_are_told_of_each_other(self):
        page = self.client.get(f"/zones/{self.shop.zone.pk}/log/bared").content.decode()
        seen = re.search(r'name="seen" value="(\d+)"', page)[1]
        self.shop.tell(Kind.BARED, -1, -0.5, "s-strip", user=self.shop.people["mate"])
        answer = self.send("bared", step="s-strip", seen=seen, token="mine")
        self.assertContains(answer, "mate logged “bared” here meanwhile, ended 11:30", status_code=409)
        self.assertEqual(Entry.objects.of(Kind.BARED).count(), 1)
        seen = re.search(r'name="seen" value="(\d+)"', answer.content.decode())[1]
        self.assertEqual(self.send("bared", step="s-strip", seen=seen, token="mine").status_code, 302)
        self.assertEqual(Entry.objects.of(Kind.BARED).count(), 2)

    def test_one_pot_over_two_zones(self):
        other = self.shop.make_zone("Cab roof")
        self.coat(**{f"also_{other.pk}": "40"})
        shares = dict(Entry.objects.of(Kind.COAT).get().places_on.values_list("zone__name", "share"))
        self.assertEqual(shares, {"Cab side": 1.0, "Cab roof": 0.4})
        # each zone's own plan moves on: its next layer is of the same product
        self.assertEqual(set(Entry.objects.of(Kind.COAT).get().places_on.values_list("step", flat=True)), {"s-prime"})
        entry = Entry.objects.of(Kind.COAT).get()
        values = {"token": "both", "began": "11:00", "ended": "11:30", "share": "50", "step": "", "source": "product:Test primer", "method": "brush", "thinner_pct": "0", "wft_um": "", "reason": "half"}  # fmt: skip
        self.client.post(f"/entries/coat/{entry.pk}/correct?zone={other.pk}", values)
        live = Entry.objects.known_at().of(Kind.COAT).get()
        self.assertEqual(dict(live.places_on.values_list("zone__name", "share")), {"Cab side": 1.0, "Cab roof": 0.5})


class PlanTests(ShopCase):
    def fields(self, **changes):
        version = BuildUpVersion.objects.filter(zone=self.shop.zone).first()
        values = {"token": f"p{version.number}", "based_on": version.number}
        for step in version.steps:
            values[f"{step['id']}-left_out"] = step["left_out"]
            if step["kind"] == "prime":
                values |= {
                    f"{step['id']}-{k}": step[k] for k in ("coats", "dft_um", "sanded_um", "method", "thinner_pct")
                }
        return values | changes

    def test_film_and_coats_change_need_and_stack_at_once(self):
        """Three coats of 55 µm: 165 µm; one coat takes 110/0.95 + 10 = 125.8 mL, three 377 mL."""
        values = self.fields(**{"s-prime-coats": "3", "s-prime-dft_um": "55"})
        page = text_of(self.client.post(f"/zones/{self.shop.zone.pk}/preview", values))
        self.assertIn("165 µm planned", page)
        self.assertIn("377 mL mixed", page)
        self.assertIn("Base 302 mL · Hardener 75 mL", page)
        values["s-prime-dft_um"] = "80"
        self.assertIn(
            "80 µm dry, the sheet allows at most 60",
            text_of(self.client.post(f"/zones/{self.shop.zone.pk}/preview", values)),
        )

    def test_two_people_at_one_plan_lose_nothing(self):
        url = f"/zones/{self.shop.zone.pk}/plan"
        theirs = self.fields(**{"s-prime-coats": "3"})
        self.client.post(url, theirs)
        answer = self.client.post(url, theirs | {"token": "mine", "s-prime-coats": "4"})
        self.assertContains(answer, "saved version 2 meanwhile", status_code=409)
        self.assertIn("Prime, Test primer, 3 × 50 µm Prime, Test primer, 4 × 50 µm", text_of(answer))
        self.assertContains(answer, 'name="s-prime-coats" value="4"', status_code=409)
        again = theirs | {"token": "mine2", "s-prime-coats": "4", "based_on": "2"}
        self.assertEqual(self.client.post(url, again).status_code, 302)
        self.assertEqual(BuildUpVersion.objects.filter(zone=self.shop.zone).first().steps[2]["coats"], 4)

    def test_a_step_with_entries_is_left_out_not_removed(self):
        self.shop.tell(Kind.BARED, -2, -1, "s-strip")
        from emplastra.jobs.services import save_build_up
        from emplastra.shared.services import Refused

        with self.assertRaisesMessage(Refused, "leave it out with a reason"):
            save_build_up(self.shop.zone, self.shop.user, [], 1, keep={"s-strip"})
        self.client.post(f"/zones/{self.shop.zone.pk}/plan", self.fields(**{"s-wipe-left_out": "wiped by hand"}))
        state, _ = zone_state(self.shop.zone)
        self.assertEqual(state.next_step.id, "s-prime")

    def test_add_a_step(self):
        """Put in on the page, with the film of its sheet; it is in the plan once that is saved, and not before."""
        url = f"/zones/{self.shop.zone.pk}/plan"
        asked = self.fields(**{"do": "add", "new-kind": "prime", "new-product": "Test can", "new-after": "s-prime"})
        page = self.client.post(url, asked)
        form = page.context["form"]
        self.assertEqual(BuildUpVersion.objects.filter(zone=self.shop.zone).count(), 1)
        *_, new = form.steps
        self.assertEqual([s.id for s in form.steps[:3]], ["s-strip", "s-wipe", "s-prime"])
        self.assertEqual(
            [form[f"{new.id}-{n}"].value() for n in ("product", "dft_um", "coats")], ["Test can", "10 µm", "1"]
        )
        sent = self.fields(
            **{name: form[name].value() or "" for name in form.fields if name == "order" or name.startswith(new.id)}
        )
        self.assertEqual(self.client.post(url, sent).status_code, 302)
        steps = BuildUpVersion.objects.filter(zone=self.shop.zone).first().steps
        self.assertEqual((steps[3]["kind"], steps[3]["dft_um"], steps[3]["coats"]), ("prime", 10, 1))
        self.assertContains(
            self.client.post(url, self.fields(**{"do": "add", "new-kind": "paint"})), "Choose what is to be put in"
        )

    def test_absurd_films_are_named(self):
        answer = self.client.post(
            f"/zones/{self.shop.zone.pk}/plan", self.fields(**{"s-prime-dft_um": "-3", "s-prime-coats": "0"})
        )
        self.assertContains(answer, "Dry film a coat: must be at least 1.0 µm", status_code=422)
        self.assertContains(answer, "Coats: Ensure this value is greater than or equal to 1", status_code=422)


class JobTests(ShopCase):
    def zone_values(self, **changes):
        start = {"token": f"z{Zone.objects.count()}", "name": "Door", "substrate": "steel", "thickness_mm": "1/16 in", "form": "flat", "profile": "sanded", "finish_class": "show", "wetted_faces": "2", "place": self.shop.place.pk, "shape0-kind": "flat", "shape0-a": "2 ft x 350 mm", "shape0-b": "", "shape0-count": "2"}  # fmt: skip
        return start | changes

    def test_make_a_job_and_a_zone_from_shapes(self):
        answer = self.client.post("/jobs/new", {"token": "j1", "name": "Lamp", "standard": "show"})
        job = Job.objects.get(name="Lamp")
        self.assertRedirects(answer, f"/jobs/{job.pk}/zones/new")
        tube = {"shape1-kind": "tube", "shape1-a": "48.3", "shape1-b": "6 m", "shape1-count": "1"}
        self.client.post(f"/jobs/{job.pk}/zones/new", self.zone_values(**tube))
        revision = Zone.objects.get(name="Door").revisions.first()
        self.assertAlmostEqual(revision.area_m2, 2 * 0.6096 * 0.35 + 3.14159265358979 * 0.0483 * 6)
        self.assertAlmostEqual(revision.thickness_mm, 25.4 / 16)
        self.assertEqual(Entry.objects.of(Kind.MOVED).last().moved.place, self.shop.place)

    def test_sizes_that_cannot_be(self):
        table = [
            ({"shape0-a": "-2 ft x 350 mm"}, "length must be above 0"),
            ({"shape0-a": "2 ft x 350"}, "which unit has the second length"),
            ({"shape0-a": "90 m", "shape0-b": "3 m"}, "at most 30000 mm"),
            ({"shape0-a": ""}, "measure at least one"),
            ({"shape0-count": "x"}, "count must be from 1"),
            ({"thickness_mm": "0"}, "Thickness: must be at least"),
            ({"name": "Cab side"}, "has a zone named"),
            ({"shape0-kind": "bend", "shape0-a": "150", "shape0-b": "30", "shape0-c": "ninety"}, "write degrees"),
        ]
        for changes, message in table:
            with self.subTest(message):
                answer = self.client.post(f"/jobs/{self.shop.job.pk}/zones/new", self.zone_values(**changes))
                self.assertContains(answer, message, status_code=422)
        self.assertContains(self.client.post("/shapes/area", self.zone_values()), "0.43 m²")

    def test_measures_of_a_zone_with_entries_change_with_a_reason(self):
        self.shop.tell(Kind.BARED, -2, -1, "s-strip")
        url = f"/zones/{self.shop.zone.pk}/measures"
        values = self.zone_values(name="Cab side")
        self.assertContains(self.client.post(url, values), "Why are the measures changed?: This field", status_code=422)
        self.client.post(url, values | {"token": "again", "reason": "measured wrong"})
        self.assertEqual([r.reason for r in self.shop.zone.revisions.all()], ["measured wrong", ""])

    def test_file_copy_and_delete(self):
        self.as_owner()
        job = self.shop.job
        self.client.post(f"/jobs/{job.pk}/copy", {"token": "c1", "name": "Trolley again"})
        copy = Job.objects.get(name="Trolley again")
        self.assertEqual(copy.zones.get().revisions.get().shapes, SQUARE)
        self.assertEqual(len(copy.zones.get().build_ups.get().steps), 3)
        self.assertFalse(Entry.objects.filter(zones__job=copy).exists())
        for filing in ("closed", "archived", "open"):
            self.client.post(f"/jobs/{job.pk}/file", {"filing": filing})
            self.assertEqual(Job.objects.get(pk=job.pk).filing, filing)
        self.shop.tell(Kind.BARED, -2, -1, "s-strip")
        self.client.post(f"/jobs/{job.pk}/delete")
        self.client.post(f"/jobs/{copy.pk}/delete")
        self.assertEqual(list(Job.objects.filter(removed=False)), [job])
        self.assertEqual(self.client.get(f"/zones/{copy.zones.get().pk}/").status_code, 404)

    def test_search(self):
        Tin.objects.create(product=self.shop.primer, part="base", batch="E-0417")
        for query, found in (
            ("cab", "Cab side"),
            ("trol", "Trolley"),
            ("primer", "Test primer"),
            ("0417", "batch E-0417"),
            ("nothing", "Nothing named so"),
        ):
            with self.subTest(query):
                self.assertIn(found, text_of(self.client.get("/search", {"q": query})))
