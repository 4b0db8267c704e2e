"""What people do on a survey: state what they see, say what became of it, show it."""

from django.db import transaction

from emplastra.core.survey import findings as core
from emplastra.core.survey.answers import Answer, check
from emplastra.core.survey.topics import STAGES
from emplastra.shared import clock
from emplastra.shared.services import Refused, as_refused, writes

from .models import Finding, FindingWord
from .services import new_step_id, save_build_up


def held(zone, stage=None):
    """{(pass, topic, mark): Finding} that hold on a zone."""
    rows = Finding.objects.filter(zone=zone).order_by("id")
    if stage is not None:
        rows = rows.filter(stage=stage)
    return {(row.stage, row.topic, row.mark): row for row in rows}


@writes
@transaction.atomic
def state(zone, user, stage, answers, step="", seen=None):
    """Write down answers [(core Answer, cause or "")] of a pass; what holds already is not written again.

    step: id of the step during which it was seen. Raises Refused naming topic or figure.
    """
    if stage not in STAGES:
        raise Refused(f"pass must be one of {', '.join(STAGES)}")
    known, made = held(zone), []
    told = {answer.topic: answer.choice for answer, _ in answers}
    before = known.get((stage, "uncovered", ""))
    uncovered = told.get("uncovered") or (before.choice if before else "")
    thickness = zone.revisions.first().thickness_mm
    for answer, cause in answers:
        with as_refused():
            check(answer, thickness, uncovered)
        old = known.get((stage, answer.topic, answer.mark))
        if old is None or old.answer != answer:
            old = write(zone, user, stage, answer, seen or clock.now(), step)
            made.append(old)
        if cause and answer.trouble:
            explain(old, user, cause)
    return made


@writes
def in_film(zone, user, seen_in, step, seen):
    """Write down what is seen in a film [(choice of the topic, where)], each under a mark of its own."""
    for choice, where in seen_in:
        answer = Answer("film", next_mark(zone, "film"), choice, {}, where, "paint")
        state(zone, user, "coated", [(answer, "")], step, seen)


def seen_in_film(zones, choices=None):
    """[(Finding, whether it is verified)] of what was seen in films of zones, in the order of telling; choices: keys of
    the topic, None for all.
    """
    rows = Finding.objects.filter(zone__in=zones, topic="film").select_related("zone").prefetch_related("words")
    held = {}
    for row in (rows if choices is None else rows.filter(choice__in=choices)).order_by("id"):
        held[row.zone_id, row.mark] = row
    return [(row, any(word.said == "verified" for word in list(row.words.all())[-1:])) for row in held.values()]


@writes
def write(zone, user, stage, answer, seen, step=""):
    """One statement of a pass as a row; answer: the core's value, checked."""
    told = {name: getattr(answer, name) for name in ("topic", "mark", "choice", "text", "evidence")}
    values = dict(answer.values)
    return Finding.objects.create(zone=zone, stage=stage, values=values, step=step, seen=seen, who=user, **told)


def last_cause(finding):
    """The cause named last for a zone's topic and mark, "" if none."""
    words = FindingWord.objects.filter(
        finding__zone=finding.zone_id, finding__topic=finding.topic, finding__mark=finding.mark, said="explained"
    )
    newest = words.order_by("id").last()
    return newest.cause if newest else ""


@writes
def explain(finding, user, cause):
    """Name a finding's cause, unless it is named already. Raises Refused."""
    if cause not in core.CAUSES:
        raise Refused(f"must be one of {', '.join(core.CAUSES)}", "cause")
    if last_cause(finding) != cause:
        FindingWord.objects.create(finding=finding, said="explained", cause=cause, who=user)


@writes
def say_of(finding, user, said, cause="", step="", note=""):
    """Say something of a finding: a key of core WORDS. Raises Refused if it cannot be said."""
    if said == "explained":
        return explain(finding, user, cause)
    if said not in core.WORDS:
        raise Refused(f"must be one of {', '.join(core.WORDS)}")
    if said == "answered":
        plan = finding.zone.build_ups.first()
        if step not in {s["id"] for s in (plan.steps if plan else ())}:
            raise Refused("choose a step of the zone’s plan", "step")
    if said == "mended" and not core.CAUSES.get(last_cause(finding), ("", False))[1]:
        raise Refused("no cause is named that goes on", "cause")
    return FindingWord.objects.create(finding=finding, said=said, step=step, note=note[:200], who=user)


@writes
@transaction.atomic
def answer_by_new(finding, user, kind, at, based_on):
    """Put a step of a kind into the zone's plan, as the `at`-th, and let it answer a finding. Raises StalePlan."""
    plan = finding.zone.build_ups.first()
    steps, new = plan.steps if plan else [], {"id": new_step_id(), "kind": kind, "note": "answers a finding"}
    save_build_up(finding.zone, user, [*steps[:at], new, *steps[at:]], based_on)
    return say_of(finding, user, "answered", step=new["id"])


def next_mark(zone, topic):
    """A free number for one more row of a topic."""
    taken = {f.mark for f in Finding.objects.filter(zone=zone, topic=topic)}
    return next(str(n) for n in range(1, 10_000) if str(n) not in taken)
