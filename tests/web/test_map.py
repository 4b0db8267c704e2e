"""The job map's pages: zones duplicated, mirrored, split, joined, retired, spots, and the map as a file."""

import xml.etree.ElementTree as ET

import trimesh
from django.core.files.uploadedfile import SimpleUploadedFile

from emplastra.jobs.models import Zone
from emplastra.jobs.services import measures_of, revise_zone
from emplastra.logbook.models import Kind
from emplastra.say.book import Book
from emplastra.shared import clock, tasks
from emplastra.shared.models import Task
from tests.base import SQUARE, ShopCase, TaskCase, text_of, zone_state


class ZoneActTests(ShopCase):
    def act(self, what, zone=None, code=302, **values):
        """Send a zone's form of this kind; the answer."""
        zone = zone or self.shop.zone
        values = {"token": f"{what}-{clock.now()}-{len(values)}-{Zone.objects.count()}", **values}
        answer = self.client.post(f"/zones/{zone.pk}/{what}", values)
        self.assertEqual(answer.status_code, code, text_of(answer)[-600:])
        return answer

    def test_both_parts_of_a_split_zone_go_on_from_its_state(self):
        """Coated from 10:30 to 11:00; split 30 to 70; what is logged on one is not on the other."""
        zone = self.shop.zone
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        coat = self.shop.coat(-1.5, -1)
        before, _ = zone_state(zone)
        self.act("split", first="Fore", second="Aft", share="30")
        fore, aft = Zone.objects.get(name="Fore"), Zone.objects.get(name="Aft")
        areas = [z.revisions.first().area_m2 for z in (fore, aft)]
        self.assertEqual(sum(areas), zone.revisions.first().area_m2)
        self.assertAlmostEqual(areas[0], 0.3)
        for part in (fore, aft):
            state, _ = zone_state(part)
            self.assertEqual([layer.product for layer in state.surface.layers], ["Test primer"])
            self.assertEqual(state.surface.window.opens_s, before.surface.window.opens_s)
            self.assertEqual(state.coat_number, (2, 2))
        clock.advance(hours=3)
        self.shop.coat(-0.5, -0.2, zone=fore)
        self.assertIsNone(zone_state(fore)[0].plan.next_layer)
        self.assertEqual(zone_state(aft)[0].coat_number, (2, 2))
        # A correction of what was logged before the split reaches both.
        self.client.post(f"/entries/{coat.pk}/void", {"reason": "wrong zone"})
        self.assertEqual([len(zone_state(z)[0].surface.layers) for z in (fore, aft)], [1, 0])
        page = text_of(self.client.post(f"/zones/{zone.pk}/log/bared", {"token": "x", "began": "14:00", "ended": "14:10", "share": "100"}))  # fmt: skip
        self.assertIn("is retired (split into Fore and Aft)", page)
        self.assertNotIn(zone.pk, [z.pk for z in Zone.objects.in_use()])

    def test_equal_zones_at_rest_are_joined_and_others_not(self):
        other = self.shop.make_zone("Other")
        self.shop.tell(Kind.MOVED, -4, zone=other, place=self.shop.place)
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        table = [("their stacks differ", {}), ("a clock runs (bare)", {"zone": other})]
        for said, more in table:
            if more:
                self.shop.tell(Kind.BARED, -3, -2, "s-strip", zone=other)
            answer = self.act("join", code=422, other=other.pk, name="Whole")
            self.assertRegex(text_of(answer), said.replace("(", r"\(").replace(")", r"\)") + "|a clock runs")
        left, right = self.shop.make_zone("Left"), self.shop.make_zone("Right")
        self.act("join", left, other=right.pk, name="Both")
        whole = Zone.objects.get(name="Both")
        self.assertEqual(whole.revisions.first().area_m2, 2.0)
        self.assertEqual(zone_state(whole)[0].next_step.id, "s-strip")
        thick = self.shop.make_zone("Thick")
        revise_zone(thick, self.shop.user, **{**measures_of(whole), "thickness_mm": 2.0})
        self.assertIn("thickness mm differs: 1.0 and 2.0", text_of(self.act("join", whole, 422, other=thick.pk, name="x")))  # fmt: skip

    def test_mirror_and_duplicate_take_measures_and_nothing_that_was_logged(self):
        zone = self.shop.make_zone("Door, left, outer")
        self.shop.tell(Kind.BARED, -3, -2, "s-strip", zone=zone)
        self.act("mirror", zone, name="Door, right, outer")
        self.act("duplicate", zone, name="Door, left, second")
        twin, second = Zone.objects.get(name="Door, right, outer"), Zone.objects.get(name="Door, left, second")
        zone.refresh_from_db()
        self.assertEqual((zone.twin, twin.twin), (twin, zone))
        self.assertEqual((zone.map_place.view, twin.map_place.view, second.map_place.view), ("left", "right", "left"))
        self.assertEqual(twin.map_place.x, 24 - zone.map_place.x - zone.map_place.w)
        self.assertEqual([z.revisions.first().area_m2 for z in (twin, second)], [1.0, 1.0])
        self.assertEqual([len(zone_state(z)[0].facts.events) for z in (twin, second)], [0, 0])
        self.assertEqual((twin.build_ups.count(), second.build_ups.count()), (0, 1))
        self.assertNotEqual(second.build_ups.first().steps[0]["id"], "s-strip")

    def test_retiring_deleting_spots_and_places(self):
        zone = self.shop.zone
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        page = text_of(self.client.post(f"/zones/{zone.pk}/delete", follow=True))
        self.assertIn("has entries or findings, which are kept: retire it", page)
        self.assertIn("below the zone’s 1.00 m²", text_of(self.act("spot", code=422, name="Chip", area="1.5 m2")))
        self.act("spot", name="Chip", area="90 x 60 mm")
        spot = Zone.objects.get(name="Chip")
        self.assertEqual((spot.parent, spot.revisions.first().area_m2), (zone, 0.0054))
        self.assertIn("a spot has no spots", text_of(self.act("spot", spot, 422, name="x", area="1 cm2")))
        self.assertIn("a zone with spots is not split", text_of(self.act("split", code=422, first="a", second="b", share="50")))  # fmt: skip
        place = {"view": "top", "kind": "round", "x": "20", "y": "2", "w": "6", "h": "3"}
        self.assertIn("to stay on the grid", text_of(self.act("place", code=422, **place)))
        self.act("place", **{**place, "w": "4"})
        small = self.shop.make_zone("Small")
        self.assertIn("Cab side is not larger", text_of(self.act("spot-of", small, 422, parent=zone.pk)))
        revise_zone(small, self.shop.user, **{**measures_of(small), "shapes": spot.revisions.first().shapes})
        self.act("spot-of", small, parent=zone.pk)
        self.assertEqual(set(zone.spots.all()), {spot, Zone.objects.get(name="Small")})
        self.act("retire", why="cut out")
        self.assertEqual(Zone.objects.in_use().count(), 0)
        self.assertIn("this zone is retired", text_of(self.act("duplicate", code=422, name="x")))
        self.client.post(f"/zones/{zone.pk}/bring-back")
        self.assertEqual([z.name for z in Zone.objects.in_use()], ["Cab side"])

    def test_what_has_no_end_yet_keeps_a_zone_whole_and_in_use(self):
        away = self.shop.tell(Kind.AWAY, -1, contractor="x", work="y")
        for what, values in (("split", {"first": "a", "second": "b", "share": "50"}), ("retire", {"why": "gone"})):
            self.assertIn("it is away: log it back first", text_of(self.act(what, code=422, **values)))
        self.shop.tell(Kind.BACK, -0.5, away=away)
        self.act("split", first="a", second="b", share="50")

    def test_end_states_owe_no_primer(self):
        zone = self.shop.zone
        self.shop.tell(Kind.BARED, -14, -13, "s-strip")
        self.assertEqual(Book().state(zone).act.group, 1)
        for end, said, group in (("as-found", "Left as found", 5), ("bare", "Degrease", 3), ("watched", "Degrease", 3)):
            revise_zone(zone, self.shop.user, "decided", **{**measures_of(zone), "end_state": end})
            act = Book().state(zone).act
            self.assertEqual((act.group, "bare" in act.status), (group, False), end)
            self.assertIn(said, "".join(text for text, _ in act.parts))


class MapPageTests(ShopCase):
    def test_the_map_shows_views_stages_and_links_within_its_queries(self):
        self.client.post(f"/jobs/{self.shop.job.pk}/layout", {"token": "l", "layout": "cab", "length_mm": "2 m", "width_mm": "1500", "height_mm": "1200", "substrate": "steel", "thickness_mm": "1", "place": self.shop.place.pk})  # fmt: skip
        self.assertEqual(Zone.objects.count(), 10)
        left = Zone.objects.get(name="Side, left, outer")
        self.assertEqual(left.twin.name, "Side, right, outer")
        self.shop.tell(Kind.BARED, -2, -1, "s-strip")
        self.client.get(f"/jobs/{self.shop.job.pk}/")
        with self.assertNumQueries(19):
            page = self.client.get(f"/jobs/{self.shop.job.pk}/").content.decode()
        self.assertEqual(page.count('class="map-view"'), 5)
        self.assertIn(f'<a href="/zones/{left.pk}/" aria-label="Side, left, outer Survey">', page)
        self.assertIn("not seen", page)

    def test_a_closed_job_shows_all_its_zones_and_odd_numbers_are_no_error(self):
        job = self.shop.job
        other = self.shop.make_zone("Other")
        job.filing = "closed"
        job.save()
        for url in (f"/jobs/{job.pk}/", f"/jobs/{job.pk}/findings?status=all", f"/jobs/{job.pk}/report", f"/jobs/{job.pk}/verdict", f"/jobs/{job.pk}/access", f"/jobs/{job.pk}/map.svg"):  # fmt: skip
            page = self.client.get(url)
            self.assertContains(page, "Other", msg_prefix=url)
            self.assertContains(page, "Cab side", msg_prefix=url)
        for url in ("/rules/?job=abc", f"/zones/{other.pk}/photo?finding=abc", f"/jobs/{job.pk}/verdict?zone=abc", f"/jobs/{job.pk}/parts?zone=abc", "/jobs/?stage=abc&all=1"):  # fmt: skip
            self.assertEqual(self.client.get(url).status_code, 200, url)
        self.assertEqual(self.client.post("/rules/schools", {"job": "abc", "solder": "out"}).status_code, 404)

    def test_the_file_is_svg_with_every_zone_once(self):
        names = ["<b> & co", "Roof", "Side, right"]
        for name in names:
            self.shop.make_zone(name)
        answer = self.client.get(f"/jobs/{self.shop.job.pk}/map.svg")
        root = ET.fromstring(answer.content)
        svg = "{http://www.w3.org/2000/svg}"
        texts = [t.text for t in root.iter(f"{svg}text")]
        for name in [*names, "Cab side"]:
            self.assertEqual(texts.count(name), 1, texts)
        patterns = {p.get("id") for p in root.iter(f"{svg}pattern")}
        used = {e.get("fill")[5:-1] for e in root.iter() if (e.get("fill") or "").startswith("url(")}
        self.assertTrue(used and used <= patterns)
        self.assertFalse(list(root.iter(f"{svg}a")))


class MeshPageTests(TaskCase):
    """A child process measures what was sent."""

    def send(self, name, data, token="m"):
        return self.client.post(f"/zones/{self.shop.zone.pk}/mesh", {"token": token, "mesh": SimpleUploadedFile(name, data)})  # fmt: skip

    def test_what_an_earlier_run_left_is_cleared_at_the_start(self):
        left = tasks.keep(SimpleUploadedFile("a.stl", b"solid"), "stl")
        self.assertTrue(left.exists())
        tasks.clear_leftovers()
        self.assertFalse(left.exists())

    def test_area_of_the_parts_picked_becomes_the_zones(self):
        """A box of 400 x 300 x 200 mm: 0.52 m2; a cube of 100 mm: 0.06 m2, both faces 0.12 m2."""
        both = trimesh.util.concatenate([trimesh.creation.box((400, 300, 200)), trimesh.creation.box((100, 100, 100)).apply_translation((900, 0, 0))])  # fmt: skip
        url = self.send("two boxes.stl", both.export(file_type="stl")).url
        self.assertEqual(self.send("two boxes.stl", both.export(file_type="stl")).url, url)  # the same sending twice
        task = self.ended(url)
        self.assertEqual((task.state, Task.objects.count(), list(tasks.folder().iterdir())), ("done", 1, []))
        page = text_of(self.client.get(url))
        self.assertIn("400 × 300 × 200 units", page)
        wrong = self.client.post(url, {"token": "p", "unit": "m", "faces": "one", "picked": ["1"]})
        self.assertIn("choose a smaller unit", text_of(wrong))
        self.client.post(url, {"token": "q", "unit": "mm", "faces": "both", "picked": ["2"]})
        revision = self.shop.zone.revisions.first()
        self.assertAlmostEqual(revision.area_m2, 0.12)
        self.assertEqual((revision.shapes[0]["mesh"]["file"], revision.reason), ("two boxes.stl", "from the mesh two boxes.stl"))  # fmt: skip

    def test_what_cannot_be_measured_says_why(self):
        self.assertIn("must be an STL, OBJ or PLY", text_of(self.send("a.step", b"ISO")))
        url = self.send("points.obj", b"v 0 0 0\nv 1 0 0\n", "n").url
        self.ended(url)
        self.assertIn("points.obj holds no face", text_of(self.client.get(url)))
        Task.objects.update(state="running", boot="an earlier run")
        self.assertIn("which has stopped meanwhile", text_of(self.client.get(url)))
        self.client.force_login(self.shop.people["mate"])
        self.assertEqual(self.client.get(url).status_code, 404)
        self.assertEqual(self.shop.zone.revisions.first().shapes, SQUARE)
