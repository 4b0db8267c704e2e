"""The one-time code that lets the first owner in."""

import hmac
import json
import logging
import secrets
import time
from pathlib import Path

from django.conf import settings

from emplastra.shared.files import write_whole

TRIES, WAIT_S, MOST = 10, 600.0, 1000
"""So many wrong tries from one address, then it waits so long [s]; of so many addresses it is known at a time."""
log = logging.getLogger(__name__)


def _path():
    return Path(settings.DATA_DIR) / "first-run-code.json"


def issue_code():
    """A new code for the terminal; the one before it is void."""
    code = "-".join(secrets.token_hex(2) for _ in range(3))
    _keep(code, {})
    return code


def _keep(code, tries):
    write_whole(_path(), json.dumps({"code": code, "tries": tries}).encode())


def _kept():
    """(code, {address: [wrong tries, the last of them]}); a file that is missing or cannot be read holds none."""
    try:
        kept = json.loads(_path().read_text())
        tries = {str(k): [int(n), float(at)] for k, (n, at) in dict(kept["tries"]).items()}
        return str(kept["code"]), tries
    except (OSError, ValueError, KeyError, TypeError):
        return "", {}


def code_is_right(typed, address=""):
    """True for the code of the terminal. After 10 wrong tries an address waits 10 minutes; others are not held up.

    An address that waits is told in the terminal, with the code once more.
    """
    code, tries = _kept()
    now = time.time()
    tries = {key: each for key, each in tries.items() if now - each[1] < WAIT_S}
    wrong = tries.get(address, [0, now])[0]
    if not code or wrong >= TRIES:
        return False
    if hmac.compare_digest(code.encode(), typed.strip().lower().encode("utf-8", "replace")):
        return True
    tries[address] = [wrong + 1, now]
    _keep(code, dict(sorted(tries.items(), key=lambda each: -each[1][1])[:MOST]))
    if wrong + 1 == TRIES:
        log.warning(
            "%s typed a wrong one-time code %d times and waits 10 minutes. The code is %s", address, TRIES, code
        )
    return False


def void_code():
    """The code has been used."""
    _path().unlink(missing_ok=True)
