"""The security log: who came in, who was refused, what was changed and taken out; never a password or a code."""

from contextlib import suppress
from datetime import timedelta

from django.db import DatabaseError

from emplastra.shared import clock

from .models import Happening, SecurityEvent

FLOOD = 300
"""So many wrong tries of an hour are written down one by one; what comes after them is not."""
_FLOODING = {Happening.WRONG, Happening.REFUSED, Happening.LOCKED}


def address_of(request):
    """Where a request comes from, "" where nobody says."""
    return (request.META.get("REMOTE_ADDR") or "")[:45] if request is not None else ""


def note(kind, request=None, who=None, about=None, words="", name=""):
    """Write down what happened; who: if not the one who asks; name: as it was typed, where it is nobody's."""
    if who is None and request is not None and request.user.is_authenticated:
        who = request.user
    if kind in _FLOODING and _is_flooded(kind):
        return
    SecurityEvent.objects.create(
        kind=kind,
        who=who,
        about=about,
        name=(name or str(who or ""))[:60],
        address=address_of(request),
        words=words[:200],
    )


def _is_flooded(kind):
    since = clock.now() - timedelta(hours=1)
    return SecurityEvent.objects.filter(kind=kind, recorded__gte=since)[FLOOD - 1 : FLOOD].exists()


def note_export(request, words):
    """Write down that something was taken out; where nothing can be written, that may be what saves it."""
    with suppress(DatabaseError):
        note(Happening.EXPORT, request, words=words)
