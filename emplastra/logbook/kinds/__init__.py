"""Every kind of entry, one module each; a new one is a new module here and a migration, and nothing more."""

from importlib import import_module
from pkgutil import iter_modules

from ..kind import KINDS

_modules = [import_module(f"{__name__}.{found.name}") for found in iter_modules(__path__)]
KINDS.update({kind.key: kind for kind in sorted((m.Kind() for m in _modules), key=lambda kind: kind.order)})
ROWS = {kind.row.__name__: kind.row for kind in KINDS.values() if kind.row}
"""Models of their details, by name."""
