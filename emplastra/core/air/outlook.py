"""What lies ahead of a metal section: when it is warm enough, when it sweats, how long it is fit to coat.

Over a stretch of air that is linear between knots; the metal follows by its exact lag, refined while
it settles, so that each crossing lies on a straight piece. Latent heat is ignored: the wet span is
that of condensing, not of drying.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .dewpoint import Limits, rh_pct
from .journey import Cut, behind
from .sun import Span, under_the_sky

STEP_S = 0.001
"""What looks like a jump takes this long [s]."""


@dataclass(frozen=True)
class Outlook:
    """Metal ahead: knots [epoch s], metal and dew point [°C]; spans [epoch s] in which something holds.

    warm: at or above the limit; damp: under 3 K (or the sheet's spread) above the dew point; wet: at
    or below the dew point; fit: every limit of the product kept. limit_c: None where the sheet has none.
    """

    t_s: np.ndarray
    metal_c: np.ndarray
    dew_c: np.ndarray
    limit_c: float | None
    warm: tuple[Span, ...]
    damp: tuple[Span, ...]
    wet: tuple[Span, ...]
    fit: tuple[Span, ...]


def spans(t_s: np.ndarray, margin: np.ndarray) -> tuple[Span, ...]:
    """Stretches [epoch s] in which a margin that is linear between knots is not below 0."""
    found: list[Span] = []
    start: float | None = float(t_s[0]) if margin[0] >= 0 else None
    for i in np.nonzero((margin[:-1] >= 0) != (margin[1:] >= 0))[0].tolist():
        share = margin[i] / (margin[i] - margin[i + 1])
        at = float(t_s[i] + share * (t_s[i + 1] - t_s[i]))
        if start is None:
            start = at
        else:
            found.append((start, at))
            start = None
    if start is not None:
        found.append((start, float(t_s[-1])))
    return tuple(found)


def at_night(t: np.ndarray, air: np.ndarray, dew: np.ndarray, metal: np.ndarray, span: Span) -> tuple[np.ndarray, ...]:
    """Times [epoch s], air, dew point and metal [°C], the metal as cold as a night sky makes it in a span [epoch s]; it
    steps at both ends.
    """
    edges = np.array([span[0], span[0] + STEP_S, span[1], span[1] + STEP_S])
    times = np.union1d(t, edges[(edges > t[0]) & (edges < t[-1])])
    air, dew, metal = (np.interp(times, t, x) for x in (air, dew, metal))
    dark = (times > span[0]) & (times <= span[1])
    return times, air, dew, under_the_sky(metal, air, dark)


def outlook(cut: Cut, tau_s: float, metal_c: float, limits: Limits, nights: Sequence[Span] = ()) -> Outlook:
    """What lies ahead of a section with lag `tau_s` [s] that is at `metal_c` [°C] as the stretch begins.

    nights: spans [epoch s] in which it lies under a night sky.
    """
    met = behind(cut, metal_c, tau_s)
    t, air, dew, metal = met.t_s, met.air_c, met.dew_c, met.metal_c
    for span in nights:
        t, air, dew, metal = at_night(t, air, dew, metal, span)
    low = limits.surface_c[0]
    warm = metal - low if low is not None else np.zeros_like(t)
    margins = [metal - dew - limits.spread_k]
    for values, (least, most) in ((air, limits.air_c), (metal, limits.surface_c), (rh_pct(air, dew), limits.rh_pct)):
        margins += [values - least] if least is not None else []
        margins += [most - values] if most is not None else []
    fit = np.min(np.stack(margins), axis=0) + 1e-9
    damp, wet = limits.spread_k - (metal - dew) - 1e-9, dew - metal
    return Outlook(t, metal, dew, low, spans(t, warm + 1e-9), spans(t, damp), spans(t, wet), spans(t, fit))
