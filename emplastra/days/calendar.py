"""A calendar of one person's acts, of windows that close and looks that fall due, as iCalendar (RFC 5545).

Moments are written in UTC, so that no change of summer time can move them. An act keeps its uid from plan to plan.
"""

from datetime import datetime, timedelta

from icalendar import Alarm

from emplastra.core.surface.names import Status
from emplastra.jobs.registers import watches
from emplastra.shared.ical import calendar_named, event_of
from emplastra.shared.times import from_epoch

AHEAD_DAYS = 60
RUNNING = {Status.OPEN, Status.CLOSING, Status.BARE, Status.WAITING, Status.KEEP_WET}


def calendar_of(link, held, book):
    """The bytes of somebody's calendar. link: their FeedLink; held: the plan that holds, None without one."""
    zone, now = book.facts.workshop.zone, book.facts.now
    made = calendar_named("Days", f"{book.facts.workshop.name}: {link.user.username}")
    made.add("refresh-interval", timedelta(minutes=30), parameters={"VALUE": "DURATION"})
    for row in held.acts if held else ():
        if row["who"] == link.user.username and row["end"] >= now.timestamp():
            made.add_component(_act(row, held, link, zone))
    for event in _closing(book, link, zone, now):
        made.add_component(event)
    for event in _looks(now, zone):
        made.add_component(event)
    return made.to_ical()


def _act(row, held, link, zone):
    begins = from_epoch(row["begin"])
    event = event_of(
        f"act-{row['id']}",
        held.recorded,
        f"{row['face']}: {row['name'].lower()}",
        begins,
        from_epoch(row["end"]),
        held.number,
    )
    if row["closes"]:
        closes = from_epoch(row["closes"]).astimezone(zone)
        event.add("description", f"{row['closes_why']} {closes:%a} {closes.day} {closes:%b %H:%M}".strip())
    event.add_component(_alarm(begins, link, zone, event["summary"]))
    return event


def _closing(book, link, zone, now):
    """Windows that close on open zones, and bare metal that is due, by the clock as it stands."""
    for state in book.states():
        clock = state.clock
        if clock is None or clock.closes_s is None or clock.status not in RUNNING:
            continue
        closes = from_epoch(clock.closes_s)
        if not now < closes < now + timedelta(days=AHEAD_DAYS):
            continue
        word = "primer due" if clock.status == Status.BARE else f"closes for {clock.toward}"
        event = event_of(f"window-{state.zone.pk}", now, f"{state.zone}: {word}", closes, sequence=0)
        event.add("transp", "TRANSPARENT")
        event.add_component(_alarm(closes, link, zone, event["summary"]))
        yield event


def _looks(now, zone):
    """What was put off or is watched, on the day of its next look."""
    for row in watches():
        if row.due >= now.astimezone(zone).date() - timedelta(days=30):
            event = event_of(f"look-{row.pk}", now, f"{row.zone}: look again at {row.what}", row.due, sequence=0)
            event.add("transp", "TRANSPARENT")
            yield event


def _alarm(at, link, zone, words):
    """An alarm so long before a moment as is wished; one that would sound in quiet hours sounds before they begin."""
    rings = rings_at(at, link.lead_min, link.quiet_from, link.quiet_to, zone)
    alarm = Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("description", words)
    alarm.add("trigger", rings, parameters={"VALUE": "DATE-TIME"})
    return alarm


def rings_at(at, lead_min, quiet_from, quiet_to, zone):
    """When an alarm for a moment (aware) sounds, UTC: lead_min [min] before it; in quiet hours, from and to [min of the
    day by the workshop's clock], at their begin.
    """
    rings = from_epoch(at.timestamp() - 60 * lead_min)
    here = rings.astimezone(zone)
    minute = here.hour * 60 + here.minute
    over_midnight = quiet_from > quiet_to
    quiet = minute >= quiet_from or minute < quiet_to if over_midnight else quiet_from <= minute < quiet_to
    if not quiet:
        return rings
    day = here.date() - timedelta(days=1) if over_midnight and minute < quiet_to else here.date()
    begin = datetime(day.year, day.month, day.day, tzinfo=zone) + timedelta(minutes=quiet_from)
    return from_epoch(begin.timestamp())
