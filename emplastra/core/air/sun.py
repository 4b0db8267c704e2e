"""The hours of night, when metal outdoors radiates to the sky: from before sunset to after sunrise."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta, tzinfo
from functools import lru_cache

import numpy as np
from astral import Observer, sun

Span = tuple[float, float]
BEFORE_SUNSET_S, AFTER_SUNRISE_S = 3600.0, 2 * 3600.0
"""From when before sunset to when after sunrise metal outdoors counts as under a night sky [s]. Ours, no source."""
ASSUMED_NIGHT_H = (18, 8)
"""The same by the clock where nobody told where the workshop stands [h]. Ours, no source."""
NIGHT_K = 4.0
"""Unmeasured metal under a night sky is taken to be this much colder than the air [K]. Ours, no source."""


def under_the_sky(metal_c: np.ndarray, air_c: np.ndarray, dark: np.ndarray) -> np.ndarray:
    """Metal [°C] where it is dark at most as warm as a night sky leaves it in air [°C]."""
    return np.where(dark, np.minimum(metal_c, air_c - NIGHT_K), metal_c)


@dataclass(frozen=True)
class Outdoors:
    """What is under the sky: names of places; where on earth [° north, ° east], None if not told; its time zone."""

    places: frozenset[str] = frozenset()
    at: tuple[float, float] | None = None
    zone: tzinfo = UTC

    def nights(self, start_s: float, end_s: float) -> tuple[Span, ...]:
        """Spans [epoch s] of night that reach into a stretch, in order."""
        return tuple((a, b) for a, b in self._all(start_s, end_s) if b > start_s and a < end_s)

    def _all(self, start_s: float, end_s: float) -> Iterator[Span]:
        day = datetime.fromtimestamp(start_s, self.zone).date() - timedelta(days=2)
        last = datetime.fromtimestamp(end_s, self.zone).date() + timedelta(days=1)
        while day <= last:
            yield self._by_clock(day) if self.at is None else night_after(day, *self.at)
            day += timedelta(days=1)

    def _by_clock(self, day: date) -> Span:
        begin, end = ASSUMED_NIGHT_H
        evening = datetime(day.year, day.month, day.day, begin, tzinfo=self.zone)
        morning = day + timedelta(days=1)
        return evening.timestamp(), datetime(
            morning.year, morning.month, morning.day, end, tzinfo=self.zone
        ).timestamp()


@lru_cache(maxsize=256)
def night_after(day: date, north: float, east: float) -> Span:
    """The night that follows a day (UTC) at a latitude and longitude [° north, ° east], from and to [epoch s].

    Where the sun does not rise all of the day is night; where it does not set there is none: a span of no length.
    """
    watcher = Observer(north, east)
    noon = sun.noon(watcher, day)
    next_noon = sun.noon(watcher, day + timedelta(days=1))
    return _sunset_s(watcher, noon), _sunrise_s(watcher, next_noon)


def _sunset_s(watcher: Observer, noon: datetime) -> float:
    """From when the sky is a night sky after a noon [epoch s]."""
    setting = _crossing_s(watcher, noon, noon + timedelta(hours=12))
    if setting is not None:
        return setting - BEFORE_SUNSET_S
    return noon.timestamp() + (0.0 if _height(watcher, noon) < HORIZON_DEG else 12 * 3600.0)


def _sunrise_s(watcher: Observer, noon: datetime) -> float:
    """Until when the sky is a night sky before a noon [epoch s]."""
    rising = _crossing_s(watcher, noon, noon - timedelta(hours=12))
    if rising is not None:
        return rising + AFTER_SUNRISE_S
    return noon.timestamp() - (0.0 if _height(watcher, noon) < HORIZON_DEG else 12 * 3600.0)


HORIZON_DEG = -0.833
"""Height of the sun's middle at sunrise and sunset [°]: refraction and half its disc."""


def _height(watcher: Observer, moment: datetime) -> float:
    return sun.elevation(watcher, moment, with_refraction=False)


def _crossing_s(watcher: Observer, high: datetime, low: datetime) -> float | None:
    """When the sun crosses the horizon between a noon and a midnight [epoch s]; None if it does not."""
    a, b = high.timestamp(), low.timestamp()
    if _height(watcher, high) < HORIZON_DEG or _height(watcher, low) > HORIZON_DEG:
        return None
    while abs(b - a) > 1.0:
        middle = (a + b) / 2
        up = _height(watcher, datetime.fromtimestamp(middle, UTC)) > HORIZON_DEG
        a, b = (middle, b) if up else (a, middle)
    return (a + b) / 2
