"""The one-time code that lets the first owner in."""

import hmac
import json
import secrets
from pathlib import Path

from django.conf import settings

from emplastra.shared.files import write_whole

TRIES = 10


def _path():
    return Path(settings.DATA_DIR) / "first-run-code.json"


def issue_code():
    """A new code for the terminal; the one before it is void."""
    code = "-".join(secrets.token_hex(2) for _ in range(3))
    _keep(code, 0)
    return code


def _keep(code, tries):
    write_whole(_path(), json.dumps({"code": code, "tries": tries}).encode())


def _kept():
    """(code, tries); a file that is missing or cannot be read holds none."""
    try:
        kept = json.loads(_path().read_text())
        return str(kept["code"]), int(kept["tries"])
    except (OSError, ValueError, KeyError, TypeError):
        return "", TRIES


def code_is_right(typed):
    """True for the code of the terminal; after 10 wrong tries no code is right until the next start."""
    code, tries = _kept()
    if tries >= TRIES:
        return False
    if hmac.compare_digest(code.encode(), typed.strip().lower().encode("utf-8", "replace")):
        return True
    _keep(code, tries + 1)
    return False


def void_code():
    """The code has been used."""
    _path().unlink(missing_ok=True)
