"""The production profile on a real port: behind a real proxy over TLS, and by raw sockets."""

from unittest import TestCase

from django.test import tag
from playwright.sync_api import expect

from tests.base import PASSWORD
from tests.browser.base import browser
from tests.serving import Served


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
        self.assertTrue(all(cookie["secure"] for cookie in context.cookies() if cookie["name"] != "gloves"))
        self.assertEqual(bad, [])

    def test_a_raw_client(self):
        """What a socket sees: who is believed, what a HEAD carries, what is too long."""
        served = Served(self)
        secure = "X-Forwarded-Proto: https"
        with self.subTest("a named proxy's word is taken"):
            self.assertIn("302 Found", served.ask("GET / HTTP/1.1", secure).split("\r\n")[0])
            self.assertIn("location: /first-run", served.ask("GET / HTTP/1.1", secure).lower())
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
            found = served.ask("POST /sign-in HTTP/1.1", secure, "Content-Length: 41000001")
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
