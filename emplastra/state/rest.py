"""Where the rest of a pot may go: faces that want the same next, and how much they take until their film is full."""

from dataclasses import dataclass

from emplastra.core.surface.names import Status

from .needs import next_paint


@dataclass(frozen=True)
class Room:
    """A face that can take the rest of a pot: its state, how much a coat as planned takes and how much until its film
    is as thick as its sheet lets it be [mL; None: no limit is told], that film [µm], and whether the coat is due.
    """

    state: object
    planned_ml: float
    most_ml: float | None
    most_um: float | None
    is_due: bool

    @property
    def zone(self):
        """The face."""
        return self.state.zone


def rooms_for(pot, book, zones):
    """[Room] for a pot (PotView) on these zones, those whose coat is due first, then by how much they take."""
    states = [book.state(zone) for zone in zones if zone.pk in book.facts.zones]
    found = [room for state in states if (room := _room(pot, state, book.facts.sheets)) is not None]
    return sorted(found, key=lambda room: (not room.is_due, -(room.most_ml or room.planned_ml)))


def _room(pot, state, sheets):
    """What a face (its ZoneState) takes of a pot, None if it wants something else next or nobody can say."""
    layer = state.plan.next_layer
    if layer is None or layer.step.product != pot.sheet.product or not layer.step.dft_um:
        return None
    paint = next_paint(state, sheets)
    if paint is None:
        return None
    limit = pot.sheet.film.max_um if pot.sheet.film else None
    most = paint.one.on_face_ml * limit / layer.step.dft_um if limit else None
    due = state.clock is None or state.clock.status in {Status.OPEN, Status.CLOSING, Status.BARE}
    return Room(state, paint.one.on_face_ml, most, limit, due)


def left_in(pot, entries):
    """What is still in a pot by what its coats are told to have used [mL]; None where nobody told."""
    used = [entry.coat.used_ml for entry in entries]
    held = pot.held_ml
    return None if held is None or not used or None in used else max(0.0, held - sum(used))
