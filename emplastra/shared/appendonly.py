"""Append-only tables, kept so by the database itself."""

from functools import lru_cache

from django.apps import apps
from django.db import connections, models

from .clock import now


class AppendOnly(models.Model):
    """A fact: recorded once, never updated or deleted. Triggers refuse it."""

    recorded = models.DateTimeField(editable=False)

    class Meta:
        abstract = True

    def save(self, *args, **kwargs):
        if self.recorded is None:
            self.recorded = now()
        super().save(*args, **kwargs)


def append_only_models():
    """Every model that is append-only: the one list."""
    return [model for model in apps.get_models() if issubclass(model, AppendOnly)]


def append_only_tables():
    """Their tables, sorted."""
    return sorted(model._meta.db_table for model in append_only_models())


@lru_cache(maxsize=1)
def _wanted():
    """{trigger: (its table, its SQL)} for each append-only table; asked for by every sending, and always the same."""
    return {
        f"append_only_{table}_{verb.lower()}": (
            table,
            f"CREATE TRIGGER append_only_{table}_{verb.lower()} BEFORE {verb} ON {table} "
            f"BEGIN SELECT RAISE(ABORT, '{table} is append-only'); END",
        )
        for table in append_only_tables()
        for verb in ("UPDATE", "DELETE")
    }


def _there(cursor):
    """{trigger: its SQL} of our triggers in the database."""
    cursor.execute("SELECT name, sql FROM sqlite_master WHERE type = 'trigger' AND name LIKE 'append_only_%'")
    return dict(cursor.fetchall())


def make_triggers(using="default"):
    """Refuse UPDATE and DELETE (and so REPLACE, with recursive_triggers on) on each table that exists.

    A trigger of the right name with other words is made anew.
    """
    with connections[using].cursor() as cursor:
        existing, there = set(connections[using].introspection.table_names(cursor)), _there(cursor)
        for name, (table, sql) in _wanted().items():
            if table not in existing or there.get(name) == sql:
                continue
            if name in there:
                cursor.execute(f"DROP TRIGGER {name}")
            cursor.execute(sql)


def unprotected_tables(using="default"):
    """Append-only tables that lack one of their triggers, or that are not there at all."""
    with connections[using].cursor() as cursor:
        there = _there(cursor)
    return sorted({table for name, (table, sql) in _wanted().items() if there.get(name) != sql})


def drop_triggers(using="default"):
    """Take all append-only triggers away, before a migration or a test's flush."""
    with connections[using].cursor() as cursor:
        for name in _there(cursor):
            cursor.execute(f"DROP TRIGGER {name}")


def on_pre_migrate(using, **_):
    """Signal: a migration is about to run."""
    drop_triggers(using)


def on_post_migrate(using, **_):
    """Signal: a migration, or a flush, has run."""
    make_triggers(using)
