"""Hours in which somebody is at the bench, by the day of the week."""

import itertools
import re
from dataclasses import dataclass
from datetime import date, datetime, timedelta, tzinfo

from ..air.sun import Span
from ..errors import FieldError

DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
_PART = re.compile(r"\s*([A-Za-z]{2,9})\.?\s*(?:[-–]\s*([A-Za-z]{2,9})\.?)?\s+(.+?)\s*$")
_HOURS = re.compile(r"(\d{1,2})(?::(\d{2}))?\s*(?:[-–]|to)\s*(\d{1,2})(?::(\d{2}))?$")
WANTED = "write days and hours, as in Mon–Fri 7:00–17:00, Sat 8:00–12:00"


@dataclass(frozen=True)
class ShopHours:
    """(day of the week from 0 for Monday, from, to [min of the day]), in order; none: always open."""

    open: tuple[tuple[int, int, int], ...] = ()

    def spans(self, start_s: float, end_s: float, zone: tzinfo) -> tuple[Span, ...]:
        """Stretches [epoch s] in which it is open between two moments, in its zone; hours go by the wall clock."""
        if not self.open:
            return ((start_s, end_s),)
        found, day = list[Span](), datetime.fromtimestamp(start_s, zone).date()
        while _at(day, 0, zone) < end_s:
            for weekday, begin, end in self.open:
                if weekday == day.weekday():
                    a, b = max(start_s, _at(day, begin, zone)), min(end_s, _at(day, end, zone))
                    found += [(a, b)] if b > a else []
            day += timedelta(days=1)
        return tuple(found)

    @property
    def text(self) -> str:
        """As it is typed: like days that follow each other in one."""
        by_day = {d: [(a, b) for day, a, b in self.open if day == d] for d in range(7)}
        said, d = list[str](), 0
        while d < 7:
            last = d
            while last < 6 and by_day[last + 1] == by_day[d]:
                last += 1
            days = DAYS[d] if last == d else f"{DAYS[d]}–{DAYS[last]}"
            said += [f"{days} {_clock(a)}–{_clock(b)}" for a, b in by_day[d]]
            d = last + 1
        return ", ".join(said)


def _at(day: date, minute: int, zone: tzinfo) -> float:
    at = datetime(day.year, day.month, day.day, tzinfo=zone) + timedelta(minutes=minute)
    return at.timestamp()


def _clock(minute: int) -> str:
    return f"{minute // 60}:{minute % 60:02d}"


def read(text: str) -> ShopHours:
    """Hours as they are typed; "" is always. Raises FieldError saying which part cannot be read."""
    found, days = list[tuple[int, int, int]](), ""
    for part in (p for p in re.split(r"[,;\n]", text) if p.strip()):
        match = _PART.match(part)
        if match:
            days, hours = f"{match[1]}–{match[2] or match[1]}", match[3]
        else:
            hours = part.strip()  # the same days once more, as in Mon–Fri 7–12, 13–17
        if not days:
            raise FieldError("open_hours", f"“{part.strip()[:40]}” cannot be read: {WANTED}")
        begin, end = _times(hours, part)
        first, last = (_day(name, part) for name in days.split("–"))
        found += [(d % 7, begin, end) for d in range(first, last + 1 if last >= first else last + 8)]
    return ShopHours(_apart(sorted(set(found))))


def _apart(rows: list[tuple[int, int, int]]) -> tuple[tuple[int, int, int], ...]:
    """Hours in order. Raises FieldError where two of a day overlap."""
    for (d, _, end), (e, begin, _) in itertools.pairwise(rows):
        if d == e and begin < end:
            raise FieldError("open_hours", f"hours of {DAYS[d]} overlap: {WANTED}")
    return tuple(rows)


def _times(hours: str, part: str) -> tuple[int, int]:
    """(from, to [min of the day]) of hours as they are typed."""
    times = _HOURS.match(hours)
    if times is None:
        raise FieldError("open_hours", f"“{part.strip()[:40]}” cannot be read: {WANTED}")
    begin, end = (int(times[i]) * 60 + int(times[i + 1] or 0) for i in (1, 3))
    if not 0 <= begin < end <= 24 * 60:
        raise FieldError("open_hours", f"“{part.strip()[:40]}” ends before it begins: {WANTED}")
    return begin, end


def _day(name: str, part: str) -> int:
    for number, day in enumerate(_LONG):
        if len(name) >= 2 and day.startswith(name.lower()):
            return number
    raise FieldError("open_hours", f"“{part.strip()[:40]}” names no day: {WANTED}")


_LONG = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
