"""Quantities inside sentences: words and figures kept apart until a person reads them.

A sentence of the core is text in which each quantity stands as a mark: its dimension, its values in
the core's unit, how they are joined. `written` puts them down in the units of whoever reads. Marks are
set in private-use characters, so that nothing a person types is one by accident.
"""

import re
from collections.abc import Callable
from datetime import UTC, datetime

from .units import SHOWN_UNIT, in_system

OPEN, _CLOSE = "\ue000", "\ue001"
"""Begin and end of a mark."""
_HOUR = "hour"
_MARK = re.compile(f"{OPEN}([^{_CLOSE}]*){_CLOSE}")


def quantity(dimension: str, *values: float, digits: int | None = None, joined: str = " to ", unit: bool = True) -> str:
    """A mark of values in the core's unit of a dimension (units.SHOWN_UNIT).

    digits: after the point where metric is read, None as many as it has; joined: what stands between
    several; unit: False where the unit is already said. Raises KeyError for a dimension there is none of.
    """
    told = ";".join(repr(float(value)) for value in values)
    if dimension not in SHOWN_UNIT:
        raise KeyError(dimension)
    places = "" if digits is None else str(digits)
    return f"{OPEN}{'|'.join((dimension, places, joined, str(int(unit)), told))}{_CLOSE}"


def film_q(*values: float, digits: int | None = 0, joined: str = " to ", unit: bool = True) -> str:
    """Film, or a depth in it [µm]."""
    return quantity("film", *values, digits=digits, joined=joined, unit=unit)


def length_q(*values: float, digits: int | None = None, joined: str = " × ", unit: bool = True) -> str:
    """A length [mm]."""
    return quantity("length", *values, digits=digits, joined=joined, unit=unit)


def area_q(*values: float, digits: int | None = 2) -> str:
    """An area [m2]."""
    return quantity("area", *values, digits=digits)


def volume_q(*values: float, digits: int | None = 0) -> str:
    """A volume [mL]."""
    return quantity("volume", *values, digits=digits)


def pressure_q(*values: float) -> str:
    """A pressure [bar]."""
    return quantity("pressure", *values, digits=1)


def coverage_q(*values: float) -> str:
    """What a litre covers [m2/L]."""
    return quantity("coverage", *values, joined="–")


def use_q(*values: float) -> str:
    """What is used of a thing [mL/m2]."""
    return quantity("use", *values)


def celsius_q(*values: float, digits: int | None = None, unit: bool = True) -> str:
    """A temperature [°C]."""
    return quantity("temperature", *values, digits=digits, unit=unit)


def kelvin_q(*values: float, digits: int | None = 1) -> str:
    """A difference of temperatures [K]."""
    return quantity("difference", *values, digits=digits)


TOLD_S = 60.0
"""Hours are told to the minute [s]: what is less than one apart is told as the same."""


def lasting(minutes: float) -> str:
    """A length of time [min] in words: 12 min, 3 h 20, 4 days."""
    whole = round(abs(minutes))
    if whole < 60:
        return f"{whole} min"
    if whole < 48 * 60:
        return f"{whole // 60} h {whole % 60:02d}" if whole % 60 else f"{whole // 60} h"
    return f"{whole / 1440:.0f} days"


def hour_q(t_s: float) -> str:
    """An hour [epoch s], put down in the zone of whoever reads."""
    return f"{OPEN}{_HOUR}|{t_s!r}{_CLOSE}"


def in_utc(t_s: float) -> str:
    """An hour [epoch s] where nobody said in which zone it is read."""
    return f"{datetime.fromtimestamp(t_s, UTC):%d %b %H:%M} UTC"


def written(text: str, system: str = "metric", hour: Callable[[float], str] = in_utc) -> str:
    """The text with every mark put down in "metric" or "us"; what is no mark stays as it is.

    hour: how a moment [epoch s] is put down.
    """
    return _MARK.sub(_writer(system, hour), text) if OPEN in text else text


def _writer(system: str, hour: Callable[[float], str]) -> Callable[[re.Match[str]], str]:
    def write(mark: re.Match[str]) -> str:
        if mark[1].lower().startswith(f"{_HOUR}|"):
            return hour(float(mark[1][len(_HOUR) + 1 :]))
        try:
            dimension, digits, joined, unit, told = mark[1].split("|")
            values = [float(value) for value in told.split(";")]
            places = int(digits) if digits else None
            return in_system(values, dimension.lower(), system, places, joined, unit == "1")
        except (KeyError, ValueError):
            return mark[1]

    return write
