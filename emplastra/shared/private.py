"""Private addresses: a secret that is told once, of which a digest alone is kept."""

import hashlib
import secrets


def new_secret():
    """A secret for an address; nobody guesses it."""
    return secrets.token_urlsafe(32)


def digest_of(secret):
    """What is kept of a secret."""
    return hashlib.sha256(secret.encode()).hexdigest()
