"""Days: the plan that holds or is proposed, drawn and listed; planning begun, watched, taken."""

from dataclasses import dataclass, field
from datetime import date, datetime, time

from django.contrib import messages
from django.http import Http404, HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.schedule.work import DAY_S
from emplastra.jobs import days as told
from emplastra.jobs.models import ActDay, HoursTold, Job, Zone
from emplastra.say.book import book_of
from emplastra.shared import asked, clock, tasks, times
from emplastra.shared.models import Task
from emplastra.shared.services import Refused, new_token
from emplastra.shared.views import one_tap
from emplastra.state.ways import hours_row

from . import planning
from .drawn import sheets
from .risk import risk_said
from .rows import moved


@dataclass
class JobEnd:
    """When a job is ready by a plan, and when it was promised [epoch s], None where nobody promised."""

    job: object
    ends_s: float
    due_s: float | None
    was_s: float | None = None
    """When it was ready by the plan that holds, beside one that is proposed."""

    @property
    def is_moved(self):
        """True if it would be ready half a day or more otherwise than by the plan that holds."""
        return self.was_s is not None and abs(self.ends_s - self.was_s) >= DAY_S / 2

    @property
    def key(self):
        """The job's key in a plan."""
        return str(self.job.pk)

    @property
    def is_late(self):
        """True if that is after its promise."""
        return self.due_s is not None and self.ends_s > self.due_s


@dataclass
class Shown:
    """A plan as the page shows it: its acts by day, jobs' ends, what it misses; taken: it is held, not proposed."""

    acts: list
    says: dict
    taken: bool
    number: int = 0
    task: object = None
    jobs: list = field(default_factory=list)
    by_day: list = field(default_factory=list)
    moves: list = field(default_factory=list)
    left_out: list = field(default_factory=list)
    clash: dict | None = None
    risk: object = None
    late: list = field(default_factory=list)

    @property
    def gap_said(self):
        """How far from the best that could be, in words."""
        gap = self.says["gap"]
        if gap is None:
            return "By what closes first; a shorter one may exist."
        if gap < 0.005:
            return "None is shorter: proven."
        return f"None is more than {100 * gap:.0f} % shorter." if gap <= 0.3 else "A shorter one may exist."

    @property
    def missed(self):
        """Acts that miss their window."""
        return [row for row in self.acts if row["missed"]]


def days(request):
    """The plan of days."""
    return render(request, "days/days.html", _context(request))


def _context(request):
    book = book_of(request)
    held, running = told.held_plan(), planning.running()
    task, found = planning.newest_proposal()
    base = held.number if held else 0
    fresh = found is not None and task.about.get("based_on") == base
    shown = None
    if fresh:
        shown = Shown(found["acts"], found["says"], False, base, task)
        shown.moves = moved(held.acts, found["acts"]) if held else []
        shown.left_out, shown.clash = found["left_out"], found.get("clash")
    elif held is not None:
        shown = Shown(held.acts, held.says, True, held.number)
    context = {"shown": shown, "held": held, "running": running, "token": new_token(), "by": request.GET.get("by", "")}
    if shown is not None:
        context |= _more(shown, book, context["by"], held)
    return context


def _more(shown, book, by, held):
    zone, now_s = book.facts.workshop.zone, book.facts.now.timestamp()
    jobs = Job.objects.in_bulk({row["job"] for row in shown.acts})
    ends, due = shown.says["ends"], shown.says["due"]
    was = held.says["ends"] if held and not shown.taken else {}
    shown.jobs = [JobEnd(jobs[int(k)], t_s, due.get(k), was.get(k)) for k, t_s in ends.items() if int(k) in jobs]
    shown.left_out = [(book.facts.zones[pk].zone, why) for pk, why in shown.left_out if pk in book.facts.zones]
    shown.risk = risk_said(shown, told.plans_before(shown.number if shown.taken else shown.number + 1))
    by_day = {}
    for row in sorted(shown.acts, key=lambda r: r["begin"]):
        by_day.setdefault(datetime.fromtimestamp(row["begin"], zone).date(), []).append(row)
    shown.by_day = [(datetime.combine(day, time(12), tzinfo=zone), day.isoformat(), r) for day, r in by_day.items()]
    if shown.taken:
        shown.late = _late(shown, book, now_s)
    return {"picture": sheets(shown.acts, shown.says, zone, now_s, by == "person"), "now_s": now_s}


def _late(shown, book, now_s):
    """Acts of a plan that was taken whose hour has passed while they are not logged."""
    open_ids = set()
    for state in book.states():
        for s in state.plan.states:
            if not s.done:
                first = s.coats_done + 1
                open_ids |= {(state.zone.pk, s.step.id, n) for n in range(first, max(first, s.step.coats) + 1)}
    rows = [r for r in shown.acts if r["zone"] and (r["zone"], r["step"], r["coat"]) in open_ids]
    return [r for r in rows if r["end"] < now_s]


@require_POST
def plan(request):
    """Begin to plan, or plan again."""
    try:
        task = planning.begin(request.user)
    except Refused as refusal:
        messages.error(request, f"{refusal}.")
        return HttpResponseRedirect(reverse("days:days"))
    return HttpResponseRedirect(reverse("days:task", args=[task.pk]))


def task(request, pk):
    """How far a planning is; once it has ended, the days."""
    found = tasks.as_it_stands(get_object_or_404(Task, pk=pk, kind=planning.KIND))
    if found.state == Task.State.DONE:
        return HttpResponseRedirect(reverse("days:days"))
    return render(request, "days/task.html", {"task": found})


@require_POST
def enough(request, pk):
    """End a planning with what it has found."""
    found = tasks.as_it_stands(get_object_or_404(Task, pk=pk, kind=planning.KIND))
    try:
        planning.enough(request.user, found)
    except Refused as refusal:
        messages.error(request, f"{refusal}.")
    return HttpResponseRedirect(reverse("days:task", args=[pk]))


def _at(data, zone):
    """When acts are put (aware; None: at no time), as it was typed. Raises TimeError."""
    kind, day, hour = data.get("kind", "day"), data.get("day", "").strip(), data.get("hour", "").strip()
    if kind in told.TIMELESS:
        return None
    if kind == ActDay.Kind.FIXED:
        return times.read_local(f"{day} {hour}", zone, clock.now())
    try:
        return datetime.combine(date.fromisoformat(day), time(0 if kind == ActDay.Kind.AFTER else 12), tzinfo=zone)
    except ValueError:
        raise times.TimeError("Day: write it as 2026-05-14") from None


@require_POST
def put(request):
    """Put acts on a day, or at an hour, or free them again; then plan anew, so that the rest follows."""
    data = request.POST
    names = [name for name in data.get("acts", "").split(",") if name][:40]
    pairs = [(asked.whole(name.partition(":")[0], 1), name.partition(":")[2]) for name in names]
    zones = Zone.objects.in_use().in_bulk([pk for pk, _ in pairs if pk])

    def carry_out():
        if not pairs or any(pk not in zones for pk, _ in pairs):
            raise Refused("there is no such act any more: look at the plan again")
        for pk, act in pairs:
            told.put_act(request.user, zones[pk], act, data.get("kind", "day"), at, data.get("note", ""))
        return planning.begin(request.user, "an act was moved").get_absolute_url()

    try:
        at = _at(data, request.workshop.zone)
    except times.TimeError as error:
        messages.error(request, f"{error}.")
        return HttpResponseRedirect(reverse("days:days"))
    payload = {"acts": names, "kind": data.get("kind"), "at": str(at), "note": data.get("note", "")}
    words, scope = "Written down: what follows is planned anew.", ",".join(names)[:60]
    url = one_tap(request, "put-acts", payload, carry_out, "Days", words, scope=scope)
    return HttpResponseRedirect(url or reverse("days:days"))


@require_POST
def way(request, pk, number):
    """Take a way out of a clash: what it tells is told, and the days are planned anew."""
    found = get_object_or_404(Task, pk=pk, kind=planning.KIND, state=Task.State.DONE)
    ways = ((found.result["proposal"].get("clash") or {}).get("ways")) or []
    if number >= len(ways):
        raise Http404
    facts = ways[number]["facts"]

    def carry_out():
        if "hours" in facts:
            row = hours_row(facts["hours"])
            told.tell_hours(
                request.user, row.kind, row.begins, row.ends, row.person, row.place, row.kelvin, "a way out"
            )
        elif "act" in facts:
            zone = get_object_or_404(Zone, pk=facts["act"]["zone"])
            told.put_act(request.user, zone, facts["act"]["act"], facts["act"]["kind"], None, "a way out")
        else:
            told.strike_hours(request.user, get_object_or_404(HoursTold, pk=facts["strike"]))
        return planning.begin(request.user, "a way out was taken").get_absolute_url()

    url = one_tap(
        request,
        "way",
        {"task": pk, "way": number},
        carry_out,
        "Days",
        f"Taken: {ways[number]['words']}.",
        scope=f"{pk}-{number}",
    )
    return HttpResponseRedirect(url or reverse("days:days"))


@require_POST
def take(request, pk):
    """Take a proposal."""
    found = get_object_or_404(Task, pk=pk, kind=planning.KIND, state=Task.State.DONE)
    made = found.result["proposal"]
    base = asked.a_count(request.POST, "based_on")

    def carry_out():
        told.take_plan(request.user, made["acts"], made["says"], base)
        return reverse("days:days")

    one_tap(
        request, "take-plan", {"task": pk, "base": base}, carry_out, "Days", "Taken: this plan holds.", scope=f"{pk}"
    )
    return HttpResponseRedirect(reverse("days:days"))
