"""Scales as they are read: one process owns them, by a lock on a file, and one thread reads each.

A scale is read while somebody looks at it; after that it is let go.
"""

import contextlib
import fcntl
import secrets
import threading
import time
from collections import deque
from dataclasses import dataclass
from pathlib import Path

import serial
from django.db import connection

from emplastra.core.weigh.lines import IN_G, IN_UM, LONGEST, Pattern
from emplastra.core.weigh.steady import FRESH_S, Link, Sample, Steady
from emplastra.shared.services import Refused

from . import standin

IDLE_S = 20.0
"""So long after the last look it is let go [s]."""
KEPT = 200
AGAIN_S = (0.2, 0.5, 1.0, 2.0)
"""A link that is lost is tried again after so long [s], the last for ever."""
_lock = threading.Lock()
_readers: dict = {}
_owned: dict = {"file": None}


class Elsewhere(Exception):
    """Another process reads the scales of this workshop."""


@dataclass(frozen=True)
class Now:
    """What is known of a scale: how it stands with it, the last sample, its name, and the last lines as they came."""

    link: Link
    sample: Sample | None
    name: str = ""
    age_s: float = 0.0
    lines: tuple = ()


class Reader(threading.Thread):
    """Reads one scale."""

    def __init__(self, scale):
        super().__init__(name=f"scale {scale.pk}", daemon=True)
        self.scale, self.told = scale, _told(scale)
        self.run_id = secrets.token_hex(3)
        self.pattern, self.steady = Pattern(scale.pattern_text, IN_UM if scale.is_gauge else IN_G), Steady(scale.step_g)
        self.samples, self.lines = deque(maxlen=KEPT), deque(maxlen=12)
        self.linked, self.looked_s, self.ends = False, time.monotonic(), False

    def run(self):
        tries = 0
        while not self._is_over():
            with contextlib.suppress(OSError, serial.SerialException, ValueError), self._port() as port:
                self.linked, tries = True, 0
                self._listen(port)
            if self.linked:
                self.steady.forget()
            self.linked = False
            time.sleep(AGAIN_S[min(tries, len(AGAIN_S) - 1)])
            tries += 1

    def _port(self):
        played, address = self.scale.is_stand_in, self.scale.address
        url = f"socket://127.0.0.1:{standin.port_of(self.scale)}" if played else address
        return serial.serial_for_url(url, baudrate=self.scale.baud, timeout=0.2)

    def _is_over(self):
        return self.ends or time.monotonic() - self.looked_s > IDLE_S

    def _listen(self, port):
        """Read lines until the link breaks; a line is whole when its end has come."""
        rest, heard_s = b"", time.monotonic()
        while not self._is_over():
            data = port.read(port.in_waiting or 1)
            now_s = time.monotonic()
            if data:
                heard_s = now_s
            elif self.scale.address.startswith("socket") and now_s - heard_s > 5.0:
                return  # a peer that went without a word is asked again
            *whole, rest = (rest + data).split(b"\n")
            rest = b"" if len(rest) > 4 * LONGEST else rest
            for line in whole:
                self._take(line.decode("ascii", "replace"), now_s)

    def _take(self, line, now_s):
        self.lines.append(line.strip())
        self.samples.append(self.steady.add(now_s, self.pattern.read(line)))

    def now(self):
        """What is known at this moment (Now)."""
        self.looked_s = now_s = time.monotonic()
        last = self.samples[-1] if self.samples else None
        lines = tuple(self.lines)
        if not self.linked:
            return Now(Link.LOST, None, lines=lines)
        if last is None or last.age_s(now_s) > FRESH_S:
            return Now(Link.SILENT, None, lines=lines)
        return Now(last.link, last, f"{self.run_id}-{last.number}", last.age_s(now_s), lines)

    def since(self, name):
        """[(name, value)] of the samples after the one of this name; all that are kept where it is of another run, none
        where none is named.
        """
        self.looked_s = time.monotonic()
        run, _, number = name.rpartition("-")
        after = int(number) if run == self.run_id and number.isdecimal() else 0
        return [
            (f"{self.run_id}-{s.number}", s.grams)
            for s in list(self.samples)
            if s.number > after and s.grams is not None
        ]

    def named(self, name):
        """The sample of this name, None if it is of another run or too long ago."""
        return next((s for s in list(self.samples) if f"{self.run_id}-{s.number}" == name), None)


def _told(scale):
    return scale.address, scale.baud, scale.pattern_text, scale.step_g, scale.reads


def _own():
    """Own the scales of this workshop. Raises Elsewhere."""
    if _owned["file"] is None:
        path = Path(str(connection.settings_dict["NAME"])).with_suffix(".scales.lock")
        path.parent.mkdir(parents=True, exist_ok=True)
        file = path.open("w")
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            file.close()
            raise Elsewhere from None
        _owned["file"] = file


def reader_of(scale):
    """The reader of a scale, begun if it does not run or the scale is told otherwise now. Raises Elsewhere."""
    with _lock:
        _own()
        found = _readers.get(scale.pk)
        if found is not None and found.is_alive() and not found._is_over() and found.told == _told(scale):
            found.looked_s = time.monotonic()
            return found
        if found is not None:
            found.ends = True
        found = _readers[scale.pk] = Reader(scale)
        found.start()
        return found


def let_go():
    """End all readers, and own nothing any more."""
    with _lock:
        for reader in _readers.values():
            reader.ends = True
        readers = list(_readers.values())
        _readers.clear()
    for reader in readers:
        reader.join(3.0)
    with _lock:
        if _owned["file"] is not None:
            _owned["file"].close()
            _owned["file"] = None
    standin.close()


def now(scale):
    """What is known of a scale at this moment (Now)."""
    try:
        return reader_of(scale).now()
    except Elsewhere:
        return Now(Link.NONE, None)


def take(scale, name):
    """The sample of this name, for good: it stood still, and what is on the scale has not changed since.

    Raises Refused for any that is old, lost, moving, or not what the scale says now.
    """
    known = now(scale)
    if known.link is Link.NONE:
        raise Refused("another process reads the scales: type what it shows", "shown")
    if known.sample is None or known.sample.grams is None:
        raise Refused("the scale says no weight: look at it, or type what it shows", "shown")
    sample = reader_of(scale).named(name)
    if sample is None or not sample.steady:
        raise Refused("that weight is old: look at the scale again", "shown")
    if not known.sample.steady:
        raise Refused("it moves: wait until it stands still", "shown")
    if abs(known.sample.grams - sample.grams) > 1.01 * sample.step_g:
        raise Refused(f"it shows {known.sample.grams:.1f} g now: look at it again", "shown")
    return sample
