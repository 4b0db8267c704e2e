"""A job's survey out to a file and in again."""

from collections import Counter
from pathlib import Path

from django.db import transaction
from django.urls import reverse

from emplastra.core.survey.answers import AnswerError, check
from emplastra.core.survey.file import Statement, SurveyFileError, WordTold, read
from emplastra.shared import clock, tasks
from emplastra.shared.services import Refused, writes

from .models import Finding, FindingWord, Job
from .surveying import explain, write


def in_order(findings, words):
    """Findings and their words in the order in which they were told; a word always after what it is said of."""
    keyed = [((f.recorded, f.pk, 0, f.pk), f) for f in findings]
    keyed += [((w.recorded, w.finding_id, 1, w.pk), w) for w in words]
    return [each for _, each in sorted(keyed, key=lambda pair: pair[0])]


def told_of(zones):
    """{zone name: what was told, in order} of zones, for a file."""
    found = {zone.name: [] for zone in zones}
    for zone in zones:
        steps = {v: k for k, v in _steps(zone).items()}
        for each in _all_of(zone):
            found[zone.name].append(_item(each, steps))
    return found


def _all_of(zone):
    findings = {f.pk: f for f in Finding.objects.filter(zone=zone)}
    words = list(FindingWord.objects.filter(finding__zone=zone))
    for word in words:
        word.finding = findings[word.finding_id]
    return in_order(findings.values(), words)


def _item(each, steps):
    if isinstance(each, Finding):
        return Statement(each.stage, each.answer, each.seen)
    finding = each.finding
    return WordTold(each.said, finding.topic, finding.mark, each.cause, steps.get(each.step, ""), each.note)


def _steps(zone):
    """{"kind:number": step id} of a zone's plan."""
    plan, found, counts = zone.build_ups.first(), {}, Counter()
    for step in plan.steps if plan else ():
        counts[step["kind"]] += 1
        found[f"{step['kind']}:{counts[step['kind']]}"] = step["id"]
    return found


@writes
def begin_take_in(user, job, path, name):
    """Read a large file and take it in, in a process of its own; its task."""
    about = {"doing": "Taking in", "file": name[-80:], "back": reverse("survey:take-in", args=[job.pk]), "job": job.pk}
    return tasks.work(user, "survey", take_in_kept, about, path)


def take_in_kept(task, say):
    """Work: the survey in a task's file, taken in. Raises Refused, Failed."""
    say(0.05, "reading the file")
    try:
        told = read(task.about["file"], Path(task.about["path"]).read_bytes(), clock.now())
    except SurveyFileError as error:
        raise tasks.Failed("see what does not fit", error.problems) from error
    job = Job.objects.get(pk=task.about["job"])
    say(0.3, f"writing down what is told of {len(told)} zones")
    with tasks.landing(task) as landed:
        words = said_of(*take_in(job, task.user, told))
        landed |= {"words": words, "url": reverse("survey:findings", args=[job.pk]), "go": "To the findings"}


def said_of(new, known):
    """What taking in came to, in a sentence."""
    return f"{new} written down, {known} known already."


@writes
@transaction.atomic
def take_in(job, user, told):
    """Write down what a file tells and the job does not know yet; how many, and how many it knew.

    Raises Refused naming zones that the job does not have, or what cannot be in a zone, with all of it.
    """
    zones = {zone.name: zone for zone in job.zones.in_use()}
    unknown = [name for name in told if name not in zones]
    if unknown:
        raise Refused(
            f"the job has no zone called {', '.join(f'“{n}”' for n in unknown[:5])}: its zones are "
            f"{', '.join(zones) or 'none'}",
            "file",
        )
    new = known = 0
    for name, items in told.items():
        here = Counter(map(_key, told_of([zones[name]])[name]))
        thickness_mm = zones[name].revisions.first().thickness_mm
        for item in items:
            if here[_key(item)] > 0:
                here[_key(item)] -= 1
                known += 1
                continue
            _write(zones[name], user, item, thickness_mm)
            new += 1
    return new, known


def _key(item):
    if isinstance(item, WordTold):
        return item
    a = item.answer
    return (item.stage, a.topic, a.mark, a.choice, tuple(sorted(a.values.items())), a.text, a.evidence, item.seen)


def _write(zone, user, item, thickness_mm):
    if isinstance(item, WordTold):
        finding = Finding.objects.filter(zone=zone, topic=item.topic, mark=item.mark).order_by("id").last()
        if finding is None:
            raise Refused(
                f"{zone}: “{item.said}” is said of {item.topic} {item.mark}, of which nothing is told", "file"
            )
        steps = _steps(zone)
        if item.step and item.step not in steps:
            raise Refused(f"{zone}: its plan has no step {item.step}", "file")
        FindingWord.objects.create(
            finding=finding, said=item.said, cause=item.cause, step=steps.get(item.step, ""), note=item.note, who=user
        )
        return
    a = item.answer
    try:
        check(a, thickness_mm)
    except AnswerError as error:
        raise Refused(f"{zone}: {error}", "file") from error
    finding = write(zone, user, item.stage, a, item.seen)
    if item.cause:
        explain(finding, user, item.cause)
