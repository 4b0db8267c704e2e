"""How much of the disk each part of a workshop takes."""

import shutil
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings
from django.db import connection

from emplastra.shared import backup


@dataclass(frozen=True)
class Size:
    """A part of the workshop: what it is, its bytes and files, and whether it may go without loss."""

    name: str
    size: int
    files: int
    note: str


def sizes():
    """([Size] of each part, bytes that are free)."""
    data, database = Path(settings.DATA_DIR), Path(connection.settings_dict["NAME"])
    journal = [database, *(database.with_name(database.name + end) for end in ("-wal", "-shm"))]
    parts = (
        ("Record", journal, "all that was logged; grows with it"),
        ("Photos", [Path(settings.MEDIA_ROOT)], "part of the record"),
        ("Dossiers and archives", [data / "made"], "made anew from the record when asked for"),
        ("Memory of readings", [data / "cache"], "made anew from the record, limited"),
        ("Backups", [backup.folder_of_backups()], "the newest of 7 days, 5 weeks and 12 months"),
        (
            "From before a restore",
            sorted(data.glob("before-restore-*")),
            "yours to delete once the restore has proven right",
        ),
    )
    return [Size(name, *_measured(paths), note) for name, paths, note in parts], shutil.disk_usage(data).free


def _measured(paths):
    files = [f for path in paths for f in (path.rglob("*") if path.is_dir() else [path]) if f.is_file()]
    return sum(f.stat().st_size for f in files), len(files)
