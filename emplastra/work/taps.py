"""Acts by one tap: what a form would show at first is recorded, where nothing grave speaks against it."""

from dataclasses import dataclass
from datetime import timedelta
from urllib.parse import urlencode

from django.contrib import messages
from django.http import Http404, HttpResponseRedirect, JsonResponse, QueryDict
from django.urls import reverse
from django.views.decorators.http import require_POST
from django_htmx.http import HttpResponseClientRedirect

from emplastra.jobs.models import Zone
from emplastra.logbook import services
from emplastra.logbook.models import KINDS, Entry, Kind
from emplastra.logbook.running import works_begun
from emplastra.say.book import book_of
from emplastra.say.taps import GRAVE
from emplastra.shared import asked, clock
from emplastra.shared.models import Submission
from emplastra.shared.services import AlreadyRecorded, Refused, payload_hash
from emplastra.shared.views import once_from_page

from .coat_views import LogCoat
from .log_views import LogView, tapped_at

TWICE = timedelta(seconds=3)
"""The same act by the same hand so soon after is a double tap."""


class LookFirst(Exception):
    """It is not recorded by a tap: something grave speaks against it, or a field has nothing yet."""


class _Tapped:
    """A form that nobody typed into, as an act."""

    prepared = None

    def __init__(self, sent, seen, now, **kwargs):
        """sent: what the tap tells (QueryDict); seen: number of the newest entry on its page; now: hour of the tap."""
        super().__init__(**kwargs)
        self.sent, self.seen, self.tapped = sent, seen, now

    @property
    def asked(self):
        return self.sent

    def _start(self):
        return super()._start() | {"seen": self.seen}

    def first(self):
        """The form as it would be sent untouched, its hours to the second. Raises LookFirst where it wants more."""
        strangers = set(self.sent.getlist("also")) - {zone.pk for zone in self.others}
        if strangers:
            named = ", ".join(zone.name for zone in Zone.objects.filter(pk__in=strangers))
            raise Refused(f"{named} cannot be logged together with {self.zone}: tap it on its own")
        form = self.as_first_typed(self.make_form())
        if not form.is_valid():
            name, errors = next(iter(form.errors.items()))
            label = form.fields[name].label if name in form.fields else ""
            raise LookFirst(f"{label}: {errors[0]}" if label else errors[0])
        form.cleaned_data |= {"ended": self.tapped, "began": self.begun.began if self.begun else self.tapped}
        return form

    def look(self, form):
        """Raise LookFirst where the one judge has something grave to say, of any of its zones."""
        ruled = [(self.zone, self.ruled(form)), *self.ruled_elsewhere(form)]
        for zone, each in ruled:
            if each is not None and each.word in GRAVE:
                where = "" if zone.pk == self.zone.pk else f"{zone}: "
                raise LookFirst(f"{where}{each.open[0].sentence}")


class AtOnce(_Tapped, LogView):
    """What the form of a kind would show at first, as an act."""


class CoatAtOnce(_Tapped, LogCoat):
    """What the form of a coat would show at first, as an act."""


def _view(request, kind, zone, told, now):
    """The act of a kind on a zone."""
    seen = asked.whole(request.POST.get("seen"))
    view = (CoatAtOnce if kind == Kind.COAT else AtOnce)(told, seen, now, request=request)
    view.kind = KINDS[kind]
    view.setup(request, pk=zone)
    return view


def entry_of(url):
    """Number of the entry to which the address of what was recorded leads."""
    return asked.whole(url.rstrip("/").split("/")[-2])


class Tap:
    """One tap: what it does, on which zones, and when."""

    def __init__(self, request):
        self.request, self.told = request, QueryDict(request.POST.get("act", ""), mutable=True)
        self.do, self.begun = self.told.get("do", ""), self._begun()
        self.entry = Entry.objects.filter(pk=asked.an_id(self.told, "entry")).first() if self.do == "undo" else None
        named = self.begun or self.entry
        rows = list(named.places_on.all()) if named else ()
        zones = [row.zone_id for row in rows] or [asked.an_id(self.told, "zone")]
        if zones == [None]:
            zones = [asked.whole(pk, 1) for pk in request.POST.getlist("zone")]
        self.zones = list(dict.fromkeys(pk for pk in zones if pk))
        self.kind = self._kind()
        if rows and rows[0].step:
            self.told["step"] = rows[0].step
        self.told.setlist("also", self.zones[1:])
        self.now = tapped_at(request.POST.get("tapped"), clock.now())

    def _begun(self):
        pk = asked.an_id(self.told, "begun")
        return next((work for work in works_begun() if work.pk == pk), None) if pk else None

    def _kind(self):
        """The kind of entry that it comes to."""
        if self.do in {"stop", "drop"}:
            return self.begun.begun.what if self.begun else ""
        if self.do == "undo":
            return self.entry.kind if self.entry else ""
        return self.told.get("what", "") if self.do == "start" else self.do

    @property
    def is_whole(self):
        """True if it tells something that can be done."""
        if self.do == "mix":
            return bool(self.zones)
        kind = KINDS.get(self.kind)
        return bool(self.zones) and kind is not None and (kind.form is not None or self.do == "undo")

    @property
    def address(self):
        """The page on which it is looked at and logged."""
        given = {k: v for k, v in self.told.items() if k not in {"do", "zone", "what", "also"}}
        given |= {"at": int(self.now.timestamp())} if self.do != "start" else {}
        if self.do == "mix":
            return reverse("work:mix", args=[self.zones[0]]) + f"?{urlencode([('also', pk) for pk in self.zones[1:]])}"
        query = urlencode([*given.items(), *(("also", pk) for pk in self.zones[1:])])
        return reverse("work:log", args=[self.zones[0], self.kind]) + (f"?{query}" if query else "")

    def view(self):
        """The act that it comes to."""
        return _view(self.request, self.kind, self.zones[0], self.told, self.now)

    def carry_out(self):
        """Do it; the address of what was recorded. Raises LookFirst, Refused."""
        if self.do == "mix":
            raise LookFirst("")
        act = {"start": self._start, "drop": self._drop, "undo": self._undo}.get(self.do, self._record)
        return act()

    def _record(self):
        view = self.view()
        if not KINDS[self.kind].at_once:
            raise LookFirst("")
        form = view.first()
        view.look(form)
        return view.carry_out(form)

    def once_more(self, told):
        """Do it, but for a double tap: where the same was tapped just now and still holds, the address of that."""
        since = clock.now() - TWICE
        just_now = Submission.objects.filter(user=self.request.user, action="tap", recorded__gt=since)
        twin = just_now.filter(payload_hash=payload_hash(told)).order_by("-pk").first()
        holds = twin and Entry.objects.known_at().filter(pk=entry_of(twin.result_url)).exists()
        return twin.result_url if holds else self.carry_out()

    def _start(self):
        if not KINDS[self.kind].lasts:
            raise LookFirst("")
        if any(work.begun.what == self.kind and self._is_mine(work) for work in works_begun()):
            raise Refused("it runs already: stop it first")
        view = self.view()
        form = self._as_typed(view)
        if form is not None and not self.told.get("anyway"):
            view.look(form)
        steps = {self.zones[0]: self.told.get("step", "")}
        if form is not None:
            steps = {zone.pk: step for zone, _, step in view.zones_told(form)}
        told = tuple((z, 1.0, steps.get(z.pk, "")) for z in Zone.objects.in_use().filter(pk__in=self.zones))
        entry = services.log(
            self.request.user, services.Told(Kind.BEGUN, self.now, self.now, told, {"what": self.kind})
        )
        return reverse("work:done", args=[entry.pk])

    def _is_mine(self, work):
        return {row.zone_id for row in work.places_on.all()} & set(self.zones)

    def _as_typed(self, view):
        """What would be logged if it ended now, None where a field has nothing yet."""
        try:
            return view.first()
        except LookFirst:
            return None

    def _drop(self):
        services.void(self.request.user, self.begun, "nothing came of it")
        return reverse("record:zone", args=[self.zones[0]])

    def _undo(self):
        services.undo(self.request.user, self.entry)
        return reverse("record:zone", args=[self.zones[0]])

    def words(self, url):
        """(what is said of it, tags that offer Undo and a change) where it led to an address."""
        book = book_of(self.request)
        names = ", ".join(str(book.facts.zones[pk].zone) if pk in book.facts.zones else str(pk) for pk in self.zones)
        label = KINDS[self.kind].label
        at = self.now.astimezone(self.request.workshop.zone)
        if self.do == "undo":
            return f"{names}: {label.lower()}, undone.", ""
        if self.do == "drop":
            return f"{label}: the watch is off, nothing was recorded.", ""
        entry = entry_of(url)
        if self.do == "start":
            return f"{names}: {label.lower()} begun at {at:%H:%M}.", f"undo:{entry}"
        return f"{names}: {label.lower()}, {at:%H:%M}.", f"undo:{entry} change:{self.kind}"


@dataclass(frozen=True)
class Outcome:
    """What became of a tap: a level of Django's messages, what is said, tags that offer more, the page that it wants
    ("": it stays where it was tapped).
    """

    level: int
    said: str
    tags: str = ""
    look: str = ""


def _outcome(request, one):
    """Carry a tap out once, and what became of it."""
    told = {"act": one.told.urlencode(), "zones": one.zones}
    try:
        scope = f"{request.POST.get('act')}-{one.zones}"
        url = once_from_page(request, "tap", scope, told, lambda: one.once_more(told))
    except AlreadyRecorded:
        return Outcome(messages.ERROR, "Something else was written down from here already; look at it again.")
    except LookFirst as why:
        return _look_first(one, str(why).rstrip("."))
    except Refused as refusal:
        return Outcome(messages.ERROR, f"{KINDS[one.kind].label}: {refusal}.")
    return Outcome(messages.SUCCESS, *one.words(url))


def _look_first(one, why):
    """What is said where it is not recorded by a tap, and where it is looked at."""
    if one.do == "start" and why:
        again = urlencode({**one.told.dict(), "anyway": 1, "zone": one.zones[0]})
        return Outcome(
            messages.WARNING, f"Not begun. {why}.", f"again:{again}", reverse("work:now", args=[one.zones[0]])
        )
    said = f"Not recorded yet. {why}. Look at it, then log it here." if why else ""
    return Outcome(messages.WARNING, said, "", one.address)


@require_POST
def act(request):
    """Carry out an act by one tap, on one zone or on those that are ticked, and come back to where it was tapped."""
    one = Tap(request)
    if one.do in {"stop", "drop"} and one.begun is None:
        found = Outcome(messages.ERROR, "It was stopped already, or nothing came of it: look at the record.")
    elif not one.zones:
        found = Outcome(messages.ERROR, "Tick the zones first that it is to be recorded on.")
    elif not one.is_whole:
        raise Http404
    else:
        found = _outcome(request, one)
    if request.headers.get("X-Outbox"):  # sent late: the page shows what became of each
        done = found.level == messages.SUCCESS
        return JsonResponse({"done": done, "said": found.said or "Wants its form.", "look": found.look})
    if found.said:
        messages.add_message(request, found.level, found.said, extra_tags=found.tags)
    if not found.look:
        return HttpResponseRedirect(back(request))
    return HttpResponseClientRedirect(found.look) if request.htmx else HttpResponseRedirect(found.look)


def back(request):
    """Where it was tapped: a zone's page, or Bench."""
    pk = asked.an_id(request.POST, "back")
    return reverse("work:now", args=[pk]) if pk else reverse("bench:home")
