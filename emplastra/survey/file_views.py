"""The survey as a report, as JSON and CSV, and in again."""

import json

from django import forms as plain
from django.http import HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.utils.text import slugify

from emplastra.core.survey.file import SCHEMA, SurveyFileError, read, to_csv, to_json
from emplastra.core.survey.topics import STAGES
from emplastra.core.text import MAX_BYTES
from emplastra.jobs import registers, survey_files
from emplastra.jobs.models import Photo
from emplastra.say.book import book_of_job
from emplastra.shared import clock, tasks
from emplastra.shared.fields import WorkshopForm, file_input
from emplastra.shared.services import Refused
from emplastra.shared.task_views import KeepsFile
from emplastra.work.job_views import JobView, job_or_404

from . import selectors
from .map_svg import view_svg

LARGE_BYTES, MANY = 1_000_000, 400
"""A survey of more bytes takes longer than a second to read, of more statements longer than that to write down."""


def export(request, pk, kind):
    """The survey of a job as a file."""
    job = job_or_404(pk)
    told = survey_files.told_of(list(job.zones.in_use().order_by("id")))
    text = to_json(job.name, told) if kind == "json" else to_csv(told)
    answer = HttpResponse(text, content_type=f"{'application/json' if kind == 'json' else 'text/csv'}; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{slugify(job.name) or "job"}-survey.{kind}"'
    return answer


def schema(request):
    """The published JSON Schema of a survey."""
    return HttpResponse(json.dumps(SCHEMA, indent=1, ensure_ascii=False), content_type="application/schema+json")


class FileForm(WorkshopForm):
    file = plain.FileField(label="Survey, JSON or CSV", widget=file_input(MAX_BYTES, accept=".json,.csv"))


class TakeIn(KeepsFile, JobView):
    """Take in a survey from a file, or say every place that does not fit."""

    form_class = FileForm
    template = "survey/take_in.html"
    action, heading, button = "take in survey", "Survey from a file", "Take it in"

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.problems = []

    def context(self, form):
        return {"job": self.job, "problems": self.problems}

    def prepare(self, form):
        """What the file tells, checked; a long one is put where the process finds it that takes it in."""
        file, told = form.cleaned_data["file"], {}
        if file.size <= LARGE_BYTES:
            try:
                told = read(file.name, file.read(MAX_BYTES + 1), clock.now())
            except SurveyFileError as error:
                self.problems = error.problems
                raise Refused("nothing was taken in: see what does not fit", "file") from error
        if file.size > LARGE_BYTES or sum(map(len, told.values())) > MANY:
            self.kept = tasks.keep(file, "survey")
        return told

    def carry_out(self, form):
        user = self.request.user
        if self.kept:
            self.done, name = "Begun: it is taken in whole, or not at all.", form.cleaned_data["file"].name
            return survey_files.begin_take_in(user, self.job, self.hand_over(), name).get_absolute_url()
        self.done = survey_files.said_of(*survey_files.take_in(self.job, user, self.prepared))
        return reverse("survey:findings", args=[self.job.pk])


def report(request, pk):
    """All that is known of a job's metal, to read and to print."""
    job = job_or_404(pk)
    book = book_of_job(request, job)
    drawn = selectors.job_map(job, book)
    photos = {}
    for photo in Photo.objects.filter(zone__in=[m.zone for m in drawn.zones.values()]):
        photos.setdefault(photo.zone_id, []).append(photo)
    zones, found = [], selectors.surveys([m.zone for m in drawn.zones.values()], book.facts.zones)
    for each in drawn.zones.values():
        told = found[each.zone.pk].statements
        passes = [(name, [s for s in told if s.finding.stage == key]) for key, name in STAGES.items()]
        each.unasked = found[each.zone.pk].unasked
        zones.append((each, [(name, rows) for name, rows in passes if rows], photos.get(each.zone.pk, [])))
    context = {
        "job": job,
        "map": drawn,
        "zones": zones,
        "views": [view_svg(view, drawn.zones) for view in drawn.views],
        "off": [p for p, said in registers.parts_of(job) if not said & registers.OVER],
        "watches": [w for w in registers.watches() if w.zone.job_id == job.pk],
    }
    return render(request, "survey/report.html", context)
