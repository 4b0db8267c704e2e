"""What rotten metal would cost, what the owner decided, and how long work took."""

from emplastra.core.metal.repair import WORK, factor, judge_set
from emplastra.shared.services import Refused, as_refused, owners_only, writes

from .models import Estimate, OwnerDecision, WorkHours


@writes
def estimate(job, user, opening, zone=None, strikes=None, **told):
    """Write down one thing that could be done; with `strikes`, in the place of another. Raises Refused."""
    if strikes is not None and Estimate.objects.filter(struck=strikes).exists():
        raise Refused("somebody replaced that one meanwhile: look again")
    made = Estimate(job=job, zone=zone, opening=opening.strip(), who=user, struck=strikes, **told)
    with as_refused():
        made.piece.check()
    if not 0 <= made.access_h <= 500:
        raise Refused("must be from 0 to 500 h", "access_h")
    made.save()
    return made


def held(job):
    """Estimates of a job that hold, in order."""
    return list(Estimate.objects.filter(job=job, strikes=None).exclude(void=True).select_related("zone").order_by("id"))


@writes
def strike(row, user):
    """Take an estimate back: nothing is deleted, a row that says so takes its place. Raises Refused."""
    fields = ("opening", "option", "pieces", "edge_mm", "unseen", "access_h", "material", "price", "had")
    return estimate(row.job, user, zone=row.zone, strikes=row, void=True, **{k: getattr(row, k) for k in fields})


@owners_only
def decide(job, user, opening, decided, on, note=""):
    """What the owner decided about a set. Raises Refused."""
    if decided not in OwnerDecision.Decided.values:
        raise Refused(f"must be one of {', '.join(OwnerDecision.Decided.values)}", "decided")
    return OwnerDecision.objects.create(job=job, opening=opening, decided=decided, on=on, note=note[:200], who=user)


@writes
def tell_hours(user, kind, plan_h, actual_h, job=None, zone=None, note=""):
    """What a piece of work was planned at and took [h]. Raises Refused."""
    if kind not in WORK:
        raise Refused(f"must be one of {', '.join(WORK)}", "kind")
    for field, hours in (("plan_h", plan_h), ("actual_h", actual_h)):
        if not 0 < hours <= 5000:
            raise Refused("must be above 0 and at most 5000 h", field)
    return WorkHours.objects.create(
        kind=kind, plan_h=plan_h, actual_h=actual_h, job=job, zone=zone, note=note[:120], who=user
    )


def factors():
    """{kind of work: its Factor} by what this workshop told; one query."""
    told = {kind: [] for kind in WORK}
    for kind, plan_h, actual_h in WorkHours.objects.order_by("id").values_list("kind", "plan_h", "actual_h"):
        told[kind].append((plan_h, actual_h))
    return {kind: factor(pairs) for kind, pairs in told.items()}


def sets_of(job, rate):
    """[(opening, its estimates, the core's verdict, the owner's newest decision)] of a job."""
    overrun, groups = factors(), {}
    for row in held(job):
        groups.setdefault(row.opening, []).append(row)
    decisions = {d.opening: d for d in OwnerDecision.objects.filter(job=job).order_by("id")}
    found = []
    for opening, rows in groups.items():
        access = max(row.access_h for row in rows)
        verdict = judge_set([row.piece for row in rows], access, overrun, rate)
        found.append((opening, rows, verdict, decisions.get(opening)))
    return found


def cut_out(job):
    """Ids of zones that the owner decided to replace: what will be cut out is not stripped."""
    decisions = {d.opening: d.decided for d in OwnerDecision.objects.filter(job=job).order_by("id")}
    gone = [opening for opening, decided in decisions.items() if decided == OwnerDecision.Decided.REPLACE]
    return {row.zone_id for row in held(job) if row.opening in gone and row.zone_id}
