"""Blending into sound paint: how far a difference is spread, where colour and clear stop, what each stop costs.

Where no source is named: common practice, no source.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from ..words import length_q
from ..working import Basis, Given, Line, Working

SPREAD_MM = 100.0
"""Length over which one unit of difference is spread, so that no eye finds where it ends [mm]."""
HALF = 0.5
"""Colour goes no further than half way into a panel."""
GAP_HIDES = 1.5
"""How many times the difference a gap between two panels hides that one flat face does not."""
SIGHT = {"top": 1.0, "left": 0.8, "right": 0.8, "inside": 0.4, "under": 0.3}
"""How much of a difference is seen by where a face lies: sun from above shows most."""
KEY_MIN_M2, COLOUR_MIN_M2, CLEAR_MIN_M2, POLISH_MIN_M2 = 12.0, 8.0, 6.0, 10.0
"""Minutes a square metre for keying, colour in its coats, clear in its coats, polishing [min/m2]."""
MASK_MIN = 20.0
"""Masking a panel [min]."""
MOST_OFF = 30.0
"""A difference that is no blend any more but another colour."""


@dataclass(frozen=True)
class Panel:
    """A panel of sound paint beside what is painted: its width away from it [mm], its area [m2], the view it lies in;
    broken_mm: where a crease, bead or trim runs across it, from the joint [mm], None without one.
    """

    width_mm: float
    area_m2: float
    view: str = "left"
    broken_mm: float | None = None


@dataclass(frozen=True)
class Stop:
    """A way to stop: where colour ends and clear ends, areas of colour, clear and polish on the panel [m2], minutes,
    how far apart what meets there looks (seen), whether that is within the limit, and what else speaks against it.
    """

    key: str
    name: str
    colour_mm: float
    clear_mm: float
    colour_m2: float
    clear_m2: float
    polish_m2: float
    minutes: int
    seen: float
    fits: bool
    but: str = ""
    working: Working | None = None


def spread_mm(off: float) -> float:
    """How wide colour is faded out for a difference (CIEDE2000) [mm]. Raises ValueError for less than 0 or over 30."""
    if not 0.0 <= off <= MOST_OFF:
        raise ValueError(f"a difference is from 0 to {MOST_OFF:g}: more is another colour")
    return SPREAD_MM * off


def stops(off: float, panel: Panel, limit: float) -> list[Stop]:
    """Ways to stop on a panel of a difference (CIEDE2000) against a limit, the cheapest first.

    Raises ValueError for a panel without size, or a difference that cannot be.
    """
    if panel.width_mm <= 0 or panel.area_m2 <= 0:
        raise ValueError("the panel has no width or area: measure it first")
    sight, width, wanted = SIGHT.get(panel.view, 0.8), panel.width_mm, spread_mm(off)
    half = HALF * width
    faded = min(half, wanted)
    seen_faded = 0.0 if off <= 0 else sight * off * max(0.0, 1.0 - faded / wanted)
    found = [
        _stop("joint", "At the joint, nothing on the panel", 0.0, 0.0, panel, sight * off / GAP_HIDES, limit),
        _stop("half", "Colour faded half way, clear to the panel’s end", faded, width, panel, seen_faded, limit),
    ]
    if panel.broken_mm is not None and 0 < panel.broken_mm < width:
        within = min(faded, panel.broken_mm)
        seen = 0.0 if off <= 0 else sight * off * max(0.0, 1.0 - within / wanted)
        at = f"Colour faded, clear to the crease at {length_q(panel.broken_mm)}"
        found.append(_stop("crease", at, within, panel.broken_mm, panel, seen, limit))
    inside = min(width, faded + 150.0)
    open_line = "the edge of the clear lifts and dulls within years: it is not stopped on an open face"
    found.append(_stop("open", "Clear faded out on the open face", faded, inside, panel, seen_faded, limit, open_line))
    return sorted(found, key=lambda stop: stop.minutes)


def _stop(
    key: str, name: str, colour_mm: float, clear_mm: float, panel: Panel, seen: float, limit: float, but: str = ""
) -> Stop:
    """One way; colour_mm, clear_mm: from the joint [mm]."""
    whole, width = panel.area_m2, panel.width_mm
    colour, clear = whole * colour_mm / width, whole * clear_mm / width
    polish = max(0.0, whole - clear)
    minutes = KEY_MIN_M2 * clear + COLOUR_MIN_M2 * colour + CLEAR_MIN_M2 * clear + (MASK_MIN if clear else 0.0)
    minutes += POLISH_MIN_M2 * polish if clear else 0.0
    working = Working(
        name,
        (
            Given("panel", round(whole, 2), "m²", Basis.COMPUTED, "shapes"),
            Given(
                "colour ends at",
                round(colour_mm),
                "mm",
                Basis.ESTIMATED,
                f"{length_q(SPREAD_MM)} a unit, at most half way",
            ),
            Given("clear ends at", length_q(round(clear_mm)), "", Basis.ESTIMATED, ""),
        ),
        (
            Line("colour on it", f"{whole:.2f} × {colour_mm / width:.0%}", round(colour, 2), "m²"),
            Line("clear on it", f"{whole:.2f} × {clear_mm / width:.0%}", round(clear, 2), "m²"),
            Line("polished", "the rest", round(polish, 2) if clear else 0.0, "m²"),
            Line("hand’s time", "key, colour, clear, mask, polish by area", round(minutes), "min"),
        ),
        "Minutes by area: common practice, no source",
    )
    fits = seen <= limit + 1e-9 and not but
    areas = (colour, clear, polish if clear else 0.0)
    return Stop(key, name, colour_mm, clear_mm, *areas, round(minutes), seen, fits, but, working)


def best(found: Sequence[Stop]) -> Stop | None:
    """The cheapest that is within the limit, else the one that shows least; None of none."""
    fit = [stop for stop in found if stop.fits]
    if fit:
        return fit[0]
    sound = [stop for stop in found if not stop.but]
    return min(sound, key=lambda stop: stop.seen) if sound else None
