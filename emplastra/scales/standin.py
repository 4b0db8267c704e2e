"""Scales and gauges that are played, each behind a socket of this machine: what reads them reads them as any other."""

import contextlib
import socket
import threading
import time

from emplastra.core.weigh.probe import Probe
from emplastra.core.weigh.standin import EVERY_S, StandIn

_lock = threading.Lock()
_played: dict = {}


class Played(threading.Thread):
    """A played scale that sends its lines to whoever has linked."""

    def __init__(self, model):
        super().__init__(name=f"played {model.seed}", daemon=True)
        self.model, self.guard, self.ends = model, threading.Lock(), False
        self.server = socket.create_server(("127.0.0.1", 0))
        self.server.settimeout(EVERY_S)
        self.port = self.server.getsockname()[1]
        self.linked = None

    def run(self):
        due = time.monotonic()
        while not self.ends:
            self._accept()
            with self.guard:
                line = self.model.step()
                plugged = self.model.plugged
            if not plugged:
                self._unlink()
            elif line is not None and self.linked is not None:
                try:
                    self.linked.sendall(f"{line}\r\n".encode())
                except OSError:
                    self._unlink()
            due += EVERY_S
            time.sleep(max(0.0, due - time.monotonic()))
        self._unlink()
        self.server.close()

    def _accept(self):
        self.server.settimeout(0.0)
        with contextlib.suppress(BlockingIOError, OSError):
            linked, _ = self.server.accept()
            self._unlink()
            if self.model.plugged:
                self.linked = linked
                linked.settimeout(1.0)
            else:
                linked.close()

    def _unlink(self):
        if self.linked is not None:
            self.linked.close()
            self.linked = None

    def act(self, name, value=None):
        """Do something at it, by a key of ACTS."""
        with self.guard:
            (GAUGE_ACTS if isinstance(self.model, Probe) else ACTS)[name][1](self.model, value)


def _plug(model, plugged):
    model.plugged = plugged


ACTS = {
    "vessel": ("Put a vessel on", lambda model, value: model.put(85.0 if value is None else value)),
    "pour": ("Pour", lambda model, value: model.pour(12.0, value)),
    "trickle": ("Trickle", lambda model, value: model.pour(1.5, value)),
    "stop": ("Stop pouring", lambda model, _: model.stop()),
    "lift": ("Lift off, put back", lambda model, _: model.lift()),
    "zero": ("Its own zero", lambda model, _: model.tare()),
    "heap": ("Too much on it", lambda model, _: model.put(model.most_g)),
    "unplug": ("Pull the plug", lambda model, _: _plug(model, False)),
    "plug": ("Plug it in", lambda model, _: _plug(model, True)),
    "noise": ("Noise on, off", lambda model, _: setattr(model, "noisy", not model.noisy)),
}
"""What may be done at a played scale: what it is called, and how."""


GAUGE_ACTS = {
    "touch": ("Put it on", lambda model, value: model.touch(value)),
    "row": ("Six along a row", lambda model, value: model.touch(value, 6)),
    "bare": ("On the bare plate", lambda model, _: model.bare()),
    "lose": ("Lose its zero", lambda model, value: setattr(model, "zero_um", 40.0 if value is None else value)),
    "unplug": ACTS["unplug"],
    "plug": ACTS["plug"],
    "noise": ACTS["noise"],
}
"""The same for a played gauge."""


def acts_of(scale):
    """What may be done at a scale or gauge that is played."""
    return GAUGE_ACTS if scale.is_gauge else ACTS


def played(scale):
    """What plays a scale or gauge, begun where there is none."""
    with _lock:
        found, key = _played.get(scale.pk), scale.pk
        if found is None or not found.is_alive() or isinstance(found.model, Probe) != scale.is_gauge:
            found = _played[key] = Played(Probe(seed=key) if scale.is_gauge else StandIn(seed=key))
            found.start()
        return found


def port_of(scale):
    """The port at which it is read."""
    return played(scale).port


def close():
    """End all that are played."""
    with _lock:
        ended = list(_played.values())
        _played.clear()
    for each in ended:
        each.ends = True
