"""Migrate, with a backup first if there is anything to lose."""

from datetime import UTC, datetime
from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from emplastra.shared.backup import write_backup


class Command(BaseCommand):
    help = "Back up, then migrate; nothing if there is nothing to migrate."

    def handle(self, *args, **options):
        database = Path(settings.DATABASES["default"]["NAME"])
        database.parent.mkdir(parents=True, exist_ok=True)
        executor = MigrationExecutor(connection)
        if not executor.migration_plan(executor.loader.graph.leaf_nodes()):
            return
        if executor.loader.applied_migrations:
            folder = Path(settings.DATA_DIR) / "backups"
            folder.mkdir(exist_ok=True)
            path = write_backup(
                database, settings.MEDIA_ROOT, folder / f"before-migrate-{datetime.now(UTC):%Y%m%d-%H%M%S}.zip"
            )
            self.stdout.write(f"Backed up to {path} before migrating.")
        call_command("migrate", verbosity=0)
