"""Who comes in, stays in and may do what: passwords, second factor, devices, roles, the security log."""

import re
import time
from datetime import timedelta
from unittest import mock

import pyotp
from django.conf import settings
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.test import SimpleTestCase, TestCase, override_settings
from django.utils import timezone

from emplastra.accounts import factor, security, services, setup
from emplastra.accounts.models import Happening, NewPassword, SecurityEvent, Session, User, Workshop
from emplastra.accounts.names import name_key
from emplastra.accounts.permissions import TABLE, Right, may, right_of
from emplastra.accounts.sessions import LONGEST, device_of
from emplastra.climate.models import ImportBatch, ImportDraft
from emplastra.climate.services import draft
from emplastra.jobs.models import CareLink, Job, OwnerDecision, School
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.models import Product
from emplastra.materials.services import add_system
from emplastra.scales.models import Scale
from emplastra.shared.services import Refused
from emplastra.store.models import Recall, Tin
from tests.base import PASSWORD, ShopCase, text_of

NEW = "seven wet panels"
"""A password that nobody would take for a common one."""


class DoorCase(ShopCase):
    def setUp(self):
        super().setUp()
        self.people = self.shop.people
        self.owner, self.bench = self.people["owner"], self.people["bench"]

    def sign_in(self, name, password=PASSWORD, client=None, **headers):
        """A client of its own, after the name and password were sent; and what came back."""
        client = client or self.client_class(headers={"user-agent": "Mobile"}, **headers)
        return client, client.post("/sign-in", {"username": name, "password": password})

    def is_in(self, client):
        return client.get("/more/").status_code == 200

    def told(self, kind):
        """The newest line of this kind in the security log."""
        line = SecurityEvent.objects.filter(kind=kind).first()
        return None if line is None else (line.name, str(line.about or ""), line.words)


class NameTests(SimpleTestCase):
    def test_names_that_look_alike_are_one(self):
        """Unicode's own words on it: NFKC, casefold, and format characters (Cf) that no font draws."""
        for one, other in (
            ("Bench", "bench"), ("bench", " bench "), ("be\u200bnch", "bench"), ("\u202ebench", "bench"), ("ｂｅｎｃｈ", "bench"),
            ("Straße", "STRASSE"), ("ben\u00adch", "bench"), ("two  words", "two\u00a0words"), ("be\ufeffnch", "bench"), ("ﬁller", "filler"),
        ):  # fmt: skip
            with self.subTest(other, one=one.encode()):
                self.assertEqual(name_key(one), name_key(other))
        self.assertNotEqual(name_key("bench"), name_key("benches"))
        for unseen in ("", " ", "\u200b\u2060", "\u202e", "\x00"):
            self.assertEqual(name_key(unseen), "")

    def test_devices_in_words(self):
        for agent, words in (("X (iPad; CPU)", "a tablet"), ("X (Android; Mobile)", "a phone"), ("X (X11)", "a computer"), ("", "something that does not say what it is")):  # fmt: skip
            self.assertEqual(device_of(agent), words)


class PasswordTests(TestCase):
    def test_what_is_refused_and_what_is_taken(self):
        """Lengths as ASVS 2.1.1 and 2.1.2 ask (12 to 128 at least), spaces and any letter as 2.1.3 and 2.1.4 do; from memory."""
        Workshop.objects.create(name="Railside Works")
        user = User(username="Margarete")
        for password, word in (
            ("elevenchars", "too short"), ("twelve chars", None), ("123456123456", "too common"), ("margarete1234", "similar|mostly a name"), ("Margarete!!!", "mostly a name"),
            ("railside-2026", "mostly a name"), ("Emplastra1234", "mostly a name"), ("railside sheds in fog", None), ("x" * 11 + "é", None), ("пять мокрых панелей", None), ("x y" * 42, None),
        ):  # fmt: skip
            with self.subTest(password):
                if word is None:
                    validate_password(password, user)
                else:
                    with self.assertRaisesRegex(ValidationError, word):
                        validate_password(password, user)

    def test_a_password_is_kept_whole_and_hashed_anew_each_time(self):
        one, other = User(username="a"), User(username="b")
        for user in (one, other):
            user.set_password(" " + "ä" * 120 + " ")
        self.assertTrue(one.check_password(" " + "ä" * 120 + " "))
        self.assertFalse(one.check_password("ä" * 120))
        self.assertNotEqual(one.password, other.password)


class SecondFactorTests(DoorCase):
    def test_codes_are_those_of_the_standard(self):
        """RFC 6238, appendix B, SHA-1: its eight digits cut to six, as RFC 4226 cuts them."""
        secret = "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ"  # "12345678901234567890" in base 32
        for t_s, digits in ((59, "94287082"), (1111111109, "07081804"), (1111111111, "14050471"), (1234567890, "89005924"), (2000000000, "69279037")):  # fmt: skip
            code = digits[2:]
            with self.subTest(t_s):
                for away, taken in ((0, True), (29, True), (-30, True), (61, False), (-90, False)):
                    step = factor.step_of(secret, f"{code[:3]} {code[3:]}", t_s + away)
                    self.assertEqual(step == t_s // 30, taken, away)
                self.assertIsNone(factor.step_of(secret, "", t_s))
                self.assertIsNone(factor.step_of(secret, code[:5], t_s))

    def take(self):
        """The owner's second factor, taken by its page: (what makes its codes, spare codes)."""
        self.client.force_login(self.owner)
        self.client.get("/you/second-factor")
        secret = self.client.session["factor"][0]
        sent = {"token": "f", "password_now": PASSWORD, "code": "000000"}
        self.assertContains(
            self.client.post("/you/second-factor", sent), "is not the one it shows now", status_code=422
        )
        page = self.client.post("/you/second-factor", sent | {"code": pyotp.TOTP(secret).now()}, follow=True)
        return pyotp.TOTP(secret), re.findall(r"<code>([\w-]+)</code>", page.content.decode())

    def test_taken_asked_for_never_twice_and_given_up(self):
        codes, spare = self.take()
        self.assertEqual(len(spare), factor.SPARE)
        self.assertNotIn(spare[0], str(self.owner.second_factor.spare))
        client, answer = self.sign_in("owner")
        self.assertRedirects(answer, "/sign-in/code?next=", fetch_redirect_response=False)
        self.assertFalse(self.is_in(client))
        send = lambda code, client=client: client.post("/sign-in/code", {"code": code}).status_code  # noqa: E731
        used = codes.now()
        with self.subTest("the code that proved it is used"):
            self.assertEqual(send(used), 422)
        with self.subTest("the next one opens, and no second time"), mock.patch("time.time", lambda: ahead):
            ahead = time.monotonic() * 0 + timezone.now().timestamp() + 30
            following = codes.at(int(ahead))
            self.assertEqual(send(following), 302)
            self.assertTrue(self.is_in(client))
            again, _ = self.sign_in("owner")
            self.assertEqual(send(following, again), 422)
        with self.subTest("a spare code opens once"):
            third, _ = self.sign_in("owner")
            self.assertEqual(send(spare[0].upper(), third), 302)
            fourth, _ = self.sign_in("owner")
            self.assertEqual(send(spare[0], fourth), 422)
        self.assertFalse(factor.takes(self.bench, codes.now()))
        with self.subTest("not without the password, nor long after it"):
            self.assertRedirects(self.client_class().get("/sign-in/code"), "/sign-in")
            late, _ = self.sign_in("owner")
            with mock.patch("time.time", lambda: timezone.now().timestamp() + 301):
                self.assertRedirects(late.get("/sign-in/code"), "/sign-in", fetch_redirect_response=False)
        sent = {"token": "off", "password_now": "not it, surely"}
        self.assertContains(self.client.post("/you/second-factor/off", sent), "is not your password", status_code=422)
        self.client.post("/you/second-factor/off", sent | {"password_now": PASSWORD, "token": "off2"})
        self.assertTrue(self.is_in(self.sign_in("owner")[0]))
        self.assertEqual(self.told(Happening.FACTOR), ("owner", "", "given up"))

    def test_guessed_codes_wait_like_guessed_passwords(self):
        self.take()
        client, _ = self.sign_in("owner")
        found = [client.post("/sign-in/code", {"code": f"{n:06}"}).status_code for n in range(6)]
        self.assertEqual(found, [422, 422, 422, 422, 429, 429])
        self.assertEqual(self.sign_in("owner")[1].status_code, 429)
        self.assertTrue(self.is_in(self.sign_in("bench")[0]))

    def test_an_owner_takes_it_away_from_whoever_lost_it(self):
        services_owner = User.objects.create_user("second", password=PASSWORD, role="owner")
        self.take()
        self.client.force_login(services_owner)
        self.client.post(f"/settings/people/{self.owner.pk}/factor")
        self.assertEqual(self.told(Happening.FACTOR), ("second", "owner", "taken away by an owner"))
        self.assertTrue(self.is_in(self.sign_in("owner")[0]))


class GuessingTests(DoorCase):
    def test_wrong_tries_are_counted_for_name_and_address_together(self):
        guess = {"username": "owner", "password": "guess-guess"}
        there = {"REMOTE_ADDR": "192.0.2.7"}
        found = [self.client_class().post("/sign-in", guess, **there).status_code for _ in range(5)]
        self.assertEqual(found, [422] * 4 + [429])
        for name in ("owner", "OWNER", "own\u200ber"):
            answer = self.client_class().post("/sign-in", {"username": name, "password": PASSWORD}, **there)
            self.assertContains(answer, "wait 5 minutes", status_code=429)
        with self.subTest("from elsewhere, and another name from there, nobody waits"):
            right = {"username": "owner", "password": PASSWORD}
            self.assertRedirects(self.client_class().post("/sign-in", right), "/")
            self.assertRedirects(self.client_class().post("/sign-in", right | {"username": "bench"}, **there), "/")
        with self.subTest("five minutes later"), override_settings(AXES_COOLOFF_TIME=timedelta(microseconds=1)):
            self.assertEqual(self.client_class().post("/sign-in", right, **there).status_code, 302)

    def test_a_name_that_is_nobodys_is_answered_alike(self):
        said = [text_of(self.sign_in(name, "guess-guess")[1]) for name in ("owner", "nobody at all")]
        self.assertEqual(said[0].replace("owner", ""), said[1].replace("nobody at all", ""))

    def test_the_log_is_not_flooded(self):
        with mock.patch.object(security, "FLOOD", 3):
            for n in range(5):
                self.sign_in(f"name {n}", "guess-guess")
        self.assertEqual(SecurityEvent.objects.filter(kind=Happening.WRONG).count(), 3)

    def test_the_first_code_waits_for_one_address_and_shows_again(self):
        code = setup.issue_code()
        self.addCleanup(setup.void_code)
        with self.assertLogs("emplastra.accounts.setup", "WARNING") as said:
            found = [setup.code_is_right("0000", "192.0.2.7") for _ in range(12)]
        self.assertEqual((found, len(said.output)), ([False] * 12, 1))
        self.assertIn(code, said.output[0])
        self.assertFalse(setup.code_is_right(code, "192.0.2.7"))
        self.assertTrue(setup.code_is_right(f" {code.upper()} ", "192.0.2.8"))
        with mock.patch("time.time", lambda: timezone.now().timestamp() + setup.WAIT_S + 1):
            self.assertTrue(setup.code_is_right(code, "192.0.2.7"))


class DeviceTests(DoorCase):
    def ends(self, client):
        return Session.objects.get(session_key=client.session.session_key)

    def test_a_device_is_signed_out_when_it_was_still_for_too_long(self):
        """By (minutes still, the limit): who is still in."""
        for still, limit, stays in ((59, 60, True), (61, 60, False), (719, 720, True), (721, 720, False)):
            with self.subTest(still=still, limit=limit):
                services.change_workshop(self.owner, idle_min=limit)
                client, _ = self.sign_in("bench")
                row = self.ends(client)
                self.assertEqual((row.device, row.address, row.user), ("a phone", "127.0.0.1", self.bench))
                later = timezone.now() + timedelta(minutes=still)
                with mock.patch("django.utils.timezone.now", lambda later=later: later):
                    self.assertEqual(self.is_in(client), stays)
        with self.subTest("seen again after a tenth of a short limit, by a tap and not by a page that asks by itself"):
            services.change_workshop(self.owner, idle_min=20)
            client, _ = self.sign_in("bench")
            first = self.ends(client).seen
            for minutes, headers, moved in (
                (1.9, {}, False), (2.1, {"HX-Request": "true"}, False), (2.1, {"Sec-Fetch-Dest": "empty"}, False), (2.1, {"Sec-Fetch-Dest": "document"}, True),
            ):  # fmt: skip
                later = first + timedelta(minutes=minutes)
                with mock.patch("django.utils.timezone.now", lambda later=later: later):
                    client.get("/more/", headers=headers)
                self.assertEqual(self.ends(client).seen > first, moved)
        with self.subTest("a limit that is made shorter holds at once"):
            client, _ = self.sign_in("bench")
            services.change_workshop(self.owner, idle_min=5)
            self.assertLess(self.ends(client).expire_date, timezone.now() + timedelta(minutes=5, seconds=1))

    def test_in_use_it_stays_and_ends_after_thirty_days(self):
        client, _ = self.sign_in("bench")
        start = timezone.now()
        for day in range(29):
            for hour in (0, 11):
                with mock.patch("django.utils.timezone.now", lambda d=day, h=hour: start + timedelta(days=d, hours=h)):
                    self.assertTrue(self.is_in(client))
            with mock.patch("django.utils.timezone.now", lambda d=day: start + timedelta(days=d, hours=22)):
                self.assertTrue(self.is_in(client))
        with mock.patch("django.utils.timezone.now", lambda: start + LONGEST + timedelta(seconds=5)):
            self.assertFalse(self.is_in(client))

    def test_a_password_changed_signs_out_everywhere_else(self):
        here, there = self.sign_in("bench")[0], self.sign_in("bench")[0]
        sent = {"token": "p", "password_now": "not it, surely", "password": NEW, "password_again": NEW}
        for more, word in (
            ({}, "Your password now: is not your password"), ({"password_now": PASSWORD, "password_again": NEW + "!"}, "differs from the new password"),
            ({"password_now": PASSWORD, "password": "short", "password_again": "short"}, "too short"),
        ):  # fmt: skip
            self.assertContains(here.post("/you/password", sent | more), word, status_code=422)
        self.assertTrue(self.is_in(there))
        self.assertRedirects(here.post("/you/password", sent | {"password_now": PASSWORD}), "/you/")
        self.assertEqual((self.is_in(here), self.is_in(there)), (True, False))
        self.assertEqual(self.sign_in("bench")[1].status_code, 422)
        self.assertTrue(self.is_in(self.sign_in("bench", NEW)[0]))

    def test_ones_own_password_is_not_guessed_at_a_device_left_open(self):
        client, _ = self.sign_in("bench")
        for n in range(5):
            self.assertTrue(self.is_in(client))
            client.post(
                "/you/password", {"token": f"t{n}", "password_now": "x" * 12, "password": NEW, "password_again": NEW}
            )
        self.assertFalse(self.is_in(client))
        self.assertEqual(self.told(Happening.LOCKED)[2], "own password: signed out")

    def test_devices_are_listed_and_ended(self):
        here, there, third = (self.sign_in("bench")[0] for _ in range(3))
        mate, _ = self.sign_in("mate")
        page = here.get("/you/").content.decode()
        self.assertEqual(page.count("A phone"), 3)
        marks = re.findall(r'name="device" value="(\w+)"', page)
        self.assertFalse(any(key[:12] in page for key in Session.objects.values_list("session_key", flat=True)))
        mine = self.ends(there).mark
        self.assertIn(mine, marks)
        mate.post("/you/devices/end", {"device": mine})
        self.assertTrue(self.is_in(there))
        here.post("/you/devices/end", {"device": mine})
        self.assertEqual([self.is_in(c) for c in (here, there, third, mate)], [True, False, True, True])
        here.post("/you/devices/end-others")
        self.assertEqual([self.is_in(c) for c in (here, third, mate)], [True, False, True])

    def test_whoever_is_let_in_again_signs_in_anew(self):
        client, _ = self.sign_in("bench")
        secret = services.make_feed(self.bench, timezone.now(), 45, 0, 0)
        link = services.link_for_password(self.owner, self.bench)
        services.set_active(self.owner, self.bench, False)
        self.assertFalse(self.is_in(client))
        self.assertEqual(self.sign_in("bench")[1].status_code, 422)
        services.set_active(self.owner, self.bench, True)
        self.assertFalse(self.is_in(client))
        self.assertIsNone(services.feed_of(secret))
        self.assertIsNone(services.link_of(link))
        self.assertTrue(self.is_in(self.sign_in("bench")[0]))


class LinkTests(DoorCase):
    def test_a_new_password_by_an_address_once(self):
        self.client.force_login(self.owner)
        client, _ = self.sign_in("bench")
        page = self.client.post(f"/settings/people/{self.bench.pk}/password", follow=True).content.decode()
        address = re.search(r'value="http://testserver(/password/[\w-]+)"', page)[1]
        self.assertNotIn(address, self.client.get("/settings/people/").content.decode())
        self.assertNotIn(address.split("/")[-1], str(list(NewPassword.objects.values())))
        anybody = self.client_class()
        self.assertContains(anybody.get(address), "A new password for bench")
        self.assertContains(anybody.post(address, {"password": "short", "password_again": "short"}), "too short", status_code=422)  # fmt: skip
        sent = {"password": NEW, "password_again": NEW}
        self.assertRedirects(anybody.post(address, sent), "/sign-in")
        self.assertEqual(anybody.post(address, sent).status_code, 404)
        self.assertFalse(self.is_in(client))
        self.assertTrue(self.is_in(self.sign_in("bench", NEW)[0]))

    def test_an_address_ends(self):
        """By what happened since it was made."""
        for name, since in (
            ("a day", lambda: NewPassword.objects.update(until=timezone.now())),
            ("a newer one", lambda: services.link_for_password(self.owner, self.bench)),
            ("not let in any more", lambda: User.objects.filter(pk=self.bench.pk).update(is_active=False)),
        ):
            with self.subTest(name):
                secret = services.link_for_password(self.owner, self.bench)
                self.assertIsNotNone(services.link_of(secret))
                since()
                self.assertEqual(self.client_class().get(f"/password/{secret}").status_code, 404)
        with self.assertRaisesRegex(Refused, "let them in again first"):
            services.link_for_password(self.owner, User.objects.get(pk=self.bench.pk))

    def test_somebody_new_without_a_password(self):
        self.client.force_login(self.owner)
        for name, word in (("BENCH", "looks like one"), ("b\u200bench", "looks like one"), ("\u2060\u2060", "no sign that can be seen")):  # fmt: skip
            answer = self.client.post("/settings/people/add", {"token": "n", "username": name, "role": "viewer"})
            self.assertContains(answer, word, status_code=422)
        page = self.client.post(
            "/settings/people/add", {"token": "n", "username": "new", "role": "viewer"}, follow=True
        )
        self.assertContains(page, "A private address for new")
        self.assertEqual(self.sign_in("new", "")[1].status_code, 422)


class RoleTests(DoorCase):
    def test_roles_change_at_once_and_the_last_owner_stays(self):
        client, _ = self.sign_in("bench")
        self.client.force_login(self.owner)
        self.client.post(f"/settings/people/{self.bench.pk}/role", {"role": "viewer"})
        self.assertEqual(client.post("/jobs/new", {"token": "t", "name": "Cart", "standard": "drive"}).status_code, 403)
        self.assertEqual(self.told(Happening.ROLE), ("owner", "bench", "viewer, was refinisher"))
        for body, word in (({"role": "refinisher"}, "The last owner stays one"), ({"role": "king"}, "must be one of")):
            page = self.client.post(f"/settings/people/{self.owner.pk}/role", body, follow=True)
            self.assertContains(page, word)
        page = self.client.post(f"/settings/people/{self.owner.pk}/toggle", follow=True)
        self.assertContains(page, "The last owner cannot be deactivated")
        self.owner.refresh_from_db()
        self.assertTrue(self.owner.is_owner and self.owner.is_active)
        services.change_role(self.owner, self.owner, "owner")  # as it is already
        gone = User.objects.create_user("gone", password=PASSWORD, role="owner", is_active=False)
        with self.assertRaisesRegex(Refused, "the last owner"):  # who is not let in is none
            services.change_role(self.owner, self.owner, "viewer")
        services.set_active(self.owner, gone, True)
        services.change_role(self.owner, self.owner, "viewer")

    def test_what_an_owner_decides_nobody_else_does(self):
        """By address, a body that an owner's page would send, and what it changes."""
        job, primer = self.shop.job, self.shop.primer
        system = add_system("Ours", [{"kind": "strip"}]).system
        Tin.objects.create(product=primer, part="base", batch="B1")
        recall = Recall.objects.create(product=primer, part="base", batch="B1", why="thick", who=self.bench)
        care = lambda: CareLink.objects.filter(revoked=None).count()  # noqa: E731
        rows = (
            (f"/jobs/{job.pk}/decide", {"token": "d", "opening": "Door", "decided": "repair", "on": "2026-05-12"}, OwnerDecision.objects.count),
            (f"/jobs/{job.pk}/file", {"filing": "closed"}, lambda: Job.objects.get(pk=job.pk).filing),
            (f"/materials/{primer.pk}/retire", {"token": "r"}, lambda: Product.objects.get(pk=primer.pk).retired),
            (f"/systems/{system.pk}/retire", {}, lambda: type(system).objects.get(pk=system.pk).retired),
            (f"/recalls/{recall.pk}/lift", {"token": "l", "why": "a mistake"}, lambda: Recall.objects.filter(lifted__isnull=True).count()),
            (f"/jobs/{job.pk}/care/address", {"token": "c"}, care),
            (f"/jobs/{job.pk}/care/revoke", {"token": "v"}, care),
            ("/rules/schools", {"burnish": "wheel-keys"}, School.objects.count),
            ("/settings/scales/new", {"token": "s", "name": "Ohm", "address": "stand-in", "baud": "9600", "pattern": Scale.PATTERNS[0][0]}, lambda: None),
            (f"/jobs/{job.pk}/delete", {}, lambda: None),
        )  # fmt: skip
        for url, body, seen in rows:
            before = seen()
            for name in ("viewer", "bench"):
                with self.subTest(url, who=name):
                    self.client.force_login(self.people[name])
                    answer = self.client.post(url, body)
                    self.assertIn(answer.status_code, {403} if url != "/rules/schools" or name == "viewer" else {302})
                    self.assertEqual(seen(), before)
            with self.subTest(url, who="owner"):
                self.client.force_login(self.owner)
                self.assertLess(self.client.post(url, body).status_code, 403)
                if before is not None:
                    self.assertNotEqual(seen(), before)

    def test_ones_own_is_ones_own(self):
        """What somebody took in, logged or left half done is withdrawn, corrected or dropped by them or an owner."""
        batch, entry = ImportBatch.objects.get(), self.shop.coat(-1, -0.5)
        half = draft(self.bench, self.shop.place, "half.csv", b"time,air_c,rh_pct\n", False)
        self.client.force_login(self.people["mate"])
        self.client.post(f"/air/batches/{batch.pk}/withdraw", {"reason": "mine now"})
        self.client.post(f"/entries/{entry.pk}/void", {"token": "v", "reason": "not mine"})
        self.client.post(f"/air/import/{half.pk}/throw-away")
        self.assertEqual(self.client.get(f"/air/import/{half.pk}/").status_code, 404)
        self.assertEqual(ImportBatch.objects.filter(withdrawal=None).count(), 1)
        self.assertEqual((Entry.objects.known_at().of(Kind.COAT).count(), ImportDraft.objects.count()), (1, 1))
        self.client.force_login(self.bench)
        self.client.post(f"/air/import/{half.pk}/throw-away")
        self.client.post(f"/air/batches/{batch.pk}/withdraw", {"reason": "wrong place"})
        self.assertEqual((ImportBatch.objects.filter(withdrawal=None).count(), ImportDraft.objects.count()), (0, 0))

    def test_services_ask_again(self):
        for act in (
            lambda by: services.add_person(by, "x", "viewer", NEW), lambda by: services.change_role(by, self.bench, "owner"), lambda by: services.change_workshop(by, name="x"),
            lambda by: services.set_active(by, self.owner, False), lambda by: services.link_for_password(by, self.owner), lambda by: services.drop_factor(by, self.owner),
        ):  # fmt: skip
            with self.assertRaisesRegex(Refused, "only an owner"):
                act(self.people["mate"])
        for by, person in (("mate", "bench"), ("viewer", "viewer")):  # hours are one's own, of those who log
            with self.assertRaisesRegex(Refused, "only an owner"):
                services.tell_bench_hours(self.people[by], self.people[person], "none")
        services.tell_bench_hours(self.people["mate"], self.people["mate"], "none")


class LogTests(DoorCase):
    def test_what_happened_is_told_to_the_owner_and_changed_by_nobody(self):
        client, _ = self.sign_in("bench")
        self.sign_in("bench", "not it, surely")
        client.get("/settings/")
        client.post("/sign-out")
        self.client.force_login(self.owner)
        page = text_of(self.client.get("/settings/log/"))
        for words in (
            "Signed in on a phone bench",
            "Wrong password or code bench",
            "Not allowed GET /settings/ bench",
            "Signed out bench",
            "127.0.0.1",
        ):
            self.assertIn(words, page)
        self.assertNotIn("not it, surely", page)
        self.assertNotIn(
            "Wrong password",
            text_of(self.client.get("/settings/log/?kind=signed-in")).split("Older")[0].split("When")[1],
        )
        table = self.client.get("/settings/log.csv").content.decode()
        self.assertIn("Not allowed,bench", table)
        self.assertEqual(self.told(Happening.EXPORT), ("owner", "", "/settings/log.csv"))
        self.client.force_login(self.bench)
        self.assertEqual(self.client.get("/settings/log/").status_code, 403)


class TableTests(SimpleTestCase):
    def test_every_name_in_the_table_is_an_address(self):
        from tests.fuzz import named_addresses

        names = {name for name, _ in named_addresses()}
        self.assertEqual(set(TABLE) - names, set())
        self.assertEqual(right_of("jobs:new"), Right.WORK)
        for role, sends in (("viewer", []), ("refinisher", ["jobs:new"]), ("owner", ["jobs:new", "jobs:file", "accounts:role"])):  # fmt: skip
            user = User(username="x", role=role)
            self.assertEqual([name for name in ("jobs:new", "jobs:file", "accounts:role") if may(user, name)], sends)
        self.assertEqual(settings.AXES_LOCKOUT_PARAMETERS, [["username", "ip_address"]])
