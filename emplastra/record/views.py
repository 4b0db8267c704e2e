"""Record: a zone's or a job's history, as JSON, and where a batch went."""

from django.db.models import Prefetch
from django.http import HttpResponseRedirect, JsonResponse
from django.shortcuts import render
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from emplastra.jobs import judging
from emplastra.jobs.models import Job, Zone
from emplastra.logbook.models import Kind
from emplastra.say.book import book_of
from emplastra.shared import asked
from emplastra.shared.many import SHOWN, Narrow, Pages
from emplastra.shared.services import Refused
from emplastra.shared.views import one_tap
from emplastra.work.job_views import job_or_404
from emplastra.work.views import zone_or_404

from . import selectors


def home(request):
    """Jobs, to choose a record."""
    narrow = Narrow.read(request.GET)
    in_use = Zone.objects.filter(removed=False).order_by("pk")
    rows = Job.objects.filter(removed=False).prefetch_related(Prefetch("zones", in_use, "listed"))
    rows = rows.filter(narrow.where("name", "owner_label", "zones__name")).distinct()
    pages = Pages(rows, asked.a_count(request.GET, "page") or 1, size=SHOWN, whole=narrow.everything)
    return render(request, "record/home.html", {"pages": pages, "narrow": narrow})


def _record(request, job, zones, more):
    """A record as a page of it: what of it is asked, and its entries judged."""
    kind = request.GET.get("kind", "")
    narrow = Narrow.read(request.GET, "kind")
    number, entry = asked.a_count(request.GET, "page") or None, asked.an_id(request.GET, "entry")
    told = selectors.Asked(narrow, kind if kind in Kind.values else "", number, entry)
    pages, kinds = selectors.paged(zones, told)
    shown = None if pages.is_whole and not (narrow.only or told.kind) else list(pages.page)
    context = {"job": job, "records": selectors.records(zones, request.user, shown), "pages": pages, "narrow": narrow}
    context |= {"kinds": [(value, Kind(value).label) for value in kinds], "kind": told.kind}
    return render(request, "record/record.html", context | more)


def zone(request, pk):
    """A zone's history."""
    found = zone_or_404(pk)
    book_of(request, found)
    return _record(request, found.job, [found], {"zone": found})


@require_POST
def accept(request, pk, entry):
    """Accept what the rules say of a coat, with a reason: it holds while its facts do."""
    found, key, reason = zone_or_404(pk), request.POST.get("key", ""), request.POST.get("reason", "")
    url = f"{reverse('record:zone', args=[pk])}?entry={entry}#entry-{entry}"

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
    return _record(request, found, zones, {})


def job_json(request, pk):
    """The whole job as a JSON file."""
    found = job_or_404(pk)
    answer = JsonResponse(
        selectors.job_document(found, request.user), json_dumps_params={"indent": 2, "ensure_ascii": False}
    )
    answer["Content-Disposition"] = f'attachment; filename="{slugify(found.name) or "job"}.json"'
    return answer
