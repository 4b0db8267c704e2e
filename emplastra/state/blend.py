"""Blending a colour group into sound paint beside it: which panels, where to stop, what each stop takes."""

from dataclasses import dataclass, field
from functools import cached_property

from emplastra.core.colour.card import LIMIT
from emplastra.core.colour.lab import difference
from emplastra.core.piece.areas import SHAPES
from emplastra.core.surface.blend import Panel, best, stops
from emplastra.core.surface.names import COLOUR

SOUND = frozenset({"old film"})
"""Substrates that are sound paint of somebody else."""


@dataclass
class Pair:
    """A face of a group and a panel of sound paint beside it: the row, the panel's state, what was told of it."""

    row: object
    state: object
    off: float | None = None
    broken_mm: float | None = None
    limit: float = LIMIT
    found: list = field(default_factory=list)

    @property
    def zone(self):
        """The panel."""
        return self.state.zone

    @cached_property
    def panel(self):
        """The core's Panel, None without measures."""
        revision = self.state.facts.revision
        width = width_mm(revision.shapes) if revision else None
        place = getattr(self.zone, "map_place", None)
        if width is None:
            return None
        return Panel(width, self.state.facts.area_m2, place.view if place else "left", self.broken_mm)

    @cached_property
    def stops(self):
        """Ways to stop, the cheapest first; [] while the difference or the panel's size is not told."""
        return stops(self.off, self.panel, self.limit) if self.off is not None and self.panel is not None else []

    @property
    def best(self):
        """The stop that is advised, None where none can be."""
        return best(self.stops)

    @property
    def layers(self):
        """Steps of colour and clear of the face that it is to match."""
        return [s for s in self.row.state.facts.steps if s.kind in COLOUR and not s.left_out]

    @property
    def has_begun(self):
        """True once something was put on the panel by its plan."""
        return any(s.coats_done or s.share for s in self.state.plan.states if s.step.kind in COLOUR)


def width_mm(shapes):
    """How far a panel reaches away from its joint [mm]: the shorter side of its largest sheet, else of a square of its
    area; None without shapes.
    """
    flats = [s for s in shapes if s["kind"] == "flat" and not s.get("less")]
    if flats:
        largest = max(flats, key=lambda s: SHAPES["flat"].area_mm2(s["dims"]))
        return min(largest["dims"]["length"], largest["dims"]["width"])
    area = sum(SHAPES[s["kind"]].area_mm2(s["dims"]) * s.get("count", 1) for s in shapes if not s.get("less"))
    return area**0.5 if area > 0 else None


def pairs_of(book, group, told):
    """[Pair] of a group; told: {zone id: (difference or None, where a crease runs [mm] or None)}."""
    mine, found = {row.zone.pk for row in group.rows}, {}
    for row in group.faces:
        for other in book.rulings.neighbours.near(row.zone):
            sound = other.revision is not None and other.revision.substrate in SOUND
            if sound and other.zone.pk not in mine and other.zone.pk not in found:
                off, broken = told.get(other.zone.pk, (None, None))
                found[other.zone.pk] = Pair(row, book.state(other.zone), off, broken, group.limit or LIMIT)
    return list(found.values())


def off_by(group, lab):
    """How far a measured colour is from the number that was chosen, None where there is no card to hold it to."""
    if group.card is None or not group.chosen:
        return None
    return difference(group.card.card.lab_at(group.chosen), lab)
