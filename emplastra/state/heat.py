"""Heat on a face: the schedules of what lies there, how it was warmed, and how hot it gets in the sun."""

from dataclasses import dataclass
from functools import cached_property

from emplastra.core.air import heat
from emplastra.core.air.lag import lag_s
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
BEARS = {
    "fuel": "Fuel near it: out before any heat, by those licensed for it.",
    "bushes": "Bushes, rubber, bonded parts: out before an oven.",
    "glass": "Glass: it cracks beside a lamp, keep it shaded.",
    "wiring": "Wiring: out, or shielded.",
    "trim": "Trim: off.",
    "springs": "Springs: an oven over 150 °C may draw their temper.",
}
"""What is in the way of heat, by what the survey has near it. Common practice, no source."""


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
        found, from_c = [], 20.0
        for product, sheet in (here | {k: v for k, v in rest.items() if k not in here}).items():
            for schedule in sheet.schedules:
                r = self.each.revision
                tau = lag_s(r.substrate, r.thickness_mm, min(2, r.wetted_faces), heat.H_OVEN)
                ramp = heat.ramp_min(tau, from_c, schedule.metal_c + OVER_K, schedule.metal_c)
                found.append(Asked(product, schedule, ramp))
        return found

    @property
    def in_the_way(self):
        """What is in the way of heat here, in sentences."""
        near = self.told.get(("near", ""))
        said = [words for key, words in BEARS.items() if near and key in near[0].choice.split("+")]
        if any(key[0] == "solder" and status in STILL_OPEN for key, (_, status, *_) in self.told.items()):
            said.append("A loaded seam: solder softens from about 180 °C.")
        if any(
            layer.sheet and layer.sheet.kind in {ProductKind.CAVITY_WAX, ProductKind.SEAM_SEALER}
            for layer in self.layers
        ):
            said.append("Wax or sealer lies on it: wax runs and burns, sealer blisters.")
        return said

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
