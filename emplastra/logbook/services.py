"""Logging: one function per thing that happens, each in one transaction."""

from dataclasses import dataclass, field
from datetime import timedelta

from django.db import transaction

from emplastra.climate.services import type_reading
from emplastra.jobs.services import drop_steps
from emplastra.shared import clock
from emplastra.shared.services import Refused, writes

from .models import KINDS, Correction, Entry, EntryZone, Lasted, holds
from .running import UNDO_WITHIN, is_running

AHEAD = timedelta(minutes=2)
FAR_BACK = timedelta(hours=12)


@dataclass(frozen=True)
class Told:
    """What somebody tells happened: its kind, when (aware), where, and the kind's own details.

    zones: (zone, share [0..1], step id) each. details: fields of the kind's table; for a coat also
    `air_c` and `rh_pct` with `place`, which make a typed reading. begun: the entry that began it, if one did.
    of_face: {zone id: share of the face that all of what it is for is}; drawn: {zone id: cells that were covered}.
    """

    kind: str
    began: object
    ended: object
    zones: tuple = ()
    details: dict = field(default_factory=dict)
    note: str = ""
    begun: Entry | None = None
    of_face: dict = field(default_factory=dict)
    drawn: dict = field(default_factory=dict)


def check_times(began, ended, confirmed=False):
    """Refuse an end before the begin, the future, and, unless confirmed, more than 12 h back."""
    now = clock.now()
    if ended < began:
        raise Refused("must not be before it began", "ended")
    if ended > now + AHEAD:
        raise Refused("lies in the future: at most 2 minutes ahead can be logged", "ended")
    if ended < now - FAR_BACK and not confirmed:
        raise Refused("is over 12 hours back: tick the box to say that this is meant", "confirm_old")


@writes
@transaction.atomic
def log(user, told, confirmed=False, replaces=None, reason=""):
    """Write an entry down; with `replaces`, as the correction of another.

    Raises Refused for times that cannot be, or a correction that is not allowed.
    """
    if replaces is not None:
        _may_correct(user, replaces)
    check_times(told.began, told.ended, confirmed)
    retired = next((zone for zone, *_ in told.zones if zone.retired), None) if replaces is None else None
    if retired is not None:
        raise Refused(f"{retired} is retired ({retired.retired}): log on what took its place")
    begun = _begun_by(told, replaces)
    entry = Entry.objects.create(kind=told.kind, began=told.began, ended=told.ended, who=user, note=told.note[:400])
    for zone, share, step in told.zones:
        where = {"of_face": told.of_face.get(zone.pk, 1.0), "drawn": told.drawn.get(zone.pk, "")}
        EntryZone.objects.create(entry=entry, zone=zone, share=share, step=step, **where)
    if begun is not None:
        Lasted.objects.create(entry=entry, begun=begun)
    _write_details(entry, told)
    if replaces is not None:
        Correction.objects.create(replaces=replaces, by=entry, reason=reason or "corrected", who=user)
    return entry


def _begun_by(told, replaces):
    """The entry that began what is told; a correction keeps what began the corrected one. Raises Refused."""
    if replaces is not None and told.begun is None:
        return replaces.lasted.begun if hasattr(replaces, "lasted") else None
    if told.begun is not None and not is_running(told.begun):
        raise Refused("was stopped already, or nothing came of it: look at the record")
    return told.begun


def _write_details(entry, told):
    """The row of its kind; a place with air and humidity becomes a typed reading of the place."""
    details, kind = told.details, KINDS[told.kind]
    row = kind.row
    if row is None or (not details and kind.may_have_no_row):
        return
    details = dict(details)
    air = {name: details.pop(name, None) for name in ("air_c", "rh_pct")}
    if None not in air.values():
        details["reading"] = type_reading(details.pop("place"), told.began, air["air_c"], air["rh_pct"])
    elif "place" not in {field.name for field in row._meta.fields}:
        details.pop("place", None)
    row.objects.create(entry=entry, **details)


def _may_correct(user, entry):
    if Correction.objects.filter(replaces=entry).exists():
        raise Refused("has been corrected already: correct the newest")
    if not (user.is_owner or entry.who_id == user.pk):
        raise Refused("was logged by somebody else: its writer or an owner can correct it")


def dependants(entry):
    """Entries that name this one and still hold: a pot's weighings and coats, a prep's wettings, a return."""
    named = KINDS[entry.kind].dependants(entry)
    if named is None:
        return []
    return list(Entry.objects.known_at().filter(named))


@writes
@transaction.atomic
def void(user, entry, reason, with_dependants=False):
    """Strike an entry through. One with dependants goes only together with them. Raises Refused."""
    _may_correct(user, entry)
    named = dependants(entry)
    if named and not with_dependants:
        raise Refused(f"{len(named)} entries depend on it: they are voided only together")
    for each in [*named, entry]:
        Correction.objects.create(replaces=each, by=None, reason=reason or "void", who=user)
        _drop_what_it_brought(user, each)
    return entry


def _drop_what_it_brought(user, entry):
    """Steps that came into a plan owing to an entry (a missed window's keying) go with it, but for what was logged
    on them.
    """
    ids, found = {str(entry.pk)}, entry
    while (earlier := Correction.objects.filter(by=found).select_related("replaces").first()) is not None:
        found = earlier.replaces
        ids.add(str(found.pk))
    for row in entry.places_on.select_related("zone"):
        held = EntryZone.objects.filter(holds(None, "entry__"), zone=row.zone).exclude(step="")
        drop_steps(row.zone, user, ids, set(held.values_list("step", flat=True)))


@writes
def undo(user, entry):
    """Void one's own entry by one tap, within 10 minutes. Raises Refused after that."""
    if entry.who_id != user.pk or clock.now() > entry.recorded + UNDO_WITHIN:
        raise Refused("can be undone by its writer for 10 minutes: use Correct, with a reason")
    return void(user, entry, "undone")
