"""Accepting verdicts, and choosing schools."""

from emplastra.core.rules.registry import SCHOOLS, default_schools
from emplastra.shared.services import Refused, writes

from .models import Acceptance, School


@writes
def accept(zone, user, found, key, reason):
    """Accept the verdict of this key among those found; it holds while its key does.

    Raises Refused if it is not among them any more, or without a reason.
    """
    verdict = next((v for v in found if v.key == key), None)
    if verdict is None:
        raise Refused("its facts have changed: look again")
    if not reason.strip():
        raise Refused("write why it is accepted, for example: agreed with the owner", "reason")
    return Acceptance.objects.create(
        zone=zone,
        rule=verdict.rule,
        key=verdict.key,
        sentence=verdict.sentence[:400],
        reason=reason.strip()[:200],
        who=user,
    )


def accepted_in(zones):
    """{(zone id, key): Acceptance} of zones, the newest of each; one query."""
    rows = Acceptance.objects.filter(zone__in=[zone.pk for zone in zones]).select_related("who").order_by("id")
    return {(row.zone_id, row.key): row for row in rows}


def schools_of(jobs):
    """{job id: {question: answer}} of jobs: its own, else the workshop's, else the first of each; one query."""
    held = default_schools()
    rows = list(School.objects.filter(job=None)) + list(School.objects.filter(job__in=[job.pk for job in jobs]))
    own = {}
    for row in rows:
        if row.job_id is None:
            held[row.question] = row.answer
        else:
            own.setdefault(row.job_id, {})[row.question] = row.answer
    return {job.pk: {**held, **own.get(job.pk, {})} for job in jobs}


def choose_school(question, answer, job=None):
    """Answer a question for a job or the workshop; "" takes the answer back. Raises Refused."""
    if question not in SCHOOLS:
        raise Refused(f"must be one of {', '.join(SCHOOLS)}", "question")
    if not answer:
        School.objects.filter(job=job, question=question).delete()
        return
    if answer not in SCHOOLS[question][1]:
        raise Refused(f"must be one of {', '.join(SCHOOLS[question][1])}", question)
    School.objects.update_or_create(job=job, question=question, defaults={"answer": answer})
