"""The shelf and a product's sheet, as their pages show them."""

from dataclasses import dataclass, field

from emplastra.core.product import entry
from emplastra.core.product.answers import answers
from emplastra.core.product.asks import GROUPS, KINDS
from emplastra.core.product.label import Means
from emplastra.materials import selectors
from emplastra.materials.models import Product

from .curves import Line, curve
from .reading import TIMED, window_lines


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


@dataclass
class Shelf:
    """Rows by group and kind."""

    groups: list = field(default_factory=list)
    count: int = 0


_ROWS = {}


def _row_of(product, digest, document):
    """A shelf row; what a document says is worked out once, since it never changes."""
    if digest not in _ROWS:
        sheet = selectors.sheet_of_document(digest, document())
        _ROWS[digest] = None if sheet is None else _figures(sheet, document())
    found = _ROWS[digest]
    return Row(product, **found) if found else Row(product, trouble="its sheet cannot be read")


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
    found = [
        p
        for p in Product.objects.select_related("superseded_by")
        if (retired or not p.retired) and words.lower() in f"{p.name} {_kind_name(p.kind)}".lower()
    ]
    digests = selectors.newest_digests()
    unread = [pk for pk, digest in digests.values() if digest not in _ROWS]
    documents = selectors.documents(unread)
    by_kind = {}
    for p in found:
        pk, digest = digests.get(p.pk, (None, None))
        row = _row_of(p, digest, lambda pk=pk: documents.get(pk)) if pk else Row(p, trouble="no sheet")
        by_kind.setdefault(p.kind, []).append(row)
    groups = []
    for name in GROUPS:
        kinds = [
            (traits.name, by_kind[kind]) for kind, traits in KINDS.items() if traits.group == name and kind in by_kind
        ]
        groups += [(name, kinds)] if kinds else []
    gone = Product.objects.filter(retired=True).count()
    return {"groups": groups, "count": len(found), "q": words, "retired": retired, "gone": gone}


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
    typed = entry.typed_of(newest.document, Means(system))
    texts = [n for n in entry.fields_of(sheet.kind, sheet.form) if n != "recoat" or typed[n] or not sheet.windows]
    taken = entry.assumed_of(newest.document)
    return context | {
        "answers": answers(sheet, 20.0 if temp_c is None else temp_c),
        "told": [(entry.FIELDS[n].label, typed[n].splitlines() or [""], _state(n, typed, taken)) for n in texts],
        "more": [
            (entry.FIELDS[n].label, typed[n].splitlines())
            for n in entry.FIELDS
            if n not in texts and typed[n] and n not in {"windows"}
        ],
        "typical": {n: entry.typed_of({**newest.document, "assumed": []}, Means(system))[n] for n in taken},
        "taken": taken,
        "curves": _curves(sheet, temp_c, system),
        "untold": [entry.FIELDS[n].label for n in texts if not typed[n] and n not in taken],
    }


def _state(name, typed, taken):
    return "assumed" if name in taken else "told" if typed[name] else "untold"


def _curves(sheet, temp_c, system):
    """(name, SVG) of each window and time, drawn over temperature."""
    found = []
    for row in sheet.windows:
        picture = curve(window_lines(row), temp_c, system)
        name = "Coat again" if row.next == "any" else f"Then {entry.next_words(row.next)}"
        remedy = f"later: key with {row.grit}" if row.grit else ""
        found += [(name, picture, remedy)] if picture else []
    tables = {"pot_life": sheet.pot_life, "induction": sheet.induction, **sheet.times}
    for name, table in tables.items():
        if table is not None:
            role = "closes" if name == "pot_life" else "time"
            found.append((TIMED.get(name, name), curve([Line(table, role, name)], temp_c, system), ""))
    return found


def comparison(product, other, number, temp_c, system):
    """Two sheets side by side: of two products, or of a product and an earlier revision of its own."""
    mine = product.revisions.first()
    theirs = other.revisions.first() if other else product.revisions.filter(number=number).first() if number else None
    pair = [mine, theirs]
    sheets = [selectors.sheet_of(r) for r in pair]
    context = {
        "product": product,
        "other": other,
        "number": number if theirs and not other else 0,
        "revisions": product.revisions.all(),
    }
    if None in sheets:
        return context
    temp = 20.0 if temp_c is None else temp_c
    answered = [{a.question: a for a in answers(sheet, temp)} for sheet in sheets]
    questions = list(dict.fromkeys(q for one in answered for q in one))
    typed = [entry.typed_of(r.document, Means(system)) for r in pair]
    rows = [(entry.FIELDS[n].label, *(t[n] for t in typed)) for n in entry.FIELDS if any(t[n] for t in typed)]
    ticks = [entry.ticks_of(r.document) for r in pair]
    words = {"methods": "Put on by", "on": "Goes on", "not_on": "Not on", "hazards": "It warns of"}
    rows += [(name, *(", ".join(t[key]) for t in ticks)) for key, name in words.items() if any(t[key] for t in ticks)]
    return context | {
        "here": temp_c,
        "heads": [f"{product}", f"{other}" if other else f"revision {theirs.number}"],
        "answered": [(q, *(one.get(q) for one in answered)) for q in questions],
        "rows": [(name, a, b, a != b) for name, a, b in rows],
    }
