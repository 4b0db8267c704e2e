"""Back up the workshop into one file."""

from django.conf import settings
from django.core.management.base import BaseCommand

from emplastra.shared.backup import write_backup


class Command(BaseCommand):
    help = "Back up database and media into FILE (a zip with checksums)."

    def add_arguments(self, parser):
        parser.add_argument("file")

    def handle(self, *args, **options):
        path = write_backup(settings.DATABASES["default"]["NAME"], settings.MEDIA_ROOT, options["file"])
        self.stdout.write(f"Backed up to {path} ({path.stat().st_size // 1024} kB).")
