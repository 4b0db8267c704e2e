"""A whole job out of one workshop and into another: equal on the way back, refused where it is cut or hostile."""

import copy
import hashlib
import io
import json
import zipfile

import jsonschema
from django.apps import apps
from django.db import connection
from django.db import transaction as db
from django.test import TestCase

from emplastra.accounts.models import Role, User, Workshop
from emplastra.climate.models import Place
from emplastra.demo import workshop
from emplastra.handover import carried, unpacking
from emplastra.handover.packing import document, pack
from emplastra.jobs.models import Job, School, Zone
from emplastra.logbook.models import Entry
from emplastra.materials.models import Product, SheetRevision
from emplastra.record.selectors import records
from emplastra.say.book import Book
from emplastra.shared import clock
from emplastra.shared.appendonly import drop_triggers
from emplastra.shared.models import Task
from emplastra.shared.tasks import Failed
from emplastra.store.models import Tin
from tests.base import PRIMER, ShopCase, TaskCase, drop_caches, folded_states, text_of

JOBS = ("Inspection trolley", "Tool locker", "Signal lamp housing", "Buffet trolley", "Crossing bell")


def archive_of(job):
    out = io.BytesIO()
    pack(job, Book(more=job.zones.in_use()), out)
    return out


def emptied():
    """Another workshop, empty: the same house, an owner of its own. Undone with the test's transaction."""
    drop_triggers()
    for model in reversed(apps.get_models()):
        if model._meta.label not in {"contenttypes.ContentType", "auth.Permission"}:
            model.objects.all()._raw_delete(connection.alias)
    drop_caches()
    Workshop.objects.create(**{**KEPT, "name": "Across the yard"})
    return User.objects.create_user("someone", password="x", role=Role.OWNER)


KEPT = {"time_zone": "Europe/Vienna", "latitude": 48.2, "longitude": 16.4}


def taken(data, user, sha="a" * 64):
    told, archive = unpacking.look(io.BytesIO(data))
    with db.atomic():
        found = unpacking.take_in(told, archive, user, sha)
    drop_caches()
    return found


def numbered(told):
    """A document whose rows bear their place in their table for a number: what is left has to be equal."""
    told = copy.deepcopy(told)
    places = {label: {row["id"]: n for n, row in enumerate(rows, 1)} for label, rows in told["rows"].items()}
    for label, rows in told["rows"].items():
        model = apps.get_model(label)
        named = {f.name: f.related_model._meta.label for f in carried.links(model)}
        for row in rows:
            row["id"] = places[label][row["id"]]
            for name, of in named.items():
                row[name] = row[name] and places[of][row[name]]
            if label == "jobs.Acceptance" and row["subject"].startswith("entry "):
                row["subject"] = f"entry {places['logbook.Entry'][int(row['subject'][6:])]}"
            if label == "jobs.AccessPlan":
                for act in row["acts"]:
                    act["faces"] = [places["jobs.Zone"][int(face)] for face in act["faces"]]
            if label == "accounts.User":
                row["role"] = ""  # people of another workshop may do nothing here
    return {key: value for key, value in told.items() if key not in {"made", "workshop", "job"}}


def said(job):
    """What the record and the judge say of a job, and its states as numbers."""
    zones = list(job.zones.filter(removed=False).select_related("job", "origin").order_by("id"))
    lines = [
        (line.title, line.facts, line.film and line.film.dft_um, [v.sentence for v in line.ruled.open] if line.ruled else None, [a.acceptance.reason for a in line.ruled.accepted] if line.ruled else None)
        for record in records(zones)
        for line in record.lines
    ]  # fmt: skip
    book = Book(more=[zone for zone in zones if zone.is_in_use])
    heads = [
        (s.zone.name, s.surface.headline, s.clock and (s.clock.opens_s, s.clock.closes_s))
        for s in book.states([z.pk for z in zones if z.is_in_use])
    ]
    return lines, heads, list(folded_states(zones).values())


class RoundTrips(TestCase):
    @classmethod
    def setUpTestData(cls):
        workshop.load()
        clock.freeze(workshop.START)
        cls.addClassCleanup(clock.freeze, None)

    def test_each_job_of_the_demo_into_an_empty_workshop_and_out_again(self):
        before = {}
        for name in JOBS:
            job = Job.objects.get(name=name)
            before[name] = (archive_of(job).getvalue(), document(job), said(job))
        places, files = {}, {}
        for name in JOBS:
            with self.subTest(name):
                user = emptied()
                data, told, words = before[name]
                job, what, missing = taken(data, user)
                self.assertEqual((what.renamed, missing, what.settings()), ({}, 0, []))
                self.assertEqual(numbered(document(job)), numbered(told))
                self.assertEqual(said(job), words)
                self.assertEqual(set(User.objects.filter(is_active=True)), {user})
        self.assertEqual((places, files), ({}, {}))

    def test_what_is_in_the_file(self):
        job = Job.objects.get(name="Crossing bell")
        with zipfile.ZipFile(archive_of(job)) as archive:
            names = set(archive.namelist())
            told, schema = (json.loads(archive.read(name)) for name in ("archive.json", "schema.json"))
            jsonschema.Draft202012Validator.check_schema(schema)
            jsonschema.validate(told, schema)
            coats = archive.read("tables/logbook.Coat.csv").decode().splitlines()
            self.assertEqual(len(coats), 1 + len(told["rows"]["logbook.Coat"]))
            self.assertEqual(len([name for name in names if name.startswith("photos/")]), 2 * 3)
            self.assertIn(b"<svg", archive.read("map.svg"))
            self.assertTrue({"README.txt", "tables/jobs.Zone.csv"} <= names)
        self.assertNotIn("password", json.dumps(told))

    def test_nothing_of_other_jobs_goes_along(self):
        job = Job.objects.get(name="Tool locker")
        rows = document(job)["rows"]
        self.assertEqual([row["name"] for row in rows["jobs.Job"]], ["Tool locker"])
        self.assertEqual({row["job"] for row in rows["jobs.Zone"]}, {job.pk})
        mine = set(job.zones.values_list("pk", flat=True))
        self.assertEqual({row["zone"] for row in rows["logbook.EntryZone"]} - mine, set())

    def test_beside_the_job_itself_all_that_bears_a_name_is_told_apart(self):
        """Into the workshop that it came from: products are the same, place and people bear the other's name."""
        job = Job.objects.get(name="Crossing bell")
        data, products, revisions = archive_of(job).getvalue(), Product.objects.count(), SheetRevision.objects.count()
        owner = User.objects.get(username="owner")
        again, what, _ = taken(data, owner)
        self.assertEqual((Product.objects.count(), SheetRevision.objects.count()), (products, revisions))
        self.assertEqual(
            what.renamed, {"user": {"bench": "bench.railside-workshop"}, "place": {"Shop": "Shop (Railside workshop)"}}
        )
        self.assertFalse(Place.objects.get(name="Shop (Railside workshop)").in_use)
        self.assertEqual(said(again)[1:], said(job)[1:])
        with self.assertRaises(Failed) as twice:
            taken(data, owner)
        self.assertIn("was taken in already, as Crossing bell", str(twice.exception))
        _, what, _ = taken(data, owner, "b" * 64)
        self.assertNotIn("user", what.renamed)
        self.assertEqual(
            Tin.objects.filter(batch="C-901", part="base").count(), 3
        )  # the one that was poured from here, and one told by each archive


class StrangeFiles(ShopCase):
    def setUp(self):
        super().setUp()
        self.shop.coat(-3, -2, wft_um=[100])
        self.data = archive_of(self.shop.job).getvalue()
        with zipfile.ZipFile(io.BytesIO(self.data)) as archive:
            self.told = json.loads(archive.read("archive.json"))

    def changed(self, change):
        told = copy.deepcopy(self.told)
        change(told)
        return zipped(json.dumps(told))

    def refused(self, data):
        before = {model._meta.label: model.objects.count() for model in carried.tables()}
        with self.assertRaises(Failed) as refused:
            taken(data, self.shop.user)
        self.assertEqual({model._meta.label: model.objects.count() for model in carried.tables()}, before)
        return " ".join([str(refused.exception), *map(str, refused.exception.problems)])

    def test_a_file_that_is_none(self):
        for data, words in (
            (b"", "cannot be opened"), (b"PK\x03\x04rest", "cannot be opened"), (self.data[: len(self.data) // 2], "cannot be opened"),
            (zipped("{}", "other.json"), "has no archive.json"), (zipped("{"), "cut or no JSON"), (zipped("[1]"), "another version (none)"),
            (zipped('{"format": "emplastra-archive/2"}'), "another version (emplastra-archive/2): this workshop reads emplastra-archive/1"),
            (zipped('{"x": NaN}'), "NaN, which is no number"), (zipped("[" * 5000), "cannot be read"), (zipped('{"format": "emplastra-archive/1"}'), "is missing"),
        ):  # fmt: skip
            self.assertIn(words, self.refused(data), data[:40])

    def test_a_document_that_does_not_hang_together(self):
        """By what is changed in a sound one, and what is said of it."""

        def rows(label):
            return lambda told: told["rows"][label]

        for change, words in (
            (lambda d: d.update(extra=1), "which is no field here"),
            (lambda d: d["rows"].update({"accounts.Workshop": []}), "which is no field here"),
            (lambda d: rows("jobs.Zone")(d)[0].update(job=999), "its job 999 is not in it"),
            (lambda d: rows("jobs.Zone")(d)[0].update(name="x" * 81), "longer than 80"),
            (lambda d: rows("jobs.Zone")(d)[0].update(is_admin=True), "no field here"),
            (lambda d: rows("logbook.Entry")(d)[0].update(kind="hack"), "logbook.Entry"),
            (lambda d: rows("logbook.Entry")(d)[0].update(ended="2020-01-01T00:00:00+00:00"), "entry_ends_after_it_began"),
            (lambda d: rows("logbook.Entry")(d)[0].update(ended="2020-01-01T00:00:00"), "ended"),
            (lambda d: rows("logbook.EntryZone")(d)[0].update(share=7.0), "share_in_range"),
            (lambda d: rows("jobs.ZoneRevision")(d)[0].update(shapes=[{"kind": "cube"}]), "cannot be"),
            (lambda d: rows("jobs.ZoneRevision")(d)[0].update(thickness_mm=1e9), "jobs.ZoneRevision"),
            (lambda d: rows("jobs.BuildUpVersion")(d)[0].update(steps=[{"kind": "dance"}]), "there is no kind"),
            (lambda d: rows("materials.SheetRevision")(d)[0].update(document={"format": "x"}, sha256="0" * 64), "data sheet that cannot be read"),
            (lambda d: rows("climate.Reading")(d)[0].update(rh_pct=500.0), "reading_rh_in_range"),
            (lambda d: d.update(job=999), "is not of one job"),
            (lambda d: d["schools"].update(solder="eats it" * 9), "longer than"),
            (lambda d: d["rows"].pop("logbook.Moved"), "cannot be shown"),
            (lambda d: d["rows"].pop("logbook.Entry"), "is not in it"),
        ):  # fmt: skip
            self.assertIn(words, self.refused(self.changed(change)))

    def test_pictures_that_are_none_of_ours(self):
        row = {
            "id": 1,
            "recorded": "2026-05-12T10:00:00+00:00",
            "who": self.told["rows"]["accounts.User"][0]["id"],
            "zone": self.told["rows"]["jobs.Zone"][0]["id"],
            "finding": None,
            "when": "after",
            "note": "",
            "width": 8,
            "height": 6,
        }
        good = _jpeg()
        sha = hashlib.sha256(good).hexdigest()
        for name, data, said_of in (
            ("../../etc/passwd", good, "none of ours"), ("0" * 64, good, "not what its row says"), (sha, None, ""),
        ):  # fmt: skip
            told = copy.deepcopy(self.told)
            told["rows"]["jobs.Photo"] = [row | {"sha256": name}]
            data = zipped(json.dumps(told), more={f"photos/{name[:2]}/{name}.jpg": data} if data else {})
            if said_of:
                self.assertIn(said_of, self.refused(data))
            else:
                _, _, missing = taken(data, self.shop.user, "c" * 64)
                self.assertEqual(missing, 1)
        for data, words in (
            (b"no picture", "cannot be kept"),
            (
                _jpeg(
                    b"Exif\x00\x00"
                    + b"MM\x00*\x00\x00\x00\x08\x00\x01\x01\x0e\x00\x02\x00\x00\x00\x04abc\x00\x00\x00\x00\x00"
                ),
                "more in it than a picture",
            ),
        ):
            sha = hashlib.sha256(data).hexdigest()
            told = copy.deepcopy(self.told)
            told["rows"]["jobs.Photo"] = [row | {"sha256": sha}]
            self.assertIn(words, self.refused(zipped(json.dumps(told), more={f"photos/{sha[:2]}/{sha}.jpg": data})))

    def test_a_bomb_is_not_unpacked(self):
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive, archive.open("archive.json", "w") as file:
            for _ in range(151):
                file.write(b" " * 1_000_000)
        self.assertIn("more than an archive may", self.refused(out.getvalue()))

    def test_a_product_of_the_same_name_but_other_figures_comes_beside(self):
        """The stranger's primer, at 60 % solids, is another product here; plan, window and coat follow its name."""
        other = PRIMER | {"components": [PRIMER["components"][0] | {"solids_pct": 60}, *PRIMER["components"][1:]]}

        def change(told):
            row = next(r for r in told["rows"]["materials.SheetRevision"] if r["document"]["product"] == "Test primer")
            row.update(
                document=other
                | {
                    "windows": [PRIMER["windows"][0] | {"next": "product:Test primer"}],
                    "over": {"product:Test primer": True},
                },
                sha256="9" * 64,
            )

        job, what, _ = taken(self.changed(change), self.shop.user)
        name = "Test primer (Test shop)"
        self.assertEqual(what.renamed["product"], {"Test primer": name})
        mine = job.zones.get()
        self.assertEqual(next(s["product"] for s in mine.build_ups.first().steps if s["kind"] == "prime"), name)
        document = Product.objects.get(name=name).revisions.get().document
        self.assertEqual(
            (document["product"], document["windows"][0]["next"], [*document["over"]]),
            (name, f"product:{name}", [f"product:{name}"]),
        )
        self.assertEqual(records([mine])[0].lines[-1].film.dft_um, 100 * (4 * 60 + 50) / 5 / 100)

    def test_schools_go_with_the_job(self):
        School.objects.create(question="solder", answer="out")
        data = archive_of(self.shop.job).getvalue()
        School.objects.all().delete()
        School.objects.create(question="solder", answer="stays")
        job, _, _ = taken(data, self.shop.user)
        self.assertEqual(job.schools.get(question="solder").answer, "out")


class HouseTests(TestCase):
    def test_every_table_is_carried_or_stays_for_a_reason(self):
        ours = {m._meta.label for m in apps.get_models() if m.__module__.startswith("emplastra.")}
        told = {model._meta.label for model in carried.tables()}
        self.assertEqual(ours - told, set(carried.STAYS))
        self.assertEqual(told & set(carried.STAYS), set())


class BringTests(TaskCase):
    def test_made_fetched_and_taken_in_by_pages(self):
        self.as_owner()
        self.shop.coat(-3, -2, wft_um=[100])
        job = self.shop.job
        self.assertIn("No archive was made", text_of(self.client.get(f"/jobs/{job.pk}/archive")))
        self.assertRedirects(self.client.get(f"/jobs/{job.pk}/archive.zip"), f"/jobs/{job.pk}/archive")
        task = self.ended(self.client.post(f"/jobs/{job.pk}/archive/make", {"token": "m"})["Location"])
        self.assertEqual((task.state, task.words), (Task.State.DONE, ""))
        data = b"".join(self.client.get(task.result["url"]).streaming_content)
        for name, sent, words in (("a.zip", b"nothing", "is no archive of a job"), ("a.zip", b"", "empty")):
            answer = self.client.post("/jobs/bring", {"token": f"b{words}", "file": _file(name, sent)})
            self.assertEqual((answer.status_code, words in text_of(answer)), (422, True))
        cut = self.ended(
            self.client.post("/jobs/bring", {"token": "cut", "file": _file("a.zip", data[:4000])})["Location"]
        )
        self.assertEqual((cut.state, "cannot be opened" in cut.words), (Task.State.FAILED, True))
        where = self.client.post("/jobs/bring", {"token": "in", "file": _file("a.zip", data)})["Location"]
        came = self.ended(where)
        self.assertEqual(came.state, Task.State.DONE, came.words)
        self.assertIn("Taken in from Test shop: Trolley, 1 face", text_of(self.client.get(where)))
        new = Job.objects.exclude(pk=job.pk).get()
        self.assertIn("Taken in from Test shop by owner", text_of(self.client.get(f"/jobs/{new.pk}/archive")))
        self.assertEqual(Zone.objects.filter(job=new).count(), 1)
        self.assertEqual(Entry.objects.filter(zones__job=new).count(), Entry.objects.filter(zones__job=job).count())
        self.assertEqual(self.client.get("/archive/schema.json").json()["title"][:5], "A job")
        self.client.force_login(self.shop.people["viewer"])
        self.assertEqual(
            [
                self.client.post(url, {"token": "v"}).status_code
                for url in (f"/jobs/{job.pk}/archive/make", "/jobs/bring")
            ],
            [403, 403],
        )


def zipped(text, name="archive.json", more=None):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr(name, text)
        for path, data in (more or {}).items():
            archive.writestr(path, data)
    return out.getvalue()


def _file(name, data):
    from django.core.files.uploadedfile import SimpleUploadedFile

    return SimpleUploadedFile(name, data)


def _jpeg(exif=b""):
    from PIL import Image

    out = io.BytesIO()
    Image.new("RGB", (8, 6), (120, 40, 30)).save(out, "JPEG", exif=exif)
    return out.getvalue()
