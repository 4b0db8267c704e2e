"""Mixing and coating under a server that is killed with -9 at any moment, and a scale whose link is torn.

Each round begins a pot, weighs two parts, puts a coat on and empties the pot; at a random moment of it the server dies.
It is started again, what was sent is sent again with the same token, and the round goes on. Afterwards each entry that
was acknowledged is there once, the database is whole, and what the server says of the job it says again after a restart.
"""

import contextlib
import http.client
import os
import random
import re
import shutil
import signal
import sqlite3
import subprocess
import sys
import tempfile
import threading
from contextlib import closing
from pathlib import Path
from urllib.parse import urlencode

from emplastra.demo.workshop import PASSWORD
from tests.serving import ROOT, free_port, lay_out

ZONE, JOB = 2, 1
"""A face of the demo whose next coat is of the epoxy primer, and its job."""


POTS = "SELECT count(*) FROM logbook_pot"


class Server:
    """The demo in a process of its own, and one browser's cookies."""

    def __init__(self, folder=None):
        self.folder, self.port, self.cookies = Path(folder or tempfile.mkdtemp()), free_port(), {}
        self.env = {k: v for k, v in os.environ.items() if k != "DJANGO_ALLOW_ASYNC_UNSAFE"}
        self.env |= {
            "EMPLASTRA_DEMO_DATA": str(self.folder),
            "DJANGO_SETTINGS_MODULE": "emplastra.config.settings.demo",
        }
        lay_out(self.folder, "demo", ("collectstatic", "--noinput", "--verbosity", "0"), ("demo", "--load-only"))
        self.start()

    def start(self):
        """Serve, and wait until it answers."""
        command = [sys.executable, "manage.py", "demo", "--port", str(self.port)]
        self.process = subprocess.Popen(command, cwd=ROOT, env=self.env, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)  # fmt: skip
        while "Serving" not in self.process.stdout.readline():
            assert self.process.poll() is None, "the server did not start"

    def kill(self):
        """As a power cut would."""
        if self.process.poll() is None:
            os.kill(self.process.pid, signal.SIGKILL)
        self.process.wait()
        self.process.stdout.close()

    def dies_in(self, after_s):
        """Kill it so long from now, whatever it is at."""
        self.killer = threading.Timer(after_s, self.kill)
        self.killer.start()

    def surely(self, method, path, fields=None):
        """(answer, how often it was asked again): a server that died is started again, and asked the same."""
        for again in range(5):
            try:
                return self.ask(method, path, fields), again
            except (OSError, http.client.HTTPException):
                self.killer.join()
                self.start()
        raise AssertionError(f"{path} was never answered")

    def ask(self, method, path, fields=None, timeout=20):
        """(status, where it leads, body) of one request; raises OSError or HTTPException where the server dies."""
        with closing(http.client.HTTPConnection("127.0.0.1", self.port, timeout=timeout)) as wire:
            body = urlencode({"csrfmiddlewaretoken": self.cookies.get("csrftoken", ""), **fields}) if fields is not None else None  # fmt: skip
            head = {"Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items()), "Content-Type": "application/x-www-form-urlencoded"}  # fmt: skip
            wire.request(method, path, body, head)
            answer = wire.getresponse()
            text = answer.read().decode()
            for told in answer.msg.get_all("Set-Cookie") or ():
                name, value = told.split(";")[0].split("=", 1)
                self.cookies[name] = value
            return answer.status, answer.headers.get("Location", ""), text

    def sign_in(self):
        """From the first page."""
        self.ask("GET", "/sign-in")
        status, _, _ = self.ask("POST", "/sign-in", {"username": "bench", "password": PASSWORD, "next": "/"})
        assert status == 302, status

    def rows(self, sql):
        """Rows of the database as it lies there."""
        with closing(sqlite3.connect(self.folder / "emplastra.sqlite3")) as database:
            return database.execute(sql).fetchall()


class Round:
    """The acts of one pot, each sent until it is acknowledged, with one token."""

    def __init__(self, server, number, chance, dies_at):
        self.server, self.number, self.chance, self.dies_at = server, number, chance, dies_at
        self.again, self.killed = 0, 0

    def send(self, name, path, fields):
        """Send an act; where it is its turn the server is killed while it works on it."""
        fields = fields | {"token": f"t{self.number}-{name}"}
        if name == self.dies_at:
            self.server.dies_in(self.chance.uniform(0.0, 0.2))
            self.killed += 1
        (status, leads, text), again = self.server.surely("POST", path, fields)
        self.again += again
        assert status == 302, (name, status, re.findall(r'class="help is-danger"[^>]*>([^<]*)', text), text[:200])
        return leads

    def page(self, path):
        """A page as it is."""
        return self.server.surely("GET", path)[0][2]

    def run(self):
        """All acts; the id of the pot."""
        mix = {"ready_ml": "200 mL", "measure": "scale", "method": "hvlp", "thinner_pct": "0", "variant": "mild"}
        leads = self.send("pot", f"/zones/{ZONE}/mix", mix)
        pot = int(re.search(r"/pots/(\d+)/", leads)[1])
        page = self.page(f"/pots/{pot}/")
        base = float(re.search(r"<b>([\d.]+)</b> g", page)[1])
        part = lambda page: re.search(r'name="part"\s+value="([^"]+)"', page)[1]  # noqa: E731
        self.send("base", f"/pots/{pot}/", {"part": part(page), "shown": str(base), "batch": "", "offer": "exact"})
        page = self.page(f"/pots/{pot}/")
        whole = float(re.search(r"<b>([\d.]+)</b> g", page)[1])
        self.send("hardener", f"/pots/{pot}/", {"part": part(page), "shown": str(whole), "batch": "", "offer": "exact"})
        coat = {"source": f"pot:{pot}", "step": "", "began": "10:00", "ended": "10:00", "share": "1", "method": "hvlp", "thinner_pct": "0", "note": f"round {self.number}", "confirm_old": "on"}  # fmt: skip
        self.send("coat", f"/zones/{ZONE}/log/coat", coat)
        self.send("end", f"/pots/{pot}/end", {"waste_ml": "5", "kept_ml": "0"})
        return pot


def tortured(kills, seed=1, say=lambda words: None):
    """{figure: value} after so many kills."""
    chance, server, found = random.Random(seed), Server(), {"kills": 0, "sent again": 0, "lost": 0, "doubled": 0}
    try:
        server.sign_in()
        pots = server.rows(POTS)[0][0]
        for n in range(kills):
            one = Round(server, n, chance, chance.choice(("pot", "base", "hardener", "coat", "end")))
            pot = one.run()
            server.killer.join()
            server.surely("GET", "/health")
            found["kills"] += one.killed
            found["sent again"] += one.again
            count = lambda table, where, pot=pot: server.rows(f"SELECT count(*) FROM logbook_{table} WHERE {where} = {pot}")[0][0]  # noqa: E731  # fmt: skip
            parts = server.rows(f"SELECT part, count(*) FROM logbook_weighed WHERE pot_id = {pot} GROUP BY part")
            told = {"pot": count("pot", "entry_id"), **dict(parts), "coat": count("coat", "pot_id"), "end": count("potended", "pot_id")}  # fmt: skip
            found["lost"] += 5 - len(told) + sum(many == 0 for many in told.values())
            found["doubled"] += sum(many > 1 for many in told.values())
            say(f"{n + 1} of {kills}: killed at {one.dies_at}, {told}")
        found["pots beside"] = server.rows(POTS)[0][0] - pots - kills
        found["integrity"] = server.rows("PRAGMA integrity_check")[0][0]
        # A face with a coat of every round has a record that takes its time.
        before = server.ask("GET", f"/jobs/{JOB}/record.json", timeout=600)[2]
        server.kill()
        server.start()
        found["same after a restart"] = before == server.ask("GET", f"/jobs/{JOB}/record.json", timeout=600)[2]
        return found
    finally:
        server.kill()
        shutil.rmtree(server.folder, ignore_errors=True)


def torn(times):
    """(links, weights taken, wrong ones) of a scale over a socket that is cut so often, its lines cut and mangled."""
    from emplastra.core.weigh.steady import Link
    from emplastra.scales import reader
    from emplastra.scales.models import Scale
    from emplastra.shared.services import Refused
    from tests.web.test_scales import Peer, until

    peer, taken, wrong = Peer(), 0, 0
    peer.start()
    scale = Scale(pk=1, name="Torn", address=f"socket://127.0.0.1:{peer.port}")
    for n in range(times):
        grams = 100.0 + 7 * n
        for line in (f"{grams:.1f} g", f"{grams:.1f}", f"{grams:.1f} g{grams:.1f} g", f"{grams:.1f} g"):
            peer.line = line
            seen = until(lambda: reader.now(scale).link is not Link.LOST and reader.now(scale))
            with contextlib.suppress(Refused):
                wrong += reader.take(scale, seen.name).grams not in (grams, grams - 7)  # it may be the last yet
                taken += 1
        seen = until(
            lambda grams=grams: (now := reader.now(scale)).link is Link.STEADY and now.sample.grams == grams and now
        )
        taken, wrong = taken + 1, wrong + (reader.take(scale, seen.name).grams != grams)
        peer.cut = True
        until(lambda n=n: peer.links > n + 1)
    peer.ends = True
    reader.let_go()
    return peer.links, taken, wrong


WRITER = """
import sys, time, django
django.setup()
from django.db import OperationalError
from emplastra.accounts.models import User
from emplastra.jobs.models import Zone
from emplastra.logbook.models import Kind
from emplastra.logbook.services import Told, log
from emplastra.shared import clock
from emplastra.shared.services import once
me, each = int(sys.argv[1]), int(sys.argv[2])
user, zone, locked, longest = User.objects.get(username="bench"), Zone.objects.order_by("id")[me], 0, 0.0
sys.stdin.readline()
for n in range(each):
    told = Told(Kind.NOTE_KEPT, clock.now(), clock.now(), ((zone, 1.0, ""),), {}, f"writer {me} no. {n}")
    begun = time.monotonic()
    for again in range(3):
        try:
            once(user, f"w{me}-{n}", "note", {"n": n}, lambda: log(user, told) and "/")
            break
        except OperationalError:
            locked += 1
    longest = max(longest, time.monotonic() - begun)
print(locked, round(longest, 2))
"""


def written(writers, each):
    """{figure: value} of so many processes that write so often each, without pause, into one workshop."""
    folder = Path(tempfile.mkdtemp())
    env = {k: v for k, v in os.environ.items() if k != "DJANGO_ALLOW_ASYNC_UNSAFE"}
    env |= {"EMPLASTRA_DEMO_DATA": str(folder), "DJANGO_SETTINGS_MODULE": "emplastra.config.settings.demo"}
    try:
        lay_out(folder, "demo", ("collectstatic", "--noinput", "--verbosity", "0"), ("demo", "--load-only"))
        running = [
            subprocess.Popen([sys.executable, "-c", WRITER, str(n), str(each)], cwd=ROOT, env=env, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
            for n in range(writers)
        ]  # fmt: skip
        said = [process.communicate()[0].split() for process in _all_at_once(running)]
        with closing(sqlite3.connect(folder / "emplastra.sqlite3")) as database:
            found = database.execute("SELECT note, count(*) FROM logbook_entry WHERE note LIKE 'writer %' GROUP BY note").fetchall()  # fmt: skip
            whole = database.execute("PRAGMA integrity_check").fetchone()[0]
        return {
            "writers": writers, "written": len(found), "lock errors": sum(int(each[0]) for each in said), "lost": writers * each - len(found),
            "doubled": sum(count > 1 for _, count in found), "longest wait, s": max(float(each[1]) for each in said), "integrity": whole,
        }  # fmt: skip
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def _all_at_once(running):
    """Processes that wait for a line, let go one after the other within a moment."""
    for process in running:
        process.stdin.write("go\n")
        process.stdin.flush()
    return running


def filled(most_mb=14):
    """{figure: value} of a workshop on a file system that fills up: a server in a small one of its own, written to until
    it takes no more, and once more when room was made. None where no file system can be made (it takes a mount).
    """
    mount = Path(tempfile.mkdtemp())
    made = subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={most_mb}m", "tmpfs", mount], capture_output=True)
    if made.returncode:
        return None
    try:
        server = Server(mount)
        try:
            server.sign_in()
            return _filled(server, mount)
        finally:
            server.kill()
    finally:
        subprocess.run(["umount", "-l", mount], check=False)
        mount.rmdir()


def _filled(server, mount):
    ballast, taken, said = mount / "ballast", [], ""
    with contextlib.suppress(OSError), ballast.open("wb", buffering=0) as out:  # all but 900 kB
        while shutil.disk_usage(mount).free > 900_000:
            out.write(bytes(20_000))
    n = 0
    while not said and n < 2000:
        status, _, text = server.ask("POST", f"/zones/{ZONE}/log/note", _note(n))
        if status == 302:
            taken.append(n)
        else:
            said = re.sub(r"<[^>]+>", " ", text)
        n += 1
    page = server.ask("GET", f"/zones/{ZONE}/")[0]
    ballast.unlink()
    again = server.ask("POST", f"/zones/{ZONE}/log/note", _note(n - 1))[0]
    taken += [n - 1] if again == 302 else []
    there = dict(server.rows("SELECT note, count(*) FROM logbook_entry WHERE note LIKE 'fill %' GROUP BY note"))
    return {
        "acknowledged": len(taken), "lost": sum(f"fill {n}" not in there for n in taken), "doubled": sum(count > 1 for count in there.values()),
        "a page still opens": page == 200, "says what to do": "disk of the workshop is full" in said and "Make room" in said,
        "sent again when there is room": again == 302, "integrity": server.rows("PRAGMA integrity_check")[0][0],
    }  # fmt: skip


def _note(n):
    return {"token": f"fill-{n}", "began": "10:00", "ended": "10:00", "share": "100", "note": f"fill {n}", "confirm_old": "on"}  # fmt: skip


def main():
    """Print the figures."""
    kills = int(sys.argv[1]) if len(sys.argv) > 1 else 50
    each = 500 if kills >= 50 else 50
    for name, value in written(8, each).items():
        print(f"writers: {name:<24} {value}", flush=True)
    for name, value in (filled() or {"disk": "not tried: no file system can be mounted here"}).items():
        print(f"full disk: {name:<32} {value}", flush=True)
    links, taken, wrong = torn(20)
    print(f"scale: {links} links, {taken} weights asked for, {wrong} wrong")
    found = tortured(kills, int(sys.argv[2]) if len(sys.argv) > 2 else 1, print)
    for name, value in found.items():
        print(f"kills: {name:<24} {value}")
