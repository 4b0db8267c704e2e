"""What a request asks for: an id, a count, a figure. Read here and nowhere else, but for times, which `times` reads."""

import math
import re

_WHOLE = re.compile(r"[0-9]{1,18}", re.A)


def whole(text, low=0, high=10**18):
    """A whole number in plain digits from `low` to `high`; None for anything else."""
    found = int(text) if isinstance(text, str) and _WHOLE.fullmatch(text.strip()) else None
    return found if found is not None and low <= found <= high else None


def an_id(values, name):
    """The id of a row by the name of a field."""
    return whole(values.get(name), 1)


def ids(values, name):
    """Ids with commas between, each once, in their order."""
    found = (whole(text, 1) for text in values.get(name, "").split(","))
    return list(dict.fromkeys(pk for pk in found if pk is not None))


def a_count(values, name, default=0, high=10**6):
    """A count from 0 to `high`, else the default."""
    found = whole(values.get(name), 0, high)
    return default if found is None else found


def a_figure(values, name, low, high):
    """A number, brought into its range; 0 for what is none."""
    try:
        found = float(values.get(name) or 0)
    except (ValueError, OverflowError):
        return 0.0
    return min(max(found, low), high) if math.isfinite(found) else 0.0
