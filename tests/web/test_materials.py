"""Importing sheets and systems; revisions; the lan profile; migrating with a backup first."""

import json
from pathlib import Path

import yaml
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings

from emplastra.jobs.models import BuildUpVersion
from emplastra.materials.models import Product, SheetRevision, SystemVersion
from emplastra.materials.selectors import mended, systems
from emplastra.materials.services import add_sheet
from emplastra.shared.models import Submission
from tests.base import NOON, PRIMER, H, ShopCase, zone_state

ROOT = Path(__file__).resolve().parents[2]


class ImportTests(ShopCase):
    def send(self, content, why="maker"):
        data = content if isinstance(content, bytes) else content.encode()
        values = {
            "token": f"m{Submission.objects.count()}-{len(data)}",
            "why": why,
            "file": SimpleUploadedFile("s.yaml", data),
        }
        return self.client.post("/materials/import", values)

    def test_a_sheet_by_yaml_and_by_json(self):
        sheet = {**PRIMER, "product": "Another primer"}
        self.assertEqual(self.send(yaml.safe_dump(sheet, sort_keys=False)).status_code, 302)
        self.assertEqual(self.send(json.dumps({**sheet, "date": "2026-02-02"})).status_code, 302)
        self.assertEqual([r.number for r in Product.objects.get(name="Another primer").revisions.all()], [2, 1])

    def test_what_is_refused(self):
        before = SheetRevision.objects.count()
        bad_solids = {**PRIMER, "components": [{**PRIMER["components"][0], "solids_pct": 0}, *PRIMER["components"][1:]]}
        bad_ratio = {**PRIMER, "variants": [{**PRIMER["variants"][0], "parts": {"base": 4, "hardener": 0}}]}
        table = [
            (yaml.safe_dump(bad_solids), "solids by volume must be above 0 %"),
            (yaml.safe_dump(bad_ratio), "variants/0/parts/hardener"),
            ("a: &a [1]\nb: [*a, *a]\n", "aliases (*name) are not taken"),
            ("!!python/object/apply:os.system ['true']", "this is no YAML or JSON file"),
            (b"\xff\xfe\x00", "this is no YAML or JSON file"),
            ("x" * 1_000_002, "larger than 1 MB"),
            ("- name: Odd\n  steps: [{kind: fly}]\n", "Odd: step 1: kind must be one of"),
            ("- name: Odd\n  steps: [{kind: prime, product: Nothing}]\n", "there is no product “Nothing”"),
            ("- just text\n", "give name, school and a list of steps"),
            ("just text", "document"),
        ]
        for content, message in table:
            with self.subTest(message):
                self.assertContains(self.send(content), message, status_code=422)
        self.assertEqual((SheetRevision.objects.count(), SystemVersion.objects.count()), (before, 0))

    def test_systems_and_their_adoption(self):
        steps = [
            {"kind": "strip"},
            {"kind": "prime", "product": "Test primer", "coats": 1, "dft_um": 45, "method": "brush"},
        ]
        self.send(yaml.safe_dump([{"name": "One coat", "school": "plain", "max_total_um": 60, "steps": steps}]))
        version = systems()[0]
        zone = self.shop.make_zone("Roof")
        self.client.post(f"/zones/{zone.pk}/adopt", {"system": version.pk})
        plan = BuildUpVersion.objects.filter(zone=zone).first()
        self.assertEqual((plan.number, [s["kind"] for s in plan.steps]), (2, ["strip", "prime"]))
        self.assertEqual(len({s["id"] for s in plan.steps}), 2)
        self.assertContains(self.client.get(f"/zones/{zone.pk}/"), "of at most 60 µm")
        self.assertContains(self.client.post(f"/zones/{zone.pk}/preview", {}), "of at most 60 µm")
        self.client.post(f"/zones/{self.shop.zone.pk}/adopt", {"system": version.pk})
        self.assertEqual(self.shop.zone.build_ups.first().number, 2)

    def test_a_logged_step_is_not_lost_to_another_system(self):
        self.shop.coat(-3, -2)
        steps = [{"kind": "strip"}]
        self.send(yaml.safe_dump([{"name": "Bare", "steps": steps}]))
        answer = self.client.post(f"/zones/{self.shop.zone.pk}/adopt", {"system": systems()[0].pk}, follow=True)
        self.assertContains(answer, "cannot be removed")
        self.assertEqual(self.shop.zone.build_ups.first().number, 1)


class RevisionTests(ShopCase):
    """A coat ended at 10:00 under revision 1, which opens after 2 h."""

    def setUp(self):
        super().setUp()
        self.shop.coat(-3, -2)

    def opens_after_h(self):
        state, _ = zone_state(self.shop.zone)
        return round((state.surface.lead.opens_s - (NOON - 2 * H).timestamp()) / 3600, 3)

    def revise(self, minutes, why):
        window = {**PRIMER["windows"][0], "opens": [[0, minutes], [40, minutes]]}
        return add_sheet({**PRIMER, "windows": [window]}, why)

    def test_the_makers_new_sheet_leaves_old_coats_alone(self):
        self.revise(300, SheetRevision.Why.MAKER)
        self.assertEqual(self.opens_after_h(), 2.0)

    def test_our_typing_error_is_mended_for_old_coats_too(self):
        self.revise(300, SheetRevision.Why.TYPING)
        self.assertEqual(self.opens_after_h(), 5.0)
        self.revise(360, SheetRevision.Why.TYPING)
        self.assertEqual(self.opens_after_h(), 6.0)
        self.revise(600, SheetRevision.Why.MAKER)
        self.assertEqual(self.opens_after_h(), 6.0)
        self.assertEqual(len(mended()), 2)

    def test_the_same_document_twice_is_one_revision(self):
        self.assertEqual(add_sheet(PRIMER).pk, self.shop.primer.revisions.get().pk)


class PrivateNetworkTests(ShopCase):
    @override_settings(PROFILE="lan")
    def test_lan_answers_private_addresses_only_and_says_so(self):
        for address, status in (
            ("192.168.1.20", 200),
            ("10.0.0.4", 200),
            ("127.0.0.1", 200),
            ("172.32.0.1", 403),
            ("8.8.8.8", 403),
        ):
            with self.subTest(address):
                answer = self.client.get("/", REMOTE_ADDR=address)
                self.assertEqual(answer.status_code, status)
        self.assertContains(self.client.get("/", REMOTE_ADDR="10.0.0.4"), "Plain HTTP on the workshop’s own network")
