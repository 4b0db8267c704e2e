"""Importing sheets and systems; revisions; the lan profile; migrating with a backup first."""

import json
from pathlib import Path

import yaml
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings

from emplastra.jobs.models import BuildUpVersion
from emplastra.materials.models import Product, SheetRevision, System, SystemVersion
from emplastra.materials.selectors import mended, systems
from emplastra.materials.services import add_sheet
from emplastra.shared.models import Submission
from tests.base import NOON, PRIMER, H, ShopCase, text_of, zone_state

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
        self.assertEqual(
            self.send(json.dumps({**sheet, "date": "2026-05-13"})).status_code, 302
        )  # tomorrow, east of here
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
            ("[" * 500_000, "line 1 lies deeper than 24 levels"), ("a: 1\nb: " + "x" * 4001, "line 2 lies deeper than 24 levels or is longer than 4000"),
            ("a: " + "1:" * 300_000 + "1", "longer than 4000 characters"),
            ("[" + "1," * 400_000 + "]", "more than 60000 parts"),
            ("1: a\n", "has a name that is no text"),
            (yaml.safe_dump({**PRIMER, "date": "2026-02-30"}), "there is no such day"),
            (yaml.safe_dump({**PRIMER, "date": "2026-05-14"}), "lies in the future"),
            (yaml.safe_dump({**PRIMER, "tolerance_pct": float("nan")}), "is no finite number"),
            (json.dumps({**PRIMER, "tolerance_pct": 10**400}), "no YAML or JSON file|far too large"),
            (yaml.safe_dump({**PRIMER, "product": "a\0b"}), "characters that are no text"),
            (yaml.safe_dump({**PRIMER, "pot_life": [[900, 120]]}), "pot_life"),
            (yaml.safe_dump({**PRIMER, "pot_life": [["20 C", 120]]}), "pot_life"),
            (yaml.safe_dump({**PRIMER, "limits": {"rh_pct": [None, 180]}}), "limits/rh_pct/1"),
            ("- name: Odd\n  steps: [{kind: fly}]\n", "system 1, step 1, kind"),
            ("- name: Odd\n  steps: [{kind: prime, product: Nothing}]\n", "Odd: step 1: there is no product “Nothing”"),
            (self.one_step(dft_um="100 um"), "system 1, step 1, dft_um: must be a number or nothing, not &#x27;100 um&#x27;"),
            (self.one_step(dft_um=-3), "step 1, dft_um"),
            (self.one_step(coats=2.5), "step 1, coats"),
            (self.one_step(method="by hand"), "step 1, method"),
            (self.one_step(thinner_pct=101), "step 1, thinner_pct"),
            (self.one_step(grit="120"), "step 1, grit"),
            (self.one_step(dft="75"), "has “dft”, which is no field here"),
            (yaml.safe_dump([{"name": "Odd", "max_total_um": "300", "steps": [{"kind": "strip"}]}]), "system 1, max_total_um"),
            (json.dumps([{"name": "Odd", "steps": [{"kind": "strip"}]}] * 2), "names a system twice"),
            ("- just text\n", "system 1"),
            ("just text", "document"),
        ]  # fmt: skip
        for content, message in table:
            with self.subTest(message):
                answer = self.send(content)
                self.assertEqual(answer.status_code, 422)
                self.assertRegex(answer.content.decode(), message.replace("(*name)", r"\(\*name\)"))
        self.assertEqual((SheetRevision.objects.count(), SystemVersion.objects.count()), (before, 0))

    def one_step(self, **fields):
        """A list of one good system and one with a step that has these fields."""
        step = {"kind": "prime", "product": "Test primer", "coats": 1, "dft_um": 45, **fields}
        return yaml.safe_dump([{"name": "Odd", "steps": [step]}])

    def test_a_ratio_is_no_number_to_the_base_of_60(self):
        self.send("- {name: Ratio 4:1, school: 4:1, steps: [{kind: strip}]}\n")
        self.assertEqual(systems()[0].system.school, "4:1")

    def test_rows_that_cannot_be_read_show_their_trouble_and_stop_no_page(self):
        """As another program, or an older one of ours, may have left them."""
        shop = self.shop
        shop.coat(-3, -2)
        bad = System.objects.create(name="Bad")
        step = {"kind": "prime", "product": "Test primer", "dft_um": "100 um"}
        SystemVersion.objects.create(system=bad, number=1, steps=[step])
        plan = {"zone": shop.make_zone("Roof"), "number": 2, "steps": [{"id": "a", "kind": "prime", "coats": "two"}]}
        BuildUpVersion.objects.create(**plan, who=shop.user)
        roof = plan["zone"].pk
        SheetRevision.objects.create(product=shop.primer, number=2, document={"product": 5}, sha256="bad")
        cab = shop.zone.pk
        for url, words in (
            ("/systems/", "step 1, dft_um: must be a number or nothing, not &#x27;100 um&#x27;"),
            (f"/materials/{shop.primer.pk}/", "Revision 2 of its data sheet cannot be read"),
            (f"/zones/{roof}/plan", "step 1: coats is &#x27;two&#x27;"),
            ("/", "Roof"), ("/windows/", "Cab side"), ("/jobs/", "Roof"), (f"/zones/{cab}/plan", "Cab side"), (f"/zones/{cab}/mix", ""),
            (f"/zones/{cab}/", ""), (f"/zones/{cab}/record", ""), (f"/zones/{roof}/record", ""), (f"/zones/{cab}/log/coat", ""),
            (f"/zones/{roof}/log/coat", ""),  (f"/jobs/{shop.job.pk}/", "Roof"), ("/rules/", ""),
        ):  # fmt: skip
            with self.subTest(url):
                self.assertContains(self.client.get(url), words)
        self.client.post(f"/zones/{cab}/adopt", {"system": SystemVersion.objects.get().pk})
        self.assertEqual(shop.zone.build_ups.first().number, 1)

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
        for answer in (self.client.get(f"/zones/{zone.pk}/plan"), self.client.post(f"/zones/{zone.pk}/preview", {})):
            self.assertIn("of at most 60 µm", text_of(answer))
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
