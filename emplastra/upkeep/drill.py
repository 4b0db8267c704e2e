"""The drill: a backup restored beside the workshop, and every folded state of it held against the workshop's own."""

import tempfile
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from django.conf import settings
from django.db import connection

from emplastra.accounts.models import Workshop
from emplastra.climate.live import newest
from emplastra.logbook.models import Entry
from emplastra.shared.appendonly import append_only_models
from emplastra.shared.backup import DATABASE, write_backup
from emplastra.shared.restoring import beside, read_backup
from emplastra.state import whole
from emplastra.store.models import TinFact


@dataclass(frozen=True)
class Proof:
    """What a drill found: of which moment; how many faces, tins and rows were compared; every difference, in words."""

    shows: datetime
    faces: int
    tins: int
    rows: int
    differences: tuple[str, ...]


@dataclass(frozen=True)
class _Seen:
    """One workshop at a moment: its faces, its tins, {table: rows recorded up to it}, the newest facts."""

    faces: dict
    tins: dict
    rows: dict
    newest: tuple


def drill(source=None, passphrase=""):
    """The Proof of a backup at a path; without one, of a backup made now. Raises BackupError."""
    with tempfile.TemporaryDirectory(dir=settings.DATA_DIR, prefix=".drill-") as folder:
        home = Path(folder)
        if source is None:
            source = write_backup(connection.settings_dict["NAME"], settings.MEDIA_ROOT, home / "made", passphrase)
        unpacked = home / "restored"
        unpacked.mkdir()
        shows = read_backup(source, unpacked, passphrase)
        here = _seen(shows)
        with beside(unpacked / DATABASE):
            there = _seen(shows)
    return Proof(shows, len(there.faces), len(there.tins), sum(there.rows.values()), tuple(_differences(here, there)))


def _seen(at):
    """What the database in place shows of a moment; what is kept in memory of another is dropped before and after."""
    whole.forget()
    try:
        rows = {m._meta.db_table: m.objects.filter(recorded__lte=at).count() for m in append_only_models()}
        return _Seen(whole.faces(at), whole.tins(Workshop.current()), rows, newest(Entry, TinFact))
    finally:
        whole.forget()


def _differences(here, there):
    for table, count in here.rows.items():
        if there.rows[table] != count:
            yield f"{table}: {count} rows here, {there.rows[table]} in the backup"
    yield from _unequal("face", here.faces, there.faces)
    if here.newest == there.newest:  # tins are as they are now: nothing may have been written since
        yield from _unequal("tin", here.tins, there.tins)


def _unequal(what, here, there):
    for pk, mine in here.items():
        if pk in there:
            for part in mine.differs_in(there[pk]):
                yield f"{what} {mine.name}: {part} differ"
    yield from (f"{what} {there[pk].name}: only in the backup" for pk in there.keys() - here.keys())
