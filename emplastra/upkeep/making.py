"""Backups made in Settings: in a process of their own, into the folder of the nightly ones, a few of them kept."""

import re
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from django.conf import settings
from django.db import connection
from django.urls import reverse

from emplastra.shared import clock, sealing, tasks
from emplastra.shared.backup import BackupError, folder_of_backups, note_backup, write_backup
from emplastra.shared.services import Refused, owners_only

KEPT = 5
"""So many backups made by hand are kept, the newest."""
_NAME = re.compile(r"[\w-]{1,60}\.(?:zip|sealed)")


@dataclass(frozen=True)
class Made:
    """A backup as it lies there: its name, when it was made (aware), its bytes, whether it is sealed."""

    name: str
    at: datetime
    size: int
    is_sealed: bool


def backups():
    """[Made] in the folder of backups, the newest first."""
    found = []
    for path in folder_of_backups().glob("*"):
        if _NAME.fullmatch(path.name) and path.is_file():
            about = path.stat()
            at = clock.as_here(datetime.fromtimestamp(about.st_mtime, UTC))
            found.append(Made(path.name, at, about.st_size, path.suffix == ".sealed"))
    return sorted(found, key=lambda made: made.at, reverse=True)


def path_of(name):
    """The path of a backup by its name, None where there is none of that name."""
    path = folder_of_backups() / name
    return path if _NAME.fullmatch(name) and path.is_file() else None


@owners_only
def begin(user, passphrase=""):
    """Begin to make a backup, sealed where a passphrase is given; its task. Raises Refused."""
    if passphrase and len(passphrase) < sealing.SHORTEST:
        raise Refused(f"is too short: at least {sealing.SHORTEST} characters", "passphrase")
    path = None
    if passphrase:  # it goes by a file that only this user reads, and that goes with the task
        path = tasks.keep_bytes(passphrase.encode(), "passphrase")
    about = {"doing": "Making a backup", "file": "the whole workshop", "back": reverse("upkeep:keeping")}
    return tasks.work(user, "backup", make, about, path)


def make(task, say):
    """Work: a backup by hand."""
    path = task.about.get("path")
    passphrase = Path(path).read_text() if path else ""
    folder = folder_of_backups()
    say(0.1, "copying")
    try:
        folder.mkdir(parents=True, exist_ok=True)
        name = f"by-hand-{datetime.now(UTC):%Y%m%d-%H%M%S}.{'sealed' if passphrase else 'zip'}"
        made = write_backup(connection.settings_dict["NAME"], settings.MEDIA_ROOT, folder / name, passphrase)
    except (BackupError, OSError) as error:
        raise tasks.Failed(f"no backup was made: {error}") from error
    note_backup(settings.DATA_DIR)
    for old in [each for each in backups() if each.name.startswith("by-hand-")][KEPT:]:
        (folder / old.name).unlink(missing_ok=True)
    with tasks.landing(task) as landed:
        words = f"Made: {made.stat().st_size / 1e6:.1f} MB{', sealed' if passphrase else ''}."
        landed |= {"words": words, "url": reverse("upkeep:backup", args=[name]), "go": "Fetch it"}
