"""Back up the whole workshop into one file, and put it back.

A backup is a zip of the database (by SQLite's own backup, so it is whole while the workshop is in
use), the media, and a list of checksums.
"""

import hashlib
import json
import shutil
import sqlite3
import tempfile
import zipfile
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

MANIFEST = "manifest.json"
DATABASE = "emplastra.sqlite3"


class BackupError(Exception):
    """The file is no whole backup; nothing was changed."""


def _digest(path):
    with path.open("rb") as handle:
        return hashlib.file_digest(handle, "sha256").hexdigest()


def copy_database(source, target):
    """A consistent copy of a database that may be in use."""
    with closing(sqlite3.connect(source)) as live, closing(sqlite3.connect(target)) as copy:
        live.backup(copy)


def write_backup(database, media, target):
    """Write a backup of database and media folder to `target`, whole or not at all."""
    target = Path(target)
    with tempfile.TemporaryDirectory(dir=target.resolve().parent) as folder:
        work = Path(folder)
        copy_database(database, work / DATABASE)
        files = {DATABASE: work / DATABASE}
        if Path(media).is_dir():
            files |= {f"media/{p.relative_to(media)}": p for p in sorted(Path(media).rglob("*")) if p.is_file()}
        manifest = {
            "format": "emplastra-backup/1",
            "made": datetime.now(UTC).isoformat(),
            "sha256": {n: _digest(p) for n, p in files.items()},
        }
        with zipfile.ZipFile(work / "backup.zip", "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr(MANIFEST, json.dumps(manifest, indent=2))
            for name, path in files.items():
                archive.write(path, name)
        (work / "backup.zip").replace(target)
    return target


def read_backup(source, folder):
    """Unpack a backup into a folder and check every sum. Raises BackupError."""
    try:
        with zipfile.ZipFile(source) as archive:
            sums = json.loads(archive.read(MANIFEST))["sha256"]
            if set(archive.namelist()) != {*sums, MANIFEST}:
                raise BackupError("the backup holds other files than its list names")
            archive.extractall(folder)
    except (OSError, zipfile.BadZipFile, KeyError, ValueError) as error:
        raise BackupError(f"{source} is no whole backup: {error}") from error
    for name, wanted in sums.items():
        if _digest(Path(folder) / name) != wanted:
            raise BackupError(f"{name} is damaged: its checksum differs")
    return Path(folder)


def restore(source, database, media):
    """Put a backup in place of database and media; what stood there is kept beside it.

    Returns the folder that holds what was there before. The workshop must not be served meanwhile.
    """
    database, media = Path(database), Path(media)
    database.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=database.parent) as folder:
        unpacked = read_backup(source, folder)
        kept = database.parent / f"before-restore-{datetime.now(UTC):%Y%m%d-%H%M%S}"
        kept.mkdir()
        for path in (database, Path(f"{database}-wal"), Path(f"{database}-shm"), media):
            if path.exists():
                shutil.move(path, kept / path.name)
        shutil.move(unpacked / DATABASE, database)
        if (unpacked / "media").is_dir():
            shutil.move(unpacked / "media", media)
    return kept
