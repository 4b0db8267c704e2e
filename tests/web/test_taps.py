"""Acts by one tap: what is recorded at once and when, what wants a look first, work that is timed, several zones."""

import re
from datetime import timedelta
from pathlib import Path

from emplastra.core.surface.checks import answerable
from emplastra.jobs.models import Job, Zone
from emplastra.jobs.services import save_build_up
from emplastra.logbook.models import Entry, Kind
from emplastra.logbook.running import works_begun
from emplastra.logbook.services import Told, log
from emplastra.materials.models import Product
from emplastra.materials.services import add_sheet
from emplastra.shared import clock
from emplastra.state.book import Book
from tests.base import NOON, H, ShopCase, text_of
from tests.rulings import document_of

M = timedelta(minutes=1)


class TapTests(ShopCase):
    def setUp(self):
        super().setUp()
        self.shop.tell(Kind.BARED, -1.5, -1, "s-strip")
        self.zone = self.shop.zone
        self.tokens = 0

    def tap(self, act, ago=None, zones=(), **more):
        """Tap a button; ago: minutes before now that it was tapped, if the page told."""
        self.tokens += 1
        sent = {"token": f"t{self.tokens}", "act": act, "zone": list(zones), "seen": 10**6, **more}
        if ago is not None:
            sent["tapped"] = int((clock.now() - ago * M).timestamp())
        return self.client.post("/acts", sent, follow=True)

    def wiped(self):
        return Entry.objects.known_at().of(Kind.DEGREASED)

    def test_a_tap_records_at_the_hour_of_the_tap(self):
        """Waited at most twelve hours for the connection; a clock that is ahead is not believed."""
        cases = ((None, 0), (7, 7), (11 * 60, 11 * 60), (12 * 60 + 1, 0), (-1, 0))
        for ago, back in cases:
            with self.subTest(ago=ago):
                answer = self.tap(f"do=degreased&zone={self.zone.pk}&step=s-wipe", ago)
                entry = self.wiped().get()
                self.assertEqual(entry.ended, NOON - back * M)
                self.assertEqual((entry.began, entry.places_on.get().step), (entry.ended, "s-wipe"))
                self.assertEqual(answer.redirect_chain[-1][0], "/")
                self.assertContains(answer, f"/entries/degreased/{entry.pk}/correct")
                self.assertIn("undone", text_of(self.tap(f"do=undo&entry={entry.pk}")))
                self.assertFalse(self.wiped().exists())

    def test_a_tap_comes_once(self):
        """The same page, or the same hand within three seconds; a minute later it is another."""
        act = f"do=degreased&zone={self.zone.pk}&step=s-wipe"
        for wait, count in ((0, 1), (2, 1), (60, 2)):
            clock.freeze(clock.now() + timedelta(seconds=wait))
            self.tap(act)
            self.assertEqual(self.wiped().count(), count)
        sent = {"token": "same", "act": act}
        for _ in range(2):
            clock.freeze(clock.now() + 5 * M)
            self.client.post("/acts", sent)
        self.assertEqual(self.wiped().count(), 3)

    def test_what_is_looked_at_first(self):
        """A stop, a warning, a field that has nothing, somebody else meanwhile: the form, filled in, nothing recorded."""
        key = {"kind": "abrade", "id": "s-key"}
        save_build_up(self.zone, self.shop.user, [{"kind": "strip", "id": "s-strip"}, {"kind": "degrease", "id": "s-wipe"}, key], 1)  # fmt: skip
        answer = self.tap(f"do=keyed&zone={self.zone.pk}&step=s-key", 3)
        self.assertEqual(answer.redirect_chain[-1][0].split("?")[0], f"/zones/{self.zone.pk}/log/keyed")
        self.assertContains(answer, "Not recorded yet. Grit: This field is required")
        self.assertContains(answer, 'value="2026-05-12 11:57"')
        self.assertFalse(Entry.objects.of(Kind.KEYED).exists())
        self.shop.tell(Kind.KEYED, -0.01, grit="P80", um_off=0.0, user=self.shop.people["mate"])
        answer = self.tap(f"do=degreased&zone={self.zone.pk}", seen=1)
        self.assertContains(answer, "mate logged “keyed” here meanwhile")
        self.assertFalse(self.wiped().exists())

    def test_a_grave_ruling_is_shown_before_anything_is_recorded(self):
        """A coat put on ten minutes ago, of 20 min flash, is wet: the judge stops what would sand it."""
        self.shop.coat(-0.3, -1 / 6)
        answer = self.tap(f"do=keyed&zone={self.zone.pk}&grit=P240")
        self.assertContains(answer, "Not recorded yet.")
        self.assertContains(answer, 'value="P240"')
        self.assertFalse(Entry.objects.of(Kind.KEYED).exists())

    def test_work_that_lasts_has_two_taps(self):
        pk = self.zone.pk
        save_build_up(self.zone, self.shop.user, [{"kind": "strip", "id": "s-strip"}, {"kind": "abrade", "id": "s-key", "grit": "P80"}], 1)  # fmt: skip
        self.assertIn("Start abrade", text_of(self.client.get(f"/zones/{pk}/")))
        self.tap(f"do=start&what=keyed&zone={pk}&step=s-key")
        clock.freeze(NOON + 2 * M)
        self.assertContains(self.tap(f"do=start&what=keyed&zone={pk}&step=s-key"), "it runs already")
        for page in ("/", f"/zones/{pk}/"):
            self.assertRegex(text_of(self.client.get(page)), r"Abrade\s+since 12:00")
        begun = works_begun().get()
        clock.freeze(NOON + 34 * M)
        self.assertContains(self.tap(f"do=stop&begun={begun.pk}"), "keyed, 12:34")
        keyed = Entry.objects.known_at().of(Kind.KEYED).get()
        self.assertEqual((keyed.began, keyed.ended, keyed.lasted.begun), (NOON, NOON + 34 * M, begun))
        self.assertFalse(works_begun().exists())
        self.assertContains(self.tap(f"do=stop&begun={begun.pk}"), "It was stopped already")
        self.tap(f"do=undo&entry={keyed.pk}")
        self.assertEqual(works_begun().get(), begun)  # what is undone runs on
        self.tap(f"do=drop&begun={begun.pk}")
        self.assertFalse(works_begun().exists())
        self.assertFalse(Entry.objects.known_at().of(Kind.KEYED, Kind.BEGUN).exists())

    def test_how_long_it_usually_takes(self):
        """Of 10, 20, 30 and 40 min the middle half is 20 to 30; what nobody timed by two taps does not count."""
        for minutes in (40, 10, 30, 20):
            self.tap(f"do=start&what=keyed&zone={self.zone.pk}")
            clock.freeze(clock.now() + minutes * M)
            begun = works_begun().get().pk
            form = {"token": f"u{minutes}", "grit": "P80", "um_off": "0", "step": "", "share": "100", "begun": begun, "ended": f"{clock.now().astimezone(NOON.tzinfo):%H:%M}", "began": f"{clock.now().astimezone(NOON.tzinfo) - minutes * M:%H:%M}"}  # fmt: skip
            self.assertEqual(self.client.post(f"/zones/{self.zone.pk}/log/keyed", form).status_code, 302)
            clock.freeze(clock.now() + 5 * M)
        self.shop.tell(Kind.KEYED, -0.02, grit="P80", um_off=0.0)
        self.tap(f"do=start&what=keyed&zone={self.zone.pk}")
        self.assertRegex(text_of(self.client.get("/")), r"usual 20 to 30 min")

    def test_what_is_offered_for_all_that_are_ticked(self):
        """Mix where a coat of parts comes next; wet again only what one acid stands on."""
        zones = [self.zone, self.shop.make_zone("Cab roof"), self.shop.make_zone("Door")]
        bar = self.client.get("/").content.decode().split('class="several')[1]
        self.assertIn('value="do=degreased"', bar)
        for absent in ("do=mix", "do=wetted"):
            self.assertNotIn(absent, bar)
        self.tap(f"do=degreased&zone={self.zone.pk}&step=s-wipe")
        self.assertIn('value="do=mix"', self.client.get("/").content.decode().split('class="several')[1])
        add_sheet(document_of("acid-prep"))
        prep = Product.objects.get(kind="acid-prep")
        told = Told(Kind.PREPPED, clock.now(), clock.now(), tuple((z, 1.0, "") for z in zones[:2]), {"product": prep})
        log(self.shop.user, told)
        clock.freeze(NOON + M)
        self.assertIn('value="do=wetted"', self.client.get("/").content.decode().split('class="several')[1])
        form = self.client.get(f"/zones/{self.zone.pk}/log/wetted").context["form"]
        self.assertEqual([zone.name for zone in form.others], ["Cab roof"])

    def test_a_coat_that_was_begun_is_logged_with_its_hours(self):
        self.tap(f"do=degreased&zone={self.zone.pk}&step=s-wipe")
        start = f"do=start&what=coat&zone={self.zone.pk}&step=s-prime"
        self.assertContains(self.tap(start), "Start all the same")  # two parts, and no pot is named
        self.assertFalse(works_begun().exists())
        self.tap(f"{start}&anyway=1")
        begun = works_begun().get()
        clock.freeze(NOON + 12 * M)
        answer = self.tap(f"do=stop&begun={begun.pk}")
        self.assertContains(answer, 'name="began" value="2026-05-12 12:00"')
        self.assertContains(answer, f'name="begun" value="{begun.pk}"')
        form = {"token": "c", "source": "product:Test primer", "step": "s-prime", "method": "brush", "thinner_pct": "0", "share": "100", "began": "12:00", "ended": "12:12", "begun": begun.pk}  # fmt: skip
        self.assertEqual(self.client.post(f"/zones/{self.zone.pk}/log/coat", form).status_code, 302)
        self.assertFalse(works_begun().exists())
        again = form | {"token": "d", "ended": "12:10"}
        self.assertContains(self.client.post(f"/zones/{self.zone.pk}/log/coat", again), "was stopped already", status_code=422)  # fmt: skip

    def test_one_entry_over_several_zones(self):
        """Each on the step of its own plan; a zone of another job is not of it."""
        other = self.shop.make_zone("Cab roof")
        save_build_up(other, self.shop.user, [{"kind": "degrease", "id": "o-wipe"}], 1)
        answer = self.tap("do=degreased", zones=[self.zone.pk, other.pk])
        self.assertContains(answer, "Cab side, Cab roof: degreased")
        rows = self.wiped().get().places_on.order_by("zone_id").values_list("zone_id", "share", "step")
        self.assertEqual(list(rows), [(self.zone.pk, 1.0, "s-wipe"), (other.pk, 1.0, "o-wipe")])
        stranger = self.shop.make_zone("Door", Job.objects.create(name="Other"))
        clock.freeze(NOON + M)
        self.assertContains(self.tap("do=degreased", zones=[self.zone.pk, stranger.pk]), "Door cannot be logged together")  # fmt: skip
        self.assertContains(self.tap("do=degreased"), "Tick the zones first")
        self.assertEqual(self.wiped().count(), 1)

    def test_one_pot_and_one_coat_over_several_zones(self):
        """1 m² by brush at 50 µm, 50 %: 50/0.95·2 = 105.3 mL a zone, and 10 once left in the brush: 115.3 + 105.3 = 220.5."""
        other = self.shop.make_zone("Cab roof")
        self.shop.tell(Kind.BARED, -1.5, -1, "s-strip", zone=other)
        self.tap("do=degreased", zones=[self.zone.pk, other.pk])
        answer = self.tap("do=mix", zones=[self.zone.pk, other.pk])
        self.assertEqual(answer.redirect_chain[-1][0], f"/zones/{self.zone.pk}/mix?also={other.pk}")
        self.assertRegex(text_of(answer), r"For Cab side\s+115 mL\s*, Cab roof\s+105 mL\s*: 221 mL in all")
        form = {"token": "p", "ready_ml": "221", "measure": "scale", "method": "brush", "thinner_pct": "0", "variant": "mild", "also": other.pk}  # fmt: skip
        self.assertEqual(self.client.post(f"/zones/{self.zone.pk}/mix", form).status_code, 302)
        pot = Entry.objects.of(Kind.POT).get()
        self.assertEqual(set(pot.zones.all()), {self.zone, other})
        answer = self.tap("do=coat", zones=[self.zone.pk, other.pk])
        self.assertContains(answer, f'name="also_{other.pk}" value="100"')
        coat = {"token": "c", "source": "product:Test primer", "step": "s-prime", "method": "brush", "thinner_pct": "0", "share": "100", "began": "12:00", "ended": "12:00", f"also_{other.pk}": "60"}  # fmt: skip
        self.assertEqual(self.client.post(f"/zones/{self.zone.pk}/log/coat", coat).status_code, 302)
        rows = Entry.objects.of(Kind.COAT).get().places_on.order_by("zone_id").values_list("zone_id", "share", "step")
        self.assertEqual(list(rows), [(self.zone.pk, 1.0, "s-prime"), (other.pk, 0.6, "s-prime")])

    def test_same_as_last_time(self):
        other = self.shop.make_zone("Cab roof")
        for zone in (self.zone, other):
            save_build_up(zone, self.shop.user, [{"kind": "abrade", "id": f"k-{zone.pk}", "grit": "P80"}], 1)
        self.shop.tell(Kind.KEYED, -0.75, -0.5, f"k-{other.pk}", zone=other, grit="P120", um_off=7.0, by_hand=True)
        page = self.client.get(f"/zones/{self.zone.pk}/log/keyed")
        last = Entry.objects.of(Kind.KEYED).get()
        self.assertContains(page, f"?same={last.pk}")
        filled = self.client.get(f"/zones/{self.zone.pk}/log/keyed?same={last.pk}")
        for told in ('value="P120"', 'value="7"', 'value="2026-05-12 11:45"', 'value="2026-05-12 12:00"'):
            self.assertContains(filled, told)

    def test_a_check_asks_what_can_be_answered(self):
        """Common practice, no source: bare steel does not tack, a coat shows no flash rust."""
        book = Book(self.zone)
        bare = answerable(book.state(self.zone).surface, "hvlp")
        self.assertEqual(bare, ["no-flash-rust", "cloth", "kept-dry", "air-line"])
        self.assertEqual(answerable(book.state(self.zone).surface, "brush", {"drains"})[-1], "drains")
        self.shop.coat(-0.2, -0.1)
        coated = answerable(Book(self.zone).state(self.zone).surface, "brush")
        self.assertEqual(coated, ["tack", "smear", "gloss-gone", "kept-dry"])
        clock.freeze(NOON + 2 * H)
        later = answerable(Book(self.zone).state(self.zone).surface, "brush")
        self.assertNotIn("gloss-gone", later)  # its flash is over
        self.assertNotContains(self.client.get(f"/zones/{self.zone.pk}/log/checked"), "flash rust seen")
        self.assertContains(self.client.get(f"/zones/{self.zone.pk}/log/checked?all=1"), "flash rust seen")
        for said in ("tack:1", "smear:1", "smear:1"):  # two answers within three seconds are two, a double tap is none
            self.tap(f"do=checked&zone={self.zone.pk}&said={said}")
        told = Entry.objects.of(Kind.CHECKED).order_by("id").values_list("checked__check_kind", flat=True)
        self.assertEqual(list(told), ["tack", "smear"])

    def test_who_may_only_look_taps_nothing(self):
        self.client.force_login(self.shop.people["viewer"])
        self.assertNotContains(self.client.get("/"), 'name="act"')
        self.assertEqual(self.client.post("/acts", {"act": f"do=degreased&zone={self.zone.pk}"}).status_code, 403)
        self.client.force_login(self.shop.user)
        for act in ("do=nothing", "", f"do=pot&zone={self.zone.pk}", "do=undo&entry=999"):
            self.assertEqual(self.client.post("/acts", {"act": act, "zone": self.zone.pk}).status_code, 404)


class AliveTests(ShopCase):
    def test_a_spot_is_one_row_with_its_zone(self):
        """The spot's bare metal presses more than the zone's coat: its act is in the zone's row, and is the spot's."""
        zone = self.shop.zone
        self.shop.tell(Kind.BARED, -9, -8.9, "s-strip")
        self.shop.tell(Kind.DEGREASED, -8.5, step="s-wipe")
        self.shop.coat(-8.4, -8.3)
        spot = self.shop.make_zone("Chip")
        Zone.objects.filter(pk=spot.pk).update(parent=zone)
        self.shop.tell(Kind.BARED, -1, -0.9, "s-strip", zone=spot)
        page = self.client.get("/").content.decode()
        self.assertEqual(page.count("<article"), 1)
        self.assertIn("Spot Chip: ", page)
        self.assertIn(f'value="do=degreased&amp;zone={spot.pk}&amp;step=s-wipe"', page)
        self.client.post("/acts", {"token": "s", "act": f"do=degreased&zone={spot.pk}&step=s-wipe"})
        self.assertEqual(Entry.objects.get(kind=Kind.DEGREASED, zones=spot).places_on.get().step, "s-wipe")

    def test_bench_says_what_is_poured_next(self):
        """200 mL at 4:1 is 160 mL of base at 1.5 g/mL: 240 g."""
        mixed = {"revision": self.shop.primer.revisions.first(), "variant": "mild", "method": "brush"}
        self.shop.tell(Kind.POT, -0.1, step="s-prime", temp_c=20.0, ready_ml=200.0, **mixed)
        self.assertRegex(text_of(self.client.get("/")), r"Pour\s+Base to 240\.0 g")

    def test_rows_are_sent_only_where_something_changed(self):
        first = self.client.get("/bench/rows")
        mark = re.search(r'name="mark" value="(\w+)"', first.content.decode())[1]
        clock.freeze(NOON + timedelta(seconds=40))
        same = self.client.get(f"/bench/rows?mark={mark}")
        self.assertEqual(same["HX-Reswap"], "none")
        self.assertNotContains(same, "<article")
        self.assertContains(same, 'id="as-of"')
        self.shop.tell(Kind.BARED, -1.5, -1, "s-strip")
        self.assertContains(self.client.get(f"/bench/rows?mark={mark}"), "<article")

    def test_a_form_that_the_page_sends_is_told_where_it_leads(self):
        form = {"token": "f", "began": "11:00", "ended": "12:00", "share": "100", "step": "s-strip"}
        url = f"/zones/{self.shop.zone.pk}/log/bared"
        answer = self.client.post(url, form, headers={"X-Form": "1"})
        self.assertEqual((answer.status_code, "Location" in answer), (204, False))
        self.assertEqual(answer["X-Go"], f"/entries/{Entry.objects.of(Kind.BARED).get().pk}/done")
        self.assertEqual(self.client.post(url, form | {"token": "g", "share": "x"}, headers={"X-Form": "1"}).status_code, 422)  # fmt: skip

    def test_what_was_sent_late_is_told_what_became_of_it(self):
        self.shop.tell(Kind.BARED, -1.5, -1, "s-strip")
        act = f"do=degreased&zone={self.shop.zone.pk}&step=s-wipe"
        for _ in range(2):  # recorded before the answer was lost: once
            answer = self.client.post("/acts", {"token": "o", "act": act}, headers={"X-Outbox": "1"})
            self.assertEqual(answer.json(), {"done": True, "said": "Cab side: degreased, 12:00.", "look": ""})
        self.assertEqual(Entry.objects.of(Kind.DEGREASED).count(), 1)
        act = f"do=keyed&zone={self.shop.zone.pk}"
        answer = self.client.post("/acts", {"token": "p", "act": act}, headers={"X-Outbox": "1"}).json()
        self.assertFalse(answer["done"])
        self.assertEqual(answer["look"].split("?")[0], f"/zones/{self.shop.zone.pk}/log/keyed")

    def test_the_same_again_from_a_form_opened_before_is_asked(self):
        pk = self.shop.zone.pk
        form = {"began": "12:00", "ended": "12:00", "share": "100", "step": "s-wipe", "seen": "0"}
        self.assertEqual(self.client.post(f"/zones/{pk}/log/degreased", form | {"token": "1"}).status_code, 302)
        again = self.client.post(f"/zones/{pk}/log/degreased", form | {"token": "2"})
        self.assertContains(again, "You logged “degreased” here meanwhile", status_code=409)
        clock.freeze(NOON + 3 * M)
        self.assertEqual(self.client.post(f"/zones/{pk}/log/degreased", form | {"token": "3"}).status_code, 302)

    def test_help_explains_what_pages_ask_about(self):
        page = self.client.get("/help/").content.decode()
        for template in Path("emplastra").rglob("*.html"):
            for anchor in re.findall(r"bench:help' %}#([\w-]+)", template.read_text()):
                self.assertIn(f'id="{anchor}"', page, template)
