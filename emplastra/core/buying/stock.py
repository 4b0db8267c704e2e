"""What a tin still holds, by what came in, what was weighed and what was taken since; and which tin goes first."""

from calendar import monthrange
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from math import inf

from ..working import Basis

SPENT = 0.005
"""Share of its size below which a tin is as good as empty. Common practice, no source."""


class Happened(StrEnum):
    """What is told of a tin."""

    IN = "in"
    OPENED = "opened"
    WEIGHED = "weighed"
    MOVED = "moved"
    KEPT = "kept"
    EMPTIED = "emptied"


@dataclass(frozen=True)
class Fact:
    """Something told of a tin at a moment [epoch s]; amount: its size (in), what it held (weighed) [its unit], None
    where nobody told.
    """

    kind: Happened
    at_s: float
    amount: float | None = None


@dataclass(frozen=True)
class Use:
    """Something taken out of a tin at a moment [epoch s]: how much [its unit], None where nobody told."""

    at_s: float
    amount: float | None


@dataclass(frozen=True)
class Left:
    """What a tin still holds [its unit]: None where nothing says how much there was.

    basis: measured where nothing was taken since it was weighed or came in full, else estimated; at_most: more was
    taken than anybody told; below: how much more was taken than it held; taken: all that was told since.
    """

    amount: float | None
    basis: Basis
    taken: float = 0.0
    at_most: bool = False
    below: float = 0.0
    is_empty: bool = False


_CONTENT = {Happened.IN, Happened.WEIGHED, Happened.EMPTIED}
"""What says how much a tin holds."""


def left_in(facts: Iterable[Fact], uses: Iterable[Use]) -> Left:
    """What a tin holds: the last that was told of its content, less what was taken since.

    What was taken before it was weighed is in what the scale said. A tin is never below nothing: what was taken over
    that is told apart. Of things told at one moment that it came in counts least, and the last told most.
    """
    told = enumerate(fact for fact in facts if fact.kind in _CONTENT)
    last = max(told, key=lambda each: (each[1].at_s, each[1].kind is not Happened.IN, each[0]), default=(0, None))[1]
    from_s = last.at_s if last else -inf
    since = [use.amount for use in uses if use.at_s > from_s]
    taken = sum(amount or 0.0 for amount in since)
    if last and last.kind is Happened.EMPTIED:
        return Left(0.0, Basis.MEASURED, taken, False, taken, True)
    start = getattr(last, "amount", None)
    if start is None:
        return Left(None, Basis.ASSUMED, taken, None in since)
    basis, rest = Basis.ESTIMATED if since else Basis.MEASURED, start - taken
    return Left(max(0.0, rest), basis, taken, None in since, max(0.0, -rest), rest <= SPENT * start)


def months_on(day: date, months: float) -> date:
    """A day so many months on: whole ones by the calendar, the last of its month where it has no such day; what is over
    as days of a thirtieth.
    """
    whole = int(months)
    year, month = divmod(day.month - 1 + whole, 12)
    year, month = day.year + year, month + 1
    on = date(year, month, min(day.day, monthrange(year, month)[1]))
    return on + timedelta(days=round(30 * (months - whole)))


@dataclass(frozen=True)
class LastDay:
    """The day until which a tin may be used, and what says so."""

    day: date
    why: str


def last_day(
    printed: date | None,
    came: date | None = None,
    opened: date | None = None,
    closed_months: float | None = None,
    opened_months: float | None = None,
) -> LastDay | None:
    """Until when a tin may be used: what is printed on it, or else its sheet's months from when it came in; and, once
    it is open, its sheet's months from then, whichever is sooner. None where nothing says.
    """
    ends = [LastDay(printed, "printed on it")] if printed else []
    if not ends and came and closed_months:
        ends.append(LastDay(months_on(came, closed_months), f"{closed_months:g} months closed, by its sheet"))
    if opened and opened_months:
        ends.append(LastDay(months_on(opened, opened_months), f"{opened_months:g} months opened, by its sheet"))
    return min(ends, key=lambda end: end.day, default=None)


@dataclass(frozen=True)
class Stocked:
    """A tin as it is chosen: its key, batch and kit ("" where none is told), when it is to be used by, whether it is
    open, whether it is empty, what it holds and what of that is kept for something to come [mL, g; None: nobody knows],
    and whether it is held back: its batch is recalled.
    """

    key: int
    batch: str
    kit: str = ""
    use_by: date | None = None
    is_open: bool = False
    is_empty: bool = False
    holds: float | None = None
    kept: float = 0.0
    is_held: bool = False

    def is_past(self, day: date) -> bool:
        """True if it may not be used on this day any more."""
        return self.use_by is not None and self.use_by < day


def in_order(tins: Iterable[Stocked], day: date) -> list[Stocked]:
    """Tins with something in them in the order in which they are to be used: those in date first, the one that expires
    first before all; where dates do not tell, the open one, then the older. What is out of date stands last.
    """
    full = [tin for tin in tins if not tin.is_empty]
    return sorted(full, key=lambda t: (t.is_past(day), t.use_by or date.max, not t.is_open, t.key))


def first_to_use(tins: Iterable[Stocked], day: date, kit: str = "", batch: str = "") -> Stocked | None:
    """The tin to take: of the kit whose other part is in the pot already, then of the batch that lies on the panel,
    then what expires first. None where none is in date.
    """
    return next(iter(_in_turn(tins, day, kit, batch)), None)


def _in_turn(tins: Iterable[Stocked], day: date, kit: str, batch: str) -> list[Stocked]:
    """Those in date in the order in which they are taken."""
    good = [tin for tin in in_order(tins, day) if not (tin.is_past(day) or tin.is_held)]
    return sorted(good, key=lambda t: (bool(kit) and t.kit != kit, bool(batch) and t.batch != batch))


@dataclass(frozen=True)
class Drawn:
    """What is to be poured from which tins: [(tin, how much)], what they lack, and what of it is kept for something to
    come [their unit]. A tin of unknown content is taken to have enough.
    """

    takes: tuple[tuple[Stocked, float], ...]
    lacks: float
    of_kept: float = 0.0


def drawn(tins: Iterable[Stocked], wanted: float, day: date, kit: str = "", batch: str = "") -> Drawn:
    """From which tins so much is poured [their unit]: the one to take first, then the next. What is kept goes last, and
    what is out of date not at all.
    """
    order = _in_turn(tins, day, kit, batch)
    takes, still = _take(order, wanted, lambda tin: max(0.0, (tin.holds or 0.0) - tin.kept))
    if still <= wanted * 1e-9:
        return Drawn(takes, 0.0)
    more, lacks = _take(order, still, lambda tin: min(tin.kept, tin.holds or 0.0))
    sums = {tin: sum(much for one, much in (*takes, *more) if one is tin) for tin in order}
    return Drawn(tuple((tin, much) for tin, much in sums.items() if much > 0), lacks, still - lacks)


def _take(
    order: Sequence[Stocked], wanted: float, has: Callable[[Stocked], float]
) -> tuple[tuple[tuple[Stocked, float], ...], float]:
    """Takes in order, and what is still wanted."""
    found, still = [], wanted
    for tin in order:
        much = still if tin.holds is None else min(still, has(tin))
        if much > 0:
            found.append((tin, much))
            still -= much
    return tuple(found), max(0.0, still)
