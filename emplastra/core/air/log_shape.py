"""Recognise the shape of a climate log: separator, decimals, columns, units, dates.

What a file shows is recognised and said; what it cannot show (its time zone, day before month or
after) is asked. Nothing is guessed in silence.
"""

import csv
import io
import itertools
import re
from dataclasses import dataclass, field

from ..text import TextError, text_of

SEPARATORS = (";", "\t", ",", "|")
_LOOKED_AT = 400
"""Lines that are looked at to recognise a shape."""
HOT_C = 60.0
"""An air temperature over this is not one in °C."""
_BLANK = {"", "-", "--", "---", "na", "n/a", "nan", "null", "none", "m"}
"""What loggers write for no value."""
_NAMES: dict[str, tuple[str, ...]] = {
    "dew": ("dew", "taupunkt", "point de ros"),
    "surface": ("surface", "metal", "oberfl", "probe", "panel"),
    "rh": ("rh", "r.h", "humid", "hum", "feuchte", "rel. f", "relative"),
    "air": ("temp", "air", "lufttemp", "t_", "t (", "°c", "°f"),
    "time": ("time_hour", "timestamp", "datetime", "date time", "date/time", "date_time", "zeitstempel", "date", "datum", "recorded", "time", "zeit", "moment"),
}  # fmt: skip
_WHOLE = {"air": {"t", "c", "f", "air"}, "rh": {"h", "rh", "u"}}
_SKY = {"rain_mm": "rain", "wind_m_s": "wind"}
CALENDAR = ("year", "month", "day", "hour", "minute")
DATE_FORMS = {"iso": "year-month-day", "dmy": "day.month.year", "mdy": "month/day/year", "epoch": "seconds since 1970"}
PARTS = {"iso": ("a", "b", "c"), "dmy": ("c", "b", "a"), "mdy": ("c", "a", "b")}
"""Which part of a stamp is the year, the month and the day, by the form of its date."""
STAMP = re.compile(
    r"\s*(?P<a>\d{1,4})[-./](?P<b>\d{1,2})[-./](?P<c>\d{2,4})(?:[T ,]+(?P<h>\d{1,2})[:.h](?P<m>\d{2})(?:[:.](?P<s>\d{2})(?:[.,]\d+)?)?"
    r"\s*(?P<half>[ap]\.?m\.?)?)?\s*(?P<offset>z|utc|gmt|[+-]\d{2}:?\d{2})?\s*$",
    re.I,
)


class LogError(ValueError):
    """The file is no climate log. `problems`: (line number, message), line 0 for the whole file."""

    def __init__(self, problems: list[tuple[int, str]]) -> None:
        super().__init__("; ".join(f"line {line}: {text}" for line, text in problems))
        self.problems = problems


@dataclass(frozen=True)
class LogShape:
    """How a log is to be read.

    columns: index by what is in it (time, or date and clock, or year, month, day, hour; air, rh or
    dew, surface); air_unit "C" or "F"; rh_form "percent" or "fraction"; date_form a key of
    DATE_FORMS; has_offset: the stamps say how far they are from UTC.
    """

    separator: str
    decimal: str
    header_line: int
    columns: tuple[tuple[str, int], ...]
    names: tuple[str, ...]
    date_form: str
    has_offset: bool
    air_unit: str
    rh_form: str
    newest_first: bool = False

    @property
    def at(self) -> dict[str, int]:
        """Column index by what is in it."""
        return dict(self.columns)


@dataclass(frozen=True)
class Recognised:
    """A shape, what was recognised in words, and what has to be asked ("zone", "date_form", "air_unit")."""

    shape: LogShape
    said: tuple[str, ...]
    asked: tuple[str, ...] = field(default=())


def decode(data: bytes) -> str:
    """Bytes as text: UTF-8, else Windows-1252. Raises LogError if too large or not text."""
    try:
        return text_of(data, "a CSV with time, temperature and humidity")
    except TextError as error:
        raise LogError([(0, str(error))]) from error


def number(text: str, decimal: str = ".") -> float | None:
    """A number with its unit left out, None for a blank. Raises ValueError if it is none."""
    bare = text.strip().strip("°CF%rRhH \u00a0").strip()
    if bare.lower() in _BLANK:
        return None
    return float(bare.replace(",", ".") if decimal == "," else bare)


def recognise(text: str) -> Recognised:
    """The shape of a log. Raises LogError if its columns cannot be told."""
    whole = text.splitlines()
    # The beginning, and lines from all over the file: a year's first week does not show its unit.
    lines = whole[:_LOOKED_AT] + whole[_LOOKED_AT :: max(1, len(whole) // _LOOKED_AT)]
    try:
        return _recognised(lines)
    except csv.Error as error:
        raise LogError([(0, f"this is no table of text: {error}")]) from error


def _recognised(lines: list[str]) -> Recognised:
    header, separator, columns, cells = _header(lines)
    rows = list(csv.reader(io.StringIO("\n".join(lines[header + 1 :])), delimiter=separator))
    rows = [row for row in rows if len(row) > max(columns.values())]
    if not rows:
        raise LogError([(0, "the file has a header but no readings")])
    return _described(separator, header, columns, cells, rows)


def _header(lines: list[str]) -> tuple[int, str, dict[str, int], list[str]]:
    """(number of the header from 0, separator, columns, its cells): that which names most. Raises LogError."""
    best: tuple[int, str, dict[str, int], list[str]] | None = None
    for separator in SEPARATORS:
        for i, line in enumerate(lines[:30]):
            cells = next(csv.reader([line], delimiter=separator), [])
            columns = _columns(cells)
            if _is_enough(columns) and (best is None or len(columns) > len(best[2])):
                best = i, separator, columns, cells
    if best is None:
        found = lines[0][:80] if lines else "nothing"
        raise LogError(
            [(1, f"no header names a time, an air temperature and a humidity or dew point; it says: {found}")]
        )
    return best


def _is_enough(columns: dict[str, int]) -> bool:
    """True if they tell a time, the air and its humidity or dew point."""
    return "air" in columns and bool({"rh", "dew"} & set(columns)) and _has_time(columns)


def _has_time(columns: dict[str, int]) -> bool:
    return "time" in columns or set(CALENDAR[:4]) <= set(columns) or {"date", "clock"} <= set(columns)


def _meant(name: str) -> str:
    """What a column of this name holds, "" if nothing that is known."""
    if name in CALENDAR:
        return name
    if name in _SKY:
        return _SKY[name]
    for what, words in _NAMES.items():
        if name in _WHOLE.get(what, ()) or any(name.startswith(word) or f" {word}" in name for word in words):
            return what
    return ""


def _columns(cells: list[str]) -> dict[str, int]:
    """What each column holds, by its name; the first that fits."""
    found: dict[str, int] = {}
    names = [cell.strip().strip('"').lower() for cell in cells]
    for i, name in enumerate(names):
        what = _meant(name)
        if what:
            found.setdefault(what, i)
    apart = _date_and_clock(names)
    if apart and "year" not in found:
        found.pop("time", None)
        found |= apart
    if "time" in found:
        for name in CALENDAR:
            found.pop(name, None)
    return found


def _date_and_clock(names: list[str]) -> dict[str, int]:
    """Columns of a date and of its clock, where no other has both."""
    if set(names) & {"timestamp", "datetime", "time_hour"}:
        return {}
    dates = [i for i, name in enumerate(names) if name in {"date", "datum", "day"}]
    clocks = [i for i, name in enumerate(names) if name in {"time", "zeit", "uhrzeit", "clock", "hour"}]
    return {"date": dates[0], "clock": clocks[0]} if dates and clocks else {}


def _described(
    separator: str, header: int, columns: dict[str, int], cells: list[str], rows: list[list[str]]
) -> Recognised:
    said, asked = [f"separated by {_SPOKEN[separator]}"], list[str]()
    decimal = _decimal(separator, columns, rows)
    said.append(f"decimal {'comma' if decimal == ',' else 'point'}")
    date_form, has_offset, newest_first = _times(columns, rows, asked)
    if "date_form" not in asked:
        said.append("times with their offset from UTC" if has_offset else f"dates as {DATE_FORMS[date_form]}")
    if not has_offset and date_form != "epoch":
        asked.append("zone")
    air_unit = _unit(cells[columns["air"]], _numbers(rows, columns["air"], decimal), said, asked)
    rh_form = _humidity(_numbers(rows, columns["rh"], decimal) if "rh" in columns else [], said)
    if newest_first:
        said.append("newest line first")
    names = tuple(cells[i].strip() for i in columns.values())
    shape = LogShape(
        separator,
        decimal,
        header + 1,
        tuple(columns.items()),
        names,
        date_form,
        has_offset,
        air_unit,
        rh_form,
        newest_first,
    )
    return Recognised(shape, tuple(said), tuple(dict.fromkeys(asked)))


def _humidity(values: list[float], said: list[str]) -> str:
    """The form of the humidity, by what the values can be."""
    if not values:
        said.append("humidity from the dew point")
        return "percent"
    is_share = max(values) <= 1.0
    said.append(f"humidity in {'shares of 1' if is_share else '%'}")
    return "fraction" if is_share else "percent"


def _decimal(separator: str, columns: dict[str, int], rows: list[list[str]]) -> str:
    """The decimal sign: a comma where most figures have one and it does not part the columns."""
    values = [row[columns[name]] for row in rows for name in ("air", "rh", "dew") if name in columns]
    return "," if separator != "," and sum("," in v for v in values) > len(values) / 2 else "."


_SPOKEN = {";": "semicolons", "\t": "tabs", ",": "commas", "|": "bars"}


def _numbers(rows: list[list[str]], column: int, decimal: str) -> list[float]:
    found = []
    for row in rows:
        try:
            value = number(row[column], decimal)
        except ValueError:
            continue
        found += [] if value is None else [value]
    return found


def _unit(name: str, values: list[float], said: list[str], asked: list[str]) -> str:
    """The unit of the air: by its column's name, else by what the values can be."""
    lower = name.lower()
    if re.search(r"°\s*f|\bf\b|_f\b|\(f\)|\[f\]|fahrenheit|degf", lower):
        said.append("temperature in °F")
        return "F"
    if re.search(r"°\s*c|\bc\b|_c\b|\(c\)|\[c\]|celsius|degc", lower):
        said.append("temperature in °C")
        return "C"
    if values and max(values) > HOT_C:
        said.append(f"temperature in °F, since it reaches {max(values):g}")
        return "F"
    ordered = sorted(values)
    if ordered and ordered[len(ordered) // 2] > 35:
        asked.append("air_unit")
        return "F"
    said.append("temperature in °C, as no unit is named and the values fit")
    return "C"


def _times(columns: dict[str, int], rows: list[list[str]], asked: list[str]) -> tuple[str, bool, bool]:
    """(date form, stamps with an offset, newest first); asks for the form where days and months cannot be told
    apart.
    """
    if "year" in columns:
        return "iso", False, _falls([tuple(row[columns[n]].rjust(4, "0") for n in CALENDAR[:4]) for row in rows])
    cells = _stamps(columns, rows)
    if all(re.fullmatch(r"\d{9,13}", cell) for cell in cells):
        return "epoch", True, _falls([int(cell) for cell in cells])
    return _written(cells, asked)


def _written(cells: list[str], asked: list[str]) -> tuple[str, bool, bool]:
    """The same of stamps that are written as dates."""
    found = list(filter(None, map(STAMP.match, cells)))
    if not found:
        return "iso", False, False
    form = "iso" if all(len(m["a"]) == 4 for m in found) else _day_or_month_first(found, cells, asked)
    keys = [(*(int(m[k]) for k in PARTS[form]), *clock_of(m), int(m["s"] or 0)) for m in found]
    return form, all(m["offset"] for m in found), _falls(keys)


def _stamps(columns: dict[str, int], rows: list[list[str]]) -> list[str]:
    """Each row's time as text, from one column or from two."""
    if "time" in columns:
        return [row[columns["time"]].strip() for row in rows]
    return [f"{row[columns['date']]} {row[columns['clock']]}".strip() for row in rows]


def _day_or_month_first(found: list[re.Match], cells: list[str], asked: list[str]) -> str:
    """ "dmy" or "mdy"; asks where no day is over 12 and no dots tell."""
    first, second = (max(int(m[k]) for m in found) for k in ("a", "b"))
    if first <= 12 and second <= 12 and not all("." in cell for cell in cells):
        asked.append("date_form")
    return "mdy" if second > 12 else "dmy"


def clock_of(match: re.Match) -> tuple[int, int]:
    """Hour and minute of a stamp on 24 h."""
    hour = int(match["h"] or 0)
    if match["half"]:
        hour = hour % 12 + (12 if match["half"].lower().startswith("p") else 0)
    return hour, int(match["m"] or 0)


def _falls(keys: list) -> bool:
    """True if most steps go back: the newest line is first."""
    back = sum(b < a for a, b in itertools.pairwise(keys))
    on = sum(b > a for a, b in itertools.pairwise(keys))
    return back > on
