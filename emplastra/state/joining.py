"""Whether two zones may become one."""

from emplastra.core.surface.names import Status

RUNNING = {Status.KEEP_WET, Status.CLOSING, Status.BARE, Status.OPEN, Status.WAITING, Status.MISSED}


def why_not(first, second):
    """Why two zones (their states) may not be joined, "" if they may: equal stacks, and no clock that runs."""
    for state in (first, second):
        if state.zone.parent_id or state.facts.zone.spots.filter(removed=False, retired="").exists():
            return f"{state.zone} has a spot, or is one: close that first"
        if state.surface.away_s is not None:
            return f"{state.zone} is away"
        lead = state.surface.own_lead
        if lead is not None and lead.status in RUNNING and lead.closes_s is not None:
            return f"on {state.zone} a clock runs ({lead.kind}): wait until it has ended, or log what it waits for"
    one, other = (_stack(state.surface) for state in (first, second))
    if one != other:
        return f"their stacks differ: {_said(one)} on {first.zone}, {_said(other)} on {second.zone}"
    return ""


def _stack(surface):
    layers = tuple((layer.product, round(layer.share, 3)) for layer in surface.layers)
    return layers, bool(surface.bare)


def _said(stack):
    layers, bare = stack
    return ", then ".join(name for name, _ in layers) or ("bare metal" if bare else "nothing logged")
