"""Until when tins may be used: what is printed on them, what their sheets say, and when they were opened."""

from django.db.models import Min

from emplastra.core.buying.stock import Happened, last_day
from emplastra.logbook.models import Entry
from emplastra.store.models import TinFact
from emplastra.store.services import live


def last_days(told, zone):
    """{tin id: LastDay or None} of tins with their sheets [(tin, sheet or None)]; in two queries at most, none where
    their sheets tell no months. zone: the workshop's time zone.
    """
    came, opened = {}, {}
    ids = {tin.pk for tin, sheet in told if any(_months(sheet))}
    if ids:
        rows = live(TinFact.objects.filter(tin__in=ids, kind__in=[Happened.IN, Happened.OPENED]))
        for tin, kind, at in rows.order_by("-at").values_list("tin", "kind", "at"):
            (came if kind == Happened.IN else opened)[tin] = at
        first = Entry.objects.known_at().filter(weighed__tin__in=ids).values("weighed__tin").annotate(at=Min("ended"))
        for tin, at in first.values_list("weighed__tin", "at"):
            opened[tin] = min(at, opened.get(tin, at))
    return {tin.pk: until(tin, sheet, came.get(tin.pk), opened.get(tin.pk), zone) for tin, sheet in told}


def until(tin, sheet, came, opened, zone):
    """Until when a tin may be used (LastDay or None), by when it came in and was opened (None: not told)."""
    days = [at and at.astimezone(zone).date() for at in (came, opened)]
    return last_day(tin.use_by, *days, *_months(sheet))


def _months(sheet):
    """How long a tin of it keeps, closed and opened [months], None where that is not told."""
    return (sheet.shelf_closed_months, sheet.shelf_opened_months) if sheet else (None, None)
