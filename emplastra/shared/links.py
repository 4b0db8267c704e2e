"""Links as values: which page, of what; its address is made where it is shown."""

from dataclasses import dataclass
from functools import lru_cache
from urllib.parse import urlencode

from django.urls import reverse


@dataclass(frozen=True)
class Go:
    """A page by its name, what it is of, what its address asks for, and a place on it."""

    name: str
    args: tuple = ()
    query: tuple[tuple[str, object], ...] = ()
    anchor: str = ""

    def asking(self, **query):
        """The same with more asked for."""
        return Go(self.name, self.args, (*self.query, *query.items()), self.anchor)

    @property
    def address(self):
        """Its address."""
        found = _reversed(self.name, self.args)
        found += f"?{urlencode(self.query)}" if self.query else ""
        return f"{found}#{self.anchor}" if self.anchor else found


@lru_cache(maxsize=20000)
def _reversed(name, args):
    """Kept, for Bench asks for hundreds."""
    return reverse(name, args=args)
