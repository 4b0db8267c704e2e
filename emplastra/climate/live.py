"""The air of each place, kept in memory between requests and mended where facts were added.

Keyed by what it was made from: the newest ids of readings, imports, withdrawals and forecasts. An
appended reading extends a series from its own day on; a backfill or a withdrawal truncates it at
its moment. `forget()` drops everything; the answers stay the same. No lock is held: what is kept is
never changed, only replaced whole, together with the ids it was made from.
"""

import hashlib
import itertools
import os
import weakref
from dataclasses import dataclass, replace
from datetime import timedelta

import numpy as np
from django.db import connection
from django.db.models import Max, Min, Q

from emplastra.core.air.dewpoint import dew_point_c
from emplastra.core.air.forecast import BACK_S, DAY_HOURS, Hourly, ahead, offsets
from emplastra.core.air.journey import Air
from emplastra.core.air.series import (
    MOVED_K,
    MOVED_PCT,
    Disagreement,
    Fault,
    Source,
    from_readings,
    long_gaps,
    merge,
    spliced,
    without_faults,
)
from emplastra.core.surface.integral import Integral
from emplastra.shared.times import from_epoch

from . import packs
from .models import Forecast, ForecastWithdrawal, ImportBatch, Place, Reading, Withdrawal

BLOCK_S = 16 * 86400
"""Readings of an import are packed in blocks of this length [s]."""
MARGIN_S = 3 * 86400.0
"""How far before a change a series is made anew [s]: faults and overlaps look back no further."""
_held: dict = {}


@dataclass(frozen=True)
class PlaceAir:
    """A place's air, when it was last read [epoch s or None] and if by eye, what is wrong in its logs, its forecast.

    still: (from, to [epoch s]) in which its logger did not move: whether it is stuck depends on what moved round it.
    """

    place: Place
    air: Air
    last_s: float | None
    disagreements: tuple[Disagreement, ...] = ()
    faults: tuple[Fault, ...] = ()
    surface_c: float | None = None
    surface_s: float | None = None
    forecast: "ForecastUse | None" = None
    last_typed: bool = False
    still: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True)
class ForecastUse:
    """The newest forecast of a place: issued, reaching to [epoch s], and its pairs and offsets by day and night."""

    filename: str
    issued_s: float
    last_s: float
    offsets: tuple


@dataclass
class _Kept:
    """A place's air from `since_s` on, what it was made for, and in which hour its forecast was set right."""

    since_s: float
    air: PlaceAir
    made_for: tuple
    hour: int

    def is_stale(self, hour):
        """True if an hour has gone by since its forecast was held against the log."""
        return self.air.forecast is not None and self.hour != hour


def forget():
    """Drop all that is kept in memory."""
    _held.clear()


def may_keep():
    """False inside a transaction that may yet be rolled back (a test's own outer ones do not count)."""
    return all(getattr(block, "_from_testcase", False) for block in connection.atomic_blocks)


def database():
    """Which database this is: its name and its file, which a restore replaces."""
    name = str(connection.settings_dict["NAME"])
    return name, os.stat(name).st_ino if os.path.exists(name) else 0


def newest(*models):
    """The newest id of each model, in one query."""
    columns = ", ".join(f"(SELECT MAX({m._meta.pk.column}) FROM {m._meta.db_table})" for m in models)  # names are ours
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT {columns}")
        return tuple(value or 0 for value in cursor.fetchone())


def stamp():
    """What the air is made from, as newest ids."""
    return newest(Reading, ImportBatch, Withdrawal, Forecast, ForecastWithdrawal)


def fresh(places, since_s, now, assumed, zone, known_at=None, void=()):
    """{place id: PlaceAir} made from the rows alone, as known at a moment."""
    forecasts = forecasts_of(places, known_at or now)
    since_s = min(since_s, _paired_from_s(now)) if forecasts else since_s
    sources = sources_of(places, since_s, now, known_at, void)
    for place in places:
        if not any(len(source.t_s) for source in sources[place.pk][0]):
            sources[place.pk] = _last_day_of(place, since_s, now, known_at, void) or sources[place.pk]
    asked = now.timestamp(), assumed
    return {p.pk: _make(p, sources[p.pk], *asked, forecasts.get(p.pk, []), zone, known_at=known_at) for p in places}


def _last_day_of(place, since_s, now, known_at, void):
    """Sources of a place's last logged day before a moment [epoch s]: what nobody knows since then goes by it."""
    batches = _held_at(ImportBatch, known_at or now).filter(place=place, last__lt=from_epoch(since_s))
    typed = Reading.objects.filter(place=place, batch=None, at__lt=from_epoch(since_s), recorded__lte=known_at or now)
    ends = batches.aggregate(at=Max("last")), typed.exclude(id__in=list(void)).aggregate(at=Max("at"))
    last = max((end["at"] for end in ends if end["at"]), default=None)
    if last is None:
        return None
    return sources_of([place], last.timestamp() - MARGIN_S, now, known_at, void)[place.pk]


def _held_at(model, known_at):
    """Rows of imports or forecasts that held at a moment: told by then, and not withdrawn by then."""
    return model.objects.filter(Q(withdrawal=None) | Q(withdrawal__recorded__gt=known_at), recorded__lte=known_at)


def _paired_from_s(now):
    """From when on a log is needed to hold a forecast against it [epoch s]: a day's start, as all that is kept."""
    return (now.timestamp() - BACK_S - MARGIN_S) // 86400 * 86400


def kept(places, since_s, now, assumed, zone, void=(), extend=True):
    """{place id: PlaceAir} from memory, brought up to date with what was recorded since.

    extend: False leaves what is kept as it is where more is asked for, and makes that for once.
    """
    name, void, hour = database(), frozenset(void), int(now.timestamp() // 3600)
    made_for, mark = (assumed, str(zone)), stamp()
    held = _held_now(name, mark, now, assumed, zone, void, places)
    todo = [p for p in places if p.pk not in held or held[p.pk].since_s > since_s]
    if todo and not extend:
        return fresh(places, since_s, now, assumed, zone, None, void)
    if todo:
        made = fresh(todo, since_s, now, assumed, zone, None, void)
        held = held | {p.pk: _Kept(since_s, made[p.pk], made_for, hour) for p in todo}
    if may_keep():
        _held[name] = (mark, void, held)
    if any((held[p.pk].air.last_s or 0) > now.timestamp() + 120 for p in places):  # the clock was set back
        return fresh(places, since_s, now, assumed, zone, None, void)
    return {p.pk: replace(held[p.pk].air, place=p) for p in places}


def _held_now(name, mark, now, assumed, zone, void, places):
    """What is held for these assumptions, brought up to date where something was recorded, or an hour went by."""
    was, gone, held = _held.get(name) or ((0, 0, 0, 0, 0), frozenset(), {})
    held = {pk: each for pk, each in held.items() if each.made_for == (assumed, str(zone))}
    if mark == was and void == gone and not any(e.is_stale(int(now.timestamp() // 3600)) for e in held.values()):
        return held
    return _brought_up(held, was, gone ^ void, now, assumed, zone, void, places)


def _brought_up(held, was, voided, now, assumed, zone, void, places):
    """What is held, mended from the moment of each place's earliest change on."""
    if not held:
        return {}
    changed, told = _changed_from(was, voided), _told_since(was)
    coming = {place_id for place_id, _ in told}
    for place_id, since in told:  # a gap of the past may go by a forecast that came only now
        changed[place_id] = min(changed.get(place_id, since), since)
    for place_id in coming | {pk for pk, each in held.items() if each.is_stale(int(now.timestamp() // 3600))}:
        last = held[place_id].air.last_s if place_id in held else None
        changed[place_id] = min(changed.get(place_id, np.inf), now.timestamp() if last is None else last)
    mended = {pk: each for pk, each in held.items() if pk not in set(_hang_on(held, changed, coming))}
    return _mended(mended, changed, {p.pk: p for p in places}, now, assumed, zone, void)


def _told_since(was):
    """(place id, issued [epoch s]) of each forecast that came, or was withdrawn, since."""
    came = Forecast.objects.filter(id__gt=was[3]).values_list("place_id", "issued")
    gone = ForecastWithdrawal.objects.filter(id__gt=was[4]).values_list("forecast__place_id", "forecast__issued")
    return [(place_id, issued.timestamp()) for place_id, issued in (*came, *gone)]


def _mended(mended, changed, by_id, now, assumed, zone, void):
    """What is held, each place made anew from the moment [epoch s] of its change on; left out where that cannot be."""
    for place_id, at in changed.items():
        old = mended.pop(place_id, None)
        if old is not None and place_id in by_id:
            again = _again(by_id[place_id], old, at, now, assumed, zone, void)
            if again is not None:
                mended[place_id] = again
    return mended


def _hang_on(held, changed, coming):
    """Ids of held places whose logger stood still: whether it is stuck depends on what moved round it."""
    for pk, each in held.items():
        others = [at for other, at in changed.items() if other != pk]
        if any(coming or at <= end_s for at in others for _, end_s in each.air.still):
            yield pk


def _changed_from(was, voided):
    """{place id: earliest moment [epoch s] of what was recorded, withdrawn or voided since}."""
    told = (
        ImportBatch.objects.filter(id__gt=was[1]).values_list("place_id", "first"),
        Reading.objects.filter(id__gt=was[0], batch=None).values_list("place_id", "at"),
        Withdrawal.objects.filter(id__gt=was[2]).values_list("batch__place_id", "batch__first"),
        Reading.objects.filter(id__in=voided).values_list("place_id", "at"),
    )
    changed = {}
    for place_id, moment in itertools.chain(*told):
        at = moment.timestamp()
        changed[place_id] = min(changed.get(place_id, at), at)
    return changed


def _again(place, old, at_s, now, assumed, zone, void):
    """A kept series made anew from a moment on; None if there is nothing before it to build on."""
    before = old.air.air
    cut_s = at_s - MARGIN_S
    if before.first_s is None or old.air.last_s is None or cut_s <= before.first_s:
        return None
    if cut_s - MARGIN_S < old.since_s:
        return None
    forecasts = forecasts_of([place], now).get(place.pk, [])
    # A forecast is held against fourteen days of log, whatever was changed.
    from_s = min(cut_s - MARGIN_S, _paired_from_s(now)) if forecasts else cut_s - MARGIN_S
    sources = sources_of([place], from_s, now, None, void)[place.pk]
    new = _make(place, sources, now.timestamp(), assumed, forecasts, zone, cut_s, before)
    if new is None:
        return None
    air, same_s = spliced(before, new.air)
    _carry_over(before, air, same_s)
    kept_faults = tuple(f for f in old.air.faults if f.end_s < cut_s) + new.faults
    still = tuple(run for run in old.air.still if run[1] < cut_s) + new.still
    apart = tuple(d for d in old.air.disagreements if d.t_s < cut_s) + new.disagreements
    before_cut = (old.air.surface_c, old.air.surface_s) if (old.air.surface_s or cut_s) < cut_s else (None, None)
    surface = (new.surface_c, new.surface_s) if new.surface_s else before_cut
    found = PlaceAir(place, air, new.last_s, apart, kept_faults, *surface, new.forecast, new.last_typed, still)
    return _Kept(old.since_s, found, old.made_for, int(now.timestamp() // 3600))


def _carry_over(old, new, same_s):
    """Keep what was integrated over the part of a series that has not changed, and say how far it reaches."""
    new.kept.older = (weakref.ref(old), same_s)  # a strong one would chain every series there ever was
    for tau, section in list(old.kept.sections.items()):
        fresh_section = new.section(tau)
        fresh_section.metals = {t: c for t, c in section.metals.items() if t <= same_s}
        for law, integral in list(section.integrals.items()):
            known = {ends: piece for ends, piece in list(integral.known.items()) if ends[1] <= same_s}
            if known:
                fresh_section.integrals[law] = Integral(fresh_section, law, known)


def sources_of(places, since_s, now, known_at, void):
    """{place id: (Sources, the leading one first; last surface logged)} from `since_s` [epoch s] on."""
    known_at = known_at or now
    batches = _held_at(ImportBatch, known_at).filter(place__in=places, last__gte=from_epoch(since_s)).order_by("-id")
    found = {place.pk: [] for place in places}
    surface = {place.pk: (None, None) for place in places}
    typed_alone = {place.pk: [] for place in places}
    latest = now.timestamp() + 120
    for batch in batches:  # a later import leads an earlier one
        rows = packed(batch, since_s)
        rows = rows[:, (rows[0] >= since_s) & (rows[0] <= latest)]
        is_typed = bool(batch.read_as.get("typed"))
        source = Source(f"import {batch.pk}, {batch.filename}", rows[0], rows[1], rows[2], not is_typed)
        (typed_alone if is_typed else found)[batch.place_id].append(source)
        warm = np.nonzero(~np.isnan(rows[3]))[0]
        if len(warm) and (surface[batch.place_id][1] or 0) < rows[0][warm[-1]]:
            surface[batch.place_id] = (float(rows[3][warm[-1]]), float(rows[0][warm[-1]]))
    typed = Reading.objects.filter(
        place__in=places,
        batch=None,
        at__gte=from_epoch(since_s),
        at__lte=now + timedelta(minutes=2),
        recorded__lte=known_at,
    ).exclude(id__in=list(void))
    by_place = {}
    for place_id, at, air_c, rh in typed.order_by("at", "id").values_list("place_id", "at", "air_c", "rh_pct"):
        by_place.setdefault(place_id, {})[at.timestamp()] = (air_c, rh)  # two typed for one moment: the later row holds
    for place_id, rows in by_place.items():
        t = np.array(sorted(rows))
        values = np.array([rows[x] for x in t.tolist()], float)
        typed_alone[place_id].append(Source("typed", t, values[:, 0], values[:, 1], False))
    return {pk: (sources + typed_alone[pk], surface[pk]) for pk, sources in found.items()}


def packed(batch, since_s):
    """Rows of an import from about `since_s` on: epoch s, °C, %, surface °C or nan, as four rows of an array.

    Packed by blocks of days in a cache that may be dropped: an import never changes.
    """
    first, last = int(batch.first.timestamp() // BLOCK_S), int(batch.last.timestamp() // BLOCK_S)
    first = max(first, int(since_s // BLOCK_S))
    if first > last:
        return np.empty((4, 0))
    made_of = repr((batch.pk, batch.sha256, batch.rows, batch.recorded, batch.read_as))
    name = f"air-{hashlib.sha256(made_of.encode()).hexdigest()[:32]}"
    keys = {f"{name}-{block}": block for block in range(first, last + 1)}
    found = {key: packs.read(key) for key in keys}
    missing = {key: block for key, block in keys.items() if found[key] is None}
    if missing:
        made = _pack(batch, missing)
        if may_keep():
            packs.write(made)
        found |= made
    return np.concatenate([found[key] for key in keys], axis=1)


def _pack(batch, blocks):
    low, high = min(blocks.values()) * BLOCK_S, (max(blocks.values()) + 1) * BLOCK_S
    rows = Reading.objects.filter(batch=batch, at__gte=from_epoch(low), at__lt=from_epoch(high)).order_by("at")
    table = [
        (at.timestamp(), air, rh, np.nan if surface is None else surface)
        for at, air, rh, surface in rows.values_list("at", "air_c", "rh_pct", "surface_c").iterator(chunk_size=5000)
    ]
    columns = np.array(table, float).T if table else np.empty((4, 0))
    of = (columns[0] // BLOCK_S).astype(int)
    return {key: np.ascontiguousarray(columns[:, of == block]) for key, block in blocks.items()}


def forecasts_of(places, known_at):
    """{place id: its forecasts that hold, the newest first}, of the last weeks."""
    rows = _held_at(Forecast, known_at).filter(place__in=places, last__gte=known_at - timedelta(days=45))
    rows = rows.order_by("-issued", "-id")
    found = {}
    for row in rows:
        found.setdefault(row.place_id, []).append(row)
    return found


def sky_of(place, known_at):
    """[[epoch s, rain mm, wind m/s]] of the newest forecast of a place that holds, [] where it tells neither."""
    rows = _held_at(Forecast, known_at).filter(place=place).order_by("-issued", "-id")
    return rows.values_list("sky", flat=True).first() or []


def _make(place, sources, now_s, assumed, forecasts, zone, cut_s=None, before=None, known_at=None):
    """A PlaceAir from its sources; with `cut_s`, only from the last reading at or before it on (None if `before`
    has not got that).
    """
    all_sources, (surface_c, surface_s) = sources
    clean, faults = [], []
    known_at, still = known_at or from_epoch(now_s), []

    def moved(start_s, end_s):
        still.append((start_s, end_s))
        return _moved(place, known_at, start_s, end_s)

    for source in all_sources:
        good, bad = without_faults(source, moved)
        clean.append(good)
        faults += bad
    merged, apart = merge(clean)
    last = float(merged.t_s[-1]) if len(merged.t_s) else None
    coming, use = _coming(merged, forecasts, now_s, zone)
    if cut_s is not None:
        i = int(merged.t_s.searchsorted(cut_s, side="right")) - 1
        if i < 0 or not np.isin(merged.t_s[i], before.t_s):
            return None
        merged = merged.since(float(merged.t_s[i]))
        faults = [f for f in faults if f.end_s >= cut_s]
        apart = tuple(d for d in apart if d.t_s >= cut_s)
    past = _past_of_gaps(place, long_gaps(merged.t_s), known_at)
    air = from_readings(merged.t_s, merged.air_c, merged.rh_pct, max(now_s, last or now_s), assumed, coming, past)
    is_last = [s.is_logger for s in clean if len(s.t_s) and float(s.t_s[-1]) == last]
    typed = bool(is_last) and not any(is_last)
    return PlaceAir(place, air, last, apart, tuple(faults), surface_c, surface_s, use, typed, tuple(still))


def _past_of_gaps(place, gaps, known_at):
    """What was forecast of a place's hours while its log has long gaps (from, to [epoch s]); None without any."""
    if not gaps:
        return None
    rows = _held_at(Forecast, known_at).filter(place=place)
    rows = rows.filter(last__gte=from_epoch(gaps[0][0]), issued__lte=from_epoch(gaps[-1][1]))
    rows = list(rows.order_by("-issued", "-id"))
    return _past(rows, [np.array(f.hours, float).T for f in rows]) if rows else None


def _moved(place, known_at, start_s, end_s):
    """True if another place, or a forecast, moved between two moments [epoch s]."""
    start, end = from_epoch(start_s), from_epoch(end_s)
    rows = Reading.objects.filter(at__gte=start, at__lte=end, recorded__lte=known_at).exclude(place=place)
    rows = rows.filter(Q(batch=None) | Q(batch__withdrawal=None) | Q(batch__withdrawal__recorded__gt=known_at))
    spans = rows.values("place").annotate(k=Max("air_c") - Min("air_c"), pct=Max("rh_pct") - Min("rh_pct"))
    if any(span["k"] >= MOVED_K or span["pct"] >= MOVED_PCT for span in spans):
        return True
    for hours in _held_at(Forecast, known_at).filter(last__gte=start).values_list("hours", flat=True):
        air = [air_c for t, air_c, _ in hours if start_s <= t <= end_s]
        if air and max(air) - min(air) >= MOVED_K:
            return True
    return False


def _coming(merged, forecasts, now_s, zone):
    """What is forecast, set right against the log, and how it was used; (None, None) without a forecast."""
    if not forecasts:
        return None, None
    newest_one = forecasts[0]
    tables = [np.array(f.hours, float).T for f in forecasts]
    coming = Hourly(*tables[0])
    past = _past(forecasts, tables)
    log = Hourly(
        merged.t_s,
        merged.air_c,
        np.atleast_1d(dew_point_c(merged.air_c, merged.rh_pct)) if len(merged.t_s) else merged.t_s,
    )
    found = offsets(log, past, is_day(past.t_s, zone), now_s)
    last = (float(log.t_s[-1]), float(log.air_c[-1]), float(log.dew_c[-1])) if len(log.t_s) else None
    use = ForecastUse(newest_one.filename, newest_one.issued.timestamp(), float(coming.t_s[-1]), found)
    return ahead(coming, is_day(coming.t_s, zone), found, last), use


def _past(forecasts, tables):
    """What was forecast of each hour, by the newest forecast issued before it."""
    known = {}
    for forecast, table in sorted(zip(forecasts, tables, strict=True), key=lambda pair: pair[0].issued):
        for t, air, dew in table.T.tolist():
            if t >= forecast.issued.timestamp():
                known[t] = (air, dew)
    t = np.array(sorted(known))
    values = np.array([known[x] for x in t.tolist()]).reshape(-1, 2)
    return Hourly(t, values[:, 0], values[:, 1])


def errors_of(air, now, zone):
    """How the forecasts of a place (its PlaceAir) missed its log hour by hour in the last 14 days, set right by their
    offset: (air, dew point [K]), in order; none where nothing was forecast or logged.
    """
    now_s, last_s = now.timestamp(), air.last_s
    rows = _held_at(Forecast, now).filter(place=air.place, last__gte=from_epoch(now_s - BACK_S))
    rows = list(rows.order_by("-issued", "-id"))
    if not rows or last_s is None or air.forecast is None:
        return np.array([]), np.array([])
    past = _past(rows, [np.array(f.hours, float).T for f in rows])
    known = (past.t_s > now_s - BACK_S) & (past.t_s <= last_s)
    t, day = past.t_s[known], is_day(past.t_s[known], zone)
    by_day, by_night = air.forecast.offsets
    found = []
    for name in ("air", "dew"):
        logged = np.interp(t, air.air.t_s, getattr(air.air, f"{name}_c"))
        off = np.where(day, getattr(by_day, f"{name}_k"), getattr(by_night, f"{name}_k"))
        found.append(logged - getattr(past, f"{name}_c")[known] - off)
    return found[0], found[1]


def is_day(t_s, zone):
    """True for moments [epoch s] of the workshop's day."""
    first, last = DAY_HOURS
    return np.array([first <= from_epoch(t).astimezone(zone).hour < last for t in np.asarray(t_s).tolist()], bool)
