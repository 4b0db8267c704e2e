"""Days: the plan that holds or is proposed, drawn and listed; planning begun, watched, taken."""

from dataclasses import dataclass, field
from datetime import datetime

from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.jobs import days as told
from emplastra.jobs.models import Job
from emplastra.say.book import book_of
from emplastra.shared import asked
from emplastra.shared.models import Task
from emplastra.shared.services import Refused, new_token
from emplastra.shared.task_views import task_or_404
from emplastra.shared.views import one_tap

from . import planning
from .drawn import sheets
from .rows import moved


@dataclass
class JobEnd:
    """When a job is ready by a plan, and when it was promised [epoch s], None where nobody promised."""

    job: object
    ends_s: float
    due_s: float | None

    @property
    def is_late(self):
        """True if that is after its promise."""
        return self.due_s is not None and self.ends_s > self.due_s


@dataclass
class Shown:
    """A plan as the page shows it: its acts by day, jobs' ends, what it misses; taken: the plan is held, not proposed."""

    acts: list
    says: dict
    taken: bool
    number: int = 0
    task: object = None
    jobs: list = field(default_factory=list)
    by_day: list = field(default_factory=list)
    moves: list = field(default_factory=list)
    left_out: list = field(default_factory=list)
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
        shown.left_out = found["left_out"]
    elif held is not None:
        shown = Shown(held.acts, held.says, True, held.number)
    context = {"shown": shown, "held": held, "running": running, "token": new_token(), "by": request.GET.get("by", "")}
    if shown is not None:
        context |= _more(shown, book, context["by"])
    return context


def _more(shown, book, by):
    zone, now_s = book.facts.workshop.zone, book.facts.now.timestamp()
    jobs = Job.objects.in_bulk({row["job"] for row in shown.acts})
    ends, due = shown.says["ends"], shown.says["due"]
    shown.jobs = [JobEnd(jobs[int(k)], t_s, due.get(k)) for k, t_s in ends.items() if int(k) in jobs]
    shown.left_out = [(book.facts.zones[pk].zone, why) for pk, why in shown.left_out if pk in book.facts.zones]
    by_day = {}
    for row in sorted(shown.acts, key=lambda r: r["begin"]):
        by_day.setdefault(datetime.fromtimestamp(row["begin"], zone).date(), []).append(row)
    shown.by_day = [(datetime.combine(day, datetime.min.time(), tzinfo=zone), rows) for day, rows in by_day.items()]
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
    found = task_or_404(request, pk, kind=planning.KIND)
    if found.state == Task.State.DONE:
        return HttpResponseRedirect(reverse("days:days"))
    return render(request, "days/task.html", {"task": found})


@require_POST
def enough(request, pk):
    """End a planning with what it has found."""
    found = task_or_404(request, pk, kind=planning.KIND)
    try:
        planning.enough(request.user, found)
    except Refused as refusal:
        messages.error(request, f"{refusal}.")
    return HttpResponseRedirect(reverse("days:task", args=[pk]))


@require_POST
def take(request, pk):
    """Take a proposal."""
    found = task_or_404(request, pk, kind=planning.KIND, state=Task.State.DONE)
    made = found.result["proposal"]
    base = asked.a_count(request.POST, "based_on")

    def carry_out():
        told.take_plan(request.user, made["acts"], made["says"], base)
        return reverse("days:days")

    one_tap(request, "take-plan", {"task": pk, "base": base}, carry_out, "Days", "Taken: this plan holds.", scope=f"{pk}")
    return HttpResponseRedirect(reverse("days:days"))
