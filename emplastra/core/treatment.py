"""What each step of the metal work wants on an area: how it is done, how much of what, how long.

Quantities and ways of working: common practice, no source; the sheet comes first.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field

from .inspection import POINTS
from .plan import Progress
from .steps import STEPS
from .working import Basis, Given, Line, Working

CLEANER_ML_M2, CLEANER_PARTS = 150.0, (1, 5)
"""Ready cleaner [mL/m2], and parts of concentrate and water."""
PREP_ML_M2, WETTING_ML_M2 = 200.0, 50.0
"""Acid prep to begin with and for each wetting [mL/m2]."""
WETTINGS = 6
"""Wettings in half an hour, one every five minutes."""
WIPE_ML_M2, RINSE_ML_M2, WASH_ML_M2 = 30.0, 1500.0, 5000.0


@dataclass(frozen=True)
class Need:
    """So much of something [mL], as a share of which mix."""

    name: str
    ml: float


@dataclass(frozen=True)
class Card:
    """A step of the metal work as it stands: done, now or later; how it is done, what it takes, its cautions."""

    id: str
    kind: str
    name: str
    status: str
    how: tuple[str, ...]
    needs: tuple[Need, ...] = ()
    cautions: tuple[str, ...] = ()
    working: Working | None = None
    note: str = ""
    checks: tuple[str, ...] = field(default=())


HOW: dict[str, tuple[str, ...]] = {
    "uncover": ("Empty lips, arches and boxes; wash; let it drain.", "Near sea or road salt: test for salts before anything else."),
    "survey": ("Walk round as bared: grade, holes, thickness left.",),
    "strip": ("Stop where marks are expected.", "The bare clock runs from the first stroke, by portion."),
    "repair": ("Cut back to where the metal is again at full thickness.", "Cutting shows the next rotten skin: write it down."),
    "weld": ("Weld-through primer on the faces of a lap.", "The far side burns too: coat it again while it can be reached."),
    "clean": ("1 part cleaner to 5 parts water.", "Scrub with a non-woven pad, rinse, blow dry.", "Never with acid."),
    "acid-prep": ("Spray it on and keep it wet for about 30 minutes.", "Wet it again every 5 minutes. Let it dry and its time starts anew.", "Then rinse."),
    "rinse": ("Plenty of clean water, also in laps.", "Blow laps and seams dry: they hold water longest."),
    "dry": ("Warm and moving air; laps last.",),
    "convert": ("On tight rust only, brushed in.", "Left 24 to 36 hours before epoxy, in one school."),
    "abrade": ("By hand, crosswise, until no shine is left.", "The end bared first comes first."),
    "degrease": ("Two cloths: one wets, one takes off before it dries.", "Then coat within the hour."),
    "inspect": ("Against the light, from both sides.",),
}  # fmt: skip
LOOKED_AT = tuple(f"{p.name}: {p.fault}? {p.remedy[:1].upper()}{p.remedy[1:]}." for p in POINTS.values())
"""What is looked at on welds and holes, in words."""


def needs_of(kind: str, area_m2: float) -> tuple[tuple[Need, ...], Working | None]:
    """What a step takes on an area [m2], with its working; nothing where the sheet's film says it."""
    if kind == "clean":
        ready = CLEANER_ML_M2 * area_m2
        part = ready / sum(CLEANER_PARTS)
        found = (Need("cleaner", part * CLEANER_PARTS[0]), Need("water", part * CLEANER_PARTS[1]))
        return found, _working("Cleaner", area_m2, CLEANER_ML_M2, ready, f"{CLEANER_PARTS[0]} part to {CLEANER_PARTS[1]}: {part:.0f} and {ready - part:.0f} mL")  # fmt: skip
    if kind == "acid-prep":
        first, again = PREP_ML_M2 * area_m2, WETTING_ML_M2 * area_m2 * WETTINGS
        return (Need("acid prep", first + again),), _working("Acid prep", area_m2, PREP_ML_M2 + WETTINGS * WETTING_ML_M2, first + again, f"{WETTINGS} wettings of {WETTING_ML_M2:.0f} mL/m² in half an hour among it")  # fmt: skip
    each = {
        "rinse": ("water", RINSE_ML_M2),
        "uncover": ("water", WASH_ML_M2),
        "degrease": ("panel wipe", WIPE_ML_M2),
    }.get(kind)
    if each is None:
        return (), None
    return (Need(each[0], each[1] * area_m2),), _working(each[0].capitalize(), area_m2, each[1], each[1] * area_m2, "")


def _working(name: str, area_m2: float, per_m2: float, ml: float, more: str) -> Working:
    given = (Given("area", f"{area_m2:.3g}", "m²", Basis.TYPED, "its shapes"), Given("of it", f"{per_m2:.0f}", "mL/m²", Basis.ASSUMED, "common practice, no source"))  # fmt: skip
    lines = [Line("in all", f"{area_m2:.3g} · {per_m2:.0f}", f"{ml:.0f}", "mL")]
    if more:
        lines.append(Line("of that", more, ""))
    return Working(name, given, tuple(lines), "The sheet comes first.")


def cards(progress: Progress, area_m2: float) -> list[Card]:
    """The steps up to the first coat, each as it stands; the first undone one is "now"."""
    found: list[Card] = []
    for i, state in enumerate(progress.states):
        step, kind = state.step, STEPS[state.step.kind]
        if step.left_out:
            continue
        status = "done" if state.done else "now" if i == progress.next_index else "later"
        needs, working = needs_of(step.kind, area_m2)
        name = kind.name + (f", {step.grit}" if step.grit else "") + (f": {step.product}" if step.product else "")
        checks = LOOKED_AT if step.kind in {"inspect", "weld", "repair"} else ()
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
        if kind.leaves_film and step.kind not in {"convert", "solder"}:
            break
    return found


def portions(bare: Sequence[tuple[float, float]], now_s: float) -> list[tuple[float, float]]:
    """(share, hours bare) of each portion, the oldest first."""
    return [(share, (now_s - since) / 3600) for since, share in sorted(bare)]
