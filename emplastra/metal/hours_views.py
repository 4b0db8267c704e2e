"""Hours: plan against actual by kind of work, told by hand or counted from the log."""

from django import forms as plain
from django.contrib import messages
from django.http import HttpResponseRedirect
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.metal.repair import WORK
from emplastra.jobs import estimates
from emplastra.jobs.models import Job, WorkHours
from emplastra.say.book import book_of
from emplastra.shared.fields import PlainNumber, WorkshopForm
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView, one_tap

from .worked import finished


class HoursForm(WorkshopForm):
    """What a piece of work was planned at and took."""

    kind = plain.ChoiceField(label="Work", choices=list(WORK.items()))
    job = plain.ModelChoiceField(None, label="Job", required=False, empty_label="none named")
    plan_h = PlainNumber("h", label="Planned", min_value=0.01, max_value=5000)
    actual_h = PlainNumber("h", label="Took", min_value=0.01, max_value=5000)
    note = plain.CharField(label="Note", max_length=120, required=False)

    def __init__(self, *args, jobs, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["job"].queryset = jobs


class Hours(OnceView):
    """Plan against actual: this workshop's own overrun by kind of work."""

    form_class = HoursForm
    template = "metal/hours.html"
    action, heading, button = "hours", "Hours", "Write it down"
    done = "Written down: the overrun is worked out anew."

    def form_kwargs(self):
        return {"jobs": Job.objects.filter(removed=False)}

    def context(self, form):
        rows = [(WORK[k], f) for k, f in estimates.factors().items()]
        return {
            "rows": rows,
            "finished": finished(book_of(self.request).states()),
            "told": WorkHours.objects.select_related("job", "who").order_by("-id")[:40],
        }

    def carry_out(self, form):
        data = form.cleaned_data
        estimates.tell_hours(
            self.request.user, data["kind"], data["plan_h"], data["actual_h"], data["job"], None, data["note"]
        )
        return reverse("metal:hours")


@require_POST
def count(request, pk, kind):
    """Count work that the log shows to be finished on a zone, as the log tells it or as it is corrected here."""
    url = reverse("metal:hours")
    each = next((f for f in finished(book_of(request).states()) if f.zone.pk == pk and f.kind == kind), None)
    try:
        took = PlainNumber("h", min_value=0.01, max_value=5000).clean(request.POST.get("took", ""))
    except plain.ValidationError as error:
        messages.error(request, f"Took: {' '.join(error.messages)}")
        return HttpResponseRedirect(url)

    def carry_out():
        if each is None:
            raise Refused("it is counted already, or its entries have changed: look again")
        note = f"counted from the log: {each.log_h:.2f} h" + ("" if abs(took - each.log_h) < 0.006 else ", corrected")
        estimates.tell_hours(request.user, kind, each.plan_h, took, each.zone.job, each.zone, note)
        return url

    told = {"zone": pk, "kind": kind, "took": took}
    one_tap(
        request, "count", told, carry_out, "Hours", "Counted: the overrun is worked out anew.", scope=f"{pk}-{kind}"
    )
    return HttpResponseRedirect(url)
