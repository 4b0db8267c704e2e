"""What lies beside a zone: faces of its panel, of one act of access, that touch it on the map, or share its place."""

from dataclasses import replace
from functools import cached_property

from emplastra.core.metal.access import neighbours
from emplastra.core.product.kinds import ProductKind
from emplastra.core.rules.face import Beside
from emplastra.core.surface import events
from emplastra.core.surface.clocks import Setting, with_clocks
from emplastra.core.surface.masks import open_to
from emplastra.core.surface.names import Runs, Status

from .known import standing
from .selectors import plan_at

TACKY_AT_MOST_S = 48 * 3600.0
"""After so long no film is looked at for dust [s]. Common practice, no source."""
HOLDS = frozenset({"open", "explained"})
"""Findings that stand like this hold a coat; one whose step is done is looked at again, and holds none."""
INSIDE = frozenset({"open", "covered"})
"""Finish classes of what is seen only when it is open."""


class Neighbours:
    """Neighbours of zones ({id: ZoneFacts}); chains: what is told of each; plans: gives {job id: acts of access}."""

    def __init__(self, each, chains, plans):
        self.each, self.chains, self._plans = each, chains, plans
        self._seen, self._fresh_at = {}, {}

    def near(self, zone):
        """ZoneFacts of the faces of a zone's panel, of those that share an act of access with it, and that touch it on
        the map.
        """
        return self._each(zone, self._behind(zone) | self._touching(zone))

    def _each(self, zone, ids):
        return [self.each[pk] for pk in sorted(ids - {zone.pk}) if pk in self.each]

    def _behind(self, zone):
        """Ids of the faces of its panel, and of those that share an act of access: heat goes through to them."""
        ids = set(self._panels[zone.job_id, _panel_of(zone)] if _panel_of(zone) else ())
        return ids | {int(face) for face in neighbours(self._plans().get(zone.job_id, ()), {str(zone.pk)})}

    def beside(self, zone, t_s):
        """The core's Beside of its neighbours at a moment [epoch s], and of what else stands in its place under film
        that may be tacky.
        """
        behind, here = self._behind(zone), self.each[zone.pk].place
        near = self._each(zone, behind | self._touching(zone))
        ids = {each.zone.pk for each in near} | {zone.pk}
        far = [self.seen(each, t_s, here) for each in self._fresh(here, t_s) if each.zone.pk not in ids]
        seen = [(each.zone.pk in behind, self.seen(each, t_s, here)) for each in near]
        return (
            *(one if is_behind or not one.waxed else replace(one, waxed=False) for is_behind, one in seen),
            *(replace(one, near=False, waxed=False) for one in far if one.tacky_s is not None),
        )

    def _fresh(self, here, t_s):
        """ZoneFacts of what stands in a place under film that may be tacky."""
        if t_s not in self._fresh_at:
            found = self._fresh_at[t_s] = {}
            for each in self.each.values():
                if _is_fresh(each, t_s):
                    found.setdefault(each.place, []).append(each)
        return self._fresh_at[t_s].get(here, ())

    def seen(self, each, t_s, here):
        """One neighbour (ZoneFacts); here: the place from which overspray and dust come. Kept: many rows ask for it."""
        key = each.zone.pk, t_s, here
        if key not in self._seen:
            self._seen[key] = self._look(each, t_s, here)
        return self._seen[key]

    def _look(self, each, t_s, here):
        surface, plan, is_here = each.built(t_s), plan_at(each, t_s), each.place == here
        layer = plan.next_layer.step if plan.next_layer else None
        covers = [mask.cover for mask in surface.masks if mask.whole]
        return Beside(
            each.zone.name,
            self._is_waxed(each, surface),
            _tacky_s(each, surface) if is_here else None,
            open=_open(each, surface, plan) if is_here else None,
            masked=covers[-1] if covers else "",
            next=(layer.kind, layer.product) if layer else ("", ""),
            inside=each.revision is not None and each.revision.finish_class in INSIDE,
        )

    def _is_waxed(self, each, surface):
        told = standing(each, *self.chains[each.zone.pk]).get(("wax", ""))
        smears = told is not None and told.answer.choice == "smears" and told.status in HOLDS
        return smears or any(x.sheet and x.sheet.kind == ProductKind.CAVITY_WAX for x in surface.layers)

    @cached_property
    def _panels(self):
        """{(job id, panel): ids of its faces}."""
        found = {}
        for each in self.each.values():
            found.setdefault((each.zone.job_id, _panel_of(each.zone)), []).append(each.zone.pk)
        return found

    @cached_property
    def _cells(self):
        """{(job id, view): [(zone id, Cells)]} of the map."""
        found = {}
        for each in self.each.values():
            if hasattr(each.zone, "map_place"):
                cells = each.zone.map_place.cells
                found.setdefault((each.zone.job_id, cells.view), []).append((each.zone.pk, cells))
        return found

    def _touching(self, zone):
        """Ids of the zones that lie beside a zone on the map."""
        if not hasattr(zone, "map_place"):
            return set()
        mine = zone.map_place.cells
        return {pk for pk, cells in self._cells.get((zone.job_id, mine.view), ()) if mine.touches(cells)}


def _is_fresh(each, t_s):
    since_s = t_s - TACKY_AT_MOST_S
    return any(isinstance(e, events.Coated) and since_s <= e.ended_s <= t_s for e in each.events)


def _tacky_s(each, surface):
    """Until when film on a zone (ZoneFacts) takes up dust [epoch s], None if it does not."""
    if each.where is None or each.revision is None or not surface.layers:
        return None
    clock = with_clocks(surface, Setting(each.revision.substrate, each.where, None)).clock(Runs.DUST_FREE)
    return clock.opens_s if clock is not None and clock.status == Status.WAITING else None


def _open(each, surface, plan):
    """What overspray would spoil on a zone (ZoneFacts) that lies so, with its plan's progress; None for nothing."""
    if each.revision is None or surface.away_s is not None or surface.closed_s is not None:
        return None
    kind = plan.next.step.kind if plan.next else ""
    return open_to(surface, each.revision.end_state, kind, plan.next_layer is not None)


def _panel_of(zone):
    """The panel that a zone is a face of, as told, else as it is named after: "Door, left, outer" of "Door, left"."""
    return (zone.panel or zone.name.rpartition(",")[0]).strip().lower()
