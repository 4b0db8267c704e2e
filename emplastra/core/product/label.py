"""What stands on a tin, read as it stands there: times, windows, ratios, films, coverage, limits.

A grammar of our own, on text of at most 300 characters. Each reader gives what a data sheet's document holds and raises
LabelError, and nothing else, saying what would do. Where a tin gives a range, the careful end is taken: of a minimum
the longer, of a maximum the shorter.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from ..units import OF_TWO_LANDS, UnitError, convert, parse_number, parse_quantity, unit_meant
from .abrasives import GRAIN_UM
from .schema import UNKNOWN
from .spoken import degrees

MAX_CHARACTERS = 300
AT_C = 20.0
"""What a tin means that names no temperature [°C]. Common practice, no source."""
AT_ONCE_MIN = 1.0
"""The least time that a window opens after [min]: "within 1 h" begins at once."""

Points = list[list[float]]
"""[°C, minutes] by rising temperature, as a document holds them."""


class LabelError(ValueError):
    """Text that is not understood; the message says what would be."""


@dataclass(frozen=True)
class Means:
    """How a bare number is meant: temperatures in °F for a US workshop; at_c: where none is named [°C]."""

    system: str = "metric"
    at_c: float = AT_C

    @property
    def degree(self) -> str:
        """The unit of a temperature that names none."""
        return self.said("°C", "°F")

    def said(self, metric: str, us: str) -> str:
        """What is said to a workshop of either system."""
        return us if self.system == "us" else metric


METRIC = Means()
_N = r"(?:\d+\s+\d+/\d+|\d+/\d+|\d+(?:[.,]\d+)?)"
_TO = r"\s*(?:-|–|—|to|bis|up to|and)\s*"
_UNIT = r"(?:seconds?|secs?|s|minutes?|mins?|min\.?|hours?|hrs?\.?|h|days?|d|weeks?|wks?|months?)\b\.?"
_MINUTES = {"s": 1 / 60, "m": 1.0, "h": 60.0, "d": 1440.0, "w": 10080.0}
_TIME = re.compile(
    rf"(?P<low>{_N})\s*(?P<lowunit>{_UNIT})?(?:{_TO}(?P<high>{_N}))?\s*(?P<unit>{_UNIT})?"
    r"(?:\s*(?P<more>\d{1,2})\s*(?:min(?:utes?|s)?\b\.?)?)?",
    re.I,
)
_DEGREE = r"(?:°\s*[CF]|deg(?:rees?)?\.?\s*[CF]|[CF]\b)"
_TEMP = re.compile(
    rf"(?P<low>[-−]?\d+(?:[.,]\d+)?)\s*(?P<lowunit>{_DEGREE})?(?:{_TO}(?P<high>[-−]?\d+(?:[.,]\d+)?))?\s*(?P<unit>{_DEGREE})?",
    re.I,
)
_AT = re.compile(rf"(?:\(|\b(?:at|@|bei)|@|/)\s*(?P<temp>{_TEMP.pattern.replace('(?P<', '(?P<t_')})\s*\)?\s*$", re.I)
_FIRST = re.compile(rf"^\s*(?:at\s+)?(?P<temp>[-−]?\d+(?:[.,]\d+)?\s*{_DEGREE})\s*[:=]?\s*(?P<rest>.+)$", re.I)


def _number(text: str) -> float:
    try:
        return parse_number(text)
    except UnitError as error:
        raise LabelError(str(error)) from error


def _whole(text: str) -> str:
    if len(text) > MAX_CHARACTERS:
        raise LabelError(f"at most {MAX_CHARACTERS} characters")
    return " ".join(text.split())


def celsius(text: str, means: Means = METRIC) -> tuple[float, float]:
    """(lowest, highest) temperature [°C] of "20 °C", "68 F", "18–22 °C", "20"."""
    match = _TEMP.fullmatch(_whole(text).strip())
    if match is None:
        raise LabelError(f"“{text}” is no temperature: write for example 20 °C or 68 °F")
    unit = match["unit"] or match["lowunit"] or means.degree
    ends = [_celsius(match["low"], match["lowunit"] or unit)]
    if match["high"]:
        ends.append(_celsius(match["high"], unit))
    return min(ends), max(ends)


def _celsius(number: str, unit: str) -> float:
    value = _number(number.replace("−", "-").lstrip("-")) * (-1 if number[0] in "-−" else 1)
    found = convert(value, "°F", "°C") if unit.strip().upper().endswith("F") else value
    if not -60 <= found <= 400:
        raise LabelError(f"{number} {unit} is no temperature that paint meets")
    return round(found, 6)


def minutes(text: str, role: str = "min") -> float:
    """A time [min] of "20 min", "1 h 10", "15–20 min", "7 days"; of a range the careful end by role (min or max)."""
    whole = _whole(text)
    match = _TIME.fullmatch(whole)
    unit = (match["unit"] or match["lowunit"]) if match else None
    if match is None or unit is None:
        what = f"“{whole}” min, or h?" if re.fullmatch(_N, whole) else f"“{whole}” is no time"
        raise LabelError(f"{what}: write for example 20 min, 1 h 10, 24 h or 7 days")
    ends = _time_ends(match, unit, whole)
    found = max(ends) if role == "min" else min(ends)
    if not 0 < found <= 10_000_000:
        raise LabelError("a time must be above 0")
    return found


def _time_ends(match: re.Match[str], unit: str, whole: str) -> tuple[float, ...]:
    """The ends of a range of time [min], one of a single."""
    low = _number(match["low"]) * _per(match["lowunit"] or unit)
    if match["high"] and not match["more"]:
        return low, _number(match["high"]) * _per(unit)
    if match["more"] and (match["high"] or _per(unit) != _MINUTES["h"]):
        raise LabelError(f"“{whole}” is no time: write for example 1 h 10")
    return (low + float(match["more"] or 0),)


def _per(unit: str) -> float:
    name = unit.lower()
    return 43200.0 if name.startswith("mon") else _MINUTES[name[0]]


def times(text: str, role: str = "min", means: Means = METRIC) -> Points | dict[str, Any]:
    """Times at temperatures: "2 h", "4 h at 10 °C, 2 h at 20", "10 °C: 4 h; 20 °C: 2 h", or by humidity
    ("RH 50 %: …; RH 80 %: …").
    """
    by_rh = re.split(r"\bRH\s*(\d+(?:[.,]\d+)?)\s*%\s*:", _whole(text), flags=re.I)
    if len(by_rh) > 1:
        if by_rh[0].strip(" ;,") or len(by_rh) < 5:
            raise LabelError("by humidity, write at least two: RH 50 %: 20 min at 20 °C; RH 80 %: 40 min at 20 °C")
        pairs = zip(by_rh[1::2], by_rh[2::2], strict=True)
        return {"rh": sorted([_number(rh), _points(body.strip(" ;,"), role, means)] for rh, body in pairs)}
    return _points(_whole(text), role, means)


def _points(text: str, role: str, means: Means) -> Points:
    return _by_temperature(((_of(temp, role, means), minutes(body, role)) for temp, body in items(text)), means)


def _of(temp: str, role: str, means: Means) -> float:
    """The temperature that a time is for [°C]; of a range the careful end, at which a minimum is the longer one."""
    if not temp:
        return means.at_c
    low, high = celsius(temp, means)
    return high if role == "min" else low


def _by_temperature(pairs: Iterator[tuple[float, float]], means: Means) -> Points:
    found: dict[float, float] = {}
    for temp_c, value in pairs:
        if temp_c in found:
            raise LabelError(f"{degrees(temp_c, means.system)} is named twice: one time for each temperature")
        found[temp_c] = value
    if not found:
        raise LabelError(f"write a time, for example {means.said('2 h at 20 °C', '2 h at 68 °F')}")
    return [[temp_c, found[temp_c]] for temp_c in sorted(found)]


def items(text: str) -> Iterator[tuple[str, str]]:
    """(temperature as written or "", what is said for it) of a list over temperatures."""
    found: list[tuple[str, str]] = []
    for part in (part.strip() for part in re.split(r";|,(?=\s)|\n", text) if part.strip()):
        # "after 2 h, no limit" is one thing said; only what names a time or a temperature of its own begins another.
        if found and not re.search(r"\d", part):
            found[-1] = found[-1][0], f"{found[-1][1]}, {part}"
        else:
            found.append(_item(part))
    yield from found


def _item(part: str) -> tuple[str, str]:
    """(temperature as written or "", the rest) of one item of a list."""
    after, before = _AT.search(part), _FIRST.match(part)
    if after is not None and after.start() > 0:
        return after["temp"].strip(), part[: after.start()].strip(" ,(")
    if before is not None:
        return before["temp"].strip(), before["rest"].strip(" ,:")
    return "", part


@dataclass
class Stretch:
    """A stretch of a window over temperatures; None where an end is not told; open_ended: told that it never closes."""

    opens: dict[float, float] = field(default_factory=dict)
    closes: dict[float, float] = field(default_factory=dict)
    open_ended: bool = False

    def document(self) -> dict[str, Any]:
        """It as a document holds it."""
        opens: Any = [[t, self.opens[t]] for t in sorted(self.opens)] or UNKNOWN
        closes: Any = [[t, self.closes[t]] for t in sorted(self.closes)] or (None if self.open_ended else UNKNOWN)
        return {"opens": opens, "closes": closes}


_EXAMPLE = "write for example 2 h to 24 h, after 2 h, no limit, or within 1 h or after 24 h"
_NO_LIMIT = re.compile(r"\b(?:no (?:max(?:imum)?|limit|end)|unlimited|any ?time|without limit|never closes)\b", re.I)
_FROM = re.compile(r"^(?:from|after|min(?:imum)?|not before|opens?|earliest)\b\.?\s*", re.I)
_WITHIN = re.compile(r"^(?:within|until|up to|max(?:imum)?|before|by|latest|at most|closes?)\b\.?\s*", re.I)


def window(text: str, means: Means = METRIC) -> list[dict[str, Any]]:
    """Stretches of a window, in order: [{"opens": …, "closes": …}, …]; an end that is not told is "unknown".

    The first of several that tells only its end ("within 1 h or after 24 h") opens at once.
    """
    found: list[Stretch] = []
    for temp, body in items(_whole(text)):
        stretches = re.split(r"\s+or\s+(?=(?:after|from|again|within)\b)", body.strip(" ."), flags=re.I)
        if not found:
            found = [Stretch() for _ in stretches]
        if len(found) != len(stretches):
            raise LabelError("say as many stretches for each temperature")
        for stretch, said in zip(found, stretches, strict=True):
            _stretch(stretch, said, temp, means)
    if not found:
        raise LabelError(_EXAMPLE)
    if any(not s.closes for s in found[:-1]):
        raise LabelError("the first stretch needs an end: within 1 h or after 24 h")
    if len(found) > 1 and not found[0].opens:
        found[0].opens = dict.fromkeys(found[0].closes, AT_ONCE_MIN)
    return [stretch.document() for stretch in found]


def _stretch(into: Stretch, said: str, temp: str, means: Means) -> None:
    """Read one stretch at one temperature."""
    into.open_ended = into.open_ended or bool(_NO_LIMIT.search(said))
    body = _NO_LIMIT.sub("", said).strip(" ,")
    opens, closes = _ends(body)
    if opens:
        into.opens[_of(temp, "min", means)] = minutes(opens, "min")
    if closes:
        into.closes[_of(temp, "max", means)] = minutes(closes, "max")
    if not opens and not closes and not into.open_ended:
        raise LabelError(f"“{said.strip()}” is no window: {_EXAMPLE}")


_LINK = r"\s*(?:-|–|—|,)\s*|\s+(?:to|until|and|but|bis)\s+|\s+(?=within\b|max\b|maximum\b|at most\b|before\b)"


def _ends(body: str) -> tuple[str, str]:
    """(from, until) of a stretch as written, "" for what is not told."""
    body = re.sub(r"^(?:re-?coat(?:able)?|coat again|again|between)\b[:\s]*", "", body, flags=re.I)
    if not body:
        return "", ""
    parts = [part.strip() for part in re.split(_LINK, body, flags=re.I) if part and part.strip()]
    if not 1 <= len(parts) <= 2 or (len(parts) == 2 and _WITHIN.match(parts[0])):
        raise LabelError(f"“{body}” is no window: {_EXAMPLE}")
    if len(parts) == 1:
        return ("", _WITHIN.sub("", parts[0])) if _WITHIN.match(parts[0]) else (_FROM.sub("", parts[0]), "")
    unit, first = re.search(_UNIT, parts[1], re.I), _FROM.sub("", parts[0])
    # "2–24 h": the unit of the second is the first's too.
    if unit is not None and not re.search(_UNIT, first, re.I):
        first = f"{first} {unit.group()}"
    return first, _WITHIN.sub("", parts[1])


@dataclass(frozen=True)
class Ratio:
    """Parts of base, hardener (and thinner) by "volume" or "mass"; the hardener's name, and the band [°C] if told."""

    parts: tuple[float, ...]
    by: str
    hardener: str = ""
    band: tuple[float, float] | None = None

    @property
    def thinner_pct(self) -> float | None:
        """A third part is thinner: its share of the mixed paint [%]."""
        return 100 * self.parts[2] / (self.parts[0] + self.parts[1]) if len(self.parts) == 3 else None


_RATIO = re.compile(rf"(?P<parts>{_N}(?:\s*:\s*{_N}){{1,2}})")
_SHARE = re.compile(rf"(?P<low>{_N})(?:{_TO}(?P<high>{_N}))?\s*%", re.I)
_BY = re.compile(r"\bby\s+(?P<by>vol(?:ume)?|weight|mass|wt)\b\.?|\b(?P<short>v/v|w/w|vol|wt)\b\.?", re.I)
_BAND = re.compile(
    rf"(?:\(|\b(?:at|for|from|between)\b)?\s*(?P<band>[-−]?\d+(?:[.,]\d+)?\s*(?:{_DEGREE})?{_TO}[-−]?\d+(?:[.,]\d+)?\s*{_DEGREE})\)?",
    re.I,
)


def ratio(text: str, means: Means = METRIC) -> Ratio:
    """A mixing ratio: "4:1 by volume, hardener S", "4:1:0.5 by volume", "2 % by weight", with its band "8–15 °C"."""
    whole = _whole(text)
    band = _BAND.search(whole)
    rest = whole if band is None else whole[: band.start()] + whole[band.end() :]
    said, numbers = _numbers(rest, whole)
    before, _, after = rest.partition(said)
    rest = f"{before} {after}"
    by = _BY.search(rest)
    if by is None:
        raise LabelError(f"by volume, or by weight? Write {said.strip()} by volume")
    name = re.sub(r"^[\s,;.]+|[\s,;.]+$", "", rest[: by.start()] + " " + rest[by.end() :])
    name = re.sub(r"^(?:with|hardener|of hardener|and)\b[\s:]*", "", name.strip(" ,;"), flags=re.I).strip(" ,;()")
    way = "volume" if (by["by"] or by["short"]).lower().startswith("v") else "mass"
    return Ratio(numbers, way, name[:60], celsius(band["band"], means) if band else None)


def _numbers(rest: str, whole: str) -> tuple[str, tuple[float, ...]]:
    """(parts as written, parts as numbers) of a ratio, or of a share of hardener."""
    parts, share = _RATIO.search(rest), _SHARE.search(rest)
    if parts is not None:
        said, numbers = parts.group(), tuple(_number(part) for part in parts["parts"].split(":"))
    elif share is None:
        raise LabelError(f"“{whole}” is no ratio: write for example 4:1 by volume, or 2 % by weight")
    elif share["high"]:
        raise LabelError("one share of hardener, or the band of temperature for each: 2 % by weight, 15–25 °C")
    else:
        said, numbers = share.group(), (100.0, _number(share["low"]))
    if min(numbers) <= 0 or max(numbers) > 1000:
        raise LabelError(f"each part of {said.strip()} must be above 0")
    return said, numbers


def percent(text: str, high: float = 100.0) -> tuple[float, float]:
    """(least, most) of "10 %", "5–10 %", "max. 10"."""
    match = re.fullmatch(
        rf"(?:max\.?|up to|at most)?\s*(?P<low>{_N})\s*%?(?:{_TO}(?P<high>{_N}))?\s*%?", _whole(text), re.I
    )
    if match is None:
        raise LabelError(f"“{text}” is no share: write for example 10 %")
    low = _number(match["low"])
    top = _number(match["high"]) if match["high"] else low
    if not 0 <= low <= top <= high:
        raise LabelError(f"must be from 0 to {high:g} %")
    return low, top


@dataclass(frozen=True)
class FilmTold:
    """Dry film of a coat [µm]: least, the one named, most; wet film beside it where both are named."""

    low_um: float | None
    aim_um: float | None
    high_um: float | None
    wet_um: float | None = None


_FILM_UNIT = r"(?:µm|μm|um|microns?|mils?|thou|mm)"
_FILM = re.compile(
    rf"(?P<word>wet|dry|dft|wft|min\.?|max\.?|at least|at most)?\s*(?P<low>{_N})\s*{_FILM_UNIT}?(?:{_TO}(?P<high>{_N}))?\s*(?P<unit>{_FILM_UNIT})(?:\s*(?P<after>wet|dry))?",
    re.I,
)


def film(text: str, means: Means = METRIC) -> FilmTold:
    """A film: "40–60 µm", "50 µm", "2 mil", "min 40 µm", "120 µm wet, 50 µm dry"."""
    whole = _whole(text)
    if re.fullmatch(rf"{_N}(?:{_TO}{_N})?", whole):
        whole += " mil" if means.system == "us" else " µm"
    told, left = _films(whole)
    dry, ends = told["dry"], told["min"] + told["max"]
    if re.search(r"\d", left) or len(dry) > 2 or not (dry or ends):
        said = means.said("40–60 µm, 2 mil, 120 µm wet, 50 µm dry", "2–3 mil, 50 µm, 5 mil wet, 2 mil dry")
        raise LabelError(f"“{whole}” is no dry film: write for example {said}")
    low, high = (told[name][0] if told[name] else None for name in ("min", "max"))
    if len(dry) == 2:
        low, high = min(dry), max(dry)
    return FilmTold(low, dry[0] if len(dry) == 1 else None, high, told["wet"][0] if len(told["wet"]) == 1 else None)


_ENDS = {"min": "min", "at least": "min", "max": "max", "at most": "max", "wet": "wet", "wft": "wet"}


def _films(whole: str) -> tuple[dict[str, list[float]], str]:
    """(films [µm] by what they are: dry, wet, min, max; what of the text is none)."""
    found: dict[str, list[float]] = {"dry": [], "wet": [], "min": [], "max": []}
    for match in _FILM.finditer(whole):
        word = (match["word"] or match["after"] or "dry").lower().rstrip(".")
        values = [_um(number, match["unit"]) for number in (match["low"], match["high"]) if number]
        found[_ENDS.get(word, "dry")] += values
    return found, _FILM.sub(" ", whole)


def _um(number: str, unit: str) -> float:
    found = round(convert(_number(number), {"micron": "µm", "microns": "µm"}.get(unit.lower(), unit), "µm"), 4)
    found = min(found, 10000.0) if found < 10000.1 else found  # 393.7 mil are 10 mm
    if not 0 < found <= 10000:
        raise LabelError("a dry film must be above 0 and at most 10 mm")
    return found


_VOLUME = r"(?:l|lit(?:re|er)s?|ml|(?:us |imp )?(?:fl\.? oz|gal(?:lon)?|quart|qt|pint|pt)(?: us| imp)?)\b\.?"
_AREA = r"(?:m2|m²|sq\.?\s?m|sq\.?\s?ft|ft2|ft²|square feet|square met(?:re|er)s)"
_COVER = re.compile(
    rf"(?:about |approx\.? )?(?P<low>{_N})\s*(?:{_AREA})?(?:{_TO}(?P<high>{_N}))?\s*(?P<area>{_AREA})\s*(?:/|per|a|from)\s*(?P<count>{_N})?\s*"
    rf"(?P<unit>{_VOLUME})(?:\s*can)?",
    re.I,
)


def _ml(number: str, unit: str, means: Means) -> float:
    """A volume [mL]; an ounce, pint, quart or gallon that does not say whose is the US one in a US workshop alone."""
    unit = " ".join(unit.lower().replace("gallon", "gal").replace("quart", "qt").replace("pint", "pt").split())
    unit = unit.replace(".", "")
    if means.system != "us" and unit in OF_TWO_LANDS:
        raise LabelError(f"US {unit}, or imp {unit}? Write which")
    return convert(_number(number), unit_meant(unit, means.system), "mL")


def _m2(unit: str) -> float:
    """An area's unit [m2]."""
    return convert(1.0, "sq ft", "m2") if re.match(r"sq\.?\s?ft|ft|square feet", unit, re.I) else 1.0


def coverage(text: str, means: Means = METRIC) -> tuple[float, float]:
    """(least, most) that a litre covers [m2/L]: "8–10 m²/L", "350 sq ft/US gal", "2 m² per 400 mL can"."""
    match = _COVER.fullmatch(_whole(text).rstrip("."))
    if match is None:
        said = means.said("8–10 m²/L, or 2 m² per 400 mL", "300–400 sq ft/gal, or 20 sq ft per 12 fl oz")
        raise LabelError(f"“{text}” is no coverage: write for example {said}")
    litres = _ml(match["count"] or "1", match["unit"], means) / 1000
    ends = sorted(_number(n) * _m2(match["area"]) / litres for n in (match["low"], match["high"] or match["low"]))
    if not 0 < ends[0] <= ends[1] <= 200:
        most = means.said(
            "a litre covers more than 0 and at most 200 m²", "a gallon covers more than 0 and at most 8000 sq ft"
        )
        raise LabelError(most)
    return round(ends[0], 6), round(ends[1], 6)


_RH = re.compile(
    rf"(?P<word>max\.?|at most|below|under|up to|less than|min\.?|at least|over|above|<|>|≤|≥)?\s*(?P<low>{_N})\s*%?(?:{_TO}(?P<high>{_N}))?\s*%(?:\s*(?:RH|humidity|rel\w*\.?\s*humidity))?",
    re.I,
)
_DEW = re.compile(rf"(?P<k>{_N})\s*(?:K|°\s*C|°\s*F)\s*(?:above|over)\s*(?:the\s*)?dew ?point", re.I)
_DEGREES = re.compile(
    rf"(?P<word>max\.?|at most|below|under|up to|min\.?|at least|over|above|not below|not under|<|>|≤|≥)?\s*(?P<temp>[-−]?\d+(?:[.,]\d+)?\s*(?:{_DEGREE})?{_TO}[-−]?\d+(?:[.,]\d+)?\s*{_DEGREE}|[-−]?\d+(?:[.,]\d+)?\s*{_DEGREE})",
    re.I,
)
_HIGH = {"max", "at most", "below", "under", "up to", "less than", "<", "≤"}


def limits(text: str, means: Means = METRIC) -> dict[str, Any]:
    """Climate limits: "10–30 °C, at most 80 %, 3 K above dew point"; temperatures hold for air and surface."""
    whole, found = _whole(text), dict[str, Any]()
    left = whole
    dew = _DEW.search(left)
    if dew is not None:
        found["spread_k"] = _number(dew["k"]) / (1.8 if "F" in dew.group().upper().split("DEW")[0] else 1.0)
        left = left[: dew.start()] + left[dew.end() :]
    degrees = _DEGREES.search(left)
    if degrees is not None:
        low, high = celsius(degrees["temp"], means)
        ends = [low, high] if low != high else _one_end(degrees["word"], low)
        found |= {"air_c": ends, "surface_c": list(ends)}
        left = left[: degrees.start()] + left[degrees.end() :]
    humidity = _RH.search(left)
    if humidity is not None:
        low, high = _number(humidity["low"]), _number(humidity["high"] or humidity["low"])
        found["rh_pct"] = [low, high] if low != high else _one_end(humidity["word"] or "max", low)
        left = left[: humidity.start()] + left[humidity.end() :]
    if not found or re.search(r"\d", left):
        said = means.said("10–30 °C", "50–90 °F")
        raise LabelError(f"“{whole}” is not understood: write for example {said}, at most 80 %")
    return found


def _one_end(word: str | None, value: float) -> list[float | None]:
    """A limit with one end; no word means a least."""
    return [None, value] if (word or "").lower().rstrip(".") in _HIGH else [value, None]


def grits(text: str) -> list[str]:
    """[coarsest, finest] of "P80–P180", "P180"."""
    found = [f"P{n}" for n in re.findall(r"(?<!\d)P?\s?(\d{2,4})(?!\d)", _whole(text), re.I)]
    wrong = [grit for grit in found if grit not in GRAIN_UM]
    if not found or len(found) > 2 or wrong:
        raise LabelError(
            f"{wrong[0] + ' is no grade' if wrong else f'“{text}” is no grade'}: write for example P80–P180"
        )
    return sorted([found[0], found[-1]], key=lambda g: -GRAIN_UM[g])


def shelf(text: str) -> dict[str, float]:
    """Months that it keeps: "24 months", "2 years closed, 6 months opened"."""
    found: dict[str, float] = {}
    for number, unit, rest in re.findall(rf"({_N})\s*(months?|years?|weeks?)\b([^\d]*)", _whole(text), re.I):
        name = "opened_months" if re.search(r"open", rest, re.I) else "closed_months"
        found[name] = round(_number(number) * {"m": 1.0, "y": 12.0, "w": 12 / 52}[unit[0].lower()], 3)
    if not found or min(found.values()) <= 0:
        raise LabelError(f"“{text}” is not understood: write for example 24 months closed, 6 months opened")
    return found


_USE = re.compile(
    rf"(?P<number>{_N})\s*(?P<unit>{_VOLUME})\s*(?:/|per|on|for)\s*(?P<count>{_N})?\s*(?P<area>{_AREA})", re.I
)


def use_ml_m2(text: str, means: Means = METRIC) -> float:
    """What is used [mL/m2]: "180 mL/m²", "0.2 L per m²", "1 US gal per 200 sq ft"."""
    match, found = _USE.fullmatch(_whole(text)), 0.0
    if match is not None:
        found = _ml(match["number"], match["unit"], means) / (_number(match["count"] or "1") * _m2(match["area"]))
    if not 0 < found <= 10000:
        said = means.said("180 mL/m²", "0.6 fl oz/sq ft")
        raise LabelError(f"“{text}” is not understood: write for example {said}")
    return round(found, 6)


def water_parts(text: str) -> float:
    """Parts of water to one: "1:5", "1 part to 5 of water", "undiluted"."""
    if re.fullmatch(r"undiluted|neat|ready to use|none", _whole(text), re.I):
        return 0.0
    match = re.search(rf"1\s*(?::|part\s*(?:to|in)|to)\s*({_N})", _whole(text), re.I)
    if match is None or not 0 < _number(match[1]) <= 200:
        raise LabelError(f"“{text}” is not understood: write for example 1:5 with water")
    return _number(match[1])


def millimetres(text: str, means: Means = METRIC) -> float:
    """A depth [mm]: "4 mm", "1/8 in"."""
    match = re.fullmatch(rf"(?:max\.?|at most|up to)?\s*({_N})\s*(mm|in|\")?", _whole(text), re.I)
    if match is None:
        raise LabelError(f"“{text}” is no depth: write for example {means.said('4 mm', '1/8 in')}")
    unit = match[2] or ("in" if means.system == "us" else "mm")
    found = _number(match[1]) * (1.0 if unit.lower() == "mm" else 25.4)
    if not 0 < found <= 100:
        raise LabelError(f"a depth must be above 0 and at most {means.said('100 mm', '4 in')}")
    return round(found, 3)


def hides(text: str, means: Means = METRIC) -> dict[str, float]:
    """How far it hides: "98 % at 30 µm". Raises LabelError."""
    share, _, at = re.sub(r"\s+in\s+", " at ", text.strip(), flags=re.I).partition(" at ")
    match = re.fullmatch(r"(\d+(?:[.,]\d+)?)\s*%?", share.strip())
    if match is None or not at.strip():
        raise LabelError(f"“{_whole(text)}” is not understood: write its contrast and the film, as in 98 % at 30 µm")
    pct, told = _number(match[1]), film(at.strip(), means)
    um = told.aim_um or told.low_um or told.high_um
    if not 0 < pct < 100 or um is None:
        raise LabelError("a contrast is above 0 and below 100 %: over black, by that over white")
    return {"contrast_pct": pct, "at_um": um}


def count(text: str, most: int = 12) -> int:
    """A number of coats: "2", "2–3" (the least)."""
    match = re.fullmatch(rf"(\d{{1,2}})(?:{_TO}(\d{{1,2}}))?\s*(?:coats?)?", _whole(text), re.I)
    if match is None or not 1 <= int(match[1]) <= most:
        raise LabelError(f"“{text}” is no number of coats: write from 1 to {most}")
    return int(match[1])


def volume_ml(text: str, means: Means = METRIC) -> float:
    """A volume [mL]: "4 L", "1 US gal"; in a US workshop "1 gal"."""
    match = re.fullmatch(rf"({_N})\s*({_VOLUME})", _whole(text), re.I)
    if match is not None:
        return round(_ml(match[1], match[2], means), 4)
    try:
        return round(parse_quantity(_whole(text), "volume").value, 4)
    except UnitError as error:
        raise LabelError(str(error)) from error
