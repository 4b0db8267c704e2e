"""Sheets as the core wants them."""

import json
from functools import lru_cache

from emplastra.core.product.entry import FIELDS, ticks_of, typed_of
from emplastra.core.product.label import METRIC
from emplastra.core.product.schema import SCHEMA
from emplastra.core.product.sheet import SheetError, read
from emplastra.core.surface.system_file import trouble_of as system_trouble

from .models import Product, SheetRevision, System, SystemVersion

LIBRARY = "emplastra-library/1"
"""What a file of many sheets calls itself."""

_parsed = {}


def _read(revision):
    """(sheet, "") of a revision, (None, what is wrong) if it cannot be read; once per hash, since it never changes."""
    if revision.sha256 not in _parsed:
        try:
            _parsed[revision.sha256] = read(revision.document), ""
        except SheetError as error:
            _parsed[revision.sha256] = None, str(error)[:300]
    return _parsed[revision.sha256]


def sheet_of_document(digest, document):
    """The sheet of a stored document by its hash, None if it cannot be read."""
    return _read(SheetRevision(sha256=digest, document=document))[0]


def newest_digests():
    """{product id: (id, hash)} of each product's newest revision, in one query."""
    rows = SheetRevision.objects.order_by("number").values_list("product_id", "pk", "sha256")
    return {product: (pk, digest) for product, pk, digest in rows}


def documents(ids):
    """{revision id: document}."""
    return dict(SheetRevision.objects.filter(pk__in=ids).values_list("pk", "document")) if ids else {}


def library():
    """The whole shelf as a document: the newest sheet of each product."""
    rows = documents([pk for pk, _ in newest_digests().values()])
    return {"format": LIBRARY, "sheets": sorted(rows.values(), key=lambda d: (d.get("kind", ""), d.get("product", "")))}


CHOSEN = {
    "methods": "Put on by",
    "on": "Goes on",
    "not_on": "Not on",
    "hazards": "It warns of",
    "said": "It says",
}
"""What is ticked of a sheet, by the names of TICKS."""


def said(document, means=METRIC):
    """{field in words: what a document says there, "" for nothing}: texts, what is chosen, name, sheet and date."""
    typed, chosen = typed_of(document, means), ticks_of(document)
    found = {FIELDS[name].label: typed[name] for name in FIELDS}
    found |= {words: ", ".join(sorted(chosen[name])) for name, words in CHOSEN.items()}
    plain = {"Name": "product", "Sheet": "source", "Date": "date"}
    return found | {words: str(document.get(name, "")) for words, name in plain.items()}


def difference(one, other):
    """[(field in words, before, after)] of what two documents say differently."""
    before, after = said(one), said(other)
    return [(n, before[n] or "not told", after[n] or "not told") for n in before if before[n] != after[n]]


def sheet_of(revision):
    """The sheet of a revision; None for no revision or one that cannot be read."""
    return None if revision is None else _read(revision)[0]


def sheets_named(names):
    """{product name: its current sheet} of those that have one that can be read."""
    found = {name: sheet_of(revision) for name, revision in current_revisions(names).items()} if names else {}
    return {name: sheet for name, sheet in found.items() if sheet is not None}


def trouble_of(revision):
    """Why a revision cannot be read, "" if it can."""
    return _read(revision)[1]


def sheets_by_id(ids):
    """{revision id: sheet}; only documents that were not parsed yet are loaded."""
    rows = dict(SheetRevision.objects.filter(pk__in=set(ids)).values_list("pk", "sha256"))
    unread = [pk for pk, digest in rows.items() if digest not in _parsed]
    for revision in SheetRevision.objects.filter(pk__in=unread) if unread else ():
        sheet_of(revision)
    return {pk: _parsed[digest][0] for pk, digest in rows.items()}


def mended(at=None):
    """{revision id: the revision that holds for coats under it}, where we mended a typing error of ours.

    Corrections follow each other: a typing error in n mended in n+1 and again in n+2 holds as n+2.
    """
    rows = SheetRevision.objects.filter(why=SheetRevision.Why.TYPING).select_related("product").order_by("-number")
    if at is not None:
        rows = rows.filter(recorded__lte=at)
    newer = list(rows)
    if not newer:
        return {}
    numbers = {
        (r.product_id, r.number): r for r in SheetRevision.objects.filter(product__in={r.product_id for r in newer})
    }
    found = {}
    for row in newer:  # the newest first, so that what it leads to is known already
        earlier = numbers[row.product_id, row.number - 1]
        found[earlier.pk] = found.get(row.pk, row)
    return found


def current_revisions(names=None, at=None):
    """{product name: its newest revision}, as recorded by a moment (None: now); names None: all."""
    rows = SheetRevision.objects.select_related("product").order_by("number")
    if names is not None:
        rows = rows.filter(product__name__in=list(names))
    if at is not None:
        rows = rows.filter(recorded__lte=at)
    return {row.product.name: row for row in rows}


def revision_at(product, moment):
    """The product's sheet as it was at a moment (aware), else its newest; None if it has none."""
    return product.revisions.filter(recorded__lte=moment).first() or product.revisions.first()


def current_sheet(product_name):
    """The newest revision's sheet of a product, None if it has none."""
    return sheet_of(current_revisions([product_name]).get(product_name))


@lru_cache(maxsize=1000)
def _trouble(steps):
    """What is wrong with steps, as JSON: looked at once, since a version never changes."""
    return system_trouble(json.loads(steps))


def shelf_sheets():
    """The newest sheet of each product that is not retired and can be read."""
    names = set(Product.objects.filter(retired=False).values_list("name", flat=True))
    found = (sheet_of(revision) for name, revision in current_revisions().items() if name in names)
    return [sheet for sheet in found if sheet is not None]


def sheet_for(step, kinds, shelf=None):
    """The sheet of a step's product (step: None without one), else of a product of these kinds on the shelf; None where
    there is none. shelf: shelf_sheets(), where they are read already.
    """
    shelf, named = shelf_sheets() if shelf is None else shelf, step.product if step else ""
    return next((s for s in shelf if s.product == named), None) or next((s for s in shelf if s.kind in kinds), None)


def all_systems():
    """The newest version of each system, with `trouble` for those that cannot be read."""
    newest = {}
    for version in SystemVersion.objects.select_related("system").order_by("number"):
        newest[version.system_id] = version
    for version in newest.values():
        version.trouble = _trouble(json.dumps(version.steps))
    return sorted(newest.values(), key=lambda v: v.system.name)


def count_systems():
    """How many systems are offered."""
    return System.objects.filter(retired=False).count()


def systems():
    """The newest version of each system that is offered and can be read."""
    return [version for version in all_systems() if not version.trouble and not version.system.retired]


def products_of(kinds):
    """Products of these kinds that are not retired, all if none are given."""
    rows = Product.objects.filter(retired=False)
    return list(rows.filter(kind__in=kinds) if kinds else rows)


@lru_cache(maxsize=1)
def schema_text():
    """The published schema of a sheet as text."""
    return json.dumps(SCHEMA, indent=2)


@lru_cache(maxsize=1)
def library_schema_text():
    """The published schema of a library of sheets as text."""
    sheet = {name: value for name, value in SCHEMA.items() if not name.startswith("$")}
    library = {
        "$schema": SCHEMA["$schema"],
        "$id": "urn:emplastra:library:1",
        "title": "Emplastra library of data sheets",
        "type": "object",
        "required": ["format", "sheets"],
        "properties": {"format": {"const": LIBRARY}, "sheets": {"type": "array", "minItems": 1, "items": sheet}},
        "additionalProperties": False,
    }
    return json.dumps(library, indent=2)
