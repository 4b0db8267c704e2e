"""Level of a face: what was measured, what stands low and proud, what is done next."""

from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import count

from emplastra.core.level import blocks, filling
from emplastra.core.level.depths import FLAT_MM, STRAIGHTEDGES_MM, Depth, Mark, letter_of, relief_of, waviness_mm
from emplastra.core.piece.face_grid import grid_of
from emplastra.core.product.kinds import FILLERS
from emplastra.core.surface.events import Coated, Keyed
from emplastra.core.surface.names import StepKind
from emplastra.core.survey.findings import STILL_OPEN
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.selectors import sheet_for

from .known import known
from .needs import temp_for

FIRST = ("found", "highs")
"""Measured before anything was filled."""


@dataclass
class Measuring:
    """One measuring: its entry, and the face between its places."""

    entry: object
    relief: object

    @property
    def row(self):
        """As it was logged."""
        return self.entry.levelled

    @property
    def extremes_mm(self):
        """(the lowest, the highest) [mm]."""
        mm = [point[0] for point in self.row.points]
        return min(mm), max(mm)


@dataclass
class Level:
    """A face (its ZoneFacts) as it was levelled; told: {(topic, mark): (Answer, status)} of its survey."""

    each: object
    measured: list
    paste: object
    flat_mm: float
    told: dict = field(default_factory=dict)
    rows: list = field(default_factory=list)

    @cached_property
    def marks(self):
        """What was last marked and not measured before anything was filled."""
        told = [row for row in self.rows if row.after in FIRST and row.marked]
        return tuple(Mark(*mark) for mark in told[-1].marked) if told else ()

    @property
    def mark_shows(self):
        """{letter of such a low: whether its mark shows}, as somebody saw it last; {} before filler."""
        last = self.rows[-1]
        if last.after in FIRST:
            return {}
        seen = _letters(last.shows)
        return {mark.name: mark.name in seen for mark in self.marks if not mark.high}

    @property
    def marks_say(self):
        """What is done next by those marks, "" without any."""
        filled = bool(self.rows) and self.rows[-1].after not in FIRST
        seen = [name for name, shows in self.mark_shows.items() if shows] if filled else []
        return blocks.next_of(self.marks, filled, seen) if self.marks else ""

    @property
    def stair(self):
        """Rounds (core Round) as measured beside what the lows were to take when they were marked."""
        told = [(m.row.after, *m.extremes_mm) for m in self.measured]
        deep = max((-low.mm for low in self.marked), default=0.0)
        return blocks.rounds(told, deep, self.paste.lift) if deep else []

    @property
    def now(self):
        """The newest measuring, None before the first."""
        return self.measured[-1] if self.measured else None

    @cached_property
    def islands(self):
        """Its lows and highs now; once filler is on, what stands over a marked low has its letter."""
        if self.now is None:
            return ()
        found = self.now.relief.islands(self.flat_mm)
        if not self.is_filled:
            return found
        free, named = {m.name for m in self.marked}, []
        letters = (name for n in count() if (name := letter_of(n)) not in {m.name for m in self.marked})
        for island in found:
            over = next((m.name for m in self.marked if m.name in free and _lies_in(island.middle, m.reach)), "")
            free.discard(over)
            named.append(replace(island, name=over or next(letters)))
        return tuple(named)

    @property
    def lows(self):
        """Its lows."""
        return [i for i in self.islands if i.is_low]

    @property
    def highs(self):
        """Its highs."""
        return [i for i in self.islands if not i.is_low]

    @cached_property
    def marked(self):
        """The lows that were marked: those of the last measuring before anything was filled."""
        before = [m for m in self.measured if m.row.after in FIRST]
        return [i for i in before[-1].relief.islands(self.flat_mm) if i.is_low] if before else []

    @property
    def is_filled(self):
        """True once the newest measuring is of filler."""
        return self.now is not None and self.now.row.after not in FIRST

    @cached_property
    def shows(self):
        """{letter of a marked low: whether its mark shows again}: as somebody saw it, else by what was measured."""
        if not self.is_filled:
            return {}
        seen = _letters(self.rows[-1].shows) if self.rows else []
        if seen:
            return {i.name: i.name in seen for i in self.marked}
        return blocks.shows(self.marked, self.now.relief, self.flat_mm)

    @property
    def is_seen_flat(self):
        """True if all marks show again to the eye, and nothing was measured since."""
        return bool(self.rows) and not self.rows[-1].points and bool(self.shows) and all(self.shows.values())

    @cached_property
    def fills(self):
        """[(low, why it is not filled, what it takes)]: one of the two is told."""
        found = []
        for low in self.lows:
            why = filling.not_to_fill(low, self.paste, self._is("holes"), self._is("filler", "taped"), self.highs_first)
            found.append((low, why, None if why else filling.fill(low, self.paste)))
        return found

    def _is(self, topic, choice=None):
        """True if the survey has something of a topic that is still open."""
        return any(
            key[0] == topic and status in STILL_OPEN and (choice is None or choice in answer.choice.split("+"))
            for key, (answer, status, *_) in self.told.items()
        )

    @property
    def highs_first(self):
        """True while highs are to be worked before the lows are filled."""
        return bool(self.highs) and not self.is_filled

    def before(self, plan, surface):
        """[(what comes before filler, whether it is done, the kind of entry that says so)] of what this face has."""
        found = []
        if surface.welded_s is not None:
            looked = max((t_s for *_, t_s in surface.inspected), default=float("-inf")) >= surface.welded_s
            found.append(("Welds ground and looked through", looked, Kind.INSPECTED))
        fits = [s.done for s in plan.states if s.step.kind == StepKind.TRIAL_FIT and not s.step.left_out]
        if fits:
            found.append(("Trial fit, gaps told", all(fits), Kind.ACCESS))
        if self._is("seams", "bridged"):
            found.append(("A seam is bridged with filler: its groove is cleared", False, Kind.KEYED))
        return found

    @property
    def is_low_panel(self):
        """True if the panel is low as a whole."""
        return filling.is_low_panel(self.now.relief)

    @property
    def is_flat(self):
        """True if nothing stands further from flat than its finish takes."""
        return self.now is not None and not self.islands

    @cached_property
    def block(self):
        """(length of the block [mm], whether it is carried at both ends)."""
        face = self.now.relief
        return blocks.block_mm(self.marked or self.lows, face.w_mm, face.h_mm)

    @property
    def block_min(self):
        """Minutes of blocking that its highs take, at the usual pace."""
        return filling.BLOCK_MIN_ML * self.now.relief.volume_ml(low=False)

    def waves(self, y):
        """[(length of the straightedge [mm], the deepest gap under it [mm])] along a line across the face."""
        along, depth = self.now.relief.line(y)
        return [(edge, waviness_mm(along, depth, edge)) for edge in STRAIGHTEDGES_MM if edge <= along[-1] + 1]

    @cached_property
    def rounds(self):
        """(lifts of filler that were put on, lifts that the plan has)."""
        planned = [s for s in self.each.steps if s.kind == StepKind.FILL and not s.left_out]
        done = [e for e in self.each.events if isinstance(e, Coated) and e.sheet and e.sheet.kind in FILLERS]
        return len(done), sum(s.coats for s in planned)

    @property
    def blocked_um(self):
        """[film that each blocking took [µm]] in order."""
        return [e.um_off for e in self.each.events if isinstance(e, Keyed) and e.um_off]


def _lies_in(place, reach):
    """True if a place (x, y) lies in a reach (x0, y0, x1, y1)."""
    return reach[0] <= place[0] <= reach[2] and reach[1] <= place[1] <= reach[3]


def _letters(text):
    return text.upper().replace(",", " ").split()


def _filler(each):
    """The sheet of the filler that the plan has, else of one on the shelf; None where there is none."""
    step = next((s for s in each.steps if s.kind == StepKind.FILL and not s.left_out), None)
    return sheet_for(step, FILLERS)


def paste_of(sheet, temp_c):
    """A filler (Paste) by its sheet, at a temperature [°C]; without one what is usual of body filler."""
    if sheet is None:
        return filling.Paste("body-filler", None, None)
    variant = sheet.variants[0] if sheet.variants else None
    base, *rest = sheet.parts(variant)
    by_mass = variant is not None and variant.by == "mass" and rest
    ready = sheet.times.get("sandable")
    return filling.Paste(
        sheet.kind,
        base.density_g_ml,
        100.0 * rest[0].ratio / base.ratio if by_mass else None,
        sheet.lift_mm,
        sheet.most_um / 1000 if sheet.most_um else None,
        ready.minutes_at(temp_c) if ready else None,
    )


def level_of(state):
    """The Level of a zone (its ZoneState)."""
    each = state.facts
    rows = Entry.objects.known_at().of(Kind.LEVELLED).filter(zones=each.zone).select_related("levelled", "who")
    measured, rows = [], list(rows.order_by("ended", "pk"))
    if each.revision is not None:
        grid = grid_of(each.revision.shapes, each.area_m2)
        for entry in rows:
            found = relief_of([Depth(*point) for point in entry.levelled.points], grid.w_mm, grid.h_mm)
            measured += [Measuring(entry, found)] if found is not None else []
    flat = FLAT_MM[each.revision.finish_class] if each.revision else FLAT_MM["show"]
    told = known([each.zone], {each.zone.pk: each}).get(each.zone.pk, {})
    paste = paste_of(_filler(each), temp_for(each, state.all, state.surface.t_s))
    return Level(each, measured, paste, flat, told, [entry.levelled for entry in rows])


def of_face(state, step):
    """The share of a zone (its ZoneState) that a step of its plan is for [0..1]: edges of a stripe coat, of filler the
    lows that were measured.
    """
    if step.kind != StepKind.FILL or state.facts.revision is None:
        return state.facts.of_face(step)
    found = level_of(state)
    lows = sum(low.area_m2 for low in found.marked or found.lows)
    return min(1.0, lows / state.facts.area_m2) if lows > 0 else 1.0
