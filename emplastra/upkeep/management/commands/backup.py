"""Back up the workshop into one file."""

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from emplastra.accounts import leftovers
from emplastra.shared.backup import BackupError, folder_of_backups, nightly, note_backup, write_backup
from emplastra.shared.passphrase import asked, from_file


class Command(BaseCommand):
    requires_system_checks = ()
    help = (
        "Back up database and media into FILE (a zip with checksums). --nightly: into EMPLASTRA_BACKUPS "
        "(backups in the "
        "data folder if unset), keeping the newest of 7 days, 5 weeks and 12 months."
    )

    def add_arguments(self, parser):
        where = parser.add_mutually_exclusive_group(required=True)
        where.add_argument("file", nargs="?")
        where.add_argument("--nightly", action="store_true")
        parser.add_argument(
            "--sealed",
            action="store_true",
            help="seal FILE with a passphrase; nightly ones are sealed "
            "where EMPLASTRA_BACKUP_PASSPHRASE_FILE names one",
        )

    def handle(self, *args, **options):
        database, media = settings.DATABASES["default"]["NAME"], settings.MEDIA_ROOT
        gone = []
        try:
            if options["nightly"]:
                path, gone = nightly(database, media, folder_of_backups(), from_file())
                leftovers.clear()
            else:
                path = write_backup(database, media, options["file"], asked(True) if options["sealed"] else "")
        except (BackupError, OSError) as error:
            raise CommandError(f"no backup was made: {error}") from error
        note_backup(settings.DATA_DIR)
        self.stdout.write(f"Backed up to {path} ({path.stat().st_size // 1024} kB).")
        if gone:
            self.stdout.write(f"Let go: {', '.join(sorted(each.name for each in gone))}.")
