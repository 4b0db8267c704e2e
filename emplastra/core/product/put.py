"""What is typed of a label, put into a sheet's document by field; LabelError is raised for what is not understood."""

import re
from collections.abc import Callable
from typing import Any

from . import label
from .asks import KINDS
from .label import LabelError, Means
from .schema import TIMES, UNKNOWN
from .worded import NEXT, Document, window_lines

HUES = {"base": "#8b8f94", "hardener": "#c9b07a", "thinner": "#e6e3da", "ready": "#a7a39a"}
"""Colour of a part in a drawing, by its role."""


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
    return {"key": key, "name": name, "role": role, "colour": HUES[role]}


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
        d["components"].append({"key": key, "name": "Thinner", "role": "thinner", "colour": HUES["thinner"]})
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
    rows, before = [], dict(window_lines(d, means.system))
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
    if low in NEXT:
        return NEXT[low]
    kind = _kind_named(low)
    return f"kind:{kind}" if kind else f"product:{name}"


def _kind_named(low: str) -> str:
    return next((key for key, traits in KINDS.items() if low in {traits.name.lower(), key}), "")


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


PUT: dict[str, Callable[[Document, str, Means], None]] = {
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
    "hides": _one("hides", label.hides),
    "windows": _put_windows,
    "over": _put_over,
    "schedules": _put_schedules,
    "tins": _put_tins,
}
"""Field -> what puts its text into a document, the old text of that field taken out."""
