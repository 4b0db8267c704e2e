"""The demo's air: five days made by formula, as a logger's file would hold them."""

import math
from datetime import timedelta

#: place -> mean [°C], daily swing [K], mean RH [%], swing [%], minutes between readings, surface offset or None
PLACES = {
    "Shop": (17.2, 1.3, 58.0, 4.0, 10),
    "Booth": (20.4, 0.8, 48.0, 3.0, 10),
    "Yard": (10.5, 5.0, 72.0, 14.0, 30),
}


def log_of(place, start, end, zone):
    """A CSV of the place's air from start to end (aware), times with the workshop's offset."""
    mean, swing, rh, rh_swing, minutes = PLACES[place]
    lines = ["time,air_c,rh_pct"]
    at = start
    while at <= end:
        here = at.astimezone(zone)
        hours = here.hour + here.minute / 60
        day = math.cos((hours - 15) / 24 * 2 * math.pi)
        ripple = 0.15 * math.sin(at.timestamp() / 1900) + 0.3 * math.sin(at.timestamp() / 86400 / 2)
        lines.append(
            f"{here.isoformat(timespec='seconds')},{mean + swing * day + ripple:.1f},{rh - rh_swing * day + 2 * ripple:.0f}"
        )
        at += timedelta(minutes=minutes)
    return "\n".join(lines) + "\n"
