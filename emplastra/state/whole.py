"""Everything that is folded from the facts of a workshop, to be held against the same of a copy of it."""

import hashlib
from dataclasses import dataclass

from emplastra.climate import live
from emplastra.core.surface.names import Runs
from emplastra.jobs.models import Zone
from emplastra.store.models import Tin

from . import facts, known
from .facts import load
from .selectors import state_of
from .tins import tin_views


@dataclass(frozen=True)
class Folded:
    """What is folded of one face or tin: its name, and {part of its state: what it came to, as a digest}."""

    name: str
    parts: dict[str, str]

    def differs_in(self, other):
        """The parts in which another comes out otherwise."""
        return [part for part, value in self.parts.items() if other is None or other.parts.get(part) != value]


def faces(at):
    """{zone id: Folded} of every face as it stands, and was known, at a moment (aware)."""
    found = load(Zone.objects.all().order_by("id"), known_at=at, whole=True, now=at)
    return {pk: _face(each, found, at.timestamp()) for pk, each in found.zones.items()}


def _face(each, found, t_s):
    state = state_of(each, found, t_s)
    surface = state.surface
    return Folded(
        f"{each.zone.job_id}: {each.zone.name}",
        {
            "what was logged": _digest(each.events),
            "layers and metal": _digest(surface, surface.layers),
            "clocks": _digest([(kind.value, surface.clock(kind)) for kind in Runs]),
            "plan": _digest(state.plan, state.lead_s),
            "place and air": _digest(each.moves, each.place and each.place.name, state.now),
        },
    )


def tins(workshop):
    """{tin id: Folded} of every tin as it is now."""
    views = tin_views(Tin.objects.order_by("id"), workshop)
    return {
        v.tin.pk: Folded(str(v.tin), {"what it holds": _digest(v.size, v.price, v.left, v.kept, v.opened, v.last)})
        for v in views
    }


def forget():
    """Drop what is kept in memory of a workshop: another database has other rows under the same numbers."""
    live.forget()
    facts.forget()
    known.forget()


def _digest(*values):
    """What values say of themselves, in short; equal values say the same."""
    return hashlib.sha256(repr(values).encode()).hexdigest()[:16]
