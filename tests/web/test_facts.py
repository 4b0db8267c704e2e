"""Append-only tables, once-only submissions, corrections, roles, the clock, local times."""

import json
import threading
from datetime import timedelta
from zoneinfo import ZoneInfo

from django.db import DatabaseError, connection, transaction
from django.test import TestCase, TransactionTestCase, override_settings

from emplastra.accounts.models import User, Workshop
from emplastra.core.surface.events import Coated
from emplastra.logbook import services
from emplastra.logbook.models import Correction, Entry, Kind
from emplastra.shared import clock
from emplastra.shared.appendonly import append_only_models, append_only_tables
from emplastra.shared.models import Submission
from emplastra.shared.services import AlreadyRecorded, Refused, once
from emplastra.shared.times import TimeError, read_local, write_local
from emplastra.state.facts import load
from tests.base import NOON, PASSWORD, DropTriggers, H, Shop, ShopCase, utc, zone_state


class AppendOnlyTests(ShopCase):
    def test_every_listed_table_has_both_triggers(self):
        with connection.cursor() as cursor:
            cursor.execute("SELECT name FROM sqlite_master WHERE type = 'trigger'")
            names = {row[0] for row in cursor.fetchall()}
        wanted = {f"append_only_{table}_{verb}" for table in append_only_tables() for verb in ("update", "delete")}
        self.assertEqual(wanted - names, set())
        self.assertGreater(len(append_only_models()), 15)

    def test_raw_update_delete_and_replace_are_refused_on_each_table_with_rows(self):
        self.shop.tell(Kind.BARED, -3, -2, "s-strip")
        coat = self.shop.coat(-1, -0.5)
        services.void(self.shop.user, coat, "test")
        tried = 0
        for model in append_only_models():
            table, row = model._meta.db_table, model.objects.values_list("pk", flat=True).first()
            if row is None:
                continue
            key, tried = model._meta.pk.column, tried + 1
            for sql in (
                f"UPDATE {table} SET {key} = {key} WHERE {key} = {row}",
                f"DELETE FROM {table} WHERE {key} = {row}",
                f"REPLACE INTO {table} SELECT * FROM {table} WHERE {key} = {row}",
            ):
                with (
                    self.subTest(sql[:40]),
                    self.assertRaisesMessage(DatabaseError, "append-only"),
                    transaction.atomic(),
                ):
                    connection.cursor().execute(sql)
        self.assertGreater(tried, 9)


class TriggersAfterFlushTests(DropTriggers, TransactionTestCase):
    def test_a_flush_leaves_the_triggers_in_place(self):
        self.test_triggers_hold()

    def test_triggers_hold(self):
        Shop().build()
        clock.freeze(None)
        entry = Entry.objects.first()
        with self.assertRaisesMessage(DatabaseError, "append-only"):
            Entry.objects.filter(pk=entry.pk).update(note="changed")


class OnceTests(ShopCase):
    def test_a_repeat_is_answered_and_other_values_are_refused(self):
        done = []

        def do():
            done.append(1)
            return "/there"

        first = once(self.shop.user, "t1", "log", {"a": "1"}, do)
        self.assertEqual((first, once(self.shop.user, "t1", "log", {"a": "1"}, do)), ("/there", "/there"))
        self.assertEqual(len(done), 1)
        with self.assertRaises(AlreadyRecorded):
            once(self.shop.user, "t1", "log", {"a": "2"}, do)
        with self.assertRaises(AlreadyRecorded):
            once(self.shop.people["mate"], "t1", "log", {"a": "1"}, do)

    def test_what_fails_leaves_no_submission(self):
        def do():
            raise Refused("no")

        with self.assertRaises(Refused):
            once(self.shop.user, "t2", "log", {}, do)
        self.assertFalse(Submission.objects.filter(token="t2").exists())


class TwoAtOnceTests(DropTriggers, TransactionTestCase):
    def test_a_double_tap_in_two_threads_is_carried_out_once(self):
        shop, urls, done = Shop().build(), [], []
        self.addCleanup(clock.freeze, None)
        gate = threading.Barrier(2)

        def tap():
            gate.wait()
            urls.append(once(shop.user, "tap", "log", {"v": 1}, lambda: done.append(1) or "/x"))
            connection.close()

        threads = [threading.Thread(target=tap) for _ in range(2)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual((urls, len(done)), (["/x", "/x"], 1))


class CorrectionTests(ShopCase):
    def test_a_correction_replaces_and_the_first_stays(self):
        coat = self.shop.coat(-3, -2)
        state, _ = zone_state(self.shop.zone)
        self.assertAlmostEqual(state.surface.clock("recoat").opens_s, (NOON - 2 * H + 2 * H).timestamp(), delta=1)
        told = services.Told(
            Kind.COAT, NOON - 2.5 * H, NOON - 1 * H, ((self.shop.zone, 1.0, "s-prime"),), self.fields()
        )
        services.log(self.shop.user, told, True, coat, "ended later")
        state, _ = zone_state(self.shop.zone)
        self.assertAlmostEqual(state.surface.clock("recoat").opens_s, (NOON + 1 * H).timestamp(), delta=1)
        self.assertEqual(Entry.objects.of(Kind.COAT).count(), 2)
        with self.assertRaisesMessage(Refused, "correct the newest"):
            services.log(self.shop.user, told, True, coat, "again")

    def fields(self):
        return {"product": self.shop.primer, "revision": self.shop.primer.revisions.first(), "variant": "mild", "method": "brush", "plan_um": 50.0}  # fmt: skip

    def test_known_at_sees_what_was_known(self):
        """A coat voided at 12:30 is on the surface as known at 12:10, not as known now."""
        coat = self.shop.coat(-3, -2)
        clock.freeze(NOON + H / 2)
        services.void(self.shop.user, coat, "wrong zone")

        def coats(known_at):
            found = load([self.shop.zone], known_at).zones[self.shop.zone.pk]
            return sum(isinstance(e, Coated) for e in found.events)

        self.assertEqual((coats(NOON + H / 6), coats(None), coats(NOON - 2.5 * H)), (1, 0, 0))

    def test_who_may_correct_and_undo(self):
        coat = self.shop.coat(-0.2, -0.1)
        with self.assertRaisesMessage(Refused, "somebody else"):
            services.void(self.shop.people["mate"], coat, "no")
        with self.assertRaisesMessage(Refused, "10 minutes"):
            services.undo(self.shop.people["mate"], coat)
        edge = self.shop.coat(-0.2, -0.1)
        clock.freeze(edge.recorded + 10 * H / 60)
        services.undo(self.shop.user, edge)
        clock.freeze(coat.recorded + 10 * H / 60 + H / 3600)
        with self.assertRaisesMessage(Refused, "10 minutes"):
            services.undo(self.shop.user, coat)
        services.void(self.shop.people["owner"], coat, "by the owner")
        self.assertEqual(Correction.objects.get(replaces=coat).who.username, "owner")

    def test_a_pot_is_voided_only_with_what_rests_on_it(self):
        details = {
            "revision": self.shop.primer.revisions.first(),
            "variant": "mild",
            "method": "brush",
            "ready_ml": 300,
            "temp_c": 20,
        }
        pot = self.shop.tell(Kind.POT, -2, step="s-prime", **details)
        self.shop.tell(Kind.WEIGHED, -1.9, pot=pot, part="base", scale_g=300)
        coat = self.shop.coat(-1, -0.9, pot=pot)
        self.assertEqual(len(services.dependants(pot)), 2)
        with self.assertRaisesMessage(Refused, "2 entries depend"):
            services.void(self.shop.user, pot, "spilt")
        services.void(self.shop.user, pot, "spilt", with_dependants=True)
        self.assertFalse(Entry.objects.known_at().filter(pk__in=[pot.pk, coat.pk]).exists())

    def test_times_that_cannot_be(self):
        table = [(NOON, NOON - H, "ended", False), (NOON, NOON + H, "ended", False), (NOON - 14 * H, NOON - 13 * H, "confirm_old", False)]  # fmt: skip
        for began, ended, field, confirmed in table:
            with self.subTest(field), self.assertRaises(Refused) as caught:
                services.check_times(began, ended, confirmed)
            self.assertEqual(caught.exception.field, field)
        services.check_times(NOON - 14 * H, NOON - 13 * H, True)
        services.check_times(NOON, NOON + timedelta(minutes=1))


class ClockTests(TestCase):
    def test_only_the_demo_and_tests_may_differ(self):
        with override_settings(CLOCK_MAY_DIFFER=False), self.assertRaises(RuntimeError):
            clock.freeze(NOON)

    def test_local_times(self):
        zone, now = ZoneInfo("Europe/Vienna"), NOON
        table = [
            ("11:30", "2026-05-12T09:30"),
            ("12:01", "2026-05-12T10:01"),
            ("13:00", "2026-05-11T11:00"),  # a bare hour is its last occurrence
            ("yesterday 16:00", "2026-05-11T14:00"),
            ("2026-01-05 08:00", "2026-01-05T07:00"),
            ("2026-10-25 02:30 +01:00", "2026-10-25T01:30"),
            ("2026-10-25 02:30 +02:00", "2026-10-25T00:30"),
        ]
        for text, expected in table:
            with self.subTest(text):
                self.assertEqual(read_local(text, zone, now), utc(expected))
                self.assertEqual(read_local(write_local(utc(expected), zone), zone, now), utc(expected))
        refused = [
            ("2026-03-29 02:30", "does not exist"),
            ("2026-10-25 02:30", "happens twice"),
            ("soon", "write 14:05"),
            ("25:00", "no such"),
        ]
        for text, message in refused:
            with self.subTest(text), self.assertRaisesMessage(TimeError, message):
                read_local(text, zone, now)
        with self.assertRaisesMessage(TimeError, "2026-10-25 02:30 +02:00 or 2026-10-25 02:30 +01:00"):
            read_local("2026-10-25 02:30", zone, now)


class WhoMayTests(ShopCase):
    def test_viewers_write_nothing_and_nobody_without_a_token(self):
        self.client.force_login(self.shop.people["viewer"])
        before = Entry.objects.count()
        answer = self.client.post(
            f"/zones/{self.shop.zone.pk}/log/bared", {"token": "x", "began": "11:00", "ended": "11:30", "share": "100"}
        )
        self.assertContains(answer, "viewer", status_code=403)
        self.assertEqual(Entry.objects.count(), before)
        strict = self.client_class(enforce_csrf_checks=True)
        strict.force_login(self.shop.user)
        answer = strict.post(f"/zones/{self.shop.zone.pk}/log/bared", {})
        self.assertContains(answer, "Nothing was recorded", status_code=403)

    def test_a_fragment_for_a_signed_out_page_says_so(self):
        self.client.logout()
        answer = self.client.post(f"/zones/{self.shop.zone.pk}/preview", headers={"HX-Request": "true"})
        self.assertContains(answer, "signed out", status_code=401)


class FirstRunTests(TestCase):
    def test_a_one_time_code_sets_up_workshop_and_owner(self):
        from emplastra.accounts import setup

        self.assertRedirects(self.client.get("/"), "/first-run")
        health = self.client.get("/health", REMOTE_ADDR="192.0.2.7").json()
        self.assertEqual(health, {"ok": True, "set_up": False})
        code = setup.issue_code()
        form = {
            "code": "wrong",
            "name": "Our shop",
            "time_zone": "Europe/Vienna",
            "units": "us",
            "username": "boss",
            "password": PASSWORD,
        }
        answer = self.client.post("/first-run", form)
        self.assertContains(answer, "is not the code", status_code=422)
        self.assertContains(answer, 'value="Our shop"', status_code=422)
        answer = self.client.post("/first-run", form | {"code": code, "time_zone": "Moon/Base"})
        self.assertContains(answer, "Europe/Vienna or America/Chicago", status_code=422)
        self.assertRedirects(self.client.post("/first-run", form | {"code": code}), "/")
        self.assertEqual((Workshop.current().units, User.objects.get().role), ("us", "owner"))
        self.assertRedirects(self.client_class().post("/first-run", form | {"code": code}), "/sign-in")
        self.assertFalse(setup.code_is_right(code))


class SettingsTests(ShopCase):
    def setUp(self):
        super().setUp()
        self.client.force_login(self.shop.people["owner"])

    def test_workshop_places_and_people(self):
        values = {
            "token": "s1",
            "name": "Railside",
            "time_zone": "America/Chicago",
            "units": "us",
            "assumed_air_c": "64 °F",
            "hourly_rate": "55",
            "currency": "€",
            "assumed_rh_pct": "50",
            "wet_prompt_min": "12",
            "uneven_sprayed": "1.2",
            "uneven_brushed": "1.4",
            "idle_min": "60",
        }
        for more, said in (({"latitude": "41.9"}, "is wanted beside the other"), ({"latitude": "91", "longitude": "0"}, "less than or equal to 90"), ({"wet_prompt_min": ""}, "Wet prep again every")):  # fmt: skip
            self.assertContains(self.client.post("/settings/", values | more), said, status_code=422)
        values |= {"latitude": "41.9", "longitude": "-87.6"}
        self.assertRedirects(self.client.post("/settings/", values), "/settings/")
        workshop = Workshop.current()
        self.assertAlmostEqual(workshop.assumed_air_c, 17.7777, places=3)
        self.assertEqual((workshop.name, workshop.units), ("Railside", "us"))
        self.assertEqual((workshop.latitude, workshop.longitude, workshop.wet_prompt_min), (41.9, -87.6, 12))
        self.client.post("/air/places/add", {"name": "Booth", "kind": "booth"})
        self.assertContains(self.client.post("/air/places/add", {"name": "Booth"}), "no other place", status_code=422)
        self.client.post(
            "/settings/people/add", {"token": "p1", "username": "new", "role": "refinisher", "password": PASSWORD}
        )
        self.assertTrue(User.objects.get(username="new").may_write)

    def test_us_units_are_shown_and_meant(self):
        Workshop.objects.update(units="us")
        page = self.client.get(f"/zones/{self.shop.zone.pk}/plan").content.decode()
        self.assertIn("10.8 sq ft", page)  # 1 m2 is 10.764 sq ft
        self.assertIn("3.9 mil", page)  # 100 µm planned is 3.937 mil

    def test_json_of_a_job_holds_struck_entries(self):
        coat = self.shop.coat(-1, -0.5)
        services.void(self.shop.user, coat, "wrong zone")
        answer = self.client.get(f"/jobs/{self.shop.job.pk}/record.json")
        document = json.loads(answer.content)
        entries = document["zones"][0]["entries"]
        struck = [e for e in entries if "struck_through" in e]
        self.assertEqual([e["kind"] for e in entries], ["moved", "coat"])
        self.assertEqual(struck[0]["struck_through"]["reason"], "wrong zone")
