"""Spoilt input brings an answer, never a crash. `script/fuzz 20000` gives it more of it."""

import io
import os
from pathlib import Path

from django.apps import apps
from django.conf import settings
from django.test import TestCase
from django.urls import resolve

from emplastra.accounts import setup
from emplastra.accounts.models import SecurityEvent, Session, User
from emplastra.accounts.permissions import Right, right_of
from emplastra.climate.models import ImportBatch
from emplastra.demo import workshop
from emplastra.handover.packing import pack
from emplastra.jobs.models import Estimate, Finding, Job, PartOff, Watch, Zone
from emplastra.jobs.services import add_zone, measures_of
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.models import Product
from emplastra.say.book import Book
from emplastra.shared import clock
from emplastra.store.models import Tin
from tests import fuzz
from tests.base import PASSWORD, drop_caches

COUNT = int(os.environ.get("EMPLASTRA_FUZZED", "3000"))
FORMS, FILES, ARCHIVES = COUNT // 24, COUNT // 40, COUNT // 200
SEED = int(os.environ.get("EMPLASTRA_FUZZ_SEED", "1"))


class ParserTests(TestCase):
    def test_every_parser(self):
        clock.freeze(workshop.START)
        self.addCleanup(clock.freeze, None)
        found = fuzz.fuzz_parsers(COUNT - FORMS - FILES - ARCHIVES, SEED)
        self.assertEqual(found, [], "\n" + "\n".join(found))


class FormTests(TestCase):
    """Every form of the demo, found by the resolver and its pages: with spoilt values, and by every role."""

    @classmethod
    def setUpTestData(cls):
        drop_caches()
        clock.freeze(workshop.START)
        workshop.load()
        clock.freeze(workshop.START)
        cls.owner = User.objects.get(username="owner")
        heads = {
            "zones": Zone, "jobs": Job, "findings": Finding, "materials": Product, "parts": PartOff, "put-off": Watch, "estimates": Estimate,
            "batches": Tin, "air": ImportBatch, "entries": Entry,
        }  # fmt: skip
        ids = {
            head: list(model.objects.order_by("id").values_list("pk", flat=True)[:2]) for head, model in heads.items()
        }
        zone = Zone.objects.get(pk=ids["zones"][0])
        ids["zones"][1:] = [add_zone(zone.job, "Not planned", cls.owner, **measures_of(zone)).pk]
        first = {kind: entry.pk for kind in Kind.values for entry in Entry.objects.of(kind)[:1]}
        cls.ids = ids | {
            "findings": [Finding.objects.filter(topic="rust").last().pk],
            "pots": [first["pot"]],
            "weighings": [first["weighed"]],
            "entry": first,
        }
        client = cls.client_class()
        client.force_login(cls.owner)
        cls.known, cls.files, cls.seen = fuzz.harvest(client, cls.ids)
        out = io.BytesIO()
        job = Job.objects.get(name="Signal lamp housing")
        pack(job, Book(more=job.zones.in_use()), out)
        cls.archive = out.getvalue()

    def setUp(self):
        self.addCleanup(clock.freeze, None)
        self.addCleanup(drop_caches)
        drop_caches()
        clock.freeze(workshop.START)
        self.client.force_login(self.owner)

    def test_every_address_answers(self):
        self.assertEqual([url for url, status in self.seen if status >= 500], [])

    def test_spoilt_values(self):
        found = fuzz.fuzz_forms(self.client, self.known, FORMS, SEED)
        self.assertEqual(found, [], "\n" + "\n".join(found))

    def test_spoilt_files(self):
        self.assertGreater(len(self.files), 8)
        found = fuzz.fuzz_files(self.client, self.known, self.files, self.archive, FILES, self.counts, SEED)
        self.assertEqual(found, [], "\n" + "\n".join(found))

    def test_spoilt_archives(self):
        found = fuzz.fuzz_archives(self.archive, self.owner, ARCHIVES, self.counts, SEED)
        self.assertEqual(found, [], "\n" + "\n".join(found))

    def test_no_role_does_what_the_table_forbids(self):
        """Each form as an owner's page shows it, sent by each role and by nobody: refused by the table, it changes nothing."""
        forms = {url: fields for url, fields in self.known.items() if fields and "9999999" not in url}
        self.assertGreater(len(forms), 120)
        people = {role: User.objects.filter(role=role).first() for role in ("viewer", "refinisher")}
        for role, user in people.items():
            self.client.force_login(user)
            before = self.counts()
            for url, fields in forms.items():
                right = right_of(resolve(url).view_name)
                if right.allows(role, "POST"):
                    continue
                with self.subTest(url, role=role):
                    self.assertEqual(self.client.post(url, fields).status_code, 403)
            self.assertEqual(self.counts(), before)
        self.client.logout()
        before = self.counts()
        for url, fields in forms.items():
            if right_of(resolve(url).view_name) is not Right.OPEN:
                with self.subTest(url, role="nobody"):
                    self.assertIn("/sign-in", self.client.post(url, fields)["Location"])
        self.assertEqual(self.counts(), before)

    def counts(self):
        """{table: rows}, but for what the door itself writes."""
        kept = {model for model in apps.get_models() if model not in {SecurityEvent, Session}}
        return {model._meta.db_table: model.objects.count() for model in kept if model._meta.managed}


class FirstRunTests(TestCase):
    def test_a_first_run_with_spoilt_fields(self):
        """No person is there yet, so the resolver's forms do not reach it."""
        form = {
            "name": "Shop",
            "time_zone": "Europe/Vienna",
            "units": "metric",
            "username": "own",
            "password": PASSWORD,
        }
        for name in ("code", *form):
            for value in fuzz.NASTY if name == "code" else fuzz.NASTY[::7]:
                setup.issue_code()
                with self.subTest(name, value=value[:20]):
                    answer = self.client.post("/first-run", {"code": "x", **form, name: value})
                    self.assertEqual(answer.status_code, 422)
        for content in ("", "[]", '{"code": 5}', "{"):
            (Path(settings.DATA_DIR) / "first-run-code.json").write_text(content)
            with self.subTest(content):
                self.assertEqual(self.client.post("/first-run", {**form, "code": "5"}).status_code, 422)
