"""Every clock through entries, Bench and Windows; what is kept in memory against what is made anew."""

import copy
import re

from django.db import connection
from django.test.utils import CaptureQueriesContext

from emplastra.climate.models import Forecast, ImportBatch, Place
from emplastra.climate.services import import_forecast, import_log, withdraw, withdraw_forecast
from emplastra.jobs.models import Zone
from emplastra.jobs.services import add_zone, save_build_up
from emplastra.logbook import services
from emplastra.logbook.models import Entry, Kind
from emplastra.logbook.running import running_absence, running_prep
from emplastra.logbook.services import Told
from emplastra.materials.models import Product
from emplastra.materials.services import add_sheet
from emplastra.say.book import Book
from emplastra.shared import clock
from emplastra.state.facts import load
from emplastra.state.lifeline import Scale, clock_changes, ticks
from emplastra.state.selectors import state_of
from tests.base import NOON, PRIMER, SQUARE, H, ShopCase, drop_caches, text_of, zone_state
from tests.surfaces import clocks_of

PREP = {
    "format": "emplastra-sheet/1", "product": "Test prep", "kind": "acid-prep", "form": "ready", "source": "this test", "date": "2026-01-01",
    "components": [{"key": "p", "name": "Prep", "role": "ready", "density_g_ml": 1.1}],
    "times": {"contact": [[0, 30], [40, 30]]}, "hazards": ["acid"],
}  # fmt: skip
STEPS = [
    {"kind": "strip", "id": "s-strip"},
    {"kind": "acid-prep", "id": "s-prep", "product": "Test prep"},
    {"kind": "rinse", "id": "s-rinse"},
    {"kind": "prime", "id": "s-prime", "product": "Test primer", "coats": 2, "dft_um": 50, "method": "brush"},
]
M = 1 / 60


class TreatmentTests(ShopCase):
    def setUp(self):
        super().setUp()
        add_sheet(PREP)
        self.prep = Product.objects.get(name="Test prep")
        save_build_up(self.shop.zone, self.shop.user, STEPS, 1)
        self.shop.tell(Kind.BARED, -1.5, -1, "s-strip")

    def prepped(self, began=-0.2, ended=-0.1):
        return self.shop.tell(Kind.PREPPED, began, ended, "s-prep", product=self.prep, revision=self.prep.revisions.first())  # fmt: skip

    def test_wetted_by_one_tap_and_only_once(self):
        self.prepped()
        zone = self.shop.zone.pk
        page = text_of(self.client.get("/"))
        self.assertRegex(page, r"Wet again\s+in 4 min\s*\. Rinse at 12:18")
        self.assertIn("Keep it wet Cab side, Test prep", page)  # the band says what the row says
        for _ in range(2):
            answer = self.client.post("/acts", {"token": "one", "act": f"do=wetted&zone={zone}"}, follow=True)
            self.assertContains(answer, "Cab side: wetted, 12:00")
        self.assertEqual(Entry.objects.of(Kind.WETTED).count(), 1)
        self.assertContains(answer, f"/entries/{Entry.objects.of(Kind.WETTED).get().pk}/undo")
        self.assertRegex(text_of(self.client.get("/")), r"Wet again\s+in 10 min\s*\. Rinse at 12:18")
        clock.advance(minutes=16)
        self.assertRegex(text_of(self.client.get("/")), r"May have dried\.\s+Wet it again: its time starts anew")
        self.client.post("/acts", {"token": "two", "act": f"do=wetted&zone={zone}"})
        self.assertIn("Rinse at 12:46", text_of(self.client.get("/")))

    def test_rinse_ends_it_and_bare_starts_anew(self):
        """Rinsed at noon, dry 45 min later; a quarter of its time is used up by then, the rest runs by the air."""
        self.prepped(-0.7, -0.6)
        zone = self.shop.zone.pk
        for minutes in (30, 25, 20, 15, 10, 5):
            self.shop.tell(Kind.WETTED, -minutes * M, prep=running_prep(self.shop.zone))
        self.assertRegex(text_of(self.client.get("/")), r"Rinse\s+now\s*: its time is up")
        form = {"token": "r", "began": "12:00", "ended": "12:00", "step": "s-rinse"}
        self.assertContains(self.client.post(f"/zones/{zone}/log/rinsed", form), "Wet throughout?", status_code=422)
        form |= {"wet": "yes"}
        self.assertEqual(self.client.post(f"/zones/{zone}/log/rinsed", form).status_code, 302)
        self.assertIsNone(running_prep(self.shop.zone))
        self.assertRegex(text_of(self.client.get("/")), r"Dry from\s+12:45\s*; then prime, coat 1 of 2")
        clock.advance(minutes=50)
        state, _ = zone_state(self.shop.zone)
        self.assertEqual(state.clock.kind, "bare")
        self.assertAlmostEqual(state.clock.since_s, NOON.timestamp(), delta=1)
        self.assertAlmostEqual(state.clock.progress, 0.25 + 5 / 60 / 12, delta=0.002)
        answer = self.client.post("/acts", {"token": "late", "act": f"do=wetted&zone={zone}"}, follow=True)
        self.assertContains(answer, "no prep stands wet on this zone")

    def test_prep_goes_only_with_its_wettings(self):
        on = self.prepped()
        self.shop.tell(Kind.WETTED, -0.05, prep=on)
        page = self.client.get(f"/entries/{on.pk}/void")
        self.assertContains(page, "Wetted")
        self.assertContains(
            self.client.post(f"/entries/{on.pk}/void", {"reason": "x"}), "only together", status_code=422
        )
        self.client.post(f"/entries/{on.pk}/void", {"reason": "wrong zone", "together": "1"})
        self.assertFalse(Entry.objects.known_at().of(Kind.PREPPED, Kind.WETTED).exists())


class EntryTests(ShopCase):
    def send(self, kind, entry=None, **data):
        url = f"/entries/{kind}/{entry}/correct" if entry else f"/zones/{self.shop.zone.pk}/log/{kind}"
        base = {"token": f"t{Entry.objects.count()}{kind}", "began": "11:50", "ended": "11:55", "share": "100"}
        return self.client.post(url, base | data)

    def test_what_is_logged_reads_well_in_the_record_and_can_be_corrected(self):
        back = self.shop.make_zone("Cab side, back")
        yard = Place.objects.create(name="Yard", kind="yard")
        self.shop.coat(-5, -4)
        table = [
            ("checked", {"said": "tack:0"}, "Tack: still tacky"),
            ("film-lost", {"cause": "weld", "length_mm": "500 mm", "strip_mm": "40 mm", "share": "", "other": back.pk}, "Welded: what film was there is off over 2 %"),
            ("away", {"contractor": "Powder shop", "work": "blast", "due": "2026-05-20"}, "Sent to Powder shop: blast"),
            ("back", {"condition": "red primer"}, "Back: red primer"),
            ("access", {"how": "trial-fit", "what": "door"}, "Trial fit: must come off again, door"),
            ("access", {"how": "closed", "what": "sill"}, "Closed: out of reach from now on, sill"),
            ("moved", {"place": yard.pk, "whole_job": "on"}, "Moved to Yard"),
        ]  # fmt: skip
        for kind, data, said in table:
            with self.subTest(said):
                self.assertEqual(self.send(kind, **data).status_code, 302)
                self.assertIn(said, text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record")))
                entry = Entry.objects.latest("id")
                self.assertContains(self.client.get(f"/entries/{kind}/{entry.pk}/correct"), "Correct it")
        self.assertEqual(Entry.objects.of(Kind.FILM_LOST).get().places_on.count(), 2)
        self.assertEqual(Entry.objects.of(Kind.MOVED).latest("id").places_on.count(), 2)
        self.assertIsNone(running_absence(self.shop.zone))

    def test_refusals_name_the_field_and_what_would_do(self):
        table = [
            ("film-lost", {"cause": "weld", "share": ""}, "Length of the seam: give the length and the width"),
            ("back", {}, "this zone is not away"),
            ("wetted", {}, "no prep stands wet"),
            ("done", {}, "choose a step of the plan"),
            ("checked", {"said": "tack"}, "What is seen or felt"),
        ]
        for kind, data, said in table:
            with self.subTest(kind):
                self.assertContains(self.send(kind, **data), said, status_code=422)
        self.send("away", contractor="Dipper", work="dip")
        self.assertContains(self.send("away", contractor="Dipper", work="dip"), "is away already", status_code=422)

    def test_away_suspends_and_a_check_is_told_beside(self):
        self.shop.coat(-5, -4)
        self.shop.tell(Kind.CHECKED, -1, check_kind="tack", passed=False)
        self.assertIn("Checked: still tacky, though the time is up", text_of(self.client.get("/")))
        self.shop.tell(Kind.AWAY, -0.5, contractor="Powder shop", work="powder")
        self.assertRegex(text_of(self.client.get("/")), r"At Powder shop since\s+11:30\s*; its clocks are suspended")
        window = self.client.get(f"/zones/{self.shop.zone.pk}/")
        self.assertIn("suspended while it is away", text_of(window))
        self.assertNotContains(window, "Opens for")

    def test_a_weld_leads_to_priming_its_strip_on_both_faces(self):
        """5 % burnt at 11:00 on both faces: bare there, and one button that primes just that share by the plan's step."""
        back = self.shop.make_zone("Cab side, back")
        self.shop.coat(-5, -4)
        self.shop.tell(Kind.COAT, -5, -4, "s-prime", zone=back, product=self.shop.primer, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", plan_um=50)  # fmt: skip
        now = clock.now()
        services.log(self.shop.user, Told(Kind.FILM_LOST, now - H, now - H / 5, ((self.shop.zone, 0.05, ""), (back, 0.05, "")), {"cause": "weld"}))  # fmt: skip
        page = self.client.get("/")
        self.assertEqual(text_of(page).count("Film lost on 5%: prime that strip"), 2)
        self.assertRegex(
            text_of(page), r"Stops A weld took the film off 5% of this face: grind and key that strip first\."
        )
        key = re.search(r'href="(/zones/\d+/log/keyed\?share=5.0)"[^>]*>Key that strip', page.content.decode())[1]
        self.assertEqual(self.client.get(key).context["form"]["share"].value(), "5.0")
        for zone in (self.shop.zone, back):
            self.shop.tell(Kind.KEYED, -0.1, zone=zone, share=0.05, grit="P80", by_hand=True)
            self.shop.tell(Kind.DEGREASED, -0.05, zone=zone)
        page = self.client.get("/")
        url = re.search(r'href="(/zones/\d+/log/coat\?[^"]+share=5.0)"', page.content.decode())[1].replace("&amp;", "&")
        form = self.client.get(url).context["form"]
        self.assertEqual((form["share"].value(), form["source"].value(), form["step"].value()), ("5.0", "product:Test primer", "s-prime"))  # fmt: skip
        self.shop.coat(0, 0, share=0.05)
        state, _ = zone_state(self.shop.zone)
        self.assertEqual((state.surface.bare, state.surface.lost), ((), ()))

    def test_a_spot_governs_its_zone(self):
        """The parent is open for its next coat until tomorrow; bare metal on the spot is due today and leads."""
        self.shop.coat(-5, -4)
        measures = {"substrate": "steel", "thickness_mm": 1, "form": "flat", "finish_class": "show", "shapes": SQUARE}
        spot = add_zone(self.shop.job, "Chip", self.shop.user, parent=self.shop.zone, **measures)
        save_build_up(spot, self.shop.user, [{"kind": "strip", "id": "x"}, {"kind": "prime", "id": "y", "product": "Test primer"}], 0)  # fmt: skip
        services.log(self.shop.user, Told(Kind.BARED, clock.now() - 2 * H, clock.now() - H, ((spot, 1.0, "x"),)))
        page = text_of(self.client.get("/"))
        self.assertRegex(page, r"Spot Chip: Primer by")
        facts = load(Zone.objects.all())
        self.assertEqual(len(facts.zones), 2)


def slow_primer(opens, closes):
    """A primer whose window follows the temperature."""
    document = copy.deepcopy(PRIMER) | {"product": "Slow primer"}
    document["windows"] = [{"next": "any", "opens": opens, "closes": closes}]
    add_sheet(document)
    return Product.objects.get(name="Slow primer")


class WindowsTests(ShopCase):
    def setUp(self):
        super().setUp()
        slow = slow_primer([[10, 960], [20, 480], [30, 270]], [[10, 2880], [20, 1440], [30, 720]])
        self.entry = self.shop.coat(-1, -0.5, product=slow, revision=slow.revisions.first())

    def test_zones_by_job_place_and_stage(self):
        self.shop.make_zone("Roof")
        place, job = self.shop.place.pk, self.shop.job.pk
        table = [("", True), (f"job={job}", True), ("job=99", False), (f"place={place}", True), ("place=99", False), ("stage=Metal", True), ("stage=Strip", False)]  # fmt: skip
        for query, there in table:
            with self.subTest(query):
                page = text_of(self.client.get(f"/windows/rows?{query}"))
                self.assertEqual("Cab side" in page.replace("coat of", "") and "opens" in page, there)

    def test_warmer_or_begun_earlier_everything_moves_and_says_so(self):
        """Opens 8 h after 11:30 at 20 °C: 19:30. The coat an hour earlier: 18:30. 10 K warmer from noon: the rest in 4.5/8."""
        self.shop.tell(Kind.MOVED, -30, place=self.shop.place)
        self.client.post("/settings/", {})
        workshop = self.shop.workshop
        workshop.assumed_air_c, workshop.assumed_rh_pct = 20.0, 50.0
        workshop.save()
        self.assertRegex(text_of(self.client.get("/windows/")), r"opens\s+Tue 12 May 19:30")
        page = text_of(self.client.get(f"/windows/rows?coat={self.entry.pk}&minutes=-60"))
        self.assertRegex(page, r"What if the coat 1 h earlier:.*opens\s+19:30\s+18:30")
        warmer = text_of(self.client.get("/windows/rows?kelvin=10"))
        # half an hour of 8 done at noon: (1 - 0.5/8) * 4.5 h = 4.21875 h; the metal follows within minutes (estimated)
        self.assertRegex(warmer, r"10 K warmer from now on:.*opens\s+19:30\s+16:1[3-6]")
        working = text_of(self.client.get(f"/zones/{self.shop.zone.pk}/working?kelvin=10"))
        self.assertRegex(working, r"100 % at\s+Tue 12 May 16:1[3-6]")
        for odd in ("kelvin=nan", "kelvin=x&coat=y&minutes=", "kelvin=1e9"):
            self.assertEqual(self.client.get(f"/windows/rows?{odd}").status_code, 200)
        self.assertEqual(Entry.objects.of(Kind.COAT).count(), 1)

    def test_questions_to_the_database_do_not_grow_with_zones(self):
        for n in range(3):
            self.shop.tell(Kind.BARED, -2, -1.5, "s-strip", zone=self.shop.make_zone(f"Zone {n}"))
        urls = ("/", "/windows/", "/bench/rows", "/windows/rows?kelvin=3")

        def counts():
            found = []
            for url in urls:
                self.client.get(url)
                with CaptureQueriesContext(connection) as queries:
                    self.client.get(url)
                found.append(len(queries))
            return found

        few = counts()
        for n in range(40):
            zone = self.shop.make_zone(f"Further {n}")
            self.shop.tell(Kind.BARED, -2, -1.5, "s-strip", zone=zone)
        self.assertEqual(counts(), few)
        self.assertLessEqual(max(few), 21)
        self.assertContains(self.client.get("/"), "Show the other 14")

    def test_both_changes_of_the_year_are_drawn_right(self):
        """Vienna: 29 March 2026 02:00 becomes 03:00; 25 October 2026 03:00 becomes 02:00. Six days across."""
        zone = self.shop.workshop
        for day, words, hours in ((NOON.replace(month=3, day=29), "clock on to 03:00", 23), (NOON.replace(month=10, day=25), "clock back to 02:00", 25)):  # fmt: skip
            start = day.replace(hour=0).timestamp()
            scale = Scale(start - 48 * 3600, start + 96 * 3600, 144.0)
            (x, said), = clock_changes(scale, zone)  # fmt: skip
            self.assertEqual((said, x), (words, 48.0 + (2 if hours == 23 else 3)))
            midnights = [x for x, label in ticks(scale, zone, 24)]
            self.assertIn(48.0, midnights)
            self.assertIn(48.0 + hours, midnights)


class MissedTests(ShopCase):
    def setUp(self):
        super().setUp()
        self.shop.tell(Kind.BARED, -41, -40, "s-strip")
        self.shop.tell(Kind.DEGREASED, -39, step="s-wipe")
        self.shop.coat(-38, -37)
        self.url = f"/zones/{self.shop.zone.pk}/missed"

    def test_chosen_it_becomes_steps_once(self):
        page = self.client.get(self.url)
        self.assertContains(page, "Closed Mon 11 May 22:00")
        for _ in range(2):
            answer = self.client.post(self.url, {"token": "m1", "based_on": "1"})
            self.assertEqual(answer.status_code, 302)
        steps = self.shop.zone.build_ups.first().steps
        self.assertEqual([s["kind"] for s in steps], ["strip", "degrease", "abrade", "degrease", "prime"])
        self.assertEqual(steps[2]["grit"], "P240")
        self.assertRegex(
            text_of(self.client.get("/")), r"Closed\s+yesterday 22:00\s*\. Key P240, then it is open again\.\s+Abrade"
        )
        refused = self.client.post(self.url, {"token": "m2", "based_on": "2"})
        self.assertContains(refused, "comes next in the plan already", status_code=422)

    def test_refused_when_stale_or_not_missed(self):
        save_build_up(self.shop.zone, self.shop.user, self.shop.zone.build_ups.first().steps, 1)
        stale = self.client.post(self.url, {"token": "m3", "based_on": "1"})
        self.assertContains(stale, "somebody changed the plan meanwhile", status_code=422)
        self.shop.tell(Kind.KEYED, -1, -0.9, grit="P240")
        self.assertContains(self.client.get(self.url), "Nothing is missed here")
        self.assertContains(
            self.client.post(self.url, {"token": "m4", "based_on": "2"}), "not missed any more", status_code=422
        )


class KeptTests(ShopCase):
    """What is kept in memory says the same as what is made from the rows, whatever was added in which order."""

    grown = 0

    def clocks(self):
        facts = load(Zone.objects.order_by("id"))
        found = {}
        for pk, each in facts.zones.items():
            self.grown += each.where.stays[-1].air.kept.older is not None
            state = state_of(each, facts, facts.now.timestamp())
            air = each.where.at(facts.now.timestamp())
            found[pk] = [(c.kind, c.status, c.opens_s, c.closes_s) for c in clocks_of(state.surface)]
            found[pk].append((air.air_c, air.rh_pct, air.basis, air.metal_c, state.now.temp_c))
        return found

    def assertKeptIsRight(self, after):
        kept, order = self.clocks(), Book().order()
        drop_caches()
        anew = self.clocks()
        self.assertEqual([(g, pk) for g, _, pk in order], [(g, pk) for g, _, pk in Book().order()], after)
        for pk in anew:
            for a, b in zip(kept[pk], anew[pk], strict=True):
                for x, y in zip(a, b, strict=True):
                    if isinstance(y, float):
                        self.assertAlmostEqual(x, y, delta=0.005, msg=after)
                    else:
                        self.assertEqual(x, y, after)

    def log_of(self, start, count, air_c, minutes=10):
        rows = "\n".join(f"{(clock.now() + start * H + k * minutes * H / 60).isoformat()},{air_c + k % 7 / 10},50" for k in range(count))  # fmt: skip
        return f"time,air_c,rh_pct\n{rows}\n".encode()

    def test_dropping_every_cache_changes_nothing(self):
        shop = self.shop
        yard = Place.objects.create(name="Yard", kind="yard")
        other = shop.make_zone("Roof")
        shop.tell(Kind.BARED, -20, -19, "s-strip", zone=other)
        # A coat that opens after some two days and closes after a week: what is changed lies inside its clocks.
        slow = slow_primer([[5, 6000], [20, 3000], [30, 1500]], [[5, 20000], [20, 10000], [30, 5000]])
        shop.coat(-60, -59, product=slow, revision=slow.revisions.first())
        # Two weeks of log, and a clock that old: only then does a series grow instead of being made anew.
        import_log(shop.user, shop.place, "weeks.csv", self.log_of(-340, 530, 16, 30))
        shop.tell(Kind.BARED, -330, -329, "s-strip", zone=shop.make_zone("Forgotten"))
        self.grown = 0
        self.clocks()

        def advance(hours=0.5):
            clock.advance(hours=hours)
            return clock.now()

        acts = {
            "appended by an import": lambda: import_log(shop.user, shop.place, "a.csv", self.log_of(-0.4, 3, 22, 10)),
            "a log of another place": lambda: import_log(shop.user, yard, "y.csv", self.log_of(-60, 300, 8)),
            "moved there": lambda: shop.tell(Kind.MOVED, -2, place=yard),
            "a backfill that leads": lambda: import_log(shop.user, shop.place, "b.csv", self.log_of(-50, 100, 12)),
            "typed with a coat": lambda: shop.coat(-0.5, -0.3, place=yard, air_c=9.0, rh_pct=60, surface_c=7.0),
            "that coat voided": lambda: services.void(shop.user, Entry.objects.of(Kind.COAT).latest("id"), "no"),
            "a forecast": lambda: import_forecast(shop.user, [yard, shop.place], "f.csv", self.log_of(-6, 60, 15, 60)),
            "the backfill withdrawn": lambda: withdraw(shop.user, ImportBatch.objects.get(filename="b.csv"), "wrong room"),
            "a forecast withdrawn": lambda: withdraw_forecast(shop.user, Forecast.objects.first(), "wrong town"),
            "an old gap filled": lambda: import_log(shop.user, yard, "g.csv", self.log_of(-300, 60, 5)),
            "an assumption changed": lambda: self.assume(12.0),
        }  # fmt: skip
        for after, act in acts.items():
            advance()
            act()
            self.assertKeptIsRight(after)
            self.clocks()
        self.assertGreaterEqual(self.grown, 6)
        for hours in (0.1, 0.3, 2, 5, 9, 14, 30):
            advance(hours)
            Book().order()
            advance(0.05)
            self.assertKeptIsRight(f"{hours} h on")

    def assume(self, air_c):
        self.shop.workshop.assumed_air_c = air_c
        self.shop.workshop.save()
