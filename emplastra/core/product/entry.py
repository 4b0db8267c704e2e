"""A data sheet's document from what is typed off a tin, and back to such text.

Each field is text as it stands on a label. What is not told stays out of the document; a typical figure of the kind
may be taken for some, and is named in `assumed`. Text that was not changed leaves its part of an earlier document as
it was, so that what the label's words cannot say (kinetics, several humidities) is never lost.
"""

import copy
import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any

from ..units import show
from ..words import celsius_q, coverage_q, film_q, length_q, use_q, volume_q
from . import label
from .asks import GROUPS, KINDS, OF_MIXES, TAKEN, asked, typical_of
from .kinds import ProductKind
from .label import LabelError, Means
from .schema import ACTS, TIMES, UNKNOWN
from .sheet import problems_of
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


@dataclass(frozen=True)
class FieldTraits:
    """A field of a label: its name, an example, and what is said of it."""

    label: str
    example: str
    help: str = ""
    lines: bool = False


_20, _10_30 = celsius_q(20), celsius_q(10, 30)
FIELDS: dict[str, FieldTraits] = {
    "ratio": FieldTraits("Mix ratio", "4:1 by volume, hardener S", "Several with their temperatures: one a line", True),
    "thinner": FieldTraits("Thinner", "10 %", "Of the mixed paint; by method: 10 % HVLP, 0 % brush"),
    "induction": FieldTraits("Wait after stirring", f"15 min at {_20}, or none"),
    "pot_life": FieldTraits("Pot life", f"6 h at {_20}"),
    "contact": FieldTraits("Keep wet for", f"30 min at {_20}"),
    "use": FieldTraits("Uses", use_q(180)),
    "dilution": FieldTraits("With water", "1:5"),
    "coats": FieldTraits("Coats", "2"),
    "film": FieldTraits("Dry film a coat", film_q(40, 60), f"With the wet film beside it the solids follow: {film_q(120)} wet, {film_q(50)} dry"),
    "coverage": FieldTraits("Covers", coverage_q(8, 10)),
    "lift": FieldTraits("Most in one lift", length_q(4)),
    "flash": FieldTraits("Flash", f"20 min at {_20}"),
    "recoat": FieldTraits("Coat again", f"2 h to 24 h at {_20}", "Or: after 2 h, no limit; within 1 h or after 24 h"),
    "remedy": FieldTraits("If later, key with", "P240"),
    "sandable": FieldTraits("Sandable after", f"3 h at {_20}"),
    "cure": FieldTraits("Cured after", f"7 days at {_20}"),
    "grit": FieldTraits("Over a key of", "P80–P180"),
    "limits": FieldTraits("Air and surface", f"{_10_30}, at most 80 %"),
    "shelf": FieldTraits("Keeps", "24 months closed, 6 months opened"),
    "solids": FieldTraits("Solids by volume", "52 %", "By part, where they differ: base 52 %, hardener 44 %"),
    "density": FieldTraits("Density, g/mL", "base 1.42, hardener 0.98", "Needed only to mix a volume ratio by the scale"),
    "voc": FieldTraits("VOC, g/L", "base 420, hardener 480"),
    "dust_free": FieldTraits("Dust-free after", f"30 min at {_20}"),
    "touch": FieldTraits("Dry to touch after", f"90 min at {_20}"),
    "handle": FieldTraits("Handle after", f"8 h at {_20}"),
    "ready_to_weld": FieldTraits("Weld after", f"24 h at {_20}"),
    "sag": FieldTraits("Sags above, wet", film_q(140)),
    "most": FieldTraits("At most in all coats", film_q(300)),
    "windows": FieldTraits("Other windows", f"body filler: 12 h to 3 days at {_20}, then P180", "One a line: what comes next, a colon, its window", True),
    "over": FieldTraits("Goes over", "converter: yes", "One a line: a kind or product, a colon, yes or no", True),
    "schedules": FieldTraits("Force-dry, infrared", f"force-dry: 30 min at {celsius_q(60)} metal after 10 min", "One a line", True),
    "tins": FieldTraits("Tins", f"base {volume_q(4000)} 96.00", "One a line: part, size, price", True),
}  # fmt: skip
"""Every field that is text, in the order of the full sheet."""

MORE = (
    "solids",
    "density",
    "voc",
    "dust_free",
    "touch",
    "handle",
    "ready_to_weld",
    "sag",
    "most",
    "remedy",
    "windows",
    "over",
    "schedules",
    "tins",
)
"""Fields of the full sheet that no label is asked."""
TICKS = ("methods", "on", "not_on", "hazards", "said")
"""Fields of which several may be chosen."""
SAID = {
    "leave": ("wipe_and_leave", "Wiped and left, not rinsed"),
    "final": ("final", "Nothing goes over it"),
    "overpaintable": ("overpaintable", "Can be painted over"),
    "translucent": ("translucent", "What lies under it shows through"),
    "bleeding": ("bleeding", "Its colour bleeds"),
}
"""Key -> (field of the document, in words) of what a sheet may say with a tick."""
SUBSTRATES = ("steel", "cast iron", "stainless", "aluminium", "zinc", "laminate", "old film")
_PARTS = {
    "mixed": (("base", "Base", "base"), ("hardener", "Hardener", "hardener")),
    "ready": (("tin", "Tin", "ready"),),
    "aerosol": (("can", "Can", "ready"),),
}
_NEXT = {"itself": "self", "any coat": "any", **{f"to {act}": f"act:{act}" for act in ACTS}}
_HUES = {"base": "#8b8f94", "hardener": "#c9b07a", "thinner": "#e6e3da", "ready": "#a7a39a"}


def starter(kind: str) -> Document:
    """An unbranded product of a kind with all that is typical of it, marked so: its ratio and windows stay open."""
    form = KINDS[kind].forms[0]
    d = skeleton(kind, form, f"{KINDS[kind].name}, unbranded")
    d["source"] = "starter shelf: assumed, common practice, no source: replace by your sheet"
    taken = [name for name in TAKEN if typical_of(kind, name) is not None]
    for name in taken:
        _take(d, name)
    if taken:
        d["assumed"] = sorted(path for name in taken for path in _paths(d, name))
    return d


@dataclass
class Entered:
    """What was typed: the document it makes, what is wrong with a field, what is to be asked of one though it can be
    saved, and what could not be put in. told: fields that hold something; assumed: figures taken as typical.
    """

    document: Document
    errors: dict[str, str] = field(default_factory=dict)
    questions: dict[str, str] = field(default_factory=dict)
    told: frozenset[str] = frozenset()
    assumed: frozenset[str] = frozenset()


def fields_of(kind: str, form: str) -> tuple[str, ...]:
    """Text fields that a label of a kind in a form is asked, in order."""
    return tuple(name for name in asked(kind, form) if name in FIELDS)


def more_of(kind: str, form: str) -> tuple[str, ...]:
    """Text fields of its full sheet beside these."""
    label_fields = set(fields_of(kind, form))
    # What another kind's label is asked may be on a sheet of this one too.
    rest = [name for name in FIELDS if name not in label_fields and (form == "mixed" or name not in OF_MIXES)]
    return tuple(name for name in rest if name in MORE or name not in _OF_LIQUIDS)


_OF_LIQUIDS = {"contact", "use", "dilution", "lift"}


def skeleton(kind: str, form: str, name: str) -> Document:
    """A document that says nothing but a product's name and kind."""
    traits = KINDS[kind]
    hazards = [*traits.hazards, *(("pressure",) if form == "aerosol" else ())]
    made: Document = {
        "format": "emplastra-sheet/1",
        "product": name,
        "kind": kind,
        "form": form,
        "source": "typed off the tin",
        "components": [{"key": k, "name": n, "role": r, "colour": _HUES[r]} for k, n, r in _PARTS[form]],
        "hatch": traits.hatch,
    }
    if hazards:
        made["hazards"] = hazards
    if form == "aerosol":
        made["methods"] = ["aerosol"]
    return made


def entered(
    base: Document,
    typed: Mapping[str, str],
    ticks: Mapping[str, list[str]] | None = None,
    assume: frozenset[str] = frozenset(),
    means: Means = label.METRIC,
) -> Entered:
    """A document from a base (a skeleton, or the sheet as it was) with what is typed.

    typed: text by field, "" for what is not told; ticks: chosen values by field of TICKS; assume: figures of TAKEN to
    be taken as typical where nothing is typed. Nothing is raised: what is wrong stands in `errors` by field.
    """
    made = Entered(copy.deepcopy(base))
    before, d = typed_of(base, means), made.document
    for name, values in (ticks or {}).items():
        _tick(d, name, values)
    taken = _fill(made, before, typed, assume, means)
    d.pop("assumed", None)
    if taken:
        d["assumed"] = sorted(path for name in taken for path in _paths(d, name))
    made.assumed = frozenset(taken)
    made.told = frozenset(name for name, text in typed.items() if text.strip() and name not in made.errors)
    _question(made)
    return made


def _fill(
    made: Entered, before: Mapping[str, str], typed: Mapping[str, str], assume: frozenset[str], means: Means
) -> set[str]:
    """Put in what is typed or assumed, in the order of FIELDS; the fields whose figure is typical."""
    d = made.document
    taken = set(assumed_of(d))
    for name in FIELDS:
        if name not in typed:
            continue
        text = typed[name].strip()
        if name in assume and not text and typical_of(d["kind"], name) is not None:
            _take(d, name)
            taken.add(name)
        elif text != before[name] or name in taken:
            taken.discard(name)
            _put(made, name, text, means)
    return taken


def _put(made: Entered, name: str, text: str, means: Means) -> None:
    """Read one field into the document; text that is not understood leaves it as it was."""
    try:
        _PUT[name](made.document, text, means)
    except LabelError as error:
        made.errors[name] = str(error)


def assumed_of(document: Document) -> frozenset[str]:
    """Fields of TAKEN whose figure in a document is typical of its kind."""
    paths = set(document.get("assumed", ()))
    return frozenset(name for name in TAKEN if paths.intersection(_paths(document, name)))


def _paths(document: Document, name: str) -> list[str]:
    if name == "solids":
        return [f"components/{c['key']}/solids_pct" for c in document["components"] if c["role"] != "thinner"]
    return {"film": ["film"], "coats": ["film/coats"]}.get(name, [f"times/{name}"])


def _take(d: Document, name: str) -> None:
    """Put in what is typical of the kind."""
    value = typical_of(d["kind"], name)
    if name == "film" and isinstance(value, tuple):
        d["film"] = {**d.get("film", {}), **dict(zip(("min_um", "typical_um", "max_um"), value, strict=True))}
    elif name == "coats":
        d.setdefault("film", {})["coats"] = value
    elif name == "solids":
        for part in d["components"]:
            if part["role"] != "thinner":
                part["solids_pct"] = value
    else:
        d.setdefault("times", {})[name] = [[label.AT_C, value]]


def _question(made: Entered) -> None:
    """Ask of each field what cannot be, and what is likely not meant."""
    d = made.document
    probe = {"date": "2000-01-01", **d}
    for path, text in problems_of(probe):
        name = field_of(path, d)
        made.errors.setdefault(name, text)
    for text in band_questions(d):
        made.questions.setdefault("ratio", text)
    film = d.get("film", {})
    typical = KINDS[d["kind"]].typical.film_um
    aim = film.get("typical_um") or film.get("max_um")
    if typical and aim and "film" not in made.assumed and not typical[0] / 4 <= aim <= typical[2] * 4:
        made.questions.setdefault("film", "far from what is usual of the kind: dry film, and in this unit?")


def band_questions(d: Document) -> Iterator[str]:
    """What is asked of ratios whose bands of temperature overlap or leave a gap."""
    told = sorted(
        (v["temp_c"], v["name"], tuple(sorted(v.get("methods", ())))) for v in d.get("variants", ()) if "temp_c" in v
    )
    for (one, first, methods), (other, second, more) in pairwise(told):
        if methods != more:
            continue
        if other[0] < one[1] - 1e-6:
            both = celsius_q(other[0], min(one[1], other[1]))
            yield f"at {both} two ratios hold, {first} and {second}"
        elif other[0] > one[1] + 1e-6:
            yield f"at {celsius_q(one[1], other[0])} no ratio holds"


_OF_PATH = (
    (r"variants", "ratio"),
    (r"components/[^/]+/solids_pct", "solids"),
    (r"components/[^/]+/density_g_ml", "density"),
    (r"components/[^/]+/voc_g_l", "voc"),
    (r"times/(\w+)", ""),
    (r"film/sag", "sag"),
    (r"film/coats", "coats"),
    (r"coverage", "coverage"),
    (r"most_um", "most"),
    (r"lift_mm", "lift"),
    (r"product", "name"),
)


def field_of(path: str, d: Document) -> str:
    """The field of the form that a path of the document belongs to; "" for none."""
    for pattern, name in _OF_PATH:
        match = re.match(pattern, path)
        if match:
            return name or match[1]
    first, *rest = path.split("/")
    if first == "windows" and rest:
        return "recoat" if d["windows"][int(rest[0])]["next"] == "any" else "windows"
    return first if first in FIELDS else ""


_TICKED = {"methods": "methods", "on": "substrates", "not_on": "excluded", "hazards": "hazards"}


def _tick(d: Document, name: str, values: list[str]) -> None:
    """What is chosen, not typed."""
    if name == "said":
        for key, (path, _) in SAID.items():
            # Not ticked is not told, but for what was told to be not so.
            if key in values:
                d[path] = True
            elif d.get(path):
                d.pop(path)
        return
    d.pop(_TICKED[name], None)
    if values:
        d[_TICKED[name]] = list(values)


# --- putting text into a document ------------------------------------------------------------------------------------


def _times_put(name: str) -> Callable[[Document, str, Means], None]:
    def put(d: Document, text: str, means: Means) -> None:
        d.get("times", {}).pop(name, None)
        if text:
            d.setdefault("times", {})[name] = label.times(text, "min", means)
        elif not d.get("times", True):
            d.pop("times")

    return put


def _one(key: str, read: Callable[[str, Means], Any]) -> Callable[[Document, str, Means], None]:
    def put(d: Document, text: str, means: Means) -> None:
        d.pop(key, None)
        if text:
            d[key] = read(text, means)

    return put


def _put_induction(d: Document, text: str, means: Means) -> None:
    d.pop("induction", None)
    if re.fullmatch(r"none|no|0( min)?|not needed", text, re.I):
        d["induction"] = None
    elif text:
        d["induction"] = label.times(text, "min", means)


def _put_ratio(d: Document, text: str, means: Means) -> None:
    """Variants and the hardeners they name; components keep what was told of them."""
    told = [label.ratio(line, means) for line in re.split(r"[\n;]", text) if line.strip()]
    base, old, rest = _by_role(d)
    keys, parts = {base["key"], *(c["key"] for c in rest)}, list[Document]()
    for one in told:
        part = _second(_hardener(one.hardener), [*parts, *old], len(told) == 1, keys)
        parts += [] if part in parts else [part]
    d["components"] = [base, *(parts or old), *rest]
    d.pop("variants", None)
    if told:
        d["variants"] = [_variant_of(one, n, base, parts) for n, one in enumerate(told, 1)]
    _thin_by(d, told)


def _thin_by(d: Document, told: list[label.Ratio]) -> None:
    """A third part of a ratio is its thinner, for every method."""
    thinned = next((one.thinner_pct for one in told if one.thinner_pct is not None), None)
    if thinned is not None:
        _set_thinner(d, dict.fromkeys(d.get("methods") or ["hvlp", "brush"], round(thinned, 3)))


def _by_role(d: Document) -> tuple[Document, list[Document], list[Document]]:
    """(base, what is mixed into it by a ratio, the rest) of a document's components."""
    base = next((c for c in d["components"] if c["role"] == "base"), None)
    if base is None:
        raise LabelError("only parts to mix have a ratio")
    seconds = {key for v in d.get("variants", ()) for key in list(v["parts"])[1:]}
    mixed = [c for c in d["components"] if c["role"] == "hardener" or c["key"] in seconds]
    return base, mixed, [c for c in d["components"] if c is not base and c not in mixed]


def _second(name: str, known: list[Document], alone: bool, keys: set[str]) -> Document:
    """The component of this name: one that is known, the only one there is called anew, or a new one."""
    found = next((c for c in known if c["name"].lower() == name.lower()), None)
    if found is not None:
        return found
    if alone and len(known) == 1:
        return {**known[0], "name": name}
    role = "thinner" if re.search(r"reduc|thinn", name, re.I) else "hardener"
    key = _key(name, keys | {c["key"] for c in known})
    return {"key": key, "name": name, "role": role, "colour": _HUES[role]}


def _variant_of(one: label.Ratio, n: int, base: Document, parts: list[Document]) -> Document:
    """The nth ratio as a document has it."""
    name = _hardener(one.hardener)
    part = next(c for c in parts if c["name"].lower() == name.lower())
    found: Document = {"key": f"r{n}", "name": name[0].lower() + name[1:], "by": one.by}
    found["parts"] = {base["key"]: one.parts[0], part["key"]: one.parts[1]}
    return found | ({"temp_c": list(one.band)} if one.band else {})


def _hardener(grade: str) -> str:
    """How a hardener is called by what a ratio says of it: "S" is hardener S."""
    if not grade:
        return "Hardener"
    named = re.search(r"harden|activat|catal|reduc|part", grade, re.I)
    return grade[:1].upper() + grade[1:] if named else f"Hardener {grade}"


def _key(name: str, taken: set[str]) -> str:
    """A key for a part of this name that is not taken."""
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "part"
    return next(key for key in (stem, *(f"{stem}-{n}" for n in range(2, 99))) if key not in taken)


_METHOD = {
    "hvlp": "hvlp",
    "gun": "hvlp",
    "spray": "hvlp",
    "spraying": "hvlp",
    "brush": "brush",
    "brushing": "brush",
    "roller": "roller",
    "rolling": "roller",
    "airless": "airless",
    "conventional": "conventional",
}


def _put_thinner(d: Document, text: str, means: Means) -> None:
    if not text or re.fullmatch(r"none|no|0 ?%?", text, re.I):
        d.pop("thinner", None)
        d["components"] = [c for c in d["components"] if c["role"] != "thinner"]
        return
    shares: dict[str, float] = {}
    for part in re.split(r"[,;\n]\s*(?=\D*\d)", text):
        words = [word for word in re.findall(r"[a-z]+", part.lower()) if word in _METHOD]
        share = label.percent(re.sub(r"[a-z]+(?=[\s,;]|$)", "", part, flags=re.I).strip(" ,;:()"))[0]
        methods = [_METHOD[word] for word in words] or d.get("methods") or list(dict.fromkeys(_METHOD.values()))
        shares |= dict.fromkeys(methods, share)
    _set_thinner(d, shares)


def _set_thinner(d: Document, shares: dict[str, float]) -> None:
    if not any(c["role"] == "thinner" for c in d["components"]):
        key = _key("thinner", {c["key"] for c in d["components"]})
        d["components"].append({"key": key, "name": "Thinner", "role": "thinner", "colour": _HUES["thinner"]})
    key = next(c["key"] for c in d["components"] if c["role"] == "thinner")
    d["thinner"] = {"component": key, "pct": shares}


def _put_film(d: Document, text: str, means: Means) -> None:
    film = {k: v for k, v in d.get("film", {}).items() if k in {"coats", "sag_wft_um"}}
    if text:
        told = label.film(text, means)
        ends = {"min_um": told.low_um, "typical_um": told.aim_um, "max_um": told.high_um}
        film |= {k: v for k, v in ends.items() if v is not None}
        if told.wet_um is not None and told.aim_um is not None:
            if told.wet_um < told.aim_um:
                raise LabelError("the wet film cannot be thinner than the dry one")
            _put_solids(d, f"{100 * told.aim_um / told.wet_um:.4g} %", means)
    _set_film(d, film)


def _set_film(d: Document, film: Document) -> None:
    d.pop("film", None)
    if film:
        d["film"] = film


def _put_coats(d: Document, text: str, means: Means) -> None:
    film = {k: v for k, v in d.get("film", {}).items() if k != "coats"}
    _set_film(d, film | ({"coats": label.count(text)} if text else {}))


def _put_sag(d: Document, text: str, means: Means) -> None:
    film = {k: v for k, v in d.get("film", {}).items() if k != "sag_wft_um"}
    told = label.film(re.sub(r"\bwet\b", "", text, flags=re.I), means) if text else None
    _set_film(d, film | ({"sag_wft_um": told.aim_um or told.high_um or told.low_um} if told else {}))


def _put_most(d: Document, text: str, means: Means) -> None:
    d.pop("most_um", None)
    if text:
        told = label.film(text, means)
        d["most_um"] = told.high_um or told.aim_um


def _by_part(key: str, low: float, high: float, unit: str) -> Callable[[Document, str, Means], None]:
    """A figure of each part: "base 52 %, hardener 44 %", or one for all of them but thinner."""

    def put(d: Document, text: str, means: Means) -> None:
        for part in d["components"]:
            part.pop(key, None)
        for piece in re.split(r"[,;\n](?=\s)", text) if text else ():
            match = re.fullmatch(
                rf"\s*(?P<name>[^\d]*?)[:=\s]*(?P<number>\d+(?:[.,]\d+)?)\s*(?:{unit})?\s*", piece, re.I
            )
            if match is None:
                raise LabelError(f"“{piece.strip()}” is not understood: write for example base 52, hardener 44")
            value = label.parse_number(match["number"])
            if not low < value <= high:
                raise LabelError(f"must be from {max(low, 0):g} to {high:g}; leave it out if it is not told")
            named = _named(d, match["name"].strip())
            for part in named:
                part[key] = value

    return put


def _named(d: Document, name: str) -> list[Document]:
    """Components that a name means: all but thinner for none."""
    if not name:
        return [c for c in d["components"] if c["role"] != "thinner"]
    found = [c for c in d["components"] if name.lower() in {c["name"].lower(), c["role"], c["key"]}]
    found = found or [c for c in d["components"] if c["name"].lower().startswith(name.lower())]
    if not found:
        raise LabelError(f"there is no part “{name}”: {', '.join(c['name'] for c in d['components'])}")
    return found


_put_solids = _by_part("solids_pct", -1, 100, "%")


def _put_recoat(d: Document, text: str, means: Means) -> None:
    """The window for any coat; the flash stands where a tin says only until when."""
    others = [w for w in d.get("windows", ()) if w["next"] != "any"]
    grit = next((w.get("remedy") for w in d.get("windows", ()) if w["next"] == "any"), None)
    _set_windows(d, [*others, *([_row("any", text, grit, d, means)] if text else [])])


def _row(key: str, text: str, remedy: Any, d: Document, means: Means) -> Document:
    first, *again = label.window(text, means)
    flash = d.get("times", {}).get("flash")
    if first["opens"] == UNKNOWN and first["closes"] != UNKNOWN and flash and "times/flash" not in d.get("assumed", ()):
        first["opens"] = flash
    row = {"next": key, **first}
    if again:
        row["again"] = again
    if remedy:
        row["remedy"] = remedy
    return row


def _set_windows(d: Document, rows: list[Document]) -> None:
    d.pop("windows", None)
    if rows:
        d["windows"] = rows


def _put_remedy(d: Document, text: str, means: Means) -> None:
    grit = label.grits(text)[0] if text else None
    for row in d.get("windows", ()):
        if row["next"] == "any":
            row.pop("remedy", None)
            if grit:
                row["remedy"] = {"grit": grit}


def _put_windows(d: Document, text: str, means: Means) -> None:
    rows, before = [], dict(_window_lines(d, means.system))
    for line in filter(None, map(str.strip, text.splitlines())):
        if line in before:  # what no label could say (several humidities) stays as it was
            rows.append(before[line])
            continue
        name, colon, body = line.partition(":")
        if not colon:
            raise LabelError(f"“{line[:40]}”: write what comes next, a colon, and its window")
        grit = re.search(r",?\s*then(?: key)?\s+(P\d{2,4})\s*$", body, re.I)
        wet = re.search(r",?\s*wet[- ]on[- ]wet", body, re.I)
        body = re.sub(r",?\s*then(?: key)?\s+P\d{2,4}\s*$|,?\s*wet[- ]on[- ]wet", "", body, flags=re.I)
        row = _row(next_of(name.strip()), body.strip(" ,"), {"grit": grit[1].upper()} if grit else None, d, means)
        rows.append(row | ({"wet_on_wet": True} if wet else {}))
    _set_windows(d, [*rows, *(w for w in d.get("windows", ()) if w["next"] == "any")])


def next_of(name: str) -> str:
    """What comes next, as a document calls it: "itself", "body filler", "to weld", or a product by name."""
    low = name.lower()
    if low in _NEXT:
        return _NEXT[low]
    kind = _kind_named(low)
    return f"kind:{kind}" if kind else f"product:{name}"


def _kind_named(low: str) -> str:
    return next((key for key, traits in KINDS.items() if low in {traits.name.lower(), key}), "")


def next_words(key: str) -> str:
    """What comes next, in words."""
    for words, known in _NEXT.items():
        if key == known:
            return words
    what, _, name = key.partition(":")
    return KINDS[name].name.lower() if what == "kind" and name in KINDS else name


def _put_over(d: Document, text: str, means: Means) -> None:
    found: dict[str, bool] = {k: v for k, v in d.get("over", {}).items() if k.startswith("metal:")}
    for line in filter(None, map(str.strip, text.splitlines())):
        match = re.fullmatch(r"(.+?)\s*:\s*(yes|no)", line, re.I)
        if match is None:
            raise LabelError(f"“{line[:40]}”: write a kind or product, a colon, yes or no")
        kind = _kind_named(match[1].lower())
        found[f"kind:{kind}" if kind else f"product:{match[1]}"] = match[2].lower() == "yes"
    d.pop("over", None)
    if found:
        d["over"] = found


_SCHEDULE = re.compile(
    r"(?P<how>force-?dry|infrared|ir)\s*:\s*(?P<time>.+?)\s+at\s+(?P<temp>.+?)(?:\s+metal)?(?:\s+after\s+(?P<flash>.+?)(?:\s+flash)?)?",
    re.I,
)


def _put_schedules(d: Document, text: str, means: Means) -> None:
    d.pop("schedules", None)
    rows = []
    for line in filter(None, map(str.strip, text.splitlines())):
        match = _SCHEDULE.fullmatch(line)
        if match is None:
            raise LabelError(f"“{line[:40]}”: write for example force-dry: 30 min at 60 °C metal after 10 min")
        row = {
            "how": "force-dry" if match["how"][0].lower() == "f" else "infrared",
            "minutes": label.minutes(match["time"]),
        }
        row["metal_c"] = label.celsius(match["temp"], means)[0]
        rows.append(row | ({"flash_min": label.minutes(match["flash"])} if match["flash"] else {}))
    if rows:
        d["schedules"] = rows


_TIN = re.compile(
    r"(?P<name>\D+?)\s+(?P<size>\d+(?:[.,]\d+)?\s*(?:ml|l|fl oz (?:us|imp)|(?:(?:us|imp) )?(?:gal|qt|pt|fl oz)))\b"
    r"\s*(?P<price>\d+(?:[.,]\d+)?)?",
    re.I,
)


def _put_tins(d: Document, text: str, means: Means) -> None:
    d.pop("tins", None)
    rows = []
    for line in filter(None, map(str.strip, text.splitlines())):
        match = _TIN.fullmatch(line)
        if match is None:
            said = means.said("base 4 L 96.00", "base 1 gal 96.00")
            raise LabelError(f"“{line[:40]}”: write part, size and price, as in {said}")
        ml = label.volume_ml(match["size"], means)
        row = {"component": _named(d, match["name"].strip())[0]["key"], "ml": ml}
        rows.append(row | ({"price": label.parse_number(match["price"])} if match["price"] else {}))
    if rows:
        d["tins"] = rows


def _put_use(d: Document, text: str, means: Means) -> None:
    use = {k: v for k, v in d.get("use", {}).items() if k != "ml_m2"}
    _set_use(d, use | ({"ml_m2": label.use_ml_m2(text, means)} if text else {}))


def _put_dilution(d: Document, text: str, means: Means) -> None:
    use = {k: v for k, v in d.get("use", {}).items() if k != "water_parts"}
    _set_use(d, use | ({"water_parts": label.water_parts(text)} if text else {}))


def _set_use(d: Document, use: Document) -> None:
    d.pop("use", None)
    if use:
        d["use"] = use


_PUT: dict[str, Callable[[Document, str, Means], None]] = {
    **{name: _times_put(name) for name in TIMES},
    "ratio": _put_ratio,
    "thinner": _put_thinner,
    "induction": _put_induction,
    "pot_life": _one("pot_life", lambda text, means: label.times(text, "max", means)),
    "use": _put_use,
    "dilution": _put_dilution,
    "coats": _put_coats,
    "film": _put_film,
    "coverage": _one("coverage_m2_l", lambda text, means: list(label.coverage(text, means))),
    "lift": _one("lift_mm", label.millimetres),
    "recoat": _put_recoat,
    "remedy": _put_remedy,
    "grit": _one("grit", lambda text, means: label.grits(text)),
    "limits": _one("limits", label.limits),
    "shelf": _one("shelf", lambda text, means: label.shelf(text)),
    "solids": _put_solids,
    "density": _by_part("density_g_ml", 0.29, 12, "g/ml|kg/l"),
    "voc": _by_part("voc_g_l", -1, 1200, "g/l"),
    "sag": _put_sag,
    "most": _put_most,
    "windows": _put_windows,
    "over": _put_over,
    "schedules": _put_schedules,
    "tins": _put_tins,
}


# --- and back --------------------------------------------------------------------------------------------------------


def typed_of(d: Document, means: Means = label.METRIC) -> dict[str, str]:
    """The text of each field of FIELDS that a document holds, "" for what is not told; assumed figures are not told."""
    taken = assumed_of(d)
    found = {name: _TEXT[name](d, means.system) if name in _TEXT else "" for name in FIELDS}
    found |= {name: points_text(table, means.system) for name, table in d.get("times", {}).items() if name in FIELDS}
    return {name: "" if name in taken else text for name, text in found.items()}


def ticks_of(d: Document) -> dict[str, list[str]]:
    """What is chosen in a document, by field of TICKS."""
    found = {name: list(d.get(key, ())) for name, key in _TICKED.items()}
    return found | {"said": [key for key, (path, _) in SAID.items() if d.get(path)]}


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
    return "\n".join(line for line, _ in _window_lines(d, system))


def _window_lines(d: Document, system: str) -> Iterator[tuple[str, Document]]:
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


_TEXT: dict[str, Callable[[Document, str], str]] = {
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
    "windows": _windows_text,
    "over": _over_text,
    "schedules": _schedules_text,
    "tins": _tins_text,
}  # fmt: skip


def kinds_by_group() -> list[tuple[str, list[tuple[str, str]]]]:
    """(group, [(kind, name)]) of all kinds, in the order of the work."""
    return [(g, [(str(k), KINDS[k].name) for k in ProductKind if KINDS[k].group == g]) for g in GROUPS]
