"""Put a backup in place."""

from pathlib import Path

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError
from django.db import connections

from emplastra.accounts.models import Happening
from emplastra.accounts.security import note
from emplastra.shared import sealing
from emplastra.shared.backup import BackupError
from emplastra.shared.passphrase import asked
from emplastra.shared.restoring import restore


class Command(BaseCommand):
    requires_system_checks = ()
    help = "Put the backup FILE in place of the workshop. Stop the server first; what was there is kept."

    def add_arguments(self, parser):
        parser.add_argument("file")

    def handle(self, *args, **options):
        source = Path(options["file"])
        connections.close_all()
        try:
            passphrase = asked() if source.is_file() and sealing.is_sealed(source) else ""
            kept = restore(source, settings.DATABASES["default"]["NAME"], settings.MEDIA_ROOT, passphrase)
        except (BackupError, OSError) as error:
            raise CommandError(str(error)) from error
        connections["default"].ensure_connection()
        note(Happening.RESTORED, words=f"from {source.name}", name="the terminal")
        self.stdout.write(f"Restored. What was there before is in {kept}." if kept else "Restored.")
        self.stdout.write("Nobody is signed in any more.")
