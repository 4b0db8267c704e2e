"""Times as people write them, in the workshop's zone."""

import re
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo, available_timezones

from emplastra.core.words import lasting

JANUARY, JULY = datetime(2026, 1, 15), datetime(2026, 7, 15)
_FORM = re.compile(
    r"\s*(?:(?P<day>\d{4}-\d{2}-\d{2}|today|yesterday)[ T]+)?(?P<hour>\d{1,2}):(?P<minute>\d{2})"
    r"\s*(?P<offset>Z|[+-]\d{2}:?\d{2})?\s*$",
    re.I,
)


class TimeError(ValueError):
    """The text is no moment; the message says what would do."""


def read_local(text, zone, now):
    """A moment (aware, UTC) from "14:05", "yesterday 16:00", "2026-05-12 09:40" or one with an offset.

    A bare hour is its last occurrence, up to 2 minutes ahead. Raises TimeError for an hour that
    summer time skips, or doubles with no offset given.
    """
    match = _FORM.match(str(text))
    if not match:
        raise TimeError(f"“{str(text)[:30]}” is not a time: write 14:05, yesterday 16:00 or 2026-05-12 14:05")
    try:
        clock = time(int(match["hour"]), int(match["minute"]))
        here = now.astimezone(zone)
        day = _day(match["day"], here)
    except ValueError:
        raise TimeError(f"there is no such day or hour as “{text}”: write for example 2026-05-12 14:05") from None
    if not 1900 <= day.year <= 2200:
        raise TimeError(f"the year {day.year} is none of ours: write for example 2026-05-12 14:05")
    if match["offset"]:
        return datetime.combine(day, clock, _offset(match["offset"])).astimezone(UTC)
    moment = _resolve(datetime.combine(day, clock), zone)
    if match["day"] is None and moment > now + timedelta(minutes=2):
        moment = _resolve(datetime.combine(day - timedelta(days=1), clock), zone)
    return moment


def zone_named(text):
    """The name of a time zone: as it is, in small letters, or by its city alone. Raises TimeError if there is
    none, or several.
    """
    wanted, names = text.strip().lower().replace(" ", "_"), available_timezones()
    found = [name for name in names if name.lower() == wanted]
    found = found or [name for name in names if name.lower().endswith(f"/{wanted}") and "/" not in wanted]
    places = {(ZoneInfo(name).utcoffset(JANUARY), ZoneInfo(name).utcoffset(JULY)) for name in found}
    if len(places) != 1:
        raise TimeError(
            "there is none of this name: choose one from the list, for example Europe/Vienna or America/Chicago"
        )
    return min(found, key=lambda name: (name.startswith(("posix", "right", "Etc")), len(name), name))


def _offset(text):
    try:
        return datetime.strptime(text.upper().replace("Z", "+00:00").replace(":", ""), "%z").tzinfo
    except ValueError:
        raise TimeError(f"there is no offset {text} from UTC: write for example +02:00") from None


def _day(text, here):
    if text is None or text.lower() == "today":
        return here.date()
    if text.lower() == "yesterday":
        return here.date() - timedelta(days=1)
    return date.fromisoformat(text)


def _resolve(naive, zone):
    first, second = (naive.replace(tzinfo=zone, fold=fold) for fold in (0, 1))
    if first.astimezone(UTC).astimezone(zone).replace(tzinfo=None) != naive:
        raise TimeError(
            f"{naive:%H:%M} does not exist on {naive:%d %B %Y}: summer time begins; write an hour before or after"
        )
    if first.utcoffset() != second.utcoffset():
        raise TimeError(
            f"{naive:%H:%M} happens twice on {naive:%d %B %Y}: write {naive:%Y-%m-%d %H:%M} {offset_text(first)} "
            f"or {naive:%Y-%m-%d %H:%M} {offset_text(second)}"
        )
    return first.astimezone(UTC)


def offset_text(moment):
    """The offset of an aware moment, as +02:00."""
    raw = moment.strftime("%z")
    return f"{raw[:3]}:{raw[3:]}"


def turn(moment, number):
    """Where something told stands in order: hours are typed to the minute, taps know the second, so within one minute
    the numbers of their rows count.
    """
    return moment.replace(second=0, microsecond=0), number


def write_local(moment, zone):
    """A moment as `read_local` takes it, with an offset only where the hour is doubled."""
    here = moment.astimezone(zone)
    doubled = here.replace(fold=0).utcoffset() != here.replace(fold=1).utcoffset()
    return f"{here:%Y-%m-%d %H:%M}" + (f" {offset_text(here)}" if doubled else "")


def from_epoch(t_s):
    """An aware moment from the core's seconds; None stays None."""
    return None if t_s is None else datetime.fromtimestamp(t_s, UTC)


def moment(t_s, zone, now):
    """An hour as it is spoken of, seen from now (aware): 14:50, tomorrow 09:10, Thu 09:10, 3 June 09:10. t_s:
    [epoch s].
    """
    here, today = from_epoch(t_s).astimezone(zone), now.astimezone(zone).date()
    days = (here.date() - today).days
    if days == 0:
        return f"{here:%H:%M}"
    if days in (1, -1):
        return f"{'tomorrow' if days == 1 else 'yesterday'} {here:%H:%M}"
    return f"{here:%a %H:%M}" if -6 <= days <= 6 else f"{here.day} {here:%B %H:%M}"


def span(seconds):
    """A length of time in words: 12 min, 3 h 20, 4 days."""
    return lasting(seconds / 60)
