"""What if it were warmer from now on, or a coat had been begun at another hour: the same fold over other facts."""

from dataclasses import dataclass, replace

from emplastra.core.surface.events import Coated
from emplastra.core.surface.names import Runs, Status
from emplastra.core.words import kelvin_q
from emplastra.shared import asked
from emplastra.shared.times import span
from emplastra.state.facts import ZoneKept
from emplastra.state.selectors import state_of

from .acts import Spoken, act_for
from .hours import moment

LEAST_S = 60.0
"""Moments closer than this are the same [s]."""
_NAMES = (
    ("rinse", Runs.KEEP_WET, "opens_s"),
    ("dry", "dry-off", "opens_s"),
    ("primer due", "bare", "closes_s"),
    ("flash over", "flash", "opens_s"),
    ("opens", "window", "opens_s"),
    ("closes", "window", "closes_s"),
    ("sandable", "sandable", "opens_s"),
    ("cured", "cure", "opens_s"),
)


@dataclass(frozen=True)
class WhatIf:
    """Kelvin warmer from now on; a coat (entry id) begun some minutes later."""

    kelvin: float = 0.0
    coat: int = 0
    minutes: float = 0.0

    @property
    def asks(self):
        """True if it asks anything."""
        return bool(self.kelvin or (self.coat and self.minutes))

    @property
    def words(self):
        """The question in words."""
        said = []
        if self.kelvin:
            said.append(
                f"{kelvin_q(abs(self.kelvin), digits=None)} {'warmer' if self.kelvin > 0 else 'colder'} from now on"
            )
        if self.coat and self.minutes:
            said.append(f"the coat {span(self.minutes * 60)} {'later' if self.minutes > 0 else 'earlier'}")
        return " and ".join(said)

    @classmethod
    def read(cls, query):
        """From a request's query; what is no number or out of range counts as not asked."""
        coat = asked.an_id(query, "coat") or 0
        return cls(asked.a_figure(query, "kelvin", -15, 20), coat, asked.a_figure(query, "minutes", -10080, 10080))


@dataclass
class Change:
    """A moment that would move: of which zone, what, from and to in words."""

    state: object
    what: str
    was: str
    now: str


def state_if(state, what_if):
    """The state of a zone if it were so; itself if nothing asked concerns it."""
    each, facts = state.facts, state.all
    events, where = each.events, each.where
    if what_if.coat and any(e.entry == what_if.coat for e in events):
        later = what_if.minutes * 60
        events = tuple(
            replace(e, began_s=e.began_s + later, ended_s=e.ended_s + later)
            if isinstance(e, Coated) and e.entry == what_if.coat
            else e
            for e in events
        )
    if what_if.kelvin and where is not None:
        where = where.shifted(what_if.kelvin, state.surface.t_s)
    if events is each.events and where is each.where:
        return state
    supposed = state_of(replace(each, events=events, where=where, kept=ZoneKept()), facts, state.surface.t_s, Spoken)
    supposed.pots, supposed.spots = state.pots, state.spots
    supposed.act = act_for(supposed, facts)
    return supposed


def moments(state):
    """{what: moment [epoch s]} of the clocks that run on a zone."""
    surface, found = state.surface, {}
    for name, kind, end in _NAMES:
        clock = surface.window if kind == "window" else surface.clock(kind)
        if clock is not None and clock.status != Status.UNJUDGED:
            found[name] = getattr(clock, end)
    return found


def changes(before, after, facts):
    """What would move on one zone, in order."""
    was, now, found = moments(before), moments(after), []
    for name in dict.fromkeys([*was, *now]):
        a, b = was.get(name), now.get(name)
        if (
            name not in was
            or name not in now
            or (a is None) != (b is None)
            or (a is not None and abs(a - b) >= LEAST_S)
        ):
            words = [moment(x, facts) if name in of else "–" for x, of in ((a, was), (b, now))]
            found.append(Change(after, name, *words))
    return found
