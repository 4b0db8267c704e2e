"""Importing and withdrawing climate logs, and readings typed with an entry."""

import hashlib

from django.db import transaction

from emplastra.core.log_file import decode, read_log
from emplastra.shared import clock
from emplastra.shared.services import Refused
from emplastra.shared.times import from_epoch

from .models import ImportBatch, Reading, Withdrawal


@transaction.atomic
def import_log(user, place, filename, data):
    """Import a climate log whole. Raises LogError with line numbers, Refused if it is there already."""
    rows = read_log(decode(data), clock.now().timestamp())
    digest = hashlib.sha256(data).hexdigest()
    if ImportBatch.objects.filter(place=place, sha256=digest, withdrawal__isnull=True).exists():
        raise Refused("this very file has been imported already", "file")
    batch = ImportBatch.objects.create(
        place=place,
        filename=filename[:200],
        sha256=digest,
        rows=len(rows),
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


@transaction.atomic
def withdraw(user, batch, reason):
    """Stop using a batch; its readings stay. A second withdrawal is refused."""
    if Withdrawal.objects.filter(batch=batch).exists():
        raise Refused("this import has been withdrawn already")
    return Withdrawal.objects.create(batch=batch, reason=reason or "withdrawn", who=user)


def type_reading(place, at, air_c, rh_pct):
    """A reading typed with an entry; a row of that place's climate."""
    return Reading.objects.create(place=place, at=at, air_c=air_c, rh_pct=rh_pct)
