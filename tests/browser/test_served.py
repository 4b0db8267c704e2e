"""The production profile on a real port: behind a real proxy over TLS, and by raw sockets."""

import http.client
import re
import sqlite3
import ssl
import threading
from contextlib import closing
from datetime import datetime
from unittest import TestCase
from urllib.parse import urlencode
from zoneinfo import ZoneInfo

from django.test import tag
from playwright.sync_api import expect

from emplastra.demo.workshop import PASSWORD as DEMO_PASSWORD
from tests.base import PASSWORD
from tests.browser.base import browser
from tests.serving import Served

NEW = "seven wet panels"


class Writer(threading.Thread):
    """Somebody at the bench who writes note after note, through the proxy, until told to stop."""

    def __init__(self, root):
        super().__init__(daemon=True)
        self.host, self.cookies, self.taken, self.ends = root.removeprefix("https://"), {}, [], threading.Event()

    def ask(self, method, path, fields=None):
        """The status of one request."""
        context = ssl._create_unverified_context()
        with closing(http.client.HTTPSConnection(self.host, timeout=20, context=context)) as wire:
            token = {"csrfmiddlewaretoken": self.cookies.get("__Host-csrf", "")}
            body = urlencode(token | fields) if fields is not None else None
            head = {
                "Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items()),
                "Referer": f"https://{self.host}{path}",
            }
            if body:
                head["Content-Type"] = "application/x-www-form-urlencoded"
            wire.request(method, path, body, head)
            answer = wire.getresponse()
            answer.read()
            for told in answer.msg.get_all("Set-Cookie") or ():
                name, value = told.split(";")[0].split("=", 1)
                self.cookies[name] = value
            return answer.status

    def run(self):
        self.ask("GET", "/sign-in")
        self.ask("POST", "/sign-in", {"username": "bench", "password": DEMO_PASSWORD, "next": "/"})
        n, at = 0, datetime.now(ZoneInfo("Europe/Vienna")).strftime("%Y-%m-%d %H:%M")
        while not self.ends.is_set():
            note = {"token": f"w{n}", "began": at, "ended": at, "share": "100", "note": f"written {n}"}
            if self.ask("POST", "/zones/2/log/note", note) == 302:
                self.taken.append(n)
            n += 1


@tag("browser")
class KeptTests(TestCase):
    def test_a_password_changed_and_a_backup_under_writes_restored(self):
        """Through the proxy over TLS, on the workshop of the demo under the world's own clock."""
        served = Served(self, ("demo", ("demo", "--load-only")))
        root = served.behind_proxy()
        self.assertIn("Note: no backup was made yet", "".join(served.said))
        page, other = self.page(), self.page()
        for each in (page, other):
            self.sign_in(each, root, DEMO_PASSWORD)
        self.change_password(page)
        other.get_by_role("link", name="Jobs", exact=True).first.click()
        expect(other.get_by_role("button", name="Sign in")).to_be_visible()
        writer = Writer(root)
        writer.start()
        page.get_by_role("link", name="More", exact=True).first.click()
        page.get_by_role("link", name="Settings", exact=True).click()
        page.get_by_label("Settings", exact=True).get_by_role("link", name="Backups").click()
        expect(page.get_by_text("No backup has been made yet.")).to_be_visible()
        page.get_by_label("Your password now").fill(NEW)
        page.get_by_label("Seal it with a passphrase").fill(NEW)
        page.get_by_label("The same once more").fill(NEW)
        before = list(writer.taken)
        page.get_by_role("button", name="Make a backup").click()
        with page.expect_download() as found:
            page.get_by_role("link", name="Fetch it").click()
        file, secret = served.folder / "kept.sealed", served.folder / "pass"
        found.value.save_as(file)
        secret.write_text(NEW)
        served.env["EMPLASTRA_BACKUP_PASSPHRASE_FILE"] = str(secret)
        with self.subTest("proven while it is written to"):
            proof = served.run("drill", str(file)).stdout
            self.assertRegex(proof, r"Proven: 30 faces, \d+ tins and \d+ rows")
        writer.ends.set()
        writer.join()
        self.assertGreater(len(writer.taken), len(before))
        served.stop()
        served.run("restore", str(file))
        with closing(sqlite3.connect(served.folder / "data/emplastra.sqlite3")) as database:
            rows = "SELECT note, count(*) FROM logbook_entry WHERE note LIKE 'written %' GROUP BY note"
            notes = dict(database.execute(rows).fetchall())
        self.assertLessEqual({f"written {n}" for n in before}, set(notes))
        self.assertEqual(set(notes.values()) | {1}, {1})
        self.assertEqual(sorted(notes), sorted(f"written {n}" for n in range(len(notes))))
        served.serve()
        with self.subTest("every state as it stood, and nobody signed in"):
            self.assertEqual(served.run("drill", str(file)).stdout, proof)
            page.goto(root + "/settings/log/")
            self.sign_in(page, root, NEW, here=True)
            expect(page.locator(".log-table")).to_contain_text("Backup restored")
            expect(page.locator(".log-table")).to_contain_text(re.compile("Password changed"))

    def page(self):
        """A page of a browser of its own."""
        context = browser().new_context(ignore_https_errors=True, locale="en-GB", timezone_id="UTC")
        self.addCleanup(context.close)
        return context.new_page()

    def sign_in(self, page, root, password, here=False):
        if not here:
            page.goto(root + "/")
        page.get_by_label("Username").fill("owner")
        page.get_by_label("Password").fill(password)
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("navigation", name="Tools")).to_be_visible()

    def change_password(self, page):
        page.get_by_role("link", name="More", exact=True).first.click()
        page.get_by_role("link", name="You", exact=True).click()
        expect(page.get_by_role("heading", name="Signed in on 2 devices")).to_be_visible()
        page.get_by_role("link", name="Change your password").click()
        page.get_by_label("Your password now").fill(DEMO_PASSWORD)
        page.get_by_label("New password").fill(NEW)
        page.get_by_label("The same once more").fill(NEW)
        page.get_by_role("button", name="Change it").click()
        expect(page.get_by_role("heading", name="Signed in on 1 device")).to_be_visible()


@tag("browser")
class ServedTests(TestCase):
    def test_first_run_and_sign_in_through_a_proxy_over_tls(self):
        served = Served(self)
        root = served.behind_proxy()
        context = browser().new_context(ignore_https_errors=True, locale="en-GB", timezone_id="UTC")
        self.addCleanup(context.close)
        page, bad = context.new_page(), []
        page.on("response", lambda r: bad.append(f"{r.status} {r.url}") if r.status >= 400 else None)
        page.goto(root + "/")
        page.get_by_label("One-time code").fill(served.code)
        page.get_by_label("Workshop").fill("Behind a proxy")
        page.get_by_label("Your name here").fill("own")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Set up").click()
        expect(page.get_by_role("heading", name="Bench")).to_be_visible()
        context.clear_cookies()
        page.goto(root + "/jobs/new")
        page.get_by_label("Username").fill("own")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        expect(page).to_have_url(root + "/jobs/new")
        cookies = context.cookies()
        self.assertEqual({cookie["name"] for cookie in cookies}, {"__Host-session", "__Host-csrf"})
        self.assertTrue(all(cookie["secure"] and cookie["path"] == "/" for cookie in cookies))
        self.assertEqual(bad, [])
        self.raw_client(served)

    def raw_client(self, served):
        """What a socket sees: who is believed, what a HEAD carries, what is too long."""
        secure = "X-Forwarded-Proto: https"
        with self.subTest("a named proxy's word is taken"):
            self.assertIn("302 Found", served.ask("GET / HTTP/1.1", secure).split("\r\n")[0])
            self.assertIn("location: /sign-in", served.ask("GET / HTTP/1.1", secure).lower())
        with self.subTest("plain HTTP is sent to TLS"):
            self.assertIn("location: https://127.0.0.1/", served.ask("GET / HTTP/1.1").lower())
        with self.subTest("two answers to HEAD on one connection are two heads"):
            heads = served.ask("HEAD /health HTTP/1.1", secure, times=2)
            self.assertEqual(
                [part.split("\r\n")[0] for part in heads.split("\r\n\r\n")], ["HTTP/1.1 200 OK"] * 2 + [""]
            )
            body = served.ask("GET /health HTTP/1.1", secure).split("\r\n\r\n")[1]
            self.assertIn(f"Content-Length: {len(body)}\r\n", heads)
        with self.subTest("a body too long is not read"):
            found = served.ask("POST /sign-in HTTP/1.1", secure, "Content-Length: 201000001")
            self.assertIn("413", found.split("\r\n")[0])

        with self.subTest("no archive is put under a running server"):
            done = served.run("restore", "/dev/null", check=False)
            self.assertEqual(done.returncode, 1)
            served.run("backup", str(served.folder / "b.zip"))
            done = served.run("restore", str(served.folder / "b.zip"), check=False)
            self.assertRegex(done.stderr, r"in use: being served by process \d+\. Stop that first\.")
            again = served.run("serve", "--port", str(served.port), check=False)
            self.assertIn("being served by process", again.stderr)
            self.assertNotIn("One-time code", again.stdout)
        with self.subTest("a database that is gone is said, and not made anew"):
            (served.folder / "data/emplastra.sqlite3").unlink()
            found = served.ask("GET /health HTTP/1.1", secure)
            self.assertIn("503", found.split("\r\n")[0])
            self.assertIn("cannot be read", found)
            self.assertFalse((served.folder / "data/emplastra.sqlite3").exists())

    def test_nobody_else_is_believed(self):
        """Named is another machine: what this one claims of scheme and address is dropped."""
        served = Served(self, EMPLASTRA_PROXIES="192.0.2.0/24")
        found = served.ask("GET / HTTP/1.1", "X-Forwarded-Proto: https", "X-Forwarded-For: 192.0.2.7")
        self.assertIn("location: https://127.0.0.1/", found.lower())
