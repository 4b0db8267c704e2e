"""A survey as a file: JSON by a published schema, whole; or CSV, what holds now.

Reading gives values and says every problem with its place; it never writes anything.
"""

import csv
import io
import itertools
import json
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

import jsonschema

from ..document import DocumentError, wanted
from ..document import plain as plain_document
from ..text import TextError, text_of
from .answers import Answer, AnswerError, check
from .findings import CAUSES, WORDS
from .topics import EVIDENCE, STAGES, TOPICS

FORMAT = "emplastra-survey/1"
COLUMNS = ("zone", "pass", "topic", "mark", "choice", "figures", "text", "evidence", "seen", "cause")
_SHORT: dict[str, Any] = {"type": "string", "maxLength": 200}

SCHEMA: dict[str, Any] = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "A survey",
    "description": "What was seen of each zone, in order, and what became of it. Lengths in mm; salts: rise in µS/cm, mL, cm².",
    "type": "object",
    "required": ["format", "zones"],
    "additionalProperties": False,
    "properties": {
        "format": {"const": FORMAT},
        "job": {"type": "string", "maxLength": 80},
        "zones": {
            "type": "array",
            "maxItems": 2000,
            "items": {
                "type": "object",
                "required": ["zone", "told"],
                "additionalProperties": False,
                "properties": {
                    "zone": {"type": "string", "minLength": 1, "maxLength": 80},
                    "told": {"type": "array", "items": {"anyOf": [{"$ref": "#/$defs/statement"}, {"$ref": "#/$defs/word"}]}},
                },
            },
        },
    },
    "$defs": {
        "statement": {
            "description": "A statement: the newest of a pass, topic and mark holds.",
            "type": "object",
            "required": ["pass", "topic", "choice", "evidence", "seen"],
            "additionalProperties": False,
            "properties": {
                "pass": {"enum": list(STAGES)},
                "topic": {"enum": list(TOPICS)},
                "mark": {"type": "string", "maxLength": 14},
                "choice": {"type": "string", "minLength": 1, "maxLength": 80},
                "figures": {"type": "object", "additionalProperties": {"type": "number"}},
                "text": _SHORT,
                "evidence": {"enum": list(EVIDENCE)},
                "seen": {"type": "string", "description": "ISO 8601 with its offset"},
            },
        },
        "word": {
            "description": "Something said of the newest statement of a topic and mark. step: kind and number of it in the plan.",
            "type": "object",
            "required": ["said", "topic"],
            "additionalProperties": False,
            "properties": {
                "said": {"enum": list(WORDS)},
                "topic": {"enum": list(TOPICS)},
                "mark": {"type": "string", "maxLength": 14},
                "cause": {"enum": ["", *CAUSES]},
                "step": {"type": "string", "pattern": r"^([a-z-]+:[0-9]+)?$"},
                "note": _SHORT,
            },
        },
    },
}  # fmt: skip


class SurveyFileError(ValueError):
    """A file that is no survey. `problems`: sentences, each with its place."""

    def __init__(self, problems: Sequence[str]) -> None:
        super().__init__("; ".join(problems))
        self.problems = list(problems)


@dataclass(frozen=True)
class Statement:
    """A statement of a file: the pass, the answer, when it was seen; cause only where the file is a CSV."""

    stage: str
    answer: Answer
    seen: datetime
    cause: str = ""


@dataclass(frozen=True)
class WordTold:
    """A word of a file, on the newest statement of a topic and mark; step as "kind:number"."""

    said: str
    topic: str
    mark: str = ""
    cause: str = ""
    step: str = ""
    note: str = ""


Told = dict[str, list[Statement | WordTold]]
"""What is told of each zone, by its name, in order."""


def to_json(job: str, told: Told) -> str:
    """A survey as JSON."""
    zones = [{"zone": zone, "told": [_item(item) for item in items]} for zone, items in told.items()]
    return json.dumps({"format": FORMAT, "job": job, "zones": zones}, ensure_ascii=False, indent=1) + "\n"


def _item(item: Statement | WordTold) -> dict[str, Any]:
    if isinstance(item, WordTold):
        found = {
            "said": item.said,
            "topic": item.topic,
            "mark": item.mark,
            "cause": item.cause,
            "step": item.step,
            "note": item.note,
        }
        return {k: v for k, v in found.items() if v or k in {"said", "topic"}}
    a = item.answer
    stated: dict[str, Any] = {
        "pass": item.stage,
        "topic": a.topic,
        "mark": a.mark,
        "choice": a.choice,
        "figures": dict(a.values),
        "text": a.text,
        "evidence": a.evidence,
        "seen": item.seen.isoformat(),
    }
    return {k: v for k, v in stated.items() if v or k in {"pass", "topic", "choice", "evidence", "seen"}}


def read(name: str, data: bytes, now: datetime) -> Told:
    """A survey from a file by its name: CSV or JSON; nothing in it may be seen after now. Raises SurveyFileError."""
    try:
        text = text_of(data, "a survey as JSON or CSV")
    except TextError as error:
        raise SurveyFileError([str(error)]) from error
    told = from_csv(text) if name.lower().endswith(".csv") else from_json(text)
    latest = now + timedelta(minutes=2)
    late = [
        f"{zone}: {each.answer.topic}: seen {each.seen.isoformat()} lies in the future"
        for zone, items in told.items()
        for each in items
        if isinstance(each, Statement) and each.seen > latest
    ]
    if late:
        raise SurveyFileError(late[:20])
    return told


def from_json(text: str) -> Told:
    """A survey from JSON. Raises SurveyFileError with every place that does not fit."""
    try:
        document = plain_document(json.loads(text))
    except DocumentError as error:
        raise SurveyFileError([str(error)]) from error
    except (ValueError, RecursionError) as error:
        raise SurveyFileError([f"this is not JSON: {error}"[:200]]) from error
    errors = itertools.islice(jsonschema.Draft202012Validator(SCHEMA).iter_errors(document), 100)
    found = sorted(errors, key=lambda e: list(map(str, e.path)))
    if found:
        raise SurveyFileError([f"{'/'.join(map(str, e.path)) or 'the file'}: {wanted(e)}" for e in found[:20]])
    told: Told = {}
    problems: list[str] = []
    for i, zone in enumerate(document["zones"]):
        items = told.setdefault(zone["zone"], [])
        for k, item in enumerate(zone["told"]):
            try:
                items.append(_told(item))
            except ValueError as error:
                problems.append(f"zones/{i}/told/{k}: {error}")
    if problems:
        raise SurveyFileError(problems[:20])
    return told


def _told(item: dict[str, Any]) -> Statement | WordTold:
    if "said" in item:
        return WordTold(item["said"], item["topic"], *(item.get(k, "") for k in ("mark", "cause", "step", "note")))
    figures = {k: float(v) for k, v in item.get("figures", {}).items()}
    answer = Answer(
        item["topic"], item.get("mark", ""), item["choice"], figures, item.get("text", ""), item["evidence"]
    )
    return Statement(item["pass"], check(answer), _moment(item["seen"]))


def _moment(text: str) -> datetime:
    try:
        found = datetime.fromisoformat(text)
    except ValueError as error:
        raise ValueError(f"seen: {text!r} is no moment; write ISO 8601, as in 2026-05-12T10:00:00+02:00") from error
    if found.tzinfo is None:
        raise ValueError(f"seen: {text!r} has no offset; write it with one, as in +02:00")
    if not 1990 <= found.year <= 9000:
        raise ValueError(f"seen: {text!r} is no year of ours: from 1990 on")
    return found


def to_csv(told: Told) -> str:
    """What holds now as CSV: the newest statement of each pass, topic and mark, with the cause named last."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for zone, items in told.items():
        newest: dict[tuple[str, str, str], Statement] = {}
        causes: dict[tuple[str, str], str] = {}
        for item in items:
            if isinstance(item, Statement):
                newest[item.stage, item.answer.topic, item.answer.mark] = item
                if item.cause:
                    causes[item.answer.topic, item.answer.mark] = item.cause
            elif item.said == "explained":
                causes[item.topic, item.mark] = item.cause
        for (stage, topic, mark), s in newest.items():
            figures = "; ".join(f"{k}={v!r}" for k, v in sorted(s.answer.values.items()))
            row = (
                zone,
                stage,
                topic,
                mark,
                s.answer.choice,
                figures,
                s.answer.text,
                s.answer.evidence,
                s.seen.isoformat(),
                causes.get((topic, mark), ""),
            )
            writer.writerow([escape(str(cell)) for cell in row])
    return out.getvalue()


def escape(cell: str) -> str:
    """A cell that no spreadsheet takes for a formula; `plain` undoes it."""
    return f"'{cell}" if cell[:1] in {"=", "+", "-", "@", "'", "\t", "\r"} else cell


def plain(cell: str) -> str:
    """A cell as it was before `escape`."""
    return cell[1:] if cell[:1] == "'" else cell


def from_csv(text: str) -> Told:
    """A survey from CSV, by the names of its columns. Raises SurveyFileError with line and column."""
    rows = csv.DictReader(io.StringIO(text))
    try:
        return _from_rows(rows)
    except csv.Error as error:
        raise SurveyFileError([f"line {rows.line_num}: this is no table of text: {error}"]) from error


def _cells(row: Mapping[str, str | None]) -> dict[str, str]:
    return {name: plain((value or "").strip()) for name, value in row.items() if name}


def _from_rows(rows: csv.DictReader) -> Told:
    missing = [c for c in ("zone", "pass", "topic", "choice") if c not in (rows.fieldnames or ())]
    if missing:
        raise SurveyFileError([f"line 1: no column is called {', '.join(missing)}; there must be {', '.join(COLUMNS)}"])
    told: Told = {}
    problems = []
    for row in rows:
        cells = _cells(row)
        try:
            told.setdefault(cells["zone"], []).append(_row(cells))
        except ValueError as error:
            problems.append(f"line {rows.line_num}: {error}")
    if problems:
        raise SurveyFileError(problems[:20])
    return told


def _finite(text: str) -> float:
    value = float(text)
    if not math.isfinite(value):
        raise ValueError("is not finite")
    return value


def _row(cells: dict[str, str]) -> Statement:
    if cells["pass"] not in STAGES:
        raise ValueError(f"pass: must be one of {', '.join(STAGES)}")
    figures = {}
    for pair in filter(None, (p.strip() for p in cells.get("figures", "").split(";"))):
        key, _, number = pair.partition("=")
        try:
            figures[key.strip()] = _finite(number)
        except ValueError as error:
            raise ValueError(f"figures: {pair!r}: write name=number, as in depth=0.3") from error
    cause = cells.get("cause", "")
    if cause and cause not in CAUSES:
        raise ValueError(f"cause: must be one of {', '.join(CAUSES)}")
    answer = Answer(
        cells["topic"],
        cells.get("mark", ""),
        cells["choice"],
        figures,
        cells.get("text", ""),
        cells.get("evidence") or "paint",
    )
    try:
        check(answer)
    except AnswerError as error:
        raise ValueError(f"{error.field}: {error}") from error
    return Statement(cells["pass"], answer, _moment(cells.get("seen", "")), cause)
