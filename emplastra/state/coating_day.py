"""The first hours that let the next coat of a zone be put on, why others do not, what heat or a fan would change."""

import itertools
from dataclasses import dataclass, field

import numpy as np

from emplastra.climate.live import sky_of
from emplastra.core.air.dewpoint import Limits
from emplastra.core.schedule import coating_day as core
from emplastra.core.schedule.shop_hours import read
from emplastra.core.surface.clocks import thicker
from emplastra.core.surface.integral import crossing
from emplastra.core.surface.names import Runs, Status
from emplastra.core.surface.steps import STEPS
from emplastra.core.words import kelvin_q

from .selectors import metal_at, sprayed_s

AHEAD_S = 72 * 3600.0
"""How far is looked [s]."""
HEAT_K = 5.0
"""What a heater is tried with [K]."""


@dataclass
class Day:
    """What the hours ahead are for the next coat of a zone: its step, its sheet (None: not on the shelf), the core's
    CoatingDay, when the window of what lies there closes [epoch s] (None: never, or nobody can say), what the slot
    rests on; others: [(what is done, its CoatingDay)]; flame_g_m3: water that an unflued flame would add.
    """

    step: object
    sheet: object
    found: object
    put_on_s: float
    closes_s: float | None
    basis: object
    others: list = field(default_factory=list)
    flame_g_m3: float = 0.0

    @property
    def slot(self):
        """The first hours, None within three days."""
        return self.found.slot

    @property
    def is_late(self):
        """True if the first hours come after the window has closed."""
        return self.slot is not None and self.closes_s is not None and self.slot.begin_s > self.closes_s

    @property
    def segments(self):
        """[(from, to [epoch s], reason or "")] of the stretch looked at, in order."""
        a, b = self.found.looked
        edges = sorted(
            {a, b, *(min(max(t, a), b) for some in self.found.closed.values() for span in some for t in span)}
        )
        rows = []
        for x, y in itertools.pairwise(edges):
            why = self.found.why((x + y) / 2 - 0.5, (x + y) / 2 + 0.5)
            if rows and rows[-1][2] == why:
                rows[-1] = (rows[-1][0], y, why)
            else:
                rows.append((x, y, why))
        return rows


def day_of(state, step_id="", need_s=0.0):
    """The Day of a zone (its ZoneState) for a step of its plan, by its id, else for the next layer; None without air,
    measures, or a layer to come. need_s: how long the climate has to hold at least [s].
    """
    each, facts, now_s = state.facts, state.all, state.surface.t_s
    step = _step(state, step_id)
    if each.where is None or each.revision is None or step is None or state.surface.away_s is not None:
        return None
    sheet, put_on_s = facts.sheets.get(step.product), sprayed_s(each, now_s, now_s) - now_s
    opens_s, closes_s = _window(state, step, now_s)
    hands = read(facts.workshop.open_hours)
    there = hands.spans(now_s, now_s + AHEAD_S, facts.workshop.zone) if hands.open else None
    sky = sky_over(each, facts)

    def look(kelvin=0.0, change=lambda way: way):
        where = each.where.shifted(kelvin, now_s)
        ways = [change(_coming(each, facts, sheet, where, way, now_s, there, sky)) for way in ("damp", "warm")]
        return core.look(ways, put_on_s, lambda on_s: _flashed(sheet, step, where, on_s), opens_s, need_s)

    found = look()
    basis = each.where.at(found.slot.begin_s).basis if found.slot else None
    day = Day(step, sheet, found, put_on_s, closes_s, basis)
    if _climate_closes(found, opens_s):
        day.others = [
            (f"{kelvin_q(HEAT_K, digits=0)} warmer, electric or flued", look(HEAT_K)),
            ("a fan on the metal", look(0.0, core.fanned)),
        ]
        day.flame_g_m3 = core.flame_water_g_m3(HEAT_K)
    return day


def _window(state, step, now_s):
    """(from when, until when) what lies on a zone lets a step go on [epoch s]: of the next layer by its clock, of a
    later one from now on; None: never closes, or nobody can say.
    """
    clock = state.clock if state.plan.next_layer is not None and step == state.plan.next_layer.step else None
    if clock is None:
        return now_s, None
    waits = clock.status == Status.WAITING and clock.opens_s
    return max(now_s, clock.opens_s) if waits else now_s, clock.closes_s


def _climate_closes(found, from_s):
    """True if the air, and not only the hands, keeps the first hours from beginning at a moment [epoch s]."""
    until_s = found.slot.begin_s if found.slot else found.looked[1]
    return any(a < until_s and b > from_s for name, some in found.closed.items() if name != "shut" for a, b in some)


def layers_to_come(state):
    """Steps of a zone's plan (its ZoneState) that leave film and are not done."""
    undone = (s.step for s in state.plan.states if not s.done and not s.step.left_out)
    return [step for step in undone if STEPS[step.kind].leaves_film]


def _step(state, step_id):
    """The layer that is asked for, if it is still to come, else the next."""
    named = next((s for s in layers_to_come(state) if s.id == step_id), None)
    return named or (state.plan.next_layer.step if state.plan.next_layer else None)


def _coming(each, facts, sheet, where, way, now_s, hands, sky):
    """The core's Coming of a zone (ZoneFacts), what nobody knows taken in a way."""
    tau_s = each.revision.lag_s
    nights = facts.outdoors.nights(now_s, now_s + AHEAD_S) if facts.is_out(each.place) else ()
    limits = sheet.held_limits if sheet else Limits()
    air = where.air(now_s, now_s + AHEAD_S, way)
    return core.Coming(air, metal_at(each, tau_s, now_s), tau_s, limits, nights, sky, hands)


def _flashed(sheet, step, where, on_s):
    """When a coat that is on at a moment [epoch s] has flashed; None where its sheet does not tell."""
    if sheet is None or Runs.FLASH not in sheet.times:
        return None
    longer = thicker(step.dft_um, sheet.aim_um)
    return crossing(where, sheet.times[Runs.FLASH], on_s, longer).t_s


def sky_over(each, facts):
    """Rain and wind of the place where a zone stands outdoors, None indoors or where no forecast tells them."""
    if not facts.is_out(each.place):
        return None
    told = sky_of(each.place, facts.now)
    if not told:
        return None
    t, rain, wind = np.array(told, float).T
    return core.Sky(t, rain, wind)
