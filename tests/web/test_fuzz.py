"""Spoilt input brings an answer, never a crash. `script/fuzz 20000` gives it more of it."""

import os
from pathlib import Path

from django.conf import settings
from django.test import TestCase

from emplastra.accounts import setup
from emplastra.accounts.models import User
from emplastra.climate.models import ImportBatch
from emplastra.demo import workshop
from emplastra.jobs.models import Estimate, Finding, Job, PartOff, Watch, Zone
from emplastra.jobs.services import add_zone, measures_of
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.models import Product
from emplastra.shared import clock
from emplastra.store.models import Tin
from tests import fuzz
from tests.base import drop_caches

COUNT = int(os.environ.get("EMPLASTRA_FUZZED", "5000"))
SEED = int(os.environ.get("EMPLASTRA_FUZZ_SEED", "1"))


class FuzzTests(TestCase):
    def setUp(self):
        self.addCleanup(clock.freeze, None)
        self.addCleanup(drop_caches)
        clock.freeze(workshop.START)

    def test_every_parser(self):
        found = fuzz.fuzz_parsers(COUNT * 7 // 8, SEED)
        self.assertEqual(found, [], "\n" + "\n".join(found))

    def test_every_form(self):
        workshop.load()
        clock.freeze(workshop.START)
        owner = User.objects.get(username="owner")
        self.client.force_login(owner)

        heads = {
            "zones": Zone, "jobs": Job, "findings": Finding, "materials": Product, "parts": PartOff, "put-off": Watch, "estimates": Estimate,
            "batches": Tin, "air": ImportBatch, "entries": Entry,
        }  # fmt: skip
        ids = {
            head: list(model.objects.order_by("id").values_list("pk", flat=True)[:2]) for head, model in heads.items()
        }
        zone = Zone.objects.get(pk=ids["zones"][0])
        ids["zones"][1:] = [add_zone(zone.job, "Not planned", owner, **measures_of(zone)).pk]
        first = {kind: entry.pk for kind in Kind.values for entry in Entry.objects.of(kind)[:1]}
        ids |= {
            "findings": [Finding.objects.filter(topic="rust").last().pk],
            "pots": [first["pot"]],
            "weighings": [first["weighed"]],
            "entry": first,
        }
        found = fuzz.fuzz_forms(self.client, ids, COUNT // 24, SEED)
        self.assertEqual(found, [], "\n" + "\n".join(found))

    def test_a_first_run_with_spoilt_fields(self):
        """No person is there yet, so the resolver's forms do not reach it."""
        form = {
            "name": "Shop",
            "time_zone": "Europe/Vienna",
            "units": "metric",
            "username": "own",
            "password": "long-enough-9",
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
