"""Migrate, with a backup first if there is anything to lose."""

from datetime import UTC, datetime
from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from emplastra.shared import appendonly
from emplastra.shared.backup import write_backup
from emplastra.shared.standing import alone


class Command(BaseCommand):
    requires_system_checks = ()
    help = "Back up, then migrate; with nothing to migrate, see that the record is protected."

    def handle(self, *args, **options):
        database, folder = Path(settings.DATABASES["default"]["NAME"]), Path(settings.DATA_DIR)
        database.parent.mkdir(parents=True, exist_ok=True)
        if not database.exists() and any((folder / "backups").glob("*.zip")):
            raise CommandError(
                f"{database} is gone, though there are backups. Put one back by script/restore; "
                f"to begin afresh, move {folder / 'backups'} away."
            )
        executor = MigrationExecutor(connection)
        if not executor.migration_plan(executor.loader.graph.leaf_nodes()):
            appendonly.make_triggers()  # a migration that was killed may have left none
            return
        with alone(folder, "being migrated"):
            self._migrate(database, folder / "backups", bool(executor.loader.applied_migrations))

    def _migrate(self, database, backups, is_used):
        if is_used:
            backups.mkdir(exist_ok=True)
            path = write_backup(
                database, settings.MEDIA_ROOT, backups / f"before-migrate-{datetime.now(UTC):%Y%m%d-%H%M%S}.zip"
            )
            self.stdout.write(f"Backed up to {path} before migrating.")
        call_command("migrate", verbosity=0)
