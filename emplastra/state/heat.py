"""Heat on a face: the schedules of what lies there, how it was warmed, and how hot it gets in the sun."""

from dataclasses import dataclass
from functools import cached_property

from emplastra.core.air import heat
from emplastra.core.piece.face_grid import grid_of
from emplastra.core.product.kinds import FILLERS, ProductKind
from emplastra.core.surface.names import StepKind
from emplastra.core.survey.findings import STILL_OPEN
from emplastra.logbook.models import Entry, Kind

from .known import known

OVER_K = 20.0
"""How much hotter an oven is than the schedule's metal [K]. Common practice, no source."""
LATITUDE = 48.0
"""Where nobody told the workshop's place [degrees]."""
SOFT_UNDER = frozenset({*FILLERS, ProductKind.SPRAYABLE_FILLER, ProductKind.TWO_PACK_SURFACER})
"""What shrinks once more when it gets hotter than it was."""
UNTOLD = "#b9bab3"
"""The colour of a sheet that tells none."""
COLOURS = frozenset({StepKind.BASE, StepKind.SINGLE_STAGE})
SOFT = {ProductKind.CAVITY_WAX: "wax", ProductKind.SEAM_SEALER: "seam sealer"}
USUAL_C = 60.0
"""How hot a shop warms where no sheet tells a schedule [°C]. Common practice, no source."""
SKIN_MM = 1.0
"""A skin, beside which a heavier section is shown as it warms [mm]."""


def tone_of(hex_colour):
    """Light, medium or dark, of a colour "#rrggbb"; dark where none is told: undecided is as black."""
    if not hex_colour:
        return "dark"
    r, g, b = (int(hex_colour[i : i + 2], 16) / 255 for i in (1, 3, 5))
    shine = 0.2126 * r + 0.7152 * g + 0.0722 * b
    return "light" if shine > 0.65 else "medium" if shine > 0.35 else "dark"


@dataclass
class Asked:
    """A schedule of a layer that lies there or is planned: its product, the schedule, minutes until the metal is there
    in an oven 20 K hotter.
    """

    product: str
    schedule: object
    ramp_min: float | None


@dataclass
class Device:
    """An oven, lamp or heater by its logs: how it warms, its name, how often and how long it was on [h], the last."""

    how: str
    name: str
    times: int
    hours: float
    last: object


def devices():
    """[Device] of all logs of heat that name one, the one used last first."""
    rows = Entry.objects.known_at().of(Kind.HEATED).exclude(heated__device="").select_related("heated")
    found = {}
    for entry in rows.order_by("ended", "pk"):
        row = entry.heated
        each = found.setdefault((row.how, row.device), Device(row.how, row.device, 0, 0.0, row))
        each.times, each.hours, each.last = each.times + 1, each.hours + row.points[-1][0] / 60, row
    return sorted(found.values(), key=lambda each: each.last.entry_id, reverse=True)


@dataclass
class Heat:
    """A face (its ZoneFacts) and heat: told: its survey; heated: [Entry] in order."""

    each: object
    layers: tuple
    sheets: dict
    told: dict
    heated: list
    latitude: float
    steps: tuple

    @cached_property
    def asked(self):
        """[Asked] of what lies on it, uppermost first, then of what is planned."""
        here = {layer.product: layer.sheet for layer in reversed(self.layers) if layer.sheet}
        rest = {s.product: self.sheets[s.product] for s in self.steps if s.product in self.sheets}
        found = []
        for product, sheet in (here | {k: v for k, v in rest.items() if k not in here}).items():
            for schedule in sheet.schedules:
                found.append(Asked(product, schedule, self._ramp_min(schedule.metal_c)))
        return found

    def _ramp_min(self, metal_c):
        """Minutes until this section is so hot [°C] in an oven 20 K hotter."""
        return heat.ramp_min(self.each.revision.oven_lag_s(), heat.FROM_C, metal_c + OVER_K, metal_c)

    @property
    def metal_c(self):
        """How hot its schedules make the metal, the hottest of them [°C]."""
        return max((each.schedule.metal_c for each in self.asked), default=USUAL_C)

    @property
    def in_the_way(self):
        """What on it or near it does not bear that, in sentences."""
        near = self.told.get(("near", ""))
        things = set(near[0].choice.split("+")) if near else set()
        if any(key[0] == "solder" and status in STILL_OPEN for key, (_, status, *_) in self.told.items()):
            things.add("solder")
        if self.each.revision.substrate == "laminate":
            things.add("laminate")
        things |= {SOFT[layer.sheet.kind] for layer in self.layers if layer.sheet and layer.sheet.kind in SOFT}
        return heat.too_hot_for(things, self.metal_c)

    @cached_property
    def rises(self):
        """[(name, [(min, metal °C)], minutes until it is there)] of this section and of a skin beside it, in an oven
        20 K hotter than the hottest schedule; the section alone where it is no heavier.
        """
        r, air_c = self.each.revision, self.metal_c + OVER_K
        sections = [("this section", r.thickness_mm)]
        sections += [("a skin", SKIN_MM)] if r.thickness_mm > 2 * SKIN_MM else []
        taus = [(name, r.oven_lag_s(mm)) for name, mm in sections]
        ready = {name: heat.ramp_min(tau, heat.FROM_C, air_c, self.metal_c) or 0.0 for name, tau in taus}
        end = 1.25 * max(ready.values())
        return [
            (name, [(end * k / 60, heat.rise_c(tau, heat.FROM_C, air_c, end * k / 60)) for k in range(61)], ready[name])
            for name, tau in taus
        ]

    @property
    def lamp(self):
        """The newest log of a lamp whose field was told, None without one."""
        logs = (entry.heated for entry in reversed(self.heated) if entry.heated.how == "lamp")
        return next((row for row in logs if row.field_w_mm), None)

    def passes(self, field_mm):
        """Fields of a lamp (width, height [mm]) over this face by its uppermost schedule; None without one."""
        if not self.asked or field_mm is None:
            return None
        grid, first = grid_of(self.each.revision.shapes, self.each.area_m2), self.asked[0]
        minutes = first.schedule.minutes + (first.ramp_min or 0.0)
        return heat.passes((grid.w_mm, grid.h_mm), field_mm, minutes)

    @property
    def tone(self):
        """(light, medium or dark; whether the colour is decided)."""
        step = next((s for s in reversed(self.steps) if s.kind in COLOURS and not s.left_out), None)
        sheet = self.sheets.get(step.product) if step else None
        told = sheet.colour if sheet and sheet.colour != UNTOLD else ""
        return tone_of(told), bool(told)

    @cached_property
    def sun(self):
        """The hottest that it gets in use (Hottest): undersides and covered faces see none."""
        if self.each.revision.finish_class in {"below", "covered"}:
            return None
        return heat.hottest(self.tone[0], self.latitude, heat.hot_air_c(self.latitude))

    @property
    def planned_min(self):
        """What the schedules that it was warmed by take, with flash and warming up [min]; 0 where none was told."""
        told = (e.heated for e in self.heated if e.heated.metal_c is not None)
        return sum(row.flash_min + (self._ramp_min(row.metal_c) or 0.0) + row.minutes for row in told)

    @property
    def cured_c(self):
        """The hottest that it was while it cured [°C]: by its logs, else the usual of a shop."""
        return max((entry.heated.hottest_c for entry in self.heated), default=20.0)

    @property
    def prints_through(self):
        """True if filler or surfacer under colour was never so hot as the sun will make it."""
        kinds = {layer.sheet.kind for layer in self.layers if layer.sheet}
        kinds |= {self.sheets[s.product].kind for s in self.steps if s.product in self.sheets and not s.left_out}
        return bool(self.sun and kinds & SOFT_UNDER) and heat.prints_through(self.cured_c, self.sun.panel_c)


def heat_of(state, latitude):
    """The Heat of a zone (its ZoneState); None without measures. latitude [degrees], None: nobody told."""
    each = state.facts
    if each.revision is None:
        return None
    rows = Entry.objects.known_at().of(Kind.HEATED).filter(zones=each.zone).select_related("heated", "who")
    told = known([each.zone], {each.zone.pk: each}).get(each.zone.pk, {})
    layers = state.surface.layers
    where = LATITUDE if latitude is None else latitude
    return Heat(each, layers, state.all.sheets, told, list(rows.order_by("ended", "pk")), where, each.steps)
