"""What a form says back while it is typed: each field as it was understood, and the answers that follow."""

from dataclasses import dataclass, field

from emplastra.core.document import DocumentError
from emplastra.core.product import entry
from emplastra.core.product.answers import answers, basis_at, time_at
from emplastra.core.product.asks import KINDS
from emplastra.core.product.label import AT_C
from emplastra.core.product.sheet import SheetError, read
from emplastra.core.product.tables import TimeTable
from emplastra.core.words import celsius_q
from emplastra.core.working import Unknown

from .curves import Line, curve

TIMED = {
    "pot_life": "Pot life", "induction": "Wait after stirring", "flash": "Flash", "sandable": "Sandable", "cure": "Cured", "contact": "Keep wet",
    "dust_free": "Dust-free", "touch": "Dry to touch", "handle": "Handled", "ready_to_weld": "Ready to weld",
}  # fmt: skip


@dataclass
class Said:
    """What stands under a field: error, question, words, a curve; state: told, assumed, untold or wrong."""

    name: str
    state: str
    error: str = ""
    question: str = ""
    words: str = ""
    basis: str = ""
    picture: str = ""


@dataclass
class Reading:
    """All of it: what is said of each field, the answers, and how many fields of the label cannot be said."""

    said: dict
    answers: tuple = ()
    untold: list = field(default_factory=list)
    told: int = 0
    count: int = 0
    temp_c: float | None = None
    strata: list = field(default_factory=list)


def sheet_for(document):
    """The sheet of a document as typed, None while it is not sound."""
    try:
        return read({"date": "2000-01-01", **document})
    except (SheetError, DocumentError, ValueError):
        return None


def reading_of(form, temp_c):
    """What is said back of a ProductForm. temp_c: at the place in view, None where no air is known."""
    made = form.made
    sheet, system = sheet_for(made.document), form.workshop.units
    said = {name: _said(name, made, sheet, temp_c, system) for name in (*form.texts, *form.more)}
    found = Reading(said, temp_c=temp_c)
    found.untold = [name for name in form.texts if said[name].state == "untold"]
    found.told, found.count = len(form.texts) - len(found.untold), len(form.texts)
    if sheet is not None:
        found.answers = answers_here(sheet, temp_c)
    names = [name for name in form.texts if name != "shelf"]
    found.strata = [(entry.FIELDS[name].label, said[name].state, KINDS[form.kind].hatch) for name in names]
    return found


def _said(name, made, sheet, temp_c, system):
    if name in made.errors:
        return Said(name, "wrong", error=made.errors[name])
    state = "assumed" if name in made.assumed else "told" if name in made.told else "untold"
    found = Said(name, state, question=made.questions.get(name, ""))
    if sheet is None or state == "untold":
        return found
    if name in TIMED:
        _timed(found, name, sheet, temp_c, system)
    elif name == "recoat":
        _window(found, sheet, temp_c, system)
    elif name == "ratio":
        found.words = "; ".join(f"{v.ratio_text} by {v.by}, {v.name}" for v in sheet.variants)
    return found


def answers_here(sheet, temp_c):
    """What a sheet answers at the temperature here, at a label's where no air is known."""
    return answers(sheet, AT_C if temp_c is None else temp_c)


def tables_of(sheet):
    """{field: its times} of a sheet; None where it tells none."""
    return {"pot_life": sheet.pot_life, "induction": sheet.induction, **sheet.times}


def timed_curve(name, table, temp_c, system):
    """A time drawn over temperature: one that ends something stands as a close."""
    role = "closes" if name == "pot_life" else "time"
    return curve([Line(table, role, TIMED.get(name, name))], temp_c, system)


def _timed(found, name, sheet, temp_c, system):
    table = tables_of(sheet).get(name)
    if table is None:
        found.words = "none" if name == "induction" and sheet.no_induction else ""
        return
    if temp_c is not None:
        found.words, found.basis = (
            f"{time_at(table, temp_c)} at {celsius_q(temp_c, digits=1)} here",
            basis_at(table, temp_c).name.lower(),
        )
    found.picture = timed_curve(name, table, temp_c, system)


def _window(found, sheet, temp_c, system):
    row = sheet.window_for("", "")
    if row is None:
        return
    found.picture = window_curve(row, temp_c, system)


def window_curve(row, temp_c, system):
    """A window drawn over temperature."""
    untold = isinstance(row.stretches[-1][1], Unknown)
    return curve(window_lines(row), temp_c, system, untold)


def window_lines(row):
    """Curves of a window's stretches, those that are told."""
    lines = []
    for n, (opens, closes) in enumerate(row.stretches):
        again = ", again" if n else ""
        lines += [Line(opens, "opens", f"Coat again after{again}")] if isinstance(opens, TimeTable) else []
        lines += [Line(closes, "closes", f"Until{again}")] if isinstance(closes, TimeTable) else []
    return lines
