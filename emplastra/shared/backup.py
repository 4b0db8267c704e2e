"""Back up the whole workshop into one file, by hand or every night.

A backup is a zip of the database (by SQLite's own backup, so it is whole while the workshop is in
use), the media, and a list of checksums.
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

from .files import write_whole

MANIFEST = "manifest.json"
DATABASE = "emplastra.sqlite3"
FORMAT = "emplastra-backup/1"
STAMP = "last-backup"
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
    """A consistent copy of a database that may be in use. Raises BackupError if it is not there or damaged."""
    try:
        with (
            closing(sqlite3.connect(f"{Path(source).absolute().as_uri()}?mode=ro", uri=True)) as live,
            closing(sqlite3.connect(target)) as copy,
        ):
            live.backup(copy)
            trouble = copy.execute("PRAGMA integrity_check(1)").fetchone()[0]
    except sqlite3.Error as error:
        raise BackupError(f"{source} cannot be read: {error}") from error
    if trouble != "ok":
        raise BackupError(f"{source} is damaged ({' '.join(trouble.split())[:120]}): no backup was made of it")


def write_backup(database, media, target):
    """Write a backup of database and media folder to `target`, whole or not at all. Raises BackupError."""
    target = Path(target)
    with tempfile.TemporaryDirectory(dir=target.resolve().parent) as folder:
        work = Path(folder)
        copy_database(database, work / DATABASE)
        files = {DATABASE: work / DATABASE}
        if Path(media).is_dir():
            files |= {f"media/{p.relative_to(media)}": p for p in sorted(Path(media).rglob("*")) if p.is_file()}
        manifest = {
            "format": FORMAT,
            "made": datetime.now(UTC).isoformat(),
            "sha256": {n: digest_of(p) for n, p in files.items()},
        }
        with zipfile.ZipFile(work / "backup.zip", "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr(MANIFEST, json.dumps(manifest, indent=2))
            for name, path in files.items():
                archive.write(path, name)
        (work / "backup.zip").chmod(0o600)
        on_disk(work / "backup.zip")
        (work / "backup.zip").replace(target)
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


def nightly(database, media, folder):
    """Back up into a folder under the moment's name and let go of what is no longer kept; (path, let go).

    Raises BackupError, and then lets go of nothing.
    """
    folder = Path(folder)
    folder.mkdir(parents=True, exist_ok=True)
    path = write_backup(database, media, folder / f"nightly-{datetime.now(UTC):%Y%m%d-%H%M%S}.zip")
    gone = outdated(folder.glob("nightly-*.zip"))
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


def is_old(moment, now):
    """True for a backup that is over two days old, or was never made."""
    return moment is None or now - moment > timedelta(days=2)
