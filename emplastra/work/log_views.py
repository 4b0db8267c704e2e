"""Logging and correcting what happened; what each kind asks and keeps is in `logbook.kinds`."""

from datetime import timedelta
from functools import cached_property

from django.db.models import Q
from django.http import Http404
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST
from django_htmx.http import trigger_client_event

from emplastra.core.rules.cautions import owed
from emplastra.core.rules.face import Act, Tense
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.steps import DEFER, STEPS
from emplastra.jobs import copies, judging
from emplastra.jobs.models import Zone
from emplastra.logbook import services
from emplastra.logbook.kind import About
from emplastra.logbook.models import KINDS, Entry, Kind
from emplastra.logbook.running import works_begun
from emplastra.materials.selectors import sheet_of
from emplastra.say.book import book_of
from emplastra.say.taps import checks_of
from emplastra.shared import asked, clock
from emplastra.shared.services import Refused, new_token
from emplastra.shared.times import from_epoch
from emplastra.shared.views import OnceView
from emplastra.state.acts import event_act, in_air
from emplastra.state.selectors import plan_at


def zone_or_404(pk):
    """A zone that has not been removed, with its job."""
    return get_object_or_404(Zone.objects.select_related("job"), pk=pk, removed=False, job__removed=False)


NEW = 10**9
"""The number of an entry that is not one yet: after all there are."""
JUST_LOGGED = timedelta(minutes=2)
"""Whoever logs the same again so soon, from a form that was opened before, is asked."""
JUST_S = 60.0
"""What ended so long ago at most was done just now [s]: a form's hours are told to the minute."""


FAR_BACK_S = 12 * 3600.0
"""How far a tap's own hour may lie back [s]: what waited for the connection counts from its tap."""


def tapped_at(told, now):
    """The moment of a tap by what it tells [epoch s], now where that cannot be."""
    told_s = asked.whole(told)
    if told_s is None or not 0 <= now.timestamp() - told_s <= FAR_BACK_S:
        return now
    return from_epoch(told_s)


def _column(details, column):
    """What a column of a kind's row would hold, from its details."""
    name, _, rest = column.partition("__")
    if rest:
        return getattr(details.get(name), rest, None)
    if name.endswith("_id"):
        return getattr(details.get(name[:-3]), "pk", None)
    return details.get(name)


class ZoneView(OnceView):
    """A form on a zone, which knows the zone's state and the version of its plan."""

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        self.zone = zone_or_404(kwargs["pk"])

    @property
    def state(self):
        """The zone's state."""
        return book_of(self.request, self.zone).state(self.zone)

    @property
    def plan_number(self):
        """Number of the plan's version, 0 without a plan."""
        plan = self.state.facts.build_up
        return plan.number if plan else 0


class LogView(OnceView):
    """Log something on a zone; with `entry`, as the correction of that entry."""

    template = "work/log.html"
    kind = None
    """A kind of entry (logbook.kinds)."""
    entry = None

    def setup(self, request, *args, **kwargs):
        super().setup(request, *args, **kwargs)
        if "entry" in kwargs:
            self.entry = get_object_or_404(Entry.objects.of(self.kind.key), pk=kwargs["entry"])
            rows = list(self.entry.places_on.select_related("zone__job").order_by("id"))
            wanted = asked.an_id(request.GET, "zone")
            self.row = next((row for row in rows if row.zone_id == wanted), rows[0])
            self.other_rows = [row for row in rows if row is not self.row]
            self.zone = self.row.zone
        else:
            self.zone = zone_or_404(kwargs["pk"])
        self.action = f"log {self.kind.key}"

    @property
    def heading(self):
        return f"{'Correct' if self.entry else 'Log'}: {self.kind.label.lower()}"

    @property
    def button(self):
        return "Correct it" if self.entry else "Log it"

    @property
    def done(self):
        return f"{self.kind.label}: recorded."

    @property
    def form_class(self):
        return self.kind.form

    def state(self):
        """The zone's state now."""
        return book_of(self.request, self.zone).state(self.zone)

    @cached_property
    def about(self):
        """What the kind's own form is about."""
        state = self.state()
        checks = () if self.asked.get("all") else checks_of(state)
        return About(self.zone, self.request.user, self.entry, state.facts.steps, state.next_step, checks)

    def form_kwargs(self):
        planned = enumerate(self.state().facts.steps, 1)
        steps = [(i, s) for i, s in planned if self.kind.recorded_by(STEPS[s.kind])]
        found = {"zone": self.zone, "steps": steps, "correcting": self.entry is not None, "others": self.others}
        return found | self.kind.form_kwargs(self.about)

    @cached_property
    def others(self):
        """The job's other zones on which the same may have been done, those first whose plan has it next."""
        if self.entry or not self.kind.together:
            return ()
        zones = [z for z in self.zone.job.zones.in_use() if z.pk != self.zone.pk]
        return sorted(self.kind.others(self.about, zones), key=lambda zone: not self._comes_next(zone))

    def _comes_next(self, zone):
        """True if what is logged comes next in a zone's plan."""
        facts = book_of(self.request, self.zone).facts
        each = facts.zones.get(zone.pk)
        at = plan_at(each, facts.now.timestamp()).next if each else None
        return at is not None and self.kind.recorded_by(STEPS[at.step.kind])

    def step_on(self, zone, form):
        """Id of the step of another zone's plan that this is: undone, of the same kind as here; "" for none."""
        facts = book_of(self.request, self.zone).facts
        if zone.pk not in facts.zones:
            return ""
        here = next((s.kind for s in self.state().facts.steps if s.id == form.cleaned_data.get("step")), None)
        undone = [s.step for s in plan_at(facts.zones[zone.pk], facts.now.timestamp()).states if not s.done]
        return next((s.id for s in undone if s.kind == here), "")

    def make_form(self, data=None):
        form = super().make_form(data)
        if not self.entry and self.followed:
            field, led = self.followed
            swapped = {"hx-get": self.request.path, "hx-trigger": "change", "hx-params": field, "hx-swap": "none"}
            swapped |= {"hx-select-oob": ",".join(f"#f-{name}" for name in led)}
            form.fields[field].widget.attrs |= swapped
        return form

    @property
    def followed(self):
        """(a field, names of those that it decides; the others stay as they are typed), None where it decides none."""
        return ("step", self.kind.follows) if self.kind.follows else None

    def get(self, request, **kwargs):
        return trigger_client_event(super().get(request, **kwargs), "followed", after="settle")

    def initial(self):
        first = self._start()
        more = self.kind.initial(self.about, first)
        return first | more | ({} if self.entry else self._like_last() | self._given())

    def _like_last(self):
        """What is done alike on a like face, of the entry that is asked for, and how long it took; {} if none is."""
        if not self.asked.get("same") or self.last_alike is None:
            return {}
        told = self.as_told(self.last_alike)
        lasted = self.last_alike.ended - self.last_alike.began
        return {"began": self.tapped - lasted} | {name: told[name] for name in self.kind.same if name in told}

    def as_told(self, entry):
        """A form's fields as another entry of its kind told them."""
        return self.kind.initial(About(self.zone, self.request.user, entry), {"step": ""})

    @cached_property
    def last_alike(self):
        """The newest entry of this kind on a like face: of this job, on a step of the same kind and product, by
        anybody; None without one.
        """
        step = self.state().next_step
        facts = book_of(self.request, self.zone).facts
        alike = {
            s.id
            for each in facts.zones.values()
            if each.zone.job_id == self.zone.job_id
            for s in each.steps
            if step is not None and (s.kind, s.product, s.grit) == (step.kind, step.product, step.grit)
        }
        if not alike or not self.kind.same or not self.kind.recorded_by(STEPS[step.kind]):
            return None
        rows = Entry.objects.known_at().of(self.kind.key).filter(zones__job=self.zone.job_id, places_on__step__in=alike)
        return rows.prefetch_related("zones").order_by("-ended", "-id").first()

    @property
    def asked(self):
        """What a link or a tap fills in."""
        return self.request.GET

    @cached_property
    def tapped(self):
        """The hour of the tap that led here, as it tells; else now."""
        return tapped_at(self.asked.get("at"), book_of(self.request, self.zone).facts.now)

    @cached_property
    def begun(self):
        """The entry that began what is logged, while it is not stopped; None where nothing was begun."""
        pk = asked.an_id(self.request.POST, "begun") or asked.an_id(self.asked, "begun")
        return next((work for work in works_begun() if work.pk == pk), None) if pk else None

    def _start(self):
        """What every form starts with: of a corrected entry as it was told, else now, on the step that comes next."""
        if self.entry:
            base = {"began": self.entry.began, "ended": self.entry.ended, "note": self.entry.note}
            return base | {"share": self.row.share * 100, "step": self.row.step}
        now, next_step = self.tapped, self.state().next_step
        step = next_step.id if next_step and STEPS[next_step.kind].entry == self.kind.key else ""
        newest = self.newest()
        start = {"began": now, "ended": now, "step": step, "seen": newest.pk if newest else 0}
        if self.begun is not None:
            start |= {"began": self.begun.began, "begun": self.begun.pk}
        return start | self._given()

    def _given(self):
        """What a link fills in; of another zone, all of it."""
        given = {k: v for k, v in self.asked.items() if k in {"step", "share", *self.kind.given}}
        return given | {f"also_{pk}": 100.0 for pk in self.asked.getlist("also")}

    def context(self, form):
        book_of(self.request, self.zone)
        first = self.as_first_typed(form)
        correct_url = ""
        if hasattr(self, "repeat_entry"):
            correct_url = reverse("work:correct", args=[self.kind.key, self.repeat_entry])
        return {
            "zone": self.zone,
            "kind": self.kind.key,
            "cautions": [*self.cautions(first), *self.kind.cautions],
            "before_cut": copies.prompt_at(self.zone, StepKind.REPAIR) if self.kind.key == Kind.FILM_LOST else "",
            "defer": DEFER,
            "correct_url": correct_url,
            "previews": self.kind.key in PREVIEWED and self.entry is None,
            "ruled": self.ruled(first) if self.kind.key in PREVIEWED and not self.entry else None,
            "elsewhere": self.ruled_elsewhere(first) if self.kind.key in PREVIEWED and not self.entry else (),
            "last_alike": None if self.entry else self.last_alike,
            **self.kind.context(self.about),
        }

    def cautions(self, form):
        """Cautions that the act as typed owes, by what is there."""
        rulings, facts, kind = book_of(self.request, self.zone).rulings, self.state().facts, self.kind.caution_step
        if not kind or facts.revision is None:
            return STEPS[kind].cautions if kind else ()
        act = self.typed_act(form)
        if act is None or act.kind != kind:
            act = Act(kind)
        return owed(act, rulings.face_now(self.state(), None))

    def as_first_typed(self, form):
        """The form as bound to what it shows at first, so that the preview reads what the page shows."""
        if form.is_bound:
            return form
        shown = {name: form[name].value() for name in form.fields}
        first = {name: "" if value is None else value for name, value in shown.items()}
        times = {name: form.fields[name].prepare_value(form[name].value()) for name in ("began", "ended")}
        return self.make_form({**first, **times, "reason": "-"})

    def show(self, form, status=200, **more):
        if more.get("earlier"):
            self.repeat_entry = int(more["earlier"].result_url.rsplit("/", 2)[-2])
        if hasattr(self, "meanwhile"):
            form.data["seen"], status = self.meanwhile, 409
        return super().show(form, status, **more)

    def post(self, request, **kwargs):
        if request.POST.get("take"):
            data = request.POST.copy()
            data["token"] = new_token()
            return self.show(self.make_form(data), 422)
        return super().post(request, **kwargs)

    def event(self, form, zone=None):
        """What was typed as the core's event on this zone, or another that it is told of; None while a field is wrong,
        or where it changes no surface.
        """
        if not form.is_valid():
            return None
        data = form.cleaned_data
        try:
            details = self.kind.details({**data, "prepared": None}, self.about) or {}
        except Refused:
            return None
        told = {column: _column(details, column) for column in self.kind.columns}
        mine = next((row for row in self.zones_told(form) if row[0].pk == (zone or self.zone).pk), (zone, 1.0, ""))
        at = (data["began"].timestamp(), data["ended"].timestamp(), mine[1], mine[2], NEW)
        revision = details.get("revision")
        return self.kind.event(at, told, {revision.pk: sheet_of(revision)} if revision else {})

    def typed_act(self, form):
        """What was typed as an act, worked out once a form; None while a field is wrong, or where it is not judged."""
        if not hasattr(form, "typed_act"):
            event, rulings, state = self.event(form), book_of(self.request, self.zone).rulings, self.state()
            act = event and event_act(event, state.facts, rulings.facts, Tense.NOW)
            just_done = act and act.ended_s >= state.surface.t_s - JUST_S
            form.typed_act = in_air(act, state) if just_done else act
        return form.typed_act

    def ruled(self, form):
        """What the one judge says of the act as typed, on what was there when it began; None if it is not judged."""
        rulings, facts = book_of(self.request, self.zone).rulings, self.state().facts
        if facts.where is None or facts.revision is None:
            return None
        act = self.typed_act(form)
        return None if act is None else rulings.rule(self.zone, act, rulings.face_then(facts, act))

    def ruled_elsewhere(self, form):
        """[(zone, Ruled)] of the other zones that the act is told of as typed, as far as it is judged."""
        book, found = book_of(self.request, self.zone), []
        others = self.zones_told(form) if form.is_valid() else ()
        for zone, *_ in others:
            each = book.facts.zones.get(zone.pk)
            if zone.pk == self.zone.pk or each is None or each.where is None or each.revision is None:
                continue
            event = self.event(form, zone)
            act = event and event_act(event, each, book.facts, Tense.NOW)
            if act:
                act = in_air(act, book.state(zone)) if act.ended_s >= book.facts.now.timestamp() - JUST_S else act
                found.append((zone, book.rulings.rule(zone, act, book.rulings.face_then(each, act))))
        return found

    def prepare(self, form):
        return self.kind.prepare(form.cleaned_data)

    def details(self, form):
        """Details of the kind, from the form."""
        return self.kind.details({**form.cleaned_data, "prepared": self.prepared}, self.about)

    def newest(self):
        """The newest entry on the zone, by whom so ever."""
        return Entry.objects.filter(zones=self.zone).order_by("-id").first()

    def look_up(self, form):
        """Refuse once if somebody else logged on this zone since the form was opened, it may be the same coat; or if
        this person logged the same just now, and came back to the form.
        """
        seen, me = form.cleaned_data.get("seen"), self.request.user
        since = Entry.objects.known_at().filter(zones=self.zone, pk__gt=seen or 0)
        again = Q(who=me, kind=self.kind.key, recorded__gte=clock.now() - JUST_LOGGED)
        other = since.filter(again | ~Q(who=me)).order_by("id").last()
        if self.entry is None and seen is not None and other is not None:
            self.meanwhile = self.newest().pk
            at = other.ended.astimezone(self.request.workshop.zone)
            who, what = "You" if other.who == me else other.who, other.get_kind_display().lower()
            raise Refused(f"{who} logged “{what}” here meanwhile, ended {at:%H:%M}. If yours is another, tap again.")

    def zones_told(self, form):
        """((zone, share, step id), ...) as typed; on other zones it is the like step of their own plans."""
        told = self.kind.zones(form, self.about)
        if not self.others:
            return told
        mine = self.zone.pk
        return tuple((z, share, step or (self.step_on(z, form) if z.pk != mine else "")) for z, share, step in told)

    def where(self, form, zones):
        """({zone id: share of the face that all of it is for}, {zone id: what was drawn}) as told of other zones."""
        kept = self.other_rows if self.entry else ()
        return {row.zone_id: row.of_face for row in kept}, {row.zone_id: row.drawn for row in kept}

    def carry_out(self, form):
        data = form.cleaned_data
        self.look_up(form)
        zones = self.zones_told(form)
        if self.entry:  # the entry's other zones keep what was told of them
            zones += tuple((row.zone, row.share, row.step) for row in self.other_rows)
        begun = self.begun
        if begun is None and data.get("begun"):
            raise Refused("this was stopped already, or nothing came of it: look at the record")
        hours = (data["began"], data["ended"])
        told = services.Told(
            self.kind.key, *hours, zones, self.details(form), data["note"], begun, *self.where(form, zones)
        )
        anyway = data.get("anyway", "").strip()
        ruled = self.ruled(form) if anyway else None
        entry = services.log(self.request.user, told, data["confirm_old"], self.entry, data.get("reason", ""))
        self.kind.after(entry, data, self.about)
        if ruled is not None:
            judging.did_anyway(self.zone, self.request.user, ruled.ruling, entry.pk, anyway)
        return reverse("work:done", args=[entry.pk])


PREVIEWED = frozenset({Kind.BARED, Kind.DEGREASED, Kind.KEYED, Kind.PREPPED, Kind.FILM_LOST, Kind.ACCESS, Kind.HEATED})
"""Kinds whose form shows what the rules say while it is typed; a coat has a preview of its own."""


@require_POST
def preview(request, pk, kind):
    """What the rules say of an act as typed so far: a fragment."""
    if kind not in PREVIEWED:
        raise Http404
    view = LogView(request=request)
    view.kind = KINDS[kind]
    view.setup(request, pk=pk)
    form = view.make_form(request.POST)
    told = {"cautions": [*view.cautions(form), *view.kind.cautions], "defer": DEFER}
    told |= {"elsewhere": view.ruled_elsewhere(form), "swapped": True}
    return render(request, "work/log_ruling.html", {"ruled": view.ruled(form), "zone": view.zone, **told})
