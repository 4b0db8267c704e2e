"""A server killed with -9 between tap and answer loses nothing and doubles nothing."""

import http.client
import os
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import time
from contextlib import closing
from pathlib import Path
from unittest import TestCase

from playwright.sync_api import expect

from emplastra.demo.workshop import PASSWORD
from tests.browser.base import browser
from tests.serving import lay_out
from tests.torture import tortured

ROOT = Path(__file__).resolve().parents[2]
NOTE = "told once"


class KilledServerTests(TestCase):
    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder, ignore_errors=True)
        with closing(socket.socket()) as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.env = {
            **os.environ,
            "EMPLASTRA_DEMO_DATA": str(self.folder),
            "DJANGO_SETTINGS_MODULE": "emplastra.config.settings.demo",
        }
        self.env.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)
        lay_out(self.folder, "demo", ("collectstatic", "--noinput", "--verbosity", "0"), ("demo", "--load-only"))
        self.start()
        self.addCleanup(self.kill)

    def start(self):
        """Serve the demo and wait until it answers."""
        self.server = subprocess.Popen([sys.executable, "manage.py", "demo", "--port", str(self.port)], cwd=ROOT, env=self.env, stdout=subprocess.PIPE, text=True)  # fmt: skip
        while "Serving" not in self.server.stdout.readline():
            self.assertIsNone(self.server.poll())

    def kill(self):
        """As a power cut would."""
        if self.server.poll() is None:
            os.kill(self.server.pid, signal.SIGKILL)
        self.server.wait()
        self.server.stdout.close()

    def told(self):
        """How often the note is in the database."""
        with closing(sqlite3.connect(self.folder / "emplastra.sqlite3")) as database:
            return database.execute("SELECT count(*) FROM logbook_entry WHERE note = ?", [NOTE]).fetchone()[0]

    def send_and_kill(self, context, page, path):
        """Send the form on the wire, kill the server once the entry is there, read no answer.

        The session is put back to what it was: the kill may come before or after it is saved, and
        the earlier moment is the harder one.
        """
        with closing(sqlite3.connect(self.folder / "emplastra.sqlite3")) as database:
            sessions = database.execute("SELECT session_data, session_key FROM accounts_session").fetchall()
        body = page.evaluate("new URLSearchParams(new FormData(document.querySelector('form[data-draft]'))).toString()")
        cookies = "; ".join(f"{c['name']}={c['value']}" for c in context.cookies())
        wire = http.client.HTTPConnection("127.0.0.1", self.port)
        headers = {
            "Cookie": cookies,
            "Content-Type": "application/x-www-form-urlencoded",
            "Referer": f"http://127.0.0.1:{self.port}{path}",
        }
        wire.request("POST", path, body, headers)
        limit = time.monotonic() + 20
        while self.told() == 0 and time.monotonic() < limit:
            pass
        self.kill()
        wire.close()
        with closing(sqlite3.connect(self.folder / "emplastra.sqlite3")) as database:
            database.executemany("UPDATE accounts_session SET session_data = ? WHERE session_key = ?", sessions)
            database.commit()

    def test_tap_kill_start_tap_again(self):
        context = browser().new_context(locale="en-GB", timezone_id="UTC")
        self.addCleanup(context.close)
        page = context.new_page()
        root = f"http://127.0.0.1:{self.port}"
        page.goto(root + "/")
        page.get_by_label("Username").fill("bench")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.locator("article.row", has_text="Lamp bracket").get_by_role("link", name="Strip").click()
        page.wait_for_load_state()
        page.get_by_label("Note").fill(NOTE)
        path = page.evaluate("location.pathname")
        self.send_and_kill(context, page, path)
        self.assertEqual(self.told(), 1)
        self.start()
        page.goto(root + path)
        expect(page.get_by_label("Note")).to_have_value(NOTE)
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Bared: recorded.")).to_be_visible()
        self.assertEqual(self.told(), 1)

    def test_mixing_and_coating_under_kills(self):
        """The short form of script/torture."""
        found = tortured(1, seed=5)
        self.assertEqual((found["kills"], found["lost"], found["doubled"], found["pots beside"]), (1, 0, 0, 0))
        self.assertEqual((found["integrity"], found["same after a restart"]), ("ok", True))

    def test_killed_twice_on_the_way_nothing_is_lost(self):
        """An act of one tap waits in the page and arrives with its hour; a form stays as it was typed."""
        context = browser().new_context(locale="en-GB", timezone_id="UTC", viewport={"width": 390, "height": 844})
        self.addCleanup(context.close)
        page = context.new_page()
        page.goto(f"http://127.0.0.1:{self.port}/")
        page.get_by_label("Username").fill("bench")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        wet = page.locator("article.row", has_text="Frame, left, inside").get_by_role("button", name="Wet again")
        expect(wet).to_be_visible()
        self.kill()
        wet.click()
        line = page.locator("#outbox li")
        expect(line).to_contain_text("Wet again, Frame, left, inside: waits for the connection")
        with closing(sqlite3.connect(self.folder / "emplastra.sqlite3")) as database:
            before = database.execute("SELECT count(*) FROM logbook_entry WHERE kind = 'wetted'").fetchone()[0]
        self.start()
        expect(line).to_contain_text("Frame, left, inside: wetted")
        with closing(sqlite3.connect(self.folder / "emplastra.sqlite3")) as database:
            wetted = database.execute("SELECT count(*) FROM logbook_entry WHERE kind = 'wetted'").fetchone()[0]
        self.assertEqual(wetted, before + 1)
        page.locator("article.row", has_text="Lamp bracket").get_by_role("link", name="Strip").click()
        page.locator(".more-fields summary").click()
        page.get_by_label("Note").fill(NOTE)
        self.kill()
        button = page.get_by_role("button", name="Log it")
        button.click()
        expect(page.locator("#lost")).to_be_in_viewport()
        expect(page.get_by_label("Note")).to_have_value(NOTE)
        self.start()
        button.click()
        expect(page.get_by_text("Bared: recorded.")).to_be_visible()
        self.assertEqual(self.told(), 1)
