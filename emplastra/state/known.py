"""What is known of many zones: each statement that holds, and where it stands; kept in memory by zone.

What was told is kept by the newest ids it was made from, as the facts of the log are. `forget()`
drops it; the answers stay the same.
"""

from typing import NamedTuple

from emplastra.climate.live import database, may_keep, newest
from emplastra.core.survey import findings as core
from emplastra.core.survey.answers import Answer, coverage_of
from emplastra.core.survey.topics import TOPICS
from emplastra.jobs.access_plans import newest_of_all
from emplastra.jobs.models import AccessPlan, Finding, FindingWord

_held: dict = {}
_plans: dict = {}


def forget():
    """Drop what is kept of findings in memory."""
    _held.clear()
    _plans.clear()


def steps_of(facts, at_s=None):
    """Ids of steps that are logged (by a moment [epoch s]), and of all that are planned."""
    if facts is None:
        return frozenset(), frozenset()
    logged = facts.logged if at_s is None else {e.step for e in facts.events if e.ended_s <= at_s}
    return logged, {step.id for step in facts.steps}


def _by(at_s, chains, words):
    """Statements and words that were recorded by a moment [epoch s], all of them for None."""
    if at_s is None:
        return chains, words
    told = {key: [row for row in chain if row[2][0].timestamp() <= at_s] for key, chain in chains.items()}
    said = {key: [row for row in rows if row[0][0].timestamp() <= at_s] for key, rows in words.items()}
    return {key: chain for key, chain in told.items() if chain}, said


def known(zones, facts):
    """{zone id: {(topic, mark): (Answer, status)}} of zones. facts: their ZoneFacts by id."""
    return {pk: standing(facts.get(pk), *chains) for pk, chains in chains_of(zones).items()}


def chains_of(zones):
    """{zone id: (every statement by topic and mark, every word by finding)} of zones, kept in memory."""
    return told_of(zones)[0]


def told_of(zones):
    """(what chains_of gives, the number of the newest plan of access), in one look."""
    ids = [zone.pk for zone in zones]
    name, mark = database(), newest(Finding, FindingWord, AccessPlan)
    was, held = _held.get(name) or (None, {})
    if was is not None and mark != was:
        stale = set(Finding.objects.filter(pk__gt=was[0]).values_list("zone_id", flat=True))
        stale |= set(FindingWord.objects.filter(pk__gt=was[1]).values_list("finding__zone_id", flat=True))
        held = {pk: told for pk, told in held.items() if pk not in stale}
    missing = [pk for pk in ids if pk not in held]
    if missing:
        held = held | _told(missing)
    if may_keep():
        _held[name] = (mark, held)
    return {pk: held[pk] for pk in ids}, mark[2]


def access_plans(newest_plan):
    """{job id: acts of its plan of access}, kept in memory until there is a newer plan than this."""
    key = (database(), newest_plan)
    if newest_plan and key not in _plans:
        _plans.clear()
        _plans[key] = newest_of_all()
    return _plans.get(key, {})


def salted(ids, known_at=None):
    """Ids of these zones with a history of sea or road salt that no test has cleared."""
    recorded = {"recorded__lte": known_at} if known_at else {}
    asked = set(Finding.objects.filter(zone__in=ids, topic="salts", **recorded).values_list("zone_id", flat=True))
    if not asked:
        return set()
    told = {pk: standing(None, *each).get(("salts", "")) for pk, each in _told(asked, **recorded).items()}
    return {pk for pk, found in told.items() if found is not None and found[1] in core.STILL_OPEN}


def coverage_in(told, area_m2):
    """Coverage of a zone [m2] by what is known of it."""
    looked = told.get(("looked", ""))
    return coverage_of(area_m2, looked[0].choice, looked[0].values) if looked else coverage_of(area_m2)


def _told(ids, **recorded):
    """{zone id: ({(topic, mark): [(pass, Answer, order)]}, {finding id: [(order, Word)]})} from the rows."""
    rows = Finding.objects.filter(zone__in=ids, **recorded).order_by("id")
    rows = rows.values_list(
        "zone_id", "stage", "recorded", "pk", "topic", "mark", "choice", "values", "text", "evidence"
    )
    said = FindingWord.objects.filter(finding__zone__in=ids, **recorded).order_by("id")
    said = said.values_list("finding__zone_id", "finding_id", "recorded", "pk", "said", "cause", "step")
    told = {pk: ({}, {}) for pk in ids}
    for zone, stage, recorded, pk, *answer in rows:
        row = (stage, Answer(*answer), (recorded, pk, 0, pk))
        told[zone][0].setdefault((answer[0], answer[1]), []).append(row)
    for zone, finding, recorded, pk, *word in said:
        told[zone][1].setdefault(finding, []).append(((recorded, finding, 1, pk), core.Word(*word)))
    return told


class Standing(NamedTuple):
    """Where a statement stands: the Answer that holds, its status, the id of the step that is to answer it, when it was
    told [epoch s], for what it waits and the cause that was named.
    """

    answer: Answer
    status: str
    step: str = ""
    said_s: float = 0.0
    waits: str = ""
    cause: str = ""


def standing(facts, chains, words, at_s=None):
    """{(topic, mark): Standing}: one as bared before one as found.

    at_s: as it was told by that moment [epoch s]; None: as it is told now.
    """
    chains, words = _by(at_s, chains, words)
    found, steps = {}, None
    for key, chain in chains.items():
        _, holds, order = next((row for row in reversed(chain) if row[0] == "bared"), chain[-1])
        at = order[0].timestamp()
        said = [pair for row in chain for pair in words.get(row[2][1], ())]
        trouble = holds.trouble
        if trouble and said:
            told = [(turn, answer.trouble) for _, answer, turn in chain]
            steps = steps or steps_of(facts, at_s)
            in_turn = core.since([each for _, each in sorted([*told, *said], key=lambda pair: pair[0])])
            life = core.life(True, TOPICS[key[0]].wants_cause, in_turn, *steps)
            found[key] = Standing(holds, life.status, life.step, at, life.waits, life.cause)
        else:
            found[key] = Standing(holds, "open" if trouble else "seen", "", at)
    return found
