"""Parts taken off, work put off, things watched."""

from django import forms as plain
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.jobs import registers
from emplastra.jobs.models import PartOff, PartWord, Watch
from emplastra.say.book import book_of
from emplastra.shared.fields import WorkshopForm
from emplastra.shared.services import Refused
from emplastra.shared.views import one_tap
from emplastra.work.job_views import JobView

from .map_views import ZoneAct

DAY = plain.DateInput(attrs={"type": "date"})


class PartForm(WorkshopForm):
    """A part that was taken off."""

    item = plain.CharField(label="Part", max_length=80)
    zone = plain.ModelChoiceField(None, label="From", required=False, empty_label="the piece as a whole")
    fixings = plain.CharField(
        label="Fixings", max_length=120, required=False, help_text="6 of M6 x 20, two longer below"
    )
    shims = plain.CharField(
        label="Shims by place", max_length=300, required=False, help_text="front left 2 mm; rear 1/16 in"
    )
    broken = plain.CharField(label="Broken", max_length=120, required=False)
    to_buy = plain.CharField(label="To buy", max_length=120, required=False)
    kept_at = plain.CharField(label="Kept at", max_length=80, required=False)

    def __init__(self, *args, zones, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["zone"].queryset = zones


class Parts(JobView):
    """The register of what was taken off, and one more."""

    form_class = PartForm
    template = "survey/parts.html"
    action, heading, button = "take off", "Taken off", "Write it down"
    done = "Written down."

    def form_kwargs(self):
        return {"zones": self.job.zones.in_use()}

    def initial(self):
        return {"zone": self.request.GET.get("zone")}

    def context(self, form):
        rows = registers.parts_of(self.job)
        off = [(part, said) for part, said in rows if not said & registers.OVER]
        groups = {}
        for part, said in off:
            groups.setdefault(part.zone.name if part.zone else "The piece as a whole", []).append((part, said))
        return {
            "job": self.job,
            "groups": groups.items(),
            "off": off,
            "over": [r for r in rows if r[1] & registers.OVER],
            "to_buy": [p for p, said in off if p.to_buy and PartWord.Said.BOUGHT not in said],
            "Said": PartWord.Said,
        }

    def carry_out(self, form):
        data = {k: form.cleaned_data[k] for k in ("item", "zone", "fixings", "broken", "to_buy", "kept_at")}
        unit = "in" if self.request.workshop.units == "us" else "mm"
        registers.take_off(
            self.job, self.request.user, shims=registers.read_shims(form.cleaned_data["shims"], unit), **data
        )
        return reverse("survey:parts", args=[self.job.pk])


@require_POST
def part_word(request, pk):
    """What became of a part, by one tap."""
    part = get_object_or_404(PartOff, pk=pk, job__removed=False)
    said, url = request.POST.get("said", ""), reverse("survey:parts", args=[part.job_id])

    def carry_out():
        registers.say_of_part(part, request.user, said)
        return url

    words = f"{part.item}: {dict(PartWord.Said.choices).get(said, said).lower()}."
    one_tap(request, "part", {"part": pk, "said": said}, carry_out, part.item, words, scope=f"{pk}-{said}")
    return HttpResponseRedirect(url)


class PutOffForm(WorkshopForm):
    """Work put off, or a thing watched."""

    kind = plain.ChoiceField(label="It is", choices=Watch.Kind.choices)
    what = plain.CharField(label="What", max_length=120)
    why = plain.CharField(label="Why", max_length=200)
    holding = plain.CharField(label="Holding coat", max_length=80, required=False)
    expires = plain.DateField(label="Holds until", required=False, widget=DAY)
    next_look = plain.DateField(label="Next look", widget=DAY)


class PutOff(ZoneAct):
    form_class = PutOffForm
    action, heading, button = "put off", "Put off, or watch", "Put it off"
    done = "Put off: it comes back on the Bench when it is due."
    explain = (
        "What is not done now gets a reason, a coat that holds meanwhile, and a day on which somebody looks again."
    )

    def initial(self):
        revision = self.zone.revisions.first()
        return {"kind": "watched" if revision and revision.end_state == "watched" else "put-off"}

    def carry_out(self, form):
        data = form.cleaned_data
        today = book_of(self.request, self.zone).facts.today
        if data["next_look"] < today:
            raise Refused("must not lie in the past", "next_look")
        names = ("kind", "what", "why", "holding", "expires", "next_look")
        registers.put_off(self.zone, self.request.user, **{k: data[k] for k in names})
        return reverse("survey:put-offs")


class LookForm(WorkshopForm):
    """A look at what was put off."""

    found = plain.CharField(label="What do you see?", max_length=200)
    next_look = plain.DateField(
        label="Next look", required=False, widget=DAY, help_text="Blank: it is over, done or given up."
    )
    expires = plain.DateField(label="A new holding coat holds until", required=False, widget=DAY)


class Look(ZoneAct):
    form_class = LookForm
    template = "survey/look.html"
    action, heading, button = "look", "Look again", "Write it down"
    done = "Written down."

    def setup(self, request, *args, **kwargs):
        self.watch = get_object_or_404(Watch, pk=kwargs["pk"])
        super().setup(request, *args, pk=self.watch.zone_id)

    def context(self, form):
        return super().context(form) | {"watch": self.watch, "looks": self.watch.looks.order_by("id")}

    def carry_out(self, form):
        data = form.cleaned_data
        registers.look_at(self.watch, self.request.user, data["found"], data["next_look"], data["expires"])
        return reverse("survey:put-offs")


def put_offs(request):
    """All that was put off or is watched, the first due on top."""
    return render(
        request, "survey/put_offs.html", {"watches": registers.watches(), "today": book_of(request).facts.today}
    )
