"""A sheet's figures as they are written on a label, in metric or US units: what `label` reads back."""

from collections.abc import Callable, Iterable
from typing import Any

from ..units import convert, display_unit, in_unit, symbol

Document = dict[str, Any]


def duration(minutes: float) -> str:
    """A time [min] as it is written: 20 min, 2 h 10, 24 h, 7 days."""
    if minutes >= 2 * 1440 and minutes % 1440 == 0:
        return f"{minutes / 1440:g} days"
    hours, rest = divmod(minutes, 60)
    if (minutes < 100 and minutes % 60) or (rest and rest != int(rest)):
        return f"{minutes:.10g} min"
    return f"{hours:g} h {rest:02.0f}" if rest else f"{hours:g} h"


def degrees(celsius: float, system: str = "metric") -> str:
    """A temperature [°C] in the wanted system."""
    value, unit = (convert(celsius, "°C", "°F"), "°F") if system == "us" else (celsius, "°C")
    return f"{round(value, 6):g} {unit}"


def points_text(table: Any, system: str = "metric") -> str:
    """Times at temperatures of a document."""
    if isinstance(table, dict) and "rh" in table:
        return "; ".join(f"RH {rh:g} %: {points_text(points, system)}" for rh, points in table["rh"])
    if isinstance(table, dict):
        low, high = (degrees(t, system) for t in table["range_c"])
        return f"{duration(table['minutes'])} at {degrees(table['at_c'], system)}, from {low} to {high} by its kinetics"
    return ", ".join(f"{duration(minutes)} at {degrees(temp, system)}" for temp, minutes in table)


def window_text(row: Document, system: str = "metric") -> str:
    """A window of a document with all its stretches."""
    stretches = [row, *row.get("again", ())]
    ends = [(s, end) for s in stretches for end in ("opens", "closes")]
    if any(isinstance(s.get(end), dict) for s, end in ends):
        return "by humidity or kinetics, as its sheet has it"
    temps = sorted({point[0] for s, end in ends for point in _table(s, end)})
    said = [f"{_at(stretches, temp)} at {degrees(temp, system)}" for temp in temps]
    no_limit = said and stretches[-1].get("closes") is None
    return ", ".join(said) + (", no limit" if no_limit else "")


def _at(stretches: list[Document], temp: float) -> str:
    """All stretches of a window at a temperature that one of them names."""
    several = len(stretches) > 1
    said = [_stretch(s, temp, several and n == 0, several and n > 0) for n, s in enumerate(stretches)]
    return " or ".join(filter(None, said))


def _table(stretch: Document, end: str) -> Any:
    told = stretch.get(end)
    return told if isinstance(told, list) else ()


def _stretch(stretch: Document, temp: float, is_first: bool, is_later: bool) -> str:
    """One stretch at a temperature; the first of several that opens at once tells only its end."""
    opens, closes = (dict(map(tuple, _table(stretch, end))).get(temp) for end in ("opens", "closes"))
    if closes is not None and (opens is None or (is_first and opens <= 1.0)):
        return f"within {duration(closes)}"
    if opens is None:
        return ""
    until = f" to {duration(closes)}" if closes is not None else ""
    return f"{'after ' if is_later or not until else ''}{duration(opens)}{until}"


def ratio_text(variant: Document, names: dict[str, str], system: str = "metric") -> str:
    """A ratio of a document with its hardener and band."""
    parts = ":".join(f"{value:g}" for value in variant["parts"].values())
    hardener = next((names[key] for key in list(variant["parts"])[1:2]), "")
    by = "volume" if variant["by"] == "volume" else "weight"
    named = f", {hardener}" if hardener and hardener != "Hardener" else ""
    band = ""
    if "temp_c" in variant:
        band = f", {degrees(variant['temp_c'][0], system)} to {degrees(variant['temp_c'][1], system)}"
    return f"{parts} by {by}{named}{band}"


def micrometres(um: float, system: str = "metric") -> str:
    """A film [µm] in the wanted system."""
    return f"{round(convert(um, 'µm', 'mil'), 2):g} mil" if system == "us" else f"{um:g} µm"


def film_text(film: Document, system: str = "metric") -> str:
    """The dry film of a coat of a document."""
    low, aim, high = (film.get(name) for name in ("min_um", "typical_um", "max_um"))
    if low is not None and high is not None and aim is None:
        return f"{micrometres(low, system)} to {micrometres(high, system)}"
    told = (("min ", low), ("", aim), ("max ", high))
    return ", ".join(f"{word}{micrometres(um, system)}" for word, um in told if um is not None)


def figures(values: Iterable[float], dimension: str, system: str = "metric") -> str:
    """Values of a dimension with their unit, so exact that they are read back as what they were."""
    unit = display_unit(dimension, system)
    return "–".join(f"{in_unit(value, dimension, unit):.4g}" for value in values) + f" {symbol(unit)}"


def limits_text(told: Document, system: str = "metric") -> str:
    """Climate limits of a document, those of the air for both where they are one."""
    found = [
        _limit(told.get("air_c"), lambda t: degrees(t, system)),
        _limit(told.get("rh_pct"), lambda rh: f"{rh:g} %"),
        f"{figures([told['spread_k']], 'difference', system)} above dew point" if "spread_k" in told else "",
    ]
    return ", ".join(filter(None, found))


def _limit(ends: Any, written: Callable[[float], str]) -> str:
    """A limit with its least, its most, or both."""
    low, high = ends or (None, None)
    if low is None:
        return "" if high is None else f"at most {written(high)}"
    return f"at least {written(low)}" if high is None else f"{written(low)} to {written(high)}"
