"""Hand-over: the dossier as pages and as a PDF; the care page, for the workshop and by a private address."""

from django.contrib import messages
from django.http import Http404, HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_POST, require_safe

from emplastra.accounts.models import Workshop
from emplastra.jobs import handing
from emplastra.say.book import Book, book_of_job
from emplastra.shared import clock
from emplastra.shared.answers import pdf as answered
from emplastra.shared.codes import code_of
from emplastra.shared.services import Refused
from emplastra.shared.views import one_tap
from emplastra.survey.map_svg import view_svg
from emplastra.work.job_views import JobView, job_or_404

from . import making
from .care import care_calendar, care_of
from .dossier import dossier_of
from .forms import DossierForm
from .told import Told


class Dossier(JobView):
    """A job's dossier as pages; what of it is told, and its PDF."""

    form_class, template, action = DossierForm, "handover/dossier.html", "hand over"
    heading, button = "Dossier", "Make the PDF"
    done = "Written down; the PDF is being made."

    def initial(self):
        held = handing.handed_over(self.job)
        return {"parts": held.parts if held else list(handing.USUAL), "words": held.words if held else ""}

    def context(self, form):
        book = book_of_job(self.request, self.job)
        chosen = form.data.getlist("parts") if form.is_bound else None
        d = dossier_of(self.job, book, [key for key in chosen or () if key in handing.PARTS] or None)
        if form.is_bound:
            d.words = form.data.get("words", "")[: handing.MOST_WORDS]
        told = Told(book.facts.workshop)
        return {
            "job": self.job,
            "d": d,
            "told": told,
            "cover": told.cover(d),
            "maps": [view_svg(view, d.zones) for view in d.views],
            "has_pdf": making.path_of(self.job, "dossier").exists(),
            "held": handing.handed_over(self.job),
        }

    def carry_out(self, form):
        user, data = self.request.user, form.cleaned_data
        handing.hand_over(self.job, user, data["parts"], data["words"])
        return making.begin_dossier(user, self.job).get_absolute_url()


def pdf(request, pk):
    """The PDF of a dossier as it was made last."""
    job = job_or_404(pk)
    path = making.path_of(job, "dossier")
    if not path.exists():
        messages.error(request, "No PDF was made of it yet.")
        return HttpResponseRedirect(reverse("handover:dossier", args=[pk]))
    return answered(f"{slugify(job.name) or 'job'}-dossier", path.read_bytes())


def care(request, pk):
    """The care page as its owner sees it, and the private address that opens it."""
    job = job_or_404(pk)
    secret = request.session.pop(f"care-{pk}", "")
    address = reverse("handover:owner", args=[secret]) if secret else ""
    context = {
        "job": job,
        "care": care_of(job, book_of_job(request, job)),
        "told": Told(request.workshop),
        "link": handing.care_link(job),
        "address": request.build_absolute_uri(address) if address else "",
        "code": code_of(request, address) if address else "",
    }
    return render(request, "handover/care.html", context)


@require_POST
def make_link(request, pk):
    """Make a private address of a job's care page."""
    job = job_or_404(pk)

    def carry_out():
        request.session[f"care-{pk}"] = handing.make_care_link(job, request.user)
        return reverse("handover:care", args=[pk])

    one_tap(
        request, "care-link", {"job": pk}, carry_out, "Care page", "Made: print it or copy it now, it is shown once."
    )
    return HttpResponseRedirect(reverse("handover:care", args=[pk]))


@require_POST
def revoke(request, pk):
    """Close a job's care page to whoever has its address."""
    job = job_or_404(pk)

    def carry_out():
        if not handing.revoke_care(job, request.user):
            raise Refused("no address is open")
        return reverse("handover:care", args=[pk])

    one_tap(request, "revoke-care", {"job": pk}, carry_out, "Care page", "Revoked: it opens no more.")
    return HttpResponseRedirect(reverse("handover:care", args=[pk]))


def _private(answer):
    answer["Cache-Control"], answer["Referrer-Policy"] = "private, no-store", "no-referrer"
    answer["X-Robots-Tag"] = "noindex"
    return answer


def _opened(secret):
    """(job, its book, the workshop) that a private address opens. Raises Http404."""
    job = handing.job_of_care(secret)
    if job is None:
        raise Http404
    return job, Book(more=job.zones.in_use()), Workshop.current()


@require_safe
def owner(request, secret):
    """The care page for whoever has its private address: nothing can be changed from it."""
    job, book, workshop = _opened(secret)
    context = {"job": job, "care": care_of(job, book), "told": Told(workshop), "workshop": workshop, "secret": secret}
    return _private(render(request, "handover/owner.html", context | {"now": clock.now()}))


@require_safe
def looks(request, secret):
    """The next looks as a calendar, by the private address."""
    job, book, workshop = _opened(secret)
    answer = HttpResponse(care_calendar(care_of(job, book), workshop), content_type="text/calendar; charset=utf-8")
    return _private(answer)
