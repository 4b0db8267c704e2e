"""A file sealed by a passphrase: nobody reads it without, and nobody changes it unnoticed.

The key comes from the passphrase by Argon2id, the file goes through libsodium's secretstream (XChaCha20-Poly1305) in
parts of 1 MB, the last of which is marked as the last: a part that is changed, gone, doubled or out of order is found.
"""

import os
from pathlib import Path

from nacl import pwhash
from nacl.bindings import crypto_secretstream_xchacha20poly1305_ABYTES as MORE
from nacl.bindings import crypto_secretstream_xchacha20poly1305_HEADERBYTES as HEAD
from nacl.bindings import crypto_secretstream_xchacha20poly1305_init_pull as init_pull
from nacl.bindings import crypto_secretstream_xchacha20poly1305_init_push as init_push
from nacl.bindings import crypto_secretstream_xchacha20poly1305_pull as pull
from nacl.bindings import crypto_secretstream_xchacha20poly1305_push as push
from nacl.bindings import crypto_secretstream_xchacha20poly1305_state as State
from nacl.bindings import crypto_secretstream_xchacha20poly1305_TAG_FINAL as LAST
from nacl.bindings import crypto_secretstream_xchacha20poly1305_TAG_MESSAGE as PART
from nacl.exceptions import CryptoError

MARK = b"emplastra-sealed/1\n"
SHORTEST = 12
"""A passphrase has at least so many characters."""
_PART, _SALT = 1 << 20, pwhash.argon2id.SALTBYTES
_HARD = {"opslimit": pwhash.argon2id.OPSLIMIT_INTERACTIVE, "memlimit": pwhash.argon2id.MEMLIMIT_INTERACTIVE}
"""How hard a guess is made: 2 rounds over 64 MB; a change of it is another form of file."""


class Sealed(Exception):
    """The file is not opened: the sentence says why."""


def is_sealed(path):
    """True for a file that a passphrase has sealed."""
    with Path(path).open("rb") as file:
        return file.read(len(MARK)) == MARK


def _key(passphrase, salt):
    return pwhash.argon2id.kdf(32, passphrase.encode(), salt, **_HARD)


def seal(source, target, passphrase):
    """Write the file at `source` sealed to `target`. Raises ValueError for a passphrase that is too short."""
    if len(passphrase) < SHORTEST:
        raise ValueError(f"the passphrase is too short: at least {SHORTEST} characters")
    salt, state = os.urandom(_SALT), State()
    with Path(source).open("rb") as plain, Path(target).open("wb") as out:
        out.write(MARK + salt + init_push(state, _key(passphrase, salt)))
        part = plain.read(_PART)
        while True:
            following = plain.read(_PART)
            out.write(push(state, part, MARK, PART if following else LAST))
            if not following:
                return
            part = following


def unseal(source, target, passphrase):
    """Write what a sealed file holds to `target`, each part only once it is known to be whole. Raises Sealed."""
    with Path(source).open("rb") as found, Path(target).open("wb") as out:
        head = found.read(len(MARK) + _SALT + HEAD)
        if len(head) < len(MARK) + _SALT + HEAD or not head.startswith(MARK):
            raise Sealed("the file is not sealed, or cut")
        salt, state, tag = head[len(MARK) : -HEAD], State(), PART
        init_pull(state, head[-HEAD:], _key(passphrase, salt))
        while part := found.read(_PART + MORE):
            if tag == LAST:
                raise Sealed("there is more in the file than was sealed")
            try:
                plain, tag = pull(state, part, MARK)
            except (CryptoError, ValueError, RuntimeError) as error:
                raise Sealed("the passphrase is not the one it was sealed with, or the file is damaged") from error
            out.write(plain)
        if tag != LAST:
            raise Sealed("the file is cut: its end is missing")
