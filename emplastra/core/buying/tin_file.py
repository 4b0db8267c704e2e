"""Tins that came in, one a line: a table with a header, and how much stands on a tin."""

import csv
import io
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Any

from ..units import UnitError, parse_quantity

COLUMNS = ("product", "part", "batch", "count", "size", "price", "came", "use by", "place", "kit")
"""The header's names; product, part and batch must be there."""
NEEDED = COLUMNS[:3]
MOST_LINES, MOST_COUNT = 2000, 100
SIZES = {"metric": "1 L, 750 mL, 2.5 kg", "us": "1 qt, 1 gal, 5 lb"}
"""Sizes as examples, by the workshop's units."""
_WANTED = {
    "count": f"must be a whole number from 1 to {MOST_COUNT}",
    "price": "must be a sum, for example 24.90",
    "came": "must be a day, for example 2026-05-12",
    "use by": "must be a day, for example 2026-05-12",
}


@dataclass(frozen=True)
class Line:
    """A line that was understood. amount: of each tin [unit: mL or g], None where none is told; part: its key."""

    product: str
    part: str
    batch: str
    count: int = 1
    amount: float | None = None
    unit: str = ""
    price: Decimal | None = None
    came: date | None = None
    use_by: date | None = None
    place: str = ""
    kit: str = ""


@dataclass(frozen=True)
class Problem:
    """What is wrong with a line: its number (the header is 1), the column, and what would be accepted."""

    line: int
    column: str
    words: str


def amount_of(text: str, system: str = "metric", none: bool = False) -> tuple[float, str]:
    """(value, "mL" or "g") of what stands on a tin: a volume or a mass with its unit; none: 0 is one too. Raises
    UnitError.
    """
    for dimension, unit in (("volume", "mL"), ("mass", "g")):
        try:
            parse_quantity(text, dimension, "", system)
        except UnitError:
            continue
        if not any(letter.isalpha() for letter in text):
            break
        value = parse_quantity(text, dimension, None, system).value
        if not (0 < value <= 1_000_000 or (none and value == 0)):
            raise UnitError("must be above 0 and at most 1000 L or 1000 kg")
        return value, unit
    raise UnitError(f"write it with its unit, for example {SIZES[system]}")


def read_tins(
    text: str, products: Mapping[str, Mapping[str, str]], places: frozenset[str], system: str = "metric"
) -> tuple[list[Line], list[Problem]]:
    """Lines of a table of tins, and what is wrong with it; nothing is to be taken while anything is wrong.

    products: {name: {key or name of a part, in small letters: its key}}; places: names that are known. Separated by
    commas or semicolons; dates as 2026-05-12.
    """
    try:
        rows = _rows(text)
    except csv.Error as error:
        return [], [Problem(1, "", f"this is no table: {error}")]
    header = [cell.lower() for cell in rows[0]] if rows else []
    missing = [name for name in NEEDED if name not in header]
    if missing:
        return [], [Problem(1, missing[0], f"the header must name {', '.join(COLUMNS)}; the first three are needed")]
    if len(rows) > MOST_LINES:
        return [], [Problem(MOST_LINES, "", f"at most {MOST_LINES} lines at once")]
    found: list[Line] = []
    problems: list[Problem] = []
    for number, row in enumerate(rows[1:], 2):
        if any(row):
            told = dict(zip(header, row, strict=False))
            line = _line(told, number, products, places, system, problems)
            found += [line] if line else []
    return found, problems


def _rows(text: str) -> list[list[str]]:
    """Cells of a table separated by commas or semicolons, blanks around them left out. Raises csv.Error."""
    separator = ";" if text.split("\n", 1)[0].count(";") >= 2 else ","
    return [[cell.strip() for cell in row] for row in csv.reader(io.StringIO(text), delimiter=separator)]


def _line(
    told: Mapping[str, str],
    number: int,
    products: Mapping[str, Mapping[str, str]],
    places: frozenset[str],
    system: str,
    problems: list[Problem],
) -> Line | None:
    """A Line of a row's texts, None where something is wrong: that is added to the problems."""
    before = len(problems)

    def wrong(column: str, words: str) -> None:
        problems.append(Problem(number, column, words))

    part = _part(told, products, wrong)
    batch, place = told.get("batch", ""), told.get("place", "")
    if not batch:
        wrong("batch", "write the batch number that stands on the tin")
    amount, unit = _size(told.get("size", ""), system, wrong)
    count, price, came, use_by = (_read(told.get(c, ""), c, wrong) for c in ("count", "price", "came", "use by"))
    if place and place not in places:
        wrong("place", f"must be one of {', '.join(sorted(places))}")
    if len(problems) > before:
        return None
    kit = told.get("kit", "")[:40]
    return Line(told["product"], part, batch[:40], count or 1, amount, unit, price, came, use_by, place, kit)


def _part(told: Mapping[str, str], products: Mapping[str, Mapping[str, str]], wrong: Callable[[str, str], None]) -> str:
    """The key of the part that a row names; "" for none, which is said."""
    parts = products.get(told.get("product", ""))
    if parts is None:
        wrong("product", f"no product on the shelf is called “{told.get('product', '')}”")
        return ""
    key = parts.get(told.get("part", "").lower(), "")
    if not key:
        wrong("part", f"must be one of {', '.join(sorted(parts))}")
    return key


def _size(text: str, system: str, wrong: Callable[[str, str], None]) -> tuple[float | None, str]:
    """(amount, unit) of a row; (None, "") for a blank, and for what is wrong, which is said."""
    if not text:
        return None, ""
    try:
        return amount_of(text, system)
    except UnitError as error:
        wrong("size", str(error))
        return None, ""


def _read(text: str, column: str, wrong: Callable[[str, str], None]) -> Any:
    """A count, a price or a day; None for a blank, and for what is wrong, which is said."""
    if not text:
        return None
    try:
        if column == "count":
            count = int(text)
            if not 1 <= count <= MOST_COUNT:
                raise ValueError
            return count
        if column == "price":
            price = Decimal(text.replace(",", "."))
            if not 0 <= price < 10**8:
                raise ValueError
            return price.quantize(Decimal("0.01"))
        return date.fromisoformat(text)
    except (ValueError, InvalidOperation):
        wrong(column, _WANTED[column])
        return None
