"""Do one task's work, in a process of its own; the server begins it, not a person."""

import json
from datetime import datetime

from django.core.management.base import BaseCommand
from django.db import connections
from django.utils.module_loading import import_string

from emplastra.shared import clock, tasks
from emplastra.shared.models import Task
from emplastra.shared.services import Refused


class Command(BaseCommand):
    help = "Do one task's work (begun by the server)."
    requires_system_checks = ()

    def add_arguments(self, parser):
        parser.add_argument("function", help="its dotted name")
        parser.add_argument("task", type=int)
        parser.add_argument("--database", required=True, help="the server's own")
        parser.add_argument("--now", help="the server's hour, where its clock is not the world's")

    def handle(self, *args, **options):
        connections["default"].settings_dict["NAME"] = options["database"]
        if options["now"]:
            clock.freeze(datetime.fromisoformat(options["now"]))
        task = Task.objects.select_related("user").get(pk=options["task"])
        try:
            import_string(options["function"])(task, lambda done, words: self._tell(done=done, words=words))
        except (Refused, tasks.Failed) as error:
            self._tell(error=f"cannot be taken: {error}", problems=getattr(error, "problems", []))

    def _tell(self, **said):
        self.stdout.write(json.dumps(said))
        self.stdout.flush()
