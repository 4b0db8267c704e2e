"""Spoilt input for every parser and, by the resolver, for every form: what comes back, never a crash."""

import io
import json
import math
import random
import re
import resource
import string
import sys
import time
import traceback
import zipfile
from datetime import UTC, datetime
from html.parser import HTMLParser
from zoneinfo import ZoneInfo

import yaml
from django.core.exceptions import ValidationError
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.signals import got_request_exception
from django.db import transaction
from django.urls import URLPattern, URLResolver, get_resolver

from emplastra.climate.services import Choices, understand
from emplastra.core import units
from emplastra.core.air.log_shape import LogError
from emplastra.core.document import DocumentError
from emplastra.core.errors import FieldError
from emplastra.core.product.sheet import SheetError
from emplastra.core.schedule import shop_hours
from emplastra.core.spray.panel import openings_of
from emplastra.core.surface import system_file
from emplastra.core.survey import file as survey_file
from emplastra.handover import unpacking
from emplastra.jobs import photos
from emplastra.logbook.models import Kind
from emplastra.materials.services import check_sheet, read_document
from emplastra.shared.fields import PlainNumber
from emplastra.shared.services import Refused
from emplastra.shared.tasks import Failed
from emplastra.shared.times import TimeError, read_local
from tests.base import PRIMER, drop_caches

NASTY = (
    "", " ", "²", "٣", "1²", "½", "１２", "1e400", "-1e400", "NaN", "inf", "-0", "0", "-1", "1e-320", "9" * 401, "-" + "9" * 25, "99999999999999999999",
    "1/0", "1 1/0", "3/4", "1,5", "1.234,5", ",", ".", "/", ":", "::", "%", "0x1F", "1_000", "+5", "--5", "1e5", "None", "null", "true", "[]", "{}",
    '{"a": null}', "[" * 3000, "\r", "a\rb", "\r\n", "\n\n", "\t", "\x00", "\x1b[0m", "\u202e", "😀", "é", "<script>", "'; DROP TABLE x; --", "../../etc", "x" * 30_000,
    "2026-05-12 10:00 +25:00", "0001-01-01 00:00 +14:00", "9999-12-31 23:59 -12:00", "2026-05-12T10:00:00+99:99", "2026-02-30 10:00", "25:99",
    "10:00²", "yesterday", "today 24:00", "2026-03-29 02:30", "2026-10-25 02:30", "0000-00-00", "-3 mil", "12 ft", "3 ft 6 in", "4:1", "4:0", "1 x 1", "2 ft x 350",
    "20 °C", "451 °F", "0 K", "100 %", "P80", "prime", "1", "2", "7", "100",
)  # fmt: skip
SHEET = yaml.safe_dump(PRIMER, sort_keys=False)
SYSTEMS = yaml.safe_dump([{"name": "One", "school": "s", "max_total_um": 60, "steps": [{"kind": "strip"}, {"kind": "prime", "dft_um": 45, "coats": 1}]}])  # fmt: skip
LOG = (
    "time;air_c;rh_pct;surface_c\n2026-05-09 10:00;18,2;55;17\n2026-05-09 10:10;18,3;56;17\n09.05.2026 10:20;18,4;57;\n"
)
HOURS = json.dumps({"hourly": {"time": ["2026-05-12T09:00+02:00", "2026-05-12T10:00+02:00"], "air_c": [18, 19.5], "dew_c": [9, 9.5]}})  # fmt: skip
SURVEY = json.dumps({"format": survey_file.FORMAT, "zones": [{"zone": "Cab", "told": [
    {"pass": "found", "topic": "rust", "choice": "C", "figures": {"depth": 0.3}, "evidence": "bare", "seen": "2026-05-12T10:00:00+02:00"}]}]})  # fmt: skip
SURVEY_CSV = "zone,pass,topic,mark,choice,figures,text,evidence,seen,cause\nCab,found,rust,,C,depth=0.3,,bare,2026-05-12T10:00:00+02:00,\n"  # fmt: skip
NOW = datetime(2026, 5, 12, 10, 0, tzinfo=UTC)
VIENNA = ZoneInfo("Europe/Vienna")


def spoilt(chance, text):
    """A text with a few nasty values put in place of, or into, its tokens; or one of them alone."""
    for _ in range(chance.choice((1, 1, 1, 2, 3))):
        kind = chance.randrange(7)
        tokens = [m.span() for m in re.finditer(r"[\w.+-]+", text)] or [(0, len(text))]
        a, b = chance.choice(tokens)
        value = chance.choice(NASTY)
        if kind == 0:
            text = value
        elif kind <= 3:
            text = text[:a] + value + text[b:]
        elif kind == 4:
            text = text[:a] + text[b:]
        elif kind == 5:
            at = chance.randrange(len(text) + 1)
            text = text[:at] + chance.choice(string.printable) + text[at:]
        else:
            lines = text.split("\n")
            at = chance.randrange(len(lines))
            text = "\n".join([*lines[:at], *[lines[at]] * chance.choice((0, 2, 40)), *lines[at + 1 :]])
    return text


def spoilt_bytes(chance, data):
    """Bytes with a few of them changed, or cut."""
    data = bytearray(data)
    for _ in range(chance.choice((1, 4, 40))):
        data[chance.randrange(len(data))] = chance.randrange(256)
    return bytes(data[: chance.randrange(len(data))] if chance.random() < 0.3 else data)


def picture():
    """A small JPEG with something written beside it."""
    from PIL import Image

    out, exif = io.BytesIO(), Image.Exif()
    exif[0x0112], exif[0x010E] = 6, "x"
    Image.new("RGB", (40, 30), "red").save(out, "JPEG", exif=exif)
    return out.getvalue()


def parsers():
    """(name, seed, what reads it, what it may raise); what is read and finite is good."""
    encode = str.encode
    yield from (
        (f"quantity, {d}", seed, lambda t, d=d: units.parse_quantity(t, d).value, units.UnitError)
        for d, seed in (("length", "3 ft 6 in"), ("film", "3 mil"), ("area", "2 ft x 350 mm"), ("volume", "1 1/2 US pt"), ("temperature", "68 °F"), ("percent", "10 %"))
    )  # fmt: skip
    yield "product", "2 ft x 350 mm", units.parse_product, units.UnitError
    yield "plain number", "1,5", lambda t: PlainNumber(required=False).clean(t), ValidationError
    yield "moment", "2026-05-12 14:05 +02:00", lambda t: read_local(t, VIENNA, NOW).timestamp(), TimeError
    for zone in ("", "Europe/Vienna"):
        yield "climate log", LOG, lambda t, z=zone: understand(encode(t), Choices(z, "dmy", "C", True)), LogError
    yield "forecast", HOURS, lambda t: understand(encode(t), None, True), LogError
    yield "survey, JSON", SURVEY, lambda t: survey_file.read("s.json", encode(t), NOW), survey_file.SurveyFileError
    yield "survey, CSV", SURVEY_CSV, lambda t: survey_file.read("s.csv", encode(t), NOW), survey_file.SurveyFileError
    yield "data sheet", SHEET, lambda t: check_sheet(read_document(encode(t))), (Refused, SheetError)
    yield "systems", SYSTEMS, lambda t: system_file.read(read_document(encode(t))), (Refused, DocumentError)
    yield (
        "hours of the shop",
        "Mon–Fri 7:00–17:00, Sat 8 to 12",
        lambda t: shop_hours.read(shop_hours.read(t).text),
        FieldError,
    )
    yield "openings", "90 80 520 340; 700, 80, 100 x 100", openings_of, FieldError
    yield "photo", picture(), photos.clean, Refused


def fuzz_parsers(count, seed=1):
    """Give each parser its share of `count` spoilt inputs; a line for each that came to grief."""
    chance, rows, wrong, slowest = random.Random(seed), list(parsers()), [], (0.0, "")
    for n in range(count):
        name, sound, read, declared = rows[n % len(rows)]
        given = spoilt_bytes(chance, sound) if isinstance(sound, bytes) else spoilt(chance, sound)
        begun = time.perf_counter()
        try:
            found = read(given)
            if isinstance(found, float) and not math.isfinite(found):
                wrong.append(f"{name}: {given[:60]!r} gave {found}")
        except declared:
            continue
        except Exception as error:
            wrong.append(f"{name}: {given[:80]!r}: {type(error).__name__}: {str(error)[:80]}")
        finally:
            slowest = max(slowest, (time.perf_counter() - begun, name))
    print(f"fuzz: {count} spoilt inputs to {len(rows)} parsers; slowest {slowest[0]:.2f} s, {slowest[1]}; {memory()}")
    return wrong


def memory():
    """The most that this process has held, in words."""
    return f"peak memory {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024} MB"


class Forms(HTMLParser):
    """The forms of a page: {address: {field: value}}."""

    def __init__(self, page, at):
        super().__init__()
        self.at, self.found, self.here, self.choice, self.files = at, {}, None, None, {}
        self.feed(page)

    def handle_starttag(self, tag, attributes):
        told = dict(attributes)
        if tag == "form" and told.get("method") == "post":
            self.to = told.get("action") or self.at
            self.here = self.found.setdefault(self.to, {})
        if "hx-post" in told:
            self.found.setdefault(told["hx-post"], dict(self.here or {}))
        if self.here is None or not told.get("name"):
            if tag == "option" and self.choice and "selected" in told:
                self.here[self.choice] = told.get("value", "")
            return
        if told.get("type") == "file":
            self.files.setdefault(self.to, set()).add(told["name"])
        elif tag == "select":
            self.choice = told["name"]
            self.here.setdefault(self.choice, "")
        elif tag == "button" or told.get("type") not in {"radio", "checkbox"} or "checked" in told:
            self.here[told["name"]] = told.get("value") or ""
        else:
            self.here.setdefault(told["name"], "")

    def handle_endtag(self, tag):
        if tag == "form":
            self.here = None
        if tag == "select":
            self.choice = None


def named_addresses():
    """(name, route) of every address of the resolver."""

    def walk(patterns, before="", space=""):
        for pattern in patterns:
            route = before + str(pattern.pattern)
            if isinstance(pattern, URLResolver):
                inside = f"{space}{pattern.namespace}:" if pattern.namespace else space
                yield from walk(pattern.url_patterns, route, inside)
            elif isinstance(pattern, URLPattern):
                yield f"{space}{pattern.name}", route

    return walk(get_resolver().url_patterns)


def addresses(ids):
    """Every address of the resolver with real ids in it, and some that are none. ids: {route word: [id]}."""
    for _, route in named_addresses():
        if route.startswith(("static", "sign-out", "photos")):  # the last sends files, and takes nothing
            continue
        for pk in (
            ["entry", 7]
            if "/<logkind:kind>/<int" in route
            else [*ids.get(route.split("/")[0], [1]), 999_999_999_999_999_999_999][: None if "<int" in route else 1]
        ):
            filled = re.sub(r"<int:\w+>", str(pk), route)
            for word in WORDS.get((re.search(r"<\w+:\w+>", filled) or [""])[0], ("x",)):
                at = "/" + re.sub(r"<(?:\w+:)?\w+>", word, filled)
                yield at.replace("/entry/", f"/{ids['entry'].get(word, 1)}/")


WORDS = {
    "<slug:kind>": ("json", "csv", "key"), "<logkind:kind>": Kind.values, "<stage:stage>": ("found", "bared"), "<slug:size>": ("small", "whole"),
    "<slug:act>": ("a2", "x"),
}  # fmt: skip
QUERIES = ("zone", "job", "n", "offer", "stage", "all", "q", "when", "note", "finding", "layout", "status", "opening", "filed", "zones", "place", "warm", "coat")  # fmt: skip


def harvest(client, ids):
    """({address: {field: value}} of every form that a page shows, {address: [field]} of those that take files, [(address,
    status) of every address looked at]).
    """
    known, files, seen = {}, {}, []
    client.raise_request_exception = False
    for url in dict.fromkeys(addresses(ids)):
        answer = client.get(url)
        seen.append((url, answer.status_code))
        known.setdefault(url, {})
        if answer.status_code == 200 and "html" in answer.get("Content-Type", "") and not answer.streaming:
            read = Forms(answer.content.decode(), url)
            found = read.found
            everything = {name: value for fields in found.values() for name, value in fields.items()}
            for at, fields in found.items():
                known.setdefault(at.split("?")[0], {}).update(fields or everything)
            for at, names in read.files.items():
                files.setdefault(at.split("?")[0], sorted(names))
    known.pop("/sign-out", None)
    return known, files, seen


def fuzz_forms(client, known, count, seed=1):
    """Fill every form of every page with spoilt values, `count` in all; a line for each error of the server."""
    chance, wrong, slowest = random.Random(seed), [], (0.0, "")
    raised = []

    def note(sender, request, **_):
        error = sys.exc_info()[1]
        raised.append(f"{type(error).__name__}: {str(error)[:90]} ({traceback.extract_tb(error.__traceback__)[-1]})")

    got_request_exception.connect(note)
    client.raise_request_exception = False
    try:
        away = [url for url in known if "9999999" in url]
        targets = [url for url in known if url not in away] + chance.sample(away, min(len(away), len(known) // 20))
        jar = client.cookies.copy()
        for n in range(count):
            url = targets[n % len(targets)]
            fields = dict(known[url])
            names = list(fields) or ["x"]
            for name in chance.sample(names, min(len(names), chance.choice((1, 1, 2, 3)))):
                fields[name] = chance.choice(NASTY)
            fields["token"] = f"fuzz-{n}"
            if chance.random() < 0.1:
                fields["token"] = chance.choice(NASTY)
            query = {chance.choice(QUERIES): chance.choice(NASTY)}
            client.cookies.load({name: each.value for name, each in jar.items()})  # a wrong password too many signs out
            mark, begun = transaction.savepoint(), time.perf_counter()
            answer = client.get(url, query) if chance.random() < 0.2 else client.post(url, fields, query_params=query)
            if answer.status_code >= 500:
                shown = {k: v[:40] for k, v in fields.items() if v in NASTY} | query
                wrong.append(f"{answer.request['REQUEST_METHOD']} {url} {shown!r:.200}: {raised.pop() if raised else answer.status_code}")  # fmt: skip
            slowest = max(slowest, (time.perf_counter() - begun, url))
            transaction.savepoint_rollback(mark)
            if answer.status_code in {302, 500}:
                drop_caches()
    finally:
        got_request_exception.disconnect(note)
    print(f"fuzz: {len(known)} addresses, {count} spoilt forms; slowest {slowest[0]:.2f} s, {slowest[1]}; {memory()}")
    return wrong


STL = b"solid x\n" + b"".join(b"facet normal 0 0 1\nouter loop\nvertex 0 0 %d\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\n" % n for n in range(4)) + b"endsolid x\n"  # fmt: skip
SHELF = b"product,part,batch,count,size,price,came,use by,place,kit\nTest primer,base,B1,2,1 L,30,2026-05-01,2027-05-01,Shop,\n"


def sound_files(archive):
    """(a word of the address, name, sound bytes) of files that pages take; of every kind where no word fits."""
    return (
        ("air/", "log.csv", LOG.encode()), ("air/", "hours.json", HOURS.encode()), ("materials/", "sheet.yaml", SHEET.encode()), ("materials/", "systems.yaml", SYSTEMS.encode()),
        ("survey", "survey.json", SURVEY.encode()), ("survey", "survey.csv", SURVEY_CSV.encode()), ("photo", "p.jpg", picture()), ("mesh", "m.stl", STL), ("store", "tins.csv", SHELF),
        ("bring", "job.zip", archive),
    )  # fmt: skip


def fuzz_files(client, known, files, archive, count, counts, seed=1):
    """Send spoilt files to every form that takes one: a line for each error of the server, and for each answer that
    refused a file of which something was kept all the same. counts: gives {table: rows}.
    """
    chance, wrong, slowest, kept = random.Random(seed), [], (0.0, ""), 0
    targets = [url for url in sorted(files) if "9999999" not in url]
    client.raise_request_exception = False
    for n in range(count):
        url = targets[n % len(targets)]
        fitting = [each for each in sound_files(archive) if each[0] in url] or sound_files(archive)
        _, name, data = chance.choice(fitting)
        given = data if chance.random() < 0.1 else spoilt_bytes(chance, data)
        if name.endswith((".csv", ".json", ".yaml")) and chance.random() < 0.6:
            given = spoilt(chance, data.decode()).encode("utf-8", "replace")
        fields = dict(known.get(url, {})) | {"token": f"file-{n}"}
        fields |= {field: SimpleUploadedFile(name, given) for field in files[url]}
        mark, begun, before = transaction.savepoint(), time.perf_counter(), counts()
        answer = client.post(url, fields)
        if answer.status_code >= 500:
            wrong.append(f"{url} {name} {given[:60]!r}: {answer.status_code}")
        if answer.status_code in {302, 303}:
            kept += 1
        elif counts() != before:
            wrong.append(f"{url} {name} {given[:60]!r}: refused, and kept in part")
        slowest = max(slowest, (time.perf_counter() - begun, url))
        transaction.savepoint_rollback(mark)
        drop_caches()
    print(
        f"fuzz: {count} spoilt files to {len(targets)} forms, {kept} taken; slowest {slowest[0]:.2f} s, {slowest[1]}; {memory()}"
    )
    return wrong


def fuzz_archives(archive, user, count, counts, seed=1):
    """Take in a job's archive whose document was spoilt; a line for each undeclared error, and for each job kept half."""
    chance, wrong, taken = random.Random(seed), [], 0
    with zipfile.ZipFile(io.BytesIO(archive)) as found:
        parts = {name: found.read(name) for name in found.namelist()}
    told = next(name for name in parts if name.endswith(".json"))
    for _ in range(count):
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as made:
            for name, data in parts.items():
                made.writestr(name, spoilt(chance, data.decode()) if name == told else data)
        before = counts()
        try:
            with transaction.atomic():
                document, inside = unpacking.look(out)
                with inside:
                    unpacking.take_in(document, inside, user, "a" * 64)
                taken += 1
                raise Failed("taken in, and given back")
        except (Failed, Refused):
            pass
        except Exception as error:
            wrong.append(f"archive: {type(error).__name__}: {str(error)[:120]}")
        if counts() != before:
            wrong.append("archive: kept in part")
        drop_caches()
    print(f"fuzz: {count} spoilt archives of a job, {taken} taken in; {memory()}")
    return wrong
