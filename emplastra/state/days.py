"""The work that is open, as it is asked of the planner: faces, people's hours, places, air, promises, what was told."""

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import datetime, time, timedelta

from emplastra.accounts.models import Role, User
from emplastra.core.air.dewpoint import Limits
from emplastra.core.air.sun import Span
from emplastra.core.metal.access import KINDS as ACCESS
from emplastra.core.metal.access import WORK, Act, ActKind, edges, logged
from emplastra.core.metal.repair import UNSEEN_SKIN
from emplastra.core.metal.strip import hours_of
from emplastra.core.rules.rehearsal import way_for
from emplastra.core.schedule.bounds import anybody, meets
from emplastra.core.schedule.coating_day import Coming, joined, without
from emplastra.core.schedule.durations import GUN_MIN, WORK_OF, minutes
from emplastra.core.schedule.faces import FaceAsk, walk
from emplastra.core.schedule.rounds import Days
from emplastra.core.schedule.shop_hours import ShopHours, read
from emplastra.core.schedule.work import DAY_S, GRID_S, Person, Pot, Shop, Shut, Wait
from emplastra.core.schedule.work import Act as Asked
from emplastra.core.surface.bare import drying_of
from emplastra.core.surface.clocks import Setting
from emplastra.core.surface.names import COLOUR, StepKind
from emplastra.jobs import days as told_days
from emplastra.jobs import estimates
from emplastra.jobs.access_plans import newest_of_all
from emplastra.jobs.models import ActDay, HoursTold

from .coating_day import sky_over
from .faces import happened
from .known import known
from .ruling import metal_of
from .selectors import metal_at

AHEAD_DAYS = 28
USUAL = read("Mon–Fri 7:00–17:00")
"""Hours that are taken where nobody told any. Ours, no source."""
ACCESS_MIN = 45.0
"""An act of access where nobody told its hours [min]. Common practice, no source."""
TURN_S = 1800.0
"""Turning a piece over, or setting it on its stands [s]. Common practice, no source."""
HAND_OVER = time(17, 0)
"""By when on the promised day a job is to be ready."""


@dataclass
class Gathered:
    """What is asked of the planner (core Days), and what a page needs beside it: zones by key, the plan that was taken,
    zones that cannot be planned and why, until when each place's air is forecast [epoch s], hours told, whether hours
    are assumed.
    """

    days: Days
    zones: dict[str, object]
    held: object
    left_out: list = field(default_factory=list)
    forecast_s: dict[str, float] = field(default_factory=dict)
    told: list = field(default_factory=list)
    hours_assumed: bool = False
    clear: dict = field(default_factory=dict)
    """{day: least distance of the air from its dew point in the shop's hours [K]}, of the place with most faces."""
    promises: dict[str, tuple] = field(default_factory=dict)
    """{job key: (job, promised day)}."""


@dataclass(frozen=True)
class Supposed:
    """What is tried and not told: hours (HoursTold, unsaved), acts' days {(zone id, act): ActDay}, ids of hours as if
    they were taken back.
    """

    hours: tuple = ()
    acts: dict = field(default_factory=dict)
    struck: frozenset = frozenset()


def gathered(book, supposed=None):
    """What is open, gathered for the planner, with what is supposed besides what was told."""
    return _Gather(book, supposed or Supposed()).made()


class _Gather:
    """One look at all that is open."""

    def __init__(self, book, supposed):
        self.supposed = supposed
        self.book, self.facts = book, book.facts
        self.zone, self.now_s = self.facts.workshop.zone, self.facts.now.timestamp()
        self.start_s = -(-self.now_s // GRID_S) * GRID_S
        self.end_s = self.start_s + AHEAD_DAYS * DAY_S
        told = (row for row in told_days.hours_told(self.facts.now) if row.pk not in supposed.struck)
        self.told = [*told, *supposed.hours]
        self.closed, self.left_out = {}, []
        self.factors = estimates.factors()
        self.held = told_days.held_plan()
        self.promised = {row["id"]: row["begin"] for row in self.held.acts} if self.held else {}

    def made(self):
        states = [s for s in self.book.states() if s.zone.is_in_use]
        zones = [s.zone for s in states]
        self.zones = {str(zone.pk): zone for zone in zones}
        self.answers = known(zones, {s.zone.pk: s.facts for s in states})
        self.lies = told_days.lies_of(zones)
        self.pinned = told_days.act_days(zones) | self.supposed.acts
        faces = [face for s in sorted(states, key=self._turn) if (face := self._face(s)) is not None]
        self.faces = {face.key: face for face in faces}
        more, links = self._access(states)
        shop = Shop(
            self.start_s,
            self.end_s,
            (),
            self._crew(),
            self._things(),
            self.closed,
            (),
            self._due(faces),
            GRID_S,
            TURN_S,
        )
        days = Days(tuple(faces), shop, tuple(more), tuple(links), tuple(self._pots(states)), self._changed)
        jobs = {f"{s.zone.job_id}": (s.zone.job, s.zone.job.promised) for s in states}
        return Gathered(
            days,
            self.zones,
            self.held,
            self.left_out,
            self._forecasts(),
            self.told,
            not self.facts.workshop.open_hours,
            self._clear(faces, shop),
            jobs,
        )

    def _turn(self, state):
        return state.zone.job_id, state.zone.pk

    # Faces

    def _face(self, state):
        """The core's FaceAsk of a zone, None where its work cannot be planned; then it says why."""
        each, why = state.facts, self._why_not(state)
        if why:
            if why != "done":
                self.left_out.append((state.zone, why))
            return None
        place, revision = each.place, each.revision
        stripes = {s.step.id: each.of_face(s.step) for s in state.plan.states if s.step.kind == StepKind.STRIPE}
        setting = Setting(
            revision.substrate,
            each.where,
            None,
            0.0,
            drying_of(revision.part),
            each.salted,
            self.facts.workshop.wet_prompt_min * 60,
        )
        booth = self._booth(state)
        surface = each.built(self.start_s) if each.events else each.built(self.now_s)
        return FaceAsk(
            str(state.zone.pk),
            state.zone.name,
            str(state.zone.job_id),
            surface.at(self.start_s),
            state.plan,
            setting,
            self.facts.sheets,
            self._lasts(state),
            stripes,
            self._due_back(state),
            booth or (place.name if place else ""),
            (f"booth {booth}",) if booth else (),
            lambda product: self._air(state, product),
            self.promised,
            self.lies.get(state.zone.pk, ""),
            self._told_so(ActDay.Kind.KEY),
        )

    def _why_not(self, state):
        each = state.facts
        if each.revision is None:
            return "no measures yet"
        if each.revision.end_state != "coated":
            return "done"
        if each.trouble:
            return each.trouble
        if not each.steps:
            return "no plan yet"
        if state.plan.next is None:
            return "done"
        if each.where is None:
            return "stands nowhere: move it to a place"
        if state.surface.closed_s is not None:
            return "closed up"
        return ""

    def _booth(self, state):
        """Name of the booth that its sprayed coats take, "" for none: the one where it stands."""
        place = state.facts.place
        return place.name if place is not None and place.kind == "booth" else ""

    def _lasts(self, state) -> Callable:
        """Hands at a step of this zone [s], with the workshop's own overrun and what is not seen yet."""
        each, metal = state.facts, metal_of(state, self.answers[state.zone.pk])
        area = each.area_m2
        unseen = 1.0 + (UNSEEN_SKIN if not metal.stripped and not state.surface.layers else 0.0)

        def lasts(step):
            strip_h = hours_of(way_for(step), metal, area).strip if step.kind == StepKind.STRIP else None
            share = each.of_face(step) if step.kind == StepKind.STRIPE or step.kind in COLOUR else 1.0
            overrun = self.factors[WORK_OF[step.kind]].mid if step.kind in WORK_OF else 1.0
            return 60.0 * minutes(step, area * share, strip_h) * overrun * unseen

        return lasts

    def _due_back(self, state):
        away = state.surface.away
        if away is None or away.due is None:
            return None
        noon = datetime.combine(away.due, time(12, 0), tzinfo=self.zone).timestamp()
        return max(noon, self.start_s)

    def _changed(self, act):
        """An act with what was told of its day."""
        _, _, rest = act.id.partition(":")
        zone = self.zones.get(act.face)
        row = self.pinned.get((zone.pk, rest)) if zone is not None else None
        if row is None or row.at is None:
            return act
        at_s = row.at.timestamp()
        if row.kind == ActDay.Kind.DAY:
            begin, end = day_around(at_s, self.zone)
            words, last = f"it is to be on {row.at.astimezone(self.zone):%a %d %b}", end - act.work_s
            act = replace(act, earliest_s=max(begin, act.earliest_s or 0.0), opens=words)
            return replace(act, latest_s=min(last, act.latest_s or last), closes=words)
        if row.kind == ActDay.Kind.FIXED:
            return replace(act, pinned_s=max(at_s, self.start_s))
        if row.kind == ActDay.Kind.WISHED:
            return replace(act, wished_s=at_s)
        words = row.note or "not before, as told"
        return replace(act, earliest_s=max(at_s, act.earliest_s or 0.0), opens=words)

    # Air

    def _air(self, state, product):
        """Key of the stretches that the air closes for a product on a zone; worked out once for like sections."""
        each, sheet = state.facts, self.facts.sheets.get(product)
        if sheet is None:
            return ""
        key = f"{each.place.name if each.place else ''}|{each.where.tau_s:.0f}|{product}"
        if key not in self.closed:
            self.closed[key] = self._closed(each, sheet)
        return key

    def _closed(self, each, sheet):
        limits, facts, tau_s = sheet.held_limits, self.facts, each.revision.lag_s
        nights = facts.outdoors.nights(self.start_s, self.end_s) if facts.is_out(each.place) else ()
        sky = sky_over(each, facts)
        metal_c = metal_at(each, tau_s, self.start_s)

        def shut(kelvin: float, bounds: Limits = limits) -> tuple[Span, ...]:
            found: list[Span] = []
            for way in ("damp", "warm"):
                air = each.where.shifted(kelvin, self.start_s).air(self.start_s, self.end_s, way)
                spans, _ = Coming(air, metal_c, tau_s, bounds, nights, sky).closes()
                found += [span for some in spans.values() for span in some]
            return joined(found)

        closed = shut(0.0)
        for row in self.told:
            if row.kind == HoursTold.Kind.WARM and each.place is not None and row.place_id == each.place.pk:
                span = (row.begins.timestamp(), row.ends.timestamp())
                closed = joined([*without(closed, [span]), *meets(shut(row.kelvin), [span])])
        return closed

    def _forecasts(self):
        return {a.place.name: a.forecast.last_s for a in self.facts.airs.values() if a.forecast is not None}

    def _clear(self, faces, shop):
        """How far the air stays from its dew point in each day's hours [K], at worst."""
        count = Counter(face.place for face in faces)
        face = next((f for f in faces if f.place == count.most_common(1)[0][0]), None)
        found = {}
        for a, b in anybody(shop) if face else ():
            cut = face.setting.where.air(a, b, "damp")
            day = datetime.fromtimestamp(a, self.zone).date().isoformat()
            least = float((cut.air_c - cut.dew_c).min())
            found[day] = round(min(least, found.get(day, least)), 1)
        return found

    # People, places, promises

    def _crew(self):
        people = User.objects.filter(is_active=True, role__in=(Role.OWNER, Role.REFINISHER)).order_by("pk")
        return tuple(Person(person.username, there) for person in people if (there := self._there(person)))

    def _there(self, person):
        """Stretches in which somebody is at the bench [epoch s]."""
        hours = hours_of_person(person, self.facts.workshop)
        if hours is None:
            return ()
        spans = hours.spans(self.start_s, self.end_s, self.zone)
        mine = [r for r in self.told if r.person_id in {None, person.pk} and r.place_id is None]
        come = [_span(r) for r in mine if r.kind == HoursTold.Kind.IN]
        gone = [_span(r) for r in mine if r.kind in {HoursTold.Kind.AWAY, HoursTold.Kind.SHUT}]
        whole = [(self.start_s, self.end_s)]
        return meets(joined([*without(spans, gone), *come]), whole)  # who says that they come, comes

    def _things(self):
        things = {"gun": Shut(self.facts.workshop.guns)}
        for air in self.facts.airs.values():
            if air.place.kind == "booth":
                shut = [_span(r) for r in self.told if r.kind == HoursTold.Kind.SHUT and r.place_id == air.place.pk]
                things[f"booth {air.place.name}"] = Shut(1, joined(shut))
        return things

    def _due(self, faces):
        """{job key: by when it is promised [epoch s]}."""
        jobs = {face.job for face in faces}
        rows = {str(s.zone.job_id): s.zone.job.promised for s in self.book.states() if s.zone.job.promised}
        return {
            job: datetime.combine(day, HAND_OVER, tzinfo=self.zone).timestamp()
            for job, day in rows.items()
            if job in jobs
        }

    def _told_so(self, kind):
        """Ids of acts of which something of a kind is told."""
        return frozenset(f"{pk}:{act}" for (pk, act), row in self.pinned.items() if row.kind == kind)

    def _pots(self, states):
        """Colour that has to match comes from one pot: coats of a step's product on faces of one colour group."""
        groups, own = {}, self._told_so(ActDay.Kind.POT)
        for state in (s for s in states if str(s.zone.pk) in self.faces and s.facts.revision.colour_group):
            for step, coat in _mids(state):
                key = (state.zone.job_id, state.facts.revision.colour_group, step.product, coat)
                groups.setdefault(key, []).append(f"{state.zone.pk}:{step.id}:{coat}")
        for (_, group, product, _), every in groups.items():
            acts, life = [act for act in every if act not in own], self._life_min(product)
            if len(acts) > 1 and life:
                yield Pot(tuple(acts), 60.0 * life, f"{product}, {group}")

    def _life_min(self, product):
        """How long a pot of a product lives at 20 °C [min], None where nobody says."""
        sheet = self.facts.sheets.get(product)
        return sheet.pot_life.minutes_at(20.0) if sheet and sheet.pot_life else None

    # Access

    def _access(self, states):
        """(acts of the plans of access that are still to come, waits that they bring)."""
        acts, links = [], []
        by_job = {}
        for state in states:
            by_job.setdefault(state.zone.job_id, []).append(state)
        plans = newest_of_all()
        for job, mine in by_job.items():
            if job not in plans:
                continue
            plan = logged(plans[job], happened([s.facts for s in mine], self.now_s))
            left = {a.id: a for a in plan if not a.done and (a.kind not in WORK or a.kind == ActKind.WELD)}
            acts += [self._access_act(job, a) for a in left.values()]
            links += self._access_links(job, plan, left)
        return acts, links

    def _access_act(self, job, act: Act):
        minutes_ = ACCESS_MIN + (GUN_MIN if act.kind == ActKind.WELD else 0.0)
        seconds = 60.0 * minutes_ * self.factors["access"].mid
        key, name = f"access-{job}:{act.id}", f"{ACCESS[act.kind]}: {act.what}"
        promised_s = self.promised.get(key)
        return Asked(key, f"access-{job}", name, seconds, act.kind, job=str(job), promised_s=promised_s)

    def _access_links(self, job, plan, left):
        """Waits between acts of access, and between them and the steps of the faces that they free or hide."""
        found = [
            Wait(f"access-{job}:{a}", f"access-{job}:{b}", why="the order of access")
            for a, b in edges(plan)
            if a in left and b in left
        ]
        wanted = {face for act in left.values() for face in act.faces} & self.faces.keys()
        firsts = {key: [(met.act.id, met.act.step) for met in walk(self.faces[key])] for key in wanted}
        for act in left.values():
            key, told = f"access-{job}:{act.id}", dict(act.before)
            for face in act.faces:
                found += _of_face(act, key, firsts.get(face, []), told.get(face))
        return found


def _mids(state):
    """(step, coat) of the mid-coats of a zone (its ZoneState) that are still to come."""
    for s in state.plan.states:
        if s.step.kind == StepKind.MID:
            yield from ((s.step, coat) for coat in range(s.coats_done + 1, s.step.coats + 1))


def _of_face(act, key, ids, step):
    """Waits between an act of access and the acts of one face, [(id, step)] in order; step: what it comes before."""
    after = next((i for i, (_, s) in enumerate(ids) if s == step), None)
    if after is not None:
        yield Wait(key, ids[after][0], why=f"{act.what} comes before it")
        if after:
            yield Wait(ids[after - 1][0], key, why=f"{act.what} comes after it")
    elif act.kind == ActKind.OPEN and ids:
        yield Wait(key, ids[0][0], why=f"{act.what} has to be off")
    elif act.kind in {ActKind.CLOSE, ActKind.FIT} and ids:
        yield Wait(ids[-1][0], key, why=f"{act.what} closes it")


def _span(row):
    return row.begins.timestamp(), row.ends.timestamp()


def hours_of_person(person, workshop):
    """ShopHours of somebody; None: never at the bench."""
    if person.bench_hours == "none":
        return None
    hours = read(person.bench_hours or workshop.open_hours)
    return hours if hours.open else ShopHours(USUAL.open)


def day_around(t_s, zone):
    """(its first, its last moment [epoch s]) of the day of a place's clock in which a moment lies."""
    day = datetime.fromtimestamp(t_s, zone).date()
    return tuple(datetime.combine(d, time(0, 0), tzinfo=zone).timestamp() for d in (day, day + timedelta(days=1)))
