"""Scales told, and pots put on them."""

from django.db import transaction
from django.db.models import Min

from emplastra.shared.services import Refused, writes

from . import reader
from .models import Scale, Tare


def in_use():
    """Scales that are in use, in their order."""
    return Scale.objects.filter(in_use=True, reads=Scale.Reads.MASS)


def gauges():
    """Film gauges that are in use, in their order."""
    return Scale.objects.filter(in_use=True, reads=Scale.Reads.FILM)


def finest_g():
    """The smallest step of a scale in use that was told [g]; None where none was."""
    return in_use().filter(step_g__isnull=False).aggregate(least=Min("step_g"))["least"]


def offset(pot, scale):
    """What is added to what a scale says for what a pot on it has [g]; None where it was not put on it yet."""
    last = Tare.objects.filter(pot=pot, scale=scale).last()
    return None if last is None else last.shown - last.grams


@writes
@transaction.atomic
def tare(pot, scale, user, name, shown):
    """A pot stands on a scale with so much in it [g], as the sample of this name says. Raises Refused."""
    sample = reader.take(scale, name)
    return Tare.objects.create(pot=pot, scale=scale, grams=sample.grams, shown=shown, sample=name, who=user)


@writes
def tell(user, scale, **told):
    """A scale, new or told otherwise. Raises Refused where another has its name."""
    scale = scale or Scale()
    if Scale.objects.exclude(pk=scale.pk).filter(name__iexact=told["name"]).exists():
        raise Refused("another scale has this name", "name")
    for name, value in told.items():
        setattr(scale, name, value)
    scale.save()
    return scale
