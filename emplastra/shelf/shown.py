"""The shelf and a product's sheet, as their pages show them."""

from dataclasses import dataclass, replace

from django.template.loader import render_to_string
from django.utils.safestring import mark_safe

from emplastra.core.product import entry, worded
from emplastra.core.product.asks import GROUPS, KINDS
from emplastra.core.product.film import METHODS
from emplastra.core.product.label import Means
from emplastra.materials import selectors
from emplastra.materials.models import Product

from .reading import TIMED, answers_here, tables_of, timed_curve, window_curve


@dataclass
class Row:
    """A product on the shelf: what its sheet says in short, and how much of what its label is asked is told."""

    product: object
    ratio: str = ""
    film: tuple = ()
    film_basis: str = ""
    told: int = 0
    asked: int = 0
    assumed: bool = False
    hatch: str = "plain"
    colour: str = "#b9bab3"
    trouble: str = ""
    form: str = ""
    html: str = ""


_ROWS, _DRAWN = {}, {}
MOST_DRAWN = 5000


def _row_of(product, digest, document):
    """A shelf row; what a document says is worked out once, since it never changes."""
    if digest not in _ROWS:
        sheet = selectors.sheet_of_document(digest, document())
        _ROWS[digest] = None if sheet is None else _figures(sheet, document())
    found = _ROWS[digest]
    return _drawn(digest, Row(product, **found) if found else Row(product, trouble="its sheet cannot be read"))


def _drawn(digest, row):
    """A row with its HTML, drawn once for what it was drawn from: a shelf has hundreds."""
    p = row.product
    key = (p.pk, p.name, digest, p.retired, str(p.superseded_by or ""))
    if key not in _DRAWN:
        if len(_DRAWN) >= MOST_DRAWN:
            _DRAWN.clear()
        _DRAWN[key] = mark_safe(render_to_string("materials/shelf_row.html", {"r": row}))  # a template of ours
    return replace(row, html=_DRAWN[key])


def _figures(sheet, document):
    typed, texts = entry.typed_of(document), entry.fields_of(sheet.kind, sheet.form)
    film = sheet.film
    films = () if film is None else tuple(um for um in (film.min_um, film.max_um) if um is not None) or (film.aim_um,)
    return {
        "ratio": ", ".join(dict.fromkeys(v.ratio_text for v in sheet.variants)),
        "film": tuple(um for um in films if um is not None),
        "film_basis": sheet.basis("film").name.lower(),
        "told": sum(bool(typed[name]) or (name == "recoat" and bool(sheet.windows)) for name in texts),
        "asked": len(texts),
        "assumed": bool(sheet.assumed),
        "hatch": sheet.hatch,
        "colour": sheet.colour if document.get("colour") else "",
        "form": sheet.form,
    }


def shelf(words="", retired=False):
    """The shelf: products by group and kind whose name or kind holds these words."""
    rows = Product.objects.select_related("superseded_by")
    rows = rows if retired else rows.filter(retired=False)
    found = [p for p in rows if words.lower() in f"{p.name} {_kind_name(p.kind)}".lower()]
    by_kind = {}
    for row in _rows_of(found):
        by_kind.setdefault(row.product.kind, []).append(row)
    in_group = {name: [k for k, traits in KINDS.items() if traits.group == name and k in by_kind] for name in GROUPS}
    groups = [(name, [(KINDS[k].name, by_kind[k]) for k in kinds]) for name, kinds in in_group.items() if kinds]
    gone = Product.objects.filter(retired=True).count()
    return {"groups": groups, "count": len(found), "q": words, "retired": retired, "gone": gone}


def _rows_of(products):
    """Shelf rows; documents that were not read yet are loaded, all in one query."""
    digests = selectors.newest_digests()
    documents = selectors.documents([pk for pk, digest in digests.values() if digest not in _ROWS])
    for p in products:
        pk, digest = digests.get(p.pk, (None, None))
        yield _row_of(p, digest, lambda pk=pk: documents.get(pk)) if pk else _drawn("", Row(p, trouble="no sheet"))


def _kind_name(kind):
    return KINDS[kind].name if kind in KINDS else kind


def sheet_page(product, temp_c, system):
    """What a product's page shows."""
    revisions = list(product.revisions.select_related("who"))
    newest = revisions[0] if revisions else None
    sheet = selectors.sheet_of(newest)
    context = {
        "product": product,
        "kind": _kind_name(product.kind),
        "revisions": revisions,
        "sheet": sheet,
        "trouble": selectors.trouble_of(newest) if newest else "",
        "labels": list(product.labels.all()),
        "here": temp_c,
    }
    if sheet is None:
        return context
    return context | {
        "answers": answers_here(sheet, temp_c),
        "curves": _curves(sheet, temp_c, system),
        "methods": [METHODS[m].name for m in sheet.methods],
        **_told(sheet, newest.document, system),
    }


def _told(sheet, document, system):
    """What a sheet tells, field by field; of its label what it does not tell too."""
    typed, taken = entry.typed_of(document, Means(system)), entry.assumed_of(document)
    asked = entry.fields_of(sheet.kind, sheet.form)
    texts = [n for n in asked if n != "recoat" or typed[n] or not sheet.windows]
    more = [n for n in entry.FIELDS if n not in texts and typed[n] and n != "windows"]
    return {
        "told": [(entry.FIELDS[n].label, typed[n].splitlines() or [""], _state(n, typed, taken)) for n in texts],
        "more": [(entry.FIELDS[n].label, typed[n].splitlines()) for n in more],
        "untold": [entry.FIELDS[n].label for n in texts if not typed[n] and n not in taken],
    }


def _state(name, typed, taken):
    return "assumed" if name in taken else "told" if typed[name] else "untold"


def _curves(sheet, temp_c, system):
    """(name, SVG) of each window and time, drawn over temperature."""
    found = []
    for row in sheet.windows:
        picture = window_curve(row, temp_c, system)
        name = "Coat again" if row.next == "any" else f"Then {worded.next_words(row.next)}"
        remedy = f"later: key with {row.grit}" if row.grit else ""
        found += [(name, picture, remedy)] if picture else []
    for name, table in tables_of(sheet).items():
        if table is not None:
            found.append((TIMED.get(name, name), timed_curve(name, table, temp_c, system), ""))
    return found


def comparison(product, other, number, temp_c, system):
    """Two sheets side by side: of two products, or of a product and an earlier revision of its own."""
    theirs = other.revisions.first() if other else product.revisions.filter(number=number or -1).first()
    pair = [product.revisions.first(), theirs]
    sheets = [selectors.sheet_of(r) for r in pair]
    chosen = 0 if other or theirs is None else number
    context = {"product": product, "other": other, "number": chosen, "revisions": product.revisions.all()}
    if None in sheets:
        return context
    answered = [{a.question: a for a in answers_here(sheet, temp_c)} for sheet in sheets]
    questions = dict.fromkeys(q for one in answered for q in one)
    rows = _side_by_side(*(selectors.said(r.document, Means(system)) for r in pair))
    return context | {
        "here": temp_c,
        "heads": [f"{product}", f"{other}" if other else f"revision {theirs.number}"],
        "answered": [(q, *(one.get(q) for one in answered)) for q in questions],
        "rows": rows,
    }


def _side_by_side(mine, theirs):
    """[(field, mine, theirs, whether they differ)] of what either says."""
    names = [name for name in mine if mine[name] or theirs[name]]
    return [(name, mine[name], theirs[name], mine[name] != theirs[name]) for name in names]
