"""Scales over a real socket: lost and back, old, moving, owned elsewhere; a pot weighed by what one says."""

import contextlib
import socket
import subprocess
import sys
import threading
import time
from pathlib import Path

from django.db import connection

from emplastra.core.weigh.steady import Link
from emplastra.logbook.models import Entry, Kind
from emplastra.scales import reader
from emplastra.scales.models import Scale, Tare
from emplastra.shared.services import Refused
from tests.base import ShopCase, text_of


class Peer(threading.Thread):
    """A scale at the other end of a socket: it says `line` twenty times a second, to one who is linked."""

    def __init__(self):
        super().__init__(daemon=True)
        self.server = socket.create_server(("127.0.0.1", 0))
        self.server.settimeout(0.02)
        self.port, self.line, self.links, self.cut, self.ends = self.server.getsockname()[1], "85.0 g", 0, False, False

    def run(self):
        linked, beat = None, threading.Event()
        while not self.ends:
            with contextlib.suppress(OSError):
                new, _ = self.server.accept()
                linked, self.links = new, self.links + 1
            if linked is not None and self.cut:
                linked.close()
                linked, self.cut = None, False
            elif linked is not None and self.line is not None:
                with contextlib.suppress(OSError):
                    linked.sendall(f"{self.line}\r\n".encode())
            beat.wait(0.03)
        self.server.close()


def until(holds, within_s=8.0):
    """Wait for a condition; its value."""
    end, beat = time.monotonic() + within_s, threading.Event()
    while not (found := holds()):
        if time.monotonic() > end:
            raise AssertionError("it never came true")
        beat.wait(0.02)
    return found


class ScaleCase(ShopCase):
    def setUp(self):
        super().setUp()
        self.peer = Peer()
        self.peer.start()
        self.scale = Scale.objects.create(name="Bench", address=f"socket://127.0.0.1:{self.peer.port}")
        self.addCleanup(reader.let_go)
        self.addCleanup(setattr, self.peer, "ends", True)

    def steady(self, grams):
        """Say a weight, and wait until it is taken for standing still: its name."""
        self.peer.line = f"{grams:.1f} g"
        return until(lambda: (now := reader.now(self.scale)).link == Link.STEADY and now.sample.grams == grams and now.name)  # fmt: skip


class ReaderTests(ScaleCase):
    def test_lost_and_back(self):
        """After each loss nothing is taken until four lines have said the same; what was seen before is never taken."""
        for n in range(6):
            name = self.steady(100.0 + n)
            self.assertEqual(reader.take(self.scale, name).grams, 100.0 + n)
            self.peer.cut = True
            until(lambda n=n: self.peer.links > n + 1)
            with self.assertRaises(Refused):
                reader.take(self.scale, name if n % 2 else "none")
                reader.take(self.scale, "0-0")
        self.assertEqual(self.peer.links, 7)

    def test_what_may_not_be_taken(self):
        name = self.steady(85.0)
        for say, word in (
            (None, "no weight"),
            ("90.0 g", ""),
            ("------", "no weight"),
            ("mangled 5 g5", "no weight"),
        ):
            with self.subTest(say):
                self.peer.line = say
                wanted = {None: Link.SILENT, "90.0 g": Link.STEADY, "------": Link.OVER, "mangled 5 g5": Link.GARBLED}[
                    say
                ]
                until(lambda wanted=wanted, say=say: (now := reader.now(self.scale)).link == wanted and (wanted != Link.STEADY or now.sample.grams == 90))  # fmt: skip
                with self.assertRaisesMessage(Refused, word or "it shows 90.0 g now"):
                    reader.take(self.scale, name)
        self.assertEqual(reader.take(self.scale, self.steady(85.0)).grams, 85.0)

    def test_another_process_owns_the_scales(self):
        path = Path(str(connection.settings_dict["NAME"])).with_suffix(".scales.lock")
        hold = "import fcntl,sys;f=open(sys.argv[1],'w');fcntl.flock(f,2);print('held',flush=True);sys.stdin.read()"
        with subprocess.Popen([sys.executable, "-c", hold, str(path)], stdin=subprocess.PIPE, stdout=subprocess.PIPE) as other:  # fmt: skip
            other.stdout.readline()
            self.assertEqual(reader.now(self.scale).link, Link.NONE)
            self.assertEqual(self.client.get(f"/scales/{self.scale.pk}/now").json()["link"], "none")
            self.assertRaisesMessage(Refused, "another process", reader.take, self.scale, "x")
            other.stdin.close()
        self.steady(85.0)

    def test_a_scale_told_otherwise_is_read_anew(self):
        first = self.steady(85.0).split("-")[0]
        self.scale.pattern, self.scale.typed = "typed", "W [value]"
        self.peer.line = "W 12.5"
        again = until(lambda: (now := reader.now(self.scale)).link == Link.STEADY and now.name)
        self.assertNotEqual(again.split("-")[0], first)
        self.assertEqual(reader.take(self.scale, again).grams, 12.5)


class PotTests(ScaleCase):
    def setUp(self):
        super().setUp()
        self.pot = self.shop.tell(Kind.POT, -0.01, revision=self.shop.primer.revisions.first(), variant="mild", method="brush", thinner_pct=0.0, ready_ml=200.0, temp_c=20.0)  # fmt: skip
        self.url = f"/pots/{self.pot.pk}/"
        self.sent = 0

    def send(self, part, shown, sample):
        self.sent += 1
        return self.client.post(self.url, {"token": f"w{self.sent}", "part": part, "shown": str(shown), "sample": sample, "offer": "exact"})  # fmt: skip

    def page(self):
        """The pot's page on one line."""
        return " ".join(self.client.get(self.url).content.decode().split())

    def weighed(self):
        return [(e.weighed.part, e.weighed.scale_g, bool(e.weighed.sample)) for e in Entry.objects.filter(kind=Kind.WEIGHED).order_by("pk")]  # fmt: skip

    def test_a_pot_by_the_scale(self):
        """200 mL of 4:1 by volume: 160 mL of 1.5 g/mL are 240 g, 40 mL of 1.0 are 40 g. The vessel weighs 85 g."""
        self.assertContains(self.client.get(self.url), "Weigh on Bench")
        self.assertContains(self.client.get(f"{self.url}?scale={self.scale.pk}"), "Put the empty pot on")
        self.assertEqual(self.send("base", 85, self.steady(85.0)).status_code, 422)  # not put on it yet
        self.client.post(f"{self.url}tare", {"token": "t", "sample": self.steady(85.0)})
        self.client.post(f"{self.url}tare", {"token": "t", "sample": self.steady(85.0)})  # tapped twice
        self.assertEqual([(t.grams, t.shown) for t in Tare.objects.all()], [(85.0, 0.0)])
        page = self.page()
        self.assertIn('data-offset="-85.0" data-target="240.0" data-band="12.0"', page)
        old = self.steady(325.0)
        moved = self.steady(331.0)
        for shown, name, word in ((240, old, "it shows 331.0 g now"), (240, moved, "the page 240.0 g"), (246, "0-0", "old"), ("x", moved, "amount")):  # fmt: skip
            with self.subTest(word):
                self.assertEqual(self.send("base", shown, name).status_code, 422)
        self.assertEqual(self.weighed(), [])
        self.assertEqual(self.send("base", 246, moved).status_code, 302)
        # The rest follows from what is in: 40 x 246 / 240 = 41 g more; 49 are 8 too much: base 294 - 246 = 48.
        self.assertIn('data-target="287.0"', self.page())
        self.assertEqual(self.send("hardener", 295, self.steady(380.0)).status_code, 302)
        page = text_of(self.client.get(self.url))
        self.assertIn("Hardener 8.0 g over : pour base", page)
        self.assertIn("Exact, at 343.0 pot 245 mL, 45 mL over need 48.0 g", page)
        # Only into 5 %: 49 x 6 / 1.05 = 280 g of base.
        self.assertIn("Only into tolerance, at 329.0 pot 236 mL, 36 mL over need 34.0 g", page)
        # The pot was off, and on again on a scale that shows something else.
        self.client.post(f"{self.url}tare", {"token": "t2", "sample": self.steady(400.0)})
        self.assertIn('data-offset="-105.0"', self.page())
        self.assertEqual(self.send("base", 343, self.steady(448.0)).status_code, 302)
        self.assertEqual(self.weighed(), [("base", 246.0, True), ("hardener", 295.0, True), ("base", 343.0, True)])
        page = text_of(self.client.get(self.url))
        self.assertIn("Stir and wait", page)
        self.assertIn("read from the scale", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/record")))

    def test_typed_goes_on_beside_it(self):
        self.client.get(f"{self.url}?scale={self.scale.pk}")
        self.assertNotContains(self.client.get(f"{self.url}?scale=0"), "data-scale")
        self.assertEqual(self.send("base", "240", "").status_code, 302)
        self.assertEqual(self.weighed(), [("base", 240.0, False)])
        self.client.force_login(self.shop.people["viewer"])
        self.assertNotContains(self.client.get(f"{self.url}?scale={self.scale.pk}"), "data-scale")


class SettingsTests(ShopCase):
    def test_a_scale_is_told_and_wrong_ones_are_not(self):
        self.as_owner()
        told = {"token": "a", "name": "Bench", "address": "stand-in", "baud": "9600", "pattern": "typed", "typed": "W [value]", "step_g": "0.1", "in_use": "on"}  # fmt: skip
        send = lambda n, **more: self.client.post("/settings/scales/new", told | {"token": f"s{n}"} | more)  # noqa: E731
        for n, (more, word) in enumerate((
            ({"address": "http://x"}, "socket://192.168.1.40:4001"), ({"address": "/etc/passwd"}, "socket://"), ({"typed": "W"}, "[value] once"), ({"baud": "1"}, "300"),
            ({"step_g": "0"}, "Smallest step"), ({"name": ""}, "Name"),
        )):  # fmt: skip
            with self.subTest(more):
                self.assertContains(send(n, **more), word, status_code=422)
        self.assertEqual(send(99).status_code, 302)
        self.assertContains(send(98), "another scale has this name", status_code=422)
        self.client.force_login(self.shop.people["viewer"])
        self.assertEqual(self.client.get("/settings/scales/").status_code, 403)
        scale = Scale.objects.get()
        self.assertEqual(self.client.post(f"/scales/{scale.pk}/play", {"act": "pour"}).status_code, 403)
