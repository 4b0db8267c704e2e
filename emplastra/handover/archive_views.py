"""A job's archive: made, fetched, and taken in."""

import json

from django import forms as plain
from django.contrib import messages
from django.http import FileResponse, HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from emplastra.accounts.models import Happening
from emplastra.accounts.security import note
from emplastra.shared import tasks
from emplastra.shared.fields import WorkshopForm, file_input
from emplastra.shared.services import Refused
from emplastra.shared.task_views import KeepsFile
from emplastra.shared.views import OnceView, one_tap
from emplastra.work.job_views import job_or_404

from . import making
from .archive_schema import schema as schema_of
from .carried import FORMAT, STAYS

MOST = 200_000_000
"""The longest archive that is sent [bytes]."""


def archive(request, pk):
    """What an archive of the job holds, and the last one that was made."""
    job = job_or_404(pk)
    path = making.path_of(job, "archive")
    context = {"job": job, "made": path.stat().st_mtime if path.exists() else None, "format": FORMAT}
    context |= {"stays": sorted(set(STAYS.values())), "brought": getattr(job, "brought", None)}
    return render(request, "handover/archive.html", context)


@require_POST
def make(request, pk):
    """Begin to make the archive of a job."""
    job = job_or_404(pk)

    def carry_out():
        return making.begin_archive(request.user, job).get_absolute_url()

    url = one_tap(request, "archive", {"job": pk}, carry_out, "Archive", "Begun.", scope=f"{pk}")
    return HttpResponseRedirect(url or reverse("handover:archive", args=[pk]))


def fetch(request, pk):
    """The archive as it was made last."""
    job = job_or_404(pk)
    path = making.path_of(job, "archive")
    if not path.exists():
        messages.error(request, "No archive was made of it yet.")
        return HttpResponseRedirect(reverse("handover:archive", args=[pk]))
    name = f"{slugify(job.name) or 'job'}.zip"
    return FileResponse(path.open("rb"), as_attachment=True, filename=name, content_type="application/zip")


def schema(request):
    """The published JSON Schema of an archive."""
    text = json.dumps(schema_of(), indent=1, ensure_ascii=False)
    return HttpResponse(text, content_type="application/schema+json")


class BringForm(WorkshopForm):
    """An archive that is sent."""

    file = plain.FileField(label="Archive of a job", widget=file_input(MOST, accept=".zip"))

    def clean_file(self):
        file = self.cleaned_data["file"]
        if file.size > MOST:
            raise plain.ValidationError(f"has {file.size / 1e6:.0f} MB: at most {MOST // 1_000_000} MB")
        return file


class Bring(KeepsFile, OnceView):
    """Take a job in from an archive: whole, or not at all."""

    form_class, template, action = BringForm, "handover/bring.html", "bring"
    heading, button = "A job from an archive", "Take it in"
    done = "Begun: it is taken in whole, or not at all."
    max_body = MOST + 500_000

    def prepare(self, form):
        file = form.cleaned_data["file"]
        if file.read(4) != b"PK\x03\x04":
            raise Refused("is no archive of a job: send its .zip as it was made", "file")
        file.seek(0)
        self.kept = tasks.keep(file, "zip")

    def carry_out(self, form):
        name = form.cleaned_data["file"].name
        note(Happening.TAKEN_IN, self.request, words=f"a job from the archive {name}")
        return making.begin_taking_in(self.request.user, self.hand_over(), name).get_absolute_url()
