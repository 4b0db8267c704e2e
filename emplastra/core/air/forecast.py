"""A forecast set right against what was logged where the piece stands.

Its offset is the median of log − forecast over the last 14 days, for temperature and dew point, by
day and by night, where there are at least 24 pairs; its spread is 1.4826 times the median absolute
deviation. After the last reading the last difference fades with 3 h, also where the forecast begins only later.
"""

from dataclasses import dataclass

import numpy as np

from .series import Ahead, Hourly

BACK_S = 14 * 86400.0
"""How far back forecast and log are paired [s]."""
PAIRS = 24
"""Fewest pairs by day or by night for an offset."""
FADE_S = 3 * 3600.0
"""Time in which the last difference falls to 1/e [s]. Ours, no source."""
UNPROVEN_K = 2.0
"""Spread of a forecast that has too few pairs [K]. Common practice, no source."""
MAD_TO_SIGMA = 1.4826
"""Median absolute deviation to standard deviation, normal distribution."""
DAY_HOURS = (7.0, 19.0)
"""What counts as day [h of the local day]."""


@dataclass(frozen=True)
class Offset:
    """Log − forecast by day or by night [K]: temperature, dew point, spread of the temperature, pairs."""

    air_k: float = 0.0
    dew_k: float = 0.0
    spread_k: float = UNPROVEN_K
    pairs: int = 0


def offsets(log: Hourly, past: Hourly, is_day: np.ndarray, now_s: float) -> tuple[Offset, Offset]:
    """(by day, by night) from pairs in the last 14 days: `past` holds what was forecast of moments gone by, seen
    from now_s [epoch s].

    is_day: for each moment of `past`, True by day. A pair needs a reading within half an hour. With
    under 24 pairs the offset is none and the spread the unproven one.
    """
    recent = (past.t_s > now_s - BACK_S) & (past.t_s <= now_s)
    if not len(log.t_s) or not recent.any():
        return Offset(), Offset()
    t, day = past.t_s[recent], is_day[recent]
    right = np.clip(log.t_s.searchsorted(t), 1, max(len(log.t_s) - 1, 1))
    left = right - 1
    right = np.minimum(right, len(log.t_s) - 1)
    nearest = np.where(np.abs(log.t_s[left] - t) <= np.abs(log.t_s[right] - t), left, right)
    paired = np.abs(log.t_s[nearest] - t) <= 1800.0
    warm = np.interp(t, log.t_s, log.air_c) - past.air_c[recent]
    damp = np.interp(t, log.t_s, log.dew_c) - past.dew_c[recent]
    return _offset(warm, damp, paired & day), _offset(warm, damp, paired & ~day)


def _offset(warm: np.ndarray, damp: np.ndarray, use: np.ndarray) -> Offset:
    pairs = int(use.sum())
    if pairs < PAIRS:
        return Offset(pairs=pairs)
    air_k = float(np.median(warm[use]))
    spread = MAD_TO_SIGMA * float(np.median(np.abs(warm[use] - air_k)))
    return Offset(air_k, float(np.median(damp[use])), spread, pairs)


def ahead(
    coming: Hourly, is_day: np.ndarray, found: tuple[Offset, Offset], last: tuple[float, float, float] | None
) -> Ahead:
    """What to expect of a place: the newest forecast, set right.

    is_day: for each moment of `coming`; found: offsets by day and by night; last: the last reading
    (epoch s, °C, dew point °C), None if there is none.
    """
    by_day, by_night = found
    air = coming.air_c + np.where(is_day, by_day.air_k, by_night.air_k)
    dew = coming.dew_c + np.where(is_day, by_day.dew_k, by_night.dew_k)
    spread = np.where(is_day, by_day.spread_k, by_night.spread_k)
    if last is not None and last[0] <= coming.t_s[-1]:
        left = np.exp(-np.maximum(coming.t_s - last[0], 0.0) / FADE_S)
        air = air + left * (last[1] - float(np.interp(last[0], coming.t_s, air)))
        dew = dew + left * (last[2] - float(np.interp(last[0], coming.t_s, dew)))
    return Ahead(coming.t_s, air, np.minimum(dew, air), spread)
