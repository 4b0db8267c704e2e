"""Back up the workshop into one file."""

import os
from pathlib import Path

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from emplastra.shared.backup import BackupError, nightly, note_backup, write_backup


class Command(BaseCommand):
    help = (
        "Back up database and media into FILE (a zip with checksums). --nightly: into EMPLASTRA_BACKUPS "
        "(backups in the "
        "data folder if unset), keeping the newest of 7 days, 5 weeks and 12 months."
    )

    def add_arguments(self, parser):
        where = parser.add_mutually_exclusive_group(required=True)
        where.add_argument("file", nargs="?")
        where.add_argument("--nightly", action="store_true")

    def handle(self, *args, **options):
        database, media = settings.DATABASES["default"]["NAME"], settings.MEDIA_ROOT
        gone = []
        try:
            if options["nightly"]:
                folder = os.environ.get("EMPLASTRA_BACKUPS") or Path(settings.DATA_DIR) / "backups"
                path, gone = nightly(database, media, folder)
            else:
                path = write_backup(database, media, options["file"])
        except (BackupError, OSError) as error:
            raise CommandError(f"no backup was made: {error}") from error
        note_backup(settings.DATA_DIR)
        self.stdout.write(f"Backed up to {path} ({path.stat().st_size // 1024} kB).")
        if gone:
            self.stdout.write(f"Let go: {', '.join(sorted(each.name for each in gone))}.")
