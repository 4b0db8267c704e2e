"""Film by gauge: what was read on a face, what is asked of it, and what the next coat has to add."""

from dataclasses import dataclass
from functools import cached_property

from emplastra.core.gauge import accept
from emplastra.core.gauge.film_map import by_difference, map_of, may_sand_um, thin_spots, wet_for
from emplastra.core.gauge.readings import NO_PULL, Reading, drifted, old_films, reads_over
from emplastra.core.piece.face_grid import grid_of
from emplastra.core.surface.clocks import recoat_clock
from emplastra.core.surface.fold import Toward
from emplastra.core.surface.names import Status
from emplastra.core.working import Figure
from emplastra.logbook.models import Entry, Kind
from emplastra.materials.models import SystemVersion


def asked_at(each, t_s, most_um=None):
    """What is asked of all film on a zone (ZoneFacts) at a moment [epoch s] (accept.Asked); None where nothing is
    planned of it. most_um: what its system allows of all layers [µm].

    Nominal is what its plan has put on by then, less what was sanded off; the least and the most are those of the
    sheets of the layers, told only where all of them tell it.
    """
    planned = {step.id: step.dft_um for step in each.steps}
    layers = [layer for layer in each.built(t_s).layers if layer.share > 0.5]
    if not layers:
        return None
    told = [_of_layer(layer, planned.get(layer.step)) for layer in layers]
    nominal, least, most = (_sum(column) for column in zip(*told, strict=True))
    if not nominal or nominal <= 0:
        return None
    tops = [um for um in (most, most_um) if um is not None]
    return accept.Asked(nominal, min(least, nominal) if least else None, min(tops, default=None))


def _of_layer(layer, planned_um):
    """(planned, least, most) of a layer after sanding [µm], each None where nobody tells it."""
    limits = layer.sheet.film if layer.sheet else None
    aim = planned_um or (layer.sheet.aim_um if layer.sheet else None)
    told = (aim, limits.min_um if limits else None, limits.max_um if limits else None)
    return tuple(None if um is None else um - layer.sanded_um for um in told)


def _sum(values):
    """The sum of films [µm], 0 at least; None where one of them is not known."""
    return None if any(um is None for um in values) else max(0.0, sum(values))


@dataclass
class Thin:
    """A part that is too thin, and what mends it: wet film [µm], amount ready to use [mL] (None: unknown)."""

    spot: object
    number: int
    area_m2: float
    wet_um: float | None
    ml: float | None


@dataclass
class Gauging:
    """One gauging of a face (its ZoneFacts): by: the standard; before: the gauging before it."""

    each: object
    entry: object
    by: str
    most_um: float | None = None
    before: object = None

    @property
    def row(self):
        """As it was logged."""
        return self.entry.gauged

    @cached_property
    def readings(self):
        """Its readings [µm, corrected] with their places."""
        return self.row.taken.corrected([Reading(*point) for point in self.row.points])

    @cached_property
    def spots(self):
        """Its spots."""
        return self.row.taken.spots(self.readings)

    @cached_property
    def asked(self):
        """What was asked of the film when it was read."""
        return asked_at(self.each, self.entry.ended.timestamp(), self.most_um)

    @cached_property
    def accepted(self):
        """What the standard says; None where nothing is asked, or old paint was read."""
        if self.asked is None or self.row.old:
            return None
        readings, spots = ([r.um for r in some] for some in (self.readings, self.spots))
        return accept.judge(self.by, readings, spots, self.asked, self.row.per_spot)

    @cached_property
    def others(self):
        """[Accepted] by the other standards of the trade, each at its usual level."""
        if self.accepted is None:
            return []
        readings, spots = ([r.um for r in some] for some in (self.readings, self.spots))
        rest = [by for by in ("", "iso19840", "pa2-3") if by != self.by]
        return [accept.judge(by, readings, spots, self.asked, self.row.per_spot) for by in rest]

    @property
    def old_films(self):
        """{what old paint is: by how many readings}."""
        return old_films(self.readings)

    @property
    def wanted(self):
        """How many readings the face wants."""
        return accept.wanted(self.by, self.each.area_m2)

    @property
    def again(self):
        """How many of its readings ISO 19840 lets be taken once more, 0 where it is held or another standard holds."""
        if self.by != "iso19840" or self.accepted is None or self.accepted.ok:
            return 0
        return accept.iso_readings(self.each.area_m2)[1]

    @property
    def floor_um(self):
        """Under this a reading is too thin [µm]."""
        return self.accepted.floor_um or accept.LOW_SHARE * self.asked.nominal_um

    @cached_property
    def size_mm(self):
        """(width, height) of the face laid flat [mm]."""
        grid = grid_of(self.each.revision.shapes, self.each.area_m2)
        return grid.w_mm, grid.h_mm

    @cached_property
    def film(self):
        """The film between the spots (FilmMap), None where too few of them have a place."""
        if self.asked is None or self.each.revision is None:
            return None
        floor = self.floor_um if self.accepted else accept.LOW_SHARE * self.asked.nominal_um
        return map_of(self.spots, *self.size_mm, self.asked, floor)

    @cached_property
    def thin(self):
        """[Thin] of its parts under the least, the thinnest first."""
        if self.film is None or self.accepted is None:
            return []
        layers = self.each.built(self.entry.ended.timestamp()).layers
        top = layers[-1] if layers else None
        step = next((s for s in self.each.steps if top and s.id == top.step), None)
        found = thin_spots(self.film, self.spots, self.floor_um, self.asked.nominal_um)
        return [self._mended(spot, n, top, step) for n, spot in enumerate(found, 1)]

    def _mended(self, spot, number, top, step):
        area = spot.share * self.each.area_m2
        sheet = top.sheet if top else None
        variant = sheet.variants[-1] if sheet and sheet.variants else None
        solids = sheet.solids_pct(variant) if sheet else None
        if not isinstance(solids, Figure):
            return Thin(spot, number, area, None, None)
        thinner = step.thinner_pct if step else 0.0
        wet = wet_for(spot.add_um, solids.value, thinner)
        return Thin(spot, number, area, wet, area * wet)

    @cached_property
    def difference(self):
        """(mean, least) of what was put on since the gauging before [µm], None without one that has places."""
        if self.before is None or self.before.row.old:
            return None
        put = by_difference(self.spots, self.before.film)
        return (sum(put) / len(put), min(put)) if put else None

    @property
    def remarks(self):
        """What is said of how it was read."""
        said = [drifted(self.row.zero_um), reads_over(self.row.over)]
        said += [NO_PULL] if self.row.pull == "part" else []
        if self.row.count < self.wanted:
            said.append(f"{self.row.count} readings: a face of this size wants {self.wanted}.")
        return [words for words in said if words]

    @property
    def sanded_thin_um(self):
        """What the planned blocking of the uppermost layer may take at most where it is thinnest [µm], where that is
        less than planned; None where it is enough, or nothing is planned.
        """
        layers = self.each.built(self.entry.ended.timestamp()).layers
        top = layers[-1] if layers else None
        step = next((s for s in self.each.steps if top and s.id == top.step), None)
        if step is None or not step.sanded_um or top.sanded_um or self.asked is None:
            return None
        keep = (self.asked.least_um if self.asked.least_um is not None else self.floor_um) - step.sanded_um
        most = may_sand_um(min(s.um for s in self.spots), keep)
        return most if most < step.sanded_um - 0.5 else None


def gaugings(each, known_at=None):
    """[Gauging] of a zone (ZoneFacts) in order, each with the one before it."""
    rows = Entry.objects.known_at(known_at).of(Kind.GAUGED).filter(zones=each.zone).select_related("gauged", "who")
    system = each.build_up.system_id if each.build_up else None
    most = SystemVersion.objects.filter(pk=system).values_list("max_total_um", flat=True).first() if system else None
    found = []
    for entry in rows.order_by("ended", "pk"):
        found.append(Gauging(each, entry, each.zone.job.film_by, most, found[-1] if found else None))
    return found


def closes_for_more(state):
    """Until when more of the uppermost product goes on as it is [epoch s] on a zone (its ZoneState); None: keyed first,
    or nobody can say.
    """
    top = state.surface.top
    if top is None or top.sheet is None or state.facts.where is None:
        return None
    window = recoat_clock(state.surface, state.facts.where, Toward(top.product, top.sheet.kind))
    good = window is not None and window.status in {Status.OPEN, Status.CLOSING, Status.WAITING}
    return window.closes_s if good else None
