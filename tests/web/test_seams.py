"""Seams and cavities through their page: how much sealer and wax, what cannot be, and the seam in the plan."""

from emplastra.jobs.services import save_build_up
from emplastra.materials.services import add_sheet
from tests.base import ShopCase, text_of
from tests.rulings import document_of

SEAM = {
    "shape": "fillet",
    "run": "2000",
    "width": "6",
    "height": "6",
    "pitch": "",
    "stitch": "",
    "open": "",
    "depth": "",
}


class SeamTests(ShopCase):
    def setUp(self):
        super().setUp()
        self.url = f"/zones/{self.shop.zone.pk}/seams"

    def ask(self, **told):
        return text_of(self.client.get(self.url, SEAM | told))

    def test_sealer_by_the_bead_and_into_the_plan(self):
        self.assertIn("measure, and it says how much", text_of(self.client.get(self.url)))
        # A fillet of 6 by 6 mm over 2 m is 36 mL, and a tenth stays in the nozzle: 40; 3.3 min at 600 mm a minute.
        self.assertIn("40 mL of sealer, 1 cartridge, about 4 min", self.ask())
        said = self.ask(pitch="100", stitch="25", open="0.5", depth="12")
        self.assertIn("The lap leaves 20 gaps of 75 mm", said)
        for told, words in (
            ({"run": "0"}, "must be at least"), ({"width": ""}, "required"), ({"pitch": "50", "stitch": "50"}, "a stitch must be longer than nothing"), ({"height": "x"}, "write"),
        ):  # fmt: skip
            self.assertIn(words, self.ask(**told), told)
        refused = self.client.post(f"{self.url}/plan", SEAM | {"token": "a"}, follow=True)
        self.assertIn("no seam sealer is on the shelf", text_of(refused))
        add_sheet(document_of("seam-sealer"))
        steps = [{"kind": "prime", "id": "p", "product": "Test primer", "dft_um": 50, "method": "brush"}, {"kind": "base", "id": "b", "product": "x", "method": "hvlp"}]  # fmt: skip
        save_build_up(self.shop.zone, self.shop.user, steps, 1)
        for token in ("b", "b", "c"):  # a double tap, then once more: one seam
            self.client.post(f"{self.url}/plan", SEAM | {"token": token})
        plan = self.shop.zone.build_ups.first().steps
        self.assertEqual([s["kind"] for s in plan], ["prime", "seam-seal", "base"])
        seam = plan[1]
        # Half of 6 mm over the whole width.
        self.assertEqual((seam["length_mm"], seam["width_mm"], seam["dft_um"]), (2000, 6, 3000))
        self.assertIn("tooled", seam["note"])

    def test_wax_by_the_lance(self):
        told = {"length": "1800", "around": "400", "film": "100", "solids": "40", "holes": "1", "reach": "600"}
        said = text_of(self.client.get(self.url, told))
        # 0.72 m2 of 250 µm wet are 180 mL, and 30 % drip out: 257; 1.8 m want two holes at 0.6 m to each side.
        self.assertIn("257 mL of wax by 2 holes, 1 more than there are", said)
        self.assertIn("probe every drain after it has dripped", said)
        self.assertIn("no flame, spark or heater near", said)
        for wrong, words in (
            ({"solids": "0"}, "greater than or equal to 1"),
            ({"around": ""}, "required"),
            ({"film": "0"}, "must be at least"),
        ):
            self.assertIn(words, text_of(self.client.get(self.url, told | wrong)), wrong)

    def test_texture_with_its_card_its_masks_and_what_goes_over_it(self):
        self.assertIn("No chip coat, underbody coat or textured coating", text_of(self.client.get(self.url)))
        add_sheet(document_of("chip-coat", "ready", {"overpaintable": True, "methods": ["conventional", "brush"]}))
        said = text_of(self.client.get(self.url))
        self.assertIn("a card first", said)
        self.assertIn("painted over with what stops moisture", said)
        steps = [{"kind": "prime", "id": "p", "product": "Test primer", "dft_um": 50, "method": "brush"}, {"kind": "base", "id": "b", "product": "x", "method": "hvlp"}]  # fmt: skip
        save_build_up(self.shop.zone, self.shop.user, steps, 1)
        for token in ("a", "a", "b"):
            answer = self.client.post(f"{self.url}/texture", {"token": token}, follow=True)
        self.assertIn("has a texture still to come", text_of(answer))
        plan = self.shop.zone.build_ups.first().steps
        self.assertEqual([s["kind"] for s in plan], ["prime", "inspect", "mask", "texture", "base"])
        self.assertIn("trim fitted and masked before the last passes", plan[2]["note"])
        self.assertEqual((plan[3]["product"], plan[3]["dft_um"]), ("Test chip-coat", 50))
