"""Where a passphrase comes from: a file that the environment names, or whoever sits at the terminal."""

import getpass
import os
import sys
from pathlib import Path

from .backup import BackupError

FILE = "EMPLASTRA_BACKUP_PASSPHRASE_FILE"


def from_file():
    """The passphrase in the file that the environment names, "" where it names none. Raises BackupError."""
    path = os.environ.get(FILE)
    if not path:
        return ""
    try:
        told = Path(path).read_text().strip()
    except (OSError, UnicodeError) as error:
        raise BackupError(f"{FILE} names {path}, which cannot be read: {error}") from error
    if not told:
        raise BackupError(f"{FILE} names {path}, which is empty")
    return told


def asked(twice=False):
    """The passphrase of the file, else as it is typed at the terminal. Raises BackupError."""
    told = from_file()
    if told:
        return told
    if not sys.stdin.isatty():
        raise BackupError(f"a passphrase is needed: name its file in {FILE}, or run this at a terminal")
    told = getpass.getpass("Passphrase: ")
    if twice and getpass.getpass("The same once more: ") != told:
        raise BackupError("the two passphrases differ")
    return told
