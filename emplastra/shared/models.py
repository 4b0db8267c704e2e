"""What every kind of fact shares: submissions, entries' base."""

from django.conf import settings
from django.db import models

from .appendonly import AppendOnly


class Submission(AppendOnly):
    """One sending of one form: the same token is answered, never carried out twice."""

    token = models.CharField(max_length=64, unique=True)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    action = models.CharField(max_length=60)
    payload_hash = models.CharField(max_length=64)
    result_url = models.CharField(max_length=300)

    def __str__(self):
        return f"{self.action} {self.token[:8]}"


class EntryBase(AppendOnly):
    """Something that happened: when by the teller (UTC), when recorded, who told it."""

    began = models.DateTimeField()
    ended = models.DateTimeField()
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    note = models.CharField(max_length=400, blank=True)

    class Meta:
        abstract = True
