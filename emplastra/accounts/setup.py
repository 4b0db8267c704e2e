"""The one-time code that lets the first owner in."""

import hmac
import json
import secrets
from pathlib import Path

from django.conf import settings

TRIES = 10


def _path():
    return Path(settings.DATA_DIR) / "first-run-code.json"


def issue_code():
    """A new code for the terminal; the one before it is void."""
    code = "-".join(secrets.token_hex(2) for _ in range(3))
    _path().parent.mkdir(parents=True, exist_ok=True)
    _path().touch(mode=0o600)
    _path().write_text(json.dumps({"code": code, "tries": 0}))
    return code


def code_is_right(typed):
    """True for the code of the terminal; after 10 wrong tries no code is right until the next start."""
    if not _path().exists():
        return False
    kept = json.loads(_path().read_text())
    if kept["tries"] >= TRIES:
        return False
    if hmac.compare_digest(kept["code"], typed.strip().lower()):
        return True
    _path().write_text(json.dumps({**kept, "tries": kept["tries"] + 1}))
    return False


def void_code():
    """The code has been used."""
    _path().unlink(missing_ok=True)
