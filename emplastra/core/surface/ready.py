"""Ready systems: ways of working of the trade by kinds of product, and how one is taken in with what is on a shelf.

Common practice, no source: each is what practitioners of a school do; systems.yaml is the published list.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from importlib import resources
from typing import Any

import yaml

from ..product.film import METHODS
from ..product.kinds import SPRAYED, ProductKind
from ..product.mixing import choose_band
from ..product.sheet import Sheet
from .steps import STEPS

MILD_C = 20.0
"""A mild day [°C]: of two products the one that can be mixed on it is taken."""


@dataclass(frozen=True)
class Fits:
    """Where a system fits: substrates, finish classes, parts (none: any), and whether it is meant for tight rust."""

    substrates: tuple[str, ...] = ()
    finishes: tuple[str, ...] = ()
    parts: tuple[str, ...] = ()
    rust: bool = False


@dataclass(frozen=True)
class Ready:
    """A way of working: its steps by kinds of product; schools: {question: the answer under which it is clean}; why:
    the reasons of its order, in sentences; most_um: the most that all its layers come to [µm].
    """

    name: str
    group: str
    school: str
    where: str
    fits: Fits
    why: tuple[str, ...]
    most_um: float
    steps: tuple[Mapping[str, Any], ...]
    schools: Mapping[str, str] = field(default_factory=dict)

    @property
    def kinds(self) -> tuple[str, ...]:
        """Kinds of product that its steps name, each once, in their order."""
        return tuple(dict.fromkeys(step["of"] for step in self.steps if "of" in step))


@dataclass(frozen=True)
class Taken:
    """Steps of a ready system with products of a shelf; lacking: kinds that the shelf has no product of."""

    steps: tuple[dict[str, Any], ...]
    lacking: tuple[str, ...]


@lru_cache(maxsize=1)
def _document() -> dict[str, Any]:
    text = (resources.files(__package__) / "systems.yaml").read_text(encoding="utf-8")
    document: dict[str, Any] = yaml.safe_load(text)
    return document


def ready_groups() -> list[str]:
    """What ready systems stand under, in order."""
    return list(_document()["groups"])


@lru_cache(maxsize=1)
def ready_systems() -> tuple[Ready, ...]:
    """The ready systems, in the order of their groups. Raises ValueError for a row that cannot be read."""
    found = [_read(row) for row in _document()["systems"]]
    return tuple(sorted(found, key=lambda each: ready_groups().index(each.group)))


def ready_named(name: str) -> Ready | None:
    """The ready system of a name, None if there is none."""
    return next((each for each in ready_systems() if each.name == name), None)


def _read(row: dict[str, Any]) -> Ready:
    fits: dict[str, Any] = {n: tuple(told) if isinstance(told, list) else told for n, told in row["fits"].items()}
    for step in row["steps"]:
        if step["kind"] not in STEPS or step.get("of", ProductKind.PANEL_WIPE) not in set(ProductKind):
            raise ValueError(f"systems.yaml, {row['name']}: {step} names no kind")
    return Ready(**{**row, "fits": Fits(**fits), "why": tuple(row["why"]), "steps": tuple(row["steps"])})


def taken(ready: Ready, shelf: Sequence[Sheet]) -> Taken:
    """A ready system with products of a shelf: of each kind the one whose sheet fits best, films as its sheet has them.

    A kind of which there is none stays without a product, and its film untold.
    """
    steps, lacking, on_film = [], list[str](), False
    metal = ready.fits.substrates[0] if ready.fits.substrates else "steel"
    for told in ready.steps:
        leaves = STEPS[told["kind"]].leaves_film
        sheet = _best(told, shelf, "old film" if on_film else metal)
        if sheet is None and "of" in told:
            lacking.append(told["of"])
        steps.append(_step(told, sheet, leaves))
        on_film = on_film or leaves
    return Taken(tuple(steps), tuple(dict.fromkeys(lacking)))


def _best(told: Mapping[str, Any], shelf: Sequence[Sheet], on: str) -> Sheet | None:
    """The sheet of the step's kind that says most of what is wanted, by name where several do."""
    of_kind = [sheet for sheet in shelf if sheet.kind == told.get("of")]
    return min(of_kind, key=lambda sheet: (*_misses(told, sheet, on), sheet.product), default=None)


def _misses(told: Mapping[str, Any], sheet: Sheet, on: str) -> Iterator[int]:
    """What speaks against a sheet, the gravest first."""
    excluded = on in sheet.excluded or bool(sheet.substrates and on not in sheet.substrates)
    yield sum(bool(getattr(sheet, name)) != wanted for name, wanted in told.get("want", {}).items())
    yield int(excluded)
    yield int("method" in told and bool(sheet.methods) and told["method"] not in sheet.methods)
    yield int(STEPS[told["kind"]].leaves_film and sheet.aim_um is None)
    yield int(sheet.form == "mixed" and choose_band([v.band for v in sheet.variants], MILD_C).band is None)


def _step(told: Mapping[str, Any], sheet: Sheet | None, leaves: bool) -> dict[str, Any]:
    """A step of a system as it is stored."""
    step = {name: told[name] for name in ("kind", "grit", "way", "on", "note", "sanded_um") if name in told}
    if sheet is not None:
        step["product"] = sheet.product
    if leaves:
        step |= {name: value for name, value in with_sheet(told, sheet).items() if value != 0.0}
    return step


def with_sheet(told: Mapping[str, Any], sheet: Sheet | None) -> dict[str, Any]:
    """Coats, film [µm], method and thinner [%] of a step that leaves film: as told, else as its sheet has them."""
    if sheet is None:
        method = told.get("method") or next(iter(METHODS))
        return {"coats": told.get("coats", 1), "dft_um": told.get("dft_um"), "method": method, "thinner_pct": 0.0}
    method = _method(told.get("method", ""), sheet)
    return {
        "coats": told.get("coats") or sheet.coats or 1,
        "dft_um": told.get("dft_um") or sheet.aim_um,
        "method": method,
        "thinner_pct": sheet.thinner_pct.get(method) or 0.0,
    }


def _method(told: str, sheet: Sheet) -> str:
    """The method that was told if the sheet takes it, else what is usual for its kind, else the sheet's first."""
    if sheet.form == "aerosol":
        return "aerosol"
    methods = sheet.methods or tuple(METHODS)
    usual = "hvlp" if sheet.kind in SPRAYED else "brush"
    return next((way for way in (told, usual) if way in methods), methods[0])
