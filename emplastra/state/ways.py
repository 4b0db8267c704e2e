"""Why a window cannot be kept, in words, and the ways out of it with what each would cost and bring."""

from dataclasses import dataclass, field
from datetime import datetime

from django.conf import settings

from emplastra.accounts.models import User
from emplastra.climate.models import Place
from emplastra.core.metal.strip import KEY_MIN
from emplastra.core.schedule.clash import impossible, smallest
from emplastra.core.schedule.coating_day import WHY
from emplastra.core.schedule.durations import MIX_MIN, SET_UP_MIN
from emplastra.core.schedule.rounds import plan_days
from emplastra.core.schedule.solver import Asked
from emplastra.core.surface.missed import WIPE_MIN_PER_M2
from emplastra.core.words import kelvin_q
from emplastra.jobs.models import ActDay, HoursTold
from emplastra.shared.times import from_epoch

from .days import Supposed, gathered

HEAT_K, HEATER_KW, KWH_PRICE = 5.0, 3.0, 0.35
"""A heater that is tried [K], what it draws [kW] and what a kilowatt-hour costs [money]. Common practice, no source."""
ALONE = "it closes before the act may begin, whatever else is done: key it, or change the air"
TRY_SHARE = 0.3
"""Each way is planned for this share of the time that days are planned for."""
HALF_HOUR_S = 1800.0


@dataclass
class Way:
    """A way out: in words, what it costs [money], when each job would be ready [epoch s], windows still missed; facts:
    what is told when it is taken.
    """

    words: str
    cost: float
    facts: dict
    ends: dict = field(default_factory=dict)
    missed: int = 0
    can_be: bool = False


@dataclass
class Clash:
    """Why a window cannot be kept: of which act, in a sentence, each thing that clashes in words; ways out of it."""

    act: str
    sentence: str
    reasons: list = field(default_factory=list)
    ways: list = field(default_factory=list)


def clash_of(book, asked, found, tell):
    """The Clash of a plan that misses a window, None where it misses none.

    found: what planning came to; tell: says how far it is.
    """
    return _Explained(book, asked, found, tell).made()


class _Explained:
    """One clash in the making."""

    def __init__(self, book, asked, found, tell):
        self.book, self.asked, self.found, self.tell = book, asked, found, tell
        self.zone = book.facts.workshop.zone

    def made(self):
        if self.found.plan is None:
            return self._no_room()
        rows = [m for m in self.found.missed if not m.early]
        if not rows:
            return None
        row = min(rows, key=lambda m: self.found.plan[m.act.id].begin_s)
        self.act, self.met = self.found.shop.by_id[row.act.id], self.found.mets.get(row.act.id)
        self.tell("what stands in its way")
        given_up = {m.act.id for m in self.found.missed}
        self.reasons = smallest(self.found.shop, self.found.waits, self.act, given_up) or []
        self.closes_s = self._closes_s()
        face = self._face(self.act)
        sentence = f"{face}, {self.act.name.lower()}: {row.why or 'its window closes'} {self._when(self.closes_s)}"
        ways = sorted((way for way in self._ways() if self._tried(way)), key=lambda way: (way.missed, way.cost))
        words = [self._words(reason) for reason in self.reasons]
        return Clash(self.act.id, sentence, words or [ALONE], ways)

    def _no_room(self):
        """Why no plan at all has room for the work."""
        rows = impossible(self.found.shop, self.found.waits)
        if not rows:
            days = round((self.found.shop.end_s - self.found.shop.start_s) / 86400)
            return Clash("", f"No plan was found that has room for all of it within {days} days")
        act, why = rows[0]
        said = {
            "ring": "waits for something that waits for it: look at the plan of access",
            "nobody": "nobody has hours at the bench: say in Hours who is there, and when",
            "long": f"takes {act.work_s / 3600:.1f} h in one go, and nobody is there for so long",
            "air": "the air lets it be put on at no hour that somebody is there",
            "still": f"it never comes to that: {act.opens} not within 30 days, the film stands still in this cold",
        }[why]
        return Clash(act.id, f"{self._face(act)}, {act.name.lower()}: {said}")

    def _closes_s(self):
        """When the window closes that is missed [epoch s]."""
        told = [self.act.latest_s] if self.act.latest_s is not None else []
        if self.met is not None and self.met.closes_s != float("inf"):
            told.append(self.met.closes_s)
        for wait in self.found.waits:
            if wait.after == self.act.id and wait.most_s is not None:
                told.append(self.found.plan[wait.before].end_s + wait.most_s)
        return min(told)

    def _face(self, act):
        zone = self.asked.zones.get(act.face)
        return zone.name if zone else "access"

    def _when(self, t_s):
        here = datetime.fromtimestamp(t_s, self.zone)
        return f"{here:%a} {here.day} {here:%b} {here:%H:%M}"

    def _span(self, span):
        return f"{self._when(span[0])} to {self._when(span[1])}"

    def _words(self, reason):
        """A reason in words."""
        if reason.kind == "hours":
            return f"nobody is there {self._span(reason.span)}"
        if reason.kind == "away":
            return f"{reason.what} is away {self._span(reason.span)}"
        if reason.kind == "air":
            return f"the air closes {self._span(reason.span)} ({', '.join(WHY[w] for w in ('dew', 'damp'))} or cold)"
        if reason.kind == "thing":
            return f"the {reason.what.lower()} is shut {self._span(reason.span)}"
        if reason.kind == "pot":
            return f"it comes from one pot with others: {reason.what}"
        act = self.found.shop.by_id.get(reason.what)
        if reason.kind == "face" and reason.what == self.act.face:
            return "what follows on it has windows of its own"
        if reason.kind == "face":
            name = self.asked.zones[reason.what].name if reason.what in self.asked.zones else "access"
            return f"{name} takes the same hands or things"
        if reason.kind == "fixed":
            return f"{act.name.lower()} is fixed at {self._when(act.pinned_s)}"
        return f"the window of {act.name.lower()} has to be kept too"

    # Ways out

    def _ways(self):
        for reason in self.reasons:
            if reason.kind in {"hours", "away"}:
                yield from self._all_the_same(reason)
                yield from self._come_in(reason)
            elif reason.kind == "air":
                yield from self._warm(reason)
            elif reason.kind == "thing":
                yield from self._open(reason)
            elif reason.kind == "pot":
                yield self._own_pot()
            elif reason.kind == "fixed":
                yield self._free(reason)
        if self.act.face in self.asked.zones:
            yield self._key_again()

    @property
    def rate(self):
        """What an hour costs."""
        return self.book.facts.workshop.hourly_rate

    def _come_in(self, reason):
        """Somebody comes in besides the usual hours, as long as what is left on the face before the close takes."""
        plan, (begin, end) = self.found.plan, reason.span
        rows = [
            a
            for a in self.found.shop.acts
            if a.face == self.act.face and plan[a.id].begin_s <= plan[self.act.id].begin_s
        ]
        need = sum(a.work_s for a in rows if a.hands and plan[a.id].begin_s >= begin) + HALF_HOUR_S
        need = -(-need // HALF_HOUR_S) * HALF_HOUR_S
        opens = self.met.opens_s if self.met is not None else begin
        first = max(begin, min(opens, self.closes_s - self.act.work_s) - (need - self.act.work_s))
        last = min(end, first + need + HALF_HOUR_S)
        who = reason.what or (self.found.plan[self.act.id].who or self.asked.days.shop.crew[0].name)
        person = User.objects.filter(username=who).first()
        if person is None or first >= self.closes_s:
            return
        facts = {"kind": "in", "person": person.pk, "begins": first, "ends": last}
        hours = (last - first) / 3600
        yield Way(f"{who} in {self._span((first, last))}", hours * self.rate, {"hours": facts})

    def _all_the_same(self, reason):
        """What was told of hours taken back: the shop open, somebody in all the same."""
        begin, end = reason.span
        for row in self.asked.told:
            shuts = row.kind in {HoursTold.Kind.SHUT, HoursTold.Kind.AWAY} and row.place_id is None
            if row.pk and shuts and row.begins.timestamp() < end and row.ends.timestamp() > begin:
                who = row.person.username if row.person else "The shop"
                words = f"{who} {'in' if row.person else 'open'} all the same"
                yield Way(
                    f"{words} {self._span((row.begins.timestamp(), row.ends.timestamp()))}", 0.0, {"strike": row.pk}
                )

    def _warm(self, reason):
        place = Place.objects.filter(name=reason.what.split("|")[0]).first()
        if place is None:
            return
        begin, end = max(reason.span[0] - 3600, self.asked.days.shop.start_s), reason.span[1]
        end = min(end, self.closes_s + self.act.then_s + 3600)
        facts = {"kind": "warm", "place": place.pk, "begins": begin, "ends": end, "kelvin": HEAT_K}
        cost = (end - begin) / 3600 * HEATER_KW * KWH_PRICE
        words = f"{place.name} warmed by {kelvin_q(HEAT_K, digits=0)}, electric or flued, {self._span((begin, end))}"
        yield Way(words, cost, {"hours": facts})

    def _open(self, reason):
        rows = [
            r
            for r in self.asked.told
            if r.kind == HoursTold.Kind.SHUT and r.place and f"booth {r.place.name}" == reason.what
        ]
        for row in rows:
            if row.pk and row.begins.timestamp() <= reason.span[0] + 1 and row.ends.timestamp() >= reason.span[1] - 1:
                yield Way(f"{row.place.name} open all the same", 0.0, {"strike": row.pk})

    def _free(self, reason):
        act = self.found.shop.by_id[reason.what]
        zone, _, rest = act.id.partition(":")
        return Way(f"{act.name} free again", 0.0, {"act": {"zone": int(zone), "act": rest, "kind": "free"}})

    def _own_pot(self):
        """A second pot: mixed once more."""
        zone, _, rest = self.act.id.partition(":")
        facts = {"act": {"zone": int(zone), "act": rest, "kind": "pot"}}
        return Way(f"A pot of its own for {self.act.name.lower()}", MIX_MIN / 60 * self.rate, facts)

    def _key_again(self):
        zone, _, rest = self.act.id.partition(":")
        area = self.book.facts.zones[int(zone)].area_m2
        minutes = SET_UP_MIN + area * (KEY_MIN + WIPE_MIN_PER_M2)
        facts = {"act": {"zone": int(zone), "act": rest, "kind": "key"}}
        return Way(f"Let it close, key again before {self.act.name.lower()}", minutes / 60 * self.rate, facts)

    def _tried(self, way):
        """Plan with a way taken; True if it changes anything for the better."""
        self.tell(f"trying: {way.words}")
        asked = gathered(self.book, supposed_of(way.facts))
        found = plan_days(asked.days, Asked(seconds=TRY_SHARE * settings.PLAN_SECONDS, hint=self.found.plan))
        if found.plan is None:
            return False
        missed, before = ({m.act.id for m in each.missed} for each in (found, self.found))
        way.ends, way.missed = found.plan.ends(found.shop), len(missed)
        way.can_be = len(missed) < len(before) or (self.act.id not in missed and len(missed) == len(before))
        return way.can_be


def supposed_of(facts):
    """What a way's facts suppose."""
    if "hours" in facts:
        return Supposed(hours=(hours_row(facts["hours"]),))
    if "act" in facts:
        told = facts["act"]
        return Supposed(
            acts={(told["zone"], told["act"]): ActDay(zone_id=told["zone"], act=told["act"], kind=told["kind"])}
        )
    return Supposed(struck=frozenset({facts["strike"]}))


def hours_row(told):
    """HoursTold, unsaved, as a way's facts have it."""
    person = User.objects.filter(pk=told.get("person")).first() if told.get("person") else None
    place = Place.objects.filter(pk=told.get("place")).first() if told.get("place") else None
    begins, ends = from_epoch(told["begins"]), from_epoch(told["ends"])
    return HoursTold(kind=told["kind"], person=person, place=place, begins=begins, ends=ends, kelvin=told.get("kelvin"))
