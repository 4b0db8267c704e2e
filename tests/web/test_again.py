"""Looked at again after years: what is told of a face, and what it says of a system."""

from datetime import date, timedelta

from django.db import connection
from django.test.utils import CaptureQueriesContext

from emplastra.handover.again_views import AgainForm
from emplastra.jobs import handing, registers
from emplastra.jobs.mapping import split
from emplastra.jobs.models import Job, Photo, Revisit
from emplastra.jobs.services import adopt_system
from emplastra.logbook.models import Correction, Entry, Kind
from emplastra.materials.services import add_systems
from emplastra.shared import clock
from emplastra.shared.services import Refused
from emplastra.state import held
from emplastra.state.held import cases, of_system
from tests.base import NOON, ShopCase, text_of

YEARS3 = NOON + timedelta(days=1096)
THEN = YEARS3.date()
STEPS = [{"kind": "strip"}, {"kind": "prime", "product": "Test primer", "coats": 2, "dft_um": 50, "method": "brush"}]


class AgainCase(ShopCase):
    """Three faces of one system: primed with two coats, bared by wire wheel and by sander; three years later."""

    def setUp(self):
        super().setUp()
        held.forget()
        self.addCleanup(held.forget)
        shop = self.shop
        system = add_systems([{"name": "Primer alone", "school": "one", "steps": STEPS}])[0]
        self.faces = [shop.make_zone(name) for name in ("Lid", "Side", "Foot")]
        for zone, how in zip(self.faces, ("sander", "sander", "wire-wheel"), strict=True):
            adopt_system(zone, shop.user, system, 1)
            step = {s["kind"]: s["id"] for s in zone.build_ups.order_by("number").last().steps}
            shop.tell(Kind.BARED, -8, -7, step["strip"], zone=zone, how=how)
            shop.tell(Kind.KEYED, -7, -6.5, zone=zone, grit="P120", um_off=0.0)
            for began in (-6, -3):
                shop.tell(Kind.COAT, began, began + 0.5, step["prime"], zone=zone, product=shop.primer, revision=shop.primer.revisions.first(), variant="mild", method="brush", plan_um=50.0)  # fmt: skip
        clock.freeze(YEARS3)

    def look(self, zone, verdict, *found, seen=THEN):
        return handing.look_again(zone, self.shop.user, seen, verdict, found)


class HeldTests(AgainCase):
    def test_the_figure_moves_with_each_look(self):
        """Three years of 365.25 days after the day of the last coat."""
        said = []
        for zone, told in zip(
            self.faces, (("same",), ("worse", ("rust", 1, 2, "")), ("failed", ("rust", 4, 3, "foot"))), strict=True
        ):
            self.look(zone, *told)
            said.append(of_system("Primer alone").sentence)
        self.assertEqual(said, [f"held {k} of {n}, over 3 years: little evidence" for k, n in ((1, 1), (2, 2), (2, 3))])
        prepared = {case.about.face: (case.prepared, case.place, round(case.years, 6)) for case in cases()}
        self.assertEqual(prepared["Foot"], ("wire wheel, P120", "show", round(1096 / 365.25, 6)))
        self.assertEqual(prepared["Lid"][0], "dual-action sander, p80, P120")
        for url, words in (
            ("/held/", "held 2 of 3"),
            ("/systems/", "held 2 of 3, over 3 years: little evidence"),
            (f"/zones/{self.faces[0].pk}/plan", ""),
        ):
            self.assertIn(words, text_of(self.client.get(url)).lower(), url)
        self.assertIn("Held 0 of 1", text_of(self.client.get("/held/?prepared=wire+wheel%2C+P120")))
        self.assertIn("nobody has looked again yet", text_of(self.client.get("/held/?system=none")).lower())
        self.assertEqual(self.client.get("/held/?age=x").status_code, 200)

    def test_a_face_counts_once_for_each_finish(self):
        """The newest look at a finish counts; painted again and looked at again it is another case."""
        zone = self.faces[0]
        self.look(zone, "same", seen=date(2027, 5, 12))
        self.look(zone, "failed", ("flakes", 4, 3, "edge"), seen=date(2028, 5, 12))
        self.assertEqual([(c.verdict, round(c.years)) for c in cases()], [("failed", 2)])
        self.shop.tell(Kind.COAT, -2, -1, zone=zone, product=self.shop.primer, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", plan_um=50.0)  # fmt: skip
        clock.freeze(YEARS3 + timedelta(days=400))
        self.look(zone, "same", seen=clock.now().date())
        self.assertEqual(sorted((c.verdict, round(c.years)) for c in cases()), [("failed", 2), ("same", 1)])

    def test_what_is_kept_follows_what_is_recorded_on_those_faces(self):
        """A coat that is struck out, a plan of another system, measures: each changes the cases, an act elsewhere none."""
        zone = self.faces[0]
        self.look(zone, "same")
        kept = cases()
        self.shop.tell(Kind.BARED, -2, -1, "s-strip")
        self.assertIs(cases(), kept)
        adopt_system(zone, self.shop.user, add_systems([{"name": "Other", "school": "one", "steps": STEPS}])[0], 2)
        self.assertEqual([case.system for case in cases()], ["Other"])
        for entry in Entry.objects.of(Kind.COAT).filter(zones=zone):
            Correction.objects.create(replaces=entry, reason="told by mistake", who=self.shop.user)
        self.assertEqual(cases(), ())

    def test_a_face_that_was_split_goes_on_in_its_parts(self):
        zone = self.faces[0]
        self.look(zone, "same", seen=date(2028, 5, 12))
        split(zone, self.shop.user, ("Lid, left", "Lid, right"), 0.4)
        zone.refresh_from_db()
        with self.assertRaises(Refused):
            self.look(zone, "same")
        page = text_of(self.client.get(f"/zones/{zone.pk}/again"))
        self.assertIn("Look at what became of it: Lid, left", page)
        heir = zone.heirs.first()
        self.look(heir, "worse", ("rust", 1, 1, ""))
        self.assertEqual(sorted((c.verdict, c.about.face) for c in cases()), [("same", "Lid"), ("worse", heir.name)])
        self.assertEqual([row.verdict for row in handing.looks_at([heir])[heir.pk]], ["same", "worse"])

    def test_the_pages_ask_the_same_few_queries_however_many_looks(self):
        def asked(url):
            held.forget()
            with CaptureQueriesContext(connection) as found:
                self.client.get(url)
            return len(found)

        self.look(self.faces[0], "same")
        asked("/held/")
        first = asked("/held/")
        for zone in self.faces[1:]:
            self.look(zone, "same")
        self.assertEqual(asked("/held/"), first)


class TellTests(AgainCase):
    def test_what_is_told_has_to_agree(self):
        zone, user = self.faces[0], self.shop.user
        for verdict, found, field in (
            ("failed", (), "found"), ("failed", (("rust", 0, 0, ""),), "found"), ("same", (("rust", 3, 0, ""),), "verdict"), ("fine", (), "verdict"),
            ("worse", (("moss", 1, 0, ""),), "found"), ("worse", (("rust", "x", 0, ""),), "found"), ("worse", (("rust", 9, 0, ""),), "found"),
        ):  # fmt: skip
            with self.assertRaises(Refused) as refused:
                handing.look_again(zone, user, YEARS3.date(), verdict, found)
            self.assertEqual(refused.exception.field, field, (verdict, found))
        with self.assertRaises(Refused) as refused:
            handing.look_again(zone, user, YEARS3.date() + timedelta(days=1), "same")
        self.assertEqual(refused.exception.field, "seen")
        self.assertEqual(Revisit.objects.count(), 0)

    def test_by_the_form_and_by_one_tap(self):
        zone, other, job = self.faces[0], self.faces[1], self.shop.job
        url = f"/zones/{zone.pk}/again"
        bad = self.client.post(
            url,
            {
                "token": "a",
                "verdict": "failed",
                "seen": "2029-05-12",
                "kind1": "rust",
                "much1": "0",
                "where1": "the lip",
            },
        )
        self.assertEqual(
            (bad.status_code, "How much, 1: say how much" in text_of(bad), 'value="the lip"' in bad.content.decode()),
            (422, True, True),
        )
        with open("docs/screenshots/bench.png", "rb") as picture:
            data = {
                "token": "b",
                "verdict": "failed",
                "seen": "2029-05-12",
                "kind1": "rust",
                "much1": "3",
                "size1": "2",
                "where1": "the lip",
                "note": "from the drain",
                "photo": picture,
            }
            self.assertRedirects(self.client.post(url, data), f"/jobs/{job.pk}/again")
        look = Revisit.objects.get()
        self.assertEqual((look.found, look.photo.when), ([["rust", 3, 2, "the lip"]], Photo.When.AFTER))
        page = text_of(self.client.get(f"/jobs/{job.pk}/again"))
        self.assertIn("Ri 3 (S2): about 1 % of it, just seen by eye; the lip · from the drain", page)
        for _ in range(2):
            self.client.post(f"/zones/{other.pk}/again/same", {"token": "tap"})
        self.assertEqual([r.verdict for r in Revisit.objects.filter(zone=other)], ["same"])
        again = self.client.post(f"/zones/{other.pk}/again/same", {"token": "other tap"}, follow=True)
        self.assertIn("was looked at today already", text_of(again))
        self.assertIn("2 of 4 faces looked at today", text_of(again))
        self.client.force_login(self.shop.people["viewer"])
        self.assertEqual(self.client.post(f"/zones/{other.pk}/again/same").status_code, 403)
        self.assertNotIn("Same</button>", self.client.get(f"/jobs/{job.pk}/again").content.decode())

    def test_what_was_put_off_is_looked_at_before_a_job_is_opened_again(self):
        self.as_owner()
        shop = self.shop
        registers.put_off(
            self.faces[0], shop.user, "put-off", "weld the lip", "no panel", date(2030, 1, 1), "wash primer", None
        )
        for filing, leads in (("closed", f"/jobs/{shop.job.pk}/"), ("open", f"/jobs/{shop.job.pk}/again")):
            answer = self.client.post(f"/jobs/{shop.job.pk}/file", {"filing": filing}, follow=True)
            self.assertEqual(answer.redirect_chain[-1][0], leads)
        self.assertIn(
            "Put off or watched before work goes on here: weld the lip (Lid). Look at it first.", text_of(answer)
        )
        self.assertIn("Under wash primer", text_of(answer))

    def test_all_kinds_of_failure_are_offered(self):
        form = AgainForm(workshop=self.shop.workshop)
        self.assertEqual(
            [key for key, _ in form.fields["kind1"].choices], ["", "blisters", "rust", "cracks", "flakes", "chalks"]
        )

    def test_a_job_without_a_coat(self):
        job = Job.objects.create(name="Bare")
        self.shop.make_zone("Face", job)
        self.assertIn("No coat is on it", text_of(self.client.get(f"/jobs/{job.pk}/again")))
        self.assertIn(
            "This job has no face yet", text_of(self.client.get(f"/jobs/{Job.objects.create(name='None').pk}/again"))
        )
