"""Looking back over the coats on open work with all the air they had: in a process of its own, zone by zone."""

from django.urls import reverse

from emplastra.core.rules.registry import REGISTRY
from emplastra.jobs.models import Job
from emplastra.shared import tasks
from emplastra.shared.services import writes
from emplastra.state.coats import judged_coats
from emplastra.state.selectors import open_zones

AT_ONCE = 20
"""Zones whose air is held at once."""


@writes
def look(user, job=None):
    """Begin to look at the coats on a job's zones, or on all open work."""
    about = {
        "doing": "What the rules say of coats",
        "file": str(job) if job else "all open work",
        "job": job.pk if job else None,
        "back": reverse("metal:rules") + (f"?job={job.pk}" if job else ""),
        "view": "metal:coat-rules",
    }
    return tasks.work(user, "coats", look_at_coats, about)


def look_at_coats(task, say):
    """Work: what is said of each coat, and on which zone."""
    job = Job.objects.filter(pk=task.about["job"]).first() if task.about["job"] else None
    zones = [zone for zone in open_zones() if job is None or zone.job_id == job.pk]
    said, coats = said_of(zones, say)
    with tasks.landing(task) as landed:
        landed |= {"words": f"{coats} coats on {len(zones)} zones.", "said": said}


def said_of(zones, say=lambda share, words: None):
    """({rule: [[zone id, its name, severity, sentence], ...]} of what stands against coats, how many coats)."""
    said, coats = {}, 0
    for begin in range(0, len(zones), AT_ONCE):
        say(begin / len(zones), f"zone {begin + 1} of {len(zones)}")
        for zone, _, ruled in judged_coats(zones[begin : begin + AT_ONCE]):
            coats += 1
            for verdict in ruled.open:
                row = [zone.pk, zone.name, verdict.severity, verdict.sentence]
                rows = said.setdefault(verdict.rule, [])
                rows += [row] if row not in rows else []
    return said, coats


def groups_of(said):
    """[(rule, what it says)] of what was looked at, the rule that says most first."""
    rows = [(REGISTRY[rule], found) for rule, found in said.items() if rule in REGISTRY]
    return sorted(rows, key=lambda row: -len(row[1]))
