"""What else shares the cause of a fault, from the record: pot, batch, gun, air, drain; and the look that each then needs."""

from django.db import connection
from django.test.utils import CaptureQueriesContext

from emplastra.core.survey.answers import Answer
from emplastra.jobs import registers, surveying
from emplastra.jobs.models import Job
from emplastra.logbook.models import Kind
from emplastra.state.shares import coats_of, shared_with
from emplastra.store.services import name_batch
from tests.base import ZONE, ShopCase, text_of


class SharesTests(ShopCase):
    def setUp(self):
        super().setUp()
        shop = self.shop
        self.other_job = Job.objects.create(name="Cart")
        self.potted, self.batched, self.alone = (
            shop.make_zone("Lid"),
            shop.make_zone("Bed", self.other_job),
            shop.make_zone("Arm", self.other_job),
        )
        self.batch = name_batch(shop.primer, "base", "B-7", None, ZONE)
        revision = shop.primer.revisions.first()
        pots = [
            shop.tell(
                Kind.POT,
                began,
                zone=zone,
                revision=revision,
                variant="mild",
                method="brush",
                thinner_pct=0.0,
                ready_ml=100.0,
                temp_c=20.0,
            )
            for began, zone in ((-6, shop.zone), (-60, self.batched))
        ]
        for pot in pots:
            shop.tell(Kind.WEIGHED, -1, zone=shop.zone, pot=pot, part="base", scale_g=120.0, tin=self.batch)
        self.entry = shop.coat(-5, -4, pot=pots[0], gun={"gun": "no. 2"})
        shop.coat(-3, -2.5, zone=self.potted, pot=pots[0])
        shop.coat(-58, -57, zone=self.batched, pot=pots[1])
        shop.coat(-70, -69, zone=self.alone, user=shop.people["mate"])

    def found(self):
        return {f.zone.name: f.shared.ties for f in shared_with(self.entry, self.shop.zone, self.shop.workshop)}

    def test_from_the_record(self):
        """Lid from the same pot three hours later by the same hand; Bed in another job from a pot of the same batch, days before."""
        self.assertEqual(self.found(), {"Lid": ("pot", "batch", "day"), "Bed": ("batch",)})
        for zone in (self.shop.zone, self.potted):
            self.shop.tell(Kind.MOVED, -30, zone=zone, place=self.shop.place)
        self.assertEqual(self.found()["Lid"], ("pot", "batch", "air", "day"))
        drain = [(Answer("drain", "1", "blocked", {}, "foot", "bare"), "water-trap")]
        far = self.shop.make_zone("Sill")
        self.shop.coat(-900, -899, zone=far, user=self.shop.people["mate"])
        for zone in (self.shop.zone, far):
            surveying.state(zone, self.shop.user, "found", drain)
        self.assertEqual(self.found()["Sill"], ("drain",))

    def test_a_face_without_a_coat_and_a_coat_struck_through(self):
        empty = self.shop.make_zone("None")
        self.assertEqual(coats_of(empty), [])
        self.assertIn("No coat was logged here", text_of(self.client.get(f"/zones/{empty.pk}/shares")))

    def test_the_look_goes_on_the_list_once(self):
        url = f"/zones/{self.shop.zone.pk}/shares"
        page = self.client.get(f"{url}?why=Craters")
        self.assertIn("2 other faces share something with the coat of Test primer", text_of(page))
        self.assertIn("Look for Press a thumb nail into it", text_of(page))
        data = {
            "other": self.potted.pk,
            "coat": self.entry.pk,
            "what": "press it",
            "why": "Craters on Cab side: the same pot",
        }
        for token, words in (("a", "Lid: on the list of looks."), ("b", "that look is on the list already")):
            self.assertIn(words, text_of(self.client.post(f"{url}/look", data | {"token": token}, follow=True)))
        watch = registers.watches().get()
        self.assertEqual(
            (watch.zone, watch.what, watch.why), (self.potted, "press it", "Craters on Cab side: the same pot")
        )
        for other in ("x", "999999"):
            self.assertEqual(self.client.post(f"{url}/look", {"other": other}).status_code, 404)
        self.client.force_login(self.shop.people["viewer"])
        self.assertEqual(self.client.post(f"{url}/look", data).status_code, 403)

    def test_as_few_queries_for_many_as_for_some(self):
        def asked():
            with CaptureQueriesContext(connection) as found:
                shared_with(self.entry, self.shop.zone, self.shop.workshop)
            return len(found)

        first = asked()
        for n in range(6):
            self.shop.coat(-3, -2, zone=self.shop.make_zone(f"More {n}"), pot=self.entry.coat.pot)
        self.assertEqual(asked(), first)
