"""Work that the log shows to be finished, with what it was planned at: to be counted by one tap."""

from dataclasses import dataclass

from emplastra.core.gauge.readings import READING_MIN, SET_MIN
from emplastra.core.level.filling import fill
from emplastra.core.metal.hours import hours_by
from emplastra.core.metal.repair import OPTIONS, WORK
from emplastra.core.metal.solder import run_in_min
from emplastra.core.metal.strip import KEY_MIN, WAYS, hours_of
from emplastra.core.surface.events import Bared, Keyed
from emplastra.core.surface.patches import FULL
from emplastra.core.words import area_q
from emplastra.jobs.models import Estimate, OwnerDecision, SolderMoved, WorkHours
from emplastra.logbook.models import EntryZone, Kind, holds
from emplastra.state.heat import heat_of
from emplastra.state.known import known
from emplastra.state.level import level_of
from emplastra.state.ruling import metal_of
from emplastra.state.stints import stints_of

MEASURED = (Kind.LEVELLED, Kind.HEATED, Kind.GAUGED)
SHORTEST_H = 0.05
"""Less than this was not timed [h]."""


@dataclass
class Finished:
    """Work that is finished on a zone: planned [h], as the log tells it [h], and what the plan rests on."""

    zone: object
    kind: str
    plan_h: float
    log_h: float
    why: str

    @property
    def name(self):
        """The kind of work in words."""
        return WORK[self.kind]


def finished(states):
    """[Finished] of zones (their states) that nobody has counted yet."""
    hours = hours_by(stints_of(states))
    zones = [s.zone for s in states]
    counted = set(WorkHours.objects.filter(zone__in=zones).values_list("zone_id", "kind"))
    told, estimates = known(zones, {s.zone.pk: s.facts for s in states}), _estimates(states)
    measured = EntryZone.objects.filter(holds(None, "entry__"), zone__in=zones, entry__kind__in=MEASURED)
    rows, by = measured.values_list("zone_id", "entry__kind", "entry__gauged__count"), {}
    for pk, kind, count in rows:
        by.setdefault(pk, {}).setdefault(kind, []).append(count or 0)
    solder = {}
    for row in SolderMoved.objects.filter(zone__in=zones, way=SolderMoved.Way.IN):
        solder[row.zone_id] = solder.get(row.zone_id, 0.0) + run_in_min(row.mass_g, row.alloy)
    found = []
    for state in states:
        planned = list(_planned(state, told[state.zone.pk], estimates.get(state.zone.pk, [])))
        planned += _measured(state, by.get(state.zone.pk, {}))
        minutes = solder.get(state.zone.pk, 0.0)
        planned += [("solder", minutes / 60, "what was run in, by its mass")] if minutes else []
        for kind, plan_h, why in planned:
            took = hours.get((state.zone.pk, kind), 0.0)
            if plan_h > 0 and took >= SHORTEST_H and (state.zone.pk, kind) not in counted:
                found.append(Finished(state.zone, kind, plan_h, took, why))
    return found


def _estimates(states):
    """{zone id: its estimates on the side of repair that hold and were not decided against}."""
    jobs = {s.zone.job_id for s in states}
    decided = {(d.job_id, d.opening): d.decided for d in OwnerDecision.objects.filter(job__in=jobs).order_by("id")}
    found = {}
    rows = Estimate.objects.filter(job__in=jobs, strikes=None, zone__isnull=False).exclude(void=True)
    for row in rows.order_by("id"):
        against = decided.get((row.job_id, row.opening)) in {"replace", "leave"}
        if OPTIONS[row.option].side == "repair" and not against:
            found.setdefault(row.zone_id, []).append(row)
    return found


def _planned(state, told, estimates):
    """(kind, planned hours before any overrun, what they rest on) of work that is finished on a zone."""
    done = {s.step.kind for s in state.plan.states if s.done and not s.step.left_out}
    if state.facts.revision is None:
        return
    metal, area = metal_of(state, told), state.facts.area_m2
    by = next((e.how for e in reversed(state.facts.events) if isinstance(e, Bared)), "")
    if metal.stripped and by in WAYS:
        yield "strip", hours_of(by, metal, area).strip, f"{WAYS[by].name.lower()}, {area_q(area)}"
    if _keyed_share(state) >= FULL:
        yield "key", area * KEY_MIN / 60, f"{KEY_MIN:.0f} min/m², {area_q(area)}"
    if estimates and done & {"repair", "weld"} and not _left(state, {"repair", "weld"}):
        plan_h = sum(row.piece.plan_h for row in estimates)
        yield "repair", plan_h, f"{len(estimates)} estimate{'s' if len(estimates) > 1 else ''} of its pieces and edges"
    if estimates and state.surface.closed_s is not None:
        yield "access", max(row.access_h for row in estimates), "the estimate of its opening"


def _measured(state, kinds):
    """The same of what was levelled, warmed and gauged; kinds: {kind of entry: readings of each}."""
    if Kind.LEVELLED in kinds:
        yield from _filled(level_of(state))
    if Kind.HEATED in kinds and (found := heat_of(state, None)) is not None:
        yield "heat", found.planned_min / 60, "its schedules with flash and warming up"
    if counts := kinds.get(Kind.GAUGED):
        plan_h = (SET_MIN * len(counts) + READING_MIN * sum(counts)) / 60
        yield "film", plan_h, f"{sum(counts)} reading{'s' if sum(counts) > 1 else ''}, a gauge set"


def _filled(level):
    """The same of filling a face that was measured and is flat: what its lows were to take when they were marked."""
    if level.is_flat and level.marked:
        plan_h = sum(fill(low, level.paste).work_min for low in level.marked) / 60
        yield "fill", plan_h, f"{len(level.marked)} low{'s' if len(level.marked) > 1 else ''} as marked"


def _keyed_share(state):
    """Share of the metal that was keyed before its first coat."""
    first = min((layer.began_s for layer in state.surface.layers), default=state.surface.t_s)
    keyed = [e.share for e in state.facts.events if isinstance(e, Keyed) and e.ended_s <= first]
    return min(1.0, sum(keyed))


def _left(state, kinds):
    """True if a step of these kinds is still to be done."""
    return any(s.step.kind in kinds and not s.done for s in state.plan.states)
