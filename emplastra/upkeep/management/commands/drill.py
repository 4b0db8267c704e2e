"""Prove a backup."""

from django.core.management.base import BaseCommand, CommandError

from emplastra.shared import sealing
from emplastra.shared.backup import BackupError
from emplastra.shared.passphrase import asked
from emplastra.upkeep.drill import drill


class Command(BaseCommand):
    requires_system_checks = ()
    help = (
        "Restore a backup (FILE, or one made now) beside the workshop and compare every folded state. "
        "Nothing of the workshop changes; it may be in use."
    )

    def add_arguments(self, parser):
        parser.add_argument("file", nargs="?")
        parser.add_argument("--sealed", action="store_true", help="seal the one that is made now")

    def handle(self, *args, **options):
        try:
            is_sealed = sealing.is_sealed(options["file"]) if options["file"] else options["sealed"]
            proof = drill(options["file"], asked() if is_sealed else "")
        except (BackupError, OSError) as error:
            raise CommandError(str(error)) from error
        for words in proof.differences:
            self.stderr.write(words)
        if proof.differences:
            raise CommandError(f"{len(proof.differences)} differences: this backup is not the workshop")
        self.stdout.write(
            f"Proven: {proof.faces} faces, {proof.tins} tins and {proof.rows} rows come out of the backup as they "
            f"stood on {proof.shows:%Y-%m-%d %H:%M:%S} UTC."
        )
