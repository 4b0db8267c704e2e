"""Verdict on the metal, hours, access and treatment through the pages."""

from emplastra.core.metal.repair import factor
from emplastra.core.metal.strip import WAYS
from emplastra.jobs import access_plans, estimates
from emplastra.jobs.models import Estimate, MapPlace, OwnerDecision, WorkHours
from emplastra.jobs.services import measures_of, revise_zone, save_build_up
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.services import add_sheet
from emplastra.metal.worked import finished
from emplastra.say.book import Book
from emplastra.shared import clock
from tests.base import CAN, ZONE, H, text_of
from tests.web.test_rules import RuleCase


class VerdictTests(RuleCase):
    def add(self, code=302, **values):
        start = {"token": f"e{code}{len(values)}{Estimate.objects.count()}{values.get('option')}", "opening": "Sill", "pieces": "1", "unseen": "0", "had": "part"}  # fmt: skip
        answer = self.client.post(f"/jobs/{self.shop.job.pk}/verdict", start | values)
        self.assertEqual(answer.status_code, code, text_of(answer)[-500:])
        return text_of(answer)

    def test_a_set_is_priced_struck_decided_and_quoted(self):
        """60 an hour. Patch 0.75 + 1·1.5 = 2.25 h with 2 h to open: middle (2.25 + 2)·1.5·60 = 382.5, high ·1.6: 612."""
        self.as_owner()
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
        self.assertIn("Of what will be cut out (100%) scrape only enough to judge it", self.page(name="strip"))
        self.assertRegex(text_of(self.client.get(url)), r"not seen bare yet 0 zones")
        bad = self.client.post(f"/jobs/{self.shop.job.pk}/decide", decide | {"on": "soon", "token": "x"}, follow=True)
        self.assertIn("Decided on: write a date", text_of(bad))

    def test_what_comes_only_whole_is_struck_and_asked_for(self):
        self.add(option="patch", edge_mm="1 m")
        self.add(option="part", price="90", had="whole")
        page = text_of(self.client.get(f"/jobs/{self.shop.job.pk}/verdict"))
        self.assertRegex(
            page, r"Repair: nothing else can be had.*Advises The part comes only whole.*Part panel only whole to be had"
        )
        self.assertIn("To be had: Select a valid choice", self.add(422, option="part", had="perhaps"))

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
        self.assertIn("it has changed: qualified inspection", text_of(self.client.get(f"/jobs/{self.shop.job.pk}/verdict")))  # fmt: skip


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
        self.assertIn("weld-through primer on both first", page)
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

    def test_an_act_before_a_step_is_one_order_with_the_build_up(self):
        """Closed before the primer, the build-up stops there; closed after it, the plan of access has nothing to say."""
        inner = self.shop.make_zone("Sill, inside")
        self.plan({"kind": "strip"}, {"kind": "degrease"}, {"kind": "prime", "product": "Test primer", "dft_um": 50, "method": "brush"}, {"kind": "polish"}, zone=inner)  # fmt: skip
        wrong = self.add(422, kind="close", what="Plate", faces=[], **{f"before_{inner.pk}": "s-2"})
        self.assertIn("tick this face above, or name no step of it", wrong)
        self.add(kind="close", what="Sill plate", faces=[inner.pk], **{f"before_{inner.pk}": "s-2"})
        self.assertIn("Sill, inside: before 3. Prime: Test primer", self.page())
        self.assertIn("Close: Sill plate hides Sill, inside, which nothing coats before", self.page())
        self.assertIn("It was closed up bare: open it and coat it", self.planned(inner)["closed"][1])
        self.act("out", "Sill plate")
        self.assertNotIn("closed", self.planned(inner))
        self.add(kind="close", what="Sill plate", faces=[inner.pk], **{f"before_{inner.pk}": "s-3"})
        self.assertNotIn("nothing coats before", self.page())
        self.assertNotIn("closed", self.planned(inner))
        # A weld that comes before the primer is waited for: a coat is not put on in its place.
        self.add(kind="weld", what="Seam", faces=[inner.pk], **{f"before_{inner.pk}": "s-2"})
        self.shop.tell(Kind.BARED, -3, -2, "s-0", zone=inner)
        self.shop.tell(Kind.DEGREASED, -0.5, -0.4, "s-1", zone=inner)
        self.assertIn("Weld: Seam: the plan of access has it before this step", self.said(inner)["access-first"][1])
        self.shop.tell(Kind.FILM_LOST, 0.2, 0.3, share=0.05, cause="weld", zone=inner)
        clock.advance(hours=0.4)
        self.assertNotIn("access-first", self.said(inner))

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
        self.add(kind="fit", what="Door", faces=[self.shop.zone.pk], bare_mm="1 mm", least_mm="0.9")
        self.assertIn("film of 130 µm on its edges leaves 870 µm of a gap of 1000; 900 must be left", self.page())
        refused = self.add(422, kind="fit", what="Lid", faces=[self.shop.zone.pk], least_mm="1 mm")
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

    def test_who_works_under_it_is_warned(self):
        """By its finish class, or by where it is drawn."""
        words = "never under a jack or hoist alone"
        below, drawn = self.shop.make_zone("Floor"), self.shop.make_zone("Rail")
        revise_zone(below, self.shop.user, **{**measures_of(below), "finish_class": "below"})
        MapPlace.objects.update_or_create(zone=drawn, defaults={"view": "under", "x": 0, "y": 0, "w": 2, "h": 2})
        for zone, said in ((below, True), (drawn, True), (self.shop.zone, False)):
            for page in ("metal", "strip"):
                self.assertEqual(words in text_of(self.client.get(f"/zones/{zone.pk}/{page}")), said, (zone, page))

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


class HoursTests(RuleCase):
    def test_a_strip_in_the_log_is_counted_once_and_moves_the_overrun(self):
        """1 m2 by sander takes 1/rate hours; two people at it for half an hour each; a fifth of its twin is not finished."""
        zone, twin = self.shop.zone, self.shop.make_zone("Twin")
        self.shop.tell(Kind.BARED, -5, -4.5, "s-strip", share=0.5, how="sander")
        self.assertEqual(finished(Book().states()), [])
        self.shop.tell(Kind.BARED, -5, -4.5, "s-strip", share=0.5, how="sander", user=self.shop.people["mate"])
        self.shop.tell(Kind.BARED, -4.5, -4, zone=twin, how="sander", share=0.2)
        found = finished(Book().states())
        self.assertEqual([(f.zone, f.kind, round(f.log_h, 6)) for f in found], [(zone, "strip", 1.0)])
        plan_h = 1 / WAYS["sander"].m2_per_h
        self.assertAlmostEqual(found[0].plan_h, plan_h)
        page = text_of(self.client.get("/hours/"))
        self.assertRegex(
            page,
            r"Finished by the log.*Strip Cab side dual-action sander, p80, 1\.00 m² 0\.8 h planned took h Count it",
        )
        url = f"/hours/{zone.pk}/strip"
        refused = self.client.post(url, {"took": "long", "token": "a"}, follow=True)
        self.assertIn("Took: Enter a number", text_of(refused))
        for _ in range(2):
            self.client.post(url, {"took": "1.25", "token": "b"})
        row = WorkHours.objects.get()
        self.assertEqual(
            (row.zone, row.kind, row.actual_h, row.note),
            (zone, "strip", 1.25, "counted from the log: 1.00 h, corrected"),
        )
        self.assertAlmostEqual(row.plan_h, plan_h)
        self.assertAlmostEqual(estimates.factors()["strip"].mid, factor([(plan_h, 1.25)]).mid)
        self.assertEqual(finished(Book().states()), [])
        gone = self.client.post(url, {"took": "1", "token": "c"}, follow=True)
        self.assertIn("it is counted already", text_of(gone))

    def test_a_repair_is_held_against_its_estimates(self):
        """Patch of one piece and 1 m of edge: 0.75 + 1.5 = 2.25 h; mended for 2 h, welded for 1 h; opened for half an hour."""
        zone = self.shop.zone
        self.plan(
            {"kind": "repair"},
            {"kind": "weld"},
            {"kind": "prime", "product": "Test primer", "dft_um": 50, "method": "brush"},
        )
        estimates.estimate(self.shop.job, self.shop.user, "Sill", zone, option="patch", edge_mm=1000, access_h=0.4)
        dear = estimates.estimate(self.shop.job, self.shop.user, "Post", zone, option="sections", edge_mm=1000)
        estimates.decide(self.shop.job, self.shop.people["owner"], "Post", "replace", clock.now().date())
        self.shop.tell(Kind.ACCESS, -8, -7.5, how="opened")
        self.shop.tell(Kind.DONE, -7, -5, "s-0")
        self.assertEqual(finished(Book().states()), [])
        self.shop.tell(Kind.FILM_LOST, -4, -3, "s-1", share=0.05, cause="weld")
        found = {f.kind: (round(f.plan_h, 6), round(f.log_h, 6)) for f in finished(Book().states())}
        self.assertEqual(found, {"repair": (2.25, 3.0)})
        self.shop.tell(Kind.ACCESS, -2, -1.75, how="closed")
        found = {f.kind: (round(f.plan_h, 6), round(f.log_h, 6)) for f in finished(Book().states())}
        self.assertEqual(found, {"repair": (2.25, 3.0), "access": (0.4, 0.75)})
        estimates.decide(self.shop.job, self.shop.people["owner"], "Post", "repair", clock.now().date())
        found = {f.kind: round(f.plan_h, 6) for f in finished(Book().states())}
        self.assertEqual(found["repair"], round(2.25 + dear.piece.plan_h, 6))

    def test_keying_is_counted_for_the_metal_only(self):
        self.shop.tell(Kind.BARED, -6, -5, how="wire-wheel")
        self.shop.tell(Kind.KEYED, -5, -4.75, grit="P120")
        kinds = {f.kind: round(f.log_h, 6) for f in finished(Book().states())}
        self.assertEqual(kinds, {"strip": 1.0, "key": 0.25})
