"""What a sheet answers at a temperature: the questions that a bench asks of a tin, each with what it rests on."""

from collections.abc import Iterator
from dataclasses import dataclass

from ..words import film_q
from ..working import Basis, Unknown
from .sheet import Sheet, Window
from .spoken import duration
from .tables import TimeTable

STILL = "stands still"


@dataclass(frozen=True)
class Answer:
    """A question, its answer in words ("" where it cannot be said), and what it rests on. where: field of the form."""

    where: str
    question: str
    text: str
    basis: Basis = Basis.SHEET

    @property
    def is_said(self) -> bool:
        """True if there is an answer."""
        return bool(self.text)


def time_at(table: TimeTable, temp_c: float, rh_pct: float = 50.0) -> str:
    """A time of a table at a temperature [°C] and humidity [%] in words, rounded as it can be read: 2 h 20."""
    minutes = table.minutes_at(temp_c, rh_pct)
    if minutes is None:
        return STILL
    step = 1.0 if minutes < 90 else 5.0 if minutes < 600 else 30.0 if minutes < 2880 else 720.0
    return duration(max(1.0, round(minutes / step) * step))


def basis_at(table: TimeTable, temp_c: float) -> Basis:
    """What a time at a temperature [°C] rests on: the sheet's own point, between and beyond them an estimate."""
    if table.assumed:
        return Basis.ASSUMED
    points = table.points or table.rows[0][1]
    return Basis.SHEET if any(abs(temp_c - t) < 1e-6 for t, _ in points) else Basis.ESTIMATED


def answers(sheet: Sheet, temp_c: float) -> tuple[Answer, ...]:
    """What a bench asks of a product at a temperature [°C], in the order of the work."""
    return tuple(_all(sheet, temp_c))


def _all(sheet: Sheet, temp_c: float) -> Iterator[Answer]:
    if sheet.form == "mixed":
        ratios = dict.fromkeys(f"{v.ratio_text} by {v.by}" for v in sheet.variants)
        yield Answer("ratio", "Mix", ", or ".join(ratios))
        yield _timed("pot_life", "Pot lives", sheet.pot_life, temp_c)
    if "contact" in sheet.times:
        yield _timed("contact", "Keep wet for", sheet.times["contact"], temp_c)
    if sheet.aim_um is not None:
        yield Answer("film", "Dry film a coat", film_q(sheet.aim_um), sheet.basis("film"))
    window = sheet.window_for(sheet.product, sheet.kind)
    if window is not None:
        yield from of_window(window, temp_c)
    for name, question in (("flash", "Flash over after"), ("sandable", "Sandable after"), ("cure", "Cured after")):
        if name in sheet.times:
            yield _timed(name, question, sheet.times[name], temp_c)


def _timed(where: str, question: str, table: TimeTable | None, temp_c: float) -> Answer:
    if table is None:
        return Answer(where, question, "")
    return Answer(where, question, time_at(table, temp_c), basis_at(table, temp_c))


def of_window(window: Window, temp_c: float) -> Iterator[Answer]:
    """From when and until when at a temperature [°C], of each stretch."""
    for n, (opens, closes) in enumerate(window.stretches):
        again = "Again after" if n else "Coat again after"
        yield _timed("recoat", again, None if isinstance(opens, Unknown) else opens, temp_c)
        if closes is None:
            yield Answer("recoat", "Until", "no limit")
        else:
            yield _timed("recoat", "Until", None if isinstance(closes, Unknown) else closes, temp_c)
