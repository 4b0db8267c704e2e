"""Did a system hold here? Every face that was looked at again, with what lies on it and how old that was."""

from dataclasses import dataclass
from datetime import date

from emplastra.climate.live import database, may_keep, newest
from emplastra.core.care.held import Case, Held, by
from emplastra.core.metal.strip import WAYS
from emplastra.jobs.models import BuildUpVersion, Revisit, Zone, ZoneRevision
from emplastra.logbook.models import Correction, Entry, EntryZone, Kind, holds

YEAR_DAYS = 365.25
OWN = "a plan of its own"
"""What is said of a face whose plan is no system's."""
_held: dict = {}


def forget():
    """Drop what is kept in memory."""
    _held.clear()


@dataclass(frozen=True)
class About:
    """What a case is of: face, job, the look."""

    zone: int
    face: str
    job: str
    job_id: int
    seen: date
    look: int


def cases():
    """[Case] of all faces that were looked at, one for each finish that lay on them, by their newest look; kept in
    memory until something of one of them is recorded.
    """
    mark = newest(Revisit, Correction, Entry, BuildUpVersion, ZoneRevision)
    was, zones, found = _held.get(database()) or (None, frozenset(), ())
    if mark != was:
        if was is None or mark[:2] != was[:2] or _touched(was, zones):
            zones, found = _cases()
        if may_keep():
            _held[database()] = (mark, zones, found)
    return found


def _touched(was, zones):
    """True if something was logged, planned or measured on one of these zones since."""
    told = ((EntryZone, "entry_id", was[2]), (BuildUpVersion, "id", was[3]), (ZoneRevision, "id", was[4]))
    for model, key, last in told:
        since = model.objects.filter(**{f"{key}__gt": last}).values_list("zone_id", flat=True)
        if not zones.isdisjoint(since):
            return True
    return False


def by_system():
    """{name of a system: its Held}."""
    return by(cases(), "system")


def of_system(name):
    """The Held of a system by its name; of none that nobody looked at."""
    return by_system().get(name, Held(()))


def _cases():
    """(ids of the zones that they rest on, one Case for each finish of a face looked at, by the newest look)."""
    columns = ("id", "zone_id", "zone__name", "zone__job__name", "zone__job_id", "zone__origin_id", "seen", "verdict")
    looks = list(Revisit.objects.filter(zone__job__removed=False).order_by("seen", "id").values_list(*columns))
    lines = _lines({row[1]: row[5] for row in looks})
    rested = frozenset(pk for line in lines.values() for pk in line)
    done = _done(rested)
    systems, finishes = _systems(lines), _finishes(lines)
    found = {}
    for look, zone, face, job, job_id, _, seen, verdict in looks:
        story = _until(seen, lines[zone], done)
        finished = max((at.date() for at, kind, *_ in story if kind == Kind.COAT), default=None)
        if finished:
            about = About(zone, face, job, job_id, seen, look)
            years = (seen - finished).days / YEAR_DAYS
            found[zone, finished] = Case(systems[zone], _prepared(story), finishes[zone], years, verdict, about)
    return rested, tuple(found.values())


def _until(seen, line, done):
    """What was done on the zones of a line until a look, in order."""
    return sorted(row for pk in line for row in done.get(pk, ()) if row[0].date() <= seen)


def _lines(origins):
    """{zone id: ids of it and of those it goes on from}, of zones with the one before each."""
    before, asked = dict(origins), {pk for pk in origins.values() if pk}
    while asked := asked - set(before):
        rows = dict(Zone.objects.filter(pk__in=asked).values_list("pk", "origin_id"))
        before |= rows
        asked = {pk for pk in rows.values() if pk}
    found = {}
    for zone in origins:
        line = [zone]
        while before.get(line[-1]):
            line.append(before[line[-1]])
        found[zone] = line
    return found


def _done(ids):
    """{zone id: [(when, kind, how, grit)]} of what bares, keys, treats and coats."""
    kinds = (Kind.BARED, Kind.KEYED, Kind.PREPPED, Kind.COAT)
    rows = EntryZone.objects.filter(holds(None, "entry__"), zone__in=ids, entry__kind__in=kinds)
    found = {}
    columns = ("zone_id", "entry__ended", "entry__kind", "entry__bared__how", "entry__keyed__grit")
    for zone, at, kind, how, grit in rows.values_list(*columns):
        found.setdefault(zone, []).append((at, kind, how or "", grit or ""))
    return found


def _prepared(story):
    """How the metal was prepared under its first coat, in words: how it was bared, the last grit, acid."""
    before = []
    for row in story:
        if row[1] == Kind.COAT:
            break
        before = [row] if row[1] == Kind.BARED else [*before, row]
    said = [_way(how) for _, kind, how, _ in before if kind == Kind.BARED]
    said += ["acid"] if any(kind == Kind.PREPPED for _, kind, *_ in before) else []
    said += [grit for _, kind, _, grit in before if kind == Kind.KEYED][-1:]
    return ", ".join(said) or "not told"


def _way(how):
    return WAYS[how].name.lower() if how in WAYS else "bared"


def _systems(lines):
    """{zone id: the system of its newest plan}."""
    rows = BuildUpVersion.objects.filter(zone__in={pk for line in lines.values() for pk in line}).order_by("number")
    newest_of = dict(rows.values_list("zone_id", "system__system__name"))
    return {zone: next((newest_of[pk] for pk in line if newest_of.get(pk)), OWN) for zone, line in lines.items()}


def _finishes(lines):
    """{zone id: its finish class in words}."""
    words = dict(ZoneRevision.Finish.choices)
    rows = ZoneRevision.objects.filter(zone__in=lines).order_by("id").values_list("zone_id", "finish_class")
    found = dict(rows)
    return {zone: words.get(found.get(zone), "not measured").lower() for zone in lines}
