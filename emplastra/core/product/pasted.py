"""A data sheet's text, read line by line: each value that is recognised is proposed beside its line, none is taken.

A grammar of our own. A line names a field by words of the trade; what stands after them is read as a label is. What is
not surely read is not proposed, or proposed with its doubt: a wrong value that looks sure is the worst result. Raises
PasteError, and nothing else.
"""

import re
from collections import defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace

from . import label
from .entry import FIELDS
from .label import LabelError, Means
from .spoken import degrees, duration

MAX_CHARACTERS, MAX_LINES = 200_000, 4000


class PasteError(ValueError):
    """Text that is no sheet; the message says what would be."""


@dataclass(frozen=True)
class Proposal:
    """A value read off a line: its field, as text that a label's field takes, the line (from 1), why it is in doubt,
    and further lines that it was read from.
    """

    field: str
    text: str
    line: int
    doubt: str = ""
    also: tuple[int, ...] = ()

    @property
    def called(self) -> str:
        """The field in words."""
        return FIELDS[self.field].label


@dataclass(frozen=True)
class Read:
    """What was read: lines as they stand, proposals in their order, the name if told, lines that name no value."""

    lines: tuple[str, ...]
    proposals: tuple[Proposal, ...] = ()
    name: str = ""
    heads: tuple[int, ...] = ()

    @property
    def missed(self) -> tuple[int, ...]:
        """Lines (from 1) that hold a figure and were not understood."""
        read = {n for p in self.proposals for n in (p.line, *p.also)} | set(self.heads)
        return tuple(n for n, line in enumerate(self.lines, 1) if n not in read and re.search(r"\d", line))


_NAMED: tuple[tuple[str, str], ...] = (
    ("skip", r"wet film|w\.?f\.?t\.?\b|flash ?point|drying oven|transport|un[- ]number|article|item no|phone|fax|page \d|rev(?:ision)?\.? ?\d|adhesion|salt spray|gloss|colou?r no|nozzle|spray tip|fluid tip|pressure|viscosity|din ?4|ford cup"),
    ("ratio", r"mix(?:ing|ed)?[ -]ratio|ratio of mix\w*|mixing proportions?|mixing\b(?=.*\d\s*:\s*\d)|mix\b(?=.*\d\s*:\s*\d)|hardener addition|addition of hardener"),
    ("induction", r"induction(?: time)?|sweat[- ]?in(?: time)?|maturing time|stand(?:ing)? time (?:after|before)\b|wait after (?:stirring|mixing)"),
    ("pot_life", r"pot[- ]?life|working (?:time|life)|usable (?:time|life)|processing time|use within"),
    ("thinner", r"thinn(?:er|ing)(?: addition)?|dilution(?= *:? *(?:max|up|\d))|reduc(?:er|tion)\b"),
    ("coverage", r"(?:theoretical |practical )?(?:coverage|spreading rate|covering (?:power|capacity))|covers"),
    ("film", r"(?:recommended |total )?dry film(?: thickness| build)?|d\.?f\.?t\.?\b|film (?:thickness|build)(?: \(?dry\)?)?|thickness per coat"),
    ("solids", r"(?:volume solids|solids by volume|solids content by volume|solids? \(?vol(?:ume)?\.?\)?|vol\.? ?solids|non[- ]volatile(?: content)? by volume)"),
    ("density", r"density|specific gravity|weight per lit(?:re|er)"),
    ("voc", r"v\.?o\.?c\.?\b(?: content| value)?"),
    ("flash", r"flash(?:[- ]?off)?(?: time)?(?: between coats)?"),
    ("dust_free", r"dust[- ]?(?:free|dry)"),
    ("touch", r"touch[- ]?dry|dry to (?:the )?touch|tack[- ]?free"),
    ("handle", r"(?:dry to |ready to |can be )?handle(?:d|able)?|ready for assembly|assembly after|handling"),
    ("sandable", r"(?:dry to |ready to |can be )?sand(?:able|ed)(?: after)?|dry to sand|sanding (?:possible )?after|ready for sanding"),
    ("cure", r"(?:full(?:y)?|final|complete(?:ly)?) cur(?:e|ed|ing)(?: time)?|full(?:y)? hard(?:ness|ened)?|cured(?: through)?(?: after)?|cure time"),
    ("recoat_min", r"(?:min(?:imum)?\.? (?:re-?coat\w*|over-?coat\w*)(?: time| interval)?|(?:re-?coat\w*|over-?coat\w*)(?: time| interval)?,? \(?min(?:imum)?\.?\)?|earliest (?:re|over)-?coat\w*)"),
    ("recoat_max", r"(?:max(?:imum)?\.? (?:re-?coat\w*|over-?coat\w*)(?: time| interval)?|(?:re-?coat\w*|over-?coat\w*)(?: time| interval)?,? \(?max(?:imum)?\.?\)?|latest (?:re|over)-?coat\w*)"),
    ("recoat", r"re-?coat(?:able|ing)?(?: time| interval| window)?|over-?coat(?:able|ing)?(?: time| interval| window)?|next coat|coat again"),
    ("grit", r"(?:abrade|abrasion|abrasive|key|sand(?:ing)?|grind)(?: with| using|ing with)?(?= ?:? ?[^0-9]{0,24}P ?\d{2,4})|grit"),
    ("limits", r"(?:application|working|climatic|ambient)(?: and substrate)? (?:conditions|temperature|climate)|(?:air|surface|substrate|object) temperature|(?:relative |air )?humidity|climate"),
    ("shelf", r"shelf[- ]?life|storage (?:life|stability|time)|keeps"),
    ("coats", r"number of coats|no\.? of coats|coats\b(?= ?:? ?\d)"),
    ("lift", r"(?:max(?:imum)?\.? )?(?:layer|lift|filling depth)(?: thickness)?|per lift"),
    ("use", r"consumption|usage"),
)  # fmt: skip
_WORDS = re.compile("|".join(f"(?P<{name}>{pattern})" for name, pattern in _NAMED), re.I)
_TITLE = re.compile(
    r"^\s*(?:product(?: name)?|trade name|name of (?:the )?product|material)\s*[:=]\s*(?P<name>.{2,80}?)\s*$", re.I
)
_DEG = r"(?:°\s*[CF]|deg\.?\s*[CF]|º\s*[CF])"
_DEGREE = re.compile(rf"(?<![\d.,])(?P<n>[-−]?\d{{1,3}}(?:[.,]\d)?)\s*(?P<u>{_DEG})", re.I)
_SPAN = re.compile(
    r"(?P<low>\d+(?:[.,]\d+)?|\d+/\d+)\s*(?P<lowunit>min(?:ute)?s?|hours?|hrs?|h|days?|d|weeks?)?\.?\s*(?:(?:-|–|—|to)\s*(?P<high>\d+(?:[.,]\d+)?)\s*)?"
    r"(?P<unit>minutes?|mins?|min|hours?|hrs?|h|days?|d|weeks?|months?)\b\.?(?: ?(?P<more>\d{1,2})(?:\s*(?:min(?:utes?|s)?)\b)?(?![\d:.,%]|\s*(?:°|h\b|-|–|to\b)))?",
    re.I,
)  # fmt: skip
_VALUE = re.compile(r"^(?:max(?:imum)?\.?|min(?:imum)?\.?|approx\.?|ca\.?|from|after)?\s*:?\s*[\d<≤]", re.I)
_NUM = r"\d+(?:[.,]\d+)?"
_HOURS = r"min|minutes|hours?|hrs?|h|days?"
_RANGE = re.compile(
    rf"(?P<a>{_NUM})\s*(?P<au>{_HOURS})?\s*(?:-|–|—|to)\s*(?P<b>{_NUM})\s*(?P<bu>{_HOURS})\b",
    re.I,
)
_PART = rf"\s*(?:parts?)?[^\d:%]{{0,24}}:\s*({_NUM})"
_PARTS = re.compile(rf"({_NUM}){_PART}(?:{_PART})?", re.I)
_M2 = r"(?:m2|m²|sq\.? ?ft|ft2|ft²)"
_LITRE = r"(?:l(?:it(?:re|er))?|us gal(?:lon)?|imp gal(?:lon)?|gal(?:lon)?)"
_COVERS = re.compile(
    rf"{_NUM}\s*{_M2}?\s*(?:(?:-|–|—|to)\s*{_NUM})?\s*{_M2}\s*(?:/|per)\s*{_LITRE}\b",
    re.I,
)
_NONE = re.compile(r"\b(?:unlimited|no limit|no max(?:imum)?|none)\b", re.I)
_APPROX = re.compile(r"\b(?:approx(?:imately)?|ca|about|circa|typically|typ)\b\.?|~|≈|±\s*\d+(?:[.,]\d+)?", re.I)
_HUMID = re.compile(r"\d+\s*%\s*(?:RH|rel\w*\.?\s*(?:air )?humidity|humidity)", re.I)


@dataclass
class _Found:
    """What is gathered while lines are read."""

    proposals: list[Proposal] = field(default_factory=list)
    opens: dict[float | None, tuple[float, int]] = field(default_factory=dict)
    closes: dict[float | None, tuple[float, int]] = field(default_factory=dict)
    no_limit: int = 0
    doubts: list[str] = field(default_factory=list)


def read_text(text: str, means: Means = label.METRIC) -> Read:
    """The values of a pasted sheet. Raises PasteError for what is empty, too long, no text, or of two products."""
    if len(text) > MAX_CHARACTERS:
        raise PasteError(f"at most {MAX_CHARACTERS} characters: paste the pages with the figures")
    if "\0" in text or not text.strip():
        raise PasteError("there is no text in it: type it, or paste its text")
    # Columns are kept apart: "3 h   90 min" are two times, "3 h 30" is one.
    lines = tuple(re.sub(r"\s{2,}|\t", "  ", line.strip()) for line in text.splitlines()[:MAX_LINES])
    name = _name_of(lines)
    found = _Found()
    for n, body, context in _contexts(lines):
        for field_name, said in _segments(body):
            _read(found, field_name, said, n, context, means)
    _close_window(found, means)
    _join_limits(found, means)
    titles = tuple(n for n, line in enumerate(lines, 1) if _TITLE.match(line) or _is_head(line))
    proposals = tuple(_conflicts(sorted(found.proposals, key=lambda p: (p.line, p.field))))
    return Read(lines, proposals, name, titles)


def _name_of(lines: tuple[str, ...]) -> str:
    """The product that the sheet is of, "" if it names none. Raises PasteError for two."""
    names = list(dict.fromkeys(m["name"] for line in lines if (m := _TITLE.match(line))))
    if len({name.lower() for name in names}) > 1:
        raise PasteError(f"it has two products, {names[0]} and {names[1]}: paste one at a time")
    return names[0] if names else ""


def _contexts(lines: tuple[str, ...]) -> Iterator[tuple[int, str, list[float]]]:
    """(line, its text with a value that stands on the next, temperatures that its columns or head name [°C])."""
    heads: list[float] = []
    read = -1
    for n, line in enumerate(lines):
        if n <= read:
            continue
        if not line:
            heads = heads if len(heads) > 1 and _goes_on(lines[n + 1 :], len(heads)) else []
        elif _is_head(line):
            heads = _temps(line)
        else:
            at = _value_line(lines, n)
            yield n + 1, line if at is None else f"{line} {lines[at]}", heads
            read = n if at is None else at


def _value_line(lines: tuple[str, ...], n: int) -> int | None:
    """The line under one that is a name alone, if it holds the value; else None."""
    line = lines[n]
    at = next((i for i in range(n + 1, min(n + 3, len(lines))) if lines[i]), None)
    if at is None or re.search(r"\d", line) or not _WORDS.search(line):
        return None
    return at if _VALUE.match(lines[at]) and not _WORDS.search(lines[at]) else None


def _is_head(line: str) -> bool:
    """True for a line that names temperatures and nothing for them: what follows is for these."""
    return bool(_DEGREE.search(line)) and not _SPAN.search(_DEGREE.sub("", line)) and not _own(line)


def _goes_on(rest: tuple[str, ...], columns: int) -> bool:
    """True if the next line that is not empty has a time for each column."""
    line = next(filter(None, rest), "")
    try:
        return len(_spans(line, "min")) == columns
    except LabelError:
        return False


def _own(line: str) -> bool:
    """True for a line whose temperatures are its own value: limits of climate."""
    match = _WORDS.search(line)
    return match is not None and match.lastgroup in {"limits", "skip", "shelf", "ratio", "thinner"}


def _temps(text: str) -> list[float]:
    """Temperatures that a text names with their unit [°C]."""
    found = []
    for match in _DEGREE.finditer(text):
        try:
            found.append(label.celsius(f"{match['n']} °{match['u'].strip()[-1].upper()}")[0])
        except LabelError:
            continue
    return found


def _segments(body: str) -> Iterator[tuple[str, str]]:
    """(field, what is said of it) of a line: from one of its words to the next."""
    words = list(_WORDS.finditer(body))
    for match, after in zip(words, [*words[1:], None], strict=False):
        said = body[match.end() : after.start() if after else len(body)]
        if match.lastgroup and match.lastgroup != "skip":
            before = body[: match.start()] if match is words[0] else ""
            yield match.lastgroup, f"{said} ⟨{before} {match.group()}⟩"
        elif match.lastgroup == "skip":
            return


def _read(found: _Found, name: str, said: str, line: int, heads: list[float], means: Means) -> None:
    """Propose what a segment says of a field, if it can be said."""
    said, _, before = said.partition("⟨")
    plain = _APPROX.sub(" ", said).strip(" :=.…\t|-–")
    before = before.rstrip("⟩")
    try:
        if name in _TIMED:
            _timed(found, name, plain, before, line, heads, means)
        elif name in {"recoat", "recoat_min", "recoat_max"}:
            _window(found, name, plain, before, line, heads, means)
        else:
            told = _PLAIN[name](plain, before, means)
            if told is not None:
                text, doubt = told
                found.proposals.append(Proposal(name, text, line, doubt))
    except (LabelError, KeyError, IndexError):
        return


_TIMED = {"pot_life", "induction", "flash", "dust_free", "touch", "handle", "sandable", "cure"}


def _spans(said: str, role: str) -> list[float]:
    """Times of a text [min], each range at its careful end."""
    found, at = [], 0
    while match := _SPAN.search(said, at):
        at, unit = match.end(), match["unit"].lower()
        told = match.group()
        if match["more"] and not unit.startswith("h"):
            # What stands after days or minutes is another time, not minutes more.
            at, told = match.start("more"), said[match.start() : match.start("more")]
        if not unit.startswith("mon"):
            found.append(label.minutes(" ".join(told.split()), role))
    return found


def _timed(found: _Found, name: str, said: str, before: str, line: int, heads: list[float], means: Means) -> None:
    role = "max" if name == "pot_life" else "min"
    pairs, doubt = _points(said, before, role, heads, means)
    if pairs:
        text = ", ".join(f"{duration(m)} at {degrees(t, means.system)}" for t, m in sorted(pairs.items()))
        found.proposals.append(Proposal(name, text, line, doubt))
    elif name == "induction" and re.match(r"^(?:none|not (?:required|needed))\b", said, re.I):
        found.proposals.append(Proposal(name, "none", line))


def _points(said: str, before: str, role: str, heads: list[float], means: Means) -> tuple[dict[float, float], str]:
    """({°C: min}, doubt) of a text; nothing where it cannot surely be said which time is for which temperature."""
    temps = _temps(said)
    unread = len(_DEGREE.findall(said)) > len(temps)
    if unread or len(_HUMID.findall(said)) > 1 or "%" in _HUMID.sub("", said):
        return {}, ""
    times = _spans(_HUMID.sub(" ; ", _DEGREE.sub(" ; ", said)), role)
    columns = temps or heads
    if len(times) > 1 and len(columns) == len(times) == len(set(columns)):
        return dict(zip(columns, times, strict=True)), ""
    return _at_one(times[0], temps or _temps(before) or heads, means) if len(times) == 1 else ({}, "")


def _at_one(minutes: float, temps: list[float], means: Means) -> tuple[dict[float, float], str]:
    """({°C: min}, doubt) of one time beside these temperatures."""
    if len(temps) == 1:
        return {temps[0]: minutes}, ""
    if temps:
        return {}, ""
    return {label.AT_C: minutes}, f"names no temperature: taken for {degrees(label.AT_C, means.system)}"


_MIN = re.compile(r"\b(?:min(?:imum)?|from|after|earliest)\b\.?\s*:?\s*(?=\d)", re.I)
_MAX = re.compile(r"\b(?:max(?:imum)?|until|within|latest|up to)\b\.?\s*:?\s*(?=\d|unlim|no |none)", re.I)


def _window(found: _Found, name: str, said: str, before: str, line: int, heads: list[float], means: Means) -> None:
    """Gather ends of the window; a segment of several stretches is read as a label's is."""
    if name == "recoat" and re.search(r"\bwith\b(?!in)|\bby (?:itself|other)", said, re.I):
        return
    if name == "recoat" and re.search(r"\bor (?:after|again)\b", said, re.I):
        label.window(said, means)
        found.proposals.append(Proposal("recoat", said, line))
        return
    opens, closes = _ends(name, said)
    found.no_limit = line if _NONE.search(said) and not closes else found.no_limit
    _end(found, opens, "min", said, before, line, heads, means)
    _end(found, closes, "max", said, before, line, heads, means)


def _end(
    found: _Found, text: str, role: str, said: str, before: str, line: int, heads: list[float], means: Means
) -> None:
    """Take down one end of the window, at the temperatures that it, or its whole segment, names."""
    if not text:
        return
    rest = "" if _DEGREE.search(text) else said
    pairs, doubt = _points(text, f"{before} {rest}", role, heads, means)
    found.doubts += [doubt] if doubt else []
    into = found.opens if role == "min" else found.closes
    into.update({temp: (value, line) for temp, value in pairs.items()})


def _ends(name: str, said: str) -> tuple[str, str]:
    """(text of the opening, text of the close) of a segment; "" for what is not told."""
    if name == "recoat_max":
        return "", said
    first, last = _MIN.search(said), _MAX.search(said)
    if name == "recoat_min":
        return (said[: last.start()], said[last.end() :]) if last else (said, "")
    if first and last and first.start() < last.start():
        return said[first.end() : last.start()], said[last.end() :]
    if last and not first:
        return said[: last.start()], said[last.end() :]
    if first:
        return said[first.end() :], ""
    both = _RANGE.search(said)
    if both:
        rest = said[both.end() :]
        return f"{both['a']} {both['au'] or both['bu']} {rest}", f"{both['b']} {both['bu']} {rest}"
    return said, ""


def _close_window(found: _Found, means: Means) -> None:
    """One proposal of the ends that were gathered."""
    ends = (*found.opens.values(), *found.closes.values())
    if not ends:
        return
    temps = sorted({*found.opens, *found.closes}, key=lambda t: t or 0.0)
    both = [(t, found.opens.get(t), found.closes.get(t)) for t in temps]
    parts = [f"{_stretch(a, b)} at {degrees(t or label.AT_C, means.system)}" for t, a, b in both]
    text = ", ".join(parts) + (", no limit" if found.no_limit and not found.closes else "")
    doubts = list(dict.fromkeys(found.doubts))
    doubts += ["it closes before it opens"] if any(_shuts_first(a, b) for _, a, b in both) else []
    line, *also = sorted({n for _, n in ends})
    found.proposals.append(Proposal("recoat", text, line, "; ".join(doubts), tuple(also)))


def _shuts_first(opens: tuple[float, int] | None, closes: tuple[float, int] | None) -> bool:
    return opens is not None and closes is not None and closes[0] <= opens[0]


def _stretch(opens: tuple[float, int] | None, closes: tuple[float, int] | None) -> str:
    """From when until when, as a label says it; each is (minutes, line)."""
    if opens and closes:
        return f"{duration(opens[0])} to {duration(closes[0])}"
    if opens:
        return f"after {duration(opens[0])}"
    return f"within {duration(closes[0])}" if closes else ""


def _join_limits(found: _Found, means: Means) -> None:
    """Limits of temperature and of humidity on lines of their own are one field."""
    mine = [p for p in found.proposals if p.field == "limits"]
    if len(mine) < 2:
        return
    text = ", ".join(dict.fromkeys(p.text for p in mine))
    apart: dict[str, object] = {}
    try:
        for p in mine:
            apart |= label.limits(p.text, means)
        if label.limits(text, means) != apart:
            return
    except LabelError:
        return
    rest = [p for p in found.proposals if p.field != "limits"]
    found.proposals = [*rest, replace(mine[0], text=text, also=tuple(p.line for p in mine[1:]))]


def _conflicts(proposals: list[Proposal]) -> Iterator[Proposal]:
    """A field that is told twice and differently is in doubt wherever it stands; told twice the same, it is one."""
    by_field = defaultdict(list)
    for p in proposals:
        by_field[p.field].append(p)
    seen = set()
    for p in proposals:
        texts = {q.text for q in by_field[p.field]}
        if len(texts) > 1 and p.field != "ratio":
            others = ", ".join(str(q.line) for q in by_field[p.field] if q.text != p.text)
            yield replace(p, doubt="; ".join(filter(None, (p.doubt, f"told otherwise on line {others}"))))
        elif (p.field, p.text) not in seen:
            seen.add((p.field, p.text))
            yield p


Told = tuple[str, str] | None


def _ratio(said: str, before: str, means: Means) -> Told:
    whole = f"{before} {said}"
    parts = _PARTS.search(said)
    share = re.search(r"(\d+(?:[.,]\d+)?)\s*%", said)
    by = (
        re.search(r"\bvol(?:ume)?\b|v/v", whole, re.I),
        re.search(r"\bweight\b|\bmass\b|\bwt\b|w/w|\bpbw\b", whole, re.I),
    )
    if (by[0] is None) == (by[1] is None) or (parts is None and share is None):
        return None
    way = "volume" if by[0] else "weight"
    if parts is not None:
        numbers = ":".join(number for number in parts.groups() if number)
    elif (
        share is not None
        and way == "weight"
        and re.search(r"harden|catal|activ", whole, re.I)
        and not re.search(r"\d\s*(?:-|–|to)\s*\d", said)
    ):
        numbers = f"100:{share[1]}"
    else:
        return None
    label.ratio(f"{numbers} by {way}", means)
    return f"{numbers} by {way}", ""


def _share(said: str, before: str, means: Means) -> Told:
    match = re.search(r"(?:max\.?|up to)?\s*\d+(?:[.,]\d+)?\s*%?\s*(?:(?:-|–|—|to)\s*\d+(?:[.,]\d+)?\s*)?%", said, re.I)
    if match is None:
        return None
    low, high = label.percent(match.group().strip())
    most = re.match(r"\s*(?:max|up to)", match.group(), re.I)
    if most or low != high:
        return f"{low:g} %", f"of {match.group().strip()}: say how much is added"
    return f"{low:g} %", ""


def _solids(said: str, before: str, means: Means) -> Told:
    match = re.search(r"(\d+(?:[.,]\d+)?)\s*%", said)
    if match is None or re.search(r"weight|mass", f"{said} {before}", re.I):
        return None
    return f"{label.percent(match.group())[0]:g} %", ""


_FILM = re.compile(
    r"(\d+(?:[.,]\d+)?)\s*(?:µm|μm|um|microns?|mils?)?\s*(?:(?:-|–|—|to)\s*(\d+(?:[.,]\d+)?))?\s*(µm|μm|um|microns?|mils?|mm)\b",
    re.I,
)


def _film(said: str, before: str, means: Means) -> Told:
    if re.search(r"\bwet\b", f"{said} {before}", re.I) and not re.search(r"\bdry\b|dft", f"{said} {before}", re.I):
        return None
    match = _FILM.search(said)
    if match is None or match[3].lower() == "mm":
        return None
    several = re.search(r"\bin (?:two|three|\d) coats|\btotal\b", f"{said} {before}", re.I)
    text = f"{match[1]}{' to ' + match[2] if match[2] else ''} {match[3]}"
    label.film(text, means)
    return text, "of all coats together, or of one?" if several else ""


def _coverage(said: str, before: str, means: Means) -> Told:
    match = _COVERS.search(said)
    if match is None:
        return None
    label.coverage(match.group(), means)
    return match.group(), ""


def _density(said: str, before: str, means: Means) -> Told:
    match = re.search(r"(\d+[.,]\d+)\s*(?:g/ml|g/cm3|g/cm³|kg/l|kg/dm3|kg/lit(?:re|er))\b", said, re.I)
    mixed = re.search(r"\bmix", f"{said} {before}", re.I)
    part = re.search(r"\b(base|hardener|thinner)\b", before + said, re.I)
    if match is None or mixed:
        return None  # a mix's density is none of its parts'
    return (f"{part[1].lower()} " if part else "") + match[1].replace(",", "."), "" if part else "of which part?"


def _voc(said: str, before: str, means: Means) -> Told:
    match = re.search(r"(\d{1,4})(?:[.,]\d+)?\s*g/l\b", said, re.I)
    return (
        (match[1], "ready to use, or of each part?")
        if match and not re.search(r"limit", f"{said} {before}", re.I)
        else None
    )


def _limits(said: str, before: str, means: Means) -> Told:
    text = said.strip(" .;")
    label.limits(text, means)
    return text, ""


def _shelf(said: str, before: str, means: Means) -> Told:
    match = re.search(r"\d+(?:[.,]\d+)?\s*(?:months?|years?)", said, re.I)
    if match is None:
        return None
    label.shelf(match.group())
    return match.group(), ""


def _grit(said: str, before: str, means: Means) -> Told:
    found = re.findall(r"P ?(\d{2,4})", said, re.I)
    return ("–".join(label.grits("–".join(f"P{n}" for n in found))), "") if 1 <= len(found) <= 2 else None


def _coats(said: str, before: str, means: Means) -> Told:
    match = re.match(r"(\d{1,2})(?:\s*(?:-|–|to)\s*(\d{1,2}))?(?![\d.,]|\s*(?:µm|um|%|h|min))", said)
    return (f"{label.count(match.group())}", f"of {match.group()}" if match[2] else "") if match else None


def _lift(said: str, before: str, means: Means) -> Told:
    match = re.search(r"(\d+(?:[.,]\d+)?)\s*mm\b", said, re.I)
    return (f"{label.millimetres(match.group()):g} mm", "") if match else None


def _use(said: str, before: str, means: Means) -> Told:
    match = re.search(r"(\d+(?:[.,]\d+)?)\s*(ml|l)\s*(?:/|per)\s*(?:m2|m²)", said, re.I)
    return (f"{label.use_ml_m2(match.group()):g} mL/m²", "") if match else None


_PLAIN: dict[str, Callable[[str, str, Means], Told]] = {
    "ratio": _ratio, "thinner": _share, "solids": _solids, "film": _film, "coverage": _coverage, "density": _density, "voc": _voc,
    "limits": _limits, "shelf": _shelf, "grit": _grit, "coats": _coats, "lift": _lift, "use": _use,
}  # fmt: skip
