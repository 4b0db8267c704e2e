"""A colour group through pages: its card, its number on every face, what a lamp shows, a count that is wrong."""

import re

from emplastra.core.colour.hiding import paint_of
from emplastra.core.colour.lab import light_of_hex
from emplastra.core.piece.job_map import Cells
from emplastra.jobs.models import Colour, ColourCard, Zone
from emplastra.jobs.services import add_zone, measures_of, place, save_build_up
from emplastra.logbook.models import Kind
from emplastra.materials.models import Product
from emplastra.materials.services import add_sheet
from tests.base import ShopCase, text_of, zone_state

CARD = "1 50 40 20\n2 46 44 22\n3 42 48 24\n4 38 52 26\nsample 42.2 47.8 24.1"


def sheet(name, kind, colour, **more):
    made = {
        "format": "emplastra-sheet/1", "product": name, "kind": kind, "form": "ready", "source": "this test", "date": "2026-01-01", "colour": colour,
        "components": [{"key": "tin", "name": "Tin", "role": "ready", "density_g_ml": 1.0, "solids_pct": 20}],
        "film": {"min_um": 5, "typical_um": 10, "max_um": 20, "coats": 2}, "methods": ["hvlp"], "times": {"flash": [[0, 10], [40, 10]]},
        "windows": [{"next": "any", "opens": [[0, 10], [40, 10]], "closes": [[0, 1440], [40, 1440]]}],
    }  # fmt: skip
    add_sheet(made | more)


class ColourTests(ShopCase):
    """Two faces of one group: surfacer, two ground coats, mid-coats as chosen, clear."""

    def setUp(self):
        super().setUp()
        sheet("Grey", "sealer", "#8f9694")
        sheet("Ground", "base-coat", "#b5402f", hides={"contrast_pct": 98, "at_um": 20})
        sheet("Mid", "mid-coat", "#86281f", translucent=True)
        sheet("Clear", "clear-coat", "#ffffff")
        self.faces = [self.shop.zone, self.shop.make_zone("Door")]
        rows = (("seal", "Grey", 1), ("base", "Ground", 2), ("mid", "Mid", 2), ("clear", "Clear", 2))
        steps = [{"kind": k, "id": k, "product": p, "coats": n, "dft_um": 10, "method": "hvlp"} for k, p, n in rows]
        for zone in self.faces:
            save_build_up(zone, self.shop.user, steps, 1)
        self.url, self.sent = f"/jobs/{self.shop.job.pk}/colour", 0

    def coat(self, zone, step, hour, share=1.0, step_id=None):
        product = Product.objects.get(name={"seal": "Grey", "base": "Ground", "mid": "Mid", "clear": "Clear"}[step])
        told = {"product": product, "revision": product.revisions.first(), "method": "hvlp", "plan_um": 10.0}
        return self.shop.tell(Kind.COAT, hour, hour + 0.02, step_id or step, share, zone=zone, **told)

    def post(self, path, group="red", **told):
        self.sent += 1
        return self.client.post(f"{self.url}/{path}?group={group}", {"token": f"c{self.sent}", "group": group} | told)

    def page(self):
        return text_of(self.client.get(self.url))

    def grouped(self):
        ticks = {f"zone_{zone.pk}": "on" for zone in self.faces}
        answer = self.client.post(f"{self.url}/group", {"token": "g", "group": "red"} | ticks)
        self.assertEqual(answer.status_code, 302)

    def test_a_group_a_card_a_number_on_every_face(self):
        self.assertIn("No colour group yet", self.page())
        self.assertIn(
            "tick at least one face", text_of(self.client.post(f"{self.url}/group", {"token": "x", "group": "red"}))
        )
        self.grouped()
        self.assertIn("No number of mid-coats is chosen", self.page())
        told = {
            "name": "Livery red",
            "formula": "LR 31",
            "variant": "darker",
            "batch": "B-7",
            "kept": "shelf 3",
            "mids": "",
            "limit": "1.0",
        }
        self.assertEqual(self.post("tell", **told).status_code, 302)
        for limit, words in (("0", "May differ by"), ("x", "May differ by")):
            self.assertIn(words, text_of(self.post("tell", **told | {"limit": limit})))
        one_patch = self.post("card", text="4 38 52 26", made="2026-05-11", coat_um="6", over="Ground")
        self.assertIn("at least two numbers of mid-coats", text_of(one_patch))
        self.assertContains(one_patch, "4 38 52 26", status_code=422)
        out = self.post("card", text=CARD.replace("50 40", "150 40"), made="2026-05-11", coat_um="6", over="Ground")
        self.assertIn("L must be from 0 to 100", text_of(out))
        self.assertEqual(ColourCard.objects.count(), 0)
        self.assertEqual(self.post("card", text=CARD, made="2026-05-11", coat_um="6", over="Ground").status_code, 302)
        said = self.page()
        self.assertIn("Nearest to the sample: 3", said)
        card = ColourCard.objects.get()
        self.post("choose", mids="3", card=card.pk)
        self.post("choose", mids="9", card=card.pk)  # no such patch: nothing is chosen
        row = Colour.objects.order_by("pk").last()
        self.assertEqual((row.mids, row.card, row.batch, row.formula), (3, card, "B-7", "LR 31"))
        for zone in self.faces:
            coats = {s["kind"]: s["coats"] for s in zone.build_ups.first().steps}
            self.assertEqual(coats["mid"], 3, zone.name)
        # Told by eye it is planned as well, and rests on no card.
        self.post("tell", **told | {"mids": "4"})
        self.assertEqual({s["coats"] for z in self.faces for s in z.build_ups.first().steps if s["kind"] == "mid"}, {4})
        self.assertIsNone(Colour.objects.order_by("pk").last().card)
        self.post("choose", mids="3", card=card.pk)
        said = self.page()
        self.assertIn("3 mid-coats chosen, on 0 of 2 faces so far", said)
        self.assertIn("Looks the same while a coat is", said)
        for words in ("LR 31", "darker", "B-7", "shelf 3"):
            self.assertIn(words, said)

    def test_hidden_is_said_by_film_over_what_lies_there(self):
        self.grouped()
        self.coat(self.faces[0], "seal", -6)
        self.coat(self.faces[0], "base", -5)
        paint = paint_of("Ground", light_of_hex("#b5402f"), 0.98, 20.0)
        grey = light_of_hex("#8f9694")
        self.assertLess(paint.hidden(grey, 10.0), 0.98)
        said = self.page()
        self.assertIn(f"{100 * paint.hidden(grey, 10.0):.0f} % hidden , 1 more", said)
        self.coat(self.faces[0], "base", -4)
        self.assertGreaterEqual(paint.hidden(grey, 20.0), 0.98)
        self.assertIn(f"{100 * paint.hidden(grey, 20.0):.0f} % hidden", self.page())
        # A ground whose sheet does not say how far it hides: what would tell is said.
        sheet("Plain", "base-coat", "#b5402f")
        steps = [
            s | ({"product": "Plain"} if s["kind"] == "base" else {}) for s in self.faces[1].build_ups.first().steps
        ]
        save_build_up(self.faces[1], self.shop.user, steps, 2)
        self.coat(self.faces[1], "seal", -6)
        self.assertIn("spray a coat on a black and white card", self.page())

    def test_what_a_lamp_shows_is_a_spot_and_joins(self):
        self.grouped()
        face = self.faces[0]
        self.coat(face, "seal", -6)
        for hour in (-5, -4):
            self.coat(face, "base", hour)
        lit = f"/zones/{face.pk}/log/lit"
        first = {"began": "11:50", "ended": "11:55", "along": ["edges"], "shows": "", "unseen": "under the lip"}
        answer = self.client.post(lit, first | {"token": "l1", "spit": "left edge; the hinge", "scratch": ""})
        self.assertEqual(answer.status_code, 302)
        self.assertEqual(face.findings.filter(choice="spit").count(), 2)
        said = self.page()
        self.assertIn("and 1 more", said)
        self.assertIn("not seen: under the lip", said)
        self.assertIn("bring it back to full coverage", text_of(self.client.get(f"/zones/{face.pk}/")))
        for n, finding in enumerate(face.findings.filter(choice="spit").order_by("pk")):
            for again in range(2):  # a second tap makes no second spot
                self.client.post(f"{self.url}/mend", {"token": f"m{n}{again}", "finding": finding.pk})
        self.assertEqual(Zone.objects.filter(parent=face).count(), 2)
        spot = Zone.objects.filter(parent=face).first()
        steps = spot.build_ups.first().steps
        self.assertEqual([(s["kind"], s["coats"]) for s in steps], [("abrade", 1), ("degrease", 1), ("base", 2)])
        self.assertEqual(len(zone_state(spot)[0].surface.layers), 3)
        self.shop.tell(Kind.KEYED, -0.05, -0.04, steps[0]["id"], zone=spot, grit="P800")
        for hour in (-0.03, -0.01):
            self.coat(spot, "base", hour, step_id=steps[2]["id"])
        self.client.post(lit, first | {"token": "l2", "spit": "", "scratch": "", "began": "12:00", "ended": "12:00"})
        said = self.page()
        self.assertIn("a lamp shows nothing any more", said)
        self.assertIn("joins its face at mid-coat 1", said)
        self.assertNotIn("bring it back to full coverage", text_of(self.client.get(f"/zones/{face.pk}/")))

    def test_a_count_that_is_wrong_stops_the_clear_everywhere(self):
        self.grouped()
        self.post("choose", mids="2", card="")
        for zone, mids in zip(self.faces, (3, 2), strict=True):
            self.coat(zone, "seal", -6)
            for hour in (-5, -4):
                self.coat(zone, "base", hour)
            for n in range(mids):
                self.coat(zone, "mid", -3 + n / 2)
        said = self.page()
        self.assertIn("3 on Cab side , 2 chosen. No clear on any face until they are equal.", said)
        for zone, words in zip(self.faces, ("3 mid-coats on it, 2 chosen", "3 on Cab side, 2 chosen"), strict=True):
            self.assertIn(words, text_of(self.client.get(f"/zones/{zone.pk}/")))
        self.assertIn("Ground it again", said)
        self.post("ground-again", zone=self.faces[0].pk)
        steps = self.faces[0].build_ups.first().steps
        self.assertEqual([s["kind"] for s in steps], ["seal", "base", "mid", "base", "mid", "clear"])
        again = [s for s in steps if s["kind"] == "base"][1]
        self.coat(self.faces[0], "base", -0.3, step_id=again["id"])
        self.assertIn("2 mid-coats chosen, on 1 of 2 faces so far", self.page())
        self.assertNotIn("settle that before clear", text_of(self.client.get(f"/zones/{self.faces[1].pk}/")))

    def test_what_lies_under_and_what_another_ground_would_do(self):
        self.grouped()
        self.assertIn("What another ground would do cannot be said", self.page())
        self.post("card", text=CARD, made="2026-05-11", coat_um="10", over="Ground")
        self.post("choose", mids="3", card=ColourCard.objects.get().pk)
        said = self.page()
        for shade in ("white", "light grey", "grey", "oxide red", "black"):
            self.assertRegex(said, rf"{shade} [\d.]+")
        # Over the ground that it was sprayed over, it is the card's own colour; over grey it is not.
        own, other = (float(re.search(rf"{name} ?: ([\d.]+) off", said)[1]) for name in ("Ground", "Grey"))
        self.assertLess(own, other)
        # One door is grounded, the other's mid-coats would lie on grey: two undertones.
        for zone in self.faces:
            self.coat(zone, "seal", -6)
        self.coat(self.faces[0], "base", -5)
        said = self.page()
        self.assertIn("2 undertones", said)
        told = {"name": "", "formula": "", "variant": "", "batch": "", "kept": "", "mids": "3", "limit": "1"}
        self.post("tell", **told, undertone="Ground", awaited="")
        self.assertIn("none in the store ; say by when it comes", self.page())
        self.post("tell", **told, undertone="Ground", awaited="2026-05-20")
        self.assertIn("awaited by 20 May 2026", self.page())
        # Without its ground in the plan, the mid-coat would land on grey: said where it is to be done.
        steps = [s for s in self.faces[1].build_ups.first().steps if s["kind"] != "base"]
        save_build_up(self.faces[1], self.shop.user, steps, self.faces[1].build_ups.first().number)
        self.assertIn("Ground was chosen", text_of(self.client.get(f"/zones/{self.faces[1].pk}/")))

    def test_blending_into_sound_paint_beside_it(self):
        self.grouped()
        measures = measures_of(self.faces[0]) | {"substrate": "old film", "colour_group": ""}
        panel = add_zone(self.shop.job, "Wing", self.shop.user, **measures)
        for zone, x in ((self.faces[0], 0), (panel, 4), (self.faces[1], 12)):
            place(zone, Cells("top", "panel", x, 0, 4, 4))
        url = f"{self.url}/blend"
        self.assertIn("Wing : how far is it from red?", text_of(self.client.get(url)))
        told = {"group": "red", "panel": panel.pk, "off": "", "lab": "", "broken": ""}
        for lab, words in (
            ("34 44", "write three figures"),
            ("134 44 26", "L must be from 0 to 100"),
            ("34 44 26", "there is no card"),
        ):
            self.assertIn(words, text_of(self.client.get(url, told | {"lab": lab})), lab)
        self.assertIn("less than or equal to 30", text_of(self.client.get(url, told | {"off": "31"})))
        self.post("card", text=CARD, made="2026-05-11", coat_um="10", over="Ground")
        self.post("choose", mids="3", card=ColourCard.objects.get().pk)
        self.post(
            "tell", name="", formula="", variant="", batch="B-7", kept="", mids="3", limit="1", undertone="", awaited=""
        )
        # 3 units under the sky: faded over 300 mm of its 1000.
        said = text_of(self.client.get(url, told | {"off": "3"}))
        self.assertIn("Colour faded half way, clear to the panel’s end, colour ends 300 mm from the joint", said)
        self.assertIn("Dents there are pressed out, not filled", said)
        # 12 min of keying, 8 for each m² of colour (0.3), 6 of clear, 20 of masking: 40 min at 60 € an hour.
        self.assertIn("about 40 min, 40 € of hands", said)
        plan = {"zone": panel.pk, "off": "3", "broken": "", "stop": "half"}
        self.post("blend/plan", **plan | {"stop": "joint"})
        first = panel.build_ups.first()
        self.assertIsNone(first)
        self.post("blend/plan", **plan)
        steps = panel.build_ups.first().steps
        self.assertEqual(
            [s["kind"] for s in steps], ["degrease", "abrade", "degrease", "mask", "base", "mid", "clear", "polish"]
        )
        self.assertEqual([s["area_m2"] for s in steps[4:7]], [0.3, 0.3, 1.0])
        self.assertEqual(steps[5]["coats"], 3)
        self.assertIn("batch B-7", steps[4]["note"])
        # A coat on its part is all of that step, and lies on 30 % of the panel.
        coat = self.client.post(f"/zones/{panel.pk}/log/coat", {"token": "b", "source": "product:Ground", "step": steps[4]["id"], "method": "hvlp", "share": "100", "began": "11:50", "ended": "11:55", "thinner_pct": "0", "reducer": "", "wft_um": ""})  # fmt: skip
        self.assertEqual(coat.status_code, 302, text_of(coat)[:2000])
        state = zone_state(panel)[0]
        self.assertAlmostEqual(state.surface.layers[-1].share, 0.3)
        self.assertEqual(next(s.coats_done for s in state.plan.states if s.step.kind == "base"), 1)
        self.post("blend/plan", **plan)
        self.assertEqual(panel.build_ups.count(), 1)
