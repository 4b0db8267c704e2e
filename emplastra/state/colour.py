"""The colour groups of a job: ground, mid-coats and clear of each face; what was chosen, what a lamp showed."""

from dataclasses import dataclass, field, replace
from functools import cached_property

from emplastra.core.colour.card import film_range, mid_of
from emplastra.core.colour.hiding import coats_to_hide
from emplastra.core.colour.lab import hex_of, light_of, light_of_hex
from emplastra.core.surface.coats import (
    hidden,
    light_of_layer,
    most_mids,
    paint_of_sheet,
    sessions,
    stack_of,
    undertones,
)
from emplastra.core.surface.lasts import waits_of
from emplastra.core.surface.names import StepKind
from emplastra.jobs.colours import SHOWN, cards_of, colours_of
from emplastra.jobs.surveying import seen_in_film
from emplastra.logbook.models import Entry, Kind

from .history import joined
from .needs import Takings, temp_for

METAL = "#9b9da3"
"""How what lies under the first layer is drawn."""


@dataclass
class Coat:
    """One coat of a row: how it is drawn, whether it is on, its film [µm] (None: not told), when it ended [epoch s]."""

    colour: str
    is_on: bool
    film_um: float | None = None
    ended_s: float | None = None


@dataclass
class Row:
    """A face of a group, or a spot on one: its state, the stacks of its patches, what lies on it coat by coat."""

    state: object
    group: object
    stacks: list
    face: object = None

    @property
    def zone(self):
        """The zone."""
        return self.state.zone

    @property
    def deepest(self):
        """The stack of the patch on which most mid-coats lie."""
        return max(self.stacks, key=lambda s: (len(s.mids), len(s.ground)))

    @property
    def mids(self):
        """Mid-coats that count, where most lie."""
        return most_mids(self.state.facts.built(self.state.surface.t_s).patches)

    @property
    def uneven(self):
        """(fewest, most) mid-coats where patches differ, None where they do not."""
        counts = {len(s.mids) for s in self.stacks}
        return (min(counts), max(counts)) if len(counts) > 1 else None

    @property
    def has_joined(self):
        """True for a spot over which its face was coated since."""
        return self.face is not None and joined(self.face.state, self.state)

    @cached_property
    def hidden(self):
        """How far its ground hides (Hidden), None where its plan has no ground coat."""
        sheet = self.ground_sheet
        return hidden(sheet, self.stacks, sheet.aim_um) if sheet is not None else None

    @property
    def ground_sheet(self):
        """The sheet of its ground: of what lies on it, else of its plan."""
        on = [s.ground[-1].sheet for s in self.stacks if s.ground]
        if on:
            return on[0]
        step = self.ground_step
        return self.state.all.sheets.get(step.product) if step else None

    @property
    def ground_step(self):
        """The step of its plan that its ground is, None where it has none."""
        return next((s for s in self.state.facts.steps if s.kind == StepKind.BASE and not s.left_out), None)

    @property
    def over(self):
        """What its ground lies on, in words."""
        names = [s.under.product for s in self.stacks if s.under is not None]
        return list(dict.fromkeys(names))

    @cached_property
    def ground(self):
        """[Coat] of its ground, as it looks after each; then those that its plan still has."""
        stack, film = self.deepest, 0.0
        under, paint = light_of_layer(stack.under), None
        found = []
        for layer in stack.ground:
            paint = paint_of_sheet(layer.sheet)
            film += layer.left_um or 0.0
            light = paint.over(under or light_of_hex(METAL), film) if paint else light_of_hex(layer.sheet.colour)
            found.append(Coat(hex_of(light), True, layer.left_um, layer.ended_s))
        return found + self._planned(StepKind.BASE)

    def _planned(self, kind):
        """Coats of a kind that its plan still has."""
        found = []
        for step in self.state.plan.states:
            if step.step.kind == kind and not step.step.left_out and not step.done:
                sheet = self.state.all.sheets.get(step.step.product)
                colour = sheet.colour if sheet else METAL
                found += [Coat(colour, False, step.step.dft_um)] * max(0, step.step.coats - step.coats_done)
        return found

    @cached_property
    def mid_coats(self):
        """[Coat] of its mid-coats, numbered from the ground up."""
        layers = self.deepest.mids
        return [
            Coat(self.group.look(n, layer), True, layer.left_um, layer.ended_s) for n, layer in enumerate(layers, 1)
        ]

    @property
    def mids_planned(self):
        """[Coat] of the mid-coats that its plan still has."""
        return self._planned(StepKind.MID)

    @property
    def mid_films(self):
        """(the least, the most) film of its mid-coats [µm], None where none is told."""
        told = [coat.film_um for coat in self.mid_coats if coat.film_um is not None]
        return (min(told), max(told)) if told else None

    @property
    def clears(self):
        """([coats of each clear session that are on], clear coats that its plan still has)."""
        return sessions(self.state.facts.events), len(self._planned(StepKind.CLEAR))

    @property
    def stands(self):
        """How it stands to the chosen number: "over", "there", "short", "" while none is chosen."""
        chosen = self.group.chosen
        if chosen is None:
            return ""
        return "over" if self.mids > chosen else "there" if self.mids == chosen else "short"

    @property
    def has_mids(self):
        """True where mid-coats belong on it: planned, or there."""
        return bool(self.mids) or any(s.kind == StepKind.MID and not s.left_out for s in self.state.facts.steps)


@dataclass
class Group:
    """A colour group: its name, what holds of it (Colour, None), its cards, its rows, what a lamp showed."""

    name: str
    told: object
    cards: list
    rows: list = field(default_factory=list)
    lit: list = field(default_factory=list)
    seen: list = field(default_factory=list)

    @property
    def chosen(self):
        """The number of mid-coats that was chosen, None while none is."""
        return self.told.mids if self.told else None

    @property
    def card(self):
        """The card that counts: the one it was chosen from, else the newest; None without one."""
        if self.told and self.told.card:
            return self.told.card
        return self.cards[0] if self.cards else None

    @property
    def limit(self):
        """How far two faces may differ."""
        return self.told.limit if self.told else None

    @property
    def faces(self):
        """Its rows but for spots."""
        return [row for row in self.rows if row.face is None]

    @property
    def over(self):
        """Rows with more mid-coats than were chosen."""
        return [row for row in self.rows if row.stands == "over" and row.face is None]

    @property
    def is_translucent(self):
        """True if mid-coats are planned or lie on any of it."""
        return any(row.has_mids for row in self.rows)

    @cached_property
    def mid_sheet(self):
        """The sheet of its mid-coat, None without one."""
        for row in self.rows:
            named = [s.product for s in row.state.facts.steps if s.kind == StepKind.MID and not s.left_out]
            on = [layer.sheet for layer in row.deepest.mids if layer.sheet]
            found = on[0] if on else row.state.all.sheets.get(named[0]) if named else None
            if found is not None:
                return found
        return None

    @cached_property
    def coat_um(self):
        """The film of a mid-coat [µm] by its card, else by its sheet; None where neither tells."""
        if self.card and self.card.coat_um:
            return self.card.coat_um
        return self.mid_sheet.aim_um if self.mid_sheet else None

    @cached_property
    def strays(self):
        """(the least, the most) film of a coat [µm] between which the chosen number looks the same, None unknown."""
        if self.card is None or not self.chosen or self.coat_um is None:
            return None
        found = self.card.card.strays(self.chosen, self.limit)
        return tuple(round(um, 1) for um in film_range(found, self.chosen, self.coat_um)) if found else None

    @cached_property
    def ground_light(self):
        """What the ground under its mid-coats reflects, None where none is told."""
        sheet = next((row.ground_sheet for row in self.rows if row.ground_sheet), None)
        return light_of_hex(sheet.colour) if sheet else None

    @cached_property
    def mid_paint(self):
        """The mid-coat as its card draws it, None without a card, a ground or a film."""
        if self.card is None or self.ground_light is None or self.coat_um is None:
            return None
        return mid_of(
            self.mid_sheet.product if self.mid_sheet else "mid-coat", self.card.card, self.ground_light, self.coat_um
        )

    def look(self, n, layer=None):
        """How so many mid-coats are drawn: by its card, else by the sheet."""
        if self.card is not None:
            return hex_of(light_of(self.card.card.lab_at(n)))
        sheet = layer.sheet if layer is not None else self.mid_sheet
        return sheet.colour if sheet else METAL

    @cached_property
    def ground_again(self):
        """Ground coats that hide one mid-coat too many again, None where that cannot be said."""
        row = next(iter(self.over), None)
        sheet = row.ground_sheet if row else None
        paint = paint_of_sheet(sheet) if sheet else None
        if paint is None or sheet.aim_um is None:
            return None
        return coats_to_hide(paint, (light_of_hex(self.look(row.mids)),), sheet.aim_um)

    @cached_property
    def again_takes(self):
        """(minutes that are waited for, mL to mix) for ground coats and the chosen mid-coats once more on the face that
        has too many; None where that cannot be said.
        """
        row = next(iter(self.over), None)
        by_kind = {s.kind: s for s in row.state.facts.steps if not s.left_out} if row else {}
        if self.ground_again is None or not {StepKind.BASE, StepKind.MID} <= by_kind.keys():
            return None
        each, all_ = row.state.facts, row.state.all
        ground = replace(by_kind[StepKind.BASE], id="again-1", coats=self.ground_again)
        steps = (ground, replace(by_kind[StepKind.MID], id="again-2", coats=self.chosen))
        temp_c = temp_for(each, all_, row.state.surface.t_s)
        bill = Takings(all_).alike(each, steps).bill(each.asked)
        return waits_of(steps, all_.sheets, temp_c).minutes, bill.mixed_ml

    @property
    def undertones(self):
        """{name: rows whose mid-coats lie, or would lie, over it}."""
        found = {}
        for row in self.rows:
            for name in undertones(row.stacks):
                found.setdefault(name, []).append(row)
        return found


def groups_of(book, job):
    """[Group] of a job, in the order of their names."""
    zones = book.zones_of(job)
    states = {state.zone.pk: state for state in book.states([zone.pk for zone in zones])}
    told, cards = colours_of([job.pk]).get(job.pk, {}), cards_of(job)
    names = {pk: s.facts.revision.colour_group for pk, s in states.items() if s.facts.revision is not None}
    found = []
    for name in sorted({*names.values(), *told} - {""}):
        group = Group(name, told.get(name), cards.get(name, []))
        for zone in zones:
            if names.get(zone.pk) == name and zone.parent_id is None:
                face = _row(states[zone.pk], group)
                group.rows.append(face)
                group.rows += [
                    _row(states[s.pk], group, face) for s in zones if s.parent_id == zone.pk and s.origin_id == zone.pk
                ]
        found.append(group)
    _lit(found)
    return found


def _row(state, group, face=None):
    patches = state.facts.built(state.surface.t_s).patches
    return Row(state, group, [stack_of(p.layers) for p in patches], face)


def _lit(groups):
    """Give groups what a lamp showed: their entries, the newest first, and the findings with what was said last."""
    by_zone = {row.zone.pk: group for group in groups for row in group.rows}
    rows = Entry.objects.known_at().of(Kind.LIT).filter(zones__in=by_zone).select_related("lit", "who").distinct()
    for entry in rows.order_by("-ended", "-pk").prefetch_related("places_on__zone"):
        for place in entry.places_on.all():
            if place.zone_id in by_zone:
                by_zone[place.zone_id].lit.append((entry, place.zone))
    for finding, verified in seen_in_film(by_zone, SHOWN):
        by_zone[finding.zone_id].seen.append((finding, verified))


def ungrouped(book, job, groups):
    """Faces of a job that are in no group."""
    mine = {row.zone.pk for group in groups for row in group.rows}
    return [zone for zone in book.zones_of(job) if zone.pk not in mine and zone.parent_id is None]
