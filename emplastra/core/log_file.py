"""Read a climate log: comma-separated, with a header, times with their offset from UTC.

Columns by name, in any order: time, air_c, rh_pct and, if there is one, surface_c.
"""

import csv
import io
from dataclasses import dataclass
from datetime import datetime

MAX_BYTES = 5_000_000
MAX_PROBLEMS = 20
COLUMNS = ("time", "air_c", "rh_pct", "surface_c")
_RANGES = {"air_c": (-45.0, 60.0, "°C"), "rh_pct": (0.1, 100.0, "%"), "surface_c": (-45.0, 120.0, "°C")}


class LogError(ValueError):
    """The file is no climate log. `problems`: (line number, message), line 0 for the whole file."""

    def __init__(self, problems: list[tuple[int, str]]) -> None:
        super().__init__("; ".join(f"line {line}: {text}" for line, text in problems))
        self.problems = problems


@dataclass(frozen=True)
class LogRow:
    """A reading: moment [epoch s], air [°C], humidity [%], surface [°C] or None."""

    t_s: float
    air_c: float
    rh_pct: float
    surface_c: float | None


def decode(data: bytes) -> str:
    """Bytes as text: UTF-8, else Windows-1252. Raises LogError if too large or not text."""
    if len(data) > MAX_BYTES:
        raise LogError([(0, f"the file is larger than {MAX_BYTES // 1_000_000} MB")])
    if b"\x00" in data:
        raise LogError([(0, "this is not a text file: a CSV with columns time, air_c, rh_pct is wanted")])
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("cp1252", errors="replace")


def read_log(text: str, now_s: float) -> tuple[LogRow, ...]:
    """Every reading of a log, by rising time. Nothing comes back if a line is bad.

    now_s [epoch s]: readings more than 2 minutes ahead of it are refused. Raises LogError with
    the number of each bad line (at most 20).
    """
    lines = csv.reader(io.StringIO(text))
    header = [name.strip().lower() for name in next(lines, [])]
    missing = [name for name in COLUMNS[:3] if name not in header]
    if missing:
        found = ", ".join(header)[:80] or "nothing"
        raise LogError([(1, f"the header must name time, air_c and rh_pct (surface_c if logged); it names {found}")])
    place = {name: header.index(name) for name in COLUMNS if name in header}
    rows: list[LogRow] = []
    problems: list[tuple[int, str]] = []
    for cells in lines:
        if not any(cell.strip() for cell in cells):
            continue
        try:
            row = _row(cells, place)
            if row.t_s > now_s + 120:
                raise ValueError("time lies in the future")
            if rows and row.t_s <= rows[-1].t_s:
                raise ValueError("time must be later than the line before")
            rows.append(row)
        except ValueError as error:
            problems.append((lines.line_num, str(error)))
            if len(problems) >= MAX_PROBLEMS:
                break
    if not rows and not problems:
        problems = [(0, "the file has a header but no readings")]
    if problems:
        raise LogError(problems)
    return tuple(rows)


def _row(cells: list[str], place: dict[str, int]) -> LogRow:
    if len(cells) <= max(place.values()):
        raise ValueError(f"has {len(cells)} columns, the header needs {max(place.values()) + 1}")
    stamp = cells[place["time"]].strip()
    try:
        moment = datetime.fromisoformat(stamp)
    except ValueError:
        raise ValueError(f"time “{stamp[:30]}” is not understood: write 2026-05-12T09:40:00+02:00") from None
    if moment.tzinfo is None:
        raise ValueError(f"time “{stamp[:30]}” has no offset from UTC: write 2026-05-12T09:40:00+02:00")
    surface = _number(cells, place, "surface_c") if "surface_c" in place and cells[place["surface_c"]].strip() else None
    air, rh = _number(cells, place, "air_c"), _number(cells, place, "rh_pct")
    return LogRow(moment.timestamp(), air, rh, surface)


def _number(cells: list[str], place: dict[str, int], name: str) -> float:
    text = cells[place[name]].strip()
    low, high, unit = _RANGES[name]
    try:
        value = float(text)
    except ValueError:
        raise ValueError(f"{name} “{text[:20]}” is not a number") from None
    if not low <= value <= high:
        raise ValueError(f"{name} {text[:20]} must lie from {low:g} to {high:g} {unit}")
    return value
