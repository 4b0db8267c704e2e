"""Scales: told in Settings, tried on a page of their own, and asked what they show."""

from django.http import HttpResponseRedirect, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_POST

from emplastra.shared import asked
from emplastra.shared.views import OnceView

from . import reader, services, standin
from .forms import ScaleForm
from .models import Scale

FIELDS = ("name", "reads", "address", "baud", "pattern", "typed", "step_g", "in_use")


def scales(request):
    """Which scales there are."""
    return render(request, "scales/list.html", {"scales": Scale.objects.all()})


class Tell(OnceView):
    """A scale, new or told otherwise."""

    form_class = ScaleForm
    template = "scales/scale_form.html"
    action, button, done = "scale", "Save", "Saved."

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.scale = get_object_or_404(Scale, pk=kwargs["pk"]) if "pk" in kwargs else None
        self.heading = str(self.scale) if self.scale else "A scale"

    def initial(self):
        return {name: getattr(self.scale, name) for name in FIELDS} if self.scale else {"name": "Bench scale"}

    def context(self, form):
        return {"scale": self.scale}

    def carry_out(self, form):
        told = services.tell(self.request.user, self.scale, **{name: form.cleaned_data[name] for name in FIELDS})
        return reverse("scales:try", args=[told.pk])


tell = Tell.as_view()


def try_it(request, pk):
    """One scale: what it shows, its lines as they come, and where it is played, what is done at it."""
    scale = get_object_or_404(Scale, pk=pk)
    known = reader.now(scale)
    acts = [(key, words) for key, (words, _) in standin.acts_of(scale).items()]
    return render(request, "scales/try.html", {"scale": scale, "known": known, "acts": acts})


@never_cache
def now(request, pk):
    """What a scale shows at this moment, for a page that asks five times a second."""
    known = reader.now(get_object_or_404(Scale, pk=pk, in_use=True))
    sample = known.sample
    told = {"link": known.link, "id": known.name, "age": round(known.age_s, 2), "lines": known.lines[-6:]}
    return JsonResponse(told | ({"g": sample.grams, "step": sample.step_g} if sample else {}))


@never_cache
def readings(request, pk):
    """What a gauge has read since a sample of which the name is told; a first look gives none, only where it stands."""
    gauge = get_object_or_404(Scale, pk=pk, in_use=True, reads=Scale.Reads.FILM)
    after = request.GET.get("after")
    try:
        found = reader.reader_of(gauge)
    except reader.Elsewhere:
        return JsonResponse({"link": "none", "read": [], "at": ""})
    known = found.now()
    link = "lost" if known.link == "lost" else "linked"
    if not after:
        return JsonResponse({"link": link, "read": [], "at": f"{found.run_id}-{found.steady.number}"})
    read = found.since(after)
    return JsonResponse({"link": link, "read": [um for _, um in read], "at": read[-1][0] if read else after})


@require_POST
def play(request, pk):
    """Do something at a played scale: for practice, nothing is recorded."""
    scale = get_object_or_404(Scale, pk=pk, in_use=True)
    act = request.POST.get("act", "")
    if scale.is_stand_in and act in standin.acts_of(scale):
        grams = asked.a_figure(request.POST, "grams", 0.0, 100_000.0)
        standin.played(scale).act(act, grams or None)
    return HttpResponseRedirect(reverse("scales:try", args=[pk]))
