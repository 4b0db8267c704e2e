"""A sheet's figures as they are written on a label, in metric or US units: what `label` reads back."""

from typing import Any

from ..units import convert
from .schema import UNKNOWN

Document = dict[str, Any]
_SPANS = ((10080.0, "weeks"), (1440.0, "days"), (60.0, "h"))


def duration(minutes: float) -> str:
    """A time [min] as it is written: 20 min, 1 h 10, 24 h, 7 days."""
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
    lines = []
    for temp in temps:
        said = [_stretch(s, temp, first=n == 0, several=len(stretches) > 1) for n, s in enumerate(stretches)]
        lines.append((" or ".join(filter(None, said)), degrees(temp, system)))
    text = ", ".join(f"{said} at {temp}" for said, temp in lines if said)
    return f"{text}, no limit" if stretches[-1].get("closes") is None and text else text


def _table(stretch: Document, end: str) -> Any:
    told = stretch.get(end)
    return told if isinstance(told, list) else ()


def _stretch(stretch: Document, temp: float, first: bool, several: bool) -> str:
    opens, closes = (next((m for t, m in _table(stretch, end) if t == temp), None) for end in ("opens", "closes"))
    if opens is not None and closes is not None:
        if several and first and opens <= 1.0:
            return f"within {duration(closes)}"
        return f"{'after ' if several and not first else ''}{duration(opens)} to {duration(closes)}"
    if closes is not None:
        return f"within {duration(closes)}"
    return f"after {duration(opens)}" if opens is not None else ""


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
    return f"{round(convert(um, 'µm', 'mil'), 4):g} mil" if system == "us" else f"{um:g} µm"


def film_text(film: Document, system: str = "metric") -> str:
    """The dry film of a coat of a document."""
    low, aim, high = (film.get(name) for name in ("min_um", "typical_um", "max_um"))
    if low is not None and high is not None and aim is None:
        return f"{micrometres(low, system)} to {micrometres(high, system)}"
    told = (("min ", low), ("", aim), ("max ", high))
    return ", ".join(f"{word}{micrometres(um, system)}" for word, um in told if um is not None)


def limits_text(told: Document, system: str = "metric") -> str:
    """Climate limits of a document, those of the air for both where they are one."""
    found = []
    low, high = told.get("air_c", (None, None))
    if low is not None and high is not None:
        found.append(f"{degrees(low, system)} to {degrees(high, system)}")
    elif low is not None or high is not None:
        found.append(
            f"{'at least' if low is not None else 'at most'} {degrees(low if low is not None else high, system)}"
        )
    low, high = told.get("rh_pct", (None, None))
    if low is not None and high is not None:
        found.append(f"{low:g} to {high:g} %")
    elif low is not None or high is not None:
        found.append(f"{'at least' if low is not None else 'at most'} {low if low is not None else high:g} %")
    if "spread_k" in told:
        found.append(f"{told['spread_k']:g} K above dew point")
    return ", ".join(found)


def is_told(end: Any) -> bool:
    """True for an end of a window that somebody told."""
    return end != UNKNOWN
