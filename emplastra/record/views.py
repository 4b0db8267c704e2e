"""Record: a zone's or a job's history, as JSON, and where a batch went."""

from django.http import HttpResponseRedirect, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from emplastra.jobs import judging
from emplastra.jobs.models import Job
from emplastra.say.book import book_of
from emplastra.shared.services import Refused
from emplastra.shared.views import one_tap
from emplastra.store.models import Tin
from emplastra.work.job_views import job_or_404
from emplastra.work.views import zone_or_404

from . import selectors


def home(request):
    """Jobs, to choose a record."""
    jobs = Job.objects.filter(removed=False).prefetch_related("zones")
    return render(request, "record/home.html", {"jobs": jobs})


def zone(request, pk):
    """A zone's history."""
    found = zone_or_404(pk)
    book_of(request, found)
    return render(
        request,
        "record/record.html",
        {"zone": found, "job": found.job, "records": selectors.records([found], request.user)},
    )


@require_POST
def accept(request, pk, entry):
    """Accept what the rules say of a coat, with a reason: it holds while its facts do."""
    found, key, reason = zone_or_404(pk), request.POST.get("key", ""), request.POST.get("reason", "")
    url = f"{reverse('record:zone', args=[pk])}#entry-{entry}"

    def carry_out():
        lines = [line for line in selectors.records([found])[0].lines if line.entry.pk == entry and line.ruled]
        if not lines:
            raise Refused("its facts have changed: look again")
        judging.accept(found, request.user, lines[0].ruled.ruling, key, reason)
        return url

    told = {"entry": entry, "key": key, "reason": reason}
    one_tap(request, "accept", told, carry_out, found, "Accepted: it comes back when its facts change.", scope=key)
    return HttpResponseRedirect(url)


def job(request, pk):
    """The history of all zones of a job."""
    found = job_or_404(pk)
    zones = list(found.zones.filter(removed=False).select_related("job", "origin"))
    return render(request, "record/record.html", {"job": found, "records": selectors.records(zones, request.user)})


def job_json(request, pk):
    """The whole job as a JSON file."""
    found = job_or_404(pk)
    answer = JsonResponse(
        selectors.job_document(found, request.user), json_dumps_params={"indent": 2, "ensure_ascii": False}
    )
    answer["Content-Disposition"] = f'attachment; filename="{slugify(found.name) or "job"}.json"'
    return answer


def batch(request, pk):
    """Where a batch went."""
    tin = get_object_or_404(Tin.objects.select_related("product"), pk=pk)
    return render(request, "record/batch.html", {"tin": tin, "rows": selectors.zones_of_batch(tin)})
