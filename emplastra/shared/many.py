"""Long lists: words that narrow one, the first of it with the rest on demand; and pages of what was logged."""

from dataclasses import dataclass, field
from functools import reduce
from operator import and_, or_
from urllib.parse import urlencode

from django.core.paginator import Paginator
from django.db.models import Q

SHOWN = 30
"""Rows of a list of zones that are shown at first."""
PAGE = 50
"""Entries on a page."""
LONGEST = 80


@dataclass(frozen=True)
class Narrow:
    """What is asked of a long list: words, each of which must be in a row, and whether all of it is wanted."""

    only: str = ""
    everything: bool = False
    keep: dict = field(default_factory=dict)

    @classmethod
    def read(cls, values, *keep):
        """From a query; `keep` names what else of it stays when it is asked anew."""
        kept = {name: values[name] for name in keep if values.get(name)}
        return cls(values.get("only", "").strip()[:LONGEST], bool(values.get("all")), kept)

    @property
    def words(self):
        """The words, without their case."""
        return self.only.casefold().split()

    @property
    def most(self):
        """How many rows are shown; None for all."""
        return None if self.everything else SHOWN

    def fits(self, *texts):
        """True if each word is in one of these texts."""
        if not self.only:
            return True
        whole = "\n".join(texts).casefold()
        return all(word in whole for word in self.words)

    def fits_zone(self, zone):
        """By the names of a zone, its panel and its job."""
        return self.fits(zone.name, zone.panel, zone.job.name)

    def where(self, *paths):
        """The same as a Q over text columns, for lists that the database holds; SQLite folds the case of ASCII only."""
        each = (reduce(or_, (Q(**{f"{path}__icontains": word}) for path in paths)) for word in self.words)
        return reduce(and_, each, Q())

    def query(self, **more):
        """The query that asks for the same, and for more; None takes a name out."""
        told = self.keep | {"only": self.only, "all": "1" if self.everything else ""} | more
        return urlencode({name: value for name, value in told.items() if value})

    @property
    def asked(self):
        """The query with all that is asked now."""
        return self.query()

    @property
    def whole(self):
        """The query for all rows that fit."""
        return self.query(all="1")

    @property
    def without(self):
        """The query for rows of any name."""
        return self.query(only="")


class Pages:
    """Rows in pages, the last page first in view: what was logged is read from its end.

    number: the page that is asked for; None: the last, or that of row number `at` (from 0). whole: if all rows are
    asked for on one page; None where that is not offered.
    """

    def __init__(self, rows, number=None, at=None, size=PAGE, whole=None):
        self.paginator, self.offers_whole = Paginator(rows, size), whole is not None
        if whole:
            self.paginator.per_page = max(self.paginator.count, 1)
        last = self.paginator.num_pages
        asked = number or (at // self.paginator.per_page + 1 if at is not None else last)
        self.page = self.paginator.get_page(asked)

    @property
    def numbers(self):
        """Numbers of pages to choose from, "…" where some are left out."""
        return list(self.paginator.get_elided_page_range(self.page.number, on_each_side=2, on_ends=1))

    @property
    def is_whole(self):
        """True if one page holds all."""
        return self.paginator.num_pages <= 1
