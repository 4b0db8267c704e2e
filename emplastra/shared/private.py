"""Private addresses: a secret that is told once, of which a digest alone is kept."""

import hashlib
import logging
import re
import secrets

_SECRET = re.compile(r"(/(?:password|feeds|care)/)[\w-]{8,}")


def new_secret():
    """A secret for an address; nobody guesses it."""
    return secrets.token_urlsafe(32)


def digest_of(secret):
    """What is kept of a secret."""
    return hashlib.sha256(secret.encode()).hexdigest()


class WithoutSecrets(logging.Filter):
    """Takes the secret out of a private address before a line of the program's own log is written."""

    def filter(self, record):
        """Every line stays; its text loses the secrets."""
        record.msg, record.args = _SECRET.sub(r"\1…", record.getMessage()), ()
        return True
