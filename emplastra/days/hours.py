"""Who is at the bench when: usual hours, absences, hours besides, a place that is shut or warmed."""

from django import forms as plain
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.accounts import services as accounts
from emplastra.accounts.models import Role, User
from emplastra.climate.models import Place
from emplastra.core.errors import FieldError
from emplastra.core.schedule import shop_hours
from emplastra.core.surface.steps import RAISED
from emplastra.jobs import days as told
from emplastra.jobs.models import HoursTold, Lies, Zone
from emplastra.shared import clock
from emplastra.shared.fields import LocalTimeField, PlainNumber, WorkshopForm
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView, one_tap
from emplastra.state.days import hours_of_person


class HoursForm(WorkshopForm):
    """That somebody is away or in, or something shut or warmed."""

    kind = plain.ChoiceField(label="What", choices=HoursTold.Kind.choices)
    person = plain.ModelChoiceField(None, label="Who", required=False, empty_label="the whole shop")
    place = plain.ModelChoiceField(None, label="Place", required=False, empty_label="none named")
    begins = LocalTimeField(label="From", help_text="2026-05-14 07:00")
    ends = LocalTimeField(label="Until")
    kelvin = PlainNumber("K", label="Warmer by", min_value=0.5, max_value=20, required=False)
    note = plain.CharField(label="Note", max_length=120, required=False)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["person"].queryset = User.objects.filter(is_active=True).exclude(role=Role.VIEWER)
        self.fields["place"].queryset = Place.objects.all()


class Hours(OnceView):
    """Hours of people and places."""

    form_class, template, action = HoursForm, "days/hours.html", "day-hours"
    heading, button = "Hours of the shop", "Write it down"
    done = "Written down. Plan again, so that the days follow."

    def context(self, form):
        people = User.objects.filter(is_active=True).exclude(role=Role.VIEWER).order_by("pk")
        workshop = self.request.workshop
        rows = [(p, "never" if (h := hours_of_person(p, workshop)) is None else h.text, p.bench_hours) for p in people]
        zones = Zone.objects.in_use().filter(job__filing="open", job__removed=False).select_related("job")
        lies = told.lies_of(zones)
        faces = [(zone, lies.get(zone.pk, "")) for zone in zones]
        context = {"faces": faces, "ways": Lies.How.choices, "caution": RAISED}
        return context | {"people": rows, "told": told.hours_told(clock.now())}

    def carry_out(self, form):
        data = form.cleaned_data
        when, whose = (data["begins"], data["ends"]), (data["person"], data["place"])
        told.tell_hours(self.request.user, data["kind"], *when, *whose, data["kelvin"], data["note"])
        return reverse("days:hours")


@require_POST
def usual(request, pk):
    """The usual hours of somebody: told by themselves or an owner."""
    person, url = get_object_or_404(User, pk=pk, is_active=True), reverse("days:hours")
    typed = request.POST.get("bench_hours", "").strip()[:200]

    def carry_out():
        try:
            text = typed if typed == "none" else shop_hours.read(typed).text
        except FieldError as error:
            raise Refused(str(error)) from error
        accounts.tell_bench_hours(request.user, person, text)
        return url

    words = "Written down. Plan again, so that the days follow."
    one_tap(request, "usual-hours", {"who": pk, "typed": typed}, carry_out, person.username, words, scope=f"{pk}")
    return HttpResponseRedirect(url)


@require_POST
def lie(request, pk):
    """How a piece lies while a face of it is worked on."""
    zone, url = get_object_or_404(Zone, pk=pk, removed=False), reverse("days:hours")
    how = request.POST.get("how", "")

    def carry_out():
        told.tell_lie(request.user, zone, how)
        return url

    words = "Written down. Plan again, so that the days follow."
    one_tap(request, "lies", {"zone": pk, "how": how}, carry_out, zone.name, words, scope=f"{pk}")
    return HttpResponseRedirect(url)


@require_POST
def strike(request, pk):
    """Take back what was told of hours."""
    row, url = get_object_or_404(HoursTold, pk=pk), reverse("days:hours")

    def carry_out():
        told.strike_hours(request.user, row)
        return url

    one_tap(request, "strike-hours", {"row": pk}, carry_out, "Hours", "Taken back.", scope=f"{pk}")
    return HttpResponseRedirect(url)
