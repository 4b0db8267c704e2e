"""Until when tins may be used: what is printed on them, what their sheets say, and when they were opened."""

from django.db.models import Min

from emplastra.core.buying.stock import Happened, last_day
from emplastra.logbook.models import Entry
from emplastra.store.models import TinFact
from emplastra.store.services import live, recalls


def last_days(told, zone):
    """{tin id: LastDay or None} of tins with their sheets [(tin, sheet or None)]; in three queries at most, none where
    their sheets tell no months. zone: the workshop's time zone.
    """
    came, opened = {}, {}
    ids = {tin.pk for tin, sheet in told if any(_months(sheet))}
    if ids:
        rows = live(TinFact.objects.filter(tin__in=ids, kind__in=[Happened.IN, Happened.OPENED]))
        for tin, kind, at in rows.order_by("-at").values_list("tin", "kind", "at"):
            (came if kind == Happened.IN else opened)[tin] = at
        for path in ("weighed__tin", "coat__tin"):
            first = Entry.objects.known_at().filter(**{f"{path}__in": ids}).values(path).annotate(at=Min("ended"))
            for tin, at in first.values_list(path, "at"):
                opened[tin] = min(at, opened.get(tin, at))
    return {tin.pk: until(tin, sheet, came.get(tin.pk), opened.get(tin.pk), zone) for tin, sheet in told}


def judged(told, zone):
    """{tin id: (until when it may be used, None: not told; why its batch is recalled, "" if it is not)} of tins with
    their sheets [(tin, sheet or None)]. zone: the workshop's time zone.
    """
    if not told:
        return {}
    days = last_days(told, zone)
    bad = {(each.product_id, each.part, each.batch): each.why for each in recalls()}
    why = {tin.pk: bad.get((tin.product_id, tin.part, tin.batch), "") for tin, _ in told}
    return {tin.pk: (days[tin.pk] and days[tin.pk].day, why[tin.pk]) for tin, _ in told}


def until(tin, sheet, came, opened, zone):
    """Until when a tin may be used (LastDay or None), by when it came in and was opened (None: not told)."""
    days = [at and at.astimezone(zone).date() for at in (came, opened)]
    return last_day(tin.use_by, *days, *_months(sheet))


def _months(sheet):
    """How long a tin of it keeps, closed and opened [months], None where that is not told."""
    return (sheet.shelf_closed_months, sheet.shelf_opened_months) if sheet else (None, None)
