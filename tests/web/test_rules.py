"""Rules through the pages: what is said of logged work, fixes, acceptance that lapses, schools, strip plans."""

from emplastra.core.words import written
from emplastra.jobs import mapping
from emplastra.jobs.models import Acceptance, Job, School
from emplastra.jobs.services import measures_of, revise_zone, save_build_up
from emplastra.logbook.models import Kind
from emplastra.materials.services import add_sheet
from emplastra.metal.looking import said_of
from emplastra.say.book import Book
from emplastra.shared import clock
from emplastra.state.coats import judged_coats
from tests.base import CAN, PRIMER, text_of
from tests.web.test_survey import SheetCase

MASTIC = PRIMER | {"product": "Test mastic", "kind": "epoxy-mastic"}


class RuleCase(SheetCase):
    def said(self, zone=None):
        """{rule: (severity, sentence)} of what comes next on a zone, as logged and surveyed."""
        ruled = Book().state(zone or self.shop.zone).ruled
        return {v.rule: (v.severity, written(v.sentence)) for v in ruled.open} if ruled else {}

    def planned(self, zone=None):
        """{rule: (severity, sentence)} of what is planned on a zone."""
        book = Book()
        rows = book.rulings.plan(book.state(zone or self.shop.zone))
        return {v.rule: (v.severity, written(v.sentence)) for _, ruled in rows for v in ruled.open}

    def plan(self, *steps, zone=None):
        """A plan for a zone."""
        zone = zone or self.shop.zone
        number = zone.build_ups.first().number
        save_build_up(zone, self.shop.user, [{"id": f"s-{k}", **s} for k, s in enumerate(steps)], number)

    def page(self, zone=None, name=""):
        return text_of(self.client.get(f"/zones/{(zone or self.shop.zone).pk}/{name}"))


class JudgedTests(RuleCase):
    def test_wire_wheeled_is_keyed_first_by_its_fix_or_its_school(self):
        self.as_owner()
        add_sheet(MASTIC)
        self.plan({"kind": "strip"}, {"kind": "prime", "product": "Test mastic", "dft_um": 50, "method": "brush"})
        self.shop.tell(Kind.BARED, -3, -2, "s-0", how="wire-wheel")
        self.shop.tell(Kind.DEGREASED, -0.5, -0.4)
        self.assertEqual(self.said()["burnished"][0], "stops")
        page = self.page()
        self.assertRegex(page, r"Stops A wire wheel polishes: key it by hand \(P120\).*Key it first")
        # The workshop's other school says that a pad and acid prep would do.
        self.client.post("/rules/schools", {"burnish": "wheel-keys"})
        self.assertEqual(set(self.said()) & {"burnished", "wheel-needs-prep"}, {"wheel-needs-prep"})
        # This job holds the first one all the same.
        self.client.post("/rules/schools", {"burnish": "key-first", "job": self.shop.job.pk})
        self.assertIn("burnished", self.said())
        number = self.shop.zone.build_ups.first().number
        fix = {"fix": "key", "based_on": number, "token": "f"}
        self.client.post(f"/zones/{self.shop.zone.pk}/fix", fix)
        again = self.client.post(f"/zones/{self.shop.zone.pk}/fix", fix | {"token": "g"}, follow=True)
        self.assertIn("there is no such fix for it now", text_of(again))
        steps = self.shop.zone.build_ups.first().steps
        self.assertEqual([(s["kind"], s["grit"]) for s in steps], [("strip", ""), ("abrade", "P120"), ("degrease", ""), ("prime", "")])  # fmt: skip
        self.assertNotIn("burnished", self.said())
        self.shop.tell(Kind.KEYED, -0.3, -0.2, steps[1]["id"], grit="P120")
        self.assertNotIn("burnished", self.said())

    def test_an_acceptance_lapses_when_its_facts_change(self):
        """Bare from 15 h ago at 50 %: past its 12 h by 3 h; accepted it holds for 12 h more, but not once rust is seen."""
        self.shop.tell(Kind.BARED, -15, -14, "s-strip")
        self.assertEqual(self.said()["bare-overdue"][0], "warns")
        verdict = Book().state(self.shop.zone).ruled.open[0]
        url = f"/zones/{self.shop.zone.pk}/accept"
        told = {"key": verdict.key, "subject": verdict.subject}
        refused = self.client.post(url, told | {"reason": " ", "token": "a"}, follow=True)
        self.assertIn("write why it is accepted", text_of(refused))
        for _ in range(2):
            self.client.post(url, told | {"reason": "the owner wants it so", "token": "b"})
        self.assertEqual(Acceptance.objects.get().reason, "the owner wants it so")
        self.assertNotIn("bare-overdue", self.said())
        self.assertRegex(self.page(), r"Accepted Bare past its limit.*the owner wants it so: bench")
        clock.advance(hours=11)
        self.assertNotIn("bare-overdue", self.said())
        clock.advance(hours=2)
        self.assertIn("Bare past its limit by 16 h", self.said()["bare-overdue"][1])
        clock.advance(hours=-13)
        self.shop.tell(Kind.CHECKED, -0.1, check_kind="no-flash-rust", passed=False)
        severity, sentence = self.said()["bare-overdue"]
        self.assertEqual(severity, "stops")
        self.assertIn("rust was seen: abrade it again", sentence)
        gone = self.client.post(url, {"key": "late:", "subject": "", "reason": "again", "token": "c"}, follow=True)
        self.assertIn("its facts have changed: look again", text_of(gone))

    def test_a_rule_is_made_quiet_for_a_job_but_never_a_stop_nor_harm(self):
        self.shop.tell(Kind.BARED, -15, -14, "s-strip")
        url, job = f"/jobs/{self.shop.job.pk}/quiet", self.shop.job.pk
        refused = self.client.post(url, {"rule": "bare-overdue", "reason": "", "token": "a"}, follow=True)
        self.assertIn("write why it is quiet", text_of(refused))
        self.client.post(url, {"rule": "bare-overdue", "reason": "desert air", "token": "b", "zone": self.shop.zone.pk})
        self.assertNotIn("bare-overdue", self.said())
        self.assertIn("1 quiet", self.page())
        self.assertRegex(text_of(self.client.get(f"/rules/?job={job}")), r"Metal bare past its limit desert air: bench Let it speak again")  # fmt: skip
        self.shop.tell(Kind.CHECKED, -0.1, check_kind="no-flash-rust", passed=False)
        self.assertEqual(self.said()["bare-overdue"][0], "stops")
        harm = self.client.post(url, {"rule": "inspection", "reason": "it holds", "token": "c"}, follow=True)
        self.assertIn("never made quiet", text_of(harm))
        self.client.post(url, {"rule": "bare-overdue", "speak": "1", "token": "d"})
        self.assertNotIn("desert air", text_of(self.client.get(f"/rules/?job={job}")))

    def test_a_frame_brushed_over_two_days_is_judged_by_portion(self):
        self.shop.tell(Kind.BARED, -30, -28, "s-strip", share=0.5, how="wire-brush")
        self.shop.tell(Kind.BARED, -4, -2, "s-strip", share=0.5, how="wire-brush")
        self.assertEqual(self.said()["portions"][1], "50% of it has been bare for 30 h, the rest for 4 h: prime in sections, or abrade the oldest again.")  # fmt: skip

    def test_old_coating_bare_spots_and_wash_primed_patches_before_acid_prep(self):
        """1 m2 of old coating; a bare spot of 0.2 m2, a wash-primed one of 0.1 m2; acid prep next."""
        zone = self.shop.zone
        self.plan({"kind": "acid-prep"}, {"kind": "prime", "product": "Test primer", "dft_um": 50, "method": "brush"})
        self.send(uncovered="yes", layer1="two-pack")
        bare = mapping.open_spot(zone, self.shop.user, "Bare spot", 0.2)
        primed = mapping.open_spot(zone, self.shop.user, "Primed patch", 0.1)
        self.shop.tell(Kind.BARED, -3, -2, zone=bare)
        self.shop.tell(Kind.BARED, -3, -2, zone=primed)
        can = self.shop.primer.__class__.objects.get(name=CAN["product"])
        self.shop.tell(Kind.COAT, -1, -0.9, zone=primed, product=can, revision=can.revisions.first(), variant="", method="aerosol", plan_um=10.0)  # fmt: skip
        pairs = [(v.severity, v.sentence) for v in Book().state(zone).ruled.open if v.rule == "over-what"]
        self.assertEqual(
            pairs,
            [
                ("stops", "Acid prep on wash primer of Primed patch (10%): it eats wash primer: prime the patch, or strip it to metal first."),
                ("warns", "Acid prep on old film: it lifts the edge of old film: keep it to the bare spots and rinse the ring well."),
            ],
        )  # fmt: skip

    def test_a_raw_part_on_a_trial_fit_and_a_weld_that_burnt_film(self):
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        self.shop.tell(Kind.ACCESS, -1, how="trial-fit", what="used fender")
        self.assertIn("must come off, be coated behind", self.said()["trial-fit"][1])
        self.assertRegex(self.page(), r"Hung on raw.*Taken off again")
        self.shop.tell(Kind.ACCESS, -0.9, how="taken-off")
        self.assertNotIn("trial-fit", self.said())
        self.shop.coat(-0.8, -0.6)
        self.shop.tell(Kind.FILM_LOST, -0.3, -0.2, share=0.05, cause="weld")
        self.assertEqual(self.said()["burnt"], ("stops", "A weld took the film off 5% of this face: grind and key that strip first."))  # fmt: skip

    def test_pipes_and_laminate(self):
        pipe = self.shop.make_zone("Brake pipe")
        revise_zone(pipe, self.shop.user, **{**measures_of(pipe), "part": "tube"})
        self.send(zone=pipe, uncovered="yes", duty="brake", rust="B")
        self.assertIn("Surface rust only: treat it, leave it unpainted", self.planned(pipe)["watch-pipe"][1])
        self.send(zone=pipe, uncovered="yes", duty="brake", rust="B", thin="thin", thin__left="0.5")
        self.assertIn("qualified inspection. No coating verdict", self.planned(pipe)["inspection"][1])
        self.assertNotIn("watch-pipe", self.planned(pipe))
        revise_zone(
            self.shop.zone,
            self.shop.user,
            **{**measures_of(self.shop.zone), "substrate": "laminate", "end_state": "bare"},
        )
        self.shop.tell(Kind.BARED, -90, -89, "s-strip")
        self.assertFalse({"bare-overdue", "hidden-bare"} & set(self.said()))

    def test_a_plan_is_judged_by_its_films_and_grits(self):
        """P80 is 201 µm of grain, a tenth of it 20 µm; 20 µm of film does not bury that twice, nor reach the sheet's 40."""
        self.plan({"kind": "strip"}, {"kind": "abrade", "grit": "P80"}, {"kind": "prime", "product": "Test primer", "dft_um": 20, "method": "brush"})  # fmt: skip
        said = self.planned()
        self.assertEqual(
            said["scratch"][1],
            "Scratches of P80 on bare steel are about 20 µm deep; 20 µm of film over them does not bury that twice.",
        )
        self.assertEqual(said["thin"][1], "20 µm dry, the sheet asks for at least 40.")
        self.assertRegex(self.page(name="strip"), r"20 µm of film over it; its scratches about 20 µm : they show")
        self.assertRegex(self.page(name="plan"), r"3\. Prime.*Warns 20 µm dry, the sheet asks for at least 40\.")

    def test_a_coat_too_soon_is_on_the_page_of_rules_until_it_is_accepted(self):
        """The sheet's window opens 2 h after the end of the first coat: begun half an hour after it is 90 min early."""
        self.shop.coat(-4, -3)
        second = self.shop.coat(-2.5, -2)
        sentence = "The film under it is not open for Test primer yet: 1 h 30 too early."
        url = f"/zones/{self.shop.zone.pk}/record"
        self.assertEqual(said_of([self.shop.zone])[0]["early"], [[self.shop.zone.pk, "Cab side", "stops", sentence]])
        self.assertIn(f"Stops {sentence}", text_of(self.client.get(url)))
        key = next(v.key for _, entry, ruled in judged_coats([self.shop.zone]) for v in ruled.open if v.rule == "early")
        told = {"key": key, "reason": "tack was gone", "token": "a"}
        refused = self.client.post(f"{url}/{second.pk}/accept", told | {"reason": "", "token": "b"}, follow=True)
        self.assertIn("write why it is accepted", text_of(refused))
        for _ in range(2):
            self.client.post(f"{url}/{second.pk}/accept", told)
        self.assertEqual(Acceptance.objects.count(), 1)
        self.assertRegex(text_of(self.client.get(url)), rf"Accepted {sentence} tack was gone: bench")
        self.assertNotIn("early", said_of([self.shop.zone])[0])
        document = self.client.get(f"/jobs/{self.shop.job.pk}/record.json").json()
        told = next(e for zone in document["zones"] for e in zone["entries"] if e["id"] == second.pk)
        self.assertEqual([(a["id"], a["reason"]) for a in told["accepted"]], [("early", "tack was gone")])
        gone = self.client.post(f"{url}/{second.pk}/accept", {"key": key, "reason": "again", "token": "c"}, follow=True)
        self.assertIn("its facts have changed: look again", text_of(gone))

    def test_a_stop_takes_the_buttons_place_on_bench_and_leads_to_its_fix(self):
        self.shop.tell(Kind.BARED, -2, -1, "s-strip")
        self.shop.tell(Kind.DEGREASED, -0.2, -0.1, "s-wipe")
        self.assertRegex(text_of(self.client.get("/")), r"Primer by .* Mix ")
        self.shop.tell(Kind.INSPECTED, -0.05, points={"through": "fault"})
        row = text_of(self.client.get("/")).split("stopped")[1]
        self.assertRegex(row, r"Stops Pinholes that go through, found: weld or braze them shut; filler does not bridge a hole\. .*Look it through")  # fmt: skip
        self.assertNotIn(" Mix ", row.split("Look it through")[0])
        self.assertContains(self.client.get(f"/zones/{self.shop.zone.pk}/"), f'href="/zones/{self.shop.zone.pk}/log/inspected"')  # fmt: skip

    def test_what_is_away_is_not_judged(self):
        self.plan({"kind": "strip"}, {"kind": "prime", "product": "Test primer", "dft_um": 25, "method": "brush"})
        self.shop.tell(Kind.BARED, -15, -14, "s-0")
        self.assertEqual((set(self.said()), set(self.planned())), ({"bare-overdue", "not-wiped", "thin"}, {"not-wiped", "thin"}))  # fmt: skip
        self.shop.tell(Kind.AWAY, -1, contractor="x", work="y")
        self.assertEqual(self.said(), {})
        self.assertIn("nothing is judged while it is not here", self.page())


class PageTests(RuleCase):
    def test_the_strip_plan_ranks_says_why_and_goes_into_the_plan(self):
        self.send(uncovered="yes", near=["glass"], layer1="compound", solder="seam", marks=["marks"], marks__text="plate at the post")  # fmt: skip
        self.assertRegex(
            self.page(name="strip"), r"First Thick compound: a laboratory says first whether asbestos is in it"
        )
        refused = self.client.post(
            f"/zones/{self.shop.zone.pk}/strip/take", {"way": "sander", "token": "u"}, follow=True
        )
        self.assertIn("not by this way: Nobody has tested the old layers for asbestos", text_of(refused))
        self.assertEqual(self.shop.zone.build_ups.count(), 1)
        self.send(toxic=["none"])
        page = self.page(name="strip")
        self.assertRegex(page, r"First Scrape the thick compound off first.*Stop and record: plate at the post")
        self.assertRegex(page, r"Glass fitted: media get everywhere")
        self.assertRegex(
            page,
            r"What the first coat wants grade St 3 very thorough hand and power tool cleaning profile 20 to 60 µm by hand P80",
        )
        self.assertRegex(
            page,
            r"Abrasives from the strip to the last film Metal under Test primer P80 100 µm of film over it; its scratches about 20 µm : buried",
        )
        take = {"way": "sander", "token": "w"}
        self.client.post(f"/zones/{self.shop.zone.pk}/strip/take", take)
        self.assertEqual(self.shop.zone.build_ups.first().steps[0]["note"], "by dual-action sander, P80")
        self.assertContains(self.client.get(f"/zones/{self.shop.zone.pk}/plan"), "by dual-action sander, P80")
        self.client.post(f"/zones/{self.shop.zone.pk}/strip/take", take)
        self.assertEqual(self.shop.zone.build_ups.count(), 2)
        self.client.post(f"/zones/{self.shop.zone.pk}/strip/take", {"way": "lightning", "token": "v"})
        self.assertEqual(self.shop.zone.build_ups.count(), 2)

    def test_the_page_of_rules_says_what_each_says_of_open_work(self):
        self.as_owner()
        self.shop.tell(Kind.BARED, -15, -14, "s-strip")
        other = self.shop.make_zone("Elsewhere", Job.objects.create(name="Other job"))
        self.send(zone=other, uncovered="dirt")
        page = text_of(self.client.get("/rules/"))
        self.assertRegex(page, r"Metal bare past its limit .* 1 Cab side warns Bare past its limit by 3 h")
        self.assertRegex(page, r"Nothing is judged under dirt .* 1 Elsewhere stops Dirt is packed in")
        page = text_of(self.client.get(f"/rules/?job={self.shop.job.pk}"))
        self.assertNotIn("Elsewhere", page)
        refused = self.client.post("/rules/schools", {"solder": "perhaps"}, follow=True)
        self.assertIn("must be one of out, stays", text_of(refused))
        self.assertEqual(School.objects.count(), 0)

    def test_judging_a_workshop_takes_a_few_queries_whatever_its_size(self):
        zones = [self.shop.zone, *(self.shop.make_zone(f"Zone {n}") for n in range(8))]
        for zone in zones:
            self.shop.tell(Kind.BARED, -15, -14, "s-strip", zone=zone)
        book = Book()
        states = book.states([zone.pk for zone in zones])
        with self.assertNumQueries(6):
            found = [(state.ruled, book.rulings.plan(state)) for state in states]
        self.assertEqual([len(ruled.open) for ruled, _ in found], [1] * 9)
