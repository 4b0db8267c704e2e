"""Two colours on one piece: which goes first, where they meet, and from when the first may be taped."""

from dataclasses import dataclass, field

from emplastra.core.colour.lab import light_of_hex, luminance
from emplastra.core.piece.areas import edges_mm
from emplastra.core.product.kinds import COLOURED
from emplastra.core.surface.masks import TAPE_SPARE, Tone, line_m, order_of_tones
from emplastra.core.surface.names import StepKind


@dataclass
class Line:
    """Where two faces of different colours meet: their states, the first to be sprayed leading; how long [m]; clock:
    the window of the first toward masking (None: nothing lies on it yet).
    """

    first: object
    then: object
    line_m: float
    clock: object = None

    @property
    def tape_m(self):
        """Fine-line tape for it [m]."""
        return self.line_m * TAPE_SPARE


@dataclass
class TwoTone:
    """The colours of a job in order [(Tone, why)], and the lines between them."""

    order: list = field(default_factory=list)
    lines: list = field(default_factory=list)


def _sheet(state):
    """The sheet of the colour that a face has or takes; None without one."""
    on = [layer.sheet for layer in state.surface.layers if layer.sheet and layer.sheet.kind in COLOURED]
    steps = [s for s in state.facts.steps if s.kind in {StepKind.BASE, StepKind.MID, StepKind.SINGLE_STAGE}]
    planned = [sheet for s in steps if not s.left_out and (sheet := state.all.sheets.get(s.product))]
    return (on or planned or [None])[-1]


def two_tone_of(book, job):
    """The TwoTone of a job; empty where it has one colour."""
    states = [s for s in book.states([z.pk for z in book.zones_of(job)]) if s.facts.revision and _sheet(s)]
    by_colour = {}
    for state in states:
        by_colour.setdefault(_sheet(state).product, []).append(state)
    if len(by_colour) < 2:
        return TwoTone()
    tones = [_tone(name, mine) for name, mine in by_colour.items()]
    order = order_of_tones(tones)
    turn = {tone.name: n for n, (tone, _) in enumerate(order)}
    return TwoTone(order, list(_lines(states, turn)))


def _tone(name, states):
    sheet = _sheet(states[0])
    area = sum(s.facts.area_m2 for s in states)
    return Tone(name, area, bool(sheet.bleeding), luminance(light_of_hex(sheet.colour)))


def _lines(states, turn):
    """Lines between faces that touch on the map and have different colours."""
    placed = [s for s in states if hasattr(s.zone, "map_place")]
    for i, one in enumerate(placed):
        for other in placed[i + 1 :]:
            mine, theirs = one.zone.map_place.cells, other.zone.map_place.cells
            if _sheet(one).product == _sheet(other).product or not mine.touches(theirs):
                continue
            first, then = sorted((one, other), key=lambda s: turn[_sheet(s).product])
            edge_m = edges_mm(first.facts.revision.shapes) / 1000.0
            clock = first.surface.clock("mask") if first.surface.layers else None
            yield Line(first, then, line_m(first.zone.map_place.cells, then.zone.map_place.cells, edge_m), clock)
