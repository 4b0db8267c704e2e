"""Long and many: lists of hundreds are shown in part, narrowed by words and paged; names of 60 characters."""

import re
from datetime import timedelta

from emplastra.core.piece.job_map import Cells, Tile, arrange, grid_of
from emplastra.core.text import shortened
from emplastra.jobs.models import Job
from emplastra.logbook.models import EntryZone, Kind
from emplastra.logbook.services import Told, log
from tests.base import NOON, ShopCase, text_of

LONG = "A face whose name is as long as sixty characters allow, no. {:02d}"


class ManyZonesTests(ShopCase):
    def setUp(self):
        super().setUp()
        self.other = Job.objects.create(name="Ölkanne")
        self.zones = [self.shop.make_zone(LONG.format(n), self.other if n >= 60 else None) for n in range(64)]
        for zone in self.zones:
            self.shop.tell(Kind.BARED, -2, -1, "s-strip", zone=zone)

    def rows(self, url):
        """Names of the zones listed on a page."""
        main = self.client.get(url).content.decode().split("<main")[1].split("Latest</h2>")[0]
        return set(re.findall(r"Cab side|A face whose name[^<]{10,60}no\. \d\d", main))

    def test_lists_show_thirty_then_all_and_are_narrowed_by_words(self):
        for url in ("/", "/log/", "/jobs/"):
            with self.subTest(url):
                page = text_of(self.client.get(url))
                self.assertEqual(len(self.rows(url)), 30)
                self.assertIn("Show the other 35", page)
                self.assertEqual(len(self.rows(url + "?all=1")), 65)
                self.assertEqual(self.rows(url + "?only=NO.+17"), {LONG.format(17)})
                self.assertEqual(self.rows(url + "?only=%C3%B6lkanne+6"), {LONG.format(n) for n in range(60, 64)})
                self.assertIn("“no such”", text_of(self.client.get(url + "?only=no+such")))
        self.assertIn("only=no.+17", self.client.get("/?only=no.+17").content.decode().split('id="bench-rows"')[1][:80])

    def test_mix_folds_no_more_than_it_shows(self):
        for zone in self.zones:
            self.shop.tell(Kind.DEGREASED, -0.2, step="s-wipe", zone=zone)
        self.assertEqual(len(self.rows("/mix/")), 30)
        self.assertIn("Show the rest", text_of(self.client.get("/mix/")))
        self.assertEqual(len(self.rows("/mix/?all=1")), 65)
        self.assertEqual(self.rows("/mix/?only=no.+05"), {LONG.format(5)})

    def test_a_map_of_many_bears_numbers_and_a_list_with_them(self):
        page = self.client.get(f"/jobs/{self.shop.job.pk}/").content.decode()
        listed = re.findall(r'class="m-number">(\d+)</span> ([^<]+)</b>', page)
        self.assertEqual(listed, [(str(n + 1), z.name) for n, z in enumerate([self.shop.zone, *self.zones[:60]])])
        for number, name in listed[:5]:
            spoken = re.search(rf'aria-label="{number}: {name} \w+">(.*?)</a>', page)
            self.assertIn(f">{number}</text>", spoken[1])
        few = self.client.get(f"/jobs/{self.other.pk}/").content.decode()
        self.assertNotIn("m-number", few)


class MapOfManyTests(ShopCase):
    def test_faces_keep_their_relative_sizes_and_use_the_sheet(self):
        tiles = [Tile(n, f"Face {n}", "Metal", Cells("left", "panel", 4 + n % 8, 2 + n // 8, 1 + n % 2, 1), n + 1) for n in range(48)]  # fmt: skip
        view = arrange(tiles)[0]
        wide = {d.outline[1].w / d.tile.cells.w for d in view.drawn}
        self.assertEqual({round(w, 6) for w in wide}, {30.0})  # 9 of 24 columns: the largest cell there is
        self.assertEqual(len(view.drawn), 48)
        # 22 columns from the third on, 9 rows from the second: 588 / 22 wide each, from the left edge to the right one.
        apart = [Tile(n, "x", "Metal", Cells("left", "panel", 2 + n % 22, 1 + n // 22 * 4, 1, 1), n + 1) for n in range(66)]  # fmt: skip
        boxes = [d.outline[1] for d in arrange(apart)[0].drawn]
        self.assertAlmostEqual(min(box.x for box in boxes), 4)
        self.assertAlmostEqual(max(box.x + box.w for box in boxes), 592)
        self.assertAlmostEqual(min(box.y for box in boxes), 28)
        self.assertAlmostEqual(max(box.y + box.h for box in boxes), 28 + 9 * 588 / 22)
        for drawn in arrange(apart)[0].drawn:  # a number stands in the middle of its face
            box, label = drawn.outline[1], drawn.label
            self.assertAlmostEqual(label.x + label.w / 2, box.x + box.w / 2)
            self.assertAlmostEqual(label.y + label.h / 2, box.y + box.h / 2)
        for count, lines in ((40, ("x", "Metal")), (41, ("1",))):  # over forty
            some = [
                Tile(n, "x", "Metal", Cells("left", "panel", n % 8 * 3, n // 8 * 2, 3, 2), n + 1) for n in range(count)
            ]
            with self.subTest(count):
                self.assertEqual(next(d.lines for d in arrange(some)[0].drawn if d.tile.key == 0), lines)
        full = [Tile(n, "x", "Metal", Cells("top", "panel", n % 24, n // 24, 1, 1), n + 1) for n in range(288)]
        grid, high = grid_of(full, 4.0)
        self.assertAlmostEqual(grid.cell, 588 / 24)  # 596 units wide, 4 at each side
        self.assertEqual(arrange(full)[0].unnamed, 0)  # three digits stand in a single cell
        self.assertAlmostEqual(high, 12 * 588 / 24)

    def test_names_are_shortened_in_their_middle(self):
        name = LONG.format(7)
        for room, kept in ((80, name), (20, "A face who…w, no. 07"), (3, "A…7"), (2, "A…")):
            with self.subTest(room):
                self.assertEqual(shortened(name, room), kept)


class YearsOfEntriesTests(ShopCase):
    """A zone with 130 entries over three years: 50 a page, the newest page first."""

    def setUp(self):
        super().setUp()
        for n in range(129):  # the first entry is the zone's move
            at = NOON - timedelta(days=8 * (129 - n))
            log(self.shop.user, Told("note", at, at, ((self.shop.zone, 1.0, ""),), {}, f"turn {n:03d}"), True)
        self.url = f"/zones/{self.shop.zone.pk}/record"

    def ids(self, url):
        """Entries shown on a page, in order."""
        return [int(pk) for pk in re.findall(r'<li id="entry-(\d+)"', self.client.get(url).content.decode())]

    def test_pages_hold_each_entry_once_in_order(self):
        told = EntryZone.objects.filter(zone=self.shop.zone).order_by("entry__ended", "entry_id")
        every = list(told.values_list("entry_id", flat=True))
        self.assertEqual(len(every), 130)
        pages = [self.ids(f"{self.url}?page={n}") for n in (1, 2, 3)]
        self.assertEqual([len(page) for page in pages], [50, 50, 30])
        self.assertEqual([pk for page in pages for pk in page], every)
        self.assertEqual(self.ids(self.url), pages[2])
        self.assertEqual(self.ids(self.url + "?all=1"), every)
        self.assertEqual(self.ids(f"{self.url}?entry={every[60]}"), pages[1])
        job = f"/jobs/{self.shop.job.pk}/record"
        self.assertEqual(self.ids(job), pages[2])
        self.shop.make_zone("Another")
        self.assertEqual(self.ids(job), pages[0])  # of several zones the first comes first
        for odd in ("page=99", "page=x", "entry=0", "entry=99999999"):
            with self.subTest(odd):
                self.assertEqual(self.ids(f"{self.url}?{odd}"), pages[2])

    def test_records_of_many_jobs_stand_on_pages_or_on_one(self):
        Job.objects.bulk_create(Job(name=f"Wagon {n:02d}") for n in range(40))
        for url, count in (("/record/", 30), ("/record/?page=2", 11), ("/record/?all=1", 41), ("/record/?only=wagon+0", 13)):  # 00 to 09, 10, 20, 30  # fmt: skip
            with self.subTest(url):
                self.assertEqual(self.client.get(url).content.decode().count(">JSON</a>"), count)

    def test_narrowed_by_kind_and_words(self):
        self.assertEqual(len(self.ids(self.url + "?only=TURN+12")), 11)  # 120 to 128, 012 and 112
        self.assertEqual(len(self.ids(self.url + "?kind=moved")), 1)
        self.assertIn("Nothing like that", text_of(self.client.get(self.url + "?kind=moved&only=turn")))
        page = text_of(self.client.get("/log/?kind=note&who=bench&page=2"))
        self.assertIn("51 to 100 of 129", page)
        self.assertNotIn("All on one page", page)  # there that asks for all zones
        self.assertIn("Nothing like that", text_of(self.client.get("/log/?who=owner")))
        self.assertIn("2023", text_of(self.client.get("/log/?page=3")))
