"""From rows to the core's values: events, plans, journeys and air of many zones in a few queries.

What was loaded of a zone is kept in memory by the newest ids of what it was made from, and loaded
again when something was recorded on that zone. `forget()` drops it; the answers stay the same.
"""

import operator
from dataclasses import dataclass, field, replace
from functools import cached_property

from emplastra.accounts.models import Workshop
from emplastra.climate.live import PlaceAir, database, may_keep, newest
from emplastra.climate.models import Place
from emplastra.climate.selectors import SHOWN_BACK, airs
from emplastra.core.air.journey import WARM_UP, Journey, journey
from emplastra.core.air.lag import shared_lag_s
from emplastra.core.air.sun import Outdoors
from emplastra.core.buying.amounts import FaceAsked, stripe_share
from emplastra.core.piece.areas import edges_mm
from emplastra.core.surface.events import Event
from emplastra.core.surface.fold import Surface, build
from emplastra.core.surface.integral import Crossing
from emplastra.core.surface.names import COLOUR, StepKind
from emplastra.core.surface.plan import PlanStep, read_steps
from emplastra.jobs.models import BuildUpVersion, Finding, FindingWord, Zone, ZoneRevision
from emplastra.logbook.kinds.coat import film_from
from emplastra.logbook.models import KINDS, Correction, Entry, EntryZone, Kind, holds
from emplastra.materials.models import SheetRevision
from emplastra.materials.selectors import current_revisions, mended, sheet_of, sheets_by_id
from emplastra.shared import clock
from emplastra.shared.times import from_epoch, turn

from .known import salted

EARLIER_S = 6 * 3600.0
"""Air from this long before the earliest clock [s], and for as long as a section looks back."""
_held: dict = {}


@dataclass
class ZoneKept:
    """What was worked out of a zone's facts, and for how long it holds; it may be dropped.

    built: (surface without clocks, until when [epoch s]); earliest: (built, the earliest moment whose air its
    clocks may need);
    needed: (built, the moves whose air they need); way: (airs, the journey through them); plan: (progress, from,
    until);
    order: (journey, from, until, (group, act-by [epoch s]) on Bench);
    fit: (what it was asked of, from, what the air says of its next coat); blush: (journey, outdoors, {layer's entries:
    by which basis it blushed}); face: what is bought for it goes by.
    """

    area_m2: float | None = None
    tau_s: float | None = None
    built: tuple[Surface, float] | None = None
    earliest: tuple | None = None
    needed: tuple | None = None
    way: tuple | None = None
    plan: tuple | None = None
    order: tuple | None = None
    fit: tuple | None = None
    blush: tuple | None = None
    face: FaceAsked | None = None


@dataclass
class ZoneFacts:
    """A zone with all that is known of it.

    moves: (moment [epoch s], place id) in order; typed: (moment, surface [°C]) measured on it;
    trouble: why its plan cannot be read; logged: ids of steps with entries; salted: its metal, or that of a zone it was
    made from, has a history of salt; where: its way through the air, `place`
    where it is now.
    """

    zone: Zone
    revision: ZoneRevision | None
    build_up: BuildUpVersion | None
    steps: tuple[PlanStep, ...] = ()
    trouble: str = ""
    events: tuple[Event, ...] = ()
    moves: list = field(default_factory=list)
    typed: list = field(default_factory=list)
    logged: frozenset = frozenset()
    first_s: float | None = None
    salted: bool = False
    where: Journey | None = None
    place: Place | None = None
    kept: ZoneKept = field(default_factory=ZoneKept, repr=False)

    def of(self, zone):
        """The same facts with the zone's row as it is now; what is kept is shared."""
        return replace(self, zone=zone)

    @property
    def area_m2(self):
        """Its area [m2], worked out once."""
        if self.kept.area_m2 is None:
            self.kept.area_m2 = self.revision.area_m2
        return self.kept.area_m2

    @property
    def asked(self):
        """It as what is bought for it goes by (FaceAsked), None without measures; worked out once."""
        if self.kept.face is None and self.revision is not None:
            r = self.revision
            self.kept.face = FaceAsked(self.zone.name, self.area_m2, r.form, r.profile, edges_mm(r.shapes))
        return self.kept.face

    def of_face(self, step):
        """The share of it that a step of its plan is for [0..1]: less than 1 of a stripe coat, and of colour or clear
        that is blended into it.
        """
        if step.kind == StepKind.STRIPE and self.asked:
            return stripe_share(step, self.asked)
        if step.kind in COLOUR and step.area_m2 and self.area_m2:
            return min(1.0, step.area_m2 / self.area_m2)
        return 1.0

    @property
    def tau_s(self):
        """How far its section runs behind the air [s], 0 without measures; worked out once."""
        if self.kept.tau_s is None:
            self.kept.tau_s = self.revision.lag_s if self.revision else 0.0
        return self.kept.tau_s

    def earliest_s(self, t_s):
        """The earliest moment whose air its clocks may need [epoch s], kept with what it was built from."""
        built = self._built(t_s)
        made, earliest = self.kept.earliest or (None, None)
        if made is not built:
            earliest = built[0].earliest_s
            self.kept.earliest = (built, earliest)
        return t_s if earliest is None else earliest

    def place_in_order(self, t_s):
        """(group, act-by [epoch s]) on Bench as kept, None if it may have changed since."""
        way, from_s, until_s, place = self.kept.order or (None, 0.0, 0.0, None)
        return place if way is self.where and from_s <= t_s < until_s else None

    def built(self, t_s):
        """Its surface without clocks at a moment [epoch s]; kept until the next event takes effect."""
        return self._built(t_s)[0].at(t_s)

    def is_free(self, t_s):
        """False while prep stands wet on it, or it is away or closed up."""
        surface = self._built(t_s)[0]
        return surface.treatment is None and surface.away_s is None and surface.closed_s is None

    def _built(self, t_s):
        """(surface, until when it is that [epoch s])."""
        found = self.kept.built
        if found is None or not found[0].t_s <= t_s < found[1]:
            edges = [x for e in self.events for x in (e.began_s, e.ended_s) if x > t_s]
            found = self.kept.built = (build(self.events, t_s), min(edges, default=float("inf")))
        return found


@dataclass
class Facts:
    """What pages read: zones by id, air by place id, the current sheets by product name; newest: the number of the
    newest entry of all, 0 without one.
    """

    now: object
    workshop: Workshop
    zones: dict[int, ZoneFacts]
    airs: dict[int, PlaceAir]
    sheets: dict
    revisions: dict
    newest: int = 0
    leads_s: dict = field(default_factory=dict, repr=False)
    """Lead times [s] by air, moment, product and area."""
    metals_c: dict = field(default_factory=dict, repr=False)
    """Metal [°C] by air, time constant and moment."""
    dark: dict = field(default_factory=dict, repr=False)
    """Whether it is night at a moment."""

    @property
    def today(self):
        """The day in the workshop."""
        return self.now.astimezone(self.workshop.zone).date()

    @cached_property
    def outdoors(self):
        """What is under the sky, and when it is night there."""
        at = (self.workshop.latitude, self.workshop.longitude)
        places = frozenset(air.place.name for air in self.airs.values() if air.place.kind == Place.Kind.YARD)
        return Outdoors(places, None if None in at else at, self.workshop.zone)

    def is_out(self, place):
        """True if a place is outdoors; None is nowhere."""
        return place is not None and place.name in self.outdoors.places

    def is_under_the_sky(self, place, t_s):
        """True if it is night at a moment [epoch s] and a place is outdoors."""
        if not self.is_out(place):
            return False
        if t_s not in self.dark:
            self.dark[t_s] = bool(self.outdoors.nights(t_s, t_s + 1.0))
        return self.dark[t_s]

    @property
    def kinds(self):
        """{product name: its kind} where there is a sheet."""
        return {name: sheet.kind for name, sheet in self.sheets.items()}


def forget():
    """Drop all that is kept in memory."""
    _held.clear()


def load(zones, known_at=None, whole=False, now=None):
    """Load everything that the state of these zones needs.

    zones: queryset or list; known_at: aware moment or None; whole: air from the first entry on,
    not only from the earliest clock that may still run; now: the moment to which air reaches, if not this one.
    """
    now, workshop = now or clock.now(), Workshop.current()
    zones = list(zones)
    facts, last = _kept(zones) if known_at is None else (_read(zones, known_at), 0)
    if whole:  # a long look back has its own air: what is kept for Bench stays as it is
        facts = {pk: replace(each, kept=ZoneKept()) for pk, each in facts.items()}
    products = {s.product for each in facts.values() for s in each.steps if s.product}
    current = current_revisions(products, known_at)
    loaded = _airs(facts.values(), now, workshop, known_at, whole)
    _place(facts.values(), loaded, None if whole else now.timestamp())
    sheets = {name: sheet for name, revision in current.items() if (sheet := sheet_of(revision)) is not None}
    return Facts(now, workshop, facts, loaded, sheets, current, last or 0)


def _kept(zones):
    """({zone id: ZoneFacts} from memory, those read again on which something was recorded since; the newest entry)."""
    name = database()
    mark = newest(Entry, Correction, ZoneRevision, BuildUpVersion, SheetRevision, Finding, FindingWord)
    was, held = _held.get(name) or (None, {})
    if mark != was:
        stale = _touched(was, mark, held)
        held = {} if stale is None else {pk: each for pk, each in held.items() if pk not in stale}
    missing = [zone for zone in zones if zone.pk not in held]
    if missing:
        held = held | _read(missing)
    if may_keep():
        _held[name] = (mark, held)
    return {zone.pk: held[zone.pk].of(zone) for zone in zones}, mark[0]


def _touched(was, mark, held):
    """Ids of zones on which something was recorded since; None: of all."""
    if was is None or not held or was[4] != mark[4]:
        return None
    touched = set()
    if mark[1] != was[1]:
        struck = Correction.objects.filter(id__gt=was[1]).values("replaces")
        touched |= set(EntryZone.objects.filter(entry__in=struck).values_list("zone_id", flat=True))
    told = ((EntryZone, "entry_id", 0), (ZoneRevision, "id", 2), (BuildUpVersion, "id", 3), (Finding, "id", 5))
    for model, key, i in told:
        if mark[i] != was[i]:
            touched |= set(model.objects.filter(**{f"{key}__gt": was[i]}).values_list("zone_id", flat=True))
    if mark[6] != was[6]:
        touched |= set(FindingWord.objects.filter(id__gt=was[6]).values_list("finding__zone_id", flat=True))
    # What befell a zone befell those that go on from it.
    while heirs := {pk for pk, each in held.items() if each.zone.origin_id in touched} - touched:
        touched |= heirs
    return touched


_PLAIN_COLUMNS = (*("zone_id", "share", "step", "entry_id", "entry__kind", "entry__began", "entry__ended", "of_face"),)
_OF_POTS = [key for key, kind in KINDS.items() if kind.of_pot]
_COLUMNS = (*_PLAIN_COLUMNS, *(f"entry__{kind.name}__{column}" for kind in KINDS.values() for column in kind.columns))
_OF_KIND = {}
"""Kind -> where its columns begin in a row that was read."""
for _kind in KINDS.values():
    _OF_KIND[_kind.key] = len(_PLAIN_COLUMNS) + sum(len(KINDS[key].columns) for key in _OF_KIND)


@dataclass
class _Row:
    """One entry on one zone, as read; told: the columns of its kind's row."""

    zone: int
    share: float
    step: str
    entry: int
    kind: str
    began: object
    ended: object
    of_face: float
    told: dict


def _row(values):
    kind = KINDS[values[4]]
    begin = _OF_KIND[kind.key]
    told = dict(zip(kind.columns, values[begin : begin + len(kind.columns)], strict=True))
    return _Row(*values[: len(_PLAIN_COLUMNS)], told)


def _read(zones, known_at=None):
    """{zone id: ZoneFacts} from the rows, without their way through the air."""
    ids = [zone.pk for zone in zones]
    recorded = {"recorded__lte": known_at} if known_at else {}
    measures = {r.zone_id: r for r in ZoneRevision.objects.filter(zone__in=ids, **recorded).order_by("id")}
    plans = {b.zone_id: b for b in BuildUpVersion.objects.filter(zone__in=ids, **recorded).order_by("number")}
    before = _origins(zones)
    rows = EntryZone.objects.filter(holds(known_at, "entry__"), zone__in={*ids, *before.values()})
    rows = rows.exclude(entry__kind__in=_OF_POTS).order_by("entry__ended", "entry_id")
    rows = [_row(values) for values in rows.values_list(*_COLUMNS)]
    held = mended(known_at)
    for row in rows:
        # A coat keeps the sheet it was put on under, but for typing errors of ours that were mended since.
        if row.kind == Kind.COAT and row.told["revision_id"] in held:
            row.told["revision_id"] = held[row.told["revision_id"]].pk
    sheets = sheets_by_id({row.told.get("revision_id") for row in rows} - {None})
    by_zone = {}
    for row in rows:
        by_zone.setdefault(row.zone, []).append(row)
    salty = salted({*ids, *before.values()}, known_at)
    found = {}
    for zone in zones:
        each = found[zone.pk] = _facts_of(zone, measures, plans, _history(zone.pk, before, by_zone), sheets)
        each.salted = not salty.isdisjoint(_line(zone.pk, before))
    return found


def _origins(zones):
    """{zone id: id of the zone whose history it goes on from}, all the way back."""
    before = {zone.pk: zone.origin_id for zone in zones if zone.origin_id}
    asked = set(before.values())
    while asked:
        older = dict(Zone.objects.filter(pk__in=asked, origin__isnull=False).values_list("pk", "origin_id"))
        asked = set(older.values()) - set(before)
        before |= older
    return before


def _line(pk, before):
    """Ids of a zone and of those it was made from."""
    line = [pk]
    while line[-1] in before:
        line.append(before[line[-1]])
    return line


def _history(pk, before, by_zone):
    """Rows of a zone after those of the zones it was made from, in order."""
    if pk not in before:
        return by_zone.get(pk, [])
    rows = [row for each in _line(pk, before) for row in by_zone.get(each, [])]
    return sorted(rows, key=lambda row: turn(row.ended, row.entry))


def _facts_of(zone, measures, plans, rows, sheets):
    plan = plans.get(zone.pk)
    each = ZoneFacts(zone, measures.get(zone.pk), plan)
    try:
        each.steps = read_steps(plan.steps) if plan else ()
    except ValueError as error:
        each.trouble = f"version {plan.number} of the plan cannot be read: {error}"
    each.events = tuple(event for row in rows if (event := _event(row, sheets)) is not None)
    each.moves = [(row.ended.timestamp(), row.told["place_id"]) for row in rows if row.kind == Kind.MOVED]
    each.typed = [(row.began.timestamp(), typed) for row in rows if (typed := row.told.get("surface_c")) is not None]
    each.logged = frozenset(row.step for row in rows if row.step)
    each.first_s = min((row.began.timestamp() for row in rows), default=None)
    return each


def film_of(coat):
    """The film of a logged coat and the solids behind it."""
    sheet = sheet_of(coat.revision)
    variant = sheet.variant(coat.variant) if sheet else None
    return film_from(sheet, variant, coat.plan_um, coat.thinner_pct, coat.wft_um, coat.used)


def _event(row, sheets):
    """The core's event for a row, None for one that changes no surface."""
    common = (row.began.timestamp(), row.ended.timestamp(), row.share, row.step, row.entry)
    told = row.told if row.of_face == 1.0 else row.told | {"of_face": row.of_face}
    return KINDS[row.kind].event(common, told, sheets)


def _airs(facts, now, workshop, known_at, whole):
    now_s = now.timestamp()
    earliest, slowest = now_s - SHOWN_BACK.total_seconds(), 0.0
    for each in facts:
        first = each.first_s if whole else each.earliest_s(now_s)
        earliest = min(earliest, first if first is not None else now_s)
        slowest = max(slowest, each.tau_s)
    since = from_epoch(earliest - EARLIER_S - WARM_UP * slowest)
    # A day's start, so that a clock that ends does not make the kept air start elsewhere each time.
    since = since.replace(hour=0, minute=0, second=0, microsecond=0)
    return airs(list(Place.objects.all()), since, now, workshop, known_at, not whole)


def _needed(each, way, from_s):
    """The moves whose air its clocks may ask for: from the stay on in which the earliest of them began."""
    if from_s is None or len(way) == 1:
        return way
    built = each._built(from_s)
    made, needed = each.kept.needed or (None, None)
    if made is not built:
        since = each.earliest_s(from_s) - EARLIER_S - WARM_UP * each.tau_s
        needed = way[max((i for i, (t, _) in enumerate(way) if t <= since), default=0) :]
        each.kept.needed = (built, needed)
    return needed


def _place(facts, loaded, from_s=None):
    """Give each zone its way through the air; made anew only where a place's air was.

    from_s: now [epoch s], to leave out what no clock that may still run asks for; None: the whole way.
    """
    first = next(iter(loaded.values()), None)
    for each in facts:
        here = loaded[each.moves[-1][1]] if each.moves else first
        each.place = here.place if here else None
        if here is None:
            each.where = None
            continue
        way = _needed(each, each.moves or [(0.0, here.place.pk)], from_s)
        used = tuple(loaded[place].air for _, place in way)
        before, was = each.kept.way or ((), None)
        if was is None or len(used) != len(before) or not all(map(operator.is_, used, before)):
            now = journey(_way(each, way, loaded), shared_lag_s(each.tau_s))
            if was is not None and len(used) == len(before):
                _keep_crossings(was, now, used, before)
            each.kept.way = (used, now)
            was = now
        each.where = was


def _keep_crossings(was, now, used, before):
    """Keep the crossings that lie where no air of the way has changed."""
    same_s = float("inf")
    for air, old in zip(used, before, strict=True):
        if air is not old:
            same_s = min(same_s, air.kept.same_until_s(old))
    for key, crossing in list(was.crossings.items()):
        if crossing.t_s is None or crossing.t_s > same_s:
            continue
        now.crossings[key] = Crossing(crossing.t_s, crossing.since_s, now, crossing.table, crossing.target)


def _way(each, way, loaded):
    """Moves, and the moments at which its surface was measured, in order of time."""
    found = [(t, loaded[place].air, loaded[place].place.name, None) for t, place in way]
    for t, surface_c in each.typed:
        if t < way[0][0] and len(way) < len(each.moves):
            continue
        before = [move for move in found if move[0] <= t]
        air, place = (before[-1] if before else found[0])[1:3]
        found.append((t, air, place, surface_c))
    return sorted(found, key=lambda move: move[0])
