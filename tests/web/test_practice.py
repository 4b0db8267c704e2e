"""Practice on pages: begun, acted in, told, tried again; nothing of the workshop is touched."""

from unittest import mock

from django.apps import apps

from emplastra.core.practice.scenario import scenarios
from emplastra.practice import services
from emplastra.practice.models import Run
from tests.base import ShopCase, text_of


def rows():
    """{table: rows} of everything but practices and what signing in writes."""
    own = {"practice.Run", "sessions.Session"}
    return {m._meta.label: m.objects.count() for m in apps.get_models() if m._meta.label not in own}


class PracticeTests(ShopCase):
    def begin(self, piece="hour/skin", seed=3):
        with mock.patch.object(services.secrets, "randbelow", return_value=seed):
            self.url = self.client.post("/practice/start", {"piece": piece})["Location"]
        return Run.objects.latest("pk")

    def act(self, version, follow=True, **told):
        return self.client.post(self.url, {"version": version, **told}, follow=follow)

    def test_played_by_pages_and_nothing_of_the_workshop_is_touched(self):
        before = rows()
        home = text_of(self.client.get("/practice/"))
        for found in scenarios().values():
            for piece in found.pieces:
                self.assertIn(piece.name, home)
        run = self.begin()
        self.assertIn("Nothing here is logged", text_of(self.client.get(self.url)))
        page = text_of(self.act(0, do="wait", min="210"))
        self.assertIn("It shows: flash rust , outer skin", page)
        self.assertIn("Bare steel is under primer before its hours add up to one", page)
        self.assertIn("It could have been seen at", page)
        page = text_of(self.act(1, do="end"))
        self.assertIn("0 held, 1 showed, 1 face not finished", page)
        self.assertIn("The same weather again", page)
        again = self.client.post(f"{self.url}again", {"before": "1"}, follow=True)
        other = Run.objects.latest("pk")
        self.assertEqual((other.seed, other.acts, other.again_of), (run.seed, [], run))
        self.assertIn("Thin steel, blasted an hour ago", text_of(again))
        self.assertIn("A skin with pits", text_of(self.client.get("/practice/")))
        self.assertEqual(rows(), before)

    def test_an_act_that_cannot_be_is_told_and_undoes_nothing(self):
        self.begin()
        self.act(0, do="mix", product="Practice epoxy", ml="40")
        for told, words in (
            ({"do": "mix", "product": "Practice epoxy", "ml": "4"}, "Ml: must be from 10 to 5000 mL"), ({"do": "mix", "product": "Practice epoxy", "ml": "x"}, "Ml: must be"), ({"do": "step", "face": "skin", "step": "x"}, "Step: must be a step of its plan"),
            ({"do": "x"}, "Do: must be one of"), ({}, "Do: must be one of"), ({"do": "wait", "min": "nan"}, "Min: must be from"),
        ):  # fmt: skip
            answer = self.act(1, **told)
            self.assertEqual((answer.status_code, words in text_of(answer)), (422, True), told)
        self.assertEqual(Run.objects.get().version, 1)

    def test_two_people_and_a_double_tap(self):
        run = self.begin()
        for _ in range(2):
            self.act(0, do="wait", min="15")
        self.assertEqual(Run.objects.get().version, 1)
        late = self.act(0, do="wait", min="30")
        self.assertEqual((late.status_code, "Somebody acted in this practice meanwhile" in text_of(late)), (409, True))
        self.client.force_login(self.shop.people["viewer"])
        self.assertEqual(self.act(1, follow=False, do="wait", min="30").status_code, 302)
        run.refresh_from_db()
        self.assertEqual([act["min"] for act in run.acts], [15.0, 30.0])
        for version in ("", "x", "-1", "9" * 30):
            self.assertEqual(self.act(version, do="wait", min="5").status_code, 409)

    def test_decided_again_from_before_an_act(self):
        self.begin("day/sill")
        self.act(0, do="step", face="outer", step="weld")
        self.act(1, do="step", face="inside", step="cap")
        page = self.act(2, do="look", face="inside")
        self.assertIn("It shows: burnt far side", text_of(page))
        self.assertIn('name="before"\n    value="2"'.replace("\n    ", " "), " ".join(page.content.decode().split()))
        self.client.post(f"{self.url}again", {"before": "2"})
        self.assertEqual([act["do"] for act in Run.objects.latest("pk").acts], ["step"])
        self.client.post(f"{self.url}again", {"before": "99"})
        self.assertEqual(Run.objects.latest("pk").acts, [])

    def test_what_is_not_there(self):
        bad = self.client.post("/practice/start", {"piece": "hour/boat"})
        self.assertEqual((bad.status_code, "Choose one of the pieces" in text_of(bad)), (422, True))
        self.assertEqual([self.client.get(url).status_code for url in ("/practice/99/", "/practice/start")], [404, 405])
        run = self.begin()
        Run.objects.filter(pk=run.pk).update(scenario="gone")
        self.assertEqual(self.client.get(self.url).status_code, 404)
        self.assertEqual(self.client.get("/practice/").status_code, 200)
        self.assertRedirects(self.client.post(f"{self.url}again"), "/practice/")

    def test_only_so_many_are_kept(self):
        for _ in range(services.KEPT + 3):
            services.start(self.shop.user, "hour", "skin")
        self.assertEqual(Run.objects.filter(user=self.shop.user).count(), services.KEPT)
