"""Schools: what an answer would change on the work in hand, before it is saved."""

from django.shortcuts import render

from emplastra.core.rules.registry import SCHOOLS, SEVERITIES
from emplastra.jobs import judging
from emplastra.jobs.models import Job
from emplastra.say.book import book_of
from emplastra.shared import asked
from emplastra.state.ruling import Rulings

LOOKED_AT = 120
"""Zones that are looked at for it: a preview takes seconds, no more."""


def preview(request):
    """What the answers as chosen would change: a fragment."""
    return render(request, "metal/schools_preview.html", changes(request))


def changes(request):
    """What the answers as chosen would say that is not said now, and the other way round."""
    book = book_of(request)
    job = Job.objects.filter(pk=asked.an_id(request.GET, "job"), removed=False).first()
    states = [s for s in book.states() if job is None or s.zone.job_id == job.pk]
    looked = states[:LOOKED_AT]
    other = Rulings(book.facts, list(book.facts.zones))
    other.schools = _chosen(request.GET, {state.zone.job for state in looked}, job)
    was, now = _spoken(book.rulings, looked), _spoken(other, looked)
    return {
        "groups": (("Would be said", False, _but(now, was)), ("Would no longer be said", True, _but(was, now))),
        "more": len(states) - len(looked),
        "count": len(looked),
    }


def _chosen(values, jobs, job):
    """{job id: {question: answer}} of jobs, with the answers as chosen on the page."""
    chosen = {q: values[q] for q in SCHOOLS if values.get(q) in SCHOOLS[q][1]}
    return judging.schools_with(jobs, chosen, job, [q for q in SCHOOLS if values.get(q) == ""])


def _but(these, those):
    """[(verdict, its zones)] of these that are not among those, each sentence once, the gravest first."""
    found = {}
    for zone, verdict in (these[key] for key in these if key not in those):
        found.setdefault(verdict.sentence, (verdict, []))[1].append(zone)
    return sorted(found.values(), key=lambda row: SEVERITIES.index(row[0].severity))


def _spoken(rulings, states):
    """{what is said of what: (zone, verdict)} of what comes next on zones and of what is planned after it."""
    found = {}
    for state in states:
        ruled = rulings.now(state)
        each = [ruled] if ruled else []
        for one in [*each, *(ruled for _, ruled in rulings.plan(state))]:
            for verdict in one.open:
                found.setdefault((state.zone.pk, verdict.rule, verdict.sentence), (state.zone, verdict))
    return found
