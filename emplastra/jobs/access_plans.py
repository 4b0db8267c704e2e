"""The access plan of a job: its acts, saved as versions."""

from emplastra.core.metal.access import Act, check
from emplastra.shared.services import Refused, as_refused, writes

from .models import AccessPlan


def acts_of(job):
    """(number of the newest version, its acts); (0, []) without one."""
    newest = AccessPlan.objects.filter(job=job).order_by("number").last()
    return (newest.number, [_act(row) for row in newest.acts]) if newest else (0, [])


def _act(row):
    before = tuple(sorted(row.get("before", {}).items()))
    return Act(**{**row, "faces": tuple(row["faces"]), "after": tuple(row["after"]), "before": before})


def rows(acts):
    """Acts as they are stored; `done` is what was told, not what the log shows."""
    return [
        {
            "id": a.id,
            "kind": a.kind,
            "what": a.what,
            "faces": list(a.faces),
            "after": list(a.after),
            "bare_um": a.bare_um,
            "least_um": a.least_um,
            "done": a.done,
            "added_s": a.added_s,
            "before": dict(a.before),
        }
        for a in acts
    ]


def newest_of_all():
    """{job id: acts of its newest plan} of all jobs that have one; one query."""
    rows = AccessPlan.objects.order_by("number").values_list("job_id", "acts")
    return {job: [_act(row) for row in acts] for job, acts in rows}


@writes
def save(job, user, acts, based_on):
    """A new version. based_on: number of the one it started from. Raises Refused if it is stale, or an act cannot
    be.
    """
    number, _ = acts_of(job)
    if number != based_on:
        raise Refused("somebody changed the plan meanwhile: look at it again, then send yours once more", "based_on")
    with as_refused():
        check([_act(row) for row in acts])
    return AccessPlan.objects.create(job=job, number=number + 1, acts=acts, who=user)
