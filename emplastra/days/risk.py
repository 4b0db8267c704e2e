"""How sure a plan is, in words: how often its windows and promises are kept, what carries the risk, what would help."""

from dataclasses import dataclass, field


@dataclass
class JobRisk:
    """A job's ready range [epoch s], how often its promise is kept, and with a day more, in words ("": none)."""

    job: object
    early_s: float
    late_s: float
    kept: str = ""
    slack: str = ""


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


def risk_said(shown):
    """RiskSaid of a plan as it is shown, None where it was not replayed."""
    told = shown.says.get("risk")
    if not told:
        return None
    rows = {row["id"]: row for row in shown.acts}
    acts = sorted(((rows[a], share) for a, share in told["missed"].items() if a in rows), key=lambda r: -r[1])
    sentence = f"Every window is kept {often(told['all_kept'])}"
    if acts:
        row, share = acts[0]
        sentence += f"; {row['face']}, {row['name'].lower()} carries most of the risk, missed {often(share)}"
    found = RiskSaid(told["count"], f"{sentence}.", [], acts[:5], "", told["proven"])
    found.jobs = [_job(end, told) for end in shown.jobs if end.key in told["ends"]]
    if told["heater"] and told["heater"][1] - told["all_kept"] >= WORTH:
        place, share = told["heater"]
        found.heater = f"With {place} 5 K warmer, electric or flued, every window is kept {often(share)}."
    return found


def _job(end, told):
    """The JobRisk of a job."""
    early, _, late = told["ends"][end.key]
    kept, slack = told["kept"].get(end.key), told["slack"].get(end.key)
    if kept is None:
        return JobRisk(end.job, early, late)
    more = f"with a day more {often(slack)}" if slack - kept >= WORTH else ""
    return JobRisk(end.job, early, late, f"kept {often(kept)}", more)
