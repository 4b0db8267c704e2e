"""What is at a contractor, what came back, and what was looked after before it went."""

from dataclasses import dataclass

from django.shortcuts import render

from emplastra.core.contractor import CAUTION, SEND_OFF, TRADES
from emplastra.core.steps import DEFER
from emplastra.logbook.models import Entry, Kind
from emplastra.state.book import book_of

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
    book = book_of(request)
    today = book.facts.now.astimezone(book.facts.workshop.zone).date()
    rows = Entry.objects.known_at().of(Kind.AWAY).select_related("away", "who").prefetch_related("zones__job", "returns__entry")  # fmt: skip
    struck = set(Entry.objects.of(Kind.BACK).filter(replaced_by__isnull=False).values_list("pk", flat=True))
    away, back = [], []
    for entry in rows:
        told = entry.away
        returned = next((r for r in entry.returns.all() if r.entry_id not in struck), None)
        wanted = TRADES[told.trade].wants
        absence = Absence(
            entry, list(entry.zones.all()), [SEND_OFF[k] for k in SEND_OFF if k in told.send_off],
            [SEND_OFF[k] for k in wanted if k not in told.send_off], (told.due - today).days if told.due else None, returned,
        )  # fmt: skip
        (back if returned else away).append(absence)
    away.sort(key=lambda a: (a.days is None, a.days or 0))
    back.sort(key=lambda a: a.back.entry.ended, reverse=True)
    context = {"away": away, "back": back[:BACK_SHOWN], "caution": CAUTION, "defer": DEFER}
    return render(request, "survey/contractor.html", context)
