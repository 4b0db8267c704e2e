"""Trail: where a batch went, what lies over it, and what is done once it is bad; as a page, a table and a document."""

from django.http import HttpResponseRedirect, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.buying.trail import Lies
from emplastra.jobs.models import Zone
from emplastra.say.tins import amount, poured
from emplastra.shared import asked
from emplastra.shared.answers import table
from emplastra.shared.times import from_epoch
from emplastra.shared.views import one_tap
from emplastra.state.trail import back_from, trail_of
from emplastra.store import services
from emplastra.store.models import Recall, Tin

from .trail_drawn import drawing

SHOWN, POTS = 24, 12
"""Faces and pots listed at first."""
WHERE = {Lies.TOP: "on top", Lies.UNDER: "under other film", Lies.GONE: "gone"}


def _tin(pk):
    return get_object_or_404(Tin.objects.select_related("product"), pk=pk)


def trail(request, pk):
    """Where the batch of a tin went, and the way back from one face."""
    most, most_pots = (10**6, 10**6) if request.GET.get("all") else (SHOWN, POTS)
    found, workshop = trail_of(_tin(pk), request.workshop, most_pots), request.workshop
    faces = found.faces[:most]
    lies = found.lies
    zones = {each.zone.pk: each.zone for each in found.faces}
    zone = zones.get(asked.an_id(request.GET, "face")) or next(iter(zones.values()), None)
    context = {
        "trail": found,
        "tin": found.tin,
        "count": len(lies),
        "under": found.under,
        "left": amount(found.left, found.unit, workshop.units),
        "drawn": drawing(found, workshop.units),
        "faces": [(face, WHERE[face.stack.where]) for face in faces],
        "pots": [(pot, poured(pot.poured, found.unit, workshop.units)) for pot in found.pots[:most_pots]],
        "tins": [(view, amount(view.left.amount, view.unit, workshop.units)) for view in found.tins],
        "more": len(found.faces) - len(faces),
        "more_pots": len(found.pots) - most_pots,
        "face": zone,
        "back": back_from(zone) if zone else (),
        "open": found.open,
    }
    return render(request, "tins/trail.html", context)


@require_POST
def recall(request, pk):
    """The batch of a tin is bad."""
    tin, url = _tin(pk), reverse("tins:trail", args=[pk])

    def carry_out():
        services.recall(tin, request.user, request.POST.get("why", ""))
        return url

    one_tap(request, "recall", {"tin": pk}, carry_out, f"Batch {tin.batch}", "Recalled: nothing is poured from it.")
    return HttpResponseRedirect(url)


def _recall(pk):
    """(a recall, the page of its batch)."""
    found = get_object_or_404(Recall, pk=pk)
    tin = Tin.objects.filter(product=found.product_id, part=found.part, batch=found.batch).first()
    return found, reverse("tins:trail", args=[tin.pk])


@require_POST
def lift(request, pk):
    """A recall holds no more."""
    found, url = _recall(pk)

    def carry_out():
        services.lift(found, request.user, request.POST.get("why", ""))
        return url

    one_tap(request, "lift recall", {"recall": pk}, carry_out, f"Batch {found.batch}", "Lifted.")
    return HttpResponseRedirect(url)


@require_POST
def deal(request, pk, zone):
    """What was done about a recalled batch on one face."""
    found, url = _recall(pk)
    face = get_object_or_404(Zone, pk=zone)

    def carry_out():
        services.deal(found, face, request.user, request.POST.get("what", ""))
        return url

    told = {"recall": pk, "zone": zone}
    one_tap(request, "recall dealt with", told, carry_out, face, "Written down.", scope=str(zone))
    return HttpResponseRedirect(url)


COLUMNS = [
    "batch",
    "product",
    "part",
    "tin",
    "poured",
    "unit",
    "pot",
    "mixed",
    "wrong",
    "zone",
    "job",
    "lies",
    "film_um",
    "over",
    "since",
]


def export_csv(request, pk):
    """The trail as a table: one line for each face that a pot went on."""
    found = trail_of(_tin(pk), request.workshop, whole=10**6)
    return table(f"trail-{found.tin.code}", COLUMNS, _rows(found, request.workshop.zone))


def _rows(found, zone):
    """Its lines as cells."""
    faces = {face.zone.pk: face for face in found.faces}
    about = (found.tin.batch, found.tin.product.name, found.part_name)
    for pot in found.pots:
        mixed = (f"P{pot.pk}", f"{pot.entry.began.astimezone(zone):%Y-%m-%d %H:%M}", "; ".join(pot.wrong))
        for view, much in pot.poured:
            poured = (view.tin.code, f"{much:.6g}", found.unit)
            for row in [_line(faces[each.pk], zone) for each in pot.faces] or [("",) * 6]:
                yield (*about, *poured, *mixed, *row)
    for face in found.faces:
        if not face.pots:
            yield (*about, *("",) * 6, *_line(face, zone))


def _line(face, zone):
    """A face as cells: zone, job, where it lies, film, what is over it, since when."""
    films = [layer.film_um for layer in face.stack.lies if layer.of_batch and layer.film_um is not None]
    over = "; ".join(layer.product for layer in face.stack.over)
    since = f"{from_epoch(face.stack.since_s).astimezone(zone):%Y-%m-%d %H:%M}" if face.stack.since_s else ""
    film = f"{sum(films):.4g}" if films else ""
    return (face.zone.name, face.zone.job.name, WHERE[face.stack.where], film, over, since)


def export_json(request, pk):
    """The trail as a document."""
    found = trail_of(_tin(pk), request.workshop, whole=10**6)
    layer = lambda one: {name: getattr(one, name) for name in ("product", "film_um", "of_batch", "t_s")}  # noqa: E731
    return JsonResponse(
        {
            "format": "emplastra-trail/1",
            "batch": found.tin.batch,
            "product": found.tin.product.name,
            "part": found.part_name,
            "unit": found.unit,
            "recall": found.recall and found.recall.why,
            "tins": [{"code": view.tin.code, "left": view.left.amount, "unit": view.unit} for view in found.tins],
            "pots": [
                {
                    "code": f"P{pot.pk}",
                    "poured": [{"tin": view.tin.code, "amount": much} for view, much in pot.poured],
                    "zones": [zone.pk for zone in pot.faces],
                    "wrong": pot.wrong,
                }
                for pot in found.pots
            ],
            "faces": [
                {
                    "zone": face.zone.pk,
                    "name": face.zone.name,
                    "job": face.zone.job.name,
                    "lies": WHERE[face.stack.where],
                    "layers": [layer(one) for one in face.stack.lies],
                    "stripped": [layer(one) for one in face.stack.gone],
                    "done": face.done and face.done.what,
                }
                for face in found.faces
            ],
        }
    )
