"""Playing: begun, one act at a time, tried again in the same weather."""

import secrets
from functools import lru_cache

from django.db import transaction

from emplastra.core.practice.scenario import scenarios
from emplastra.core.practice.world import ActError, begin, play
from emplastra.shared import clock
from emplastra.shared.services import Refused

from .models import Run

KEPT = 40
"""Practices of a person that are kept: the oldest go."""


class Meanwhile(Exception):
    """Somebody acted in this practice meanwhile."""


def start(user, scenario, piece, seed=None, acts=(), again_of=None):
    """Begin a practice. Raises Refused for one there is none of."""
    found = scenarios().get(scenario)
    if found is None or piece not in {each.key for each in found.pieces}:
        raise Refused("choose one of the pieces", "piece")
    run = Run.objects.create(
        user=user,
        scenario=scenario,
        piece=piece,
        seed=secrets.randbelow(10_000) if seed is None else seed,
        acts=list(acts),
        version=len(acts),
        made=clock.now(),
        again_of=again_of,
    )
    for old in Run.objects.filter(user=user).order_by("-id")[KEPT:]:
        old.delete()
    return run


def world_of(run):
    """The World of a practice after its acts."""
    return _played(run.scenario, run.piece, run.seed, _frozen(run.acts))


@transaction.atomic
def act(run, told, version):
    """One more act, on the practice as it stood at a version; the same tap twice is one act. Raises Refused for what
    cannot be done, Meanwhile where somebody acted since.
    """
    now = Run.objects.get(pk=run.pk)
    if now.version != version:
        if now.version == version + 1 and now.acts and now.acts[-1] == told:
            return now
        raise Meanwhile
    acts = [*now.acts, told]
    try:
        _played(now.scenario, now.piece, now.seed, _frozen(acts))
    except ActError as error:
        raise Refused(str(error), error.field) from error
    now.acts, now.version = acts, version + 1
    now.save(update_fields=["acts", "version"])
    return now


def again(user, run, before=None):
    """The same weather once more: from the begin, or from before an act (its number)."""
    acts = run.acts[: before - 1] if before and 1 <= before <= len(run.acts) else []
    return start(user, run.scenario, run.piece, run.seed, acts, run)


def _frozen(acts):
    return tuple(tuple(sorted(act.items())) for act in acts)


@lru_cache(maxsize=64)
def _played(scenario, piece, seed, acts):
    """What acts come to; worlds are read, never changed."""
    found = scenarios()[scenario]
    if not acts:
        return begin(found, found.piece(piece), seed)
    return play(found, found.piece(piece), seed, [dict(act) for act in acts])
