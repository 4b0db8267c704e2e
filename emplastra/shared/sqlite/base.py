"""The backend; Django looks for it under this name."""

import random
import sqlite3
import time
from pathlib import Path

from django.db.backends.sqlite3 import base

WAIT_S = 20.0
"""Whoever writes waits so long for the others [s]."""
_LEAST_S, _MOST_S = 0.001, 0.008


class DatabaseWrapper(base.DatabaseWrapper):
    """SQLite as Django has it. Once `must_exist` is set, a database that is gone is an error.

    To write, it asks again and again at short random distances. SQLite's own waiting grows to a tenth of a second, in
    which quicker ones pass it by: of eight that write without pause one in four hundred was still waiting after 20 s.
    """

    must_exist = False

    def get_connection_params(self):
        params = super().get_connection_params()
        if DatabaseWrapper.must_exist:
            params["database"] = f"{Path(params['database']).absolute().as_uri()}?mode=rw"
        return params

    def _start_transaction_under_autocommit(self):
        """Begin, which is when the write lock is taken: nothing is done yet, so it can be asked for again."""
        if self.transaction_mode != "IMMEDIATE":
            super()._start_transaction_under_autocommit()
            return
        until = time.monotonic() + WAIT_S
        with self.wrap_database_errors:
            self.connection.execute("PRAGMA busy_timeout=0")
            try:
                while not self._begun(until):
                    time.sleep(random.uniform(_LEAST_S, _MOST_S))
            finally:
                self.connection.execute(f"PRAGMA busy_timeout={int(WAIT_S * 1000)}")

    def _begun(self, until):
        try:
            self.connection.execute("BEGIN IMMEDIATE")
        except sqlite3.OperationalError as error:
            if "locked" not in str(error) or time.monotonic() > until:
                raise
            return False
        return True
