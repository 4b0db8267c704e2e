"""A data sheet's document from what is typed off a tin, and back to such text.

Each field is text as it stands on a label. What is not told stays out of the document; a typical figure of the kind
may be taken for some, and is named in `assumed`. Text that was not changed leaves its part of an earlier document as
it was, so that what the label's words cannot say (kinetics, several humidities) is never lost.
"""

import copy
import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from itertools import pairwise

from ..words import celsius_q, coverage_q, film_q, length_q, use_q, volume_q
from . import label
from .asks import GROUPS, KINDS, OF_MIXES, TAKEN, asked, typical_of
from .kinds import ProductKind
from .label import LabelError, Means
from .put import HUES, PUT
from .sheet import problems_of
from .spoken import points_text
from .worded import TEXT, Document


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
    "hides": FieldTraits("Hides", f"98 % at {film_q(30)}", "Contrast over black and white, and in which dry film"),
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
    "hides",
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
        "components": [{"key": k, "name": n, "role": r, "colour": HUES[r]} for k, n, r in _PARTS[form]],
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
        PUT[name](made.document, text, means)
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


def typed_of(d: Document, means: Means = label.METRIC) -> dict[str, str]:
    """The text of each field of FIELDS that a document holds, "" for what is not told; assumed figures are not told."""
    taken = assumed_of(d)
    found = {name: TEXT[name](d, means.system) if name in TEXT else "" for name in FIELDS}
    found |= {name: points_text(table, means.system) for name, table in d.get("times", {}).items() if name in FIELDS}
    return {name: "" if name in taken else text for name, text in found.items()}


def ticks_of(d: Document) -> dict[str, list[str]]:
    """What is chosen in a document, by field of TICKS."""
    found = {name: list(d.get(key, ())) for name, key in _TICKED.items()}
    return found | {"said": [key for key, (path, _) in SAID.items() if d.get(path)]}


def kinds_by_group() -> list[tuple[str, list[tuple[str, str]]]]:
    """(group, [(kind, name)]) of all kinds, in the order of the work."""
    return [(g, [(str(k), KINDS[k].name) for k in ProductKind if KINDS[k].group == g]) for g in GROUPS]
