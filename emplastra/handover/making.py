"""A dossier's PDF as the work of a child process; its file is kept until there is a newer one."""

import hashlib
from pathlib import Path

from django.conf import settings
from django.urls import reverse

from emplastra.jobs.models import Job
from emplastra.say.book import Book
from emplastra.shared import tasks
from emplastra.shared.files import write_whole
from emplastra.shared.services import writes

from .dossier import dossier_of

KIND = "dossier"


@writes
def begin(user, job):
    """Begin to make the PDF of a job; its task."""
    about = {"doing": "Making the dossier", "file": str(job), "back": reverse("handover:dossier", args=[job.pk])}
    return tasks.work(user, KIND, make, about | {"job": job.pk, "to": str(path_of(job))})


def make(task, say):
    """Work: the PDF of a job, put where `file_of` finds it."""
    from .pdf import dossier_pdf  # its library is loaded here alone

    job = Job.objects.get(pk=task.about["job"])
    book = Book(more=job.zones.in_use())
    data = dossier_pdf(dossier_of(job, book, say=say), say)
    path = Path(task.about["to"])
    path.parent.mkdir(parents=True, exist_ok=True)
    write_whole(path, data)
    with tasks.landing(task) as landed:
        landed |= {
            "words": f"Made: {data.count(b'/Type /Page') - data.count(b'/Type /Pages')} pages.",
            "url": reverse("handover:pdf", args=[job.pk]),
            "go": "Open the PDF",
        }


def path_of(job):
    """Where the PDF of a job lies."""
    name = hashlib.sha256(f"dossier of {job.pk}".encode()).hexdigest()[:12]
    return Path(settings.DATA_DIR) / "dossiers" / f"{job.pk}-{name}.pdf"
