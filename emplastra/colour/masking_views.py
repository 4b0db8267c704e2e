"""Masking: what is sprayed next, what is open to it, what covers it, and which masks are on."""

from django.shortcuts import render

from emplastra.say.book import book_of_job
from emplastra.say.tape import tape_of, tape_says
from emplastra.shared import asked
from emplastra.state.masking import masking_of
from emplastra.state.two_tone import two_tone_of
from emplastra.work.job_views import job_or_404

from .masking_drawn import drawn

MOST = 12
"""Faces that are drawn until all are asked for."""


def masking(request, pk):
    """A job's masking, stage by stage."""
    job = job_or_404(pk)
    book = book_of_job(request, job)
    found, zone = masking_of(book, job), asked.an_id(request.GET, "zone")
    most = len(found.sprayed) if request.GET.get("all") else MOST
    stages = list(_shown(found, zone, most))
    context = {
        "job": job,
        "masking": found,
        "stages": stages,
        "tones": two_tone_of(book, job),
        "hidden": max(0, sum(bool(one.beside) for one in found.sprayed) - most),
        "on": [(s, masks, _says(s, clock, book.facts)) for s, masks, clock in found.on],
    }
    return render(request, "colour/masking.html", context)


def _shown(found, zone, left):
    """(stage, its cover, [(Sprayed, drawn)] of those that something lies beside, the others), at most so many drawn;
    zone: the id of one that comes first.
    """
    for stage, cover, rows in found.stages:
        met = sorted((one for one in rows if one.beside), key=lambda one: one.zone.pk != zone)
        yield stage, cover, [(one, drawn(one)) for one in met[:left]], [one for one in rows if not one.beside]
        left = max(0, left - len(met))


def _says(state, clock, facts):
    """What is said of the tape on a zone now, in parts."""
    said, coated = tape_of(state)
    return tape_says(said or clock, coated, state.surface.t_s, facts)[2]
