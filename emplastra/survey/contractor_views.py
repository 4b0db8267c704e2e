"""What is at a contractor, what came back, and what was looked after before it went."""

from dataclasses import dataclass

from django.db.models import Prefetch
from django.shortcuts import render

from emplastra.core.surface.steps import DEFER
from emplastra.core.survey.contractor import CAUTION, SEND_OFF, TRADES
from emplastra.logbook.kinds.back import Back
from emplastra.logbook.models import Entry, Kind, holds
from emplastra.say.book import book_of

BACK_SHOWN = 20


@dataclass
class Absence:
    """One sending away: its entry, its zones, the list, days until it is due, its return."""

    entry: object
    zones: list
    looked_after: list
    forgotten: list
    days: int | None
    back: object = None


def contractor(request):
    """Everything that is away, the first due on top, and what came back lately."""
    today = book_of(request).facts.today
    returns = Prefetch("returns", Back.objects.filter(holds(prefix="entry__")).select_related("entry"), "held_returns")
    rows = Entry.objects.known_at().of(Kind.AWAY).select_related("away", "who").prefetch_related("zones__job", returns)
    away, back = [], []
    for entry in rows:
        told = entry.away
        returned = next(iter(entry.held_returns), None)
        wanted = TRADES[told.trade].wants
        absence = Absence(
            entry,
            list(entry.zones.all()),
            [SEND_OFF[k] for k in SEND_OFF if k in told.send_off],
            [SEND_OFF[k] for k in wanted if k not in told.send_off],
            (told.due - today).days if told.due else None,
            returned,
        )
        (back if returned else away).append(absence)
    away.sort(key=lambda a: (a.days is None, a.days or 0))
    back.sort(key=lambda a: a.back.entry.ended, reverse=True)
    context = {"away": away, "back": back[:BACK_SHOWN], "caution": CAUTION, "defer": DEFER}
    return render(request, "survey/contractor.html", context)
