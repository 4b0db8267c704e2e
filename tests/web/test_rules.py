"""Rules through the pages: what is said of logged work, fixes, acceptance that lapses, schools, strip plans."""

from emplastra.core.metal_rules import Metal
from emplastra.jobs import access_plans, estimates, mapping
from emplastra.jobs.models import Acceptance, Estimate, Job, OwnerDecision, School
from emplastra.jobs.services import measures_of, revise_zone, save_build_up
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.services import add_sheet
from emplastra.shared import clock
from emplastra.state.book import Book
from emplastra.state.coats import judged_coats
from emplastra.survey.judging import judged
from tests.base import CAN, PRIMER, ZONE, H
from tests.web.test_pages import text_of
from tests.web.test_survey import SheetCase

MASTIC = PRIMER | {"product": "Test mastic", "kind": "epoxy-mastic"}


class RuleCase(SheetCase):
    def said(self, zone=None):
        """{rule: (severity, sentence)} of a zone as logged and surveyed."""
        zone = zone or self.shop.zone
        return {v.rule: (v.severity, v.sentence) for v in judged([Book().state(zone)])[0].open}

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
        page = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/"))
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

    def test_what_is_away_is_not_judged(self):
        self.shop.tell(Kind.BARED, -15, -14, "s-strip")
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
        self.assertIn("by dual-action sander, P80", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/")))
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
        self.assertContains(self.client.get(f"/zones/{self.shop.zone.pk}/"), f"/zones/{self.shop.zone.pk}/verdicts")
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


class VerdictTests(RuleCase):
    def add(self, code=302, **values):
        start = {"token": f"e{code}{len(values)}{Estimate.objects.count()}{values.get('option')}", "opening": "Sill", "pieces": "1", "unseen": "0", "obtainable": "1"}  # fmt: skip
        answer = self.client.post(f"/jobs/{self.shop.job.pk}/verdict", start | values)
        self.assertEqual(answer.status_code, code, text_of(answer)[-500:])
        return text_of(answer)

    def test_a_set_is_priced_struck_decided_and_quoted(self):
        """60 an hour. Patch 0.75 + 1·1.5 = 2.25 h with 2 h to open: middle (2.25 + 2)·1.5·60 = 382.5, high ·1.6: 612."""
        url = f"/jobs/{self.shop.job.pk}/verdict"
        self.add(option="patch", edge_mm="1 m", access_h="2", zone=self.shop.zone.pk)
        self.add(option="part", price="900")
        page = text_of(self.client.get(url))
        self.assertRegex(page, r"Repair: even if it runs over.*Patch 4 to 10 h 239 € to 612 €.*Part panel .* to")
        self.assertRegex(page, r"not seen bare yet 1 zone")
        self.assertIn("must be at least 0", self.add(422, option="patch", edge_mm="-5 mm"))
        row = Estimate.objects.get(option="part")
        self.client.post(f"/estimates/{row.pk}/strike")
        self.assertIn("Nothing can be compared yet", text_of(self.client.get(url)))
        self.client.post(f"/estimates/{row.pk}/strike", follow=True)
        self.assertEqual(Estimate.objects.count(), 3)
        decide = {"opening": "Sill", "decided": "repair", "on": "2026-05-12", "token": "d"}
        for _ in range(2):
            self.client.post(f"/jobs/{self.shop.job.pk}/decide", decide)
        self.assertEqual(OwnerDecision.objects.count(), 1)
        self.assertIn("The owner: repair , 12 May 2026", text_of(self.client.get(url)))
        self.assertNotIn("will be cut out", self.page())
        self.client.post(f"/jobs/{self.shop.job.pk}/decide", decide | {"decided": "replace", "token": "r"})
        self.assertIn("Of what will be cut out (100%) scrape only enough to judge it", self.page())
        self.assertRegex(text_of(self.client.get(url)), r"not seen bare yet 0 zones")
        bad = self.client.post(f"/jobs/{self.shop.job.pk}/decide", decide | {"on": "soon", "token": "x"}, follow=True)
        self.assertIn("Decided on: write a date", text_of(bad))

    def test_hours_told_move_the_overrun(self):
        for n, (plan, took) in enumerate(((2, 16), (4, 5))):
            self.client.post("/hours/", {"token": f"h{n}", "kind": "repair", "plan_h": plan, "actual_h": took})
        self.assertAlmostEqual(estimates.factors()["repair"].mid, (8 * 1.25 * 1.5**4) ** (1 / 6))
        self.assertRegex(text_of(self.client.get("/hours/")), r"Repair 1\.92 1\.20 to 3\.08 2")
        refused = self.client.post("/hours/", {"token": "bad", "kind": "repair", "plan_h": "0", "actual_h": "3"})
        self.assertIn("greater than or equal to 0.01", text_of(refused))

    def test_a_part_under_load_that_changed_shape_gets_no_verdict_of_ours(self):
        self.send(uncovered="yes", duty="load", thin="thin", thin__left="0.5")
        self.add(option="patch", zone=self.shop.zone.pk)
        self.assertIn("its shape has changed: qualified inspection", text_of(self.client.get(f"/jobs/{self.shop.job.pk}/verdict")))  # fmt: skip


class AccessTests(RuleCase):
    def add(self, code=302, **values):
        number, _ = access_plans.acts_of(self.shop.job)
        start = {"token": f"x{number}{code}{values.get('what')}", "based_on": number}
        answer = self.client.post(f"/jobs/{self.shop.job.pk}/access", start | values)
        self.assertEqual(answer.status_code, code, text_of(answer)[-500:])
        return text_of(answer)

    def page(self):
        return text_of(self.client.get(f"/jobs/{self.shop.job.pk}/access"))

    def test_a_hidden_face_a_burnt_one_and_a_stale_plan(self):
        zone, inner = self.shop.zone, self.shop.make_zone("Sill, inside")
        self.add(kind="open", what="Sill plate", faces=[inner.pk])
        first = access_plans.acts_of(self.shop.job)[1][0].id
        self.client.post(f"/jobs/{self.shop.job.pk}/access/{first}", {"do": "done", "based_on": "1"})
        self.add(kind="close", what="Sill plate", faces=[inner.pk])
        page = self.page()
        self.assertIn("Reachable only now: Sill, inside", page)
        self.assertIn("Close: Sill plate hides Sill, inside, which nothing coats before", page)
        self.shop.tell(Kind.BARED, -3, -2, zone=inner)
        self.shop.coat(-1.5, -1, zone=inner)
        self.assertNotIn("nothing coats before", self.page())
        self.add(kind="weld", what="Seam", faces=[zone.pk, inner.pk])
        page = self.page()
        self.assertIn("Weld: Seam burns the film on Sill, inside: coat it again after", page)
        self.assertIn("weld-through primer on both faces first", page)
        self.shop.tell(Kind.FILM_LOST, -0.2, -0.1, share=0.05, cause="weld", zone=inner)
        self.assertIn("A weld took the film off 5%", self.said(inner)["burnt"][1])
        self.assertIn("somebody changed the plan meanwhile", self.add(422, kind="open", what="Floor", based_on="1"))
        self.assertIn("choose the faces that are worked on", self.add(422, kind="coat", what="Nothing"))
        svg = self.client.get(f"/jobs/{self.shop.job.pk}/access").content.decode()
        self.assertEqual(svg.count('class="g-act'), 3)

    def act(self, do, what, **more):
        """Tap a button of the act of this name that is not done yet."""
        number, acts = access_plans.acts_of(self.shop.job)
        url = f"/jobs/{self.shop.job.pk}/access/{next(a.id for a in acts if a.what == what)}"
        return text_of(
            self.client.post(url, {"do": do, "based_on": number, "token": f"{do}{what}"} | more, follow=True)
        )

    def test_an_act_is_logged_by_one_tap_and_undone_with_its_entry(self):
        zone, inner = self.shop.zone, self.shop.make_zone("Sill, inside")
        self.plan(
            {"kind": "strip"},
            {"kind": "prime", "product": "Test primer", "dft_um": 50, "method": "brush"},
            {"kind": "close"},
            zone=inner,
        )
        self.add(kind="open", what="Sill plate", faces=[zone.pk, inner.pk])
        self.add(kind="coat", what="Inside", faces=[inner.pk], after=[access_plans.acts_of(self.shop.job)[1][0].id])
        self.add(kind="close", what="Sill plate again", faces=[inner.pk])
        clock.advance(minutes=10)
        for _ in range(2):  # a double tap
            page = self.act("log", "Sill plate")
        self.assertRegex(page, r"1\. Open, take off: Sill plate Cab side, Sill, inside · logged Tue 12 May 12:10")
        entry = Entry.objects.get(kind=Kind.ACCESS)
        self.assertEqual([(r.zone, r.step) for r in entry.places_on.order_by("id")], [(zone, ""), (inner, "")])
        self.client.post(f"/entries/{entry.pk}/undo")
        self.assertNotIn("logged Tue", self.page())
        clock.advance(minutes=5)
        self.act("log", "Sill plate", token="another")
        self.shop.tell(Kind.BARED, 0.2, 0.3, zone=inner)
        clock.advance(hours=2)
        self.shop.coat(-1, -0.5, zone=inner)
        self.assertRegex(self.page(), r"Coat: Inside Sill, inside · logged Tue 12 May 13:45")
        self.act("log", "Sill plate again")
        closed = Entry.objects.known_at().of(Kind.ACCESS).latest("id")
        self.assertEqual((closed.access.how, closed.places_on.get().step), ("closed", "s-2"))
        self.assertIn("it has no face to log it on", self.act("log", "Inside"))
        self.assertIn(
            "told here, not in the log",
            self.add(302, kind="open", what="Loose cover") or self.act("done", "Loose cover"),
        )

    def test_a_gap_is_held_against_the_film_still_to_come(self):
        """Planned 2 × 50 µm, 130 with the edge: 1.0 mm leave 870 µm."""
        self.add(kind="fit", what="Door", faces=[self.shop.zone.pk], bare_um="1 mm", least_um="0.9 mm")
        self.assertIn("film of 130 µm on its edges leaves 870 µm of a gap of 1000; 900 must be left", self.page())
        refused = self.add(422, kind="fit", what="Lid", faces=[self.shop.zone.pk], least_um="1 mm")
        self.assertIn("write the gap as it is bare", refused)

    def test_sealer_is_wet_by_its_sheet(self):
        """Ready to weld after 6 h; a sheet that says nothing counts for 24 h."""
        sealer = CAN | {
            "product": "Test sealer",
            "kind": "seam-sealer",
            "windows": [],
            "times": {"ready_to_weld": [[0, 360], [40, 360]]},
        }
        plain = CAN | {"product": "Plain sealer", "kind": "seam-sealer", "windows": []}
        self.add(kind="weld", what="Lap", faces=[self.shop.zone.pk])
        for sheet, hours, words in ((sealer, 6, "by its sheet"), (plain, 24, "assumed: 24 h, its sheet says nothing")):
            revision = add_sheet(sheet)
            self.shop.tell(
                Kind.COAT,
                -1,
                -0.5,
                product=revision.product,
                revision=revision,
                variant="",
                method="brush",
                plan_um=10.0,
            )
            until = clock.now() + (hours - 0.5) * H
            self.assertIn(f"is still wet until {until.astimezone(ZONE):%a %d %b %H:%M}, {words}. It burns", self.page())
            clock.advance(hours=hours)
            self.assertNotIn("is still wet", self.page())

    def test_a_cycle_is_said_and_an_act_taken_out(self):
        self.add(kind="open", what="A", faces=[])
        self.add(kind="open", what="B", faces=[], after=[access_plans.acts_of(self.shop.job)[1][0].id])
        number, acts = access_plans.acts_of(self.shop.job)
        rows = access_plans.rows(acts)
        rows[0]["after"] = [rows[1]["id"]]
        access_plans.save(self.shop.job, self.shop.user, rows, number)
        self.assertIn("Each waits for the other: Open, take off: ", self.page())
        self.client.post(f"/jobs/{self.shop.job.pk}/access/{rows[1]['id']}", {"do": "out", "based_on": number + 1})
        self.assertNotIn("Each waits", self.page())


class TreatTests(RuleCase):
    def look(self, code=302, entry=None, **points):
        """Tell what was seen of a weld, as a new entry or the correction of one."""
        url = f"/entries/inspected/{entry.pk}/correct" if entry else f"/zones/{self.shop.zone.pk}/log/inspected"
        told = {
            "token": f"i{code}{len(points)}{entry}",
            "began": "12:00",
            "ended": "12:05",
            "reason": "looked again",
            "confirm_old": "1",
        }
        answer = self.client.post(url, told | points)
        self.assertEqual(answer.status_code, code, text_of(answer)[-600:])
        return text_of(answer)

    def test_a_weld_is_looked_through_before_it_is_primed(self):
        self.plan({"kind": "strip"}, {"kind": "weld"}, {"kind": "inspect"}, {"kind": "prime", "product": "Test primer", "dft_um": 50, "method": "brush"})  # fmt: skip
        self.shop.tell(Kind.BARED, -2, -1.5, "s-0")
        self.shop.tell(Kind.FILM_LOST, -1, -0.5, "s-1", share=0.02, cause="weld")
        page = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/metal"))
        self.assertRegex(
            page,
            r"now Inspect Against the light.*Pinholes that go through: found\? Weld or braze them shut.*Look it through",
        )
        self.shop.tell(Kind.DONE, -0.4, step="s-2")
        self.assertEqual(self.said()["weld-unseen"][0], "warns")
        clock.advance(hours=1)
        self.assertIn("say of at least one point what was seen", self.look(422))
        self.look(through="fault", burrs="good", step="s-2")
        said = self.said()
        self.assertNotIn("weld-unseen", said)
        self.assertEqual(said["weld-faults"][0], "stops")
        page = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/metal"))
        self.assertRegex(
            page,
            r"Looked through last Tue 12 May 12:05 Welded all round not looked at Burrs and spatter off Pinholes that go through found",
        )
        record = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record"))
        self.assertIn("Inspected: fault in pinholes that go through", record)
        entry = Entry.objects.get(kind=Kind.INSPECTED)
        self.look(entry=entry, through="good", burrs="good")
        self.assertNotIn("weld-faults", self.said())
        clock.advance(hours=1)
        self.shop.tell(Kind.FILM_LOST, -0.1, 0, share=0.02, cause="weld")
        self.assertIn("weld-unseen", self.said())

    def test_what_comes_now_with_its_amounts_until_primer_is_due(self):
        """1 m2: 25 mL of cleaner and 125 mL of water; 30 mL of wipe."""
        self.plan({"kind": "strip"}, {"kind": "clean"}, {"kind": "degrease"}, {"kind": "prime", "product": "Test primer", "dft_um": 50, "method": "brush"})  # fmt: skip
        url = f"/zones/{self.shop.zone.pk}/metal"
        self.shop.tell(Kind.BARED, -6, -5, "s-0", share=0.5)
        self.shop.tell(Kind.BARED, -3, -2, "s-0", share=0.5)
        page = text_of(self.client.get(url))
        self.assertRegex(page, r"50 % bare for 6\.0 h.*50 % bare for 3\.0 h")
        self.assertRegex(
            page, r"now Clean 25 mL cleaner 125 mL water.*1 part cleaner to 5 parts water.*Alkaline: goggles"
        )
        self.assertNotIn("Primer due", page)
        self.shop.tell(Kind.DONE, -1, -0.9, "s-1")
        self.shop.tell(Kind.DEGREASED, -0.2, -0.1, "s-2")
        page = text_of(self.client.get(url))
        self.assertIn("Primer due: the metal is ready for its first coat", page)
        bare = self.shop.make_zone("No plan")
        bare.build_ups.all()
        save_build_up(bare, self.shop.user, [], 1)
        self.assertIn("No plan yet", text_of(self.client.get(f"/zones/{bare.pk}/metal")))


class SolderTests(RuleCase):
    def test_solder_stays_or_goes_by_school_and_is_weighed(self):
        """Weighed 200 g out; a new seam of 300 x 40 x 4 mm in: 32 mL of 9.72 g."""
        url = f"/zones/{self.shop.zone.pk}/solder"
        self.assertIn("No solder is told of", text_of(self.client.get(url)))
        self.send(uncovered="yes", solder="seam")
        self.assertRegex(
            text_of(self.client.get(url)),
            r"All lead goes.*Hot air first.*hazardous-waste site.*Lead: file, do not grind dry",
        )
        self.client.post("/rules/schools", {"solder": "stays", "job": self.shop.job.pk})
        self.assertIn("It stays where it is sound", text_of(self.client.get(url)))
        told = {"token": "1", "way": "out", "alloy": "70-30", "mass_g": "0.2 kg"}
        for _ in range(2):
            self.client.post(url, told)
        self.client.post(
            url, {"token": "2", "way": "in", "alloy": "70-30", "length_mm": "300", "width_mm": "40", "depth_mm": "4"}
        )
        self.assertRegex(text_of(self.client.get(url)), r"out 200\.0 g 140 g of it lead.* in 311\.0 g")
        self.assertIn("weigh it, or give length, width and depth", text_of(self.client.post(url, {"token": "3", "way": "in", "alloy": "70-30", "length_mm": "300"})))  # fmt: skip
