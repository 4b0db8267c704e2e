"""What lies on what: the table of kinds over kinds, and what sheets say of substrates.

The table is a file to be read (kinds.yaml); the sheets of what comes and of what lies there come before it.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources
from typing import Any

import yaml

from ..product.abrasives import grain_um
from ..product.kinds import ProductKind
from ..surface.names import StepKind
from .face import CAVITIES, COATS, METALS
from .registry import COMMON, SEVERITIES, SHEET, Aspect, Said, rule
from .seen import Case, SeenGround

CLEAN, UNKNOWN = "clean", "unknown"
ON_METAL = frozenset({StepKind.ACID_PREP})
"""Steps that treat the metal and leave no coat."""


@dataclass(frozen=True)
class Cell:
    """What a kind over something earns: the word, what has to hold for it, what it earns otherwise, why, and a fix."""

    word: str
    holds: str = ""
    otherwise: str = ""
    says: str = ""
    fix: str = ""


@lru_cache(maxsize=1)
def table() -> dict[tuple[str, str], Cell]:
    """(what lies there, kind of product over it) -> its cell. Raises ValueError for a row that cannot be read."""
    text = (resources.files(__package__) / "kinds.yaml").read_text(encoding="utf-8")
    document = yaml.safe_load(text)
    names: dict[str, list[str]] = document["over"]
    found: dict[tuple[str, str], Cell] = {}
    for under, rows in document["under"].items():
        for kinds, cell in _rows(rows, document["under"], names):
            for kind in kinds:
                found.setdefault((under, kind), cell)
    return found


def _rows(
    rows: list[dict[str, Any]], every: dict[str, Any], names: dict[str, list[str]]
) -> Iterator[tuple[list[str], Cell]]:
    """(kinds, cell) of the rows of one thing that lies there; what is named comes before "*"."""
    every_kind = [kind for kinds in names.values() for kind in kinds]
    for row in sorted(rows, key=lambda row: "*" in row.values()):
        if "like" in row:
            yield from _rows(every[row["like"]], every, names)
            continue
        cell = _cell(row)
        named = str(row[cell.word])
        yield every_kind if named == "*" else [kind for name in named.split() for kind in names[name]], cell


def _cell(row: dict[str, Any]) -> Cell:
    word = next((word for word in (CLEAN, *SEVERITIES) if word in row), "")
    if not word or set(row) - {word, "if", "else", "says", "fix"} or row.get("if", "") not in {"", *CONDITIONS}:
        raise ValueError(f"kinds.yaml: {row} cannot be read")
    return Cell(word, row.get("if", ""), row.get("else", ""), row.get("says", ""), row.get("fix", ""))


def _lists(c: Case, g: SeenGround) -> bool:
    """True if its sheet names the substrate."""
    return c.act.sheet is not None and c.face.substrate in c.act.sheet.substrates


def _coarse(c: Case, g: SeenGround) -> bool:
    return g.blasted or (g.grit != "" and grain_um(g.grit) >= grain_um("P36"))


def _tooth(c: Case, g: SeenGround) -> bool:
    return g.blasted or g.prepped or (g.grit != "" and grain_um(g.grit) >= grain_um("P80"))


CONDITIONS: dict[str, Callable[[Case, SeenGround], bool]] = {
    "keyed": lambda c, g: g.keyed or g.blasted or bool(g.grit),
    "coarse": _coarse,
    "tooth": _tooth,
    "blasted": lambda c, g: g.blasted,
    "lists": _lists,
    "rust-known": lambda c, g: g.rust_known,
    "cured": lambda c, g: g.cured,
    "cured-keyed": lambda c, g: g.keyed and g.cured,
    "in-window": lambda c, g: g.in_window,
    "ends-bare": lambda c, g: c.face.end_state != "coated",
    "cavity": lambda c, g: c.face.part in CAVITIES or c.face.end_state == "as-found",
    "waits": lambda c, g: c.school("converter") == "waits",
    "overpaintable": lambda c, g: bool(g.top_sheet and g.top_sheet.overpaintable),
    "hot": lambda c, g: c.act.sheet is not None and c.act.sheet.form == "aerosol",
}
"""What a row of the table may ask for."""


def cell_of(ground: SeenGround, kind: str) -> Cell | None:
    """The cell of a kind over a ground, None if no row knows the pair."""
    return table().get((ground.what, kind))


def kind_over(c: Case) -> str:
    """What kind goes over the ground: of the coat, or of what treats the metal; "" for nothing of the kind."""
    if c.act.raw.kind == StepKind.ACID_PREP:
        return ProductKind.ACID_PREP
    return c.act.product_kind if c.act.is_coat else ""


@rule("over-what", Aspect.UNDER, "stops", "What comes, on each thing that lies there", "ground", kinds=COATS | ON_METAL)
def _over_what(c: Case) -> Iterator[Said]:
    ground, kind = c.on_ground, kind_over(c)
    if not kind or ground.told_clean == CLEAN:
        return
    if ground.told_clean == "not":
        yield Said(f"{c.act.name} on {ground.where}: its sheet says no.", "stops", "strip", SHEET)
        return
    cell = cell_of(ground, kind)
    if cell is None or (cell.holds == "lists" and c.act.sheet and c.act.sheet.substrates):
        return  # what its sheet lists or not is a rule of its own
    word = cell.word if not cell.holds or CONDITIONS[cell.holds](c, ground) else cell.otherwise
    if word in SEVERITIES:
        yield Said(f"{c.act.name} on {ground.where}: {cell.says}.", word, cell.fix)


@rule("out-of-turn", Aspect.UNDER, "advises", "Coats go on in the order of the plan", "ground", kinds=COATS, fix="turn")
def _out_of_turn(c: Case) -> Iterator[Said]:
    over = c.on_ground.out_of_turn
    if over:
        yield Said(
            f"{over} is on already, which the plan has after it: if it went on before, log it with its hour; if not, "
            "leave it out of the plan."
        )


@rule(
    "sheet-substrate",
    Aspect.UNDER,
    "stops",
    "A sheet that excludes a substrate, or names the only ones",
    "ground",
    SHEET,
    COATS | ON_METAL,
    fix="product",
)
def _sheet_substrate(c: Case) -> Iterator[Said]:
    sheet, ground = c.act.sheet, c.on_ground
    if sheet is None or ground.what not in {*METALS.values(), "tight rust", "old film"}:
        return
    metal = c.face.substrate if ground.bare else "old film"
    if metal in sheet.excluded:
        yield Said(f"{c.act.name} on {ground.where}: its sheet excludes {metal}.")
    elif sheet.substrates and metal not in sheet.substrates:
        named = ", ".join(sheet.substrates)
        yield Said(f"{c.act.name} on {ground.where}: its sheet names {named}, not {metal}.")


@rule(
    "filler-on-bare", Aspect.UNDER, "warns", "Filler goes over epoxy", "ground", COMMON, COATS, ("filler", "over-epoxy")
)
def _filler_on_bare(c: Case) -> Iterator[Said]:
    fillers = {ProductKind.BODY_FILLER, ProductKind.FIBRE_FILLER}
    if c.act.product_kind in fillers and c.on_ground.what in {"bare steel", "cast iron"}:
        yield Said("In this school filler goes over epoxy: prime first, then fill.", fix="prime")


def unjudged(c: Case, ground: SeenGround) -> str:
    """Why what lies there cannot be judged, "" if it can."""
    kind = kind_over(c)
    if ground.what == "as found":
        return "nobody has told what lies there, and nothing has bared it: Inspect"
    if not kind:
        return f"no data sheet for {c.act.name}" if c.act.is_coat else ""
    if ground.told_clean:
        return ""
    cell = cell_of(ground, kind)
    if cell is None:
        return f"no rule knows {kind.replace('-', ' ')} over {ground.raw.what}"
    if cell.otherwise == UNKNOWN and not CONDITIONS[cell.holds](c, ground):
        return "whether there is rust is not told: Inspect"
    return ""
