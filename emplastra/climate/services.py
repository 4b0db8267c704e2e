"""Importing and withdrawing climate logs and forecasts, and readings typed with an entry."""

import dataclasses
import hashlib
from datetime import timedelta
from zoneinfo import ZoneInfo, available_timezones

import numpy as np
from django.db import transaction
from django.urls import reverse

from emplastra.core.air.dewpoint import dew_point_c
from emplastra.core.air.log_file import AHEAD_S, LogRead, read_hours, read_log
from emplastra.core.air.log_shape import LogError, Recognised, decode, recognise
from emplastra.core.words import celsius_q
from emplastra.shared import clock, tasks
from emplastra.shared.services import Refused, writes
from emplastra.shared.times import from_epoch

from .models import Forecast, ForecastWithdrawal, ImportBatch, ImportDraft, Place, Reading, Withdrawal

FORECAST_AHEAD_S = 16 * 86400.0
"""How far ahead a forecast may reach [s]."""
DRAFTS_KEPT = 20
MANY = 5000
"""Readings of which the storing takes too long to wait for."""


@dataclasses.dataclass(frozen=True)
class Choices:
    """What a file could not show and somebody said: zone (IANA name), date form, unit; leave bad lines out."""

    zone: str = ""
    date_form: str = ""
    air_unit: str = ""
    skip_bad: bool = False


@dataclasses.dataclass(frozen=True)
class Understood:
    """A file as it would be read with these choices: its shape, what is still asked, what it comes to."""

    recognised: Recognised
    asked: tuple[str, ...]
    read: LogRead | None


def shape_of(data):
    """What a file shows of its shape, its lines not yet read; None for hours of JSON. Raises LogError."""
    return _shape(decode(bytes(data)))


def _shape(text):
    return None if text.lstrip().startswith("{") else recognise(text)


def understand(data, choices=None, is_forecast=False):
    """How a file would be read. Raises LogError if it cannot be, whatever is chosen."""
    choices = choices or Choices()
    text = decode(bytes(data))
    found = _shape(text)
    now_s, ahead_s = clock.now().timestamp(), FORECAST_AHEAD_S if is_forecast else AHEAD_S
    if found is None:
        return Understood(None, (), read_hours(text, now_s, ahead_s))
    chosen = {k: v for k in ("date_form", "air_unit") if (v := getattr(choices, k))}
    shape = dataclasses.replace(found.shape, **chosen)
    zone = ZoneInfo(choices.zone) if choices.zone in available_timezones() else None
    given = {"zone": zone is not None, "date_form": bool(choices.date_form), "air_unit": bool(choices.air_unit)}
    asked = tuple(name for name in found.asked if not given[name])
    if asked:
        return Understood(found, asked, None)
    return Understood(found, (), read_log(text, shape, zone, now_s, ahead_s))


@dataclasses.dataclass(frozen=True)
class Checked:
    """A file that may be imported: as it was understood, what was chosen, its rows' hash and its name."""

    understood: Understood
    choices: Choices
    sha256: str
    filename: str


def check(filename, data, choices=None, is_forecast=False):
    """A file looked through before anything is stored.

    Raises LogError with line numbers, Refused for what is still to be said.
    """
    choices = choices or Choices()
    understood = understand(data, choices, is_forecast)
    if understood.asked:
        words = {"zone": "its time zone", "date_form": "which of day and month comes first", "air_unit": "°C or °F"}
        raise Refused(
            f"the file does not show {', '.join(words[a] for a in understood.asked)}: choose", understood.asked[0]
        )
    if understood.read.problems and not choices.skip_bad:
        raise LogError(list(understood.read.problems))
    return Checked(understood, choices, hashlib.sha256(data).hexdigest(), filename[:200])


@writes
@transaction.atomic
def draft(user, place, filename, data, is_forecast):
    """Keep a file, which `understand` could read, until its shape is confirmed."""
    made = ImportDraft.objects.create(
        place=place, filename=filename[:200], data=data, is_forecast=is_forecast, made=clock.now(), who=user
    )
    old = ImportDraft.objects.filter(who=user).order_by("-id").values_list("id", flat=True)[DRAFTS_KEPT:]
    ImportDraft.objects.filter(id__in=list(old)).delete()
    return made


@writes
def import_log(user, place, filename, data, choices=None):
    """Check and store a climate log; whole, or with `skip_bad` without its bad lines.

    Raises LogError with line numbers, Refused if it is there already or something is not said.
    """
    return store_log(user, place, check(filename, data, choices))


@writes
@transaction.atomic
def store_log(user, place, checked):
    """Store a checked climate log. Raises Refused if it is there already."""
    understood, digest = checked.understood, checked.sha256
    if ImportBatch.objects.filter(place=place, sha256=digest, withdrawal__isnull=True).exists():
        raise Refused("this very file has been imported already", "file")
    rows = understood.read.rows
    batch = ImportBatch.objects.create(
        place=place,
        filename=checked.filename,
        sha256=digest,
        rows=len(rows),
        skipped=understood.read.bad,
        read_as={"said": list(understood.recognised.said), **dataclasses.asdict(checked.choices)}
        if understood.recognised
        else {},
        first=from_epoch(rows[0].t_s),
        last=from_epoch(rows[-1].t_s),
        who=user,
    )
    recorded = batch.recorded
    Reading.objects.bulk_create(
        [
            Reading(
                place=place,
                batch=batch,
                at=from_epoch(row.t_s),
                air_c=row.air_c,
                rh_pct=row.rh_pct,
                surface_c=row.surface_c,
                recorded=recorded,
            )
            for row in rows
        ],
        batch_size=500,
    )
    return batch


@writes
def begin_import(user, draft, choices):
    """Read and store the log of a draft in a process of its own; its task."""
    back = reverse("climate:shape", args=[draft.pk])
    about = {"doing": "Importing", "file": draft.filename, "back": back, "draft": draft.pk}
    return tasks.work(user, "log", store_draft, about | {"choices": dataclasses.asdict(choices)})


def store_draft(task, say):
    """Work: a draft's log, read as its task says, stored; the draft goes. Raises Refused."""
    say(0.05, "reading the lines")
    found = ImportDraft.objects.select_related("place").filter(pk=task.about["draft"]).first()
    if found is None:
        raise Refused("it was imported or thrown away meanwhile")
    checked = check(found.filename, found.data, Choices(**task.about["choices"]))
    say(0.4, f"storing {len(checked.understood.read.rows):,} readings")
    with tasks.landing(task) as landed:
        batch = store_log(task.user, found.place, checked)
        found.delete()
        landed |= {"words": said_of(batch), "url": reverse("climate:air"), "go": "To the air"}


def said_of(batch):
    """What an import came to, in a sentence."""
    left_out = f" {batch.skipped} bad lines were left out." if batch.skipped else ""
    return f"Imported {batch.rows:,} readings.{left_out}"


@writes
def import_forecast(user, places, filename, data, choices=None, issued=None):
    """Check and store a forecast for these places. Raises LogError, Refused as for a log, or if it has ended
    already.
    """
    return store_forecast(user, places, check(filename, data, choices, True), issued)


@writes
@transaction.atomic
def store_forecast(user, places, checked, issued=None):
    """Store a checked forecast. Raises Refused if it is there already or has ended."""
    rows, issued, digest = checked.understood.read.rows, issued or clock.now(), checked.sha256
    if rows[-1].t_s < issued.timestamp():
        raise Refused(f"this forecast ended {from_epoch(rows[-1].t_s):%d %b %Y}: a newer one is wanted", "file")
    if Forecast.objects.filter(place__in=places, sha256=digest, withdrawal__isnull=True).exists():
        raise Refused("this very forecast has been taken already", "file")
    air = np.array([row.air_c for row in rows])
    dews = np.atleast_1d(dew_point_c(air, np.array([row.rh_pct for row in rows])))
    hours = [[row.t_s, round(row.air_c, 2), round(float(dew), 2)] for row, dew in zip(rows, dews, strict=True)]
    told = any(row.rain_mm is not None or row.wind_m_s is not None for row in rows)
    sky = [[row.t_s, row.rain_mm, row.wind_m_s] for row in rows] if told else []
    last = from_epoch(rows[-1].t_s)
    common = {
        "filename": checked.filename,
        "sha256": digest,
        "issued": issued,
        "last": last,
        "hours": hours,
        "sky": sky,
        "who": user,
    }
    return [Forecast.objects.create(place=place, **common) for place in places]


@writes
def withdraw(user, batch, reason):
    """Stop using a batch; its readings stay. A second withdrawal is refused."""
    return _withdraw(Withdrawal, "this import", reason, user, batch=batch)


@writes
def withdraw_forecast(user, forecast, reason):
    """Stop using a forecast; it stays in the record. A second withdrawal is refused."""
    return _withdraw(ForecastWithdrawal, "this forecast", reason, user, forecast=forecast)


@transaction.atomic
def _withdraw(model, name, reason, user, **what):
    (thing,) = what.values()
    if not (user.is_owner or thing.who_id == user.pk):
        raise Refused(f"{name} was taken in by somebody else: they or an owner can withdraw it")
    if model.objects.filter(**what).exists():
        raise Refused(f"{name} has been withdrawn already")
    return model.objects.create(reason=reason or "withdrawn", who=user, **what)


@writes
@transaction.atomic
def note_reading(user, place, at, air_c, rh_pct):
    """A reading typed on its own: an import of one row, so that it can be withdrawn. Raises Refused."""
    if at > clock.now() + timedelta(minutes=2):
        raise Refused("lies in the future: at most 2 minutes ahead can be noted", "at")
    digest = hashlib.sha256(repr((place.pk, at, air_c, rh_pct, clock.now())).encode()).hexdigest()
    name = f"typed: {celsius_q(air_c, digits=1)}, {rh_pct:.0f} %"
    common = {"sha256": digest, "rows": 1, "read_as": {"typed": True}, "first": at, "last": at, "who": user}
    batch = ImportBatch.objects.create(place=place, filename=name, **common)
    return Reading.objects.create(place=place, batch=batch, at=at, air_c=air_c, rh_pct=rh_pct)


def type_reading(place, at, air_c, rh_pct):
    """A reading typed with an entry; a row of that place's climate."""
    return Reading.objects.create(place=place, at=at, air_c=air_c, rh_pct=rh_pct)


@writes
def save_place(user, place, name, kind, in_use):
    """Keep a place under a name of its own. Raises Refused naming what would be accepted, and for whoever is no
    owner.
    """
    if not user.is_owner:
        raise Refused("only an owner may change places")
    name = name.strip()[:60]
    if not name or Place.objects.filter(name=name).exclude(pk=place.pk).exists() or kind not in Place.Kind.values:
        raise Refused("Place: give a name that no other place has.")
    place.name, place.kind, place.in_use = name, kind, in_use
    place.save()
    return place
