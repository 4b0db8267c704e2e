"""What is wrong with a file, by the field in words and the line on which it stands."""

import yaml

from emplastra.core.product import entry
from emplastra.materials.services import Loader

PLAIN = {
    "product": "Name", "kind": "Kind", "form": "What it comes as", "source": "Source", "date": "Date", "components": "Parts", "hazards": "What it warns of",
    "substrates": "Goes on", "excluded": "Not on", "methods": "Put on by", "assumed": "Assumed figures", "hatch": "Hatch", "colour": "Colour", "document": "The file",
}  # fmt: skip


def in_words(problems, data, document):
    """[(line or None, field in words, its path, what would be accepted)] of (path, message) pairs."""
    try:
        root = yaml.compose(data.decode("utf-8-sig"), Loader=Loader)
    except (yaml.YAMLError, ValueError):
        root = None
    return [(_line(root, path), _called(path, document), path, message) for path, message in problems]


def _called(path, document):
    last = path.rsplit(", ", 1)[-1]
    try:
        name = entry.field_of(last, document)
    except (KeyError, IndexError, TypeError, ValueError):
        name = ""
    return (
        entry.FIELDS[name].label if name in entry.FIELDS else PLAIN.get(last.split("/")[0], "A field that is not known")
    )


def _line(root, path):
    """The line of the deepest node of a path that is there."""
    product, _, last = path.rpartition(", ")
    node = _sheet_named(root, product) if product else root
    if node is None:
        return None
    line = node.start_mark.line + 1
    for part in last.split("/"):
        node = _under(node, part)
        if node is None:
            break
        line = node.start_mark.line + 1
    return line


def _sheet_named(root, product):
    sheets = _under(root, "sheets")
    for each in sheets.value if isinstance(sheets, yaml.SequenceNode) else ():
        name = _under(each, "product")
        if name is not None and name.value == product:
            return each
    return None


def _under(node, part):
    """The node of a name, a place, or of the item that bears this key; None if there is none."""
    if isinstance(node, yaml.MappingNode):
        return next((value for name, value in node.value if name.value == part), None)
    if isinstance(node, yaml.SequenceNode):
        if part.isdecimal() and int(part) < len(node.value):
            return node.value[int(part)]
        keyed = ((item, _under(item, "key")) for item in node.value if isinstance(item, yaml.MappingNode))
        return next((item for item, key in keyed if key is not None and key.value == part), None)
    return None
