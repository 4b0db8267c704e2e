"""Packed readings on disk: made again from the rows whenever one is missing, damaged or not ours.

A pack is plain numbers behind a checksum; nothing in it is ever run. The folder may be emptied.
"""

import contextlib
import hashlib
from pathlib import Path

import numpy as np
from django.conf import settings

from emplastra.shared.files import write_whole

ROWS = 4
_MARK = b"emplastra-pack/1\n"
_MOST = 20_000
"""More packs than this are not kept: the oldest quarter goes."""


def folder():
    """Where packs are."""
    return Path(settings.DATA_DIR) / "cache"


def _path(key):
    return folder() / f"{key}.pack"


def read(key):
    """The array of four rows kept under a key; None if there is none that is whole."""
    try:
        data = _path(key).read_bytes()
        start = len(_MARK) + 32
        body = data[start:]
        if data[: len(_MARK)] == _MARK and data[len(_MARK) : start] == _digest(key, body):
            return np.frombuffer(body, "<f8").reshape(ROWS, -1)
        _path(key).unlink()
    except (OSError, ValueError):
        pass
    return None


def write(packs):
    """Keep {key: array of four rows}; a full or read-only disk keeps nothing, which costs time alone."""
    with contextlib.suppress(OSError):
        for key, rows in packs.items():
            body = np.ascontiguousarray(rows, "<f8").tobytes()
            write_whole(_path(key), _MARK + _digest(key, body) + body)
        for old in folder().glob("*.djcache"):  # of earlier versions: never read again
            old.unlink()
        kept = sorted(folder().glob("*.pack"), key=lambda path: path.stat().st_mtime)
        for path in kept[: _MOST // 4] if len(kept) > _MOST else ():
            path.unlink()


def _digest(key, body):
    return hashlib.sha256(key.encode() + body).digest()
