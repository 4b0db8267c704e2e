"""How sure a plan is, in words: how often its windows and promises are kept, what carries the risk, what would help."""

from dataclasses import dataclass, field

from emplastra.core.words import kelvin_q
from emplastra.state.risk import HEAT_K


@dataclass
class JobRisk:
    """A job's ready range [epoch s], how often its promise is kept, and with a day more, in words ("": none)."""

    job: object
    early_s: float
    late_s: float
    kept: str = ""
    slack: str = ""
    before: list = field(default_factory=list)
    """[(when a plan was taken, from, to [epoch s])] of what was said before."""


@dataclass
class RiskSaid:
    """A plan's risk as a page shows it: first sentence, jobs, [(act's row, how often its window is missed)], what a
    heater would do.
    """

    count: int
    sentence: str
    jobs: list = field(default_factory=list)
    acts: list = field(default_factory=list)
    heater: str = ""
    proven: bool = False


WORTH = 0.02
"""What changes by less is not worth a word."""


def often(share):
    """A share of draws in words: nearly always, 7 of 10, 1 of 50, hardly ever."""
    if share >= 0.995:
        return "always"
    if share >= 0.95:
        return "in 19 of 20 draws"
    if share >= 0.05:
        return f"in {round(10 * share) or 1} of 10 draws" if share >= 0.095 else "in 1 of 20 draws"
    return "hardly ever"


def risk_said(shown, plans):
    """RiskSaid of a plan as it is shown, None where it was not replayed; plans: those that were taken before it."""
    told = shown.says.get("risk")
    if not told:
        return None
    rows = {row["id"]: row for row in shown.acts}
    acts = sorted(((rows[a], share) for a, share in told["missed"].items() if a in rows), key=lambda r: -r[1])
    jobs = [_job(end, told, plans) for end in shown.jobs if end.key in told["ends"]]
    return RiskSaid(told["count"], _sentence(told, acts), jobs, acts[:5], _heater(told), told["proven"])


def _sentence(told, acts):
    """What is said first."""
    said = f"Every window is kept {often(told['all_kept'])}"
    if acts:
        row, share = acts[0]
        said += f"; {row['face']}, {row['name'].lower()} carries most of the risk, missed {often(share)}"
    return f"{said}."


def _heater(told):
    """What a heater would do, "" where it would do nothing."""
    if not told["heater"] or told["heater"][1] - told["all_kept"] < WORTH:
        return ""
    place, share = told["heater"]
    warmer = kelvin_q(HEAT_K, digits=0)
    return f"With {place} {warmer} warmer, electric or flued, every window is kept {often(share)}."


def _said_before(plan, key):
    """(when a plan was taken, the range in which a job was to be ready [epoch s]), None where it said nothing of it."""
    ends = (plan.says.get("risk") or {}).get("ends", {}).get(key)
    return (plan.recorded, ends[0], ends[2]) if ends else None


def _job(end, told, plans):
    """The JobRisk of a job."""
    early, _, late = told["ends"][end.key]
    before = [said for plan in plans if (said := _said_before(plan, end.key))]
    kept, slack = told["kept"].get(end.key), told["slack"].get(end.key)
    if kept is None:
        return JobRisk(end.job, early, late, before=before)
    more = f"with a day more {often(slack)}" if slack - kept >= WORTH else ""
    return JobRisk(end.job, early, late, f"kept {often(kept)}", more, before)
