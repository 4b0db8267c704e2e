"""Make the demo if it is not there, set its clock and serve it."""

from pathlib import Path

from django.conf import settings
from django.core.management.base import BaseCommand
from django.db.models import Max

from emplastra.accounts.management.commands.serve import serve
from emplastra.accounts.models import User
from emplastra.demo import workshop
from emplastra.logbook.models import Entry
from emplastra.shared import clock


class Command(BaseCommand):
    help = "Load the demo workshop if there is none, and serve it on 127.0.0.1."

    def add_arguments(self, parser):
        parser.add_argument("--port", type=int, default=8000)
        parser.add_argument("--load-only", action="store_true")

    def handle(self, *args, **options):
        if not User.objects.exists():
            self.stdout.write("Loading the demo workshop ...")
            workshop.load()
            clock.freeze(None)
        latest = Entry.objects.aggregate(latest=Max("recorded"))["latest"]
        clock.run_from(Path(settings.DATA_DIR) / "clock.json", workshop.START, latest)
        if options["load_only"]:
            return
        self.stdout.write("Sign in as owner, bench or viewer; password: " + workshop.PASSWORD)
        self.stdout.write(
            f"Demo time: {clock.now().astimezone(workshop.ZONE):%A %d %B %Y %H:%M}. script/demo --reset starts over."
        )
        serve("127.0.0.1", options["port"], self.stdout)
