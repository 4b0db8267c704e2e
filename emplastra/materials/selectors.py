"""Sheets as the core wants them."""

import json
from functools import lru_cache

from emplastra.core.sheet_schema import SCHEMA
from emplastra.core.sheets import read

from .models import Product, SheetRevision, SystemVersion

_parsed = {}


def sheet_of(revision):
    """The sheet of a revision; parsed once per hash, since a revision never changes."""
    if revision is None:
        return None
    if revision.sha256 not in _parsed:
        _parsed[revision.sha256] = read(revision.document)
    return _parsed[revision.sha256]


def sheets_by_id(ids):
    """{revision id: sheet}; only documents that were not parsed yet are loaded."""
    rows = dict(SheetRevision.objects.filter(pk__in=set(ids)).values_list("pk", "sha256"))
    unread = [pk for pk, digest in rows.items() if digest not in _parsed]
    for revision in SheetRevision.objects.filter(pk__in=unread) if unread else ():
        sheet_of(revision)
    return {pk: _parsed[digest] for pk, digest in rows.items()}


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


def current_sheet(product_name):
    """The newest revision's sheet of a product, None if it has none."""
    return sheet_of(current_revisions([product_name]).get(product_name))


def systems():
    """The newest version of each system."""
    newest = {}
    for version in SystemVersion.objects.select_related("system").order_by("number"):
        newest[version.system_id] = version
    return sorted(newest.values(), key=lambda v: v.system.name)


def products_of(kinds):
    """Products of these kinds, all if none are given."""
    rows = Product.objects.all()
    return list(rows.filter(kind__in=kinds) if kinds else rows)


@lru_cache(maxsize=1)
def schema_text():
    """The published schema as text."""
    return json.dumps(SCHEMA, indent=2)
