"""Put a backup in place."""

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError
from django.db import connections

from emplastra.shared.backup import BackupError
from emplastra.shared.restoring import restore


class Command(BaseCommand):
    help = "Put the backup FILE in place of the workshop. Stop the server first; what was there is kept."

    def add_arguments(self, parser):
        parser.add_argument("file")

    def handle(self, *args, **options):
        connections.close_all()
        try:
            kept = restore(options["file"], settings.DATABASES["default"]["NAME"], settings.MEDIA_ROOT)
        except BackupError as error:
            raise CommandError(str(error)) from error
        self.stdout.write(f"Restored. What was there before is in {kept}." if kept else "Restored.")
