"""A dossier's PDF and a job's archive as the work of a child process; a job taken in from one.

The file of a job is kept until there is a newer one.
"""

import hashlib
import io
from pathlib import Path

from django.conf import settings
from django.urls import reverse

from emplastra.jobs.models import Job
from emplastra.say.book import Book
from emplastra.shared import tasks
from emplastra.shared.files import write_whole
from emplastra.shared.services import owners_only, writes

from . import unpacking
from .dossier import dossier_of
from .packing import pack

FILES = {"dossier": "pdf", "archive": "zip"}
"""What is made of a job -> how its file ends."""


@writes
def begin_dossier(user, job):
    """Begin to make the PDF of a job; its task."""
    return _begin(user, job, "dossier", make_dossier, "Making the dossier")


@owners_only
def begin_archive(user, job):
    """Begin to make the archive of a job; its task."""
    return _begin(user, job, "archive", make_archive, "Making the archive")


def _begin(user, job, kind, function, doing):
    about = {"doing": doing, "file": str(job), "back": reverse(f"handover:{kind}", args=[job.pk])}
    return tasks.work(user, kind, function, about | {"job": job.pk, "to": str(path_of(job, kind))})


@owners_only
def begin_taking_in(user, path, name):
    """Begin to take a job in from the archive at a path, sent under a name; its task."""
    about = {"doing": "Taking in", "file": name, "back": reverse("handover:bring")}
    return tasks.work(user, "bring", bring, about, path)


def make_dossier(task, say):
    """Work: the PDF of a job, put where its page finds it."""
    from .pdf import dossier_pdf  # its library is loaded here alone

    job, book = _job_of(task)
    data = dossier_pdf(dossier_of(job, book, say=say), say)
    pages = data.count(b"/Type /Page") - data.count(b"/Type /Pages")
    _keep(task, job, "dossier", data, f"Made: {pages} pages.", "Open the PDF")


def make_archive(task, say):
    """Work: the archive of a job, put where its page finds it."""
    job, book = _job_of(task)
    out = io.BytesIO()
    rows, pictures = pack(job, book, out, say)
    _keep(task, job, "archive", out.getvalue(), f"Made: {rows} rows, {pictures} photos.", "Fetch the archive")


def _job_of(task):
    job = Job.objects.get(pk=task.about["job"])
    return job, Book(more=job.zones.in_use())


def _keep(task, job, kind, data, words, go):
    """Keep a file that was made, and say so."""
    path = Path(task.about["to"])
    path.parent.mkdir(parents=True, exist_ok=True)
    write_whole(path, data)
    with tasks.landing(task) as landed:
        landed |= {"words": words, "url": reverse(f"handover:{FILES[kind]}", args=[job.pk]), "go": go}


def bring(task, say):
    """Work: a job taken in from its archive, whole or not at all."""
    path = Path(task.about["path"])
    say(0.05, "looking at it")
    told, archive = unpacking.look(path)
    with archive, tasks.landing(task) as landed:
        digest = hashlib.sha256(path.read_bytes()).hexdigest()
        job, taken, missing = unpacking.take_in(told, archive, task.user, digest, say)
        landed |= {"words": said_of(job, taken, missing), "url": job.get_absolute_url(), "go": "To the job"}


def said_of(job, taken, missing):
    """What came of taking a job in."""
    faces = job.zones.in_use().count()
    said = [f"Taken in from {taken.here}: {job}, {faces} face{'s' if faces != 1 else ''}, {taken.count} rows."]
    for what, names in taken.renamed.items():
        pairs = ", ".join(f"{old} is {new}" for old, new in sorted(names.items()))
        said.append(f"Named anew, for the name was taken ({what}): {pairs}.")
    if missing:
        said.append(f"{missing} photo{'s' if missing > 1 else ''} were not in it.")
    for name, there, here in taken.settings():
        said.append(
            f"Its workshop had {name.replace('_', ' ')} {there}, this one {here}: what rests on that may differ."
        )
    return " ".join(said)


def path_of(job, kind):
    """Where a file that was made of a job lies."""
    name = hashlib.sha256(f"{kind} of {job.pk}".encode()).hexdigest()[:12]
    return Path(settings.DATA_DIR) / "made" / f"{job.pk}-{name}.{FILES[kind]}"
