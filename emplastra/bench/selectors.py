"""What Bench and search read."""

import re
from dataclasses import dataclass
from datetime import timedelta

from django.db.models import Count, Q

from emplastra.jobs.models import Job, Zone
from emplastra.jobs.registers import watches
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.models import Product
from emplastra.say.acts import NEVER
from emplastra.say.hours import moment
from emplastra.say.taps import watches as watches_run
from emplastra.shared.many import SHOWN, Narrow
from emplastra.store.models import Tin
from emplastra.store.services import tin_of_code

RESTING = 40
"""Zones at rest that Bench names."""


@dataclass
class PotRow:
    """A pot as a row of Bench: its sentence, when it is dead [epoch s], and its life from the first hardener to the
    end as shares: when its induction is over, when half of it is, and now.
    """

    pot: object
    status: str
    parts: list
    until_s: float | None
    bar: tuple | None = None


@dataclass
class BenchRow:
    """A row of Bench: a zone's state or a pot, with its place in the order and its key as something urgent."""

    group: int
    sort_s: float
    number: int
    state: object = None
    pot: PotRow | None = None
    watch: object = None
    watch_expired: bool = False
    work: object = None

    @property
    def urgent_key(self):
        """What is announced when it turns up: which row, and what has come to pass on it; "" if nothing has."""
        if self.watch:
            return f"watch-{self.watch.pk}-{self.watch_expired}" if self.group == 2 else ""
        if self.pot:
            return f"pot-{self.pot.pot.entry.pk}-{self.pot.status}"
        act, now_s = self.state.act, self.state.surface.t_s
        if act.group > 2:
            return ""
        passed = act.until_s is not None and now_s >= act.until_s
        return f"zone-{self.state.zone.pk}-{act.status}-{int(act.until_s) if passed else ''}"

    @property
    def words(self):
        """The row as it is announced."""
        if self.watch:
            return f"{self.watch.zone.name}: look at what was put off, {self.watch.what}"
        if self.pot:
            return f"Pot of {self.pot.pot.sheet.product}: {''.join(text for text, _ in self.pot.parts)}"
        return f"{self.state.zone.name}: {''.join(text for text, _ in self.state.act.parts)}"


@dataclass
class BenchView:
    """Bench: the rows shown, how many there are and how many more, how many are urgent, and what rests."""

    rows: list
    count: int
    more: int
    urgent: int
    resting: list
    resting_count: int


def bench(book, narrow):
    """Rows of Bench in order, those that fit: by group, then by act-by time; the first of them, or all."""
    # A spot is one row with its zone.
    apart = {pk for pk in book.open_ids if book.facts.zones[pk].zone.parent_id not in book.open_ids}
    apart = {pk for pk in apart if narrow.fits_zone(book.facts.zones[pk].zone)}
    places = [(group, sort_s, pk, None) for group, sort_s, pk in book.order() if group < 5 and pk in apart]
    places += [(1, row.until_s or NEVER, 0, row) for row in pot_rows(book, narrow)]
    places += [(row.group, row.sort_s, 0, row) for row in watch_rows(book) if narrow.fits_zone(row.watch.zone)]
    places += [(0, work.since_s, 0, BenchRow(0, work.since_s, 0, work=work)) for work in watches_run()]
    places.sort(key=lambda place: place[:3])
    shown = places[: narrow.most]
    resting = [pk for group, _, pk in book.order() if group == 5 and pk in apart]
    ids = [pk for *_, pk, own in shown if own is None]
    states = {state.zone.pk: state for state in book.states([*ids, *resting[:RESTING]])}
    rows = [_row(group, sort_s, states.get(pk), own) for group, sort_s, pk, own in shown]
    urgent = sum(1 for group, *_ in places if 1 <= group <= 2)
    return BenchView(
        rows, len(places), len(places) - len(shown), urgent, [states[pk] for pk in resting[:RESTING]], len(resting)
    )


def today(book):
    """Rows of Bench of what can or must be done before the day is over, all of them, in order."""
    rows = bench(book, Narrow(everything=True)).rows
    ends = (book.facts.now.astimezone(book.facts.workshop.zone) + timedelta(days=1)).replace(hour=0, minute=0)
    return [row for row in rows if row.group <= 3 or row.sort_s < ends.timestamp()]


def _row(group, sort_s, state, own):
    """A zone's row, a pot's, or that of something put off, which is a row already."""
    if isinstance(own, BenchRow):
        return own
    return BenchRow(group, sort_s, state.zone.pk if state else 0, state, own)


def watch_rows(book):
    """What was put off or is watched and is due: overdue, or its holding coat has ended, as missed; today's as open."""
    today = book.facts.today
    rows = []
    for watch in watches():
        expired = watch.holds is not None and watch.holds < today
        if watch.due > today and not expired:
            continue
        late = (today - min(watch.due, watch.holds or watch.due)).days
        group = 2 if late or expired else 3
        rows.append(BenchRow(group, book.facts.now.timestamp() - late * 86400.0, 0, None, None, watch, expired))
    return rows


def pot_rows(book, narrow):
    """Pots that have not ended and fit, the one that dies first on top."""
    fitting = (pot for pot in book.pots() if narrow.fits(str(pot.sheet.product), *(zone.name for zone in pot.zones)))
    rows = [_pot_row(pot, book.facts) for pot in fitting]
    return sorted(rows, key=lambda row: (row.until_s is None, row.until_s or 0))


def _pot_row(pot, facts):
    now_s = facts.now.timestamp()
    status, times = pot.status(now_s), pot.times()
    if status == "dead":
        parts = [
            ("Dead since ", False),
            (moment(times.dead_s, facts), True),
            (". Empty it, do not coat from it.", False),
        ]
    elif status == "inducting":
        parts = [("Stir and wait until ", False), (moment(times.usable_s, facts), True), (".", False)]
        parts.append((f" Dead at {moment(times.dead_s, facts)}." if times.dead_s else "", False))
    elif status == "usable":
        parts = (
            [("Use by ", False), (moment(times.dead_s, facts), True), (_half(pot, facts), False)]
            if times.dead_s
            else [("Ready.", False)]
        )
    else:
        pour = pot.next_pour()
        parts = (
            [("Pour ", False), (f"{pour.part.name} to {pour.target:.1f} {pot.unit}", True), (".", False)]
            if pour
            else [("Pour on.", False)]
        )
    return PotRow(pot, status, parts, times.dead_s, _bar(pot, now_s))


def _half(pot, facts):
    """What is said of half its life."""
    if pot.half_s is None:
        return "."
    past = pot.half_s <= facts.now.timestamp()
    return ". Less than half its life is left." if past else f". Half its life is left at {moment(pot.half_s, facts)}."


def _bar(pot, now_s):
    """Its life as shares of itself; None where it has none yet."""
    if pot.life is None or pot.life.t_s is None or pot.half_s is None:
        return None
    begin_s, whole_s = pot.life.since_s, pot.life.t_s - pot.life.since_s
    ready_s = pot.times().usable_s or begin_s
    return tuple(round(100 * min(1.0, max(0.0, (t - begin_s) / whole_s)), 1) for t in (ready_s, pot.half_s, now_s))


def to_mix(book, narrow):
    """(states of zones that wait for a coat that has to be mixed and fit, in the order of Bench; if there are more).

    Zones are folded until enough are found: a large workshop is not folded whole for thirty rows.
    """
    ids = [pk for _, _, pk in book.order() if narrow.fits_zone(book.facts.zones[pk].zone)]
    found = []
    for start in range(0, len(ids), SHOWN):
        if narrow.most is not None and len(found) >= narrow.most:
            return found[: narrow.most], True
        some = book.states(ids[start : start + SHOWN])
        found += [s for s in some if s.sheet and s.sheet.form == "mixed" and s.plan.next_layer]
    return found[: narrow.most], narrow.most is not None and len(found) > narrow.most


def jobs(narrow, filed=""):
    """Jobs that are open (or closed, archived) and fit, with their number of zones."""
    filing = filed if filed in Job.Filing.values else Job.Filing.OPEN
    count = Count("zones", filter=Q(zones__removed=False, zones__retired=""))
    rows = Job.objects.filter(filing=filing, removed=False).annotate(zone_count=count)
    return rows.filter(narrow.where("name", "owner_label"))


def latest_entries(narrow, kind="", who=""):
    """Entries that hold, the newest first: of a kind, by somebody, with words in their note or the names around it."""
    rows = Entry.objects.known_at().select_related("who").prefetch_related("zones__job")
    told = {name: value for name, value in (("kind", kind), ("who__username", who)) if value}
    found = narrow.where("note", "zones__name", "zones__job__name", "coat__product__name")
    return rows.filter(found, **told).distinct().order_by("-recorded", "-id")


_POT_CODE = re.compile(r"(?:P|https?://\S+/pots/)(\d{1,9})/?", re.IGNORECASE)
_PIECE_CODE = re.compile(r"(?:Z|https?://\S+/zones/)(\d{1,9})/?", re.IGNORECASE)


def labelled(code):
    """Where the label leads that says this, as (name of a page, id), None if none does; a scan gives an address."""
    tin, pot, piece = tin_of_code(code), _POT_CODE.fullmatch(code), _PIECE_CODE.fullmatch(code)
    if tin is not None:
        return "tins:tin", tin.pk
    if pot and Entry.objects.filter(pk=pot[1], kind=Kind.POT).exists():
        return "work:pot", int(pot[1])
    if piece and Zone.objects.filter(pk=piece[1], removed=False).exists():
        return "work:now", int(piece[1])
    return None


def find(query):
    """Zones, jobs, products and batches whose name holds the query; at most 20 of each."""
    if not query:
        return {}
    zones = Zone.objects.filter(Q(name__icontains=query) | Q(panel__icontains=query), removed=False, job__removed=False)
    return {
        "zones": zones.select_related("job")[:20],
        "jobs": Job.objects.filter(Q(name__icontains=query) | Q(owner_label__icontains=query), removed=False)[:20],
        "products": Product.objects.filter(name__icontains=query)[:20],
        "tins": Tin.objects.filter(batch__icontains=query).select_related("product")[:20],
    }
