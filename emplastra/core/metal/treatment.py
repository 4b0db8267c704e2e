"""What each step of the metal work wants on an area: how it is done, how much of what, how long.

Quantities and ways of working: common practice, no source; the sheet comes first.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from ..product.sheet import Sheet
from ..surface.clocks import PROMPT_S
from ..surface.names import StepKind
from ..surface.plan import Progress
from ..surface.steps import STEPS
from ..survey.inspection import POINTS
from ..words import celsius_q
from ..working import Basis, Given, Line, Working

CLEANER_ML_M2, WATER_PARTS = 150.0, 5.0
"""Ready cleaner [mL/m2], and parts of water to one of concentrate. Common practice, no source."""
PREP_ML_M2, WETTING_ML_M2, CONTACT_MIN = 200.0, 50.0, 30.0
"""Acid prep to begin with and for each wetting [mL/m2], and how long it is kept wet [min]. Common practice, no
source.
"""
WIPE_ML_M2, RINSE_ML_M2, WASH_ML_M2 = 30.0, 1500.0, 5000.0
"""Panel wipe, rinsing and washing water [mL/m2]. Common practice, no source."""
_BY_AREA: dict[str, tuple[str, float]] = {
    StepKind.RINSE: ("water", RINSE_ML_M2),
    StepKind.UNCOVER: ("water", WASH_ML_M2),
    StepKind.DEGREASE: ("panel wipe", WIPE_ML_M2),
}
"""What a step takes of its stuff [mL/m2]."""
COMMON = "common practice, no source"


@dataclass(frozen=True)
class Supply:
    """So much of something [mL], and what that rests on."""

    name: str
    ml: float
    basis: Basis = Basis.ASSUMED


@dataclass(frozen=True)
class Card:
    """A step of the metal work as it stands: done, now or later; how it is done, what it takes, its cautions."""

    id: str
    kind: str
    name: str
    status: str
    how: tuple[str, ...]
    needs: tuple[Supply, ...] = ()
    cautions: tuple[str, ...] = ()
    working: Working | None = None
    note: str = ""
    checks: tuple[str, ...] = field(default=())


HOW: dict[str, tuple[str, ...]] = {
    StepKind.UNCOVER: ("Empty lips, arches and boxes; wash; let it drain.", "Near sea or road salt: test for salts before anything else."),
    StepKind.SURVEY: ("Walk round as bared: grade, holes, thickness left.",),
    StepKind.STRIP: ("Stop where marks are expected.", "The bare clock runs from the first stroke, by portion."),
    StepKind.REPAIR: ("Cut back to where the metal is again at full thickness.", "Cutting shows the next rotten skin: write it down."),
    StepKind.WELD: ("Weld-through primer on the faces of a lap.", "The far side burns too: coat it again while it can be reached."),
    StepKind.CLEAN: ("1 part cleaner to 5 parts water.", "Scrub with a non-woven pad, rinse, blow dry.", "Never with acid."),
    StepKind.ACID_PREP: ("Spray it on and keep it wet for about 30 minutes.", "Wet it again at each prompt, sooner where it dries. Let it dry and its time starts anew.", "Then rinse."),
    StepKind.RINSE: ("Plenty of clean water, also in laps.", "Blow laps and seams dry: they hold water longest."),
    StepKind.DRY: ("Warm and moving air; laps last.",),
    StepKind.CONVERT: ("On tight rust only, brushed in.", "Left 24 to 36 hours before epoxy, in one school."),
    StepKind.ABRADE: ("By hand, crosswise, until no shine is left.", "The end bared first comes first."),
    StepKind.DEGREASE: ("Two cloths: one wets, one takes off before it dries.", "Then coat within the hour."),
    StepKind.INSPECT: ("Against the light, from both sides.",),
}  # fmt: skip
LOOKED_AT = tuple(f"{p.name}: {p.fault}? {p.remedy[:1].upper()}{p.remedy[1:]}." for p in POINTS.values())
"""What is looked at on welds and holes, in words."""


def needs_of(
    kind: str, area_m2: float, sheet: Sheet | None = None, temp_c: float = 20.0, prompt_s: float = PROMPT_S
) -> tuple[tuple[Supply, ...], Working | None]:
    """What a step takes on an area [m2], with its working; nothing where the sheet's film says it.

    sheet: of the step's product; what it does not say is common practice. temp_c [°C]: for its contact time;
    prompt_s: how often it is wetted in that [s].
    """
    use = sheet.use if sheet else None
    if kind == StepKind.CLEAN:
        per, water = (
            _given("ready to use", use.ml_m2 if use else None, CLEANER_ML_M2),
            _given("parts of water", use.water_parts if use else None, WATER_PARTS, ""),
        )
        ready = _number(per) * area_m2
        part = ready / (1 + _number(water))
        found = (Supply("cleaner", part, per.basis), Supply("water", ready - part, water.basis))
        lines = [
            _in_all(area_m2, per, ready),
            Line("cleaner", f"1 part to {water.value} of water", round(part), "mL"),
            Line("water", "the rest", round(ready - part), "mL"),
        ]
        return found, _working("Cleaner", area_m2, (per, water), lines)
    if kind == StepKind.ACID_PREP:
        return _acid(area_m2, sheet, temp_c, prompt_s)
    each = _BY_AREA.get(kind)
    if each is None:
        return (), None
    per = _given("of it", use.ml_m2 if use and kind == StepKind.DEGREASE else None, each[1])
    ml = _number(per) * area_m2
    return (Supply(each[0], ml, per.basis),), _working(
        each[0].capitalize(), area_m2, (per,), [_in_all(area_m2, per, ml)]
    )


def _acid(area_m2: float, sheet: Sheet | None, temp_c: float, prompt_s: float) -> tuple[tuple[Supply, ...], Working]:
    """Acid prep: what goes on first, and a wetting at each prompt for as long as it is kept wet."""
    use, table = (sheet.use, sheet.times.get("contact")) if sheet else (None, None)
    stated = table.minutes_at(temp_c) if table else None
    first = _given("to begin with", use.ml_m2 if use else None, PREP_ML_M2)
    each = _given("each wetting", use.wetting_ml_m2 if use else None, WETTING_ML_M2)
    contact = Given(
        "kept wet",
        f"{stated or CONTACT_MIN:.0f}",
        "min",
        Basis.SHEET if stated else Basis.ASSUMED,
        f"the sheet, at {celsius_q(temp_c, digits=0)}" if stated else COMMON,
    )
    wettings = math.ceil((stated or CONTACT_MIN) * 60 / prompt_s - 1e-9)
    ml = area_m2 * (_number(first) + wettings * _number(each))
    lines = [
        Line("wettings", f"one every {prompt_s / 60:g} min of {contact.value}", f"{wettings}"),
        Line("in all", f"{area_m2:.3g} · ({first.value} + {wettings} · {each.value})", f"{ml:.0f}", "mL"),
    ]
    basis = Basis.SHEET if first.basis is each.basis is Basis.SHEET else Basis.ASSUMED
    return (Supply("acid prep", ml, basis),), _working("Acid prep", area_m2, (first, each, contact), lines)


def _given(name: str, stated: float | None, usual: float, unit: str = "mL/m²") -> Given:
    """A figure of the sheet, else the usual one, marked."""
    if stated is None:
        return Given(name, f"{usual:g}", unit, Basis.ASSUMED, COMMON)
    return Given(name, f"{stated:g}", unit, Basis.SHEET, "the sheet")


def _number(given: Given) -> float:
    return float(given.value)


def _in_all(area_m2: float, per: Given, ml: float) -> Line:
    return Line("in all", f"{area_m2:.3g} · {per.value}", f"{ml:.0f}", "mL")


def _working(name: str, area_m2: float, given: Sequence[Given], lines: Sequence[Line]) -> Working:
    area = Given("area", f"{area_m2:.3g}", "m²", Basis.TYPED, "its shapes")
    return Working(name, (area, *given), tuple(lines), "The sheet comes first.")


def cards(
    progress: Progress,
    area_m2: float,
    sheets: Mapping[str, Sheet] | None = None,
    temp_c: float = 20.0,
    prompt_s: float = PROMPT_S,
) -> list[Card]:
    """The steps up to the first coat on an area [m2], each as it stands; the first undone one is "now".

    sheets: by product name; temp_c: of the air [°C], for contact times; prompt_s: how often prep is wetted [s].
    """
    found: list[Card] = []
    for i, state in enumerate(progress.states):
        step, kind = state.step, STEPS[state.step.kind]
        if step.left_out:
            continue
        status = "done" if state.done else "now" if i == progress.next_index else "later"
        needs, working = needs_of(step.kind, area_m2, (sheets or {}).get(step.product), temp_c, prompt_s)
        name = kind.name + (f", {step.grit}" if step.grit else "") + (f": {step.product}" if step.product else "")
        checks = LOOKED_AT if step.kind in {StepKind.INSPECT, StepKind.WELD, StepKind.REPAIR} else ()
        found.append(
            Card(
                step.id,
                step.kind,
                name,
                status,
                HOW.get(step.kind, ()),
                needs,
                kind.cautions,
                working,
                step.note,
                checks,
            )
        )
        if kind.leaves_film and step.kind not in {StepKind.CONVERT, StepKind.SOLDER}:
            break
    return found


def portions(bare: Sequence[tuple[float, float]], now_s: float) -> list[tuple[float, float]]:
    """(share, hours bare at a moment [epoch s]) of each portion, the oldest first."""
    return [(share, (now_s - since) / 3600) for since, share in sorted(bare)]
