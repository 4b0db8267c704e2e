"""Calendars as iCalendar (RFC 5545)."""

from icalendar import Calendar, Event


def calendar_named(of, name):
    """An empty published calendar. of: the kind of it, in its product id; name: as the reader shows it."""
    made = Calendar()
    made.add("prodid", f"-//Emplastra//{of}//EN")
    made.add("version", "2.0")
    made.add("method", "PUBLISH")
    made.add("x-wr-calname", name)
    return made


def event_of(uid, stamp, summary, begins, ends=None, sequence=None):
    """An event with its uid for good; begins, ends: aware moments or days; sequence: which telling of it this is."""
    event = Event()
    event.add("uid", f"{uid}@emplastra")
    event.add("dtstamp", stamp)
    event.add("summary", summary)
    event.add("dtstart", begins)
    if ends is not None:
        event.add("dtend", ends)
    if sequence is not None:
        event.add("sequence", sequence)
    return event
