"""What every kind of fact shares: submissions, entries' base."""

from django.conf import settings
from django.db import models
from django.urls import reverse

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


class Task(models.Model):
    """Work of a child process: how far it is, what it gave. Its row is a note, not a fact of the workshop."""

    class State(models.TextChoices):
        RUNNING = "running", "Running"
        DONE = "done", "Done"
        FAILED = "failed", "Failed"
        CANCELLED = "cancelled", "Stopped"

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    kind = models.CharField(max_length=20)
    state = models.CharField(max_length=10, choices=State.choices, default=State.RUNNING)
    boot = models.CharField(max_length=16)
    done = models.FloatField(default=0.0)
    words = models.CharField(max_length=200, blank=True)
    about = models.JSONField(default=dict)
    result = models.JSONField(null=True)
    begun = models.DateTimeField(auto_now_add=True)

    def __str__(self):
        return f"{self.kind} {self.pk}: {self.state}"

    def get_absolute_url(self):
        return reverse(self.about.get("view", "shared:task"), args=[self.pk])


class EntryBase(AppendOnly):
    """Something that happened: when by the teller (UTC), when recorded, who told it."""

    began = models.DateTimeField()
    ended = models.DateTimeField()
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    note = models.CharField(max_length=400, blank=True)

    class Meta:
        abstract = True
