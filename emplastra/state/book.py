"""All zones in view with one load: every state a page asks for comes from here."""

from dataclasses import replace
from functools import cached_property

from emplastra.core.surface.steps import STAGES

from .facts import load
from .pots import each_once, live_pots
from .selectors import ZoneState, open_zones, plan_at, state_of

FEW = 2
"""Zones of which the pots alone are read."""


class Book:
    """States of the open zones, and of the zone in view, each worked out once."""

    state_class = ZoneState

    def __init__(self, extra=None, known_at=None, more=()):
        zones = {zone.pk: zone for zone in open_zones()}
        for zone in (*([extra] if extra is not None else []), *more):
            zones.setdefault(zone.pk, zone)
        self.open_ids = {pk for pk, zone in zones.items() if zone.job.filing == "open"}
        self.facts = load(zones.values(), known_at)
        self._states = {}

    def states(self, ids=None):
        """States of these zones (None: all open), with their pots and spots."""
        ids = list(self.open_ids if ids is None else ids)
        wanted = set(ids)
        spots = [pk for pk, each in self.facts.zones.items() if each.zone.parent_id in wanted and pk not in wanted]
        fresh = [pk for pk in [*ids, *spots] if pk not in self._states]
        t_s = self.facts.now.timestamp()
        made = [state_of(self.facts.zones[pk], self.facts, t_s, self.state_class) for pk in fresh]
        self._complete(made)
        self._states.update({state.zone.pk: state for state in made})
        return [self._states[pk] for pk in ids]

    def _complete(self, made):
        """Give states their pots and their spots."""
        pots, spots = self._pots_of([state.zone.pk for state in made]), {}
        for state in made:
            if state.zone.parent_id is not None:
                spots.setdefault(state.zone.parent_id, []).append(state)
        for state in sorted(made, key=lambda s: s.zone.parent_id is None):
            state.pots, state.spots = pots.get(state.zone.pk, []), spots.get(state.zone.pk, [])
            if state.spots:
                state.surface = replace(state.surface, spots=tuple(s.surface for s in state.spots))

    def zones_of(self, job):
        """Zones of a job that are in use, in the order in which they were made."""
        zones = (each.zone for each in self.facts.zones.values())
        return sorted((z for z in zones if z.job_id == job.pk and z.is_in_use), key=lambda zone: zone.pk)

    def state(self, zone):
        """State of one zone."""
        return self.states([zone.pk])[0]

    def _pots_of(self, ids):
        """{zone id: PotViews that have not ended} of these zones: of a row or two (the band's) no others are read."""
        if "_live_pots" in self.__dict__ or len(ids) > FEW:
            return self._live_pots
        return live_pots(ids, self.facts) if ids else {}

    @cached_property
    def _live_pots(self):
        """{zone id: PotViews that have not ended} of all zones of this book."""
        return live_pots(list(self.facts.zones), self.facts)

    def pots(self):
        """Pots of the open zones that have not ended, each once."""
        return each_once({pk: pots for pk, pots in self._live_pots.items() if pk in self.open_ids})

    def stages(self):
        """[(stage, how many open zones stand in it)] in the order of the route."""
        counts = dict.fromkeys(STAGES, 0)
        for pk in self.open_ids:
            counts[self.stage_of(self.facts.zones[pk])] += 1
        return list(counts.items())

    def stage_of(self, each):
        """Stage at which a zone (its facts) stands; one without a plan waits for its survey, unless it stays as
        found.
        """
        if each.revision is not None and each.revision.end_state == "as-found":
            return "Record"
        return plan_at(each, self.facts.now.timestamp()).stage if each.steps else "Survey"
