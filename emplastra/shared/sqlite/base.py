"""The backend; Django looks for it under this name."""

from pathlib import Path

from django.db.backends.sqlite3 import base


class DatabaseWrapper(base.DatabaseWrapper):
    """SQLite as Django has it. Once `must_exist` is set, a database that is gone is an error."""

    must_exist = False

    def get_connection_params(self):
        params = super().get_connection_params()
        if DatabaseWrapper.must_exist:
            params["database"] = f"{Path(params['database']).absolute().as_uri()}?mode=rw"
        return params
