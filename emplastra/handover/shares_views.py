"""What else shares the cause of a fault: faces that have something in common with the coat that it was found in."""

from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.care.shares import LOOKS, NAMES
from emplastra.jobs import registers
from emplastra.jobs.models import Watch, Zone
from emplastra.say.book import book_of
from emplastra.shared import asked, clock
from emplastra.shared.services import Refused
from emplastra.shared.views import one_tap
from emplastra.state.shares import coats_of, shared_with
from emplastra.work.views import zone_or_404


def shares(request, pk):
    """Faces that share something with a coat of this one (the last, where none is asked for)."""
    zone = zone_or_404(pk)
    book = book_of(request, zone)
    coats = coats_of(zone)
    wanted = asked.an_id(request.GET, "coat")
    entry = next((e for e in coats if e.pk == wanted), coats[0] if coats else None)
    found = shared_with(entry, zone, book.facts.workshop) if entry else []
    rows = [(face, [NAMES[key] for key in face.shared.ties], LOOKS[face.shared.ties[0]]) for face in found]
    context = {"zone": zone, "coats": coats, "entry": entry, "rows": rows, "why": request.GET.get("why", "")[:120]}
    return render(request, "handover/shares.html", context)


@require_POST
def ask_for_look(request, pk):
    """Put a look at a face that shares the cause on the list, for today."""
    zone = zone_or_404(pk)
    other = get_object_or_404(Zone.objects.in_use(), pk=asked.an_id(request.POST, "other"), job__removed=False)
    why = (request.POST.get("why", "").strip() or f"it shares something with {zone}")[:200]
    what = request.POST.get("what", "").strip()[:120] or "look at the film"
    url = f"{reverse('handover:shares', args=[pk])}?coat={asked.an_id(request.POST, 'coat')}"

    def carry_out():
        today = clock.now().astimezone(request.workshop.zone).date()
        if any(w.zone_id == other.pk and w.what == what and w.due == today for w in registers.watches()):
            raise Refused("that look is on the list already")
        registers.put_off(other, request.user, Watch.Kind.WATCHED, what, why, today)
        return url

    one_tap(
        request,
        "ask-for-look",
        {"other": other.pk, "what": what},
        carry_out,
        other,
        f"{other}: on the list of looks.",
        scope=f"{other.pk}",
    )
    return HttpResponseRedirect(url)
