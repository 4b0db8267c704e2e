"""Colour of a job: its groups, what each is painted with, its card, its mid-coats, what a lamp showed."""

from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.jobs import colours
from emplastra.jobs.models import ColourCard, Finding
from emplastra.say.book import book_of_job
from emplastra.shared import asked
from emplastra.shared.links import Go
from emplastra.shared.services import Refused, new_token
from emplastra.shared.views import OnceView, one_tap
from emplastra.state.colour import groups_of, ungrouped
from emplastra.state.selectors import plan_at
from emplastra.state.undertone import of_store, shades
from emplastra.work.job_views import job_or_404

from .card_drawn import drawn
from .colour_says import lead_of, ways_out
from .forms import CardForm, ColourForm, GroupForm


def address_of(job, group):
    """Where a group is shown."""
    return Go("colour:colour", (job.pk,), (("group", group),)).address


def colour(request, pk):
    """The colour groups of a job, one in view."""
    job = job_or_404(pk)
    book = book_of_job(request, job)
    groups = groups_of(book, job)
    here = in_view(request, groups)
    context = {"job": job, "groups": groups, "g": here, "small": "colour", "token": new_token()}
    context["loose"] = ungrouped(book, job, groups)
    if here is not None:
        context |= {
            "small": (here.told.name if here.told else "") or here.name,
            "lead": lead_of(here),
            "card": drawn(here),
            "ways": ways_out(here),
            "shades": shades(here) if here.is_translucent else None,
            "undertone": of_store(here, request.workshop),
            "finds": [(f, done, _spot_of(book, f)) for f, done in here.seen],
        }
    return render(request, "colour/colour.html", context)


def in_view(request, groups, name=""):
    """The group that is asked for by its name or one of its faces, else the first; None without one."""
    zone, wanted = asked.an_id(request.GET, "zone"), name or request.GET.get("group", "")
    for group in groups:
        if group.name == wanted or zone in {row.zone.pk for row in group.rows}:
            return group
    return next(iter(groups), None)


def _spot_of(book, finding):
    """The spot that was made for what a lamp showed, None without one."""
    name = colours.spot_name(finding)
    return next((each.zone for each in book.facts.zones.values() if each.zone.name == name), None)


class OfJob(OnceView):
    """A form on the colour of a job."""

    template = "colour/form.html"

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.job = job_or_404(kwargs["pk"])
        self.group = request.GET.get("group", "")[:40]

    def context(self, form):
        book_of_job(self.request, self.job)
        return {"job": self.job, "group": self.group}


class TellColour(OfJob):
    """What a group is painted with."""

    form_class, action, heading = ColourForm, "tell colour", "What it is painted with"

    def initial(self):
        row = colours.colours_of([self.job.pk]).get(self.job.pk, {}).get(self.group)
        if row is None:
            return {"limit": 1.0}
        return {name: getattr(row, name) for name in ColourForm.base_fields if name != "token"}

    def carry_out(self, form):
        told = {name: form.cleaned_data[name] for name in form.fields if name != "token"}
        was = self.initial()
        if told["mids"] != was.get("mids"):
            told["card"] = None  # told by eye, whatever a card says
        colours.tell_colour(self.job, self.request.user, self.group, **told)
        if told["mids"] and told["mids"] != was.get("mids"):
            _plan_mids(self.request, self.job, self.group, told["mids"])
        return address_of(self.job, self.group)


class AddCard(OfJob):
    """A spray-out card of a group."""

    form_class, action, heading = CardForm, "colour card", "Spray-out card"

    def initial(self):
        book = book_of_job(self.request, self.job)
        group = next((g for g in groups_of(book, self.job) if g.name == self.group), None)
        ground = next((row.ground_sheet for row in group.rows if row.ground_sheet), None) if group else None
        found = {"made": book.facts.today, "over": ground.product if ground else ""}
        return found | ({"coat_um": group.coat_um} if group and group.coat_um else {})

    def carry_out(self, form):
        data = form.cleaned_data
        colours.add_card(
            self.job, self.request.user, self.group, data["text"], data["made"], data["coat_um"], data["over"]
        )
        return address_of(self.job, self.group)


class MakeGroup(OfJob):
    """Faces that must match."""

    form_class, action, heading, template = GroupForm, "colour group", "Faces that must match", "colour/group.html"

    def form_kwargs(self):
        return {"zones": list(self.job.zones.in_use().filter(parent=None).order_by("id"))}

    def initial(self):
        chosen = colours.zones_in(self.job, self.group) if self.group else ()
        return {"group": self.group} | {f"zone_{zone.pk}": True for zone in chosen}

    def carry_out(self, form):
        group = form.cleaned_data["group"].strip()
        user, wanted = self.request.user, set(form.cleaned_data["zones"])
        out = [zone for zone in colours.zones_in(self.job, group) if zone.parent_id is None and zone not in wanted]
        colours.put_in_group(out, user, "")
        colours.put_in_group(form.cleaned_data["zones"], user, group)
        return address_of(self.job, group)


@require_POST
def choose(request, pk):
    """The number of mid-coats of a group, from a patch of its card; the same in the plan of every face."""
    job = job_or_404(pk)
    group, mids = request.POST.get("group", ""), asked.whole(request.POST.get("mids", ""))
    card = ColourCard.objects.filter(pk=asked.an_id(request.POST, "card") or 0, job=job, group=group).first()
    book_of_job(request, job)

    def carry_out():
        if mids is None:
            raise Refused("say how many mid-coats")
        colours.choose(job, request.user, group, mids, card)
        _plan_mids(request, job, group, mids)
        return address_of(job, group)

    told = {"group": group, "mids": mids, "card": card.pk if card else 0}
    one_tap(request, "choose mid-coats", told, carry_out, group, f"{mids} mid-coats chosen, and planned on each face.")
    return HttpResponseRedirect(address_of(job, group))


def _plan_mids(request, job, group, mids):
    """As many mid-coats in the plan of every face of a group on which they are not all on."""
    facts = book_of_job(request, job).facts
    t_s = facts.now.timestamp()
    done = {pk: plan_at(each, t_s).done_ids for pk, each in facts.zones.items()}
    colours.plan_mids(job, request.user, group, mids, done)


@require_POST
def mend(request, pk):
    """A spot for what a lamp showed, with the steps that bring it back."""
    job = job_or_404(pk)
    finding = get_object_or_404(
        Finding.objects.select_related("zone"), pk=asked.an_id(request.POST, "finding"), zone__job=job
    )
    book = book_of_job(request, job)
    rows = [r for g in groups_of(book, job) for r in g.rows if r.zone.pk == finding.zone_id]

    def carry_out():
        ground = next((row.ground_step for row in rows if row.ground_step is not None), None)
        if ground is None:
            raise Refused("its plan has no ground coat: put one in first")
        return colours.mend_spot(finding, request.user, ground, _coats_again(rows[0], ground)).get_absolute_url()

    told, done = {"finding": finding.pk}, "A spot of its own, with its steps."
    url = one_tap(request, "mend spot", told, carry_out, finding.zone.name, done, scope=str(finding.pk))
    return HttpResponseRedirect(url or reverse("colour:colour", args=[job.pk]))


def _coats_again(row, ground):
    """Ground coats that bring a spot back which was sanded through to what lies under it."""
    return row.hidden.full_coats if row.hidden is not None and row.hidden.full_coats else ground.coats


@require_POST
def ground_again(request, pk):
    """Ground coats and the chosen mid-coats once more in the plan of a face that has too many."""
    job = job_or_404(pk)
    book, zone = book_of_job(request, job), asked.an_id(request.POST, "zone")
    group, row = next(((g, r) for g in groups_of(book, job) for r in g.over if r.zone.pk == zone), (None, None))
    if row is None:
        messages.error(request, "It has not too many mid-coats any more: look again.")
        return HttpResponseRedirect(reverse("colour:colour", args=[job.pk]))

    done = row.state.plan.done_ids

    def carry_out():
        colours.plan_again(row.zone, request.user, group.ground_again, group.chosen, done)
        return address_of(job, group.name)

    words = "Planned: ground again, then the chosen mid-coats."
    one_tap(request, "ground again", {"zone": zone}, carry_out, row.zone.name, words, scope=str(zone))
    return HttpResponseRedirect(address_of(job, group.name))
