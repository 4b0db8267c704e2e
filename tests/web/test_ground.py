"""What the workshop stands on: whose word is believed, what is refused before it is read, what stops recording."""

import configparser
import errno
import hashlib
import io
import os
import pickle
import shutil
import sqlite3
import tempfile
import threading
import zlib
from contextlib import closing
from pathlib import Path
from unittest import mock

import numpy as np
from django.conf import settings
from django.core.cache import caches
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError
from django.db import connection, connections
from django.test import SimpleTestCase, TransactionTestCase, override_settings
from django.utils import timezone

from emplastra.accounts import leftovers
from emplastra.accounts.management.commands import serve
from emplastra.accounts.models import NewPassword, SecurityEvent, Session, User
from emplastra.climate import packs
from emplastra.climate.live import packed
from emplastra.climate.models import ImportBatch
from emplastra.core.document import DocumentError
from emplastra.jobs import photos
from emplastra.jobs.models import Job
from emplastra.shared import appendonly, asked, backup, ready, sealing, standing, tasks
from emplastra.shared.backup import STAMP
from emplastra.shared.models import Task
from emplastra.shared.services import Refused
from emplastra.shared.sqlite import base as sqlite
from emplastra.shared.sqlite.base import DatabaseWrapper
from emplastra.shared.times import TimeError, read_local
from emplastra.shared.wsgi import behind, bodiless_head
from tests import fuzz
from tests.base import NOON, PASSWORD, ZONE, DropTriggers, H, Shop, ShopCase, TaskCase, drop_caches, text_of
from tests.serving import manage

DEPLOY = Path(settings.BASE_DIR) / "deploy"


class WireTests(SimpleTestCase):
    def test_who_is_believed(self):
        """(peer, told for, told scheme) -> (address, scheme) with 10.0.0.1 and 192.168.7.0/24 named."""
        told = {}

        def application(environ, start_response):
            told.update(address=environ["REMOTE_ADDR"], scheme=environ["wsgi.url_scheme"])
            told["left"] = sorted(k for k in environ if "FORWARDED" in k and environ["REMOTE_ADDR"] == "203.0.113.9")
            start_response("200 OK", [])
            return [b""]

        served = behind(application, ["10.0.0.1", "192.168.7.0/24", "::1"])
        for peer, forwarded, proto, address, scheme in (
            ("10.0.0.1", "198.51.100.4", "https", "198.51.100.4", "https"),
            ("10.0.0.1", "198.51.100.4", "http", "198.51.100.4", "http"),
            ("192.168.7.99", "198.51.100.5", "https", "198.51.100.5", "https"),
            ("::1", "198.51.100.5", "https", "198.51.100.5", "https"),
            ("10.0.0.1", "127.0.0.1, 198.51.100.4", "https", "198.51.100.4", "https"),  # the first is the caller's own claim
            ("10.0.0.2", "198.51.100.4", "https", "10.0.0.2", "http"),
            ("203.0.113.9", "127.0.0.1", "https", "203.0.113.9", "http"),
            ("", "127.0.0.1", "https", "", "http"),
        ):  # fmt: skip
            with self.subTest(peer, forwarded=forwarded):
                environ = {
                    "REMOTE_ADDR": peer, "wsgi.url_scheme": "http", "SERVER_PORT": "80", "SERVER_NAME": "x",
                    "HTTP_X_FORWARDED_FOR": forwarded, "HTTP_X_FORWARDED_PROTO": proto, "HTTP_X_FORWARDED_HOST": "evil.example",
                }  # fmt: skip
                served(environ, lambda *_: None)
                self.assertEqual((told["address"], told["scheme"], told["left"]), (address, scheme, []))
        with self.assertRaises(ValueError):
            behind(application, ["nginx"])

    def test_head_has_the_length_of_the_body_and_not_the_body(self):
        for told in (
            [],
            [("Content-Length", "6")],
            [("Content-Type", "text/plain"), ("X-Other", "1")],
            [("content-length", "6"), ("X-Other", "1")],
        ):
            for method, body in (("GET", b"abcdef"), ("HEAD", b"")):
                with self.subTest(method, told=told):
                    said = []

                    def application(environ, start_response, told=told):
                        start_response("200 OK", list(told))
                        return iter([b"abc", b"def"])

                    def start(status, headers, said=said):
                        said.extend(headers)

                    self.assertEqual(b"".join(bodiless_head(application)({"REQUEST_METHOD": method}, start)), body)
                    lengths = [value for name, value in said if name.lower() == "content-length"]
                    expected = (
                        ["6"] if method == "HEAD" or any(name.lower() == "content-length" for name, _ in told) else []
                    )
                    self.assertEqual(lengths, expected)
                    self.assertEqual(
                        [h for h in said if h[0].lower() != "content-length"],
                        [h for h in told if h[0].lower() != "content-length"],
                    )


class AskedTests(SimpleTestCase):
    def test_ids_counts_and_figures_of_a_request(self):
        for text, pk, count in (
            ("7", 7, 7), (" 12 ", 12, 12), ("0", None, 0), ("1", 1, 1), ("-1", None, 5), ("²", None, 5), ("٣", None, 5), ("1e3", None, 5), ("", None, 5), ("1_0", None, 5), ("20", 20, 20), ("21", 21, 5),
            ("9" * 18, 10**18 - 1, 5), ("1" + "0" * 18, None, 5), ("9" * 401, None, 5), (None, None, 5),
        ):  # fmt: skip
            with self.subTest(text):
                values = {} if text is None else {"n": text}
                self.assertEqual((asked.an_id(values, "n"), asked.a_count(values, "n", 5, 20)), (pk, count))
        self.assertEqual(
            (asked.a_count({}, "n"), asked.a_count({"n": "1000000"}, "n"), asked.a_count({"n": "1000001"}, "n")),
            (0, 10**6, 0),
        )
        self.assertEqual(asked.ids({"zones": "3,1,x,3,,²,0,2"}, "zones"), [3, 1, 2])
        for text, figure in (
            ("1.5", 1.5),
            ("-99", -10.0),
            ("99", 20.0),
            ("nan", 0.0),
            ("-inf", 0.0),
            ("x", 0.0),
            ("", 0.0),
            ("1e400", 0.0),
        ):
            with self.subTest(text):
                self.assertEqual(asked.a_figure({"k": text}, "k", -10.0, 20.0), figure)

    def test_moments_of_a_workshop(self):
        for text, year in (
            ("1899-12-31 12:00", None),
            ("1900-01-01 12:00", 1900),
            ("2200-12-31 12:00", 2200),
            ("2201-01-01 12:00", None),
            ("2026-05-12 10:00 +25:00", None),
            ("2026-05-12 10:00 -23:59", 2026),
        ):
            with self.subTest(text):
                if year is None:
                    with self.assertRaises(TimeError):
                        read_local(text, ZONE, NOON)
                else:
                    self.assertEqual(read_local(text, ZONE, NOON).astimezone(ZONE).year, year)


class RefusedFirstTests(ShopCase):
    def test_a_body_too_long_is_refused_before_it_is_read(self):
        """30 MB, and for a mesh its 40 MB with what goes round them."""
        mesh, photo = f"/zones/{self.shop.zone.pk}/mesh", f"/zones/{self.shop.zone.pk}/photo"
        for url, size, status in (
            (photo, 30_000_000, 422), (photo, 30_000_001, 413), (photo, "9" * 30, 413), (photo, "-5", 413), (photo, "x", 413),
            (mesh, 40_000_000, 422), (mesh, 40_500_001, 413),
        ):  # fmt: skip
            with self.subTest(url, size=size):
                body = mock.Mock(wraps=io.BytesIO(b""))
                answer = self.client.generic("POST", url, b"", "application/x-www-form-urlencoded", CONTENT_LENGTH=str(size), **{"wsgi.input": body})  # fmt: skip
                self.assertEqual(answer.status_code, status)
                if status == 413:
                    self.assertFalse(body.read.called)
                    self.assertIn("MB are taken here", text_of(answer))

    def test_a_body_that_cannot_be_read_is_refused_wherever_it_goes(self):
        """By (content type, body) at an address with a form, at none, and under a name that is not served."""
        self.client.raise_request_exception = False
        bodies = (
            ("multipart/form-data", b"--x"), ("multipart/form-data; boundary=" + "y" * 300, b"--x"), ("multipart/form-data; boundary=\xff", b""),
            ("multipart/form-data; boundary=x", b"--x\r\nContent-Disposition: form-data; name=\"a\"\r\nContent-Transfer-Encoding: base64\r\n\r\n!!!!!\r\n--x--\r\n"),
            ("application/x-www-form-urlencoded", b"&".join(b"a%d=1" % n for n in range(1500))), ("application/x-www-form-urlencoded", b"a=" + b"x" * 7_000_000),
            ("application/x-www-form-urlencoded; charset=utf-99", b"a=\xff"), ("application/x-www-form-urlencoded", b"a=\xed\xa0\x80&b=%00"),
        )  # fmt: skip
        strict = self.client_class(enforce_csrf_checks=True, raise_request_exception=False)
        strict.force_login(self.shop.user)
        for url, host in (("/jobs/new", "testserver"), ("/nowhere", "testserver"), ("/jobs/new", "evil.example")):
            for kind, body in bodies:
                for client in (self.client, strict):
                    with self.subTest(url, host=host, kind=kind[:60], body=body[:20]), override_settings(ALLOWED_HOSTS=["testserver"]):  # fmt: skip
                        answer = client.generic("POST", url, body, kind, headers={"host": host})
                        self.assertIn(answer.status_code, {400, 403, 404, 422})

    def test_files_are_read_before_anything_is_locked(self):
        """Each long part runs at the depth of transactions that the test itself is at."""
        zone, job = self.shop.zone.pk, self.shop.job.pk
        outside = len(connection.atomic_blocks)
        for url, field, name, what in (
            ("/materials/import", "file", "s.yaml", "emplastra.materials.services.read_document"),
            ("/air/import", "file", "a.csv", "emplastra.climate.services.understand"),
            (f"/jobs/{job}/survey/file", "file", "s.json", "emplastra.survey.file_views.read"),
            (f"/zones/{zone}/photo", "photo", "p.jpg", "emplastra.jobs.photos.clean"),
            (f"/zones/{zone}/mesh", "mesh", "m.stl", "emplastra.shared.tasks.keep"),
        ):
            depths = []

            def stand_in(*_, depths=depths):
                depths.append(len(connection.atomic_blocks))
                raise Refused("stood in for")

            data = {
                "token": what,
                field: SimpleUploadedFile(name, b"solid x\nfacet normal 0 0 1\n"),
                "why": "maker",
                "what": "log",
                "place": self.shop.place.pk,
                "when": "before",
            }
            with self.subTest(url), mock.patch(what, stand_in):
                self.assertContains(self.client.post(url, data), "stood in for", status_code=422)
                self.assertEqual(set(depths), {outside})

    def test_systems_are_checked_before_anything_is_locked_too(self):
        outside, depths = len(connection.atomic_blocks), []

        def stand_in(document):
            depths.append(len(connection.atomic_blocks))
            raise DocumentError([("here", "stood in for")])

        data = {
            "token": "s",
            "why": "maker",
            "file": SimpleUploadedFile("s.yaml", b"- {name: One, steps: [{kind: strip}]}"),
        }
        with mock.patch("emplastra.core.surface.system_file.read", stand_in):
            self.assertContains(self.client.post("/materials/import", data), "stood in for", status_code=422)
        self.assertEqual(depths, [outside])


class PackTests(ShopCase):
    """What is kept on disk of the readings may be anything: it is held against its checksum, or made anew."""

    def test_a_damaged_cut_or_foreign_pack_is_dropped_and_made_anew(self):
        class Foreign:
            def __reduce__(self):
                return (os.mkdir, (str(packs.folder() / "ran"),))

        shutil.rmtree(packs.folder(), ignore_errors=True)
        drop_caches()
        before = self.air()
        (path,) = packs.folder().glob("*.pack")
        sound, other = path.read_bytes(), b"emplastra-pack/1\n"
        for name, content in (
            ("empty", b""), ("cut", sound[:-40]), ("a bit", sound[:-1] + bytes([sound[-1] ^ 1])), ("pickle", pickle.dumps(Foreign())),
            ("zipped pickle", zlib.compress(pickle.dumps(Foreign()))), ("mark alone", other), ("rows that do not fit", self.pack(path.stem, b"12345")),
            ("another's", self.pack("other", sound[len(other) + 32 :])),
        ):  # fmt: skip
            with self.subTest(name):
                path.write_bytes(content)
                drop_caches()
                self.assertEqual(self.client.get("/").status_code, 200)
                drop_caches()
                self.assertEqual(self.air(), before)
                self.assertEqual(path.read_bytes(), sound)
        self.assertFalse((packs.folder() / "ran").exists())
        with mock.patch(
            "emplastra.climate.live._pack", side_effect=AssertionError
        ):  # what is whole is read, and not made
            self.assertEqual(self.air(), before)
        self.assertEqual(path.stat().st_mode & 0o077, 0)

    def test_a_full_disk_keeps_nothing_and_leaves_nothing_half(self):
        shutil.rmtree(packs.folder(), ignore_errors=True)
        before = self.air()
        for path in packs.folder().iterdir():
            path.unlink()
        with mock.patch("os.replace", side_effect=OSError("no space left")):
            self.assertEqual(self.air(), before)
        self.assertEqual(list(packs.folder().iterdir()), [])

    def test_the_oldest_quarter_goes_when_there_are_too_many(self):
        shutil.rmtree(packs.folder(), ignore_errors=True)
        rows = np.zeros((4, 2))
        with mock.patch.object(packs, "_MOST", 8):
            for n in range(8):
                packs.write({f"p{n}": rows})
                os.utime(packs.folder() / f"p{n}.pack", (n, n))
            (packs.folder() / "old.djcache").write_bytes(b"x")
            self.assertEqual(len(list(packs.folder().glob("*.pack"))), 8)
            packs.write({"p8": rows})
        self.assertEqual(sorted(p.name for p in packs.folder().iterdir()), [f"p{n}.pack" for n in range(2, 9)])

    def pack(self, key, body):
        """A pack whose sum is right for this key."""
        return b"emplastra-pack/1\n" + hashlib.sha256(key.encode() + body).digest() + body

    def air(self):
        """Every reading of the shop's log as it comes from the pack."""
        return packed(ImportBatch.objects.get(), 0.0).tobytes()


class ReadyTests(SimpleTestCase):
    """What is said before a workshop is served for others, and what is shipped to serve it."""

    def test_what_is_missing_is_said(self):
        """By settings: a word of what is said, and whether nothing is served without it."""
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        home = Path(folder.name)
        (home / "staticfiles.json").write_text("{}")
        sound = {
            "ALLOWED_HOSTS": ["shop.example"], "PROXIES": ["127.0.0.1"], "STATIC_ROOT": home, "DATA_DIR": home, "SECRET_KEY": "k" * 30 + "".join(map(chr, range(48, 100))),
            "SECURE_SSL_REDIRECT": True, "SECURE_HSTS_SECONDS": 9, "SECURE_HSTS_INCLUDE_SUBDOMAINS": True, "SECURE_HSTS_PRELOAD": True, "SESSION_COOKIE_SECURE": True, "CSRF_COOKIE_SECURE": True,
        }  # fmt: skip
        backup.note_backup(home)
        env = mock.patch.dict(os.environ)
        env.start()
        self.addCleanup(env.stop)
        os.environ.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)
        for more, word, stops in (
            ({}, None, False), ({"ALLOWED_HOSTS": []}, "EMPLASTRA_HOSTS is empty", True), ({"ALLOWED_HOSTS": ["*"]}, "EMPLASTRA_HOSTS has '*'", True),
            ({"ALLOWED_HOSTS": ["https://shop.example"]}, "without https://", True), ({"PROXIES": ["nginx"]}, "EMPLASTRA_PROXIES has 'nginx'", True),
            ({"STATIC_ROOT": home / "none"}, "script/serve --ready", True), ({"SECRET_KEY": "short"}, "SECRET_KEY", False), ({"SESSION_COOKIE_SECURE": False}, "SESSION_COOKIE_SECURE", False),
        ):  # fmt: skip
            with self.subTest(more), override_settings(**sound | more), mock.patch("os.geteuid", lambda: 1000):
                found = ready.lacks()
                self.assertEqual([lack.stops for lack in found if word and word in lack.words], [stops] if word else [])
                self.assertEqual(len(found), 1 if word else 0, [lack.words for lack in found])
        with override_settings(**sound), mock.patch("os.geteuid", lambda: 0), mock.patch.object(ready, "FREE", 1 << 60):
            (home / STAMP).unlink()
            said = " ".join(lack.words for lack in ready.lacks())
            for word in ("runs as root", "no backup was made yet", "MB are free"):
                self.assertIn(word, said)

    def test_what_is_shipped_names_what_is_there(self):
        """Units by systemd's own words: each has a user of its own and may write its data alone."""
        for name in ("emplastra", "emplastra-backup"):
            unit = configparser.ConfigParser(strict=False, interpolation=None)
            unit.optionxform = str
            unit.read(DEPLOY / f"{name}.service")
            service = unit["Service"]
            program = service["ExecStart"].split()[0].removeprefix("/opt/emplastra/")
            with self.subTest(name):
                self.assertTrue(os.access(DEPLOY.parent / program, os.X_OK))
                told = {key: service[key] for key in ("User", "ProtectSystem", "NoNewPrivileges", "CapabilityBoundingSet", "UMask", "ProtectHome")}  # fmt: skip
                self.assertEqual(list(told.values()), ["emplastra", "strict", "true", "", "0077", "true"])
                self.assertIn("EMPLASTRA_DATA=/var/lib/emplastra", service["Environment"])
                self.assertEqual(service["StateDirectory"], "emplastra")
        self.assertIn("client_max_body_size 201m", (DEPLOY / "nginx.conf").read_text())
        self.assertGreater(201 * 2**20, serve.MAX_BODY)


class AnswerTests(ShopCase):
    """What a browser may keep of what it was answered, and what it may do with the device."""

    def photo(self):
        return photos.keep(self.shop.zone, self.shop.user, photos.clean(fuzz.picture()), "before")

    def test_pages_are_kept_by_nobody_and_pictures_by_one_browser(self):
        for url in (
            "/",
            "/sign-in",
            "/jobs/",
            "/bench/rows",
            "/nowhere",
            f"/jobs/{self.shop.job.pk}/record.json",
            "/health",
        ):
            with self.subTest(url):
                answer = self.client.get(url)
                self.assertIn("no-store", answer["Cache-Control"])
                self.assertIn("camera=()", answer["Permissions-Policy"])
                self.assertIn("frame-ancestors 'none'", answer["Content-Security-Policy"])
                told = [answer[name] for name in ("X-Content-Type-Options", "X-Frame-Options", "Referrer-Policy")]
                self.assertEqual(told, ["nosniff", "DENY", "same-origin"])
        url = f"/photos/{self.photo().pk}/small"
        answer = self.client.get(url)
        self.assertEqual((answer.status_code, answer["Cache-Control"]), (200, "private, no-cache"))
        again = self.client.get(url, headers={"If-None-Match": answer["ETag"]})
        self.assertEqual((again.status_code, again.content), (304, b""))
        self.assertNotEqual(self.client.get(url.replace("small", "whole"))["ETag"], answer["ETag"])
        self.client.logout()
        self.assertEqual(self.client.get(url, headers={"If-None-Match": answer["ETag"]}).status_code, 302)

    def test_nobody_is_sent_elsewhere(self):
        for there in ("https://evil.example/", "//evil.example", "/\\\\evil.example", "javascript:alert(1)"):
            with self.subTest(there):
                self.assertEqual(self.client.post("/gloves", {"next": there})["Location"], "/")
                sent = {"username": "bench", "password": PASSWORD, "next": there}
                self.assertEqual(self.client_class().post("/sign-in", sent)["Location"], "/")

    def test_signed_out_the_browser_lets_go_of_what_it_kept(self):
        self.assertEqual(self.client.post("/sign-out")["Clear-Site-Data"], '"cache"')

    def test_names_of_cookies_under_tls(self):
        code = "import django; django.setup(); from django.conf import settings as s; print(s.SESSION_COOKIE_NAME, s.CSRF_COOKIE_NAME, s.SESSION_COOKIE_PATH, s.SESSION_COOKIE_DOMAIN)"  # fmt: skip
        with tempfile.TemporaryDirectory() as folder:
            self.assertEqual(
                manage(folder, code=code, profile="production"), (0, "__Host-session __Host-csrf / None\n")
            )

    def test_files_of_a_day_and_works_at_once_are_limited_for_each_person(self):
        caches["default"].clear()  # what others sent under the same number
        self.addCleanup(caches["default"].clear)
        url = f"/zones/{self.shop.zone.pk}/photo"

        def send(n):
            file = SimpleUploadedFile("p.jpg", fuzz.picture())
            return self.client.post(url, {"token": f"q{n}", "when": "before", "photo": file})

        with override_settings(UPLOADS_A_DAY=3000):
            found = [send(n).status_code for n in range(4)]
            self.assertEqual((found[0], found[-1]), (302, 429))
            self.assertContains(send(9), "Go on tomorrow", status_code=429)
            self.client.force_login(self.shop.people["mate"])
            self.assertEqual(send(10).status_code, 302)
        for _ in range(settings.WORKS_AT_ONCE):
            Task.objects.create(user=self.shop.user, kind="x", boot=tasks.BOOT)
        with self.assertRaisesRegex(Refused, "4 works of yours run already"):
            tasks.work(self.shop.user, "x", leftovers.clear, {})
        self.assertEqual(Task.objects.exclude(kind="x").count(), 0)

    def test_pictures_are_decoded_one_at_a_time(self):
        """Eight threads send one: never are two being decoded."""
        inside, most, lock = [0], [0], threading.Lock()
        real = photos._clean

        def counted(data):
            with lock:
                inside[0] += 1
                most[0] = max(most[0], inside[0])
            try:
                return real(data)
            finally:
                with lock:
                    inside[0] -= 1

        with mock.patch.object(photos, "_clean", counted):
            running = [threading.Thread(target=photos.clean, args=(fuzz.picture(),)) for _ in range(8)]
            for thread in running:
                thread.start()
            for thread in running:
                thread.join()
        self.assertEqual(most, [1])


class LeftoverTests(ShopCase):
    def test_what_is_over_goes_and_what_is_used_stays(self):
        now, user = timezone.now(), self.shop.user
        row = {"user": user, "begun": now, "seen": now, "idle_min": 5}
        Session.objects.create(session_key="over", expire_date=now - H, **row)
        NewPassword.objects.create(user=user, digest="old", until=now - 31 * 24 * H)
        NewPassword.objects.create(user=user, digest="new", until=now - 29 * 24 * H)
        for kind, days, state in (
            ("old", 31, "done"),
            ("new", 29, "done"),
            ("runs", 31, "running"),
        ):
            task = Task.objects.create(user=user, kind=kind, boot="x", state=state)
            Task.objects.filter(pk=task.pk).update(begun=now - days * 24 * H)
        self.assertEqual(leftovers.clear(), 3)
        self.assertEqual(Session.objects.count(), 1)  # that of this test's client
        self.assertEqual(set(Task.objects.values_list("kind", flat=True)), {"new", "runs"})
        self.assertEqual(NewPassword.objects.get().digest, "new")


class KeepingTests(TaskCase):
    """Settings, Backups: made by a child, fetched by an owner alone."""

    def test_made_sealed_and_fetched(self):
        self.as_owner()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.enterContext(mock.patch.dict(os.environ, {"EMPLASTRA_BACKUPS": folder.name}))
        sent = {
            "token": "b",
            "password_now": PASSWORD,
            "passphrase": "seven wet panels",
            "passphrase_again": "seven wet panels",
        }
        for more, word in (
            ({"password_now": "not it, surely"}, "is not your password"), ({"passphrase": "short", "passphrase_again": "short"}, "at least 12 characters"),
            ({"passphrase_again": "other"}, "differs from the passphrase"),
        ):  # fmt: skip
            self.assertContains(self.client.post("/settings/backups/", sent | more), word, status_code=422)
        task = self.ended(self.client.post("/settings/backups/", sent).url)
        self.assertEqual(task.state, Task.State.DONE, task.words)
        self.assertNotIn("seven wet panels", str(task.about))
        self.assertEqual(list(tasks.folder().iterdir()), [])
        url = task.result["url"]
        page = text_of(self.client.get("/settings/backups/"))
        self.assertRegex(page, r"1 lies here.*by-hand-[\d-]+\.sealed, sealed")
        data = b"".join(self.client.get(url).streaming_content)
        self.assertTrue(data.startswith(sealing.MARK))
        self.assertEqual(SecurityEvent.objects.filter(kind="export").get().words, url)
        self.client.force_login(self.shop.user)
        self.assertEqual(self.client.get(url).status_code, 403)
        self.as_owner()
        for name in ("..%2Fsecret-key", "none.zip", ".zip", "x%00.zip"):
            self.assertEqual(self.client.get(f"/settings/backups/{name}").status_code, 404)


class BackupAgeTests(ShopCase):
    def test_an_old_backup_is_said_to_the_owner(self):
        """By (hours since the last one, of the workshop's age, who looks): what Bench says."""
        stamp = Path(settings.DATA_DIR) / STAMP
        self.addCleanup(stamp.unlink, missing_ok=True)
        for hours, age_h, who, words in (
            (47, 900, "owner", None), (49, 900, "owner", "was made Sun 10 May 11:00, over two days ago"), (49, 900, "bench", None),
            (None, 47, "owner", None), (None, 49, "owner", "No backup has been made yet"), ("rubbish", 49, "owner", "No backup has been made yet"),
        ):  # fmt: skip
            with self.subTest(hours=hours, age=age_h, who=who):
                stamp.unlink(missing_ok=True)
                if hours is not None:
                    stamp.write_text((NOON - hours * H).isoformat() if isinstance(hours, int) else hours)
                User.objects.update(date_joined=NOON - age_h * H)
                self.client.force_login(self.shop.people[who])
                page = text_of(self.client.get("/"))
                self.assertIn(words or "Bench", page)
                self.assertEqual("backup" in page.lower(), words is not None)


class RecordingStopsTests(DropTriggers, TransactionTestCase):
    """One trigger less, other words in one, or no database: nothing is recorded, and the page says why."""

    def setUp(self):
        self.shop = Shop().build()
        self.client.force_login(self.shop.user)
        self.addCleanup(appendonly.make_triggers)

    def post(self):
        return self.client.post("/jobs/new", {"token": "t", "name": "Cart", "standard": "drive"})

    def test_an_unprotected_table(self):
        name = "append_only_logbook_entry_update"
        other = f"CREATE TRIGGER {name} BEFORE UPDATE ON logbook_entry BEGIN SELECT 1; END"
        for statements in ([f"DROP TRIGGER {name}"], [f"DROP TRIGGER {name}", other]):
            with self.subTest(statements[-1]):
                with connection.cursor() as cursor:
                    for statement in statements:
                        cursor.execute(statement)
                answer = self.post()
                self.assertEqual(answer.status_code, 503)
                self.assertIn("logbook_entry", text_of(answer))
                self.assertEqual(self.client.get("/health").status_code, 503)
                self.assertEqual(self.client.get("/").status_code, 200)
                appendonly.make_triggers()
                self.assertEqual(appendonly.unprotected_tables(), [])
                self.assertEqual(self.client.get("/health").status_code, 200)
        self.assertEqual(self.post().status_code, 302)

    def test_what_is_served_has_its_folder_to_itself_and_its_record_protected(self):
        with connection.cursor() as cursor:
            cursor.execute("DROP TRIGGER append_only_logbook_entry_update")
        with standing.served():
            self.assertEqual((appendonly.unprotected_tables(), DatabaseWrapper.must_exist), ([], True))
            with self.assertRaisesRegex(CommandError, "being served by process"), standing.served():
                self.fail("served twice")
        self.assertFalse(DatabaseWrapper.must_exist)

    def test_who_waits_too_long_is_told_and_loses_nothing(self):
        path = connection.settings_dict["NAME"]
        with closing(sqlite3.connect(path, isolation_level=None)) as other, mock.patch.object(sqlite, "WAIT_S", 0.3):
            other.execute("BEGIN IMMEDIATE")
            self.client.raise_request_exception = False
            answer = self.post()
            self.assertContains(answer, "Others are writing without pause", status_code=503)
            self.assertContains(answer, "What you typed is kept here: send it again", status_code=503)
            other.execute("ROLLBACK")
            self.assertEqual(self.post().status_code, 302)
        self.assertEqual(Job.objects.filter(name="Cart").count(), 1)

    def test_a_full_disk_loses_nothing_that_was_acknowledged(self):
        self.client.raise_request_exception = False
        with connection.cursor() as cursor:
            cursor.execute("VACUUM")  # no page is free that earlier tests left
            pages = cursor.execute("PRAGMA page_count").fetchone()[0]
            cursor.execute(f"PRAGMA max_page_count = {pages + 3}")
        send = lambda n: self.client.post("/jobs/new", {"token": f"f{n}", "name": f"Cart {n}", "standard": "drive"})  # noqa: E731
        taken = 0
        while (answer := send(taken)).status_code == 302 and taken < 500:
            taken += 1
        self.assertContains(answer, "The disk of the workshop is full", status_code=503)
        self.assertContains(answer, "Make room first: Settings, Backups", status_code=503)
        self.assertEqual(self.client.get("/").status_code, 200)
        self.assertEqual((taken > 3, Job.objects.filter(name__startswith="Cart ").count()), (True, taken))
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA max_page_count = 1073741823")
            self.assertEqual(cursor.execute("PRAGMA integrity_check").fetchone()[0], "ok")
        self.assertEqual(send(taken).status_code, 302)
        self.assertEqual(Job.objects.filter(name__startswith="Cart ").count(), taken + 1)
        self.assertIn("disk of the workshop is full", standing.why(OSError(errno.ENOSPC, "x")))
        self.assertIsNone(standing.why(ValueError("x")))

    def test_a_database_that_is_gone_is_an_error_and_not_an_empty_one(self):
        path = Path(connection.settings_dict["NAME"])
        away = path.with_suffix(".away")
        self.client.raise_request_exception = False
        with mock.patch.object(DatabaseWrapper, "must_exist", True):
            connections.close_all()
            path.rename(away)
            try:
                for method, url in (("get", "/"), ("get", "/health"), ("post", "/jobs/new")):
                    with self.subTest(url):
                        answer = getattr(self.client, method)(url)
                        self.assertEqual(answer.status_code, 503)
                        self.assertIn("cannot be read", text_of(answer))
                self.assertFalse(path.exists())
            finally:
                connections.close_all()
                away.rename(path)
        self.assertEqual(self.client.get("/").status_code, 200)
