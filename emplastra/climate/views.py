"""Air: what is logged where, importing and withdrawing."""

from datetime import timedelta

from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.log_file import LogError
from emplastra.shared import clock
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView

from . import selectors, services
from .chart import chart
from .forms import ImportForm
from .models import ImportBatch


def air(request):
    """Each place: its last days, its imports."""
    now = clock.now()
    start = now - timedelta(days=3)
    places = selectors.places_in_use()
    found = selectors.airs(places, start - timedelta(hours=2), now, request.workshop)
    rows = [(found[p.pk], chart(found[p.pk], start, now, request.workshop)) for p in places]
    batches = ImportBatch.objects.select_related("place", "who", "withdrawal")[:40]
    return render(request, "climate/air.html", {"rows": rows, "batches": batches})


class Import(OnceView):
    """Import a log whole, or say which lines are bad."""

    form_class = ImportForm
    template = "climate/import.html"
    action = "import log"
    heading = "Import a log"
    button = "Import"
    done = "Imported."

    def carry_out(self, form):
        file = form.cleaned_data["file"]
        try:
            batch = services.import_log(self.request.user, form.cleaned_data["place"], file.name, file.read())
        except LogError as error:
            self.problems = error.problems
            raise Refused(
                f"nothing was imported: {len(error.problems)} line{'s' if len(error.problems) > 1 else ''} cannot be read",
                "file",
            ) from error
        self.done = f"Imported {batch.rows} readings."
        return reverse("climate:air")

    def context(self, form):
        return {"problems": getattr(self, "problems", ())}


@require_POST
def withdraw(request, pk):
    """Stop using an import."""
    batch = get_object_or_404(ImportBatch, pk=pk)
    try:
        services.withdraw(request.user, batch, request.POST.get("reason", "")[:200])
        messages.success(request, f"{batch.filename}: withdrawn. Its readings are kept and no longer used.")
    except Refused as refusal:
        messages.error(request, str(refusal))
    return HttpResponseRedirect(reverse("climate:air"))
