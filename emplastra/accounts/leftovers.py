"""What nobody needs any more: devices that were signed out by the clock, addresses that are over, ended works."""

from datetime import timedelta

from axes.models import AccessAttempt
from django.contrib.sessions.models import Session as Earlier
from django.db import DatabaseError
from django.utils import timezone

from emplastra.shared.models import Task

from .models import NewPassword, Session

KEPT = timedelta(days=30)
"""Ended works and addresses for a password are kept so long, for whoever looks back."""


def clear():
    """Let go of them; how many rows went. Asked at each start of the server and every night; it waits for nobody."""
    now = timezone.now()
    gone = 0
    for rows in (
        Session.objects.filter(expire_date__lt=now),
        Earlier.objects.all(),  # of a time before devices were listed: they open nothing any more
        NewPassword.objects.filter(until__lt=now - KEPT),
        AccessAttempt.objects.filter(attempt_time__lt=now - timedelta(days=1)),
        Task.objects.filter(begun__lt=now - KEPT).exclude(state=Task.State.RUNNING),
    ):
        try:
            gone += rows.delete()[0]
        except DatabaseError:
            return gone
    return gone
