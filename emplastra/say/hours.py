"""Hours as Bench says them."""

from emplastra.shared import times


def moment(t_s, facts):
    """An hour in the workshop, seen from its now: 14:50, tomorrow 09:10; t_s [epoch s], None: not within 30 days."""
    return "not within 30 days" if t_s is None else times.moment(t_s, facts.workshop.zone, facts.now)
