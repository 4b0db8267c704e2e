"""What must stand for the workshop to be served: its folder to itself, its database there, its records kept by
triggers.
"""

import errno
import fcntl
import json
import os
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path

from django.conf import settings
from django.core.management.base import CommandError
from django.db import Error, connection
from django.db.migrations.loader import MigrationLoader

import emplastra

from . import appendonly, backup
from .sqlite.base import DatabaseWrapper


class Busy(CommandError):
    """Another process has the data folder; the message names it."""


@contextmanager
def alone(folder, doing):
    """Have a data folder for oneself, to serve it or to put another database into it. Raises Busy.

    The kernel lets go of the lock when its process dies, however that was.
    """
    folder = Path(folder)
    with (folder / "in-use.lock").open("a+") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            raise Busy(f"{folder} is in use: {_holder(lock)}. Stop that first.") from None
        lock.truncate(0)
        lock.write(json.dumps({"pid": os.getpid(), "doing": doing}))
        lock.flush()
        yield


def _holder(lock):
    lock.seek(0)
    try:
        told = json.loads(lock.read())
        return f"{told['doing']} by process {told['pid']}"
    except (ValueError, KeyError, TypeError):
        return "by another process"


@contextmanager
def served():
    """The workshop's folder while it is served: ours alone, records protected, a lost database an error. Raises
    Busy.
    """
    with alone(settings.DATA_DIR, "being served"):
        DatabaseWrapper.must_exist = True
        connection.close()
        try:
            appendonly.make_triggers()
            yield
        finally:
            DatabaseWrapper.must_exist = False


def fault():
    """What keeps the workshop from recording, as a sentence; None if nothing does."""
    try:
        missing = appendonly.unprotected_tables()
    except Error as error:
        return f"The workshop’s database cannot be read ({error}). Nothing is recorded until it is back in its place."
    if missing:
        return (
            f"Nothing is recorded now: {len(missing)} tables of the record are not protected against change "
            f"(the first is {missing[0]}). Start Emplastra anew: it protects them as it starts."
        )
    return None


_AGAIN = "What you typed is kept here: send it again. What was recorded after all is not recorded twice."


def why(error):
    """What an error of the database or the disk comes to for whoever sent something, as a sentence; None for others."""
    is_of_database, said = isinstance(error, Error), str(error)
    no_room = isinstance(error, OSError) and error.errno in {errno.ENOSPC, errno.EDQUOT, errno.EFBIG}
    if no_room or (is_of_database and ("is full" in said or "disk I/O" in said)):
        return f"The disk of the workshop is full: this could not be recorded. {_AGAIN} {_ROOM}"
    if not is_of_database:
        return None
    if "locked" in said:
        return f"Others are writing without pause: this could not be recorded. {_AGAIN}"
    return fault()


_ROOM = "Make room first: Settings, Backups says what takes it; old backups may go once they lie elsewhere too."


def told():
    """How the workshop stands, for whoever watches it: version, schema, triggers, when it was last backed up."""
    applied = MigrationLoader(connection).applied_migrations
    ours = MigrationLoader(None).disk_migrations
    last = backup.last_backup(settings.DATA_DIR)
    return {
        "version": emplastra.__version__,
        "schema": {"migrations": len(applied), "missing": len(set(ours) - set(applied))},
        "triggers": {"wanted": 2 * len(appendonly.append_only_tables()), "missing_on": appendonly.unprotected_tables()},
        "last_backup": last and last.isoformat(timespec="seconds"),
        "last_backup_hours": last and round((datetime.now(UTC) - last).total_seconds() / 3600, 1),
    }
