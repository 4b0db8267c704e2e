"""Put a backup in place: looked through whole beside the workshop, then swapped in by one rename.

What comes out of an archive is trusted in nothing: its list, its sums, its size, its database's
pages, keys, tables and triggers are held against what this program itself would have made.
"""

import json
import re
import shutil
import sqlite3
import tempfile
import zipfile
import zlib
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from functools import lru_cache
from pathlib import Path, PurePosixPath

from django.apps import apps
from django.core.management import call_command
from django.db import Error, connections
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder

from . import sealing
from .appendonly import make_triggers
from .backup import DATABASE, FORMAT, MANIFEST, BackupError, digest_of, forget_who_is_in, on_disk
from .standing import alone

_BESIDE = ".restoring-"
_MAX_LIST = 50_000_000
_MAX_GROWTH, _SMALL = 200, 100_000_000
"""A file may unpack to this many times its packed size; below `_SMALL` [bytes] that is not looked at."""
_TRIGGER = re.compile(
    r"CREATE TRIGGER (append_only_(\w+)_(?:update|delete)) BEFORE (?:UPDATE|DELETE) ON \2 "
    r"BEGIN SELECT RAISE\(ABORT, '\2 is append-only'\); END"
)


def read_backup(source, folder, passphrase=""):
    """Unpack a backup into a folder, check all of it and bring its database up to date; the moment it shows (aware).

    Raises BackupError.
    """
    folder = Path(folder)
    if sealing.is_sealed(source):
        source = _opened(source, folder, passphrase)
    try:
        with zipfile.ZipFile(source) as archive:
            sums, shows = _listed(archive)
            _unpack(archive, sums, folder)
    except (OSError, EOFError, RuntimeError, ValueError, zipfile.BadZipFile, zlib.error) as error:
        raise BackupError(f"{source} is no whole backup: {error}") from error
    for name, wanted in sums.items():
        if digest_of(folder / name) != wanted:
            raise BackupError(f"{name} is damaged: its checksum differs")
    _check_database(folder / DATABASE)
    return shows


def _opened(source, folder, passphrase):
    """A sealed backup's zip, beside what it will be unpacked to."""
    if not passphrase:
        raise BackupError(f"{source} is sealed: its passphrase is needed")
    opened = folder / "opened.zip"
    try:
        sealing.unseal(source, opened, passphrase)
    except sealing.Sealed as error:
        raise BackupError(f"{source}: {error}") from error
    return opened


def _listed(archive):
    """({name: SHA-256}, the moment it shows) of an archive's list, which names what it holds and no more."""
    infos = {info.filename: info for info in archive.infolist()}
    if MANIFEST not in infos or infos[MANIFEST].file_size > _MAX_LIST:
        raise BackupError("the file holds no list of what is in it: it is no backup of a workshop")
    if len(infos) != len(archive.infolist()):
        raise BackupError("the backup holds a file twice")
    sums, shows = _sums(archive.read(MANIFEST))
    if DATABASE not in sums:
        raise BackupError("the backup holds no database")
    lost = next((name for name in sums if not _is_in_place(name)), None)
    if lost is not None:
        raise BackupError(f"the backup holds a file out of place: {lost[:80]!r}")
    if set(infos) != {*sums, MANIFEST}:
        raise BackupError("the backup holds other files than its list names")
    return sums, shows


def _sums(text):
    """({name: SHA-256}, the moment it shows) as a list says them."""
    try:
        manifest = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise BackupError(f"the list of the backup cannot be read: {str(error)[:120]}") from error
    sums = manifest.get("sha256") if isinstance(manifest, dict) else None
    if not isinstance(sums, dict) or manifest.get("format") != FORMAT:
        raise BackupError(f"the backup is not of the form {FORMAT}")
    try:
        shows = datetime.fromisoformat(manifest.get("shows") or manifest["made"])
    except (KeyError, TypeError, ValueError) as error:
        raise BackupError("the list of the backup does not say when it was made") from error
    if shows.tzinfo is None:
        raise BackupError("the list of the backup does not say when it was made")
    return sums, shows


def _is_in_place(name):
    """True for the database and for what lies under the media folder."""
    parts = PurePosixPath(name).parts
    is_media = len(parts) > 1 and parts[0] == "media" and ".." not in parts
    return (name == DATABASE or is_media) and name == "/".join(parts) and not {"\\", "\0"} & set(name)


def _unpack(archive, sums, folder):
    packed = sum(archive.getinfo(name).compress_size for name in sums)
    size = sum(archive.getinfo(name).file_size for name in sums)
    if size > _SMALL and size > _MAX_GROWTH * packed:
        raise BackupError(
            f"the backup would unpack to {size // 1_000_000} MB from {packed // 1000} kB: it is not one of ours"
        )
    free = shutil.disk_usage(folder).free
    if size > free - _SMALL:
        raise BackupError(f"the backup needs {size // 1_000_000} MB and {free // 1_000_000} MB are free")
    for name in sums:
        target = folder / name
        target.parent.mkdir(parents=True, exist_ok=True)
        with archive.open(name) as inside, target.open("xb") as out:
            shutil.copyfileobj(inside, out, 1 << 20)


def _check_database(path):
    """Raises BackupError unless it is a database of ours; afterwards it is up to date and protected."""
    try:
        with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=rw", uri=True)) as found:
            _check_objects(found)
            trouble = found.execute("PRAGMA integrity_check(1)").fetchone()[0]
            if trouble != "ok":
                raise BackupError(f"the backup’s database is damaged: {' '.join(trouble.split())[:160]}")
            broken = found.execute("PRAGMA foreign_key_check").fetchone()
            if broken:
                raise BackupError(
                    f"the backup’s database is damaged: a row of {broken[0]} names one of {broken[2]} that is not there"
                )
            _check_migrations(found)
            forget_who_is_in(found)
            found.execute("PRAGMA journal_mode=DELETE")
        if _migrated(path) != _expected():
            raise BackupError("the backup’s database has other tables than this program makes")
    except (sqlite3.Error, Error, UnicodeError) as error:
        raise BackupError(f"the backup’s database cannot be read: {str(error)[:160]}") from error


def _check_objects(found):
    """Only tables, their indexes and the triggers that protect the record: nothing that runs by itself."""
    for kind, name, sql in found.execute("SELECT type, name, sql FROM sqlite_master").fetchall():
        sql = sql or ""
        if kind == "trigger":
            known = _TRIGGER.fullmatch(sql)
            if known and known[1] == name:
                continue
        elif kind in {"table", "index"} and not re.match(r"\s*create\s+virtual", sql, re.I):
            continue
        raise BackupError(f"the backup’s database holds a {kind} that is not ours: {str(name)[:80]}")


def _check_migrations(found):
    applied = set(found.execute("SELECT app, name FROM django_migrations").fetchall())
    ahead = applied - set(MigrationLoader(None).disk_migrations)
    if ahead:
        raise BackupError(f"the backup was made by another, perhaps newer program ({'.'.join(sorted(ahead)[0])})")


@contextmanager
def beside(path):
    """Another database in place of the workshop's, in this thread only: whoever names none must not find the live one.

    It gives its connection.
    """
    live = connections["default"]
    other = type(live)({**live.settings_dict, "NAME": str(path)}, "default")
    connections["default"] = other
    try:
        yield other
    finally:
        other.close()
        connections["default"] = live


def _migrated(path):
    """What a database looks like once it is brought up to date here."""
    with beside(path) as other:
        try:
            call_command("migrate", verbosity=0)
            return structure_of(other)
        except Exception as error:  # whatever a migration meets in strange rows
            raise BackupError(f"the backup cannot be brought up to date: {str(error)[:160]}") from error


@lru_cache(maxsize=1)
def _expected():
    """What a database looks like that this program makes."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / DATABASE
        path.touch()
        with beside(path) as made:
            return _made(made)


def _made(made):
    """The structure of an empty database once this program's tables are in it.

    They come straight from the models, which is quicker than a hundred migrations; a test holds one to the other.
    """
    with made.schema_editor() as editor:
        for model in apps.get_models():
            editor.create_model(model)
    MigrationRecorder(made).ensure_schema()
    make_triggers()
    return structure_of(made)


def structure_of(connection):
    """Columns, keys and indexes of every table, and every trigger."""
    with connection.cursor() as cursor:

        def rows(sql, *parameters):
            return cursor.execute(sql, parameters).fetchall()

        tables = [name for (name,) in rows("SELECT name FROM sqlite_master WHERE type = 'table'")]
        found = {"triggers": sorted(rows("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'"))}
        for table in tables:
            columns = sorted(row[1:] for row in rows("SELECT * FROM pragma_table_xinfo(%s)", table))
            keys = sorted(row[2:] for row in rows("SELECT * FROM pragma_foreign_key_list(%s)", table))
            indexes = rows('SELECT name, "unique", partial FROM pragma_index_list(%s)', table)
            parts = sorted(
                (u, p, [c for (c,) in rows("SELECT name FROM pragma_index_info(%s)", name)]) for name, u, p in indexes
            )
            found[table] = (columns, keys, parts)
    return found


def restore(source, database, media, passphrase=""):
    """Put a backup in place of database and media; what stood there is kept beside it.

    Returns the folder that holds what was there before, None if nothing was. Raises BackupError, and Busy while the
    workshop
    is served; then nothing has changed.
    """
    database, media = Path(database), Path(media)
    home = database.parent
    if not Path(source).is_file():
        raise BackupError(f"there is no file {source}")
    home.mkdir(parents=True, exist_ok=True)
    with alone(home, "being restored into"), tempfile.TemporaryDirectory(dir=home, prefix=_BESIDE) as folder:
        for left in home.glob(f"{_BESIDE}*"):
            if left != Path(folder):  # of a restore that was killed
                shutil.rmtree(left, ignore_errors=True)
        try:
            unpacked = Path(folder)
            read_backup(source, unpacked, passphrase)
            _settle(database)
            kept = home / f"before-restore-{datetime.now(UTC):%Y%m%d-%H%M%S-%f}"
            kept.mkdir(mode=0o700)
            try:
                _swap(unpacked, database, media, kept)
            except OSError:
                if not (kept / database.name).exists() or (kept / database.name).samefile(database):
                    shutil.rmtree(kept)  # the old workshop still stands: nothing is to be kept twice
                raise
        except OSError as error:
            raise BackupError(f"the backup cannot be put in place: {error}") from error
    if not any(kept.iterdir()):
        kept.rmdir()
        return None
    return kept


def _settle(database):
    """Fold the journal into a database that is about to be put aside. Raises BackupError if somebody has it open."""
    if not database.exists():
        return
    try:
        with closing(sqlite3.connect(f"{database.absolute().as_uri()}?mode=rw", uri=True, timeout=2)) as live:
            live.execute("PRAGMA journal_mode=DELETE")
    except sqlite3.OperationalError as error:
        if "locked" in str(error):
            raise BackupError(f"{database} is in use by another program: stop that first") from error
    except sqlite3.DatabaseError:
        pass  # too damaged to be opened: put aside as it is


def _swap(unpacked, database, media, kept):
    """Photos never change, so new ones come first; then one rename changes the workshop; then old ones go."""
    fresh = _files(unpacked / "media")
    old = _files(media)
    for name in old:
        _keep(media / name, kept / "media" / name)
    for name in fresh - old:
        (media / name).parent.mkdir(parents=True, exist_ok=True)
        (unpacked / "media" / name).replace(media / name)
    if database.exists():
        _keep(database, kept / database.name)
    for end in ("-wal", "-shm"):  # left only by a database that could not be opened
        journal = database.with_name(database.name + end)
        if journal.exists():
            journal.replace(kept / journal.name)
    on_disk(unpacked / DATABASE)
    (unpacked / DATABASE).replace(database)
    on_disk(database.parent)
    for name in fresh & old:
        (unpacked / "media" / name).replace(media / name)
    for name in old - fresh:
        (media / name).unlink()


def _files(folder):
    return {path.relative_to(folder) for path in folder.rglob("*") if path.is_file()} if folder.is_dir() else set()


def _keep(path, target):
    """The same file under a second name, or a copy where the file system has no such thing."""
    target.parent.mkdir(parents=True, exist_ok=True)
    try:
        target.hardlink_to(path)
    except OSError:
        shutil.copy2(path, target)
