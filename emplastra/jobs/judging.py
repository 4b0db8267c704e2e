"""Accepting verdicts, making rules quiet for a job, and choosing schools."""

from django.db.models import Q

from emplastra.core.rules.facts import holds
from emplastra.core.rules.registry import REGISTRY, SCHOOLS, Aspect, default_schools
from emplastra.shared.services import Refused, writes

from .models import Acceptance, Quiet, School

OUT_OF_PLAN = "out of plan"
"""The subject of an act that is in no plan, until it is an entry."""


@writes
def accept(zone, user, ruling, key, reason):
    """Accept the verdict of this key in a ruling, with the facts that its rule read; it holds while they do.

    Raises Refused if it is not there any more, or without a reason.
    """
    verdict = next((v for v in ruling.verdicts if v.key == key), None)
    if verdict is None:
        raise Refused("its facts have changed: look again")
    if not reason.strip():
        raise Refused("write why it is accepted, for example: agreed with the owner", "reason")
    return _accept(zone, user, verdict, verdict.subject, reason)


@writes
def did_anyway(zone, user, ruling, entry, reason):
    """Accept all that stops or warns of an act that is logged (its entry's id) all the same, with one reason."""
    for verdict in ruling.verdicts:
        if verdict.severity != "advises":
            subject = verdict.subject if verdict.subject != OUT_OF_PLAN else f"entry {entry}"
            _accept(zone, user, verdict, subject, reason)


def _accept(zone, user, verdict, subject, reason):
    return Acceptance.objects.create(
        zone=zone,
        rule=verdict.rule,
        key=verdict.key[:160],
        subject=subject[:80],
        facts=[[fact.name, fact.value, fact.worse, fact.step] for fact in verdict.read],
        sentence=verdict.sentence[:400],
        reason=reason.strip()[:200],
        who=user,
    )


def accepted_in(ids):
    """{zone id: its Acceptances, the newest first} of zones by their ids; one query."""
    found = {}
    for row in Acceptance.objects.filter(zone__in=ids).select_related("who").order_by("-id"):
        found.setdefault(row.zone_id, []).append(row)
    return found


OF_THE_FACE = frozenset({Aspect.METAL, Aspect.FINDINGS, Aspect.SAFETY})
"""Aspects whose verdicts are about what was found, whatever is done next: accepted once, for every act."""


def acceptance_of(rows, verdict):
    """The Acceptance among these that holds for a verdict, None if none does."""
    for row in rows:
        same = row.facts is not None and row.key == verdict.key[:160]
        if same and verdict.aspect not in OF_THE_FACE:
            same = row.subject == verdict.subject[:80]
        if same and holds(row.read, verdict.read):
            return row
    return None


@writes
def make_quiet(job, user, rule, reason, quiet=True):
    """Make a rule quiet for a job, or let it speak again. Raises Refused for harm, for a stop, without a reason."""
    found = REGISTRY.get(rule)
    if found is None:
        raise Refused("there is no such rule", "rule")
    if quiet and found.harm:
        raise Refused("somebody may be hurt: this is never made quiet", "rule")
    if quiet and not reason.strip():
        raise Refused("write why it is quiet for this job", "reason")
    return Quiet.objects.create(job=job, rule=rule, quiet=quiet, reason=reason.strip()[:200], who=user)


def quiet_in(jobs):
    """{job id: {rule: Quiet}} of rules that are quiet for jobs; one query."""
    found = {job.pk: {} for job in jobs}
    for row in Quiet.objects.filter(job__in=list(found)).select_related("who").order_by("id"):
        found[row.job_id][row.rule] = row
    return {pk: {rule: row for rule, row in rows.items() if row.quiet} for pk, rows in found.items()}


def is_quiet(quiet, verdict):
    """True if a verdict is of a rule that is quiet here; what stops, and harm, always speaks."""
    return verdict.rule in quiet and verdict.severity != "stops" and not verdict.harm


def schools_of(jobs):
    """{job id: {question: answer}} of jobs: its own, else the workshop's, else the first of each; one query."""
    held = default_schools()
    ids = [job.pk for job in jobs]
    own = {}
    for row in School.objects.filter(Q(job=None) | Q(job__in=ids)):
        if row.job_id is None:
            held[row.question] = row.answer
        else:
            own.setdefault(row.job_id, {})[row.question] = row.answer
    return {pk: {**held, **own.get(pk, {})} for pk in ids}


def workshop_schools():
    """{question: answer} of the workshop, the first of each where it has none."""
    return default_schools() | dict(School.objects.filter(job=None).values_list("question", "answer"))


def schools_with(jobs, chosen, of=None, taken_back=()):
    """{job id: {question: answer}} of jobs, as if these answers were given: to a job, or to the workshop.

    taken_back: questions that the job would leave to the workshop.
    """
    held = schools_of(jobs)
    if of is not None:
        workshop = workshop_schools()
        held[of.pk] = held.get(of.pk, {}) | {q: workshop[q] for q in taken_back} | chosen
        return held
    own = {}
    for pk, question in School.objects.filter(job__in=held).values_list("job_id", "question"):
        own.setdefault(pk, set()).add(question)
    return {pk: answers | {q: a for q, a in chosen.items() if q not in own.get(pk, ())} for pk, answers in held.items()}


@writes
def choose_school(question, answer, job=None, user=None):
    """Answer a question for a job or the workshop; "" takes the answer back. Raises Refused, also where somebody who is
    no owner answers for the whole workshop.
    """
    if job is None and user is not None and not user.is_owner:
        raise Refused("only an owner answers for the whole workshop: choose a job", question)
    if question not in SCHOOLS:
        raise Refused(f"must be one of {', '.join(SCHOOLS)}", "question")
    if not answer:
        School.objects.filter(job=job, question=question).delete()
        return
    if answer not in SCHOOLS[question][1]:
        raise Refused(f"must be one of {', '.join(SCHOOLS[question][1])}", question)
    School.objects.update_or_create(job=job, question=question, defaults={"answer": answer})
