"""The demo's air: days made by formula, as a logger's file and a forecast would hold them."""

import math
from datetime import timedelta

#: place -> mean [°C], daily swing [K], mean RH [%], swing [%], minutes between readings
PLACES = {
    "Shop": (17.2, 1.3, 58.0, 4.0, 10),
    "Booth": (20.4, 0.8, 48.0, 3.0, 10),
    "Yard": (10.5, 5.0, 72.0, 14.0, 30),
}


def air_at(place, at, zone):
    """(°C, %) of a place at a moment (aware)."""
    mean, swing, rh, rh_swing, _ = PLACES[place]
    here = at.astimezone(zone)
    day = math.cos((here.hour + here.minute / 60 - 15) / 24 * 2 * math.pi)
    ripple = 0.15 * math.sin(at.timestamp() / 1900) + 0.3 * math.sin(at.timestamp() / 86400 / 2)
    return mean + swing * day + ripple, rh - rh_swing * day + 2 * ripple


def log_of(place, start, end, zone):
    """A CSV of the place's air from start to end (aware), times with the workshop's offset.

    The yard's logger jumped once and was silent for three hours.
    """
    lines, at, count = ["time,air_c,rh_pct"], start, 0
    while at <= end:
        air, rh = air_at(place, at, zone)
        count += 1
        if place == "Yard" and count == 90:
            air += 14
        if not (place == "Yard" and 150 <= count < 156):
            lines.append(f"{at.astimezone(zone).isoformat(timespec='seconds')},{air:.1f},{rh:.0f}")
        at += timedelta(minutes=PLACES[place][4])
    return "\n".join(lines) + "\n"


def forecast_of(place, issued, zone, hours=120):
    """A CSV of what was forecast of a place at a moment (aware): a little too cold, and swinging with its day."""
    lines, start = ["time,temp_c,rh_pct,rain_mm,wind_m_s"], issued.replace(minute=0)
    for k in range(hours):
        at = start + timedelta(hours=k)
        air, rh = air_at(place, at, zone)
        miss = -0.8 + 0.5 * math.sin(at.timestamp() / 9000 + issued.timestamp() / 86400)
        stamp, sky = at.astimezone(zone).isoformat(timespec="seconds"), f"{_rain(at)},{_wind(at):.1f}"
        lines.append(f"{stamp},{air + miss:.1f},{rh + 2:.0f},{sky}")
    return "\n".join(lines) + "\n"


def _rain(at):
    """Rain of an hour [mm]: a shower each third day in the afternoon."""
    return 0.6 if at.toordinal() % 3 == 0 and 13 <= at.hour < 16 else 0.0


def _wind(at):
    """Wind of an hour [m/s]: up at noon, a blow each fourth day."""
    return (
        3.0
        + 2.0 * math.sin((at.hour - 7) / 24 * 2 * math.pi)
        + (5.0 if at.toordinal() % 4 == 1 and at.hour > 9 else 0.0)
    )
