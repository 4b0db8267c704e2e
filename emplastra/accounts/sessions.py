"""Where somebody is signed in: rows that name person and device, and end when it was still for too long."""

from datetime import timedelta

from django.contrib.sessions.backends.db import SessionStore as InDatabase
from django.db import DatabaseError
from django.utils import timezone

LONGEST = timedelta(days=30)
"""However busy, a device is signed out after this long."""
_OFTENEST = timedelta(minutes=5)
"""When a device was last seen is written down this often at most."""


class SessionStore(InDatabase):
    """Django's own, with a row that knows whose it is. `told` is set at the sign-in: (address, device)."""

    row = None
    told = ("", "")

    @classmethod
    def get_model_class(cls):
        from .models import Session

        return Session

    def _get_session_from_db(self):
        self.row = super()._get_session_from_db()
        return self.row

    def create_model_instance(self, data):
        """The row as it is to be written: who, since when, and until when."""
        made, now, was = super().create_model_instance(data), timezone.now(), self.row
        made.user_id = data.get("_auth_user_id")
        if was is not None and was.session_key == made.session_key and was.user_id == _number(made.user_id):
            made.begun, made.idle_min, made.address, made.device = was.begun, was.idle_min, was.address, was.device
        else:
            made.begun, made.idle_min, (made.address, made.device) = now, self._idle_min(), self.told
        made.seen = now
        made.expire_date = ends(made)
        return made

    def _idle_min(self):
        from .models import Workshop

        return Workshop.current().idle_min

    def touch(self):
        """Write down, now and then, that the device is in use; it is no harm where that cannot be written."""
        was, now = self.row, timezone.now()
        if was is None or now - was.seen < min(_OFTENEST, timedelta(minutes=was.idle_min) / 10):
            return
        was.seen = now
        try:
            self.model.objects.filter(pk=was.pk).update(seen=now, expire_date=ends(was))
        except DatabaseError:
            return


def _number(value):
    return None if value is None else int(value)


def ends(row):
    """When a session ends: still for too long, or at the latest after `LONGEST`."""
    return min(row.seen + timedelta(minutes=row.idle_min), row.begun + LONGEST)


def device_of(agent):
    """What a browser says it runs on."""
    if "Tablet" in agent or "iPad" in agent:
        return "a tablet"
    return "a phone" if "Mobi" in agent else "a computer" if agent else "something that does not say what it is"
