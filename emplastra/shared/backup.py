"""Back up the whole workshop into one file, by hand or every night.

A backup is a zip of the database (by SQLite's own backup, so it is whole while the workshop is in
use), the media, and a list of checksums; with a passphrase it is sealed. Who is signed in is not in it: a restore signs
nobody in.
"""

import hashlib
import json
import os
import sqlite3
import tempfile
import zipfile
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path

from django.conf import settings

from . import clock, sealing
from .files import write_whole

MANIFEST = "manifest.json"
DATABASE = "emplastra.sqlite3"
FORMAT = "emplastra-backup/1"
STAMP = "last-backup"
NOT_KEPT = {"django_session", "accounts_session"}
"""Tables whose rows no backup holds: who is signed in."""
KEPT = {"%Y-%m-%d": 7, "%G-W%V": 5, "%Y-%m": 12}
"""How many nightly backups are kept: the newest of so many days, weeks and months."""


class BackupError(Exception):
    """The file is no whole backup, or none can be made; nothing was changed."""


def digest_of(path):
    """SHA-256 of a file, as text."""
    with path.open("rb") as handle:
        return hashlib.file_digest(handle, "sha256").hexdigest()


def on_disk(path):
    """Have a file or folder written through, so that a power cut after it is renamed finds it whole."""
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def copy_database(source, target):
    """A consistent copy of a database that may be in use, without who is signed in; the moment it shows.

    All that was recorded up to that moment is in it, nothing that was recorded later. Raises BackupError if the
    database is not there or damaged.
    """
    uri = Path(source).absolute().as_uri()
    try:
        with (
            closing(sqlite3.connect(f"{uri}?mode=ro", uri=True, isolation_level=None)) as live,
            closing(sqlite3.connect(target)) as copy,
        ):
            at = _stand_still(uri, live)
            live.backup(copy)
            trouble = copy.execute("PRAGMA integrity_check(1)").fetchone()[0]
            if trouble == "ok":
                forget_who_is_in(copy)
    except sqlite3.Error as error:
        raise BackupError(f"{source} cannot be read: {error}") from error
    if trouble != "ok":
        raise BackupError(f"{source} is damaged ({' '.join(trouble.split())[:120]}): no backup was made of it")
    return at


def _stand_still(uri, live):
    """Begin to read between two writers: the moment, to which what is read from now on is exact."""
    with closing(sqlite3.connect(f"{uri}?mode=rw", uri=True, isolation_level=None, timeout=60)) as gate:
        gate.execute("BEGIN IMMEDIATE")
        live.execute("BEGIN")
        live.execute("SELECT count(*) FROM sqlite_master").fetchone()
        at = clock.now()
        gate.execute("ROLLBACK")
    return at


def forget_who_is_in(copy):
    """Take what opens a session out of a copy, its bytes too."""
    copy.execute("PRAGMA secure_delete=ON")
    there = {name for (name,) in copy.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    for table in there & NOT_KEPT:
        copy.execute(f"DELETE FROM {table}")
    copy.commit()


def write_backup(database, media, target, passphrase=""):
    """Write a backup of database and media folder to `target`, whole or not at all; sealed, where a passphrase is
    given. Raises BackupError.
    """
    target = Path(target)
    with tempfile.TemporaryDirectory(dir=target.resolve().parent) as folder:
        work = Path(folder)
        at = copy_database(database, work / DATABASE)
        files = {DATABASE: work / DATABASE}
        if Path(media).is_dir():
            files |= {f"media/{p.relative_to(media)}": p for p in sorted(Path(media).rglob("*")) if p.is_file()}
        manifest = {
            "format": FORMAT,
            "made": datetime.now(UTC).isoformat(),
            "shows": at.isoformat(),
            "sha256": {n: digest_of(p) for n, p in files.items()},
        }
        made = work / "backup.zip"
        with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr(MANIFEST, json.dumps(manifest, indent=2))
            for name, path in files.items():
                archive.write(path, name)
        if passphrase:
            try:
                sealing.seal(made, work / "backup.sealed", passphrase)
            except ValueError as error:
                raise BackupError(str(error)) from error
            made = work / "backup.sealed"
        made.chmod(0o600)
        on_disk(made)
        made.replace(target)
        on_disk(target.resolve().parent)
    return target


def note_backup(data_dir):
    """Write down that a backup has just been made."""
    write_whole(Path(data_dir) / STAMP, datetime.now(UTC).isoformat().encode())


def last_backup(data_dir):
    """When a backup was last made (aware), None if never or not known."""
    try:
        return datetime.fromisoformat((Path(data_dir) / STAMP).read_text().strip()).astimezone(UTC)
    except (OSError, ValueError):
        return None


def nightly(database, media, folder, passphrase=""):
    """Back up into a folder under the moment's name and let go of what is no longer kept; (path, let go).

    Raises BackupError, and then lets go of nothing.
    """
    folder = Path(folder)
    folder.mkdir(parents=True, exist_ok=True)
    end = "sealed" if passphrase else "zip"
    name = f"nightly-{datetime.now(UTC):%Y%m%d-%H%M%S}.{end}"
    path = write_backup(database, media, folder / name, passphrase)
    gone = outdated(each for each in folder.glob("nightly-*") if each.suffix in {".zip", ".sealed"})
    for each in gone:
        each.unlink()
    return path, gone


def outdated(paths):
    """Those of these nightly backups that are neither the newest of a day, week or month that is still kept."""
    made = {}
    for path in paths:
        try:
            made[path] = datetime.strptime(path.stem, "nightly-%Y%m%d-%H%M%S")
        except ValueError:
            continue  # not ours to let go of
    newest_first = sorted(made, key=made.get, reverse=True)
    kept = set()
    for form, count in KEPT.items():
        newest = {}
        for path in newest_first:
            newest.setdefault(made[path].strftime(form), path)
        kept |= set(list(newest.values())[:count])
    return [path for path in newest_first if path not in kept]


def folder_of_backups():
    """Where nightly backups, and those made in Settings, lie."""
    return Path(os.environ.get("EMPLASTRA_BACKUPS") or Path(settings.DATA_DIR) / "backups")


def is_old(moment, now):
    """True for a backup that is over two days old, or was never made."""
    return moment is None or now - moment > timedelta(days=2)
