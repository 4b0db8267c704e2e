"""Rules through the pages: what is said of logged work, fixes, acceptance that lapses, schools, strip plans."""

from emplastra.core.metal.known import Metal
from emplastra.core.words import written
from emplastra.jobs import mapping
from emplastra.jobs.models import Acceptance, Job, School
from emplastra.jobs.services import measures_of, revise_zone, save_build_up
from emplastra.logbook.models import Kind
from emplastra.materials.services import add_sheet
from emplastra.say.book import Book
from emplastra.shared import clock
from emplastra.state.coats import judged_coats
from emplastra.state.judging import judged
from tests.base import CAN, PRIMER, text_of
from tests.web.test_survey import SheetCase

MASTIC = PRIMER | {"product": "Test mastic", "kind": "epoxy-mastic"}


class RuleCase(SheetCase):
    def said(self, zone=None):
        """{rule: (severity, sentence)} of a zone as logged and surveyed."""
        zone = zone or self.shop.zone
        return {v.rule: (v.severity, written(v.sentence)) for v in judged([Book().state(zone)])[0].open}

    def plan(self, *steps, zone=None):
        """A plan for a zone."""
        zone = zone or self.shop.zone
        number = zone.build_ups.first().number
        save_build_up(zone, self.shop.user, [{"id": f"s-{k}", **s} for k, s in enumerate(steps)], number)

    def page(self, zone=None):
        return text_of(self.client.get(f"/zones/{(zone or self.shop.zone).pk}/strip"))


class JudgedTests(RuleCase):
    def test_wire_wheeled_is_keyed_first_by_its_fix_or_its_school(self):
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
        self.assertIn("keying comes next in the plan already", text_of(again))
        steps = self.shop.zone.build_ups.first().steps
        self.assertEqual([(s["kind"], s["grit"]) for s in steps], [("strip", ""), ("abrade", "P120"), ("degrease", ""), ("prime", "")])  # fmt: skip
        self.assertNotIn("burnished", self.said())
        self.shop.tell(Kind.KEYED, -0.3, -0.2, steps[1]["id"], grit="P120")
        self.assertNotIn("burnished", self.said())

    def test_an_acceptance_lapses_when_its_facts_change(self):
        """Bare from 15 h ago at 50 %: past its 12 h by 3 h."""
        self.shop.tell(Kind.BARED, -15, -14, "s-strip")
        self.assertEqual(self.said()["bare-overdue"][0], "stops")
        verdict = judged([Book().state(self.shop.zone)])[0].open[0]
        url = f"/zones/{self.shop.zone.pk}/accept"
        refused = self.client.post(url, {"key": verdict.key, "reason": " ", "token": "a"}, follow=True)
        self.assertIn("write why it is accepted", text_of(refused))
        self.client.post(url, {"key": verdict.key, "reason": "the owner wants it so", "token": "b"})
        self.client.post(url, {"key": verdict.key, "reason": "the owner wants it so", "token": "b"})
        self.assertEqual(Acceptance.objects.get().reason, "the owner wants it so")
        self.assertNotIn("bare-overdue", self.said())
        self.assertRegex(self.page(), r"Accepted Bare past its limit.*the owner wants it so: bench")
        clock.advance(hours=1)
        self.assertNotIn("bare-overdue", self.said())
        self.shop.tell(Kind.CHECKED, -0.1, check_kind="no-flash-rust", passed=True)
        severity, sentence = self.said()["bare-overdue"]
        self.assertEqual(severity, "warns")
        self.assertIn("no flash rust was seen: abrade it lightly, wipe it, coat it today", sentence)
        stale = self.client.post(url, {"key": verdict.key, "reason": "again", "token": "c"}, follow=True)
        self.assertIn("its facts have changed: look again", text_of(stale))

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
        self.shop.coat(
            -1, -0.9, product=can, revision=can.revisions.first(), variant="", plan_um=10.0
        )  # not on this zone
        self.shop.tell(Kind.COAT, -1, -0.9, zone=primed, product=can, revision=can.revisions.first(), variant="", method="aerosol", plan_um=10.0)  # fmt: skip
        judged_pairs = [v.sentence for v in judged([Book().state(zone)])[0].open if v.rule == "over-what"]
        self.assertTrue(any("On bare metal (20%)" in s for s in judged_pairs), judged_pairs)
        self.assertTrue(any("On wash primer" in s and "eats wash primer" in s for s in judged_pairs), judged_pairs)

    def test_a_raw_part_on_a_trial_fit_and_a_weld_that_burnt_film(self):
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        self.shop.tell(Kind.ACCESS, -1, how="trial-fit", what="used fender")
        self.assertIn("must come off, be coated behind", self.said()["trial-fit"][1])
        self.assertRegex(self.page(), r"Hung on raw.*Taken off again")
        self.shop.tell(Kind.ACCESS, -0.9, how="taken-off")
        self.assertNotIn("trial-fit", self.said())
        self.shop.coat(-0.8, -0.6)
        self.shop.tell(Kind.FILM_LOST, -0.3, -0.2, share=0.05, cause="weld")
        self.assertIn("A weld took the film off 5%", self.said()["burnt"][1])

    def test_pipes_and_laminate(self):
        pipe = self.shop.make_zone("Brake pipe")
        revise_zone(pipe, self.shop.user, **{**measures_of(pipe), "part": "tube"})
        self.send(zone=pipe, uncovered="yes", duty="brake", rust="B")
        self.assertIn("Surface rust only: treat it, leave it unpainted", self.said(pipe)["watch-pipe"][1])
        self.send(zone=pipe, uncovered="yes", duty="brake", rust="B", thin="thin", thin__left="0.5")
        self.assertIn("qualified inspection. No coating verdict", self.said(pipe)["inspection"][1])
        self.assertNotIn("watch-pipe", self.said(pipe))
        revise_zone(
            self.shop.zone,
            self.shop.user,
            **{**measures_of(self.shop.zone), "substrate": "laminate", "end_state": "bare"},
        )
        self.shop.tell(Kind.BARED, -90, -89, "s-strip")
        self.assertFalse({"bare-overdue", "hidden-bare"} & set(self.said()))

    def test_a_plan_is_judged_by_its_films_and_grits(self):
        """P80 is 201 µm of grain, a fifth of it 40 µm; 20 µm of film does not bury that, nor reach the sheet's 40."""
        self.plan({"kind": "strip"}, {"kind": "abrade", "grit": "P80"}, {"kind": "prime", "product": "Test primer", "dft_um": 20, "method": "brush"})  # fmt: skip
        said = self.said()
        self.assertEqual(
            said["scratch"][1],
            "Test primer: scratches of P80 on metal are about 40 µm deep, 20 µm of film is left over them.",
        )
        self.assertEqual(said["left-thin"][1], "Test primer: 20 µm left, at least 40.")
        self.assertRegex(self.page(), r"20 µm of film over it; its scratches about 40 µm : they show")
        page = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/plan"))
        self.assertIn("20 µm left, at least 40", page)

    def test_a_coat_too_soon_is_on_the_page_of_rules_until_it_is_accepted(self):
        """The sheet's window opens 2 h after the end of the first coat: begun half an hour after it is 90 min early."""
        self.shop.coat(-4, -3)
        second = self.shop.coat(-2.5, -2)
        sentence = "Begun before the coat under it was open by 90 min."
        url = f"/zones/{self.shop.zone.pk}/record"
        self.assertIn(sentence, text_of(self.client.get("/rules/coats")))
        self.assertIn(f"Stops {sentence}", text_of(self.client.get(url)))
        self.assertNotIn(sentence, text_of(self.client.get(f"/rules/coats?job={Job.objects.create(name='Other').pk}")))
        key = next(v.key for _, entry, found in judged_coats([self.shop.zone]) for v in found if entry.pk == second.pk)
        told = {"key": key, "reason": "tack was gone", "token": "a"}
        refused = self.client.post(f"{url}/{second.pk}/accept", told | {"reason": "", "token": "b"}, follow=True)
        self.assertIn("write why it is accepted", text_of(refused))
        for _ in range(2):
            self.client.post(f"{url}/{second.pk}/accept", told)
        self.assertEqual(Acceptance.objects.count(), 1)
        self.assertRegex(text_of(self.client.get(url)), rf"Accepted {sentence} tack was gone: bench")
        self.assertNotIn(sentence, text_of(self.client.get("/rules/coats")))
        document = self.client.get(f"/jobs/{self.shop.job.pk}/record.json").json()
        told = next(e for zone in document["zones"] for e in zone["entries"] if e["id"] == second.pk)
        self.assertEqual([(a["id"], a["reason"]) for a in told["accepted"]], [("early", "tack was gone")])
        gone = self.client.post(f"{url}/{second.pk}/accept", {"key": key, "reason": "again", "token": "c"}, follow=True)
        self.assertIn("its facts have changed: look again", text_of(gone))

    def test_bench_is_told_what_stops_but_not_what_its_clock_says(self):
        other = self.shop.make_zone("Sill")
        self.shop.tell(Kind.BARED, -15, -14, "s-strip")
        self.shop.tell(Kind.BARED, -2, -1, "s-strip", zone=other)
        self.shop.tell(Kind.DEGREASED, -0.2, -0.1, "s-wipe", zone=other)
        self.shop.tell(Kind.INSPECTED, -0.3, zone=other, points={"through": "fault"})
        page = self.client.get(f"/stops?zones={self.shop.zone.pk},{other.pk},999,x")
        self.assertEqual(
            text_of(page).split(),
            [
                "Stops",
                "Pinholes",
                "that",
                "go",
                "through,",
                "found:",
                "weld",
                "or",
                "braze",
                "them",
                "shut;",
                "filler",
                "does",
                "not",
                "bridge",
                "a",
                "hole.",
            ],
        )
        self.assertContains(page, f'hx-swap-oob="innerHTML:#stop-{self.shop.zone.pk}"')
        self.assertContains(self.client.get("/"), f'id="stop-{other.pk}"')
        self.assertEqual(text_of(self.client.get("/stops")).strip(), "")

    def test_what_is_away_is_not_judged(self):
        self.shop.tell(Kind.BARED, -15, -14, "s-strip")
        self.plan({"kind": "strip"}, {"kind": "prime", "product": "Test primer", "dft_um": 20, "method": "brush"})
        self.assertEqual(set(self.said()), {"bare-overdue", "left-thin"})
        self.shop.tell(Kind.AWAY, -1, contractor="x", work="y")
        self.assertEqual(self.said(), {})
        self.assertIn("nothing is judged while it is not here", self.page())


class PageTests(RuleCase):
    def test_the_strip_plan_ranks_says_why_and_goes_into_the_plan(self):
        self.send(uncovered="yes", near=["glass"], layer1="compound", solder="seam", marks=["marks"], marks__text="plate at the post")  # fmt: skip
        page = self.page()
        self.assertRegex(page, r"First Scrape the thick compound off first.*Stop and record: plate at the post")
        self.assertRegex(page, r"Glass fitted: media get everywhere")
        self.assertRegex(
            page,
            r"What the first coat wants grade St 3 very thorough hand and power tool cleaning profile 20 to 60 µm by hand P80",
        )
        self.assertRegex(
            page,
            r"Abrasives from the strip to the last film Metal under Test primer P80 100 µm of film over it; its scratches about 40 µm : buried",
        )
        take = {"way": "sander", "token": "w"}
        self.client.post(f"/zones/{self.shop.zone.pk}/strip/take", take)
        self.assertEqual(self.shop.zone.build_ups.first().steps[0]["note"], "by dual-action sander, P80")
        self.assertIn("by dual-action sander, P80", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/plan")))
        self.client.post(f"/zones/{self.shop.zone.pk}/strip/take", take)
        self.assertEqual(self.shop.zone.build_ups.count(), 2)
        self.client.post(f"/zones/{self.shop.zone.pk}/strip/take", {"way": "lightning", "token": "v"})
        self.assertEqual(self.shop.zone.build_ups.count(), 2)

    def test_the_page_of_rules_says_what_each_says_of_open_work(self):
        self.shop.tell(Kind.BARED, -15, -14, "s-strip")
        other = self.shop.make_zone("Elsewhere", Job.objects.create(name="Other job"))
        self.send(zone=other, uncovered="dirt")
        page = text_of(self.client.get("/rules/"))
        self.assertRegex(page, r"Metal bare past its limit .* 1 Cab side Bare past its limit by 3 h")
        self.assertRegex(page, r"Nothing is judged under dirt .* 1 Elsewhere Dirt is packed in")
        page = text_of(self.client.get(f"/rules/?job={self.shop.job.pk}"))
        self.assertNotIn("Elsewhere", page)
        refused = self.client.post("/rules/schools", {"solder": "perhaps"}, follow=True)
        self.assertIn("must be one of out, stays", text_of(refused))
        self.assertEqual(School.objects.count(), 0)
        self.assertContains(self.client.get(f"/zones/{self.shop.zone.pk}/plan"), f"/zones/{self.shop.zone.pk}/verdicts")
        self.assertIn("Bare past its limit", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/verdicts")))

    def test_judging_a_workshop_takes_three_queries_more(self):
        zones = [self.shop.zone, *(self.shop.make_zone(f"Zone {n}") for n in range(8))]
        for zone in zones:
            self.shop.tell(Kind.BARED, -15, -14, "s-strip", zone=zone)
        states = Book().states([zone.pk for zone in zones])
        judged(states)
        with self.assertNumQueries(4):
            found = judged(states)
        self.assertEqual([len(each.open) for each in found], [1] * 9)
        self.assertIsInstance(found[0].metal, Metal)
