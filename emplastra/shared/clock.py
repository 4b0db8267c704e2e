"""The one clock of the shell. The core is told the time; everything else asks here.

The demo runs on a clock of its own: it opens on a fixed moment and goes on from where it was.
"""

import json
import threading
import time
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path

from django.conf import settings

from .files import write_whole

_KEPT_EVERY_S = 5.0
_lock = threading.Lock()
_state: dict = {"offset": timedelta(0), "file": None, "kept": 0.0, "fixed": None}


def now():
    """The moment it is, aware, UTC."""
    if _state["fixed"] is not None:
        return _state["fixed"]
    moment = datetime.now(UTC) + _state["offset"]
    if _state["file"] and time.monotonic() - _state["kept"] > _KEPT_EVERY_S:
        with suppress(OSError):  # a full disk stops no page
            _keep(moment)
    return moment


def as_here(moment):
    """A moment of the world's clock (aware), as the workshop's clock has it: the same, but in the demo and in tests."""
    return now() - (datetime.now(UTC) - moment)


def is_demo():
    """True if the time shown is not the world's."""
    return _state["file"] is not None


def run_from(path, start, not_before=None):
    """Run the demo's clock: from where `path` says it was, else from `start`, never before `not_before`."""
    _refuse_in_production()
    path = Path(path)
    begin = datetime.fromisoformat(json.loads(path.read_text())["now"]) if path.exists() else start
    begin = max(begin, not_before) if not_before else begin
    _state.update(offset=begin - datetime.now(UTC), file=path)
    _keep(begin)


def freeze(moment):
    """Stand still at a moment (None: run again). For tests."""
    _refuse_in_production()
    _state["fixed"] = moment


def advance(**delta):
    """Move a frozen clock on by timedelta's arguments. For tests."""
    freeze(now() + timedelta(**delta))


def _refuse_in_production():
    if not settings.CLOCK_MAY_DIFFER:
        raise RuntimeError("only the demo and tests may run a clock of their own")


def _keep(moment):
    with _lock:
        _state["kept"] = time.monotonic()
        write_whole(_state["file"], json.dumps({"now": moment.isoformat()}).encode())
