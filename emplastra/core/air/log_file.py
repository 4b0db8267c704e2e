"""Read a climate log of a known shape: good lines as readings, bad ones by number and reason."""

import csv
import io
import json
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, timedelta, tzinfo
from functools import lru_cache
from typing import Any, TypeGuard

from ..document import plain
from ..words import celsius_q
from .dewpoint import rh_pct
from .log_shape import CALENDAR, PARTS, STAMP, LogError, LogShape, clock_of, number

MAX_PROBLEMS = 50
AHEAD_S = 120.0
"""Readings further ahead of now than this are refused, but for a forecast's [s]."""
EARLIEST_S = 946684800.0
"""No reading is older than the year 2000 [epoch s]."""
_RANGES = {
    "air": (-45.0, 60.0, "°C"),
    "rh": (0.1, 100.0, "%"),
    "dew": (-60.0, 60.0, "°C"),
    "surface": (-45.0, 120.0, "°C"),
}
Sky = tuple[float | None, float | None]
"""(rain [mm in the hour], wind [m/s]), None where nobody told."""
SKY, SKY_MOST = ("rain", "wind"), 200.0
"""What a forecast may tell of the sky: rain [mm in the hour] and wind [m/s]; more is no figure."""
_NAMED = {"air": "air", "rh": "humidity", "dew": "dew point", "surface": "surface"}


@dataclass(frozen=True)
class LogRow:
    """A reading: moment [epoch s], air [°C], humidity [%], surface [°C]; of a forecast rain of the hour [mm] and wind
    [m/s]; None where it does not tell.
    """

    t_s: float
    air_c: float
    rh_pct: float
    surface_c: float | None
    rain_mm: float | None = None
    wind_m_s: float | None = None


@dataclass(frozen=True)
class LogRead:
    """What a log came to: readings by rising time, bad lines (number, why), how many more, blanks, repeats."""

    rows: tuple[LogRow, ...]
    problems: tuple[tuple[int, str], ...] = ()
    bad: int = 0
    blank: int = 0
    repeated: int = 0
    notes: tuple[str, ...] = field(default=())


def _lines(text: str, shape: LogShape) -> list[tuple[int, list[str]]]:
    """(number, cells) of every line after the header, the oldest first. Raises LogError."""
    try:
        lines = list(enumerate(csv.reader(io.StringIO(text), delimiter=shape.separator), 1))[shape.header_line :]
    except csv.Error as error:
        raise LogError([(0, f"this is no table of text: {error}")]) from error
    return lines[::-1] if shape.newest_first else lines


def read_log(text: str, shape: LogShape, zone: tzinfo | None, now_s: float, ahead_s: float = AHEAD_S) -> LogRead:
    """Every reading of a log that can be read.

    zone: of the stamps where they do not say their offset; an hour that summer time doubles is told
    apart by the order of the lines. now_s [epoch s]; ahead_s: how far ahead readings may lie [s].
    Raises LogError if nothing can be read.
    """
    lines = _lines(text, shape)
    need, state = max(shape.at.values()) + 1, _State()
    for line, cells in lines:
        if not any(cell.strip() for cell in cells):
            state.blank += bool(cells)
            continue
        try:
            if len(cells) < need:
                raise ValueError(f"has {len(cells)} columns, the header needs {need}")
            row = _row(cells, shape, zone, state.last_naive, state.last_fold)
            if row is None:
                state.blank += 1
            else:
                in_time(row[0].t_s, now_s, ahead_s)
                state.take(*row)
        except (ValueError, OverflowError, OSError) as error:
            state.problems.append((line, str(error)))
    if not state.rows:
        raise LogError(sorted(state.problems)[:MAX_PROBLEMS] or [(0, "the file has a header but no readings")])
    problems = sorted(state.problems)
    return LogRead(tuple(state.rows), tuple(problems[:MAX_PROBLEMS]), len(problems), state.blank, state.repeated)


def _hourly(text: str) -> tuple[list[list[object]], bool, list[Sky]]:
    """(times, air, humidity or dew point; whether these are dew points; rain and wind of each hour).

    Raises ValueError, KeyError, TypeError.
    """
    hourly = plain(json.loads(text))["hourly"]
    is_dew = "dew_c" in hourly
    lists = [hourly["time"], hourly["air_c"], hourly["dew_c" if is_dew else "rh_pct"]]
    if not all(isinstance(each, list) for each in lists) or len({len(each) for each in lists}) != 1 or not lists[0]:
        raise ValueError("time, air_c and rh_pct or dew_c must be lists of one length")
    return lists, is_dew, _sky_of(hourly, len(lists[0]))


def read_hours(text: str, now_s: float, ahead_s: float) -> LogRead:
    """Hours from JSON: {"hourly": {"time": [with offset], "air_c": [°C], "rh_pct": [%] or "dew_c": [°C]}}; beside them
    "rain_mm" and "wind_m_s", where they are told.

    now_s [epoch s]; ahead_s: how far ahead they may lie [s]. Raises LogError naming the first hour that cannot be.
    """
    try:
        lists, is_dew, sky = _hourly(text)
    except (ValueError, KeyError, TypeError, RecursionError) as error:
        reason = f"this JSON is no forecast: “hourly” needs time, air_c and rh_pct or dew_c ({str(error)[:120]})"
        raise LogError([(0, reason)]) from error
    rows: list[LogRow] = []
    for n, (stamp, air, humid) in enumerate(zip(*lists, strict=True), 1):
        try:
            rows.append(replace(_hour(stamp, air, humid, is_dew), rain_mm=sky[n - 1][0], wind_m_s=sky[n - 1][1]))
            in_time(rows[-1].t_s, now_s, ahead_s)
            if n > 1 and rows[-1].t_s <= rows[-2].t_s:
                raise ValueError("hours must rise")
        except (ValueError, OverflowError) as error:
            raise LogError([(n, f"hour {n}: {error}")]) from error
    return LogRead(tuple(rows))


def _sky_of(hourly: dict[str, Any], count: int) -> list[Sky]:
    """(rain, wind) of so many hours, None where it is not told."""
    found = []
    for name in ("rain_mm", "wind_m_s"):
        values = hourly.get(name)
        told = values if isinstance(values, list) and len(values) == count else [None] * count
        found.append([float(v) if _is_number(v) and 0 <= v <= SKY_MOST else None for v in told])
    return list(zip(*found, strict=True))


def _is_number(value: object) -> TypeGuard[int | float]:
    return isinstance(value, (int, float)) and not isinstance(value, bool)


def _hour(stamp: object, air: object, humid: object, is_dew: bool) -> LogRow:
    moment = datetime.fromisoformat(stamp) if isinstance(stamp, str) else None
    if moment is None or moment.tzinfo is None:
        raise ValueError(f"time {str(stamp)[:30]!r}: write it with its offset, as in 2026-05-12T09:00+02:00")
    if not _is_number(air) or not _is_number(humid):
        raise ValueError(f"air {str(air)[:20]!r} and humidity or dew point {str(humid)[:20]!r} must be numbers")
    in_range("air", air)
    in_range("dew" if is_dew else "rh", humid)
    if is_dew and humid > air + 0.5:
        raise ValueError(f"dew point {celsius_q(humid)} lies above the air’s {celsius_q(air)}")
    rh = float(rh_pct(air, min(humid, air))) if is_dew else float(humid)
    return LogRow(moment.timestamp(), float(air), rh, None)


def in_time(t_s: float, now_s: float, ahead_s: float = AHEAD_S) -> None:
    """Raises ValueError for a moment [epoch s] further ahead of now than `ahead_s` [s], or before the year 2000."""
    if t_s > now_s + ahead_s:
        raise ValueError("time lies in the future")
    if t_s < EARLIEST_S:
        raise ValueError("time lies before the year 2000")


def in_range(name: str, value: float, shown: str = "") -> None:
    """Raises ValueError for a value of air, rh, dew or surface [°C, %] that no place has."""
    low, high, unit = _RANGES[name]
    if not low <= value <= high:
        raise ValueError(f"{_NAMED[name]} {shown or format(value, 'g')} must lie from {low:g} to {high:g} {unit}")


class _State:
    """What is known while lines are read in order."""

    def __init__(self) -> None:
        self.rows: list[LogRow] = []
        self.problems: list[tuple[int, str]] = []
        self.blank = self.repeated = 0
        self.last_naive: datetime | None = None
        self.last_fold = 0

    def take(self, row: LogRow, naive: datetime | None, fold: int) -> None:
        """Add a reading. Raises ValueError if its time goes back or it contradicts the one before."""
        if self.rows and row.t_s == self.rows[-1].t_s:
            if row != self.rows[-1]:
                raise ValueError("has the time of the line before and other values: the first is kept")
            self.repeated += 1
            return
        if self.rows and row.t_s < self.rows[-1].t_s:
            raise ValueError("time goes back: it must be later than the line before")
        self.rows.append(row)
        self.last_naive, self.last_fold = naive, fold


def _row(
    cells: list[str], shape: LogShape, zone: tzinfo | None, last: datetime | None, last_fold: int
) -> tuple[LogRow, datetime | None, int] | None:
    """A reading with its local time and fold; None for a line without values."""
    values = {name: _value(cells[i], name, shape) for name, i in shape.columns if name in _RANGES}
    if values["air"] is None or (values.get("rh") is None and values.get("dew") is None):
        return None
    moment, naive, fold = _moment(cells, shape, zone, last, last_fold)
    air, humid, dew = values["air"], values.get("rh"), values.get("dew")
    if humid is None and dew is not None:
        if dew > air + 0.5:
            raise ValueError(f"dew point {celsius_q(dew, digits=1)} lies above the air’s {celsius_q(air, digits=1)}")
        humid = float(rh_pct(air, min(dew, air)))
    sky = {name: _of_sky(cells[i], shape) for name, i in shape.columns if name in SKY}
    row = LogRow(moment.timestamp(), air, humid or 0.1, values.get("surface"), sky.get("rain"), sky.get("wind"))
    return row, naive, fold


def _of_sky(text: str, shape: LogShape) -> float | None:
    """Rain or wind of a cell, None for what is none."""
    try:
        value = number(text, shape.decimal)
    except ValueError:
        return None
    return value if value is not None and 0 <= value <= SKY_MOST else None


def _value(text: str, name: str, shape: LogShape) -> float | None:
    try:
        value = number(text, shape.decimal)
    except ValueError:
        raise ValueError(f"{_NAMED[name]} “{text.strip()[:20]}” is not a number") from None
    if value is None:
        return None
    if name == "rh" and shape.rh_form == "fraction":
        value *= 100.0
    if name != "rh" and shape.air_unit == "F":
        value = (value - 32.0) / 1.8
    in_range(name, value, text.strip()[:20])
    return value


def _moment(
    cells: list[str], shape: LogShape, zone: tzinfo | None, last: datetime | None, last_fold: int
) -> tuple[datetime, datetime | None, int]:
    """The moment of a line (UTC), its local time and fold where it is local."""
    at = shape.at
    if shape.date_form == "epoch":
        stamp = int(cells[at["time"]])
        return datetime.fromtimestamp(stamp / 1000 if stamp > 10**11 else stamp, UTC), None, 0
    if "year" in at:
        parts = [int(float(cells[at[name]])) if name in at else 0 for name in CALENDAR]
        naive = datetime(parts[0], parts[1], parts[2]) + timedelta(hours=parts[3], minutes=parts[4])
        return _resolve(naive, zone, last, last_fold)
    naive, offset = _stamp(cells[at["time"]] if "time" in at else f"{cells[at['date']]} {cells[at['clock']]}", shape)
    if offset:
        return naive.replace(tzinfo=_offset(offset)).astimezone(UTC), None, 0
    return _resolve(naive, zone, last, last_fold)


def _stamp(text: str, shape: LogShape) -> tuple[datetime, str]:
    """A written time as it reads, and its offset as it is written, "" if it is not."""
    match = STAMP.match(text)
    if not match:
        raise ValueError(f"time “{text.strip()[:30]}” is not understood: write 2026-05-12T09:40:00+02:00")
    written = [match[key] for key in PARTS[shape.date_form]]
    year, month, day = map(int, written)
    year += 2000 if len(written[0]) <= 2 else 0
    hour, minute = clock_of(match)
    try:
        naive = datetime(year, month, day) + timedelta(hours=hour, minutes=minute, seconds=int(match["s"] or 0))
    except ValueError:
        raise ValueError(f"there is no such day as “{text.strip()[:30]}”") from None
    return naive, match["offset"] or ""


@lru_cache(maxsize=200)
def _offset(text: str) -> tzinfo:
    if text.lower() in {"z", "utc", "gmt"}:
        return UTC
    found = datetime.strptime(text.replace(":", ""), "%z").tzinfo
    return found or UTC


def _resolve(
    naive: datetime, zone: tzinfo | None, last: datetime | None, last_fold: int
) -> tuple[datetime, datetime, int]:
    """A local time in its zone. A doubled hour is the second one once the lines have gone back or passed it."""
    if zone is None:
        raise ValueError(f"time “{naive:%Y-%m-%d %H:%M}” has no offset from UTC, and no time zone is given")
    first, second = (naive.replace(tzinfo=zone, fold=fold) for fold in (0, 1))
    if first.astimezone(UTC).astimezone(zone).replace(tzinfo=None) != naive:
        raise ValueError(f"{naive:%H:%M} does not exist on {naive:%d %B %Y}: summer time begins")
    fold = 0
    if first.utcoffset() != second.utcoffset() and last is not None:
        same_hour = last.replace(minute=0, second=0) == naive.replace(minute=0, second=0)
        fold = 1 if naive <= last or (same_hour and last_fold) else 0
    return (second if fold else first).astimezone(UTC), naive, fold
