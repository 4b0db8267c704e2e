"""Settings, Backups: when the last one was made, one made now, those that lie there, what takes the disk."""

from datetime import UTC, datetime

from django.conf import settings
from django.http import FileResponse, Http404

from emplastra.accounts.own_views import OwnView
from emplastra.shared import backup, clock

from . import making
from .forms import BackupForm
from .sizes import sizes


class Keeping(OwnView):
    """Backups and sizes; a backup is begun here."""

    form_class = BackupForm
    template = "upkeep/keeping.html"
    action = "backup"
    heading = "Backups"
    button = "Make a backup"
    done = "Begun."

    def context(self, form):
        parts, free = sizes()
        last = backup.last_backup(settings.DATA_DIR)
        return {
            "last": last and clock.as_here(last),
            "is_old": backup.is_old(last, datetime.now(UTC)),
            "backups": making.backups(),
            "parts": parts,
            "whole": sum(part.size for part in parts),
            "free": free,
        }

    def carry_out(self, form):
        task = making.begin(self.request.user, form.cleaned_data["passphrase"])
        return task.get_absolute_url()


def fetch(request, name):
    """A backup, sent."""
    path = making.path_of(name)
    if path is None:
        raise Http404
    return FileResponse(path.open("rb"), as_attachment=True, filename=name)
