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


def revisions(ids):
    """{id: SheetRevision} for these ids, with products."""
    return SheetRevision.objects.select_related("product").in_bulk(list(ids))


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
