"""Append-only tables, kept so by the database itself."""

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


def make_triggers(using="default"):
    """Refuse UPDATE and DELETE (and so REPLACE, with recursive_triggers on) on each table that exists."""
    connection = connections[using]
    existing = set(connection.introspection.table_names())
    with connection.cursor() as cursor:
        for table in append_only_tables():
            if table not in existing:
                continue
            for verb in ("UPDATE", "DELETE"):
                cursor.execute(
                    f"CREATE TRIGGER IF NOT EXISTS append_only_{table}_{verb.lower()} BEFORE {verb} ON {table} "
                    f"BEGIN SELECT RAISE(ABORT, '{table} is append-only'); END"
                )


def drop_triggers(using="default"):
    """Take all append-only triggers away, before a migration or a test's flush."""
    with connections[using].cursor() as cursor:
        cursor.execute("SELECT name FROM sqlite_master WHERE type = 'trigger' AND name LIKE 'append_only_%'")
        for (name,) in cursor.fetchall():
            cursor.execute(f"DROP TRIGGER {name}")


def on_pre_migrate(using, **_):
    """Signal: a migration is about to run."""
    drop_triggers(using)


def on_post_migrate(using, **_):
    """Signal: a migration, or a flush, has run."""
    make_triggers(using)
