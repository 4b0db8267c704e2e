"""Work over a second: begun once, followed, stopped, given up, landing whole or not at all."""

from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile

from emplastra.climate import services
from emplastra.climate.models import ImportBatch, ImportDraft, Place, Reading
from emplastra.core.survey.answers import Answer
from emplastra.core.survey.file import Statement, to_json
from emplastra.jobs.models import Finding
from emplastra.shared import clock, tasks
from emplastra.shared.models import Task
from tests.base import NOON, TaskCase, text_of

LINES = 6000
LOG = "time,air_c,rh_pct\n" + "\n".join(
    f"{(NOON - k * timedelta(minutes=1)).isoformat()},{20 + k % 7 / 10},55" for k in range(LINES, 0, -1)
)


class LongLogTests(TaskCase):
    def draft(self, token="d"):
        """A long log sent; the page of how it is read."""
        self.cellar = Place.objects.get_or_create(name="Cellar")[0]
        data = {"token": token, "place": self.cellar.pk, "what": "log", "file": SimpleUploadedFile("long.csv", LOG.encode())}  # fmt: skip
        return self.client.post("/air/import", data).url

    def rows(self):
        """Readings of the place that the log is of."""
        return Reading.objects.filter(place=self.cellar).count()

    def test_a_long_log_is_stored_beside_the_server_and_once(self):
        shape = self.draft()
        url = self.client.post(shape, {"token": "c"}).url
        self.assertEqual(self.client.post(shape, {"token": "c"}).url, url)
        task = self.ended(url)
        self.assertEqual((task.state, self.rows(), ImportDraft.objects.count()), ("done", LINES, 0), task.words)
        self.assertIn(f"Imported {LINES:,} readings. To the air", text_of(self.client.get(url)))
        self.assertEqual(self.client.get(f"{url}progress")["HX-Refresh"], "true")
        self.assertEqual(ImportBatch.objects.get(place=self.cellar).recorded, clock.now())
        again = self.ended(self.client.post(self.draft("d2"), {"token": "c2"}).url)
        self.assertEqual((again.state, self.rows()), ("failed", LINES))
        self.assertIn("long.csv cannot be taken: this very file has been imported already", text_of(self.client.get(again.get_absolute_url())))  # fmt: skip

    def test_one_that_is_stopped_has_written_nothing(self):
        shape = self.draft()
        url = self.client.post(shape, {"token": "c"}).url
        self.assertEqual(self.client.post(f"{url}stop").url, url)
        self.assertEqual((self.ended(url).state, self.rows()), ("cancelled", 0))
        self.assertIn("was stopped. Nothing of it was taken. Do it once more", text_of(self.client.get(url)))
        self.assertEqual(self.client.get(shape).status_code, 200)

    def test_what_is_stopped_or_given_up_as_it_would_land_does_not(self):
        """Between its last word and its landing; the child of a server that was killed finds its task given up."""

        def given_up(task):
            Task.objects.filter(pk=task.pk).update(boot="an earlier run")
            self.assertIn("which has stopped meanwhile", text_of(self.client.get(task.get_absolute_url())))
            tasks.clear_leftovers()

        self.draft()
        for end in (tasks.cancel, given_up):
            with self.subTest(end.__name__):
                about = {"draft": ImportDraft.objects.get().pk, "choices": {}, "file": "long.csv"}
                task = Task.objects.create(user=self.shop.user, kind="log", boot=tasks.BOOT, about=about)
                with self.assertRaises(tasks.Failed):
                    services.store_draft(task, lambda done, words, task=task, end=end: done > 0.3 and end(task))
                self.assertEqual((self.rows(), ImportDraft.objects.count()), (0, 1))

    def test_a_task_is_its_beginners_and_the_owners(self):
        url = self.client.post(self.draft(), {"token": "c"}).url
        for name, code in (("mate", 404), ("owner", 200)):
            self.client.force_login(self.shop.people[name])
            self.assertEqual([self.client.get(f"{url}{part}").status_code for part in ("", "progress")], [code, code])
        self.ended(url)


class LargeSurveyTests(TaskCase):
    def send(self, token, zones):
        told = [Statement("found", Answer("rust", f"m{k}", "C", {}, "", "paint"), NOON) for k in range(500)]
        file = SimpleUploadedFile("large.json", to_json("Trolley", dict.fromkeys(zones, told)).encode())
        return self.ended(self.client.post(f"/jobs/{self.shop.job.pk}/survey/file", {"token": token, "file": file}).url)

    def test_a_large_survey_is_taken_in_whole_or_not_at_all(self):
        lost = self.send("a", ["Cab side", "Nowhere"])
        self.assertIn("the job has no zone called “Nowhere”", text_of(self.client.get(lost.get_absolute_url())))
        self.assertEqual((lost.state, Finding.objects.count()), ("failed", 0))
        task = self.send("b", ["Cab side"])
        self.assertEqual((task.state, Finding.objects.count(), list(tasks.folder().iterdir())), ("done", 500, []), task.words)  # fmt: skip
        self.assertIn("500 written down, 0 known already.", text_of(self.client.get(task.get_absolute_url())))

    def test_every_place_of_a_large_file_that_does_not_fit_is_said(self):
        file = SimpleUploadedFile("large.json", b'{"format": "other", "x": "' + b"x" * 1_000_000 + b'"}')
        url = self.client.post(f"/jobs/{self.shop.job.pk}/survey/file", {"token": "t", "file": file}).url
        task = self.ended(url)
        self.assertTrue(task.result["problems"], task.words)
        self.assertIn(task.result["problems"][0][:40], text_of(self.client.get(url)))
