"""Planning as the work of a child process: begun, told how far it is, landed as a proposal that somebody may take."""

from datetime import datetime
from threading import current_thread, main_thread
from time import monotonic

from django.conf import settings
from django.db import connection
from django.urls import reverse

from emplastra.core.schedule.rounds import plan_days
from emplastra.core.schedule.solver import Asked
from emplastra.jobs import days as told
from emplastra.shared import tasks
from emplastra.shared.models import Task
from emplastra.shared.services import Refused, writes
from emplastra.state.book import Book
from emplastra.state.days import gathered
from emplastra.state.risk import risk_of
from emplastra.state.ways import clash_of

from .rows import proposal

KIND = "days"


@writes
def begin(user, why=""):
    """Begin to plan; its task. One that runs already is gone on with."""
    running = Task.objects.filter(kind=KIND, state=Task.State.RUNNING, boot=tasks.BOOT).order_by("-id").first()
    if running is not None:
        return running
    held = told.held_plan()
    about = {"doing": "Planning", "file": "the days", "back": reverse("days:days"), "view": "days:task"}
    return tasks.work(user, KIND, plan, about | {"based_on": held.number if held else 0, "why": why[:120]})


@writes
def enough(user, task):
    """Take what is found so far: the search stops with it. Raises Refused once it has ended."""
    about = task.about | {"enough": True}
    if not Task.objects.filter(pk=task.pk, state=Task.State.RUNNING).update(about=about):
        raise Refused("it has ended already")


def plan(task, say):
    """Work: the open work planned; a proposal, which nobody has taken yet."""
    began, seconds = monotonic(), settings.PLAN_SECONDS
    say(0.02, "gathering what is open")
    book = Book()
    asked = gathered(book)
    zone = book.facts.workshop.zone

    def tell(words, better):
        share = min(0.95, (monotonic() - began) / seconds)
        say(round(share, 3), f"{words}: {_so_far(better, zone)}" if better else words)

    def is_enough():
        about = Task.objects.filter(pk=task.pk).values_list("about", flat=True).first() or {}
        if current_thread() is not main_thread():
            connection.close()  # a thread has a connection of its own
        return bool(about.get("enough"))

    found = plan_days(asked.days, Asked(seconds=seconds, enough=is_enough), tell)
    say(0.95, "replaying it in many weathers")
    risk = risk_of(book, asked, found, settings.RISK_DRAWS)
    clash = clash_of(book, asked, found, lambda words: say(0.96, words))
    with tasks.landing(task) as landed:
        landed |= {
            "words": "Planned." if found.plan else "No plan keeps every window.",
            "url": reverse("days:days"),
            "go": "To the days",
            "proposal": proposal(found, asked, clash, risk),
        }


def _so_far(better, zone):
    day = datetime.fromtimestamp(max(row.end_s for row in better.plan.placed.values()), zone)
    return f"all ready {day:%a} {day.day} {day:%b}, at best {100 * better.gap:.0f} % shorter"


def newest_proposal():
    """(task, its proposal) of the newest planning that ended with one; (None, None) without."""
    task = Task.objects.filter(kind=KIND, state=Task.State.DONE).order_by("-id").first()
    found = (task.result or {}).get("proposal") if task else None
    return (task, found) if found else (None, None)


def running():
    """The planning that runs now, None if none does."""
    return Task.objects.filter(kind=KIND, state=Task.State.RUNNING, boot=tasks.BOOT).order_by("-id").first()
