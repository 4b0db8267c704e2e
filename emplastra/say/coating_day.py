"""A zone's coating day as it is shown: the band of hours, why some are closed, the first that hold."""

from dataclasses import dataclass

from emplastra.core.schedule.coating_day import WHY
from emplastra.core.surface.steps import STEPS
from emplastra.state.coating_day import day_of, layers_to_come
from emplastra.state.lifeline import Scale

SHOWN = 4
HOURS = (0, 2, 4, 8, 24)
"""For how long the climate is asked to hold at least [h]; 0: for its flash."""
LABEL_W = 7.2
"""How wide a letter of a label is at most, on the wide band."""


@dataclass(frozen=True)
class Stretch:
    """A stretch of the band: its place, width and reason ("": open), the label where it has room."""

    x: float
    width: float
    why: str
    label: str


@dataclass
class CoatingView:
    """What a page shows of a Day: words, the wide and the narrow band with the slot on them, [(from, to, why, how bad)]
    of closed stretches (from: None where it is closed now), how many more, [(step, name)] that it may be asked for.
    """

    day: object
    what: str
    is_now: bool
    reasons: str
    spoken: str
    wide: list
    narrow: list
    slot_wide: tuple | None
    slot_narrow: tuple | None
    closed: list
    more: int
    steps: list
    hours: tuple = HOURS


def coating_view(state, step_id, scale, hours=0.0):
    """The CoatingView of a zone (its ZoneState) on the scale of its lifeline, None where nothing is to be coated;
    hours: for which the climate is to hold at least.
    """
    day = day_of(state, step_id, 3600.0 * hours)
    if day is None:
        return None
    now_s, segments = state.surface.t_s, day.segments
    narrow = Scale(scale.start_s, scale.end_s, 340.0)
    shut = [
        (None if a <= now_s + 60 else a, b, WHY[why], day.found.worst.get(why, "")) for a, b, why in segments if why
    ]
    names = list(dict.fromkeys(WHY[why] for _, _, why in segments if why))
    return CoatingView(
        day,
        _what(day.step),
        day.slot is not None and day.slot.begin_s <= now_s + 60.0,
        ", ".join(names) or "too short",
        _spoken(day, names),
        _stretches(segments, scale, True),
        _stretches(segments, narrow, False),
        _slot(day.slot, scale),
        _slot(day.slot, narrow),
        shut[:SHOWN],
        max(0, len(shut) - SHOWN),
        [(step, _what(step)) for step in layers_to_come(state)],
    )


def _what(step):
    return step.product or STEPS[step.kind].name.lower()


def _spoken(day, names):
    said = "the first hours are marked" if day.slot else "no hours hold"
    return f"Hours of three days: {said}; closed by {', '.join(names)}" if names else f"Hours of three days: {said}"


def _stretches(segments, scale, labelled):
    found = []
    for a, b, why in segments:
        x, end = scale.x(a), scale.x(b)
        name = WHY.get(why, "open")
        label = name if labelled and why and end - x >= LABEL_W * len(name) else ""
        found.append(Stretch(x, round(end - x, 1), why, label))
    return found


def _slot(slot, scale):
    return (scale.x(slot.begin_s), round(max(3.0, scale.x(slot.end_s) - scale.x(slot.begin_s)), 1)) if slot else None
