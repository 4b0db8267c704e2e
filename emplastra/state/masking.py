"""What of a job is sprayed next, what is open to it, what covers it, and which masks are on."""

from dataclasses import dataclass, field
from functools import cached_property

from emplastra.core.product.film import METHODS
from emplastra.core.rules.face import Beside
from emplastra.core.surface.masks import COVERS, amount, cover_for, masks_on
from emplastra.core.surface.names import Runs
from emplastra.core.surface.steps import STAGES, STEPS

from .beside import INSIDE


@dataclass
class Near:
    """A neighbour of what is sprayed: its ZoneFacts, how it lies there, what covering it takes (an Amount)."""

    each: object
    seen: Beside
    cover: str
    takes: object
    is_open: bool

    @property
    def with_what(self):
        """What it is masked with, in words."""
        return COVERS[self.seen.masked or self.cover].name


@dataclass
class Sprayed:
    """A face whose next layer flies: its state, the step, its neighbours."""

    state: object
    step: object
    near: list = field(default_factory=list)

    @property
    def zone(self):
        """The zone."""
        return self.state.zone

    @property
    def stage(self):
        """The stage of the route."""
        return STEPS[self.step.kind].stage

    @property
    def opened(self):
        """Neighbours that it would land on."""
        return [n for n in self.near if n.is_open]

    @property
    def covered(self):
        """Neighbours that are masked."""
        return [n for n in self.near if n.seen.masked]

    @property
    def beside(self):
        """Neighbours that something has to be said of."""
        return [n for n in self.near if n.is_open or n.seen.masked]

    @property
    def is_inside(self):
        """True for what is seen only when open: it goes before the outside."""
        return self.state.facts.revision.finish_class in INSIDE


@dataclass
class Masking:
    """The faces of a job that are sprayed next, by stage, inside before outside; and the masks that are on."""

    sprayed: list
    states: list

    @cached_property
    def stages(self):
        """[(stage, what covers there, [Sprayed])] in the order of the route."""
        found = {}
        for one in self.sprayed:
            found.setdefault(one.stage, []).append(one)
        return [
            (stage, COVERS[cover_for(rows[0].step.kind)], rows) for stage, rows in sorted(found.items(), key=_order)
        ]

    @cached_property
    def opened(self):
        """{zone id: Near} of all that is open to something, each once: the most careful cover."""
        found = {}
        for one in self.sprayed:
            for near in one.opened:
                if near.each.zone.pk not in found or not COVERS[near.cover].dusty:
                    found[near.each.zone.pk] = near
        return found

    @property
    def takes(self):
        """[(what, m2)] and tape [m] that covering all that is open takes."""
        areas = {}
        for near in self.opened.values():
            areas[near.cover] = areas.get(near.cover, 0.0) + near.takes.cover_m2
        return [(COVERS[key].name.lower(), m2) for key, m2 in sorted(areas.items()) if m2]

    @property
    def tape_m(self):
        """Tape for all that is open [m]."""
        return sum(near.takes.tape_m for near in self.opened.values())

    @cached_property
    def on(self):
        """[(state, its masks, the clock of the tape)] of what is masked, the tape that is spent first leading."""
        found = [(s, masks_on(s.surface), s.surface.clock(Runs.TAPE)) for s in self.states if s.surface.masks]
        return sorted(found, key=lambda row: row[2].closes_s if row[2] else float("inf"))


def _order(row):
    return STAGES.index(row[0])


def masking_of(book, job):
    """The Masking of a job; book: with its zones."""
    states = book.states([zone.pk for zone in book.zones_of(job)])
    sprayed = [one for state in states if (one := _sprayed(state, book.rulings.neighbours)) is not None]
    sprayed.sort(key=lambda one: (STAGES.index(one.stage), not one.is_inside, one.zone.pk))
    return Masking(sprayed, states)


def _sprayed(state, neighbours):
    """The Sprayed of a zone's state, None where its next layer does not fly, or it cannot be coated now."""
    layer, each = state.plan.next_layer, state.facts
    if layer is None or each.revision is None or not each.is_free(state.surface.t_s):
        return None
    step, method = layer.step, METHODS.get(layer.step.method)
    if method is None or not method.is_sprayed or any(mask.whole for mask in state.surface.masks):
        return None
    found, t_s = Sprayed(state, step), state.surface.t_s
    for other in neighbours.near(state.zone):
        if other.revision is None:
            continue
        seen, cover = neighbours.seen(other, t_s, each.place), cover_for(step.kind)
        is_open = seen.open is not None and not seen.masked and seen.next != (step.kind, step.product)
        takes = amount(other.revision.shapes, other.area_m2, step.method, cover)
        found.near.append(Near(other, seen, cover, takes, is_open))
    return found
