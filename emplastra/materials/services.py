"""Adding data sheets and systems."""

import hashlib
import json
from dataclasses import dataclass
from datetime import timedelta

import yaml
from django.db import transaction

from emplastra.core.document import MAX_DEPTH, MAX_TEXT, DocumentError, plain
from emplastra.core.product.asks import KINDS
from emplastra.core.product.entry import starter
from emplastra.core.product.sheet import SheetError, read
from emplastra.core.surface import system_file
from emplastra.core.surface.ready import ready_systems, taken
from emplastra.core.surface.steps import STEPS
from emplastra.core.words import film_q
from emplastra.shared import clock
from emplastra.shared.services import Refused, owners_only, writes

from . import selectors
from .models import LabelPhoto, Product, SheetRevision, System, SystemVersion

MAX_BYTES = 1_000_000
_MAX_PARTS = 60_000
"""Values and brackets in a file: a sheet has some hundreds."""


class Loader(getattr(yaml, "CSafeLoader", yaml.SafeLoader)):  # the one in C is some fifty times as fast
    """Safe YAML, but for 4:1, which is a ratio here and no number to the base of 60."""


def _number_or_text(construct):
    return lambda loader, node: node.value if ":" in node.value else construct(loader, node)


for _name in ("int", "float"):
    _construct = getattr(yaml.constructor.SafeConstructor, f"construct_yaml_{_name}")
    Loader.add_constructor(f"tag:yaml.org,2002:{_name}", _number_or_text(_construct))


def _look_through(text):
    """Refuse, as a stream and before anything is built, what could take long or grow without bound."""
    depth = 0
    for n, event in enumerate(yaml.parse(text, Loader=Loader)):
        depth += isinstance(event, yaml.CollectionStartEvent) - isinstance(event, yaml.CollectionEndEvent)
        if isinstance(event, yaml.AliasEvent):
            raise Refused("aliases (*name) are not taken: write the values out", "file")
        if n > _MAX_PARTS:
            raise Refused(
                f"the file has more than {_MAX_PARTS} parts: one sheet or one list of systems at a time", "file"
            )
        if depth > MAX_DEPTH or (isinstance(event, yaml.ScalarEvent) and len(event.value) > MAX_TEXT):
            raise Refused(
                f"line {event.start_mark.line + 1} lies deeper than {MAX_DEPTH} levels or is longer than "
                f"{MAX_TEXT} characters",
                "file",
            )


def read_document(data):
    """What the bytes of a YAML or JSON file hold. Raises Refused, saying what would do."""
    if len(data) > MAX_BYTES:
        raise Refused("the file is larger than 1 MB", "file")
    try:
        text = data.decode("utf-8-sig")
        _look_through(text)
        return yaml.load(text, Loader=Loader)
    except (yaml.YAMLError, ValueError, OverflowError, RecursionError, TypeError) as error:
        raise Refused(f"this is no YAML or JSON file: {' '.join(str(error).split())[:160]}", "file") from error


@dataclass(frozen=True)
class CheckedSheet:
    """A document that is a data sheet, and its hash."""

    sheet: object
    document: dict
    sha256: str


def check_sheet(document):
    """A document looked through before anything is stored. Raises SheetError naming each field."""
    try:
        document = plain(document)
    except DocumentError as error:
        raise SheetError(error.problems) from error
    sheet = read(document)
    tomorrow = (clock.now() + timedelta(days=1)).date().isoformat()
    if sheet.date > tomorrow:
        raise SheetError([("date", f"{sheet.date} lies in the future: the date of the sheet is wanted")])
    return CheckedSheet(sheet, document, hashlib.sha256(json.dumps(document, sort_keys=True).encode()).hexdigest())


class StaleSheet(Exception):
    """Somebody saved a revision meanwhile: `newest`."""

    def __init__(self, newest):
        super().__init__("the sheet was saved meanwhile")
        self.newest = newest


@writes
@transaction.atomic
def store_sheet(checked, why=SheetRevision.Why.MAKER, user=None, based_on=None):
    """A new revision of a product's sheet; the same document twice is one revision.

    based_on: number of the revision that it was made from (0: a product that is new), None where nobody looked. Raises
    StaleSheet if there is a newer one.
    """
    sheet = checked.sheet
    product, _ = Product.objects.get_or_create(name=sheet.product, defaults={"kind": sheet.kind})
    newest = product.revisions.first()
    if newest and newest.sha256 == checked.sha256:
        return newest
    if based_on is not None and newest is not None and newest.number != based_on:
        raise StaleSheet(newest)
    if product.kind != sheet.kind:
        product.kind = sheet.kind
        product.save(update_fields=["kind"])
    return SheetRevision.objects.create(
        product=product,
        number=newest.number + 1 if newest else 1,
        document=checked.document,
        sha256=checked.sha256,
        why=why,
        who=user,
    )


@writes
def keep_label(product, user, picture):
    """Keep a picture of a tin's label; the same one once. Its files are written by the caller."""
    found = product.labels.filter(sha256=picture.sha256).first()
    if found is not None:
        return found
    return LabelPhoto.objects.create(
        product=product, sha256=picture.sha256, width=picture.width, height=picture.height, who=user
    )


@owners_only
@transaction.atomic
def retire(product, user, retired, superseded_by=None):
    """Take a product off the shelf, or put it back; superseded_by: what took its place, which inherits no figure."""
    found = superseded_by
    while found is not None:
        if found.pk == product.pk:
            raise Refused(f"{product} would take its own place", "superseded_by")
        found = found.superseded_by
    product.retired, product.superseded_by = retired, superseded_by
    product.save(update_fields=["retired", "superseded_by"])
    return product


MOST_SHEETS = 1000


@dataclass(frozen=True)
class CheckedLibrary:
    """Sheets of a library, each checked."""

    sheets: tuple


def check_library(document):
    """A library of sheets looked through before anything is stored. Raises SheetError naming sheet and field."""
    if (
        set(document) - {"format", "sheets"}
        or document.get("format") != selectors.LIBRARY
        or not isinstance(document.get("sheets"), list)
    ):
        raise SheetError([("sheets", "a library holds its format and a list of sheets, nothing else")])
    if not 1 <= len(document["sheets"]) <= MOST_SHEETS:
        raise SheetError([("sheets", f"from 1 to {MOST_SHEETS} sheets")])
    found, problems, names = [], [], set()
    for n, each in enumerate(document["sheets"], 1):
        name = each.get("product", f"sheet {n}") if isinstance(each, dict) else f"sheet {n}"
        try:
            found.append(check_sheet(each))
        except SheetError as error:
            problems += [(f"{name}, {path}", message) for path, message in error.problems[:20]]
        if name in names:
            problems.append((str(name), "is there twice"))
        names.add(name if isinstance(name, str) else n)
    if problems:
        raise SheetError(problems[:200])
    return CheckedLibrary(tuple(found))


@writes
@transaction.atomic
def store_library(checked, why=SheetRevision.Why.MAKER, user=None):
    """Revisions of all sheets of a library, or of none."""
    return [store_sheet(each, why, user) for each in checked.sheets]


@writes
@transaction.atomic
def add_starter(user):
    """Put an unbranded product of each kind on the shelf that is not there: all its figures typical, none told."""
    today, made = clock.now().date().isoformat(), []
    for kind in KINDS:
        document = {**starter(kind), "date": today}
        if not Product.objects.filter(name=document["product"]).exists():
            made.append(store_sheet(check_sheet(document), user=user))
    return made


def add_sheet(document, why=SheetRevision.Why.MAKER):
    """Check a document and store it as a revision. Raises SheetError naming each field."""
    return store_sheet(check_sheet(document), why)


def check_systems(document):
    """A list of coating systems looked through before anything is stored. Raises Refused naming system, step and
    field.
    """
    try:
        return system_file.read(document)
    except DocumentError as error:
        raise Refused(str(error), "file") from error


@writes
@transaction.atomic
def store_systems(checked, user=None):
    """New versions of checked coating systems, all of them or none. Raises Refused for a product that is not there."""
    return [add_system(user=user, **each) for each in checked]


@writes
def add_systems(document, user=None):
    """Check a list of coating systems and store them. Raises Refused."""
    return store_systems(check_systems(document), user)


class StaleSystem(Exception):
    """Somebody saved a version meanwhile: `newest`."""

    def __init__(self, newest):
        super().__init__("the system was saved meanwhile")
        self.newest = newest


@writes
@transaction.atomic
def add_system(name, steps, school="", max_total_um=None, user=None, based_on=None, **about):
    """A new version of a coating system; the same once more is the one that is there.

    about: fields of system_file.ABOUT; based_on: number of the version that it was made from (0: a system that is new),
    None where nobody looked. Raises Refused naming the step or field, StaleSystem.
    """
    _check_products(name, steps, trusted=based_on is None)
    _check_film(name, steps, max_total_um)
    system, made = System.objects.get_or_create(name=name, defaults={"school": school})
    newest = None if made else system.versions.first()
    _check_based_on(newest, based_on)
    said = {key: about[key] for key in system_file.ABOUT if about.get(key)}
    if newest is not None and (newest.steps, newest.max_total_um, newest.about) == (steps, max_total_um, said):
        return newest
    if based_on is not None and system.school != school:
        system.school = school
        system.save(update_fields=["school"])
    number = newest.number + 1 if newest else 1
    return SystemVersion.objects.create(
        system=system, number=number, steps=steps, max_total_um=max_total_um, about=said, who=user
    )


def _check_based_on(newest, based_on):
    """Refuse a name that is taken, or a version that is no longer the newest."""
    if newest is None or based_on is None or newest.number == based_on:
        return
    if based_on == 0:
        raise Refused(f"there is a system “{newest.system}” already: give another name, or open that one", "name")
    raise StaleSystem(newest)


def _check_products(name, steps, trusted):
    """Refuse a product that is not on the shelf, or is retired; trusted: one that is retired is let be, as in a file
    of what was.
    """
    shelf = dict(Product.objects.values_list("name", "retired"))
    for i, step in enumerate(steps, 1):
        product = step.get("product", "")
        if product not in shelf and (product or STEPS[step["kind"]].leaves_film):
            what = f"there is no product “{product}” on the shelf" if product else "it leaves film and names no product"
            raise Refused(f"{name}: step {i}: {what}", "file" if trusted else None)
        if shelf.get(product) and not trusted:
            raise Refused(f"{name}: step {i}: “{product}” is retired: choose another, or put it back on the shelf")


def _check_film(name, steps, most_um):
    """Refuse films that come to more than the system allows in all [µm]."""
    films = ((step.get("dft_um") or 0) * step.get("coats", 1) - step.get("sanded_um", 0) for step in steps)
    total = sum(max(0.0, um) for um in films)
    if most_um is not None and total > most_um + 0.5:
        raise Refused(
            f"{name}: its films come to {film_q(total)}, more than its most of {film_q(most_um)}: thinner films, "
            "fewer coats, or a higher limit",
            "max_total_um",
        )


@owners_only
def retire_system(system, user, retired):
    """Offer a system no longer, or again; plans made of it keep it."""
    system.retired = retired
    system.save(update_fields=["retired"])
    return system


@writes
@transaction.atomic
def take_ready(user, names=None):
    """Make systems of the ready ones (None: all) with products of the shelf; those that are there, or whose kinds the
    shelf lacks, are passed over. Gives the versions made.
    """
    shelf, there = selectors.shelf_sheets(), set(System.objects.values_list("name", flat=True))
    made = []
    for each in ready_systems():
        found = taken(each, shelf)
        if each.name in there or found.lacking or (names is not None and each.name not in names):
            continue
        made.append(add_system(each.name, list(found.steps), each.school, each.most_um, user, **about_of(each)))
    return made


def about_of(ready):
    """What a ready system says of itself, as a version keeps it."""
    fits = {name: list(told) if isinstance(told, tuple) else told for name, told in vars(ready.fits).items() if told}
    return {
        "group": ready.group,
        "where": ready.where,
        "why": list(ready.why),
        "fits": fits,
        "schools": dict(ready.schools),
    }
