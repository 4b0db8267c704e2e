"""A sheet's document in the words of a label, field by field: what `put` reads back."""

from collections.abc import Callable, Iterator
from typing import Any

from ..units import show
from .asks import KINDS
from .schema import ACTS
from .spoken import (
    degrees,
    duration,
    figures,
    film_text,
    limits_text,
    micrometres,
    points_text,
    ratio_text,
    window_text,
)

Document = dict[str, Any]
NEXT = {"itself": "self", "any coat": "any", **{f"to {act}": f"act:{act}" for act in ACTS}}
"""What comes next in words -> as a document calls it."""


def next_words(key: str) -> str:
    """What comes next, in words."""
    for words, known in NEXT.items():
        if key == known:
            return words
    what, _, name = key.partition(":")
    return KINDS[name].name.lower() if what == "kind" and name in KINDS else name


def _parts_text(d: Document, key: str, unit: str = "") -> str:
    told = [(c["name"], c[key]) for c in d["components"] if key in c]
    plain = [c for c in d["components"] if c["role"] != "thinner"]
    if len(told) == len(plain) and len({value for _, value in told}) == 1 and all(key in c for c in plain):
        return f"{told[0][1]:g}{unit}"
    return ", ".join(f"{name.lower()} {value:g}{unit}" for name, value in told)


def _variants_text(d: Document, system: str) -> str:
    names = {c["key"]: c["name"] for c in d["components"]}
    return "\n".join(ratio_text(v, names, system) for v in d.get("variants", ()))


def _windows_text(d: Document, system: str) -> str:
    return "\n".join(line for line, _ in window_lines(d, system))


def window_lines(d: Document, system: str) -> Iterator[tuple[str, Document]]:
    """(line, row) of each window but that for any coat."""
    for row in d.get("windows", ()):
        if row["next"] != "any":
            grit = row.get("remedy", {}).get("grit")
            wet = ", wet-on-wet" if row.get("wet_on_wet") else ""
            then = f", then {grit}" if grit else ""
            yield f"{next_words(row['next'])}: {window_text(row, system)}{wet}{then}", row


def _any_row(d: Document) -> Document:
    return next((row for row in d.get("windows", ()) if row["next"] == "any"), {})


def _over_text(d: Document, system: str) -> str:
    rows = [(next_words(key), may) for key, may in d.get("over", {}).items() if not key.startswith("metal:")]
    return "\n".join(f"{name}: {'yes' if may else 'no'}" for name, may in rows)


def _schedules_text(d: Document, system: str) -> str:
    return "\n".join(
        f"{row['how']}: {duration(row['minutes'])} at {degrees(row['metal_c'], system)} metal"
        + (f" after {duration(row['flash_min'])}" if "flash_min" in row else "")
        for row in d.get("schedules", ())
    )


def _tins_text(d: Document, system: str) -> str:
    names = {c["key"]: c["name"].lower() for c in d["components"]}
    rows = d.get("tins", ())
    return "\n".join(
        f"{names[t['component']]} {show(t['ml'], 'volume', system)}" + (f" {t['price']:g}" if "price" in t else "")
        for t in rows
    )


def _thinner_text(d: Document, system: str) -> str:
    shares = d.get("thinner", {}).get("pct", {})
    if len(set(shares.values())) == 1:
        return f"{next(iter(shares.values())):g} %"
    return ", ".join(f"{pct:g} % {'HVLP' if method == 'hvlp' else method}" for method, pct in shares.items())


def _induction_text(d: Document, system: str) -> str:
    if "induction" not in d:
        return ""
    return "none" if d["induction"] is None else points_text(d["induction"], system)


def _um(value: float | None, system: str) -> str:
    return "" if value is None else micrometres(value, system)


def _coverage_text(d: Document, system: str) -> str:
    told = dict.fromkeys(d.get("coverage_m2_l", ()))
    return figures(told, "coverage", system) if told else ""


def _shelf_text(d: Document, system: str) -> str:
    shelf = d.get("shelf", {})
    keys = ("closed_months", "opened_months")
    return ", ".join(f"{shelf[key]:g} months {key.split('_')[0]}" for key in keys if key in shelf)


def _dilution_text(d: Document, system: str) -> str:
    parts = d.get("use", {}).get("water_parts")
    return "" if parts is None else f"1:{parts:g}" if parts else "undiluted"


def _hides_text(d: Document, system: str) -> str:
    told = d.get("hides")
    return f"{told['contrast_pct']:g} % at {micrometres(told['at_um'], system)}" if told else ""


TEXT: dict[str, Callable[[Document, str], str]] = {
    "ratio": _variants_text,
    "thinner": _thinner_text,
    "induction": _induction_text,
    "pot_life": lambda d, s: points_text(d["pot_life"], s) if d.get("pot_life") else "",
    "use": lambda d, s: figures([d["use"]["ml_m2"]], "use", s) if d.get("use", {}).get("ml_m2") else "",
    "dilution": _dilution_text,
    "coats": lambda d, s: str(d.get("film", {}).get("coats", "")),
    "film": lambda d, s: film_text(d.get("film", {}), s),
    "coverage": _coverage_text,
    "lift": lambda d, s: figures([d["lift_mm"]], "length", s) if "lift_mm" in d else "",
    "recoat": lambda d, s: window_text(_any_row(d), s) if _any_row(d) else "",
    "remedy": lambda d, s: _any_row(d).get("remedy", {}).get("grit", ""),
    "grit": lambda d, s: "–".join(dict.fromkeys(d.get("grit", ()))),
    "limits": lambda d, s: limits_text(d.get("limits", {}), s),
    "shelf": _shelf_text,
    "solids": lambda d, s: _parts_text(d, "solids_pct", " %"),
    "density": lambda d, s: _parts_text(d, "density_g_ml"),
    "voc": lambda d, s: _parts_text(d, "voc_g_l"),
    "sag": lambda d, s: _um(d.get("film", {}).get("sag_wft_um"), s),
    "most": lambda d, s: _um(d.get("most_um"), s),
    "hides": _hides_text,
    "windows": _windows_text,
    "over": _over_text,
    "schedules": _schedules_text,
    "tins": _tins_text,
}  # fmt: skip
"""Field -> its text in a document, in metric or US units."""
